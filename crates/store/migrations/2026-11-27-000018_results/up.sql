-- What was done: a row each time that somebody says so, only ever inserted. What stands of a member in a piece is the newest that nobody has
-- taken back, so that a correction keeps what stood there before, and who said it when.
create table results (
    id bigint generated always as identity,
    gym_id bigint not null references gyms (id) on delete cascade,
    day date not null,
    -- The class, as 18:00; empty for the whole gym.
    starts text not null check (length(starts) <= 5),
    piece_id bigint not null,
    member_id bigint not null,
    -- The version, what was done, as it was called, what was predicted and meant then, effort and note.
    what jsonb not null check (length(what::text) <= 8000),
    -- Made where it was entered: the same entry that arrives twice is there once.
    key text not null check (length(key) between 8 and 64),
    made_at timestamptz not null default now(),
    made_by text not null check (length(made_by) <= 120),
    undone_at timestamptz,
    undone_by text check (length(undone_by) <= 120),
    primary key (gym_id, id),
    unique (gym_id, key),
    foreign key (gym_id, piece_id) references pieces (gym_id, id) on delete cascade,
    foreign key (gym_id, member_id) references members (gym_id, id) on delete cascade
);
create index results_of_day on results (gym_id, day, id);
create index results_of_member on results (gym_id, member_id, day desc, id desc);
create index results_of_piece on results (gym_id, piece_id);
-- The same part on other days.
create index pieces_that_say_the_same on pieces (gym_id, fingerprint);

alter table results enable row level security, force row level security;
create policy of_one_gym on results using (gym_id = lantern_gym() or lantern_operator());

create constraint trigger counts after insert or update or delete on results deferrable initially deferred
    for each row execute function lantern_changed();
