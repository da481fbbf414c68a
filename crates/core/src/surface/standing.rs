//! What lies on the card as it stands, in which order, and how damp?

use std::sync::Arc;

use super::brushes::{Brushes, Carried};
use super::coat::Coat;
use super::embossing::{Embossing, Hard, Seal};
use super::film::WetFilm;
use super::harm::Harm;
use super::heated::Heated;
use super::masks::{Mask, Masked, Part, Plot};
use super::materials::Materials;
use crate::blend::way::{Along, Run};
use crate::blend::{Reach, Way};
use crate::colour::{Illuminant, Spectrum};
use crate::ink::{self, Kind, Paste, Stack, measured};
use crate::learn::Figure;
use crate::water::bench::{Doing, Doings};

/// Places along each side at which it is looked what a brush went over.
const CROSSED: usize = 7;
/// Light passes of an ink below which a place is bare of it (chosen).
const SOME: f64 = 0.05;

/// How a card is looked at.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub enum Moment {
    /// As it will be once all of it has dried.
    #[default]
    Dry,
    /// As it is now: what is still damp shows stronger, and has not bloomed.
    Now,
}

/// What is damp.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Damp {
    /// An ink, by its place in the panel's list.
    Ink(usize),
    /// Water, or what came with it.
    Water,
}

impl Damp {
    /// What it is called, at the head of a sentence.
    pub fn called(self, materials: &Materials) -> String {
        match self {
            Damp::Ink(ink) => format!("{} is", materials.inks[ink].name),
            Damp::Water => "The card is".into(),
        }
    }
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
    /// What water has done to it, in order.
    pub films: Vec<WetFilm>,
    /// What has been done with the mat.
    pub mat: Doings,
    /// The things whose patterns have been raised.
    pub raised: Vec<usize>,
    /// Whether all of it stands up from the card, where it is a part of a panel that does.
    pub stands_up: bool,
    /// The ways it was laid along, each once.
    pub runs: Vec<Run>,
    /// The same ways, with the thing that each is measured on.
    pub(super) ways: Vec<(Option<usize>, Way)>,
    /// The masks that lie on it now, in the order they were put there.
    pub masks: Vec<Mask>,
    /// The masks that lay on it whenever ink was laid, each set once; the first has none.
    pub(super) covers: Vec<Vec<Mask>>,
    /// What is sticky, powdered or sealed.
    pub embossing: Embossing,
    /// The powder that all of it lies sealed under, where it is a part of a panel that does.
    pub under: Option<Seal>,
    /// The part of the panel that is looked at: where it begins, and its width and height, in millimetres.
    pub window: ((f64, f64), (f64, f64)),
    /// Seconds since the first move.
    pub(super) seconds: u32,
    /// The brushes on the desk.
    pub brushes: Brushes,
    /// What has come out otherwise than it was meant to.
    pub(super) harms: Vec<Harm>,
    /// How it is looked at.
    pub look: Moment,
}

impl Surface {
    /// Bare card and clean brushes.
    pub fn bare(materials: Arc<Materials>) -> Surface {
        Surface {
            brushes: Brushes::clean(materials.brushes.len()),
            window: ((0.0, 0.0), materials.size_mm()),
            mat: Doings::clean(materials.size, materials.seed),
            materials,
            coats: Vec::new(),
            films: Vec::new(),
            raised: Vec::new(),
            stands_up: false,
            runs: Vec::new(),
            ways: Vec::new(),
            masks: Vec::new(),
            covers: vec![Vec::new()],
            embossing: Embossing { is_bone_dry: true, ..Embossing::default() },
            under: None,
            seconds: 0,
            harms: Vec::new(),
            look: Moment::Dry,
        }
    }

    /// Lays veils of an ink along a way of a thing, or of the ground.
    pub fn lay(&mut self, ink: usize, on: Option<usize>, way: Way, veils: &[Reach]) {
        let strength = self.materials.hand.strength();
        let coat = self.coat(ink, on, way, veils).thinned(strength);
        self.brushes.soil(self.taken_up(&coat, on));
        self.coats.push(coat);
    }

    /// Whether no more than a tint of dye has been brushed on a thing, or on the ground.
    fn is_tint(&self, on: Option<usize>) -> bool {
        let own = self.coats.iter().filter(|coat| self.is_on(coat.run, on));
        self.materials.is_tint(own.map(|coat| (coat.run, coat.ink, coat.passes())))
    }

    /// Prints veils of an ink by the stamp of a thing: no brush takes anything up.
    pub fn print(&mut self, ink: usize, on: Option<usize>, way: Way, veils: &[Reach]) {
        let coat = self.coat(ink, on, way, veils);
        self.coats.push(coat);
    }

