//! The smallest pieces of a line: numbers, clock times, words and signs, each with its place.

/// A piece of a line.
#[derive(Clone, Debug, PartialEq)]
pub struct Token {
    /// What it is.
    pub kind: Kind,
    /// First character, counted from 0.
    pub start: usize,
    /// The character behind it.
    pub end: usize,
    /// Whether a space or the beginning of the line stands before it.
    pub spaced: bool,
    /// Whether a gap of a tab or two spaces stands before it.
    pub gap: bool,
}

/// What a token is.
#[derive(Clone, Debug, PartialEq)]
pub enum Kind {
    /// `12`, `2.5`, `2,5`, `1 1/2`.
    Number(f64),
    /// `1:30`, in seconds.
    Clock(u32),
    /// Letters in lower case, with apostrophes inside; mixed runs that are a name (`t2b`) stay whole.
    Word {
        /// As written, in lower case.
        text: String,
        /// The known word that it is a slip away from.
        mended: Option<String>,
    },
    /// Anything else that is no space.
    Sign(char),
}

impl Token {
    /// The text of a word.
    pub fn word(&self) -> Option<&str> {
        match &self.kind {
            Kind::Word { text, .. } => Some(text),
            _ => None,
        }
    }

    /// Whether it is this sign.
    pub fn is(&self, sign: char) -> bool {
        self.kind == Kind::Sign(sign)
    }

    /// The value of a number.
    pub fn number(&self) -> Option<f64> {
        match self.kind {
            Kind::Number(value) => Some(value),
            _ => None,
        }
    }
}

/// Largest number that is read; longer rows of digits are cut down to it.
const LARGEST: f64 = 1_000_000.0;

/// Signs that stand for others.
fn plain(c: char) -> char {
    match c {
        '\u{2010}'..='\u{2015}' | '\u{2212}' | '\u{ad}' => '-',
        '\u{2018}' | '\u{2019}' | '\u{2032}' | '`' | '\u{b4}' => '\'',
        '\u{201c}' | '\u{201d}' | '\u{2033}' | '\u{201e}' => '"',
        '\u{d7}' | '\u{2715}' | '\u{2716}' => 'x',
        '\u{2022}' | '\u{25cf}' | '\u{25aa}' | '\u{25e6}' | '\u{2023}' | '\u{b7}' => '*',
        '\u{2192}' | '\u{27a1}' => '>',
        '\u{b9}'
        | '\u{b2}'
        | '\u{b3}'
        | '\u{2070}'..='\u{2079}'
        | '\u{a0}'
        | '\u{2009}'
        | '\u{202f}'
        | '\t' => ' ',
        '\u{ff0c}' | '\u{3001}' => ',',
        other => other,
    }
}

/// Mends what a scan takes for each other: `2OO m`, `l0 R0UNDS`.
fn unscan(chars: &mut [char], knows: &dyn Fn(&str) -> bool) {
    let mut at = 0;
    while at < chars.len() {
        let end = (at..chars.len()).find(|&n| !chars[n].is_alphanumeric()).unwrap_or(chars.len());
        if end == at {
            at += 1;
            continue;
        }
        let run = &mut chars[at..end];
        let digits = run.iter().filter(|c| c.is_ascii_digit()).count();
        if digits > 0 && digits < run.len() && run.len() <= 14 {
            let digit = |c: char| match c {
                'O' | 'o' => '0',
                'l' | 'I' => '1',
                c => c,
            };
            let letter = |c: char| match c {
                '0' => 'o',
                '1' => 'l',
                c => c.to_ascii_lowercase(),
            };
            let as_number: Vec<char> = run.iter().map(|c| digit(*c)).collect();
            let as_word: String = run.iter().map(|c| letter(*c)).collect();
            // "10" is written so; a letter that stands for a digit is one of a number of two or more.
            let unit = run[0].is_ascii_digit() && digits == 1 && run.len() == 2 && run[1] == 'l';
            if as_number.iter().all(char::is_ascii_digit) && !unit {
                run.copy_from_slice(&as_number);
            } else if run[0].is_alphabetic()
                && !knows(&run.iter().collect::<String>().to_lowercase())
                && knows(&as_word)
            {
                for (c, plain) in run.iter_mut().zip(as_word.chars()) {
                    *c = plain;
                }
            }
        }
        at = end;
    }
}

