//! What a coach decides, one decision a row: small, absolute, and in whatever order two coaches make them none is lost.
//!
//! A decision says what is to be, never what was read before; what stands is all of them applied in order. Decisions about
//! different things commute, of two about the same thing the later one stands.

mod naming;
mod words;

pub use naming::{KnownPart, Naming, id_of};
pub use words::Subjects;

use serde::de::DeserializeOwned;
use serde::{Deserialize, Deserializer, Serialize};

use crate::floor::Arrangement;
use crate::hour::{Change, HourEdits};
use crate::plan::Decisions;
use crate::strength::{LoadEdits, Release};
use crate::versions::{HandLine, PieceEdits, VersionName, hand};
use crate::warmup::{Edits, MINUTES};

/// Longest text of a decision, in characters.
const LONGEST: usize = 200;
/// Highest place of a piece.
const MOST_PIECES: usize = 60;
/// Lengths that a block can be set to, in seconds.
const PIN_S: std::ops::RangeInclusive<u32> = 30..=5400;
/// Most changes to one hour that stand at once.
const MOST_CHANGES: usize = 40;

/// A decision about a day or one of its classes.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(tag = "about", content = "what", rename_all = "snake_case")]
pub enum Decision {
    /// About the warm-up of the day.
    Warmup(WarmupDecision),
    /// About the pieces of the day.
    Pieces(PieceDecision),
    /// About whose loads are held back in a class.
    Loads(LoadDecision),
    /// About the hour and the floor of a class.
    Hour(HourDecision),
}

/// About the warm-up.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(tag = "decision", rename_all = "snake_case")]
#[expect(missing_docs, reason = "fields are ids of items and words of the coach")]
pub enum WarmupDecision {
    /// Everything at once: what stood before decisions had rows, or nothing.
    Stand {
        #[serde(deserialize_with = "through_json")]
        edits: Edits,
    },
    /// The item stays, whatever else is rebuilt.
    Keep { id: String },
    /// The item may go again.
    LetGo { id: String },
    /// Two items change places; `seen` is the order that the coach saw.
    Exchange { id: String, other: String, seen: Vec<String> },
    /// One item in the place of another.
    Swap { id: String, to: String },
    /// The item goes.
    Refuse { id: String },
    /// Another dose; an empty one goes back to the usual.
    Dose { id: String, dose: String },
    /// So many minutes.
    Minutes { minutes: u32 },
}

/// About the pieces, by their place among the conditioning pieces.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(tag = "decision", rename_all = "snake_case")]
#[expect(missing_docs, reason = "fields are the piece's place, a member's name and what is chosen")]
pub enum PieceDecision {
    /// Everything at once: what stood before decisions had rows, or nothing.
    Stand {
        #[serde(deserialize_with = "through_json")]
        edits: PieceEdits,
    },
    /// A version for a member.
    Choose { piece: usize, member: String, version: VersionName },
    /// The numbers choose again.
    Release { piece: usize, member: String },
    /// The intended result; no ends go back to what was read.
    Window { piece: usize, low: Option<f64>, high: Option<f64> },
    /// Whether those who are ahead are offered more.
    More { piece: usize, on: bool },
    /// Equipment at home that a version is made for.
    Home { piece: usize, kit: Option<String> },
    /// A line of a version, or of one person's row, written anew.
    Hand { piece: usize, line: HandLine },
    /// It stands as it was again.
    HandBack { piece: usize, line: HandLine },
}

/// About loads that are held back.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(tag = "decision", rename_all = "snake_case")]
#[expect(missing_docs, reason = "fields are a member's name and a lift's id")]
pub enum LoadDecision {
    /// They lift as written, on a coach's word.
    Release(Release),
    /// Held back again.
    Hold { member: String, lift: String },
}

/// About the hour and the floor.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
#[serde(tag = "decision", rename_all = "snake_case")]
#[expect(missing_docs, reason = "fields are keys of blocks, places of pieces and names of members")]
pub enum HourDecision {
    /// Everything at once: what stood before decisions had rows, or nothing.
    Stand {
        #[serde(deserialize_with = "through_json")]
        edits: HourEdits,
    },
    /// A change to the session is made.
    Make { change: Change },
    /// A change is taken back.
    TakeBack { change: Change },
    /// A block is given a length in seconds.
    Pin { block: String, seconds: u32 },
    /// A block's length is worked out again.
    Unpin { block: String },
    /// A way to arrange the class; none leaves it to the numbers.
    Arrange { piece: usize, way: Option<Arrangement> },
    /// A place on the floor, in metres.
    Place { piece: usize, who: String, at: (f64, f64) },
    /// All places are worked out again.
    PlacesBack { piece: usize },
    /// People in a team.
    TeamSize { piece: usize, size: Option<u32> },
    /// People alike are to be in one team, or teams are to be even.
    TeamsAlike { piece: usize, alike: bool },
    /// Two are to be in one team, or not.
    Wish { piece: usize, pair: (String, String), together: bool },
    /// The wish is dropped.
    DropWish { piece: usize, pair: (String, String), together: bool },
}

