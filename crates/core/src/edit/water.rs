//! What is changed about the mat, its presses, and all that is sprayed, flicked, misted, lifted and scraped?

use std::borrow::Cow;

use schemars::{JsonSchema, Schema, SchemaGenerator, json_schema};
use serde::{Deserialize, Serialize};

use super::words::{nudged, on, somewhere};
use super::{Edit, Edited, GONE, Has};
use crate::alter::with_stencil;
use crate::ink::{Ink, Kind};
use crate::judgement::{cleared, muddied};
use crate::length::{Length, Units};
use crate::moves::telling::{About, none_of};
use crate::moves::{Telling, WetStep, dab::Dab};
use crate::panel::Panel;
use crate::place::Point;
use crate::scene::loose::{MOST_LOOSE, MOST_PATCHES, MOST_PRESSES};
use crate::scene::{Loose, Scene, Smoosh};
use crate::water::{Flecks, Placed};

/// What "less" and "more" make of flecks and pumps, in per cent.
const LESS: u32 = 70;
const MORE: u32 = 140;

/// A change to what is done with water.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Change {
    /// Inks are laid on the mat.
    Mat,
    /// The mat is put away.
    NoMat,
    /// A patch more.
    Patch,
    /// One patch fewer.
    NoPatch(usize),
    /// A press more.
    Press,
    /// One press fewer.
    NoPress(usize),
    /// Three cards from one mat.
    Three,
    /// The middle of a patch moved to a place.
    Hold {
        /// Which.
        patch: usize,
        /// In shares of the card's width.
        across: f64,
        /// In shares of its height.
        down: f64,
    },
    /// The middle of a patch moved by pencil marks.
    Nudge {
        /// Which.
        patch: usize,
        /// To the right.
        right: i32,
        /// Down.
        down: i32,
    },
    /// Something more done with water.
    Add(Fresh),
    /// A word of a patch, a press or a step as it was written.
    Set(Field),
    /// A step earlier.
    Earlier(usize),
    /// A step later.
    Later(usize),
    /// A step not at all.
    Remove(usize),
    /// Less of it.
    Less(usize),
    /// More of it.
    More(usize),
    /// The same once again.
    Again(usize),
    /// A bottle aimed at a place.
    Aim {
        /// Of which step.
        deed: usize,
        /// In shares of the panel's width.
        across: f64,
        /// In shares of its height.
        down: f64,
    },
    /// A bottle's aim moved by pencil marks.
    AimNudge {
        /// Of which step.
        deed: usize,
        /// To the right.
        right: i32,
        /// Down.
        down: i32,
    },
    /// A fleck placed.
    Place {
        /// Of which step.
        deed: usize,
        /// In shares of the panel's width.
        across: f64,
        /// In shares of its height.
        down: f64,
    },
    /// The fleck placed last taken back.
    Unplace(usize),
    /// Another ink in the place of one that turns to mud, by the place of what is told of it.
    Clear(usize),
}

/// What can be added, by its word.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(try_from = "String", into = "String")]
pub struct Fresh(String);

impl TryFrom<String> for Fresh {
    type Error = String;

    fn try_from(key: String) -> Result<Fresh, String> {
        match WetStep::offers().any(|offer| offer.key == key) {
            true => Ok(Fresh(key)),
            false => Err(none_of(&key)),
        }
    }
}

impl From<Fresh> for String {
    fn from(fresh: Fresh) -> String {
        fresh.0
    }
}

impl JsonSchema for Fresh {
    fn schema_name() -> Cow<'static, str> {
        "Fresh".into()
    }

    fn json_schema(_: &mut SchemaGenerator) -> Schema {
        let keys: Vec<&str> = WetStep::offers().map(|offer| offer.key).collect();
        json_schema!({ "description": "What can be added.", "type": "string", "enum": keys })
    }
}

/// Of what a word is written.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Row {
    /// A patch on the mat.
    Patch,
    /// A press.
    Press,
    /// A step.
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

/// A field, and what was written in it.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Field {
    /// Of what.
    pub row: Row,
    /// Of which of them.
    pub place: usize,
    /// Which of its words.
    pub what: String,
    /// What was written.
    pub to: String,
}

