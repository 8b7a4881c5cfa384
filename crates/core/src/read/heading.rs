//! Headings: words that name a part of the day, with or without more on the same line.

use std::sync::LazyLock;

use regex::Regex;

use crate::session::PartKind;

/// Ways coaches head a part, longest first within a kind.
const HEADINGS: &[(PartKind, &str)] = &[
    (
        PartKind::Home,
        r"(?:the )?(?:at[- ]home|home|travel|hotel|no[- ]equipment|no[- ]kit)(?: (?:version|workout|session|option|wod|piece))?",
    ),
    (
        PartKind::Mobility,
        r"(?:the )?(?:cool[- ]?downs?|mobility(?: work)?|mobilise|mobilize|stretch(?:es|ing)?|flexibility|flush)",
    ),
    (
        PartKind::Warmup,
        r"(?:the )?(?:general |gen\.? |specific |group |dynamic )?(?:warm[- ]?ups?|wu|w/u|warming up|movement prep|primer|activation)",
    ),
    (
        PartKind::Accessory,
        r"(?:the )?(?:accessor(?:y|ies)|assistance|body ?building|pump|extras?|extra work|extra credit|midline|core work|core|optional)(?: work| super\s?set| circuit)?",
    ),
    (
        PartKind::Strength,
        r"(?:the )?(?:strength|weightlifting|weights|lifting|lift|lifts|oly(?:mpic)?(?: lifting)?|barbell(?: work)?|power)(?: work| block| piece)?",
    ),
    (
        PartKind::Skill,
        r"(?:the )?(?:open gym(?: ?[/&+] ?skills?)?|skills?|gymnastics?|technique|practice|skill work|skill practice)(?: work)?|[a-z][a-z -]{2,24} (?:skills?|technique|practice|drills?)(?: work)?",
    ),
    (
        PartKind::Conditioning,
        r"(?:the )?(?:conditioning|met[- ]?con|wod|workout(?: of the day)?|engine|cardio|main (?:piece|part|event|set)|main|finisher|burner|sweat|work capacity|aerobic(?: work)?|intervals)",
    ),
];

static PATTERNS: LazyLock<Vec<(PartKind, Regex)>> = LazyLock::new(|| {
    HEADINGS
        .iter()
        .map(|(kind, words)| {
            // A heading ends the line, or is followed by punctuation, by a few words and a colon, or
            // (for the parts that are mostly lists) straight by a number.
            let pattern = format!(
                r"^(?:then |now |first |and )?(?:{words})(?:\s*$|\s*[-:,.;(!/&+]\s*|\s+\x22[^\x220-9]{{1,40}}\x22\s*$|\s+(?:together|with me|today|for all|as a class|on your own|\d+\s*-?\s*(?:min|minutes?)\b)[^:\d]{{0,20}}(?:[:,]\s*|$))"
            );
            (*kind, Regex::new(&pattern).expect("tested"))
        })
        .collect()
});

/// Words that stand in a heading; they are known, so spelling leaves them alone.
pub(super) fn heading_words() -> impl Iterator<Item = &'static str> {
    HEADINGS.iter().flat_map(|(_, words)| words.split(|c: char| !c.is_ascii_lowercase()))
}

static DIRECT: LazyLock<Regex> = LazyLock::new(|| {
    Regex::new(r"^(?:then )?(?:warm[- ]?up|cool[- ]?down|accessory|finisher)\s+(?:\d)").expect("tested")
});

static DAYS: LazyLock<Regex> = LazyLock::new(|| {
    Regex::new(r"^[^0-9]{0,14}\b(?:monday|tuesday|wednesday|thursday|friday|saturday|sunday|mon|tue|tues|wed|thu|thurs|fri|sat|sun)\b(?:[^:0-9]{0,24}|(?:[ ,./-]*(?:the )?(?:\d{4}|\d{1,2}(?:st|nd|rd|th)?)\b(?:[ ,./-]*(?:of )?(?:jan|feb|mar|apr|may|jun|jul|aug|sep|oct|nov|dec)[a-z]*)?){1,3}[ ,.-]*):?$")
        .expect("tested")
});

/// A heading at the front of a comparable line without its label: its kind, and where the rest begins.
pub(super) fn take_heading(text: &str) -> Option<(PartKind, usize)> {
    if let Some(found) = DIRECT.find(text) {
        let kind = match text.trim_start_matches("then ").as_bytes()[0] {
            b'w' => PartKind::Warmup,
            b'c' => PartKind::Mobility,
            b'a' => PartKind::Accessory,
            _ => PartKind::Conditioning,
        };
        return Some((kind, found.end() - 1));
    }
    PATTERNS.iter().find_map(|(kind, pattern)| {
        let found = pattern.find(text)?;
        let text = found.as_str();
        // "warm-up - 8 minutes": what follows the words may hold a length, so it is not taken.
        let keep = text.find(|c: char| c.is_ascii_digit()).unwrap_or(text.len());
        Some((*kind, keep))
    })
}

/// Whether the line only names the day.
pub(super) fn is_day(text: &str) -> bool {
    let text = text.trim();
    text.len() <= 40 && DAYS.is_match(text)
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn headings_are_told_from_sentences() {
        for (text, kind, rest) in [
            ("strength", PartKind::Strength, ""),
            ("conditioning \"the grinder\"", PartKind::Conditioning, ""),
            ("warm-up - 8 minutes, keep moving", PartKind::Warmup, "8 minutes, keep moving"),
            ("warm up together: 2 rounds 250m ski", PartKind::Warmup, "2 rounds 250m ski"),
            ("accessory, 3 rounds:", PartKind::Accessory, "3 rounds:"),
            ("at home, no kit", PartKind::Home, "no kit"),
            ("home version", PartKind::Home, ""),
            ("cool down: foam roll 2 min", PartKind::Mobility, "foam roll 2 min"),
            ("finisher: 100 double-unders", PartKind::Conditioning, "100 double-unders"),
            ("strength (no barbells today)", PartKind::Strength, "no barbells today)"),
            ("stretch: couch 90 s/side", PartKind::Mobility, "couch 90 s/side"),
        ] {
            let (found, place) = take_heading(text).unwrap_or_else(|| panic!("{text}"));
            assert_eq!((found, &text[place..]), (kind, rest), "{text}");
        }
        for text in
            ["no conditioning today", "power cleans", "core temperature is up", "strength comes first here"]
        {
            assert_eq!(take_heading(text), None, "{text}");
        }
    }

    #[test]
    fn a_line_with_only_the_day_is_a_title() {
        assert!(is_day("monday") && is_day("donnerstag / thursday"));
        assert!(is_day("tues 24/11") && is_day("wednesday 3rd of june 2026") && is_day("fri 27 nov"));
        assert!(!is_day("see you monday at 5") && !is_day("monday 10 burpees"));
    }
}
