//! The floor of a piece as the Hour page shows it: stations against what is there, heats, teams, and the sketch.

use lantern_core::floor::{Arrangement, FloorPlan, Sketch, Start, Station, StationUse};
use lantern_core::movement::Catalogue;
use lantern_core::plan::{PieceFloor, PiecePlan};
use lantern_core::units::{clock, plain};

use crate::planning::plans::Planned;

/// One piece's floor.
pub(crate) struct FloorView {
    pub place: usize,
    pub sentence: String,
    pub notices: Vec<String>,
    pub stations: Vec<StationRow>,
    pub minutes: u32,
    pub ways: Vec<Way>,
    pub by_coach: bool,
    pub heats: Vec<Heat>,
    pub teams: Vec<TeamView>,
    pub team_size: u32,
    /// How the work is shared; none where everybody does all of it.
    pub way: Option<String>,
    /// People alike are teamed up, on the coach's wish.
    pub alike: bool,
    pub wishes: Vec<Wish>,
    pub sketch: SketchView,
    pub names: Vec<String>,
}

pub(crate) struct StationRow {
    pub name: String,
    pub there: u32,
    pub together: u32,
    pub arranged: u32,
    pub short: bool,
    pub bars: Vec<MinuteBar>,
    pub told: String,
}

/// Use within a minute, in a box 240 wide and 24 high.
pub(crate) struct MinuteBar {
    pub x: f64,
    pub y: f64,
    pub width: f64,
    pub height: f64,
    pub full: bool,
}

pub(crate) struct Way {
    pub key: String,
    pub label: &'static str,
    pub ends: String,
    /// What it comes to for whom.
    pub cost: String,
    pub chosen: bool,
}

pub(crate) struct Heat {
    pub label: String,
    pub people: Vec<String>,
}

pub(crate) struct TeamView {
    pub label: String,
    pub names: String,
    /// What is predicted of the team, or where the piece is not shared the mean of its members.
    pub mean: String,
    /// Which uneven shares would be better, and how much.
    pub better: Option<String>,
}

/// A wish about two people, as it is sent back to be dropped.
pub(crate) struct Wish {
    pub words: String,
    pub together: bool,
    pub pair: (String, String),
}

pub(crate) struct SketchView {
    pub view_box: String,
    pub depth: f64,
    pub fixtures: Vec<FixtureView>,
    pub places: Vec<PlaceView>,
    pub moved: bool,
    pub told: String,
}

pub(crate) struct FixtureView {
    pub name: String,
    pub x: f64,
    pub y: f64,
    pub width: f64,
    pub height: f64,
    /// Middle of the words, turned where the fixture is narrow.
    pub text: String,
}

pub(crate) struct PlaceView {
    pub name: String,
    pub x: f64,
    pub y: f64,
    pub width: f64,
    pub height: f64,
    pub label: String,
    pub under: String,
    pub bar: bool,
    pub tight: bool,
    pub heat: usize,
    /// Everybody who has it in turn.
    pub told: String,
}

/// Pixels a metre in the drawing's own units.
const SCALE: f64 = 50.0;
/// Letters that a place two metres wide holds.
const LETTERS_A_METRE: f64 = 4.2;
const BARS_WIDTH: f64 = 240.0;
const BARS_HEIGHT: f64 = 24.0;

impl FloorView {
    pub fn new(planned: &Planned, n: usize) -> Option<Self> {
        let plan = &planned.plan;
        let (piece, floor) = (plan.pieces.get(n)?, plan.floors.get(n)?);
        let edits = planned.decisions.hour.floor(n);
        let FloorPlan { stations, ends_s, unplaced, proof, tried, .. } = &floor.floor;
        let wish = |together: bool, pairs: &[(String, String)]| -> Vec<Wish> {
            let words = |(a, b): &(String, String)| {
                if together { format!("{a} with {b}") } else { format!("{a} not with {b}") }
            };
            pairs.iter().map(|pair| Wish { words: words(pair), together, pair: pair.clone() }).collect()
        };
        let refused = floor.floor.refused().map(|way| {
            format!("{}: not possible, a station is short that way. It stands as below.", way.label())
        });
        let mut wishes = wish(true, &edits.teams.together);
        wishes.extend(wish(false, &edits.teams.apart));
        Some(Self {
            place: n,
            sentence: floor.floor.sentence(),
            notices: refused.into_iter().chain(unplaced.iter().chain(proof).cloned()).collect(),
            stations: stations
                .iter()
                .filter(|used| is_worth_a_row(used))
                .map(|used| station(used, *ends_s))
                .collect(),
            minutes: (ends_s / 60.0).ceil() as u32,
            ways: Arrangement::ALL
                .into_iter()
                .map(|way| {
                    let known = tried.iter().find(|known| known.arrangement == way);
                    let ends =
                        known.map(|known| known.ends_s.map(|ends| format!("ends after {}", clock(ends))));
                    Way {
                        key: format!("{way:?}"),
                        label: way.label(),
                        ends: ends
                            .map_or(String::new(), |ends| ends.unwrap_or("a station is short".to_owned())),
                        cost: known.map_or(String::new(), |known| known.cost.clone()),
                        chosen: way == floor.floor.arrangement,
                    }
                })
                .collect(),
            by_coach: floor.floor.asked.is_some(),
            heats: heats(&floor.floor, &planned.catalogue),
            teams: teams(piece, floor),
            way: piece.teams.first().map(lantern_core::plan::TeamPlan::way_name),
            alike: edits.teams.alike,
            team_size: edits.teams.size.unwrap_or(piece.written().team_size),
            wishes,
            names: piece.members.iter().map(|member| member.name.clone()).collect(),
            sketch: SketchView::new(&floor.sketch, piece, &floor.floor, &planned.catalogue),
        })
    }
}

