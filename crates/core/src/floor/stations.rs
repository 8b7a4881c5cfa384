//! Stations: what a movement is done on or with, and how many of it the gym has.

use std::collections::BTreeMap;

use serde::{Serialize, Serializer};

use crate::gym::Gym;
use crate::movement::{LoadKind, Movement};
use crate::session::Load;
use crate::strength::load_bar;
use crate::units::Kilograms;

/// A kind of equipment of which one is like another. Weights are in grams, so that they can be compared.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
#[expect(missing_docs, reason = "the names are the field's own")]
pub enum Station {
    Rack,
    /// Any bar.
    Bar,
    /// A bar for loads under the standard bar's own weight.
    LightBar,
    /// Single plates of a weight.
    Plates(u32),
    /// Single dumbbells of a weight.
    Dumbbells(u32),
    Kettlebells(u32),
    Balls(u32),
    Box,
    Bench,
    Mat,
    Rig,
    Rings,
    Rope,
    Rower,
    Ski,
    Bike,
    Sled,
    Ghd,
    Wall,
}

impl Station {
    /// As counted: `6 rowers`, `1 rower`.
    pub fn name(self, count: u32) -> String {
        let of_weight = |grams: u32, what: &str| format!("{} {what}", Kilograms::from_grams(grams));
        let name = match self {
            Self::Rack => "rack",
            Self::Bar => "bar",
            Self::LightBar => "light bar",
            Self::Plates(grams) => &of_weight(grams, "plate"),
            Self::Dumbbells(grams) => &of_weight(grams, "dumbbell"),
            Self::Kettlebells(grams) => &of_weight(grams, "kettlebell"),
            Self::Balls(grams) => &of_weight(grams, "ball"),
            Self::Box if count == 1 => "box",
            Self::Box => return "boxes".to_owned(),
            Self::Bench if count == 1 => "bench",
            Self::Bench => return "benches".to_owned(),
            Self::Mat => "mat",
            Self::Rig => "rig place",
            Self::Rings if count == 1 => "pair of rings",
            Self::Rings => return "pairs of rings".to_owned(),
            Self::Rope => "rope",
            Self::Rower => "rower",
            Self::Ski => "ski machine",
            Self::Bike => "bike",
            Self::Sled => "sled",
            Self::Ghd => "sit-up bench",
            Self::Wall => "wall place",
        };
        if count == 1 { name.to_owned() } else { format!("{name}s") }
    }

    /// With a number: `6 rowers`, `8 x 10 kg dumbbells`.
    pub fn counted(self, count: u32) -> String {
        let times = if self.name(2).starts_with(|first: char| first.is_ascii_digit()) { "x " } else { "" };
        format!("{count} {times}{}", self.name(count))
    }

    /// Whether it has to be fetched before a piece; plates come with their bar, mats lie about.
    pub fn is_fetched(self) -> bool {
        self.is_carried() && !matches!(self, Self::Plates(_) | Self::LightBar | Self::Mat)
    }

    /// Whether it is set up beside a member and stays there, rather than gone to.
    pub fn is_carried(self) -> bool {
        !matches!(
            self,
            Self::Rack
                | Self::Rig
                | Self::Rings
                | Self::Rope
                | Self::Rower
                | Self::Ski
                | Self::Bike
                | Self::Sled
                | Self::Ghd
                | Self::Wall
        )
    }
}

impl Serialize for Station {
    fn serialize<S: Serializer>(&self, serializer: S) -> Result<S::Ok, S::Error> {
        serializer.serialize_str(&self.name(1))
    }
}

/// How many of each station a gym has.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Inventory {
    counts: BTreeMap<Station, u32>,
}

