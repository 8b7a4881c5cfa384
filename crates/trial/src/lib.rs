//! Weeks of invented classes with hidden bodies: whether what is learned from results makes predictions better.
//!
//! Each week has some pieces; whoever comes is planned for as a coach would have it, does their version as their body does, and what they
//! call out goes into the book. What was predicted is then held against what came, beside what would have been predicted without learning.

mod history;
mod people;
mod pieces;
mod report;

pub use history::{Day, Entered, History, Lifted};
pub use pieces::drawn as piece;
pub use report::{BETTER, PEOPLE_BETTER, Report, WITHIN, Week};

use bodies::{Body, Work};
use chrono::{Days, NaiveDate};
use lantern_core::book::{CEILING, Done, Entry, OfGym, Outcome, Predicted, Told, ToldByClass, done_as};
use lantern_core::gym::Gym;
use lantern_core::member::Member;
use lantern_core::movement::Catalogue;
use lantern_core::pacing::{
    Athlete, ByCapability, Capability, Days as Luck, Direction, Measure, Model, predict,
};
use lantern_core::plan::{MemberPiece, PiecePlan, SAMPLES, plan};
use lantern_core::read::read;
use lantern_core::session::Node;

/// Pieces that are done in a week, and how often of a hundred somebody comes to one.
const A_WEEK: usize = 5;
const COME: u32 = 70;
/// How often of a hundred somebody stops, and has less time than the written cap leaves, whoever they are: of what a body like most would take. With
/// those whom the written cap stops, a fifth of all.
const STOPS: u32 = 8;
const HAS_LESS: u32 = 45;
const LESS: f64 = 0.95;
/// How often of a hundred what was left is counted when the time is over.
const COUNTED: u32 = 50;

/// How a trial is made.
#[derive(Clone, Copy, Debug)]
pub struct Trial {
    /// Draws people, pieces and days.
    pub seed: u64,
    /// How long it goes.
    pub weeks: u32,
    /// How many people there are.
    pub people: usize,
}

/// Somebody of a trial, with what is known of them.
struct Person {
    member: Member,
    body: Body,
    /// By how much their time differs because of what is on file.
    by_file: f64,
    told: Vec<Told>,
}

/// What came of a piece for somebody.
struct Came {
    who: usize,
    week: u32,
    /// None where nothing could be compared.
    outcome: Option<(Outcome, Outcome)>,
    full: bool,
}

impl Trial {
    /// Runs it.
    pub fn run(self) -> Report {
        let catalogue = Catalogue::standard();
        let mut people = people::drawn(self);
        let mut classes: Vec<ToldByClass> = Vec::new();
        let mut came = Vec::new();
        let first = NaiveDate::from_ymd_opt(2030, 1, 7).unwrap_or_default();
        for n in 0..self.weeks as usize * A_WEEK {
            let week = n as f64 / A_WEEK as f64;
            let day = first + Days::new((week * 7.0) as u64);
            let text = pieces::drawn(self.seed, n);
            let session = read(&text, catalogue).session;
            let coming: Vec<usize> = (0..people.len())
                .filter(|who| {
                    let body = &mut people[*who].body;
                    body.happens(COME) && body.comes(week)
                })
                .collect();
            let gym = OfGym::new(&classes, day);
            let members: Vec<Member> = coming
                .iter()
                .map(|who| {
                    let Person { member, told, .. } = &people[*who];
                    let learned = gym.of_member(member, told, day).map(std::sync::Arc::new);
                    Member { learned, ..member.clone() }
                })
                .collect();
            let planned = plan(&session, &members, &Gym::default(), catalogue, self.seed);
            let Some(piece) = planned.pieces.first() else { continue };
            let mut told = Vec::new();
            for (member, who) in piece.members.iter().zip(&coming) {
                let Some((result, entry)) = did(piece, member, &mut people[*who], week) else { continue };
                let plain = by_file(piece, &member.chosen().tree, &people[*who].member, self.seed);
                let with = entry.predicted.clone().and_then(|predicted| Outcome::beside(result, &predicted));
                let without = Outcome::beside(result, &plain);
                let full = matches!(
                    entry.done,
                    Done::Finished { .. } | Done::Rounds { .. } | Done::Intervals { .. }
                );
                came.push(Came { who: *who, week: week as u32, outcome: with.zip(without), full });
                if let Some(tells) = entry.tells(day, false) {
                    people[*who].told.push(tells.clone());
                    told.push(tells);
                }
            }
            classes.extend(ToldByClass::of(&told));
        }
        let last = first + Days::new(u64::from(self.weeks) * 7);
        Report::new(self, &came, moved_by_nonsense(&people, &classes, last))
    }
}

