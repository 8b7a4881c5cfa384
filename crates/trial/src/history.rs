//! Weeks that a gym has behind it: what its members would have called out if a hidden body stood behind each of them.
//!
//! Here the bodies follow what is on file, give or take what each is like; in a [`crate::Trial`] they know nothing of it.

use std::sync::Arc;

use bodies::{Body, Kind, Work};
use chrono::NaiveDate;
use lantern_core::book::{Done, Entry, OfGym, Told, ToldByClass, done_as};
use lantern_core::gym::Gym;
use lantern_core::member::Member;
use lantern_core::movement::Catalogue;
use lantern_core::pacing::{Athlete, Days as Luck, Measure, Model, Side, predict};
use lantern_core::plan::{MemberPiece, PiecePlan, SAMPLES, plan};
use lantern_core::session::{Session, per_round, totals};
use lantern_core::strength::LiftSheet;
use lantern_core::strength::followed::Set;
use lantern_core::units::Kilograms;
use serde::{Deserialize, Serialize};

/// How often of a hundred somebody does not end it.
const STOPS: u32 = 3;
/// Repetitions are counted from the end by nine of ten whom the cap stops.
const COUNTED: u32 = 90;
/// How much the bouts before the slowest are quicker.
const QUICKER_BOUTS: f64 = 0.96;

/// A day that is over.
#[derive(Clone, Copy, Debug)]
pub struct Day<'a> {
    /// When.
    pub day: NaiveDate,
    /// What was programmed.
    pub session: &'a Session,
    /// Who came, by place.
    pub came: &'a [usize],
}

/// How often of a hundred somebody puts more on the bar than was asked, less, or has it on and does not end the set.
const WITH_MORE: u32 = 10;
const WITH_LESS: u32 = 14;
const SHORT: u32 = 5;
/// Bars grow in steps of so much.
const STEP_KG: f64 = 2.5;

/// A set of somebody's, by place, beside what was asked: grams and repetitions.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize)]
pub struct Lifted {
    /// Whose it is, by place.
    pub who: usize,
    /// The lift's id.
    pub lift: String,
    /// What was asked.
    pub asked: (u32, u32),
    /// What was lifted.
    pub done: (u32, u32),
    /// Whether the last repetition was missed.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub missed: bool,
}

/// What was entered about one piece: the part's place in the text, and each result by the member's place.
pub type Entered = (usize, Vec<(usize, Entry)>);

/// A gym's people with the bodies behind them.
pub struct History<'a> {
    members: &'a [Member],
    gym: &'a Gym,
    catalogue: &'a Catalogue,
    seed: u64,
    first: NaiveDate,
    bodies: Vec<Body>,
    told: Vec<Vec<Told>>,
    classes: Vec<ToldByClass>,
}

impl<'a> History<'a> {
    /// From a day on; a seed draws the bodies.
    pub fn new(
        members: &'a [Member],
        gym: &'a Gym,
        catalogue: &'a Catalogue,
        (seed, first): (u64, NaiveDate),
    ) -> Self {
        let bodies = (0..members.len()).map(|n| Body::drawn(seed, n)).collect();
        let told = vec![Vec::new(); members.len()];
        Self { members, gym, catalogue, seed, first, bodies, told, classes: Vec::new() }
    }

    /// What was called out on a day, which is the next after those before; planned as it was known by then.
    pub fn next(&mut self, Day { day, session, came }: Day<'_>) -> (Vec<Lifted>, Vec<Entered>) {
        let week = (day - self.first).num_days() as f64 / 7.0;
        let of_gym = OfGym::new(&self.classes, day);
        let people: Vec<Member> = came
            .iter()
            .map(|who| {
                let learned = of_gym.of_member(&self.members[*who], &self.told[*who], day).map(Arc::new);
                Member { learned, ..self.members[*who].clone() }
            })
            .collect();
        let planned = plan(session, &people, self.gym, self.catalogue, self.seed);
        let mut lifted = Vec::new();
        for sheet in planned.strength.iter().flat_map(|lift| &lift.sheets) {
            let place = people.iter().position(|member| member.name == sheet.name);
            let Some(who) = place.map(|place| came[place]) else { continue };
            if self.bodies[who].comes(week) {
                lifted.extend(self.lifted(sheet, who));
            }
        }
        let mut all = Vec::new();
        for piece in &planned.pieces {
            let (mut entered, mut told) = (Vec::new(), Vec::new());
            for (member, who) in piece.members.iter().zip(came) {
                if !self.bodies[*who].comes(week) {
                    continue;
                }
                let Some(entry) = self.called(piece, member, *who, week) else { continue };
                if let Some(tells) = entry.tells(day, false) {
                    self.told[*who].push(tells.clone());
                    told.push(tells);
                }
                entered.push((*who, entry));
            }
            self.classes.extend(ToldByClass::of(&told));
            all.push((piece.part, entered));
        }
        (lifted, all)
    }

