//! Weights and heights that a phrase says.

use lantern_session::LoadUnit;

use super::captures::{Captures, words_between};
use super::{Say, Tool};
use crate::values::{Line, Value};

/// What the rows about loads say.
pub(super) fn load(says: &str, c: &Captures<'_>, line: &Line<'_>, start: usize, end: usize) -> Option<Say> {
    Some(match says {
        "load" | "load.levels" | "bareload" | "bareload.pair" | "bareload.plain" => match c.value('l')? {
            Value::Load { first, .. } if *first <= 0.0 => return None,
            // "22/20 cal" is no load.
            Value::Load { unit: None, .. } if line.dose_unit(end).is_some() => return None,
            Value::Load { implements, first, second, unit } => {
                let pair = second.is_some_and(|second| second < *first) && unit.is_none() && *first >= 4.0;
                if says.starts_with("bareload.") && !pair {
                    return None;
                }
                Say::Load { implements: *implements, first: *first, second: *second, unit: *unit }
            }
            _ => return None,
        },
        // "With DBs 15s/10s", "22.5s": how heavy each is, and no time.
        "load.plural" => {
            let (first, second) = (c.number('a')?, c.number('b'));
            let words = words_between(line, start, end);
            let held = words.iter().any(|word| {
                matches!(
                    word.as_str(),
                    "with"
                        | "w"
                        | "using"
                        | "holding"
                        | "dbs"
                        | "dumbbells"
                        | "kbs"
                        | "kettlebells"
                        | "bells"
                )
            });
            let pair = second.is_none_or(|second| second < first);
            let likely = held || first.fract() != 0.0;
            (pair && likely && first >= 4.0).then_some(Say::Load {
                implements: 1,
                first,
                second,
                unit: None,
            })?
        }
        "loadrange" => Say::LoadRange(
            c.number('a')?,
            c.number('b').filter(|b| Some(*b) > c.number('a'))?,
            if c.has('p') { LoadUnit::Lb } else { LoadUnit::Kg },
        ),
        "loadpair" => match (c.value('a')?, c.value('b')?) {
            (
                Value::Load { implements, first, second: None, unit },
                Value::Load { first: second, second: None, unit: own, .. },
            ) => Say::Load {
                implements: *implements,
                first: *first,
                second: Some(*second),
                unit: unit.or(*own),
            },
            _ => return None,
        },
        "toolload" | "toolload.behind" => match c.value('l')? {
            Value::Load { implements, first, second, unit } => {
                let words = words_between(line, start, end);
                let tool = words.iter().find_map(|word| match word.as_str() {
                    "kb" | "kbs" | "kettlebell" | "kettlebells" | "bell" | "bells" => Some(Tool::Kettlebell),
                    "db" | "dbs" | "dumbbell" | "dumbbells" => Some(Tool::Dumbbell),
                    "bar" | "barbell" | "bb" => Some(Tool::Bar),
                    "ball" | "wb" => Some(Tool::Ball),
                    _ => None,
                })?;
                let height = unit.is_some_and(|unit| unit.weight().is_none());
                if height || unit.is_none() && second.is_none() {
                    return None;
                }
                Say::ToolLoad { tool, implements: *implements, first: *first, second: *second, unit: *unit }
            }
            _ => return None,
        },
        other => {
            debug_assert!(false, "`{other}` says no load");
            return None;
        }
    })
}
