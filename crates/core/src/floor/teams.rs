//! Pairs and trios of about the same speed as each other, with wishes kept.

use serde::{Deserialize, Serialize};

use super::reform;

/// What is wanted of teams.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(default)]
pub struct TeamWishes {
    /// People in a team; none makes none, unless the piece itself asks for them.
    pub size: Option<u32>,
    /// Who is to be in one team.
    pub together: Vec<(String, String)>,
    /// Who is not.
    pub apart: Vec<(String, String)>,
    /// People of about the same speed and load in one team, rather than teams that are even.
    pub alike: bool,
}

/// A team.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Team {
    /// Its members' places in the class.
    pub members: Vec<usize>,
    /// Mean of its members' seconds, repetitions or rounds, as predicted.
    pub mean: f64,
}

/// Somebody to be in a team.
#[derive(Clone, Debug, PartialEq)]
pub(crate) struct TeamMember<'a> {
    pub name: &'a str,
    /// What is predicted of them.
    pub speed: f64,
    /// The heaviest load of their version, in kilograms.
    pub load: f64,
}

/// A broken wish weighs as much as this many standard deviations of team speed.
const A_WISH: f64 = 50.0;
/// Loads that differ by as much as the class's loads do weigh this much against even speeds.
const LOAD_WEIGHT: f64 = 0.5;
/// Rounds of exchanging two people for the better.
const ROUNDS: usize = 20;

/// People of each team: full teams as long as there are people; one who is left over joins a team and takes turns with it, more are a
/// team of their own that does the same piece with less rest.
fn sizes(people: usize, size: usize) -> Vec<usize> {
    let (full, rest) = (people / size, people % size);
    let mut sizes = vec![size; full];
    match (sizes.last_mut(), rest) {
        (_, 0) => {}
        (Some(last), 1) => *last += 1,
        _ => sizes.push(rest),
    }
    sizes
}

/// Teams of `size`, those who are left over as [`sizes`] says: as even in speed as exchanging two people can make them, or of
/// people as alike as it can, sharing weights where that costs little, wishes first.
pub fn teams(class: &[(&str, f64, f64)], size: u32, wishes: &TeamWishes) -> Vec<Team> {
    let class: Vec<TeamMember<'_>> =
        class.iter().map(|(name, speed, load)| TeamMember { name, speed: *speed, load: *load }).collect();
    let size = size.max(1) as usize;
    let sizes = sizes(class.len(), size);
    if class.is_empty() {
        return Vec::new();
    }
    // Fast with slow: the order is dealt out forwards and backwards in turn.
    let mut order: Vec<usize> = (0..class.len()).collect();
    order.sort_by(|a, b| class[*a].speed.total_cmp(&class[*b].speed).then(a.cmp(b)));
    let mut teams = if wishes.alike { runs(&order, &sizes) } else { dealt(&order, &sizes) };
    let cost = |teams: &[Vec<usize>]| cost(teams, &class, wishes);
    let mut now = cost(&teams);
    for _ in 0..ROUNDS {
        let mut better = false;
        for a in 0..class.len() {
            for b in a + 1..class.len() {
                exchange(&mut teams, a, b);
                let then = cost(&teams);
                if then < now - 1e-9 {
                    (now, better) = (then, true);
                } else {
                    exchange(&mut teams, a, b);
                }
            }
        }
        if !better {
            break;
        }
    }
    teams.into_iter().map(|members| Team::of(members, &class)).collect()
}

/// Teams as they stood, of those who are `here`: as few as may be go to another team, and of the ways to do that the one that leaves the teams most even.
pub fn teams_again(
    class: &[(&str, f64, f64)],
    size: u32,
    wishes: &TeamWishes,
    (stood, here): (&[Team], &[usize]),
) -> Vec<Team> {
    let class: Vec<TeamMember<'_>> =
        class.iter().map(|(name, speed, load)| TeamMember { name, speed: *speed, load: *load }).collect();
    let stood: Vec<Vec<usize>> = stood.iter().map(|team| team.members.clone()).collect();
    let filled = |teams: &[Vec<usize>]| -> Vec<Vec<usize>> {
        teams.iter().filter(|team| !team.is_empty()).cloned().collect()
    };
    let sizes = sizes(here.len(), size.max(1) as usize);
    let teams = reform(&stood, here, &sizes, |teams| cost(&filled(teams), &class, wishes));
    filled(&teams).into_iter().map(|members| Team::of(members, &class)).collect()
}

