//! A class as its screens need it: phases with their lengths, where it stands, who does what and who is done.
//!
//! A screen works out everything that time alone changes by itself, so that it goes on without a server.

use lantern_core::book::{Done, Scored, Sides};
use lantern_core::gym::ClockFace;
use lantern_core::movement::Catalogue;
use lantern_core::pacing::Measure;
use lantern_core::plan::{MemberPiece, PiecePlan};
use lantern_core::print::work_text;
use lantern_core::running::{
    Clock, Course, Event, Kind, Onward, Phase, State, Timeline, lanterns, last_done, note, onward, timeline,
};
use lantern_core::session::{Part, works};
use lantern_store::clock;
use lantern_store::lifts::StoredLift;
use lantern_store::results::{StoredResult, standing};
use serde::Serialize;

use super::hub::Audience;
use super::racks::{self, LiftShown};
use crate::day::book::summed;
use crate::day::handouts::board::on_the_wall;
use crate::day::planned::Planned;
use crate::mark::Mark;
use crate::request::slot::Slot;
use lantern_core::print::bare_lines;

/// A class as its screens need it.
#[derive(Serialize)]
pub(crate) struct ClassShown {
    name: String,
    gym: String,
    /// Where the gym is, and whether it tells the time of day from 1 to 12.
    zone: &'static str,
    twelve: bool,
    /// How many are here, of how many who are booked or came.
    here: Option<(usize, usize)>,
    /// When it starts and ends as booked, in milliseconds since 1970; none for the whole gym.
    booked_ms: Option<(i64, i64)>,
    /// When this was made, by the clock of the class: of two the later one stands.
    made_ms: i64,
    state: State,
    /// The phase that runs, how far into it the class was, and when.
    phase: usize,
    into_ms: i64,
    at_ms: i64,
    /// What was done to the clock last, and when; nothing before the start.
    last: Option<Event>,
    phases: Vec<PhaseShown>,
    blocks: Vec<BlockShown>,
    /// What the results of each piece come to so far; for the coach.
    headline: Vec<String>,
    /// What is noted about the class; for the coach.
    note: String,
    pieces: Vec<PieceShown>,
    lifts: Vec<LiftShown>,
}

#[derive(Serialize)]
struct PhaseShown {
    block: usize,
    n: usize,
    kind: Kind,
    ms: i64,
    waits: bool,
    clock: Clock,
    group: u32,
    title: String,
    cue: Vec<String>,
    say: String,
    set: Option<u32>,
    turns: u32,
}

#[derive(Serialize)]
struct BlockShown {
    key: String,
    label: String,
    kind: &'static str,
    part: Option<usize>,
    spare: bool,
    without: bool,
}

#[derive(Serialize)]
struct PieceShown {
    /// Its place among the pieces, as Book names it.
    n: usize,
    part: usize,
    aim: String,
    cap_s: Option<u32>,
    /// What a tap on a name means: a `finish`, a `round`, the `split` of an interval, or `out` of what rises; nothing where scores are called.
    tap: &'static str,
    /// How many intervals each has a time of, where they are what counts.
    intervals: Option<u32>,
    /// The piece line by line, and in which of them each of its works stands.
    rows: Vec<String>,
    row_of: Vec<usize>,
    lanterns: Vec<LanternShown>,
    people: Vec<PersonShown>,
    heats: Vec<HeatShown>,
}

#[derive(Serialize)]
struct LanternShown {
    flame: u8,
    name: &'static str,
    people: usize,
    ends_s: f64,
    /// Seconds, round and row of each place.
    path: Vec<(f64, u32, usize)>,
}

#[derive(Serialize)]
struct HeatShown {
    start_s: u32,
    label: String,
    names: Vec<String>,
}

