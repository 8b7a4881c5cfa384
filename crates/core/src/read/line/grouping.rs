//! Numbers, loads and sides attached to the movements they stand beside.

use super::pieces::{Piece, PieceKind};
use super::sentence::{LineReader, Sentence};
use super::words::is_filler;
use super::{Item, What};
use crate::movement::{LoadKind, Movement, Sides, Unit};
use crate::read::clause::Clause;

impl LineReader<'_> {
    /// Attaches numbers, loads and sides to the movements they stand beside.
    pub(super) fn group(&mut self, pieces: &[Piece]) -> Sentence {
        let mut sentence = Sentence::default();
        let mut pending = Item::default();
        let mut pending_at = None;
        let mut last: Option<usize> = None;
        let mut or_before = false;
        let mut joined = false;
        let mut depth = 0_i32;
        let mut withdrawn: Option<Item> = None;
        let mut splits = false;
        // "build to a heavy 5 (15 min)": the length is that of the part.
        let builds = pieces.iter().any(|piece| matches!(piece.kind, PieceKind::Clause(Clause::BuildTo(_))));
        for (n, piece) in pieces.iter().enumerate() {
            match &piece.kind {
                PieceKind::Word => {
                    let word = &self.rest[piece.start..piece.end];
                    if !is_filler(word) {
                        sentence.unknown_words += 1;
                    }
                }
                PieceKind::Sign(sign) => match sign {
                    '(' | '[' => depth += 1,
                    ')' | ']' => depth -= 1,
                    ':' if sentence.topic_ends.is_none() && !sentence.found.is_empty() => {
                        sentence.topic_ends = Some(sentence.found.len());
                    }
                    ',' | '/' | '|' if depth == 0 => or_before = false,
                    '+' => joined = true,
                    _ => {}
                },
                PieceKind::Move { .. } if self.is_base_of_percent(pieces, n) => {}
                PieceKind::Move { id, unit, generic } => {
                    let start = pending_at.take().unwrap_or(piece.start);
                    let mut item = Item {
                        movement: Some(id.clone()),
                        generic: *generic,
                        ..std::mem::take(&mut pending)
                    };
                    item.unit = item.unit.or(*unit);
                    item.alternative = or_before;
                    item.joined = std::mem::take(&mut joined);
                    if or_before && !item.is_anchored() {
                        choice_of_names(&mut sentence.found);
                    }
                    or_before = false;
                    if self.is_reference(pieces, n) {
                        sentence.references += 1;
                    }
                    last = Some(sentence.found.len());
                    sentence.found.push((start, What::Item(item)));
                }
                PieceKind::Clause(clause) => {
                    let ahead = self.name_ahead(pieces, n);
                    let current = last.and_then(|at| match &mut sentence.found[at].1 {
                        What::Item(item) => Some(item),
                        What::Clause(_) => None,
                    });
                    match clause {
                        Clause::Or => or_before = true,
                        Clause::Withdraw => {
                            pending = Item::default();
                            pending_at = None;
                            let comma_between = last
                                .is_none_or(|at| self.rest[sentence.found[at].0..piece.start].contains(','));
                            if !comma_between
                                && let Some((_, What::Item(item))) = last.map(|at| sentence.found.remove(at))
                            {
                                withdrawn = Some(item);
                            }
                            last = None;
                        }
                        Clause::Amount { first, second, unit } => {
                            let backwards = current.as_ref().is_some_and(|item| {
                                !ahead && item.amount.is_none() && !item.max && self.adjoins(pieces, n)
                            });
                            if ahead {
                                pending.amount = Some((*first, *second));
                                pending.unit = *unit;
                                pending_at = Some(piece.start);
                            } else if backwards && let Some(item) = current {
                                if second.is_some() && unit.is_none() && self.weighs(item) {
                                    item.bare_load = Some((*first, *second));
                                } else {
                                    item.amount = Some((*first, *second));
                                    item.unit = *unit;
                                }
                            } else if let Some(item) = current {
                                // A height after a ball's weight, or "95/65" after a barbell lift.
                                if unit.is_none()
                                    && self.weighs(item)
                                    && item.load.is_none()
                                    && second.is_some()
                                {
                                    item.bare_load = Some((*first, *second));
                                }
                                // "10 lunges (5 each side)" says how ten split.
                                splits = item.amount.is_some_and(|(whole, _)| whole == first * 2.0);
                            } else if let Some(item) = withdrawn.take() {
                                last = Some(sentence.found.len());
                                let item = Item { amount: Some((*first, *second)), ..item };
                                sentence.found.push((piece.start, What::Item(item)));
                            } else {
                                pending.amount = Some((*first, *second));
                                pending.unit = *unit;
                                pending_at = Some(piece.start);
                            }
                        }
                        Clause::WordAmount(value) if ahead => {
                            pending.amount = Some((*value, None));
                            pending_at = Some(piece.start);
                        }
                        Clause::WordAmount(_) => {}
                        Clause::Length(length) => {
                            let value = f64::from(*length);
                            if ahead {
                                pending.amount = Some((value, None));
                                pending.unit = Some(Unit::Seconds);
                                pending_at = Some(piece.start);
                            } else if let Some(item) = current.filter(|item| {
                                item.amount.is_none()
                                    && !item.max
                                    && self.adjoins(pieces, n)
                                    && !self.after_in(pieces, n)
                                    && !self.leads_to_a_lift(pieces, n)
                                    && !builds
                            }) {
                                item.amount = Some((value, None));
                                item.unit = Some(Unit::Seconds);
                            } else {
                                sentence.found.push((piece.start, What::Clause(clause.clone())));
                            }
                        }
                        Clause::SetsReps { sets, reps, .. } => {
                            let given = (f64::from(*reps), None);
                            if ahead {
                                pending.sets = Some((*sets, Some(*reps)));
                                pending.amount = Some(given);
                                pending_at = Some(piece.start);
                            } else if let Some(item) = current.filter(|item| {
                                item.sets.is_none() && (item.amount.is_none() || self.adjoins(pieces, n))
                            }) {
                                item.sets = Some((*sets, Some(*reps)));
                                item.amount = item.amount.or(Some(given));
                            }
                            sentence.found.push((piece.start, What::Clause(clause.clone())));
                        }
                        Clause::Max(unit) => {
                            if ahead {
                                pending.max = true;
                                pending.unit = pending.unit.or(*unit);
                                pending_at = pending_at.or(Some(piece.start));
                            } else if let Some(item) =
                                current.filter(|item| item.amount.is_none() || item.sets.is_none())
                            {
                                if item.amount.is_none() {
                                    item.max = true;
                                    item.unit = item.unit.or(*unit);
                                }
                            } else {
                                pending.max = true;
                                pending_at = pending_at.or(Some(piece.start));
                            }
                        }
                        Clause::Side => {
                            if let Some(item) = current.filter(|_| pending.amount.is_none() || !ahead) {
                                item.per_side |= !std::mem::take(&mut splits);
                            } else {
                                pending.per_side = true;
                            }
                        }
                        Clause::Each => {
                            if let Some(item) = current
                                && self.movement(item).is_some_and(|m| m.sides != Sides::None)
                            {
                                item.per_side = true;
                            }
                        }
                        Clause::Load(load) => match current {
                            _ if ahead && pending_at.is_some_and(|_| pending.amount.is_some()) => {
                                pending.load = Some(*load)
                            }
                            Some(item) if pending.amount.is_none() => {
                                if item.load.is_none() {
                                    item.load = Some(*load);
                                }
                            }
                            _ => pending.load = Some(*load),
                        },
                        Clause::ImplementLoad(held) => match current {
                            Some(item) if pending.amount.is_none() => {
                                item.carried = true;
                                item.load = item.load.or(held.load());
                                item.bare_load = item.bare_load.or(Some((held.first, held.second)));
                            }
                            _ => sentence.found.push((piece.start, What::Clause(clause.clone()))),
                        },
                        Clause::BareLoad(first, second) => match current {
                            Some(item) if pending.amount.is_none() => {
                                item.bare_load = item.bare_load.or(Some((*first, *second)))
                            }
                            _ => pending.bare_load = Some((*first, *second)),
                        },
                        Clause::SameLoad => {
                            if let Some(item) = current {
                                item.same_load = true;
                            }
                        }
                        Clause::Split => {}
                        other => sentence.found.push((piece.start, What::Clause(other.clone()))),
                    }
                    last = last.filter(|&at| at < sentence.found.len());
                }
            }
        }
        // "15 at 70/47.5", "max reps at 80/55", "min 3 - 3": the movement before goes on.
        let repeats = pending.load.is_some() || pending.bare_load.is_some() || pending.max;
        let alone = sentence.found.is_empty() && pieces.iter().all(|piece| piece.kind != PieceKind::Word);
        if (pending.amount.is_some() || pending.max) && (repeats || alone) && last.is_none() {
            sentence.found.push((pending_at.unwrap_or(pieces[0].start), What::Item(pending)));
        } else if let (None, Some(load)) = (last, pending.load) {
            sentence.found.push((pieces[0].start, What::Clause(Clause::Load(load))));
        } else if let (None, Some((first, second))) = (last, pending.bare_load) {
            sentence.found.push((pieces[0].start, What::Clause(Clause::BareLoad(first, second))));
        } else if let (None, true) = (last, pending.max) {
            sentence.found.push((pieces[0].start, What::Clause(Clause::Max(None))));
        } else if let (None, Some((first, second))) = (last, pending.amount) {
            sentence
                .found
                .push((pieces[0].start, What::Clause(Clause::Amount { first, second, unit: pending.unit })));
        }
        sentence
    }

    fn movement(&self, item: &Item) -> Option<&Movement> {
        item.movement.as_ref().and_then(|id| self.catalogue.get(id))
    }

    fn weighs(&self, item: &Item) -> bool {
        self.movement(item).is_some_and(|m| m.load_kind != LoadKind::None)
    }

    /// Whether a movement follows piece `n` with nothing but small words between.
    fn name_ahead(&self, pieces: &[Piece], n: usize) -> bool {
        let mut words = 0;
        for piece in &pieces[n + 1..] {
            match &piece.kind {
                PieceKind::Move { .. } => return true,
                PieceKind::Word => {
                    words += 1;
                    let word = &self.rest[piece.start..piece.end];
                    if words > 4 || !is_filler(word) || matches!(word, "to" | "then" | "from") {
                        return false;
                    }
                }
                PieceKind::Clause(
                    Clause::Max(_)
                    | Clause::Load(_)
                    | Clause::Side
                    | Clause::Tempo(_)
                    | Clause::Each
                    | Clause::Split,
                ) => {}
                PieceKind::Clause(Clause::Length(_))
                    if matches!(pieces[n].kind, PieceKind::Clause(Clause::Max(_))) => {}
                PieceKind::Sign('(' | ')' | '-') => {}
                PieceKind::Sign(':')
                    if matches!(pieces[n].kind, PieceKind::Clause(Clause::SetsReps { .. })) => {}
                _ => return false,
            }
        }
        false
    }

    /// Whether piece `n` stands in the same breath as the movement before it.
    fn adjoins(&self, pieces: &[Piece], n: usize) -> bool {
        for piece in pieces[..n].iter().rev() {
            match &piece.kind {
                PieceKind::Move { .. } => return true,
                PieceKind::Sign(',' | '+' | '.') => return false,
                PieceKind::Word if !is_filler(&self.rest[piece.start..piece.end]) => return false,
                _ => {}
            }
        }
        false
    }

    /// "20 minutes to build to a heavy three" is the length of the part.
    fn leads_to_a_lift(&self, pieces: &[Piece], n: usize) -> bool {
        let mut after = pieces[n + 1..].iter();
        let to = after
            .next()
            .is_some_and(|piece| piece.kind == PieceKind::Word && &self.rest[piece.start..piece.end] == "to");
        let lift = |piece: &Piece| matches!(piece.kind, PieceKind::Clause(Clause::BuildTo(_)));
        let verb = |piece: &Piece| {
            matches!(
                &self.rest[piece.start..piece.end],
                "find" | "build" | "establish" | "work" | "hit" | "get"
            )
        };
        to && after.next().is_some_and(|piece| lift(piece) || verb(piece))
    }

    /// "in 12 minutes" limits the work before it; it is not an amount of it.
    fn after_in(&self, pieces: &[Piece], n: usize) -> bool {
        n > 0
            && pieces[n - 1].kind == PieceKind::Word
            && matches!(
                &self.rest[pieces[n - 1].start..pieces[n - 1].end],
                "in" | "within" | "over" | "inside"
            )
    }

    /// "60 % of your clean and jerk" names the lift whose share is meant, not work to be done.
    fn is_base_of_percent(&self, pieces: &[Piece], n: usize) -> bool {
        let mut of = false;
        for piece in pieces[..n].iter().rev() {
            match &piece.kind {
                PieceKind::Word => match &self.rest[piece.start..piece.end] {
                    "of" => of = true,
                    "your" | "the" | "best" | "max" | "today" | "current" | "1rm" => {}
                    _ => return false,
                },
                PieceKind::Clause(Clause::Percent(_)) => return of,
                _ => return false,
            }
        }
        false
    }

    /// "Do not start the 20 burpees early": an article before the number speaks of work written elsewhere.
    fn is_reference(&self, pieces: &[Piece], n: usize) -> bool {
        let mut before = pieces[..n].iter().rev().skip_while(|piece| {
            matches!(
                piece.kind,
                PieceKind::Clause(Clause::Amount { .. } | Clause::WordAmount(_) | Clause::Load(_))
            )
        });
        before.next().is_some_and(|piece| {
            piece.kind == PieceKind::Word
                && matches!(
                    &self.rest[piece.start..piece.end],
                    "the" | "those" | "these" | "your" | "my" | "our" | "his" | "her"
                )
        })
    }
}

/// "row, run or bike": of a list of bare names with "or", the first counts.
fn choice_of_names(found: &mut [(usize, What)]) {
    let bare = |what: &What| matches!(what, What::Item(item) if !item.is_anchored());
    let run = found.iter().rev().take_while(|(_, what)| bare(what)).count();
    let from = found.len() - run + usize::from(run > 0);
    for (_, what) in &mut found[from..] {
        if let What::Item(item) = what {
            item.alternative = true;
        }
    }
}