impl Inventory {
    /// A gym's.
    pub fn of(gym: &Gym) -> Self {
        let heaviest = gym.bars.iter().map(|bar| bar.weight).fold(0.0, f64::max);
        let bars = |light: bool| {
            let of_kind = gym.bars.iter().filter(|bar| !light || bar.weight < heaviest);
            of_kind.map(|bar| bar.count).sum()
        };
        let mut counts = BTreeMap::from([
            (Station::Rack, gym.racks),
            (Station::Bar, bars(false)),
            (Station::LightBar, bars(true)),
            (Station::Box, gym.boxes.iter().map(|shelf| shelf.count).sum()),
            (Station::Bench, gym.benches),
            (Station::Mat, gym.mats),
            (Station::Rig, gym.rig_places),
            (Station::Rings, gym.rings),
            (Station::Rope, gym.ropes),
            (Station::Rower, gym.rowers),
            (Station::Ski, gym.skis),
            (Station::Bike, gym.bikes),
            (Station::Sled, gym.sleds),
            (Station::Ghd, gym.ghds),
            (Station::Wall, gym.wall_places),
        ]);
        let grams = |weight: Kilograms| weight.grams();
        for plate in &gym.plates {
            *counts.entry(Station::Plates(grams(gym.weight(plate.weight)))).or_default() += plate.count;
        }
        for pair in &gym.dumbbells {
            *counts.entry(Station::Dumbbells(grams(gym.weight(pair.size)))).or_default() += pair.count * 2;
        }
        for bell in &gym.kettlebells {
            let station = Station::Kettlebells(grams(Kilograms::from_kg(bell.size)));
            *counts.entry(station).or_default() += bell.count;
        }
        for ball in &gym.balls {
            *counts.entry(Station::Balls(grams(gym.weight(ball.size)))).or_default() += ball.count;
        }
        Self { counts }
    }

    /// How many there are of one.
    pub fn count(&self, station: Station) -> u32 {
        self.counts.get(&station).copied().unwrap_or(0)
    }

    /// All stations with their number.
    pub fn stations(&self) -> impl Iterator<Item = (Station, u32)> {
        self.counts.iter().map(|(station, count)| (*station, *count))
    }
}

/// What starts from a rack even in a piece: bars on the back, and what is pressed lying down. All others are cleaned.
const FROM_THE_RACK: [&str; 8] = [
    "back-squat",
    "box-squat",
    "good-morning",
    "back-rack-lunge",
    "snatch-balance",
    "bench-press",
    "incline-bench-press",
    "zercher-squat",
];

/// A size as it is written is one that a gym has where the two differ by less than this share: 53 lb and 24 kg are the same bell, 20 lb and 9 kg the same ball.
/// Sizes that a gym has side by side lie further apart.
const SAME_SIZE: f64 = 0.025;
/// The same of balls, whose sizes in pounds and in kilograms are not made alike: 14 lb and 6 kg.
const SAME_BALL: f64 = 0.06;

/// Which of a gym's sizes is meant by what is written: itself where it has none like it. With the sizes that it has.
pub(super) fn size_meant(weight: Kilograms, kind: LoadKind, gym: &Gym) -> (Kilograms, Vec<Kilograms>) {
    let own = gym.sizes_of(kind);
    let same = if kind == LoadKind::Ball { SAME_BALL } else { SAME_SIZE };
    let off = |own: &Kilograms| own.grams().abs_diff(weight.grams());
    let nearest = own.iter().copied().min_by_key(off);
    let meant = nearest.filter(|own| f64::from(off(own)) <= same * f64::from(weight.grams()));
    (meant.unwrap_or(weight), own)
}

