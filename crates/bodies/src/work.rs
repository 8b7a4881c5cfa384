//! How much work a piece is, for a body like most: seconds of each unit, summed, by nothing but what is written.

use lantern_session::movement::{Catalogue, LoadKind, Movement, Pattern, Unit};
use lantern_session::{Node, Total, per_round, totals};

/// What a piece is like, by most of its work.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Kind {
    /// Machines and runs.
    Engine,
    /// One's own weight.
    Body,
    /// A bar.
    Bar,
    /// Bells, balls and the like.
    Bells,
}

impl Kind {
    /// All of them.
    pub const ALL: [Self; 4] = [Self::Engine, Self::Body, Self::Bar, Self::Bells];

    fn of(movement: &Movement) -> Self {
        if movement.is_engine() {
            Self::Engine
        } else if movement.is_barbell() {
            Self::Bar
        } else if movement.load_kind == LoadKind::None {
            Self::Body
        } else {
            Self::Bells
        }
    }
}

/// The work of a piece.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Work {
    /// All that is fixed, in seconds of a body like most that goes on for ten minutes; one round where rounds have no number.
    pub all_s: f64,
    /// Of one round.
    pub round_s: f64,
    /// What most of it is.
    pub kind: Kind,
}

impl Work {
    /// Of a tree; none where nothing of it is counted.
    pub fn of(tree: &Node, catalogue: &Catalogue) -> Option<Self> {
        let (all, a_round) = (totals(tree), per_round(tree));
        let sum = |of: &[Total]| of.iter().map(|total| seconds_of(total, catalogue)).sum::<f64>();
        let by_kind = |kind: Kind| -> f64 {
            let is_of = |movement: &Movement| Kind::of(movement) == kind;
            let of_kind = a_round.iter().filter(|total| catalogue.get(&total.movement).is_some_and(is_of));
            of_kind.map(|total| seconds_of(total, catalogue)).sum()
        };
        let kind = Kind::ALL.into_iter().max_by(|a, b| by_kind(*a).total_cmp(&by_kind(*b)))?;
        let (all_s, round_s) = (sum(&all), sum(&a_round));
        let either = |first: f64, second: f64| if first > 0.0 { first } else { second };
        let work = Self { all_s: either(all_s, round_s), round_s: either(round_s, all_s), kind };
        (work.all_s > 0.0).then_some(work)
    }
}

/// Seconds of all of a movement in a piece.
fn seconds_of(total: &Total, catalogue: &Catalogue) -> f64 {
    let Some(movement) = catalogue.get(&total.movement) else { return 3.0 * total.amount };
    let each = match total.unit {
        Unit::Seconds => 1.0,
        Unit::Calories => 4.8,
        Unit::Metres if movement.pattern == Pattern::Carry => 0.8,
        Unit::Metres if movement.is_engine() => 0.31,
        Unit::Metres => 1.0,
        Unit::Reps => match movement.pattern {
            Pattern::Burpee => 5.2,
            Pattern::Jump if movement.load_kind == LoadKind::None => 1.0,
            Pattern::Jump => 3.2,
            Pattern::Core => 3.2,
            Pattern::Olympic if movement.is_barbell() => 7.0,
            Pattern::Olympic => 4.2,
            Pattern::PullVertical => 4.6,
            Pattern::Lunge => 2.8,
            _ if movement.is_barbell() => 5.0,
            Pattern::Squat if movement.load_kind == LoadKind::None => 2.2,
            _ => 3.2,
        },
    };
    each * total.amount
}
