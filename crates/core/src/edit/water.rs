//! What is changed about the mat, its presses, and all that is sprayed, flicked, misted, lifted and scraped?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::gets::ink_called;
use super::words::{self, Written, choice, either, none_of, nudged, on, place, somewhere, whole};
use super::{Edit, Edited, GONE, Has};
use crate::alter::with_stencil;
use crate::ink::{Ink, Kind, Paste};
use crate::judgement::{cleared, muddied};
use crate::length::{Length, ParseIn, Units, thickness};
use crate::panel::Panel;
use crate::place::{Extent, Point};
use crate::scene::loose::{MOST_LOOSE, MOST_PATCHES, MOST_PRESSES};
use crate::scene::{Loose, Pressing, Smoosh, Wetting};
use crate::water::flecks::{FleckLook, FlickedFrom, MOST_FLECKS};
use crate::water::pad::{MOST_TIMES, Stroke};
use crate::water::{Flecks, Movement, Pad, Patch, Placed, Spray, Thrown, Tilt};

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
    /// A word of a patch, a press or a deed as it was written.
    Set(Written<Field>),
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

/// What can be added.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Fresh {
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
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
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

/// A word of a patch, a press or a step. Figures and names are as the maker wrote them, and read where it is known what they
/// belong to.
#[allow(missing_docs, reason = "each is named as its field is")]
#[derive(Clone, Debug, PartialEq)]
pub enum Word {
    Ink(String),
    Dabs(String),
    Left(String),
    Top(String),
    Across(String),
    Down(String),
    Mists(String),
    Spare(Option<u8>),
    Movement(Movement),
    OnDamp(bool),
    Blot(bool),
    First(bool),
    Keep(usize, bool),
    Within(Option<usize>),
    Look(FleckLook),
    Count(String),
    Size(String),
    Unlike(String),
    Water(String),
    From(Source),
    ByPen(bool),
    Clear(Option<Clear>),
    /// What is chosen is what stands there.
    AsItIs,
    Pumps(String),
    Distance(String),
    OnWet(bool),
    Pushed(bool),
    Tilt(Tilt),
    Stroke(Stroke),
    Times(String),
    Light(bool),
    Thing(usize),
    Of(PasteOf),
}

/// What flecks are flicked from, or a bottle gives by.
#[allow(missing_docs, reason = "each is named as its field is")]
#[derive(Clone, Copy, Debug, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Source {
    Brush,
    Block,
    Pump,
    Cap,
}

/// Which paste.
#[allow(missing_docs, reason = "each is named as its field is")]
#[derive(Clone, Copy, Debug, PartialEq, Eq, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum PasteOf {
    White,
    Shimmer,
    Tinted,
}

impl words::Field for Field {
    type Word = Word;

    fn word(&self) -> Result<Word, String> {
        Word::read(self.row, &self.what, &self.to)
    }
}

