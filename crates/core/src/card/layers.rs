//! Base, mats, panel, windows: how large is each and what shows of it?
//!
//! A maker gives what she knows: a size here, a reveal there, sometimes only how many mats she has. Every
//! layer is one rectangle in another ([`fit`](super::fit)); figures run up and down the stack until nothing more
//! can be worked out.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::fit::{Clash, How, MOST_IN_RUN, Reveal, Span};
use super::mount::Mount;
use super::shaped::{self, Shaped, ShapedError};
use crate::drawing::WindowShape;
use crate::edges::{Axis, Edges, Place};
use crate::ink::{Name, Paper};
use crate::length::{Length, Units};

/// Most layers on a base.
pub const MOST_LAYERS: usize = 12;

/// What a layer is for.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "lowercase")]
pub enum Role {
    /// Plain card that frames what lies on it.
    #[default]
    Mat,
    /// The inked panel.
    Panel,
}

/// An opening cut out of a layer.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Window {
    /// Its shape.
    #[serde(default)]
    pub shape: WindowShape,
    /// From left to right; worked out where it is left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub width: Option<Length>,
    /// From top to bottom; worked out where it is left out.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub height: Option<Length>,
    /// What is left of the layer around it.
    #[serde(default)]
    pub frame: Reveal,
}

/// A layer as far as it is known. What is left out is worked out.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Layer {
    /// What it is called.
    pub name: Name,
    /// What it is for.
    #[serde(default)]
    pub role: Role,
    /// From left to right.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub width: Option<Length>,
    /// From top to bottom.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub height: Option<Length>,
    /// What shows of the layer beneath.
    #[serde(default)]
    pub reveal: Reveal,
    /// How many such layers lie one on the other, each showing as much of the one beneath, the last of the
    /// given size: 1 where it is left out, `null` where it is to be worked out.
    #[serde(default = "one", skip_serializing_if = "is_one")]
    pub count: Option<u32>,
    /// Its card; the base's where it is left out (a panel has its own).
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub paper: Option<Paper>,
    /// How it is held.
    #[serde(default)]
    pub mount: Mount,
    /// An opening in it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub window: Option<Window>,
    /// Shapes cut through it.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub shapes: Vec<Shaped>,
}

fn one() -> Option<u32> {
    Some(1)
}

fn is_one(count: &Option<u32>) -> bool {
    *count == Some(1)
}

impl Layer {
    /// A layer by what shows of the one beneath.
    pub fn showing(name: Name, role: Role, reveal: Reveal) -> Layer {
        let (width, height, paper, window) = (None, None, None, None);
        let (mount, shapes) = (Mount::Glue, Vec::new());
        Layer { name, role, width, height, reveal, count: Some(1), paper, mount, window, shapes }
    }

    fn span(&self, beneath: (Option<Length>, Option<Length>), count: Option<u32>, axis: Axis) -> Span {
        let (near, far) = self.reveal.edges().along(axis);
        let above = axis.of(self.width, self.height);
        Span { beneath: axis.of(beneath.0, beneath.1), above, near, far, count }
    }
}

/// A layer worked out.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Placed {
    /// What it is called.
    pub name: Name,
    /// What it is for.
    pub role: Role,
    /// Where it lies on the closed base, and its size.
    pub place: Place,
    /// What shows of the layer beneath.
    pub reveal: Edges<Length>,
    /// Its window, measured from the layer's own left and top edges.
    pub window: Option<Opening>,
    /// Shapes cut through it.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub shapes: Vec<Shaped>,
    /// Its card; none where it is the base's.
    pub paper: Option<Paper>,
    /// How it is held.
    pub mount: Mount,
    /// Which of the layers asked for it came from, from 0: a run of equal ones gives several.
    pub of: usize,
}

/// A window worked out: the piece that comes out has its size.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct Opening {
    /// Its shape.
    pub shape: WindowShape,
    /// Where it is, from the layer's left and top edges.
    pub place: Place,
    /// What is left of the layer around it.
    pub frame: Edges<Length>,
}

