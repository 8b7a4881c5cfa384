//! Learns the weights of the reader's judge: the same data give the same weights each time.
//!
//! `score` tells how well a reading agrees with a labelled text, `labelled` reads the texts, `learn` is the learning,
//! `paraphrase` puts the phrases of the texts otherwise, `recombine` their parts together anew, `withheld` reads them without a row of the grammar.

pub mod hand;
pub mod labelled;
pub mod learn;
pub mod paraphrase;
pub mod recombine;
pub mod score;
pub mod withheld;
