//! The coach's hand: a line of a version, or of one person's row, written anew.
//!
//! A line is a line of the plain notation, and so is what takes its place: a load, a number, the rounds or another movement are all
//! changed the same way. A change holds as long as the line that it was made on is there, whatever else of the text changes.

use serde::{Deserialize, Serialize};

use super::names::VersionName;
use crate::movement::Catalogue;
use crate::print::{only_work, part_text};
use crate::read::read;
use crate::session::{Node, Part, Severity, Work, works};

/// Most lines of a piece's versions that are written anew.
pub const MOST: usize = 100;
/// Why a change stands beside the others that were made.
pub(super) const BY_HAND: &str = "by the coach's hand";

/// A line that a coach has written anew.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
pub struct HandLine {
    /// Of which version.
    pub version: VersionName,
    /// Of one person's row; none for the version on the board.
    #[serde(default)]
    pub member: Option<String>,
    /// The line as it stood, in plain notation.
    pub from: String,
    /// What is to stand there.
    pub to: String,
}

impl HandLine {
    /// Whether it is a change of the same line of the same version and person.
    pub fn is_of_line(&self, other: &Self) -> bool {
        let Self { version, member, from, to: _ } = self;
        (version, member, from) == (&other.version, &other.member, &other.from)
    }
}

/// The tree with one of its lines written anew.
///
/// # Errors
/// The line is not there, or what is to stand there cannot be read as work; the words name the line.
pub fn rewritten(
    part: &Part,
    tree: &Node,
    from: &str,
    to: &str,
    catalogue: &Catalogue,
) -> Result<Node, String> {
    let text = part_text(&only_work(part, tree), catalogue);
    let at = text.lines().skip(1).position(|line| line == from);
    let Some(at) = at.map(|at| at + 1) else {
        return Err(format!("the line `{from}` is not there any more"));
    };
    let lines: Vec<&str> =
        text.lines().enumerate().map(|(n, line)| if n == at { to.trim() } else { line }).collect();
    let reading = read(&lines.join("\n"), catalogue);
    let unread = reading.problems.iter().find(|problem| problem.severity == Severity::Error);
    if let Some(problem) = unread {
        return Err(format!("`{}`: {}", to.trim(), problem.message));
    }
    let [read] = &reading.session.parts[..] else {
        return Err(format!("`{}` would make another part of it", to.trim()));
    };
    let (before, after) = (works(tree), works(&read.tree));
    // A line that says nothing to do is a note for the reader; here it would lose the work unseen. An empty one leaves its work out.
    let least = before.len().saturating_sub(usize::from(to.trim().is_empty())).max(1);
    if after.len() < least || read.kind != part.kind || read.tree == *tree {
        return Err(format!(
            "`{}` was not understood as a line of this piece: write it as the others are, with a number and a movement",
            to.trim()
        ));
    }
    Ok(counting_as_before(&read.tree, &before, catalogue))
}

/// A tree whose work counts for what the work before it counted for; another movement in its place, as long as it takes where it counts
/// otherwise.
fn counting_as_before(tree: &Node, before: &[&Work], catalogue: &Catalogue) -> Node {
    let in_line = works(tree).len() == before.len();
    let each = |work: &Work| catalogue.get(&work.movement)?.seconds_per(work.dose.unit, 0.5);
    let mut at = 0;
    tree.map_work(&mut |work| {
        let of_its_kind = || before.iter().copied().find(|old| old.movement == work.movement);
        let old = if in_line { before.get(at).copied() } else { of_its_kind() };
        at += 1;
        let Some(old) = old else { return Node::Work(work.clone()) };
        let as_long = (old.dose.unit != work.dose.unit).then(|| each(work).zip(each(old))).flatten();
        Node::Work(match (as_long, old.stands_for) {
            (Some((of_old, of_this)), _) => work.clone().in_place_of(old, of_old, of_this),
            (None, Some(_)) => work.clone().in_place_of(old, 1.0, 1.0),
            (None, None) => Work { uncounted: old.uncounted, ..work.clone() },
        })
    })
}

