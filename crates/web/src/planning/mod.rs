//! Plans: worked out once for everybody who looks, from what counts of a day.

pub(crate) mod catalogues;
pub(crate) mod kept;
pub(crate) mod plans;
pub(crate) mod shown;
