//! Everything about one person: to take along, and to delete.

use chrono::{DateTime, NaiveDate, NaiveTime, Utc};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use lantern_core::decide::Naming;
use serde_json::{Value, json};

use crate::classes::AWAY;
use crate::members::{called, called_by_id};
use crate::schema::{
    bookings, classes, consents, decisions as decisions_made, gym_movements, health_views as health_rows,
    maxes, members, movement_aliases, removals, results as results_said, session_texts, sessions,
};
use crate::words::{stands_in, without};
use crate::{
    GymScope, MemberId, StoreError, decisions, health_views, memberships, privacy, removals as removed,
    results, running,
};

/// Where else the name of a person stands: places of the gym's, about which whoever deletes the person is asked.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Mentions {
    /// Classes that they coach.
    pub coaches: Vec<(NaiveDate, NaiveTime)>,
    /// Strength cycles with their name in them.
    pub cycles: Vec<String>,
    /// Names of movements with theirs in them.
    pub names: Vec<String>,
    /// Days whose text, or a note of whose classes, names them.
    pub texts: Vec<NaiveDate>,
}

impl Mentions {
    /// Whether there is nothing to ask about.
    pub fn is_empty(&self) -> bool {
        *self == Self::default()
    }
}

/// Which of the mentions go with the person.
#[derive(Clone, Copy, Debug, Default)]
pub struct Also {
    /// The coach of those classes is left open.
    pub coaches: bool,
    /// The name is taken out of the cycles' names.
    pub cycles: bool,
    /// The names of movements go.
    pub names: bool,
    /// The name is taken out of the days' texts.
    pub texts: bool,
}

/// Where a name stands besides on file.
///
/// # Errors
/// When the database is away.
pub async fn mentions(scope: &mut GymScope, name: &str) -> Result<Mentions, StoreError> {
    let coaches = classes::table
        .filter(classes::gym_id.eq(scope.gym.0))
        .filter(classes::coach.eq(name))
        .order((classes::day, classes::starts))
        .select((classes::day, classes::starts))
        .load(scope.connection())
        .await?;
    let gym = crate::gyms::settings(scope).await?;
    let cycles = gym.cycles.into_iter().map(|cycle| cycle.name).filter(|cycle| stands_in(cycle, name));
    let names = aliases_with(scope, name).await?.into_iter().map(|(_, alias)| alias);
    let mut texts: Vec<NaiveDate> = texts_with(scope, name).await?.into_iter().map(|(day, _)| day).collect();
    texts.extend(running::notes_with(scope, name).await?.into_iter().map(|(_, day, _)| day));
    texts.sort_unstable();
    texts.dedup();
    Ok(Mentions { coaches, cycles: cycles.collect(), names: names.collect(), texts })
}

/// Rows whose text may hold a name: a first sieve, before it is looked at word for word.
fn like(name: &str) -> String {
    format!("%{}%", name.to_lowercase().replace(['%', '_', '\\'], "_"))
}

/// The gym's names for movements in which a name stands, with their ids.
async fn aliases_with(scope: &mut GymScope, name: &str) -> Result<Vec<(i64, String)>, StoreError> {
    let rows: Vec<(i64, String)> = movement_aliases::table
        .filter(movement_aliases::gym_id.eq(scope.gym.0))
        .filter(movement_aliases::alias.like(like(name)))
        .order(movement_aliases::alias)
        .select((movement_aliases::id, movement_aliases::alias))
        .load(scope.connection())
        .await?;
    Ok(rows.into_iter().filter(|(_, alias)| stands_in(alias, name)).collect())
}

/// The days in whose text a name stands, with the text.
async fn texts_with(scope: &mut GymScope, name: &str) -> Result<Vec<(NaiveDate, String)>, StoreError> {
    let rows: Vec<(NaiveDate, String)> = sessions::table
        .filter(sessions::gym_id.eq(scope.gym.0))
        .filter(sessions::text.ilike(like(name)))
        .order(sessions::day)
        .select((sessions::day, sessions::text))
        .load(scope.connection())
        .await?;
    Ok(rows.into_iter().filter(|(_, text)| stands_in(text, name)).collect())
}

/// Removes a member with everything on file about them: lifts, bookings and removals go with the row, no decision about a day names
/// them any longer, and neither do the mentions that are to go.
///
/// # Errors
/// When the database is away, the gym has no such member, or a decision cannot be read.
pub async fn remove(scope: &mut GymScope, id: MemberId, also: Also) -> Result<(), StoreError> {
    let row = members::table.filter(members::gym_id.eq(scope.gym.0)).filter(members::id.eq(id));
    let name: Option<(String, i32)> =
        row.select((members::name, members::twin)).for_update().first(scope.connection()).await.optional()?;
    let (name, twin) = name.ok_or(StoreError::NotFound("member"))?;
    let name = called(&name, twin);
    unsign(scope, &name).await?;
    decisions::forget(scope, (id, &name)).await?;
    removed::forget(scope, &name).await?;
    let account = memberships::of_member(scope, id).await?;
    diesel::delete(row).execute(scope.connection()).await?;
    if let Some((account, called)) = account {
        unsign(scope, &called).await?;
        memberships::forget_account(scope, account).await?;
        memberships::an_owner_stays(scope).await?;
    }
    forget_mentions(scope, &name, also).await
}

