//! Headings: the kind of a part at the front of a sentence, spoken, framed, or in two languages.

use lantern_session::PartKind;
use lantern_session::movement::Catalogue;

use super::Rules;
use crate::lexicon::Lexicon;
use crate::say::LONGEST_REST_S;
use crate::tokens::{Kind, Token, tokens};
use crate::values::Line;

/// Words for practice of what stands in front of them.
const PRACTICE: [&str; 5] = ["skill", "skills", "technique", "practice", "drills"];

/// "Kraft / Strength": a heading in two languages.
pub(super) fn second_language(
    tokens: &[Token],
    kinds: &[(&str, PartKind)],
    rules: &Rules<'_>,
) -> Option<(Option<PartKind>, usize)> {
    let at = tokens
        .iter()
        .position(|token| token.is('/') || token.is('*') || token.is('|'))
        .filter(|at| (1..=4).contains(at))?;
    if !tokens[..at].iter().all(|token| token.word().is_some()) || at + 1 >= tokens.len() {
        return None;
    }
    let (kind, end) = kinds.iter().find_map(|(name, kind)| {
        let class = rules.lexicon.class(name)?;
        let ends = rules.lexicon.at(tokens, at + 1).into_iter().filter(|(known, _)| *known == class);
        ends.map(|(_, end)| (*kind, end)).max_by_key(|(_, end)| *end)
    })?;
    let closed = tokens.get(end).is_none_or(|token| matches!(token.kind, Kind::Sign(':' | '(' | '-' | ',')));
    let end = end + usize::from(tokens.get(end).is_some_and(|token| !token.is('(')));
    closed.then_some((Some(kind), end))
}

/// Whether a line goes on with a few words that prescribe nothing.
pub(super) fn only_words(tokens: &[Token], catalogue: &Catalogue) -> bool {
    const MOST: usize = 6;
    let words: Vec<&str> = tokens.iter().filter_map(Token::word).collect();
    let numbers = tokens.iter().any(|token| matches!(token.kind, Kind::Number(_) | Kind::Clock(_)));
    let sentence = tokens.iter().any(|token| token.is('.') || token.is('!') || token.is('?'));
    let named = (0..words.len()).any(|at| catalogue.match_words(&words[at..]).is_some());
    tokens.len() <= MOST && !numbers && !sentence && !named
}

/// "And then the skill is ten minutes": the kind of part said in passing, in front of its work.
pub(super) fn spoken_heading(
    tokens: &[Token],
    kinds: &[(&str, PartKind)],
    rules: &Rules<'_>,
) -> (Option<PartKind>, usize) {
    let word = |n: usize| tokens.get(n).and_then(Token::word);
    for at in 1..tokens.len().min(8) {
        if !matches!(tokens[at - 1].kind, Kind::Word { .. } | Kind::Sign(',' | ':')) {
            break;
        }
        if !tokens[at - 1].is(':')
            && !matches!(word(at - 1), Some("the" | "some" | "our" | "a" | "little" | "bit"))
        {
            continue;
        }
        let found = kinds.iter().find_map(|(name, kind)| {
            let class = rules.lexicon.class(name)?;
            let end = rules
                .lexicon
                .at(tokens, at)
                .iter()
                .filter(|(known, _)| *known == class)
                .map(|(_, end)| *end)
                .max()?;
            Some((*kind, end))
        });
        let Some((kind, mut end)) = found else { continue };
        if matches!(word(end), Some("bit" | "part" | "piece" | "work" | "stuff")) {
            end += 1;
        }
        // "Chalk, a word on the piece, bells out" is a list of what happens.
        let listed = tokens[..at].iter().any(|token| token.is(','))
            && !tokens[end.min(tokens.len())..].iter().any(|token| token.number().is_some());
        let closed = matches!(word(end), Some("is" | "will"))
            || tokens.get(end).is_some_and(|token| token.is(',') && !listed || token.is(':'));
        if closed && tokens.len() > end + 1 {
            return (Some(kind), end + 1);
        }
    }
    (None, 0)
}

