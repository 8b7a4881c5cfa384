//! The gym as a file: what it may have, and how it tells the time.

use super::*;

#[test]
fn shelves_are_written_and_read_as_sizes_and_numbers() {
    let shelves = shelves_from_text("25 x 12, 20×20; 2.5").unwrap();
    assert_eq!(shelves_to_text(&shelves), "25 x 12, 20 x 20, 2.5 x 4");
    assert_eq!(shelves_from_text(&shelves_to_text(&shelves)).unwrap(), shelves);
    assert_eq!(shelves_from_text("25 x 12, many").unwrap_err(), "many");
    assert_eq!(shelves_from_text("0 x 3").unwrap_err(), "0 x 3");
    assert!(shelves_from_text("").unwrap().is_empty());
}

#[test]
fn a_gym_file_names_what_differs_and_refuses_what_it_does_not_know() {
    let gym = Gym::from_toml("name = \"Harbour Hall\"\nracks = 4").unwrap();
    assert_eq!((gym.name.as_str(), gym.racks, gym.rowers), ("Harbour Hall", 4, 6));
    let gym = Gym::from_toml("kettlebells = [16, { size = 24, count = 1 }]").unwrap();
    assert_eq!(
        gym.kettlebells.iter().map(|bell| (bell.size, bell.count)).collect::<Vec<_>>(),
        [(16.0, USUAL_COUNT), (24.0, 1)]
    );
    assert!(Gym::from_toml("rakcs = 4").unwrap_err().to_string().contains("rakcs"));
    assert!(Gym::from_toml("training_max = 9.0").is_err());
}

#[test]
fn a_number_that_no_gym_has_is_refused_with_its_key() {
    for (text, key) in [
        ("floor_m = [nan, inf]", "floor_m"),
        ("kettlebells = [nan]", "kettlebells"),
        ("balls = [-4]", "balls"),
        ("class_minutes = 4294967295", "class_minutes"),
        ("racks = 4000000", "racks"),
        ("training_max = nan", "training_max"),
        ("name = ''", "name"),
        ("bars = []", "bars"),
    ] {
        assert!(Gym::from_toml(text).unwrap_err().to_string().contains(key), "{text}");
    }
}

/// A gym in which one thing is changed.
fn with(change: impl FnOnce(&mut Gym)) -> Result<(), String> {
    let mut gym = Gym::default();
    change(&mut gym);
    gym.checked()
}

#[test]
fn what_a_gym_may_have_ends_where_it_says() {
    let sizes = |count: usize| (1..=count).map(|n| Shelf { size: n as f64, count: 1 }).collect::<Vec<_>>();
    assert_eq!(with(|gym| gym.kettlebells = sizes(MOST_SIZES)), Ok(()));
    let told = with(|gym| gym.kettlebells = sizes(MOST_SIZES + 1)).unwrap_err();
    assert_eq!(told, format!("kettlebells has {} sizes, but {MOST_SIZES} are the most", MOST_SIZES + 1));

    let one = |size: f64, count: u32| with(|gym| gym.boxes = vec![Shelf { size, count }]);
    assert_eq!(one(LARGEST, MOST_OF_ONE), Ok(()));
    for (size, count) in [(0.0, 1), (-1.0, 1), (LARGEST + 0.5, 1), (20.0, MOST_OF_ONE + 1)] {
        assert!(one(size, count).unwrap_err().starts_with("boxes: "), "{size} x {count}");
    }

    assert_eq!(with(|gym| gym.ghds = MOST_OF_ONE), Ok(()));
    assert!(with(|gym| gym.ghds = MOST_OF_ONE + 1).unwrap_err().starts_with("ghds is "));
    for side in [*FLOOR_M.start(), *FLOOR_M.end()] {
        assert_eq!(with(|gym| gym.floor_m = (side, side)), Ok(()));
    }
    for floor in [(FLOOR_M.start() - 1.0, 10.0), (10.0, FLOOR_M.end() + 1.0)] {
        assert!(with(|gym| gym.floor_m = floor).unwrap_err().starts_with("floor_m: "), "{floor:?}");
    }
    for minutes in [*CLASS_MINUTES.start(), *CLASS_MINUTES.end()] {
        assert_eq!(with(|gym| gym.class_minutes = minutes), Ok(()));
    }
    for minutes in [CLASS_MINUTES.start() - 1, CLASS_MINUTES.end() + 1] {
        let told = with(|gym| gym.class_minutes = minutes).unwrap_err();
        assert!(told.starts_with(&format!("class_minutes is {minutes}")), "{told}");
    }
    for (share, fits) in [(0.5, true), (1.0, true), (0.49, false), (1.01, false)] {
        assert_eq!(with(|gym| gym.training_max = share).is_ok(), fits, "{share}");
    }
    for (letters, fits) in [(1, true), (LONGEST_NAME, true), (LONGEST_NAME + 1, false)] {
        assert_eq!(with(|gym| gym.name = "ä".repeat(letters)).is_ok(), fits, "{letters}");
    }
}

