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
        let mut predicted = predicted.map(|predicted| Predicted::new(predicted, &piece.window));
        // What a team has done says nothing of one of them who did it otherwise than was expected of the team.
        let otherwise = member.team.is_some() && of_team.is_none();
        if let Some(predicted) = predicted.as_mut().filter(|_| otherwise) {
            predicted.rests = None;
        }
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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::gym::Gym;
    use crate::member::Member;
    use crate::movement::Catalogue;
    use crate::plan::{Plan, plan};
    use crate::read::read;
    use crate::roster::roster_from_csv;

    /// A class of four, two of whom begin alike, in a piece.
    fn planned(text: &str) -> Plan {
        let roster = "name,sex,age,bodyweight_kg,experience\nAnna Berg,F,30,62,intermediate\n\
                      Anton Cole,M,34,82,intermediate\nBea Dorn,F,41,70,beginner\nCy Eves,M,25,77,advanced";
        let (members, errors): (Vec<Member>, _) = roster_from_csv(roster);
        assert!(errors.is_empty(), "{errors:?}");
        let catalogue = Catalogue::standard();
        plan(&read(text, catalogue).session, &members, &Gym::default(), catalogue, 1)
    }

    const CAPPED: &str = "5 rounds for time, cap 12\n10 burpees\n20 air squats";

    #[test]
    fn a_line_is_somebodys_result() {
        let day = planned(CAPPED);
        let called = |line: &str| call(line, &day.pieces[0], false);
        let kept =
            |who: usize, done: Done, said: &str| Called::Kept { who: vec![who], done, said: said.to_owned() };
        assert_eq!(called("bea 9:41"), kept(2, Done::Finished { seconds: 581 }, "9:41"));
        assert_eq!(called("cy eves 9:41"), kept(3, Done::Finished { seconds: 581 }, "9:41"));
        let refused = |line: &str, words: &str| match called(line) {
            Called::Refused(why) => assert!(why.contains(words), "{line}: {why}"),
            other => panic!("{line}: {other:?}"),
        };
        refused("zoe 9:41", "nobody of this class begins with `zoe`");
        refused("9:41", "`9:41` is not a name and a score");
        refused("bea 9:71", "Bea Dorn: ");
    }

    #[test]
    fn letters_of_several_ask_whose_it_is() {
        let day = planned(CAPPED);
        let Called::Asked { why, offers } = call("an 9:41", &day.pieces[0], false) else { panic!("asked") };
        assert_eq!(why, "`an` could be several");
        let lines: Vec<&str> = offers.iter().map(|offer| offer.line.as_str()).collect();
        assert_eq!(lines, ["Anna Berg 9:41", "Anton Cole 9:41"]);
        for (who, offer) in offers.iter().enumerate() {
            assert!(!offer.sure);
            let Called::Kept { who: kept, .. } = call(&offer.line, &day.pieces[0], false) else {
                panic!("{offer:?}")
            };
            assert_eq!(kept, [who]);
        }
    }

    #[test]
    fn what_is_odd_is_asked_and_kept_on_a_word() {
        let day = planned(CAPPED);
        let Called::Asked { why, offers } = call("bea 14:00", &day.pieces[0], false) else { panic!("asked") };
        assert!(why.starts_with("Bea Dorn: "), "{why}");
        let [offer] = &offers[..] else { panic!("{offers:?}") };
        assert!(offer.sure && offer.line == "Bea Dorn 14:00", "{offer:?}");
        let Called::Kept { who, done, .. } = call(&offer.line, &day.pieces[0], offer.sure) else {
            panic!("kept")
        };
        assert_eq!((who, done), (vec![2], Done::Finished { seconds: 840 }));
    }

    #[test]
    fn a_team_has_one_result() {
        let day = planned("In pairs, share as you like\nFor time, cap 20\n100 burpees\n100 air squats");
        let piece = &day.pieces[0];
        let Called::Kept { who, .. } = call("bea 11:20", piece, false) else { panic!("kept") };
        assert_eq!(who.len(), 2);
        assert!(who.contains(&2));
        let mates: Vec<&str> = who.iter().map(|who| piece.members[*who].name.as_str()).collect();
        let Called::Kept { who: again, .. } = call(&format!("{} 11:20", mates[0]), piece, false) else {
            panic!("kept")
        };
        assert_eq!(again, who);
        // What was predicted of the team is what it is held against.
        let mate = &piece.members[who[0]];
        let done = Done::Finished { seconds: 680 };
        let entry = Entry::new(piece, mate, mate.chosen().version, done, "11:20".to_owned());
        let of_team = mate.team.as_ref().unwrap().predicted.finish_s.p50;
        assert_eq!(entry.predicted.as_ref().map(|predicted| predicted.spread[1]), Some(of_team));
        // It tells nothing of one of them, whatever version they did.
        let monday = chrono::NaiveDate::from_ymd_opt(2026, 3, 2).unwrap();
        assert_eq!(entry.tells(monday, false), None);
        let other = mate.options.all.iter().find(|choice| choice.version != mate.chosen().version).unwrap();
        let otherwise = Entry::new(piece, mate, other.version, entry.done.clone(), entry.said.clone());
        assert!(otherwise.predicted.is_some() && otherwise.tells(monday, false).is_none());
        assert_eq!((entry.value, entry.at_least), (Some(680.0), false));
    }

    #[test]
    fn a_result_keeps_what_was_predicted_of_the_version_that_was_done() {
        let day = planned(CAPPED);
        let piece = &day.pieces[0];
        let member = &piece.members[2];
        for choice in member.options.all.iter() {
            let entry = Entry::new(
                piece,
                member,
                choice.version,
                Done::Finished { seconds: 600 },
                "10:00".to_owned(),
            );
            assert_eq!(
                entry.predicted.unwrap().spread[1],
                choice.predicted.finish_s.p50,
                "{:?}",
                choice.version
            );
            assert_eq!(done_as(member, choice.version), Some(choice));
        }
        let capped = Entry::new(
            piece,
            member,
            member.chosen().version,
            Done::Capped { left: Some(8) },
            "cap+8".to_owned(),
        );
        assert!(capped.at_least && capped.value.is_some_and(|value| value >= 720.0), "{capped:?}");
    }
}