/// Splits a line. `knows` tells whether a run of letters and digits (`t2b`, `c2b`) is a name of its own.
pub fn tokens(line: &str, knows: &dyn Fn(&str) -> bool) -> Vec<Token> {
    let mut chars: Vec<char> = line.chars().map(plain).collect();
    let original: Vec<char> = line.chars().collect();
    unscan(&mut chars, knows);
    let chars = chars;
    let mut found = Vec::new();
    let mut at = 0;
    while at < chars.len() {
        let c = chars[at];
        if c.is_whitespace() || c == '\0' {
            at += 1;
            continue;
        }
        let spaced = at == 0 || chars[at - 1].is_whitespace();
        let tab = original.get(at.wrapping_sub(1)) == Some(&'\t');
        let gap = at > 0 && (tab || at > 1 && spaced && chars[at - 2].is_whitespace());
        let mut push = |kind: Kind, end: usize| found.push(Token { kind, start: at, end, spaced, gap });
        if c == ':' && (spaced || chars[at - 1] == '/') && digits(&chars, at + 1) == at + 3 {
            push(Kind::Clock(value(&chars[at + 1..at + 3]) as u32), at + 3);
            at += 3;
        } else if let Some(end) = ordinal(&chars, at) {
            let text: String = chars[at..end].iter().flat_map(|c| c.to_lowercase()).collect();
            push(Kind::Word { text, mended: None }, end);
            at = end;
        } else if c == '-' && chars.get(at + 1) == Some(&'>') {
            push(Kind::Sign('>'), at + 2);
            at += 2;
        } else if c.is_ascii_digit() {
            let (kind, end) = number(&chars, at);
            push(kind, end);
            at = end;
        } else if let Some(part) = fraction(c) {
            push(Kind::Number(part), at + 1);
            at += 1;
        } else if times_a_word(&chars, at, knows) {
            push(Kind::Word { text: "x".to_owned(), mended: None }, at + 1);
            at += 1;
        } else if spaced
            && matches!(c, 'w' | 'W')
            && chars.get(at + 1) == Some(&'/')
            && !abbreviates(&chars, at + 2)
        {
            push(Kind::Word { text: "with".to_owned(), mended: None }, at + 2);
            at += 2;
        } else if let Some(word) = spoken_sign(&chars, at, spaced) {
            push(Kind::Word { text: word.to_owned(), mended: None }, at + 1);
            at += 1;
        } else if c.is_alphabetic() {
            let end = word_end(&chars, at, knows);
            let text: String = chars[at..end].iter().flat_map(|c| c.to_lowercase()).collect();
            push(Kind::Word { text, mended: None }, end);
            at = end;
        } else if c == '.' && chars.get(at + 1) == Some(&'.') {
            let end = (at..chars.len()).find(|&n| chars[n] != '.').unwrap_or(chars.len());
            push(Kind::Sign('\u{2026}'), end);
            at = end;
        } else {
            push(Kind::Sign(c), at + 1);
            at += 1;
        }
    }
    found
}

/// Whether an `x` stands between a number and a word, as in `1xmax`.
fn times_a_word(chars: &[char], at: usize, knows: &dyn Fn(&str) -> bool) -> bool {
    let end = (at..chars.len()).find(|&n| !chars[n].is_alphabetic()).unwrap_or(chars.len());
    let run: String = chars[at..end].iter().flat_map(|c| c.to_lowercase()).collect();
    let behind_a_number = at > 0 && chars[at - 1].is_ascii_digit();
    behind_a_number && run.starts_with('x') && run.len() > 3 && !knows(&run)
}

/// Whether `w/` goes on as an abbreviation: `w/u` is a warm-up, `w/o` is without.
fn abbreviates(chars: &[char], from: usize) -> bool {
    let end = (from..chars.len()).find(|&n| !chars[n].is_alphabetic()).unwrap_or(chars.len());
    end == from + 1
}

/// The word that a sign stands for: "\u{2642} 60 / \u{2640} 40 kg", "5 & 7", "<8".
fn spoken_sign(chars: &[char], at: usize, spaced: bool) -> Option<&'static str> {
    let next = chars.get(at + 1);
    match chars[at] {
        '\u{2642}' => Some("men"),
        '\u{2640}' => Some("women"),
        '&' if spaced && at > 0 && next.is_some_and(|next| next.is_whitespace()) => Some("and"),
        '<' if spaced && next.is_some_and(|next| next.is_ascii_digit()) => Some("under"),
        _ => None,
    }
}

fn fraction(c: char) -> Option<f64> {
    Some(match c {
        '\u{bd}' => 0.5,
        '\u{bc}' => 0.25,
        '\u{be}' => 0.75,
        '\u{2153}' => 1.0 / 3.0,
        '\u{2154}' => 2.0 / 3.0,
        _ => return None,
    })
}

fn digits(chars: &[char], from: usize) -> usize {
    (from..chars.len()).find(|&n| !chars[n].is_ascii_digit()).unwrap_or(chars.len())
}

