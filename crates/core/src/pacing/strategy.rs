//! Strategies for sets, compared for the same person and piece.

use super::ability::{Ability, Athlete};
use super::model::Model;
use super::simulate::{How, Luck, Run, simulate_as};
use super::window::Window;
use crate::movement::Catalogue;
use crate::session::Node;

/// How sets are broken.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Strategy {
    /// Near-equal sets with something left in each: what targets are made from.
    #[default]
    Planned,
    /// As many as there are, then as many as are left, down to singles.
    Unbroken,
    /// Small sets that begin on the quarter minutes.
    OnTheClock,
    /// One at a time from the start.
    Singles,
}

/// Who goes on until nothing is left pauses from here on, in capacities spent, and longer.
const UNBROKEN_FROM: f64 = 0.95;
const UNBROKEN_LONGER: f64 = 3.2;
/// Small sets from the start pause earlier and shorter.
const SMALL_FROM: f64 = 0.2;
const SMALL_SHORTER: f64 = 0.72;
/// Seconds between singles.
const SINGLES_S: f64 = 2.5;

/// Days looked at for the range and the risk of blowing up, in standard deviations of form, about evenly likely.
const DAYS: [f64; 9] = [-1.6, -1.0, -0.6, -0.3, 0.0, 0.3, 0.6, 1.0, 1.6];

impl Strategy {
    /// All of them.
    pub const ALL: [Self; 4] = [Self::Planned, Self::Unbroken, Self::OnTheClock, Self::Singles];

    /// As said to a member.
    pub const fn words(self) -> &'static str {
        match self {
            Self::Planned => "near-equal sets, something left in each",
            Self::Unbroken => "unbroken as far as it goes, then what is left",
            Self::OnTheClock => "small sets, one every quarter minute",
            Self::Singles => "one at a time from the start",
        }
    }

    /// From which capacities spent on somebody pauses, and how much longer than planned. Coaching practice: going to the limit
    /// early costs more in the end than small sets, and less where the limit is hardly reached.
    pub(super) fn pauses(self, planned: f64) -> (f64, f64) {
        match self {
            Self::Planned | Self::Singles => (planned, 1.0),
            Self::Unbroken => (UNBROKEN_FROM.max(planned), UNBROKEN_LONGER),
            Self::OnTheClock => (SMALL_FROM.min(planned), SMALL_SHORTER),
        }
    }

    /// Seconds that are paused with every repetition, whatever is spent.
    pub(super) fn pause_s(self, ability: &Ability) -> f64 {
        if self == Self::Singles { SINGLES_S * (1.0 - ability.singles) } else { 0.0 }
    }
}

/// What a strategy comes to.
#[derive(Clone, Debug, PartialEq)]
pub struct Outcome {
    /// Which one.
    pub strategy: Strategy,
    /// The measure of a median day.
    pub middle: f64,
    /// Lower and upper end between a bad day and a good one.
    pub range: (f64, f64),
    /// Share of days on which it blows up: a break comes after which not one repetition is there yet.
    pub blow_up: f64,
}

/// The strategies side by side, best median first.
pub fn compare_strategies(
    tree: &Node,
    athlete: &Athlete<'_>,
    catalogue: &Catalogue,
    model: &Model,
    window: &Window,
) -> Vec<Outcome> {
    let outcome = |strategy| {
        let day = |c: &f64| -> Run {
            // A day with more in the arms is a day with quicker hands.
            let luck = Luck { pace: (-c * model.luck.pace).exp(), capacity: (c * model.luck.capacity).exp() };
            simulate_as(How { strategy, ..How::default() }, tree, athlete, catalogue, model, luck)
        };
        let runs: Vec<Run> = DAYS.iter().map(day).collect();
        let value = |n: usize| window.measure.of(&runs[n]);
        let blown = runs.iter().filter(|run| run.waits > 0).count();
        Outcome {
            strategy,
            middle: value(DAYS.len() / 2),
            range: (value(1).min(value(DAYS.len() - 2)), value(1).max(value(DAYS.len() - 2))),
            blow_up: blown as f64 / DAYS.len() as f64,
        }
    };
    let mut outcomes: Vec<Outcome> = Strategy::ALL.into_iter().map(outcome).collect();
    let sign = if window.measure.is_time() { 1.0 } else { -1.0 };
    outcomes.sort_by(|a, b| (a.middle * sign).total_cmp(&(b.middle * sign)));
    outcomes
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::member::{Experience, Member, Sex};
    use crate::movement::MovementId;
    use crate::pacing::intended_window;
    use crate::read::read;

    #[test]
    fn going_to_the_limit_early_costs_more_than_near_equal_sets() {
        let (catalogue, model) = (Catalogue::standard(), Model::standard());
        let part = read("For time\n60 pull-ups", catalogue).session.parts.remove(0);
        let member = Member {
            sex: Some(Sex::M),
            experience: Experience::Intermediate,
            best_reps: [(MovementId::new("pull-up"), 15)].into(),
            ..Member::default()
        };
        let window = intended_window(&part, catalogue, model);
        let outcomes = compare_strategies(&part.tree, &Athlete::new(&member), catalogue, model, &window);
        let of = |wanted| outcomes.iter().find(|outcome| outcome.strategy == wanted).unwrap();
        assert!(of(Strategy::Planned).middle <= of(Strategy::Unbroken).middle, "{outcomes:?}");
        assert!(of(Strategy::OnTheClock).middle < of(Strategy::Unbroken).middle, "{outcomes:?}");
        assert!(outcomes.is_sorted_by(|a, b| a.middle <= b.middle));
        for Outcome { strategy, middle, range: (low, high), .. } in &outcomes {
            assert!(low < middle && middle < high, "{strategy:?} shows no spread: {low} {middle} {high}");
        }
    }
}
