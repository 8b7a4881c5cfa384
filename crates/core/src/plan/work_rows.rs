//! What one person does of a piece, a row for each movement and load.

use serde::Serialize;

use crate::movement::{MovementId, Unit};
use crate::print::number;
use crate::session::{LoadUnit, Node, Work};

/// One movement at one load, as one person does it.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct WorkRow {
    /// What is done.
    pub movement: MovementId,
    /// How much of it in one round, or in the whole piece where `rounds` is 1; in a team this person's share. None when it is open.
    #[serde(serialize_with = "plain")]
    pub amount: Option<f64>,
    /// What is counted.
    pub unit: Unit,
    /// What is carried, or how high the box is.
    #[serde(serialize_with = "plain")]
    pub load: Option<f64>,
    /// Of the load.
    pub load_unit: Option<LoadUnit>,
    /// How often; none in rounds without a number.
    pub rounds: Option<u32>,
    /// What the whole team does of it; none for who works alone.
    #[serde(serialize_with = "plain")]
    pub of_team: Option<f64>,
}

fn plain<S: serde::Serializer>(value: &Option<f64>, to: S) -> Result<S::Ok, S::Error> {
    value.map(number).serialize(to)
}

/// The rows of a piece in text order; `first` tells whose number of a pair counts, `mates` how many share the work where they are not
/// as many as was written.
pub fn work_rows(tree: &Node, first: bool, mates: Option<usize>) -> Vec<WorkRow> {
    let mut rows = Rows { first, mates: mates.map(|mates| mates as u32), found: Vec::new() };
    rows.walk(tree, Place::default());
    rows.found
}

/// Where in the tree a piece of work stands.
#[derive(Clone, Copy, Debug)]
struct Place {
    /// Of the outermost repetition; none within rounds without a number.
    rounds: Option<u32>,
    /// Whether there is one.
    repeats: bool,
    /// Of repetitions within it.
    times: f64,
    rung: Option<u32>,
    /// People who share it.
    team: u32,
    open: bool,
}

impl Default for Place {
    fn default() -> Self {
        Self { rounds: Some(1), repeats: false, times: 1.0, rung: None, team: 1, open: false }
    }
}

impl Place {
    /// The place within something that is done `n` times.
    fn again(self, n: Option<u32>) -> Self {
        match n {
            _ if !self.repeats => Self { rounds: n, repeats: true, ..self },
            Some(n) => Self { times: self.times * f64::from(n), ..self },
            None => Self { open: true, ..self },
        }
    }
}

struct Rows {
    first: bool,
    mates: Option<u32>,
    found: Vec<WorkRow>,
}

impl Rows {
    fn walk(&mut self, node: &Node, at: Place) {
        match node {
            Node::Work(work) => self.add(work, at),
            Node::Rest { .. } => {}
            Node::Seq { of } => of.iter().for_each(|child| self.walk(child, at)),
            Node::Rounds { times, of, .. } => self.walk(of, at.again(*times)),
            Node::Scheme { reps, of, .. } => {
                let whole = Place { repeats: true, ..at };
                reps.iter().for_each(|rung| self.walk(of, Place { rung: Some(*rung), ..whole }));
            }
            Node::Ladder { of, .. } => self.walk(of, Place { open: true, ..at }.again(None)),
            Node::Within { of, .. } => self.walk(of, at),
            Node::Every { times, alternate, of, .. } => {
                let entries = of.len().max(1) as u32;
                let each = if *alternate { times.map(|n| n.div_ceil(entries)) } else { *times };
                of.iter().for_each(|child| self.walk(child, at.again(each)));
            }
            Node::Interrupt { work, of, .. } | Node::Penalty { work, of } => {
                self.walk(work, at.again(None));
                self.walk(of, at);
            }
            Node::Together { size, sharing, of } => {
                let size = self.mates.unwrap_or(*size).max(1);
                let team = if sharing.splits_work() { size } else { 1 };
                self.walk(of, Place { team, ..at });
            }
        }
    }

