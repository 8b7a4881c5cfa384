//! Figures of a sentence: dates, ages, weeks and efforts are taken out of it before it is read, a ceiling out of its clause.

use std::sync::LazyLock;

use regex::Regex;

use super::Reader;
use crate::limits::Ceiling;
use crate::movement::Property;

/// Below this age somebody is a minor.
const OF_AGE: f64 = 18.0;
/// Kilograms a pound.
const POUND: f64 = 0.453_592_37;
/// What "an empty bar" weighs, in kilograms.
const EMPTY_BAR: f64 = 20.0;

pattern!(CEILING, r"(\d+(?:[.,]\d+)?) ?(%|percent|per cent|kgs?\b|kilos?\b|lbs?\b|pounds?\b)");
pattern!(EMPTY, r"\bempty bar(?:bell)?\b");
pattern!(UP_TO, r"\b(?:up to|max(?:imum)?|above|over|at most|more than|heavier than) (\d+(?:[.,]\d+)?)\b");
pattern!(
    EFFORT,
    r"\brpe ?(?:of |max |at most )?(\d+)|\beffort (?:of |max |at most )?(\d+)|\b(\d+|five|six|seven|eight|nine) (?:out of|of|/) ?(?:10|ten)\b"
);
pattern!(
    UNTIL,
    r"\b(?:until|till?|before|from|by|through) ((?:the )?(?:(?:end|middle|mid|start|beginning|late|early) (?:of )?)?(?:next |this )?(?:\d{1,2}(?:st|nd|rd|th|\.)? ?(?:of )?)?(?:january|february|march|april|may|june|july|august|september|october|november|december|jan|feb|mar|apr|jun|jul|aug|sept?|oct|nov|dec|spring|summer|autumn|winter|christmas|easter|new year|week|month|year|monday|tuesday|wednesday|thursday|friday|saturday|sunday|\d{4}-\d{2}-\d{2}|\d{1,2}[./]\d{1,2}(?:[./]\d{2,4})?)(?: \d{1,2}(?:st|nd|rd|th)?\b)?(?: \d{4})?)"
);
pattern!(
    BACK_AT,
    r"\bback to (.+?) (?:in|from|on|by|after) ((?:the )?(?:(?:end|middle|mid|start|beginning) (?:of )?)?(?:next |this )?(?:\d{1,2}(?:st|nd|rd|th|\.)? ?)?(?:january|february|march|april|may|june|july|august|september|october|november|december|jan|feb|mar|apr|jun|jul|aug|sept?|oct|nov|dec|spring|summer|autumn|winter|christmas|easter|\d+ (?:weeks?|months?|days?)))"
);
pattern!(
    THIS,
    r"\b(?:for )?((?:this|next) (?:week|month|year|block|cycle)|(?:\d+|one|two|three|four|six) more (?:weeks?|months?))\b"
);
pattern!(
    PAST,
    r"\b(?:in |on |since |last )?(?:january|february|march|april|june|july|august|september|october|november|december|monday|tuesday|wednesday|thursday|friday|saturday|sunday)\b"
);
pattern!(
    AGE,
    r"\b(?:i ?m |i am |aged? |over |age )?(\d{1,2}) ?(?:years?|yrs?|yo|y) ?(?:old)?\b|\bi ?m (\d{1,2})\b|\b(?:over|age|aged) (\d{2})\b"
);
pattern!(
    PULSE,
    r"\b(?:max(?:imum)? )?(?:heart rate|hr|pulse|bpm) ?(?:max |under |below |up to |of |over |above )?\d{2,3}(?: ?bpm)?\b|\b\d{2,3} ?bpm\b"
);
pattern!(YEAR, r"\b(?:in |since |from )?(?:19|20)\d\d\b");
pattern!(WEEK, r"\b(?:week|wk|w) ?(\d{1,2})\b|\b(\d{1,2}) ?(?:weeks?|wks?|w)\b");
pattern!(
    SPAN,
    r"\b(?:month|week|day|stage|phase|grade) ?\d{1,2}\b|\b\d{1,3} ?(?:weeks?|wks?|w|months?|days?|years?|yrs?|min(?:ute)?s?)\b"
);
pattern!(TRIMESTER, r"\b(1st|2nd|3rd|first|second|third|last) trimester\b");

