//! The load table: one row a member, the sets across.

use lantern_core::gym::Gym;
use lantern_core::movement::{Catalogue, MovementId};
use lantern_core::plan::StrengthPlan;
use lantern_core::strength::{LiftSheet, SetKind, SetLoad};
use lantern_core::units::plain;

/// A lift's table.
pub(crate) struct LoadTable {
    pub lift: String,
    pub unit: &'static str,
    pub ramp: usize,
    pub sets: Vec<String>,
    pub rows: Vec<LoadRow>,
}

pub(crate) struct LoadRow {
    pub name: String,
    pub max: String,
    pub max_why: String,
    pub guess: bool,
    pub by_feel: Option<String>,
    pub cells: Vec<LoadCell>,
}

pub(crate) struct LoadCell {
    pub load: String,
    pub plates: Vec<PlateMark>,
    pub work: bool,
    pub why: Vec<String>,
}

/// A plate as drawn: bigger is heavier.
pub(crate) struct PlateMark {
    pub x: f64,
    pub y: f64,
    pub height: f64,
}

impl LoadTable {
    pub fn new(plan: &StrengthPlan, gym: &Gym, catalogue: &Catalogue) -> Self {
        let widest = plan.sheets.iter().max_by_key(|sheet| sheet.sets.len());
        let most_ramp = plan.sheets.iter().map(ramp_count).max().unwrap_or(0);
        let mut sets: Vec<String> = (1..=most_ramp).map(|n| format!("Ramp {n}")).collect();
        if let Some(sheet) = widest {
            let work = sheet.sets.iter().filter(|set| set.kind == SetKind::Work);
            sets.extend(work.enumerate().map(|(n, set)| match set.reps {
                0 => format!("Set {} · max", n + 1),
                reps => format!("Set {} · {reps}", n + 1),
            }));
        }
        let mut lifts: Vec<String> = Vec::new();
        for sheet in &plan.sheets {
            let name = catalogue.name(&MovementId::new(&sheet.lift)).to_owned();
            if !lifts.contains(&name) {
                lifts.push(name);
            }
        }
        let several = lifts.len() > 1;
        Self {
            lift: lifts.join(" + "),
            unit: gym.unit.name(),
            ramp: most_ramp,
            sets,
            rows: plan.sheets.iter().map(|sheet| row(sheet, most_ramp, several, gym, catalogue)).collect(),
        }
    }
}

fn ramp_count(sheet: &LiftSheet) -> usize {
    sheet.sets.iter().filter(|set| set.kind == SetKind::Ramp).count()
}

fn row(sheet: &LiftSheet, most_ramp: usize, several: bool, gym: &Gym, catalogue: &Catalogue) -> LoadRow {
    let missing = most_ramp - ramp_count(sheet).min(most_ramp);
    let mut cells: Vec<LoadCell> = (0..missing)
        .map(|_| LoadCell { load: String::new(), plates: Vec::new(), work: false, why: Vec::new() })
        .collect();
    cells.extend(sheet.sets.iter().map(|set| cell(set, gym)));
    let name = if several {
        format!("{} · {}", sheet.name, catalogue.name(&MovementId::new(&sheet.lift)).to_lowercase())
    } else {
        sheet.name.clone()
    };
    LoadRow {
        name,
        max: sheet.max.as_ref().map_or("none".to_owned(), |max| {
            let about = if max.guess { "about " } else { "" };
            format!("{about}{}", plain((max.value.in_unit(gym.unit) * 2.0).round() / 2.0))
        }),
        max_why: sheet.max.as_ref().map_or("no max on file".to_owned(), |max| {
            format!("{}; range {} to {}", max.basis, max.low.show(gym.unit), max.high.show(gym.unit))
        }),
        guess: sheet.max.as_ref().is_none_or(|max| max.guess),
        by_feel: sheet.by_feel.clone(),
        cells,
    }
}

fn cell(set: &SetLoad, gym: &Gym) -> LoadCell {
    let load = set.load.as_ref().map_or("feel".to_owned(), |load| plain(load.total.in_unit(gym.unit)));
    let plates = set.load.as_ref().map_or(Vec::new(), |load| {
        load.plates_per_side
            .iter()
            .enumerate()
            .map(|(n, plate)| {
                let height = 6.0 + 12.0 * (plate / 25.0).sqrt().min(1.1);
                PlateMark { x: 4.0 + n as f64 * 5.0, y: 10.0 - height / 2.0, height }
            })
            .collect()
    });
    LoadCell { load, plates, work: set.kind == SetKind::Work, why: set.why.steps.clone() }
}
