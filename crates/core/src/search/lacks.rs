//! Which colours does a drawer lack: those that keep most joins clean, or reach what nothing reaches?
//!
//! Inks there could be stand on a net of hues, depths and strengths; only those are tried that a film on this card can have. A join
//! is in want of one where its two inks go to mud and no third of the drawer lies between them cleanly. A colour is
//! out of reach where no ink of the drawer comes within [`NEAR`] of it, alone or over another, in any of some depths. The best ink
//! is taken as if it were there, and the next is sought for what is left (the greedy cover, which opens at least 1 − 1/e of what
//! any as many could: Nemhauser, Wolsey & Fisher, *Math. Program.* 1978).

use std::collections::HashSet;

use rayon::prelude::*;

use super::pairs::{Swatch, meetings};
use crate::blend::limits::NO_CHROMA;
use crate::blend::{Meeting, Verdict, meet};
use crate::colour::{Illuminant, Lab, Spectrum};
use crate::ink::film::{Over, inside, outside};
use crate::ink::{Film, Kind};

/// A colour is reached where something comes so near (CIEDE2000: a little off, side by side).
pub const NEAR: f64 = 5.0;
/// The net: lightnesses of full swatches, chromas, and how many hues (chosen: neighbours differ by about ten ΔE00).
const LIGHTNESSES: [f64; 6] = [28.0, 40.0, 52.0, 64.0, 76.0, 87.0];
const CHROMAS: [f64; 4] = [18.0, 36.0, 54.0, 72.0];
const HUES: usize = 18;
/// How far from its wished swatch a film may be and still be that ink.
const MADE: f64 = 1.0;
/// What opens no more than this, as a share of all that wants opening, is not told.
const LITTLE: f64 = 0.02;
/// Shares of the full swatch at which a colour is laid, in sevenths of a usual ink's light passes.
const DEPTHS: [f64; 4] = [1.0 / 7.0, 2.0 / 7.0, 4.0 / 7.0, 1.0];
/// Most amounts of all inks together that are tried over one another.
const MOST_AMOUNTS: usize = 640;
/// What one ink over another makes counts as the middle of a box so wide, in CIELAB.
const BOX: f64 = 2.5;
/// Parts of one dye in seven that a colour is mixed of, and how near that has to come (CIEDE2000).
const PARTS: u8 = 4;
const MIXED: f64 = 4.0;

/// A colour that a drawer lacks.
#[derive(Clone, Debug, PartialEq)]
pub struct Lack {
    /// Its full swatch, of a dye.
    pub lab: Lab,
    /// The pairs of inks, by their places in the drawer, that it would lie between cleanly.
    pub mends: Vec<(usize, usize)>,
    /// How many colours it would reach by itself that nothing reaches now.
    pub reaches: usize,
    /// Two dyes of the drawer, mixed on the mat, that come near it.
    pub mix: Option<Mix>,
}

/// Two dyes mixed on the mat.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Mix {
    /// Their places in the drawer.
    pub of: [usize; 2],
    /// Their parts.
    pub parts: [u8; 2],
    /// How far what they make is from the colour (CIEDE2000).
    pub difference: f64,
}

/// What a drawer lacks.
#[derive(Clone, Debug, PartialEq)]
pub struct Lacking {
    /// How many pairs go to mud with nothing in the drawer to lie between them.
    pub muddy: usize,
    /// How many colours were looked for, and how many of them nothing reaches.
    pub colours: usize,
    /// See `colours`.
    pub unreached: usize,
    /// The colours, the one that opens most first.
    pub lacks: Vec<Lack>,
}

/// An ink of a drawer: its swatch, its kind.
pub type Owned = (Swatch, Kind);

/// The inks there could be on a card: each with the colours it has at [`DEPTHS`].
fn could_be(card: &Spectrum, light: Illuminant) -> Vec<(Swatch, Vec<Lab>)> {
    let hues = (0..HUES).map(|hue| (360.0 * hue as f64 / HUES as f64).to_radians());
    let nets = hues.flat_map(|hue| CHROMAS.map(|chroma| (hue, chroma)));
    let labs = nets.flat_map(|(hue, chroma)| {
        LIGHTNESSES.map(|l| Lab { l, a: chroma * hue.cos(), b: chroma * hue.sin() })
    });
    let labs: Vec<Lab> = labs.collect();
    let ink = |lab: &Lab| {
        let film = Film::of_swatch(*lab, card, light, Kind::Dye);
        let depths: Vec<Lab> = DEPTHS
            .iter()
            .map(|amount| seen(&Over::of(&film, *amount, 1.0).on(&card.map(inside).0), light))
            .collect();
        depths[DEPTHS.len() - 1].difference(*lab).le(&MADE).then_some(((film, *lab), depths))
    };
    labs.par_iter().filter_map(ink).collect()
}

