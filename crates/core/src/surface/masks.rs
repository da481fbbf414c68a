//! Which pieces of masking sheet are there, and what does each of them cover?
//!
//! Each thing of the scene gives two pieces from one cut: its *plug*, as large as it is or a hair less or a halo more, and
//! its *frame*, with the counters of its holes, which covers all else. Their edges divide the panel into *plots*: parts
//! within which every piece covers all or nothing. Plots tile the panel, whatever the moves.

use std::sync::{Arc, LazyLock, Mutex, OnceLock, PoisonError};

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::edges::Border;
use crate::ink::Name;
use crate::length::Length;
use crate::place::{Extent, Point};
use crate::shape::{Depth, Region, Shape, Use, eye};
use crate::thing::{Between, MOST_THINGS, Thing};

/// Which of a thing's two pieces.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Part {
    /// What is left of the sheet, and what lies in the holes of the shape: ink goes inside.
    Frame,
    /// The shape itself: ink goes outside.
    Plug,
}

impl Part {
    /// What it is called.
    pub const fn words(self) -> &'static str {
        match self {
            Part::Frame => "frame",
            Part::Plug => "plug",
        }
    }
}

/// A piece of masking sheet.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Mask {
    /// The thing it is cut for, by its place from front to back, from 0.
    pub thing: usize,
    /// Which of its two pieces.
    pub part: Part,
}

/// A thing as masks are cut for it.
#[derive(Clone, Debug)]
pub struct Masked {
    /// What it is called.
    pub name: Name,
    /// The foremost thing of the same shape, by its place: the same pieces do for both, moved from one to the other.
    pub like: usize,
    /// Where its middle lies.
    pub at: Point,
    /// The part of it that tape leaves open.
    pub between: Option<Between>,
    /// The box round it.
    pub extent: Extent,
    /// What of the panel lies inside it.
    pub inside: Region,
    /// What its pieces are.
    pub used: Use,
    /// Whether it is written.
    pub is_word: bool,
    /// Whether its frame covers anything of the panel.
    pub has_frame: bool,
    /// Whether its plug does not fit into the hole of its frame.
    pub is_loose: bool,
    /// Holes in it: each is a counter, a little plug of its own that goes with the frame.
    pub counters: usize,
    /// All of it, as far as it lies beside the panel too.
    outline: Region,
    depth: OnceLock<Arc<Depth>>,
    area: OnceLock<f64>,
    /// Whether the sheet beside it has thin ribs, once that has been asked.
    is_fine: OnceLock<bool>,
    /// Whether it has thin lines itself, once that has been asked.
    is_thin: OnceLock<bool>,
}

/// A part of the panel within which each piece covers all or nothing.
#[derive(Clone, Debug)]
pub struct Plot {
    /// Where it lies.
    pub region: Region,
    /// The things it lies inside, a bit each.
    inside: u32,
    /// The things whose plugs cover it, a bit each.
    plugged: u32,
}

impl Mask {
    /// Tape along the edges of the panel: a frame round all that is inked.
    pub const BORDER: Mask = Mask { thing: MOST_THINGS, part: Part::Frame };

    /// The other piece of the same cut.
    #[must_use]
    pub const fn other(self) -> Mask {
        let part = match self.part {
            Part::Frame => Part::Plug,
            Part::Plug => Part::Frame,
        };
        Mask { part, ..self }
    }
}

