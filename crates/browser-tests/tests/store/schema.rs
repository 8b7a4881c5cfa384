//! What holds of every table.

use browser_tests::TestDatabase;

/// How Diesel calls a type.
const TYPES: [(&str, &str); 10] = [
    ("bigint", "Int8"),
    ("integer", "Int4"),
    ("real", "Float4"),
    ("text", "Text"),
    ("boolean", "Bool"),
    ("date", "Date"),
    ("time without time zone", "Time"),
    ("timestamp with time zone", "Timestamptz"),
    ("jsonb", "Jsonb"),
    ("bytea", "Bytea"),
];

/// The tables as the file says them are the tables as the migrations make them: every column, its type, whether it may be empty, and the key.
#[test]
fn the_file_of_tables_says_what_the_migrations_make() {
    let database = TestDatabase::empty();
    let rows = database.names(
        "select format('%s|%s|%s|%s|%s', c.relname, a.attname, format_type(a.atttypid, null), a.attnotnull,
             coalesce((select array_position(x.indkey::int2[], a.attnum) + 1 from pg_index x
                       where x.indrelid = c.oid and x.indisprimary), 0)) as name
         from pg_class c join pg_namespace n on n.oid = c.relnamespace join pg_attribute a on a.attrelid = c.oid
         where n.nspname = 'public' and c.relkind = 'r' and a.attnum > 0 and not a.attisdropped
         and c.relname <> '__diesel_schema_migrations' order by c.relname, a.attnum",
    );
    let rows: Vec<Vec<&str>> = rows.iter().map(|row| row.split('|').collect()).collect();
    let mut printed = String::from(
        "//! Tables as Diesel sees them, printed from what the migrations make; a test compares.\n",
    );
    let mut names: Vec<&str> = rows.iter().map(|row| row[0]).collect();
    names.dedup();
    for name in &names {
        let columns: Vec<&Vec<&str>> = rows.iter().filter(|row| row[0] == *name).collect();
        let mut key: Vec<(u32, &str)> = columns
            .iter()
            .map(|row| (row[4].parse().unwrap(), row[1]))
            .filter(|(place, _)| *place > 0)
            .collect();
        key.sort_unstable();
        let key: Vec<&str> = key.into_iter().map(|(_, column)| column).collect();
        printed += &format!("\ndiesel::table! {{\n    {name} ({}) {{\n", key.join(", "));
        for row in columns {
            let (bare, many) = row[2].strip_suffix("[]").map_or((row[2], false), |bare| (bare, true));
            let known = TYPES.iter().find(|(sql, _)| *sql == bare).map_or(bare, |(_, diesel)| diesel);
            let known = if many { format!("Array<{known}>") } else { known.to_owned() };
            let known = if row[3] == "t" { known } else { format!("Nullable<{known}>") };
            printed += &format!("        {} -> {known},\n", row[1]);
        }
        printed += "    }\n}\n";
    }
    let said = include_str!("../../../store/src/schema.rs");
    let said = said.split("\ndiesel::joinable!").next().unwrap();
    assert_eq!(said.trim_end(), printed.trim_end(), "put this into the file:\n{printed}");
}

/// Tables that are found without a gym: the gyms themselves, accounts and what signs them in, and which migrations have run. Of a person they
/// hold the e-mail address and nothing else.
const WITHOUT_A_GYM: &str = "'gyms', 'accounts', 'login_sessions', 'one_time_links', 'throttles', 'backups', '__diesel_schema_migrations'";

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

/// The last migration before programs of two versions run side by side while one follows the other.
const ALONE: u32 = 24;

/// What a migration takes from a program that does not know of it: the statement, in one line.
fn takes(sql: &str) -> Vec<String> {
    let bare: Vec<&str> = sql.lines().map(|line| line.split("--").next().unwrap_or_default()).collect();
    let bare = bare.join(" ").to_lowercase();
    let is_taken = |statement: &String| {
        let has = |words: &str| statement.contains(words);
        let is_dropped = has("drop ") && !has("drop index") && !has("drop trigger") && !has("drop policy");
        let is_new_and_must_be_said = has("add column") && has("not null") && !has("default");
        let is_narrowed = has("set not null") || has(" type ") && has("alter column");
        is_dropped || has(" rename ") || has("revoke ") || is_narrowed || is_new_and_must_be_said
    };
    let statements = bare.split(';').map(|one| one.split_whitespace().collect::<Vec<_>>().join(" "));
    statements.filter(is_taken).collect()
}

/// While a new version takes the place of an older one, both write: a migration only ever adds what the older one need not know. What is no longer used is taken away by the
/// version after.
#[test]
fn migrations_leave_the_program_before_everything_that_it_uses() {
    assert_eq!(takes("alter table a add column b int not null;").len(), 1);
    assert_eq!(takes("alter table a add column b int not null default 0;\n-- drop table a;\n").len(), 0);
    for taken in ["alter table a rename to b", "alter table a alter column b type text", "drop table a"] {
        assert_eq!(takes(taken), [taken]);
    }
    let folder = concat!(env!("CARGO_MANIFEST_DIR"), "/../store/migrations");
    let (mut of_old, mut count) = (0, 0);
    for entry in std::fs::read_dir(folder).unwrap() {
        let path = entry.unwrap().path();
        let name = path.file_name().unwrap().to_string_lossy().into_owned();
        let number: u32 = name.split('_').next().unwrap().rsplit('-').next().unwrap().parse().unwrap();
        let taken = takes(&std::fs::read_to_string(path.join("up.sql")).unwrap());
        count += 1;
        match number <= ALONE {
            true => of_old += taken.len(),
            false => assert_eq!(taken, [""; 0], "{name}"),
        }
    }
    assert!(
        count >= ALONE as usize && of_old >= 3,
        "{count} migrations were read, {of_old} of old take something"
    );
}
