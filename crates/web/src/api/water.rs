//! `POST /api/panels/water`: the mat, the presses and all that is done with water as they stand on the page, and how it would
//! look. Nothing is kept here.

use askama::Template;
use base64::Engine;
use base64::engine::general_purpose::STANDARD;
use rosy_core::edit::water::Change;
use rosy_core::ink::{Film, Ink};
use rosy_core::picture::Picture;
use rosy_core::picture::file::{Pace, png};
use rosy_core::picture::pressed::{draw, draw_mat};
use rosy_core::place::Point;
use rosy_core::planned::Planned;
use rosy_core::water::bench::{Bench, Doing, Doings};
use rosy_core::{Length, Panel};
use serde::Serialize;

use super::look::{Look, Seen, Wrong};
use crate::pages::water::WaterPart;
use crate::picture::{drawn_once, mark};

/// Pixels to the inch of the pictures of the mat and of spare cards.
const SMALL_DPI: f64 = 64.0;

/// How it would come out.
#[derive(Serialize)]
pub struct Water {
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

impl Look for Water {
    type Change = Change;
    type Owned = ();

    fn of(seen: &Seen, (): &()) -> Result<Water, Wrong> {
        let (panel, settled) = (seen.panel, seen.how.settled);
        let told = || WaterPart::of(panel, seen.units).render().map_err(Wrong::nowhere);
        Ok(Water {
            picture: seen.drawn()?,
            mat: mat_picture(panel),
            patches: patches(panel),
            aims: aims(panel),
            spares: if settled { spares(panel) } else { Vec::new() },
            presses: if settled { presses(panel) } else { Vec::new() },
            told: if settled { Some(told()?) } else { None },
        })
    }
}

/// A mat, and the cards pressed on it, once so many of its deeds are done. What it looks like is drawn once: a change to one
/// press leaves the others as they were.
struct OnMat<'a> {
    panel: &'a Planned,
    told: Doings,
    /// All that its pictures are drawn from.
    seen: String,
}

impl<'a> OnMat<'a> {
    /// After the first so many.
    fn after(panel: &'a Planned, told: &Doings, count: usize) -> OnMat<'a> {
        let told = Doings { deeds: told.deeds[..count].to_vec(), ..told.clone() };
        let inks: Vec<&Ink> = told.inks.iter().map(|(ink, _)| &panel.inks[*ink]).collect();
        let seen = format!("{told:?} {}", mark(&(inks, &panel.paper)));
        OnMat { panel, told, seen }
    }

    /// A picture of some of it, as `draw` draws it from the bench and the films.
    fn drawn(&self, of: &str, draw: impl FnOnce(&Bench, &[Film], (f64, f64)) -> Picture) -> String {
        drawn_once(format!("{of} {}", self.seen), || {
            let films = &self.panel.materials().films;
            let films: Vec<Film> = self.told.inks.iter().map(|(ink, _)| films[*ink].clone()).collect();
            let size = (self.panel.width.mm(), self.panel.height.mm());
            let picture = draw(&self.told.bench(), &films, size);
            format!("data:image/png;base64,{}", STANDARD.encode(png(&picture, SMALL_DPI, Pace::Quick)))
        })
    }

    fn mat(&self) -> String {
        self.drawn("mat", |bench, films, size| draw_mat(&bench.mat, films, size, SMALL_DPI))
    }

    fn card(&self, card: usize) -> String {
        self.drawn(&format!("card {card}"), |bench, films, size| {
            let layers = bench.cards.get(card).map_or(&[][..], |card| &card.layers);
            draw(layers, films, &self.panel.paper, size, SMALL_DPI)
        })
    }
}

/// All that is done with the mat.
fn told(panel: &Planned) -> Option<&Doings> {
    panel.scene.smoosh.as_ref()?;
    Some(&panel.surface().mat)
}

/// The mat as it is misted for its first press.
fn mat_picture(panel: &Planned) -> Option<String> {
    let told = told(panel)?;
    let first = told.deeds.iter().position(|deed| matches!(deed, Doing::Press(..)));
    Some(OnMat::after(panel, told, first.unwrap_or(told.deeds.len())).mat())
}

/// The spare cards as they come off the mat.
fn spares(panel: &Planned) -> Vec<String> {
    let (Some(smoosh), Some(told)) = (&panel.scene.smoosh, told(panel)) else { return Vec::new() };
    let end = OnMat::after(panel, told, told.deeds.len());
    smoosh.spares().into_iter().map(|spare| end.card(spare.into())).collect()
}

/// The mat and the card that was pressed, after each press.
fn presses(panel: &Planned) -> Vec<PressNote> {
    let Some(told) = told(panel) else { return Vec::new() };
    let presses = told.deeds.iter().enumerate().filter_map(|(at, deed)| match deed {
        Doing::Press(card, _) => Some((at + 1, *card)),
        _ => None,
    });
    let of = |(nth, (count, card)): (usize, (usize, usize))| {
        let then = OnMat::after(panel, told, count);
        let says = match card {
            0 => format!("Press {}", nth + 1),
            spare => format!("Press {}, spare card {spare}", nth + 1),
        };
        PressNote { says, mat: then.mat(), card: then.card(card) }
    };
    presses.enumerate().map(of).collect()
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
        .filter_map(|(place, loose)| {
            let mut step = loose.step.clone();
            let at = *step.aim_mut()?;
            let ink = step.ink_mut().map(|ink| panel.inks[*ink].name.to_string());
            Some(note(panel, place, ink.unwrap_or_else(|| "water".into()), at))
        })
        .collect()
}

fn note(panel: &Panel, place: usize, name: String, at: Point) -> GripNote {
    let share = |at: Length, side: Length| (100.0 * at.ratio(side)).clamp(0.0, 100.0);
    GripNote { place, name, left: share(at.left, panel.width), top: share(at.top, panel.height) }
}
