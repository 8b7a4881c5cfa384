//! The phrase grammar: rows of `data/grammar.csv` compiled to small patterns, and how they match a line.

use std::cell::{Cell, RefCell};
use std::collections::{BTreeSet, HashMap};
use std::sync::LazyLock;

use crate::lexicon::{Class, Lexicon};
use crate::say::Say;
use crate::tokens::{Kind, Token};
use crate::values::{Line, Nt, Value, number_word};

/// Most steps of matching a line; beyond it no further phrase is looked for.
const MOST_STEPS: u32 = 400_000;
/// Most ends that one production is followed to from one place.
const MOST_ENDS: usize = 4;
/// Most repeats of a starred element.
const MOST_REPEATS: usize = 12;

/// One row.
pub struct Production {
    /// What it says, with what distinguishes it behind a dot.
    pub says: String,
    /// What reading it so costs.
    pub cost: f64,
    /// A text that it reads; a test tries them all.
    pub example: String,
    pattern: Vec<Element>,
}

struct Element {
    what: What,
    quantity: Quantity,
}

enum What {
    Word(String),
    Number(f64),
    Sign(char),
    Class(Class, Option<char>),
    Value(char, Nt),
    Either(Vec<Vec<Element>>),
    AnyWord,
    /// A word that is in no name of a movement either.
    Foreign,
    Start,
    End,
}

#[derive(Clone, Copy, PartialEq)]
enum Quantity {
    One,
    Maybe,
    Any,
}

/// What a pattern has captured: a letter, its value (none for a mere mark), and where it stood.
pub type Capture = (char, Option<Value>, usize);

/// A phrase found in a line.
#[derive(Clone, Debug)]
pub struct Phrase {
    /// First token.
    pub start: usize,
    /// The token behind it.
    pub end: usize,
    /// What it says.
    pub says: Vec<Say>,
    /// What reading it so costs.
    pub cost: f64,
    /// The row of the grammar.
    pub row: usize,
}

/// All rows.
pub struct Grammar {
    /// In the order of the file.
    pub rows: Vec<Production>,
    firsts: Firsts,
}

/// Rows by what they can begin with, so that a token is only compared with those that it may open.
#[derive(Default)]
struct Firsts {
    words: HashMap<String, Vec<usize>>,
    classes: HashMap<Class, Vec<usize>>,
    signs: HashMap<char, Vec<usize>>,
    numbers: Vec<usize>,
    movements: Vec<usize>,
    any_word: Vec<usize>,
}

impl Firsts {
    fn of(rows: &[Production]) -> Self {
        let mut firsts = Self::default();
        for (row, production) in rows.iter().enumerate() {
            firsts.add(&production.pattern, row);
        }
        firsts
    }

    fn add(&mut self, elements: &[Element], row: usize) {
        for element in elements {
            match &element.what {
                What::Start => continue,
                What::End => {}
                What::Either(branches) => branches.iter().for_each(|branch| self.add(branch, row)),
                What::Class(class, _) => self.classes.entry(*class).or_default().push(row),
                What::Value(_, Nt::Mv) => self.movements.push(row),
                What::Value(..) | What::Number(_) => self.numbers.push(row),
                What::Word(word) => self.words.entry(word.clone()).or_default().push(row),
                What::Sign(sign) => self.signs.entry(*sign).or_default().push(row),
                What::AnyWord | What::Foreign => self.any_word.push(row),
            }
            if element.quantity == Quantity::One {
                return;
            }
        }
    }

    /// The rows that may begin with a token, in the order of the file.
    fn at(&self, line: &Line<'_>, at: usize) -> Vec<usize> {
        let mut rows: Vec<usize> = Vec::new();
        match &line.tokens[at].kind {
            Kind::Word { text, mended } => {
                for word in std::iter::once(text).chain(mended) {
                    rows.extend(self.words.get(word).into_iter().flatten());
                }
                rows.extend(&self.any_word);
                if begins_a_number(text) {
                    rows.extend(&self.numbers);
                }
            }
            Kind::Number(_) | Kind::Clock(_) => rows.extend(&self.numbers),
            Kind::Sign(sign) => rows.extend(self.signs.get(sign).into_iter().flatten()),
        }
        for (class, _) in &line.classes[at] {
            rows.extend(self.classes.get(class).into_iter().flatten());
        }
        if !line.movements[at].is_empty() {
            rows.extend(&self.movements);
        }
        rows.sort_unstable();
        rows.dedup();
        rows
    }
}

/// Whether a word can be the first of a number.
fn begins_a_number(text: &str) -> bool {
    number_word(text).is_some() || matches!(text, "a" | "an" | "half" | "x")
}

thread_local! {
    /// The row that this thread reads without.
    static WITHHELD: Cell<Option<usize>> = const { Cell::new(None) };
    /// The rows that have matched, while that is asked for.
    static MATCHED: RefCell<Option<BTreeSet<usize>>> = const { RefCell::new(None) };
}

/// What `read` makes of a text without a row of the grammar, as a reader that has never met how somebody writes.
pub fn without<T>(row: usize, read: impl FnOnce() -> T) -> T {
    WITHHELD.set(Some(row));
    let made = read();
    WITHHELD.set(None);
    made
}

