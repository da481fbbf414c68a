//! A panel's blend: the picture, the hills along it, what will go wrong and what mends it.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::Units;
use rosy_core::blend::Direction;
use rosy_store::Store;
use uuid::Uuid;

use super::{Frame, PanelHead, page};
use crate::api::panels::State;
use crate::error::PageProblem;
use crate::say::{self, Mark};
use crate::visitor::Visitor;

#[derive(Template)]
#[template(path = "blend.html")]
struct BlendPage {
    frame: Frame,
    head: PanelHead,
    few_inks: bool,
    across: Vec<Mark>,
    down: Vec<Mark>,
    ratio: String,
    /// Width in inches, by which the script chooses the picture's fineness.
    inches: String,
    directions: Vec<(String, &'static str)>,
    /// The panel's state, for the script.
    state: String,
    /// The step that a handle moves by, as a text that lengths are read from: `n` of these.
    step: (&'static str, &'static str),
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
    let directions = Direction::ALL
        .into_iter()
        .map(|direction| {
            let key = serde_json::to_value(direction).ok().and_then(|key| key.as_str().map(str::to_owned));
            (key.unwrap_or_default(), direction.words())
        })
        .collect();
    page(&BlendPage {
        frame: Frame::of(&visitor),
        head: PanelHead::of(*id, &panel, "blend"),
        few_inks: panel.inks.len() < 2,
        across: say::ruler(panel.width, units),
        down: say::ruler(panel.height, units),
        ratio: format!("{:.4}", panel.width.ratio(panel.height)),
        inches: format!("{:.4}", panel.width.inches()),
        directions,
        state: say::json_in_page(&State::from(state)),
        step: match units {
            Units::Inches => ("1/8 in", "0.125"),
            Units::Millimetres => ("1 mm", "0.0393700787"),
        },
    })
}
