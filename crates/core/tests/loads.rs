//! Loads: hand-worked examples and rules that hold for every class, bar and set of plates.

use lantern_core::gym::{Bar, Gym, Plate};
use lantern_core::member::{Experience, Max, Member, Sex};
use lantern_core::movement::{Catalogue, MovementId};
use lantern_core::plan::plan;
use lantern_core::read::read;
use lantern_core::strength::{LiftPlace, LiftSheet, SetKind, lift_sheet, load_bar, rack_groups};
use lantern_core::units::{Kilograms, WeightUnit};
use proptest::prelude::*;

fn squatter(name: &str, kg: f64) -> Member {
    Member {
        name: name.to_owned(),
        experience: Experience::Intermediate,
        maxes: [(MovementId::new("back-squat"), Max::on_file(Kilograms::from_kg(kg)))].into(),
        ..Member::default()
    }
}

fn sheet(text: &str, member: &Member, gym: &Gym) -> LiftSheet {
    let catalogue = Catalogue::standard();
    let part = read(text, catalogue).session.parts.remove(0);
    lift_sheet(&part, catalogue.find("back-squat").unwrap(), member, gym, catalogue)
}

fn work(sheet: &LiftSheet, unit: WeightUnit) -> Vec<f64> {
    let sets = sheet.sets.iter().filter(|set| set.kind == SetKind::Work);
    sets.filter_map(|set| set.load.as_ref()).map(|load| load.total.in_unit(unit)).collect()
}

fn pounds() -> Gym {
    Gym {
        unit: WeightUnit::Lb,
        bars: vec![Bar { name: "bar".into(), weight: 45.0, count: 6 }],
        plates: [45.0, 35.0, 25.0, 10.0, 5.0, 2.5].map(|weight| Plate { weight, count: 12 }).to_vec(),
        ..Gym::default()
    }
}

#[test]
fn percentages_in_kilograms_and_in_pounds_are_as_worked_out_by_hand() {
    let kg = Gym::default();
    for (text, max, expected) in [
        // 70 % of 118 is 82.6: 80 on a 20 kg bar would leave 2.6, of which the plates make 2.5.
        ("Back squat 3x5 @ 70%", 118.0, vec![82.5; 3]),
        // 65, 75, 85 % of 140 are 91, 105, 119.
        ("Back squat 5-5-5 @ 65-75-85%", 140.0, vec![90.0, 105.0, 120.0]),
        // Climbing from 77 to 82 % of 100 in three even steps, the last two at the top.
        ("Back squat 4x4 @ 77-82%, last two at the working weight", 100.0, vec![77.5, 80.0, 82.5, 82.5]),
        // RPE 8 for five leaves two: what seven allow is 82 %.
        ("Back squat 1x5 @ RPE 8", 100.0, vec![82.5]),
        // Kilograms are kilograms, whatever the max.
        ("Back squat 5x3 @ 100 kg", 140.0, vec![100.0; 5]),
    ] {
        let found = work(&sheet(text, &squatter("A", max), &kg), WeightUnit::Kg);
        assert_eq!(found.len(), expected.len(), "{text}: {found:?}");
        for (found, expected) in found.iter().zip(&expected) {
            assert!((found - expected).abs() < 0.01, "{text}: {found} against {expected}");
        }
    }
    // 300 lb squat, 75 % is 225 lb: two 45s a side on a 45 lb bar.
    let member = Member {
        maxes: [(MovementId::new("back-squat"), Max::on_file(Kilograms::from_lb(300.0)))].into(),
        ..squatter("B", 1.0)
    };
    assert_eq!(work(&sheet("Back squat 2x3 @ 75%", &member, &pounds()), WeightUnit::Lb), [225.0, 225.0]);
}

/// Everything that a bar of the gym can weigh, in the gym's unit: all plates that there are, on both sides alike.
fn loadable(gym: &Gym, bar: f64) -> Vec<f64> {
    let mut sums = vec![bar];
    for plate in &gym.plates {
        for _ in 0..(plate.count / 2).min(8) {
            let more: Vec<f64> = sums.iter().map(|sum| sum + 2.0 * plate.weight).collect();
            sums.extend(more.into_iter().filter(|sum| *sum < bar + 300.0));
            sums.sort_by(f64::total_cmp);
            sums.dedup_by(|a, b| (*a - *b).abs() < 0.001);
        }
    }
    sums
}

