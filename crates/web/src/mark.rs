//! What stands beside the name of somebody with a limit, wherever others read along: a mark and a link, never the words.

use lantern_core::member::Member;

/// The mark beside a name.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(crate) enum Mark {
    /// What they spare is kept.
    Kept,
    /// Something they spare was not understood, and nobody has looked at it yet.
    Look,
}

impl Mark {
    /// Of a member; none for whoever spares nothing.
    pub fn of(member: &Member) -> Option<Self> {
        if member.limits.iter().any(|limit| limit.is_unread()) {
            return Some(Self::Look);
        }
        member.limits.iter().any(|limit| !limit.is_nothing()).then_some(Self::Kept)
    }

    /// In words.
    pub const fn words(self) -> &'static str {
        match self {
            Self::Kept => "limit kept",
            Self::Look => "not accounted for: look",
        }
    }

    /// The class of its style.
    pub const fn class(self) -> &'static str {
        match self {
            Self::Kept => "kept",
            Self::Look => "look",
        }
    }
}
