//! Contradictions and impossible figures: reported, never guessed away.

use crate::movement::{Catalogue, Unit};
use crate::problem::Problem;
use crate::units::{clock_s, plain};
use crate::{Amount, Format, Node, Part, PartKind, PercentOf, Session, Work, totals, works};

/// Longest piece that a class hour can hold with any sense, in seconds; beyond it a figure is a slip.
const LONGEST_PIECE_S: u32 = 3 * 3600;
/// Shares of one's own 1RM above this are no prescription, in percent; of another lift's more can be meant.
const HIGHEST_PERCENT: f64 = 110.0;
const HIGHEST_PERCENT_OF_ANOTHER: f64 = 130.0;
/// The highest share of their own weight that anybody lifts: three and a half times, off the floor.
const HIGHEST_PERCENT_OF_BODYWEIGHT: f64 = 350.0;
/// More repetitions than one set has.
const MOST_REPS_OF_A_SET: u32 = 100;
/// Heaviest load for one implement that anybody writes, in kilograms.
const HEAVIEST_LOAD_KG: f64 = 350.0;
/// More repetitions of one movement than this in a day is a slip, or worth a question.
const MOST_REPS: f64 = 2000.0;

/// Adds what cannot be right in a session read from a text, each at the place where the text says it.
pub fn check(session: &Session, text: &str, catalogue: &Catalogue, problems: &mut Vec<Problem>) {
    let lines: Vec<&str> = text.split('\n').collect();
    for part in &session.parts {
        let mut report = Report { part, lines: &lines, found: problems };
        check_part(&mut report);
        check_work(&mut report, catalogue);
        check_gaps(&mut report, catalogue);
    }
    if session.parts.is_empty() && text.chars().any(|c| !c.is_whitespace()) && problems.is_empty() {
        problems.push(Problem::nothing_here());
    }
}

/// Reports what is wrong with a part at the place where the text says it.
struct Report<'a> {
    part: &'a Part,
    lines: &'a [&'a str],
    found: &'a mut Vec<Problem>,
}

impl Report<'_> {
    /// `figure` is the number as written; the part's first line stands in for one that is not found.
    fn error(&mut self, figure: &str, message: String) {
        let (line, column) = self.place(figure);
        self.found.push(Problem::error(line, column, message));
    }

    fn warning(&mut self, figure: &str, message: String) {
        let (line, column) = self.place(figure);
        self.found.push(Problem::warning(line, column, message));
    }

    /// Line and column of a figure that stands by itself within the part, counted from 1.
    fn place(&self, figure: &str) -> (usize, usize) {
        let (first, last) = self.part.lines;
        let within = self.lines.iter().enumerate().take(last).skip(first - 1);
        within
            .filter(|_| !figure.is_empty())
            .find_map(|(n, line)| {
                let at = line.match_indices(figure).map(|(at, _)| at).find(|&at| {
                    let digit = |c: Option<char>| c.is_some_and(|c| c.is_ascii_digit());
                    !digit(line[..at].chars().next_back()) && !digit(line[at + figure.len()..].chars().next())
                })?;
                Some((n + 1, line[..at].chars().count() + 1))
            })
            .unwrap_or((first, 1))
    }
}

fn check_part(report: &mut Report<'_>) {
    let part = report.part;
    if part.rounds == Some(0) || part.strength.sets == Some(0) {
        report.error("0", "0 rounds or sets is no work; write how many are meant".to_owned());
    }
    for (what, seconds) in [("cap", part.cap_s), ("length", part.duration_s), ("interval", part.interval_s)] {
        match seconds {
            Some(0) => report.error("0", format!("a {what} of 0:00 leaves no time for any work")),
            Some(s) if s > LONGEST_PIECE_S => {
                let minutes = s / 60;
                let message =
                    format!("a {what} of {minutes} minutes is longer than any class; is it a slip?");
                report.error(&minutes.to_string(), message);
            }
            _ => {}
        }
    }
    let mut shares: Vec<f64> = part.strength.percent.iter().flatten().copied().collect();
    shares.dedup();
    let highest = match part.strength.percent_of {
        Some(PercentOf::Lift(_) | PercentOf::Rm(_)) => HIGHEST_PERCENT_OF_ANOTHER,
        Some(PercentOf::Bodyweight) => HIGHEST_PERCENT_OF_BODYWEIGHT,
        _ => HIGHEST_PERCENT,
    };
    for share in shares {
        if !(1.0..=highest).contains(&share) {
            let message = format!(
                "{share} % is no share of a maximum that can be lifted; 1 to {highest} % can be planned"
            );
            report.error(&plain(share), message);
        }
    }
    if let Some(reps) = part.strength.reps.iter().find(|reps| **reps > MOST_REPS_OF_A_SET) {
        let message =
            format!("{reps} repetitions are more than a set has; up to {MOST_REPS_OF_A_SET} can be planned");
        report.error(&reps.to_string(), message);
    }
    if let Some((k, Some(n))) = part.strength.week.filter(|(k, n)| n.is_some_and(|n| *k > n) || *k == 0) {
        report.error(&k.to_string(), format!("week {k} of {n} is outside its own cycle"));
    }
    if let Some(target) = part.target {
        if let (Some(low), Some(high)) = (target.low_s, target.high_s)
            && low > high
        {
            let message =
                format!("the target runs from {} back to {}; swap its ends", clock_s(low), clock_s(high));
            report.error(&(low / 60).to_string(), message);
        }
        if let (Some(cap), Some(low)) = (part.cap_s, target.low_s)
            && low > cap
        {
            let message = format!("the target begins at {}, after the cap at {}", clock_s(low), clock_s(cap));
            report.error(&(low / 60).to_string(), message);
        }
    }
    if matches!(part.format, Some(Format::Amrap)) && part.duration_s.is_none() {
        report.error("", "as many rounds as possible in what time? write it as in `AMRAP 12`".to_owned());
    }
    if part.format == Some(Format::Every) && has_open_every(&part.tree) {
        report.error("", "this clock has no end; write it as in `EMOM 12` or `every 2:00 x 6`".to_owned());
    }
}

