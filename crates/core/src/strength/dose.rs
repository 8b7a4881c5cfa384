//! What a part asks of each set of a lift: repetitions, and what its load is counted from. The dose is the text's own; where it names none,
//! one set is asked and nothing is made up.

use super::bar::usual_bar;
use super::build::{NEWER_STOPS_AT, build};
use super::complex::complex;
use super::lift::percent_of;
use super::maxes::{Estimate, max_for};
use super::percent::{percent_for_reps, percent_for_rpe};
use crate::gym::Gym;
use crate::member::{Experience, Member};
use crate::movement::{Catalogue, Movement, MovementId};
use crate::session::{Amount, Format, Node, Part, PercentOf, Work, works};
use crate::units::Kilograms;

/// Most sets of one lift in a part.
const MOST_SETS: usize = 60;
/// Highest share of one's own 1RM that anybody is given, in percent: above it a figure is a slip, or a lowering with spotters that a
/// coach loads by hand.
const MOST_PERCENT: f64 = 110.0;
/// Effort of sets that name no load at all, as RPE: two repetitions in reserve.
const USUAL_RPE: f64 = 8.0;
/// Effort of the last of sets that get heavier, as RPE, and how much easier the first is at least: it leaves four repetitions, the last one.
const RISES_TO: f64 = 9.0;
const RISE: f64 = 3.0;
/// What sets that get heavier from a written share add each time at most, in percent: common coaching practice.
const STEP_PERCENT: f64 = 5.0;
/// Sets that are built up to a share begin no lower than at this part of it.
const LEAST_OF_THE_END: f64 = 0.7;
/// A bar that rises until it is missed begins at about this part of the maximum, where no weight is written.
const BEGINS_AT: f64 = 0.4;

/// One set as asked for.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Asked {
    /// Repetitions; 0 for as many as possible.
    pub reps: u32,
    /// Share of the maximum in percent; of a written weight what it comes to, where the maximum is known; 0 where nothing says what it is.
    pub percent: f64,
    /// What the load is counted from.
    pub base: Base,
    /// As many repetitions as possible, `reps` of them at least.
    pub open: bool,
}

/// What a load is counted from.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Base {
    /// A written share of the 1RM.
    Percent,
    /// A written share of something else than the 1RM of this lift.
    Share(ShareOf),
    /// An effort, as RPE: written, or the usual one.
    Effort(f64),
    /// A step of a build toward this effort, as RPE.
    Build(f64),
    /// A written weight.
    Weight(Kilograms),
    /// A step of a bar that rises by a written jump from where one begins, since no weight is written.
    Step {
        /// The weight of this step.
        weight: Kilograms,
        /// That of the first.
        first: Kilograms,
        /// What is put on between two.
        jump: Kilograms,
    },
    /// A written share that nobody can lift, in percent: no load follows from it.
    Beyond(f64),
}

/// What a share is of, where it is not the 1RM of the lift.
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum ShareOf {
    /// An n-rep max: what so many repetitions leave of the 1RM, in percent.
    Rm(u32),
    /// The heaviest set of the day, which nobody knows before it is done.
    Today,
    /// What today's build of another lift is to end at, by the figure on file until that is lifted.
    TodayOf(Counted),
    /// The heaviest of the sets before, in the same lines.
    TopSet,
    /// The 1RM of another lift, where it is on file.
    Lift(Counted),
    /// One's own weight, where it is on file.
    Bodyweight(Counted),
    /// The most repetitions in a row of what is done, where they are on file: the repetitions follow from it, and no load.
    MostReps(Option<u32>),
}

/// A weight that a share was taken of, and what that comes to.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Counted {
    /// What the share is of.
    pub of: Kilograms,
    /// What is to be lifted, before plates.
    pub weight: Kilograms,
}

impl Counted {
    fn share(of: Kilograms, percent: f64) -> Self {
        Self { of, weight: of.share(percent / 100.0) }
    }
}

impl Base {
    /// The weight to lift, where it does not hang on the 1RM of the lift: before plates.
    pub const fn weight(self) -> Option<Kilograms> {
        match self {
            Self::Weight(weight) | Self::Step { weight, .. } => Some(weight),
            Self::Share(
                ShareOf::Lift(counted) | ShareOf::TodayOf(counted) | ShareOf::Bodyweight(counted),
            ) => Some(counted.weight),
            Self::Percent | Self::Share(_) | Self::Effort(_) | Self::Build(_) | Self::Beyond(_) => None,
        }
    }
}

