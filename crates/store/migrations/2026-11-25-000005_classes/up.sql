-- Classes of a day, who comes to which, and what coaches have decided about the hour of each.
create table classes (
    id bigserial primary key,
    gym_id bigint not null references gyms (id) on delete cascade,
    day date not null,
    starts time not null,
    minutes int not null check (minutes between 30 and 90),
    coach text not null default '',
    unique (gym_id, day, starts)
);

create table bookings (
    id bigserial primary key,
    gym_id bigint not null references gyms (id) on delete cascade,
    class_id bigint not null references classes (id) on delete cascade,
    member_id bigint not null references members (id) on delete cascade,
    unique (class_id, member_id)
);
create index bookings_of_gym on bookings (gym_id, class_id);

create table hour_edits (
    id bigserial primary key,
    gym_id bigint not null references gyms (id) on delete cascade,
    day date not null,
    -- When the class starts, as 18:00; empty for the whole gym at once.
    starts text not null,
    -- The layout is lantern_core::hour::HourEdits.
    edits jsonb not null,
    unique (gym_id, day, starts)
);
