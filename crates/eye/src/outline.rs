//! Where in the photo does a panel lie?
//!
//! What lies round the edge of the photo is the desk, whose colour is taken to go smoothly over it; what differs from it, and is one
//! piece, is the panel. Its corners are those of the largest four-sided figure within (a rectangle that leans stays one), its sides
//! are then found to a fraction of a pixel by where the photo changes most across them, and the lens by what makes all four straight
//! (Brown 1971). A side that is not seen along most of its length is not guessed: then the corners are asked for.

use nalgebra::{Matrix6, Vector6};

use crate::picture::Picture;
use crate::plane::{Plane, bent, straightened};
use crate::rank::median;

/// Why no panel is found.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
pub enum NoOutline {
    /// Nothing stands out from the desk.
    #[error(
        "the panel does not stand out from what lies under it: lay it on something darker or of another colour, or show its corners"
    )]
    NotSeen,
    /// A side cannot be made out.
    #[error(
        "one side of the panel cannot be made out: lay it on something that differs from it all round, or show its corners"
    )]
    Side,
    /// It is of another shape than the panel.
    #[error(
        "what stands out is not as long and wide as the panel: take it from straight above with all of it in the photo, or show its corners"
    )]
    Shape,
    /// Corners that are none.
    #[error(
        "these are not the four corners of a panel: show left and right above, then left and right below"
    )]
    Corners,
}

/// Longest side of the small picture in which it is sought, in pixels.
const SMALL: usize = 420;
/// The share of a side that has to be seen, and by how many millimetres a place of it may lie off the line.
const SEEN: f64 = 0.55;
const OFF_LINE_MM: f64 = 0.3;
/// How far a side may lie from where it is sought, as a share of the photo's diagonal.
const REACH: f64 = 0.012;
/// Places looked at along a side.
const PLACES: usize = 72;
/// The most that a lens bends, and steps in which it is sought.
const MOST_BEND: f64 = 0.035;
const BENDS: i32 = 35;
/// How far its sides may be from those of the panel (logarithm; chosen: beyond what a lens leaves open).
const OUT_OF_SHAPE: f64 = 0.025;

/// Finds a panel of a size in millimetres. It may lie on its side: how its corners stand is told by what is on it.
///
/// # Errors
/// A [`NoOutline`] where it is not seen all round.
pub fn find(picture: &Picture, size: [f64; 2]) -> Result<[[f64; 2]; 4], NoOutline> {
    let longest = picture.size()[0].max(picture.size()[1]);
    let factor = longest.div_ceil(SMALL).max(1);
    let small = picture.smaller(factor);
    let piece = piece(&small).ok_or(NoOutline::NotSeen)?;
    let rough = four_sided(&hull(piece)).ok_or(NoOutline::NotSeen)?;
    let rough = rough.map(|corner| corner.map(|along| along * factor as f64));
    let area = area(&rough);
    let [wide, high] = picture.size().map(|side| side as f64);
    if area < 0.1 * wide * high {
        return Err(NoOutline::NotSeen);
    }
    let pixels_a_mm = (area / (size[0] * size[1])).sqrt();
    let corners = refined(picture, rough, pixels_a_mm).ok_or(NoOutline::Side)?;
    let fits = |size: [f64; 2]| {
        plane(corners, size, picture.size()).map_or(f64::INFINITY, |plane| plane.out_of_shape())
    };
    if fits(size).min(fits([size[1], size[0]])) > OUT_OF_SHAPE {
        return Err(NoOutline::Shape);
    }
    Ok(corners.0)
}

/// Corners, left and right above, then left and right below, and how the lens bends.
type Seen = ([[f64; 2]; 4], f64);

fn plane((corners, bend): Seen, [w, h]: [f64; 2], photo: [usize; 2]) -> Option<Plane> {
    let page = [[0.0, 0.0], [w, 0.0], [0.0, h], [w, h]];
    Plane::through(&std::array::from_fn(|n| (page[n], corners[n])), bend, photo)
}

