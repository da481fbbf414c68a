//! What of a sheet lies inside, and what is left when one part is taken from another?
//!
//! A region is some parts of the plane, each an outer contour and the holes in it, in millimetres. Curves have become short
//! straight lines by then, none further from the curve than [`FLAT`].
//!
//! ```
//! use rosy_core::shape::Region;
//!
//! let sheet = Region::rect(0.0, 0.0, 100.0, 80.0);
//! let window = Region::rect(20.0, 20.0, 60.0, 50.0);
//! let frame = sheet.minus(&window);
//! // Corners lie on a grid far finer than a hair, so that what meets there meets exactly.
//! assert!((frame.area() - (8000.0 - 3000.0)).abs() < 1e-3);
//! assert!(frame.intersected(&window).is_empty());
//! ```

use i_overlay::core::fill_rule::FillRule;
use i_overlay::core::overlay_rule::OverlayRule;
use i_overlay::float::simplify::SimplifyShape;
use i_overlay::float::single::SingleFloatOverlay;
use i_overlay::mesh::float::outline::offset::OutlineOffset;
use i_overlay::mesh::float::style::{LineJoin, OutlineStyle};

/// How far a straight line may lie from the curve it stands for, in millimetres: a fifth of what a cutter can tell (chosen).
pub const FLAT: f64 = 0.01;
/// Square millimetres below which a part is no part: what is left over by rounding.
const NOTHING: f64 = 1e-5;
/// Most radians from corner to corner of a rounded join.
const ROUNDEST: f64 = 0.5;

/// A closed run of points, the last joined to the first.
pub type Contour = Vec<[f64; 2]>;

/// Parts of the plane, in millimetres.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Region {
    /// Each an outer contour, then the holes in it.
    parts: Vec<Vec<Contour>>,
}

impl Region {
    /// What some contours enclose: wound round at all, or, with `even_odd`, an odd number of times.
    pub fn of(contours: &[Contour], even_odd: bool) -> Region {
        let rule = if even_odd { FillRule::EvenOdd } else { FillRule::NonZero };
        // A point that is nowhere is left out: there is no sheet so large.
        let is_somewhere = |point: &[f64; 2]| point.iter().all(|at| at.abs() < 1e6);
        if contours.iter().flatten().all(is_somewhere) {
            return Region::tidy(contours.simplify_shape(rule));
        }
        let kept: Vec<Contour> =
            contours.iter().map(|contour| contour.iter().copied().filter(is_somewhere).collect()).collect();
        Region::tidy(kept.simplify_shape(rule))
    }

    /// What lies in any of some regions. Their holes are wound the other way round, so that all can be laid down at once.
    pub fn all(regions: impl IntoIterator<Item = Region>) -> Region {
        let contours: Vec<Contour> = regions.into_iter().flat_map(|region| region.parts).flatten().collect();
        Region::of(&contours, false)
    }

    /// An upright rectangle, by its left, top, width and height.
    pub fn rect(left: f64, top: f64, width: f64, height: f64) -> Region {
        let (right, bottom) = (left + width, top + height);
        Region { parts: vec![vec![vec![[left, top], [right, top], [right, bottom], [left, bottom]]]] }
    }

    fn tidy(mut parts: Vec<Vec<Contour>>) -> Region {
        parts.retain(|part| area_of(part) > NOTHING);
        for part in &mut parts {
            let outer = part.remove(0);
            part.retain(|hole| area_of_contour(hole).abs() > NOTHING);
            part.insert(0, outer);
        }
        Region { parts }
    }

    fn with(&self, other: &Region, rule: OverlayRule) -> Region {
        Region::tidy(self.parts.overlay(&other.parts, rule, FillRule::NonZero))
    }

    /// What lies in either.
    #[must_use]
    pub fn united(&self, other: &Region) -> Region {
        self.with(other, OverlayRule::Union)
    }

    /// What lies in both.
    #[must_use]
    pub fn intersected(&self, other: &Region) -> Region {
        self.with(other, OverlayRule::Intersect)
    }

    /// What lies in this one alone.
    #[must_use]
    pub fn minus(&self, other: &Region) -> Region {
        self.with(other, OverlayRule::Difference)
    }

    /// The same with its edge moved outwards by so many millimetres, corners rounded; inwards where they are negative.
    #[must_use]
    pub fn grown(&self, mm: f64) -> Region {
        if self.is_empty() || mm == 0.0 {
            return self.clone();
        }
        // Rounded joins lie as near to their circle as other curves to theirs.
        let round = (2.0 * (1.0 - FLAT / mm.abs()).max(0.0).acos()).min(ROUNDEST);
        let style = OutlineStyle::new(mm).line_join(LineJoin::Round(round));
        Region::tidy(self.parts.outline(&style))
    }

    /// What of it is narrower than so many millimetres: what is lost when its edge is drawn in by half of that and let out
    /// again. `slack` is how much further it is let out, so that what is lost by rounding alone is not told.
    #[must_use]
    pub fn narrower(&self, mm: f64, slack: f64) -> Region {
        // Parts do not reach one another: each by itself is far less to lay over itself than all at once.
        let lost = |part: Region| {
            let opened = part.grown(-0.5 * mm).grown(0.5 * mm + slack);
            part.minus(&opened)
        };
        Region::beside(self.parts().map(lost))
    }

