//! How do pieces lie on a sheet so that every cut runs from edge to edge?
//!
//! A sheet is cut in two, each part in two again, until every part is a piece or left over. That is a tree:
//! nothing else can be cut on a straight trimmer, so nothing else can be said here.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::edges::{Axis, Place};
use crate::length::Length;

/// A part of a sheet: a piece, something left over, or cut in two.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Cell {
    /// Where it is on the sheet.
    pub place: Place,
    /// What it is.
    pub part: Part,
}

/// What a part of a sheet is.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Part {
    /// A piece, by its number in the batch.
    Piece(usize),
    /// Left over.
    Left,
    /// Cut in two across an axis: the first part lies left or above.
    Cut(Axis, Box<[Cell; 2]>),
}

/// A part to be laid: a piece, or two such parts side by side (across) or one above the other (down).
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Block {
    /// A piece, by its number in the batch, and its size as it lies.
    Piece(usize, Length, Length),
    /// Two blocks along an axis.
    Pair(Axis, Box<[Block; 2]>),
}

impl Block {
    /// Two blocks along an axis.
    pub fn pair(axis: Axis, one: Block, other: Block) -> Block {
        Block::Pair(axis, Box::new([one, other]))
    }

    /// The size of the rectangle around it.
    pub fn size(&self) -> (Length, Length) {
        match self {
            Block::Piece(_, width, height) => (*width, *height),
            Block::Pair(axis, parts) => {
                let [one, other] = [parts[0].size(), parts[1].size()];
                axis.of((one.0 + other.0, one.1.max(other.1)), (one.0.max(other.0), one.1 + other.1))
            }
        }
    }

    /// Laid in the corner of a place that is at least as large; what is left is cut off so that the largest rest
    /// stays whole.
    pub fn laid(&self, place: Place) -> Cell {
        let (width, height) = self.size();
        let (right, below) = (place.width - width, place.height - height);
        if right > Length::ZERO || below > Length::ZERO {
            // Either the rest on the right keeps the full height, or the one below the full width.
            let whole_right = right.times(place.height).max(width.times(below));
            let whole_below = below.times(place.width).max(height.times(right));
            let axis = if right > Length::ZERO && (whole_right >= whole_below || below == Length::ZERO) {
                Axis::Across
            } else {
                Axis::Down
            };
            let [kept, rest] = split(place, axis, axis.of(width, height));
            return Cell {
                place,
                part: Part::Cut(axis, Box::new([self.laid(kept), Cell { place: rest, part: Part::Left }])),
            };
        }
        match self {
            Block::Piece(piece, ..) => Cell { place, part: Part::Piece(*piece) },
            Block::Pair(axis, parts) => {
                let (w, h) = parts[0].size();
                let [one, other] = split(place, *axis, axis.of(w, h));
                Cell { place, part: Part::Cut(*axis, Box::new([parts[0].laid(one), parts[1].laid(other)])) }
            }
        }
    }
}

pub(super) fn split(place: Place, axis: Axis, at: Length) -> [Place; 2] {
    match axis {
        Axis::Across => {
            [Place { width: at, ..place }, Place { left: place.left + at, width: place.width - at, ..place }]
        }
        Axis::Down => {
            [Place { height: at, ..place }, Place { top: place.top + at, height: place.height - at, ..place }]
        }
    }
}

/// A piece on a sheet, or something left over.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct Lying {
    /// Which piece of the batch, from 0; none for what is left over.
    pub piece: Option<usize>,
    /// Where.
    #[serde(flatten)]
    pub place: Place,
}

/// A sheet laid out.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Layout {
    /// Which of the sheets, by its number among those there are.
    pub sheet: usize,
    /// The tree of its parts.
    pub cell: Cell,
}

impl Cell {
    /// Whether another is of the same size and cut the same way into the same pieces.
    pub fn alike(&self, other: &Cell) -> bool {
        let same_size = (self.place.width, self.place.height) == (other.place.width, other.place.height);
        same_size
            && match (&self.part, &other.part) {
                (Part::Piece(one), Part::Piece(other)) => one == other,
                (Part::Left, Part::Left) => true,
                (Part::Cut(one, parts), Part::Cut(other, others)) => {
                    one == other && parts.iter().zip(others.iter()).all(|(part, other)| part.alike(other))
                }
                _ => false,
            }
    }

    /// Every piece and rest, in the order they come off.
    pub fn parts(&self) -> Vec<Lying> {
        match &self.part {
            Part::Piece(piece) => vec![Lying { piece: Some(*piece), place: self.place }],
            Part::Left => vec![Lying { piece: None, place: self.place }],
            Part::Cut(_, parts) => parts.iter().flat_map(Cell::parts).collect(),
        }
    }
}
