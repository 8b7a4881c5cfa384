//! Rows and queries against a real database: each gym sees its own, and what belongs together goes together.

use browser_tests::TestDatabase;
use chrono::{Days, NaiveDate};
use lantern_core::gym::Gym;
use lantern_core::member::{Limit, Max, Member};
use lantern_core::movement::MovementId;
use lantern_core::strength::Source;
use lantern_core::units::Kilograms;
use lantern_core::versions::{PieceEdits, VersionName};
use lantern_core::warmup::Edits;
use lantern_store::lifts::{self, NewLift};
use lantern_store::sessions::{self, Saved};
use lantern_store::{aliases, gyms, members, pieces, warmups};

fn day() -> NaiveDate {
    NaiveDate::from_ymd_opt(2026, 3, 2).unwrap()
}

fn ada() -> Member {
    let squat = Max::on_file(Kilograms::from_kg(100.0));
    Member {
        name: "Ada Lind".to_owned(),
        maxes: [(MovementId::new("back-squat"), squat)].into(),
        limits: vec![Limit::from_text("left knee: no jumping").unwrap()],
        ..Member::default()
    }
}

fn lifted(reps: u32, kg: f64, set_on: NaiveDate) -> NewLift<'static> {
    let load = Kilograms::from_kg(kg);
    NewLift { lift: "back-squat", load, reps, rpe: None, missed: false, source: Source::ClassResult, set_on }
}

#[test]
fn a_gym_sees_its_own_rows_and_nobody_elses() {
    let database = TestDatabase::empty();
    database.with_store(|store| async move {
        let gym = |name: &str| Gym { name: name.to_owned(), ..Gym::default() };
        let (north, south) = (gym("North"), gym("South"));
        let (a, b) = (gyms::add(&store, &north).await.unwrap(), gyms::add(&store, &south).await.unwrap());
        let member = members::add(&store, a, &ada(), day(), "tested").await.unwrap();
        sessions::save(&store, a, day(), "For time\n50 burpees", 0).await.unwrap();
        aliases::put(&store, a, "flop", "burpee").await.unwrap();

        assert_eq!(members::of_gym(&store, b, &south, day()).await.unwrap().len(), 0);
        assert!(sessions::of_day(&store, b, day()).await.unwrap().is_none());
        assert!(aliases::of_gym(&store, b).await.unwrap().is_empty());
        assert!(lifts::of_gym(&store, b).await.unwrap().is_empty());
        // Another gym's member can be neither lifted for, nor removed, nor sent away.
        assert!(lifts::add(&store, b, member, &lifted(1, 120.0, day())).await.is_err());
        assert!(members::set_away(&store, b, member, Some(day())).await.is_err());
        members::remove(&store, b, member).await.unwrap();
        assert_eq!(members::of_gym(&store, a, &north, day()).await.unwrap().len(), 1);
    });
}

#[test]
fn the_second_of_two_who_edit_a_day_is_told_and_loses_nothing() {
    let database = TestDatabase::empty();
    database.with_store(|store| async move {
        let gym = gyms::add(&store, &Gym::default()).await.unwrap();
        let Saved::As(first) = sessions::save(&store, gym, day(), "one", 0).await.unwrap() else { panic!() };
        let Saved::As(second) = sessions::save(&store, gym, day(), "two", first).await.unwrap() else {
            panic!()
        };
        assert!(second > first);
        // Whoever still has the first revision in hand.
        match sessions::save(&store, gym, day(), "three", first).await.unwrap() {
            Saved::Conflict(stands) => assert_eq!((stands.text.as_str(), stands.revision), ("two", second)),
            Saved::As(_) => panic!("the second coach's text was overwritten"),
        }
        // A new day is a conflict too when somebody has begun it meanwhile.
        assert!(matches!(sessions::save(&store, gym, day(), "four", 0).await.unwrap(), Saved::Conflict(_)));
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
        let member = members::add(&store, id, &ada(), day(), "tested").await.unwrap();
        let later = day() + Days::new(14);
        let row = lifts::add(&store, id, member, &lifted(5, 95.0, later)).await.unwrap();
        let max = |people: Vec<members::StoredMember>| {
            people[0].member.maxes[&MovementId::new("back-squat")].value.kg().round()
        };
        // 95 kg for five shows 111 kg and beats the single of 100 kg.
        assert_eq!(max(members::of_gym(&store, id, &gym, later).await.unwrap()), 111.0);
        assert_eq!(lifts::of_member(&store, id, member).await.unwrap().len(), 2);
        // A miss proves nothing; taking the five back leaves the single.
        let missed = NewLift { missed: true, ..lifted(1, 130.0, later) };
        lifts::add(&store, id, member, &missed).await.unwrap();
        lifts::remove(&store, id, row).await.unwrap();
        assert_eq!(max(members::of_gym(&store, id, &gym, later).await.unwrap()), 100.0);
    });
}

#[test]
fn a_roster_taken_in_again_brings_news_and_keeps_what_it_does_not_speak_of() {
    let database = TestDatabase::empty();
    database.with_store(|store| async move {
        let gym = Gym::default();
        let id = gyms::add(&store, &gym).await.unwrap();
        let member = members::add(&store, id, &ada(), day(), "tested").await.unwrap();
        members::set_away(&store, id, member, Some(day() - Days::new(20))).await.unwrap();
        let heavier = Max::on_file(Kilograms::from_kg(105.0));
        let news = Member { maxes: [(MovementId::new("back-squat"), heavier)].into(), ..ada() };
        members::take_in(&store, id, &news, day()).await.unwrap();
        // The same again adds nothing to the history.
        members::take_in(&store, id, &news, day()).await.unwrap();
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
        let member = members::add(&store, id, &ada(), day(), "tested").await.unwrap();
        lifts::add(&store, id, member, &lifted(3, 90.0, day())).await.unwrap();
        members::remove(&store, id, member).await.unwrap();
        assert!(members::of_gym(&store, id, &gym, day()).await.unwrap().is_empty());
        assert!(lifts::of_gym(&store, id).await.unwrap().is_empty());
    });
}

#[test]
fn decisions_of_a_day_come_back_as_they_were_and_a_day_without_any_is_empty() {
    let database = TestDatabase::empty();
    database.with_store(|store| async move {
        let gym = gyms::add(&store, &Gym::default()).await.unwrap();
        assert_eq!(pieces::of_day(&store, gym, day()).await.unwrap(), PieceEdits::default());
        assert_eq!(warmups::of_day(&store, gym, day()).await.unwrap(), Edits::default());
        let mut decided = PieceEdits::default();
        decided.change(1, |edit| {
            edit.versions.insert("Ada Lind".to_owned(), VersionName::AroundIt);
            (edit.low, edit.high, edit.more) = (Some(480.0), None, true);
        });
        let mut warmup = Edits::default();
        warmup.refuse("easy-row");
        for _ in 0..2 {
            pieces::put(&store, gym, day(), &decided).await.unwrap();
            warmups::put(&store, gym, day(), &warmup).await.unwrap();
        }
        assert_eq!(pieces::of_day(&store, gym, day()).await.unwrap(), decided);
        assert_eq!(warmups::of_day(&store, gym, day()).await.unwrap(), warmup);
        assert_eq!(pieces::of_day(&store, gym, day() + Days::new(1)).await.unwrap(), PieceEdits::default());
    });
}
