//! Decisions: what is refused, what is forgotten, and that nothing of two coaches is lost.

use super::*;
use crate::hour::Without;
use proptest::prelude::*;

fn fold(decisions: &[Decision]) -> Decisions {
    let mut all = Decisions::default();
    decisions.iter().for_each(|decision| decision.apply(&mut all));
    all
}

/// Decisions about different things: members, blocks, items, pieces.
fn different(n: usize) -> Decision {
    let name = format!("Member {n}");
    match n % 6 {
        0 => {
            Decision::Pieces(PieceDecision::Choose { piece: 0, member: name, version: VersionName::Lighter })
        }
        1 => Decision::Hour(HourDecision::Pin { block: name, seconds: 300 }),
        2 => Decision::Hour(HourDecision::Place { piece: 1, who: name, at: (1.0, 2.0) }),
        3 => Decision::Warmup(WarmupDecision::Dose { id: name, dose: "20".to_owned() }),
        4 => Decision::Loads(LoadDecision::Release(Release {
            member: name,
            lift: "back-squat".to_owned(),
            by: "Iris".to_owned(),
            at: "2026-11-23 18:00".to_owned(),
        })),
        _ => Decision::Hour(HourDecision::Wish { piece: 0, pair: (name, "Z".to_owned()), together: true }),
    }
}

proptest! {
    /// In whatever order two coaches decide about different things, all of it stands.
    #[test]
    fn decisions_about_different_things_are_never_lost(order in Just((0..24).collect::<Vec<usize>>()).prop_shuffle()) {
        let all = fold(&order.iter().map(|n| different(*n)).collect::<Vec<_>>());
        prop_assert_eq!(all.pieces.of(0).versions.len(), 4);
        prop_assert_eq!(all.hour.pins.len(), 4);
        prop_assert_eq!(all.hour.floor(1).places.len(), 4);
        prop_assert_eq!(all.hour.floor(0).teams.together.len(), 4);
        prop_assert_eq!(all.warmup.doses.len(), 4);
        prop_assert_eq!(all.loads.released.len(), 4);
    }

    /// A decision comes back from its row, and nothing of a member who has left stays in any.
    #[test]
    fn a_decision_is_stored_and_forgets_who_has_left(n in 0_usize..24) {
        let decision = different(n);
        let stored = serde_json::to_string(&decision).unwrap();
        prop_assert_eq!(&serde_json::from_str::<Decision>(&stored).unwrap(), &decision);
        prop_assert!(decision.checked().is_ok());
        let name = format!("Member {n}");
        let left = decision.without(&name).map(|left| serde_json::to_string(&left).unwrap());
        prop_assert!(left.is_none_or(|left| !left.contains(&name)) || n % 6 == 3);
    }
}

#[test]
fn loads_and_the_hour_are_of_one_class_and_the_rest_of_the_day() {
    let of_class: Vec<bool> = (0..6).map(|n| different(n).is_of_class()).collect();
    assert_eq!(of_class, [false, true, true, false, true, true]);
}

#[test]
fn what_stood_before_decisions_had_rows_comes_back_whole() {
    let mut pieces = PieceEdits::default();
    pieces.change(2, |edit| edit.more = true);
    let mut hour = HourEdits::default();
    hour.change_floor(1, |floor| floor.teams.size = Some(2));
    let warmup = Edits { minutes: Some(12), ..Edits::default() };
    for stands in [
        Decision::Pieces(PieceDecision::Stand { edits: pieces }),
        Decision::Hour(HourDecision::Stand { edits: hour }),
        Decision::Warmup(WarmupDecision::Stand { edits: warmup }),
    ] {
        let stored = serde_json::to_value(&stands).unwrap();
        assert_eq!(serde_json::from_value::<Decision>(stored).unwrap(), stands);
    }
}

#[test]
fn of_two_about_the_same_thing_the_later_one_stands() {
    let choose =
        |version| Decision::Pieces(PieceDecision::Choose { piece: 0, member: "Ada".to_owned(), version });
    let all = fold(&[choose(VersionName::Lighter), choose(VersionName::Simpler)]);
    assert_eq!(all.pieces.of(0).versions["Ada"], VersionName::Simpler);
    let change = Change::ShorterWarmup;
    let make = Decision::Hour(HourDecision::Make { change: change.clone() });
    let back = Decision::Hour(HourDecision::TakeBack { change });
    assert!(fold(&[make.clone(), back.clone()]).hour.changes.is_empty());
    assert_eq!(fold(&[make.clone(), make, back]).hour.changes.len(), 1);
    // Two coaches say that the rowers are out: one click brings them back.
    let change = Change::Without { what: Without::Rowers };
    let out = Decision::Hour(HourDecision::Make { change: change.clone() });
    let back = Decision::Hour(HourDecision::TakeBack { change });
    assert!(fold(&[out.clone(), out, back]).hour.changes.is_empty());
}

