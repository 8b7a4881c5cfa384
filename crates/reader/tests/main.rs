//! What a text is read as: by kinds of handwriting, on labelled texts, and rules that hold for any.

mod coach_hand;
mod complete;
mod corrections;
mod hands;
mod kinds;
mod properties;
mod retold;
mod scoreboard;
mod sentences;
mod steps;
mod tidy;
