use proptest::prelude::*;

use super::*;
use crate::gym::Gym;
use crate::member::Member;
use crate::movement::Catalogue;
use crate::plan::{Plan, plan};
use crate::read::read;
use crate::versions::VersionName;

fn planned(text: &str) -> Plan {
    let catalogue = Catalogue::standard();
    let member = |name: &str| Member { name: name.to_owned(), ..Member::default() };
    let members = ["Ada", "Ben", "Cleo"].map(member);
    plan(&read(text, catalogue).session, &members, &Gym::default(), catalogue, 1)
}

fn laid(text: &str) -> Timeline {
    timeline(&planned(text), Catalogue::standard())
}

/// The phases of a piece: kind, title and length.
fn of_piece(text: &str) -> Vec<String> {
    let timeline = laid(text);
    let block = timeline.blocks.iter().find(|block| block.kind == "conditioning").unwrap();
    block.phases.iter().map(|phase| format!("{:?} {} {}", phase.kind, phase.title, phase.length_s)).collect()
}

#[test]
fn a_piece_for_time_runs_to_its_cap_with_a_last_minute() {
    assert_eq!(
        of_piece("For time, cap 10\n50 burpees\n50 air squats"),
        ["Ready Get ready 10", "Work Cap 10:00 540", "LastMinute Last minute 60"]
    );
    let as_many = of_piece("AMRAP 12\n10 burpees\n20 air squats");
    assert_eq!(as_many, ["Ready Get ready 10", "Work AMRAP 12:00 660", "LastMinute AMRAP 12:00 60"]);
}

#[test]
fn a_clock_divides_a_piece_as_it_is_written() {
    let minutes = of_piece("Every minute for 10 minutes, alternating:\n1) 12 cal row\n2) 10 burpees");
    assert_eq!(minutes.len(), 11);
    assert_eq!((&*minutes[1], &*minutes[10]), ("Work Minute 1 of 10 60", "LastMinute Minute 10 of 10 60"));
    let short = of_piece("Tabata: air squat");
    assert_eq!(
        short[1..4],
        ["Work Round 1 of 8: Work 0:20 20", "Rest Rest 0:10 10", "Work Round 2 of 8: Work 0:20 20"]
    );
    let windows = of_piece("3 x AMRAP 3, rest 1:00 between\n10 burpees\n20 air squats");
    assert_eq!(
        windows[1..4],
        ["Work Round 1 of 3: AMRAP 3:00 120", "LastMinute Round 1 of 3: AMRAP 3:00 60", "Rest Rest 1:00 60"]
    );
}

#[test]
fn of_many_intervals_the_last_minute_of_the_last_alone_is_called() {
    let long = of_piece("Every 4:00 x 3\n400 m run\n15 kettlebell swings");
    let called: Vec<&String> = long.iter().filter(|phase| phase.starts_with("LastMinute")).collect();
    assert_eq!(called, ["LastMinute Interval 3 of 3 60"], "{long:?}");
    let cut_in = of_piece("For time, cap 14\n100 wall balls 9/6 kg\nevery 2:00 stop and do 5 burpees");
    assert!(cut_in.last().unwrap().starts_with("LastMinute At 12:00"), "{cut_in:?}");
}

#[test]
fn a_rest_between_two_pieces_runs_on_into_the_next() {
    let timeline = laid("A) AMRAP 8\n10 burpees\n\nrest 3:00\n\nB) AMRAP 6\n10 sit-ups");
    let phases = |kind: &str| {
        let block = timeline.blocks.iter().rfind(|block| block.kind == kind).unwrap();
        block.phases.iter().map(|phase| (phase.kind, phase.length_s, phase.waits)).collect::<Vec<_>>()
    };
    // The count-in of the second is the end of the rest.
    assert_eq!(phases("rest"), [(Kind::Rest, 170, false)]);
    assert_eq!(phases("conditioning")[0], (Kind::Ready, 10, false));
    let first = timeline.blocks.iter().find(|block| block.kind == "conditioning").unwrap();
    assert!(first.phases[0].waits);
}

