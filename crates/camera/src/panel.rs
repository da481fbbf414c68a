//! How does a hand lay a panel, and what goes wrong?
//!
//! What it means to lay is what the plan's moves leave at each place; each ink comes a little stronger or weaker than that, as
//! uneven as its tool, and with the faults that were wished for, each of which is known by its place and its size.

use std::fmt;
use std::str::FromStr;

use rayon::prelude::*;
use rosy_core::Panel;
use rosy_core::colour::{Illuminant, Lab, Spectrum};
use rosy_core::shape::Region;
use rosy_core::surface::{Area as Part, Surface};

use crate::chance::{Chance, Grain};
use crate::scene::{Area, MOST_INKS, Painting, Passes, Scene};

const LIGHT: Illuminant = Illuminant::D65;
/// Millimetres between the places at which colours are worked out, and between those at which edges and faults are.
const APART: f64 = 2.0;
const FINE: f64 = 0.125;
const FAULTS: f64 = 0.2;
/// What lies about the panel in the photo, in millimetres.
const MARGIN: f64 = 9.0;
/// Grain of a soft brush, in millimetres.
const GRAIN: f64 = 2.6;

/// What may go wrong.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
pub enum Kind {
    /// One ink stronger than planned.
    Strong,
    /// A line across a join or a field.
    Line,
    /// A dark band along a join.
    Band,
    /// The hard first touch of a full brush.
    Touch,
    /// A finger that took ink away.
    Finger,
    /// Drops that were not meant.
    Flecks,
    /// Bare card round a shape.
    Halo,
    /// Ink under the edge of a mask.
    Bleed,
    /// A shape that slipped.
    Slip,
    /// More uneven than the tool.
    Uneven,
    /// Trimmed off centre or off square.
    Askew,
    /// A plug that was put back beside its shape.
    OffPlace,
    /// Another ink that came into a join.
    Mud,
    /// Ink all over a shape that should stay bright.
    Dull,
    /// A shape in which so little ink was laid that it hardly shows.
    Faint,
}

impl Kind {
    /// All of them.
    pub const ALL: [Kind; 15] = [
        Kind::Strong,
        Kind::Line,
        Kind::Band,
        Kind::Touch,
        Kind::Finger,
        Kind::Flecks,
        Kind::Halo,
        Kind::Bleed,
        Kind::Slip,
        Kind::Uneven,
        Kind::Askew,
        Kind::OffPlace,
        Kind::Mud,
        Kind::Dull,
        Kind::Faint,
    ];

    const fn word(self) -> &'static str {
        match self {
            Kind::Strong => "strong",
            Kind::Line => "line",
            Kind::Band => "band",
            Kind::Touch => "touch",
            Kind::Finger => "finger",
            Kind::Flecks => "flecks",
            Kind::Halo => "halo",
            Kind::Bleed => "bleed",
            Kind::Slip => "slip",
            Kind::Uneven => "uneven",
            Kind::Askew => "askew",
            Kind::OffPlace => "off-place",
            Kind::Mud => "mud",
            Kind::Dull => "dull",
            Kind::Faint => "faint",
        }
    }
}

impl fmt::Display for Kind {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        f.write_str(self.word())
    }
}

impl FromStr for Kind {
    type Err = String;

    fn from_str(word: &str) -> Result<Kind, String> {
        let words = || Kind::ALL.map(Kind::word).join(", ");
        let known = Kind::ALL.into_iter().find(|kind| kind.word() == word);
        known.ok_or_else(|| format!("“{word:.40}” is nothing that goes wrong: give one of {}", words()))
    }
}

/// What went wrong.
#[derive(Clone, Debug, PartialEq)]
pub struct Fault {
    /// What.
    pub kind: Kind,
    /// Where its middle is, in millimetres from the panel's left and top edges.
    pub at: [f64; 2],
    /// How large it is, in the measure of its kind: ΔE00, millimetres, or a factor.
    pub size: f64,
    /// The ink it is of, where it is of one.
    pub ink: Option<usize>,
}