#[test]
fn every_percent_of_every_lift_bar_and_unit_is_the_nearest_that_plates_make() {
    let catalogue = Catalogue::standard();
    let (kg, lb) = (
        Gym::default(),
        Gym {
            bars: vec![
                Bar { name: "bar".into(), weight: 45.0, count: 8 },
                Bar { name: "light bar".into(), weight: 35.0, count: 8 },
            ],
            ..pounds()
        },
    );
    let lifts = [
        ("back-squat", "Back squat", 1.0),
        ("front-squat", "Front squat", 0.85),
        ("deadlift", "Deadlift", 1.2),
        ("bench-press", "Bench press", 0.75),
        ("strict-press", "Strict press", 0.45),
        ("push-press", "Push press", 0.6),
        ("clean", "Clean", 0.75),
        ("snatch", "Snatch", 0.6),
    ];
    let mut rows = 0;
    for (gym, unit) in [(&kg, WeightUnit::Kg), (&lb, WeightUnit::Lb)] {
        for (sex, max_kg, bar) in [(Sex::M, 141.3, [20.0, 45.0]), (Sex::F, 93.7, [15.0, 35.0])] {
            let bar = if unit == WeightUnit::Kg { bar[0] } else { bar[1] };
            let all = loadable(gym, bar);
            for (id, name, share) in lifts {
                for percent in [65.0, 72.5, 80.0, 88.0] {
                    let max = Kilograms::from_kg(max_kg * share);
                    let maxes = [(MovementId::new(id), Max::on_file(max))].into();
                    let member = Member { sex: Some(sex), maxes, ..squatter("A", 1.0) };
                    let part = read(&format!("{name} 3x3 @ {percent}%"), catalogue).session.parts.remove(0);
                    let found = lift_sheet(&part, catalogue.find(id).unwrap(), &member, gym, catalogue);
                    let wanted = max.in_unit(unit) * percent / 100.0;
                    let off = |total: f64| (total - wanted).abs();
                    let nearest = all.iter().copied().min_by(|a, b| off(*a).total_cmp(&off(*b))).unwrap();
                    for set in found.sets.iter().filter(|set| set.kind == SetKind::Work) {
                        let load = set.load.as_ref().unwrap();
                        let total = load.total.in_unit(unit);
                        let said = format!(
                            "{name}, {percent} % of {max} for {sex:?}: {total}, {nearest} is nearest"
                        );
                        assert!((load.bar.in_unit(unit) - bar).abs() < 0.01, "{said}, on {}", load.bar);
                        assert!((off(total) - off(nearest)).abs() < 0.01, "{said}");
                        let plates: f64 = load.plates_per_side.iter().sum::<f64>() * 2.0;
                        assert!((bar + plates - total).abs() < 0.01, "{said}");
                    }
                    rows += 1;
                }
            }
        }
    }
    assert_eq!(rows, 128);
}

#[test]
fn a_training_max_takes_its_share_first_and_says_so() {
    let gym = Gym { training_max: 0.9, ..Gym::default() };
    let sheet = sheet("Back squat 1x5 @ 80%", &squatter("A", 100.0), &gym);
    // 90 % of 100 is 90, 80 % of that 72: the plates make 72.5.
    assert_eq!(work(&sheet, WeightUnit::Kg), [72.5]);
    let why = sheet.sets.last().unwrap().why.steps.join("; ");
    assert!(why.contains("training max: 90 %"), "{why}");
    // An effort is an effort: nothing is taken off for it.
    let effort = |text: &str, gym: &Gym| work(&self::sheet(text, &squatter("A", 100.0), gym), WeightUnit::Kg);
    let by_effort = "Back squat 1x5 @ RPE 8";
    assert_eq!(effort(by_effort, &gym), effort(by_effort, &Gym::default()));
}

#[test]
fn the_plan_says_what_shares_are_of() {
    let catalogue = Catalogue::standard();
    let member = Member { bodyweight: Some(Kilograms::from_kg(80.0)), ..squatter("A", 150.0) };
    let of = |text: &str, gym: &Gym| {
        let reading = read(text, catalogue);
        let members = [member.clone()];
        let plan = lantern_core::plan::plan(&reading.session, &members, gym, catalogue, 1);
        let json = lantern_core::plan::plan_json(&reading, &plan, &members, gym, catalogue);
        let base = &json["strength"][0]["members"][0]["base"];
        (base["of"].as_str().unwrap().to_owned(), base["value"].as_f64().unwrap())
    };
    let gym = Gym::default();
    let on = |of: &str, value: f64| (of.to_owned(), value);
    assert_eq!(of("Back squat 3x5 @ 80 %", &gym), on("1rm", 150.0));
    assert_eq!(
        of("Back squat 3x5 @ 80 %", &Gym { training_max: 0.9, ..Gym::default() }),
        on("training_max", 135.0)
    );
    // Five take 87 % of what one does.
    assert_eq!(of("Back squat 3x5 @ 80 % of your 5RM", &gym), on("5rm", 130.5));
    assert_eq!(of("Back squat 3x5 @ 100 kg", &gym), on("absolute", 100.0));
    assert_eq!(of("Back squat 3x8 @ bodyweight", &gym), on("bodyweight", 80.0));
    assert_eq!(of("Back squat 3x5 @ RPE 8", &gym), on("effort", 150.0));
}

