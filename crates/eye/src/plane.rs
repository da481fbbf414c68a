//! Where in the photo is a place of the page?
//!
//! A page is a plane: straight lines stay straight (a homography of eight figures, Hartley and Zisserman 2004), and then the
//! lens bends them outward by the square of the distance from the photo's middle (one figure; Brown 1966). All nine are
//! fitted to what was found, by Gauss and Newton.

use nalgebra::{DMatrix, DVector, Matrix3, SMatrix, SVector, Vector3};

/// From the page to the photo.
#[derive(Clone, Debug, PartialEq)]
pub struct Plane {
    /// From millimetres of the page to pixels before the lens, counted from the photo's middle in half diagonals.
    straight: Matrix3<f64>,
    bend: f64,
    size: [f64; 2],
}

/// No place of a page or a photo lies farther out, in millimetres or pixels; what is no number does.
const FARTHEST: f64 = 1e6;

/// A place of the page, and where it was found in the photo.
pub type Found = ([f64; 2], [f64; 2]);

impl Plane {
    /// Fitted to at least four places of which no three lie on a line; nothing where they tell of no page that is seen from
    /// before it. How the lens bends is only told by eight and more.
    pub fn fitted(found: &[Found], size: [usize; 2]) -> Option<Plane> {
        let is_place = |at: &[f64; 2]| at.iter().all(|along| along.abs() < FARTHEST);
        if !found.iter().all(|(page, pixel)| is_place(page) && is_place(pixel)) {
            return None;
        }
        let size = size.map(|side| side as f64);
        let scaled: Vec<Found> = found.iter().map(|(page, pixel)| (*page, scaled(*pixel, size))).collect();
        let straight = homography(&scaled)?;
        let mut plane = Plane { straight, bend: 0.0, size };
        let bends = found.len() >= 8;
        for _ in 0..12 {
            plane = plane.nearer(&scaled, bends)?;
        }
        plane.is_before_us(found).then_some(plane)
    }

    /// Through four places, where it is known how the lens bends.
    pub fn through(found: &[Found; 4], bend: f64, size: [usize; 2]) -> Option<Plane> {
        let size = size.map(|side| side as f64);
        let straight = found.map(|(page, pixel)| (page, unbent(scaled(pixel, size), bend)));
        let plane = Plane { straight: homography(&straight)?, bend, size };
        plane.is_before_us(found).then_some(plane)
    }

    /// The same for what lies moved on the page by some millimetres and turned about its middle by an angle in radians.
    #[must_use]
    pub fn moved(&self, by: [f64; 2], turn: f64, size: [f64; 2]) -> Plane {
        let (sin, cos) = turn.sin_cos();
        let (u, v) = (size[0] / 2.0, size[1] / 2.0);
        let turned = Matrix3::new(
            cos,
            -sin,
            u + by[0] - u * cos + v * sin,
            sin,
            cos,
            v + by[1] - u * sin - v * cos,
            0.0,
            0.0,
            1.0,
        );
        Plane { straight: self.straight * turned, ..self.clone() }
    }

    /// How far the page's sides, as they are seen, are from being as long as they should and square to one another, for the lens that
    /// suits best among those that phones have: in logarithms and radians.
    pub fn out_of_shape(&self) -> f64 {
        let [across, down] = [0, 1].map(|n| self.straight.column(n).into_owned());
        let half = half_diagonal(self.size);
        let longer = self.size[0].max(self.size[1]) / half;
        let off = |focal: f64| {
            let seen = |way: &Vector3<f64>| Vector3::new(way[0] / focal, way[1] / focal, way[2]);
            let (u, v) = (seen(&across), seen(&down));
            let (long, wide) = (u.norm(), v.norm());
            (long / wide).ln().abs().max((u.dot(&v) / (long * wide)).abs())
        };
        (0..12).map(|n| off(longer * (0.6 + 0.05 * f64::from(n)))).fold(f64::INFINITY, f64::min)
    }

    /// Where a place of the page is seen.
    pub fn pixel(&self, page: [f64; 2]) -> [f64; 2] {
        let [u, v] = self.scaled(page);
        let half = half_diagonal(self.size);
        [self.size[0] / 2.0 + u * half, self.size[1] / 2.0 + v * half]
    }

    /// Which place of the page is seen at a pixel.
    pub fn page(&self, pixel: [f64; 2]) -> Option<[f64; 2]> {
        let straight = unbent(scaled(pixel, self.size), self.bend);
        let at = self.straight.try_inverse()? * Vector3::new(straight[0], straight[1], 1.0);
        Some([at[0] / at[2], at[1] / at[2]])
    }

