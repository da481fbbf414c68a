//! `POST /api/inks`: inks from a CSV or JSON file into the drawer, all or none.

use actix_web::{HttpResponse, web};
use rosy_store::{Change, Scope, Store, StoreError};
use serde_json::json;
use uuid::Uuid;

use crate::error::{ApiProblem, Problem};
use crate::files;
use crate::visitor::Caller;

/// Reads the file.
pub async fn read(caller: Caller, store: web::Data<Store>, text: String) -> Result<HttpResponse, ApiProblem> {
    let inks = files::read_inks(&text).map_err(Problem::Refused)?;
    let added: Result<Vec<Change>, StoreError> =
        inks.iter().map(|ink| Change::add(Uuid::now_v7(), ink)).collect();
    let label = format!("read {} inks from a file", inks.len());
    store.change(caller.visitor.bench.id, Scope::Drawer, &label, added?).await?;
    Ok(HttpResponse::Created().json(json!({ "added": inks.len() })))
}
