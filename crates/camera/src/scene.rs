//! What lies on the table? Things one over the other, each with what it gives back of light, in millimetres of the page.

use rosy_core::colour::{BANDS, Spectrum};
pub use rosy_core::ink::drawer::MOST_INKS;

/// What a thing is made of: what it gives back at even steps of an amount from 0 to 1.
#[derive(Clone, Debug)]
pub struct Stuff(pub Vec<Spectrum>);

impl Stuff {
    /// The same all over.
    pub fn plain(spectrum: Spectrum) -> Stuff {
        Stuff(vec![spectrum])
    }
}

/// A rectangle of the page.
#[derive(Clone, Copy, Debug)]
pub struct Area {
    /// Its left upper corner.
    pub at: [f64; 2],
    /// How wide and high.
    pub size: [f64; 2],
}

impl Area {
    fn place(&self, x: f64, y: f64) -> Option<[f64; 2]> {
        let (u, v) = (x - self.at[0], y - self.at[1]);
        ((0.0..self.size[0]).contains(&u) && (0.0..self.size[1]).contains(&v)).then_some([u, v])
    }
}

/// How much of its stuff a thing has at a place within it.
pub type Amount = Box<dyn Fn(f64, f64) -> f64 + Send + Sync>;

/// One thing.
pub struct Thing {
    /// Where it lies.
    pub area: Area,
    /// What it is made of, by its place among the scene's stuffs.
    pub stuff: usize,
    /// How much of it is where; nothing lies where the amount is below 0.
    pub amount: Amount,
}

/// Light passes of each ink.
pub type Passes = [f64; MOST_INKS];

/// Something painted with several inks, that differs from place to place. Between its edges it changes slowly, so it is told on a
/// lattice, as logarithms of what it gives back and how those go with each ink; what changes fast is told as more or less of an ink.
pub struct Painting {
    /// Where it lies.
    pub area: Area,
    /// Millimetres between the places of the lattice.
    pub apart: f64,
    /// For each sort of ground and each place of the lattice, row by row: the logarithm of what it gives back, and by how much one
    /// light pass more of each ink changes that.
    pub grounds: Vec<Vec<Vec<Spectrum>>>,
    /// Which sort of ground is seen at a place.
    pub which: Box<dyn Fn(f64, f64) -> usize + Send + Sync>,
    /// How many light passes more of each ink lie there than the lattice says.
    pub more: Box<dyn Fn(f64, f64) -> Passes + Send + Sync>,
}

impl Painting {
    /// Places of the lattice across and down.
    pub fn lattice(&self) -> [usize; 2] {
        self.area.size.map(|side| (side / self.apart).ceil() as usize + 1)
    }

    /// The four places of the lattice about a place, with their shares.
    pub fn about(&self, u: f64, v: f64) -> [(usize, f64); 4] {
        let [columns, rows] = self.lattice();
        let (x, y) = ((u / self.apart).max(0.0), (v / self.apart).max(0.0));
        let (i, j) = ((x as usize).min(columns - 2), (y as usize).min(rows - 2));
        let (du, dv) = ((x - i as f64).min(1.0), (y - j as f64).min(1.0));
        let at = |i: usize, j: usize| i + j * columns;
        [
            (at(i, j), (1.0 - du) * (1.0 - dv)),
            (at(i + 1, j), du * (1.0 - dv)),
            (at(i, j + 1), (1.0 - du) * dv),
            (at(i + 1, j + 1), du * dv),
        ]
    }

    /// What is given back at a place of it.
    pub fn spectrum(&self, u: f64, v: f64) -> Spectrum {
        let ground = &self.grounds[(self.which)(u, v)];
        let more = (self.more)(u, v);
        let mut logs = [0.0; BANDS];
        for (at, share) in self.about(u, v) {
            let place = &ground[at];
            for (band, log) in logs.iter_mut().enumerate() {
                let inks: f64 = place[1..].iter().zip(more).map(|(ink, more)| ink.0[band] * more).sum();
                *log += share * (place[0].0[band] + inks);
            }
        }
        Spectrum(logs.map(|log| log.exp().min(1.0)))
    }
}

/// What is seen at a place.
pub enum Seen {
    /// A stuff, and how much of it.
    Stuff(usize, f64),
    /// A place of the painting.
    Painted(f64, f64),
}

/// All of it. The first thing lies lowest.
pub struct Scene {
    /// What the things are made of; the first is the table.
    pub stuffs: Vec<Stuff>,
    /// The things.
    pub things: Vec<Thing>,
    /// What is painted, which lies on all of them.
    pub painting: Option<Painting>,
    /// The part of the table that the photo is of.
    pub page: Area,
}

/// Side of a square in which things are looked up, in millimetres.
const SQUARE: f64 = 4.0;

/// A scene with its things sorted by where they lie.
pub struct Sorted<'a> {
    scene: &'a Scene,
    from: [f64; 2],
    across: usize,
    squares: Vec<Vec<usize>>,
}

impl Scene {
    /// A bare table.
    pub fn on(table: Spectrum, page: Area) -> Scene {
        Scene { stuffs: vec![Stuff::plain(table)], things: Vec::new(), painting: None, page }
    }

    /// Another stuff.
    pub fn stuff(&mut self, stuff: Stuff) -> usize {
        self.stuffs.push(stuff);
        self.stuffs.len() - 1
    }

    /// Lays something even.
    pub fn lay(&mut self, area: Area, stuff: usize) {
        self.things.push(Thing { area, stuff, amount: Box::new(|_, _| 0.0) });
    }

    /// The same, quick to look into.
    pub fn sorted(&self) -> Sorted<'_> {
        let from = self.page.at;
        let count = [0, 1].map(|axis| (self.page.size[axis] / SQUARE).ceil() as usize + 1);
        let mut squares = vec![Vec::new(); count[0] * count[1]];
        for (n, thing) in self.things.iter().enumerate() {
            let bounds = [0, 1].map(|axis| {
                let low = (thing.area.at[axis] - from[axis]) / SQUARE;
                let high = (thing.area.at[axis] + thing.area.size[axis] - from[axis]) / SQUARE;
                (low.floor().max(0.0) as usize, (high.floor().max(0.0) as usize).min(count[axis] - 1))
            });
            for row in bounds[1].0..=bounds[1].1 {
                for column in bounds[0].0..=bounds[0].1 {
                    squares[column + row * count[0]].push(n);
                }
            }
        }
        Sorted { scene: self, from, across: count[0], squares }
    }
}

impl Sorted<'_> {
    /// What is seen at a place.
    pub fn at(&self, x: f64, y: f64) -> Seen {
        const TABLE: Seen = Seen::Stuff(0, 0.0);
        if let Some([u, v]) = self.scene.painting.as_ref().and_then(|painting| painting.area.place(x, y)) {
            return Seen::Painted(u, v);
        }
        let (column, row) = ((x - self.from[0]) / SQUARE, (y - self.from[1]) / SQUARE);
        if column < 0.0 || row < 0.0 || column >= self.across as f64 {
            return TABLE;
        }
        let Some(square) = self.squares.get(column as usize + row as usize * self.across) else {
            return TABLE;
        };
        for n in square.iter().rev() {
            let thing = &self.scene.things[*n];
            if let Some([u, v]) = thing.area.place(x, y) {
                let amount = (thing.amount)(u, v);
                if amount >= 0.0 {
                    return Seen::Stuff(thing.stuff, amount);
                }
            }
        }
        TABLE
    }
}