#[derive(Serialize)]
struct PersonShown {
    /// The member's row; 0 where the wall does not need to know.
    id: i64,
    name: String,
    flame: u8,
    version: &'static str,
    /// Seconds after the first start.
    start_s: u32,
    /// One day in ten is before, the middle, one day in ten is after; seconds.
    expected_s: [f64; 3],
    /// Easier versions that they could go on with, by name, each with the figures of when they would be done.
    easier: Vec<(&'static str, Onward)>,
    /// What spares them, as a mark.
    mark: Option<&'static str>,
    /// Rounds that were counted.
    rounds: Option<u32>,
    /// Intervals that were, from 0, each with its seconds.
    splits: Vec<(u32, u32)>,
    done: Option<DoneShown>,
}

#[derive(Serialize)]
struct DoneShown {
    id: i64,
    score: String,
    /// When on the clock, where that is the score.
    seconds: Option<u32>,
}

impl ClassShown {
    /// Of a plan, what has happened, and what is in the book.
    pub fn new(
        planned: &Planned,
        slot: Slot,
        (events, results): (&[Event], Vec<(usize, StoredResult)>),
        sets: &[(StoredLift, String)],
        (audience, made_ms): (Audience, i64),
    ) -> Self {
        let line = timeline(&planned.plan, &planned.catalogue);
        let course = Course::after(&line, events);
        let stands = standing(results);
        let plan = &planned.plan;
        let view = View { planned, course: &course, stands: &stands, sets, audience };
        Self {
            name: slot.name(planned.gym.clock),
            gym: planned.gym.name.clone(),
            zone: clock::zone(&planned.gym).name(),
            twelve: planned.gym.clock == ClockFace::Twelve,
            here: planned.class.as_ref().map(|class| (class.here().count(), class.booked.len())),
            booked_ms: slot.starts.map(|starts| {
                let start = clock::moment(&planned.gym, slot.day, starts).timestamp_millis();
                (start, start + 60_000 * i64::from(plan.hour.minutes))
            }),
            made_ms,
            state: course.state(),
            phase: course.place(),
            into_ms: course.into_ms(),
            at_ms: course.at_ms(),
            last: last_done(events).cloned(),
            phases: course.lengths().map(|(phase, ms)| phase_shown(phase, ms, &line)).collect(),
            blocks: blocks(&line, &course),
            headline: view.headline(),
            note: view.for_coach(|| note(events).to_owned()).unwrap_or_default(),
            pieces: plan.pieces.iter().enumerate().map(|(n, piece)| view.piece(n, piece)).collect(),
            lifts: racks::lifts(&view),
        }
    }
}

fn phase_shown(phase: &Phase, ms: i64, line: &Timeline) -> PhaseShown {
    let Phase { id, kind, clock, group, waits, title, cue, say, set, turns, .. } = phase.clone();
    PhaseShown {
        block: line.blocks.iter().position(|block| block.key == id.block).unwrap_or(0),
        n: id.n,
        kind,
        ms,
        waits,
        clock,
        group,
        title,
        cue,
        say,
        set,
        turns,
    }
}

/// A piece line by line as it is written, with the line of each work; only its works where a work stands in no line of its own.
fn rows(part: &Part, catalogue: &Catalogue) -> (Vec<String>, Vec<usize>) {
    let lines = bare_lines(part, &part.tree, catalogue);
    let texts: Vec<String> = works(&part.tree).into_iter().map(|work| work_text(work, catalogue)).collect();
    let mut from = 0;
    let mut row = |text: &String| {
        let at = from + lines[from..].iter().position(|line| line.contains(text.as_str()))?;
        from = at;
        Some(at)
    };
    match texts.iter().map(&mut row).collect::<Option<Vec<usize>>>() {
        Some(row_of) if !row_of.is_empty() => (lines, row_of),
        _ => {
            let row_of = (0..texts.len()).collect();
            (texts, row_of)
        }
    }
}

fn blocks(line: &Timeline, course: &Course<'_>) -> Vec<BlockShown> {
    let shown = |block: &lantern_core::running::Block| BlockShown {
        key: block.key.clone(),
        label: block.label.clone(),
        kind: block.kind,
        part: block.part,
        spare: block.spare,
        without: course.without().any(|key| key == block.key),
    };
    line.blocks.iter().map(shown).collect()
}

/// What a class is shown from.
pub(super) struct View<'a> {
    pub planned: &'a Planned,
    course: &'a Course<'a>,
    stands: &'a [(usize, StoredResult)],
    /// Sets that were entered today.
    pub sets: &'a [(StoredLift, String)],
    pub audience: Audience,
}