fn check_work(report: &mut Report<'_>, catalogue: &Catalogue) {
    for work in works(&report.part.tree) {
        let name = catalogue.name(&work.movement).to_lowercase();
        if matches!(work.dose.amount, Amount::Fixed { first, .. } if first == 0.0) {
            report.error("0", format!("0 of {name} is no work; write how many are meant"));
        }
        if let Some((load, weight)) = work.load.and_then(|load| Some((load, load.weight()?)))
            && weight.kg() > HEAVIEST_LOAD_KG
        {
            let message = format!("{weight} of {name} is more than a class lifts; is it a slip?");
            report.error(&plain(load.first), message);
        }
    }
    for total in totals(&report.part.tree) {
        if total.amount > MOST_REPS && total.unit == crate::movement::Unit::Reps {
            let name = catalogue.name(&total.movement).to_lowercase();
            let message = format!("{} {name} in one piece; is it a slip?", total.amount);
            report.warning(&plain(total.amount), message);
        }
    }
}

/// What a piece needs and nothing says: how it is run, how much of a movement, how many sets. Nothing is made up for it.
fn check_gaps(report: &mut Report<'_>, catalogue: &Catalogue) {
    let part = report.part;
    let works = works(&part.tree);
    let piece = matches!(part.kind, PartKind::Conditioning | PartKind::Home);
    let open = works.iter().find(|work| work.dose.amount == Amount::Open);
    let lift = part.kind == PartKind::Strength;
    // "30 min row or bike" has its amount in its length; a lift's sets may stand one by one.
    let timed = part.duration_s.is_some() && part.format != Some(Format::ForTime);
    // Minutes of each machine fill the length by themselves.
    let by_minutes = |work: &&Work| work.dose.unit == Unit::Seconds;
    let minutes_s: f64 = totals(&part.tree).iter().map(|total| total.amount).sum();
    let fills = || works.iter().all(by_minutes) && part.duration_s.map(f64::from) == Some(minutes_s);
    let steady = piece && timed && (works.iter().all(|work| work.dose.amount == Amount::Open) || fills());
    let listed = lift && (!part.strength.reps.is_empty() || part.strength.sets.is_some());
    if let Some(work) = open.filter(|_| (piece || lift) && !steady && !listed) {
        let name = catalogue.name(&work.movement).to_lowercase();
        if let Some((week, _)) = part.strength.week.filter(|_| lift) {
            let message = format!(
                "which sets are week {week} of `{name}`? neither the text nor a cycle of the gym says it: write them, or the cycle under Gym"
            );
            report.warning(&week.to_string(), message);
        } else {
            report.warning("", format!("how many `{name}`? nothing says it, and none are counted"));
        }
    } else if piece && part.format.is_none() && !steady && !says_all(&works) && !works.is_empty() {
        let message = "nothing says how this is run: for time, in rounds or against a clock".to_owned();
        report.warning("", message);
    } else if lift
        && part.strength.sets.is_none()
        && matches!(part.format, Some(Format::Sets | Format::Superset))
    {
        report.warning("", "how many sets? nothing says it, and one is counted".to_owned());
    }
}

/// Whether one thing, so long or as much as goes, says all there is to be said of how it is run.
fn says_all(works: &[&Work]) -> bool {
    let [work] = works else { return false };
    work.dose.unit == Unit::Seconds || work.dose.amount == Amount::Max
}

fn has_open_every(node: &Node) -> bool {
    node.any(&|node| matches!(node, Node::Every { times: None, .. }))
}
