//! Versions of every conditioning piece for everybody of every class.

use std::collections::BTreeSet;

use lantern_core::gym::Gym;
use lantern_core::member::Member;
use lantern_core::movement::{Catalogue, Unit};
use lantern_core::pacing::{Fitness, Measure, Model, Verdict};
use lantern_core::plan::{Decisions, MemberPiece, PiecePlan, Plan, Request, plan_with};
use lantern_core::print::work_text;
use lantern_core::session::{Node, works};
use lantern_core::versions::VersionName;
use lantern_core::versions::rewrite::for_member;
use rayon::prelude::*;

use crate::fixtures::Fixture;
use crate::rosters::{Roster, days};
use crate::rules::{Rule, breaks};

/// People of one class among whom prescriptions are counted.
const A_ROOM: usize = 14;

/// A piece for a class, looked at.
pub struct Seen {
    /// The text and the class.
    pub name: String,
    /// Members.
    pub people: usize,
    /// Of them on stimulus as written.
    pub as_written: usize,
    /// With the versions chosen.
    pub with_versions: usize,
    /// With what is offered to who is ahead of the window, when the coach asks for it.
    pub with_offers: usize,
    /// Different prescriptions among the first fourteen without limits, loads aside.
    pub prescriptions: usize,
    /// Of the same people those whose repetitions, rounds or movements are not those of their version on the board, and those on any version.
    pub own_numbers: (usize, usize),
    /// p90 over p10 of the finish of everybody with results on file.
    pub spreads: Vec<f64>,
    /// The same of those without.
    pub spreads_of_strangers: Vec<f64>,
    /// The high end of the window over its low end.
    pub width: Option<f64>,
    /// What is measured.
    pub measure: Measure,
    /// Whether the window was inferred.
    pub inferred: bool,
    /// Where those are who are not on stimulus with the version chosen for them.
    pub missing: Missing,
    /// Where those are who are not on stimulus even with what they are offered.
    pub off: Vec<(Verdict, String)>,
    /// What was broken, by whom and how.
    pub broken: Vec<(Rule, String)>,
}

/// People who are not on stimulus with the version chosen for them, and why.
#[derive(Clone, Copy, Debug, Default)]
pub struct Missing {
    /// Ahead of the window: more is only offered.
    pub ahead: usize,
    /// Behind it on a median day.
    pub behind: usize,
    /// Inside on a median day, but not often enough.
    pub unsure: usize,
    /// A rule speaks against every version.
    pub against: usize,
}

impl Missing {
    fn of(piece: &PiecePlan) -> Self {
        let mut missing = Self::default();
        for chosen in piece.members.iter().map(MemberPiece::chosen).filter(|chosen| !chosen.on_stimulus) {
            *match chosen.verdict(&piece.window, Model::standard()) {
                _ if chosen.is_ahead(&piece.window) => &mut missing.ahead,
                Verdict::AgainstRule => &mut missing.against,
                Verdict::Unsure => &mut missing.unsure,
                _ => &mut missing.behind,
            } += 1;
        }
        missing
    }

    /// These and others.
    pub fn with(self, other: Self) -> Self {
        Self {
            ahead: self.ahead + other.ahead,
            behind: self.behind + other.behind,
            unsure: self.unsure + other.unsure,
            against: self.against + other.against,
        }
    }
}

/// Every conditioning piece of the fixtures for every class.
pub fn sweep(fixtures: &[Fixture], rosters: &[Roster]) -> Vec<Seen> {
    let (catalogue, gym) = (Catalogue::standard(), Gym::default());
    let days = days(fixtures, rosters);
    days.into_par_iter()
        .flat_map_iter(|(fixture, roster)| {
            let mut decisions = Decisions::default();
            let plan = |decisions: &Decisions| {
                let (session, members) = (&fixture.session, &roster.members);
                plan_with(Request { session, members, gym: &gym, catalogue, seed: 1, decisions })
            };
            let Plan { pieces, .. } = plan(&decisions);
            (0..pieces.len()).for_each(|n| decisions.pieces.change(n, |edit| edit.more = true));
            let offered = plan(&decisions).pieces;
            let name = format!("{} / {}", fixture.name, roster.name);
            let both = pieces.into_iter().zip(offered);
            both.map(move |(piece, offered)| {
                look(&name, &piece, &offered, &roster.members, &Gym::default(), catalogue)
            })
        })
        .collect()
}

