//! What a coach decides, one decision a row: small, absolute, and in whatever order two coaches make them none is lost.
//!
//! A decision says what is to be, never what was read before; what stands is all of them applied in order. Decisions about
//! different things commute, of two about the same thing the later one stands.

mod naming;
#[cfg(test)]
mod tests;
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
