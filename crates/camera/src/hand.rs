//! What inks are there, and how does a hand lay them on a swatch frame?
//!
//! Inks are spectra that no colour was asked of: a few bells of absorption. A hand lays each pass a little more or less than it
//! meant, and unevenly; what came of it is known place by place.

use std::sync::Arc;

use rosy_core::colour::{Illuminant, Lab, Spectrum};
use rosy_core::ink::film::{inside, outside};
use rosy_core::ink::measured::{BRIGHT_WHITE, bright_white};
use rosy_core::ink::{Film, Ink, Kind, Stack};
use rosy_eye::frame::{self, LINE, PLACES, Part};

use crate::chance::{Chance, Grain};
use crate::light::nanometres;
use crate::scene::{Area, Scene, Stuff, Thing};

const LIGHT: Illuminant = Illuminant::D65;

/// An ink that was made up.
#[derive(Clone, Debug)]
pub struct MadeInk {
    /// Dye or oxide.
    pub kind: Kind,
    /// How many light passes make its full swatch.
    pub veils: f64,
    /// Its film, of which the full swatch is 1.
    pub film: Film,
}

impl MadeInk {
    /// One of the inks that there might be.
    pub fn any(chance: &mut Chance) -> MadeInk {
        let card = bright_white();
        let count = 1 + (chance.share() * 2.6) as usize;
        let bells: Vec<[f64; 3]> = (0..count)
            .map(|_| [chance.between(410.0, 660.0), chance.between(38.0, 75.0), chance.between(0.25, 1.1)])
            .collect();
        let base = chance.between(0.0, 0.08);
        // A thin film of some inks leans another way than a thick one.
        let leans = chance.between(-0.15, 0.15);
        let taken = |nm: f64| {
            let bell = |[middle, wide, high]: &[f64; 3]| high * (-0.5 * ((nm - middle) / wide).powi(2)).exp();
            base + bells.iter().map(bell).sum::<f64>()
        };
        let kind = if chance.falls(0.4) { Kind::Oxide } else { Kind::Dye };
        let veils = chance.between(4.5, 9.5).round();
        let swatch = |amount: f64, leans: f64| {
            Spectrum(std::array::from_fn(|band| {
                let nm = nanometres(band);
                let deep = amount * taken(nm) * (1.0 + leans * (nm - 540.0) / 120.0);
                outside(inside(card.0[band]) * (-2.0 * deep.max(0.0)).exp())
            }))
        };
        let (full, one) = (swatch(1.0, 0.0), swatch(1.0 / veils, leans));
        // What scatters gives back a little of its own even where it takes most.
        let chalk = if kind == Kind::Oxide { 0.02 } else { 0.0 };
        let full = full.zip(card, |full, card| full + chalk * (card - full));
        let film = Film::of_reflectance(&full, card, kind).with_thin_reflectance(&one, card, 1.0 / veils);
        MadeInk { kind, veils, film }
    }

    /// An ink of a drawer.
    pub fn of(ink: &Ink) -> MadeInk {
        MadeInk { kind: ink.kind, veils: f64::from(ink.full_veils), film: ink.film() }
    }

    /// So much of its full swatch on bright white card.
    pub fn on_bright_white(&self, amount: f64) -> Spectrum {
        self.laid(bright_white(), amount)
    }

    fn laid(&self, on: &Spectrum, amount: f64) -> Spectrum {
        let mut stack = Stack::on(on);
        stack.lay(0, &self.film, amount);
        stack.reflectance()
    }
}

/// What a hand laid on a frame, and what came of it.
pub struct Laid {
    /// The page with all that lies on it.
    pub scene: Scene,
    /// The inks, by place.
    pub inks: Vec<Option<MadeInk>>,
    /// What each patch came to: its place, its part, its mean colour over the middle of it.
    pub truth: Vec<(usize, Part, Lab)>,
    /// The card's own colour.
    pub card: Lab,
    /// Which patches a finger touched, and by how much that changed their mean colour (ΔE00).
    pub touched: Vec<(usize, Part, f64)>,
    /// A chart: the middles of its corner patches on the page, patches to a row, and the colours of all.
    pub chart: Option<(Vec<[f64; 2]>, usize, Vec<Lab>)>,
}

/// Steps between bare card and the most that is ever laid.
const LEVELS: usize = 24;
/// The most that is laid, in full swatches.
const MOST: f64 = 1.5;
/// How uneven one light pass is, and at what grain in millimetres: a soft brush on smooth card.
const UNEVEN: f64 = 0.10;
const GRAIN: f64 = 2.2;

/// How a hand goes about it.
#[derive(Clone, Copy, Debug)]
pub struct Hands {
    /// Patches of a chart laid over the foot of the right column: none, 12 or 24.
    pub chart: usize,
    /// How often a patch is touched by a finger.
    pub touches: f64,
}