/// Reads a value by way of JSON: behind a tag, maps with numbers as keys would otherwise be refused.
fn through_json<'de, D: Deserializer<'de>, T: DeserializeOwned>(from: D) -> Result<T, D::Error> {
    let value = serde_json::Value::deserialize(from)?;
    serde_json::from_value(value).map_err(serde::de::Error::custom)
}

impl Decision {
    /// Which of the four it is about, as stored.
    pub const fn about(&self) -> &'static str {
        match self {
            Self::Warmup(_) => "warmup",
            Self::Pieces(_) => "pieces",
            Self::Loads(_) => "loads",
            Self::Hour(_) => "hour",
        }
    }

    /// Whether it is about one class rather than the day.
    pub const fn is_of_class(&self) -> bool {
        matches!(self, Self::Loads(_) | Self::Hour(_))
    }

    /// Applies it to what stands.
    pub fn apply(&self, to: &mut Decisions) {
        match self {
            Self::Warmup(decision) => decision.apply(&mut to.warmup),
            Self::Pieces(decision) => decision.apply(&mut to.pieces),
            Self::Loads(decision) => decision.apply(&mut to.loads),
            Self::Hour(decision) => decision.apply(&mut to.hour),
        }
    }

    /// The decision without anything about somebody who has left; none when it was about nothing else.
    pub fn without(&self, name: &str) -> Option<Self> {
        let is = |known: &String| known == name;
        match self {
            Self::Pieces(PieceDecision::Stand { edits }) => {
                let mut edits = edits.clone();
                edits.forget(name);
                Some(Self::Pieces(PieceDecision::Stand { edits }))
            }
            Self::Hour(HourDecision::Stand { edits }) => {
                let mut edits = edits.clone();
                edits.forget(name);
                Some(Self::Hour(HourDecision::Stand { edits }))
            }
            Self::Warmup(WarmupDecision::Stand { edits }) => {
                let mut edits = edits.clone();
                edits.doses.retain(|_, dose| !dose.contains(name));
                Some(Self::Warmup(WarmupDecision::Stand { edits }))
            }
            Self::Warmup(WarmupDecision::Dose { dose, .. }) => (!dose.contains(name)).then(|| self.clone()),
            Self::Pieces(PieceDecision::Hand { line, .. } | PieceDecision::HandBack { line, .. }) => {
                (line.member.as_deref() != Some(name)).then(|| self.clone())
            }
            Self::Pieces(PieceDecision::Choose { member, .. } | PieceDecision::Release { member, .. })
            | Self::Loads(LoadDecision::Hold { member, .. }) => (!is(member)).then(|| self.clone()),
            // A coach may be a member too: the word stands, the name goes.
            Self::Loads(LoadDecision::Release(release)) => (release.member != name).then(|| {
                let by = if release.by == name {
                    crate::strength::UNSIGNED.to_owned()
                } else {
                    release.by.clone()
                };
                Self::Loads(LoadDecision::Release(Release { by, ..release.clone() }))
            }),
            Self::Hour(
                HourDecision::Place { who, .. }
                | HourDecision::Pin { block: who, .. }
                | HourDecision::Unpin { block: who },
            ) => (!is(who)).then(|| self.clone()),
            Self::Hour(
                HourDecision::Wish { pair: (a, b), .. } | HourDecision::DropWish { pair: (a, b), .. },
            ) => (!is(a) && !is(b)).then(|| self.clone()),
            other => Some(other.clone()),
        }
    }

    /// Whether it is one that can be kept.
    ///
    /// # Errors
    /// What is wrong with which value.
    pub fn checked(&self) -> Result<(), String> {
        let short = |what: &str, text: &str| match text.chars().count() {
            n if n > LONGEST => Err(format!("{what} has {n} characters; {LONGEST} are the most")),
            _ => Ok(()),
        };
        let place = |piece: usize| match piece {
            n if n > MOST_PIECES => Err(format!("there is no piece {n}")),
            _ => Ok(()),
        };
        match self {
            Self::Warmup(decision) => match decision {
                WarmupDecision::Minutes { minutes } if !MINUTES.contains(minutes) => Err(format!(
                    "minutes is `{minutes}`, but it should be from {} to {}",
                    MINUTES.start(),
                    MINUTES.end()
                )),
                WarmupDecision::Dose { id, dose } => {
                    short("the item", id).and_then(|()| short("the dose", dose))
                }
                WarmupDecision::Swap { id, to } => short("the item", id).and_then(|()| short("the item", to)),
                WarmupDecision::Keep { id }
                | WarmupDecision::LetGo { id }
                | WarmupDecision::Refuse { id } => short("the item", id),
                WarmupDecision::Exchange { id, other, seen } => {
                    let long = seen.len() > LONGEST || seen.iter().any(|id| id.chars().count() > LONGEST);
                    short("the item", id).and_then(|()| short("the item", other))?;
                    if long { Err("the order is longer than any warm-up".to_owned()) } else { Ok(()) }
                }
                _ => Ok(()),
            },
            Self::Pieces(decision) => match decision {
                PieceDecision::Stand { .. } => Ok(()),
                PieceDecision::Choose { piece, member, .. } | PieceDecision::Release { piece, member } => {
                    place(*piece).and_then(|()| short("the member", member))
                }
                PieceDecision::Window { piece, low, high } => {
                    let odd = [low, high].into_iter().flatten().any(|end| !(0.0..=36_000.0).contains(end));
                    place(*piece)?;
                    if odd || matches!((low, high), (Some(low), Some(high)) if low > high) {
                        return Err("low should be no more than the upper end, and both from 0 to 10 hours"
                            .to_owned());
                    }
                    Ok(())
                }
                PieceDecision::Hand { piece, line } | PieceDecision::HandBack { piece, line } => {
                    place(*piece)?;
                    short("the member", line.member.as_deref().unwrap_or_default())?;
                    short("the line", &line.from).and_then(|()| short("the new line", &line.to))?;
                    if line.to.contains(['\n', '\r']) {
                        return Err("a line is written anew as one line".to_owned());
                    }
                    if line.version == VersionName::AsWritten && line.member.is_none() {
                        return Err("the text itself is changed on Read".to_owned());
                    }
                    Ok(())
                }
                PieceDecision::More { piece, .. } => place(*piece),
                PieceDecision::Home { piece, kit } => {
                    place(*piece).and_then(|()| short("the equipment", kit.as_deref().unwrap_or_default()))
                }
            },
            Self::Loads(LoadDecision::Release(Release { member, lift, by, at })) => {
                [member, lift, by, at].into_iter().try_for_each(|text| short("a name", text))
            }
            Self::Loads(LoadDecision::Hold { member, lift }) => {
                short("the member", member).and_then(|()| short("the lift", lift))
            }
            Self::Hour(decision) => match decision {
                HourDecision::Pin { block, seconds } => {
                    short("the block", block)?;
                    if PIN_S.contains(seconds) {
                        Ok(())
                    } else {
                        Err("a length is from 0:30 to 90 minutes".to_owned())
                    }
                }
                HourDecision::Unpin { block } => short("the block", block),
                HourDecision::Arrange { piece, .. } | HourDecision::PlacesBack { piece } => place(*piece),
                HourDecision::Place { piece, who, at } => {
                    place(*piece).and_then(|()| short("the member", who))?;
                    let on_the_floor = [at.0, at.1].iter().all(|metres| (-5.0..=105.0).contains(metres));
                    if on_the_floor {
                        Ok(())
                    } else {
                        Err("a place is given in metres on the floor".to_owned())
                    }
                }
                HourDecision::TeamSize { piece, size } => {
                    place(*piece)?;
                    if size.is_none_or(|size| (1..=6).contains(&size)) {
                        Ok(())
                    } else {
                        Err("a team has from 1 to 6".to_owned())
                    }
                }
                HourDecision::TeamsAlike { piece, .. } => place(*piece),
                HourDecision::Wish { piece, pair, .. } | HourDecision::DropWish { piece, pair, .. } => {
                    place(*piece)
                        .and_then(|()| short("the member", &pair.0))
                        .and_then(|()| short("the member", &pair.1))?;
                    if pair.0 == pair.1 || pair.0.is_empty() || pair.1.is_empty() {
                        return Err("a wish is about two different members".to_owned());
                    }
                    Ok(())
                }
                HourDecision::Stand { .. } | HourDecision::Make { .. } | HourDecision::TakeBack { .. } => {
                    Ok(())
                }
            },
        }
    }
}

