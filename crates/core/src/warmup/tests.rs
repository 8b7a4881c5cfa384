//! Whole warm-ups of made-up days.

use super::*;
use crate::movement::Catalogue;
use crate::warmup::{Edits, Rehearsal, of_day, of_day_with, standard_items};

const DAY: &str =
    "Strength\nBack squat 5x3 @ 80%\n\nConditioning\n21-15-9 for time\nthrusters 40/30 kg\npull-ups";

fn ids(warmup: &Warmup) -> Vec<String> {
    warmup.items().map(|item| item.id.clone()).collect()
}

#[test]
fn a_warm_up_raises_in_rounds_before_it_rehearses_and_says_why() {
    let (_, warmup) = of_day(DAY);
    assert!(warmup.seconds.abs_diff(600) <= 60, "{}", warmup.seconds);
    let stages: Vec<Stage> = warmup.blocks.iter().map(|block| block.phase).collect();
    assert_eq!(stages, [Stage::Raise, Stage::Rehearse]);
    let rounds = &warmup.blocks[0];
    assert!(open::ROUNDS.contains(&rounds.rounds) && open::MOVES.contains(&rounds.items.len()), "{rounds:?}");
    assert_eq!(rounds.items[0].of.phase, Phase::Raise);
    assert!(warmup.items().all(|item| !item.why.is_empty()));
    assert_eq!(warmup.gaps, [""; 0]);
}

#[test]
fn a_day_without_work_needs_no_warm_up() {
    let (_, warmup) = of_day("Tomorrow the gym is closed.");
    assert_eq!(warmup, Warmup::default());
}

#[test]
fn what_only_the_piece_needs_is_rehearsed_right_before_it() {
    let (_, warmup) = of_day(DAY);
    let of_piece = warmup.specific.unwrap();
    let names = |item: &Item| item.prepares.clone();
    assert!(of_piece.items.iter().all(|item| !names(item).contains(&"back squat".to_owned())));
    assert!(of_piece.items.iter().any(|item| names(item).contains(&"pull-up".to_owned())));
}

#[test]
fn drills_are_of_the_days_own_lifts_and_in_teaching_order() {
    let catalogue = Catalogue::standard();
    let (_, warmup) = of_day("Strength\nClean and jerk: build to a heavy single in 15 minutes");
    let drills: Vec<&Item> = warmup.blocks.last().unwrap().items.iter().collect();
    assert!(drills.len() >= 3, "{drills:?}");
    let lift = catalogue.get(&crate::movement::MovementId::new("clean-and-jerk")).unwrap();
    let steps = Rehearsal::of(lift, catalogue).steps();
    let places: Vec<usize> =
        drills.iter().map(|drill| steps.iter().position(|step| step.id == drill.id).unwrap()).collect();
    assert!(places.is_sorted(), "{places:?}");
}

#[test]
fn a_rebuild_keeps_what_is_locked_and_does_not_bring_back_what_was_refused() {
    let before = ids(&of_day(DAY).1);
    let mut edits = Edits::default();
    edits.refuse(&before[0]);
    edits.keep("cat-cow-flow");
    edits.dose("cat-cow-flow", "16 reps");
    // Another day's work: what was locked stays all the same.
    for text in [DAY, "AMRAP 12\n10 burpees\n12 deadlifts 60/40 kg"] {
        let (_, warmup) = of_day_with(text, &edits);
        let after = ids(&warmup);
        assert!(after.contains(&"cat-cow-flow".to_owned()) && !after.contains(&before[0]), "{after:?}");
        let kept = warmup.items().find(|item| item.id == "cat-cow-flow").unwrap();
        assert_eq!(kept.dose, "16 reps");
        assert!(warmup.seconds.abs_diff(600) <= 60, "{}", warmup.seconds);
    }
}

#[test]
fn the_order_of_the_coach_is_kept() {
    let (_, warmup) = of_day(DAY);
    let block = &warmup.blocks[0];
    let second = block.items[1].id.clone();
    let mut edits = Edits::default();
    let (other, seen) = Edits::neighbour(&warmup, &second, false).unwrap();
    edits.exchange(&second, &other, &seen);
    let (_, again) = of_day_with(DAY, &edits);
    assert_eq!(again.blocks[0].items[0].id, second);
}