/// Where `1st`, `2nd`, `3rd` or `4th` ends.
fn ordinal(chars: &[char], at: usize) -> Option<usize> {
    let end = digits(chars, at);
    let last = end.checked_sub(1).filter(|_| end > at && end - at <= 2)?;
    let suffix: String = chars.get(end..end + 2)?.iter().flat_map(|c| c.to_lowercase()).collect();
    let stands = chars.get(end + 2).is_none_or(|c| !c.is_alphanumeric());
    let fits = match chars[last] {
        '1' => suffix == "st" || suffix == "th",
        '2' => suffix == "nd" || suffix == "th",
        '3' => suffix == "rd" || suffix == "th",
        _ => suffix == "th",
    };
    (stands && fits).then_some(end + 2)
}

fn value(chars: &[char]) -> f64 {
    chars.iter().fold(0.0, |sum: f64, c| (sum * 10.0 + f64::from(c.to_digit(10).unwrap_or(0))).min(LARGEST))
}

/// A number or a clock time that begins here, and where it ends.
fn number(chars: &[char], at: usize) -> (Kind, usize) {
    let end = digits(chars, at);
    let whole = value(&chars[at..end]);
    let two = |from: usize| digits(chars, from) == from + 2;
    if chars.get(end) == Some(&':') && two(end + 1) && end - at <= 3 {
        let seconds = value(&chars[end + 1..end + 3]);
        if chars.get(end + 3) == Some(&':') && two(end + 4) {
            let last = value(&chars[end + 4..end + 6]);
            return (Kind::Clock((whole * 3600.0 + seconds * 60.0 + last) as u32), end + 6);
        }
        return (Kind::Clock((whole * 60.0 + seconds) as u32), end + 3);
    }
    let tail = |from: usize| digits(chars, from).saturating_sub(from);
    let after = tail(end + 1);
    // "2.2.2" is a list.
    let dotted = at > 1 && chars[at - 1] == '.' && chars[at - 2].is_ascii_digit();
    match chars.get(end) {
        Some('.') if (1..=3).contains(&after) && !dotted && !goes_on(chars, end + 1 + after) => {
            let part = value(&chars[end + 1..end + 1 + after]) / 10f64.powi(after as i32);
            (Kind::Number(whole + part), end + 1 + after)
        }
        // "1,000 m" groups thousands; "22,5" is a decimal comma; "21,15,9" is a list.
        Some(',') if after == 3 && end - at <= 3 && whole > 0.0 && listed(chars, at, end + 1 + after) => {
            (Kind::Number(whole * 1000.0 + value(&chars[end + 1..end + 4])), end + 4)
        }
        Some(',') if after == 1 && listed(chars, at, end + 2) && chars[end + 1] == '5' => {
            (Kind::Number(whole + 0.5), end + 2)
        }
        Some(c) if fraction(*c).is_some() => (Kind::Number(whole + fraction(*c).unwrap_or(0.0)), end + 1),
        _ => (Kind::Number(whole), end),
    }
}

/// Whether a full stop and another digit stand behind a number: "2.2.2", and not "7.5." at the end of a sentence.
fn goes_on(chars: &[char], end: usize) -> bool {
    chars.get(end) == Some(&'.') && chars.get(end + 1).is_some_and(char::is_ascii_digit)
}

/// Whether a comma between digits cannot be one of a list: no other comma touches the number on either side.
fn listed(chars: &[char], start: usize, end: usize) -> bool {
    let next = chars.get(end) == Some(&',') && chars.get(end + 1).is_some_and(char::is_ascii_digit);
    let before = start > 1 && chars[start - 1] == ',' && chars[start - 2].is_ascii_digit();
    !next && !before
}

/// Where a word ends: letters, apostrophes and ampersands inside; digits only when the whole run is known.
fn word_end(chars: &[char], at: usize, knows: &dyn Fn(&str) -> bool) -> usize {
    let letters = |from: usize| -> usize {
        (from..chars.len())
            .find(|&n| {
                let inside = matches!(chars[n], '\'' | '&')
                    && n > from
                    && chars.get(n + 1).is_some_and(|next| next.is_alphabetic());
                !(chars[n].is_alphabetic() || inside)
            })
            .unwrap_or(chars.len())
    };
    let end = letters(at);
    let run = (at..chars.len())
        .find(|&n| !(chars[n].is_alphanumeric() || matches!(chars[n], '&')))
        .unwrap_or(chars.len());
    if run > end && run - at <= 12 {
        let text: String = chars[at..run].iter().flat_map(|c| c.to_lowercase()).collect();
        if knows(&text) {
            return run;
        }
    }
    end.max(at + 1)
}
