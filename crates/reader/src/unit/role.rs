//! The readings of a sentence: what it says in each role that it could have, and what that costs.

use lantern_session::movement::{Catalogue, Unit};

use super::score::score_sentence;
use super::{Reading, Role, Said};
use crate::cover::{Covering, coverings};
use crate::lexicon::Lexicon;
use crate::say::{Aim, Item, LONGEST_REST_S, Say, effort};
use crate::tokens::{Kind, Token};
use crate::values::Line;
use crate::weights::Weights;

/// From this on a clock at the front of the first lines is a time of day: five in the morning, read as minutes.
const EARLIEST_CLASS_S: u32 = 5 * 60;

/// What is told of the effort of a set behind an "@", as RPE.
const EFFORTS: std::ops::RangeInclusive<f64> = 5.0..=10.0;

/// A line in a block of levels gives the numbers of one.
pub(super) fn offer_level(readings: &mut Vec<Reading>, place: u8, weights: &Weights) {
    let work =
        readings.iter().find(|reading| reading.role == Role::Work && !reading.says.is_empty()).cloned();
    for reading in readings
        .iter_mut()
        .filter(|reading| matches!(reading.role, Role::Work | Role::Aside | Role::Substitute))
    {
        reading.cost += weights.of("work.in_level_block");
    }
    if let Some(work) = work {
        let cost = weights.of("level.each") + 0.2 * work.cost.max(0.0);
        readings.retain(|reading| !matches!(reading.role, Role::Level(_)));
        readings.push(Reading { role: Role::Level(place), cost, ..work });
    }
    readings.sort_by(|a, b| a.cost.total_cmp(&b.cost));
}

/// Work among substitutes is one of them.
pub(super) fn offer_instead(readings: &mut Vec<Reading>, weights: &Weights) {
    // "Scale: 60/40. Cap 16 min.": what limits the piece is nobody's substitute.
    let limits = |reading: &Reading| {
        reading.items().next().is_none()
            && reading.says(|say| matches!(say, Say::Cap(Some(_)) | Say::Target { .. }))
    };
    if readings.first().is_some_and(|first| matches!(first.role, Role::Work | Role::Aside) && limits(first)) {
        return;
    }
    let works: Vec<Reading> = readings
        .iter()
        .filter(|reading| reading.role == Role::Work && !reading.says.is_empty())
        .cloned()
        .collect();
    for reading in readings.iter_mut().filter(|reading| matches!(reading.role, Role::Work | Role::Aside)) {
        reading.cost += weights.of("work.among_substitutes");
    }
    for work in works.into_iter().take(2) {
        let cost = weights.of("substitute.each") + 0.2 * work.cost.max(0.0);
        readings.push(Reading { role: Role::Substitute, cost, ..work });
    }
    readings.sort_by(|a, b| a.cost.total_cmp(&b.cost));
}

pub(super) fn strong(say: &Say) -> bool {
    matches!(
        say,
        Say::Cap(Some(_))
            | Say::Target { .. }
            | Say::RoundUnder(_)
            | Say::Score(_)
            | Say::Team(_)
            | Say::Sharing(_)
            | Say::Rest { .. }
            | Say::ForTime
            | Say::Quality
            | Say::UntilFailure { .. }
            | Say::AddEach(_)
            | Say::Intent(_)
            | Say::Tabata
            | Say::Amrap(Some(_))
            | Say::Every { .. }
            | Say::OnOff { .. }
            | Say::Rm(_)
            | Say::Week(..)
            | Say::Rounds(_)
            | Say::EachPerson
            | Say::TopSets(_)
            | Say::Percent(_)
            | Say::PercentOf(_)
            | Say::OpenSets(_)
            | Say::OpenLast
            | Say::SetWith { .. }
            | Say::ShareFor { .. }
            | Say::Rpe(_)
            | Say::Superset
            | Say::SupersetWith
            | Say::Window(_)
            | Say::Clock(_)
            | Say::Tempo(_)
            | Say::Paused
            | Say::Kind(_)
    )
}

