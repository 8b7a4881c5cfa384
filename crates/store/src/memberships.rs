//! Who belongs to a gym with which role, and who is invited.

use chrono::{DateTime, Duration, Utc};
use diesel::prelude::*;
use diesel_async::RunQueryDsl;
use lantern_core::gym::Gym;
use serde::Deserialize;

use crate::accounts::{self, AccountId};
use crate::functions::lantern_who;
use crate::gyms::{self, Known, KnownRow};
use crate::role::Role;
use crate::schema::{accounts as account_rows, invitations, login_sessions, memberships};
use crate::secrets::Secret;
use crate::{GymId, GymScope, MemberId, Store, StoreError};

/// Days for which an invitation stands.
const INVITED_FOR: i64 = 14;

/// What somebody is at a gym.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Membership {
    /// Their account.
    pub account: AccountId,
    /// What they may do.
    pub role: Role,
    /// How they are called there.
    pub name: String,
    /// Whose card and numbers are theirs.
    pub member: Option<MemberId>,
}

/// Somebody who is signed in: what they are at the gym that they look at, and what of it every page needs.
#[derive(Clone, Debug)]
pub struct SignedIn {
    /// What they are there.
    pub who: Membership,
    /// Their e-mail address.
    pub email: String,
    /// The gym that they look at.
    pub gym: GymId,
    /// What every page needs of it.
    pub known: Known,
}

/// The row of a [`SignedIn`], as the database puts it together.
#[derive(Deserialize)]
struct SignedInRow {
    account: i64,
    email: String,
    gym: i64,
    role: String,
    name: String,
    member: Option<MemberId>,
    #[serde(flatten)]
    known: KnownRow,
}

/// Who holds a token: nobody where its session has ended, or where they belong to the gym no longer. One question, whoever asks.
///
/// # Errors
/// When the database is away or something of the gym cannot be read.
pub async fn signed_in(store: &Store, token: &Secret) -> Result<Option<SignedIn>, StoreError> {
    let times = (accounts::LONGEST_SESSION_DAYS, accounts::IDLE_DAYS, accounts::NOTED_EVERY_MINUTES);
    let row: Option<serde_json::Value> =
        diesel::select(lantern_who(token.digest(), times.0, times.1, times.2))
            .get_result(&mut *store.connection().await?)
            .await?;
    let Some(row) = row else { return Ok(None) };
    let row: SignedInRow = serde_json::from_value(row).map_err(StoreError::unreadable("membership"))?;
    let who = Membership {
        account: AccountId(row.account),
        role: row.role.parse()?,
        name: row.name,
        member: row.member,
    };
    Ok(Some(SignedIn { who, email: row.email, gym: GymId(row.gym), known: row.known.read()? }))
}

/// Everybody who belongs to the gym with an account, by role and name, with their e-mail addresses.
///
/// # Errors
/// When the database is away.
pub async fn all(scope: &mut GymScope) -> Result<Vec<(Membership, String)>, StoreError> {
    type Person = (i64, String, String, Option<MemberId>, String);
    let rows: Vec<Person> = memberships::table
        .inner_join(account_rows::table.on(account_rows::id.eq(memberships::account_id)))
        .filter(memberships::gym_id.eq(scope.gym.0))
        .order((memberships::name, memberships::account_id))
        .select((
            memberships::account_id,
            memberships::role,
            memberships::name,
            memberships::member_id,
            account_rows::email,
        ))
        .load(scope.connection())
        .await?;
    let mut all = rows
        .into_iter()
        .map(|(id, role, name, member, email)| {
            Ok((Membership { account: AccountId(id), role: role.parse()?, name, member }, email))
        })
        .collect::<Result<Vec<_>, StoreError>>()?;
    all.sort_by_key(|(membership, _)| std::cmp::Reverse(membership.role));
    Ok(all)
}

/// Has somebody belong to the gym, by their e-mail address; gives their account. Who belongs there already keeps what they are.
///
/// # Errors
/// When the database is away, or that member has an account already.
pub async fn add(
    scope: &mut GymScope,
    email: &str,
    (role, name): (Role, &str),
    member: Option<MemberId>,
) -> Result<AccountId, StoreError> {
    let account = accounts::put(scope.connection(), email).await?;
    diesel::insert_into(memberships::table)
        .values((
            memberships::gym_id.eq(scope.gym.0),
            memberships::account_id.eq(account.0),
            memberships::role.eq(role.key()),
            memberships::name.eq(name),
            memberships::member_id.eq(member),
        ))
        .on_conflict((memberships::gym_id, memberships::account_id))
        .do_nothing()
        .execute(scope.connection())
        .await?;
    let row = account_rows::table.filter(account_rows::id.eq(account.0));
    let mut known: Vec<i64> = row.select(account_rows::gyms).for_update().first(scope.connection()).await?;
    if !known.contains(&scope.gym.0) {
        known.push(scope.gym.0);
        diesel::update(row).set(account_rows::gyms.eq(known)).execute(scope.connection()).await?;
    }
    Ok(account)
}

