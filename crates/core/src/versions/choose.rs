//! Choosing a member's version: on stimulus, with the least departure from the text.

use serde::Serialize;

use super::ladder::Ladders;
use super::rewrite::{Edit, cut_reps, lighten, personal, swap};
use super::rules::{Against, against, biggest_sets};
use crate::gym::Gym;
use crate::member::{Experience, Member};
use crate::movement::{Catalogue, MovementId};
use crate::pacing::{Athlete, Model, Prediction, Run, Window, predict};
use crate::session::{Node, Part};
use crate::units::Kilograms;

/// The six versions that a coach can explain to a class.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize)]
#[expect(missing_docs, reason = "the names say it; `label` is what coaches see")]
pub enum VersionName {
    AsWritten,
    Lighter,
    Simpler,
    FirstLight,
    AroundIt,
    AtHome,
}

impl VersionName {
    /// As coaches see it.
    pub const fn label(self) -> &'static str {
        match self {
            Self::AsWritten => "As written",
            Self::Lighter => "Lighter",
            Self::Simpler => "Simpler",
            Self::FirstLight => "First light",
            Self::AroundIt => "Around it",
            Self::AtHome => "At home",
        }
    }
}

/// A member's version of a piece, with what to expect of it.
#[derive(Clone, Debug)]
pub struct Choice {
    /// Which of the six it is.
    pub version: VersionName,
    /// What was changed and why.
    pub edits: Vec<Edit>,
    /// The member's own tree.
    pub tree: Node,
    /// What to expect.
    pub predicted: Prediction,
    /// The median walk, for splits and sets.
    pub run: Run,
    /// Whether it is on stimulus: inside the window likely enough, and no rule against it.
    pub on_stimulus: bool,
    /// One sentence.
    pub reason: String,
}

/// Samples while searching; enough to tell 0.4 from 0.8.
const SEARCH_SAMPLES: u32 = 16;
/// Shares of the written load that are tried, in this order.
const LOAD_STEPS: [f64; 5] = [0.9, 0.8, 0.7, 0.6, 0.5];
/// Shares of the written repetitions that are tried.
const REP_STEPS: [f64; 6] = [0.9, 0.8, 0.7, 0.6, 0.5, 0.4];

/// What a search needs to know.
pub struct World<'a> {
    /// Movements.
    pub catalogue: &'a Catalogue,
    /// Swaps.
    pub ladders: &'a Ladders,
    /// Pacing parameters.
    pub model: &'a Model,
    /// Equipment.
    pub gym: &'a Gym,
    /// Days drawn for the final prediction.
    pub samples: u32,
    /// Seed of the days.
    pub seed: u64,
}

/// The member's piece as written and the version chosen for them, in that order.
pub fn choose(part: &Part, member: &Member, window: &Window, world: &World<'_>) -> (Choice, Choice) {
    let athlete = Athlete::new(member);
    let written = personal(&part.tree, member.takes_first_of_pair());
    let search = Search { athlete: &athlete, window, world };
    let as_written = search.assess(VersionName::AsWritten, written.clone(), Vec::new(), world.samples);
    if as_written.on_stimulus {
        return (as_written.clone(), as_written);
    }
    let mut best = as_written.clone();
    let fine_but_early = search.broken(&written).is_empty() && search.is_early(&as_written.predicted);
    if fine_but_early {
        // Ahead of the window is no reason to take anything away; the coach may offer more.
        return (as_written.clone(), as_written);
    }
    for (version, tree, edits) in search.candidates(&written, member) {
        let quick = search.assess(version, tree, edits, SEARCH_SAMPLES);
        let better = (quick.on_stimulus, quick.predicted.chance) > (best.on_stimulus, best.predicted.chance);
        let cleaner = !search.broken(&best.tree).is_empty() && search.broken(&quick.tree).is_empty();
        if better || cleaner {
            best = quick;
        }
        if best.on_stimulus {
            let sure = search.assess(best.version, best.tree.clone(), best.edits.clone(), world.samples);
            if sure.on_stimulus {
                return (as_written, sure);
            }
            best = sure;
        }
    }
    let chosen = search.assess(best.version, best.tree, best.edits, world.samples);
    (as_written, chosen)
}

struct Search<'a> {
    athlete: &'a Athlete<'a>,
    window: &'a Window,
    world: &'a World<'a>,
}

