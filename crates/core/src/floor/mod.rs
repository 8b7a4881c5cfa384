//! The floor: who needs which equipment when, and how everybody gets a turn.
//!
//! [`stations`] counts what the gym has, [`demand`] reads off a member's walk what they hold and for how long,
//! [`heats`] finds starts at which no station is short, [`teams`] makes pairs and trios, and [`sketch`] gives
//! everybody a place. [`floor_plan`] puts them together for one piece.

mod arrangement;
mod demand;
mod heats;
mod queue;
mod reform;
mod sketch;
mod stations;
mod teams;
mod timeline;
mod variants;
mod waits;

use serde::{Deserialize, Serialize};

pub use arrangement::{Arrangement, Start, Tried};
pub use demand::{Claim, Holding, claims};
pub use sketch::{Fixture, Place, Sketch, sketch};
pub use stations::{Inventory, Station, needs};
pub use teams::{Team, TeamWishes, teams, teams_again};

use crate::gym::Gym;
use crate::member::Member;
use crate::movement::Catalogue;
use crate::pacing::{Model, Run};
use crate::session::{Node, Part, Sharing};
use crate::units::{clock, clock_s};
use heats::{Person, Search};
pub(crate) use reform::reform;
use waits::Waits;

/// Somebody about to do a piece.
#[derive(Clone, Copy, Debug)]
pub struct Doer<'a> {
    /// As called in class.
    pub name: &'a str,
    /// Their version's tree.
    pub tree: &'a Node,
    /// Their median walk.
    pub run: &'a Run,
    /// Seconds from their start to a late finish, cap included.
    pub late_s: f64,
    /// Seconds after which everybody stops; infinite without a cap.
    pub cap_s: f64,
    /// Who they are: what they spare, and how long another machine takes them.
    pub member: &'a Member,
}

/// One station as the piece needs it.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct StationUse {
    /// Which.
    pub station: Station,
    /// How many the gym has.
    pub there: u32,
    /// Most in use at once when everybody starts together.
    pub together: u32,
    /// Most in use at once as arranged.
    pub arranged: u32,
    /// Most in use within each minute, as arranged.
    pub minutes: Vec<u32>,
}

impl StationUse {
    /// Whether it would be short if everybody started together.
    pub fn is_short(&self) -> bool {
        self.together > self.there
    }
}

/// How a piece is done with what the gym has.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct FloorPlan {
    /// The way chosen.
    pub arrangement: Arrangement,
    /// The way that the coach has asked for, possible or not.
    pub asked: Option<Arrangement>,
    /// Everybody's start, in the order of the class.
    pub starts: Vec<Start>,
    /// Seconds from the first start to the last late finish.
    pub ends_s: f64,
    /// Stations that the piece needs, scarcest first.
    pub stations: Vec<StationUse>,
    /// All ways that were tried, simplest first.
    pub tried: Vec<Tried>,
    /// Who cannot be placed, and what is missing.
    pub unplaced: Vec<String>,
    /// Why it does not fit the time, when it does not.
    pub proof: Option<String>,
}

/// What a coach has decided about the floor.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize)]
#[serde(default)]
pub struct FloorEdits {
    /// The way to arrange the class; none leaves it to the numbers.
    pub arrangement: Option<Arrangement>,
    /// Places moved by hand, in metres from the left and from the front, by name.
    pub places: std::collections::BTreeMap<String, (f64, f64)>,
    /// Pairs or trios wanted, and wishes about them.
    pub teams: TeamWishes,
}

impl FloorPlan {
    /// The way that the coach has asked for in vain.
    pub fn refused(&self) -> Option<Arrangement> {
        self.asked.filter(|asked| *asked != self.arrangement)
    }

    /// Whether people start one after another.
    pub fn is_staggered(&self) -> bool {
        self.starts.iter().any(|start| start.offset_s > 0)
    }

    /// The starts in heats of those who are here, each with its offset in seconds and the places of its people in the class.
    pub fn heats(&self) -> Vec<(u32, Vec<usize>)> {
        let mut heats = std::collections::BTreeMap::<u32, Vec<usize>>::new();
        for (n, start) in self.starts.iter().enumerate().filter(|(_, start)| !start.away) {
            heats.entry(start.offset_s).or_default().push(n);
        }
        heats.into_iter().collect()
    }

    /// How the `n`th of the starts, from 0, is called: `Heat 2 at 7:00`, or of a staggered class `Start at 0:30`.
    pub fn start_label(&self, n: usize, offset_s: u32) -> String {
        let at = clock_s(offset_s);
        match self.arrangement {
            Arrangement::Staggered => format!("Start at {at}"),
            _ => format!("Heat {} at {at}", n + 1),
        }
    }

    /// One sentence: `2 heats at 0:00, 7:00: 6 rowers for 14 at once.`
    pub fn sentence(&self) -> String {
        let short: Vec<String> = self
            .stations
            .iter()
            .filter(|used| used.is_short())
            .map(|used| format!("{} for {} at once", used.station.counted(used.there), used.together))
            .collect();
        let way = self.arrangement.words(&self.starts);
        if short.is_empty() {
            format!("{way}: nothing is short.")
        } else {
            format!("{way}: {}.", short.join(", "))
        }
    }
}

