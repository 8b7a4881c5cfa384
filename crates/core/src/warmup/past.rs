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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::read::read;

    #[test]
    fn what_was_warmed_up_with_stands_with_the_latest_day_first() {
        let (gym, catalogue) = (Gym::default(), Catalogue::standard());
        let day = |text: &str| PastDay { session: read(text, catalogue).session, present: Vec::new() };
        let (squats, pulls) = (day("Back squat 5x5 @ 75%"), day("3 rounds for time\n400 m run\n15 pull-ups"));
        let both = of_days_before(&[squats.clone(), pulls.clone()], &gym, 14, catalogue);
        assert_eq!(both.len(), 2);
        assert!(both.iter().all(|items| items.len() > 3), "{both:?}");
        // The earlier day is as if nothing had been done before it.
        assert_eq!(both[1], of_days_before(&[squats], &gym, 14, catalogue)[0]);
        // A day of rest has none.
        assert!(of_days_before(&[day("Rest day")], &gym, 14, catalogue).is_empty());
    }
}