    /// Pixels to a millimetre about a place, the fewer of both ways.
    pub fn pixels_a_millimetre(&self, [x, y]: [f64; 2]) -> f64 {
        let ways = [[[x - 0.5, y], [x + 0.5, y]], [[x, y - 0.5], [x, y + 0.5]]];
        let lengths = ways.map(|[from, to]| {
            let ([a, b], [c, d]) = (self.pixel(from), self.pixel(to));
            (c - a).hypot(d - b)
        });
        lengths[0].min(lengths[1])
    }

    fn scaled(&self, [x, y]: [f64; 2]) -> [f64; 2] {
        let at = self.straight * Vector3::new(x, y, 1.0);
        let (u, v) = (at[0] / at[2], at[1] / at[2]);
        let grown = 1.0 + self.bend * (u * u + v * v);
        [u * grown, v * grown]
    }

    /// One step of Gauss and Newton.
    fn nearer(&self, found: &[Found], bends: bool) -> Option<Plane> {
        let count = 8 + usize::from(bends);
        let moved = |n: usize, by: f64| {
            let mut plane = self.clone();
            if n < 8 {
                plane.straight.as_mut_slice()[n] += by
            } else {
                plane.bend += by
            }
            plane
        };
        let mut slopes = DMatrix::zeros(2 * found.len(), count);
        for n in 0..count {
            let by = if n < 8 { 1e-6 * self.straight.as_slice()[n].abs().max(1e-4) } else { 1e-6 };
            let (more, less) = (moved(n, by), moved(n, -by));
            for (row, (page, _)) in found.iter().enumerate() {
                let (a, b) = (more.scaled(*page), less.scaled(*page));
                for axis in 0..2 {
                    slopes[(2 * row + axis, n)] = (a[axis] - b[axis]) / (2.0 * by);
                }
            }
        }
        let off = DVector::from_iterator(
            2 * found.len(),
            found.iter().flat_map(|(page, pixel)| {
                let [u, v] = self.scaled(*page);
                [pixel[0] - u, pixel[1] - v]
            }),
        );
        // Columns are of very different size: each is measured by its own.
        let sizes: Vec<f64> = slopes.column_iter().map(|column| column.norm().max(1e-12)).collect();
        for (n, size) in sizes.iter().enumerate() {
            slopes.column_mut(n).scale_mut(1.0 / size);
        }
        let mut plane = self.clone();
        let step = slopes.svd(true, true).solve(&off, 1e-10).ok()?;
        for n in 0..count {
            let by = step[n] / sizes[n];
            if n < 8 { plane.straight.as_mut_slice()[n] += by } else { plane.bend += by }
        }
        plane.straight.iter().all(|value| value.is_finite()).then_some(plane)
    }

    /// Whether every place lies before the camera.
    fn is_before_us(&self, found: &[Found]) -> bool {
        let depth = |[x, y]: [f64; 2]| (self.straight * Vector3::new(x, y, 1.0))[2];
        let sign = found.first().map_or(1.0, |(page, _)| depth(*page).signum());
        found.iter().all(|(page, _)| depth(*page) * sign > 1e-9)
    }
}

/// What the lens has bent, as it was before.
fn unbent(bent: [f64; 2], bend: f64) -> [f64; 2] {
    let mut straight = bent;
    for _ in 0..8 {
        let grown = 1.0 + bend * (straight[0].powi(2) + straight[1].powi(2));
        straight = bent.map(|along| along / grown);
    }
    straight
}

/// What a lens that bends so would show straight, and how that is bent by it: in pixels.
pub fn straightened(pixel: [f64; 2], bend: f64, size: [usize; 2]) -> [f64; 2] {
    let size = size.map(|side| side as f64);
    let half = half_diagonal(size);
    let at = unbent(scaled(pixel, size), bend);
    [size[0] / 2.0 + half * at[0], size[1] / 2.0 + half * at[1]]
}

/// The other way.
pub fn bent(pixel: [f64; 2], bend: f64, size: [usize; 2]) -> [f64; 2] {
    let size = size.map(|side| side as f64);
    let half = half_diagonal(size);
    let [u, v] = scaled(pixel, size);
    let grown = 1.0 + bend * (u * u + v * v);
    [size[0] / 2.0 + half * u * grown, size[1] / 2.0 + half * v * grown]
}

