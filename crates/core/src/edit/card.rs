//! What is changed about a panel's card: its size and layers, the piece it is inked on, how that is trimmed, what lies on top?
//!
//! A field is told by where its measure stands in the panel's document, `card.layers.0.width`. Where no card is planned yet, the one
//! that would suit the panel is what is changed.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::card_fields::{card_of, layer_of, nth, shaped_of};
use super::{Edit, Edited, GONE, Has, card_fields};
use crate::again::again;
use crate::card::fit::Known;
use crate::card::layers::Window;
use crate::card::trim::Feature;
use crate::card::{Card, DieCut, Format, Layer, Made, Mount, Reveal, Role, Shaped, Trim};
use crate::ink::{Name, Paper, Tool};
use crate::length::{Length, Units};
use crate::panel::Panel;
use crate::place::Point;
use crate::shape::Shape;
use crate::shape::kept::PERCENT;

/// Most changes that go together.
const MOST_TOGETHER: usize = 40;
/// How much of a layer a shape leaves round it when it is first cut through it, of either side (chosen).
const LEAVES: f64 = 0.2;

/// A change to a card.
#[expect(clippy::large_enum_variant, reason = "one is made at a time")]
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Change {
    /// A field as it was written.
    Set {
        /// Where its measure stands in the panel's document.
        at: String,
        /// What was written.
        to: String,
    },
    /// Several that only go together.
    Together(Vec<Change>),
    /// Another size and fold, to which layers, features and blends are carried.
    Format(Format),
    /// What a piece is cut from.
    Paper {
        /// Which piece.
        of: CutFrom,
        /// Its card; the base's where none is said.
        paper: Option<Paper>,
    },
    /// What the panel is inked with.
    Tool(Tool),
    /// Another way to say what shows of the layer beneath.
    Reveal {
        /// Of which layer.
        layer: usize,
        /// How it is said.
        way: Way,
    },
    /// How something is held.
    Hold {
        /// What.
        what: Held,
        /// By what.
        by: By,
    },
    /// A mat put under the panel.
    Mat,
    /// A layer taken off.
    Off(usize),
    /// A layer put above the one that lies on it.
    Up(usize),
    /// A layer put below the one that it lies on.
    Down(usize),
    /// A window cut into a layer, or closed.
    Window(usize),
    /// A shape of the maker's cut through a layer, by its number.
    Cut {
        /// Which layer.
        layer: usize,
        /// Which shape.
        shape: String,
    },
    /// A shape not cut any more.
    Uncut {
        /// Through which layer.
        layer: usize,
        /// Which of those cut through it.
        shape: usize,
    },
    /// A place marked that matters when it is cut, in the middle.
    Feature,
    /// That place pointed at, in millimetres from the left and top edges of the piece.
    Point {
        /// Which.
        feature: usize,
        /// From the left.
        left: f64,
        /// From the top.
        top: f64,
    },
    /// It does not matter any more.
    Forget(usize),
    /// How the panel is cut out of the piece.
    Trim(TrimTo),
    /// A die cut put on top.
    DieCut,
    /// It is taken off.
    NoDieCut,
    /// What had to give is known.
    Noted,
}

/// What is cut from a card.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum CutFrom {
    /// The base.
    Base,
    /// The piece that is inked.
    Panel,
    /// A layer.
    Layer(usize),
}

/// How it is said what shows of the layer beneath.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Way {
    /// The same all round.
    All,
    /// Left and right only.
    Sides,
    /// Top and bottom only.
    Ends,
    /// Each edge by itself.
    Each,
    /// It is worked out from the layer's size.
    Found,
}

/// Something that is held to what lies beneath it.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Held {
    /// A layer.
    Layer(usize),
    /// What comes out where a shape is cut: the layer, and which of those cut through it.
    Shape(usize, usize),
    /// The die cut.
    DieCut,
}

/// By what it is held.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum By {
    /// By nothing: it is not put back.
    Nothing,
    /// Glue or thin tape.
    Glue,
    /// Foam tape, laid so many times.
    Foam(u8),
}

/// How the panel is cut out of the piece.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum TrimTo {
    /// As much off each side as off the one across from it.
    Even,
    /// So that a feature stands in the middle.
    Middle(usize),
    /// So that a feature stands at a place of its own.
    Own(usize),
}

