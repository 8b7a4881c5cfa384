//! One line: what it prescribes, and whether it prescribes anything at all.
//!
//! A line is cut into sentences; each sentence becomes clauses, movements, numbers and words. Numbers
//! and loads are attached to the movements they stand beside. A sentence in which too many words mean
//! nothing to the reader is talk, and talk adds no work whatever movements it names.
//! `pieces` cuts, `grouping` attaches, `sentence` judges, and `words` lists what counts as talk.

mod grouping;
mod pieces;
mod sentence;
mod words;

use self::pieces::pieces;
use self::sentence::LineReader;
use super::clause::{Clause, claim, claim_places};
use super::heading::{is_day, take_heading};
use super::label::{Label, take_label};
use super::spelling::{Mended, Spelling};
use super::text::Plain;
use crate::movement::{Catalogue, MovementId, Unit};
use crate::session::{Load, PartKind};

/// A line with what was found in it.
#[derive(Clone, Debug)]
pub(super) struct Line {
    pub number: usize,
    pub raw: String,
    pub indent: usize,
    pub label: Label,
    pub heading: Option<(PartKind, String)>,
    pub kind: LineKind,
    pub found: Vec<Found>,
    pub unknown: Vec<Unknown>,
    pub assumed: Vec<(usize, String)>,
    /// Says something that counts among talk; the talk is kept as a note too.
    pub in_passing: bool,
}

/// What a line is for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum LineKind {
    Blank,
    /// Names the day.
    Title,
    /// Work, structure or both; a heading alone counts too.
    Work,
    /// What may be done instead.
    Alternative,
    /// Announcements, cues, jokes.
    Talk,
}

/// A clause or an item with the column it begins at.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Found {
    pub column: usize,
    pub what: What,
}

#[derive(Clone, Debug, PartialEq)]
pub(super) enum What {
    Clause(Clause),
    Item(Item),
}

/// Work as written: a movement with what stands beside it.
#[derive(Clone, Debug, Default, PartialEq)]
pub(super) struct Item {
    /// None repeats the movement before it: "15 at 70/47.5".
    pub movement: Option<MovementId>,
    pub amount: Option<(f64, Option<f64>)>,
    pub unit: Option<Unit>,
    pub sets: Option<(u32, Option<u32>)>,
    pub max: bool,
    pub per_side: bool,
    pub load: Option<Load>,
    pub bare_load: Option<(f64, Option<f64>)>,
    pub same_load: bool,
    /// The load is that of a tool in the hands, not the height of a box.
    pub carried: bool,
    /// Stands after "or": a choice beside the item before it.
    pub alternative: bool,
    /// After "+", so it belongs to a complex with the item before it.
    pub joined: bool,
    /// The movement came as a bare name of several meanings, such as `squat`.
    pub generic: bool,
}

impl Item {
    fn is_anchored(&self) -> bool {
        self.amount.is_some() || self.max || self.sets.is_some()
    }
}

/// An amount of something that is in no catalogue.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Unknown {
    pub column: usize,
    pub text: String,
}

impl Line {
    /// A line beyond the limits: kept, not read.
    pub fn unread(number: usize, raw: &str) -> Self {
        Self::empty(number, raw, if raw.trim().is_empty() { LineKind::Blank } else { LineKind::Talk })
    }

    fn empty(number: usize, raw: &str, kind: LineKind) -> Self {
        Self {
            number,
            raw: raw.to_owned(),
            indent: 0,
            label: Label::None,
            heading: None,
            kind,
            found: Vec::new(),
            unknown: Vec::new(),
            assumed: Vec::new(),
            in_passing: false,
        }
    }

    pub fn items(&self) -> impl Iterator<Item = &Item> {
        self.found.iter().filter_map(|found| match &found.what {
            What::Item(item) => Some(item),
            What::Clause(_) => None,
        })
    }

    pub fn clauses(&self) -> impl Iterator<Item = &Clause> {
        self.found.iter().filter_map(|found| match &found.what {
            What::Clause(clause) => Some(clause),
            What::Item(_) => None,
        })
    }
}

/// Reads one line.
pub(super) fn read_line(
    number: usize,
    raw: &str,
    station: bool,
    catalogue: &Catalogue,
    spelling: &mut Spelling<'_>,
) -> Line {
    let mut line = Line::empty(number, raw, LineKind::Work);
    let mut plain = Plain::new(raw);
    if !plain.text.chars().any(char::is_alphanumeric) {
        line.kind = LineKind::Blank;
        return line;
    }
    line.indent = plain.text.len() - plain.text.trim_start().len();
    if is_day(plain.text.trim_start_matches(['#', '*', '-', '=', ' ']).trim_end_matches(['*', '=', '-', ' ']))
    {
        line.kind = LineKind::Title;
        return line;
    }
    if station && let Some(space) = plain.text.trim_start().find(' ') {
        // "2 wall balls" as the second of five stations: the number is a place, not an amount.
        let place = line.indent + space;
        plain.replace(place, place + 1, ")");
    }
    let mended = spelling.mend(&mut plain);
    let (label, mut start) = take_label(&plain.text);
    line.label = label;
    // "-- no conditioning today --": dashes around a line are decoration.
    if let Some((kind, length)) = take_heading(plain.text[start..].trim_end_matches(['*', '-', '=', ' '])) {
        line.heading = Some((kind, raw.trim().trim_matches(['#', '*', '=', '-', ':', ' ']).to_owned()));
        start += length;
        let (label, length) = take_label(&plain.text[start..]);
        if label != Label::None && !matches!(label, Label::Bullet) {
            line.label = label;
        }
        start += length;
    }
    let rest = &plain.text[start..];
    let mut masked = rest.to_owned();
    let next = if matches!(line.label, Label::Number(1)) { 2 } else { 1 };
    let mut claimed = claim_places(&mut masked, next);
    claimed.extend(claim(&mut masked));
    let pieces = pieces(&masked, claimed, catalogue);
    let mut reader = LineReader { plain: &plain, start, catalogue, line: &mut line, rest };
    reader.sentences(pieces);
    clock_before_an_amount(&mut line, rest);
    settle(&mut line, &mended, &plain.text);
    line
}