#[test]
fn plates_that_are_gone_are_named_with_what_to_do() {
    let gym = Gym {
        racks: 2,
        bars: vec![Bar { name: "bar".into(), weight: 20.0, count: 4 }],
        plates: vec![
            Plate { weight: 20.0, count: 2 },
            Plate { weight: 10.0, count: 4 },
            Plate { weight: 5.0, count: 4 },
        ],
        ..Gym::default()
    };
    let class: Vec<LiftSheet> = [90.0, 95.0, 100.0, 105.0, 110.0, 115.0]
        .iter()
        .map(|kg| sheet("Back squat 3x5 @ 75%", &squatter("A", *kg), &gym))
        .collect();
    let plan = rack_groups(&class, LiftPlace::Rack, &gym);
    assert!(!plan.shortages.is_empty(), "{plan:?}");
    assert!(rack_groups(&class, LiftPlace::Rack, &Gym::default()).shortages.is_empty());
}

#[test]
fn whoever_has_no_max_joins_by_feel_and_stands_on_no_rack() {
    let gym = Gym::default();
    let class = [
        sheet("Back squat 3x5 @ 75%", &squatter("A", 100.0), &gym),
        sheet("Back squat 3x5 @ 75%", &Member { name: "B".into(), ..Member::default() }, &gym),
    ];
    let plan = rack_groups(&class, LiftPlace::Rack, &gym);
    assert_eq!(plan.by_feel, [1]);
    assert!(class[1].by_feel.as_ref().unwrap().contains("RPE 7"));
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(48))]

    #[test]
    fn prop_everybody_stands_on_exactly_one_rack_and_racks_go_up(
        maxes in proptest::collection::vec(40.0..200.0_f64, 1..28),
        racks in 1_u32..9,
    ) {
        let gym = Gym { racks, ..Gym::default() };
        let class: Vec<LiftSheet> =
            maxes.iter().map(|kg| sheet("Back squat 3x5 @ 75%", &squatter("A", *kg), &gym)).collect();
        let plan = rack_groups(&class, LiftPlace::Rack, &gym);
        let mut placed: Vec<usize> = plan.racks.iter().flat_map(|rack| rack.order.clone()).collect();
        placed.extend(&plan.by_feel);
        placed.sort_unstable();
        prop_assert_eq!(placed, (0..class.len()).collect::<Vec<_>>());
        prop_assert!(plan.racks.len() <= racks as usize);
        prop_assert!(plan.racks.windows(2).all(|pair| pair[0].high <= pair[1].low));
    }

    #[test]
    fn prop_more_percent_or_a_bigger_max_is_never_lighter(kg in 50.0..200.0_f64, percent in 50_u32..85, more in 1_u32..10) {
        let gym = Gym::default();
        let top = |kg: f64, percent: u32| {
            let text = format!("Back squat 1x3 @ {percent}%");
            work(&sheet(&text, &squatter("A", kg), &gym), WeightUnit::Kg)[0]
        };
        prop_assert!(top(kg, percent + more) >= top(kg, percent));
        prop_assert!(top(kg + f64::from(more), percent) >= top(kg, percent));
    }

    #[test]
    fn prop_a_bar_in_pounds_is_loadable_and_never_over(lb in 45.0..500.0_f64) {
        let gym = pounds();
        let loaded = load_bar(&gym, Kilograms::from_lb(lb));
        let plates: f64 = loaded.plates_per_side.iter().sum::<f64>() * 2.0;
        prop_assert!(loaded.total.in_unit(WeightUnit::Lb) <= lb + 0.02);
        prop_assert!((45.0 + plates - loaded.total.in_unit(WeightUnit::Lb)).abs() < 0.05);
    }

    #[test]
    fn prop_a_heavier_first_set_never_means_a_shorter_climb(kg in 60.0..200.0_f64, more in 0.0..60.0_f64) {
        let gym = Gym::default();
        let ramp = |kg: f64| {
            let sheet = sheet("Back squat 3x3 @ 80%", &squatter("A", kg), &gym);
            sheet.sets.iter().filter(|set| set.kind == SetKind::Ramp).count()
        };
        prop_assert!(ramp(kg + more) >= ramp(kg), "{} {}", ramp(kg + more), ramp(kg));
    }
}

