//! The mark at the front of a line: a bullet, a number, a letter, a minute.

use std::sync::LazyLock;

use regex::Regex;

/// What stands at the front of a line.
#[derive(Clone, Debug, PartialEq, Eq)]
pub(super) enum Label {
    /// Nothing.
    None,
    /// `-`, `*`, `+` and the like.
    Bullet,
    /// `3)` or `3.`: a place in an order.
    Number(u32),
    /// `B)` or `B.`; `A1)` has a number too.
    Letter(char, Option<u32>),
    /// `min 3 -`, `minute 3:`.
    Minute(u32),
    /// `odd:` and `even:` minutes; true for odd.
    Odd(bool),
    /// `Part 2 -`.
    Part,
    /// `AMRAP 2:` as the second bout of several, not as one of two minutes.
    Bout(u32),
    /// `Sets 3-4:`; the first and the last of them.
    Sets(u32, u32),
}

/// A pattern and what its text means.
type Rule = (Regex, fn(&str) -> Label);

static RULES: LazyLock<Vec<Rule>> = LazyLock::new(|| {
    let rule = |pattern: &str, read: fn(&str) -> Label| (Regex::new(pattern).expect("tested"), read);
    vec![
        rule(
            r"^(?:part|block|section|segment) (?:\d{1,2}|[a-f]|one|two|three|four)\b\s*(?:[-:.),]+\s*|$)",
            |_| Label::Part,
        ),
        rule(r"^amrap\s*#?\s?[1-4]\s*[:)]\s*", |text| Label::Bout(digits(text))),
        rule(r"^sets?\s*#?\s?\d{1,2}(?:\s*(?:-|to|and|&|,|/)\s*\d{1,2})?\s*[:=)-]\s*", sets),
        rule(r"^(?:min|mins|minute|minutes) ?\d{1,2}\b\s*(?:[-:.),=]+\s*|$|)", |text| {
            Label::Minute(digits(text))
        }),
        rule(r"^(?:station|stn|stop|movement|exercise)\s*#?\d{1,2}\b\s*(?:[-:.),=]+\s*|\s|$)", |text| {
            Label::Number(digits(text))
        }),
        rule(
            r"^\(?(?:odd|even)(?: minutes?| mins?| rounds?| sets?| intervals?| ones)?\s*[-:)=]+\s*",
            |text| Label::Odd(text.contains("odd")),
        ),
        // "1 - 14 air squats" is a place in an order; "10 - 9 - 8" is a scheme.
        rule(r"^\(?\d{1,2}\s*(?:\)|\.(?:\s|$)|:\s)\s*", |text| Label::Number(digits(text))),
        rule(r"^\(?[a-h][1-9]?\s*(?:\)|\.(?:\s|$)|:\s?|\s-\s)\s*", letter),
        rule(r"^[a-h][1-9]\s+", letter),
        rule(r"^[-*+>#=~o|]+\s+", |_| Label::Bullet),
        rule(r"^[-*>#]+", |_| Label::Bullet),
    ]
});

static DASHED_NUMBER: LazyLock<Regex> = LazyLock::new(|| Regex::new(r"^(\d{1,2})\s+-\s+").expect("tested"));
static SCHEME: LazyLock<Regex> =
    LazyLock::new(|| Regex::new(r"^\d+\s*-\s*\d+\s*(?:-|\.\.)").expect("tested"));

/// Takes labels off the front of a comparable line: the last of them, and where the rest begins.
pub(super) fn take_label(text: &str) -> (Label, usize) {
    let mut found = Label::None;
    let mut place = text.len() - text.trim_start().len();
    // A bullet may stand before a number ("- 1) row"), never more than that.
    for _ in 0..2 {
        let rest = &text[place..];
        if let Some((label, length)) = one_label(rest) {
            found = label;
            place += length;
        }
    }
    (found, place)
}

/// Lines that only number the stations announced above them: "1 wall balls", "2 box jumps", "3 row".
pub(super) fn numbered_stations(text: &str) -> Vec<usize> {
    const FEWEST: usize = 3;
    let leading = |line: &str| -> Option<usize> {
        let (number, rest) = line.trim_start().split_once(' ')?;
        let number = number.parse().ok()?;
        rest.trim_start().starts_with(char::is_alphabetic).then_some(number)
    };
    let mut found = Vec::new();
    let mut run = Vec::new();
    let mut announced = false;
    for (n, line) in text.lines().enumerate() {
        match leading(line) {
            Some(number) if announced && number == run.len() + 1 => run.push(n + 1),
            _ => {
                if run.len() >= FEWEST {
                    found.append(&mut run);
                }
                run.clear();
                announced = line.to_lowercase().contains("station");
            }
        }
    }
    if run.len() >= FEWEST {
        found.append(&mut run);
    }
    found
}

fn one_label(rest: &str) -> Option<(Label, usize)> {
    if let Some(found) = DASHED_NUMBER.captures(rest).filter(|_| !SCHEME.is_match(rest)) {
        return Some((Label::Number(digits(&found[1])), found[0].len()));
    }
    RULES.iter().find_map(|(pattern, read)| {
        let found = pattern.find(rest)?;
        (found.end() > 0).then(|| (read(found.as_str()), found.end()))
    })
}

fn letter(text: &str) -> Label {
    let c = text.chars().find(char::is_ascii_alphabetic).unwrap_or('a');
    Label::Letter(c, text.chars().find_map(|c| c.to_digit(10)))
}

fn sets(text: &str) -> Label {
    let mut numbers = text.split(|c: char| !c.is_ascii_digit()).filter_map(|n| n.parse().ok());
    let first = numbers.next().unwrap_or(1);
    Label::Sets(first, numbers.next().filter(|last| *last >= first).unwrap_or(first))
}

fn digits(text: &str) -> u32 {
    let digits: String = text.chars().filter(char::is_ascii_digit).collect();
    digits.parse().unwrap_or(0)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn labels_are_told_from_work() {
        for (text, label, rest) in [
            ("1) 12/10 cal row", Label::Number(1), "12/10 cal row"),
            ("1 - 14 air squats", Label::Number(1), "14 air squats"),
            ("a1) dumbbell row 4x10", Label::Letter('a', Some(1)), "dumbbell row 4x10"),
            ("a1 12 bench dips", Label::Letter('a', Some(1)), "12 bench dips"),
            ("a. strength", Label::Letter('a', None), "strength"),
            ("min 2 - 2 clean and jerks", Label::Minute(2), "2 clean and jerks"),
            ("odd: 10 burpees", Label::Odd(true), "10 burpees"),
            ("sets 3-4: 4 @ 72%", Label::Sets(3, 4), "4 @ 72%"),
            ("amrap 2: 10 burpees", Label::Bout(2), "10 burpees"),
            ("amrap 12: 10 burpees", Label::None, "amrap 12: 10 burpees"),
            ("part 2 - amrap 6", Label::Part, "amrap 6"),
            ("- 200 m row", Label::Bullet, "200 m row"),
            ("10-9-8...1", Label::None, "10-9-8...1"),
            ("10 - 9 - 8", Label::None, "10 - 9 - 8"),
            ("2.5 km run", Label::None, "2.5 km run"),
            ("1:00 bike easy", Label::None, "1:00 bike easy"),
            ("air squats", Label::None, "air squats"),
        ] {
            let (found, place) = take_label(text);
            assert_eq!((found, &text[place..]), (label, rest), "{text}");
        }
    }
}
