//! Is there a frame, and where?
//!
//! Its corners' marks are found and read, which gives a first plane; then the middles of what is small, dark and alone, the
//! squares within the marks and the dots between the strips, are found to a fraction of a pixel and the plane is fitted to those.

use crate::frame::{self, DOT, MARK, PLACES};
use crate::picture::{self, Picture};
use crate::plane::{Found, Plane};

/// A frame in a photo.
#[derive(Clone, Debug)]
pub struct Sighting {
    /// Where its places are.
    pub plane: Plane,
    /// What its marks tell of each place.
    pub letters: [Letters; PLACES],
    /// How blurred it is at some places of the page: the millimetres from a tenth to nine tenths of an edge.
    pub blur: Vec<([f64; 2], f64)>,
}

/// What a mark tells of a place.
#[derive(Clone, Debug, PartialEq, Eq)]
pub enum Letters {
    /// The letters of its ink.
    Ink(String),
    /// That there is no ink.
    Nothing,
    /// Nothing: it could not be read.
    Unread,
}

/// Why there is no frame.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
pub enum NoFrame {
    /// Too few marks.
    #[error(
        "{0} of the frame's four corner marks can be seen, and it takes three: take the photo with the whole page in it, sharp and \
         evenly lit, or show where its corners are"
    )]
    Marks(usize),
    /// The marks do not stand as on a page.
    #[error("the corner marks do not stand as on a flat page: lay it flat, or show where its corners are")]
    Bent,
}

/// Pixels along the longer side at which marks are looked for first, as nearly as whole pixels taken together come to it.
const LOOKED_AT: f64 = 1_600.0;
/// Where they are not all seen: as the photo is, then larger, then smaller.
const AND_AT: [f64; 4] = [1.0, 0.6, 2.0, 1.4];
/// No found middle is taken that is farther from where it should be than this, in millimetres.
const FAR: f64 = 2.5;
/// Rounds of looking and fitting: each brings what lay too far off within sight.
const ROUNDS: usize = 6;
/// Nor one farther from what all others say.
const ODD: f64 = 0.6;

/// Finds the frame.
///
/// # Errors
/// [`NoFrame`] where its marks are not seen.
pub fn frame(picture: &Picture) -> Result<Sighting, NoFrame> {
    let marks = Marks::seen(picture);
    if marks.count() < 3 {
        return Err(NoFrame::Marks(marks.count()));
    }
    let first = Plane::fitted(&marks.corners(), picture.size()).ok_or(NoFrame::Bent)?;
    settled(picture, first, &marks)
}

/// A frame whose own four outer corners are shown by hand, left and right above, left and right below.
///
/// # Errors
/// [`NoFrame`] where they cannot be the corners of a page.
pub fn frame_at(picture: &Picture, corners: [[f64; 2]; 4]) -> Result<Sighting, NoFrame> {
    let pages = [[0.0, 0.0], [frame::SIZE[0], 0.0], [0.0, frame::SIZE[1]], frame::SIZE];
    let found: Vec<Found> = pages.into_iter().zip(corners).collect();
    let plane = Plane::fitted(&found, picture.size()).ok_or(NoFrame::Bent)?;
    settled(picture, plane, &Marks::seen(picture))
}

/// Whether it changes from light to dark nearly everywhere, as no page does: whoever looks for marks there finds no end.
fn is_busy([wide, high]: [usize; 2], light: impl Fn(usize, usize) -> u8) -> bool {
    const CHANGES: u8 = 40;
    const MOST: f64 = 0.12;
    let places =
        || (0..high).step_by(5).flat_map(|y| (0..wide.saturating_sub(2)).step_by(3).map(move |x| (x, y)));
    let changes = places().filter(|(x, y)| light(*x, *y).abs_diff(light(x + 2, *y)) > CHANGES).count();
    changes as f64 > MOST * places().count() as f64
}

