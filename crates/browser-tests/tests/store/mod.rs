//! Rows and queries against a real database: each gym sees its own, and what belongs together goes together.

mod decided;
mod doors;
mod learned;
mod schema;

use browser_tests::{TestDatabase, in_gym};
use chrono::{Days, NaiveDate, NaiveTime};
use lantern_core::decide::{Decision, HourDecision, PieceDecision, WarmupDecision};
use lantern_core::gym::Gym;
use lantern_core::limits::{Limit, Looked};
use lantern_core::member::{Max, Member};
use lantern_core::movement::{Catalogue, MovementId};
use lantern_core::plan::Decisions;
use lantern_core::read::read;
use lantern_core::session::Likeness;
use lantern_core::strength::{MaxPolicy, Source, choose_max};
use lantern_core::units::Kilograms;
use lantern_core::versions::VersionName;
use lantern_store::classes::{self, NewClass};
use lantern_store::decisions::Standing;
use lantern_store::keys::{self, Opens};
use lantern_store::lifts::{self, NewLift};
use lantern_store::person::{self, Also};
use lantern_store::pieces::NewPiece;
use lantern_store::restore;
use lantern_store::sessions::{self, NewText, Saved};
use lantern_store::{
    GymId, Role, Store, StoreError, accounts, aliases, decisions, demo, gyms, health_views, members,
    memberships, own_movements, privacy,
};
use rand::{RngExt, SeedableRng};
use rand_pcg::Pcg64Mcg;

static NOTHING_PUT_RIGHT: serde_json::Value = serde_json::Value::Array(Vec::new());

fn text(text: &str, seen: i32) -> NewText<'_> {
    NewText {
        text,
        corrections: &NOTHING_PUT_RIGHT,
        seen,
        writer: "",
        by: "Iris",
        parts: &[],
        while_typing: false,
    }
}

fn day() -> NaiveDate {
    NaiveDate::from_ymd_opt(2026, 3, 2).unwrap()
}

fn ada() -> Member {
    let squat = Max::on_file(Kilograms::from_kg(100.0));
    Member {
        name: "Ada Lind".to_owned(),
        maxes: [(MovementId::new("back-squat"), squat)].into(),
        limits: vec![Limit::new("left knee: no jumping")],
        ..Member::default()
    }
}

fn lifted(reps: u32, kg: f64, set_on: NaiveDate) -> NewLift<'static> {
    let load = Kilograms::from_kg(kg);
    NewLift {
        lift: "back-squat",
        load,
        reps,
        rpe: None,
        missed: false,
        source: Source::ClassResult,
        set_on,
        kept: Some(true),
        asked: None,
    }
}

fn choose(member: &str, version: VersionName) -> Decision {
    choose_of(1, member, version)
}

fn choose_of(piece: usize, member: &str, version: VersionName) -> Decision {
    Decision::Pieces(PieceDecision::Choose { piece, member: member.to_owned(), version })
}

const TWO_PIECES: &str = "For time, cap 10\n50 burpees\n\nAMRAP 12\n10 pull-ups\n10 push-ups";

/// A text as it is read.
fn parts(text: &str) -> Vec<NewPiece> {
    let catalogue = Catalogue::standard();
    NewPiece::of(&read(text, catalogue).session, catalogue)
}

/// What stands for a class of the day, of the text as it is and for members as they are called now.
async fn stands(store: &Store, gym: GymId, starts: Option<NaiveTime>, text: &str) -> Decisions {
    let known = in_gym!(store, gym, members::of_gym, &Gym::default(), day()).unwrap();
    let called: Vec<_> = known.into_iter().map(|known| (known.id, known.member.name)).collect();
    let likeness: Vec<Likeness> = parts(text).into_iter().map(|part| part.likeness).collect();
    in_gym!(store, gym, lantern_store::day::standing, day(), starts).unwrap().of(&likeness, &called)
}