/// "Later, back inside, stretching:" ends with what it heads.
pub(super) fn late_heading(
    tokens: &[Token],
    kinds: &[(&str, PartKind)],
    rules: &Rules<'_>,
    apart: bool,
) -> (Option<PartKind>, usize) {
    // "The dull part (accessory)"
    if let [.., open, kind, close] = tokens
        && open.is('(')
        && close.is(')')
        && kind.word().is_some()
        && tokens.len() <= 8
        && tokens[..tokens.len() - 3].iter().all(|token| token.word().is_some())
    {
        let at = tokens.len() - 2;
        let named = kinds.iter().find(|(name, _)| {
            let class = rules.lexicon.class(name);
            rules.lexicon.at(tokens, at).iter().any(|(known, _)| Some(*known) == class)
        });
        if let Some((_, kind)) = named {
            return (Some(*kind), tokens.len());
        }
    }
    let spoken = spoken_heading(tokens, kinds, rules);
    if spoken.0.is_some() {
        return spoken;
    }
    let Some(colon) = tokens.iter().position(|token| token.is(':')).filter(|colon| (2..=8).contains(colon))
    else {
        return (None, 0);
    };
    let words = tokens[..colon].iter().all(|token| token.word().is_some() || token.is(',') || token.is('-'));
    // "We lift first:"
    let orders = |from: usize, colon: usize| {
        from < colon
            && tokens[from..colon].iter().all(|token| {
                matches!(
                    token.word(),
                    Some("first" | "now" | "next" | "last" | "second" | "today" | "tonight" | "up" | "then")
                )
            })
    };
    let found = kinds.iter().find_map(|(name, kind)| {
        let class = rules.lexicon.class(name)?;
        let at = (1..colon).find(|at| {
            rules
                .lexicon
                .at(&tokens[..colon], *at)
                .iter()
                .any(|(known, end)| *known == class && (apart && *end == colon || orders(*end, colon)))
        });
        at.map(|_| *kind)
    });
    match found {
        Some(kind) if words => (Some(kind), colon + 1),
        _ => (None, 0),
    }
}

/// What stands in front of a heading and only frames it: a time of day (`9:12 --`), a number with a gap behind it.
pub(super) fn framed_heading(tokens: &[Token], rules: &Rules<'_>) -> Option<usize> {
    let first = tokens.first()?;
    let mut end = 1;
    // "Notes: WU 5 min bike", "Nora: warm-up, all together": who leads it, or the field of a form.
    let named = tokens.get(1).is_some_and(|token| token.is(':')) && first.word().is_some();
    if named && tokens.len() > 2 {
        let kind = take_heading(&tokens[2..], rules, true, false).0;
        let heads_itself = take_heading(tokens, rules, true, true).0.is_some();
        return (kind.is_some() && !heads_itself).then_some(2);
    }
    while tokens.get(end).is_some_and(|token| matches!(token.kind, Kind::Sign('-' | '*' | '=' | '|' | ':'))) {
        end += 1;
    }
    let gap = tokens.get(end).is_some_and(|token| token.gap);
    let frames = match first.kind {
        Kind::Clock(_) => end > 1 || gap,
        Kind::Number(n) => n.fract() == 0.0 && n <= 90.0 && gap,
        _ => false,
    };
    if !frames || tokens.len() <= end {
        return None;
    }
    let led = tokens[end].word().is_some() && tokens.get(end + 1).is_some_and(|token| token.is(':'));
    if led && let Some(behind) = framed_heading(&tokens[end..], rules) {
        return Some(end + behind);
    }
    take_heading(&tokens[end..], rules, true, true).0.map(|_| end)
}

/// The number of an outline at the front of a line (`1.2.1   8 swings`): a gap parts it from what it numbers.
pub(super) fn outline(tokens: &[Token], chars: &[char]) -> Option<(u32, usize)> {
    let mut end = 0;
    let mut last = None;
    while let Some(token) = tokens.get(end) {
        match token.kind {
            Kind::Number(n) if end == 0 || !token.spaced => last = Some(n),
            Kind::Sign('.') if end > 0 && !token.spaced => {}
            _ => break,
        }
        end += 1;
    }
    let dotted = tokens[..end].iter().any(|token| token.is('.')) || last.is_some_and(|n| n.fract() != 0.0);
    let behind = tokens.get(end)?;
    let gap = behind.start - tokens[end.checked_sub(1)?].end;
    let tab = chars[tokens[end - 1].end..behind.start].contains(&'\t');
    let number = last.map(|n| if n.fract() == 0.0 { n } else { (n.fract() * 10.0).round() });
    (dotted && (gap >= 2 || tab)).then_some((number? as u32, end))
}

