//! Rows and queries against a real database: each gym sees its own, and what belongs together goes together.

mod decided;
mod schema;

use browser_tests::TestDatabase;
use chrono::{Days, NaiveDate, NaiveTime};
use lantern_core::decide::{Decision, HourDecision, PieceDecision, WarmupDecision};
use lantern_core::gym::Gym;
use lantern_core::limits::{Limit, Looked};
use lantern_core::member::{Max, Member};
use lantern_core::movement::{Catalogue, MovementId};
use lantern_core::plan::Decisions;
use lantern_core::read::read;
use lantern_core::session::Likeness;
use lantern_core::strength::Source;
use lantern_core::units::Kilograms;
use lantern_core::versions::VersionName;
use lantern_store::classes::{self, NewClass};
use lantern_store::decisions::Standing;
use lantern_store::lifts::{self, NewLift};
use lantern_store::person::{self, Also};
use lantern_store::pieces::NewPiece;
use lantern_store::removals;
use lantern_store::sessions::{self, NewText, Saved};
use lantern_store::{GymId, Store, StoreError, aliases, decisions, demo, gyms, members};

static NOTHING_PUT_RIGHT: serde_json::Value = serde_json::Value::Array(Vec::new());

fn text(text: &str, seen: i32) -> NewText<'_> {
    NewText { text, corrections: &NOTHING_PUT_RIGHT, seen, writer: "", parts: &[] }
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
    NewLift { lift: "back-squat", load, reps, rpe: None, missed: false, source: Source::ClassResult, set_on }
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
    let known = members::of_gym(store, gym, &Gym::default(), day()).await.unwrap();
    let called: Vec<(i64, String)> = known.into_iter().map(|known| (known.id, known.member.name)).collect();
    let likeness: Vec<Likeness> = parts(text).into_iter().map(|part| part.likeness).collect();
    decisions::standing(store, gym, day(), starts).await.unwrap().of(&likeness, &called)
}

#[test]
fn a_gym_sees_its_own_rows_and_nobody_elses() {
    let database = TestDatabase::empty();
    database.with_store(|store| async move {
        let gym = |name: &str| Gym { name: name.to_owned(), ..Gym::default() };
        let (north, south) = (gym("North"), gym("South"));
        let (a, b) = (gyms::add(&store, &north).await.unwrap(), gyms::add(&store, &south).await.unwrap());
        let member = members::add(&store, a, &ada(), day(), Source::Tested).await.unwrap();
        sessions::save(&store, a, day(), text("For time\n50 burpees", 0)).await.unwrap();
        aliases::put(&store, a, "flop", "burpee").await.unwrap();

        assert_eq!(members::of_gym(&store, b, &south, day()).await.unwrap().len(), 0);
        assert!(sessions::of_day(&store, b, day()).await.unwrap().is_none());
        assert!(aliases::of_gym(&store, b).await.unwrap().is_empty());
        assert!(lifts::of_gym(&store, b).await.unwrap().is_empty());
        // Another gym's member can be neither lifted for, nor removed, nor sent away.
        assert!(lifts::add(&store, b, member, &lifted(1, 120.0, day())).await.is_err());
        assert!(members::set_away(&store, b, member, Some(day())).await.is_err());
        assert!(person::remove(&store, b, member, Also::default()).await.is_err());
        assert!(members::rename(&store, b, member, "Eve").await.is_err());
        // Nor booked into a class of that gym.
        let starts = NaiveTime::from_hms_opt(18, 0, 0).unwrap();
        let class = NewClass { day: day(), starts, minutes: 60, coach: String::new() };
        let class = classes::put(&store, b, &class).await.unwrap();
        let _ = classes::book(&store, b, class, &[member]).await;
        assert!(classes::at(&store, b, day(), starts).await.unwrap().unwrap().booked.is_empty());
        assert_eq!(members::of_gym(&store, a, &north, day()).await.unwrap().len(), 1);
    });
}

