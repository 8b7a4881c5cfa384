//! The ground that every step stands on: what one person's words spare, and how far they let them go. Versions, load sheets, warm-ups and
//! the floor all ask here, so that nothing is kept from somebody in one place and given to them in another.

use super::{Limit, Strictest};
use crate::member::Member;
use crate::movement::{Catalogue, Movement};
use crate::session::{Node, works};
use crate::strength::max_for;
use crate::units::Kilograms;

/// What one person spares.
#[derive(Clone, Copy, Debug)]
pub struct Ground<'a> {
    member: &'a Member,
}

impl<'a> Ground<'a> {
    /// Of everything that is on file of somebody.
    pub const fn of(member: &'a Member) -> Self {
        Self { member }
    }

    /// Whether somebody has no words to keep.
    pub fn is_free(self) -> bool {
        self.member.limits.is_empty()
    }

    /// Whether any of somebody's words spares a movement.
    pub fn spares(self, movement: &Movement) -> bool {
        self.against(movement).next().is_some()
    }

    /// Why somebody spares a movement: the names of joints and conditions.
    pub fn reasons(self, movement: &'a Movement) -> impl Iterator<Item = &'a str> {
        self.against(movement).flat_map(Limit::reasons)
    }

    fn against(self, movement: &Movement) -> impl Iterator<Item = &'a Limit> {
        self.member.limits.iter().filter(move |limit| limit.spares(movement))
    }

    /// Whether nothing of a piece is spared.
    pub fn lets(self, tree: &Node, catalogue: &Catalogue) -> bool {
        let mut movements = works(tree).into_iter().filter_map(|work| catalogue.get(&work.movement));
        self.is_free() || !movements.any(|movement| self.spares(movement))
    }

    /// The strictest of the ceilings for a movement.
    pub fn strictest(self, movement: &Movement) -> Strictest {
        Strictest::of(&self.member.limits, movement)
    }

    /// The most that somebody's words let them carry in a movement; none where they say nothing of it. A share of a 1RM that nobody
    /// knows is no weight.
    pub fn ceiling(self, movement: &Movement, catalogue: &Catalogue) -> Option<Kilograms> {
        let Strictest { percent, load, .. } = self.strictest(movement);
        let of_max = percent.filter(|_| movement.takes_weight()).and_then(|percent| {
            Some(max_for(self.member, &movement.id, catalogue)?.value.share(percent / 100.0))
        });
        load.into_iter().chain(of_max).min()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::member::Max;
    use crate::movement::MovementId;
    use crate::read::read;

    fn whoever(words: &str) -> Member {
        let mut member = Member { limits: Limit::several(words).collect(), ..Member::default() };
        member.maxes.insert(MovementId::new("deadlift"), Max::on_file(Kilograms::from_kg(100.0)));
        member
    }

    #[test]
    fn the_lowest_of_all_ceilings_counts_and_a_share_of_nothing_is_none() {
        let catalogue = Catalogue::standard();
        let movement = |id: &str| catalogue.find(id).unwrap();
        let both = whoever("no deadlift above 60 %; nothing above 50 kg");
        let ceiling = |member: &Member, id| Ground::of(member).ceiling(movement(id), catalogue);
        assert_eq!(ceiling(&both, "deadlift"), Some(Kilograms::from_kg(50.0)));
        assert_eq!(ceiling(&whoever("no deadlift above 60 %"), "deadlift"), Some(Kilograms::from_kg(60.0)));
        assert_eq!(ceiling(&Member::default(), "deadlift"), None);
    }

    #[test]
    fn a_piece_is_let_when_nothing_in_it_is_spared() {
        let catalogue = Catalogue::standard();
        let part = read("For time\n50 box jumps\n50 push-ups", catalogue).session.parts.remove(0);
        let (sore, free) = (whoever("no jumping"), Member::default());
        assert!(
            Ground::of(&free).lets(&part.tree, catalogue) && !Ground::of(&sore).lets(&part.tree, catalogue)
        );
        let jump = catalogue.find("box-jump").unwrap();
        assert!(Ground::of(&sore).spares(jump) && Ground::of(&free).reasons(jump).next().is_none());
    }

    #[test]
    fn whoever_has_no_words_to_keep_is_free() {
        assert!(Ground::of(&Member::default()).is_free());
        assert!(!Ground::of(&whoever("no jumping")).is_free());
    }
}