/// Each limit has its own rule: what the words have to do with the lift decides, and no test is given to whoever strains for
/// nothing, is sore where the lift loads them, is under age or new.
#[test]
fn a_limit_holds_what_it_has_to_do_with_until_a_coach_says_otherwise() {
    use lantern_core::limits::Limit;
    use lantern_core::member::Experience;
    let gym = Gym::default();
    let held =
        |words: &str, age| Member { age, limits: Limit::several(words).collect(), ..squatter("A", 100.0) };
    // Words, age, the most of 5-3-1 at 75-85-95 %, and how it is done besides.
    let rows = [
        ("pregnant, week 20", Some(33), 80.0, "breathe"),
        ("heart: no maximal singles", None, 80.0, "breathe"),
        ("high blood pressure, nothing heavy", None, 80.0, "breathe"),
        ("sore shoulder", None, 80.0, "only as far as nothing hurts"),
        ("mcburney something odd", None, 80.0, ""),
        ("", Some(17), 90.0, "every repetition clean"),
    ];
    for (words, age, most, manner) in rows {
        let member = held(words, age);
        // Repetitions are kept, what is light enough stays, what is above comes down.
        let found = sheet("Back squat 5-3-1 @ 75-85-95%", &member, &gym);
        let sets: Vec<(u32, f64)> = found
            .sets
            .iter()
            .filter(|set| set.kind == SetKind::Work)
            .map(|set| (set.reps, set.load.as_ref().unwrap().total.kg()))
            .collect();
        assert_eq!(sets.iter().map(|set| set.0).collect::<Vec<_>>(), [5, 3, 1], "{words}");
        assert!(sets.iter().all(|(_, kg)| *kg <= most), "{words}: {sets:?}");
        let why = found.held_why.unwrap_or_default();
        assert!(why.contains("up to 95 % was written") && why.contains(manner), "{words}: {why}");
        assert!(!["heart", "pregnan", "shoulder", "blood"].iter().any(|word| why.contains(word)), "{why}");
        // Where no share is written, none is told.
        for (text, asked) in
            [("RPE 9", "an effort of 9 of 10 was asked for"), ("3 min rest", "no load was written")]
        {
            let why = sheet(&format!("Back squat 3x5, {text}"), &member, &gym).held_why.unwrap_or_default();
            assert!(why.contains(asked) && !why.contains("% was written"), "{words}: {why}");
        }
        let test = sheet("Back squat, build to a 1RM in 20 min", &member, &gym);
        assert_eq!(work(&test, WeightUnit::Kg), [70.0, 75.0, 80.0], "{words}");
        assert!(test.sets.iter().filter(|set| set.kind == SetKind::Work).all(|set| set.reps == 3));
    }
    // An effort is held too: nobody with a heart note goes to nine of ten, whatever the share.
    let heart = held("heart: no maximal singles", None);
    let easy = work(&sheet("Back squat 3x8 @ RPE 7", &squatter("A", 100.0), &gym), WeightUnit::Kg);
    let hard = work(&sheet("Back squat 3x8 @ RPE 9", &heart, &gym), WeightUnit::Kg);
    assert!(hard.iter().zip(&easy).all(|(hard, easy)| hard <= easy), "{hard:?} {easy:?}");
    let tens = |member: &Member| work(&sheet("Back squat 3x10 @ 74%", member, &gym), WeightUnit::Kg)[0];
    assert!(tens(&heart) < tens(&squatter("A", 100.0)));
    // Somebody in their first weeks does technique sets in place of a test, and everything else as written.
    let new = Member { experience: Experience::New, ..squatter("A", 100.0) };
    assert_eq!(
        work(&sheet("Back squat, build to a 1RM in 20 min", &new, &gym), WeightUnit::Kg),
        [70.0, 75.0, 80.0]
    );
    assert_eq!(work(&sheet("Back squat 3x3 @ 85%", &new, &gym), WeightUnit::Kg), [85.0; 3]);
    // What has nothing to do with the lift holds nothing of it.
    let free = [
        held("", Some(18)),
        held("none", None),
        held("vegetarian", None),
        held("left wrist: no front rack", None),
        held("no running", None),
        held("deadlift max 60 %", None),
    ];
    for free in free {
        let words: Vec<&str> = free.limits.iter().map(|limit| limit.text.as_str()).collect();
        let found = sheet("Back squat 3x1 @ 95%", &free, &gym);
        assert_eq!(work(&found, WeightUnit::Kg), [95.0; 3], "{words:?}");
    }
    // A lower ceiling of the words goes before ours.
    let low = held("squats max 60 %", None);
    assert_eq!(work(&sheet("Back squat 3x3 @ 85%", &low, &gym), WeightUnit::Kg), [60.0; 3]);
    let kilos = held("nothing over 50 kg", None);
    assert_eq!(work(&sheet("Back squat 3x3 @ 85%", &kilos, &gym), WeightUnit::Kg), [50.0; 3]);
}

