//! Figures about what is behind the program, for whoever watches over it: the database, its copy, the last proven backup.

use std::time::Duration;

use chrono::Utc;
use lantern_store::{Lag, Store, contents};

/// How often they are looked at.
const EVERY: Duration = Duration::from_secs(30);
/// How long an answer may take.
const PATIENCE: Duration = Duration::from_secs(5);

/// Looks for as long as the process lives.
pub async fn watch(store: Store) {
    loop {
        let ready = tokio::time::timeout(PATIENCE, store.ready()).await;
        metrics::gauge!("lantern_database_ready").set(u8::from(matches!(ready, Ok(Ok(())))));
        if let Ok(Ok([_, proven])) = tokio::time::timeout(PATIENCE, contents::last_backups(&store)).await {
            let age = proven.and_then(|made| made.verified_at).map(|at| (Utc::now() - at).as_seconds_f64());
            metrics::gauge!("lantern_backup_proven_age_seconds").set(age.unwrap_or(f64::INFINITY));
        }
        if let Ok(Ok(Some(Lag { bytes }))) = tokio::time::timeout(PATIENCE, store.lag()).await {
            metrics::gauge!("lantern_replica_lag_bytes").set(bytes as f64);
        }
        actix_web::rt::time::sleep(EVERY).await;
    }
}