#[test]
fn a_gym_sees_its_own_rows_and_nobody_elses() {
    let database = TestDatabase::empty();
    let gym = |name: &str| Gym { name: name.to_owned(), ..Gym::default() };
    let (north, south) = (gym("North"), gym("South"));
    let (a, b) = (database.gym(&north), database.gym(&south));
    database.with_store(move |store| async move {
        let member = in_gym!(store, a, members::add, &ada(), day(), Source::Tested).unwrap();
        in_gym!(store, a, sessions::save, day(), text("For time\n50 burpees", 0)).unwrap();
        in_gym!(store, a, aliases::put, "flop", "burpee").unwrap();

        assert_eq!(in_gym!(store, b, members::of_gym, &south, day()).unwrap().len(), 0);
        assert!(in_gym!(store, b, sessions::of_day, day()).unwrap().is_none());
        assert!(in_gym!(store, b, aliases::of_gym).unwrap().is_empty());
        assert!(in_gym!(store, b, lifts::of_gym).unwrap().is_empty());
        // Another gym's member can be neither lifted for, nor removed, nor sent away.
        assert!(in_gym!(store, b, lifts::add, member, &lifted(1, 120.0, day())).is_err());
        assert!(in_gym!(store, b, members::set_away, member, Some(day())).is_err());
        assert!(in_gym!(store, b, person::remove, member, Also::default()).is_err());
        assert!(in_gym!(store, b, members::rename, member, "Eve").is_err());
        // Nor booked into a class of that gym.
        let starts = NaiveTime::from_hms_opt(18, 0, 0).unwrap();
        let class = NewClass { day: day(), starts, minutes: 60, coach: String::new() };
        let class = in_gym!(store, b, classes::put, &class).unwrap();
        let _ = in_gym!(store, b, classes::book, class, &[member]);
        assert!(in_gym!(store, b, classes::at, day(), starts).unwrap().unwrap().booked.is_empty());
        assert_eq!(in_gym!(store, a, members::of_gym, &north, day()).unwrap().len(), 1);
    });
}

#[test]
fn the_second_of_two_who_edit_a_day_is_told_and_loses_nothing() {
    let database = TestDatabase::empty();
    let gym = database.gym(&Gym::default());
    database.with_store(move |store| async move {
        let Saved::As(first) = in_gym!(store, gym, sessions::save, day(), text("one", 0)).unwrap() else {
            panic!()
        };
        let Saved::As(second) = in_gym!(store, gym, sessions::save, day(), text("two", first)).unwrap()
        else {
            panic!()
        };
        assert!(second > first);
        // Whoever still has the first revision in hand.
        match in_gym!(store, gym, sessions::save, day(), text("three", first)).unwrap() {
            Saved::Conflict(stands) => {
                assert_eq!((stands.theirs.text.as_str(), stands.theirs.revision), ("two", second));
            }
            Saved::As(_) => panic!("the second coach's text was overwritten"),
        }
        // A new day is a conflict too when somebody has begun it meanwhile.
        assert!(matches!(
            in_gym!(store, gym, sessions::save, day(), text("four", 0)).unwrap(),
            Saved::Conflict(_)
        ));
        let week =
            in_gym!(store, gym, sessions::between, day() - Days::new(3), day() + Days::new(3)).unwrap();
        assert_eq!(week.len(), 1);
        assert!(
            in_gym!(store, gym, sessions::between, day() + Days::new(1), day() + Days::new(3))
                .unwrap()
                .is_empty()
        );
    });
}

