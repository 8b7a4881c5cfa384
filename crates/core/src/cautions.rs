//! Usual cautions, shown where their trigger is computed. A caution informs; it never blocks, diagnoses
//! or clears anyone. Medical professionals, the gym's own rules and local law stand above it.
//!
//! Trigger figures are coaching judgement and starting points for the gym.

use serde::Serialize;

use crate::member::Member;
use crate::movement::{Catalogue, Movement, Pattern, Unit};
use crate::session::{Session, totals, works};
use crate::versions::rules::is_against;

/// How serious a caution is.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize)]
#[serde(rename_all = "lowercase")]
pub enum Level {
    /// For the coach to know.
    Note,
    /// Tell the class and offer options.
    Care,
    /// Think before this goes on the board.
    Stop,
}

/// One caution with what set it off.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Caution {
    /// Its short name.
    pub code: &'static str,
    /// How serious it is.
    pub level: Level,
    /// Members it is about; empty when it is about everybody.
    pub members: Vec<String>,
    /// In words.
    pub text: String,
}

/// Most cautions shown beside the stop rule; more teaches people to skip them.
const MOST_SHOWN: usize = 3;
/// Vertical pulls in a day from which the warning signs of muscle breakdown are told.
const MANY_PULLS: f64 = 100.0;
/// Pushing repetitions likewise.
const MANY_PUSHES: f64 = 150.0;
/// Squats, lunges and jumps likewise.
const MANY_LEGS: f64 = 300.0;

/// Days off from which somebody counts as returning.
const AWAY_DAYS: u32 = 14;
/// Days off from which the way back takes two weeks.
const LONG_AWAY_DAYS: u32 = 28;
/// So many times the usual total is a jump, from the smaller totals below on.
const JUMP: f64 = 3.0;

