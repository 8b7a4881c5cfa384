//! The hour and the floor of every text for every class, and what becomes of it when something is missing.

use std::collections::BTreeMap;
use std::fmt;

use lantern_core::floor::{Arrangement, StationUse};
use lantern_core::gym::Gym;
use lantern_core::hour::{Change, Without, is_missed, with_changes};
use lantern_core::member::Sex;
use lantern_core::movement::{Catalogue, Property, Unit};
use lantern_core::pacing::{Athlete, How, Luck, Model, regular, simulate_as};
use lantern_core::plan::{Here, PiecePlan, Plan, moves};
use lantern_core::running::{lanterns, timeline};
use lantern_core::session::{Amount, Format, Part, PartKind, Session, works};
use lantern_core::strength::LiftPlace;
use rayon::prelude::*;

use crate::fixtures::Fixture;
use crate::rosters::{Roster, days, planned, planned_here};

/// What was looked at, and what was broken.
#[derive(Default)]
pub struct Seen {
    /// Days of a class.
    pub days: usize,
    /// Of them those that end within their hour as planned.
    pub fit: usize,
    /// Pieces by how the class is arranged.
    pub arranged: BTreeMap<Arrangement, usize>,
    /// Lifts with racks or bars.
    pub lifts: usize,
    /// Blocks that say what does not fit into them.
    pub tight: usize,
    /// Works swapped for want of something, and those of which a scheme allows no swap.
    pub swapped: usize,
    /// See `swapped`.
    pub left: usize,
    /// Pieces with a swap of which a regular needs more than a quarter more or less.
    pub off: usize,
    /// Pieces with a swap.
    pub pieces: usize,
    /// Phases of pieces.
    pub phases: usize,
    /// People who move when one of the class is not here and another came unbooked, and those who could have.
    pub moved: (usize, usize),
    /// What does not hold, and where.
    pub broken: Vec<String>,
}

impl fmt::Display for Seen {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        writeln!(f, "{} days, {} end within the hour as planned", self.days, self.fit)?;
        for (way, count) in &self.arranged {
            writeln!(f, "{count:>6} {}", way.label())?;
        }
        writeln!(f, "{} lifts on racks or bars, {} blocks say what does not fit", self.lifts, self.tight)?;
        writeln!(
            f,
            "for want of something {} works swapped, {} left: in {} pieces, of which {} take a regular a quarter more or less",
            self.swapped, self.left, self.pieces, self.off
        )?;
        writeln!(f, "{} phases of pieces", self.phases)?;
        writeln!(f, "one away and one more: {} moves of {} people", self.moved.0, self.moved.1)?;
        write!(f, "broken: {}", self.broken.len())
    }
}

/// How far from the written time a piece with a swap may lie.
const AS_LONG: f64 = 0.25;

/// Every text for every class.
pub fn sweep(fixtures: &[Fixture], rosters: &[Roster]) -> Seen {
    let (catalogue, gym) = (Catalogue::standard(), Gym::default());
    let of_days = days(fixtures, rosters).into_par_iter().map(|(fixture, roster)| {
        let plan = planned(fixture, roster);
        let mut seen = Seen::default();
        let name = format!("{}, {}", fixture.name, roster.name);
        day(&name, &fixture.session, &plan, &mut seen);
        of_those_here(&name, (fixture, roster), &plan, &mut seen);
        seen
    });
    let missing = fixtures.par_iter().map(|fixture| {
        let mut seen = Seen::default();
        Without::ALL.into_iter().for_each(|what| without(fixture, &[what], &gym, catalogue, &mut seen));
        without(fixture, &Without::ALL, &gym, catalogue, &mut seen);
        seen
    });
    of_days.chain(missing).reduce(Seen::default, |mut all, mut one| {
        all.days += one.days;
        all.fit += one.fit;
        one.arranged.iter().for_each(|(way, count)| *all.arranged.entry(*way).or_default() += count);
        all.lifts += one.lifts;
        all.tight += one.tight;
        all.swapped += one.swapped;
        all.left += one.left;
        all.off += one.off;
        all.pieces += one.pieces;
        all.phases += one.phases;
        all.moved = (all.moved.0 + one.moved.0, all.moved.1 + one.moved.1);
        all.broken.append(&mut one.broken);
        all
    })
}

