//! What is different today: no running, machines out of order, half of the floor lent to another class. One click
//! swaps what is hit for everybody, for as long as it would have taken; another click takes it back.

use serde::{Deserialize, Serialize};

use super::changes::Change;
use crate::gym::Gym;
use crate::member::Sex;
use crate::movement::{Catalogue, Movement, Property, Unit};
use crate::pacing::{Athlete, Model, in_the_time_of, keeps_count, regular};
use crate::print::work_text;
use crate::session::{Amount, Node, Part, Session, Work, works};

/// What a class has to do without.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "snake_case")]
pub enum Without {
    /// The street, the track or the weather says no.
    Running,
    /// The rowers are out.
    Rowers,
    /// The ski machines are out.
    Skis,
    /// The bikes are out.
    Bikes,
    /// Another class has one half of the floor; racks and machines stay.
    HalfTheFloor,
}

impl Without {
    /// All of them.
    pub const ALL: [Self; 5] = [Self::Running, Self::Rowers, Self::Skis, Self::Bikes, Self::HalfTheFloor];

    /// As on a button.
    pub const fn label(self) -> &'static str {
        match self {
            Self::Running => "No running",
            Self::Rowers => "Rowers out",
            Self::Skis => "Ski machines out",
            Self::Bikes => "Bikes out",
            Self::HalfTheFloor => "Half the floor",
        }
    }

    /// Whether a day and a gym have it, so that it could be missed.
    pub fn is_missed(self, session: &Session, gym: &Gym, catalogue: &Catalogue) -> bool {
        match self {
            Self::HalfTheFloor => true,
            Self::Running => self.is_written(session, catalogue),
            Self::Rowers => gym.rowers > 0,
            Self::Skis => gym.skis > 0,
            Self::Bikes => gym.bikes > 0,
        }
    }

    fn is_written(self, session: &Session, catalogue: &Catalogue) -> bool {
        let mut movements = session.parts.iter().flat_map(|part| works(&part.tree));
        movements.any(|work| catalogue.get(&work.movement).is_some_and(|movement| self.hits(movement)))
    }

    /// Whether a movement cannot be done without it.
    pub fn hits(self, movement: &Movement) -> bool {
        let needs = |kit: &str| movement.equipment.iter().any(|own| own == kit);
        match self {
            // Running on the spot needs neither street nor track.
            Self::Running => movement.has(Property::Running) && movement.unit == Unit::Metres,
            Self::Rowers => needs("rower"),
            Self::Skis => needs("ski"),
            Self::Bikes => needs("bike") || needs("air_bike"),
            Self::HalfTheFloor => false,
        }
    }

    /// What the gym has without it.
    fn take_from(self, gym: &mut Gym) {
        match self {
            Self::Running => {}
            Self::Rowers => gym.rowers = 0,
            Self::Skis => gym.skis = 0,
            Self::Bikes => gym.bikes = 0,
            Self::HalfTheFloor => gym.floor_m.0 /= 2.0,
        }
    }
}

/// What is missed among changes.
pub(super) fn missed(changes: &[Change]) -> Vec<Without> {
    let of = |change: &Change| match change {
        Change::Without { what } => Some(*what),
        _ => None,
    };
    changes.iter().filter_map(of).collect()
}

/// The gym as a class finds it: less what is missed.
pub fn gym_today(gym: &Gym, changes: &[Change]) -> Gym {
    let mut gym = gym.clone();
    missed(changes).into_iter().for_each(|what| what.take_from(&mut gym));
    gym
}

/// Whether a movement cannot be done for want of what is missed.
pub fn is_missed(changes: &[Change], movement: &Movement) -> bool {
    missed(changes).into_iter().any(|what| what.hits(movement))
}

/// What could be missed and is not yet said to be.
pub fn offered(session: &Session, gym: &Gym, changes: &[Change], catalogue: &Catalogue) -> Vec<Without> {
    let said = missed(changes);
    let open = |what: &Without| !said.contains(what) && what.is_missed(session, gym, catalogue);
    Without::ALL.into_iter().filter(open).collect()
}

