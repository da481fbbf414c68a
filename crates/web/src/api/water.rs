//! `POST /api/panels/water`: the mat, the presses and all that is done with water as they stand on the page, and how it would
//! look. Nothing is kept here.

use std::sync::Arc;

use actix_web::{HttpResponse, web};
use askama::Template;
use base64::Engine;
use base64::engine::general_purpose::STANDARD;
use rosy_core::alter::with_stencil;
use rosy_core::ink::{Film, Ink, Kind, Paste};
use rosy_core::judgement::{cleared, muddied};
use rosy_core::length::{ParseIn, thickness};
use rosy_core::picture::Picture;
use rosy_core::picture::file::{Pace, png};
use rosy_core::place::{Extent, Point};
use rosy_core::scene::loose::{MOST_LOOSE, MOST_PATCHES, MOST_PRESSES};
use rosy_core::scene::{Loose, Smoosh, Wetting};
use rosy_core::water::ask::FleckLook;
use rosy_core::water::bench::{Bench, Deed, Told};
use rosy_core::water::flecks::MOST_FLECKS;
use rosy_core::water::pad::{MOST_TIMES, Stroke};
use rosy_core::water::picture::{draw, draw_mat};
use rosy_core::water::{Flecks, Movement, Pad, Placed, Spray, Thrown, Tilt};
use rosy_core::{Length, Panel, Units};
use rosy_store::Store;
use serde::{Deserialize, Serialize};

use super::gets::named;
use super::looked::{Asked, GONE, Wrong, answer};
use crate::error::ApiProblem;
use crate::pages::water::{Clear, Told as Page};
use crate::picture::{data_url, for_page, is_large};
use crate::visitor::{Caller, Read};
use crate::workroom::Workroom;

/// Farthest a patch or an aim is moved by keys at once, in pencil marks.
const MOST_MARKS: i32 = 2_000;
/// What "less" and "more" make of flecks and pumps, in per cent.
const LESS: u32 = 70;
const MORE: u32 = 140;
/// Pixels to the inch of the pictures of the mat and of spare cards.
const SMALL_DPI: f64 = 64.0;

/// A change to what is done with water.
#[derive(Clone, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Change {
    /// Inks are laid on the mat.
    Mat,
    /// The mat is put away.
    NoMat,
    /// A patch more, and one fewer.
    Patch,
    NoPatch(usize),
    /// A press more, and one fewer.
    Press,
    NoPress(usize),
    /// Three cards from one mat.
    Three,
    /// The middle of a patch moved to a place, in shares of the card's width and height; or by pencil marks.
    Hold {
        patch: usize,
        across: f64,
        down: f64,
    },
    Nudge {
        patch: usize,
        right: i32,
        down: i32,
    },
    /// Something more done with water.
    Add(Kindly),
    /// A word of a patch, a press or a deed as it was written.
    Set {
        row: Row,
        place: usize,
        what: String,
        to: String,
    },
    /// A deed earlier, later, or not at all.
    Earlier(usize),
    Later(usize),
    Remove(usize),
    /// Less of it, more of it, the same once again.
    Less(usize),
    More(usize),
    Again(usize),
    /// A bottle aimed at a place, in shares of the panel's width and height; or moved by pencil marks.
    Aim {
        deed: usize,
        across: f64,
        down: f64,
    },
    AimNudge {
        deed: usize,
        right: i32,
        down: i32,
    },
    /// A fleck placed, and the last one taken back.
    Place {
        deed: usize,
        across: f64,
        down: f64,
    },
    Unplace(usize),
    /// Another ink in the place of one that turns to mud, by the place of what is told of it.
    Clear(usize),
}

/// What can be added.
#[derive(Clone, Copy, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Kindly {
    /// Flecks of clean water.
    Water,
    /// Flecks of white.
    White,
    /// Flecks of an ink.
    Ink,
    /// Flecks of mica.
    Mica,
    /// A spray of ink.
    Spray,
    /// Mist, blotted.
    Mist,
    /// A wet stencil.
    Lift,
    /// An ink pad straight to the card.
    Pad,
    /// Paste through a stencil.
    Paste,
}

/// Of what a word is written.
#[derive(Clone, Copy, Debug, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Row {
    /// A patch on the mat.
    Patch,
    /// A press.
    Press,
    /// A deed.
    Deed,
}

