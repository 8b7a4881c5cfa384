//! Every fixture on a small floor, with 14 and 28 people: everybody has a turn, and no station is ever over capacity.

use std::fs;
use std::path::Path;
use std::sync::LazyLock;

use lantern_core::floor::{Arrangement, Claim, FloorPlan, Holding, Inventory, Station, claims};
use lantern_core::gym::{Bar, Gym};
use lantern_core::hour::HourEdits;
use lantern_core::limits::Limit;
use lantern_core::member::Member;
use lantern_core::movement::Catalogue;
use lantern_core::plan::{Decisions, Plan, Request, plan_with};
use lantern_core::read::read;
use lantern_core::roster::roster_from_csv;
use lantern_core::session::Session;

const ROSTER: &str = include_str!("../../../data/demo/members.csv");

/// Six racks, ten bars, four rowers, twelve places on the rig.
fn small() -> Gym {
    let bar = |name: &str, weight, count| Bar { name: name.to_owned(), weight, count };
    Gym {
        racks: 6,
        bars: vec![bar("Standard bar", 20.0, 6), bar("Light bar", 15.0, 4)],
        rowers: 4,
        skis: 1,
        bikes: 2,
        rig_places: 12,
        ..Gym::default()
    }
}

fn class(size: usize) -> Vec<Member> {
    let (members, _) = roster_from_csv(ROSTER);
    let again = |n: usize| {
        let member = members[n % members.len()].clone();
        if n < members.len() { member } else { Member { name: format!("{} {n}", member.name), ..member } }
    };
    (0..size).map(again).collect()
}

struct Planned {
    name: String,
    people: usize,
    session: Session,
    plan: Plan,
}

static PLANNED: LazyLock<Vec<Planned>> = LazyLock::new(|| {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/fixtures");
    let mut paths: Vec<_> = fs::read_dir(folder).unwrap().map(|entry| entry.unwrap().path()).collect();
    paths.sort();
    let mut all = Vec::new();
    for path in paths {
        for people in [14, 28] {
            let session = read(&fs::read_to_string(&path).unwrap(), Catalogue::standard()).session;
            let plan = planned(&session, &class(people), &Decisions::default());
            let name = path.file_stem().unwrap().to_string_lossy().into_owned();
            all.push(Planned { name, people, session, plan });
        }
    }
    all
});

fn planned(session: &Session, members: &[Member], decisions: &Decisions) -> Plan {
    let (gym, catalogue) = (small(), Catalogue::standard());
    plan_with(Request { session, members, gym: &gym, catalogue, seed: 1, decisions })
}

/// Most of a station in use at once, counted instant by instant and not as the schedule counts it.
fn most_at_once(claims: &[Claim], station: Station) -> u32 {
    let held = |at: f64| {
        let now = claims.iter().filter(|c| c.station == station && c.from_s <= at && at < c.to_s);
        now.map(|claim| claim.count).sum::<u32>()
    };
    claims.iter().filter(|claim| claim.station == station).map(|claim| held(claim.from_s)).max().unwrap_or(0)
}

#[test]
fn no_station_is_ever_over_capacity() {
    let (gym, catalogue) = (small(), Catalogue::standard());
    let inventory = Inventory::of(&gym);
    let mut staggered = 0;
    for Planned { name, people, plan, .. } in PLANNED.iter() {
        for (piece, floor) in plan.pieces.iter().zip(&plan.floors) {
            let floor = &floor.floor;
            assert_eq!(floor.starts.len(), *people, "{name}: {floor:?}");
            staggered += usize::from(floor.is_staggered());
            for used in &floor.stations {
                // What the gym has too little of for a single person is named instead.
                if used.arranged > used.there {
                    let what = used.station.name(1);
                    panic!("{name}, {people}: {} {what} for {}", used.there, used.arranged);
                }
            }
            // Where everybody keeps the own text and equipment, the walks themselves are counted again.
            let plain =
                floor.starts.iter().all(|start| start.begins_with.is_none() && start.instead.is_none());
            let timed = !matches!(floor.arrangement, Arrangement::Sharing | Arrangement::Waiting);
            if plain && timed && floor.unplaced.is_empty() {
                let team = piece.members.len() / floor.starts.len();
                assert_eq!(team, 1);
                let cap_s = piece.written().cap_s.map_or(f64::INFINITY, f64::from);
                let all: Vec<Claim> = piece
                    .members
                    .iter()
                    .zip(&floor.starts)
                    .flat_map(|(member, start)| {
                        let own = claims(&member.chosen().run, cap_s, Holding::Own, &gym, catalogue);
                        own.into_iter().map(|claim| claim.later(f64::from(start.offset_s)))
                    })
                    .collect();
                let in_teams = plan.floors.iter().any(|floor| !floor.teams.is_empty());
                for (station, there) in inventory.stations().filter(|_| !in_teams) {
                    assert!(most_at_once(&all, station) <= there, "{name}, {people}: {}", station.name(2));
                }
            }
        }
    }
    assert!(staggered > 5, "heats were hardly ever needed: {staggered}");
}

