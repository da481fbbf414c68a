//! The stock's page: sheets and offcuts, sizes, the next batch and its plan.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::card::{Fold, Format};
use rosy_core::cut::{Piece, Sheet, drawing};
use rosy_core::edges::{Axis, known_size, size};
use rosy_core::ink::Paper;
use rosy_core::{Panel, Units};
use rosy_store::{Kept, Scope, Store};
use serde::Deserialize;
use uuid::Uuid;

use super::form::{Written, Wrong};
use crate::drawing::svg;
use crate::error::{PageProblem, sentence};
use crate::pages::{Frame, Paged, page, refused, see};
use crate::stock::{Stock, seen, stock};
use crate::visitor::{Nothing, Sent, Visitor};
use crate::workroom::Workroom;

/// Letters along the longer side of a drawing on the page.
const LETTERS: f64 = 20.0;
/// Panels to choose from for a batch, the latest changed.
const PANELS: u64 = 200;
/// Sheets and offcuts on one page.
const EACH: u64 = 60;

#[derive(Template)]
#[template(path = "stock.html")]
struct StockPage {
    frame: Frame,
    sheets: Vec<SheetRow>,
    offcuts: Vec<SheetRow>,
    paged: Paged,
    /// The shortest side of offcuts that are kept, as it stands in its field.
    keep: String,
    pieces: Vec<PieceRow>,
    /// What comes out of windows.
    spare: Vec<PieceRow>,
    panels: Vec<(String, String)>,
    papers: Vec<String>,
    formats: Vec<(String, String)>,
    folds: Vec<(String, &'static str)>,
    plan: Option<PlanShown>,
    /// Why the batch cannot be planned.
    impossible: Option<String>,
    /// What is left out of the plan, where there is too much to plan with.
    left_out: Option<String>,
    wrong: Vec<(&'static str, String)>,
    written: Written,
    undo: Option<String>,
    redo: Option<String>,
}

struct PieceRow {
    name: String,
    size: String,
    count: u32,
}

impl PieceRow {
    fn of(piece: &Piece, units: Units) -> PieceRow {
        let card = piece.paper.as_ref().map(|paper| format!(", {paper}")).unwrap_or_default();
        let size = format!("{}{card}", size(piece.width, piece.height, units));
        PieceRow { name: piece.name.to_string(), size, count: piece.count }
    }
}

struct SheetRow {
    id: String,
    name: String,
    size: String,
    grain: &'static str,
    card: String,
    count: u32,
    /// How many the plan uses.
    uses: u32,
}

struct PlanShown {
    seen: String,
    says: Vec<String>,
    sheets: Vec<SheetShown>,
    to_get: u32,
}

struct SheetShown {
    title: String,
    svg: String,
    cuts: Vec<String>,
}

impl StockPage {
    /// What stands over a field for a length.
    fn labelled(&self, label: &str) -> String {
        format!("{label}, {}", self.frame.measure())
    }

    fn wrong_with(&self, field: &str) -> Option<&str> {
        self.wrong.iter().find(|(known, _)| *known == field).map(|(_, says)| says.as_str())
    }

    /// What was written in a field of a form, if it was this form.
    fn was(&self, form: &str, field: &str) -> &str {
        let w = &self.written;
        if w.form != form {
            return "";
        }
        match field {
            "name" => &w.name,
            "width" => &w.width,
            "height" => &w.height,
            "count" => &w.count,
            "paper" => &w.paper,
            "grain" => &w.grain,
            "panel" => &w.panel,
            "fold" => &w.fold,
            "keep" => &w.keep,
            _ => "",
        }
    }
}

fn grain_words(grain: Option<Axis>) -> &'static str {
    match grain {
        None => "grain not known",
        Some(Axis::Across) => "grain left to right",
        Some(Axis::Down) => "grain top to bottom",
    }
}

/// The page as one asks for it.
pub(super) struct Desk<'a> {
    pub(super) visitor: &'a Visitor,
    pub(super) store: &'a Store,
    pub(super) room: &'a Workroom,
}

