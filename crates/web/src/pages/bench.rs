//! The bench: the panels with their pictures and what is next for each; a new one in two clicks.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::blend::Reading;
use rosy_core::ink::{Paper, Tool};
use rosy_core::length::ParseIn;
use rosy_core::order::RunSheet;
use rosy_core::{Length, Panel, Units};
use rosy_store::{Kept, Scope, Store};
use serde::Deserialize;
use uuid::Uuid;

use super::{Frame, page, refused, see, size};
use crate::demo;
use crate::error::PageProblem;
use crate::visitor::{Nothing, Sent, Visitor};

#[derive(Template)]
#[template(path = "bench.html")]
struct BenchPage {
    frame: Frame,
    panels: Vec<Row>,
    sizes: Vec<SizeOffered>,
    undo: Option<String>,
    redo: Option<String>,
    /// What was wrong with a size written by hand, and what was written.
    wrong: Option<String>,
    written: (String, String),
}

struct Row {
    id: String,
    name: String,
    size: String,
    inks: String,
    next: String,
    /// The page to do it on.
    page: &'static str,
    revision: i64,
    dpi: u32,
    bare: bool,
}

/// A size in one click.
struct SizeOffered {
    width: String,
    height: String,
    shown: String,
    says: &'static str,
}

/// Panels for the usual bases, with 1/8 in of the base showing (or 3 mm), and the slim one.
fn sizes(units: Units) -> Vec<SizeOffered> {
    let eighths = Length::from_64ths(8);
    let tenths = Length::from_tenths_mm;
    let offered = match units {
        Units::Inches => [
            (eighths * 32, eighths * 42, "for the usual folded card, 1/8 showing all round"),
            (eighths * 34, eighths * 44, "the whole front of the usual card"),
            (eighths * 36, eighths * 46, "inked over size, to be trimmed to 4 × 5 1/4"),
            (eighths * 28, eighths * 68, "for a slim card"),
        ],
        Units::Millimetres => [
            (tenths(990), tenths(1420), "for a folded A6 card, 3 mm showing all round"),
            (tenths(1050), tenths(1480), "the whole front of an A6 card"),
            (tenths(1120), tenths(1550), "inked over size, to be trimmed to 99 × 142"),
            (tenths(890), tenths(1990), "for a slim card"),
        ],
    };
    offered
        .into_iter()
        .map(|(width, height, says)| SizeOffered {
            width: width.to_string(),
            height: height.to_string(),
            shown: format!("{} × {}", width.shown(units).number(), height.shown(units)),
            says,
        })
        .collect()
}

/// What a panel waits for, and the page to do it on.
fn next(panel: &Panel, units: Units) -> (String, &'static str) {
    match panel.inks.len() {
        0 => return ("Choose two to five inks".into(), "inks"),
        1 => return ("Choose at least one more ink".into(), "inks"),
        _ => {}
    }
    let steps = RunSheet::of(panel, units).steps;
    if let Some(step) = steps.get(panel.done).filter(|_| panel.done > 0) {
        return (format!("Step {} of {}: {}", panel.done + 1, steps.len(), step.title), "sheet");
    }
    if panel.done >= steps.len() {
        return ("Done".into(), "sheet");
    }
    let findings = Reading::of(&panel.materials()).findings;
    match findings.as_slice() {
        [] => (format!("Ready to lay, {} steps", steps.len()), "sheet"),
        [one] => (one.says.clone(), "blend"),
        [first, rest @ ..] => (format!("{} And {} more to look at.", first.says, rest.len()), "blend"),
    }
}

