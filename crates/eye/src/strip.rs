//! What ink is it, by its four patches?
//!
//! Each patch is a film on the maker's card. How deep a film is goes with the light passes; how deep the full swatch is tells how
//! many of them it stands for. What lies over a dark line tells whether the ink scatters.

use rosy_core::colour::{BANDS, Illuminant, Lab, Spectrum};
use rosy_core::ink::drawer::MOST_VEILS;
use rosy_core::ink::film::inside;
use rosy_core::ink::measured::bright_white;
use rosy_core::ink::{Film, Kind, Stack};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::frame::Part;

const LIGHT: Illuminant = Illuminant::D65;

/// What an ink is, by its strip, as it is kept in a drawer: its swatches on bright white card.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct InkRead {
    /// The full swatch.
    pub colour: Lab,
    /// One light pass, where it was read.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub one_veil: Option<Lab>,
    /// How many light passes the full swatch stands for.
    pub full_veils: u8,
    /// By how much that may be off, nine times in ten, as a share.
    pub veils_within: f64,
    /// How much of it other ink takes, in hundredths of what bare card takes, where patches of one ink over another tell it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub on_ink: Option<u8>,
}

/// How deep a film is: the mean of what it takes away within the card, over all bands as the eye's three curves weigh them.
fn depth(swatch: &Spectrum, card: &Spectrum) -> f64 {
    let weighed = (0..BANDS).map(|band| {
        let weight = LIGHT.weights()[band].iter().sum::<f64>() / 3.0;
        -0.5 * weight * (inside(swatch.0[band]) / inside(card.0[band])).ln()
    });
    weighed.sum()
}

/// Which share of a full film a patch is: as deep a one.
fn amount(patch: Lab, film: &Film, card: &Spectrum) -> f64 {
    let wanted = depth(&Spectrum::at_most(card, patch, LIGHT), card);
    let (mut less, mut more) = (0.0, MOST);
    for _ in 0..24 {
        let middle = 0.5 * (less + more);
        let mut stack = Stack::on(card);
        stack.lay(0, film, middle);
        if depth(&stack.reflectance(), card) < wanted { less = middle } else { more = middle }
    }
    0.5 * (less + more)
}

/// A lighter patch is at most so much of the full one.
const MOST: f64 = 1.5;

/// The ink, from what was read of its patches on a card; nothing without a full swatch and one of the others.
pub fn ink(patches: &[(Part, Lab)], card: &Spectrum, kind: Kind) -> Option<InkRead> {
    let at = |wanted: Part| patches.iter().find(|(part, _)| *part == wanted).map(|(_, lab)| *lab);
    let full = at(Part::Full)?;
    let film = Film::of_swatch(full, card, LIGHT, kind);
    let laid: Vec<(f64, f64)> = [Part::One, Part::Two, Part::Four]
        .into_iter()
        .filter_map(|part| Some((part.passes(), amount(at(part)?, &film, card))))
        .collect();
    if laid.is_empty() {
        return None;
    }
    // Each pass is off by its own share, so that they count by how many were laid.
    let passes: f64 = laid.iter().map(|(passes, _)| passes).sum();
    let a_pass = (laid.iter().map(|(_, amount)| amount).sum::<f64>() / passes).max(1e-3);
    let off = |(passes, amount): &(f64, f64)| passes * (amount / passes / a_pass - 1.0).powi(2);
    let apart = laid.iter().map(off).sum::<f64>() / passes;
    let spread = if laid.len() > 1 { (apart / (laid.len() - 1) as f64).sqrt() } else { 0.2 };
    let veils = (1.0 / a_pass).round().clamp(2.0, f64::from(MOST_VEILS));
    let (colour, one_veil) = on_bright_white(full, at(Part::One), card, kind, 1.0 / veils);
    Some(InkRead {
        colour,
        one_veil,
        full_veils: veils as u8,
        veils_within: (1.645 * spread.hypot(0.06)).min(1.0),
        on_ink: None,
    })
}

