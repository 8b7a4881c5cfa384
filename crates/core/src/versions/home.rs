//! Equipment at home: what a member's words name, and what can be done with it.

use crate::movement::Movement;
use crate::units::Kilograms;

/// Equipment to train with at home.
#[derive(Clone, Debug, PartialEq)]
pub struct HomeKit {
    /// In words, as a heading says it: `one dumbbell`.
    pub name: String,
    equipment: Vec<&'static str>,
    heaviest: Option<Kilograms>,
}

/// What everybody has: a floor, a wall, something to lie on.
const ALWAYS: [&str; 3] = ["floor_space", "wall", "mat"];

/// Words of a member and the equipment of the catalogue that they stand for; longer words first.
const WORDS: &[(&str, &[&str])] = &[
    ("pull-up bar", &["rig"]),
    ("air bike", &["air_bike", "bike"]),
    ("bike", &["bike"]),
    ("rower", &["rower"]),
    ("barbell", &["barbell", "plates"]),
    ("dumbbells", &["dumbbell", "dumbbell_pair"]),
    ("two dumbbells", &["dumbbell", "dumbbell_pair"]),
    ("dumbbell", &["dumbbell"]),
    ("two kettlebells", &["kettlebell", "kettlebell_pair"]),
    ("kettlebells", &["kettlebell", "kettlebell_pair"]),
    ("kettlebell", &["kettlebell"]),
    ("band", &["band"]),
    ("rope", &["jump_rope"]),
    ("rings", &["rings"]),
    ("bench", &["bench"]),
    ("box", &["box"]),
];

impl HomeKit {
    /// The usual kits, as offered on the Versions screen.
    pub const USUAL: [&'static str; 5] = ["nothing", "band", "one dumbbell", "two dumbbells", "kettlebell"];

    /// From words such as `kettlebell 12 kg; rope`. Words that name no equipment mean nothing at all.
    ///
    /// ```
    /// # use lantern_core::{movement::Catalogue, versions::HomeKit};
    /// let kit = HomeKit::from_words("kettlebell 12 kg; rope");
    /// let can = |id| kit.allows(Catalogue::standard().find(id).unwrap());
    /// assert!(can("kettlebell-swing") && can("double-under") && can("air-squat") && !can("pull-up"));
    /// ```
    pub fn from_words(words: &str) -> Self {
        let lower = words.to_lowercase();
        let mut equipment: Vec<&'static str> = Vec::new();
        let mut rest = lower.clone();
        for (word, kit) in WORDS {
            if rest.contains(word) {
                equipment
                    .extend(kit.iter().filter(|kit| !equipment.contains(kit)).copied().collect::<Vec<_>>());
                rest = rest.replace(word, " ");
            }
        }
        let name = if equipment.is_empty() { "nothing".to_owned() } else { words.trim().to_owned() };
        Self { name, equipment, heaviest: heaviest(&lower) }
    }

    /// Whether everything that a movement needs is there, or something that does instead.
    pub fn allows(&self, movement: &Movement) -> bool {
        let has = |kit: &String| ALWAYS.contains(&kit.as_str()) || self.equipment.contains(&kit.as_str());
        movement.equipment.iter().all(has) || movement.other_equipment.iter().any(has)
    }

    /// A load no heavier than what is at home; as wanted when the words give no weight.
    pub fn at_most(&self, wanted: Kilograms) -> Kilograms {
        self.heaviest.map_or(wanted, |heaviest| wanted.min(heaviest))
    }
}

/// The number before `kg`; of several the last, since bars come before plates.
fn heaviest(words: &str) -> Option<Kilograms> {
    let before: Vec<&str> = words.split("kg").collect();
    let (_, before) = before.split_last()?;
    let number = before.last()?.trim_end();
    let digits = number.rfind(|c: char| !(c.is_ascii_digit() || c == '.')).map_or(0, |place| place + 1);
    number[digits..].parse().ok().map(Kilograms::from_kg)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::movement::Catalogue;

    #[test]
    fn words_of_members_become_kits() {
        let can = |words: &str, id: &str| {
            HomeKit::from_words(words).allows(Catalogue::standard().find(id).unwrap())
        };
        assert!(can("dumbbells 2 x 10 kg", "dumbbell-thruster") && can("two dumbbells", "dumbbell-snatch"));
        assert!(can("one dumbbell", "dumbbell-snatch") && !can("one dumbbell", "dumbbell-thruster"));
        assert!(can("none", "burpee") && !can("none", "kettlebell-swing"));
        assert!(can("pull-up bar; rope", "pull-up"));
    }

    #[test]
    fn what_is_at_home_limits_the_load() {
        let kit = HomeKit::from_words("dumbbells 2 x 10 kg");
        assert_eq!(kit.at_most(Kilograms::from_kg(15.0)), Kilograms::from_kg(10.0));
        assert_eq!(kit.at_most(Kilograms::from_kg(7.5)), Kilograms::from_kg(7.5));
        let open = HomeKit::from_words("two dumbbells");
        assert_eq!(open.at_most(Kilograms::from_kg(15.0)), Kilograms::from_kg(15.0));
    }
}
