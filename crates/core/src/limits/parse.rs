//! From a sentence to what it forbids, allows and limits. What is not known leaves the sentence unread.

use std::sync::LazyLock;

use regex::Regex;

use super::conditions::{Asks, brings, reason_of};
use super::words::{Sense, longest};
use super::{LONGEST, Read};
use crate::movement::Property;

macro_rules! pattern {
    ($name:ident, $text:literal) => {
        static $name: LazyLock<Regex> = LazyLock::new(|| Regex::new($text).expect("a tested pattern"));
    };
}

mod figures;

pattern!(ONLY_WITH, r"^ *(.+?) only with (?:a |an |the )?(.+?) *$");
pattern!(WITHOUT, r"^ *(.+?) without (?:a |an |the |any )?(.+?)(?: please| only)? *$");
pattern!(
    TO_COME,
    r"\b(?:surgery|operation|op|repair) (?:is )?(?:next|planned|scheduled|due|booked)\b|\b(?:awaiting|waiting for|before|upcoming|planned|scheduled) (?:an? |the |my |her |his )?(?:\w+ )?(?:surgery|operation|op|repair)\b"
);
pattern!(TREATED, r"\b(?:doctor|doc|gp|midwife|physio|consultant|surgeon|cardiologist|specialist)\b");

/// Answers to "what hurts?" that are no ban of anything.
const NOTHING: [&str; 4] = ["nothing", "no", "nope", "nil"];

/// A piece of the sentence between two stops.
#[derive(Default)]
struct Clause {
    bans: Vec<&'static Sense>,
    allows: Vec<&'static Sense>,
    bare: Vec<&'static Sense>,
    said: Said,
}

/// Which markers stood in a clause.
#[derive(Clone, Copy, Default, PartialEq, Eq)]
enum Said {
    #[default]
    Nothing,
    Ban,
    Allow,
}

/// Reads a sentence.
pub(super) fn parse(text: &str) -> Read {
    let mut reader = Reader::default();
    let told = normal(text);
    let plain = reader.figures(&told, text.chars().count() > LONGEST);
    if NOTHING.contains(&told.trim()) {
        reader.none = true;
    } else {
        plain.split('|').for_each(|clause| reader.clause(clause));
    }
    // "Operation next month": it has not happened, and nothing ends with it.
    if TO_COME.is_match(&told) {
        reader.repaired = false;
        reader.read.until = None;
    }
    let mut read = reader.finish();
    read.until = read.until.map(|until| as_written(&until, text));
    read
}

/// Words of the lowered sentence as they stand in the sentence.
fn as_written(words: &str, text: &str) -> String {
    let lower = text.to_lowercase();
    let at = lower.find(words).filter(|_| lower.len() == text.len());
    at.and_then(|at| text.get(at..at + words.len())).unwrap_or(words).to_owned()
}

/// Lower case, hyphens as spaces, apostrophes left out, stops as `|`.
fn normal(text: &str) -> String {
    let lower = text
        .to_lowercase()
        .replace(['\u{2019}', '\''], "")
        .replace(" - ", " | ")
        .replace(['\u{2013}', '\u{2014}'], " | ");
    let chars: Vec<char> = lower.chars().collect();
    let digit = |n: usize| chars.get(n).is_some_and(char::is_ascii_digit);
    let mut out = String::new();
    for (n, c) in chars.iter().enumerate() {
        let within_number = n > 0 && digit(n - 1) && digit(n + 1);
        match c {
            ',' | '.' | '/' if within_number => out.push(if *c == ',' { '.' } else { *c }),
            ',' | ';' | ':' | '(' | ')' | '/' | '&' | '+' | '.' | '!' | '?' => out.push_str(" | "),
            '-' if within_number => out.push('-'),
            '-' => out.push(' '),
            '%' => out.push_str(" % "),
            c if c.is_whitespace() => out.push(' '),
            c => out.push(*c),
        }
    }
    let words: Vec<&str> = out.split_whitespace().collect();
    let mut joined = String::new();
    for word in words {
        match word {
            "but" | "just" | "so" | "because" | "however" | "and" | "then" | "though" => {
                joined.push_str("| ")
            }
            word => {
                joined.push_str(word);
                joined.push(' ');
            }
        }
    }
    // "everything but" and "anything but" are one word for a ban.
    joined.replace("everything | ", "everything but ").replace("anything | ", "anything but ")
}