#[test]
fn what_hangs_on_somebody_is_a_share_of_both_together() {
    let (catalogue, gym) = (Catalogue::standard(), Gym::default());
    let lift = catalogue.find("weighted-pull-up").unwrap();
    let added = |text: &str, member: &Member| {
        let part = read(text, catalogue).session.parts.remove(0);
        let found = lift_sheet(&part, lift, member, &gym, catalogue);
        let loads = work(&found, WeightUnit::Kg);
        (loads, found.sets.first().and_then(|set| set.percent))
    };
    let mut member = Member { bodyweight: Some(Kilograms::from_kg(80.0)), ..Member::default() };
    member.maxes.insert(lift.id.clone(), Max::on_file(Kilograms::from_kg(40.0)));
    // 85 % of 80 and 40 together are 102, of which 22 hang: the plates make 22.5.
    assert_eq!(added("Weighted pull-up 3x3 @ 85%", &member), (vec![22.5; 3], Some(85.0)));
    // 60 % are 72, less than one's own weight: nothing is added.
    assert_eq!(added("Weighted pull-up 3x3 @ 60%", &member).0, [0.0; 3]);
    // Kilograms are what is added.
    assert_eq!(added("Weighted pull-up 3x3 +10 kg", &member), (vec![10.0; 3], Some(75.0)));
    // Ten without anything are a third more than one's own weight (Epley 1985): 95 % of 106.7 less 80 are 21.3.
    let mut counted = Member { bodyweight: Some(Kilograms::from_kg(80.0)), ..Member::default() };
    counted.best_reps.insert(MovementId::new("strict-pull-up"), 10);
    assert_eq!(added("Weighted pull-up 3x1 @ 95%", &counted).0, [21.25; 3]);
    assert!(added("Weighted pull-up 3x1 @ 95%", &Member::default()).0.is_empty());
    // Nothing is hung on who is asked for pull-ups.
    let strict = catalogue.find("strict-pull-up").unwrap();
    let part = read("Strict pull-up 5x5", catalogue).session.parts.remove(0);
    let found = lift_sheet(&part, strict, &counted, &gym, catalogue);
    assert!(found.sets.len() == 5 && found.sets.iter().all(|set| set.load.is_none()), "{found:?}");
}

#[test]
fn a_weight_that_the_plates_cannot_make_and_a_week_of_nothing_are_named() {
    let (catalogue, gym) = (Catalogue::standard(), Gym::default());
    let notes = |text: &str| {
        let session = read(text, catalogue).session;
        lantern_core::plan::plan(&session, &[squatter("A", 150.0)], &gym, catalogue, 1).strength[0]
            .notes
            .clone()
    };
    let odd = notes("Back squat 5x5 @ 33.3 kg");
    assert!(odd.len() == 1 && odd[0].contains("33.3 kg") && odd[0].contains("32.5 kg"), "{odd:?}");
    assert_eq!(notes("Back squat 5x5 @ 100 kg"), [""; 0]);
    let week = notes("Strength\nBack squat, week 3 of 6");
    assert!(week.len() == 1 && week[0].contains("Week 3 of 6"), "{week:?}");
}

#[test]
fn sets_that_get_heavier_do_so_each_time_for_light_lifters_too() {
    let gym = Gym::default();
    for kg in [40.0, 55.0, 80.0, 160.0] {
        let found =
            work(&sheet("Back squat 6x3, heavier each set", &squatter("A", kg), &gym), WeightUnit::Kg);
        assert_eq!(found.len(), 6);
        // The empty bar is where it ends.
        assert!(found.windows(2).all(|pair| pair[0] < pair[1] || pair[1] == 20.0), "{kg}: {found:?}");
    }
}

