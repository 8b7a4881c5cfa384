//! Numbers, loads and sides find the movement that they stand beside.

use std::mem::discriminant;

use lantern_session::movement::{Catalogue, LoadKind, Movement, Sides, Unit};
use lantern_session::{Intent, Load, Sharing};

use super::instead::is_kind_of;
use super::{Held, Item, What};
use crate::say::{Say, Tool};
use crate::unit::{Reading, Said};

/// Shortest time that anything is held, in seconds.
const SHORTEST_HOLD_S: f64 = 3.0;

struct Attach<'r> {
    catalogue: &'r Catalogue,
    found: Vec<(usize, What)>,
    /// The last item, by place.
    last: Option<usize>,
    /// What stands before a movement and waits for it.
    ahead: Item,
    splits: bool,
    /// Columns of numbers that nothing explains.
    left: &'r [usize],
    /// Words stand there that mean nothing to the reader.
    strange: bool,
}

/// Gives numbers, loads and sides to the movements they stand beside.
pub(crate) fn attach(reading: &Reading, catalogue: &Catalogue) -> Vec<(usize, What)> {
    let mut attach = Attach {
        catalogue,
        found: Vec::new(),
        last: None,
        ahead: Item::default(),
        splits: false,
        left: &reading.numbers_left,
        strange: reading.unknown_words > 1,
    };
    let says = effort_behind(&reading.says);
    for (n, Said { say, column }) in says.iter().enumerate() {
        attach.take(say, *column, &says[n + 1..]);
    }
    let chooses = reading.says.iter().any(|said| said.say == Say::ChooseOne);
    let mut found = attach.finish();
    either_rope(&mut found);
    named_in_full(&mut found);
    so_long_each(&mut found);
    if chooses {
        let items = found
            .iter_mut()
            .filter_map(|(_, what)| if let What::Item(item) = what { Some(item) } else { None });
        items.filter(|item| item.movement.is_some()).skip(1).for_each(|item| item.alternative = true);
    }
    found
}

/// "5 x 30 s all out row": the word for the effort between an amount and its work is told behind both.
fn effort_behind(says: &[Said]) -> Vec<Said> {
    let mut says = says.to_vec();
    let amount = |say: &Say| match say {
        Say::Item(item) => item.movement.is_none() && item.amount.is_some(),
        say => matches!(say, Say::SetsLength(..)),
    };
    let named = |say: &Say| matches!(say, Say::Item(item) if item.movement.is_some() && !item.is_anchored());
    for at in 1..says.len().saturating_sub(1) {
        let effort = matches!(says[at].say, Say::Intent(Intent::Feel(_)));
        if effort && amount(&says[at - 1].say) && named(&says[at + 1].say) {
            says.swap(at, at + 1);
        }
    }
    says
}

/// "Squat: 5 sets of 3 front squats": the sets are those of the lift that the name is short for.
fn named_in_full(found: &mut Vec<(usize, What)>) {
    let full = |run: &[(usize, What)]| {
        let (What::Item(short), What::Say(Say::SetsReps { .. }), What::Item(long)) =
            (&run[0].1, &run[1].1, &run[2].1)
        else {
            return false;
        };
        let (Some(of), Some(id)) = (&short.movement, &long.movement) else { return false };
        // "Squat" alone stands for one of them.
        let name = if short.generic { of.as_str().rsplit('-').next() } else { Some(of.as_str()) };
        name.is_some_and(|name| is_kind_of(id, name))
            && short.sets.is_some()
            && short.load.is_none()
            && long.is_bare()
            && !long.joined
            && !long.alternative
    };
    let Some(at) = found.windows(3).position(full) else { return };
    let (_, What::Item(short)) = found.remove(at) else { return };
    if let What::Item(long) = &mut found[at + 1].1 {
        (long.sets, long.amount, long.unit, long.max) = (short.sets, short.amount, short.unit, short.max);
    }
}

