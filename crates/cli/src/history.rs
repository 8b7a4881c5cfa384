//! The weeks that the demo gym has behind it: days, classes, and what its members' hidden bodies made of them.

use anyhow::Result;
use chrono::{DateTime, Datelike, Days, Duration, NaiveDate, NaiveTime, Utc};
use lantern_core::book::Entry;
use lantern_core::gym::Gym;
use lantern_core::member::Member;
use lantern_core::movement::Catalogue;
use lantern_core::read::read_in_hand;
use lantern_core::strength::Source;
use lantern_core::units::Kilograms;
use lantern_store::classes::{self, NewClass};
use lantern_store::lifts::{self, NewLift};
use lantern_store::pieces::NewPiece;
use lantern_store::results::{self, NewResult};
use lantern_store::rows::StoredClass;
use lantern_store::sessions::{self, NewText};
use lantern_store::{GymId, GymScope, Store, bookings, clock, demo, gyms, members};
use trial::{Day, History};

/// How long the demo gym has been there.
const WEEKS: u64 = 12;
/// Days of the week, from Monday, on which there were classes.
const DAYS: [u64; 4] = [0, 1, 3, 4];
/// Of so many days one has a text that comes again this week or next.
const COMES_AGAIN: usize = 4;
/// Draws bodies and pieces.
const SEED: u64 = 12;
/// Scores are called when the class is nearly over.
const CALLED_AFTER: Duration = Duration::minutes(52);

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
    let people: Vec<Member> = known.iter().map(|stored| stored.member.clone()).collect();
    tested_before(&mut rows, &known, today).await?;
    let catalogue = Catalogue::standard();
    let mut history = History::new(&people, &gym, catalogue, (SEED, first));
    for (n, day) in days(first).enumerate() {
        let text = text_of(n);
        let session = read_in_hand(&text, catalogue, &[], &gym.habits).session;
        let parts = NewPiece::of(&session, catalogue);
        let nothing = serde_json::json!([]);
        let new = NewText { text: &text, corrections: &nothing, seen: 0, writer: "", by: "", parts: &parts };
        sessions::save(&mut rows, day, new).await?;
        let came = classes_of(&mut rows, &gym, day, &known).await?;
        let who: Vec<usize> = came.iter().flat_map(|(_, who)| who.clone()).collect();
        let entered = history.next(Day { day, session: &session, came: &who });
        for (class, who) in &came {
            let said_at = clock::moment(&gym, day, class.starts) + CALLED_AFTER;
            let results = entered.iter().flat_map(|(part, all)| {
                let theirs = all.iter().filter(|(member, _)| who.contains(member));
                theirs.map(|(member, entry)| result(*part, &known[*member], entry, said_at))
            });
            let results: Vec<NewResult> = results.collect();
            let slot = (day, Some(class.starts));
            results::add(&mut rows, slot, (&results, &class.coach), (&parts, &gym)).await?;
        }
    }
    Ok(rows.keep().await?)
}

/// Weeks ago at which lifts were tested before, and what was lifted then, of what is on file now.
const TESTS: [(u64, f64); 3] = [(26, 0.9), (18, 0.94), (10, 0.97)];
/// One in so many has stood still since.
const STANDS_STILL: usize = 5;

/// What members have tested before.
async fn tested_before(rows: &mut GymScope, known: &[members::StoredMember], today: NaiveDate) -> Result<()> {
    for (n, stored) in known.iter().enumerate() {
        for (weeks, share) in TESTS {
            let share = if n % STANDS_STILL == 1 { 1.0 } else { share };
            for (lift, max) in &stored.member.maxes {
                let kg = (max.value.kg() * share / STEP_KG).floor() * STEP_KG;
                let new = NewLift {
                    lift: lift.as_str(),
                    load: Kilograms::from_kg(kg),
                    reps: 1,
                    rpe: None,
                    missed: false,
                    source: Source::Tested,
                    set_on: today - Days::new(weeks * 7 + n as u64 % 5),
                    kept: None,
                };
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

/// What was programmed on the `n`th day.
fn text_of(n: usize) -> String {
    let known: Vec<&str> = demo::texts().collect();
    match n % COMES_AGAIN {
        1 => known[(n / COMES_AGAIN) % known.len()].to_owned(),
        _ => trial::piece(SEED, n),
    }
}

/// The classes of a day with who came to each, by place: those of the morning do not come again in the evening.
async fn classes_of(
    rows: &mut GymScope,
    gym: &Gym,
    day: NaiveDate,
    known: &[members::StoredMember],
) -> Result<Vec<(StoredClass, Vec<usize>)>> {
    let mut all: Vec<(StoredClass, Vec<usize>)> = Vec::new();
    for (hour, coach) in demo::CLASSES {
        let starts = NaiveTime::from_hms_opt(hour, 0, 0).unwrap_or_default();
        let (minutes, coach) = (gym.class_minutes, coach.to_owned());
        let id = classes::put(rows, &NewClass { day, starts, minutes, coach: coach.clone() }).await?;
        let names = known.iter().map(|stored| stored.member.name.as_str());
        let (booked, _) = bookings::from_csv(&bookings::stand_in(day, starts, names), starts, known);
        let place = |id| known.iter().position(|stored| stored.id == id);
        let who = booked.iter().filter_map(|id| place(*id));
        let who: Vec<usize> = who.filter(|who| !all.iter().any(|(_, before)| before.contains(who))).collect();
        let booked = who.iter().map(|who| known[*who].id).collect::<Vec<_>>();
        classes::book(rows, id, &booked).await?;
        let (away, joined) = Default::default();
        all.push((StoredClass { id, day, starts, minutes, coach, booked, away, joined }, who));
    }
    Ok(all)
}

fn result(part: usize, whose: &members::StoredMember, entry: &Entry, said_at: DateTime<Utc>) -> NewResult {
    let key = format!("demo-{}-{part}-{}", said_at.timestamp(), whose.id);
    NewResult { part, member: whose.id, entry: entry.clone(), key, said_at: Some(said_at) }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_was_programmed_comes_again_now_and_then() {
        let again = (0..48).filter(|n| demo::texts().any(|text| text == text_of(*n))).count();
        assert_eq!(again, 12);
        let first = NaiveDate::from_ymd_opt(2026, 9, 7).unwrap();
        let all: Vec<NaiveDate> = days(first).collect();
        assert!(all.len() == 48 && all.windows(2).all(|pair| pair[0] < pair[1]));
    }
}
