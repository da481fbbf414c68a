//! Which card, tool and films is it made with?

use std::collections::BTreeMap;
use std::sync::Arc;

use super::heated::Heated;
use super::masks::Masks;
use crate::colour::Spectrum;
use crate::edges::Border;
use crate::ink::{Brush, Film, Ink, Kind, Paper, Tool, measured, tool::desk};
use crate::learn::pace::{Pace, With};
use crate::learn::{Figure, Hand};
use crate::length::Length;
use crate::place::Extent;
use crate::shape::Shape;
use crate::thing::Thing;

/// A panel's card, tool and inks, with what is reckoned from them once and used at every place.
#[derive(Clone, Debug)]
pub struct Materials {
    /// Width and height.
    pub size: (Length, Length),
    /// The card.
    pub paper: Paper,
    /// What carries the ink.
    pub tool: Tool,
    /// The brushes on the desk, one by one; at least one.
    pub brushes: Vec<Brush>,
    /// The inks.
    pub inks: Vec<Ink>,
    /// The masks that can be cut for what stands on it.
    pub masks: Arc<Masks>,
    /// What chance starts from.
    pub seed: u32,
    /// The figures that are planned with.
    pub pace: Pace,
    /// What a light pass leaves.
    pub hand: Hand,
    /// Over which masks it is dried with heat.
    pub heated: Heated,
    /// Bare card.
    pub card: Spectrum,
    /// One dry film for each ink; amounts are shares of its full swatch.
    pub films: Vec<Film>,
    /// The same before it has dried.
    pub wet_films: Vec<Film>,
}

/// The films of some inks, dry and still wet.
fn films_of(inks: &[Ink]) -> (Vec<Film>, Vec<Film>) {
    let films: Vec<Film> = inks.iter().map(Ink::film).collect();
    let wet_films = films.iter().zip(inks).map(|(film, ink)| film.wet(ink.kind)).collect();
    (films, wet_films)
}

impl Materials {
    /// Works them out; `beside` are the tools on the desk beside the one most is laid with.
    pub fn of(
        size: (Length, Length),
        paper: &Paper,
        (tool, beside): (&Tool, &[Tool]),
        inks: &[Ink],
        stands: (Option<&Shape>, Border, &[Thing]),
        seed: u32,
    ) -> Materials {
        let (films, wet_films) = films_of(inks);
        Materials {
            size,
            paper: paper.clone(),
            tool: tool.clone(),
            brushes: desk(tool, beside, inks),
            inks: inks.to_vec(),
            masks: Masks::of(size, stands),
            seed,
            pace: Pace::default(),
            hand: Hand::default(),
            heated: Heated::default(),
            card: paper.reflectance(),
            films,
            wet_films,
        }
    }

    /// The same for something of another size, in some of the inks, with nothing on it.
    #[must_use]
    pub fn part(&self, size: (Length, Length), inks: &[usize]) -> Materials {
        let films = |films: &[Film]| inks.iter().map(|ink| films[*ink].clone()).collect();
        Materials {
            size,
            masks: Arc::default(),
            inks: inks.iter().map(|ink| self.inks[*ink].clone()).collect(),
            films: films(&self.films),
            wet_films: films(&self.wet_films),
            ..self.clone()
        }
    }

    /// The same with other inks.
    #[must_use]
    pub fn of_inks(&self, inks: &[Ink]) -> Materials {
        let (films, wet_films) = films_of(inks);
        Materials { inks: inks.to_vec(), films, wet_films, ..self.clone() }
    }

    /// Width and height in millimetres.
    pub fn size_mm(&self) -> (f64, f64) {
        (self.size.0.mm(), self.size.1.mm())
    }

    /// The box that measures on a thing are taken in; on the ground, the panel itself.
    pub fn extent(&self, on: Option<usize>) -> Extent {
        let thing = on.and_then(|thing| self.masks.things.get(thing));
        thing.map_or(Extent::whole(self.size), |thing| thing.extent)
    }

    /// Standard deviation of one veil by this tool on this card, as a share of a veil.
    pub fn unevenness(&self) -> f64 {
        self.tool.kind.unevenness() * self.paper.surface.unevenness() * self.hand.unevenness()
    }

    /// Seconds of something that hands do, with an ink where there is one.
    pub fn seconds(&self, figure: Figure, ink: Option<usize>) -> u32 {
        self.pace.seconds(figure, self.with(ink))
    }

    /// Seconds until something is dry in air, least and most.
    pub fn dries_in(&self, figure: Figure) -> (u32, u32) {
        self.pace.dries_in(figure, self.with(None))
    }

    /// Seconds until an ink is touch dry in air, least and most.
    pub fn touch_dry(&self, ink: usize) -> (u32, u32) {
        self.pace.dries_in(Figure::drying(self.inks[ink].kind), self.with(Some(ink)))
    }

    fn with(&self, ink: Option<usize>) -> With<'_> {
        let ink = ink.and_then(|ink| self.inks.get(ink)).map(|ink| &ink.name);
        With { ink, card: Some(&self.paper.name), tool: Some(&self.tool.name) }
    }

    /// Whether what is laid is no more than a tint of dye, which is touch dry as it is laid: passes of an ink along each of some
    /// ways, which lie one over the other.
    pub fn is_tint(&self, laid: impl IntoIterator<Item = (usize, usize, f64)>) -> bool {
        // How much of each ink lies along each way, in swatches.
        let mut shares: BTreeMap<(usize, usize), f64> = BTreeMap::new();
        for (way, ink, passes) in laid {
            if self.inks[ink].kind != Kind::Dye {
                return false;
            }
            *shares.entry((way, ink)).or_default() += passes / self.full_veils(ink);
        }
        let mut most: BTreeMap<usize, f64> = BTreeMap::new();
        for ((way, _), share) in shares {
            let most = most.entry(way).or_default();
            *most = most.max(share);
        }
        most.values().sum::<f64>() <= measured::TINT + 1e-9
    }

    /// Light passes that make an ink's full swatch.
    pub fn full_veils(&self, ink: usize) -> f64 {
        f64::from(self.inks[ink].full_veils)
    }
}
