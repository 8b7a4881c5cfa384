//! What may be done instead of the work, and the loads of levels.

use lantern_session::movement::{Catalogue, MovementId};
use lantern_session::{Alternative, Load, LoadUnit};

use super::attach::attach;
use super::{Facts, Item, Sentence, What};
use crate::say::Say;
use crate::unit::Reading;

impl Facts {
    pub(super) fn substitute(&mut self, sentence: &Sentence, reading: &Reading, catalogue: &Catalogue) {
        let found = attach(reading, catalogue);
        let mut items: Vec<Item> = found
            .into_iter()
            .filter_map(|(_, what)| if let What::Item(item) = what { Some(item) } else { None })
            .collect();
        for item in &mut items {
            self.lighten(item, catalogue);
        }
        let in_part = |item: &&Item| self.items().any(|known| known.movement == item.movement);
        let (named, instead): (Vec<&Item>, Vec<&Item>) =
            items.iter().partition(|item| item.amount.is_none() && item.load.is_none() && in_part(item));
        let above = self.items().last().filter(|_| !instead.is_empty());
        // A lift of the piece with another load takes the place of itself.
        let same = instead.iter().copied().find(|item| item.load.is_some() && in_part(item));
        // "No bar? dumbbell thrusters": what is the same but for the tool comes before what stands nearest.
        let akin = |known: &&Item| {
            let kind = |item: &&Item| {
                item.movement
                    .as_ref()
                    .zip(known.movement.as_ref())
                    .is_some_and(|(id, of)| is_kind_of(id, of.as_str()))
            };
            instead.iter().any(kind)
        };
        let akin = self.items().find(akin);
        let replaces =
            same.or(named.first().copied()).or(akin).or(above).and_then(|item| item.movement.clone());
        let work = instead.into_iter().filter_map(|item| crate::lower::work_of(item, catalogue)).collect();
        self.alternatives.push(Alternative {
            line: sentence.line,
            text: sentence.text.clone(),
            work,
            replaces,
        });
    }

    /// "40/30 snatch" among what may be done instead: a lift of the part, by its short name, with a lighter load.
    fn lighten(&self, item: &mut Item, catalogue: &Catalogue) {
        let Some((first, Some(second))) = item.amount.filter(|_| item.unit.is_none()) else { return };
        let Some(short) = item.movement.as_ref().and_then(|id| catalogue.get(id)) else { return };
        if first <= second || !short.is_barbell() {
            return;
        }
        let meant = self.items().filter_map(|known| known.movement.as_ref());
        let meant = meant.filter(|id| **id == short.id || is_kind_of(id, short.id.as_str())).last();
        item.movement = meant.cloned().or(item.movement.take());
        item.amount = None;
        let unit = self.items().find_map(|known| known.load).map_or(LoadUnit::Kg, |load| load.unit);
        item.load = Some(Load { first, second: Some(second), unit, implements: 1 });
    }

    pub(super) fn level(&mut self, rank: u8, sentence: &Sentence, reading: &Reading, catalogue: &Catalogue) {
        for (_, what) in attach(reading, catalogue) {
            match what {
                What::Say(Say::Load { implements, first, second, unit }) => {
                    let unit = unit.unwrap_or(LoadUnit::Kg);
                    self.level_loads.push((rank, None, Load { first, second, unit, implements }));
                }
                What::Say(Say::ToolLoad { tool, implements, first, second, unit }) => {
                    let unit = unit.unwrap_or(LoadUnit::Kg);
                    self.level_loads.push((rank, Some(tool), Load { first, second, unit, implements }));
                }
                What::Item(item) => {
                    let load = item.load.or(item.bare_load.map(|(first, second)| Load {
                        first,
                        second,
                        unit: LoadUnit::Kg,
                        implements: 1,
                    }));
                    if let Some(load) = load {
                        self.level_loads.push((rank, None, load));
                    }
                }
                What::Say(_) => {}
            }
        }
        let text = sentence.text.clone();
        self.alternatives.push(Alternative { line: sentence.line, text, work: Vec::new(), replaces: None });
    }
}

/// Whether a movement is another one by its longer name: `dumbbell-thruster` of `thruster`, `power-snatch` of `snatch`.
pub(super) fn is_kind_of(id: &MovementId, of: &str) -> bool {
    id.as_str().strip_suffix(of).is_some_and(|front| front.ends_with('-'))
}