impl Edit for Change {
    fn field(&self) -> String {
        match self {
            Change::Set { at, .. } => at.clone(),
            Change::Together(changes) => changes.last().map(Edit::field).unwrap_or_default(),
            Change::Reveal { layer, .. }
            | Change::Off(layer)
            | Change::Up(layer)
            | Change::Down(layer)
            | Change::Window(layer)
            | Change::Cut { layer, .. }
            | Change::Uncut { layer, .. }
            | Change::Hold { what: Held::Layer(layer), .. }
            | Change::Paper { of: CutFrom::Layer(layer), .. } => format!("card.layers.{layer}"),
            Change::Hold { what: Held::Shape(layer, nth), .. } => format!("card.layers.{layer}.shapes.{nth}"),
            _ => String::new(),
        }
    }

    fn label(&self, panel: &Panel, has: &Has) -> String {
        let layer = |at: &usize| {
            let layers = panel.card.as_ref().map_or(&[][..], |card| &card.layers);
            layers.get(*at).map_or("the layer", |layer| layer.name.as_str())
        };
        match self {
            Change::Set { at, .. } => {
                let of =
                    at.strip_prefix("card.layers.").and_then(|rest| rest.split('.').next()?.parse().ok());
                let of = of.map(|at| format!(" of {}", layer(&at))).unwrap_or_default();
                format!("set {}{of}", card_fields::words(at))
            }
            Change::Together(changes) => {
                changes.last().map_or_else(String::new, |change| change.label(panel, has))
            }
            Change::Format(format) => format!("make it {}", format.name),
            Change::Paper { .. } => "choose the card".into(),
            Change::Tool(_) => "choose the tool".into(),
            Change::Reveal { layer: at, .. } => format!("set what shows under {}", layer(at)),
            Change::Hold { what: Held::Shape(..), .. } => "choose what becomes of what comes out".into(),
            Change::Hold { .. } => "choose how it is held".into(),
            Change::Mat => "add a mat".into(),
            Change::Off(at) => format!("take {} off", layer(at)),
            Change::Up(at) | Change::Down(at) => format!("move {}", layer(at)),
            Change::Window(at) => format!("the window of {}", layer(at)),
            Change::Cut { layer: at, .. } => {
                let shape = has.shape.map_or("shape", |shape| shape.name.as_str());
                format!("cut the {shape} out of {}", layer(at))
            }
            Change::Uncut { layer: at, .. } => format!("cut one shape fewer out of {}", layer(at)),
            Change::Feature => "mark a feature".into(),
            Change::Point { .. } => "point at a feature".into(),
            Change::Forget(_) => "take a feature out".into(),
            Change::Trim(_) => "choose the trim".into(),
            Change::DieCut => "add a die cut".into(),
            Change::NoDieCut => "take the die cut off".into(),
            Change::Noted => "take note of what had to give".into(),
        }
    }

    fn brings(&self) -> Option<&str> {
        match self {
            Change::Cut { shape, .. } => Some(shape),
            Change::Together(changes) => changes.iter().find_map(Edit::brings),
            _ => None,
        }
    }

    fn made(&self, panel: Panel, has: &Has) -> Result<Edited, String> {
        let panel = self.changed(panel, has)?;
        panel.check_plan().map_err(|error| error.to_string())?;
        Ok(panel.laid().into())
    }
}