impl Word {
    fn read(row: Row, what: &str, to: &str) -> Result<Word, String> {
        let text = || to.to_owned();
        let either = |yes: &str, no: &str| either(to, yes, no);
        if let Some(thing) = what.strip_prefix("keep") {
            let thing = thing.parse().map_err(|_| none_of(what))?;
            return Ok(Word::Keep(thing, either("on", "off")?));
        }
        Ok(match (row, what) {
            (Row::Patch | Row::Deed, "ink") => Word::Ink(text()),
            (Row::Patch, "dabs") => Word::Dabs(text()),
            (Row::Patch | Row::Deed, "left") => Word::Left(text()),
            (Row::Patch | Row::Deed, "top") => Word::Top(text()),
            (Row::Patch, "across") => Word::Across(text()),
            (Row::Patch, "down") => Word::Down(text()),
            (Row::Press, "mists") => Word::Mists(text()),
            (Row::Press, "card") => Word::Spare(Some(place(to)?).filter(|spare| *spare != 0)),
            (Row::Press, "movement") => Word::Movement(choice(to)?),
            (Row::Press, "on_damp") => Word::OnDamp(either("damp", "dry")?),
            (Row::Deed, "blot") => Word::Blot(either("blot", "dry")?),
            (Row::Deed, "when") => Word::First(either("first", "last")?),
            (Row::Deed, "within") if to == "all" => Word::Within(None),
            (Row::Deed, "within") => Word::Within(Some(place(to)?)),
            (Row::Deed, "look" | "clear") if to == "own" => Word::AsItIs,
            (Row::Deed, "look") => Word::Look(choice(to)?),
            (Row::Deed, "count") => Word::Count(text()),
            (Row::Deed, "size") => Word::Size(text()),
            (Row::Deed, "unlike") => Word::Unlike(text()),
            (Row::Deed, "water") => Word::Water(text()),
            (Row::Deed, "from") => Word::From(choice(to)?),
            (Row::Deed, "tip") => Word::ByPen(either("pen", "brush")?),
            (Row::Deed, "clear") if to == "none" => Word::Clear(None),
            (Row::Deed, "clear") => Word::Clear(Some(choice(to)?)),
            (Row::Deed, "pumps") => Word::Pumps(text()),
            (Row::Deed, "distance") => Word::Distance(text()),
            (Row::Deed, "card") => Word::OnWet(either("wet", "dry")?),
            (Row::Deed, "brush") => Word::Pushed(either("pushed", "runs")?),
            (Row::Deed, "tilt") => Word::Tilt(choice(to)?),
            (Row::Deed, "stroke") => Word::Stroke(choice(to)?),
            (Row::Deed, "times") => Word::Times(text()),
            (Row::Deed, "hand") => Word::Light(either("light", "firm")?),
            (Row::Deed, "thing") => Word::Thing(place(to)?),
            (Row::Deed, "of") => Word::Of(choice(to)?),
            _ => return Err(none_of(what)),
        })
    }
}

/// What of the panel stays clear of flecks.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Clear {
    /// Its upper third.
    Upper,
    /// Its lower third.
    Lower,
    /// Its left third.
    Left,
    /// Its right third.
    Right,
    /// A square of half its width in the middle.
    Middle,
}

impl Clear {
    /// All of them.
    pub const ALL: [Clear; 5] = [Clear::Upper, Clear::Lower, Clear::Left, Clear::Right, Clear::Middle];

    /// Its words.
    pub const fn words(self) -> &'static str {
        match self {
            Clear::Upper => "all but the upper third",
            Clear::Lower => "all but the lower third",
            Clear::Left => "all but the left third",
            Clear::Right => "all but the right third",
            Clear::Middle => "all but the middle",
        }
    }

    /// Where it lies on a panel of this size.
    pub fn of(self, (width, height): (Length, Length)) -> Extent {
        let (third, high) = (width / 3, height / 3);
        let at =
            |left: Length, top: Length, size: (Length, Length)| Extent { corner: Point { left, top }, size };
        match self {
            Clear::Upper => at(Length::ZERO, Length::ZERO, (width, high)),
            Clear::Lower => at(Length::ZERO, height - high, (width, high)),
            Clear::Left => at(Length::ZERO, Length::ZERO, (third, height)),
            Clear::Right => at(width - third, Length::ZERO, (third, height)),
            Clear::Middle => at(width / 4, height / 4, (width / 2, height / 2)),
        }
    }
}

impl Word {
    fn write_patch(&self, patch: &mut Patch, units: Units) -> Result<(), String> {
        let length = |text: &str| text.parse_in(units).map_err(|error| error.to_string());
        match self {
            Word::Ink(_) => {}
            Word::Dabs(text) => patch.dabs = whole(text)?,
            Word::Left(text) => patch.at.left = length(text)?,
            Word::Top(text) => patch.at.top = length(text)?,
            Word::Across(text) => patch.across = length(text)?,
            Word::Down(text) => patch.down = length(text)?,
            _ => return Err(GONE.into()),
        }
        Ok(())
    }

    fn write_press(&self, press: &mut Pressing) -> Result<(), String> {
        match self {
            Word::Mists(text) => press.mists = whole(text)?,
            Word::Spare(spare) => press.spare = *spare,
            Word::Movement(movement) => press.movement = *movement,
            Word::OnDamp(damp) => press.on_damp = *damp,
            _ => return Err(GONE.into()),
        }
        Ok(())
    }

