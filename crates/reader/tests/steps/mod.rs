//! The steps of reading, one by one.

mod grammar;
mod habits;
mod label;
mod plausible;
mod sections;
mod source;
mod table;
mod tokens;