#[test]
fn a_history_is_kept_whole_and_the_gyms_policy_counts_from_it() {
    let database = TestDatabase::empty();
    let id = database.gym(&Gym::default());
    database.with_store(move |store| async move {
        let gym = Gym::default();
        let member = in_gym!(store, id, members::add, &ada(), day(), Source::Tested).unwrap();
        let later = day() + Days::new(14);
        let key = in_gym!(store, id, lifts::add, member, &lifted(5, 95.0, later)).unwrap();
        let max = |people: Vec<members::StoredMember>| {
            people[0].member.maxes[&MovementId::new("back-squat")].value.kg().round()
        };
        // 95 kg for five shows 111 kg and beats the single of 100 kg.
        assert_eq!(max(in_gym!(store, id, members::of_gym, &gym, later).unwrap()), 111.0);
        assert_eq!(in_gym!(store, id, lifts::of_member, member).unwrap().len(), 2);
        // A miss proves nothing; taking the five back leaves the single.
        let missed = NewLift { missed: true, ..lifted(1, 130.0, later) };
        in_gym!(store, id, lifts::add, member, &missed).unwrap();
        // Only the key that entering gave takes it back, and only on its day.
        assert!(in_gym!(store, id, lifts::take_back, later, "another").is_err());
        assert!(in_gym!(store, id, lifts::take_back, day(), &key).is_err());
        in_gym!(store, id, lifts::take_back, later, &key).unwrap();
        assert_eq!(max(in_gym!(store, id, members::of_gym, &gym, later).unwrap()), 100.0);
        // What is removed from the record comes back once.
        let row = in_gym!(store, id, lifts::of_member, member).unwrap().pop().unwrap();
        let key = in_gym!(store, id, lifts::remove, member, row.id).unwrap();
        assert_eq!(in_gym!(store, id, lifts::of_member, member).unwrap().len(), 1);
        in_gym!(store, id, restore::bring_back, &key).unwrap();
        assert_eq!(in_gym!(store, id, lifts::of_member, member).unwrap().len(), 2);
        assert!(matches!(in_gym!(store, id, restore::bring_back, &key), Err(StoreError::NotFound(_))));
    });
}