fn day(name: &str, session: &Session, plan: &Plan, seen: &mut Seen) {
    seen.days += 1;
    seen.fit += usize::from(plan.hour.fits);
    seen.tight += plan.hour.blocks.iter().filter(|block| block.tight.is_some()).count();
    let mut broken = |what: String| seen.broken.push(format!("{name}: {what}"));
    if plan.hour.blocks.windows(2).any(|pair| pair[0].end_s != pair[1].start_s) {
        broken("a gap between two blocks".to_owned());
    }
    for (n, part) in session.parts.iter().enumerate() {
        let block = plan.hour.blocks.iter().find(|block| block.key == format!("conditioning-{n}"));
        let Some(block) = block.filter(|_| part.kind == PartKind::Conditioning) else { continue };
        let fixed = part.duration_s.filter(|_| part.format != Some(Format::ForTime));
        if part.cap_s.filter(|_| fixed.is_none()).is_some_and(|cap| block.length_s() < cap) {
            broken(format!("{} ends before its cap", block.key));
        }
    }
    runs(name, plan, seen);
    for floor in &plan.floors {
        let tried = &floor.floor.tried;
        *seen.arranged.entry(floor.floor.arrangement).or_default() += 1;
        let chosen = tried.iter().position(|way| way.arrangement == floor.floor.arrangement).unwrap_or(0);
        let ends = |n: usize| tried[n].ends_s.unwrap_or(f64::INFINITY);
        // A cheaper way was there, and it ends no later.
        if let Some(cheaper) = (0..chosen).find(|n| ends(*n) <= ends(chosen)) {
            let (chosen, cheaper) = (tried[chosen].arrangement, tried[cheaper].arrangement);
            seen.broken.push(format!("{name}: {chosen:?} where {cheaper:?} would do"));
        }
    }
    for piece in &plan.pieces {
        for member in piece.members.iter().filter(|member| member.team.is_none()) {
            let points = &member.targets.checkpoints;
            let ends = member.chosen().run.finish_s.max(f64::from(piece.written().cap_s.unwrap_or(0)));
            if points.windows(2).any(|pair| pair[0].at_s > pair[1].at_s)
                || points.last().is_some_and(|point| f64::from(point.at_s) > ends + 1.0)
            {
                seen.broken
                    .push(format!("{name}: {}: a checkpoint out of its time: {points:?}", member.name));
            }
        }
    }
    for (lift, racks) in plan.strength.iter().flat_map(|lift| &lift.racks) {
        seen.lifts += 1;
        let sizes = || racks.racks.iter().map(|rack| rack.order.len());
        let (most, least) = (sizes().max().unwrap_or(0), sizes().min().unwrap_or(0));
        if most > least + 1 {
            seen.broken
                .push(format!("{name}: {lift}: {most} on one {}, {least} on another", racks.place.name()));
        }
        let movement = Catalogue::standard().get(lift);
        if movement.is_some_and(|movement| LiftPlace::of(movement) != racks.place) {
            seen.broken.push(format!("{name}: {lift} in the wrong place"));
        }
    }
}

/// When one of the class is not here and another came unbooked, everybody else keeps version and loads on their card but for the bar they share, whoever is here has
/// a place in everything that is formed, whoever is away in nothing.
fn of_those_here(name: &str, (fixture, roster): (&Fixture, &Roster), plan: &Plan, seen: &mut Seen) {
    let names: Vec<&str> = roster.members.iter().map(|member| member.name.as_str()).collect();
    let (away, joined) = (names[seen.lifts % names.len()], names[names.len() - 1]);
    if away == joined {
        return;
    }
    let only = |name: &str| [name.to_owned()].into();
    // The class as it was booked, and as it is.
    let booked = planned_here(fixture, roster, plan, Here { joined: only(joined), away: only(joined) });
    let now = planned_here(fixture, roster, plan, Here { joined: only(joined), away: only(away) });
    let mut broken = |what: String| seen.broken.push(format!("{name}: without {away}: {what}"));
    for (then, now) in plan.pieces.iter().zip(&now.pieces).filter(|(then, _)| then.teams.is_empty()) {
        let versions =
            |of: &PiecePlan| -> Vec<_> { of.members.iter().map(|own| own.chosen().version).collect() };
        if versions(then) != versions(now) {
            broken("somebody else's version is another".to_owned());
        }
    }
    for lift in &now.strength {
        for (id, racks) in &lift.racks {
            let sheets = lift.sheets_of(id.as_str());
            let on =
                racks.racks.iter().flat_map(|rack| &rack.order).chain(&racks.by_feel).chain(&racks.beside);
            let mut on: Vec<&str> = on.map(|n| sheets[*n].name.as_str()).collect();
            on.sort_unstable();
            let mut here: Vec<&str> = names.iter().copied().filter(|name| *name != away).collect();
            here.sort_unstable();
            if on != here {
                broken(format!("{id}: on the racks are {on:?}"));
            }
            let sizes = || racks.racks.iter().map(|rack| rack.order.len());
            if sizes().max().unwrap_or(0) > sizes().min().unwrap_or(0) + 1 {
                broken(format!("{id}: uneven racks"));
            }
        }
    }
    for floor in &now.floors {
        let mut here: Vec<usize> = floor.floor.heats().into_iter().flat_map(|(_, who)| who).collect();
        here.sort_unstable();
        if here != (0..names.len()).filter(|n| names[*n] != away).collect::<Vec<_>>() {
            broken(format!("who starts is {here:?}"));
        }
        if floor.teams.iter().flat_map(|team| &team.members).any(|n| names[*n] == away) {
            broken("in a team".to_owned());
        }
        let short = |used: &StationUse| used.arranged > used.there;
        if floor.floor.stations.iter().any(short) && floor.floor.unplaced.is_empty() {
            broken("a station is short".to_owned());
        }
    }
    seen.moved.0 += moves(&booked, &now, Catalogue::standard()).len();
    seen.moved.1 += names.len() * (now.strength.len() + now.floors.len());
}

