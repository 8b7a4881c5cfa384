//! What coaches call the same thing inside a longer name: "scap press-ups" are scapular push-ups because press-ups are push-ups.

use std::collections::HashMap;
use std::sync::LazyLock;

/// Words that stand for each other within a name, as [`super::normal_words`] gives them. A name that is nothing but one of them is
/// left to the file: "SA" alone is nobody's.
const SAME: [&[&str]; 18] = [
    &["push up", "pushup", "press up", "pressup"],
    &["pull up", "pullup", "pu"],
    &["sit up", "situp"],
    &["step up", "stepup"],
    &["muscle up", "muscleup", "mu"],
    &["box jump", "bj"],
    &["kettlebell swing", "kb swing", "kbs"],
    &["double under", "du"],
    &["toes to bar", "t2b", "ttb"],
    &["chest to bar", "c2b", "ctb"],
    &["handstand push up", "hspu"],
    &["dumbbell", "db"],
    &["kettlebell", "kb"],
    &["barbell", "bb"],
    &["single arm", "one arm", "sa"],
    &["single leg", "one leg", "sl"],
    &["alternating", "alt"],
    &["deadlift", "dl"],
];

/// The words of a phrase of [`SAME`], and its group.
type Phrase = (Vec<&'static str>, usize);

/// The phrases of [`SAME`] by their first word, each with its group.
static BY_FIRST: LazyLock<HashMap<&str, Vec<Phrase>>> = LazyLock::new(|| {
    let mut found: HashMap<&str, Vec<Phrase>> = HashMap::new();
    for (group, phrases) in SAME.iter().enumerate() {
        for phrase in *phrases {
            let words: Vec<&str> = phrase.split(' ').collect();
            found.entry(words[0]).or_default().push((words, group));
        }
    }
    found
});

/// Other ways to write a name, with up to two of its words put otherwise; the name itself is not among them.
pub(super) fn respelt(name: &[String]) -> Vec<String> {
    let words: Vec<&str> = name.iter().map(String::as_str).collect();
    let once = respelt_once(&words);
    let twice = once.iter().flat_map(|name| respelt_once(&name.split(' ').collect::<Vec<_>>()));
    let mut found: Vec<String> = once.iter().cloned().chain(twice).collect();
    found.sort_unstable();
    found.dedup();
    let itself = words.join(" ");
    found.retain(|other| *other != itself);
    found
}

fn respelt_once(words: &[&str]) -> Vec<String> {
    let mut found = Vec::new();
    for at in 0..words.len() {
        for (known, group) in BY_FIRST.get(words[at]).into_iter().flatten() {
            let whole = known.len() == words.len();
            if whole || !words[at..].starts_with(known) {
                continue;
            }
            for other in SAME[*group].iter().filter(|other| !known.iter().copied().eq(other.split(' '))) {
                let (before, behind) = (&words[..at], &words[at + known.len()..]);
                found.push([before, &[*other], behind].concat().join(" "));
            }
        }
    }
    found
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_name_is_written_with_the_words_that_its_words_stand_for() {
        let respelt = |name: &str| respelt(&name.split(' ').map(str::to_owned).collect::<Vec<_>>());
        assert!(respelt("scap push up").contains(&"scap press up".to_owned()));
        let twice = respelt("single arm kettlebell swing");
        assert!(twice.contains(&"sa kbs".to_owned()), "{twice:?}");
        assert!(respelt("push up").is_empty() && respelt("air squat").is_empty());
    }
}