fn seen(internal: &[f64; crate::colour::BANDS], light: Illuminant) -> Lab {
    Spectrum(std::array::from_fn(|band| outside(internal[band]))).lab(light)
}

/// Whether an ink lies between two cleanly: both joins are clean, and it is itself no mud against the two.
fn lies_between(joins: [Verdict; 2], own: Lab, ends: [Lab; 2]) -> bool {
    joins == [Verdict::Clean; 2] && Meeting::judge(ends[0], own, ends[1]).verdict == Verdict::Clean
}

/// The pairs of a drawer that go to mud, with no ink of it that lies between them cleanly. What covers, or has no colour of its own,
/// is no end.
fn unbridged(drawer: &[Owned], card: &Spectrum, light: Illuminant) -> Vec<(usize, usize)> {
    let inks: Vec<Swatch> = drawer.iter().map(|(swatch, _)| swatch.clone()).collect();
    let rows = meetings(&inks, card, light, |meeting| meeting.verdict);
    let verdict = |one: usize, other: usize| {
        let (first, second) = (one.min(other), one.max(other));
        rows[first][second - first - 1]
    };
    let lab = |place: usize| drawer[place].0.1;
    let has_colour = |place: &usize| drawer[*place].1 != Kind::Pigment && lab(*place).oklch()[1] >= NO_CHROMA;
    let ends: Vec<usize> = (0..drawer.len()).filter(has_colour).collect();
    let is_bridged = |one: usize, other: usize| {
        let others = (0..drawer.len()).filter(|ink| *ink != one && *ink != other);
        others.into_iter().any(|ink| {
            lies_between([verdict(ink, one), verdict(ink, other)], lab(ink), [lab(one), lab(other)])
        })
    };
    let pairs =
        ends.iter().flat_map(|one| ends.iter().filter(move |other| one < other).map(|other| (*one, *other)));
    let muddy = pairs.filter(|(one, other)| verdict(*one, *other) == Verdict::Muddy);
    muddy.filter(|(one, other)| !is_bridged(*one, *other)).collect()
}

/// The colours that a drawer makes: of each ink alone, and the boxes that those of one over another lie in.
struct Made {
    alone: Vec<Lab>,
    over: HashSet<[i32; 3]>,
}

impl Made {
    fn of(inks: &[Swatch], card: &Spectrum, light: Illuminant) -> Made {
        let depths = (MOST_AMOUNTS / inks.len().max(1)).clamp(2, 7);
        let beneath = card.map(inside);
        let amounts = move |film| (1..=depths).map(move |depth| (film, depth as f64 / depths as f64));
        let all: Vec<(&Film, f64)> = inks.iter().flat_map(|(film, _)| amounts(film)).collect();
        let alone: Vec<_> =
            all.par_iter().map(|(film, amount)| Over::of(film, *amount, 1.0).on(&beneath.0)).collect();
        let boxed = |lab: Lab| [lab.l, lab.a, lab.b].map(|axis| (axis / BOX).floor() as i32);
        let over = all.par_iter().zip(&alone).flat_map_iter(|((_, beneath), lower)| {
            let on = move |(film, amount): &(&Film, f64)| {
                Over::of(film, *amount, film.trapped(*beneath)).on(lower)
            };
            all.iter().map(move |film| boxed(seen(&on(film), light)))
        });
        Made { over: over.collect(), alone: alone.iter().map(|internal| seen(internal, light)).collect() }
    }

    fn reaches(&self, wished: Lab) -> bool {
        let middle = |of: &[i32; 3]| Lab::from(of.map(|axis| BOX * (f64::from(axis) + 0.5)));
        // No ΔE00 is less than its part of lightness, which is at least |ΔL*| / 1.75.
        let is_near = |lab: Lab| (lab.l - wished.l).abs() <= 1.75 * NEAR && lab.difference(wished) <= NEAR;
        self.alone.iter().any(|lab| is_near(*lab)) || self.over.iter().any(|of| is_near(middle(of)))
    }
}

