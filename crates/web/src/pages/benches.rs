//! The benches on this machine: whose things are out, and another maker's.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::Units;
use rosy_core::ink::{DrawerError, Name};
use rosy_store::{Bench, Store};
use serde::Deserialize;
use uuid::Uuid;

use super::{Frame, Renaming, page, refused, see};
use crate::error::{PageProblem, Problem, sentence};
use crate::say::many;
use crate::visitor::{Nothing, Sent, Visitor};

#[derive(Template)]
#[template(path = "benches.html")]
struct BenchesPage {
    frame: Frame,
    benches: Vec<Bench>,
    away: Vec<Bench>,
    here: Uuid,
    /// How many changes of a bench that was brought in were left out.
    left: Option<String>,
    wrong: Option<String>,
    written: String,
}

/// What there is to say of a bench that was brought in.
#[derive(Default, Deserialize)]
#[serde(default)]
pub struct BroughtIn {
    left: usize,
}

async fn benches_page(visitor: &Visitor, store: &Store) -> Result<BenchesPage, PageProblem> {
    let (frame, here) = (Frame::of(visitor), visitor.bench.id);
    let (benches, away) = (store.benches().await?, store.removed_benches().await?);
    Ok(BenchesPage { frame, benches, away, here, left: None, wrong: None, written: String::new() })
}

/// `GET /benches`.
pub async fn show(
    visitor: Visitor,
    store: web::Data<Store>,
    brought: web::Query<BroughtIn>,
) -> Result<HttpResponse, PageProblem> {
    let left = (brought.left > 0).then(|| many(brought.left, "change"));
    page(&BenchesPage { left, ..benches_page(&visitor, &store).await? })
}

/// A bench to be set up.
#[derive(Deserialize)]
pub struct NewBench {
    #[serde(default)]
    name: String,
    #[serde(default)]
    units: Units,
}

/// `POST /benches`: sets up a bare bench and opens it.
pub async fn add(sent: Sent<NewBench>, store: web::Data<Store>) -> Result<HttpResponse, PageProblem> {
    let (visitor, form) = (sent.visitor, sent.form);
    match form.name.parse() {
        Ok::<Name, DrawerError>(name) => {
            let bench = store.add_bench(&name, form.units).await?;
            visitor.open(bench.id)?;
            Ok(see("/"))
        }
        Err(wrong) => refused(&BenchesPage {
            wrong: Some(sentence(&wrong.to_string())),
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

/// `POST /benches/{id}/name`.
pub async fn rename(
    sent: Sent<Renaming>,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    store.rename_bench(*id, &sent.form.read()?).await?;
    Ok(see("/benches"))
}

/// `POST /benches/{id}/away`: puts it away with everything on it.
pub async fn put_away(
    sent: Sent<Nothing>,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let _ = sent;
    store.set_bench_removed(*id, true).await?;
    Ok(see("/benches"))
}

/// `POST /benches/{id}/back`: takes it out again.
pub async fn bring_back(
    sent: Sent<Nothing>,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let _ = sent;
    store.set_bench_removed(*id, false).await?;
    Ok(see("/benches"))
}
