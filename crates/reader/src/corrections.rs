//! What a coach has put right: constraints on how a text is read, kept with its lines.
//!
//! A correction names its place by the words that stood there, so that it moves with them when other lines change; one whose words are gone is
//! dropped, and the reading says so. The order in which corrections were made never matters.

use lantern_session::movement::Catalogue;
use lantern_session::{PartKind, Problem};
use serde::{Deserialize, Serialize};

use crate::say::Say;
use crate::unit::{Cut, Reading, Role, Said, Unit, units};
use crate::weights::Weights;

/// Most corrections of one text.
pub const MOST_CORRECTIONS: usize = 60;

/// Something that a coach has put right.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(default)]
pub struct Correction {
    /// Names it, so that it can be undone singly; made from what it says when none is given.
    pub id: String,
    /// The first line that it is about, counted from 1.
    pub line: usize,
    /// The last; 0 for the same.
    pub last_line: usize,
    /// What stood there: the whole first line, or the words that are read as others.
    pub words: String,
    /// What was put right.
    pub kind: CorrectionKind,
    /// What it is instead, where its kind needs that: the kind of a heading, the side that a line belongs to, a track's name, how a part is run in plain
    /// words, other words.
    pub value: String,
}

/// What a correction puts right.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum CorrectionKind {
    /// The lines are talk.
    #[default]
    Note,
    /// The line is a heading; the value is the kind of part.
    Heading,
    /// The line is work of the part `above` or `below`.
    Belongs,
    /// The lines may be done instead.
    Substitute,
    /// The lines are another track of the day.
    Track,
    /// A part begins with the line.
    Split,
    /// The line goes on with the part before.
    Join,
    /// The part of these lines is run as the value says.
    Part,
    /// The words are read as the value.
    Word,
}

impl CorrectionKind {
    /// Kinds that answer the same question about a line: what it is, whether a part begins there, how its part is run.
    fn question(self) -> u8 {
        match self {
            Self::Note | Self::Heading | Self::Belongs | Self::Substitute | Self::Track => 0,
            Self::Split | Self::Join => 1,
            Self::Part => 2,
            Self::Word => 3,
        }
    }
}

/// Corrections with some more: what is said of a line now takes the place of what was said of it before on the same question.
pub fn with(mut corrections: Vec<Correction>, new: Vec<Correction>) -> Vec<Correction> {
    let answers_again = |old: &Correction, new: &Correction| {
        old.line == new.line
            && old.kind.question() == new.kind.question()
            && (old.kind != CorrectionKind::Word || old.words == new.words)
    };
    corrections.retain(|old| !new.iter().any(|new| answers_again(old, new)));
    corrections.extend(new);
    corrections
}

impl CorrectionKind {
    /// Whether it can teach how a gym writes; the others are about one text.
    pub fn comes_again(self) -> bool {
        match self {
            Self::Note | Self::Heading | Self::Substitute | Self::Split | Self::Word => true,
            Self::Belongs | Self::Track | Self::Join | Self::Part => false,
        }
    }
}

impl Correction {
    /// A correction of a line.
    pub fn of_line(kind: CorrectionKind, line: usize, words: &str, value: &str) -> Self {
        let mut made = Self {
            id: String::new(),
            line,
            last_line: line,
            words: words.trim().to_owned(),
            kind,
            value: value.to_owned(),
        };
        made.id = made.name();
        made
    }

    /// What was put right, in words: "line 7 is a note".
    pub fn in_words(&self) -> String {
        let Self { line, last_line, words, value, .. } = self;
        let lines =
            if last_line > line { format!("lines {line}-{last_line}") } else { format!("line {line}") };
        match self.kind {
            CorrectionKind::Note => format!("{lines}: a note"),
            CorrectionKind::Heading => format!("{lines}: heads {value}"),
            CorrectionKind::Belongs => format!("{lines}: belongs to the part {value}"),
            CorrectionKind::Substitute => format!("{lines}: may be done instead"),
            CorrectionKind::Track => format!("{lines}: another track, {value}"),
            CorrectionKind::Split => format!("{lines}: a part begins here"),
            CorrectionKind::Join => format!("{lines}: goes on with the part above"),
            CorrectionKind::Part => format!("{lines}: run as {value}"),
            CorrectionKind::Word => format!("{lines}: `{words}` reads as `{value}`"),
        }
    }

