//! The six versions that a coach can explain to a class.

use serde::{Deserialize, Serialize};

/// Which of the six.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[expect(missing_docs, reason = "the names say it; `label` is what coaches see")]
pub enum VersionName {
    AsWritten,
    Lighter,
    Simpler,
    FirstLight,
    AroundIt,
    AtHome,
}

impl VersionName {
    /// All of them, least departure from the text first, the side versions last.
    pub const ALL: [Self; 6] =
        [Self::AsWritten, Self::Lighter, Self::Simpler, Self::FirstLight, Self::AroundIt, Self::AtHome];

    /// As coaches see it.
    pub const fn label(self) -> &'static str {
        match self {
            Self::AsWritten => "As written",
            Self::Lighter => "Lighter",
            Self::Simpler => "Simpler",
            Self::FirstLight => "First light",
            Self::AroundIt => "Around it",
            Self::AtHome => "At home",
        }
    }

    /// What it is for, in a few words.
    pub const fn about(self) -> &'static str {
        match self {
            Self::AsWritten => "the text, each with their own of the written numbers",
            Self::Lighter => "the same movements with less load, or fewer of them",
            Self::Simpler => "easier movements in place of skills",
            Self::FirstLight => "for newcomers: the first step of every movement",
            Self::AroundIt => "spares a sore joint",
            Self::AtHome => "with what is at home",
        }
    }

    /// From its label or its name in forms.
    pub fn named(text: &str) -> Option<Self> {
        Self::ALL.into_iter().find(|name| name.label() == text || format!("{name:?}") == text)
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn each_version_is_found_by_its_label_and_says_what_it_is_for() {
        for name in VersionName::ALL {
            assert_eq!(VersionName::named(name.label()), Some(name));
            assert_eq!(VersionName::named(&format!("{name:?}")), Some(name));
        }
        let mut said: Vec<&str> = VersionName::ALL.map(VersionName::about).to_vec();
        assert!(
            VersionName::FirstLight.about().contains("newcomers")
                && VersionName::AtHome.about().contains("at home")
        );
        said.sort_unstable();
        said.dedup();
        assert_eq!(said.len(), VersionName::ALL.len(), "no two say the same");
        assert_eq!(VersionName::named("harder"), None);
    }
}
