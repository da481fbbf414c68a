//! A panel's inks: which two to five, and in which order they stand.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::ink::Ink;
use rosy_store::Store;
use uuid::Uuid;

use super::drawer::{Found, Wanted};
use super::{Frame, PanelHead, page};
use crate::api::panels::State;
use crate::error::PageProblem;
use crate::say;
use crate::visitor::Visitor;
use crate::workroom::Workroom;

#[derive(Template)]
#[template(path = "inks.html")]
struct InksPage {
    frame: Frame,
    head: PanelHead,
    found: Found,
    /// The panel's state, for the script.
    state: String,
}

/// `GET /panels/{id}/inks`.
pub async fn show(
    visitor: Visitor,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
    room: web::Data<Workroom>,
    wanted: web::Query<Wanted>,
) -> Result<HttpResponse, PageProblem> {
    let bench = visitor.bench.id;
    let state = store.panel(bench, *id).await?;
    let panel = state.panel.clone();
    let inks = store.all::<Ink>(bench).await?;
    let head = PanelHead::of(*id, &panel, "inks");
    let state = say::json_in_page(&State::from(state));
    let found = Found::of(&visitor, &room, inks, &wanted, &format!("/panels/{}/inks", *id)).await?;
    page(&InksPage { frame: Frame::of(&visitor), head, found, state })
}
