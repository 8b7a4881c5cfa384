//! What holds of every table.

use browser_tests::TestDatabase;

/// Tables that are found without a gym: the gyms themselves, accounts and what signs them in, and which migrations have run. Of a person they
/// hold the e-mail address and nothing else.
const WITHOUT_A_GYM: &str =
    "'gyms', 'accounts', 'login_sessions', 'one_time_links', 'throttles', '__diesel_schema_migrations'";

/// On every other table, of today and to come, the gym stands first in every key, index and reference: no row can join two gyms, and the tables can
/// be spread by gym.
#[test]
fn the_gym_stands_first_in_every_key_and_reference() {
    let database = TestDatabase::empty();
    let tables = database.names(&format!(
        "select tablename::text as name from pg_tables where schemaname = 'public' and tablename not in ({WITHOUT_A_GYM})"
    ));
    assert!(tables.len() >= 11, "{tables:?}");
    let without_key = database.names(&format!(
        "select t.tablename::text as name from pg_tables t where schemaname = 'public' and tablename not in ({WITHOUT_A_GYM})
         and not exists (select from pg_index x where x.indrelid = format('public.%I', t.tablename)::regclass and x.indisprimary)"
    ));
    assert_eq!(without_key, Vec::<String>::new());
    let indexes = database.names(&format!(
        "select format('%s: %s', c.relname, i.relname) as name
         from pg_index x join pg_class c on c.oid = x.indrelid join pg_class i on i.oid = x.indexrelid
         join pg_namespace n on n.oid = c.relnamespace
         join pg_attribute a on a.attrelid = c.oid and a.attnum = x.indkey[0]
         where n.nspname = 'public' and c.relkind = 'r' and a.attname <> 'gym_id' and c.relname not in ({WITHOUT_A_GYM})"
    ));
    assert_eq!(indexes, Vec::<String>::new());
    let references = database.names(
        "select format('%s: %s', k.conrelid::regclass, k.conname) as name from pg_constraint k
         join pg_attribute a on a.attrelid = k.conrelid and a.attnum = k.conkey[1]
         where k.contype = 'f' and a.attname <> 'gym_id' and not exists
         (select from pg_class c where c.oid = k.confrelid and c.relname = 'accounts')",
    );
    assert_eq!(references, Vec::<String>::new());
    // And no table that holds a gym's rows is without its policy, for the owner of the tables too.
    let open = database.names(&format!(
        "select c.relname::text as name from pg_class c join pg_namespace n on n.oid = c.relnamespace
         where n.nspname = 'public' and c.relkind = 'r' and (c.relname = 'gyms' or c.relname not in ({WITHOUT_A_GYM}))
         and not (c.relrowsecurity and c.relforcerowsecurity
                  and exists (select from pg_policy p where p.polrelid = c.oid))"
    ));
    assert_eq!(open, Vec::<String>::new());
}
