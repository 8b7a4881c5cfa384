//! How much of one kind of work there is: totals of the day against what is usual, for the class and for each member.

use super::{Caution, Level, PastDay, Say};
use crate::member::Member;
use crate::movement::{Catalogue, Movement, Pattern, Unit};
use crate::session::{Session, totals};

/// Vertical pulls in a day from which the warning signs of muscle breakdown are told.
const MANY_PULLS: f64 = 100.0;
/// Pushing repetitions likewise.
const MANY_PUSHES: f64 = 150.0;
/// Squats, lunges and jumps likewise.
const MANY_LEGS: f64 = 300.0;

/// Sit-ups of every kind likewise.
const MANY_SIT_UPS: f64 = 150.0;
/// Deep sit-ups off a bench likewise.
const MANY_GHD: f64 = 50.0;
/// Pulls that are lowered slowly likewise.
const MANY_SLOW_PULLS: f64 = 15.0;
/// A lowering of so many seconds is slow.
const SLOW_S: u32 = 3;
/// So many times the usual total is a jump, from the smaller totals below on.
const JUMP: f64 = 3.0;

/// Repetitions of a family of movements.
struct Family {
    code: &'static str,
    level: Level,
    /// `pulling`, as said.
    name: &'static str,
    /// From here on however usual it is.
    many: f64,
    /// From here on when it is a jump.
    jump_from: f64,
    test: fn(&Movement) -> bool,
    advice: &'static str,
}

/// Figures are coaching judgement; the medical background is that of Clarkson & Hubal 2002 and Tietze & Borchers 2014.
const FAMILIES: [Family; 4] = [
    Family {
        code: "rhabdo-pull",
        level: Level::Stop,
        name: "pulling",
        many: MANY_PULLS,
        jump_from: 40.0,
        test: |m| m.pattern == Pattern::PullVertical && m.muscle("pull") >= 0.5,
        advice: "Offer ring rows or smaller totals, above all to new and returning people, and tell everyone the warning signs: swelling or weakness far beyond soreness, very dark urine.",
    },
    Family {
        code: "rhabdo-push",
        level: Level::Care,
        name: "pushing",
        many: MANY_PUSHES,
        jump_from: 60.0,
        test: |m| {
            matches!(m.pattern, Pattern::PressHorizontal | Pattern::PressVertical)
                && m.load_kind == crate::movement::LoadKind::None
        },
        advice: "Raise the hands before form goes and let people stop at two thirds.",
    },
    Family {
        code: "rhabdo-legs",
        level: Level::Care,
        name: "squat, lunge and jump",
        many: MANY_LEGS,
        jump_from: 120.0,
        test: |m| {
            matches!(m.pattern, Pattern::Squat | Pattern::Lunge | Pattern::Jump) && m.muscle("quads") >= 0.4
        },
        advice: "Expect deep soreness; scale totals for anyone new or coming back.",
    },
    Family {
        code: "rhabdo-trunk",
        level: Level::Stop,
        name: "sit-up",
        many: MANY_SIT_UPS,
        jump_from: 60.0,
        test: |m| m.pattern == Pattern::Core && m.muscle("core") >= 0.7,
        advice: "Shorten the range, halve the reps, or use floor sit-ups.",
    },
];

fn reps_of(session: &Session, test: fn(&Movement) -> bool, catalogue: &Catalogue) -> f64 {
    session
        .parts
        .iter()
        .flat_map(|part| totals(&part.tree))
        .filter(|total| total.unit == Unit::Reps)
        .filter(|total| catalogue.get(&total.movement).is_some_and(test))
        .map(|total| total.amount)
        .sum()
}

/// The mean of those days that had any.
fn mean_of_some(days: impl Iterator<Item = f64>) -> Option<f64> {
    let days: Vec<f64> = days.filter(|reps| *reps > 0.0).collect();
    (!days.is_empty()).then(|| days.iter().sum::<f64>() / days.len() as f64)
}

/// Members for whom a total is a jump over what they themselves have done, each with their usual: `Ada (14)`.
fn own_jumps<'a>(
    members: &'a [Member],
    recent: &[PastDay],
    totals: &[f64],
    reps: f64,
) -> (Vec<String>, Vec<&'a str>) {
    let own = members.iter().filter_map(|member| {
        let days = recent.iter().zip(totals).filter(|(day, _)| day.present.contains(&member.name));
        let usual = mean_of_some(days.map(|(_, total)| *total)).filter(|usual| reps >= usual * JUMP)?;
        Some((format!("{} ({usual:.0})", member.name), member.name.as_str()))
    });
    own.unzip()
}

/// Totals that are many in themselves, or a jump over what is usual.
pub(super) fn volume(
    session: &Session,
    members: &[Member],
    recent: &[PastDay],
    catalogue: &Catalogue,
    found: &mut Vec<Caution>,
) {
    let mut say = Say { found, step: "versions" };
    for family in &FAMILIES {
        let reps = reps_of(session, family.test, catalogue);
        let totals: Vec<f64> =
            recent.iter().map(|day| reps_of(&day.session, family.test, catalogue)).collect();
        let usual = mean_of_some(totals.iter().copied()).filter(|usual| reps >= usual * JUMP);
        let jump = usual.filter(|_| reps >= family.jump_from);
        if reps >= family.many || jump.is_some() {
            let against = jump.map_or(String::new(), |usual| {
                format!(", {:.1} times the usual {usual:.0} of the last four weeks", reps / usual)
            });
            let text = format!("{reps:.0} {} reps today{against}. {}", family.name, family.advice);
            say.class(family.code, family.level, text);
        } else if reps >= family.jump_from {
            let (told, names) = own_jumps(members, recent, &totals, reps);
            if !names.is_empty() {
                let text = format!(
                    "{reps:.0} {} reps today, at least {JUMP:.0} times the usual of {}. {}",
                    family.name,
                    told.join(", "),
                    family.advice
                );
                say.members(family.code, family.level, names, text);
            }
        }
    }
    let deep = reps_of(session, |m| m.id.as_str() == "ghd-sit-up", catalogue);
    if deep >= MANY_GHD {
        let text = format!(
            "{deep:.0} deep sit-ups load the trunk and hips hard on the way down. Shorten the range, halve the reps, or use floor sit-ups."
        );
        say.class("rhabdo-trunk", Level::Stop, text);
    }
    let slow = slow_pulls(session, catalogue);
    if slow >= MANY_SLOW_PULLS {
        let text = format!(
            "{slow:.0} pulls lowered slowly: they do the most damage to untrained muscle. Ten good ones are plenty the first time."
        );
        say.class("rhabdo-eccentric", Level::Stop, text);
    }
}

/// Pulls that are nothing but lowering, and pulls with a slow first number of the tempo.
fn slow_pulls(session: &Session, catalogue: &Catalogue) -> f64 {
    let of_part = |part: &crate::session::Part| -> f64 {
        let slow = part.strength.tempo.as_ref().is_some_and(|tempo| tempo.lowering_s() >= SLOW_S);
        let counts = |movement: &Movement| {
            movement.pattern == Pattern::PullVertical
                && (slow || movement.id.as_str().starts_with("negative"))
        };
        let totals = totals(&part.tree).into_iter().filter(|total| total.unit == Unit::Reps);
        totals
            .filter(|total| catalogue.get(&total.movement).is_some_and(counts))
            .map(|total| total.amount)
            .sum()
    };
    session.parts.iter().map(of_part).sum()
}