/// The way of a key that a button has sent.
pub(crate) fn way_named(key: &str) -> Option<Arrangement> {
    Arrangement::ALL.into_iter().find(|way| format!("{way:?}") == key)
}

/// Plates are many and seldom short: they have a row when half of them are out.
fn is_worth_a_row(used: &StationUse) -> bool {
    !matches!(used.station, Station::Plates(_)) || used.together * 2 >= used.there
}

fn station(used: &StationUse, ends_s: f64) -> StationRow {
    let minutes = used.minutes.len().max(1) as f64;
    let width = BARS_WIDTH / minutes;
    let most = f64::from(used.there.max(used.arranged).max(1));
    let bars = used.minutes.iter().enumerate().filter(|(_, count)| **count > 0).map(|(n, count)| {
        let height = f64::from(*count) / most * BARS_HEIGHT;
        MinuteBar {
            x: n as f64 * width,
            y: BARS_HEIGHT - height,
            width: (width - 1.0).max(0.5),
            height,
            full: *count >= used.there,
        }
    });
    StationRow {
        name: used.station.name(2),
        there: used.there,
        together: used.together,
        arranged: used.arranged,
        short: used.is_short(),
        told: format!(
            "{}: {} there; {} at once when all start together, {} as arranged, over {}",
            used.station.name(2),
            used.there,
            used.together,
            used.arranged,
            clock(ends_s)
        ),
        bars: bars.collect(),
    }
}

fn begins(start: &Start, catalogue: &Catalogue) -> String {
    let name = |id| catalogue.name(id).to_lowercase();
    let mut words = start.name.clone();
    if let Some(first) = &start.begins_with {
        words.push_str(&format!(", begins with {}", name(first)));
    }
    if let Some(instead) = &start.instead {
        words.push_str(&format!(", {instead}"));
    }
    if let Some(partner) = &start.shares_with {
        words.push_str(&format!(", shares with {partner}"));
    }
    if start.waits_s > 0 {
        words.push_str(&format!(", waits about {} in all", clock(f64::from(start.waits_s))));
    }
    words
}

fn heats(floor: &FloorPlan, catalogue: &Catalogue) -> Vec<Heat> {
    let heats = floor.heats();
    let many = heats.len() > 1;
    let special = |start: &Start| {
        start.begins_with.is_some()
            || start.instead.is_some()
            || start.shares_with.is_some()
            || start.waits_s > 0
    };
    // In one start only those who do something else are named.
    let named = |n: &&usize| many || special(&floor.starts[**n]);
    let told = |people: &[usize]| -> Vec<String> {
        people.iter().filter(named).map(|n| begins(&floor.starts[*n], catalogue)).collect()
    };
    let label = |n: usize, offset| {
        let waits = floor.starts.iter().any(|start| start.waits_s > 0);
        match (many, waits) {
            (true, _) => floor.start_label(n, offset),
            (false, true) => "With something else, or waiting".to_owned(),
            (false, false) => "With something else".to_owned(),
        }
    };
    if !many && !floor.starts.iter().any(special) {
        return Vec::new();
    }
    heats
        .iter()
        .enumerate()
        .map(|(n, (offset, people))| Heat { label: label(n, *offset), people: told(people) })
        .collect()
}

