//! The same effort on another machine: as much of it as takes somebody the same time, in numbers that coaches say.

use super::ability::Athlete;
use super::model::Model;
use super::simulate::{How, Luck, simulate_as};
use crate::movement::{Catalogue, Movement, Unit};
use crate::session::{Amount, Dose, Node, StandsFor, Work};

/// The figure that an amount is rounded to: small numbers exactly, bigger ones as they are written on boards.
pub(crate) fn step(amount: f64, unit: Unit) -> f64 {
    match unit {
        Unit::Metres if amount >= 1000.0 => 100.0,
        Unit::Metres if amount >= 100.0 => 50.0,
        Unit::Metres => 5.0,
        _ if amount >= 100.0 => 10.0,
        _ if amount >= 30.0 => 5.0,
        _ => 1.0,
    }
}

/// A number to the nearest step, and never under one.
pub(crate) fn nearest(value: f64, step: f64) -> f64 {
    (value / step).round().max(1.0) * step
}

/// An amount to the nearest [`step`] of its own, as it is written on boards.
pub(crate) fn on_a_board(amount: f64, unit: Unit) -> f64 {
    nearest(amount, step(amount, unit))
}

/// What `to` is counted in where it stands for something counted in `from`: calories stay calories and metres metres, but that a bike's
/// metres tell nobody anything.
fn counted_in(from: Unit, to: &Movement) -> Unit {
    match from {
        Unit::Seconds => Unit::Seconds,
        Unit::Calories if to.unit == Unit::Calories => Unit::Calories,
        Unit::Metres if matches!(to.id.as_str(), "row" | "ski") => Unit::Metres,
        _ => to.unit,
    }
}

/// Twenty of something, and of metres a hundred.
const SOME: f64 = 20.0;
/// Most times that a work is walked to find its pace.
const MOST_TIMES: f64 = 40.0;

/// Whether a movement in place of another can be counted by the same numbers, as the rungs of a scheme want it.
pub fn keeps_count(work: &Work, to: &Movement) -> bool {
    counted_in(work.dose.unit, to) == work.dose.unit
}

