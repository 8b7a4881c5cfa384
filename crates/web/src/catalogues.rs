//! Catalogues with a gym's own movements and names in them, kept as long as those do not change.
//!
//! Making one takes some milliseconds; which one a request needs follows from what the database says, so nothing here
//! can be out of date, and a process that starts anew loses nothing.

use std::collections::hash_map::DefaultHasher;
use std::hash::{Hash, Hasher};
use std::sync::{Arc, Mutex};

use lantern_core::movement::{Catalogue, OwnMovement};

/// Most catalogues that are kept; the oldest goes.
const MOST: usize = 8;

/// The catalogues made last.
#[derive(Clone, Default)]
pub struct Catalogues {
    made: Arc<Mutex<Vec<Made>>>,
}

/// A catalogue under the hash of what it was made from.
type Made = (u64, Arc<Catalogue>);

impl Catalogues {
    /// The standard catalogue with a gym's own movements and its names `(alias, movement id)`.
    pub fn with(&self, own: &[OwnMovement], names: &[(String, String)]) -> Arc<Catalogue> {
        let mut hasher = DefaultHasher::new();
        serde_json::to_string(own).unwrap_or_default().hash(&mut hasher);
        names.hash(&mut hasher);
        let key = hasher.finish();
        let known = |made: &[Made]| made.iter().find(|(k, _)| *k == key).map(|(_, c)| c.clone());
        let lock = || self.made.lock().unwrap_or_else(std::sync::PoisonError::into_inner);
        if let Some(known) = known(&lock()) {
            return known;
        }
        let standard = Catalogue::standard();
        // One that a newer catalogue has brought along is the catalogue's from then on.
        let own = own.iter().filter_map(|own| own.movement(standard).ok());
        let names = names.iter().map(|(alias, id)| (alias.as_str(), id.as_str()));
        let catalogue = Arc::new(standard.with_movements(own).with_aliases(names));
        let mut made = lock();
        if made.len() >= MOST {
            made.remove(0);
        }
        made.push((key, catalogue.clone()));
        catalogue
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
        for n in 0..2 * MOST {
            catalogues.with(&[], &[(format!("name {n}"), "burpee".to_owned())]);
        }
        assert_eq!(catalogues.made.lock().unwrap().len(), MOST);
    }
}