/// What stands in for a movement that is hit, for all of a part: a machine that it does not use already, of which the gym has most; running
/// where no machine is left in such number; else stepping up or down on the spot. None where the rungs of a scheme cannot count it.
fn stand_in<'a>(
    of: &Movement,
    part: &Part,
    said: &[Without],
    gym: &Gym,
    catalogue: &'a Catalogue,
) -> Option<&'a Movement> {
    let before =
        machines(gym).into_iter().find(|(id, _)| *id == of.id.as_str()).map_or(0, |(_, count)| count);
    let today = said.iter().fold(gym.clone(), |mut gym, what| {
        what.take_from(&mut gym);
        gym
    });
    let mut left: Vec<(&str, u32)> = machines(&today).into_iter().filter(|(_, count)| *count > 0).collect();
    left.sort_by_key(|(_, count)| std::cmp::Reverse(*count));
    let enough = left.iter().map(|(_, count)| count).sum::<u32>() >= before;
    let machines = left.into_iter().map(|(id, _)| id);
    let boxes = if gym.boxes.is_empty() { None } else { Some("box-step-up") };
    let others = boxes.into_iter().chain(ON_THE_SPOT);
    let order: Vec<&str> = if enough {
        machines.chain(["run"]).chain(others).collect()
    } else {
        ["run"].into_iter().chain(machines).chain(others).collect()
    };
    let written: Vec<&str> = works(&part.tree).into_iter().map(|work| work.movement.as_str()).collect();
    let hit = |movement: &Movement| said.iter().any(|what| what.hits(movement));
    let counts = |to: &Movement| {
        let mut own = works(&part.tree).into_iter().filter(|work| work.movement == of.id);
        own.all(|work| work.dose.amount != Amount::Scheme || keeps_count(work, to))
    };
    let suitable: Vec<&Movement> =
        order.into_iter().filter_map(|id| catalogue.find(id)).filter(|to| !hit(to) && counts(to)).collect();
    // One that the piece uses already where all are used.
    let fresh = suitable.iter().find(|to| !written.contains(&to.id.as_str()));
    fresh.or(suitable.first()).copied()
}

/// What can be done wherever there is room for a person.
const ON_THE_SPOT: [&str; 3] = ["jumping-jack", "mountain-climber", "burpee"];

