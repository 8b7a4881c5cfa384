//! Versions: the piece rewritten for somebody else so that it keeps its intent.
//!
//! [`rewrite`] holds the small rewrites, each from a tree to a tree and its edits; [`ladder`] the swaps they may
//! use; [`rules`] what a load or a movement must satisfy. `swaps` picks rungs, `fit` takes off what one person must
//! have taken off, `board` makes the class's six versions with them, and [`choose`] finds for one member the version
//! on stimulus that departs least from the text. `edits` holds what the coach has decided; a rebuild keeps it.

mod board;
mod changes;
pub mod choose;
mod edits;
mod fit;
mod home;
pub mod ladder;
mod names;
pub mod rewrite;
pub mod rules;
mod swaps;

pub use board::ClassVersion;
pub use choose::{Choice, Options, World};
pub use edits::{PieceEdit, PieceEdits};
pub use home::HomeKit;
pub use ladder::{Ladders, Rung};
pub use names::VersionName;
pub use rewrite::Edit;

use rayon::prelude::*;

use crate::member::{Limit, Member};
use crate::pacing::Window;
use crate::session::Part;

/// The class's six versions of a piece and everybody's own, in the order of `members`.
pub fn for_class(
    part: &Part,
    members: &[Member],
    window: &Window,
    edit: &PieceEdit,
    world: &World<'_>,
) -> (Vec<ClassVersion>, Vec<Options>) {
    let limits: Vec<&Limit> = members.iter().flat_map(|member| &member.limits).collect();
    let board = board::board(part, window, &limits, edit, world);
    // One member's numbers never depend on another's, so the class is shared out among the processor's cores.
    let own =
        members.par_iter().map(|member| choose::options(part, member, window, &board, edit, world)).collect();
    (board, own)
}