impl Masked {
    /// What one of its pieces is called.
    pub const fn called(&self, part: Part) -> &'static str {
        match (part, self.used) {
            (Part::Frame, Use::Stencil) => "stencil",
            (_, Use::Slide) => "edge strip",
            (_, Use::Tape) => "tape",
            (part, _) => part.words(),
        }
    }

    /// Whether two stencils of one set stand at the same place, so that one goes on in register with the other.
    pub fn is_in_register(&self, other: &Masked) -> bool {
        self.at == other.at && self.used == Use::Stencil && other.used == Use::Stencil
    }

    /// The piece of sheet that one of them is, by the foremost thing it is cut for; nothing where none is cut.
    pub const fn piece(&self, part: Part) -> Option<Mask> {
        match self.used {
            Use::Tape | Use::Raised => None,
            Use::Stamp => match part {
                Part::Frame => None,
                Part::Plug => Some(Mask { thing: self.like, part }),
            },
            Use::Slide => Some(Mask { thing: self.like, part: Part::Frame }),
            _ => Some(Mask { thing: self.like, part }),
        }
    }

    /// How much of the panel lies inside it, in square millimetres.
    pub fn area(&self) -> f64 {
        *self.area.get_or_init(|| self.inside.area())
    }

    /// All of it, as far as it lies beside the panel too.
    pub const fn shape(&self) -> &Region {
        &self.outline
    }

    /// How deep places lie inside it.
    pub fn depth(&self) -> Arc<Depth> {
        self.depth.get_or_init(|| Arc::new(Depth::of(&self.outline))).clone()
    }

    /// Whether the sheet round it has ribs so thin that they lift under a brush: narrower than [`FINE`].
    pub fn is_fine(&self) -> bool {
        *self.is_fine.get_or_init(|| {
            let Some((least, most)) = self.outline.bounds() else { return false };
            let sheet = Region::rect(
                least[0] - FINE,
                least[1] - FINE,
                most[0] - least[0] + 2.0 * FINE,
                most[1] - least[1] + 2.0 * FINE,
            );
            !eye::thinner_than(&sheet.minus(&self.outline), FINE).is_empty()
        })
    }

    /// Whether some of it is so thin a line that coarse powder would close what lies beside it: narrower than [`THIN`].
    pub fn has_thin_lines(&self) -> bool {
        *self.is_thin.get_or_init(|| !eye::thinner_than(&self.outline, THIN).is_empty())
    }

    /// Whether another is of the same shape at the same place: what lies there for one does for the other, in register.
    pub fn is_twin(&self, other: &Masked) -> bool {
        self.like == other.like && self.at == other.at
    }
}

impl Plot {
    /// Whether a piece covers it.
    pub const fn is_covered(&self, mask: Mask) -> bool {
        match mask.part {
            Part::Frame => self.inside & (1 << mask.thing) == 0,
            Part::Plug => self.plugged & (1 << mask.thing) != 0,
        }
    }

    /// Whether it lies inside a thing.
    pub const fn is_inside(&self, thing: usize) -> bool {
        self.inside & (1 << thing) != 0
    }

    /// The thing that stands in front here, of those there are; nothing where the ground shows.
    pub const fn front(&self) -> Option<usize> {
        let things = self.inside & !INKED;
        if things == 0 { None } else { Some(things.trailing_zeros() as usize) }
    }

    /// Whether it lies within the tape along the edges of the panel.
    pub const fn is_inked(&self) -> bool {
        self.inside & INKED != 0
    }
}

/// The pieces of a panel's things, and the plots they divide it into.
#[derive(Clone, Debug, Default)]
pub struct Masks {
    /// The edge of the card, where it is a shape cut out and not a rectangle.
    pub outline: Option<Region>,
    /// Tape along the edges of the panel.
    pub border: Border,
    /// What that leaves open; nothing where there is none.
    pub open: Option<Region>,
    /// The things, from front to back.
    pub things: Vec<Masked>,
    /// The plots; none where nothing stands on a rectangle.
    pub plots: Vec<Plot>,
    /// Which pieces overlap.
    overlaps: Overlaps,
}

/// Square millimetres of overlap below which a mask is drawn from under the edge of another (chosen: less than a fingertip
/// feels).
const TOUCHING: f64 = 1.0;

/// Square millimetres below which what an edge cuts off is no part of its own: two edges that should lie on one another
/// leave such slivers (chosen: less than a blade can cut).
const SLIVER: f64 = 0.02;
/// Ribs of a stencil narrower than this, in millimetres, are held down by their backs, and not at the edges alone (chosen:
/// twice the width below which they tear).
const FINE: f64 = 3.2;
/// Lines of a thing narrower than this, in millimetres, want fine powder (chosen).
const THIN: f64 = 1.2;
/// How many scenes' plots are remembered: those of the panels that are being worked on (chosen).
const REMEMBERED: usize = 24;

/// What the plots of a scene depend on.
#[derive(Clone, PartialEq)]
struct Cut {
    size: (Length, Length),
    outline: Option<Shape>,
    border: Border,
    things: Vec<Thing>,
}

type Known = Vec<(Cut, Arc<Masks>)>;

/// Which pieces overlap, whatever lies where.
#[derive(Clone, Debug, Default)]
struct Overlaps(Vec<u64>);

/// Plots within the tape along the edges have a bit beside those of the things.
const INKED: u32 = 1 << Mask::BORDER.thing;

const _: () = assert!(MOST_THINGS < 32, "each thing and the tape along the edges have a bit each");

