//! A line that was called into the room: whose result, and what it is.

use super::beside::value;
use super::{Done, Entry, Heard, Meant, Predicted, Scored, divided, meant};
use crate::plan::{MemberPiece, PiecePlan};
use crate::versions::{Choice, VersionName};

/// What came of a line.
#[derive(Clone, Debug, PartialEq)]
pub enum Called {
    /// A result of somebody, or of their whole team.
    Kept {
        /// By place in the class.
        who: Vec<usize>,
        /// What was done.
        done: Done,
        /// The score as it was called.
        said: String,
    },
    /// It could be several people, or is odd: which it is, is one more tap.
    Asked {
        /// What is asked.
        why: String,
        /// What it could be.
        offers: Vec<Offer>,
    },
    /// It is nobody's, or no score.
    Refused(String),
}

/// What a line could mean.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Offer {
    /// As it is shown.
    pub label: String,
    /// The line that says it.
    pub line: String,
    /// Whether it is odd and kept all the same.
    pub sure: bool,
}

/// Hears a line of a class in a piece: letters of a name, then a score. What is odd is kept when whoever enters it is sure.
pub fn call(line: &str, piece: &PiecePlan, sure: bool) -> Called {
    let names: Vec<&str> = piece.members.iter().map(|member| member.name.as_str()).collect();
    let kind = |who: usize| scored(piece, &piece.members[who], piece.members[who].chosen().version);
    match call_among(line, &names, kind, sure) {
        Called::Kept { who, done, said } => {
            let who = who.into_iter().flat_map(|who| with_team(piece, who)).collect();
            Called::Kept { who, done, said }
        }
        other => other,
    }
}

/// How a member's result in one of their versions is scored.
pub fn scored(piece: &PiecePlan, member: &MemberPiece, version: VersionName) -> Scored {
    let part = piece.written();
    let tree = done_as(member, version).map_or(&part.tree, |choice| &choice.tree);
    Scored::of(part, tree, &piece.window)
}

/// Hears a line among names, as a score of the kind that is asked of each: letters of a name, then the score.
pub fn call_among(line: &str, names: &[&str], kind: impl Fn(usize) -> Scored, sure: bool) -> Called {
    let Some((letters, score)) = divided(line) else {
        let line = line.trim();
        return Called::Refused(format!("`{line}` is not a name and a score"));
    };
    let who = match meant(letters, names) {
        Meant::One(who) => who,
        Meant::Several(all) => {
            let offer = |who: &usize| Offer {
                label: names[*who].to_owned(),
                line: format!("{} {score}", names[*who]),
                sure: false,
            };
            let why = format!("`{letters}` could be several");
            return Called::Asked { why, offers: all.iter().map(offer).collect() };
        }
        Meant::Nobody => return Called::Refused(format!("nobody of this class begins with `{letters}`")),
    };
    match kind(who).hear(score) {
        Heard::Asked { why, done } if !sure => {
            let (label, line) = (format!("{done} it is"), format!("{} {score}", names[who]));
            let why = format!("{}: {why}", names[who]);
            Called::Asked { why, offers: vec![Offer { label, line, sure: true }] }
        }
        Heard::Kept(done) | Heard::Asked { done, .. } => {
            Called::Kept { who: vec![who], done, said: score.to_owned() }
        }
        Heard::Refused(why) => Called::Refused(format!("{}: {why}", names[who])),
    }
}

/// Somebody with everybody of their team, who share a result.
fn with_team(piece: &PiecePlan, who: usize) -> Vec<usize> {
    let team = piece.teams.iter().find(|team| team.members.contains(&who));
    team.map_or_else(|| vec![who], |team| team.members.clone())
}

/// The version of a member by its name; none where there is no such one.
pub fn done_as(member: &MemberPiece, version: VersionName) -> Option<&Choice> {
    member.options.all.iter().find(|choice| choice.version == version)
}

impl Entry {
    /// A result of a member in one of their versions, with what was predicted of it.
    pub fn new(
        piece: &PiecePlan,
        member: &MemberPiece,
        version: VersionName,
        done: Done,
        said: String,
    ) -> Self {
        let of_team = member.team.as_ref().filter(|_| version == member.chosen().version);
        let predicted = of_team
            .map(|team| &team.predicted)
            .or_else(|| done_as(member, version).map(|choice| &choice.predicted));
        let predicted = predicted.map(|predicted| Predicted::new(predicted, &piece.window));
        let part = piece.written();
        let tree = done_as(member, version).map_or(&part.tree, |choice| &choice.tree);
        let value = predicted.as_ref().and_then(|predicted| value(&done, part, tree, predicted.measure));
        let (value, at_least) = value.map_or((None, false), |(value, at_least)| (Some(value), at_least));
        Self {
            version,
            done,
            said,
            predicted,
            value,
            at_least,
            gone_on: None,
            effort: None,
            hurt: false,
            note: String::new(),
        }
    }
}
