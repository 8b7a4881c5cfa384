//! Whom the first letters of a name mean.

/// Who of those booked is meant.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Meant {
    /// One of them, by place.
    One(usize),
    /// Several, by place, in the order of the class.
    Several(Vec<usize>),
    /// Nobody.
    Nobody,
}

/// Who is meant by letters: the beginning of a first name, of a family name or of both ("an", "qu", "a q", "alba qu"), or initials ("aq").
///
/// A whole first name outweighs the beginning of another, so that "Al" is Al beside Alba; then beginnings of first names, then of family names,
/// then initials.
pub fn meant(letters: &str, names: &[&str]) -> Meant {
    let wanted: Vec<String> = words(letters);
    if wanted.is_empty() {
        return Meant::Nobody;
    }
    let known: Vec<Vec<String>> = names.iter().map(|name| words(name)).collect();
    for way in [is_whole, begins_in_order, begins_later, has_initials] {
        let found: Vec<usize> = (0..known.len()).filter(|n| way(&wanted, &known[*n])).collect();
        match found.as_slice() {
            [] => {}
            [one] => return Meant::One(*one),
            _ => return Meant::Several(found),
        }
    }
    Meant::Nobody
}

/// In small letters, without marks above and below them, by words.
fn words(text: &str) -> Vec<String> {
    let split = |c: char| c.is_whitespace() || matches!(c, '.' | '-' | '_');
    text.split(split).map(plain).filter(|word| !word.is_empty()).collect()
}

/// `É` is found by `e`, `ß` by `ss`: nobody looks for accents while a class shouts, and nobody types an apostrophe.
fn plain(word: &str) -> String {
    deunicode::deunicode(word).to_lowercase().chars().filter(|c| c.is_alphanumeric()).collect()
}

fn is_whole(wanted: &[String], name: &[String]) -> bool {
    match wanted {
        [one] => name.first() == Some(one),
        all => all == name,
    }
}

/// Each word begins one of the name's, in their order, the first the first.
fn begins_in_order(wanted: &[String], name: &[String]) -> bool {
    let Some((first, rest)) = wanted.split_first() else { return false };
    let Some((own, family)) = name.split_first() else { return false };
    let mut left = family.iter();
    own.starts_with(first.as_str())
        && rest.iter().all(|word| left.any(|known| known.starts_with(word.as_str())))
}

/// One word that begins a name after the first.
fn begins_later(wanted: &[String], name: &[String]) -> bool {
    matches!(wanted, [one] if name.iter().skip(1).any(|word| word.starts_with(one.as_str())))
}

/// The first letters of all names.
fn has_initials(wanted: &[String], name: &[String]) -> bool {
    let initials: String = name.iter().filter_map(|word| word.chars().next()).collect();
    matches!(wanted, [one] if one.chars().count() > 1 && *one == initials)
}

/// A line as it is called: letters of a name, then the score. None where it holds no score.
pub fn divided(line: &str) -> Option<(&str, &str)> {
    let line = line.trim();
    let mut at = 0;
    for word in line.split_inclusive(char::is_whitespace) {
        if begins_score(word.trim()) {
            let (name, score) = line.split_at(at);
            return (!name.trim().is_empty())
                .then_some((name.trim().trim_end_matches([':', ',', ';', '-']).trim(), score.trim()));
        }
        at += word.len();
    }
    None
}

/// Whether a score begins with a word: a number, or what is said in place of one.
fn begins_score(word: &str) -> bool {
    let small = word.to_lowercase();
    let bare = small.trim_end_matches(|c: char| !c.is_alphanumeric());
    small.starts_with(|c: char| c.is_ascii_digit())
        || matches!(bare, "cap" | "capped" | "dnf" | "stopped")
        || small.starts_with("cap+")
        || small.starts_with("c+")
}

#[cfg(test)]
mod tests {
    use super::*;

    const CLASS: [&str; 7] = [
        "Alba Quenby",
        "Al Stone",
        "Bertil Soames",
        "Zoë O'Hara",
        "Joss Merrow",
        "Joss Adler",
        "Maren Thistle",
    ];

    #[test]
    fn letters_find_whom_a_coach_means() {
        for (letters, who) in [
            ("alb", 0),
            ("al", 1),
            ("a q", 0),
            ("be", 2),
            ("zoe", 3),
            ("oh", 3),
            ("o'h", 3),
            ("joss m", 4),
            ("j ad", 5),
            ("thi", 6),
            ("mt", 6),
            ("BERTIL SOAMES", 2),
        ] {
            assert_eq!(meant(letters, &CLASS), Meant::One(who), "{letters}");
        }
        assert_eq!(meant("jo", &CLASS), Meant::Several(vec![4, 5]));
        assert_eq!(meant("a", &CLASS), Meant::Several(vec![0, 1]));
        for nobody in ["", "x", "quenby alba"] {
            assert_eq!(meant(nobody, &CLASS), Meant::Nobody, "{nobody}");
        }
    }

    #[test]
    fn a_line_is_a_name_and_a_score() {
        assert_eq!(divided(" an 12:41 "), Some(("an", "12:41")));
        assert_eq!(divided("Joss Merrow: cap + 8"), Some(("Joss Merrow", "cap + 8")));
        assert_eq!(divided("ev 1:52 1:55 1:58"), Some(("ev", "1:52 1:55 1:58")));
        assert_eq!(divided("bo DNF"), Some(("bo", "DNF")));
        assert_eq!(divided("carl"), None);
        assert_eq!(divided("12:41"), None);
    }
}
