//! A lift for one member: every set with its load, plates and reason.

use serde::Serialize;

use super::asked::{tempo_cut, work_plan};
use super::bar::{LoadedBar, load_bar};
use super::hold::{Hold, Release};
use super::maxes::{Estimate, max_for};
use super::percent::{percent_for_reps, percent_for_rpe, reps_at_percent};
use super::ramp::ramp;
use crate::gym::{Gym, sizes};
use crate::member::Member;
use crate::movement::{Catalogue, LoadKind, Movement};
use crate::session::{Format, Part};
use crate::units::{Kilograms, plain};
use crate::why::Why;

/// Sets of one lift for one member.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct LiftSheet {
    /// The member's name.
    pub name: String,
    /// The id of the lift that they do.
    pub lift: String,
    /// The id of the lift that was written, where they do another one to keep a limit.
    pub instead_of: Option<String>,
    /// Whether it is done with a bar that plates go on.
    #[serde(skip)]
    pub on_a_bar: bool,
    /// The max that loads are counted from; none means by feel.
    pub max: Option<Estimate>,
    /// Ramp and work sets in order.
    pub sets: Vec<SetLoad>,
    /// How to find the load when there is no max.
    pub by_feel: Option<String>,
    /// How far the loads are held back for this member's sake.
    pub held: Option<Hold>,
    /// What was written and why it was held, in words that others may read.
    pub held_why: Option<String>,
    /// The coach's word that they lift as written.
    pub released: Option<Release>,
}

impl LiftSheet {
    /// The id of the lift that was written.
    pub fn written(&self) -> &str {
        self.instead_of.as_deref().unwrap_or(&self.lift)
    }

    /// The sheet of what is done in place of `written`, to keep a limit.
    pub fn in_place_of(mut self, written: &Movement, own: &Movement) -> Self {
        self.instead_of = Some(written.id.to_string());
        let swap = format!(
            "{} was written: {} in its place, to keep a limit",
            written.name.to_lowercase(),
            own.name.to_lowercase()
        );
        self.held_why = Some(match self.held_why {
            Some(held) => format!("{swap}; {held}"),
            None => swap,
        });
        self
    }

    /// With a range to begin in for who has no max on file, from what somebody like them `usually` lifts once. Of two people like that one
    /// may lift half as much again as the other, so that the feel goes before the number.
    pub fn begun_at(mut self, usually: Kilograms, lift: &Movement, gym: &Gym) -> Self {
        let effort = self.held.as_ref().map_or(BEGIN_AT_RPE, |held| held.effort.min(BEGIN_AT_RPE));
        let hand = hand_weights(lift, gym);
        let nearest = |wanted: Kilograms| match (lift.is_barbell(), &hand[..]) {
            (true, _) => Some(load_bar(gym, wanted).total),
            (false, hand) => hand.iter().rev().find(|weight| **weight <= wanted).or(hand.first()).copied(),
        };
        let most = self.held.as_ref().and_then(|held| held.load);
        for set in &mut self.sets {
            let share = percent_for_rpe(set.reps.max(1), effort) / 100.0;
            let [low, high] = BEGIN_BETWEEN.map(|part| {
                let wanted = usually.share(share * part);
                nearest(most.map_or(wanted, |most| wanted.min(most)))
            });
            set.range = low.zip(high).filter(|(_, high)| most.is_none_or(|most| *high <= most));
        }
        let first = self.sets.first().and_then(|set| set.range);
        if let (Some((low, high)), Some(feel)) = (first, &mut self.by_feel) {
            let low_words = plain(low.in_unit(gym.unit));
            let begin = if low == high {
                low.show(gym.unit)
            } else {
                format!("{low_words} to {}", high.show(gym.unit))
            };
            *feel = format!("begin with {begin}, a guess; {feel}");
        }
        self
    }

    /// Nothing at all of a lift that somebody spares, where nothing in its place keeps every limit.
    pub fn left_out(mut self) -> Self {
        self.sets.clear();
        self.on_a_bar = false;
        self.by_feel =
            Some("leave it out, to keep a limit: agree with them on what to do instead".to_owned());
        self.held_why = self.by_feel.clone();
        self
    }
}

