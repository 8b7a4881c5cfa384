//! What must hold of everybody in every piece, and who breaks it.

use lantern_core::limits::Strictest;
use lantern_core::member::{Experience, Member};
use lantern_core::movement::Catalogue;
use lantern_core::pacing::{Athlete, Fitness, Luck, Measure, Model, Window, simulate};
use lantern_core::plan::MemberPiece;
use lantern_core::print::work_text;
use lantern_core::session::{Amount, Node, Work, works};
use lantern_core::strength::max_for;
use lantern_core::versions::VersionName;

/// What must hold of everybody in every piece.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord)]
pub enum Rule {
    /// Who is on stimulus as written and has no limit stays as written.
    StaysAsWritten,
    /// A version never lowers the chance of a text that nothing speaks against.
    NeverLowersTheChance,
    /// Nothing that somebody spares is in their version.
    KeepsLimits,
    /// No load that a version lowered lies below this share of somebody's max.
    NotTooLight,
    /// Nobody of the quicker third without a limit is given the newcomers' version.
    NoFirstLightForTheQuick,
    /// Less weight and fewer repetitions never take longer for who can do the text.
    Monotone,
    /// Of the quicker third whoever can do the text gets somewhere in it: a slower one may not come through a first hard set.
    CountsSomething,
}

impl Rule {
    /// All of them.
    pub const ALL: [Self; 7] = [
        Self::StaysAsWritten,
        Self::NeverLowersTheChance,
        Self::KeepsLimits,
        Self::NotTooLight,
        Self::NoFirstLightForTheQuick,
        Self::Monotone,
        Self::CountsSomething,
    ];
}

/// Share of one's 1RM below which no load is lowered.
const LEAST_SHARE: f64 = 0.4;
/// Less of anything is nothing, in seconds, rounds or whatever is counted.
const LEAST_COUNT: f64 = 0.05;
/// How much longer a lighter or shorter piece may be predicted: rounding of sets.
const A_TRIFLE: f64 = 1.005;

pub(crate) fn breaks(
    own: &MemberPiece,
    person: &Member,
    window: &Window,
    quick: f64,
    catalogue: &Catalogue,
) -> Vec<(Rule, String)> {
    let mut found = Vec::new();
    let (written, chosen) = (own.as_written(), own.chosen());
    let sound = person.limits.is_empty();
    let stays = chosen.version == VersionName::AsWritten;
    if sound && written.on_stimulus && !stays {
        found.push((Rule::StaysAsWritten, format!("{:?}: {}", chosen.version, written.reason)));
    }
    let (before, after) = (written.predicted.chance, chosen.predicted.chance);
    if sound && written.allowed && after < before - 1e-9 {
        found.push((Rule::NeverLowersTheChance, format!("{:?} {before:.2} to {after:.2}", chosen.version)));
    }
    let spared = |id: &_| {
        let movement = catalogue.get(id);
        movement.is_some_and(|movement| person.limits.iter().any(|limit| limit.spares(movement)))
    };
    let against = |work: &&Work| spared(&work.movement) || is_above_ceiling(work, person, catalogue);
    if let Some(work) = works(&chosen.tree).into_iter().find(against) {
        found.push((Rule::KeepsLimits, work_text(work, catalogue)));
    }
    if sound && let Some(light) = too_light(&written.tree, &chosen.tree, person, catalogue) {
        found.push((Rule::NotTooLight, light));
    }
    if sound
        && chosen.version == VersionName::FirstLight
        && Fitness::of(person).value > quick
        && person.experience != Experience::New
    {
        found.push((Rule::NoFirstLightForTheQuick, written.reason.clone()));
    }
    if own.cannot.is_none()
        && let Some(what) = upside_down(&written.tree, person, window.measure, catalogue)
    {
        found.push((Rule::Monotone, what));
    }
    let most = written.predicted.spread.p90;
    let can = own.cannot.is_none() && !is_nothing(&written.tree);
    if can && Fitness::of(person).value > quick && most < LEAST_COUNT {
        found.push((Rule::CountsSomething, window.measure.show(most)));
    }
    found
}

/// Whether no round of it is asked for, or no time is left for it.
fn is_nothing(node: &Node) -> bool {
    matches!(node, Node::Rounds { times: Some(0), .. } | Node::Within { seconds: 0, .. })
        || node.children().into_iter().any(is_nothing)
}

/// Whether a load is more than somebody's words let them carry.
fn is_above_ceiling(work: &Work, person: &Member, catalogue: &Catalogue) -> bool {
    let most = || {
        let movement = catalogue.get(&work.movement)?;
        let ceiling = Strictest::of(&person.limits, movement);
        let max = max_for(person, &movement.id, catalogue).filter(|_| movement.takes_weight());
        let of_max = ceiling.percent.zip(max).map(|(percent, max)| max.value.share(percent / 100.0));
        ceiling.load.into_iter().chain(of_max).min()
    };
    work.load.and_then(|load| load.weight()).zip(most()).is_some_and(|(weight, most)| weight > most)
}

/// A load of a movement that stands in both trees, lowered too far.
fn too_light(written: &Node, chosen: &Node, person: &Member, catalogue: &Catalogue) -> Option<String> {
    let before = works(written);
    works(chosen).into_iter().find_map(|work| {
        let now = work.load?.weight()?;
        let then = before.iter().find(|old| old.movement == work.movement)?.load?.weight()?;
        let movement = catalogue.get(&work.movement).filter(|movement| movement.is_barbell())?;
        let max = max_for(person, &movement.id, catalogue).filter(|max| !max.guess)?;
        (now < then && now < max.value.share(LEAST_SHARE))
            .then(|| format!("{} {:.1} kg of {:.1}", movement.name, now.kg(), max.value.kg()))
    })
}

/// Whether half of the load or of the repetitions is predicted to take longer.
fn upside_down(tree: &Node, person: &Member, measure: Measure, catalogue: &Catalogue) -> Option<String> {
    let athlete = Athlete::new(person);
    let result =
        |tree: &Node| measure.of(&simulate(tree, &athlete, catalogue, Model::standard(), Luck::MEDIAN));
    let less = |load: f64, reps: f64| {
        tree.map_work(&mut |work| {
            let mut work = work.clone();
            if let Some(weight) = &mut work.load
                && weight.unit.weight().is_some()
            {
                weight.first *= load;
            }
            if let Amount::Fixed { first, second } = work.dose.amount
                && first > 1.0
            {
                work.dose.amount = Amount::Fixed { first: (first * reps).round().max(1.0), second };
            }
            Node::Work(work)
        })
    };
    let before = result(tree);
    if measure.is_count() {
        // Fewer repetitions are fewer in the score, too; and of as much as somebody can, more of one movement costs another.
        return None;
    }
    [("load", less(0.8, 1.0)), ("repetitions", less(1.0, 0.8))].into_iter().find_map(|(what, tree)| {
        let after = result(&tree);
        let worse = if measure.is_time() { after > before * A_TRIFLE } else { after * A_TRIFLE < before };
        worse.then(|| format!("less {what}: {}, before {}", measure.show(after), measure.show(before)))
    })
}
