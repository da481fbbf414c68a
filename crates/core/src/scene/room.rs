//! Where is there room on a panel for one thing more, or for several of a kind?
//!
//! Boxes are looked at, not outlines: what a maker would lay apart stays apart.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::length::Length;
use crate::place::{Extent, Point};

/// What covers so much of a panel is a ground to stand on, and nothing to stand beside (chosen).
const GROUND: f64 = 0.6;
/// How many places are tried for each that lies here and there.
const TRIES: usize = 400;

/// How several of a kind lie.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Lie {
    /// In a row, level with the first.
    Row,
    /// In rows and columns round the first.
    Grid,
    /// Here and there, none over another.
    Scattered,
}

/// A panel with what stands on it, from front to back.
#[derive(Clone, Copy, Debug)]
pub struct Room<'a> {
    /// The box in which it is seen.
    pub within: Extent,
    /// The boxes round what stands there.
    pub others: &'a [Extent],
    /// What is left between two; middles lie on the marks of half of it.
    pub gap: Length,
}

/// A box of a size round a middle.
fn round(at: Point, size: (Length, Length)) -> Extent {
    Extent { corner: Point { left: at.left - size.0 / 2, top: at.top - size.1 / 2 }, size }
}

fn middle(of: &Extent) -> Point {
    Point { left: of.corner.left + of.size.0 / 2, top: of.corner.top + of.size.1 / 2 }
}

/// Square millimetres that two boxes share.
fn shared(one: &Extent, other: &Extent) -> f64 {
    let along = |from: (Length, Length), long: (Length, Length)| {
        ((from.0 + long.0).min(from.1 + long.1) - from.0.max(from.1)).mm().max(0.0)
    };
    along((one.corner.left, other.corner.left), (one.size.0, other.size.0))
        * along((one.corner.top, other.corner.top), (one.size.1, other.size.1))
}

impl Room<'_> {
    /// Whether all of a box lies on the panel.
    fn holds(&self, of: &Extent) -> bool {
        let Extent { corner: Point { left, top }, size } = *of;
        let Extent { corner: from, size: room } = self.within;
        left >= from.left
            && top >= from.top
            && left + size.0 <= from.left + room.0
            && top + size.1 <= from.top + room.1
    }

    /// What a box would lie over, in square millimetres.
    fn over(&self, of: &Extent) -> f64 {
        let whole = self.within.size.0.mm() * self.within.size.1.mm();
        let stands = |other: &&Extent| other.size.0.mm() * other.size.1.mm() < GROUND * whole;
        self.others.iter().filter(stands).map(|other| shared(of, other)).sum()
    }

    /// Where one more of a size stands best: in the middle where nothing is, or else beside the foremost, or else where it lies
    /// over least; never just where another stands.
    pub fn for_one(&self, size: (Length, Length)) -> Point {
        let centre = middle(&self.within);
        let on_mark = |at: Point| Point::nearest((at.left.mm(), at.top.mm()), self.gap / 2);
        let is_free = |at: &Point| {
            let own = round(*at, size);
            self.holds(&own) && self.over(&own) == 0.0
        };
        let beside = self.others.first().map(|last| {
            let at = middle(last);
            let (across, down) =
                ((last.size.0 + size.0) / 2 + self.gap, (last.size.1 + size.1) / 2 + self.gap);
            [
                Point { left: at.left + across, ..at },
                Point { left: at.left - across, ..at },
                Point { top: at.top + down, ..at },
                Point { top: at.top - down, ..at },
            ]
        });
        let places = std::iter::once(centre)
            .chain(beside.into_iter().flatten())
            .chain(self.lattice(size))
            .map(on_mark);
        let best = places.clone().find(is_free).or_else(|| {
            let held = places.filter(|at| self.holds(&round(*at, size)));
            held.min_by(|one, other| {
                self.over(&round(*one, size)).total_cmp(&self.over(&round(*other, size)))
            })
        });
        let mut at = best.unwrap_or(on_mark(centre));
        while self.others.iter().any(|other| middle(other) == at) {
            at = Point { left: at.left + self.gap, top: at.top + self.gap };
        }
        at
    }

    /// From one middle to the next beside it, in whole marks.
    fn gap_after(&self, side: Length) -> Length {
        (side + self.gap).up_to(self.gap / 2)
    }

    /// Places all over a panel, a gap apart.
    fn lattice(&self, size: (Length, Length)) -> impl Iterator<Item = Point> + Clone + use<> {
        let pitch = (size.0 / 2 + self.gap, size.1 / 2 + self.gap);
        let Extent { corner, size: room } = self.within;
        let count = |side: Length, pitch: Length| (side.mm() / pitch.mm().max(1.0)) as i64 + 1;
        let (columns, rows) = (count(room.0, pitch.0), count(room.1, pitch.1));
        (0..rows).flat_map(move |row| {
            (0..columns).map(move |column| Point {
                left: corner.left + size.0 / 2 + pitch.0 * column,
                top: corner.top + size.1 / 2 + pitch.1 * row,
            })
        })
    }

    /// Where up to so many more of a kind lie beside the first, as far as there is room on the panel.
    pub fn for_more(&self, first: &Extent, count: usize, lie: Lie, seed: u32) -> Vec<Point> {
        let (at, size) = (middle(first), first.size);
        let pitch = (self.gap_after(size.0), self.gap_after(size.1));
        let on_panel = |at: &Point| self.holds(&round(*at, size));
        let stepped = |(across, down): (i64, i64)| Point {
            left: at.left + pitch.0 * across,
            top: at.top + pitch.1 * down,
        };
        let most = 1 + count as i64;
        // To the right and down before to the left and up, the nearest first.
        let far = |step: i64| (step.abs(), step < 0);
        let steps = || {
            let mut steps: Vec<i64> = (-most..=most).collect();
            steps.sort_by_key(|step| far(*step));
            steps
        };
        match lie {
            Lie::Row => {
                let row = steps().into_iter().filter(|step| *step != 0).map(|step| stepped((step, 0)));
                row.filter(on_panel).take(count).collect()
            }
            Lie::Grid => {
                let all = steps()
                    .into_iter()
                    .flat_map(|down| steps().into_iter().map(move |across| (across, down)));
                let mut all: Vec<(i64, i64)> = all.filter(|step| *step != (0, 0)).collect();
                all.sort_by_key(|(across, down)| (across.abs().max(down.abs()), far(*down), far(*across)));
                all.into_iter().map(stepped).filter(on_panel).take(count).collect()
            }
            Lie::Scattered => {
                let mut found: Vec<Point> = Vec::new();
                let places: Vec<Point> =
                    scattered(seed, &self.within).take(TRIES * count).filter(on_panel).collect();
                // Where nothing stands, as long as there is such a place.
                let is_free = |place: &&Point| self.over(&round(**place, size)) == 0.0;
                for place in places.iter().filter(is_free).chain(&places) {
                    let own = round(*place, (size.0 + self.gap, size.1 + self.gap));
                    let is_apart = |other: Point| shared(&own, &round(other, size)) == 0.0;
                    if found.len() < count && is_apart(at) && found.iter().all(|other| is_apart(*other)) {
                        found.push(*place);
                    }
                }
                found
            }
        }
    }
}

