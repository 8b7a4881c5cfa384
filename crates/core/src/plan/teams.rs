//! Teams as teams: one prediction for whoever shares a piece, with each member's share.

use super::{MemberPiece, PiecePlan};
use crate::floor::{Team, TeamWishes, teams};
use crate::member::Member;
use crate::pacing::team::{Mate, Shared, Team as Sharers, sharing};
use crate::pacing::{Athlete, Prediction, Verdict};
use crate::session::{Node, Sharing};
use crate::versions::World;

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
}

impl TeamPlan {
    /// In a coach's words.
    pub const fn way_name(&self) -> &'static str {
        match self.way {
            Sharing::Freely => "share as you like, one works",
            Sharing::Rounds => "whole rounds in turn",
            Sharing::Together => "all at once, in step",
        }
    }

    /// Which shares are worth it, and how much: `58 % and 42 %: 11:40 in place of 12:30`.
    pub fn told(&self) -> Option<String> {
        let best = self.best.as_ref()?;
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
    wishes: &TeamWishes,
    world: &World<'_>,
) -> Vec<Team> {
    let size = wishes.size.unwrap_or(piece.written().team_size);
    if size < 2 {
        return Vec::new();
    }
    let speed = |own: &MemberPiece| (own.chosen().predicted.spread.p50, own.heaviest_kg());
    let speeds: Vec<(&str, f64, f64)> =
        piece.members.iter().map(|own| (own.name.as_str(), speed(own).0, speed(own).1)).collect();
    let formed = teams(&speeds, size, wishes);
    let Some(way) = sharing(&piece.written().tree) else { return formed };
    piece.teams = formed.iter().map(|team| planned(team, way, piece, people, world)).collect();
    for team in &piece.teams {
        let predicted = &team.even.predicted;
        let allowed = team.members.iter().all(|n| piece.members[*n].chosen().allowed);
        let verdict = Verdict::of(predicted, &piece.window, world.model);
        let on_stimulus = allowed && verdict == Verdict::OnStimulus;
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
        let ends: Vec<u32> = piece.members[nearest].targets.rounds.iter().map(|round| round.end_s).collect();
        for n in &team.members {
            let own = &mut piece.members[*n];
            own.targets.checkpoints.clone_from(&checkpoints);
            for (round, end_s) in own.targets.rounds.iter_mut().zip(&ends) {
                round.end_s = (f64::from(*end_s) * scale).round() as u32;
            }
            own.team = Some(OfTeam { mates: team.members.len(), predicted: predicted.clone(), on_stimulus });
        }
    }
    formed
}

fn planned(team: &Team, way: Sharing, piece: &PiecePlan, people: &[Member], world: &World<'_>) -> TeamPlan {
    let mates: Vec<Mate<'_>> = team
        .members
        .iter()
        .map(|n| {
            let chosen = piece.members[*n].chosen();
            let tree: &Node = &chosen.tree;
            Mate { athlete: Athlete::new(&people[*n]), tree, predicted: &chosen.predicted }
        })
        .collect();
    let sharers = Sharers::new(way, &mates, world.catalogue, world.model);
    TeamPlan {
        members: team.members.clone(),
        way,
        even: sharers.even(&piece.window, world.days),
        best: sharers.best(&piece.window, world.days),
    }
}