#[test]
fn it_fits_or_says_what_is_short() {
    for Planned { name, people, plan, .. } in PLANNED.iter() {
        for (piece, floor) in plan.pieces.iter().zip(&plan.floors) {
            let floor = &floor.floor;
            // Only a piece with nothing in it is over at once.
            let takes_time = piece.members.iter().any(|member| member.chosen().run.finish_s > 0.0);
            assert_eq!(floor.ends_s > 0.0, takes_time, "{name}, {people}");
            if let Some(proof) = &floor.proof {
                assert!(proof.contains(':') && proof.contains("there"), "{name}, {people}: {proof}");
            }
            for used in &floor.stations {
                assert!(
                    !used.is_short() || floor.sentence().contains(&used.station.name(used.there)),
                    "{name}"
                );
            }
        }
        // An hour that does not fit has something to change, or says why it cannot.
        let proofs = plan.floors.iter().filter_map(|floor| floor.floor.proof.as_ref()).count();
        assert!(plan.hour.fits || !plan.hour.changes.is_empty() || proofs > 0, "{name}, {people}");
    }
}

#[test]
fn a_bigger_class_never_ends_sooner_on_the_same_floor() {
    for pair in PLANNED.chunks(2) {
        let [few, many] = pair else { panic!("each fixture is planned twice") };
        for (few_floor, many_floor) in few.plan.floors.iter().zip(&many.plan.floors) {
            // Another machine is as long as the first for who is alone on it; in a team whose members take turns on it not to the second.
            let is_other = !many_floor.teams.is_empty()
                && many_floor.floor.starts.iter().any(|start| start.instead.is_some());
            let near = if is_other { 0.03 * many_floor.floor.ends_s } else { 1.0 };
            assert!(few_floor.floor.ends_s <= many_floor.floor.ends_s + near, "{}", few.name);
        }
    }
}

#[test]
fn the_coach_may_ask_for_another_arrangement() {
    let session = read("5 rounds for time\n10 burpees\n10 air squats", Catalogue::standard()).session;
    let members = class(6);
    let of = |arrangement| {
        let mut hour = HourEdits::default();
        hour.change_floor(0, |floor| floor.arrangement = arrangement);
        planned(&session, &members, &Decisions { hour, ..Decisions::default() }).floors.remove(0).floor
    };
    assert_eq!(of(None).arrangement, Arrangement::Together);
    let heats = of(Some(Arrangement::Rotating));
    assert!(heats.asked.is_some() && heats.refused().is_none() && heats.arrangement == Arrangement::Rotating);
    assert!(heats.tried.len() == Arrangement::ALL.len());
}

#[test]
fn too_few_rowers_turn_into_machines_rotation_or_heats_and_the_sentence_says_so() {
    let session =
        read("4 rounds for time, cap 24\n15 cal row\n15 burpees\n15 air squats", Catalogue::standard())
            .session;
    let floor = planned(&session, &class(14), &Decisions::default()).floors.remove(0).floor;
    assert_ne!(floor.arrangement, Arrangement::Together);
    let rower = floor.stations.iter().find(|used| used.station == Station::Rower).unwrap();
    assert!(rower.is_short() && rower.arranged <= 4, "{rower:?}");
    assert!(floor.sentence().contains("4 rowers for"), "{}", floor.sentence());
    assert!(rower.minutes.iter().all(|used| *used <= 4));
}

#[test]
fn nobody_is_given_a_machine_that_goes_against_what_they_spare() {
    // A ski machine that is pulled from high up.
    let mut ski = Catalogue::standard().find("ski").unwrap().clone();
    ski.joints = vec![("shoulder".to_owned(), 0.8)];
    let catalogue = &Catalogue::standard().with_movements([ski.clone()]);
    let limit = Limit::new("sore shoulder");
    assert!(limit.spares(&ski));
    let session = read("For time, cap 30\n60 cal row\n40 air squats", catalogue).session;
    // One rower, many ski machines, no bikes.
    let gym = Gym { rowers: 1, skis: 9, bikes: 0, ..Gym::default() };
    let sore = |member: Member| Member { limits: vec![limit.clone()], ..member };
    let starts = |members: &[Member]| {
        let decisions = Decisions::default();
        let request =
            Request { session: &session, members, gym: &gym, catalogue, seed: 1, decisions: &decisions };
        plan_with(request).floors.remove(0).floor.starts
    };
    let sound: Vec<Member> = class(4).into_iter().map(|m| Member { limits: Vec::new(), ..m }).collect();
    assert!(starts(&sound).iter().filter(|start| start.instead.is_some()).count() == 3);
    let all_sore: Vec<Member> = sound.into_iter().map(sore).collect();
    assert!(starts(&all_sore).iter().all(|start| start.instead.is_none()));
}