/// Words inside phrases that were read as others they are a slip away from.
fn mended(covering: &Covering, body: &[Token]) -> Vec<(usize, String, String)> {
    let inside = covering.phrases.iter().flat_map(|phrase| &body[phrase.start..phrase.end]);
    let slips = inside.filter_map(|token| match &token.kind {
        Kind::Word { text, mended: Some(better) } => Some((token.start + 1, text.clone(), better.clone())),
        _ => None,
    });
    slips.collect()
}

/// "A1 straight into A2", "1a, 1b": a number that a letter stands right beside. "Doors open at 9.40": a time of day, no load has such a fraction.
fn counts_nothing(body: &[Token], at: usize) -> bool {
    /// Fractions of loads, in hundredths.
    const QUARTERS: f64 = 25.0;
    let hundredths = body[at].number().map_or(0.0, |number| (number.fract() * 100.0).round());
    let time = (10.0..60.0).contains(&hundredths) && hundredths % QUARTERS != 0.0;
    if time && body[at].number().is_some_and(|hour| (5.0..24.0).contains(&hour)) {
        return true;
    }
    let letter = |token: &Token| token.word().is_some_and(|word| word.len() == 1 && word != "x");
    let before = at.checked_sub(1).is_some_and(|before| letter(&body[before]) && !body[at].spaced);
    before || body.get(at + 1).is_some_and(|behind| letter(behind) && !behind.spaced)
}

/// "2 sets, each 5": words beside a number that mean something and that no phrase explains. What stands in front of a colon heads what follows.
fn beside_numbers(covering: &Covering, body: &[Token]) -> Vec<(usize, String)> {
    let number = |at: Option<usize>| {
        let token = at.and_then(|at| body.get(at));
        token.is_some_and(|token| matches!(token.kind, Kind::Number(_) | Kind::Clock(_)))
    };
    let sign = |at: Option<usize>| {
        let token = at.and_then(|at| body.get(at));
        token.is_some_and(|token| matches!(token.kind, Kind::Sign('/' | '-' | '(')))
    };
    let beside = |at: &&usize| {
        let (before, behind) = (at.checked_sub(1), Some(*at + 1));
        number(before)
            || number(behind)
            || sign(before) && number(at.checked_sub(2))
            || sign(behind) && number(Some(*at + 2))
    };
    // "No 3RM yet?", "add 1 rep"
    let denies = |at: usize| matches!(body[at].word(), Some("no" | "add"));
    let heads = |at: usize| body.get(at + 1).is_some_and(|token| token.is(':') || token.is('-'));
    let left = covering.known_left.iter().filter(beside).filter(|at| !heads(**at) && !denies(**at));
    left.filter_map(|at| Some((body[*at].start + 1, body[*at].word()?.to_owned()))).collect()
}

