//! A panel's blend: the picture, the hills along it, what will go wrong and what mends it.

use actix_web::HttpResponse;
use askama::Template;
use rosy_core::blend::Way;

use super::{Frame, PanelHead, Scale, page};
use crate::error::PageProblem;
use crate::say;
use crate::state::State;
use crate::visitor::OnPanel;

#[derive(Template)]
#[template(path = "blend.html")]
struct BlendPage {
    frame: Frame,
    head: PanelHead,
    no_inks: bool,
    scale: Scale,
    /// The ways a blend may be turned to, for the script and in words.
    ways: String,
    way_words: Vec<&'static str>,
    /// The panel's state, for the script.
    state: String,
}

/// `GET /panels/{id}/blend`.
pub async fn show(OnPanel { visitor, id, state }: OnPanel) -> Result<HttpResponse, PageProblem> {
    let units = visitor.units();
    let panel = state.panel.clone();
    let ways = Way::offered(panel.size(), units);
    page(&BlendPage {
        frame: Frame::of(&visitor),
        head: PanelHead::of(id, &panel, "blend"),
        no_inks: panel.inks.is_empty(),
        scale: Scale::of(&panel, units),
        way_words: ways.iter().map(|way| way.words()).collect(),
        ways: say::json_in_page(&ways),
        state: say::json_in_page(&State::from(state)),
    })
}
