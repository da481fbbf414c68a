//! What happened along edges: of the border, and of each shape?
//!
//! Across an edge the photo goes from one colour to another within a hair. Where it does so, against where it should, all along the
//! edge, tells a shape that slipped (the same way all round), ink that crept under a mask (inward, for a stretch), and a design that
//! is off the panel's middle or not square to it. Bare card between two inks is a halo.

use nalgebra::{Matrix2, Matrix3, Vector2, Vector3};
use rosy_core::shape::{Region, Use};

use super::flaw::{Flaw, FlawKind};
use super::seen::White;
use super::wanted::Wanted;
use crate::field::Field;
use crate::picture::Picture;
use crate::plane::Plane;
use crate::rank::{at_share, median};

/// Millimetres between the places along an edge, and those across it.
const ALONG: f64 = 0.8;
const ACROSS: f64 = 0.1;
/// From where to where it is looked what lies on either side, in millimetres.
pub(super) const SIDES: [f64; 2] = [3.4, 4.6];
/// The least difference between both sides by which an edge is seen (logarithm of light), and by how much inks have to lie on both
/// that a halo between them is one.
const SHOWS: f64 = 0.36;
const INKED: f64 = 0.16;
/// Millimetres from which on each is a fault: a halo, ink under a mask and for how long, a slip, a design off the middle; and degrees.
const HALO: f64 = 0.42;
/// The same where what bare card looks like is not seen but taken from the plan.
const HALO_BY_PLAN: f64 = 0.75;
const BLEED: f64 = 0.9;
const BLEED_LONG: f64 = 4.0;
const SLIP: f64 = 0.85;
const OFF_MIDDLE: f64 = 0.85;
const OFF_SQUARE: f64 = 0.45;
/// Within how many millimetres an edge is crossed.
const SHARP: f64 = 0.9;
/// Beyond so many millimetres a place counts for less.
const ODD: f64 = 0.2;
/// Millimetres by which a plug lies off its shape from which on it is a fault.
const OFF_PLACE: f64 = 0.75;
/// How far edges are thought to lie from their line before it is looked, in millimetres (standard deviation), against what a colour is
/// off by (logarithm of light, over a millimetre).
const APART: f64 = 1.0;
const UNSURE: f64 = 0.05;
/// The power by which photos are coded, about: what is shown at a half is a fifth of the light (IEC 61966-2-1).
const CODED: f64 = 2.2;
/// Pixels to a millimetre below which no hair is seen.
const FINE: f64 = 5.0;

/// A place on an edge: where, the way outward, and how far along the edge it lies.
#[derive(Clone, Copy, Debug)]
pub struct Post {
    /// Where, in millimetres.
    pub at: [f64; 2],
    /// The way outward.
    pub out: [f64; 2],
}

/// What is seen across an edge at one place: logarithms of light.
pub type Profile = Vec<Vector3<f64>>;

/// How a plug lay that was put back on an inked shape, against the shape's own edge.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Register {
    /// By how many millimetres it lay to the right and below.
    pub off: [f64; 2],
    /// By how many millimetres it is larger all round, so that bare card shows.
    pub wider: f64,
}

/// Looks across edges.
pub struct Edges<'a> {
    /// The photo.
    pub picture: &'a Picture,
    /// Where the panel lies in it.
    pub plane: &'a Plane,
    /// The plan.
    pub wanted: &'a Wanted,
}

/// How the whole design lies on the panel.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Askew {
    /// By how many millimetres its middle is off to the right and down.
    pub by: [f64; 2],
    /// By how many degrees it is turned.
    pub turn: f64,
}

impl Askew {
    /// Whether that is worth telling.
    pub fn is_fault(&self) -> bool {
        self.by[0].hypot(self.by[1]) > OFF_MIDDLE || self.turn.abs() > OFF_SQUARE
    }
}

