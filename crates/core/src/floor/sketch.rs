//! A place for everybody on the open floor: room to work and to drop a bar, walkways between the rows.
//!
//! The rig stands along the back, racks along the left, machines along the right; the coach stands in front.

use std::collections::BTreeMap;

use serde::Serialize;

use super::Doer;
use super::arrangement::Start;
use super::demand::Holding;
use super::stations::Station;
use crate::gym::Gym;
use crate::movement::Catalogue;

/// Width and depth of a place with a bar: a bar of 2.2 m with half a metre to each side, and room for a bar that
/// bounces; coaching practice.
const BAR_PLACE_M: (f64, f64) = (3.0, 2.4);
/// A place without a bar.
const FREE_PLACE_M: (f64, f64) = (2.0, 2.0);
/// Walkways along the sides and between two rows.
const WALKWAY_M: f64 = 1.0;
/// Depth of the strip in which rig and racks stand.
const FIXTURE_M: f64 = 1.5;
/// Width of a machine with its room.
const MACHINE_M: f64 = 1.2;

/// Somebody's place, and whoever has it after them.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Place {
    /// Who begins there.
    pub name: String,
    /// Everybody who has it in turn, by their place in the class.
    pub who: Vec<usize>,
    /// Metres from the left wall to its middle.
    pub x: f64,
    /// Metres from the front wall to its middle.
    pub y: f64,
    /// Metres.
    pub width: f64,
    /// Metres.
    pub depth: f64,
    /// A bar is dropped here.
    pub bar: bool,
    /// Moved by hand.
    pub moved: bool,
    /// Comes closer to somebody else than the room that both need.
    pub tight: bool,
}

/// Something that stands.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Fixture {
    /// As written on the sketch: `Rig, 12 places`.
    pub name: String,
    /// Left edge.
    pub x: f64,
    /// Front edge.
    pub y: f64,
    /// Metres.
    pub width: f64,
    /// Metres.
    pub depth: f64,
}

/// The floor from above.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Sketch {
    /// Metres.
    pub width: f64,
    /// Metres.
    pub depth: f64,
    /// What stands there.
    pub fixtures: Vec<Fixture>,
    /// Where people work.
    pub places: Vec<Place>,
    /// How many find a place at once with all the room that they need.
    pub room_for: usize,
}