/// How a hand goes about it.
#[derive(Clone, Debug)]
pub struct Hands {
    /// By how much all it lays is stronger than planned.
    pub strength: f64,
    /// What is to go wrong.
    pub faults: Vec<Kind>,
    /// The desk; any where it is not told.
    pub desk: Option<Lab>,
}

/// A panel that was laid.
pub struct LaidPanel {
    /// The panel on its desk.
    pub scene: Scene,
    /// Width and height.
    pub size: [f64; 2],
    /// What went wrong.
    pub faults: Vec<Fault>,
    /// How strong each ink came, as a share of what was planned.
    pub strengths: Vec<f64>,
    /// What the plan has at each place of the lattice, ink by ink, on each part of the panel.
    parts: Vec<Part>,
}

impl LaidPanel {
    /// Light passes of each ink as they were laid on the mean about a place of the ground, without what went wrong there.
    pub fn passes(&self, x: f64, y: f64) -> Vec<f64> {
        let here =
            self.parts.iter().find(|part| part.region.as_ref().is_none_or(|region| region.has([x, y])));
        here.map_or_else(Vec::new, |part| {
            let planned = part.surface.by_ink(&part.surface.veils_at(&part.surface.spot(x, y)));
            planned.iter().zip(&self.strengths).map(|(planned, strength)| planned * strength).collect()
        })
    }
}

/// A fault as it changes what lies at a place: light passes more of each ink.
type Change = Box<dyn Fn(f64, f64, &Passes) -> Passes + Send + Sync>;

/// A panel being laid.
struct Laying<'a> {
    parts: &'a [Part],
    size: [f64; 2],
    strengths: Passes,
    inks: usize,
}

