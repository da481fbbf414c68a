//! What becomes of one ground, altered three ways?
//!
//! From panels made alike each can be taken further by itself: its edges deepened through a stencil, paste scraped through
//! the stencil, or colour lifted with it wet. Three panels come of one plan, told side by side.

use crate::blend::{Blend, Field, Way};
use crate::colour::Illuminant;
use crate::ink::{Ink, Kind, Paste};
use crate::length::{Length, Units};
use crate::moves::{WetStep, lift::Lift, spread::Spread};
use crate::panel::Panel;
use crate::scene::company::free_names;
use crate::scene::{Loose, MOST_THINGS, Thing, Treatment, loose::MOST_LOOSE};
use crate::search::darker::{SHADE, SHADES, darker};
use serde::{Deserialize, Serialize};

/// In which way a ground is altered.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Alter {
    /// Its edges deepened through a stencil.
    DarkerEdges,
    /// Paste scraped through a stencil.
    Paste,
    /// Colour lifted with a wet stencil.
    Lifted,
}

impl Alter {
    /// All three, as they are told.
    pub const ALL: [Alter; 3] = [Alter::DarkerEdges, Alter::Paste, Alter::Lifted];

    /// What is done to it, as its panel is called after the ground's name.
    pub const fn called(self) -> &'static str {
        match self {
            Alter::DarkerEdges => "darker edges",
            Alter::Paste => "paste",
            Alter::Lifted => "lifted",
        }
    }
}

/// One of the three.
#[derive(Clone, Debug, Serialize, Deserialize)]
pub struct Altered {
    /// What is done, in a sentence.
    pub says: String,
    /// The panel.
    pub panel: Panel,
}

/// Why a ground cannot be altered, and what to change.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
pub enum AlterError {
    /// Nothing to alter.
    #[error("There is nothing on this panel to alter yet: give it a blend, or inks off the mat, first.")]
    Bare,
    /// No room for a stencil.
    #[error("A panel takes up to {MOST_THINGS} things: take one away first, to make room for a stencil.")]
    Things,
    /// No room for a step.
    #[error("Keep at most {MOST_LOOSE} sprays, flecks and the like: leave one out first.")]
    Steps,
    /// Nothing that lifts.
    #[error("Nothing that reacts with water lies on this panel: no wet stencil lifts anything of it.")]
    NothingLifts,
    /// No ink for the edges.
    #[error("There is no dye or oxide darker than this ground in the drawer: tell the drawer of one first.")]
    NoDarker,
}

/// Light passes at the edges (chosen).
const PASSES: u8 = 6;
/// How far in from the edges they reach, as a share of the way to the middle.
const INWARD: (i64, i64) = (2, 3);
/// How far the bend in the corners reaches, as a share of the shorter side.
const CORNERS: (i64, i64) = (11, 50);

/// Whether a ground can be altered, with inks of a drawer; nothing is planned yet.
///
/// # Errors
/// An [`AlterError`] with the remedy.
pub fn can_be(panel: &Panel, drawer: &[Ink]) -> Result<(), AlterError> {
    if panel.inks.is_empty() {
        return Err(AlterError::Bare);
    }
    if panel.scene.loose.len() >= MOST_LOOSE {
        return Err(AlterError::Steps);
    }
    if panel.inks.iter().all(|ink| ink.kind == Kind::Pigment) {
        return Err(AlterError::NothingLifts);
    }
    edge_ink(panel, drawer).ok_or(AlterError::NoDarker)?;
    // Room for the stencil at the edges.
    free_name(panel, "waves at the edges").map(drop)
}

/// What a ground becomes in one way, with inks of a drawer.
///
/// # Errors
/// As [`can_be`].
pub fn altered(panel: &Panel, drawer: &[Ink], units: Units, way: Alter) -> Result<Altered, AlterError> {
    can_be(panel, drawer)?;
    // What has been made of it was made on another card.
    let panel = &with_its_own_mat(panel.clone().untouched());
    let with = |step: fn(usize) -> WetStep, blot: bool| {
        let (lent, thing) = with_stencil(panel)?;
        let name = lent.scene.things[thing].shape.name.clone();
        let mut scene = lent.scene.clone();
        scene.loose.push(Loose { blot, ..Loose::last(step(thing)) });
        Ok((name, lent.with_scene(scene)))
    };
    let (says, panel) = match way {
        Alter::DarkerEdges => {
            let (panel, ink) = with_edges(panel, drawer, units)?;
            (format!("{ink} through a stencil, heavy at the edges and gone before the middle."), panel)
        }
        Alter::Paste => {
            let (name, panel) = with(|thing| Spread { thing, of: Paste::White }.into(), false)?;
            (
                format!(
                    "White paste scraped through the stencil of the {name}: it stands up, and stays bright."
                ),
                panel,
            )
        }
        Alter::Lifted => {
            let (name, panel) = with(|thing| Lift { thing }.into(), true)?;
            (
                format!("The stencil of the {name} laid on wet, and the colour under its ribs blotted away."),
                panel,
            )
        }
    };
    let name = panel.name.with_tail(&format!(", {}", way.called()));
    Ok(Altered { says, panel: Panel { name, gave: Vec::new(), ..panel } })
}

