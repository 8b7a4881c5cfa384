-- Backups that were made of the whole installation, and when one was last proven by restoring it. Of no gym.
create table backups (
    id bigint generated always as identity primary key,
    made_at timestamptz not null default now(),
    -- When it was restored into another database and compared; none while it was not.
    verified_at timestamptz,
    bytes bigint not null,
    rows bigint not null
);
