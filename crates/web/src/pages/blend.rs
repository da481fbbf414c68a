//! A panel's blend: the picture, the hills along it, what will go wrong and what mends it.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::blend::Way;
use rosy_store::Store;
use uuid::Uuid;

use super::{Frame, PanelHead, page};
use crate::error::PageProblem;
use crate::say::{self, Mark};
use crate::state::State;
use crate::visitor::Visitor;

#[derive(Template)]
#[template(path = "blend.html")]
struct BlendPage {
    frame: Frame,
    head: PanelHead,
    no_inks: bool,
    across: Vec<Mark>,
    down: Vec<Mark>,
    ratio: String,
    /// Width in inches, by which the script chooses the picture's fineness.
    inches: String,
    /// The ways a blend may be turned to, for the script and in words.
    ways: String,
    way_words: Vec<&'static str>,
    /// The panel's state, for the script.
    state: String,
}

/// `GET /panels/{id}/blend`.
pub async fn show(
    visitor: Visitor,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let (bench, units) = (visitor.bench.id, visitor.units());
    let state = store.panel(bench, *id).await?;
    let panel = state.panel.clone();
    let ways = Way::offered(panel.size(), units);
    page(&BlendPage {
        frame: Frame::of(&visitor),
        head: PanelHead::of(*id, &panel, "blend"),
        no_inks: panel.inks.is_empty(),
        across: say::ruler(panel.width, units),
        down: say::ruler(panel.height, units),
        ratio: format!("{:.4}", panel.width.ratio(panel.height)),
        inches: format!("{:.4}", panel.width.inches()),
        way_words: ways.iter().map(|way| way.words()).collect(),
        ways: say::json_in_page(&ways),
        state: say::json_in_page(&State::from(state)),
    })
}
