//! What is on each brush, and which is in hand?
//!
//! A brush holds a little of the ink it was loaded with last, and of every damp film it was worked over. Both go on to the
//! next pad and the next field. What it carried before is spent by then: each laying leaves on a brush only what comes of
//! that laying.

use super::materials::Materials;
use crate::colour::{Illuminant, Lab};
use crate::ink::{Stack, measured};

/// What a brush carries: inks, by their places in the panel's list, in light passes of each.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Carried(pub Vec<(usize, f64)>);

impl Carried {
    /// What is left of it after so many wipes on a dry towel.
    pub fn wiped(&self, times: u8) -> Carried {
        self.spent(measured::WIPE_LEAVES.powi(times.into()))
    }

    /// How far some light passes of a clean ink are shifted by it, in ΔE00 on the panel's card.
    pub fn shift(&self, materials: &Materials, ink: usize, passes: usize) -> f64 {
        self.shift_from(materials, ink, passes, Carried::default().seen(materials, ink, passes))
    }

    fn shift_from(&self, materials: &Materials, ink: usize, passes: usize, clean: Lab) -> f64 {
        let is_clean = self.0.iter().all(|(other, _)| *other == ink);
        if is_clean { 0.0 } else { self.seen(materials, ink, passes).difference(clean) }
    }

    /// The colour of some passes of an ink with it in them.
    fn seen(&self, materials: &Materials, ink: usize, passes: usize) -> Lab {
        let share = |ink: usize, passes: f64| passes / materials.full_veils(ink);
        let mut stack = Stack::on(&materials.card);
        for &(other, passes) in self.0.iter().filter(|(other, _)| *other != ink) {
            stack.lay(other, &materials.films[other], share(other, passes));
        }
        stack.lay(ink, &materials.films[ink], share(ink, passes as f64));
        stack.lab(Illuminant::D65)
    }

    /// How often it has to be wiped, at least, before some passes of an ink stay clean to the eye, and how far they are
    /// shifted then.
    pub fn cleaning(&self, materials: &Materials, ink: usize, passes: usize) -> (u8, f64) {
        let clean = Carried::default().seen(materials, ink, passes);
        let mut left = self.clone();
        let mut times = 0;
        loop {
            let shift = left.shift_from(materials, ink, passes, clean);
            if shift <= measured::UNSEEN || times == measured::MOST_WIPES {
                return (times, shift);
            }
            (left, times) = (left.wiped(1), times + 1);
        }
    }

    /// Light passes of an ink.
    pub fn of(&self, ink: usize) -> f64 {
        self.0.iter().filter(|(of, _)| *of == ink).map(|(_, passes)| passes).sum()
    }

    /// The same with so much of each left.
    #[must_use]
    pub fn spent(&self, left: f64) -> Carried {
        Carried(self.0.iter().map(|(ink, passes)| (*ink, passes * left)).collect())
    }

    /// The ink that there is most of, where there is any.
    pub fn most(&self) -> Option<usize> {
        self.0.iter().max_by(|one, other| one.1.total_cmp(&other.1)).map(|(ink, _)| *ink)
    }

    /// The ink other than one that would shift it most.
    pub fn worst_for(&self, materials: &Materials, ink: usize) -> Option<usize> {
        let alone =
            |(other, passes): &&(usize, f64)| Carried(vec![(*other, *passes)]).shift(materials, ink, 1);
        let others = self.0.iter().filter(|(other, _)| *other != ink);
        others.max_by(|one, other| alone(one).total_cmp(&alone(other))).map(|(other, _)| *other)
    }
}

/// A shift of a clean ink as a maker would see it.
pub fn shift_in_words(shift: f64) -> &'static str {
    match shift {
        s if s <= measured::UNSEEN => "not to be seen",
        s if s <= 2.0 => "a little dull",
        s if s <= 4.0 => "dirty",
        _ => "plainly dirty",
    }
}

/// The brushes on the desk: what each carries, and which is in hand.
#[derive(Clone, Debug, PartialEq)]
pub struct Brushes {
    /// What each carries, by its place on the desk.
    pub carry: Vec<Carried>,
    /// The one in hand; none before the first is taken up.
    pub in_hand: Option<usize>,
    /// Times that one was wiped.
    pub wipes: usize,
    /// Times that one was put down for another.
    pub changes: usize,
}

impl Brushes {
    /// So many clean ones.
    pub fn clean(count: usize) -> Brushes {
        Brushes { carry: vec![Carried::default(); count.max(1)], in_hand: None, wipes: 0, changes: 0 }
    }

    /// What is on the one in hand, or on the first where none is.
    pub fn carried(&self) -> &Carried {
        &self.carry[self.in_hand.unwrap_or(0)]
    }

    /// What lay on the one in hand is spent, and this is on it instead.
    pub(super) fn soil(&mut self, carried: Carried) {
        let at = *self.in_hand.get_or_insert(0);
        self.carry[at] = carried;
    }

    /// Takes one up.
    pub(crate) fn take(&mut self, brush: usize) {
        self.changes += usize::from(self.in_hand.is_some_and(|held| held != brush));
        self.in_hand = Some(brush);
    }

    /// Wipes the one in hand.
    pub(crate) fn wipe(&mut self, times: u8) {
        self.wipes += usize::from(times);
        let at = self.in_hand.unwrap_or(0);
        self.carry[at] = self.carry[at].wiped(times);
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::panel::sample;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn more_on_a_brush_soils_more_and_a_wipe_soils_less(passes in 0.0..0.5, more in 0.0..0.5) {
            let materials = sample().materials();
            let shift = |passes: f64| Carried(vec![(1, passes)]).shift(&materials, 0, 1);
            prop_assert!(shift(passes + more) >= shift(passes) - 1e-9);
            prop_assert!(Carried(vec![(1, passes)]).wiped(1).shift(&materials, 0, 1) <= shift(passes) + 1e-9);
            let many = Carried(vec![(1, passes)]).shift(&materials, 0, 4);
            prop_assert!(many <= shift(passes) + 1e-9, "it is spread over more ink");
            prop_assert_eq!(Carried(vec![(0, passes)]).shift(&materials, 0, 1), 0.0, "its own ink soils no brush");
        }
    }

    #[test]
    fn dark_on_a_brush_soils_light_more_than_light_soils_dark() {
        let materials = sample().materials();
        let [light, dark] = [0, 1].map(|ink| Carried(vec![(ink, 0.1)]).shift(&materials, 1 - ink, 1));
        assert!(dark > light, "dark into light {dark}, light into dark {light}");
    }

    #[test]
    fn the_hand_holds_one_brush_and_counts_what_it_does() {
        let mut brushes = Brushes::clean(2);
        brushes.soil(Carried(vec![(0, 0.1)]));
        brushes.take(1);
        brushes.take(1);
        assert_eq!((brushes.changes, brushes.carried()), (1, &Carried::default()));
        brushes.take(0);
        brushes.wipe(2);
        assert_eq!((brushes.wipes, brushes.changes), (2, 2));
        assert!(brushes.carried().0[0].1 < 0.002);
    }
}
