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
