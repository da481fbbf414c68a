//! Where does the panel differ from the plan within a few millimetres?
//!
//! Colours are compared as differences between places near one another, seen against planned: what light, phone and a strong hand do
//! all over drops out of that. A line is a step across 3 mm that goes on for some way; a patch differs from all about it.

use nalgebra::{Matrix3, Vector3};
use rosy_core::blend::limits::NO_CHROMA;
use rosy_core::colour::Lab;

use super::flaw::{Flaw, FlawKind};
use super::seen::{Seen, White};
use super::wanted::{Grid, STEP, Wanted};
use crate::phone::{axes, between};
use crate::rank::{at_share, median};

/// A step this large is a line (ΔE00 over 3 mm more than planned), and the share of the planned step that a phone may add to it.
const LINE: f64 = 4.6;
const STRETCHED: f64 = 0.3;
/// How long a line is at least, and how wide at most for its length.
const LONG: f64 = 15.0;
const NARROW: f64 = 0.45;
/// A patch differs by so much from all about it (ΔE00), and by so much of that at its rim.
const PATCH: f64 = 5.8;
const RIM: f64 = 0.62;
/// How many times that is told where no bare card tells the light.
const BY_PLAN: f64 = 1.35;
/// A speck does so from what lies right beside it.
const SPECK: f64 = 6.0;
/// By how many times it stands out as far as half of what lies beside it does: the tool's grain does so once in a panel (chosen for
/// grain that is normal: the most of some thousand draws is six times their median).
const CALM: f64 = 7.5;
/// The same for patches and steps, each of which is the mean of many places.
const CALM_WIDE: f64 = 4.5;
/// The most that a speck measures across, and a patch, in millimetres; how elongated a patch may be.
const SPECK_MM: f64 = 3.2;
const PATCH_MM: f64 = 24.0;
const ROUND: f64 = 2.4;
/// Shares of its ink that are tried as taken away from a patch, and how much of what it differs by may be left then.
const GONE: [f64; 6] = [0.1, 0.25, 0.4, 0.55, 0.7, 0.85];
const LIFTED: f64 = 0.65;
/// The share of a patch's limit from which on it is told where it is explained, and how many places it then covers.
const KNOWN: f64 = 0.87;
const WIDE: usize = 40;
/// How many times an ink that lies there is tried, and how much may be left then; and the share of the one most lies of from which on it
/// plainly does.
const MORE: [f64; 5] = [1.2, 1.5, 2.0, 3.0, 4.5];
const TOUCHED: f64 = 0.55;
const PLAINLY: f64 = 0.3;
/// The share of its colour that a patch has lost where it is mud, and the most that mud measures, in millimetres.
const DULLER: f64 = 0.22;
const MUD_MM: f64 = 60.0;
/// The share of what differs in and beside a patch that does so the same way (chosen).
const ONE_SIDED: f64 = 0.42;
/// From how far off, in millimetres, it is told what lies about a patch.
const ABOUT: [f64; 2] = [7.0, 13.0];
/// By how many times the tool's own unevenness is exceeded before it is a fault, and how uneven that has to be (ΔE00).
const UNEVEN: f64 = 2.0;
const LEAST_UNEVEN: f64 = 2.5;

/// What is seen less what the plan would look like in the strengths the inks came in.
pub struct Left<'a> {
    grid: Grid,
    seen: Vec<Option<Lab>>,
    planned: Vec<Option<Lab>>,
    /// The difference, and what turns it to ΔE00.
    off: Vec<Option<Vector3<f64>>>,
    wanted: &'a Wanted,
    /// How strong each ink came, as a share of what was planned.
    grown: Vec<f64>,
    /// By what colours were made true.
    white: White,
}

