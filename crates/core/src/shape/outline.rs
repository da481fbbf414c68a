//! What is the edge of a shape? Closed curves in millimetres, right and down, about the middle of their box.

use kurbo::{Affine, BezPath, PathEl, Shape as _};

use super::crossings::{Crossings, crossings};
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
    /// Curves of more bends than any cutter follows.
    #[error("its curves bend {0} times: bring an outline of at most {MOST_CORNERS} bends")]
    Bent(usize),
    /// It crosses itself too often.
    #[error(
        "its outline crosses itself {0} times, at most {MOST_CROSSINGS} can be cut: simplify it, or join what overlaps"
    )]
    Tangled(usize),
    /// Its lines lie too close to be told apart.
    #[error("its lines lie so close over one another that no blade parts them: draw fewer of them")]
    Dense,
}

/// Most curves and lines of an outline.
pub const MOST_POINTS: usize = 20_000;
/// Most corners of an outline once its curves have become short straight lines.
pub const MOST_CORNERS: usize = 100_000;
/// Most times that its lines may cross: what is reckoned of it grows with them (chosen: more than any scribble by hand).
pub const MOST_CROSSINGS: usize = 5_000;
/// How many times larger than its curves the box round their handles may be.
const HANDLES: f64 = 4.0;
/// Millimetres across the largest outline.
const LARGEST: f64 = 2_000.0;

impl Outline {
    /// Closed curves wherever they lie, moved so that the middle of their box is at nothing.
    ///
    /// # Errors
    /// An [`OutlineError`] where they enclose nothing, or too much.
    pub fn of(mut path: BezPath, even_odd: bool) -> Result<Outline, OutlineError> {
        let drawn = bounded(&path)?;
        path.apply_affine(Affine::translate(-path.bounding_box().center().to_vec2()));
        if Region::of(&drawn, even_odd).is_empty() {
            return Err(OutlineError::Empty);
        }
        Ok(Outline { path, even_odd })
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

/// Refuses curves that cannot be cut, before anything is reckoned of them; else as [`contours`].
///
/// # Errors
/// An [`OutlineError`] where they are too large, too many, or cross too often.
pub fn bounded(path: &BezPath) -> Result<Vec<Contour>, OutlineError> {
    if path.elements().len() > MOST_POINTS {
        return Err(OutlineError::Long(path.elements().len()));
    }
    if !path.is_finite() {
        return Err(OutlineError::Unreadable);
    }
    if path.elements().is_empty() {
        return Err(OutlineError::Empty);
    }
    // A curve lies within its handles: those are looked at first, since a curve is measured by its bends.
    let (handles, bounds) = (path.control_box(), path.bounding_box());
    let is_huge = |of: kurbo::Rect, most: f64| of.width().max(of.height()) > most;
    if is_huge(handles, HANDLES * LARGEST) || is_huge(bounds, LARGEST) {
        return Err(OutlineError::Huge);
    }
    let mut corners = 0;
    kurbo::flatten(path.iter(), FLAT, |_| corners += 1);
    if corners > MOST_CORNERS {
        return Err(OutlineError::Bent(corners));
    }
    let drawn = contours(path);
    match crossings(&drawn) {
        Crossings::AtLeast(count) if count <= MOST_CROSSINGS => Err(OutlineError::Dense),
        found if found.found() > MOST_CROSSINGS => Err(OutlineError::Tangled(found.found())),
        _ => Ok(drawn),
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
