//! Other people than the practice class, on every text that no longer snapshot stands of: the young and the old, limits of many kinds, machines and runs
//! on file, results that were heard. A row for each says what they do and how it comes out; whatever changes it is seen.

use std::fmt::Write as _;
use std::fs;
use std::path::Path;
use std::sync::Arc;

use lantern_core::gym::Gym;
use lantern_core::member::Member;
use lantern_core::movement::Catalogue;
use lantern_core::pacing::{Apart, Capability, Direction, Learned, Normal};
use lantern_core::plan::{PiecePlan, Plan, StrengthPlan, plan};
use lantern_core::read::read;
use lantern_core::roster::roster_from_csv;
use lantern_core::strength::SetKind;

const ROSTER: &str = "\
name,sex,age,bodyweight_kg,experience,back_squat_kg,deadlift_kg,strict_press_kg,bench_press_kg,clean_kg,snatch_kg,max_strict_pull_ups,max_push_ups,max_toes_to_bar,max_double_unders,row_2k,row_500m,ski_1000m,bike_10min_cal,run_400m,run_5000m,limits,equipment_at_home
Arvid Kell,M,15,58,beginner,,,,,,,3,18,,20,,1:52,,,1:24,,,
Berit Osk,F,71,62,beginner,40,55,20,25,,,0,6,,0,10:10,,,72,,,high blood pressure; hips: shallow squats only,band
Corwin Dace,M,34,108,intermediate,170,210,80,140,110,80,2,30,4,15,6:58,1:31,3:38,190,,,right shoulder: no hanging,
Dagny Pell,F,29,66,intermediate,80,100,42,52,62,48,4,16,6,60,8:02,,,,,25:30,pregnant 24 weeks,
Edric Vale,M,45,84,intermediate,120,150,58,90,80,,6,25,8,30,,1:38,,,1:20,,low back: nothing heavy from the floor; wrists: no front rack,kettlebell 16 kg
Fenja Marsh,F,23,59,advanced,105,130,50,66,80,62,14,40,25,150,7:20,1:38,3:50,,1:12,19:50,,
Gorm Tarn,M,27,92,advanced,200,240,95,145,140,110,18,55,30,160,6:20,1:22,3:18,260,1:04,18:40,,
Hilde Roe,F,52,78,beginner,55,70,,30,,,0,4,0,5,9:20,,,90,,,knees: no jumping and no running; asthma,
";

/// The class, with what results say of the last three: short pieces went quicker than the file says, long ones slower, all a little slower.
fn class() -> Vec<Member> {
    let (mut members, errors) = roster_from_csv(ROSTER);
    assert!(errors.is_empty(), "{errors:?}");
    let heard = [(120.0, -0.12), (1_200.0, 0.2), (600.0, 0.05)];
    for (member, (length_s, pace)) in members[5..].iter_mut().zip(heard) {
        let apart = Apart {
            all_over: 0.1,
            at_work: 0.1,
            at_piece: 0.0,
            at_movement: 0.0,
            by_length: 0.05,
            rested: 0.05,
        };
        let mut believed = Normal::around_nothing(apart);
        let of = Direction {
            shares: [1.0 / Capability::COUNT as f64; Capability::COUNT],
            length_s,
            rested: false,
            ..Direction::default()
        };
        believed.hear(&of, pace, 0.05, 0.08);
        member.learned = Some(Arc::new(Learned::new(believed, 0.8, 1.1, 6)));
    }
    members
}

/// The texts whose plans for the practice class stand whole have snapshots of their own.
fn stands_already(name: &str) -> bool {
    let snapshots = Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/snapshots");
    snapshots.join(format!("computing__plans__kind-{name}.snap")).exists()
}

