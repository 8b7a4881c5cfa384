//! A line as numbers, words and signs.

use lantern_reader::tokens::{Kind, tokens};

fn told(line: &str) -> String {
    let kinds = tokens(line, &|word| word == "t2b").into_iter().map(|token| match token.kind {
        Kind::Number(n) => format!("#{n}"),
        Kind::Clock(s) => format!("{s}s"),
        Kind::Word { text, .. } => text,
        Kind::Sign(c) => c.to_string(),
    });
    kinds.collect::<Vec<_>>().join(" ")
}

#[test]
fn numbers_words_and_signs_are_told_apart_whatever_touches() {
    assert_eq!(told("5x5 @75%"), "#5 x #5 @ #75 %");
    assert_eq!(told("10 T2B, 400m"), "#10 t2b , #400 m");
    assert_eq!(told("1:30 \u{2013} 2:00"), "90s - 120s");
    assert_eq!(told("22,5/15kg"), "#22.5 / #15 kg");
    assert_eq!(told("21,15,9 and 1,000 m"), "#21 , #15 , #9 and #1000 m");
    assert_eq!(told("10-9-8...1"), "#10 - #9 - #8 \u{2026} #1");
    assert_eq!(told("Farmer\u{2019}s walk, 1\u{bd} mi"), "farmer's walk , #1.5 mi");
    assert_eq!(told("e2mom"), "e #2 mom");
    assert_eq!(told("between 5 & 7, C&J"), "between #5 and #7 , c&j");
}

#[test]
fn every_token_knows_its_place() {
    let line = "10 D\u{e9}adlifts";
    let found = tokens(line, &|_| false);
    assert_eq!((found[1].start, found[1].end), (3, 12));
}
