//! What has become of the mat and the cards by now?
//!
//! The same deeds in the same order always come to the same, so that what has been worked out once is kept for a while and
//! gone on from.

use std::num::NonZeroUsize;
use std::sync::{Arc, LazyLock, Mutex, PoisonError};

use lru::LruCache;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::mat::{Mat, Movement, Pressed};
use crate::ink::Kind;
use crate::length::Length;
use crate::place::Point;

/// What one dab of a pad leaves on the mat, in full swatches (chosen).
pub const A_DAB: f64 = 0.35;
/// Most dabs on a patch.
pub const MOST_DABS: u8 = 8;
/// Most mists at once.
pub const MOST_MISTS: u8 = 8;
/// Most spare cards pressed on a mat beside the one it is for.
pub const MOST_SPARES: u8 = 4;
/// How far a patch reaches, least and most.
pub const PATCH: (Length, Length) = (Length::from_64ths(8), Length::from_inches(12));
/// How many mats are kept as they stood at some time.
const KEPT: usize = 16;

/// A patch of ink on the mat.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Patch {
    /// The ink, by its place in the list, from 0.
    pub ink: usize,
    /// Its middle, from the left and top edges of where the card is pressed.
    pub at: Point,
    /// From its middle to its edge, to the sides.
    pub across: Length,
    /// From its middle to its edge, up and down.
    pub down: Length,
    /// How often the pad is dabbed there, 1 to 8.
    #[serde(default = "two")]
    pub dabs: u8,
}

const fn two() -> u8 {
    2
}

impl Patch {
    /// Whether its middle lies where a card of this size comes down, and it is no smaller or larger than patches are.
    pub fn lies_under(&self, (width, height): (Length, Length)) -> bool {
        let lies = |at: Length, side: Length| (Length::ZERO..=side).contains(&at);
        let reaches = PATCH.0..=PATCH.1;
        lies(self.at.left, width)
            && lies(self.at.top, height)
            && reaches.contains(&self.across)
            && reaches.contains(&self.down)
    }
}

/// What is done with the mat.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Doing {
    /// A pad dabbed on it.
    Dab(Patch),
    /// So many pumps of mist over it.
    Mist(u8),
    /// A card pressed on it.
    Press(usize, Movement),
    /// A card dried.
    Dry(usize),
}

/// All that has been done with a mat, in order.
#[derive(Clone, Debug, PartialEq, Eq, Hash)]
pub struct Doings {
    /// Width and height of the cards.
    pub size: (Length, Length),
    /// What chance starts from.
    pub seed: u32,
    /// The inks dabbed on it, by their places on the panel, and what each is.
    pub inks: Vec<(usize, Kind)>,
    /// What was done.
    pub deeds: Vec<Doing>,
}

/// A mat, and the cards pressed on it.
#[derive(Clone, Debug)]
pub struct Bench {
    /// What lies on the mat.
    pub mat: Mat,
    /// The cards.
    pub cards: Vec<Pressed>,
}

impl Doings {
    /// A clean mat.
    pub const fn clean(size: (Length, Length), seed: u32) -> Doings {
        Doings { size, seed, inks: Vec::new(), deeds: Vec::new() }
    }

    /// One patch more.
    pub fn dab(&mut self, patch: Patch, kind: Kind) {
        if !self.inks.iter().any(|(ink, _)| *ink == patch.ink) {
            self.inks.push((patch.ink, kind));
        }
        self.deeds.push(Doing::Dab(patch));
    }

    /// How many layers lie on a card: a press on a damp one mixes with what lies there.
    pub fn layers(&self, card: usize) -> usize {
        let (mut layers, mut is_dry) = (0, true);
        for deed in &self.deeds {
            match *deed {
                Doing::Press(of, _) if of == card => {
                    layers += usize::from(is_dry || layers == 0);
                    is_dry = false;
                }
                Doing::Dry(of) if of == card => is_dry = true,
                _ => {}
            }
        }
        layers
    }

    /// What has become of it all.
    pub fn bench(&self) -> Arc<Bench> {
        static KNOWN: LazyLock<Mutex<LruCache<Doings, Arc<Bench>>>> =
            LazyLock::new(|| Mutex::new(LruCache::new(NonZeroUsize::new(KEPT).unwrap_or(NonZeroUsize::MIN))));
        let known = |told: &Doings| KNOWN.lock().unwrap_or_else(PoisonError::into_inner).get(told).cloned();
        let (mut begun, mut first) = (None, 0);
        for count in (0..=self.deeds.len()).rev() {
            let part = Doings { deeds: self.deeds[..count].to_vec(), ..self.clone() };
            if let Some(bench) = known(&part) {
                (begun, first) = (Some(bench), count);
                break;
            }
        }
        if let Some(bench) = begun.as_ref().filter(|_| first == self.deeds.len()) {
            return bench.clone();
        }
        let mut bench = match begun {
            Some(bench) => (*bench).clone(),
            None => {
                let kinds: Vec<Kind> = self.inks.iter().map(|(_, kind)| *kind).collect();
                let size = (self.size.0.mm(), self.size.1.mm());
                Bench { mat: Mat::clean(size, &kinds, self.seed), cards: Vec::new() }
            }
        };
        for deed in &self.deeds[first..] {
            bench.undergo(*deed, &self.inks);
        }
        let bench = Arc::new(bench);
        KNOWN.lock().unwrap_or_else(PoisonError::into_inner).put(self.clone(), bench.clone());
        bench
    }
}

impl Bench {
    fn card(&mut self, card: usize) -> &mut Pressed {
        if self.cards.len() <= card {
            self.cards.resize(card + 1, Pressed::default());
        }
        &mut self.cards[card]
    }

    fn undergo(&mut self, deed: Doing, inks: &[(usize, Kind)]) {
        match deed {
            Doing::Dab(Patch { ink, at, across, down, dabs }) => {
                let Some(ink) = inks.iter().position(|(of, _)| *of == ink) else { return };
                let amount = A_DAB * f64::from(dabs);
                self.mat.dab(ink, (at.left.mm(), at.top.mm()), (across.mm(), down.mm()), amount);
            }
            Doing::Mist(pumps) => self.mat.mist(f64::from(pumps)),
            Doing::Press(card, movement) => {
                let mut pressed = std::mem::take(self.card(card));
                self.mat.press(&mut pressed, movement);
                *self.card(card) = pressed;
            }
            Doing::Dry(card) => self.card(card).is_dry = true,
        }
    }
}
