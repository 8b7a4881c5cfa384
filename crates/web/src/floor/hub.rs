//! Who watches a class, and how they hear of what changes: one connection to the database a process, however many screens.
//!
//! Nothing here decides anything: the database says what has happened, whichever process wrote it, and a screen that misses a word is right again with the
//! next. What is shown of a class is made once for all of its screens.

use std::collections::HashMap;
use std::future::Future;
use std::sync::{Arc, Mutex, PoisonError, Weak};
use std::time::Duration;

use lantern_store::Store;
use lantern_store::running::Changed;
use tokio::sync::{Mutex as AsyncMutex, watch};

use crate::request::slot::Slot;
use crate::respond::error::AppError;

/// Who looks at a class, and so what they may see of it.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Audience {
    /// Coaches: everybody by name.
    Coach,
    /// Whoever passes the wall: names as their members wish.
    Wall,
}

/// What is shown of a class, as it was made last, and of which count of changes.
type Made = AsyncMutex<Option<(u64, Arc<str>)>>;

/// A class that somebody watches.
pub(crate) struct Watched {
    changes: watch::Sender<u64>,
    made: [Made; 2],
}

impl Watched {
    fn new() -> Self {
        Self { changes: watch::Sender::new(0), made: Default::default() }
    }

    /// Hears of what changes.
    pub fn changes(&self) -> watch::Receiver<u64> {
        self.changes.subscribe()
    }

    /// What is shown of it, made once after each change.
    pub async fn shown(
        &self,
        audience: Audience,
        make: impl Future<Output = Result<Arc<str>, AppError>>,
    ) -> Result<Arc<str>, AppError> {
        let mut made = self.made[audience as usize].lock().await;
        let now = *self.changes.borrow();
        if let Some((of, shown)) = &*made
            && *of == now
        {
            return Ok(shown.clone());
        }
        let shown = make.await?;
        *made = Some((now, shown.clone()));
        Ok(shown)
    }
}

/// A class by its gym's number and its start.
type Class = (i64, Slot);

/// Classes that are watched.
#[derive(Clone, Default)]
pub(crate) struct Hub {
    watched: Arc<Mutex<HashMap<Class, Weak<Watched>>>>,
    /// Whether this process is about to stop.
    closes: watch::Sender<bool>,
}

/// How long it takes to try again when the database is away.
const AGAIN: Duration = Duration::from_secs(1);

impl Hub {
    /// A class to watch.
    pub fn watch(&self, gym: i64, slot: Slot) -> Arc<Watched> {
        let mut all = self.watched.lock().unwrap_or_else(PoisonError::into_inner);
        all.retain(|_, watched| watched.strong_count() > 0);
        if let Some(watched) = all.get(&(gym, slot)).and_then(Weak::upgrade) {
            return watched;
        }
        let watched = Arc::new(Watched::new());
        all.insert((gym, slot), Arc::downgrade(&watched));
        watched
    }

    /// Ends whatever goes on by itself: the screens ask again, and are answered by another process.
    pub fn close(&self) {
        self.closes.send_replace(true);
    }

    /// Whether it does.
    pub fn is_closing(&self) -> bool {
        *self.closes.borrow()
    }

    /// Until [`Hub::close`].
    pub async fn closes(&self) {
        // The sender is this hub's own, so it is there.
        let _ = self.closes.subscribe().wait_for(|closes| *closes).await;
    }

    fn changed(&self, of: impl Fn(&Class) -> bool) {
        let all = self.watched.lock().unwrap_or_else(PoisonError::into_inner);
        for watched in all.iter().filter(|(class, _)| of(class)).filter_map(|(_, watched)| watched.upgrade())
        {
            watched.changes.send_modify(|changes| *changes += 1);
        }
    }

    /// Listens for as long as the process lives. After a silence everything may have changed.
    pub async fn listen(self, store: Store) {
        loop {
            if let Ok(mut listener) = store.listen().await {
                self.changed(|_| true);
                while let Ok(Changed { gym, class }) = listener.next().await {
                    let is_it = |slot: &Slot| class.is_none_or(|class| class == (slot.day, slot.starts));
                    self.changed(|(of, slot)| *of == gym && is_it(slot));
                }
            }
            actix_web::rt::time::sleep(AGAIN).await;
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_who_watches_a_class_hears_of_it() {
        let hub = Hub::default();
        let slot: Slot = "2026-11-23T18:00".parse().unwrap();
        let other: Slot = "2026-11-23T07:00".parse().unwrap();
        let (evening, morning) = (hub.watch(1, slot), hub.watch(1, other));
        assert!(Arc::ptr_eq(&evening, &hub.watch(1, slot)));
        let (heard, not_heard) = (evening.changes(), morning.changes());
        hub.changed(|class| *class == (1, slot));
        assert!(heard.has_changed().unwrap() && !not_heard.has_changed().unwrap());
        drop((evening, heard));
        assert_eq!(*hub.watch(1, slot).changes().borrow(), 0, "nobody watched it any more");
    }

    #[actix_web::test]
    async fn what_is_shown_is_made_once_after_each_change() {
        let hub = Hub::default();
        let slot: Slot = "2026-11-23T18:00".parse().unwrap();
        let watched = hub.watch(1, slot);
        let make = |text: &'static str| async move { Ok::<Arc<str>, AppError>(Arc::from(text)) };
        assert_eq!(&*watched.shown(Audience::Coach, make("a")).await.unwrap(), "a");
        assert_eq!(&*watched.shown(Audience::Coach, make("b")).await.unwrap(), "a");
        assert_eq!(&*watched.shown(Audience::Wall, make("c")).await.unwrap(), "c");
        hub.changed(|_| true);
        assert_eq!(&*watched.shown(Audience::Coach, make("b")).await.unwrap(), "b");
    }
}