impl Edges<'_> {
    fn size(&self) -> [f64; 2] {
        let (w, h) = self.wanted.surface.materials.size_mm();
        [w, h]
    }

    /// The places along the edge of a region, contour by contour.
    fn posts(region: &Region) -> Vec<Vec<Post>> {
        let of_contour = |contour: &Vec<[f64; 2]>| {
            let mut posts = Vec::new();
            let mut left_over = 0.0;
            for (n, from) in contour.iter().enumerate() {
                let to = contour[(n + 1) % contour.len()];
                let (u, v) = (to[0] - from[0], to[1] - from[1]);
                let long = u.hypot(v);
                if long < 1e-9 {
                    continue;
                }
                let mut along = left_over;
                while along < long {
                    let at = [from[0] + u * along / long, from[1] + v * along / long];
                    let aside = [v / long, -u / long];
                    let is_in = region.has([at[0] + 0.05 * aside[0], at[1] + 0.05 * aside[1]]);
                    let out = if is_in { aside.map(|along| -along) } else { aside };
                    posts.push(Post { at, out });
                    along += ALONG;
                }
                left_over = along - long;
            }
            posts
        };
        region.contours().map(of_contour).collect()
    }

    /// What is seen across an edge, from some millimetres within to some without.
    fn profile(&self, post: &Post, from: f64, to: f64) -> Option<Profile> {
        let count = ((to - from) / ACROSS).round() as usize;
        (0..=count)
            .map(|n| {
                let t = from + n as f64 * ACROSS;
                let rgb = self
                    .picture
                    .at(self.plane.pixel([post.at[0] + t * post.out[0], post.at[1] + t * post.out[1]]))?;
                Some(Vector3::from(rgb.map(|c| c.max(4e-3).ln())))
            })
            .collect()
    }

    /// The profile with that of its neighbours, so that a tool's grain calms.
    fn calmed(&self, posts: &[Post], n: usize, from: f64, to: f64) -> Option<Profile> {
        let near = |by: usize| (n + posts.len() + by - 1) % posts.len();
        let mut sum: Option<Profile> = None;
        for by in 0..3 {
            let profile = self.profile(&posts[near(by)], from, to)?;
            sum = Some(match sum {
                None => profile,
                Some(sum) => sum.iter().zip(&profile).map(|(a, b)| a + b).collect(),
            });
        }
        sum.map(|sum| sum.into_iter().map(|v| v / 3.0).collect())
    }

    /// How far outward of where it should the edge lies, where its sides differ enough.
    fn edge_at(profile: &Profile, from: f64, [near, far]: [f64; 2], beyond: f64) -> Option<f64> {
        let at = |t: f64| ((t - from) / ACROSS).round() as usize;
        let mean = |a: f64, b: f64| -> Vector3<f64> {
            let range = at(a).min(profile.len() - 1)..=at(b).min(profile.len() - 1);
            let count = range.clone().count() as f64;
            profile[range].iter().sum::<Vector3<f64>>() / count
        };
        let (inner, outer) = (mean(-far, -near), mean(near.min(beyond - 1.0), far.min(beyond)));
        let way = outer - inner;
        let long = way.norm_squared();
        if long < SHOWS * SHOWS {
            return None;
        }
        let shares: Vec<f64> = profile.iter().map(|v| (v - inner).dot(&way) / long).collect();
        // Where it is half way, seen from the side that leaves least doubt: the area under the profile (a step moved by d has d more).
        let (start, end) = (at(-near), at(near.min(beyond)).min(shares.len() - 1));
        let sum: f64 = shares[start..=end].iter().map(|share| share.clamp(-0.2, 1.2)).sum::<f64>() * ACROSS;
        let edge = near.min(beyond) - sum;
        // What goes over slowly is no edge.
        let share_at = |t: f64| shares[at(t.clamp(-far, far.min(beyond))).min(shares.len() - 1)];
        (share_at(edge - SHARP) < 0.35 && share_at(edge + SHARP) > 0.65).then_some(edge)
    }

    /// How the design lies, told by the edges of the border that tape left.
    pub fn askew(&self) -> Option<Askew> {
        let open = self.wanted.surface.materials.masks.open.as_ref()?;
        let (least, most) = open.bounds()?;
        let size = self.size();
        // Four sides, each seen by itself: how far it is off, and how that goes along it.
        let mut seen = [0usize; 2];
        let mut rows: Vec<(Vector3<f64>, f64)> = Vec::new();
        let middle = [size[0] / 2.0, size[1] / 2.0];
        for nth in 0..4 {
            let axis = nth / 2;
            let outward = if nth % 2 == 0 { -1.0 } else { 1.0 };
            let line = if nth % 2 == 0 { least[axis] } else { most[axis] };
            let border = if nth % 2 == 0 { line } else { size[axis] - line };
            if border < 2.0 {
                continue;
            }
            let (from, to) = (least[1 - axis] + 6.0, most[1 - axis] - 6.0);
            let count = ((to - from) / 1.2) as usize;
            let posts: Vec<Post> = (0..count)
                .map(|n| {
                    let along = from + (to - from) * (n as f64 + 0.5) / count as f64;
                    let mut at = [0.0; 2];
                    (at[axis], at[1 - axis]) = (line, along);
                    let mut out = [0.0; 2];
                    out[axis] = outward;
                    Post { at, out }
                })
                .collect();
            let beyond = (border - 0.7).min(SIDES[1]);
            for n in 1..posts.len().saturating_sub(1) {
                let Some(profile) = self.calmed(&posts, n, -SIDES[1], beyond) else { continue };
                let near = SIDES[0].min(beyond);
                if let Some(off) = Edges::edge_at(&profile, -SIDES[1], [near, SIDES[1]], beyond) {
                    let post = posts[n];
                    // Moved by (dx, dy) and turned by w about the middle.
                    let (u, v) = (post.at[0] - middle[0], post.at[1] - middle[1]);
                    let row = Vector3::new(post.out[0], post.out[1], u * post.out[1] - v * post.out[0]);
                    rows.push((row, off));
                    seen[axis] += 1;
                }
            }
        }
        if seen[0] < 20 || seen[1] < 20 {
            return None;
        }
        let mut found = Vector3::zeros();
        for _ in 0..8 {
            let mut normal = Matrix3::identity() * 1e-3;
            let mut side = Vector3::zeros();
            for (row, off) in &rows {
                let left = (off - row.dot(&found)).abs();
                let weight = if left < ODD { 1.0 } else { ODD / left };
                normal += row * row.transpose() * weight;
                side += row * (*off * weight);
            }
            found = normal.cholesky()?.solve(&side);
        }
        Some(Askew { by: [found[0], found[1]], turn: found[2].to_degrees() })
    }

    /// What went wrong along the edges of shapes.
    pub fn of_things(&self, field: &Field, white: White) -> Vec<Flaw> {
        let things = &self.wanted.surface.materials.masks.things;
        // Along an edge that is slid on, or through a stencil, one ink lies over the other: there is no edge between two.
        let is_cut = |thing: &usize| things[*thing].used == Use::Mask;
        (0..things.len()).filter(is_cut).flat_map(|thing| self.of_thing(thing, field, white)).collect()
    }

    /// What is seen across the edge of a thing, wherever nothing else ends beside it.
    pub fn profiles(&self, thing: usize) -> Vec<(Post, Profile)> {
        self.across(thing)
            .into_iter()
            .flatten()
            .filter_map(|(post, profile)| Some((post, profile?)))
            .collect()
    }

    /// How far outward of its line the edge of a thing lies, contour by contour, wherever it is seen.
    pub fn offs(&self, thing: usize) -> Vec<Vec<(Post, f64)>> {
        let off = |(post, profile): (Post, Option<Profile>)| {
            Some((post, Edges::edge_at(&profile?, -SIDES[1], SIDES, SIDES[1])?))
        };
        self.across(thing).into_iter().map(|posts| posts.into_iter().filter_map(off).collect()).collect()
    }

    /// The places along the edge of a thing, contour by contour, with what is seen across them.
    fn across(&self, thing: usize) -> Vec<Vec<(Post, Option<Profile>)>> {
        let Some(thing) = self.wanted.surface.materials.masks.things.get(thing) else { return Vec::new() };
        let inside = &thing.inside;
        let of_contour = |posts: Vec<Post>| {
            let seen = |n: usize| {
                let is_seen =
                    self.is_clear(&posts[n], inside) && self.plane.pixels_a_millimetre(posts[n].at) >= FINE;
                is_seen.then(|| self.calmed(&posts, n, -SIDES[1], SIDES[1])).flatten()
            };
            (0..posts.len()).map(|n| (posts[n], seen(n))).collect()
        };
        Edges::posts(inside).into_iter().filter(|posts| posts.len() >= 12).map(of_contour).collect()
    }

    /// How the plug of a thing that is inked lay when the ground came on.
    pub fn register(&self, thing: usize, field: &Field) -> Option<Register> {
        let both: Vec<(Post, [f64; 2])> = self
            .profiles(thing)
            .into_iter()
            .filter(|(post, _)| self.is_inked(post))
            .filter_map(|(post, profile)| Some((post, two_edges(&profile, field.card(post.at))?)))
            .collect();
        let of =
            |which: usize| -> Vec<(Post, f64)> { both.iter().map(|(post, at)| (*post, at[which])).collect() };
        let (inner, outer) = (of(0), of(1));
        if both.len() < 16 || !is_all_round(&inner) {
            return None;
        }
        let apart = moved(&outer)? - moved(&inner)?;
        Some(Register { off: [apart[0], apart[1]], wider: apart[2] })
    }

    fn of_thing(&self, thing: usize, field: &Field, white: White) -> Vec<Flaw> {
        let inside = &self.wanted.surface.materials.masks.things[thing].inside;
        let mut flaws = Vec::new();
        let (mut rows, mut widths) = (Vec::new(), Vec::new());
        for contour in self.across(thing) {
            let (mut posts, mut offs): (Vec<Post>, Vec<Option<f64>>) = Default::default();
            for (post, profile) in contour {
                let inked = profile.as_ref().filter(|_| self.is_inked(&post));
                widths.extend(inked.and_then(|profile| halo(profile, field.card(post.at))));
                posts.push(post);
                offs.push(profile.and_then(|profile| Edges::edge_at(&profile, -SIDES[1], SIDES, SIDES[1])));
            }
            rows.push((posts, offs));
        }
        // A plug that lay beside its shape leaves bare card on one side and a dark rim on the other.
        let register = self.register(thing, field).filter(|_| white == White::Card);
        if let Some(Register { off, .. }) =
            register.filter(|found| found.off[0].hypot(found.off[1]) > OFF_PLACE)
        {
            let bounds = inside.bounds().unwrap_or_default();
            let flaw = Flaw::of(FlawKind::OffPlace, [bounds.0, bounds.1], off[0].hypot(off[1]));
            return vec![Flaw { thing: Some(thing), by: Some(off), ..flaw }];
        }
        // A halo makes an edge that is none.
        let is_told = widths.len() >= 12;
        if let Some(usual) = median(widths).filter(|_| is_told) {
            let limit = if white == White::Card { HALO } else { HALO_BY_PLAN };
            if usual > limit {
                let bounds = inside.bounds().unwrap_or_default();
                flaws.push(Flaw {
                    thing: Some(thing),
                    ..Flaw::of(FlawKind::Halo, [bounds.0, bounds.1], usual)
                });
                return flaws;
            }
        }
        let told: Vec<(Post, f64)> = rows
            .iter()
            .flat_map(|(posts, offs)| posts.iter().zip(offs).filter_map(|(post, off)| Some((*post, (*off)?))))
            .collect();
        if told.len() < 16 {
            return flaws;
        }
        let Some(moved) = moved(&told) else { return flaws };
        let far = moved[0].hypot(moved[1]);
        if far > SLIP && is_all_round(&told) {
            let bounds = inside.bounds().unwrap_or_default();
            let flaw = Flaw::of(FlawKind::Slipped, [bounds.0, bounds.1], far);
            flaws.push(Flaw { thing: Some(thing), by: Some([moved[0], moved[1]]), ..flaw });
        }
        for (posts, offs) in &rows {
            flaws.extend(bled(posts, offs, moved).map(|flaw| Flaw { thing: Some(thing), ..flaw }));
        }
        flaws
    }

    /// Whether ink is planned on both sides of an edge.
    fn is_inked(&self, post: &Post) -> bool {
        [-SIDES[1], SIDES[1]].into_iter().all(|t| {
            let grid = self.wanted.grid;
            let [x, y] = [0, 1].map(|axis| (post.at[axis] + t * post.out[axis]).max(0.0) as usize);
            let place =
                (x < grid.columns && y < grid.rows).then(|| &self.wanted.places[x + y * grid.columns]);
            place.and_then(Option::as_ref).is_some_and(|place| !place.is_bare)
        })
    }

    /// Whether nothing else ends within what is looked at across an edge.
    fn is_clear(&self, post: &Post, inside: &Region) -> bool {
        let at = |t: f64| [post.at[0] + t * post.out[0], post.at[1] + t * post.out[1]];
        let part = |t: f64| {
            let [x, y] = at(t);
            let grid = self.wanted.grid;
            if x < 0.0 || y < 0.0 || x as usize >= grid.columns || y as usize >= grid.rows {
                return None;
            }
            self.wanted.places[x as usize + y as usize * grid.columns]
                .as_ref()
                .map(|place| (place.part, place.is_even))
        };
        let (within, beyond) = (part(-SIDES[1]), part(SIDES[1]));
        let same = |t: f64, as_far: Option<(usize, bool)>| {
            part(t).map(|(part, _)| part) == as_far.map(|(part, _)| part)
        };
        let (Some(_), Some(_)) = (within, beyond) else { return false };
        inside.has(at(-SIDES[1])) && !inside.has(at(SIDES[1])) && same(-2.5, within) && same(2.5, beyond)
    }
}

