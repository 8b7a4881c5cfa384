//! The weeks that the demo gym has behind it: days, classes, and what its members' hidden bodies made of them.
//!
//! What they made of them takes a while to work out and is the same each time, so it stands in `data/demo/past.jsonl`, a day a line; a test works it out again and compares.

use anyhow::Result;
use chrono::{DateTime, Datelike, Days, Duration, NaiveDate, NaiveTime, Utc};
use lantern_core::book::Entry;
use lantern_core::gym::Gym;
use lantern_core::movement::Catalogue;
use lantern_core::strength::Source;
use lantern_core::strength::followed::Set;
use lantern_core::units::Kilograms;
use lantern_store::classes::{self, NewClass};
use lantern_store::lifts::{self, NewLift};
use lantern_store::members::{self, StoredMember};
use lantern_store::pieces::NewPiece;
use lantern_store::results::{self, NewResult};
use lantern_store::rows::StoredClass;
use lantern_store::sessions::{self, NewText};
use lantern_store::{GymId, GymScope, Store, bookings, clock, demo, gyms};
use serde::{Deserialize, Serialize};
use trial::Lifted;

/// How long the demo gym has been there.
const WEEKS: u64 = 12;
/// Days of the week, from Monday, on which there were classes.
const DAYS: [u64; 4] = [0, 1, 3, 4];
/// The first of its days as the file has it: the booking service's stand-in goes by the date.
const FIRST: NaiveDate = NaiveDate::from_ymd_opt(2026, 8, 31).expect("a Monday");
/// Scores are called when the class is nearly over.
const CALLED_AFTER: Duration = Duration::minutes(52);

/// A day that is behind it.
#[derive(Debug, Serialize, Deserialize)]
struct PastDay {
    text: String,
    /// What was on the bar.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    lifted: Vec<Lifted>,
    /// What was entered about each piece: the part's place in the text, and each result by the member's place.
    entered: Vec<(usize, Vec<(usize, Entry)>)>,
}

/// All of them, in order.
fn past() -> Result<Vec<PastDay>> {
    let lines = include_str!("../../../data/demo/past.jsonl").lines();
    lines.map(|line| Ok(serde_json::from_str(line)?)).collect()
}

/// Gives the demo gym what it has behind it, where it has nothing yet.
pub(crate) async fn of_demo(url: &str, gym_id: GymId) -> Result<()> {
    let store = Store::new(url)?;
    let mut rows = store.change(gym_id).await?;
    let gym = gyms::settings(&mut rows).await?;
    let today = clock::today(&gym);
    let monday = today - Days::new(u64::from(today.weekday().num_days_from_monday()));
    let first = monday - Days::new(7 * WEEKS);
    if !sessions::between(&mut rows, first, monday - Days::new(1)).await?.is_empty() {
        return Ok(());
    }
    let known = members::of_gym(&mut rows, &gym, today).await?;
    tested_before(&mut rows, &known, today).await?;
    let catalogue = Catalogue::standard();
    for (n, (day, past)) in days(first).zip(past()?).enumerate() {
        let PastDay { text, lifted, entered } = past;
        let session = gym.read(&text, catalogue, &[]).session;
        let parts = NewPiece::of(&session, catalogue);
        let nothing = serde_json::json!([]);
        let new = NewText {
            text: &text,
            corrections: &nothing,
            seen: 0,
            writer: "",
            by: "",
            parts: &parts,
            while_typing: false,
        };
        sessions::save(&mut rows, day, new).await?;
        let came = came_on(n, &known);
        for (class, who) in &classes_of(&mut rows, &gym, day, (&known, &came)).await? {
            let said_at = clock::moment(&gym, day, class.starts) + CALLED_AFTER;
            let results = entered.iter().flat_map(|(part, all)| {
                let theirs = all.iter().filter(|(member, _)| who.contains(member));
                theirs.map(|(member, entry)| result(*part, &known[*member], entry, said_at))
            });
            let results: Vec<NewResult> = results.collect();
            let slot = (day, Some(class.starts));
            results::add(&mut rows, slot, (&results, &class.coach), (&parts, &gym)).await?;
            let sets = lifted.iter().filter(|set| who.contains(&set.who));
            let sets: Vec<_> = sets.map(|set| (known[set.who].id, on_the_bar(set, day))).collect();
            lifts::add_once(&mut rows, &sets, &format!("demo-{}", said_at.timestamp())).await?;
        }
    }
    Ok(rows.keep().await?)
}