/// Why layers cannot be worked out.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum LayerError {
    /// The figures of one layer do not go together; its place among those asked for, from 0.
    #[error("{clash}")]
    Clash {
        /// Which.
        layer: usize,
        /// How.
        clash: Clash,
    },
    /// More layers than a card has.
    #[error("{0} layers: a card has at most {MOST_LAYERS} on its base")]
    Many(usize),
    /// A count out of range.
    #[error("{name} is laid {count} times over: give 1 to {MOST_IN_RUN}")]
    Run {
        /// Which, from 0.
        layer: usize,
        /// Its name.
        name: Name,
        /// What was given.
        count: u32,
    },
    /// A shape that cannot be cut through it.
    #[error("{shape}, cut through {name}: {error}")]
    Shaped {
        /// Which layer, from 0.
        layer: usize,
        /// Its name.
        name: Name,
        /// What the shape is called.
        shape: String,
        /// Why not.
        error: ShapedError,
    },
    /// A length below zero.
    #[error(
        "{name}: {length} is less than nothing: a layer that is larger than the one beneath goes beneath it"
    )]
    Negative {
        /// Which, from 0.
        layer: usize,
        /// Its name.
        name: Name,
        /// What was given.
        length: Length,
    },
}

impl LayerError {
    /// The layer it is about, from 0.
    pub fn layer(&self) -> Option<usize> {
        match self {
            LayerError::Clash { layer, .. }
            | LayerError::Shaped { layer, .. }
            | LayerError::Run { layer, .. }
            | LayerError::Negative { layer, .. } => Some(*layer),
            LayerError::Many(_) => None,
        }
    }
}

/// The base's front, and every layer on it, from the lowest up.
#[derive(Clone, Debug, PartialEq)]
pub struct Stacked {
    /// The front of the closed base.
    pub width: Length,
    /// The front of the closed base.
    pub height: Length,
    /// The layers.
    pub layers: Vec<Placed>,
}

/// What is known of a base or layer so far.
type Sides = (Option<Length>, Option<Length>);

/// Works out every layer on a base, whose own size may be the unknown.
///
/// # Errors
/// A [`LayerError`] naming the layer whose figures clash, or the first that too little is known of.
pub fn stack(base: Sides, layers: &[Layer], units: Units) -> Result<Stacked, LayerError> {
    if layers.len() > MOST_LAYERS {
        return Err(LayerError::Many(layers.len()));
    }
    let mut known: Vec<Layer> = layers.to_vec();
    for (layer, asked) in layers.iter().enumerate() {
        refuse_nonsense(layer, asked)?;
    }
    let on = |layer: usize| match layer {
        0 => "base".to_owned(),
        _ => layers[layer - 1].name.to_string(),
    };
    let clash = |layer: usize, axis: Axis, how: How| LayerError::Clash {
        layer,
        clash: Clash { what: layers[layer].name.to_string(), on: on(layer), axis, how, units },
    };
    let mut base = base;
    work_out(&mut base, &mut known).map_err(|(layer, axis, how)| clash(layer, axis, how))?;
    let mut beneath = Place::default();
    (beneath.width, beneath.height) = match (base, known.first()) {
        ((Some(width), Some(height)), _) => (width, height),
        ((width, _), _) => {
            let axis = if width.is_none() { Axis::Across } else { Axis::Down };
            return Err(if known.is_empty() { no_base(axis, units) } else { clash(0, axis, How::Open) });
        }
    };
    let (width, height) = (beneath.width, beneath.height);
    let mut placed = Vec::new();
    for (at, layer) in known.iter().enumerate() {
        let spans = Axis::BOTH.map(|axis| {
            let lower = (Some(beneath.width), Some(beneath.height));
            layer.span(lower, layer.count, axis)
        });
        for (span, axis) in spans.into_iter().zip(Axis::BOTH) {
            if span.above.is_none() || span.count.is_none() {
                return Err(clash(at, axis, How::Open));
            }
        }
        let shows = spans.map(|span| span.shows(units));
        let count = shows[0].len();
        for (n, (across, down)) in shows[0].iter().zip(&shows[1]).enumerate() {
            let reveal = Edges::from_ends(*across, *down);
            let place = inside(beneath, reveal);
            let window = match &layer.window {
                Some(window) if n + 1 == count => Some(opening(at, layer, window, place, units)?),
                _ => None,
            };
            let shapes = if n + 1 == count { layer.shapes.clone() } else { Vec::new() };
            let name = if count == 1 { layer.name.clone() } else { numbered(&layer.name, n + 1) };
            shaped::check(&shapes, layer.name.as_str(), (place.width, place.height)).map_err(
                |(nth, error)| {
                    let shape = shapes.get(nth).map(|one| one.shape.name.to_string()).unwrap_or_default();
                    LayerError::Shaped { layer: at, name: layer.name.clone(), shape, error }
                },
            )?;
            let (paper, mount) = (layer.paper.clone(), layer.mount);
            placed.push(Placed {
                name,
                role: layer.role,
                place,
                reveal,
                window,
                shapes,
                paper,
                mount,
                of: at,
            });
            beneath = place;
        }
    }
    Ok(Stacked { width, height, layers: placed })
}