#[test]
fn a_written_jump_is_what_is_put_on() {
    let gym = Gym::default();
    let of = |text: &str, kg: f64| work(&sheet(text, &squatter("A", kg), &gym), WeightUnit::Kg);
    assert_eq!(of("Back squat 4x5, start at 60 kg and add 5 kg each set", 120.0), [60.0, 65.0, 70.0, 75.0]);
    // Until it is missed: from what is light to what three can be done with, 92 % of the maximum.
    let missed = of("3 back squats every minute, 10 kg more each minute until failure", 140.0);
    assert_eq!((missed[0], missed[missed.len() - 1]), (60.0, 120.0));
    assert!(missed.windows(2).all(|pair| pair[1] - pair[0] == 10.0), "{missed:?}");
    let begun = sheet(
        "3 back squats every minute, 10 kg more each minute until failure",
        &squatter("A", 140.0),
        &gym,
    );
    let why = &begun.sets[0].why;
    assert!(
        why.guess && why.steps.iter().any(|step| step.contains("10 kg more each set, as written")),
        "{why:?}"
    );
    let started = of("1 back squat every minute, 100 kg, 5 kg more each minute until you miss", 128.0);
    assert_eq!(started, [100.0, 105.0, 110.0, 115.0, 120.0, 125.0]);
    // Without a written start the last is as heavy as such sets get, and the others lead there.
    let led = of("Back squat 5x3, add 5 kg each set", 150.0);
    assert!(led.windows(2).all(|pair| pair[1] - pair[0] == 5.0) && led[4] == 135.0, "{led:?}");
    // Who is light begins with the bar.
    assert_eq!(of("Back squat 5x3, add 5 kg each set", 34.0)[..2], [15.0, 15.0]);
}

#[test]
fn sets_that_are_built_up_end_at_their_share() {
    let gym = Gym::default();
    let of = |text: &str| work(&sheet(text, &squatter("A", 100.0), &gym), WeightUnit::Kg);
    assert_eq!(of("Back squat 5x3 building to 85%"), [65.0, 70.0, 75.0, 80.0, 85.0]);
    assert_eq!(
        of("Back squat - 3 ramping sets of 5, then 3 x 5 at 80%"),
        [65.0, 70.0, 75.0, 80.0, 80.0, 80.0]
    );
    // Many sets begin no lower than at seven tenths of the end.
    assert_eq!(of("Back squat 10x2 building to 80%")[0], 55.0);
}

#[test]
fn sets_have_the_effort_that_is_told_of_each() {
    let gym = Gym::default();
    let of = |text: &str| work(&sheet(text, &squatter("A", 100.0), &gym), WeightUnit::Kg);
    // Six with three, with two and with one in reserve are what nine, eight and seven allow.
    let each = of("Back squat 4 x 6 @ RPE 7, 8, 8, 9");
    assert!(each[0] < each[1] && each[1] == each[2] && each[2] < each[3], "{each:?}");
    assert_eq!(of("Back squat 2 x 6 @ RPE 7-8").windows(2).filter(|pair| pair[0] != pair[1]).count(), 0);
}

#[test]
fn a_share_that_nobody_can_lift_is_named_and_gives_no_load() {
    let reading = read("Back squat 5x5 @ 150%", Catalogue::standard());
    assert!(reading.problems.iter().any(|problem| problem.message.contains("150 %")), "{reading:?}");
    let found = sheet("Back squat 5x5 @ 150%", &squatter("A", 100.0), &Gym::default());
    assert_eq!(found.sets.len(), 5);
    assert!(found.sets.iter().all(|set| set.load.is_none() && set.percent.is_none()), "{found:?}");
    // Whoever is held is not given an empty bar for it either.
    let heart = Member {
        limits: vec![lantern_core::limits::Limit::new("heart: no maximal singles")],
        ..squatter("A", 100.0)
    };
    let held = sheet("Back squat 5x5 @ 150%", &heart, &Gym::default());
    assert!(held.sets.iter().all(|set| set.load.is_none()), "{held:?}");
    let many = read("Back squat 3x150 @ 40%", Catalogue::standard());
    assert!(many.problems.iter().any(|problem| problem.message.contains("150 repetitions")), "{many:?}");
}

