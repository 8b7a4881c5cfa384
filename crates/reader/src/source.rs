//! The text as lines of plain words: mark-up taken off, wrapped sentences put together, tables written out as lines. Every
//! place keeps the line that it came from.

use std::collections::HashSet;

use crate::table::{Grid, Table, columns};

/// A line to be read, which may come from several of the text or be a piece of one.
#[derive(Clone, Debug, PartialEq)]
pub struct SourceLine {
    /// Plain text.
    pub text: String,
    /// The lines of the text that it came from: first character of each piece, and its line, counted from 1.
    pub pieces: Vec<(usize, usize)>,
    /// Whether an empty line stands before it.
    pub blank_before: bool,
    /// Whether it is kept, not read: the head of a table, a line drawn across.
    pub mute: bool,
}

impl SourceLine {
    fn new(text: String, line: usize, blank_before: bool) -> Self {
        Self { text, pieces: vec![(0, line)], blank_before, mute: false }
    }

    /// The line that a character came from.
    pub fn line_at(&self, place: usize) -> usize {
        self.pieces.iter().rev().find(|(start, _)| *start <= place).map_or(1, |(_, line)| *line)
    }
}

/// Shortest line that a sentence can be wrapped at, in characters.
const WRAPPED_FROM: usize = 40;

/// Words of the longest line that is still an entry of a list.
const LONGEST_ENTRY: usize = 8;

/// The lines of a text.
pub fn lines(text: &str, most: usize) -> Vec<SourceLine> {
    let marked = is_marked_up(text);
    let capitals = has_capitals(text);
    let wrapped = wrapped_lines(text);
    let mut found: Vec<SourceLine> = Vec::new();
    let mut blank = false;
    let spacing = spacing(text);
    let mut empty = 0;
    let mut table: Option<Table> = None;
    let mut grid: Option<Grid> = None;
    let side_by_side = columns(text);
    let numbered: Vec<(usize, &str)> = match &side_by_side {
        Some(lines) => lines.iter().map(|(line, raw)| (*line, raw.as_str())).collect(),
        None => text.split('\n').enumerate().map(|(n, raw)| (n + 1, raw)).collect(),
    };
    for (number, raw) in numbered.into_iter().filter(|(number, _)| *number <= most) {
        let raw = raw.trim_end_matches(['\r', ' ']);
        empty = if raw.trim().is_empty() { empty + 1 } else { 0 };
        if (1..=spacing).contains(&empty) {
            continue;
        }
        if let Some(cells) = grid.as_mut().and_then(|grid| grid.row(raw)) {
            for (piece, begins) in
                cells.into_iter().filter(|(piece, _)| piece.chars().any(char::is_alphanumeric))
            {
                found.push(SourceLine::new(piece, number, begins));
            }
            continue;
        }
        grid = Grid::begin(raw);
        if grid.is_some() {
            let head = SourceLine::new(raw.to_owned(), number, std::mem::take(&mut blank));
            found.push(SourceLine { mute: true, ..head });
            continue;
        }
        if let Some(rows) = &mut table {
            match rows.row(raw) {
                Some(line) => {
                    if line.is_empty() {
                        let ruled = SourceLine::new(raw.trim().to_owned(), number, false);
                        found.push(SourceLine { mute: true, ..ruled });
                    } else {
                        found.push(SourceLine::new(line, number, std::mem::take(&mut blank)));
                    }
                    continue;
                }
                None => table = None,
            }
        }
        if let Some(begun) = Table::begin(raw) {
            let title = begun.title.clone();
            let begun_mute = title.is_empty();
            table = Some(begun);
            let text = if begun_mute { raw.to_owned() } else { title };
            let head = SourceLine::new(text, number, std::mem::take(&mut blank));
            found.push(SourceLine { mute: begun_mute, ..head });
            continue;
        }
        let pieces = if marked { untagged(raw) } else { vec![raw.to_owned()] };
        for piece in pieces {
            let piece = without_brackets(without_speaker(&without_emphasis(&piece)).to_owned());
            if !piece.chars().any(char::is_alphanumeric) {
                // A line drawn across the page parts nothing by itself.
                if piece.trim().is_empty() || piece.trim() == ">" {
                    let parts = !marked || raw.trim().is_empty() || !piece.trim().is_empty();
                    // Above the first line nothing is parted.
                    blank |= parts && !found.is_empty();
                }
                if !piece.trim().is_empty() {
                    let line = SourceLine::new(piece, number, false);
                    found.push(SourceLine { mute: true, ..line });
                }
                continue;
            }
            if let Some(before) = found.last_mut().filter(|_| !blank)
                && goes_on(before, &piece, number, capitals && wrapped.contains(&number))
            {
                let broken = before.text.ends_with('-') && !before.text.ends_with(" -");
                if broken {
                    before.text.pop();
                } else {
                    before.text.push(' ');
                }
                before.pieces.push((before.text.chars().count(), number));
                before.text.push_str(piece.trim_start());
                continue;
            }
            found.push(SourceLine::new(piece, number, std::mem::take(&mut blank)));
        }
    }
    found
}

