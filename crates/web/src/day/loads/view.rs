//! The load table: one row a member, the sets across.

use std::collections::BTreeMap;
use std::fmt::Write as _;

use lantern_core::gym::Gym;
use lantern_core::movement::{Catalogue, MovementId};
use lantern_core::plan::StrengthPlan;
use lantern_core::print::part_text;
use lantern_core::session::Part;
use lantern_core::strength::{LiftSheet, LightSheet, SetKind, SetLoad};
use lantern_core::units::plain;
use lantern_store::MemberId;

use crate::mark::Mark;

/// Row ids and marks of members, by name.
pub(crate) type People<'a> = BTreeMap<&'a str, (MemberId, Option<Mark>)>;

/// A lift's table.
pub(crate) struct LoadTable {
    pub lift: String,
    pub lift_id: String,
    /// What is prescribed, in a line.
    pub prescribed: String,
    pub unit: &'static str,
    pub ramp: usize,
    pub sets: Vec<String>,
    pub racks: Vec<RackView>,
    pub shortages: Vec<String>,
    /// What the plates cannot make, and what nothing says the sets of.
    pub notes: Vec<String>,
    /// Without a bar: where, and what in one line.
    pub light: Vec<(String, String)>,
}

/// Rows that share a rack.
pub(crate) struct RackView {
    pub name: String,
    /// Work loads and plates moved, in words.
    pub told: String,
    pub rows: Vec<LoadRow>,
}

pub(crate) struct LoadRow {
    pub member: MemberId,
    pub name: String,
    /// The id of the lift that they do, for a result.
    pub lift_id: String,
    /// Its name, where it is not the table's.
    pub own_lift: Option<String>,
    pub max: String,
    pub max_why: String,
    pub guess: bool,
    pub by_feel: Option<String>,
    pub cells: Vec<LoadCell>,
    /// The mark of what they spare.
    pub limit: Option<Mark>,
    /// Their loads are held back: what was done and why.
    pub held: Option<String>,
    /// A coach has said that they lift as written: who and when.
    pub released: Option<String>,
    /// The last work set, to start a result from.
    pub top: String,
    pub reps: u32,
}

#[derive(Default)]
pub(crate) struct LoadCell {
    pub load: String,
    /// The plates of one side as an outline to fill; empty for an empty bar.
    pub plates: String,
    /// Plates of one side from the inside out, as `15 + 2.5`; empty for an empty bar.
    pub side: String,
    pub work: bool,
    /// Repetitions, where they differ from the column's.
    pub reps: Option<u32>,
    pub why: Vec<String>,
}

impl LoadTable {
    /// One table for each lift of a part. `people` are the members' row ids and marks by name.
    pub fn of(plan: &StrengthPlan, gym: &Gym, catalogue: &Catalogue, people: &People<'_>) -> Vec<Self> {
        plan.written().into_iter().map(|lift| Self::new(lift, plan, gym, catalogue, people)).collect()
    }

