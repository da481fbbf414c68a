//! The ink drawer: every ink as a veil strip, by family; files in and out.

use actix_web::http::header::CONTENT_DISPOSITION;
use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::ink::{Ink, Paper, Tool};
use rosy_store::{Kept, Scope, Store};

use super::{Frame, page, see};
use crate::error::PageProblem;
use crate::files;
use crate::say::veil_strip;
use crate::visitor::{Nothing, Sent, Visitor};

/// Families in the order they lie in the drawer.
const FAMILIES: [&str; 10] =
    ["pinks", "reds", "oranges", "yellows", "greens", "sea greens", "blues", "violets", "browns", "neutrals"];

/// The inks of one family.
pub struct Shelf {
    /// Its name.
    pub family: &'static str,
    /// The inks, light to dark.
    pub inks: Vec<Row>,
}

/// An ink in the drawer.
pub struct Row {
    /// Its number.
    pub id: String,
    /// Its name.
    pub name: String,
    /// Dye, oxide or pigment.
    pub kind: &'static str,
    /// Its strip, as SVG.
    pub strip: String,
    /// What a search looks through, in small letters.
    pub words: String,
}

/// Inks by family, each from light to dark.
pub fn shelves(inks: Vec<Kept<Ink>>) -> Vec<Shelf> {
    let mut inks: Vec<(&'static str, Kept<Ink>)> =
        inks.into_iter().map(|kept| (kept.value.family(), kept)).collect();
    inks.sort_by(|(_, a), (_, b)| b.value.lab().l.total_cmp(&a.value.lab().l));
    FAMILIES
        .into_iter()
        .map(|family| Shelf {
            family,
            inks: inks
                .iter()
                .filter(|(of, _)| *of == family)
                .map(|(_, Kept { id, value: ink, .. })| Row {
                    id: id.to_string(),
                    name: ink.name.to_string(),
                    kind: ink.kind.word(),
                    strip: veil_strip(ink, &format!("strip-{id}")),
                    words: format!("{} {} {family}", ink.name.as_str().to_lowercase(), ink.kind),
                })
                .collect(),
        })
        .filter(|shelf| !shelf.inks.is_empty())
        .collect()
}

#[derive(Template)]
#[template(path = "drawer.html")]
struct DrawerPage {
    frame: Frame,
    shelves: Vec<Shelf>,
    count: usize,
    papers: Vec<(String, String, String)>,
    tools: Vec<(String, &'static str)>,
    undo: Option<String>,
    redo: Option<String>,
}

/// `GET /drawer`.
pub async fn show(visitor: Visitor, store: web::Data<Store>) -> Result<HttpResponse, PageProblem> {
    let bench = visitor.bench.id;
    let inks = store.all::<Ink>(bench).await?;
    let papers = store.all::<Paper>(bench).await?.into_iter().rev().map(|Kept { value: paper, .. }| {
        let colour = paper.lab().on_screen(Default::default()).0.to_string();
        let says = format!(
            "{}, {} thick",
            paper.surface.words(),
            paper.thickness.shown(rosy_core::Units::Millimetres)
        );
        (paper.name.to_string(), says, colour)
    });
    let tools = store.all::<Tool>(bench).await?.into_iter().rev();
    let (undo, redo) = store.undoable(bench, Scope::Drawer).await?;
    page(&DrawerPage {
        frame: Frame::of(&visitor),
        count: inks.len(),
        shelves: shelves(inks),
        papers: papers.collect(),
        tools: tools.map(|Kept { value: tool, .. }| (tool.name.to_string(), tool.kind.words())).collect(),
        undo,
        redo,
    })
}

/// `POST /drawer/undo`.
pub async fn undo(sent: Sent<Nothing>, store: web::Data<Store>) -> Result<HttpResponse, PageProblem> {
    store.undo(sent.visitor.bench.id, Scope::Drawer).await?;
    Ok(see("/drawer"))
}

/// `POST /drawer/redo`.
pub async fn redo(sent: Sent<Nothing>, store: web::Data<Store>) -> Result<HttpResponse, PageProblem> {
    store.redo(sent.visitor.bench.id, Scope::Drawer).await?;
    Ok(see("/drawer"))
}

async fn inks(visitor: &Visitor, store: &Store) -> Result<Vec<Ink>, PageProblem> {
    let mut inks: Vec<Ink> =
        store.all::<Ink>(visitor.bench.id).await?.into_iter().map(|kept| kept.value).collect();
    inks.sort_by(|a, b| a.name.cmp(&b.name));
    Ok(inks)
}

/// `GET /drawer/inks.csv`.
pub async fn csv(visitor: Visitor, store: web::Data<Store>) -> Result<HttpResponse, PageProblem> {
    let inks = inks(&visitor, &store).await?;
    Ok(HttpResponse::Ok()
        .content_type("text/csv; charset=utf-8")
        .insert_header((CONTENT_DISPOSITION, "attachment; filename=\"inks.csv\""))
        .body(files::write_csv(inks.iter())))
}

/// `GET /drawer/inks.json`.
pub async fn json(visitor: Visitor, store: web::Data<Store>) -> Result<HttpResponse, PageProblem> {
    let inks = inks(&visitor, &store).await?;
    Ok(HttpResponse::Ok()
        .content_type("application/json")
        .insert_header((CONTENT_DISPOSITION, "attachment; filename=\"inks.json\""))
        .body(files::write_json(&inks)))
}
