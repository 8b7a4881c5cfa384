//! The plan as JSON: the reading's layout with what the plan adds.

use serde_json::{Map, Value, json};

use super::{MemberPiece, PieceFloor, PiecePlan, Plan, StrengthPlan, TeamPlan, work_rows};
use crate::gym::Gym;
use crate::limits::Ceiling;
use crate::member::Member;
use crate::movement::Catalogue;
use crate::pacing::team::Shared;
use crate::pacing::{Measure, Prediction, Quantiles, Window};
use crate::print::{number, part_text, reading_json};
use crate::read::Reading;
use crate::session::{Format, Part, Score, works};
use crate::strength::percent::percent_for_reps;
use crate::strength::{Base, LiftSheet, SetLoad, ShareOf};
use crate::versions::Choice;

/// The reading and the plan in one value.
pub fn plan_json(
    reading: &Reading,
    plan: &Plan,
    people: &[Member],
    gym: &Gym,
    catalogue: &Catalogue,
) -> Value {
    let mut value = reading_json(reading);
    if let Some(map) = value.as_object_mut() {
        map.insert("people".to_owned(), people.iter().map(person).collect());
        map.insert("warmup".to_owned(), json!(plan.warmup));
        map.insert(
            "strength".to_owned(),
            plan.strength.iter().map(|lift| strength(lift, gym, catalogue)).collect(),
        );
        map.insert(
            "versions".to_owned(),
            all_pieces(plan).flat_map(|piece| versions(piece, catalogue)).collect(),
        );
        map.insert("members".to_owned(), all_pieces(plan).flat_map(|piece| members(piece, people)).collect());
        map.insert("teams".to_owned(), plan.pieces.iter().flat_map(team_rows).collect());
        map.insert("floors".to_owned(), plan.floors.iter().map(|floor| floor_json(floor, plan)).collect());
        map.insert("typical".to_owned(), typical(plan, gym, catalogue));
        map.insert("hour".to_owned(), json!(plan.hour));
        map.insert("cautions".to_owned(), json!(plan.cautions));
        map.insert("unplanned".to_owned(), json!(plan.unplanned));
    }
    value
}

/// What people of four levels would do, for placing by eye whoever nobody knows; null where everybody is known.
fn typical(plan: &Plan, gym: &Gym, catalogue: &Catalogue) -> Value {
    let Some(typical) = &plan.typical else { return Value::Null };
    json!({
        "members": typical.pieces.iter().flat_map(|piece| members(piece, &typical.people)).collect::<Vec<_>>(),
        "strength": typical.strength.iter().map(|lift| strength(lift, gym, catalogue)).collect::<Vec<_>>(),
    })
}

/// What somebody spares, as it was understood, and what was not.
fn person(member: &Member) -> Value {
    let limits: Vec<Value> = member
        .limits
        .iter()
        .map(|limit| {
            let ceilings = limit.ceilings();
            let lowest =
                |of: fn(&Ceiling) -> Option<f64>| ceilings.iter().filter_map(of).min_by(f64::total_cmp);
            json!({
                "text": limit.text,
                "forbids": limit.forbids().collect::<Vec<_>>(),
                "forbids_movements": limit.forbids_movements(),
                "allows": limit.allows(),
                "ceiling_percent": lowest(|ceiling| ceiling.percent).map(number),
                "ceiling_kg": lowest(|ceiling| ceiling.kg).map(number),
                "effort_max_rpe": limit.effort().map(number),
                "until": limit.until(),
                "condition": limit.condition(),
            })
        })
        .collect();
    let unread = member.limits.iter().filter(|limit| limit.is_unread()).map(|limit| limit.text.as_str());
    json!({"name": member.name, "limits": limits, "limits_unread": unread.collect::<Vec<_>>()})
}

fn floor_json(piece: &PieceFloor, plan: &Plan) -> Value {
    let mut value = json!(piece.floor);
    let names = |places: &[usize]| -> Vec<&str> {
        let of_part = plan.pieces.iter().find(|known| known.part == piece.part);
        let members = of_part.map_or(&[][..], |known| &known.members);
        places.iter().filter_map(|n| Some(members.get(*n)?.name.as_str())).collect()
    };
    if let Some(map) = value.as_object_mut() {
        map.insert("part".to_owned(), json!(piece.part));
        map.insert("sentence".to_owned(), json!(piece.floor.sentence()));
        map.insert("teams".to_owned(), piece.teams.iter().map(|team| names(&team.members)).collect());
    }
    value
}