    fn new(lift: &str, plan: &StrengthPlan, gym: &Gym, catalogue: &Catalogue, people: &People<'_>) -> Self {
        let sheets = plan.sheets_of(lift);
        let widest = sheets.iter().max_by_key(|sheet| sheet.sets.len() - ramp_count(sheet));
        let ramp = sheets.iter().map(|sheet| ramp_count(sheet)).max().unwrap_or(0);
        let mut sets: Vec<String> = (1..=ramp).map(|n| format!("Ramp {n}")).collect();
        let mut reps = vec![0; ramp];
        if let Some(sheet) = widest {
            for (n, set) in sheet.sets.iter().filter(|set| set.kind == SetKind::Work).enumerate() {
                reps.push(set.reps);
                // What is another number for everybody stands with their name.
                let called =
                    if set.reps_are_own() { String::new() } else { format!(" · {}", set.reps_called()) };
                sets.push(format!("Set {}{called}", n + 1));
            }
        }
        let id = MovementId::new(lift);
        let row = |n: &usize| row(sheets[*n], ramp, &reps, gym, catalogue, people);
        let planned = plan.racks.iter().find(|(known, _)| *known == id).map(|(_, racks)| racks);
        let place = planned.map(|racks| racks.place).unwrap_or_default();
        let mut racks: Vec<RackView> = Vec::new();
        for (name, rack) in planned.iter().flat_map(|racks| racks.in_use()) {
            let range = if rack.low == rack.high {
                rack.high.show(gym.unit)
            } else {
                format!("{} to {}", plain(rack.low.in_unit(gym.unit)), rack.high.show(gym.unit))
            };
            racks.push(RackView {
                name,
                told: match rack.order.len() {
                    1 => format!("work at {range}"),
                    _ => format!("work at {range}; {} plates moved in this order", rack.plates_moved),
                },
                rows: rack.order.iter().filter_map(row).collect(),
            });
        }
        if let Some(beside) = planned.map(|racks| &racks.beside).filter(|beside| !beside.is_empty()) {
            racks.push(RackView {
                name: format!("Without a {}", place.name()),
                told: "another lift in its place".to_owned(),
                rows: beside.iter().filter_map(row).collect(),
            });
        }
        let away: Vec<usize> = (0..sheets.len()).filter(|n| plan.away.contains(&sheets[*n].name)).collect();
        let rest: Vec<usize> = match planned {
            Some(racks) => racks.by_feel.clone(),
            None => (0..sheets.len()).filter(|n| !away.contains(n)).collect(),
        };
        if !rest.is_empty() {
            let name = if planned.is_some() { "By feel" } else { "Anywhere" };
            let told = planned
                .map_or(String::new(), |_| format!("join the {} with the nearest weights", place.name()));
            racks.push(RackView { name: name.to_owned(), told, rows: rest.iter().filter_map(row).collect() });
        }
        if !away.is_empty() {
            let rows = away.iter().filter_map(row).collect();
            racks.push(RackView { name: "Not here".to_owned(), told: String::new(), rows });
        }
        Self {
            lift: sheets
                .iter()
                .filter(|sheet| !sheet.elements.is_empty())
                .max_by_key(|sheet| sheet.elements.len())
                .map_or_else(|| catalogue.name(&id).to_owned(), |sheet| sheet.called(catalogue)),
            lift_id: lift.to_owned(),
            prescribed: prescribed(&plan.prescription, catalogue),
            unit: gym.unit.name(),
            ramp,
            sets,
            racks,
            shortages: planned.map_or(Vec::new(), |racks| racks.shortages.clone()),
            // Once for the part, over its first lift.
            notes: if plan.sheets.first().is_some_and(|sheet| sheet.written() == lift) {
                plan.notes.clone()
            } else {
                Vec::new()
            },
            light: plan
                .light
                .iter()
                .filter(|sheet| sheet.instead_of == lift)
                .map(|sheet| light(sheet, catalogue))
                .collect(),
        }
    }
}

/// A lift without a bar, in one line: where, and `Goblet squat 5 x 8-12 at RPE 8, bell or bag. Add a pause at the bottom.`
fn light(sheet: &LightSheet, catalogue: &Catalogue) -> (String, String) {
    let LightSheet { sets, reps, reps_high, effort, load, cue, .. } = sheet;
    let id = MovementId::new(&sheet.lift);
    let name = catalogue.name(&id);
    let most = if reps_high > reps { format!("-{reps_high}") } else { String::new() };
    let place = match (sheet.at_home, &sheet.whose[..]) {
        (false, _) => "Without a rack".to_owned(),
        (true, []) => "At home".to_owned(),
        (true, whose) => format!("At home with {} ({})", sheet.kit, whose.join(", ")),
    };
    (place, format!("{name} {sets} x {reps}{most} at RPE {}, {load}. {cue}", plain(*effort)))
}

/// The prescription as canonical text on one line, without its heading.
fn prescribed(part: &Part, catalogue: &Catalogue) -> String {
    part_text(part, catalogue).lines().skip(1).collect::<Vec<_>>().join(", ")
}

fn ramp_count(sheet: &LiftSheet) -> usize {
    sheet.sets.iter().filter(|set| set.kind == SetKind::Ramp).count()
}

