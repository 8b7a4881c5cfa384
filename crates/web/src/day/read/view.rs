//! The reading beside the text, line by line, and what it adds up to.

use chrono::NaiveDate;
use lantern_core::intent::named_intent;
use lantern_core::movement::{Catalogue, Unit};
use lantern_core::pacing::Model;
use lantern_core::read::complete::{Clause, ways};
use lantern_core::read::corrections::Correction;
use lantern_core::read::report::{Choice, Question};
use lantern_core::read::{Gloss, LineRole as Role, Reading};
use lantern_core::session::{Part, PartKind, Problem, Severity, Total, pattern_totals, per_round, totals};
use lantern_core::units::plain;
use lantern_core::week;

/// Everything right of the text.
pub(crate) struct ReadingView {
    pub rows: Vec<Row>,
    pub parts: Vec<PartView>,
    pub questions: Vec<QuestionView>,
    pub problems: Vec<ProblemView>,
    pub assumed: Vec<String>,
    /// What has been put right: its name and what it says.
    pub corrected: Vec<(String, String)>,
    /// The same as JSON, for the form.
    pub corrections: String,
    /// The days of a text that holds several.
    pub days: Vec<DayView>,
    /// Days that hold something else are to be replaced.
    pub replace: bool,
    /// Whether each line can be put right here; a very long text is not a day of classes.
    pub lines_can_be_put_right: bool,
    /// Ways to begin, for an empty page.
    pub ways: Vec<&'static Clause>,
}

/// A day of a text that holds several.
pub(crate) struct DayView {
    /// Its place, from 0: the name of its field.
    pub place: usize,
    pub name: String,
    /// The first and the last line.
    pub lines: (usize, usize),
    /// What it holds, in a few words.
    pub holds: String,
    /// The date that it is meant for, as far as it is known.
    pub date: String,
}

/// The dates that somebody typed beside the days of a text.
pub(crate) struct DatesTyped {
    pub dates: Vec<String>,
    pub replace: bool,
}

/// What only the coach can say, and the answers.
pub(crate) struct QuestionView {
    pub message: String,
    pub answers: Vec<AnswerView>,
}

pub(crate) struct AnswerView {
    pub words: String,
    /// What the lines would then hold, and how long they would take.
    pub more: String,
    /// The reading took this one.
    pub taken: bool,
    /// The corrections that make it so, as JSON; empty when no line can say it.
    pub value: String,
}

/// Lines up to which each can be put right on the screen.
const MOST_LINES: usize = 150;

/// One line's reading, on the baseline of the line.
pub(crate) struct Row {
    pub line: usize,
    pub class: &'static str,
    pub depth: usize,
    /// Odd and even parts are told apart by their bracket.
    pub bracket: &'static str,
    pub said: Vec<(String, bool)>,
    pub trouble: Option<String>,
    /// Words there that are nobody's name.
    pub unknown: Option<String>,
    /// What an alternative stands in for.
    pub instead_of: Option<String>,
    /// What the seam above the line can become.
    pub seam: Option<Seam>,
}

/// Where parts meet, or could.
#[derive(Clone, Copy, PartialEq, Eq)]
pub(crate) enum Seam {
    /// A part begins here, and could go on with the one above.
    Join,
    /// A part could begin here.
    Split,
}

/// What a part adds up to.
pub(crate) struct PartView {
    pub kind: &'static str,
    pub format: String,
    pub intent: Option<String>,
    /// What it adds up to rests on a question that is still open.
    pub asked: bool,
    pub volume: Vec<String>,
    pub each: Option<String>,
    pub patterns: String,
}

pub(crate) struct ProblemView {
    pub line: usize,
    pub column: usize,
    pub error: bool,
    pub message: String,
    pub suggestions: Vec<Suggestion>,
}

pub(crate) struct Suggestion {
    pub words: String,
    /// `line|column|found|suggestion`.
    pub apply: String,
}

