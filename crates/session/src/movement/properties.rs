//! What a movement asks for that somebody may have to spare: the closed list of properties, from
//! `data/movement_properties.csv`. Coaching judgement, conservative, not medical advice.

use std::collections::HashMap;
use std::sync::LazyLock;

use serde::{Deserialize, Serialize};

macro_rules! properties {
    ($($(#[$meaning:meta])* $name:ident = $key:literal),+ $(,)?) => {
        /// Something that a movement asks for, and that a limit can forbid.
        #[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
        #[serde(rename_all = "snake_case")]
        pub enum Property { $($(#[$meaning])* $name),+ }

        impl Property {
            /// The name in data files and JSON.
            pub const fn key(self) -> &'static str {
                match self { $(Self::$name => $key),+ }
            }

            /// The property of a name, if it is one.
            pub fn named(key: &str) -> Option<Self> {
                match key { $($key => Some(Self::$name),)+ _ => None }
            }
        }
    };
}

properties! {
    /// Hands push, hold or throw a load or the body above the shoulders, or pull it down from there.
    Overhead = "overhead",
    /// Body weight hangs on the hands.
    Hanging = "hanging",
    /// A swing that helps; any-style forms count.
    Kipping = "kipping",
    /// The feet leave the floor together.
    Jump = "jump",
    /// Landing shock.
    Impact = "impact",
    /// Running, also on the spot.
    Running = "running",
    /// The knee goes past a right angle, under effort or held.
    DeepKneeBend = "deep_knee_bend",
    /// Split stance with bent knees.
    Lunge = "lunge",
    /// A knee bears weight on, or touches, the floor.
    Kneeling = "kneeling",
    /// Bending at the hip with a load or against a pad.
    LoadedHinge = "loaded_hinge",
    /// The trunk curls under effort.
    SpinalFlexion = "spinal_flexion",
    /// The front of the belly strains.
    CoreStrain = "core_strain",
    /// The trunk twists.
    Rotation = "rotation",
    /// Load goes down through the standing or sitting spine.
    AxialLoad = "axial_load",
    /// Bar or bells rest on the front of the shoulders.
    FrontRack = "front_rack",
    /// The wrist is bent back under load.
    WristExtension = "wrist_extension",
    /// A hand closes round a handle that bears load.
    Grip = "grip",
    /// Pushing away from the chest, or down beside it.
    HorizontalPush = "horizontal_push",
    /// Pulling from above.
    VerticalPull = "vertical_pull",
    /// Pulling towards the trunk, elbow curls.
    HorizontalPull = "horizontal_pull",
    /// Head below the hips, or lowered backwards.
    HeadDown = "head_down",
    /// Lying on the back.
    Supine = "supine",
    /// Lying on the belly, or on a pad under it.
    Prone = "prone",
    /// Breath is held however light it is made.
    Straining = "straining",
    /// A dose and no movement: tests, maxima, sets to failure.
    MaximalEffort = "maximal_effort",
    /// Drives the heart hard at any pace.
    HighHeartRate = "high_heart_rate",
    /// Weight on the feet.
    Standing = "standing",
    /// Needs both hands.
    TwoHands = "two_hands",
    /// One leg, unstable or upside down: a fall is likely if balance fails.
    Balance = "balance",
    /// A fall from above standing height.
    Height = "height",
}

#[derive(Deserialize)]
struct Row {
    id: String,
    properties: String,
}

/// The properties of the movements that ship with the program, by id.
static BY_ID: LazyLock<HashMap<String, Vec<Property>>> = LazyLock::new(|| {
    let text = include_str!("../../../../data/movement_properties.csv");
    let rows = csv::Reader::from_reader(text.as_bytes()).into_deserialize::<Row>();
    let of = |row: Row| (row.id, row.properties.split('|').filter_map(Property::named).collect());
    rows.map(|row| of(row.expect("the shipped properties are tested"))).collect()
});

/// The properties of a shipped movement; none for an id that the file lacks.
pub(super) fn properties_of(id: &str) -> Vec<Property> {
    BY_ID.get(id).cloned().unwrap_or_default()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::movement::Catalogue;

    #[test]
    fn every_movement_stands_in_the_file_once_with_properties_of_the_list() {
        let text = include_str!("../../../../data/movement_properties.csv");
        let rows: Vec<Row> =
            csv::Reader::from_reader(text.as_bytes()).into_deserialize().map(Result::unwrap).collect();
        for row in &rows {
            let known = |name: &str| name.is_empty() || Property::named(name).is_some();
            assert!(row.properties.split('|').all(known), "{}: {}", row.id, row.properties);
        }
        let ids: Vec<&str> = rows.iter().map(|row| row.id.as_str()).collect();
        for movement in Catalogue::standard().iter() {
            let count = ids.iter().filter(|id| **id == movement.id.as_str()).count();
            assert_eq!(count, 1, "{}", movement.id);
        }
    }
}
