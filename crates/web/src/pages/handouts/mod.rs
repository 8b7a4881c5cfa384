//! Hand-outs: the wall board, a card for each member, and the coach's run sheet; made to be printed or shown large.

mod board;
mod cards;
mod sheet;

use actix_web::web;
use lantern_core::movement::Catalogue;
use lantern_core::print::part_text;
use lantern_core::session::Part;

pub(super) fn routes(config: &mut web::ServiceConfig) {
    config
        .service(board::wall_board)
        .service(cards::member_cards)
        .service(sheet::run_sheet)
        .service(sheet::with_words);
}

/// The work of a part, line by line: cap, goal and score stand in a heading.
fn bare_lines(part: &Part, catalogue: &Catalogue) -> Vec<String> {
    let bare = Part {
        cap_s: None,
        target: None,
        score: None,
        intents: Vec::new(),
        alternatives: Vec::new(),
        ..part.clone()
    };
    let text = part_text(&bare, catalogue);
    let mut lines: Vec<String> =
        text.lines().filter(|line| !line.is_empty()).skip(1).map(str::to_owned).collect();
    // The heading says already that it is for time.
    if lines.len() > 1 && lines[0].eq_ignore_ascii_case("for time") {
        lines.remove(0);
    }
    lines
}