/// How wide bare card shows between two inks, in millimetres; nothing where one side is bare.
///
/// Between what lies on its own side and the card, how much of the card is seen at each place; its sum is what a lens that blurs
/// leaves as it was, as long as light is added up and not its logarithm.
fn halo(profile: &Profile, card: [f64; 3]) -> Option<f64> {
    let light = |v: &Vector3<f64>| v.map(|log| (CODED * log).exp());
    let bare = Vector3::from(card.map(|c| c.max(4e-3).ln()));
    let at = |t: f64| ((t + SIDES[1]) / ACROSS).round() as usize;
    let mean = |a: f64, b: f64| {
        let range = at(a)..=at(b).min(profile.len() - 1);
        let count = range.clone().count() as f64;
        profile[range].iter().sum::<Vector3<f64>>() / count
    };
    let (inner, outer) = (mean(-SIDES[1], -SIDES[0]), mean(SIDES[0], SIDES[1]));
    let deep = |side: &Vector3<f64>| (bare - side).map(|c| c.max(0.0)).norm();
    if deep(&inner).min(deep(&outer)) < INKED {
        return None;
    }
    let card = light(&bare);
    let share = |n: usize, side: &Vector3<f64>| {
        let way = card - light(side);
        (light(&profile[n]) - light(side)).dot(&way) / way.norm_squared()
    };
    let both = |n: usize| share(n, &inner).min(share(n, &outer));
    let most = (at(-2.2)..=at(2.2)).max_by(|a, b| both(*a).total_cmp(&both(*b)))?;
    // From the middle outward as far as any card shows, on either side against what lies on that side.
    let side = |places: &mut dyn Iterator<Item = usize>, of: &Vector3<f64>| {
        places.map(|n| share(n, of)).take_while(|share| *share > 0.08).sum::<f64>() * ACROSS
    };
    let inward = side(&mut (at(-3.2)..most).rev(), &inner);
    let outward = side(&mut (most..=at(3.2)), &outer);
    Some(inward + outward)
}

