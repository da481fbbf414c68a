//! What holds the islands of a stencil?
//!
//! An island is tied by bridges to what is held already, where the opening between is narrowest: that is where they show
//! least. A large one gets a second on its other side, so that it cannot turn.

use super::region::{Region, distance};
use super::sides::Sides;

/// Millimetres between the places that are tried along an island's edge.
const TRIED: f64 = 0.5;
/// Most places tried on one island.
const MOST_TRIED: f64 = 400.0;
/// Millimetres of edge from which an island gets two bridges (chosen: about a thumbnail round).
const LARGE: f64 = 40.0;

/// A strip of sheet left standing across an opening.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Bridge {
    /// On the island.
    pub from: [f64; 2],
    /// On what holds it.
    pub to: [f64; 2],
    /// How wide, in millimetres.
    pub wide: f64,
}

impl Bridge {
    /// The strip, reaching a little into both sides.
    pub fn region(&self) -> Region {
        let long = distance(self.from, self.to).max(1e-6);
        let along = [(self.to[0] - self.from[0]) / long, (self.to[1] - self.from[1]) / long];
        let (reach, half) = (0.5 * self.wide, 0.5 * self.wide);
        let corner = |at: [f64; 2], forth: f64, side: f64| {
            [at[0] + forth * along[0] - side * along[1], at[1] + forth * along[1] + side * along[0]]
        };
        let corners = vec![
            corner(self.from, -reach, -half),
            corner(self.to, reach, -half),
            corner(self.to, reach, half),
            corner(self.from, -reach, half),
        ];
        Region::of(&[corners], false)
    }
}

/// Islands of a sheet, and the bridges that hold them.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Bridges {
    /// The islands, the largest first.
    pub islands: Vec<Region>,
    /// The bridges, island by island.
    pub bridges: Vec<Bridge>,
}

/// What holds, which is the sheet itself, and the parts that hang on nothing, the largest first.
pub fn parted(held: &Region) -> Option<(Region, Vec<Region>)> {
    let mut parts: Vec<(f64, Region)> = held.parts().map(|part| (part.filled().area(), part)).collect();
    // The part that goes round most is the sheet.
    parts.sort_by(|(a, _), (b, _)| b.total_cmp(a));
    let mut parts = parts.into_iter().map(|(_, part)| part);
    Some((parts.next()?, parts.collect()))
}

/// The parts of what should hold together that hang on nothing, and bridges of a width that tie each to the rest.
pub fn bridged(held: &Region, wide: f64) -> Bridges {
    let Some((sheet, islands)) = parted(held) else { return Bridges::default() };
    let sheet = Sides::of(&sheet);
    let mut waiting: Vec<Island> = islands.iter().map(|region| Island::off(region.clone(), &sheet)).collect();
    let mut found = Bridges { islands, bridges: Vec::new() };
    // The nearest to what is held comes next: an island within another's reach hangs on that one.
    while let Some(next) =
        (0..waiting.len()).min_by(|&a, &b| waiting[a].shortest.total_cmp(&waiting[b].shortest))
    {
        let island = waiting.remove(next);
        let ways: Vec<Bridge> =
            island.ways.iter().map(|(from, to)| Bridge { from: *from, to: *to, wide }).collect();
        found.bridges.extend(chosen(&ways, &island.region));
        let tied = Sides::of(&island.region);
        let (least, most) = island.region.bounds().unwrap_or_default();
        for other in &mut waiting {
            other.reach(&tied, least, most);
        }
    }
    found
}

/// A part that hangs on nothing yet.
struct Island {
    region: Region,
    /// From places along its edge, the nearest place of what holds.
    ways: Vec<([f64; 2], [f64; 2])>,
    shortest: f64,
    longest: f64,
    bounds: ([f64; 2], [f64; 2]),
}

impl Island {
    /// With the ways to the sheet.
    fn off(region: Region, sheet: &Sides) -> Island {
        let way = |from: [f64; 2]| Some((from, sheet.nearest(from)?));
        let ways = places(&region).into_iter().filter_map(way).collect();
        let bounds = region.bounds().unwrap_or_default();
        let mut island = Island { region, ways, shortest: 0.0, longest: 0.0, bounds };
        island.measure();
        island
    }

    fn measure(&mut self) {
        let long = |(from, to): &([f64; 2], [f64; 2])| distance(*from, *to);
        self.shortest = self.ways.iter().map(long).fold(f64::INFINITY, f64::min);
        self.longest = self.ways.iter().map(long).fold(0.0, f64::max);
    }