/// The same films on the card that drawers mean.
fn on_bright_white(
    full: Lab,
    one: Option<Lab>,
    card: &Spectrum,
    kind: Kind,
    amount: f64,
) -> (Lab, Option<Lab>) {
    let mut film = Film::of_swatch(full, card, LIGHT, kind);
    if let Some(one) = one {
        film = film.with_thin_swatch(one, card, LIGHT, amount);
    }
    let laid = |amount: f64| {
        let mut stack = Stack::on(bright_white());
        stack.lay(0, &film, amount);
        stack.lab(LIGHT)
    };
    (laid(1.0), one.map(|_| laid(amount)))
}

/// Which kind an ink behaves like over a dark line, from how light the line is bare and under the full swatch (shares of white).
///
/// A dye takes from what lies under it, an oxide adds a little of its own, a pigment covers: the swatch on card is laid on such a
/// line as each of the kinds, and the nearest is told, where they can be told apart.
pub fn kind_over_line(full: Lab, card: &Spectrum, bare_line: f64, inked_line: f64) -> Option<Kind> {
    if bare_line > 0.2 {
        return None; // no line was drawn
    }
    let line = Spectrum::flat(bare_line.max(0.005));
    let would = |kind: Kind| {
        let mut stack = Stack::on(&line);
        stack.lay(0, &Film::of_swatch(full, card, LIGHT, kind), 1.0);
        stack.lab(LIGHT).relative()[1].cbrt()
    };
    let mut kinds = Kind::ALL.map(|kind| (kind, (would(kind) - inked_line.max(0.0).cbrt()).abs()));
    kinds.sort_by(|a, b| a.1.total_cmp(&b.1));
    (kinds[1].1 - kinds[0].1 > SURE).then_some(kinds[0].0)
}

/// How much nearer one kind must be than the next (cube roots of shares of white, as lightness goes).
const SURE: f64 = 0.02;

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        /// What is laid by the core's own films is read as the ink it was.
        #[test]
        fn an_ink_is_read_from_its_own_films(
            l in 35.0..75.0f64, a in -45.0..60.0f64, b in -50.0..60.0f64, veils in 4u8..10, oxide: bool,
        ) {
            let card = Spectrum::of(Lab { l: 95.0, a: 0.0, b: 1.0 }, LIGHT);
            let kind = if oxide { Kind::Oxide } else { Kind::Dye };
            let full = Lab { l, a, b };
            prop_assume!(full.on_screen(LIGHT).1);
            let film = Film::of_swatch(full, &card, LIGHT, kind);
            let lab = |passes: f64| {
                let mut stack = Stack::on(&card);
                stack.lay(0, &film, passes / f64::from(veils));
                stack.lab(LIGHT)
            };
            let patches = [(Part::One, lab(1.0)), (Part::Two, lab(2.0)), (Part::Four, lab(4.0)), (Part::Full, full)];
            let read = ink(&patches, &card, kind).unwrap();
            prop_assert!(read.full_veils.abs_diff(veils) <= 1, "{} of {veils}", read.full_veils);
            prop_assert!(read.colour.difference(full) < 3.0);
            prop_assert!(ink(&patches[3..], &card, kind).is_none());
        }
    }

    #[test]
    fn what_covers_a_dark_line_scatters() {
        let card = Spectrum::of(Lab { l: 96.0, a: 0.0, b: 0.0 }, LIGHT);
        let teal = Lab { l: 55.0, a: -30.0, b: -12.0 };
        let line = Spectrum::flat(0.05);
        for kind in Kind::ALL {
            let mut stack = Stack::on(&line);
            stack.lay(0, &Film::of_swatch(teal, &card, LIGHT, kind), 1.0);
            let seen = stack.lab(LIGHT).relative()[1];
            assert_eq!(kind_over_line(teal, &card, 0.05, seen), Some(kind));
        }
        assert_eq!(kind_over_line(teal, &card, 0.7, 0.2), None, "no line was drawn");
    }
}
