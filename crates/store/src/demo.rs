//! Demo data: an invented gym, its members and two weeks of sessions around a given day.

use chrono::{Datelike, Days, NaiveDate, NaiveTime};
use lantern_core::gym::Gym;
use lantern_core::movement::Catalogue;
use lantern_core::read::read_in_hand;
use lantern_core::roster::roster_from_csv;
use lantern_core::strength::Source;

use crate::classes::NewClass;
use crate::pieces::NewPiece;
use crate::sessions::NewText;
use crate::{
    GymId, Operator, Role, Store, StoreError, bookings, classes, clock, members, memberships, sessions,
};

const GYM: &str = include_str!("../../../data/demo/gym.toml");
const MEMBERS: &str = include_str!("../../../data/demo/members.csv");
/// Days from the Monday of the first week, and the text.
const SESSIONS: [(u64, &str); 10] = [
    (0, include_str!("../../../data/demo/sessions/01.txt")),
    (1, include_str!("../../../data/demo/sessions/02.txt")),
    (2, include_str!("../../../data/demo/sessions/03.txt")),
    (3, include_str!("../../../data/demo/sessions/04.txt")),
    (4, include_str!("../../../data/demo/sessions/05.txt")),
    (7, include_str!("../../../data/demo/sessions/06.txt")),
    (8, include_str!("../../../data/demo/sessions/07.txt")),
    (9, include_str!("../../../data/demo/sessions/08.txt")),
    (10, include_str!("../../../data/demo/sessions/09.txt")),
    (11, include_str!("../../../data/demo/sessions/10.txt")),
];
/// The texts that the demo is made of.
pub fn texts() -> impl Iterator<Item = &'static str> {
    SESSIONS.into_iter().map(|(_, text)| text)
}

/// The demo's gym as its file has it.
///
/// # Errors
/// When the file cannot be read as a gym.
pub fn gym() -> Result<Gym, StoreError> {
    Gym::from_toml(GYM).map_err(|error| StoreError::Unreadable { what: "demo gym", why: error.to_string() })
}

/// What the demo's gym is called.
pub const GYM_NAME: &str = "Harbour Lane Hall";

/// Somebody of the demo with an account.
pub struct Person {
    /// As links name them.
    pub key: &'static str,
    /// Their e-mail address; nobody reads mail there.
    pub email: &'static str,
    /// Their name.
    pub name: &'static str,
    /// What they may do.
    pub role: Role,
    /// What to expect.
    pub about: &'static str,
    /// Whether they are a member of that name.
    is_member: bool,
}

/// Those of the demo who can be tried.
pub const PEOPLE: [Person; 3] = [
    Person {
        key: "iris",
        email: "iris@harbour-lane.example",
        name: "Iris",
        role: Role::Owner,
        about: "the head coach: everything, people and roles too",
        is_member: false,
    },
    Person {
        key: "rowan",
        email: "rowan@harbour-lane.example",
        name: "Rowan",
        role: Role::Coach,
        about: "plans days and runs classes",
        is_member: false,
    },
    Person {
        key: "alba",
        email: "alba@harbour-lane.example",
        name: "Alba Quenby",
        role: Role::Member,
        about: "sees her own card and numbers, as on a phone",
        is_member: true,
    },
];

/// Classes of each day: the hour at which they start, and who coaches.
pub const CLASSES: [(u32, &str); 2] = [(7, "Rowan"), (18, "Iris")];
/// Weeks ago at which the demo members' maxes were set, in turn, so that some have aged.
const AGES_IN_WEEKS: [u64; 5] = [2, 5, 3, 9, 1];

/// Loads the demo into a database that holds nothing, and leaves one that it made before as it is. The first week is the one
/// of `today` at the gym.
///
/// # Errors
/// When the database is away, or holds a gym that the demo did not make.
pub async fn load(url: &str, today: Option<NaiveDate>) -> Result<GymId, StoreError> {
    let mut operator = Operator::at(url).await?;
    if let Some(id) = only(&mut operator).await? {
        return Ok(id);
    }
    let gym = gym()?;
    let today = today.unwrap_or_else(|| clock::today(&gym));
    let id = operator.add(&gym, true).await?;
    let mut scope = Store::new(url)?.change(id).await?;
    let (people, errors) = roster_from_csv(MEMBERS);
    if let Some(error) = errors.first() {
        return Err(StoreError::Unreadable { what: "demo roster", why: error.to_string() });
    }
    for (n, member) in people.iter().enumerate() {
        let set_on = today - Days::new(7 * AGES_IN_WEEKS[n % AGES_IN_WEEKS.len()]);
        members::add(&mut scope, member, set_on, Source::Tested).await?;
    }
    let known = members::of_gym(&mut scope, &gym, today).await?;
    for person in &PEOPLE {
        let member = known.iter().find(|stored| person.is_member && stored.member.name == person.name);
        let member = member.map(|stored| stored.id);
        memberships::add(&mut scope, person.email, (person.role, person.name), member).await?;
    }
    let monday = today - Days::new(u64::from(today.weekday().num_days_from_monday()));
    for (day, text) in SESSIONS {
        let day = monday + Days::new(day);
        let catalogue = Catalogue::standard();
        let parts = NewPiece::of(&read_in_hand(text, catalogue, &[], &gym.habits).session, catalogue);
        let new = NewText {
            text,
            corrections: &serde_json::json!([]),
            seen: 0,
            writer: "",
            by: "",
            parts: &parts,
            while_typing: false,
        };
        sessions::save(&mut scope, day, new).await?;
        for (hour, coach) in CLASSES {
            let starts = NaiveTime::from_hms_opt(hour, 0, 0).unwrap_or_default();
            let class = NewClass { day, starts, minutes: gym.class_minutes, coach: coach.to_owned() };
            let class = classes::put(&mut scope, &class).await?;
            let feed =
                bookings::stand_in(day, starts, known.iter().map(|stored| stored.member.name.as_str()));
            let (booked, _) = bookings::from_csv(&feed, starts, &known);
            classes::book(&mut scope, class, &booked).await?;
        }
    }
    scope.keep().await?;
    Ok(id)
}

/// Removes what the demo has made, and only when there is nothing else.
///
/// # Errors
/// When the database is away, or holds a gym that the demo did not make.
pub async fn remove(url: &str) -> Result<(), StoreError> {
    let mut operator = Operator::at(url).await?;
    only(&mut operator).await?;
    operator.remove_demo().await
}

/// The demo's gym, if it was made; a database with another is refused.
async fn only(operator: &mut Operator) -> Result<Option<GymId>, StoreError> {
    let all = operator.gyms().await?;
    if all.iter().any(|(_, _, demo)| !demo) {
        return Err(StoreError::Refused(
            "this database holds a gym that the demo did not make; nothing was changed. The demo needs a database of its own"
                .to_owned(),
        ));
    }
    Ok(all.first().map(|(id, _, _)| *id))
}
