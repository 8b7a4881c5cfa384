//! The warm-up item by item.

use super::phases::{Draft, Kind, each_alone};
use crate::plan::Plan;
use crate::warmup::Item;

/// Items of the general warm-up, or of what is rehearsed right before a piece.
pub(super) fn drafts(plan: &Plan, specific: bool) -> Vec<Draft> {
    let blocks = if specific { plan.warmup.specific.as_slice() } else { &plan.warmup.blocks };
    let mut drafts: Vec<Draft> = Vec::new();
    for block in blocks {
        let rounds = if block.rounds > 1 { format!("{} rounds", block.rounds) } else { String::new() };
        if block.rounds > 1 {
            // What is done in turn, round by round, is one stretch of time.
            let seconds = block.items.iter().map(|item| item.seconds).sum();
            let title = format!("{rounds} of {}", counted(block.items.len()));
            let cue = block.items.iter().map(line).collect();
            drafts.push(Draft::new(Kind::Ease, seconds, title).showing(cue));
        } else {
            drafts.extend(block.items.iter().map(of_item));
        }
    }
    each_alone(if drafts.is_empty() { vec![Draft::new(Kind::Ease, 0, "Warm-up")] } else { drafts })
}

fn counted(items: usize) -> String {
    if items == 1 { "one item".to_owned() } else { format!("{items} items") }
}

fn line(item: &Item) -> String {
    if item.dose.is_empty() { item.name.clone() } else { format!("{} {}", item.name, item.dose) }
}

fn of_item(item: &Item) -> Draft {
    let say = if item.cue.is_empty() {
        format!("{}.", line(item))
    } else {
        format!("{}. {}", line(item), item.cue)
    };
    let shown = [&item.dose, &item.cue].into_iter().filter(|text| !text.is_empty()).cloned();
    Draft::new(Kind::Ease, item.seconds, &*item.name).showing(shown.collect()).saying(say)
}
