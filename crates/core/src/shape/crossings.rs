//! How often do the lines of a drawing cross one another?
//!
//! What a drawing costs to reckon with grows with its crossings more than with its lines: every crossing is a corner of what it
//! encloses, and so of all that is made of that. So they are counted before anything else is done with a drawing, by a sweep
//! from left to right within strips across it (Shamos and Hoey 1976, without the order along the sweep: within a strip few
//! lines lie above one another).
//!
//! ```
//! use rosy_core::shape::crossings::{Crossings, crossings};
//!
//! // A star of five corners drawn in one go crosses itself five times.
//! let corner = |n: usize| {
//!     let turn = (2 * n) as f64 * std::f64::consts::TAU / 5.0;
//!     [turn.sin(), -turn.cos()]
//! };
//! let star: Vec<[f64; 2]> = (0..5).map(corner).collect();
//! assert_eq!(crossings(&[star]), Crossings::Counted(5));
//! // Where corner only touches corner, nothing crosses.
//! let square = |at: f64| vec![[at, at], [at + 1.0, at], [at + 1.0, at + 1.0], [at, at + 1.0]];
//! assert_eq!(crossings(&[square(0.0), square(1.0)]), Crossings::Counted(0));
//! ```

use super::region::Contour;

/// Most pairs of lines that are held against one another: a fifth of a second (chosen).
const MOST_PAIRS: usize = 40_000_000;
/// Places in strips for each line, on average.
const EACH: f64 = 4.0;
/// Most strips.
const MOST_STRIPS: usize = 1 << 12;

/// How many crossings there are.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Crossings {
    /// Just so many.
    Counted(usize),
    /// So many were found before the lines turned out to lie too close over one another to go on.
    AtLeast(usize),
}

impl Crossings {
    /// As many as were found.
    pub const fn found(self) -> usize {
        match self {
            Crossings::Counted(count) | Crossings::AtLeast(count) => count,
        }
    }
}

/// A straight line, its upper end first.
type Line = [[f64; 2]; 2];

/// Counts where lines of closed contours meet otherwise than end to end: where they cross, end upon one another, or lie along
/// one another. Lines that are drawn twice are one.
pub fn crossings(contours: &[Contour]) -> Crossings {
    let lines = lines(contours);
    let strips = Strips::over(&lines);
    let (mut count, mut pairs) = (0, 0);
    for (nth, strip) in strips.filled(&lines).into_iter().enumerate() {
        let mut under: Vec<Entry> = Vec::new();
        for entry in strip {
            under.retain(|other| other.right >= entry.left);
            pairs += under.len();
            if pairs > MOST_PAIRS {
                return Crossings::AtLeast(count);
            }
            // Always in the same order, so that it is always at the same height.
            let meets = |other: &&Entry| {
                let (one, other) = (entry.line.min(other.line), entry.line.max(other.line));
                let height = meeting(&lines[one as usize], &lines[other as usize]);
                height.is_some_and(|y| strips.at(y) == nth)
            };
            count += under.iter().filter(meets).count();
            under.push(entry);
        }
    }
    Crossings::Counted(count)
}

fn lines(contours: &[Contour]) -> Vec<Line> {
    let mut lines: Vec<Line> = Vec::with_capacity(contours.iter().map(Vec::len).sum());
    for contour in contours {
        for (from, to) in contour.iter().zip(contour.iter().cycle().skip(1)) {
            if from != to {
                let is_down = (from[1], from[0]) <= (to[1], to[0]);
                lines.push(if is_down { [*from, *to] } else { [*to, *from] });
            }
        }
    }
    let key = |[from, to]: &Line| [from[1], from[0], to[1], to[0]];
    lines.sort_by(|a, b| key(a).partial_cmp(&key(b)).unwrap_or(std::cmp::Ordering::Equal));
    lines.dedup();
    lines
}

/// Level strips from the top of a drawing to its foot.
struct Strips {
    top: f64,
    high: f64,
    count: usize,
}

/// A line within a strip.
#[derive(Clone, Copy)]
struct Entry {
    left: f64,
    right: f64,
    line: u32,
}

impl Strips {
    /// As many as leave each line in few of them.
    fn over(lines: &[Line]) -> Strips {
        let top = lines.iter().map(|[from, _]| from[1]).fold(f64::INFINITY, f64::min);
        let foot = lines.iter().map(|[_, to]| to[1]).fold(f64::NEG_INFINITY, f64::max);
        let whole = foot - top;
        let fall: f64 = lines.iter().map(|[from, to]| to[1] - from[1]).sum();
        // Lines and strips alike: as many places as lines, and one more for each line a strip begins or ends in.
        let fits = if fall > 0.0 { (EACH - 1.0) * lines.len() as f64 * whole / fall } else { f64::MAX };
        let count = if whole > 0.0 { fits.clamp(1.0, MOST_STRIPS as f64) as usize } else { 1 };
        Strips { top, high: whole / count as f64, count }
    }

    fn at(&self, y: f64) -> usize {
        if self.count == 1 { 0 } else { (((y - self.top) / self.high) as usize).min(self.count - 1) }
    }

