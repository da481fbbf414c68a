//! The bench: the panels with their pictures and what is next for each; a new one in two clicks.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::blend::Way;
use rosy_core::card::Card;
use rosy_core::ink::{Finish, Ink, Paper, Tool};
use rosy_core::judgement::Reading;
use rosy_core::learn::Hands;
use rosy_core::length::ParseIn;
use rosy_core::order::RunSheet;
use rosy_core::panel::PanelError;
use rosy_core::place::Point;
use rosy_core::record::Made;
use rosy_core::shape::Shape;
use rosy_core::surface::Heated;
use rosy_core::{Length, Panel, Units};
use rosy_store::{Kept, Scope, Store};
use serde::{Deserialize, Serialize};
use uuid::Uuid;

use super::made::{Spare, day};
use super::{Frame, Paged, Renaming, page, refused, saving, see, size};
use crate::error::{PageProblem, Problem, sentence};
use crate::picture::drawn_from;
use crate::say::many;
use crate::visitor::{Nothing, Sent, Visitor};
use crate::workroom::Workroom;

/// Panels on one page.
const EACH: u64 = 24;
/// Records that are looked through for what is left over and what was made of a panel, the latest first.
const LATELY: u64 = 40;

#[derive(Template)]
#[template(path = "bench.html")]
struct BenchPage {
    frame: Frame,
    panels: Vec<Row>,
    paged: Paged,
    /// Panels that were removed and can be brought back.
    removed: Vec<(String, String)>,
    sizes: Vec<SizeOffered>,
    /// How many spare cards are left over, in words; empty where there are none.
    spares: String,
    /// Shapes that a piece can be cut to: their numbers and names.
    shapes: Vec<(String, String)>,
    /// What a new bench still asks for.
    asks: Option<Asks>,
    undo: Option<String>,
    redo: Option<String>,
    /// A panel that was just renamed, and what taking that back is called.
    renamed: Option<(String, String)>,
    /// What was wrong with a size written by hand, by the field, and what was written.
    wrong: Vec<(&'static str, String)>,
    written: NewPanel,
}

/// What there is on a bench that has no panel yet.
struct Asks {
    inks: u64,
    papers: u64,
    tools: u64,
}

struct Row {
    id: String,
    name: String,
    size: String,
    inks: String,
    next: Next,
    seen: String,
    dpi: u32,
    bare: bool,
    /// Its record, and the day it was made, where it is in the record as it is now.
    made: Option<(String, String)>,
}

/// What a panel waits for, and the page to do it on.
#[derive(Clone, Deserialize, Serialize)]
struct Next {
    says: String,
    page: String,
}

/// A size in one click.
struct SizeOffered {
    width: String,
    height: String,
    shown: String,
    /// As it is shown lying.
    lying: String,
    says: &'static str,
}

impl BenchPage {
    fn wrong_with(&self, field: &str) -> Option<&str> {
        self.wrong.iter().find(|(known, _)| *known == field).map(|(_, says)| says.as_str())
    }
}

/// Panels for the usual bases, with 1/8 in of the base showing (or 3 mm), and the slim one.
fn usual_sizes(units: Units) -> [((Length, Length), &'static str); 4] {
    let eighths = Length::from_64ths(8);
    let tenths = Length::from_tenths_mm;
    let offered = match units {
        Units::Inches => [
            (eighths * 32, eighths * 42, "for the usual folded card, 1/8 in showing all round"),
            (eighths * 34, eighths * 44, "the whole front of the usual card"),
            (eighths * 36, eighths * 46, "inked over size, to be trimmed to 4 × 5 1/4 in"),
            (eighths * 28, eighths * 68, "for a slim card, 1/4 in showing all round"),
        ],
        Units::Millimetres => [
            (tenths(990), tenths(1420), "for a folded A6 card, 3 mm showing all round"),
            (tenths(1050), tenths(1480), "the whole front of an A6 card"),
            (tenths(1110), tenths(1540), "inked over size, to be trimmed to 99 × 142 mm"),
            (tenths(890), tenths(2000), "for a slim card, 5 mm showing all round"),
        ],
    };
    offered.map(|(width, height, says)| ((width, height), says))
}

fn sizes(units: Units) -> Vec<SizeOffered> {
    let offered = |((width, height), says): ((Length, Length), &'static str)| SizeOffered {
        width: width.to_string(),
        height: height.to_string(),
        shown: format!("{} × {}", width.shown(units).number(), height.shown(units)),
        lying: format!("{} × {}", height.shown(units).number(), width.shown(units)),
        says,
    };
    usual_sizes(units).into_iter().map(offered).collect()
}

fn next(panel: &Panel, units: Units) -> Next {
    let to = |says: String, page: &str| Next { says, page: page.into() };
    // One ink alone is a panel too, and so is a ground left bare behind a thing.
    if panel.moves.is_empty() {
        return to("Choose two to five inks, or one".into(), "inks");
    }
    let steps = RunSheet::of(panel, units).steps;
    if let Some(step) = steps.get(panel.done).filter(|_| panel.done > 0) {
        return to(format!("Step {} of {}: {}", panel.done + 1, steps.len(), step.title), "sheet");
    }
    if panel.done >= steps.len() {
        return to("Done".into(), "sheet");
    }
    let findings = Reading::of(panel).findings;
    let Some((first, rest)) = findings.split_first() else {
        return to(format!("Ready to ink, {} steps", steps.len()), "sheet");
    };
    // What is about a thing is told, and mended, where things are.
    let page = if first.on.is_some() { "cover" } else { "blend" };
    match rest.len() {
        0 => to(first.says.clone(), page),
        more => to(format!("{} And {more} more to look at.", first.says), page),
    }
}

/// What each of some panels waits for, reckoned once for as long as they do not change.
async fn all_next(visitor: &Visitor, room: &Workroom, panels: &[Kept<Panel>]) -> Result<Vec<Next>, Problem> {
    let units = visitor.units();
    let marks: Vec<String> = panels.iter().map(|kept| format!("{} {}", kept.id, kept.revision)).collect();
    let panels: Vec<Panel> = panels.iter().map(|kept| kept.value.clone()).collect();
    let made = room.made(visitor.asker(), format!("next {units:?} {}", marks.join(" ")), move || {
        let all: Vec<Next> = panels.iter().map(|panel| next(panel, units)).collect();
        serde_json::to_vec(&all).map_err(|_| Problem::Broken)
    });
    serde_json::from_slice(&made.await?).map_err(|_| Problem::Broken)
}

async fn bench_page(
    visitor: &Visitor,
    store: &Store,
    room: &Workroom,
    wanted: u64,
) -> Result<BenchPage, PageProblem> {
    let (bench, units) = (visitor.bench.id, visitor.units());
    let count = store.count::<Panel>(bench).await?;
    let paged = Paged::of(wanted, count, EACH, "/?page=");
    let panels = store.some::<Panel>(bench, paged.skipped(EACH), EACH).await?;
    let all_next = all_next(visitor, room, &panels).await?;
    let made = store.some::<Made>(bench, 0, LATELY).await?;
    let recorded = |panel: &Panel| {
        let kept = made.iter().find(|kept| kept.value.is_of(panel))?;
        Some((kept.id.to_string(), day(kept.value.at)))
    };
    let panels = panels.into_iter().zip(all_next).map(|(Kept { id, value: panel, .. }, next)| {
        let inks: Vec<&str> = panel.inks.iter().map(|ink| ink.name.as_str()).collect();
        Row {
            id: id.to_string(),
            name: panel.name.to_string(),
            size: size(&panel, units),
            inks: inks.join(", "),
            next,
            seen: drawn_from(&panel),
            // Pictures of one height, sharp on dense screens.
            dpi: (400.0 / panel.height.inches()).round().clamp(20.0, 200.0) as u32,
            bare: panel.inks.is_empty(),
            made: recorded(&panel),
        }
    });
    let panels: Vec<Row> = panels.collect();
    let asks = match count {
        0 => Some(Asks {
            inks: store.count::<Ink>(bench).await?,
            papers: store.count::<Paper>(bench).await?,
            tools: store.count::<Tool>(bench).await?,
        }),
        _ => None,
    };
    let removed = store.removed::<Panel>(bench, Scope::Bench).await?;
    let removed = removed.into_iter().map(|(id, panel)| (id.to_string(), panel.name.to_string())).collect();
    let spares = match Spare::all(&made, units).len() {
        0 => String::new(),
        n => many(n, "spare card"),
    };
    let shapes = store.all::<Shape>(bench).await?.into_iter();
    let shapes = shapes.map(|kept| (kept.id.to_string(), kept.value.name.to_string())).collect();
    let (undo, redo) = store.undoable(bench, Scope::Bench).await?;
    Ok(BenchPage {
        frame: Frame::of(visitor),
        panels,
        paged,
        removed,
        sizes: sizes(units),
        spares,
        shapes,
        asks,
        undo,
        redo,
        renamed: None,
        wrong: Vec::new(),
        written: NewPanel::default(),
    })
}

/// Which page of the bench, and what was just done there.
#[derive(Deserialize)]
pub struct BenchAsked {
    #[serde(default)]
    page: u64,
    /// A panel that was just renamed.
    renamed: Option<Uuid>,
}

/// `GET /`.
pub async fn show(
    visitor: Visitor,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    asked: web::Query<BenchAsked>,
) -> Result<HttpResponse, PageProblem> {
    let mut shown = bench_page(&visitor, &store, &room, asked.page).await?;
    if let Some(id) = asked.renamed {
        let (undo, _) = store.undoable(visitor.bench.id, Scope::Panel(id)).await?;
        shown.renamed = undo.map(|undo| (id.to_string(), undo));
    }
    page(&shown)
}

/// A panel to be made.
#[derive(Clone, Default, Deserialize)]
#[serde(default)]
pub struct NewPanel {
    width: String,
    height: String,
}

/// `POST /panels`: makes a bare panel with a card it fits and goes on to its inks.
pub async fn new_panel(
    sent: Sent<NewPanel>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
) -> Result<HttpResponse, PageProblem> {
    let (visitor, form) = (sent.visitor, sent.form);
    let (bench, units) = (visitor.bench.id, visitor.units());
    let mut wrong = Vec::new();
    let mut side = |field: &'static str, text: &str| {
        let known = rosy_core::panel::SIDES;
        let read = text.parse_in(units).map_err(|error| error.to_string()).and_then(|length| {
            let says = "a panel's sides are 1 in (25.4 mm) to 12 in (304.8 mm)";
            (known.0..=known.1).contains(&length).then_some(length).ok_or_else(|| format!("{length}: {says}"))
        });
        read.map_err(|says| wrong.push((field, sentence(&says)))).ok()
    };
    let (width, height) = (side("width", &form.width), side("height", &form.height));
    let (Some(width), Some(height)) = (width, height) else {
        return refused(&BenchPage { wrong, written: form, ..bench_page(&visitor, &store, &room, 1).await? });
    };
    let panel = begin(&store, bench, Some((width, height)), units).await?;
    let id: Uuid = store.add_panel(bench, &panel).await?;
    Ok(see(format!("/panels/{id}/inks")))
}

/// A bare panel on the maker's own card with her own tool, and a card it fits; of the usual size where none is named.
pub async fn begin(
    store: &Store,
    bench: Uuid,
    size: Option<(Length, Length)>,
    units: Units,
) -> Result<Panel, Problem> {
    let (width, height) = size.unwrap_or_else(|| usual_sizes(units)[0].0);
    let Desk { paper, tools, heated, hands, number } = to_hand(store, bench).await?;
    let name = format!("Panel {number}").parse().map_err(|_| Problem::Broken)?;
    let mut panel = Panel::bare(name, width, height, paper, Tool::plain(), number).with_desk(&tools);
    panel.heated = heated;
    panel.hands = hands;
    panel.card = Some(Card::fitting(&panel.inked(), units));
    panel.check().map_err(|error| Problem::Refused(sentence(&error.to_string())))?;
    Ok(panel)
}

/// What a new panel is begun with.
pub struct Desk {
    /// The maker's own card and tools.
    pub paper: Paper,
    pub tools: Vec<Tool>,
    /// Over what she heats.
    pub heated: Heated,
    /// What her light passes leave.
    pub hands: Hands,
    /// The number that the next panel has.
    pub number: u32,
}

pub async fn to_hand(store: &Store, bench: Uuid) -> Result<Desk, Problem> {
    let paper = store.all::<Paper>(bench).await?.into_iter().next_back();
    let tools: Vec<Tool> = store.all::<Tool>(bench).await?.into_iter().rev().map(|kept| kept.value).collect();
    let number = store.count::<Panel>(bench).await? as u32 + 1;
    let heated = store.only::<Heated>(bench).await?.1;
    let hands = store.only::<Hands>(bench).await?.1;
    let paper = paper.map_or_else(|| Paper::plain(Finish::VerySmooth), |kept| kept.value);
    Ok(Desk { paper, tools, heated, hands, number })
}

/// Of which shape a piece is cut, and from where it is inked.
#[derive(Deserialize)]
pub struct PieceAsked {
    shape: Uuid,
    from: PieceFrom,
}

#[derive(Clone, Copy, Deserialize)]
#[serde(rename_all = "kebab-case")]
enum PieceFrom {
    Foot,
    Heart,
}

/// `POST /pieces`: begins a piece cut to a shape, to be inked on its own.
pub async fn new_piece(sent: Sent<PieceAsked>, store: web::Data<Store>) -> Result<HttpResponse, PageProblem> {
    let bench = sent.visitor.bench.id;
    let shape = store.one::<Shape>(bench, sent.form.shape).await?.value;
    let Desk { paper, tools, heated, hands, number } = to_hand(&store, bench).await?;
    let refused = |error: PanelError| Problem::Refused(sentence(&error.to_string()));
    let piece = Panel::piece(shape, paper, Tool::plain(), number).map_err(refused)?;
    let mut piece = Panel { heated, hands, ..piece.with_desk(&tools) };
    if matches!(sent.form.from, PieceFrom::Heart) {
        let reach = piece.width.max(piece.height) / 2;
        let centre = Point { left: piece.width / 2, top: piece.height / 2 };
        piece.scene.ground[0].way = Way::Glow { centre, across: reach, down: reach };
    }
    piece.check().map_err(refused)?;
    let id: Uuid = store.add_panel(bench, &piece).await?;
    Ok(see(format!("/panels/{id}/inks")))
}

/// `POST /panels/{id}/name`: calls it something else, and leaves all the rest.
pub async fn rename(
    sent: Sent<Renaming>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let bench = sent.visitor.bench.id;
    let name = sent.form.read()?;
    let state = store.panel(bench, *id).await?;
    let label = format!("rename {}", state.panel.name);
    let change = move |panel: Panel| Ok(Panel { name, ..panel });
    saving(&sent.visitor, &store, &room, *id).change(&state, change, &label).await?;
    Ok(see(format!("/?renamed={}", *id)))
}

/// `POST /panels/{id}/unname`: takes the renaming back.
pub async fn unname(
    sent: Sent<Nothing>,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    store.walk_panel(sent.visitor.bench.id, *id, true).await?;
    Ok(see("/"))
}

/// `POST /panels/{id}/copy`.
pub async fn copy(
    sent: Sent<Nothing>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let bench = sent.visitor.bench.id;
    let panel = store.one::<Panel>(bench, *id).await?.value;
    let name = panel.name.with_tail(", copy");
    let copied =
        room.done(sent.visitor.asker(), move || Panel { name, done: 0, gave: Vec::new(), ..panel }.laid());
    let copy = copied.await?;
    store.add_panel_as(bench, &copy, &format!("copy {}", copy.name)).await?;
    Ok(see("/"))
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

/// `POST /panels/{id}/back`.
pub async fn bring_back(
    sent: Sent<Nothing>,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    store.bring_panel_back(sent.visitor.bench.id, *id).await?;
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
    #[serde(default)]
    back: String,
}

/// `POST /units`.
pub async fn units(sent: Sent<UnitsChosen>, store: web::Data<Store>) -> Result<HttpResponse, PageProblem> {
    store.set_units(sent.visitor.bench.id, sent.form.units).await?;
    // Only to a page of our own: a path of the signs our addresses are made of.
    let back = sent.form.back;
    let ours = back.starts_with('/')
        && !back.starts_with("//")
        && back.len() < 300
        && back.bytes().all(|b| b.is_ascii_alphanumeric() || b"/-._?=&%".contains(&b));
    Ok(see(if ours { back.as_str() } else { "/" }))
}
