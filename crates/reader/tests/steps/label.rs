//! What stands in front of an entry.

use lantern_reader::label::{Label, take};
use lantern_reader::lexicon::Lexicon;
use lantern_reader::tokens::tokens;

#[test]
fn labels_are_told_from_work() {
    for (text, label, rest) in [
        ("1) 12/10 cal row", Label::Number(1), "12/10"),
        ("1 - 14 air squats", Label::Number(1), "14"),
        ("a1) dumbbell row 4x10", Label::Letter('a', Some(1)), "dumbbell"),
        ("A1 12 bench dips", Label::Letter('a', Some(1)), "12"),
        ("m3: rest", Label::Minute(3), "rest"),
        ("A] bench 4x6", Label::Letter('a', None), "bench"),
        ("B/ Strength", Label::Letter('b', None), "Strength"),
        ("B. Strength", Label::Letter('b', None), "Strength"),
        ("min 2 - 9 deadlifts", Label::Minute(2), "9"),
        ("odd: 10 burpees", Label::Odd(true), "10"),
        ("sets 2-5: 6 @ 64%", Label::Sets(2, 5), "6"),
        ("set 1 - 8 reps @ 55%", Label::Sets(1, 1), "8"),
        ("sets 1 - 3: 8 @ 55%", Label::Sets(1, 3), "8"),
        ("Part 2 - AMRAP 6", Label::Part, "AMRAP"),
        ("- 200 m row", Label::Bullet, "200"),
        ("% of your clean", Label::None, "%"),
        ("10-9-8...1", Label::None, "10"),
        ("10 - 9 - 8", Label::None, "10"),
        ("2.5 km run", Label::None, "2.5"),
        ("amrap 12: 10 burpees", Label::None, "amrap"),
    ] {
        let found = tokens(text, &|_| false);
        let (taken, end) = take(&found, true, Lexicon::standard());
        let rest_at = found[end].start;
        assert_eq!((taken, &text[rest_at..rest_at + rest.len()]), (label, rest), "{text}");
    }
}
