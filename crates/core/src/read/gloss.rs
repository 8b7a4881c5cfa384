//! What each line was understood as, in a few words, to stand beside it.

use super::clause::{Clause, TargetOf};
use super::line::{Item, Line, LineKind, What};
use crate::movement::{Catalogue, Unit};
use crate::session::{Intent, Session};
use crate::units::{clock, clock_s, plain};

/// One line of the text and its reading.
#[derive(Clone, Debug, PartialEq)]
pub struct Gloss {
    /// The line, counted from 1.
    pub line: usize,
    /// What it is for.
    pub role: Role,
    /// The part it belongs to, by place in the session.
    pub part: Option<usize>,
    /// What was understood, in order of the text.
    pub said: Vec<Said>,
    /// Steps of indentation inside rounds and schemes.
    pub depth: usize,
}

/// What a line is for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Role {
    /// Nothing on it.
    Blank,
    /// Names the day.
    Title,
    /// Heads a part.
    Heading,
    /// Says how the piece is run, limited or scored.
    Structure,
    /// Work.
    Work,
    /// Kept as a note.
    Note,
    /// What may be done instead.
    Alternative,
    /// Not understood.
    Problem,
}

/// A few words of a reading.
#[derive(Clone, Debug, PartialEq)]
pub struct Said {
    /// The words.
    pub text: String,
    /// Whether they name work rather than structure.
    pub work: bool,
}

/// Glosses of all lines, once the parts are known.
pub(super) fn glosses(lines: &[Line], session: &Session, catalogue: &Catalogue) -> Vec<Gloss> {
    let mut inside = false;
    lines
        .iter()
        .map(|line| {
            let part =
                session.parts.iter().position(|part| (part.lines.0..=part.lines.1).contains(&line.number));
            let role = role(line, part.is_some());
            let opens = line.clauses().any(|clause| {
                matches!(
                    clause,
                    Clause::Rounds(_)
                        | Clause::Scheme { .. }
                        | Clause::Amrap(_)
                        | Clause::Every { .. }
                        | Clause::OnOff { .. }
                )
            });
            let own_items = line.items().next().is_some();
            if role == Role::Blank || role == Role::Heading {
                inside = false;
            }
            let depth = usize::from(inside && role == Role::Work);
            if opens && !own_items {
                inside = true;
            }
            Gloss { line: line.number, role, part, said: said(line, role, catalogue), depth }
        })
        .collect()
}

fn role(line: &Line, in_part: bool) -> Role {
    match line.kind {
        LineKind::Blank => Role::Blank,
        LineKind::Title => Role::Title,
        LineKind::Talk => Role::Note,
        LineKind::Alternative => Role::Alternative,
        LineKind::Work if !line.unknown.is_empty() => Role::Problem,
        LineKind::Work if line.in_passing => Role::Note,
        LineKind::Work if line.items().next().is_some() => Role::Work,
        LineKind::Work if line.heading.is_some() => Role::Heading,
        LineKind::Work if in_part => Role::Structure,
        LineKind::Work => Role::Note,
    }
}

fn said(line: &Line, role: Role, catalogue: &Catalogue) -> Vec<Said> {
    let mut said = Vec::new();
    if let Some((kind, _)) = &line.heading {
        said.push(Said { text: kind.heading().to_owned(), work: false });
    }
    if matches!(role, Role::Note | Role::Blank | Role::Title) {
        return said;
    }
    for found in &line.found {
        match &found.what {
            What::Item(item) => said.push(Said { text: item_words(item, catalogue), work: true }),
            What::Clause(clause) => {
                if let Some(text) = clause_words(clause) {
                    said.push(Said { text, work: false });
                }
            }
        }
    }
    said
}

fn item_words(item: &Item, catalogue: &Catalogue) -> String {
    let movement = item.movement.as_ref().and_then(|id| catalogue.get(id));
    let name = movement.map_or("the same again".to_owned(), |movement| movement.name.to_lowercase());
    let unit = item.unit.or(movement.map(|movement| movement.unit)).unwrap_or(Unit::Reps);
    let mut words = String::new();
    if let Some((sets, reps)) = item.sets {
        words.push_str(&reps.map_or(format!("{sets} sets "), |reps| format!("{sets} × {reps} ")));
    } else if item.max {
        words.push_str("max ");
    } else if let Some((first, second)) = item.amount {
        let second = second.map(|n| format!("/{}", plain(n))).unwrap_or_default();
        let amount = if unit == Unit::Seconds {
            clock(first)
        } else {
            format!("{}{second}{}", plain(first), unit.short())
        };
        words.push_str(&amount);
        words.push(' ');
    }
    words.push_str(&name);
    if item.per_side {
        words.push_str(" each side");
    }
    if let Some(load) = item.load {
        words.push_str(&format!(" · {load}"));
    } else if let Some((first, second)) = item.bare_load {
        words.push_str(&format!(
            " · {}{}",
            plain(first),
            second.map(|n| format!("/{}", plain(n))).unwrap_or_default()
        ));
    } else if item.same_load {
        words.push_str(" · same load");
    }
    if item.alternative { format!("or {words}") } else { words }
}

