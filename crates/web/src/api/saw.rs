//! `POST /api/drawer/saw`: the few colours that a small picture shows. Nothing is kept.

use actix_web::HttpResponse;
use actix_web::web;
use rosy_core::colour::{Illuminant, Srgb};
use rosy_core::search::colours_of;
use serde_json::json;

use crate::error::{ApiProblem, Problem};
use crate::visitor::{Caller, Sending};
use crate::workroom::Workroom;

/// Most pixels along a side: the page makes larger pictures smaller before it sends them.
const MOST_PIXELS: u32 = 400;
/// Most colours told.
const MOST: usize = 6;

/// The pixels of a PNG picture, where they can be seen through left out.
fn pixels(bytes: &[u8]) -> Result<Vec<Srgb>, String> {
    let cannot = |_| "This is not a picture that can be read: choose a PNG, JPEG or WebP picture.".to_owned();
    let mut decoder = png::Decoder::new_with_limits(
        std::io::Cursor::new(bytes),
        png::Limits { bytes: 8 * (MOST_PIXELS * MOST_PIXELS) as usize },
    );
    decoder.set_transformations(png::Transformations::normalize_to_color8());
    let info = decoder.read_header_info().map_err(cannot)?;
    if info.width > MOST_PIXELS || info.height > MOST_PIXELS {
        return Err(format!(
            "The picture is {} × {} pixels: send one of at most {MOST_PIXELS} × {MOST_PIXELS}.",
            info.width, info.height
        ));
    }
    let mut reader = decoder.read_info().map_err(cannot)?;
    let size = reader.output_buffer_size().ok_or("The picture is too large.")?;
    let mut buffer = vec![0; size];
    let frame = reader.next_frame(&mut buffer).map_err(cannot)?;
    let samples = frame.color_type.samples();
    let rgb = |pixel: &[u8]| match *pixel {
        [grey] => Some(Srgb([grey; 3])),
        [grey, alpha] => (alpha > 127).then_some(Srgb([grey; 3])),
        [red, green, blue] => Some(Srgb([red, green, blue])),
        [red, green, blue, alpha] => (alpha > 127).then_some(Srgb([red, green, blue])),
        _ => None,
    };
    Ok(buffer[..frame.buffer_size()].chunks_exact(samples).filter_map(rgb).collect())
}

/// Looks at it.
pub async fn saw(
    caller: Caller,
    room: web::Data<Workroom>,
    Sending(bytes): Sending,
) -> Result<HttpResponse, ApiProblem> {
    let looked = room.done(caller.visitor.asker(), move || Ok(colours_of(pixels(&bytes)?, MOST)));
    let saw = looked.await?.map_err(Problem::Refused)?;
    let colours: Vec<String> =
        saw.iter().map(|saw| saw.lab.on_screen(Illuminant::D65).0.to_string()).collect();
    Ok(HttpResponse::Ok().json(json!({ "colours": colours })))
}
