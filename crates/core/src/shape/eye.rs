//! What would fall out, tear, or be cut wrongly? A cutter's eye over a shape, and how to mend it.
//!
//! A shape is cut for one of two uses. As a *stencil* its inside is the opening: what is left of the sheet must hold together.
//! As a *mask* both pieces are kept, the frame round it and the plug out of it: the plug must hold together, and its counters
//! are plugs of their own.

use std::sync::Arc;

use kurbo::simplify::{SimplifyOptLevel, SimplifyOptions, simplify_bezpath};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::bridge::{Bridge, bridged, parted};
use super::outline::Outline;
use super::region::{Region, area_of_contour, distance, nearest_on, sides_of};
use super::sides::{Side, Sides};

/// What a shape is cut for.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Use {
    /// A frame and a plug of masking sheet.
    #[default]
    Mask,
    /// An opening in a sheet that ink goes through.
    Stencil,
    /// Strips of low-tack tape along straight edges: nothing is cut.
    Tape,
    /// A strip with the same edge along its top and its foot: laid over a shape it covers it, slid up it leaves it open.
    Slide,
    /// A pattern raised from the card by dry embossing: nothing is cut, and a flat brush skims what stands up.
    Raised,
    /// A rubber stamp: nothing is cut, and nothing lies round it while it is pressed.
    Stamp,
}

impl Use {
    /// All of them.
    pub const ALL: [Use; 6] = [Use::Mask, Use::Stencil, Use::Tape, Use::Slide, Use::Raised, Use::Stamp];

    /// What its pieces are.
    pub const fn words(self) -> &'static str {
        match self {
            Use::Mask => "a frame and its plug",
            Use::Stencil => "a stencil",
            Use::Tape => "tape along its edges",
            Use::Slide => "one strip, slid up",
            Use::Raised => "none: it is raised by dry embossing",
            Use::Stamp => "none: it is stamped",
        }
    }
}

/// What it is cut from.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Material {
    /// Low-tack masking sheet.
    #[default]
    MaskingSheet,
    /// Plastic film for stencils.
    Film,
    /// Card.
    Card,
}

impl Material {
    /// Its name.
    pub const fn words(self) -> &'static str {
        match self {
            Material::MaskingSheet => "masking sheet",
            Material::Film => "stencil film",
            Material::Card => "card",
        }
    }

    /// Millimetres below which a rib of it bends or tears. A sixteenth of an inch for film (makers' rule); sheet that sticks
    /// is held by the card under it, card is stiffer (both chosen).
    pub const fn thinnest(self) -> f64 {
        match self {
            Material::MaskingSheet => 0.8,
            Material::Film => 1.5875,
            Material::Card => 1.2,
        }
    }

    /// How wide bridges are laid in it, in millimetres: twice its thinnest rib.
    pub const fn bridge(self) -> f64 {
        2.0 * self.thinnest()
    }
}

/// Millimetres from corner to corner below which a blade turns without moving on (chosen).
const DENSE: f64 = 0.25;
/// How far a simpler outline may lie from the one it stands for, in millimetres (chosen: less than a blade wanders).
const SIMPLER: f64 = 0.03;
/// Radians from line to line that are a corner, and not a bend drawn in many lines (chosen: about 15°).
const CORNERED: f64 = 0.25;
/// Share of the thinnest rib's square that a part must have to be a rib, and not the rounding of a corner.
const CORNER: f64 = 0.3;

/// Millimetres from one place to the next at which a rib is measured, most places in all, and how many times the thinnest
/// rib it is looked across (chosen).
const PROBED: f64 = 0.2;
const MOST_PROBES: f64 = 200_000.0;
const REACH: f64 = 4.0;
/// Most islands, and most ribs, that are mended: what has more of them is a scribble, and drawn otherwise (chosen).
const MOST_MENDED: usize = 200;
/// Millimetres along a side below which it is the rounding of a corner.
const SHORTEST: f64 = 5e-3;