impl Change {
    /// The panel with it made, before its moves are laid.
    fn changed(&self, mut panel: Panel, has: &Has) -> Result<Panel, String> {
        let units = has.units;
        match self {
            Change::Set { at, to } => return card_fields::set(panel, at, to.trim(), units),
            Change::Together(changes) if changes.len() > MOST_TOGETHER => {
                return Err("More is waiting here than can be made at once: reload this page.".into());
            }
            // Only one shape is brought along with them.
            Change::Together(changes)
                if changes.iter().any(|change| matches!(change, Change::Together(_)))
                    || changes.iter().filter_map(Edit::brings).any(|shape| Some(shape) != self.brings()) =>
            {
                return Err("These cannot be made at once: make one after the other.".into());
            }
            Change::Together(changes) => {
                return changes.iter().try_fold(panel, |panel, change| change.changed(panel, has));
            }
            Change::Format(format) => {
                return again(&panel, format, units).map_err(|error| error.to_string());
            }
            Change::Paper { of: CutFrom::Panel, paper } => panel.paper = paper.clone().ok_or(GONE)?,
            Change::Tool(tool) => panel.tool = tool.clone(),
            Change::Feature => {
                let [left, top] = [panel.width, panel.height].map(|side| side.halved(units.pencil()).0);
                let name = numbered("Feature", panel.features.iter().map(|feature| &feature.name));
                panel.features.push(Feature { name, at: Point { left, top }, across: None });
            }
            Change::Point { feature, left, top } => {
                let to = (left.clamp(0.0, panel.width.mm()), top.clamp(0.0, panel.height.mm()));
                nth(&mut panel.features, *feature)?.at = Point::nearest(to, units.pencil());
            }
            Change::Forget(feature) => {
                nth(&mut panel.features, *feature)?;
                panel.features.remove(*feature);
                panel.card.iter_mut().for_each(|card| card.trim = Trim::Even);
            }
            Change::Noted => panel.gave.clear(),
            Change::Trim(to) => {
                let trim = trimmed(&panel, *to, units)?;
                card_of(&mut panel, units).trim = trim;
            }
            Change::Reveal { layer, way } => {
                let made = made(&panel, units)?;
                let layer_of = layer_of(&mut panel, *layer, units)?;
                said(layer_of, *layer, *way, &made)?;
            }
            Change::Cut { layer, .. } => {
                let shape = has.shape.cloned().ok_or(GONE)?;
                let made = made(&panel, units)?;
                let shaped = cut(shape, *layer, &made)?;
                layer_of(&mut panel, *layer, units)?.shapes.push(shaped);
            }
            _ => self.changes_card(card_of(&mut panel, units), units)?,
        }
        Ok(panel)
    }

    /// Makes it of the card alone.
    fn changes_card(&self, card: &mut Card, units: Units) -> Result<(), String> {
        let layers = &mut card.layers;
        match self {
            Change::Paper { of: CutFrom::Layer(layer), paper } => {
                nth(layers, *layer)?.paper.clone_from(paper);
            }
            Change::Paper { paper, .. } => card.paper = paper.clone().ok_or(GONE)?,
            Change::Hold { what: Held::Layer(layer), by } => {
                let layer = nth(layers, *layer)?;
                layer.mount = by.over(Some(layer.mount)).unwrap_or_default();
            }
            Change::Hold { what: Held::Shape(layer, shape), by } => {
                let shaped = shaped_of(nth(layers, *layer)?, *shape)?;
                shaped.back = by.over(shaped.back);
            }
            Change::Hold { what: Held::DieCut, by } => {
                let die_cut = card.die_cut.as_mut().ok_or(GONE)?;
                die_cut.mount = by.over(Some(die_cut.mount)).unwrap_or_default();
            }
            Change::Mat => {
                let under = layers.iter().position(|layer| layer.role == Role::Panel).unwrap_or(0);
                let name = numbered("Mat", layers.iter().map(|layer| &layer.name));
                let shows = either(units, Length::from_64ths(4), Length::from_tenths_mm(20));
                layers.insert(under, Layer::showing(name, Role::Mat, Reveal::Even(shows)));
            }
            Change::Off(layer) => {
                nth(layers, *layer)?;
                layers.remove(*layer);
            }
            Change::Up(lower) | Change::Down(lower) => {
                let lower = if matches!(self, Change::Up(_)) { Some(*lower) } else { lower.checked_sub(1) };
                let lower = lower.filter(|lower| lower + 1 < layers.len()).ok_or(GONE)?;
                layers.swap(lower, lower + 1);
            }
            Change::Window(layer) => {
                let layer = nth(layers, *layer)?;
                let frame = either(units, Length::from_64ths(32), Length::from_tenths_mm(120));
                let window = Window { frame: Reveal::Even(frame), ..Window::default() };
                layer.window = if layer.window.is_some() { None } else { Some(window) };
            }
            Change::Uncut { layer, shape } => {
                let layer = nth(layers, *layer)?;
                shaped_of(layer, *shape)?;
                layer.shapes.remove(*shape);
            }
            Change::DieCut => {
                let side = either(units, Length::from_inches(2), Length::from_tenths_mm(500));
                card.die_cut = Some(DieCut {
                    name: named("Shape on top"),
                    width: side,
                    height: side,
                    tiers: 2,
                    thickness: Length::from_tenths_mm(3),
                    mount: Mount::Glue,
                });
            }
            Change::NoDieCut => card.die_cut = None,
            _ => return Err(GONE.into()),
        }
        Ok(())
    }
}