/// "20' strength, superset:": a length in front of the kind of part, and the token behind it.
pub(super) fn length_ahead(tokens: &[Token], rules: &Rules<'_>) -> Option<(u32, usize)> {
    tokens.first()?.number()?;
    let line = Line::new(tokens, rules.lexicon, rules.catalogue);
    let (seconds, end) = line.one_length(0)?;
    let minutes = (60.0..=3600.0).contains(&seconds) && end < tokens.len();
    let rest = tokens.get(end..)?;
    // "10 minutes of handstand practice" says all there is.
    let practised = rest.last().and_then(Token::word).is_some_and(|word| PRACTICE.contains(&word));
    let line = Line::new(rest, rules.lexicon, rules.catalogue);
    // "3 min reset" leads from one thing to the next.
    let rests = rules.lexicon.class("rest").is_some_and(|class| line.class(0, class).is_some());
    if rests && seconds <= f64::from(LONGEST_REST_S) {
        return None;
    }
    if practised && line.movements.iter().any(|names| !names.is_empty()) {
        return None;
    }
    let (kind, behind) = take_heading(rest, rules, true, true);
    let closed = end + behind >= tokens.len()
        || tokens.get(end + behind - 1).is_some_and(|token| matches!(token.kind, Kind::Sign(_)));
    (minutes && kind.is_some() && behind > 0 && closed).then_some((seconds as u32, end))
}

/// "Warm-up, 8 min: 3 times through ...": a length between the kind of part and its colon, and the token behind that.
pub(super) fn length_behind(tokens: &[Token], rules: &Rules<'_>) -> Option<(u32, usize)> {
    tokens.first()?.number()?;
    let (seconds, end) = Line::new(tokens, rules.lexicon, rules.catalogue).one_length(0)?;
    let framed = tokens.get(end).is_some_and(|token| token.is(':')) && tokens.len() > end + 1;
    ((60.0..=3600.0).contains(&seconds) && framed).then_some((seconds as u32, end + 1))
}

/// "Saturday skills": a first line of few words that names practice.
pub(super) fn says_skills(text: &str, plain: &dyn Fn(&str) -> bool, lexicon: &Lexicon) -> bool {
    const LONGEST_NAME: usize = 120;
    if text.len() > LONGEST_NAME {
        return false;
    }
    let tokens = tokens(text, plain);
    let numbers = tokens.iter().any(|token| matches!(token.kind, Kind::Clock(_)) || token.number().is_some());
    let skill = lexicon.class("skillday");
    !numbers
        && (0..tokens.len()).any(|at| lexicon.at(&tokens, at).iter().any(|(class, _)| Some(*class) == skill))
}

/// How far the name at the front of a section goes, with the sign behind it: "Rings - 15 min".
pub(super) fn name_of_section(tokens: &[Token]) -> usize {
    let hyphen = |token: &&Token| token.word().is_some() || token.is('-') && !token.spaced;
    let words = tokens.iter().take_while(hyphen).count();
    let signs = tokens[words..]
        .iter()
        .take_while(|token| matches!(token.kind, Kind::Sign('-' | ':' | ',' | '=')))
        .count();
    words + signs
}

/// Most words of "if you have the legs" between a heading and its work.
const LONGEST_CONDITION: usize = 9;