/// Lines of the board's versions that coaches have written anew and that still stand, in the order in which they were, each with its day: what was
/// taken back, or written anew once more on the same day, has been done by nobody.
pub fn standing_hands<D: PartialEq>(
    made: impl IntoIterator<Item = (D, PieceDecision)>,
) -> Vec<(D, HandLine)> {
    let mut stand: Vec<(D, usize, HandLine)> = Vec::new();
    for (day, decision) in made {
        match decision {
            PieceDecision::Hand { piece, line } if line.member.is_none() => {
                stand.retain(|(of, at, known)| *of != day || *at != piece || !known.is_of_line(&line));
                stand.push((day, piece, line));
            }
            PieceDecision::HandBack { piece, line } => {
                stand.retain(|(of, at, known)| *of != day || *at != piece || *known != line);
            }
            _ => {}
        }
    }
    stand.into_iter().map(|(day, _, line)| (day, line)).collect()
}

impl WarmupDecision {
    fn apply(&self, to: &mut Edits) {
        match self {
            Self::Stand { edits } => to.clone_from(edits),
            Self::Keep { id } => to.keep(id),
            Self::LetGo { id } => to.let_go(id),
            Self::Exchange { id, other, seen } => to.exchange(id, other, seen),
            Self::Swap { id, to: other } => to.swap(id, other),
            Self::Refuse { id } => to.refuse(id),
            Self::Dose { id, dose } => to.dose(id, dose),
            Self::Minutes { minutes } => to.minutes = Some(*minutes),
        }
    }
}

