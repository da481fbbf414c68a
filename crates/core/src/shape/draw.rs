//! How is each family drawn? In millimetres, wherever it comes to lie: the outline moves it to its middle.

use std::f64::consts::{PI, TAU};

use kurbo::{Affine, BezPath, Circle, Point, Rect, Shape as _, Vec2};
use rand_chacha::ChaCha8Rng;
use rand_core::{Rng, SeedableRng};

use super::measure::Given;

/// Millimetres by which a curve may miss the circle it stands for.
const CLOSE: f64 = 1e-3;

/// A number from 0 up to 1.
fn chance(random: &mut ChaCha8Rng) -> f64 {
    f64::from(random.next_u32()) / 4_294_967_296.0
}

fn random(given: &Given) -> ChaCha8Rng {
    ChaCha8Rng::seed_from_u64(u64::from(given.number("chance")))
}

fn rect(left: f64, top: f64, width: f64, height: f64) -> BezPath {
    Rect::new(left, top, left + width, top + height).to_path(CLOSE)
}

/// Through points, straight, and closed.
fn polygon(points: impl IntoIterator<Item = Point>) -> BezPath {
    let mut path = BezPath::new();
    for (nth, point) in points.into_iter().enumerate() {
        if nth == 0 { path.move_to(point) } else { path.line_to(point) }
    }
    path.close_path();
    path
}

/// The other way round, so that it is a hole in what it is laid on.
fn hole(path: &BezPath) -> BezPath {
    path.reverse_subpaths()
}

fn joined(paths: impl IntoIterator<Item = BezPath>) -> BezPath {
    paths.into_iter().flat_map(|path| path.into_iter()).collect()
}

/// A smooth line through points that are tops and hollows by turns: level at each.
fn smooth(path: &mut BezPath, points: &[Point]) {
    for pair in points.windows(2) {
        // So far along, a rise is as steep in its middle as that of a sine.
        let along = Vec2::new(0.3642 * (pair[1].x - pair[0].x), 0.0);
        path.curve_to(pair[0] + along, pair[1] - along, pair[1]);
    }
}

/// Down the right side, along the foot and up again.
fn closed_below(mut path: BezPath, wide: f64, high: f64) -> BezPath {
    path.line_to((wide, high));
    path.line_to((0.0, high));
    path.close_path();
    path
}

pub(super) fn circle(given: &Given) -> BezPath {
    Circle::new((0.0, 0.0), 0.5 * given.mm("across")).to_path(CLOSE)
}

pub(super) fn ring(given: &Given) -> BezPath {
    let (radius, band) = (0.5 * given.mm("across"), given.mm("band"));
    let outer = Circle::new((0.0, 0.0), radius).to_path(CLOSE);
    if band >= radius {
        return outer;
    }
    joined([outer, hole(&Circle::new((0.0, 0.0), radius - band).to_path(CLOSE))])
}

/// Two arcs between two tips: half a circle, and back along a flatter one that leaves the crescent as thick as it is to be.
pub(super) fn crescent(given: &Given) -> BezPath {
    let radius = 0.5 * given.mm("across");
    let thick = given.mm("thick").min(2.0 * radius - 0.1);
    // The inner arc goes through both tips and stands off from the outer one by the thickness in the middle.
    let rise = radius - thick;
    let mut path = BezPath::new();
    path.move_to((0.0, -radius));
    let arc = |path: &mut BezPath, centre: f64, radius: f64, from: f64, sweep: f64| {
        let arc = kurbo::Arc::new((centre, 0.0), (radius, radius), from, sweep, 0.0);
        arc.to_cubic_beziers(CLOSE, |a, b, c| path.curve_to(a, b, c));
    };
    arc(&mut path, 0.0, radius, -0.5 * PI, -PI);
    if rise.abs() < 1e-6 {
        path.line_to((0.0, -radius));
    } else {
        // A chord of two radii, `rise` high.
        let inner = (radius * radius + rise * rise) / (2.0 * rise.abs());
        let centre = if rise > 0.0 { inner - rise } else { -(inner - rise.abs()) };
        let half = (radius / inner).clamp(-1.0, 1.0).asin();
        let half = if rise.abs() > inner { PI - half } else { half };
        let (from, sweep) = if rise > 0.0 { (PI - half, 2.0 * half) } else { (half, -2.0 * half) };
        arc(&mut path, centre, inner, from, sweep);
    }
    path.close_path();
    path
}

