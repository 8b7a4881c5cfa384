//! Swaps: one movement in the place of another wherever it stands, and what it counts for.

use super::{Edit, available, unit_of};
use crate::gym::Gym;
use crate::movement::{Catalogue, LoadKind, Movement, Unit};
use crate::session::{Amount, Dose, Load, LoadUnit, Node, StandsFor, Work};
use crate::units::Kilograms;
use crate::versions::ladder::Rung;

/// One movement swapped along a rung wherever it stands, with so many times the repetitions that the rung asks for. `load` is what
/// the new movement carries.
pub fn swap(
    tree: &Node,
    rung: &Rung,
    longer: f64,
    load: Option<Kilograms>,
    gym: &Gym,
    catalogue: &Catalogue,
    why: &str,
) -> (Node, Vec<Edit>) {
    let mut edits = Vec::new();
    let tree = tree.map_work(&mut |work| {
        if work.movement != rung.from {
            return Node::Work(work.clone());
        }
        let mut nodes = Vec::new();
        for (to, factor) in &rung.to {
            let Some(movement) = catalogue.get(to) else { continue };
            let from = catalogue.get(&rung.from);
            let factor = factor * of_its_unit(work, from);
            // Half a minute of what is counted is half a minute of something else.
            let timed = from.filter(|_| work.is_as_much_as_fits(catalogue));
            if let Some(from) = timed {
                let one = work.stands_for.unwrap_or(StandsFor { each: 1.0, unit: from.unit });
                let each = one.each / factor / rung.to.len() as f64;
                let stands_for = Some(StandsFor { each, ..one }).filter(|_| movement.unit != Unit::Seconds);
                let instead = swapped(work, movement, 1.0 / rung.to.len() as f64, load, gym);
                let dose = Dose { amount: instead.dose.amount, ..work.dose };
                let Work { uncounted, in_step, .. } = *work;
                nodes.push(Node::Work(Work { dose, stands_for, uncounted, in_step, ..instead }));
                continue;
            }
            let instead = swapped(work, movement, factor * longer, load, gym);
            let for_one = match (work.dose.first(), instead.dose.first()) {
                (Some(old), Some(new)) => new / old,
                _ if work.dose.amount == Amount::Scheme => 1.0,
                // As much as one can is as much of the substitute, however much longer numbers are made.
                _ => factor,
            };
            nodes.push(Node::Work(instead.in_place_of(work, 1.0, for_one * rung.to.len() as f64)));
        }
        let names: Vec<String> = rung.to.iter().map(|(to, _)| catalogue.name(to).to_lowercase()).collect();
        let what = format!("{} → {}", catalogue.name(&rung.from).to_lowercase(), names.join(" + "));
        let edit = Edit { what, why: why.to_owned(), swap: true };
        if !edits.contains(&edit) {
            edits.push(edit);
        }
        Node::seq(nodes)
    });
    (tree, edits)
}

/// Rungs of what is counted in calories are written for those; metres of it come to fewer.
fn of_its_unit(work: &Work, written: Option<&Movement>) -> f64 {
    let each = |unit| written.and_then(|written| written.seconds_per(unit, 0.5));
    let metres_for_calories =
        work.dose.unit == Unit::Metres && written.is_some_and(|written| written.unit == Unit::Calories);
    match (each(Unit::Metres), each(Unit::Calories)) {
        (Some(metre), Some(calorie)) if metres_for_calories && calorie > 0.0 => metre / calorie,
        _ => 1.0,
    }
}

