//! How long is a light pass over a field, by how large that is and with what it is laid?

use super::materials::Materials;
use crate::blend::{Reach, Way};
use crate::ink::measured;
use crate::learn::Figure;

/// Places looked at along each side of the box that a field lies in.
const PLACES: usize = 12;

impl Materials {
    /// How many light passes over a usual field some veils come to: one over twice as much takes twice as long, and none is sooner
    /// done than a brush is loaded and dabbed off.
    pub fn passes(&self, on: Option<usize>, way: Way, veils: &[Reach]) -> f64 {
        let extent = self.extent(on);
        let (size, (wide, high)) = (extent.size, self.size_mm());
        let (left, top) = (extent.corner.left.mm(), extent.corner.top.mm());
        let thing = on.and_then(|thing| self.masks.things.get(thing));
        let run = way.on(size).moved((left, top));
        let run = match thing {
            Some(thing) => run.round(|| thing.depth()),
            None => run,
        };
        let share = |n: usize| (n as f64 + 0.5) / PLACES as f64;
        let places = (0..PLACES * PLACES)
            .map(|n| (left + size.0.mm() * share(n % PLACES), top + size.1.mm() * share(n / PLACES)));
        let on_panel = places.filter(|(x, y)| (0.0..wide).contains(x) && (0.0..high).contains(y));
        let along: Vec<f64> = on_panel.map(|(x, y)| run.at(x, y).place).collect();
        let part = along.len() as f64 / (PLACES * PLACES) as f64;
        let boxed = size.0.mm() * size.1.mm() * part;
        // Of the box only what lies inside the outline is worked over.
        let whole = thing.map_or(boxed, |thing| thing.area().min(boxed));
        let span = way.span(size);
        let pass = |veil: &Reach| {
            let reaches = |place: &&f64| {
                **place >= veil.from.mm() && (**place <= veil.to.mm() || (veil.to >= span && way.runs_on()))
            };
            let reached = along.iter().filter(reaches).count() as f64 / along.len().max(1) as f64;
            (whole * reached / measured::FIELD_MM2).max(measured::LEAST_PASS)
        };
        veils.iter().map(pass).sum::<f64>() * self.tool.kind.pace()
    }

    /// Seconds that some veils of an ink keep the hands busy.
    pub fn pass_seconds(&self, ink: usize, on: Option<usize>, way: Way, veils: &[Reach]) -> u32 {
        let pass = f64::from(self.seconds(Figure::LightPass, Some(ink)));
        (pass * self.passes(on, way, veils)).round().max(1.0) as u32
    }
}