#[test]
fn what_rises_says_what_is_done_now() {
    let timeline = laid("every 1:00 until you can't\nadd 2 reps each round\n3 burpees");
    let block = timeline.blocks.iter().find(|block| block.kind == "conditioning").unwrap();
    let fourth = &block.phases[4];
    assert_eq!((&*fourth.title, &fourth.cue[..]), ("Minute 4", &["9 burpee".to_owned()][..]));
    let short = laid("Tabata: air squat");
    let work = short.phases().find(|phase| phase.kind == Kind::Work).unwrap();
    assert!(work.say.contains("air squat"), "{}", work.say);
}

#[test]
fn intervals_are_counted_for_each_and_a_slip_is_taken_back() {
    let timeline = laid("Every 3:00 x 3\n200 m run\n10 kettlebell swings");
    let split = |interval, seconds| Happened::Split { part: 0, member: 7, interval, seconds };
    let events =
        [(0, Happened::Start), (1, split(0, 95)), (2, split(1, 99)), (3, split(1, 0)), (4, split(1, 102))];
    let course = after(&timeline, &events, 5);
    assert_eq!(course.splits(0, 7).collect::<Vec<_>>(), [(0, 95), (1, 102)]);
    assert_eq!(course.splits(0, 8).count(), 0);
}

#[test]
fn heats_close_behind_each_other_go_by_the_clock_of_the_first() {
    let catalogue = Catalogue::standard();
    let text = "Every minute for 6 minutes, alternating:\n1) 12 cal row\n2) 10 burpees";
    let part = read(text, catalogue).session.parts.remove(0);
    let titles = |heats: &[u32], length_s| -> Vec<String> {
        piece::drafts(&part, heats, length_s, catalogue).into_iter().map(|draft| draft.title).collect()
    };
    let close = titles(&[0, 60], 420);
    assert_eq!((close.len(), &*close[0], &*close[6]), (7, "Minute 1 of 6", "Until heat 2 is done"));
    // Far enough behind, each heat has all of it to itself.
    let apart = titles(&[0, 400], 760);
    assert_eq!(
        (&*apart[0], &*apart[6], &*apart[7]),
        ("Heat 1: Minute 1 of 6", "Heat 2 gets ready", "Heat 2: Minute 1 of 6")
    );
}

#[test]
fn other_work_cuts_in_at_each_mark() {
    let marks = of_piece("100 air squats for time\nat each minute stop and do 5 burpees\ncap 12");
    assert_eq!(marks[1..4], ["Work Work 60", "Work At 1:00: 5 burpee 60", "Work At 2:00: 5 burpee 60"]);
    assert_eq!(marks.len(), 13);
}

#[test]
fn a_lift_climbs_and_then_counts_its_sets() {
    let timeline = laid("Strength\nBack squat 5x5 @ 75%, rest 2:00");
    let block = timeline.blocks.iter().find(|block| block.kind == "strength").unwrap();
    let titles: Vec<&str> = block
        .phases
        .iter()
        .filter(|phase| phase.set.is_some() && phase.kind == Kind::Lift)
        .map(|phase| &*phase.title)
        .collect();
    assert_eq!(titles, ["Set 1 of 5", "Set 2 of 5", "Set 3 of 5", "Set 4 of 5", "Set 5 of 5"]);
    assert!(block.phases[0].waits && block.phases[0].kind == Kind::Climb);
}

/// Milliseconds after the start.
fn after<'a>(timeline: &'a Timeline, events: &[(i64, Happened)], now_s: i64) -> Course<'a> {
    let events: Vec<Event> =
        events.iter().map(|(at, what)| Event { at_ms: at * 1_000, what: what.clone() }).collect();
    Course::after(timeline, &events).at(now_s * 1_000)
}

const TEXT: &str = "Strength\nBack squat 5x5 @ 75%\n\nFor time, cap 10\n50 burpees\n50 air squats";

