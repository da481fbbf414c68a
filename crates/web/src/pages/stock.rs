//! The stock: sheets and offcuts owned, the next batch, how it is cut and what it uses up.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::card::edges::{Axis, known_size, size};
use rosy_core::card::{Card, Fold, Format};
use rosy_core::cut::stock::after;
use rosy_core::cut::{Batch, Piece, Sheet, drawing};
use rosy_core::ink::{Name, Paper};
use rosy_core::length::ParseIn;
use rosy_core::{Length, Panel, Units};
use rosy_store::{Change, Kept, Scope, Store, StoreError, Thing};
use serde::Deserialize;
use uuid::Uuid;

use super::{Frame, Paged, page, refused, see};
use crate::api::stock::{MOST, Stock, count_off, seen, stock};
use crate::drawing::svg;
use crate::error::{PageProblem, Problem, sentence};
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

/// What was written in a form that was refused.
#[derive(Clone, Debug, Default, Deserialize)]
#[serde(default)]
pub struct Written {
    form: String,
    name: String,
    width: String,
    height: String,
    count: String,
    paper: String,
    grain: String,
    panel: String,
    fold: String,
    offcut: String,
    keep: String,
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

type Wrong = Vec<(&'static str, String)>;

fn grain_words(grain: Option<Axis>) -> &'static str {
    match grain {
        None => "grain not known",
        Some(Axis::Across) => "grain left to right",
        Some(Axis::Down) => "grain top to bottom",
    }
}

/// The page as one asks for it.
struct Desk<'a> {
    visitor: &'a Visitor,
    store: &'a Store,
    room: &'a Workroom,
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

/// A form's fields as they are meant, each wrong one with what is wrong.
struct Read<'a> {
    written: &'a Written,
    units: Units,
    wrong: Wrong,
}