/// A lift whose sets are asked for, and of whom.
#[derive(Clone, Copy)]
pub(super) struct Dosing<'a> {
    pub part: &'a Part,
    /// The build that came before, where shares of this part are of what it ends at.
    pub built: Option<&'a Part>,
    /// The lift that is written.
    pub lift: &'a Movement,
    pub member: &'a Member,
    /// The 1RM of what they do.
    pub max: Option<&'a Estimate>,
    pub gym: &'a Gym,
    pub catalogue: &'a Catalogue,
}

impl Dosing<'_> {
    /// The sets of the lift in order.
    pub fn asked(&self) -> Vec<Asked> {
        let Self { part, lift, member, .. } = *self;
        let own: Vec<&Work> = works(&part.tree).into_iter().filter(|work| work.movement == lift.id).collect();
        if part.format == Some(Format::BuildTo) {
            let steps = self.jumps(&own).unwrap_or_else(|| build(part, member, self.is_known()));
            return with_back_offs(steps, part);
        }
        let doses = self.doses(&own);
        let count = doses.len();
        let written = self.weights(&own, count);
        let last = doses.last().map_or(1, |(reps, _)| (*reps).max(1));
        let percents = percents(part, lift, count, percent_for_rpe(last, RISES_TO));
        // The top of the sets that shares of the others are taken of.
        let first = match part.strength.percent_of {
            Some(PercentOf::TopSet(first)) => first as usize,
            _ => 0,
        };
        let top = percents.iter().take(first).copied().fold(0.0, f64::max);
        // Repetitions of the last set that has a number of them.
        let mut before = 0;
        doses
            .into_iter()
            .enumerate()
            .map(|(n, (reps, open))| {
                let (percent, base) = match (written.get(n), percents.get(n)) {
                    (Some(weight), _) => (self.of_max(*weight), Base::Weight(*weight)),
                    (None, Some(percent)) if n >= first && first > 0 => {
                        (percent * top / 100.0, Base::Share(ShareOf::TopSet))
                    }
                    (None, Some(percent)) => self.share(*percent),
                    (None, None) => {
                        let through = n as f64 / count.saturating_sub(1).max(1) as f64;
                        let rpe =
                            part.strength.efforts.get(n).copied().unwrap_or_else(|| effort(part, through));
                        // As many as possible after others: with what these are done with.
                        let counted = if reps == 0 { before } else { reps };
                        before = counted;
                        let percent = if counted == 0 { 0.0 } else { percent_for_rpe(counted, rpe) };
                        (percent, Base::Effort(rpe))
                    }
                };
                let open = open || part.strength.open_last && n + 1 == count;
                Asked { reps, percent, base, open }
            })
            .collect()
    }

    /// The sets of a bar that rises by a written jump until it is missed: from the written weight, or from where one begins, up to what
    /// somebody can lift so often. None without a jump, or where nobody knows what they can lift.
    fn jumps(&self, own: &[&Work]) -> Option<Vec<Asked>> {
        let Self { part, member, .. } = *self;
        let jump = written_jump(part, member)?;
        let max = self.max?.value;
        let reps = part.strength.rm.unwrap_or(1).max(1);
        let newer = !self.is_known() || member.experience <= Experience::Beginner;
        let effort = if newer { NEWER_STOPS_AT } else { 10.0 };
        let last = max.share(percent_for_rpe(reps, effort) / 100.0);
        let written = self.weights(own, 1).first().copied();
        let first = written.unwrap_or_else(|| {
            // Whole jumps from what is light.
            let jumps = (max.share(BEGINS_AT).kg() / jump.kg()).round().max(1.0);
            jump.share(jumps)
        });
        let steps = ((last.kg() - first.kg()) / jump.kg()).floor().max(0.0) as usize;
        let set = |n: usize| {
            let weight = first + jump.share(n as f64);
            let base =
                if written.is_some() { Base::Weight(weight) } else { Base::Step { weight, first, jump } };
            Asked { reps, percent: self.of_max(weight), base, open: false }
        };
        Some((0..=steps.min(MOST_SETS - 1)).map(set).collect())
    }

    /// Written weights, one a set: an empty bar is the one they usually take.
    fn weights(&self, own: &[&Work], count: usize) -> Vec<Kilograms> {
        let Self { part, lift, member, gym, .. } = *self;
        if part.strength.empty_bar && lift.is_barbell() {
            return vec![usual_bar(gym, member.takes_first_of_pair()); count];
        }
        weights(part, own, count, member)
    }

    /// Whether a maximum of what they do is on file, and no guess.
    fn is_known(&self) -> bool {
        self.max.is_some_and(|max| !max.guess)
    }

    /// A weight as a share of the maximum, in percent; 0 where there is none.
    fn of_max(&self, weight: Kilograms) -> f64 {
        self.max.map_or(0.0, |max| percent_of(weight, max))
    }

    /// A written share as one of the 1RM in percent, and what it is of.
    fn share(&self, percent: f64) -> (f64, Base) {
        let Self { part, built, member, catalogue, .. } = *self;
        let own =
            if percent > MOST_PERCENT { (0.0, Base::Beyond(percent)) } else { (percent, Base::Percent) };
        let of_weight = |of: Kilograms, base: fn(Counted) -> ShareOf| {
            let counted = Counted::share(of, percent);
            (self.of_max(counted.weight), Base::Share(base(counted)))
        };
        match part.strength.percent_of.as_ref() {
            None | Some(PercentOf::TopSet(_)) => own,
            Some(PercentOf::Rm(reps)) => {
                let of_one = percent_for_reps(f64::from(*reps));
                (percent * of_one / 100.0, Base::Share(ShareOf::Rm(*reps)))
            }
            Some(PercentOf::Today) => {
                let steps = built.map(|built| build(built, member, self.is_known()));
                let top = steps.and_then(|steps| steps.last().map(|last| last.percent)).unwrap_or(100.0);
                match self.other_lift_of_today() {
                    Some(max) => of_weight(max.value.share(top / 100.0), ShareOf::TodayOf),
                    None => (percent * top / 100.0, Base::Share(ShareOf::Today)),
                }
            }
            // How many that is depends on what they do in its place.
            Some(PercentOf::MostReps) => (percent, Base::Share(ShareOf::MostReps(None))),
            Some(PercentOf::Bodyweight) => {
                member.bodyweight.map_or(own, |of| of_weight(of, ShareOf::Bodyweight))
            }
            Some(PercentOf::Lift(lift)) => {
                let is_own = works(&part.tree).iter().any(|work| work.movement == *lift);
                let max = max_for(member, lift, catalogue).filter(|_| !is_own);
                max.map_or(own, |max| of_weight(max.value, ShareOf::Lift))
            }
        }
    }

    /// What is on file of the lift that was built to before, where that is another one: "overhead squat at 80 % of today's snatch".
    fn other_lift_of_today(&self) -> Option<Estimate> {
        let Self { part, built, member, catalogue, .. } = *self;
        let is_own = |id: &MovementId| works(&part.tree).iter().any(|work| work.movement == *id);
        let lifts = works(&built?.tree);
        let lift = lifts.iter().map(|work| &work.movement).find(|id| !is_own(id))?;
        if lifts.iter().any(|work| is_own(&work.movement)) { None } else { max_for(member, lift, catalogue) }
    }

    /// Repetitions of each set, and whether it is open.
    fn doses(&self, own: &[&Work]) -> Vec<(u32, bool)> {
        let Self { part, lift, member, catalogue, .. } = *self;
        let strength = &part.strength;
        let alone = works(&part.tree).iter().all(|work| work.movement == lift.id);
        let max_reps = part.format == Some(Format::MaxReps);
        let count = strength.sets.map_or(1, |sets| sets.clamp(1, MOST_SETS as u32) as usize);
        if alone && !strength.reps.is_empty() {
            let reps = &strength.reps;
            let count = count.max(reps.len());
            let each = (0..count).map(|n| if reps.len() < count { reps[0] } else { reps[n] });
            return each.map(|reps| (reps, max_reps || reps == 0)).collect();
        }
        let mut found = Vec::new();
        walk(&part.tree, None, lift, member, &mut found);
        // A set that is said once is done as often as the part says.
        if found.len() == own.len() {
            found = (0..count).flat_map(|_| found.iter().copied()).collect();
        }
        if complex(part, catalogue).is_some() {
            // What comes twice in a complex is one set all the same.
            found = found.into_iter().step_by(own.len().max(1)).collect();
        }
        found.truncate(MOST_SETS);
        found.into_iter().map(|(reps, open)| (reps, open || max_reps)).collect()
    }
}

