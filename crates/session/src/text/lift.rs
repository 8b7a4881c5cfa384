//! Lifts in plain notation: their sets, shares and efforts.

use super::{Printer, work_text};
use crate::units::{clock_s, plain};
use crate::{Amount, Format, Node, Part, PercentOf, Prescription, TrainingMax, Work};

impl Printer<'_> {
    pub(super) fn strength(&mut self, part: &Part) {
        let works = crate::works(&part.tree);
        let name = |work: &Work| {
            let load = work.load.map(|load| format!(", {load}")).unwrap_or_default();
            let side = if work.dose.per_side { " each side" } else { "" };
            format!("{}{side}{load}", self.catalogue.name(&work.movement).to_lowercase())
        };
        let strength = &part.strength;
        let sets = strength.sets.unwrap_or(1);
        match part.format {
            Some(Format::BuildTo) => {
                let names: Vec<String> = works.iter().map(|work| name(work)).collect();
                let within = part.duration_s.filter(|_| matches!(part.tree, Node::Within { .. }));
                let within = within.map(|seconds| format!(" in {}", clock_s(seconds))).unwrap_or_default();
                self.line(format!(
                    "{}: build to a {}RM{within}",
                    names.join(" + "),
                    strength.rm.unwrap_or(1)
                ));
                if let Some(reps) = strength.reps.first() {
                    self.line(format!("then {}x{reps}", strength.reps.len()));
                }
            }
            Some(Format::MaxReps) => {
                let line =
                    format!("{sets} sets max {}", works.first().map(|work| name(work)).unwrap_or_default());
                self.line(line);
            }
            Some(Format::Superset) => {
                let lines: Vec<String> = works
                    .iter()
                    .map(|work| {
                        let list = (work.dose.amount == Amount::Scheme)
                            .then(|| format!(" {}", listed(&strength.reps)));
                        let written = work_text(work, self.catalogue) + &list.unwrap_or_default();
                        match shares_text(&work.percent) {
                            Some(shares) => format!("{written} {shares}{}", self.share_of(strength)),
                            None => written,
                        }
                    })
                    .collect();
                self.line(format!("Superset, {sets} sets"));
                for (n, line) in lines.into_iter().enumerate() {
                    self.line(format!("A{}) {line}", n + 1));
                }
            }
            // A set each, with its own weight.
            _ if let Some(sets) = weighed(&works) => {
                let name = self.catalogue.name(&works[0].movement).to_lowercase();
                self.line(format!("{name}: {sets}"));
            }
            _ => {
                let uniform = strength.reps.windows(2).all(|pair| pair[0] == pair[1]);
                let reps = match strength.reps.first() {
                    None => format!("{sets} sets"),
                    Some(reps) if uniform => match strength.reps_high {
                        Some(high) => format!("{sets}x{reps}-{high}"),
                        None => format!("{sets}x{reps}"),
                    },
                    Some(_) => listed(&strength.reps),
                };
                let counted = works.len() > 1
                    && strength.reps.is_empty()
                    && works.iter().all(|work| work.dose.first().is_some());
                let each = |work: &&Work| if counted { work_text(work, self.catalogue) } else { name(work) };
                let names: Vec<String> = works.iter().map(each).collect();
                let comma = if counted { "," } else { "" };
                let bar = if strength.empty_bar { " with the empty bar" } else { "" };
                self.line(format!("{}{comma} {reps}{bar}", names.join(" + ")));
            }
        }
        self.strength_facts(part);
    }

    /// Repetitions that differ from set to set, behind the one lift of a clock: "front squat 5-4-3".
    pub(super) fn sets_on_a_clock(&mut self, part: &Part) {
        let reps = &part.strength.reps;
        let differ = reps.windows(2).any(|pair| pair[0] != pair[1]);
        if let ([work], true) = (&crate::works(&part.tree)[..], differ)
            && work.dose.amount == Amount::Open
            && let written = work_text(work, self.catalogue)
            && let Some(line) = self.lines.iter_mut().find(|line| **line == written)
        {
            *line = format!("{line} {}", listed(reps));
        }
    }

    /// What shares are of, as written after them; empty for the lift's own 1RM.
    pub(super) fn share_of(&self, strength: &Prescription) -> String {
        match &strength.percent_of {
            None => String::new(),
            Some(PercentOf::Rm(n)) => format!(" of {n}RM"),
            Some(PercentOf::Today | PercentOf::TopSet(_)) => " of today's top set".to_owned(),
            Some(PercentOf::Bodyweight) => " of bodyweight".to_owned(),
            Some(PercentOf::MostReps) => " of max reps".to_owned(),
            Some(PercentOf::Lift(lift)) => format!(" of {}", self.catalogue.name(lift).to_lowercase()),
        }
    }

    pub(super) fn strength_facts(&mut self, part: &Part) {
        let strength = &part.strength;
        let mut facts = Vec::new();
        // Of a superset each lift has its own beside it.
        let shares = shares_text(&strength.percent).filter(|_| part.format != Some(Format::Superset));
        let shares =
            shares.map(
                |shares| {
                    if strength.ends_at_share { shares.replacen('@', "building to", 1) } else { shares }
                },
            );
        facts.extend(shares.map(|shares| format!("{shares}{}", self.share_of(strength))));
        match strength.training_max {
            Some(TrainingMax::Percent(share)) => facts.push(format!("training max {}%", plain(share))),
            Some(TrainingMax::Usual) => facts.push("of the training max".to_owned()),
            None => {}
        }
        match strength.jump {
            _ if strength.ends_at_share => {}
            Some(jump) if strength.rises => {
                facts.push(format!("{jump} heavier each set"));
                let every = part.interval_s.filter(|_| part.format == Some(Format::BuildTo));
                facts.extend(every.map(|seconds| format!("every {}", clock_s(seconds))));
            }
            _ if strength.rises => facts.push("heavier each set".to_owned()),
            _ => {}
        }
        if strength.open_last {
            facts.push("last set open".to_owned());
        }
        if let Some(n) = strength.top_sets {
            facts.push(format!("last {n} sets at the top weight"));
        }
        if !strength.efforts.is_empty() {
            let each: Vec<String> = strength.efforts.iter().map(|effort| plain(*effort)).collect();
            facts.push(format!("RPE {}", each.join(", ")));
        } else if let Some([low, high]) = strength.rpe {
            facts.push(if low == high {
                format!("RPE {}", plain(low))
            } else {
                format!("RPE {}-{}", plain(low), plain(high))
            });
        }
        if let Some(tempo) = &strength.tempo {
            facts.push(format!("tempo {}", tempo.0));
        }
        if let Some((k, n)) = strength.week {
            facts.push(week_text(k, n));
        }
        if let Some((low, high, unit)) = strength.load_range {
            facts.push(format!("{}-{} {}", plain(low), plain(high), unit.name()));
        }
        for fact in facts {
            self.line(fact);
        }
    }
}