#[test]
fn what_a_gym_in_pounds_leaves_out_is_what_is_usual_in_pounds() {
    let gym = Gym::from_toml("unit = \"lb\"\ndumbbells = [35, 50]").unwrap();
    assert_eq!(gym.bars.iter().map(|bar| bar.weight).collect::<Vec<_>>(), [45.0, 35.0, 15.0]);
    assert!(gym.plates.iter().any(|plate| plate.weight == 45.0));
    assert_eq!(sizes(&gym.dumbbells).collect::<Vec<_>>(), [35.0, 50.0]);
    assert_eq!(gym.checked(), Ok(()));
    assert_eq!(Gym::from_toml(&gym.to_toml().unwrap()).unwrap(), gym);
    assert_eq!(gym.in_unit(WeightUnit::Kg), Gym::default());
}

#[test]
fn balls_are_in_the_unit_of_the_gym_and_what_was_written_in_kilograms_is_made_pounds_once() {
    let heaviest = |gym: &Gym| gym.sizes_of(LoadKind::Ball).last().copied().unwrap();
    let usual = Gym::from_toml("unit = \"lb\"").unwrap();
    assert_eq!(heaviest(&usual), Kilograms::from_unit(30.0, WeightUnit::Lb));
    let before = Gym::from_toml("unit = \"lb\"\nballs = [3, 4, 6, 8, 9, 12]").unwrap();
    assert_eq!(sizes(&before.balls).collect::<Vec<_>>(), [6.0, 8.0, 14.0, 18.0, 20.0, 26.0]);
    assert_eq!(Gym::from_toml(&before.to_toml().unwrap()).unwrap(), before);
    let pounds = Gym::from_toml("unit = \"lb\"\nballs = [10, 14, 20]").unwrap();
    assert_eq!(sizes(&pounds.balls).collect::<Vec<_>>(), [10.0, 14.0, 20.0]);
    assert_eq!(heaviest(&Gym::default()), Kilograms::from_kg(12.0));
}

#[test]
fn a_weight_is_rounded_down_to_what_stands_there() {
    let shelf = |size| Shelf { size, count: 2 };
    let gym = Gym {
        kettlebells: vec![shelf(24.0), shelf(8.0), Shelf { size: 20.0, count: 0 }, shelf(16.0)],
        ..Gym::default()
    };
    let bells = gym.sizes_of(LoadKind::Kettlebell);
    assert_eq!(bells, [8.0, 16.0, 24.0].map(Kilograms::from_kg));
    assert!(gym.sizes_of(LoadKind::Barbell).is_empty());
    let pick = |wanted| at_or_below(&bells, Kilograms::from_kg(wanted)).map(Kilograms::kg);
    assert_eq!([23.9, 24.0, 8.0, 3.0].map(pick), [Some(16.0), Some(24.0), Some(8.0), Some(8.0)]);
    assert_eq!(at_or_below(&[], Kilograms::from_kg(8.0)), None);
}

#[test]
fn the_time_of_day_is_told_as_the_gym_tells_it() {
    let at = |hour, minute| NaiveTime::from_hms_opt(hour, minute, 0).unwrap();
    assert_eq!(ClockFace::TwentyFour.told(at(7, 5)), "07:05");
    for (time, told) in [(at(18, 0), "6:00 pm"), (at(0, 30), "12:30 am"), (at(12, 0), "12:00 pm")] {
        assert_eq!(ClockFace::Twelve.told(time), told);
    }
    for (typed, time) in [
        ("18:00", (18, 0)),
        ("6:00 pm", (18, 0)),
        ("6PM", (18, 0)),
        ("12:30 a.m.", (0, 30)),
        ("7:05", (7, 5)),
    ] {
        assert_eq!(ClockFace::typed(typed), Some(at(time.0, time.1)), "{typed}");
    }
    for wrong in ["", "pm", "25:00", "13:00 pm", "six"] {
        assert_eq!(ClockFace::typed(wrong), None, "{wrong}");
    }
    let gym = Gym::from_toml("name = \"Harbour Hall\"\nclock = \"twelve\"").unwrap();
    assert_eq!(gym.clock, ClockFace::Twelve);
}

#[test]
fn a_gym_that_is_written_reads_back_the_same() {
    let mut gym = Gym { name: "Harbour Hall".to_owned(), racks: 4, ..Gym::default() };
    gym.clock = ClockFace::Twelve;
    gym.plates.truncate(3);
    assert_eq!(Gym::from_toml(&gym.to_toml().unwrap()).unwrap(), gym);
}

#[test]
fn a_time_zone_has_a_name_that_is_not_too_long() {
    let zone = |name: String| Gym { time_zone: name, ..Gym::default() }.checked();
    assert!(zone("Europe/Berlin".to_owned()).is_ok());
    for name in [String::new(), "  ".to_owned(), "x".repeat(LONGEST_NAME + 1)] {
        assert!(zone(name.clone()).unwrap_err().contains("time_zone"), "{name:?}");
    }
}
