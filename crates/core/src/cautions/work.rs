//! What the day's movements bring along: falls, hands, backs, shoulders, heavy bars, water.
//!
//! Figures are coaching judgement and starting points for the gym.

use super::{Caution, Level, Say};
use crate::member::{Experience, Member};
use crate::movement::{Catalogue, LoadKind, Movement, Pattern, Unit};
use crate::session::{Format, Part, PartKind, Session, totals, works};

/// Rings, box jumps and technical lifts in a piece from which a word is said, in repetitions.
const MANY_RINGS: f64 = 30.0;
const MANY_BOX_JUMPS: f64 = 30.0;
const MANY_TECHNICAL: f64 = 30.0;
/// Upside down from here on is told of twice over.
const MANY_INVERTED: f64 = 40.0;
/// Springs of the calf in a day: a rebounding jump counts one, four double-unders, eight singles or forty metres run
/// count as much.
const MANY_SPRINGS: f64 = 120.0;
/// Repetitions times what each asks of the low back, in one part.
const MUCH_BACK: f64 = 60.0;
/// Deadlifts for time likewise.
const MANY_DEADLIFTS: f64 = 30.0;
/// Repetitions times what each asks of the shoulder, over the day.
const MUCH_SHOULDER: f64 = 90.0;
/// Shares of the 1RM, in percent, from which a bench press and a squat want a spotter or safety bars.
const HEAVY_BENCH: f64 = 80.0;
const HEAVY_SQUAT: f64 = 85.0;
/// An effort from which they do likewise.
const HARD_RPE: f64 = 9.0;

/// Everything that follows from the work itself.
pub(super) fn work(session: &Session, members: &[Member], catalogue: &Catalogue, found: &mut Vec<Caution>) {
    let day = Day { session, catalogue };
    on_the_floor(&day, &mut Say { found, step: "versions" });
    under_the_bar(&day, members, &mut Say { found, step: "loads" });
}

struct Day<'a> {
    session: &'a Session,
    catalogue: &'a Catalogue,
}

impl Day<'_> {
    /// Amounts of a part with their movements.
    fn of_part<'b>(&'b self, part: &'b Part) -> impl Iterator<Item = (&'b Movement, f64, Unit)> {
        let known = |total: crate::session::Total| {
            Some((self.catalogue.get(&total.movement)?, total.amount, total.unit))
        };
        totals(&part.tree).into_iter().filter_map(known)
    }

    fn all(&self) -> impl Iterator<Item = (&Movement, f64, Unit)> {
        self.session.parts.iter().flat_map(|part| self.of_part(part))
    }

    fn reps(&self, test: impl Fn(&Movement) -> bool) -> f64 {
        self.all().filter(|(m, _, unit)| *unit == Unit::Reps && test(m)).map(|(_, reps, _)| reps).sum()
    }

    fn has(&self, test: impl Fn(&Movement) -> bool) -> bool {
        let works = self.session.parts.iter().flat_map(|part| works(&part.tree));
        works.into_iter().filter_map(|work| self.catalogue.get(&work.movement)).any(test)
    }
}

