//! `POST /api/drawer/saw`: the few colours that a small picture shows. Nothing is kept.

use actix_web::HttpResponse;
use actix_web::web;
use serde_json::json;

use crate::apart::Errand;
use crate::error::{ApiProblem, Problem};
use crate::visitor::{Caller, Sending};
use crate::workroom::Workroom;

/// Looks at it.
pub async fn saw(
    caller: Caller,
    room: web::Data<Workroom>,
    Sending(bytes): Sending,
) -> Result<HttpResponse, ApiProblem> {
    let colours = room.apart(caller.visitor.asker(), Errand::Colours, bytes).await?;
    let colours: Vec<String> = serde_json::from_slice(&colours).map_err(|_| Problem::Broken)?;
    Ok(HttpResponse::Ok().json(json!({ "colours": colours })))
}
