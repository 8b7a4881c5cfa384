//! Teams as teams: one prediction for whoever shares a piece, with each member's share.

use super::pacing_targets::{Whose, aims, team_behind};
use super::{Here, MemberPiece, PiecePlan, targets};
use crate::floor::{Team, TeamWishes, teams, teams_again};
use crate::member::Member;
use crate::movement::Unit;
use crate::pacing::team::{Mate, Shared, Team as Sharers, sharing};
use crate::pacing::{Athlete, Days, Prediction, Verdict, Window};
use crate::session::Sharing;
use crate::versions::{Choice, World};

/// What uneven shares bring is said from this share of the result on: nobody plans for four seconds of eighteen minutes.
const WORTH_SAYING: f64 = 0.01;
/// Place of the text among a member's versions.
const AS_WRITTEN: usize = 0;

/// A team that does a piece.
#[derive(Clone, Debug, PartialEq)]
pub struct TeamPlan {
    /// Places of its members in the class.
    pub members: Vec<usize>,
    /// How the work is shared.
    pub way: Sharing,
    /// With even shares: what everybody of the team is told.
    pub even: Shared,
    /// With the shares that make the best result, where uneven ones do.
    pub best: Option<Shared>,
}

/// What a member's team is expected to do, in place of what they would do with mates like themselves.
#[derive(Clone, Debug, PartialEq)]
pub struct OfTeam {
    /// People in the team.
    pub mates: usize,
    /// What to expect.
    pub predicted: Prediction,
    /// Inside the window likely enough, and no rule against anybody's version.
    pub on_stimulus: bool,
    /// The same of the text as it stands.
    pub as_written: bool,
}

impl TeamPlan {
    /// In a coach's words.
    pub fn way_name(&self) -> String {
        match self.way {
            Sharing::Freely => "share as you like, one works".to_owned(),
            Sharing::Rounds => "whole rounds in turn".to_owned(),
            Sharing::InTurns { each, unit: Unit::Reps } => format!("{each} at a time, then change"),
            Sharing::InTurns { each, unit } => format!("{each}{} at a time, then change", unit.short()),
            Sharing::Held => "one works while the others hold".to_owned(),
            Sharing::Stations => "one at each station, all move on together".to_owned(),
            Sharing::Together => "all at once, in step".to_owned(),
        }
    }

    /// Shares other than even ones, where they bring more than a trifle.
    fn better(&self) -> Option<&Shared> {
        let middle = |shared: &Shared| shared.predicted.spread.p50.max(1e-9);
        let gain = |best: &&Shared| (middle(best) / middle(&self.even) - 1.0).abs();
        self.best.as_ref().filter(|best| gain(best) >= WORTH_SAYING)
    }

    /// Which shares are worth it, and how much: `58 % and 42 %: 11:40 in place of 12:30`.
    pub fn told(&self) -> Option<String> {
        let best = self.better()?;
        let shares: Vec<String> = best.shares.iter().map(|share| format!("{:.0} %", share * 100.0)).collect();
        let measure = best.predicted.measure;
        let [then, now] = [best, &self.even].map(|shared| measure.show(shared.predicted.spread.p50));
        (then != now).then(|| format!("{}: {then} in place of {now}", shares.join(" and ")))
    }
}