/// Bright white card, as good as any packet.
fn any_card(chance: &mut Chance) -> Lab {
    let mut off = |by: f64| by * chance.normal();
    Lab { l: BRIGHT_WHITE.l + off(0.4), a: BRIGHT_WHITE.a + off(0.25), b: BRIGHT_WHITE.b + off(0.4) }
}

/// Lays swatches of inks on a frame that tells their letters, each at its place.
pub fn lay(hands: Hands, inks: &[MadeInk], letters: &[String], chance: &mut Chance) -> Laid {
    let card_lab = any_card(chance);
    let card = Spectrum::of(card_lab, LIGHT);
    let desk = Spectrum::of(
        Lab { l: chance.between(25.0, 80.0), a: chance.between(0.0, 12.0), b: chance.between(0.0, 25.0) },
        LIGHT,
    );
    let [w, h] = frame::SIZE;
    let mut scene = Scene::on(desk, Area { at: [-12.0, -16.0], size: [w + 24.0, h + 32.0] });
    let paper = Spectrum::of(Lab { l: 94.5, a: 0.8, b: chance.between(-5.0, -1.0) }, LIGHT);
    let (paper, print) = (scene.stuff(Stuff::plain(paper)), scene.stuff(Stuff::plain(Spectrum::flat(0.045))));
    scene.lay(Area { at: [-13.0, -17.0], size: [w + 26.0, h + 34.0] }, paper);
    printed(&mut scene, letters, print);
    let mut laid = Laid {
        scene,
        inks: vec![None; PLACES],
        truth: Vec::new(),
        card: card_lab,
        touched: Vec::new(),
        chart: None,
    };
    let white = laid.scene.stuff(Stuff::plain(card));
    let pen = Spectrum::flat(0.05);
    let line = laid.scene.stuff(Stuff::plain(pen));
    for (place, ink) in inks.iter().enumerate().take(PLACES) {
        strip(&mut laid, place, ink, [&card, &pen], [white, line], hands.touches, chance);
        laid.inks[place] = Some(ink.clone());
    }
    if hands.chart > 0 {
        chart(&mut laid, hands.chart, chance);
    }
    laid
}

/// The page's own print: marks, dots, and a line of small words over each place.
fn printed(scene: &mut Scene, letters: &[String], print: usize) {
    for corner in 0..4 {
        let modules = frame::modules(&frame::mark_words(letters, corner));
        let side = (modules.len() as f64).sqrt() as usize;
        let module = frame::module();
        scene.things.push(Thing {
            area: Area { at: frame::mark(corner), size: [frame::MARK; 2] },
            stuff: print,
            amount: Box::new(move |u, v| {
                let on = |along: f64| ((along / module) as usize).min(side - 1);
                if modules[on(u) + side * on(v)] { 0.0 } else { -1.0 }
            }),
        });
    }
    for [x, y] in frame::dots() {
        let half = frame::DOT / 2.0;
        scene.lay(Area { at: [x - half, y - half], size: [frame::DOT; 2] }, print);
    }
    for place in 0..PLACES {
        let [x, y] = frame::place(place);
        scene.things.push(Thing {
            area: Area { at: [x, y - 2.4], size: [40.0, 1.6] },
            stuff: print,
            amount: Box::new(|u, v| if (u * 1.7).sin() * (v * 6.0 + u).cos() > 0.3 { 0.0 } else { -1.0 }),
        });
    }
}