/// A mark in the photo: its corners, and the letters of its six inks where it could be read.
type Mark = ([[f64; 2]; 4], Option<Vec<String>>);

#[derive(Default)]
struct Marks {
    marks: [Option<Mark>; 4],
    /// What looks like a mark and could not be read.
    unread: Vec<[[f64; 2]; 4]>,
}

impl Marks {
    /// Those of a photo, with what they tell.
    fn seen(picture: &Picture) -> Marks {
        let [wide, high] = picture.size();
        let mut marks = Marks::default();
        let first = (wide.max(high) as f64 / LOOKED_AT).round().max(1.0);
        for factor in std::iter::once(first).chain(AND_AT.into_iter().filter(|factor| *factor != first)) {
            marks.look(picture, factor);
            marks.guess();
            if marks.count() == 4 {
                break;
            }
        }
        marks
    }

    fn count(&self) -> usize {
        self.marks.iter().flatten().count()
    }

    /// Looks at the photo made smaller, or larger, by a factor: small modules are told apart better where each has more pixels.
    fn look(&mut self, picture: &Picture, factor: f64) {
        let whole = factor.floor().max(1.0);
        let small = picture.smaller(whole as usize);
        let factor = factor / whole;
        let [wide, high] = small.size().map(|side| (side as f64 / factor) as usize);
        // All of it, and its quarters: where marks lean, squares of several of them are taken for those of one.
        for [left, top, share] in
            [[0.0, 0.0, 1.0], [0.0, 0.0, 0.6], [0.4, 0.0, 0.6], [0.0, 0.4, 0.6], [0.4, 0.4, 0.6]]
        {
            if self.count() < 4 {
                let from = [left * wide as f64, top * high as f64].map(f64::floor);
                let size = [share * wide as f64, share * high as f64].map(|side| side as usize);
                self.look_at(&small, from, size, factor, whole);
            }
        }
    }

    /// Looks at a part of it: from where, how large, in pixels that are each `factor` of the photo's made `whole` times smaller.
    fn look_at(&mut self, small: &Picture, from: [f64; 2], size: [usize; 2], factor: f64, whole: f64) {
        let light = |x: usize, y: usize| {
            let at = [from[0] + x as f64 + 0.5, from[1] + y as f64 + 0.5].map(|along| along * factor);
            small.at(at).map_or(0, |rgb| (picture::light(rgb) * 255.0) as u8)
        };
        if is_busy(size, light) {
            return;
        }
        let mut grey = rqrr::PreparedImage::prepare_from_greyscale(size[0], size[1], light);
        let back = factor * whole;
        for grid in grey.detect_grids() {
            let bounds = grid
                .bounds
                .map(|at| [(from[0] + f64::from(at.x)) * back, (from[1] + f64::from(at.y)) * back]);
            match grid.decode().map(|(_, words)| frame::read_mark(&words)) {
                Ok(Some((corner, letters))) => self.marks[corner] = Some((bounds, Some(letters))),
                Ok(None) => {}
                Err(_) => self.unread.push(bounds),
            }
        }
    }

