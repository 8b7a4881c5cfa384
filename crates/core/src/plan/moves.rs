//! What another plan of the same class asks of people: who goes to another rack, team or start than before.

use std::collections::{BTreeMap, BTreeSet};

use super::{PieceFloor, Plan, StrengthPlan};
use crate::floor::Start;
use crate::movement::{Catalogue, MovementId};
use crate::units::clock_s;

/// Who moves from one plan of a class to another, in words, nobody twice for the same thing: `Bo to Rack 3, from Rack 1`. Whoever is not in the later one
/// moves nowhere.
pub fn moves(before: &Plan, now: &Plan, catalogue: &Catalogue) -> Vec<String> {
    let mut all = Vec::new();
    for lift in &now.strength {
        let then = before.strength.iter().find(|then| then.part == lift.part);
        let then = then.map(at_racks).unwrap_or_default();
        for ((id, name), rack) in at_racks(lift) {
            let of = if lift.racks.len() > 1 { format!("{}: ", catalogue.name(&id)) } else { String::new() };
            match then.get(&(id, name.clone())) {
                Some(known) if *known == rack => {}
                Some(known) => all.push(format!("{of}{name} to {rack}, from {known}")),
                None => all.push(format!("{of}{name} to {rack}")),
            }
        }
    }
    for (place, floor) in now.floors.iter().enumerate() {
        let then = before.floors.iter().find(|then| then.part == floor.part);
        let known = then.map(|then| teams(then, before, place)).unwrap_or_default();
        let formed = teams(floor, now, place).into_iter().filter(|team| !known.contains(team));
        all.extend(formed.map(|team| match &team.iter().map(String::as_str).collect::<Vec<_>>()[..] {
            [alone] => format!("{alone} alone"),
            [most @ .., last] => format!("{} and {last} together", most.join(", ")),
            [] => String::new(),
        }));
        let starts = |floor: &PieceFloor| -> BTreeMap<String, String> {
            let here = floor.floor.starts.iter().filter(|start| !start.away);
            here.map(|start| (start.name.clone(), words(start, catalogue))).collect()
        };
        let then = then.map(starts).unwrap_or_default();
        for (name, start) in starts(floor) {
            let is_new = !then.contains_key(&name);
            let differs = then.get(&name).is_some_and(|known| *known != start);
            if differs || is_new && floor.floor.is_staggered() {
                all.push(format!("{name} starts {start}"));
            }
        }
    }
    all
}

/// At which rack each lifts what, by name.
fn at_racks(lift: &StrengthPlan) -> BTreeMap<(MovementId, String), String> {
    let mut at = BTreeMap::new();
    for (id, plan) in &lift.racks {
        let sheets = lift.sheets_of(id.as_str());
        for (called, rack) in plan.in_use() {
            let theirs = rack.order.iter().filter_map(|place| sheets.get(*place));
            at.extend(theirs.map(|sheet| ((id.clone(), sheet.name.clone()), called.clone())));
        }
    }
    at
}

fn teams(floor: &PieceFloor, plan: &Plan, place: usize) -> BTreeSet<Vec<String>> {
    let Some(piece) = plan.pieces.get(place) else { return BTreeSet::new() };
    let names = |n: &usize| piece.members[*n].name.clone();
    floor.teams.iter().map(|team| team.members.iter().map(names).collect()).collect()
}