impl Row {
    const fn word(self) -> &'static str {
        match self {
            Row::Patch => "patch",
            Row::Press => "press",
            Row::Deed => "deed",
        }
    }
}

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
    let inks = match &asked.change {
        Some(change) if change.takes_ink() => {
            store.all::<Ink>(bench).await?.into_iter().map(|kept| kept.value).collect()
        }
        _ => Vec::new(),
    };
    let asker = caller.visitor.asker().heavy_if(is_large(asked.dpi));
    let looked = room.done(&asker, move || looked(asked, &inks, units));
    answer(looked.await?)
}

fn looked(asked: Asked<Change>, drawer: &[Ink], units: Units) -> Result<Look, Wrong> {
    let (dpi, settled) = (asked.dpi, asked.settled);
    let panel = asked.changed(Change::field, |change, panel| change.made(panel, drawer, units))?;
    let dpi = for_page(&panel, dpi);
    let picture = data_url(&panel.surface(), dpi).map_err(Wrong::nowhere)?;
    let told = if settled { Some(Page::of(&panel, units).render().map_err(Wrong::nowhere)?) } else { None };
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

/// The lightest or the darkest of some inks.
fn by_lightness<'a>(inks: impl Iterator<Item = &'a Ink>, lightest: bool) -> Option<&'a Ink> {
    inks.max_by(|one, other| {
        let order = one.lab().l.total_cmp(&other.lab().l);
        if lightest { order } else { order.reverse() }
    })
}

impl Change {
    fn field(&self) -> String {
        match self {
            Change::Set { row, place, what, .. } => format!("{}-{place}-{what}", row.word()),
            _ => String::new(),
        }
    }

    const fn takes_ink(&self) -> bool {
        matches!(self, Change::Mat | Change::Patch | Change::Add(_) | Change::Set { .. })
    }

