//! The benches on this machine: whose things are out, and another maker's.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::Units;
use rosy_store::{Bench, Store};
use serde::Deserialize;
use uuid::Uuid;

use super::{Frame, page, refused, see};
use crate::demo;
use crate::error::{PageProblem, Problem};
use crate::visitor::{Nothing, Sent, Visitor};

#[derive(Template)]
#[template(path = "benches.html")]
struct BenchesPage {
    frame: Frame,
    benches: Vec<Bench>,
    here: Uuid,
    wrong: Option<String>,
    written: String,
}

async fn benches_page(visitor: &Visitor, store: &Store) -> Result<BenchesPage, PageProblem> {
    let (frame, here) = (Frame::of(visitor), visitor.bench.id);
    Ok(BenchesPage { frame, benches: store.benches().await?, here, wrong: None, written: String::new() })
}

/// `GET /benches`.
pub async fn show(visitor: Visitor, store: web::Data<Store>) -> Result<HttpResponse, PageProblem> {
    page(&benches_page(&visitor, &store).await?)
}

/// A bench to be set up.
#[derive(Deserialize)]
pub struct NewBench {
    name: String,
    units: Units,
}

/// `POST /benches`: sets up a bench with the papers and tools everyone has, and opens it.
pub async fn add(sent: Sent<NewBench>, store: web::Data<Store>) -> Result<HttpResponse, PageProblem> {
    let (visitor, form) = (sent.visitor, sent.form);
    match form.name.parse() {
        Ok(name) => {
            let bench = demo::bare_bench(&store, &name, form.units).await?;
            visitor.open(bench.id)?;
            Ok(see("/"))
        }
        Err(wrong) => refused(&BenchesPage {
            wrong: Some(wrong.to_string()),
            written: form.name,
            ..benches_page(&visitor, &store).await?
        }),
    }
}

/// `POST /benches/{id}/open`.
pub async fn open(
    sent: Sent<Nothing>,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let bench = store.bench(*id).await?.ok_or(Problem::Missing("bench"))?;
    sent.visitor.open(bench.id)?;
    Ok(see("/"))
}