impl<'a> Left<'a> {
    /// Of a panel whose inks came so strong, without what lies near edges of which something is told already.
    pub fn of(wanted: &'a Wanted, seen: &Seen, grown: Vec<f64>, edges: &[Flaw]) -> Left<'a> {
        let grid = wanted.grid;
        let told = beside(wanted, edges);
        let usable = |n: usize| wanted.is_even(n) && seen.lab[n].is_some() && !told[n];
        let planned: Vec<Option<Lab>> =
            (0..grid.len()).map(|n| if usable(n) { wanted.grown(n, &grown) } else { None }).collect();
        let off = (0..grid.len())
            .map(|n| {
                let (planned, seen) = (planned[n]?, seen.lab[n]?);
                Some(axes(planned) * between(seen, planned))
            })
            .collect();
        let lab = (0..grid.len()).map(|n| seen.lab[n].filter(|_| usable(n))).collect();
        Left { grid, seen: lab, planned, off, wanted, grown, white: seen.white }
    }

    /// How far a place is from the plan, in parts of ΔE00.
    pub fn off(&self, n: usize) -> Option<Vector3<f64>> {
        self.off[n]
    }

    /// What is not as planned within a few millimetres, and how uneven the rest is.
    pub fn flaws(&self) -> (Vec<Flaw>, Option<Unevenness>) {
        let mut taken = vec![false; self.grid.len()];
        let mut flaws = self.specks(&mut taken);
        let mut lines = self.lines(&taken);
        for patch in self.patches(&mut taken) {
            // Along a line what has come on too hard fades out: that is no band. A band has two flanks.
            let beside = |line: &Flaw| overlap(line, &patch);
            let flanks = lines.iter().filter(|line| beside(line)).count();
            let far = lines.iter().filter(|line| beside(line)).map(Flaw::across).fold(0.0, f64::max);
            let is_line = match patch.kind {
                FlawKind::Band | FlawKind::Muddy => flanks == 1,
                _ => far > 1.7 * patch.across(),
            };
            if !is_line {
                lines.retain(|line| !overlap(line, &patch));
                flaws.push(patch);
            }
        }
        flaws.extend(lines);
        let unevenness = self.unevenness(&taken);
        flaws.extend(unevenness.as_ref().and_then(|unevenness| self.too_uneven(unevenness)));
        (flaws, unevenness)
    }

    fn mean(&self, of: &[Option<Lab>], places: impl Iterator<Item = Option<usize>>) -> Option<Lab> {
        let (mut sum, mut count) = ([0.0; 3], 0.0);
        for n in places {
            let Lab { l, a, b } = of[n?]?;
            sum = [sum[0] + l, sum[1] + a, sum[2] + b];
            count += 1.0;
        }
        (count > 0.0).then(|| Lab { l: sum[0] / count, a: sum[1] / count, b: sum[2] / count })
    }

    /// The least that is told: more where nothing but the plan says how the light falls.
    fn least(&self, limit: f64) -> f64 {
        match self.white {
            White::Card => limit,
            White::Plan => BY_PLAN * limit,
        }
    }

    /// By how much the step across a place is larger than planned, across or down.
    fn step(&self, n: usize, down: bool) -> Option<f64> {
        let side = |of: &[Option<Lab>], from: i64| {
            let places = (0..2).flat_map(move |k| {
                (-2..=2).map(move |j| {
                    let along = from + k;
                    if down { (j, along) } else { (along, j) }
                })
            });
            self.mean(of, places.map(|(i, j)| self.grid.by(n, i, j)))
        };
        let differ = |of: &[Option<Lab>]| Some((side(of, -2)?, side(of, 1)?));
        let (seen_before, seen_after) = differ(&self.seen)?;
        let (before, after) = differ(&self.planned)?;
        let axes = axes(self.planned[n]?);
        let (seen, planned) = (axes * between(seen_after, seen_before), axes * between(after, before));
        let more = (seen - planned).norm();
        let is_more = seen.norm() > planned.norm();
        is_more.then_some(more - STRETCHED * planned.norm())
    }

    fn lines(&self, taken: &[bool]) -> Vec<Flaw> {
        let steps: Vec<f64> = (0..self.grid.len())
            .map(|n| {
                let both = [false, true].map(|down| self.step(n, down).unwrap_or(0.0).max(0.0));
                both[0].hypot(both[1])
            })
            .collect();
        let limit = self.least(LINE).max(CALM_WIDE * self.usual(|n| steps[n]));
        let mut lines = Vec::new();
        for piece in pieces(self.grid, |n| steps[n] > limit && !taken[n]) {
            let shape = Shaped::of(self.grid, &piece);
            if shape.long < LONG || shape.wide > NARROW * shape.long {
                continue;
            }
            let sizes: Vec<f64> = piece.iter().map(|n| steps[*n]).collect();
            lines.extend(at_share(sizes, 0.75).map(|size| Flaw::of(FlawKind::Line, shape.around, size)));
        }
        lines
    }

    /// What half of the inked places keep within.
    fn usual(&self, of: impl Fn(usize) -> f64) -> f64 {
        let inked = |n: &usize| self.wanted.places[*n].as_ref().is_some_and(|place| !place.is_bare);
        let sizes: Vec<f64> = (0..self.grid.len())
            .filter(|n| self.off[*n].is_some())
            .filter(inked)
            .map(of)
            .filter(|of| *of > 0.0)
            .collect();
        median(sizes).unwrap_or_default()
    }

    /// What a plane through all that lies about a place, some way off, comes to there: what goes on past the place from one side to the
    /// other is no patch. What is odd counts for little.
    fn about(&self, n: usize, [near, far]: [f64; 2], every: usize) -> Option<Vector3<f64>> {
        let reach = (far / STEP) as i64;
        let mut seen: Vec<(Vector3<f64>, Vector3<f64>)> = Vec::with_capacity(160);
        for j in (-reach..=reach).step_by(every) {
            for i in (-reach..=reach).step_by(every) {
                let away = (i as f64).hypot(j as f64) * STEP;
                if (near..=far).contains(&away)
                    && let Some(off) = self.grid.by(n, i, j).and_then(|other| self.off[other])
                {
                    seen.push((Vector3::new(1.0, i as f64 / far, j as f64 / far), off));
                }
            }
        }
        if seen.len() < 12 {
            return None;
        }
        let mut plane: Matrix3<f64> = Matrix3::zeros();
        for round in 0..3 {
            // A plane that is not told leans little.
            let mut normal = Matrix3::from_diagonal(&Vector3::new(1e-6, 1.0, 1.0));
            let mut side = Matrix3::zeros();
            for (row, off) in &seen {
                let left = (off - plane.transpose() * row).norm();
                let weight = if round == 0 || left < 1.0 { 1.0 } else { 1.0 / left };
                normal += row * row.transpose() * weight;
                side += row * off.transpose() * weight;
            }
            plane = normal.cholesky()?.solve(&side);
        }
        Some(plane.row(0).transpose())
    }

    /// The mean of a place and those next to it.
    fn calmed(&self, n: usize) -> Option<Vector3<f64>> {
        self.off[n]?;
        let near: Vec<Vector3<f64>> = self.grid.about(n, 1).filter_map(|other| self.off[other]).collect();
        Some(near.iter().sum::<Vector3<f64>>() / near.len() as f64)
    }

    fn specks(&self, taken: &mut [bool]) -> Vec<Flaw> {
        let stands: Vec<f64> = (0..self.grid.len())
            .map(|n| {
                let stands = || Some(self.off[n]? - self.about(n, [2.5, 4.5], 1)?);
                stands().map_or(0.0, |off| off.norm())
            })
            .collect();
        let mut specks = Vec::new();
        for piece in pieces(self.grid, |n| stands[n] > 0.55 * SPECK) {
            let most = piece.iter().map(|n| stands[*n]).fold(0.0, f64::max);
            let across = 2.0 * (piece.len() as f64 * STEP * STEP / std::f64::consts::PI).sqrt();
            if most < SPECK || across > SPECK_MM {
                continue;
            }
            // It is a speck only where what lies beside it is calm: else it is the tool's grain.
            let beside: Vec<f64> = self
                .grid
                .about(piece[piece.len() / 2], 5)
                .filter(|n| !piece.contains(n) && self.off[*n].is_some())
                .map(|n| stands[n])
                .collect();
            let is_told = beside.len() >= 30;
            if !median(beside).is_some_and(|usual| is_told && most >= CALM * usual.max(0.5)) {
                continue;
            }
            specks.push(Flaw::of(FlawKind::Fleck, Shaped::of(self.grid, &piece).around, across));
            for n in piece {
                self.grid.about(n, 1).for_each(|other| taken[other] = true);
            }
        }
        specks
    }

    fn patches(&self, taken: &mut [bool]) -> Vec<Flaw> {
        let stands: Vec<Option<Vector3<f64>>> = (0..self.grid.len())
            .map(|n| {
                (!taken[n]).then_some(()).and_then(|()| Some(self.calmed(n)? - self.about(n, ABOUT, 2)?))
            })
            .collect();
        let size = |n: usize| stands[n].map_or(0.0, |off| off.norm());
        let limit = self.least(PATCH).max(CALM_WIDE * self.usual(size));
        let mut patches = Vec::new();
        for piece in pieces(self.grid, |n| size(n) > limit * RIM) {
            let Some(most) = at_share(piece.iter().map(|n| size(*n)).collect(), 0.8) else { continue };
            let shape = Shaped::of(self.grid, &piece);
            if most < KNOWN * limit || piece.len() < 6 {
                continue;
            }
            // What a hand is known to do is told from less than what nothing explains.
            let explained = self.explained(&piece);
            let is_known = self.white == White::Card && (explained.is_lifted() || explained.is_touched());
            if most < limit && !(is_known && piece.len() >= WIDE) {
                continue;
            }
            if !self.is_one_sided(&piece, &stands) {
                continue;
            }
            let is_round = shape.long < ROUND * shape.wide && shape.long < PATCH_MM;
            let more = !explained.is_lifted();
            let kind = match (is_round, more) {
                (_, true) if shape.long < MUD_MM && self.is_duller(&piece) && !explained.is_touched() => {
                    FlawKind::Muddy
                }
                (true, true) => FlawKind::Touch,
                (true, false) => FlawKind::Lifted,
                (false, true)
                    if shape.long > 20.0 && self.is_in_join(&piece) && self.is_banded(&piece, &stands) =>
                {
                    FlawKind::Band
                }
                _ => continue,
            };
            patches.push(Flaw::of(kind, shape.around, most));
            for n in piece {
                self.grid.about(n, 2).for_each(|other| taken[other] = true);
            }
        }
        patches
    }

    /// What a hand did there: which part of how far a patch is from the plan is left if a share of all its ink was taken away, and if more
    /// came of one ink that lies there anyway, as a first touch leaves it; each at its best.
    fn explained(&self, piece: &[usize]) -> Explained {
        let off = |times: &dyn Fn(usize) -> f64| -> f64 {
            let with: Vec<f64> =
                self.grown.iter().enumerate().map(|(ink, grown)| times(ink) * grown).collect();
            let of = |n: &usize| Some(self.seen[*n]?.difference(self.wanted.grown(*n, &with)?));
            piece.iter().filter_map(of).sum()
        };
        let as_planned = off(&|_| 1.0).max(1e-9);
        let lies = |ink: usize| -> f64 {
            let of = |n: &usize| self.wanted.places[*n].as_ref().map_or(0.0, |place| place.passes[ink]);
            piece.iter().map(of).sum()
        };
        let lie: Vec<f64> = (0..self.grown.len()).map(lies).collect();
        let most = lie.iter().copied().fold(0.0, f64::max);
        let least = |offs: &mut dyn Iterator<Item = f64>| offs.fold(as_planned, f64::min) / as_planned;
        let plain = || (0..lie.len()).filter(|ink| lie[*ink] > PLAINLY * most);
        let more = || plain().flat_map(|one| MORE.map(|more| (one, more)));
        Explained {
            lifted: least(&mut GONE.into_iter().map(|gone| off(&|_| 1.0 - gone))),
            touched: least(&mut more().map(|(one, more)| off(&|ink| if ink == one { more } else { 1.0 }))),
        }
    }

    /// Whether it has lost so much of its colour that another ink came in.
    fn is_duller(&self, piece: &[usize]) -> bool {
        let chroma =
            |of: &[Option<Lab>]| piece.iter().filter_map(|n| of[*n]).map(|lab| lab.oklch()[1]).sum::<f64>();
        let (planned, seen) = (chroma(&self.planned), chroma(&self.seen));
        planned > NO_CHROMA * piece.len() as f64 && seen < (1.0 - DULLER) * planned
    }

    /// Whether two inks meet there.
    fn is_in_join(&self, piece: &[usize]) -> bool {
        let meets = |n: &&usize| {
            self.wanted.places[**n].as_ref().is_some_and(|place| {
                let most = place.passes.iter().copied().fold(0.0, f64::max);
                place.passes.iter().filter(|passes| **passes > 0.25 * most).count() > 1
            })
        };
        2 * piece.iter().filter(meets).count() > piece.len()
    }

    /// Whether all that lies in and beside a patch differs the same way: a step goes one way on one side, and the other on the other.
    fn is_one_sided(&self, piece: &[usize], stands: &[Option<Vector3<f64>>]) -> bool {
        let mut beside = vec![false; self.grid.len()];
        piece.iter().for_each(|n| self.grid.about(*n, 4).for_each(|other| beside[other] = true));
        let (mut sum, mut size) = (Vector3::zeros(), 0.0);
        for off in stands.iter().zip(&beside).filter(|(_, beside)| **beside).filter_map(|(off, _)| *off) {
            sum += off;
            size += off.norm();
        }
        sum.norm() > ONE_SIDED * size
    }

    /// Whether it is darker than what lies on either side, rather than a step from one to the other.
    fn is_banded(&self, piece: &[usize], stands: &[Option<Vector3<f64>>]) -> bool {
        let darker = piece.iter().filter(|n| stands[**n].is_some_and(|off| off[0] < 0.0)).count();
        10 * darker > 7 * piece.len()
    }

    /// Whether it is more uneven than its tool leaves it.
    fn too_uneven(&self, unevenness: &Unevenness) -> Option<Flaw> {
        let size = [self.grid.columns, self.grid.rows].map(|along| along as f64 * STEP);
        (unevenness.seen > LEAST_UNEVEN && unevenness.seen > UNEVEN * unevenness.expected())
            .then(|| Flaw::of(FlawKind::Uneven, [[0.0; 2], size], unevenness.seen))
    }

    /// How uneven it is where nothing is told; nothing where too little of it is seen.
    fn unevenness(&self, taken: &[bool]) -> Option<Unevenness> {
        let materials = &self.wanted.surface.materials;
        let sigma = materials.unevenness();
        let (mut squares, mut steps, mut own, mut count) = (0.0, 0.0, 0.0, 0.0);
        let ones = vec![1.0; materials.inks.len()];
        for n in (0..self.grid.len()).step_by(5).filter(|n| !taken[*n]) {
            let beside = |across, down| self.grid.by(n, across, down).and_then(|n| self.off[n]);
            let (Some(calm), Some(about)) = (self.off[n], self.about(n, [3.0, 9.0], 2)) else { continue };
            let (Some(right), Some(below)) = (beside(1, 0), beside(0, 1)) else { continue };
            let Some(place) = &self.wanted.places[n] else { continue };
            if place.passes.iter().sum::<f64>() < 1.0 {
                continue;
            }
            let slopes = super::strength::slopes(self.wanted, n, &ones, place.lab);
            let of_tool = slopes.iter().zip(&place.passes).filter(|(_, passes)| **passes > 0.05);
            own += of_tool.map(|(slope, passes)| (slope.norm() * sigma / passes.sqrt()).powi(2)).sum::<f64>();
            squares += (calm - about).norm_squared();
            steps += ((calm - right).norm_squared() + (calm - below).norm_squared()) / 2.0;
            count += 1.0;
        }
        // What differs from one place to the next is a phone's noise twice over, and of the grain only what does not go on.
        let grain = (squares - steps / 2.0).max(0.0) / count / GOES_ON;
        (count >= 60.0).then(|| Unevenness { seen: grain.sqrt(), of_tool: (own / count).sqrt() })
    }
}

/// Which part of how far a patch is from the plan is left by each thing that a hand may have done.
struct Explained {
    lifted: f64,
    touched: f64,
}

impl Explained {
    fn is_lifted(&self) -> bool {
        self.lifted < LIFTED && self.lifted < self.touched
    }