/// "2 min each: row, skip, bike": so long for all that is named behind it.
fn so_long_each(found: &mut Vec<(usize, What)>) {
    let length = found.windows(2).position(|pair| {
        matches!((&pair[0].1, &pair[1].1), (What::Say(Say::Length(_)), What::Say(Say::Each)))
    });
    let Some(at) = length else { return };
    let What::Say(Say::Length(seconds)) = found[at].1 else { return };
    let bare = |(_, what): &(usize, What)| matches!(what, What::Item(item) if item.is_bare());
    let named = &found[at + 2..];
    if named.len() < 2 || !named.iter().all(bare) {
        return;
    }
    found.drain(at..at + 2);
    for (_, what) in &mut found[at..] {
        if let What::Item(item) = what {
            (item.amount, item.unit) = (Some((f64::from(seconds), None)), Some(Unit::Seconds));
        }
    }
}

/// "32 double-unders / 64 single-unders": one or the other.
fn either_rope(found: &mut [(usize, What)]) {
    let rope = |what: &What, id: &str| match what {
        What::Item(item) => {
            item.amount.is_some() && item.movement.as_ref().is_some_and(|known| known.as_str() == id)
        }
        What::Say(_) => false,
    };
    let pair = found
        .windows(2)
        .position(|pair| rope(&pair[0].1, "double-under") && rope(&pair[1].1, "single-under"));
    if let Some(at) = pair
        && let What::Item(item) = &mut found[at + 1].1
    {
        item.alternative = true;
    }
}

/// The same movement with a dumbbell in each hand, of what is done with one's own weight; none where it is no other one.
pub(crate) fn with_dumbbells<'c>(movement: &Movement, catalogue: &'c Catalogue) -> Option<&'c Movement> {
    let name = format!("dumbbell {}", movement.name.to_lowercase());
    let words: Vec<&str> = name.split(' ').collect();
    let found = catalogue.match_words(&words).filter(|found| found.words == words.len())?;
    let with = found.movement;
    (movement.load_kind == LoadKind::None && with.load_kind == LoadKind::DumbbellEach).then_some(with)
}

/// Whether the next thing said is a movement without an amount.
pub(super) fn bare_ahead(rest: &[Said]) -> bool {
    let next = rest.iter().find(|said| {
        !matches!(
            said.say,
            Say::Tempo(_)
                | Say::Paused
                | Say::Percent(_)
                | Say::Side
                | Say::Max
                | Say::Rpe(_)
                | Say::Efforts(_)
                | Say::Each
                | Say::ChooseOne
                | Say::Load { .. }
        )
    });
    next.is_some_and(
        |said| matches!(&said.say, Say::Item(item) if !item.is_anchored() && item.movement.is_some()),
    )
}

/// Whether the next thing said is as much as possible of a movement, with no length of its own.
fn most_ahead(rest: &[Said]) -> bool {
    let most = |item: &crate::say::Item| {
        item.max && item.movement.is_some() && item.amount.is_none() && item.window_s.is_none()
    };
    rest.first().is_some_and(|said| matches!(&said.say, Say::Item(item) if most(item)))
}

