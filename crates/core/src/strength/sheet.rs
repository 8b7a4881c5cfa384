//! A lift for one member: every set with its load, plates and reason.

use serde::Serialize;

use super::bar::{LoadedBar, load_bar};
use super::dose::{Base, ShareOf};
use super::hold::{Hold, Release};
use super::maxes::Estimate;
use super::percent::percent_for_rpe;
use crate::gym::{Gym, at_or_below};
use crate::movement::{Catalogue, Movement, MovementId};
use crate::units::{Kilograms, plain};
use crate::why::Why;

/// Sets of one lift for one member.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct LiftSheet {
    /// The member's name.
    pub name: String,
    /// The id of the lift that they do.
    pub lift: String,
    /// The id of the lift that was written, where they do another one to keep a limit.
    pub instead_of: Option<String>,
    /// Whether it is done with a bar that plates go on.
    #[serde(skip)]
    pub on_a_bar: bool,
    /// Whether shares are of one's own weight and what is added to it together; loads are what is added.
    #[serde(skip)]
    pub is_hung: bool,
    /// The part of the max that percentages are of; 1 is the max itself.
    #[serde(skip)]
    pub training_max: f64,
    /// What is done with one bar in a complex, in its order, each with its repetitions; empty for a lift of its own.
    pub elements: Vec<(String, u32)>,
    /// The max that loads are counted from; none means by feel.
    pub max: Option<Estimate>,
    /// Ramp and work sets in order.
    pub sets: Vec<SetLoad>,
    /// How to find the load when there is no max.
    pub by_feel: Option<String>,
    /// How far the loads are held back for this member's sake.
    pub held: Option<Hold>,
    /// What was written and why it was held, in words that others may read.
    pub held_why: Option<String>,
    /// The coach's word that they lift as written.
    pub released: Option<Release>,
}

impl LiftSheet {
    /// The id of the lift that was written.
    pub fn written(&self) -> &str {
        self.instead_of.as_deref().unwrap_or(&self.lift)
    }

    /// What is done, as called: the lift, or the elements of a complex with how often each.
    pub fn called(&self, catalogue: &Catalogue) -> String {
        let name = |id: &str| catalogue.name(&MovementId::new(id)).to_owned();
        if self.elements.is_empty() {
            return name(&self.lift);
        }
        let each = self.elements.iter().map(|(id, reps)| format!("{reps} {}", name(id).to_lowercase()));
        each.collect::<Vec<_>>().join(" + ")
    }

    /// The sheet of what is done in place of `written`, and why: `to keep a limit`.
    pub fn in_place_of(mut self, written: &Movement, own: &Movement, why: &str) -> Self {
        self.instead_of = Some(written.id.to_string());
        let swap = format!(
            "{} was written: {} in its place, {why}",
            written.name.to_lowercase(),
            own.name.to_lowercase()
        );
        self.held_too(swap)
    }

    /// With one more reason why it is not as written, in front of those that are known.
    pub(super) fn held_too(mut self, why: String) -> Self {
        self.held_why = Some(match self.held_why {
            Some(held) => format!("{why}; {held}"),
            None => why,
        });
        self
    }

    /// Named by the first element of a complex, whichever decides for somebody.
    pub(super) fn of_complex(mut self, first: &Movement, elements: &[(&Movement, u32)]) -> Self {
        // Who leaves the first element out begins with the next.
        let own = elements.first().map_or(first, |(movement, _)| movement);
        self.lift = own.id.to_string();
        self.instead_of = (own.id != first.id).then(|| first.id.to_string());
        self.elements = elements.iter().map(|(movement, reps)| (movement.id.to_string(), *reps)).collect();
        self
    }

    /// With a range to begin in for who has no max on file, from what somebody like them `usually` lifts once. Of two people like that one
    /// may lift half as much again as the other, so that the feel goes before the number.
    pub fn begun_at(mut self, usually: Kilograms, lift: &Movement, gym: &Gym) -> Self {
        let effort = self.held.as_ref().map_or(BEGIN_AT_RPE, |held| held.effort.min(BEGIN_AT_RPE));
        let hand = gym.sizes_of(lift.load_kind);
        let nearest = |wanted: Kilograms| match lift.is_barbell() {
            true => Some(load_bar(gym, wanted).total),
            false => at_or_below(&hand, wanted),
        };
        let most = self.held.as_ref().and_then(|held| held.load);
        for set in &mut self.sets {
            let share = percent_for_rpe(set.reps.max(1), effort) / 100.0;
            let [low, high] = BEGIN_BETWEEN.map(|part| {
                let wanted = usually.share(share * part);
                nearest(most.map_or(wanted, |most| wanted.min(most)))
            });
            set.range = low.zip(high).filter(|(_, high)| most.is_none_or(|most| *high <= most));
        }
        let first = self.sets.first().and_then(|set| set.range);
        if let (Some((low, high)), Some(feel)) = (first, &mut self.by_feel) {
            let low_words = plain(low.in_unit(gym.unit));
            let begin = if low == high {
                low.show(gym.unit)
            } else {
                format!("{low_words} to {}", high.show(gym.unit))
            };
            *feel = format!("begin with {begin}, a guess; {feel}");
        }
        self
    }

