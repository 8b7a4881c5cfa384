//! The plans made last, so that a click makes anew only what it changes and a second screen nothing at all.
//!
//! Whether a kept plan still holds follows from what the database says now, so nothing here can be out of date, and a
//! process that starts anew loses nothing but time. Plans are worked out on threads of their own, each once for however many wait for
//! it, and given up when nobody does.

use std::collections::HashMap;
use std::sync::{Arc, Mutex, MutexGuard, OnceLock, PoisonError, Weak};

use lantern_core::cautions::PastDay;
use lantern_core::gym::Gym;
use lantern_core::member::Member;
use lantern_core::movement::Catalogue;
use lantern_core::plan::{Before, Decisions, Here, Plan, Request, Stop, Typical, plan_until};
use lantern_core::read::Reading;
use lantern_core::read::corrections::Correction;
use lantern_core::session::{Likeness, Session};
use lantern_store::MemberId;
use lantern_store::decisions::Standing;
use lantern_store::name_shown::NameShown;
use lantern_store::pieces::{self, Kept};
use lantern_store::results::LastTime;
use lantern_store::rows::StoredClass;
use lantern_store::sessions::StoredSession;
use moka::sync::Cache;
use rayon::{ThreadPool, ThreadPoolBuilder};
use serde_json::Value;
use tokio::sync::watch;

use crate::planning::kept::as_kept;
use crate::request::slot::Slot;
use crate::respond::error::AppError;

/// Plans that are kept weigh at most this much together, in members times pieces; one weighs some ten kilobytes.
const MOST_WEIGHT: u64 = 2_000;
/// Most plans that wait to be worked out.
const MOST_WAITING: usize = 64;

/// A day's plan with everything that it was made from, for whichever screen asks.
pub(crate) struct Planned {
    pub reading: Reading,
    /// What a page that was made from it says of the text that it has seen.
    pub seen: String,
    pub people: Vec<Member>,
    /// Row ids of the people, in the same order.
    pub ids: Vec<MemberId>,
    /// What the wall shows of their names, in the same order.
    pub shown: Vec<NameShown>,
    /// What coaches have decided about the day.
    pub decisions: Decisions,
    /// The same as stored, by id.
    standing: Standing,
    pub gym: Gym,
    pub catalogue: Arc<Catalogue>,
    pub plan: Plan,
    typical: OnceLock<Typical>,
    /// The class, when one is planned for and not the whole gym.
    pub class: Option<StoredClass>,
    /// Members of the gym beyond those planned for, when nobody chose a class.
    pub beyond: usize,
    seed: u64,
    /// What they did of the same pieces the last time.
    pub last: Vec<LastTime>,
    /// What is noted about the class.
    pub note: String,
    /// The day's text, and the days before, as stored.
    texts: (StoredSession, Vec<DayBefore>),
    /// The parts as they were kept, where those count.
    kept: Option<Kept>,
}

/// A day before, as stored: its text, and who was booked.
#[derive(Clone, PartialEq)]
pub(crate) struct DayBefore {
    pub text: String,
    pub corrections: Value,
    pub present: Vec<String>,
    /// Its parts as they were kept.
    pub kept: Option<Kept>,
}

impl DayBefore {
    /// What was done: as it was kept, or as its text is read where nothing was.
    fn session(&self, gym: &Gym, catalogue: &Catalogue) -> Session {
        match &self.kept {
            Some(kept) => Session { parts: kept.parts.clone(), ..Session::default() },
            None => reading_of(&self.text, &self.corrections, gym, catalogue).session,
        }
    }
}

/// What a stored day is read as: its text in the gym's hand, as the coach has put it right. Corrections of a layout that nobody knows any more are
/// left out.
pub(crate) fn reading_of(text: &str, corrections: &Value, gym: &Gym, catalogue: &Catalogue) -> Reading {
    let corrections: Vec<Correction> = serde_json::from_value(corrections.clone()).unwrap_or_default();
    gym.read(text, catalogue, &corrections)
}

/// What the database says now.
#[derive(Clone)]
pub(crate) struct Found {
    pub session: StoredSession,
    pub before: Vec<DayBefore>,
    /// The parts as they were kept, where those count.
    pub kept: Option<Kept>,
    pub people: Vec<Member>,
    pub ids: Vec<MemberId>,
    pub shown: Vec<NameShown>,
    /// What coaches have decided, by id; whom and what it is about follows from the text and the people.
    pub decisions: Standing,
    pub gym: Gym,
    pub catalogue: Arc<Catalogue>,
    pub class: Option<StoredClass>,
    pub beyond: usize,
    pub seed: u64,
    pub last: Vec<LastTime>,
    /// What is noted about the class.
    pub note: String,
}