fn on_the_floor(day: &Day<'_>, say: &mut Say<'_>) {
    if day.has(|m| m.id.as_str().contains("rope-climb") || m.id.as_str().contains("pegboard")) {
        say.class("rope-height", Level::Stop, "Rope climbs: mats down, one person per rope, legs clamped on the way down. If anyone doubts the trip down, they pull from the floor instead.".to_owned());
    }
    if day.has(|m| m.id.as_str().contains("swim")) {
        say.class("water", Level::Stop, "Swimming: lifeguard on duty, no breath-hold games, nobody hard and alone, ability asked beforehand.".to_owned());
    }
    let upside_down = |m: &Movement| m.id.as_str().contains("handstand") || m.id.as_str() == "wall-walk";
    if day.has(upside_down) {
        let reps = day.reps(upside_down);
        let many = if reps > MANY_INVERTED { format!("{reps:.0} reps upside down. ") } else { String::new() };
        say.class("inverted", Level::Care, format!("{many}Clear space, the way out learned first, and no dropping onto the head. Pike or dumbbell press when the lowering gets fast."));
    }
    let rings =
        day.reps(|m| m.equipment.iter().any(|kit| kit == "rings") && m.pattern != Pattern::PullHorizontal);
    if rings >= MANY_RINGS {
        say.class("rings", Level::Care, format!("{rings:.0} reps on rings: check buckles and height; a still support comes before dips; feet within reach of the floor for newer people."));
    }
    let jumps = day.reps(|m| m.id.as_str().contains("box-jump"));
    if jumps >= MANY_BOX_JUMPS {
        say.class("box-jump", Level::Care, format!("{jumps:.0} box jumps: step down, choose a height that holds in the last round, step over once the jump gets ragged. Missed jumps cost shins."));
    }
    let springs: f64 = day
        .all()
        .map(|(m, amount, unit)| match (m.id.as_str(), unit) {
            ("double-under", Unit::Reps) => amount / 4.0,
            ("single-under", Unit::Reps) => amount / 8.0,
            (id, Unit::Reps) if id.contains("box-jump") => amount,
            (id, Unit::Metres) if id.contains("run") => amount / 40.0,
            _ => 0.0,
        })
        .sum();
    if springs >= MANY_SPRINGS {
        say.class("achilles-calf", Level::Care, format!("Much spring work on the calves today (as much as {springs:.0} box jumps). Step down from the box, halve the skipping for those over-sore or just back; a sudden sharp pain behind the ankle needs a doctor."));
    }
    for part in day.session.parts.iter().filter(|part| part.kind == PartKind::Conditioning) {
        let reps = || day.of_part(part).filter(|(_, _, unit)| *unit == Unit::Reps);
        let hinge = |m: &Movement| matches!(m.pattern, Pattern::Hinge | Pattern::Olympic);
        let back: f64 = reps().filter(|(m, ..)| hinge(m)).map(|(m, n, _)| n * m.joint("low_back")).sum();
        let deadlifts: f64 = reps().filter(|(m, ..)| m.id.as_str() == "deadlift").map(|(_, n, _)| n).sum();
        if back >= MUCH_BACK || (deadlifts >= MANY_DEADLIFTS && part.format == Some(Format::ForTime)) {
            say.class("low-back-fatigue", Level::Care, "Many hinges in one piece, and tired backs round. A load that could be held for twice the set, early breaks, and stop the bar, not the clock, when the shape goes.".to_owned());
        }
        let technical: f64 = reps().filter(|(m, ..)| m.is_barbell() && m.skill >= 3).map(|(_, n, _)| n).sum();
        if technical > MANY_TECHNICAL {
            say.class("technical-under-fatigue", Level::Care, format!("{technical:.0} reps of a technical lift against the clock: lower the load, use singles, or the power version."));
        }
        let vest = works(&part.tree)
            .into_iter()
            .any(|work| day.catalogue.get(&work.movement).is_some_and(|m| m.load_kind == LoadKind::Vest));
        if vest {
            say.class(
                "vest-and-load-on-impact",
                Level::Care,
                "Extra weight on landings and the bar: the vest comes off first when form slips.".to_owned(),
            );
        }
    }
    let shoulder: f64 = day
        .all()
        .filter(|(m, _, unit)| *unit == Unit::Reps && !matches!(m.pattern, Pattern::Prep | Pattern::Mobility))
        .map(|(m, reps, _)| reps * m.joint("shoulder"))
        .sum();
    if shoulder >= MUCH_SHOULDER {
        say.class("overhead-wrist-shoulder", Level::Care, "Many reps overhead or hanging today. Offer dumbbells, a neutral grip, or a press below shoulder height. Pinching or numbness means change the movement today.".to_owned());
    }
}

