//! Names of people in words: whether they stand there, and words without them.

use serde_json::Value;

/// A text without a name, however it is written; what only holds its letters, as "bench" does those of Ben, stays.
pub(crate) fn without(text: &str, name: &str) -> String {
    let wanted: Vec<char> = name.chars().flat_map(char::to_lowercase).collect();
    let mut out = String::new();
    let (mut at, mut before) = (0, None);
    while let Some(c) = text[at..].chars().next() {
        let begins_word = !before.is_some_and(char::is_alphanumeric);
        let found = begins_word.then(|| length_of(&text[at..], &wanted)).flatten();
        if found.is_none() {
            out.push(c);
        }
        before = Some(c);
        at += found.unwrap_or(c.len_utf8());
    }
    out
}

/// Whether a name stands in a text as words of its own.
pub(crate) fn stands_in(text: &str, name: &str) -> bool {
    without(text, name) != text
}

/// How many bytes of a text the wanted letters take that it begins with, where no other letter follows them.
fn length_of(text: &str, wanted: &[char]) -> Option<usize> {
    let mut left = wanted;
    for (at, c) in text.char_indices() {
        if left.is_empty() {
            return (!wanted.is_empty() && !c.is_alphanumeric()).then_some(at);
        }
        for lower in c.to_lowercase() {
            left = left.strip_prefix(&[lower])?;
        }
    }
    (left.is_empty() && !wanted.is_empty()).then_some(text.len())
}

/// Whether a name stands anywhere in a value, as a text, within one as whole words, or as a key.
pub(crate) fn names(value: &Value, name: &str) -> bool {
    match value {
        Value::String(text) => says(text, name),
        Value::Array(all) => all.iter().any(|one| names(one, name)),
        Value::Object(map) => map.iter().any(|(key, one)| key == name || names(one, name)),
        _ => false,
    }
}

/// Whether a text says a name as whole words: "Al" is not in "Alba".
pub(crate) fn says(text: &str, name: &str) -> bool {
    let inside = |c: Option<char>| c.is_some_and(char::is_alphanumeric);
    text.match_indices(name).any(|(at, _)| {
        !inside(text[..at].chars().next_back()) && !inside(text[at + name.len()..].chars().next())
    })
}

#[cfg(test)]
mod tests {
    use serde_json::json;

    use super::*;

    #[test]
    fn a_name_is_taken_out_of_a_text_however_it_is_written() {
        assert_eq!(without("Ada leads; ask ADA first", "Ada"), " leads; ask  first");
        assert_eq!(without("nobody here", "Ada"), "nobody here");
        assert_eq!(
            without("Bench press; BEN leads, not Benno or Ruben. Ben", "Ben"),
            "Bench press;  leads, not Benno or Ruben. "
        );
        assert_eq!(without("Åsa und ÅSA's Satz", "åsa"), " und 's Satz");
        assert_eq!(without("nothing to take out", ""), "nothing to take out");
    }

    #[test]
    fn a_name_is_found_wherever_it_stands_and_not_within_another() {
        for value in
            [json!("Al"), json!(["x", "for Al, lighter"]), json!({"Al": 1}), json!({"who": {"name": "Al"}})]
        {
            assert!(names(&value, "Al"), "{value}");
        }
        for value in [json!("Alba"), json!(["Sal"]), json!({"Alba": 1}), json!(7)] {
            assert!(!names(&value, "Al"), "{value}");
        }
    }
}
