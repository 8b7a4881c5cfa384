//! Which part of a text is which part of the text before it: by what it says, wherever it stands.

use std::collections::BTreeMap;

use crate::movement::Catalogue;
use crate::part::{Part, PartKind};
use crate::text::part_text;
use crate::tree::{Node, Work};

/// Share of words in common, from 0 to 1, from which two parts are the same one changed: most of a piece stays when a number, a load or
/// a line of it is changed, and two pieces that happen to share a movement are below it. Judged on pairs of changed and of different
/// pieces; see the tests.
const ALIKE: f64 = 0.55;

/// What of a part tells it apart from others.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Likeness {
    /// What it is for.
    pub kind: PartKind,
    /// What is done, in plain notation: without its heading, what may be done instead and how it should feel, which are talk beside it.
    pub words: String,
}

impl Likeness {
    /// Of a part.
    pub fn of(part: &Part, catalogue: &Catalogue) -> Self {
        let bare = Part { alternatives: Vec::new(), intents: Vec::new(), ..part.clone() };
        let text = part_text(&bare, catalogue);
        let words = text.split_once('\n').map_or("", |(_, body)| body).trim_end().to_owned();
        Self { kind: part.kind, words }
    }

    /// Of a part whatever its loads and its cap: the same piece when it comes back heavier.
    pub fn whatever_the_load(part: &Part, catalogue: &Catalogue) -> Self {
        let tree = part.tree.map_work(&mut |work| Node::Work(Work { load: None, ..work.clone() }));
        Self::of(&Part { tree, cap_s: None, ..part.clone() }, catalogue)
    }

    /// How much of the two is the same, from 0 to 1: twice the words in common over all words; 0 for parts of different kinds.
    pub fn alike(&self, other: &Self) -> f64 {
        if self.kind != other.kind {
            return 0.0;
        }
        let mut left: BTreeMap<&str, usize> = BTreeMap::new();
        for word in self.words.split_whitespace() {
            *left.entry(word).or_default() += 1;
        }
        let all = self.words.split_whitespace().count() + other.words.split_whitespace().count();
        let mut common = 0;
        for word in other.words.split_whitespace() {
            if let Some(count) = left.get_mut(word).filter(|count| **count > 0) {
                *count -= 1;
                common += 1;
            }
        }
        if all == 0 { 1.0 } else { 2.0 * common as f64 / all as f64 }
    }
}

/// For each part of a text the place of the part before that it is, none for one that is new; no part before is two of them.
///
/// What is said word for word comes first, in the order in which it stands; then what is most alike.
pub fn same_parts(before: &[Likeness], now: &[Likeness]) -> Vec<Option<usize>> {
    let mut found = in_order(before, now);
    let mut taken: Vec<bool> = (0..before.len()).map(|old| found.contains(&Some(old))).collect();
    let mut pairs: Vec<(f64, usize, usize)> = Vec::new();
    for (new, likeness) in now.iter().enumerate().filter(|(new, _)| found[*new].is_none()) {
        let free = before.iter().enumerate().filter(|(old, _)| !taken[*old]);
        pairs.extend(free.map(|(old, known)| (likeness.alike(known), new, old)));
    }
    pairs.retain(|(alike, ..)| *alike >= ALIKE);
    // Of two as alike the one that has moved less.
    let moved = |(_, new, old): &(f64, usize, usize)| new.abs_diff(*old);
    pairs.sort_by(|a, b| b.0.total_cmp(&a.0).then(moved(a).cmp(&moved(b))).then((a.1, a.2).cmp(&(b.1, b.2))));
    for (_, new, old) in pairs {
        if found[new].is_none() && !taken[old] {
            found[new] = Some(old);
            taken[old] = true;
        }
    }
    found
}

/// What is otherwise in one reading of a day than in another, a part each: what it said and what it says, in plain notation; empty for a part
/// that is not there.
pub fn differences(before: &[Part], now: &[Part], catalogue: &Catalogue) -> Vec<(String, String)> {
    let likeness =
        |parts: &[Part]| parts.iter().map(|part| Likeness::of(part, catalogue)).collect::<Vec<_>>();
    let (old, new) = (likeness(before), likeness(now));
    let same = same_parts(&old, &new);
    let told = |part: &Likeness| format!("{}\n{}", part.kind.heading(), part.words);
    let gone =
        (0..old.len()).filter(|at| !same.contains(&Some(*at))).map(|at| (told(&old[at]), String::new()));
    let changed = new.iter().zip(&same).filter_map(|(part, known)| match known {
        Some(at) if old[*at] == *part => None,
        Some(at) => Some((told(&old[*at]), told(part))),
        None => Some((String::new(), told(part))),
    });
    gone.chain(changed).collect()
}