impl Laying<'_> {
    fn part_at(&self, x: f64, y: f64) -> usize {
        let has = |part: &Part| part.region.as_ref().is_none_or(|region| region.has([x, y]));
        self.parts.iter().position(has).unwrap_or(0)
    }

    fn passes_of(&self, surface: &Surface, x: f64, y: f64) -> Passes {
        let planned = surface.by_ink(&surface.veils_at(&surface.spot(x, y)));
        let mut passes = [0.0; MOST_INKS];
        for (ink, planned) in planned.iter().enumerate() {
            passes[ink] = planned * self.strengths[ink];
        }
        passes
    }

    fn passes(&self, x: f64, y: f64) -> Passes {
        self.passes_of(&self.parts[self.part_at(x, y)].surface, x, y)
    }

    /// The colour at a place with some more light passes on it.
    fn colour(&self, x: f64, y: f64, more: &Passes) -> Lab {
        let surface = &self.parts[self.part_at(x, y)].surface;
        self.spectrum(surface, x, y, more).lab(LIGHT)
    }

    fn spectrum(&self, surface: &Surface, x: f64, y: f64, more: &Passes) -> Spectrum {
        self.part_of(surface, 1.0, x, y, more)
    }

    /// So much of what lies at a place of a surface, with some more light passes on it.
    fn part_of(&self, surface: &Surface, share: f64, x: f64, y: f64, more: &Passes) -> Spectrum {
        let veils = surface.veils_at(&surface.spot(x, y));
        let mut stack = surface.stack(&veils, |ink| share * self.strengths[ink]);
        let materials = &surface.materials;
        for (ink, more) in more.iter().enumerate().take(self.inks) {
            stack.lay(ink, &materials.films[ink], more / materials.full_veils(ink));
        }
        stack.reflectance()
    }

    /// Somewhere on the ground, so far from edges, where at least so much ink lies; with the ink there is most of, and the direction
    /// in which that gives way.
    fn somewhere(&self, off: f64, least: f64, chance: &mut Chance) -> Option<([f64; 2], usize, [f64; 2])> {
        for _ in 0..4_000 {
            let at = [0, 1].map(|axis| chance.between(off, self.size[axis] - off));
            let part = self.part_at(at[0], at[1]);
            let steps = (0..16).map(|n| {
                let angle = f64::from(n) * std::f64::consts::TAU / 16.0;
                self.part_at(at[0] + off * angle.cos(), at[1] + off * angle.sin())
            });
            if steps.into_iter().any(|other| other != part) {
                continue;
            }
            let passes = self.passes(at[0], at[1]);
            let most = (0..self.inks).max_by(|a, b| passes[*a].total_cmp(&passes[*b]))?;
            if passes[most] < least {
                continue;
            }
            let along = |dx: f64, dy: f64| {
                self.passes(at[0] + dx, at[1] + dy)[most] - self.passes(at[0] - dx, at[1] - dy)[most]
            };
            let (x, y) = (along(2.0, 0.0), along(0.0, 2.0));
            let long = x.hypot(y);
            let way = if long > 1e-3 { [x / long, y / long] } else { [0.0, 1.0] };
            return Some((at, most, way));
        }
        None
    }

    /// How many light passes of an ink differ by so much (ΔE00) from what lies there; none where no amount does.
    fn passes_for(&self, at: [f64; 2], ink: usize, wanted: f64) -> Option<f64> {
        let bare = self.colour(at[0], at[1], &[0.0; MOST_INKS]);
        let differs = |passes: f64| {
            let mut more = [0.0; MOST_INKS];
            more[ink] = passes;
            self.colour(at[0], at[1], &more).difference(bare)
        };
        let (mut less, mut much) = (0.0, 9.0);
        if differs(much) < wanted {
            return None;
        }
        for _ in 0..30 {
            let middle = 0.5 * (less + much);
            if differs(middle) < wanted { less = middle } else { much = middle }
        }
        Some(much)
    }

    /// The ink that shows most on what lies at a place, of those that are laid there; of all where none is.
    fn shows_most(&self, at: [f64; 2]) -> usize {
        let laid = self.passes(at[0], at[1]);
        let is_laid = |ink: &usize| laid[*ink] > 0.3;
        let some = (0..self.inks).any(|ink| is_laid(&ink));
        let bare = self.colour(at[0], at[1], &[0.0; MOST_INKS]);
        let shows = |ink: &usize| {
            let mut more = [0.0; MOST_INKS];
            more[*ink] = 2.0;
            self.colour(at[0], at[1], &more).difference(bare)
        };
        let inks = (0..self.inks).filter(|ink| !some || is_laid(ink));
        inks.max_by(|a, b| shows(a).total_cmp(&shows(b))).unwrap_or(0)
    }

    fn fault(&self, kind: Kind, chance: &mut Chance) -> Option<(Fault, Change)> {
        match kind {
            Kind::Line => self.line(chance),
            Kind::Band => self.band(chance),
            Kind::Touch => self.touch(chance),
            Kind::Finger => self.finger(chance),
            Kind::Flecks => self.flecks(chance),
            Kind::Mud => self.mud(chance),
            _ => None,
        }
    }

    fn line(&self, chance: &mut Chance) -> Option<(Fault, Change)> {
        let (at, _, way) = self.somewhere(16.0, 1.5, chance)?;
        let ink = self.shows_most(at);
        let wanted = chance.between(8.0, 14.0);
        let passes = self.passes_for(at, ink, wanted)?;
        let (long, soft) = (chance.between(14.0, 26.0), chance.between(0.25, 0.5));
        let change = move |x: f64, y: f64, _: &Passes| {
            let (u, v) = (x - at[0], y - at[1]);
            let (across, aside) = (u * way[0] + v * way[1], u * way[1] - v * way[0]);
            let step = 1.0 / (1.0 + (-across / soft).exp());
            let fades = (-(across.max(0.0) / 16.0).powi(2)).exp();
            let ends = 1.0 / (1.0 + ((aside.abs() - long) / 1.5).exp());
            let mut more = [0.0; MOST_INKS];
            more[ink] = passes * step * fades * ends;
            more
        };
        let place = |by: f64| [at[0] + by * way[0], at[1] + by * way[1]];
        let colour = |by: f64, laid: bool| {
            let [x, y] = place(by);
            let more = if laid { change(x, y, &[0.0; MOST_INKS]) } else { [0.0; MOST_INKS] };
            self.colour(x, y, &more)
        };
        // How much steeper than planned over 3 mm.
        let step = colour(1.5, true).difference(colour(-1.5, true));
        let planned = colour(1.5, false).difference(colour(-1.5, false));
        if step - planned < 6.0 {
            return None;
        }
        Some((Fault { kind: Kind::Line, at, size: step, ink: Some(ink) }, Box::new(change)))
    }

    fn band(&self, chance: &mut Chance) -> Option<(Fault, Change)> {
        let mut found = None;
        for _ in 0..300 {
            let (at, ink, way) = self.somewhere(16.0, 1.0, chance)?;
            let passes = self.passes(at[0], at[1]);
            if (0..self.inks).any(|other| other != ink && passes[other] > 0.5 * passes[ink]) {
                found = Some((at, way));
                break;
            }
        }
        let (at, way) = found?;
        // A band goes straight on: only where the join does so too.
        let aside = |by: f64| self.passes(at[0] - by * way[1], at[1] + by * way[0]);
        let here = self.passes(at[0], at[1]);
        if [-14.0, 14.0]
            .into_iter()
            .any(|by| (0..self.inks).any(|ink| (aside(by)[ink] - here[ink]).abs() > 0.5))
        {
            return None;
        }
        let passes = self.passes(at[0], at[1]);
        let bare = self.colour(at[0], at[1], &[0.0; MOST_INKS]);
        let share = move |by: f64| passes.map(|passes| passes * by);
        let wanted = chance.between(8.0, 12.0);
        let by = (1..60)
            .map(|n| 0.05 * f64::from(n))
            .find(|by| self.colour(at[0], at[1], &share(*by)).difference(bare) > wanted)?;
        let wide = chance.between(2.2, 3.4);
        let change = move |x: f64, y: f64, _: &Passes| {
            let across = (x - at[0]) * way[0] + (y - at[1]) * way[1];
            share(by * (-0.5 * (across / wide).powi(2)).exp())
        };
        Some((Fault { kind: Kind::Band, at, size: wanted, ink: None }, Box::new(change)))
    }

    /// Some of an ink that has no place there, so that what lies there loses a third of its colour.
    fn mud(&self, chance: &mut Chance) -> Option<(Fault, Change)> {
        for _ in 0..200 {
            let (at, ink, _) = self.somewhere(14.0, 1.5, chance)?;
            let bare = self.colour(at[0], at[1], &[0.0; MOST_INKS]);
            let chroma = bare.oklch()[1];
            let dulled = |other: usize| {
                let by = |passes: f64| {
                    let mut more = [0.0; MOST_INKS];
                    more[other] = passes;
                    self.colour(at[0], at[1], &more)
                };
                let passes = (1..30)
                    .map(|n| 0.1 * f64::from(n))
                    .find(|passes| by(*passes).oklch()[1] < 0.6 * chroma)?;
                let size = by(passes).difference(bare);
                (size > 9.0).then_some((other, passes, size))
            };
            let Some((other, passes, size)) =
                (0..self.inks).filter(|other| *other != ink).find_map(dulled).filter(|_| chroma > 0.07)
            else {
                continue;
            };
            let wide = chance.between(5.0, 7.0);
            let change = move |x: f64, y: f64, _: &Passes| {
                let far = (x - at[0]).hypot(y - at[1]);
                let mut more = [0.0; MOST_INKS];
                more[other] = passes / (1.0 + ((far - wide) / 0.8).exp());
                more
            };
            return Some((Fault { kind: Kind::Mud, at, size, ink: Some(other) }, Box::new(change)));
        }
        None
    }

    fn touch(&self, chance: &mut Chance) -> Option<(Fault, Change)> {
        let (at, _, _) = self.somewhere(12.0, 0.8, chance)?;
        let ink = self.shows_most(at);
        let wanted = chance.between(8.0, 15.0);
        let passes = self.passes_for(at, ink, wanted)?;
        let wide = chance.between(3.5, 5.5);
        let change = move |x: f64, y: f64, _: &Passes| {
            let far = (x - at[0]).hypot(y - at[1]);
            let mut more = [0.0; MOST_INKS];
            more[ink] = passes / (1.0 + ((far - wide) / 0.4).exp());
            more
        };
        Some((Fault { kind: Kind::Touch, at, size: wanted, ink: Some(ink) }, Box::new(change)))
    }

    fn finger(&self, chance: &mut Chance) -> Option<(Fault, Change)> {
        for _ in 0..60 {
            let (at, _, _) = self.somewhere(14.0, 2.5, chance)?;
            let taken = chance.between(0.35, 0.6);
            let bare = self.colour(at[0], at[1], &[0.0; MOST_INKS]);
            let surface = &self.parts[self.part_at(at[0], at[1])].surface;
            let veils = surface.veils_at(&surface.spot(at[0], at[1]));
            let strengths = self.strengths;
            let less = surface.stack(&veils, |ink| strengths[ink] * (1.0 - taken)).lab(LIGHT);
            let size = less.difference(bare);
            if size < 8.0 {
                continue;
            }
            let [a, b] = [chance.between(5.0, 6.5), chance.between(6.5, 9.0)];
            let change = move |x: f64, y: f64, passes: &Passes| {
                let far = ((x - at[0]) / a).hypot((y - at[1]) / b);
                let much = taken / (1.0 + ((far - 1.0) * 8.0).exp());
                passes.map(|passes| -much * passes)
            };
            return Some((Fault { kind: Kind::Finger, at, size, ink: None }, Box::new(change)));
        }
        None
    }

    fn flecks(&self, chance: &mut Chance) -> Option<(Fault, Change)> {
        let (at, _, _) = self.somewhere(8.0, 0.0, chance)?;
        let ink = self.shows_most(at);
        let wanted = chance.between(14.0, 25.0);
        let passes = self.passes_for(at, ink, wanted)?;
        let wide = chance.between(0.6, 1.1);
        let change = move |x: f64, y: f64, _: &Passes| {
            let far = (x - at[0]).hypot(y - at[1]);
            let mut more = [0.0; MOST_INKS];
            more[ink] = passes / (1.0 + ((far - wide) / 0.08).exp());
            more
        };
        Some((Fault { kind: Kind::Flecks, at, size: 2.0 * wide, ink: Some(ink) }, Box::new(change)))
    }
}