    fn made(self, mut panel: Panel, drawer: &[Ink], units: Units) -> Result<Panel, String> {
        let size = panel.size();
        let mark = units.pencil();
        let mut scene = panel.scene.clone();
        match self {
            Change::Mat => {
                // The panel's own inks first, and up to three in all.
                let is_wet = |ink: &&Ink| ink.kind != Kind::Pigment;
                let mut inks: Vec<Ink> = panel.inks.iter().filter(is_wet).take(3).cloned().collect();
                let others = drawer.iter().filter(is_wet).filter(|ink| !panel.inks.contains(ink));
                let missing = 3 - inks.len();
                inks.extend(others.take(missing).cloned());
                if inks.is_empty() {
                    return Err(
                        "There is no ink in the drawer for the mat: tell the drawer of one first.".into()
                    );
                }
                let places: Vec<usize> = inks.iter().map(|ink| panel.ink_place(ink)).collect();
                scene.smoosh = Some(Smoosh::of(&places, size, units));
            }
            Change::NoMat => scene.smoosh = None,
            Change::Patch => {
                let smoosh = scene.smoosh.as_mut().ok_or(GONE)?;
                if smoosh.patches.len() == MOST_PATCHES {
                    return Err(format!("The mat takes up to {MOST_PATCHES} patches."));
                }
                let used: Vec<usize> = smoosh.patches.iter().map(|patch| patch.ink).collect();
                let own = (0..panel.inks.len())
                    .find(|ink| !used.contains(ink) && panel.inks[*ink].kind != Kind::Pigment);
                let ink = match own {
                    Some(ink) => ink,
                    None => {
                        let new =
                            drawer.iter().find(|ink| ink.kind != Kind::Pigment && !panel.inks.contains(ink));
                        new.map_or(used.first().copied(), |ink| Some(panel.ink_place(ink))).ok_or(GONE)?
                    }
                };
                smoosh.add_patch(ink, size, units);
            }
            Change::NoPatch(place) => {
                let smoosh =
                    scene.smoosh.as_mut().filter(|smoosh| place < smoosh.patches.len()).ok_or(GONE)?;
                smoosh.patches.remove(place);
                if smoosh.patches.is_empty() {
                    scene.smoosh = None;
                }
            }
            Change::Press => {
                let smoosh = scene.smoosh.as_mut().ok_or(GONE)?;
                if smoosh.presses.len() == MOST_PRESSES {
                    return Err(format!("A mat gives at most {MOST_PRESSES} presses."));
                }
                smoosh.press_again();
            }
            Change::NoPress(place) => {
                let smoosh =
                    scene.smoosh.as_mut().filter(|smoosh| place < smoosh.presses.len()).ok_or(GONE)?;
                let gone = smoosh.presses.remove(place);
                // The mat is not pressed dry.
                if let Some(first) = smoosh.presses.first_mut().filter(|_| place == 0) {
                    first.mists = first.mists.max(gone.mists);
                }
            }
            Change::Three => scene.smoosh.as_mut().ok_or(GONE)?.three(),
            Change::Hold { patch, across, down } => {
                let at = somewhere(&panel, across, down, mark)?;
                let patches = scene.smoosh.as_mut().map(|smoosh| &mut smoosh.patches).ok_or(GONE)?;
                patches.get_mut(patch).ok_or(GONE)?.at = on(at, size);
            }
            Change::Nudge { patch, right, down } => {
                let patches = scene.smoosh.as_mut().map(|smoosh| &mut smoosh.patches).ok_or(GONE)?;
                let patch = patches.get_mut(patch).ok_or(GONE)?;
                patch.at = on(nudged(patch.at, (right, down), mark), size);
            }
            Change::Add(kind) => {
                if scene.loose.len() == MOST_LOOSE {
                    return Err(format!("Keep at most {MOST_LOOSE} of them: take one away first."));
                }
                let loose = added(kind, &mut panel, drawer, units)?;
                // A stencil may have been lent to it.
                scene.things.clone_from(&panel.scene.things);
                scene.loose.push(loose);
            }
            Change::Set { row: Row::Patch, place, what, to } => {
                let ink = (what == "ink").then(|| ink_called(&to, &mut panel, drawer)).transpose()?;
                let patches = scene.smoosh.as_mut().map(|smoosh| &mut smoosh.patches).ok_or(GONE)?;
                let patch = patches.get_mut(place).ok_or(GONE)?;
                let length = || to.parse_in(units).map_err(|error| error.to_string());
                match what.as_str() {
                    "ink" => patch.ink = ink.ok_or(GONE)?,
                    "dabs" => patch.dabs = whole(&to)?,
                    "left" => patch.at.left = length()?,
                    "top" => patch.at.top = length()?,
                    "across" => patch.across = length()?,
                    "down" => patch.down = length()?,
                    _ => return Err(GONE.into()),
                }
            }
            Change::Set { row: Row::Press, place, what, to } => {
                let presses = scene.smoosh.as_mut().map(|smoosh| &mut smoosh.presses).ok_or(GONE)?;
                let press = presses.get_mut(place).ok_or(GONE)?;
                match what.as_str() {
                    "mists" => press.mists = whole(&to)?,
                    "card" => press.spare = if to == "0" { None } else { Some(whole(&to)?) },
                    "movement" => press.movement = movement(&to)?,
                    "on_damp" => press.on_damp = to == "damp",
                    _ => return Err(GONE.into()),
                }
            }
            Change::Set { row: Row::Deed, place, what, to } => {
                let mut loose = scene.loose.get(place).cloned().ok_or(GONE)?;
                set(&mut loose, (&what, &to), &mut panel, drawer, units)?;
                scene.loose[place] = loose;
            }
            Change::Earlier(place) | Change::Later(place) => {
                let other =
                    if matches!(self, Change::Earlier(_)) { place.checked_sub(1) } else { Some(place + 1) };
                let other = other.filter(|other| place.max(*other) < scene.loose.len());
                scene.loose.swap(place, other.ok_or("It cannot be moved further.")?);
            }
            Change::Remove(place) => {
                if place >= scene.loose.len() {
                    return Err(GONE.into());
                }
                scene.loose.remove(place);
            }
            Change::Less(place) => changed_by(scene.loose.get_mut(place).ok_or(GONE)?, LESS)?,
            Change::More(place) => changed_by(scene.loose.get_mut(place).ok_or(GONE)?, MORE)?,
            Change::Again(place) => {
                let again = scene.loose.get(place).cloned().ok_or(GONE)?;
                if scene.loose.len() == MOST_LOOSE {
                    return Err(format!("Keep at most {MOST_LOOSE} of them: take one away first."));
                }
                scene.loose.insert(place + 1, again);
            }
            Change::Aim { deed, across, down } => {
                let at = somewhere(&panel, across, down, mark)?;
                bottle(&mut scene.loose, deed)?.at = at;
            }
            Change::AimNudge { deed, right, down } => {
                let bottle = bottle(&mut scene.loose, deed)?;
                bottle.at = nudged(bottle.at, (right, down), mark);
            }
            Change::Place { deed, across, down } => {
                let at = on(somewhere(&panel, across, down, Length::from_tenths_mm(1))?, size);
                let flecks = flecks(&mut scene.loose, deed)?;
                // Brighter than those that are flicked.
                let radius = (flecks.median * 2)
                    .clamp(Length::from_hundredths_mm(60), Length::from_hundredths_mm(400));
                flecks.placed.push(Placed { at, radius });
            }
            Change::Unplace(deed) => drop(flecks(&mut scene.loose, deed)?.placed.pop()),
            Change::Clear(nth) => {
                let told = muddied(&panel.surface()).into_iter().nth(nth).ok_or(GONE)?;
                let cleared = cleared(&panel, told.inks, drawer).map(|cleared| cleared.panel);
                return cleared.ok_or_else(|| {
                    "No ink in the drawer stays clean there: keep the two apart, with a mask or a dry brush between."
                        .into()
                });
            }
        }
        Ok(panel.with_scene(scene))
    }
}

