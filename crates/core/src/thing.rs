//! Which shape stands where, and what does it get?
//!
//! A thing is a shape with a place on the panel. What it gets is told in its own measures: a blend runs along a way of the
//! upright box round the shape, as a blend of the ground runs along a way of the panel.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::blend::{Blend, Way, field::FieldError};
use crate::ink::Powder;
use crate::length::{Length, Units};
use crate::place::{Extent, Point, Resized};
use crate::shape::kept::{KeptError, PERCENT};
use crate::shape::{Outline, Shape, Use};

/// Most things on a panel.
pub const MOST_THINGS: usize = 12;
/// Most blends of one thing: one from each of its corners.
pub const MOST_ON_ONE: usize = 4;
/// Furthest that a thing's middle may lie beside the panel.
const BESIDE: Length = Length::from_inches(6);
/// Smallest box round a thing that is inked, each way: a brush finds no room in less.
const LEAST: Length = Length::from_64ths(16);

/// What a thing gets.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Treatment {
    /// Nothing: it stays as the card is.
    #[default]
    White,
    /// Ink: blends in the measures of the box round it, one over the other.
    Inked(Vec<Blend>),
}

/// The part of a thing that lies between two straight lines of tape, level or upright, in measures from the top or the left
/// of the box round the whole of it.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Between {
    /// Whether the lines are upright, one left and one right of the part, rather than level.
    #[serde(default)]
    pub upright: bool,
    /// The nearer line.
    pub from: Length,
    /// The further one.
    pub to: Length,
}

/// A shape on the panel.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Thing {
    /// What it is called, how it is drawn, and where its plug is cut.
    pub shape: Shape,
    /// Where the middle of the box round it lies.
    pub at: Point,
    /// What it gets.
    #[serde(default)]
    pub gets: Treatment,
    /// Whether its ink goes over what lies behind it, as a pattern through a stencil does, and not on bare card. Without ink it
    /// only lends its stencil, and is not kept white.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub over: bool,
    /// The powder it is sealed under once it has that, so that what is laid later does not reach it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub resist: Option<Powder>,
    /// Whether the powder gets a second layer, for a bolder line.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub bold: bool,
    /// The part of its shape that it is, where tape covers the rest: a pattern goes through one stencil in several parts.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub between: Option<Between>,
}

/// Why a thing cannot stand on a panel, and what to change.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum ThingError {
    /// Its shape.
    #[error(transparent)]
    Shape(#[from] KeptError),
    /// Too far off.
    #[error("its middle lies too far off: place it on the panel, or up to 6 in (152.4 mm) beside it")]
    Far,
    /// None of it on the panel.
    #[error("none of it lies on the panel: move it in, or take it away")]
    Beside,
    /// Too small to be inked.
    #[error("it is smaller than 1/4 in (6.35 mm): make it larger, or keep it white")]
    Small,
    /// Tape lines that leave nothing between them.
    #[error(
        "its tape lines leave nothing open: set the second further than the first, and both within the shape, {0} long"
    )]
    Tape(Length),
    /// Too many blends.
    #[error("{0} blends: a thing takes up to {MOST_ON_ONE}")]
    Blends(usize),
    /// One of its blends.
    #[error(transparent)]
    Field(#[from] FieldError),
}

impl Thing {
    /// A shape with its middle at a place, kept white.
    pub fn new(shape: Shape, at: Point) -> Thing {
        Thing { shape, at, gets: Treatment::White, over: false, resist: None, bold: false, between: None }
    }

    /// Its blends.
    pub fn blends(&self) -> &[Blend] {
        match &self.gets {
            Treatment::White => &[],
            Treatment::Inked(blends) => blends,
        }
    }

    /// The same, to be changed.
    pub fn blends_mut(&mut self) -> &mut [Blend] {
        match &mut self.gets {
            Treatment::White => &mut [],
            Treatment::Inked(blends) => blends,
        }
    }

    /// Whether any ink is laid on it.
    pub fn is_inked(&self) -> bool {
        self.blends().iter().any(|blend| !blend.fields.is_empty())
    }

    /// Whether it comes on what lies behind it, which is seen on it: a pattern is printed over that, or melted over it in powder, or
    /// it only lends its stencil, to lift colour with or to scrape paste through.
    pub fn is_printed(&self) -> bool {
        self.over
    }

    /// Whether it only lends its stencil.
    pub fn lends(&self) -> bool {
        self.over && !self.is_made()
    }

    /// Whether its pattern is raised in a folder.
    pub fn is_raised(&self) -> bool {
        self.shape.used == Use::Raised
    }

    /// Whether anything is done to it: ink laid, powder melted, or its pattern raised.
    pub fn is_made(&self) -> bool {
        self.is_inked() || self.resist.is_some() || self.is_raised()
    }

    /// Whether its ink fades out before it comes to its edge all round, so that nothing has to cover what lies beyond.
    pub fn fades_out(&self) -> bool {
        let soft = |blend: &Blend| {
            matches!(blend.way, Way::Rim { .. })
                && blend.fields.iter().all(|field| field.starts > Length::ZERO)
        };
        self.is_inked() && self.between.is_none() && self.blends().iter().all(soft)
    }