/// Effort of sets that stand in for a written weight that is out of reach, as RPE: as hard as it was meant to be.
const OUT_OF_REACH_RPE: f64 = 9.0;

/// Whether a written weight is more than somebody can lift so often.
fn is_out_of_reach(set: &Asked) -> bool {
    matches!(set.base, Base::Weight(_)) && set.percent > percent_for_reps(f64::from(set.reps.max(1))) + 0.01
}

/// What to say of the first set whose written weight is more than somebody can lift so often; none where all are in reach, or nobody knows.
pub(super) fn too_heavy(sets: &[Asked], max: Option<&Estimate>, gym: &Gym) -> Option<String> {
    let set = max.filter(|max| !max.guess).and_then(|_| sets.iter().find(|set| is_out_of_reach(set)))?;
    let (weight, percent) = (set.base.weight()?.show(gym.unit), set.percent.round());
    let reps = set.reps.max(1);
    Some(format!(
        "{weight} was written, {percent} % of the 1RM and too much for {reps}: lighter, as hard as it was meant"
    ))
}

/// The same sets with what is out of reach brought down to an effort.
pub(super) fn within_reach(sets: Vec<Asked>) -> Vec<Asked> {
    let down = |set: Asked| {
        let percent = percent_for_rpe(set.reps.max(1), OUT_OF_REACH_RPE);
        if is_out_of_reach(&set) {
            Asked { percent, base: Base::Effort(OUT_OF_REACH_RPE), ..set }
        } else {
            set
        }
    };
    sets.into_iter().map(down).collect()
}

