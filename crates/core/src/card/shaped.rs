//! Which shapes are cut through a layer, and what becomes of what comes out?
//!
//! A window of any shape shows what lies beneath; what comes out of it, inked with its layer, can be put back level with it, or
//! raised in its opening on foam.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::mount::Mount;
use crate::edges::Place;
use crate::length::{Length, Units};
use crate::place::Point;
use crate::shape::kept::KeptError;
use crate::shape::region::Contour;
use crate::shape::{Region, Shape};

/// Most shapes cut through one layer.
pub const MOST_SHAPED: usize = 6;

/// Square millimetres by which two cuts may share card, or one lie off it: a hair that no blade keeps to (chosen).
const HAIR: f64 = 0.05;

/// A shape cut through a layer.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Shaped {
    /// It.
    pub shape: Shape,
    /// Where its middle lies, from the layer's left and top edges.
    pub at: Point,
    /// How what comes out is put back; it is a window where that is not.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub back: Option<Mount>,
}

/// Why a shape cannot be cut through a layer, and what to change.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum ShapedError {
    /// It cannot be drawn.
    #[error("{0}")]
    Shape(#[from] KeptError),
    /// It reaches over an edge.
    #[error("it does not lie within {0}: move it in, or make it smaller")]
    Over(String),
    /// Two share some of the card.
    #[error("it is cut into the {0}: move one of them, or take it out")]
    Crossed(String),
    /// Too many.
    #[error("{0} shapes: cut at most {MOST_SHAPED} through one layer")]
    Many(usize),
}

impl Shaped {
    /// What it opens, in millimetres from the layer's left and top edges.
    ///
    /// # Errors
    /// Where it cannot be drawn.
    pub fn region(&self) -> Result<Region, KeptError> {
        let (left, top) = (self.at.left.mm(), self.at.top.mm());
        Ok(self.shape.outline()?.region().moved(|[x, y]| [x + left, y + top]))
    }

    /// The lines it is cut along, moved to where its layer lies; none where it cannot be drawn.
    pub fn contours(&self, (left, top): (Length, Length)) -> Vec<Contour> {
        let (left, top) = (left.mm(), top.mm());
        let region = self.region().map(|region| region.moved(|[x, y]| [x + left, y + top]));
        region.map(|region| region.contours().cloned().collect()).unwrap_or_default()
    }

    /// The box round what comes out, on its layer, to the hundredth of a millimetre.
    ///
    /// # Errors
    /// Where it cannot be drawn.
    pub fn place(&self) -> Result<Place, KeptError> {
        let (least, most) = self.region()?.bounds().unwrap_or_default();
        let mark = Length::from_hundredths_mm(1);
        let [left, top, right, foot] =
            [least[0], least[1], most[0], most[1]].map(|mm| Length::nearest(mm, mark));
        Ok(Place { left, top, width: right - left, height: foot - top })
    }

    /// What becomes of what comes out, to be said of it.
    pub fn fate(&self, units: Units) -> String {
        match self.back {
            None => "a window".into(),
            Some(Mount::Glue) => "put back in its opening, level".into(),
            Some(mount) => format!("put back in its opening {}", mount.words(units)),
        }
    }
}

/// Refuses shapes that a layer of a size cannot have cut through it: the place of the first such, and why.
///
/// # Errors
/// A [`ShapedError`] with the remedy.
pub fn check(
    shapes: &[Shaped],
    layer: &str,
    (wide, high): (Length, Length),
) -> Result<(), (usize, ShapedError)> {
    if shapes.len() > MOST_SHAPED {
        return Err((MOST_SHAPED, ShapedError::Many(shapes.len())));
    }
    let card = Region::rect(0.0, 0.0, wide.mm(), high.mm());
    let mut cut: Vec<Region> = Vec::new();
    for (at, shaped) in shapes.iter().enumerate() {
        let region = shaped.region().map_err(|error| (at, error.into()))?;
        if region.minus(&card).area() > HAIR {
            return Err((at, ShapedError::Over(layer.to_owned())));
        }
        if let Some(other) = cut.iter().position(|other| other.intersected(&region).area() > HAIR) {
            return Err((at, ShapedError::Crossed(shapes[other].shape.name.to_string())));
        }
        cut.push(region);
    }
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::shape::kept::Figure;
    use crate::shape::{Drawn, family};

    fn moon(left: i64, top: i64, back: Option<Mount>) -> Shaped {
        let drawn = Drawn::usual(family::find("circle").unwrap());
        let shape = Shape::new("moon".parse().unwrap(), Figure::Drawn(drawn));
        let at = Point { left: Length::from_64ths(left), top: Length::from_64ths(top) };
        Shaped { shape, at, back }
    }

    #[test]
    fn it_lies_within_its_layer_and_not_in_another() {
        let size = (Length::from_inches(4), Length::from_inches(5));
        let check = |shapes: &[Shaped]| check(shapes, "Panel", size);
        assert_eq!(check(&[moon(128, 64, None), moon(128, 200, Some(Mount::Glue))]), Ok(()));
        assert!(matches!(check(&[moon(40, 64, None)]), Err((0, ShapedError::Over(_)))));
        let crossed = [moon(128, 64, None), moon(128, 120, None)];
        assert!(matches!(check(&crossed), Err((1, ShapedError::Crossed(_)))));
        let many: Vec<Shaped> = (0..7).map(|_| moon(128, 128, None)).collect();
        assert!(matches!(check(&many), Err((_, ShapedError::Many(7)))));
        // Two inches across, where its middle says.
        let place = moon(128, 128, None).place().unwrap();
        assert!((place.width.mm() - 50.8).abs() < 0.02 && (place.left.mm() - 25.4).abs() < 0.02);
    }
}
