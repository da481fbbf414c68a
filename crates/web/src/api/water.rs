//! `POST /api/panels/water`: the mat, the presses and all that is done with water as they stand on the page, and how it would
//! look. Nothing is kept here.

use std::sync::Arc;

use actix_web::{HttpResponse, web};
use askama::Template;
use base64::Engine;
use base64::engine::general_purpose::STANDARD;
use rosy_core::edit::Has;
use rosy_core::edit::water::Change;
use rosy_core::ink::Film;
use rosy_core::picture::Picture;
use rosy_core::picture::file::{Pace, png};
use rosy_core::picture::pressed::{draw, draw_mat};
use rosy_core::place::Point;
use rosy_core::scene::Wetting;
use rosy_core::water::bench::{Bench, Deed, Told};
use rosy_core::{Length, Panel};
use rosy_store::Store;
use serde::Serialize;

use super::looked::{Asked, Wrong, answer, drawer};
use crate::error::ApiProblem;
use crate::pages::water::Told as Page;
use crate::picture::{data_url, for_page, is_large};
use crate::visitor::{Caller, Read};
use crate::workroom::Workroom;

/// Pixels to the inch of the pictures of the mat and of spare cards.
const SMALL_DPI: f64 = 64.0;

/// How it would come out.
#[derive(Serialize)]
struct Look {
    panel: Panel,
    picture: String,
    /// The mat misted for its first press; nothing where there is none.
    #[serde(skip_serializing_if = "Option::is_none")]
    mat: Option<String>,
    /// The patches on it.
    patches: Vec<GripNote>,
    /// Bottles that are aimed at the panel.
    aims: Vec<GripNote>,
    /// The spare cards, by picture.
    spares: Vec<String>,
    /// How it all stands after each press.
    presses: Vec<PressNote>,
    #[serde(skip_serializing_if = "Option::is_none")]
    told: Option<String>,
}

/// The mat and the card once a press is done.
#[derive(Serialize)]
struct PressNote {
    says: String,
    mat: String,
    card: String,
}

/// A place to take hold of, in per cent of the picture's width and height.
#[derive(Serialize)]
struct GripNote {
    place: usize,
    name: String,
    left: f64,
    top: f64,
}

/// Looks.
pub async fn look(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    Read(asked): Read<Asked<Change>>,
) -> Result<HttpResponse, ApiProblem> {
    let (bench, units) = (caller.visitor.bench.id, caller.visitor.units());
    let drawer = drawer(&store, bench, asked.change.as_ref()).await?;
    let asker = caller.visitor.asker().heavy_if(is_large(asked.dpi));
    let looked = room.done(&asker, move || looked(asked, &Has { drawer: &drawer, shape: None, units }));
    answer(looked.await?)
}

fn looked(asked: Asked<Change>, has: &Has) -> Result<Look, Wrong> {
    let (dpi, settled) = (asked.dpi, asked.settled);
    let panel = asked.changed(has)?.panel;
    let dpi = for_page(&panel, dpi);
    let picture = data_url(&panel.surface(), dpi).map_err(Wrong::nowhere)?;
    let told =
        if settled { Some(Page::of(&panel, has.units).render().map_err(Wrong::nowhere)?) } else { None };
    Ok(Look {
        mat: mat_picture(&panel),
        patches: patches(&panel),
        aims: aims(&panel),
        spares: if settled { spares(&panel) } else { Vec::new() },
        presses: if settled { presses(&panel) } else { Vec::new() },
        picture,
        told,
        panel,
    })
}

fn shown(picture: &Picture) -> String {
    format!("data:image/png;base64,{}", STANDARD.encode(png(picture, SMALL_DPI, Pace::Quick)))
}

/// A mat, the cards pressed on it, and what they look like.
struct OnMat<'a> {
    panel: &'a Panel,
    films: Vec<Film>,
    bench: Arc<Bench>,
}

impl<'a> OnMat<'a> {
    /// After the first so many of its deeds.
    fn after(panel: &'a Panel, told: &Told, count: usize) -> OnMat<'a> {
        let told = Told { deeds: told.deeds[..count].to_vec(), ..told.clone() };
        let films = told.inks.iter().map(|(ink, _)| panel.inks[*ink].film()).collect();
        OnMat { panel, films, bench: told.bench() }
    }

    fn size(&self) -> (f64, f64) {
        (self.panel.width.mm(), self.panel.height.mm())
    }

    fn mat(&self) -> String {
        shown(&draw_mat(&self.bench.mat, &self.films, self.size(), SMALL_DPI))
    }

    fn card(&self, card: usize) -> Option<String> {
        let layers = &self.bench.cards.get(card)?.layers;
        Some(shown(&draw(layers, &self.films, &self.panel.paper, self.size(), SMALL_DPI)))
    }
}

/// All that is done with the mat.
fn told(panel: &Panel) -> Option<Told> {
    panel.scene.smoosh.as_ref()?;
    Some(panel.surface().mat)
}

/// The mat as it is misted for its first press.
fn mat_picture(panel: &Panel) -> Option<String> {
    let told = told(panel)?;
    let first = told.deeds.iter().position(|deed| matches!(deed, Deed::Press(..)));
    Some(OnMat::after(panel, &told, first.unwrap_or(told.deeds.len())).mat())
}

/// The spare cards as they come off the mat.
fn spares(panel: &Panel) -> Vec<String> {
    let (Some(smoosh), Some(told)) = (&panel.scene.smoosh, told(panel)) else { return Vec::new() };
    let end = OnMat::after(panel, &told, told.deeds.len());
    smoosh.spares().into_iter().filter_map(|spare| end.card(spare.into())).collect()
}

/// The mat and the card that was pressed, after each press.
fn presses(panel: &Panel) -> Vec<PressNote> {
    let Some(told) = told(panel) else { return Vec::new() };
    let presses = told.deeds.iter().enumerate().filter_map(|(at, deed)| match deed {
        Deed::Press(card, _) => Some((at + 1, *card)),
        _ => None,
    });
    let of = |(nth, (count, card)): (usize, (usize, usize))| {
        let then = OnMat::after(panel, &told, count);
        let says = match card {
            0 => format!("Press {}", nth + 1),
            spare => format!("Press {}, spare card {spare}", nth + 1),
        };
        Some(PressNote { says, mat: then.mat(), card: then.card(card)? })
    };
    presses.enumerate().filter_map(of).collect()
}

fn patches(panel: &Panel) -> Vec<GripNote> {
    let patches = panel.scene.smoosh.iter().flat_map(|smoosh| &smoosh.patches).enumerate();
    patches
        .map(|(place, patch)| note(panel, place, panel.inks[patch.ink].name.to_string(), patch.at))
        .collect()
}

fn aims(panel: &Panel) -> Vec<GripNote> {
    let loose = panel.scene.loose.iter().enumerate();
    loose
        .filter_map(|(place, loose)| match &loose.deed {
            Wetting::Spray(spray) => {
                let name = spray.ink.map_or("water".into(), |ink| panel.inks[ink].name.to_string());
                Some(note(panel, place, name, spray.at))
            }
            _ => None,
        })
        .collect()
}

fn note(panel: &Panel, place: usize, name: String, at: Point) -> GripNote {
    let share = |at: Length, side: Length| (100.0 * at.ratio(side)).clamp(0.0, 100.0);
    GripNote { place, name, left: share(at.left, panel.width), top: share(at.top, panel.height) }
}
