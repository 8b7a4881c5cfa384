//! A rail a version: where somebody typical of those who do it should be when.

use lantern_core::plan::{MemberPiece, PiecePlan};
use lantern_core::session::Part;
use lantern_core::units::clock;

/// One version's rail, 900 units wide.
pub(crate) struct PaceRail {
    pub version: &'static str,
    pub flame: u8,
    /// Whose walk it is.
    pub whose: String,
    pub end_x: f64,
    pub end: String,
    pub rounds: Vec<RailMark>,
    pub points: Vec<RailPoint>,
    pub window_x: Option<(f64, f64)>,
    pub cap_x: Option<f64>,
}

pub(crate) struct RailMark {
    pub x: f64,
    pub title: String,
}

pub(crate) struct RailPoint {
    pub x: f64,
    pub label: String,
    pub text: String,
    pub above: bool,
}

const WIDTH: f64 = 900.0;

/// When somebody, or their team, is done on a median day.
fn finish_s(member: &MemberPiece) -> f64 {
    member.team.as_ref().map_or(member.chosen().run.finish_s, |team| team.predicted.finish_s.p50)
}

impl PaceRail {
    /// One for each version that somebody does, by the member in the middle of them.
    pub fn of(piece: &PiecePlan, part: &Part) -> Vec<Self> {
        let longest = piece.members.iter().map(finish_s).fold(1.0, f64::max);
        let scale = WIDTH / longest.max(part.cap_s.map_or(0.0, f64::from)).min(4.0 * 3600.0);
        piece
            .versions
            .iter()
            .filter_map(|version| {
                let mut doing: Vec<&MemberPiece> =
                    piece.members.iter().filter(|member| member.chosen().version == version.name).collect();
                doing.sort_by(|a, b| finish_s(a).total_cmp(&finish_s(b)));
                let middle = *doing.get(doing.len() / 2)?;
                Some(Self::new(middle, doing.len(), piece, part, scale))
            })
            .collect()
    }

    fn new(member: &MemberPiece, people: usize, piece: &PiecePlan, part: &Part, scale: f64) -> Self {
        let choice = member.chosen();
        let x = |seconds: f64| (seconds * scale).min(WIDTH);
        let pace = finish_s(member) / choice.run.finish_s.max(1.0);
        let rounds = choice.run.round_ends.iter().map(|end| end * pace).zip(1..);
        let rounds =
            rounds.map(|(end, n)| RailMark { x: x(end), title: format!("round {n} ends at {}", clock(end)) });
        let points = member.targets.checkpoints.iter().enumerate().map(|(n, point)| RailPoint {
            x: x(f64::from(point.at_s)),
            label: clock(f64::from(point.at_s)),
            text: point.text.clone(),
            above: n % 2 == 0,
        });
        let timed = piece.window.measure == lantern_core::pacing::Measure::Finish;
        let window_x = timed.then(|| (piece.window.low.map_or(0.0, x), piece.window.high.map_or(WIDTH, x)));
        Self {
            version: choice.version.label(),
            flame: choice.version as u8,
            whose: match people {
                1 => member.name.clone(),
                n => format!("{n} people, as {} walks it", member.name),
            },
            end_x: x(finish_s(member)),
            end: clock(finish_s(member)),
            rounds: rounds.collect(),
            points: points.collect(),
            window_x,
            cap_x: part.cap_s.map(|cap| x(f64::from(cap))),
        }
    }
}

#[cfg(test)]
mod tests {
    use lantern_core::gym::Gym;
    use lantern_core::member::{Experience, Member, Sex};
    use lantern_core::movement::Catalogue;
    use lantern_core::plan::plan;
    use lantern_core::read::read;

    use super::*;
    use crate::day::pace::chart::ClassChart;

    fn class(people: usize) -> Vec<Member> {
        let levels = [Experience::Advanced, Experience::Intermediate, Experience::Beginner, Experience::New];
        (0..people)
            .map(|n| Member {
                name: format!("Member {n}"),
                sex: Some(if n % 2 == 0 { Sex::M } else { Sex::F }),
                experience: levels[n % levels.len()],
                ..Member::default()
            })
            .collect()
    }

    const TEXTS: [&str; 3] = [
        "21-15-9 for time, cap 12\nthrusters 40/30 kg\npull-ups\ngoal 4-9 min",
        "AMRAP 12\n10 burpees\n10 air squats\ngoal 5-6 rounds",
        "For time\n60 wall balls 9/6 kg\nat the start of every minute: 4 burpees",
    ];

    #[test]
    fn every_place_of_a_rail_lies_on_it_and_in_the_order_of_the_clock() {
        let catalogue = Catalogue::standard();
        for text in TEXTS {
            let session = read(text, catalogue).session;
            let plan = plan(&session, &class(9), &Gym::default(), catalogue, 1);
            let (piece, part) = (&plan.pieces[0], &session.parts[0]);
            let rails = PaceRail::of(piece, part);
            assert!(!rails.is_empty(), "{text}");
            for rail in &rails {
                let xs: Vec<f64> = rail.points.iter().map(|point| point.x).collect();
                assert!(xs.is_sorted() && xs.iter().all(|x| (0.0..=WIDTH).contains(x)), "{text}: {xs:?}");
                assert!(rail.rounds.iter().all(|mark| mark.x <= rail.end_x + 1e-6), "{text}");
                if let (Some(cap), Some((low, high))) = (rail.cap_x, rail.window_x) {
                    assert!(low <= high && high <= cap, "{text}: {low} {high} {cap}");
                }
            }
        }
    }

    #[test]
    fn every_bar_of_the_class_chart_lies_in_the_plot_and_holds_its_median() {
        let catalogue = Catalogue::standard();
        for (text, people) in TEXTS.into_iter().flat_map(|text| [(text, 5), (text, 28)]) {
            let session = read(text, catalogue).session;
            let plan = plan(&session, &class(people), &Gym::default(), catalogue, 1);
            let ids: Vec<_> = (0..people as i64).map(lantern_store::MemberId::new).collect();
            let chart = ClassChart::new(&plan.pieces[0], &session.parts[0], &ids);
            assert_eq!((chart.rows.len(), chart.dense), (people, people == 28));
            for row in &chart.rows {
                let end = row.bar_x + row.bar_width;
                assert!(row.bar_x >= crate::day::pace::chart::PLOT_X && row.y < chart.height, "{text}");
                assert!(row.bar_x - 0.1 <= row.middle_x && row.middle_x <= end + 0.1, "{text}: {}", row.name);
            }
            assert!(chart.rows.is_sorted_by(|a, b| a.y < b.y));
        }
    }
}
