//! Putting a load on: what it comes to before plates, what the plates or the rack of hand weights make of it, and why.

use super::bar::{LoadedBar, at_most, nearest_bar, usual_bar};
use super::dose::{Asked, Base, ShareOf};
use super::lift::percent_of;
use super::maxes::Estimate;
use super::percent::percent_for_reps;
use crate::gym::Gym;
use crate::movement::Movement;
use crate::session::{Part, TrainingMax};
use crate::units::{Kilograms, plain};
use crate::why::Why;

/// Below this share of what was meant, a hand weight is said to be lighter than that.
const LIGHT_SHARE: f64 = 0.9;

/// How far a bar may be over what somebody is held to: as far as nobody feels it.
const OVER_THE_HOLD: f64 = 1.02;

/// How the loads of one lift are put on for one person.
pub(super) struct Loading<'a> {
    pub gym: &'a Gym,
    pub lift: &'a Movement,
    pub max: Option<&'a Estimate>,
    /// Percent that a tempo takes off.
    pub tempo: f64,
    /// One's own weight, where shares are of it and what hangs on it together.
    pub body: Option<Kilograms>,
    pub held: bool,
    pub training_max: Training,
    /// Whether the text names neither load nor effort.
    pub assumed: bool,
    pub first_of_pair: bool,
    /// Dumbbells or kettlebells, lightest first.
    pub hand: &'a [Kilograms],
}

/// The part of a max that percentages are of.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Training {
    /// 1 is the max itself.
    pub share: f64,
    /// Whether nobody says how much it is.
    pub guessed: bool,
}

impl Training {
    /// What a training max is commonly taken to be, where a text speaks of one and nobody says more: nine tenths.
    const USUAL: f64 = 0.9;

    /// By the text, or else by the gym.
    pub fn of(part: &Part, gym: &Gym) -> Self {
        let (share, guessed) = match part.strength.training_max {
            Some(TrainingMax::Percent(percent)) => (percent / 100.0, false),
            Some(TrainingMax::Usual) if gym.training_max >= 1.0 => (Self::USUAL, true),
            Some(TrainingMax::Usual) | None => (gym.training_max, false),
        };
        Self { share, guessed }
    }
}