/// A work with another movement in its place, for as long as each of a pair needs for theirs in an effort of `length_s` seconds: the first
/// number by the first person, the second by the second. What has no number of its own keeps where it comes from. No load goes along.
pub fn in_the_time_of(
    work: &Work,
    to: &Movement,
    pair: [&Athlete<'_>; 2],
    length_s: f64,
    catalogue: &Catalogue,
    model: &Model,
) -> Work {
    let unit = counted_in(work.dose.unit, to);
    let seconds = |movement, dose: Dose, times: u32, athlete: &Athlete<'_>| {
        let of = Box::new(Node::Work(Work::new(movement, dose)));
        let node = Node::Rounds { times: Some(times), rest_s: None, of };
        simulate_as(How::default(), &node, athlete, catalogue, model, Luck::MEDIAN).finish_s
    };
    let converted = |amount: f64, athlete: &Athlete<'_>| {
        let from =
            |times| seconds(work.movement.clone(), Dose::fixed(amount, work.dose.unit), times, athlete);
        // At the pace of the whole effort, not of a sprint.
        let times = (length_s / from(1).max(1.0)).round().clamp(1.0, MOST_TIMES) as u32;
        let wanted = from(times);
        // A first guess in its own unit: metres taken for calories would end after any class, where a walk is given up.
        let mut now = match to.seconds_per(unit, 0.5) {
            Some(each) if each > 0.0 => (wanted / f64::from(times) / each).max(1.0),
            _ => amount.max(1.0),
        };
        // The longer the slower: nearly straight, so that a few steps find it.
        for _ in 0..4 {
            now *= wanted / seconds(to.id.clone(), Dose::fixed(now, unit), times, athlete).max(1.0);
        }
        now
    };
    if work.dose.unit == Unit::Seconds {
        let one = work.stands_for.or_else(|| {
            let from = catalogue.get(&work.movement)?;
            Some(StandsFor { each: 1.0, unit: from.unit }).filter(|of| of.unit != Unit::Seconds)
        });
        let each = |movement: &Movement| movement.seconds_per(movement.unit, 0.5);
        let ratio = catalogue.get(&work.movement).and_then(each).zip(each(to));
        let stands_for = one.zip(ratio).map(|(of, (old, new))| StandsFor { each: of.each * new / old, ..of });
        return Work { movement: to.id.clone(), load: None, percent: Vec::new(), stands_for, ..work.clone() };
    }
    let some = step(SOME, work.dose.unit) * SOME;
    let (amount, of_old, of_this) = match work.dose.amount {
        Amount::Fixed { first, second } => {
            let (sides, [him, her]) = (work.dose.sides(), pair);
            let own = on_a_board(converted(first * sides, him), unit);
            let other = on_a_board(converted(second.unwrap_or(first) * sides, her), unit);
            (Amount::Fixed { first: own, second: (own != other).then_some(other) }, first * sides, own)
        }
        // Of what has no number, some is as good as all of it to tell one by the other.
        other => (other, some, converted(some, pair[0])),
    };
    let dose = Dose { amount, unit, per_side: false };
    Work::new(to.id.clone(), dose).in_place_of(work, of_old, of_this)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::member::Sex;
    use crate::pacing::regular;
    use crate::read::read;
    use crate::session::works;

    fn becomes(line: &str, to: &str) -> (Option<f64>, Unit) {
        let (catalogue, model) = (Catalogue::standard(), Model::standard());
        let tree = read(&format!("For time\n{line}\n10 burpees"), catalogue).session.parts.remove(0).tree;
        let him = Athlete::new(regular(Sex::M));
        let work = in_the_time_of(
            works(&tree)[0],
            catalogue.find(to).unwrap(),
            [&him, &him],
            600.0,
            catalogue,
            model,
        );
        (work.dose.first(), work.dose.unit)
    }

    #[test]
    fn a_run_is_rowed_in_metres_and_cycled_in_calories_for_as_long() {
        let (row, unit) = becomes("400 m run", "row");
        assert!(
            unit == Unit::Metres && (350.0..=550.0).contains(&row.unwrap()) && row.unwrap() % 50.0 == 0.0
        );
        let (bike, unit) = becomes("400 m run", "bike");
        assert!(unit == Unit::Calories && (15.0..=40.0).contains(&bike.unwrap()), "{bike:?}");
        let (run, unit) = becomes("20 cal row", "run");
        assert!(unit == Unit::Metres && (200.0..=400.0).contains(&run.unwrap()), "{run:?}");
        assert_eq!(becomes("20 cal row", "ski").1, Unit::Calories);
    }

    #[test]
    fn what_a_team_does_in_step_it_does_in_step_on_another_machine_too() {
        let (catalogue, model) = (Catalogue::standard(), Model::standard());
        let him = Athlete::new(regular(Sex::M));
        let tree =
            read("Teams of 2, for time\n30 cal row\n10 burpees", catalogue).session.parts.remove(0).tree;
        let work = |in_step| Work { in_step, ..works(&tree)[0].clone() };
        let on = catalogue.find("bike").unwrap();
        let instead =
            |in_step| in_the_time_of(&work(in_step), on, [&him, &him], 600.0, catalogue, model).in_step;
        assert_eq!((instead(true), instead(false)), (true, false));
    }

    #[test]
    fn whatever_is_done_instead_takes_as_long() {
        let (catalogue, model) = (Catalogue::standard(), Model::standard());
        let him = Athlete::new(regular(Sex::M));
        let seconds = |work: &Work| {
            let node = Node::Work(work.clone());
            simulate_as(How::default(), &node, &him, catalogue, model, Luck::MEDIAN).finish_s
        };
        for line in ["400 m run", "5000 m run", "2500 m ski", "2000 m row", "60 cal row", "12 cal ski"] {
            for to in ["row", "ski", "bike", "run"] {
                let tree =
                    read(&format!("For time\n{line}\n10 burpees"), catalogue).session.parts.remove(0).tree;
                let written = works(&tree)[0];
                let length = seconds(written);
                let to = catalogue.find(to).unwrap();
                let instead = in_the_time_of(written, to, [&him, &him], length, catalogue, model);
                let off = seconds(&instead) / length - 1.0;
                assert!(off.abs() < 0.2, "{line} as {:?} {}: {off:.2}", instead.dose, to.name);
            }
        }
    }

    #[test]
    fn what_has_no_number_keeps_where_it_comes_from() {
        let (catalogue, model) = (Catalogue::standard(), Model::standard());
        let him = Athlete::new(regular(Sex::M));
        let dose = Dose { amount: Amount::Max, unit: Unit::Calories, per_side: false };
        let work = Work::new(crate::movement::MovementId::new("row"), dose);
        let run =
            in_the_time_of(&work, catalogue.find("run").unwrap(), [&him, &him], 600.0, catalogue, model);
        assert_eq!((run.dose.amount, run.dose.unit), (Amount::Max, Unit::Metres));
    }

    #[test]
    fn figures_are_as_they_are_written_on_boards() {
        let steps = [
            (1600.0, Unit::Metres, 100.0),
            (1000.0, Unit::Metres, 100.0),
            (400.0, Unit::Metres, 50.0),
            (100.0, Unit::Metres, 50.0),
            (60.0, Unit::Metres, 5.0),
            (120.0, Unit::Calories, 10.0),
            (100.0, Unit::Reps, 10.0),
            (45.0, Unit::Reps, 5.0),
            (30.0, Unit::Calories, 5.0),
            (21.0, Unit::Calories, 1.0),
        ];
        for (amount, unit, said) in steps {
            assert_eq!(step(amount, unit), said, "{amount} {unit:?}");
        }
    }
}