#[test]
fn a_line_that_was_taken_back_or_written_once_more_has_been_done_by_nobody() {
    let line = |to: &str| HandLine {
        version: VersionName::Lighter,
        member: None,
        from: "10 burpee".to_owned(),
        to: to.to_owned(),
    };
    let hand = |day, to| (day, PieceDecision::Hand { piece: 0, line: line(to) });
    let back = (1, PieceDecision::HandBack { piece: 0, line: line("6 burpee") });
    assert!(standing_hands([hand(1, "6 burpee"), back.clone()]).is_empty());
    let stands = standing_hands([hand(1, "8 burpee"), hand(1, "6 burpee"), hand(2, "6 burpee")]);
    assert_eq!(stands, [(1, line("6 burpee")), (2, line("6 burpee"))]);
    assert_eq!(standing_hands([hand(2, "6 burpee"), back]).len(), 1);
}

#[test]
fn two_coaches_move_different_items_and_both_moves_stand() {
    let seen: Vec<String> = ["a", "b", "c", "d"].map(str::to_owned).to_vec();
    let exchange = |id: &str, other: &str| {
        let (id, other) = (id.to_owned(), other.to_owned());
        Decision::Warmup(WarmupDecision::Exchange { id, other, seen: seen.clone() })
    };
    assert_eq!(fold(&[exchange("b", "a"), exchange("d", "c")]).warmup.order, ["b", "a", "d", "c"]);
    assert_eq!(fold(&[exchange("d", "c"), exchange("b", "a")]).warmup.order, ["b", "a", "d", "c"]);
}

/// A decision as it comes in, with a long text where it says so.
fn stored(about: &str, what: &str) -> Decision {
    let what = what.replace("LONG", &"x".repeat(LONGEST + 1)).replace("FITS", &"x".repeat(LONGEST));
    serde_json::from_str(&format!("{{\"about\": \"{about}\", \"what\": {{{what}}}}}")).unwrap()
}

/// A line of somebody's, written anew or as it was again.
fn line(decision: &str, member: &str) -> String {
    format!(
        r#""decision": "{decision}", "piece": 0, "line": {{"version": "Lighter", "member": "{member}", "from": "a", "to": "b"}}"#
    )
}

