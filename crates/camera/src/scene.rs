//! What lies on the table? Things one over the other, each with what it gives back of light, in millimetres of the page.

use rosy_core::colour::Spectrum;

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

/// All of it. The first thing lies lowest.
pub struct Scene {
    /// What the things are made of; the first is the table.
    pub stuffs: Vec<Stuff>,
    /// The things.
    pub things: Vec<Thing>,
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
        Scene { stuffs: vec![Stuff::plain(table)], things: Vec::new(), page }
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
    /// What is seen at a place: which stuff, and how much of it.
    pub fn at(&self, x: f64, y: f64) -> (usize, f64) {
        let (column, row) = ((x - self.from[0]) / SQUARE, (y - self.from[1]) / SQUARE);
        if column < 0.0 || row < 0.0 || column >= self.across as f64 {
            return (0, 0.0);
        }
        let Some(square) = self.squares.get(column as usize + row as usize * self.across) else {
            return (0, 0.0);
        };
        for n in square.iter().rev() {
            let thing = &self.scene.things[*n];
            if let Some([u, v]) = thing.area.place(x, y) {
                let amount = (thing.amount)(u, v);
                if amount >= 0.0 {
                    return (thing.stuff, amount);
                }
            }
        }
        (0, 0.0)
    }
}