/// What is moved, widened or crept under along the edges of shapes.
#[derive(Default)]
struct Edges {
    halo: Option<(usize, Region)>,
    bleed: Option<(Region, Region)>,
    slip: Option<[f64; 2]>,
    askew: Option<([f64; 2], f64)>,
    off_place: Option<[f64; 2]>,
    /// Which sort of ground is seen all over the shape: see [`painted`].
    inside: Option<usize>,
}

impl Edges {
    fn wrong(
        kind: Kind,
        surface: &Surface,
        size: [f64; 2],
        chance: &mut Chance,
        edges: &mut Edges,
    ) -> Option<Fault> {
        let fault = |at: [f64; 2], size: f64| Fault { kind, at, size, ink: None };
        let of_thing = || {
            let thing = surface.materials.masks.things.first()?;
            let (least, most) = thing.inside.bounds()?;
            Some((thing, [0, 1].map(|axis| 0.5 * (least[axis] + most[axis])), 0.5 * (most[0] - least[0])))
        };
        match kind {
            Kind::Halo => {
                let (thing, at, _) = of_thing()?;
                let wide = chance.between(0.6, 1.6);
                edges.halo = Some((0, thing.inside.grown(wide).minus(&thing.inside)));
                Some(fault(at, wide))
            }
            Kind::Bleed => {
                let (thing, at, far) = of_thing()?;
                let wide = chance.between(1.0, 2.2);
                let angle = chance.between(0.0, std::f64::consts::TAU);
                let rim = [at[0] + far * angle.cos(), at[1] + far * angle.sin()];
                let about = Region::rect(rim[0] - 9.0, rim[1] - 9.0, 18.0, 18.0);
                let crept = thing.inside.minus(&thing.inside.grown(-wide)).intersected(&about);
                edges.bleed = Some((crept, thing.inside.clone()));
                Some(fault(rim, wide))
            }
            Kind::Slip => {
                let (_, at, _) = of_thing()?;
                let (angle, far) = (chance.between(0.0, std::f64::consts::TAU), chance.between(1.2, 3.0));
                edges.slip = Some([far * angle.cos(), far * angle.sin()]);
                Some(fault(at, far))
            }
            Kind::Dull | Kind::Faint => {
                let (_, at, _) = of_thing()?;
                edges.inside = Some(if kind == Kind::Dull { THIN } else { FAINT });
                Some(fault(at, 0.0))
            }
            Kind::OffPlace => {
                let (_, at, _) = of_thing()?;
                let (angle, far) = (chance.between(0.0, std::f64::consts::TAU), chance.between(1.2, 2.4));
                edges.off_place = Some([far * angle.cos(), far * angle.sin()]);
                Some(fault(at, far))
            }
            Kind::Askew => {
                let (angle, far) = (chance.between(0.0, std::f64::consts::TAU), chance.between(1.3, 2.5));
                let turn = chance.between(-0.6, 0.6_f64).to_radians();
                edges.askew = Some(([far * angle.cos(), far * angle.sin()], turn));
                Some(fault([size[0] / 2.0, size[1] / 2.0], far))
            }
            _ => None,
        }
    }
}