    fn write_step(&self, loose: &mut Loose, panel: &mut Panel, has: &Has) -> Result<(), String> {
        match self {
            Word::AsItIs => {}
            Word::Blot(blot) => loose.blot = *blot,
            Word::First(first) => loose.first = *first,
            Word::Keep(thing, kept) => {
                loose.keep.retain(|other| other != thing);
                loose.keep.extend(kept.then_some(*thing));
            }
            Word::Within(thing) => loose.within = *thing,
            _ => match &mut loose.deed {
                Wetting::Flecks(flecks) => self.write_flecks(flecks, panel, has)?,
                Wetting::Spray(spray) => self.write_spray(spray, panel, has)?,
                Wetting::Pad(pad) => self.write_pad(pad, panel, has)?,
                Wetting::Mist(pumps) => match self {
                    Word::Pumps(text) => *pumps = whole(text)?,
                    _ => return Err(GONE.into()),
                },
                Wetting::Lift(thing) => match self {
                    Word::Thing(place) => *thing = *place,
                    _ => return Err(GONE.into()),
                },
                Wetting::Paste { thing, of } => match self {
                    Word::Thing(place) => *thing = *place,
                    Word::Of(PasteOf::White) => *of = Paste::White,
                    Word::Of(PasteOf::Shimmer) => *of = Paste::Shimmer,
                    Word::Of(PasteOf::Tinted) => *of = Paste::Tinted(tint(panel, has.drawer)?),
                    Word::Ink(name) => *of = Paste::Tinted(ink_called(name, panel, has.drawer)?),
                    _ => return Err(GONE.into()),
                },
            },
        }
        Ok(())
    }

    fn write_flecks(&self, flecks: &mut Flecks, panel: &mut Panel, has: &Has) -> Result<(), String> {
        match self {
            Word::Ink(name) => {
                flecks.of = match name.trim().to_lowercase().as_str() {
                    "mica" => Thrown::Mica,
                    name if is_water(name) => Thrown::Water,
                    _ => Thrown::Ink(ink_called(name, panel, has.drawer)?),
                };
            }
            Word::Look(look) => {
                let new = Flecks::of_look(flecks.of, *look, panel.size());
                (flecks.count, flecks.median, flecks.unlike) = (new.count, new.median, new.unlike);
            }
            Word::Count(text) => flecks.count = text.trim().parse().map_err(|_| "write a whole number")?,
            Word::Size(text) => {
                let across = thickness::read_in(text, has.units).map_err(|error| error.to_string())?;
                flecks.median = across / 2;
            }
            Word::Unlike(text) => flecks.unlike = whole(text.trim_end_matches('%'))?,
            Word::Water(text) => flecks.water = whole(text)?,
            Word::From(Source::Brush) => flecks.from = FlickedFrom::Brush,
            Word::From(Source::Block) => flecks.from = FlickedFrom::Block,
            Word::ByPen(by_pen) => flecks.by_pen = *by_pen,
            Word::Clear(clear) => flecks.clear = clear.iter().map(|clear| clear.of(panel.size())).collect(),
            _ => return Err(GONE.into()),
        }
        Ok(())
    }

    fn write_spray(&self, spray: &mut Spray, panel: &mut Panel, has: &Has) -> Result<(), String> {
        let length = |text: &str| text.parse_in(has.units).map_err(|error| error.to_string());
        match self {
            Word::Ink(name) if is_water(&name.trim().to_lowercase()) => spray.ink = None,
            Word::Ink(name) => spray.ink = Some(ink_called(name, panel, has.drawer)?),
            Word::Pumps(text) => spray.pumps = whole(text)?,
            Word::Distance(text) => spray.distance = length(text)?,
            Word::Left(text) => spray.at.left = length(text)?,
            Word::Top(text) => spray.at.top = length(text)?,
            Word::OnWet(wet) => {
                spray.on_wet = *wet;
                // On dry card there is nothing to push.
                spray.pushed &= spray.on_wet;
            }
            Word::Pushed(pushed) => spray.pushed = *pushed && spray.on_wet,
            Word::Tilt(tilt) => spray.tilt = *tilt,
            Word::From(Source::Pump) => spray.splashed = false,
            Word::From(Source::Cap) => spray.splashed = true,
            _ => return Err(GONE.into()),
        }
        Ok(())
    }