/// What one repetition of a movement holds: stations with their number. What a gym would not run out of (the floor, a
/// skipping rope, a pipe, a band) is left out.
pub fn needs(movement: &Movement, load: Option<&Load>, gym: &Gym) -> Vec<(Station, u32)> {
    let weight = load.and_then(Load::weight);
    let mut needs = Vec::new();
    for kit in &movement.equipment {
        let station = match kit.as_str() {
            "rack" if FROM_THE_RACK.contains(&movement.id.as_str()) => Station::Rack,
            "barbell" => Station::Bar,
            "box" => Station::Box,
            "bench" => Station::Bench,
            "mat" => Station::Mat,
            "rig" => Station::Rig,
            "rings" => Station::Rings,
            "rope" if !movement.is_engine() => Station::Rope,
            "rower" => Station::Rower,
            "ski" => Station::Ski,
            "bike" | "air_bike" => Station::Bike,
            "sled" => Station::Sled,
            "ghd" => Station::Ghd,
            "wall" => Station::Wall,
            _ => continue,
        };
        needs.push((station, 1));
    }
    let Some(weight) = weight else { return needs };
    let implements = load.map_or(1, |load| u32::from(load.implements.max(1)));
    let own = || size_meant(weight, movement.load_kind, gym).0.grams();
    match movement.load_kind {
        LoadKind::Barbell => {
            let bar = load_bar(gym, weight);
            let standard = gym.bars.iter().map(|bar| gym.weight(bar.weight)).max().unwrap_or_default();
            if weight < standard {
                needs.push((Station::LightBar, 1));
            }
            let mut plates: BTreeMap<u32, u32> = BTreeMap::new();
            for plate in bar.plates_per_side {
                *plates.entry(gym.weight(plate).grams()).or_default() += 2;
            }
            needs.extend(plates.into_iter().map(|(grams, count)| (Station::Plates(grams), count)));
        }
        LoadKind::DumbbellEach => needs.push((Station::Dumbbells(own()), 2)),
        LoadKind::DumbbellSingle => needs.push((Station::Dumbbells(own()), implements)),
        LoadKind::Kettlebell => needs.push((Station::Kettlebells(own()), implements)),
        LoadKind::Ball => needs.push((Station::Balls(own()), 1)),
        LoadKind::None | LoadKind::BoxHeight | LoadKind::Vest | LoadKind::Sled => {}
    }
    needs
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::movement::Catalogue;
    use crate::session::LoadUnit;

    fn needed(id: &str, kg: Option<f64>) -> Vec<(Station, u32)> {
        let movement = Catalogue::standard().find(id).unwrap();
        needs(movement, kg.map(|kg| Load::single(kg, LoadUnit::Kg)).as_ref(), &Gym::default())
    }

    #[test]
    fn a_movement_holds_its_equipment_and_the_plates_on_its_bar() {
        assert_eq!(needed("pull-up", None), [(Station::Rig, 1)]);
        assert_eq!(needed("row", None), [(Station::Rower, 1)]);
        assert_eq!(needed("air-squat", None), []);
        assert_eq!(needed("thruster", Some(40.0)), [(Station::Bar, 1), (Station::Plates(10_000), 2)]);
        // Under the standard bar only a light one will do, and a thruster is cleaned from the floor.
        assert!(needed("thruster", Some(15.0)).contains(&(Station::LightBar, 1)));
        assert!(needed("back-squat", Some(60.0)).contains(&(Station::Rack, 1)));
        assert!(!needed("front-squat", Some(60.0)).contains(&(Station::Rack, 1)));
        assert_eq!(needed("kettlebell-swing", Some(24.0)), [(Station::Kettlebells(24_000), 1)]);
    }

    #[test]
    fn a_size_that_is_written_in_pounds_is_the_one_that_the_gym_has() {
        let needed = |id: &str, lb: f64| {
            let movement = Catalogue::standard().find(id).unwrap();
            needs(movement, Some(&Load::single(lb, LoadUnit::Lb)), &Gym::default())
        };
        for (lb, own) in [(53.0, 24_000), (35.0, 16_000), (26.0, 12_000), (70.0, 32_000)] {
            assert_eq!(needed("kettlebell-swing", lb), [(Station::Kettlebells(own), 1)], "{lb} lb");
        }
        assert!(needed("dumbbell-snatch", 50.0).contains(&(Station::Dumbbells(22_500), 1)));
        for (lb, own) in [(20.0, 9_000), (14.0, 6_000)] {
            assert!(needed("wall-ball", lb).contains(&(Station::Balls(own), 1)), "{lb} lb");
        }
        // Between two sizes it is neither.
        assert_eq!(needed("kettlebell-swing", 40.0), [(Station::Kettlebells(18_144), 1)]);
    }

    #[test]
    fn a_gym_counts_pairs_as_two_and_says_one_in_the_singular() {
        let inventory = Inventory::of(&Gym::default());
        assert_eq!(inventory.count(Station::Bar), 18);
        assert_eq!(inventory.count(Station::LightBar), 10);
        assert_eq!(inventory.count(Station::Dumbbells(22_500)), 8);
        assert_eq!(inventory.count(Station::Kettlebells(17_000)), 0);
        // The same size on two shelves is all of it.
        let mut gym = Gym::default();
        let again = (gym.dumbbells[0], gym.plates[0], gym.kettlebells[0], gym.balls[0]);
        gym.dumbbells.push(again.0);
        gym.plates.push(again.1);
        gym.kettlebells.push(again.2);
        gym.balls.push(again.3);
        let twice = Inventory::of(&gym);
        for station in [
            Station::Dumbbells(5_000),
            Station::Plates(25_000),
            Station::Kettlebells(6_000),
            Station::Balls(3_000),
        ] {
            assert!(inventory.count(station) > 0, "{station:?}");
            assert_eq!(twice.count(station), 2 * inventory.count(station), "{station:?}");
        }
        assert_eq!((Station::Box.name(1), Station::Box.name(3)), ("box".to_owned(), "boxes".to_owned()));
        assert_eq!(Station::Rower.name(6), "rowers");
        assert_eq!(Station::Plates(2500).name(4), "2.5 kg plates");
        assert_eq!(Station::Plates(20_412).counted(1), "1 x 45 lb plate");
    }
}
