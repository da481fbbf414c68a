//! A panel's inks: which two to five, and in which order they stand.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::Panel;
use rosy_core::ink::Ink;
use rosy_core::search::{StandIn, stand_ins};
use rosy_store::{Kept, Store};
use serde::Deserialize;
use uuid::Uuid;

use super::drawer::{Found, Wanted};
use super::search::how_near;
use super::{Frame, PanelHead, page, saving, see};
use crate::error::{PageProblem, Problem};
use crate::picture::data_url;
use crate::say;
use crate::state::State;
use crate::visitor::{Sent, Visitor};
use crate::workroom::Workroom;

#[derive(Template)]
#[template(path = "inks.html")]
struct InksPage {
    frame: Frame,
    head: PanelHead,
    found: Found,
    /// Inks of the panel that are not in the drawer.
    missing: Vec<Missing>,
    /// The panel's state, for the script.
    state: String,
}

/// An ink of the panel that is not owned, and what comes nearest in its place.
struct Missing {
    place: usize,
    name: String,
    nearest: Vec<Nearest>,
}

/// Another ink in its place.
struct Nearest {
    ink: Uuid,
    name: String,
    how_near: &'static str,
    exactly: String,
    /// The panel with it.
    picture: String,
}

/// Inks offered in one's place.
const OFFERED: usize = 3;
/// Pixels to the inch of the panel with one of them.
const SMALL: f64 = 22.0;

fn missing(panel: &Panel, drawer: &[Kept<Ink>]) -> Vec<Missing> {
    let is_owned = |ink: &Ink| {
        let name = ink.name.as_str().to_lowercase();
        drawer
            .iter()
            .any(|kept| kept.value.kind == ink.kind && kept.value.name.as_str().to_lowercase() == name)
    };
    let owned: Vec<Ink> = drawer.iter().map(|kept| kept.value.clone()).collect();
    let nearest = |stand_in: StandIn| Nearest {
        ink: drawer[stand_in.place].id,
        name: owned[stand_in.place].name.to_string(),
        how_near: how_near(stand_in.difference),
        exactly: format!("{:.1} on the panel (CIEDE2000)", stand_in.difference),
        picture: data_url(&stand_in.panel.surface(), SMALL).unwrap_or_default(),
    };
    let not_owned = panel.inks.iter().enumerate().filter(|(_, ink)| !is_owned(ink));
    not_owned
        .map(|(place, ink)| Missing {
            place,
            name: ink.name.to_string(),
            nearest: stand_ins(panel, place, &owned, OFFERED).into_iter().map(nearest).collect(),
        })
        .collect()
}

/// `GET /panels/{id}/inks`.
pub async fn show(
    visitor: Visitor,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
    room: web::Data<Workroom>,
    wanted: web::Query<Wanted>,
) -> Result<HttpResponse, PageProblem> {
    let bench = visitor.bench.id;
    let state = store.panel(bench, *id).await?;
    let panel = state.panel.clone();
    let inks = store.all::<Ink>(bench).await?;
    let head = PanelHead::of(*id, &panel, "inks");
    let state = say::json_in_page(&State::from(state));
    let lacks = {
        let inks = inks.clone();
        room.done(visitor.asker(), move || missing(&panel, &inks)).await?
    };
    let found = Found::of(&visitor, &room, inks, &wanted, &format!("/panels/{}/inks", *id)).await?;
    page(&InksPage { frame: Frame::of(&visitor), head, found, missing: lacks, state })
}

/// An ink of the drawer for the place of one of the panel's.
#[derive(Deserialize)]
pub struct InPlace {
    place: usize,
    ink: Uuid,
}

/// `POST /panels/{id}/stand-in`: takes an ink of the drawer in the place of one that is not owned.
pub async fn stand_in(
    sent: Sent<InPlace>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let (bench, InPlace { place, ink }) = (sent.visitor.bench.id, sent.form);
    let state = store.panel(bench, *id).await?;
    let ink = store.one::<Ink>(bench, ink).await?.value;
    let was = state.panel.inks.get(place).ok_or(Problem::Missing("ink"))?;
    let label = format!("{} in place of {}", ink.name, was.name);
    let change = move |panel: Panel| {
        let found = stand_ins(&panel, place, &[ink], 1).pop();
        found
            .map(|found| found.panel)
            .ok_or_else(|| "That ink is on the panel already: choose another.".into())
    };
    saving(&sent.visitor, &store, &room, *id).change(&state, change, &label).await?;
    Ok(see(format!("/panels/{}/inks", *id)))
}