/// The effort of a set without a load, as RPE, by how far through the sets it is, from 0 to 1.
fn effort(part: &Part, through: f64) -> f64 {
    let from_to = |low: f64, high: f64| low + (high - low) * through;
    match (part.strength.rpe, part.strength.rises) {
        // A single figure is what the last of them comes to.
        (Some([low, high]), true) => from_to(low.min(high - RISE), high),
        (Some([low, high]), false) => (low + high) / 2.0,
        (None, true) => from_to(RISES_TO - RISE, RISES_TO),
        (None, false) => USUAL_RPE,
    }
}

/// The sets of a written lift for who does another one in its place: as hard, by what they can do of the written one where that is known.
pub(super) fn in_place_of(sets: Vec<Asked>, written: Option<&Estimate>) -> Vec<Asked> {
    let hard = |set: Asked| {
        let Some(weight) = set.base.weight() else { return set };
        match written {
            Some(max) => {
                let percent = (weight.kg() / max.value.kg().max(0.001) * 100.0).min(100.0);
                Asked { percent, base: Base::Percent, ..set }
            }
            None => {
                let percent = percent_for_rpe(set.reps.max(1), USUAL_RPE);
                Asked { percent, base: Base::Effort(USUAL_RPE), ..set }
            }
        }
    };
    sets.into_iter().map(hard).collect()
}

/// A build with the sets that come after it, with a share of its heaviest.
fn with_back_offs(mut sets: Vec<Asked>, part: &Part) -> Vec<Asked> {
    let top = sets.last().map_or(0.0, |set| set.percent);
    let shares = &part.strength.percent;
    let share = |n: usize| shares.get(n).or(shares.last()).map_or(100.0, |[low, high]| (low + high) / 2.0);
    let after = part.strength.reps.iter().enumerate().map(|(n, reps)| Asked {
        reps: *reps,
        percent: top * share(n) / 100.0,
        base: Base::Share(ShareOf::Today),
        open: part.strength.open_last && n + 1 == part.strength.reps.len(),
    });
    sets.extend(after);
    sets
}