impl ReadingView {
    /// `pasted` is the day on which the text stands.
    pub fn new(reading: &Reading, catalogue: &Catalogue, pasted: NaiveDate) -> Self {
        Self {
            days: day_views(reading, pasted),
            replace: false,
            rows: reading.lines.iter().map(|gloss| row(gloss, reading, catalogue)).collect(),
            parts: reading
                .session
                .parts
                .iter()
                .map(|part| PartView { asked: reading.is_asked_about(part), ..part_view(part, catalogue) })
                .collect(),
            questions: reading.questions.iter().map(question_view).collect(),
            // A problem that a question asks about is said once.
            problems: reading
                .problems
                .iter()
                .filter(|problem| {
                    !reading.questions.iter().any(|question| question.message == problem.message)
                })
                .map(problem_view)
                .collect(),
            corrected: reading.corrections.iter().map(|c| (c.id.clone(), c.in_words())).collect(),
            // A line that is gone may come back while somebody types: what was said of it waits in the form.
            corrections: json(&[&reading.corrections[..], &reading.dropped[..]].concat()),
            lines_can_be_put_right: reading.lines.len() <= MOST_LINES,
            ways: ways(""),
            assumed: reading.assumptions.iter().map(|a| format!("line {}: {}", a.line, a.message)).collect(),
        }
    }

    /// With the dates that somebody typed.
    pub fn with_dates(mut self, typed: Option<DatesTyped>) -> Self {
        if let Some(DatesTyped { dates, replace }) = typed {
            self.replace = replace;
            for (day, date) in self.days.iter_mut().zip(dates) {
                day.date = date;
            }
        }
        self
    }
}

fn day_views(reading: &Reading, pasted: NaiveDate) -> Vec<DayView> {
    let names: Vec<_> = reading.days.iter().map(|day| &day.name).collect();
    let dates = week::dates(&names, pasted);
    let views = reading.days.iter().zip(dates).enumerate().map(|(place, (day, date))| {
        let kinds: Vec<&str> = day.parts.iter().map(|part| part.kind.heading()).collect();
        DayView {
            place,
            name: day.name.name.clone(),
            lines: day.lines,
            holds: if kinds.is_empty() {
                "nothing to do".to_owned()
            } else {
                kinds.join(", ").to_lowercase()
            },
            date: date.map_or(String::new(), |date| date.to_string()),
        }
    });
    views.collect()
}

fn row(gloss: &Gloss, reading: &Reading, catalogue: &Catalogue) -> Row {
    let alternatives = reading.session.parts.iter().flat_map(|part| &part.alternatives);
    let replaced = alternatives
        .filter(|alternative| alternative.line == gloss.line)
        .find_map(|alternative| alternative.replaces.as_ref());
    let trouble =
        reading.problems.iter().find(|problem| problem.line == gloss.line && gloss.role == Role::Problem);
    Row {
        line: gloss.line,
        class: match gloss.role {
            Role::Blank if set_apart(gloss.line, reading).is_some() => "apart",
            Role::Blank => "blank",
            Role::Title => "title",
            Role::Heading => "heading",
            Role::Structure => "structure",
            Role::Work => "work",
            Role::Note => "note",
            Role::Alternative => "alternative",
            Role::Problem => "trouble",
        },
        depth: gloss.depth,
        bracket: match gloss.part {
            None => "none",
            Some(n) if n % 2 == 0 => "even",
            Some(_) => "odd",
        },
        said: match set_apart(gloss.line, reading) {
            Some(words) => vec![(words, false)],
            None => gloss.said.iter().map(|said| (said.text.clone(), said.work)).collect(),
        },
        seam: seam(gloss, reading),
        instead_of: replaced.map(|id| catalogue.name(id).to_lowercase()),
        trouble: trouble.map(|problem| problem.message.clone()),
        unknown: reading
            .problems
            .iter()
            .find(|problem| problem.line == gloss.line && !problem.found.is_empty())
            .map(|problem| problem.found.clone()),
    }
}