pub(super) fn strip(given: &Given) -> BezPath {
    rect(0.0, 0.0, given.mm("wide"), given.mm("high"))
}

pub(super) fn cell(given: &Given) -> BezPath {
    let sides = given.number("sides").max(3);
    let turn = std::f64::consts::TAU / f64::from(sides);
    // Its flats are as far from the middle as half the way across.
    let radius = 0.5 * given.mm("flat") / (0.5 * turn).cos();
    polygon((0..sides).map(|n| {
        let at = turn * f64::from(n) - std::f64::consts::FRAC_PI_2;
        Point::new(radius * at.cos(), radius * at.sin())
    }))
}

pub(super) fn frame(given: &Given) -> BezPath {
    let (wide, high, band) = (given.mm("wide"), given.mm("high"), given.mm("band"));
    let outer = rect(0.0, 0.0, wide, high);
    if 2.0 * band >= wide.min(high) {
        return outer;
    }
    joined([outer, hole(&rect(band, band, wide - 2.0 * band, high - 2.0 * band))])
}

pub(super) fn hill_line(given: &Given) -> BezPath {
    let (wide, high, humps) = (given.mm("wide"), given.mm("high"), given.number("humps"));
    let rise = given.mm("rise").min(0.9 * high);
    let mut random = random(given);
    let at = |n: u32, random: &mut ChaCha8Rng| {
        // Tops and hollows by turns, none like the other.
        let share = 0.25 * chance(random);
        let y = if n % 2 == 1 { share } else { 1.0 - share } * rise;
        let shift = if n == 0 || n == 2 * humps { 0.0 } else { 0.5 * (chance(random) - 0.5) };
        Point::new((f64::from(n) + shift) * wide / f64::from(2 * humps), y)
    };
    let points: Vec<Point> = (0..=2 * humps).map(|n| at(n, &mut random)).collect();
    let mut path = BezPath::new();
    path.move_to(points[0]);
    smooth(&mut path, &points);
    closed_below(path, wide, high)
}

/// Humps of a cloud, each an arc from one hollow to the next.
pub(super) fn cloud_edge(given: &Given) -> BezPath {
    let (wide, high, humps) = (given.mm("wide"), given.mm("high"), given.number("humps"));
    let mut random = random(given);
    let widths: Vec<f64> = (0..humps).map(|_| 0.6 + 0.8 * chance(&mut random)).collect();
    let all: f64 = widths.iter().sum();
    let hollow = 0.35 * high.min(wide / f64::from(humps) * 2.0);
    let mut path = BezPath::new();
    let level = |random: &mut ChaCha8Rng| hollow * (1.0 + 0.5 * chance(random));
    let mut from = Point::new(0.0, level(&mut random));
    path.move_to(from);
    for (nth, width) in widths.iter().enumerate() {
        let to = Point::new(from.x + width * wide / all, level(&mut random));
        let chord = to.x - from.x;
        // A hump a little rounder than half a circle, kept below the top of the box.
        let up = (0.68 * chord).min(1.3 * from.y.min(to.y));
        // Humps hang over the hollows between them, and end straight at the sides.
        let over = |is_end: bool| if is_end { 0.0 } else { 0.08 * chord };
        let out = Vec2::new(-over(nth == 0), -up);
        let back = Vec2::new(over(nth + 1 == widths.len()), -up);
        path.curve_to(from + out, to + back, to);
        from = to;
    }
    closed_below(path, wide, high)
}

