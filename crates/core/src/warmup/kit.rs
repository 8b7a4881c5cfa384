//! What of the equipment there is, and for how many people at once.

use super::items::{WarmupItem, standard_items};
use crate::gym::{Gym, Shelf};
use crate::movement::{Catalogue, Movement};

/// The ids of items that cannot be done: their equipment is not there, or what they are like is `missed` today.
pub fn not_here(gym: &Gym, missed: &dyn Fn(&Movement) -> bool, catalogue: &Catalogue) -> Vec<String> {
    let like_missed = |item: &WarmupItem| item.like.iter().filter_map(|id| catalogue.get(id)).any(missed);
    let lacks =
        |item: &WarmupItem| item.equipment.iter().any(|kit| places(gym, kit) == Some(0)) || like_missed(item);
    standard_items().iter().filter(|item| lacks(item)).map(|item| item.id.clone()).collect()
}

/// For how many people at once there is some of a kit; none where it is not counted (bands, ropes to skip with, the
/// floor) and so is there for everybody.
fn places(gym: &Gym, kit: &str) -> Option<u32> {
    let all = |shelves: &[Shelf]| shelves.iter().map(|shelf| shelf.count).sum();
    Some(match kit {
        "barbell" => gym.bars.iter().map(|bar| bar.count).sum(),
        "plates" => gym.plates.iter().map(|plate| plate.count).sum(),
        "rack" => gym.racks,
        "rig" => gym.rig_places,
        "rings" => gym.rings,
        "rope" => gym.ropes,
        "rower" => gym.rowers,
        "ski" => gym.skis,
        "bike" | "air_bike" => gym.bikes,
        "box" => all(&gym.boxes),
        "bench" => gym.benches,
        "ghd" => gym.ghds,
        "sled" => gym.sleds,
        "wall" => gym.wall_places,
        "dumbbell" => 2 * all(&gym.dumbbells),
        "dumbbell_pair" => all(&gym.dumbbells),
        "kettlebell" => all(&gym.kettlebells),
        "medicine_ball" => all(&gym.balls),
        _ => return None,
    })
}

/// Groups that a class has to take turns in for an item: 1 where everybody can do it at once, none where there is
/// nothing for it.
pub(super) fn groups(item: &WarmupItem, gym: &Gym, people: u32) -> Option<u32> {
    let turns = |kit: &String| match places(gym, kit) {
        None => Some(1),
        Some(0) => None,
        // Two plates make a bar heavier.
        Some(places) if kit == "plates" && item.equipment.iter().any(|kit| kit == "barbell") => {
            Some(people.div_ceil((places / 2).max(1)).max(1))
        }
        Some(places) => Some(people.div_ceil(places).max(1)),
    };
    item.equipment.iter().map(turns).try_fold(1, |most, turns| Some(most.max(turns?)))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn nothing_is_offered_on_a_machine_that_is_out_or_for_a_run_on_a_day_without() {
        let catalogue = Catalogue::standard();
        let all = not_here(&Gym::default(), &|_| false, catalogue);
        let out = not_here(
            &Gym { rowers: 0, ..Gym::default() },
            &|movement| movement.id.as_str() == "run",
            catalogue,
        );
        let new: Vec<&String> = out.iter().filter(|id| !all.contains(id)).collect();
        assert!(new.iter().any(|id| *id == "easy-row") && new.iter().any(|id| *id == "easy-jog"), "{new:?}");
        assert!(all.iter().all(|id| out.contains(id)));
    }

    #[test]
    fn people_take_turns_where_there_is_not_enough() {
        let gym = Gym { rowers: 6, ..Gym::default() };
        let item = |id: &str| standard_items().iter().find(|item| item.id == id).unwrap();
        assert_eq!(groups(item("easy-row"), &gym, 14), Some(3));
        assert_eq!(groups(item("easy-row"), &gym, 6), Some(1));
        assert_eq!(groups(item("inchworms"), &gym, 40), Some(1));
        assert_eq!(groups(item("easy-row"), &Gym { rowers: 0, ..gym }, 1), None);
    }
}
