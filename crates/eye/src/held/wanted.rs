//! What should be seen at each place?

use rosy_core::Panel;
use rosy_core::blend::Blend;
use rosy_core::colour::Lab;
use rosy_core::judgement::Sight;
use rosy_core::surface::{Moment, Surface};

/// Millimetres between the places that are looked at.
pub const STEP: f64 = 1.0;
/// Light passes, all inks together, below which card is bare.
const BARE: f64 = 0.04;
/// How far from an edge colours are not held against the plan, in places: a hair of a cut lies there.
const NEAR_EDGE: usize = 2;

/// A grid over the panel, its places in the middle of squares.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Grid {
    /// Places across.
    pub columns: usize,
    /// Places down.
    pub rows: usize,
}

impl Grid {
    /// Over a size in millimetres.
    pub fn over([wide, high]: [f64; 2]) -> Grid {
        Grid { columns: (wide / STEP).floor() as usize, rows: (high / STEP).floor() as usize }
    }

    /// How many places.
    pub const fn len(&self) -> usize {
        self.columns * self.rows
    }

    /// Never: a panel is an inch and more.
    pub const fn is_empty(&self) -> bool {
        self.len() == 0
    }

    /// Where a place lies, in millimetres.
    pub fn at(&self, n: usize) -> [f64; 2] {
        [(n % self.columns) as f64 + 0.5, (n / self.columns) as f64 + 0.5].map(|along| along * STEP)
    }

    /// The place in whose square a point lies, if it is on it.
    pub fn near(&self, [x, y]: [f64; 2]) -> Option<usize> {
        let (column, row) = ((x / STEP).floor(), (y / STEP).floor());
        let is_on = (0.0..self.columns as f64).contains(&column) && (0.0..self.rows as f64).contains(&row);
        is_on.then(|| column as usize + row as usize * self.columns)
    }

    /// The place so many further across and down, if there is one.
    pub fn by(&self, n: usize, across: i64, down: i64) -> Option<usize> {
        let (x, y) = ((n % self.columns) as i64 + across, (n / self.columns) as i64 + down);
        let is_on = (0..self.columns as i64).contains(&x) && (0..self.rows as i64).contains(&y);
        is_on.then(|| x as usize + y as usize * self.columns)
    }

    /// The places within so many of one, in a square about it.
    pub fn about(&self, n: usize, reach: i64) -> impl Iterator<Item = usize> + '_ {
        (-reach..=reach)
            .flat_map(move |down| (-reach..=reach).filter_map(move |across| self.by(n, across, down)))
    }
}

/// What the plan has at a place.
#[derive(Clone, Debug)]
pub struct Place {
    /// The part of the panel it belongs to, within which nothing ends.
    pub part: usize,
    /// Its colour.
    pub lab: Lab,
    /// Light passes of each ink.
    pub passes: Vec<f64>,
    /// Whether a mask lies there.
    pub is_covered: bool,
    /// Whether the card is bare there.
    pub is_bare: bool,
    /// Whether colours can be held against the plan there: no edge is near, no mask lies there, and neither water nor powder.
    pub is_even: bool,
}

/// The plan as it should be seen.
pub struct Wanted {
    /// Where its places are.
    pub grid: Grid,
    /// What each of them has; nothing beside the card.
    pub places: Vec<Option<Place>>,
    /// The card it lies on.
    pub surface: Surface,
    /// The blends of the ground.
    pub ground: Vec<Blend>,
    sight: Sight,
}

impl Wanted {
    /// Of a panel after its first moves: as it dries where all are made, and else as it is then.
    pub fn of(panel: &Panel, moves: usize) -> Wanted {
        let moment = if moves >= panel.moves.len() { Moment::Dry } else { Moment::Now };
        let surface = panel.after(moves).looked_at(moment);
        let sight = Sight::of(&surface);
        let grid = Grid::over([panel.width.mm(), panel.height.mm()]);
        let mut places: Vec<Option<Place>> = (0..grid.len())
            .map(|n| {
                let [x, y] = grid.at(n);
                let here = sight.here(x, y)?;
                let passes = here.passes();
                let is_blank = passes.iter().sum::<f64>() < BARE && !here.is_wetted() && !here.is_sealed();
                let is_bare = is_blank && !here.is_covered;
                let is_even = !here.is_covered && !here.is_wetted() && !here.is_sealed();
                let is_covered = here.is_covered;
                Some(Place { part: here.area, lab: here.lab(), passes, is_covered, is_bare, is_even })
            })
            .collect();
        let by_edge: Vec<usize> = (0..grid.len())
            .filter(|n| {
                let part = |n: usize| places[n].as_ref().map(|place| place.part);
                let (column, row) = (n % grid.columns, n / grid.columns);
                let at_rim = column == 0 || row == 0 || column + 1 == grid.columns || row + 1 == grid.rows;
                at_rim || grid.about(*n, NEAR_EDGE as i64).any(|other| part(other) != part(*n))
            })
            .collect();
        for n in by_edge {
            if let Some(place) = &mut places[n] {
                place.is_even = false;
            }
        }
        Wanted { grid, places, surface, ground: panel.scene.ground.clone(), sight }
    }

    /// The colour of a place if so many times of each ink lay there.
    pub fn grown(&self, n: usize, grown: &[f64]) -> Option<Lab> {
        let [x, y] = self.grid.at(n);
        self.sight.here(x, y).map(|here| here.lab_grown(|ink| grown[ink]))
    }

    /// The colour anywhere.
    pub fn lab(&self, x: f64, y: f64) -> Option<Lab> {
        self.sight.lab(x, y)
    }

    /// Whether colours can be held against the plan at a place.
    pub fn is_even(&self, n: usize) -> bool {
        self.places[n].as_ref().is_some_and(|place| place.is_even)
    }

    /// Whether water has been on it, so that the same plan never comes out twice the same place by place.
    pub fn is_wet_work(&self) -> bool {
        !self.surface.films.is_empty()
    }
}
