//! Numbers and lengths of time, in digits and in words.

/// Matches a number in digits or words.
pub(super) const NUMBER: &str = r"(?:\d+(?:\.\d+)?|one|two|three|four|five|six|seven|eight|nine|ten|eleven|twelve|fourteen|fifteen|sixteen|eighteen|twenty|twenty-five|thirty|forty|forty-five|fifty|sixty|ninety|hundred)";

/// Matches a length of time with its unit: `1:30`, `90 s`, `12 minutes`, `a minute`.
pub(super) const TIME: &str = r"(?:\d{1,3}:[0-5]\d|:[0-5]\d|(?:\d+(?:\.\d+)?|one|two|three|four|five|six|seven|eight|nine|ten|eleven|twelve|fourteen|fifteen|sixteen|eighteen|twenty|twenty-five|thirty|forty|forty-five|fifty|sixty|ninety)[ -]*(?:minutes|minute|mins|min|mn|seconds|second|secs|sec|hours|hour|hrs|hr|h|s)\b(?:\s*(?:and\s*)?\d+\s*(?:seconds|secs|sec|s)\b)?|half an? (?:minute|hour)|an? (?:minute and a half|minute|hour))";

/// Largest number that anybody means; beyond it a figure is no number.
const MOST: f64 = 1e6;

/// The value of a number in digits or words.
pub(super) fn number(text: &str) -> Option<f64> {
    let word = match text.trim() {
        "a" | "an" | "one" => 1.0,
        "two" => 2.0,
        "three" => 3.0,
        "four" => 4.0,
        "five" => 5.0,
        "six" => 6.0,
        "seven" => 7.0,
        "eight" => 8.0,
        "nine" => 9.0,
        "ten" => 10.0,
        "eleven" => 11.0,
        "twelve" => 12.0,
        "fourteen" => 14.0,
        "fifteen" => 15.0,
        "sixteen" => 16.0,
        "eighteen" => 18.0,
        "twenty" => 20.0,
        "twenty-five" => 25.0,
        "thirty" => 30.0,
        "forty" => 40.0,
        "forty-five" => 45.0,
        "fifty" => 50.0,
        "sixty" => 60.0,
        "ninety" => 90.0,
        "hundred" => 100.0,
        digits => return digits.parse().ok().filter(|value: &f64| value.is_finite() && *value <= MOST),
    };
    Some(word)
}

/// A whole number in digits or words.
pub(super) fn whole(text: &str) -> Option<u32> {
    number(text).filter(|n| n.fract() == 0.0 && *n >= 0.0 && *n < 1e6).map(|n| n as u32)
}

/// Seconds of a length of time with its unit.
///
/// ```text
/// "1:30" 90    ":20" 20    "1.5 min" 90    "90s" 90    "a minute" 60    "1 min 30 s" 90
/// ```
pub(super) fn seconds(text: &str) -> Option<u32> {
    let text = text.trim();
    match text {
        "half a minute" => return Some(30),
        "half an hour" => return Some(1800),
        "a minute and a half" => return Some(90),
        _ => {}
    }
    if let Some((minutes, rest)) = text.split_once(':') {
        let minutes: u32 = if minutes.is_empty() { 0 } else { minutes.parse().ok()? };
        return Some(minutes * 60 + rest.parse::<u32>().ok()?);
    }
    let place = text
        .find(|c: char| c.is_ascii_digit())
        .map_or_else(|| text.rfind([' ', '-']), |_| text.find(|c: char| !(c.is_ascii_digit() || c == '.')))?;
    let value = number(text[..place].trim_end_matches(['-', ' ']))?;
    let rest = text[place..].trim_start_matches([' ', '-']);
    let unit_end = rest.find(|c: char| !c.is_ascii_alphabetic()).unwrap_or(rest.len());
    let factor = match &rest[..unit_end] {
        "hours" | "hour" | "hrs" | "hr" | "h" => 3600.0,
        "s" | "sec" | "secs" | "second" | "seconds" => 1.0,
        _ => 60.0,
    };
    let more: String = rest[unit_end..].chars().filter(char::is_ascii_digit).collect();
    let total = value * factor + more.parse::<f64>().unwrap_or(0.0);
    (total <= 1e6).then_some(total.round() as u32)
}

/// Seconds of a length of time; a bare number counts minutes.
pub(super) fn minutes_or_time(text: &str) -> Option<u32> {
    match number(text) {
        Some(minutes) if minutes <= 10_000.0 => Some((minutes * 60.0).round() as u32),
        _ => seconds(text),
    }
}

/// Seconds of a rest or a bout; a bare number from 10 up counts seconds, below it minutes.
pub(super) fn rest_seconds(text: &str) -> Option<u32> {
    match number(text) {
        Some(n) if (10.0..=1200.0).contains(&n) => Some(n.round() as u32),
        Some(n) if n < 10.0 => Some((n * 60.0).round() as u32),
        Some(_) => None,
        None => seconds(text),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_way_of_writing_a_time_is_read() {
        let pattern = regex::Regex::new(&format!("^{TIME}$")).unwrap();
        for (text, expected) in [
            ("1:30", 90),
            (":20", 20),
            ("1.5 min", 90),
            ("90s", 90),
            ("a minute", 60),
            ("half a minute", 30),
            ("1 min 30 s", 90),
            ("twelve minutes", 720),
            ("12-minute", 720),
            ("45 sec", 45),
            ("1 hour", 3600),
            ("twenty-five minutes", 1500),
        ] {
            assert!(pattern.is_match(text), "{text}");
            assert_eq!(seconds(text), Some(expected), "{text}");
        }
    }

    #[test]
    fn bare_numbers_take_the_unit_that_makes_sense() {
        assert_eq!(minutes_or_time("12"), Some(720));
        assert_eq!(rest_seconds("90"), Some(90));
        assert_eq!(rest_seconds("3"), Some(180));
        assert_eq!(rest_seconds("99999"), None);
    }
}