async fn stock_page(
    desk: &Desk<'_>,
    written: Written,
    wrong: Wrong,
    wanted: u64,
) -> Result<StockPage, PageProblem> {
    let Desk { visitor, store, room } = *desk;
    let (bench, units) = (visitor.bench.id, visitor.units());
    let Stock { all, sheets, batch, asked, plan } = stock(visitor, store, room).await?;
    let gathered = batch.map(|kept| kept.value).unwrap_or_default();
    let uses = |id: Uuid| match (&plan, sheets.iter().position(|kept| kept.id == id)) {
        (Some(Ok(plan)), Some(at)) => {
            plan.uses.iter().find(|used| used.sheet == at).map_or(0, |used| used.used)
        }
        _ => 0,
    };
    let paged = Paged::of(wanted, all.len() as u64, EACH, "/stock?page=");
    let listed = all.iter().skip(paged.skipped(EACH) as usize).take(EACH as usize);
    let row = |Kept { id, value, .. }: &Kept<Sheet>| SheetRow {
        id: id.to_string(),
        name: value.name.to_string(),
        size: known_size(value.width, value.height, units),
        grain: grain_words(value.grain),
        card: value.paper.as_ref().map(ToString::to_string).unwrap_or_default(),
        count: value.count.unwrap_or(0),
        uses: uses(*id),
    };
    let (offcuts, full): (Vec<_>, Vec<_>) = listed.partition(|kept| kept.value.offcut);
    let (offcuts, full) = (offcuts.into_iter().map(row).collect(), full.into_iter().map(row).collect());
    let panels = store.some::<Panel>(bench, 0, PANELS).await?;
    let formats = store.all::<Format>(bench).await?;
    let mut papers: Vec<String> =
        store.all::<Paper>(bench).await?.into_iter().rev().map(|kept| kept.value.name.to_string()).collect();
    papers.dedup();
    let (undo, redo) = store.undoable(bench, Scope::Stock).await?;
    let word = |fold: Fold| serde_json::to_value(fold).ok().and_then(|v| v.as_str().map(str::to_owned));
    let impossible =
        plan.as_ref().and_then(|plan| plan.as_ref().err()).map(|error| sentence(&error.to_string()));
    let (told, left_out) = (asked.told_in(), all.len() - sheets.len());
    let plan = plan.and_then(Result::ok).map(|plan| PlanShown {
        seen: seen(&asked, &sheets),
        says: plan.says.clone(),
        to_get: plan.uses.iter().map(|used| used.to_get).sum(),
        sheets: plan
            .sheets
            .iter()
            .enumerate()
            .map(|(n, cut)| SheetShown {
                title: match cut.alike {
                    1 => cut.name.to_string(),
                    alike => format!("{alike} × {}, cut alike", cut.name),
                },
                svg: svg::for_page(&drawing::sheet(cut, &asked, told), &format!("sheet-{n}"), LETTERS),
                cuts: cut.cuts.iter().map(|cut| cut.says.clone()).collect(),
            })
            .collect(),
    });
    Ok(StockPage {
        frame: Frame::of(visitor),
        sheets: full,
        offcuts,
        paged,
        keep: asked.kept_from().in_field(units),
        pieces: asked.pieces.iter().map(|piece| PieceRow::of(piece, told)).collect(),
        spare: gathered.spare.iter().map(|piece| PieceRow::of(piece, told)).collect(),
        panels: panels.iter().map(|kept| (kept.id.to_string(), kept.value.name.to_string())).collect(),
        papers,
        formats: formats.iter().map(|kept| (kept.id.to_string(), kept.value.words(units))).collect(),
        folds: Fold::ALL.into_iter().map(|fold| (word(fold).unwrap_or_default(), fold.words())).collect(),
        left_out: (plan.is_some() && left_out > 0)
            .then(|| format!("Planned with the {} kinds of sheets and offcuts that serve best; {left_out} others are not looked at.", sheets.len())),
        plan,
        impossible,
        wrong,
        written,
        undo,
        redo,
    })
}

/// Which page of the stock.
#[derive(Deserialize)]
pub struct StockAsked {
    #[serde(default)]
    page: u64,
}

/// `GET /stock`.
pub async fn show(
    visitor: Visitor,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    asked: web::Query<StockAsked>,
) -> Result<HttpResponse, PageProblem> {
    let desk = Desk { visitor: &visitor, store: &store, room: &room };
    page(&stock_page(&desk, Written::default(), Vec::new(), asked.page).await?)
}

/// `POST /stock/undo`.
pub async fn undo(sent: Sent<Nothing>, store: web::Data<Store>) -> Result<HttpResponse, PageProblem> {
    store.undo(sent.visitor.bench.id, Scope::Stock).await?;
    Ok(see("/stock"))
}

/// `POST /stock/redo`.
pub async fn redo(sent: Sent<Nothing>, store: web::Data<Store>) -> Result<HttpResponse, PageProblem> {
    store.redo(sent.visitor.bench.id, Scope::Stock).await?;
    Ok(see("/stock"))
}

/// The page again, with what was wrong and what was written.
pub(super) async fn again(
    desk: &Desk<'_>,
    written: Written,
    wrong: Wrong,
) -> Result<HttpResponse, PageProblem> {
    refused(&stock_page(desk, written, wrong, 1).await?)
}
