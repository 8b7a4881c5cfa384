//! Hand-outs: the wall board, a card for each member, and the coach's run sheet; made to be printed or shown large.

mod all;
pub(crate) mod board;
pub(crate) mod cards;
mod sheet;

use actix_web::web;

pub(crate) fn routes(config: &mut web::ServiceConfig) {
    config
        .service(board::wall_board)
        .service(cards::member_cards)
        .service(sheet::run_sheet)
        .service(sheet::with_words)
        .service(all::all);
}
