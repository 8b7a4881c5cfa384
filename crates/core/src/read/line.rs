//! One line: what it prescribes, and whether it prescribes anything at all.
//!
//! A line is cut into sentences; each sentence becomes clauses, movements, numbers and words. Numbers
//! and loads are attached to the movements they stand beside. A sentence in which too many words mean
//! nothing to the reader is talk, and talk adds no work whatever movements it names.

use super::clause::{CLAIMED, Claimed, Clause, claim};
use super::heading::{is_day, take_heading};
use super::label::{Label, take_label};
use super::quantity;
use super::spelling::{Mended, Spelling};
use super::text::Plain;
use crate::movement::{Catalogue, LoadKind, Movement, MovementId, Sides, Unit};
use crate::session::{Load, PartKind};

/// A line with what was found in it.
#[derive(Clone, Debug)]
pub(super) struct Line {
    pub number: usize,
    pub raw: String,
    pub indent: usize,
    pub label: Label,
    pub heading: Option<(PartKind, String)>,
    pub kind: LineKind,
    pub found: Vec<Found>,
    pub unknown: Vec<Unknown>,
    pub assumed: Vec<(usize, String)>,
    /// Says something that counts among talk; the talk is kept as a note too.
    pub in_passing: bool,
}

/// What a line is for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub(super) enum LineKind {
    Blank,
    /// Names the day.
    Title,
    /// Work, structure or both; a heading alone counts too.
    Work,
    /// What may be done instead.
    Alternative,
    /// Announcements, cues, jokes.
    Talk,
}

/// A clause or an item with the column it begins at.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Found {
    pub column: usize,
    pub what: What,
}

#[derive(Clone, Debug, PartialEq)]
pub(super) enum What {
    Clause(Clause),
    Item(Item),
}

/// Work as written: a movement with what stands beside it.
#[derive(Clone, Debug, Default, PartialEq)]
pub(super) struct Item {
    /// None repeats the movement before it: "15 at 70/47.5".
    pub movement: Option<MovementId>,
    pub amount: Option<(f64, Option<f64>)>,
    pub unit: Option<Unit>,
    pub sets: Option<(u32, Option<u32>)>,
    pub max: bool,
    pub per_side: bool,
    pub load: Option<Load>,
    pub bare_load: Option<(f64, Option<f64>)>,
    pub same_load: bool,
    /// Stands after "or": a choice beside the item before it.
    pub alternative: bool,
    /// After "+", so it belongs to a complex with the item before it.
    pub joined: bool,
    /// The movement came as a bare name of several meanings, such as `squat`.
    pub generic: bool,
}

impl Item {
    fn is_anchored(&self) -> bool {
        self.amount.is_some() || self.max || self.sets.is_some()
    }
}

/// An amount of something that is in no catalogue.
#[derive(Clone, Debug, PartialEq)]
pub(super) struct Unknown {
    pub column: usize,
    pub text: String,
}

impl Line {
    /// A line beyond the limits: kept, not read.
    pub fn unread(number: usize, raw: &str) -> Self {
        Self::empty(number, raw, if raw.trim().is_empty() { LineKind::Blank } else { LineKind::Talk })
    }

    fn empty(number: usize, raw: &str, kind: LineKind) -> Self {
        Self {
            number,
            raw: raw.to_owned(),
            indent: 0,
            label: Label::None,
            heading: None,
            kind,
            found: Vec::new(),
            unknown: Vec::new(),
            assumed: Vec::new(),
            in_passing: false,
        }
    }

    pub fn items(&self) -> impl Iterator<Item = &Item> {
        self.found.iter().filter_map(|found| match &found.what {
            What::Item(item) => Some(item),
            What::Clause(_) => None,
        })
    }

    pub fn clauses(&self) -> impl Iterator<Item = &Clause> {
        self.found.iter().filter_map(|found| match &found.what {
            What::Clause(clause) => Some(clause),
            What::Item(_) => None,
        })
    }
}

/// Reads one line.
pub(super) fn read_line(
    number: usize,
    raw: &str,
    catalogue: &Catalogue,
    spelling: &mut Spelling<'_>,
) -> Line {
    let mut line = Line::empty(number, raw, LineKind::Work);
    let mut plain = Plain::new(raw);
    if !plain.text.chars().any(char::is_alphanumeric) {
        line.kind = LineKind::Blank;
        return line;
    }
    line.indent = plain.text.len() - plain.text.trim_start().len();
    if is_day(plain.text.trim_start_matches(['#', '*', '-', '=', ' ']).trim_end_matches(['*', '=', '-', ' ']))
    {
        line.kind = LineKind::Title;
        return line;
    }
    let mended = spelling.mend(&mut plain);
    let (label, mut start) = take_label(&plain.text);
    line.label = label;
    // "-- no conditioning today --": dashes around a line are decoration.
    if let Some((kind, length)) = take_heading(plain.text[start..].trim_end_matches(['*', '-', '=', ' '])) {
        line.heading = Some((kind, raw.trim().trim_matches(['#', '*', '=', '-', ':', ' ']).to_owned()));
        start += length;
        let (label, length) = take_label(&plain.text[start..]);
        if label != Label::None && !matches!(label, Label::Bullet) {
            line.label = label;
        }
        start += length;
    }
    let rest = &plain.text[start..];
    let mut masked = rest.to_owned();
    let claimed = claim(&mut masked);
    let pieces = pieces(&masked, claimed, catalogue);
    let mut reader = LineReader { plain: &plain, start, catalogue, line: &mut line, rest };
    reader.sentences(pieces);
    settle(&mut line, &mended, &plain.text);
    line
}

