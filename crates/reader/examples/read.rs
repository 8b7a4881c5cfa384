//! Prints the reading of a text as JSON, or with `--units` what each sentence was taken for: `read [read] TEXT [--json | --units]`.

use std::{env, fs};

use lantern_reader::say::Say;
use lantern_reader::unit::units;
use lantern_reader::weights::Weights;
use lantern_session::movement::Catalogue;

fn main() {
    let arguments: Vec<String> =
        env::args().skip(1).filter(|argument| argument != "read" && argument != "--json").collect();
    let text = fs::read_to_string(&arguments[0]).expect("a text");
    if arguments.iter().any(|argument| argument == "--units") {
        for unit in units(&text, Catalogue::standard(), Weights::standard()) {
            println!("{} {:?} {:?} | {}", unit.line, unit.label, unit.heading, unit.text);
            for reading in unit.readings.iter().take(3) {
                let says: Vec<String> = reading.says.iter().map(|said| short(&said.say)).collect();
                println!("    {:.2} {:?} {}", reading.cost, reading.role, says.join(" ; "));
            }
        }
        return;
    }
    if arguments.iter().any(|argument| argument == "--parts") {
        print!("{}", lantern_reader::explain(&text, Catalogue::standard()));
        return;
    }
    println!("{}", lantern_reader::reading_json(&lantern_reader::read(&text, Catalogue::standard())));
}

fn short(say: &Say) -> String {
    let Say::Item(item) = say else { return format!("{say:?}") };
    let name = item.movement.as_ref().map_or("-", |movement| movement.as_str());
    let max = if item.max { " max" } else { "" };
    let sets = item.sets.map(|sets| format!("{sets}x")).unwrap_or_default();
    let amount = item
        .amount
        .map(|(first, second)| format!("{first}{}", second.map(|n| format!("/{n}")).unwrap_or_default()));
    let unit = item.unit.map(|unit| unit.short()).unwrap_or_default();
    format!("[{sets}{}{unit}{max} {name}]", amount.unwrap_or_default())
}