/// The places in which a panel may lie within four corners as they stand in the photo: upright, upside down, and on either side
/// where its shape says that it does.
pub fn standings(picture: &Picture, corners: [[f64; 2]; 4], size: [f64; 2]) -> Vec<Plane> {
    let bend = bend_of(picture, corners);
    let [a, b, c, d] = corners;
    let turned = [[a, b, c, d], [d, c, b, a], [b, d, a, c], [c, a, d, b]];
    let mut planes: Vec<Plane> =
        turned.into_iter().filter_map(|corners| plane((corners, bend), size, picture.size())).collect();
    let best = planes.iter().map(Plane::out_of_shape).fold(f64::INFINITY, f64::min);
    planes.retain(|plane| plane.out_of_shape() < best + 0.06);
    planes
}

/// A panel between corners that were shown as it stands: its left and right above, left and right below.
///
/// # Errors
/// [`NoOutline::Corners`] where they are none of a panel seen from before it.
pub fn shown(picture: &Picture, corners: [[f64; 2]; 4], size: [f64; 2]) -> Result<Plane, NoOutline> {
    plane((corners, bend_of(picture, corners)), size, picture.size()).ok_or(NoOutline::Corners)
}

/// How much each place of the small picture differs from a desk that goes on from its edges.
fn differs(small: &Picture) -> Option<Vec<f64>> {
    let [wide, high] = small.size();
    let ring = ((wide.max(high) as f64) * 0.03).ceil() as usize;
    let terms = |x: usize, y: usize| {
        let (u, v) = (2.0 * x as f64 / wide as f64 - 1.0, 2.0 * y as f64 / high as f64 - 1.0);
        Vector6::new(1.0, u, v, u * u, u * v, v * v)
    };
    let is_edge = |x: usize, y: usize| x < ring || y < ring || x + ring >= wide || y + ring >= high;
    let edge: Vec<(usize, usize)> = (0..wide * high)
        .map(|n| (n % wide, n / wide))
        .filter(|(x, y)| is_edge(*x, *y) && (x + y) % 2 == 0)
        .collect();
    let mut most = vec![0.0f64; wide * high];
    for channel in 0..3 {
        let mut weights = vec![1.0; edge.len()];
        let mut desk = Vector6::zeros();
        let mut usual = 0.0;
        for _ in 0..6 {
            let mut normal = Matrix6::identity() * 1e-6;
            let mut side = Vector6::zeros();
            for ((x, y), weight) in edge.iter().zip(&weights) {
                let row = terms(*x, *y);
                normal += row * row.transpose() * *weight;
                side += row * (*weight * small.pixel(*x, *y)[channel]);
            }
            desk = normal.cholesky()?.solve(&side);
            let offs: Vec<f64> = edge
                .iter()
                .map(|(x, y)| (small.pixel(*x, *y)[channel] - desk.dot(&terms(*x, *y))).abs())
                .collect();
            for (weight, off) in weights.iter_mut().zip(&offs) {
                *weight = 1.0 / (1.0 + (off / 0.02).powi(2));
            }
            usual = median(offs)?;
        }
        let limit = (8.0 * usual).max(0.028);
        for (n, most) in most.iter_mut().enumerate() {
            let (x, y) = (n % wide, n / wide);
            let off = (small.pixel(x, y)[channel] - desk.dot(&terms(x, y))).abs();
            *most = most.max(off / limit);
        }
    }
    Some(most)
}

/// The places of the largest piece that differs from the desk.
fn piece(small: &Picture) -> Option<Vec<[f64; 2]>> {
    let [wide, high] = small.size();
    let differs = differs(small)?;
    let mut seen = vec![false; wide * high];
    let mut largest: Vec<usize> = Vec::new();
    for start in 0..wide * high {
        if seen[start] || differs[start] < 1.0 {
            continue;
        }
        let mut piece = vec![start];
        seen[start] = true;
        let mut next = 0;
        while next < piece.len() {
            let n = piece[next];
            next += 1;
            let (x, y) = (n % wide, n / wide);
            let sides = [
                (x > 0).then(|| n - 1),
                (x + 1 < wide).then(|| n + 1),
                (y > 0).then(|| n - wide),
                (y + 1 < high).then(|| n + wide),
            ];
            for side in sides.into_iter().flatten() {
                if !seen[side] && differs[side] >= 1.0 {
                    seen[side] = true;
                    piece.push(side);
                }
            }
        }
        if piece.len() > largest.len() {
            largest = piece;
        }
    }
    let touches =
        |n: &usize| n.is_multiple_of(wide) || n % wide + 1 == wide || n / wide == 0 || n / wide + 1 == high;
    // What runs off the photo is not seen whole.
    let off = largest.iter().filter(|n| touches(n)).count();
    (largest.len() > 200 && off < 4)
        .then(|| largest.iter().map(|n| [(n % wide) as f64 + 0.5, (n / wide) as f64 + 0.5]).collect())
}