/// Each lift: who does which sets, with what, and why it is not as written.
fn lift(told: &mut String, lift: &StrengthPlan, catalogue: &Catalogue) {
    let _ = writeln!(told, "lift {}, {:?}", lift.written().join(" + "), lift.time());
    lift.notes.iter().for_each(|note| told.push_str(&format!("  note: {note}\n")));
    for sheet in &lift.sheets {
        let sets = sheet.sets.iter().map(|set| {
            let load = match (&set.load, set.range) {
                (Some(load), _) => format!("{:.1}", load.total.kg()),
                (None, Some((low, high))) => format!("{:.1} to {:.1}", low.kg(), high.kg()),
                (None, None) => "?".to_owned(),
            };
            let climbs = if set.kind == SetKind::Ramp { "~" } else { "" };
            format!("{climbs}{} x {load}", set.reps_called())
        });
        let sets = sets.collect::<Vec<_>>().join(", ");
        let _ = writeln!(told, "  {} | {} | {sets}", sheet.name, sheet.called(catalogue));
        let max = sheet.max.as_ref().map(|max| format!("max {}", max.basis));
        for said in [&max, &sheet.by_feel, &sheet.held_why].into_iter().flatten() {
            let _ = writeln!(told, "    {said}");
        }
    }
}

/// Each piece: who does which version of it, what is expected of them, and where they should be when.
fn piece(told: &mut String, piece: &PiecePlan) {
    let _ = writeln!(told, "piece {}: {}", piece.window.show(), piece.headline());
    for member in &piece.members {
        let choice = member.chosen();
        let predicted = member.predicted();
        let spread = [predicted.spread.p10, predicted.spread.p50, predicted.spread.p90];
        let [p10, p50, p90] = spread.map(|value| predicted.measure.show(value));
        let edits: Vec<&str> = choice.edits.iter().map(|edit| edit.what.as_str()).collect();
        let on = if member.is_on_stimulus() { "on" } else { "off" };
        let _ = writeln!(
            told,
            "  {} | {} | {p10}, {p50}, {p90}, {on} | {}",
            member.name,
            choice.version.label(),
            edits.join("; ")
        );
        let targets = &member.targets;
        let at = targets.checkpoints.iter().map(|point| format!("{} s {}", point.at_s, point.text));
        let said = at.chain(targets.advice.iter().cloned()).chain(targets.behind.iter().cloned());
        let said: Vec<String> = said.chain(targets.machines.iter().cloned()).collect();
        let _ = writeln!(told, "    {}", said.join("; "));
        if let Some((movement, why)) = &member.cannot {
            let _ = writeln!(told, "    cannot as written: {movement}, {why}");
        }
    }
}

fn all_of(plan: &Plan, catalogue: &Catalogue) -> String {
    let mut told = String::new();
    plan.strength.iter().for_each(|one| lift(&mut told, one, catalogue));
    plan.pieces.iter().chain(&plan.beside).for_each(|one| piece(&mut told, one));
    plan.floors.iter().for_each(|floor| told.push_str(&format!("floor: {:?}\n", floor.floor.arrangement)));
    let items = plan.warmup.blocks.iter().flat_map(|block| &block.items);
    let items: Vec<String> = items.map(|item| format!("{} {}", item.name, item.dose)).collect();
    let _ = writeln!(told, "warm-up: {}", items.join("; "));
    let _ = writeln!(told, "hour: {} to {} s", plan.hour.earliest_s, plan.hour.latest_s);
    plan.cautions.iter().for_each(|caution| told.push_str(&format!("caution: {}\n", caution.text)));
    told
}

#[test]
fn what_other_people_do_of_the_other_texts_stands() {
    let (members, catalogue, gym) = (class(), Catalogue::standard(), Gym::default());
    let folder = Path::new(env!("CARGO_MANIFEST_DIR")).join("tests/fixtures");
    let texts = fs::read_dir(folder).unwrap().map(|entry| entry.unwrap().path());
    for path in texts {
        let name = path.file_stem().unwrap().display().to_string();
        if !stands_already(&name) {
            let reading = read(&fs::read_to_string(&path).unwrap(), catalogue);
            let plan = plan(&reading.session, &members, &gym, catalogue, 1);
            insta::assert_snapshot!(name, all_of(&plan, catalogue));
        }
    }
}
