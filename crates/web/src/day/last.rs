//! What somebody did of the same piece the last time, in words.

use lantern_core::pacing::Side;
use lantern_store::results::LastTime;

use crate::day::day_name;
use crate::day::figures::side_marked;
use crate::day::planned::Planned;

/// `5:10 as written on Tue 10 Nov, late`; none where they have not done it, or not said so. `part` is the part's place in the text, `n` the
/// person's among those planned for.
pub(crate) fn last_time(planned: &Planned, part: usize, n: usize) -> Option<String> {
    let id = planned.ids.get(n)?;
    planned.last.iter().find(|last| last.place == part && last.member == *id).map(told)
}

fn told(last: &LastTime) -> String {
    let LastTime { day, word_for_word, what, .. } = last;
    let mut words = format!("{} {} on {}", what.done, as_version(what.version.label()), day_name(*day));
    let side = what.beside().map(|beside| beside.side).filter(|side| *side != Side::Inside);
    if let (Some(side), Some(predicted)) = (side, &what.predicted) {
        words.push_str(", ");
        words.push_str(side_marked(Some(side), predicted.measure).1);
    }
    if !word_for_word {
        words.push_str(", with other loads");
    }
    words
}

/// `as written`, `as Lighter`.
pub(crate) fn as_version(label: &str) -> String {
    match label {
        "As written" => "as written".to_owned(),
        other => format!("as {other}"),
    }
}