/// Empty lines that stand between lines of one list, where a text was pasted with its lines drawn apart; none in most texts.
fn spacing(text: &str) -> usize {
    /// Fewest lines that show how a text is spaced.
    const FEWEST: usize = 4;
    let filled: Vec<(usize, &str)> =
        text.split('\n').enumerate().filter(|(_, raw)| !raw.trim().is_empty()).collect();
    let gaps = filled.windows(2).map(|pair| pair[1].0 - pair[0].0 - 1);
    // Paragraphs of prose have empty lines between them; the entries of a list have none.
    let entries = filled.iter().filter(|(_, raw)| raw.split_whitespace().count() <= LONGEST_ENTRY).count();
    let drawn_apart = filled.len() >= FEWEST && entries * 3 >= filled.len() * 2;
    gaps.min().filter(|_| drawn_apart).unwrap_or(0)
}

/// Whether a line is the rest of a sentence that was wrapped at the one before.
fn goes_on(before: &SourceLine, line: &str, number: usize, wraps: bool) -> bool {
    if before.mute {
        return false;
    }
    let next = before.pieces.last().is_some_and(|(_, line)| line + 1 == number);
    let last = before.pieces.last().map_or(0, |(start, _)| *start);
    let width = before.text.chars().count() - last;
    let first = line.trim_start().chars().next();
    let starts_small = first.is_some_and(|c| c.is_lowercase() || c == '(');
    let text = before.text.trim_end();
    let open =
        text.chars().next_back().is_some_and(|c| c.is_alphanumeric() || matches!(c, ',' | '-' | ')' | '\''));
    let listed = before.text.trim_start().chars().next().is_some_and(|c| !c.is_alphabetic());
    let indented = line.starts_with(char::is_whitespace) != before.text.starts_with(char::is_whitespace);
    // A broken word can stand nowhere else; a sentence is only wrapped where the line is full.
    let broken =
        text.ends_with('-') && !text.ends_with(" -") && text.chars().filter(|c| *c == '-').count() == 1;
    next && starts_small
        && open
        && !indented
        && (broken && width >= WRAPPED_FROM / 2 || wraps && width * 10 >= WRAPPED_FROM * 7 && !listed)
}

/// The lines that may go on with the one before: those of a paragraph whose lines are all about as long, but for the last.
fn wrapped_lines(text: &str) -> HashSet<usize> {
    let mut found = HashSet::new();
    let mut paragraph: Vec<(usize, usize)> = Vec::new();
    for (n, line) in text.lines().chain([""]).enumerate() {
        if !line.trim().is_empty() {
            paragraph.push((n + 1, line.trim_end().chars().count()));
            continue;
        }
        let longest = paragraph.iter().map(|(_, width)| *width).max().unwrap_or(0);
        let but_last = paragraph.len().saturating_sub(1);
        let even = paragraph[..but_last].iter().all(|(_, width)| width * 10 >= longest * 7);
        if even && longest >= WRAPPED_FROM && paragraph.len() > 1 {
            found.extend(paragraph.iter().skip(1).map(|(number, _)| *number));
        }
        paragraph.clear();
    }
    found
}

/// Whether sentences of a text begin with capitals, so that a small letter goes on with one.
fn has_capitals(text: &str) -> bool {
    let (mut capitals, mut all, mut begins) = (0, 0, true);
    for line in text.lines() {
        let first = line.trim_start().chars().next();
        if begins && let Some(first) = first.filter(|c| c.is_alphabetic()) {
            all += 1;
            capitals += usize::from(first.is_uppercase());
        }
        begins = first.is_none();
    }
    capitals * 2 > all
}

