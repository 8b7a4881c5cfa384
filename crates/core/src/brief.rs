//! What a coach says before a piece: what counts as a repetition, one cue a movement, and who goes where.
//!
//! Standards and cues come from `data/standards.csv`: common coaching practice, in our own words.

use std::collections::BTreeMap;
use std::sync::LazyLock;

use serde::{Deserialize, Serialize};

use crate::movement::{Catalogue, MovementId};
use crate::plan::{PieceFloor, PiecePlan};
use crate::session::{Part, works};
use crate::units::clock_s;

/// One movement as briefed.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct MovementBrief {
    /// The movement's name.
    pub name: String,
    /// What counts as a repetition.
    pub standard: String,
    /// The one thing to think of.
    pub cue: String,
}

/// What is said before a piece.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Briefing {
    /// Movements of the text, in order; those whose standard is in our data.
    pub movements: Vec<MovementBrief>,
    /// Who goes where, when, and on what.
    pub logistics: Vec<String>,
}

#[derive(Deserialize)]
struct Row {
    id: String,
    standard: String,
    cue: String,
}

static STANDARDS: LazyLock<BTreeMap<MovementId, Row>> = LazyLock::new(|| {
    let mut reader = csv::Reader::from_reader(include_str!("../../../data/standards.csv").as_bytes());
    let rows =
        reader.deserialize().map(|row: Result<Row, _>| row.expect("the shipped standards are well formed"));
    rows.map(|row| (MovementId::new(&row.id), row)).collect()
});

/// The briefing of a piece.
pub fn briefing(part: &Part, piece: &PiecePlan, floor: &PieceFloor, catalogue: &Catalogue) -> Briefing {
    let mut movements: Vec<MovementBrief> = Vec::new();
    for work in works(&part.tree) {
        let name = catalogue.name(&work.movement);
        if let Some(Row { standard, cue, .. }) = STANDARDS.get(&work.movement)
            && movements.iter().all(|known| known.name != name)
        {
            let (name, standard, cue) = (name.to_owned(), standard.clone(), cue.clone());
            movements.push(MovementBrief { name, standard, cue });
        }
    }
    let mut logistics = vec![format!("Aim for {} ({}).", piece.window.show(), piece.window.name(part))];
    if let Some(cap) = part.cap_s {
        logistics.push(format!("Cap {}; last call a minute before.", clock_s(cap)));
    }
    logistics.push(floor.floor.sentence());
    let heats = floor.floor.heats();
    if heats.len() > 1 {
        for (n, (offset, people)) in heats.iter().enumerate() {
            let names: Vec<&str> = people.iter().map(|n| piece.members[*n].name.as_str()).collect();
            logistics.push(format!("{}: {}.", floor.floor.start_label(n, *offset), names.join(", ")));
        }
    }
    let fetched: Vec<String> = floor
        .floor
        .stations
        .iter()
        .filter(|used| used.station.is_fetched())
        .map(|used| used.station.counted(used.arranged))
        .collect();
    if !fetched.is_empty() {
        logistics.push(format!("Set up: {}.", fetched.join(", ")));
    }
    logistics.extend(floor.floor.unplaced.iter().map(|short| format!("{short}.")));
    Briefing { movements, logistics }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::gym::Gym;
    use crate::member::Member;
    use crate::plan::plan;
    use crate::read::read;

    #[test]
    fn every_standard_is_of_a_movement_we_know_and_ends_as_a_sentence() {
        assert!(STANDARDS.len() > 50);
        for (id, row) in STANDARDS.iter() {
            assert!(Catalogue::standard().get(id).is_some(), "{id}");
            assert!(row.standard.ends_with('.') && row.cue.ends_with('.'), "{id}");
        }
    }

    #[test]
    fn a_briefing_names_each_movement_once_and_says_who_goes_where() {
        let catalogue = Catalogue::standard();
        let text =
            "For time, cap 12\n20 thrusters 40/30 kg\n20 pull-ups\n20 thrusters 40/30 kg\ngoal 6-10 min";
        let session = read(text, catalogue).session;
        let members = ["Ada", "Ben"].map(|name| Member { name: name.to_owned(), ..Member::default() });
        let gym = Gym {
            bars: vec![crate::gym::Bar { count: 1, ..Gym::default().bars[1].clone() }],
            ..Gym::default()
        };
        let plan = plan(&session, &members, &gym, catalogue, 1);
        let told = briefing(&session.parts[0], &plan.pieces[0], &plan.floors[0], catalogue);
        let names: Vec<&str> = told.movements.iter().map(|movement| movement.name.as_str()).collect();
        assert_eq!(names, ["Thruster", "Pull-up"]);
        assert!(told.logistics.iter().any(|line| line.starts_with("Cap 12:00")));
        assert!(told.logistics.iter().any(|line| line.starts_with("Heat 2 at")), "{:?}", told.logistics);
    }
}
