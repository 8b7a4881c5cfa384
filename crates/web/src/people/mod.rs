//! People and roles: who has an account at the gym, who is invited, and the secret addresses of screens and calendars.

use actix_web::http::StatusCode;
use actix_web::{HttpRequest, HttpResponse, get, post};
use askama::Template;
use lantern_store::keys::{self, ApiScope, Opens};
use lantern_store::memberships::{self, Invitation};
use lantern_store::{AccountId, GymScope, MemberId, Role, StoreError, accounts, clock, members};
use serde::Deserialize;

use crate::account::link;
use crate::mail::Letter;
use crate::request::Form;
use crate::request::tenant::{Owning, Tenant};
use crate::respond::error::{AppError, html_as};
use crate::respond::filters;
use crate::respond::redirect::see_other;

pub(crate) fn routes(config: &mut actix_web::web::ServiceConfig) {
    config
        .service(show)
        .service(invite)
        .service(uninvite)
        .service(give_role)
        .service(take_out)
        .service(make_key)
        .service(revoke_key);
}

#[derive(Template)]
#[template(path = "people/people.html")]
struct PeoplePage {
    gym: String,
    people: Vec<PersonRow>,
    roles: [Role; 3],
    invited: Vec<Invitation>,
    keys: Vec<KeyRow>,
    /// Members to choose from: id and name.
    members: Vec<(MemberId, String)>,
    typed: Invite,
    wrong: Option<String>,
    made: Option<Made>,
}

struct PersonRow {
    name: String,
    email: String,
    role: Role,
    you: bool,
}

struct KeyRow {
    id: i64,
    name: String,
    what: String,
    used: String,
}

/// A link that is shown once.
struct Made {
    words: String,
    link: String,
}

/// An invitation, as typed.
#[derive(Default, Deserialize)]
struct Invite {
    email: String,
    #[serde(default)]
    name: String,
    #[serde(default)]
    role: String,
    #[serde(default)]
    member: String,
}

/// What stands beside the list: what was typed, what is wrong with it, a link just made.
#[derive(Default)]
struct Beside {
    typed: Invite,
    wrong: Option<String>,
    made: Option<Made>,
}

/// `GET /people`
#[get("/people")]
async fn show(tenant: Tenant<Owning>) -> Result<HttpResponse, AppError> {
    page(&tenant, Beside::default(), StatusCode::OK).await
}

async fn page(tenant: &Tenant<Owning>, beside: Beside, status: StatusCode) -> Result<HttpResponse, AppError> {
    let mut rows = tenant.look().await?;
    let people = memberships::all(&mut rows).await?.into_iter().map(|(person, email)| PersonRow {
        you: person.account == tenant.who.account,
        name: person.name,
        role: person.role,
        email,
    });
    let key = |key: keys::Key| KeyRow {
        id: key.id,
        what: match key.opens {
            Opens::Wall => "wall screen".to_owned(),
            Opens::Calendar => "calendar".to_owned(),
            Opens::Api => {
                let scopes: Vec<&str> = key.scopes.iter().map(|scope| scope.key()).collect();
                format!("program: {}", scopes.join(", "))
            }
        },
        name: key.name,
        used: key.used_at.map_or("not used yet".to_owned(), |used| {
            format!("last used {}", clock::time_text(&tenant.gym, used))
        }),
    };
    let Beside { typed, wrong, made } = beside;
    let page = PeoplePage {
        gym: tenant.gym.name.clone(),
        people: people.collect(),
        roles: Role::ALL,
        invited: memberships::invited(&mut rows).await?,
        keys: keys::all(&mut rows).await?.into_iter().map(key).collect(),
        members: members::called_by_id(&mut rows).await?,
        typed,
        wrong,
        made,
    };
    html_as(status, &page)
}