impl Attach<'_> {
    /// Whether a number that nothing explains stands between the last item and a place.
    fn takes_back_nothing(&self, column: usize) -> bool {
        let last = self.last.map_or(0, |at| self.found[at].0);
        self.left.iter().any(|left| (last..column).contains(left))
    }

    fn last_item(&mut self) -> Option<&mut Item> {
        match &mut self.found.get_mut(self.last?)?.1 {
            What::Item(item) => Some(item),
            What::Say(_) => None,
        }
    }

    fn movement(&self, item: &Item) -> Option<&Movement> {
        item.movement.as_ref().and_then(|id| self.catalogue.get(id))
    }

    /// The movement of the last item.
    fn last_movement(&self) -> Option<&Movement> {
        match &self.found.get(self.last?)?.1 {
            What::Item(item) => self.movement(item),
            What::Say(_) => None,
        }
    }

    fn take(&mut self, say: &Say, column: usize, rest: &[Said]) {
        match say {
            Say::Item(said) => self.item(said, column, rest),
            Say::SetsReps { sets, reps, .. } => {
                if bare_ahead(rest) {
                    self.ahead.sets = Some(*sets);
                    self.ahead.amount = Some((f64::from(*reps), None));
                } else if let Some(item) =
                    self.last_item().filter(|item| item.sets.is_none() && item.amount.is_none() && !item.max)
                {
                    item.sets = Some(*sets);
                    item.amount = Some((f64::from(*reps), None));
                }
                self.found.push((column, What::Say(say.clone())));
            }
            Say::SetsMax(sets) => {
                let of_sets =
                    |what: &What| matches!(what, What::Say(Say::SetsReps { .. } | Say::SetAt { .. }));
                let said = self.found.iter().any(|(_, what)| of_sets(what));
                if bare_ahead(rest) {
                    self.ahead.max = true;
                } else if let Some(item) = self.last_item().filter(|item| item.amount.is_none() && !said) {
                    item.max = true;
                } else {
                    // "3x5 @ 75 %, then 1 x max @ 60 %": one more line of sets.
                    self.found.push((column, What::Say(Say::OpenSets(*sets))));
                    return;
                }
                self.found.push((column, What::Say(Say::Sets(*sets))));
            }
            Say::SetsLength(sets, seconds) => {
                let amount = Some((f64::from(*seconds), None));
                if most_ahead(rest) {
                    (self.ahead.amount, self.ahead.unit) = (amount, Some(Unit::Seconds));
                    self.found.push((column, What::Say(Say::Rounds(*sets))));
                    return;
                }
                if bare_ahead(rest) {
                    (self.ahead.amount, self.ahead.unit, self.ahead.sets) =
                        (amount, Some(Unit::Seconds), Some(*sets));
                } else if let Some(item) = self.last_item().filter(|item| item.amount.is_none() && !item.max)
                {
                    (item.amount, item.unit, item.sets) = (amount, Some(Unit::Seconds), Some(*sets));
                } else {
                    self.found.push((column, What::Say(Say::Length(*seconds))));
                }
                self.found.push((column, What::Say(Say::Sets(*sets))));
            }
            Say::Max => {
                if bare_ahead(rest) {
                    self.ahead.max = true;
                } else if let Some(item) = self.last_item().filter(|item| item.amount.is_none()) {
                    item.max = true;
                } else {
                    self.ahead.max = true;
                }
            }
            // "30 wall balls (synchro)": of them, and not of all that the team does.
            Say::Sharing(Sharing::Together) | Say::InStep if self.of_one_item(rest) => match self.last_item()
            {
                Some(item) => item.in_step = true,
                None => self.ahead.in_step = true,
            },
            // "The other holds a plank": what stands right behind it, without a number.
            Say::Sharing(Sharing::Held) => {
                self.found.push((column, What::Say(Say::Sharing(Sharing::Held))));
                let next = rest.first().map(|said| &said.say);
                self.ahead.meanwhile =
                    matches!(next, Some(Say::Item(item)) if item.movement.is_some() && !item.is_anchored());
            }
            Say::FromHang => self.take_the_hang(),
            Say::Side => {
                let splits = std::mem::take(&mut self.splits);
                match self.last_item() {
                    Some(item) => item.per_side |= !splits,
                    None => self.ahead.per_side = true,
                }
            }
            Say::BothSides => {
                // Nobody runs on one side: what is counted, of all that the sentence says.
                for (_, what) in &mut self.found {
                    if let What::Item(item) = what {
                        item.per_side |= item.unit.is_none_or(|unit| unit == Unit::Reps);
                    }
                }
            }
            Say::Split(a, b) => {
                let whole = f64::from(a + b);
                let each = f64::from(*a);
                if let Some(item) = self.last_item() {
                    match item.amount {
                        None if a == b => (item.amount, item.per_side) = (Some((each, None)), true),
                        Some((amount, _)) if amount == each && a == b => item.per_side = true,
                        _ => self.splits = item.amount.is_some_and(|(amount, _)| amount == whole),
                    }
                }
            }
            Say::Each => {
                let sides = self.last_movement().map(|movement| movement.sides);
                // "Lunges 3 x 8 each": of sets, so many with each leg.
                let in_sets = self.last_item().is_some_and(|item| item.sets.is_some());
                let sided = sides == Some(Sides::EachSide) || in_sets && sides == Some(Sides::Alternating);
                if sided && let Some(item) = self.last_item() {
                    item.per_side = true;
                } else {
                    if let Some(item) = self.last_item() {
                        item.each = item.amount.is_some();
                    }
                    self.found.push((column, What::Say(Say::Each)));
                }
            }
            Say::Load { implements, first, second, unit } => {
                let load =
                    unit.map(|unit| Load { first: *first, second: *second, unit, implements: *implements });
                match self.last_item() {
                    Some(item) => {
                        let heights = |load: &Load| load.unit.weight().is_none();
                        match (load, &item.load) {
                            (Some(load), None) => item.load = Some(load),
                            // A weight counts before the height beside it; which the movement wants is settled later.
                            (Some(load), Some(known)) if heights(known) && !heights(&load) => {
                                item.carried = true;
                                item.bare_load = item.bare_load.or(Some((load.first, load.second)));
                                item.load = Some(load);
                            }
                            (None, _) => {
                                // Two of something are carried; a box has one height.
                                item.carried |= *implements > 1;
                                item.bare_load = item.bare_load.or(Some((*first, *second)));
                            }
                            _ => {}
                        }
                    }
                    None if rest.iter().any(|said| matches!(said.say, Say::Item(_))) => match load {
                        Some(load) => self.ahead.load = self.ahead.load.or(Some(load)),
                        None => self.ahead.bare_load = self.ahead.bare_load.or(Some((*first, *second))),
                    },
                    None => self.found.push((column, What::Say(say.clone()))),
                }
            }
            Say::ToolLoad { first, second, .. } => {
                let held = Held::of(say);
                let bells = held.is_some_and(|held| held.tool == Tool::Dumbbell);
                // "Walking lunges with 2 x 15 kg dumbbells" are those of that name.
                let carried = self.last_movement().is_some_and(|movement| {
                    movement.load_kind != LoadKind::None
                        || bells && with_dumbbells(movement, self.catalogue).is_some()
                });
                match self.last_item() {
                    Some(item) if carried => {
                        item.carried = true;
                        item.load = item.load.or(held.and_then(|held| held.load()));
                        item.bare_load = item.bare_load.or(Some((*first, *second)));
                    }
                    _ => self.found.push((column, What::Say(say.clone()))),
                }
            }
            Say::Same => match self.last_item() {
                Some(item) => item.same_load = true,
                None => self.ahead.same_load = true,
            },
            Say::Or => self.ahead.alternative = true,
            Say::Slash => self.ahead.slashed = self.last.is_some(),
            Say::Plus => {
                self.ahead.joined = self.last.is_some();
                // "or 8 chin-ups + 8 dips": both stand for the same.
                self.ahead.alternative = self.last_item().is_some_and(|item| item.alternative);
            }
            // "Four rounds, sorry, five rounds": what is said again in the same kind takes the place of the last.
            Say::Withdraw
                if let (Some((_, What::Say(last))), Some(next)) = (self.found.last(), rest.first())
                    && discriminant(last) == discriminant(&next.say) =>
            {
                self.found.pop();
            }
            // "9 rope somethings, no, 9 pull-ups": what is taken back was not understood and says nothing.
            Say::Withdraw if self.takes_back_nothing(column) => {}
            Say::Withdraw => {
                if let Some(at) = self.last.take() {
                    self.found.remove(at);
                }
                self.ahead = Item::default();
            }
            Say::ScoreWord | Say::Told | Say::OfTurn(_) => {}
            other => self.found.push((column, What::Say(other.clone()))),
        }
    }

    /// "Clean (from the hang)" is the lift of that name.
    fn take_the_hang(&mut self) {
        let catalogue = self.catalogue;
        let Some(item) = self.last_item() else { return };
        let Some(id) = item.movement.as_ref().map(|id| id.as_str().to_owned()) else { return };
        let names = match id.strip_prefix("dumbbell-") {
            Some(lift) => [format!("dumbbell-hang-{lift}"), format!("dumbbell-hang-power-{lift}")],
            None => [format!("hang-{id}"), format!("hang-power-{id}")],
        };
        if let Some(lift) = names.iter().find_map(|name| catalogue.find(name)) {
            item.movement = Some(lift.id.clone());
        }
    }

    /// Whether the sentence has one movement with its amount, and says nothing of a team or a clock.
    fn of_one_item(&self, rest: &[Said]) -> bool {
        let ahead: Vec<&crate::say::Item> = rest
            .iter()
            .filter_map(|said| if let Say::Item(item) = &said.say { Some(item) } else { None })
            .collect();
        let before = self.found.iter().filter_map(|(_, what)| match what {
            What::Item(item) => Some((item.movement.is_some(), item.amount.is_some())),
            What::Say(_) => None,
        });
        let items: Vec<(bool, bool)> =
            before.chain(ahead.iter().map(|item| (item.movement.is_some(), item.amount.is_some()))).collect();
        let told = |say: &Say| matches!(say, Say::Team(_) | Say::Amrap(_) | Say::ForTime | Say::Rounds(_));
        let headed = self.found.iter().any(|(_, what)| matches!(what, What::Say(say) if told(say)));
        items == [(true, true)] && !headed && !rest.iter().any(|said| told(&said.say))
    }

    fn item(&mut self, said: &crate::say::Item, column: usize, rest: &[Said]) {
        // "Plank (one a round)": nobody holds anything for a second.
        let held = said.movement.as_ref().and_then(|id| self.catalogue.get(id));
        let held = held.is_some_and(|movement| movement.unit == Unit::Seconds);
        let instant = said.unit.is_none() && said.amount.is_some_and(|(first, _)| first < SHORTEST_HOLD_S);
        if held && instant {
            return self.item(&crate::say::Item { amount: None, ..said.clone() }, column, rest);
        }
        let ahead = std::mem::take(&mut self.ahead);
        self.splits = false;
        if said.movement.is_none() {
            // "Row: 500 m": the amount of the name before it; "500 m row" in two phrases: of the one behind.
            if let Some(item) = self.last_item().filter(|item| item.amount.is_none() && !item.max) {
                (item.amount, item.unit) = (said.amount, said.unit);
                self.ahead = ahead;
                return;
            }
            let length = said.unit == Some(Unit::Seconds) && most_ahead(rest);
            if bare_ahead(rest) || length {
                self.ahead = Item { amount: said.amount, unit: said.unit, ..ahead };
                return;
            }
        }
        let max = said.max || ahead.max;
        // "3 x 2 min max row": as much as goes into the length in front of it.
        let window_s = match ahead.amount {
            Some((seconds, _))
                if max && !held && said.amount.is_none() && ahead.unit == Some(Unit::Seconds) =>
            {
                Some(seconds as u32)
            }
            _ => None,
        };
        let item = Item {
            movement: said.movement.clone(),
            generic: said.shorthand,
            amount: said.amount.or(ahead.amount.filter(|_| window_s.is_none())),
            unit: said.unit.or(ahead.unit.filter(|_| window_s.is_none())),
            sets: said.sets.or(ahead.sets),
            max,
            window_s: said.window_s.or(window_s),
            per_side: said.per_side || ahead.per_side,
            in_step: said.in_step || ahead.in_step,
            meanwhile: said.meanwhile || ahead.meanwhile,
            ..ahead
        };
        if item.alternative && item.amount.is_none() {
            choice_of_names(&mut self.found);
        }
        let sets = said.sets;
        let reps =
            said.amount.filter(|_| !matches!(said.unit, Some(Unit::Seconds | Unit::Metres | Unit::Calories)));
        self.last = Some(self.found.len());
        self.found.push((column, What::Item(item)));
        match (sets, reps) {
            (Some(sets), Some((reps, _))) => {
                self.found.push((column, What::Say(Say::SetsReps { sets, reps: reps as u32, upper: None })));
            }
            (Some(sets), None) => self.found.push((column, What::Say(Say::Sets(sets)))),
            _ => {}
        }
    }

    fn finish(mut self) -> Vec<(usize, What)> {
        let column = self.found.first().map_or(1, |(column, _)| *column);
        let ahead = std::mem::take(&mut self.ahead);
        if self.last.is_none() && ahead.max && ahead.amount.is_none() && self.strange {
            // "Plate twist, as long as possible" is of what nobody knows, not of the work above.
        } else if self.last.is_none() && (ahead.max || ahead.amount.is_some()) {
            self.found.push((column, What::Item(ahead)));
        } else if self.last.is_none() {
            if let Some(load) = ahead.load {
                let Load { first, second, unit, implements } = load;
                self.found
                    .push((column, What::Say(Say::Load { implements, first, second, unit: Some(unit) })));
            } else if let Some((first, second)) = ahead.bare_load {
                self.found.push((column, What::Say(Say::Load { implements: 1, first, second, unit: None })));
            }
        }
        self.found
    }
}