/// Works out what each layer tells of the one beneath it and of itself, until nothing more follows; otherwise says which layer's
/// figures clash, along which axis, and how.
fn work_out(base: &mut Sides, known: &mut [Layer]) -> Result<(), (usize, Axis, How)> {
    // Every pass works out at least one figure more or is the last.
    loop {
        let before = (*base, known.to_vec());
        for layer in (0..known.len()).chain((0..known.len()).rev()) {
            for axis in Axis::BOTH {
                let beneath =
                    if layer == 0 { *base } else { (known[layer - 1].width, known[layer - 1].height) };
                let span = known[layer].span(beneath, known[layer].count, axis);
                let found = span.worked_out().map_err(|how| (layer, axis, how))?;
                let set = |(width, height): (&mut Option<Length>, &mut Option<Length>), to| {
                    *axis.of(width, height) = to;
                };
                match layer.checked_sub(1) {
                    None => set((&mut base.0, &mut base.1), found.beneath),
                    Some(lower) => {
                        let lower = &mut known[lower];
                        set((&mut lower.width, &mut lower.height), found.beneath);
                    }
                }
                let own = &mut known[layer];
                set((&mut own.width, &mut own.height), found.above);
                own.count = found.count;
            }
        }
        if before == (*base, known.to_vec()) {
            return Ok(());
        }
    }
}

fn no_base(axis: Axis, units: Units) -> LayerError {
    let (what, on) = ("base".to_owned(), "desk".to_owned());
    LayerError::Clash { layer: 0, clash: Clash { what, on, axis, how: How::Open, units } }
}

fn numbered(name: &Name, n: usize) -> Name {
    format!("{name} {n}").parse().unwrap_or_else(|_| name.clone())
}

fn inside(beneath: Place, reveal: Edges<Length>) -> Place {
    Place {
        left: beneath.left + reveal.left,
        top: beneath.top + reveal.top,
        width: beneath.width - reveal.left - reveal.right,
        height: beneath.height - reveal.top - reveal.bottom,
    }
}

fn refuse_nonsense(layer: usize, asked: &Layer) -> Result<(), LayerError> {
    if let Some(count) = asked.count.filter(|count| !(1..=MOST_IN_RUN).contains(count)) {
        return Err(LayerError::Run { layer, name: asked.name.clone(), count });
    }
    let ends = |reveal: Reveal| reveal.edges().named().map(|(_, length)| length);
    let frame = asked.window.map_or([None; 4], |window| ends(window.frame));
    let lengths = ends(asked.reveal).into_iter().chain(frame).flatten();
    let window = asked.window.map_or([None; 2], |window| [window.width, window.height]);
    let sizes = [asked.width, asked.height].into_iter().chain(window).flatten();
    let below = lengths.filter(|l| *l < Length::ZERO).chain(sizes.filter(|l| *l <= Length::ZERO)).next();
    match below {
        Some(length) => Err(LayerError::Negative { layer, name: asked.name.clone(), length }),
        None => Ok(()),
    }
}

fn opening(
    layer: usize,
    asked: &Layer,
    window: &Window,
    place: Place,
    units: Units,
) -> Result<Opening, LayerError> {
    let frame = window.frame.edges();
    let mut ends = [(Length::ZERO, Length::ZERO); 2];
    for (end, axis) in ends.iter_mut().zip(Axis::BOTH) {
        let (near, far) = frame.along(axis);
        let above = axis.of(window.width, window.height);
        let span = Span { beneath: Some(place.along(axis).1), above, near, far, count: Some(1) };
        let found = span.worked_out().and_then(|span| match span.above {
            Some(above) if above < place.along(axis).1 => Ok(span),
            Some(above) => Err(How::Over { beneath: place.along(axis).1, above }),
            None => Err(How::Open),
        });
        let what = format!("window of the {}", asked.name);
        let found = found.map_err(|how| LayerError::Clash {
            layer,
            clash: Clash { what, on: asked.name.to_string(), axis, how, units },
        })?;
        *end = found.shows(units)[0];
    }
    let frame = Edges::from_ends(ends[0], ends[1]);
    let whole = Place { left: Length::ZERO, top: Length::ZERO, ..place };
    Ok(Opening { shape: window.shape, place: inside(whole, frame), frame })
}
