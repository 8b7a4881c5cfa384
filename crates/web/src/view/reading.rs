//! The reading beside the text, line by line, and what it adds up to.

use lantern_core::intent::named_intent;
use lantern_core::movement::{Catalogue, Unit};
use lantern_core::pacing::Model;
use lantern_core::read::{Gloss, LineRole as Role, Reading};
use lantern_core::session::{Part, PartKind, Problem, Severity, Total, pattern_totals, per_round, totals};
use lantern_core::units::plain;

/// Everything right of the text.
pub(crate) struct ReadingView {
    pub rows: Vec<Row>,
    pub parts: Vec<PartView>,
    pub problems: Vec<ProblemView>,
    pub assumed: Vec<String>,
}

/// One line's reading, on the baseline of the line.
pub(crate) struct Row {
    pub line: usize,
    pub class: &'static str,
    pub depth: usize,
    /// Odd and even parts are told apart by their bracket.
    pub bracket: &'static str,
    pub said: Vec<(String, bool)>,
    pub trouble: Option<String>,
    /// What an alternative stands in for.
    pub instead_of: Option<String>,
}

/// What a part adds up to.
pub(crate) struct PartView {
    pub kind: &'static str,
    pub format: String,
    pub intent: Option<String>,
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
    pub fn new(reading: &Reading, catalogue: &Catalogue) -> Self {
        Self {
            rows: reading.lines.iter().map(|gloss| row(gloss, reading, catalogue)).collect(),
            parts: reading.session.parts.iter().map(|part| part_view(part, catalogue)).collect(),
            problems: reading.problems.iter().map(problem_view).collect(),
            assumed: reading.assumptions.iter().map(|a| format!("line {}: {}", a.line, a.message)).collect(),
        }
    }
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
        said: gloss.said.iter().map(|said| (said.text.clone(), said.work)).collect(),
        instead_of: replaced.map(|id| catalogue.name(id).to_lowercase()),
        trouble: trouble.map(|problem| problem.message.clone()),
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
