//! Dealing lines into parts: by heading where there is one, by content where there is none.

use std::collections::HashMap;

use super::clause::Clause;
use super::draft::{Draft, StepKind};
use super::label::Label;
use super::line::{Item, Line, LineKind};
use super::shape::{Shaper, work_of};
use super::{Assumption, Reading};
use crate::movement::{Catalogue, LoadKind, MovementId};
use crate::session::Problem;
use crate::session::{Alternative, Note, PartKind, Session};

/// Most suggestions for a movement that nobody knows.
const MOST_SUGGESTIONS: usize = 3;
/// Most unknown phrases of one text that suggestions are looked up for: comparing a phrase with all names
/// takes a millisecond or two, and a text of nothing but unknown words must be answered all the same.
const MOST_PHRASES: usize = 40;

/// Most parts of a day; nobody's class has so many.
const MOST_PARTS: usize = 30;
/// Most movements of a part.
const MOST_WORKS: usize = 80;

pub(super) fn assemble(lines: Vec<Line>, catalogue: &Catalogue) -> Reading {
    let mut dealer = Dealer {
        catalogue,
        reading: Reading::default(),
        current: None,
        section: None,
        drafts: Vec::new(),
        works: 0,
        full: false,
        suggestions: HashMap::new(),
    };
    let mut blank_before = false;
    for (n, line) in lines.iter().enumerate() {
        if line.kind == LineKind::Blank {
            blank_before = true;
            continue;
        }
        dealer.take(line, blank_before, &lines[n + 1..]);
        blank_before = false;
    }
    dealer.finish(&lines)
}

struct Dealer<'c> {
    catalogue: &'c Catalogue,
    reading: Reading,
    current: Option<Draft>,
    /// The kind of the last heading.
    section: Option<PartKind>,
    drafts: Vec<Draft>,
    /// Movements in the part being dealt to.
    works: usize,
    /// The day has all the parts that it can have.
    full: bool,
    suggestions: HashMap<String, Vec<String>>,
}

