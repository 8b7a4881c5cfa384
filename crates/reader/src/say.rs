//! What a phrase says.

mod captures;
mod items;
mod loads;
mod phrase;
mod sets;
mod several;

pub(crate) use phrase::effort;

use lantern_session::movement::{MovementId, Unit};
use lantern_session::{Intent, Jump, Load, LoadUnit, PartKind, PercentOf, RestAfter, Score, Sharing};
use serde::Serialize;

/// What a phrase says about the session.
#[derive(Clone, Debug, PartialEq, Serialize)]
#[expect(missing_docs, reason = "the rows of data/grammar.csv say what each is, with an example")]
pub enum Say {
    Withdraw,
    Week(u32, Option<u32>),
    Tempo(String),
    Rpe([f64; 2]),
    Rm(u32),
    Percent(Vec<[f64; 2]>),
    /// What the share just said is of.
    PercentOf(PercentOf),
    /// Bare numbers behind "@" are shares of this lift, in percent.
    PercentsOf(MovementId),
    /// What stands beside it begins at the hang.
    FromHang,
    /// The last set is open.
    OpenLast,
    /// So many sets of as many repetitions as possible, of what the sets before were of.
    OpenSets(u32),
    /// Several lifts with one bar that is not put down between them.
    /// One bar from the first lift to the last; `named` by a lift that is no more than its name ("clean complex").
    Complex {
        named: bool,
    },
    /// The complex of the part before, once.
    ComplexAgain,
    /// A percentage that makes something lighter or heavier, not a share of a maximum.
    Relative,
    SetAt {
        reps: u32,
        percent: [f64; 2],
    },
    /// Building to a heavy lift that is not told by its repetitions.
    Build,
    /// More weight with every set.
    Climbs,
    /// So much more weight with every set.
    ClimbsBy(Jump),
    /// The share just said is the one that sets end at.
    ClimbsTo,
    /// By so many percent of the maximum the next set is heavier.
    ShareStep {
        /// In percent of the maximum.
        step: f64,
        /// With each change of repetitions, and not with each set.
        by_wave: bool,
    },
    /// With a pause at the bottom, nobody says how long.
    Paused,
    /// An effort for each set.
    Efforts(Vec<f64>),
    /// Everything below is done with one kind of tool.
    OneTool(Tool),
    /// What kind of part it is.
    Kind(PartKind),
    SameTeam,
    /// One clock for everything below.
    Running,
    /// So many of what stands above, again.
    OfBoth(u32),
    /// The rest beside it is that of every lift above.
    ForBoth,
    /// Everybody of the team does the rounds.
    EachPerson,
    /// `1+2+1`: repetitions of a complex.
    ComplexReps(Vec<u32>),
    SetsReps {
        sets: u32,
        reps: u32,
        upper: Option<u32>,
    },
    /// A set with a weight of its own.
    SetWith {
        reps: u32,
        load: Load,
    },
    /// The share of all sets of so many repetitions.
    ShareFor {
        reps: u32,
        percent: [f64; 2],
    },
    /// More weight with every set, up to the heaviest that goes.
    ClimbsToMost,
    /// With a bar and nothing on it.
    EmptyBar,
    /// How heavy, in a word, as RPE; of a lift only.
    Heaviness(f64),
    SetsMax(u32),
    SetsLength(u32, u32),
    Sets(u32),
    /// Sets of so many repetitions, however many sets.
    SetsOf(u32),
    /// The most repetitions of a set whose least are said beside it.
    RepsHigh(u32),
    MoreSets(u32),
    TopSets(u32),
    Superset,
    /// In a line of its own between two lifts: what follows is in a superset with what stands above.
    SupersetWith,
    Interrupt {
        every_s: u32,
        from_s: u32,
    },
    /// What cuts in is done before anything else.
    FromTheStart,
    Penalty,
    /// What follows is done whenever so many of the work before are.
    EveryReps(u32),
    /// All of it once more, from the last but one to the first.
    BackAgain,
    Tabata,
    OnOff {
        times: Option<u32>,
        work_s: u32,
        rest_s: u32,
        total_s: Option<u32>,
    },
    StationTime {
        /// Seconds at each.
        work_s: u32,
        /// Seconds to get to the next one.
        move_s: Option<u32>,
    },
    Every {
        interval_s: u32,
        times: Option<u32>,
        total_s: Option<u32>,
    },
    /// One entry an interval in turn.
    InTurn(u32),
    /// What the clock gives time for takes turns.
    Alternating,
    /// The times of the clock are rounds of what takes turns.
    TimesRound,
    /// So long, for practice of what is named.
    Practice(u32),
    Bouts {
        times: u32,
        seconds: u32,
        open: bool,
    },
    Amrap(Option<u32>),
    UntilFailure {
        /// There is more of it each time, whoever says how much.
        rises: bool,
    },
    /// So many repetitions in one minute or round of those that rise.
    InMinute {
        minute: u32,
        reps: u32,
    },
    AddEach(u32),
    Quality,
    ForTime,
    Cap(Option<u32>),
    Window(u32),
    ClockStart,
    Clock(u32),
    Length(u32),
    Rest {
        low_s: u32,
        high_s: u32,
        after: Option<RestAfter>,
    },
    RestOpen,
    /// A rest of so many times the work before it.
    RestAsWork(f64),
    WhenReady,
    RoundUnder(u32),
    Target {
        low: Option<f64>,
        high: Option<f64>,
        of: Aim,
    },
    /// Which piece an aim beside it is of.
    OfPiece(Place),
    Score(Score),
    /// "score:" with what follows it.
    ScoreWord,
    /// Shares are of a training max; so many percent of the max, where that is told.
    OfTrainingMax(Option<f64>),
    /// So many in as few sets as possible.
    Collect,
    /// One of what stands beside each other is done.
    ChooseOne,
    /// What counts is metres, or calories.
    CountedIn(Unit),
    /// The one movement whose repetitions are the score.
    Counted(MovementId),
    Intent(Intent),
    Team(u32),
    Sharing(Sharing),
    /// All of a team do what stands beside it at once.
    InStep,
    BuyIn,
    CashOut,
    /// The sets on the way up to the first work set: nobody counts them.
    RampSets,
    /// What is done after each round; `last` of the last one too, unlike "between the rounds".
    AfterEach {
        last: bool,
    },
    /// What is done after every so many rounds.
    EveryRounds(u32),
    /// What stands beside it is done again behind each thing of the list.
    AfterEachThing,
    Remaining,
    Then,
    Rounds(u32),
    Scheme {
        reps: Vec<u32>,
        open: Option<u32>,
    },
    Each,
    Side,
    /// One side and then the other: all that stands in the line before it.
    BothSides,
    Split(u32, u32),
    Same,
    Or,
    /// A stroke between two things to do.
    Slash,
    Plus,
    /// Adds nothing to what is said elsewhere.
    Told,
    /// Said of one of several windows that take turns; what all of them come to is said at the first.
    OfTurn(Box<Say>),
    Load {
        implements: u8,
        first: f64,
        second: Option<f64>,
        unit: Option<LoadUnit>,
    },
    LoadRange(f64, f64, LoadUnit),
    ToolLoad {
        tool: Tool,
        implements: u8,
        first: f64,
        second: Option<f64>,
        unit: Option<LoadUnit>,
    },
    Max,
    Item(Item),
}