/// A heading at the front of tokens: the kind of part, and the token behind it.
pub(super) fn take_heading(
    tokens: &[Token],
    rules: &Rules<'_>,
    starts_line: bool,
    apart: bool,
) -> (Option<PartKind>, usize) {
    const KINDS: [(&str, PartKind); 7] = [
        ("heading.home", PartKind::Home),
        ("heading.mobility", PartKind::Mobility),
        ("heading.warmup", PartKind::Warmup),
        ("heading.accessory", PartKind::Accessory),
        ("heading.strength", PartKind::Strength),
        ("heading.skill", PartKind::Skill),
        ("heading.conditioning", PartKind::Conditioning),
    ];
    let Rules { catalogue, lexicon, .. } = *rules;
    let word = |n: usize| tokens.get(n).and_then(Token::word);
    let mut from = 0;
    while matches!(
        word(from),
        Some(
            "the"
                | "then"
                | "now"
                | "and"
                | "today's"
                | "our"
                | "optional"
                | "short"
                | "quick"
                | "general"
                | "gentle"
                | "specific"
                | "light"
                | "full"
        )
    ) && from < 2
        && word(from + 1).is_some()
        && lexicon.class("heading.accessory").is_some()
    {
        from += 1;
    }
    // "Three rounds, not a sprint:" counts.
    let round = lexicon
        .class("round")
        .is_some_and(|class| lexicon.at(tokens, from + 1).iter().any(|(known, _)| *known == class));
    if round && word(from).is_some_and(|word| crate::values::number_word(word).is_some()) {
        return (None, 0);
    }
    if word(from).is_none() {
        return (None, 0);
    }
    // "Work:rest 1:1"
    if word(from) == Some("work") && word(from + 2) == Some("rest") {
        return (None, 0);
    }
    // "Target for the workout: 7 rounds" stands over nothing.
    let aims = lexicon.class("goalword");
    if starts_line && lexicon.at(tokens, from).iter().any(|(known, _)| Some(*known) == aims) {
        return (None, 0);
    }
    // "Snatch technique, 10 minutes:" heads practice of what is named.
    if starts_line
        && let Some(at) = (from + 1..tokens.len().min(from + 4))
            .find(|at| word(*at).is_some_and(|word| PRACTICE.contains(&word)))
    {
        let words = tokens[from..at].iter().all(|token| token.word().is_some() || token.is('-'));
        let closed =
            tokens.get(at + 1).is_none_or(|token| matches!(token.kind, Kind::Sign(':' | ',' | '-' | '(')));
        if words && closed {
            let end = at + 1 + usize::from(tokens.get(at + 1).is_some_and(|token| !token.is('(')));
            return (Some(PartKind::Skill), end);
        }
    }
    let found = KINDS
        .iter()
        .filter_map(|(name, kind)| {
            let class = lexicon.class(name)?;
            let ends = lexicon.at(tokens, from).into_iter().filter(|(known, _)| *known == class);
            ends.map(|(_, end)| end).max().map(|end| (end, *kind))
        })
        .max_by_key(|(end, _)| *end);
    if found.is_none()
        && let Some(end) = second_language(tokens, &KINDS, rules)
    {
        return end;
    }
    let Some((mut end, kind)) = found else {
        return late_heading(tokens, &KINDS, rules, apart);
    };
    // "Strength & conditioning" names two; "core" may begin a movement's name.
    let words: Vec<&str> = tokens[from..].iter().map_while(Token::word).take(6).collect();
    let longer = catalogue.match_words(&words).is_some_and(|found| found.words > end - from);
    // "Warm-up sets: ..." belong to the lift.
    let sets = kind == PartKind::Warmup && matches!(word(end), Some("set" | "sets" | "reps" | "weight"));
    // "Then heavy single": what is lifted, and over nothing.
    let lifted = word(end - 1) == Some("heavy")
        && matches!(word(end), Some("single" | "double" | "triple" | "set" | "sets"));
    if longer || sets || lifted {
        return (None, 0);
    }
    if matches!(word(end), Some("piece" | "part" | "work" | "block" | "section" | "session")) {
        end += 1;
    }
    // "STR  push press", "WU 5 min bike": a gap, or a short form that means nothing else.
    let gap = end > 0 && tokens.get(end).is_some_and(|token| token.gap);
    let short_form = end == from + 1
        && matches!(
            word(from),
            Some("wu" | "str" | "met" | "metcon" | "wod" | "acc" | "cond" | "cool" | "cd" | "mob" | "warmup")
        );
    // "Extras if you have the legs, 3 rounds:" says who they are for.
    let condition = matches!(word(end), Some("if" | "when" | "unless"));
    if condition
        && starts_line
        && let Some(upto) = tokens[end..].iter().take(LONGEST_CONDITION).position(|token| {
            matches!(token.kind, Kind::Sign(',' | ':' | '-' | '(')) || token.number().is_some()
        })
        && tokens[end + upto].number().is_none()
    {
        end += upto;
    }
    let next = tokens.get(end);
    let says_is = matches!(word(end), Some("is" | "will" | "today" | "was"));
    let closes = |token: &Token| {
        matches!(
            token.kind,
            Kind::Sign(
                '|' | ':' | '-' | '.' | ',' | '(' | '[' | '!' | '/' | '&' | '+' | '"' | '>' | '=' | '*' | '#'
            )
        )
    };
    let lists = matches!(kind, PartKind::Warmup | PartKind::Accessory | PartKind::Mobility | PartKind::Home);
    let spoken = word(end).is_some_and(|word| crate::values::number_word(word).is_some());
    let number = spoken || next.is_some_and(|token| matches!(token.kind, Kind::Number(_) | Kind::Clock(_)));
    let colon = tokens[end.min(tokens.len())..].iter().take(7).position(|token| token.is(':'));
    let short = tokens.len() - end <= 4 && starts_line && !number;
    let plain_words = |upto: usize| {
        tokens[end..end + upto].iter().all(|token| {
            let spoken = token.word().is_some_and(|word| crate::values::number_word(word).is_some());
            token.word().is_some() && !spoken || token.is('(') || token.is(')')
        })
    };
    let named = short && {
        let words: Vec<&str> = tokens[end..].iter().filter_map(Token::word).collect();
        words.len() == tokens.len() - end && catalogue.match_words(&words).is_none() && words.len() <= 3
    };
    let clock = |at: usize| tokens.get(at).is_some_and(|token| matches!(token.kind, Kind::Clock(_)));
    let stretch = clock(end) && tokens.get(end + 1).is_some_and(|token| token.is('-')) && clock(end + 2);
    let fits = match next {
        None => true,
        Some(token) if closes(token) => true,
        Some(_) if says_is || short_form || gap && starts_line => true,
        // "Core x3: ..."
        Some(token)
            if lists
                && token.word() == Some("x")
                && tokens.get(end + 1).is_some_and(|n| n.number().is_some())
                && tokens.get(end + 2).is_some_and(|sign| sign.is(':')) =>
        {
            true
        }
        // "Strength 18:10-18:30: ..."
        Some(_) if stretch => true,
        // "Cool down walk 5 min"
        Some(_)
            if starts_line
                && matches!(kind, PartKind::Warmup | PartKind::Mobility)
                && end > from + 1
                && words.get(end - from..).is_some_and(|behind| catalogue.match_words(behind).is_some()) =>
        {
            true
        }
        Some(_) if spoken && (lists || from > 0) => true,
        Some(_) if number => {
            // "Skill 15': ...", "Strength 20 min: ..."
            let minutes = tokens.get(end + 1).is_some_and(|token| token.is('\''));
            lists || tokens.len() - end <= 3 || minutes || word(end + 1).is_some_and(|w| w.starts_with("min"))
        }
        Some(_) if colon.is_some_and(plain_words) => true,
        Some(token)
            if matches!(token.word(), Some("together" | "with" | "for" | "as" | "today")) && lists =>
        {
            true
        }
        _ => named || apart && only_words(&tokens[end..], catalogue),
    };
    if !fits
        || (kind == PartKind::Conditioning
            && word(from) == Some("main")
            && end == from + 1
            && next.is_some_and(|t| !closes(t)))
    {
        return (None, 0);
    }
    if let Some(upto) = colon.filter(|upto| *upto > 0 && plain_words(*upto)) {
        end += upto;
    }
    end += if stretch { 3 } else { 0 };
    while tokens.get(end).is_some_and(|token| {
        matches!(token.kind, Kind::Sign(':' | '-' | '.' | ',' | '!' | '/' | '&' | '+' | '=' | '*' | '#'))
    }) {
        end += 1;
    }
    (Some(kind), end)
}