/// Where the ink inside ends and where the ground's begins, in millimetres outward of the line.
///
/// In the logarithm of light both inks add up where they overlap, and both are missing where they do not meet: so what is seen across the
/// edge, all together, goes with both places, one equation for each colour channel.
fn two_edges(profile: &Profile, card: [f64; 3]) -> Option<[f64; 2]> {
    let count = profile.len();
    let mean = |part: &[Vector3<f64>]| part.iter().sum::<Vector3<f64>>() / part.len().max(1) as f64;
    let side = ((SIDES[1] - SIDES[0]) / ACROSS) as usize;
    let (inside, outside) = (mean(&profile[..side]), mean(&profile[count - side..]));
    let card = Vector3::from(card.map(|c| c.max(4e-3).ln()));
    let left = (2.0 * mean(profile) - inside - outside) * SIDES[1];
    let (by_inner, by_outer) = (inside - card, card - outside);
    let (both, ridge) = (by_inner.dot(&by_outer), (UNSURE / APART).powi(2));
    let normal = Matrix2::new(by_inner.norm_squared() + ridge, both, both, by_outer.norm_squared() + ridge);
    let found = normal.cholesky()?.solve(&Vector2::new(by_inner.dot(&left), by_outer.dot(&left)));
    Some([found[0], found[1]])
}