/// What somebody's body makes of their version: the result in the piece's measure, however it ended, and what is entered of it.
fn did(piece: &PiecePlan, member: &MemberPiece, person: &mut Person, week: f64) -> Option<(f64, Entry)> {
    let (part, version) = (piece.written(), member.chosen().version);
    let tree = &done_as(member, version)?.tree;
    let work = Work::of(tree, Catalogue::standard())?;
    let factor = person.body.on_a_day(work.kind, week) * person.by_file.exp();
    let (done, result) = match piece.window.measure {
        Measure::Finish => {
            let took = bodies::seconds(work.all_s) * factor;
            // Somebody has less time than the written cap leaves, whoever they are.
            let usual = bodies::seconds(work.all_s) * person.by_file.exp();
            let less = if person.body.happens(HAS_LESS) { usual * LESS } else { f64::INFINITY };
            let cap = part.cap_s.map_or(f64::INFINITY, f64::from).min(less);
            if took > cap {
                let share = bodies::work_in(cap / factor) / work.all_s;
                return Some((took, capped(piece, member, (cap, share), person.body.happens(COUNTED))));
            }
            (Done::Finished { seconds: took.round() as u32 }, took)
        }
        Measure::Rounds => {
            let clock = f64::from(part.duration_s?);
            let rounds = bodies::work_in(clock / factor) / work.round_s;
            let all: f64 = lantern_core::session::per_round(tree).iter().map(|total| total.amount).sum();
            let reps = (rounds.fract() * all) as u32;
            (Done::Rounds { rounds: rounds as u32, reps }, rounds)
        }
        Measure::SlowestInterval => {
            let count = f64::from(part.rounds?.max(1));
            let took = bodies::seconds(work.all_s / count) * factor;
            (Done::Intervals { seconds: vec![took.round() as u32; count as usize] }, took)
        }
        _ => return None,
    };
    let done = if person.body.happens(STOPS) { Done::Stopped } else { done };
    let said = done.to_string();
    Some((result, Entry::new(piece, member, version, done, said)))
}

/// As somebody enters it whose time was over after a share of the work: that it would have been more; or, where they counted what was left, what all of it
/// would have taken if the rest went as what was done did, which is all that the book can tell.
fn capped(piece: &PiecePlan, member: &MemberPiece, (cap, share): (f64, f64), counted: bool) -> Entry {
    let all = 100.0;
    let left = (all * (1.0 - share)).round().max(1.0);
    let done = Done::Capped { left: counted.then_some(left as u32) };
    let said = done.to_string();
    let entry = Entry::new(piece, member, member.chosen().version, done, said);
    let value = if counted { cap * all / (all - left).max(1.0) } else { cap };
    Entry { value: Some(value), at_least: true, ..entry }
}

/// What would be predicted of a version with nothing learned.
fn by_file(piece: &PiecePlan, tree: &Node, member: &Member, seed: u64) -> Predicted {
    let (athlete, model) = (Athlete::new(member), Model::standard());
    let days = Luck::new(SAMPLES, seed);
    let (predicted, _) = predict(tree, &athlete, Catalogue::standard(), model, &piece.window, &days);
    Predicted::new(&predicted, &piece.window)
}

/// The furthest that any prediction of anybody moves when they enter a result three times as slow as can be, all alone in a class, as a share of
/// the ceiling.
fn moved_by_nonsense(people: &[Person], classes: &[ToldByClass], day: NaiveDate) -> f64 {
    let gym = OfGym::new(classes, day);
    let pure = |capability: Capability, length_s: f64| {
        let mut shares = ByCapability::default();
        shares[capability as usize] = 1.0;
        Direction { shares, length_s, ..Direction::default() }
    };
    let lengths = [120.0, 600.0, 2_400.0];
    let all: Vec<Direction> = Capability::ALL
        .into_iter()
        .flat_map(|capability| lengths.map(|length| pure(capability, length)))
        .collect();
    let moved = |person: &Person| {
        let Some(last) = person.told.last() else { return 0.0 };
        let absurd = Told { day, slower: 3.0_f64.ln(), at_least: false, ..last.clone() };
        let with: Vec<Told> = person.told.iter().chain([&absurd]).cloned().collect();
        let after: Vec<ToldByClass> = classes.iter().cloned().chain(ToldByClass::of(&[absurd])).collect();
        let before = gym.of_member(&person.member, &person.told, day);
        let after = OfGym::new(&after, day).of_member(&person.member, &with, day);
        let (Some(before), Some(after)) = (before, after) else { return 0.0 };
        let of_last = last.of.movements.iter().map(|(movement, _)| vec![(movement.clone(), 1.0)]);
        let movements: Vec<_> = of_last.chain([Vec::new()]).collect();
        let pieces = all.iter().flat_map(|of| {
            movements.iter().map(|movements| Direction { movements: movements.clone(), ..of.clone() })
        });
        pieces.map(|of| (after.slower(&of) - before.slower(&of)).abs()).fold(0.0, f64::max)
    };
    people.iter().map(moved).fold(0.0, f64::max) / CEILING
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn results_make_predictions_better_and_the_spread_holds_what_it_says() {
        let report = Trial { seed: 5, weeks: 9, people: 20 }.run();
        assert!(report.all.count > 150, "{report:?}");
        assert!(report.better_from_week_6 > 0.2, "{report:?}");
        assert!((0.7..0.9).contains(&report.all.within), "{report:?}");
        assert!(report.people_better >= 0.8, "{report:?}");
        assert!(report.nonsense <= 1.0 + 1e-9, "{report:?}");
    }

    #[test]
    fn the_same_seed_is_the_same_trial() {
        let trial = |seed| Trial { seed, weeks: 1, people: 4 }.run().all;
        assert_eq!(trial(3), trial(3));
        assert_ne!(trial(3), trial(4));
    }
}