    /// A name made from what it says: the same for the same correction.
    fn name(&self) -> String {
        let said = format!("{:?}|{}|{}", self.kind, self.words, self.value);
        // FNV-1a, 32 bit: short, and the same on every machine.
        let hash = said
            .bytes()
            .fold(0x811c_9dc5_u32, |hash, byte| (hash ^ u32::from(byte)).wrapping_mul(0x0100_0193));
        format!("{hash:08x}-{}", self.line)
    }

    /// The correction at its place in a text; none when its words are gone.
    fn placed(&self, lines: &[&str]) -> Option<Self> {
        let span = self.last_line.max(self.line) - self.line;
        let fits = |line: &str| match self.kind {
            CorrectionKind::Word => line.contains(self.words.as_str()),
            _ => line.trim() == self.words,
        };
        let line = if self.words.trim().is_empty() {
            (1..=lines.len()).contains(&self.line).then_some(self.line)?
        } else {
            let places = lines.iter().enumerate().filter(|(_, line)| fits(line)).map(|(n, _)| n + 1);
            places.min_by_key(|n| n.abs_diff(self.line))?
        };
        let mut placed = Self { line, last_line: (line + span).min(lines.len()), ..self.clone() };
        if placed.id.is_empty() {
            placed.id = self.name();
        }
        Some(placed)
    }
}

/// What stands of some corrections in a text, and what does not.
#[derive(Default)]
pub(crate) struct Placed {
    /// Those that stand, in one order whatever theirs was.
    pub standing: Vec<Correction>,
    /// Those whose lines are gone.
    pub dropped: Vec<Correction>,
    /// A problem for each of them.
    pub problems: Vec<Problem>,
}

/// Finds the places of corrections in a text.
pub(crate) fn place(text: &str, corrections: &[Correction]) -> Placed {
    let lines: Vec<&str> = text.split('\n').collect();
    let Placed { mut standing, mut dropped, mut problems } = Placed::default();
    if let Some(first) = corrections.get(MOST_CORRECTIONS) {
        let message = format!(
            "at most {MOST_CORRECTIONS} corrections of a text are read; this and what follows are left out"
        );
        problems.push(Problem::warning(first.line.clamp(1, lines.len()), 1, message));
    }
    for correction in corrections.iter().take(MOST_CORRECTIONS) {
        match correction.placed(&lines) {
            Some(placed) => standing.push(placed),
            None => {
                let message = format!("a correction of `{}` was dropped: the line is gone", correction.words);
                problems.push(Problem::warning(correction.line.clamp(1, lines.len()), 1, message));
                dropped.push(correction.clone());
            }
        }
    }
    let key = |c: &Correction| (c.line, c.last_line, c.kind, c.words.clone(), c.value.clone());
    standing.sort_by_key(key);
    standing.dedup_by_key(|correction| key(correction));
    Placed { standing, dropped, problems }
}

/// The text with words read as others; lines stay where they are.
pub(crate) fn reworded(text: &str, corrections: &[Correction]) -> String {
    let mut lines: Vec<String> = text.split('\n').map(str::to_owned).collect();
    for correction in corrections.iter().filter(|c| c.kind == CorrectionKind::Word && !c.words.is_empty()) {
        if let Some(line) = lines.get_mut(correction.line - 1) {
            *line = line.replacen(correction.words.as_str(), &correction.value.replace('\n', " "), 1);
        }
    }
    lines.join("\n")
}