fn bottle(loose: &mut [Loose], deed: usize) -> Result<&mut Spray, String> {
    match loose.get_mut(deed).map(|loose| &mut loose.deed) {
        Some(Wetting::Spray(spray)) => Ok(spray),
        _ => Err(GONE.into()),
    }
}

fn flecks(loose: &mut [Loose], deed: usize) -> Result<&mut Flecks, String> {
    match loose.get_mut(deed).map(|loose| &mut loose.deed) {
        Some(Wetting::Flecks(flecks)) => Ok(flecks),
        _ => Err(GONE.into()),
    }
}

/// A place given in shares of the panel's sides, to the nearest mark.
fn somewhere(panel: &Panel, across: f64, down: f64, mark: Length) -> Result<Point, String> {
    if !(across.is_finite() && down.is_finite()) {
        return Err("That place is nowhere: take hold of it again.".into());
    }
    let at = (across.clamp(-0.5, 1.5) * panel.width.mm(), down.clamp(-0.5, 1.5) * panel.height.mm());
    Ok(Point::nearest(at, mark))
}

fn nudged(at: Point, (right, down): (i32, i32), mark: Length) -> Point {
    let marks = |n: i32| mark * i64::from(n.clamp(-MOST_MARKS, MOST_MARKS));
    Point { left: at.left + marks(right), top: at.top + marks(down) }
}

/// The nearest place on a panel.
fn on(at: Point, (width, height): (Length, Length)) -> Point {
    Point { left: at.left.clamp(Length::ZERO, width), top: at.top.clamp(Length::ZERO, height) }
}

fn whole(text: &str) -> Result<u8, String> {
    text.trim().parse().map_err(|_| "write a whole number".to_owned())
}

fn movement(word: &str) -> Result<Movement, String> {
    serde_json::from_value(word.into()).map_err(|_| GONE.to_owned())
}

/// An ink of the panel or the drawer by its name.
fn ink_called(text: &str, panel: &mut Panel, drawer: &[Ink]) -> Result<usize, String> {
    let ink = named(text, panel, drawer).ok_or_else(|| {
        format!(
            "there is no ink called {:.60}: pick one of the drawer, or tell the drawer of it",
            text.trim()
        )
    })?;
    Ok(panel.ink_place(&ink))
}

