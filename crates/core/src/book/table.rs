//! Every kind of score in the ways in which coaches call it, and what is none.

use super::{Done, Heard, Scored};

const TIME: Scored = Scored::Time { cap_s: Some(900), reps: Some(90) };
const ROUNDS: Scored = Scored::Rounds { a_round: Some(30), clock_s: Some(1_200) };
const INTERVALS: Scored = Scored::Intervals { count: 4, every_s: Some(180) };

fn kept(kind: Scored, called: &str) -> String {
    match kind.hear(called) {
        Heard::Kept(done) => done.to_string(),
        Heard::Asked { why, done } => format!("? {done}: {why}"),
        Heard::Refused(why) => format!("refused: {why}"),
    }
}

/// Each row is what it is heard as, and the ways to say it, between bars.
fn all(kind: Scored, rows: &[(&str, &str)]) {
    let ways: usize = rows.iter().map(|(_, ways)| ways.split(" | ").count()).sum();
    assert!(ways >= 20, "{ways} ways of {kind:?}");
    for (heard, ways) in rows {
        for way in ways.split(" | ") {
            assert_eq!(kept(kind, way), *heard, "{way}");
        }
    }
}

fn none(kind: Scored, wrong: &str) {
    let wrong: Vec<&str> = wrong.split(" | ").chain([""]).collect();
    assert!(wrong.len() > 10, "{} wrong ones of {kind:?}", wrong.len());
    for called in wrong {
        let said = kept(kind, called);
        assert!(said.starts_with("refused: ") && said.contains("such as"), "{called}: {said}");
    }
}

#[test]
fn times() {
    all(
        TIME,
        &[
            (
                "12:41",
                "12:41 | 12.41 | 1241 | 12 41 | 12,41 | 12m41 | 12m41s | 12 min 41 | 12 min 41 sec | 12 minutes 41 seconds | 12'41",
            ),
            ("7:05", "7:05 | 705 | 7.05 | 07:05"),
            ("12:00", "12 min | 12m"),
            ("1:30", "90s | 90 sec | 1m30"),
            (
                "cap+8",
                "cap+8 | cap 8 | cap + 8 | CAP+8 | c+8 | c 8 | time cap +8 | capped 8 | cap+8 reps | cap 8 left",
            ),
            ("cap", "cap | capped | time cap"),
            ("stopped", "dnf | DNF | did not finish | stopped | partial"),
        ],
    );
    none(TIME, "12 | 12:4 | 12:75 | a lot | -3:00 | 12:41:75 | 5+13 | cap+x | cap+8+2 | 99:99 | 0:00 | 1e3");
    assert_eq!(kept(TIME, "15:01"), "? 15:01: 15:01 is past the cap of 15:00");
    assert_eq!(kept(TIME, "cap+90"), "? cap+90: all of it is 90 repetitions");
    assert_eq!(kept(TIME, "cap+0"), "? cap+0: with nothing left it is a time");
    let open = Scored::Time { cap_s: None, reps: None };
    assert_eq!(kept(open, "cap+8"), "? cap+8: the piece has no cap");
    assert_eq!(kept(open, "1:02:03"), "62:03");
}

#[test]
fn rounds() {
    all(
        ROUNDS,
        &[
            (
                "5+13",
                "5+13 | 5 13 | 5 + 13 | 5r13 | 5 r 13 | 5 rounds 13 | 5 rounds + 13 | 5 rounds and 13 | 5 rds 13 | 5rds+13 | 5 rounds plus 13 reps | 5+13 reps | 5 round 13 reps",
            ),
            ("5+0", "5 | 5 rounds | 5r | 5 rds | 5+0 | 5 rounds + 0 | 5+"),
            ("0+22", "0+22 | 0 22 | 0 rounds 22"),
            ("stopped", "dnf"),
        ],
    );
    none(ROUNDS, "+ | five | 5+13+2+1 | 5.5.5 | -5 | 12:41 | 5+x | cap+8 | 600+1 | 5/13/1");
    assert_eq!(kept(ROUNDS, "5+30"), "? 5+30: 30 repetitions are a round: one has 30");
    assert_eq!(kept(ROUNDS, "120+2"), "? 120+2: 120 rounds do not go into 20:00");
}

#[test]
fn repetitions() {
    all(
        Scored::Reps,
        &[
            (
                "143",
                "143 | 143 reps | 143reps | 143 repetitions | 143 rep | 143 cal | 143cal | 143 cals | 143 calories | 143m | 143 m | 143 metres | 143 meters | 143 REPS",
            ),
            ("0", "0 | 0 reps"),
            ("7", "7 | 007 | 7 cal"),
            ("stopped", "dnf | stopped"),
        ],
    );
    none(Scored::Reps, "many | 12:41 | 5+13 | -3 | 14.5 | 1e3 | reps | 143 bananas | 1 2 | 999999999999");
}

