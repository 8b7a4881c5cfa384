//! The gym: bars, plates and other equipment, and its choices where schools differ.

#[cfg(test)]
mod tests;

use chrono::NaiveTime;
use serde::{Deserialize, Serialize};

use crate::movement::{Catalogue, LoadKind};
use crate::read::corrections::Correction;
use crate::read::habits::{Habit, MOST_HABITS};
use crate::read::{Reading, read_in_hand};
use crate::strength::{Cycle, Formula, MaxPolicy, answered};
use crate::units::{Kilograms, WeightUnit};
use crate::versions::{HandHabit, habit};

/// Equipment and choices. The default is a small box with kilogram plates.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(default, deny_unknown_fields)]
pub struct Gym {
    /// Its name.
    pub name: String,
    /// The unit its plates are in.
    pub unit: WeightUnit,
    /// Bars, heaviest first; weights in the gym's unit.
    pub bars: Vec<Bar>,
    /// Plates in the gym's unit, any order.
    pub plates: Vec<Plate>,
    /// Dumbbells in pairs, in the gym's unit.
    pub dumbbells: Vec<Shelf>,
    /// Kettlebells in kilograms.
    pub kettlebells: Vec<Shelf>,
    /// Medicine balls in the gym's unit.
    pub balls: Vec<Shelf>,
    /// Boxes by their height in centimetres.
    pub boxes: Vec<Shelf>,
    /// Places where a bar can be lifted from a rack.
    pub racks: u32,
    /// Rowers.
    pub rowers: u32,
    /// Ski machines.
    pub skis: u32,
    /// Bikes of either kind.
    pub bikes: u32,
    /// Hanging places on the rig.
    pub rig_places: u32,
    /// Pairs of rings.
    pub rings: u32,
    /// Climbing ropes.
    pub ropes: u32,
    /// Sleds, each with its lane.
    pub sleds: u32,
    /// Benches.
    pub benches: u32,
    /// Benches for sit-ups with the feet held.
    pub ghds: u32,
    /// Mats.
    pub mats: u32,
    /// Free places at a wall.
    pub wall_places: u32,
    /// The open floor's width and depth in metres, rig and racks along its sides.
    pub floor_m: (f64, f64),
    /// Length of a class in minutes.
    pub class_minutes: u32,
    /// Share of the 1RM that programme percentages are taken of; 1 is the true or estimated max, 0.9 a
    /// common training max.
    pub training_max: f64,
    /// Which lift on record loads are counted from.
    pub max_policy: MaxPolicy,
    /// How a 1RM is estimated from repetitions.
    pub formula: Formula,
    /// Whether a missing max may be inferred from a related lift; else the lift goes by feel.
    pub infer_maxes: bool,
    /// What a swap keeps: the time, or a traditional number.
    pub swap_school: SwapSchool,
    /// How a push-up is made easier.
    pub push_up_school: PushUpSchool,
    /// What shrinks first when a piece is too long for somebody.
    pub shrink_first: ShrinkFirst,
    /// Whether strict strength comes before kipping.
    pub kipping: KippingSchool,
    /// How the time of day is told.
    pub clock: ClockFace,
    /// Where the gym is, as an IANA zone such as `Europe/Berlin`: what day it is there.
    pub time_zone: String,
    /// Months for which what members spare, and notes about them, are kept after the last word on them; until they are taken off where nothing
    /// is said.
    pub limits_kept_months: Option<u32>,
    /// Whether plans rest on results too, and not on what is on file alone.
    pub learns: bool,
    /// Strength cycles that a session's "week 3 of 6" is filled in from.
    pub cycles: Vec<Cycle>,
    /// How its coaches write, as their corrections have taught: `[[habit]]` in a file.
    #[serde(rename = "habit")]
    pub habits: Vec<Habit>,
    /// What they always do to a version, as their hand has taught: `[[hand_habit]]` in a file.
    #[serde(rename = "hand_habit")]
    pub hand_habits: Vec<HandHabit>,
}