/// A panel without the spare cards that are pressed off its mat: each of the three has a mat of its own.
fn with_its_own_mat(mut panel: Panel) -> Panel {
    if let Some(smoosh) = &mut panel.scene.smoosh
        && smoosh.presses.iter().any(|press| press.spare.is_none())
    {
        let first = smoosh.presses.first().map_or(0, |press| press.mists);
        smoosh.presses.retain(|press| press.spare.is_none());
        // No mat is pressed dry.
        smoosh.presses.iter_mut().take(1).for_each(|press| press.mists = press.mists.max(first));
    }
    panel
}

/// A panel with a stencil that can be used on it, by its place.
pub fn with_stencil(panel: &Panel) -> Result<(Panel, usize), AlterError> {
    if let Some(thing) = panel.scene.stencil() {
        return Ok((panel.clone(), thing));
    }
    let thing = Thing::lent(panel.size(), free_name(panel, "waves")?);
    Ok((behind_all(panel.clone(), thing), panel.scene.things.len()))
}

fn free_name(panel: &Panel, name: &str) -> Result<crate::ink::Name, AlterError> {
    let full = panel.scene.things.len() >= MOST_THINGS;
    let names = if full { None } else { free_names(&panel.scene.things, name, 1) };
    names.and_then(|names| names.into_iter().next()).ok_or(AlterError::Things)
}

/// A thing put behind all others.
fn behind_all(panel: Panel, thing: Thing) -> Panel {
    let own = panel.scene.things.iter().cloned().enumerate().map(|(at, own)| (own, Some(at)));
    let things = own.chain([(thing, None)]).collect();
    panel.with_things(things)
}

/// A panel whose edges are deepened through a stencil, and the name of the ink that does it.
fn with_edges(panel: &Panel, drawer: &[Ink], units: Units) -> Result<(Panel, String), AlterError> {
    let mut panel = panel.clone();
    let ink = edge_ink(&panel, drawer).ok_or(AlterError::NoDarker)?;
    let place = panel.ink_place(&ink);
    let thing = Thing::lent(panel.size(), free_name(&panel, "waves at the edges")?);
    let mark = units.pencil();
    let share = |of: Length, (part, whole): (i64, i64)| of.scaled(mark * part, mark * whole, mark);
    let way = Way::Vignette { corners: share(panel.width.min(panel.height), CORNERS) };
    let reach = share(way.span(panel.size()), INWARD);
    let zone = Blend::spread(&[], way, reach, units).zone;
    let field = Field {
        ink: place,
        veils: ink.full_veils.min(PASSES),
        starts: Length::ZERO,
        full_from: Length::ZERO,
        full_to: share(reach, (1, 4)),
        ends: reach,
    };
    let blend = Blend { way, zone, fields: vec![field] };
    let thing = Thing { gets: Treatment::Inked(vec![blend]), ..thing };
    Ok((behind_all(panel, thing), ink.name.to_string()))
}

/// The ink for the edges: the darker one of the drawer to the panel's darkest, or that one itself where none is darker.
fn edge_ink(panel: &Panel, drawer: &[Ink]) -> Option<Ink> {
    let is_wet = |ink: &&Ink| ink.kind != Kind::Pigment;
    let by_light = |one: &&Ink, other: &&Ink| one.lab().l.total_cmp(&other.lab().l);
    let own = panel.inks.iter().filter(is_wet).min_by(by_light)?;
    let known: Vec<&Ink> = drawer.iter().filter(is_wet).collect();
    let labs: Vec<_> = known.iter().map(|ink| ink.lab()).collect();
    let found = darker(&[own.lab()], &labs).into_iter().flatten().next();
    let card = panel.paper.reflectance().lab(Illuminant::D65);
    // An ink as light as the card deepens nothing.
    let deepens = |ink: &&Ink| ink.lab().l < card.l - SHADES * SHADE;
    found.map(|one| known[one.place]).or(Some(own).filter(deepens)).cloned()
}
