//! Askama filters.

use askama::Values;

/// The address of a static file, with the hash of all of them in it.
#[askama::filter_fn]
pub fn asset(name: &str, _: &dyn Values) -> askama::Result<String> {
    Ok(crate::respond::files::address(name))
}

/// Seconds as a clock reads.
#[askama::filter_fn]
pub fn clock(seconds: &u32, _: &dyn Values) -> askama::Result<String> {
    Ok(lantern_core::units::clock_s(*seconds))
}
