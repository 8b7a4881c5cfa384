-- A max is any set on record: repetitions, effort, and whether the last one was missed.
alter table maxes
    add column reps integer not null default 1 check (reps between 1 and 100),
    add column rpe real check (rpe between 5 and 10),
    add column missed boolean not null default false;

-- What a coach has changed in the warm-up of a day.
create table warmup_edits (
    id bigserial primary key,
    gym_id bigint not null references gyms (id) on delete cascade,
    day date not null,
    -- The layout is lantern_core::warmup::Edits.
    edits jsonb not null,
    unique (gym_id, day)
);