pub(super) fn read_sentence(
    body: &[Token],
    catalogue: &Catalogue,
    lexicon: &Lexicon,
    weights: &Weights,
    near_top: bool,
) -> Vec<Reading> {
    if body.is_empty() {
        return vec![Reading { role: Role::Work, ..Reading::note(0.0) }];
    }
    let line = Line::new(body, lexicon, catalogue);
    let begins = |name: &str| lexicon.class(name).and_then(|class| line.class(0, class));
    let discourse = lexicon.class("discourse");
    let mut opening = 0;
    // "Okay so ..." says nothing yet.
    while opening < body.len() && opening < 6 {
        match discourse.and_then(|class| line.class(opening, class)) {
            Some(end) if end < body.len() => opening = end,
            _ if body[opening].is(',') => opening += 1,
            _ => break,
        }
    }
    let begins_at = |name: &str, at: usize| lexicon.class(name).and_then(|class| line.class(at, class));
    let talk = begins_at("talk", opening.min(body.len() - 1));
    // "Good morning!" greets; with a number it is a lift.
    let wishes = near_top
        && body.len() <= 3
        && body[0].word() == Some("good")
        && body.get(1).and_then(Token::word) == Some("morning");
    let greets = begins("greeting").is_some() || wishes;
    // "Knee raises are fine" offers them.
    let allows = lexicon.class("allowed").is_some_and(|class| {
        let ends = line.movements[opening.min(body.len() - 1)].iter().map(|name| name.end);
        ends.max().is_some_and(|end| end < body.len() && line.class(end, class).is_some())
    });
    // "Runs should feel easy" is about the runs.
    let speaks_of = lexicon.class("modal").is_some_and(|class| {
        let name = line.movements[opening.min(body.len() - 1)].iter().map(|name| name.end).max();
        name.is_some_and(|end| end < body.len() && line.class(end, class).is_some())
    });
    // "If there is time left" offers more, and nothing else.
    let spare = body.first().and_then(Token::word) == Some("if")
        && body
            .iter()
            .take(8)
            .any(|token| matches!(token.word(), Some("time" | "minutes" | "mins" | "left")));
    let alternative = begins("alternative").filter(|_| !spare);
    let level = begins("level");
    let instead = lexicon
        .class("altmid")
        .is_some_and(|class| (1..body.len()).any(|at| line.class(at, class).is_some()));
    let starts_with_number = matches!(body[0].kind, Kind::Number(_) | Kind::Clock(_));
    let day_first = lexicon.class("dayname").is_some_and(|class| {
        line.class(0, class).is_some_and(|end| {
            body.get(end).is_none_or(|token| matches!(token.kind, Kind::Sign('-' | ':' | ',' | '/')))
        })
    });
    let names_day = (body.len() <= 9 && near_top || day_first)
        && (0..body.len()).any(|at| {
            ["dayname", "month", "titleword"]
                .iter()
                .any(|name| lexicon.class(name).is_some_and(|class| line.class(at, class).is_some()))
        });
    // A line that stands in quotes is what the day is called, whatever numbers are in it.
    // A name has letters: "21-15-9" in quotes is a scheme.
    let worded = body.iter().any(|token| token.word().is_some_and(|word| word != "x"));
    let quoted = worded && body.len() > 2 && body[0].is('"') && body[body.len() - 1].is('"');
    let mut found = Vec::new();
    // "Level 2 - 50/35 kg, step-ups": what stands behind the name of the level is read by itself.
    // "Newer folks: ...", "Advanced people - ..."
    let level = level.map(|end| {
        let colon = body.iter().skip(end).take(3).position(|token| token.is(':') || token.is('-'));
        let words = colon.unwrap_or(0);
        let who = (end..end + words).all(|at| body[at].word().is_some() && line.movements[at].is_empty());
        if who { end + words } else { end }
    });
    let behind_level = level.filter(|end| {
        body.get(*end).is_some_and(|token| matches!(token.kind, Kind::Sign(':' | '-' | '=' | '>')))
            && body.len() > end + 1
    });
    let leveled = behind_level.is_some();
    if let Some(end) = behind_level {
        let rest = &body[end + 1..];
        let line = Line::new(rest, lexicon, catalogue);
        let next = lexicon
            .class("level")
            .and_then(|class| (0..rest.len()).find(|at| line.class(*at, class).is_some()));
        let upto = next.map_or(usize::MAX, |at| rest[at].start + 1);
        if let Some(covering) = coverings(&line, weights).into_iter().next() {
            let mut says = said(&covering, rest);
            says.retain(|said| said.column < upto);
            let cost = weights.of("level.each") + 0.3 * covering.cost.max(0.0);
            found.push(Reading { role: Role::Level(level_rank(body)), says, cost, ..Reading::note(0.0) });
        }
    }
    let named =
        body.iter().take(7).position(|token| matches!(token.kind, Kind::Sign(':' | '>' | '='))).filter(
            |at| {
                *at > 0
                    && body[..*at]
                        .iter()
                        .all(|token| token.word().is_some() || matches!(token.kind, Kind::Sign(_)))
            },
        );
    // "Then: ..." leads on.
    let leads = begins("then");
    let named = named.filter(|at| leads != Some(*at));
    let (mut told, mut prescribed, mut aimed) = (0, 0, false);
    for covering in coverings(&line, weights) {
        let mut says = said(&covering, body);
        shares_of_effort(&mut says, catalogue);
        efforts_at(&mut says, body, catalogue);
        rests_of_sets(&mut says, body, catalogue);
        let mut work = Reading {
            role: Role::Work,
            says,
            cost: covering.cost,
            numbers_left: covering.numbers_left.iter().map(|at| body[*at].start + 1).collect(),
            counts_left: covering.numbers_left.iter().filter(|at| !counts_nothing(body, **at)).count(),
            unknown_words: covering.unknown_words,
            names_left: covering.names_left,
            words_left: beside_numbers(&covering, body),
            mended: mended(&covering, body),
        };
        let anchored = work.items().filter(|item| item.is_anchored() && item.movement.is_some()).count();
        let loose = work.items().filter(|item| item.movement.is_none()).count();
        let bare = work.items().count() - anchored - loose;
        let structure = work
            .says
            .iter()
            .filter(|said| {
                strong(&said.say)
                    || matches!(
                        said.say,
                        Say::SetsReps { .. }
                            | Say::Sets(_)
                            | Say::Scheme { .. }
                            | Say::Load { .. }
                            | Say::SetAt { .. }
                            | Say::SetsMax(_)
                    )
            })
            .count();
        let rest = work.says.len() - anchored - bare - loose - structure;
        let drops = weights.of("note.item") * anchored as f64
            + weights.of("note.bare") * (bare + covering.names_left) as f64
            + weights.of("note.number") * covering.numbers_left.len() as f64
            + weights.of("note.loose") * loose as f64;
        // "No clock, no score" says how it is run.
        let runs = matches!(
            work.says.first().map(|said| &said.say),
            Some(Say::Quality | Say::Score(_) | Say::Cap(_))
        );
        if talk.is_some() && !starts_with_number && !runs {
            let share = if anchored > 0 { 0.5 } else { 1.0 };
            work.cost += share * weights.of("work.talk_opener");
        }
        // What is named in a greeting is news, rarely work.
        let drops = if greets { 0.4 * drops } else { drops };
        if greets {
            work.cost += weights.of("work.greeting");
        }
        if allows && anchored == 0 && bare > 0 {
            let cost = weights.of("substitute.inside") + 0.3 * covering.cost.max(0.0);
            found.push(Reading { role: Role::Substitute, cost, ..work.clone() });
            work.cost += weights.of("work.alternative_inside");
        }
        if speaks_of && anchored == 0 {
            work.cost += weights.of("work.speaks_of");
        }
        // "Some stretch 1 min / side": a length of each side is of a movement, whatever it is called.
        let length = |said: &Said| matches!(said.say, Say::Length(_));
        let of_sides = work.says.iter().any(length) && work.says(|say| matches!(say, Say::Side));
        if of_sides && work.items().next().is_none() && covering.unknown_words > 0 {
            work.cost += weights.of("work.side_of_nothing");
        }
        if has_seconds_for_sets(&work) {
            work.cost += weights.of("work.seconds_for_sets");
        }
        if has_rounds_among_sets(&work) {
            work.cost += weights.of("work.rounds_among_sets");
        }
        if work.says.is_empty() {
            work.cost += weights.of("work.empty");
        }
        if quoted {
            work.cost += weights.of("work.quoted");
        }
        // "sub 7" is a time to beat.
        let aims = matches!(work.says.first().map(|said| &said.say), Some(Say::Target { .. }));
        // "Whenever the bar is set down, 4 squats" is owed, not offered.
        let owes = work.says(|say| matches!(say, Say::Penalty));
        // "Start around 50 % and go up if the tempo holds" is how the lift is done.
        let climbs = anchored == 0 && work.says(|say| matches!(say, Say::Climbs));
        let offers = !owes
            && !climbs
            && (anchored + bare > 0
                || work.says(|say| matches!(say, Say::Load { .. } | Say::ToolLoad { .. } | Say::Percent(_))));
        let chooses = work.says(|say| matches!(say, Say::Or)) && anchored > 0;
        if instead && offers && alternative.is_none() && !chooses {
            let cost = weights.of("substitute.inside") + 0.3 * covering.cost.max(0.0);
            found.push(Reading { role: Role::Substitute, cost, ..work.clone() });
            work.cost += weights.of("work.alternative_inside");
        }
        if alternative.is_some() && !starts_with_number && !aims && offers {
            work.cost += weights.of("work.alternative_opener");
            let role = Role::Substitute;
            let cost = weights.of("substitute.each") + 0.3 * covering.cost;
            found.push(Reading { role, cost, ..work.clone() });
        }
        if let Some(end) = level
            && !leveled
            && body.get(end).is_none_or(|token| {
                matches!(token.kind, Kind::Sign(':' | '-' | '=' | '(' | ',' | '/') | Kind::Number(_))
                    || token.word().is_some_and(|word| word == "is" || word == "at")
            })
        {
            let first = lexicon
                .class("level")
                .and_then(|class| (end..body.len()).find(|at| line.class(*at, class).is_some()));
            let upto = first.map_or(usize::MAX, |at| body[at].start + 1);
            let says = work.says.iter().filter(|said| said.column < upto).cloned().collect();
            let role = Role::Level(level_rank(body));
            found.push(Reading {
                role,
                says,
                cost: weights.of("level.each") + 0.3 * covering.cost,
                ..work.clone()
            });
            work.cost += weights.of("work.level_opener");
        }
        // "Rx: 24/16, 9/6" has loads alone, the ones of a level.
        if leveled && anchored + bare == 0 {
            work.cost += weights.of("work.level_opener");
        }
        // "Deadlift: 3 x 4 @ 70 %", "pull-ups: accumulate 40" prescribe.
        let counted = |item: &Item| item.movement.is_none() && item.unit == Some(Unit::Reps);
        let prescribes = work.items().any(counted)
            || work.says(|say| matches!(say, Say::Percent(_) | Say::SetsReps { .. } | Say::Rpe(_)))
            || work.items().any(|item| item.sets.is_some())
            || work.says(|say| {
                crate::day::is_clock(say) || matches!(say, Say::Rounds(_) | Say::BuyIn | Say::CashOut)
            });
        // "Burpees: 12" is how many of them.
        let of_the_named = anchored == 1 && bare + loose == 0 && work.says.len() == 1;
        let prescribes = prescribes || of_the_named;
        if named.is_some() && anchored + bare > 0 && !starts_with_number && !prescribes {
            let cost = work.cost + weights.of("substitute.named");
            found.push(Reading { role: Role::Substitute, cost, ..work.clone() });
        }
        if let Some(colon) = named {
            // "Press complex: push press + push jerk": bare names before a colon head the names behind it.
            let column = body[colon].start + 1;
            let (before, behind): (Vec<&Said>, Vec<&Said>) =
                work.says.iter().partition(|said| said.column < column);
            let heads = before.iter().any(|said| matches!(said.say, Say::Item(_)))
                && before.iter().all(|said| match &said.say {
                    Say::Item(item) => !item.is_anchored(),
                    Say::Week(..) => true,
                    _ => false,
                });
            if heads
                && behind.iter().any(|said| matches!(&said.say, Say::Item(item) if item.movement.is_some()))
            {
                let says = work
                    .says
                    .iter()
                    .filter(|said| said.column >= column || !matches!(said.say, Say::Item(_)));
                let mut says: Vec<Said> = says.cloned().collect();
                if body[..colon].iter().any(|token| token.word().is_some_and(|word| word == "complex")) {
                    says.insert(0, Said { say: Say::Complex { named: false }, column: body[0].start + 1 });
                }
                found.push(Reading { says, cost: work.cost - weights.of("work.topic"), ..work.clone() });
            }
        }
        let weeks = work.says.iter().filter(|said| matches!(said.say, Say::Week(..))).count();
        // "18:00 Group class" says when.
        let says_when = near_top
            && matches!(body[0].kind, Kind::Clock(time) if time >= EARLIEST_CLASS_S)
            && body.len() > 1;
        let hour = usize::from(says_when && work.says(|say| matches!(say, Say::Length(_))));
        aimed |= work.says(|say| matches!(say, Say::Target { .. }));
        if quoted && near_top
            || (names_day || says_when) && anchored == 0 && structure == weeks && rest <= hour && !aimed
        {
            let cost = weights.of("title.each");
            found.push(Reading {
                role: Role::Title,
                says: Vec::new(),
                cost,
                numbers_left: Vec::new(),
                ..work.clone()
            });
        }
        // What is passed over is all that the best reading of it says.
        told = structure.max(told);
        // The sets of a lift that is named are no talk either.
        let sets = |say: &Say| matches!(say, Say::SetsReps { .. } | Say::SetAt { .. } | Say::SetsMax(_));
        let own = work.says.iter().filter(|said| bare > 0 && sets(&said.say)).count();
        prescribed = own.max(prescribed);
        let note = weights.of("note.each")
            + drops
            + weights.of("note.structure") * told as f64
            + weights.of("note.other") * rest as f64;
        found.push(Reading { unknown_words: work.unknown_words, ..Reading::note(note) });
        if structure > 0 {
            let kept: Vec<Said> = work.says.iter().filter(|said| strong(&said.say)).cloned().collect();
            if !kept.is_empty() {
                let cost = weights.of("aside.each")
                    + drops
                    + weights.of("note.structure") * prescribed as f64
                    + weights.of("aside.unknown") * covering.unknown_words as f64
                    + weights.of("aside.number") * covering.numbers_left.len() as f64;
                found.push(Reading {
                    role: Role::Aside,
                    says: kept,
                    cost,
                    numbers_left: Vec::new(),
                    ..work.clone()
                });
            }
        }
        found.push(work);
    }
    if quoted && !near_top {
        found.push(Reading::note(weights.of("title.each")));
    }
    if let Some(scored) = score_sentence(body, &found, lexicon, &line, weights) {
        found.push(scored);
    }
    found.sort_by(|a, b| a.cost.total_cmp(&b.cost).then(b.says.len().cmp(&a.says.len())));
    let mut kept: Vec<Reading> = Vec::new();
    for reading in found {
        if !kept.iter().any(|known| known.role == reading.role && known.says == reading.says) {
            kept.push(reading);
        }
    }
    kept.truncate(6);
    kept
}