/// "40 kg x 8, 50 kg x 6": the sets of one lift that each have a weight; none of any others.
fn weighed(works: &[&Work]) -> Option<String> {
    let one = works.len() > 1 && works.windows(2).all(|pair| pair[0].movement == pair[1].movement);
    let set = |work: &&Work| Some(format!("{} x {}", work.load?, plain(work.dose.first()?)));
    one.then(|| works.iter().map(set).collect::<Option<Vec<String>>>())?.map(|sets| sets.join(", "))
}

/// Repetitions from set to set: "5-4-3", and "max" for as many as possible.
pub(super) fn listed(reps: &[u32]) -> String {
    let called = |reps: &u32| if *reps == 0 { "max".to_owned() } else { reps.to_string() };
    reps.iter().map(called).collect::<Vec<_>>().join("-")
}

/// Shares in percent as written: `@ 70%`, `@ 70-80%`, and one a set; none without any.
pub(super) fn shares_text(percent: &[[f64; 2]]) -> Option<String> {
    let share = |[low, high]: &[f64; 2]| match low == high {
        true => plain(*low),
        false => format!("{}-{}", plain(*low), plain(*high)),
    };
    match percent {
        [] => None,
        [one] => Some(format!("@ {}%", share(one))),
        each => {
            let list: Vec<String> = each.iter().map(|[low, _]| plain(*low)).collect();
            Some(format!("@ {}%", list.join("-")))
        }
    }
}

/// A week of a cycle: `week 2 of 5`, or `week 2` where nobody says how many there are.
pub fn week_text(week: u32, of: Option<u32>) -> String {
    of.map_or(format!("week {week}"), |of| format!("week {week} of {of}"))
}
