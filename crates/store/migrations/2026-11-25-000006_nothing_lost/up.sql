-- Nothing lost: decisions a row each, every text of a day kept, removals that come back, and whose a lift was.

-- One decision a row, only ever inserted; what stands is all of a day's applied in order.
create table decisions (
    id bigserial primary key,
    gym_id bigint not null references gyms (id) on delete cascade,
    day date not null,
    -- When the class starts, as 18:00; empty for the day, or for the whole gym at once.
    starts text not null default '',
    -- The layout is lantern_core::decide::Decision.
    about text not null check (about in ('warmup', 'pieces', 'loads', 'hour')),
    what jsonb not null,
    made_at timestamptz not null default now()
);
create index decisions_of_day on decisions (gym_id, day, id);

insert into decisions (gym_id, day, about, what)
select gym_id, day, 'warmup', jsonb_build_object('decision', 'stand', 'edits', edits) from warmup_edits;
insert into decisions (gym_id, day, about, what)
select gym_id, day, 'pieces', jsonb_build_object('decision', 'stand', 'edits', edits) from piece_edits;
insert into decisions (gym_id, day, starts, about, what)
select gym_id, day, starts, 'hour', jsonb_build_object('decision', 'stand', 'edits', edits) from hour_edits;
drop table warmup_edits;
drop table piece_edits;
drop table hour_edits;

-- Every text that a day has had, so that a save never takes one away, and two changes can be compared with what both began from.
create table session_texts (
    gym_id bigint not null references gyms (id) on delete cascade,
    day date not null,
    revision integer not null,
    text text not null,
    -- The page that saved it; the same page saving again is no conflict.
    writer text not null default '',
    saved_at timestamptz not null default now(),
    primary key (gym_id, day, revision)
);
insert into session_texts (gym_id, day, revision, text, saved_at)
select gym_id, day, revision, text, updated_at from sessions;

-- What was removed, for as long as it can come back.
create table removals (
    id bigserial primary key,
    gym_id bigint not null references gyms (id) on delete cascade,
    member_id bigint references members (id) on delete cascade,
    -- Unguessable: whoever has it has just removed it.
    key text not null,
    kind text not null check (kind in ('class', 'lift', 'name', 'movement', 'cycle')),
    what jsonb not null,
    removed_at timestamptz not null default now(),
    unique (gym_id, key)
);
create index removals_of_member on removals (member_id);

-- A lift entered on a day's sheet can be taken back with the key that the sheet was given, and with nothing else.
alter table maxes add column undo_key text;
create unique index maxes_undo on maxes (gym_id, undo_key);

-- Which gyms the demo has made: it touches no other.
alter table gyms add column demo boolean not null default false;

create index maxes_by_member on maxes (member_id);
create index bookings_by_member on bookings (member_id);
