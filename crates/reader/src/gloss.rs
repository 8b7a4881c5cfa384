//! What each line was understood as, in a few words, to stand beside it.

use lantern_session::movement::{Catalogue, Unit};
use lantern_session::units::{clock, clock_s, plain};
use lantern_session::{Intent, Load, LoadUnit, PercentOf, Problem, Score, Session, Severity};

use crate::say::{Aim, Item, Say};
use crate::unit::{self, Role as Taken};

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

/// What a line is for, the weightiest of its sentences first.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Role {
    /// Not understood.
    Problem,
    /// Work.
    Work,
    /// What may be done instead, or by another level of the class.
    Alternative,
    /// Heads a part.
    Heading,
    /// Says how the piece is run, limited or scored.
    Structure,
    /// Names the day.
    Title,
    /// Kept as a note.
    Note,
    /// Nothing on it.
    Blank,
}

/// A few words of a reading.
#[derive(Clone, Debug, PartialEq)]
pub struct Said {
    /// The words.
    pub text: String,
    /// Whether they name work rather than structure.
    pub work: bool,
}

/// Glosses of all lines of a text, from its sentences in the reading that was chosen for each.
pub(crate) fn glosses(
    text: &str,
    taken: &[(&unit::Unit, &unit::Reading)],
    session: &Session,
    problems: &[Problem],
    catalogue: &Catalogue,
) -> Vec<Gloss> {
    let mut found: Vec<Gloss> = text
        .split('\n')
        .enumerate()
        .map(|(n, raw)| {
            let role = if raw.trim().is_empty() { Role::Blank } else { Role::Note };
            let line = n + 1;
            let part = session.parts.iter().position(|part| (part.lines.0..=part.lines.1).contains(&line));
            Gloss { line, role, part, said: Vec::new(), depth: 0 }
        })
        .collect();
    for (unit, reading) in taken {
        let Some(gloss) = found.get_mut(unit.line - 1) else { continue };
        let role = role(unit, reading);
        gloss.said.extend(said(unit, reading, role, catalogue));
        gloss.role = gloss.role.min(role);
        for line in unit.line + 1..=unit.last_line {
            if let Some(gloss) = found.get_mut(line - 1).filter(|gloss| gloss.role != Role::Blank) {
                gloss.role = gloss.role.min(role);
            }
        }
    }
    for problem in problems.iter().filter(|problem| problem.severity == Severity::Error) {
        if let Some(gloss) = found.get_mut(problem.line.saturating_sub(1))
            && gloss.role != Role::Blank
        {
            gloss.role = Role::Problem;
        }
    }
    indent(&mut found, taken);
    found
}

/// Work below a line that opens rounds, a scheme or a clock stands one step in.
fn indent(glosses: &mut [Gloss], taken: &[(&unit::Unit, &unit::Reading)]) {
    let opens = |say: &Say| {
        matches!(
            say,
            Say::Rounds(_)
                | Say::Scheme { .. }
                | Say::Amrap(_)
                | Say::Every { .. }
                | Say::OnOff { .. }
                | Say::Bouts { .. }
        )
    };
    let mut inside = false;
    for gloss in glosses {
        if matches!(gloss.role, Role::Blank | Role::Heading) {
            inside = false;
        }
        gloss.depth = usize::from(inside && gloss.role == Role::Work);
        let opened = taken.iter().any(|(unit, reading)| {
            let works = matches!(reading.role, Taken::Work | Taken::Aside);
            unit.line == gloss.line && works && reading.says(opens)
        });
        inside |= opened && gloss.role != Role::Work;
    }
}

fn role(unit: &unit::Unit, reading: &unit::Reading) -> Role {
    match reading.role {
        Taken::Title => Role::Title,
        Taken::Substitute | Taken::Level(_) => Role::Alternative,
        Taken::Work if reading.items().next().is_some() => Role::Work,
        Taken::Work | Taken::Aside if !reading.says.is_empty() && unit.heading.is_none() => Role::Structure,
        _ if unit.heading.is_some() => Role::Heading,
        _ => Role::Note,
    }
}