/// Gives somebody another role.
///
/// # Errors
/// When the database is away, they do not belong to the gym, or nobody would be its owner.
pub async fn set_role(scope: &mut GymScope, account: AccountId, role: Role) -> Result<(), StoreError> {
    let row = memberships::table
        .filter(memberships::gym_id.eq(scope.gym.0))
        .filter(memberships::account_id.eq(account.0));
    let changed =
        diesel::update(row).set(memberships::role.eq(role.key())).execute(scope.connection()).await?;
    if changed == 0 {
        return Err(StoreError::NotFound("account"));
    }
    an_owner_stays(scope).await
}

/// Has somebody belong to the gym no longer: at once, wherever they are signed in. An account that belongs nowhere goes.
///
/// # Errors
/// When the database is away, they do not belong to the gym, or nobody would be its owner.
pub async fn remove(scope: &mut GymScope, account: AccountId) -> Result<(), StoreError> {
    let row = memberships::table
        .filter(memberships::gym_id.eq(scope.gym.0))
        .filter(memberships::account_id.eq(account.0));
    if diesel::delete(row).execute(scope.connection()).await? == 0 {
        return Err(StoreError::NotFound("account"));
    }
    forget_account(scope, account).await?;
    an_owner_stays(scope).await
}

/// What is kept outside of the gym about an account that belongs to it no longer.
pub(crate) async fn forget_account(scope: &mut GymScope, account: AccountId) -> Result<(), StoreError> {
    let sessions = login_sessions::table
        .filter(login_sessions::account_id.eq(account.0))
        .filter(login_sessions::gym_id.eq(scope.gym.0));
    diesel::delete(sessions).execute(scope.connection()).await?;
    let row = account_rows::table.filter(account_rows::id.eq(account.0));
    let mut known: Vec<i64> = row.select(account_rows::gyms).for_update().first(scope.connection()).await?;
    known.retain(|gym| *gym != scope.gym.0);
    if known.is_empty() {
        diesel::delete(row).execute(scope.connection()).await?;
    } else {
        diesel::update(row).set(account_rows::gyms.eq(known)).execute(scope.connection()).await?;
    }
    Ok(())
}

/// The account of a member, if they have one, and how it is called at the gym.
///
/// # Errors
/// When the database is away.
pub async fn of_member(
    scope: &mut GymScope,
    member: MemberId,
) -> Result<Option<(AccountId, String)>, StoreError> {
    let row: Option<(i64, String)> = memberships::table
        .filter(memberships::gym_id.eq(scope.gym.0))
        .filter(memberships::member_id.eq(member))
        .select((memberships::account_id, memberships::name))
        .first(scope.connection())
        .await
        .optional()?;
    Ok(row.map(|(id, name)| (AccountId(id), name)))
}

pub(crate) async fn an_owner_stays(scope: &mut GymScope) -> Result<(), StoreError> {
    let owners = memberships::table
        .filter(memberships::gym_id.eq(scope.gym.0))
        .filter(memberships::role.eq(Role::Owner.key()))
        .select(memberships::account_id);
    // Locked: two owners who give up their roles at the same moment would otherwise both see the other's.
    let owners: Vec<i64> = owners.for_update().load(scope.connection()).await?;
    if owners.is_empty() {
        return Err(StoreError::Refused("a gym keeps at least one owner".to_owned()));
    }
    Ok(())
}

/// An invitation that was not taken up yet.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Invitation {
    /// The row's id.
    pub id: i64,
    /// Where it was sent.
    pub email: String,
    /// The role that it offers.
    pub role: Role,
    /// How they are called at the gym.
    pub name: String,
    /// Whose card and numbers will be theirs.
    pub member: Option<MemberId>,
    /// Until when it stands.
    pub ends_at: DateTime<Utc>,
}

/// An invitation as it is loaded.
#[derive(Queryable, Selectable)]
#[diesel(table_name = invitations)]
struct Row {
    id: i64,
    email: String,
    role: String,
    name: String,
    member_id: Option<MemberId>,
    ends_at: DateTime<Utc>,
}