    /// Works what a brush still carries of an ink over a reach.
    pub fn spend(&mut self, ink: usize, on: Option<usize>, way: Way, reach: Reach) {
        let carried = self.brushes.carried().clone();
        let coat = self.coat(ink, on, way, &[reach]).thinned(measured::SPENT * carried.of(ink));
        self.brushes.soil(carried.spent(1.0 - measured::SPENT));
        self.coats.push(coat);
    }

    /// Veils of an ink as they come to lie along a way.
    fn coat(&mut self, ink: usize, on: Option<usize>, way: Way, veils: &[Reach]) -> Coat {
        let extent = self.materials.extent(on);
        let run = self.run_along(on, way).unwrap_or_else(|| {
            self.ways.push((on, way));
            let origin = (extent.corner.left.mm(), extent.corner.top.mm());
            let run = way.on(extent.size).moved(origin);
            let masked = on.and_then(|thing| self.materials.masks.things.get(thing));
            self.runs.push(match masked {
                Some(masked) => run.round(|| masked.depth()),
                None => run,
            });
            self.ways.len() - 1
        });
        let footprint = self.materials.tool.kind.footprint_mm();
        let mut coat = Coat::laid(ink, run, way, way.span(extent.size), veils, footprint);
        coat.laid_at = self.seconds;
        coat.took = self.materials.pass_seconds(ink, on, way, veils);
        coat.cover = self.cover();
        coat.sealed = self.embossing.sealed.len();
        let is_stamped = self.materials.masks.is_stamped(on);
        coat.skims = on.filter(|thing| is_stamped || self.raised.contains(thing));
        self.embossing.is_bone_dry = false;
        coat
    }

    /// The masks that lie on it now, by their place among the covers.
    pub(super) fn cover(&mut self) -> usize {
        let mut masks = self.masks.clone();
        masks.sort_unstable();
        self.covers.iter().position(|known| *known == masks).unwrap_or_else(|| {
            self.covers.push(masks);
            self.covers.len() - 1
        })
    }

    /// Puts a mask on it.
    pub fn cover_with(&mut self, mask: Mask) {
        // On one and the same stencil in its place only the tape is moved.
        let things = &self.materials.masks.things;
        let is_twin = |other: &Mask| {
            let pair = (things.get(other.thing), things.get(mask.thing));
            other.part == Part::Frame && matches!(pair, (Some(one), Some(two)) if one.is_twin(two))
        };
        if self.masks.contains(&mask) {
            return;
        }
        match self.masks.iter().position(|lying| mask.part == Part::Frame && is_twin(lying)) {
            Some(at) => self.masks[at] = mask,
            None => self.masks.push(mask),
        }
    }

    /// Where a piece lay when ink was last laid with it on, as the mask that it was there.
    pub fn last_of(&self, piece: Mask) -> Option<Mask> {
        let of = |coat: &Coat| {
            self.covers[coat.cover]
                .iter()
                .copied()
                .find(|mask| self.materials.masks.piece(*mask) == Some(piece))
        };
        self.coats.iter().rev().find_map(of)
    }

    /// Whether a mask lay there when a coat was laid.
    pub fn lay_under(&self, coat: &Coat, mask: Mask) -> bool {
        self.covers[coat.cover].contains(&mask)
    }

    /// Whether anything has been laid on a thing, or through another stencil of its set at the same place.
    pub fn is_in_register(&self, thing: usize) -> bool {
        self.has_on_one(thing, Masked::is_in_register)
    }

    /// Whether anything has been laid on a thing, or on another of the same shape at the same place.
    pub fn is_outlined(&self, thing: usize) -> bool {
        self.has_on_one(thing, Masked::is_twin)
    }

    /// Whether anything has been laid on one of the things that are so to a thing.
    fn has_on_one(&self, thing: usize, is_so: impl Fn(&Masked, &Masked) -> bool) -> bool {
        let things = &self.materials.masks.things;
        let own = things.get(thing);
        (0..things.len()).any(|other| own.is_some_and(|own| is_so(&things[other], own)) && self.has_on(other))
    }

    /// Whether ink has been laid on a thing.
    pub fn has_on(&self, thing: usize) -> bool {
        self.ways.iter().any(|(on, _)| *on == Some(thing))
    }

    /// Raises the pattern of a thing.
    pub fn raise(&mut self, thing: usize) {
        if !self.raised.contains(&thing) {
            self.raised.push(thing);
        }
    }

    /// Whether ink that water dissolves has been laid on a thing.
    pub fn has_soluble_on(&self, thing: usize) -> bool {
        self.coats.iter().any(|coat| {
            self.ways[coat.run].0 == Some(thing) && self.materials.inks[coat.ink].kind != Kind::Pigment
        })
    }

