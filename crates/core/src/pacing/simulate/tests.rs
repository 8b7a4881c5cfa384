use super::*;
use crate::member::{Experience, Member, Sex};
use crate::read::read;
use proptest::prelude::*;

fn run(text: &str, member: &Member) -> Run {
    let catalogue = Catalogue::standard();
    let reading = read(text, catalogue);
    let tree = &reading.session.parts[0].tree;
    simulate(tree, &Athlete::new(member), catalogue, Model::standard(), Luck::MEDIAN)
}

fn regular() -> Member {
    Member { sex: Some(Sex::M), experience: Experience::Intermediate, ..Member::default() }
}

#[test]
fn an_amrap_ends_when_its_time_is_up_and_counts_parts_of_rounds() {
    let run = run("AMRAP 9\n9 push-ups\n14 air squats", &regular());
    assert_eq!(run.finish_s, 540.0);
    assert!(run.rounds > 4.0 && run.rounds < 20.0 && run.rounds.fract() > 0.0, "{run:?}");
}

#[test]
fn written_rests_count_on_the_clock() {
    let with = run("3 rounds\n20 air squats\nrest 1:00 between rounds", &regular());
    let without = run("3 rounds for time\n20 air squats", &regular());
    assert!(with.finish_s > without.finish_s + 60.0, "{} {}", with.finish_s, without.finish_s);
}

#[test]
fn a_rest_in_an_open_round_is_rested() {
    let without = run("AMRAP 20\n200 m run\n15 air squats", &regular());
    let with = run("AMRAP 20\n200 m run\n15 air squats\nrest 1:00 between rounds", &regular());
    assert_eq!((with.finish_s, without.finish_s), (1200.0, 1200.0));
    // A minute in each of them: the round that was a minute and a half takes two and a half.
    let [with, without] = [with, without].map(|run| 1200.0 / run.rounds);
    assert!((45.0..65.0).contains(&(with - without)), "{with} s a round, {without} s without a rest");
}

#[test]
fn what_a_pair_does_in_step_each_of_them_does_in_full() {
    let seconds = |burpees: &str| {
        run(&format!("In pairs, share as you like\nFor time\n400 m run\n{burpees}"), &regular()).finish_s
    };
    let (shared, in_step) = (seconds("60 burpees"), seconds("60 synchro burpees"));
    // As many in a row, without the rest while the other works; twice as many one after the other take longer.
    assert!(shared < in_step && in_step < seconds("120 burpees"), "{shared} shared, {in_step} in step");
}

#[test]
fn what_who_waits_holds_takes_no_time_of_its_own() {
    let seconds = |hold: &str| {
        run(&format!("In pairs, for time\n90 wall balls 9/6 kg ({hold})\n60 sit-ups"), &regular()).finish_s
    };
    // The way they share is the same with a hold that is named and one that is not.
    let (named, unnamed) = (seconds("partner holds a plank"), seconds("your partner holds"));
    assert!((named - unnamed).abs() < 1.0, "{named} s with its name, {unnamed} s without");
}

#[test]
fn a_rising_clock_ends_in_the_interval_that_no_longer_holds() {
    let run = run(
        "Every minute on the minute until you can't\nmin 1 - 1 burpee\nmin 2 - 2 burpees\nmin 3 - 3",
        &regular(),
    );
    let failed = run.failed_round.unwrap();
    assert!((10..=20).contains(&failed), "{failed}");
}

#[test]
fn a_pair_taking_rounds_in_turn_does_more_than_one_and_less_than_two() {
    let alone = run("AMRAP 18\n6 hang power cleans 50/35 kg\n6 burpees", &regular()).rounds;
    let text = "In pairs, I go you go, AMRAP 18\n6 hang power cleans 50/35 kg\n6 burpees";
    let pair = run(text, &regular()).rounds;
    // Each works half of the time and fresher, so the pair gets further than one without a rest.
    assert!(pair > alone && pair < 2.0 * alone, "{alone} alone, {pair} as a pair");
    // Eight rounds in turn take about as long as eight alone, without the fatigue.
    let eight = |text: &str| run(text, &regular()).finish_s;
    let turns = eight("In pairs, alternating rounds\n8 rounds for time\n10 pull-ups\n10 push-ups");
    assert!(turns < eight("8 rounds for time\n10 pull-ups\n10 push-ups"));
}