impl Row {
    fn invitation(self) -> Result<Invitation, StoreError> {
        let Self { id, email, role, name, member_id: member, ends_at } = self;
        Ok(Invitation { id, email, role: role.parse()?, name, member, ends_at })
    }
}

/// Invites somebody; gives what stands in the link. An older invitation to the same address goes.
///
/// # Errors
/// When the database is away, or the gym has no such member.
pub async fn invite(
    scope: &mut GymScope,
    email: &str,
    (role, name): (Role, &str),
    member: Option<MemberId>,
) -> Result<Secret, StoreError> {
    let older = invitations::table
        .filter(invitations::gym_id.eq(scope.gym.0))
        .filter(invitations::email.eq(email).or(invitations::ends_at.lt(Utc::now())));
    diesel::delete(older).execute(scope.connection()).await?;
    let token = Secret::new();
    diesel::insert_into(invitations::table)
        .values((
            invitations::gym_id.eq(scope.gym.0),
            invitations::token.eq(token.digest()),
            invitations::email.eq(email),
            invitations::role.eq(role.key()),
            invitations::name.eq(name),
            invitations::member_id.eq(member),
            invitations::ends_at.eq(Utc::now() + Duration::days(INVITED_FOR)),
        ))
        .execute(scope.connection())
        .await?;
    // The gym stands in the link: nothing outside of it knows the invitation.
    Ok(Secret::of(&format!("{}.{}", scope.gym, token.expose())))
}

/// Invitations that stand, newest first.
///
/// # Errors
/// When the database is away.
pub async fn invited(scope: &mut GymScope) -> Result<Vec<Invitation>, StoreError> {
    let rows: Vec<Row> = invitations::table
        .filter(invitations::gym_id.eq(scope.gym.0))
        .filter(invitations::ends_at.gt(Utc::now()))
        .order(invitations::id.desc())
        .select(Row::as_select())
        .load(scope.connection())
        .await?;
    rows.into_iter().map(Row::invitation).collect()
}

/// Takes an invitation back.
///
/// # Errors
/// When the database is away, or there is no such invitation.
pub async fn uninvite(scope: &mut GymScope, id: i64) -> Result<(), StoreError> {
    let row = invitations::table.filter(invitations::gym_id.eq(scope.gym.0)).filter(invitations::id.eq(id));
    match diesel::delete(row).execute(scope.connection()).await? {
        0 => Err(StoreError::NotFound("invitation")),
        _ => Ok(()),
    }
}

/// The gym that a secret address names, as whoever made it wrote it; nothing where it cannot be one.
pub(crate) fn addressed(link: &str) -> Option<(GymId, Secret)> {
    let (gym, token) = link.split_once('.')?;
    Some((GymId(gym.parse().ok()?), Secret::of(token)))
}

/// The invitation of a link with the gym that it is to, without taking it up; nothing when it was taken up or back, or its time is over.
///
/// # Errors
/// When the database is away.
pub async fn invitation_of(store: &Store, link: &str) -> Result<Option<(Invitation, Gym)>, StoreError> {
    let Some((gym, token)) = addressed(link) else { return Ok(None) };
    let mut scope = store.look(gym).await?;
    let Some(found) = find(&mut scope, &token).await? else { return Ok(None) };
    Ok(Some((found, gyms::settings(&mut scope).await?)))
}

async fn find(scope: &mut GymScope, token: &Secret) -> Result<Option<Invitation>, StoreError> {
    let row: Option<Row> = invitations::table
        .filter(invitations::gym_id.eq(scope.gym.0))
        .filter(invitations::token.eq(token.digest()))
        .filter(invitations::ends_at.gt(Utc::now()))
        .select(Row::as_select())
        .first(scope.connection())
        .await
        .optional()?;
    row.map(Row::invitation).transpose()
}

/// Takes up the invitation of a link, once: its account belongs to the gym from now on. An account without a passphrase gets this one.
///
/// # Errors
/// When the database is away, or the invitation stands no longer.
pub async fn accept(store: &Store, link: &str, kept: Option<&str>) -> Result<AccountId, StoreError> {
    let (gym, token) = addressed(link).ok_or(StoreError::NotFound("invitation"))?;
    let mut scope = store.change(gym).await?;
    let found = find(&mut scope, &token).await?.ok_or(StoreError::NotFound("invitation"))?;
    uninvite(&mut scope, found.id).await?;
    let account = add(&mut scope, &found.email, (found.role, &found.name), found.member).await?;
    if let Some(kept) = kept {
        accounts::first_passphrase(scope.connection(), account, kept).await?;
    }
    scope.keep().await?;
    Ok(account)
}