    /// Lifts a mask off it.
    pub fn uncover(&mut self, mask: Mask) {
        self.masks.retain(|lying| *lying != mask);
    }

    /// A mask that keeps heat away.
    pub fn keeps_heat_away(&self) -> Option<Mask> {
        let Heated { sheet, film } = self.materials.heated;
        let is_spoilt = |mask: &&Mask| if self.materials.masks.is_film(**mask) { !film } else { !sheet };
        self.masks.iter().find(is_spoilt).copied()
    }

    /// What is still damp in a plot where some of it lies, so that no mask is moved there. A tint of dye is touch dry by then.
    pub fn damp_on(&self, plot: &Plot) -> Option<Damp> {
        let thin: Vec<bool> = self.ways.iter().map(|(on, _)| self.is_tint(*on)).collect();
        let is_damp = |coat: &Coat| !coat.is_dry && !thin.get(coat.run).copied().unwrap_or(false);
        let damp: Vec<usize> = (0..self.coats.len()).filter(|at| is_damp(&self.coats[*at])).collect();
        if damp.is_empty() && self.wet_film().is_none() {
            return None;
        }
        let reached = self.reached(plot);
        let films = self.films.iter().zip(&reached.films);
        if films.into_iter().any(|(film, reached)| *reached && !film.is_dry) {
            return Some(Damp::Water);
        }
        let places = plot.region.places();
        let lies = |at: &usize| {
            let coat = &self.coats[*at];
            reached.coats[*at]
                && places.iter().any(|[x, y]| coat.veils_at(self.runs[coat.run].at(*x, *y)) > SOME)
        };
        damp.into_iter().find(lies).map(|at| Damp::Ink(self.coats[at].ink))
    }

    /// What a brush comes away with that has laid a coat: some of its ink, and of what is damp where it went.
    fn taken_up(&self, coat: &Coat, on: Option<usize>) -> Carried {
        let kind = |ink: usize| self.materials.inks[ink].kind;
        let mut carried = vec![(coat.ink, measured::held(kind(coat.ink)))];
        let damp: Vec<&Coat> =
            self.coats.iter().filter(|other| !other.is_dry && other.ink != coat.ink).collect();
        if damp.is_empty() {
            return Carried(carried);
        }
        let extent = self.materials.extent(on);
        let (left, top) = (extent.corner.left.mm(), extent.corner.top.mm());
        let (width, height) = (extent.size.0.mm(), extent.size.1.mm());
        let share = |n: usize| (n as f64 + 0.5) / CROSSED as f64;
        let places = (0..CROSSED * CROSSED)
            .map(|n| (left + width * share(n % CROSSED), top + height * share(n / CROSSED)));
        let (mut touched, mut crossed) = (0.0, vec![0.0; self.materials.inks.len()]);
        for (x, y) in places {
            let spot = self.spot(x, y);
            let here = coat.veils_at(spot[coat.run]);
            touched += here;
            // What a mask covers, now or when the other ink was laid, no brush takes up.
            let plot = self.materials.masks.plot_at(x, y);
            let is_open =
                |cover: &[Mask]| plot.is_none_or(|plot| !cover.iter().any(|mask| plot.is_covered(*mask)));
            if !is_open(&self.masks) {
                continue;
            }
            for other in damp.iter().filter(|other| is_open(&self.covers[other.cover])) {
                crossed[other.ink] += here * other.veils_at(spot[other.run]);
            }
        }
        if touched <= 0.0 {
            return Carried(carried);
        }
        for (ink, crossed) in crossed.into_iter().enumerate().filter(|(_, crossed)| *crossed > 0.0) {
            carried.push((ink, measured::taken_up(kind(ink)) * crossed / touched));
        }
        Carried(carried)
    }

    /// Lets time pass: what has had its time in air is touch dry.
    pub fn pass(&mut self, seconds: u32) {
        self.seconds += seconds;
        for coat in &mut self.coats {
            let (least, _) = self.materials.touch_dry(coat.ink);
            coat.is_dry |= self.seconds >= coat.laid_at + coat.took + least;
        }
        self.films_pass();
        let hard_at = |since: u32| since + self.materials.dries_in(Figure::PasteDries).0;
        self.embossing.soft_since = self.embossing.soft_since.filter(|since| self.seconds < hard_at(*since));
    }

    /// Scrapes paste through the stencil of a thing.
    pub fn spread(&mut self, thing: usize, of: Paste) {
        let lying = self.masks.clone();
        self.embossing.spread(thing, of, &lying);
        self.embossing.soft_since = Some(self.seconds);
        (self.embossing.is_bone_dry, self.embossing.wiped) = (false, None);
    }

