//! Who writes: somebody of the gym; or, while the database is away and nobody can be known, whoever has the page open. They get back what they
//! type, read by the standard reader, and nothing of any gym.

use std::future::Future;
use std::pin::Pin;
use std::sync::Arc;

use actix_web::dev::Payload;
use actix_web::{FromRequest, HttpRequest, web};
use lantern_core::gym::ClockFace;
use lantern_core::gym::Gym;
use lantern_core::movement::Catalogue;
use lantern_store::StoreError;

use crate::State;
use crate::request::tenant::Tenant;
use crate::respond::error::AppError;

/// Whoever types a text.
pub(crate) struct Writer {
    state: web::Data<State>,
    tenant: Result<Tenant, StoreError>,
}

impl FromRequest for Writer {
    type Error = AppError;
    type Future = Pin<Box<dyn Future<Output = Result<Self, AppError>>>>;

    fn from_request(request: &HttpRequest, payload: &mut Payload) -> Self::Future {
        let state = request.app_data::<web::Data<State>>().cloned();
        let tenant = Tenant::from_request(request, payload);
        Box::pin(async move {
            let state = state.ok_or_else(|| AppError::Inside("no state".to_owned()))?;
            let tenant = match tenant.await {
                Ok(tenant) => Ok(tenant),
                Err(AppError::Store(error)) => Err(error),
                Err(other) => return Err(other),
            };
            Ok(Self { state, tenant })
        })
    }
}

impl Writer {
    /// Whoever is signed in.
    ///
    /// # Errors
    /// While nobody can be known.
    pub fn tenant(&self) -> Result<&Tenant, AppError> {
        self.tenant.as_ref().map_err(|error| {
            AppError::Store(match error {
                StoreError::Full(why) => StoreError::Full(why.clone()),
                StoreError::Busy(why) => StoreError::Busy(why.clone()),
                other => StoreError::Away(other.to_string()),
            })
        })
    }

    /// What the gym is called, and how it tells the time, as far as that is known.
    pub fn gym_name_and_clock(&self) -> (String, ClockFace) {
        let unknown = || ("Honest Lantern".to_owned(), ClockFace::default());
        self.tenant.as_ref().map_or_else(|_| unknown(), |tenant| (tenant.gym.name.clone(), tenant.gym.clock))
    }

    /// The gym's catalogue and how it writes, or the standard one and nothing while the database is away.
    pub fn hand(&self) -> (Arc<Catalogue>, Gym) {
        match self.tenant() {
            Ok(tenant) => (tenant.catalogue(), tenant.gym.clone()),
            Err(_) => (self.standard(), Gym::default()),
        }
    }

    /// The catalogue that every gym has.
    pub fn standard(&self) -> Arc<Catalogue> {
        self.state.catalogues.with(&[], &[])
    }
}