/// Every set of a lift in the order in which the tree has them.
fn walk(node: &Node, rung: Option<u32>, lift: &Movement, member: &Member, found: &mut Vec<(u32, bool)>) {
    if found.len() > MOST_SETS {
        return;
    }
    match node {
        Node::Work(work) if work.movement == lift.id => {
            let open = work.dose.amount == Amount::Max;
            let reps = work.dose.amount.own(member.takes_first_of_pair(), rung);
            found.push((reps.map_or(0, |reps| reps as u32), open));
        }
        Node::Rounds { times, of, .. } => {
            for _ in 0..times.unwrap_or(1).min(MOST_SETS as u32) {
                walk(of, rung, lift, member, found);
            }
        }
        Node::Scheme { reps, of, .. } => {
            reps.iter().for_each(|rung| walk(of, Some(*rung), lift, member, found));
        }
        Node::Every { times, alternate, of, .. } => {
            let bouts = if *alternate { of.len().max(1) as u32 } else { 1 };
            for _ in 0..times.map_or(1, |times| times.div_ceil(bouts)).min(MOST_SETS as u32) {
                of.iter().for_each(|child| walk(child, rung, lift, member, found));
            }
        }
        other => other.children().into_iter().for_each(|child| walk(child, rung, lift, member, found)),
    }
}

/// What is put on between two sets, as written for somebody.
pub(super) fn written_jump(part: &Part, member: &Member) -> Option<Kilograms> {
    let jump = part.strength.jump?.of(member.takes_first_of_pair());
    jump.filter(|jump| *jump > Kilograms::ZERO)
}

/// Written weights, one a set: this person's own of a pair, climbing through a written range. None where no weight is written.
fn weights(part: &Part, own: &[&Work], count: usize, member: &Member) -> Vec<Kilograms> {
    let each: Vec<Kilograms> = own
        .iter()
        .filter_map(|work| {
            let load = work.load?;
            let unit = load.unit.weight()?;
            let first = member.takes_first_of_pair();
            let own = if first { load.first } else { load.second.unwrap_or(load.first) };
            Some(Kilograms::from_unit(own, unit))
        })
        .collect();
    if let Some((low, high, unit)) = part.strength.load_range
        && let Some(unit) = unit.weight()
    {
        let steps = count.saturating_sub(1).max(1) as f64;
        let at = |n: usize| low + (high - low) * n as f64 / steps;
        return (0..count).map(|n| Kilograms::from_unit(at(n), unit)).collect();
    }
    match (&each[..], written_jump(part, member)) {
        ([], _) => Vec::new(),
        // "Start at 60 kg, 5 kg more each set".
        ([one], Some(jump)) => (0..count).map(|n| *one + jump.share(n as f64)).collect(),
        ([one], None) => vec![*one; count],
        (several, _) => (0..count).map(|n| several[n % several.len()]).collect(),
    }
}

/// The shares that are written of a lift: beside it, or for all of the part where none stands beside another one.
pub(super) fn written_shares<'a>(part: &'a Part, lift: &Movement) -> &'a [[f64; 2]] {
    let all = works(&part.tree);
    let with_own = || all.iter().filter(|work| !work.percent.is_empty());
    match with_own().find(|work| work.movement == lift.id) {
        Some(own) => &own.percent,
        None if with_own().next().is_some() => &[],
        None => &part.strength.percent,
    }
}

/// Written shares, one a set: climbing through a range, the last sets staying at the top. None where no share is written, nor where it is
/// written beside another lift. Sets that get heavier from a single share end at `hard`.
fn percents(part: &Part, lift: &Movement, count: usize, hard: f64) -> Vec<f64> {
    let strength = &part.strength;
    match written_shares(part, lift) {
        [] => Vec::new(),
        [[low, high]] => {
            let steps_up = (count.saturating_sub(1)) as f64 * STEP_PERCENT;
            let top = strength.top_sets.unwrap_or(1).max(1) as usize;
            let (low, high) = if strength.ends_at_share {
                let up = count.saturating_sub(top) as f64 * STEP_PERCENT;
                ((high - up).max(high * LEAST_OF_THE_END), *high)
            } else if strength.rises {
                (*low, high.max(hard.min(low + steps_up)))
            } else {
                (*low, *high)
            };
            let steps = count.saturating_sub(top).max(1) as f64;
            (0..count).map(|n| (low + (high - low) * (n as f64 / steps)).min(high)).collect()
        }
        each => (0..count)
            .map(|n| each.get(n).or(each.last()).map_or(0.0, |[low, high]| (low + high) / 2.0))
            .collect(),
    }
}

#[cfg(test)]
mod tests {
    use std::sync::LazyLock;