/// Teams as the coach wants them or the piece asks for; where their members share work, everybody is told the team's result and one set
/// of checkpoints.
pub(super) fn team_up(
    piece: &mut PiecePlan,
    people: &[Member],
    (wishes, here): (&TeamWishes, &Here),
    world: &World<'_>,
) -> Vec<Team> {
    let size = wishes.size.unwrap_or(piece.written().team_size);
    if size < 2 {
        return Vec::new();
    }
    let speed = |own: &MemberPiece| own.chosen().predicted.spread.p50;
    let speeds: Vec<(&str, f64, f64)> =
        piece.members.iter().map(|own| (own.name.as_str(), speed(own), own.heaviest_kg())).collect();
    let formed = match here.divide(speeds.iter().map(|(name, ..)| *name)) {
        None => teams(&speeds, size, wishes),
        Some((booked, here)) => {
            let of_booked: Vec<(&str, f64, f64)> = booked.iter().map(|n| speeds[*n]).collect();
            let mut stood = teams(&of_booked, size, wishes);
            stood.iter_mut().flat_map(|team| &mut team.members).for_each(|n| *n = booked[*n]);
            teams_again(&speeds, size, wishes, (&stood, &here))
        }
    };
    let Some(way) = sharing(&piece.written().tree) else { return formed };
    let room = Room { way, people, world };
    let as_written: Vec<bool> = formed.iter().map(|team| room.stays_as_written(team, piece)).collect();
    piece.teams = formed.iter().map(|team| room.planned(team, piece)).collect();
    for (team, as_written) in piece.teams.iter().zip(as_written) {
        let predicted = &team.even.predicted;
        let on_stimulus = room.is_on_stimulus(&team.members, predicted, piece, MemberPiece::chosen);
        // The mate whose own result is nearest to the team's walks it as the team does.
        let off = |n: &usize| (piece.members[*n].chosen().predicted.spread.p50 - predicted.spread.p50).abs();
        let Some(nearest) = team.members.iter().copied().min_by(|a, b| off(a).total_cmp(&off(b))) else {
            continue;
        };
        let own_s = piece.members[nearest].chosen().predicted.finish_s.p50.max(1.0);
        let scale = predicted.finish_s.p50 / own_s;
        let checkpoints = piece.members[nearest].targets.checkpoints.clone();
        let checkpoints: Vec<_> =
            checkpoints.into_iter().map(|checkpoint| checkpoint.scaled(scale)).collect();
        let behind = room.behind(team, nearest, piece);
        let ends: Vec<u32> = piece.members[nearest].targets.rounds.iter().map(|round| round.end_s).collect();
        let advice = |n: &usize| room.advice(*n, nearest, team, piece);
        let all_advice: Vec<Vec<String>> = team.members.iter().map(advice).collect();
        for (n, advice) in team.members.iter().zip(all_advice) {
            let own = &mut piece.members[*n];
            own.targets.advice = advice;
            own.targets.checkpoints.clone_from(&checkpoints);
            own.targets.behind.clone_from(&behind);
            // Rounds are the team's: who alone would come further does not.
            own.targets.rounds.truncate(ends.len());
            for (round, end_s) in own.targets.rounds.iter_mut().zip(&ends) {
                round.end_s = (f64::from(*end_s) * scale).round() as u32;
            }
            own.team = Some(OfTeam {
                mates: team.members.len(),
                predicted: predicted.clone(),
                on_stimulus,
                as_written,
            });
        }
    }
    formed
}

/// Whether somebody who was given a version could be left with the text: nothing speaks against it, and no coach has chosen.
fn may_stay(own: &MemberPiece) -> bool {
    own.as_written().allowed && !own.options.by_coach && own.options.chosen != AS_WRITTEN
}

/// Who shares a piece, and how.
struct Room<'a> {
    way: Sharing,
    people: &'a [Member],
    world: &'a World<'a>,
}

/// One of somebody's versions.
type Which = fn(&MemberPiece) -> &Choice;

