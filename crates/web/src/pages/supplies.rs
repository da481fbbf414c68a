//! Supplies: what is left of inks, powder, masking sheet and tape, counted down with each card that goes into the record.

use std::collections::BTreeMap;

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::Panel;
use rosy_core::ink::Ink;
use rosy_core::supply::{Of, Shelf, Supply, taken_by};
use rosy_store::{Change, Scope, Store, StoreError};
use serde::Deserialize;
use uuid::Uuid;

use super::{Frame, cover, page, see};
use crate::error::{PageProblem, Problem};
use crate::visitor::{Nothing, Sent, Visitor};

/// How full one can be seen to be, in per cent and in words.
const SEEN: [(u8, &str); 5] =
    [(100, "full"), (75, "three quarters"), (50, "half"), (25, "a quarter"), (8, "nearly gone")];

struct Row {
    /// What it is, as the form names it.
    of: String,
    name: String,
    colour: Option<String>,
    /// Per cent that are left.
    left: u8,
    says: String,
    is_low: bool,
}

#[derive(Template)]
#[template(path = "supplies.html")]
struct SuppliesPage {
    frame: Frame,
    rows: Vec<Row>,
    low: Vec<String>,
    /// Inks of the drawer that are not counted yet.
    uncounted: usize,
    seen: [(u8, &'static str); 5],
    undo: Option<String>,
    redo: Option<String>,
}

/// How much is left, in words.
fn left(supply: &Supply) -> String {
    match (100.0 * supply.left()).round() as u8 {
        100 => "full".into(),
        0 => "by the reckoning there is none left".into(),
        percent => format!("about {percent} % left"),
    }
}

/// What there is not enough of for some cards, in sentences.
pub fn short(shelf: &Shelf, panels: &[Panel]) -> Vec<String> {
    let mut all: BTreeMap<Of, f64> = BTreeMap::new();
    for (of, amount) in panels.iter().flat_map(taken_by) {
        *all.entry(of).or_default() += amount;
    }
    let says = |supply: &Supply| format!("There may not be enough {}: {}.", supply.of.name(), left(supply));
    shelf.short_of(&all).into_iter().map(says).collect()
}

/// The change by which what some cards took is gone from a bench's shelf; none where nothing of it is counted.
pub async fn taken(store: &Store, bench: Uuid, panels: &[Panel]) -> Result<Option<Change>, StoreError> {
    let (id, before) = store.only::<Shelf>(bench).await?;
    let Some(id) = id else { return Ok(None) };
    let after = panels.iter().fold(before.clone(), |shelf, panel| shelf.less(&taken_by(panel)));
    if after == before { Ok(None) } else { Change::replace(id, &before, &after).map(Some) }
}

/// `GET /supplies`.
pub async fn show(visitor: Visitor, store: web::Data<Store>) -> Result<HttpResponse, PageProblem> {
    let bench = visitor.bench.id;
    let shelf = store.only::<Shelf>(bench).await?.1;
    let inks: Vec<Ink> = store.all::<Ink>(bench).await?.into_iter().map(|kept| kept.value).collect();
    let is_counted = |ink: &Ink| shelf.0.iter().any(|supply| supply.of == Of::Ink(ink.name.clone()));
    let row = |supply: &Supply| Row {
        of: serde_json::to_string(&supply.of).unwrap_or_default(),
        name: supply.of.name(),
        colour: match &supply.of {
            Of::Ink(name) => inks.iter().find(|ink| ink.name == *name).map(|ink| cover::pip(ink).1),
            _ => None,
        },
        left: (100.0 * supply.left()).round() as u8,
        says: left(supply),
        is_low: supply.is_low(),
    };
    // What runs low comes first.
    let mut by_need: Vec<&Supply> = shelf.0.iter().collect();
    by_need.sort_by_key(|supply| !supply.is_low());
    let (undo, redo) = store.undoable(bench, Scope::Stock).await?;
    page(&SuppliesPage {
        rows: by_need.into_iter().map(row).collect(),
        low: shelf.0.iter().filter(|supply| supply.is_low()).map(|supply| supply.of.name()).collect(),
        uncounted: inks.iter().filter(|ink| !is_counted(ink)).count(),
        seen: SEEN,
        undo,
        redo,
        frame: Frame::of(&visitor),
    })
}

async fn changed(
    store: &Store,
    bench: Uuid,
    label: &str,
    with: impl FnOnce(&Shelf) -> Result<Shelf, Problem>,
) -> Result<HttpResponse, PageProblem> {
    let known = store.only::<Shelf>(bench).await?;
    let after = with(&known.1)?;
    store.put_only(bench, Scope::Stock, label, (known, &after)).await?;
    Ok(see("/supplies"))
}

/// `POST /supplies`: everything in the drawer is counted from now on, as if it were new.
pub async fn count(sent: Sent<Nothing>, store: web::Data<Store>) -> Result<HttpResponse, PageProblem> {
    let bench = sent.visitor.bench.id;
    let inks = store.all::<Ink>(bench).await?;
    changed(&store, bench, "count what is left", |shelf| {
        // The oldest first, as they stand in the drawer.
        Ok(shelf.with_inks(inks.iter().rev().map(|kept| &kept.value.name)))
    })
    .await
}

/// What is told of one.
#[derive(Deserialize)]
pub struct SupplyTold {
    /// What it is.
    of: String,
    /// A new one is opened, or it is counted no more; else how full it is seen to be.
    #[serde(default)]
    deed: String,
    #[serde(default)]
    left: Option<u8>,
}

/// `POST /supplies/told`: a new one is opened, it is seen how full one is, or it is counted no more.
pub async fn told(sent: Sent<SupplyTold>, store: web::Data<Store>) -> Result<HttpResponse, PageProblem> {
    let (bench, SupplyTold { of, deed, left }) = (sent.visitor.bench.id, sent.form);
    let gone = || Problem::Missing("supply");
    let of: Of = serde_json::from_str(&of).map_err(|_| gone())?;
    let label = format!("count {}", of.name());
    changed(&store, bench, &label, |shelf| {
        let mut shelf = shelf.clone();
        let at = shelf.0.iter().position(|supply| supply.of == of).ok_or_else(gone)?;
        match (deed.as_str(), left) {
            ("open", _) => shelf.0[at] = shelf.0[at].opened(),
            ("drop", _) => drop(shelf.0.remove(at)),
            (_, Some(left)) => shelf.0[at] = shelf.0[at].seen(f64::from(left.min(100)) / 100.0),
            _ => return Err(gone()),
        }
        Ok(shelf)
    })
    .await
}