/// The tree with all changes that hold; each is made on what the one before it has left.
pub(super) fn by_hand<'l>(
    part: &Part,
    tree: &Node,
    changes: impl Iterator<Item = &'l HandLine>,
    catalogue: &Catalogue,
) -> (Node, Vec<&'l HandLine>) {
    let (mut tree, mut held) = (tree.clone(), Vec::new());
    for change in changes {
        if let Ok(changed) = rewritten(part, &tree, &change.from, &change.to, catalogue) {
            tree = changed;
            held.push(change);
        }
    }
    (tree, held)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::gym::Gym;
    use crate::member::{Experience, Member};
    use crate::plan::{Decisions, Plan, Request, plan_with};
    use crate::print::work_lines;

    const DAY: &str = "21-15-9 for time, cap 12\nthrusters 40/30 kg\npull-ups\ngoal 4-9 min";

    fn class() -> Vec<Member> {
        ["Ada", "Ben", "Cyd"]
            .map(|name| Member {
                name: name.to_owned(),
                experience: Experience::Intermediate,
                ..Member::default()
            })
            .to_vec()
    }

    fn planned(text: &str, members: &[Member], hand: &[HandLine]) -> Plan {
        let catalogue = Catalogue::standard();
        let session = read(text, catalogue).session;
        let mut decisions = Decisions::default();
        decisions.pieces.change(0, |edit| edit.hand = hand.to_vec());
        let (gym, decisions) = (&Gym::default(), &decisions);
        plan_with(Request { session: &session, members, gym, catalogue, seed: 1, decisions })
    }

    fn line(member: Option<&str>, from: &str, to: &str) -> HandLine {
        let member = member.map(str::to_owned);
        HandLine { version: VersionName::Lighter, member, from: from.to_owned(), to: to.to_owned() }
    }

    /// What can be done to a line, and what the work is then.
    #[test]
    fn a_load_a_number_the_rounds_and_a_movement_are_changed_the_same_way() {
        let catalogue = Catalogue::standard();
        let part =
            read("5 rounds for time\n10 thrusters 40/30 kg\n15 pull-ups", catalogue).session.parts.remove(0);
        let lines = work_lines(&part, &part.tree, catalogue);
        let changed = |from: &str, to: &str| {
            let from = lines.iter().find(|line| line.contains(from)).unwrap();
            let tree = rewritten(&part, &part.tree, from, to, catalogue).unwrap();
            work_lines(&part, &tree, catalogue).join("; ")
        };
        insta::assert_snapshot!([
            changed("thruster", "10 thruster, 35/25 kg"),
            changed("thruster", "8 thruster, 40/30 kg"),
            changed("5 rounds", "4 rounds for time"),
            changed("pull-up", "12 ring rows"),
            changed("pull-up", ""),
        ].join("\n"), @r"
        For time; 5 rounds; 10 thruster, 35/25 kg; 15 pull-up
        For time; 5 rounds; 8 thruster, 40/30 kg; 15 pull-up
        For time; 4 rounds; 10 thruster, 40/30 kg; 15 pull-up
        For time; 5 rounds; 10 thruster, 40/30 kg; 12 ring row
        For time; 5 rounds; 10 thruster, 40/30 kg
        ");
    }

    #[test]
    fn what_cannot_be_read_is_named_and_changes_nothing() {
        let catalogue = Catalogue::standard();
        let part = read(DAY, catalogue).session.parts.remove(0);
        let lines = work_lines(&part, &part.tree, catalogue);
        let from = lines.iter().find(|line| line.contains("pull-up")).unwrap();
        for to in ["have fun", "qqq zzz", "Back squat 5x5 @ 75 %"] {
            let refused = rewritten(&part, &part.tree, from, to, catalogue);
            assert!(refused.as_ref().is_err_and(|why| why.contains(to)), "{to}: {refused:?}");
        }
        let gone = rewritten(&part, &part.tree, "10 burpees", "8 burpees", catalogue).unwrap_err();
        assert!(gone.contains("10 burpees") && gone.contains("not there"), "{gone}");
    }

    #[test]
    fn a_line_of_the_board_is_everybody_s_and_holds_while_the_text_changes_elsewhere() {
        let (catalogue, members) = (Catalogue::standard(), class());
        let before = planned(DAY, &members, &[]);
        let on_board = |plan: &Plan| {
            let piece = &plan.pieces[0];
            work_lines(piece.written(), &piece.versions[1].part.tree, catalogue)
        };
        let from = on_board(&before).into_iter().find(|line| line.contains("thruster")).unwrap();
        let hand = [line(None, &from, "thruster, 20/15 kg")];
        for text in [DAY.to_owned(), DAY.replace("cap 12", "cap 14")] {
            let after = planned(&text, &members, &hand);
            assert!(on_board(&after).contains(&"thruster, 20/15 kg".to_owned()), "{:?}", on_board(&after));
            for own in &after.pieces[0].members {
                let lighter = &own.options.all[1];
                assert!(
                    works(&lighter.tree).iter().any(|work| work.load.is_some_and(|load| load.first <= 20.0)),
                    "{}",
                    own.name
                );
                assert!(lighter.edits.iter().any(|edit| edit.why == BY_HAND));
            }
        }
        // The line is gone with its movement: nothing is done to another one.
        let other = DAY.replace("thrusters", "wall balls").replace("40/30", "9/6");
        assert_eq!(on_board(&planned(&other, &members, &hand)), on_board(&planned(&other, &members, &[])));
    }

    #[test]
    fn a_bar_by_hand_that_is_too_heavy_for_somebody_is_lighter_for_them() {
        let squat = |kg| (crate::movement::MovementId::new("front-squat"), crate::member::Max::on_file(kg));
        let with = |name: &str, kg: f64| Member {
            name: name.to_owned(),
            sex: Some(crate::member::Sex::M),
            experience: Experience::Intermediate,
            maxes: [squat(crate::units::Kilograms::from_kg(kg))].into(),
            ..Member::default()
        };
        let members = [with("Strong", 130.0), with("Slight", 50.0)];
        let catalogue = Catalogue::standard();
        let before = planned(DAY, &members, &[]);
        let piece = &before.pieces[0];
        let on_board = work_lines(piece.written(), &piece.versions[1].part.tree, catalogue);
        let from = on_board.iter().find(|line| line.contains("thruster")).unwrap();
        let after = planned(DAY, &members, &[line(None, from, "thruster, 37.5/25 kg")]);
        let load = |n: usize| {
            let tree = &after.pieces[0].members[n].options.all[1].tree;
            works(tree).iter().find_map(|work| work.load).unwrap().first
        };
        assert!(load(0) == 37.5 && load(1) < 37.5, "{} {}", load(0), load(1));
    }

    #[test]
    fn a_version_by_hand_still_swaps_what_one_person_spares() {
        let catalogue = Catalogue::standard();
        let mut members = class();
        members[0].limits = vec![crate::limits::Limit::new("left wrist: no front rack")];
        members[1].limits = vec![crate::limits::Limit::new("no hanging from a bar")];
        let place = 4;
        let before = planned(DAY, &members, &[]);
        let piece = &before.pieces[0];
        let name = piece.versions[place].name;
        let first = work_lines(piece.written(), &piece.versions[place].part.tree, catalogue)
            .into_iter()
            .find(|line| line.contains("21-15-9") || line.contains("24-18-12"))
            .unwrap();
        let hand = HandLine { version: name, member: None, from: first, to: "18-12-6".to_owned() };
        let after = planned(DAY, &members, &[hand]);
        for (own, person) in after.pieces[0].members.iter().zip(&members).take(2) {
            let works = works(&own.options.all[place].tree);
            assert_eq!(works.len(), 2, "{}: nothing is left out where something can be swapped", own.name);
            let spared = works.iter().any(|work| {
                let movement = catalogue.get(&work.movement).unwrap();
                person.limits.iter().any(|limit| limit.spares(movement))
            });
            assert!(!spared, "{}: {works:?}", own.name);
        }
    }

    #[test]
    fn a_line_of_one_person_changes_nobody_else() {
        let (catalogue, members) = (Catalogue::standard(), class());
        let before = planned(DAY, &members, &[]);
        let piece = &before.pieces[0];
        let own = work_lines(piece.written(), &piece.members[1].options.all[1].tree, catalogue);
        let from = own.iter().find(|line| line.contains("pull-up")).unwrap();
        let after = planned(DAY, &members, &[line(Some("Ben"), from, "ring row")]);
        let all = |plan: &Plan, n: usize| plan.pieces[0].members[n].options.all.clone();
        assert_eq!((all(&before, 0), all(&before, 2)), (all(&after, 0), all(&after, 2)));
        let (was, is) = (&all(&before, 1)[1], &all(&after, 1)[1]);
        assert!(works(&is.tree).iter().any(|work| work.movement.as_str() == "ring-row"), "{:?}", is.tree);
        assert_ne!(was.predicted, is.predicted);
        // Their card says where they are not with the board; the text as it stands is nobody's own.
        let gym = Gym::default();
        let but = |plan: &Plan, n: usize| plan.pieces[0].own_lines(n, &members[n], &gym, catalogue);
        let chosen = &mut after.clone();
        chosen.pieces[0].members[1].options.chosen = 1;
        assert!(but(chosen, 1).contains(&"ring row".to_owned()), "{:?}", but(chosen, 1));
        chosen.pieces[0].members[1].options.chosen = 0;
        assert_eq!(but(chosen, 1), Vec::<String>::new());
    }
}