/// What somebody has decided, noted or opened stays, and says no longer that it was they.
async fn unsign(scope: &mut GymScope, name: &str) -> Result<(), StoreError> {
    let decided = decisions_made::table.filter(decisions_made::gym_id.eq(scope.gym.0));
    diesel::update(decided.filter(decisions_made::made_by.eq(name)))
        .set(decisions_made::made_by.eq(""))
        .execute(scope.connection())
        .await?;
    diesel::update(decided.filter(decisions_made::undone_by.eq(name)))
        .set(decisions_made::undone_by.eq(""))
        .execute(scope.connection())
        .await?;
    let results = results_said::table.filter(results_said::gym_id.eq(scope.gym.0));
    diesel::update(results.filter(results_said::made_by.eq(name)))
        .set(results_said::made_by.eq(""))
        .execute(scope.connection())
        .await?;
    diesel::update(results.filter(results_said::undone_by.eq(name)))
        .set(results_said::undone_by.eq(""))
        .execute(scope.connection())
        .await?;
    let views = health_rows::table.filter(health_rows::gym_id.eq(scope.gym.0));
    diesel::update(views.filter(health_rows::viewer.eq(name)))
        .set(health_rows::viewer.eq(""))
        .execute(scope.connection())
        .await?;
    let noted = consents::table.filter(consents::gym_id.eq(scope.gym.0));
    diesel::update(noted.filter(consents::noted_by.eq(name)))
        .set(consents::noted_by.eq(""))
        .execute(scope.connection())
        .await?;
    Ok(())
}

async fn forget_mentions(scope: &mut GymScope, name: &str, also: Also) -> Result<(), StoreError> {
    if also.coaches {
        let theirs = classes::table.filter(classes::gym_id.eq(scope.gym.0)).filter(classes::coach.eq(name));
        diesel::update(theirs).set(classes::coach.eq("")).execute(scope.connection()).await?;
    }
    if also.cycles {
        crate::gyms::change(scope, |settings| {
            for cycle in settings.cycles.iter_mut().filter(|cycle| stands_in(&cycle.name, name)) {
                let left = without(&cycle.name, name);
                let left = left.trim().trim_start_matches("'s").trim();
                cycle.name = if left.is_empty() { "Cycle".to_owned() } else { left.to_owned() };
            }
            Ok(())
        })
        .await?;
    }
    if also.names {
        let ids: Vec<i64> = aliases_with(scope, name).await?.into_iter().map(|(id, _)| id).collect();
        let of_gym = movement_aliases::table.filter(movement_aliases::gym_id.eq(scope.gym.0));
        diesel::delete(of_gym.filter(movement_aliases::id.eq_any(ids))).execute(scope.connection()).await?;
        let own = gym_movements::table.filter(gym_movements::gym_id.eq(scope.gym.0));
        let named: Vec<(i64, String)> =
            own.select((gym_movements::id, gym_movements::name)).load(scope.connection()).await?;
        let named = named.into_iter().filter(|(_, own)| stands_in(own, name)).map(|(id, _)| id);
        diesel::delete(own.filter(gym_movements::id.eq_any(named.collect::<Vec<_>>())))
            .execute(scope.connection())
            .await?;
    }
    if also.texts {
        running::forget_name(scope, name).await?;
        for (day, text) in texts_with(scope, name).await? {
            let row = sessions::table.filter(sessions::gym_id.eq(scope.gym.0)).filter(sessions::day.eq(day));
            let without = without(&text, name);
            diesel::update(row).set(sessions::text.eq(without)).execute(scope.connection()).await?;
        }
        let kept = session_texts::table.filter(session_texts::gym_id.eq(scope.gym.0));
        let kept = kept.filter(session_texts::text.ilike(like(name)));
        for (day, revision, text) in kept
            .select((session_texts::day, session_texts::revision, session_texts::text))
            .load::<(NaiveDate, i32, String)>(scope.connection())
            .await?
        {
            let row = session_texts::table
                .filter(session_texts::gym_id.eq(scope.gym.0))
                .filter(session_texts::day.eq(day))
                .filter(session_texts::revision.eq(revision));
            diesel::update(row)
                .set(session_texts::text.eq(without(&text, name)))
                .execute(scope.connection())
                .await?;
        }
        crate::pieces::forget(scope, name).await?;
    }
    Ok(())
}