/// A class about to do a piece, and what it has for it.
#[derive(Clone, Copy)]
pub struct Class<'a> {
    /// The piece as written.
    pub part: &'a Part,
    /// Everybody, in the order of the class.
    pub doers: &'a [Doer<'a>],
    /// Teams, when there are any.
    pub teams: &'a [Team],
    /// How those who were booked were to start; who of them is here keeps that, where it can be.
    pub stood: Option<&'a FloorPlan>,
    /// Seconds that the hour leaves for it.
    pub available_s: f64,
    /// Equipment.
    pub gym: &'a Gym,
    /// Movements.
    pub catalogue: &'a Catalogue,
    /// How people are timed.
    pub model: &'a Model,
}

/// Arranges a piece for a class: the cheapest way in which no station is short and that ends in the time there is;
/// when none does, the one that ends first, with the reason. `walk` walks another tree as one of the class.
pub fn floor_plan(
    class: Class<'_>,
    asked: Option<Arrangement>,
    walk: &(dyn Fn(usize, &Node) -> Run + Sync),
) -> FloorPlan {
    let Class { part, doers, teams, stood, available_s, gym, catalogue, model } = class;
    let inventory = Inventory::of(gym);
    let shares = shares_kit(part);
    let leader = |n: usize| {
        let team = teams.iter().find(|team| shares && team.members.contains(&n))?;
        team.members.first().copied().filter(|first| *first != n)
    };
    let people: Vec<Person<'_>> = doers
        .iter()
        .enumerate()
        .map(|(n, doer)| Person { doer: *doer, follows: leader(n), place: n })
        .collect();
    let waits = Waits::of(part);
    let search = Search { people: &people, inventory: &inventory, gym, catalogue, model, walk, waits };
    let found = stood.filter(|stood| stood.asked == asked).and_then(|stood| search.again(stood, available_s));
    let found = found.unwrap_or_else(|| search.arrange(available_s, asked));
    let at_once: Vec<Vec<Claim>> = people
        .iter()
        .map(
            |person| {
                if person.brings_kit() { person.claims(Holding::Own, gym, catalogue) } else { Vec::new() }
            },
        )
        .collect();
    let mut stations: Vec<StationUse> = inventory
        .stations()
        .filter_map(|(station, there)| {
            let together = demand::peak(at_once.iter().flatten(), station);
            let arranged = found.claims.iter().flatten();
            (together > 0).then(|| StationUse {
                station,
                there,
                together,
                arranged: demand::peak(arranged.clone(), station),
                minutes: demand::by_minute(arranged, station, found.ends_s),
            })
        })
        .collect();
    stations.sort_by(|a, b| {
        let scarcity = |used: &StationUse| f64::from(used.together) / f64::from(used.there.max(1));
        scarcity(b).total_cmp(&scarcity(a)).then(a.station.cmp(&b.station))
    });
    let proof = (found.ends_s > available_s + 1.0)
        .then(|| proof(&people, &stations, &inventory, available_s, found.ends_s, gym, catalogue));
    FloorPlan {
        arrangement: found.arrangement,
        asked,
        starts: found.starts,
        ends_s: found.ends_s,
        stations,
        tried: found.tried,
        unplaced: found.unplaced,
        proof,
    }
}

/// Whether a team shares one set of equipment: one works at a time.
fn shares_kit(part: &Part) -> bool {
    fn sharing(node: &Node) -> Option<Sharing> {
        match node {
            Node::Together { sharing, .. } => Some(*sharing),
            other => other.children().into_iter().find_map(sharing),
        }
    }
    sharing(&part.tree).is_some_and(Sharing::splits_work)
}

/// Why a class cannot be done in time: a piece too long for the hour even for one, a station that is busy longer than
/// there is time in whatever order, else what is short and when the shortest way found ends.
fn proof(
    people: &[Person<'_>],
    stations: &[StationUse],
    inventory: &Inventory,
    available_s: f64,
    ends_s: f64,
    gym: &Gym,
    catalogue: &Catalogue,
) -> String {
    let shared: Vec<Vec<Claim>> = people
        .iter()
        .filter(|person| person.brings_kit())
        .map(|person| person.claims(Holding::Shared, gym, catalogue))
        .collect();
    let busiest = inventory
        .stations()
        .filter(|(_, there)| *there > 0)
        .map(|(station, there)| {
            let held = shared.iter().flatten().filter(|claim| claim.station == station);
            let busy: f64 = held.map(|claim| (claim.to_s - claim.from_s) * f64::from(claim.count)).sum();
            (busy / f64::from(there), station, there)
        })
        .max_by(|a, b| a.0.total_cmp(&b.0));
    let longest = people.iter().map(|person| person.doer.late_s).fold(0.0, f64::max);
    let there_is = format!("{} is there", clock(available_s.max(0.0)));
    let short = stations.iter().filter(|used| used.is_short());
    let short: Vec<String> =
        short.map(|used| format!("{} for {}", used.station.counted(used.there), used.together)).collect();
    match busiest {
        _ if longest > available_s + 1.0 => {
            format!(
                "The hour is too full for the piece: the slowest needs {} even alone, and {there_is}.",
                clock(longest)
            )
        }
        Some((busy_s, station, there)) if busy_s > available_s => {
            let busy = clock(busy_s);
            let counted = station.counted(there);
            format!("As written, {counted} are busy for {busy} each in whatever order, and {there_is}.")
        }
        _ => format!(
            "Short of time with {}: the shortest way found ends after {}, and {there_is}.",
            short.join(", "),
            clock(ends_s)
        ),
    }
}