    fn is_touched(&self) -> bool {
        self.touched < TOUCHED
    }
}

/// How uneven a panel is, in ΔE00: as it is seen, and as its tool leaves it on its card.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Unevenness {
    /// As it is seen, without the phone's own noise.
    pub seen: f64,
    /// As it is planned.
    pub of_tool: f64,
}

impl Unevenness {
    /// As it is taken to be seen if it were laid as planned: never less than what a phone's noise leaves open.
    pub fn expected(&self) -> f64 {
        self.of_tool.hypot(NOISE)
    }

    /// As a share of what is planned; nothing where the phone's noise hides it.
    pub fn share(&self) -> Option<f64> {
        (self.seen > NOISE / 2.0 && self.of_tool > NOISE).then(|| self.seen / self.of_tool)
    }
}

/// Whether the boxes round two flaws lie within a few millimetres of one another.
fn overlap(one: &Flaw, other: &Flaw) -> bool {
    const BESIDE: f64 = 3.0;
    (0..2).all(|axis| {
        one.around[0][axis] < other.around[1][axis] + BESIDE
            && other.around[0][axis] < one.around[1][axis] + BESIDE
    })
}

/// The places so near an edge that slipped, crept or was left bare that they belong to it.
fn beside(wanted: &Wanted, edges: &[Flaw]) -> Vec<bool> {
    let grid = wanted.grid;
    let mut beside = vec![false; grid.len()];
    for flaw in edges {
        let Some(thing) = flaw.thing.and_then(|thing| wanted.surface.materials.masks.things.get(thing))
        else {
            continue;
        };
        // Of a shape that is itself not as planned all of it is told.
        let is_all = matches!(flaw.kind, FlawKind::Dulled | FlawKind::Faint);
        let reach = if is_all { 2.5 } else { flaw.size + 2.5 };
        let (outer, inner) = (thing.inside.grown(reach), thing.inside.grown(-reach));
        for (n, beside) in beside.iter_mut().enumerate() {
            let at = grid.at(n);
            *beside |= outer.has(at) && (is_all || !inner.has(at));
        }
    }
    beside
}