    /// Nothing at all of a lift that somebody spares, where nothing in its place keeps every limit.
    pub fn left_out(mut self) -> Self {
        self.sets.clear();
        self.on_a_bar = false;
        self.by_feel =
            Some("leave it out, to keep a limit: agree with them on what to do instead".to_owned());
        self.held_why = self.by_feel.clone();
        self
    }
}

/// One set.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct SetLoad {
    /// Place in the order, from 1.
    pub set: u32,
    /// Repetitions; 0 for as many as possible.
    pub reps: u32,
    /// The most repetitions, where a range was written.
    pub reps_high: Option<u32>,
    /// As many repetitions as possible, at least those said.
    pub open: bool,
    /// What the load is counted from; none for a step of the climb.
    #[serde(skip)]
    pub base: Option<Base>,
    /// Share of the 1RM in percent.
    pub percent: Option<f64>,
    /// The load to put on, none by feel.
    pub load: Option<LoadedBar>,
    /// Where to begin by feel, and where most stop: for who has no max on file.
    pub range: Option<(Kilograms, Kilograms)>,
    /// Climb or work.
    pub kind: SetKind,
    /// Why this load.
    pub why: Why,
}

impl SetLoad {
    /// Whether the repetitions are each one's own number, a share of the most that they can do.
    pub const fn reps_are_own(&self) -> bool {
        matches!(self.base, Some(Base::Share(ShareOf::MostReps(_))))
    }

    /// Repetitions as called: `5`, `8-10`, `5+` where it goes on, `max`, and `?` where none are written.
    pub fn reps_called(&self) -> String {
        match (self.reps, self.reps_high, self.open) {
            (0, _, true) => "max".to_owned(),
            (0, _, false) => "?".to_owned(),
            (reps, _, true) => format!("{reps}+"),
            (reps, Some(high), _) => format!("{reps}-{high}"),
            (reps, None, _) => reps.to_string(),
        }
    }
}

/// Climbing to the work, or the work.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[serde(rename_all = "lowercase")]
pub enum SetKind {
    /// Before the work.
    Ramp,
    /// The prescribed work.
    Work,
}

/// Effort at which somebody without a max begins, as RPE.
const BEGIN_AT_RPE: f64 = 7.0;
/// Where they begin and where most stop, as shares of what people like them usually do: lifters of one weight and sex differ by about a
/// third. Coaching judgement, to the careful side.
const BEGIN_BETWEEN: [f64; 2] = [0.65, 1.0];

#[cfg(test)]
mod tests {
    use super::*;
    use crate::gym::Gym;
    use crate::member::Member;
    use crate::read::read;
    use crate::strength::lift_sheet;

    fn sheet(text: &str, lift: &str) -> LiftSheet {
        let catalogue = Catalogue::standard();
        let part = read(text, catalogue).session.parts.remove(0);
        lift_sheet(&part, catalogue.find(lift).unwrap(), &Member::default(), &Gym::default(), catalogue)
    }

    #[test]
    fn repetitions_are_called_as_coaches_do() {
        let set = sheet("Back squat 3x5 @ 70%", "back-squat").sets.remove(0);
        let called = |reps, reps_high, open| SetLoad { reps, reps_high, open, ..set.clone() }.reps_called();
        assert_eq!(
            [
                called(5, None, false),
                called(8, Some(10), false),
                called(5, None, true),
                called(5, Some(8), true),
                called(0, None, true),
                called(0, None, false),
            ],
            ["5", "8-10", "5+", "5+", "max", "?"]
        );
    }

    #[test]
    fn what_is_done_in_place_of_a_lift_is_told_with_it() {
        let catalogue = Catalogue::standard();
        let (pull, thrust) = (catalogue.find("deadlift").unwrap(), catalogue.find("hip-thrust").unwrap());
        let own = sheet("Deadlift 3x5 @ 70%", "deadlift");
        assert_eq!((own.written(), own.called(catalogue)), ("deadlift", "Deadlift".to_owned()));
        let other = LiftSheet { lift: thrust.id.to_string(), ..own.clone() }.in_place_of(
            pull,
            thrust,
            "to keep a limit",
        );
        assert_eq!((other.written(), other.called(catalogue)), ("deadlift", "Hip thrust".to_owned()));
        let told = other.held_why.unwrap();
        assert!(told.starts_with("deadlift was written: hip thrust in its place"), "{told}");
        let none = own.clone().left_out();
        assert!(
            none.sets.is_empty()
                && !none.on_a_bar
                && none.by_feel.is_some_and(|why| why.contains("leave it out"))
        );
        let elements = vec![("clean".to_owned(), 1), ("front-squat".to_owned(), 2)];
        assert_eq!(LiftSheet { elements, ..own }.called(catalogue), "1 clean + 2 front squat");
    }
}
