//! The wall board: big, dark, few words.

use actix_web::{HttpRequest, HttpResponse, get, web};
use askama::Template;
use lantern_core::movement::Catalogue;
use lantern_core::plan::{PiecePlan, StrengthPlan};
use lantern_core::print::{part_text, rest_text};
use lantern_core::session::{Part, works};
use lantern_core::units::clock_s;
use lantern_core::versions::VersionName;
use lantern_store::name_shown::NameShown;

use crate::day::planned::{Planned, plan_page};
use crate::day::slot_of;
use crate::request::slot::Slot;
use crate::request::tenant::Tenant;
use crate::respond::error::AppError;
use crate::respond::filters;
use lantern_core::print::bare_lines;

#[derive(Template)]
#[template(path = "day/handouts/board.html")]
struct BoardPage {
    day: Slot,
    day_name: String,
    board: Board,
}

/// The board itself: a page of its own, or on a wall before a class.
#[derive(Template)]
#[template(path = "day/handouts/board_body.html")]
pub(crate) struct Board {
    gym: String,
    day_name: String,
    lifts: Vec<BoardLift>,
    pieces: Vec<BoardPiece>,
}

struct BoardLift {
    name: String,
    sets: String,
}

struct BoardPiece {
    title: String,
    window: String,
    floor: String,
    columns: Vec<BoardColumn>,
    /// Somebody has something of their own; who it is, is nobody else's business.
    own: bool,
    /// Somebody does a version with numbers of their own.
    starred: bool,
    /// Somebody has done it before.
    seen: bool,
    /// What the text says for who lacks something.
    notes: Vec<String>,
    /// The rest that leads to what comes next.
    then: Option<String>,
    /// Few lines are written larger.
    few: bool,
}

struct BoardColumn {
    flame: u8,
    name: &'static str,
    about: String,
    lines: Vec<String>,
    people: Vec<BoardName>,
}

/// Somebody under their version.
struct BoardName {
    /// What the wall shows of the name, with a star where they have numbers of their own.
    name: String,
    /// What they did of the same piece in the same version the last time.
    last: Option<String>,
}

/// `GET /days/{day}/board`: for the wall screen and for paper.
#[get("/days/{day}/board")]
pub(crate) async fn wall_board(
    request: HttpRequest,
    tenant: Tenant,
    path: web::Path<String>,
) -> Result<HttpResponse, AppError> {
    let day = slot_of(&path)?;
    plan_page(&tenant, &request, day, move |planned| BoardPage {
        day,
        day_name: day.name(planned.gym.clock),
        board: board(planned, day),
    })
    .await
}

/// The board of a day or class.
pub(crate) fn board(planned: &Planned, day: Slot) -> Board {
    let Planned { gym, catalogue, plan, people, shown, .. } = planned;
    Board {
        gym: gym.name.clone(),
        day_name: day.name(gym.clock),
        lifts: plan.strength.iter().map(|lift| board_lift(lift, catalogue)).collect(),
        pieces: plan
            .pieces
            .iter()
            .zip(&plan.floors)
            .map(|(piece, floor)| {
                let part = piece.written();
                let differs: Vec<bool> = (0..piece.members.len())
                    .map(|n| !piece.own_lines(n, &people[n], gym, catalogue).is_empty())
                    .collect();
                let title = title(part, catalogue);
                let columns = columns(planned, piece, &title, &differs);
                let names = || columns.iter().flat_map(|column| &column.people);
                let cap = part.cap_s.map_or(String::new(), |cap| format!(", cap {}", clock_s(cap)));
                let own = piece.members.iter().any(|m| !ON_THE_WALL.contains(&m.chosen().version))
                    || shown.contains(&NameShown::Hidden);
                BoardPiece {
                    title,
                    window: format!("aim {}{cap}", piece.window.show()),
                    own,
                    starred: names().any(|person| person.name.ends_with('*')),
                    seen: names().any(|person| person.last.is_some()),
                    notes: part.alternatives.iter().map(|other| other.text.clone()).collect(),
                    then: rest_text(part),
                    few: columns.iter().all(|column| column.lines.len() <= FEW_LINES),
                    floor: if floor.floor.is_staggered() { floor.floor.sentence() } else { String::new() },
                    columns,
                }
            })
            .collect(),
    }
}

fn board_lift(lift: &StrengthPlan, catalogue: &Catalogue) -> BoardLift {
    let text = part_text(&lift.prescription, catalogue);
    let name = works(&lift.prescription.tree)
        .first()
        .map_or("Strength".to_owned(), |work| catalogue.name(&work.movement).to_owned());
    let lines = text.lines().skip(1).filter(|line| !line.is_empty()).map(str::to_owned);
    let sets = lines.chain(rest_text(&lift.prescription)).collect::<Vec<_>>().join(" · ");
    BoardLift { name, sets }
}

