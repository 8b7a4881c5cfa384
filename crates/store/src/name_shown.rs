//! What others see of a member's name.

/// What the wall shows of a member's name.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash)]
pub enum NameShown {
    /// All of it.
    Full,
    /// The first name, with a letter of the family name where two share it.
    #[default]
    First,
    /// The first letters.
    Initials,
    /// Nothing: their own card tells them.
    Hidden,
}

impl NameShown {
    /// All, from the most that is shown.
    pub const ALL: [Self; 4] = [Self::Full, Self::First, Self::Initials, Self::Hidden];

    /// As rows and forms name it.
    pub const fn key(self) -> &'static str {
        match self {
            Self::Full => "full",
            Self::First => "first",
            Self::Initials => "initials",
            Self::Hidden => "hidden",
        }
    }

    /// In words, for whoever chooses.
    pub const fn words(self) -> &'static str {
        match self {
            Self::Full => "full name",
            Self::First => "first name",
            Self::Initials => "initials",
            Self::Hidden => "not at all",
        }
    }

    /// What rows and forms name so.
    pub fn named(key: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|shown| shown.key() == key)
    }
}