/// Millimetres of sheet that a frame keeps round its shape: half an inch holds (chosen).
pub const FRAME: f64 = 12.7;
/// Millimetres along the edges of a sheet that are left for its corners.
pub const CORNERS: f64 = 6.35;

/// What is looked for.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Fault {
    /// A part of a stencil that nothing holds.
    Island,
    /// A rib too thin for the material.
    Rib,
    /// Points closer than a blade can tell apart.
    Dense,
    /// Larger than the sheet.
    OffSheet,
    /// A word that reads from the back.
    Backwards,
}

/// What is wrong with a shape, where, and how it is mended.
#[derive(Clone, Debug, PartialEq)]
pub struct Finding {
    /// What is wrong.
    pub fault: Fault,
    /// Where, in millimetres from the shape's middle.
    pub at: [f64; 2],
    /// How wide a rib is, how long an island, how far between points, in millimetres.
    pub figure: f64,
    /// What it should be.
    pub limit: f64,
    /// The shape mended, the same for all that are mended together; nothing where it has to be drawn otherwise.
    pub mended: Option<Arc<Outline>>,
}

/// A shape as it is to be cut.
#[derive(Clone, Debug)]
pub struct Looked {
    /// What it encloses.
    pub inside: Region,
    /// What it is cut for.
    pub used: Use,
    /// From what.
    pub material: Material,
    /// Width and height of the sheet, in millimetres.
    pub sheet: (f64, f64),
}

/// Looks a shape over.
pub fn look(
    outline: &Outline,
    used: Use,
    material: Material,
    sheet: (f64, f64),
    is_mirrored_word: bool,
) -> Vec<Finding> {
    let looked = Looked { inside: outline.region(), used, material, sheet };
    let mut findings = Vec::new();
    findings.extend(off_sheet(outline, sheet));
    if used == Use::Stencil {
        findings.extend(islands(&looked));
    }
    if !matches!(used, Use::Tape | Use::Raised | Use::Stamp) {
        findings.extend(ribs(&looked));
        findings.extend(dense(outline));
    }
    if is_mirrored_word {
        let mended = Some(Arc::new(outline.changed(kurbo::Affine::FLIP_X)));
        findings.push(Finding { fault: Fault::Backwards, at: [0.0; 2], figure: 0.0, limit: 0.0, mended });
    }
    findings
}

impl Looked {
    /// The sheet it is cut from, with the shape in its middle; as large as the shape needs where that is larger.
    pub fn whole(&self) -> Region {
        let (least, most) = self.inside.bounds().unwrap_or_default();
        let side =
            |axis: usize, sheet: f64| sheet.max(most[axis] - least[axis] + 4.0 * self.material.bridge());
        let (wide, high) = (side(0, self.sheet.0), side(1, self.sheet.1));
        Region::rect(-0.5 * wide, -0.5 * high, wide, high)
    }

    /// What has to hold together: the rest of the sheet for a stencil, the plug for a mask.
    pub fn held(&self) -> Region {
        match self.used {
            Use::Stencil => self.whole().minus(&self.inside),
            Use::Mask | Use::Tape | Use::Slide | Use::Raised | Use::Stamp => self.inside.clone(),
        }
    }
}

/// Larger than its sheet has room for, once its frame and the sheet's corners have theirs.
fn off_sheet(outline: &Outline, sheet: (f64, f64)) -> Option<Finding> {
    const MARGIN: f64 = FRAME + CORNERS;
    let (wide, high) = outline.size();
    let room = (sheet.0 - 2.0 * MARGIN, sheet.1 - 2.0 * MARGIN);
    let (over, limit) = if wide - room.0 > high - room.1 { (wide, room.0) } else { (high, room.1) };
    if over <= limit + 1e-6 || limit <= 0.0 {
        return None;
    }
    let fits = (room.0 / wide).min(room.1 / high);
    let turned =
        (high <= room.0 && wide <= room.1).then(|| kurbo::Affine::rotate(std::f64::consts::FRAC_PI_2));
    let mended = Some(Arc::new(outline.changed(turned.unwrap_or(kurbo::Affine::scale(0.999 * fits)))));
    let at = if wide - room.0 > high - room.1 { [0.5 * wide, 0.0] } else { [0.0, 0.5 * high] };
    Some(Finding { fault: Fault::OffSheet, at, figure: over, limit, mended })
}

