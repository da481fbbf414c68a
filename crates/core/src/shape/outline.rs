//! What is the edge of a shape? Closed curves in millimetres, right and down, about the middle of their box.

use kurbo::{Affine, BezPath, PathEl, Shape as _};

use super::region::{Contour, FLAT, Region};

/// The closed curves of a shape.
#[derive(Clone, Debug, PartialEq)]
pub struct Outline {
    path: BezPath,
    /// Whether a place is inside where the curves go round it an odd number of times, rather than at all.
    even_odd: bool,
}

/// Why written path data are no outline.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum OutlineError {
    /// Not path data.
    #[error("its outline cannot be read: write it as the path data of an SVG")]
    Unreadable,
    /// It encloses nothing.
    #[error("its outline encloses nothing")]
    Empty,
    /// Larger than any sheet.
    #[error("its outline is larger than two metres: bring it smaller")]
    Huge,
    /// More points than any cutter follows.
    #[error("its outline has {0} points: bring one of at most {MOST_POINTS}")]
    Long(usize),
}

/// Most curves and lines of an outline.
pub const MOST_POINTS: usize = 20_000;
/// Millimetres across the largest outline.
const LARGEST: f64 = 2_000.0;

impl Outline {
    /// Closed curves wherever they lie, moved so that the middle of their box is at nothing.
    ///
    /// # Errors
    /// An [`OutlineError`] where they enclose nothing, or too much.
    pub fn of(mut path: BezPath, even_odd: bool) -> Result<Outline, OutlineError> {
        if path.elements().len() > MOST_POINTS {
            return Err(OutlineError::Long(path.elements().len()));
        }
        if !path.is_finite() {
            return Err(OutlineError::Unreadable);
        }
        if path.elements().is_empty() {
            return Err(OutlineError::Empty);
        }
        let bounds = path.bounding_box();
        if bounds.width().max(bounds.height()) > LARGEST {
            return Err(OutlineError::Huge);
        }
        path.apply_affine(Affine::translate(-bounds.center().to_vec2()));
        let outline = Outline { path, even_odd };
        if outline.region().is_empty() { Err(OutlineError::Empty) } else { Ok(outline) }
    }

    /// Curves written as the path data of an SVG, in millimetres.
    ///
    /// # Errors
    /// An [`OutlineError`].
    pub fn read(data: &str, even_odd: bool) -> Result<Outline, OutlineError> {
        Outline::of(BezPath::from_svg(data).map_err(|_| OutlineError::Unreadable)?, even_odd)
    }

    /// The curves as path data, in thousandths of a millimetre.
    pub fn data(&self) -> String {
        let round = |at: kurbo::Point| {
            let to = |v: f64| (v * 1000.0).round() / 1000.0 + 0.0;
            kurbo::Point::new(to(at.x), to(at.y))
        };
        let rounded: BezPath = self
            .path
            .elements()
            .iter()
            .map(|element| match *element {
                PathEl::MoveTo(a) => PathEl::MoveTo(round(a)),
                PathEl::LineTo(a) => PathEl::LineTo(round(a)),
                PathEl::QuadTo(a, b) => PathEl::QuadTo(round(a), round(b)),
                PathEl::CurveTo(a, b, c) => PathEl::CurveTo(round(a), round(b), round(c)),
                PathEl::ClosePath => PathEl::ClosePath,
            })
            .collect();
        rounded.to_svg()
    }

    /// Whether it is filled by the odd number of times.
    pub const fn even_odd(&self) -> bool {
        self.even_odd
    }

    /// The curves themselves.
    pub const fn path(&self) -> &BezPath {
        &self.path
    }

    /// How many curves and lines it has.
    pub fn points(&self) -> usize {
        self.path
            .elements()
            .iter()
            .filter(|element| !matches!(element, PathEl::MoveTo(_) | PathEl::ClosePath))
            .count()
    }

    /// How long its curves are, in millimetres.
    pub fn edge(&self) -> f64 {
        self.path.perimeter(FLAT)
    }

    /// Width and height of its box.
    pub fn size(&self) -> (f64, f64) {
        let bounds = self.path.bounding_box();
        (bounds.width(), bounds.height())
    }

    /// The same, changed as a whole, about its middle.
    #[must_use]
    pub fn changed(&self, by: Affine) -> Outline {
        Outline { path: by * self.path.clone(), even_odd: self.even_odd }
    }

    /// The same with its edge so many millimetres further out all round, corners rounded.
    ///
    /// # Errors
    /// An [`OutlineError`] where that is too much.
    pub fn grown(&self, mm: f64) -> Result<Outline, OutlineError> {
        let region = self.region().grown(mm);
        // It has the same middle, since it lies evenly round what it is grown from.
        let path = BezPath::from_svg(&region.path()).map_err(|_| OutlineError::Unreadable)?;
        Outline::of(path, true)
    }

    /// What it encloses.
    pub fn region(&self) -> Region {
        Region::of(&contours(&self.path), self.even_odd)
    }
}

/// Curves as runs of short straight lines, each closed.
pub fn contours(path: &BezPath) -> Vec<Contour> {
    let mut contours: Vec<Contour> = Vec::new();
    kurbo::flatten(path.iter(), FLAT, |element| match element {
        PathEl::MoveTo(at) => contours.push(vec![[at.x, at.y]]),
        PathEl::LineTo(at) => {
            if let Some(contour) = contours.last_mut() {
                contour.push([at.x, at.y]);
            }
        }
        // Flattened curves are lines; every contour is closed by its region.
        _ => {}
    });
    contours.retain(|contour| contour.len() > 2);
    contours
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn an_outline_lies_about_its_middle_and_is_read_as_it_was_written() {
        let circle = Outline::of(kurbo::Circle::new((30.0, 50.0), 12.7).to_path(FLAT), false).unwrap();
        let (least, most) = circle.region().bounds().unwrap();
        for axis in 0..2 {
            assert!((least[axis] + 12.7).abs() < 0.02 && (most[axis] - 12.7).abs() < 0.02);
        }
        let meant = std::f64::consts::PI * 12.7 * 12.7;
        assert!((circle.region().area() / meant - 1.0).abs() < 2e-3);
        let again = Outline::read(&circle.data(), false).unwrap();
        assert!((again.region().area() - circle.region().area()).abs() < 0.05);
        assert_eq!(again.data(), Outline::read(&again.data(), false).unwrap().data());
    }

    #[test]
    fn what_encloses_nothing_is_refused() {
        assert_eq!(Outline::read("M0 0L10 0", false), Err(OutlineError::Empty));
        assert_eq!(Outline::read("", false), Err(OutlineError::Empty));
        assert_eq!(Outline::read("up and down", false), Err(OutlineError::Unreadable));
        assert_eq!(Outline::read("M0 0L9999 0L0 9999Z", false), Err(OutlineError::Huge));
    }
}
