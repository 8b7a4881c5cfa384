//! What members say that they spare: labelled sentences, and properties of any words.

use lantern_core::limits::Limit;
use lantern_core::movement::{Catalogue, MovementId};
use proptest::prelude::*;
use serde::Deserialize;

#[derive(Deserialize)]
struct Labelled {
    id: String,
    text: String,
    forbids: Vec<String>,
    ceiling_percent: Option<f64>,
    ceiling_kg: Option<f64>,
    effort_max_rpe: Option<f64>,
    until: Option<String>,
    condition: Option<String>,
    unread: bool,
    must_not: Vec<String>,
    fine: Vec<String>,
}

fn labelled() -> Vec<Labelled> {
    serde_json::from_str(include_str!("labelled/limits.json")).unwrap()
}

/// Nothing that a label calls unread passes as understood; of the others few are asked about in vain.
#[test]
fn what_is_not_understood_is_marked() {
    let all = labelled();
    let missed: Vec<&str> = all
        .iter()
        .filter(|row| row.unread && !Limit::new(&row.text).is_unread())
        .map(|row| &*row.text)
        .collect();
    assert_eq!(missed, [""; 0]);
    let readable: Vec<&Labelled> = all.iter().filter(|row| !row.unread).collect();
    let vain: Vec<&str> =
        readable.iter().filter(|row| Limit::new(&row.text).is_unread()).map(|row| &*row.text).collect();
    println!("asked about in vain: {vain:#?}");
    assert!(vain.len() * 100 <= readable.len() * 15, "{vain:#?}");
}

fn spares(text: &str, id: &str) -> bool {
    let movement = Catalogue::standard().get(&MovementId::new(id)).unwrap();
    Limit::new(text).spares(movement)
}

/// What is over is the part that it is said of.
#[test]
fn an_injury_that_is_over_takes_no_other_with_it() {
    assert!(!spares("slipped disc, all good now", "deadlift"));
    assert!(spares("knee sore, shoulder fully healed", "box-jump"));
    assert!(!spares("knee sore, shoulder fully healed", "strict-press"));
    assert!(spares("sore knee, squats fine now", "box-jump"));
    assert!(spares("shoulder fully healed, knee sore", "lunge"));
    assert!(spares("sore shoulder, not fully healed", "strict-press"));
}

/// A condition's bans are lifted by whoever treats the person, for what they name, and by nobody else.
#[test]
fn only_what_the_doctor_names_is_lifted() {
    let id = "deadlift";
    let heavy = "hernia, not repaired yet";
    assert!(spares(heavy, id) && !spares(&format!("{heavy}, doctor ok with deadlifts"), id));
    assert!(spares(&format!("{heavy}, deadlifts are fine, doctor says no running"), id));
    assert!(spares(&format!("{heavy}, doctor ok with deadlifts"), "kettlebell-swing"));
}

/// One form of a movement, and no longer a matter of its whole family.
#[test]
fn a_form_that_is_asked_for_stays_and_the_others_go() {
    let tool = "thrusters only with dumbbells";
    assert!(spares(tool, "thruster") && !spares(tool, "dumbbell-thruster"));
    let jump = "burpees without the jump";
    assert!(spares(jump, "burpee") && !spares(jump, "step-back-burpee"));
}

/// "Heavy" alone says little of a sore part: what is usual is spared, and it is asked. Said of the floor it is the pull from there.
#[test]
fn nothing_heavy_leaves_a_sore_part_spared() {
    for text in ["bad back: nothing heavy", "no heavy cleans, sore back"] {
        assert!(spares(text, "deadlift") && Limit::new(text).is_unread(), "{text}");
    }
    for text in ["sore back, nothing heavy from the ground", "back: no heavy lifting off the floor"] {
        assert!(spares(text, "deadlift") && !spares(text, "sit-up"), "{text}");
        assert!(!Limit::new(text).is_unread(), "{text}");
    }
    let floor = "getting up off the floor hurts";
    assert!(spares(floor, "burpee") && !spares(floor, "deadlift"));
    assert!(spares("no barbell today, sore back", "deadlift"));
}

#[test]
fn what_is_listed_behind_a_ban_is_banned() {
    let listed = Limit::new("no running, jumping");
    assert!(!listed.is_unread() && ["run", "box-jump"].iter().all(|id| spares("no running, jumping", id)));
    // A part of the body begins anew.
    assert!(Limit::new("no running, left shoulder").forbids().eq(["running"]));
}

#[test]
fn an_operation_to_come_has_not_happened() {
    let to_come = "hernia, surgery next month";
    assert!(spares(to_come, "deadlift") && Limit::new(to_come).until().is_none());
    assert!(!spares("hernia, surgery last year", "deadlift"));
}

#[test]
fn fear_is_a_ban_and_a_back_that_is_lain_on_is_not_sore() {
    assert!(spares("scared of box jumps, step-ups fine", "box-jump"));
    assert!(!spares("scared of box jumps, step-ups fine", "box-step-up"));
    let lying = "no lying on my back";
    assert!(spares(lying, "bench-press") && !spares(lying, "deadlift"));
    assert!(!Limit::new("nothing").is_unread());
    assert!(!spares("asthma, carries inhaler", "farmer-carry"));
}

