//! Versions of every conditioning piece for everybody of every class: what must hold without exception, and what a room looks like.

use std::collections::BTreeSet;
use std::fmt;
use std::ops::RangeInclusive;

use lantern_core::gym::Gym;
use lantern_core::limits::Limit;
use lantern_core::member::{Experience, Member};
use lantern_core::movement::Catalogue;
use lantern_core::pacing::{Athlete, Fitness, Luck, Measure, Model, Verdict, Window, simulate};
use lantern_core::plan::{Decisions, MemberPiece, PiecePlan, Plan, Request, plan_with};
use lantern_core::print::work_text;
use lantern_core::session::{Amount, Node, works};
use lantern_core::strength::max_for;
use lantern_core::versions::VersionName;
use rayon::prelude::*;

use crate::fixtures::Fixture;
use crate::rosters::Roster;

/// What must hold of everybody in every piece.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Rule {
    /// Who is on stimulus as written and has no limit stays as written.
    StaysAsWritten,
    /// A version never lowers the chance of a text that nothing speaks against.
    NeverLowersTheChance,
    /// Nothing that somebody spares is in their version.
    KeepsLimits,
    /// No load that a version lowered lies below this share of somebody's max.
    NotTooLight,
    /// Nobody of the quicker third without a limit is given the newcomers' version.
    NoFirstLightForTheQuick,
    /// Less weight and fewer repetitions never take longer for who can do the text.
    Monotone,
}

impl Rule {
    /// All of them.
    pub const ALL: [Self; 6] = [
        Self::StaysAsWritten,
        Self::NeverLowersTheChance,
        Self::KeepsLimits,
        Self::NotTooLight,
        Self::NoFirstLightForTheQuick,
        Self::Monotone,
    ];
}

/// Share of one's 1RM below which no load is lowered.
const LEAST_SHARE: f64 = 0.4;
/// How much longer a lighter or shorter piece may be predicted: rounding of sets.
const A_TRIFLE: f64 = 1.005;

/// A piece for a class, looked at.
pub struct Seen {
    /// The text and the class.
    pub name: String,
    /// Members.
    pub people: usize,
    /// Of them on stimulus as written, and with their versions.
    pub as_written: usize,
    /// With the versions chosen.
    pub with_versions: usize,
    /// With what is offered to who is ahead of the window, when the coach asks for it.
    pub with_offers: usize,
    /// Different prescriptions among those without limits, loads aside.
    pub prescriptions: usize,
    /// p90 over p10 of the finish of everybody with results on file.
    pub spreads: Vec<f64>,
    /// The same of those without.
    pub spreads_of_strangers: Vec<f64>,
    /// The high end of the window over its low end.
    pub width: Option<f64>,
    /// Whether the window was inferred.
    pub inferred: bool,
    /// Where those are who are not on stimulus with their versions.
    pub off: Vec<(Verdict, String)>,
    /// What was broken, by whom and how.
    pub broken: Vec<(Rule, String)>,
}

