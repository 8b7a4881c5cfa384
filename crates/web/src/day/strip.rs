//! The hour strip: the class hour to scale, one segment a block.

use crate::planning::plans::Planned;
use crate::request::slot::Slot;
use lantern_core::hour::Hour;
use lantern_core::units::clock_s;

/// The strip, ready to draw in a box 1000 units wide.
pub(crate) struct HourStrip {
    pub segments: Vec<Segment>,
    pub fits: bool,
    pub sentence: String,
    /// How it ends, in a few words.
    pub short: String,
    /// The change that costs least, when it does not fit, and where the others stand.
    pub change: Option<String>,
    pub hour: String,
    /// Where the hour ends.
    pub end_x: f64,
    pub ticks: Vec<Tick>,
    /// What the plan leaves out, and why.
    pub left_out: Vec<String>,
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

/// Most parts that are named one by one.
const MOST_LEFT_OUT: usize = 3;
/// Width of the drawing in its own units.
const WIDTH: f64 = 1000.0;
/// Narrower segments carry no words.
const LABEL_WIDTH: f64 = 52.0;

impl HourStrip {
    /// Of a day, with what its plan leaves out.
    pub fn of(planned: &Planned, day: Slot) -> Self {
        let mut left_out: Vec<String> = Vec::new();
        if planned.beyond > 0 {
            left_out.push(format!(
                "Planned for the first {} by name, without {} more: choose a class of the day to plan for who is booked.",
                planned.people.len(),
                planned.beyond
            ));
        }
        let parts = planned.plan.unplanned.iter().map(|unplanned| {
            let line = planned.reading.session.parts.get(unplanned.part).map_or(0, |part| part.lines.0);
            format!("Line {line}: {}.", unplanned.why)
        });
        left_out.extend(parts.take(MOST_LEFT_OUT));
        // Times, volumes and loads of a part that is not clear are shown, and said to be unsure.
        let open = planned.reading.questions.iter().map(|question| {
            format!(
                "Line {}: {} What is shown of this part rests on the answer, which Read asks for.",
                question.line, question.message
            )
        });
        left_out.extend(open);
        Self { left_out, ..Self::new(&planned.plan.hour, day) }
    }

    pub fn new(hour: &Hour, day: Slot) -> Self {
        let class_s = hour.minutes * 60;
        let end_s = hour.blocks.last().map_or(0, |block| block.end_s);
        let scale = WIDTH / f64::from(class_s.max(end_s).max(1));
        let segments = hour
            .blocks
            .iter()
            .map(|block| {
                let width = f64::from(block.end_s - block.start_s) * scale;
                let step = format!("/days/{day}/{}", block.step);
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
        let first = hour.changes.first().filter(|_| !hour.fits).map(|change| {
            let saves = clock_s(change.saves_s.unsigned_abs() as u32);
            format!("{}: saves {saves}, loses {}.", change.what, change.loses)
        });
        let ticks = (0..=hour.minutes / 10)
            .map(|n| Tick { x: f64::from(n * 600) * scale, label: format!("{}", n * 10) })
            .collect();
        Self {
            left_out: Vec::new(),
            segments,
            fits: hour.fits,
            sentence: hour.sentence(),
            short: match end_s.checked_sub(class_s).filter(|over| *over > 0) {
                Some(over) => format!("{} over", clock_s(over)),
                None => format!("{} of {}", clock_s(end_s), clock_s(class_s)),
            },
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

#[cfg(test)]
mod tests {
    use super::*;
    use chrono::NaiveDate;
    use lantern_core::gym::Gym;
    use lantern_core::member::Member;
    use lantern_core::movement::Catalogue;
    use lantern_core::plan::plan;
    use lantern_core::read::read;

    fn strip(text: &str, minutes: u32) -> HourStrip {
        let catalogue = Catalogue::standard();
        let gym = Gym { class_minutes: minutes, ..Gym::default() };
        let members = [Member { name: "Ada".to_owned(), ..Member::default() }];
        let plan = plan(&read(text, catalogue).session, &members, &gym, catalogue, 1);
        HourStrip::new(&plan.hour, NaiveDate::from_ymd_opt(2026, 11, 23).unwrap().into())
    }

    const DAY: &str = "Back squat 5x5 @ 75%\nrest 2:00\n\nAMRAP 12\n10 burpees";

    #[test]
    fn the_sentence_says_fits_tight_or_over() {
        let fits = strip(DAY, 75);
        assert!(fits.fits && fits.sentence.contains("of 75:00, latest") && fits.change.is_none());
        let over = strip(DAY, 40);
        assert!(!over.fits && over.sentence.contains("past the 40:00; latest"), "{}", over.sentence);
        assert!(over.change.is_some_and(|change| change.contains("saves")));
        // Somewhere in between the plan fits and a slow day does not.
        let tight = (41..75).map(|minutes| strip(DAY, minutes)).find(|s| s.sentence.contains("a slow day"));
        assert!(tight.is_some_and(|strip| strip.fits));
    }

    #[test]
    fn segments_lie_side_by_side_within_the_drawing() {
        for minutes in [40, 60, 90] {
            let strip = strip(DAY, minutes);
            assert!(strip.segments.windows(2).all(|pair| pair[0].x + pair[0].width <= pair[1].x));
            assert!(
                strip.segments.iter().all(|segment| segment.x >= 0.0 && segment.x + segment.width <= WIDTH)
            );
            assert_eq!(strip.segments.iter().any(|segment| segment.over), !strip.fits, "{minutes}");
            assert!(strip.segments.iter().all(|segment| segment.href.starts_with("/days/2026-11-23/")));
        }
    }
}
