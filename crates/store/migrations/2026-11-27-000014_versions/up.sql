-- A number that grows whenever anything that a plan or a page is made from changes: what was shown at the same number is what would be
-- shown now. Counted when a transaction ends, so that nobody waits for the gym's row longer than that, and once in each.
alter table gyms
    add column version bigint not null default 0,
    add column changed_in bigint;

create function lantern_changed() returns trigger language plpgsql as $$
begin
    update gyms set version = version + 1, changed_in = pg_current_xact_id()::text::bigint
    where id = coalesce(new.gym_id, old.gym_id) and changed_in is distinct from pg_current_xact_id()::text::bigint;
    return null;
end $$;

create function lantern_settings_changed() returns trigger language plpgsql as $$
begin
    if new.settings is distinct from old.settings or new.name is distinct from old.name then
        new.version = old.version + 1;
    end if;
    return new;
end $$;
create trigger counts before update on gyms for each row execute function lantern_settings_changed();

create constraint trigger counts after insert or update or delete on members deferrable initially deferred
    for each row execute function lantern_changed();
create constraint trigger counts after insert or update or delete on maxes deferrable initially deferred
    for each row execute function lantern_changed();
create constraint trigger counts after insert or update or delete on sessions deferrable initially deferred
    for each row execute function lantern_changed();
create constraint trigger counts after insert or update or delete on pieces deferrable initially deferred
    for each row execute function lantern_changed();
create constraint trigger counts after insert or update or delete on decisions deferrable initially deferred
    for each row execute function lantern_changed();
create constraint trigger counts after insert or update or delete on movement_aliases deferrable initially deferred
    for each row execute function lantern_changed();
create constraint trigger counts after insert or update or delete on gym_movements deferrable initially deferred
    for each row execute function lantern_changed();
create constraint trigger counts after insert or update or delete on classes deferrable initially deferred
    for each row execute function lantern_changed();
create constraint trigger counts after insert or update or delete on bookings deferrable initially deferred
    for each row execute function lantern_changed();
