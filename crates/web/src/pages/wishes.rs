//! Where to begin: ready starting points in the maker's own inks, picked by their pictures.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::ink::Ink;
use rosy_store::Store;
use uuid::Uuid;

use super::{Frame, PanelHead, page};
use crate::error::PageProblem;
use crate::say;
use crate::state::State;
use crate::visitor::Visitor;

#[derive(Template)]
#[template(path = "wishes.html")]
struct WishesPage {
    frame: Frame,
    head: PanelHead,
    no_inks: bool,
    /// The panel's state, for the script.
    state: String,
}

/// `GET /panels/{id}/wishes`.
pub async fn show(
    visitor: Visitor,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let bench = visitor.bench.id;
    let state = store.panel(bench, *id).await?;
    let head = PanelHead::of(*id, &state.panel, "inks");
    let no_inks = store.count::<Ink>(bench).await? == 0;
    page(&WishesPage {
        frame: Frame::of(&visitor),
        head,
        no_inks,
        state: say::json_in_page(&State::from(state)),
    })
}
