//! A part of a day in a line or two.

use lantern_core::movement::Catalogue;
use lantern_core::print::{week_text, work_lines};
use lantern_core::session::{Part, PartKind, works};
use lantern_core::units::clock_s;

/// A part as a card of the week shows it.
pub(super) struct PartLine {
    pub kind: &'static str,
    /// What it is: `back squat 5x5 @ 75%`, `For time, cap 12:00`; nothing where the movements say it all.
    pub head: String,
    /// What is done in it.
    pub rest: String,
    names: Vec<String>,
}

impl PartLine {
    pub fn of(part: &Part, catalogue: &Catalogue) -> Self {
        let mut names: Vec<String> = Vec::new();
        for work in works(&part.tree) {
            let name = catalogue.name(&work.movement).to_lowercase();
            if !names.contains(&name) {
                names.push(name);
            }
        }
        let is_work = |line: &String| !line.starts_with("rest ") && !line.starts_with("week ");
        let mut lines: Vec<String> =
            work_lines(part, &part.tree, catalogue).into_iter().filter(is_work).collect();
        let kind = part.kind.heading();
        if !matches!(part.kind, PartKind::Strength | PartKind::Skill | PartKind::Conditioning)
            || lines.is_empty()
        {
            return Self { kind, head: String::new(), rest: names.join(", "), names };
        }
        // Who does it together says less than what is done.
        if lines.len() > 1 && lines[0].starts_with("Teams of ") {
            lines.swap(0, 1);
        }
        let mut head = lines.remove(0);
        // A share of the max stands in a line of its own.
        if lines.first().is_some_and(|line| line.starts_with('@')) {
            head = format!("{head} {}", lines.remove(0));
        }
        if let Some((week, of)) = part.strength.week {
            head = format!("{head}, {}", week_text(week, of));
        }
        if let Some(cap_s) = part.cap_s {
            head = format!("{head}, cap {}", clock_s(cap_s));
        }
        Self { kind, head, rest: lines.join(" · "), names }
    }

    /// The same in one line.
    pub fn in_short(self) -> String {
        let is_named = self.names.iter().any(|name| self.head.to_lowercase().contains(name));
        match (self.head.is_empty(), is_named) {
            (false, true) => self.head,
            (false, false) => format!("{}: {}", self.head, self.names.join(", ")),
            (true, _) => self.names.join(", "),
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use lantern_core::read::read;

    #[test]
    fn a_lift_and_a_piece_say_what_they_are() {
        let catalogue = Catalogue::standard();
        let text = "Strength\nBack squat 5x5 @ 75%\nrest 2:00\n\nFor time, cap 12\n21-15-9\nthrusters 40/30 kg\npull-ups";
        let session = read(text, catalogue).session;
        let of = |n: usize| PartLine::of(&session.parts[n], catalogue);
        assert_eq!((of(0).head.as_str(), of(0).rest.as_str()), ("back squat 5x5 @ 75%", ""));
        assert_eq!(of(1).head, "For time, cap 12:00");
        assert_eq!(of(1).rest, "21-15-9 · thruster, 40/30 kg · pull-up");
        assert_eq!(of(0).in_short(), "back squat 5x5 @ 75%");
        assert_eq!(of(1).in_short(), "For time, cap 12:00: thruster, pull-up");
    }
}
