//! Items for which the gym, as a class finds it today, has nothing.

use super::items::{WarmupItem, standard_items};
use crate::gym::Gym;
use crate::movement::{Catalogue, Movement};

/// The ids of items that cannot be done: their equipment is not there, or what they are like is `missed` today.
pub fn not_here(gym: &Gym, missed: &dyn Fn(&Movement) -> bool, catalogue: &Catalogue) -> Vec<String> {
    let like_missed = |item: &WarmupItem| item.like.iter().filter_map(|id| catalogue.get(id)).any(missed);
    let lacks = |item: &WarmupItem| item.equipment.iter().any(|kit| !has(gym, kit)) || like_missed(item);
    standard_items().iter().filter(|item| lacks(item)).map(|item| item.id.clone()).collect()
}

/// Whether the gym has some of a kit; what it does not count (bands, ropes to skip with, the floor) is there.
fn has(gym: &Gym, kit: &str) -> bool {
    let any = |count: u32| count > 0;
    match kit {
        "barbell" => any(gym.bars.iter().map(|bar| bar.count).sum()),
        "plates" => !gym.plates.is_empty(),
        "rack" => any(gym.racks),
        "rig" => any(gym.rig_places),
        "rings" => any(gym.rings),
        "rope" => any(gym.ropes),
        "rower" => any(gym.rowers),
        "ski" => any(gym.skis),
        "bike" | "air_bike" => any(gym.bikes),
        "box" => !gym.boxes.is_empty(),
        "bench" => any(gym.benches),
        "ghd" => any(gym.ghds),
        "sled" => any(gym.sleds),
        "wall" => any(gym.wall_places),
        "dumbbell" | "dumbbell_pair" => !gym.dumbbells.is_empty(),
        "kettlebell" => !gym.kettlebells.is_empty(),
        "medicine_ball" => !gym.balls.is_empty(),
        _ => true,
    }
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
}
