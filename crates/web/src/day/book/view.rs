//! The class with what everybody has done, beside what was predicted.

use std::collections::BTreeSet;

use askama::Template;
use lantern_core::book::{Beside, Place, Scored, Sides, next_time};
use lantern_core::movement::Catalogue;
use lantern_core::pacing::{Side, Window};
use lantern_core::plan::{MemberPiece, PiecePlan};
use lantern_core::print::work_lines;
use lantern_core::units::clock_s;
use lantern_core::versions::VersionName;
use lantern_store::results::{StoredResult, standing};
use lantern_store::{MemberId, ResultId, clock};

use super::lifts::{LiftView, lifts_of};
use super::{Found, Problem, What};
use crate::day::day_name;
use crate::day::figures::side_marked;
use crate::day::last::as_version;
use crate::day::planned::Planned;
use crate::request::slot::Slot;
use crate::respond::filters;

#[derive(Template)]
#[template(path = "day/book/book.html")]
pub(crate) struct BookPage {
    gym: String,
    day: Slot,
    day_name: String,
    /// Of which text it is: parts are named by their places in it.
    seen: String,
    /// How somebody would begin to type.
    example: String,
    /// Each lift and piece with its name; and which is shown.
    tabs: Vec<(What, String)>,
    what: What,
    shown: Option<PieceView>,
    lift: Option<LiftView>,
    /// What is noted about the class.
    note: String,
    problems: Vec<Problem>,
    /// What stands in the field: lines that could not be taken in.
    left: String,
}

struct PieceView {
    window: String,
    looks_like: &'static str,
    /// `9 of 11 on stimulus`, and who is not, by name.
    sentence: String,
    beyond: Vec<String>,
    rows: Vec<Row>,
    versions: Vec<(VersionName, &'static str)>,
}

struct Row {
    id: MemberId,
    name: String,
    version: VersionName,
    expected: String,
    result: Option<ResultView>,
    /// What they did of the same piece before: the score, the version and the day.
    last: Option<String>,
    /// What was said of this one and has been corrected or taken back.
    former: Vec<Former>,
}

struct ResultView {
    id: ResultId,
    score: String,
    class: &'static str,
    word: &'static str,
    /// Where in the spread it fell.
    place: String,
    /// What would be on stimulus next time.
    next: Option<&'static str>,
    best: bool,
    /// What it is the first of.
    first: Option<&'static str>,
    /// The likely reason for where it lies, from its bouts.
    /// What they had begun with, until when.
    gone_on: Option<String>,
    reason: Option<String>,
    effort: Option<u8>,
    note: String,
    hurt: bool,
    /// Who entered it, when.
    by: String,
}

struct Former {
    id: ResultId,
    told: String,
    /// Taken back, and not only followed by a later one.
    undone: bool,
}

impl BookPage {
    pub fn new(
        planned: &Planned,
        day: Slot,
        what: What,
        found: &Found,
        (problems, left): (Vec<Problem>, String),
    ) -> Self {
        let Planned { plan, gym, .. } = planned;
        let lifts = lifts_of(planned);
        // A day of lifts alone begins with the first of them.
        let what = if plan.pieces.is_empty() && what == What::Piece(0) { What::Lift(0) } else { what };
        let lift_tabs = lifts.iter().enumerate().map(|(n, lift)| (What::Lift(n), lift.name.clone()));
        let piece_tabs = plan.pieces.iter().enumerate();
        let piece_tabs = piece_tabs.map(|(n, piece)| (What::Piece(n), called(piece, &planned.catalogue)));
        let (mut shown, mut lift) = (None, None);
        match what {
            What::Piece(n) => shown = plan.pieces.get(n).map(|piece| PieceView::of(planned, piece, found)),
            What::Lift(n) => lift = lifts.get(n).map(|lift| LiftView::new(planned, lift, found, day.day)),
        }
        let letters = |name: &str| name.to_lowercase().chars().take(3).collect::<String>();
        Self {
            gym: gym.name.clone(),
            day,
            day_name: day.name(gym.clock),
            seen: planned.seen.clone(),
            example: planned.people.first().map_or_else(String::new, |member| letters(&member.name) + " …"),
            tabs: lift_tabs.chain(piece_tabs).collect(),
            what,
            shown,
            lift,
            note: planned.note.clone(),
            problems,
            left,
        }
    }
}

/// The first lines of a piece.
fn called(piece: &PiecePlan, catalogue: &Catalogue) -> String {
    let lines = work_lines(piece.written(), &piece.written().tree, catalogue);
    let words = lines.into_iter().take(3).collect::<Vec<_>>().join(", ");
    if words.chars().count() <= 60 { words } else { words.chars().take(58).chain(['…']).collect() }
}

impl PieceView {
    fn of(planned: &Planned, piece: &PiecePlan, found: &Found) -> Self {
        let of_piece = |(part, _): &&(usize, StoredResult)| *part == piece.part;
        let said: Vec<_> = found.results.said.iter().filter(of_piece).cloned().collect();
        let before = found.results.before.iter().filter(of_piece).map(|(_, result)| result);
        Self::new(planned, piece, &said, (&before.collect::<Vec<_>>(), &found.results.otherwise))
    }