fn said(unit: &unit::Unit, reading: &unit::Reading, role: Role, catalogue: &Catalogue) -> Vec<Said> {
    let mut said = Vec::new();
    if let Some((kind, _)) = &unit.heading {
        said.push(Said { text: kind.heading().to_owned(), work: false });
    }
    if matches!(role, Role::Note | Role::Title) {
        return said;
    }
    // What a score counts says more than that it counts.
    let counted = reading.says.iter().any(|each| matches!(each.say, Say::CountedIn(_)));
    for each in reading.says.iter().filter(|each| !(counted && each.say == Say::Score(Score::Reps))) {
        let work = matches!(each.say, Say::Item(_));
        said.extend(said_words(&each.say, catalogue).map(|text| Said { text, work }));
    }
    said
}

/// A phrase in words as it was read; none where it adds nothing of its own.
pub(crate) fn said_words(say: &Say, catalogue: &Catalogue) -> Option<String> {
    match say {
        Say::Item(item) => Some(item_words(item, catalogue)),
        say => say_words(say),
    }
}

fn item_words(item: &Item, catalogue: &Catalogue) -> String {
    let movement = item.movement.as_ref().and_then(|id| catalogue.get(id));
    let name = movement.map_or("of it".to_owned(), |movement| movement.name.to_lowercase());
    let unit = item.unit.or(movement.map(|movement| movement.unit)).unwrap_or(Unit::Reps);
    let sets = item.sets.map(|sets| format!("{sets} × ")).unwrap_or_default();
    let amount = match (item.max, item.amount) {
        (true, _) => "max ".to_owned(),
        (false, Some((first, _))) if unit == Unit::Seconds => format!("{} ", clock(first)),
        (false, Some((first, second))) => {
            let second = second.map(|n| format!("/{}", plain(n))).unwrap_or_default();
            format!("{}{second}{} ", plain(first), unit.short())
        }
        (false, None) => String::new(),
    };
    let side = if item.per_side { " each side" } else { "" };
    let window = item.window_s.map(|s| format!(" in {}", clock_s(s))).unwrap_or_default();
    let together = if item.in_step { ", all at once" } else { "" };
    format!("{sets}{amount}{name}{side}{window}{together}")
}

/// What counts between two ends, either of which may be missing.
fn band(low: Option<String>, high: Option<String>) -> String {
    match (low, high) {
        (Some(low), Some(high)) if low == high => low,
        (Some(low), Some(high)) => format!("{low}-{high}"),
        (Some(low), None) => format!("at least {low}"),
        (None, Some(high)) => format!("under {high}"),
        (None, None) => String::new(),
    }
}

fn shares(list: &[[f64; 2]]) -> String {
    let shares: Vec<String> =
        list.iter().map(|[low, high]| band(Some(plain(*low)), Some(plain(*high)))).collect();
    format!("{} %", shares.join(", "))
}

fn times(n: Option<u32>) -> String {
    n.map(|n| format!("{n} × ")).unwrap_or_default()
}

fn load_words(implements: u8, first: f64, second: Option<f64>, unit: Option<LoadUnit>) -> String {
    match unit {
        Some(unit) => Load { first, second, unit, implements }.to_string(),
        None => format!("{}{}", plain(first), second.map(|n| format!("/{}", plain(n))).unwrap_or_default()),
    }
}