/// Most results that one file holds: some thirty years of them.
const MOST_RESULTS: i64 = 20_000;

/// Everything stored about a member.
///
/// # Errors
/// When the database is away, or the gym has no such member.
pub async fn everything(scope: &mut GymScope, id: MemberId) -> Result<Value, StoreError> {
    let row: Option<(String, i32, Value, DateTime<Utc>)> = members::table
        .filter(members::gym_id.eq(scope.gym.0))
        .filter(members::id.eq(id))
        .select((members::name, members::twin, members::profile, members::created_at))
        .first(scope.connection())
        .await
        .optional()?;
    let (name, twin, profile, since) = row.ok_or(StoreError::NotFound("member"))?;
    let name = called(&name, twin);
    type LiftRow = (String, i32, NaiveDate, String, i32, Option<f32>, bool, Option<bool>);
    let lifts: Vec<LiftRow> = maxes::table
        .filter(maxes::gym_id.eq(scope.gym.0))
        .filter(maxes::member_id.eq(id))
        .order((maxes::set_on.desc(), maxes::id.desc()))
        .select((
            maxes::lift,
            maxes::grams,
            maxes::set_on,
            maxes::source,
            maxes::reps,
            maxes::rpe,
            maxes::missed,
            maxes::kept,
        ))
        .load(scope.connection())
        .await?;
    let lift = |(lift, grams, on, source, reps, rpe, missed, kept): LiftRow| {
        json!({
            "lift": lift, "kg": f64::from(grams) / 1000.0, "reps": reps, "rpe": rpe, "missed": missed, "on": on,
            "source": source, "counted_from": kept,
        })
    };
    let booked: Vec<(NaiveDate, NaiveTime, String)> = classes::table
        .inner_join(
            bookings::table.on(bookings::class_id.eq(classes::id).and(bookings::gym_id.eq(classes::gym_id))),
        )
        .filter(classes::gym_id.eq(scope.gym.0))
        .filter(bookings::member_id.eq(id))
        .order((classes::day, classes::starts))
        .select((classes::day, classes::starts, bookings::came))
        .load(scope.connection())
        .await?;
    let gone: Vec<(Value, DateTime<Utc>)> = removals::table
        .filter(removals::gym_id.eq(scope.gym.0))
        .filter(removals::member_id.eq(id))
        .select((removals::what, removals::removed_at))
        .load(scope.connection())
        .await?;
    let seen = health_views::of_member(scope, id).await?;
    let agreed = privacy::consents(scope, id).await?;
    let decided = decisions::about(scope, (id, &name)).await?;
    let naming = Naming::of_people(&called_by_id(scope).await?);
    let decided: Vec<Value> = decided
        .into_iter()
        .map(|decided| {
            let decision = decided.decision.told(&naming);
            json!({"day": decided.day, "class": decided.starts, "decision": decision, "at": decided.made_at})
        })
        .collect();
    let done = results::of_member(scope, id, MOST_RESULTS).await?;
    let mentions = mentions(scope, &name).await?;
    let slot = |(day, starts): (NaiveDate, NaiveTime)| format!("{day}T{}", starts.format("%H:%M"));
    let away = booked.iter().filter(|(.., came)| came == AWAY).map(|(day, starts, _)| slot((*day, *starts)));
    Ok(json!({
        "schema": "honest-lantern/member/1",
        "member": with_name(profile, &name),
        "since": since,
        "lifts": lifts.into_iter().map(lift).collect::<Vec<_>>(),
        "classes": booked.iter().map(|(day, starts, _)| slot((*day, *starts))).collect::<Vec<_>>(),
        "away_from": away.collect::<Vec<_>>(),
        "decisions": decided,
        "results": done.into_iter().map(|(result, words)| json!({
            "piece": words,
            "day": result.day, "class": result.starts, "result": result.entry, "at": result.made.0,
            "taken_back_at": result.undone.map(|(at, _)| at),
        })).collect::<Vec<_>>(),
        "agreed": agreed.into_iter().map(|consent| json!({
            "noted_by": consent.noted_by, "given_at": consent.given_at, "withdrawn_at": consent.withdrawn_at,
        })).collect::<Vec<_>>(),
        "limits_opened": seen.into_iter().map(|(hour, by)| json!({"hour": hour, "by": by})).collect::<Vec<_>>(),
        "removed": gone.into_iter().map(|(what, at)| json!({"what": what, "at": at})).collect::<Vec<_>>(),
        "named_in": {
            "coach_of": mentions.coaches.into_iter().map(slot).collect::<Vec<_>>(),
            "cycles": mentions.cycles, "names_of_movements": mentions.names, "texts_of_days": mentions.texts,
        },
    }))
}

fn with_name(mut profile: Value, name: &str) -> Value {
    profile["name"] = json!(name);
    profile
}
