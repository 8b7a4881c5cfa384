//! Decisions in their rows: whom and what they are about, and what stands of them.

use super::*;

#[test]
fn decisions_of_a_day_come_back_as_they_were_and_a_day_without_any_is_empty() {
    let database = TestDatabase::empty();
    let gym = database.gym(&Gym::default());
    database.with_store(move |store| async move {
        let evening = chrono::NaiveTime::from_hms_opt(18, 0, 0);
        assert_eq!(stands(&store, gym, None, TWO_PIECES).await, Decisions::default());
        let made = [
            choose("Ada Lind", VersionName::AroundIt),
            Decision::Warmup(WarmupDecision::Refuse { id: "easy-row".to_owned() }),
            Decision::Hour(HourDecision::Pin { block: "warmup".to_owned(), seconds: 480 }),
        ];
        for _ in 0..2 {
            in_gym!(store, gym, decisions::add, (day(), evening), (&made, "Iris"), &parts(TWO_PIECES))
                .unwrap();
        }
        let mut wanted = Decisions::default();
        made.iter().for_each(|decision| decision.apply(&mut wanted));
        assert_eq!(stands(&store, gym, evening, TWO_PIECES).await, wanted);
        // The hour is the class's own; the pieces are the day's.
        let whole = stands(&store, gym, None, TWO_PIECES).await;
        assert!(whole.hour.pins.is_empty() && whole.pieces == wanted.pieces);
        let next = in_gym!(store, gym, lantern_store::day::standing, day() + Days::new(1), evening).unwrap();
        assert_eq!(next, Standing::default());
    });
}

/// Two coaches, two hundred decisions at the same moment about different members: all of them stand.
#[test]
fn of_simultaneous_decisions_none_is_lost() {
    let database = TestDatabase::empty();
    let gym = database.gym(&Gym::default());
    let stand = database.with_store(move |store| async move {
        let one = |coach: &'static str| {
            let store = store.clone();
            async move {
                for n in 0..100 {
                    let decision = [choose(&format!("{coach} {n}"), VersionName::Lighter)];
                    in_gym!(
                        store,
                        gym,
                        decisions::add,
                        (day(), None),
                        (&decision, coach),
                        &parts(TWO_PIECES)
                    )
                    .unwrap();
                }
            }
        };
        tokio::join!(one("Ada"), one("Ben"));
        stands(&store, gym, None, TWO_PIECES).await.pieces.of(1).versions.len()
    });
    assert_eq!(stand, 200);
}

/// A part above, another order, a changed number, a part taken out and put back: what was decided stays with its piece.
#[test]
fn decisions_follow_the_piece_wherever_it_stands() {
    let database = TestDatabase::empty();
    let gym = database.gym(&Gym::default());
    database.with_store(move |store| async move {
        in_gym!(store, gym, members::add, &ada(), day(), Source::Stated).unwrap();
        let mut seen = 0;
        let mut save = async |written: &str| {
            let new = NewText { parts: &parts(written), ..text(written, seen) };
            let Saved::As(revision) = in_gym!(store, gym, sessions::save, day(), new).unwrap() else {
                panic!("nobody else writes")
            };
            seen = revision;
        };
        save(TWO_PIECES).await;
        let made = [
            choose_of(0, "Ada Lind", VersionName::Lighter),
            choose_of(1, "Ada Lind", VersionName::AroundIt),
            Decision::Pieces(PieceDecision::More { piece: 1, on: true }),
        ];
        in_gym!(store, gym, decisions::add, (day(), None), (&made, ""), &parts(TWO_PIECES)).unwrap();
        let version = async |written: &str, piece: usize| {
            stands(&store, gym, None, written).await.pieces.of(piece).versions.get("Ada Lind").copied()
        };
        let (burpees, amrap) = TWO_PIECES.split_once("\n\n").unwrap();
        let above = format!("Back squat 5x5 @ 75%\n\n5 rounds for time\n400 m run\n\n{TWO_PIECES}");
        let turned = format!("{amrap}\n\n{}", burpees.replace("50", "60"));
        for (written, of_burpees, of_amrap) in
            [(above, Some(1), Some(2)), (turned, Some(1), Some(0)), (burpees.to_owned(), Some(0), None)]
        {
            save(&written).await;
            if let Some(piece) = of_burpees {
                assert_eq!(version(&written, piece).await, Some(VersionName::Lighter), "{written}");
            }
            if let Some(piece) = of_amrap {
                assert_eq!(version(&written, piece).await, Some(VersionName::AroundIt), "{written}");
            }
        }
        // It comes back, and what was decided with it.
        save(TWO_PIECES).await;
        assert_eq!(version(TWO_PIECES, 1).await, Some(VersionName::AroundIt));
        assert!(stands(&store, gym, None, TWO_PIECES).await.pieces.of(1).more);
    });
}

