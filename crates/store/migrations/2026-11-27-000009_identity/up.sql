-- Who and what decisions are about: a part of a day keeps its row wherever it stands in the text, and a member theirs whatever
-- they are called.

create table pieces (
    gym_id bigint not null references gyms (id) on delete cascade,
    id bigint generated always as identity,
    day date not null,
    -- Place among the parts of the day's text, from 0; none when it stands there no longer.
    place integer,
    kind text not null,
    -- What it says, in plain notation; the fingerprint is of both.
    words text not null,
    fingerprint text not null,
    -- The part as it was read, and by which reader.
    tree jsonb not null,
    reader text not null,
    primary key (gym_id, id)
);
create index pieces_of_day on pieces (gym_id, day, place);

-- Rows of before name members and parts by name and place; they are brought to ids when the program starts, since only the
-- reader knows which part of a text is meant.
alter table decisions add column by_id boolean not null default false;

-- Two may share a name: the second is told apart by a number.
alter table members add column twin integer not null default 1;
alter table members drop constraint members_gym_id_name_key;
alter table members add constraint members_told_apart unique (gym_id, name, twin);
