//! The hour strip: the class hour to scale, one segment a block.

use crate::slot::Slot;
use lantern_core::hour::Hour;
use lantern_core::units::clock_s;

/// The strip, ready to draw in a box 1000 units wide.
pub(crate) struct HourStrip {
    pub segments: Vec<Segment>,
    pub fits: bool,
    pub sentence: String,
    /// The change that costs least, when it does not fit, and where the others stand.
    pub change: Option<String>,
    pub hour: String,
    /// Where the hour ends.
    pub end_x: f64,
    pub ticks: Vec<Tick>,
}

pub(crate) struct Segment {
    pub x: f64,
    pub width: f64,
    pub kind: &'static str,
    pub label: String,
    pub minutes: String,
    pub why: String,
    pub href: String,
    pub over: bool,
}

pub(crate) struct Tick {
    pub x: f64,
    pub label: String,
}

/// Width of the drawing in its own units.
const WIDTH: f64 = 1000.0;
/// Narrower segments carry no words.
const LABEL_WIDTH: f64 = 52.0;

impl HourStrip {
    pub fn new(hour: &Hour, day: Slot) -> Self {
        let class_s = hour.minutes * 60;
        let end_s = hour.blocks.last().map_or(0, |block| block.end_s);
        let scale = WIDTH / f64::from(class_s.max(end_s).max(1));
        let segments = hour
            .blocks
            .iter()
            .map(|block| {
                let width = f64::from(block.end_s - block.start_s) * scale;
                let step = if block.step == "book" { "hour" } else { block.step };
                let step = format!("/days/{day}/{step}");
                Segment {
                    x: f64::from(block.start_s) * scale,
                    width: (width - 2.0).max(1.0),
                    kind: block.kind,
                    label: if width >= LABEL_WIDTH { fit(&block.label, width) } else { String::new() },
                    minutes: clock_s(block.end_s - block.start_s),
                    why: format!("{}: {} ({})", block.label, clock_s(block.end_s - block.start_s), block.why),
                    href: step,
                    over: block.end_s > class_s,
                }
            })
            .collect();
        let latest = clock_s(hour.latest_s);
        let sentence = if hour.is_tight() {
            format!("Ends at {}; a slow day runs to {latest}, past the {}:00.", clock_s(end_s), hour.minutes)
        } else if hour.fits {
            format!("Ends at {} of {}:00, latest {latest}.", clock_s(end_s), hour.minutes)
        } else {
            let over = clock_s(hour.over_s);
            format!("Ends at {}, {over} past the {}:00; latest {latest}.", clock_s(end_s), hour.minutes)
        };
        let first = hour.changes.first().filter(|_| !hour.fits).map(|change| {
            let saves = clock_s(change.saves_s.unsigned_abs() as u32);
            format!("{}: saves {saves}, loses {}.", change.what, change.loses)
        });
        let ticks = (0..=hour.minutes / 10)
            .map(|n| Tick { x: f64::from(n * 600) * scale, label: format!("{}", n * 10) })
            .collect();
        Self {
            segments,
            fits: hour.fits,
            sentence,
            change: first,
            hour: format!("/days/{day}/hour#changes"),
            end_x: f64::from(class_s) * scale,
            ticks,
        }
    }
}

/// As many letters as the width holds; a letter is about 8 units wide.
fn fit(label: &str, width: f64) -> String {
    let letters = (width / 8.0) as usize;
    if label.chars().count() <= letters {
        label.to_owned()
    } else {
        label.chars().take(letters.saturating_sub(1)).collect::<String>() + "…"
    }
}
