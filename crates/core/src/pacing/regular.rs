//! The regular whom a text is written for: a consistent person, trained for some years and no competitor, from a roster of two.

use std::sync::LazyLock;

use super::model::Model;
use crate::member::{Max, Member, Sex};
use crate::movement::{Catalogue, LoadKind, Movement, Pattern};
use crate::roster::roster_from_csv;
use crate::session::{Part, Work, works};
use crate::strength::max_for;
use crate::units::Kilograms;

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
                (Pattern::Jump, _) => 40,
                (_, 4) => 4,
                _ => 8,
            };
            let best = member.best_reps.entry(movement.id.clone()).or_insert(least);
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