const fn place(mask: Mask) -> usize {
    2 * mask.thing + matches!(mask.part, Part::Plug) as usize
}

impl Overlaps {
    /// Of the pieces of so many things.
    fn of(masks: &Masks) -> Overlaps {
        let things = 0..masks.things.len().min(MOST_THINGS);
        let pieces = things.flat_map(|thing| [Part::Frame, Part::Plug].map(|part| Mask { thing, part }));
        let all: Vec<Mask> = pieces.chain(masks.open.is_some().then_some(Mask::BORDER)).collect();
        let shared = |one: Mask, other: Mask| -> f64 {
            let both = masks.plots.iter().filter(|plot| plot.is_covered(one) && plot.is_covered(other));
            both.map(|plot| plot.region.area()).sum()
        };
        let with = |one: &Mask| {
            let others = all.iter().filter(|other| *other != one && shared(*one, **other) > TOUCHING);
            others.map(|other| 1 << place(*other)).sum()
        };
        let mut overlaps = vec![0; place(Mask::BORDER) + 1];
        all.iter().for_each(|mask| overlaps[place(*mask)] = with(mask));
        Overlaps(overlaps)
    }

    fn has(&self, one: Mask, other: Mask) -> bool {
        self.0.get(place(one)).is_some_and(|others| others & (1 << place(other)) != 0)
    }
}

impl Masks {
    /// Whether one piece lies on, or under, another where both lie on the panel.
    pub fn overlap(&self, one: Mask, other: Mask) -> bool {
        self.overlaps.has(one, other)
    }

    /// The tape along the edges, where there is any.
    pub fn border_tape(&self) -> Vec<Mask> {
        self.open.iter().map(|_| Mask::BORDER).collect()
    }

    /// What a mask is called: the frame of the lamp.
    pub fn called(&self, mask: Mask) -> String {
        if mask == Mask::BORDER {
            return "the tape along the edges".into();
        }
        let thing = self.things.get(mask.thing);
        thing.map_or_else(String::new, |thing| {
            format!("the {} of the {}", thing.called(mask.part), thing.name)
        })
    }

    /// What the edge of a mask runs round.
    pub fn edge_of(&self, mask: Mask) -> Option<&Region> {
        if mask == Mask::BORDER {
            self.open.as_ref()
        } else {
            self.things.get(mask.thing).map(|thing| &thing.inside)
        }
    }

    /// Whether it is a thing that is stamped: nothing lies round it meanwhile.
    pub fn is_stamped(&self, on: Option<usize>) -> bool {
        on.and_then(|thing| self.things.get(thing)).is_some_and(|thing| thing.used == Use::Stamp)
    }

    /// Whether the piece of a mask is moved on from one thing to another of the same shape.
    pub fn is_moved_on(&self, mask: Mask) -> bool {
        let alike = |thing: &&Masked| self.things.get(mask.thing).is_some_and(|own| own.like == thing.like);
        self.things.iter().filter(alike).count() > 1
    }

    /// The piece that a mask is; nothing where none is cut for it.
    pub fn piece(&self, mask: Mask) -> Option<Mask> {
        self.things.get(mask.thing)?.piece(mask.part)
    }

    /// Cuts them for things on a panel of this size. The same things give the same pieces, so the last few are remembered:
    /// a hand that moves an ink moves no mask.
    pub fn of(
        size: (Length, Length),
        (outline, border, things): (Option<&Shape>, Border, &[Thing]),
    ) -> Arc<Masks> {
        static KNOWN: LazyLock<Mutex<Known>> = LazyLock::new(Mutex::default);
        if things.is_empty() && outline.is_none() && !border.is_there() {
            return Arc::default();
        }
        let bare =
            |thing: &Thing| Thing { between: thing.between, ..Thing::new(thing.shape.clone(), thing.at) };
        let things = things.iter().map(bare).collect();
        let cut = Cut { size, outline: outline.cloned(), border, things };
        let known = || KNOWN.lock().unwrap_or_else(PoisonError::into_inner);
        if let Some((_, masks)) = known().iter().find(|(of, _)| *of == cut) {
            return masks.clone();
        }
        let masks = Arc::new(Masks::cut(&cut));
        let mut known = known();
        if known.len() == REMEMBERED {
            known.remove(0);
        }
        known.push((cut, masks.clone()));
        masks
    }

