//! A seeded part of each sweep; the whole of each is run by the proof command.

mod hour;
mod loads;
mod versions;
mod windows;
