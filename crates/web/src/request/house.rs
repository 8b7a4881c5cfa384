//! A gym whose rows somebody may see: the only way to them. It comes from being signed in ([`crate::request::tenant`]) or from a secret address
//! (of a wall, a calendar or a program), and from nowhere else.

use std::sync::Arc;
use std::sync::atomic::{AtomicBool, Ordering};

use actix_web::web;
use chrono::NaiveDate;
use lantern_core::gym::Gym;
use lantern_core::movement::Catalogue;
use lantern_store::gyms::{self, Known};
use lantern_store::keys::{self, ApiScope, Opens};
use lantern_store::{GymId, GymScope, StoreError, clock};

use crate::State;
use crate::respond::error::AppError;

/// A gym, for one request.
pub(crate) struct House {
    pub state: web::Data<State>,
    /// Its equipment and choices, as they were when the request came in.
    pub gym: Gym,
    id: GymId,
    version: i64,
    catalogue: Arc<Catalogue>,
    /// Whether this request changes something: then the version of before says nothing any more.
    changes: AtomicBool,
}

impl House {
    pub(crate) fn new(state: web::Data<State>, known: Known, id: GymId) -> Self {
        let Known { gym, version, names, own } = known;
        let catalogue = state.catalogues.with(&own, &names);
        Self { state, gym, id, version, catalogue, changes: AtomicBool::new(false) }
    }

    /// The gym of a secret address; nothing where the address is none, or none any more.
    pub async fn of_key(
        state: web::Data<State>,
        opens: (Opens, Option<ApiScope>),
        address: &str,
    ) -> Result<Option<Self>, AppError> {
        let Some(id) = keys::opened(&state.store, opens, address).await? else { return Ok(None) };
        let mut scope = state.store.look(id).await?;
        let known = gyms::known(&mut scope).await?;
        Ok(Some(Self::new(state, known, id)))
    }

    /// The gym that the code of a class names, before the code is compared; nothing where there is none.
    pub async fn named_by_code(state: web::Data<State>, number: i64) -> Result<Option<Self>, AppError> {
        let id = keys::named_by_code(number);
        match gyms::known(&mut state.store.look(id).await?).await {
            Ok(known) => Ok(Some(Self::new(state, known, id))),
            Err(StoreError::NotFound(_)) => Ok(None),
            Err(error) => Err(error.into()),
        }
    }

    /// Which gym it is.
    pub fn id(&self) -> GymId {
        self.id
    }

    /// Its rows, to look at.
    pub async fn look(&self) -> Result<GymScope, AppError> {
        Ok(self.state.store.look(self.id).await?)
    }

    /// Its rows as they were when the request came in or later, to look at; perhaps those of a copy of the database. For what follows from [`Self::version`] alone.
    pub async fn look_since(&self) -> Result<GymScope, AppError> {
        if self.changes.load(Ordering::Relaxed) {
            return self.look().await;
        }
        Ok(self.state.store.look_since(self.id, self.version).await?)
    }

    /// Its rows, to change; what is changed stays only when it is kept.
    pub async fn change(&self) -> Result<GymScope, AppError> {
        self.changes.store(true, Ordering::Relaxed);
        Ok(self.state.store.change(self.id).await?)
    }

    /// The catalogue with the gym's own movements and names in it.
    pub fn catalogue(&self) -> Arc<Catalogue> {
        self.catalogue.clone()
    }

    /// Grows whenever anything of the gym's changes that a plan or a page is made from.
    pub fn version(&self) -> i64 {
        self.version
    }

    /// Today at the gym.
    pub fn today(&self) -> NaiveDate {
        clock::today(&self.gym)
    }
}
