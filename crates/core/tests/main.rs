//! What the computation gives, from a text and a class to loads, versions, pace and the hour.

mod clauses;
mod counts;
mod floor;
mod limits;
mod loads;
mod others;
mod own_weight;
mod planning;
mod plans;
mod prescriptions;
mod reading;
mod round_trip;
mod teams;
mod versions;
mod warmups;