/// Lays a panel as its first moves have it.
pub fn lay(panel: &Panel, moves: usize, hands: &Hands, chance: &mut Chance) -> LaidPanel {
    let surface = panel.after(moves);
    let parts = surface.areas();
    let size = [panel.width.mm(), panel.height.mm()];
    let inks = panel.inks.len().min(MOST_INKS);
    let mut faults = Vec::new();
    let mut strengths = [0.0; MOST_INKS];
    strengths.iter_mut().for_each(|strength| *strength = hands.strength * (0.025 * chance.normal()).exp());
    if hands.faults.contains(&Kind::Strong) {
        let ink = (chance.share() * inks as f64) as usize;
        strengths[ink] *= 1.3;
        faults.push(Fault {
            kind: Kind::Strong,
            at: [size[0] / 2.0, size[1] / 2.0],
            size: 1.3,
            ink: Some(ink),
        });
    }
    let laying = Laying { parts: &parts, size, strengths, inks };
    let mut changes: Vec<Change> = Vec::new();
    let mut edges = Edges::default();
    for kind in &hands.faults {
        if let Some((fault, change)) = (0..24).find_map(|_| laying.fault(*kind, chance)) {
            faults.push(fault);
            changes.push(change);
        } else {
            faults.extend(Edges::wrong(*kind, &surface, size, chance, &mut edges));
        }
    }
    let mut uneven = surface.materials.unevenness();
    if hands.faults.contains(&Kind::Uneven) {
        let by = chance.between(2.6, 3.4);
        uneven *= by;
        faults.push(Fault { kind: Kind::Uneven, at: [size[0] / 2.0, size[1] / 2.0], size: by, ink: None });
    }
    let painting = painted(&laying, &edges, &changes, uneven, &surface, chance);
    let desk = hands.desk.unwrap_or_else(|| Lab {
        l: chance.between(20.0, 78.0),
        a: chance.between(-6.0, 14.0),
        b: chance.between(-10.0, 25.0),
    });
    let page = Area { at: [-MARGIN; 2], size: size.map(|side| side + 2.0 * MARGIN) };
    let mut scene = Scene::on(Spectrum::of(desk, LIGHT), page);
    scene.painting = Some(painting);
    LaidPanel { scene, size, faults, strengths: strengths[..inks].to_vec(), parts }
}