#[test]
fn a_class_runs_pauses_waits_and_goes_on() {
    let timeline = laid(TEXT);
    let brief = timeline.phases().next().unwrap().id.clone();
    let now = |events: &[(i64, Happened)], at| {
        let course = after(&timeline, events, at);
        (course.phase().unwrap().id.block.clone(), course.into_ms() / 1_000, course.state())
    };
    assert_eq!(now(&[], 500), ("brief".to_owned(), 0, State::Before));
    let started = (100, Happened::Start);
    assert_eq!(now(std::slice::from_ref(&started), 130), ("brief".to_owned(), 30, State::Running));
    let paused = [started.clone(), (130, Happened::Pause), (190, Happened::Resume)];
    assert_eq!(now(&paused[..2], 180), ("brief".to_owned(), 30, State::Paused));
    assert_eq!(now(&paused, 200), ("brief".to_owned(), 40, State::Running));
    let longer = [started.clone(), (110, Happened::Longer { phase: brief.clone(), seconds: 60 })];
    assert_eq!(now(&longer, 100 + 299), ("brief".to_owned(), 299, State::Running));
    let next = [
        started.clone(),
        (110, Happened::Next { from: brief.clone() }),
        (111, Happened::Next { from: brief }),
    ];
    assert_eq!(now(&next, 115), ("warmup".to_owned(), 5, State::Running));
    // Nobody lifts before the coach says so: the warm-up goes on.
    let (block, into, _) = now(&[started], 100 + 3_000);
    assert!(block == "warmup" && into > 1_000, "{block} {into}");
    assert!(after(&timeline, &[(100, Happened::Start)], 100 + 3_000).reads().starts_with('+'));
}

#[test]
fn a_piece_starts_when_the_coach_says_and_once_more() {
    let timeline = laid(TEXT);
    let piece = timeline.blocks.iter().find(|block| block.kind == "conditioning").unwrap();
    let (ready, go) = (piece.phases[0].id.clone(), piece.phases[1].id.clone());
    let events = [(0, Happened::Start), (60, Happened::GoTo { phase: ready.clone() })];
    let course = after(&timeline, &events, 60 + 10 + 65);
    assert_eq!((course.phase().unwrap().id.clone(), course.into_ms()), (go, 65_000));
    assert_eq!(course.group_ms(), (65_000, 535_000));
    assert_eq!(course.reads(), "1:05");
    assert_eq!(after(&timeline, &events, 64).reads(), "0:06");
    // A skip that was a slip of the hand: the clock goes on as if it had not been.
    let slip = Happened::Next { from: piece.phases[1].id.clone() };
    let undone =
        [events.to_vec(), vec![(135, slip.clone()), (140, Happened::Undo { at_ms: 135_000 })]].concat();
    let back = after(&timeline, &undone, 145);
    assert_eq!(
        (back.phase().unwrap().id.clone(), back.reads()),
        (piece.phases[1].id.clone(), "1:15".to_owned())
    );
    let log: Vec<Event> =
        [(1, Happened::Start), (2, slip), (3, Happened::Round { part: 1, member: 7, rounds: 2 })]
            .map(|(at_ms, what)| Event { at_ms, what })
            .to_vec();
    assert_eq!(last_done(&log), Some(&log[1]));
    // What comes next comes after all that shares the clock, and back is its beginning.
    let skipped =
        [events.to_vec(), vec![(135, Happened::Next { from: piece.phases[1].id.clone() })]].concat();
    assert_ne!(after(&timeline, &skipped, 136).phase().unwrap().id.block, piece.key);
    let last = piece.phases[2].id.clone();
    let back = [events.to_vec(), vec![(60 + 10 + 550, Happened::Back { from: last })]].concat();
    assert_eq!(after(&timeline, &back, 60 + 10 + 551).phase().unwrap().id, piece.phases[1].id);
    let again = [events.to_vec(), vec![(200, Happened::GoTo { phase: ready.clone() })]].concat();
    assert_eq!(after(&timeline, &again, 205).phase().unwrap().id, ready);
}