#[test]
fn one_set_of_equipment_serves_a_team_in_which_one_works() {
    let text = "In pairs, for time, cap 20\n100 cal row\n100 burpees";
    let session = read(text, Catalogue::standard()).session;
    let plan = planned(&session, &class(8), &Decisions::default());
    let floor = &plan.floors[0];
    assert_eq!(floor.teams.iter().map(|team| team.members.len()).collect::<Vec<_>>(), [2, 2, 2, 2]);
    let rower = floor.floor.stations.iter().find(|used| used.station == Station::Rower).unwrap();
    assert_eq!(rower.together, 4, "{:?}", session.parts[0].tree);
}

#[test]
fn the_fixtures_used_hold_many_kinds_of_pieces() {
    let formats: std::collections::BTreeSet<String> =
        PLANNED.iter().flat_map(|p| &p.session.parts).map(|part| format!("{:?}", part.format)).collect();
    assert!(formats.len() >= 6, "{formats:?}");
}

/// The demo's Monday evening, block by block and station by station, as a coach would read it out.
#[test]
fn the_demo_evening_reads_as_before() {
    use lantern_core::units::clock_s;
    use std::fmt::Write;

    let text = include_str!("../../../data/demo/sessions/01.txt");
    let session = read(text, Catalogue::standard()).session;
    let mut told = String::new();
    for people in [14, 28] {
        let plan = planned(&session, &class(people), &Decisions::default());
        writeln!(
            told,
            "{people} people, ends {} to {}",
            clock_s(plan.hour.earliest_s),
            clock_s(plan.hour.latest_s)
        )
        .unwrap();
        for block in &plan.hour.blocks {
            let (from, length) = (clock_s(block.start_s), clock_s(block.length_s()));
            writeln!(told, "{from:>6} {length:>6}  {}: {}", block.label, block.why).unwrap();
        }
        for change in plan.hour.changes.iter().chain(&plan.hour.additions) {
            writeln!(told, "  {} {}", change.what, change.saves_s).unwrap();
        }
        for floor in &plan.floors {
            writeln!(told, "{}", floor.floor.sentence()).unwrap();
            for (offset, who) in floor.floor.heats() {
                writeln!(told, "  at {}: {} people", clock_s(offset), who.len()).unwrap();
            }
            for used in floor.floor.stations.iter().filter(|used| used.is_short()) {
                writeln!(told, "  {}: {:?}", used.station.name(2), used.minutes).unwrap();
            }
        }
    }
    insta::assert_snapshot!(told);
}

/// Whoever writes in pounds means the bells, dumbbells and balls that stand there.
#[test]
fn a_day_in_pounds_is_the_same_on_the_floor_as_in_kilograms() {
    let floors = |text: &str| {
        let session = read(text, Catalogue::standard()).session;
        let plan = planned(&session, &class(14), &Decisions::default());
        plan.floors.iter().map(|piece| piece.floor.clone()).collect::<Vec<_>>()
    };
    for (text, pounds, kilograms) in [
        ("3 rounds for time, cap 12\n15 kettlebell swings", "53/35 lb", "24/16 kg"),
        ("AMRAP 10\n10 burpees\n20 wall balls", "20/14 lb", "9/6 kg"),
        ("AMRAP 10\n10 push-ups\n10 kettlebell deadlifts", "70/53 lb", "32/24 kg"),
    ] {
        let written = floors(&format!("{text} {pounds}"));
        let same = floors(&format!("{text} {kilograms}"));
        assert_eq!(written.len(), 1, "{text}");
        let used =
            |floors: &[FloorPlan]| floors[0].stations.iter().map(|used| used.station).collect::<Vec<_>>();
        assert_eq!((used(&written), &written[0].unplaced), (used(&same), &same[0].unplaced), "{text}");
        // What stands in is called as it is made.
        let instead = written[0].starts.iter().filter_map(|start| start.instead.as_deref());
        for words in instead {
            assert!(words.split(" for ").next().is_some_and(|next| next.ends_with(" kg")), "{text}: {words}");
        }
    }
}