    /// What looks like a mark is the one of the corner it stands at: a mark tells by itself which way the page runs.
    fn guess(&mut self) {
        let middle =
            |bounds: &[[f64; 2]; 4]| [0, 1].map(|axis| bounds.iter().map(|at| at[axis]).sum::<f64>() / 4.0);
        let read: Vec<[[f64; 2]; 4]> = self.marks.iter().flatten().map(|(bounds, _)| *bounds).collect();
        let mut all = read.clone();
        for bounds in &self.unread {
            let ([x, y], side) =
                (middle(bounds), (bounds[1][0] - bounds[0][0]).hypot(bounds[1][1] - bounds[0][1]));
            let is_new = |other: &[[f64; 2]; 4]| (middle(other)[0] - x).hypot(middle(other)[1] - y) > side;
            if all.iter().all(is_new) {
                all.push(*bounds);
            }
        }
        if read.is_empty() || all.len() > 4 {
            return;
        }
        // Across and down the page: from left to right, and from above to below, of every mark.
        let way = |from: usize, to: usize| {
            [0, 1].map(|axis| read.iter().map(|bounds| bounds[to][axis] - bounds[from][axis]).sum::<f64>())
        };
        let ways = [way(0, 1), way(0, 3)];
        let along =
            |bounds: &[[f64; 2]; 4]| ways.map(|way| way[0] * middle(bounds)[0] + way[1] * middle(bounds)[1]);
        let half = [0, 1].map(|axis| {
            let least = all.iter().map(|bounds| along(bounds)[axis]).fold(f64::INFINITY, f64::min);
            let most = all.iter().map(|bounds| along(bounds)[axis]).fold(f64::NEG_INFINITY, f64::max);
            0.5 * (least + most)
        });
        let corner = |bounds: &[[f64; 2]; 4]| {
            let [x, y] = along(bounds);
            usize::from(x > half[0]) + 2 * usize::from(y > half[1])
        };
        // What was read has to stand where it says.
        let agrees =
            |(n, mark): (usize, &Option<Mark>)| mark.as_ref().is_none_or(|(bounds, _)| corner(bounds) == n);
        if all.len() >= 3 && self.marks.iter().enumerate().all(agrees) {
            for bounds in &all[read.len()..] {
                self.marks[corner(bounds)].get_or_insert((*bounds, None));
            }
        }
    }

    /// The corners of each mark, as a mark is read: left above, right above, right below, left below.
    fn corners(&self) -> Vec<Found> {
        let mut found = Vec::new();
        for (corner, mark) in self.marks.iter().enumerate() {
            let [x, y] = frame::mark(corner);
            let page = [[x, y], [x + MARK, y], [x + MARK, y + MARK], [x, y + MARK]];
            found.extend(mark.iter().flat_map(|(bounds, _)| page.into_iter().zip(*bounds)));
        }
        found
    }

    fn letters(&self) -> [Letters; PLACES] {
        std::array::from_fn(|place| match &self.marks[place / 6] {
            Some((_, Some(six))) if six[place % 6] == "0000" => Letters::Nothing,
            Some((_, Some(six))) => Letters::Ink(six[place % 6].clone()),
            _ => Letters::Unread,
        })
    }
}

/// What stands alone: its middle, half its side, and half the side of the square it stands alone in.
fn alone() -> impl Iterator<Item = ([f64; 2], f64, f64)> {
    let module = frame::module();
    let squares = (0..4).flat_map(move |corner| {
        let [x, y] = frame::mark(corner);
        [(3.5, 3.5), (21.5, 3.5), (3.5, 21.5)]
            .map(|(u, v)| ([x + u * module, y + v * module], 1.5 * module, 2.2 * module))
    });
    squares.chain(frame::dots().map(|at| (at, DOT / 2.0, 3.1)))
}

/// The corner marks as a whole: their dark half lies about their middle to half a millimetre, and they are seen from farther off.
fn whole_marks() -> impl Iterator<Item = ([f64; 2], f64, f64)> {
    let half = MARK / 2.0;
    (0..4).map(frame::mark).map(move |[x, y]| ([x + half, y + half], half, half + FAR))
}

