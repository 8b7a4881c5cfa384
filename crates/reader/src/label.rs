//! The mark at the front of a sentence: a bullet, a number, a letter, a minute.

use crate::lexicon::Lexicon;
use crate::tokens::{Kind, Token};

/// What stands at the front.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Label {
    /// Nothing.
    None,
    /// `-`, `*`, `+` and the like.
    Bullet,
    /// `3)` or `3.`: a place in an order.
    Number(u32),
    /// `B)`; `A1)` has a number too.
    Letter(char, Option<u32>),
    /// `min 3 -`.
    Minute(u32),
    /// `Station 3:`, which takes its turn however long the turns are.
    Station(u32),
    /// `odd:` and `even:` minutes; true for odd.
    Odd(bool),
    /// `Part 2 -`.
    Part,
    /// `AMRAP 2:` as the second bout of several.
    Bout(u32),
    /// `Sets 3-4:`; the first and the last of them.
    Sets(u32, u32),
    /// `Round 2:`.
    Round(u32),
}

impl Label {
    /// Whether it numbers an entry: a station, a minute, a letter.
    pub fn is_entry(self) -> bool {
        matches!(self, Self::Number(_) | Self::Minute(_) | Self::Odd(_) | Self::Letter(..))
    }
}

/// The label at the front of tokens, and the token behind it. Bullets may stand before another label.
pub fn take(tokens: &[Token], starts_line: bool, lexicon: &Lexicon) -> (Label, usize) {
    let mut from = 0;
    let mut label = Label::None;
    if starts_line
        && let Some(token) = tokens.first()
        && matches!(token.kind, Kind::Sign(c) if !matches!(c, '(' | '@' | '%' | '"' | '\'' | '[' | '/' | '\u{2026}'))
        && tokens.len() > 1
    {
        // "+ 20 double-unders" is a bullet; "+2 reps a round" is not.
        if tokens[1].spaced || !token.is('+') {
            label = Label::Bullet;
            let foreign = |next: &&Token| {
                next.kind == token.kind || matches!(next.kind, Kind::Sign(c) if !c.is_ascii())
            };
            from = tokens.iter().take_while(foreign).count().max(1);
            from = from.min(tokens.len() - 1);
        }
    }
    match one(&tokens[from..], lexicon) {
        Some((found, end)) => (found, from + end),
        None => (label, from),
    }
}

fn closes(token: Option<&Token>, signs: &[char]) -> bool {
    token.is_some_and(|token| signs.iter().any(|sign| token.is(*sign)))
}