#[test]
fn own_text_stands_as_written_and_its_gaps_are_offered() {
    let text = format!("Warm-up\n2 rounds\n250 m row\n10 air squats\n\n{DAY}");
    let (_, warmup) = of_day(&text);
    assert_eq!(warmup.blocks.len(), 1);
    assert_eq!((warmup.blocks[0].phase, warmup.blocks[0].rounds), (Stage::Own, 2));
    let own: Vec<&str> = warmup.blocks[0].items.iter().map(|item| item.name.as_str()).collect();
    assert_eq!(own, ["Row", "Air squat"]);
    assert!(!warmup.offers.is_empty() && warmup.offers.len() <= MOST_OFFERS);
    // What was taken of the offers stands beside the text, which stays what it was.
    let mut edits = Edits::default();
    warmup.offers.iter().for_each(|offer| edits.keep(&offer.id));
    let (_, filled) = of_day_with(&text, &edits);
    assert_eq!(filled.blocks[0], warmup.blocks[0]);
    for offer in &warmup.offers {
        assert!(filled.items().any(|item| item.id == offer.id), "{}", offer.name);
        assert!(!filled.offers.iter().any(|again| again.id == offer.id), "{}", offer.name);
    }
    let sum: u32 = warmup.offers.iter().map(|offer| offer.seconds).sum();
    assert_eq!(filled.seconds, warmup.seconds + sum);
}

#[test]
fn a_drill_that_the_coach_keeps_stands_beside_their_own_text_whatever_it_says() {
    let text = format!("Warm-up\n10 back squats 20 kg\n\n{DAY}");
    let mut edits = Edits::default();
    edits.keep("back-squat-1-empty");
    assert!(ids(&of_day_with(&text, &edits).1).contains(&"back-squat-1-empty".to_owned()));
}

#[test]
fn minutes_given_beside_the_own_text_are_filled_with_what_it_leaves_open() {
    let text = format!("Warm-up\n250 m row\n\n{DAY}");
    let (session, short) = of_day(&text);
    let (gym, catalogue) = (crate::gym::Gym::default(), Catalogue::standard());
    let request = WarmupRequest { seconds: Some(360), ..WarmupRequest::of(&session, &gym, catalogue) };
    let longer = build_warmup(request);
    assert!(longer.seconds > short.seconds && longer.seconds <= 360 + EXPLAIN_S, "{}", longer.seconds);
}

#[test]
fn nothing_is_chosen_on_what_is_too_few_for_the_class() {
    let gym = crate::gym::Gym { rowers: 1, kettlebells: Vec::new(), ..crate::gym::Gym::default() };
    let catalogue = Catalogue::standard();
    let session =
        crate::read::read("For time\n2000 m row\n100 kettlebell swings 24/16 kg", catalogue).session;
    let request = WarmupRequest { people: 28, ..WarmupRequest::of(&session, &gym, catalogue) };
    let warmup = build_warmup(request);
    for item in warmup.items() {
        assert!(!item.of.equipment.iter().any(|kit| kit == "kettlebell" || kit == "rower"), "{item:?}");
    }
    assert!(standard_items().len() > warmup.items().count());
}

#[test]
fn own_text_is_led_shorter_where_the_hour_asks_for_it() {
    let text = format!("Warm-up\n3 rounds\n250 m row\n10 air squats\n\n{DAY}");
    let (session, whole) = of_day(&text);
    let (gym, catalogue) = (crate::gym::Gym::default(), Catalogue::standard());
    let shorter =
        build_warmup(WarmupRequest { change_s: -120, ..WarmupRequest::of(&session, &gym, catalogue) });
    assert!((whole.seconds - shorter.seconds).abs_diff(120) <= 5, "{} {}", whole.seconds, shorter.seconds);
    assert_eq!(whole.items().count(), shorter.items().count());
}