#[derive(Default)]
struct Reader {
    read: Read,
    parts: Vec<(Vec<Property>, Option<String>)>,
    conditions: Vec<(String, Option<String>)>,
    week: Option<f64>,
    stated: bool,
    /// Nothing heavy, of everything or of some lifts: what a sore part forbids stays forbidden.
    nothing_heavy: bool,
    allowed: bool,
    cleared: bool,
    repaired: bool,
    none: bool,
    over: bool,
    /// The clause is in the words of whoever treats the person.
    treated: bool,
    /// Where the parts of the last clause that named one begin.
    last_parts: usize,
    noted: bool,
    unknown: bool,
    last: Said,
    last_unit: Option<bool>,
    /// A part is sore that curling the trunk would hurt.
    curled: bool,
    /// Terms that stood bare, until the next clause tells what of them.
    pending: Vec<&'static Sense>,
}

impl Reader {
    fn lower_effort(&mut self, rpe: Option<f64>) {
        self.read.effort = [self.read.effort, rpe].into_iter().flatten().min_by(f64::total_cmp);
    }

    /// A clause, and what it says is over: its own sore part, else the one that was named last. Another part stays sore.
    fn clause(&mut self, text: &str) {
        let begin = self.parts.len();
        self.treated = TREATED.is_match(text);
        let over = self.read_clause(text);
        let named = self.parts.len() > begin;
        if over {
            self.parts.truncate(if named { begin } else { self.last_parts });
        } else if named {
            self.last_parts = begin;
        }
    }

    /// True when it says that something is over.
    fn read_clause(&mut self, text: &str) -> bool {
        if self.form(text) {
            return false;
        }
        let (ceiling, text) = self.ceiling(text);
        let words: Vec<&str> = text.split_whitespace().collect();
        let (mut terms, mut markers) = (Vec::new(), Vec::new());
        let (mut heavy, mut over, mut at) = (false, false, 0);
        let (mut cleared, mut repaired) = (false, false);
        while at < words.len() {
            let Some((sense, count)) = longest(&words[at..]) else {
                self.unknown = true;
                at += 1;
                continue;
            };
            match sense {
                Sense::Ban | Sense::Allow => markers.push((at, sense, words[at..at + count].join(" "))),
                Sense::Heavy => heavy = true,
                Sense::Only | Sense::Vague | Sense::BackTo => self.unknown = true,
                Sense::Clearance => cleared = true,
                Sense::Repaired => repaired = true,
                Sense::None => self.none = true,
                Sense::Over => over = true,
                Sense::Note => self.noted = true,
                Sense::Filler => {}
                Sense::Condition { name, reason } => self.conditions.push((name.clone(), reason.clone())),
                term => terms.push((at, term)),
            }
            at += count;
        }
        // "Not repaired yet", "not healed": what is denied has not happened.
        if markers.iter().any(|(_, sense, _)| matches!(sense, Sense::Ban)) {
            (cleared, repaired, over) = (false, false, false);
        }
        self.cleared |= cleared;
        self.repaired |= repaired;
        self.over |= over;
        if terms.is_empty() && markers.is_empty() && !heavy && ceiling.is_none() {
            return over;
        }
        if let Some(mut ceiling) = ceiling {
            ceiling.of = terms.iter().filter_map(|(_, sense)| families(sense)).collect();
            let all = terms.iter().any(|(_, sense)| matches!(sense, Sense::Every));
            // "Overhead up to 20 kg" has no list of lifts: the ceiling then holds for everything.
            if all || terms.iter().any(|(_, sense)| matches!(sense, Sense::Property(_))) {
                ceiling.of.clear();
            }
            self.read.ceilings.push(ceiling);
            self.stated = true;
            terms.retain(|(_, sense)| matches!(sense, Sense::Part { .. }));
            self.take(
                Clause { bare: terms.into_iter().map(|(_, sense)| sense).collect(), ..Clause::default() },
                false,
            );
            return over;
        }
        let clause = self.polarity(terms, &markers);
        // "Bike and dumbbells ok": what stands bare in front of an allowance belongs to it.
        let waits = clause.said == Said::Nothing
            && !clause.bare.iter().any(|sense| matches!(sense, Sense::Part { .. }));
        let pending = std::mem::take(&mut self.pending);
        if clause.said == Said::Allow {
            self.take(Clause { allows: pending, said: Said::Allow, ..Clause::default() }, false);
        } else if !pending.is_empty() {
            self.take(Clause { bare: pending, ..Clause::default() }, false);
        }
        if waits {
            self.pending = clause.bare;
        } else {
            self.take(clause, heavy);
        }
        over
    }