/// A lift as written, on somebody's word.
fn free(member: &str, lift: &str, by: &str) -> String {
    format!(r#""decision": "release", "member": "{member}", "lift": "{lift}", "by": "{by}", "at": "18:00""#)
}

#[test]
fn each_value_of_a_decision_has_its_ends() {
    for (about, fits, refused) in [
        (
            "warmup",
            r#""decision": "dose", "id": "a", "dose": "FITS""#,
            r#""decision": "dose", "id": "a", "dose": "LONG""#,
        ),
        (
            "warmup",
            r#""decision": "swap", "id": "a", "to": "FITS""#,
            r#""decision": "swap", "id": "LONG", "to": "b""#,
        ),
        ("warmup", r#""decision": "keep", "id": "FITS""#, r#""decision": "keep", "id": "LONG""#),
        (
            "warmup",
            r#""decision": "exchange", "id": "a", "other": "b", "seen": ["FITS"]"#,
            r#""decision": "exchange", "id": "a", "other": "b", "seen": ["LONG"]"#,
        ),
        (
            "pieces",
            r#""decision": "choose", "piece": 60, "member": "FITS", "version": "Lighter""#,
            r#""decision": "choose", "piece": 61, "member": "Ada", "version": "Lighter""#,
        ),
        (
            "pieces",
            r#""decision": "release", "piece": 0, "member": "Ada""#,
            r#""decision": "release", "piece": 0, "member": "LONG""#,
        ),
        (
            "pieces",
            r#""decision": "window", "piece": 0, "low": 300.0, "high": 300.0"#,
            r#""decision": "window", "piece": 0, "low": 301.0, "high": 300.0"#,
        ),
        (
            "pieces",
            r#""decision": "window", "piece": 0, "low": 0.0, "high": 36000.0"#,
            r#""decision": "window", "piece": 0, "low": 0.0, "high": 36001.0"#,
        ),
        (
            "pieces",
            r#""decision": "hand", "piece": 0, "line": {"version": "AsWritten", "member": "Ada", "from": "a", "to": "b"}"#,
            r#""decision": "hand", "piece": 0, "line": {"version": "AsWritten", "member": null, "from": "a", "to": "b"}"#,
        ),
        (
            "pieces",
            r#""decision": "hand_back", "piece": 0, "line": {"version": "Lighter", "member": null, "from": "a", "to": "b"}"#,
            r#""decision": "hand_back", "piece": 0, "line": {"version": "Lighter", "member": null, "from": "a", "to": "b\nc"}"#,
        ),
        (
            "pieces",
            r#""decision": "home", "piece": 0, "kit": "FITS""#,
            r#""decision": "home", "piece": 0, "kit": "LONG""#,
        ),
        (
            "loads",
            r#""decision": "hold", "member": "Ada", "lift": "back-squat""#,
            r#""decision": "hold", "member": "Ada", "lift": "LONG""#,
        ),
        (
            "loads",
            r#""decision": "release", "member": "Ada", "lift": "deadlift", "by": "Iris", "at": "FITS""#,
            r#""decision": "release", "member": "Ada", "lift": "deadlift", "by": "Iris", "at": "LONG""#,
        ),
        (
            "hour",
            r#""decision": "pin", "block": "brief", "seconds": 30"#,
            r#""decision": "pin", "block": "brief", "seconds": 29"#,
        ),
        (
            "hour",
            r#""decision": "pin", "block": "brief", "seconds": 5400"#,
            r#""decision": "pin", "block": "brief", "seconds": 5401"#,
        ),
        ("hour", r#""decision": "unpin", "block": "brief""#, r#""decision": "unpin", "block": "LONG""#),
        (
            "hour",
            r#""decision": "team_size", "piece": 0, "size": 6"#,
            r#""decision": "team_size", "piece": 0, "size": 7"#,
        ),
        (
            "hour",
            r#""decision": "team_size", "piece": 0, "size": null"#,
            r#""decision": "team_size", "piece": 0, "size": 0"#,
        ),
        (
            "hour",
            r#""decision": "wish", "piece": 0, "pair": ["Ada", "Bo"], "together": true"#,
            r#""decision": "wish", "piece": 0, "pair": ["Ada", "Ada"], "together": true"#,
        ),
        (
            "hour",
            r#""decision": "drop_wish", "piece": 0, "pair": ["Ada", "Bo"], "together": false"#,
            r#""decision": "drop_wish", "piece": 0, "pair": ["Ada", ""], "together": false"#,
        ),
        (
            "hour",
            r#""decision": "place", "piece": 0, "who": "Ada", "at": [-5.0, 105.0]"#,
            r#""decision": "place", "piece": 0, "who": "Ada", "at": [-5.1, 0.0]"#,
        ),
        ("hour", r#""decision": "places_back", "piece": 60"#, r#""decision": "places_back", "piece": 61"#),
        (
            "hour",
            r#""decision": "teams_alike", "piece": 60, "alike": true"#,
            r#""decision": "teams_alike", "piece": 61, "alike": true"#,
        ),
    ] {
        assert_eq!(stored(about, fits).checked(), Ok(()), "{fits}");
        assert!(stored(about, refused).checked().is_err(), "{refused}");
    }
}

#[test]
fn what_is_about_others_stays_when_somebody_leaves() {
    for n in 0..6 {
        let decision = different(n);
        assert_eq!(decision.without("Nobody").as_ref(), Some(&decision));
    }
    let hand = |member: &str| stored("pieces", &line("hand", member));
    assert_eq!(hand("Ada").without("Ada"), None);
    assert_eq!(hand("Bo").without("Ada"), Some(hand("Bo")));
    let dose =
        |words: &str| stored("warmup", &format!(r#""decision": "dose", "id": "a", "dose": "{words}""#));
    assert_eq!(dose("Ada does ten").without("Ada"), None);
    assert_eq!(dose("ten each").without("Ada"), Some(dose("ten each")));
    // A coach who leaves takes the name along, not the word.
    let release = |member: &str, by: &str| stored("loads", &free(member, "deadlift", by));
    assert_eq!(release("Ada", "Iris").without("Ada"), None);
    assert_eq!(release("Ada", "Iris").without("Bo"), Some(release("Ada", "Iris")));
    assert_eq!(release("Ada", "Iris").without("Iris"), Some(release("Ada", crate::strength::UNSIGNED)));
}

#[test]
fn what_was_decided_can_be_taken_back() {
    let all = |what: &[(&str, &str)]| {
        fold(&what.iter().map(|(about, what)| stored(about, what)).collect::<Vec<_>>())
    };
    let lighter = ("pieces", r#""decision": "choose", "piece": 0, "member": "Ada", "version": "Lighter""#);
    let own = ("pieces", r#""decision": "release", "piece": 0, "member": "Ada""#);
    assert!(all(&[lighter, own]).pieces.of(0).versions.is_empty());
    let (hand, back) = (line("hand", "Bo"), line("hand_back", "Bo"));
    let written = all(&[("pieces", &hand)]).pieces.of(0);
    assert_eq!((written.hand.len(), written.versions.get("Bo")), (1, Some(&VersionName::Lighter)));
    assert_eq!(all(&[("pieces", &hand), ("pieces", &hand)]).pieces.of(0).hand.len(), 1);
    assert!(all(&[("pieces", &hand), ("pieces", &back)]).pieces.of(0).hand.is_empty());
    let (squat, pull, hold) = (
        free("Ada", "back-squat", "Iris"),
        free("Ada", "deadlift", "Iris"),
        r#""decision": "hold", "member": "Ada", "lift": "deadlift""#,
    );
    let held = all(&[("loads", &squat), ("loads", &pull), ("loads", hold)]).loads.released;
    assert_eq!(held.iter().map(|release| release.lift.as_str()).collect::<Vec<_>>(), ["back-squat"]);
    assert_eq!(all(&[("loads", &squat), ("loads", &squat)]).loads.released.len(), 1);
    let pin = ("hour", r#""decision": "pin", "block": "brief", "seconds": 300"#);
    let unpin = ("hour", r#""decision": "unpin", "block": "brief""#);
    assert_eq!(all(&[pin]).hour.pins.get("brief"), Some(&300));
    assert!(all(&[pin, unpin]).hour.pins.is_empty());
    let stands = ("hour", r#""decision": "place", "piece": 2, "who": "Ada", "at": [1.0, 2.0]"#);
    assert!(
        all(&[stands, ("hour", r#""decision": "places_back", "piece": 2"#)]).hour.floor(2).places.is_empty()
    );
    let wish = |decision: &str, together: bool| {
        format!(r#""decision": "{decision}", "piece": 0, "pair": ["Ada", "Bo"], "together": {together}"#)
    };
    let (with, apart, dropped) = (wish("wish", true), wish("wish", false), wish("drop_wish", false));
    let wishes =
        all(&[("hour", &with), ("hour", &with), ("hour", &apart), ("hour", &dropped)]).hour.floor(0).teams;
    assert_eq!((wishes.together.len(), wishes.apart.len()), (1, 0));
    assert_eq!(all(&[("hour", &apart)]).hour.floor(0).teams.apart.len(), 1);
}

#[test]
fn what_cannot_be_is_refused_by_name() {
    let refused = |decision: Decision| decision.checked().unwrap_err();
    let long = "x".repeat(LONGEST + 1);
    assert!(refused(Decision::Warmup(WarmupDecision::Minutes { minutes: 90 })).contains("minutes"));
    assert!(
        refused(Decision::Hour(HourDecision::Pin { block: long.clone(), seconds: 60 })).contains("block")
    );
    assert!(
        refused(Decision::Hour(HourDecision::Pin { block: "warmup".to_owned(), seconds: 44_000 }))
            .contains("0:30")
    );
    assert!(refused(Decision::Pieces(PieceDecision::More { piece: 4_000_000, on: true })).contains("piece"));
    let at = (f64::NAN, 0.0);
    assert!(
        refused(Decision::Hour(HourDecision::Place { piece: 0, who: "Ada".to_owned(), at }))
            .contains("metres")
    );
    let window = PieceDecision::Window { piece: 0, low: Some(9.0), high: Some(3.0) };
    assert!(refused(Decision::Pieces(window)).contains("low"));
}