/// A grid so fine, with something for each place.
fn grid<T: Send>(size: [f64; 2], apart: f64, of: impl Fn(f64, f64) -> T + Sync) -> (usize, Vec<T>) {
    let [columns, rows] = size.map(|side| (side / apart).ceil() as usize + 1);
    let cell = |n: usize| of((n % columns) as f64 * apart, (n / columns) as f64 * apart);
    (columns, (0..columns * rows).into_par_iter().map(cell).collect())
}

/// What of a part is seen.
#[derive(Clone, Copy)]
enum Lies<'a> {
    /// Bare card.
    Nothing,
    /// What lies on it.
    Itself,
    /// So much of what lies on it, over so much of what lies on another.
    Over(&'a Surface, [f64; 2]),
}

/// Which sort of ground is where both lie, where a thin film of the ground's lies, and where hardly any of the shape's own does: after the
/// bare one.
const BOTH: usize = 1;
const THIN: usize = 2;
const FAINT: usize = 3;
/// ΔE00 by which what hardly shows does.
const HARDLY: f64 = 3.0;

fn painted(
    laying: &Laying,
    edges: &Edges,
    changes: &[Change],
    uneven: f64,
    surface: &Surface,
    chance: &mut Chance,
) -> Painting {
    let size = laying.size;
    // Bare card is one sort of ground more, for what no ink has reached that should have one.
    let bare = laying.parts.len();
    let (columns, which) = grid(size, FINE, |x, y| edges.which(laying, surface, bare, x, y) as u8);
    let sort = move |x: f64, y: f64| {
        let at = |along: f64| (along / FINE).round() as usize;
        usize::from(which.get(at(x) + columns * at(y)).copied().unwrap_or_default())
    };
    let grains: Vec<Grain> = (0..laying.inks).map(|_| Grain::of(GRAIN, chance)).collect();
    let more_of = |passes: &Passes, x: f64, y: f64| {
        let mut more = [0.0f64; MOST_INKS];
        for ink in 0..laying.inks {
            more[ink] = uneven * passes[ink].max(0.0).sqrt() * grains[ink].at(x, y);
        }
        for change in changes {
            let by = change(x, y, passes);
            more = std::array::from_fn(|ink| more[ink] + by[ink]);
        }
        std::array::from_fn::<f32, MOST_INKS, _>(|ink| more[ink].max(-passes[ink]) as f32)
    };
    let (across, more) = grid(size, FAULTS, |x, y| {
        // What is kept bare stays so.
        let Some(part) = laying.parts.get(sort(x, y)).filter(|part| !part.surface.coats.is_empty()) else {
            return [0.0; MOST_INKS];
        };
        let [u, v] = edges.on_design(laying, x, y);
        let passes = laying.passes_of(&part.surface, u, v);
        more_of(&passes, x, y)
    });
    let more = move |x: f64, y: f64| {
        let at = |along: f64| (along / FAULTS).round() as usize;
        more.get(at(x) + across * at(y)).map_or([0.0; MOST_INKS], |more| more.map(f64::from))
    };
    let lattice = |surface: &Surface, lies: Lies| {
        let place = |x: f64, y: f64| {
            let [u, v] = edges.on_design(laying, x, y);
            let logs = |more: &Passes| {
                let seen = match lies {
                    Lies::Nothing => surface.materials.card,
                    Lies::Itself => laying.spectrum(surface, u, v, more),
                    Lies::Over(own, [share, of_own]) => {
                        let beneath = laying.passes_of(own, u, v);
                        let more = std::array::from_fn(|ink| of_own * beneath[ink] + more[ink]);
                        laying.part_of(surface, share, u, v, &more)
                    }
                };
                seen.map(|share| share.max(1e-6).ln())
            };
            const PART: f64 = 0.5;
            let base = logs(&[0.0; MOST_INKS]);
            let by_ink = (0..laying.inks).map(|ink| {
                let mut more = [0.0; MOST_INKS];
                more[ink] = PART;
                logs(&more).zip(&base, |more, base| (more - base) / PART)
            });
            std::iter::once(base).chain(by_ink).collect::<Vec<_>>()
        };
        grid(size, APART, place).1
    };
    let mut grounds: Vec<_> = laying.parts.iter().map(|part| lattice(&part.surface, Lies::Itself)).collect();
    grounds.push(lattice(surface, Lies::Nothing));
    // And others where a shape's own ink and the ground's lie over one another.
    if let Some((least, most)) =
        surface.materials.masks.things.first().and_then(|thing| thing.inside.bounds())
    {
        let part = |at: [f64; 2]| &laying.parts[laying.part_at(at[0], at[1])].surface;
        let own = part([0, 1].map(|axis| 0.5 * (least[axis] + most[axis])));
        let ground = part(least.map(|along| along - 1.0));
        // So little of its own that it is hardly told from the ground.
        let [x, y] = [0, 1].map(|axis| 0.5 * (least[axis] + most[axis]));
        let shown = |share: f64| {
            let of_own = laying.passes_of(own, x, y).map(|passes| share * passes);
            let [with, without] =
                [of_own, [0.0; MOST_INKS]].map(|more| laying.part_of(ground, 1.0, x, y, &more).lab(LIGHT));
            with.difference(without)
        };
        let little = [0.06, 0.03, 0.015].into_iter().find(|share| shown(*share) < HARDLY).unwrap_or_default();
        for shares in [[1.0, 1.0], [0.14, 0.0], [1.0, little]] {
            grounds.push(lattice(ground, Lies::Over(own, shares)));
        }
    }
    Painting {
        area: Area { at: [0.0; 2], size },
        apart: APART,
        grounds,
        which: Box::new(sort),
        more: Box::new(more),
    }
}