fn machines(gym: &Gym) -> [(&'static str, u32); 3] {
    [("row", gym.rowers), ("ski", gym.skis), ("bike", gym.bikes)]
}

/// How long a piece lasts that says nothing about it, in seconds.
const USUAL_S: u32 = 600;

/// A session without what is missed: each movement that is hit becomes another, for as long as a regular needs for it. Says what became of what.
pub(super) fn without(
    session: &mut Session,
    said: &[Without],
    gym: &Gym,
    catalogue: &Catalogue,
) -> Vec<String> {
    let model = Model::standard();
    let [him, her] = [Sex::M, Sex::F].map(|sex| Athlete::new(regular(sex)));
    let mut told = Vec::new();
    for part in &mut session.parts {
        let hit = |work: &Work| {
            let movement = catalogue.get(&work.movement)?;
            said.iter().any(|what| what.hits(movement)).then_some(movement)
        };
        // One after another, so that two machines that are out get a stand-in each.
        while let Some(movement) = works(&part.tree).into_iter().find_map(hit) {
            let Some(to) = stand_in(movement, part, said, gym, catalogue) else { break };
            let length_s = f64::from(part.work_s.or(part.duration_s).or(part.cap_s).unwrap_or(USUAL_S));
            part.tree = part.tree.map_work(&mut |work| {
                if work.movement != movement.id {
                    return Node::Work(work.clone());
                }
                let own = in_the_time_of(work, to, [&him, &her], length_s, catalogue, model);
                let words = format!("{} becomes {}", work_text(work, catalogue), work_text(&own, catalogue));
                if !told.contains(&words) {
                    told.push(words);
                }
                // A window that is written goes on counting what was written; else it is a piece of what is done now.
                let stands_for =
                    own.stands_for.filter(|_| part.target.is_some_and(|target| target.is_given()));
                Node::Work(Work { stands_for, ..own })
            });
        }
    }
    told
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::hour::with_changes;
    use crate::print::work_lines;
    use crate::read::read;

    const DAY: &str =
        "Warm-up\n400 m run\n\nAMRAP 15\n400 m run\n15/12 cal row\n20 kettlebell swings 24/16 kg";

    fn lines(text: &str, gym: &Gym, missing: &[Without]) -> Vec<String> {
        let catalogue = Catalogue::standard();
        let changes: Vec<Change> = missing.iter().map(|what| Change::Without { what: *what }).collect();
        let session = with_changes(&read(text, catalogue).session, &changes, gym, catalogue);
        let part = session.parts.last().unwrap();
        work_lines(part, &part.tree, catalogue)
    }

    #[test]
    fn what_is_missing_is_swapped_for_everybody_and_the_rest_stays() {
        let gym = Gym { rowers: 6, skis: 2, bikes: 4, ..Gym::default() };
        let written = lines(DAY, &gym, &[]);
        let dry = lines(DAY, &gym, &[Without::Running]);
        assert!(dry[1].contains("cal bike") && dry[2..] == written[2..], "{dry:?}");
        let no_rowers = lines(DAY, &gym, &[Without::Rowers]);
        assert!(no_rowers[2].contains("cal bike") && no_rowers[1] == written[1], "{no_rowers:?}");
        let neither = lines(DAY, &gym, &[Without::Rowers, Without::Running]);
        assert!(neither.iter().all(|line| !line.contains("run") && !line.contains("row")), "{neither:?}");
        assert_eq!(lines(DAY, &gym, &[Without::HalfTheFloor]), written);
    }

    #[test]
    fn only_what_a_gym_and_a_day_have_can_be_missed() {
        let catalogue = Catalogue::standard();
        let none = Gym { rowers: 0, skis: 0, bikes: 0, ..Gym::default() };
        let one = Gym { rowers: 1, skis: 1, bikes: 1, ..Gym::default() };
        let runs = read(DAY, catalogue).session;
        let stays = read("For time\n50 burpees", catalogue).session;
        let missed = |session: &Session, gym: &Gym| -> Vec<Without> {
            Without::ALL.into_iter().filter(|what| what.is_missed(session, gym, catalogue)).collect()
        };
        assert_eq!(missed(&runs, &one), Without::ALL);
        assert_eq!(missed(&stays, &none), [Without::HalfTheFloor]);
    }

    #[test]
    fn without_any_machine_everybody_still_has_something_to_do() {
        let gym = Gym { rowers: 0, skis: 0, bikes: 0, ..Gym::default() };
        let lines = lines("For time\n800 m run\n50 burpees", &gym, &[Without::Running]);
        assert!(lines[1].contains("step-up"), "{lines:?}");
    }

    #[test]
    fn rungs_are_kept_or_nothing_is_swapped() {
        let gym = Gym { rowers: 6, skis: 4, bikes: 0, ..Gym::default() };
        let lines = lines("21-15-9 for time\ncal row\nthrusters 40/30 kg", &gym, &[Without::Rowers]);
        assert!(lines.iter().any(|line| line.contains("ski")), "{lines:?}");
    }

    #[test]
    fn what_is_offered_can_be_missed_and_is_said_once() {
        let (catalogue, gym) = (Catalogue::standard(), Gym { skis: 0, ..Gym::default() });
        let session = read("AMRAP 10\n10 burpees", catalogue).session;
        let all = offered(&session, &gym, &[], catalogue);
        assert!(!all.contains(&Without::Running) && !all.contains(&Without::Skis), "{all:?}");
        let said = [Change::Without { what: Without::HalfTheFloor }];
        assert!(!offered(&session, &gym, &said, catalogue).contains(&Without::HalfTheFloor));
        assert_eq!(gym_today(&gym, &said).floor_m.0 * 2.0, gym.floor_m.0);
    }
}
