//! The ink drawer: every ink as a veil strip, by family; files in and out.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::Panel;
use rosy_core::card::Envelope;
use rosy_core::edges::known_size;
use rosy_core::ink::{Family, Ink, KeptFor, Paper, Tool};
use rosy_store::{Kept, Scope, Store};
use serde::Deserialize;
use uuid::Uuid;

use super::{Frame, Paged, page, see};
use crate::error::{PageProblem, Problem};
use crate::files::{self, attachment};
use crate::say::veil_strip;
use crate::visitor::{Nothing, Sent, Visitor};
use crate::workroom::Workroom;

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
}

/// Inks on one page.
const EACH: u64 = 120;

/// Which of the inks are looked for.
#[derive(Clone, Debug, Default, Deserialize)]
#[serde(default)]
pub struct Wanted {
    /// Words in their name, kind or family.
    pub search: String,
    /// Dye, oxide or pigment; all where it is empty.
    kind: String,
    page: u64,
    /// An ink that was just kept.
    kept: Option<Uuid>,
}

/// Some inks of the drawer, and which page of them this is.
pub struct Found {
    /// The inks by family, each from light to dark.
    pub shelves: Vec<Shelf>,
    /// How many there are in the drawer.
    pub all: usize,
    /// How many were found.
    pub count: usize,
    /// Which page.
    pub paged: Paged,
    /// What was looked for.
    pub wanted: Wanted,
}

impl Found {
    /// Looks for inks; `address` is the page they are shown on.
    pub async fn of(
        visitor: &Visitor,
        room: &Workroom,
        inks: Vec<Kept<Ink>>,
        wanted: &Wanted,
        address: &str,
    ) -> Result<Found, Problem> {
        let all = inks.len();
        let search = wanted.search.to_lowercase();
        let words: Vec<&str> = search.split_whitespace().collect();
        let mut found: Vec<(Family, f64, Kept<Ink>)> = inks
            .into_iter()
            .map(|kept| (kept.value.family(), kept))
            .filter(|(family, Kept { value: ink, .. })| {
                let told = format!("{} {} {}", ink.name.as_str().to_lowercase(), ink.kind, family.words());
                (wanted.kind.is_empty() || ink.kind.word() == wanted.kind)
                    && words.iter().all(|word| told.contains(word))
            })
            .map(|(family, kept)| (family, kept.value.lab().l, kept))
            .collect();
        found.sort_by(|(one, light, a), (other, dark, b)| {
            one.cmp(other).then(dark.total_cmp(light)).then_with(|| a.value.name.cmp(&b.value.name))
        });
        let count = found.len();
        let asked = format!(
            "{address}?search={}&kind={}&page=",
            urlencoded(&wanted.search),
            urlencoded(&wanted.kind)
        );
        let paged = Paged::of(wanted.page, count as u64, EACH, asked);
        let shown: Vec<(Family, Kept<Ink>)> = found
            .into_iter()
            .skip(paged.skipped(EACH) as usize)
            .take(EACH as usize)
            .map(|(family, _, kept)| (family, kept))
            .collect();
        let strips = strips(visitor, room, shown.iter().map(|(_, kept)| kept)).await?;
        let mut shelves: Vec<Shelf> = Vec::new();
        for ((family, Kept { id, value: ink, .. }), strip) in shown.into_iter().zip(strips) {
            let family = family.words();
            if shelves.last().is_none_or(|shelf| shelf.family != family) {
                shelves.push(Shelf { family, inks: Vec::new() });
            }
            let row = Row { id: id.to_string(), name: ink.name.to_string(), kind: ink.kind.word(), strip };
            shelves.last_mut().expect("a shelf was put there").inks.push(row);
        }
        Ok(Found { shelves, all, count, paged, wanted: wanted.clone() })
    }

    /// Whether a kind is the one looked for.
    fn is_kind(&self, kind: &str) -> bool {
        self.wanted.kind == kind
    }
}