pub(super) fn torn_edge(given: &Given) -> BezPath {
    let (wide, high, rough) = (given.mm("wide"), given.mm("high"), given.mm("rough"));
    let mut random = random(given);
    // Middles are moved by less and less, as paper tears: large swings, small fibres on them.
    let mut heights = vec![chance(&mut random), chance(&mut random)];
    let mut by = 1.0;
    while (wide / (heights.len() - 1) as f64) > 1.2 && heights.len() < 600 {
        by *= 0.62;
        heights = heights
            .windows(2)
            .flat_map(|pair| [pair[0], 0.5 * (pair[0] + pair[1]) + by * (chance(&mut random) - 0.5)])
            .chain(heights.last().copied())
            .collect::<Vec<_>>();
    }
    let (least, most) = heights.iter().fold((f64::MAX, f64::MIN), |(a, b), h| (a.min(*h), b.max(*h)));
    let scale = rough.min(0.9 * high) / (most - least).max(1e-9);
    let step = wide / (heights.len() - 1) as f64;
    let mut path = BezPath::new();
    for (nth, height) in heights.iter().enumerate() {
        let point = Point::new(nth as f64 * step, (height - least) * scale);
        if nth == 0 { path.move_to(point) } else { path.line_to(point) }
    }
    closed_below(path, wide, high)
}

pub(super) fn waves(given: &Given) -> BezPath {
    let (wide, high, rows) = (given.mm("wide"), given.mm("high"), given.number("rows"));
    let (wave, thick) = (given.mm("wave"), given.mm("thick"));
    let pitch = high / f64::from(rows);
    let thick = thick.min(0.8 * pitch);
    let swing = 0.5 * (pitch - thick).min(0.6 * wave).max(0.0);
    let steps = (2.0 * wide / wave).ceil().max(1.0) as u32;
    let row = |n: u32| {
        let level = (f64::from(n) + 0.5) * pitch;
        let line = |side: f64| -> Vec<Point> {
            let at = |k: u32| {
                let up = if k.is_multiple_of(2) { swing } else { -swing };
                Point::new(f64::from(k) * wide / f64::from(steps), level + up + side)
            };
            (0..=steps).map(at).collect()
        };
        let (upper, mut lower) = (line(-0.5 * thick), line(0.5 * thick));
        lower.reverse();
        let mut path = BezPath::new();
        path.move_to(upper[0]);
        smooth(&mut path, &upper);
        path.line_to(lower[0]);
        smooth(&mut path, &lower);
        path.close_path();
        path
    };
    joined((0..rows).map(row))
}

pub(super) fn rays(given: &Given) -> BezPath {
    let (radius, count) = (0.5 * given.mm("across"), given.number("count"));
    let heart = (0.5 * given.mm("heart")).min(0.9 * radius);
    let half = 0.25 * TAU / f64::from(count);
    let at = |radius: f64, angle: f64| Point::new(radius * angle.sin(), -radius * angle.cos());
    let ray = |n: u32| {
        let middle = f64::from(n) * TAU / f64::from(count);
        let (from, to) = (middle - half, middle + half);
        if heart == 0.0 {
            polygon([Point::ZERO, at(radius, from), at(radius, to)])
        } else {
            polygon([at(heart, from), at(radius, from), at(radius, to), at(heart, to)])
        }
    };
    joined((0..count).map(ray))
}

pub(super) fn brick(given: &Given) -> BezPath {
    let (wide, high, joint) = (given.mm("wide"), given.mm("high"), given.mm("joint"));
    let (brick, course) = (given.mm("brick"), given.mm("course"));
    let rows = (high / (course + joint)).ceil() as u32;
    let columns = (wide / (brick + joint)).ceil() as u32 + 1;
    let mut bricks = Vec::new();
    for row in 0..rows {
        let top = f64::from(row) * (course + joint);
        // Every other course is half a brick along.
        let start = if row % 2 == 1 { -0.5 * (brick + joint) } else { 0.0 };
        for column in 0..columns {
            let left = start + f64::from(column) * (brick + joint);
            let (from, to) = (left.max(0.0), (left + brick).min(wide));
            let foot = (top + course).min(high);
            if to - from > 0.2 * course && foot - top > 0.2 * course {
                bricks.push(rect(from, top, to - from, foot - top));
            }
        }
    }
    joined(bricks)
}

