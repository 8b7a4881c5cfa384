//! What rows are known by: an id of one kind is never taken for one of another.

use std::fmt;
use std::num::ParseIntError;
use std::str::FromStr;

use diesel_derive_newtype::DieselNewType;
use serde::{Deserialize, Serialize};

/// Ids that come and go with addresses and forms; whether a row of the gym has one is asked when it is used.
macro_rules! ids {
    ($($(#[$about:meta])* $name:ident;)+) => {$(
        $(#[$about])*
        #[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, PartialOrd, Ord, Serialize, Deserialize, DieselNewType)]
        #[serde(transparent)]
        pub struct $name(i64);

        impl $name {
            /// Of a number that came from elsewhere.
            pub const fn new(number: i64) -> Self {
                Self(number)
            }

            /// Its number.
            pub const fn number(self) -> i64 {
                self.0
            }
        }

        impl From<$name> for i64 {
            fn from(id: $name) -> Self {
                id.0
            }
        }

        impl fmt::Display for $name {
            fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
                self.0.fmt(f)
            }
        }

        impl FromStr for $name {
            type Err = ParseIntError;

            fn from_str(text: &str) -> Result<Self, ParseIntError> {
                text.parse().map(Self)
            }
        }
    )+};
}

ids! {
    /// A member of a gym.
    MemberId;
    /// A class of a day.
    ClassId;
    /// A set that somebody has lifted.
    LiftId;
    /// A part of a day.
    PieceId;
    /// Something that was decided about a day.
    DecisionId;
    /// A result, as it was said once.
    ResultId;
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn ids_are_bare_numbers_in_addresses_and_files() {
        let id: MemberId = "42".parse().unwrap();
        assert_eq!((id.to_string().as_str(), serde_json::to_string(&id).unwrap().as_str()), ("42", "42"));
        assert!("x".parse::<ClassId>().is_err());
    }
}