/// The convex hull of places (Andrew's monotone chain).
fn hull(mut places: Vec<[f64; 2]>) -> Vec<[f64; 2]> {
    places.sort_by(|a, b| a[0].total_cmp(&b[0]).then(a[1].total_cmp(&b[1])));
    let turns =
        |o: [f64; 2], a: [f64; 2], b: [f64; 2]| (a[0] - o[0]) * (b[1] - o[1]) - (a[1] - o[1]) * (b[0] - o[0]);
    let half = |places: &mut dyn Iterator<Item = [f64; 2]>| {
        let mut chain: Vec<[f64; 2]> = Vec::new();
        for place in places {
            while chain.len() >= 2 && turns(chain[chain.len() - 2], chain[chain.len() - 1], place) <= 0.0 {
                chain.pop();
            }
            chain.push(place);
        }
        chain.pop();
        chain
    };
    let mut lower = half(&mut places.iter().copied());
    lower.extend(half(&mut places.iter().rev().copied()));
    lower
}

/// Most corners of a hull that are tried.
const MOST_CORNERS: usize = 56;

/// The largest four-sided figure within a hull, its corners as they stand: left and right above, then left and right below.
fn four_sided(hull: &[[f64; 2]]) -> Option<[[f64; 2]; 4]> {
    let step = hull.len().div_ceil(MOST_CORNERS).max(1);
    let tried: Vec<[f64; 2]> = hull.iter().copied().step_by(step).collect();
    let count = tried.len();
    let cross = |a: usize, b: usize, c: usize| {
        let (p, q, r) = (tried[a], tried[b], tried[c]);
        0.5 * ((q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0])).abs()
    };
    let mut best = (0.0, None);
    for a in 0..count {
        for c in a + 2..count {
            let one = (a + 1..c).map(|b| (cross(a, b, c), b)).max_by(|x, y| x.0.total_cmp(&y.0));
            let other = (c + 1..count).map(|d| (cross(a, c, d), d)).max_by(|x, y| x.0.total_cmp(&y.0));
            if let (Some((one, b)), Some((other, d))) = (one, other)
                && one + other > best.0
            {
                best = (one + other, Some([a, b, c, d]));
            }
        }
    }
    let corners = best.1?.map(|n| tried[n]);
    // The one that lies most to the left and the top comes first; the others follow round.
    let first = (0..4).min_by(|a, b| {
        let sum = |n: usize| corners[n][0] + corners[n][1];
        sum(*a).total_cmp(&sum(*b))
    })?;
    let round: [[f64; 2]; 4] = std::array::from_fn(|n| corners[(first + n) % 4]);
    let [a, b, c, d] = round;
    let clockwise = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]) > 0.0;
    Some(if clockwise { [a, b, d, c] } else { [a, d, b, c] })
}

fn area(&[a, b, c, d]: &[[f64; 2]; 4]) -> f64 {
    0.5 * ((d[0] - a[0]) * (c[1] - b[1]) - (d[1] - a[1]) * (c[0] - b[0])).abs()
}

/// The two ends of each side: above, below, left, right.
const ENDS: [[usize; 2]; 4] = [[0, 1], [2, 3], [0, 2], [1, 3]];