    /// "Thrusters only with dumbbells", "burpees without the jump": one form of a movement, which forbids the others. False where
    /// the clause says nothing of the kind.
    fn form(&mut self, text: &str) -> bool {
        let (with, found) = match (ONLY_WITH.captures(text), WITHOUT.captures(text)) {
            (Some(found), _) => (true, found),
            (None, Some(found)) => (false, found),
            (None, None) => return false,
        };
        let sense = |n: usize| {
            let words: Vec<&str> = found[n].split_whitespace().collect();
            longest(&words).filter(|(_, count)| *count == words.len()).map(|(sense, _)| sense)
        };
        let (Some(Sense::Family(family)), Some(form)) = (sense(1), sense(2)) else { return false };
        match form {
            Sense::Family(tool) if with => {
                let out: Vec<String> = tool.split('|').map(|pattern| format!("!{pattern}")).collect();
                self.read.movements.push(format!("{family}|{}", out.join("|")));
            }
            Sense::Property(properties) if !with => {
                self.read.forms.extend(properties.iter().map(|property| (family.clone(), *property)));
            }
            _ => return false,
        }
        self.stated = true;
        true
    }

    /// Which terms of a clause are forbidden, which are fine.
    fn polarity(&self, terms: Vec<(usize, &'static Sense)>, markers: &[(usize, &Sense, String)]) -> Clause {
        let ban = markers.iter().find(|(_, sense, _)| matches!(sense, Sense::Ban));
        let allow = markers.iter().any(|(_, sense, _)| matches!(sense, Sense::Allow));
        let mut clause = Clause::default();
        let all = |terms: Vec<(usize, &'static Sense)>| {
            terms.into_iter().map(|(_, sense)| sense).collect::<Vec<_>>()
        };
        match ban {
            Some((at, _, word)) => {
                clause.said = Said::Ban;
                let (before, after): (Vec<_>, Vec<_>) = terms.into_iter().partition(|(place, _)| place < at);
                if after.is_empty() {
                    clause.bans = all(before);
                } else {
                    clause.bans = all(after);
                    let parts = |sense: &&Sense| matches!(sense, Sense::Part { .. });
                    let (parts, others): (Vec<_>, Vec<_>) = all(before).into_iter().partition(parts);
                    clause.bare = parts;
                    if allow || word == "instead of" || word.contains("except") || word.contains("but") {
                        clause.allows = others;
                    } else {
                        clause.bans.extend(others);
                    }
                }
            }
            None if allow => {
                clause.said = Said::Allow;
                clause.allows = all(terms);
            }
            None => {
                let listed = self.last != Said::Nothing
                    && !terms.iter().any(|(_, sense)| matches!(sense, Sense::Part { .. }));
                clause.said = if listed { self.last } else { Said::Nothing };
                match clause.said {
                    Said::Ban => clause.bans = all(terms),
                    Said::Allow => clause.allows = all(terms),
                    Said::Nothing => clause.bare = all(terms),
                }
            }
        }
        clause
    }

    fn take(&mut self, clause: Clause, heavy: bool) {
        let Clause { bans, allows, bare, said } = clause;
        if said == Said::Ban && bans.is_empty() && !heavy {
            // "Not" of nothing that is known.
            self.unknown |= bare.is_empty();
        }
        if heavy && bans.is_empty() && said == Said::Ban {
            self.forbid(&[Property::Straining, Property::MaximalEffort]);
            self.nothing_heavy = true;
        }
        for sense in bans {
            match sense {
                Sense::Family(_) if heavy => {
                    self.forbid(&[Property::Straining]);
                    self.nothing_heavy = true;
                    continue;
                }
                Sense::Property(properties) => {
                    self.forbid(properties);
                    self.read.by_word.extend(properties);
                }
                Sense::Family(patterns) => self.read.movements.push(patterns.clone()),
                Sense::Part { group, reason } => {
                    self.parts.push((group.clone(), reason.clone()));
                    continue;
                }
                Sense::Every => {
                    self.unknown = true;
                    continue;
                }
                _ => {}
            }
            self.stated = true;
        }
        for sense in allows {
            self.allowed = true;
            match sense {
                Sense::Family(patterns) => {
                    self.read.allows.push(patterns.clone());
                    if self.treated {
                        self.read.by_doctor.push(patterns.clone());
                    }
                }
                Sense::Property(properties) => {
                    self.read.allows.extend(properties.iter().map(|property| property.key().to_owned()));
                    // What is fine is taken out of what a body part or condition would forbid.
                    self.read.forbids.retain(|property| !properties.contains(property));
                }
                _ => {}
            }
        }
        for sense in bare {
            match sense {
                Sense::Part { group, reason } => self.parts.push((group.clone(), reason.clone())),
                Sense::Stated(properties) => {
                    self.forbid(properties);
                    self.stated = true;
                }
                // Something is named without a word on whether it may be: spared, and asked about.
                Sense::Property(properties) => {
                    self.forbid(properties);
                    self.unknown = true;
                }
                Sense::Family(patterns) => {
                    self.read.movements.push(patterns.clone());
                    self.unknown = true;
                }
                _ => {}
            }
        }
        if said != Said::Nothing {
            self.last = said;
        }
    }

    fn forbid(&mut self, properties: &[Property]) {
        for property in properties {
            if !self.read.forbids.contains(property) {
                self.read.forbids.push(*property);
            }
        }
    }

    fn reason(&mut self, reason: &str) {
        if !self.read.reasons.iter().any(|known| known == reason) {
            self.read.reasons.push(reason.to_owned());
        }
    }

    fn finish(mut self) -> Read {
        let bare = std::mem::take(&mut self.pending);
        self.take(Clause { bare, ..Clause::default() }, false);
        let spares = !self.parts.is_empty();
        // Of a sore part everything usual is spared, and asked about, where nothing but "nothing heavy" is said of it.
        self.stated |= self.nothing_heavy && !spares;
        let nothing_said = !self.stated && self.conditions.is_empty() && !self.unknown;
        for (group, reason) in std::mem::take(&mut self.parts) {
            self.curled |= group.contains(&Property::SpinalFlexion);
            if let Some(reason) = &reason {
                self.reason(reason);
            }
            // A belly that has parted is spared whatever else is said.
            let always = group == [Property::CoreStrain, Property::SpinalFlexion];
            if (!self.stated && spares) || always {
                let allows = self.read.allows.clone();
                let kept: Vec<Property> =
                    group.into_iter().filter(|p| !allows.iter().any(|allowed| allowed == p.key())).collect();
                self.forbid(&kept);
                if !always {
                    self.read.by_part.extend(&kept);
                }
            }
            if !self.stated && spares && self.conditions.is_empty() {
                self.read.sore = true;
            }
        }
        let mut asks = self.read.sore;
        for (name, reason) in std::mem::take(&mut self.conditions) {
            let brought = brings(&name, self.week, self.cleared, self.repaired);
            self.forbid(brought.forbids);
            self.read.by_part.retain(|property| !brought.forbids.contains(property));
            self.read.by_word.retain(|property| !brought.forbids.contains(property));
            let effort_stated = self.read.effort.is_some();
            self.lower_effort(brought.effort);
            asks |= match brought.asks {
                Asks::Nothing => false,
                Asks::UnlessStated => !(self.stated || self.allowed),
                Asks::UnlessCleared => !self.cleared,
                Asks::UnlessEffort => !effort_stated,
                Asks::Always => true,
            };
            if let Some(reason) = &reason {
                self.reason(reason);
            }
            let said = name.split('_').next().filter(|first| matches!(*first, "postpartum" | "osteoporosis"));
            self.read.condition.get_or_insert(said.unwrap_or(&name).to_owned());
        }
        // An operation without a word on what it forbids.
        asks |= self.repaired && !self.stated && self.read.condition.is_none() && !self.over;
        // Beside a sore back or belly, "no sit-ups" is about the curling.
        let curls = self.read.movements.iter().any(|patterns| patterns.contains("*sit-up"));
        if curls && self.curled {
            self.forbid(&[Property::SpinalFlexion]);
        }
        for property in self.read.forbids.clone() {
            if let Some(reason) = reason_of(property) {
                self.reason(reason);
            }
        }
        let understood = self.stated || self.allowed || self.none || self.over || self.noted;
        let empty = !understood && self.read.condition.is_none() && !self.read.sore;
        self.read.unread = self.unknown || asks || empty;
        self.read.nothing = nothing_said
            && (self.none || self.over || self.noted || self.allowed)
            && self.read.forbids.is_empty()
            && self.read.movements.is_empty()
            && !self.read.unread;
        self.read
    }
}

/// The ids that a term of a ceiling means.
fn families(sense: &Sense) -> Option<String> {
    match sense {
        Sense::Family(patterns) => Some(patterns.clone()),
        _ => None,
    }
}