fn strength(plan: &StrengthPlan, gym: &Gym, catalogue: &Catalogue) -> Value {
    let text = part_text(&plan.prescription, catalogue);
    let asked = text.lines().skip(1).filter(|line| !line.is_empty()).collect::<Vec<_>>().join(", ");
    json!({
        "part": plan.part,
        "members": plan.sheets.iter().map(|s| sheet(s, &asked, gym)).collect::<Vec<_>>(),
        "light": plan.light,
        "notes": plan.notes,
    })
}

fn sheet(sheet: &LiftSheet, asked: &str, gym: &Gym) -> Value {
    let max = sheet.max.as_ref().map(|max| {
        json!({
            "value": number(max.value.kg()), "low": number(max.low.kg()), "high": number(max.high.kg()),
            "basis": max.basis, "guess": max.guess,
        })
    });
    json!({
        "name": sheet.name,
        "lift": sheet.lift,
        "instead_of": sheet.instead_of,
        "elements": elements(sheet),
        "base": base(sheet, gym),
        "max": max,
        "by_feel": sheet.by_feel,
        "asked": asked,
        "ceiling_percent": sheet.held.as_ref().map(|held| held.ceiling_percent).filter(|most| *most < 100.0).map(number),
        "cautions": sheet.held_why.iter().collect::<Vec<_>>(),
        "override": sheet.released,
        "unit": gym.unit,
        "sets": sheet.sets.iter().map(|set| set_json(set, sheet, gym)).collect::<Vec<_>>(),
    })
}

/// What is done with one bar in a complex; empty for a lift of its own.
fn elements(sheet: &LiftSheet) -> Vec<Value> {
    sheet.elements.iter().map(|(lift, reps)| json!({"lift": lift, "reps": reps})).collect()
}

/// What the loads of a sheet are counted from, by its first work set: `value` is what its share is of.
fn base(sheet: &LiftSheet, gym: &Gym) -> Value {
    let max = sheet.max.as_ref().map(|max| max.value);
    let of_reps = |reps: u32| max.map(|max| max.share(percent_for_reps(f64::from(reps)) / 100.0));
    let (of, value) = match sheet.sets.iter().find_map(|set| set.base) {
        None => return Value::Null,
        Some(Base::Beyond(_)) => ("feel".to_owned(), None),
        Some(Base::Weight(weight)) => ("absolute".to_owned(), Some(weight)),
        Some(Base::Share(ShareOf::Lift(counted))) => ("other_lift".to_owned(), Some(counted.of)),
        Some(Base::Share(ShareOf::TodayOf(counted))) => ("today".to_owned(), Some(counted.of)),
        Some(Base::Share(ShareOf::Bodyweight(counted))) => ("bodyweight".to_owned(), Some(counted.of)),
        Some(Base::Share(ShareOf::MostReps(most))) => {
            return json!({"of": "most_reps", "value": most, "unit": "reps"});
        }
        Some(_) if max.is_none() => ("feel".to_owned(), None),
        Some(Base::Share(ShareOf::Rm(reps))) => (format!("{reps}rm"), of_reps(reps)),
        Some(Base::Share(ShareOf::Today | ShareOf::TopSet)) => ("today".to_owned(), max),
        Some(Base::Percent) if sheet.is_hung => ("system_mass".to_owned(), max),
        Some(Base::Percent) if sheet.training_max < 1.0 => {
            ("training_max".to_owned(), max.map(|max| max.share(sheet.training_max)))
        }
        Some(Base::Percent | Base::Step { .. }) => ("1rm".to_owned(), max),
        Some(Base::Effort(_) | Base::Build(_)) => ("effort".to_owned(), max),
    };
    json!({"of": of, "value": value.map(|value| number(value.in_unit(gym.unit))), "unit": gym.unit})
}

