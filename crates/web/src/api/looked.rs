//! What a page asks whose every change is looked at before it is kept, and how it is answered.

use actix_web::HttpResponse;
use rosy_core::Panel;
use rosy_core::document::Document;
use serde::{Deserialize, Serialize};

use crate::error::{ApiProblem, Problem, sentence};

/// What is said of a change to something that has gone meanwhile.
pub const GONE: &str = "That is not on the panel any more: reload this page.";

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

impl<Change> Asked<Change> {
    /// The panel with the change made, as far as it can be; where it cannot, by which field.
    pub fn changed(
        self,
        field: impl FnOnce(&Change) -> String,
        made: impl FnOnce(Change, Panel) -> Result<Panel, String>,
    ) -> Result<Panel, Wrong> {
        let panel = self.panel.laid().map_err(Wrong::nowhere)?;
        let Some(change) = self.change else { return Ok(panel) };
        let field = field(&change);
        let changed = made(change, panel).and_then(|panel| match panel.check() {
            Ok(()) => Ok(panel),
            Err(error) => Err(error.to_string()),
        });
        changed.map_err(|says| Wrong { field, says })
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