    fn add(&mut self, work: &Work, at: Place) {
        let each = work.dose.amount.own(self.first, at.rung);
        let team = if work.in_step { 1 } else { at.team };
        let whole = each.filter(|_| !at.open).map(|each| each * work.dose.sides() * at.times);
        let row = WorkRow {
            movement: work.movement.clone(),
            amount: whole.map(|whole| whole / f64::from(team)),
            unit: work.dose.unit,
            load: work.load.map(|load| load.first),
            load_unit: work.load.map(|load| load.unit),
            rounds: at.rounds,
            of_team: whole.filter(|_| team > 1),
        };
        let same = |known: &&mut WorkRow| {
            known.movement == row.movement && known.unit == row.unit && known.load == row.load
        };
        match self.found.iter_mut().find(same) {
            Some(known) => known.join(row),
            None => self.found.push(row),
        }
    }
}

impl WorkRow {
    /// Takes in more of the same.
    fn join(&mut self, more: Self) {
        if self.rounds != more.rounds {
            // Rounds of one kind and of another: all of it is counted.
            let mut more = more;
            self.count_all();
            more.count_all();
            return self.join(more);
        }
        let sum = |a: Option<f64>, b: Option<f64>| Some(a? + b?);
        self.of_team = sum(self.of_team, more.of_team);
        self.amount = sum(self.amount, more.amount);
    }

    fn count_all(&mut self) {
        let times = self.rounds.map(f64::from);
        let all = |amount: Option<f64>| Some(amount? * times?);
        self.amount = all(self.amount);
        self.of_team = all(self.of_team);
        self.rounds = Some(1);
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::movement::Catalogue;
    use crate::read::read;

    /// Movement, amount, rounds and what the team does.
    type Told = (String, Option<f64>, Option<u32>, Option<f64>);

    fn rows(text: &str, first: bool) -> Vec<Told> {
        let reading = read(text, Catalogue::standard());
        let rows = work_rows(&reading.session.parts[0].tree, first, None);
        rows.into_iter().map(|row| (row.movement.to_string(), row.amount, row.rounds, row.of_team)).collect()
    }

    #[test]
    fn a_round_is_told_with_how_often_and_a_scheme_as_a_whole() {
        let of = |movement: &str, amount, rounds| (movement.to_owned(), amount, rounds, None);
        let rounds = rows("3 rounds for time\n12/9 cal row\n20 air squats", false);
        assert_eq!(rounds, [of("row", Some(9.0), Some(3)), of("air-squat", Some(20.0), Some(3))]);
        let open = rows("AMRAP 10\n5 burpees\n10 push-ups\n5 burpees", true);
        assert_eq!(open, [of("burpee", Some(10.0), None), of("push-up", Some(10.0), None)]);
        let scheme = rows("For time\n15-12-9\nburpees\nair squats", true);
        assert_eq!(scheme, [of("burpee", Some(36.0), Some(1)), of("air-squat", Some(36.0), Some(1))]);
        let minutes = rows("EMOM 12\nmin 1: 10 burpees\nmin 2: 15 air squats", true);
        assert_eq!(minutes, [of("burpee", Some(10.0), Some(6)), of("air-squat", Some(15.0), Some(6))]);
    }

    #[test]
    fn rounds_of_different_number_are_counted_together() {
        let found = rows("For time\n50 burpees\nthen 3 rounds of\n10 air squats\n5 burpees", true);
        assert!(found.contains(&("burpee".to_owned(), Some(65.0), Some(1), None)), "{found:?}");
    }

    #[test]
    fn a_team_shares_and_the_whole_is_said() {
        let found = rows("In teams of 2, share as you like\nFor time\n100 burpees", true);
        assert_eq!(found, [("burpee".to_owned(), Some(50.0), Some(1), Some(100.0))]);
    }
}