/// Decides what the line is for, from what its sentences came to.
fn settle(line: &mut Line, mended: &[Mended], text: &str) {
    if line.kind == LineKind::Work
        && line.heading.is_none()
        && line.found.is_empty()
        && line.unknown.is_empty()
    {
        line.kind = LineKind::Talk;
    }
    if line.kind == LineKind::Work && text.trim_start().starts_with("no ") && line.heading.is_none() {
        line.kind = if line.items().next().is_some() { LineKind::Alternative } else { LineKind::Talk };
    }
    if line.kind == LineKind::Work {
        let spelling = mended.iter().map(|m| (m.column, format!("read `{}` as `{}`", m.from, m.to)));
        line.assumed.extend(spelling);
        line.assumed.sort();
    }
}

#[derive(Clone, Debug)]
struct Piece {
    start: usize,
    end: usize,
    kind: PieceKind,
}

#[derive(Clone, Debug, PartialEq)]
enum PieceKind {
    Clause(Clause),
    Move { id: MovementId, unit: Option<Unit>, generic: bool },
    Word,
    Sign(char),
}

/// Cuts masked text into pieces: clauses where they were claimed, then names, numbers, words and signs.
fn pieces(masked: &str, claimed: Vec<Claimed>, catalogue: &Catalogue) -> Vec<Piece> {
    let tokens = tokens(masked);
    let mut pieces: Vec<Piece> = claimed
        .into_iter()
        .map(|claim| Piece { start: claim.start, end: claim.end, kind: PieceKind::Clause(claim.clause) })
        .collect();
    let mut place = 0;
    while place < tokens.len() {
        let token = &tokens[place];
        if let Some((movement, used)) = match_name(&tokens[place..], masked, catalogue) {
            let end = tokens[place + used - 1].end;
            let name = &masked[token.start..end];
            let metres =
                name.split([' ', '-']).any(|w| matches!(w, "m" | "meter" | "metre" | "meters" | "metres"));
            let unit = (metres && movement.unit == Unit::Calories).then_some(Unit::Metres);
            let generic = matches!(name, "squat" | "squats" | "row" | "rows" | "rowing");
            pieces.push(Piece {
                start: token.start,
                end,
                kind: PieceKind::Move { id: movement.id.clone(), unit, generic },
            });
            place += used;
            continue;
        }
        let text = &masked[token.start..token.end];
        let kind = match token.kind {
            TokenKind::Number => number_clause(text).map_or(PieceKind::Word, PieceKind::Clause),
            TokenKind::Word => match quantity::number(text).filter(|n| *n > 1.0) {
                Some(n) => PieceKind::Clause(Clause::WordAmount(n)),
                None if text == "each" || text == "ea" => PieceKind::Clause(Clause::Each),
                None => PieceKind::Word,
            },
            TokenKind::Sign => PieceKind::Sign(text.chars().next().unwrap_or(' ')),
        };
        pieces.push(Piece { start: token.start, end: token.end, kind });
        place += 1;
    }
    pieces.sort_by_key(|piece| piece.start);
    pieces
}

fn number_clause(text: &str) -> Option<Clause> {
    let (first, second) = text.split_once('/').map_or((text, None), |(a, b)| (a, Some(b)));
    Some(Clause::Amount {
        first: first.parse().ok()?,
        second: second.and_then(|b| b.parse().ok()),
        unit: None,
    })
}