fn row(
    sheet: &LiftSheet,
    ramp: usize,
    reps: &[u32],
    gym: &Gym,
    catalogue: &Catalogue,
    people: &People<'_>,
) -> Option<LoadRow> {
    let (member, limit) = *people.get(sheet.name.as_str())?;
    let missing = ramp - ramp_count(sheet).min(ramp);
    let mut cells: Vec<LoadCell> = (0..missing).map(|_| LoadCell::default()).collect();
    cells.extend(sheet.sets.iter().zip(missing..).map(|(set, n)| {
        let usual = reps.get(n).copied().unwrap_or(set.reps);
        LoadCell {
            reps: Some(set.reps).filter(|own| *own != usual || set.kind == SetKind::Ramp),
            ..cell(set, gym)
        }
    }));
    // Who has fewer sets than the others leaves their places empty, so that what follows stands below its heading.
    cells.resize_with(cells.len().max(reps.len()), LoadCell::default);
    let last = sheet.sets.iter().rev().find(|set| set.kind == SetKind::Work);
    Some(LoadRow {
        member,
        limit,
        held: sheet.held_why.clone(),
        released: sheet
            .released
            .as_ref()
            .map(|word| format!("as written, on the word of {}, {}", word.by, word.at)),
        name: sheet.name.clone(),
        lift_id: sheet.lift.clone(),
        own_lift: sheet.instead_of.as_ref().map(|_| catalogue.name(&MovementId::new(&sheet.lift)).to_owned()),
        top: last
            .and_then(|set| set.load.as_ref())
            .map_or(String::new(), |load| plain(load.total.in_unit(gym.unit))),
        reps: last.map_or(1, |set| set.reps.max(1)),
        max: sheet.max.as_ref().map_or("none".to_owned(), |max| {
            let about = if max.guess { "about " } else { "" };
            format!("{about}{}", plain((max.value.in_unit(gym.unit) * 2.0).round() / 2.0))
        }),
        max_why: sheet.max.as_ref().map_or("no max on file".to_owned(), |max| {
            let ends = [max.low, max.high].map(|end| plain((end.in_unit(gym.unit) * 2.0).round() / 2.0));
            format!("{}; range {} to {} {}", max.basis, ends[0], ends[1], gym.unit)
        }),
        guess: sheet.max.as_ref().is_none_or(|max| max.guess),
        by_feel: sheet.by_feel.clone(),
        cells,
    })
}

fn cell(set: &SetLoad, gym: &Gym) -> LoadCell {
    let load = set.load.as_ref().map_or("feel".to_owned(), |load| plain(load.total.in_unit(gym.unit)));
    let plates = set.load.as_ref().map_or(String::new(), |load| drawn(&load.plates_per_side));
    let side = set.load.as_ref().map_or(String::new(), |load| {
        load.plates_per_side.iter().map(|plate| plain(*plate)).collect::<Vec<_>>().join(" + ")
    });
    LoadCell { load, plates, side, work: set.kind == SetKind::Work, reps: None, why: set.why.steps.clone() }
}

/// Plates side by side, from the inside out: a heavier one is higher. One outline for all, as a class has hundreds of them on a page.
fn drawn(plates: &[f64]) -> String {
    let mut outline = String::new();
    for (n, plate) in plates.iter().enumerate() {
        let height = 6.0 + 12.0 * (plate / 25.0).sqrt().min(1.1);
        let (left, top) = (4.0 + n as f64 * 5.0, 10.0 - height / 2.0);
        let _ = write!(outline, "M{left} {top:.1}h3.6v{height:.1}h-3.6z");
    }
    outline
}

#[cfg(test)]
mod tests {
    use lantern_core::member::Member;
    use lantern_core::plan::plan;
    use lantern_core::read::read;
    use lantern_core::roster::roster_from_csv;

    use super::*;

    #[test]
    fn every_row_has_a_place_for_each_set() {
        // Two who climb to the same bar by steps of their own, and one who is held to three sets.
        let roster = "name,sex,experience,deadlift_kg,limits\nAda,F,advanced,90,\nBen,M,advanced,190,\n\
                      Cy,M,intermediate,120,left knee: nothing heavy";
        let (members, errors): (Vec<Member>, _) = roster_from_csv(roster);
        assert!(errors.is_empty(), "{errors:?}");
        let (gym, catalogue) = (Gym::default(), Catalogue::standard());
        let text = "3 deadlifts every minute, 10 kg more each minute until failure";
        let plan = plan(&read(text, catalogue).session, &members, &gym, catalogue, 1);
        let people: People<'_> = members
            .iter()
            .zip(1..)
            .map(|(member, n)| (member.name.as_str(), (MemberId::new(n), None)))
            .collect();
        let tables = LoadTable::of(&plan.strength[0], &gym, catalogue, &people);
        let rows: Vec<&LoadRow> = tables[0].racks.iter().flat_map(|rack| &rack.rows).collect();
        let loaded =
            |row: &LoadRow| row.cells.iter().filter(|cell| cell.work && !cell.load.is_empty()).count();
        let most = rows.iter().map(|row| loaded(row)).max().unwrap();
        assert!(rows.len() == 3 && rows.iter().any(|row| loaded(row) < most));
        for row in rows {
            assert_eq!(row.cells.len(), tables[0].sets.len(), "{}", row.name);
        }
        assert_eq!(tables[0].sets.len() - tables[0].ramp, most);
    }
}