/// "EMOM: 5 burpees": the number belongs to the movement behind it, not to the clock before it.
fn clock_before_an_amount(line: &mut Line, text: &str) {
    let colon = text.split_once(':').is_some_and(|(before, _)| before.trim_end().ends_with("emom"));
    if !colon {
        return;
    }
    for n in 1..line.found.len() {
        let (before, after) = line.found.split_at_mut(n);
        if let (
            What::Clause(Clause::Every { times, total_s, .. }),
            What::Item(item @ Item { amount: None, max: false, .. }),
        ) = (&mut before[n - 1].what, &mut after[0].what)
            && let Some(count) = times.take()
        {
            *total_s = None;
            item.amount = Some((f64::from(count), None));
        }
    }
}

/// Decides what the line is for, from what its sentences came to.
fn settle(line: &mut Line, mended: &[Mended], text: &str) {
    if line.kind == LineKind::Work
        && line.heading.is_none()
        && line.found.is_empty()
        && line.unknown.is_empty()
    {
        line.kind = LineKind::Talk;
    }
    // "no rower? ..." speaks of what is missing; "no more than two sets" is an intent.
    let missing = text.trim_start().starts_with("no ") && !text.trim_start().starts_with("no more ");
    if line.kind == LineKind::Work && missing && line.heading.is_none() {
        line.kind = if line.items().next().is_some() { LineKind::Alternative } else { LineKind::Talk };
    }
    if line.kind == LineKind::Work {
        let spelling = mended.iter().map(|m| (m.column, format!("read `{}` as `{}`", m.from, m.to)));
        line.assumed.extend(spelling);
        line.assumed.sort();
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn line(text: &str) -> Line {
        let catalogue = Catalogue::standard();
        read_line(1, text, false, catalogue, &mut Spelling::new(catalogue))
    }

    fn items(text: &str) -> Vec<String> {
        line(text)
            .items()
            .map(|item| {
                let name = item.movement.as_ref().map_or("(same)", MovementId::as_str).to_owned();
                let amount = item.amount.map_or("-".to_owned(), |(first, _)| first.to_string());
                let load = item.load.map_or(String::new(), |load| format!(" {load}"));
                let side = if item.per_side { " a side" } else { "" };
                format!("{amount} {name}{load}{side}")
            })
            .collect()
    }

    #[test]
    fn numbers_and_loads_find_their_movement() {
        assert_eq!(items("15 wall balls, 9/6 kg to a 3/2.7 m line"), ["15 wall-ball 9/6 kg"]);
        assert_eq!(
            items("60 weighted step-ups, 2 x 22.5/15 kg on a 50 cm box"),
            ["60 weighted-box-step-up 2 x 22.5/15 kg"]
        );
        assert_eq!(
            items("Stretch: couch 90 s/side, thread the needle 8 e/s"),
            ["90 couch-stretch a side", "8 thread-the-needle a side"]
        );
        assert_eq!(items("10 m sled pull"), ["10 sled-pull"]);
        assert_eq!(items("15 at 70/47.5"), ["15 (same)"]);
    }

    #[test]
    fn one_sentence_can_hold_a_whole_piece() {
        let text = "Start with a 600 m run. When you are back, do 50 kettlebell swings with a 24/16 kg bell, then 40 sit-ups, \
                    and finish with another 600 m run.";
        assert_eq!(items(text), ["600 run", "50 kettlebell-swing 24/16 kg", "40 sit-up", "600 run"]);
    }

    #[test]
    fn talk_adds_no_work_whatever_it_names() {
        for text in [
            "Same bar for all five sets. If set 4 slows down badly, stay where you are.",
            "Walk the first fifty metres of the second run if you have to.",
            "Pick numbers that leave you at least ten seconds to walk to the next station.",
            "Three down, one in the hole, stand up fast, one at the top. Do not count quickly.",
            "Do not leave all the climbs to the one person who is good at them!",
            "-- no conditioning today, walk home and look around --",
            "If you fade more than five seconds from first to last you went out too hot.",
            "Do not start the 20 burpees before everybody is back",
        ] {
            assert_eq!(items(text), [""; 0], "{text}");
        }
    }

    #[test]
    fn a_correction_takes_back_what_stands_before_it() {
        assert_eq!(
            items("12 toes to bar, 9 bar muscle-ups.. no sorry, 9 chest to bar"),
            ["12 toes-to-bar", "9 chest-to-bar-pull-up"]
        );
    }

    #[test]
    fn an_unknown_movement_is_kept_with_its_place() {
        let line = line("10 flying wombats");
        assert_eq!(line.unknown, [Unknown { column: 4, text: "flying wombats".into() }]);
    }
}