/// `POST /people/invite`: sends a link that works once.
#[post("/people/invite")]
async fn invite(
    tenant: Tenant<Owning>,
    request: HttpRequest,
    form: Form<Invite>,
) -> Result<HttpResponse, AppError> {
    let typed = form.0;
    let mut rows = tenant.change().await?;
    let made = match invitation(&mut rows, &typed).await? {
        Ok((email, role, name, member)) => {
            let token = memberships::invite(&mut rows, &email, (role, &name), member).await?;
            rows.keep().await?;
            let link = link(&request, &format!("/invited/{}", token.expose()));
            let letter = Letter {
                to: email.clone(),
                subject: format!("Come in to {}", tenant.gym.name),
                words: format!(
                    "{} invites you to {} as {}. The link works once, for two weeks.",
                    tenant.who.name,
                    tenant.gym.name,
                    role.named()
                ),
                link: link.clone(),
            };
            let words = match tenant.state.mail.send(letter).await {
                Ok(()) if !tenant.state.mail_arrives() => {
                    format!("{name} is invited. This server has no mail server: hand the link over yourself:")
                }
                Ok(()) => {
                    format!("{name} is invited: the link was sent to {email}. It is also here, to hand over:")
                }
                Err(error) => {
                    tracing::error!(%error, "an invitation was not sent");
                    format!("{name} is invited, but the mail was not taken. Hand the link over yourself:")
                }
            };
            Made { words, link }
        }
        Err(wrong) => {
            drop(rows);
            let beside = Beside { typed, wrong: Some(wrong), made: None };
            return page(&tenant, beside, StatusCode::UNPROCESSABLE_ENTITY).await;
        }
    };
    page(&tenant, Beside { made: Some(made), ..Beside::default() }, StatusCode::OK).await
}

type Invited = (String, Role, String, Option<MemberId>);

/// Whom a form invites as what, or what is wrong with which field.
async fn invitation(rows: &mut GymScope, typed: &Invite) -> Result<Result<Invited, String>, AppError> {
    let email = match accounts::email(&typed.email) {
        Ok(email) => email,
        Err(words) => return Ok(Err(format!("{words}."))),
    };
    let Ok(role) = typed.role.parse::<Role>() else {
        return Ok(Err(format!("The field `role` is `{}`, which is none.", typed.role)));
    };
    let known = members::called_by_id(rows).await?;
    let member = known.iter().find(|(id, _)| id.to_string() == typed.member);
    if member.is_none() && (!typed.member.is_empty() || role == Role::Member) {
        return Ok(Err("Say which member of the list the account is for.".to_owned()));
    }
    let name = match (typed.name.trim(), member) {
        ("", Some((_, name))) => name.clone(),
        ("", None) => return Ok(Err("Say what they are called at this gym.".to_owned())),
        (name, _) if name.chars().count() > 120 => {
            return Ok(Err("A name has at most 120 letters.".to_owned()));
        }
        (name, _) => name.to_owned(),
    };
    let people = memberships::all(rows).await?;
    if people.iter().any(|(_, known)| *known == email) {
        return Ok(Err(format!("{email} belongs to the gym already.")));
    }
    if let Some((id, called)) = member
        && people.iter().any(|(person, _)| person.member == Some(*id))
    {
        return Ok(Err(format!("{called} has an account already.")));
    }
    Ok(Ok((email, role, name, member.map(|(id, _)| *id))))
}

#[derive(Deserialize)]
struct Row {
    id: i64,
}

/// `POST /people/uninvite`
#[post("/people/uninvite")]
async fn uninvite(tenant: Tenant<Owning>, form: Form<Row>) -> Result<HttpResponse, AppError> {
    let mut rows = tenant.change().await?;
    memberships::uninvite(&mut rows, form.id).await?;
    rows.keep().await?;
    Ok(see_other("/people"))
}

#[derive(Deserialize)]
struct Given {
    email: String,
    #[serde(default)]
    role: String,
}

/// The account of somebody at the gym.
async fn account_of(rows: &mut GymScope, email: &str) -> Result<AccountId, AppError> {
    let found = memberships::all(rows).await?.into_iter().find(|(_, known)| known == email);
    found.map(|(person, _)| person.account).ok_or(AppError::NoSuchPage)
}