/// Something more done with water, as it is usually begun with.
fn added(kind: Kindly, panel: &mut Panel, drawer: &[Ink], units: Units) -> Result<Loose, String> {
    let size = panel.size();
    let white = |panel: &mut Panel| -> Result<usize, String> {
        let whites =
            |inks: &[Ink]| by_lightness(inks.iter().filter(|ink| ink.kind == Kind::Pigment), true).cloned();
        let white = whites(&panel.inks).or_else(|| whites(drawer));
        let white = white.ok_or("There is no white pigment in the drawer: tell the drawer of one first.")?;
        Ok(panel.ink_place(&white))
    };
    let dark = |panel: &mut Panel| -> Result<usize, String> {
        let is_wet = |ink: &&Ink| ink.kind != Kind::Pigment;
        let own = by_lightness(panel.inks.iter().filter(is_wet), false).cloned();
        let ink = own.or_else(|| by_lightness(drawer.iter().filter(is_wet), false).cloned());
        let ink = ink.ok_or("There is no ink in the drawer: tell the drawer of one first.")?;
        Ok(panel.ink_place(&ink))
    };
    let flecks = |of: Thrown, look: FleckLook| Wetting::Flecks(Flecks::of_look(of, look, size));
    Ok(match kind {
        Kindly::Water => {
            let mut flecks = Flecks::of_look(Thrown::Water, FleckLook::SparseSky, size);
            (flecks.median, flecks.water) = (Length::from_hundredths_mm(80), 0);
            Loose { blot: true, ..Loose::last(Wetting::Flecks(flecks)) }
        }
        Kindly::White => Loose::last(flecks(Thrown::Ink(white(panel)?), FleckLook::SparseSky)),
        Kindly::Ink => Loose::last(flecks(Thrown::Ink(dark(panel)?), FleckLook::Snow)),
        Kindly::Mica => Loose::last(flecks(Thrown::Mica, FleckLook::Rain)),
        Kindly::Spray => Loose {
            first: panel.scene.ground.iter().all(|blend| blend.fields.is_empty()),
            ..Loose::last(Wetting::Spray(Spray {
                ink: Some(dark(panel)?),
                at: Point { left: size.0 / 2, top: size.1 / 2 },
                distance: match units {
                    Units::Inches => Length::from_inches(7),
                    Units::Millimetres => Length::from_tenths_mm(1_800),
                },
                pumps: 4,
                on_wet: false,
                tilt: Tilt::Flat,
                splashed: false,
                pushed: false,
            }))
        },
        Kindly::Pad => {
            Loose::last(Wetting::Pad(Pad { ink: dark(panel)?, stroke: Stroke::Down, times: 1, light: true }))
        }
        Kindly::Mist => Loose { blot: true, ..Loose::last(Wetting::Mist(4)) },
        Kindly::Lift => {
            let thing = stencil(panel)?;
            Loose { blot: true, ..Loose::last(Wetting::Lift(thing)) }
        }
        Kindly::Paste => Loose::last(Wetting::Paste { thing: stencil(panel)?, of: Paste::White }),
    })
}

/// The stencil that a panel has for it, by its place; where it has none, one is lent to it.
fn stencil(panel: &mut Panel) -> Result<usize, String> {
    let (with, thing) = with_stencil(panel).map_err(|error| error.to_string())?;
    *panel = with;
    Ok(thing)
}

/// An ink to tint white paste with: the strongest in colour of the panel's, or of the drawer's where it has none.
fn tint(panel: &mut Panel, drawer: &[Ink]) -> Result<usize, String> {
    let strongest = |inks: &[Ink]| {
        let chroma = |ink: &Ink| ink.lab().a.hypot(ink.lab().b);
        inks.iter().max_by(|one, other| chroma(one).total_cmp(&chroma(other))).cloned()
    };
    let ink = strongest(&panel.inks).or_else(|| strongest(drawer));
    Ok(panel.ink_place(&ink.ok_or("There is no ink in the drawer: tell the drawer of one first.")?))
}

/// Less or more of a deed.
fn changed_by(loose: &mut Loose, percent: u32) -> Result<(), String> {
    let scaled = |n: u32, most: u32| {
        let to = (n * percent).div_ceil(100);
        (if percent > 100 { to.max(n + 1) } else { to.min(n.saturating_sub(1)) }).clamp(1, most)
    };
    match &mut loose.deed {
        Wetting::Flecks(flecks) => {
            flecks.count = scaled(u32::from(flecks.count), u32::from(MOST_FLECKS)) as u16
        }
        Wetting::Spray(spray) => spray.pumps = scaled(u32::from(spray.pumps), 20) as u8,
        Wetting::Mist(pumps) => *pumps = scaled(u32::from(*pumps), 8) as u8,
        Wetting::Pad(pad) => pad.times = scaled(u32::from(pad.times), u32::from(MOST_TIMES)) as u8,
        Wetting::Lift(_) => {
            return Err("A wet stencil lifts what it lifts: do it once again for more.".into());
        }
        Wetting::Paste { .. } => {
            return Err("Paste lies as thick as its stencil, no more and no less.".into());
        }
    }
    Ok(())
}

