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

    fn label(&self, _: &Panel, _: &Has) -> String {
        let words = match self {
            Change::Mat => "lay inks on the mat",
            Change::NoMat => "put the mat away",
            Change::Patch => "another patch on the mat",
            Change::NoPatch(_) => "take a patch off the mat",
            Change::Press => "press once more",
            Change::NoPress(_) => "leave a press out",
            Change::Three => "three cards from one mat",
            Change::Hold { .. } | Change::Nudge { .. } => "move a patch",
            Change::Add(Fresh(key)) => {
                let offer = WetStep::offers().find(|offer| offer.key == key);
                return offer.map_or_else(String::new, |offer| offer.words.to_lowercase());
            }
            Change::Set(_) => "change what is done with water",
            Change::Earlier(_) => "do it earlier",
            Change::Later(_) => "do it later",
            Change::Remove(_) => "leave it out",
            Change::Less(_) => "less of it",
            Change::More(_) => "more of it",
            Change::Again(_) => "the same once again",
            Change::Aim { .. } | Change::AimNudge { .. } => "aim the bottle",
            Change::Place { .. } => "place a fleck",
            Change::Unplace(_) => "take the last fleck back",
            Change::Clear(_) => "an ink that stays clean",
        };
        words.into()
    }

    fn takes_ink(&self) -> bool {
        matches!(self, Change::Mat | Change::Patch | Change::Add(_) | Change::Set(_) | Change::Clear(_))
    }

    fn made(&self, panel: Panel, has: &Has) -> Result<Edited, String> {
        if let Change::Clear(nth) = *self {
            return clear(&panel, nth, has.drawer);
        }
        let mut wet = Wet { scene: panel.scene.clone(), panel, has };
        let mark = has.units.pencil();
        match *self {
            Change::Mat => wet.lay_mat()?,
            Change::NoMat => wet.scene.smoosh = None,
            Change::Patch => wet.add_patch()?,
            Change::NoPatch(place) => wet.remove_patch(place)?,
            Change::Press => wet.add_press()?,
            Change::NoPress(place) => wet.remove_press(place)?,
            Change::Three => wet.mat()?.three(),
            Change::Hold { patch, across, down } => {
                let at = somewhere(&wet.panel, across, down, mark)?;
                wet.move_patch(patch, |_| at)?;
            }
            Change::Nudge { patch, right, down } => {
                wet.move_patch(patch, |at| nudged(at, (right, down), mark))?;
            }
            Change::Add(Fresh(ref key)) => wet.add_step(key)?,
            Change::Set(ref field) => wet.write(field)?,
            Change::Earlier(place) => wet.swap(place.checked_sub(1), place)?,
            Change::Later(place) => wet.swap(Some(place), place + 1)?,
            Change::Remove(place) => {
                wet.step(place)?;
                wet.scene.loose.remove(place);
            }
            Change::Less(place) => wet.scale(place, LESS)?,
            Change::More(place) => wet.scale(place, MORE)?,
            Change::Again(place) => {
                wet.has_room()?;
                let again = wet.step(place)?.clone();
                wet.scene.loose.insert(place + 1, again);
            }
            Change::Aim { deed, across, down } => {
                let at = somewhere(&wet.panel, across, down, mark)?;
                *wet.bottle(deed)? = at;
            }
            Change::AimNudge { deed, right, down } => {
                let bottle = wet.bottle(deed)?;
                *bottle = nudged(*bottle, (right, down), mark);
            }
            Change::Place { deed, across, down } => {
                let at = somewhere(&wet.panel, across, down, Length::from_tenths_mm(1))?;
                wet.place_fleck(deed, at)?;
            }
            Change::Unplace(deed) => drop(wet.flecks(deed)?.placed.pop()),
            Change::Clear(_) => {}
        }
        Ok(wet.panel.with_scene(wet.scene).into())
    }
}

/// Another ink in the place of one that turns to mud.
fn clear(panel: &Panel, nth: usize, drawer: &[Ink]) -> Result<Edited, String> {
    let told = muddied(&panel.surface()).into_iter().nth(nth).ok_or(GONE)?;
    let cleared = cleared(panel, told.inks, drawer).map(|cleared| cleared.panel);
    cleared.map(Edited::from).ok_or_else(|| {
        "No ink in the drawer stays clean there: keep the two apart, with a mask or a dry brush between."
            .into()
    })
}

fn is_wet(ink: &&Ink) -> bool {
    ink.kind != Kind::Pigment
}

/// What is done with water on a panel, in hand.
struct Wet<'a> {
    panel: Panel,
    scene: Scene,
    has: &'a Has<'a>,
}

