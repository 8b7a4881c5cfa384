//! The first evening, when nothing is known of somebody: what typical people would do, so that a coach can place them by eye.

use super::lifts::strength_plan;
use super::{Decisions, PiecePlan, Plan, Request, SAMPLES, Stop, StrengthPlan, piece_plan};
use crate::hour::gym_today;
use crate::member::{Experience, Member, Sex};
use crate::pacing::{Days, Fitness, Model};
use crate::session::Session;
use crate::versions::{KnownPiece, Ladders, PieceEdit, World};

/// A man and a woman of each level, of whom no more is known than that: what they would do of a day. All of it is a guess.
#[derive(Clone, Debug, PartialEq)]
pub struct Typical {
    /// Two of each level, the man first.
    pub people: Vec<Member>,
    /// One for each piece of the class, with their rows.
    pub pieces: Vec<PiecePlan>,
    /// One for each lift of the class, with their sheets.
    pub strength: Vec<StrengthPlan>,
}

impl Typical {
    /// Of a day that is planned already, for whoever comes to look on or to join in.
    pub fn of_plan(request: &Request<'_>, plan: &Plan) -> Self {
        let Plan { session, strength, pieces, typical, .. } = plan;
        let made = || {
            let gym = &gym_today(request.gym, &request.decisions.hour.changes);
            let (model, ladders) = (Model::standard(), Ladders::standard());
            let days = Days::new(SAMPLES, request.seed);
            let world = World { catalogue: request.catalogue, ladders, model, gym, days: &days };
            Self::made(request, session, (strength, pieces), &world, &Stop::default())
        };
        typical.clone().unwrap_or_else(made)
    }

    /// Of a day as planned for a class; none where something is known of everybody.
    pub(super) fn of(
        request: &Request<'_>,
        session: &Session,
        planned: (&[StrengthPlan], &[PiecePlan]),
        world: &World<'_>,
        stop: &Stop,
    ) -> Option<Self> {
        let strangers = request.members.iter().any(|member| Fitness::of(member).is_of_anybody());
        strangers.then(|| Self::made(request, session, planned, world, stop))
    }

    fn made(
        request: &Request<'_>,
        session: &Session,
        (strength, pieces): (&[StrengthPlan], &[PiecePlan]),
        world: &World<'_>,
        stop: &Stop,
    ) -> Self {
        let people: Vec<Member> = Experience::LEVELS
            .into_iter()
            .flat_map(|experience| {
                [Sex::M, Sex::F].map(|sex| Member {
                    name: format!("{} {sex:?}", experience.name()),
                    sex: Some(sex),
                    experience,
                    ..Member::default()
                })
            })
            .collect();
        let decided =
            |place| PieceEdit { versions: Default::default(), ..request.decisions.pieces.of(place) };
        let pieces = pieces.iter().enumerate().filter_map(|(place, piece)| {
            let known = KnownPiece { board: &piece.versions, own: Vec::new() };
            let part = session.parts.get(piece.part)?;
            piece_plan(piece.part, part, &people, &decided(place), world, Some(known), stop)
        });
        let pieces = pieces.collect();
        let sheets = |lift: &StrengthPlan| {
            strength_plan(
                (lift.part, &lift.prescription),
                lift.built.as_ref(),
                &people,
                &Decisions::default(),
                world,
            )
        };
        let strength = strength.iter().map(sheets).collect();
        Self { people, pieces, strength }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::gym::Gym;
    use crate::movement::Catalogue;
    use crate::plan::plan;
    use crate::read::read;
    use crate::versions::VersionName;

    const DAY: &str = "Back squat 5x5 @ 75%\n\n21-15-9 for time, cap 12\nthrusters 42.5/30 kg\npull-ups";

    #[test]
    fn names_alone_are_enough_for_a_first_evening() {
        let catalogue = Catalogue::standard();
        let class: Vec<Member> =
            (1..=14).map(|n| Member { name: format!("Name {n}"), ..Member::default() }).collect();
        let session = read(DAY, catalogue).session;
        let plan_of = |class: &[Member]| plan(&session, class, &Gym::default(), catalogue, 1);
        let first = plan_of(&class);
        assert!(first.pieces[0].members.iter().all(|member| member.predicted().guess));
        assert!(
            first.strength[0].sheets.iter().all(|sheet| sheet
                .by_feel
                .as_ref()
                .unwrap()
                .contains("begin with"))
        );
        let Typical { people, pieces, strength } = first.typical.unwrap();
        assert_eq!((people.len(), pieces.len(), strength.len()), (8, 1, 1));
        let [new, .., advanced] = &pieces[0].members[..] else { panic!("nobody") };
        assert!(pieces[0].members.iter().all(|member| member.predicted().guess));
        assert_eq!(new.chosen().version, VersionName::FirstLight);
        assert_eq!(advanced.chosen().version, VersionName::AsWritten);
        let begin = |n: usize| strength[0].sheets[n].sets[0].range.unwrap();
        // Men and women of each level begin higher than those of the level before.
        assert!((2..8).all(|n| begin(n).0 > begin(n - 2).0), "{:?}", (0..8).map(begin).collect::<Vec<_>>());
        // Nobody is placed by eye where something is known of everybody.
        let known: Vec<Member> =
            class.into_iter().map(|member| Member { experience: Experience::Beginner, ..member }).collect();
        assert!(plan_of(&known).typical.is_none());
    }
}
