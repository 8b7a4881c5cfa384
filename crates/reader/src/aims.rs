//! What a piece should take, told elsewhere than in it: above the day, behind a lift, or of several pieces in one sentence.

use lantern_session::{Assumption, Format, Part, PartKind, Target};

use crate::say::{Aim, Place};

/// An aim as it is told.
#[derive(Clone, Copy, Debug, PartialEq)]
pub(crate) struct Told {
    /// The line it is told in.
    pub line: usize,
    pub low: Option<f64>,
    pub high: Option<f64>,
    pub of: Aim,
    /// The piece that it is of.
    pub place: Place,
}

impl Told {
    /// As the target of a piece of a format: a bare number counts rounds of an open piece, and minutes of any other.
    pub fn target(self, format: Option<Format>) -> Target {
        let whole = |value: Option<f64>, factor: f64| value.map(|v| (v * factor).round() as u32);
        match self.of {
            Aim::Bare if format == Some(Format::Amrap) => Target::rounds(self.low, self.high),
            Aim::Bare => Target::seconds(whole(self.low, 60.0), whole(self.high, 60.0)),
            Aim::Rounds => Target::rounds(self.low, self.high),
            Aim::Reps => Target {
                reps_low: whole(self.low, 1.0),
                reps_high: whole(self.high, 1.0),
                ..Target::default()
            },
            Aim::Seconds => Target::seconds(whole(self.low, 1.0), whole(self.high, 1.0)),
        }
    }

    /// Whether a piece can be aimed at so: nobody counts the rounds of what is done against the clock once.
    fn fits(self, part: &Part) -> bool {
        let open = matches!(part.format, Some(Format::Amrap | Format::UntilFailure));
        part.target.is_none()
            && match self.of {
                Aim::Rounds => open,
                Aim::Reps => open || part.format != Some(Format::ForTime),
                Aim::Seconds => !open && part.format != Some(Format::Every),
                Aim::Bare => true,
            }
    }
}

/// Gives each aim to its piece; `before` is how many parts stood above it.
pub(crate) fn place(told: &[(usize, Told)], parts: &mut [Part], assumptions: &mut Vec<Assumption>) {
    for (before, aim) in told {
        let piece = |part: &Part| matches!(part.kind, PartKind::Conditioning | PartKind::Home);
        let main = |part: &Part| piece(part) || matches!(part.kind, PartKind::Strength | PartKind::Skill);
        let nth = |of: &dyn Fn(&Part) -> bool, n: u32| {
            let mut places = (0..parts.len()).filter(|at| of(&parts[*at]));
            if n == 0 { places.next_back() } else { places.nth(n as usize - 1) }
        };
        let alike = |at: usize| {
            let of = |part: &Part| (part.kind, part.format, part.duration_s);
            parts.get(*before).is_some_and(|own| of(own) == of(&parts[at]))
        };
        let found: Vec<usize> = match aim.place {
            Place::Next => {
                let takes = |at: &usize| piece(&parts[*at]) && aim.fits(&parts[*at]);
                let before = (*before).min(parts.len());
                (before..parts.len()).find(takes).or((0..before).rev().find(takes)).into_iter().collect()
            }
            Place::Piece(n) => nth(&piece, n).into_iter().collect(),
            Place::Part(n) => nth(&main, n).into_iter().collect(),
            Place::Each => (0..parts.len()).filter(|at| alike(*at)).collect(),
        };
        for at in found {
            let part = &mut parts[at];
            if !aim.fits(part) {
                continue;
            }
            part.target = Some(aim.target(part.format));
            if aim.place == Place::Next {
                let message = format!("what line {} aims at is of this piece", aim.line);
                assumptions.push(Assumption { line: part.lines.0, column: 1, message });
            }
        }
    }
}