impl Dealer<'_> {
    fn take(&mut self, line: &Line, blank_before: bool, following: &[Line]) {
        for (column, message) in &line.assumed {
            self.reading.assumptions.push(Assumption {
                line: line.number,
                column: *column,
                message: message.clone(),
            });
        }
        for unknown in &line.unknown {
            let nearest = self.nearest(&unknown.text);
            self.reading.problems.push(Problem::unknown_movement(
                line.number,
                unknown.column,
                &unknown.text,
                nearest,
            ));
        }
        match line.kind {
            LineKind::Blank => {}
            LineKind::Title if self.reading.session.title.is_none() && self.current.is_none() => {
                self.reading.session.title =
                    Some(line.raw.trim().trim_matches(['#', '*', '=', ':', ' ']).to_owned());
            }
            LineKind::Title | LineKind::Talk => self.note(line),
            LineKind::Alternative => self.alternative(line),
            LineKind::Work => self.work(line, blank_before, following),
        }
    }

    /// Names close to a phrase; looked up once for each phrase, and for so many phrases only.
    fn nearest(&mut self, phrase: &str) -> Vec<String> {
        if let Some(known) = self.suggestions.get(phrase) {
            return known.clone();
        }
        if self.suggestions.len() >= MOST_PHRASES {
            return Vec::new();
        }
        let nearest = self.catalogue.similar(phrase, MOST_SUGGESTIONS);
        let nearest: Vec<String> = nearest.iter().map(|movement| movement.name.to_lowercase()).collect();
        self.suggestions.insert(phrase.to_owned(), nearest.clone());
        nearest
    }

    fn note(&mut self, line: &Line) {
        self.reading.session.notes.push(Note { line: line.number, text: line.raw.trim().to_owned() });
    }

    fn alternative(&mut self, line: &Line) {
        let Some(draft) = &mut self.current else { return self.note(line) };
        let in_part = |item: &&Item| draft.items().any(|known| known.movement == item.movement);
        // "3 strict pull-ups for the rope climb" names what it replaces; else it is the line above.
        let (named, instead): (Vec<&Item>, Vec<&Item>) =
            line.items().partition(|item| item.amount.is_none() && in_part(item));
        let above = draft.items().last().filter(|_| !instead.is_empty());
        let replaces = named.first().copied().or(above).and_then(|item| item.movement.clone());
        let work = instead.into_iter().filter_map(|item| work_of(item, self.catalogue)).collect();
        draft.last_line = draft.last_line.max(line.number);
        let text = line.raw.trim().to_owned();
        draft.alternatives.push(Alternative { line: line.number, text, work, replaces });
    }

    fn work(&mut self, line: &Line, blank_before: bool, following: &[Line]) {
        if self.full {
            return self.note(line);
        }
        if line.in_passing {
            self.note(line);
        }
        let opens = line.heading.is_some() || self.opens_part(line, blank_before, following);
        if opens && self.drafts.len() + usize::from(self.current.is_some()) >= MOST_PARTS {
            self.full = true;
            self.reading.problems.push(Problem::too_many_parts(line.number, MOST_PARTS));
            return self.note(line);
        }
        self.works = line.items().count() + if opens { 0 } else { self.works };
        if self.works > MOST_WORKS {
            if self.works - line.items().count() <= MOST_WORKS {
                self.reading.problems.push(Problem::too_many_movements(line.number, MOST_WORKS));
            }
            return self.note(line);
        }
        if let Some((kind, text)) = &line.heading {
            self.close();
            self.section = Some(*kind);
            self.current = Some(Draft::new(Some(*kind), Some(text.clone()), line.number));
        } else if opens {
            let lift = self.lift_to_go_on_with(line, following);
            let bout = self.bout_to_repeat(line);
            self.close();
            let mut draft = bout.unwrap_or_default();
            (draft.first_line, draft.last_line) = (line.number, line.number);
            if let Some(lift) = lift {
                draft.begin_with(line, lift);
            }
            self.current = Some(draft);
        }
        let draft = self.current.get_or_insert_with(|| Draft::new(None, None, line.number));
        if let (Label::Bout(minutes), None) = (&line.label, draft.amrap.flatten()) {
            // No bouts were announced, so the number is a length after all.
            draft.amrap = Some(Some(minutes * 60));
        }
        draft.add(line);
    }

    /// Whether a line without heading begins a part of its own.
    fn opens_part(&self, line: &Line, blank_before: bool, following: &[Line]) -> bool {
        let Some(current) = &self.current else { return true };
        if !current.has_items() {
            // A heading or a header line waits for its work.
            return false;
        }
        let says = |test: fn(&Clause) -> bool| line.clauses().any(test);
        let format = says(is_format);
        let lift = self.is_lift(line) || self.is_lift_heading(line, following);
        let clock = says(|c| matches!(c, Clause::Window { .. } | Clause::ClockStart));
        let rounds = says(|c| matches!(c, Clause::Rounds(_)));
        let counts = says(|c| matches!(c, Clause::Length(_) | Clause::Sets(_) | Clause::Scheme { .. }));
        let header = format || lift || rounds || counts;
        if clock || matches!(line.label, Label::Part | Label::Bout(_)) {
            return true;
        }
        let current_is_lift = current.has_prescription() && !current.has_format();
        let in_list = matches!(
            current.kind,
            Some(PartKind::Warmup | PartKind::Accessory | PartKind::Mobility | PartKind::Skill)
        );
        let open_work = line.items().any(|item| item.max);
        if open_work && says(|c| matches!(c, Clause::Then)) && says(|c| matches!(c, Clause::Length(_))) {
            // "then for 8:00: max cal row"
            return !current.has_format();
        }
        if open_work && blank_before && current.for_time && line.items().all(|item| item.max) {
            // Done for time, a blank line, then a test of something else.
            return !says(|c| matches!(c, Clause::Then | Clause::Remaining));
        }
        if let (Label::Letter(now, _), Some(Label::Letter(before, _))) = (&line.label, &current.label) {
            return now != before && header;
        }
        if let (Label::Number(_), Some(Label::Number(_)), true) = (&line.label, &current.label, header) {
            return !in_list && current.every.is_none();
        }
        if format {
            // "For time, 22 minute cap" may stand below the work it speaks of.
            // "For quality: 3 sets" above work of its own does not.
            let counts_what_follows = says(|c| matches!(c, Clause::Sets(_) | Clause::Rounds(_)))
                && following.first().is_some_and(|next| next.items().next().is_some());
            let waits = !current.has_format() && !current_is_lift;
            let only_says_how = line.items().next().is_none() && !(counts_what_follows && in_list);
            let speaks_of_current = waits && only_says_how;
            // "every 2 minutes" below the sets of a lift is their clock.
            let clock_only = line.items().next().is_none()
                && line.clauses().all(|c| matches!(c, Clause::Every { times: None, total_s: None, .. }));
            if clock_only && current_is_lift && current.every.is_none() {
                return false;
            }
            let strong = says(is_clock_format);
            return if in_list {
                let new =
                    blank_before || strong || (counts_what_follows && current.kind == Some(PartKind::Skill));
                new && !speaks_of_current_list(line)
            } else {
                !speaks_of_current && !self.continues(current, line, blank_before)
            };
        }
        if lift && current_is_lift && says(|c| matches!(c, Clause::Superset)) {
            return false;
        }
        if lift {
            let completes = line.items().next().is_none()
                && !says(|c| matches!(c, Clause::BuildTo(_) | Clause::SetsReps { .. }));
            if completes {
                return false;
            }
            let heavy = says(|c| matches!(c, Clause::BuildTo(_) | Clause::Percent(_)));
            if in_list {
                return heavy
                    || (blank_before
                        && current.kind == Some(PartKind::Warmup)
                        && self.is_barbell_line(line));
            }
            if current.has_format() {
                return heavy || blank_before || line.label != Label::None;
            }
            // A prescription for the lift named on the line before.
            let waits = current.lacks_sets();
            return !(waits && (line.items().next().is_none() || current.only_names_a_lift()));
        }
        if rounds && current_is_lift && !in_list {
            return true;
        }
        let scheme = says(|c| matches!(c, Clause::Scheme { .. })) && line.items().next().is_some();
        let apart = blank_before || says(|c| matches!(c, Clause::Then));
        if scheme && apart && current.has_prescription() && !in_list {
            return true;
        }
        rounds
            && blank_before
            && (current.amrap.is_some() || current.every.is_some() || current.on_off.is_some())
            && line.items().next().is_none()
            && following.iter().any(|next| next.items().next().is_some())
    }

    /// "then 3 x 3 at 85 % of that": sets of the lift above, which the line does not name again.
    fn lift_to_go_on_with(&self, line: &Line, following: &[Line]) -> Option<MovementId> {
        let current = self.current.as_ref().filter(|draft| draft.has_prescription())?;
        let names = |line: &Line| line.items().any(|item| item.movement.is_some());
        let next = following.iter().find(|next| next.kind != LineKind::Blank);
        let named_below = next.is_some_and(|next| {
            let bare = next.items().all(|item| item.amount.is_none() && item.sets.is_none());
            names(next) && bare
        });
        let counts = |clause: &Clause| {
            matches!(clause, Clause::SetsReps { .. } | Clause::SetAt { .. } | Clause::Sets(_))
        };
        let prescribes = self.is_lift(line) && line.clauses().any(counts);
        if !prescribes || names(line) || named_below || line.label != Label::None {
            return None;
        }
        let mut lifts = current.items().filter_map(|item| item.movement.clone());
        let first = lifts.next()?;
        lifts.all(|other| other == first).then_some(first)
    }

    /// "AMRAP 2:" under "3 x 5:00 AMRAP" is another bout on the clock of the first.
    fn bout_to_repeat(&self, line: &Line) -> Option<Draft> {
        let Label::Bout(n) = line.label else { return None };
        let current = self.current.as_ref().filter(|draft| draft.label == Some(Label::Bout(n - 1)))?;
        Some(Draft { amrap: current.amrap, score: current.score, team: current.team, ..Draft::default() })
    }

    /// Whether a format on a later line only completes the one that the part has.
    fn continues(&self, current: &Draft, line: &Line, blank_before: bool) -> bool {
        let fixed =
            current.steps.iter().any(|step| {
                matches!(step.what, StepKind::Scheme { .. } | StepKind::Rounds(_) | StepKind::Main)
            }) && !current.has_prescription()
                && line.items().next().is_some()
                && !blank_before;
        let other = line.clauses().filter(|clause| is_format(clause)).all(|clause| match clause {
            Clause::ForTime => current.for_time || current.on_off.is_some(),
            Clause::Quality => current.quality || line.items().next().is_none(),
            // "death by burpees" is a piece of its own; "add two each minute until you miss" is not.
            Clause::UntilFailure => line.items().next().is_none() || !current.has_prescription(),
            Clause::AddEach(_) => true,
            Clause::Tabata => current.on_off.is_some(),
            Clause::OnOff { .. } => current.tabata,
            Clause::Amrap(None) => current.amrap.is_some(),
            // "every minute: 5 burpees" inside a piece for time cuts into it.
            Clause::Every { times: None, total_s: None, .. } => {
                let rises = current.until_failure && current.every.is_none();
                current.for_time || current.cap_s.is_some() || fixed || rises
            }
            _ => false,
        });
        other && !current.items().all(|item| item.sets.is_some())
    }

    fn is_barbell_line(&self, line: &Line) -> bool {
        line.items()
            .filter_map(|item| item.movement.as_ref())
            .any(|id| self.catalogue.get(id).is_some_and(|movement| movement.load_kind == LoadKind::Barbell))
    }

    /// A lift with its prescription on one line, or a prescription alone.
    fn is_lift(&self, line: &Line) -> bool {
        let prescribed = line.clauses().any(Clause::is_prescription)
            || (line.clauses().any(|c| matches!(c, Clause::Sets(_)))
                && line.items().any(|item| item.max && item.movement.is_some()));
        prescribed && !line.clauses().any(is_clock_format)
    }

    /// A movement alone on a line, with a prescription on the next.
    fn is_lift_heading(&self, line: &Line, following: &[Line]) -> bool {
        let mut items = line.items();
        let (Some(item), None) = (items.next(), items.next()) else { return false };
        let bare = item.amount.is_none() && !item.max && line.clauses().next().is_none();
        let next = following.iter().find(|next| next.kind != LineKind::Blank);
        bare && next.is_some_and(|next| {
            let own_sets = self.current.as_ref().is_some_and(|draft| !draft.lacks_sets());
            (own_sets || next.items().all(|item| item.movement.is_none()))
                && next.clauses().any(|c| c.is_prescription() || matches!(c, Clause::Sets(_)))
        })
    }

    fn close(&mut self) {
        if let Some(draft) = self.current.take() {
            self.drafts.push(draft);
        }
    }

    fn finish(mut self, lines: &[Line]) -> Reading {
        self.close();
        let mut shaper = Shaper::new(self.catalogue, &self.drafts);
        let mut parts = Vec::new();
        let mut section = None;
        for draft in self.drafts {
            section = draft.kind.or(section);
            let (first, last) = (draft.first_line, draft.last_line);
            match shaper.shape(draft, section) {
                Some(part) => parts.push(part),
                // A heading or a header without work: kept as it stands.
                None => {
                    for line in lines.iter().filter(|line| (first..=last).contains(&line.number)) {
                        let noted = self.reading.session.notes.iter().any(|note| note.line == line.number);
                        if line.kind != LineKind::Blank && !noted {
                            let text = line.raw.trim().to_owned();
                            self.reading.session.notes.push(Note { line: line.number, text });
                        }
                    }
                }
            }
        }
        self.reading.session.notes.sort_by_key(|note| note.line);
        self.reading.problems.append(&mut shaper.problems);
        self.reading.assumptions.append(&mut shaper.assumptions);
        self.reading.assumptions.sort_by_key(|assumption| (assumption.line, assumption.column));
        self.reading.session = Session { parts, unit: shaper.unit(), ..self.reading.session };
        self.reading.lines = super::gloss::glosses(lines, &self.reading.session, self.catalogue);
        self.reading
    }
}

fn speaks_of_current_list(line: &Line) -> bool {
    line.items().next().is_none()
        && line.clauses().all(|c| matches!(c, Clause::Quality | Clause::Rounds(_) | Clause::Rest { .. }))
}

fn is_format(clause: &Clause) -> bool {
    is_clock_format(clause) || matches!(clause, Clause::Quality | Clause::UntilFailure)
}

fn is_clock_format(clause: &Clause) -> bool {
    matches!(
        clause,
        Clause::Amrap(_) | Clause::ForTime | Clause::Every { .. } | Clause::OnOff { .. } | Clause::Tabata
    )
}