impl Say {
    /// Whether it is a rest that comes once: at its place, or after all of the part.
    pub fn rests_once(&self) -> bool {
        matches!(self, Self::Rest { after: None | Some(RestAfter::All), .. })
    }

    /// Whether something else comes next.
    pub fn leads_on(&self) -> bool {
        matches!(self, Self::Then) || self.rests_once()
    }
}

/// Which piece of the day an aim is of.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
pub enum Place {
    /// The next one that can have it, or else the last before.
    Next,
    /// So many pieces on, lifts and practice left out; 0 is the last.
    Piece(u32),
    /// So many parts on, lifts and practice among them; 0 is the last.
    Part(u32),
    /// All that are run as the one that it stands in.
    Each,
}

/// What a target counts.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[expect(missing_docs, reason = "the names say it")]
pub enum Aim {
    Seconds,
    Rounds,
    Reps,
    Bare,
}

/// Numbers without a sign that can be shares of a maximum, in percent: lighter is no lift, and nobody lifts much more.
pub(crate) const BARE_SHARES: std::ops::RangeInclusive<f64> = 40.0..=105.0;

/// Most repetitions of a set that is lifted.
pub(crate) const MOST_OF_A_SET: u32 = 20;

/// Nobody rests longer between sets or parts than this, in seconds.
pub(crate) const LONGEST_REST_S: u32 = 300;

/// Machines of which any will do, where none is named.
pub(crate) const MACHINES: [&str; 3] = ["row", "bike", "ski"];

/// A tool that a load is written beside.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize)]
#[expect(missing_docs, reason = "the names say it")]
pub enum Tool {
    Bar,
    Dumbbell,
    Kettlebell,
    Ball,
}

/// One movement as written, before loads and sides find their place.
#[derive(Clone, Debug, Default, PartialEq, Serialize)]
pub struct Item {
    /// What is done; none when it is named elsewhere.
    pub movement: Option<MovementId>,
    /// Whether its name is a shorthand that a load beside it may make another movement.
    pub shorthand: bool,
    /// The number or pair.
    pub amount: Option<(f64, Option<f64>)>,
    /// What it counts, when written.
    pub unit: Option<Unit>,
    /// As many as possible.
    pub max: bool,
    /// A window in which as many as possible are done, in seconds.
    pub window_s: Option<u32>,
    /// Sets of its own.
    pub sets: Option<u32>,
    /// Whether the number is for each side.
    pub per_side: bool,
    /// Whether a word beside the name says that all of a team do it at once.
    pub in_step: bool,
    /// Whether who does not work does it while another does.
    pub meanwhile: bool,
    /// Whether a word in front of the name is nobody's, so that another movement may be meant.
    pub guessed: bool,
}

impl Item {
    /// Whether it has an amount of any kind.
    pub fn is_anchored(&self) -> bool {
        self.amount.is_some() || self.max
    }
}
