//! The plans made last, so that a click makes anew only what it changes and a second screen nothing at all.
//!
//! Whether a kept plan still holds follows from what the database says now, so nothing here can be out of date, and a
//! process that starts anew loses nothing but time.

use std::num::NonZeroUsize;
use std::sync::{Arc, Mutex, MutexGuard, PoisonError};

use lantern_core::cautions::PastDay;
use lantern_core::gym::Gym;
use lantern_core::member::Member;
use lantern_core::movement::Catalogue;
use lantern_core::plan::{Before, Decisions, Plan, Request, plan_again};
use lantern_core::read::{Reading, read};
use lantern_store::GymId;
use lantern_store::classes::StoredClass;
use lantern_store::sessions::StoredSession;
use lru::LruCache;

use crate::slot::Slot;

/// Most plans that are kept; one is some hundred kilobytes.
const MOST: NonZeroUsize = NonZeroUsize::new(32).unwrap();

/// A day's plan with everything that it was made from, for whichever screen asks.
pub(crate) struct Planned {
    pub reading: Reading,
    pub people: Vec<Member>,
    /// Row ids of the people, in the same order.
    pub ids: Vec<i64>,
    /// What coaches have decided about the day.
    pub decisions: Decisions,
    pub gym: Gym,
    pub catalogue: Arc<Catalogue>,
    pub plan: Plan,
    /// The class, when one is planned for and not the whole gym.
    pub class: Option<StoredClass>,
    seed: u64,
    /// The day's text, and the days before, as stored.
    texts: (StoredSession, Vec<DayBefore>),
}

/// A day before, as stored: its text, and who was booked.
#[derive(Clone, PartialEq)]
pub(crate) struct DayBefore {
    pub text: String,
    pub present: Vec<String>,
}

/// What the database says now.
pub(crate) struct Found {
    pub session: StoredSession,
    pub before: Vec<DayBefore>,
    pub people: Vec<Member>,
    pub ids: Vec<i64>,
    /// What coaches have decided; the days before are read from their texts.
    pub decisions: Decisions,
    pub gym: Gym,
    pub catalogue: Arc<Catalogue>,
    pub class: Option<StoredClass>,
    pub seed: u64,
}

impl Planned {
    fn request(&self) -> Request<'_> {
        let Self { people, decisions, gym, catalogue, seed, .. } = self;
        Request { session: &self.reading.session, members: people, gym, catalogue, seed: *seed, decisions }
    }

    /// Whether everything is as it was found now.
    fn holds(&self, now: &Found) -> bool {
        let decided = (&self.decisions.warmup, &self.decisions.pieces, &self.decisions.hour);
        Arc::ptr_eq(&self.catalogue, &now.catalogue)
            && self.seed == now.seed
            && self.texts.0.text == now.session.text
            && self.texts.1 == now.before
            && decided == (&now.decisions.warmup, &now.decisions.pieces, &now.decisions.hour)
            && self.gym == now.gym
            && self.class == now.class
            && self.ids == now.ids
            && self.people == now.people
    }

    fn made(found: Found, before: Option<&Self>) -> Self {
        let Found { session, before: days, people, ids, mut decisions, gym, catalogue, class, seed } = found;
        let before = before.filter(|before| Arc::ptr_eq(&before.catalogue, &catalogue));
        let reading = match before.filter(|before| before.texts.0.text == session.text) {
            Some(before) => before.reading.clone(),
            None => read(&session.text, &catalogue),
        };
        decisions.recent = match before.filter(|before| before.texts.1 == days) {
            Some(before) => before.decisions.recent.clone(),
            None => {
                let past = |day: &DayBefore| PastDay {
                    session: read(&day.text, &catalogue).session,
                    present: day.present.clone(),
                };
                days.iter().map(past).collect()
            }
        };
        let request = Request {
            session: &reading.session,
            members: &people,
            gym: &gym,
            catalogue: &catalogue,
            seed,
            decisions: &decisions,
        };
        let before = before.map(|before| Before { request: before.request(), plan: &before.plan });
        let plan = plan_again(request, before);
        Self { reading, people, ids, decisions, gym, catalogue, plan, class, seed, texts: (session, days) }
    }
}

/// Plans by gym and class, the one used longest ago first to go.
type Kept = LruCache<(GymId, Slot), Arc<Planned>>;

/// Plans by gym and class.
#[derive(Clone)]
pub(crate) struct Plans {
    kept: Arc<Mutex<Kept>>,
}