fn teams(piece: &PiecePlan, floor: &PieceFloor) -> Vec<TeamView> {
    let measure = piece.window.measure;
    let view = |(n, team): (usize, &lantern_core::floor::Team)| TeamView {
        label: format!("Team {}", n + 1),
        names: team.members.iter().map(|n| piece.members[*n].name.as_str()).collect::<Vec<_>>().join(", "),
        mean: piece
            .teams
            .get(n)
            .map_or_else(|| measure.show(team.mean), |planned| planned.even.predicted.said()),
        better: piece.teams.get(n).and_then(lantern_core::plan::TeamPlan::told),
    };
    floor.teams.iter().enumerate().map(view).collect()
}

impl SketchView {
    fn new(drawn: &Sketch, piece: &PiecePlan, floor: &FloorPlan, catalogue: &Catalogue) -> Self {
        let up = |y: f64| (drawn.depth - y) * SCALE;
        let heats = floor.heats();
        let heat_of = |n: usize| heats.iter().position(|(_, people)| people.contains(&n)).unwrap_or(0);
        let fixtures = drawn.fixtures.iter().map(|fixture| {
            let (x, y) = (fixture.x * SCALE, up(fixture.y + fixture.depth));
            let (width, height) = (fixture.width * SCALE, fixture.depth * SCALE);
            let (middle_x, middle_y) = (x + width / 2.0, y + height / 2.0);
            let turn =
                if height > width { format!(" rotate(90 {middle_x} {middle_y})") } else { String::new() };
            let text = format!("translate(0 6){turn}");
            FixtureView { name: fixture.name.clone(), x, y, width, height, text }
        });
        let places = drawn.places.iter().map(|place| {
            let letters = (place.width * LETTERS_A_METRE) as usize;
            let first = place.who[0];
            let load = lantern_core::session::works(&piece.members[first].chosen().tree)
                .into_iter()
                .filter_map(|work| work.load.filter(|load| load.weight().is_some()))
                .max_by_key(|load| load.weight());
            let begins = floor.starts.get(first).and_then(|start| start.begins_with.as_ref());
            let under = match (place.who.get(1), begins, load) {
                (Some(next), ..) => format!("then {}", short(&piece.members[*next].name, letters)),
                (None, Some(begins), _) => format!("from {}", catalogue.name(begins).to_lowercase()),
                (None, None, Some(load)) => load.to_string(),
                (None, None, None) => String::new(),
            };
            let told =
                place.who.iter().map(|n| piece.members[*n].name.as_str()).collect::<Vec<_>>().join(", then ");
            PlaceView {
                name: place.name.clone(),
                x: place.x * SCALE,
                y: up(place.y),
                width: place.width * SCALE - 10.0,
                height: place.depth * SCALE - 10.0,
                label: short(&place.name, letters),
                under: under.chars().take(letters + 2).collect(),
                bar: place.bar,
                tight: place.tight,
                heat: heat_of(first),
                told,
            }
        });
        let told = if drawn.room_for >= drawn.places.len() {
            format!(
                "Room for {} with a walkway between the rows; the floor is {} by {} m.",
                drawn.room_for,
                plain(drawn.width),
                plain(drawn.depth)
            )
        } else {
            format!(
                "Room for {} with a walkway between the rows; {} at once stand closer together. Heats further apart give everybody room.",
                drawn.room_for,
                drawn.places.len()
            )
        };
        Self {
            view_box: format!("0 0 {} {}", drawn.width * SCALE, drawn.depth * SCALE),
            depth: drawn.depth,
            fixtures: fixtures.collect(),
            places: places.collect(),
            moved: drawn.places.iter().any(|place| place.moved),
            told,
        }
    }
}

/// The first name, with the first letter of the family name where there is room.
fn short(name: &str, letters: usize) -> String {
    let (first, rest) = name.split_once(' ').unwrap_or((name, ""));
    let with_letter = rest.chars().next().map_or(first.to_owned(), |letter| format!("{first} {letter}."));
    let fits = |text: &str| text.chars().count() <= letters;
    if fits(&with_letter) { with_letter } else { first.chars().take(letters).collect() }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn names_are_cut_to_the_place() {
        assert_eq!(short("Alba Quenby", 10), "Alba Q.");
        assert_eq!(short("Alba Quenby", 5), "Alba");
        assert_eq!(short("Maximiliane", 5), "Maxim");
    }

    #[test]
    fn minute_bars_stay_in_their_box_and_full_minutes_are_marked() {
        let used = StationUse {
            station: lantern_core::floor::Station::Rower,
            there: 4,
            together: 14,
            arranged: 4,
            minutes: vec![0, 2, 4, 4],
        };
        let row = station(&used, 240.0);
        assert!(row.short && row.bars.len() == 3);
        assert_eq!(row.bars.iter().map(|bar| bar.full).collect::<Vec<_>>(), [false, true, true]);
        assert!(row.bars.iter().all(|bar| bar.y >= 0.0 && bar.x + bar.width <= BARS_WIDTH));
    }
}
