//! No way from one gym's rows to another's, whatever a query asks for.

use lantern_core::book::{Done, Entry};
use lantern_core::running::{Event, Happened};
use lantern_store::results::{self, NewResult};
use lantern_store::running;

use super::*;

/// Every table that belongs to a gym, with the column that says to which.
fn tables_of_gyms(database: &TestDatabase) -> Vec<(String, &'static str)> {
    let tables = database.names(
        "select c.relname::text as name from pg_class c join pg_namespace n on n.oid = c.relnamespace
         join pg_attribute a on a.attrelid = c.oid
         where n.nspname = 'public' and c.relkind = 'r' and a.attname = 'gym_id'
         and c.relname not in ('login_sessions', 'one_time_links') order by 1",
    );
    tables.into_iter().map(|table| (table, "gym_id")).chain([("gyms".to_owned(), "id")]).collect()
}

/// A gym with a row in every table.
fn full(database: &TestDatabase) -> GymId {
    let gym = database.gym(&Gym::default());
    let tables = tables_of_gyms(database);
    database.with_store(move |store| async move {
        let member = in_gym!(store, gym, members::add, &ada(), day(), Source::Tested).unwrap();
        let save = NewText { parts: &parts(TWO_PIECES), ..text(TWO_PIECES, 0) };
        in_gym!(store, gym, sessions::save, day(), save).unwrap();
        in_gym!(store, gym, aliases::put, "flop", "burpee").unwrap();
        let own = lantern_core::movement::OwnMovement {
            name: "Tower climb".to_owned(),
            like: MovementId::new("rope-climb"),
            unit: lantern_core::movement::Unit::Reps,
            seconds: None,
            aliases: Vec::new(),
        };
        in_gym!(store, gym, own_movements::put, &own).unwrap();
        let starts = NaiveTime::from_hms_opt(18, 0, 0).unwrap();
        let class = NewClass { day: day(), starts, minutes: 60, coach: String::new() };
        let class = in_gym!(store, gym, classes::put, &class).unwrap();
        in_gym!(store, gym, classes::book, class, &[member]).unwrap();
        let lift = in_gym!(store, gym, lifts::of_member, member).unwrap().remove(0);
        in_gym!(store, gym, lifts::remove, member, lift.id).unwrap();
        in_gym!(store, gym, lifts::add, member, &lifted(5, 80.0, day())).unwrap();
        let made = [choose("Ada Lind", VersionName::Lighter)];
        in_gym!(store, gym, decisions::add, (day(), None), (&made, "Iris"), &parts(TWO_PIECES)).unwrap();
        let entry = Entry {
            version: VersionName::Lighter,
            done: Done::Finished { seconds: 481 },
            said: "8:01".to_owned(),
            predicted: None,
            value: None,
            at_least: false,
            gone_on: None,
            effort: None,
            hurt: false,
            note: String::new(),
        };
        let result =
            NewResult { part: 0, member, entry, key: "once and only once".to_owned(), said_at: None };
        let parts = (&parts(TWO_PIECES)[..], &Gym::default());
        in_gym!(store, gym, results::add, (day(), None), (&[result], "Iris"), parts).unwrap();
        let start = Event { at_ms: 1, what: Happened::Start };
        in_gym!(store, gym, running::add, (day(), None), &start, ("once and only once", "Iris")).unwrap();
        let email = format!("iris{gym}@example.org");
        let account = in_gym!(store, gym, memberships::add, &email, (Role::Owner, "Iris"), None).unwrap();
        in_gym!(store, gym, memberships::invite, "x@example.org", (Role::Coach, "X"), Some(member)).unwrap();
        in_gym!(store, gym, keys::make, (Opens::Wall, &[]), "Wall").unwrap();
        in_gym!(store, gym, privacy::agree, member, "Iris").unwrap();
        in_gym!(store, gym, health_views::note, (account, "Iris"), &[member]).unwrap();
    });
    for (table, column) in tables {
        let rows = database.names(&format!("select 'x' as name from {table} where {column} = {gym}"));
        assert!(!rows.is_empty(), "nothing stands in {table}");
    }
    gym
}