#[derive(Clone, Copy, Debug)]
struct Token {
    start: usize,
    end: usize,
    kind: TokenKind,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum TokenKind {
    Word,
    Number,
    Sign,
}

fn tokens(masked: &str) -> Vec<Token> {
    let bytes = masked.as_bytes();
    let mut tokens = Vec::new();
    let mut chars = masked.char_indices().peekable();
    while let Some((start, c)) = chars.next() {
        if c.is_whitespace() || c == '\u{1}' {
            continue;
        }
        let mut end = start + c.len_utf8();
        let mut kind = TokenKind::Sign;
        if c.is_alphanumeric() {
            let numeric = c.is_ascii_digit();
            kind = if numeric { TokenKind::Number } else { TokenKind::Word };
            while let Some(&(at, next)) = chars.peek() {
                let digit_next = bytes.get(at + 1).is_some_and(u8::is_ascii_digit);
                let goes_on = next.is_alphanumeric()
                    || next == '\''
                    || (kind == TokenKind::Number && (next == '.' || next == '/') && digit_next);
                if !goes_on {
                    break;
                }
                if next.is_alphabetic() {
                    kind = TokenKind::Word;
                }
                end = at + next.len_utf8();
                chars.next();
            }
        }
        tokens.push(Token { start, end, kind });
    }
    tokens
}

/// The longest name at the front of the tokens, with articles and plural endings forgiven.
fn match_name<'c>(tokens: &[Token], text: &str, catalogue: &'c Catalogue) -> Option<(&'c Movement, usize)> {
    const LONGEST_NAME: usize = 8;
    let mut words: Vec<&str> = Vec::new();
    let mut places = Vec::new();
    for (n, token) in tokens.iter().enumerate().take(LONGEST_NAME + 6) {
        let word = &text[token.start..token.end];
        let joins = n == 0 || text[tokens[n - 1].end..token.start].chars().all(|c| c == ' ');
        if !joins || words.len() == LONGEST_NAME {
            break;
        }
        match token.kind {
            TokenKind::Sign if n > 0 && (word == "-" || word == "&") => {
                if word == "&" {
                    words.push("and");
                    places.push(n);
                }
            }
            TokenKind::Sign => break,
            _ if n > 0 && word == "the" => {}
            _ => {
                words.push(word);
                places.push(n);
            }
        }
    }
    let first_is_number = tokens.first().is_some_and(|token| token.kind == TokenKind::Number);
    let singular: Vec<&str> =
        words.iter().map(|w| if w.len() > 3 { w.strip_suffix('s').unwrap_or(w) } else { w }).collect();
    let exact = catalogue.match_words(&words);
    let loose = catalogue.match_words(&singular);
    let best = match (exact, loose) {
        (Some(a), Some(b)) if b.words > a.words => Some(b),
        (Some(a), _) => Some(a),
        (None, b) => b,
    }?;
    (!first_is_number || best.words > 1).then(|| (best.movement, places[best.words - 1] + 1))
}

/// Words that may stand around work without meaning anything to the reader.
const FILLERS: &str = "a an the of and with to in into on onto at for from by as do does then next first last another again back start starts \
    starting finish finishing end when while you your we go goes going now all out both perform complete completing straight \
    directly per line target high low ball bell bells box bar bars bodyweight bw dumbbell dumbbells db dbs kb kbs kettlebell \
    kettlebells barbell rig pair pairs plate plates band bands reps rep total easy moderate light medium heavy steady slow slowly \
    fast quick hard pace effort alternating alternate alt unbroken touch n tng over under up down left right long short that this it is are \
    same more only strict bare empty own plus or no percent choose load weight any by feel keep moving smooth controlled \
    good clean tall deep low high wide narrow weighted assisted banded scaled rx fresh working work sets set rounds round \
    side sides way arms legs together everyone group class one two three four five six seven eight nine ten \
    min mins minutes minute sec secs seconds m s cal cals calories metres meters in inches cm kg lb lbs x w e g \
    big fun last also each every hold holds test around be somewhere done time times use using like so through once twice drop \
    movement movements exercise exercises station stations rest resting between rotate rotating continuous continuously \
    nose breathing conversational rower erg machine bodyweight seated standing kneeling lying partner here there yourself \
    choice options own like building across ascending descending increasing climbing ladder then after before until till repeat repeats";

/// Sentences that begin so tell how, not what.
const TALK_OPENERS: &[&str] = &[
    "do not",
    "don't",
    "dont",
    "never",
    "remember",
    "try",
    "make sure",
    "keep",
    "avoid",
    "no ",
    "be ",
    "think",
    "watch",
    "please",
    "stay",
    "last time",
    "yesterday",
    "tomorrow",
    "next",
    "note",
    "nb",
    "reminder",
    "tip",
    "pick",
    "choose",
    "stop",
    "walk",
    "we will",
    "we'll",
    "you should",
    "you can",
    "your",
    "these",
    "those",
    "they",
    "if",
    "bring",
    "see",
    "focus",
    "cue",
    "cues",
    "points",
    "aim to",
    "ideally",
    "swings",
    "alternate legs",
    "write",
    "log",
    "record",
    "only",
    "but only",
    "today",
    "coach",
    "nobody",
    "everyone",
    "anyone",
    "most",
    "some",
    "who",
    "why",
    "what",
    "how",
    "when you",
    "let",
    "have",
    "leave",
    "treat",
    "scale",
    "beginners",
];

