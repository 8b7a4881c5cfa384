//! Functions that migrations have made in the database.
#![allow(
    missing_docs,
    reason = "the macro makes modules and types beside the functions, which are documented in the migrations"
)]

use diesel::declare_sql_function;
use diesel::sql_types::{BigInt, Binary, Integer};

#[declare_sql_function]
extern "SQL" {
    fn lantern_known(gym: BigInt) -> Nullable<Jsonb>;
    fn lantern_who(
        token: Binary,
        longest_days: Integer,
        idle_days: Integer,
        noted_minutes: Integer,
    ) -> Nullable<Jsonb>;
}