async fn bench_page(visitor: &Visitor, store: &Store) -> Result<BenchPage, PageProblem> {
    let units = visitor.units();
    let panels = store.all::<Panel>(visitor.bench.id).await?;
    let panels = panels
        .into_iter()
        .map(|Kept { id, revision, value: panel, .. }| {
            let (next, page) = next(&panel, units);
            let inks: Vec<&str> = panel.inks.iter().map(|ink| ink.name.as_str()).collect();
            // Pictures of one height, sharp on dense screens.
            let dpi = (400.0 / panel.height.inches()).round().clamp(20.0, 200.0) as u32;
            Row {
                id: id.to_string(),
                name: panel.name.to_string(),
                size: size(&panel, units),
                inks: inks.join(", "),
                next,
                page,
                revision,
                dpi,
                bare: panel.inks.is_empty(),
            }
        })
        .collect();
    let (undo, redo) = store.undoable(visitor.bench.id, Scope::Bench).await?;
    let (frame, sizes) = (Frame::of(visitor), sizes(units));
    Ok(BenchPage { frame, panels, sizes, undo, redo, wrong: None, written: Default::default() })
}

/// `GET /`.
pub async fn show(visitor: Visitor, store: web::Data<Store>) -> Result<HttpResponse, PageProblem> {
    page(&bench_page(&visitor, &store).await?)
}

/// A panel to be made.
#[derive(Deserialize)]
pub struct NewPanel {
    width: String,
    height: String,
}

/// `POST /panels`: makes a bare panel and goes on to its inks.
pub async fn new_panel(sent: Sent<NewPanel>, store: web::Data<Store>) -> Result<HttpResponse, PageProblem> {
    let (visitor, form) = (sent.visitor, sent.form);
    let (bench, units) = (visitor.bench.id, visitor.units());
    let made = async {
        let side = |text: &str, name: &str| text.parse_in(units).map_err(|error| format!("{name}: {error}"));
        let (width, height) = (side(&form.width, "Width")?, side(&form.height, "Height")?);
        let panels = store.all::<Panel>(bench).await.map_err(|error| error.to_string())?;
        let papers = store.all::<Paper>(bench).await.map_err(|error| error.to_string())?;
        let tools = store.all::<Tool>(bench).await.map_err(|error| error.to_string())?;
        let paper = papers.into_iter().next_back().map_or_else(demo::plain_paper, |kept| kept.value);
        let tool = tools.into_iter().next_back().map_or_else(demo::plain_tool, |kept| kept.value);
        let name = format!("Panel {}", panels.len() + 1).parse().map_err(|_| "no name".to_owned())?;
        let panel = Panel::bare(name, width, height, paper, tool, panels.len() as u32 + 1);
        panel.check().map_err(|error| error.to_string())?;
        Ok::<Panel, String>(panel)
    };
    match made.await {
        Ok(panel) => {
            let id: Uuid = store.add_panel(bench, &panel).await?;
            Ok(see(format!("/panels/{id}/inks")))
        }
        Err(wrong) => {
            let written = (form.width, form.height);
            refused(&BenchPage { wrong: Some(wrong), written, ..bench_page(&visitor, &store).await? })
        }
    }
}

/// `POST /panels/{id}/remove`.
pub async fn remove_panel(
    sent: Sent<Nothing>,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    store.remove_panel(sent.visitor.bench.id, *id).await?;
    Ok(see("/"))
}

/// `POST /undo`.
pub async fn undo(sent: Sent<Nothing>, store: web::Data<Store>) -> Result<HttpResponse, PageProblem> {
    store.undo(sent.visitor.bench.id, Scope::Bench).await?;
    Ok(see("/"))
}

/// `POST /redo`.
pub async fn redo(sent: Sent<Nothing>, store: web::Data<Store>) -> Result<HttpResponse, PageProblem> {
    store.redo(sent.visitor.bench.id, Scope::Bench).await?;
    Ok(see("/"))
}

/// The units chosen, and the page to go back to.
#[derive(Deserialize)]
pub struct UnitsChosen {
    units: Units,
    back: String,
}

/// `POST /units`.
pub async fn units(sent: Sent<UnitsChosen>, store: web::Data<Store>) -> Result<HttpResponse, PageProblem> {
    store.set_units(sent.visitor.bench.id, sent.form.units).await?;
    // Only to a page of our own.
    let back = sent.form.back;
    let ours = back.starts_with('/') && !back.starts_with("//") && !back.contains(['\\', '\r', '\n']);
    Ok(see(if ours { back.as_str() } else { "/" }))
}