/// One set.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct SetLoad {
    /// Place in the order, from 1.
    pub set: u32,
    /// Repetitions; 0 for as many as possible.
    pub reps: u32,
    /// The most repetitions, where a range was written.
    pub reps_high: Option<u32>,
    /// Share of the 1RM in percent.
    pub percent: Option<f64>,
    /// The load to put on, none by feel.
    pub load: Option<LoadedBar>,
    /// Where to begin by feel, and where most stop: for who has no max on file.
    pub range: Option<(Kilograms, Kilograms)>,
    /// Climb or work.
    pub kind: SetKind,
    /// Why this load.
    pub why: Why,
}

/// Climbing to the work, or the work.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "lowercase")]
pub enum SetKind {
    /// Before the work.
    Ramp,
    /// The prescribed work.
    Work,
}

/// Effort at which somebody without a max begins, as RPE.
const BEGIN_AT_RPE: f64 = 7.0;
/// Where they begin and where most stop, as shares of what people like them usually do: lifters of one weight and sex differ by about a
/// third. Coaching judgement, to the careful side.
const BEGIN_BETWEEN: [f64; 2] = [0.65, 1.0];
/// Below this share of what was meant, a load is light enough for more repetitions.
const LIGHT_SHARE: f64 = 0.9;
/// Most repetitions that a light load is made up for with.
const MOST_LIGHT_REPS: f64 = 25.0;

/// The sheet of a lift. `lift` is one of the part's movements.
pub fn lift_sheet(
    part: &Part,
    lift: &Movement,
    member: &Member,
    gym: &Gym,
    catalogue: &Catalogue,
) -> LiftSheet {
    lift_sheet_released(part, lift, member, None, gym, catalogue)
}