#[test]
fn the_second_of_two_who_edit_a_day_is_told_and_loses_nothing() {
    let database = TestDatabase::empty();
    database.with_store(|store| async move {
        let gym = gyms::add(&store, &Gym::default()).await.unwrap();
        let Saved::As(first) = sessions::save(&store, gym, day(), text("one", 0)).await.unwrap() else {
            panic!()
        };
        let Saved::As(second) = sessions::save(&store, gym, day(), text("two", first)).await.unwrap() else {
            panic!()
        };
        assert!(second > first);
        // Whoever still has the first revision in hand.
        match sessions::save(&store, gym, day(), text("three", first)).await.unwrap() {
            Saved::Conflict(stands) => {
                assert_eq!((stands.theirs.text.as_str(), stands.theirs.revision), ("two", second));
            }
            Saved::As(_) => panic!("the second coach's text was overwritten"),
        }
        // A new day is a conflict too when somebody has begun it meanwhile.
        assert!(matches!(
            sessions::save(&store, gym, day(), text("four", 0)).await.unwrap(),
            Saved::Conflict(_)
        ));
        let week = sessions::between(&store, gym, day() - Days::new(3), day() + Days::new(3)).await.unwrap();
        assert_eq!(week.len(), 1);
        assert!(
            sessions::between(&store, gym, day() + Days::new(1), day() + Days::new(3))
                .await
                .unwrap()
                .is_empty()
        );
    });
}

#[test]
fn a_history_is_kept_whole_and_the_gyms_policy_counts_from_it() {
    let database = TestDatabase::empty();
    database.with_store(|store| async move {
        let gym = Gym::default();
        let id = gyms::add(&store, &gym).await.unwrap();
        let member = members::add(&store, id, &ada(), day(), Source::Tested).await.unwrap();
        let later = day() + Days::new(14);
        let key = lifts::add(&store, id, member, &lifted(5, 95.0, later)).await.unwrap();
        let max = |people: Vec<members::StoredMember>| {
            people[0].member.maxes[&MovementId::new("back-squat")].value.kg().round()
        };
        // 95 kg for five shows 111 kg and beats the single of 100 kg.
        assert_eq!(max(members::of_gym(&store, id, &gym, later).await.unwrap()), 111.0);
        assert_eq!(lifts::of_member(&store, id, member).await.unwrap().len(), 2);
        // A miss proves nothing; taking the five back leaves the single.
        let missed = NewLift { missed: true, ..lifted(1, 130.0, later) };
        lifts::add(&store, id, member, &missed).await.unwrap();
        // Only the key that entering gave takes it back, and only on its day.
        assert!(lifts::take_back(&store, id, later, "another").await.is_err());
        assert!(lifts::take_back(&store, id, day(), &key).await.is_err());
        lifts::take_back(&store, id, later, &key).await.unwrap();
        assert_eq!(max(members::of_gym(&store, id, &gym, later).await.unwrap()), 100.0);
        // What is removed from the record comes back once.
        let row = lifts::of_member(&store, id, member).await.unwrap().pop().unwrap();
        let key = lifts::remove(&store, id, member, row.id).await.unwrap();
        assert_eq!(lifts::of_member(&store, id, member).await.unwrap().len(), 1);
        removals::bring_back(&store, id, &key).await.unwrap();
        assert_eq!(lifts::of_member(&store, id, member).await.unwrap().len(), 2);
        assert!(matches!(removals::bring_back(&store, id, &key).await, Err(StoreError::NotFound(_))));
    });
}

#[test]
fn a_roster_taken_in_again_brings_news_and_keeps_what_it_does_not_speak_of() {
    let database = TestDatabase::empty();
    database.with_store(|store| async move {
        let gym = Gym::default();
        let id = gyms::add(&store, &gym).await.unwrap();
        let member = members::add(&store, id, &ada(), day(), Source::Tested).await.unwrap();
        members::set_away(&store, id, member, Some(day() - Days::new(20))).await.unwrap();
        let heavier = Max::on_file(Kilograms::from_kg(105.0));
        let news = Member { maxes: [(MovementId::new("back-squat"), heavier)].into(), ..ada() };
        members::take_in(&store, id, std::slice::from_ref(&news), day()).await.unwrap();
        // The same again adds nothing to the history.
        members::take_in(&store, id, std::slice::from_ref(&news), day()).await.unwrap();
        assert_eq!(lifts::of_member(&store, id, member).await.unwrap().len(), 2);
        let people = members::of_gym(&store, id, &gym, day()).await.unwrap();
        assert_eq!((people.len(), people[0].member.away_days), (1, Some(20)));
        members::set_away(&store, id, member, None).await.unwrap();
        assert_eq!(members::of_gym(&store, id, &gym, day()).await.unwrap()[0].member.away_days, None);
    });
}