/// Parts that say the same word for word: the longest row of them that keeps its order, and then what has changed places.
fn in_order(before: &[Likeness], now: &[Likeness]) -> Vec<Option<usize>> {
    let (rows, columns) = (before.len(), now.len());
    let mut longest = vec![vec![0_usize; columns + 1]; rows + 1];
    for old in (0..rows).rev() {
        for new in (0..columns).rev() {
            longest[old][new] = if before[old] == now[new] {
                longest[old + 1][new + 1] + 1
            } else {
                longest[old + 1][new].max(longest[old][new + 1])
            };
        }
    }
    let mut found = vec![None; columns];
    let (mut old, mut new) = (0, 0);
    while old < rows && new < columns {
        if before[old] == now[new] {
            found[new] = Some(old);
            (old, new) = (old + 1, new + 1);
        } else if longest[old + 1][new] >= longest[old][new + 1] {
            old += 1;
        } else {
            new += 1;
        }
    }
    for new in 0..columns {
        if found[new].is_none() {
            found[new] = (0..rows).find(|old| before[*old] == now[new] && !found.contains(&Some(*old)));
        }
    }
    found
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn piece(words: &str) -> Likeness {
        Likeness { kind: PartKind::Conditioning, words: words.to_owned() }
    }

    const THRUSTERS: &str = "21-15-9 for time\nthruster, 40/30 kg\npull-up\ncap 10:00";
    const ROUNDS: &str = "5 rounds for time\n400 m run\n15 kettlebell swing, 24/16 kg\n10 burpee\ncap 20:00";
    const ROW: &str = "AMRAP 12:00\n250 m row\n12 wall ball, 9/6 kg\n8 toes-to-bar";

    #[test]
    fn a_part_above_changes_nothing_of_those_below() {
        let before = [piece(THRUSTERS), piece(ROUNDS)];
        let now = [piece(ROW), piece(THRUSTERS), piece(ROUNDS)];
        assert_eq!(same_parts(&before, &now), [None, Some(0), Some(1)]);
        assert_eq!(same_parts(&now, &before), [Some(1), Some(2)]);
    }

    #[test]
    fn a_changed_number_or_load_is_the_same_piece_and_another_piece_is_another() {
        let changed = THRUSTERS.replace("40/30", "35/25").replace("10:00", "12:00");
        assert_eq!(same_parts(&[piece(THRUSTERS)], &[piece(&changed)]), [Some(0)]);
        let longer = format!("{ROUNDS}\ngoal: 12:00-18:00");
        assert_eq!(same_parts(&[piece(ROUNDS)], &[piece(&longer)]), [Some(0)]);
        assert_eq!(same_parts(&[piece(THRUSTERS)], &[piece(ROUNDS)]), [None]);
        let strength = Likeness { kind: PartKind::Strength, words: THRUSTERS.to_owned() };
        assert_eq!(same_parts(&[piece(THRUSTERS)], &[strength]), [None], "another kind is another part");
    }

    #[test]
    fn two_that_change_places_stay_themselves_and_so_does_the_first_of_two_alike() {
        let before = [piece(THRUSTERS), piece(ROUNDS), piece(ROW)];
        let now = [piece(ROW), piece(ROUNDS), piece(THRUSTERS)];
        assert_eq!(same_parts(&before, &now), [Some(2), Some(1), Some(0)]);
        // The same piece once more below it is a new one.
        assert_eq!(same_parts(&[piece(ROW)], &[piece(ROW), piece(ROW)]), [Some(0), None]);
    }

    proptest! {
        /// Whatever is put in, left out or changed places, what still stands word for word is found again, once.
        #[test]
        fn prop_what_still_stands_is_found_again(
            before in prop::collection::btree_set(0_usize..40, 0..8),
            kept in prop::collection::vec(any::<bool>(), 8),
            more in prop::collection::btree_set(40_usize..60, 0..5),
            at in 0_usize..8,
        ) {
            let words = |n: &usize| piece(&format!("{n} burpee\n{} m row\nbox-jump-{n}", 100 + n));
            let before: Vec<Likeness> = before.iter().map(words).collect();
            let mut now: Vec<Likeness> =
                before.iter().zip(&kept).filter(|(_, kept)| **kept).map(|(part, _)| part.clone()).collect();
            let stands = now.clone();
            for new in more.iter().map(words) {
                now.insert(at.min(now.len()), new);
            }
            let found = same_parts(&before, &now);
            for (part, old) in now.iter().zip(&found) {
                prop_assert_eq!(old.map(|old| &before[old]), stands.contains(part).then_some(part));
            }
            let mut olds: Vec<usize> = found.into_iter().flatten().collect();
            olds.sort_unstable();
            let count = olds.len();
            olds.dedup();
            prop_assert_eq!(olds.len(), count);
        }
    }
}