/// The effort that a set is meant for, as RPE; of a build only its last step.
fn effort(set: &SetLoad, sheet: &LiftSheet) -> Option<f64> {
    let builds = |set: &&SetLoad| matches!(set.base, Some(Base::Build(_)));
    match set.base? {
        Base::Effort(rpe) => Some(rpe),
        // The steps on the way lead to it.
        Base::Build(rpe) => sheet.sets.iter().rfind(builds).filter(|last| last.set == set.set).map(|_| rpe),
        Base::Percent | Base::Share(_) | Base::Weight(_) | Base::Step { .. } | Base::Beyond(_) => None,
    }
}

fn set_json(set: &SetLoad, sheet: &LiftSheet, gym: &Gym) -> Value {
    json!({
        "set": set.set,
        "reps": set.reps,
        "reps_high": set.reps_high,
        "open": set.open,
        "elements": elements(sheet),
        "effort": effort(set, sheet).map(number),
        "percent": set.percent.map(number),
        "load": set.load.as_ref().map(|load| number(load.total.in_unit(gym.unit))),
        "range": set.range.map(|(low, high)| json!({"low": number(low.in_unit(gym.unit)), "high": number(high.in_unit(gym.unit))})),
        "bar": set.load.as_ref().map(|load| number(load.bar.in_unit(gym.unit))),
        "plates_per_side": set.load.as_ref().map(|load| load.plates_per_side.iter().map(|p| number(*p)).collect::<Vec<_>>()),
        "kind": set.kind,
        "why": set.why,
    })
}

fn all_pieces(plan: &Plan) -> impl Iterator<Item = &PiecePlan> {
    plan.pieces.iter().chain(&plan.beside)
}

fn versions(piece: &PiecePlan, catalogue: &Catalogue) -> Vec<Value> {
    let window = |window: &Window| match window.measure {
        Measure::Finish | Measure::SlowestInterval => {
            json!({"low_s": window.low.map(number), "high_s": window.high.map(number)})
        }
        Measure::Rounds => {
            json!({"rounds_low": window.low.map(number), "rounds_high": window.said_high().map(number)})
        }
        _ => json!({"reps_low": window.low.map(number), "reps_high": window.high.map(number)}),
    };
    piece
        .versions
        .iter()
        .map(|version| {
            json!({
                "part": piece.part,
                "name": version.name.label(),
                "about": version.about,
                "expected": predicted(&version.expected, &version.part),
                "edits": version.edits,
                "text": part_text(&version.part, catalogue),
                "window": window(&version.expected.own_window(&piece.window)),
                "window_inferred": piece.window.inferred,
                "window_why": piece.window.why,
            })
        })
        .collect()
}

fn members(piece: &PiecePlan, people: &[Member]) -> Vec<Value> {
    let part = piece.written();
    let both = piece.members.iter().zip(people);
    both.map(|(member, person)| member_json(member, person, piece, part)).collect()
}

fn member_json(member: &MemberPiece, person: &Member, piece: &PiecePlan, part: &Part) -> Value {
    let chosen = member.chosen();
    json!({
        "name": member.name,
        "part": piece.part,
        "version": chosen.version.label(),
        "edits": chosen.edits,
        "reason": member.reason(),
        "loads": loads(chosen),
        "work": work_rows(&chosen.tree, person.takes_first_of_pair(), member.team.as_ref().map(|team| team.mates)),
        "predicted": expected(member, part),
        "chance": number(member.predicted().chance),
        "on_stimulus": member.is_on_stimulus(),
        "guess": member.predicted().guess,
        "as_written": as_written(member, part),
        "by_coach": member.options.by_coach,
        "ahead": member.is_ahead(&piece.window),
        "next_best": member.next().map(|next| json!({"version": next.version.label(), "reason": next.reason})),
        "pacing": member.targets,
    })
}

/// What to expect of the version chosen: of the team, where the piece is shared.
fn expected(member: &MemberPiece, part: &Part) -> Map<String, Value> {
    let mut value = intervals(member.chosen(), part);
    value.extend(predicted(member.predicted(), part));
    value
}