impl Loading<'_> {
    /// What shares are taken of: of the training max where the gym has one and the text names a percentage, and so is what follows a top set.
    fn base(&self, set: &Asked) -> Kilograms {
        let max = self.max.map_or(Kilograms::ZERO, |max| max.value);
        let of_training_max = matches!(set.base, Base::Percent | Base::Share(ShareOf::TopSet));
        if of_training_max { max.share(self.training_max.share) } else { max }
    }

    /// The load as worked out, before plates.
    pub fn exact(&self, set: &Asked) -> Kilograms {
        let eased = 1.0 - self.tempo / 100.0;
        match (set.base, set.base.weight()) {
            (Base::Weight(_) | Base::Step { .. }, Some(weight)) => weight,
            (_, Some(weight)) => weight.share(eased),
            (_, None) => {
                let all = self.base(set).share(set.percent / 100.0 * eased);
                self.body.map_or(all, |body| all.saturating_sub(body))
            }
        }
    }

    /// Tests, builds and what is held are rounded down, all else to the nearest.
    fn goes_down(&self, set: &Asked) -> bool {
        self.held || matches!(set.base, Base::Build(_))
    }

    /// What is put on for a set that comes to `exact` before plates, and why; nothing where no load follows from what is written.
    pub fn put_on(&self, set: &Asked, exact: Kilograms) -> (Option<LoadedBar>, Why) {
        match set.base {
            Base::Beyond(percent) => {
                let said = format!("{} % is no share of a maximum that can be lifted", plain(percent));
                (None, Why::new("by feel").because(said))
            }
            Base::Effort(_) if set.percent == 0.0 => {
                (None, Why::new("by feel").because("neither a load nor repetitions are written"))
            }
            _ => self.loaded(set, exact),
        }
    }

    /// What a set with its load is shown as a share of the maximum, in percent; of a weight what it comes to, together with the body that it
    /// hangs on.
    pub fn share(&self, set: &Asked, load: &LoadedBar) -> Option<f64> {
        let is_written = set.base.weight().is_some();
        let whole = match self.body {
            Some(body) if is_written => load.total + body,
            None if is_written || !self.lift.is_barbell() => load.total,
            _ => return Some(set.percent),
        };
        self.max.map(|max| percent_of(whole, max).round())
    }

    fn loaded(&self, set: &Asked, exact: Kilograms) -> (Option<LoadedBar>, Why) {
        let unit = self.gym.unit;
        let mut why = Why::new("");
        match (set.base, self.max) {
            (Base::Share(ShareOf::Lift(counted)), _) => {
                let (of, weight) = (counted.of.show(unit), counted.weight.show(unit));
                why = why.because(format!("the written share of another lift's {of}: {weight}"));
            }
            (Base::Share(ShareOf::TodayOf(counted)), _) => {
                let (of, weight) = (counted.of.show(unit), counted.weight.show(unit));
                why = why.because(format!(
                    "the written share of what today's build is to end at, {of} by the figure on file until that is lifted: {weight}"
                ));
            }
            (Base::Share(ShareOf::Bodyweight(counted)), _) => {
                let (of, weight) = (counted.of.show(unit), counted.weight.show(unit));
                why = why.because(format!("the written share of a bodyweight of {of}: {weight}"));
            }
            (Base::Weight(weight), _) => why = why.because(format!("{} as written", weight.show(unit))),
            (Base::Step { first, jump, .. }, _) => {
                let (first, jump) = (first.show(unit), jump.show(unit));
                why = why.because(format!(
                    "no weight is written to begin with: {first} is a guess, light for them"
                ));
                why = why.because(format!("{jump} more each set, as written"));
            }
            (_, Some(max)) => {
                why = why.because(max.basis.clone());
                if self.base(set) < max.value {
                    let Training { share, guessed } = self.training_max;
                    let share = plain(share * 100.0);
                    why = if guessed {
                        let step = format!(
                            "training max: {share} % of it, a guess: neither the text nor the gym says how much"
                        );
                        why.because(step).guessed()
                    } else {
                        why.because(format!("training max: {share} % of it"))
                    };
                }
                if let Base::Effort(rpe) | Base::Build(rpe) = set.base {
                    why = why.because(match set.base {
                        Base::Effort(_) if set.reps == 0 => {
                            "as many as possible with what the sets before are done with".to_owned()
                        }
                        Base::Build(_) => format!("a build that ends at RPE {}", plain(rpe)),
                        _ if self.assumed => format!(
                            "no load is written: {} at RPE {} is an assumption",
                            set.reps.max(1),
                            plain(rpe)
                        ),
                        _ => format!("{} at RPE {}: {} %", set.reps.max(1), plain(rpe), plain(set.percent)),
                    });
                }
                if let Base::Share(of) = set.base {
                    why = why.because(match of {
                        ShareOf::Rm(reps) => {
                            let of_one = plain(percent_for_reps(f64::from(reps)));
                            format!("{reps} repetitions take {of_one} % of what one does, and the share is of that")
                        }
                        ShareOf::TopSet => "a share of the top set before".to_owned(),
                        ShareOf::Today
                        | ShareOf::TodayOf(_)
                        | ShareOf::Lift(_)
                        | ShareOf::Bodyweight(_)
                        | ShareOf::MostReps(_) => {
                            "a share of today's heaviest: by the figure on file until that is lifted".to_owned()
                        }
                    });
                }
                let all = exact + self.body.unwrap_or_default();
                let straight = all.share(1.0 / (1.0 - self.tempo / 100.0));
                let percent = plain((set.percent * 10.0).round() / 10.0);
                why = why.because(format!("{percent} % of that is {}", straight.show(unit)));
                if let Some(body) = self.body {
                    let (body, added) = (body.show(unit), exact.show(unit));
                    why = why.because(format!("{body} of it is one's own weight: {added} is added"));
                }
                if self.tempo > 0.0 {
                    let off = plain(self.tempo);
                    why = why.because(format!("tempo takes off {off} %: {}", exact.show(unit)));
                }
            }
            (_, None) => {}
        }
        let down = self.goes_down(set);
        let load = if self.lift.is_barbell() {
            let bar = usual_bar(self.gym, self.first_of_pair);
            let put_on = if down { at_most } else { nearest_bar };
            let loaded = put_on(self.gym, bar, exact);
            if self.held && loaded.total.kg() > exact.kg() * OVER_THE_HOLD {
                let said =
                    format!("the lightest bar is heavier than {}: by feel, with less", exact.show(unit));
                why = why.because(said);
                why.figure = "by feel".to_owned();
                return (None, why);
            }
            let how = if down { "rounded down to" } else { "nearest to that is" };
            why = why.because(format!("{how} what the plates make: {}", loaded.total.show(unit)));
            Some(loaded)
        } else {
            self.in_the_hand(set, exact, &mut why)
        };
        why.figure = load.as_ref().map_or_else(|| "by feel".to_owned(), |load| load.total.show(unit));
        if self.max.is_some()
            && matches!(set.base, Base::Build(_))
            && set.percent > percent_for_reps(f64::from(set.reps.max(1))) - 0.01
        {
            why = why.because("all of the old figure: only if the set before moved well");
        }
        (load, why)
    }

    /// Dumbbells or kettlebells as the gym has them; what is neither is taken as written.
    fn in_the_hand(&self, set: &Asked, exact: Kilograms, why: &mut Why) -> Option<LoadedBar> {
        let unit = self.gym.unit;
        let of = |total: Kilograms| LoadedBar { total, bar: total, plates_per_side: Vec::new() };
        let mut say = |words: String| why.steps.push(words);
        if self.hand.is_empty() {
            if matches!(set.base, Base::Weight(_)) {
                return Some(of(exact));
            }
            // What hangs on a belt is plates, one by one.
            let plates = self.gym.plates.iter().filter(|plate| plate.count > 0);
            let step = plates.map(|plate| plate.weight).min_by(f64::total_cmp).filter(|step| *step > 0.0)?;
            let steps = exact.in_unit(unit) / step;
            let steps = if self.goes_down(set) { steps.floor() } else { steps.round() };
            let added = Kilograms::from_unit(steps * step, unit);
            say(format!("nearest to that in plates: {}", added.show(unit)));
            return Some(of(added));
        }
        let off = |weight: &&Kilograms| (weight.kg() - exact.kg()).abs();
        let below = self.hand.iter().rev().find(|weight| **weight <= exact);
        // Of two as near the lighter: the list is from light to heavy.
        let nearest = self.hand.iter().min_by(|a, b| off(a).total_cmp(&off(b)));
        let Some(total) = (if self.goes_down(set) { below } else { nearest }).copied() else {
            say("the lightest in the rack is heavier: by feel, or with less".to_owned());
            return None;
        };
        // A lightest weight that is far over what was meant is nobody's.
        if total.kg() > exact.kg() / LIGHT_SHARE && below.is_none() {
            say("the lightest in the rack is heavier: by feel, or with less".to_owned());
            return None;
        }
        say(format!("the nearest in the rack: {}", total.show(self.gym.unit)));
        if total.kg() < exact.kg() * LIGHT_SHARE {
            say("lighter than meant: the same repetitions, slower, with more left in reserve".to_owned());
        }
        Some(of(total))
    }

    /// Where to begin when the maximum has not been tested for long: the low end of what it may be.
    pub fn range(&self, load: &LoadedBar, max: &Estimate) -> Option<(Kilograms, Kilograms)> {
        let wanted = load.total.share(max.low.kg() / max.value.kg().max(0.001));
        let low = if self.lift.is_barbell() {
            at_most(self.gym, usual_bar(self.gym, self.first_of_pair), wanted).total
        } else {
            self.hand.iter().rev().find(|weight| **weight <= wanted).copied()?
        };
        (max.stale && low < load.total).then_some((low, load.total))
    }
}
