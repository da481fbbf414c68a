//! Show it: a photo of a panel, held against its plan.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::evening::Sitting;
use rosy_core::order::{RunSheet, Step};
use rosy_core::record::{Made, Photos, ShownBy};
use rosy_core::{Panel, Units};
use rosy_eye::phone::Phone;
use rosy_store::{Kept, Store};
use serde::Deserialize;
use uuid::Uuid;

use super::{Frame, page};
use crate::error::{PageProblem, Problem};
use crate::visitor::{OnPanel, Visitor};

#[derive(Template)]
#[template(path = "shown.html")]
struct ShownPage {
    frame: Frame,
    name: String,
    /// Where it came from, and what that is called.
    from: (String, &'static str),
    /// The panel, where its plan can still be changed.
    panel: Option<String>,
    /// Where its photo is sent to, and the photo that there is already.
    look: String,
    photo: Option<String>,
    /// Photos of others by the same plan: where each is shown, the photo, and which it is.
    others: Vec<(String, String, String)>,
    /// The steps after which it may be shown: moves made, words, and whether it is the one that was done last.
    steps: Vec<(usize, String, bool)>,
    /// Whether something is known of the phone.
    phone: bool,
}

/// `GET /panels/{id}/shown`.
pub async fn panel(
    OnPanel { visitor, id, state }: OnPanel,
    store: web::Data<Store>,
) -> Result<HttpResponse, PageProblem> {
    let (panel, bench) = (&state.panel, visitor.bench.id);
    let photos = store.only::<Photos>(bench).await?.1;
    let shown = photos.of(&id.to_string());
    let made = shown.map_or(panel.made().len(), |shown| shown.moves);
    let made = if made == 0 { panel.moves.len() } else { made };
    page(&ShownPage {
        name: panel.name.to_string(),
        from: (format!("/panels/{id}/sheet"), "Run sheet"),
        panel: Some(id.to_string()),
        look: format!("/api/panels/{id}/shown"),
        photo: shown.map(file_of),
        others: by_the_same_plan(&store, bench, panel, None).await?,
        steps: steps(panel, made, visitor.units()),
        phone: store.only::<Phone>(visitor.bench.id).await?.0.is_some(),
        frame: Frame::of(&visitor),
    })
}

/// Others that are shown beside one, at most.
const MOST_OTHERS: usize = 12;

fn file_of(shown: &ShownBy) -> String {
    format!("/made/photos/{}.jpg", shown.photo)
}

/// What was made by the plan of a panel, but for one, and has a photo: the latest first.
async fn by_the_same_plan(
    store: &Store,
    bench: Uuid,
    panel: &Panel,
    but: Option<Uuid>,
) -> Result<Vec<(String, String, String)>, PageProblem> {
    let made = store.all::<Made>(bench).await?;
    let own = |kept: &&Kept<Made>| Some(kept.id) != but && kept.value.panel.scene == panel.scene;
    let mut own: Vec<(i64, (String, String, String))> = made
        .iter()
        .filter(own)
        .filter_map(|Kept { id, value, .. }| {
            let photo = value.photo.as_ref()?;
            let says = if value.to.is_empty() { "made before".into() } else { format!("for {}", value.to) };
            Some((value.at, (format!("/made/{id}/shown"), format!("/made/photos/{photo}.jpg"), says)))
        })
        .collect();
    own.sort_by_key(|(at, _)| std::cmp::Reverse(*at));
    Ok(own.into_iter().take(MOST_OTHERS).map(|(_, other)| other).collect())
}

/// The steps of a panel after which it may be shown; the last by which so many moves were made is chosen.
fn steps(panel: &Panel, made: usize, units: Units) -> Vec<(usize, String, bool)> {
    let sheet = RunSheet::of(panel, units);
    let laid = sheet.steps.iter().zip(1..).filter(|(step, _)| step.at.is_some() && step.after_moves > 0);
    let chosen = laid.clone().filter(|(step, _)| step.after_moves <= made).map(|(_, nth)| nth).max();
    let one = |(step, nth): (&Step, usize)| {
        (step.after_moves, format!("step {nth}: {}", step.title), Some(nth) == chosen)
    };
    laid.map(one).collect()
}

/// How far a card on the bench has come.
#[derive(Deserialize)]
pub struct After {
    /// Moves made.
    after: Option<usize>,
}

/// `GET /evenings/{id}/cards/{card}/shown`.
pub async fn card(
    visitor: Visitor,
    store: web::Data<Store>,
    path: web::Path<(Uuid, usize)>,
    after: web::Query<After>,
) -> Result<HttpResponse, PageProblem> {
    let (id, card) = path.into_inner();
    let sitting = store.one::<Sitting>(visitor.bench.id, id).await?.value;
    let panels = sitting.cards_now();
    let panel = panels.get(card).cloned().ok_or(Problem::Missing("card"))?;
    let photos = store.only::<Photos>(visitor.bench.id).await?.1;
    let shown = |card: usize| photos.of(&format!("{id} {card}"));
    let alike = |other: &usize| *other != card && panels[*other].scene == panel.scene;
    let beside = |other| {
        let says = format!("card {} of this evening", other + 1);
        Some((format!("/evenings/{id}/cards/{other}/shown"), file_of(shown(other)?), says))
    };
    let mut others: Vec<_> = (0..panels.len()).filter(alike).filter_map(beside).collect();
    others.extend(by_the_same_plan(&store, visitor.bench.id, &panel, None).await?);
    let by_now = shown(card).map_or(panel.moves.len(), |shown| shown.moves);
    page(&ShownPage {
        name: panel.name.to_string(),
        from: (format!("/evenings/{id}/bench"), "Back to the bench"),
        panel: None,
        look: format!("/api/evenings/{id}/cards/{card}/shown"),
        photo: shown(card).filter(|shown| after.after.is_none_or(|after| after == shown.moves)).map(file_of),
        others,
        steps: steps(&panel, after.after.unwrap_or(by_now), visitor.units()),
        phone: store.only::<Phone>(visitor.bench.id).await?.0.is_some(),
        frame: Frame::of(&visitor),
    })
}

/// `GET /made/{id}/shown`.
pub async fn made(
    visitor: Visitor,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let made = store.one::<Made>(visitor.bench.id, *id).await?.value;
    page(&ShownPage {
        name: made.panel.name.to_string(),
        from: (format!("/made/{id}"), "Record"),
        panel: None,
        look: format!("/api/made/{id}/shown"),
        photo: made.photo.map(|photo| format!("/made/photos/{photo}.jpg")),
        others: by_the_same_plan(&store, visitor.bench.id, &made.panel, Some(*id)).await?,
        steps: Vec::new(),
        phone: store.only::<Phone>(visitor.bench.id).await?.0.is_some(),
        frame: Frame::of(&visitor),
    })
}