/// The teams of a piece: who, how they share, and what to expect with even shares and with the best ones.
fn team_rows(piece: &PiecePlan) -> Vec<Value> {
    let part = piece.written();
    let shares = |shared: &Shared| {
        shared.shares.iter().map(|share| number((share * 1000.0).round() / 1000.0)).collect::<Vec<_>>()
    };
    let row = |team: &TeamPlan| {
        let names: Vec<&str> = team.members.iter().map(|n| piece.members[*n].name.as_str()).collect();
        json!({
            "part": piece.part,
            "members": names,
            "way": team.way,
            "predicted": predicted(&team.even.predicted, part),
            "chance": number(team.even.predicted.chance),
            "shares": shares(&team.even),
            "best": team.best.as_ref().map(|best| json!({"shares": shares(best), "predicted": predicted(&best.predicted, part)})),
        })
    };
    piece.teams.iter().map(row).collect()
}

/// What to expect of the text as it stands; of who cannot do it, why.
fn as_written(member: &MemberPiece, part: &Part) -> Value {
    if let Some((movement, reason)) = &member.cannot {
        let cannot = json!({"movement": movement, "reason": reason});
        return json!({"chance": null, "on_stimulus": false, "cannot": cannot});
    }
    let written = member.as_written();
    let mut value = with_intervals(written, part);
    value.insert("chance".to_owned(), number(written.predicted.chance));
    value.insert("on_stimulus".to_owned(), written.on_stimulus.into());
    Value::Object(value)
}

fn with_intervals(choice: &Choice, part: &Part) -> Map<String, Value> {
    let mut value = intervals(choice, part);
    value.extend(predicted(&choice.predicted, part));
    value
}

/// Of pieces in intervals: mean seconds of one at work, and repetitions of the lowest, or of all of them where it is not the lowest
/// that counts. The spread is that of what is measured.
fn intervals(choice: &Choice, part: &Part) -> Map<String, Value> {
    let Prediction { spread, measure, .. } = &choice.predicted;
    let (seconds, reps) = (&choice.run.interval_work, &choice.run.interval_reps);
    let mut map = Map::new();
    if seconds.len() < 2 {
        return map;
    }
    let around = |middle: f64, with: bool| {
        let far = |q: f64| if with && spread.p50 > 0.0 { middle * q / spread.p50 } else { middle };
        json!({"p10": number(tenth_of(far(spread.p10))), "p50": number(tenth_of(middle)), "p90": number(tenth_of(far(spread.p90)))})
    };
    let mean = seconds.iter().sum::<f64>() / seconds.len() as f64;
    map.insert("interval_s".to_owned(), around(mean, measure.is_time()));
    let lowest = part.score == Some(Score::SlowestInterval) || part.format == Some(Format::Tabata);
    let reps = if lowest { reps.iter().copied().fold(f64::INFINITY, f64::min) } else { reps.iter().sum() };
    map.insert("interval_reps".to_owned(), around(reps, !measure.is_time()));
    map
}

fn loads(choice: &Choice) -> Value {
    let mut map = Map::new();
    for work in works(&choice.tree) {
        if let Some(load) = work.load.filter(|load| load.unit.weight().is_some()) {
            map.entry(work.movement.to_string())
                .or_insert_with(|| json!({"value": number(load.first), "unit": load.unit}));
        }
    }
    Value::Object(map)
}

fn predicted(prediction: &Prediction, part: &Part) -> Map<String, Value> {
    let quantiles = |q: Quantiles, scale: fn(f64) -> f64| json!({"p10": number(scale(q.p10)), "p50": number(scale(q.p50)), "p90": number(scale(q.p90))});
    let found = match prediction.measure {
        Measure::Rounds => json!({"rounds": quantiles(prediction.spread, |v| (v * 100.0).round() / 100.0)}),
        Measure::Reps | Measure::Calories | Measure::Metres => {
            json!({"reps": quantiles(prediction.own_spread(), f64::round)})
        }
        Measure::FailedRound => json!({"failed_round": quantiles(prediction.spread, f64::round)}),
        Measure::SlowestInterval => json!({
            "finish_s": quantiles(prediction.finish_s, tenth_of),
            "slowest_interval_s": quantiles(prediction.spread, tenth_of),
        }),
        Measure::Finish => {
            let capped = part.cap_s.is_some_and(|cap| prediction.spread.p50 > f64::from(cap));
            json!({"finish_s": quantiles(prediction.spread, tenth_of), "capped": capped})
        }
    };
    match found {
        Value::Object(found) => found,
        _ => Map::new(),
    }
}

fn tenth_of(value: f64) -> f64 {
    (value * 10.0).round() / 10.0
}