#[test]
fn removing_a_member_removes_everything_on_file_about_them() {
    let database = TestDatabase::empty();
    database.with_store(|store| async move {
        let gym = Gym::default();
        let id = gyms::add(&store, &gym).await.unwrap();
        let member = members::add(&store, id, &ada(), day(), Source::Tested).await.unwrap();
        lifts::add(&store, id, member, &lifted(3, 90.0, day())).await.unwrap();
        person::remove(&store, id, member, Also::default()).await.unwrap();
        assert!(members::of_gym(&store, id, &gym, day()).await.unwrap().is_empty());
        assert!(lifts::of_gym(&store, id).await.unwrap().is_empty());
    });
}

#[test]
fn settings_are_changed_field_by_field_and_bookings_never_become_a_third_set() {
    let database = TestDatabase::empty();
    database.with_store(|store| async move {
        let gym = gyms::add(&store, &Gym::default()).await.unwrap();
        for n in 1..=20_u32 {
            let racks = gyms::change(&store, gym, move |gym| {
                gym.racks = n;
                Ok(())
            });
            let rowers = gyms::change(&store, gym, move |gym| {
                gym.rowers = n;
                Ok(())
            });
            let (a, b) = tokio::join!(racks, rowers);
            a.unwrap();
            b.unwrap();
            let (_, stands) = gyms::first(&store).await.unwrap().unwrap();
            assert_eq!((stands.racks, stands.rowers), (n, n));
        }
        let mut ids = Vec::new();
        for name in ["Ada", "Ben", "Cyd", "Dov"] {
            let member = Member { name: name.to_owned(), ..Member::default() };
            ids.push(members::add(&store, gym, &member, day(), Source::Stated).await.unwrap());
        }
        let starts = chrono::NaiveTime::from_hms_opt(18, 0, 0).unwrap();
        let class = NewClass { day: day(), starts, minutes: 60, coach: String::new() };
        let class = classes::put(&store, gym, &class).await.unwrap();
        for _ in 0..20 {
            let (one, other) = (&ids[..2], &ids[1..]);
            let (a, b) = tokio::join!(
                classes::book(&store, gym, class, one),
                classes::book(&store, gym, class, other)
            );
            a.unwrap();
            b.unwrap();
            let booked = classes::at(&store, gym, day(), starts).await.unwrap().unwrap().booked;
            assert!(booked == one || booked == other, "{booked:?}");
        }
    });
}

#[test]
fn a_removed_class_comes_back_with_its_bookings_and_what_was_decided_about_its_hour() {
    let database = TestDatabase::empty();
    database.with_store(|store| async move {
        let gym = gyms::add(&store, &Gym::default()).await.unwrap();
        let member = members::add(&store, gym, &ada(), day(), Source::Stated).await.unwrap();
        let starts = chrono::NaiveTime::from_hms_opt(18, 0, 0).unwrap();
        let new = NewClass { day: day(), starts, minutes: 45, coach: "Iris".to_owned() };
        let id = classes::put(&store, gym, &new).await.unwrap();
        classes::book(&store, gym, id, &[member]).await.unwrap();
        let pin = Decision::Hour(HourDecision::Pin { block: "warmup".to_owned(), seconds: 480 });
        decisions::add(&store, gym, (day(), Some(starts)), (&[pin], "Iris"), &[]).await.unwrap();
        let class = classes::at(&store, gym, day(), starts).await.unwrap().unwrap();
        let key = classes::remove(&store, gym, &class).await.unwrap();
        assert!(classes::at(&store, gym, day(), starts).await.unwrap().is_none());
        removals::bring_back(&store, gym, &key).await.unwrap();
        let back = classes::at(&store, gym, day(), starts).await.unwrap().unwrap();
        assert_eq!((back.minutes, &back.coach, &back.booked), (45, &"Iris".to_owned(), &vec![member]));
        let stands = stands(&store, gym, Some(starts), "").await;
        assert_eq!(stands.hour.pins.len(), 1);
        // Where another class has taken its place it does not push it away.
        let key = classes::remove(&store, gym, &back).await.unwrap();
        classes::put(&store, gym, &new).await.unwrap();
        assert!(matches!(removals::bring_back(&store, gym, &key).await, Err(StoreError::Taken(_))));
    });
}

