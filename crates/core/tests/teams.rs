//! Teams as teams: one result for everybody who shares a piece, with shares that add up.

use lantern_core::gym::Gym;
use lantern_core::member::Member;
use lantern_core::movement::Catalogue;
use lantern_core::pacing::Measure;
use lantern_core::plan::{Decisions, Plan, Request, plan_json, plan_with};
use lantern_core::read::read;
use lantern_core::roster::roster_from_csv;

fn class(people: usize) -> Vec<Member> {
    let (members, errors) = roster_from_csv(include_str!("../../../data/demo/members.csv"));
    assert!(errors.is_empty() && members.len() >= people);
    members.into_iter().take(people).collect()
}

fn planned(text: &str, members: &[Member], decisions: &Decisions) -> Plan {
    let catalogue = Catalogue::standard();
    let session = read(text, catalogue).session;
    plan_with(Request { session: &session, members, gym: &Gym::default(), catalogue, seed: 1, decisions })
}

const SHARED: [&str; 10] = [
    "In pairs, share as you like\nFor time, cap 20\n80 cal row\n80 burpees\n80 air squats",
    "Teams of 3, one works, two rest\nFor time, cap 30\n120 cal row\n90 air squats",
    "In pairs, alternate rounds\n10 rounds for time\n10 burpees\n10 kettlebell swings 24/16 kg",
    "In pairs, synchro\nFor time\n60 burpees\n60 air squats",
    "In pairs, share as you like\nFor time, cap 20\n60 cal row\n40 synchro burpees",
    "In pairs, share as you like\nAMRAP 15\n10 burpees\n15 cal row",
    "In pairs, switch every 10 reps\nFor time, cap 20\n100 burpees\n100 air squats",
    "In pairs, one works while the other holds a plank\nFor time, cap 20\n80 burpees\n80 air squats",
    "Teams of 3, one person at each station\n4 rounds for time\n15 cal row\n12 burpees\n20 air squats",
    "In pairs, alternate rounds\n5 rounds for time\n10 burpees\n10 kettlebell swings 24/16 kg",
];

#[test]
fn everybody_of_a_team_is_told_the_same_and_shares_add_up() {
    for text in SHARED {
        for people in [13, 14] {
            let members = class(people);
            let plan = planned(text, &members, &Decisions::default());
            let piece = &plan.pieces[0];
            let size = piece.written().team_size as usize;
            let mut seen = vec![0; people];
            for team in &piece.teams {
                let first = piece.members[team.members[0]].predicted();
                for n in &team.members {
                    seen[*n] += 1;
                    let own = &piece.members[*n];
                    assert_eq!(own.predicted(), first, "{text}");
                    assert_ne!(own.options.next, Some(own.options.chosen), "{text}: {}", own.name);
                    let checkpoints = &piece.members[team.members[0]].targets.checkpoints;
                    assert_eq!(&own.targets.checkpoints, checkpoints, "{text}");
                    let goal = own.targets.advice.iter().find(|line| line.starts_with("goal: "));
                    let whole = first.spread.p50.floor();
                    let is_theirs = |line: &String| line.starts_with(&format!("goal: {whole} rounds"));
                    let counted = first.measure == Measure::Rounds;
                    assert!(
                        goal.is_none_or(is_theirs) && goal.is_some() == counted,
                        "{text}: {goal:?}, {first:?}"
                    );
                }
                for shared in [Some(&team.even), team.best.as_ref()].into_iter().flatten() {
                    assert!((shared.shares.iter().sum::<f64>() - 1.0).abs() < 1e-9, "{text}");
                    assert_eq!(shared.shares.len(), team.members.len(), "{text}");
                }
                let legal = [size, size + 1, people % size];
                assert!(legal.contains(&team.members.len()), "{text}: {:?}", team.members);
            }
            assert!(seen.iter().all(|times| *times == 1), "{text}: {seen:?}");
        }
    }
}

#[test]
fn a_team_lies_among_its_members_and_the_best_shares_are_no_worse() {
    for text in SHARED {
        let members = class(14);
        let plan = planned(text, &members, &Decisions::default());
        let piece = &plan.pieces[0];
        for team in &piece.teams {
            let own = || team.members.iter().map(|n| piece.members[*n].chosen().predicted.spread.p50);
            let (low, high) = (own().fold(f64::INFINITY, f64::min), own().fold(0.0, f64::max));
            let middle = team.even.predicted.spread.p50;
            // Less rest for a pair among trios, and days that differ, move it a little beyond.
            assert!(low * 0.95 <= middle && middle <= high * 1.08, "{text}: {low} {middle} {high}");
            if let Some(best) = &team.best {
                let (best, timed) = (best.predicted.spread.p50, piece.window.measure.is_time());
                assert!(if timed { best <= middle * 1.01 } else { best >= middle * 0.99 }, "{text}");
            }
        }
    }
}

#[test]
fn a_team_is_told_together_what_to_do_when_it_is_behind() {
    let text =
        "In pairs, share as you like\nFor time, cap 20, goal 13-15\n80 cal row\n80 burpees\n80 air squats";
    let members = class(6);
    let piece = &planned(text, &members, &Decisions::default()).pieces[0];
    let mut told = 0;
    for team in &piece.teams {
        let behind: Vec<&Vec<String>> =
            team.members.iter().map(|n| &piece.members[*n].targets.behind).collect();
        assert!(behind.windows(2).all(|pair| pair[0] == pair[1]), "{behind:?}");
        told += usize::from(behind[0].iter().any(|line| line.starts_with("half way is")));
        // Who could do more of it is somebody of this team.
        let by_name = behind[0].iter().filter_map(|line| line.strip_prefix("or let "));
        for line in by_name {
            let own = team.members.iter().any(|n| line.starts_with(piece.members[*n].name.as_str()));
            assert!(own && team.best.is_some(), "{line}");
        }
    }
    assert_eq!(told, piece.teams.len());
}

#[test]
fn teams_stand_in_the_plan_and_people_alike_are_together_when_wished() {
    let (catalogue, members) = (Catalogue::standard(), class(12));
    let reading = read(SHARED[0], catalogue);
    let even = planned(SHARED[0], &members, &Decisions::default());
    let json = plan_json(&reading, &even, &members, &Gym::default(), catalogue);
    let team = &json["teams"][0];
    assert_eq!((team["way"].as_str(), team["shares"].as_array().unwrap().len()), (Some("freely"), 2));
    let name = team["members"][0].as_str().unwrap();
    let own = json["members"].as_array().unwrap().iter().find(|row| row["name"] == name).unwrap();
    assert_eq!(own["predicted"]["finish_s"], team["predicted"]["finish_s"]);
    let row = &own["work"][0];
    assert_eq!((row["amount"].as_f64(), row["of_team"].as_f64()), (Some(40.0), Some(80.0)));
    let mut decisions = Decisions::default();
    decisions.hour.change_floor(0, |floor| floor.teams.alike = true);
    let alike = planned(SHARED[0], &members, &decisions);
    let apart = |plan: &Plan| -> f64 {
        let piece = &plan.pieces[0];
        let far = |team: &[usize]| {
            let [a, b] = [team[0], team[1]].map(|n| piece.members[n].chosen().predicted.spread.p50);
            (a - b).abs()
        };
        piece.teams.iter().map(|team| far(&team.members)).sum()
    };
    assert!(apart(&alike) < apart(&even), "{} {}", apart(&alike), apart(&even));
}