#[test]
fn a_coach_can_let_somebody_lift_as_written_and_is_named() {
    use lantern_core::limits::Limit;
    use lantern_core::strength::{Lifting, LoadEdits, Release};
    let (catalogue, gym) = (Catalogue::standard(), Gym::default());
    let member = Member { limits: vec![Limit::new("heart: no maximal singles")], ..squatter("A", 100.0) };
    let release = Release {
        member: "A".to_owned(),
        lift: "back-squat".to_owned(),
        by: "unsigned".to_owned(),
        at: "2026-11-23 18:05".to_owned(),
    };
    let edits = LoadEdits { released: vec![release.clone()] };
    let part = read("Back squat 3x1 @ 95%", catalogue).session.parts.remove(0);
    let lift = catalogue.find("back-squat").unwrap();
    let released = edits.release("A", "back-squat");
    let lifting =
        Lifting { part: &part, built: None, member: &member, most: None, released, gym: &gym, catalogue };
    let found = lifting.sheet(lift, lift);
    assert_eq!(work(&found, WeightUnit::Kg), [95.0; 3]);
    assert_eq!((found.released, found.held), (Some(release), None));
    // Another lift, and another member, stay held.
    assert_eq!(edits.release("A", "deadlift"), None);
    assert_eq!(edits.release("B", "back-squat"), None);
}

/// What is written beside one lift of several is of that one.
#[test]
fn each_lift_of_a_superset_has_its_own_share() {
    let catalogue = Catalogue::standard();
    let people = [Member {
        bodyweight: Some(Kilograms::from_kg(80.0)),
        best_reps: [(MovementId::new("pull-up"), 12)].into(),
        maxes: [("bench-press", 100.0), ("back-squat", 140.0)]
            .map(|(lift, kg)| (MovementId::new(lift), Max::on_file(Kilograms::from_kg(kg))))
            .into(),
        ..Member::default()
    }];
    let loads = |text: &str| {
        let session = read(text, catalogue).session;
        let lift = &plan(&session, &people, &Gym::default(), catalogue, 1).strength[0];
        let of = |sheet: &LiftSheet| (sheet.lift.clone(), work(sheet, WeightUnit::Kg));
        lift.sheets.iter().map(of).collect::<Vec<_>>()
    };
    let each = loads("Superset, 4 rounds\nBench press 8 @ 70 %\nBack squat 6 @ 50 %");
    assert_eq!(each, [("bench-press".to_owned(), vec![70.0; 4]), ("back-squat".to_owned(), vec![70.0; 4])]);
    // What goes between is nobody's share.
    let beside = loads("Superset, 4 rounds\nBench press 8 @ 70 %\nPull-up 8");
    assert_eq!(beside, [("bench-press".to_owned(), vec![70.0; 4]), ("pull-up".to_owned(), Vec::new())]);
    let one = loads("Superset, 3 rounds\nBench press 8 @ 70 %\nBack squat 5");
    // Five with two in reserve are 82 %.
    assert_eq!(one, [("bench-press".to_owned(), vec![70.0; 3]), ("back-squat".to_owned(), vec![115.0; 3])]);
}

/// A share of today's heaviest is of what the build before it ends at, and not of the maximum on file.
#[test]
fn a_share_of_today_is_of_the_build_in_the_part_before() {
    let (catalogue, gym) = (Catalogue::standard(), Gym::default());
    let text =
        "A) Deadlift: build to a heavy triple in 12 minutes\n\nB) Deadlift 3x5 @ 80 % of today's heaviest";
    let session = read(text, catalogue).session;
    assert_eq!(session.parts.len(), 2);
    let maxes = [(MovementId::new("deadlift"), Max::on_file(Kilograms::from_kg(200.0)))].into();
    let people = [Member { maxes, experience: Experience::Intermediate, ..Member::default() }];
    let made = plan(&session, &people, &gym, catalogue, 1);
    // A triple is 92.5 % of 200 kg, and 80 % of that are 148.
    assert_eq!(work(&made.strength[1].sheets[0], WeightUnit::Kg), [147.5; 3]);
}

/// "80 % of today's snatch" of a squat is of the snatch, however much is squatted.
#[test]
fn a_share_of_today_is_of_the_lift_that_was_built_to() {
    let (catalogue, gym) = (Catalogue::standard(), Gym::default());
    let text =
        "A) Snatch: build to a heavy triple in 15 minutes\n\nB) Overhead squat 3x5 @ 80 % of today's snatch";
    let session = read(text, catalogue).session;
    assert_eq!(session.parts.len(), 2);
    let kg = |lift: &str, kg: f64| (MovementId::new(lift), Max::on_file(Kilograms::from_kg(kg)));
    let maxes = [kg("snatch", 100.0), kg("overhead-squat", 150.0)].into();
    let people = [Member { maxes, experience: Experience::Intermediate, ..Member::default() }];
    let made = plan(&session, &people, &gym, catalogue, 1);
    let squat = &made.strength[1].sheets[0];
    // A triple is 92.5 % of 100 kg, and 80 % of that are 74.
    assert_eq!(work(squat, WeightUnit::Kg), [75.0; 3]);
    let why = format!("{:?}", squat.sets.last().unwrap().why);
    assert!(why.contains("what today's build is to end at, 92.5 kg"), "{why}");
}

