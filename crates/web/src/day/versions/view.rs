//! The versions of a piece side by side, aligned line to line, and who does which.

use lantern_core::member::Member;
use lantern_core::movement::Catalogue;
use lantern_core::pacing::{Model, Verdict, Window};
use lantern_core::plan::{MemberPiece, PiecePlan};
use lantern_core::print::{part_text, work_lines};
use lantern_core::session::{Part, per_round, totals};
use lantern_core::units::plain;
use lantern_core::versions::{ClassVersion, VersionName};
use lantern_store::MemberId;

use crate::day::figures::marked;
use crate::mark::Mark;

/// A piece with its six columns and a row a member.
pub(crate) struct VersionTable {
    pub columns: Vec<VersionColumn>,
    /// One row for each line of the text: a cell a version.
    pub lines: Vec<Vec<VersionCell>>,
    pub members: Vec<MemberRow>,
}

pub(crate) struct VersionColumn {
    pub name: &'static str,
    pub flame: u8,
    pub about: String,
    pub people: usize,
    pub volume: String,
    pub expected: String,
    pub class: &'static str,
    pub word: &'static str,
}

pub(crate) struct VersionCell {
    pub text: Vec<String>,
    pub changed: bool,
    /// The version whose lines they are, as a form sends it; none for what is not written anew here.
    pub version: Option<String>,
}

/// A member with a button for each version.
pub(crate) struct MemberRow {
    pub id: MemberId,
    pub name: String,
    pub limit: Option<Mark>,
    pub buttons: Vec<VersionButton>,
    pub by_coach: bool,
    pub changes: String,
    /// The version done, as a form sends it.
    pub version: String,
    /// The lines of their own row, to be written anew.
    pub lines: Vec<String>,
    pub reason: String,
    pub class: &'static str,
    pub word: &'static str,
    pub next: Option<String>,
    /// Why the text as it stands cannot be done at all.
    pub cannot: Option<String>,
    /// What they did of it the last time.
    pub last: Option<String>,
}

pub(crate) struct VersionButton {
    /// As the form sends it.
    pub key: String,
    pub label: &'static str,
    pub flame: u8,
    pub chosen: bool,
    pub class: &'static str,
    /// What it would be like for this member.
    pub told: String,
}

impl VersionTable {
    /// `people` are the members of the piece, in the same order as their row `ids`.
    pub fn new(
        piece: &PiecePlan,
        part: &Part,
        ids: &[MemberId],
        people: &[Member],
        catalogue: &Catalogue,
        last: impl Fn(MemberId) -> Option<String>,
    ) -> Self {
        let full = body_lines(&part_text(part, catalogue));
        let written = work_lines(part, &part.tree, catalogue);
        let bodies: Vec<Vec<Vec<String>>> = piece
            .versions
            .iter()
            .map(|version| aligned(&written, &work_lines(part, &version.part.tree, catalogue)))
            .collect();
        let mut lines: Vec<Vec<VersionCell>> = (0..written.len())
            .map(|row| {
                let cell = |(body, version): (&Vec<Vec<String>>, &ClassVersion)| {
                    let text = body[row].clone();
                    let own = version.name != VersionName::AsWritten;
                    VersionCell {
                        changed: text.len() != 1 || text[0] != written[row],
                        text,
                        version: own.then(|| format!("{:?}", version.name)),
                    }
                };
                bodies.iter().zip(&piece.versions).map(cell).collect()
            })
            .collect();
        // Cap, goal, score and what stands beside the work are the piece's own: once is enough.
        lines.extend(full.iter().filter(|line| !written.contains(line)).map(|line| {
            let cell = |place| {
                let text = if place == 0 { vec![line.clone()] } else { Vec::new() };
                VersionCell { text, changed: false, version: None }
            };
            (0..piece.versions.len()).map(cell).collect()
        }));
        let columns = piece.versions.iter().map(|version| column(version, piece, catalogue)).collect();
        let members = piece
            .members
            .iter()
            .zip(ids.iter().zip(people))
            .map(|(member, (id, person))| {
                let lines = work_lines(part, &member.chosen().tree, catalogue);
                let last = last(*id);
                member_row(member, *id, person, &piece.window, (lines, last))
            })
            .collect();
        Self { columns, lines, members }
    }
}

