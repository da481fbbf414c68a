//! Show it: a photo of a panel, held against its plan.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::evening::Sitting;
use rosy_core::order::{RunSheet, Step};
use rosy_core::record::Made;
use rosy_core::{Panel, Units};
use rosy_eye::phone::Phone;
use rosy_store::Store;
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
    let panel = &state.panel;
    let made = panel.made().len();
    let made = if made == 0 { panel.moves.len() } else { made };
    page(&ShownPage {
        name: panel.name.to_string(),
        from: (format!("/panels/{id}/sheet"), "Run sheet"),
        panel: Some(id.to_string()),
        look: format!("/api/panels/{id}/shown"),
        photo: None,
        steps: steps(panel, made, visitor.units()),
        phone: store.only::<Phone>(visitor.bench.id).await?.0.is_some(),
        frame: Frame::of(&visitor),
    })
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
    let panel = sitting.cards_now().into_iter().nth(card).ok_or(Problem::Missing("card"))?;
    page(&ShownPage {
        name: panel.name.to_string(),
        from: (format!("/evenings/{id}/bench"), "Back to the bench"),
        panel: None,
        look: format!("/api/evenings/{id}/cards/{card}/shown"),
        photo: None,
        steps: steps(&panel, after.after.unwrap_or(panel.moves.len()), visitor.units()),
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
        steps: Vec::new(),
        phone: store.only::<Phone>(visitor.bench.id).await?.0.is_some(),
        frame: Frame::of(&visitor),
    })
}