/// What a step of a panel is about.
pub fn about<'a>(panel: &Panel, scene: &'a Scene, drawer: &'a [Ink], units: Units) -> About<'a> {
    About {
        size: panel.size(),
        units,
        inks: panel.inks.clone(),
        drawer,
        things: &scene.things,
        stencil: scene.stencil().unwrap_or_default(),
        has_ground: scene.ground.iter().any(|blend| !blend.fields.is_empty()),
    }
}

impl Field {
    /// Writes it, wherever it stands in what is told of the scene.
    fn write(&self, scene: &mut Scene, told: &mut Telling) -> Option<()> {
        let smoosh = scene.smoosh.as_mut();
        match self.row {
            Row::Patch => {
                let patch = smoosh?.patches.get_mut(self.place)?;
                let mut dab = Dab(*patch);
                dab.tell(told);
                dab.tell_more(told);
                *patch = dab.0;
            }
            Row::Press => {
                let smoosh = smoosh?;
                let again = smoosh.is_again(self.place);
                smoosh.presses.get_mut(self.place)?.tell(again, told);
            }
            Row::Deed => {
                let loose = scene.loose.get_mut(self.place)?;
                loose.tell(told);
                loose.tell_more(told);
                loose.tell_keep(told);
            }
        }
        Some(())
    }
}

impl Edit for Change {
    fn field(&self) -> String {
        match self {
            Change::Set(Field { row, place, what, .. }) => format!("{}-{place}-{what}", row.word()),
            _ => String::new(),
        }
    }

    fn takes_ink(&self) -> bool {
        matches!(self, Change::Mat | Change::Patch | Change::Add(_) | Change::Set(_) | Change::Clear(_))
    }

    fn made(&self, mut panel: Panel, has: &Has) -> Result<Edited, String> {
        let Has { drawer, units, .. } = *has;
        let size = panel.size();
        let mark = units.pencil();
        let mut scene = panel.scene.clone();
        match *self {
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
            Change::Add(Fresh(ref key)) => {
                if scene.loose.len() == MOST_LOOSE {
                    return Err(format!("Keep at most {MOST_LOOSE} of them: take one away first."));
                }
                if WetStep::offers().any(|offer| offer.key == key && offer.has_stencil) {
                    // Where there is none, one is lent to it.
                    panel = with_stencil(&panel).map_err(|error| error.to_string())?.0;
                    scene.things.clone_from(&panel.scene.things);
                }
                let mut about = about(&panel, &panel.scene, drawer, units);
                let begun = WetStep::begun(key, &mut about)?;
                panel.inks = about.inks;
                scene.loose.push(Loose::begun(begun));
            }
            Change::Set(ref field) => {
                let kept = scene.clone();
                let mut about = about(&panel, &kept, drawer, units);
                let mut told = Telling::writing(&mut about, (&field.what, &field.to));
                field.write(&mut scene, &mut told).ok_or(GONE)?;
                told.outcome()?;
                panel.inks = about.inks;
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
            Change::Less(place) | Change::More(place) => {
                let percent = if matches!(self, Change::Less(_)) { LESS } else { MORE };
                let loose = scene.loose.get_mut(place).ok_or(GONE)?;
                loose.step = loose.step.scaled(percent)?;
            }
            Change::Again(place) => {
                let again = scene.loose.get(place).cloned().ok_or(GONE)?;
                if scene.loose.len() == MOST_LOOSE {
                    return Err(format!("Keep at most {MOST_LOOSE} of them: take one away first."));
                }
                scene.loose.insert(place + 1, again);
            }
            Change::Aim { deed, across, down } => {
                let at = somewhere(&panel, across, down, mark)?;
                *bottle(&mut scene.loose, deed)? = at;
            }
            Change::AimNudge { deed, right, down } => {
                let bottle = bottle(&mut scene.loose, deed)?;
                *bottle = nudged(*bottle, (right, down), mark);
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
                return cleared.map(Edited::from).ok_or_else(|| {
                    "No ink in the drawer stays clean there: keep the two apart, with a mask or a dry brush between."
                        .into()
                });
            }
        }
        Ok(panel.with_scene(scene).into())
    }
}

fn bottle(loose: &mut [Loose], step: usize) -> Result<&mut Point, &'static str> {
    loose.get_mut(step).and_then(|loose| loose.step.aim_mut()).ok_or(GONE)
}

fn flecks(loose: &mut [Loose], step: usize) -> Result<&mut Flecks, &'static str> {
    loose.get_mut(step).and_then(|loose| loose.step.flecks_mut()).ok_or(GONE)
}