/// What the seam above a line can become by one click.
fn seam(gloss: &Gloss, reading: &Reading) -> Option<Seam> {
    let place = gloss.part?;
    let first = reading.session.parts[place].lines.0;
    match gloss.role {
        Role::Blank | Role::Title => None,
        _ if gloss.line > first => Some(Seam::Split),
        _ => (place > 0).then_some(Seam::Join),
    }
}

/// What begins at a line that is not of the class's day.
fn set_apart(line: usize, reading: &Reading) -> Option<String> {
    let day = reading.days.iter().skip(1).any(|day| day.lines.0 == line);
    let track = reading.tracks.iter().find(|track| track.lines.0 == line);
    match (day, track) {
        (true, _) => Some("a day of its own".to_owned()),
        (_, Some(track)) => Some(format!("another track, {}, to line {}", track.name, track.lines.1)),
        _ => None,
    }
}

fn part_view(part: &Part, catalogue: &Catalogue) -> PartView {
    let all = totals(&part.tree);
    let round = per_round(&part.tree);
    let fixed = all.iter().filter(|total| !total.open && total.amount > 0.0);
    let each = (!round.is_empty() && all.iter().any(|total| total.open)).then(|| {
        let amounts: Vec<String> =
            round.iter().filter(|t| t.amount > 0.0).map(|total| amount(total, catalogue)).collect();
        format!("each round: {}", amounts.join(", "))
    });
    let patterns: Vec<String> = pattern_totals(&part.tree, catalogue)
        .into_iter()
        .map(|((pattern, unit), sum)| format!("{} {}{}", pattern.name(), plain(sum), unit.short()))
        .collect();
    let intent = (part.kind == PartKind::Conditioning).then(|| {
        let intent = named_intent(part, catalogue, Model::standard());
        let limiter = intent.limiter.map_or(String::new(), |what| format!("; {what} will limit it"));
        format!("{}{limiter}", intent.words())
    });
    PartView {
        kind: part.kind.heading(),
        format: part.format.map_or(String::new(), |format| format.name().to_owned()),
        intent,
        asked: false,
        volume: fixed.map(|total| amount(total, catalogue)).collect(),
        each: each.filter(|text| text.len() > "each round: ".len()),
        patterns: patterns.join(" · "),
    }
}

fn amount(total: &Total, catalogue: &Catalogue) -> String {
    let name = catalogue.name(&total.movement).to_lowercase();
    let unit = if total.unit == Unit::Reps { "" } else { total.unit.short() };
    format!("{}{unit} {name}", plain(total.amount))
}

fn json(corrections: &[Correction]) -> String {
    serde_json::to_string(corrections).unwrap_or_default()
}

fn question_view(question: &Question) -> QuestionView {
    let answer = |(n, choice): (usize, &Choice)| {
        let minutes = choice.minutes.map(|minutes| format!("{minutes} min"));
        let volume = Some(choice.volume.clone()).filter(|volume| !volume.is_empty());
        AnswerView {
            words: choice.effect.clone(),
            more: volume.into_iter().chain(minutes).collect::<Vec<_>>().join(" · "),
            taken: n == question.chosen,
            value: if choice.corrections.is_empty() { String::new() } else { json(&choice.corrections) },
        }
    };
    QuestionView {
        message: question.message.clone(),
        answers: question.options.iter().enumerate().map(answer).collect(),
    }
}

fn problem_view(problem: &Problem) -> ProblemView {
    let suggestions = if problem.found.is_empty() { &[][..] } else { &problem.did_you_mean[..] };
    ProblemView {
        line: problem.line,
        column: problem.column,
        error: problem.severity == Severity::Error,
        message: problem.message.clone(),
        suggestions: suggestions
            .iter()
            .map(|words| Suggestion {
                apply: format!("{}|{}|{}|{words}", problem.line, problem.column, problem.found),
                words: words.clone(),
            })
            .collect(),
    }
}