/// What `read` makes of a text, and the rows of the grammar that matched anything in it.
pub fn matching<T>(read: impl FnOnce() -> T) -> (T, BTreeSet<usize>) {
    MATCHED.set(Some(BTreeSet::new()));
    let made = read();
    (made, MATCHED.take().unwrap_or_default())
}

static STANDARD: LazyLock<Grammar> =
    LazyLock::new(|| Grammar::from_csv(include_str!("../../../data/grammar.csv"), Lexicon::standard()));

impl Grammar {
    /// The rows that ship with the program.
    pub fn standard() -> &'static Self {
        &STANDARD
    }

    fn from_csv(text: &str, lexicon: &Lexicon) -> Self {
        let mut reader = csv::ReaderBuilder::new()
            .delimiter(b';')
            .comment(Some(b'#'))
            .quoting(false)
            .flexible(true)
            .from_reader(text.as_bytes());
        let rows = reader.records().flatten().map(|row| {
            let column = |n: usize| row.get(n).unwrap_or_default().trim();
            let words: Vec<&str> = column(2).split_whitespace().collect();
            let mut at = 0;
            Production {
                says: column(0).to_owned(),
                cost: column(1).parse().expect("a cost is a number"),
                example: column(3).to_owned(),
                pattern: elements(&words, &mut at, lexicon),
            }
        });
        let rows: Vec<Production> = rows.collect();
        Self { firsts: Firsts::of(&rows), rows }
    }

    /// Every phrase of a line, wherever it begins.
    pub fn phrases(&self, line: &Line<'_>) -> Vec<Phrase> {
        let mut found: Vec<Phrase> = Vec::new();
        let mut steps = 0;
        let withheld = WITHHELD.get();
        for at in 0..line.tokens.len() {
            for row in self.firsts.at(line, at) {
                let production = &self.rows[row];
                if Some(row) == withheld || !may_begin(&production.pattern, line, at) {
                    continue;
                }
                let mut search = Search { line, captures: Vec::new(), found: Vec::new(), steps: &mut steps };
                search.sequence(&production.pattern, at, 0.0, &mut |search, end, cost| {
                    search.found.push((end, cost, search.captures.clone()));
                });
                let ends = search.found;
                for (end, cost, captures) in ends {
                    let says = Say::all(&production.says, &captures, line, at, end);
                    if end > at && !says.is_empty() {
                        found.push(Phrase { start: at, end, says, cost: production.cost + cost, row });
                    }
                }
            }
        }
        MATCHED.with_borrow_mut(|matched| {
            if let Some(rows) = matched {
                rows.extend(found.iter().map(|phrase| phrase.row));
            }
        });
        found
    }
}

struct Search<'s, 'l> {
    line: &'s Line<'l>,
    captures: Vec<Capture>,
    found: Vec<(usize, f64, Vec<Capture>)>,
    steps: &'s mut u32,
}

type Then<'t, 's, 'l> = &'t mut dyn FnMut(&mut Search<'s, 'l>, usize, f64);

impl<'s, 'l> Search<'s, 'l> {
    fn sequence(&mut self, elements: &[Element], at: usize, cost: f64, then: Then<'_, 's, 'l>) {
        *self.steps += 1;
        if *self.steps > MOST_STEPS || self.found.len() >= MOST_ENDS {
            return;
        }
        let Some((first, rest)) = elements.split_first() else { return then(self, at, cost) };
        match first.quantity {
            Quantity::One => self.one(&first.what, at, cost, &mut |search, end, cost| {
                search.sequence(rest, end, cost, then);
            }),
            Quantity::Maybe => {
                self.one(&first.what, at, cost, &mut |search, end, cost| {
                    search.sequence(rest, end, cost, then);
                });
                self.sequence(rest, at, cost, then);
            }
            Quantity::Any => self.any(first, rest, at, cost, MOST_REPEATS, then),
        }
    }

    fn any(
        &mut self,
        first: &Element,
        rest: &[Element],
        at: usize,
        cost: f64,
        left: usize,
        then: Then<'_, 's, 'l>,
    ) {
        if left > 0 {
            self.one(&first.what, at, cost, &mut |search, end, cost| {
                if end > at {
                    search.any(first, rest, end, cost, left - 1, then);
                }
            });
        }
        self.sequence(rest, at, cost, then);
    }

