//! Where each version should be by now.

use serde::Serialize;

use crate::pacing::Mark;
use crate::plan::{MemberPiece, PiecePlan};
use crate::session::works;
use crate::versions::VersionName;

/// A place in a piece, and when it is reached.
#[derive(Clone, Copy, Debug, PartialEq, Serialize)]
pub struct Place {
    /// Seconds from the start of the piece.
    pub at_s: f64,
    /// Round, rung or interval, from 1.
    pub round: u32,
    /// Which of the piece's works, from 0.
    pub row: usize,
}

/// A version on its way through a piece, at the pace of the middle of those who do it.
#[derive(Clone, Debug, PartialEq, Serialize)]
pub struct Lantern {
    /// The version.
    pub version: VersionName,
    /// Where it is when, in order of time.
    pub path: Vec<Place>,
    /// When it is done, in seconds.
    pub ends_s: f64,
    /// How many do it.
    pub people: usize,
}

/// Of every version of a piece that somebody does in class.
pub fn lanterns(piece: &PiecePlan) -> Vec<Lantern> {
    let rows = works(&piece.written().tree).len();
    let of_version = |version: VersionName| {
        let mut doing: Vec<&MemberPiece> =
            piece.members.iter().filter(|member| member.chosen().version == version).collect();
        doing.sort_by(|a, b| a.chosen().run.finish_s.total_cmp(&b.chosen().run.finish_s));
        let middle = doing.get(doing.len() / 2)?;
        let chosen = middle.chosen();
        // A team's clock is not that of one with mates alike.
        let scale = middle.predicted().finish_s.p50 / chosen.predicted.finish_s.p50.max(1.0);
        let names: Vec<_> = works(&chosen.tree).into_iter().map(|work| work.movement.clone()).collect();
        // What cuts in at a mark is told after what it cuts into.
        let mut marks: Vec<&Mark> = chosen.run.marks.iter().collect();
        marks.sort_by(|a, b| a.from_s.total_cmp(&b.from_s));
        let row = rows_of(&marks, |mark, row| names.get(row) == Some(&mark.movement), names.len());
        let place = |(mark, row): (&Mark, usize)| Place {
            at_s: (mark.from_s * scale * 10.0).round() / 10.0,
            round: mark.round,
            // Where a swap has made two works of one, the place is about that of what was written.
            row: if names.len() == rows { row } else { row * rows / names.len().max(1) },
        };
        let mut path: Vec<Place> = marks.into_iter().zip(row).map(place).collect();
        path.dedup_by_key(|place| (place.round, place.row));
        Some(Lantern { version, path, ends_s: (chosen.run.finish_s * scale).round(), people: doing.len() })
    };
    // What spares somebody, or is done at home, moves on nobody's wall.
    [VersionName::AsWritten, VersionName::Lighter, VersionName::Simpler, VersionName::FirstLight]
        .into_iter()
        .filter_map(of_version)
        .collect()
}

/// For each mark the work that it is about: the next one on from the last that is of the same movement.
fn rows_of(marks: &[&Mark], is: impl Fn(&Mark, usize) -> bool, count: usize) -> Vec<usize> {
    let mut now = 0;
    let mut row = |mark: &Mark| {
        let ahead = (0..count).map(|step| (now + step) % count.max(1));
        now = ahead.into_iter().find(|row| is(mark, *row)).unwrap_or(now);
        now
    };
    marks.iter().map(|mark| row(mark)).collect()
}