/// As [`lift_sheet`], with a coach's word that the member lifts as written although their loads would be held.
pub fn lift_sheet_released(
    part: &Part,
    lift: &Movement,
    member: &Member,
    released: Option<&Release>,
    gym: &Gym,
    catalogue: &Catalogue,
) -> LiftSheet {
    let hold = Hold::of(member, lift);
    let released = released.filter(|_| hold.is_some()).cloned();
    let hold = hold.filter(|_| released.is_none());
    let max = max_for(member, &lift.id, catalogue).filter(|max| gym.infer_maxes || !max.guess);
    let known = max.as_ref().is_some_and(|max| !max.guess);
    let asked = work_plan(part, member, known);
    let plan = hold.as_ref().map_or(asked.clone(), |hold| hold.held(part, asked.clone()));
    let lightest =
        |load: Kilograms| hold.as_ref().and_then(|hold| hold.load).map_or(load, |most| load.min(most));
    let mut sheet = LiftSheet {
        name: member.name.clone(),
        lift: lift.id.to_string(),
        instead_of: None,
        on_a_bar: lift.is_barbell(),
        max: max.clone(),
        sets: Vec::new(),
        by_feel: None,
        held_why: hold
            .as_ref()
            .filter(|hold| plan != asked || hold.load.is_some())
            .map(|hold| hold.told(part, &asked)),
        held: hold.clone(),
        released,
    };
    let hand = hand_weights(lift, gym);
    let Some(max) = max.filter(|_| lift.is_barbell() || !hand.is_empty()) else {
        let rpe = part.strength.rpe.map_or(7.0, |[low, _]| low);
        let rpe = hold.as_ref().map_or(rpe, |hold| rpe.min(hold.effort));
        let why = if lift.takes_weight() { "no max on file" } else { "nothing to load" };
        sheet.by_feel = Some(format!(
            "{why}: by feel, RPE {}, climb in small steps and stop when form changes",
            plain(rpe)
        ));
        sheet.sets = plan
            .iter()
            .zip(1..)
            .map(|((reps, _), set)| SetLoad {
                set,
                reps: *reps,
                reps_high: part.strength.reps_high,
                percent: None,
                load: None,
                range: None,
                kind: SetKind::Work,
                why: Why::new("by feel").because(why).guessed(),
            })
            .collect();
        return sheet;
    };
    let tempo_cut = part.strength.tempo.as_ref().map_or(0.0, tempo_cut);
    let base = max.value.share(gym.training_max);
    let wanted = |percent: f64| lightest(base.share(percent / 100.0 * (1.0 - tempo_cut / 100.0)));
    if !lift.is_barbell() {
        let most = hold.as_ref().and_then(|hold| hold.load);
        let hand: Vec<Kilograms> =
            hand.into_iter().filter(|weight| most.is_none_or(|most| *weight <= most)).collect();
        sheet.sets = plan.iter().zip(1..).map(|(set, n)| hand_set(n, *set, &max, base, &hand, gym)).collect();
        for set in sheet.sets.iter_mut() {
            set.reps_high = part.strength.reps_high.filter(|high| *high > set.reps);
        }
        return sheet;
    }
    let bar =
        load_bar(gym, Kilograms::ZERO.max(gym.weight(gym.bars.first().map_or(20.0, |bar| bar.weight)))).bar;
    let work: Vec<SetLoad> = plan
        .iter()
        .map(|(reps, percent)| {
            let exact = wanted(*percent);
            let loaded = load_bar(gym, exact);
            let mut why = Why::new(loaded.total.show(gym.unit)).because(max.basis.clone());
            if gym.training_max < 1.0 {
                why = why.because(format!("training max: {} % of it", plain(gym.training_max * 100.0)));
            }
            why = why.because(format!(
                "{} % of that is {}",
                plain(*percent),
                exact.share(1.0 / (1.0 - tempo_cut / 100.0)).show(gym.unit)
            ));
            if tempo_cut > 0.0 {
                why =
                    why.because(format!("tempo takes off {} %: {}", plain(tempo_cut), exact.show(gym.unit)));
            }
            why =
                why.because(format!("rounded down to what the plates make: {}", loaded.total.show(gym.unit)));
            if let Some(held) = &sheet.held_why {
                why = why.because(held.clone());
            }
            if part.format == Some(Format::BuildTo) && *percent > percent_for_reps(f64::from((*reps).max(1)))
            {
                why = why.because("past the old figure on purpose: only if the set before moved well");
            }
            why.guess = max.guess;
            SetLoad {
                set: 0,
                reps: *reps,
                reps_high: part.strength.reps_high,
                percent: Some(*percent),
                load: Some(loaded),
                range: None,
                kind: SetKind::Work,
                why,
            }
        })
        .collect();
    // A build is its own climb, unless it is held.
    if (part.format != Some(Format::BuildTo) || hold.is_some())
        && let Some((first, percent)) = work.first().and_then(|set| Some((set.load.clone()?, set.percent?)))
    {
        for (load, reps) in ramp(first.total, percent, bar) {
            let loaded = load_bar(gym, load);
            let share = load.kg() / base.kg().max(0.001) * 100.0;
            let why = Why::new(loaded.total.show(gym.unit))
                .because(format!("climb to the first working weight of {}", first.total.show(gym.unit)));
            sheet.sets.push(SetLoad {
                set: 0,
                reps,
                reps_high: None,
                percent: Some(share.round()),
                load: Some(loaded),
                range: None,
                kind: SetKind::Ramp,
                why,
            });
        }
    }
    sheet.sets.extend(work);
    for (set, n) in sheet.sets.iter_mut().zip(1..) {
        set.set = n;
    }
    sheet
}

/// Dumbbells or kettlebells that a lift can be done with, lightest first; none for other lifts.
fn hand_weights(lift: &Movement, gym: &Gym) -> Vec<Kilograms> {
    let mut weights: Vec<Kilograms> = match lift.load_kind {
        LoadKind::DumbbellEach | LoadKind::DumbbellSingle => {
            sizes(&gym.dumbbells).map(|weight| gym.weight(weight)).collect()
        }
        LoadKind::Kettlebell => sizes(&gym.kettlebells).map(Kilograms::from_kg).collect(),
        _ => Vec::new(),
    };
    weights.sort();
    weights
}