impl Edges {
    /// Which place of the design lies at one of the panel.
    fn on_design(&self, laying: &Laying, x: f64, y: f64) -> [f64; 2] {
        let Some((by, turn)) = self.askew else { return [x, y] };
        let middle = laying.size.map(|side| side / 2.0);
        let (u, v) = (x - middle[0] - by[0], y - middle[1] - by[1]);
        let (sin, cos) = turn.sin_cos();
        [middle[0] + u * cos + v * sin, middle[1] - u * sin + v * cos]
    }

    /// Which part of the panel is seen at a place, after all that went wrong along edges.
    fn which(&self, laying: &Laying, surface: &Surface, bare: usize, x: f64, y: f64) -> usize {
        let on = |along: f64, axis: usize| (0.0..=laying.size[axis]).contains(&along);
        let [x, y] = self.on_design(laying, x, y);
        if !on(x, 0) || !on(y, 1) {
            return bare;
        }
        if self.halo.as_ref().is_some_and(|(_, round)| round.has([x, y])) {
            return bare;
        }
        if let (Some(sort), Some(thing)) = (self.inside, surface.materials.masks.things.first())
            && thing.inside.has([x, y])
        {
            return bare + sort;
        }
        if let Some(by) = self.off_place
            && let Some(thing) = surface.materials.masks.things.first()
        {
            let (inked, covered) = (thing.inside.has([x, y]), thing.inside.has([x - by[0], y - by[1]]));
            match (inked, covered) {
                (true, false) => return bare + BOTH,
                (false, true) => return bare,
                _ => {}
            }
        }
        if let Some((crept, inside)) = &self.bleed
            && crept.has([x, y])
            && let Some((least, most)) = inside.bounds()
        {
            // What lies just beyond the edge has come in.
            let middle = [0, 1].map(|axis| 0.5 * (least[axis] + most[axis]));
            let (u, v) = (x - middle[0], y - middle[1]);
            let out = (0.5 * (most[0] - least[0]) + 1.0) / u.hypot(v).max(1e-6);
            return laying.part_at(middle[0] + u * out, middle[1] + v * out);
        }
        if let Some(by) = self.slip
            && let Some(thing) = surface.materials.masks.things.first()
        {
            let (was, is) = (thing.inside.has([x, y]), thing.inside.has([x - by[0], y - by[1]]));
            if was && !is {
                // Where it should have been there is ground.
                let (least, _) = thing.inside.bounds().unwrap_or_default();
                return laying.part_at(least[0] - 1.0, least[1] - 1.0);
            }
            if is {
                return laying.part_at(x - by[0], y - by[1]);
            }
        }
        laying.part_at(x, y)
    }
}