/// Every conditioning piece of the fixtures for every class.
pub fn sweep(fixtures: &[Fixture], rosters: &[Roster]) -> Vec<Seen> {
    let (catalogue, gym) = (Catalogue::standard(), Gym::default());
    let days: Vec<(&Fixture, &Roster)> =
        fixtures.iter().flat_map(|fixture| rosters.iter().map(move |roster| (fixture, roster))).collect();
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
            pieces.into_iter().zip(offered).map(move |(piece, offered)| {
                let with_offers = offered.on_stimulus().1;
                Seen { with_offers, off: off(&offered), ..look(&name, &piece, &roster.members, catalogue) }
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

fn look(name: &str, piece: &PiecePlan, people: &[Member], catalogue: &Catalogue) -> Seen {
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
    let prescriptions: BTreeSet<String> =
        sound.map(|(own, _)| without_loads(&own.chosen().tree, catalogue)).collect();
    // A clock ends on the same second every day.
    let timed = piece.window.measure == Measure::Finish;
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
        with_offers: with_versions,
        prescriptions: prescriptions.len(),
        spreads: spreads(true),
        spreads_of_strangers: spreads(false),
        width: piece.window.low.zip(piece.window.high).map(|(low, high)| high / low.max(1e-9)),
        inferred: piece.window.inferred,
        off: Vec::new(),
        broken,
    }
}

/// Whether a run or a row and a lift are on file.
fn has_results(person: &Member) -> bool {
    (person.row_2k_s.is_some() || person.run_1600_s.is_some()) && !person.maxes.is_empty()
}

fn breaks(
    own: &MemberPiece,
    person: &Member,
    window: &Window,
    quick: f64,
    catalogue: &Catalogue,
) -> Vec<(Rule, String)> {
    let mut found = Vec::new();
    let (written, chosen) = (own.as_written(), own.chosen());
    let sound = person.limits.is_empty();
    let stays = chosen.version == VersionName::AsWritten;
    if sound && written.on_stimulus && !stays {
        found.push((Rule::StaysAsWritten, format!("{:?}: {}", chosen.version, written.reason)));
    }
    let (before, after) = (written.predicted.chance, chosen.predicted.chance);
    if sound && written.allowed && after < before - 1e-9 {
        found.push((Rule::NeverLowersTheChance, format!("{:?} {before:.2} to {after:.2}", chosen.version)));
    }
    let spared = |id: &_| {
        let movement = catalogue.get(id);
        movement.is_some_and(|movement| person.limits.iter().any(|limit: &Limit| limit.spares(movement)))
    };
    if let Some(work) = works(&chosen.tree).into_iter().find(|work| spared(&work.movement) && !stays) {
        found.push((Rule::KeepsLimits, work.movement.to_string()));
    }
    if sound && let Some(light) = too_light(&written.tree, &chosen.tree, person, catalogue) {
        found.push((Rule::NotTooLight, light));
    }
    if sound
        && chosen.version == VersionName::FirstLight
        && Fitness::of(person).value > quick
        && person.experience != Experience::New
    {
        found.push((Rule::NoFirstLightForTheQuick, written.reason.clone()));
    }
    if own.cannot.is_none()
        && let Some(what) = upside_down(&written.tree, person, window.measure, catalogue)
    {
        found.push((Rule::Monotone, what));
    }
    found
}

/// A load of a movement that stands in both trees, lowered too far.
fn too_light(written: &Node, chosen: &Node, person: &Member, catalogue: &Catalogue) -> Option<String> {
    let before = works(written);
    works(chosen).into_iter().find_map(|work| {
        let now = work.load?.weight()?;
        let then = before.iter().find(|old| old.movement == work.movement)?.load?.weight()?;
        let movement = catalogue.get(&work.movement).filter(|movement| movement.is_barbell())?;
        let max = max_for(person, &movement.id, catalogue).filter(|max| !max.guess)?;
        (now < then && now < max.value.share(LEAST_SHARE))
            .then(|| format!("{} {:.1} kg of {:.1}", movement.name, now.kg(), max.value.kg()))
    })
}

/// Whether half of the load or of the repetitions is predicted to take longer.
fn upside_down(tree: &Node, person: &Member, measure: Measure, catalogue: &Catalogue) -> Option<String> {
    let athlete = Athlete::new(person);
    let result =
        |tree: &Node| measure.of(&simulate(tree, &athlete, catalogue, Model::standard(), Luck::MEDIAN));
    let less = |load: f64, reps: f64| {
        tree.map_work(&mut |work| {
            let mut work = work.clone();
            if let Some(weight) = &mut work.load
                && weight.unit.weight().is_some()
            {
                weight.first *= load;
            }
            if let Amount::Fixed { first, second } = work.dose.amount
                && first > 1.0
            {
                work.dose.amount = Amount::Fixed { first: (first * reps).round().max(1.0), second };
            }
            Node::Work(work)
        })
    };
    let before = result(tree);
    if measure == Measure::Reps {
        // Fewer repetitions are fewer in the score, too; and of as much as somebody can, more of one movement costs another.
        return None;
    }
    [("load", less(0.8, 1.0)), ("repetitions", less(1.0, 0.8))].into_iter().find_map(|(what, tree)| {
        let after = result(&tree);
        let worse = if measure.is_time() { after > before * A_TRIFLE } else { after * A_TRIFLE < before };
        worse.then(|| format!("less {what}: {}, before {}", measure.show(after), measure.show(before)))
    })
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

/// What a sweep comes to.
pub struct Summary {
    /// Pieces for a class.
    pub pieces: usize,
    /// Of everybody in every piece.
    pub people: usize,
    /// Share on stimulus as written.
    pub as_written: f64,
    /// Share with versions.
    pub with_versions: f64,
    /// Share with versions and with what is offered to who is ahead.
    pub with_offers: f64,
    /// Median, and 90th percentile over pieces, of prescriptions a 14 people.
    pub prescriptions: (f64, f64),
    /// 10th, 50th and 90th percentile of p90 over p10, of those with results and of those without.
    pub spread: [(f64, f64, f64); 2],
    /// Median width of windows with two ends.
    pub width: f64,
    /// How often each rule is broken.
    pub broken: Vec<(Rule, usize)>,
}

/// The value at a share of the way through sorted values.
fn at(mut values: Vec<f64>, share: f64) -> f64 {
    values.sort_by(f64::total_cmp);
    let place = ((values.len().saturating_sub(1)) as f64 * share).round() as usize;
    values.get(place).copied().unwrap_or(0.0)
}

impl Summary {
    /// Of some pieces.
    pub fn of(seen: &[Seen]) -> Self {
        let people: usize = seen.iter().map(|piece| piece.people).sum();
        let share =
            |count: fn(&Seen) -> usize| seen.iter().map(count).sum::<usize>() as f64 / people.max(1) as f64;
        let prescriptions: Vec<f64> = seen
            .iter()
            .map(|piece| piece.prescriptions as f64 * (14.0 / piece.people.max(1) as f64).min(1.0))
            .collect();
        let spread = |of: fn(&Seen) -> &Vec<f64>| {
            let all: Vec<f64> = seen.iter().flat_map(|piece| of(piece).iter().copied()).collect();
            (at(all.clone(), 0.1), at(all.clone(), 0.5), at(all, 0.9))
        };
        let count =
            |rule| seen.iter().flat_map(|piece| &piece.broken).filter(|(broken, _)| *broken == rule).count();
        Self {
            pieces: seen.len(),
            people,
            as_written: share(|piece| piece.as_written),
            with_versions: share(|piece| piece.with_versions),
            with_offers: share(|piece| piece.with_offers),
            prescriptions: (at(prescriptions.clone(), 0.5), at(prescriptions, 0.9)),
            spread: [spread(|piece| &piece.spreads), spread(|piece| &piece.spreads_of_strangers)],
            width: at(seen.iter().filter_map(|piece| piece.width).collect(), 0.5),
            broken: Rule::ALL.map(|rule| (rule, count(rule))).to_vec(),
        }
    }
}

/// What a sweep is to come to, rules aside: as written a third to two thirds of a class on stimulus, most with versions, and few
/// different prescriptions in a room of 14.
pub const AS_WRITTEN: RangeInclusive<f64> = 1.0 / 3.0..=2.0 / 3.0;
/// Least share on stimulus with versions.
pub const WITH_VERSIONS: f64 = 0.9;
/// Most prescriptions, at the 90th percentile.
pub const PRESCRIPTIONS: f64 = 6.0;

impl Summary {
    /// Whether no rule is broken by anybody.
    pub fn keeps_all_rules(&self) -> bool {
        self.broken.iter().all(|(_, count)| *count == 0)
    }

    /// Bars that are missed, in words.
    pub fn missed(&self) -> Vec<String> {
        let bars = [
            (self.keeps_all_rules(), "a rule is broken".to_owned()),
            (AS_WRITTEN.contains(&self.as_written), format!("as written {:.2}", self.as_written)),
            (
                self.with_versions >= WITH_VERSIONS,
                format!("with versions {:.2} of {WITH_VERSIONS}", self.with_versions),
            ),
            (self.prescriptions.1 <= PRESCRIPTIONS, format!("{:.0} prescriptions", self.prescriptions.1)),
        ];
        bars.into_iter().filter(|(kept, _)| !kept).map(|(_, what)| what).collect()
    }
}

impl fmt::Display for Summary {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        let Self { pieces, people, prescriptions, spread, .. } = self;
        writeln!(
            f,
            "{pieces} pieces, {people} people in them: on stimulus as written {:.0} %, with versions {:.0} %, with offers {:.0} %",
            self.as_written * 100.0,
            self.with_versions * 100.0,
            self.with_offers * 100.0
        )?;
        writeln!(
            f,
            "prescriptions a 14 people: {:.0} in the middle, {:.0} at the 90th percentile",
            prescriptions.0, prescriptions.1
        )?;
        for (who, (low, middle, high)) in ["with results", "without"].into_iter().zip(spread) {
            writeln!(f, "p90 over p10 of a finish {who}: {low:.2} / {middle:.2} / {high:.2}")?;
        }
        writeln!(f, "windows {:.2} wide in the middle", self.width)?;
        self.broken.iter().try_for_each(|(rule, count)| writeln!(f, "{rule:?} broken: {count}"))
    }
}
