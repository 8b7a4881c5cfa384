//! Where a part may begin, and what it costs that it does.

use super::around::{BOUGHT_IN, leads_lift, leads_work};
use super::{Divider, heads_a_part, heavy, is_clock, is_whole_superset, prescribes};
use crate::label::Label;
use crate::say::{Item, Say};
use crate::unit::{Cut, Reading, Role, Said, Unit};
use crate::weights::Weights;

impl Divider<'_> {
    /// Whether a part may begin with a sentence.
    pub(super) fn may_cut(&self, at: usize) -> bool {
        let unit = &self.units[at];
        if at == 0 || unit.heading.is_some() || unit.cut == Cut::Must {
            return true;
        }
        // "Odd: ..." and below it "even: ...", "min 2: ..." below "min 1: ...": what takes turns on a clock.
        let goes_on = match (&self.units[at - 1].label, &unit.label) {
            (Label::Odd(above), Label::Odd(here)) => above != here,
            (Label::Minute(above), Label::Minute(here)) => above + 1 == *here,
            _ => false,
        };
        if unit.cut == Cut::Never || goes_on {
            return false;
        }
        let reading = self.best(at);
        let works = matches!(reading.role, Role::Work | Role::Aside);
        let heads = reading.says(heads_a_part)
            || prescribes(reading)
            || reading.says(|say| matches!(say, Say::Sets(_) | Say::Superset));
        let lift_named = reading.items().count() == 1 && reading.items().all(|item| !item.is_anchored());
        let labelled = matches!(unit.label, Label::Part | Label::Bout(_) | Label::Letter(..));
        let heads = heads || self.opens_window(at) || self.tells_of_what_follows(at);
        let leads = reading.says.first().is_some_and(|said| matches!(said.say, Say::Then));
        let cashes_out_of_a_lift = self.cashes_out_of_a_lift(at);
        let cashes = reading.says(|say| matches!(say, Say::CashOut)) && self.ended(at);
        let led_line = (leads || cashes) && unit.starts_line && reading.items().any(Item::is_anchored);
        // "After that, once everybody is back:" in a line of its own, above what is next.
        let next = self.units.get(at + 1).map(|unit| &unit.readings[0]);
        let leads_on = leads
            && unit.starts_line
            && reading.items().next().is_none()
            && next.is_some_and(|next| {
                next.says(heads_a_part)
                    || prescribes(next)
                    || next.says(|say| matches!(say, Say::Sets(_)))
                    || (self.ended(at) || self.warmed_up(at)) && next.items().any(Item::is_anchored)
            });
        let blank = (unit.blank_before || unit.starts_line && self.follows_talk(at))
            && (heads || leads || reading.items().next().is_some());
        let section =
            unit.blank_before && (unit.label == Label::Part || unit.label.is_entry()) || self.new_letter(at);
        let labelled = labelled || self.lists_wholes(at);
        // "Then 9-6-3 for time:" in a line of its own, and the header below a rest in one.
        let led_header = unit.starts_line
            && reading.items().next().is_none()
            && reading.says(heads_a_part)
            && (leads || self.no_blanks || self.rested(at));
        if self.is_named_for_a_lift(at) {
            return true;
        }
        works
            && (blank
                || heads
                || labelled
                || lift_named
                || led_line
                || leads_on
                || led_header
                || cashes_out_of_a_lift
                || self.winds_down(at))
            || section
    }

    /// What it costs that a part begins with a sentence.
    pub fn cut_cost(&self, at: usize, weights: &Weights) -> f64 {
        let of = |name: &str| weights.of(name);
        let unit = &self.units[at];
        if unit.cut == Cut::Must {
            return 0.0;
        }
        let reading = self.best(at);
        let section =
            unit.blank_before && matches!(unit.label, Label::Part | Label::Letter(..)) || self.new_letter(at);
        if self.is_named_for_a_lift(at) {
            return of("cut.each") + of("cut.blank") + of("cut.name");
        }
        if !matches!(reading.role, Role::Work | Role::Aside) && unit.heading.is_none() && !section {
            return 0.0;
        }
        let mut cost = of("cut.each");
        let goes_on = |say: &Say| {
            matches!(
                say,
                Say::Interrupt { .. }
                    | Say::Penalty
                    | Say::AfterEach { .. }
                    | Say::EveryRounds(_)
                    | Say::Remaining
                    | Say::Cap(_)
                    | Say::Score(_)
                    | Say::Rest { .. }
                    | Say::InMinute { .. }
                    | Say::ForBoth
            ) || matches!(say, Say::UntilFailure { .. }) && !unit.starts_line
                || matches!(say, Say::CashOut)
                    && !self.new_letter(at)
                    && !self.ended(at)
                    && !self.cashes_out_of_a_lift(at)
        };
        // "0:00-10:00" in a line of its own stands over what follows.
        let framed = at.checked_sub(1).is_some_and(|before| {
            let says = &self.best(before).says;
            let alone = !self.units[before].text.chars().any(char::is_alphabetic);
            alone && !says.is_empty() && says.iter().all(|said| matches!(said.say, Say::Window(_)))
        });
        // "Front squat", and below it "6 x 2 @ 80%": sets are not parted from their lift.
        let named_above =
            at > 0 && self.names_lift(at - 1) && reading.items().all(|item| item.movement.is_none());
        if (framed || named_above) && unit.heading.is_none() && !unit.blank_before {
            cost += of("cut.continues");
        }
        if self.rounds_of_what_is_raced(at) {
            cost += of("cut.continues");
        }
        // "Then, in the time that is left, ..."
        let led = reading.says.iter().find(|said| !matches!(said.say, Say::Then));
        let led = led.filter(|said| matches!(said.say, Say::Remaining));
        // "Then an AMRAP of ..." below what is bought in with.
        let bought = self.units[..at].iter().rev().take(BOUGHT_IN).any(|unit| {
            unit.readings[0].says(|say| matches!(say, Say::BuyIn)) && !self.has_its_own_clock(at, unit)
        });
        let open = reading.says(|say| matches!(say, Say::Amrap(None)));
        // "4 x 4:00 on, 2:00 off" above "200 m run, then AMRAP 10 swings ..."
        let inside =
            self.ended(at) && (open || !unit.starts_line && reading.says(|say| matches!(say, Say::Amrap(_))));
        // "Buy-in", "50 cal row", and below an empty line the rounds that it is bought in for.
        let header = |say: &Say| matches!(say, Say::Rounds(_) | Say::Scheme { .. } | Say::Amrap(_));
        let bought_for = unit.label == Label::None && reading.says(header) && self.bought_in(at);
        // "In 9 minutes: 600 m run, then an AMRAP of": its length is the one that was told.
        let within = open
            && !unit.starts_line
            && at > 0
            && self.best(at - 1).says(|say| matches!(say, Say::Length(_) | Say::Cap(_)));
        let goes_on_below = (bought && open || inside || within) && !unit.blank_before;
        if (bought_for || goes_on_below) && unit.heading.is_none() {
            cost += of("cut.continues");
        }
        if unit.heading.is_none()
            && (led.is_some() || reading.says.first().is_some_and(|said| goes_on(&said.say)))
            && !self.caps_what_follows(at)
            && !self.counts_what_follows(at)
        {
            cost += of("cut.continues");
        }
        if unit.heading.is_some() && !self.heads_the_same(at) {
            cost += of("cut.heading");
        }
        let (starts_line, blank_before) = self.place(at);
        if blank_before {
            cost += of("cut.blank");
        }
        // Sets alone may be one more entry of a list.
        let begins = reading.says(heads_a_part) || heavy(reading) || self.names_lift(at);
        // "Part 1 (0:00-14:00)", "Superset:", "(25 min)": what stands in a line of its own is of what follows.
        let under_a_header = at.checked_sub(1).is_some_and(|above| {
            let (unit, above) = (&self.units[above], self.best(above));
            let heads = matches!(unit.label, Label::Part | Label::Letter(..)) || !above.says.is_empty();
            let told = matches!(above.role, Role::Work | Role::Aside) && above.items().next().is_none();
            let of_what_stands_above = |say: &Say| {
                matches!(
                    say,
                    Say::Rest { .. }
                        | Say::RestOpen
                        | Say::Cap(_)
                        | Say::Score(_)
                        | Say::Target { .. }
                        | Say::Then
                )
            };
            heads && told && !prescribes(above) && !above.says(of_what_stands_above)
        });
        if self.no_blanks
            && starts_line
            && unit.heading.is_none()
            && begins
            && !under_a_header
            && !self.belongs_above(at)
        {
            cost += of("cut.no_blanks");
        }
        if !starts_line {
            cost += of("cut.inline");
        }
        let previous = at.checked_sub(1).map(|before| &self.units[before]);
        let changed = |before: &Unit| match (unit.label, before.label) {
            (Label::Letter(now, _), Label::Letter(was, _)) => now != was,
            (Label::Letter(_, None | Some(1)) | Label::Part, _) => true,
            _ => false,
        };
        // "- then -"
        let only_leads = |said: &Said| matches!(said.say, Say::Then | Say::RestOpen);
        let lone = unit.starts_line
            && reading.says.first().is_some_and(|said| matches!(said.say, Say::Then))
            && reading.says.iter().all(only_leads);
        match unit.label {
            Label::Bullet if lone => {}
            Label::Part | Label::Bout(_) => cost += of("cut.part_label"),
            Label::Number(_) if self.lists_wholes(at) => cost += of("cut.part_label"),
            // "Superset, 4 rounds: / A) ... / B) ...": the lifts of it.
            Label::Letter(_, None) if !unit.blank_before && self.belongs_above(at) => {
                cost += of("cut.same_letter");
            }
            Label::Letter(..)
                if previous.is_none_or(changed)
                    && (self.heads(at) || self.new_letter(at) || self.names_lift(at)) =>
            {
                cost += of("cut.letter");
            }
            Label::Number(_)
                if unit.blank_before && previous.is_none_or(|before| !before.label.is_entry()) =>
            {
                cost += of("cut.letter")
            }
            Label::Letter(_, None) => cost += of("cut.entry"),
            Label::Letter(..) => cost += of("cut.same_letter"),
            Label::Bullet => cost += of("cut.bullet"),
            Label::Number(_)
            | Label::Minute(_)
            | Label::Station(_)
            | Label::Odd(_)
            | Label::Sets(..)
            | Label::Round(_) => {
                cost += of("cut.entry");
            }
            Label::None => {}
        }
        if unit.heading.is_none()
            && reading.items().next().is_some()
            && reading.items().all(|item| item.sets.is_none())
            && !reading.says(|say| matches!(say, Say::SetsReps { .. }))
            && reading.says(|say| matches!(say, Say::Every { times: None, total_s: None, .. }))
        {
            cost += of("cut.open_clock");
        }
        let next = self.units.get(at + 1).map(|unit| &unit.readings[0]);
        let collects = reading.says(|say| matches!(say, Say::Collect));
        let below_a_lift = (collects || leads_work(reading))
            && unit.starts_line
            && at.checked_sub(1).is_some_and(|before| prescribes(self.best(before)))
            && !prescribes(reading)
            && !self.on_the_clock_above(at);
        // "Handstands, practice for 8 min, then press 5x3": a word leads from practice to the lift.
        let runs = leads_work(reading) && reading.says(heads_a_part);
        let below_practice = (leads_lift(reading) || runs) && self.practised(at);
        if below_a_lift || below_practice || self.cashes_out_of_a_lift(at) {
            cost += of("cut.then_work");
        }
        let fixed = |next: &Reading| self.ended(at) && next.items().any(Item::is_anchored);
        if self.rounds_after_a_rest(at) {
            cost += of("cut.after_rest");
        }
        if lone && next.is_some_and(|next| next.says(heads_a_part) || prescribes(next) || fixed(next)) {
            cost += of("cut.then_line");
        } else if self.tells_of_what_follows(at) {
            cost += of("cut.header");
        } else if self.opens_window(at) {
            cost += of("cut.then_max");
        } else if self.warmed_up(at) && reading.says.first().is_some_and(|said| matches!(said.say, Say::Then))
        {
            // "First we warm up for 9 min with ...", "then you are in pairs:" leads to the work of the day.
            cost += of("cut.after_end");
        } else if reading.says(|say| is_clock(say) || matches!(say, Say::Kind(_)))
            || is_whole_superset(reading)
        {
            cost += of("cut.clock");
        } else if prescribes(reading) && reading.items().next().is_some() {
            cost += of("cut.lift");
        } else if reading.says(heads_a_part) || reading.says(|say| matches!(say, Say::Superset)) {
            cost += of("cut.header");
            if !blank_before && unit.heading.is_none() && unit.label == Label::None {
                cost += of("cut.header_close");
            }
        } else if self.winds_down(at) {
            cost += of("cut.winds_down");
        } else if reading.says(|say| matches!(say, Say::CashOut)) && self.ended(at)
            || self.follows_stations(at)
        {
            cost += of("cut.after_end");
        } else if self.names_lift(at) && !unit.blank_before {
            cost += of("cut.name");
        } else if unit.heading.is_none()
            && !unit.blank_before
            && !matches!(unit.label, Label::Part | Label::Bout(_))
        {
            cost += of("cut.plain");
        }
        cost
    }
}
