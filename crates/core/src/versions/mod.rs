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
mod joint;
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
pub use swaps::{at_home, lift_instead, lift_they_can};
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
    /// What the class agreed on.
    pub board: &'a Vec<ClassVersion>,
    /// Members as they were then, each with their options.
    pub own: Vec<(&'a Member, &'a Options)>,
}

/// As [`for_class`], given up when nobody waits any longer, and with what is known already. A known board stands, also for who is not of the class.
pub(crate) fn for_class_again(
    part: &Part,
    members: &[Member],
    window: &Window,
    edit: &PieceEdit,
    world: &World<'_>,
    known: Option<KnownPiece<'_>>,
    stop: &Stop,
) -> Option<(Vec<ClassVersion>, Vec<Options>)> {
    let (board, own) = match known {
        Some(KnownPiece { board, own: known }) => {
            let own = members.par_iter().map(|member| {
                let before = known.iter().find(|(then, _)| *then == member);
                let fresh = || choose::options(part, member, window, board, world, edit);
                (!stop.is_stopped()).then(|| before.map_or_else(fresh, |(_, options)| (*options).clone()))
            });
            let own: Option<Vec<Options>> = own.collect();
            (board.clone(), own?)
        }
        None => made_for_class(part, members, window, edit, world, stop)?,
    };
    let chosen = own.into_iter().zip(members);
    let own = chosen
        .map(|(options, member)| options.choose(edit.versions.get(&member.name).copied(), member, window));
    Some((board, own.collect()))
}

/// The board for typical people, everybody's own versions of it, what the class agrees on, and the coach's hand over all.
fn made_for_class(
    part: &Part,
    members: &[Member],
    window: &Window,
    edit: &PieceEdit,
    world: &World<'_>,
    stop: &Stop,
) -> Option<(Vec<ClassVersion>, Vec<Options>)> {
    let limits: Vec<&Limit> = members.iter().flat_map(|member| &member.limits).collect();
    // What the class agrees on does not change under the coach's hand: the lines that were written anew were read on that board.
    let plain = PieceEdit { hand: Vec::new(), ..edit.clone() };
    let board = board::board(part, window, &limits, &plain, world);
    let own: Option<Vec<Options>> = members
        .par_iter()
        .map(|member| {
            (!stop.is_stopped()).then(|| choose::options(part, member, window, &board, world, &plain))
        })
        .collect();
    let class = joint::Class { part, members, window, edit: &plain, world };
    let (mut board, mut own) = class.agreed(board, own?, stop)?;
    let class = joint::Class { edit, ..class };
    for (place, version) in board.iter_mut().enumerate() {
        let by_hand = board::with_the_hand(version, part, window, edit, world);
        let of_one = edit.hand.iter().any(|line| line.member.is_some() && line.version == version.name);
        if by_hand.is_some() || of_one {
            *version = by_hand.unwrap_or_else(|| version.clone());
            own = class.again(&own, place, version, stop)?;
        }
    }
    Some((board, own))
}
