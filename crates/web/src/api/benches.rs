//! A whole bench as one archive, out and in.

use actix_web::http::header::CONTENT_DISPOSITION;
use actix_web::{HttpResponse, web};
use rosy_store::Store;

use super::picture::attachment;
use crate::archive;
use crate::error::{ApiProblem, Problem, sentence};
use crate::visitor::{Caller, Sending};
use crate::workroom::Workroom;

/// `GET /benches/bench.zip`: the bench that is open, with all that is on it.
pub async fn take_out(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
) -> Result<HttpResponse, ApiProblem> {
    let bench = caller.visitor.bench.clone();
    let whole = store.whole_bench(bench.id).await?;
    let mut photos = Vec::with_capacity(whole.photos.len());
    for id in &whole.photos {
        photos.push((*id, store.photo(bench.id, *id).await?));
    }
    let written = room.done(caller.visitor.asker(), move || archive::written(&whole, &photos)).await?;
    let written = written.map_err(|error| Problem::Away(error.to_string()))?;
    Ok(HttpResponse::Ok()
        .content_type("application/zip")
        .insert_header((CONTENT_DISPOSITION, attachment(&bench.name, "zip")))
        .body(written))
}

/// `POST /api/benches`: a bench set up from its archive, and opened.
pub async fn bring_in(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    Sending(sent): Sending,
) -> Result<HttpResponse, ApiProblem> {
    let read = room.done(caller.visitor.asker(), move || archive::read(&sent)).await?;
    let (mut whole, photos) = read.map_err(|error| Problem::Refused(sentence(&error.to_string())))?;
    if store.benches().await?.iter().any(|bench| bench.name == whole.name.as_str()) {
        whole.name = whole.name.with_tail(", brought in");
    }
    let bench = store.bring_bench(whole, photos).await?;
    caller.visitor.open(bench.id)?;
    Ok(HttpResponse::Ok().json(serde_json::json!({ "then": "/" })))
}