/// Without a word about the gym in the query: what another gym has is neither seen, nor changed, nor written.
#[test]
fn a_transaction_sees_one_gym_whatever_the_query_asks_for() {
    let database = TestDatabase::empty();
    let (ours, theirs) = (full(&database), full(&database));
    for (table, column) in tables_of_gyms(&database) {
        let crossings = [
            format!(
                "do $$ begin if exists (select from {table} where {column} = {theirs}) then raise 'seen'; end if; end $$"
            ),
            format!(
                "do $$ declare n int; begin update {table} set {column} = {column} where {column} = {theirs};
                 get diagnostics n = row_count; if n > 0 then raise 'changed'; end if; end $$"
            ),
            format!(
                "do $$ declare n int; begin delete from {table} where {column} = {theirs};
                 get diagnostics n = row_count; if n > 0 then raise 'deleted'; end if; end $$"
            ),
        ];
        for crossing in crossings {
            assert_eq!(database.try_in_gym(ours, &crossing), Ok(()), "{table}");
        }
        // A row of one's own does not go over to another gym.
        let gift = format!("update {table} set {column} = {theirs} where {column} = {ours}");
        let refused = database.try_in_gym(ours, &gift).unwrap_err();
        assert!(refused.contains("row-level security"), "{table}: {refused}");
        // Who names no gym sees none, and one's own rows are seen: the test above would fail on a table that nobody sees.
        let own =
            format!("do $$ begin if not exists (select from {table}) then raise 'gone'; end if; end $$");
        assert_eq!(database.try_in_gym(ours, &own), Ok(()), "{table}");
    }
    let left = database.names(&format!("select id::text as name from gyms where id = {theirs}"));
    assert_eq!(left.len(), 1);
}

#[test]
fn what_was_left_is_as_it_was_and_a_look_changes_nothing() {
    let database = TestDatabase::empty();
    let gym = database.gym(&Gym::default());
    database.with_store(move |store| async move {
        let mut rows = store.change(gym).await.unwrap();
        members::add(&mut rows, &ada(), day(), Source::Stated).await.unwrap();
        drop(rows);
        let mut rows = store.look(gym).await.unwrap();
        assert!(members::called_by_id(&mut rows).await.unwrap().is_empty());
        assert!(members::add(&mut rows, &ada(), day(), Source::Stated).await.is_err());
        drop(rows);
        // However often a transaction is left, its connection is there for the next.
        for _ in 0..40 {
            drop(store.change(gym).await.unwrap());
        }
        assert!(in_gym!(store, gym, members::called_by_id).unwrap().is_empty());
    });
}

#[test]
fn what_somebody_spares_goes_when_the_gyms_time_for_it_is_over() {
    let database = TestDatabase::empty();
    let gym = database.gym(&Gym::default());
    database.with_store(move |store| async move {
        let member = in_gym!(store, gym, members::add, &ada(), day(), Source::Stated).unwrap();
        let today = chrono::Utc::now().date_naive();
        let spares = async |settings: &Gym| {
            in_gym!(store, gym, members::of_gym, settings, today).unwrap()[0].member.limits.len()
        };
        let forgets = async |months: Option<u32>, on: NaiveDate| {
            let settings = Gym { limits_kept_months: months, ..Gym::default() };
            in_gym!(store, gym, privacy::forget_old, &settings, on).unwrap()
        };
        let later = today + Days::new(400);
        // A gym that has set no time keeps them; one that has keeps them for so long.
        assert_eq!((forgets(None, later).await, forgets(Some(12), today).await), (0, 0));
        // A word on it counts anew.
        in_gym!(store, gym, members::add_limits, member, &[Limit::new("right wrist")]).unwrap();
        assert_eq!(spares(&Gym::default()).await, 2);
        assert_eq!(forgets(Some(12), later).await, 1);
        assert_eq!(spares(&Gym::default()).await, 0);
        assert_eq!(forgets(Some(12), later).await, 0, "nothing is left to forget");
    });
}