#[test]
fn times_of_intervals() {
    all(
        INTERVALS,
        &[
            (
                "1:52 1:55 1:58 2:04",
                "1:52 1:55 1:58 2:04 | 1.52 1.55 1.58 2.04 | 152 155 158 204 | 1:52, 1:55, 1:58, 2:04 | 1:52/1:55/1:58/2:04 | 1:52;1:55;1:58;2:04 | 1m52 1m55 1m58 2m04 | 1:52  1:55  1:58  2:04 | 112s 115s 118s 124s",
            ),
            (
                "0:48 0:49 0:51 0:55",
                "48 49 51 55 | 48s 49s 51s 55s | 0:48 0:49 0:51 0:55 | 48,49,51,55 | 48/49/51/55",
            ),
            ("2:04", "2:04 | 204 | 2m04 | 2.04 | 124s"),
            ("0:55", "55 | 55s"),
            ("stopped", "dnf"),
        ],
    );
    none(
        INTERVALS,
        "fast | 5+13 | 1:75 1:55 1:58 2:04 | 1:52 x 1:58 2:04 | -1:52 | 0 | 1:52 1:55 cap 2:04 | a/b/c/d | 1:5 1:5 1:5 1:5 | 0 0 0 0",
    );
    assert_eq!(kept(INTERVALS, "1:52 1:55"), "? 1:52 1:55: 2 times for 4 intervals");
    assert_eq!(
        kept(INTERVALS, "1:52 1:55 1:58 3:04"),
        "? 1:52 1:55 1:58 3:04: 3:04 is longer than the 3:00 that there are"
    );
}

#[test]
fn loads() {
    all(
        Scored::Load,
        &[
            (
                "3x5 @ 82.5",
                "3x5 82.5 | 3x5 82,5 | 3x5x82.5 | 3x5 @ 82.5 | 3x5@82.5 | 3x5 82.5 kg | 3x5 82.5kg | 3X5 82.5 | 3\u{d7}5 82.5 | 3*5 82.5",
            ),
            ("5 @ 82.5", "5 82.5 | 5@82.5 | 82.5x5 | 5x82.5 | 5 @ 82,5 kg"),
            ("5 @ 82.5 rpe 8", "5 82.5 rpe 8 | 5@82.5 rpe8 | 82.5x5 RPE 8"),
            ("5 @ 82.5 missed", "5 82.5 missed | 5x82.5 miss | 5 @ 82.5 failed"),
            ("1 @ 140", "140 | 1x140 | 140 kg | 140x1 | 1 140 | 140kg | 140 lb"),
        ],
    );
    none(
        Scored::Load,
        "heavy | 5 82.5 rpe 11 | missed | 3x5x | 12:41 | 0 | -80 | 5+13 | 3x5 82.5 90 | x5 80 | 3x0 80 | 0x5 80 | 9999",
    );
    assert_eq!(kept(Scored::Load, "5x15"), "? 5 @ 15: is 15 what was on it? With sets it is 3x5 82.5");
    assert_eq!(kept(Scored::Load, "820"), "? 1 @ 820: 820 is a lot for a bar");
}

/// What was kept is heard again as the same, however it was called.
#[test]
fn what_is_shown_is_heard_as_the_same() {
    for (kind, called) in [
        (TIME, "12m41"),
        (TIME, "cap 8"),
        (TIME, "capped"),
        (ROUNDS, "5 rounds and 13"),
        (Scored::Reps, "143 cal"),
        (INTERVALS, "48 49 51 55"),
        (Scored::Load, "3x5 82,5"),
        (Scored::Load, "5 82,5 rpe 8,5 missed"),
        (TIME, "dnf"),
    ] {
        let Heard::Kept(done) = kind.hear(called) else { panic!("{called}") };
        assert_eq!(kind.hear(&done.to_string()), Heard::Kept(done.clone()), "{called}");
    }
    assert_eq!(Done::Capped { left: Some(8) }.to_string(), "cap+8");
}

proptest::proptest! {
    /// Whatever is called, it is kept, asked about or refused in words; nothing breaks.
    #[test]
    fn anything_can_be_called(called in "\\PC{0,40}") {
        for kind in [TIME, ROUNDS, Scored::Reps, INTERVALS, Scored::Load] {
            if let Heard::Refused(why) = kind.hear(&called) {
                proptest::prop_assert!(!why.is_empty());
            }
        }
    }
}
