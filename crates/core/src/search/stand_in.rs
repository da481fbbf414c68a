//! What comes nearest on a panel where an ink of it is not owned?

use rayon::prelude::*;

use crate::ink::Ink;
use crate::ink::drawer::MOST_VEILS;
use crate::panel::Panel;
use crate::surface::{Lattice, Materials};

/// Inks of a drawer that are tried on the panel itself: those whose swatches come nearest.
const TRIED: usize = 12;
/// Strengths at which each is tried, in shares of the swatch that is wanted.
const STRENGTHS: [f64; 3] = [0.75, 1.0, 1.3];
/// Millimetres between the places at which the panel is compared: along a line, and over the panel.
const APART_MM: (f64, f64) = (3.0, 7.0);
/// Light passes from which an ink is said to lie at a place.
const LIES: f64 = 0.2;

/// An ink in another's place.
#[derive(Clone, Debug, PartialEq)]
pub struct StandIn {
    /// Its place in the drawer.
    pub place: usize,
    /// The panel with it.
    pub panel: Panel,
    /// Mean ΔE00 from the panel as it was wanted, over all places where the ink lies.
    pub difference: f64,
}

/// The inks of a drawer that come nearest in the place of one of the panel's, best first; at most so many.
pub fn stand_ins(panel: &Panel, ink: usize, drawer: &[Ink], most: usize) -> Vec<StandIn> {
    let wanted = &panel.inks[ink];
    let mut by_swatch: Vec<(usize, f64)> = drawer
        .iter()
        .enumerate()
        .filter(|(_, other)| !panel.inks.contains(other))
        .map(|(place, other)| (place, other.lab().difference(wanted.lab())))
        .collect();
    by_swatch.sort_by(|one, other| one.1.total_cmp(&other.1));
    by_swatch.truncate(TRIED);
    let surface = panel.surface();
    let lattice = Lattice::of(&surface, APART_MM.0, APART_MM.1);
    // What lies there, and the colour that it was to be.
    let spots: Vec<_> = (0..lattice.len())
        .map(|n| surface.veils_at(&lattice.spot(&surface, n)))
        .filter(|veils| surface.by_ink(veils)[ink] > LIES)
        .map(|veils| {
            let lab = surface.stack(&veils, |_| 1.0).lab(Default::default());
            (veils, lab)
        })
        .collect();
    let tried = by_swatch.par_iter().map(|&(place, _)| {
        let other = &drawer[place];
        let at = |strength: f64| {
            let share = strength * f64::from(other.full_veils) / f64::from(wanted.full_veils);
            let mut inks = panel.inks.clone();
            inks[ink] = other.clone();
            let tools = (&panel.tool, panel.brushes.as_slice());
            let materials = Materials::of(
                panel.size(),
                &panel.paper,
                tools,
                &inks,
                (panel.outline.as_ref(), panel.border(), &panel.scene.things),
                panel.seed,
            );
            let mut with = surface.clone();
            with.materials = materials.into();
            let off = |(veils, lab): &(Vec<f64>, crate::colour::Lab)| {
                let seen = with.stack(veils, |of| if of == ink { share } else { 1.0 });
                seen.lab(Default::default()).difference(*lab)
            };
            let sum: f64 = spots.iter().map(off).sum();
            (share, sum / spots.len().max(1) as f64)
        };
        let (share, difference) =
            STRENGTHS.map(at).into_iter().min_by(|one, two| one.1.total_cmp(&two.1)).unwrap_or((1.0, 0.0));
        StandIn { place, panel: standing_in(panel, ink, other, share), difference }
    });
    let mut found: Vec<StandIn> = tried.collect();
    found.sort_by(|one, other| one.difference.total_cmp(&other.difference).then(one.place.cmp(&other.place)));
    found.truncate(most);
    found
}

/// The panel with another ink in one's place, in whole light passes that come nearest to a share of those before. What was
/// laid was another ink: nothing of it is made.
pub fn standing_in(panel: &Panel, ink: usize, other: &Ink, share: f64) -> Panel {
    let mut stood = Panel { moves: Vec::new(), done: 0, ..panel.clone() };
    stood.inks[ink] = other.clone();
    for field in stood.scene.ground.iter_mut().flat_map(|blend| &mut blend.fields) {
        if field.ink == ink {
            let veils = (f64::from(field.veils) * share).round();
            field.veils = veils.clamp(1.0, f64::from(MOST_VEILS)) as u8;
        }
    }
    stood.laid()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::colour::Colour;
    use crate::panel::sample;

    #[test]
    fn the_ink_itself_stands_in_best_and_a_weaker_pad_is_laid_more_often() {
        let panel = sample();
        let wanted = panel.inks[1].clone();
        let renamed = Ink { name: "Mussel, another lid".parse().unwrap(), ..wanted.clone() };
        let weaker = Ink { full_veils: 14, ..renamed.clone() };
        let green = Ink { colour: Colour::Lab([50.0, -40.0, 20.0].into()), ..renamed.clone() };
        let drawer = [green, weaker, renamed, wanted];
        let found = stand_ins(&panel, 1, &drawer, 5);
        let places: Vec<usize> = found.iter().map(|found| found.place).collect();
        assert_eq!(places, [1, 2, 0], "an ink of the panel itself is not offered");
        assert!(found[1].difference < 1e-9 && found[0].difference < 1e-9, "{found:?}");
        assert!(found[2].difference > 10.0);
        let veils = |found: &StandIn| found.panel.scene.ground[0].fields[1].veils;
        assert_eq!(veils(&found[0]), 2 * panel.scene.ground[0].fields[1].veils);
        assert_eq!(found[1].panel.check(), Ok(()));
    }
}