/// Parts of the sheet that fall out with the opening round them, all mended together by bridges.
fn islands(looked: &Looked) -> Vec<Finding> {
    let held = looked.held();
    let islands = parted(&held).map(|(_, islands)| islands).unwrap_or_default();
    let mended = (1..=MOST_MENDED).contains(&islands.len()).then(|| {
        let bridges = bridged(&held, looked.material.bridge()).bridges;
        let across = Region::all(bridges.iter().map(Bridge::region));
        Outline::read(&looked.inside.minus(&across).path(), false).ok().map(Arc::new)
    });
    let mended = mended.flatten();
    let long = |island: &Region| {
        island.bounds().map_or(0.0, |(least, most)| (most[0] - least[0]).max(most[1] - least[1]))
    };
    let finding = |island: &Region| Finding {
        fault: Fault::Island,
        at: island.heart().unwrap_or_default(),
        figure: long(island),
        limit: 0.0,
        mended: mended.clone(),
    };
    islands.iter().map(finding).collect()
}

/// Where what holds is thinner than it may be: what is lost when its edge is drawn in by half the thinnest rib and let out
/// again, but for the rounding of corners.
pub fn ribs(looked: &Looked) -> Vec<Finding> {
    let held = looked.held();
    let thinnest = looked.material.thinnest();
    let lost = thinner_than(&held, thinnest);
    let (sides, step) = (Sides::of(&held), PROBED.max(lost.edge() / MOST_PROBES));
    let mut findings: Vec<Finding> = lost
        .parts()
        .filter_map(|part| {
            let at = part.heart()?;
            let across = thickness(&sides, &part, REACH * thinnest, step);
            let figure = across.unwrap_or(2.0 * part.area() / part.edge());
            (figure < thinnest).then_some(Finding {
                fault: Fault::Rib,
                at,
                figure,
                limit: thinnest,
                mended: None,
            })
        })
        .collect();
    if findings.is_empty() || findings.len() > MOST_MENDED {
        return findings;
    }
    // Ribs are made thicker where they stand; a plug likewise, at the cost of the frame.
    let thicker = lost.grown(0.5 * thinnest);
    let inside = match looked.used {
        Use::Stencil => looked.inside.minus(&thicker),
        Use::Mask | Use::Tape | Use::Slide | Use::Raised | Use::Stamp => looked.inside.united(&thicker),
    };
    let mended = Outline::read(&inside.path(), false).ok().filter(|_| {
        let after = Looked { inside, ..looked.clone() };
        thinner_than(&after.held(), thinnest).is_empty()
    });
    let mended = mended.map(Arc::new);
    for finding in &mut findings {
        finding.mended.clone_from(&mended);
    }
    findings
}

/// What of a region is thinner than so many millimetres, and more than the tip of a corner.
pub fn thinner_than(held: &Region, mm: f64) -> Region {
    // Drawn in a hair less, so that what is exactly as thin as allowed stays.
    let lost = held.narrower(0.99 * mm, 0.02);
    Region::beside(lost.parts().filter(|part| part.area() > CORNER * mm * mm))
}

/// How thick a region is at one of its parts: the least way from a side of the part straight across to a side of the region
/// that faces it. Every so many millimetres of the part's edge are tried.
fn thickness(held: &Sides, part: &Region, reach: f64, step: f64) -> Option<f64> {
    let mut best: Option<f64> = None;
    for contours in part.parts_wound() {
        // Holes are wound the other way round, so that inside is to the same hand all along.
        let hand = area_of_contour(&contours[0]).signum();
        for (from, to) in contours.iter().flat_map(sides_of) {
            let long = distance(from, to);
            if long < SHORTEST {
                continue;
            }
            let along = [(to[0] - from[0]) / long, (to[1] - from[1]) / long];
            let inward = [-hand * along[1], hand * along[0]];
            let at = |share: f64| [from[0] + share * (to[0] - from[0]), from[1] + share * (to[1] - from[1])];
            if !is_edge(held, at(0.5), along) {
                continue;
            }
            let steps = (long / step).ceil() as usize;
            for nth in 0..steps {
                let place = at((nth as f64 + 0.5) / steps as f64);
                let probe = [place[0] + 1e-4 * inward[0], place[1] + 1e-4 * inward[1]];
                let across = held.ahead(probe, inward, reach, |side| crossing(probe, inward, side));
                best = across.into_iter().chain(best).reduce(f64::min);
            }
        }
    }
    best
}

