//! Ladders: which movement stands in for which, why, and for how many repetitions.

use std::collections::HashMap;
use std::sync::LazyLock;

use serde::Deserialize;

use crate::movement::MovementId;

/// A substitution. Composite ones give several movements.
#[derive(Clone, Debug, PartialEq)]
pub struct Rung {
    /// What it stands in for.
    pub from: MovementId,
    /// Movements done instead, with repetitions for one of the old.
    pub to: Vec<(MovementId, f64)>,
    /// `strength`, `skill`, a joint, `pregnancy`, `equipment`, `space`, `home` or `grip`.
    pub reason: String,
    /// The school that its number belongs to: `same_time`, `fixed_ratio`, or `any`.
    pub school: String,
    /// What load to take.
    pub load_note: String,
    /// What to say.
    pub cue: String,
}

/// All substitutions, by the movement they replace, hardest first within a reason.
#[derive(Debug)]
pub struct Ladders {
    by_movement: HashMap<MovementId, Vec<Rung>>,
}

#[derive(Deserialize)]
struct Row {
    from_id: String,
    to_id: String,
    reason: String,
    rep_factor: String,
    school: String,
    load_note: String,
    cue: String,
}

impl Ladders {
    /// The substitutions that ship with the program, from `data/ladders.csv`.
    pub fn standard() -> &'static Self {
        static LADDERS: LazyLock<Ladders> = LazyLock::new(|| {
            Ladders::from_csv(include_str!("../../../../data/ladders.csv"))
                .expect("the shipped ladders are tested")
        });
        &LADDERS
    }

    fn from_csv(text: &str) -> Result<Self, csv::Error> {
        let mut by_movement: HashMap<MovementId, Vec<Rung>> = HashMap::new();
        for row in csv::Reader::from_reader(text.as_bytes()).deserialize::<Row>() {
            let row = row?;
            let factors = row.rep_factor.split('+').map(|factor| factor.parse().unwrap_or(1.0));
            let to = row.to_id.split('+').map(MovementId::new).zip(factors).collect();
            let from = MovementId::new(&row.from_id);
            let Row { reason, school, load_note, cue, .. } = row;
            let rung = Rung { from: from.clone(), to, reason, school, load_note, cue };
            by_movement.entry(from).or_default().push(rung);
        }
        Ok(Self { by_movement })
    }

    /// Substitutions of a movement for a reason, in file order.
    pub fn of<'a, 'r>(
        &'a self,
        id: &MovementId,
        reason: &'r str,
    ) -> impl Iterator<Item = &'a Rung> + use<'a, 'r> {
        self.by_movement.get(id).into_iter().flatten().filter(move |rung| rung.reason == reason)
    }

    /// All substitutions of a movement, in file order.
    pub fn all<'a>(&'a self, id: &MovementId) -> impl Iterator<Item = &'a Rung> + use<'a> {
        self.by_movement.get(id).into_iter().flatten()
    }

    /// Easier movements, hardest first.
    pub fn easier<'a>(&'a self, id: &MovementId) -> impl Iterator<Item = &'a Rung> + use<'a> {
        self.by_movement
            .get(id)
            .into_iter()
            .flatten()
            .filter(|rung| rung.reason == "skill" || rung.reason == "strength")
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::movement::Catalogue;

    #[test]
    fn every_rung_leads_to_movements_of_the_catalogue() {
        let catalogue = Catalogue::standard();
        let ladders = Ladders::standard();
        let rungs: Vec<&Rung> = ladders.by_movement.values().flatten().collect();
        assert!(rungs.len() > 1_000);
        for rung in rungs {
            assert!(catalogue.get(&rung.from).is_some(), "{}", rung.from);
            for (to, factor) in &rung.to {
                assert!(catalogue.get(to).is_some() && *factor > 0.0, "{} -> {to}", rung.from);
            }
        }
    }

    #[test]
    fn a_swap_for_a_joint_never_stresses_it_more() {
        let catalogue = Catalogue::standard();
        for rung in Ladders::standard().by_movement.values().flatten() {
            let joint = rung.reason.as_str();
            if !["shoulder", "elbow", "wrist", "low_back", "hip", "knee"].contains(&joint) {
                continue;
            }
            let before = catalogue.get(&rung.from).unwrap().joint(joint);
            for (to, _) in &rung.to {
                assert!(
                    catalogue.get(to).unwrap().joint(joint) < before,
                    "{} -> {to} for the {joint}",
                    rung.from
                );
            }
        }
    }
}