fn under_the_bar(day: &Day<'_>, members: &[Member], say: &mut Say<'_>) {
    let strength = || day.session.parts.iter().filter(|part| part.kind == PartKind::Strength);
    let lift_of = |part: &Part| works(&part.tree).first().and_then(|work| day.catalogue.get(&work.movement));
    let heaviest = |part: &Part| part.strength.percent.iter().map(|[_, high]| *high).fold(0.0, f64::max);
    let hard = |part: &Part| part.strength.rpe.is_some_and(|[_, high]| high >= HARD_RPE);
    let heavy = |part: &&Part| {
        lift_of(part).is_some_and(|lift| {
            let (bench, squat) = (lift.id.as_str().contains("bench"), lift.pattern == Pattern::Squat);
            let tested = part.strength.rm.is_some() || hard(part);
            (bench && (tested || heaviest(part) >= HEAVY_BENCH))
                || (squat && lift.is_barbell() && (tested || heaviest(part) >= HEAVY_SQUAT))
        })
    };
    if strength().any(|part| heavy(&part)) {
        say.class("spotting", Level::Stop, "Heavy today. Bench: a spotter with hands ready, or safety arms. Squat: safety bars just below the bottom, or bailing practised first. Olympic and overhead lifts are never spotted by hand.".to_owned());
    }
    let tests: Vec<&Part> = strength().filter(|part| part.strength.rm == Some(1)).collect();
    let newer: Vec<&str> = members
        .iter()
        .filter(|member| member.experience < Experience::Intermediate)
        .map(|member| member.name.as_str())
        .collect();
    if tests.len() > 1 {
        say.class(
            "first-max",
            Level::Care,
            format!(
                "{} lifts tested in one class: one, and a smooth heavy five of the other, is plenty.",
                tests.len()
            ),
        );
    } else if !tests.is_empty() && !newer.is_empty() {
        let text = format!(
            "No test yet for {}: a smooth heavy five, and let the estimate do the rest.",
            newer.join(", ")
        );
        say.members("first-max", Level::Care, newer, text);
    }
}

#[cfg(test)]
mod tests {
    use super::super::{Caution, cautions};
    use super::*;
    use crate::read::read;

    fn found(text: &str) -> Vec<Caution> {
        let catalogue = Catalogue::standard();
        let newer = Member { name: "Newer".to_owned(), ..Member::default() };
        let older =
            Member { name: "Older".to_owned(), experience: Experience::Advanced, ..Member::default() };
        cautions(&read(text, catalogue).session, &[newer, older], &[], catalogue)
    }

    /// A day that sets each caution off, and one that just does not.
    #[test]
    fn each_trigger_holds_at_its_figure_and_not_below() {
        for (code, over, under) in [
            ("rope-height", "5 rounds for time\n1 rope climb", "5 rounds for time\n3 ring rows"),
            ("inverted", "For time\n20 handstand push-ups", "For time\n20 push-ups"),
            ("rings", "3 rounds for time\n10 ring dips", "2 rounds for time\n10 ring dips"),
            ("box-jump", "3 rounds for time\n10 box jumps", "2 rounds for time\n10 box jumps"),
            ("achilles-calf", "For time\n5 km run", "For time\n2 km run"),
            ("low-back-fatigue", "For time\n30 deadlifts 60 kg", "For time\n10 deadlifts 60 kg"),
            ("technical-under-fatigue", "For time\n40 snatches 40 kg", "For time\n20 snatches 40 kg"),
            ("spotting", "Back squat 3x2 @ 90%", "Back squat 3x5 @ 75%"),
            ("first-max", "Back squat\nbuild to a 1RM in 20 min", "Back squat 5x5 @ 70%"),
            (
                "overhead-wrist-shoulder",
                "10 rounds for time\n20 push presses 30 kg",
                "3 rounds for time\n10 push presses 30 kg",
            ),
        ] {
            let codes = |text: &str| found(text).iter().map(|caution| caution.code).collect::<Vec<_>>();
            assert!(codes(over).contains(&code), "{code}: {:?}", codes(over));
            assert!(!codes(under).contains(&code), "{code}: {:?}", codes(under));
        }
    }

    #[test]
    fn a_test_names_those_for_whom_it_is_too_soon_and_stands_on_the_loads() {
        let found = found("Back squat\nbuild to a 1RM in 20 min");
        let first = found.iter().find(|caution| caution.code == "first-max").unwrap();
        assert_eq!((&first.members[..], first.step), (&["Newer".to_owned()][..], "loads"));
    }
}