/// 0 for the level that the text is written for; the others follow.
pub(super) fn level_rank(body: &[Token]) -> u8 {
    let word = body[0].word().unwrap_or_default();
    let number = body.get(1).and_then(Token::number);
    match (word, number) {
        (
            "rx" | "elite" | "advanced" | "performance" | "sport" | "competitor" | "competitors" | "compete"
            | "comp" | "experienced",
            _,
        ) => 0,
        ("level" | "l", Some(n)) => 10u8.saturating_sub(n as u8),
        ("intermediate" | "fitness", _) => 4,
        _ => 6,
    }
}

/// What a covering says, sides and loads still apart.
pub(super) fn said(covering: &Covering, body: &[Token]) -> Vec<Said> {
    let phrases = covering.phrases.iter();
    phrases
        .flat_map(|phrase| {
            let column = body[phrase.start].start + 1;
            phrase.says.iter().map(move |say| Said { say: say.clone(), column })
        })
        .collect()
}

/// "Row 3 min @ 85%": a share behind what no bar weighs is one of the effort, not of a maximum.
fn shares_of_effort(says: &mut [Said], catalogue: &Catalogue) {
    let mut engine = false;
    for said in says {
        match &said.say {
            Say::Item(item) => {
                let movement = item.movement.as_ref().and_then(|id| catalogue.get(id));
                // "6 x 400 m @ 90%", of whatever the day is about.
                let far = matches!(item.unit, Some(Unit::Metres | Unit::Calories));
                engine = movement.map_or(far && item.movement.is_none(), |movement| movement.is_engine());
            }
            Say::Percent(shares) if engine && shares.len() == 1 => {
                said.say = Say::Intent(effort(shares[0]));
            }
            _ => {}
        }
    }
}