/// A page loads the sets that can count and no others: whatever the policy and the history, the max is that of the whole history.
#[test]
fn the_sets_that_are_loaded_are_all_that_any_policy_counts_from() {
    let database = TestDatabase::empty();
    let gym = database.gym(&Gym::default());
    database.with_store(move |store| async move {
        let today = day();
        let mut dice = Pcg64Mcg::seed_from_u64(7);
        let sources = [Source::Tested, Source::Estimated, Source::ClassResult, Source::Stated];
        for n in 0..60 {
            let name = format!("Member {n}");
            let member = Member { name, ..Member::default() };
            let id = in_gym!(store, gym, members::add, &member, today, Source::Stated).unwrap();
            // Half of them have lifted nothing lately, and some nothing but sets near what shows a max.
            let since = if n % 2 == 0 { 85 } else { 0 };
            let reps = if n % 3 == 0 { [9, 9, 10, 10, 10, 20] } else { [1, 1, 3, 5, 10, 20] };
            let sets: Vec<(_, NewLift<'_>)> = (0..dice.random_range(1..40))
                .map(|_| {
                    let set = NewLift {
                        lift: "back-squat",
                        load: Kilograms::from_kg(f64::from(dice.random_range(40..160))),
                        reps: reps[dice.random_range(0..6)],
                        rpe: dice.random_bool(0.3).then(|| f64::from(dice.random_range(12..20)) / 2.0),
                        missed: dice.random_bool(0.2),
                        source: sources[dice.random_range(0..4)],
                        set_on: today - Days::new(since + dice.random_range(0..120)),
                        kept: [None, Some(true), Some(false)][dice.random_range(0..3)],
                        asked: None,
                    };
                    (id, set)
                })
                .collect();
            // Of the first only the older set shows a max: the newer, of the same repetitions, left too many in reserve.
            let set = |rpe, days| NewLift { rpe, set_on: today - Days::new(days), ..lifted(10, 80.0, today) };
            let sets = if n == 0 { vec![(id, set(Some(6.0), 90)), (id, set(None, 120))] } else { sets };
            in_gym!(store, gym, lifts::add_all, &sets).unwrap();
            let all = in_gym!(store, gym, lifts::of_member, id).unwrap();
            let all: Vec<_> = all.iter().map(|set| set.record(today)).collect();
            for policy in MaxPolicy::ALL {
                let settings = Gym { max_policy: policy, ..Gym::default() };
                let loaded = in_gym!(store, gym, members::with_ids, &settings, today, &[id]).unwrap();
                let loaded = loaded[0].member.maxes.get(&MovementId::new("back-squat"));
                let whole = choose_max(&all, policy, settings.formula);
                assert_eq!(loaded.map(|max| max.value), whole.map(|max| max.value), "{policy:?} {all:?}");
            }
        }
    });
}

#[test]
fn a_roster_taken_in_again_brings_news_and_keeps_what_it_does_not_speak_of() {
    let database = TestDatabase::empty();
    let id = database.gym(&Gym::default());
    database.with_store(move |store| async move {
        let gym = Gym::default();
        let member = in_gym!(store, id, members::add, &ada(), day(), Source::Tested).unwrap();
        in_gym!(store, id, members::set_away, member, Some(day() - Days::new(20))).unwrap();
        let heavier = Max::on_file(Kilograms::from_kg(105.0));
        let news = Member { maxes: [(MovementId::new("back-squat"), heavier)].into(), ..ada() };
        in_gym!(store, id, members::take_in, std::slice::from_ref(&news), day()).unwrap();
        // The same again adds nothing to the history.
        in_gym!(store, id, members::take_in, std::slice::from_ref(&news), day()).unwrap();
        assert_eq!(in_gym!(store, id, lifts::of_member, member).unwrap().len(), 2);
        let people = in_gym!(store, id, members::of_gym, &gym, day()).unwrap();
        assert_eq!((people.len(), people[0].member.away_days), (1, Some(20)));
        in_gym!(store, id, members::set_away, member, None).unwrap();
        assert_eq!(in_gym!(store, id, members::of_gym, &gym, day()).unwrap()[0].member.away_days, None);
    });
}

#[test]
fn removing_a_member_removes_everything_on_file_about_them() {
    let database = TestDatabase::empty();
    let id = database.gym(&Gym::default());
    database.with_store(move |store| async move {
        let gym = Gym::default();
        let member = in_gym!(store, id, members::add, &ada(), day(), Source::Tested).unwrap();
        in_gym!(store, id, lifts::add, member, &lifted(3, 90.0, day())).unwrap();
        in_gym!(store, id, person::remove, member, Also::default()).unwrap();
        assert!(in_gym!(store, id, members::of_gym, &gym, day()).unwrap().is_empty());
        assert!(in_gym!(store, id, lifts::of_gym).unwrap().is_empty());
    });
}

#[test]
fn settings_are_changed_field_by_field_and_bookings_never_become_a_third_set() {
    let database = TestDatabase::empty();
    let gym = database.gym(&Gym::default());
    database.with_store(move |store| async move {
        for n in 1..=20_u32 {
            let racks = async {
                in_gym!(store, gym, gyms::change, move |gym| {
                    gym.racks = n;
                    Ok(())
                })
            };
            let rowers = async {
                in_gym!(store, gym, gyms::change, move |gym| {
                    gym.rowers = n;
                    Ok(())
                })
            };
            let (a, b) = tokio::join!(racks, rowers);
            a.unwrap();
            b.unwrap();
            let stands = in_gym!(store, gym, gyms::settings).unwrap();
            assert_eq!((stands.racks, stands.rowers), (n, n));
        }
        let mut ids = Vec::new();
        for name in ["Ada", "Ben", "Cyd", "Dov"] {
            let member = Member { name: name.to_owned(), ..Member::default() };
            ids.push(in_gym!(store, gym, members::add, &member, day(), Source::Stated).unwrap());
        }
        let starts = chrono::NaiveTime::from_hms_opt(18, 0, 0).unwrap();
        let class = NewClass { day: day(), starts, minutes: 60, coach: String::new() };
        let class = in_gym!(store, gym, classes::put, &class).unwrap();
        for _ in 0..20 {
            let (one, other) = (&ids[..2], &ids[1..]);
            let (a, b) = tokio::join!(async { in_gym!(store, gym, classes::book, class, one) }, async {
                in_gym!(store, gym, classes::book, class, other)
            });
            a.unwrap();
            b.unwrap();
            let booked = in_gym!(store, gym, classes::at, day(), starts).unwrap().unwrap().booked;
            assert!(booked == one || booked == other, "{booked:?}");
        }
    });
}

#[test]
fn a_removed_class_comes_back_with_its_bookings_and_what_was_decided_about_its_hour() {
    let database = TestDatabase::empty();
    let gym = database.gym(&Gym::default());
    database.with_store(move |store| async move {
        let member = in_gym!(store, gym, members::add, &ada(), day(), Source::Stated).unwrap();
        let starts = chrono::NaiveTime::from_hms_opt(18, 0, 0).unwrap();
        let new = NewClass { day: day(), starts, minutes: 45, coach: "Iris".to_owned() };
        let id = in_gym!(store, gym, classes::put, &new).unwrap();
        in_gym!(store, gym, classes::book, id, &[member]).unwrap();
        let pin = Decision::Hour(HourDecision::Pin { block: "warmup".to_owned(), seconds: 480 });
        in_gym!(store, gym, decisions::add, (day(), Some(starts)), (&[pin], "Iris"), &[]).unwrap();
        let class = in_gym!(store, gym, classes::at, day(), starts).unwrap().unwrap();
        let key = in_gym!(store, gym, classes::remove, &class).unwrap();
        assert!(in_gym!(store, gym, classes::at, day(), starts).unwrap().is_none());
        in_gym!(store, gym, restore::bring_back, &key).unwrap();
        let back = in_gym!(store, gym, classes::at, day(), starts).unwrap().unwrap();
        assert_eq!((back.minutes, &back.coach, &back.booked), (45, &"Iris".to_owned(), &vec![member]));
        let stands = stands(&store, gym, Some(starts), "").await;
        assert_eq!(stands.hour.pins.len(), 1);
        // Where another class has taken its place it does not push it away.
        let key = in_gym!(store, gym, classes::remove, &back).unwrap();
        in_gym!(store, gym, classes::put, &new).unwrap();
        assert!(matches!(in_gym!(store, gym, restore::bring_back, &key), Err(StoreError::Taken(_))));
    });
}

#[test]
fn a_text_saved_twice_is_no_conflict_and_two_changes_are_put_together() {
    let database = TestDatabase::empty();
    let gym = database.gym(&Gym::default());
    database.with_store(move |store| async move {
        let save = async |text: &str, seen, writer: &str| {
            in_gym!(
                store,
                gym,
                sessions::save,
                day(),
                NewText {
                    text,
                    corrections: &NOTHING_PUT_RIGHT,
                    seen,
                    writer,
                    by: "",
                    parts: &[],
                    while_typing: false
                }
            )
            .unwrap()
        };
        let base = "Back squat 5x5\n\nFor time\n50 burpees\n\nPlank 1 min\n";
        let Saved::As(first) = save(base, 0, "a").await else { panic!("a new day") };
        // A double click.
        assert_eq!(save(base, 0, "a").await, Saved::As(first));
        // Saved, back, edited, saved: the page is the same.
        let Saved::As(_) = save(&base.replace("5x5", "5x3"), first, "b").await else { panic!("the newest") };
        let third = save(&base.replace("5x5", "3x3"), first, "b").await;
        assert!(matches!(third, Saved::As(_)), "{third:?}");
        // Somebody else's page: put together where other lines were touched, shown where the same were.
        let Saved::Conflict(apart) = save(&base.replace("1 min", "2 min"), first, "c").await else {
            panic!("theirs")
        };
        let together = apart.together.unwrap();
        assert!(together.contains("3x3") && together.contains("2 min"), "{together}");
        let Saved::Conflict(same) = save(&base.replace("5x5", "1x1"), first, "c").await else {
            panic!("theirs")
        };
        assert_eq!(same.together, None);
    });
}

#[test]
fn of_what_a_page_saves_while_somebody_types_the_last_is_kept() {
    let database = TestDatabase::empty();
    let gym = database.gym(&Gym::default());
    database.with_store(move |store| async move {
        let save = async |written: &str, seen, writer: &str, while_typing| {
            let new = NewText { writer, while_typing, ..text(written, seen) };
            in_gym!(store, gym, sessions::save, day(), new).unwrap()
        };
        let kept = async || {
            let texts = in_gym!(store, gym, sessions::texts, day()).unwrap();
            texts.into_iter().map(|text| text.text).collect::<Vec<_>>()
        };
        save("run", 0, "a", true).await;
        save("run 4", 1, "a", true).await;
        save("run 400 m", 2, "a", true).await;
        assert_eq!(kept().await, ["run 400 m"]);
        assert_eq!(in_gym!(store, gym, sessions::decided, day()).unwrap(), None);
        // Whoever began from what was passed over is still compared with it.
        let theirs = save("run\n9 sit-ups", 1, "b", true).await;
        assert!(matches!(theirs, Saved::Conflict(conflict) if conflict.together.is_none()));
        // Another page goes on: what the first one left is a text of its own, and what somebody saves is one always.
        save("run 400 m\n9 sit-ups", 3, "b", true).await;
        assert_eq!(save("run 400 m\n9 sit-ups", 4, "b", false).await, Saved::As(4));
        let decided = in_gym!(store, gym, sessions::decided, day()).unwrap();
        assert_eq!(decided.unwrap().revision, 4);
        save("run 400 m\n9 burpees", 4, "b", true).await;
        assert_eq!(kept().await, ["run 400 m\n9 burpees", "run 400 m\n9 sit-ups", "run 400 m"]);
    });
    let passed = "select revision::text as name from session_texts where passed_over order by revision";
    assert_eq!(database.names(passed), ["1", "2"]);
    // For a day.
    database.run("update session_texts set saved_at = saved_at - interval '2 days'");
    database.with_store(move |store| async move {
        for (seen, written) in [(5, "row"), (6, "row 500 m")] {
            let new = NewText { writer: "c", while_typing: true, ..text(written, seen) };
            in_gym!(store, gym, sessions::save, day(), new).unwrap();
        }
    });
    assert_eq!(database.names(passed), ["6"]);
}

#[test]
fn a_person_can_be_taken_along_whole_and_leaves_nothing_behind() {
    let database = TestDatabase::empty();
    let gym = database.gym(&Gym {
        cycles: vec![lantern_core::strength::Cycle {
            name: "Ada Lind's squat".to_owned(),
            lift: "back-squat".to_owned(),
            weeks: vec!["5x5 @ 70%".to_owned()],
        }],
        ..Gym::default()
    });
    database.with_store(move |store| async move {
        let id = in_gym!(store, gym, members::add, &ada(), day(), Source::Tested).unwrap();
        in_gym!(
            store,
            gym,
            members::add,
            &Member { name: "Ben".to_owned(), ..Member::default() },
            day(),
            Source::Tested
        )
        .unwrap();
        let starts = chrono::NaiveTime::from_hms_opt(18, 0, 0).unwrap();
        let class = NewClass { day: day(), starts, minutes: 60, coach: "Ada Lind".to_owned() };
        let class = in_gym!(store, gym, classes::put, &class).unwrap();
        in_gym!(store, gym, classes::book, class, &[id]).unwrap();
        in_gym!(store, gym, aliases::put, "ada lind special", "burpee").unwrap();
        let written = format!("{TWO_PIECES}\nor ADA LIND's way: 10 ring rows\nAda Lind leads");
        let read = parts(&written);
        in_gym!(store, gym, sessions::save, day(), NewText { parts: &read, ..text(&written, 0) }).unwrap();
        let wish = HourDecision::Wish { piece: 0, pair: ("Ada Lind".into(), "Ben".into()), together: true };
        let dose = WarmupDecision::Dose { id: "cat-cow".to_owned(), dose: "10, Ada Lind 5".to_owned() };
        let made = [
            choose("Ada Lind", VersionName::Lighter),
            choose("Ben", VersionName::Lighter),
            Decision::Hour(wish),
            Decision::Warmup(dose),
        ];
        in_gym!(store, gym, decisions::add, (day(), Some(starts)), (&made, "Ada Lind"), &read).unwrap();
        let looked = Looked { on: "2026-03-02".to_owned(), spares: vec!["knee".to_owned()] };
        in_gym!(store, gym, members::look_at_limit, id, "left knee: no jumping", looked).unwrap();
        let lift = in_gym!(store, gym, lifts::of_member, id).unwrap().pop().unwrap();
        in_gym!(store, gym, lifts::remove, id, lift.id).unwrap();

        let file = in_gym!(store, gym, person::everything, id).unwrap().to_string();
        for told in [
            "left knee: no jumping",
            "2026-03-02T18:00",
            "Lighter",
            "\"removed\":[{",
            "2026-03-02",
            "cat-cow",
            "Ada Lind's squat",
            "special",
        ] {
            assert!(file.contains(told), "{told} is not in {file}");
        }
        let mentions = in_gym!(store, gym, person::mentions, "Ada Lind").unwrap();
        assert_eq!(
            (mentions.coaches.len(), mentions.cycles.len(), mentions.names.len(), mentions.texts.len()),
            (1, 1, 1, 1)
        );
        in_gym!(
            store,
            gym,
            person::remove,
            id,
            Also { coaches: true, cycles: true, names: true, texts: true }
        )
        .unwrap();
        assert!(in_gym!(store, gym, person::mentions, "Ada Lind").unwrap().is_empty());
        let stands = stands(&store, gym, Some(starts), TWO_PIECES).await;
        assert_eq!(stands.pieces.of(1).versions.keys().collect::<Vec<_>>(), ["Ben"]);
        assert!(stands.warmup.doses.is_empty() && stands.hour.floor(0).teams.together.is_empty());
    });
    // Whatever table: the name stands in none.
    for written in ["Ada Lind", "ADA LIND"] {
        assert_eq!(database.rows_with(written), Vec::<String>::new());
    }
}

#[test]
fn the_demo_touches_no_gym_that_it_did_not_make() {
    let database = TestDatabase::empty();
    let own = database.gym(&Gym { name: "Ours".to_owned(), ..Gym::default() });
    let url = database.url.clone();
    database.with_store(move |store| async move {
        in_gym!(store, own, members::add, &ada(), day(), Source::Stated).unwrap();
        assert!(matches!(demo::load(&url, None).await, Err(StoreError::Refused(_))));
        assert!(matches!(demo::remove(&url).await, Err(StoreError::Refused(_))));
        assert_eq!(in_gym!(store, own, members::of_gym, &Gym::default(), day()).unwrap().len(), 1);
    });
    let demo_database = TestDatabase::demo();
    let (before, url) = (demo_database.demo_gym(), demo_database.url.clone());
    demo_database.with_store(move |store| async move {
        assert_eq!(demo::load(&url, None).await.unwrap(), before);
        let accounts = accounts::count(&store).await.unwrap();
        demo::remove(&url).await.unwrap();
        // Accounts that belong nowhere any more go with the gym.
        assert_eq!((accounts > 0, accounts::count(&store).await.unwrap()), (true, 0));
        assert_ne!(demo::load(&url, None).await.unwrap(), before);
    });
}

#[test]
fn an_import_is_whole_or_nothing() {
    let database = TestDatabase::empty();
    let gym = database.gym(&Gym::default());
    database.with_store(move |store| async move {
        let good = ada();
        let bad = Member { name: "x".repeat(121), ..Member::default() };
        assert!(matches!(
            in_gym!(store, gym, members::take_in, &[good, bad], day()),
            Err(StoreError::Refused(_))
        ));
        assert!(in_gym!(store, gym, members::of_gym, &Gym::default(), day()).unwrap().is_empty());
    });
}

#[test]
fn several_first_starts_at_once_all_succeed() {
    let database = TestDatabase::bare();
    let url = database.url.clone();
    let starts: Vec<_> = (0..6)
        .map(|_| {
            let url = url.clone();
            std::thread::spawn(move || lantern_store::migrate(&url))
        })
        .collect();
    for start in starts {
        start.join().unwrap().unwrap();
    }
}

/// Over a pooler in transaction mode nobody hears anything: whoever listens goes past it.
#[test]
fn whoever_listens_goes_to_the_database_itself() {
    let database = TestDatabase::empty();
    let (direct, nowhere) = (database.url.clone(), "postgres://lantern@127.0.0.1:1/lantern");
    let heard = database.with_store(move |_| async move {
        let alone = Store::new(nowhere).unwrap().listen().await.is_ok();
        (alone, Store::new(nowhere).unwrap().with_direct(&direct).unwrap().listen().await.is_ok())
    });
    assert_eq!(heard, (false, true));
}
