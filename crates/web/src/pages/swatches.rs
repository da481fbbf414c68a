//! Swatches read from a photo: a frame to print, the photo with every patch on it, and the inks it would bring.

use actix_web::{HttpRequest, HttpResponse, web};
use askama::Template;
use rosy_core::ink::{Ink, Paper};
use rosy_eye::frame::{PLACES, letters_of};
use rosy_eye::phone::Phone;
use rosy_store::{Kept, Store};
use uuid::Uuid;

use super::{Frame, page};
use crate::drawing::frame::swatch_frame;
use crate::drawing::pdf;
use crate::error::{PageProblem, Problem};
use crate::files::attachment;
use crate::say::from_word;
use crate::visitor::Visitor;
use crate::workroom::Workroom;

#[derive(Template)]
#[template(path = "swatches.html")]
struct SwatchesPage {
    frame: Frame,
    /// The inks of the drawer, by name, and whether each stands on the frame to begin with.
    inks: Vec<(String, String, bool)>,
    /// The cards there are.
    cards: Vec<(String, String)>,
    /// Whether something is known of the phone.
    phone: bool,
}

async fn drawer(visitor: &Visitor, store: &Store) -> Result<Vec<Kept<Ink>>, PageProblem> {
    let mut inks = store.all::<Ink>(visitor.bench.id).await?;
    inks.sort_by(|a, b| a.value.name.cmp(&b.value.name));
    Ok(inks)
}

/// `GET /drawer/swatches`.
pub async fn show(visitor: Visitor, store: web::Data<Store>) -> Result<HttpResponse, PageProblem> {
    let inks = drawer(&visitor, &store).await?.into_iter().enumerate();
    let inks = inks.map(|(n, kept)| (kept.id.to_string(), kept.value.name.to_string(), n < PLACES)).collect();
    let cards = store.all::<Paper>(visitor.bench.id).await?.into_iter().rev();
    let cards = cards.map(|kept| (kept.id.to_string(), kept.value.name.to_string())).collect();
    let phone = store.only::<Phone>(visitor.bench.id).await?.0.is_some();
    page(&SwatchesPage { frame: Frame::of(&visitor), inks, cards, phone })
}

/// `GET /drawer/frame.pdf`: the frame to print, for the inks that are named, on the paper that is asked for.
pub async fn frame(
    visitor: Visitor,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    request: HttpRequest,
) -> Result<HttpResponse, PageProblem> {
    let asked = |wanted: &'static str| {
        let pairs = request.query_string().split('&').filter_map(|pair| pair.split_once('='));
        pairs.filter(move |(name, _)| *name == wanted).map(|(_, value)| value)
    };
    let paper = asked("paper").find_map(|word| from_word(word).ok());
    let paper = visitor.paper(paper)?;
    let wanted: Vec<Uuid> = asked("ink").filter_map(|id| id.parse().ok()).collect();
    if wanted.len() > PLACES {
        let says = format!(
            "{} inks are chosen, and a frame has {PLACES} places: choose fewer, and print the others on another.",
            wanted.len()
        );
        return Err(Problem::Refused(says).into());
    }
    let inks = drawer(&visitor, &store).await?;
    let inks: Vec<(String, String)> = inks
        .into_iter()
        .filter(|kept| wanted.contains(&kept.id))
        .map(|Kept { value: ink, .. }| (format!("{} · {}", ink.name, ink.kind), letters_of(&ink)))
        .collect();
    let drawn = room.done(visitor.asker(), move || {
        pdf::of_ready("Swatch frame", std::iter::once(("24 strips", swatch_frame(&inks))), paper)
    });
    Ok(HttpResponse::Ok()
        .content_type("application/pdf")
        .insert_header(attachment("swatch frame", "pdf"))
        .body(drawn.await?))
}
