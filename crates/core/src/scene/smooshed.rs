//! How is a mat begun, and what is added to it, where the maker only says that there is to be one?

use super::loose::{Pressing, Smoosh};
use crate::length::{Length, Units};
use crate::place::Point;
use crate::water::bench::PATCH;
use crate::water::{Movement, Patch};

/// Where patches lie to begin with, in per cent of the card's width and height: apart from one another.
const PLACES: [(i64, i64); 6] = [(30, 26), (68, 46), (38, 76), (72, 80), (26, 52), (70, 18)];
/// How far a patch reaches, in per cent of the shorter side.
const REACHES: i64 = 27;
/// Mists over a mat for the first press, and for later ones.
const MISTS: (u8, u8) = (4, 2);

impl Smoosh {
    /// Patches of some inks, and one press.
    pub fn of(inks: &[usize], size: (Length, Length), units: Units) -> Smoosh {
        let mut smoosh = Smoosh { patches: Vec::new(), presses: vec![Pressing::first()] };
        inks.iter().take(PLACES.len()).for_each(|ink| smoosh.add_patch(*ink, size, units));
        smoosh
    }

    /// One patch more, where there is room.
    pub fn add_patch(&mut self, ink: usize, (width, height): (Length, Length), units: Units) {
        let mark = units.pencil();
        let share = |of: Length, percent: i64| of.scaled(mark * percent, mark * 100, mark);
        let reach = share(width.min(height), REACHES).clamp(PATCH.0, PATCH.1);
        let (across, down) = PLACES[self.patches.len() % PLACES.len()];
        let at = Point { left: share(width, across), top: share(height, down) };
        self.patches.push(Patch { ink, at, across: reach, down: reach, dabs: 3 });
    }

    /// One press more, with what is left.
    pub fn press_again(&mut self) {
        let press = if self.presses.is_empty() { Pressing::first() } else { Pressing::again(None) };
        self.presses.push(press);
    }

    /// Three cards from one mat: the panel first, then two spare ones on what is left.
    pub fn three(&mut self) {
        self.presses = vec![Pressing::first(), Pressing::again(Some(1)), Pressing::again(Some(2))];
    }
}

impl Pressing {
    const fn first() -> Pressing {
        Pressing { mists: MISTS.0, spare: None, movement: Movement::Still, on_damp: false }
    }

    const fn again(spare: Option<u8>) -> Pressing {
        Pressing { mists: MISTS.1, spare, movement: Movement::Still, on_damp: false }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn a_mat_that_is_begun_can_be_pressed_on_cards_of_any_size() {
        for units in [Units::Inches, Units::Millimetres] {
            for (width, height) in [(1, 1), (4, 5), (12, 3), (12, 12)] {
                let size = (Length::from_inches(width), Length::from_inches(height));
                let mut smoosh = Smoosh::of(&[0, 1, 2], size, units);
                (0..6).for_each(|_| smoosh.add_patch(1, size, units));
                smoosh.press_again();
                assert_eq!(smoosh.check(3, size), Ok(()));
                smoosh.three();
                assert_eq!((smoosh.check(3, size), smoosh.spares()), (Ok(()), vec![1, 2]));
            }
        }
    }
}