#[test]
fn a_class_knows_what_is_left_and_what_waits() {
    let timeline = laid(TEXT);
    let course = after(&timeline, &[(0, Happened::Start)], 30);
    let whole: i64 = course.lengths().map(|(_, ms)| ms).sum();
    assert_eq!(whole, i64::from(timeline.length_s()) * 1_000);
    assert_eq!(course.left_ms(), whole - 30_000);
    assert_eq!((course.place(), course.at_ms()), (0, 30_000));
    // What waits for the coach: first the lift, then the piece's count-in.
    let waits = course.next_start().unwrap();
    assert!(waits.waits && waits.id.block.starts_with("strength"), "{waits:?}");
    let piece = timeline.blocks.iter().find(|block| block.kind == "conditioning").unwrap();
    let lifting = [(0, Happened::Start), (60, Happened::GoTo { phase: waits.id.clone() })];
    let next = after(&timeline, &lifting, 61).next_start().unwrap();
    assert!(next.id.block != waits.id.block, "{next:?}");
    let last = piece.phases[piece.phases.len() - 1].id.clone();
    let ended = [(0, Happened::Start), (60, Happened::GoTo { phase: last })];
    assert!(after(&timeline, &ended, 61).next_start().is_none_or(|phase| phase.id.block != piece.key));
    assert_eq!(State::Running.name(), "running");
    assert_eq!(
        [State::Before, State::Paused, State::Closed].map(State::name),
        ["before", "paused", "closed"]
    );
}

#[test]
fn what_people_do_is_kept_by_part_and_member() {
    let timeline = laid(TEXT);
    let split = |interval, seconds| Happened::Split { part: 1, member: 7, interval, seconds };
    let how = |to| GoneOn { from: VersionName::AsWritten, to, at_s: 200, ends_s: [400, 450, 500] };
    let goes_on = |member, to| Happened::GoesOn { part: 1, member, how: how(to) };
    let events = [
        (0, Happened::Start),
        (10, Happened::Round { part: 1, member: 7, rounds: 1 }),
        (20, Happened::Round { part: 1, member: 7, rounds: 2 }),
        (21, Happened::Round { part: 1, member: 8, rounds: 1 }),
        (30, split(0, 95)),
        (31, split(1, 99)),
        (32, split(1, 0)),
        (33, split(2, 101)),
        (40, Happened::Note { text: "doors".to_owned() }),
        (41, Happened::Note { text: "doors open".to_owned() }),
        (50, goes_on(7, VersionName::Lighter)),
        (51, goes_on(7, VersionName::Simpler)),
        (52, goes_on(8, VersionName::Lighter)),
    ];
    let course = after(&timeline, &events, 60);
    assert_eq!(
        [(1, 7), (1, 8), (0, 7)].map(|(part, who)| course.rounds(part, who)),
        [Some(2), Some(1), None]
    );
    assert_eq!(course.splits(1, 7).collect::<Vec<_>>(), [(0, 95), (2, 101)]);
    assert_eq!(course.splits(1, 8).count(), 0);
    let log: Vec<Event> =
        events.iter().map(|(at, what)| Event { at_ms: at * 1_000, what: what.clone() }).collect();
    assert_eq!(note(&log), "doors open");
    assert_eq!(note(&log[..3]), "");
    assert_eq!(gone_on(&log, (1, 7)), Some(&how(VersionName::Simpler)));
    assert_eq!(gone_on(&log, (0, 7)), None);
    // Of all this nothing was done to the clock.
    assert_eq!(last_done(&log), Some(&log[0]));
}