/// A lift that somebody spares is not loaded a little less: another one stands in its place, with its own max and plates.
#[test]
fn who_spares_a_lift_does_another_one_with_its_own_base() {
    use lantern_core::limits::Limit;
    let (catalogue, gym) = (Catalogue::standard(), Gym::default());
    let limited = |name: &str, words| Member { limits: vec![Limit::new(words)], ..squatter(name, 120.0) };
    let people = [
        squatter("Free", 100.0),
        limited("Knee", "no deep squats, knee"),
        limited("All", "nothing with a barbell, no loads at all, no weights"),
    ];
    let session = read("Back squat 5x3 @ 80%", catalogue).session;
    let lift = &plan(&session, &people, &gym, catalogue, 1).strength[0];
    let [free, knee, _] = &lift.sheets[..] else { panic!("{:?}", lift.sheets) };
    assert_eq!((free.lift.as_str(), &free.instead_of), ("back-squat", &None));
    assert_eq!(knee.instead_of.as_deref(), Some("back-squat"));
    assert_ne!(knee.lift, "back-squat");
    let spares = |sheet: &LiftSheet| {
        let lift = catalogue.find(&sheet.lift).unwrap();
        people[1].limits.iter().any(|limit| limit.spares(lift))
    };
    assert!(!spares(knee) && !knee.sets.is_empty(), "{knee:?}");
    let why = knee.held_why.as_ref().unwrap();
    assert!(why.starts_with("back squat was written: ") && !why.contains("knee"), "{why}");
    // Whoever keeps a bar keeps a rack; nobody is lost between the two.
    let racks = &lift.racks[0].1;
    let mut places: Vec<usize> = racks.racks.iter().flat_map(|rack| rack.order.clone()).collect();
    places.extend(racks.by_feel.iter().chain(&racks.beside));
    places.sort_unstable();
    assert_eq!(places, [0, 1, 2]);
}

/// Nobody without a max stands before an empty bar without a word: a range to begin in, by feel first, and marked as a guess.
#[test]
fn who_has_no_max_is_told_where_to_begin() {
    use lantern_core::limits::Limit;
    let (catalogue, gym) = (Catalogue::standard(), Gym::default());
    let person = |name: &str, sex, experience| Member {
        name: name.to_owned(),
        sex: Some(sex),
        experience,
        ..Member::default()
    };
    let careful = Limit::new("nothing over 30 kg");
    let people = [
        person("New", Sex::F, Experience::New),
        person("Regular", Sex::F, Experience::Intermediate),
        person("Strong", Sex::M, Experience::Advanced),
        Member { limits: vec![careful], ..person("Careful", Sex::M, Experience::Advanced) },
    ];
    for text in ["Back squat 5x5 @ 75%", "Strict press 3x8", "Dumbbell bench press 4x8 @ RPE 8"] {
        let session = read(text, catalogue).session;
        let sheets = &plan(&session, &people, &gym, catalogue, 1).strength[0].sheets;
        let begins: Vec<(f64, f64)> = sheets
            .iter()
            .map(|sheet| sheet.sets[0].range.unwrap())
            .map(|(low, high)| (low.kg(), high.kg()))
            .collect();
        assert!(begins[0].1 <= begins[1].1 && begins[1].1 < begins[2].1, "{text}: {begins:?}");
        assert!(begins.iter().all(|(low, high)| low <= high), "{text}: {begins:?}");
        assert!(begins[3].1 <= 30.0, "{text}: {begins:?}");
        for sheet in sheets {
            let feel = sheet.by_feel.as_ref().unwrap();
            assert!(
                feel.starts_with("begin with ") && feel.contains("a guess; no max on file: by feel"),
                "{feel}"
            );
            assert!(sheet.sets.iter().all(|set| set.load.is_none() && set.why.guess));
        }
    }
    // A max on file needs no guess.
    let known = squatter("Known", 100.0);
    let session = read("Back squat 5x5 @ 75%", catalogue).session;
    let sheet = &plan(&session, &[known], &gym, catalogue, 1).strength[0].sheets[0];
    assert!(sheet.by_feel.is_none() && sheet.sets.iter().all(|set| set.range.is_none()));
}