impl Reader {
    /// Takes dates, ages, weeks and efforts out of the text, and leaves the rest.
    pub(super) fn figures(&mut self, text: &str, too_long: bool) -> String {
        self.unknown |= too_long;
        let mut text = text.to_owned();
        let number = |found: &str| found.replace(',', ".").parse::<f64>().ok();
        if let Some(found) = BACK_AT.captures(&text) {
            self.read.until = Some(found[2].trim().to_owned());
            // What somebody comes back to at a date is left out until then.
            let ban = format!("no {} ", &found[1]);
            let all = found[0].to_owned();
            text = text.replacen(&all, &ban, 1);
        }
        if let Some(found) = EFFORT.captures(&text) {
            let said = found.iter().skip(1).flatten().next().map_or("", |found| found.as_str());
            let words = ["five", "six", "seven", "eight", "nine"];
            let worded = words.iter().zip(5_u8..).find(|(word, _)| **word == said).map(|(_, n)| f64::from(n));
            let rpe = worded.or_else(|| number(said)).filter(|rpe| (1.0..=10.0).contains(rpe));
            self.lower_effort(rpe);
            self.stated |= rpe.is_some();
            self.unknown |= rpe.is_none();
            text = EFFORT.replace(&text, " effort ").replace("effort", " ");
        }
        for pattern in [&UNTIL, &THIS] {
            if let Some(found) = pattern.captures(&text) {
                if self.read.until.is_none() {
                    self.read.until = Some(found[1].trim().to_owned());
                }
                text = pattern.replace(&text, " ").into_owned();
            }
        }
        let pregnant = text.contains("pregnan") || text.contains("preggo") || text.contains("expecting");
        if pregnant {
            self.week =
                WEEK.captures(&text).and_then(|found| number(found.get(1).or(found.get(2))?.as_str()));
            text = WEEK.replace(&text, " ").into_owned();
            if let Some(found) = TRIMESTER.captures(&text) {
                let early = matches!(&found[1], "1st" | "first");
                self.week = self.week.or(Some(if early { 10.0 } else { 20.0 }));
                text = TRIMESTER.replace(&text, " ").into_owned();
            }
        }
        if let Some(found) = AGE.captures(&text).filter(|found| {
            let span = &found[0];
            let after = text[found.get(0).map_or(0, |all| all.end())..].trim_start();
            // "Over 40 kg" is no age.
            let weighs =
                ["kg", "kilo", "lb", "pound", "%", "per", "cm"].iter().any(|unit| after.starts_with(unit));
            if weighs {
                return false;
            }
            span.contains("old") || span.contains("yo") || !span.contains("year") && !span.contains("yr")
        }) {
            let age = found.iter().skip(1).flatten().next().and_then(|age| number(age.as_str()));
            let over = found[0].starts_with("over");
            if age.is_some_and(|age| age < OF_AGE) && !over {
                self.conditions.push(("minor".to_owned(), None));
            }
            self.noted = true;
            text = AGE.replace(&text, " ").into_owned();
        }
        if PULSE.is_match(&text) {
            self.forbid(&[Property::HighHeartRate]);
            self.stated = true;
            text = PULSE.replace_all(&text, " ").into_owned();
        }
        text = YEAR.replace_all(&text, " ").into_owned();
        SPAN.replace_all(&PAST.replace_all(&text, " "), " ").into_owned()
    }

    /// A ceiling that a clause states, and the clause without it.
    pub(super) fn ceiling(&mut self, text: &str) -> (Option<Ceiling>, String) {
        let of = |percent, kg| Some(Ceiling { percent, kg, of: Vec::new() });
        let number = |found: &str| found.replace(',', ".").parse::<f64>().ok();
        if let Some(found) = CEILING.captures(text) {
            let value = number(&found[1]);
            let rest = CEILING.replace(text, " ").into_owned();
            let rest = drop_ban_words(&rest);
            self.last_unit = Some(found[2].starts_with('%') || found[2].starts_with("per"));
            return match &found[2] {
                unit if unit.starts_with('%') || unit.starts_with("per") => (of(value, None), rest),
                unit if unit.starts_with('k') => (of(None, value), rest),
                _ => (of(None, value.map(|pounds| (pounds * POUND * 10.0).floor() / 10.0)), rest),
            };
        }
        if EMPTY.is_match(text) {
            return (of(None, Some(EMPTY_BAR)), drop_ban_words(&EMPTY.replace(text, " ")));
        }
        if let (Some(found), Some(percent)) = (UP_TO.captures(text), self.last_unit) {
            let value = number(&found[1]);
            let rest = drop_ban_words(&UP_TO.replace(text, " "));
            return (if percent { of(value, None) } else { of(None, value) }, rest);
        }
        (None, text.to_owned())
    }
}

/// A clause without the words that belong to its ceiling: "nothing over", "no more than", "max".
fn drop_ban_words(text: &str) -> String {
    let belongs = |word: &&str| {
        !matches!(
            *word,
            "no" | "not"
                | "nothing"
                | "never"
                | "max"
                | "ok"
                | "fine"
                | "more"
                | "than"
                | "heavier"
                | "only"
                | "one"
                | "heavy"
        )
    };
    text.split_whitespace().filter(belongs).collect::<Vec<_>>().join(" ")
}
