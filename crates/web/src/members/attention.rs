//! Whom a coach should look at: who is missed, who is always late, whose lifts stand still or were tested long ago.

use chrono::{Days, NaiveDate};
use lantern_core::book::{Attention, Entry, LOOKED_BACK_DAYS, OnRecord, TESTED, attention};
use lantern_core::gym::Gym;
use lantern_core::movement::{Catalogue, MovementId};
use lantern_store::lifts::{self, StoredLift};
use lantern_store::members::StoredMember;
use lantern_store::{GymScope, MemberId, StoreError, results};

use crate::members::over_time;

/// Whom a coach should look at, and why, in one sentence each.
pub(super) async fn of_gym(
    rows: &mut GymScope,
    stored: &[StoredMember],
    (gym, catalogue, today): (&Gym, &Catalogue, NaiveDate),
) -> Result<Vec<(MemberId, String, String)>, StoreError> {
    let results = results::since(rows, today - Days::new(LOOKED_BACK_DAYS)).await?;
    let sets = lifts::of_gym(rows).await?;
    let of = |StoredMember { id, member, .. }: &StoredMember| {
        let theirs: Vec<&OnRecord> = results.iter().filter(|result| result.member == id.number()).collect();
        let entries: Vec<&Entry> = theirs.iter().map(|result| &result.entry).collect();
        let own: Vec<StoredLift> = sets.iter().filter(|set| set.member_id == *id).cloned().collect();
        let tested = over_time::by_lift(&own, today).into_iter().filter(|(lift, _)| TESTED.contains(lift));
        let tested: Vec<_> =
            tested.map(|(lift, sets)| (catalogue.name(&MovementId::new(lift)).to_owned(), sets)).collect();
        let seen = theirs.first().map(|result| result.day);
        let all = attention(seen, &entries, &tested, (today, gym));
        let told: Vec<String> = all.iter().map(Attention::told).collect();
        (!told.is_empty()).then(|| (*id, member.name.clone(), told.join("; ")))
    };
    Ok(stored.iter().filter_map(of).collect())
}