    /// What of each line lies in each strip, from left to right.
    fn filled(&self, lines: &[Line]) -> Vec<Vec<Entry>> {
        let mut strips: Vec<Vec<Entry>> = vec![Vec::new(); self.count];
        for (nth, [from, to]) in lines.iter().enumerate() {
            let (first, last) = (self.at(from[1]), self.at(to[1]));
            for (strip, entries) in strips.iter_mut().enumerate().take(last + 1).skip(first) {
                let edge = |n: usize| self.top + n as f64 * self.high;
                let at = |y: f64| {
                    let share = ((y - from[1]) / (to[1] - from[1])).clamp(0.0, 1.0);
                    if share.is_finite() { from[0] + share * (to[0] - from[0]) } else { from[0] }
                };
                let upper = if strip == first { from[0] } else { at(edge(strip)) };
                let lower = if strip == last { to[0] } else { at(edge(strip + 1)) };
                let line = u32::try_from(nth).unwrap_or(u32::MAX);
                // What is worked out is off by its last digits.
                let slack = 1e-12 * (from[0].abs() + to[0].abs());
                entries.push(Entry { left: upper.min(lower) - slack, right: upper.max(lower) + slack, line });
            }
        }
        for strip in &mut strips {
            strip.sort_by(|a, b| a.left.total_cmp(&b.left));
        }
        strips
    }
}

/// On which side of a line a point lies.
fn side([from, to]: &Line, at: [f64; 2]) -> f64 {
    (to[0] - from[0]) * (at[1] - from[1]) - (to[1] - from[1]) * (at[0] - from[0])
}

/// The height at which two lines meet; none where they do not, or only with their ends.
fn meeting(one: &Line, other: &Line) -> Option<f64> {
    let (upper, lower) = (side(one, other[0]), side(one, other[1]));
    if upper == 0.0 && lower == 0.0 {
        return along(one, other);
    }
    if one.iter().any(|end| other.contains(end)) || upper * lower > 0.0 {
        return None;
    }
    if side(other, one[0]) * side(other, one[1]) > 0.0 {
        return None;
    }
    let share = upper / (upper - lower);
    let height = other[0][1] + share * (other[1][1] - other[0][1]);
    // Between the ends of both, however it was rounded.
    Some(height.max(one[0][1].max(other[0][1])).min(one[1][1].min(other[1][1])))
}

/// The height at which two lines that lie on one straight line begin to lie along one another.
fn along(one: &Line, other: &Line) -> Option<f64> {
    let later = |a: [f64; 2], b: [f64; 2]| if (a[1], a[0]) >= (b[1], b[0]) { a } else { b };
    let (begin, one_ends) = (later(one[0], other[0]), later(one[1], other[1]) != one[1]);
    let end = if one_ends { one[1] } else { other[1] };
    (later(begin, end) == end && begin != end).then_some(begin[1])
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    /// Every two lines held against one another.
    fn plainly(contours: &[Contour]) -> usize {
        let lines = lines(contours);
        let others = |n: usize| lines[..n].iter();
        (0..lines.len()).map(|n| others(n).filter(|other| meeting(other, &lines[n]).is_some()).count()).sum()
    }

    proptest! {
        #[test]
        fn the_sweep_finds_what_every_pair_tells(
            contours in proptest::collection::vec(
                proptest::collection::vec([0.0..100.0_f64, 0.0..60.0_f64], 3..40),
                1..6,
            ),
            is_on_a_grid: bool,
        ) {
            let on = |at: f64| if is_on_a_grid { (at / 5.0).round() * 5.0 } else { at };
            let contours: Vec<Contour> =
                contours.iter().map(|contour| contour.iter().map(|at| at.map(on)).collect()).collect();
            prop_assert_eq!(crossings(&contours), Crossings::Counted(plainly(&contours)));
        }
    }

    /// A star of an odd number of corners, each joined to one of the two across from it: every two sides that share no
    /// corner cross (Poinsot 1810).
    #[test]
    fn a_star_crosses_itself_as_often_as_counting_says() {
        for corners in [5, 7, 31, 101] {
            let at = |n: usize| {
                let turn = (n * (corners - 1) / 2) as f64 * std::f64::consts::TAU / corners as f64;
                [80.0 * turn.cos(), 80.0 * turn.sin()]
            };
            let star: Contour = (0..corners).map(at).collect();
            assert_eq!(crossings(&[star]), Crossings::Counted(corners * (corners - 3) / 2));
        }
    }

    #[test]
    fn what_is_drawn_twice_is_one_and_what_lies_along_it_is_told() {
        let square = |x: f64, side: f64| vec![[x, 0.0], [x + side, 0.0], [x + side, side], [x, side]];
        assert_eq!(crossings(&[square(0.0, 9.0), square(0.0, 9.0)]), Crossings::Counted(0));
        // Side by side: a part of one edge lies on the other's, and another edge ends on it.
        assert_eq!(crossings(&[square(0.0, 9.0), square(9.0, 4.0)]), Crossings::Counted(2));
        assert_eq!(crossings(&[square(0.0, 9.0), square(3.0, 4.0)]), Crossings::Counted(3));
        assert_eq!(crossings(&[]), Crossings::Counted(0));
        assert_eq!(crossings(&[vec![[3.0, 3.0]; 4]]), Crossings::Counted(0));
    }

    #[test]
    fn a_bundle_of_lines_without_a_crossing_ends_too() {
        let bundle = |n: i32| {
            let (y, wide) = (f64::from(n) * 1e-6, 0.4e-6);
            vec![[0.0, y], [500.0, 400.0 + y], [500.0, 400.0 + y + wide], [0.0, y + wide]]
        };
        let bundle: Vec<Contour> = (0..30_000).map(bundle).collect();
        assert_eq!(crossings(&bundle), Crossings::AtLeast(0));
        assert_eq!(crossings(&bundle[..900]), Crossings::Counted(0));
    }
}
