//! Whether the installation is well, for its owner: the database, and when it was last proven that a backup comes back.

use actix_web::{HttpResponse, get, web};
use askama::Template;
use chrono::{DateTime, Duration, Utc};
use lantern_store::Lag;
use lantern_store::clock::time_text;
use lantern_store::contents::{self, BackedUp};

use crate::request::tenant::{Owning, Tenant};
use crate::respond::error::{AppError, html};
use crate::respond::filters;

pub(super) fn routes(config: &mut web::ServiceConfig) {
    config.service(health);
}

/// A backup that is older than this has to be looked at.
const OLD: Duration = Duration::days(2);
/// So has one that was proven longer ago than this.
const LONG_AGO: Duration = Duration::days(14);

/// How long a replica may take to say how far it is.
const PATIENCE: std::time::Duration = std::time::Duration::from_secs(1);

#[derive(Template)]
#[template(path = "gym/health.html")]
struct HealthPage {
    gym: String,
    version: &'static str,
    migration: String,
    /// What is wrong with the database, if anything.
    trouble: Option<String>,
    /// How far a copy of the database is behind, in words; nothing where there is none.
    replica: Option<String>,
    last: Option<Told>,
    proven: Option<Told>,
}

/// A backup in words.
struct Told {
    when: String,
    age: String,
    size: String,
    is_old: bool,
}

impl Told {
    fn of(gym: &lantern_core::gym::Gym, made: &BackedUp, at: DateTime<Utc>, too_old: Duration) -> Self {
        let age = Utc::now() - at;
        Self {
            when: time_text(gym, at),
            age: match (age.num_days(), age.num_hours()) {
                (0, 0) => "less than an hour ago".to_owned(),
                (0, 1) => "an hour ago".to_owned(),
                (0, hours) => format!("{hours} hours ago"),
                (1, _) => "a day ago".to_owned(),
                (days, _) => format!("{days} days ago"),
            },
            size: format!("{} rows, {:.1} MB", made.rows, made.bytes as f64 / 1e6),
            is_old: age > too_old,
        }
    }
}

/// `GET /gym/health`: for the owner alone.
#[get("/gym/health")]
async fn health(tenant: Tenant<Owning>) -> Result<HttpResponse, AppError> {
    let store = &tenant.state.store;
    let [last, proven] = contents::last_backups(store).await?;
    let gym = &tenant.gym;
    let replica = match tokio::time::timeout(PATIENCE, store.lag()).await {
        Ok(Ok(lag)) => lag.map(|Lag { bytes }| match bytes {
            0 => "The replica has everything.".to_owned(),
            1..10_000_000 => format!("The replica is {:.2} MB behind.", bytes as f64 / 1e6),
            _ => format!("The replica is {:.0} MB behind: look at it.", bytes as f64 / 1e6),
        }),
        Ok(Err(_)) | Err(_) => {
            Some("The replica does not answer; the database is asked for everything.".to_owned())
        }
    };
    html(&HealthPage {
        gym: gym.name.clone(),
        version: env!("CARGO_PKG_VERSION"),
        migration: lantern_store::newest_migration(),
        trouble: store.ready().await.err().map(|error| error.to_string()),
        replica,
        last: last.map(|made| Told::of(gym, &made, made.made_at, OLD)),
        proven: proven.and_then(|made| Some(Told::of(gym, &made, made.verified_at?, LONG_AGO))),
    })
}
