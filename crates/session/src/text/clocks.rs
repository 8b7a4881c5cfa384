//! Work on a clock: what begins anew with each interval, bouts of work and rest, and stations that everybody moves through.

use super::{LONGEST_TURN_S, Printer, has_shares_in_turn, lift, work_text};
use crate::units::clock_s;
use crate::{Amount, Dose, Node, Work};

impl Printer<'_> {
    pub(super) fn every(&mut self, node: &Node) {
        let Node::Every { interval_s, times, alternate, of } = node else { return };
        let interval = clock_s(*interval_s);
        match times {
            Some(n) if *alternate => self.line(format!("every {interval} for {}", clock_s(interval_s * n))),
            Some(n) => self.line(format!("every {interval} x {n}")),
            None => self.line(format!("every {interval} until you can't")),
        }
        if *alternate {
            for (n, child) in of.iter().enumerate() {
                let place = self.lines.len();
                match child {
                    Node::Rest { .. } => self.line("rest"),
                    child => {
                        let share = match child {
                            Node::Work(work) => lift::shares_text(&work.percent),
                            _ => None,
                        };
                        let share = share.map(|share| format!(" {share}")).unwrap_or_default();
                        let text = self.joined(child) + &share;
                        self.line(text);
                    }
                }
                // Below numbers alone two lifts with shares would be two.
                let label = if has_shares_in_turn(node) && of.len() == 2 {
                    format!("{}:", ["odd", "even"][n])
                } else if *interval_s > LONGEST_TURN_S {
                    format!("station {}:", n + 1)
                } else {
                    format!("{})", n + 1)
                };
                self.lines[place] = format!("{label} {}", self.lines[place]);
            }
            return;
        }
        for child in of {
            let (child, ladder) = match child {
                Node::Ladder { start, step, of } => (&**of, Some((*start, *step))),
                child => (child, None),
            };
            if let Some((start, step)) = ladder {
                let of = child.map_work(&mut |work| {
                    let mut work = work.clone();
                    if work.dose.amount == Amount::Scheme {
                        work.dose = Dose {
                            amount: Amount::Fixed { first: f64::from(start), second: None },
                            ..work.dose
                        };
                    }
                    Node::Work(work)
                });
                self.line(format!("add {step} reps each round"));
                let text = self.joined(&of);
                self.line(text);
            } else {
                let text = self.joined(child);
                self.line(text);
            }
        }
    }

    pub(super) fn tabata(&mut self, tree: &Node) {
        let children = match tree {
            Node::Seq { of } => of.clone(),
            other => vec![other.clone()],
        };
        let mut rest_between = None;
        for child in &children {
            match child {
                Node::Rounds { times: Some(n), rest_s: Some(rest), of } => {
                    if let Node::Within { seconds, of } = &**of {
                        if self.lines.iter().all(|line| !line.contains(" on, ")) {
                            self.line(format!("{n} x {} on, {} off", clock_s(*seconds), clock_s(*rest)));
                        }
                        for work in crate::works(of) {
                            let text = self.open_text(work);
                            self.line(text);
                        }
                    }
                }
                Node::Rest { seconds } => rest_between = *seconds,
                _ => {}
            }
        }
        if let Some(seconds) = rest_between {
            self.line(format!("{} between them", clock_s(seconds)));
        }
    }

    pub(super) fn stations(&mut self, rounds: u32, rest_between: Option<u32>, of: &Node) {
        let Node::Seq { of } = of else { return };
        let window =
            |node: &Node| if let Node::Within { seconds, .. } = node { Some(*seconds) } else { None };
        let rest = |node: &Node| if let Node::Rest { seconds } = node { *seconds } else { None };
        // Rested at after each of the stations, or a station that everybody rests at.
        let mut behind = of.windows(2).filter_map(|pair| window(&pair[0]).and(rest(&pair[1])));
        let moves = behind.clone().count() + 1 >= of.iter().filter_map(window).count();
        let off = behind.next_back().filter(|_| moves).unwrap_or(0);
        let work = of.iter().filter_map(window).next_back().unwrap_or(0);
        let mut stations: Vec<Option<&Node>> = Vec::new();
        for (n, node) in of.iter().enumerate() {
            match node {
                Node::Within { of, .. } => stations.push(Some(of)),
                Node::Rest { .. } if !moves || n == 0 || window(&of[n - 1]).is_none() => stations.push(None),
                _ => {}
            }
        }
        let worked = || stations.iter().flatten();
        let open = worked().all(|of| matches!(of, Node::Rounds { times: None, .. }));
        if open {
            let times = rounds.saturating_mul(worked().count() as u32);
            self.line(format!("{times} x {} AMRAP, {} rest between", clock_s(work), clock_s(off)));
        } else {
            let rounds = if rounds == 1 { "1 round".to_owned() } else { format!("{rounds} rounds") };
            self.line(match off {
                0 => format!("{rounds}, {} at each station", clock_s(work)),
                _ => format!("{rounds}, {} on, {} off", clock_s(work), clock_s(off)),
            });
        }
        let several = worked().any(|of| crate::works(of).len() > 1) || worked().count() < stations.len();
        for (n, of) in stations.iter().enumerate() {
            let works = of.iter().flat_map(|of| crate::works(of)).map(|work| self.open_text(work));
            let works: Vec<String> = if of.is_some() { works.collect() } else { vec!["rest".to_owned()] };
            let place = if several { format!("{}) ", n + 1) } else { String::new() };
            self.line(format!("{place}{}", works.join(" + ")));
        }
        if let Some(seconds) = rest_between {
            self.line(format!("rest {} between rounds", clock_s(seconds)));
        }
    }

    /// Open work inside a written window: the name says enough.
    pub(super) fn open_text(&self, work: &Work) -> String {
        if matches!(work.dose.amount, Amount::Fixed { .. }) {
            return work_text(work, self.catalogue);
        }
        let dose = Dose { amount: Amount::Open, ..work.dose };
        work_text(&Work { dose, ..work.clone() }, self.catalogue)
    }
}