/// Where the photo changes most across a side, place by place along it.
fn edge_places(picture: &Picture, from: [f64; 2], to: [f64; 2], pixels_a_mm: f64) -> Vec<[f64; 2]> {
    let [wide, high] = picture.size().map(|side| side as f64);
    let reach = REACH * wide.hypot(high);
    let (u, v) = (to[0] - from[0], to[1] - from[1]);
    let long = u.hypot(v);
    let aside = [-v / long, u / long];
    const STEP: f64 = 0.5;
    let deep = (0.22 * pixels_a_mm).max(1.5);
    let count = (2.0 * reach / STEP) as usize;
    let across = |share: f64| {
        let mid = [from[0] + share * u, from[1] + share * v];
        let profile: Vec<Option<[f64; 3]>> = (0..=count)
            .map(|n| {
                let out = n as f64 * STEP - reach;
                // Three lines side by side calm the noise.
                let mut sum = [0.0; 3];
                for by in [-1.2, 0.0, 1.2] {
                    let along = by * 0.2 * pixels_a_mm;
                    let at = [
                        mid[0] + out * aside[0] + along * u / long,
                        mid[1] + out * aside[1] + along * v / long,
                    ];
                    let rgb = picture.at(at)?;
                    sum = std::array::from_fn(|c| sum[c] + rgb[c] / 3.0);
                }
                Some(sum)
            })
            .collect();
        let wing = (deep / STEP) as usize;
        let mean = |range: std::ops::Range<usize>| -> Option<[f64; 3]> {
            let count = range.len() as f64;
            range.map(|n| profile[n]).try_fold([0.0; 3], |sum, rgb| {
                rgb.map(|rgb| std::array::from_fn(|c| sum[c] + rgb[c] / count))
            })
        };
        let step = |n: usize| -> f64 {
            let (Some(before), Some(after)) = (mean(n - wing..n), mean(n + 1..n + 1 + wing)) else {
                return 0.0;
            };
            (0..3).map(|c| (after[c] - before[c]).powi(2)).sum::<f64>().sqrt()
        };
        let steps: Vec<f64> = (wing..=count - wing).map(step).collect();
        let most = (1..steps.len().saturating_sub(1)).max_by(|a, b| steps[*a].total_cmp(&steps[*b]))?;
        if steps[most] < 0.03 {
            return None;
        }
        let (before, here, after) = (steps[most - 1], steps[most], steps[most + 1]);
        let curve = before - 2.0 * here + after;
        let part = if curve.abs() > 1e-12 { (0.5 * (before - after) / curve).clamp(-0.5, 0.5) } else { 0.0 };
        let out = ((wing + most) as f64 + part) * STEP - reach;
        Some([mid[0] + out * aside[0], mid[1] + out * aside[1]])
    };
    (0..PLACES).filter_map(|n| across(0.03 + 0.94 * (n as f64 + 0.5) / PLACES as f64)).collect()
}

/// A straight line: a place of it and its direction.
type Line = ([f64; 2], [f64; 2]);

/// The line that most places lie on, how far off these are on the average, and their share.
fn line(places: &[[f64; 2]], odd: f64) -> Option<(Line, f64, f64)> {
    if places.len() < 8 {
        return None;
    }
    let off = |(at, way): &Line, place: &[f64; 2]| {
        ((place[0] - at[0]) * way[1] - (place[1] - at[1]) * way[0]).abs()
    };
    // Through pairs of places, the one that most lie on (Fischler and Bolles 1981), all pairs of a few.
    let few: Vec<[f64; 2]> = places.iter().copied().step_by(places.len().div_ceil(24)).collect();
    let mut best: (usize, Option<Line>) = (0, None);
    for (n, a) in few.iter().enumerate() {
        for b in &few[n + 1..] {
            let long = (b[0] - a[0]).hypot(b[1] - a[1]);
            if long < 1.0 {
                continue;
            }
            let line = (*a, [(b[0] - a[0]) / long, (b[1] - a[1]) / long]);
            let on = places.iter().filter(|place| off(&line, place) < odd).count();
            if on > best.0 {
                best = (on, Some(line));
            }
        }
    }
    let mut line = best.1?;
    let mut on: Vec<[f64; 2]> = Vec::new();
    for _ in 0..4 {
        on = places.iter().copied().filter(|place| off(&line, place) < odd).collect();
        if on.len() < 6 {
            return None;
        }
        line = through(&on);
    }
    let squares: f64 = on.iter().map(|place| off(&line, place).powi(2)).sum();
    Some((line, (squares / on.len() as f64).sqrt(), on.len() as f64 / PLACES as f64))
}

