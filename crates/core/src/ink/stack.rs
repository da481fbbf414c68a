//! What colour are several films, one over the other?

use super::film::{Film, inside, layer, outside};
use crate::colour::{BANDS, Illuminant, Lab, Spectrum};

/// Card with what has been laid on it so far. Each ink is known by a number of the caller's choice,
/// so that more of the same ink is the same film grown thicker, while another ink is trapped: it takes
/// less on ink than on bare card.
#[derive(Clone, Debug)]
pub struct Stack {
    /// Internal reflectance up to the last film that scatters.
    settled: Spectrum,
    /// K of the transparent films above it.
    clear: Spectrum,
    /// Amount of each ink laid, by its number.
    laid: Vec<(usize, f64)>,
}

impl Stack {
    /// Bare card.
    pub fn on(card: &Spectrum) -> Stack {
        Stack { settled: card.map(inside), clear: Spectrum::flat(0.0), laid: Vec::new() }
    }

    /// Lays an amount of a film on top. Nothing is laid where the amount is not above 0.
    pub fn lay(&mut self, ink: usize, film: &Film, amount: f64) {
        if amount.is_nan() || amount <= 0.0 {
            return;
        }
        let others: f64 = self.laid.iter().filter(|(other, _)| *other != ink).map(|(_, laid)| laid).sum();
        let before = self.laid.iter().find(|(known, _)| *known == ink).map_or(0.0, |(_, laid)| *laid);
        let slice = film.slice(before, before + amount, film.trapped(others));
        if slice.scattering == 0.0 {
            self.clear = self.clear.zip(&slice.absorption, |a, b| a + b);
        } else {
            let beneath = self.internal();
            self.settled = Spectrum(std::array::from_fn(|band| {
                layer(slice.absorption.0[band], slice.scattering, beneath.0[band])
            }));
            self.clear = Spectrum::flat(0.0);
        }
        match self.laid.iter_mut().find(|(known, _)| *known == ink) {
            Some((_, laid)) => *laid += amount,
            None => self.laid.push((ink, amount)),
        }
    }

    /// Flakes that cover a share of it and throw light back themselves, as mica does: the eye sees both side by side.
    pub fn flake(&mut self, share: f64, flakes: &Spectrum) {
        let seen = self.reflectance().zip(flakes, |under, over| under + share * (over - under));
        *self = Stack { laid: std::mem::take(&mut self.laid), ..Stack::on(&seen) };
    }

    fn internal(&self) -> Spectrum {
        self.settled.zip(&self.clear, |r, k| if k == 0.0 { r } else { layer(k, 0.0, r) })
    }

    /// What the eye would measure.
    pub fn reflectance(&self) -> Spectrum {
        let internal = self.internal();
        Spectrum(std::array::from_fn::<f64, BANDS, _>(|band| outside(internal.0[band])))
    }

    /// The colour under a light.
    pub fn lab(&self, light: Illuminant) -> Lab {
        self.reflectance().lab(light)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::ink::Kind;
    use crate::ink::measured::TRAPPING;
    use proptest::prelude::*;

    const LIGHT: Illuminant = Illuminant::D65;

    fn card() -> Spectrum {
        Spectrum::of(Lab { l: 96.0, a: 0.0, b: -2.0 }, LIGHT)
    }

    fn film(lab: Lab, kind: Kind) -> Film {
        Film::of_swatch(lab, &card(), LIGHT, kind)
    }

    fn over(films: &[(usize, &Film, f64)]) -> Lab {
        let mut stack = Stack::on(&card());
        for (ink, film, amount) in films {
            stack.lay(*ink, film, *amount);
        }
        stack.lab(LIGHT)
    }

    fn inky() -> impl Strategy<Value = Lab> {
        (25.0..85.0, 5.0..60.0, 0.0..std::f64::consts::TAU).prop_map(|(l, c, h): (f64, f64, f64)| Lab {
            l,
            a: c * h.cos(),
            b: c * h.sin(),
        })
    }

    #[test]
    fn a_light_oxide_shows_over_a_dark_ink_and_a_dye_does_not() {
        let night = film(Lab { l: 25.0, a: 5.0, b: -30.0 }, Kind::Dye);
        let cream = Lab { l: 90.0, a: 2.0, b: 30.0 };
        let bare = over(&[(0, &night, 1.0)]);
        let oxide = over(&[(0, &night, 1.0), (1, &film(cream, Kind::Oxide), 1.0)]);
        let dye = over(&[(0, &night, 1.0), (1, &film(cream, Kind::Dye), 1.0)]);
        let white =
            over(&[(0, &night, 1.0), (1, &film(Lab { l: 95.0, a: 0.0, b: 0.0 }, Kind::Pigment), 1.0)]);
        assert!(oxide.l > bare.l + 2.0 && dye.l <= bare.l, "{bare:?} {oxide:?} {dye:?}");
        assert!(white.l > 65.0, "{white:?}");
    }

    proptest! {
        #[test]
        fn no_ink_is_bare_card(lab in inky()) {
            for kind in Kind::ALL {
                prop_assert!(over(&[(0, &film(lab, kind), 0.0)]).difference(card().lab(LIGHT)) < 1e-6);
            }
        }

        #[test]
        fn a_full_swatch_is_itself(lab in inky()) {
            for kind in [Kind::Dye, Kind::Oxide] {
                // A few colours no film can have: they would have to glow.
                let reachable = Spectrum::at_most(&card(), lab, LIGHT).lab(LIGHT);
                prop_assume!(reachable.difference(lab) < 0.1);
                let seen = over(&[(0, &film(lab, kind), 1.0)]);
                prop_assert!(seen.difference(lab) < 0.3, "{:?} {:?} {:?}", kind, lab, seen);
            }
        }

        #[test]
        fn more_veils_never_lighten_a_dye(lab in inky(), a in 0.0..2.0, more in 0.0..1.0) {
            let film = film(lab, Kind::Dye);
            prop_assert!(over(&[(0, &film, a + more)]).l <= over(&[(0, &film, a)]).l + 1e-9);
        }

        #[test]
        fn two_dyes_commute_but_for_trapping(a in inky(), b in inky(), x in 0.0..1.2, y in 0.0..1.2) {
            let (first, second) = (film(a, Kind::Dye), film(b, Kind::Dye));
            // Trapping holds back the later film by a known share: given that much more, it commutes.
            let ab = over(&[(0, &first, x), (1, &second, y / TRAPPING.powf(x.min(1.0)))]);
            let ba = over(&[(1, &second, y), (0, &first, x / TRAPPING.powf(y.min(1.0)))]);
            prop_assert!(ab.difference(ba) < 1e-6);
        }

        #[test]
        fn flakes_lie_between_what_they_cover_and_themselves(lab in inky(), share in 0.0..1.0) {
            let mut stack = Stack::on(&card());
            stack.lay(0, &film(lab, Kind::Dye), 1.0);
            let under = stack.reflectance();
            stack.flake(share, &card());
            let seen = stack.reflectance();
            for band in 0..BANDS {
                let expected = (1.0 - share) * under.0[band] + share * card().0[band];
                prop_assert!((seen.0[band] - expected).abs() < 1e-9);
            }
        }

        #[test]
        fn veil_by_veil_is_all_at_once(lab in inky(), veils in 1_usize..8) {
            for kind in Kind::ALL {
                let film = film(lab, kind);
                let step = 1.0 / veils as f64;
                let slowly: Vec<_> = (0..veils).map(|_| (0, &film, step)).collect();
                prop_assert!(over(&slowly).difference(over(&[(0, &film, 1.0)])) < 1e-6);
            }
        }
    }
}
