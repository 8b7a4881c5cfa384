//! Hand-outs: the wall board, a card for each member, and the coach's run sheet; made to be printed or shown large.

pub(crate) mod board;
pub(crate) mod cards;
mod sheet;

use actix_web::web;
use lantern_core::movement::Catalogue;
use lantern_core::print::work_lines;
use lantern_core::session::{Node, Part};

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config
        .service(board::wall_board)
        .service(cards::member_cards)
        .service(sheet::run_sheet)
        .service(sheet::with_words);
}

/// The work of a part, line by line: cap, goal and score stand in a heading.
pub(crate) fn bare_lines(part: &Part, tree: &Node, catalogue: &Catalogue) -> Vec<String> {
    let mut lines = work_lines(part, tree, catalogue);
    // The heading says already that it is for time.
    if lines.len() > 1 && lines[0].eq_ignore_ascii_case("for time") {
        lines.remove(0);
    }
    lines
}
