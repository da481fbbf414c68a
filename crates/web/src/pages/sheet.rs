//! A panel's run sheet: each step with its picture, to be ticked off at the bench or printed.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::Panel;
use rosy_core::ink::Tool;
use rosy_core::ink::tool::lies_beside;
use rosy_core::learn::Pace;
use rosy_core::moves::{Technique, light_passes};
use rosy_core::order::check::{Broken, check};
use rosy_core::order::hand::{ByHand, HandError, changed};
use rosy_core::order::{Cost, RunSheet, Step};
use rosy_core::supply::Shelf;
use rosy_core::surface::Heated;
use rosy_store::{Kept, Scope, Store};
use serde::Deserialize;
use uuid::Uuid;

use super::drawer::tool_says;
use super::{Frame, PanelHead, page, saving, see, size, supplies};
use crate::error::PageProblem;
use crate::say::{self, many, times};
use crate::state::State;
use crate::visitor::{OnPanel, Sent};
use crate::workroom::Workroom;

#[derive(Template)]
#[template(path = "sheet.html")]
struct SheetPage {
    frame: Frame,
    head: PanelHead,
    few_inks: bool,
    /// Whether it is one to practise on.
    is_strip: bool,
    /// What there is not enough of for it.
    short: Vec<String>,
    sheet: RunSheet,
    school: &'static str,
    /// What is broken, and what puts it right, by the step.
    broken: Vec<BrokenRow>,
    /// Whether the order is the maker's own.
    by_hand: bool,
    gave: Vec<String>,
    /// What the inking costs, in words.
    cost: String,
    size: String,
    paper: String,
    tool: String,
    /// The tools that are owned and could lie on its desk.
    desk: Vec<OnDesk>,
    heated: Heated,
    /// Whether something of low-tack sheet, or a stencil of film, lies on it at some time.
    is_masked: (bool, bool),
    inks: Vec<(String, String)>,
    /// Pixels to the inch of a step's picture.
    dpi: u32,
    state: String,
}

impl SheetPage {
    /// What is broken at a step; at the last that is a move, also what is broken at the end.
    fn broken_at(&self, step: &Step) -> Vec<&BrokenRow> {
        let Some(at) = step.at else { return Vec::new() };
        let last = self.sheet.steps.iter().filter_map(|step| step.at).max() == Some(at);
        self.broken.iter().filter(|broken| broken.at == at || (last && broken.at > at)).collect()
    }

    /// How a step is done; what is broken at it is told by itself.
    fn how(&self, step: &Step) -> String {
        let told = self.broken_at(step);
        told.iter().fold(step.how.clone(), |how, broken| how.replacen(&broken.says, "", 1)).trim().to_owned()
    }

    /// Whether a step can be left out: it lays no ink.
    fn can_go(&self, step: &Step) -> bool {
        step.at.is_some() && step.ink.is_none()
    }

    fn colour_of(&self, step: &Step) -> Option<&str> {
        step.ink.and_then(|ink| self.inks.get(ink)).map(|(_, colour)| colour.as_str())
    }
}

/// `GET /panels/{id}/sheet`.
pub async fn show(
    OnPanel { visitor, id, state }: OnPanel,
    store: web::Data<Store>,
) -> Result<HttpResponse, PageProblem> {
    let (bench, units) = (visitor.bench.id, visitor.units());
    let panel = state.panel.clone();
    let desk = store.all::<Tool>(bench).await?.into_iter().rev().map(|kept| OnDesk::of(&panel, kept));
    let desk: Vec<OnDesk> = desk.filter(|tool| tool.is_of_use).collect();
    let colour = |ink: &rosy_core::ink::Ink| ink.lab().on_screen(Default::default()).0.to_string();
    // Timed as the maker has it.
    let panel = Panel { pace: store.only::<Pace>(bench).await?.1, ..panel };
    let sheet = RunSheet::of(&panel, units);
    let shelf = store.only::<Shelf>(bench).await?.1;
    page(&SheetPage {
        frame: Frame::of(&visitor),
        cost: cost(&sheet),
        head: PanelHead::of(id, &panel, "sheet"),
        few_inks: panel.moves.is_empty(),
        is_strip: panel.practice.is_some(),
        short: supplies::short(&shelf, std::slice::from_ref(&panel)),
        sheet,
        broken: BrokenRow::all(&panel),
        by_hand: panel.by_hand,
        gave: panel.gave.clone(),
        school: panel.school.words(),
        size: size(&panel, units),
        paper: panel.paper.name.to_string(),
        tool: panel.tool.name.to_string(),
        desk,
        heated: panel.heated,
        is_masked: masked(&panel),
        inks: panel.inks.iter().map(|ink| (format!("{}, {}", ink.name, ink.kind), colour(ink))).collect(),
        dpi: (260.0 / panel.height.inches()).round().clamp(20.0, 120.0) as u32,
        state: say::json_in_page(&State::from(state)),
    })
}