    /// Takes the ways to another that holds now, where they are shorter.
    fn reach(&mut self, tied: &Sides, least: [f64; 2], most: [f64; 2]) {
        let (own_least, own_most) = self.bounds;
        let apart = [0, 1].map(|axis| (least[axis] - own_most[axis]).max(own_least[axis] - most[axis]));
        if apart.into_iter().fold(0.0, f64::max) >= self.longest {
            return;
        }
        let mut is_shorter = false;
        for (from, to) in &mut self.ways {
            let nearest = [0, 1].map(|axis| from[axis].clamp(least[axis], most[axis]));
            let far = distance(*from, *to);
            if distance(*from, nearest) < far
                && let Some(other) = tied.nearest(*from).filter(|other| distance(*from, *other) < far)
            {
                (*to, is_shorter) = (other, true);
            }
        }
        if is_shorter {
            self.measure();
        }
    }
}

impl Bridge {
    fn long(&self) -> f64 {
        distance(self.from, self.to)
    }
}

/// Places along an island's edge.
fn places(island: &Region) -> Vec<[f64; 2]> {
    let step = TRIED.max(island.edge() / MOST_TRIED);
    let places = island.sides().flat_map(|(from, to)| {
        let count = (distance(from, to) / step).ceil().max(1.0) as usize;
        (0..count).map(move |n| {
            let share = (n as f64 + 0.5) / count as f64;
            [from[0] + share * (to[0] - from[0]), from[1] + share * (to[1] - from[1])]
        })
    });
    // Every so many places of an edge of very many short sides are enough.
    let places: Vec<[f64; 2]> = places.collect();
    let each = (places.len() as f64 / MOST_TRIED).ceil().max(1.0) as usize;
    places.into_iter().step_by(each).collect()
}

/// The shortest way; for a large island also the shortest of those that leave it on its other side. Of ways about as short,
/// the one that leaves straight from the middle.
fn chosen(ways: &[Bridge], island: &Region) -> Vec<Bridge> {
    let (least, most) = island.bounds().unwrap_or_default();
    let middle = [0.5 * (least[0] + most[0]), 0.5 * (least[1] + most[1])];
    let heading = |from: [f64; 2], to: [f64; 2]| {
        let long = distance(from, to).max(1e-9);
        [(to[0] - from[0]) / long, (to[1] - from[1]) / long]
    };
    let alike = |[x, y]: [f64; 2], [u, v]: [f64; 2]| x * u + y * v;
    let towards = |bridge: &Bridge| heading(middle, bridge.from);
    let askew = |bridge: &Bridge| 1.0 - alike(towards(bridge), heading(bridge.from, bridge.to));
    let cost = |bridge: &&Bridge| bridge.long() * (1.0 + 0.3 * askew(bridge));
    let best = |of: &dyn Fn(&Bridge) -> bool| {
        ways.iter().filter(|bridge| of(bridge)).min_by(|a, b| cost(a).total_cmp(&cost(b))).copied()
    };
    let Some(first) = best(&|_| true) else { return Vec::new() };
    if island.edge() < LARGE {
        return vec![first];
    }
    // Within 45° of straight across from the first, or at least on the other side.
    let across = |most: f64| best(&|bridge| alike(towards(&first), towards(bridge)) < most);
    std::iter::once(first).chain(across(-0.7).or_else(|| across(-0.1))).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    proptest! {
        #[test]
        fn whatever_falls_out_is_held_after(
            windows in proptest::collection::vec((0.0..70.0_f64, 0.0..50.0_f64, 8.0..30.0_f64, 0.2..0.8_f64), 1..5),
        ) {
            let sheet = Region::rect(0.0, 0.0, 110.0, 90.0);
            let mut held = sheet;
            for (left, top, side, share) in windows {
                let inner = share * side;
                let ring = Region::rect(5.0 + left, 5.0 + top, side, side)
                    .minus(&Region::rect(5.0 + left + 0.4 * (side - inner), 5.0 + top + 0.5 * (side - inner), inner, inner));
                held = held.minus(&ring);
            }
            let found = bridged(&held, 2.0);
            prop_assert_eq!(found.islands.len() + 1, held.count());
            let tied = found.bridges.iter().fold(held, |held, bridge| held.united(&bridge.region()));
            prop_assert_eq!(tied.count(), 1);
        }
    }

    #[test]
    fn a_bridge_is_laid_where_the_opening_is_narrowest_and_a_second_across_from_it() {
        let sheet = Region::rect(0.0, 0.0, 100.0, 100.0);
        // The island stands nearer to the left side of its opening.
        let held =
            sheet.minus(&Region::rect(20.0, 20.0, 60.0, 60.0)).united(&Region::rect(24.0, 35.0, 30.0, 30.0));
        let found = bridged(&held, 2.0);
        assert_eq!(found.bridges.len(), 2);
        assert!((found.bridges[0].long() - 4.0).abs() < 0.01, "{:?}", found.bridges[0]);
        assert!(found.bridges[1].from[0] > 40.0, "{:?}", found.bridges[1]);
    }
}
