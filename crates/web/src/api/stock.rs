//! The next batch planned on the stock there is, and its files.

use actix_web::http::header::CONTENT_DISPOSITION;
use actix_web::{HttpResponse, web};
use rosy_core::cut::{Batch, CutError, Piece, Plan, Sheet, SheetAsked, drawing};
use rosy_store::{Change, Kept, Scope, Store, StoreError};
use serde::Deserialize;
use serde_json::json;
use uuid::Uuid;

use super::card::FileAsked;
use super::picture::attachment;
use crate::drawing::{pdf, svg};
use crate::error::{ApiProblem, Problem, sentence};
use crate::files;
use crate::visitor::{Caller, Read, Visitor};
use crate::workroom::Workroom;

/// Most of one thing counted or added at a time.
pub const MOST: u32 = 600;

/// The stock and the batch as kept, and the plan for them.
pub struct Stock {
    /// Every sheet and offcut there is.
    pub all: Vec<Kept<Sheet>>,
    /// Those the plan is made with, in the order they are asked with.
    pub sheets: Vec<Kept<Sheet>>,
    /// The next batch; none where none has been begun.
    pub batch: Option<Kept<Batch>>,
    /// What is asked.
    pub asked: SheetAsked,
    /// The plan, or why there is none; nothing where nothing is to be cut.
    pub plan: Option<Result<Plan, CutError>>,
}

/// Fetches the stock and plans the batch.
pub async fn stock(visitor: &Visitor, store: &Store, room: &Workroom) -> Result<Stock, Problem> {
    let bench = visitor.bench.id;
    let mut all = store.all::<Sheet>(bench).await?;
    all.sort_by(|a, b| {
        let key = |sheet: &Sheet| (sheet.offcut, sheet.paper.clone(), -sheet.area(), sheet.name.clone());
        key(&a.value).cmp(&key(&b.value)).then(a.id.cmp(&b.id))
    });
    let batch = store.all::<Batch>(bench).await?.into_iter().next();
    let gathered = batch.as_ref().map(|kept| kept.value.clone()).unwrap_or_default();
    let sheets = serving(&all, &gathered.pieces);
    let asked = SheetAsked {
        units: visitor.units(),
        pieces: gathered.pieces,
        sheets: sheets.iter().map(|kept| kept.value.clone()).collect(),
        keep: gathered.keep,
    };
    let plan = if asked.pieces.is_empty() { None } else { Some(planned(visitor, room, &asked).await?) };
    Ok(Stock { all, sheets, batch, asked, plan })
}

/// The sheets a plan is made with: all, or, where there are more kinds than are planned with, those that hold a piece, full
/// sheets before offcuts and the larger before the smaller.
fn serving(all: &[Kept<Sheet>], pieces: &[Piece]) -> Vec<Kept<Sheet>> {
    let most = rosy_core::cut::batch::MOST.2;
    if all.len() <= most {
        return all.to_vec();
    }
    let mut serving: Vec<&Kept<Sheet>> =
        all.iter().filter(|kept| pieces.iter().any(|piece| kept.value.holds(piece))).collect();
    serving.sort_by_key(|kept| (kept.value.offcut, -kept.value.area()));
    serving.truncate(most);
    serving.into_iter().cloned().collect()
}

/// The plan for a question, reckoned once for as long as it is not forgotten.
async fn planned(
    visitor: &Visitor,
    room: &Workroom,
    asked: &SheetAsked,
) -> Result<Result<Plan, CutError>, Problem> {
    // Refusals are told from the question itself, at once.
    if let Err(refused) = asked.check() {
        return Ok(Err(refused));
    }
    let key = format!("plan {}", serde_json::to_string(asked).unwrap_or_default());
    let question = asked.clone();
    let made = room.made(visitor.asker(), key, move || {
        let plan = question.answer().map_err(|error| Problem::Refused(sentence(&error.to_string())))?;
        serde_json::to_vec(&plan).map_err(|_| Problem::Broken)
    });
    match made.await {
        Ok(plan) => Ok(Ok(serde_json::from_slice(&plan).map_err(|_| Problem::Broken)?)),
        Err(Problem::Refused(_)) => Ok(Err(CutError::Offcuts)),
        Err(other) => Err(other),
    }
}

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
    let (units, paper, file) = (asked.told_in(), wanted.paper, ending.clone());
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
        .insert_header((CONTENT_DISPOSITION, attachment("next batch", &ending)))
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

/// Keeps a new count.
pub async fn count_off(store: &Store, bench: Uuid, id: Uuid, count: u32) -> Result<(), StoreError> {
    let before = store.one::<Sheet>(bench, id).await?.value;
    if before.count == Some(count) {
        return Ok(());
    }
    let sheet = Sheet { count: Some(count), ..before.clone() };
    let label = format!("count {} of {}", count, sheet.name);
    store.change(bench, Scope::Stock, &label, vec![Change::replace(id, &before, &sheet)?]).await
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
