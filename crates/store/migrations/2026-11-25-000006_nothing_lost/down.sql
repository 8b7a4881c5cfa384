-- Decisions made since are lost: their rows have no place in the older layout.
drop index bookings_by_member;
drop index maxes_by_member;
alter table gyms drop column demo;
drop index maxes_undo;
alter table maxes drop column undo_key;
drop table removals;
drop table session_texts;
create table warmup_edits (
    id bigserial primary key,
    gym_id bigint not null references gyms (id) on delete cascade,
    day date not null,
    edits jsonb not null,
    unique (gym_id, day)
);
create table piece_edits (
    id bigserial primary key,
    gym_id bigint not null references gyms (id) on delete cascade,
    day date not null,
    edits jsonb not null,
    unique (gym_id, day)
);
create table hour_edits (
    id bigserial primary key,
    gym_id bigint not null references gyms (id) on delete cascade,
    day date not null,
    starts text not null,
    edits jsonb not null,
    unique (gym_id, day, starts)
);
drop table decisions;