/// Cells of a grid whose rows are shifted by half a cell, each kept where all of it lies in the box.
fn grid(
    wide: f64,
    high: f64,
    pitch: (f64, f64),
    size: (f64, f64),
    cell: impl Fn(Point) -> BezPath,
) -> BezPath {
    let rows = ((high - size.1) / pitch.1 + 1e-9).floor().max(0.0) as u32 + 1;
    let cells = (0..rows).flat_map(|row| {
        let shift = if row % 2 == 1 { 0.5 * pitch.0 } else { 0.0 };
        let columns = ((wide - size.0 - shift) / pitch.0 + 1e-9).floor();
        let count = if columns < 0.0 { 0 } else { columns as u32 + 1 };
        (0..count).map(move |column| {
            let left = f64::from(column) * pitch.0 + shift;
            Point::new(left + 0.5 * size.0, f64::from(row) * pitch.1 + 0.5 * size.1)
        })
    });
    joined(cells.map(cell))
}

/// A hexagon that stands on a corner, so wide from flat to flat.
fn hexagon(centre: Point, flat: f64) -> BezPath {
    let side = flat / 3.0_f64.sqrt();
    polygon((0..6).map(|n| {
        let (sin, cos) = ((f64::from(n) + 0.5) * PI / 3.0).sin_cos();
        centre + Vec2::new(side * cos, side * sin)
    }))
}

/// Six-sided cells, each as it is drawn, with so much room kept free round all of them, sideways and up and down.
fn cells(given: &Given, room: (f64, f64), cell: impl Fn(Point) -> BezPath) -> BezPath {
    let (flat, wall) = (given.mm("cell"), given.mm("wall"));
    let pitch = (flat + wall, (flat + wall) * 0.5 * 3.0_f64.sqrt());
    let (wide, high) = (given.mm("wide") - 2.0 * room.0, given.mm("high") - 2.0 * room.1);
    grid(wide, high, pitch, (flat, 2.0 * flat / 3.0_f64.sqrt()), cell)
}

pub(super) fn honeycomb(given: &Given) -> BezPath {
    cells(given, (0.0, 0.0), |centre| hexagon(centre, given.mm("cell")))
}

/// What stands between the cells of a honeycomb and round them: about each its own wall, which comes up to the next cell.
pub(super) fn comb_walls(given: &Given) -> BezPath {
    let (flat, wall) = (given.mm("cell"), given.mm("wall"));
    cells(given, (wall, 2.0 * wall / 3.0_f64.sqrt()), |centre| {
        joined([hexagon(centre, flat + 2.0 * wall), hole(&hexagon(centre, flat))])
    })
}

fn diamond(centre: Point, across: f64, tall: f64) -> BezPath {
    let (a, b) = (Vec2::new(0.5 * across, 0.0), Vec2::new(0.0, 0.5 * tall));
    polygon([centre - b, centre + a, centre + b, centre - a])
}

/// Diamonds, each as it is drawn with how much larger one is that a wall goes round, and whether room is kept for that.
fn lozenges(given: &Given, is_walled: bool, one: impl Fn(Point, f64) -> BezPath) -> BezPath {
    let (across, tall, wall) = (given.mm("diamond"), given.mm("tall"), given.mm("wall"));
    // The wall is measured straight across it; along the rows it takes more room.
    let slant = across.hypot(tall);
    let pitch = (across + wall * slant / tall, 0.5 * (tall + wall * slant / across));
    // From the middle to a side it is across · tall / 2 slant.
    let larger = 1.0 + 2.0 * wall * slant / (across * tall);
    let room = if is_walled { larger - 1.0 } else { 0.0 };
    let (wide, high) = (given.mm("wide") - room * across, given.mm("high") - room * tall);
    grid(wide, high, pitch, (across, tall), |centre| one(centre, larger))
}