fn half_diagonal([wide, high]: [f64; 2]) -> f64 {
    (wide / 2.0).hypot(high / 2.0)
}

fn scaled(pixel: [f64; 2], size: [f64; 2]) -> [f64; 2] {
    let half = half_diagonal(size);
    [(pixel[0] - size[0] / 2.0) / half, (pixel[1] - size[1] / 2.0) / half]
}

/// The straight one that fits best, by the eigenvector of the least eigenvalue (direct linear transform).
fn homography(found: &[Found]) -> Option<Matrix3<f64>> {
    if found.len() < 4 {
        return None;
    }
    // The page in its own size about its own middle, so that all figures are near 1.
    let count = found.len() as f64;
    let middle = [0, 1].map(|axis| found.iter().map(|(page, _)| page[axis]).sum::<f64>() / count);
    let far =
        found.iter().map(|(page, _)| (page[0] - middle[0]).hypot(page[1] - middle[1])).sum::<f64>() / count;
    if far < 1e-9 {
        return None;
    }
    let about =
        Matrix3::new(1.0 / far, 0.0, -middle[0] / far, 0.0, 1.0 / far, -middle[1] / far, 0.0, 0.0, 1.0);
    let mut normal = SMatrix::<f64, 9, 9>::zeros();
    for (page, [u, v]) in found {
        let at = about * Vector3::new(page[0], page[1], 1.0);
        let (x, y) = (at[0], at[1]);
        let rows = [
            SVector::<f64, 9>::from([x, y, 1.0, 0.0, 0.0, 0.0, -u * x, -u * y, -u]),
            SVector::<f64, 9>::from([0.0, 0.0, 0.0, x, y, 1.0, -v * x, -v * y, -v]),
        ];
        for row in rows {
            normal += row * row.transpose();
        }
    }
    let eigen = normal.symmetric_eigen();
    let mut order: Vec<usize> = (0..9).collect();
    order.sort_by(|a, b| eigen.eigenvalues[*a].total_cmp(&eigen.eigenvalues[*b]));
    // Two that fit alike: the places do not tell.
    if eigen.eigenvalues[order[1]] < 1e-9 * eigen.eigenvalues[order[8]] {
        return None;
    }
    let h = eigen.eigenvectors.column(order[0]);
    let matrix = Matrix3::new(h[0], h[1], h[2], h[3], h[4], h[5], h[6], h[7], h[8]) * about;
    let scale = matrix[(2, 2)];
    (scale.abs() > 1e-12).then(|| matrix / scale)
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        /// Any page that leans before any lens is found again from a grid of its places.
        #[test]
        fn a_page_is_found_again(
            lean in -0.0012..0.0012f64, back in -0.0012..0.0012f64, turn in -0.4..0.4f64, bend in -0.03..0.03f64,
        ) {
            let size = [1500.0, 2000.0];
            let (sin, cos) = turn.sin_cos();
            let k = 0.0065;
            let straight = Matrix3::new(
                k * cos, -k * sin, -0.6, k * sin, k * cos, -0.75, lean, back, 1.0,
            );
            let truth = Plane { straight, bend, size };
            let places: Vec<[f64; 2]> =
                (0..16).map(|n| [f64::from(n % 4) * 60.0, f64::from(n / 4) * 78.0]).collect();
            let found: Vec<Found> = places.iter().map(|page| (*page, truth.pixel(*page))).collect();
            let plane = Plane::fitted(&found, [1500, 2000]).unwrap();
            for page in [[11.0, 40.0], [90.0, 120.0], [170.0, 230.0]] {
                let ([a, b], [c, d]) = (truth.pixel(page), plane.pixel(page));
                prop_assert!((a - c).hypot(b - d) < 0.01);
                let back = plane.page(plane.pixel(page)).unwrap();
                prop_assert!((back[0] - page[0]).hypot(back[1] - page[1]) < 0.01);
            }
        }
    }

    #[test]
    fn a_line_tells_of_no_page() {
        let line: Vec<Found> = (0..6).map(|n| ([f64::from(n), 0.0], [f64::from(n) * 9.0, 50.0])).collect();
        assert!(Plane::fitted(&line, [100, 100]).is_none());
        assert!(Plane::fitted(&line[..3], [100, 100]).is_none());
        for far in [f64::NAN, f64::INFINITY, 1e300] {
            let corners = [[0.0, 0.0], [1.0, 0.0], [0.0, 1.0], [1.0, far]];
            assert!(Plane::fitted(&corners.map(|at| (at, at)), [100, 100]).is_none());
        }
    }
}