impl PieceDecision {
    fn apply(&self, to: &mut PieceEdits) {
        match self {
            Self::Stand { edits } => to.clone_from(edits),
            Self::Choose { piece, member, version } => to.change(*piece, |edit| {
                edit.versions.insert(member.clone(), *version);
            }),
            Self::Release { piece, member } => to.change(*piece, |edit| {
                edit.versions.remove(member);
            }),
            Self::Window { piece, low, high } => {
                to.change(*piece, |edit| (edit.low, edit.high) = (*low, *high))
            }
            Self::Hand { piece, line } => to.change(*piece, |edit| {
                edit.hand.retain(|known| !known.is_of_line(line));
                if edit.hand.len() < hand::MOST {
                    edit.hand.push(line.clone());
                    // Who has a row of their own does that version.
                    if let Some(member) = &line.member {
                        edit.versions.insert(member.clone(), line.version);
                    }
                }
            }),
            Self::HandBack { piece, line } => {
                to.change(*piece, |edit| edit.hand.retain(|known| known != line))
            }
            Self::More { piece, on } => to.change(*piece, |edit| edit.more = *on),
            Self::Home { piece, kit } => to.change(*piece, |edit| edit.home.clone_from(kit)),
        }
    }
}

impl LoadDecision {
    fn apply(&self, to: &mut LoadEdits) {
        let (member, lift) = match self {
            Self::Release(release) => (&release.member, &release.lift),
            Self::Hold { member, lift } => (member, lift),
        };
        to.released.retain(|known| known.member != *member || known.lift != *lift);
        if let Self::Release(release) = self {
            to.released.push(release.clone());
        }
    }
}