/// Weeks ago at which lifts were tested before, and what was lifted then, of what is on file now.
const TESTS: [(u64, f64); 3] = [(26, 0.9), (18, 0.94), (10, 0.97)];
/// One in so many has stood still since.
const STANDS_STILL: usize = 5;

/// What members have tested before.
async fn tested_before(rows: &mut GymScope, known: &[StoredMember], today: NaiveDate) -> Result<()> {
    for (n, stored) in known.iter().enumerate() {
        for (weeks, share) in TESTS {
            let share = if n % STANDS_STILL == 1 { 1.0 } else { share };
            for (lift, max) in &stored.member.maxes {
                let kg = (max.value.kg() * share / STEP_KG).floor() * STEP_KG;
                let new = NewLift::single(
                    lift.as_str(),
                    Kilograms::from_kg(kg),
                    Source::Tested,
                    today - Days::new(weeks * 7 + n as u64 % 5),
                );
                lifts::add(rows, stored.id, &new).await?;
            }
        }
    }
    Ok(())
}

/// Bars grow in steps of so much.
const STEP_KG: f64 = 2.5;

/// Days with classes before this week.
fn days(first: NaiveDate) -> impl Iterator<Item = NaiveDate> {
    (0..WEEKS).flat_map(move |week| DAYS.map(|day| first + Days::new(week * 7 + day)))
}

/// Who came to each class of the `n`th day, by place: those of the morning do not come again in the evening.
fn came_on(n: usize, known: &[StoredMember]) -> Vec<Vec<usize>> {
    let day = days(FIRST).nth(n).unwrap_or(FIRST);
    let mut before: Vec<usize> = Vec::new();
    let of_class = |(hour, _)| {
        let names = known.iter().map(|stored| stored.member.name.as_str());
        let (booked, _) = bookings::from_csv(&bookings::stand_in(day, at(hour), names), at(hour), known);
        let place = |id| known.iter().position(|stored| stored.id == id);
        let who = booked.into_iter().filter_map(place);
        let who: Vec<usize> = who.filter(|who| !before.contains(who)).collect();
        before.extend(&who);
        who
    };
    demo::CLASSES.into_iter().map(of_class).collect()
}

fn at(hour: u32) -> NaiveTime {
    NaiveTime::from_hms_opt(hour, 0, 0).unwrap_or_default()
}

/// The classes of a day, with who came to each.
async fn classes_of(
    rows: &mut GymScope,
    gym: &Gym,
    day: NaiveDate,
    (known, came): (&[StoredMember], &[Vec<usize>]),
) -> Result<Vec<(StoredClass, Vec<usize>)>> {
    let mut all = Vec::new();
    for ((hour, coach), who) in demo::CLASSES.into_iter().zip(came) {
        let starts = at(hour);
        let (minutes, coach) = (gym.class_minutes, coach.to_owned());
        let id = classes::put(rows, &NewClass { day, starts, minutes, coach: coach.clone() }).await?;
        let booked = who.iter().map(|who| known[*who].id).collect::<Vec<_>>();
        classes::book(rows, id, &booked).await?;
        let (away, joined) = Default::default();
        all.push((StoredClass { id, day, starts, minutes, coach, booked, away, joined }, who.clone()));
    }
    Ok(all)
}

fn on_the_bar(set: &Lifted, day: NaiveDate) -> NewLift<'_> {
    let of = |(grams, reps)| Set { load: Kilograms::from_grams(grams), reps };
    let Set { load, reps } = of(set.done);
    NewLift {
        lift: &set.lift,
        load,
        reps,
        rpe: None,
        missed: set.missed,
        source: Source::ClassResult,
        set_on: day,
        kept: None,
        asked: Some(of(set.asked)),
    }
}

fn result(part: usize, whose: &StoredMember, entry: &Entry, said_at: DateTime<Utc>) -> NewResult {
    let key = format!("demo-{}-{part}-{}", said_at.timestamp(), whose.id);
    NewResult { part, member: whose.id, entry: entry.clone(), key, said_at: Some(said_at) }
}

#[cfg(test)]
mod tests {
    use lantern_core::member::Member;
    use lantern_core::roster::roster_from_csv;
    use lantern_core::strength::cycle::WAVES;
    use lantern_store::MemberId;
    use lantern_store::name_shown::NameShown;
    use trial::{Day, History};