/// The strips of some inks, drawn once for as long as they are shown together.
async fn strips<'a>(
    visitor: &Visitor,
    room: &Workroom,
    inks: impl Iterator<Item = &'a Kept<Ink>>,
) -> Result<Vec<String>, Problem> {
    let key = |kept: &Kept<Ink>| {
        format!("strip {} {}", kept.id, serde_json::to_string(&kept.value).unwrap_or_default())
    };
    let inks: Vec<(String, Kept<Ink>)> = inks.map(|kept| (key(kept), kept.clone())).collect();
    let draw = |kept: &Kept<Ink>| veil_strip(&kept.value, &format!("strip-{}", kept.id));
    let drawn = room.each_made(visitor.asker(), inks, draw).await?;
    Ok(drawn.iter().map(|strip| String::from_utf8_lossy(strip).into_owned()).collect())
}

fn urlencoded(text: &str) -> String {
    text.bytes()
        .map(|b| if b.is_ascii_alphanumeric() { char::from(b).to_string() } else { format!("%{b:02X}") })
        .collect()
}

#[derive(Template)]
#[template(path = "drawer.html")]
struct DrawerPage {
    frame: Frame,
    found: Found,
    papers: Vec<Owned>,
    tools: Vec<Owned>,
    envelopes: Vec<Owned>,
    /// The ink that was just kept, and whether there is a panel to put it on.
    kept: Option<String>,
    panels: u64,
    undo: Option<String>,
    redo: Option<String>,
}

/// Something else that is owned.
struct Owned {
    id: String,
    name: String,
    says: String,
    colour: Option<String>,
}

/// What a tool is, how many there are and what for.
pub fn tool_says(tool: &Tool) -> String {
    let many = match tool.count {
        1 => tool.kind.words().to_owned(),
        count => format!("{count} {}", tool.kind.several()),
    };
    match tool.kept_for {
        KeptFor::Anything => many,
        kept => format!("{many}, kept for {kept}"),
    }
}

/// `GET /drawer`.
pub async fn show(
    visitor: Visitor,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    wanted: web::Query<Wanted>,
) -> Result<HttpResponse, PageProblem> {
    let (bench, units) = (visitor.bench.id, visitor.units());
    let inks = store.all::<Ink>(bench).await?;
    let kept = wanted.kept.and_then(|id| inks.iter().find(|kept| kept.id == id));
    let kept = kept.map(|kept| kept.value.name.to_string());
    let papers =
        store.all::<Paper>(bench).await?.into_iter().rev().map(|Kept { id, value: paper, .. }| Owned {
            id: id.to_string(),
            says: format!("{}, {} thick", paper.surface.words(), paper.thickness.as_thickness(units)),
            colour: Some(paper.lab().on_screen(Default::default()).0.to_string()),
            name: paper.name.to_string(),
        });
    let tools = store.all::<Tool>(bench).await?.into_iter().rev().map(|Kept { id, value: tool, .. }| Owned {
        id: id.to_string(),
        name: tool.name.to_string(),
        says: tool_says(&tool),
        colour: None,
    });
    let envelopes =
        store.all::<Envelope>(bench).await?.into_iter().rev().map(|Kept { id, value, .. }| Owned {
            id: id.to_string(),
            name: value.name.to_string(),
            says: known_size(value.width, value.height, units),
            colour: None,
        });
    let (undo, redo) = store.undoable(bench, Scope::Drawer).await?;
    page(&DrawerPage {
        frame: Frame::of(&visitor),
        found: Found::of(&visitor, &room, inks, &wanted, "/drawer").await?,
        papers: papers.collect(),
        tools: tools.collect(),
        envelopes: envelopes.collect(),
        kept,
        panels: store.count::<Panel>(bench).await?,
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
        .insert_header(attachment("inks", "csv"))
        .body(files::write_csv(inks.iter())))
}

/// `GET /drawer/inks.txt`: as measurements.
pub async fn measured(visitor: Visitor, store: web::Data<Store>) -> Result<HttpResponse, PageProblem> {
    let inks = inks(&visitor, &store).await?;
    Ok(HttpResponse::Ok()
        .content_type("text/plain; charset=utf-8")
        .insert_header(attachment("inks", "txt"))
        .body(files::write_measured(&inks)))
}

/// `GET /drawer/inks.json`.
pub async fn json(visitor: Visitor, store: web::Data<Store>) -> Result<HttpResponse, PageProblem> {
    let inks = inks(&visitor, &store).await?;
    Ok(HttpResponse::Ok()
        .content_type("application/json")
        .insert_header(attachment("inks", "json"))
        .body(files::write_json(&inks)))
}
