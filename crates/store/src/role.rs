//! What somebody may do at a gym.

use std::fmt;
use std::str::FromStr;

use crate::StoreError;

/// A role at a gym; each may do what those before it may.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash)]
pub enum Role {
    /// Sees their own card, numbers and results, and of others what hangs on the wall.
    Member,
    /// Plans days and runs classes: reads and changes what belongs to them, limits of members among it.
    Coach,
    /// Also says who else does, and how the gym is set up.
    Owner,
}

impl Role {
    /// All, from the one that may least.
    pub const ALL: [Self; 3] = [Self::Member, Self::Coach, Self::Owner];

    /// Whether this role may do what another is needed for.
    pub fn may(self, needed: Self) -> bool {
        self >= needed
    }

    /// As rows and forms name it.
    pub const fn key(self) -> &'static str {
        match self {
            Self::Member => "member",
            Self::Coach => "coach",
            Self::Owner => "owner",
        }
    }

    /// With its article, in a sentence.
    pub const fn named(self) -> &'static str {
        match self {
            Self::Member => "a member",
            Self::Coach => "a coach",
            Self::Owner => "an owner",
        }
    }

    /// What it means, for whoever gives it.
    pub const fn words(self) -> &'static str {
        match self {
            Self::Member => "sees their own card and numbers",
            Self::Coach => "plans days, runs classes and sees what members spare",
            Self::Owner => "also invites people, gives roles and sets the gym up",
        }
    }
}

impl fmt::Display for Role {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.key())
    }
}

impl FromStr for Role {
    type Err = StoreError;

    fn from_str(key: &str) -> Result<Self, StoreError> {
        let known = Self::ALL.into_iter().find(|role| role.key() == key);
        known.ok_or_else(|| StoreError::Refused(format!("`{key}` is no role")))
    }
}

#[cfg(test)]
mod tests {
    use super::Role;

    #[test]
    fn each_role_may_what_those_before_it_may_and_reads_back() {
        for (n, role) in Role::ALL.into_iter().enumerate() {
            assert_eq!(role.to_string().parse::<Role>().unwrap(), role);
            for (m, needed) in Role::ALL.into_iter().enumerate() {
                assert_eq!(role.may(needed), n >= m, "{role} {needed}");
            }
        }
        assert!("wall".parse::<Role>().is_err());
    }
}