/// Versions on the wall. What spares somebody or is done at home stands on their own card only.
const ON_THE_WALL: [VersionName; 4] =
    [VersionName::AsWritten, VersionName::Lighter, VersionName::Simpler, VersionName::FirstLight];
/// Lines that a piece may have to be written larger.
const FEW_LINES: usize = 5;

/// The first line of a part's text below its heading.
fn title(part: &Part, catalogue: &Catalogue) -> String {
    let text = part_text(part, catalogue);
    text.lines().filter(|line| !line.is_empty()).nth(1).unwrap_or("Conditioning").to_owned()
}

/// The lines of a version below the title, which is not said again; one that is run in another way says so.
fn below(title: &str, mut lines: Vec<String>) -> Vec<String> {
    if lines.len() > 1 && lines[0] == title {
        lines.remove(0);
    }
    lines
}

/// As written, and the versions that somebody does; `differs` says who of the class has numbers of their own.
fn columns(planned: &Planned, piece: &PiecePlan, title: &str, differs: &[bool]) -> Vec<BoardColumn> {
    let Planned { catalogue, shown, decisions, .. } = planned;
    let here = &decisions.here;
    let doing = |name| {
        let all = piece.members.iter().enumerate().zip(differs.iter().zip(shown));
        all.filter(move |((_, member), _)| member.chosen().version == name && here.has(&member.name))
    };
    let used = piece.versions.iter().filter(|version| ON_THE_WALL.contains(&version.name));
    used.filter(|version| version.name == VersionName::AsWritten || doing(version.name).next().is_some())
        .map(|version| BoardColumn {
            flame: version.name as u8,
            name: version.name.label(),
            about: version.about.clone(),
            lines: below(title, bare_lines(&version.part, &version.part.tree, catalogue))
                .into_iter()
                .chain(version.aim(&piece.window, catalogue))
                .collect(),
            people: doing(version.name)
                .filter_map(|((n, member), (differs, shown))| {
                    let everybody = piece.members.iter().map(|member| member.name.as_str());
                    let name = on_the_wall(&member.name, *shown, everybody)?;
                    let name = format!("{name}{}", if *differs { "*" } else { "" });
                    Some(BoardName { name, last: before(planned, piece, n) })
                })
                .collect(),
        })
        .collect()
}

/// What somebody did of a piece the last time, where it was the same version with the same numbers: nothing else compares at a glance.
fn before(planned: &Planned, piece: &PiecePlan, n: usize) -> Option<String> {
    let (id, member) = (planned.ids.get(n)?, piece.members.get(n)?);
    let mut of_part = planned.last.iter().filter(|last| last.place == piece.part && last.member == *id);
    let last = of_part.find(|last| last.word_for_word && last.what.version == member.chosen().version)?;
    Some(last.what.done.to_string())
}

/// What the wall shows of a name, among everybody's; none where it shows nothing.
pub(crate) fn on_the_wall<'a>(
    name: &str,
    shown: NameShown,
    everybody: impl Iterator<Item = &'a str>,
) -> Option<String> {
    match shown {
        NameShown::Full => Some(name.to_owned()),
        NameShown::First => Some(first_name(name, everybody)),
        NameShown::Initials => {
            let letters = name.split_whitespace().filter_map(|word| word.chars().next());
            Some(letters.map(|letter| format!("{letter}.")).collect())
        }
        NameShown::Hidden => None,
    }
}

/// The first name, with a letter of the family name where two share it.
fn first_name<'a>(name: &str, everybody: impl Iterator<Item = &'a str>) -> String {
    let (first, rest) = name.split_once(' ').unwrap_or((name, ""));
    let shared = everybody.filter(|other| other.split(' ').next() == Some(first)).count() > 1;
    match rest.chars().next() {
        Some(letter) if shared => format!("{first} {letter}."),
        _ => first.to_owned(),
    }
}

#[cfg(test)]
mod tests {
    use super::below;

    #[test]
    fn a_title_is_not_said_again_in_every_column() {
        let lines = |text: &str| text.lines().map(str::to_owned).collect::<Vec<_>>();
        assert_eq!(below("AMRAP 12:00", lines("AMRAP 12:00\n10 burpee")), ["10 burpee"]);
        assert_eq!(below("5 rounds", lines("4 rounds\n10 burpee")), ["4 rounds", "10 burpee"]);
        assert_eq!(below("row", lines("row")), ["row"], "the only line stays");
    }
}