impl Default for Plans {
    fn default() -> Self {
        Self { kept: Arc::new(Mutex::new(LruCache::new(MOST))) }
    }
}

impl Plans {
    fn kept(&self) -> MutexGuard<'_, Kept> {
        self.kept.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// The plan of what was found: kept, made again from a kept one, or made. Some tens of milliseconds of work
    /// for a class at worst.
    pub fn of(&self, gym: GymId, day: Slot, found: Found) -> Arc<Planned> {
        let known = self.kept().get(&(gym, day)).cloned();
        match known {
            Some(known) if known.holds(&found) => known,
            known => {
                let made = Arc::new(Planned::made(found, known.as_deref()));
                self.kept().put((gym, day), made.clone());
                made
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use chrono::{NaiveDate, Utc};
    use lantern_core::versions::VersionName;

    fn found(text: &str, catalogue: &Arc<Catalogue>) -> Found {
        let people: Vec<Member> =
            ["Ada", "Ben"].map(|name| Member { name: name.to_owned(), ..Member::default() }).to_vec();
        Found {
            session: StoredSession {
                day: NaiveDate::from_ymd_opt(2026, 11, 23).unwrap(),
                text: text.to_owned(),
                revision: 1,
                updated_at: Utc::now(),
            },
            before: Vec::new(),
            ids: (1..=people.len() as i64).collect(),
            people,
            decisions: Decisions::default(),
            gym: Gym::default(),
            catalogue: catalogue.clone(),
            class: None,
            seed: 1,
        }
    }

    const TEXT: &str = "For time, cap 12\n21-15-9\nthrusters 40/30 kg\npull-ups";

    #[test]
    fn a_plan_is_kept_as_long_as_the_database_says_the_same() {
        let (plans, catalogue) = (Plans::default(), Arc::new(Catalogue::standard().clone()));
        let slot = Slot::from(NaiveDate::from_ymd_opt(2026, 11, 23).unwrap());
        let of = |found| plans.of(GymId(1), slot, found);
        let first = of(found(TEXT, &catalogue));
        assert!(Arc::ptr_eq(&first, &of(found(TEXT, &catalogue))));
        // Another gym never sees it.
        assert!(!Arc::ptr_eq(&first, &plans.of(GymId(2), slot, found(TEXT, &catalogue))));

        let mut decided = found(TEXT, &catalogue);
        decided.decisions.pieces.change(0, |edit| {
            edit.versions.insert("Ben".to_owned(), VersionName::FirstLight);
        });
        let second = of(decided);
        let options = &second.plan.pieces[0].members[1].options;
        assert!(
            options.by_coach && second.plan.pieces[0].members[1].chosen().version == VersionName::FirstLight
        );
        assert!(!first.plan.pieces[0].members[1].options.by_coach);

        let third = of(found(&TEXT.replace("21-15-9", "9-7-5"), &catalogue));
        assert!(third.plan.pieces[0].versions[0].part.tree != second.plan.pieces[0].versions[0].part.tree);
        let mut fewer = found(TEXT, &catalogue);
        fewer.people.truncate(1);
        fewer.ids.truncate(1);
        assert_eq!(of(fewer).plan.pieces[0].members.len(), 1);
    }

    #[test]
    fn a_change_of_any_kind_gives_the_plan_that_a_new_process_would_make() {
        let catalogue = Arc::new(Catalogue::standard().clone());
        let slot = Slot::from(NaiveDate::from_ymd_opt(2026, 11, 23).unwrap());
        let kept = Plans::default();
        let changes: [fn(&mut Found); 6] = [
            |_| {},
            |found| found.gym.racks = 1,
            |found| found.gym.class_minutes = 45,
            |found| found.people[0].experience = lantern_core::member::Experience::Advanced,
            |found| found.decisions.warmup.minutes = Some(15),
            |found| {
                let text = "10 rounds for time\n5 pull-ups".to_owned();
                found.before.push(DayBefore { text, present: vec!["Ada".to_owned()] });
            },
        ];
        for (n, change) in changes.iter().enumerate() {
            let changed = || {
                let mut found = found(TEXT, &catalogue);
                change(&mut found);
                found
            };
            let again = kept.of(GymId(1), slot, changed());
            let anew = Plans::default().of(GymId(1), slot, changed());
            assert!(again.plan == anew.plan, "change {n}");
        }
    }
}