/// A deed with one of its words as it was written.
fn set(
    loose: &mut Loose,
    (what, to): (&str, &str),
    panel: &mut Panel,
    drawer: &[Ink],
    units: Units,
) -> Result<(), String> {
    let length = || to.parse_in(units).map_err(|error| error.to_string());
    match what {
        "blot" => {
            loose.blot = to == "blot";
            return Ok(());
        }
        "when" => {
            loose.first = to == "first";
            return Ok(());
        }
        _ => {}
    }
    if let Some(thing) = what.strip_prefix("keep") {
        let thing: usize = thing.parse().map_err(|_| GONE)?;
        loose.keep.retain(|kept| *kept != thing);
        if to == "on" {
            loose.keep.push(thing);
        }
        return Ok(());
    }
    if what == "within" {
        loose.within = to.parse().ok();
        return Ok(());
    }
    let ink = if what == "ink" { Some(to.trim().to_lowercase()) } else { None };
    match &mut loose.deed {
        Wetting::Flecks(flecks) => match what {
            "ink" => {
                flecks.of = match ink.as_deref() {
                    Some("water" | "clean water") => Thrown::Water,
                    Some("mica") => Thrown::Mica,
                    _ => Thrown::Ink(ink_called(to, panel, drawer)?),
                };
            }
            "look" => {
                if let Ok(look) = serde_json::from_value::<FleckLook>(to.into()) {
                    let new = Flecks::of_look(flecks.of, look, panel.size());
                    (flecks.count, flecks.median, flecks.unlike) = (new.count, new.median, new.unlike);
                }
            }
            "count" => flecks.count = to.trim().parse().map_err(|_| "write a whole number")?,
            "size" => {
                let across = thickness::read_in(to, units).map_err(|error| error.to_string())?;
                flecks.median = across / 2;
            }
            "unlike" => flecks.unlike = whole(to.trim_end_matches('%'))?,
            "water" => flecks.water = whole(to)?,
            "from" => flecks.from = serde_json::from_value(to.into()).map_err(|_| GONE)?,
            "tip" => flecks.by_pen = to == "pen",
            "clear" => {
                let clear: Option<Clear> = serde_json::from_value(to.into()).ok();
                flecks.clear = clear.map(|clear| clear.of(panel.size())).into_iter().collect::<Vec<Extent>>();
            }
            _ => return Err(GONE.into()),
        },
        Wetting::Spray(spray) => match what {
            "ink" => {
                spray.ink = match ink.as_deref() {
                    Some("water" | "clean water") => None,
                    _ => Some(ink_called(to, panel, drawer)?),
                };
            }
            "pumps" => spray.pumps = whole(to)?,
            "distance" => spray.distance = length()?,
            "left" => spray.at.left = length()?,
            "top" => spray.at.top = length()?,
            "card" => {
                spray.on_wet = to == "wet";
                // On dry card there is nothing to push.
                spray.pushed &= spray.on_wet;
            }
            "brush" => spray.pushed = to == "pushed" && spray.on_wet,
            "tilt" => spray.tilt = serde_json::from_value(to.into()).map_err(|_| GONE)?,
            "from" => spray.splashed = to == "cap",
            _ => return Err(GONE.into()),
        },
        Wetting::Pad(pad) => match what {
            "ink" => pad.ink = ink_called(to, panel, drawer)?,
            "stroke" => pad.stroke = serde_json::from_value(to.into()).map_err(|_| GONE)?,
            "times" => pad.times = whole(to)?,
            "hand" => pad.light = to == "light",
            _ => return Err(GONE.into()),
        },
        Wetting::Mist(pumps) if what == "pumps" => *pumps = whole(to)?,
        Wetting::Lift(thing) | Wetting::Paste { thing, .. } if what == "thing" => {
            *thing = to.parse().map_err(|_| GONE)?;
        }
        Wetting::Paste { of, .. } => match what {
            "of" => {
                *of = match to {
                    "white" => Paste::White,
                    "shimmer" => Paste::Shimmer,
                    _ => Paste::Tinted(tint(panel, drawer)?),
                };
            }
            "ink" => *of = Paste::Tinted(ink_called(to, panel, drawer)?),
            _ => return Err(GONE.into()),
        },
        _ => return Err(GONE.into()),
    }
    Ok(())
}