pub(super) fn diamonds(given: &Given) -> BezPath {
    lozenges(given, false, |centre, _| diamond(centre, given.mm("diamond"), given.mm("tall")))
}

/// What stands between diamonds and round them.
pub(super) fn lattice(given: &Given) -> BezPath {
    let (across, tall) = (given.mm("diamond"), given.mm("tall"));
    lozenges(given, true, |centre, larger| {
        let own = diamond(centre, across, tall);
        joined([diamond(centre, larger * across, larger * tall), hole(&own)])
    })
}

/// The joints between bricks.
pub(super) fn joints(given: &Given) -> BezPath {
    let all = rect(0.0, 0.0, given.mm("wide"), given.mm("high"));
    joined([all, hole(&brick(given))])
}

fn star(centre: Point, radius: f64, turn: f64) -> BezPath {
    polygon((0..10).map(|n| {
        let reach = if n % 2 == 0 { radius } else { 0.42 * radius };
        let (sin, cos) = (turn + f64::from(n) * PI / 5.0).sin_cos();
        centre + Vec2::new(reach * sin, -reach * cos)
    }))
}

pub(super) fn stars(given: &Given) -> BezPath {
    let (wide, high, most) = (given.mm("wide"), given.mm("high"), 0.5 * given.mm("star"));
    let mut random = random(given);
    let mut placed: Vec<(Point, f64)> = Vec::new();
    // Large ones first; one that finds no room free of the others after some tries is left out.
    let count = given.number("count");
    for n in 0..count {
        let radius = most * (1.0 - 0.6 * f64::from(n) / f64::from(count));
        let (across, down) = ((wide - 2.0 * radius).max(0.0), (high - 2.0 * radius).max(0.0));
        for _ in 0..40 {
            let at = Point::new(radius + across * chance(&mut random), radius + down * chance(&mut random));
            let is_free = |(other, reach): &(Point, f64)| at.distance(*other) > 1.15 * (radius + reach) + 1.0;
            if placed.iter().all(is_free) {
                placed.push((at, radius));
                break;
            }
        }
    }
    joined(placed.into_iter().map(|(at, radius)| {
        let turn = chance(&mut random) * TAU / 5.0;
        star(at, radius, turn)
    }))
}

/// A leaf from its stalk to its tip.
fn leaf(from: Point, along: Vec2) -> BezPath {
    let side = Vec2::new(-along.y, along.x) * 0.34;
    let tip = from + along;
    let mut path = BezPath::new();
    path.move_to(from);
    path.curve_to(from + along * 0.2 + side, from + along * 0.7 + side, tip);
    path.curve_to(from + along * 0.7 - side, from + along * 0.2 - side, from);
    path.close_path();
    path
}

pub(super) fn leaf_sprig(given: &Given) -> BezPath {
    let (tall, pairs) = (given.mm("tall"), given.number("pairs"));
    let step = tall / (f64::from(pairs) + 1.2);
    let half = (0.012 * tall).max(0.5);
    let stalk = polygon(
        [(-half, tall), (half, tall), (0.4 * half, step), (-0.4 * half, step)].map(|(x, y)| Point::new(x, y)),
    );
    let leaves = (0..pairs).flat_map(|n| {
        // The lower, the longer.
        let y = tall - (f64::from(n) + 0.7) * step;
        let long = 1.25 * step * (1.0 - 0.45 * f64::from(n) / f64::from(pairs));
        [-1.0, 1.0].map(|side| leaf(Point::new(0.0, y), Vec2::new(side * 0.82, -0.57) * long))
    });
    let top = leaf(Point::new(0.0, 1.05 * step), Vec2::new(0.0, -1.05 * step));
    joined(leaves.chain([stalk, top]))
}