/// Sentences that begin so say what may be done instead.
const ALTERNATIVE_OPENERS: &[&str] = &[
    "or ",
    "or:",
    "or,",
    "sub",
    "scale",
    "scaled",
    "scaling",
    "option",
    "alternative",
    "instead",
    "if you ",
    "if no ",
    "if your ",
    "can't ",
    "cannot ",
    "no rower",
    "no bar",
    "no rig",
    "no box",
    "no rope",
    "no bike",
    "no equipment:",
    "beginners:",
    "beginner:",
    "newer members",
    "new members",
    "for those",
    "easier:",
    "lighter:",
    "rx+",
    "level 2",
    "level 1",
    "l1",
    "l2",
    "in place of",
    "swap",
    "substitute",
    "modify",
    "modification",
];

struct LineReader<'a> {
    plain: &'a Plain,
    start: usize,
    catalogue: &'a Catalogue,
    line: &'a mut Line,
    rest: &'a str,
}

/// A sentence being put together.
#[derive(Default)]
struct Sentence {
    found: Vec<(usize, What)>,
    unknown_words: usize,
    references: usize,
    colon_after_first: bool,
}

impl LineReader<'_> {
    fn column(&self, place: usize) -> usize {
        self.plain.column(self.start + place)
    }

    fn sentences(&mut self, pieces: Vec<Piece>) {
        let mut begin = 0;
        let mut all_talk = true;
        let mut alternative = false;
        for n in 0..=pieces.len() {
            let ends = n == pieces.len() || self.ends_sentence(&pieces, n);
            if !ends {
                continue;
            }
            let sentence = &pieces[begin..n];
            begin = n + 1;
            if sentence.is_empty() {
                continue;
            }
            match self.sentence(sentence) {
                LineKind::Alternative => alternative = true,
                LineKind::Work => all_talk = false,
                _ => {}
            }
        }
        if all_talk && alternative {
            self.line.kind = LineKind::Alternative;
        } else if all_talk && self.line.heading.is_none() && self.line.unknown.is_empty() {
            self.line.kind = LineKind::Talk;
        }
    }

    fn ends_sentence(&self, pieces: &[Piece], n: usize) -> bool {
        match pieces[n].kind {
            PieceKind::Sign('!' | '?' | ';') => true,
            PieceKind::Sign('.') => {
                // ".." and "..." trail off; a correction after them belongs to the same sentence.
                let next = pieces.get(n + 1);
                let dots = next.is_some_and(|p| p.kind == PieceKind::Sign('.'))
                    || n.checked_sub(1).is_some_and(|before| pieces[before].kind == PieceKind::Sign('.'));
                let withdraws = next.is_some_and(|p| p.kind == PieceKind::Clause(Clause::Withdraw));
                !dots && !withdraws
            }
            _ => false,
        }
    }

    fn sentence(&mut self, pieces: &[Piece]) -> LineKind {
        let first = pieces[0].start;
        let text =
            self.rest[first..pieces[pieces.len() - 1].end].trim_start_matches(['(', ' ', '-']).to_owned();
        let mut sentence = self.group(pieces);
        self.drop_topic(&mut sentence);
        let items = || {
            sentence
                .found
                .iter()
                .filter_map(|(_, what)| if let What::Item(item) = what { Some(item) } else { None })
        };
        let anchored = items().filter(|item| item.is_anchored()).count();
        let bare = items().count() - anchored;
        let opens = |with: &[&str]| with.iter().any(|opener| text.starts_with(opener));
        if (anchored > 0 || bare > 0) && opens(ALTERNATIVE_OPENERS) && !text.starts_with("swap after") {
            // The work stays on the line as an alternative; the assembler attaches it.
            self.keep(sentence);
            return LineKind::Alternative;
        }
        let starts_with_number = text.starts_with(|c: char| c.is_ascii_digit());
        let unknown = sentence.unknown_words;
        let runs = sentence.found.iter().any(|(_, what)| {
            matches!(
                what,
                What::Clause(
                    Clause::ForTime | Clause::Amrap(Some(_)) | Clause::Every { .. } | Clause::Rounds(_)
                )
            )
        });
        let talky = !starts_with_number && opens(TALK_OPENERS) && !(runs && anchored > 1);
        let has_length =
            sentence.found.iter().any(|(_, what)| matches!(what, What::Clause(Clause::Length(_))));
        let steady = bare >= 2 && has_length && unknown <= 1;
        let is_work = if anchored > 0 {
            let allowed = if talky { 0 } else { 3 + 2 * anchored };
            unknown <= allowed && sentence.references < anchored
        } else if bare > 0 {
            !talky && (unknown == 0 || steady)
        } else {
            false
        };
        if is_work {
            self.keep(sentence);
            return LineKind::Work;
        }
        if anchored == 0 && (!talky || starts_with_number) && self.unknown_movement(pieces, unknown) {
            return LineKind::Work;
        }
        // Talk adds no work, but a cap or a score said in passing still counts.
        let strong: Vec<(usize, What)> = sentence
            .found
            .into_iter()
            .filter(|(_, what)| match what {
                What::Item(_) => false,
                What::Clause(clause) => {
                    is_strong(clause)
                        || (unknown <= 2 && !talky && ((bare == 0 && anchored == 0) || starts_with_number))
                }
            })
            .collect();
        if strong.is_empty() {
            return LineKind::Talk;
        }
        self.line.in_passing |= (talky || unknown > 2) && !strong.iter().any(|(_, what)| is_header(what));
        self.keep(Sentence { found: strong, ..Sentence::default() });
        LineKind::Work
    }

    fn keep(&mut self, sentence: Sentence) {
        for (place, what) in sentence.found {
            let column = self.column(place);
            self.line.found.push(Found { column, what });
        }
    }

    /// "Handstand: wall walks and holds": a name before a colon heads the names after it.
    fn drop_topic(&self, sentence: &mut Sentence) {
        if !sentence.colon_after_first {
            return;
        }
        let items: Vec<usize> = sentence
            .found
            .iter()
            .enumerate()
            .filter(|(_, (_, what))| matches!(what, What::Item(_)))
            .map(|(n, _)| n)
            .collect();
        if let [first, _, ..] = items[..]
            && matches!(&sentence.found[first].1, What::Item(item) if !item.is_anchored())
        {
            sentence.found.remove(first);
        }
    }

    /// An amount at the front of a short sentence without a known name: report it.
    fn unknown_movement(&mut self, pieces: &[Piece], unknown: usize) -> bool {
        let mut pieces =
            pieces.iter().skip_while(|piece| matches!(piece.kind, PieceKind::Sign('(' | '-' | '*')));
        let Some(first) = pieces.next() else { return false };
        let amount = matches!(
            first.kind,
            PieceKind::Clause(Clause::Amount { .. } | Clause::SetsReps { .. } | Clause::Max(_))
        );
        if !amount || unknown == 0 || unknown > 4 {
            return false;
        }
        let words: Vec<&Piece> = pieces.take_while(|piece| piece.kind == PieceKind::Word).collect();
        let (Some(from), Some(to)) = (words.first(), words.last()) else { return false };
        let said = &self.rest[from.start..to.end];
        if said.split_whitespace().all(is_filler) {
            return false;
        }
        let column = self.column(from.start);
        let text = self.as_typed(column, self.column(to.start));
        self.line.unknown.push(Unknown { column, text });
        true
    }

    /// The words from one column to the end of the word at another, before any mending.
    fn as_typed(&self, from: usize, last: usize) -> String {
        let chars: Vec<char> = self.line.raw.chars().collect();
        let in_word = |c: &char| c.is_alphanumeric() || *c == '\'' || *c == '\u{2019}';
        let end = last - 1 + chars[last - 1..].iter().take_while(|c| in_word(c)).count();
        chars[from - 1..end.max(from)].iter().collect()
    }

    /// Attaches numbers, loads and sides to the movements they stand beside.
    fn group(&mut self, pieces: &[Piece]) -> Sentence {
        let mut sentence = Sentence::default();
        let mut pending = Item::default();
        let mut pending_at = None;
        let mut last: Option<usize> = None;
        let mut or_before = false;
        let mut joined = false;
        let mut depth = 0_i32;
        let mut withdrawn: Option<Item> = None;
        for (n, piece) in pieces.iter().enumerate() {
            match &piece.kind {
                PieceKind::Word => {
                    let word = &self.rest[piece.start..piece.end];
                    if !is_filler(word) {
                        sentence.unknown_words += 1;
                    }
                }
                PieceKind::Sign(sign) => match sign {
                    '(' | '[' => depth += 1,
                    ')' | ']' => depth -= 1,
                    ':' if matches!(sentence.found[..], [(_, What::Item(_))]) => {
                        sentence.colon_after_first = true
                    }
                    ',' | '/' | '|' if depth == 0 => or_before = false,
                    '+' => joined = true,
                    _ => {}
                },
                PieceKind::Move { id, unit, generic } => {
                    let start = pending_at.take().unwrap_or(piece.start);
                    let mut item = Item {
                        movement: Some(id.clone()),
                        generic: *generic,
                        ..std::mem::take(&mut pending)
                    };
                    item.unit = item.unit.or(*unit);
                    item.alternative = or_before;
                    item.joined = std::mem::take(&mut joined);
                    if or_before && !item.is_anchored() {
                        choice_of_names(&mut sentence.found);
                    }
                    or_before = false;
                    if self.is_reference(pieces, n) {
                        sentence.references += 1;
                    }
                    last = Some(sentence.found.len());
                    sentence.found.push((start, What::Item(item)));
                }
                PieceKind::Clause(clause) => {
                    let ahead = self.name_ahead(pieces, n);
                    let current = last.and_then(|at| match &mut sentence.found[at].1 {
                        What::Item(item) => Some(item),
                        What::Clause(_) => None,
                    });
                    match clause {
                        Clause::Or => or_before = true,
                        Clause::Withdraw => {
                            pending = Item::default();
                            pending_at = None;
                            let comma_between = last
                                .is_none_or(|at| self.rest[sentence.found[at].0..piece.start].contains(','));
                            if !comma_between
                                && let Some((_, What::Item(item))) = last.map(|at| sentence.found.remove(at))
                            {
                                withdrawn = Some(item);
                            }
                            last = None;
                        }
                        Clause::Amount { first, second, unit } => {
                            let backwards = current.as_ref().is_some_and(|item| {
                                !ahead && item.amount.is_none() && !item.max && self.adjoins(pieces, n)
                            });
                            if ahead {
                                pending.amount = Some((*first, *second));
                                pending.unit = *unit;
                                pending_at = Some(piece.start);
                            } else if backwards && let Some(item) = current {
                                if second.is_some() && unit.is_none() && self.weighs(item) {
                                    item.bare_load = Some((*first, *second));
                                } else {
                                    item.amount = Some((*first, *second));
                                    item.unit = *unit;
                                }
                            } else if let Some(item) = current {
                                // A height after a ball's weight, or "95/65" after a barbell lift.
                                if unit.is_none()
                                    && self.weighs(item)
                                    && item.load.is_none()
                                    && second.is_some()
                                {
                                    item.bare_load = Some((*first, *second));
                                }
                            } else if let Some(item) = withdrawn.take() {
                                last = Some(sentence.found.len());
                                let item = Item { amount: Some((*first, *second)), ..item };
                                sentence.found.push((piece.start, What::Item(item)));
                            } else {
                                pending.amount = Some((*first, *second));
                                pending.unit = *unit;
                                pending_at = Some(piece.start);
                            }
                        }
                        Clause::WordAmount(value) if ahead => {
                            pending.amount = Some((*value, None));
                            pending_at = Some(piece.start);
                        }
                        Clause::WordAmount(_) => {}
                        Clause::Length(length) => {
                            let value = f64::from(*length);
                            if ahead {
                                pending.amount = Some((value, None));
                                pending.unit = Some(Unit::Seconds);
                                pending_at = Some(piece.start);
                            } else if let Some(item) = current.filter(|item| {
                                item.amount.is_none()
                                    && !item.max
                                    && self.adjoins(pieces, n)
                                    && !self.after_in(pieces, n)
                            }) {
                                item.amount = Some((value, None));
                                item.unit = Some(Unit::Seconds);
                            } else {
                                sentence.found.push((piece.start, What::Clause(clause.clone())));
                            }
                        }
                        Clause::SetsReps { sets, reps, .. } => {
                            let given = (f64::from(*reps), None);
                            if ahead {
                                pending.sets = Some((*sets, Some(*reps)));
                                pending.amount = Some(given);
                                pending_at = Some(piece.start);
                            } else if let Some(item) = current.filter(|item| item.sets.is_none()) {
                                item.sets = Some((*sets, Some(*reps)));
                                item.amount = item.amount.or(Some(given));
                            }
                            sentence.found.push((piece.start, What::Clause(clause.clone())));
                        }
                        Clause::Max(unit) => {
                            if ahead {
                                pending.max = true;
                                pending.unit = pending.unit.or(*unit);
                                pending_at = pending_at.or(Some(piece.start));
                            } else if let Some(item) =
                                current.filter(|item| item.amount.is_none() || item.sets.is_none())
                            {
                                if item.amount.is_none() {
                                    item.max = true;
                                    item.unit = item.unit.or(*unit);
                                }
                            } else {
                                pending.max = true;
                                pending_at = pending_at.or(Some(piece.start));
                            }
                        }
                        Clause::Side => {
                            if let Some(item) = current.filter(|_| pending.amount.is_none() || !ahead) {
                                let split = item.amount.is_some() && pending.amount.is_some();
                                item.per_side |= !split;
                                if split {
                                    // "10 lunges (5 each side)" says how ten split.
                                    pending = Item::default();
                                    pending_at = None;
                                }
                            } else {
                                pending.per_side = true;
                            }
                        }
                        Clause::Each => {
                            if let Some(item) = current
                                && self.movement(item).is_some_and(|m| m.sides != Sides::None)
                            {
                                item.per_side = true;
                            }
                        }
                        Clause::Load(load) => match current {
                            _ if ahead && pending_at.is_some_and(|_| pending.amount.is_some()) => {
                                pending.load = Some(*load)
                            }
                            Some(item) if pending.amount.is_none() => {
                                if item.load.is_none() {
                                    item.load = Some(*load);
                                }
                            }
                            _ => pending.load = Some(*load),
                        },
                        Clause::BareLoad(first, second) => match current {
                            Some(item) if pending.amount.is_none() => {
                                item.bare_load = item.bare_load.or(Some((*first, *second)))
                            }
                            _ => pending.bare_load = Some((*first, *second)),
                        },
                        Clause::SameLoad => {
                            if let Some(item) = current {
                                item.same_load = true;
                            }
                        }
                        Clause::Split => {}
                        other => sentence.found.push((piece.start, What::Clause(other.clone()))),
                    }
                    last = last.filter(|&at| at < sentence.found.len());
                }
            }
        }
        // "15 at 70/47.5", "max reps at 80/55", "min 3 - 3": the movement before goes on.
        let repeats = pending.load.is_some() || pending.bare_load.is_some() || pending.max;
        let alone = sentence.found.is_empty() && pieces.iter().all(|piece| piece.kind != PieceKind::Word);
        if (pending.amount.is_some() || pending.max) && (repeats || alone) && last.is_none() {
            sentence.found.push((pending_at.unwrap_or(pieces[0].start), What::Item(pending)));
        } else if let (None, Some(load)) = (last, pending.load) {
            sentence.found.push((pieces[0].start, What::Clause(Clause::Load(load))));
        } else if let (None, Some((first, second))) = (last, pending.bare_load) {
            sentence.found.push((pieces[0].start, What::Clause(Clause::BareLoad(first, second))));
        } else if let (None, true) = (last, pending.max) {
            sentence.found.push((pieces[0].start, What::Clause(Clause::Max(None))));
        } else if let (None, Some((first, second))) = (last, pending.amount) {
            sentence
                .found
                .push((pieces[0].start, What::Clause(Clause::Amount { first, second, unit: pending.unit })));
        }
        sentence
    }

    fn movement(&self, item: &Item) -> Option<&Movement> {
        item.movement.as_ref().and_then(|id| self.catalogue.get(id))
    }

    fn weighs(&self, item: &Item) -> bool {
        self.movement(item).is_some_and(|m| m.load_kind != LoadKind::None)
    }

    /// Whether a movement follows piece `n` with nothing but small words between.
    fn name_ahead(&self, pieces: &[Piece], n: usize) -> bool {
        let mut words = 0;
        for piece in &pieces[n + 1..] {
            match &piece.kind {
                PieceKind::Move { .. } => return true,
                PieceKind::Word => {
                    words += 1;
                    let word = &self.rest[piece.start..piece.end];
                    if words > 4 || !is_filler(word) || matches!(word, "to" | "then" | "from") {
                        return false;
                    }
                }
                PieceKind::Clause(
                    Clause::Max(_)
                    | Clause::Load(_)
                    | Clause::Side
                    | Clause::Tempo(_)
                    | Clause::Each
                    | Clause::Split,
                ) => {}
                PieceKind::Clause(Clause::Length(_))
                    if matches!(pieces[n].kind, PieceKind::Clause(Clause::Max(_))) => {}
                PieceKind::Sign('(' | ')' | '-') => {}
                PieceKind::Sign(':')
                    if matches!(pieces[n].kind, PieceKind::Clause(Clause::SetsReps { .. })) => {}
                _ => return false,
            }
        }
        false
    }

    /// Whether piece `n` stands in the same breath as the movement before it.
    fn adjoins(&self, pieces: &[Piece], n: usize) -> bool {
        for piece in pieces[..n].iter().rev() {
            match &piece.kind {
                PieceKind::Move { .. } => return true,
                PieceKind::Sign(',' | '+' | '.') => return false,
                PieceKind::Word if !is_filler(&self.rest[piece.start..piece.end]) => return false,
                _ => {}
            }
        }
        false
    }

    /// "in 12 minutes" limits the work before it; it is not an amount of it.
    fn after_in(&self, pieces: &[Piece], n: usize) -> bool {
        n > 0
            && pieces[n - 1].kind == PieceKind::Word
            && matches!(
                &self.rest[pieces[n - 1].start..pieces[n - 1].end],
                "in" | "within" | "over" | "inside"
            )
    }

    /// "Do not start the 20 burpees early": an article before the number speaks of work written elsewhere.
    fn is_reference(&self, pieces: &[Piece], n: usize) -> bool {
        let mut before = pieces[..n].iter().rev().skip_while(|piece| {
            matches!(
                piece.kind,
                PieceKind::Clause(Clause::Amount { .. } | Clause::WordAmount(_) | Clause::Load(_))
            )
        });
        before.next().is_some_and(|piece| {
            piece.kind == PieceKind::Word
                && matches!(
                    &self.rest[piece.start..piece.end],
                    "the" | "those" | "these" | "your" | "my" | "our" | "his" | "her"
                )
        })
    }
}