/// Whether a place lies on the edge of a region that runs the way told: a part that was cut out of it has other sides too.
fn is_edge(held: &Sides, at: [f64; 2], along: [f64; 2]) -> bool {
    const NEAR: f64 = 2e-3;
    let runs_along = |(from, to): Side| {
        let long = distance(from, to);
        long > 0.0 && ((to[0] - from[0]) * along[1] - (to[1] - from[1]) * along[0]).abs() < 0.1 * long
    };
    let near = held.within([at[0] - NEAR, at[1] - NEAR], [at[0] + NEAR, at[1] + NEAR]);
    near.into_iter().any(|side| distance(nearest_on(side, at), at) < NEAR && runs_along(side))
}

/// How far along a ray it crosses a side that faces it squarely enough.
fn crossing(at: [f64; 2], way: [f64; 2], (from, to): ([f64; 2], [f64; 2])) -> Option<f64> {
    let side = [to[0] - from[0], to[1] - from[1]];
    let long = side[0].hypot(side[1]);
    let turn = way[0] * side[1] - way[1] * side[0];
    // A side within 45° of the ray runs along it.
    if long < 1e-9 || turn.abs() < 0.7 * long {
        return None;
    }
    let off = [from[0] - at[0], from[1] - at[1]];
    let along = (off[0] * side[1] - off[1] * side[0]) / turn;
    let share = (off[0] * way[1] - off[1] * way[0]) / turn;
    (along > 0.0 && (-1e-9..=1.0 + 1e-9).contains(&share)).then_some(along)
}

/// Points so close together that a blade turns without moving on.
fn dense(outline: &Outline) -> Option<Finding> {
    let (edge, points) = (outline.edge(), outline.points());
    let between = edge / points.max(1) as f64;
    if points < 40 || between >= DENSE {
        return None;
    }
    let options = SimplifyOptions::default().angle_thresh(CORNERED).opt_level(SimplifyOptLevel::Subdivide);
    let simpler = simplify_bezpath(outline.path().iter(), SIMPLER, &options);
    let mended = Outline::of(simpler, outline.even_odd())
        .ok()
        .filter(|simpler| simpler.edge() / simpler.points().max(1) as f64 >= DENSE)
        .map(Arc::new);
    Some(Finding { fault: Fault::Dense, at: [0.0; 2], figure: between, limit: DENSE, mended })
}

#[cfg(test)]
mod tests {
    use super::*;
    use kurbo::{BezPath, Rect, Shape as _};

    fn outline(rects: &[(f64, f64, f64, f64)]) -> Outline {
        let path: BezPath =
            rects.iter().flat_map(|(l, t, w, h)| Rect::new(*l, *t, l + w, t + h).to_path(0.1)).collect();
        Outline::of(path, true).unwrap()
    }

    const SHEET: (f64, f64) = (210.0, 150.0);

    fn faults(outline: &Outline, used: Use, material: Material) -> Vec<Fault> {
        look(outline, used, material, SHEET, false).into_iter().map(|finding| finding.fault).collect()
    }