    fn write_pad(&self, pad: &mut Pad, panel: &mut Panel, has: &Has) -> Result<(), String> {
        match self {
            Word::Ink(name) => pad.ink = ink_called(name, panel, has.drawer)?,
            Word::Stroke(stroke) => pad.stroke = *stroke,
            Word::Times(text) => pad.times = whole(text)?,
            Word::Light(light) => pad.light = *light,
            _ => return Err(GONE.into()),
        }
        Ok(())
    }
}

fn is_water(name: &str) -> bool {
    matches!(name, "water" | "clean water")
}

/// The lightest or the darkest of some inks.
fn by_lightness<'a>(inks: impl Iterator<Item = &'a Ink>, lightest: bool) -> Option<&'a Ink> {
    inks.max_by(|one, other| {
        let order = one.lab().l.total_cmp(&other.lab().l);
        if lightest { order } else { order.reverse() }
    })
}

impl Edit for Change {
    fn field(&self) -> String {
        match self {
            Change::Set(Written { field: Field { row, place, what, .. }, .. }) => {
                format!("{}-{place}-{what}", row.word())
            }
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
            Change::Add(kind) => {
                if scene.loose.len() == MOST_LOOSE {
                    return Err(format!("Keep at most {MOST_LOOSE} of them: take one away first."));
                }
                let loose = added(kind, &mut panel, drawer, units)?;
                // A stencil may have been lent to it.
                scene.things.clone_from(&panel.scene.things);
                scene.loose.push(loose);
            }
            Change::Set(Written { ref field, ref word }) => {
                let place = field.place;
                match field.row {
                    Row::Patch => {
                        let ink = match word {
                            Word::Ink(name) => Some(ink_called(name, &mut panel, drawer)?),
                            _ => None,
                        };
                        let patches = scene.smoosh.as_mut().map(|smoosh| &mut smoosh.patches).ok_or(GONE)?;
                        let patch = patches.get_mut(place).ok_or(GONE)?;
                        patch.ink = ink.unwrap_or(patch.ink);
                        word.write_patch(patch, units)?;
                    }
                    Row::Press => {
                        let presses = scene.smoosh.as_mut().map(|smoosh| &mut smoosh.presses).ok_or(GONE)?;
                        word.write_press(presses.get_mut(place).ok_or(GONE)?)?;
                    }
                    Row::Deed => {
                        let mut loose = scene.loose.get(place).cloned().ok_or(GONE)?;
                        word.write_step(&mut loose, &mut panel, has)?;
                        scene.loose[place] = loose;
                    }
                }
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
                return cleared.map(Edited::from).ok_or_else(|| {
                    "No ink in the drawer stays clean there: keep the two apart, with a mask or a dry brush between."
                        .into()
                });
            }
        }
        Ok(panel.with_scene(scene).into())
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

/// Something more done with water, as it is usually begun with.
fn added(kind: Fresh, panel: &mut Panel, drawer: &[Ink], units: Units) -> Result<Loose, String> {
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
        Fresh::Water => {
            let mut flecks = Flecks::of_look(Thrown::Water, FleckLook::SparseSky, size);
            (flecks.median, flecks.water) = (Length::from_hundredths_mm(80), 0);
            Loose { blot: true, ..Loose::last(Wetting::Flecks(flecks)) }
        }
        Fresh::White => Loose::last(flecks(Thrown::Ink(white(panel)?), FleckLook::SparseSky)),
        Fresh::Ink => Loose::last(flecks(Thrown::Ink(dark(panel)?), FleckLook::Snow)),
        Fresh::Mica => Loose::last(flecks(Thrown::Mica, FleckLook::Rain)),
        Fresh::Spray => Loose {
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
        Fresh::Pad => {
            Loose::last(Wetting::Pad(Pad { ink: dark(panel)?, stroke: Stroke::Down, times: 1, light: true }))
        }
        Fresh::Mist => Loose { blot: true, ..Loose::last(Wetting::Mist(4)) },
        Fresh::Lift => {
            let thing = stencil(panel)?;
            Loose { blot: true, ..Loose::last(Wetting::Lift(thing)) }
        }
        Fresh::Paste => Loose::last(Wetting::Paste { thing: stencil(panel)?, of: Paste::White }),
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