    /// The upright box round the part of an outline that it is, to the next larger sixty-fourth of an inch.
    pub fn extent(&self, outline: &Outline) -> Extent {
        let whole = self.whole(outline);
        match self.between {
            None => whole,
            Some(Between { upright: false, from, to }) => Extent {
                corner: Point { top: whole.corner.top + from, ..whole.corner },
                size: (whole.size.0, to - from),
            },
            Some(Between { upright: true, from, to }) => Extent {
                corner: Point { left: whole.corner.left + from, ..whole.corner },
                size: (to - from, whole.size.1),
            },
        }
    }

    /// The upright box round an outline of it, whatever tape covers.
    pub fn whole(&self, outline: &Outline) -> Extent {
        let (wide, high) = outline.size();
        let side =
            |mm: f64| Length::at_least_mm(mm - 1e-6).up_to(Length::from_64ths(2)).max(Length::from_64ths(2));
        let size = (side(wide), side(high));
        Extent { corner: Point { left: self.at.left - size.0 / 2, top: self.at.top - size.1 / 2 }, size }
    }

    /// Refuses tape lines that leave nothing of an outline open.
    ///
    /// # Errors
    /// [`ThingError::Tape`].
    pub fn check_tape(&self, outline: &Outline) -> Result<(), ThingError> {
        let Some(Between { upright, from, to }) = self.between else { return Ok(()) };
        let whole = self.whole(outline).size;
        let long = if upright { whole.0 } else { whole.1 };
        if from < Length::ZERO || from >= to || to > long { Err(ThingError::Tape(long)) } else { Ok(()) }
    }

    /// Refuses a thing that cannot stand on a panel of this size that has so many inks.
    ///
    /// # Errors
    /// A [`ThingError`] saying what to change.
    pub fn check(&self, inks: usize, (width, height): (Length, Length)) -> Result<(), ThingError> {
        let outline = self.shape.outline()?;
        let within = |at: Length, side: Length| (-BESIDE..=side + BESIDE).contains(&at);
        if !within(self.at.left, width) || !within(self.at.top, height) {
            return Err(ThingError::Far);
        }
        self.check_tape(&outline)?;
        let extent = self.extent(&outline);
        let (right, bottom) = (extent.corner.left + extent.size.0, extent.corner.top + extent.size.1);
        if extent.corner.left >= width
            || extent.corner.top >= height
            || right <= Length::ZERO
            || bottom <= Length::ZERO
        {
            return Err(ThingError::Beside);
        }
        if self.blends().len() > MOST_ON_ONE {
            return Err(ThingError::Blends(self.blends().len()));
        }
        if self.is_inked() && extent.size.0.min(extent.size.1) < LEAST {
            return Err(ThingError::Small);
        }
        for blend in self.blends() {
            blend.check(inks, extent.size)?;
        }
        Ok(())
    }

    /// The most of its own size, in per cent, at which all of it fits into a box; nothing where it cannot be drawn.
    pub fn fitting(&self, within: Extent) -> Option<u16> {
        let (wide, high) = self.shape.outline().ok()?.size();
        let fits = (within.size.0.mm() / wide).min(within.size.1.mm() / high);
        let percent = (f64::from(self.shape.percent) * fits).floor();
        Some(percent.clamp(f64::from(*PERCENT.start()), f64::from(*PERCENT.end())) as u16)
    }

    /// The same thing made no larger than fits into a box, and moved in where it runs out of it.
    #[must_use]
    pub fn fitted(&self, within: Extent, units: Units) -> Thing {
        let percent = self.fitting(within).map_or(self.shape.percent, |most| most.min(self.shape.percent));
        let mut thing = self.reshaped(Shape { percent, ..self.shape.clone() }, units);
        let Ok(outline) = thing.shape.outline() else { return thing };
        let (wide, high) = thing.whole(&outline).size;
        let moved = |at: Length, from: Length, room: Length, own: Length| {
            if own >= room { from + room / 2 } else { at.clamp(from + own / 2, from + room - own / 2) }
        };
        thing.at = Point {
            left: moved(thing.at.left, within.corner.left, within.size.0, wide),
            top: moved(thing.at.top, within.corner.top, within.size.1, high),
        };
        thing
    }

    /// The same thing with its blends carried over to a shape of another size.
    #[must_use]
    pub fn reshaped(&self, shape: Shape, units: Units) -> Thing {
        let (Ok(old), Ok(new)) = (self.shape.outline(), shape.outline()) else { return self.clone() };
        let mut thing = Thing { shape, ..self.clone() };
        let (whole, larger) = (self.whole(&old).size, thing.whole(&new).size);
        if let Some(between) = &mut thing.between {
            let (was, is) = if between.upright { (whole.0, larger.0) } else { (whole.1, larger.1) };
            let share = |at: Length| at.scaled(is, was, units.pencil()).min(is);
            (between.from, between.to) = (share(between.from), share(between.to));
        }
        let (old, new) = (self.extent(&old).size, thing.extent(&new).size);
        if old != new {
            thing.blends_mut().iter_mut().for_each(|blend| *blend = blend.on_another(old, new, units));
        }
        thing
    }

    /// The same thing on a panel of another size: its middle keeps its share of each side, and it stays as large as it is.
    #[must_use]
    pub fn carried(&self, to: &Resized) -> Thing {
        Thing { at: to.at(self.at), ..self.clone() }
    }
}
