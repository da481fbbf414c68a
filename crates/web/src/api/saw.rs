//! `POST /api/drawer/saw`: the few colours that a small picture shows. Nothing is kept.

use actix_web::HttpResponse;
use actix_web::web;
use image::Rgba;
use rosy_core::colour::{Illuminant, Srgb};
use rosy_core::search::colours_of;
use serde_json::json;

use crate::apart::Errand;
use crate::error::{ApiProblem, Problem};
use crate::photo;
use crate::visitor::{Caller, Sending};
use crate::workroom::Workroom;

/// Most pixels along a side: the page makes larger pictures smaller before it sends them.
const MOST_PIXELS: u32 = 400;
/// Most colours told.
const MOST: usize = 6;

/// The few colours of a picture, written.
pub fn colours(bytes: &[u8]) -> Result<Vec<String>, String> {
    let saw = colours_of(pixels(bytes)?, MOST);
    Ok(saw.iter().map(|saw| saw.lab.on_screen(Illuminant::D65).0.to_string()).collect())
}

/// The pixels of a picture; what can be seen through is left out.
fn pixels(bytes: &[u8]) -> Result<Vec<Srgb>, String> {
    let (picture, _) = photo::decoded(bytes, MOST_PIXELS, u64::from(MOST_PIXELS).pow(2))
        .map_err(|error| error.to_string())?;
    let is_seen = |pixel: &Rgba<u8>| pixel.0[3] > 127;
    let pixels = picture.to_rgba8();
    Ok(pixels
        .pixels()
        .filter(|pixel| is_seen(pixel))
        .map(|pixel| Srgb([pixel.0[0], pixel.0[1], pixel.0[2]]))
        .collect())
}

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