    use super::*;
    use crate::member::Max;
    use crate::movement::MovementId;
    use crate::read::read;

    fn dosing<'a>(part: &'a Part, lift: &'a Movement, member: &'a Member) -> Dosing<'a> {
        static GYM: LazyLock<Gym> = LazyLock::new(Gym::default);
        let gym = &*GYM;
        Dosing { part, built: None, lift, member, max: None, gym, catalogue: Catalogue::standard() }
    }

    fn sets(text: &str, lift: &str) -> Vec<Asked> {
        let catalogue = Catalogue::standard();
        let part = read(text, catalogue).session.parts.remove(0);
        dosing(&part, catalogue.find(lift).unwrap(), &Member::default()).asked()
    }

    fn reps(text: &str, lift: &str) -> Vec<u32> {
        sets(text, lift).iter().map(|set| set.reps).collect()
    }

    #[test]
    fn the_last_set_behind_a_build_is_open_where_the_text_says_so_and_no_other_is() {
        let open = |text: &str| {
            let sets = sets(text, "bench-press");
            let after = sets.iter().filter(|set| set.base == Base::Share(ShareOf::Today));
            after.map(|set| set.open).collect::<Vec<_>>()
        };
        assert_eq!(
            open("Bench press: build to a 3RM, then 3x5 @ 80% of it, last set AMRAP"),
            [false, false, true]
        );
        assert_eq!(open("Bench press: build to a 3RM, then 3x5 @ 80% of it"), [false; 3]);
    }

    #[test]
    fn a_bar_that_rises_by_a_jump_stops_short_for_whoever_is_new_or_has_only_a_guess() {
        let (catalogue, lift) = (Catalogue::standard(), "snatch");
        let text = "Every 1:30: 1 snatch, start at 40 kg, 5 kg more each set until you miss";
        let part = read(text, catalogue).session.parts.remove(0);
        let written = catalogue.find(lift).unwrap();
        let max = |guess| Estimate {
            guess,
            ..max_for(
                &Member {
                    maxes: [(MovementId::new(lift), Max::on_file(Kilograms::from_kg(80.0)))].into(),
                    ..Member::default()
                },
                &written.id,
                catalogue,
            )
            .unwrap()
        };
        let top = |guess, experience| {
            let (member, max) = (Member { experience, ..Member::default() }, max(guess));
            let dosing = Dosing { max: Some(&max), member: &member, ..dosing(&part, written, &member) };
            dosing.asked().last().unwrap().percent
        };
        assert_eq!(top(false, Experience::Advanced), 100.0);
        assert!(top(true, Experience::Advanced) < 100.0 && top(false, Experience::Beginner) < 100.0);
    }

    #[test]
    fn the_dose_is_the_texts_and_no_other() {
        assert_eq!(reps("Back squat: 20-rep set @ 60 %", "back-squat"), [20]);
        assert_eq!(reps("Deadlift 5-5-3-3-1-1", "deadlift"), [5, 5, 3, 3, 1, 1]);
        let pair = "Superset x 4\nBench press 8 @ 70 %\nBarbell row 10";
        assert_eq!(reps(pair, "bench-press"), [8; 4]);
        assert_eq!(reps(pair, "bent-over-row"), [10; 4]);
        assert!(sets("Bench press: max reps @ 70 %", "bench-press").iter().all(|set| set.open));
    }

    #[test]
    fn a_share_is_of_what_the_text_says() {
        let catalogue = Catalogue::standard();
        let maxes = [("back-squat", 150.0), ("deadlift", 200.0), ("romanian-deadlift", 140.0)];
        let maxes =
            maxes.map(|(lift, kg)| (MovementId::new(lift), Max::on_file(Kilograms::from_kg(kg)))).into();
        let member = Member { maxes, ..Member::default() };
        let percents = |text: &str, lift: &str| {
            let part = read(text, catalogue).session.parts.remove(0);
            let lift = catalogue.find(lift).unwrap();
            let max = max_for(&member, &lift.id, catalogue);
            let sets = Dosing { max: max.as_ref(), ..dosing(&part, lift, &member) }.asked();
            sets.iter().map(|set| (set.reps, (set.percent * 10.0).round() / 10.0)).collect::<Vec<_>>()
        };
        // Five take 87 % of what one does: 80 % of that are 69.6 %.
        assert_eq!(percents("Back squat 3x5 @ 80 % of your 5RM", "back-squat"), [(5, 69.6); 3]);
        // 60 % of 200 kg are 120, which is 85.7 % of 140.
        let of_another = "Romanian deadlift 2x6 @ 60 % of your deadlift";
        assert_eq!(percents(of_another, "romanian-deadlift"), [(6, 85.7); 2]);
        let back_off = "Back squat\ntop set of 5 @ 80 %, then 3 x 5 @ 90 % of that";
        assert_eq!(percents(back_off, "back-squat"), [(5, 80.0), (5, 72.0), (5, 72.0), (5, 72.0)]);
    }

    #[test]
    fn what_comes_after_a_build_is_of_its_heaviest() {
        let text = "Power clean: build to a heavy double in 12 min, then 3x2 @ 90 % of that";
        let all = sets(text, "power-clean");
        let (build, after) = all.split_at(all.len() - 3);
        let top = build.last().unwrap().percent;
        assert!(after.iter().all(|set| set.reps == 2 && (set.percent - top * 0.9).abs() < 1e-9), "{all:?}");
    }

    #[test]
    fn one_s_own_weight_is_a_base() {
        let catalogue = Catalogue::standard();
        let part = read("Romanian deadlift 3x8 @ 50 % of bodyweight", catalogue).session.parts.remove(0);
        let member = Member { bodyweight: Some(Kilograms::from_kg(80.0)), ..Member::default() };
        let lift = catalogue.find("romanian-deadlift").unwrap();
        let base = dosing(&part, lift, &member).asked()[0].base;
        assert_eq!(base, Base::Share(ShareOf::Bodyweight(Counted::share(Kilograms::from_kg(80.0), 50.0))));
    }

    #[test]
    fn heavier_each_set_is_heavier_each_set() {
        let rising = sets("Back squat 5x3, heavier each set", "back-squat");
        assert!(rising.windows(2).all(|pair| pair[0].percent < pair[1].percent), "{rising:?}");
        // Three with one in reserve are what four allow.
        assert_eq!((rising.len(), rising[4].percent), (5, 90.0));
    }

    #[test]
    fn a_last_set_with_a_plus_is_open() {
        let open = |text: &str| sets(text, "strict-press").iter().map(|set| set.open).collect::<Vec<_>>();
        assert_eq!(open("Strict press: 5 @ 65 %, 5 @ 75 %, 5+ @ 85 %"), [false, false, true]);
        assert_eq!(open("Strict press 3x5 @ 75 %"), [false; 3]);
    }

    #[test]
    fn kilograms_are_kilograms_and_each_has_their_own_of_a_pair() {
        let squat = sets("Back squat\n5 x 3 @ 100/70 kg", "back-squat");
        let weight = |member: &Member| {
            let catalogue = Catalogue::standard();
            let part = read("Back squat\n5 x 3 @ 100/70 kg", catalogue).session.parts.remove(0);
            dosing(&part, catalogue.find("back-squat").unwrap(), member).asked()[0].base
        };
        let woman = Member { sex: Some(crate::member::Sex::F), ..Member::default() };
        assert_eq!(squat.len(), 5);
        assert_eq!(weight(&woman), Base::Weight(Kilograms::from_kg(70.0)));
        let man = Member { sex: Some(crate::member::Sex::M), ..Member::default() };
        assert_eq!(weight(&man), Base::Weight(Kilograms::from_kg(100.0)));
    }

    #[test]
    fn a_range_climbs_and_the_last_sets_stay_at_its_top() {
        let percents = |text: &str| {
            let sets = sets(text, "back-squat");
            sets.iter().map(|set| (set.percent * 10.0).round() / 10.0).collect::<Vec<_>>()
        };
        assert_eq!(percents("Back squat 5x3 @ 70-80%"), [70.0, 72.5, 75.0, 77.5, 80.0]);
        assert_eq!(
            percents("Back squat 5x3 @ 70-80%, last two sets at the working weight"),
            [70.0, 73.3, 76.7, 80.0, 80.0]
        );
        assert_eq!(percents("Back squat 3x3 @ 75%"), [75.0; 3]);
        assert_eq!(percents("Back squat 5-5-5 @ 60-70-80%"), [60.0, 70.0, 80.0]);
    }
}
