//! A panel's card: its name, size, stock and tool.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::ink::{Paper, Tool};
use rosy_core::length::ParseIn;
use rosy_core::{Panel, Units};
use rosy_store::{Kept, Saved, Store};
use serde::Deserialize;
use uuid::Uuid;

use super::{Frame, PanelHead, page, refused, see};
use crate::api::panels::state;
use crate::error::PageProblem;
use crate::say::{self, Mark};
use crate::visitor::{Sent, Visitor};

#[derive(Template)]
#[template(path = "card.html")]
struct CardPage {
    frame: Frame,
    head: PanelHead,
    form: CardForm,
    wrong: Vec<(&'static str, String)>,
    papers: Vec<Choice>,
    tools: Vec<Choice>,
    across: Vec<Mark>,
    down: Vec<Mark>,
    /// The panel's state, for the script.
    state: String,
}

/// Something to choose, and whether it is.
struct Choice {
    value: String,
    says: String,
    chosen: bool,
}

/// The fields of the page as texts.
#[derive(Clone, Deserialize)]
pub struct CardForm {
    revision: i64,
    name: String,
    width: String,
    height: String,
    paper: String,
    tool: String,
}

impl CardPage {
    fn wrong_with(&self, field: &str) -> Option<&str> {
        self.wrong.iter().find(|(known, _)| *known == field).map(|(_, says)| says.as_str())
    }
}

/// What stays as it is on the panel.
const AS_IT_IS: &str = "as it is";

async fn card_page(
    visitor: &Visitor,
    store: &Store,
    id: Uuid,
    kept: Kept<Panel>,
    written: Option<CardForm>,
    wrong: Vec<(&'static str, String)>,
) -> Result<CardPage, PageProblem> {
    let (bench, units) = (visitor.bench.id, visitor.units());
    let panel = kept.value;
    let papers = store.all::<Paper>(bench).await?;
    let tools = store.all::<Tool>(bench).await?;
    let on_panel = |says: String| Choice { value: AS_IT_IS.into(), says, chosen: true };
    let mut paper_choices = vec![on_panel(format!("{}, {}", panel.paper.name, panel.paper.surface.words()))];
    for Kept { id, value, .. } in papers.into_iter().rev().filter(|kept| kept.value != panel.paper) {
        let says = format!("{}, {}", value.name, value.surface.words());
        paper_choices.push(Choice { value: id.to_string(), says, chosen: false });
    }
    let mut tool_choices = vec![on_panel(format!("{}, {}", panel.tool.name, panel.tool.kind.words()))];
    for Kept { id, value, .. } in tools.into_iter().rev().filter(|kept| kept.value != panel.tool) {
        let says = format!("{}, {}", value.name, value.kind.words());
        tool_choices.push(Choice { value: id.to_string(), says, chosen: false });
    }
    let form = written.unwrap_or_else(|| CardForm {
        revision: kept.revision,
        name: panel.name.to_string(),
        width: panel.width.shown(units).number(),
        height: panel.height.shown(units).number(),
        paper: AS_IT_IS.into(),
        tool: AS_IT_IS.into(),
    });
    Ok(CardPage {
        frame: Frame::of(visitor),
        head: PanelHead {
            id: id.to_string(),
            name: panel.name.to_string(),
            revision: kept.revision,
            here: "card",
        },
        form,
        wrong,
        papers: paper_choices,
        tools: tool_choices,
        across: say::ruler(panel.width, units),
        down: say::ruler(panel.height, units),
        state: say::json_in_page(&state(store, bench, id).await?),
    })
}

/// `GET /panels/{id}/card`.
pub async fn show(
    visitor: Visitor,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let kept = store.one::<Panel>(visitor.bench.id, *id).await?;
    page(&card_page(&visitor, &store, *id, kept, None, Vec::new()).await?)
}

/// The panel as the form wants it, or what is wrong with which field.
fn read(
    form: &CardForm,
    panel: &Panel,
    paper: Option<Paper>,
    tool: Option<Tool>,
    units: Units,
) -> Result<Panel, Vec<(&'static str, String)>> {
    let mut wrong: Vec<(&'static str, String)> = Vec::new();
    let name = form.name.parse().map_err(|error| wrong.push(("name", format!("{error}")))).ok();
    // A length left as it was shown stays exactly what it was, however it is shown.
    let mut side = |field: &'static str, text: &str, was: rosy_core::Length| {
        if text.trim() == was.shown(units).number() {
            return Some(was);
        }
        text.parse_in(units).map_err(|error| wrong.push((field, error.to_string()))).ok()
    };
    let (width, height) =
        (side("width", &form.width, panel.width), side("height", &form.height, panel.height));
    let (Some(name), Some(width), Some(height)) = (name, width, height) else {
        return Err(wrong);
    };
    let mut changed = panel.clone().resized(width, height);
    changed.name = name;
    changed.paper = paper.unwrap_or(changed.paper);
    changed.tool = tool.unwrap_or(changed.tool);
    match changed.check() {
        Ok(()) => Ok(changed),
        Err(error @ rosy_core::panel::PanelError::Side { side, .. }) => Err(vec![(side, error.to_string())]),
        Err(error) => Err(vec![("name", error.to_string())]),
    }
}

/// `POST /panels/{id}/card`.
pub async fn save(
    sent: Sent<CardForm>,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let (visitor, form) = (sent.visitor, sent.form);
    let bench = visitor.bench.id;
    let kept = store.one::<Panel>(bench, *id).await?;
    let paper = match form.paper.parse() {
        Ok(paper) => Some(store.one::<Paper>(bench, paper).await?.value),
        Err(_) => None,
    };
    let tool = match form.tool.parse() {
        Ok(tool) => Some(store.one::<Tool>(bench, tool).await?.value),
        Err(_) => None,
    };
    match read(&form, &kept.value, paper, tool, visitor.units()) {
        Ok(panel) => match store.save_panel(bench, *id, form.revision, &panel, "change the card").await? {
            Saved::Kept(_) => Ok(see(format!("/panels/{id}/card"))),
            Saved::Beside { id, .. } => Ok(see(format!("/panels/{id}/card"))),
        },
        Err(wrong) => refused(&card_page(&visitor, &store, *id, kept, Some(form), wrong).await?),
    }
}