/// The line through places that is nearest to all of them.
fn through(places: &[[f64; 2]]) -> Line {
    let count = places.len() as f64;
    let middle = [0, 1].map(|axis| places.iter().map(|place| place[axis]).sum::<f64>() / count);
    let sum = |f: &dyn Fn(f64, f64) -> f64| {
        places.iter().map(|place| f(place[0] - middle[0], place[1] - middle[1])).sum::<f64>()
    };
    let (xx, yy, xy) = (sum(&|x, _| x * x), sum(&|_, y| y * y), sum(&|x, y| x * y));
    let angle = 0.5 * (2.0 * xy).atan2(xx - yy);
    (middle, [angle.cos(), angle.sin()])
}

fn crossing((p, u): Line, (q, v): Line) -> Option<[f64; 2]> {
    let across = u[0] * v[1] - u[1] * v[0];
    let far = ((q[0] - p[0]) * v[1] - (q[1] - p[1]) * v[0]) / across;
    (across.abs() > 1e-6).then(|| [p[0] + far * u[0], p[1] + far * u[1]])
}

/// The sides as they are seen: places along each.
fn sides(picture: &Picture, corners: [[f64; 2]; 4], pixels_a_mm: f64) -> [Vec<[f64; 2]>; 4] {
    ENDS.map(|[from, to]| edge_places(picture, corners[from], corners[to], pixels_a_mm))
}

/// How the lens bends, by what makes the sides straightest.
fn straightest(sides: &[Vec<[f64; 2]>; 4], odd: f64, photo: [usize; 2]) -> f64 {
    let off = |bend: f64| {
        let of_side = |side: &Vec<[f64; 2]>| {
            let straight: Vec<[f64; 2]> =
                side.iter().map(|place| straightened(*place, bend, photo)).collect();
            line(&straight, odd).map_or(odd, |(_, off, share)| off + odd * (1.0 - share))
        };
        sides.iter().map(|side| of_side(side).powi(2)).sum::<f64>()
    };
    let bends: Vec<f64> =
        (-BENDS..=BENDS).step_by(5).map(|n| MOST_BEND * f64::from(n) / f64::from(BENDS)).collect();
    let least = bends.iter().copied().min_by(|a, b| off(*a).total_cmp(&off(*b))).unwrap_or(0.0);
    let about = (-4..=4).map(|n| least + MOST_BEND * f64::from(n) / f64::from(BENDS));
    about.min_by(|a, b| off(*a).total_cmp(&off(*b))).unwrap_or(least)
}

fn refined(picture: &Picture, rough: [[f64; 2]; 4], pixels_a_mm: f64) -> Option<Seen> {
    let odd = (OFF_LINE_MM * pixels_a_mm).max(1.2);
    let mut corners = rough;
    let mut bend = 0.0;
    for _ in 0..2 {
        let sides = sides(picture, corners, pixels_a_mm);
        bend = straightest(&sides, odd, picture.size());
        let mut lines = Vec::with_capacity(4);
        for side in &sides {
            let straight: Vec<[f64; 2]> =
                side.iter().map(|place| straightened(*place, bend, picture.size())).collect();
            let (line, _, share) = line(&straight, odd)?;
            if share < SEEN {
                return None;
            }
            lines.push(line);
        }
        let meet = [(0, 2), (0, 3), (1, 2), (1, 3)];
        for (corner, (one, other)) in corners.iter_mut().zip(meet) {
            *corner = bent(crossing(lines[one], lines[other])?, bend, picture.size());
        }
    }
    Some((corners, bend))
}

