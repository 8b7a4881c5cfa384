//! Planning a day again: a click changes one thing, and what it does not touch is taken from the plan before.

use super::{Decisions, PiecePlan, Plan, StrengthPlan};
use crate::gym::Gym;
use crate::hour::gym_today;
use crate::member::Member;
use crate::movement::Catalogue;
use crate::session::{Part, Session};
use crate::versions::KnownPiece;
use crate::warmup::Warmup;

/// Everything that a plan follows from.
#[derive(Clone, Copy, Debug)]
pub struct Request<'a> {
    /// The session as read.
    pub session: &'a Session,
    /// Who comes.
    pub members: &'a [Member],
    /// Equipment, times and schools.
    pub gym: &'a Gym,
    /// Movements.
    pub catalogue: &'a Catalogue,
    /// Seed of all predictions.
    pub seed: u64,
    /// What coaches have decided.
    pub decisions: &'a Decisions,
}

/// An earlier plan and what it followed from.
#[derive(Clone, Copy, Debug)]
pub struct Before<'a> {
    /// What was asked for.
    pub request: Request<'a>,
    /// What came of it.
    pub plan: &'a Plan,
}

impl<'a> Before<'a> {
    /// Whether the two plans share what every part of a plan rests on.
    pub(super) fn speaks_for(&self, now: &Request<'_>) -> bool {
        let then = &self.request;
        let gym = |of: &Request<'_>| gym_today(of.gym, &of.decisions.hour.changes);
        std::ptr::eq(then.catalogue, now.catalogue) && then.seed == now.seed && gym(then) == gym(now)
    }

    /// The warm-up, when neither the text nor a decision about it has changed, nor how many come or what was done on the days before.
    pub(super) fn warmup(&self, now: &Request<'_>) -> Option<Warmup> {
        let then = &self.request;
        let same = then.session == now.session
            && then.decisions.warmup == now.decisions.warmup
            && then.decisions.recent == now.decisions.recent
            && then.members.len() == now.members.len()
            && then.decisions.here == now.decisions.here
            && then.decisions.hour.changes == now.decisions.hour.changes
            && then.decisions.hour.pins == now.decisions.hour.pins;
        same.then(|| self.plan.warmup.clone())
    }

    /// The loads of a part, when neither the part nor anybody has changed.
    pub(super) fn strength(
        &self,
        now: &Request<'_>,
        (n, part): (usize, &Part),
        built: Option<&Part>,
    ) -> Option<StrengthPlan> {
        let known = self.plan.strength.iter().find(|known| known.part == n)?;
        let same_word = self.request.decisions.loads == now.decisions.loads
            && self.request.decisions.here == now.decisions.here;
        (known.prescription == *part
            && known.built.as_ref() == built
            && self.request.members == now.members
            && same_word)
            .then(|| known.clone())
    }