/// A set with what stands in the rack: the nearest that is not over the share. Where even the heaviest is well
/// under it, repetitions are added until as many are left in reserve as were meant.
fn hand_set(
    set: u32,
    (reps, percent): (u32, f64),
    max: &Estimate,
    base: Kilograms,
    weights: &[Kilograms],
    gym: &Gym,
) -> SetLoad {
    let wanted = base.share(percent / 100.0);
    let mut why = Why::new("").because(max.basis.clone()).because(format!(
        "{} % of that is {}",
        plain(percent),
        wanted.show(gym.unit)
    ));
    why.guess = max.guess;
    let fits = weights.iter().rev().find(|weight| **weight <= wanted).copied();
    let Some(total) = fits else {
        why.figure = "by feel".to_owned();
        let why = why.because("the lightest in the rack is heavier: by feel, or with less");
        return SetLoad {
            set,
            reps,
            reps_high: None,
            percent: None,
            load: None,
            range: None,
            kind: SetKind::Work,
            why,
        };
    };
    why.figure = total.show(gym.unit);
    why = why.because(format!("the nearest in the rack that is not over it: {}", total.show(gym.unit)));
    let share = total.kg() / base.kg().max(0.001) * 100.0;
    let mut reps = reps;
    if reps > 0 && share < percent * LIGHT_SHARE {
        let reserve = reps_at_percent(percent) - f64::from(reps);
        let more = (reps_at_percent(share) - reserve).floor().clamp(f64::from(reps), MOST_LIGHT_REPS) as u32;
        if more > reps {
            why = why
                .because(format!("lighter than meant, so {more} instead of {reps}: as many left in reserve"));
            reps = more;
        }
    }
    let load = LoadedBar { total, bar: total, plates_per_side: Vec::new() };
    SetLoad {
        set,
        reps,
        reps_high: None,
        percent: Some(share.round()),
        load: Some(load),
        range: None,
        kind: SetKind::Work,
        why,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::member::Max;
    use crate::movement::MovementId;
    use crate::read::read;

    fn sheet(text: &str, lift: &str, kg: f64) -> LiftSheet {
        let catalogue = Catalogue::standard();
        let reading = read(text, catalogue);
        let max = Max::on_file(Kilograms::from_kg(kg));
        let maxes = [(MovementId::new(lift), max)].into();
        let member =
            Member { maxes, experience: crate::member::Experience::Intermediate, ..Member::default() };
        lift_sheet(
            &reading.session.parts[0],
            catalogue.find(lift).unwrap(),
            &member,
            &Gym::default(),
            catalogue,
        )
    }

    fn work_loads(sheet: &LiftSheet) -> Vec<f64> {
        let work = sheet.sets.iter().filter(|set| set.kind == SetKind::Work);
        work.map(|set| set.load.as_ref().unwrap().total.kg()).collect()
    }

    #[test]
    fn a_percentage_becomes_plates_and_says_why() {
        let sheet = sheet("Back squat 5x5 @ 75%", "back-squat", 123.0);
        // 75 % of 123 kg is 92.25 kg; the plates make 90 kg below it.
        assert_eq!(work_loads(&sheet), [90.0; 5]);
        let why = &sheet.sets.last().unwrap().why;
        insta::assert_snapshot!(why.steps.join("\n"), @r"
        back squat 1RM 123 kg on file, date not known
        75 % of that is 92.25 kg
        rounded down to what the plates make: 90 kg
        ");
    }

    #[test]
    fn climbing_sets_end_at_the_top_of_the_range_and_never_above() {
        let sheet =
            sheet("Front squat 4x4 @ 77-82%, last two sets at the working weight", "front-squat", 100.0);
        assert_eq!(work_loads(&sheet), [75.0, 77.5, 80.0, 80.0]);
    }

    #[test]
    fn a_lift_without_any_max_goes_by_feel() {
        let sheet = sheet("Back squat 3x5 @ 70%", "bench-press", 80.0);
        // The bench press says nothing of the squat.
        assert_eq!(sheet.lift, "bench-press");
        let catalogue = Catalogue::standard();
        let reading = read("Back squat 3x5 @ 70%", catalogue);
        let squat = catalogue.find("back-squat").unwrap();
        let sheet =
            lift_sheet(&reading.session.parts[0], squat, &Member::default(), &Gym::default(), catalogue);
        assert!(sheet.max.is_none() && sheet.by_feel.unwrap().contains("by feel, RPE 7"));
        assert!(sheet.sets.iter().all(|set| set.load.is_none()));
    }

    #[test]
    fn dumbbells_are_the_nearest_pair_and_light_ones_are_made_up_for_with_repetitions() {
        let catalogue = Catalogue::standard();
        let part = read("Dumbbell bench press 4x8 @ RPE 8", catalogue).session.parts.remove(0);
        let lift = catalogue.find("dumbbell-bench-press").unwrap();
        let member = |kg: f64| Member {
            maxes: [(MovementId::new("bench-press"), Max::on_file(Kilograms::from_kg(kg)))].into(),
            experience: crate::member::Experience::Intermediate,
            ..Member::default()
        };
        let gym = Gym {
            dumbbells: [10.0, 15.0, 20.0].map(|size| crate::gym::Shelf { size, count: 2 }).to_vec(),
            ..Gym::default()
        };
        let sheet = lift_sheet(&part, lift, &member(80.0), &gym, catalogue);
        assert!(sheet.sets.iter().all(|set| [15.0, 20.0].contains(&set.load.as_ref().unwrap().total.kg())));
        let strong = lift_sheet(&part, lift, &member(140.0), &gym, catalogue);
        let set = &strong.sets[0];
        assert!(set.load.as_ref().unwrap().total.kg() == 20.0 && set.reps > 8, "{set:?}");
        assert!(set.why.steps.last().unwrap().contains("as many left in reserve"));
        let light = lift_sheet(&part, lift, &member(15.0), &gym, catalogue);
        assert!(light.sets[0].load.is_none(), "never over the share");
    }

    #[test]
    fn a_gym_that_does_not_infer_sends_a_missing_lift_by_feel() {
        let catalogue = Catalogue::standard();
        let part = read("Front squat 5x3 @ 80%", catalogue).session.parts.remove(0);
        let lift = catalogue.find("front-squat").unwrap();
        let maxes = [(MovementId::new("back-squat"), Max::on_file(Kilograms::from_kg(100.0)))].into();
        let member = Member { maxes, ..Member::default() };
        let load = |infer_maxes| {
            let gym = Gym { infer_maxes, ..Gym::default() };
            lift_sheet(&part, lift, &member, &gym, catalogue).by_feel
        };
        assert!(load(true).is_none() && load(false).unwrap().contains("no max on file"));
    }

    #[test]
    fn a_build_fits_its_minutes_and_ends_a_little_past_the_old_figure() {
        let sheet = sheet("Build to a heavy 3 deadlift in 12 minutes", "deadlift", 200.0);
        let loads = work_loads(&sheet);
        assert_eq!(loads.len(), 6);
        assert!(loads.windows(2).all(|pair| pair[0] < pair[1]), "{loads:?}");
        // Three with 92.5 % would be 185 kg; 3 % more is 190.55 kg.
        assert_eq!(loads.last(), Some(&190.0));
        assert!(sheet.sets.last().unwrap().why.steps.last().unwrap().contains("past the old figure"));
    }

    #[test]
    fn somebody_newer_stops_short_in_a_build() {
        let catalogue = Catalogue::standard();
        let part = read("Build to a heavy 3 deadlift in 12 minutes", catalogue).session.parts.remove(0);
        let maxes = [(MovementId::new("deadlift"), Max::on_file(Kilograms::from_kg(100.0)))].into();
        let newer = Member { maxes, experience: crate::member::Experience::Beginner, ..Member::default() };
        let lift = catalogue.find("deadlift").unwrap();
        let sheet = lift_sheet(&part, lift, &newer, &Gym::default(), catalogue);
        assert!(work_loads(&sheet).iter().all(|load| *load <= 90.0), "{:?}", work_loads(&sheet));
    }
}
