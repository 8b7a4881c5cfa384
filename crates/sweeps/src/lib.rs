//! What must hold of every text and every class: sweeps of the core over all fixtures and rosters. The proofs print them whole; the
//! tests hold a seeded tenth.

pub mod fixtures;
pub mod hour;
pub mod loads;
pub mod rosters;
pub mod rules;
pub mod summary;
pub mod versions;
pub mod windows;
