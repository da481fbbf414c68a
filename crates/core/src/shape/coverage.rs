//! How much of each pixel lies inside a region?
//!
//! Exactly as much as the straight lines of its edge leave of the pixel's square: nothing is sampled, so that an edge has no
//! steps and parts that tile the panel tile every pixel.

use std::ops::Range;

use ab_glyph_rasterizer::{Rasterizer, point};

use super::Region;

/// Shares below which a pixel is left out, and above which it is whole: what rounding leaves.
const SPECK: f32 = 1e-3;

/// The pixels of a picture that a region covers, and how far.
#[derive(Clone, Debug)]
pub struct Coverage {
    /// The first of them, from the left and the top.
    first: (usize, usize),
    /// How many there are across and down.
    size: (usize, usize),
    shares: Vec<f32>,
}

impl Coverage {
    /// Of a region in millimetres that lies on the picture, in one so many pixels wide and high, each of this width and height.
    pub fn of(region: &Region, (width, height): (usize, usize), mm: (f64, f64)) -> Coverage {
        let none = Coverage { first: (0, 0), size: (0, 0), shares: Vec::new() };
        let Some((least, most)) = region.bounds() else { return none };
        let pixel = |at: f64, side: usize| (at.max(0.0) as usize).min(side);
        let first = (pixel((least[0] / mm.0).floor(), width), pixel((least[1] / mm.1).floor(), height));
        let end = (pixel((most[0] / mm.0).ceil(), width), pixel((most[1] / mm.1).ceil(), height));
        let size = (end.0 - first.0, end.1 - first.1);
        if size.0 == 0 || size.1 == 0 {
            return none;
        }
        // A column to spare on either side, so that an edge at the very left or right spills into no other row, and none is
        // lost that rounding puts a hair beside it.
        let mut raster = Rasterizer::new(size.0 + 2, size.1);
        let within = |at: f64, first: usize, size: usize| (at - first as f64).clamp(0.0, size as f64) as f32;
        let at = |[x, y]: [f64; 2]| {
            point(1.0 + within(x / mm.0, first.0, size.0), within(y / mm.1, first.1, size.1))
        };
        for (from, to) in region.sides() {
            raster.draw_line(at(from), at(to));
        }
        let mut shares = vec![0.0; size.0 * size.1];
        raster.for_each_pixel_2d(|column, row, share| {
            let row = row as usize;
            if let Some(column) = (column as usize).checked_sub(1).filter(|column| *column < size.0) {
                let share = share.min(1.0);
                shares[row * size.0 + column] = match share {
                    s if s < SPECK => 0.0,
                    s if s > 1.0 - SPECK => 1.0,
                    s => s,
                };
            }
        });
        Coverage { first, size, shares }
    }

    fn share(&self, column: Option<usize>, row: Option<usize>) -> f32 {
        let at =
            column.and_then(|column| column.checked_sub(self.first.0)).filter(|column| *column < self.size.0);
        let row = row.and_then(|row| row.checked_sub(self.first.1)).filter(|row| *row < self.size.1);
        at.zip(row).map_or(0.0, |(column, row)| self.shares[row * self.size.0 + column])
    }

    /// How its raised edge catches the light at a pixel: above nought where it faces the light at the top left, below it
    /// where it turns away; `reach` pixels wide.
    pub fn relief(&self, column: usize, row: usize, reach: usize) -> f32 {
        let own = self.share(Some(column), Some(row));
        let lit = own - self.share(column.checked_sub(reach), row.checked_sub(reach));
        let shaded = own - self.share(column.checked_add(reach), row.checked_add(reach));
        lit.max(0.0) - shaded.max(0.0)
    }

    /// The runs of pixels of a row that it covers any of, each with the shares.
    pub fn runs(&self, row: usize) -> impl Iterator<Item = (Range<usize>, &[f32])> {
        let inside = row.checked_sub(self.first.1).filter(|row| *row < self.size.1);
        let shares = inside.map_or(&[][..], |row| &self.shares[row * self.size.0..][..self.size.0]);
        let mut column = self.first.0;
        shares.chunk_by(|one, other| (*one > 0.0) == (*other > 0.0)).filter_map(move |run| {
            let from = column;
            column += run.len();
            (run[0] > 0.0).then_some((from..column, run))
        })
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn summed(coverage: &Coverage, rows: usize) -> f64 {
        (0..rows)
            .flat_map(|row| coverage.runs(row))
            .flat_map(|(_, run)| run)
            .map(|share| f64::from(*share))
            .sum()
    }

    /// A disc cut off by the very left of the sheet, in whose first row rounding puts a corner a hair beside it.
    #[test]
    fn no_edge_is_lost_at_the_very_left() {
        let (x, y, radius, mm) =
            (1.505_093_395_065_007, 34.526_047_639_098_984, 6.611_751_840_317_645, 0.545_546_964_263_917_2);
        let at = |n: usize| {
            let (sin, cos) = (n as f64 * std::f64::consts::TAU / 200.0).sin_cos();
            [x + radius * cos, y + radius * sin]
        };
        let inner = Region::rect(0.0, 0.0, 73.0 * mm, 73.0 * mm)
            .intersected(&Region::of(&[(0..200).map(at).collect()], false));
        let covered = summed(&Coverage::of(&inner, (73, 73), (mm, mm)), 73) * mm * mm;
        assert!((covered - inner.area()).abs() < 0.01, "{covered} {}", inner.area());
    }

    proptest! {
        #[test]
        fn what_is_covered_is_the_area(x in -5.0..45.0, y in -5.0..45.0, radius in 1.0..12.0, mm in 0.08..0.6) {
            let at = |n: usize| {
                let (sin, cos) = (n as f64 * std::f64::consts::TAU / 200.0).sin_cos();
                [x + radius * cos, y + radius * sin]
            };
            let disc = Region::of(&[(0..200).map(at).collect()], false);
            let pixels = (40.0 / mm) as usize;
            let side = pixels as f64 * mm;
            let sheet = Region::rect(0.0, 0.0, side, side);
            let (inner, outer) = (sheet.intersected(&disc), sheet.minus(&disc));
            let [one, other] = [&inner, &outer].map(|region| Coverage::of(region, (pixels, pixels), (mm, mm)));
            let area = |coverage: &Coverage| summed(coverage, pixels) * mm * mm;
            prop_assert!((area(&one) - inner.area()).abs() < 2e-3 * side, "{} {}", area(&one), inner.area());
            let both = area(&one) + area(&other);
            prop_assert!((both - side * side).abs() < 1e-4 * side * side, "{both} {}", side * side);
        }
    }
}
