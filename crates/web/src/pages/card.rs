//! A panel's card: its format, layers, inking size, trim and thickness, drawn to scale.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::card::{Fold, Format};
use rosy_core::edges::known_size;
use rosy_core::ink::{Paper, Tool};
use rosy_core::shape::Shape;
use rosy_store::Store;
use serde::Serialize;
use uuid::Uuid;

use super::{Frame, PanelHead, page};
use crate::error::PageProblem;
use crate::say;
use crate::state::State;
use crate::visitor::OnPanel;

#[derive(Template)]
#[template(path = "card.html")]
struct CardPage {
    frame: Frame,
    head: PanelHead,
    /// What can be chosen, for the script.
    choices: String,
    folds: Vec<(String, &'static str)>,
    /// Shapes that a piece can be cut to: their numbers and names.
    shapes: Vec<(String, String)>,
    /// The panel's state, for the script.
    state: String,
}

/// Something to choose: what it says, and itself.
#[derive(Serialize)]
struct Choice<T> {
    says: String,
    value: T,
}

#[derive(Serialize)]
struct Choices {
    formats: Vec<Choice<Format>>,
    papers: Vec<Choice<Paper>>,
    tools: Vec<Choice<Tool>>,
    /// Shapes that can be cut through a layer, by their numbers.
    shapes: Vec<Choice<Uuid>>,
}

/// `GET /panels/{id}/card`.
pub async fn show(
    OnPanel { visitor, id, state }: OnPanel,
    store: web::Data<Store>,
) -> Result<HttpResponse, PageProblem> {
    let (bench, units) = (visitor.bench.id, visitor.units());
    let panel = state.panel.clone();
    let own = store.all::<Format>(bench).await?.into_iter().map(|kept| kept.value);
    let mut formats: Vec<Format> = own.chain(Format::usual()).collect();
    // The maker's own first, then those of her system of measure.
    let whole = |format: &Format| format.width.div_rem(units.pencil()).1 != rosy_core::Length::ZERO;
    formats.sort_by_key(whole);
    let format = |value: Format| {
        let says = format!("{}, {}", value.name, known_size(value.width, value.height, units));
        Choice { says, value }
    };
    let papers = store.all::<Paper>(bench).await?.into_iter().rev().map(|kept| kept.value);
    let tools = store.all::<Tool>(bench).await?.into_iter().rev().map(|kept| kept.value);
    let shapes: Vec<(Uuid, Shape)> =
        store.all::<Shape>(bench).await?.into_iter().map(|kept| (kept.id, kept.value)).collect();
    let named = shapes.iter().map(|(id, shape)| (id.to_string(), shape.name.to_string())).collect();
    let shape = |(value, shape): (Uuid, Shape)| Choice { says: shape.name.to_string(), value };
    let choices = Choices {
        shapes: shapes.into_iter().map(shape).collect(),
        formats: formats.into_iter().map(format).collect(),
        papers: papers
            .map(|value| Choice { says: format!("{}, {}", value.name, value.surface.words()), value })
            .collect(),
        tools: tools
            .map(|value| Choice { says: format!("{}, {}", value.name, value.kind.words()), value })
            .collect(),
    };
    let word = |fold: Fold| serde_json::to_value(fold).ok().and_then(|v| v.as_str().map(str::to_owned));
    page(&CardPage {
        frame: Frame::of(&visitor),
        head: PanelHead::of(id, &panel, "card"),
        choices: say::json_in_page(&choices),
        folds: Fold::ALL.into_iter().map(|fold| (word(fold).unwrap_or_default(), fold.words())).collect(),
        shapes: named,
        state: say::json_in_page(&State::from(state)),
    })
}
