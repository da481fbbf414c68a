//! What lies on the card as it stands, in which order, and how damp?

use std::sync::Arc;

use super::brushes::{Brushes, Carried};
use super::coat::Coat;
use super::materials::Materials;
use crate::blend::way::{Along, Run};
use crate::blend::{Reach, Way};
use crate::ink::{Film, Stack, measured};

/// Places along each side at which it is looked what a brush went over.
const CROSSED: usize = 7;

/// How a card is looked at.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Look {
    /// As it will be once all of it has dried.
    #[default]
    Dry,
    /// As it is now: what is still damp shows stronger, and has not bloomed.
    Now,
}

/// A place on the card: its measure along each of the ways that ink was laid along.
pub type Spot = Vec<Along>;

/// The card as some moves have left it.
#[derive(Clone, Debug)]
pub struct Surface {
    /// What it is made with.
    pub materials: Arc<Materials>,
    /// Ink laid, in order.
    pub coats: Vec<Coat>,
    /// The ways it was laid along, each once.
    pub runs: Vec<Run>,
    ways: Vec<Way>,
    /// Seconds since the first move.
    seconds: u32,
    /// The brushes on the desk.
    pub brushes: Brushes,
    /// How it is looked at.
    pub look: Look,
}

impl Surface {
    /// Bare card and clean brushes.
    pub fn bare(materials: Arc<Materials>) -> Surface {
        Surface {
            brushes: Brushes::clean(materials.brushes.len()),
            materials,
            coats: Vec::new(),
            runs: Vec::new(),
            ways: Vec::new(),
            seconds: 0,
            look: Look::Dry,
        }
    }

    /// Lays veils of an ink along a way.
    pub fn lay(&mut self, ink: usize, way: Way, veils: &[Reach]) {
        let size = self.materials.size;
        let run = self.run_along(way).unwrap_or_else(|| {
            self.ways.push(way);
            self.runs.push(way.on(size));
            self.ways.len() - 1
        });
        let footprint = self.materials.tool.kind.footprint_mm();
        let mut coat = Coat::laid(ink, run, way, way.span(size), veils, footprint);
        coat.laid_at = self.seconds;
        self.brushes.soil(self.taken_up(&coat));
        self.coats.push(coat);
    }

    /// What a brush comes away with that has laid a coat: some of its ink, and of what is damp where it went.
    fn taken_up(&self, coat: &Coat) -> Carried {
        let kind = |ink: usize| self.materials.inks[ink].kind;
        let mut carried = vec![(coat.ink, measured::held(kind(coat.ink)))];
        let damp: Vec<&Coat> =
            self.coats.iter().filter(|other| !other.is_dry && other.ink != coat.ink).collect();
        if damp.is_empty() {
            return Carried(carried);
        }
        let (width, height) = self.materials.size_mm();
        let share = |n: usize| (n as f64 + 0.5) / CROSSED as f64;
        let spots = (0..CROSSED * CROSSED)
            .map(|n| self.spot(width * share(n % CROSSED), height * share(n / CROSSED)));
        let (mut touched, mut crossed) = (0.0, vec![0.0; self.materials.inks.len()]);
        for spot in spots {
            let here = coat.veils_at(spot[coat.run]);
            touched += here;
            for other in &damp {
                crossed[other.ink] += here * other.veils_at(spot[other.run]);
            }
        }
        for (ink, crossed) in crossed.into_iter().enumerate().filter(|(_, crossed)| *crossed > 0.0) {
            carried.push((ink, measured::taken_up(kind(ink)) * crossed / touched));
        }
        Carried(carried)
    }

    /// Lets time pass: what has had its minutes in air is touch dry.
    pub fn pass(&mut self, seconds: u32) {
        self.seconds += seconds;
        for coat in &mut self.coats {
            let (least, _) = measured::touch_dry_minutes(self.materials.inks[coat.ink].kind);
            coat.is_dry |= self.seconds >= coat.laid_at + 60 * least;
        }
    }

    /// Dries all of it.
    pub fn dry(&mut self) {
        for coat in &mut self.coats {
            coat.is_dry = true;
        }
    }

    /// The same card looked at so.
    #[must_use]
    pub fn looked_at(self, look: Look) -> Surface {
        Surface { look, ..self }
    }

    /// Whether any of an ink lies on it; along one way where it is named.
    pub fn has(&self, ink: usize, along: Option<Way>) -> bool {
        let on_way = |coat: &Coat| along.is_none_or(|way| self.ways[coat.run] == way);
        self.coats.iter().any(|coat| coat.ink == ink && on_way(coat))
    }

    /// The run of a way, by its place, where ink was laid along it.
    pub fn run_along(&self, way: Way) -> Option<usize> {
        self.ways.iter().position(|known| *known == way)
    }

    /// The inks that lie on it, in the panel's order.
    pub fn inks(&self) -> Vec<usize> {
        (0..self.materials.inks.len()).filter(|&ink| self.has(ink, None)).collect()
    }

    /// A point's measures, in millimetres from the left and top edges.
    pub fn spot(&self, x: f64, y: f64) -> Spot {
        self.runs.iter().map(|run| run.at(x, y)).collect()
    }

    /// Veils that each coat leaves at a spot.
    pub fn veils_at(&self, spot: &Spot) -> Vec<f64> {
        self.coats.iter().map(|coat| coat.veils_at(spot[coat.run])).collect()
    }

    /// Veils of each ink, all coats together.
    pub fn by_ink(&self, veils: &[f64]) -> Vec<f64> {
        let mut sums = vec![0.0; self.materials.inks.len()];
        for (coat, veils) in self.coats.iter().zip(veils) {
            sums[coat.ink] += veils;
        }
        sums
    }

    /// The films one over the other, given the veils of each coat; `grown` scales each ink's amount.
    pub fn stack(&self, veils: &[f64], grown: impl Fn(usize) -> f64) -> Stack {
        let mut stack = Stack::on(&self.materials.card);
        for (coat, veils) in self.coats.iter().zip(veils) {
            let amount = veils / self.materials.full_veils(coat.ink);
            stack.lay(coat.ink, self.film(coat), amount * grown(coat.ink));
        }
        stack
    }

    fn film(&self, coat: &Coat) -> &Film {
        match self.look {
            Look::Now if !coat.is_dry => &self.materials.wet_films[coat.ink],
            _ => &self.materials.films[coat.ink],
        }
    }
}
