//! What was made: its picture, and all of it as a table or as JSON.

use actix_web::http::header::CACHE_CONTROL;
use actix_web::{HttpResponse, web};
use rosy_core::picture::file::Pace;
use rosy_core::record::Made;
use rosy_store::Store;
use serde::Deserialize;
use uuid::Uuid;

use crate::apart::Errand;
use crate::error::{ApiProblem, Problem};
use crate::files;
use crate::files::attachment;
use crate::picture::{drawn_from, file as file_of, for_page};
use crate::visitor::{Caller, Sending};
use crate::workroom::Workroom;

/// What is asked of a picture.
#[derive(Deserialize)]
pub struct PictureAsked {
    #[serde(default = "small")]
    dpi: f64,
}

const fn small() -> f64 {
    48.0
}

/// `GET /made/{id}/picture.png`.
pub async fn picture(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    id: web::Path<Uuid>,
    asked: web::Query<PictureAsked>,
) -> Result<HttpResponse, ApiProblem> {
    let panel = store.one::<Made>(caller.visitor.bench.id, *id).await?.value.panel;
    let dpi = for_page(&panel, asked.dpi);
    let key = format!("made {} {dpi}", drawn_from(&panel));
    let file = room.made(caller.visitor.asker(), key, move || file_of(&panel.surface(), dpi, Pace::Balanced));
    let mut response = HttpResponse::Ok();
    response.content_type("image/png").insert_header((CACHE_CONTROL, "private, max-age=3600"));
    Ok(response.body(file.await?))
}

/// `GET /made/{id}/spare/{n}/picture.png`: a spare card as it came off the mat.
pub async fn spare(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    at: web::Path<(Uuid, u8)>,
    asked: web::Query<PictureAsked>,
) -> Result<HttpResponse, ApiProblem> {
    let (id, n) = at.into_inner();
    let made = store.one::<Made>(caller.visitor.bench.id, id).await?.value;
    let dpi = for_page(&made.panel, asked.dpi);
    let key = format!("spare {n} of {} {dpi}", drawn_from(&made.panel));
    let file = room.made(caller.visitor.asker(), key, move || {
        let panel = made.spare(n).ok_or(Problem::Missing("spare card"))?;
        file_of(&panel.surface(), dpi, Pace::Balanced)
    });
    let mut response = HttpResponse::Ok();
    response.content_type("image/png").insert_header((CACHE_CONTROL, "private, max-age=3600"));
    Ok(response.body(file.await?))
}

/// `POST /api/made/{id}/photo`: a photo of it, as it comes from a camera.
pub async fn photo(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    id: web::Path<Uuid>,
    Sending(sent): Sending,
) -> Result<HttpResponse, ApiProblem> {
    let bench = caller.visitor.bench.id;
    store.one::<Made>(bench, *id).await?;
    let kept = room.apart(caller.visitor.asker(), Errand::Photo, sent).await?;
    store.set_photo(bench, *id, Some(kept)).await?;
    Ok(HttpResponse::Ok().json(serde_json::json!({ "then": format!("/made/{}", *id) })))
}

/// `GET /made/photos/{photo}.jpg`.
pub async fn photo_file(
    caller: Caller,
    store: web::Data<Store>,
    photo: web::Path<Uuid>,
) -> Result<HttpResponse, ApiProblem> {
    let body = store.photo(caller.visitor.bench.id, *photo).await?;
    let mut response = HttpResponse::Ok();
    // A photo never changes: another has another number.
    response
        .content_type("image/jpeg")
        .insert_header((CACHE_CONTROL, "private, max-age=31536000, immutable"));
    Ok(response.body(body))
}

/// `GET /made/made.{ending}`: all of it, as a table (`csv`) or as `json`.
pub async fn file(
    caller: Caller,
    store: web::Data<Store>,
    ending: web::Path<String>,
) -> Result<HttpResponse, ApiProblem> {
    let made: Vec<Made> =
        store.all::<Made>(caller.visitor.bench.id).await?.into_iter().map(|kept| kept.value).collect();
    let (kind, body) = match ending.as_str() {
        "csv" => ("text/csv; charset=utf-8", files::write_made(made.iter())),
        "json" => ("application/json", serde_json::to_string_pretty(&made).unwrap_or_default()),
        _ => return Err(Problem::Missing("file").into()),
    };
    Ok(HttpResponse::Ok().content_type(kind).insert_header(attachment("made", &ending)).body(body))
}
