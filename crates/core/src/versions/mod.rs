//! Versions: the piece rewritten for somebody else so that it keeps its intent.
//!
//! [`rewrite`] holds the small rewrites, each from a tree to a tree and its edits; [`ladder`] the swaps they may
//! use; [`rules`] what a load or a movement must satisfy. `swaps` picks rungs, `fit` takes off what one person must
//! have taken off, `board` makes the class's six versions with them, and [`choose`] finds for one member the version
//! on stimulus that departs least from the text. `ground` keeps everybody's limits under all of them. [`hand`] is the coach's own: lines written anew, and [`habit`] what they always do. `edits` holds what the coach has decided; a rebuild keeps it.

mod board;
mod changes;
mod choice;
mod choose;
mod edits;
mod fit;
mod ground;
pub mod habit;
pub mod hand;
mod home;
pub mod ladder;
mod names;
mod numbers;
pub mod rewrite;
pub mod rules;
mod swaps;
mod world;

pub use board::ClassVersion;
pub use choice::{Choice, Options};
pub use edits::{PieceEdit, PieceEdits};
pub use habit::HandHabit;
pub use hand::HandLine;
pub use home::HomeKit;
pub use ladder::{Ladders, Rung};
pub use names::VersionName;
pub use rewrite::Edit;
pub use swaps::lift_instead;
pub use world::World;

use rayon::prelude::*;

use crate::limits::Limit;
use crate::member::Member;
use crate::pacing::Window;
use crate::plan::Stop;
use crate::session::Part;

/// The class's six versions of a piece and everybody's own, in the order of `members`.
pub fn for_class(
    part: &Part,
    members: &[Member],
    window: &Window,
    edit: &PieceEdit,
    world: &World<'_>,
) -> (Vec<ClassVersion>, Vec<Options>) {
    for_class_again(part, members, window, edit, world, None, &Stop::default()).expect("nobody says stop")
}

/// What an earlier plan holds of the same piece under the same decisions, choices of versions aside.
#[derive(Clone, Debug)]
pub struct KnownPiece<'a> {
    /// The class's versions, when they were made for the same limits.
    pub board: Option<&'a Vec<ClassVersion>>,
    /// Members as they were then, each with their options.
    pub own: Vec<(&'a Member, &'a Options)>,
}

/// As [`for_class`], given up when nobody waits any longer, and with what is known already. A member's options rest on the class's versions, so without those
/// nobody's are known.
pub(crate) fn for_class_again(
    part: &Part,
    members: &[Member],
    window: &Window,
    edit: &PieceEdit,
    world: &World<'_>,
    known: Option<KnownPiece<'_>>,
    stop: &Stop,
) -> Option<(Vec<ClassVersion>, Vec<Options>)> {
    let known_board = known.as_ref().and_then(|known| known.board);
    let board = known_board.cloned().unwrap_or_else(|| {
        let limits: Vec<&Limit> = members.iter().flat_map(|member| &member.limits).collect();
        board::board(part, window, &limits, edit, world)
    });
    let known = known.filter(|_| known_board.is_some()).map_or(Vec::new(), |known| known.own);
    // One member's numbers never depend on another's, so the class is shared out among the processor's cores.
    let own: Option<Vec<Options>> = members
        .par_iter()
        .map(|member| {
            if stop.is_stopped() {
                return None;
            }
            let before = known.iter().find(|(then, _)| *then == member);
            let fresh = || choose::options(part, member, window, &board, world, edit);
            let options = before.map_or_else(fresh, |(_, options)| (*options).clone());
            Some(options.choose(edit.versions.get(&member.name).copied(), member, window))
        })
        .collect();
    Some((board, own?))
}
