//! A panel's run sheet: each step with its picture, to be ticked off at the bench or printed.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::moves::light_passes;
use rosy_core::order::{RunSheet, Step};
use rosy_store::Store;
use uuid::Uuid;

use super::{Frame, PanelHead, page, size};
use crate::api::panels::State;
use crate::error::PageProblem;
use crate::say;
use crate::visitor::Visitor;

#[derive(Template)]
#[template(path = "sheet.html")]
struct SheetPage {
    frame: Frame,
    head: PanelHead,
    few_inks: bool,
    sheet: RunSheet,
    school: &'static str,
    /// What the inking costs, in words.
    cost: String,
    size: String,
    paper: String,
    tool: String,
    inks: Vec<(String, String)>,
    /// Pixels to the inch of a step's picture.
    dpi: u32,
    state: String,
}

impl SheetPage {
    fn colour_of(&self, step: &Step) -> Option<&str> {
        step.ink.and_then(|ink| self.inks.get(ink)).map(|(_, colour)| colour.as_str())
    }
}

/// `GET /panels/{id}/sheet`.
pub async fn show(
    visitor: Visitor,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let (bench, units) = (visitor.bench.id, visitor.units());
    let state = store.panel(bench, *id).await?;
    let panel = state.panel.clone();
    let colour = |ink: &rosy_core::ink::Ink| ink.lab().on_screen(Default::default()).0.to_string();
    let sheet = RunSheet::of(&panel, units);
    page(&SheetPage {
        frame: Frame::of(&visitor),
        cost: cost(&sheet),
        head: PanelHead::of(*id, &panel, "sheet"),
        few_inks: panel.inks.len() < 2,
        sheet,
        school: panel.school.words(),
        size: size(&panel, units),
        paper: panel.paper.name.to_string(),
        tool: panel.tool.name.to_string(),
        inks: panel.inks.iter().map(|ink| (format!("{}, {}", ink.name, ink.kind), colour(ink))).collect(),
        dpi: (260.0 / panel.height.inches()).round().clamp(20.0, 120.0) as u32,
        state: say::json_in_page(&State::from(state)),
    })
}

fn cost(sheet: &RunSheet) -> String {
    let many = |n: usize, one: &str| if n == 1 { format!("1 {one}") } else { format!("{n} {one}s") };
    format!(
        "{} in {}, {}, about {} of inking.",
        light_passes(sheet.cost.veils),
        many(sheet.cost.rounds.into(), "round"),
        many(sheet.cost.changes, "ink change"),
        many(sheet.cost.minutes as usize, "minute")
    )
}
