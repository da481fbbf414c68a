//! A panel's inks: which two to five, and in which order they stand.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::Panel;
use rosy_core::ink::Ink;
use rosy_store::{Kept, Store};
use uuid::Uuid;

use super::drawer::{Shelf, shelves};
use super::{Frame, PanelHead, page};
use crate::api::panels::state;
use crate::error::PageProblem;
use crate::say;
use crate::visitor::Visitor;

#[derive(Template)]
#[template(path = "inks.html")]
struct InksPage {
    frame: Frame,
    head: PanelHead,
    shelves: Vec<Shelf>,
    /// The panel's state, for the script.
    state: String,
}

/// `GET /panels/{id}/inks`.
pub async fn show(
    visitor: Visitor,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let bench = visitor.bench.id;
    let Kept { value: panel, revision, .. } = store.one::<Panel>(bench, *id).await?;
    let inks = store.all::<Ink>(bench).await?;
    let head = PanelHead { id: id.to_string(), name: panel.name.to_string(), revision, here: "inks" };
    let state = say::json_in_page(&state(&store, bench, *id).await?);
    page(&InksPage { frame: Frame::of(&visitor), head, shelves: shelves(inks), state })
}