fn one(tokens: &[Token], lexicon: &Lexicon) -> Option<(Label, usize)> {
    let word = |n: usize| tokens.get(n).and_then(Token::word);
    let whole = |n: usize| {
        tokens.get(n).and_then(Token::number).filter(|n| n.fract() == 0.0 && *n <= 60.0).map(|n| n as u32)
    };
    let class = |n: usize, name: &str| {
        let class = lexicon.class(name)?;
        lexicon.at(tokens, n).into_iter().filter(|(known, _)| *known == class).map(|(_, end)| end).max()
    };
    let behind = |n: usize, signs: &[char]| {
        let count = tokens[n.min(tokens.len())..]
            .iter()
            .take_while(|token| signs.iter().any(|sign| token.is(*sign)))
            .count();
        (count > 0).then_some(n + count)
    };
    let open = usize::from(closes(tokens.first(), &['(']));
    // "1a" and "1b" are the first pair.
    if let Some(n) = whole(open).filter(|n| (1..=8).contains(n))
        && let Some(letter) = tokens.get(open + 1).filter(|token| !token.spaced).and_then(Token::word)
        && letter.len() == 1
        && ('a'..='e').contains(&letter.chars().next()?)
    {
        let place = u32::from(letter.as_bytes()[0] - b'a') + 1;
        let end = behind(open + 2, &[')', '.', ':', '|', '-']).unwrap_or(open + 2);
        if end > open + 2 || tokens.get(end).is_none_or(|token| token.spaced && token.word().is_some()) {
            return Some((Label::Letter(char::from(b'a' + n as u8 - 1), Some(place)), end));
        }
    }
    if let Some(n) = whole(open) {
        let end = open + 1;
        let spaced = |n: usize| tokens.get(n).is_none_or(|token| token.spaced);
        // "2/ Workout"
        let slashed = closes(tokens.get(end), &['/'])
            && !tokens[end].spaced
            && tokens.get(end + 1).is_some_and(|token| token.spaced && token.word().is_some());
        if slashed && open == 0 {
            return (n <= 20).then_some((Label::Number(n), end + 1));
        }
        if closes(tokens.get(end), &[')', '|'])
            || closes(tokens.get(end), &['.', ':']) && spaced(end + 1) && open == 0
        {
            return (n <= 20).then_some((Label::Number(n), end + 1));
        }
        // "1 - 14 air squats" numbers; "10 - 9 - 8" is a scheme.
        if open == 0
            && closes(tokens.get(1), &['-'])
            && spaced(1)
            && spaced(2)
            && n <= 20
            && !(whole(2).is_some() && (closes(tokens.get(3), &['-', '%', '\u{2026}'])))
            && tokens.len() > 2
            && (word(2).is_some() || word(3).is_some() || whole(2).is_some() && word(5).is_some())
            && class(2, "unit.min").is_none()
            && class(3, "round").is_none()
            && class(3, "unit.min").is_none()
        {
            return Some((Label::Number(n), 2));
        }
        return None;
    }
    let first = word(open)?;
    // "Option 1 (who has ropes): ...": the first of several is the class's.
    if matches!(first, "option" | "version" | "choice")
        && (whole(open + 1) == Some(1) || word(open + 1) == Some("a"))
        && let Some(end) = behind_a_bracket(tokens, open + 2)
    {
        return Some((Label::Part, end));
    }
    // A letter in a line of its own.
    if tokens.len() == 1 && first.len() == 1 && ('a'..='f').contains(&first.chars().next()?) {
        return Some((Label::Letter(first.chars().next()?, None), 1));
    }
    if matches!(first, "i" | "ii" | "iii" | "iv" | "v" | "vi")
        && closes(tokens.get(open + 1), &['.', ')'])
        && tokens.len() > open + 2
    {
        return Some((Label::Part, open + 2));
    }
    if first.len() == 1 && ('a'..='h').contains(&first.chars().next()?) {
        let letter = first.chars().next()?;
        let number =
            tokens.get(open + 1).filter(|token| !token.spaced).and_then(Token::number).map(|n| n as u32);
        let end = open + 1 + usize::from(number.is_some());
        if let Some(end) = behind(end, &[')', ']', '.', ':', '|']) {
            return Some((Label::Letter(letter, number), end));
        }
        let gap = tokens.get(end).is_some_and(|token| token.gap && token.word().is_some());
        if gap && open == 0 {
            return Some((Label::Letter(letter, number), end));
        }
        let stands_apart =
            || tokens[end].spaced || tokens[end].is('/') && tokens.get(end + 1).is_some_and(|t| t.spaced);
        if closes(tokens.get(end), &['-', '/']) && stands_apart() {
            return Some((Label::Letter(letter, number), end + 1));
        }
        if number.is_some_and(|n| n <= 9) && tokens.len() > end && letter != 'e' {
            return Some((Label::Letter(letter, number), end));
        }
        return None;
    }
    // "M1: 10 pull-ups"
    if first == "m"
        && let Some(n) = whole(open + 1).filter(|n| *n > 0 && !tokens[open + 1].spaced)
        && let Some(end) = behind(open + 2, &[':', '-', '.', ')', '=']).or_else(|| {
            // "m1 12 cal row", "m4 off"
            tokens.get(open + 2).is_some_and(|token| token.spaced).then_some(open + 2)
        })
    {
        return Some((Label::Minute(n), end));
    }
    // "1st: 12 cal row", "second - ..."
    let ordinal = match first {
        "1st" | "first" => Some(1),
        "2nd" | "second" => Some(2),
        "3rd" | "third" => Some(3),
        "4th" | "fourth" => Some(4),
        "5th" | "fifth" => Some(5),
        "6th" | "sixth" => Some(6),
        _ => None,
    };
    if let (Some(n), Some(end)) = (ordinal, behind(1, &[':', '='])) {
        return Some((Label::Number(n), end));
    }
    // "First minute 4 burpees"
    let counts = tokens.get(2).is_some_and(|token| token.number().is_some());
    if let Some(n) = ordinal.filter(|_| counts && matches!(word(1), Some("minute" | "min"))) {
        return Some((Label::Minute(n), 2));
    }
    if first.chars().next()?.is_ascii_digit() {
        let number = first.trim_end_matches(char::is_alphabetic).parse().ok();
        let counted = word(1)
            .is_some_and(|word| matches!(word, "min" | "minute" | "round" | "set" | "station" | "interval"));
        if let (Some(n), true) = (number, counted) {
            let end = behind(2, &[':', '-', '.', ')', ',', '=']).unwrap_or(2);
            return Some((Label::Minute(n), end));
        }
    }
    if matches!(first, "min" | "mins" | "minute" | "minutes")
        && let Some(n) = whole(1)
    {
        // "minutes 0-15" and "min 6 to 12" are windows.
        let upto = matches!(word(2), Some("to" | "until" | "till"));
        if (closes(tokens.get(2), &['-']) && !tokens[2].spaced || upto) && whole(3).is_some() {
            return None;
        }
        return Some((Label::Minute(n), behind(2, &[':', '-', '.', ')', ',', '=']).unwrap_or(2)));
    }
    if matches!(first, "odd" | "even" | "odds" | "evens") {
        let end = ["unit.min", "round", "set"].iter().find_map(|name| class(1, name)).unwrap_or(1);
        let end = end + usize::from(word(end) == Some("intervals"));
        // "odd 12 cal ski, even 14 sit-ups"
        let counted = tokens.get(end).is_some_and(|token| token.number().is_some()).then_some(end);
        let end = behind(end, &[':', '-', '=', ')']).or(counted);
        return end.map(|end| (Label::Odd(first.starts_with('o')), end));
    }
    // "Minutes 1, 3, 5:", "on 2, 4, 6:" are the odd and the even ones.
    let opens =
        usize::from(matches!(first, "on" | "in" | "minutes" | "mins" | "rounds" | "round" | "intervals"));
    let mut places = Vec::new();
    let mut at = opens + usize::from(opens == 1 && matches!(word(1), Some("minutes" | "mins" | "rounds")));
    while let Some(n) = whole(at).filter(|_| opens == 1) {
        places.push(n);
        at += 1;
        while closes(tokens.get(at), &[',', '&', '+', '/']) || word(at) == Some("and") {
            at += 1;
        }
    }
    let alternate =
        places.len() >= 2 && places.windows(2).all(|pair| pair[1] == pair[0] + 2) && places[0] <= 2;
    if alternate && let Some(end) = behind(at, &[':', '-', '=']) {
        return Some((Label::Odd(places[0] == 1), end));
    }
    if let Some(end) = class(0, "partword") {
        let named = whole(end).is_some()
            || word(end).is_some_and(|w| w.len() == 1 || crate::values::number_word(w).is_some());
        if named {
            let end = end + 1;
            // "Metcon 15-12-9" is a scheme.
            if closes(tokens.get(end), &['-']) && !tokens[end].spaced && whole(end + 1).is_some() {
                return None;
            }
            // "Part 2 starts at 12:00: ..." is told by the clock of the day, and no longer for it.
            let begins =
                end + usize::from(matches!(word(end), Some("starts" | "begins" | "start" | "begin")));
            let at = begins + usize::from(matches!(word(begins), Some("at" | "from")));
            let clock = matches!(tokens.get(at).map(|token| &token.kind), Some(Kind::Clock(_)));
            let end =
                if at > end && clock && closes(tokens.get(at + 1), &[':', '-', ',']) { at + 1 } else { end };
            let closed = behind(end, &[':', '-', '.', ')', ',', '=', '*', '#', '|', '_']);
            // "Part A 0-6 min: ..."
            let clocked =
                matches!(tokens.get(end).map(|token| &token.kind), Some(Kind::Number(_) | Kind::Clock(_)))
                    && closes(tokens.get(end + 1), &['-'])
                    && tokens.get(end + 3).is_some_and(|token| {
                        token.is(':') || token.is('\'') || class(end + 3, "unit.min").is_some()
                    });
            let framed = clocked || tokens.get(end).is_some_and(|token| token.is('('));
            if closed.is_some() || framed || end == tokens.len() {
                // "Wave 2: 5/3/1 @ 70/80/90" goes on with the sets of the lift above.
                let sets =
                    first == "wave" && tokens[end..].iter().any(|token| token.is('@') || token.is('%'));
                return Some((if sets { Label::Bullet } else { Label::Part }, closed.unwrap_or(end)));
            }
        }
    }
    let lettered = || {
        let letter = word(1).filter(|word| word.len() == 1)?.chars().next()?;
        ('a'..='d').contains(&letter).then(|| u32::from(letter) - u32::from('a') + 1)
    };
    // "P1: row", "partner B: plank": who stands where.
    if matches!(first, "p" | "partner" | "athlete" | "person")
        && let Some(n) = whole(1).filter(|n| (1..=6).contains(n)).or_else(lettered)
        && let Some(end) = behind(2, &[':', '=', '-', ')'])
    {
        return Some((Label::Station(n), end));
    }
    if let Some(end) = class(0, "stationword")
        && let Some(n) = whole(end)
    {
        let label = if matches!(first, "station" | "stn") { Label::Station(n) } else { Label::Number(n) };
        return Some((label, behind(end + 1, &[':', '-', '.', ')', ',', '=']).unwrap_or(end + 1)));
    }
    if matches!(first, "set" | "sets")
        && let Some(low) = whole(1)
    {
        let joined = closes(tokens.get(2), &['-', '+', '&', ',']) || matches!(word(2), Some("and" | "to"));
        let high = whole(3).filter(|high| joined && *high >= low);
        // "Sets 1-2 @ 70": the share says what it is of.
        if high.is_some() && closes(tokens.get(4), &['@']) {
            return None;
        }
        // "Set 1 - 8 reps" names one set, "sets 1 - 3: 8 reps" three.
        let several = high.and_then(|high| Some((behind(4, &[':', '=', '-', ')'])?, high)));
        let (end, high) = several.or_else(|| Some((behind(2, &[':', '=', '-', ')'])?, low)))?;
        return Some((Label::Sets(low, high), end));
    }
    if matches!(first, "round" | "rd" | "rds" | "rounds")
        && let Some(n) = whole(1)
    {
        return behind(2, &[':', '=', '-', ')']).map(|end| (Label::Round(n), end));
    }
    // "AMRAP #2:"
    let sharp = usize::from(closes(tokens.get(1), &['#']));
    if first == "amrap"
        && let Some(n) = whole(1 + sharp).filter(|n| *n <= 4).or_else(lettered)
    {
        let signs: &[char] = if word(1).is_some() { &[':', ')', '-'] } else { &[':', ')'] };
        return behind(2 + sharp, signs).map(|end| (Label::Bout(n), end));
    }
    None
}

/// Behind the colon or the dash that stands at a token, or behind a bracket that does.
fn behind_a_bracket(tokens: &[Token], at: usize) -> Option<usize> {
    let open = tokens.get(at).is_some_and(|token| token.is('('));
    let at = if open { at + 1 + tokens[at..].iter().position(|token| token.is(')'))? } else { at };
    tokens.get(at).is_some_and(|token| token.is(':') || token.is('-')).then_some(at + 1)
}
