//! What a member holds while doing a piece, and from when until when.

use std::collections::BTreeMap;

use super::stations::{Station, needs};
use crate::gym::Gym;
use crate::movement::Catalogue;
use crate::pacing::Run;

/// A station held for a time.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Claim {
    /// Which.
    pub station: Station,
    /// How many of it.
    pub count: u32,
    /// Seconds from the start.
    pub from_s: f64,
    /// Seconds from the start.
    pub to_s: f64,
}

impl Claim {
    /// The same, begun later.
    pub fn later(self, seconds: f64) -> Self {
        Self { from_s: self.from_s + seconds, to_s: self.to_s + seconds, ..self }
    }
}

/// What members carry to their place: their own for the whole piece, or shared with a partner and held while used.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Holding {
    /// A bar, a bell, a box of one's own from start to end.
    Own,
    /// Bars and bells of one's own; a bench or a box is left to the next, as nothing on it has to be changed.
    Loads,
    /// Held while it is used.
    Shared,
}

/// Seconds for getting off a machine or bar before the next one gets on.
pub(super) const HANDING_OVER_S: f64 = 5.0;

/// Reads claims off a walk that ends at `cap_s` at the latest. What stands in the gym is held while it is used, set breaks between two sets included.
pub fn claims(run: &Run, cap_s: f64, holding: Holding, gym: &Gym, catalogue: &Catalogue) -> Vec<Claim> {
    let mut used: Vec<Claim> = Vec::new();
    let mut last = None;
    for mark in run.marks.iter().filter(|mark| mark.from_s < cap_s) {
        let Some(movement) = catalogue.get(&mark.movement) else { continue };
        let key = (&mark.movement, mark.load.map(|load| load.first.to_bits()));
        let goes_on = last == Some(key);
        last = Some(key);
        for (station, count) in needs(movement, mark.load.as_ref(), gym) {
            let to_s = mark.at_s.min(cap_s) + HANDING_OVER_S;
            let open = used.iter_mut().rev().find(|claim| claim.station == station && claim.count == count);
            match open {
                // Between two sets nobody leaves the bar.
                Some(open) if goes_on || open.to_s >= mark.from_s => open.to_s = to_s,
                _ => used.push(Claim { station, count, from_s: mark.from_s, to_s }),
            }
        }
    }
    if holding == Holding::Shared {
        return used;
    }
    let kept = |station: Station| {
        station.is_carried() && (holding == Holding::Own || !matches!(station, Station::Bench | Station::Box))
    };
    let mut own: BTreeMap<Station, u32> = BTreeMap::new();
    for claim in used.iter().filter(|claim| kept(claim.station)) {
        let most = own.entry(claim.station).or_default();
        *most = claim.count.max(*most);
    }
    used.retain(|claim| !kept(claim.station));
    used.extend(own.into_iter().map(|(station, count)| Claim {
        station,
        count,
        from_s: 0.0,
        to_s: run.finish_s.min(cap_s) + HANDING_OVER_S,
    }));
    used
}

/// Most of a station in use at once.
pub(super) fn peak<'a>(claims: impl Iterator<Item = &'a Claim>, station: Station) -> u32 {
    let mut steps: Vec<(f64, i64)> = Vec::new();
    for claim in claims.filter(|claim| claim.station == station) {
        steps.push((claim.from_s, i64::from(claim.count)));
        steps.push((claim.to_s, -i64::from(claim.count)));
    }
    // What is given back is free at the same instant.
    steps.sort_by(|a, b| a.0.total_cmp(&b.0).then(a.1.cmp(&b.1)));
    let (mut now, mut most) = (0, 0);
    for (_, change) in steps {
        now += change;
        most = most.max(now);
    }
    most.max(0) as u32
}

/// Most of a station in use within each minute until `ends_s`.
pub(super) fn by_minute<'a>(
    claims: impl Iterator<Item = &'a Claim> + Clone,
    station: Station,
    ends_s: f64,
) -> Vec<u32> {
    let minutes = (ends_s / 60.0).ceil().clamp(0.0, 180.0) as u32;
    (0..minutes)
        .map(|minute| {
            let (from, to) = (f64::from(minute) * 60.0, f64::from(minute + 1) * 60.0);
            let within: Vec<Claim> = claims
                .clone()
                .filter(|claim| claim.from_s < to && claim.to_s > from)
                .map(|claim| Claim { from_s: claim.from_s.max(from), to_s: claim.to_s.min(to), ..*claim })
                .collect();
            peak(within.iter(), station)
        })
        .collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::member::{Experience, Member, Sex};
    use crate::pacing::{Athlete, How, Luck, Model, simulate_as};
    use crate::read::read;
    use crate::versions::rewrite::personal;

    fn held(text: &str, holding: Holding) -> (Vec<Claim>, Run) {
        let catalogue = Catalogue::standard();
        let tree = personal(&read(text, catalogue).session.parts.remove(0).tree, true);
        let member = Member { sex: Some(Sex::M), experience: Experience::Intermediate, ..Member::default() };
        let how = How { record: true, ..How::default() };
        let run = simulate_as(how, &tree, &Athlete::new(&member), catalogue, Model::standard(), Luck::MEDIAN);
        (claims(&run, f64::INFINITY, holding, &Gym::default(), catalogue), run)
    }

    #[test]
    fn a_machine_is_held_while_rowed_and_a_bar_of_ones_own_throughout() {
        let text = "3 rounds for time\n15 cal row\n10 deadlifts 60 kg";
        let (own, run) = held(text, Holding::Own);
        let of = |claims: &[Claim], station| {
            claims.iter().filter(|c| c.station == station).copied().collect::<Vec<_>>()
        };
        let rows = of(&own, Station::Rower);
        assert_eq!(rows.len(), 3);
        assert!(rows.iter().all(|row| row.to_s - row.from_s > 20.0));
        assert!(rows.windows(2).all(|pair| pair[0].to_s < pair[1].from_s), "{rows:?}");
        let bars = of(&own, Station::Bar);
        assert_eq!((bars.len(), bars[0].from_s), (1, 0.0));
        assert!(bars[0].to_s >= run.finish_s);
        let (shared, _) = held(text, Holding::Shared);
        assert_eq!(of(&shared, Station::Bar).len(), 3);
        assert!(of(&shared, Station::Plates(20_000)).iter().all(|claim| claim.count == 2));
    }

    #[test]
    fn the_peak_is_the_most_at_once_and_handing_over_is_no_overlap() {
        let claim = |from_s, to_s| Claim { station: Station::Rower, count: 1, from_s, to_s };
        let claims = [claim(0.0, 60.0), claim(60.0, 90.0), claim(30.0, 61.0)];
        assert_eq!(peak(claims.iter(), Station::Rower), 2);
        assert_eq!(peak(claims[..2].iter(), Station::Rower), 1);
        assert_eq!(peak(claims.iter(), Station::Ski), 0);
        assert_eq!(by_minute(claims.iter(), Station::Rower, 120.0), [2, 2]);
        // What follows one another within a minute is no more at once in the next.
        let turns = [claim(0.0, 50.0), claim(70.0, 100.0), claim(50.0, 65.0)];
        assert_eq!(by_minute(turns.iter(), Station::Rower, 150.0), [1, 1, 0]);
    }
}
