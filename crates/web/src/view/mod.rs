//! Views: finished figures for templates, and the geometry of what is drawn.

pub(crate) mod cautions;
pub(crate) mod chart;
pub(crate) mod floor;
pub(crate) mod loads;
pub(crate) mod mark;
pub(crate) mod pace_rail;
pub(crate) mod reading;
pub(crate) mod strip;
pub(crate) mod typical;
pub(crate) mod versions;