    fn new(
        planned: &Planned,
        piece: &PiecePlan,
        said: &[(usize, StoredResult)],
        (before, otherwise): (&[&StoredResult], &BTreeSet<ResultId>),
    ) -> Self {
        let stands = standing(said.to_vec());
        let mut beyond = Vec::new();
        let here = &planned.decisions.here;
        // Whoever is not here is asked for nothing.
        let rows = piece.members.iter().zip(&planned.ids).filter(|(member, id)| {
            here.has(&member.name) || stands.iter().any(|(_, result)| result.member == **id)
        });
        let rows = rows.map(|(member, id)| {
            let theirs: Vec<&StoredResult> =
                said.iter().map(|(_, result)| result).filter(|result| result.member == *id).collect();
            let last: Vec<&StoredResult> =
                before.iter().copied().filter(|result| result.member == *id).collect();
            let result = stands.iter().map(|(_, result)| result).find(|result| result.member == *id);
            if let Some(result) = result {
                let side = result.entry.beside().map(|beside| beside.side);
                if let Some(side) = side.filter(|side| *side != Side::Inside) {
                    beyond.push(told_beyond(member, side, result, piece));
                }
            }
            Row::new(planned, piece, (member, *id), result, &theirs, (&last, otherwise))
        });
        let rows: Vec<Row> = rows.collect();
        let sides = Sides::of(stands.iter().map(|(_, result)| &result.entry));
        let sentence = summed(sides, rows.len(), &piece.window);
        Self {
            window: piece.window.show(),
            looks_like: Scored::of(piece.written(), &piece.written().tree, &piece.window).looks_like(),
            sentence,
            beyond,
            rows,
            versions: VersionName::ALL.into_iter().map(|version| (version, version.label())).collect(),
        }
    }
}

/// `9 of 12 on stimulus, 1 early, 2 late; 12 of 14 entered.`
pub(crate) fn summed(sides: Sides, class: usize, window: &Window) -> String {
    let Sides { inside, early, late, other } = sides;
    let done = sides.all();
    if done == 0 {
        return format!("Nothing entered yet: {class} in this class.");
    }
    let beyond = [
        (early, side_marked(Some(Side::Early), window.measure).1),
        (late, side_marked(Some(Side::Late), window.measure).1),
        (other, side_marked(None, window.measure).1),
    ];
    let beyond =
        beyond.into_iter().filter(|(count, _)| *count > 0).map(|(count, word)| format!(", {count} {word}"));
    let beyond: String = beyond.collect();
    let left =
        if done == class { "all are entered".to_owned() } else { format!("{done} of {class} entered") };
    format!("{inside} of {done} on stimulus{beyond}; {left}.")
}

/// `Dexter Ombaye early: 3:40, predicted 3:16 to 3:52`.
fn told_beyond(member: &MemberPiece, side: Side, result: &StoredResult, piece: &PiecePlan) -> String {
    let word = side_marked(Some(side), piece.window.measure).1;
    let predicted =
        result.entry.predicted.as_ref().map(|predicted| format!(", predicted {}", predicted.range()));
    format!("{} {word}: {}{}", member.name, result.entry.done, predicted.unwrap_or_default())
}

impl Row {
    fn new(
        planned: &Planned,
        piece: &PiecePlan,
        (member, id): (&MemberPiece, MemberId),
        result: Option<&StoredResult>,
        said: &[&StoredResult],
        (last, otherwise): (&[&StoredResult], &BTreeSet<ResultId>),
    ) -> Self {
        let version = result.map_or(member.chosen().version, |result| result.entry.version);
        let last_time = last.first().map(|last| {
            let (day, version) = (day_name(last.day), as_version(last.entry.version.label()));
            let loads = if otherwise.contains(&last.id) { ", with other loads" } else { "" };
            format!("{} {version} on {day}{loads}", last.entry.done)
        });
        let at = |moment| clock::time_text(&planned.gym, moment);
        let stands = result.map(|result| result.id);
        let former = said.iter().filter(|other| Some(other.id) != stands).map(|other| Former {
            id: other.id,
            told: format!("{} by {}, {}", other.entry.done, other.made.1, at(other.made.0)),
            undone: other.undone.is_some(),
        });
        Self {
            id,
            name: member.name.clone(),
            version,
            expected: member.predicted().said(),
            result: result.map(|result| {
                // With other loads it is no record, whichever way.
                let same: Vec<&StoredResult> =
                    last.iter().copied().filter(|last| !otherwise.contains(&last.id)).collect();
                ResultView::new(planned, piece, member, result, &same)
            }),
            last: last_time,
            former: former.collect(),
        }
    }
}

impl ResultView {
    fn new(
        planned: &Planned,
        piece: &PiecePlan,
        member: &MemberPiece,
        result: &StoredResult,
        last: &[&StoredResult],
    ) -> Self {
        let entry = &result.entry;
        let beside = entry.beside();
        let (class, word) = side_marked(beside.map(|beside| beside.side), piece.window.measure);
        Self {
            id: result.id,
            score: entry.done.to_string(),
            class,
            word,
            place: beside.map_or_else(String::new, |beside| placed(&beside, piece)),
            next: beside
                .filter(|beside| beside.side != Side::Inside)
                .and_then(|beside| next_time(member, &piece.window, &beside))
                .map(VersionName::label),
            best: entry.is_best_of(last.iter().map(|last| &last.entry)),
            first: entry.first_of(last.iter().map(|last| &last.entry)),
            gone_on: entry
                .gone_on
                .as_ref()
                .map(|how| format!("{} until {}", how.from.label(), clock_s(how.at_s))),
            reason: entry.likely_reason(),
            effort: entry.effort,
            note: entry.note.clone(),
            hurt: entry.hurt,
            by: format!("{}, {}", result.made.1, clock::time_text(&planned.gym, result.made.0)),
        }
    }
}

/// `as predicted`, `8 % quicker than predicted`, `at least 20 % slower: beyond what was predicted`.
fn placed(beside: &Beside, piece: &PiecePlan) -> String {
    let percent = (beside.off.abs() * 100.0).round();
    let timed = piece.window.measure.is_time();
    let word = match (timed, beside.off > 0.0) {
        (true, true) => "slower",
        (true, false) => "quicker",
        (false, true) => "more",
        (false, false) => "less",
    };
    let least = if beside.at_least { "at least " } else { "" };
    match beside.place {
        _ if percent < 2.0 => "as predicted".to_owned(),
        Place::Within => format!("{least}{percent} % {word} than predicted"),
        Place::Better | Place::Worse => format!("{least}{percent} % {word}: beyond what was predicted"),
    }
}
