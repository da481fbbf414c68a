//! `GET /panels/{id}/picture.png`: the panel's picture, whole or after some of its moves.

use actix_web::http::header::CACHE_CONTROL;
use actix_web::{HttpResponse, web};
use rosy_core::Panel;
use rosy_core::order::check::check;
use rosy_core::picture::file::Pace;
use rosy_store::Store;
use serde::Deserialize;
use uuid::Uuid;

use crate::error::{ApiProblem, Problem};
use crate::files::attachment;
use crate::picture::{drawn_from, file as file_of, is_large};
use crate::visitor::Caller;
use crate::workroom::Workroom;

/// What is asked for beside the panel.
#[derive(Deserialize)]
pub struct PictureAsked {
    /// Pixels to the inch.
    #[serde(default = "for_print")]
    dpi: f64,
    /// How many moves have been made; all where it is left out.
    after: Option<usize>,
    /// What is broken, by its place among the findings: drawn as it would be if the move were made all the same.
    harm: Option<usize>,
    /// What the page knows it to be drawn from: the picture of that never changes.
    seen: Option<String>,
    /// Whether to hand it out as a file.
    #[serde(default)]
    save: bool,
}

/// Most pixels of one picture: 300 to the inch on the largest panel (12 × 12 in), and some more.
const MOST_PIXELS: f64 = 14e6;

fn for_print() -> f64 {
    300.0
}

/// Draws it, or hands out what was drawn from the same before.
pub async fn get(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    id: web::Path<Uuid>,
    asked: web::Query<PictureAsked>,
) -> Result<HttpResponse, ApiProblem> {
    let panel = store.one::<Panel>(caller.visitor.bench.id, *id).await?.value;
    let seen = drawn_from(&panel);
    let (dpi, after) = (asked.dpi, asked.after.unwrap_or(panel.moves.len()).min(panel.moves.len()));
    let pixels = panel.width.inches() * panel.height.inches() * dpi * dpi;
    if pixels > MOST_PIXELS {
        let most = (MOST_PIXELS / (panel.width.inches() * panel.height.inches())).sqrt();
        let says = format!("That picture would be too large: ask for at most {most:.0} pixels to the inch.");
        return Err(Problem::Refused(says).into());
    }
    let name = panel.name.to_string();
    let harm = asked.harm;
    let key = format!("picture {} {seen} {after} {dpi} {harm:?}", *id);
    let asker = caller.visitor.asker().heavy_if(is_large(dpi));
    let file = room.made(&asker, key, move || {
        let broken = harm.and_then(|nth| check(&panel).into_iter().nth(nth));
        let harmed = broken.and_then(|broken| broken.harmed(&panel));
        file_of(&harmed.unwrap_or_else(|| panel.after(after)), dpi, Pace::Balanced)
    });
    let file = file.await?;
    let mut response = HttpResponse::Ok();
    response.content_type("image/png");
    if asked.seen == Some(seen) {
        response.insert_header((CACHE_CONTROL, "private, max-age=86400"));
    }
    if asked.save {
        response.insert_header(attachment(&name, "png"));
    }
    Ok(response.body(file))
}
