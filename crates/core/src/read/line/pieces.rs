//! A line cut into pieces: clauses, names, numbers, words and signs.

use crate::movement::{Catalogue, Movement, MovementId, Unit};
use crate::read::clause::{Claimed, Clause};
use crate::read::quantity;

#[derive(Clone, Debug)]
pub(in crate::read) struct Piece {
    pub start: usize,
    pub end: usize,
    pub kind: PieceKind,
}

#[derive(Clone, Debug, PartialEq)]
pub(in crate::read) enum PieceKind {
    Clause(Clause),
    Move { id: MovementId, unit: Option<Unit>, generic: bool },
    Word,
    Sign(char),
}

/// Cuts masked text into pieces: clauses where they were claimed, then names, numbers, words and signs.
pub(in crate::read) fn pieces(masked: &str, claimed: Vec<Claimed>, catalogue: &Catalogue) -> Vec<Piece> {
    let tokens = tokens(masked);
    let mut pieces: Vec<Piece> = claimed
        .into_iter()
        .map(|claim| Piece { start: claim.start, end: claim.end, kind: PieceKind::Clause(claim.clause) })
        .collect();
    let mut place = 0;
    while place < tokens.len() {
        let token = &tokens[place];
        if let Some((movement, used)) = match_name(&tokens[place..], masked, catalogue) {
            let end = tokens[place + used - 1].end;
            let name = &masked[token.start..end];
            let metres =
                name.split([' ', '-']).any(|w| matches!(w, "m" | "meter" | "metre" | "meters" | "metres"));
            let unit = (metres && movement.unit == Unit::Calories).then_some(Unit::Metres);
            let generic = matches!(name, "squat" | "squats" | "row" | "rows" | "rowing");
            pieces.push(Piece {
                start: token.start,
                end,
                kind: PieceKind::Move { id: movement.id.clone(), unit, generic },
            });
            place += used;
            continue;
        }
        let text = &masked[token.start..token.end];
        let kind = match token.kind {
            TokenKind::Number => number_clause(text).map_or(PieceKind::Word, PieceKind::Clause),
            TokenKind::Word => match quantity::number(text).filter(|n| *n > 1.0) {
                Some(n) => PieceKind::Clause(Clause::WordAmount(n)),
                None if text == "each" || text == "ea" => PieceKind::Clause(Clause::Each),
                None => PieceKind::Word,
            },
            TokenKind::Sign => PieceKind::Sign(text.chars().next().unwrap_or(' ')),
        };
        pieces.push(Piece { start: token.start, end: token.end, kind });
        place += 1;
    }
    pieces.sort_by_key(|piece| piece.start);
    pieces
}

fn number_clause(text: &str) -> Option<Clause> {
    let (first, second) = text.split_once('/').map_or((text, None), |(a, b)| (a, Some(b)));
    Some(Clause::Amount {
        first: first.parse().ok()?,
        second: second.and_then(|b| b.parse().ok()),
        unit: None,
    })
}

#[derive(Clone, Copy, Debug)]
struct Token {
    start: usize,
    end: usize,
    kind: TokenKind,
}

#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum TokenKind {
    Word,
    Number,
    Sign,
}

fn tokens(masked: &str) -> Vec<Token> {
    let bytes = masked.as_bytes();
    let mut tokens = Vec::new();
    let mut chars = masked.char_indices().peekable();
    while let Some((start, c)) = chars.next() {
        if c.is_whitespace() || c == '\u{1}' {
            continue;
        }
        let mut end = start + c.len_utf8();
        let mut kind = TokenKind::Sign;
        if c.is_alphanumeric() {
            let numeric = c.is_ascii_digit();
            kind = if numeric { TokenKind::Number } else { TokenKind::Word };
            while let Some(&(at, next)) = chars.peek() {
                let digit_next = bytes.get(at + 1).is_some_and(u8::is_ascii_digit);
                let goes_on = next.is_alphanumeric()
                    || next == '\''
                    || (kind == TokenKind::Number && (next == '.' || next == '/') && digit_next);
                if !goes_on {
                    break;
                }
                if next.is_alphabetic() {
                    kind = TokenKind::Word;
                }
                end = at + next.len_utf8();
                chars.next();
            }
        }
        tokens.push(Token { start, end, kind });
    }
    tokens
}

/// The longest name at the front of the tokens, with articles and plural endings forgiven.
fn match_name<'c>(tokens: &[Token], text: &str, catalogue: &'c Catalogue) -> Option<(&'c Movement, usize)> {
    const LONGEST_NAME: usize = 8;
    let mut words: Vec<&str> = Vec::new();
    let mut places = Vec::new();
    for (n, token) in tokens.iter().enumerate().take(LONGEST_NAME + 6) {
        let word = &text[token.start..token.end];
        let joins = n == 0 || text[tokens[n - 1].end..token.start].chars().all(|c| c == ' ');
        if !joins || words.len() == LONGEST_NAME {
            break;
        }
        match token.kind {
            TokenKind::Sign if n > 0 && (word == "-" || word == "&") => {
                if word == "&" {
                    words.push("and");
                    places.push(n);
                }
            }
            TokenKind::Sign => break,
            _ if n > 0 && word == "the" => {}
            _ => {
                words.push(word);
                places.push(n);
            }
        }
    }
    let first_is_number = tokens.first().is_some_and(|token| token.kind == TokenKind::Number);
    let singular: Vec<&str> =
        words.iter().map(|w| if w.len() > 3 { w.strip_suffix('s').unwrap_or(w) } else { w }).collect();
    let exact = catalogue.match_words(&words);
    let loose = catalogue.match_words(&singular);
    let best = match (exact, loose) {
        (Some(a), Some(b)) if b.words > a.words => Some(b),
        (Some(a), _) => Some(a),
        (None, b) => b,
    }?;
    (!first_is_number || best.words > 1).then(|| (best.movement, places[best.words - 1] + 1))
}