    #[test]
    fn a_ring_as_a_stencil_loses_its_middle_and_is_mended_by_bridges() {
        let ring = outline(&[(0.0, 0.0, 40.0, 40.0), (10.0, 10.0, 20.0, 20.0)]);
        let findings = look(&ring, Use::Stencil, Material::Film, SHEET, false);
        assert_eq!(findings.len(), 1);
        assert_eq!(findings[0].fault, Fault::Island);
        assert!((findings[0].figure - 20.0).abs() < 0.1);
        let mended = findings[0].mended.clone().unwrap();
        assert_eq!(faults(&mended, Use::Stencil, Material::Film), vec![]);
        // As a mask its counter is a plug of its own, and nothing is wrong.
        assert_eq!(faults(&ring, Use::Mask, Material::MaskingSheet), vec![]);
    }

    #[test]
    fn ribs_are_told_by_how_thin_they_are_and_those_just_thick_enough_are_not() {
        for (rib, thin) in [(1.0, true), (1.5, true), (1.5875, false), (1.7, false)] {
            let windows = outline(&[(0.0, 0.0, 20.0, 30.0), (20.0 + rib, 0.0, 20.0, 30.0)]);
            let findings = look(&windows, Use::Stencil, Material::Film, SHEET, false);
            assert_eq!(!findings.is_empty(), thin, "{rib}: {findings:?}");
            for finding in findings {
                assert_eq!(finding.fault, Fault::Rib);
                assert!((finding.figure - rib).abs() < 0.05, "{} {rib}", finding.figure);
                assert!(finding.at[0].abs() < rib, "{:?}", finding.at);
                let mended = finding.mended.unwrap();
                assert_eq!(faults(&mended, Use::Stencil, Material::Film), vec![]);
            }
        }
    }

    #[test]
    fn a_plug_has_ribs_of_its_own() {
        let neck = outline(&[(0.0, 0.0, 20.0, 20.0), (20.0, 9.8, 6.0, 0.4), (26.0, 0.0, 20.0, 20.0)]);
        let findings = look(&neck, Use::Mask, Material::MaskingSheet, SHEET, false);
        assert_eq!(findings.iter().map(|finding| finding.fault).collect::<Vec<_>>(), vec![Fault::Rib]);
        assert!((findings[0].figure - 0.4).abs() < 0.05, "{}", findings[0].figure);
        assert_eq!(faults(findings[0].mended.as_ref().unwrap(), Use::Mask, Material::MaskingSheet), vec![]);
        // A square has corners, and no thin place.
        assert_eq!(faults(&outline(&[(0.0, 0.0, 20.0, 20.0)]), Use::Mask, Material::Card), vec![]);
    }

    #[test]
    fn what_is_larger_than_its_sheet_is_turned_or_made_smaller() {
        let finding = |wide: f64, high: f64| {
            let shape = outline(&[(0.0, 0.0, wide, high)]);
            look(&shape, Use::Mask, Material::Card, SHEET, false).into_iter().next()
        };
        assert_eq!(finding(171.0, 111.0), None);
        let turned = finding(110.0, 160.0).unwrap();
        assert_eq!(turned.fault, Fault::OffSheet);
        let (wide, high) = turned.mended.unwrap().size();
        assert!((wide - 160.0).abs() < 0.01 && (high - 110.0).abs() < 0.01);
        let smaller = finding(400.0, 100.0).unwrap().mended.unwrap();
        assert_eq!(faults(&smaller, Use::Mask, Material::Card), vec![]);
    }

    #[test]
    fn points_too_close_together_are_made_fewer() {
        let many = (0..2_000).map(|n| {
            let (sin, cos) = (f64::from(n) * std::f64::consts::TAU / 2_000.0).sin_cos();
            kurbo::Point::new(20.0 * cos, 20.0 * sin)
        });
        let mut path = BezPath::new();
        for (nth, point) in many.enumerate() {
            if nth == 0 { path.move_to(point) } else { path.line_to(point) }
        }
        path.close_path();
        let findings =
            look(&Outline::of(path, false).unwrap(), Use::Mask, Material::MaskingSheet, SHEET, false);
        assert_eq!(findings.len(), 1);
        let mended = findings[0].mended.clone().unwrap();
        assert!(mended.points() < 200, "{}", mended.points());
        let off = mended.region().area() / (std::f64::consts::PI * 400.0) - 1.0;
        assert!(off.abs() < 3e-3, "{off}");
    }
}