impl Search<'_> {
    /// Versions to try, least departure first.
    fn candidates(&self, written: &Node, member: &Member) -> Vec<(VersionName, Node, Vec<Edit>)> {
        let World { catalogue, gym, .. } = *self.world;
        let (base, swaps, around) = self.swap_what_cannot_be(written);
        let name = |lighter: bool| match (swaps.is_empty(), around, member.experience) {
            (false, true, _) => VersionName::AroundIt,
            (_, _, Experience::New) => VersionName::FirstLight,
            (false, _, _) => VersionName::Simpler,
            (true, _, _) if lighter => VersionName::Lighter,
            (true, _, _) => VersionName::AsWritten,
        };
        let mut out = Vec::new();
        if !swaps.is_empty() {
            out.push((name(false), base.clone(), swaps.clone()));
        }
        let late = self.is_late(&base);
        let why_load =
            if late { "so that the sets hold and the time is kept" } else { "so that the sets hold" };
        for share in LOAD_STEPS {
            let (tree, edits) = lighten(&base, share, gym, catalogue, why_load);
            if !edits.is_empty() {
                out.push((name(true), tree, [swaps.clone(), edits].concat()));
            }
        }
        // Repetitions shrink at the written load, and at the lightest of the loads tried.
        for load_share in [1.0, 0.85, 0.7, 0.5] {
            let (lighter, edits) = lighten(&base, load_share, gym, catalogue, why_load);
            if load_share < 1.0 && edits.is_empty() {
                continue;
            }
            for share in REP_STEPS {
                let (tree, cut) = cut_reps(&lighter, share, "so that it ends in time");
                out.push((name(true), tree, [swaps.clone(), edits.clone(), cut].concat()));
            }
        }
        out
    }

    /// Movements that the member spares or cannot do yet, swapped down their ladders.
    fn swap_what_cannot_be(&self, tree: &Node) -> (Node, Vec<Edit>, bool) {
        let World { catalogue, gym, model, .. } = *self.world;
        let mut tree = tree.clone();
        let mut edits = Vec::new();
        let mut around = false;
        // Each swap can bring a movement that needs another; ladders are short.
        for _ in 0..6 {
            let found = biggest_sets(&tree).into_iter().find_map(|(work, set)| {
                let cause = against(work, set, self.athlete, catalogue, model)?;
                let rung = self.rung(&work.movement, &cause, set)?;
                let why = match &cause {
                    Against::Limit { text, .. } => format!("spares the member's limit ({text})"),
                    Against::Skill { capacity } if *capacity < 1.0 => "not there yet".to_owned(),
                    Against::Skill { capacity } => {
                        format!("about {capacity:.0} unbroken against sets of {set:.0}")
                    }
                    Against::Load { .. } => return None,
                };
                let limit = matches!(cause, Against::Limit { .. });
                Some((rung, work.load.and_then(|load| load.weight()), why, limit))
            });
            let Some((rung, load, why, limit)) = found else { break };
            let load = self.load_for(rung, load, catalogue);
            let (next, made) = swap(&tree, rung, load, gym, catalogue, &why);
            if made.is_empty() {
                break;
            }
            tree = next;
            edits.extend(made);
            around |= limit;
        }
        (tree, edits, around)
    }

    /// The first rung that the member can stand on.
    fn rung(&self, id: &MovementId, cause: &Against, set: f64) -> Option<&super::ladder::Rung> {
        let World { catalogue, ladders, model, .. } = *self.world;
        let stands = |rung: &&super::ladder::Rung| {
            rung.to.iter().all(|(to, factor)| {
                let dose = crate::session::Dose::reps((set * factor).round().max(1.0) as u32);
                let work = crate::session::Work::new(to.clone(), dose);
                let blocked = against(&work, set * factor, self.athlete, catalogue, model);
                catalogue.get(to).is_some()
                    && !matches!(blocked, Some(Against::Limit { .. } | Against::Skill { .. }))
            })
        };
        match cause {
            Against::Limit { reason, .. } => {
                ladders.of(id, reason).find(stands).or_else(|| ladders.of(id, reason).next())
            }
            Against::Skill { .. } => ladders.easier(id).find(stands).or_else(|| ladders.easier(id).last()),
            Against::Load { .. } => None,
        }
    }

    /// A load for a swapped-in movement: the usual share of what the member can lift of it.
    fn load_for(
        &self,
        rung: &super::ladder::Rung,
        old: Option<Kilograms>,
        catalogue: &Catalogue,
    ) -> Option<Kilograms> {
        let (to, _) = rung.to.first()?;
        let movement = catalogue.get(to)?;
        if !movement.takes_weight() {
            return None;
        }
        let own =
            crate::strength::max_for(self.athlete.member, to, catalogue).map(|max| max.value.share(0.45));
        let heavier = if self.athlete.member.takes_first_of_pair() { 12.5 } else { 7.5 };
        own.or(old.map(|kg| kg.share(0.4))).or(Some(Kilograms::from_kg(heavier)))
    }

    fn is_late(&self, tree: &Node) -> bool {
        let World { catalogue, model, .. } = *self.world;
        let (prediction, _) = predict(tree, self.athlete, catalogue, model, self.window, 0, 0);
        let value = prediction.spread.p50;
        if self.window.measure.is_time() {
            self.window.high.is_some_and(|high| value > high)
        } else {
            self.window.low.is_some_and(|low| value < low)
        }
    }

    /// Whether the days outside the window lie mostly on its early side.
    fn is_early(&self, predicted: &Prediction) -> bool {
        let (low, high) = (self.window.low, self.window.high);
        let spread = predicted.spread;
        let below = low.map_or(0.0, |low| (low - spread.p10).max(0.0) + (low - spread.p50).max(0.0));
        let above = high.map_or(0.0, |high| (spread.p90 - high).max(0.0) + (spread.p50 - high).max(0.0));
        if self.window.measure.is_time() { below > above } else { above > below }
    }

    fn broken(&self, tree: &Node) -> Vec<Against> {
        let World { catalogue, model, .. } = *self.world;
        biggest_sets(tree)
            .into_iter()
            .filter_map(|(work, set)| against(work, set, self.athlete, catalogue, model))
            .collect()
    }

    fn assess(&self, version: VersionName, tree: Node, edits: Vec<Edit>, samples: u32) -> Choice {
        let World { catalogue, model, seed, .. } = *self.world;
        let (predicted, run) = predict(&tree, self.athlete, catalogue, model, self.window, samples, seed);
        let broken = self.broken(&tree);
        let likely = predicted.chance >= model.intent.chance;
        let reason = self.reason(&predicted, &broken, &edits);
        Choice { version, edits, tree, predicted, run, on_stimulus: likely && broken.is_empty(), reason }
    }

    fn reason(&self, predicted: &Prediction, broken: &[Against], edits: &[Edit]) -> String {
        let measure = predicted.measure;
        let said = measure.show(predicted.spread.p50);
        let window = self.window.show();
        let likely = predicted.chance >= self.world.model.intent.chance;
        match broken.first() {
            Some(Against::Limit { text, .. }) => format!("Goes against a limit: {text}."),
            Some(Against::Skill { capacity }) if *capacity < 1.0 => {
                "Asks for a movement that is not there yet.".to_owned()
            }
            Some(Against::Skill { capacity }) => {
                format!("About {capacity:.0} unbroken is too few for these sets.")
            }
            Some(Against::Load { capacity, set }) => {
                format!("Too heavy: about {capacity:.0} unbroken against sets of {set:.0}.")
            }
            None if likely && edits.is_empty() => format!("About {said} as written, inside {window}."),
            None if likely => format!("About {said}, inside {window}, with the least change."),
            None if self.window.holds(predicted.spread.p50) => {
                format!("About {said}; {:.0} % of days end inside {window}.", predicted.chance * 100.0)
            }
            None => {
                let late = if measure.is_time() {
                    self.window.high.is_some_and(|high| predicted.spread.p50 > high)
                } else {
                    self.window.low.is_some_and(|low| predicted.spread.p50 < low)
                };
                let side = if late { "behind" } else { "ahead of" };
                format!("About {said}, {side} {window}.")
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::member::{Limit, Max, Sex};
    use crate::pacing::intended_window;
    use crate::read::read;

    fn strong() -> Member {
        let maxes = [("front-squat", 130.0), ("deadlift", 190.0), ("clean", 115.0), ("back-squat", 150.0)];
        Member {
            name: "Strong".to_owned(),
            sex: Some(Sex::M),
            experience: Experience::Advanced,
            bodyweight: Some(Kilograms::from_kg(84.0)),
            maxes: maxes
                .map(|(lift, kg)| {
                    (
                        MovementId::new(lift),
                        Max { weeks_old: Some(1), ..Max::on_file(Kilograms::from_kg(kg)) },
                    )
                })
                .into(),
            best_reps: [("pull-up", 30), ("toes-to-bar", 25), ("double-under", 120)]
                .map(|(id, reps)| (MovementId::new(id), reps))
                .into(),
            row_2k_s: Some(415),
            run_400_s: Some(70),
            ..Member::default()
        }
    }

    fn newer() -> Member {
        let squat = Max { weeks_old: Some(1), ..Max::on_file(Kilograms::from_kg(60.0)) };
        Member {
            name: "Newer".to_owned(),
            sex: Some(Sex::F),
            experience: Experience::Beginner,
            bodyweight: Some(Kilograms::from_kg(68.0)),
            maxes: [(MovementId::new("back-squat"), squat)].into(),
            best_reps: [(MovementId::new("pull-up"), 2)].into(),
            ..Member::default()
        }
    }

    fn chosen(text: &str, member: &Member) -> (Choice, Choice) {
        let catalogue = Catalogue::standard();
        let part = read(text, catalogue).session.parts.remove(0);
        let (model, gym) = (Model::standard(), Gym::default());
        let window = intended_window(&part, catalogue, model);
        let world = World { catalogue, ladders: Ladders::standard(), model, gym: &gym, samples: 60, seed: 1 };
        choose(&part, member, &window, &world)
    }

    fn movements(choice: &Choice) -> Vec<String> {
        crate::session::works(&choice.tree).iter().map(|work| work.movement.to_string()).collect()
    }

    const THRUSTERS: &str = "21-15-9 for time, cap 12\nthrusters 40/30 kg\npull-ups\ngoal 4-9 min";

    #[test]
    fn nothing_is_taken_away_from_who_is_ahead() {
        let (written, choice) =
            chosen("21-15-9 for time\nthrusters 40/30 kg\npull-ups\ngoal 8-12 min", &strong());
        assert!(!written.on_stimulus && choice.edits.is_empty());
        assert_eq!(choice.version, VersionName::AsWritten);
        assert!(choice.reason.contains("ahead of"), "{}", choice.reason);
    }

    #[test]
    fn a_missing_skill_goes_down_its_ladder_and_the_result_is_on_stimulus() {
        let (written, choice) = chosen(THRUSTERS, &newer());
        assert!(!written.on_stimulus);
        assert!(choice.on_stimulus, "{}", choice.reason);
        assert_eq!(choice.version, VersionName::Simpler);
        assert!(!movements(&choice).contains(&"pull-up".to_owned()));
        assert!(
            choice.edits.iter().any(|edit| edit.what.starts_with("pull-up") && edit.why.contains("unbroken"))
        );
    }

    #[test]
    fn a_limit_is_worked_around_with_nothing_that_loads_it() {
        let limits = vec![Limit::from_text("right shoulder: nothing heavy overhead").unwrap()];
        let (_, choice) = chosen(THRUSTERS, &Member { limits, ..strong() });
        assert_eq!(choice.version, VersionName::AroundIt);
        for id in movements(&choice) {
            let shoulder = Catalogue::standard().find(&id).unwrap().joint("shoulder");
            assert!(shoulder <= super::super::rules::JOINT_LIMIT, "{id} asks {shoulder} of the shoulder");
        }
    }

    #[test]
    fn a_bar_that_is_too_heavy_is_made_lighter_on_plates_that_exist() {
        let member = Member { experience: Experience::Intermediate, ..newer() };
        let (_, choice) = chosen("5 rounds for time\n12 front squats 60/45 kg\n200 m run\ncap 15", &member);
        let works = crate::session::works(&choice.tree);
        let load = works.iter().find_map(|work| work.load).unwrap();
        assert!(load.first < 45.0 && (load.first * 2.0) % 5.0 == 0.0, "{load}");
        assert!(matches!(choice.version, VersionName::Lighter), "{:?}", choice.version);
    }

    #[test]
    fn a_newcomer_without_any_data_gets_a_first_guess_and_it_says_so() {
        let newcomer = Member { name: "New".to_owned(), ..Member::default() };
        let (_, choice) = chosen(THRUSTERS, &newcomer);
        assert_eq!(choice.version, VersionName::FirstLight);
        assert!(choice.predicted.guess && choice.predicted.spread.p50 < 720.0, "{:?}", choice.predicted);
    }

    #[test]
    fn the_same_seed_gives_the_same_choice() {
        let (_, first) = chosen(THRUSTERS, &newer());
        let (_, second) = chosen(THRUSTERS, &newer());
        assert_eq!((first.edits, first.predicted), (second.edits, second.predicted));
    }
}
