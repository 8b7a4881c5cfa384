-- Who signs in, and what they may do where. Accounts, their login sessions, one-time links and throttling are found without a gym and hold
-- no personal data but the e-mail; everything else about a person belongs to a gym.

create table accounts (
    id bigint generated always as identity primary key,
    email text not null unique check (email = lower(email) and length(email) between 3 and 254),
    -- argon2id in the usual text form; none until one was chosen.
    passphrase text check (length(passphrase) <= 300),
    -- Where to look for memberships; what counts is the membership.
    gyms bigint[] not null default '{}',
    created_at timestamptz not null default now()
);

create table login_sessions (
    -- SHA-256 of what the browser holds.
    token bytea primary key,
    account_id bigint not null references accounts (id) on delete cascade,
    -- The gym that is looked at.
    gym_id bigint not null,
    began_at timestamptz not null default now(),
    seen_at timestamptz not null default now()
);
create index login_sessions_of_account on login_sessions (account_id);

create table one_time_links (
    -- SHA-256 of what stands in the link.
    token bytea primary key,
    kind text not null check (kind in ('owner', 'passphrase')),
    gym_id bigint,
    account_id bigint references accounts (id) on delete cascade,
    ends_at timestamptz not null
);
create index one_time_links_of_account on one_time_links (account_id);

-- Failed attempts, by account or address, neither in clear.
create table throttles (
    about bytea primary key,
    failures integer not null check (failures > 0),
    last_at timestamptz not null default now()
);

create table memberships (
    gym_id bigint not null references gyms (id) on delete cascade,
    account_id bigint not null references accounts (id) on delete cascade,
    role text not null check (role in ('owner', 'coach', 'member')),
    -- How the account is called in this gym: beside what it decides, for one.
    name text not null check (length(name) between 1 and 120),
    -- Whose card and numbers are theirs.
    member_id bigint,
    since timestamptz not null default now(),
    primary key (gym_id, account_id),
    unique (gym_id, member_id),
    foreign key (gym_id, member_id) references members (gym_id, id) on delete cascade
);

create table invitations (
    gym_id bigint not null references gyms (id) on delete cascade,
    id bigint generated always as identity,
    token bytea not null,
    email text not null check (email = lower(email) and length(email) between 3 and 254),
    role text not null check (role in ('owner', 'coach', 'member')),
    name text not null check (length(name) between 1 and 120),
    member_id bigint,
    made_at timestamptz not null default now(),
    ends_at timestamptz not null,
    primary key (gym_id, id),
    unique (gym_id, token),
    foreign key (gym_id, member_id) references members (gym_id, id) on delete cascade
);
create index invitations_of_member on invitations (gym_id, member_id);

-- Secret addresses: a screen on the wall, a calendar that follows the classes.
create table keys (
    gym_id bigint not null references gyms (id) on delete cascade,
    id bigint generated always as identity,
    kind text not null check (kind in ('wall', 'calendar')),
    token bytea not null,
    -- What it is for, in the words of whoever made it.
    name text not null check (length(name) between 1 and 120),
    made_at timestamptz not null default now(),
    used_at timestamptz,
    primary key (gym_id, id),
    unique (gym_id, token)
);

-- Who has opened the words of whose limits, once an hour.
create table health_views (
    gym_id bigint not null references gyms (id) on delete cascade,
    member_id bigint not null,
    hour timestamptz not null,
    account_id bigint not null,
    viewer text not null,
    primary key (gym_id, member_id, hour, account_id),
    foreign key (gym_id, member_id) references members (gym_id, id) on delete cascade
);