impl Wet<'_> {
    fn mat(&mut self) -> Result<&mut Smoosh, String> {
        self.scene.smoosh.as_mut().ok_or_else(|| GONE.to_owned())
    }

    /// Inks laid on the mat: the panel's own first, and up to three in all.
    fn lay_mat(&mut self) -> Result<(), String> {
        let mut inks: Vec<Ink> = self.panel.inks.iter().filter(is_wet).take(3).cloned().collect();
        let others = self.has.drawer.iter().filter(is_wet).filter(|ink| !self.panel.inks.contains(ink));
        let missing = 3 - inks.len();
        inks.extend(others.take(missing).cloned());
        if inks.is_empty() {
            return Err("There is no ink in the drawer for the mat: tell the drawer of one first.".into());
        }
        let places: Vec<usize> = inks.iter().map(|ink| self.panel.ink_place(ink)).collect();
        self.scene.smoosh = Some(Smoosh::of(&places, self.panel.size(), self.has.units));
        Ok(())
    }

    /// A patch of an ink that is not on the mat yet, of the panel's own first; of its first where all are.
    fn add_patch(&mut self) -> Result<(), String> {
        let patches = &self.mat()?.patches;
        if patches.len() == MOST_PATCHES {
            return Err(format!("The mat takes up to {MOST_PATCHES} patches."));
        }
        let used: Vec<usize> = patches.iter().map(|patch| patch.ink).collect();
        let panel = &mut self.panel;
        let own = panel.inks.iter().enumerate().find(|(at, ink)| !used.contains(at) && is_wet(ink));
        let ink = own.map(|(at, _)| at).or_else(|| {
            let new = self.has.drawer.iter().filter(is_wet).find(|ink| !panel.inks.contains(ink))?;
            Some(panel.ink_place(new))
        });
        let ink = ink.or(used.first().copied()).ok_or(GONE)?;
        let size = panel.size();
        self.scene.smoosh.as_mut().ok_or(GONE)?.add_patch(ink, size, self.has.units);
        Ok(())
    }

    fn remove_patch(&mut self, place: usize) -> Result<(), String> {
        let patches = &mut self.mat()?.patches;
        patches.get(place).ok_or(GONE)?;
        patches.remove(place);
        if patches.is_empty() {
            self.scene.smoosh = None;
        }
        Ok(())
    }

    fn move_patch(&mut self, place: usize, to: impl Fn(Point) -> Point) -> Result<(), String> {
        let size = self.panel.size();
        let patch = self.mat()?.patches.get_mut(place).ok_or(GONE)?;
        patch.at = on(to(patch.at), size);
        Ok(())
    }

    fn add_press(&mut self) -> Result<(), String> {
        let mat = self.mat()?;
        if mat.presses.len() == MOST_PRESSES {
            return Err(format!("A mat gives at most {MOST_PRESSES} presses."));
        }
        mat.press_again();
        Ok(())
    }

    fn remove_press(&mut self, place: usize) -> Result<(), String> {
        let presses = &mut self.mat()?.presses;
        presses.get(place).ok_or(GONE)?;
        let gone = presses.remove(place);
        // The mat is not pressed dry.
        if let Some(first) = presses.first_mut().filter(|_| place == 0) {
            first.mists = first.mists.max(gone.mists);
        }
        Ok(())
    }

    fn step(&mut self, place: usize) -> Result<&mut Loose, String> {
        self.scene.loose.get_mut(place).ok_or_else(|| GONE.to_owned())
    }

    fn has_room(&self) -> Result<(), String> {
        match self.scene.loose.len() < MOST_LOOSE {
            true => Ok(()),
            false => Err(format!("Keep at most {MOST_LOOSE} of them: take one away first.")),
        }
    }

    fn add_step(&mut self, key: &str) -> Result<(), String> {
        self.has_room()?;
        if WetStep::offers().any(|offer| offer.key == key && offer.has_stencil) {
            // Where there is none, one is lent to it.
            self.panel = with_stencil(&self.panel).map_err(|error| error.to_string())?.0;
            self.scene.things.clone_from(&self.panel.scene.things);
        }
        let mut about = about(&self.panel, &self.panel.scene, self.has.drawer, self.has.units);
        let begun = WetStep::begun(key, &mut about)?;
        self.panel.inks = about.inks;
        self.scene.loose.push(Loose::begun(begun));
        Ok(())
    }

    fn write(&mut self, field: &Field) -> Result<(), String> {
        let mut about = about(&self.panel, &self.panel.scene, self.has.drawer, self.has.units);
        let mut told = Telling::writing(&mut about, (&field.what, &field.to));
        field.write(&mut self.scene, &mut told).ok_or(GONE)?;
        told.outcome()?;
        self.panel.inks = about.inks;
        Ok(())
    }

    /// Two steps that follow one another change places.
    fn swap(&mut self, earlier: Option<usize>, later: usize) -> Result<(), String> {
        let earlier = earlier.filter(|_| later < self.scene.loose.len());
        self.scene.loose.swap(earlier.ok_or("It cannot be moved further.")?, later);
        Ok(())
    }

    fn scale(&mut self, place: usize, percent: u32) -> Result<(), String> {
        let step = &mut self.step(place)?.step;
        *step = step.scaled(percent)?;
        Ok(())
    }

    fn bottle(&mut self, place: usize) -> Result<&mut Point, String> {
        self.step(place)?.step.aim_mut().ok_or_else(|| GONE.to_owned())
    }

    fn flecks(&mut self, place: usize) -> Result<&mut Flecks, String> {
        self.step(place)?.step.flecks_mut().ok_or_else(|| GONE.to_owned())
    }

    /// A fleck placed, brighter than those that are flicked.
    fn place_fleck(&mut self, step: usize, at: Point) -> Result<(), String> {
        let at = on(at, self.panel.size());
        let flecks = self.flecks(step)?;
        let (least, most) = (Length::from_hundredths_mm(60), Length::from_hundredths_mm(400));
        let radius = (flecks.median * 2).clamp(least, most);
        flecks.placed.push(Placed { at, radius });
        Ok(())
    }
}