/// Whether a text is a web page's.
fn is_marked_up(text: &str) -> bool {
    ["<br", "<p>", "<p ", "<li>", "<div", "</"].iter().filter(|tag| text.contains(**tag)).count() >= 2
}

/// The pieces of a line of a web page, without its tags.
fn untagged(raw: &str) -> Vec<String> {
    let mut pieces = vec![String::new()];
    let mut rest = raw;
    while let Some(open) = rest.find('<') {
        let (before, tag) = rest.split_at(open);
        pieces.last_mut().expect("there is one").push_str(before);
        let Some(close) = tag.find('>') else {
            rest = "";
            break;
        };
        let name: String =
            tag[1..close].trim_start_matches('/').chars().take_while(|c| c.is_alphanumeric()).collect();
        if matches!(
            name.to_lowercase().as_str(),
            "br" | "p" | "li" | "div" | "tr" | "ul" | "ol" | "h1" | "h2" | "h3" | "h4" | "td"
        ) {
            pieces.push(String::new());
        }
        rest = &tag[close + 1..];
    }
    pieces.last_mut().expect("there is one").push_str(rest);
    pieces.iter().map(|piece| decoded(piece)).collect()
}

/// Text with the entities of a web page written out.
fn decoded(piece: &str) -> String {
    const ENTITIES: [(&str, &str); 14] = [
        ("&nbsp;", " "),
        ("&ndash;", "-"),
        ("&mdash;", "-"),
        ("&minus;", "-"),
        ("&times;", "x"),
        ("&frac12;", "\u{bd}"),
        ("&quot;", "\""),
        ("&apos;", "'"),
        ("&#39;", "'"),
        ("&#37;", "%"),
        ("&rarr;", "\u{2192}"),
        ("&lt;", "<"),
        ("&gt;", ">"),
        ("&amp;", "&"),
    ];
    ENTITIES.iter().fold(piece.to_owned(), |text, (entity, plain)| text.replace(entity, plain))
}

/// Text without the marks of emphasis around words.
fn without_emphasis(raw: &str) -> String {
    let text = raw.replace("**", "").replace("__", "").replace('`', "");
    let mut plain = String::with_capacity(text.len());
    let chars: Vec<char> = text.chars().collect();
    for (n, c) in chars.iter().enumerate() {
        let before = n.checked_sub(1).map(|n| chars[n]);
        let after = chars.get(n + 1);
        let opens = before.is_none_or(|c| !c.is_alphanumeric()) && after.is_some_and(|c| c.is_alphanumeric());
        let closes = before.is_some_and(|c| c.is_alphanumeric() || matches!(c, '.' | '!' | '?' | ')'))
            && after.is_none_or(|c| !c.is_alphanumeric());
        // "*Skill*" and "_rest_"; a star with a space behind it is a bullet, one between numbers multiplies.
        if matches!(c, '*' | '_') && (opens || closes) {
            continue;
        }
        plain.push(*c);
    }
    plain
}

/// A line without the brackets around the words that head it: "[Strength]", "[Accessory] 3 rounds".
fn without_brackets(line: String) -> String {
    let Some((head, rest)) = line.trim_start().strip_prefix('[').and_then(|line| line.split_once(']')) else {
        return line;
    };
    let named = head.chars().filter(|c| c.is_alphabetic()).count() > 1
        && head.chars().all(|c| c.is_alphanumeric() || matches!(c, ' ' | '-' | '&' | '/'));
    match rest.trim_start() {
        _ if !named => line,
        "" => head.to_owned(),
        rest if rest.starts_with([':', '-', '\u{2013}', '(']) => format!("{head}{rest}"),
        rest => format!("{head}: {rest}"),
    }
}

/// A line of a conversation without who said it and when: "[03.02., 7:45] Ida: ...".
fn without_speaker(line: &str) -> &str {
    let trimmed = line.trim_start();
    let Some(rest) = trimmed.strip_prefix('[') else { return line };
    let Some((stamp, said)) = rest.split_once(']') else { return line };
    let dated = stamp.contains(':') && stamp.chars().any(|c| c.is_ascii_digit()) && stamp.len() <= 24;
    match said.split_once(':') {
        Some((name, said)) if dated && name.trim().chars().count() <= 24 && !name.trim().is_empty() => {
            said.trim_start()
        }
        _ => line,
    }
}
