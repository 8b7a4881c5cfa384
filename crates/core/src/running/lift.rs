//! A lift: the climb, then set after set, by the clock or by the turns on the racks.

use super::phases::{Draft, Kind, cut_to, each_alone, fitted};
use crate::hour::{LiftTime, ramp_step_s, turn_s};
use crate::movement::Catalogue;
use crate::plan::StrengthPlan;
use crate::print::bare_lines;
use crate::session::{Format, Part, works};
use crate::units::clock_s;

/// Rest between turns that is worth a phase of its own, in seconds.
const WORTH_A_REST_S: u32 = 20;
/// Most of a lift's time that its climb takes.
const MOST_OF_IT: f64 = 0.6;

/// The phases of a lift in so many seconds.
pub(super) fn drafts(plan: &StrengthPlan, length_s: u32, catalogue: &Catalogue) -> Vec<Draft> {
    let (part, time) = (&plan.prescription, plan.time());
    let lines = bare_lines(part, &part.tree, catalogue);
    let first = works(&part.tree).first().map(|work| catalogue.name(&work.movement).to_owned());
    let name = first.unwrap_or_else(|| "Strength".to_owned());
    let shown = |drafts: Vec<Draft>| -> Vec<Draft> {
        drafts.into_iter().map(|draft| draft.showing(lines.clone())).collect()
    };
    if let Some(every) = part.interval_s.filter(|every| *every > 0 && *every <= length_s) {
        return shown(on_the_clock(&name, every, &time, part.strength.sets, length_s));
    }
    if part.format == Some(Format::BuildTo) || part.strength.rm.is_some() {
        let say = format!("{name}: build, {} in all. Small steps at the end.", clock_s(length_s));
        let build = Draft::new(Kind::Lift, length_s, format!("{name}: build")).saying(say);
        let build = Draft { turns: time.turns, ..build };
        return shown(build.with_last_call());
    }
    shown(in_turns(&name, part, &time, length_s))
}

/// A set on each start of a clock; what is left before them is the climb.
fn on_the_clock(name: &str, every: u32, time: &LiftTime, sets: Option<u32>, length_s: u32) -> Vec<Draft> {
    let fit = length_s / every;
    let sets = sets.map_or(fit, |sets| sets.clamp(1, fit));
    let climb = climb(name, time, length_s - sets * every);
    let set = |n: u32| {
        let title = format!("Set {} of {sets}", n + 1);
        let say = format!("{title}, a new one every {}.", clock_s(every));
        let draft = Draft::new(Kind::Lift, every, title).saying(say);
        Draft { set: Some(n), turns: time.turns, ..draft }
    };
    each_alone(climb.into_iter().chain((0..sets).map(set)).collect())
}

/// Climb, then sets as the turns and the rest allow.
fn in_turns(name: &str, part: &Part, time: &LiftTime, length_s: u32) -> Vec<Draft> {
    let sets = if time.sets > 0 { time.sets } else { part.strength.sets.unwrap_or(1) }.max(1);
    let ramp = time.ramp_steps * ramp_step_s(time.turns);
    let ramp = ramp.min((f64::from(length_s) * MOST_OF_IT) as u32);
    let cycle = (length_s - ramp) / sets;
    let lifting = (turn_s(part, time) * time.turns.max(1)).min(cycle);
    let mut drafts = climb(name, time, ramp);
    for n in 0..sets {
        let title = format!("Set {} of {sets}", n + 1);
        let rests = cycle - lifting >= WORTH_A_REST_S;
        let turns = if time.turns > 1 {
            format!(", {} to a {}, in turns", time.turns, time.place.name())
        } else {
            String::new()
        };
        let say = format!("{title}{turns}.");
        let lift = Draft::new(Kind::Lift, if rests { lifting } else { cycle }, &*title).saying(say);
        drafts.push(Draft { set: Some(n), turns: time.turns, ..lift });
        if rests {
            let rest =
                Draft::new(Kind::Rest, cycle - lifting, format!("Rest, set {} of {sets} is done", n + 1));
            drafts.push(Draft { set: Some((n + 1).min(sets - 1)), ..rest.saying("Rest. Change plates.") });
        }
    }
    // Rounding leaves some seconds, which belong to the last.
    let laid: u32 = drafts.iter().map(|draft| draft.length_s).sum();
    if let Some(last) = drafts.last_mut() {
        last.length_s += length_s.saturating_sub(laid);
    }
    each_alone(cut_to(drafts, length_s))
}

fn climb(name: &str, time: &LiftTime, length_s: u32) -> Vec<Draft> {
    let steps = time.ramp_steps.max(1);
    let step = |n: u32| {
        let title = if steps == 1 {
            format!("{name}: climb")
        } else {
            format!("{name}: climb, step {} of {steps}", n + 1)
        };
        let say =
            if n == 0 { format!("{title}. Empty bar first.") } else { format!("{title}. More on the bar.") };
        Draft { turns: time.turns, ..Draft::new(Kind::Climb, length_s.max(1), title).saying(say) }
    };
    if length_s == 0 { Vec::new() } else { fitted((0..steps).map(step).collect(), length_s) }
}
