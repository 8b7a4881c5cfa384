//! temporary
fn main() {
    let path = std::env::args().nth(1).unwrap();
    let text = std::fs::read_to_string(path).unwrap();
    let c = lantern_core::movement::Catalogue::standard();
    let r = lantern_core::read::read(&text, c);
    println!("{}", serde_json::to_string_pretty(&lantern_core::print::reading_json(&r)).unwrap());
}
