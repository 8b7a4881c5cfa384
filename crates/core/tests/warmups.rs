//! Warm-ups of many days: as coaches lead them, for everybody at once, and not the same every day.

use std::collections::BTreeMap;
use std::fs;
use std::path::{Path, PathBuf};

use lantern_core::gym::Gym;
use lantern_core::movement::Catalogue;
use lantern_core::read::read;
use lantern_core::session::{PartKind, Session, works};
use lantern_core::warmup::{Item, MOST_ITEMS, Stage, Warmup, WarmupRequest, build_warmup, demands};

/// Sizes of class that everything here holds for.
const CLASSES: [u32; 3] = [1, 14, 28];

fn texts(folder: &str) -> Vec<(String, Session)> {
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join(folder);
    let mut paths: Vec<PathBuf> = fs::read_dir(folder).unwrap().map(|entry| entry.unwrap().path()).collect();
    paths.retain(|path| path.extension().is_some_and(|kind| kind == "txt"));
    paths.sort();
    let name = |path: &PathBuf| path.file_stem().unwrap().to_string_lossy().into_owned();
    let session = |path: &PathBuf| read(&fs::read_to_string(path).unwrap(), Catalogue::standard()).session;
    paths.iter().map(|path| (name(path), session(path))).collect()
}

fn warmed_up(session: &Session, people: u32, past: &[Vec<String>]) -> Warmup {
    let (gym, catalogue) = (&Gym::default(), Catalogue::standard());
    build_warmup(WarmupRequest { people, past, ..WarmupRequest::of(session, gym, catalogue) })
}

/// Whether the day's own lift or skill asks for an item: it leads up to one of its movements.
fn is_asked_for(item: &Item, session: &Session) -> bool {
    let movements: Vec<_> =
        session.parts.iter().flat_map(|part| works(&part.tree)).map(|work| &work.movement).collect();
    item.of.phase.is_drill() && item.of.prepares.iter().any(|id| movements.contains(&id))
}

/// Thirty days one after another: nothing comes on more than a third of them, and hardly a day has more items than a
/// class keeps in mind.
fn month(folder: &str, people: u32) {
    let mut past: Vec<Vec<String>> = Vec::new();
    let mut times: BTreeMap<String, usize> = BTreeMap::new();
    let (mut days, mut full) = (0, 0);
    for (_, session) in texts(folder).into_iter().take(30) {
        if demands(&session, Catalogue::standard()).is_empty() {
            continue;
        }
        let warmup = warmed_up(&session, people, &past);
        days += 1;
        full += usize::from(warmup.items().count() > MOST_ITEMS);
        for item in warmup.items().filter(|item| !item.id.is_empty() && !is_asked_for(item, &session)) {
            *times.entry(item.id.clone()).or_default() += 1;
        }
        past.insert(0, warmup.items().map(|item| item.id.clone()).collect());
    }
    assert!(days >= 20, "{folder}: {days} days");
    assert!(full * 10 <= days, "{folder}: {full} of {days} days have more than {MOST_ITEMS} items");
    let often: Vec<_> = times.iter().filter(|(_, times)| **times * 3 > days).collect();
    assert!(often.is_empty(), "{folder}, {people} people, {days} days: {often:?}");
}

#[test]
fn a_month_of_days_is_varied() {
    for people in [14, 28] {
        month("tests/fixtures", people);
        month("../reader/corpus/practice", people);
    }
}

#[test]
fn everybody_can_begin_at_once() {
    for (name, session) in texts("tests/fixtures") {
        for people in CLASSES {
            let warmup = warmed_up(&session, people, &[]);
            for block in &warmup.blocks {
                match block.phase {
                    // What the coach has written is theirs.
                    Stage::Own | Stage::Climb => {}
                    Stage::Raise => {
                        let scarce: Vec<&Item> =
                            block.items.iter().filter(|item| taken_in_turns(item, people)).collect();
                        assert!(scarce.len() <= 1, "{name}, {people}: {scarce:?}");
                        assert_eq!(block.rotates, !scarce.is_empty(), "{name}, {people}");
                    }
                    Stage::Rehearse => {
                        for item in &block.items {
                            assert!(item.groups <= 4, "{name}, {people}: {item:?}");
                            let waits = item.groups > 1;
                            assert!(
                                !waits || item.seconds >= item.of.seconds * item.groups,
                                "{name}: {item:?}"
                            );
                        }
                    }
                }
            }
        }
    }
}

/// Whether there is less of something than there are people, by the gym's own counts.
fn taken_in_turns(item: &Item, people: u32) -> bool {
    let gym = Gym::default();
    item.of.equipment.iter().any(|kit| {
        let places = match kit.as_str() {
            "rower" => gym.rowers,
            "ski" => gym.skis,
            "bike" | "air_bike" => gym.bikes,
            "rig" => gym.rig_places,
            "rings" => gym.rings,
            "rope" => gym.ropes,
            "rack" => gym.racks,
            "sled" => gym.sleds,
            "ghd" => gym.ghds,
            "bench" => gym.benches,
            "wall" => gym.wall_places,
            "barbell" => gym.bars.iter().map(|bar| bar.count).sum(),
            "box" => gym.boxes.iter().map(|box_| box_.count).sum(),
            "kettlebell" => gym.kettlebells.iter().map(|bell| bell.count).sum(),
            "plates" => gym.plates.iter().map(|plate| plate.count).sum(),
            "dumbbell_pair" => gym.dumbbells.iter().map(|bell| bell.count).sum(),
            "medicine_ball" => gym.balls.iter().map(|ball| ball.count).sum(),
            _ => u32::MAX,
        };
        places < people
    })
}

#[test]
fn a_warm_up_is_led_in_few_rounds_of_few_moves() {
    let mut seen = 0;
    for (name, session) in texts("tests/fixtures") {
        let own = session.parts.iter().any(|part| part.kind == PartKind::Warmup);
        if own || demands(&session, Catalogue::standard()).is_empty() {
            continue;
        }
        let warmup = warmed_up(&session, 14, &[]);
        let raise = &warmup.blocks[0];
        assert_eq!(raise.phase, Stage::Raise, "{name}");
        assert!((2..=4).contains(&raise.rounds), "{name}: {} rounds", raise.rounds);
        assert!((4..=6).contains(&raise.items.len()), "{name}: {} moves", raise.items.len());
        // Nothing stands twice, by its name or as another name of the same.
        let mut names: Vec<&str> = warmup.items().map(|item| item.name.as_str()).collect();
        let count = names.len();
        names.sort_unstable();
        names.dedup();
        assert_eq!(names.len(), count, "{name}");
        seen += 1;
    }
    assert!(seen >= 50, "{seen}");
}

#[test]
fn a_warm_up_that_is_led_prepares_every_pattern_of_the_day() {
    let (mut led, mut open) = (0, Vec::new());
    for (name, session) in texts("tests/fixtures").into_iter().chain(texts("../reader/corpus/practice")) {
        let own = session.parts.iter().any(|part| part.kind == PartKind::Warmup);
        if own || demands(&session, Catalogue::standard()).is_empty() {
            continue;
        }
        for people in CLASSES {
            led += 1;
            let gaps = warmed_up(&session, people, &[]).gaps;
            if !gaps.is_empty() {
                open.push((name.clone(), people, gaps));
            }
        }
    }
    assert!(led > 200, "{led}");
    // Where six moves are too few, it says so.
    assert!(open.len() * 50 <= led, "{led}: {open:?}");
}
