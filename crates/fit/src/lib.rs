//! The fitter of the pacing model: parameters are drawn away from what is believed beforehand only as far as a table of what
//! pieces really take asks for. The table and its people stand in `data/` beside this crate, and nothing else reads them.

pub mod learn;
pub mod priors;
pub mod report;
pub mod table;