    /// The same with every point moved.
    #[must_use]
    pub fn moved(&self, to: impl Fn([f64; 2]) -> [f64; 2]) -> Region {
        let contours: Vec<Contour> =
            self.contours().map(|contour| contour.iter().map(|point| to(*point)).collect()).collect();
        Region::of(&contours, true)
    }

    /// Regions that do not lie over one another, taken together as they are.
    pub fn beside(regions: impl IntoIterator<Item = Region>) -> Region {
        Region { parts: regions.into_iter().flat_map(|region| region.parts).collect() }
    }

    /// Whether the boxes round this region and another meet.
    pub fn is_near(&self, other: &Region) -> bool {
        let (Some((least, most)), Some((low, high))) = (self.bounds(), other.bounds()) else { return false };
        (0..2).all(|axis| least[axis] < high[axis] && low[axis] < most[axis])
    }

    /// Whether nothing lies inside.
    pub fn is_empty(&self) -> bool {
        self.parts.is_empty()
    }

    /// Square millimetres.
    pub fn area(&self) -> f64 {
        self.parts.iter().map(|part| area_of(part)).sum()
    }

    /// Each part by itself, with its holes.
    pub fn parts(&self) -> impl Iterator<Item = Region> {
        self.parts.iter().map(|part| Region { parts: vec![part.clone()] })
    }

    /// How many parts.
    pub fn count(&self) -> usize {
        self.parts.len()
    }

    /// The holes, each as a part of its own.
    pub fn holes(&self) -> Vec<Region> {
        self.parts
            .iter()
            .flat_map(|part| &part[1..])
            .map(|hole| Region::of(std::slice::from_ref(hole), true))
            .collect()
    }

    /// The same without its holes.
    #[must_use]
    pub fn filled(&self) -> Region {
        let outer: Vec<Contour> = self.parts.iter().map(|part| part[0].clone()).collect();
        Region::of(&outer, false)
    }

    /// All contours, outer ones and holes.
    pub fn contours(&self) -> impl Iterator<Item = &Contour> {
        self.parts.iter().flatten()
    }

    /// All straight lines of its edge.
    pub fn sides(&self) -> impl Iterator<Item = ([f64; 2], [f64; 2])> {
        self.contours().flat_map(sides_of)
    }

    /// The contours of each part, its outer one first and the holes in it wound the other way round.
    pub fn parts_wound(&self) -> impl Iterator<Item = &[Contour]> {
        self.parts.iter().map(Vec::as_slice)
    }

    /// How long its edge is, in millimetres.
    pub fn edge(&self) -> f64 {
        self.sides().map(|(from, to)| distance(from, to)).sum()
    }

    /// The least and the most of each measure; nothing where nothing lies inside.
    pub fn bounds(&self) -> Option<([f64; 2], [f64; 2])> {
        let points = || self.contours().flatten();
        let extreme = |axis: usize, of: fn(f64, f64) -> f64| points().map(|point| point[axis]).reduce(of);
        Some(([extreme(0, f64::min)?, extreme(1, f64::min)?], [extreme(0, f64::max)?, extreme(1, f64::max)?]))
    }

    /// Whether a point lies inside.
    pub fn has(&self, [x, y]: [f64; 2]) -> bool {
        let crosses = |(from, to): &([f64; 2], [f64; 2])| {
            (from[1] > y) != (to[1] > y)
                && x < (to[0] - from[0]) * (y - from[1]) / (to[1] - from[1]) + from[0]
        };
        self.sides().filter(crosses).count() % 2 == 1
    }

    /// Some places inside: the heart of each part, and those of a coarse grid over it.
    pub fn places(&self) -> Vec<[f64; 2]> {
        const ACROSS: usize = 5;
        let mut places = Vec::new();
        for part in self.parts() {
            places.extend(part.heart());
            let Some((least, most)) = part.bounds() else { continue };
            let at = |n: usize, axis: usize| {
                least[axis] + (most[axis] - least[axis]) * (n as f64 + 0.5) / ACROSS as f64
            };
            let grid = (0..ACROSS * ACROSS).map(|n| [at(n % ACROSS, 0), at(n / ACROSS, 1)]);
            places.extend(grid.filter(|place| part.has(*place)));
        }
        places
    }