#[test]
fn a_blow_to_the_head_is_cleared_by_a_doctor_or_asked_about() {
    let fresh = Limit::new("concussion last week");
    assert_eq!((fresh.condition(), fresh.is_unread()), (Some("concussion"), true));
    assert!(spares("concussion last week", "box-jump"));
    assert!(!spares("concussion in spring, cleared by doctor", "box-jump"));
}

/// What a sentence forbids is spared, unless the sentence is marked as unread.
#[test]
fn what_is_forbidden_is_spared_and_what_is_fine_stays() {
    let catalogue = Catalogue::standard();
    let (mut given, mut taken, mut fine) = (Vec::new(), Vec::new(), 0);
    for row in labelled() {
        let limit = Limit::new(&row.text);
        let spares = |id: &String| catalogue.get(&MovementId::new(id)).is_some_and(|m| limit.spares(m));
        let forbids: Vec<&str> = limit.forbids().collect();
        let short = row.forbids.iter().filter(|property| !forbids.contains(&&***property));
        let short: Vec<&String> = short.collect();
        if !limit.is_unread() {
            given
                .extend(row.must_not.iter().filter(|id| !spares(id)).map(|id| format!("{}: {id}", row.text)));
            given.extend(short.iter().map(|p| format!("{}: {p}", row.text)));
        }
        fine += row.fine.len();
        taken.extend(
            row.fine.iter().filter(|id| spares(id)).map(|id| format!("{} {}: {id}", row.id, row.text)),
        );
    }
    assert_eq!(given, [""; 0]);
    println!("taken away though fine: {taken:#?}");
    assert!(taken.len() * 100 <= fine * 10, "{} of {fine}", taken.len());
}

/// Ceilings, efforts, dates and conditions are read wherever they stand.
#[test]
fn ceilings_efforts_dates_and_conditions_are_read() {
    for row in labelled() {
        let limit = Limit::new(&row.text);
        let lowest = |of: fn(&lantern_core::limits::Ceiling) -> Option<f64>| {
            limit.ceilings().iter().filter_map(of).min_by(f64::total_cmp)
        };
        assert_eq!(lowest(|c| c.percent), row.ceiling_percent, "{}", row.text);
        assert_eq!(lowest(|c| c.kg), row.ceiling_kg, "{}", row.text);
        assert_eq!(limit.effort(), row.effort_max_rpe, "{}", row.text);
        let plain = |date: &str| date.trim_start_matches("the ").to_owned();
        assert_eq!(limit.until().map(plain), row.until.as_deref().map(plain), "{}", row.text);
        let safe = matches!(row.condition.as_deref(), None | Some("older" | "recent_surgery"));
        assert!(safe || limit.condition() == row.condition.as_deref() || limit.is_unread(), "{}", row.text);
    }
}

/// The sentences that were once dropped, shortened or taken for another joint.
#[test]
fn no_limit_vanishes_or_becomes_another() {
    let reasons = |text: &str| Limit::new(text).reasons().map(str::to_owned).collect::<Vec<_>>();
    assert_eq!(reasons("neck: nothing overhead")[0], "shoulder");
    assert!(Limit::new("heart condition").is_unread());
    assert!(Limit::new("hamstring strain").is_unread());
    let knee = Limit::new("left knee: back to jumping in March");
    assert_eq!(
        (reasons("left knee: back to jumping in March")[0].as_str(), knee.until()),
        ("knee", Some("March"))
    );
    assert!(knee.forbids().eq(["jump"]) && !knee.is_unread());
    let both = reasons("sore shoulder and knee");
    assert!(both.contains(&"shoulder".to_owned()) && both.contains(&"knee".to_owned()), "{both:?}");
    // Whole words: a hip is no ship, a calf no calfskin.
    for words in ["shipping on Monday", "heelys", "background check"] {
        assert!(Limit::new(words).is_unread() && reasons(words).is_empty(), "{words}");
    }
}

proptest! {
    /// Any words are kept as they are; what has letters is understood or marked.
    #[test]
    fn words_are_kept_whatever_they_are(text in "\\PC{0,80}") {
        let limit = Limit::new(&text);
        prop_assert_eq!(&limit.text, text.trim());
        let understood = limit.forbids().next().is_some() || limit.is_nothing() || limit.is_unread()
            || !limit.ceilings().is_empty() || limit.effort().is_some() || limit.condition().is_some()
            || !limit.allows().is_empty() || Catalogue::standard().iter().any(|m| limit.spares(m));
        prop_assert!(understood || text.trim().is_empty());
        let again: Limit = serde_json::from_str(&serde_json::to_string(&limit).unwrap()).unwrap();
        prop_assert_eq!(again, limit);
    }

    /// A word that nobody knows leaves a sentence unread, wherever it stands.
    #[test]
    fn a_word_that_nobody_knows_is_asked_about(word in "q[bcdfg]{4,8}", at in 0_usize..4) {
        let mut words = vec!["knee", "no", "jumping"];
        words.insert(at.min(3), &word);
        prop_assert!(Limit::new(&words.join(" ")).is_unread());
    }
}