/// What a drawer lacks on a card: up to so many colours.
///
/// ```
/// # use rosy_core::colour::{Illuminant, Lab};
/// # use rosy_core::ink::{Film, Kind, measured::bright_white};
/// # use rosy_core::search::lacks::lacking;
/// let (card, light) = (bright_white(), Illuminant::D65);
/// let ink = |l, a, b| {
///     let lab = Lab { l, a, b };
///     ((Film::of_swatch(lab, card, light, Kind::Dye), lab), Kind::Dye)
/// };
/// // An orange and a blue go to mud, and there is nothing to lay between.
/// let found = lacking(&[ink(65.0, 45.0, 60.0), ink(45.0, 0.0, -45.0)], card, light, 1);
/// assert_eq!((found.muddy, &found.lacks[0].mends[..]), (1, &[(0, 1)][..]));
/// ```
pub fn lacking(drawer: &[Owned], card: &Spectrum, light: Illuminant, most: usize) -> Lacking {
    let inks: Vec<Swatch> = drawer.iter().map(|(swatch, _)| swatch.clone()).collect();
    let could_be = could_be(card, light);
    let made = Made::of(&inks, card, light);
    let wished: Vec<Lab> = could_be.iter().flat_map(|(_, depths)| depths.clone()).collect();
    let pairs = unbridged(drawer, card, light);
    let unreached: Vec<Lab> = wished.par_iter().filter(|lab| !made.reaches(**lab)).copied().collect();
    let (muddy, colours, unmade) = (pairs.len(), wished.len(), unreached.len());
    // What each could open does not change by what else is had: only what of it is left.
    let opens = |((film, lab), depths): &(Swatch, Vec<Lab>)| {
        let verdict = |other: &Swatch| meet((film, *lab), (&other.0, other.1), card, light).verdict;
        let verdicts: Vec<Verdict> = inks.iter().map(verdict).collect();
        let is_between = |(one, other): &(usize, usize)| {
            lies_between([verdicts[*one], verdicts[*other]], *lab, [inks[*one].1, inks[*other].1])
        };
        let is_near = |wished: &Lab| depths.iter().any(|depth| depth.difference(*wished) <= NEAR);
        let mends: Vec<bool> = pairs.iter().map(is_between).collect();
        let reaches: Vec<bool> = unreached.iter().map(is_near).collect();
        (mends, reaches)
    };
    let opens: Vec<(Vec<bool>, Vec<bool>)> = could_be.par_iter().map(opens).collect();
    let mut left = (vec![true; muddy], vec![true; unmade]);
    let mut lacks = Vec::new();
    for _ in 0..most {
        let count =
            |own: &[bool], left: &[bool]| own.iter().zip(left).filter(|(own, left)| **own && **left).count();
        let share = |own: &(Vec<bool>, Vec<bool>)| {
            count(&own.0, &left.0) as f64 / muddy.max(1) as f64
                + count(&own.1, &left.1) as f64 / unmade.max(1) as f64
        };
        // Of those that open as much, the first.
        let best =
            (0..opens.len()).rev().map(|nth| (share(&opens[nth]), nth)).max_by(|a, b| a.0.total_cmp(&b.0));
        let Some((_, nth)) = best.filter(|(share, _)| *share > LITTLE) else { break };
        let ((mends, reaches), lab) = (&opens[nth], could_be[nth].0.1);
        let own = (0..muddy).filter(|pair| mends[*pair] && left.0[*pair]);
        lacks.push(Lack {
            lab,
            mends: own.map(|pair| pairs[pair]).collect(),
            reaches: count(reaches, &left.1),
            mix: mixed(drawer, lab, card, light),
        });
        left.0.iter_mut().zip(mends).for_each(|(left, own)| *left &= !own);
        left.1.iter_mut().zip(reaches).for_each(|(left, own)| *left &= !own);
    }
    Lacking { muddy, colours, unreached: unmade, lacks }
}