/// Whether the places of an edge face all ways, so that they tell where a shape lies.
fn is_all_round(told: &[(Post, f64)]) -> bool {
    let sum = |f: &dyn Fn([f64; 2]) -> f64| told.iter().map(|(post, _)| f(post.out)).sum::<f64>();
    let (xx, yy, xy) = (sum(&|[x, _]| x * x), sum(&|[_, y]| y * y), sum(&|[x, y]| x * y));
    let (x, y) = (sum(&|[x, _]| x), sum(&|[_, y]| y));
    let count = told.len() as f64;
    let least = 0.5 * (xx + yy) - (0.25 * (xx - yy).powi(2) + xy * xy).sqrt();
    least > 0.2 * count && x.hypot(y) < 0.35 * count
}

/// How far a shape was moved, and how much larger it is all round, by how far off its edge is at many places.
pub(super) fn moved(told: &[(Post, f64)]) -> Option<Vector3<f64>> {
    let row = |post: &Post| Vector3::new(post.out[0], post.out[1], 1.0);
    let mut found = Vector3::zeros();
    for round in 0..12 {
        let (mut normal, mut side) = (Matrix3::identity() * 1e-3, Vector3::zeros());
        for (post, off) in told {
            let row = row(post);
            let left = (off - row.dot(&found)).abs();
            // The first rounds trust all alike.
            let odd = if round < 2 { 4.0 } else { ODD };
            let weight = if left < odd { 1.0 } else { (odd / left).powi(2) };
            normal += row * row.transpose() * weight;
            side += row * (*off * weight);
        }
        found = normal.cholesky()?.solve(&side);
    }
    Some(found)
}

