//! What does it look like, drawn to scale with the measures a maker marks?
//!
//! A [`Drawing`] says what is where in exact lengths and leaves paper, screen and lettering to whoever draws it. Its
//! measures stand outside the piece, in rows counted outwards from the edge, so that they never lie on what they
//! measure.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::edges::{Axis, Place};
use crate::length::{Length, Units};
use crate::place::Point;
use crate::shape::region::Contour;

/// Something drawn to scale.
#[derive(Clone, Debug, PartialEq)]
pub struct Drawing {
    /// What it shows.
    pub name: String,
    /// From left to right, without its measures.
    pub width: Length,
    /// From top to bottom, without its measures.
    pub height: Length,
    /// What is on it, the lowest first.
    pub marks: Vec<Mark>,
    /// Whether it is one piece, cut along its outlines; not a card put together.
    pub is_piece: bool,
}

/// The shape of a window.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "lowercase")]
pub enum WindowShape {
    /// Straight sides.
    #[default]
    Rectangle,
    /// Round or oval, in the rectangle of its size.
    Oval,
}

/// An opening.
#[derive(Clone, Debug, PartialEq)]
pub enum Hole {
    /// With straight sides, or oval.
    Window(WindowShape, Place),
    /// Of any shape, as points in millimetres from the left and top edges.
    Shaped(Vec<Contour>),
}

/// One thing on a drawing.
#[derive(Clone, Debug, PartialEq)]
pub enum Mark {
    /// A piece of card.
    Card {
        /// Where.
        place: Place,
        /// Cut out of it.
        holes: Vec<Hole>,
        /// Its colour, `#rrggbb`.
        colour: String,
    },
    /// The panel's picture.
    Picture {
        /// Where the whole of it lies.
        whole: Place,
        /// What of it is seen.
        seen: Place,
        /// Cut out of it.
        holes: Vec<Hole>,
    },
    /// What falls away.
    Waste(Place),
    /// Something that is laid on top at last: where, and what it is called.
    Placed(Place, String),
    /// A line.
    Line(Line, Point, Point),
    /// Closed lines of any shape, as points in millimetres from the left and top edges.
    Contours(Line, Vec<Contour>),
    /// A feature: its centre, and how wide it is.
    Feature(Point, Option<Length>),
    /// A text in the middle of a place.
    Label(Place, String),
    /// A measure along an edge, outside it.
    Measure {
        /// Which edge.
        edge: Edge,
        /// How far out, in rows from 0.
        row: usize,
        /// Where it begins along the edge.
        from: Length,
        /// Where it ends.
        to: Length,
        /// How long that is, as it is read.
        says: String,
    },
}

/// What a line is for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Line {
    /// Cut along it.
    Cut,
    /// Score along it.
    Score,
    /// Lay tape along it.
    Tape,
    /// A seam: where flaps or sheets meet, or round a piece that is put back.
    Seam,
}

/// An edge of the drawing.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Edge {
    /// Left.
    Left,
    /// Right.
    Right,
    /// Top.
    Top,
    /// Bottom.
    Bottom,
}

impl Edge {
    /// Which way its measures run.
    pub const fn axis(self) -> Axis {
        match self {
            Edge::Left | Edge::Right => Axis::Down,
            Edge::Top | Edge::Bottom => Axis::Across,
        }
    }
}

impl Drawing {
    /// A bare drawing.
    pub fn new(name: impl Into<String>, width: Length, height: Length) -> Drawing {
        Drawing { name: name.into(), width, height, marks: Vec::new(), is_piece: true }
    }

    /// All of it.
    pub fn whole(&self) -> Place {
        Place { width: self.width, height: self.height, ..Place::default() }
    }

    /// Adds a measure, unless nothing is measured.
    pub fn measure(&mut self, edge: Edge, row: usize, from: Length, to: Length, units: Units) {
        if from < to {
            let says = (to - from).shown(units).to_string();
            self.marks.push(Mark::Measure { edge, row, from, to, says });
        }
    }

    /// Adds the measures of the whole, below and on the left.
    pub fn overall(&mut self, below: usize, left: usize, units: Units) {
        let measure =
            |edge, row, to: Length| Mark::Measure { edge, row, from: Length::ZERO, to, says: to.said(units) };
        self.marks.extend([measure(Edge::Bottom, below, self.width), measure(Edge::Left, left, self.height)]);
    }

    /// Adds measures one after the other.
    pub fn measures(&mut self, edge: Edge, row: usize, at: &[Length], units: Units) {
        for pair in at.windows(2) {
            self.measure(edge, row, pair[0], pair[1], units);
        }
    }

    /// Adds a line from edge to edge, at a measure along an axis.
    pub fn line(&mut self, line: Line, axis: Axis, at: Length) {
        let none = Length::ZERO;
        let (from, to) = axis.of(
            (Point { left: at, top: none }, Point { left: at, top: self.height }),
            (Point { left: none, top: at }, Point { left: self.width, top: at }),
        );
        self.marks.push(Mark::Line(line, from, to));
    }

    /// How many rows of measures stand along an edge.
    pub fn rows(&self, edge: Edge) -> usize {
        let of = |mark: &Mark| match mark {
            Mark::Measure { edge: at, row, .. } if *at == edge => row + 1,
            _ => 0,
        };
        self.marks.iter().map(of).max().unwrap_or(0)
    }
}