/// A day of the last four weeks.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct PastDay {
    /// What was done.
    pub session: Session,
    /// Who was booked into one of its classes; nobody when bookings are not kept.
    pub present: Vec<String>,
}

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
const FAMILIES: [Family; 3] = [
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

/// The cautions for a day and a class, most serious first, with the stop rule at the end. `recent` are the days of the
/// last four weeks, which say what is usual for the class and for each member; without any only the plain totals count.
pub fn cautions(
    session: &Session,
    members: &[Member],
    recent: &[PastDay],
    catalogue: &Catalogue,
) -> Vec<Caution> {
    let mut found = Vec::new();
    let mut say =
        |code, level, members: Vec<String>, text: String| found.push(Caution { code, level, members, text });
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
            say(family.code, family.level, Vec::new(), text);
        } else if reps >= family.jump_from {
            let (told, names) = own_jumps(members, recent, &totals, reps);
            if !names.is_empty() {
                let text = format!(
                    "{reps:.0} {} reps today, at least {JUMP:.0} times the usual of {}. {}",
                    family.name,
                    told.join(", "),
                    family.advice
                );
                say(family.code, family.level, names.into_iter().map(str::to_owned).collect(), text);
            }
        }
    }
    for member in members.iter().filter(|member| member.away_days.is_some_and(|days| days >= AWAY_DAYS)) {
        let days = member.away_days.unwrap_or_default();
        let way = if days >= LONG_AWAY_DAYS {
            "60 % of the work for two weeks"
        } else {
            "half the work today, 70 % next time"
        };
        let text = format!(
            "{} is back after {days} days: {way}, no slow lowering and no failure. Very dark urine or a swollen, painful limb in the next days: see a doctor at once.",
            member.name
        );
        say("returning", Level::Stop, vec![member.name.clone()], text);
    }
    let all_works: Vec<&crate::session::Work> =
        session.parts.iter().flat_map(|part| works(&part.tree)).collect();
    if all_works.iter().any(|work| work.movement.as_str().contains("rope-climb")) {
        say("rope-height", Level::Stop, Vec::new(), "Rope climbs: mats down, one person per rope, legs clamped on the way down. If anyone doubts the trip down, they pull from the floor instead.".to_owned());
    }
    for member in members {
        for limit in &member.limits {
            let loading: Vec<String> = all_works
                .iter()
                .filter_map(|work| catalogue.get(&work.movement))
                .filter(|movement| is_against(movement, &limit.reason))
                .map(|movement| movement.name.to_lowercase())
                .fold(Vec::new(), |mut names, name| {
                    if !names.contains(&name) {
                        names.push(name);
                    }
                    names
                });
            if limit.reason == "pregnancy" {
                say(
                    "pregnancy",
                    Level::Care,
                    vec![member.name.clone()],
                    format!(
                        "{}: with a midwife's or doctor's go-ahead. Talk-test effort, no falls, breath holding or testing; use the options around it.",
                        member.name
                    ),
                );
            } else if !loading.is_empty() {
                say(
                    "pain-flag",
                    Level::Care,
                    vec![member.name.clone()],
                    format!(
                        "{}: {} flagged and {} loads it. Offer the options around it; pain above 3 out of 10 means leave it out and see a clinician.",
                        member.name,
                        limit.reason.replace('_', " "),
                        loading.join(", ")
                    ),
                );
            }
        }
    }
    found.sort_by_key(|caution| std::cmp::Reverse(caution.level));
    found.truncate(MOST_SHOWN.max(found.iter().filter(|c| !c.members.is_empty()).count()));
    found.push(Caution {
        code: "stop-now",
        level: Level::Stop,
        members: Vec::new(),
        text: "Stop anyone who has chest pain, unusual breathlessness, faintness or confusion. Call the local emergency number, fetch the defibrillator, stay with them.".to_owned(),
    });
    found
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::member::Limit;
    use crate::read::read;

    fn codes(text: &str, members: &[Member]) -> Vec<&'static str> {
        let catalogue = Catalogue::standard();
        cautions(&read(text, catalogue).session, members, &[], catalogue)
            .iter()
            .map(|caution| caution.code)
            .collect()
    }

    #[test]
    fn a_hundred_pulls_warn_and_ninety_nine_do_not() {
        assert_eq!(codes("10 rounds for time\n10 pull-ups", &[]), ["rhabdo-pull", "stop-now"]);
        assert_eq!(codes("9 rounds for time\n11 pull-ups", &[]), ["stop-now"]);
    }

    #[test]
    fn a_jump_over_what_is_usual_warns_below_the_plain_total() {
        let catalogue = Catalogue::standard();
        let session = |text: &str| read(text, catalogue).session;
        let day = |text: &str| PastDay { session: session(text), present: Vec::new() };
        let recent = [day("3 rounds for time\n5 pull-ups"), day("For time\n400 m run")];
        let found = cautions(&session("5 rounds for time\n9 pull-ups"), &[], &recent, catalogue);
        assert!(
            found[0].text.starts_with("45 pulling reps today, 3.0 times the usual 15"),
            "{}",
            found[0].text
        );
        assert_eq!(cautions(&session("4 rounds for time\n9 pull-ups"), &[], &recent, catalogue).len(), 1);
    }

    #[test]
    fn a_jump_over_a_members_own_usual_names_that_member() {
        let catalogue = Catalogue::standard();
        let session = |text: &str| read(text, catalogue).session;
        let day = |text: &str, names: &[&str]| PastDay {
            session: session(text),
            present: names.iter().map(|name| (*name).to_owned()).collect(),
        };
        let recent = [
            day("3 rounds for time\n5 pull-ups", &["Ada", "Bo"]),
            day("10 rounds for time\n9 pull-ups", &["Bo"]),
        ];
        let members = ["Ada", "Bo", "Cy"].map(|name| Member { name: name.to_owned(), ..Member::default() });
        let found = cautions(&session("5 rounds for time\n11 pull-ups"), &members, &recent, catalogue);
        assert_eq!((found[0].code, &found[0].members[..]), ("rhabdo-pull", &["Ada".to_owned()][..]));
        assert!(found[0].text.contains("at least 3 times the usual of Ada (15)"), "{}", found[0].text);
    }

    #[test]
    fn who_comes_back_after_two_weeks_is_told_of_and_who_was_away_for_less_is_not() {
        let member = |days| Member { name: "Bo".into(), away_days: Some(days), ..Member::default() };
        assert_eq!(codes("For time\n30 ring rows", &[member(14)]), ["returning", "stop-now"]);
        assert_eq!(codes("For time\n30 ring rows", &[member(13)]), ["stop-now"]);
    }

    #[test]
    fn whatever_a_version_would_avoid_for_a_limit_is_warned_of() {
        let catalogue = Catalogue::standard();
        for words in ["sore shoulder", "left knee: no jumping", "low back", "ankle: no impact", "wrist"] {
            let limit = Limit::from_text(words).unwrap();
            let member = Member { limits: vec![limit.clone()], ..Member::default() };
            for id in ["box-jump", "double-under", "run", "thruster", "deadlift", "push-up", "ring-row"] {
                let movement = catalogue.find(id).unwrap();
                let text = format!("For time\n30 {}", movement.name);
                let warned = codes(&text, std::slice::from_ref(&member)).contains(&"pain-flag");
                assert_eq!(warned, is_against(movement, &limit.reason), "{words} and {id}");
            }
        }
    }

    #[test]
    fn a_flagged_joint_warns_only_when_the_day_loads_it() {
        let member =
            Member { limits: vec![Limit::from_text("left knee: no jumping").unwrap()], ..Member::default() };
        assert_eq!(codes("For time\n30 box jumps", std::slice::from_ref(&member)), ["pain-flag", "stop-now"]);
        assert_eq!(codes("For time\n30 ring rows", &[member]), ["stop-now"]);
    }
}