fn say_words(say: &Say) -> Option<String> {
    Some(match say {
        Say::Week(k, n) => n.map_or(format!("week {k}"), |n| format!("week {k} of {n}")),
        Say::Paused => "with a pause".to_owned(),
        Say::Tempo(tempo) => format!("tempo {tempo}"),
        Say::Rpe([low, high]) => format!("RPE {}", band(Some(plain(*low)), Some(plain(*high)))),
        Say::Rm(n) => format!("{n}RM"),
        Say::Percent(list) => shares(list),
        Say::PercentOf(PercentOf::Rm(n)) => format!("of the {n}RM"),
        Say::PercentOf(PercentOf::Today | PercentOf::TopSet(_)) => "of today's heaviest".to_owned(),
        Say::PercentOf(PercentOf::Bodyweight) => "of bodyweight".to_owned(),
        Say::PercentOf(PercentOf::MostReps) => "of the most repetitions".to_owned(),
        Say::PercentOf(PercentOf::Lift(lift)) => format!("of the {}", lift.as_str().replace('-', " ")),
        Say::Complex { .. } => "one bar".to_owned(),
        Say::OpenSets(n) => format!("{n} x max"),
        Say::OpenLast => "last set open".to_owned(),
        Say::SetAt { reps: 0, percent } => format!("max at {}", shares(&[*percent])),
        Say::SetAt { reps, percent } => format!("{reps} at {}", shares(&[*percent])),
        Say::Build => "build up".to_owned(),
        Say::SetsOf(n) => format!("sets of {n}"),
        Say::Climbs => "heavier each set".to_owned(),
        Say::ClimbsBy(jump) => format!("{jump} heavier each set"),
        Say::ClimbsTo => "at the end".to_owned(),
        Say::SetWith { reps, load } => format!("{reps} with {load}"),
        Say::ShareFor { reps, percent } => format!("{} for each set of {reps}", shares(&[*percent])),
        Say::ClimbsToMost => "heavier each set, to the most".to_owned(),
        Say::EmptyBar => "the bar alone".to_owned(),
        Say::Heaviness(rpe) => format!("about RPE {}", plain(*rpe)),
        Say::ShareStep { step, by_wave } => {
            format!("{} % more each {}", plain(*step), if *by_wave { "wave" } else { "set" })
        }
        Say::Efforts(each) => {
            format!("RPE {}", each.iter().map(|effort| plain(*effort)).collect::<Vec<_>>().join(", "))
        }
        Say::OneTool(tool) => format!("all with {}s", format!("{tool:?}").to_lowercase()),
        Say::SameTeam => "same teams".to_owned(),
        Say::Running => "one clock for all".to_owned(),
        Say::EachPerson => "each does all rounds".to_owned(),
        Say::ComplexReps(reps) => {
            reps.iter().map(u32::to_string).collect::<Vec<_>>().join(" + ") + " without letting go"
        }
        Say::SetsReps { sets, reps, upper } => {
            format!("{sets} × {reps}{}", upper.map(|n| format!("-{n}")).unwrap_or_default())
        }
        Say::SetsMax(sets) => format!("{sets} × max"),
        Say::SetsLength(sets, seconds) => format!("{sets} × {}", clock_s(*seconds)),
        Say::Sets(n) => format!("{n} sets"),
        Say::RepsHigh(n) => format!("up to {n} a set"),
        Say::MoreSets(n) => format!("{n} sets more"),
        Say::TopSets(n) => format!("last {n} at the top"),
        Say::Superset => "superset".to_owned(),
        Say::SupersetWith => "superset with the lift above".to_owned(),
        Say::Interrupt { every_s, from_s } => {
            format!("cuts in every {} from {}", clock_s(*every_s), clock_s(*from_s))
        }
        Say::ForBoth => "of each lift above".to_owned(),
        Say::OfBoth(n) => format!("{n} of each above, again"),
        Say::Penalty => "for each break:".to_owned(),
        Say::Tabata => "20 s on, 10 s off".to_owned(),
        Say::OnOff { times: n, work_s, rest_s, .. } => {
            format!("{}{} on, {} off", times(*n), clock_s(*work_s), clock_s(*rest_s))
        }
        Say::StationTime { work_s, move_s: None } => format!("{} a station", clock_s(*work_s)),
        Say::StationTime { work_s, move_s: Some(move_s) } => {
            format!("{} a station, {} to the next", clock_s(*work_s), clock_s(*move_s))
        }
        Say::Every { interval_s, times, .. } => {
            let times = times.map(|n| format!(" × {n}")).unwrap_or_default();
            format!("every {}{times}", clock_s(*interval_s))
        }
        Say::Practice(seconds) => format!("practice for {}", clock_s(*seconds)),
        Say::InTurn(seconds) => format!("in turn, {} each", clock_s(*seconds)),
        Say::Alternating => "in turn".to_owned(),
        Say::FromTheStart => "from the start of the clock".to_owned(),
        Say::EveryReps(n) => format!("every {n} repetitions"),
        Say::BackAgain => "and the way back".to_owned(),
        Say::Bouts { times: n, seconds, .. } => format!("{n} × {}", clock_s(*seconds)),
        Say::Amrap(seconds) => seconds.map_or("as many rounds as possible".to_owned(), |s| {
            format!("as many rounds as possible in {}", clock_s(s))
        }),
        Say::UntilFailure { .. } => "until it no longer fits".to_owned(),
        Say::FromHang => "from the hang".to_owned(),
        Say::PercentsOf(id) => format!("percentages of {}", id.as_str()),
        Say::ComplexAgain => "the complex above, once".to_owned(),
        Say::InStep => "all of the team at once".to_owned(),
        Say::InMinute { minute, reps } => format!("{reps} in minute {minute}"),
        Say::AddEach(n) => format!("{n} more each round"),
        Say::Quality => "not for time".to_owned(),
        Say::ForTime => "for time".to_owned(),
        Say::Cap(Some(seconds)) => format!("cap {}", clock_s(*seconds)),
        Say::Cap(None) => "cap not known yet".to_owned(),
        Say::Window(seconds) | Say::Clock(seconds) | Say::Length(seconds) => clock_s(*seconds),
        Say::Rest { low_s, high_s, .. } => {
            format!("rest {}", band(Some(clock_s(*low_s)), Some(clock_s(*high_s))))
        }
        Say::OfTurn(say) => return say_words(say),
        Say::RestOpen => "rest".to_owned(),
        Say::RestAsWork(1.0) => "rest as long as the work".to_owned(),
        Say::RestAsWork(times) => format!("rest {} times as long as the work", plain(*times)),
        Say::WhenReady => "when ready".to_owned(),
        Say::RoundUnder(seconds) => format!("each round under {}", clock_s(*seconds)),
        Say::Target { low, high, of } => {
            let show = |value: f64| if *of == Aim::Seconds { clock(value) } else { plain(value) };
            let what = match of {
                Aim::Rounds => " rounds",
                Aim::Reps => " reps",
                Aim::Seconds | Aim::Bare => "",
            };
            format!("target {}{what}", band(low.map(show), high.map(show)))
        }
        Say::OfTrainingMax(Some(share)) => format!("of a training max of {} %", plain(*share)),
        Say::OfTrainingMax(None) => "of the training max".to_owned(),
        Say::Collect => "in as few sets as possible".to_owned(),
        Say::ChooseOne => "one of them".to_owned(),
        Say::CountedIn(Unit::Calories) => "score: calories".to_owned(),
        Say::CountedIn(_) => "score: metres".to_owned(),
        Say::Score(score) => format!("score: {}", score.name()),
        Say::Intent(Intent::SetsAtMost(n)) => format!("at most {n} sets"),
        Say::Intent(Intent::RepsPerMinute(n)) => format!("{} a minute", plain(*n)),
        Say::Intent(Intent::RestLeft(seconds)) => format!("{} of rest left", clock_s(*seconds)),
        Say::Team(n) => format!("teams of {n}"),
        Say::RampSets => "the way up to the work sets".to_owned(),
        Say::BuyIn => "buy-in".to_owned(),
        Say::CashOut => "cash-out".to_owned(),
        Say::AfterEach { last: true } => "after each round".to_owned(),
        Say::AfterEach { last: false } => "between the rounds".to_owned(),
        Say::EveryRounds(n) => format!("after every {n} rounds"),
        Say::AfterEachThing => "after each of them".to_owned(),
        Say::Remaining => "in the time left".to_owned(),
        Say::Rounds(n) => format!("{n} rounds"),
        Say::Scheme { reps, open } => {
            let reps: Vec<String> = reps.iter().map(u32::to_string).collect();
            format!("{}{}", reps.join("-"), if open.is_some() { " and on" } else { "" })
        }
        Say::Same => "same again".to_owned(),
        Say::Load { implements, first, second, unit }
        | Say::ToolLoad { implements, first, second, unit, .. } => {
            load_words(*implements, *first, *second, *unit)
        }
        Say::LoadRange(low, high, unit) => format!("{}-{} {}", plain(*low), plain(*high), unit.name()),
        Say::Max => "max".to_owned(),
        // A movement is said by its item; the others only lead from one to the next.
        Say::Item(_)
        | Say::Intent(_)
        | Say::Withdraw
        | Say::Relative
        | Say::Kind(_)
        | Say::ClockStart
        | Say::Sharing(_)
        | Say::ScoreWord
        | Say::OfPiece(_)
        | Say::Counted(_)
        | Say::Then
        | Say::Each
        | Say::Side
        | Say::BothSides
        | Say::Split(..)
        | Say::Or
        | Say::Slash
        | Say::Plus
        | Say::TimesRound
        | Say::Told => return None,
    })
}
