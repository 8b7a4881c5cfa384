//! Prescriptions with their arithmetic in a column of their own: the test works it out and compares it with the sheet, repetitions and loads of every set.

use lantern_core::gym::Gym;
use lantern_core::member::{Experience, Max, Member, Sex};
use lantern_core::movement::{Catalogue, MovementId};
use lantern_core::read::read;
use lantern_core::strength::{SetKind, lift_sheet};
use lantern_core::units::Kilograms;

const TABLE: &str = include_str!("prescriptions.csv");
/// What the gym's smallest pair of plates adds.
const STEP_KG: f64 = 2.5;

/// `m`, `o` and `b` of a row.
struct Known {
    max: f64,
    other: f64,
    bodyweight: f64,
}

impl Known {
    /// A product such as `0.9*0.8*m`.
    fn product(&self, text: &str) -> f64 {
        let factor = |text: &str| match text.trim() {
            "m" => self.max,
            "o" => self.other,
            "b" => self.bodyweight,
            number => number.parse().unwrap_or_else(|_| panic!("`{number}` is no number")),
        };
        text.split('*').map(factor).product()
    }
}

/// To the step that is nearest, of two as near the lighter, or to the one below; a gram is nothing.
fn rounded(kg: f64, how: &str) -> f64 {
    let steps = kg / STEP_KG;
    let whole = if how == "down" { (steps + 1e-3).floor() } else { (steps - 1e-6).round() };
    whole * STEP_KG
}

/// Sets of `5 x 3 : 0.8*m ; 1 x 5 : 0.7*m`: repetitions and load of each.
fn expected(sets: &str, known: &Known, how: &str) -> Vec<(u32, f64)> {
    let of = |group: &str| {
        let (dose, product) = group.split_once(':').expect("sets, then the product");
        let (sets, reps) = dose.split_once('x').expect("sets x repetitions");
        let (sets, reps) = (sets.trim().parse::<usize>().unwrap(), reps.trim().parse::<u32>().unwrap());
        vec![(reps, rounded(known.product(product), how)); sets]
    };
    sets.split(';').flat_map(of).collect()
}

#[test]
fn every_prescription_comes_to_its_arithmetic() {
    let (catalogue, gym) = (Catalogue::standard(), Gym::default());
    let rows = TABLE.lines().filter(|line| !line.starts_with('#')).skip(1);
    let (mut looked_at, mut wrong) = (0, Vec::new());
    for row in rows {
        let [text, lift, max, other, of_other, bodyweight, sets, how] =
            row.split('|').collect::<Vec<_>>()[..]
        else {
            panic!("eight columns: {row}")
        };
        let number = |text: &str| text.parse().unwrap_or(0.0);
        let known = Known { max: number(max), other: number(of_other), bodyweight: number(bodyweight) };
        let on_file = |lift: &str, kg: f64| (MovementId::new(lift), Max::on_file(Kilograms::from_kg(kg)));
        let mut maxes = std::collections::BTreeMap::from([on_file(lift, known.max)]);
        maxes.extend((!other.is_empty()).then(|| on_file(other, known.other)));
        let member = Member {
            sex: Some(Sex::M),
            experience: Experience::Advanced,
            bodyweight: Some(Kilograms::from_kg(known.bodyweight)).filter(|kg| kg.kg() > 0.0),
            maxes: maxes.into_iter().collect(),
            ..Member::default()
        };
        let part = read(&text.replace("\\n", "\n"), catalogue).session.parts.remove(0);
        let sheet = lift_sheet(&part, catalogue.find(lift).expect(lift), &member, &gym, catalogue);
        let work = sheet.sets.iter().filter(|set| set.kind == SetKind::Work);
        let found: Vec<(u32, f64)> =
            work.map(|set| (set.reps, set.load.as_ref().map_or(0.0, |load| load.total.kg()))).collect();
        let expected = expected(sets, &known, how);
        looked_at += 1;
        if found != expected {
            wrong.push(format!("{text}\n    found    {found:?}\n    expected {expected:?}"));
        }
    }
    assert!(looked_at >= 60, "only {looked_at} rows");
    assert!(wrong.is_empty(), "{} of {looked_at} are wrong:\n{}", wrong.len(), wrong.join("\n"));
}
