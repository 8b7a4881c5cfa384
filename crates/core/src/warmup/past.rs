//! What was done on the days before: a warm-up is not the same two days running.

use super::{WarmupRequest, build_warmup, demands};
use crate::cautions::PastDay;
use crate::gym::Gym;
use crate::movement::Catalogue;

/// Days looked back on: what was done earlier says nothing about today.
const LOOKED_BACK: usize = 7;

/// Ids of what was warmed up with on the days before, the latest day first. Worked out from their texts, each day
/// after those before it; what a coach changed on those days is not known here.
pub fn of_days_before(recent: &[PastDay], gym: &Gym, people: u32, catalogue: &Catalogue) -> Vec<Vec<String>> {
    let mut past: Vec<Vec<String>> = Vec::new();
    let days = recent.iter().filter(|day| !demands(&day.session, catalogue).is_empty());
    let days: Vec<&PastDay> = days.collect();
    for day in &days[days.len().saturating_sub(LOOKED_BACK)..] {
        let usual = WarmupRequest::of(&day.session, gym, catalogue);
        let warmup = build_warmup(WarmupRequest { people, past: &past, ..usual });
        past.insert(0, warmup.items().map(|item| item.id.clone()).collect());
    }
    past
}