/// Places here and there that fill a panel evenly: the additive recurrence of the plastic number (Roberts 2018).
fn scattered(seed: u32, within: &Extent) -> impl Iterator<Item = Point> + use<> {
    const STEPS: [f64; 2] = [0.754_877_666_246_692_8, 0.569_840_290_998_053_3];
    let (mark, Extent { corner, size }) = (Length::from_64ths(4), *within);
    let share = move |n: usize, axis: usize| {
        (f64::from(seed % 1009) * 0.618_033_988_749_895 + n as f64 * STEPS[axis]).fract()
    };
    (1..).map(move |n| Point {
        left: corner.left + Length::nearest(share(n, 0) * size.0.mm(), mark),
        top: corner.top + Length::nearest(share(n, 1) * size.1.mm(), mark),
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    const GAP: Length = Length::from_64ths(8);

    fn inches(wide: i64, high: i64) -> (Length, Length) {
        (Length::from_inches(wide), Length::from_inches(high))
    }

    #[test]
    fn the_first_stands_in_the_middle_and_the_next_beside_it() {
        let mut others: Vec<Extent> = Vec::new();
        let size = inches(1, 1);
        for _ in 0..6 {
            let room = Room { within: Extent::whole(inches(4, 5)), others: &others, gap: GAP };
            let at = room.for_one(size);
            let own = round(at, size);
            assert!(room.holds(&own) && room.over(&own) == 0.0, "{at:?}");
            others.insert(0, own);
        }
        assert_eq!(middle(&others[5]), Point { left: inches(2, 2).0, top: Length::from_64ths(160) });
        // Larger than what is left, it lies over least, and not just where another stands.
        let room = Room { within: Extent::whole(inches(4, 5)), others: &others, gap: GAP };
        let large = round(room.for_one(inches(3, 3)), inches(3, 3));
        assert!(room.holds(&large) && others.iter().all(|other| middle(other) != middle(&large)));
    }

    proptest! {
        #[test]
        fn several_lie_on_the_panel_and_none_over_another(
            left in 40_i64..200, top in 40_i64..260, wide in 16_i64..80, high in 16_i64..80,
            count in 1_usize..12, seed in any::<u32>(),
        ) {
            let size = (Length::from_64ths(wide), Length::from_64ths(high));
            let first = round(Point { left: Length::from_64ths(left), top: Length::from_64ths(top) }, size);
            let room = Room { within: Extent::whole(inches(4, 5)), others: &[first], gap: GAP };
            for lie in [Lie::Row, Lie::Grid, Lie::Scattered] {
                let found = room.for_more(&first, count, lie, seed);
                prop_assert!(found.len() <= count);
                let all: Vec<Extent> = found.iter().map(|at| round(*at, size)).chain([first]).collect();
                for (n, one) in all.iter().enumerate() {
                    prop_assert!(n + 1 == all.len() || room.holds(one));
                    prop_assert!(all[n + 1..].iter().all(|other| shared(one, other) == 0.0), "{lie:?}");
                }
                if lie == Lie::Row {
                    prop_assert!(found.iter().all(|at| at.top == middle(&first).top));
                }
            }
        }
    }
}