/// Places for a class by its starts: who starts when another has ended takes over the place. What has been moved by hand
/// stays there.
pub fn sketch(
    class: &[Doer<'_>],
    starts: &[Start],
    moved: &BTreeMap<String, (f64, f64)>,
    gym: &Gym,
    catalogue: &Catalogue,
) -> Sketch {
    let (width, depth) = gym.floor_m;
    let needed: Vec<Vec<Station>> = class
        .iter()
        .map(|doer| {
            let claims = super::claims(doer.run, doer.cap_s, Holding::Shared, gym, catalogue);
            claims.into_iter().map(|claim| claim.station).collect()
        })
        .collect();
    let uses = |station| needed.iter().flatten().any(|known| *known == station);
    let machines: Vec<(Station, u32)> =
        [(Station::Rower, gym.rowers), (Station::Ski, gym.skis), (Station::Bike, gym.bikes)]
            .into_iter()
            .filter(|(station, count)| *count > 0 && uses(*station))
            .collect();
    let mut fixtures = Vec::new();
    if gym.rig_places > 0 {
        let name = format!("Rig, {} places", gym.rig_places);
        fixtures.push(Fixture { name, x: 0.0, y: depth - FIXTURE_M, width, depth: FIXTURE_M });
    }
    let left = if uses(Station::Rack) { FIXTURE_M * 2.0 } else { 0.0 };
    if left > 0.0 {
        let name = format!("{} racks", gym.racks);
        fixtures.push(Fixture { name, x: 0.0, y: 0.0, width: left, depth: depth - FIXTURE_M });
    }
    let mut at = 0.0;
    for (station, count) in &machines {
        let length = (f64::from(*count) * MACHINE_M).min(depth - FIXTURE_M - at);
        let name = format!("{count} {}", station.name(*count));
        fixtures.push(Fixture {
            name,
            x: width - FIXTURE_M * 1.5,
            y: at,
            width: FIXTURE_M * 1.5,
            depth: length,
        });
        at += length;
    }
    let right = if machines.is_empty() { 0.0 } else { FIXTURE_M * 1.5 };
    let bar = needed.iter().any(|stations| stations.contains(&Station::Bar));
    let (place_w, place_d) = if bar { BAR_PLACE_M } else { FREE_PLACE_M };
    let (open_w, open_d) = (width - left - right - 2.0 * WALKWAY_M, depth - FIXTURE_M - WALKWAY_M);
    let columns = (open_w / place_w).floor().max(1.0) as usize;
    let rows = ((open_d + WALKWAY_M) / (place_d + WALKWAY_M)).floor().max(1.0) as usize;
    let room_for = columns * rows;
    let turns = turns(class, starts);
    // More people than places share the open floor in tighter rows, and are marked so; fewer stand in even rows.
    let rows_needed = turns.len().div_ceil(columns).max(1);
    let pitch = (open_d / rows_needed as f64).min(place_d + 2.0 * WALKWAY_M);
    let a_row = turns.len().div_ceil(rows_needed).max(1);
    let aside = (columns.saturating_sub(a_row) as f64) * place_w / 2.0;
    let mut places: Vec<Place> = turns
        .into_iter()
        .enumerate()
        .map(|(n, who)| {
            let name = class[who[0]].name;
            let bar = who.iter().any(|member| needed[*member].contains(&Station::Bar));
            let (row, column) = (n / a_row, n % a_row);
            let x = left + WALKWAY_M + aside + place_w * (column as f64 + 0.5);
            let y = WALKWAY_M + pitch * (row as f64 + 0.5);
            let by_hand = moved.get(name);
            let (x, y) = by_hand.copied().unwrap_or((x, y));
            let x = x.clamp(place_w / 2.0, (width - place_w / 2.0).max(place_w / 2.0));
            let y = y.clamp(place_d / 2.0, (depth - place_d / 2.0).max(place_d / 2.0));
            Place {
                name: name.to_owned(),
                who,
                x,
                y,
                width: place_w,
                depth: place_d,
                bar,
                moved: by_hand.is_some(),
                tight: false,
            }
        })
        .collect();
    let tight: Vec<bool> = (0..places.len())
        .map(|n| places.iter().enumerate().any(|(other, place)| other != n && overlap(&places[n], place)))
        .collect();
    places.iter_mut().zip(tight).for_each(|(place, tight)| place.tight = tight);
    Sketch { width, depth, fixtures, places, room_for }
}

/// Who of those here has each place in turn: a place is free again when the late finish of whoever has it is past.
fn turns(class: &[Doer<'_>], starts: &[Start]) -> Vec<Vec<usize>> {
    let offset = |n: usize| starts.get(n).map_or(0.0, |start| f64::from(start.offset_s));
    let is_here = |n: &usize| starts.get(*n).is_none_or(|start| !start.away);
    let mut order: Vec<usize> = (0..class.len()).filter(is_here).collect();
    order.sort_by(|a, b| offset(*a).total_cmp(&offset(*b)).then(a.cmp(b)));
    let mut places: Vec<(f64, Vec<usize>)> = Vec::new();
    for n in order {
        let ends = offset(n) + class[n].late_s;
        match places.iter_mut().find(|(free, _)| *free <= offset(n)) {
            Some((free, who)) => {
                *free = ends;
                who.push(n);
            }
            None => places.push((ends, vec![n])),
        }
    }
    places.into_iter().map(|(_, who)| who).collect()
}

/// Whether two places take room from each other; touching is enough room.
fn overlap(a: &Place, b: &Place) -> bool {
    let near = |a: f64, b: f64, room: f64| (a - b).abs() < room - 1e-6;
    near(a.x, b.x, (a.width + b.width) / 2.0) && near(a.y, b.y, (a.depth + b.depth) / 2.0)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::pacing::{Mark, Run};
    use crate::read::read;
    use crate::session::Node;

    fn floor(text: &str, people: usize, moved: &BTreeMap<String, (f64, f64)>, gym: &Gym) -> Sketch {
        let catalogue = Catalogue::standard();
        let tree: Node = read(text, catalogue).session.parts.remove(0).tree;
        let marks = crate::session::works(&tree).into_iter().map(|work| Mark {
            from_s: 0.0,
            at_s: 60.0,
            round: 1,
            movement: work.movement.clone(),
            done: 10.0,
            of: None,
            load: work.load,
        });
        let run = Run { finish_s: 60.0, marks: marks.collect(), ..Run::default() };
        let member = crate::member::Member::default();
        let names: Vec<String> = (0..people).map(|n| format!("Member {n}")).collect();
        let class: Vec<Doer<'_>> = names
            .iter()
            .map(|name| Doer {
                name,
                tree: &tree,
                run: &run,
                late_s: 60.0,
                cap_s: f64::INFINITY,
                member: &member,
            })
            .collect();
        sketch(&class, &[], moved, gym, catalogue)
    }

    #[test]
    fn everybody_has_room_inside_the_walls_and_clear_of_what_stands() {
        let none = BTreeMap::new();
        for text in [
            "For time\n30 thrusters 40 kg",
            "For time\n30 burpees",
            "For time\n20 cal row\n30 deadlifts 60 kg",
        ] {
            let floor = floor(text, 14, &none, &Gym::default());
            assert!(floor.room_for >= 14, "{text}: {}", floor.room_for);
            for place in &floor.places {
                assert!(!place.tight, "{text}: {place:?}");
                for fixture in &floor.fixtures {
                    let right_of = place.x - place.width / 2.0 >= fixture.x + fixture.width - 1e-6;
                    let left_of = place.x + place.width / 2.0 <= fixture.x + 1e-6;
                    let before = place.y + place.depth / 2.0 <= fixture.y + 1e-6;
                    assert!(right_of || left_of || before, "{text}: {place:?} in {fixture:?}");
                }
            }
        }
    }

    #[test]
    fn who_starts_when_another_has_ended_takes_over_the_place() {
        let catalogue = Catalogue::standard();
        let tree = read("For time\n30 burpees", catalogue).session.parts.remove(0).tree;
        let run = Run { finish_s: 300.0, ..Run::default() };
        let member = crate::member::Member::default();
        let doer = |name| Doer {
            name,
            tree: &tree,
            run: &run,
            late_s: 300.0,
            cap_s: f64::INFINITY,
            member: &member,
        };
        let class = ["Ada", "Ben", "Cyd"].map(doer);
        let start = |name: &str, offset_s| Start {
            name: name.to_owned(),
            offset_s,
            begins_with: None,
            instead: None,
            waits_s: 0,
            shares_with: None,
            away: false,
        };
        let starts = [start("Ada", 0), start("Ben", 240), start("Cyd", 300)];
        let floor = sketch(&class, &starts, &BTreeMap::new(), &Gym::default(), catalogue);
        let who: Vec<&[usize]> = floor.places.iter().map(|place| &place.who[..]).collect();
        assert_eq!(who, [&[0, 2][..], &[1]]);
    }

    #[test]
    fn who_is_moved_through_a_wall_stands_at_it() {
        let gym = Gym::default();
        let (width, depth) = gym.floor_m;
        for ((x, y), far) in [((-9.0, -9.0), false), ((width + 9.0, depth + 9.0), true)] {
            let moved = BTreeMap::from([("Member 0".to_owned(), (x, y))]);
            let place = &floor("For time\n30 thrusters 40 kg", 1, &moved, &gym).places[0];
            let near = (place.width / 2.0, place.depth / 2.0);
            let at = if far { (width - near.0, depth - near.1) } else { near };
            assert!((place.x - at.0).abs() < 1e-9 && (place.y - at.1).abs() < 1e-9, "{place:?}");
        }
    }

    #[test]
    fn places_stand_in_rows_and_none_upon_another() {
        let floor = floor("For time\n30 burpees", 14, &BTreeMap::new(), &Gym::default());
        let (mut rows, mut columns) = (Vec::new(), Vec::new());
        for place in &floor.places {
            rows.push((place.y * 100.0).round() as i64);
            columns.push((place.x * 100.0).round() as i64);
        }
        let places: std::collections::BTreeSet<_> = rows.iter().zip(&columns).collect();
        assert_eq!(places.len(), 14, "{places:?}");
        // Row by row from the wall, each as far from the one before.
        assert!(rows.is_sorted(), "{rows:?}");
        rows.dedup();
        let steps: std::collections::BTreeSet<i64> = rows.windows(2).map(|two| two[1] - two[0]).collect();
        assert!(rows.len() > 1 && steps.len() == 1, "{rows:?}");
    }

    #[test]
    fn who_is_moved_stays_there_and_too_near_is_said() {
        let moved =
            BTreeMap::from([("Member 0".to_owned(), (10.0, 5.0)), ("Member 1".to_owned(), (10.5, 5.0))]);
        let floor = floor("For time\n30 thrusters 40 kg", 2, &moved, &Gym::default());
        assert_eq!((floor.places[0].x, floor.places[0].y), (10.0, 5.0));
        assert!(floor.places.iter().all(|place| place.moved && place.tight));
    }

    #[test]
    fn more_people_than_room_are_drawn_and_marked() {
        let gym = Gym { floor_m: (10.0, 8.0), ..Gym::default() };
        let floor = floor("For time\n30 thrusters 40 kg", 12, &BTreeMap::new(), &gym);
        assert!(floor.room_for < 12 && floor.places.len() == 12);
        assert!(floor.places.iter().any(|place| place.tight));
    }
}