/// How the lens bends, by the sides between four corners.
fn bend_of(picture: &Picture, corners: [[f64; 2]; 4]) -> f64 {
    let [wide, high] = picture.size().map(|side| side as f64);
    let pixels_a_mm = 0.006 * wide.hypot(high);
    let odd = (OFF_LINE_MM * pixels_a_mm).max(1.2);
    let sides = sides(picture, corners, pixels_a_mm);
    let seen =
        sides.iter().filter(|side| line(side, 2.0 * odd).is_some_and(|(.., share)| share > SEEN)).count();
    if seen == 4 { straightest(&sides, odd, picture.size()) } else { 0.0 }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    const SIZE: [f64; 2] = [108.0, 140.0];

    /// A white card on a grey desk, as a plane shows it.
    fn photo(plane: &Plane, [wide, high]: [usize; 2], card: u8) -> Picture {
        let shade = |x: usize, y: usize| {
            let on = (0..9).filter(|n| {
                let at =
                    [x as f64 + (f64::from(n % 3) + 0.5) / 3.0, y as f64 + (f64::from(n / 3) + 0.5) / 3.0];
                plane.page(at).is_some_and(|page| (0..2).all(|axis| (0.0..SIZE[axis]).contains(&page[axis])))
            });
            let share = on.count() as f64 / 9.0;
            (90.0 + share * (f64::from(card) - 90.0)).round() as u8
        };
        let rgb = (0..wide * high).flat_map(|n| [shade(n % wide, n / wide); 3]).collect();
        Picture::of(wide, high, rgb).unwrap()
    }

    fn corners_of(plane: &Plane) -> [[f64; 2]; 4] {
        let [w, h] = SIZE;
        [[0.0, 0.0], [w, 0.0], [0.0, h], [w, h]].map(|at| plane.pixel(at))
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(12))]
        /// However it leans and the lens bends, a card is found to a fraction of a pixel.
        #[test]
        fn a_card_is_found_however_it_lies(
            moved in prop::array::uniform8(-28.0..28.0f64), bend in -0.02..0.02f64, turned in any::<bool>(),
        ) {
            let size = if turned { [800, 640] } else { [640, 800] };
            let (x, y) = (size[0] as f64, size[1] as f64);
            let even: [[f64; 2]; 4] = if turned {
                [[0.82 * x, 0.18 * y], [0.82 * x, 0.82 * y], [0.18 * x, 0.18 * y], [0.18 * x, 0.82 * y]]
            } else {
                [[0.18 * x, 0.18 * y], [0.82 * x, 0.18 * y], [0.18 * x, 0.82 * y], [0.82 * x, 0.82 * y]]
            };
            let [w, h] = SIZE;
            let page = [[0.0, 0.0], [w, 0.0], [0.0, h], [w, h]];
            let found = std::array::from_fn(|n| {
                (page[n], [even[n][0] + moved[2 * n], even[n][1] + moved[2 * n + 1]])
            });
            let plane = Plane::through(&found, bend, size).unwrap();
            let seen = match find(&photo(&plane, size, 235), SIZE) {
                Ok(seen) => seen,
                // Corners that were moved apart are those of no such card from before it.
                Err(NoOutline::Shape) => { prop_assert!(plane.out_of_shape() > 0.01); return Ok(()); }
                Err(error) => return Err(TestCaseError::fail(error.to_string())),
            };
            for corner in corners_of(&plane) {
                let off = seen.iter().map(|at| (at[0] - corner[0]).hypot(at[1] - corner[1]));
                prop_assert!(off.fold(f64::INFINITY, f64::min) < 1.2, "{seen:?} {corner:?}");
            }
        }
    }

    #[test]
    fn what_does_not_stand_out_or_runs_off_is_not_guessed() {
        let square = |from: f64, to: f64| {
            let [w, h] = SIZE;
            let page = [[0.0, 0.0], [w, 0.0], [0.0, h], [w, h]];
            let pixel = [[from, from], [to, from], [from, to * 1.3], [to, to * 1.3]];
            Plane::through(&std::array::from_fn(|n| (page[n], pixel[n])), 0.0, [640, 800]).unwrap()
        };
        let faint = photo(&square(100.0, 520.0), [640, 800], 92);
        assert_eq!(find(&faint, SIZE), Err(NoOutline::NotSeen));
        let off = photo(&square(-60.0, 520.0), [640, 800], 235);
        assert_eq!(find(&off, SIZE), Err(NoOutline::NotSeen));
        // A card of another shape.
        let round = photo(&square(100.0, 520.0), [640, 800], 235);
        assert_eq!(find(&round, [108.0, 108.0]), Err(NoOutline::Shape));
        assert_eq!(
            shown(&round, [[0.0, 0.0], [1.0, 1.0], [2.0, 2.0], [3.0, 3.0]], SIZE),
            Err(NoOutline::Corners)
        );
    }
}