#[test]
fn a_text_saved_twice_is_no_conflict_and_two_changes_are_put_together() {
    let database = TestDatabase::empty();
    database.with_store(|store| async move {
        let gym = gyms::add(&store, &Gym::default()).await.unwrap();
        let save = async |text: &str, seen, writer: &str| {
            sessions::save(
                &store,
                gym,
                day(),
                NewText { text, corrections: &NOTHING_PUT_RIGHT, seen, writer, parts: &[] },
            )
            .await
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
fn a_person_can_be_taken_along_whole_and_leaves_nothing_behind() {
    let database = TestDatabase::empty();
    database.with_store(|store| async move {
        let settings = Gym {
            cycles: vec![lantern_core::strength::Cycle {
                name: "Ada Lind's squat".to_owned(),
                lift: "back-squat".to_owned(),
                weeks: vec!["5x5 @ 70%".to_owned()],
            }],
            ..Gym::default()
        };
        let gym = gyms::add(&store, &settings).await.unwrap();
        let id = members::add(&store, gym, &ada(), day(), Source::Tested).await.unwrap();
        members::add(
            &store,
            gym,
            &Member { name: "Ben".to_owned(), ..Member::default() },
            day(),
            Source::Tested,
        )
        .await
        .unwrap();
        let starts = chrono::NaiveTime::from_hms_opt(18, 0, 0).unwrap();
        let class = NewClass { day: day(), starts, minutes: 60, coach: "Ada Lind".to_owned() };
        let class = classes::put(&store, gym, &class).await.unwrap();
        classes::book(&store, gym, class, &[id]).await.unwrap();
        aliases::put(&store, gym, "ada lind special", "burpee").await.unwrap();
        let written = format!("{TWO_PIECES}\nor ADA LIND's way: 10 ring rows\nAda Lind leads");
        let read = parts(&written);
        sessions::save(&store, gym, day(), NewText { parts: &read, ..text(&written, 0) }).await.unwrap();
        let wish = HourDecision::Wish { piece: 0, pair: ("Ada Lind".into(), "Ben".into()), together: true };
        let dose = WarmupDecision::Dose { id: "cat-cow".to_owned(), dose: "10, Ada Lind 5".to_owned() };
        let made = [
            choose("Ada Lind", VersionName::Lighter),
            choose("Ben", VersionName::Lighter),
            Decision::Hour(wish),
            Decision::Warmup(dose),
        ];
        decisions::add(&store, gym, (day(), Some(starts)), (&made, "Ada Lind"), &read).await.unwrap();
        let looked = Looked { on: "2026-03-02".to_owned(), spares: vec!["knee".to_owned()] };
        members::look_at_limit(&store, gym, id, "left knee: no jumping", looked).await.unwrap();
        let lift = lifts::of_member(&store, gym, id).await.unwrap().pop().unwrap();
        lifts::remove(&store, gym, id, lift.id).await.unwrap();

        let file = person::everything(&store, gym, id).await.unwrap().to_string();
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
        let mentions = person::mentions(&store, gym, "Ada Lind").await.unwrap();
        assert_eq!(
            (mentions.coaches.len(), mentions.cycles.len(), mentions.names.len(), mentions.texts.len()),
            (1, 1, 1, 1)
        );
        person::remove(&store, gym, id, Also { coaches: true, cycles: true, names: true, texts: true })
            .await
            .unwrap();
        assert!(person::mentions(&store, gym, "Ada Lind").await.unwrap().is_empty());
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
    database.with_store(|store| async move {
        let own = gyms::add(&store, &Gym { name: "Ours".to_owned(), ..Gym::default() }).await.unwrap();
        members::add(&store, own, &ada(), day(), Source::Stated).await.unwrap();
        assert!(matches!(demo::load(&store, None).await, Err(StoreError::Refused(_))));
        assert!(matches!(demo::remove(&store).await, Err(StoreError::Refused(_))));
        assert_eq!(members::of_gym(&store, own, &Gym::default(), day()).await.unwrap().len(), 1);
    });
    let demo_database = TestDatabase::demo();
    demo_database.with_store(|store| async move {
        let before = gyms::first(&store).await.unwrap().unwrap().0;
        assert_eq!(demo::load(&store, None).await.unwrap(), before);
        demo::remove(&store).await.unwrap();
        assert_ne!(demo::load(&store, None).await.unwrap(), before);
    });
}

#[test]
fn an_import_is_whole_or_nothing() {
    let database = TestDatabase::empty();
    database.with_store(|store| async move {
        let gym = gyms::add(&store, &Gym::default()).await.unwrap();
        let good = ada();
        let bad = Member { name: "x".repeat(121), ..Member::default() };
        assert!(matches!(
            members::take_in(&store, gym, &[good, bad], day()).await,
            Err(StoreError::Refused(_))
        ));
        assert!(members::of_gym(&store, gym, &Gym::default(), day()).await.unwrap().is_empty());
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
