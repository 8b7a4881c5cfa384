//! What typical people would do, for placing by eye whoever nobody knows yet.

use lantern_core::member::Experience;
use lantern_core::movement::MovementId;
use lantern_core::pacing::Fitness;
use lantern_core::plan::Typical;
use lantern_core::strength::LiftSheet;
use lantern_core::units::plain;
use lantern_store::MemberId;

use crate::planning::plans::Planned;

/// A table of four levels.
pub(crate) struct TypicalView {
    /// Who is not known: row id and name.
    pub strangers: Vec<(MemberId, String)>,
    /// How many come.
    pub people: usize,
    /// Pieces, then lifts.
    pub columns: Vec<String>,
    pub rows: Vec<LevelRow>,
}

pub(crate) struct LevelRow {
    pub level: &'static str,
    /// For men and for women, one a column.
    pub cells: Vec<[String; 2]>,
}

impl TypicalView {
    /// Of a plan that has one.
    pub fn of(planned: &Planned) -> Option<Self> {
        let typical = planned.plan.typical.as_ref()?;
        let Typical { pieces, strength, .. } = typical;
        let name = |n: usize| match pieces.len() {
            1 => "The piece".to_owned(),
            _ => format!("Piece {}", n + 1),
        };
        let lifts: Vec<&str> = {
            let mut seen: Vec<&str> = Vec::new();
            for sheet in strength.iter().flat_map(|lift| &lift.sheets) {
                if !seen.contains(&sheet.written()) {
                    seen.push(sheet.written());
                }
            }
            seen
        };
        let lift_name =
            |lift: &&str| format!("{}, begin with", planned.catalogue.name(&MovementId::new(lift)));
        let row = |(n, level): (usize, Experience)| {
            let pair = [2 * n, 2 * n + 1];
            let of_piece = |piece: &lantern_core::plan::PiecePlan| {
                pair.map(|person| {
                    let own = &piece.members[person];
                    format!("{}, {}", own.chosen().version.label(), own.predicted().said())
                })
            };
            let of_lift = |lift: &&str| {
                pair.map(|person| {
                    let name = &typical.people[person].name;
                    let mut sheets = strength.iter().flat_map(|lift| &lift.sheets);
                    let own = sheets.find(|sheet| sheet.name == *name && sheet.written() == *lift);
                    own.map_or(String::new(), |sheet| begin(sheet, planned))
                })
            };
            let cells = pieces.iter().map(of_piece).chain(lifts.iter().map(of_lift));
            LevelRow { level: level.words(), cells: cells.collect() }
        };
        let strangers = planned.people.iter().zip(&planned.ids);
        let strangers = strangers.filter(|(member, _)| Fitness::of(member).is_of_anybody());
        Some(Self {
            strangers: strangers.map(|(member, id)| (*id, member.name.clone())).collect(),
            people: planned.people.len(),
            columns: (0..pieces.len()).map(name).chain(lifts.iter().map(lift_name)).collect(),
            rows: Experience::LEVELS.into_iter().enumerate().map(row).collect(),
        })
    }
}

/// `40 to 55 kg`, what the first set begins with.
fn begin(sheet: &LiftSheet, planned: &Planned) -> String {
    let unit = planned.gym.unit;
    match sheet.sets.first().and_then(|set| set.range) {
        Some((low, high)) if low == high => low.show(unit),
        Some((low, high)) => format!("{} to {}", plain(low.in_unit(unit)), high.show(unit)),
        None => "by feel".to_owned(),
    }
}