impl By {
    /// How something is held then; foam stays as thick as it was.
    fn over(self, was: Option<Mount>) -> Option<Mount> {
        match self {
            By::Nothing => None,
            By::Glue => Some(Mount::Glue),
            By::Foam(layers) => {
                let thick = match was {
                    Some(Mount::Foam { thick, .. }) => thick,
                    _ => Length::from_tenths_mm(10),
                };
                Some(Mount::Foam { thick, layers })
            }
        }
    }
}

fn either(units: Units, inches: Length, mm: Length) -> Length {
    match units {
        Units::Inches => inches,
        Units::Millimetres => mm,
    }
}

fn named(words: &str) -> Name {
    words.parse().expect("a name of a few letters")
}

/// A name that none of them has: `Mat`, `Mat 2`, …
fn numbered<'a>(word: &str, known: impl Iterator<Item = &'a Name> + Clone) -> Name {
    let mut names = std::iter::once(named(word)).chain((2..).map(|n| named(&format!("{word} {n}"))));
    names.find(|name| known.clone().all(|other| other != name)).expect("there are more numbers than names")
}

/// The card as it comes out now.
fn made(panel: &Panel, units: Units) -> Result<Made, String> {
    let card = panel.card.clone().unwrap_or_else(|| Card::fitting(&panel.inked(), units));
    card.made(&panel.inked(), &[], units).map(|(made, _)| made).map_err(|error| error.to_string())
}

/// Says another way what shows of the layer beneath; of what showed as much as can be stays.
fn said(layer: &mut Layer, at: usize, way: Way, made: &Made) -> Result<(), String> {
    let placed = made.stacked.layers.iter().rfind(|placed| placed.of == at).ok_or(GONE)?;
    let shows = placed.reveal;
    let usual = either(made.units, Length::from_64ths(8), Length::from_tenths_mm(30));
    let some = [shows.left, shows.top, shows.right, shows.bottom];
    let some = some.into_iter().find(|edge| *edge != Length::ZERO).unwrap_or(usual);
    let each = |across: [Length; 2], down: [Length; 2]| {
        let ([left, right], [top, bottom]) = (across.map(Some), down.map(Some));
        Reveal::Each(Known { left, right, top, bottom })
    };
    let none = [Length::ZERO; 2];
    layer.reveal = match way {
        Way::All => Reveal::Even(some),
        Way::Sides => each([some; 2], none),
        Way::Ends => each(none, [some; 2]),
        Way::Each => each([shows.left, shows.right], [shows.top, shows.bottom]),
        Way::Found => Reveal::default(),
    };
    // A size that is given stays only where what shows follows from it.
    let size = (way == Way::Found).then_some((placed.place.width, placed.place.height));
    (layer.width, layer.height) = size.unzip();
    Ok(())
}

/// A shape as it is cut through a layer: in its middle, no larger than leaves some of it round.
fn cut(mut shape: Shape, layer: usize, made: &Made) -> Result<Shaped, String> {
    let place = made.stacked.layers.iter().rfind(|placed| placed.of == layer).ok_or(GONE)?.place;
    let outline = shape.outline().map_err(|error| error.to_string())?;
    let (wide, high) = outline.size();
    let room = (1.0 - LEAVES) * (place.width.mm() / wide).min(place.height.mm() / high);
    let percent = (f64::from(shape.percent) * room.min(1.0)).floor();
    shape.percent = percent.clamp(f64::from(*PERCENT.start()), f64::from(*PERCENT.end())) as u16;
    let [left, top] = [place.width, place.height].map(|side| side.halved(made.units.pencil()).0);
    Ok(Shaped { shape, at: Point { left, top }, back: None })
}

/// How it is trimmed then: a place of its own begins where the feature stands now.
fn trimmed(panel: &Panel, to: TrimTo, units: Units) -> Result<Trim, String> {
    let feature = match to {
        TrimTo::Even => return Ok(Trim::Even),
        TrimTo::Middle(feature) | TrimTo::Own(feature) => feature,
    };
    let own = panel.features.get(feature).ok_or(GONE)?.at;
    let at = matches!(to, TrimTo::Own(_)).then(|| {
        let marks = made(panel, units).ok().and_then(|made| made.trimmed.ok()?.marks);
        marks.map_or(own, |marks| Point { left: marks.left, top: marks.top })
    });
    Ok(Trim::Feature { feature, at })
}