/// `POST /people/role`: counts from the next look on, wherever they are signed in.
#[post("/people/role")]
async fn give_role(tenant: Tenant<Owning>, form: Form<Given>) -> Result<HttpResponse, AppError> {
    let mut rows = tenant.change().await?;
    let account = account_of(&mut rows, &form.email).await?;
    let role = form.role.parse()?;
    match memberships::set_role(&mut rows, account, role).await {
        Err(StoreError::Refused(why)) => refused(&tenant, rows, why).await,
        done => {
            done?;
            rows.keep().await?;
            Ok(see_other("/people"))
        }
    }
}

/// `POST /people/remove`: out at once, wherever they are signed in.
#[post("/people/remove")]
async fn take_out(tenant: Tenant<Owning>, form: Form<Given>) -> Result<HttpResponse, AppError> {
    let mut rows = tenant.change().await?;
    let account = account_of(&mut rows, &form.email).await?;
    match memberships::remove(&mut rows, account).await {
        Err(StoreError::Refused(why)) => refused(&tenant, rows, why).await,
        done => {
            done?;
            rows.keep().await?;
            Ok(see_other("/people"))
        }
    }
}

async fn refused(tenant: &Tenant<Owning>, rows: GymScope, why: String) -> Result<HttpResponse, AppError> {
    drop(rows);
    let beside = Beside { wrong: Some(format!("Nothing was changed: {why}.")), ..Beside::default() };
    page(tenant, beside, StatusCode::UNPROCESSABLE_ENTITY).await
}

/// `POST /people/keys`: a secret address, shown once.
#[post("/people/keys")]
async fn make_key(
    tenant: Tenant<Owning>,
    request: HttpRequest,
    form: Form<Vec<(String, String)>>,
) -> Result<HttpResponse, AppError> {
    let field =
        |name: &str| form.iter().find(|(known, _)| known == name).map_or("", |(_, value)| value.as_str());
    let name = field("name").trim();
    let opens = Opens::named(field("opens"))
        .ok_or_else(|| AppError::field("opens", field("opens"), "a wall screen, a calendar or a program"))?;
    let scopes: Vec<ApiScope> = form
        .iter()
        .filter(|(known, _)| known == "scope")
        .filter_map(|(_, value)| ApiScope::named(value))
        .collect();
    if opens == Opens::Api && scopes.is_empty() {
        let wrong = Some("Tick what the program may ask for.".to_owned());
        return page(&tenant, Beside { wrong, ..Beside::default() }, StatusCode::UNPROCESSABLE_ENTITY).await;
    }
    if !(1..=120).contains(&name.chars().count()) {
        let wrong = Some("Say what the link is for, in 1 to 120 letters.".to_owned());
        return page(&tenant, Beside { wrong, ..Beside::default() }, StatusCode::UNPROCESSABLE_ENTITY).await;
    }
    let mut rows = tenant.change().await?;
    let token = keys::make(&mut rows, (opens, &scopes), name).await?;
    rows.keep().await?;
    let shown = match opens {
        Opens::Wall => link(&request, &format!("/wall/{}", token.expose())),
        Opens::Calendar => link(&request, &format!("/calendar/{}/classes.ics", token.expose())),
        Opens::Api => token.expose().to_owned(),
    };
    let made = Made {
        words: format!("The link for {name}. It is shown this once; whoever has it needs nothing else:"),
        link: shown,
    };
    page(&tenant, Beside { made: Some(made), ..Beside::default() }, StatusCode::OK).await
}

/// `POST /people/keys/revoke`
#[post("/people/keys/revoke")]
async fn revoke_key(tenant: Tenant<Owning>, form: Form<Row>) -> Result<HttpResponse, AppError> {
    let mut rows = tenant.change().await?;
    keys::revoke(&mut rows, form.id).await?;
    rows.keep().await?;
    Ok(see_other("/people#screens"))
}
