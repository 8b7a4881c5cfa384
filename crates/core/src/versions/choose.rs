//! Choosing a member's version: on stimulus, with the least departure from the text.

use std::sync::Arc;

use super::board::{ClassVersion, start};
use super::changes::{Changes, Swap};
use super::choice::{Choice, Options, likeliest};
use super::edits::PieceEdit;
use super::fit::{COMFORT, Fitter};
use super::hand::{HandLine, by_hand};
use super::home::HomeKit;
use super::names::VersionName;
use super::rewrite::{Edit, for_member};
use super::rules::Against;
use super::swaps::{to_home, what_cannot_be};
use super::world::World;
use crate::member::{Experience, Member};
use crate::pacing::{Athlete, Prediction, Side, Window, predict};
use crate::session::{Node, Part, works};

/// From here on somebody is as fit as the slower half of a class, on the scale of [`Fitness`](crate::pacing::Fitness).
const ORDINARY: f64 = 0.45;

/// How far a version departs from the text at least when the coach has written lines of it anew.
const BY_HAND_DEPARTS: f64 = 0.01;

/// The least that a lighter version takes off the loads of one member.
const A_LITTLE_LIGHTER: f64 = 0.95;

/// A member's versions of a piece, the best of them chosen, with what the coach wants of them.
pub(super) fn options(
    part: &Part,
    member: &Member,
    window: &Window,
    board: &[ClassVersion],
    world: &World<'_>,
    edit: &PieceEdit,
) -> Options {
    searched(part, member, window, edit, world, |search| {
        let as_written = search.assess(VersionName::AsWritten, &Changes::none(), false);
        let all: Vec<Choice> = board.iter().map(|version| search.own(version, &as_written, edit)).collect();
        let best = search.best(&all);
        Options {
            as_written: Arc::new(as_written),
            all: all.into(),
            best,
            chosen: best,
            next: None,
            by_coach: false,
        }
    })
}

/// The same after the version at one place of the board has become another.
pub(super) fn options_again(
    before: &Options,
    (part, member, window): (&Part, &Member, &Window),
    (place, version): (usize, &ClassVersion),
    world: &World<'_>,
    edit: &PieceEdit,
) -> Options {
    searched(part, member, window, edit, world, |search| {
        let mut all = before.all.to_vec();
        all[place] = search.own(version, &before.as_written, edit);
        let best = search.best(&all);
        Options { all: all.into(), best, chosen: best, ..before.clone() }
    })
}

fn searched<T>(
    part: &Part,
    member: &Member,
    window: &Window,
    edit: &PieceEdit,
    world: &World<'_>,
    look: impl FnOnce(&Search<'_>) -> T,
) -> T {
    let athlete = Athlete::new(member);
    let written = for_member(part, member, world.gym, world.catalogue);
    let fitter = Fitter { athlete: &athlete, window, world, written: &written, comfort: COMFORT };
    let lacking = what_cannot_be(&written, &athlete, world);
    look(&Search { fitter: &fitter, part, more: edit.more, lacking })
}

struct Search<'a> {
    fitter: &'a Fitter<'a>,
    part: &'a Part,
    /// Whether the coach has asked for more for those who are ahead.
    more: bool,
    /// Swaps for what the member spares or cannot do yet.
    lacking: Vec<Swap>,
}

/// A version before anything is known of how it would go.
struct Draft {
    version: VersionName,
    edits: Vec<Edit>,
    personal: bool,
    tree: Node,
    departure: f64,
    changes: Changes,
}