impl Team {
    fn of(mut members: Vec<usize>, class: &[TeamMember<'_>]) -> Self {
        members.sort_unstable();
        let mean = members.iter().map(|n| class[*n].speed).sum::<f64>() / members.len().max(1) as f64;
        Self { members, mean }
    }
}

/// Forwards and backwards in turn, past teams that are full.
fn dealt(order: &[usize], sizes: &[usize]) -> Vec<Vec<usize>> {
    let mut teams: Vec<Vec<usize>> = vec![Vec::new(); sizes.len()];
    let mut places = (0..sizes.len()).chain((0..sizes.len()).rev()).cycle();
    for member in order {
        let open = |teams: &[Vec<usize>], place: usize| teams[place].len() < sizes[place];
        if let Some(place) = places.by_ref().take(2 * sizes.len() + 1).find(|place| open(&teams, *place)) {
            teams[place].push(*member);
        }
    }
    teams
}

/// Neighbours together.
fn runs(order: &[usize], sizes: &[usize]) -> Vec<Vec<usize>> {
    let mut order = order.iter().copied();
    sizes.iter().map(|size| order.by_ref().take(*size).collect()).collect()
}

fn exchange(teams: &mut [Vec<usize>], a: usize, b: usize) {
    for member in teams.iter_mut().flatten() {
        if *member == a {
            *member = b;
        } else if *member == b {
            *member = a;
        }
    }
}

fn cost(teams: &[Vec<usize>], class: &[TeamMember<'_>], wishes: &TeamWishes) -> f64 {
    let spread = |values: &[f64]| {
        let mean = values.iter().sum::<f64>() / values.len().max(1) as f64;
        (values.iter().map(|value| (value - mean).powi(2)).sum::<f64>() / values.len().max(1) as f64).sqrt()
    };
    let of = |team: &[usize], what: fn(&TeamMember<'_>) -> f64| -> Vec<f64> {
        team.iter().map(|n| what(&class[*n])).collect()
    };
    let everybody: Vec<usize> = (0..class.len()).collect();
    let speeds = spread(&of(&everybody, |member| member.speed)).max(1e-9);
    let loads = spread(&of(&everybody, |member| member.load)).max(1e-9);
    let means: Vec<f64> = teams
        .iter()
        .map(|team| of(team, |member| member.speed).iter().sum::<f64>() / team.len().max(1) as f64)
        .collect();
    let uneven = if wishes.alike {
        teams.iter().map(|team| spread(&of(team, |member| member.speed)) / speeds).sum::<f64>()
    } else {
        spread(&means) / speeds * teams.len() as f64
    };
    let unlike: f64 = teams.iter().map(|team| spread(&of(team, |member| member.load)) / loads).sum();
    let team_of = |name: &str| teams.iter().position(|team| team.iter().any(|n| class[*n].name == name));
    let broken = |pairs: &[(String, String)], together: bool| {
        pairs
            .iter()
            .filter(|(a, b)| match (team_of(a), team_of(b)) {
                (Some(a), Some(b)) => (a == b) != together,
                _ => false,
            })
            .count() as f64
    };
    let wishes = broken(&wishes.together, true) + broken(&wishes.apart, false);
    uneven + unlike * LOAD_WEIGHT + wishes * A_WISH
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    const CLASS: [(&str, f64, f64); 6] = [
        ("Ada", 400.0, 60.0),
        ("Ben", 430.0, 60.0),
        ("Cyd", 500.0, 40.0),
        ("Dov", 560.0, 40.0),
        ("Eve", 640.0, 30.0),
        ("Fay", 700.0, 30.0),
    ];

    fn names(team: &Team) -> Vec<&'static str> {
        team.members.iter().map(|n| CLASS[*n].0).collect()
    }

    #[test]
    fn teams_are_even_and_wishes_are_kept() {
        let pairs = teams(&CLASS, 2, &TeamWishes::default());
        assert_eq!(pairs.len(), 3);
        let means: Vec<f64> = pairs.iter().map(|team| team.mean).collect();
        let (low, high) =
            (means.iter().copied().fold(f64::MAX, f64::min), means.iter().copied().fold(0.0, f64::max));
        assert!(high - low < 100.0, "{means:?}");
        let pair = |a: &str, b: &str| (a.to_owned(), b.to_owned());
        let wishes = TeamWishes {
            together: vec![pair("Ada", "Ben")],
            apart: vec![pair("Cyd", "Dov")],
            ..Default::default()
        };
        let pairs = teams(&CLASS, 2, &wishes);
        assert!(pairs.iter().any(|team| names(team) == ["Ada", "Ben"]), "{pairs:?}");
        assert!(!pairs.iter().any(|team| names(team) == ["Cyd", "Dov"]), "{pairs:?}");
    }

    #[test]
    fn a_wish_that_is_broken_weighs_more_than_anything_and_one_that_is_kept_nothing() {
        let class = CLASS.map(|(name, speed, load)| TeamMember { name, speed, load });
        let pairs = [vec![0, 1], vec![2, 3], vec![4, 5]];
        let with = |apart: &[(&str, &str)]| {
            let apart = apart.iter().map(|(a, b)| ((*a).to_owned(), (*b).to_owned())).collect();
            cost(&pairs, &class, &TeamWishes { apart, ..TeamWishes::default() })
        };
        let none = with(&[]);
        assert!((with(&[("Ada", "Cyd")]) - none).abs() < 1e-9);
        assert!((with(&[("Ada", "Ben")]) - none - A_WISH).abs() < 1e-9);
        assert!((with(&[("Ada", "Ben"), ("Cyd", "Dov")]) - none - 2.0 * A_WISH).abs() < 1e-9);
        assert!(none < A_WISH, "{none}");
    }

    #[test]
    fn people_alike_are_together_when_that_is_wanted() {
        let pairs = teams(&CLASS, 2, &TeamWishes { alike: true, ..Default::default() });
        let pairs: Vec<Vec<&str>> = pairs.iter().map(names).collect();
        assert_eq!(pairs, [["Ada", "Ben"], ["Cyd", "Dov"], ["Eve", "Fay"]]);
    }

    proptest! {
        #[test]
        fn prop_everybody_is_in_one_team_and_what_is_left_over_forms_a_legal_one(
            speeds in prop::collection::vec(200.0..900.0_f64, 1..20),
            size in 1_u32..5,
            alike: bool,
        ) {
            let names: Vec<String> = (0..speeds.len()).map(|n| format!("Member {n}")).collect();
            let class: Vec<(&str, f64, f64)> =
                names.iter().zip(&speeds).map(|(name, speed)| (name.as_str(), *speed, 40.0)).collect();
            let made = teams(&class, size, &TeamWishes { alike, ..TeamWishes::default() });
            let mut all: Vec<usize> = made.iter().flat_map(|team| team.members.clone()).collect();
            all.sort_unstable();
            prop_assert_eq!(all, (0..speeds.len()).collect::<Vec<_>>());
            let size = size as usize;
            let odd: Vec<usize> =
                made.iter().map(|team| team.members.len()).filter(|found| *found != size).collect();
            match (speeds.len() / size, speeds.len() % size) {
                (_, 0) => prop_assert!(odd.is_empty(), "{:?}", made),
                (full, 1) if full > 0 => prop_assert_eq!(odd, [size + 1]),
                (_, rest) => prop_assert_eq!(odd, [rest]),
            }
        }
    }
}
