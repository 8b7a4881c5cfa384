//! Usual cautions, shown where their trigger is computed. A caution informs; it never blocks, diagnoses
//! or clears anyone. Medical professionals, the gym's own rules and local law stand above it.
//!
//! Trigger figures are coaching judgement and starting points for the gym.

mod people;
mod volume;
mod work;

use serde::Serialize;

use crate::member::Member;
use crate::movement::Catalogue;
use crate::session::Session;

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
    /// The step of the rail at which it matters most: `loads`, `versions` or `hour`.
    #[serde(skip)]
    pub step: &'static str,
}

impl Caution {
    /// Whether it says something of somebody's health or age: for the coach and the person only.
    pub fn is_health(&self) -> bool {
        matches!(self.code, "pregnancy" | "pain-flag" | "minors")
    }
}

/// Most cautions about the whole class shown beside the stop rule; more teaches people to skip them.
const MOST_SHOWN: usize = 3;

/// A day of the last four weeks.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct PastDay {
    /// What was done.
    pub session: Session,
    /// Who was booked into one of its classes; nobody when bookings are not kept.
    pub present: Vec<String>,
}

/// Says cautions that belong to one step.
struct Say<'a> {
    found: &'a mut Vec<Caution>,
    step: &'static str,
}

impl Say<'_> {
    /// About everybody.
    fn class(&mut self, code: &'static str, level: Level, text: String) {
        self.members(code, level, Vec::new(), text);
    }

    /// About some.
    fn members(&mut self, code: &'static str, level: Level, members: Vec<&str>, text: String) {
        let members = members.into_iter().map(str::to_owned).collect();
        self.found.push(Caution { code, level, members, text, step: self.step });
    }
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
    volume::volume(session, members, recent, catalogue, &mut found);
    people::people(session, members, catalogue, &mut found);
    work::work(session, members, catalogue, &mut found);
    most_serious(found)
}

/// More people at once than there is room for on the floor.
pub fn crowding(at_once: usize, room_for: usize) -> Option<Caution> {
    let text = format!(
        "{at_once} at once on a floor with room for {room_for}: draw the lanes, nobody walks behind a lifter, no bells left where somebody lands."
    );
    let caution =
        Caution { code: "crowded-floor", level: Level::Note, members: Vec::new(), text, step: "hour" };
    (at_once > room_for).then_some(caution)
}

/// Most serious first, each once, no more about the whole class than people will read; the stop rule at the end.
fn most_serious(mut found: Vec<Caution>) -> Vec<Caution> {
    found.sort_by_key(|caution| std::cmp::Reverse(caution.level));
    let mut told = Vec::new();
    found.retain(|caution| {
        if !caution.members.is_empty() {
            return true;
        }
        let new = !told.contains(&caution.code) && told.len() < MOST_SHOWN;
        if new {
            told.push(caution.code);
        }
        new
    });
    found.push(Caution {
        code: "stop-now",
        level: Level::Stop,
        members: Vec::new(),
        text: "Stop anyone who has chest pain, unusual breathlessness, faintness or confusion. Call the local emergency number, fetch the defibrillator, stay with them.".to_owned(),
        step: "hour",
    });
    found
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::limits::Limit;
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
            let limit = Limit::new(words);
            let member = Member { limits: vec![limit.clone()], ..Member::default() };
            for id in ["box-jump", "double-under", "run", "thruster", "deadlift", "push-up", "ring-row"] {
                let movement = catalogue.find(id).unwrap();
                let text = format!("For time\n30 {}", movement.name);
                let warned = codes(&text, std::slice::from_ref(&member)).contains(&"pain-flag");
                assert_eq!(warned, limit.spares(movement), "{words} and {id}");
            }
        }
    }

    #[test]
    fn a_flagged_joint_warns_only_when_the_day_loads_it() {
        let member = Member { limits: vec![Limit::new("left knee: no jumping")], ..Member::default() };
        assert_eq!(codes("For time\n20 box jumps", std::slice::from_ref(&member)), ["pain-flag", "stop-now"]);
        assert_eq!(codes("For time\n30 ring rows", &[member]), ["stop-now"]);
    }

    #[test]
    fn a_floor_is_crowded_by_one_more_than_it_has_room_for() {
        assert_eq!(crowding(12, 12), None);
        assert!(crowding(13, 12).is_some_and(|caution| caution.text.starts_with("13 at once")));
    }

    #[test]
    fn what_is_usual_is_the_mean_of_the_days_that_had_any() {
        let catalogue = Catalogue::standard();
        let session = |text: &str| read(text, catalogue).session;
        let day = |text: &str| PastDay { session: session(text), present: Vec::new() };
        let recent = [day("For time\n10 pull-ups"), day("For time\n20 pull-ups"), day("For time\n400 m run")];
        let found = cautions(&session("5 rounds for time\n9 pull-ups"), &[], &recent, catalogue);
        assert!(
            found[0].text.starts_with("45 pulling reps today, 3.0 times the usual 15"),
            "{}",
            found[0].text
        );
    }
}