    /// What is known of a piece, as far as the piece and the decisions about it are the same.
    pub(super) fn piece(
        &self,
        now: &Request<'_>,
        place: usize,
        n: usize,
        part: &Part,
    ) -> Option<KnownPiece<'a>> {
        let known = self.plan.pieces.get(place).filter(|known| known.part == n)?;
        let (then, edit) = (self.request.decisions.pieces.of(place), now.decisions.pieces.of(place));
        self.known(now, known, part).filter(|_| then.asks_the_same(&edit))
    }

    /// As [`piece`](Self::piece), of a part that stands beside the pieces; nobody decides anything about it.
    pub(super) fn beside(&self, now: &Request<'_>, n: usize, part: &Part) -> Option<KnownPiece<'a>> {
        self.known(now, self.plan.beside.iter().find(|known| known.part == n)?, part)
    }

    fn known(&self, now: &Request<'_>, known: &'a PiecePlan, part: &Part) -> Option<KnownPiece<'a>> {
        let versions = &known.versions;
        let same_part = versions.first().is_some_and(|written| written.part == *part);
        // The versions are what the class agreed on, so another class has others.
        let same_class = self.request.members == now.members;
        (same_part && same_class).then(|| KnownPiece {
            board: versions,
            own: self.request.members.iter().zip(known.members.iter().map(|own| &own.options)).collect(),
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::hour::{Change, Without};
    use crate::plan::{plan_again, plan_with};
    use crate::read::read;
    use crate::versions::VersionName;

    const DAY: &str = "Back squat 5x5 @ 75 %\n\n21-15-9 for time, cap 12\nthrusters 40/30 kg\npull-ups\n\n\
                       Skill: EMOM 8\n3 strict pull-ups";

    fn class() -> Vec<Member> {
        ["Ada", "Ben", "Cyd"].map(|name| Member { name: name.to_owned(), ..Member::default() }).to_vec()
    }

    fn of<'a>(
        (session, members, gym): (&'a Session, &'a [Member], &'a Gym),
        decisions: &'a Decisions,
    ) -> Request<'a> {
        Request { session, members, gym, catalogue: Catalogue::standard(), seed: 1, decisions }
    }

    #[test]
    fn a_warm_up_is_taken_over_as_long_as_nothing_that_it_rests_on_has_changed() {
        let catalogue = Catalogue::standard();
        let (session, members, gym) = (read(DAY, catalogue).session, class(), Gym::default());
        let decisions = Decisions::default();
        let request = of((&session, &members, &gym), &decisions);
        let plan = plan_with(request);
        let before = Before { request, plan: &plan };
        assert_eq!(before.warmup(&request), Some(plan.warmup.clone()));
        assert_eq!(before.warmup(&Request { members: &members[1..], ..request }), None);
        let other = read("10 min AMRAP\n10 burpees", catalogue).session;
        assert_eq!(before.warmup(&Request { session: &other, ..request }), None);
    }

    /// Each change that a click or a keystroke can make, and the plan after it made anew and made again.
    #[test]
    fn a_plan_made_again_is_the_plan_made_anew() {
        let catalogue = Catalogue::standard();
        let (session, members, gym) = (read(DAY, catalogue).session, class(), Gym::default());
        let decisions = Decisions::default();
        let request = of((&session, &members, &gym), &decisions);
        let plan = plan_with(request);
        let before = Before { request, plan: &plan };
        let check = |now: Request<'_>, what: &str| {
            assert!(plan_again(now, Some(before)) == plan_with(now), "{what}");
        };
        check(request, "nothing changed");

        let mut chosen = Decisions::default();
        chosen.pieces.change(0, |edit| {
            edit.versions.insert("Ben".to_owned(), VersionName::FirstLight);
        });
        check(Request { decisions: &chosen, ..request }, "a version chosen");

        let mut window = Decisions::default();
        window.pieces.change(0, |edit| edit.high = Some(400.0));
        check(Request { decisions: &window, ..request }, "a window set");

        let mut longer = Decisions::default();
        longer.warmup.minutes = Some(15);
        check(Request { decisions: &longer, ..request }, "a longer warm-up");

        let mut stronger = members.clone();
        stronger[1].best_reps.insert(crate::movement::MovementId::new("pull-up"), 25);
        check(Request { members: &stronger, ..request }, "a member has learned something");
        let mut sore = members.clone();
        sore[2].limits.extend([crate::limits::Limit::new("sore shoulder")]);
        check(Request { members: &sore, ..request }, "a member has a limit");
        check(Request { members: &members[1..], ..request }, "somebody is not there");
        let mut away = Decisions::default();
        away.here.away.insert("Ben".to_owned());
        check(Request { decisions: &away, ..request }, "somebody who was booked is not here");

        let other = read(&DAY.replace("21-15-9", "15-12-9"), catalogue).session;
        check(Request { session: &other, ..request }, "other repetitions");
        let light = Gym { bars: vec![gym.bars[1].clone()], ..gym.clone() };
        check(Request { gym: &light, ..request }, "another bar");
        let mut less = Decisions::default();
        less.hour.changes.push(Change::Without { what: Without::Bikes });
        check(Request { decisions: &less, ..request }, "the bikes are out");
        check(Request { seed: 2, ..request }, "another seed");
    }
}