fn strip(
    laid: &mut Laid,
    place: usize,
    ink: &MadeInk,
    [card, pen]: [&Spectrum; 2],
    [white, line]: [usize; 2],
    touches: f64,
    chance: &mut Chance,
) {
    let [x, y] = frame::place(place);
    let scene = &mut laid.scene;
    scene.lay(Area { at: [x, y], size: frame::STRIP }, white);
    scene.lay(Area { at: [x + 3.0, y + LINE[0]], size: [frame::STRIP[0] - 5.0, LINE[1] - LINE[0]] }, line);
    let over = |on: &Spectrum| {
        Stuff((0..=LEVELS).map(|n| ink.laid(on, MOST * n as f64 / LEVELS as f64)).collect::<Vec<_>>())
    };
    let (on_card, on_line) = (scene.stuff(over(card)), scene.stuff(over(pen)));
    for part in Part::INKED {
        let passes = match part {
            Part::One => 1.0,
            Part::Two => 2.0,
            Part::Four => 4.0,
            _ => ink.veils,
        };
        let mean = passes / ink.veils * (1.0 + 0.05 * chance.normal());
        let grain = Arc::new(Grain::of(GRAIN, chance));
        let uneven = UNEVEN / passes.sqrt();
        let finger = chance.falls(touches).then(|| {
            let at = [chance.between(3.0, 9.0), chance.between(2.5, 7.0)];
            let change = if chance.falls(0.5) { chance.between(0.5, 0.9) } else { -chance.between(0.5, 0.9) };
            (at, change)
        });
        let even = grain.clone();
        let untouched = move |u: f64, v: f64| mean * (1.0 + uneven * even.at(u, v)).max(0.0) / MOST;
        let amount = move |u: f64, v: f64| {
            let pressed = finger.map_or(0.0, |(at, change): ([f64; 2], f64)| {
                let far = ((u - at[0]) / 3.5).hypot((v - at[1]) / 2.6);
                change / (1.0 + ((far - 1.0) * 9.0).exp())
            });
            mean * (1.0 + uneven * grain.at(u, v) + pressed).max(0.0) / MOST
        };
        let [from, to] = part.along();
        let [x0, y0] = [x + from, y];
        let middle = |amount: &dyn Fn(f64, f64) -> f64| {
            mean_colour(place, part, |at| ink.laid(card, MOST * amount(at[0] - x0, at[1] - y0)))
        };
        let came_to = middle(&amount);
        if finger.is_some() {
            laid.touched.push((place, part, came_to.difference(middle(&untouched))));
        }
        laid.truth.push((place, part, came_to));
        let size = [to - from, frame::STRIP[1]];
        let shared = Arc::new(amount);
        let again = shared.clone();
        laid.scene.things.push(Thing {
            area: Area { at: [x0, y0], size },
            stuff: on_card,
            amount: Box::new(move |u, v| shared(u, v)),
        });
        laid.scene.things.push(Thing {
            area: Area { at: [x0, y0 + LINE[0]], size: [size[0], LINE[1] - LINE[0]] },
            stuff: on_line,
            amount: Box::new(move |u, v| again(u, v + LINE[0])),
        });
    }
}

/// The mean colour over the middle of a patch.
fn mean_colour(place: usize, part: Part, at: impl Fn([f64; 2]) -> Spectrum) -> Lab {
    const POINTS: usize = 24;
    let area = rosy_eye::swatch::inked(place, part);
    let mut xyz = [0.0; 3];
    for n in 0..POINTS * POINTS {
        let share = [n % POINTS, n / POINTS].map(|k| (k as f64 + 0.5) / POINTS as f64);
        let seen = at([0, 1].map(|axis| area.from[axis] + share[axis] * (area.to[axis] - area.from[axis])))
            .relative(LIGHT);
        xyz = std::array::from_fn(|axis| xyz[axis] + seen[axis] / (POINTS * POINTS) as f64);
    }
    Lab::from_relative(xyz)
}

/// A chart of smooth surfaces of all hues and some greys, on a black board.
fn chart(laid: &mut Laid, count: usize, chance: &mut Chance) {
    let columns = if count > 12 { 6 } else { 4 };
    let rows = count / columns;
    const APART: f64 = 13.0;
    const SIDE: f64 = 10.5;
    let from = [97.0, 150.0];
    let board = laid.scene.stuff(Stuff::plain(Spectrum::flat(0.05)));
    let size = [columns, rows].map(|count| APART * count as f64 + 2.0);
    laid.scene.lay(Area { at: from, size }, board);
    let mut colours = Vec::new();
    for n in 0..count {
        let surface = if n % 4 == 3 {
            Spectrum::flat([0.9, 0.55, 0.3, 0.16, 0.08, 0.03][n / 4 % 6])
        } else {
            let (middle, wide) = (chance.between(420.0, 680.0), chance.between(30.0, 90.0));
            let (low, high, dips) =
                (chance.between(0.04, 0.25), chance.between(0.4, 0.85), chance.falls(0.5));
            Spectrum(std::array::from_fn(|band| {
                let bell = (-0.5 * ((nanometres(band) - middle) / wide).powi(2)).exp();
                low + (high - low) * if dips { 1.0 - bell } else { bell }
            }))
        };
        colours.push(surface.lab(LIGHT));
        let stuff = laid.scene.stuff(Stuff::plain(surface));
        let at = [n % columns, n / columns].map(|at| at as f64 * APART + 1.0 + (APART - SIDE) / 2.0);
        laid.scene.lay(Area { at: [from[0] + at[0], from[1] + at[1]], size: [SIDE; 2] }, stuff);
    }
    let middle = |column: usize, row: usize| {
        [from[0] + 1.0 + APART * (column as f64 + 0.5), from[1] + 1.0 + APART * (row as f64 + 0.5)]
    };
    let corners =
        vec![middle(0, 0), middle(columns - 1, 0), middle(0, rows - 1), middle(columns - 1, rows - 1)];
    laid.chart = Some((corners, columns, colours));
}