    /// What somebody has had on the bar; nothing by feel.
    fn lifted(&mut self, sheet: &LiftSheet, who: usize) -> Option<Lifted> {
        let asked = Set::heaviest(sheet).filter(|asked| asked.reps > 0)?;
        let body = &mut self.bodies[who];
        let steps = if body.happens(WITH_MORE) {
            1.0
        } else if body.happens(WITH_LESS) {
            -1.0
        } else {
            0.0
        };
        let missed = steps == 0.0 && body.happens(SHORT);
        let load = Kilograms::from_kg((asked.load.kg() + steps * STEP_KG).max(STEP_KG));
        let reps = if missed { (asked.reps - 1).max(1) } else { asked.reps };
        let (asked, done) = ((asked.load.grams(), asked.reps), (load.grams(), reps));
        Some(Lifted { who, lift: sheet.lift.clone(), asked, done, missed })
    }

    /// What somebody calls out.
    fn called(&mut self, piece: &PiecePlan, member: &MemberPiece, who: usize, week: f64) -> Option<Entry> {
        let (version, part) = (member.chosen().version, piece.written());
        let tree = &done_as(member, version)?.tree;
        let kind = Work::of(tree, self.catalogue).map_or(Kind::Body, |work| work.kind);
        let (athlete, model) = (Athlete::new(&self.members[who]), Model::standard());
        let luck = Luck::new(SAMPLES, self.seed);
        let (by_file, _) = predict(tree, &athlete, self.catalogue, model, &piece.window, &luck);
        let pull = by_file.rests.as_ref()?.pull;
        let value = by_file.spread.p50 * self.bodies[who].on_a_day(kind, week).powf(pull);
        let body = &mut self.bodies[who];
        let done = match by_file.measure {
            _ if body.happens(STOPS) => Done::Stopped,
            Measure::Finish => match part.cap_s.map(f64::from).filter(|cap| value > *cap) {
                Some(cap) => {
                    let all: f64 = totals(tree).iter().map(|total| total.amount).sum();
                    let left = (all * (1.0 - cap / value)).round().max(1.0) as u32;
                    Done::Capped { left: body.happens(COUNTED).then_some(left) }
                }
                None => Done::Finished { seconds: value.round() as u32 },
            },
            Measure::Rounds => {
                let a_round: f64 = per_round(tree).iter().map(|total| total.amount).sum();
                Done::Rounds { rounds: value as u32, reps: (value.fract() * a_round) as u32 }
            }
            Measure::Reps | Measure::Calories | Measure::Metres => Done::Reps { reps: value.round() as u32 },
            Measure::SlowestInterval => {
                let before = (value * QUICKER_BOUTS).round() as u32;
                let mut seconds = vec![before; part.rounds.unwrap_or(1).max(1) as usize];
                *seconds.last_mut()? = value.round() as u32;
                Done::Intervals { seconds }
            }
            Measure::FailedRound => Done::Rounds { rounds: value.round() as u32, reps: 0 },
        };
        let entry = Entry::new(piece, member, version, done.clone(), done.to_string());
        let side = entry.beside().map(|beside| beside.side);
        // Who is late has gone for it, who is early has not always.
        let effort = match side {
            Some(Side::Late) => 9,
            Some(Side::Early) => 7,
            _ => 8,
        };
        Some(Entry { effort: self.bodies[who].happens(60).then_some(effort), ..entry })
    }
}