impl<'a> Read<'a> {
    fn of(written: &'a Written, units: Units) -> Read<'a> {
        Read { written, units, wrong: Vec::new() }
    }

    fn keep<T>(&mut self, field: &'static str, read: Result<T, String>) -> Option<T> {
        read.map_err(|says| self.wrong.push((field, sentence(&says)))).ok()
    }

    fn name(&mut self) -> Option<Name> {
        self.keep(
            "name",
            self.written.name.parse().map_err(|error: rosy_core::ink::DrawerError| error.to_string()),
        )
    }

    fn side(&mut self, field: &'static str, text: &str) -> Option<Length> {
        let read = text.parse_in(self.units).map_err(|error| error.to_string());
        let read = read.and_then(|length| {
            let most = Length::from_inches(50);
            let most_said = most.shown(self.units);
            let cut = Length::ZERO < length && length <= most;
            cut.then_some(length).ok_or_else(|| {
                format!("{}: give more than nothing and at most {most_said}", length.shown(self.units))
            })
        });
        self.keep(field, read)
    }

    fn sides(&mut self) -> (Option<Length>, Option<Length>) {
        let written = self.written;
        (self.side("width", &written.width), self.side("height", &written.height))
    }

    fn count(&mut self, least: u32) -> Option<u32> {
        let text = self.written.count.trim();
        let whole = text.parse().ok().filter(|count| (least..=MOST).contains(count));
        let read = whole.ok_or_else(|| {
            format!("“{text:.20}” is no such number: give a whole one from {least} to {MOST}")
        });
        self.keep("count", read)
    }

    fn paper(&self) -> Option<Name> {
        self.written.paper.parse().ok()
    }

    fn grain(&self) -> Option<Axis> {
        match self.written.grain.as_str() {
            "across" => Some(Axis::Across),
            "down" => Some(Axis::Down),
            _ => None,
        }
    }
}

/// The page again, with what was wrong and what was written.
async fn again(desk: &Desk<'_>, written: Written, wrong: Wrong) -> Result<HttpResponse, PageProblem> {
    refused(&stock_page(desk, written, wrong, 1).await?)
}

/// Adds a thing to the stock.
async fn add<T: Thing>(visitor: &Visitor, store: &Store, thing: &T) -> Result<(), StoreError> {
    let label = format!("add {}", thing.name());
    store.change(visitor.bench.id, Scope::Stock, &label, vec![Change::add(Uuid::now_v7(), thing)?]).await
}

/// `POST /stock/sheets`.
pub async fn add_sheet(
    sent: Sent<Written>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
) -> Result<HttpResponse, PageProblem> {
    let (visitor, written) = (sent.visitor, Written { form: "sheet".into(), ..sent.form });
    let mut read = Read::of(&written, visitor.units());
    let (name, (width, height), count) = (read.name(), read.sides(), read.count(1));
    let (grain, paper) = (read.grain(), read.paper());
    let (Some(name), Some(width), Some(height), Some(count)) = (name, width, height, count) else {
        let wrong = read.wrong;
        return again(&Desk { visitor: &visitor, store: &store, room: &room }, written, wrong).await;
    };
    let offcut = written.offcut == "on";
    let sheet = Sheet { name, width, height, grain, count: Some(count), paper, offcut };
    add(&visitor, &store, &sheet).await?;
    Ok(see("/stock"))
}

/// `POST /stock/sheets/{id}`: how many there are now.
pub async fn count_sheet(
    sent: Sent<Written>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let (visitor, written) = (sent.visitor, Written { form: id.to_string(), ..sent.form });
    let mut read = Read::of(&written, visitor.units());
    let Some(count) = read.count(0) else {
        let wrong = read.wrong;
        return again(&Desk { visitor: &visitor, store: &store, room: &room }, written, wrong).await;
    };
    count_off(&store, visitor.bench.id, *id, count).await?;
    Ok(see("/stock"))
}

/// Removes a thing of the stock; undo brings it back.
async fn remove<T: Thing>(sent: &Sent<Nothing>, store: &Store, id: Uuid) -> Result<(), StoreError> {
    let bench = sent.visitor.bench.id;
    let thing = store.one::<T>(bench, id).await?.value;
    let label = format!("remove {}", thing.name());
    store.change(bench, Scope::Stock, &label, vec![Change::remove(id, &thing)?]).await
}

/// `POST /stock/sheets/{id}/remove`.
pub async fn remove_sheet(
    sent: Sent<Nothing>,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    remove::<Sheet>(&sent, &store, *id).await?;
    Ok(see("/stock"))
}

/// `POST /stock/formats`.
pub async fn add_format(
    sent: Sent<Written>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
) -> Result<HttpResponse, PageProblem> {
    let (visitor, written) = (sent.visitor, Written { form: "format".into(), ..sent.form });
    let mut read = Read::of(&written, visitor.units());
    let (name, (width, height)) = (read.name(), read.sides());
    let fold: Option<Fold> = serde_json::from_value(serde_json::Value::String(written.fold.clone())).ok();
    let made = match (name, width, height) {
        (Some(name), Some(width), Some(height)) => {
            let relief = rosy_core::card::format::RELIEF;
            let format = Format { name, width, height, fold: fold.unwrap_or_default(), relief };
            use rosy_core::card::format::FormatError;
            let field = |error: &FormatError| match error {
                FormatError::Side { side, .. } => side,
                FormatError::Relief(_) => "name",
            };
            format
                .check()
                .map_err(|error| read.wrong.push((field(&error), sentence(&error.to_string()))))
                .ok()
                .map(|()| format)
        }
        _ => None,
    };
    let Some(format) = made else {
        let wrong = read.wrong;
        return again(&Desk { visitor: &visitor, store: &store, room: &room }, written, wrong).await;
    };
    add(&visitor, &store, &format).await?;
    Ok(see("/stock#sizes"))
}

/// `POST /stock/formats/{id}/remove`.
pub async fn remove_format(
    sent: Sent<Nothing>,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    remove::<Format>(&sent, &store, *id).await?;
    Ok(see("/stock#sizes"))
}

/// The batch with something done to it, kept.
async fn change_batch(
    store: &Store,
    bench: Uuid,
    label: &str,
    with: impl FnOnce(&mut Batch),
) -> Result<(), StoreError> {
    let kept = store.all::<Batch>(bench).await?.into_iter().next();
    let change = match kept {
        Some(Kept { id, value, .. }) => {
            let mut changed = value.clone();
            with(&mut changed);
            Change::replace(id, &value, &changed)?
        }
        None => {
            let mut batch = Batch::default();
            with(&mut batch);
            Change::add(Uuid::now_v7(), &batch)?
        }
    };
    store.change(bench, Scope::Stock, label, vec![change]).await
}

/// `POST /stock/batch/cards`: everything that is cut for so many of a panel's cards.
pub async fn add_cards(
    sent: Sent<Written>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
) -> Result<HttpResponse, PageProblem> {
    let (visitor, written) = (sent.visitor, Written { form: "cards".into(), ..sent.form });
    let (bench, units) = (visitor.bench.id, visitor.units());
    let mut read = Read::of(&written, units);
    let Some(count) = read.count(1) else {
        let wrong = read.wrong;
        return again(&Desk { visitor: &visitor, store: &store, room: &room }, written, wrong).await;
    };
    let id = written.panel.parse().map_err(|_| Problem::Missing("panel"))?;
    let panel = store.one::<Panel>(bench, id).await?.value;
    let card = panel.card.clone().unwrap_or_else(|| Card::fitting(&panel, units));
    let (made, _) =
        card.made(&panel, &[], units).map_err(|error| Problem::Refused(sentence(&error.to_string())))?;
    let label = format!("add {count} of {}", panel.name);
    let of_panel = |piece: Piece| {
        let name = format!("{}: {}", panel.name, piece.name.as_str().to_lowercase());
        Piece { name: name.parse().unwrap_or(piece.name.clone()), count, ..piece }
    };
    change_batch(&store, bench, &label, |batch| {
        made.pieces.into_iter().for_each(|piece| batch.add(of_panel(piece)));
        made.spare.into_iter().for_each(|piece| batch.add_spare(of_panel(piece)));
    })
    .await?;
    Ok(see("/stock"))
}

/// `POST /stock/batch/pieces`.
pub async fn add_piece(
    sent: Sent<Written>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
) -> Result<HttpResponse, PageProblem> {
    let (visitor, written) = (sent.visitor, Written { form: "piece".into(), ..sent.form });
    let mut read = Read::of(&written, visitor.units());
    let (name, (width, height), count) = (read.name(), read.sides(), read.count(1));
    let (grain, paper) = (read.grain(), read.paper());
    let (Some(name), Some(width), Some(height), Some(count)) = (name, width, height, count) else {
        let wrong = read.wrong;
        return again(&Desk { visitor: &visitor, store: &store, room: &room }, written, wrong).await;
    };
    let label = format!("add {count} of {name}");
    let piece = Piece { name, width, height, grain, count, paper };
    change_batch(&store, visitor.bench.id, &label, |batch| batch.add(piece)).await?;
    Ok(see("/stock"))
}

/// `POST /stock/batch/pieces/{at}/remove`.
pub async fn remove_piece(
    sent: Sent<Nothing>,
    store: web::Data<Store>,
    at: web::Path<usize>,
) -> Result<HttpResponse, PageProblem> {
    let mut removed = false;
    change_batch(&store, sent.visitor.bench.id, "take a piece out", |batch| {
        // First what is to be cut, then what comes out of windows, as they stand on the page.
        let windows = at.checked_sub(batch.pieces.len());
        removed = match windows {
            None => batch.pieces.drain(*at..=*at).next(),
            Some(at) if at < batch.spare.len() => batch.spare.drain(at..=at).next(),
            Some(_) => None,
        }
        .is_some();
    })
    .await?;
    if removed { Ok(see("/stock")) } else { Err(Problem::Missing("piece").into()) }
}

/// What the page had shown when it was decided to cut.
#[derive(Deserialize)]
pub struct CutAsked {
    #[serde(default)]
    seen: String,
}

/// `POST /stock/batch/cut`: the batch is cut; sheets go, offcuts come, and the next batch is empty.
pub async fn cut(
    sent: Sent<CutAsked>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
) -> Result<HttpResponse, PageProblem> {
    let bench = sent.visitor.bench.id;
    let Stock { all: _, sheets, batch, asked, plan } = stock(&sent.visitor, &store, &room).await?;
    if seen(&asked, &sheets) != sent.form.seen {
        let says = "The stock or the batch has changed since this plan was shown. Nothing was cut: look at the plan again.";
        return Err(Problem::Conflict(says.into()).into());
    }
    let plan = plan
        .ok_or(Problem::Missing("batch"))?
        .map_err(|error| Problem::Refused(sentence(&error.to_string())))?;
    let gathered = batch.as_ref().map(|kept| kept.value.clone()).unwrap_or_default();
    let left = after(&asked.sheets, &gathered, &plan);
    let mut changes = Vec::new();
    for (kept, left) in sheets.iter().zip(&left) {
        if left.offcut && left.count == Some(0) {
            changes.push(Change::remove(kept.id, &kept.value)?);
        } else if *left != kept.value {
            changes.push(Change::replace(kept.id, &kept.value, left)?);
        }
    }
    for offcut in &left[sheets.len()..] {
        changes.push(Change::add(Uuid::now_v7(), offcut)?);
    }
    if let Some(Kept { id, value, .. }) = batch {
        changes.push(Change::replace(id, &value, &value.cleared())?);
    }
    store.change(bench, Scope::Stock, "cut the batch", changes).await?;
    Ok(see("/stock"))
}

/// `POST /stock/keep`: the shortest side of offcuts worth keeping, from now on.
pub async fn keep(
    sent: Sent<Written>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
) -> Result<HttpResponse, PageProblem> {
    let (visitor, written) = (sent.visitor, Written { form: "keep".into(), ..sent.form });
    let mut read = Read::of(&written, visitor.units());
    let side = read.side("keep", &written.keep).filter(|side| {
        let checked = rosy_core::cut::batch::check_keep(Some(*side));
        read.keep("keep", checked.map_err(|error| error.to_string())).is_some()
    });
    let Some(side) = side else {
        let wrong = read.wrong;
        return again(&Desk { visitor: &visitor, store: &store, room: &room }, written, wrong).await;
    };
    let label = format!("keep offcuts from {} on", side.shown(visitor.units()));
    change_batch(&store, visitor.bench.id, &label, |batch| batch.keep = Some(side)).await?;
    Ok(see("/stock#offcuts"))
}