fn clause_words(clause: &Clause) -> Option<String> {
    let band = |low: Option<String>, high: Option<String>| match (low, high) {
        (Some(low), Some(high)) if low == high => low,
        (Some(low), Some(high)) => format!("{low}-{high}"),
        (Some(low), None) => format!("at least {low}"),
        (None, Some(high)) => format!("under {high}"),
        (None, None) => String::new(),
    };
    Some(match clause {
        Clause::Week(k, n) => n.map_or(format!("week {k}"), |n| format!("week {k} of {n}")),
        Clause::Tempo(tempo) => format!("tempo {tempo}"),
        Clause::OnOff { times, work_s, rest_s } => {
            let times = times.map(|n| format!("{n} × ")).unwrap_or_default();
            format!("{times}{} on, {} off", clock_s(*work_s), clock_s(*rest_s))
        }
        Clause::Tabata => "20 s on, 10 s off".to_owned(),
        Clause::Amrap(seconds) => seconds.map_or("as many rounds as possible".to_owned(), |s| {
            format!("as many rounds as possible in {}", clock_s(s))
        }),
        Clause::Every { interval_s, times, .. } => {
            let times = times.map(|n| format!(" × {n}")).unwrap_or_default();
            format!("every {}{times}", clock_s(*interval_s))
        }
        Clause::Interrupt { every_s, from_s } => {
            format!("cuts in every {} from {}", clock_s(*every_s), clock_s(*from_s))
        }
        Clause::Penalty => "for each break:".to_owned(),
        Clause::UntilFailure => "until it no longer fits".to_owned(),
        Clause::AddEach(n) => format!("{n} more each round"),
        Clause::ForTime => "for time".to_owned(),
        Clause::Quality => "not for time".to_owned(),
        Clause::Rest { low_s, high_s, .. } => {
            format!("rest {}", band(Some(clock_s(*low_s)), Some(clock_s(*high_s))))
        }
        Clause::RestOpen => "rest".to_owned(),
        Clause::Cap(Some(seconds)) => format!("cap {}", clock_s(*seconds)),
        Clause::Cap(None) => "cap not known yet".to_owned(),
        Clause::Target { low, high, of } => {
            let show = |value: f64| match of {
                TargetOf::Seconds => clock(value),
                _ => plain(value),
            };
            let what = match of {
                TargetOf::Rounds => " rounds",
                TargetOf::Reps => " reps",
                _ => "",
            };
            format!("target {}{what}", band(low.map(show), high.map(show)))
        }
        Clause::RoundUnder(seconds) => format!("each round under {}", clock_s(*seconds)),
        Clause::Intent(Intent::SetsAtMost(n)) => format!("at most {n} sets"),
        Clause::Intent(Intent::RepsPerMinute(n)) => format!("{} a minute", plain(*n)),
        Clause::Intent(Intent::RestLeft(seconds)) => format!("{} of rest left", clock_s(*seconds)),
        Clause::Score(score) => format!("score: {}", score.name()),
        Clause::Team(n) => format!("teams of {n}"),
        Clause::BuildTo(n) => format!("build to a {n}RM"),
        Clause::Percent(shares) => {
            let shares: Vec<String> =
                shares.iter().map(|[low, high]| band(Some(plain(*low)), Some(plain(*high)))).collect();
            format!("{} %", shares.join(", "))
        }
        Clause::Rpe([low, high]) => format!("RPE {}", band(Some(plain(*low)), Some(plain(*high)))),
        Clause::Sets(n) => format!("{n} sets"),
        Clause::MoreSets(n) => format!("{n} sets more"),
        Clause::TopSets(n) => format!("last {n} at the top"),
        Clause::SetAt { reps, percent } => format!("{reps} at {} %", plain(*percent)),
        Clause::Rounds(n) => format!("{n} rounds"),
        Clause::Scheme { reps, open } => {
            let reps: Vec<String> = reps.iter().map(u32::to_string).collect();
            format!("{}{}", reps.join("-"), if open.is_some() { " and on" } else { "" })
        }
        Clause::Window { seconds } | Clause::Length(seconds) => clock_s(*seconds),
        Clause::BuyIn => "buy-in".to_owned(),
        Clause::CashOut => "cash-out".to_owned(),
        Clause::AfterEach => "after each round".to_owned(),
        Clause::Remaining => "in the time left".to_owned(),
        Clause::Superset => "superset".to_owned(),
        Clause::Load(load) => load.to_string(),
        Clause::LoadRange(low, high, unit) => format!("{}-{} {}", plain(*low), plain(*high), unit.name()),
        _ => return None,
    })
}