/// The two dyes of a drawer that come nearest to a colour where they are mixed, so many parts of one to so many of the other.
fn mixed(drawer: &[Owned], wished: Lab, card: &Spectrum, light: Illuminant) -> Option<Mix> {
    let dyes: Vec<usize> = (0..drawer.len()).filter(|place| drawer[*place].1 == Kind::Dye).collect();
    let beneath = card.map(inside);
    let mix = |(one, other): (usize, usize)| {
        let parts = (1..=PARTS).flat_map(|a| (1..=PARTS).map(move |b| [a, b]));
        let parts = parts.filter(|[a, b]| a == &1 || b == &1 || (*a, *b) == (2, 3) || (*a, *b) == (3, 2));
        let tried = parts.map(|parts| {
            // A layer of two dyes lets through what both let through, each for its part.
            let share = |n: usize| f64::from(parts[n]) / f64::from(parts[0] + parts[1]);
            let [a, b] = [(one, 0), (other, 1)].map(|(ink, n)| Over::of(&drawer[ink].0.0, share(n), 1.0));
            let difference = seen(&b.on(&a.on(&beneath.0)), light).difference(wished);
            Mix { of: [one, other], parts, difference }
        });
        tried.min_by(|a, b| a.difference.total_cmp(&b.difference))
    };
    let pairs: Vec<(usize, usize)> = (0..dyes.len())
        .flat_map(|one| (one + 1..dyes.len()).map(move |other| (one, other)))
        .map(|(one, other)| (dyes[one], dyes[other]))
        .collect();
    let nearest = pairs.into_par_iter().filter_map(mix).min_by(|a, b| {
        a.difference.total_cmp(&b.difference).then_with(|| (a.of, a.parts).cmp(&(b.of, b.parts)))
    });
    nearest.filter(|mix| mix.difference <= MIXED)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::ink::measured::bright_white;
    use proptest::prelude::*;

    const LIGHT: Illuminant = Illuminant::D65;

    fn ink(lab: Lab) -> Owned {
        ((Film::of_swatch(lab, bright_white(), LIGHT, Kind::Dye), lab), Kind::Dye)
    }

    fn drawer(labs: &[Lab]) -> Vec<Owned> {
        labs.iter().map(|lab| ink(*lab)).collect()
    }

    fn is_clean(one: &Owned, other: &Owned) -> bool {
        let (one, other) = (&one.0, &other.0);
        meet((&one.0, one.1), (&other.0, other.1), bright_white(), LIGHT).verdict == Verdict::Clean
    }

    fn inky() -> impl Strategy<Value = Lab> {
        (30.0..85.0, 20.0..60.0, 0.0..std::f64::consts::TAU).prop_map(|(l, c, h): (f64, f64, f64)| Lab {
            l,
            a: c * h.cos(),
            b: c * h.sin(),
        })
    }

    #[test]
    fn a_drawer_of_all_that_could_be_lacks_nothing_between() {
        let all: Vec<Owned> = could_be(bright_white(), LIGHT)
            .into_iter()
            .step_by(3)
            .map(|(swatch, _)| (swatch, Kind::Dye))
            .collect();
        assert!(all.len() > 60, "{}", all.len());
        let found = lacking(&all, bright_white(), LIGHT, 5);
        assert!(found.unreached * 20 < found.colours, "{} of {}", found.unreached, found.colours);
    }

    #[test]
    fn with_blues_alone_it_is_no_blue_that_is_lacking() {
        let blues = [[52.0, -18.0, -36.0], [35.0, 4.0, -42.0], [68.0, -20.0, -24.0]];
        let found = lacking(&drawer(&blues.map(Lab::from)), bright_white(), LIGHT, 3);
        assert_eq!(found.lacks.len(), 3);
        for lack in &found.lacks {
            assert_ne!(crate::ink::Family::of(lack.lab), crate::ink::Family::Blues, "{:?}", lack.lab);
            assert!(lack.reaches > 0);
        }
    }

    #[test]
    fn what_can_be_mixed_of_two_dyes_is_told_with_its_parts() {
        let (yellow, blue) = (Lab { l: 87.0, a: -2.0, b: 72.0 }, Lab { l: 48.0, a: -18.0, b: -38.0 });
        let drawer = drawer(&[yellow, blue]);
        let beneath = bright_white().map(inside);
        let [a, b] =
            [(0, 0.75), (1, 0.25)].map(|(ink, part): (usize, f64)| Over::of(&drawer[ink].0.0, part, 1.0));
        let green = seen(&b.on(&a.on(&beneath.0)), LIGHT);
        let mix = mixed(&drawer, green, bright_white(), LIGHT).unwrap();
        assert_eq!((mix.of, mix.parts), ([0, 1], [3, 1]));
        assert!(mix.difference < 1e-6);
        assert!(mixed(&drawer, Lab { l: 50.0, a: 60.0, b: 10.0 }, bright_white(), LIGHT).is_none());
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(6))]
        #[test]
        fn each_mends_just_what_it_says_and_then_less_is_left(
            labs in proptest::collection::vec(inky(), 2..9),
        ) {
            let mut drawer = drawer(&labs);
            let found = lacking(&drawer, bright_white(), LIGHT, 2);
            prop_assert!(found.lacks.len() <= 2);
            let Some(first) = found.lacks.first() else { return Ok(()) };
            let new = ink(first.lab);
            for (one, other) in &first.mends {
                let [one, other] = [&drawer[*one], &drawer[*other]];
                prop_assert!(!is_clean(one, other) && is_clean(&new, one) && is_clean(&new, other));
                // Not by taking the colour out of the run.
                let ends = [one, other].map(|ink| ink.0.1.oklch()[1]);
                prop_assert!(first.lab.oklch()[1] > 0.38 * 0.5 * (ends[0] + ends[1]));
            }
            // Had, it leaves just the others in want, beside what it goes to mud with itself.
            let own = drawer.len();
            drawer.push(new);
            let then = lacking(&drawer, bright_white(), LIGHT, 1);
            let left = unbridged(&drawer, bright_white(), LIGHT);
            let old = left.iter().filter(|(_, other)| *other < own).count();
            prop_assert_eq!(old, found.muddy - first.mends.len());
            // Over others it reaches more than by itself.
            prop_assert!(then.unreached <= found.unreached - first.reaches);
        }
    }
}
