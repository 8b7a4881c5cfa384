-- A second step at signing in, for whoever wants one: codes that change every half minute (RFC 6238).
alter table accounts
    -- What the codes are made from, on the person's own device and here.
    add column code_secret bytea check (octet_length(code_secret) = 20),
    -- The half minute of the code that was used last; none until the first one has shown that the device makes the same codes.
    add column code_step bigint,
    -- SHA-256 of spare codes, each of which works once.
    add column code_spare bytea[] not null default '{}';

-- Between the passphrase and the code stands a link that works once, for some minutes.
alter table one_time_links drop constraint one_time_links_kind_check;
alter table one_time_links add constraint one_time_links_kind_check check (kind in ('owner', 'passphrase', 'code'));
