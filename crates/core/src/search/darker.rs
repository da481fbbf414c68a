//! Which inks are the darker set to a light one: two shades darker, of the same family?
//!
//! A texture is skimmed in inks that stand a good step below those beneath it and lean the same way. Of the inks of the same
//! family that are darker, the one is taken whose lightness lies nearest to two shades below and whose hue strays least.

use crate::colour::Lab;
use crate::ink::Family;

/// A shade in L* (chosen: a step that is told apart at a glance).
pub const SHADE: f64 = 10.0;
/// How many shades darker, and how many at least.
pub const SHADES: f64 = 2.0;
const AT_LEAST: f64 = 0.8;

/// A darker ink: its place in the drawer, how much darker it is in L*, and how far its hue strays, in a*b* units.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Darker {
    /// Its place in the drawer.
    pub place: usize,
    /// How much darker.
    pub darker: f64,
    /// How far its hue strays: ΔH*ab, 2 √(C₁C₂) sin(Δh / 2).
    pub strays: f64,
}

/// For each light ink the drawer's darker one; none where there is none in its family. No ink is taken twice.
pub fn darker(lights: &[Lab], drawer: &[Lab]) -> Vec<Option<Darker>> {
    let mut taken: Vec<usize> = Vec::new();
    let mut best = |light: &Lab| {
        let family = Family::of(*light);
        let of = |(place, lab): (usize, &Lab)| {
            let darker = light.l - lab.l;
            let is_one = darker >= AT_LEAST * SHADE && Family::of(*lab) == family && !taken.contains(&place);
            is_one.then(|| Darker { place, darker, strays: strays(*light, *lab) })
        };
        let cost = |one: &Darker| (one.darker - SHADES * SHADE).hypot(one.strays);
        let found =
            drawer.iter().enumerate().filter_map(of).min_by(|one, other| cost(one).total_cmp(&cost(other)));
        taken.extend(found.map(|found| found.place));
        found
    };
    lights.iter().map(&mut best).collect()
}

fn strays(one: Lab, other: Lab) -> f64 {
    let (c, d) = (one.a.hypot(one.b), other.a.hypot(other.b));
    let (da, db) = (one.a - other.a, one.b - other.b);
    (da * da + db * db - (c - d).powi(2)).max(0.0).sqrt()
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    #[test]
    fn of_three_blues_the_one_two_shades_below_is_taken() {
        let lab = |l: f64, a: f64, b: f64| Lab { l, a, b };
        let light = [lab(69.0, -10.0, -28.0)];
        let drawer =
            [lab(66.0, -9.0, -28.0), lab(49.0, -6.0, -30.0), lab(25.0, 0.0, -28.0), lab(49.0, 40.0, 20.0)];
        let found = darker(&light, &drawer)[0].unwrap();
        assert_eq!(found.place, 1);
        assert!((found.darker - 20.0).abs() < 1e-9 && found.strays < 6.0);
    }

    proptest! {
        #[test]
        fn each_is_darker_of_the_family_and_taken_once(
            labs in proptest::collection::vec((15.0..90.0, -45.0..45.0, -45.0..45.0), 2..40), count in 1_usize..6,
        ) {
            let labs: Vec<Lab> = labs.into_iter().map(|(l, a, b)| Lab { l, a, b }).collect();
            let lights = &labs[..count.min(labs.len())];
            let found = darker(lights, &labs);
            let mut places: Vec<usize> = found.iter().flatten().map(|one| one.place).collect();
            for (light, one) in lights.iter().zip(&found) {
                if let Some(one) = one {
                    prop_assert!(labs[one.place].l < light.l && Family::of(labs[one.place]) == Family::of(*light));
                    // ΔE²ab = ΔL² + ΔC² + ΔH².
                    let other = labs[one.place];
                    let chroma = light.a.hypot(light.b) - other.a.hypot(other.b);
                    let all = (light.l - other.l).powi(2) + (light.a - other.a).powi(2) + (light.b - other.b).powi(2);
                    prop_assert!((one.darker.powi(2) + chroma.powi(2) + one.strays.powi(2) - all).abs() < 1e-6);
                }
            }
            places.sort_unstable();
            places.dedup();
            prop_assert_eq!(places.len(), found.iter().flatten().count());
        }
    }
}