    /// A point well inside its largest part: the middle of the widest stretch on a line through it.
    pub fn heart(&self) -> Option<[f64; 2]> {
        let part = self.parts().max_by(|a, b| a.area().total_cmp(&b.area()))?;
        let (least, most) = part.bounds()?;
        let widest = |y: f64| {
            let mut at: Vec<f64> = part
                .sides()
                .filter(|(from, to)| (from[1] > y) != (to[1] > y))
                .map(|(from, to)| from[0] + (to[0] - from[0]) * (y - from[1]) / (to[1] - from[1]))
                .collect();
            at.sort_by(f64::total_cmp);
            let stretches =
                at.chunks_exact(2).map(|pair| (pair[1] - pair[0], [0.5 * (pair[0] + pair[1]), y]));
            stretches.max_by(|a, b| a.0.total_cmp(&b.0))
        };
        // The middle line first: most shapes are widest there.
        let lines = [0.5, 0.4, 0.6, 0.3, 0.7, 0.2, 0.8, 0.1, 0.9];
        let at = lines.map(|share| widest(least[1] + share * (most[1] - least[1])));
        at.into_iter()
            .flatten()
            .reduce(|best, other| if other.0 > 1.1 * best.0 { other } else { best })
            .map(|(_, at)| at)
    }

    /// The edge as the path data of an SVG, in millimetres.
    pub fn path(&self) -> String {
        use std::fmt::Write;
        let mut path = String::new();
        for contour in self.contours() {
            for (nth, [x, y]) in contour.iter().enumerate() {
                // Writing to a string does not fail.
                let _ = write!(path, "{}{x:.3} {y:.3}", if nth == 0 { 'M' } else { 'L' });
            }
            path.push('Z');
        }
        path
    }
}

/// How far two points lie apart.
pub fn distance([x, y]: [f64; 2], [u, v]: [f64; 2]) -> f64 {
    (u - x).hypot(v - y)
}

/// The point of a straight line that lies nearest to a place.
pub fn nearest_on((from, to): ([f64; 2], [f64; 2]), [x, y]: [f64; 2]) -> [f64; 2] {
    let along = [to[0] - from[0], to[1] - from[1]];
    let long = along[0] * along[0] + along[1] * along[1];
    let share = if long == 0.0 { 0.0 } else { ((x - from[0]) * along[0] + (y - from[1]) * along[1]) / long };
    let share = share.clamp(0.0, 1.0);
    [from[0] + share * along[0], from[1] + share * along[1]]
}

/// The straight lines of a contour, one after the other.
pub fn sides_of(contour: &Contour) -> impl Iterator<Item = ([f64; 2], [f64; 2])> {
    let next = contour.iter().cycle().skip(1);
    contour.iter().zip(next).map(|(from, to)| (*from, *to))
}

/// Square millimetres that a contour goes round; below nothing where it is wound the other way.
pub fn area_of_contour(contour: &Contour) -> f64 {
    let next = contour.iter().cycle().skip(1);
    0.5 * contour.iter().zip(next).map(|([x, y], [u, v])| x * v - u * y).sum::<f64>()
}

/// Square millimetres of a part: holes are wound the other way round.
fn area_of(part: &[Contour]) -> f64 {
    part.iter().map(area_of_contour).sum::<f64>().abs()
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn disc(x: f64, y: f64, radius: f64) -> Region {
        let at = |n: usize| {
            let (sin, cos) = (n as f64 * std::f64::consts::TAU / 720.0).sin_cos();
            [x + radius * cos, y + radius * sin]
        };
        Region::of(&[(0..720).map(at).collect()], false)
    }

    proptest! {
        #[test]
        fn what_is_in_one_and_in_both_tiles_it(x in -20.0..20.0, y in -20.0..20.0, radius in 1.0..30.0) {
            let (one, other) = (disc(0.0, 0.0, 20.0), disc(x, y, radius));
            let (left, both) = (one.minus(&other), one.intersected(&other));
            prop_assert!((left.area() + both.area() - one.area()).abs() < 1e-4 * one.area());
            prop_assert!((one.united(&other).area() - left.area() - other.area()).abs() < 1e-4 * one.area());
            prop_assert!(left.intersected(&other).area() < 1e-4);
            let ring = disc(2.0, 1.0, 25.0).minus(&disc(0.0, 3.0, 12.0));
            let all = Region::all([one.clone(), ring.clone(), other.clone()]);
            let by_two = one.united(&ring).united(&other);
            prop_assert!((all.area() - by_two.area()).abs() < 1e-4 * by_two.area());
        }

        #[test]
        fn a_disc_grows_by_its_radius(radius in 5.0..30.0, by in -4.0..4.0) {
            let grown = disc(3.0, 4.0, radius).grown(by);
            let meant = std::f64::consts::PI * (radius + by).powi(2);
            prop_assert!((grown.area() / meant - 1.0).abs() < 2e-3, "{} {}", grown.area(), meant);
        }
    }

    #[test]
    fn a_ring_has_a_hole_and_its_heart_is_not_in_it() {
        let ring = disc(0.0, 0.0, 10.0).minus(&disc(0.0, 0.0, 6.0));
        assert_eq!((ring.count(), ring.holes().len()), (1, 1));
        assert!(!ring.has([0.0, 0.0]) && ring.has([8.0, 0.0]) && ring.has(ring.heart().unwrap()));
        assert!((ring.filled().area() - disc(0.0, 0.0, 10.0).area()).abs() < 1e-6);
        let turned = ring.moved(|[x, y]| [-x, y]);
        assert!((turned.area() - ring.area()).abs() < 1e-4 && turned.holes().len() == 1);
    }
}
