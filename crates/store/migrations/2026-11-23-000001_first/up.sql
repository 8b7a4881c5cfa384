-- Every table carries its gym, so that a distributed database can shard by gym.

create table gyms (
    id bigserial primary key,
    name text not null check (length(name) between 1 and 120),
    -- Equipment and choices; the layout is lantern_core::gym::Gym.
    settings jsonb not null,
    created_at timestamptz not null default now()
);

create table members (
    id bigserial primary key,
    gym_id bigint not null references gyms (id) on delete cascade,
    name text not null check (length(name) between 1 and 120),
    -- What planning knows besides maxes; the layout is lantern_core::member::Member.
    profile jsonb not null,
    created_at timestamptz not null default now(),
    unique (gym_id, name)
);

-- The history of one-repetition maxima; the newest of a lift counts.
create table maxes (
    id bigserial primary key,
    gym_id bigint not null references gyms (id) on delete cascade,
    member_id bigint not null references members (id) on delete cascade,
    lift text not null,
    grams integer not null check (grams > 0),
    set_on date not null,
    source text not null
);
create index maxes_of_member on maxes (gym_id, member_id, lift, set_on desc);

create table sessions (
    id bigserial primary key,
    gym_id bigint not null references gyms (id) on delete cascade,
    day date not null,
    -- The coach's own words, exactly as typed.
    text text not null,
    -- Counts up with each save, so that two people never overwrite each other unseen.
    revision integer not null default 1,
    updated_at timestamptz not null default now(),
    unique (gym_id, day)
);

-- A gym's own names for movements.
create table movement_aliases (
    id bigserial primary key,
    gym_id bigint not null references gyms (id) on delete cascade,
    alias text not null check (length(alias) between 1 and 80),
    movement text not null,
    unique (gym_id, alias)
);