pub(super) fn heart(given: &Given) -> BezPath {
    let mut path = BezPath::new();
    path.move_to((0.0, 0.9));
    path.curve_to((-0.35, 0.62), (-1.0, 0.22), (-1.0, -0.32));
    path.curve_to((-1.0, -0.72), (-0.7, -0.9), (-0.46, -0.9));
    path.curve_to((-0.22, -0.9), (-0.06, -0.74), (0.0, -0.52));
    path.curve_to((0.06, -0.74), (0.22, -0.9), (0.46, -0.9));
    path.curve_to((0.7, -0.9), (1.0, -0.72), (1.0, -0.32));
    path.curve_to((1.0, 0.22), (0.35, 0.62), (0.0, 0.9));
    path.close_path();
    Affine::scale(0.5 * given.mm("across")) * path
}

#[cfg(test)]
mod tests {
    use crate::shape::Region;
    use std::collections::BTreeMap;

    use crate::length::{Length, Units};
    use crate::shape::family::{Drawn, FAMILIES, Kind, Value};

    fn drawn(family: &str, measures: &[(&str, Value)]) -> Drawn {
        let measures = measures.iter().map(|(key, value)| ((*key).to_owned(), *value)).collect();
        Drawn { family: family.into(), measures, letters: "Ebb".into() }
    }

    fn sixty_fourths(n: i64) -> Value {
        Value::Length(Length::from_64ths(n))
    }

    #[test]
    fn every_measure_begins_with_a_mark_of_the_maker_s_own_ruler() {
        for family in &FAMILIES {
            for units in [Units::Inches, Units::Millimetres] {
                let drawn = Drawn::usual_in(family, units);
                assert!(!drawn.outline().unwrap().region().is_empty(), "{}", family.key);
                for (key, value) in &drawn.measures {
                    let Value::Length(length) = value else { continue };
                    assert!(
                        family.measures.iter().any(|one| one.key == key && one.takes(*value)),
                        "{}: {key}",
                        family.key
                    );
                    let mark = match units {
                        Units::Inches => Length::from_64ths(1),
                        Units::Millimetres => Length::from_tenths_mm(10),
                    };
                    assert_eq!(Length::nearest(length.mm(), mark), *length, "{}: {key}", family.key);
                }
            }
        }
    }

    #[test]
    fn every_family_draws_something_and_stays_within_its_box() {
        for family in &FAMILIES {
            let region = Drawn::usual(family).outline().unwrap().region();
            assert!(region.area() > 1.0, "{}", family.key);
            let usual = |key: &str| {
                family.measures.iter().find(|measure| measure.key == key).and_then(|measure| {
                    match measure.kind {
                        Kind::Length(usual, ..) => Some(Length::from_64ths(usual).mm()),
                        Kind::Number(..) => None,
                    }
                })
            };
            let (least, most) = region.bounds().unwrap();
            if let (Some(wide), Some(high), false) = (usual("wide"), usual("high"), family.is_word()) {
                assert!(most[0] - least[0] < wide + 0.1, "{}: {} in {wide}", family.key, most[0] - least[0]);
                assert!(most[1] - least[1] < high + 0.1, "{}: {} in {high}", family.key, most[1] - least[1]);
            }
            if let Some(across) = usual("across") {
                assert!((most[0] - least[0] - across).abs() < 0.51 * across, "{}", family.key);
            }
        }
    }

    #[test]
    fn measures_at_their_ends_draw_something_or_say_why_not() {
        for family in &FAMILIES {
            for measure in family.measures {
                let ends = match measure.kind {
                    Kind::Length(_, least, most) => [sixty_fourths(least), sixty_fourths(most)],
                    Kind::Number(_, least, most) => [Value::Number(least), Value::Number(most)],
                };
                for end in ends {
                    let mut shape = Drawn::usual(family);
                    shape.measures.insert(measure.key.into(), end);
                    match shape.outline() {
                        Ok(outline) => assert!(outline.path().is_finite(), "{} {end:?}", family.key),
                        Err(error) => assert!(error.to_string().len() > 20, "{}: {error}", family.key),
                    }
                }
            }
        }
    }