/// Makes the readings of sentences what the corrections say.
pub(crate) fn constrain(
    units: &mut [Unit],
    corrections: &[Correction],
    catalogue: &Catalogue,
    weights: &Weights,
) {
    for correction in corrections {
        let within = |unit: &Unit| (correction.line..=correction.last_line).contains(&unit.line);
        let first = units.iter().position(|unit| unit.line == correction.line && unit.starts_line);
        match correction.kind {
            CorrectionKind::Word => {}
            CorrectionKind::Note | CorrectionKind::Track => {
                for unit in units.iter_mut().filter(|unit| within(unit)) {
                    unit.heading = None;
                    unit.unknown = None;
                    unit.readings = vec![Reading::note(0.0)];
                }
            }
            CorrectionKind::Substitute => {
                for unit in units.iter_mut().filter(|unit| within(unit)) {
                    unit.heading = None;
                    as_role(unit, Role::Substitute);
                }
            }
            CorrectionKind::Heading => {
                if let Some(unit) = first.map(|at| &mut units[at])
                    && let Some(kind) = kind_of(&correction.value)
                {
                    unit.heading = Some((kind, unit.text.clone()));
                    unit.cut = Cut::Must;
                }
            }
            CorrectionKind::Split => set_cut(units, first, Cut::Must),
            CorrectionKind::Join => set_cut(units, first, Cut::Never),
            CorrectionKind::Belongs => {
                for unit in units.iter_mut().filter(|unit| within(unit)) {
                    as_role(unit, Role::Work);
                }
                if correction.value == "below" {
                    let next =
                        units.iter().position(|unit| unit.line > correction.last_line && unit.starts_line);
                    set_cut(units, first, Cut::Must);
                    set_cut(units, next, Cut::Never);
                } else {
                    set_cut(units, first, Cut::Never);
                }
            }
            CorrectionKind::Part => run_as(units, correction, catalogue, weights),
        }
    }
}

fn set_cut(units: &mut [Unit], at: Option<usize>, cut: Cut) {
    if let Some(unit) = at.and_then(|at| units.get_mut(at)) {
        unit.cut = cut;
        if cut == Cut::Never {
            unit.heading = None;
        }
    }
}

/// Only the readings in a role; a sentence that has none in it is read as work in that role.
fn as_role(unit: &mut Unit, role: Role) {
    let work =
        unit.readings.iter().find(|reading| reading.role == Role::Work && !reading.says.is_empty()).cloned();
    let fits = |reading: &Reading| reading.role == role && (!reading.says.is_empty() || role != Role::Work);
    unit.readings.retain(fits);
    if unit.readings.is_empty() {
        unit.readings.push(work.map_or(Reading { role, ..Reading::note(0.0) }, |work| Reading {
            role,
            cost: 0.0,
            ..work
        }));
    }
}

/// The kind of part that a word names, as the JSON names it.
fn kind_of(value: &str) -> Option<PartKind> {
    serde_json::from_value(value.trim().to_lowercase().into()).ok()
}

/// What is said of how a part is run, in plain words, takes the place of what its lines say on the same matter.
fn run_as(units: &mut [Unit], correction: &Correction, catalogue: &Catalogue, weights: &Weights) {
    let within = |unit: &Unit| (correction.line..=correction.last_line).contains(&unit.line);
    if let Some(kind) = kind_of(&correction.value) {
        if let Some(unit) = units.iter_mut().find(|unit| within(unit)) {
            unit.heading =
                Some((kind, unit.heading.as_ref().map_or(String::new(), |(_, text)| text.clone())));
            unit.cut = Cut::Must;
        }
        return;
    }
    let said: Vec<Say> = self::units(&correction.value, catalogue, weights)
        .into_iter()
        .filter_map(|unit| unit.readings.into_iter().find(|reading| reading.role == Role::Work))
        .flat_map(|reading| reading.says)
        .map(|said| said.say)
        .filter(|say| !matches!(say, Say::Item(_)))
        .collect();
    if said.is_empty() {
        return;
    }
    for unit in units.iter_mut().filter(|unit| within(unit)) {
        for reading in &mut unit.readings {
            reading.says.retain(|old| !said.iter().any(|new| same_matter(&old.say, new)));
        }
    }
    if let Some(unit) = units.iter_mut().find(|unit| within(unit)) {
        for reading in &mut unit.readings {
            let own = said.iter().map(|say| Said { say: say.clone(), column: 1 });
            reading.says = own.chain(std::mem::take(&mut reading.says)).collect();
            if matches!(reading.role, Role::Note | Role::Title) {
                reading.role = Role::Work;
            }
        }
    }
}

/// Whether two things that are said answer the same question: how a piece is run, its rounds, its limit.
fn same_matter(a: &Say, b: &Say) -> bool {
    let clock =
        |say: &Say| crate::day::is_clock(say) || matches!(say, Say::Length(_) | Say::Clock(_) | Say::Quality);
    let rounds = |say: &Say| matches!(say, Say::Rounds(_) | Say::Scheme { .. } | Say::Sets(_));
    clock(a) && clock(b)
        || rounds(a) && (rounds(b) || clock(b) && matches!(b, Say::Amrap(_)))
        || std::mem::discriminant(a) == std::mem::discriminant(b)
}