/// The class as it runs covers its hour without a gap, every phase can be announced, and no version is anywhere before it began.
fn runs(name: &str, plan: &Plan, seen: &mut Seen) {
    let line = timeline(plan, Catalogue::standard());
    let mut broken = |what: String| seen.broken.push(format!("{name}: {what}"));
    let mut at = 0;
    for phase in line.phases() {
        let id = format!("{}:{}", phase.id.block, phase.id.n);
        if phase.start_s != at || phase.length_s == 0 {
            broken(format!(
                "{id} begins at {} and lasts {}, where {at} was due",
                phase.start_s, phase.length_s
            ));
        }
        if phase.title.trim().is_empty() || phase.say.trim().is_empty() {
            broken(format!("{id} has nothing to say"));
        }
        if phase.waits && phase.id.n > 0 {
            broken(format!("{id} waits in the middle of its block"));
        }
        at = phase.start_s + phase.length_s;
    }
    if at != plan.hour.ends_s {
        broken(format!("the class runs for {at} s, the hour ends at {}", plan.hour.ends_s));
    }
    for block in line.blocks.iter().filter(|block| block.kind == "conditioning") {
        if !block.phases.iter().any(|phase| phase.kind.is_on_the_clock()) {
            broken(format!("nothing is worked in {}", block.key));
        }
        let clocks = block.phases.windows(2).filter(|pair| pair[0].group == pair[1].group);
        if clocks.into_iter().any(|pair| pair[0].clock != pair[1].clock) {
            broken(format!("two clocks in one of {}", block.key));
        }
        seen.phases += block.phases.len();
    }
    for lantern in plan.pieces.iter().flat_map(lanterns) {
        if lantern.path.windows(2).any(|pair| pair[0].at_s > pair[1].at_s) {
            seen.broken.push(format!("{name}: {:?} goes back in time", lantern.version));
        }
    }
}

/// Without some of it nothing is left that needs it, and the pieces last as long.
fn without(fixture: &Fixture, what: &[Without], gym: &Gym, catalogue: &Catalogue, seen: &mut Seen) {
    let changes: Vec<Change> = what.iter().map(|what| Change::Without { what: *what }).collect();
    let after = with_changes(&fixture.session, &changes, gym, catalogue);
    for (before, after) in fixture.session.parts.iter().zip(&after.parts) {
        let hit = |part: &Part| {
            let all = works(&part.tree).into_iter().filter(|work| {
                catalogue.get(&work.movement).is_some_and(|movement| is_missed(&changes, movement))
            });
            all.map(|work| work.dose.amount == Amount::Scheme).collect::<Vec<_>>()
        };
        let (missed, still) = (hit(before), hit(after));
        seen.left += still.len();
        seen.swapped += missed.len() - still.len();
        if still.iter().any(|of_scheme| !of_scheme) {
            seen.broken.push(format!("{}: {what:?}: still there", fixture.name));
        }
        if missed.is_empty() && before != after {
            seen.broken.push(format!("{}: {what:?}: changed what it does not touch", fixture.name));
        }
        let odd = works(&after.tree).into_iter().find(|work| {
            let running = catalogue.get(&work.movement).is_some_and(|m| m.has(Property::Running));
            running && work.dose.unit == Unit::Calories
        });
        if let Some(odd) = odd {
            seen.broken.push(format!("{}: {what:?}: calories of {}", fixture.name, odd.movement));
        }
        if !missed.is_empty() && before.kind == PartKind::Conditioning && before.duration_s.is_none() {
            let seconds = |part: &Part| {
                let him = Athlete::new(regular(Sex::M));
                let model = Model::standard();
                simulate_as(How::default(), &part.tree, &him, catalogue, model, Luck::MEDIAN).finish_s
            };
            seen.pieces += 1;
            seen.off += usize::from((seconds(after) / seconds(before)).ln().abs() > (1.0 + AS_LONG).ln());
        }
    }
}