/// A question on which coaches differ, with the answers that a gym can choose from.
macro_rules! school {
    ($(#[$about:meta])* $name:ident { $($(#[$doc:meta])* $answer:ident, $words:literal;)+ }) => {
        $(#[$about])*
        #[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize)]
        #[serde(rename_all = "snake_case")]
        pub enum $name { $($(#[$doc])* $answer,)+ }

        impl $name {
            /// All answers, the default first.
            pub const ALL: &'static [Self] = &[$(Self::$answer),+];

            /// As shown.
            pub const fn words(self) -> &'static str {
                match self { $(Self::$answer => $words,)+ }
            }

            /// As sent by forms.
            pub fn key(self) -> String {
                format!("{self:?}")
            }

            /// From its key.
            pub fn from_key(key: &str) -> Option<Self> {
                Self::ALL.iter().copied().find(|answer| answer.key() == key)
            }
        }
    };
}

school! {
    /// What swapping a skill keeps.
    SwapSchool {
        /// The working time and the rest.
        #[default]
        SameTime, "same time: whatever keeps the working time and the rest";
        /// A traditional number for one.
        FixedRatio, "fixed ratio: so many of the easier for one of the harder";
    }
}
school! {
    /// How the time of day is told.
    ClockFace {
        /// From 0 to 24.
        #[default]
        TwentyFour, "18:00";
        /// Twice from 1 to 12.
        Twelve, "6:00 pm";
    }
}
school! {
    /// How a push-up is made easier.
    PushUpSchool {
        /// Hands on a box, lowered over months.
        #[default]
        HandsRaised, "hands raised on a box, lowered over months";
        /// From the knees.
        Knees, "from the knees";
    }
}
school! {
    /// What may shrink first.
    ShrinkFirst {
        /// The load, then repetitions, then rounds.
        #[default]
        Load, "load, then repetitions, then rounds";
        /// Repetitions, then the load, then rounds.
        Reps, "repetitions, then load, then rounds";
        /// Rounds, then repetitions, then the load.
        Rounds, "rounds, then repetitions, then load";
    }
}
school! {
    /// When kipping is allowed.
    KippingSchool {
        /// After strict strength.
        #[default]
        AfterStrict, "after strict strength";
        /// At once.
        AtOnce, "allowed at once";
    }
}

/// A kind of bar.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Bar {
    /// As called in the gym.
    pub name: String,
    /// In the gym's unit.
    pub weight: f64,
    /// How many there are.
    pub count: u32,
}

/// Things of one size on a shelf: a bare number in a file is one size, of which there are [`USUAL_COUNT`].
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
#[serde(from = "ShelfText")]
pub struct Shelf {
    /// Weight or height.
    pub size: f64,
    /// How many, or how many pairs.
    pub count: u32,
}

/// How many of one size a small gym has.
pub const USUAL_COUNT: u32 = 4;

/// A shelf as files write it.
#[derive(Deserialize)]
#[serde(untagged)]
enum ShelfText {
    Size(f64),
    Counted { size: f64, count: u32 },
}

impl From<ShelfText> for Shelf {
    fn from(text: ShelfText) -> Self {
        match text {
            ShelfText::Size(size) => Self { size, count: USUAL_COUNT },
            ShelfText::Counted { size, count } => Self { size, count },
        }
    }
}

/// Shelves from text such as `25 x 12, 20 x 20, 2.5`: a size without a number stands for [`USUAL_COUNT`].
///
/// # Errors
/// The piece of text that is no size and number.
pub fn shelves_from_text(text: &str) -> Result<Vec<Shelf>, String> {
    let pieces = text.split([',', ';', '\n']).map(str::trim).filter(|piece| !piece.is_empty());
    let shelf = |piece: &str| {
        let (size, count) = piece.split_once(['x', '×', '*']).map_or((piece, None), |(a, b)| (a, Some(b)));
        let size = size.trim().parse::<f64>().ok().filter(|size| size.is_finite() && *size > 0.0)?;
        let count = count.map_or(Some(USUAL_COUNT), |count| count.trim().parse().ok())?;
        Some(Shelf { size, count })
    };
    pieces.map(|piece| shelf(piece).ok_or_else(|| piece.to_owned())).collect()
}

/// Shelves as [`shelves_from_text`] reads them.
pub fn shelves_to_text(shelves: &[Shelf]) -> String {
    let shelf = |shelf: &Shelf| format!("{} x {}", crate::units::plain(shelf.size), shelf.count);
    shelves.iter().map(shelf).collect::<Vec<_>>().join(", ")
}

/// The heaviest of some weights, lightest first, that is not over what is wanted; the lightest when all are heavier.
pub fn at_or_below(lightest_first: &[Kilograms], wanted: Kilograms) -> Option<Kilograms> {
    lightest_first.iter().rev().find(|weight| **weight <= wanted).or(lightest_first.first()).copied()
}

/// The sizes on some shelves that are not empty.
fn sizes(shelves: &[Shelf]) -> impl Iterator<Item = f64> {
    shelves.iter().filter(|shelf| shelf.count > 0).map(|shelf| shelf.size)
}

/// Plates of one weight.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize)]
pub struct Plate {
    /// In the gym's unit.
    pub weight: f64,
    /// How many there are, single plates.
    pub count: u32,
}

impl ClockFace {
    /// A time of day, to the minute: `18:00`, or `6:00 pm`.
    pub fn told(self, time: NaiveTime) -> String {
        let pattern = match self {
            Self::TwentyFour => "%H:%M",
            Self::Twelve => "%-I:%M %P",
        };
        time.format(pattern).to_string()
    }

    /// A time of day as somebody types it, whichever way the gym tells it: `18:00`, `6:00 pm`, `6pm`. None where it is none.
    pub fn typed(text: &str) -> Option<NaiveTime> {
        let text = text.trim().to_lowercase().replace([' ', '.'], "");
        let hour =
            text.strip_suffix("am").or_else(|| text.strip_suffix("pm")).filter(|hour| !hour.contains(':'));
        let text = hour.map_or_else(|| text.clone(), |hour| format!("{hour}:00{}", &text[hour.len()..]));
        ["%H:%M", "%I:%M%P"].iter().find_map(|pattern| NaiveTime::parse_from_str(&text, pattern).ok())
    }
}

impl Default for Gym {
    fn default() -> Self {
        let bar = |name: &str, weight, count| Bar { name: name.to_owned(), weight, count };
        let plate = |weight, count| Plate { weight, count };
        Self {
            name: "The gym".to_owned(),
            unit: WeightUnit::Kg,
            bars: vec![bar("Standard bar", 20.0, 8), bar("Light bar", 15.0, 8), bar("Training bar", 10.0, 2)],
            plates: vec![
                plate(25.0, 12),
                plate(20.0, 20),
                plate(15.0, 20),
                plate(10.0, 30),
                plate(5.0, 30),
                plate(2.5, 30),
                plate(1.25, 20),
            ],
            dumbbells: shelves(
                &[5.0, 7.5, 10.0, 12.5, 15.0, 17.5, 20.0, 22.5, 25.0, 30.0, 35.0],
                USUAL_COUNT,
            ),
            kettlebells: shelves(&[6.0, 8.0, 10.0, 12.0, 16.0, 20.0, 24.0, 28.0, 32.0], USUAL_COUNT),
            balls: shelves(&[3.0, 4.0, 6.0, 8.0, 9.0, 12.0], 5),
            boxes: shelves(&[40.0, 50.0, 60.0, 75.0], 5),
            racks: 8,
            rowers: 6,
            skis: 3,
            bikes: 6,
            rig_places: 12,
            rings: 6,
            ropes: 3,
            sleds: 2,
            benches: 6,
            ghds: 2,
            mats: 24,
            wall_places: 12,
            floor_m: (20.0, 14.0),
            class_minutes: 60,
            training_max: 1.0,
            max_policy: MaxPolicy::default(),
            formula: Formula::default(),
            infer_maxes: true,
            swap_school: SwapSchool::default(),
            push_up_school: PushUpSchool::default(),
            shrink_first: ShrinkFirst::default(),
            kipping: KippingSchool::default(),
            clock: ClockFace::default(),
            time_zone: "UTC".to_owned(),
            limits_kept_months: None,
            learns: true,
            cycles: Vec::new(),
            habits: Vec::new(),
            hand_habits: Vec::new(),
        }
    }
}

/// Shelves of these sizes, each with as many.
fn shelves(sizes: &[f64], count: u32) -> Vec<Shelf> {
    sizes.iter().map(|&size| Shelf { size, count }).collect()
}

/// Longest name, in characters.
pub const LONGEST_NAME: usize = 120;
/// Lengths of a class, in minutes.
pub const CLASS_MINUTES: std::ops::RangeInclusive<u32> = 20..=180;
/// Metres of a floor's side.
pub const FLOOR_M: std::ops::RangeInclusive<f64> = 4.0..=100.0;
/// Most of one thing.
pub const MOST_OF_ONE: u32 = 500;
/// Heaviest or highest of anything.
const LARGEST: f64 = 500.0;
/// Most sizes of one kind.
const MOST_SIZES: usize = 60;
/// Most strength cycles.
pub const MOST_CYCLES: usize = 40;

/// Why a gym file was refused.
#[derive(Debug, thiserror::Error)]
#[error("the gym file is not right: {0}")]
pub struct GymError(String);

impl Gym {
    /// What a text says here: in the hand of the gym's coaches, and with its cycles, so that nothing is asked that they answer.
    pub fn read(&self, text: &str, catalogue: &Catalogue, corrections: &[Correction]) -> Reading {
        let mut reading = read_in_hand(text, catalogue, corrections, &self.habits);
        let known = answered(&reading.session, text, &self.cycles, catalogue);
        reading.problems.retain(|problem| !known.contains(problem));
        reading
    }

    /// Whether every text says the same here and there.
    pub fn reads_as(&self, other: &Self) -> bool {
        self.habits == other.habits && self.cycles == other.cycles
    }

    /// The same gym with the bars, plates, dumbbells and balls that are usual in a unit.
    #[must_use]
    pub fn in_unit(self, unit: WeightUnit) -> Self {
        let usual = match unit {
            WeightUnit::Kg => Self::default(),
            WeightUnit::Lb => {
                let bar = |name: &str, weight, count| Bar { name: name.to_owned(), weight, count };
                let plates =
                    [(45.0, 20), (35.0, 12), (25.0, 20), (15.0, 20), (10.0, 30), (5.0, 30), (2.5, 30)];
                let dumbbells = [10.0, 15.0, 20.0, 25.0, 30.0, 35.0, 40.0, 45.0, 50.0, 60.0, 70.0];
                Self {
                    bars: vec![
                        bar("Standard bar", 45.0, 8),
                        bar("Light bar", 35.0, 8),
                        bar("Training bar", 15.0, 2),
                    ],
                    plates: plates.map(|(weight, count)| Plate { weight, count }).to_vec(),
                    dumbbells: shelves(&dumbbells, USUAL_COUNT),
                    balls: shelves(&[6.0, 8.0, 10.0, 12.0, 14.0, 16.0, 20.0, 30.0], 5),
                    ..Self::default()
                }
            }
        };
        let Self { bars, plates, dumbbells, balls, .. } = usual;
        Self { unit, bars, plates, dumbbells, balls, ..self }
    }

    /// From TOML text; what is left out is as in the default gym, in the unit of this one.
    ///
    /// # Errors
    /// When the text is no TOML, or a key or value is not one of a gym's.
    pub fn from_toml(text: &str) -> Result<Self, GymError> {
        let bad = |error: toml::de::Error| GymError(error.to_string());
        let mut gym: Self = toml::from_str(text).map_err(bad)?;
        if gym.unit != WeightUnit::default() {
            let written: toml::Table = toml::from_str(text).map_err(bad)?;
            let usual = Self::default().in_unit(gym.unit);
            let is_left_out = |key: &str| !written.contains_key(key);
            if is_left_out("bars") {
                gym.bars = usual.bars;
            }
            if is_left_out("plates") {
                gym.plates = usual.plates;
            }
            if is_left_out("dumbbells") {
                gym.dumbbells = usual.dumbbells;
            }
            if is_left_out("balls") {
                gym.balls = usual.balls;
            }
            gym.balls_out_of_kilograms();
        }
        gym.checked().map_err(GymError)?;
        Ok(gym)
    }

    /// For a gym in pounds. Balls were once written in kilograms there: where the heaviest would be light and the lightest a toy,
    /// they still are, and stand for the even number of pounds that such a ball is sold as.
    fn balls_out_of_kilograms(&mut self) {
        /// Pounds: no gym's heaviest ball is so light, and no ball to throw at a wall is lighter than the least.
        const LIGHT: f64 = 13.0;
        const TOY: f64 = 4.0;
        let sizes = || self.balls.iter().map(|ball| ball.size);
        let in_kilograms = sizes().any(|size| size <= TOY) && sizes().all(|size| size < LIGHT);
        if in_kilograms {
            for ball in &mut self.balls {
                let pounds = Kilograms::from_kg(ball.size).in_unit(WeightUnit::Lb);
                ball.size = (pounds / 2.0).round() * 2.0;
            }
        }
    }

    /// As a file that [`Gym::from_toml`] reads.
    ///
    /// # Errors
    /// When a value has no form in TOML.
    pub fn to_toml(&self) -> Result<String, GymError> {
        toml::to_string(self).map_err(|error| GymError(error.to_string()))
    }

    /// Whether every number is one that a gym can have.
    ///
    /// # Errors
    /// The first that is not, by its key.
    pub fn checked(&self) -> Result<(), String> {
        let name = self.name.trim().chars().count();
        if !(1..=LONGEST_NAME).contains(&name) {
            return Err(format!("name has {name} letters, but it should have from 1 to {LONGEST_NAME}"));
        }
        if self.bars.is_empty() {
            return Err("bars: a gym needs at least one bar, heavier than nothing".to_owned());
        }
        let sizes =
            |shelves: &[Shelf]| shelves.iter().map(|shelf| (shelf.size, shelf.count)).collect::<Vec<_>>();
        for (key, list) in [
            ("bars", self.bars.iter().map(|bar| (bar.weight, bar.count)).collect::<Vec<_>>()),
            ("plates", self.plates.iter().map(|plate| (plate.weight, plate.count)).collect()),
            ("dumbbells", sizes(&self.dumbbells)),
            ("kettlebells", sizes(&self.kettlebells)),
            ("balls", sizes(&self.balls)),
            ("boxes", sizes(&self.boxes)),
        ] {
            if list.len() > MOST_SIZES {
                return Err(format!("{key} has {} sizes, but {MOST_SIZES} are the most", list.len()));
            }
            if let Some((size, _)) = list.iter().find(|(size, _)| !(*size > 0.0 && *size <= LARGEST)) {
                return Err(format!("{key}: {size} is no size; it should be above 0 and at most {LARGEST}"));
            }
            if let Some((size, count)) = list.iter().find(|(_, count)| *count > MOST_OF_ONE) {
                return Err(format!("{key}: {count} of {size} are more than {MOST_OF_ONE}"));
            }
        }
        if self.habits.len() > MOST_HABITS {
            return Err(format!(
                "habit: {} are more than the {MOST_HABITS} that are kept",
                self.habits.len()
            ));
        }
        if self.hand_habits.len() > habit::MOST_HABITS {
            let (count, most) = (self.hand_habits.len(), habit::MOST_HABITS);
            return Err(format!("hand_habit: {count} are more than the {most} that are kept"));
        }
        if let Some(habit) = self.habits.iter().find(|habit| !habit.kind.comes_again()) {
            return Err(format!("habit: `{}` is of a kind that comes with one text only", habit.words));
        }
        for (key, count) in self.counts() {
            if count > MOST_OF_ONE {
                return Err(format!("{key} is {count}, but {MOST_OF_ONE} are the most"));
            }
        }
        for side in [self.floor_m.0, self.floor_m.1] {
            if !FLOOR_M.contains(&side) {
                return Err(format!(
                    "floor_m: {side} is not from {} to {} metres",
                    FLOOR_M.start(),
                    FLOOR_M.end()
                ));
            }
        }
        if !CLASS_MINUTES.contains(&self.class_minutes) {
            return Err(format!(
                "class_minutes is {}, but it should be from {} to {}",
                self.class_minutes,
                CLASS_MINUTES.start(),
                CLASS_MINUTES.end()
            ));
        }
        if !(0.5..=1.0).contains(&self.training_max) {
            return Err(format!("training_max is {}, but it should be from 0.5 to 1", self.training_max));
        }
        if self.time_zone.trim().is_empty() || self.time_zone.len() > LONGEST_NAME {
            return Err("time_zone: name a zone such as Europe/Berlin".to_owned());
        }
        if self.cycles.len() > MOST_CYCLES {
            return Err(format!("{} cycles are more than {MOST_CYCLES}", self.cycles.len()));
        }
        Ok(())
    }

    /// Things that are counted one by one, with their keys.
    fn counts(&self) -> [(&'static str, u32); 12] {
        [
            ("racks", self.racks),
            ("rowers", self.rowers),
            ("skis", self.skis),
            ("bikes", self.bikes),
            ("rig_places", self.rig_places),
            ("rings", self.rings),
            ("ropes", self.ropes),
            ("sleds", self.sleds),
            ("benches", self.benches),
            ("ghds", self.ghds),
            ("mats", self.mats),
            ("wall_places", self.wall_places),
        ]
    }

    /// A number of the gym's unit as a weight.
    pub fn weight(&self, value: f64) -> Kilograms {
        Kilograms::from_unit(value, self.unit)
    }

    /// The sizes that stand here of what comes in sizes, lightest first; none of what is loaded with plates, filled or worn.
    pub fn sizes_of(&self, kind: LoadKind) -> Vec<Kilograms> {
        let mut own: Vec<Kilograms> = match kind {
            LoadKind::DumbbellEach | LoadKind::DumbbellSingle => {
                sizes(&self.dumbbells).map(|size| self.weight(size)).collect()
            }
            LoadKind::Kettlebell => sizes(&self.kettlebells).map(Kilograms::from_kg).collect(),
            LoadKind::Ball => sizes(&self.balls).map(|size| self.weight(size)).collect(),
            LoadKind::None | LoadKind::Barbell | LoadKind::BoxHeight | LoadKind::Vest | LoadKind::Sled => {
                Vec::new()
            }
        };
        own.sort();
        own
    }
}
