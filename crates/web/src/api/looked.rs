//! What a page asks whose every change is looked at before it is kept, and how it is answered.

use std::sync::Arc;

use actix_web::HttpResponse;
use rosy_core::Panel;
use rosy_core::document::Document;
use rosy_core::edit::{Edit, Edited, Has, Refused, edited};
use rosy_core::ink::Ink;
use rosy_core::planned::Planned;
use rosy_store::{Store, StoreError};
use serde::{Deserialize, Serialize, Serializer};
use uuid::Uuid;

use crate::error::{ApiProblem, Problem, sentence};
use crate::plans::{laid, planned};

/// What is asked: a panel as it stands on the page, and perhaps a change to it.
#[derive(Deserialize)]
pub struct Asked<Change> {
    panel: Document,
    /// To be looked at and perhaps kept.
    #[serde(default = "none")]
    pub change: Option<Change>,
    /// Pixels to the inch of the picture.
    pub dpi: f64,
    /// Whether the hand rests, or is still moving.
    pub settled: bool,
}

fn none<Change>() -> Option<Change> {
    None
}

/// Why a change was not made, and by which field.
#[derive(Serialize)]
pub struct Wrong {
    field: String,
    says: String,
}

impl Wrong {
    /// By no field at all.
    pub fn nowhere(error: impl std::fmt::Display) -> Wrong {
        Wrong { field: String::new(), says: error.to_string() }
    }
}

impl From<Refused> for Wrong {
    fn from(Refused { field, says }: Refused) -> Wrong {
        Wrong { field, says }
    }
}

/// A panel with a change made to it.
pub struct Changed {
    /// It.
    pub panel: Arc<Planned>,
    /// What is to be known of the change.
    pub says: Option<String>,
}

impl<Change: Edit> Asked<Change> {
    /// The panel with the change made, as far as it can be; where it cannot, by which field.
    pub fn changed(self, has: &Has) -> Result<Changed, Wrong> {
        let panel = planned(self.panel).map_err(Wrong::nowhere)?;
        let Some(change) = self.change else { return Ok(Changed { panel, says: None }) };
        let Edited { panel, says, .. } = edited(Panel::clone(&panel), &change, has)?;
        Ok(Changed { panel: laid(panel), says })
    }
}

/// A planned panel in an answer: as its document.
pub fn plain<S: Serializer>(panel: &Planned, serializer: S) -> Result<S::Ok, S::Error> {
    Panel::serialize(panel, serializer)
}

/// The inks of the drawer, where a change may take one.
pub async fn drawer(store: &Store, bench: Uuid, change: Option<&impl Edit>) -> Result<Vec<Ink>, StoreError> {
    match change {
        Some(change) if change.takes_ink() => {
            Ok(store.all::<Ink>(bench).await?.into_iter().map(|kept| kept.value).collect())
        }
        _ => Ok(Vec::new()),
    }
}

/// The answer: how it would come out; what is wrong by its field, for the page to show; or what is wrong with all of it.
pub fn answer(looked: Result<impl Serialize, Wrong>) -> Result<HttpResponse, ApiProblem> {
    match looked {
        Ok(look) => Ok(HttpResponse::Ok().json(look)),
        Err(Wrong { field, says }) if field.is_empty() => Err(Problem::Refused(sentence(&says)).into()),
        Err(Wrong { field, says }) => Ok(HttpResponse::Ok().json(Wrong { field, says: sentence(&says) })),
    }
}