/// Whether something of low-tack sheet, or a stencil of film, lies on a panel at some time.
fn masked(panel: &Panel) -> (bool, bool) {
    let masks = panel.materials().masks.clone();
    let lying: Vec<bool> =
        panel.moves.iter().filter_map(|m| m.mask()).map(|mask| masks.is_film(mask)).collect();
    (lying.contains(&false), lying.contains(&true))
}

/// A rule that a move breaks.
struct BrokenRow {
    /// Its place among the findings.
    nth: usize,
    at: usize,
    says: String,
    repair: String,
    /// Whether a picture can show what it would do.
    is_seen: bool,
    /// What the maker has said to it, where she leaves it so.
    accepted: Option<String>,
}

impl BrokenRow {
    fn all(panel: &Panel) -> Vec<BrokenRow> {
        let materials = panel.materials();
        let row = |(nth, broken): (usize, Broken)| BrokenRow {
            nth,
            at: broken.at,
            repair: broken.repair(&materials),
            is_seen: broken.harmed(panel).is_some(),
            accepted: broken.accepted(panel).map(|one| one.note.clone()),
            says: broken.says,
        };
        check(panel).into_iter().enumerate().map(row).collect()
    }
}

/// A change to one step.
#[derive(Deserialize)]
pub struct StepDone {
    /// The move, by its place from 0.
    #[serde(default)]
    at: usize,
    deed: Handling,
    /// What is broken, by its place among the findings.
    #[serde(default)]
    nth: usize,
    /// Why it is left so.
    #[serde(default)]
    note: String,
}

/// What is asked for a step.
#[derive(Clone, Copy, Deserialize)]
#[serde(rename_all = "kebab-case")]
enum Handling {
    Earlier,
    Later,
    Out,
    Dry,
    Mend,
    Accept,
    TakeUp,
    Plan,
    Noted,
}

/// `POST /panels/{id}/moves`: a step put elsewhere, left out, dried before, or what it breaks put right; or the program's own
/// order again.
pub async fn change(
    sent: Sent<StepDone>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let bench = sent.visitor.bench.id;
    let state = store.panel(bench, *id).await?;
    let StepDone { at, deed, nth, note } = sent.form;
    let label = match deed {
        Handling::Earlier => "do a step earlier",
        Handling::Later => "do a step later",
        Handling::Out => "leave a step out",
        Handling::Dry => "dry before a step",
        Handling::Mend => "put a step right",
        Handling::Accept => "leave a finding as it is",
        Handling::TakeUp => "take a finding up again",
        Handling::Plan => "plan the steps again",
        Handling::Noted => "take note of what had to give",
    };
    let change = move |panel: Panel| {
        let by_hand = |deed| changed(&panel, at, deed).map_err(|error| error.to_string());
        let broken = || check(&panel).into_iter().nth(nth).ok_or_else(|| HandError::Gone.to_string());
        match deed {
            Handling::Earlier => by_hand(ByHand::Earlier),
            Handling::Later => by_hand(ByHand::Later),
            Handling::Out => by_hand(ByHand::Out),
            Handling::Dry => by_hand(ByHand::DryBefore),
            Handling::Mend => by_hand(ByHand::Mend(nth)),
            Handling::Accept => broken()?.accept(&panel, &note).map_err(|error| error.to_string()),
            Handling::TakeUp => Ok(broken()?.taken_up(&panel)),
            Handling::Plan => Ok(Panel { by_hand: false, ..panel }.laid()),
            Handling::Noted => Ok(Panel { gave: Vec::new(), ..panel }),
        }
    };
    saving(&sent.visitor, &store, &room, *id).change_steps(&state, change, label).await?;
    Ok(see(format!("/panels/{}/sheet#move-{at}", *id)))
}

