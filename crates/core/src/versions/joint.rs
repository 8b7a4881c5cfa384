//! Versions chosen for a class together: numbers on the board that suit as many as they can, so that few have numbers of their own.
//!
//! The board is first made for typical people, and everybody's own versions from it. Where those of a class who are best served by a version
//! do it with other repetitions, rounds or movements than stand on the board, what one of them counts may suit the room better than what
//! typical people do. It takes the board's place when at least as many are on stimulus with it and fewer have numbers of their own.

use std::cmp::Reverse;

use rayon::prelude::*;

use super::board::{ClassVersion, with_numbers_of};
use super::changes::Changes;
use super::choice::{Choice, Options};
use super::choose::options_again;
use super::edits::PieceEdit;
use super::fit::{COMFORT, Fitter};
use super::names::VersionName;
use super::rewrite::for_member;
use super::world::World;
use crate::member::Member;
use crate::pacing::{Athlete, Window};
use crate::plan::Stop;
use crate::session::Part;

/// The versions of which a class agrees on the numbers. As written is the text, and the two at the side are for single people.
const AGREED: [VersionName; 3] = [VersionName::Lighter, VersionName::Simpler, VersionName::FirstLight];
/// Most proposals for one version that are tried on the whole class, those that suit most people first: more are seldom worth their time.
const MOST_PROPOSALS: usize = 2;

/// A class that is planned for.
#[derive(Clone, Copy)]
pub(super) struct Class<'a> {
    pub part: &'a Part,
    pub members: &'a [Member],
    pub window: &'a Window,
    pub edit: &'a PieceEdit,
    pub world: &'a World<'a>,
}

impl Class<'_> {
    /// The board and everybody's own versions once the class has agreed on numbers. None when nobody waits any longer.
    pub fn agreed(
        &self,
        mut board: Vec<ClassVersion>,
        mut own: Vec<Options>,
        stop: &Stop,
    ) -> Option<(Vec<ClassVersion>, Vec<Options>)> {
        for name in AGREED {
            let Some(place) = board.iter().position(|version| version.name == name) else { continue };
            let mut now = self.worth(&board[place], &own);
            for numbers in self.proposals(&board[place], &own) {
                let Class { part, window, world, .. } = *self;
                let version = with_numbers_of(&board[place], &numbers, part, window, world);
                let with_it = self.again(&own, place, &version, stop)?;
                let then = self.worth(&version, &with_it);
                if then > now {
                    (now, board[place], own) = (then, version, with_it);
                }
            }
        }
        Some((board, own))
    }

    /// Everybody's versions after one of the board has become another.
    pub fn again(
        &self,
        own: &[Options],
        place: usize,
        version: &ClassVersion,
        stop: &Stop,
    ) -> Option<Vec<Options>> {
        let Class { part, members, window, edit, world } = *self;
        let both = members.par_iter().zip(own);
        both.map(|(member, before)| {
            let whose = (part, member, window);
            (!stop.is_stopped()).then(|| options_again(before, whose, (place, version), world, edit))
        })
        .collect()
    }

    /// What those who are best served by a version count in place of what the board does, as far as it holds for more of them than the
    /// board's own numbers: for most first.
    fn proposals(&self, version: &ClassVersion, own: &[Options]) -> Vec<Changes> {
        let served: Vec<(&Choice, &Member)> = served(version, own, self.members).collect();
        let (same, others): (Vec<_>, Vec<_>) = served
            .iter()
            .partition(|(choice, member)| choice.changes.counts_the_same(version.changes_for(member)));
        let mut proposed: Vec<&Changes> = Vec::new();
        for (choice, _) in others {
            if !proposed.iter().any(|known| known.counts_the_same(&choice.changes)) {
                proposed.push(&choice.changes);
            }
        }
        let suits = |numbers: &Changes| {
            served.par_iter().filter(|(choice, member)| self.suits(numbers, choice, member)).count()
        };
        let mut suiting: Vec<(usize, &Changes)> =
            proposed.into_iter().map(|numbers| (suits(numbers), numbers)).collect();
        suiting.retain(|(people, _)| *people > same.len());
        // Stable: of equals the first in the class.
        suiting.sort_by_key(|(people, _)| Reverse(*people));
        suiting.into_iter().take(MOST_PROPOSALS).map(|(_, numbers)| numbers.clone()).collect()
    }

    /// Whether numbers hold for somebody with the loads that they have anyhow, or with others.
    fn suits(&self, numbers: &Changes, choice: &Choice, member: &Member) -> bool {
        let Class { part, window, world, .. } = *self;
        if choice.changes.counts_the_same(numbers) {
            return true;
        }
        let athlete = Athlete::new(member);
        let written = for_member(part, member, world.gym, world.catalogue);
        let fitter = Fitter { athlete: &athlete, window, world, written: &written, comfort: COMFORT };
        let with_own_loads = choice.changes.with_numbers_of(numbers);
        fitter.holds(&with_own_loads) || fitter.heaviest(&with_own_loads, 1.0).is_some()
    }

    /// What a version is worth to a class: how many are on stimulus, and then how few have numbers of their own.
    fn worth(&self, version: &ClassVersion, own: &[Options]) -> (usize, Reverse<usize>) {
        let on_stimulus = own.iter().filter(|options| options.all[options.best].on_stimulus).count();
        let own_numbers = served(version, own, self.members)
            .filter(|(choice, member)| !choice.changes.counts_the_same(version.changes_for(member)));
        (on_stimulus, Reverse(own_numbers.count()))
    }
}

/// Those who are best served by a version, each with what they do of it.
fn served<'a>(
    version: &ClassVersion,
    own: &'a [Options],
    members: &'a [Member],
) -> impl Iterator<Item = (&'a Choice, &'a Member)> {
    let name = version.name;
    let best = own.iter().map(|options| &options.all[options.best]).zip(members);
    best.filter(move |(choice, _)| choice.version == name)
}