/// The plane that what stands alone tells.
fn settled(picture: &Picture, first: Plane, marks: &Marks) -> Result<Sighting, NoFrame> {
    let mut plane = first;
    let mut found: Vec<(Found, f64)> = Vec::new();
    for round in 0..ROUNDS {
        found = alone()
            .chain(whole_marks().filter(|_| 2 * round < ROUNDS))
            .filter_map(|(at, half, around)| {
                let middle = middle(picture, &plane, at, around)?;
                let far = (middle[0] - at[0]).hypot(middle[1] - at[1]);
                (far < FAR).then(|| ((at, plane.pixel(middle)), half))
            })
            .collect();
        let places: Vec<Found> = found.iter().map(|(found, _)| *found).collect();
        let whole = Plane::fitted(&places, picture.size()).ok_or(NoFrame::Bent)?;
        let off = |(page, pixel): &Found| {
            whole.page(*pixel).map_or(f64::INFINITY, |[x, y]| (x - page[0]).hypot(y - page[1]))
        };
        found.retain(|(found, half)| off(found) < ODD * if *half > DOT { 4.0 } else { 1.0 });
        let places: Vec<Found> = found.iter().map(|(found, _)| *found).collect();
        plane = Plane::fitted(&places, picture.size()).ok_or(NoFrame::Bent)?;
    }
    if found.len() < 8 {
        return Err(NoFrame::Bent);
    }
    let blur = found
        .iter()
        .filter(|(_, half)| *half == DOT / 2.0)
        .filter_map(|((page, _), half)| Some((*page, rise(picture, &plane, *page, *half)?)))
        .collect();
    Ok(Sighting { plane, letters: marks.letters(), blur })
}

fn light(picture: &Picture, plane: &Plane, page: [f64; 2]) -> Option<f64> {
    picture.at(plane.pixel(page)).map(picture::light)
}

/// The middle of what is dark about a place.
fn middle(picture: &Picture, plane: &Plane, at: [f64; 2], around: f64) -> Option<[f64; 2]> {
    const STEPS: i32 = 14;
    let place = |n: i32| f64::from(n) / f64::from(STEPS) * around;
    let mut seen = Vec::new();
    for j in -STEPS..=STEPS {
        for i in -STEPS..=STEPS {
            let page = [at[0] + place(i), at[1] + place(j)];
            seen.push((page, light(picture, plane, page)?));
        }
    }
    let mut sorted: Vec<f64> = seen.iter().map(|(_, light)| *light).collect();
    sorted.sort_by(f64::total_cmp);
    let (dark, bright) = (sorted[sorted.len() / 20], sorted[sorted.len() * 9 / 10]);
    if bright - dark < 0.15 {
        return None;
    }
    let mut sums = [0.0; 3];
    for (page, light) in seen {
        let weight = (((bright - light) / (bright - dark) - 0.2) / 0.8).clamp(0.0, 1.0);
        sums = [sums[0] + weight * page[0], sums[1] + weight * page[1], sums[2] + weight];
    }
    Some([sums[0] / sums[2], sums[1] / sums[2]])
}

/// The millimetres from a tenth to nine tenths of the edges of a dot, the mean of its four sides.
fn rise(picture: &Picture, plane: &Plane, at: [f64; 2], half: f64) -> Option<f64> {
    const STEP: f64 = 0.05;
    let reach = (2.8 / STEP) as i32;
    let inner = light(picture, plane, at)?;
    let ways = [[1.0, 0.0], [-1.0, 0.0], [0.0, 1.0], [0.0, -1.0]];
    let rises = ways.into_iter().filter_map(|way| {
        let line: Vec<f64> = (0..reach)
            .filter_map(|n| {
                let out = f64::from(n) * STEP;
                // Three lines side by side.
                let aside = [-0.4, 0.0, 0.4]
                    .map(|by| [at[0] + out * way[0] + by * way[1], at[1] + out * way[1] + by * way[0]]);
                Some(aside.into_iter().map(|page| light(picture, plane, page)).sum::<Option<f64>>()? / 3.0)
            })
            .collect();
        let outer = line.get(((half + 1.0) / STEP) as usize..)?.iter().copied().fold(0.0, f64::max);
        let passes = |share: f64| line.iter().position(|light| (light - inner) / (outer - inner) > share);
        Some((passes(0.9)? as f64 - passes(0.1)? as f64) * STEP)
    });
    let rises: Vec<f64> = rises.collect();
    (!rises.is_empty()).then(|| rises.iter().sum::<f64>() / rises.len() as f64)
}