impl Room<'_> {
    /// Whether a team is on stimulus as written. Where it would be with the text for everybody who can do it, they stay with the text:
    /// a mate of another speed does what a version would do for one of them alone.
    fn stays_as_written(&self, team: &Team, piece: &mut PiecePlan) -> bool {
        let own: Which = |own| if may_stay(own) { own.as_written() } else { own.chosen() };
        let written = self.with(&team.members, piece, MemberPiece::as_written, |team, window, days| {
            team.even(window, days)
        });
        let as_written =
            self.is_on_stimulus(&team.members, &written.predicted, piece, MemberPiece::as_written);
        let kept = self.with(&team.members, piece, own, |team, window, days| team.even(window, days));
        if self.is_on_stimulus(&team.members, &kept.predicted, piece, own) {
            for n in &team.members {
                let (part, window) = (piece.versions[0].part.clone(), piece.window.clone());
                let own = &mut piece.members[*n];
                if may_stay(own) {
                    // What they would be given alone is the next best.
                    own.options.next = Some(own.options.chosen);
                    own.options.chosen = AS_WRITTEN;
                    own.targets = targets(&part, own.chosen(), &self.people[*n], &window, self.world);
                }
            }
        }
        as_written
    }

    fn planned(&self, team: &Team, piece: &PiecePlan) -> TeamPlan {
        let even = self
            .with(&team.members, piece, MemberPiece::chosen, |team, window, days| team.even(window, days));
        let best = self
            .with(&team.members, piece, MemberPiece::chosen, |team, window, days| team.best(window, days));
        TeamPlan { members: team.members.clone(), way: self.way, even, best }
    }

    /// What a team does when it is behind: as one of them would, and what it costs them to share otherwise.
    fn behind(&self, team: &TeamPlan, nearest: usize, piece: &PiecePlan) -> Vec<String> {
        let mut all = team_behind(self.whose(nearest, piece, Some(&team.even.predicted)));
        let names = team.members.iter().map(|n| piece.members[*n].name.as_str());
        if let (false, Some(best)) = (all.is_empty(), team.better()) {
            let most = names.zip(&best.shares).max_by(|a, b| a.1.total_cmp(b.1));
            all.extend(most.map(|(name, share)| {
                let measure = best.predicted.measure;
                let [then, now] = [best, &team.even].map(|shared| measure.show(shared.predicted.spread.p50));
                format!("or let {name} take {:.0} % of it: {then} in place of {now}", share * 100.0)
            }));
        }
        all
    }

    /// Somebody's piece, alone or with their team.
    fn whose<'p>(&'p self, n: usize, piece: &'p PiecePlan, team: Option<&'p Prediction>) -> Whose<'p> {
        let World { catalogue, model, .. } = *self.world;
        let (part, choice) = (piece.written(), piece.members[n].chosen());
        Whose { part, choice, member: &self.people[n], window: &piece.window, catalogue, model, team }
    }

    /// Somebody's advice with what their team aims for in the place of what they would alone.
    fn advice(&self, n: usize, nearest: usize, team: &TeamPlan, piece: &PiecePlan) -> Vec<String> {
        let alone = aims(self.whose(n, piece, None));
        let mut advice = piece.members[n].targets.advice.clone();
        if let Some(at) = advice.iter().position(|line| alone.contains(line)) {
            let together = aims(self.whose(nearest, piece, Some(&team.even.predicted)));
            advice.splice(at..at + alone.len(), together);
        }
        advice
    }

    /// What a team does with one of everybody's versions.
    fn with<T>(
        &self,
        members: &[usize],
        piece: &PiecePlan,
        which: Which,
        ask: impl Fn(&Sharers<'_>, &Window, &Days) -> T,
    ) -> T {
        let mates: Vec<Mate<'_>> = members
            .iter()
            .map(|n| {
                let Choice { tree, predicted, .. } = which(&piece.members[*n]);
                Mate { athlete: Athlete::new(&self.people[*n]), tree, predicted }
            })
            .collect();
        let sharers = Sharers::new(self.way, &mates, self.world.catalogue, self.world.model);
        ask(&sharers, &piece.window, self.world.days)
    }

    fn is_on_stimulus(
        &self,
        members: &[usize],
        predicted: &Prediction,
        piece: &PiecePlan,
        which: Which,
    ) -> bool {
        let allowed = members.iter().all(|n| which(&piece.members[*n]).allowed);
        allowed && Verdict::of(predicted, &piece.window, self.world.model) == Verdict::OnStimulus
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::gym::Gym;
    use crate::member::Member;
    use crate::movement::Catalogue;
    use crate::plan::plan;
    use crate::read::read;
    use crate::roster::roster_from_csv;

    fn team(text: &str) -> TeamPlan {
        let roster =
            "name,sex,age,bodyweight_kg,experience\nAda Berg,F,30,62,beginner\nCy Eves,M,25,77,advanced";
        let (members, errors): (Vec<Member>, _) = roster_from_csv(roster);
        assert!(errors.is_empty(), "{errors:?}");
        let catalogue = Catalogue::standard();
        let mut day = plan(&read(text, catalogue).session, &members, &Gym::default(), catalogue, 1);
        day.pieces.remove(0).teams.remove(0)
    }

    #[test]
    fn a_team_is_told_how_it_shares() {
        for (how, told) in [
            ("share as you like", "share as you like, one works"),
            ("alternate rounds", "whole rounds in turn"),
            ("switch every 10 reps", "10 at a time, then change"),
            ("synchro", "all at once, in step"),
            ("one works while the other holds a plank", "one works while the others hold"),
        ] {
            let text = format!("In pairs, {how}\n6 rounds for time\n20 burpees\n20 air squats");
            assert_eq!(team(&text).way_name(), told, "{how}");
        }
    }

    #[test]
    fn shares_are_told_where_they_bring_something() {
        let own = team("In pairs, share as you like\nFor time, cap 20\n120 burpees\n120 air squats");
        let told = own.told().expect("one is much quicker than the other");
        let best = own.best.as_ref().unwrap();
        let (now, then) = (own.even.predicted.spread.p50, best.predicted.spread.p50);
        assert!(then < now, "{told}");
        assert!(told.contains(" % and ") && told.contains(" in place of "), "{told}");
        // A trifle is not worth a word.
        let alike = TeamPlan { best: Some(own.even.clone()), ..own.clone() };
        assert_eq!(alike.told(), None);
        assert_eq!(TeamPlan { best: None, ..own }.told(), None);
    }
}