/// "Bench press 5x5 @8": no bar weighs that little, so it is how hard the sets are.
fn efforts_at(says: &mut [Said], body: &[Token], catalogue: &Catalogue) {
    let lifts = |said: &Said| match &said.say {
        Say::Item(item) => {
            item.movement.as_ref().and_then(|id| catalogue.get(id)).is_none_or(|lift| lift.is_barbell())
        }
        _ => true,
    };
    let sets = |said: &Said| match &said.say {
        Say::Item(item) => item.sets.is_some(),
        say => matches!(say, Say::SetsReps { .. }),
    };
    if !says.iter().any(sets) || !says.iter().all(lifts) {
        return;
    }
    let at = |said: &Said| body.iter().any(|token| token.start + 1 == said.column && token.is('@'));
    for said in says.iter_mut() {
        if let Say::Load { first, second: None, unit: None, .. } = said.say
            && EFFORTS.contains(&first)
            && at(said)
        {
            said.say = Say::Rpe([first, first]);
        }
    }
}

/// "Deadlift 4 x 4 @ 80%, 2-3 min": no lift is aimed at a time, so that long is rested.
fn rests_of_sets(says: &mut [Said], body: &[Token], catalogue: &Catalogue) {
    let mut lifts = false;
    for said in says {
        match &said.say {
            Say::Item(item) => {
                let movement = item.movement.as_ref().and_then(|id| catalogue.get(id));
                lifts |= item.sets.is_some() && movement.is_some_and(|lift| lift.is_barbell());
            }
            Say::SetsReps { .. } | Say::Percent(_) => lifts = true,
            Say::Target { low: Some(low), high: Some(high), of: Aim::Seconds }
                if lifts && *high <= f64::from(LONGEST_REST_S) && begins_with_number(body, said.column) =>
            {
                said.say = Say::Rest { low_s: *low as u32, high_s: *high as u32, after: None };
            }
            _ => {}
        }
    }
}

/// Whether what stands at a column is a number and no word about it.
fn begins_with_number(body: &[Token], column: usize) -> bool {
    body.iter().any(|token| token.start + 1 == column && token.number().is_some())
}

/// "4 x 9 squats, 4 x 25 s plank" with the second 4 as rounds: it would be of the squats as well.
fn has_rounds_among_sets(reading: &Reading) -> bool {
    let sets = |said: &Said| matches!(said.say, Say::SetsReps { .. });
    let after = reading.says.iter().skip_while(|said| !sets(said));
    after.clone().any(|said| matches!(said.say, Say::Rounds(_)))
        && !after.clone().any(|said| matches!(said.say, Say::Then))
}

/// "5 x 7 dips, 75 s" with the seconds as how long is dipped: they are the rest.
fn has_seconds_for_sets(reading: &Reading) -> bool {
    let sets = |said: &Said| matches!(said.say, Say::SetsReps { .. });
    let timed = |said: &Said| matches!(&said.say, Say::Item(item) if item.unit == Some(Unit::Seconds) && item.amount.is_some() && item.movement.is_some());
    reading.says.windows(2).any(|pair| sets(&pair[0]) && timed(&pair[1]))
}
