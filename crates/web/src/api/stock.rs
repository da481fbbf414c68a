//! The next batch planned on the stock there is, and its files.

use actix_web::http::header::CONTENT_DISPOSITION;
use actix_web::{HttpResponse, web};
use rosy_core::cut::{Batch, CutError, Plan, Sheet, SheetAsked, drawing};
use rosy_store::{Kept, Store};
use uuid::Uuid;

use super::card::FileAsked;
use super::picture::attachment;
use crate::drawing::{pdf, svg};
use crate::error::{ApiProblem, Problem};
use crate::files;
use crate::visitor::{Caller, Visitor};

/// The stock and the batch as kept, and the plan for them.
pub struct Stock {
    /// Sheets and offcuts, in the order they are asked with.
    pub sheets: Vec<Kept<Sheet>>,
    /// The next batch; none where none has been begun.
    pub batch: Option<Kept<Batch>>,
    /// What is asked.
    pub asked: SheetAsked,
    /// The plan, or why there is none; nothing where nothing is to be cut.
    pub plan: Option<Result<Plan, CutError>>,
}

/// Fetches the stock and plans the batch.
pub async fn stock(visitor: &Visitor, store: &Store) -> Result<Stock, Problem> {
    let bench = visitor.bench.id;
    let mut sheets = store.all::<Sheet>(bench).await?;
    sheets.sort_by(|a, b| {
        let key = |sheet: &Sheet| (sheet.offcut, sheet.paper.clone(), -sheet.area(), sheet.name.clone());
        key(&a.value).cmp(&key(&b.value)).then(a.id.cmp(&b.id))
    });
    let batch = store.all::<Batch>(bench).await?.into_iter().next();
    let pieces = batch.as_ref().map(|kept| kept.value.pieces.clone()).unwrap_or_default();
    let asked = SheetAsked {
        units: visitor.units(),
        pieces,
        sheets: sheets.iter().map(|kept| kept.value.clone()).collect(),
    };
    let plan = if asked.pieces.is_empty() {
        None
    } else {
        let question = asked.clone();
        let planned = web::block(move || question.answer()).await;
        Some(planned.map_err(|error| Problem::Away(error.to_string()))?)
    };
    Ok(Stock { sheets, batch, asked, plan })
}

/// `GET /stock/plan.{ending}`: every sheet at true scale as `pdf` or `svg`, or the cuts in order as `csv`.
pub async fn file(
    caller: Caller,
    store: web::Data<Store>,
    ending: web::Path<String>,
    wanted: web::Query<FileAsked>,
) -> Result<HttpResponse, ApiProblem> {
    let units = caller.visitor.units();
    let Stock { asked, plan, .. } = stock(&caller.visitor, &store).await?;
    let plan = plan.ok_or(Problem::Missing("batch"))?.map_err(|error| Problem::Refused(error.to_string()))?;
    let drawn: Vec<_> = plan.sheets.iter().map(|cut| drawing::sheet(cut, &asked, units)).collect();
    let (kind, body) = match ending.as_str() {
        "pdf" => ("application/pdf", pdf::pages("Next batch", &drawn, wanted.paper)),
        "svg" => ("image/svg+xml", svg::all_for_file(&drawn).into_bytes()),
        "csv" => ("text/csv; charset=utf-8", files::write_cuts(&plan, units).into_bytes()),
        _ => return Err(Problem::Missing("file").into()),
    };
    Ok(HttpResponse::Ok()
        .content_type(kind)
        .insert_header((CONTENT_DISPOSITION, attachment("next batch", &ending)))
        .body(body))
}

/// A number for what a page has shown, so that what is cut is what was seen.
pub fn seen(asked: &SheetAsked, sheets: &[Kept<Sheet>]) -> String {
    use std::hash::{DefaultHasher, Hash, Hasher};
    let mut hasher = DefaultHasher::new();
    serde_json::to_string(asked).unwrap_or_default().hash(&mut hasher);
    let ids: Vec<Uuid> = sheets.iter().map(|kept| kept.id).collect();
    ids.hash(&mut hasher);
    format!("{:016x}", hasher.finish())
}
