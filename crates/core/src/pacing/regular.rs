//! The regular whom a text is written for: a consistent man or woman, trained for some years and no competitor. Their figures in
//! `data/regulars.csv` are coaching judgement.

use std::sync::LazyLock;

use super::model::Model;
use crate::member::{Max, Member, Sex};
use crate::movement::{Catalogue, LoadKind, Movement, Pattern};
use crate::roster::roster_from_csv;
use crate::session::{Part, Work, works};
use crate::strength::max_for;
use crate::units::Kilograms;

/// Repetitions that are taken for granted of who is handed a skill: of double-unders and other jumps, of the hardest skills, of the
/// others. Coaching judgement.
const JUMPS: u32 = 40;
const HARDEST: u32 = 4;
const SKILLS: u32 = 8;

static REGULARS: LazyLock<Vec<Member>> =
    LazyLock::new(|| roster_from_csv(include_str!("../../../../data/regulars.csv")).0);

/// The regular of a sex as they are on file, whatever is written.
pub fn regular(sex: Sex) -> &'static Member {
    let found = REGULARS.iter().find(|member| member.sex == Some(sex));
    found.or(REGULARS.first()).expect("the roster of regulars holds somebody")
}

/// The regular whom a part is written for: as on file, but strong enough for its loads and with the skills that it asks for, since
/// nobody writes for people who cannot begin.
pub fn typical_member(part: &Part, sex: Sex, catalogue: &Catalogue, model: &Model) -> Member {
    let mut member = regular(sex).clone();
    for work in works(&part.tree) {
        let Some(movement) = catalogue.get(&work.movement) else { continue };
        if let Some(least) = least_max(work, movement, sex, model)
            && max_for(&member, &movement.id, catalogue).is_none_or(|max| max.value < least)
        {
            member.maxes.insert(movement.id.clone(), Max::on_file(least));
        }
        if movement.skill >= 2 && movement.load_kind == LoadKind::None {
            let least = match (movement.pattern, movement.skill) {
                (Pattern::Jump, _) => JUMPS,
                (_, 4) => HARDEST,
                _ => SKILLS,
            };
            let best = member.best_reps.entry(movement.id.clone()).or_default();
            *best = (*best).max(least);
        }
    }
    member
}

/// The least 1RM with which the written load is no more than `most_of_max`.
fn least_max(work: &Work, movement: &Movement, sex: Sex, model: &Model) -> Option<Kilograms> {
    let load = work.load.as_ref().filter(|_| movement.takes_weight())?;
    let weight = if sex == Sex::M { load.weight() } else { load.lighter_weight() };
    Some(weight?.share(1.0 / model.intent.most_of_max))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::read::read;

    #[test]
    fn a_man_and_a_woman_are_on_file_without_a_fault() {
        let (members, faults) = roster_from_csv(include_str!("../../../../data/regulars.csv"));
        assert!(faults.is_empty(), "{faults:?}");
        assert_eq!(members.iter().map(|member| member.sex).collect::<Vec<_>>(), [Some(Sex::M), Some(Sex::F)]);
    }

    #[test]
    fn who_a_text_is_written_for_can_begin_with_it_and_is_else_as_on_file() {
        let (catalogue, model) = (Catalogue::standard(), Model::standard());
        let part = |text: &str| read(text, catalogue).session.parts.remove(0);
        let heavy = typical_member(
            &part("For time\n30 snatches 100/70 kg\n5 ring muscle-ups"),
            Sex::M,
            catalogue,
            model,
        );
        let max = max_for(&heavy, &crate::movement::MovementId::new("snatch"), catalogue).unwrap();
        assert!(max.value.share(model.intent.most_of_max + 0.001) >= Kilograms::from_kg(100.0), "{max:?}");
        assert!(heavy.best("ring-muscle-up").unwrap() >= HARDEST);
        let light = typical_member(&part("For time\n30 snatches 35/25 kg"), Sex::M, catalogue, model);
        assert_eq!(light.maxes, regular(Sex::M).maxes);
    }
}
