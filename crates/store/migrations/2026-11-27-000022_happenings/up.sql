-- What coaches did to the clock of a class: a row each time, only ever inserted. Where the class stands follows from all of them.
create table happenings (
    id bigint generated always as identity,
    gym_id bigint not null references gyms (id) on delete cascade,
    day date not null,
    -- When the class starts, as 18:00; empty for the whole gym.
    starts text not null check (length(starts) <= 5),
    -- When it happened, by the clock of the class: a device without a connection tells of it later.
    at_ms bigint not null,
    -- The layout is lantern_core::running::Happened.
    what jsonb not null check (length(what::text) <= 500),
    -- Made where it happened: what arrives twice is there once.
    key text not null check (length(key) between 8 and 64),
    made_at timestamptz not null default now(),
    made_by text not null check (length(made_by) <= 120),
    primary key (gym_id, id),
    unique (gym_id, key)
);
create index happenings_of_class on happenings (gym_id, day, starts, at_ms, id);
alter table happenings enable row level security, force row level security;
create policy of_one_gym on happenings using (gym_id = lantern_gym() or lantern_operator());

-- Whoever shows a class is told when something about it changes, and nothing of what it is: the clock of one class, or whatever the gym's plans and
-- pages are made from, which its version counts.
create function lantern_told() returns trigger language plpgsql as $$
begin
    perform pg_notify('lantern_class', new.gym_id || ' ' || new.day || ' ' || new.starts);
    return null;
end $$;
create trigger tells after insert on happenings for each row execute function lantern_told();

create function lantern_told_of_gym() returns trigger language plpgsql as $$
begin
    perform pg_notify('lantern_class', new.id::text);
    return null;
end $$;
create trigger tells after update of version on gyms for each row when (new.version is distinct from old.version)
    execute function lantern_told_of_gym();