#[test]
fn somebody_called_otherwise_stays_who_they_are_and_two_may_share_a_name() {
    let database = TestDatabase::empty();
    let gym = database.gym(&Gym::default());
    let elsewhere = database.gym(&Gym::default());
    database.with_store(move |store| async move {
        let id = in_gym!(store, gym, members::add, &ada(), day(), Source::Stated).unwrap();
        let ben = Member { name: "Ben".to_owned(), ..Member::default() };
        let other = in_gym!(store, gym, members::add, &ben, day(), Source::Stated).unwrap();
        let made = [choose("Ada Lind", VersionName::Lighter), choose("Ben", VersionName::AroundIt)];
        in_gym!(store, gym, decisions::add, (day(), None), (&made, ""), &parts(TWO_PIECES)).unwrap();
        assert_eq!(in_gym!(store, gym, members::rename, id, "Ada Berg").unwrap(), "Ada Berg");
        assert_eq!(in_gym!(store, gym, members::rename, other, "Ada Berg").unwrap(), "Ada Berg (2)");
        // Nobody takes a number by name, so that two are never called the same.
        assert_eq!(in_gym!(store, gym, members::rename, id, "Ada Berg (2)").unwrap(), "Ada Berg");
        let stands = stands(&store, gym, None, TWO_PIECES).await.pieces.of(1).versions;
        let stands: Vec<(&str, VersionName)> = stands.iter().map(|(name, of)| (name.as_str(), *of)).collect();
        assert_eq!(stands, [("Ada Berg", VersionName::Lighter), ("Ada Berg (2)", VersionName::AroundIt)]);
        // A roster finds each of them by what they are called.
        let known = in_gym!(store, gym, members::of_gym, &Gym::default(), day()).unwrap();
        let roster: Vec<Member> = known.into_iter().map(|known| known.member).collect();
        in_gym!(store, gym, members::take_in, &roster, day()).unwrap();
        assert_eq!(in_gym!(store, gym, members::of_gym, &Gym::default(), day()).unwrap().len(), 2);
        assert!(in_gym!(store, elsewhere, members::rename, id, "Eve").is_err());
    });
}

/// Whoever made it and whatever came after: one decision is taken back and the others stand, and it can stand again.
#[test]
fn any_decision_can_be_taken_back_later_and_stand_again() {
    let database = TestDatabase::empty();
    let gym = database.gym(&Gym::default());
    let other = database.gym(&Gym::default());
    database.with_store(move |store| async move {
        in_gym!(store, gym, members::add, &ada(), day(), Source::Stated).unwrap();
        for (version, by) in
            [(VersionName::Lighter, "Iris"), (VersionName::Simpler, "Rowan"), (VersionName::AroundIt, "Iris")]
        {
            let made = [choose("Ada Lind", version)];
            in_gym!(store, gym, decisions::add, (day(), None), (&made, by), &parts(TWO_PIECES)).unwrap();
        }
        let version = async || stands(&store, gym, None, TWO_PIECES).await.pieces.of(1).versions["Ada Lind"];
        let all = in_gym!(store, gym, decisions::history, day(), None).unwrap();
        assert_eq!(
            all.iter().map(|made| made.made_by.as_str()).collect::<Vec<_>>(),
            ["Iris", "Rowan", "Iris"]
        );
        let [newest, second, _] = &all[..] else { panic!("{all:?}") };
        // What is not the last word changes nothing of what stands.
        in_gym!(store, gym, decisions::undo, day(), &[second.id], Some("Rowan")).unwrap();
        assert_eq!(version().await, VersionName::AroundIt);
        in_gym!(store, gym, decisions::undo, day(), &[newest.id], Some("Rowan")).unwrap();
        assert_eq!(version().await, VersionName::Lighter);
        // Twice is once: it stays with whoever was first.
        in_gym!(store, gym, decisions::undo, day(), &[newest.id], Some("Iris")).unwrap();
        let told = in_gym!(store, gym, decisions::history, day(), None).unwrap();
        assert_eq!(told[0].undone.as_ref().map(|(_, by)| by.as_str()), Some("Rowan"));
        in_gym!(store, gym, decisions::undo, day(), &[second.id], None).unwrap();
        assert_eq!(version().await, VersionName::Simpler);
        // Not another day's, nor another gym's.
        assert!(in_gym!(store, gym, decisions::undo, day() + Days::new(1), &[second.id], Some("")).is_err());
        assert!(in_gym!(store, other, decisions::undo, day(), &[second.id], Some("")).is_err());
    });
}