    #[test]
    fn areas_are_those_of_plane_geometry() {
        use std::f64::consts::PI;
        let area = |family: &str, measures: &[(&str, Value)]| {
            drawn(family, measures).outline().unwrap().region().area()
        };
        let close = |got: f64, meant: f64| assert!((got / meant - 1.0).abs() < 2e-3, "{got} {meant}");
        let (inch, across) = (25.4, ("across", sixty_fourths(128)));
        close(area("circle", &[across]), PI * inch * inch);
        close(area("ring", &[across, ("band", sixty_fourths(32))]), PI * inch * inch * 0.75);
        // A crescent as thick as its radius is half a disc.
        close(area("crescent", &[across, ("thick", sixty_fourths(64))]), 0.5 * PI * inch * inch);
        close(area("strip", &[("wide", sixty_fourths(128)), ("high", sixty_fourths(64))]), 2.0 * inch * inch);
        // Rays and the gaps between them are alike; straight ends cut off a little of the circle.
        let rays = area("rays", &[across, ("heart", sixty_fourths(0)), ("count", Value::Number(72))]);
        close(rays, 72.0 * 0.5 * inch * inch * (PI / 72.0).sin());
        let frame = [("wide", sixty_fourths(256)), ("high", sixty_fourths(128)), ("band", sixty_fourths(16))];
        close(area("frame", &frame), (4.0 * 2.0 - 3.5 * 1.5) * inch * inch);
    }

    #[test]
    fn the_walls_of_a_honeycomb_are_as_thick_as_they_are_to_be() {
        let cells = drawn("honeycomb", &[("wall", sixty_fourths(8)), ("cell", sixty_fourths(32))]);
        let cells = cells.outline().unwrap().region();
        let count = cells.count();
        let wall = Length::from_64ths(8).mm();
        // Grown by just less than half a wall the cells stay apart, by just more they join.
        assert_eq!(cells.grown(0.49 * wall).count(), count);
        assert!(cells.grown(0.51 * wall).count() < count / 4);
    }

    #[test]
    fn walls_and_cells_fill_their_field_and_nothing_twice() {
        let measures = [("wide", sixty_fourths(256)), ("high", sixty_fourths(200))];
        for (cells, walls) in [("honeycomb", "comb-walls"), ("diamonds", "lattice"), ("brick", "joints")] {
            let of = |family: &str| drawn(family, &measures).outline().unwrap().region();
            let (cells, walls) = (of(cells), of(walls));
            // All one piece, with a hole for each cell, as large as one.
            assert_eq!(walls.count(), 1);
            let holes = walls.holes();
            assert!(holes.len() > 6, "{}", holes.len());
            let largest = |all: Vec<Region>| all.iter().map(Region::area).fold(0.0, f64::max);
            let (hole, cell) = (largest(holes), largest(cells.parts().collect()));
            assert!((hole / cell - 1.0).abs() < 1e-3, "{hole} {cell}");
            let bounds = walls.bounds().unwrap();
            let (wide, high) = (bounds.1[0] - bounds.0[0], bounds.1[1] - bounds.0[1]);
            let most = (Length::from_64ths(256).mm() + 1e-3, Length::from_64ths(200).mm() + 1e-3);
            assert!(wide <= most.0 && high <= most.1, "{wide} {high}");
        }
    }

    #[test]
    fn chance_is_the_same_for_the_same_number() {
        let at = |n: u32| drawn("stars", &[("chance", Value::Number(n))]).outline().unwrap().data();
        assert_eq!(at(3), at(3));
        assert_ne!(at(3), at(4));
        let error = drawn("stars", &[("chance", Value::Number(0))]).outline().unwrap_err().to_string();
        assert!(error.contains("1 to 999"), "{error}");
        let empty = Drawn { family: "word".into(), measures: BTreeMap::new(), letters: " ".into() };
        assert!(empty.outline().is_err());
    }
}