fn swapped(work: &Work, movement: &Movement, factor: f64, load: Option<Kilograms>, gym: &Gym) -> Work {
    let amount = match work.dose.amount {
        Amount::Fixed { first, second } => {
            let scale = |n: f64| (n * factor).round().max(1.0);
            Amount::Fixed { first: scale(first), second: second.map(scale) }
        }
        other => other,
    };
    let unit = if movement.unit == Unit::Calories && work.dose.unit == Unit::Metres {
        Unit::Calories
    } else {
        movement.unit
    };
    let load = load.filter(|_| movement.takes_weight()).map(|wanted| {
        let weight = available(wanted, movement, gym);
        let implements = if movement.load_kind == LoadKind::DumbbellEach { 2 } else { 1 };
        let said = Load::single(weight.kg(), LoadUnit::Kg);
        let unit = unit_of(said, weight, movement, gym);
        Load { implements, ..Load::single(weight.in_unit(unit), unit.into()) }
    });
    let dose = Dose { amount, unit, per_side: work.dose.per_side };
    Work { load, ..Work::new(movement.id.clone(), dose) }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::print::work_text;
    use crate::read::read;
    use crate::session::works;
    use crate::versions::Ladders;

    fn tree(text: &str) -> Node {
        read(text, Catalogue::standard()).session.parts.remove(0).tree
    }

    #[test]
    fn a_machine_in_place_of_another_takes_about_as_long_whatever_it_is_counted_in() {
        let catalogue = Catalogue::standard();
        let seconds = |work: &Work| {
            let movement = catalogue.get(&work.movement).unwrap();
            movement.seconds_per(work.dose.unit, 0.5).unwrap() * work.dose.first().unwrap()
        };
        let mut tried = 0;
        for line in ["2500 m ski", "60 cal ski", "2000 m row", "50 cal row", "1600 m run"] {
            let written = tree(&format!("For time\n{line}\n20 burpees"));
            let work = works(&written)[0].clone();
            for rung in Ladders::standard().all(&work.movement) {
                let [(to, _)] = &rung.to[..] else { continue };
                if !catalogue.get(to).is_some_and(Movement::is_engine) || rung.reason == "skill" {
                    continue;
                }
                let (swapped, _) = swap(&written, rung, 1.0, None, &Gym::default(), catalogue, "why");
                let instead = works(&swapped)[0].clone();
                let ratio = seconds(&instead) / seconds(&work);
                assert!(
                    (0.4..=2.0).contains(&ratio),
                    "{line}: {}, {ratio:.2}",
                    work_text(&instead, catalogue)
                );
                tried += 1;
            }
        }
        assert!(tried >= 8, "{tried}");
    }

    #[test]
    fn a_composite_swap_does_both_parts_in_order() {
        let written = tree("For time\n20 thrusters 40 kg\n20 burpees");
        let ladders = Ladders::standard();
        let id = crate::movement::MovementId::new("thruster");
        let rung = ladders.easier(&id).find(|rung| rung.to.len() == 2).expect("a composite rung");
        let (swapped, edits) =
            swap(&written, rung, 1.0, None, &Gym::default(), Catalogue::standard(), "learning the parts");
        assert_eq!(works(&swapped).len(), 3);
        assert!(edits[0].what.contains(" + "), "{}", edits[0].what);
    }

    #[test]
    fn what_is_done_instead_counts_for_what_was_written_and_for_no_more_when_numbers_are_made_longer() {
        let ladders = Ladders::standard();
        let id = crate::movement::MovementId::new("pull-up");
        let rung = ladders.easier(&id).find(|rung| rung.to.len() == 1 && rung.to[0].1 > 1.2).expect("a rung");
        let each = |text: &str, longer: f64| {
            let instead =
                swap(&tree(text), rung, longer, None, &Gym::default(), Catalogue::standard(), "why");
            let works = works(&instead.0).into_iter().map(|work| work.counts_for().each).collect::<Vec<_>>();
            works[0]
        };
        let (max, fixed) = ("AMRAP 5\nmax pull-ups", "AMRAP 5\n20 pull-ups\n5 burpees");
        let one = 1.0 / rung.to[0].1;
        for (text, longer, expected) in [
            (max, 1.0, one),
            (max, 1.2, one),
            (fixed, 1.0, one),
            (fixed, 1.2, one / 1.2),
            ("For time\n21-15-9\npull-ups\nburpees", 1.0, 1.0),
        ] {
            let each = each(text, longer);
            assert!(
                (each / expected - 1.0).abs() < 0.05,
                "{text}, {longer}: {each:.3}, {expected:.3} wanted"
            );
        }
    }
}