impl View<'_> {
    /// What a screen shows of somebody's name; none where it shows nothing.
    pub fn name(&self, place: usize) -> Option<String> {
        let name = &self.planned.people[place].name;
        match self.audience {
            Audience::Coach => Some(name.clone()),
            Audience::Wall => {
                let everybody = self.planned.people.iter().map(|member| member.name.as_str());
                on_the_wall(name, self.planned.shown[place], everybody)
            }
        }
    }

    /// Something that is nobody's business but the coach's.
    fn for_coach<T>(&self, what: impl FnOnce() -> T) -> Option<T> {
        (self.audience == Audience::Coach).then(what)
    }

    /// What the results of each piece come to so far.
    fn headline(&self) -> Vec<String> {
        let Planned { plan, decisions, .. } = self.planned;
        let here = plan.pieces.first().map_or(0, |piece| {
            piece.members.iter().filter(|member| decisions.here.has(&member.name)).count()
        });
        let of_piece = |piece: &PiecePlan| {
            let results =
                self.stands.iter().filter(|(part, _)| *part == piece.part).map(|(_, result)| &result.entry);
            summed(Sides::of(results), here, &piece.window)
        };
        self.for_coach(|| plan.pieces.iter().map(of_piece).collect()).unwrap_or_default()
    }

    fn piece(&self, n: usize, piece: &PiecePlan) -> PieceShown {
        let Planned { catalogue, plan, .. } = self.planned;
        let written = piece.written();
        let floor = plan.floors.iter().find(|floor| floor.part == piece.part).map(|floor| &floor.floor);
        let starts =
            |place: usize| floor.and_then(|floor| floor.starts.get(place)).map_or(0, |start| start.offset_s);
        let here = &self.planned.decisions.here;
        let people = (0..piece.members.len()).filter(|place| here.has(&piece.members[*place].name));
        let people = people.filter_map(|place| self.person(place, piece, starts(place)));
        let heats = floor.map_or_else(Vec::new, |floor| floor.heats());
        let heats =
            heats.iter().enumerate().filter(|_| heats.len() > 1).map(|(n, (start_s, who))| HeatShown {
                start_s: *start_s,
                label: floor.map_or_else(String::new, |floor| floor.start_label(n, *start_s)),
                names: who.iter().filter_map(|place| self.name(*place)).collect(),
            });
        let (rows, row_of) = rows(written, catalogue);
        PieceShown {
            n,
            part: piece.part,
            aim: piece.window.show(),
            cap_s: written.cap_s,
            tap: match piece.window.measure {
                Measure::Finish => "finish",
                Measure::Rounds => "round",
                Measure::SlowestInterval => "split",
                Measure::FailedRound => "out",
                Measure::Reps | Measure::Calories | Measure::Metres => "",
            },
            intervals: match Scored::of(written, &written.tree, &piece.window) {
                Scored::Intervals { count, .. } => Some(count),
                _ => None,
            },
            rows,
            row_of,
            lanterns: lanterns(piece)
                .into_iter()
                .map(|lantern| LanternShown {
                    flame: lantern.version as u8,
                    name: lantern.version.label(),
                    people: lantern.people,
                    ends_s: lantern.ends_s,
                    path: lantern.path.iter().map(|place| (place.at_s, place.round, place.row)).collect(),
                })
                .collect(),
            people: people.collect(),
            heats: heats.collect(),
        }
    }

    fn person(&self, place: usize, piece: &PiecePlan, start_s: u32) -> Option<PersonShown> {
        let Planned { people, ids, .. } = self.planned;
        let (member, id): (&MemberPiece, _) = (&piece.members[place], ids[place]);
        let result = self.stands.iter().find(|(part, result)| *part == piece.part && result.member == id);
        let done = result.map(|(_, result)| DoneShown {
            id: result.id.number(),
            score: result.entry.done.to_string(),
            seconds: match result.entry.done {
                Done::Finished { seconds } => Some(seconds),
                _ => None,
            },
        });
        let spread = member.predicted().finish_s;
        let coach = self.audience == Audience::Coach;
        let easier = onward(member).into_iter();
        let person = PersonShown {
            id: if coach { id.number() } else { 0 },
            name: self.name(place)?,
            flame: member.chosen().version as u8,
            version: member.chosen().version.label(),
            start_s,
            expected_s: [spread.p10, spread.p50, spread.p90].map(f64::round),
            easier: easier.filter(|_| coach).map(|onward| (onward.version.label(), onward)).collect(),
            mark: Mark::of(&people[place]).filter(|_| coach).map(Mark::words),
            rounds: self.course.rounds(piece.part, id.number()).filter(|_| coach),
            splits: self.course.splits(piece.part, id.number()).filter(|_| coach).collect(),
            done,
        };
        // The wall names who is done, and nobody before.
        (coach || person.done.is_some()).then_some(person)
    }
}
