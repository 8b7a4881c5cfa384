//! What can go wrong with the database, in words for the person who runs the server.

/// Why a query gave no answer.
#[derive(Debug, thiserror::Error)]
pub enum StoreError {
    /// The database cannot be reached.
    #[error("the database does not answer: {0}")]
    Away(String),
    /// There is no such row.
    #[error("there is no such {0}")]
    NotFound(&'static str),
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
    Query(diesel::result::Error),
}

impl From<diesel::result::Error> for StoreError {
    fn from(error: diesel::result::Error) -> Self {
        use diesel::result::{DatabaseErrorKind, Error};
        match error {
            Error::NotFound => Self::NotFound("row"),
            Error::DatabaseError(DatabaseErrorKind::ClosedConnection, _)
            | Error::BrokenTransactionManager => Self::Away(error.to_string()),
            // A connection that the server has dropped reports itself without a kind of its own.
            Error::DatabaseError(DatabaseErrorKind::UnableToSendCommand, _) => Self::Away(error.to_string()),
            other if other.to_string().contains("connection closed") => Self::Away(other.to_string()),
            other => Self::Query(other),
        }
    }
}
