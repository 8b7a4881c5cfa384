//! What a part may come to and still be believed, by family of movements; `data/plausible.csv`.

use std::collections::HashMap;
use std::sync::LazyLock;

use lantern_session::movement::{Catalogue, MovementId, Pattern, Unit};
use lantern_session::{Amount, Node, Work, totals, works};
use serde::Deserialize;

/// A row of the table.
#[derive(Clone, Copy, Debug, Deserialize)]
struct Family {
    family: Pattern,
    /// Seconds for a repetition.
    rep_s: f64,
    /// Seconds for a calorie, where it is counted in them.
    calorie_s: Option<f64>,
    /// Seconds for a metre, where it is counted in them.
    metre_s: Option<f64>,
    /// Most repetitions or calories of one movement in a part.
    most_reps: f64,
    /// Most kilograms on one implement.
    most_kg: f64,
}

static FAMILIES: LazyLock<HashMap<Pattern, Family>> = LazyLock::new(|| {
    let text = include_str!("../../../data/plausible.csv");
    let mut rows = csv::ReaderBuilder::new().comment(Some(b'#')).from_reader(text.as_bytes());
    let rows = rows.deserialize().collect::<Result<Vec<Family>, _>>();
    rows.expect("data/plausible.csv is read by a test").into_iter().map(|row| (row.family, row)).collect()
});

fn family(work: &Work, catalogue: &Catalogue) -> Option<&'static Family> {
    FAMILIES.get(&catalogue.get(&work.movement)?.pattern)
}

/// Seconds of all work of a tree whose amount is known, for nobody in particular and without a pause.
pub fn seconds(tree: &Node, catalogue: &Catalogue) -> f64 {
    let total = |total: &lantern_session::Total| {
        let family = FAMILIES.get(&catalogue.get(&total.movement)?.pattern)?;
        let each = match total.unit {
            Unit::Reps => Some(family.rep_s),
            Unit::Calories => family.calorie_s,
            Unit::Metres => family.metre_s,
            Unit::Seconds => Some(1.0),
        };
        Some(each? * total.amount)
    };
    totals(tree).iter().filter_map(total).sum()
}

/// Movements of which a tree holds more than anybody programmes.
pub fn too_many(tree: &Node, catalogue: &Catalogue) -> Vec<MovementId> {
    let many = |total: &lantern_session::Total| {
        let movement = catalogue.get(&total.movement);
        let family = movement.and_then(|movement| FAMILIES.get(&movement.pattern));
        matches!(total.unit, Unit::Reps | Unit::Calories)
            && family.is_some_and(|family| total.amount > family.most_reps)
    };
    totals(tree).into_iter().filter(many).map(|total| total.movement).collect()
}

/// Works that carry more than anybody lifts.
pub fn too_heavy(tree: &Node, catalogue: &Catalogue) -> Vec<MovementId> {
    let heavy = |work: &&Work| {
        let weight = work.load.and_then(|load| load.weight());
        let most = family(work, catalogue).map(|family| family.most_kg);
        weight.zip(most).is_some_and(|(weight, most)| weight.kg() > most)
    };
    works(tree).into_iter().filter(heavy).map(|work| work.movement.clone()).collect()
}

/// Works of which one set of a lift alone is more than a set is: a bar is not lifted eighty times in a row.
pub fn long_sets(tree: &Node, catalogue: &Catalogue) -> usize {
    const MOST_IN_A_SET: f64 = 60.0;
    let long = |work: &&Work| {
        let barbell = catalogue.get(&work.movement).is_some_and(|movement| movement.is_barbell());
        barbell
            && work.dose.unit == Unit::Reps
            && matches!(work.dose.amount, Amount::Fixed { first, .. } if first > MOST_IN_A_SET)
    };
    works(tree).into_iter().filter(long).count()
}