    /// Seconds since the first move.
    pub const fn seconds(&self) -> u32 {
        self.seconds
    }

    /// The ink that a join is to be worked over, where that has dried by now: the last of another ink laid on the same thing,
    /// longer ago than it stays damp.
    pub fn dried_under(&self, ink: usize, on: Option<usize>) -> Option<usize> {
        let is_other = |coat: &&Coat| coat.ink != ink && self.is_on(coat.run, on);
        let coat = self.coats.iter().rev().find(is_other)?;
        let (_, most) = self.materials.touch_dry(coat.ink);
        (self.seconds > coat.laid_at + coat.took + most).then_some(coat.ink)
    }

    /// Whether paste on it is still soft.
    pub fn is_soft(&self) -> bool {
        self.embossing.soft_since.is_some()
    }

    /// Whether there is paste on it, soft or hard.
    pub fn has_paste(&self) -> bool {
        self.embossing.sealed.iter().any(|sealed| matches!(sealed.seal.of, Hard::Paste(_)))
    }

    /// Dries all of it.
    pub fn dry(&mut self) {
        self.embossing.is_bone_dry = true;
        self.embossing.soft_since = None;
        self.coats.iter_mut().for_each(|coat| coat.is_dry = true);
        self.films.iter_mut().for_each(|film| film.is_dry = true);
        self.mat.deeds.push(Doing::Dry(0));
    }

    /// The same card looked at so.
    #[must_use]
    pub fn looked_at(self, look: Moment) -> Surface {
        Surface { look, ..self }
    }

    /// Whether any of an ink lies on it; along one way of a thing or of the ground where it is named.
    pub fn has(&self, ink: usize, along: Option<(Option<usize>, Way)>) -> bool {
        let on_way = |coat: &Coat| along.is_none_or(|way| self.ways[coat.run] == way);
        self.coats.iter().any(|coat| coat.ink == ink && on_way(coat))
    }

    /// The run of a way of a thing or of the ground, by its place, where ink was laid along it.
    pub fn run_along(&self, on: Option<usize>, way: Way) -> Option<usize> {
        self.ways.iter().position(|known| *known == (on, way))
    }

    /// Whether a run belongs to a thing, or to the ground.
    pub fn is_on(&self, run: usize, on: Option<usize>) -> bool {
        self.ways.get(run).is_some_and(|(of, _)| *of == on)
    }

    /// The inks that lie on it, in the panel's order.
    pub fn inks(&self) -> Vec<usize> {
        let came = |ink: usize| self.films.iter().any(|film| film.wet.inks().contains(&ink));
        (0..self.materials.inks.len()).filter(|&ink| self.has(ink, None) || came(ink)).collect()
    }

    /// The inks that were brushed on it, in the panel's order.
    pub fn brushed(&self) -> Vec<usize> {
        (0..self.materials.inks.len()).filter(|&ink| self.has(ink, None)).collect()
    }

    /// A point's measures, in millimetres from the left and top edges.
    pub fn spot(&self, x: f64, y: f64) -> Spot {
        self.runs.iter().map(|run| run.at(x, y)).collect()
    }

    /// Veils that each coat leaves at a spot.
    ///
    /// ```
    /// # let text = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/version_1/ebb_down.json"));
    /// let panel: rosy_core::Panel = serde_json::from_str(text)?;
    /// let surface = panel.surface();
    /// // Down the panel one ink gives way to the next.
    /// let by_ink = |y: f64| surface.by_ink(&surface.veils_at(&surface.spot(10.0, y)));
    /// let (top, foot) = (by_ink(2.0), by_ink(panel.height.mm() - 2.0));
    /// assert!(top[0] > foot[0] && top[2] < foot[2]);
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
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
        // What covers is all that is seen.
        if let Some(hard) = self.under.and_then(|seal| seal.covers_with(&self.materials)) {
            return Stack::on(&Spectrum::of(hard, Illuminant::D65));
        }
        let mut stack = Stack::on(&self.materials.card);
        for (coat, veils) in self.coats.iter().zip(veils) {
            let amount = veils / self.materials.full_veils(coat.ink);
            stack.lay(coat.ink, self.film(coat), amount * grown(coat.ink));
        }
        if let Some(seal) = self.under {
            seal.lie_on(&mut stack);
        }
        stack
    }

    fn film(&self, coat: &Coat) -> &ink::Film {
        match self.look {
            Moment::Now if !coat.is_dry => &self.materials.wet_films[coat.ink],
            _ => &self.materials.films[coat.ink],
        }
    }
}