/// A tool that is owned, beside a panel.
struct OnDesk {
    id: Uuid,
    name: String,
    says: String,
    /// Whether it lies on the panel's desk.
    lies: bool,
    /// Whether it is the one most is laid with, which stays.
    is_first: bool,
    /// Whether the panel could be laid with it.
    is_of_use: bool,
}

impl OnDesk {
    fn of(panel: &Panel, Kept { id, value: tool, .. }: Kept<Tool>) -> OnDesk {
        let is_first = panel.tool == tool;
        OnDesk {
            id,
            name: tool.name.to_string(),
            says: tool_says(&tool),
            lies: is_first || panel.brushes.contains(&tool),
            is_first,
            is_of_use: is_first || lies_beside(&panel.tool, &tool),
        }
    }
}

/// A tool put on a panel's desk or taken off it.
#[derive(Deserialize)]
pub struct Desk {
    tool: Uuid,
}

/// Over what heat may come near.
#[derive(Clone, Copy, Deserialize)]
#[serde(rename_all = "lowercase")]
enum Over {
    Sheet,
    Film,
}

/// It turned the other way.
#[derive(Deserialize)]
pub struct Heat {
    over: Over,
}

/// `POST /panels/{id}/heat`: dries this panel with heat over masks from now on, and those begun later, or no more.
pub async fn heat(
    sent: Sent<Heat>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let bench = sent.visitor.bench.id;
    let state = store.panel(bench, *id).await?;
    let mut heated = state.panel.heated;
    let (turned, over) = match sent.form.over {
        Over::Sheet => (&mut heated.sheet, "low-tack sheet"),
        Over::Film => (&mut heated.film, "film stencils"),
    };
    *turned = !*turned;
    let label = if *turned { format!("heat over {over}") } else { format!("no heat over {over}") };
    let change = move |panel: Panel| Ok(Panel { heated, ..panel }.laid());
    saving(&sent.visitor, &store, &room, *id).change(&state, change, &label).await?;
    let known = store.only::<Heated>(bench).await?;
    store.put_only(bench, Scope::Bench, &label, (known, &heated)).await?;
    Ok(see(format!("/panels/{}/sheet#desk", *id)))
}

/// `POST /panels/{id}/desk`: puts a tool on the desk beside the first, or takes it off; the moves are planned anew for it.
pub async fn desk(
    sent: Sent<Desk>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let bench = sent.visitor.bench.id;
    let state = store.panel(bench, *id).await?;
    let tool = store.one::<Tool>(bench, sent.form.tool).await?.value;
    let mut panel = state.panel.clone();
    let lay = panel.brushes.contains(&tool);
    // One of its name that was changed since is replaced.
    panel.brushes.retain(|other| other.name != tool.name);
    let label = if lay {
        format!("lay {} aside", tool.name)
    } else {
        panel.brushes.push(tool.clone());
        format!("put {} on the desk", tool.name)
    };
    let change = move |_: Panel| Ok(panel.laid());
    saving(&sent.visitor, &store, &room, *id).change(&state, change, &label).await?;
    Ok(see(format!("/panels/{}/sheet#desk", *id)))
}

/// What a plan asks of the brushes.
pub fn brush_work(cost: &Cost) -> String {
    match (cost.wipes, cost.brush_changes) {
        (0, 0) => "nothing to wipe".into(),
        (wipes, 0) => format!("the brush wiped {}", times(wipes)),
        (0, changes) => format!("brushes changed {}, none wiped", times(changes)),
        (wipes, changes) => format!("brushes changed {}, wiped {}", times(changes), times(wipes)),
    }
}

fn cost(sheet: &RunSheet) -> String {
    let brushes = brush_work(&sheet.cost);
    format!(
        "{} in {}, {brushes}, about {} of inking.",
        light_passes(sheet.cost.veils),
        many(sheet.cost.rounds.into(), "round"),
        many(sheet.cost.minutes as usize, "minute")
    )
}