    use super::*;

    /// Of so many days one has a text that comes again this week or next.
    const COMES_AGAIN: usize = 4;
    /// Draws bodies and pieces.
    const SEED: u64 = 12;

    /// Mondays on which a lift was trained by weeks, from this one of its days on.
    const SQUATS_FROM: usize = 12;
    /// The week of the press that stands in the texts of now.
    const PRESS_NOW: &str = "week 2 of 5: 5x3 @ 78%";
    /// The Tuesday before.
    const PRESS_BEFORE: usize = 45;

    /// What was programmed on the `n`th day.
    fn text_of(n: usize) -> String {
        let known: Vec<&str> = demo::texts().collect();
        let text = match n % COMES_AGAIN {
            1 => known[(n / COMES_AGAIN) % known.len()].to_owned(),
            _ => trial::piece(SEED, n),
        };
        let squats = WAVES[0].weeks;
        let week =
            n.checked_sub(SQUATS_FROM).filter(|days| days % COMES_AGAIN == 0).map(|days| days / COMES_AGAIN);
        match week.filter(|week| *week < squats.len()) {
            Some(week) => {
                let (at, of, line) = (week + 1, squats.len(), squats[week]);
                format!("A) Back squat, week {at} of {of}: {line}, rest 2:00\n\nB) {text}")
            }
            None if n == PRESS_BEFORE => text.replace(PRESS_NOW, "week 1 of 5: 5x5 @ 72%"),
            // Long before, it was no week of anything.
            None => text.replace(PRESS_NOW, "5x3 @ 78%"),
        }
    }

    fn worked_out() -> Vec<PastDay> {
        let roster = include_str!("../../../data/demo/members.csv");
        let (mut people, _): (Vec<Member>, _) = roster_from_csv(roster);
        people.sort_by(|one, other| one.name.cmp(&other.name));
        let stored = |(id, member): (i64, &Member)| StoredMember {
            id: MemberId::new(id),
            member: member.clone(),
            shown: NameShown::default(),
        };
        let known: Vec<StoredMember> = (1..).zip(&people).map(stored).collect();
        let (gym, catalogue) = (demo::gym().unwrap(), Catalogue::standard());
        let mut history = History::new(&people, &gym, catalogue, (SEED, FIRST));
        let day = |(n, day)| {
            let text = text_of(n);
            let session = gym.read(&text, catalogue, &[]).session;
            let came = came_on(n, &known).concat();
            let (lifted, entered) = history.next(Day { day, session: &session, came: &came });
            PastDay { text, lifted, entered }
        };
        days(FIRST).enumerate().map(day).collect()
    }

    /// With `LANTERN_WRITE_PAST` the file is written anew.
    #[test]
    fn the_weeks_behind_the_demo_are_those_that_its_members_would_have_had() {
        let worked_out = worked_out();
        let lines: Vec<String> = worked_out.iter().map(|day| serde_json::to_string(day).unwrap()).collect();
        let file = concat!(env!("CARGO_MANIFEST_DIR"), "/../../data/demo/past.jsonl");
        if std::env::var_os("LANTERN_WRITE_PAST").is_some() {
            std::fs::write(file, lines.join("\n") + "\n").unwrap();
        }
        let kept = std::fs::read_to_string(file).unwrap();
        assert_eq!(kept.lines().count(), lines.len());
        for (n, (kept, line)) in kept.lines().zip(&lines).enumerate() {
            assert_eq!(kept, line, "day {n}; LANTERN_WRITE_PAST=1 writes the file anew");
        }
    }

    #[test]
    fn what_was_programmed_comes_again_now_and_then() {
        let past = past().unwrap();
        let again = past.iter().filter(|day| demo::texts().any(|text| text == day.text)).count();
        // Two of them stand now in a week of their own.
        assert_eq!(again, 10);
        let weeks = past.iter().filter(|day| day.text.contains(", week "));
        let with_sets = weeks.clone().filter(|day| day.lifted.len() >= 7);
        assert_eq!((weeks.count(), with_sets.count()), (7, 7));
        let all: Vec<NaiveDate> = days(FIRST).collect();
        assert!(all.len() == 48 && all.windows(2).all(|pair| pair[0] < pair[1]));
    }
}
