//! Askama filters.

use askama::Values;

/// The address of a static file, with the hash of all of them in it.
#[askama::filter_fn]
pub fn asset(name: &str, _: &dyn Values) -> askama::Result<String> {
    Ok(crate::respond::files::address(name))
}

/// The first letters of a name, as one would type them.
#[askama::filter_fn]
pub fn short(name: &str, _: &dyn Values) -> askama::Result<String> {
    Ok(name.to_lowercase().chars().take(3).collect())
}

/// Seconds as a clock reads.
#[askama::filter_fn]
pub fn clock(seconds: &u32, _: &dyn Values) -> askama::Result<String> {
    Ok(lantern_core::units::clock_s(*seconds))
}