impl Search<'_> {
    /// A version of the board as this member does it, with the lines of theirs that the coach has written anew.
    fn own(&self, version: &ClassVersion, written: &Choice, edit: &PieceEdit) -> Choice {
        let choice = if version.by_hand { self.as_on_board(version) } else { self.option(version, written) };
        self.with_own_lines(choice, edit.of_member(version.name, &self.fitter.athlete.member.name))
    }

    /// A version as this member does it: as on the board when that holds, else with their own loads and numbers.
    fn option(&self, version: &ClassVersion, written: &Choice) -> Choice {
        if version.name == VersionName::AsWritten {
            let ahead = self.more && written.is_ahead(self.fitter.window);
            let offer = if ahead { self.fitter.more() } else { None };
            return match offer.map(|changes| self.assess(version.name, &changes, true)) {
                Some(offer) if offer.allowed && offer.predicted.chance > written.predicted.chance => offer,
                _ => written.clone(),
            };
        }
        let Fitter { athlete, world, written, .. } = *self.fitter;
        let of_board = version.changes_for(athlete.member);
        // What a member has at home goes before what the board's version is made with.
        let at_home = &athlete.member.home;
        let own_kit = (version.name == VersionName::AtHome && !at_home.is_empty())
            .then(|| HomeKit::from_words(at_home));
        let swaps = match version.name {
            VersionName::AsWritten | VersionName::Lighter => Vec::new(),
            VersionName::Simpler => {
                // Who lacks only one of the skills keeps the others.
                if self.lacking.is_empty() { of_board.swaps.clone() } else { self.lacking.clone() }
            }
            VersionName::FirstLight => {
                let mut swaps = of_board.swaps.clone();
                swaps.extend(
                    self.lacking
                        .iter()
                        .filter(|own| of_board.swaps.iter().all(|known| known.rung.from != own.rung.from))
                        .cloned(),
                );
                swaps
            }
            VersionName::AroundIt if athlete.member.limits.is_empty() => of_board.swaps.clone(),
            VersionName::AroundIt => self.lacking.clone(),
            VersionName::AtHome => match &own_kit {
                Some(kit) => to_home(written, kit, world),
                None => of_board.swaps.clone(),
            },
        };
        let home = own_kit.or_else(|| of_board.home.clone());
        let as_on_board = Changes { swaps: swaps.clone(), home: home.clone(), ..of_board.clone() };
        let start = Changes { home, ..start(version.name, swaps, self.part, A_LITTLE_LIGHTER) };
        let tries: [&dyn Fn() -> Option<Changes>; 4] = [
            &|| Some(as_on_board.clone()).filter(|changes| self.fitter.holds(changes)),
            // Numbers that a room shares are worth more than loads that it shares.
            &|| self.fitter.heaviest(&as_on_board, as_on_board.load.max(start.load)),
            &|| Some(self.fitter.fit(&start)),
            &|| self.fitter.to_the_middle(&start),
        ];
        let (mut best, mut tried) = (None::<Choice>, Vec::new());
        for changes in tries.iter().filter_map(|next| next()) {
            if tried.contains(&changes) {
                continue;
            }
            tried.push(changes.clone());
            let personal = changes != *of_board;
            let choice = self.assess(version.name, &changes, personal);
            if choice.on_stimulus {
                return choice;
            }
            best = match best {
                Some(before) if choice.likelier(&before).is_le() => Some(before),
                _ => Some(choice),
            };
        }
        best.expect("fitting always gives changes")
    }

    fn assess(&self, version: VersionName, changes: &Changes, personal: bool) -> Choice {
        let as_it_stands = version == VersionName::AsWritten && *changes == Changes::none();
        let (tree, edits) =
            if as_it_stands { (self.fitter.written.clone(), Vec::new()) } else { self.fitter.tree(changes) };
        let (departure, changes) = (changes.departure(), changes.clone());
        self.assess_tree(Draft { version, edits, personal, tree, departure, changes })
    }

    /// A version whose lines the coach has written anew, as everybody does it: limits are kept all the same, and a bar that is too heavy for
    /// somebody is lighter for them.
    fn as_on_board(&self, version: &ClassVersion) -> Choice {
        let Fitter { athlete, world, .. } = *self.fitter;
        let written = for_member(&version.part, athlete.member, world.gym, world.catalogue);
        let own = Fitter { written: &written, ..*self.fitter };
        // Versions that swap do so for whatever this one person spares or cannot do yet, too.
        let swaps = match version.name {
            VersionName::Simpler | VersionName::FirstLight | VersionName::AroundIt => {
                what_cannot_be(&written, athlete, world)
            }
            VersionName::AsWritten | VersionName::Lighter | VersionName::AtHome => Vec::new(),
        };
        let (tree, kept) = own.tree(&own.lighten_to_the_rules(&Changes { swaps, ..Changes::none() }));
        let mut edits = version.edits.clone();
        let personal = !kept.is_empty();
        edits.extend(kept);
        let changes = version.changes_for(athlete.member).clone();
        let departure = changes.departure().max(BY_HAND_DEPARTS);
        self.assess_tree(Draft { version: version.name, edits, personal, tree, departure, changes })
    }

    /// With the lines of this one person that the coach has written anew: their word, also where a rule speaks against it, and then it is
    /// said.
    fn with_own_lines<'l>(&self, choice: Choice, lines: impl Iterator<Item = &'l HandLine>) -> Choice {
        let (tree, held) = by_hand(self.part, &choice.tree, lines, self.fitter.world.catalogue);
        if held.is_empty() {
            return choice;
        }
        let Choice { version, mut edits, departure, changes, .. } = choice;
        edits.extend(held.into_iter().map(Edit::by_hand));
        self.assess_tree(Draft { version, edits, personal: true, tree, departure, changes })
    }

    /// What to expect of a tree and what speaks against it.
    fn assess_tree(&self, draft: Draft) -> Choice {
        let Fitter { athlete, window, world, .. } = *self.fitter;
        let Draft { version, edits, personal, tree, departure, changes } = draft;
        let (predicted, run) = predict(&tree, athlete, world.catalogue, world.model, window, world.days);
        let broken = self.fitter.broken(&tree);
        // A piece of which nothing is left is no version of it.
        let allowed = broken.is_empty() && !works(&tree).is_empty();
        let likely = predicted.chance >= world.model.intent.chance;
        let reason = self.reason(&predicted, &broken, &edits);
        let on_stimulus = likely && allowed;
        let off_by = window.off_by(predicted.spread.p50);
        Choice {
            version,
            edits,
            personal,
            tree,
            predicted,
            run,
            departure,
            changes,
            allowed,
            on_stimulus,
            off_by,
            reason,
        }
    }

    /// The one on stimulus that departs least from the text; else the likeliest that nothing speaks
    /// against. Ahead of the window is no reason to take anything away.
    fn best(&self, all: &[Choice]) -> usize {
        let written = &all[0];
        if written.on_stimulus || written.is_ahead(self.fitter.window) {
            return 0;
        }
        let order = self.order(all);
        let newcomer = self.fitter.athlete.member.experience == Experience::New;
        let mut fits = order.iter().copied().filter(|n| all[*n].on_stimulus);
        // A newcomer's version is made for newcomers, however near to the text another may be.
        let first = if newcomer {
            fits.next()
        } else {
            fits.min_by(|a, b| all[*a].departure.total_cmp(&all[*b].departure))
        };
        if let Some(first) = first {
            return first;
        }
        likeliest(all, &order).unwrap_or(0)
    }

    /// Places in the order of departure. The version for home is for home; the one around a joint comes first for
    /// who has one that the text loads, and for nobody else.
    fn order(&self, all: &[Choice]) -> Vec<usize> {
        let athlete = self.fitter.athlete;
        let member = athlete.member;
        let against_limit = self.fitter.broken(self.fitter.written).iter().any(Against::is_limit);
        let names: &[VersionName] = match (against_limit, member.experience) {
            (true, _) => &[VersionName::AroundIt],
            (_, Experience::New) => {
                &[VersionName::AsWritten, VersionName::FirstLight, VersionName::Simpler, VersionName::Lighter]
            }
            _ => {
                &[VersionName::AsWritten, VersionName::Lighter, VersionName::Simpler, VersionName::FirstLight]
            }
        };
        // Who can do every movement is given the movements; a version without any other would only be Lighter under another name.
        let lacks = !self.lacking.is_empty();
        let newcomer = member.experience == Experience::New;
        let says_what_it_is = |n: &usize| {
            let swaps = all[*n].edits.iter().any(Edit::is_swap);
            match all[*n].version {
                VersionName::Lighter => !lacks,
                VersionName::Simpler => swaps && (lacks || newcomer),
                // The newcomers' version is nobody's whose engine is an ordinary one.
                VersionName::FirstLight => newcomer || swaps && athlete.fitness.value < ORDINARY,
                _ => true,
            }
        };
        let places = names.iter().filter_map(|name| all.iter().position(|choice| choice.version == *name));
        places.filter(says_what_it_is).collect()
    }

    fn reason(&self, predicted: &Prediction, broken: &[Against], edits: &[Edit]) -> String {
        let said = predicted.show(predicted.spread.p50);
        let window = self.fitter.window;
        let shown = predicted.own_window(window).show();
        let likely = predicted.chance >= self.fitter.world.model.intent.chance;
        match broken.first() {
            Some(Against::Limit { .. } | Against::Ceiling) => "Goes against a limit.".to_owned(),
            Some(Against::Skill { capacity }) if *capacity < 1.0 => {
                "Asks for a movement that is not there yet.".to_owned()
            }
            Some(Against::Skill { capacity }) => {
                format!("About {capacity:.0} unbroken is too few for these sets.")
            }
            Some(Against::Prerequisite { needs }) => format!("Asks for {needs} first."),
            Some(Against::Load { capacity, set }) => {
                format!("Too heavy: about {capacity:.0} unbroken against sets of {set:.0}.")
            }
            None if likely && edits.is_empty() => format!("About {said} as written, inside {shown}."),
            None if likely => format!("About {said}, inside {shown}, with the least change."),
            None => match window.side(predicted.spread.p50) {
                Side::Inside => {
                    format!("About {said}; {:.0} % of days end inside {shown}.", predicted.chance * 100.0)
                }
                Side::Late => format!("About {said}, behind {shown}."),
                Side::Early => format!("About {said}, ahead of {shown}."),
            },
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::gym::Gym;
    use crate::limits::Limit;
    use crate::member::{Max, Sex};
    use crate::movement::{Catalogue, MovementId};
    use crate::pacing::{Days, Model, intended_window};
    use crate::read::read;
    use crate::units::Kilograms;
    use crate::versions::{Ladders, PieceEdit};

    fn strong() -> Member {
        let maxes = [("front-squat", 130.0), ("deadlift", 190.0), ("clean", 115.0), ("back-squat", 150.0)];
        Member {
            name: "Strong".to_owned(),
            sex: Some(Sex::M),
            experience: Experience::Advanced,
            bodyweight: Some(Kilograms::from_kg(84.0)),
            maxes: maxes
                .map(|(lift, kg)| {
                    (
                        MovementId::new(lift),
                        Max { weeks_old: Some(1), ..Max::on_file(Kilograms::from_kg(kg)) },
                    )
                })
                .into(),
            best_reps: [("pull-up", 30), ("toes-to-bar", 25), ("double-under", 120)]
                .map(|(id, reps)| (MovementId::new(id), reps))
                .into(),
            row_2k_s: Some(415),
            run_400_s: Some(70),
            ..Member::default()
        }
    }

    fn newer() -> Member {
        let squat = Max { weeks_old: Some(1), ..Max::on_file(Kilograms::from_kg(60.0)) };
        Member {
            name: "Newer".to_owned(),
            sex: Some(Sex::F),
            experience: Experience::Beginner,
            bodyweight: Some(Kilograms::from_kg(68.0)),
            maxes: [(MovementId::new("back-squat"), squat)].into(),
            best_reps: [(MovementId::new("pull-up"), 2)].into(),
            ..Member::default()
        }
    }

    fn chosen(text: &str, member: &Member) -> (Choice, Choice) {
        let catalogue = Catalogue::standard();
        let part = read(text, catalogue).session.parts.remove(0);
        let (model, gym) = (Model::standard(), Gym::default());
        let window = intended_window(&part, catalogue, model);
        let days = Days::new(100, 1);
        let world = World { catalogue, ladders: Ladders::standard(), model, gym: &gym, days: &days };
        let class = std::slice::from_ref(member);
        let (_, mut own) = crate::versions::for_class(&part, class, &window, &PieceEdit::default(), &world);
        let options = own.remove(0);
        (options.all[0].clone(), options.all[options.chosen].clone())
    }

    fn movements(choice: &Choice) -> Vec<String> {
        crate::session::works(&choice.tree).iter().map(|work| work.movement.to_string()).collect()
    }

    const THRUSTERS: &str = "21-15-9 for time, cap 12\nthrusters 40/30 kg\npull-ups\ngoal 4-9 min";

    /// Minutes on a machine and at burpees for who has a third of the power of the rest: off in every version, and least in one that is cut.
    #[test]
    fn whom_no_version_suits_is_given_what_comes_nearest() {
        let slow = Member { age: Some(72), row_2k_s: Some(720), experience: Experience::Unknown, ..newer() };
        let text = "Every minute for 10 minutes\n1) 30 cal row\n2) 25 burpees";
        let (written, choice) = chosen(text, &slow);
        assert!(written.allowed && written.predicted.chance < 0.05, "{}", written.reason);
        assert!(choice.off_by < written.off_by, "{} and {}", choice.reason, written.reason);
        let cal = crate::session::works(&choice.tree)[0].dose.first();
        assert!(cal.is_some_and(|cal| cal < 15.0), "less than half where less than half is there: {cal:?}");
    }

    #[test]
    fn who_is_nearly_there_has_little_taken_away() {
        let text = "AMRAP 12\n12 thrusters 60/40 kg\n12 burpees\n12 toes-to-bar\ngoal: at least 7 rounds";
        let (written, choice) = chosen(text, &strong());
        let short = written.predicted.spread.p50;
        assert!(!written.on_stimulus && short > 4.0, "{}", written.reason);
        assert!(choice.on_stimulus && choice.predicted.spread.p50 < 7.0 * 1.4, "{}", choice.reason);
    }

    #[test]
    fn a_hard_skill_that_nobody_has_seen_is_no_beginners() {
        let text = "AMRAP 12\n10 handstand push-ups\n10 air squats";
        let untried = Member { best_reps: [(MovementId::new("push-up"), 30)].into(), ..newer() };
        let (_, choice) = chosen(text, &untried);
        assert!(!movements(&choice).contains(&"handstand-push-up".to_owned()), "{:?}", movements(&choice));
        let seen = Member { best_reps: [(MovementId::new("handstand-push-up"), 12)].into(), ..newer() };
        let (_, choice) = chosen(text, &seen);
        assert!(movements(&choice).contains(&"handstand-push-up".to_owned()), "{:?}", movements(&choice));
    }

    #[test]
    fn nothing_is_taken_away_from_who_is_ahead() {
        let (written, choice) =
            chosen("21-15-9 for time\nthrusters 40/30 kg\npull-ups\ngoal 8-12 min", &strong());
        assert!(!written.on_stimulus && choice.edits.is_empty());
        assert_eq!(choice.version, VersionName::AsWritten);
        assert!(choice.reason.contains("ahead of"), "{}", choice.reason);
    }

    #[test]
    fn a_missing_skill_goes_down_its_ladder_and_the_result_is_on_stimulus() {
        let (written, choice) = chosen(THRUSTERS, &newer());
        assert!(!written.on_stimulus);
        assert!(choice.on_stimulus, "{}", choice.reason);
        assert_eq!(choice.version, VersionName::Simpler);
        assert!(!movements(&choice).contains(&"pull-up".to_owned()));
        assert!(
            choice.edits.iter().any(|edit| edit.what.starts_with("pull-up") && edit.why.contains("unbroken"))
        );
    }

    #[test]
    fn a_limit_is_worked_around_with_nothing_that_loads_it() {
        let limits = vec![Limit::new("right shoulder: nothing heavy overhead")];
        let (_, choice) = chosen(THRUSTERS, &Member { limits, ..strong() });
        assert_eq!(choice.version, VersionName::AroundIt);
        for id in movements(&choice) {
            let shoulder = Catalogue::standard().find(&id).unwrap().joint("shoulder");
            assert!(shoulder <= crate::limits::JOINT_LIMIT, "{id} asks {shoulder} of the shoulder");
        }
    }

    #[test]
    fn a_bar_that_is_too_heavy_is_made_lighter_on_plates_that_exist() {
        let member = Member { experience: Experience::Intermediate, ..newer() };
        let (_, choice) = chosen("5 rounds for time\n12 front squats 60/45 kg\n200 m run\ncap 15", &member);
        let works = crate::session::works(&choice.tree);
        let load = works.iter().find_map(|work| work.load).unwrap();
        assert!(load.first < 45.0 && (load.first * 2.0) % 5.0 == 0.0, "{load}");
        assert!(matches!(choice.version, VersionName::Lighter), "{:?}", choice.version);
    }

    #[test]
    fn a_newcomer_without_any_data_gets_a_first_guess_and_it_says_so() {
        let newcomer = Member { name: "New".to_owned(), experience: Experience::New, ..Member::default() };
        let (_, choice) = chosen(THRUSTERS, &newcomer);
        assert_eq!(choice.version, VersionName::FirstLight);
        assert!(choice.predicted.guess && choice.predicted.spread.p50 < 720.0, "{:?}", choice.predicted);
        // Of whom nothing is known is not taken for a newcomer, and it is a guess all the same.
        let (_, anybody) = chosen(THRUSTERS, &Member { name: "Anybody".to_owned(), ..Member::default() });
        assert!(anybody.version != VersionName::FirstLight && anybody.predicted.guess, "{anybody:?}");
    }

    #[test]
    fn the_gyms_school_decides_what_a_skill_is_swapped_for() {
        let catalogue = Catalogue::standard();
        let part = read("5 rounds for time\n4 ring muscle-ups\n200 m run", catalogue).session.parts.remove(0);
        let days = Days::new(20, 1);
        let reps = |swap_school| {
            let gym = Gym { swap_school, ..Gym::default() };
            let model = Model::standard();
            let world = World { catalogue, ladders: Ladders::standard(), model, gym: &gym, days: &days };
            let best_reps = [("ring-muscle-up", 0), ("strict-pull-up", 14), ("push-up", 45)]
                .map(|(id, reps)| (MovementId::new(id), reps))
                .into();
            let member = Member { best_reps, ..strong() };
            let swaps = what_cannot_be(&part.tree, &Athlete::new(&member), &world);
            swaps[0].rung.to.iter().map(|(_, factor)| *factor).collect::<Vec<_>>()
        };
        assert_eq!(reps(crate::gym::SwapSchool::FixedRatio), [3.0, 3.0]);
        assert!(reps(crate::gym::SwapSchool::SameTime).iter().all(|factor| *factor < 3.0));
    }

    #[test]
    fn who_is_ahead_is_given_more_only_when_the_coach_asks() {
        let catalogue = Catalogue::standard();
        let text = "21-15-9 for time\nthrusters 40/30 kg\npull-ups\ngoal 5-7 min";
        let part = read(text, catalogue).session.parts.remove(0);
        let (model, gym, days) = (Model::standard(), Gym::default(), Days::new(100, 1));
        let window = intended_window(&part, catalogue, model);
        let world = World { catalogue, ladders: Ladders::standard(), model, gym: &gym, days: &days };
        let chosen = |more| {
            let edit = PieceEdit { more, ..PieceEdit::default() };
            let (_, mut own) = crate::versions::for_class(&part, &[strong()], &window, &edit, &world);
            let options = own.remove(0);
            options.all[options.chosen].clone()
        };
        assert_eq!((chosen(false).edits, chosen(false).version), (Vec::new(), VersionName::AsWritten));
        let offer = chosen(true);
        assert!(offer.allowed && offer.edits.iter().all(|edit| edit.why.contains("too easy")), "{offer:?}");
        assert!(offer.predicted.chance > chosen(false).predicted.chance, "{}", offer.reason);
    }

    #[test]
    fn what_the_coach_has_chosen_stands_whatever_the_numbers_say() {
        let catalogue = Catalogue::standard();
        let (model, gym, days) = (Model::standard(), Gym::default(), Days::new(50, 1));
        let world = World { catalogue, ladders: Ladders::standard(), model, gym: &gym, days: &days };
        let mut edit = PieceEdit::default();
        edit.versions.insert("Strong".to_owned(), VersionName::FirstLight);
        for text in [THRUSTERS, "AMRAP 12\n10 burpees\n10 deadlifts 60/40 kg", "For time\n5 km run"] {
            let part = read(text, catalogue).session.parts.remove(0);
            let window = intended_window(&part, catalogue, model);
            let (_, own) = crate::versions::for_class(&part, &[strong()], &window, &edit, &world);
            assert!(
                own[0].by_coach && own[0].all[own[0].chosen].version == VersionName::FirstLight,
                "{text}"
            );
        }
    }

    #[test]
    fn the_next_best_is_another_version_and_never_against_a_rule() {
        let catalogue = Catalogue::standard();
        let part = read(THRUSTERS, catalogue).session.parts.remove(0);
        let (model, gym, days) = (Model::standard(), Gym::default(), Days::new(50, 1));
        let window = intended_window(&part, catalogue, model);
        let world = World { catalogue, ladders: Ladders::standard(), model, gym: &gym, days: &days };
        let edit = PieceEdit::default();
        // Who has nearly the sets can do with fewer or with an easier movement.
        let mut nearly = newer();
        nearly.best_reps.insert(MovementId::new("pull-up"), 8);
        let (board, own) = crate::versions::for_class(&part, &[strong(), nearly], &window, &edit, &world);
        assert_eq!(board.iter().map(|version| version.name).collect::<Vec<_>>(), VersionName::ALL);
        let [ahead, newer] = &own[..] else { panic!("two people") };
        let next = &newer.all[newer.next.unwrap()];
        assert!(next.allowed && next.version != newer.all[newer.chosen].version);
        // Whoever is ahead of the window is better served by more than by an easier piece that takes longer.
        let chosen = &ahead.all[ahead.chosen];
        assert!(!chosen.on_stimulus && window.leans_early(chosen.predicted.spread), "{}", chosen.reason);
        assert_eq!(ahead.next, None);
    }

    #[test]
    fn the_same_seed_gives_the_same_choice() {
        let (_, first) = chosen(THRUSTERS, &newer());
        let (_, second) = chosen(THRUSTERS, &newer());
        assert_eq!((first.edits, first.predicted), (second.edits, second.predicted));
    }
}
