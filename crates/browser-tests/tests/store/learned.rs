//! What results teach: kept beside whom it is about, and gone with the results that taught it.

use std::sync::Arc;

use browser_tests::{TestDatabase, in_gym};
use chrono::{Days, NaiveDate};
use lantern_core::book::{Done, Entry, OfGym, Predicted};
use lantern_core::gym::Gym;
use lantern_core::member::Member;
use lantern_core::pacing::{Capability, Direction, Learned, Measure, Rests};
use lantern_core::strength::Source;
use lantern_core::versions::VersionName;
use lantern_store::results::{self, NewResult};
use lantern_store::{MemberId, ResultId, members};

use crate::store::{TWO_PIECES, day, parts};

/// A result of somebody in the first piece, so much slower than predicted.
fn result(member: MemberId, times: f64, key: &str) -> NewResult {
    let mut shares = [0.0; Capability::COUNT];
    shares[Capability::Breath as usize] = 1.0;
    let rests = Rests {
        of: Direction { shares, length_s: 500.0, ..Direction::default() },
        pull: 1.0,
        noise: 0.08,
        slower: 0.0,
        unsure: 0.1,
    };
    let predicted = Predicted {
        measure: Measure::Finish,
        spread: [450.0, 500.0, 560.0],
        window: [Some(400.0), Some(600.0)],
        rests: Some(rests),
    };
    let seconds = (500.0 * times) as u32;
    let entry = Entry {
        version: VersionName::AsWritten,
        done: Done::Finished { seconds },
        said: String::new(),
        predicted: Some(predicted),
        value: Some(f64::from(seconds)),
        at_least: false,
        gone_on: None,
        effort: None,
        hurt: false,
        note: String::new(),
    };
    NewResult { part: 0, member, entry, key: key.to_owned(), said_at: None }
}

#[test]
fn results_teach_from_the_next_day_on_and_a_correction_leaves_nothing_behind() {
    let database = TestDatabase::empty();
    let gym = database.gym(&Gym::default());
    database.with_store(move |store| async move {
        let mut ids = Vec::new();
        for name in ["Ada Lind", "Bo Ek"] {
            let member = Member { name: name.to_owned(), ..Member::default() };
            ids.push(in_gym!(store, gym, members::add, &member, day(), Source::Tested).unwrap());
        }
        let of = Direction { length_s: 500.0, ..Direction::default() };
        let learned = async |on: NaiveDate, learns: bool| {
            let settings = Gym { learns, ..Gym::default() };
            let found = in_gym!(store, gym, members::planned_for, &settings, (day(), on), Some(&ids[..]));
            found.unwrap().into_iter().map(|stored| stored.member.learned).collect::<Vec<_>>()
        };
        let parts = parts(TWO_PIECES);
        let add = async |new: NewResult| {
            in_gym!(store, gym, results::add, (day(), None), (&[new], "Iris"), (&parts[..], &Gym::default()))
                .unwrap();
        };
        let next = day() + Days::new(1);
        assert_eq!(learned(next, true).await, [None, None]);
        add(result(ids[0], 1.3, "the first of them")).await;
        let first = learned(next, true).await;
        let of_gym = async |on: NaiveDate| in_gym!(store, gym, members::learned_of_gym, on).unwrap();
        assert_ne!(of_gym(next).await, OfGym::new(&[], next));
        assert_eq!(of_gym(day()).await, OfGym::new(&[], day()), "nothing before its own day");
        let slower = |who: &Option<Arc<Learned>>| who.as_ref().map_or(0.0, |learned| learned.slower(&of));
        let own = |who: &Option<Arc<Learned>>| who.as_ref().map(|learned| learned.own());
        assert!(slower(&first[0]) > 0.03 && own(&first[0]) == Some(1), "{first:?}");
        // What one has shown says a little about the gym, and less about anybody else.
        assert!(slower(&first[1]) < slower(&first[0]) / 2.0 && own(&first[1]) == Some(0));
        // The day itself is planned as it was before the class, and a gym may plan without.
        assert_eq!(learned(day(), true).await, [None, None]);
        assert_eq!(learned(next, false).await, [None, None]);
        // Corrected, and corrected back.
        add(result(ids[0], 0.8, "a slip of the ear")).await;
        let corrected = learned(next, true).await;
        assert!(slower(&corrected[0]) < 0.0 && own(&corrected[0]) == Some(1), "{corrected:?}");
        add(result(ids[0], 1.3, "as it was after all")).await;
        assert_eq!(learned(next, true).await, first);
        // Taken back altogether.
        let all = in_gym!(store, gym, results::of_class, day(), None).unwrap().said;
        let all: Vec<ResultId> = all.into_iter().map(|(_, result)| result.id).collect();
        for id in all {
            in_gym!(store, gym, results::undo, day(), id, (Some("Iris"), &Gym::default())).unwrap();
        }
        assert_eq!(learned(next, true).await, [None, None]);
    });
}