#[test]
fn interruptions_and_penalties_cost_time() {
    let plain = run("For time\n60 wall balls 9/6 kg", &regular()).finish_s;
    let cut =
        run("For time\n60 wall balls 9/6 kg\nat the start of every minute: 5 burpees", &regular()).finish_s;
    let owed = run("For time\n60 wall balls 9/6 kg\nevery time you break: run 100 m", &regular()).finish_s;
    assert!(cut > plain && owed > plain, "{plain} {cut} {owed}");
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(40))]

    #[test]
    fn prop_more_reps_and_more_rounds_never_finish_sooner(reps in 3_u32..40, rounds in 1_u32..6, level in 0_usize..4) {
        let experience = [Experience::New, Experience::Beginner, Experience::Intermediate, Experience::Advanced][level];
        let member = Member { experience, ..regular() };
        let time = |rounds: u32, reps: u32| {
            run(&format!("{rounds} rounds for time\n{reps} thrusters 40 kg\n{reps} burpees"), &member).finish_s
        };
        let base = time(rounds, reps);
        prop_assert!(time(rounds + 1, reps) >= base);
        prop_assert!(time(rounds, reps + 5) >= base);
    }

    #[test]
    fn prop_a_heavier_bar_or_less_capacity_never_finishes_sooner(kg in 20_u32..70, more in 5_u32..30, luck in 0.7..1.0_f64) {
        let catalogue = Catalogue::standard();
        let member = regular();
        let time = |kg: u32, capacity: f64| {
            let text = format!("For time\n21 thrusters {kg} kg\n21 pull-ups");
            let reading = read(&text, catalogue);
            let luck = Luck { pace: 1.0, capacity };
            let athlete = Athlete::new(&member);
            simulate(&reading.session.parts[0].tree, &athlete, catalogue, Model::standard(), luck).finish_s
        };
        prop_assert!(time(kg + more, 1.0) >= time(kg, 1.0) - 1.0);
        prop_assert!(time(kg, luck) >= time(kg, 1.0) - 1.0);
    }

    #[test]
    fn prop_more_rest_between_rounds_never_makes_the_work_longer(rest in 30_u32..120, more in 15_u32..120) {
        let work = |rest: u32| {
            let text = format!("4 rounds for time\n12 pull-ups\n12 push-ups\nrest {rest} s between rounds");
            let finish = run(&text, &regular()).finish_s;
            finish - 3.0 * f64::from(rest)
        };
        prop_assert!(work(rest + more) <= work(rest) + 1.0);
    }

    #[test]
    fn prop_a_longer_window_never_holds_fewer_reps(minutes in 3_u32..20) {
        let reps = |m: u32| run(&format!("AMRAP {m}\n8 pull-ups\n12 push-ups\n200 m run"), &regular()).reps;
        prop_assert!(reps(minutes + 1) >= reps(minutes));
    }
}

/// Five times until the next start is as long as all of it: there is no rest to go harder for.
#[test]
fn as_much_as_there_is_room_for_until_the_next_start_goes_at_the_pace_of_the_whole() {
    let calories = |text: &str| run(text, &regular()).reps;
    let whole = calories("15 min max calories row");
    let bouts = calories("Every 3:00 x 5\nmax calories row");
    assert!((bouts / whole - 1.0).abs() < 0.02, "{bouts} in bouts, {whole} in one");
    let rested = calories("5 rounds\n3:00 max calories row\nrest 3:00");
    assert!(rested > whole * 1.02, "{rested} with a rest, {whole} without");
    let windows = calories("Every 3:00 x 5\n1:00 max calories row") / 5.0;
    assert!(windows > whole / 15.0 * 1.02, "{windows} a minute with two of rest, {whole} in fifteen minutes");
}
