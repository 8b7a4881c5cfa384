//! What can go wrong with the database, in words for the person who runs the server.

use diesel::result::{DatabaseErrorKind, Error};

/// Why a query gave no answer.
#[derive(Debug, thiserror::Error)]
pub enum StoreError {
    /// The database cannot be reached.
    #[error("the database does not answer: {0}")]
    Away(String),
    /// The database has no room left; nothing was written.
    #[error("the database has no room left: {0}")]
    Full(String),
    /// Somebody else is at it, or it took too long; nothing was written.
    #[error("the database is busy: {0}")]
    Busy(String),
    /// There is no such row.
    #[error("there is no such {0}")]
    NotFound(&'static str),
    /// There is one of that name or at that time already.
    #[error("there is one already: {0}")]
    Taken(String),
    /// A value that no row may hold.
    #[error("a value is not one that can be kept: {0}")]
    Refused(String),
    /// A row holds what this version of the program cannot read.
    #[error("a stored {what} cannot be read: {why}")]
    Unreadable {
        /// What is stored.
        what: &'static str,
        /// Why it cannot be read.
        why: String,
    },
    /// The tables could not be brought up to date.
    #[error("the tables could not be brought up to date: {0}")]
    Migration(String),
    /// The database refused a query.
    #[error("the database refused: {0}")]
    Query(Error),
}

impl StoreError {
    /// That a stored JSON is not of the layout expected.
    pub(crate) fn unreadable(what: &'static str) -> impl Fn(serde_json::Error) -> Self {
        move |error| Self::Unreadable { what, why: error.to_string() }
    }
}

impl From<Error> for StoreError {
    fn from(error: Error) -> Self {
        match &error {
            Error::NotFound => Self::NotFound("row"),
            Error::DatabaseError(kind, told) => {
                let words = told.message().to_lowercase();
                match kind {
                    DatabaseErrorKind::ClosedConnection | DatabaseErrorKind::UnableToSendCommand => {
                        Self::Away(error.to_string())
                    }
                    DatabaseErrorKind::UniqueViolation => Self::Taken(error.to_string()),
                    DatabaseErrorKind::CheckViolation | DatabaseErrorKind::NotNullViolation => {
                        Self::Refused(error.to_string())
                    }
                    // Somebody was removed while something was written about them.
                    DatabaseErrorKind::ForeignKeyViolation => Self::NotFound("row"),
                    DatabaseErrorKind::SerializationFailure | DatabaseErrorKind::ReadOnlyTransaction => {
                        Self::Busy(error.to_string())
                    }
                    _ if words.contains("no space left") || words.contains("disk full") => {
                        Self::Full(error.to_string())
                    }
                    _ if words.contains("statement timeout")
                        || words.contains("lock timeout")
                        || words.contains("deadlock")
                        || words.contains("too many connections")
                        || words.contains("too many clients") =>
                    {
                        Self::Busy(error.to_string())
                    }
                    _ if words.contains("terminating connection")
                        || words.contains("the database system is")
                        || words.contains("connection closed") =>
                    {
                        Self::Away(error.to_string())
                    }
                    _ if words.contains("out of range") || words.contains("invalid byte sequence") => {
                        Self::Refused(error.to_string())
                    }
                    _ => Self::Query(error),
                }
            }
            Error::BrokenTransactionManager => Self::Away(error.to_string()),
            // A connection that the server has dropped reports itself without a kind of its own.
            other if other.to_string().contains("connection closed") => Self::Away(error.to_string()),
            _ => Self::Query(error),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn told(kind: DatabaseErrorKind, words: &str) -> StoreError {
        Error::DatabaseError(kind, Box::new(words.to_owned())).into()
    }

    #[test]
    fn each_trouble_is_called_by_its_name() {
        let unknown = || DatabaseErrorKind::Unknown;
        assert!(matches!(
            told(unknown(), "could not extend file \"base/1/2\": No space left on device"),
            StoreError::Full(_)
        ));
        assert!(matches!(told(unknown(), "canceling statement due to lock timeout"), StoreError::Busy(_)));
        assert!(matches!(told(DatabaseErrorKind::UniqueViolation, "duplicate key"), StoreError::Taken(_)));
        assert!(matches!(told(DatabaseErrorKind::CheckViolation, "grams"), StoreError::Refused(_)));
        assert!(matches!(
            told(unknown(), "terminating connection due to administrator command"),
            StoreError::Away(_)
        ));
        assert!(matches!(told(unknown(), "syntax error"), StoreError::Query(_)));
    }
}
