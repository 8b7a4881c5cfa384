//! The load sheet as CSV: one line a set.

use crate::gym::Gym;
use crate::movement::{Catalogue, MovementId};
use crate::plan::StrengthPlan;
use crate::strength::SetKind;
use crate::units::plain;

/// All sets of a day's lifts. Loads and plates are in the gym's unit; an empty load goes by feel.
pub fn loads_csv(lifts: &[StrengthPlan], gym: &Gym, catalogue: &Catalogue) -> String {
    let mut out = csv::Writer::from_writer(Vec::new());
    let mut write = |row: [String; 12]| out.write_record(&row).expect("writing to memory does not fail");
    write(
        [
            "lift",
            "rack",
            "turn",
            "member",
            "max",
            "max_from",
            "set",
            "kind",
            "reps",
            "percent",
            "load",
            "plates_per_side",
        ]
        .map(str::to_owned),
    );
    for plan in lifts {
        for (lift, racks) in racks_of(plan) {
            let of_lift: Vec<_> = plan.sheets.iter().filter(|sheet| sheet.lift == lift.as_str()).collect();
            let place = |n: usize| {
                racks.iter().enumerate().find_map(|(rack, order)| {
                    let turn = order.iter().position(|&at| at == n)?;
                    Some((rack + 1, turn + 1))
                })
            };
            for (n, sheet) in of_lift.iter().enumerate() {
                let (rack, turn) = place(n).map_or((String::new(), String::new()), |(rack, turn)| {
                    (rack.to_string(), turn.to_string())
                });
                let max = sheet.max.as_ref();
                for set in &sheet.sets {
                    let plates = set.load.as_ref().map_or(Vec::new(), |load| load.plates_per_side.clone());
                    write([
                        catalogue.name(&lift).to_owned(),
                        rack.clone(),
                        turn.clone(),
                        sheet.name.clone(),
                        max.map_or(String::new(), |max| plain(max.value.in_unit(gym.unit))),
                        max.map_or(String::new(), |max| max.basis.clone()),
                        set.set.to_string(),
                        if set.kind == SetKind::Ramp { "ramp" } else { "work" }.to_owned(),
                        if set.reps == 0 { "max".to_owned() } else { set.reps.to_string() },
                        set.percent.map_or(String::new(), plain),
                        set.load.as_ref().map_or(String::new(), |load| plain(load.total.in_unit(gym.unit))),
                        plates.iter().map(|plate| plain(*plate)).collect::<Vec<_>>().join(" + "),
                    ]);
                }
            }
        }
    }
    String::from_utf8(out.into_inner().unwrap_or_default()).unwrap_or_default()
}

/// Every lift of a plan with the orders on its racks; lifts without a bar have none.
fn racks_of(plan: &StrengthPlan) -> Vec<(MovementId, Vec<Vec<usize>>)> {
    let mut lifts: Vec<(MovementId, Vec<Vec<usize>>)> = Vec::new();
    for sheet in &plan.sheets {
        let lift = MovementId::new(&sheet.lift);
        if !lifts.iter().any(|(known, _)| *known == lift) {
            let racks = plan.racks.iter().find(|(known, _)| *known == lift);
            let orders =
                racks.map_or(Vec::new(), |(_, plan)| plan.racks.iter().map(|r| r.order.clone()).collect());
            lifts.push((lift, orders));
        }
    }
    lifts
}