impl Found {
    /// Whether a plan of the other is a plan of this one.
    fn same(&self, other: &Self) -> bool {
        Arc::ptr_eq(&self.catalogue, &other.catalogue)
            && self.seed == other.seed
            && self.session.text == other.session.text
            && self.session.corrections == other.session.corrections
            && self.before == other.before
            && self.kept == other.kept
            && self.decisions == other.decisions
            && self.gym == other.gym
            && self.class == other.class
            && self.ids == other.ids
            && self.shown == other.shown
            && self.beyond == other.beyond
            && self.people == other.people
            && self.last == other.last
            && self.note == other.note
    }
}

impl Planned {
    /// What typical people would do of it, worked out when somebody asks.
    pub fn typical(&self) -> &Typical {
        self.typical.get_or_init(|| Typical::of_plan(&self.request(), &self.plan))
    }

    fn request(&self) -> Request<'_> {
        let Self { people, decisions, gym, catalogue, seed, .. } = self;
        Request { session: &self.reading.session, members: people, gym, catalogue, seed: *seed, decisions }
    }

    /// Whether everything is as it was found now.
    fn holds(&self, now: &Found) -> bool {
        Arc::ptr_eq(&self.catalogue, &now.catalogue)
            && self.seed == now.seed
            && self.texts.0.text == now.session.text
            && self.texts.0.corrections == now.session.corrections
            && self.texts.1 == now.before
            && self.kept == now.kept
            && self.standing == now.decisions
            && self.gym == now.gym
            && self.class == now.class
            && self.ids == now.ids
            && self.shown == now.shown
            && self.beyond == now.beyond
            && self.people == now.people
            && self.last == now.last
            && self.note == now.note
    }

    /// The plan of what was found; none when somebody said stop.
    fn made(found: Found, before: Option<&Self>, stop: &Stop) -> Option<Self> {
        let Found {
            session,
            before: days,
            kept,
            people,
            ids,
            shown,
            decisions: standing,
            gym,
            catalogue,
            class,
            beyond,
            seed,
            last,
            note,
        } = found;
        let before = before.filter(|before| Arc::ptr_eq(&before.catalogue, &catalogue));
        let same = |before: &&Self| {
            before.texts.0.text == session.text
                && before.texts.0.corrections == session.corrections
                && before.gym.reads_as(&gym)
                && before.kept == kept
        };
        let reading = match before.filter(same) {
            Some(before) => before.reading.clone(),
            None => as_kept(reading_of(&session.text, &session.corrections, &gym, &catalogue), kept.as_ref()),
        };
        let parts: Vec<Likeness> =
            reading.session.parts.iter().map(|part| Likeness::of(part, &catalogue)).collect();
        let seen = pieces::seen(&parts);
        let named: Vec<(MemberId, String)> =
            ids.iter().zip(&people).map(|(id, member)| (*id, member.name.clone())).collect();
        let mut decisions = standing.of(&parts, &named);
        let names = |who: &[MemberId]| {
            named.iter().filter(|(id, _)| who.contains(id)).map(|(_, name)| name.clone()).collect()
        };
        if let Some(class) = &class {
            decisions.here = Here { away: names(&class.away), joined: names(&class.joined) };
        }
        decisions.recent = match before.filter(|before| before.texts.1 == days && before.gym.reads_as(&gym)) {
            Some(before) => before.decisions.recent.clone(),
            None => {
                let past = |day: &DayBefore| {
                    (!stop.is_stopped()).then(|| PastDay {
                        session: day.session(&gym, &catalogue),
                        present: day.present.clone(),
                    })
                };
                days.iter().map(past).collect::<Option<Vec<_>>>()?
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
        let plan = plan_until(request, before, stop)?;
        let texts = (session, days);
        Some(Self {
            reading,
            seen,
            people,
            ids,
            shown,
            decisions,
            standing,
            gym,
            catalogue,
            plan,
            typical: OnceLock::new(),
            class,
            beyond,
            seed,
            last,
            note,
            texts,
            kept,
        })
    }

    /// What it weighs among those kept.
    fn weight(&self) -> u32 {
        (self.people.len() * (self.plan.pieces.len() + self.plan.strength.len() + 1)).max(1) as u32
    }
}

type Key = (i64, Slot);

/// A plan on its way. Whoever waits holds it; when the last one lets go, the work is told to stop.
struct Flight {
    found: Arc<Found>,
    stop: Stop,
    done: watch::Receiver<Option<Result<Arc<Planned>, ()>>>,
}

impl Drop for Flight {
    fn drop(&mut self) {
        self.stop.stop();
    }
}

/// Plans by gym and class.
#[derive(Clone)]
pub(crate) struct Plans {
    kept: Cache<Key, Arc<Planned>>,
    flights: Arc<Mutex<HashMap<Key, Weak<Flight>>>>,
    pool: Arc<ThreadPool>,
}

impl Default for Plans {
    fn default() -> Self {
        let kept = Cache::builder()
            .max_capacity(MOST_WEIGHT)
            .weigher(|_, planned: &Arc<Planned>| planned.weight())
            .time_to_idle(std::time::Duration::from_secs(3600))
            .build();
        let threads = std::thread::available_parallelism().map_or(2, std::num::NonZeroUsize::get);
        let pool = ThreadPoolBuilder::new().num_threads(threads).thread_name(|n| format!("plan-{n}"));
        let pool = pool.panic_handler(|_| tracing::error!("a plan came to nothing"));
        Self { kept, flights: Arc::default(), pool: Arc::new(pool.build().expect("threads can be started")) }
    }
}

impl Plans {
    fn flights(&self) -> MutexGuard<'_, HashMap<Key, Weak<Flight>>> {
        self.flights.lock().unwrap_or_else(PoisonError::into_inner)
    }

    /// The plan of what was found: kept, made again from a kept one, or made. However many ask at once, it is made once.
    ///
    /// # Errors
    /// When too many plans wait already.
    pub async fn of(&self, gym: i64, day: Slot, found: Found) -> Result<Arc<Planned>, AppError> {
        let key = (gym, day);
        let known = self.kept.get(&key);
        if let Some(known) = known.as_ref().filter(|known| known.holds(&found)) {
            return Ok(known.clone());
        }
        let flight = self.flight(key, found, known)?;
        let mut done = flight.done.clone();
        let came = done.wait_for(Option::is_some).await;
        let came = came.ok().and_then(|came| came.clone()).unwrap_or(Err(()));
        came.map_err(|()| AppError::Inside("a plan came to nothing".to_owned()))
    }

    /// The flight of what was found: one that is on its way, or a new one.
    fn flight(&self, key: Key, found: Found, known: Option<Arc<Planned>>) -> Result<Arc<Flight>, AppError> {
        let mut flights = self.flights();
        flights.retain(|_, flight| flight.strong_count() > 0);
        let on_its_way = flights.get(&key).and_then(Weak::upgrade);
        if let Some(flight) = on_its_way.filter(|flight| flight.found.same(&found)) {
            return Ok(flight);
        }
        if flights.len() >= MOST_WAITING {
            return Err(AppError::TooBusy);
        }
        let (send, done) = watch::channel(None);
        let stop = Stop::default();
        let flight = Arc::new(Flight { found: Arc::new(found), stop: stop.clone(), done });
        flights.insert(key, Arc::downgrade(&flight));
        let (found, kept) = (flight.found.clone(), self.kept.clone());
        self.pool.spawn(move || {
            if stop.is_stopped() {
                return;
            }
            let begun = std::time::Instant::now();
            let span = tracing::info_span!("plan", gym = key.0, day = %key.1);
            let _in = span.enter();
            if let Some(planned) = Planned::made(Arc::unwrap_or_clone(found), known.as_deref(), &stop) {
                metrics::histogram!("lantern_plan_seconds").record(begun.elapsed());
                let planned = Arc::new(planned);
                kept.insert(key, planned.clone());
                // Nobody may be left to hear of it.
                let _ = send.send(Some(Ok(planned)));
            }
        });
        Ok(flight)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use chrono::{NaiveDate, Utc};
    use lantern_core::decide::{Decision, KnownPart, Naming, PieceDecision, WarmupDecision};
    use lantern_core::versions::VersionName;
    use lantern_store::PieceId;
    use lantern_store::pieces::{NewPiece, StoredPiece};

    fn found(text: &str, catalogue: &Arc<Catalogue>) -> Found {
        let people: Vec<Member> =
            ["Ada", "Ben"].map(|name| Member { name: name.to_owned(), ..Member::default() }).to_vec();
        Found {
            session: StoredSession {
                day: NaiveDate::from_ymd_opt(2026, 11, 23).unwrap(),
                text: text.to_owned(),
                revision: 1,
                updated_at: Utc::now(),
                corrections: serde_json::json!([]),
            },
            before: Vec::new(),
            kept: None,
            ids: (1..=people.len() as i64).map(MemberId::new).collect(),
            shown: vec![NameShown::First; people.len()],
            people,
            decisions: Standing::default(),
            gym: Gym::default(),
            catalogue: catalogue.clone(),
            class: None,
            beyond: 0,
            last: Vec::new(),
            note: String::new(),
            seed: 1,
        }
    }

    /// A decision about the text and the people of [`found`], as its row names them.
    fn standing(made: Decision) -> Standing {
        let catalogue = Catalogue::standard();
        let session = Gym::default().read(TEXT, catalogue, &[]).session;
        let parts = NewPiece::of(&session, catalogue).into_iter().zip(0_i32..);
        let pieces: Vec<StoredPiece> = parts
            .map(|(part, place)| StoredPiece {
                id: PieceId::new(i64::from(place) + 1),
                place: Some(place),
                likeness: part.likeness,
            })
            .collect();
        let members = [(1, "Ada".to_owned()), (2, "Ben".to_owned())];
        let known: Vec<KnownPart> =
            pieces.iter().map(|piece| (Some(piece.id.number()), piece.likeness.kind)).collect();
        let row = made.told(&Naming::to_rows(&members, &known)).expect("it is about what is there");
        Standing::new(vec![row], pieces)
    }

    const TEXT: &str = "For time, cap 12\n21-15-9\nthrusters 40/30 kg\npull-ups";

    fn slot() -> Slot {
        Slot::from(NaiveDate::from_ymd_opt(2026, 11, 23).unwrap())
    }

    #[actix_web::test]
    async fn a_plan_is_kept_as_long_as_the_database_says_the_same() {
        let (plans, catalogue) = (Plans::default(), Arc::new(Catalogue::standard().clone()));
        let of = async |found| plans.of(1, slot(), found).await.unwrap();
        let first = of(found(TEXT, &catalogue)).await;
        assert!(Arc::ptr_eq(&first, &of(found(TEXT, &catalogue)).await));
        // Another gym never sees it.
        let other = plans.of(2, slot(), found(TEXT, &catalogue)).await.unwrap();
        assert!(!Arc::ptr_eq(&first, &other));

        let mut decided = found(TEXT, &catalogue);
        decided.decisions = standing(Decision::Pieces(PieceDecision::Choose {
            piece: 0,
            member: "Ben".to_owned(),
            version: VersionName::FirstLight,
        }));
        let second = of(decided).await;
        let options = &second.plan.pieces[0].members[1].options;
        assert!(
            options.by_coach && second.plan.pieces[0].members[1].chosen().version == VersionName::FirstLight
        );
        assert!(!first.plan.pieces[0].members[1].options.by_coach);

        let third = of(found(&TEXT.replace("21-15-9", "9-7-5"), &catalogue)).await;
        assert!(third.plan.pieces[0].versions[0].part.tree != second.plan.pieces[0].versions[0].part.tree);
        let mut fewer = found(TEXT, &catalogue);
        fewer.people.truncate(1);
        fewer.ids.truncate(1);
        fewer.shown.truncate(1);
        assert_eq!(of(fewer).await.plan.pieces[0].members.len(), 1);
    }

    #[actix_web::test]
    async fn a_change_of_any_kind_gives_the_plan_that_a_new_process_would_make() {
        let catalogue = Arc::new(Catalogue::standard().clone());
        let kept = Plans::default();
        let changes: [fn(&mut Found); 6] = [
            |_| {},
            |found| found.gym.racks = 1,
            |found| found.gym.class_minutes = 45,
            |found| found.people[0].experience = lantern_core::member::Experience::Advanced,
            |found| {
                found.decisions = standing(Decision::Warmup(WarmupDecision::Minutes { minutes: 15 }));
            },
            |found| {
                let text = "10 rounds for time\n5 pull-ups".to_owned();
                found.before.push(DayBefore {
                    text,
                    corrections: serde_json::json!([]),
                    present: vec!["Ada".to_owned()],
                    kept: None,
                });
            },
        ];
        for (n, change) in changes.iter().enumerate() {
            let changed = || {
                let mut found = found(TEXT, &catalogue);
                change(&mut found);
                found
            };
            let again = kept.of(1, slot(), changed()).await.unwrap();
            let anew = Plans::default().of(1, slot(), changed()).await.unwrap();
            assert!(again.plan == anew.plan, "change {n}");
        }
    }

    #[actix_web::test]
    async fn however_many_ask_at_once_it_is_made_once() {
        let (plans, catalogue) = (Plans::default(), Arc::new(Catalogue::standard().clone()));
        let ask = || plans.of(1, slot(), found(TEXT, &catalogue));
        let (a, b, c) = tokio::join!(ask(), ask(), ask());
        let (a, b, c) = (a.unwrap(), b.unwrap(), c.unwrap());
        assert!(Arc::ptr_eq(&a, &b) && Arc::ptr_eq(&b, &c));
    }

    #[actix_web::test]
    async fn a_plan_that_nobody_waits_for_is_given_up() {
        let (plans, catalogue) = (Plans::default(), Arc::new(Catalogue::standard().clone()));
        let flight = plans.flight((1, slot()), found(TEXT, &catalogue), None).unwrap();
        let stop = flight.stop.clone();
        assert!(!stop.is_stopped());
        drop(flight);
        assert!(stop.is_stopped());
        assert!(Planned::made(found(TEXT, &catalogue), None, &stop).is_none());
    }
}
