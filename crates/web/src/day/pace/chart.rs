//! The class chart: one row a member, a bar from early to late, the intended window lit behind all rows.

use lantern_core::pacing::{Measure, Model, Prediction, Quantiles};
use lantern_core::plan::{MemberPiece, PiecePlan};
use lantern_core::session::Part;
use lantern_core::units::{clock, plain};
use lantern_store::MemberId;

use crate::day::figures::marked;

/// The chart in its own units: 620 wide for the bars, names to the left of it.
pub(crate) struct ClassChart {
    pub rows: Vec<ChartRow>,
    pub window_x: f64,
    pub window_width: f64,
    pub cap_x: Option<f64>,
    pub cap_label: String,
    pub ticks: Vec<(f64, String)>,
    pub height: f64,
    /// Many members: smaller type and rows.
    pub dense: bool,
}

pub(crate) struct ChartRow {
    /// Row id of the member.
    pub id: MemberId,
    pub name: String,
    pub version: &'static str,
    pub flame: u8,
    pub y: f64,
    pub bar_x: f64,
    pub bar_width: f64,
    pub middle_x: f64,
    /// As written, when another version was chosen.
    pub written_x: Option<f64>,
    pub class: &'static str,
    pub word: &'static str,
    pub label: String,
}

/// Width of the plot and left edge of it.
pub(crate) const PLOT_X: f64 = 300.0;
const PLOT_WIDTH: f64 = 520.0;
/// Height of a row, and of one among many.
const ROW: f64 = 26.0;
const DENSE_ROW: f64 = 18.0;
/// Members from which rows are many.
const DENSE_FROM: usize = 18;

impl ClassChart {
    pub fn new(piece: &PiecePlan, part: &Part, ids: &[MemberId]) -> Self {
        let spread = |member: &MemberPiece| member.predicted().spread;
        let cap = part.cap_s.map(f64::from).filter(|_| piece.window.measure == Measure::Finish);
        let mut low = piece.window.low.unwrap_or(f64::INFINITY);
        let mut high = piece.window.high.into_iter().chain(cap).fold(0.0, f64::max);
        let most = most_shown(
            piece.members.iter().map(|member| spread(member).p90).collect(),
            high,
            piece.window.measure,
        );
        for member in &piece.members {
            low = low.min(spread(member).p10);
            high = high.max(spread(member).p90.min(most));
        }
        if !low.is_finite() {
            low = 0.0;
        }
        let margin = ((high - low) * 0.06).max(0.5);
        let (low, high) = ((low - margin).max(0.0), high + margin);
        let x = |value: f64| PLOT_X + ((value - low) / (high - low).max(0.001)).clamp(0.0, 1.0) * PLOT_WIDTH;
        let window_from = piece.window.low.map_or(PLOT_X, x);
        let window_to = piece.window.high.map_or(PLOT_X + PLOT_WIDTH, x);
        let dense = piece.members.len() > DENSE_FROM;
        let pitch = if dense { DENSE_ROW } else { ROW };
        let members = piece.members.iter().zip(ids).enumerate();
        let rows: Vec<ChartRow> =
            members.map(|(n, (member, id))| row(n as f64 * pitch + 22.0, member, *id, piece, &x)).collect();
        let height = rows.len() as f64 * pitch + 34.0;
        Self {
            window_x: window_from,
            window_width: (window_to - window_from).max(0.0),
            cap_x: cap.map(x),
            cap_label: cap.map_or(String::new(), |cap| format!("cap {}", clock(cap))),
            ticks: ticks(low, high, piece.window.measure)
                .into_iter()
                .map(|(v, label)| (x(v), label))
                .collect(),
            rows,
            dense,
            height,
        }
    }
}

/// The end of the chart: who would need several times as long as the class leaves the others room. What is counted is shown to its end.
fn most_shown(mut late: Vec<f64>, meant: f64, measure: Measure) -> f64 {
    if !measure.is_time() {
        return f64::INFINITY;
    }
    late.sort_by(f64::total_cmp);
    late.get(late.len() / 2).copied().unwrap_or(0.0).max(meant).max(1.0) * 2.0
}

fn row(y: f64, member: &MemberPiece, id: MemberId, piece: &PiecePlan, x: &impl Fn(f64) -> f64) -> ChartRow {
    let chosen = member.chosen();
    let spread = member.predicted().spread;
    let window = &piece.window;
    let (class, word) = marked(member.verdict(window, Model::standard()), window);
    let written = member.as_written().predicted.spread.p50;
    ChartRow {
        name: member.name.clone(),
        version: chosen.version.label(),
        flame: chosen.version as u8,
        id,
        y,
        bar_x: x(spread.p10),
        bar_width: (x(spread.p90) - x(spread.p10)).max(3.0),
        middle_x: x(spread.p50),
        written_x: (!chosen.edits.is_empty()).then(|| x(written)),
        class,
        word,
        label: label(member.predicted()),
    }
}

/// `7:10 to 8:40`, in the version's own count.
fn label(predicted: &Prediction) -> String {
    let Quantiles { p10, p90, .. } = predicted.own_spread();
    match predicted.own_measure() {
        Measure::Finish if p90 > TOO_LONG_S => format!("{} to {}", show(p10), show(p90)),
        own => own.show_briefly(p10, p90),
    }
}

/// Three hours is where the simulator gives up: nobody waits for that.
const TOO_LONG_S: f64 = 2.0 * 3600.0;

fn show(seconds: f64) -> String {
    if seconds > TOO_LONG_S { "far too long".to_owned() } else { clock(seconds) }
}

fn ticks(low: f64, high: f64, measure: Measure) -> Vec<(f64, String)> {
    let span = high - low;
    let steps: &[f64] = if measure.is_time() {
        &[5.0, 10.0, 15.0, 30.0, 60.0, 120.0, 300.0, 600.0]
    } else {
        &[0.5, 1.0, 2.0, 5.0, 10.0, 25.0, 50.0, 100.0, 250.0]
    };
    let step = steps.iter().copied().find(|step| span / step <= 8.0).unwrap_or(span / 6.0);
    let mut at = (low / step).ceil() * step;
    let mut ticks = Vec::new();
    while at <= high {
        ticks.push((at, if measure.is_time() { clock(at) } else { plain(at) }));
        at += step;
    }
    ticks
}