/// Where ink has crept inward for a stretch of an edge.
fn bled<'a>(
    posts: &'a [Post],
    offs: &'a [Option<f64>],
    moved: Vector3<f64>,
) -> impl Iterator<Item = Flaw> + 'a {
    let inward: Vec<Option<f64>> = posts
        .iter()
        .zip(offs)
        .map(|(post, off)| Some(post.out[0] * moved[0] + post.out[1] * moved[1] + moved[2] - (*off)?))
        .collect();
    let count = posts.len();
    let is_in = move |n: usize| inward[n % count].is_some_and(|by| by > BLEED);
    let start = (0..count).find(|n| !is_in(*n)).unwrap_or(0);
    let mut runs: Vec<Vec<usize>> = Vec::new();
    let mut run: Vec<usize> = Vec::new();
    for n in start..=start + count {
        if n < start + count && is_in(n) {
            run.push(n % count);
        } else if !run.is_empty() {
            runs.push(std::mem::take(&mut run));
        }
    }
    let long = move |run: &Vec<usize>| run.len() as f64 * ALONG > BLEED_LONG;
    runs.into_iter().filter(long).map(move |run| {
        let by: Vec<f64> = run
            .iter()
            .filter_map(|n| {
                let post = &posts[*n];
                Some(post.out[0] * moved[0] + post.out[1] * moved[1] + moved[2] - offs[*n]?)
            })
            .collect();
        let places = run.iter().map(|n| posts[*n].at);
        let least = [0, 1].map(|axis| places.clone().map(|at| at[axis]).fold(f64::INFINITY, f64::min));
        let most = [0, 1].map(|axis| places.clone().map(|at| at[axis]).fold(f64::NEG_INFINITY, f64::max));
        Flaw::of(FlawKind::Bleed, [least, most], at_share(by, 0.8).unwrap_or_default())
    })
}
