//! The floor of each piece, and the hour around them.

use super::climb::{Held, climb, hold_lift};
use super::lifts::lift_time;
use super::{Here, PieceFloor, PiecePlan, Request, StrengthPlan};
use crate::floor::{Class, Doer, FloorPlan, Start, Team, floor_plan, sketch};
use crate::hour::{Fetched, Hour, HourInput, LiftTime, PieceTime, lay_out};
use crate::pacing::{Athlete, How, Luck, Model, Prediction, Run, simulate_as};
use crate::session::{Node, Session};
use crate::warmup::Warmup;

/// The hour decides how long a piece may take the class, and the floor how long it takes: laid out as if everybody
/// could start at once, then with the starts that there are stations for.
pub(super) fn floors_and_hour(
    request: &Request<'_>,
    session: &Session,
    warmup: &Warmup,
    strength: &[StrengthPlan],
    pieces: &[PiecePlan],
    formed: Vec<Vec<Team>>,
) -> (Vec<PieceFloor>, Hour) {
    let Request { members, gym, catalogue, decisions, .. } = *request;
    let edits = &decisions.hour;
    let lifts: Vec<LiftTime> = strength.iter().map(lift_time).collect();
    let lifts = &lifts;
    let hour_of = |times: &[PieceTime]| {
        lay_out(&HourInput { session, warmup, pieces: times, lifts, gym, catalogue, edits })
    };
    let mut held = Held::new();
    let mut times = Vec::new();
    for piece in pieces {
        strength.iter().filter(|lift| lift.part < piece.part).for_each(|lift| hold_lift(&mut held, lift));
        let climb = climb((piece, &decisions.here), members, &mut held, gym, catalogue);
        times.push(PieceTime { climb, ..piece_time(piece, &decisions.here) });
    }
    let at_once = hour_of(&times);
    let model = Model::standard();
    let mut floors = Vec::new();
    for (place, ((piece, time), teams)) in pieces.iter().zip(&mut times).zip(formed).enumerate() {
        let class: Vec<Doer<'_>> = piece.doers(members).collect();
        let available_s = at_once.room_for(&format!("conditioning-{}", piece.part));
        let wishes = edits.floor(place);
        // The floor of some of the class, with its starts in their order.
        let floor_of = |who: &[usize], stood: Option<&FloorPlan>| {
            let walk = |n: usize, tree: &Node| -> Run {
                let how = How { record: true, ..How::default() };
                simulate_as(how, tree, &Athlete::new(&members[who[n]]), catalogue, model, Luck::MEDIAN)
            };
            let doers: Vec<Doer<'_>> = who.iter().map(|n| class[*n]).collect();
            let part = piece.written();
            let teams = &among(&teams, who);
            let asked = Class { part, doers: &doers, teams, stood, available_s, gym, catalogue, model };
            floor_plan(asked, wishes.arrangement, &walk)
        };
        let names = class.iter().map(|doer| doer.name);
        let floor = match decisions.here.divide(names) {
            None => floor_of(&(0..class.len()).collect::<Vec<_>>(), None),
            Some((booked, here)) => {
                let stood = floor_of(&booked, None);
                let mut floor = floor_of(&here, Some(&stood));
                let mut starts = std::mem::take(&mut floor.starts).into_iter();
                let start = |n: usize| {
                    here.contains(&n)
                        .then(|| starts.next())
                        .flatten()
                        .unwrap_or_else(|| Start::away(class[n].name))
                };
                floor.starts = (0..class.len()).map(start).collect();
                floor
            }
        };
        time.late_s = time.late_s.max(floor.ends_s);
        if floor.is_staggered() {
            time.heats = Some(floor.sentence().trim_end_matches('.').to_owned());
        }
        let fetched = floor.stations.iter().filter(|used| used.station.is_fetched());
        time.stations = fetched
            .map(|used| Fetched {
                station: used.station,
                count: used.arranged.max(1),
                at_once: used.together,
            })
            .collect();
        let sketch = sketch(&class, &floor.starts, &wishes.places, gym, catalogue);
        floors.push(PieceFloor { part: piece.part, floor, teams, sketch });
    }
    (floors, hour_of(&times))
}

/// Teams of some of the class, by their places among those.
fn among(teams: &[Team], who: &[usize]) -> Vec<Team> {
    let place = |n: &usize| who.iter().position(|known| known == n);
    let team =
        |team: &Team| Team { members: team.members.iter().filter_map(place).collect(), ..team.clone() };
    teams.iter().map(team).collect()
}

/// How long a piece takes those who are here when they start together.
fn piece_time(piece: &PiecePlan, here: &Here) -> PieceTime {
    let part = piece.written();
    let capped = |seconds: f64| part.cap_s.map_or(seconds, |cap| seconds.min(f64::from(cap)));
    let latest = |end: fn(&Prediction) -> f64| {
        let members = piece.members.iter().filter(|member| here.has(&member.name));
        members.map(|member| capped(end(member.predicted()))).fold(0.0, f64::max)
    };
    PieceTime {
        part: piece.part,
        middle_s: latest(|predicted| predicted.finish_s.p50),
        late_s: latest(|predicted| predicted.finish_s.p90),
        heats: None,
        stations: Vec::new(),
        climb: None,
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    #[test]
    fn of_a_team_those_who_are_here_are_named_by_their_places_among_them() {
        let team = |members: &[usize]| Team { members: members.to_vec(), mean: 500.0 };
        let left = among(&[team(&[0, 2]), team(&[1, 3])], &[2, 3, 0]);
        let places: Vec<&[usize]> = left.iter().map(|team| team.members.as_slice()).collect();
        assert_eq!(places, [&[2, 0][..], &[1][..]]);
    }
}