impl HourDecision {
    fn apply(&self, to: &mut HourEdits) {
        match self {
            Self::Stand { edits } => to.clone_from(edits),
            // What is missing is missing once, whoever says it.
            Self::Make { change: change @ Change::Without { .. } } if to.changes.contains(change) => {}
            Self::Make { change } if to.changes.len() < MOST_CHANGES => to.changes.push(change.clone()),
            Self::Make { .. } => {}
            Self::TakeBack { change } => to.take_back(change),
            Self::Pin { block, seconds } => {
                to.pins.insert(block.clone(), *seconds);
            }
            Self::Unpin { block } => {
                to.pins.remove(block);
            }
            Self::Arrange { piece, way } => to.change_floor(*piece, |floor| floor.arrangement = *way),
            Self::Place { piece, who, at } => to.change_floor(*piece, |floor| {
                floor.places.insert(who.clone(), *at);
            }),
            Self::PlacesBack { piece } => to.change_floor(*piece, |floor| floor.places.clear()),
            Self::TeamSize { piece, size } => to.change_floor(*piece, |floor| floor.teams.size = *size),
            Self::TeamsAlike { piece, alike } => to.change_floor(*piece, |floor| floor.teams.alike = *alike),
            Self::Wish { piece, pair, together } => to.change_floor(*piece, |floor| {
                let wishes = &mut floor.teams;
                let list = if *together { &mut wishes.together } else { &mut wishes.apart };
                if !list.contains(pair) {
                    list.push(pair.clone());
                }
            }),
            Self::DropWish { piece, pair, together } => to.change_floor(*piece, |floor| {
                let wishes = &mut floor.teams;
                let list = if *together { &mut wishes.together } else { &mut wishes.apart };
                list.retain(|known| known != pair);
            }),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::hour::Without;
    use proptest::prelude::*;

    fn fold(decisions: &[Decision]) -> Decisions {
        let mut all = Decisions::default();
        decisions.iter().for_each(|decision| decision.apply(&mut all));
        all
    }

    /// Decisions about different things: members, blocks, items, pieces.
    fn different(n: usize) -> Decision {
        let name = format!("Member {n}");
        match n % 6 {
            0 => Decision::Pieces(PieceDecision::Choose {
                piece: 0,
                member: name,
                version: VersionName::Lighter,
            }),
            1 => Decision::Hour(HourDecision::Pin { block: name, seconds: 300 }),
            2 => Decision::Hour(HourDecision::Place { piece: 1, who: name, at: (1.0, 2.0) }),
            3 => Decision::Warmup(WarmupDecision::Dose { id: name, dose: "20".to_owned() }),
            4 => Decision::Loads(LoadDecision::Release(Release {
                member: name,
                lift: "back-squat".to_owned(),
                by: "Iris".to_owned(),
                at: "2026-11-23 18:00".to_owned(),
            })),
            _ => {
                Decision::Hour(HourDecision::Wish { piece: 0, pair: (name, "Z".to_owned()), together: true })
            }
        }
    }

    proptest! {
        /// In whatever order two coaches decide about different things, all of it stands.
        #[test]
        fn decisions_about_different_things_are_never_lost(order in Just((0..24).collect::<Vec<usize>>()).prop_shuffle()) {
            let all = fold(&order.iter().map(|n| different(*n)).collect::<Vec<_>>());
            prop_assert_eq!(all.pieces.of(0).versions.len(), 4);
            prop_assert_eq!(all.hour.pins.len(), 4);
            prop_assert_eq!(all.hour.floor(1).places.len(), 4);
            prop_assert_eq!(all.hour.floor(0).teams.together.len(), 4);
            prop_assert_eq!(all.warmup.doses.len(), 4);
            prop_assert_eq!(all.loads.released.len(), 4);
        }

        /// A decision comes back from its row, and nothing of a member who has left stays in any.
        #[test]
        fn a_decision_is_stored_and_forgets_who_has_left(n in 0_usize..24) {
            let decision = different(n);
            let stored = serde_json::to_string(&decision).unwrap();
            prop_assert_eq!(&serde_json::from_str::<Decision>(&stored).unwrap(), &decision);
            prop_assert!(decision.checked().is_ok());
            let name = format!("Member {n}");
            let left = decision.without(&name).map(|left| serde_json::to_string(&left).unwrap());
            prop_assert!(left.is_none_or(|left| !left.contains(&name)) || n % 6 == 3);
        }
    }

    #[test]
    fn what_stood_before_decisions_had_rows_comes_back_whole() {
        let mut pieces = PieceEdits::default();
        pieces.change(2, |edit| edit.more = true);
        let mut hour = HourEdits::default();
        hour.change_floor(1, |floor| floor.teams.size = Some(2));
        let warmup = Edits { minutes: Some(12), ..Edits::default() };
        for stands in [
            Decision::Pieces(PieceDecision::Stand { edits: pieces }),
            Decision::Hour(HourDecision::Stand { edits: hour }),
            Decision::Warmup(WarmupDecision::Stand { edits: warmup }),
        ] {
            let stored = serde_json::to_value(&stands).unwrap();
            assert_eq!(serde_json::from_value::<Decision>(stored).unwrap(), stands);
        }
    }

    #[test]
    fn of_two_about_the_same_thing_the_later_one_stands() {
        let choose =
            |version| Decision::Pieces(PieceDecision::Choose { piece: 0, member: "Ada".to_owned(), version });
        let all = fold(&[choose(VersionName::Lighter), choose(VersionName::Simpler)]);
        assert_eq!(all.pieces.of(0).versions["Ada"], VersionName::Simpler);
        let change = Change::ShorterWarmup;
        let make = Decision::Hour(HourDecision::Make { change: change.clone() });
        let back = Decision::Hour(HourDecision::TakeBack { change });
        assert!(fold(&[make.clone(), back.clone()]).hour.changes.is_empty());
        assert_eq!(fold(&[make.clone(), make, back]).hour.changes.len(), 1);
        // Two coaches say that the rowers are out: one click brings them back.
        let change = Change::Without { what: Without::Rowers };
        let out = Decision::Hour(HourDecision::Make { change: change.clone() });
        let back = Decision::Hour(HourDecision::TakeBack { change });
        assert!(fold(&[out.clone(), out, back]).hour.changes.is_empty());
    }

    #[test]
    fn a_line_that_was_taken_back_or_written_once_more_has_been_done_by_nobody() {
        let line = |to: &str| HandLine {
            version: VersionName::Lighter,
            member: None,
            from: "10 burpee".to_owned(),
            to: to.to_owned(),
        };
        let hand = |day, to| (day, PieceDecision::Hand { piece: 0, line: line(to) });
        let back = (1, PieceDecision::HandBack { piece: 0, line: line("6 burpee") });
        assert!(standing_hands([hand(1, "6 burpee"), back.clone()]).is_empty());
        let stands = standing_hands([hand(1, "8 burpee"), hand(1, "6 burpee"), hand(2, "6 burpee")]);
        assert_eq!(stands, [(1, line("6 burpee")), (2, line("6 burpee"))]);
        assert_eq!(standing_hands([hand(2, "6 burpee"), back]).len(), 1);
    }

    #[test]
    fn two_coaches_move_different_items_and_both_moves_stand() {
        let seen: Vec<String> = ["a", "b", "c", "d"].map(str::to_owned).to_vec();
        let exchange = |id: &str, other: &str| {
            let (id, other) = (id.to_owned(), other.to_owned());
            Decision::Warmup(WarmupDecision::Exchange { id, other, seen: seen.clone() })
        };
        assert_eq!(fold(&[exchange("b", "a"), exchange("d", "c")]).warmup.order, ["b", "a", "d", "c"]);
        assert_eq!(fold(&[exchange("d", "c"), exchange("b", "a")]).warmup.order, ["b", "a", "d", "c"]);
    }

    /// A decision as it comes in, with a long text where it says so.
    fn stored(about: &str, what: &str) -> Decision {
        let what = what.replace("LONG", &"x".repeat(LONGEST + 1)).replace("FITS", &"x".repeat(LONGEST));
        serde_json::from_str(&format!("{{\"about\": \"{about}\", \"what\": {{{what}}}}}")).unwrap()
    }

    #[test]
    fn each_value_of_a_decision_has_its_ends() {
        for (about, fits, refused) in [
            (
                "warmup",
                r#""decision": "dose", "id": "a", "dose": "FITS""#,
                r#""decision": "dose", "id": "a", "dose": "LONG""#,
            ),
            (
                "warmup",
                r#""decision": "swap", "id": "a", "to": "FITS""#,
                r#""decision": "swap", "id": "LONG", "to": "b""#,
            ),
            ("warmup", r#""decision": "keep", "id": "FITS""#, r#""decision": "keep", "id": "LONG""#),
            (
                "warmup",
                r#""decision": "exchange", "id": "a", "other": "b", "seen": ["FITS"]"#,
                r#""decision": "exchange", "id": "a", "other": "b", "seen": ["LONG"]"#,
            ),
            (
                "pieces",
                r#""decision": "choose", "piece": 60, "member": "FITS", "version": "Lighter""#,
                r#""decision": "choose", "piece": 61, "member": "Ada", "version": "Lighter""#,
            ),
            (
                "pieces",
                r#""decision": "release", "piece": 0, "member": "Ada""#,
                r#""decision": "release", "piece": 0, "member": "LONG""#,
            ),
            (
                "pieces",
                r#""decision": "window", "piece": 0, "low": 300.0, "high": 300.0"#,
                r#""decision": "window", "piece": 0, "low": 301.0, "high": 300.0"#,
            ),
            (
                "pieces",
                r#""decision": "window", "piece": 0, "low": 0.0, "high": 36000.0"#,
                r#""decision": "window", "piece": 0, "low": 0.0, "high": 36001.0"#,
            ),
            (
                "pieces",
                r#""decision": "hand", "piece": 0, "line": {"version": "AsWritten", "member": "Ada", "from": "a", "to": "b"}"#,
                r#""decision": "hand", "piece": 0, "line": {"version": "AsWritten", "member": null, "from": "a", "to": "b"}"#,
            ),
            (
                "pieces",
                r#""decision": "hand_back", "piece": 0, "line": {"version": "Lighter", "member": null, "from": "a", "to": "b"}"#,
                r#""decision": "hand_back", "piece": 0, "line": {"version": "Lighter", "member": null, "from": "a", "to": "b\nc"}"#,
            ),
            (
                "pieces",
                r#""decision": "home", "piece": 0, "kit": "FITS""#,
                r#""decision": "home", "piece": 0, "kit": "LONG""#,
            ),
            (
                "loads",
                r#""decision": "hold", "member": "Ada", "lift": "back-squat""#,
                r#""decision": "hold", "member": "Ada", "lift": "LONG""#,
            ),
            (
                "loads",
                r#""decision": "release", "member": "Ada", "lift": "deadlift", "by": "Iris", "at": "FITS""#,
                r#""decision": "release", "member": "Ada", "lift": "deadlift", "by": "Iris", "at": "LONG""#,
            ),
            (
                "hour",
                r#""decision": "pin", "block": "brief", "seconds": 30"#,
                r#""decision": "pin", "block": "brief", "seconds": 29"#,
            ),
            (
                "hour",
                r#""decision": "pin", "block": "brief", "seconds": 5400"#,
                r#""decision": "pin", "block": "brief", "seconds": 5401"#,
            ),
            ("hour", r#""decision": "unpin", "block": "brief""#, r#""decision": "unpin", "block": "LONG""#),
            (
                "hour",
                r#""decision": "team_size", "piece": 0, "size": 6"#,
                r#""decision": "team_size", "piece": 0, "size": 7"#,
            ),
            (
                "hour",
                r#""decision": "team_size", "piece": 0, "size": null"#,
                r#""decision": "team_size", "piece": 0, "size": 0"#,
            ),
            (
                "hour",
                r#""decision": "wish", "piece": 0, "pair": ["Ada", "Bo"], "together": true"#,
                r#""decision": "wish", "piece": 0, "pair": ["Ada", "Ada"], "together": true"#,
            ),
            (
                "hour",
                r#""decision": "drop_wish", "piece": 0, "pair": ["Ada", "Bo"], "together": false"#,
                r#""decision": "drop_wish", "piece": 0, "pair": ["Ada", ""], "together": false"#,
            ),
            (
                "hour",
                r#""decision": "place", "piece": 0, "who": "Ada", "at": [-5.0, 105.0]"#,
                r#""decision": "place", "piece": 0, "who": "Ada", "at": [-5.1, 0.0]"#,
            ),
            (
                "hour",
                r#""decision": "places_back", "piece": 60"#,
                r#""decision": "places_back", "piece": 61"#,
            ),
            (
                "hour",
                r#""decision": "teams_alike", "piece": 60, "alike": true"#,
                r#""decision": "teams_alike", "piece": 61, "alike": true"#,
            ),
        ] {
            assert_eq!(stored(about, fits).checked(), Ok(()), "{fits}");
            assert!(stored(about, refused).checked().is_err(), "{refused}");
        }
    }

    #[test]
    fn what_is_about_others_stays_when_somebody_leaves() {
        for n in 0..6 {
            let decision = different(n);
            assert_eq!(decision.without("Nobody").as_ref(), Some(&decision));
        }
        let hand = |member: &str| {
            let what = format!(
                r#""decision": "hand", "piece": 0, "line": {{"version": "Lighter", "member": "{member}", "from": "a", "to": "b"}}"#
            );
            stored("pieces", &what)
        };
        assert_eq!(hand("Ada").without("Ada"), None);
        assert_eq!(hand("Bo").without("Ada"), Some(hand("Bo")));
        let dose =
            |words: &str| stored("warmup", &format!(r#""decision": "dose", "id": "a", "dose": "{words}""#));
        assert_eq!(dose("Ada does ten").without("Ada"), None);
        assert_eq!(dose("ten each").without("Ada"), Some(dose("ten each")));
        // A coach who leaves takes the name along, not the word.
        let release = |member: &str, by: &str| {
            let what = format!(
                r#""decision": "release", "member": "{member}", "lift": "deadlift", "by": "{by}", "at": "18:00""#
            );
            stored("loads", &what)
        };
        assert_eq!(release("Ada", "Iris").without("Ada"), None);
        assert_eq!(release("Ada", "Iris").without("Bo"), Some(release("Ada", "Iris")));
        assert_eq!(release("Ada", "Iris").without("Iris"), Some(release("Ada", crate::strength::UNSIGNED)));
    }

    #[test]
    fn what_was_decided_can_be_taken_back() {
        let all = |what: &[(&str, &str)]| {
            fold(&what.iter().map(|(about, what)| stored(about, what)).collect::<Vec<_>>())
        };
        let lighter =
            ("pieces", r#""decision": "choose", "piece": 0, "member": "Ada", "version": "Lighter""#);
        let own = ("pieces", r#""decision": "release", "piece": 0, "member": "Ada""#);
        assert!(all(&[lighter, own]).pieces.of(0).versions.is_empty());
        let line = |decision: &str| {
            format!(
                r#""decision": "{decision}", "piece": 0, "line": {{"version": "Lighter", "member": "Bo", "from": "a", "to": "b"}}"#
            )
        };
        let (hand, back) = (line("hand"), line("hand_back"));
        let written = all(&[("pieces", &hand)]).pieces.of(0);
        assert_eq!((written.hand.len(), written.versions.get("Bo")), (1, Some(&VersionName::Lighter)));
        assert_eq!(all(&[("pieces", &hand), ("pieces", &hand)]).pieces.of(0).hand.len(), 1);
        assert!(all(&[("pieces", &hand), ("pieces", &back)]).pieces.of(0).hand.is_empty());
        let free = |lift: &str| {
            format!(
                r#""decision": "release", "member": "Ada", "lift": "{lift}", "by": "Iris", "at": "18:00""#
            )
        };
        let (squat, pull, hold) = (
            free("back-squat"),
            free("deadlift"),
            r#""decision": "hold", "member": "Ada", "lift": "deadlift""#,
        );
        let held = all(&[("loads", &squat), ("loads", &pull), ("loads", hold)]).loads.released;
        assert_eq!(held.iter().map(|release| release.lift.as_str()).collect::<Vec<_>>(), ["back-squat"]);
        assert_eq!(all(&[("loads", &squat), ("loads", &squat)]).loads.released.len(), 1);
        let pin = ("hour", r#""decision": "pin", "block": "brief", "seconds": 300"#);
        let unpin = ("hour", r#""decision": "unpin", "block": "brief""#);
        assert_eq!(all(&[pin]).hour.pins.get("brief"), Some(&300));
        assert!(all(&[pin, unpin]).hour.pins.is_empty());
        let stands = ("hour", r#""decision": "place", "piece": 2, "who": "Ada", "at": [1.0, 2.0]"#);
        assert!(
            all(&[stands, ("hour", r#""decision": "places_back", "piece": 2"#)])
                .hour
                .floor(2)
                .places
                .is_empty()
        );
        let wish = |decision: &str, together: bool| {
            format!(r#""decision": "{decision}", "piece": 0, "pair": ["Ada", "Bo"], "together": {together}"#)
        };
        let (with, apart, dropped) = (wish("wish", true), wish("wish", false), wish("drop_wish", false));
        let wishes = all(&[("hour", &with), ("hour", &with), ("hour", &apart), ("hour", &dropped)])
            .hour
            .floor(0)
            .teams;
        assert_eq!((wishes.together.len(), wishes.apart.len()), (1, 0));
        assert_eq!(all(&[("hour", &apart)]).hour.floor(0).teams.apart.len(), 1);
    }

    #[test]
    fn what_cannot_be_is_refused_by_name() {
        let refused = |decision: Decision| decision.checked().unwrap_err();
        let long = "x".repeat(LONGEST + 1);
        assert!(refused(Decision::Warmup(WarmupDecision::Minutes { minutes: 90 })).contains("minutes"));
        assert!(
            refused(Decision::Hour(HourDecision::Pin { block: long.clone(), seconds: 60 })).contains("block")
        );
        assert!(
            refused(Decision::Hour(HourDecision::Pin { block: "warmup".to_owned(), seconds: 44_000 }))
                .contains("0:30")
        );
        assert!(
            refused(Decision::Pieces(PieceDecision::More { piece: 4_000_000, on: true })).contains("piece")
        );
        let at = (f64::NAN, 0.0);
        assert!(
            refused(Decision::Hour(HourDecision::Place { piece: 0, who: "Ada".to_owned(), at }))
                .contains("metres")
        );
        let window = PieceDecision::Window { piece: 0, low: Some(9.0), high: Some(3.0) };
        assert!(refused(Decision::Pieces(window)).contains("low"));
    }
}