    fn cut(cut: &Cut) -> Masks {
        let (wide, high) = (cut.size.0.mm(), cut.size.1.mm());
        let whole = Region::rect(0.0, 0.0, wide, high);
        let outline = cut.outline.as_ref().and_then(|shape| shape.outline().ok());
        let outline = outline.map(|outline| {
            outline.region().moved(|[x, y]| [x + 0.5 * wide, y + 0.5 * high]).intersected(&whole)
        });
        let panel = outline.clone().unwrap_or(whole);
        let lines = cut.border.lines.map(Length::mm);
        let open = cut.border.is_there().then(|| {
            let (wide, high) = (wide - lines.left - lines.right, high - lines.top - lines.bottom);
            Region::rect(lines.left, lines.top, wide.max(0.0), high.max(0.0)).intersected(&panel)
        });
        let mut masks = Masks { outline, border: cut.border, open, ..Masks::default() };
        let inked = |region: &Region, inside: u32| Plot { region: region.clone(), inside, plugged: 0 };
        let mut plots = match &masks.open {
            None => vec![inked(&panel, INKED)],
            Some(open) => vec![inked(open, INKED), inked(&panel.minus(open), 0)],
        };
        for (place, thing) in cut.things.iter().enumerate() {
            // A thing that cannot be drawn was refused when the panel was checked: here it covers nothing.
            let (extent, whole) = thing.shape.outline().map_or_else(
                |_| (Extent { corner: thing.at, size: (Length::ZERO, Length::ZERO) }, Region::default()),
                |outline| {
                    let extent = thing.extent(&outline);
                    let Point { left, top } = thing.at;
                    let region = outline.region().moved(|[x, y]| [x + left.mm(), y + top.mm()]);
                    let open = Region::rect(
                        extent.corner.left.mm(),
                        extent.corner.top.mm(),
                        extent.size.0.mm(),
                        extent.size.1.mm(),
                    );
                    (extent, if thing.between.is_some() { region.intersected(&open) } else { region })
                },
            );
            let outside = thing.shape.cut.outside();
            let plug = whole.grown(outside);
            let bit = 1 << place;
            let like = |other: &&Thing| {
                Shape { name: thing.shape.name.clone(), ..other.shape.clone() } == thing.shape
            };
            let used = thing.shape.used;
            plots = divided(plots, &whole, |plot| plot.inside |= bit);
            plots = divided(plots, &plug, |plot| plot.plugged |= bit);
            masks.things.push(Masked {
                name: thing.shape.name.clone(),
                like: cut.things.iter().take(place).position(|other| like(&other)).unwrap_or(place),
                at: thing.at,
                between: thing.between,
                extent,
                used,
                is_word: thing.shape.is_word(),
                has_frame: !matches!(used, Use::Raised | Use::Stamp) && panel.minus(&whole).area() > SLIVER,
                is_loose: outside > 0.0 || used == Use::Slide,
                counters: if used == Use::Mask { whole.holes().len() } else { 0 },
                inside: whole.intersected(&panel),
                outline: whole,
                depth: OnceLock::new(),
                area: OnceLock::new(),
                is_fine: OnceLock::new(),
                is_thin: OnceLock::new(),
            });
        }
        masks.plots = plots;
        masks.overlaps = Overlaps::of(&masks);
        masks
    }

    /// The plot that a point lies in, in millimetres from the left and top edges.
    pub fn plot_at(&self, x: f64, y: f64) -> Option<&Plot> {
        self.plots.iter().find(|plot| plot.region.has([x, y]))
    }

    /// Where a thing, or with none the ground, is seen: what lies inside it and inside nothing in front of it, nor under the tape
    /// along the edges.
    pub fn seen(&self, on: Option<usize>) -> impl Iterator<Item = &Plot> {
        self.plots.iter().filter(move |plot| plot.front() == on && plot.is_inked())
    }
}

/// Plots divided by the edge of a region, and marked where they lie in it.
fn divided(plots: Vec<Plot>, by: &Region, mark: impl Fn(&mut Plot)) -> Vec<Plot> {
    let mut parts = Vec::with_capacity(plots.len() + 4);
    for mut plot in plots {
        if !plot.region.is_near(by) {
            parts.push(plot);
            continue;
        }
        let inner = plot.region.intersected(by);
        if inner.area() < SLIVER {
            parts.push(plot);
            continue;
        }
        let outer = plot.region.minus(by);
        if outer.area() >= SLIVER {
            parts.push(Plot { region: outer, ..plot.clone() });
            plot.region = inner;
        }
        mark(&mut plot);
        parts.push(plot);
    }
    parts
}
