//! `GET /panels/{id}/picture.png`: the panel's picture, whole or after some of its moves.

use actix_web::http::header::{CACHE_CONTROL, CONTENT_DISPOSITION};
use actix_web::{HttpResponse, web};
use rosy_core::Panel;
use rosy_core::picture::{Size, draw};
use rosy_store::{Kept, Store};
use serde::Deserialize;
use uuid::Uuid;

use crate::error::{ApiProblem, Problem};
use crate::picture::png;
use crate::visitor::Caller;

/// What is asked for beside the panel.
#[derive(Deserialize)]
pub struct Asked {
    /// Pixels to the inch.
    #[serde(default = "for_print")]
    dpi: f64,
    /// How many moves have been made; all where it is left out.
    after: Option<usize>,
    /// The revision the page knows: the picture of one never changes.
    revision: Option<i64>,
    /// Whether to hand it out as a file.
    #[serde(default)]
    save: bool,
}

fn for_print() -> f64 {
    300.0
}

/// Draws it.
pub async fn get(
    caller: Caller,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
    asked: web::Query<Asked>,
) -> Result<HttpResponse, ApiProblem> {
    let Kept { value: panel, revision, .. } = store.one::<Panel>(caller.visitor.bench.id, *id).await?;
    let (dpi, after) = (asked.dpi, asked.after.unwrap_or(panel.moves.len()));
    let name = panel.name.to_string();
    let drawn =
        web::block(move || draw(&panel.materials(), after, Size { dpi }).map(|picture| png(&picture, dpi)));
    let file = drawn
        .await
        .map_err(|error| Problem::Away(error.to_string()))?
        .map_err(|error| Problem::Refused(error.to_string()))?;
    let mut response = HttpResponse::Ok();
    response.content_type("image/png");
    if asked.revision == Some(revision) {
        response.insert_header((CACHE_CONTROL, "private, max-age=86400"));
    } else {
        response.insert_header((CACHE_CONTROL, "no-store"));
    }
    if asked.save {
        response.insert_header((CONTENT_DISPOSITION, attachment(&name, "png")));
    }
    Ok(response.body(file))
}

/// A file name that every system takes.
pub fn attachment(name: &str, ending: &str) -> String {
    let plain: String =
        name.chars().map(|c| if c.is_ascii_alphanumeric() { c.to_ascii_lowercase() } else { '-' }).collect();
    format!("attachment; filename=\"{}.{ending}\"", plain.trim_matches('-'))
}
