//! Which colour is seen at a place, whatever masks and water have done there?

use std::sync::Arc;

use crate::colour::{Illuminant, Lab};
use crate::surface::{Area, Surface};
use crate::water::Effect;

/// A surface taken apart once, to be looked at in many places.
pub struct Sight {
    areas: Vec<(Area, Vec<Arc<Effect>>)>,
}

/// One place of it.
pub struct Here<'a> {
    /// The area it lies in, by its place among them all.
    pub area: usize,
    /// Whether a mask lies on it.
    pub is_covered: bool,
    surface: &'a Surface,
    effects: &'a [Arc<Effect>],
    place: (f64, f64),
    /// Light passes of each coat.
    coats: Vec<f64>,
}

impl Sight {
    /// Of a surface.
    pub fn of(surface: &Surface) -> Sight {
        let with_effects = |area: Area| {
            let effects = area.surface.effects();
            (area, effects)
        };
        Sight { areas: surface.areas().into_iter().map(with_effects).collect() }
    }

    /// A place, in millimetres from the left and top edges; nothing beside the card.
    pub fn here(&self, x: f64, y: f64) -> Option<Here<'_>> {
        let is_here = |(area, _): &(Area, _)| area.region.as_ref().is_none_or(|region| region.has([x, y]));
        let nth = self.areas.iter().position(is_here)?;
        let (area, effects) = &self.areas[nth];
        let surface = &area.surface;
        let coats = surface.veils_at(&surface.spot(x, y));
        Some(Here { area: nth, is_covered: area.is_covered, surface, effects, place: (x, y), coats })
    }

    /// The colour at a place, in millimetres from the left and top edges; nothing beside the card.
    pub fn lab(&self, x: f64, y: f64) -> Option<Lab> {
        self.here(x, y).map(|here| here.lab())
    }
}

impl Here<'_> {
    /// Its colour.
    pub fn lab(&self) -> Lab {
        if self.effects.is_empty() {
            self.lab_grown(|_| 1.0)
        } else {
            self.surface.lab_at(self.place, self.effects)
        }
    }

    /// Its colour if so many times of each ink lay there; what water does is left out.
    pub fn lab_grown(&self, grown: impl Fn(usize) -> f64) -> Lab {
        self.surface.stack(&self.coats, grown).lab(Illuminant::D65)
    }

    /// Light passes of each ink that lie there, of the hand that the panel is planned with.
    pub fn passes(&self) -> Vec<f64> {
        let strength = self.surface.materials.hand.strength();
        self.surface.by_ink(&self.coats).into_iter().map(|passes| passes / strength).collect()
    }

    /// Whether water has been there, so that what lies there goes by chance.
    pub const fn is_wetted(&self) -> bool {
        !self.effects.is_empty()
    }

    /// Whether something hard lies over the ink: melted powder, or paste.
    pub const fn is_sealed(&self) -> bool {
        self.surface.under.is_some()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::learn::hand::{Hand, Hands, OwnHand};
    use crate::panel::{Panel, sample};

    #[test]
    fn a_stronger_hand_lays_as_much_more_in_as_many_passes() {
        let plain = sample();
        let hand = Hand { strength: 150, unevenness: 100 };
        let hands = Hands(vec![OwnHand { tool: None, card: None, hand }]);
        let strong = Panel { hands, ..plain.clone() };
        let [plain, strong] = [plain, strong].map(|panel| Sight::of(&panel.surface()));
        for at in [20.0, 50.0, 80.0, 110.0] {
            let (plain, strong) = (plain.here(40.0, at).unwrap(), strong.here(40.0, at).unwrap());
            for (one, other) in plain.passes().iter().zip(strong.passes()) {
                assert!((one - other).abs() < 1e-9);
            }
            assert!(plain.lab_grown(|_| 1.5).difference(strong.lab()) < 1e-6);
        }
    }
}