fn words(start: &Start, catalogue: &Catalogue) -> String {
    let mut words = vec![format!("at {}", clock_s(start.offset_s))];
    words.extend(start.begins_with.iter().map(|id| format!("with {}", catalogue.name(id).to_lowercase())));
    words.extend(start.instead.iter().cloned());
    words.extend(start.shares_with.iter().map(|name| format!("sharing with {name}")));
    words.join(", ")
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::gym::Gym;
    use crate::member::{Experience, Max, Member};
    use crate::plan::{Decisions, Here, Request, plan_with};
    use crate::read::read;
    use crate::units::Kilograms;

    /// A class of six that squats on two racks, then works in pairs.
    fn class() -> Vec<Member> {
        let one = |(name, kg): (&str, f64)| Member {
            name: name.to_owned(),
            maxes: [(MovementId::new("back-squat"), Max::on_file(Kilograms::from_kg(kg)))].into(),
            ..Member::default()
        };
        [("Ada", 60.0), ("Ben", 65.0), ("Cyd", 70.0), ("Dov", 120.0), ("Eli", 125.0), ("Fay", 130.0)]
            .map(one)
            .to_vec()
    }

    fn with(here: Here, members: &[Member]) -> Plan {
        let catalogue = Catalogue::standard();
        let text = "Back squat 5x5 @ 70 %\n\nIn pairs, share as you like, for time, cap 12\n100 burpees\n100 air squats";
        let session = read(text, catalogue).session;
        let gym = Gym { racks: 2, ..Gym::default() };
        let decisions = Decisions { here, ..Decisions::default() };
        plan_with(Request {
            session: &session,
            members,
            gym: &gym,
            catalogue,
            seed: 1,
            decisions: &decisions,
        })
    }

    fn names(names: &[&str]) -> BTreeSet<String> {
        names.iter().map(|name| (*name).to_owned()).collect()
    }

    #[test]
    fn one_who_is_not_here_moves_the_one_who_is_left_over() {
        let catalogue = Catalogue::standard();
        let all = with(Here::default(), &class());
        assert_eq!(moves(&all, &all, catalogue), [""; 0]);
        let partner = |of: &str| {
            let place = all.pieces[0].members.iter().position(|own| own.name == of).unwrap();
            let team = all.floors[0].teams.iter().find(|team| team.members.contains(&place)).unwrap();
            let mate = team.members.iter().find(|n| **n != place).unwrap();
            all.pieces[0].members[*mate].name.clone()
        };
        let alone = partner("Fay");
        let without = with(Here { away: names(&["Fay"]), ..Here::default() }, &class());
        let moved = moves(&all, &without, catalogue);
        // Racks of three and two are even enough; whoever has no partner makes a pair three.
        assert_eq!(moved.len(), 1, "{moved:?}");
        assert!(
            moved[0].contains(&alone) && moved[0].contains(" and ") && moved[0].ends_with("together"),
            "{moved:?}"
        );
        let without = with(Here { away: names(&["Dov", "Fay"]), ..Here::default() }, &class());
        let moved = moves(&all, &without, catalogue);
        assert!(moved.contains(&"Cyd to Rack 2, from Rack 1".to_owned()), "the nearest load: {moved:?}");
        assert_eq!(moved.iter().filter(|words| words.contains("Rack")).count(), 1, "{moved:?}");
    }

    #[test]
    fn who_only_just_came_gets_a_place_and_moves_nobody_else() {
        let catalogue = Catalogue::standard();
        let booked = with(Here::default(), &class()[..5]);
        let now = with(Here { joined: names(&["Fay"]), ..Here::default() }, &class());
        let moved = moves(&booked, &now, catalogue);
        let racks: Vec<&String> = moved.iter().filter(|words| words.contains("Rack")).collect();
        assert_eq!(racks, ["Fay to Rack 2"], "{moved:?}");
    }

    /// The hour is that of those who are here: whoever is slowest, and not here, is not waited for.
    #[test]
    fn nobody_waits_for_who_is_not_here() {
        let mut class = class();
        class[0].experience = Experience::New;
        class[1..].iter_mut().for_each(|member| member.experience = Experience::Advanced);
        let length = |plan: &Plan, kind: &str| -> u32 {
            plan.hour.blocks.iter().filter(|block| block.kind == kind).map(|block| block.length_s()).sum()
        };
        let of = |here: Here| {
            let catalogue = Catalogue::standard();
            let session = read("For time\n100 burpees\n100 air squats", catalogue).session;
            let decisions = Decisions { here, ..Decisions::default() };
            let gym = Gym::default();
            plan_with(Request {
                session: &session,
                members: &class,
                gym: &gym,
                catalogue,
                seed: 1,
                decisions: &decisions,
            })
        };
        let (all, without) = (of(Here::default()), of(Here { away: names(&["Ada"]), ..Here::default() }));
        let [all, without] = [all, without].map(|plan| length(&plan, "conditioning"));
        assert!(without + 60 < all, "{without} s without her, {all} s with her");
    }
}
