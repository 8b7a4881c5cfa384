//! The way up to the bar of a piece, for whoever has the longest.

use std::collections::BTreeMap;

use super::{Here, PiecePlan, StrengthPlan};
use crate::gym::Gym;
use crate::hour::Climb;
use crate::member::Member;
use crate::movement::Catalogue;
use crate::pacing::Athlete;
use crate::session::works;
use crate::strength::{SetKind, load_bar, ramp};
use crate::units::Kilograms;

/// A bar of so much more than what somebody has held today asks for no step in between.
const NO_STEP: f64 = 1.15;

/// The heaviest bar that each member has held today, by name.
pub(super) type Held = BTreeMap<String, Kilograms>;

/// What each member has held in a lift, beside what they held before.
pub(super) fn hold_lift(held: &mut Held, lift: &StrengthPlan) {
    for sheet in lift.sheets.iter().filter(|sheet| sheet.on_a_bar) {
        let work = sheet.sets.iter().filter(|set| set.kind == SetKind::Work);
        let heaviest = work.filter_map(|set| Some(set.load.as_ref()?.total)).max().unwrap_or_default();
        hold(held, &sheet.name, heaviest);
    }
}

fn hold(held: &mut Held, name: &str, load: Kilograms) {
    let most = held.entry(name.to_owned()).or_default();
    *most = load.max(*most);
}

/// The longest way up to the bars of a piece for those who are here, from what everybody has held today; none where nobody has one. What they hold in the piece
/// is held from then on.
pub(super) fn climb(
    (piece, here): (&PiecePlan, &Here),
    people: &[Member],
    held: &mut Held,
    gym: &Gym,
    catalogue: &Catalogue,
) -> Option<Climb> {
    let mut longest: Option<Climb> = None;
    for (member, person) in piece.members.iter().zip(people).filter(|(member, _)| here.has(&member.name)) {
        let bars = works(&member.chosen().tree).into_iter().filter_map(|work| {
            let movement = catalogue.get(&work.movement).filter(|movement| movement.is_barbell())?;
            Some((work.load?.weight()?, movement))
        });
        let Some((load, lift)) = bars.max_by_key(|(load, _)| *load) else { continue };
        let before = held.get(&member.name).copied().unwrap_or_default();
        let bar = load_bar(gym, load);
        let athlete = Athlete::new(person);
        let max = person.maxes.get(&lift.id).map(|max| max.value);
        let max = max.or_else(|| athlete.usual_max(lift, catalogue));
        let percent = max.map_or(70.0, |max| load.kg() / max.kg().max(1.0) * 100.0);
        let steps = if load <= before.share(NO_STEP) {
            0
        } else {
            let steps = ramp(load, percent, bar.bar).into_iter();
            steps.filter(|(step, _)| *step > bar.bar && *step > before).count() as u32
        };
        hold(held, &member.name, load);
        let plates = bar.plates_per_side.len() as u32 * 2;
        let further = |known: &Climb| (steps, load) > (known.steps, known.to);
        if steps > 0 && longest.as_ref().is_none_or(further) {
            longest = Some(Climb { who: member.name.clone(), to: load, steps, plates });
        }
    }
    longest
}