/// "Snatch - every 2:00: 1 power snatch": a bare name at the front that the only work behind it ends in is what the line is about.
pub(super) fn drop_family(found: &mut Vec<(usize, What)>, catalogue: &Catalogue) {
    let named = |what: &What| match what {
        What::Item(item) => {
            Some((item.movement.clone()?, item.amount.is_none() && !item.max && !item.joined))
        }
        What::Say(_) => None,
    };
    let items: Vec<_> = found.iter().filter_map(|(_, what)| named(what)).collect();
    let [(first, true), (second, false)] = &items[..] else { return };
    let ends_so = catalogue
        .name(second)
        .to_lowercase()
        .ends_with(&format!(" {}", catalogue.name(first).to_lowercase()));
    if ends_so && found.len() > 2 && matches!(found[0].1, What::Item(_)) {
        found.remove(0);
    }
}

/// "40 wall balls, remaining time burpees", "then burpees for the rest of the time": what has no number beside the time that is left is done as often as fits
/// into it. On foot or on a machine it may as well be how one recovers.
pub(super) fn fill_what_is_left(found: &mut [(usize, What)], catalogue: &Catalogue) {
    let Some(left) = found.iter().position(|(_, what)| matches!(what, What::Say(Say::Remaining))) else {
        return;
    };
    let is_item = |what: &What| matches!(what, What::Item(_));
    let behind = found[left..].iter().position(|(_, what)| is_item(what)).map(|n| left + n);
    let before = || found[..left].iter().rposition(|(_, what)| is_item(what));
    let Some(n) = behind.or_else(before) else { return };
    let What::Item(item) = &mut found[n].1 else { return };
    let counted = |movement: &Movement| movement.unit == Unit::Reps && !movement.is_engine();
    if item.amount.is_none()
        && !item.max
        && !item.alternative
        && item.movement.as_ref().and_then(|id| catalogue.get(id)).is_some_and(counted)
    {
        item.max = true;
    }
}

/// "row, run or bike": of a list of bare names with "or", the first counts.
pub(super) fn choice_of_names(found: &mut [(usize, What)]) {
    let bare = |what: &What| matches!(what, What::Item(item) if item.amount.is_none() && !item.max);
    let run = found.iter().rev().take_while(|(_, what)| bare(what)).count();
    let from = found.len() - run + usize::from(run > 0);
    for (_, what) in &mut found[from..] {
        if let What::Item(item) = what {
            item.alternative = true;
        }
    }
}
