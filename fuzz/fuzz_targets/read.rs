//! Any bytes must be read without a panic, and what is printed must read back.
#![no_main]

use lantern_core::movement::Catalogue;
use lantern_core::print::session_text;
use lantern_core::read::read;
use libfuzzer_sys::fuzz_target;

fuzz_target!(|bytes: &[u8]| {
    let text = String::from_utf8_lossy(bytes);
    let reading = read(&text, Catalogue::standard());
    let printed = session_text(&reading.session, Catalogue::standard());
    let _ = read(&printed, Catalogue::standard());
});
