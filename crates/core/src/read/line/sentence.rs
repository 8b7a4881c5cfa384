//! A sentence judged: does it prescribe work, say how it is run, or talk?

use super::pieces::{Piece, PieceKind};
use super::words::{ALTERNATIVE_OPENERS, TALK_OPENERS, is_filler};
use super::{Found, Line, LineKind, Unknown, What};
use crate::movement::Catalogue;
use crate::read::clause::Clause;
use crate::read::text::Plain;
use crate::session::Intent;

/// Most words that the name of a movement has.
const MOST_WORDS_OF_A_NAME: usize = 4;

pub(super) struct LineReader<'a> {
    pub plain: &'a Plain,
    pub start: usize,
    pub catalogue: &'a Catalogue,
    pub line: &'a mut Line,
    pub rest: &'a str,
}

/// A sentence being put together.
#[derive(Default)]
pub(super) struct Sentence {
    pub found: Vec<(usize, What)>,
    pub unknown_words: usize,
    pub references: usize,
    /// How many finds stand before the first colon.
    pub topic_ends: Option<usize>,
}

impl LineReader<'_> {
    pub(super) fn column(&self, place: usize) -> usize {
        self.plain.column(self.start + place)
    }

    pub fn sentences(&mut self, pieces: Vec<Piece>) {
        let mut begin = 0;
        let mut all_talk = true;
        let mut alternative = false;
        for n in 0..=pieces.len() {
            let ends = n == pieces.len() || self.ends_sentence(&pieces, n);
            if !ends {
                continue;
            }
            let sentence = &pieces[begin..n];
            begin = n + 1;
            if sentence.is_empty() {
                continue;
            }
            // "scaling: pull-ups for C2B; 40/30 snatch" goes on offering.
            if alternative && all_talk && sentence[0].start > 0 {
                let offered = self.group(sentence);
                self.keep(offered);
                continue;
            }
            let asks = n < pieces.len() && pieces[n].kind == PieceKind::Sign('?');
            match self.sentence(sentence, asks) {
                LineKind::Alternative => alternative = true,
                LineKind::Work => all_talk = false,
                _ => {}
            }
        }
        if all_talk && alternative {
            self.line.kind = LineKind::Alternative;
        } else if all_talk && self.line.heading.is_none() && self.line.unknown.is_empty() {
            self.line.kind = LineKind::Talk;
        }
    }

    fn ends_sentence(&self, pieces: &[Piece], n: usize) -> bool {
        match pieces[n].kind {
            PieceKind::Sign('!' | '?' | ';') => true,
            PieceKind::Sign('.') => {
                // ".." and "..." trail off; a correction after them belongs to the same sentence.
                let next = pieces.get(n + 1);
                let dots = next.is_some_and(|p| p.kind == PieceKind::Sign('.'))
                    || n.checked_sub(1).is_some_and(|before| pieces[before].kind == PieceKind::Sign('.'));
                let withdraws = next.is_some_and(|p| p.kind == PieceKind::Clause(Clause::Withdraw));
                !dots && !withdraws
            }
            _ => false,
        }
    }

    fn sentence(&mut self, pieces: &[Piece], asks: bool) -> LineKind {
        let first = pieces[0].start;
        let text =
            self.rest[first..pieces[pieces.len() - 1].end].trim_start_matches(['(', ' ', '-']).to_owned();
        let mut sentence = self.group(pieces);
        // "Same bar for all five sets" tells how, beside what it counts.
        let same = pieces.iter().any(|piece| piece.kind == PieceKind::Clause(Clause::SameLoad));
        self.line.in_passing |= same && sentence.found.iter().all(|(_, w)| matches!(w, What::Clause(_)));
        self.drop_topic(&mut sentence);
        let items = || {
            sentence
                .found
                .iter()
                .filter_map(|(_, what)| if let What::Item(item) = what { Some(item) } else { None })
        };
        let anchored = items().filter(|item| item.is_anchored()).count();
        let bare = items().count() - anchored;
        let loaded = items().any(|item| item.load.is_some() || item.bare_load.is_some());
        let opens = |with: &[&str]| with.iter().any(|opener| text.starts_with(opener));
        if (anchored > 0 || bare > 0) && opens(ALTERNATIVE_OPENERS) && !text.starts_with("swap after") {
            // The work stays on the line as an alternative; the assembler attaches it.
            self.keep(sentence);
            return LineKind::Alternative;
        }
        let starts_with_number = text.starts_with(|c: char| c.is_ascii_digit());
        let unknown = sentence.unknown_words;
        let runs = sentence.found.iter().any(|(_, what)| {
            matches!(
                what,
                What::Clause(
                    Clause::ForTime | Clause::Amrap(Some(_)) | Clause::Every { .. } | Clause::Rounds(_)
                )
            )
        });
        let talky = !starts_with_number && opens(TALK_OPENERS) && !(runs && anchored > 1);
        let has_length =
            sentence.found.iter().any(|(_, what)| matches!(what, What::Clause(Clause::Length(_))));
        let steady = bare >= 2 && has_length && unknown <= 1;
        // "Clean complex: hang clean + clean + jerk": names joined by a plus are work, whatever they are called.
        let complex = bare >= 2 && unknown <= 1 && items().filter(|item| item.joined).count() + 1 >= bare;
        let prescribed = sentence
            .found
            .iter()
            .any(|(_, what)| matches!(what, What::Clause(clause) if clause.is_prescription()));
        // "Strict press 5-5-5-5-5, add weight if it moves": a scheme beside one name prescribes it.
        let scheme =
            sentence.found.iter().any(|(_, what)| matches!(what, What::Clause(Clause::Scheme { .. })));
        let prescribed = prescribed || (scheme && bare == 1);
        // "21 thrustrs, 40/30 kg": a number, a word that nobody knows and a load are no "21 of the same".
        let nameless = items().all(|item| item.movement.is_none());
        if nameless && unknown > 0 && self.unknown_movement(pieces, unknown) {
            return LineKind::Work;
        }
        if items().next().is_none() && self.unknown_lift(pieces) {
            self.keep(sentence);
            return LineKind::Work;
        }
        let is_work = if anchored > 0 {
            let allowed = if talky { 0 } else { 3 + 2 * anchored };
            unknown <= allowed && sentence.references < anchored
        } else if bare > 0 {
            !talky
                && !asks
                && (unknown == 0
                    || steady
                    || complex
                    || (prescribed && unknown <= 3)
                    || (loaded && unknown <= 2))
        } else {
            false
        };
        if is_work {
            self.keep(sentence);
            return LineKind::Work;
        }
        if anchored == 0 && (!talky || starts_with_number) && self.unknown_movement(pieces, unknown) {
            return LineKind::Work;
        }
        // Talk adds no work, but a cap or a score said in passing still counts.
        let strong: Vec<(usize, What)> = sentence
            .found
            .into_iter()
            .filter(|(_, what)| match what {
                What::Item(_) => false,
                What::Clause(clause) => {
                    is_strong(clause)
                        || (unknown <= 2 && !talky && ((bare == 0 && anchored == 0) || starts_with_number))
                }
            })
            .collect();
        if strong.is_empty() {
            return LineKind::Talk;
        }
        let feels = |what: &What| matches!(what, What::Clause(Clause::Intent(Intent::Feel(_))));
        self.line.in_passing |= strong.iter().all(|(_, what)| feels(what))
            || (talky || unknown > 2) && !strong.iter().any(|(_, what)| is_header(what));
        self.keep(Sentence { found: strong, ..Sentence::default() });
        LineKind::Work
    }

    fn keep(&mut self, sentence: Sentence) {
        for (place, what) in sentence.found {
            let column = self.column(place);
            self.line.found.push(Found { column, what });
        }
    }

    /// "Handstand: wall walks and holds": bare names before a colon head the names after it.
    fn drop_topic(&self, sentence: &mut Sentence) {
        let is_bare = |what: &What| matches!(what, What::Item(item) if !item.is_anchored());
        let Some(colon) = sentence.topic_ends else { return };
        let (before, after) = sentence.found.split_at(colon);
        if before.iter().all(|(_, what)| is_bare(what))
            && after.iter().any(|(_, what)| matches!(what, What::Item(_)))
        {
            sentence.found.drain(..colon);
        }
    }

    /// An amount at the front of a short sentence without a known name: report it.
    fn unknown_movement(&mut self, pieces: &[Piece], unknown: usize) -> bool {
        let mut pieces =
            pieces.iter().skip_while(|piece| matches!(piece.kind, PieceKind::Sign('(' | '-' | '*')));
        let Some(first) = pieces.next() else { return false };
        let amount = matches!(
            first.kind,
            PieceKind::Clause(Clause::Amount { .. } | Clause::SetsReps { .. } | Clause::Max(_))
        );
        if !amount || unknown == 0 || unknown > 4 {
            return false;
        }
        let words: Vec<&Piece> = pieces.take_while(|piece| piece.kind == PieceKind::Word).collect();
        let (Some(from), Some(to)) = (words.first(), words.last()) else { return false };
        let said = &self.rest[from.start..to.end];
        if said.split_whitespace().all(is_filler) {
            return false;
        }
        let column = self.column(from.start);
        let text = self.as_typed(column, self.column(to.start));
        self.line.unknown.push(Unknown { column, text });
        true
    }

    /// "Back sqat 5x5": words in front of sets that are nearly the name of a movement.
    fn unknown_lift(&mut self, pieces: &[Piece]) -> bool {
        let words: Vec<&Piece> = pieces.iter().take_while(|piece| piece.kind == PieceKind::Word).collect();
        let sets = pieces.get(words.len()).is_some_and(|piece| {
            matches!(
                piece.kind,
                PieceKind::Clause(Clause::SetsReps { .. } | Clause::Scheme { .. } | Clause::Percent(_))
            )
        });
        let (Some(from), Some(to)) = (words.first(), words.last()) else { return false };
        if !sets
            || words.len() > MOST_WORDS_OF_A_NAME
            || !self.catalogue.nearly_knows(&self.rest[from.start..to.end])
        {
            return false;
        }
        let column = self.column(from.start);
        let text = self.as_typed(column, self.column(to.start));
        self.line.unknown.push(Unknown { column, text });
        true
    }

    /// The words from one column to the end of the word at another, before any mending.
    fn as_typed(&self, from: usize, last: usize) -> String {
        let chars: Vec<char> = self.line.raw.chars().collect();
        let in_word = |c: &char| c.is_alphanumeric() || *c == '\'' || *c == '\u{2019}';
        let end = last - 1 + chars[last - 1..].iter().take_while(|c| in_word(c)).count();
        chars[from - 1..end.max(from)].iter().collect()
    }
}

/// Whether a find says how the piece is run, rather than how it should feel.
fn is_header(what: &What) -> bool {
    !matches!(what, What::Clause(Clause::Intent(_)))
}

/// Clauses that count even inside talk.
fn is_strong(clause: &Clause) -> bool {
    match clause {
        Clause::Cap(seconds) => seconds.is_some(),
        Clause::Target { .. }
        | Clause::RoundUnder(_)
        | Clause::Score(_)
        | Clause::Team(_)
        | Clause::Sharing(_)
        | Clause::Rest { .. }
        | Clause::ForTime
        | Clause::Quality
        | Clause::UntilFailure
        | Clause::AddEach(_)
        | Clause::Intent(_)
        | Clause::Tabata
        | Clause::Window { .. } => true,
        Clause::Amrap(seconds) => seconds.is_some(),
        Clause::Every { times, total_s, .. } => times.is_some() || total_s.is_some(),
        Clause::OnOff { .. } | Clause::BuildTo(_) | Clause::Week(..) => true,
        _ => false,
    }
}