#[test]
fn a_class_that_is_over_can_be_opened_again_and_nothing_else() {
    let timeline = laid(TEXT);
    let first = timeline.phases().next().unwrap().id.clone();
    let closed = vec![(0, Happened::Start), (60, Happened::Close)];
    let state = |more: Vec<(i64, Happened)>| after(&timeline, &[closed.clone(), more].concat(), 90).state();
    assert_eq!(state(vec![]), State::Closed);
    assert_eq!(state(vec![(70, Happened::GoTo { phase: first.clone() })]), State::Closed);
    assert_eq!(state(vec![(70, Happened::Next { from: first })]), State::Closed);
    assert_eq!(state(vec![(70, Happened::Reopen)]), State::Paused);
    let open = after(&timeline, &[(0, Happened::Start), (70, Happened::Reopen)], 90);
    assert_eq!(open.state(), State::Running, "what is not over is not opened");
}

#[test]
fn what_falls_out_takes_no_time_and_can_come_back() {
    let timeline = laid(TEXT);
    let block = "cool_down".to_owned();
    let all = after(&timeline, &[(0, Happened::Start)], 0).left_ms();
    let without = [(0, Happened::Start), (1, Happened::Without { block: block.clone() })];
    let cut = after(&timeline, &without, 1);
    assert!(cut.left_ms() < all - 100_000, "{} {all}", cut.left_ms());
    assert_eq!(cut.without().collect::<Vec<_>>(), ["cool_down"]);
    let with = [without.to_vec(), vec![(2, Happened::With { block })]].concat();
    assert_eq!(after(&timeline, &with, 2).left_ms(), all - 2_000);
}

/// Anything that a coach may do.
fn anything(ids: Vec<PhaseId>) -> impl Strategy<Value = Happened> {
    let phase = move || proptest::sample::select(ids.clone());
    prop_oneof![
        Just(Happened::Start),
        Just(Happened::Pause),
        Just(Happened::Resume),
        Just(Happened::Reopen),
        (phase(), 1_u32..120).prop_map(|(phase, seconds)| Happened::Longer { phase, seconds }),
        phase().prop_map(|from| Happened::Next { from }),
        phase().prop_map(|from| Happened::Back { from }),
        phase().prop_map(|phase| Happened::GoTo { phase }),
        phase().prop_map(|phase| Happened::Without { block: phase.block }),
        phase().prop_map(|phase| Happened::With { block: phase.block }),
    ]
}

proptest! {
    #![proptest_config(ProptestConfig { cases: 64, ..ProptestConfig::default() })]

    /// Whatever was done, a screen that joins at any second shows what the others show, and no phase runs beyond its end but one before a phase that waits.
    #[test]
    fn whoever_joins_sees_the_same(
        steps in proptest::collection::vec((0_i64..400, 0_usize..1000), 0..12),
        looks in proptest::collection::vec(0_i64..2_000, 1..6),
        choices in proptest::collection::vec(anything(laid(TEXT).phases().map(|phase| phase.id.clone()).collect()), 12),
    ) {
        let timeline = laid(TEXT);
        let mut at = 0;
        let events: Vec<Event> = steps.iter().zip(choices).map(|((gap, _), what)| {
            at += gap * 1_000;
            Event { at_ms: at, what }
        }).collect();
        let mut looks = looks;
        looks.sort_unstable();
        // One screen is there from the beginning and looks now and then, another joins at the end.
        let mut stays = Course::after(&timeline, &events).at(at);
        for look in looks {
            let now = at + look * 1_000;
            stays = stays.at(now);
            let joins = Course::after(&timeline, &events).at(now);
            prop_assert_eq!(&stays, &joins);
            let length = joins.lengths().nth(joins.place()).unwrap().1;
            let next_waits = joins.lengths().skip(joins.place() + 1).find(|(_, length)| *length > 0);
            if joins.into_ms() > length && length > 0 && joins.state() == State::Running {
                prop_assert!(next_waits.is_none_or(|(phase, _)| phase.waits), "{:?}", joins.phase());
            }
            let (since, until) = joins.group_ms();
            prop_assert!(since >= 0 && (until >= 0 || joins.into_ms() > length));
        }
    }
}