    fn one(&mut self, what: &What, at: usize, cost: f64, then: Then<'_, 's, 'l>) {
        match what {
            What::Start if at == 0 => then(self, at, cost),
            What::End if at == self.line.tokens.len() => then(self, at, cost),
            What::Start | What::End => {}
            What::Either(branches) => {
                for branch in branches {
                    self.sequence(branch, at, cost, then);
                }
            }
            What::Value(name, nt) => {
                if at >= self.line.tokens.len() {
                    return;
                }
                for (value, end, more) in self.line.read(*nt, at) {
                    self.captures.push((*name, Some(value), at));
                    then(self, end, cost + more);
                    self.captures.pop();
                }
            }
            What::Class(class, name) => {
                let Some(ends) = self.line.classes.get(at) else { return };
                let mut ends: Vec<usize> =
                    ends.iter().filter(|(known, _)| known == class).map(|(_, end)| *end).collect();
                ends.dedup();
                for end in ends {
                    if let Some(name) = name {
                        self.captures.push((*name, None, at));
                    }
                    then(self, end, cost);
                    if name.is_some() {
                        self.captures.pop();
                    }
                }
            }
            What::Foreign
                if self.line.in_names.get(at).is_none_or(|known| *known)
                    || self.line.movements.get(at).is_some_and(|names| !names.is_empty()) => {}
            What::Foreign
                if self
                    .line
                    .tokens
                    .get(at)
                    .is_some_and(|token| matches!(&token.kind, Kind::Word { mended: Some(_), .. })) =>
            {
                then(self, at + 1, cost)
            }
            What::AnyWord | What::Foreign
                if self.line.classes.get(at).is_none_or(|known| !known.is_empty()) => {}
            What::Word(_) | What::Number(_) | What::Sign(_) | What::AnyWord | What::Foreign => {
                if self.line.tokens.get(at).is_some_and(|token| is(what, token)) {
                    then(self, at + 1, cost);
                }
            }
        }
    }
}

fn is(what: &What, token: &Token) -> bool {
    match (what, &token.kind) {
        (What::Word(word), Kind::Word { text, mended }) => text == word || mended.as_ref() == Some(word),
        (What::Number(value), Kind::Number(n)) => n == value,
        (What::Sign(sign), Kind::Sign(c)) => c == sign,
        (What::AnyWord | What::Foreign, Kind::Word { text, .. }) => number_word(text).is_none(),
        _ => false,
    }
}

/// Whether a pattern can begin here, by its first elements alone.
fn may_begin(elements: &[Element], line: &Line<'_>, at: usize) -> bool {
    for element in elements {
        let fits = match &element.what {
            What::Start => {
                if at != 0 {
                    return false;
                }
                continue;
            }
            What::End => at == line.tokens.len(),
            What::Either(branches) => branches.iter().any(|branch| may_begin(branch, line, at)),
            What::Class(class, _) => line.class(at, *class).is_some(),
            What::Value(_, Nt::Mv) => !line.movements[at].is_empty(),
            What::Value(..) => match &line.tokens[at].kind {
                Kind::Number(_) | Kind::Clock(_) => true,
                Kind::Word { text, .. } => begins_a_number(text),
                Kind::Sign(_) => false,
            },
            what => is(what, &line.tokens[at]),
        };
        if fits {
            return true;
        }
        if element.quantity == Quantity::One {
            return false;
        }
    }
    false
}

fn elements(words: &[&str], at: &mut usize, lexicon: &Lexicon) -> Vec<Element> {
    let mut found = Vec::new();
    while *at < words.len() && !words[*at].starts_with(')') && words[*at] != "|" {
        let word = words[*at];
        *at += 1;
        if word == "(" {
            let mut branches = vec![elements(words, at, lexicon)];
            while words.get(*at) == Some(&"|") {
                *at += 1;
                branches.push(elements(words, at, lexicon));
            }
            let close =
                words.get(*at).copied().unwrap_or_else(|| panic!("a bracket stays open in {words:?}"));
            *at += 1;
            found.push(Element { what: What::Either(branches), quantity: quantity(close).1 });
            continue;
        }
        let (word, quantity) = quantity(word);
        found.push(Element { what: what(word, lexicon), quantity });
    }
    found
}

fn quantity(word: &str) -> (&str, Quantity) {
    match word.as_bytes() {
        [_, .., b'?'] => (&word[..word.len() - 1], Quantity::Maybe),
        [_, .., b'*'] => (&word[..word.len() - 1], Quantity::Any),
        _ => (word, Quantity::One),
    }
}

fn what(word: &str, lexicon: &Lexicon) -> What {
    let class = |name: &str| {
        let name = name.trim_start_matches('<').trim_end_matches('>');
        lexicon
            .class(name)
            .unwrap_or_else(|| panic!("the grammar names a class that the lexicon lacks: {name}"))
    };
    match word {
        "^" => return What::Start,
        "$" => return What::End,
        "anyword" => return What::AnyWord,
        "foreign" => return What::Foreign,
        "lparen" => return What::Sign('('),
        "rparen" => return What::Sign(')'),
        "\\+" => return What::Sign('+'),
        "semi" => return What::Sign(';'),
        _ => {}
    }
    if word.starts_with('<') {
        return What::Class(class(word), None);
    }
    let mut chars = word.chars();
    if let (Some(name), Some('=')) = (chars.next(), chars.next())
        && word.len() > 2
    {
        let value = &word[2..];
        return match Nt::named(value) {
            Some(nt) => What::Value(name, nt),
            None => What::Class(class(value), Some(name)),
        };
    }
    if let Ok(value) = word.parse::<f64>() {
        return What::Number(value);
    }
    match word.chars().next() {
        Some(c) if !c.is_alphanumeric() && word.chars().count() == 1 => What::Sign(c),
        _ => What::Word(word.to_owned()),
    }
}