/// Canonical text without its heading.
fn body_lines(text: &str) -> Vec<String> {
    text.lines().skip(1).filter(|line| !line.is_empty()).map(str::to_owned).collect()
}

/// The lines of a version, dealt to those of the text: a swap into two movements stands in one cell.
fn aligned(written: &[String], version: &[String]) -> Vec<Vec<String>> {
    let mut rest = version.iter().peekable();
    let mut cells = Vec::new();
    for (row, line) in written.iter().enumerate() {
        let mut cell: Vec<String> = rest.next().into_iter().cloned().collect();
        let rows_left = written.len() - row - 1;
        while cell.first().is_some_and(|first| first != line) && rest.len() > rows_left {
            cell.extend(rest.next().cloned());
        }
        cells.push(cell);
    }
    if let Some(last) = cells.last_mut() {
        last.extend(rest.cloned());
    }
    cells
}

fn column(version: &ClassVersion, piece: &PiecePlan, catalogue: &Catalogue) -> VersionColumn {
    let tree = &version.part.tree;
    let mut counted = totals(tree);
    let each = counted.iter().all(|total| total.amount <= 0.0);
    if each {
        counted = per_round(tree);
    }
    let volume: Vec<String> = counted
        .iter()
        .filter(|total| total.amount > 0.0)
        .map(|total| {
            let name = catalogue.name(&total.movement).to_lowercase();
            format!("{}{} {name}", plain(total.amount), total.unit.short())
        })
        .collect();
    let (class, word) =
        marked(Verdict::of(&version.expected, &piece.window, Model::standard()), &piece.window);
    VersionColumn {
        name: version.name.label(),
        flame: version.name as u8,
        // Which joint it spares would say whose it is.
        about: if version.name == VersionName::AroundIt { String::new() } else { version.about.clone() },
        people: piece.members.iter().filter(|member| member.chosen().version == version.name).count(),
        volume: if each { format!("a round: {}", volume.join(", ")) } else { volume.join(", ") },
        expected: match version.aim(&piece.window, catalogue) {
            Some(aim) => format!("{}, {aim}", version.expected.said()),
            None => version.expected.said(),
        },
        class,
        word,
    }
}

fn member_row(
    member: &MemberPiece,
    id: MemberId,
    person: &Member,
    window: &Window,
    (lines, last): (Vec<String>, Option<String>),
) -> MemberRow {
    let chosen = member.chosen();
    let buttons = member
        .options
        .all
        .iter()
        .enumerate()
        .map(|(place, option)| {
            let (class, word) = marked(option.verdict(window, Model::standard()), window);
            VersionButton {
                key: format!("{:?}", option.version),
                label: option.version.label(),
                flame: option.version as u8,
                chosen: place == member.options.chosen,
                class,
                told: format!(
                    "{}: {}. {word}. {}",
                    option.version.label(),
                    option.predicted.said(),
                    option.reason
                ),
            }
        })
        .collect();
    let (class, word) = marked(member.verdict(window, Model::standard()), window);
    let changes: Vec<&str> = chosen.edits.iter().map(|edit| edit.what.as_str()).collect();
    MemberRow {
        id,
        name: member.name.clone(),
        limit: Mark::of(person),
        buttons,
        by_coach: member.options.by_coach,
        changes: changes.join(", "),
        version: format!("{:?}", chosen.version),
        lines,
        reason: member.reason(),
        class,
        word,
        cannot: member.cannot.as_ref().map(|(_, why)| why.clone()),
        next: member.next().map(|next| format!("{}: {}", next.version.label(), next.reason)),
        last,
    }
}

/// The label that a form's version name stands for, if it is one.
pub(crate) fn version_named(text: &str) -> Option<VersionName> {
    VersionName::named(text)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_swap_into_two_movements_stays_in_the_line_of_the_one() {
        let lines = |text: &[&str]| text.iter().map(|line| (*line).to_owned()).collect::<Vec<_>>();
        let written = lines(&["For time", "10 ring muscle-up", "20 burpee", "cap 12:00"]);
        let version = lines(&["For time", "15 ring row", "15 push-up", "20 burpee", "cap 12:00"]);
        let cells = aligned(&written, &version);
        assert_eq!(cells[1], ["15 ring row", "15 push-up"]);
        assert_eq!((&cells[2][..], &cells[3][..]), (&lines(&["20 burpee"])[..], &lines(&["cap 12:00"])[..]));
    }
}