/// Who is not on stimulus with a version, and where they are instead.
fn off(piece: &PiecePlan) -> Vec<(Verdict, String)> {
    let off = piece.members.iter().filter(|own| !own.chosen().on_stimulus);
    off.map(|own| {
        let chosen = own.chosen();
        let edits: Vec<&str> = chosen.edits.iter().map(|edit| edit.what.as_str()).collect();
        let told = format!(
            "{} {:?} {} [{:?}] {edits:?}",
            own.name, chosen.version, chosen.reason, piece.window.measure
        );
        (chosen.verdict(&piece.window, Model::standard()), told)
    })
    .collect()
}

/// A piece as planned, and with what is `offered` to who is ahead.
fn look(
    name: &str,
    piece: &PiecePlan,
    offered: &PiecePlan,
    people: &[Member],
    gym: &Gym,
    catalogue: &Catalogue,
) -> Seen {
    let (as_written, with_versions) = piece.on_stimulus();
    let mut fitness: Vec<f64> = people.iter().map(|member| Fitness::of(member).value).collect();
    fitness.sort_by(f64::total_cmp);
    let quick = fitness.get(fitness.len() * 2 / 3).copied().unwrap_or(f64::INFINITY);
    let mut broken = Vec::new();
    for (own, person) in piece.members.iter().zip(people) {
        let why = |what: String| format!("{name}: {}: {what}", person.name);
        broken.extend(
            breaks(own, person, &piece.window, quick, catalogue)
                .into_iter()
                .map(|(rule, what)| (rule, why(what))),
        );
    }
    let sound = piece.members.iter().zip(people).filter(|(_, person)| person.limits.is_empty());
    let room: Vec<_> = sound.take(A_ROOM).collect();
    let prescriptions: BTreeSet<String> =
        room.iter().map(|(own, _)| without_loads(&own.chosen().tree, catalogue)).collect();
    let has_own = |own: &MemberPiece, person: &Member| {
        let board = piece.versions.iter().find(|version| version.name == own.chosen().version);
        board.is_some_and(|board| {
            let theirs = for_member(&board.part, person, gym, catalogue);
            without_loads(&theirs, catalogue) != without_loads(&own.chosen().tree, catalogue)
        })
    };
    let on_a_version: Vec<bool> = room
        .iter()
        .filter(|(own, _)| own.chosen().version != VersionName::AsWritten)
        .map(|(own, person)| has_own(own, person))
        .collect();
    let own_numbers = (on_a_version.iter().filter(|own| **own).count(), on_a_version.len());
    // A clock ends on the same second every day, and so do stays of so many minutes.
    let stays = works(&piece.written().tree).iter().all(|work| work.dose.unit == Unit::Seconds);
    let timed = piece.window.measure == Measure::Finish && !stays;
    let spreads = |with_results: bool| {
        let own = piece.members.iter().zip(people).filter(|(_, person)| has_results(person) == with_results);
        own.filter(|_| timed)
            .map(|(own, _)| own.as_written().predicted.spread)
            .map(|q| q.p90 / q.p10.max(1.0))
            .collect::<Vec<f64>>()
    };
    Seen {
        name: name.to_owned(),
        people: people.len(),
        as_written,
        with_versions,
        with_offers: offered.on_stimulus().1,
        prescriptions: prescriptions.len(),
        own_numbers,
        spreads: spreads(true),
        spreads_of_strangers: spreads(false),
        width: piece.window.low.zip(piece.window.high).map(|(low, high)| high / low.max(1e-9)),
        measure: piece.window.measure,
        inferred: piece.window.inferred,
        missing: Missing::of(piece),
        off: off(offered),
        broken,
    }
}

/// Whether a run or a row and a lift are on file.
fn has_results(person: &Member) -> bool {
    (person.row_2k_s.is_some() || person.run_1600_s.is_some()) && !person.maxes.is_empty()
}

/// What is done, loads aside.
fn without_loads(tree: &Node, catalogue: &Catalogue) -> String {
    let bare = tree.map_work(&mut |work| {
        let mut work = work.clone();
        work.load = None;
        Node::Work(work)
    });
    works(&bare).into_iter().map(|work| work_text(work, catalogue)).collect::<Vec<_>>().join("; ")
}
