//! What came of the shapes themselves: is what should stay bright bright, and does what should show stand out?

use rosy_core::colour::Lab;

use super::flaw::{Flaw, FlawKind};
use super::seen::{Seen, White};
use super::wanted::Wanted;

/// How far from its edge a shape is looked at, and how far beyond, in millimetres.
const OFF_EDGE: f64 = 1.2;
const BEYOND: f64 = 5.0;
/// The fewest places on either side, and into how many sectors round its middle they are parted.
const FEWEST: usize = 12;
const SECTORS: usize = 8;
/// A shape that should stay bright is dull where it is so far from planned (ΔE00), and darker.
const DULL: f64 = 4.5;
/// A shape that should show by so much (ΔE00) hardly does where it shows by less than this share of that: round most of it, and all in all.
/// Some is left where its ground runs.
const SHOWS: f64 = 7.0;
const SHARE: f64 = 0.5;
const MOST: f64 = 0.6;

/// What is planned and what is seen, on the mean, on one side of an edge.
struct Side {
    planned: Lab,
    seen: Lab,
}

impl Side {
    /// The mean of some places, where there are enough of them.
    fn of(places: &[(Lab, Lab)], fewest: usize) -> Option<Side> {
        let mean = |pick: &dyn Fn(&(Lab, Lab)) -> Lab| {
            let labs = places.iter().map(pick);
            let sum = labs.fold([0.0; 3], |sum, lab| [sum[0] + lab.l, sum[1] + lab.a, sum[2] + lab.b]);
            Lab::from(sum.map(|axis| axis / places.len() as f64))
        };
        (places.len() >= fewest.max(1))
            .then(|| Side { planned: mean(&|both| both.0), seen: mean(&|both| both.1) })
    }
}

/// What is not as planned of the shapes that stand on a panel.
pub fn of_things(wanted: &Wanted, seen: &Seen) -> Vec<Flaw> {
    let things = &wanted.surface.materials.masks.things;
    things.iter().enumerate().filter_map(|(nth, _)| of_thing(wanted, seen, nth)).collect()
}

fn of_thing(wanted: &Wanted, seen: &Seen, nth: usize) -> Option<Flaw> {
    let things = &wanted.surface.materials.masks.things;
    let thing = &things[nth];
    let (inner, edge, outer) =
        (thing.inside.grown(-OFF_EDGE), thing.inside.grown(OFF_EDGE), thing.inside.grown(BEYOND));
    let (least, most) = thing.inside.bounds()?;
    let middle = [0, 1].map(|axis| 0.5 * (least[axis] + most[axis]));
    let is_of_other =
        |at: [f64; 2]| things.iter().enumerate().any(|(other, thing)| other != nth && thing.inside.has(at));
    let deep = thing.inside.grown(-BEYOND);
    // What is planned and seen inside and about it, near its edge, sector by sector round its middle: a ground that runs is not the same
    // all round, nor from one side of a shape to the other.
    let mut all: Vec<(Lab, Lab)> = Vec::new();
    let mut within: [Vec<(Lab, Lab)>; SECTORS] = Default::default();
    let mut about: [Vec<(Lab, Lab)>; SECTORS] = Default::default();
    for n in 0..wanted.grid.len() {
        let at = wanted.grid.at(n);
        let open = wanted.places[n].as_ref().filter(|place| !place.is_covered && !is_of_other(at));
        let (Some(place), Some(lab)) = (open, seen.lab[n]) else { continue };
        let turn = (at[1] - middle[1]).atan2(at[0] - middle[0]) / std::f64::consts::TAU + 0.5;
        let sector = (turn * SECTORS as f64) as usize % SECTORS;
        // What a photo has crushed to black shows by less than it does.
        let is_whole = seen.is_whole(n);
        if inner.has(at) {
            all.push((place.lab, lab));
            if is_whole && !deep.has(at) {
                within[sector].push((place.lab, lab));
            }
        } else if is_whole && outer.has(at) && !edge.has(at) {
            about[sector].push((place.lab, lab));
        }
    }
    let flaw = |kind, size| Some(Flaw { thing: Some(nth), ..Flaw::of(kind, [least, most], size) });
    let all = Side::of(&all, FEWEST)?;
    let card = wanted.surface.materials.paper.lab();
    // What light and phone leave open is no more than a few ΔE00 on what is nearly white.
    let is_bright = all.planned.difference(card) < DULL || all.planned.l > 85.0;
    let off = all.planned.difference(all.seen);
    if seen.white == White::Card && is_bright && off > DULL && all.seen.l < all.planned.l - 1.5 {
        return flaw(FlawKind::Dulled, off);
    }
    let shown = within.iter().zip(&about).filter_map(|(within, about)| {
        let (within, about) = (Side::of(within, FEWEST / 3)?, Side::of(about, FEWEST / 3)?);
        Some((within.planned.difference(about.planned), within.seen.difference(about.seen)))
    });
    let should: Vec<(f64, f64)> = shown.filter(|(planned, _)| *planned > SHOWS).collect();
    let (planned, shows) =
        should.iter().fold((0.0, 0.0), |(p, s), (planned, shows)| (p + planned, s + shows));
    let hardly = should.iter().filter(|(planned, shows)| *shows < SHARE * planned).count() as f64;
    let count = should.len() as f64;
    let is_faint = should.len() * 3 >= SECTORS && shows < SHARE * planned && hardly >= MOST * count;
    is_faint.then(|| flaw(FlawKind::Faint, shows / count)).flatten()
}