/// "row, run or bike": of a list of bare names with "or", the first counts.
fn choice_of_names(found: &mut [(usize, What)]) {
    let bare = |what: &What| matches!(what, What::Item(item) if !item.is_anchored());
    let run = found.iter().rev().take_while(|(_, what)| bare(what)).count();
    let from = found.len() - run + usize::from(run > 0);
    for (_, what) in &mut found[from..] {
        if let What::Item(item) = what {
            item.alternative = true;
        }
    }
}

fn is_filler(word: &str) -> bool {
    use std::collections::HashSet;
    use std::sync::LazyLock;
    static SET: LazyLock<HashSet<&'static str>> = LazyLock::new(|| FILLERS.split_whitespace().collect());
    SET.contains(word) || word == CLAIMED
}

/// Whether a find says how the piece is run, rather than how it should feel.
fn is_header(what: &What) -> bool {
    !matches!(what, What::Clause(Clause::Intent(_)))
}

/// Clauses that count even inside talk.
fn is_strong(clause: &Clause) -> bool {
    match clause {
        Clause::Cap(seconds) => seconds.is_some(),
        Clause::Target { .. }
        | Clause::RoundUnder(_)
        | Clause::Score(_)
        | Clause::Team(_)
        | Clause::Sharing(_)
        | Clause::Rest { .. }
        | Clause::ForTime
        | Clause::Quality
        | Clause::UntilFailure
        | Clause::AddEach(_)
        | Clause::Intent(_)
        | Clause::Tabata
        | Clause::Window { .. } => true,
        Clause::Amrap(seconds) => seconds.is_some(),
        Clause::Every { times, total_s, .. } => times.is_some() || total_s.is_some(),
        Clause::OnOff { .. } | Clause::BuildTo(_) | Clause::Week(..) => true,
        _ => false,
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn line(text: &str) -> Line {
        let catalogue = Catalogue::standard();
        read_line(1, text, catalogue, &mut Spelling::new(catalogue))
    }

    fn items(text: &str) -> Vec<String> {
        line(text)
            .items()
            .map(|item| {
                let name = item.movement.as_ref().map_or("(same)", MovementId::as_str).to_owned();
                let amount = item.amount.map_or("-".to_owned(), |(first, _)| first.to_string());
                let load = item.load.map_or(String::new(), |load| format!(" {load}"));
                let side = if item.per_side { " a side" } else { "" };
                format!("{amount} {name}{load}{side}")
            })
            .collect()
    }

    #[test]
    fn numbers_and_loads_find_their_movement() {
        assert_eq!(items("15 wall balls, 9/6 kg to a 3/2.7 m line"), ["15 wall-ball 9/6 kg"]);
        assert_eq!(
            items("60 weighted step-ups, 2 x 22.5/15 kg on a 50 cm box"),
            ["60 weighted-box-step-up 2 x 22.5/15 kg"]
        );
        assert_eq!(
            items("Stretch: couch 90 s/side, thread the needle 8 e/s"),
            ["90 couch-stretch a side", "8 thread-the-needle a side"]
        );
        assert_eq!(items("10 m sled pull"), ["10 sled-pull"]);
        assert_eq!(items("15 at 70/47.5"), ["15 (same)"]);
    }

    #[test]
    fn one_sentence_can_hold_a_whole_piece() {
        let text = "Start with a 600 m run. When you are back, do 50 kettlebell swings with a 24/16 kg bell, then 40 sit-ups, \
                    and finish with another 600 m run.";
        assert_eq!(items(text), ["600 run", "50 kettlebell-swing 24/16 kg", "40 sit-up", "600 run"]);
    }

    #[test]
    fn talk_adds_no_work_whatever_it_names() {
        for text in [
            "Same bar for all five sets. If set 4 slows down badly, stay where you are.",
            "Walk the first fifty metres of the second run if you have to.",
            "Pick numbers that leave you at least ten seconds to walk to the next station.",
            "Three down, one in the hole, stand up fast, one at the top. Do not count quickly.",
            "Do not leave all the climbs to the one person who is good at them!",
            "-- no conditioning today, walk home and look around --",
            "If you fade more than five seconds from first to last you went out too hot.",
            "Do not start the 20 burpees before everybody is back",
        ] {
            assert_eq!(items(text), [""; 0], "{text}");
        }
    }

    #[test]
    fn a_correction_takes_back_what_stands_before_it() {
        assert_eq!(
            items("12 toes to bar, 9 bar muscle-ups.. no sorry, 9 chest to bar"),
            ["12 toes-to-bar", "9 chest-to-bar-pull-up"]
        );
    }

    #[test]
    fn an_unknown_movement_is_kept_with_its_place() {
        let line = line("10 flying wombats");
        assert_eq!(line.unknown, [Unknown { column: 4, text: "flying wombats".into() }]);
    }
}