/// What a phone's own noise leaves open of how uneven a panel is (ΔE00).
const NOISE: f64 = 0.6;
/// How far a tool's grain at one place goes with that a millimetre on (a correlation; the fine grain of a soft brush).
const GOES_ON: f64 = 0.78;

/// Pieces of places that lie next to one another, corners counted.
fn pieces(grid: Grid, is_in: impl Fn(usize) -> bool) -> Vec<Vec<usize>> {
    let mut done = vec![false; grid.len()];
    let mut pieces = Vec::new();
    for start in 0..grid.len() {
        if done[start] || !is_in(start) {
            continue;
        }
        done[start] = true;
        let mut piece = vec![start];
        let mut next = 0;
        while next < piece.len() {
            let here = piece[next];
            next += 1;
            for other in grid.about(here, 1) {
                if !done[other] && is_in(other) {
                    done[other] = true;
                    piece.push(other);
                }
            }
        }
        pieces.push(piece);
    }
    pieces
}

/// How long and wide a piece is along its own axes, and the box round it, in millimetres.
struct Shaped {
    long: f64,
    wide: f64,
    around: [[f64; 2]; 2],
}

impl Shaped {
    fn of(grid: Grid, piece: &[usize]) -> Shaped {
        let places: Vec<[f64; 2]> = piece.iter().map(|n| grid.at(*n)).collect();
        let count = places.len() as f64;
        let middle = [0, 1].map(|axis| places.iter().map(|at| at[axis]).sum::<f64>() / count);
        let sum = |f: &dyn Fn(f64, f64) -> f64| {
            places.iter().map(|at| f(at[0] - middle[0], at[1] - middle[1])).sum::<f64>() / count
        };
        let (xx, yy, xy) = (sum(&|x, _| x * x), sum(&|_, y| y * y), sum(&|x, y| x * y));
        let half = (0.25 * (xx - yy).powi(2) + xy * xy).sqrt();
        let side = |square: f64| (12.0 * square.max(0.0)).sqrt() + STEP;
        let least = |axis: usize| places.iter().map(|at| at[axis]).fold(f64::INFINITY, f64::min) - STEP / 2.0;
        let most =
            |axis: usize| places.iter().map(|at| at[axis]).fold(f64::NEG_INFINITY, f64::max) + STEP / 2.0;
        Shaped {
            long: side(0.5 * (xx + yy) + half),
            wide: side(0.5 * (xx + yy) - half),
            around: [[least(0), least(1)], [most(0), most(1)]],
        }
    }
}
