//! What the fitted model says of the table, and that it is smooth: people, loads and repetitions a little apart are predicted a
//! little apart, and more is never quicker.

use fit::learn::fit;
use fit::priors::{priors, rewritten, with};
use fit::report::{Figures, judged};
use fit::table::cases;
use lantern_core::member::{Experience, Max, Member, Sex};
use lantern_core::movement::{Catalogue, MovementId};
use lantern_core::pacing::{Athlete, Luck, Model, simulate};
use lantern_core::read::read;
use lantern_core::units::Kilograms;

#[test]
fn the_shipped_parameters_hold_most_of_the_table_and_none_is_off_by_two() {
    let cases = cases().unwrap();
    let figures = Figures::of(&judged(&cases, Model::standard()));
    assert!(figures.share() >= 0.9 && figures.far == 0 && figures.median_off <= 0.08, "{figures}");
}

#[test]
fn fewer_parameters_than_half_of_the_rows_and_none_without_a_place_in_the_model() {
    let (priors, cases) = (priors().unwrap(), cases().unwrap());
    assert!(priors.len() < 60 && priors.len() * 2 < cases.len(), "{}", priors.len());
    with(Model::standard(), &priors, &vec![0.0; priors.len()]).unwrap();
}

#[test]
fn the_fitter_gives_the_same_twice_and_draws_nothing_away_without_rows() {
    let (priors, cases) = (priors().unwrap(), cases().unwrap());
    let few: Vec<_> = cases.iter().filter(|case| case.category == "single engine").collect();
    let once = fit(&few, &priors, Model::standard()).unwrap();
    assert_eq!(once, fit(&few, &priors, Model::standard()).unwrap());
    assert!(once.iter().any(|off| off.abs() > 0.01));
    assert!(fit(&[], &priors, Model::standard()).unwrap().iter().all(|off| off.abs() < 1e-9));
}

#[test]
fn a_value_is_written_in_its_own_line_and_comments_stay() {
    let priors = priors().unwrap();
    let text = "[fitted.pace]\n# why\nburpee = 2.0\n[other]\nburpee = 3.0\n";
    let now = rewritten(text, &priors, &vec![0.0; priors.len()]);
    assert_eq!(now, "[fitted.pace]\n# why\nburpee = 1.0\n[other]\nburpee = 3.0\n");
}

/// Somebody on the line from slow (0) to quick (1), with everything on file.
fn somebody(quick: f64) -> Member {
    let between = |slow: f64, fast: f64| slow + (fast - slow) * quick;
    let lifts = [
        ("back-squat", 80.0, 180.0),
        ("front-squat", 68.0, 152.0),
        ("deadlift", 105.0, 215.0),
        ("clean", 55.0, 132.0),
        ("snatch", 40.0, 100.0),
        ("push-press", 48.0, 105.0),
    ];
    let best = [("pull-up", 6.0, 42.0), ("push-up", 14.0, 58.0), ("toes-to-bar", 5.0, 28.0)];
    Member {
        sex: Some(Sex::M),
        bodyweight: Some(Kilograms::from_kg(84.0)),
        experience: Experience::Intermediate,
        maxes: lifts
            .map(|(lift, slow, fast)| {
                (MovementId::new(lift), Max::on_file(Kilograms::from_kg(between(slow, fast))))
            })
            .into(),
        best_reps: best.map(|(id, slow, fast)| (MovementId::new(id), between(slow, fast) as u32)).into(),
        row_2k_s: Some(between(500.0, 400.0) as u32),
        run_400_s: Some(between(120.0, 70.0) as u32),
        run_1600_s: Some(between(560.0, 340.0) as u32),
        ..Member::default()
    }
}

fn finish(text: &str, member: &Member) -> f64 {
    let catalogue = Catalogue::standard();
    let tree = &read(text, catalogue).session.parts[0].tree;
    simulate(tree, &Athlete::new(member), catalogue, Model::standard(), Luck::MEDIAN).finish_s
}

/// Each may take a little longer than the one before, and never as much as 15 % more.
fn rises_without_jumps(what: &str, finishes: &[f64]) {
    for pair in finishes.windows(2) {
        assert!(pair[1] >= pair[0] * 0.999, "{what}: more is quicker: {finishes:?}");
        assert!(pair[1] < pair[0] * 1.15, "{what}: a jump: {finishes:?}");
    }
}

#[test]
fn quicker_people_finish_sooner_and_neighbours_near_each_other() {
    for text in [
        "For time\n100 burpees",
        "For time\n60 pull-ups",
        "For time\n30 power cleans 60 kg",
        "3 rounds for time\n400 m run\n15 wall balls 9 kg\n10 toes-to-bar",
        "5 rounds for time\n500 m row\n12 deadlifts 80 kg",
    ] {
        let finishes: Vec<f64> =
            (10..=40).rev().map(|n| finish(text, &somebody(f64::from(n) / 40.0))).collect();
        rises_without_jumps(text, &finishes);
    }
}

#[test]
fn heavier_and_more_take_longer_without_a_jump() {
    for quick in [0.2, 0.5, 0.8] {
        let member = somebody(quick);
        let most = member.maxes[&MovementId::new("clean")].value.kg() * 0.85;
        let loads: Vec<f64> = (0..)
            .map(|n| 20.0 + 2.5 * f64::from(n))
            .take_while(|kg| *kg <= most)
            .map(|kg| finish(&format!("For time\n30 power cleans {kg} kg\n30 push-ups"), &member))
            .collect();
        rises_without_jumps("loads", &loads);
        let reps: Vec<f64> =
            (20..90).map(|n| finish(&format!("For time\n{n} pull-ups\n{n} air squats"), &member)).collect();
        rises_without_jumps("repetitions", &reps);
    }
}

/// What four questions ask: which of a pair they take, a lift, pull-ups in one go, and a row or a run.
fn four_answers(full: &Member, asks_row: bool) -> Member {
    let squat = MovementId::new("back-squat");
    let pull_up = MovementId::new("pull-up");
    let mut member = Member { name: full.name.clone(), sex: full.sex, ..Member::default() };
    member.maxes.extend(full.maxes.get(&squat).map(|max| (squat.clone(), *max)));
    member.best_reps.extend(full.best_reps.get(&pull_up).map(|best| (pull_up.clone(), *best)));
    match asks_row {
        true => member.row_2k_s = full.row_2k_s,
        false => member.run_1600_s = full.run_1600_s,
    }
    member.limits.clone_from(&full.limits);
    member
}

#[test]
fn four_answers_say_nearly_as_much_as_a_full_row() {
    let off = |asked: &dyn Fn(&Member) -> Member| {
        let mut cases = cases().unwrap();
        cases.iter_mut().for_each(|case| case.member = asked(&case.member));
        Figures::of(&judged(&cases, Model::standard()))
    };
    let full = off(&Member::clone);
    let name_only = off(&|full| Member { name: full.name.clone(), sex: full.sex, ..Member::default() });
    for asks_row in [true, false] {
        let four = off(&|full| four_answers(full, asks_row));
        println!("full\n{full}\nfour, row {asks_row}\n{four}\nname\n{name_only}");
        assert!(four.median_off <= full.median_off * 2.0, "full\n{full}\nfour\n{four}\nname\n{name_only}");
        assert!(four.median_off < name_only.median_off);
    }
}
