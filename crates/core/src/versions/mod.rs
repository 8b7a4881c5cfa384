//! Versions: the piece rewritten for somebody else so that it keeps its intent.
//!
//! [`rewrite`] holds the small rewrites, each from a tree to a tree and its edits; [`ladder`] the swaps
//! they may use; [`rules`] what a load or a movement must satisfy; [`choose`] finds, for one member, the
//! version on stimulus that departs least from the text.

pub mod choose;
pub mod ladder;
pub mod rewrite;
pub mod rules;

pub use choose::{Choice, VersionName, choose};
pub use ladder::{Ladders, Rung};
pub use rewrite::Edit;
