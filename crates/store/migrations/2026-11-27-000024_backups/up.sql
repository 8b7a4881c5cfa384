-- Backups that were made of the whole installation, and when one was last proven by restoring it. Of no gym.
create table backups (
    id bigint generated always as identity primary key,
    made_at timestamptz not null default now(),
    -- When it was restored into another database and compared; none while it was not.
    verified_at timestamptz,
    bytes bigint not null,
    rows bigint not null
);

-- Pages show what is noted about a class: a page that was made before it does not hold any more.
create constraint trigger counts after insert or update on happenings deferrable initially deferred
    for each row when (new.what ->> 'what' = 'note') execute function lantern_changed();
