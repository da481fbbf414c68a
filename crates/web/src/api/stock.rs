//! The next batch planned on the stock there is, and its files.

use actix_web::{HttpResponse, web};
use rosy_core::cut::drawing;
use rosy_store::Store;
use serde::Deserialize;
use serde_json::json;
use uuid::Uuid;

use super::card::FileAsked;
use crate::drawing::{pdf, svg};
use crate::error::{ApiProblem, Problem, sentence};
use crate::files;
use crate::files::attachment;
use crate::stock::{MOST, Stock, count_off, stock};
use crate::visitor::{Caller, Read};
use crate::workroom::Workroom;

/// `GET /stock/plan.{ending}`: every sheet at true scale as `pdf` or `svg`, or the cuts in order as `csv`.
pub async fn file(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    ending: web::Path<String>,
    wanted: web::Query<FileAsked>,
) -> Result<HttpResponse, ApiProblem> {
    let Stock { asked, plan, .. } = stock(&caller.visitor, &store, &room).await?;
    let plan = plan.ok_or(Problem::Missing("batch"))?;
    let plan = plan.map_err(|error| Problem::Refused(sentence(&error.to_string())))?;
    let kind = match ending.as_str() {
        "pdf" => "application/pdf",
        "svg" => "image/svg+xml",
        "csv" => "text/csv; charset=utf-8",
        _ => return Err(Problem::Missing("file").into()),
    };
    let (units, file) = (asked.told_in(), ending.clone());
    let paper = caller.visitor.paper(wanted.paper)?;
    let body = room.done(caller.visitor.asker(), move || {
        let drawn: Vec<_> = plan.sheets.iter().map(|cut| drawing::sheet(cut, &asked, units)).collect();
        match file.as_str() {
            "pdf" => pdf::pages("Next batch", &drawn, paper),
            "svg" => svg::all_for_file(&drawn).into_bytes(),
            _ => files::write_cuts(&plan, units).into_bytes(),
        }
    });
    Ok(HttpResponse::Ok()
        .content_type(kind)
        .insert_header(attachment("next batch", &ending))
        .body(body.await?))
}

/// How many sheets there are now, and what the page had shown.
#[derive(Deserialize)]
pub struct Count {
    count: u32,
}

/// `PUT /api/stock/sheets/{id}`: how many there are now, as soon as it is written.
pub async fn count(
    caller: Caller,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
    Read(Count { count }): Read<Count>,
) -> Result<HttpResponse, ApiProblem> {
    if count > MOST {
        return Err(Problem::Refused(format!("{count} sheets: count at most {MOST}.")).into());
    }
    count_off(&store, caller.visitor.bench.id, *id, count).await?;
    Ok(HttpResponse::Ok().json(json!({ "count": count })))
}
