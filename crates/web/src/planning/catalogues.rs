//! Catalogues with a gym's own movements and names in them, kept as long as those do not change.
//!
//! Making one takes some milliseconds; which one a request needs follows from what the database says, so nothing here
//! can be out of date, and a process that starts anew loses nothing.

use std::sync::Arc;

use lantern_core::movement::{Catalogue, OwnMovement};
use moka::sync::Cache;

/// Most catalogues that are kept; the one used longest ago goes.
const MOST: u64 = 8;

/// What a catalogue was made from, in full: a gym never sees another's names.
type Key = (String, Vec<(String, String)>);

/// The catalogues made last.
#[derive(Clone)]
pub struct Catalogues {
    made: Cache<Key, Arc<Catalogue>>,
}

impl Default for Catalogues {
    fn default() -> Self {
        Self { made: Cache::new(MOST) }
    }
}

impl Catalogues {
    /// The standard catalogue with a gym's own movements and its names `(alias, movement id)`.
    pub fn with(&self, own: &[OwnMovement], names: &[(String, String)]) -> Arc<Catalogue> {
        let key = (serde_json::to_string(own).unwrap_or_default(), names.to_vec());
        self.made.get_with(key, || Arc::new(Catalogue::of_gym(own, names)))
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn the_same_names_give_the_same_catalogue_and_other_names_another() {
        let catalogues = Catalogues::default();
        let names = |alias: &str| vec![(alias.to_owned(), "burpee".to_owned())];
        let first = catalogues.with(&[], &names("flop"));
        assert!(Arc::ptr_eq(&first, &catalogues.with(&[], &names("flop"))));
        let other = catalogues.with(&[], &names("flopper"));
        assert!(!Arc::ptr_eq(&first, &other) && other.match_words(&["flopper"]).is_some());
        assert!(first.match_words(&["flopper"]).is_none());
    }

    #[test]
    fn only_the_last_few_are_kept() {
        let catalogues = Catalogues::default();
        for n in 0..4 * MOST {
            catalogues.with(&[], &[(format!("name {n}"), "burpee".to_owned())]);
        }
        catalogues.made.run_pending_tasks();
        assert!(catalogues.made.entry_count() <= MOST);
    }
}
