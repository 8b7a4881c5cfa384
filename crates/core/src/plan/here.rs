//! Who of a class is here. Versions and loads stay as everybody knows them; what is formed of the class - racks, teams, heats - is formed again of those
//! who are here, with as few moves as may be.

use std::collections::BTreeSet;

use crate::member::Member;

/// Who of the class is not here, and who came without having been booked.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Here {
    /// Booked, and not here; by name.
    pub away: BTreeSet<String>,
    /// Here, and not booked when the class was planned; by name.
    pub joined: BTreeSet<String>,
}

impl Here {
    /// Whether everybody who was booked is here, and nobody else.
    pub fn is_as_booked(&self) -> bool {
        self.away.is_empty() && self.joined.is_empty()
    }

    /// Whether somebody of the class is here.
    pub fn has(&self, name: &str) -> bool {
        !self.away.contains(name)
    }

    /// How many of these are here.
    pub fn count(&self, members: &[Member]) -> usize {
        members.iter().filter(|member| self.has(&member.name)).count()
    }

    /// Places of those who were booked, and of those who are here, among people by name; nothing where both are everybody.
    pub(crate) fn divide<'n>(
        &self,
        names: impl Iterator<Item = &'n str> + Clone,
    ) -> Option<(Vec<usize>, Vec<usize>)> {
        let places = |counts: &dyn Fn(&str) -> bool| -> Vec<usize> {
            names.clone().enumerate().filter(|(_, name)| counts(name)).map(|(n, _)| n).collect()
        };
        let (booked, here) = (places(&|name| !self.joined.contains(name)), places(&|name| self.has(name)));
        let all = names.clone().count();
        (booked.len() < all || here.len() < all).then_some((booked, here))
    }
}
