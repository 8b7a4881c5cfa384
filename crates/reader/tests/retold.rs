//! The labelled texts as others would have typed them: the same days, laid out and spelt otherwise, must be read nearly as well.
//! `cargo test -p lantern-reader --test reading retold -- --nocapture` prints what each way of writing costs.

use lantern_reader::weights::Weights;
use lantern_reader::{read, reading_json};
use lantern_session::movement::Catalogue;
use reader_train::labelled::{self, without_empty_lines};
use reader_train::paraphrase;
use reader_train::recombine;
use reader_train::score::{Loss, Tally, score};
use reader_train::withheld;

/// A way of writing: its name, what it makes of a text, and the least share of facts and the most that may be wrong in silence, in
/// percent. Raised with each gain, never lowered.
type Way = (&'static str, fn(&str) -> String, f64, f64);

const WAYS: [Way; 8] = [
    ("without empty lines", without_empty_lines, 97.8, 0.8),
    ("lines drawn apart", drawn_apart, 97.5, 1.2),
    ("small letters", str::to_lowercase, 99.2, 0.4),
    ("capitals", str::to_uppercase, 99.1, 0.4),
    ("bullets before work", bulleted, 99.0, 0.5),
    ("minutes spelt out", minutes_spelt_out, 99.4, 0.5),
    ("kilos", kilos, 99.6, 0.3),
    ("headings marked", headings_marked, 99.5, 0.3),
];

fn drawn_apart(text: &str) -> String {
    text.replace('\n', "\n\n")
}

fn bulleted(text: &str) -> String {
    let work = |line: &str| line.starts_with(|c: char| c.is_ascii_digit());
    lines(text.lines().map(|line| if work(line) { format!("- {line}") } else { line.to_owned() }))
}

fn minutes_spelt_out(text: &str) -> String {
    words(text, |word| if word == "min" { "minutes".to_owned() } else { word.to_owned() })
}

fn kilos(text: &str) -> String {
    words(text, |word| if word == "kg" { "kilos".to_owned() } else { word.to_owned() })
}

fn headings_marked(text: &str) -> String {
    let heads = |line: &str| {
        let letters = |c: char| c.is_ascii_alphabetic() || c == ' ' || c == ':';
        line.starts_with(|c: char| c.is_ascii_uppercase()) && line.len() > 1 && line.chars().all(letters)
    };
    lines(text.lines().map(|line| if heads(line) { format!("## {line}") } else { line.to_owned() }))
}

fn lines(lines: impl Iterator<Item = String>) -> String {
    lines.collect::<Vec<_>>().join("\n")
}

/// A text with each of its words, as they stand between spaces, made into another.
fn words(text: &str, change: impl Fn(&str) -> String) -> String {
    lines(text.lines().map(|line| line.split(' ').map(&change).collect::<Vec<_>>().join(" ")))
}

#[test]
fn the_same_day_written_otherwise_is_read_nearly_as_well() {
    let folders = ["practice", "own", "batch-1", "batch-2", "batch-3", "batch-4", "batch-5"];
    let texts: Vec<_> = folders
        .iter()
        .flat_map(|folder| labelled::folder(&labelled::corpus().join(folder)).unwrap())
        .collect();
    let mut missed = Vec::new();
    for (name, way, least, most_silent) in WAYS {
        let (mut tally, mut changed) = (Tally::default(), 0);
        for text in &texts {
            let retold = way(&text.text);
            if retold.trim_end() != text.text.trim_end() {
                changed += 1;
                score(&reading_json(&read(&retold, Catalogue::standard())), &text.want, &mut tally);
            }
        }
        let share = |count: usize| 100.0 * count as f64 / tally.facts as f64;
        let (facts, silent) = (share(tally.held), share(tally.silent));
        println!("{name:<22} {changed:>3} texts  facts {facts:.1} %  silent {silent:.1} %");
        assert!(changed > 40, "{name} changes hardly a text");
        if facts < least || silent > most_silent {
            missed.push(name);
        }
    }
    assert_eq!(missed, Vec::<&str>::new());
}

/// A short form of `cargo run --release -p proof -- recombined`: parts of days below the parts of others.
#[test]
fn a_part_is_read_the_same_wherever_it_stands() {
    const DAYS: usize = 300;
    let pieces = recombine::pieces(&labelled::all().unwrap(), Weights::standard());
    assert!(pieces.len() > 700, "most parts are read by themselves");
    let tally = recombine::tally(&recombine::days(&pieces, 6, DAYS));
    println!("{tally:?}");
    let (lost, silent) = (tally.percent(tally.facts - tally.held), tally.percent(tally.silent));
    assert!(lost <= 0.6 && silent <= 0.4, "{lost:.2} % lost, {silent:.2} % in silence: {tally:?}");
}

/// A short form of `cargo run --release -p proof -- paraphrases`, which holds all of it against the same bars.
#[test]
fn a_phrase_put_otherwise_says_the_same() {
    const EACH: usize = 9;
    const TEXTS: usize = 6;
    let catalogue = Catalogue::standard();
    let texts = labelled::all().unwrap();
    let ways = paraphrase::each(EACH, catalogue).unwrap();
    let all = ways.iter().map(|way| way.cost(&texts, TEXTS, catalogue)).fold(Loss::default(), Loss::with);
    println!("{all:?}");
    assert!(all.texts > 150, "the ways change hardly a text");
    assert!(all.percent(all.lost) <= 0.5 && all.percent(all.silent) <= 0.25, "{all:?}");
}

/// A short form of `cargo run --release -p proof -- withheld`: what a reader gets wrong that has not met a way of writing, it tells of.
#[test]
fn what_is_not_understood_is_told() {
    const TEXTS: usize = 3;
    let catalogue = Catalogue::standard();
    let texts = labelled::all().unwrap();
    let losses = withheld::losses(&withheld::read_all(&texts, catalogue), TEXTS, catalogue);
    let all = losses.into_iter().map(|(_, loss)| loss).fold(Loss::default(), Loss::with);
    println!("{all:?}");
    assert!(all.lost > 300, "hardly a row matters");
    assert!(all.silence() <= 35.0, "{:.1} % in silence: {all:?}", all.silence());
}
