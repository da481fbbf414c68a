//! Which brush lays what, and where is it wiped?
//!
//! A brush that carries other ink soils the next pad and the next field. Before each laying a brush is carried on with,
//! where nobody would see what is on it, or wiped as often as it takes, or put down for another. Which brush lays which
//! move is chosen so that cleaning costs least: the seconds of wiping and of changing brushes, all told, and among plans
//! that cost the same the one that leaves the least on the clean inks.
//!
//! What a brush carries comes only of its last laying, so every brush goes through the moves as a chain in which only
//! neighbours matter. To cover all moves with as many chains as there are brushes at the least cost is an assignment:
//! each move gets what its brush did before, an earlier move or lying clean on the desk, and each of those is given to one
//! move at most. It is solved exactly (Kuhn 1955, Munkres 1957). Brushes kept for some inks take those and no others, so
//! each group of brushes is solved by itself.

use std::sync::Arc;

use pathfinding::kuhn_munkres::kuhn_munkres_min;
use pathfinding::matrix::Matrix;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::ink::measured;
use crate::ink::tool::taking;
use crate::moves::{Move, Technique, take::Take, wipe::Wipe};
use crate::surface::brushes::Carried;
use crate::surface::{Materials, Surface};

/// What a move costs that cannot be: more than all the cleaning of any plan.
const NEVER: i64 = 1 << 40;
/// A second, in the unit in which costs are added up; a ΔE00 that is left counts a hundredth of it.
const SECOND: i64 = 100_000;

/// A laying, as far as brushes are concerned.
#[derive(Clone, Debug)]
struct Turn {
    ink: usize,
    /// Light passes it lays.
    passes: usize,
    /// The brushes that take the ink, by their places on the desk.
    takers: Vec<usize>,
    /// What it leaves on its brush.
    leaves: Carried,
}

/// Layings that want brushes, and the desk they start from.
#[derive(Clone, Debug)]
pub struct Turns {
    materials: Arc<Materials>,
    desk: Vec<Carried>,
    in_hand: Option<usize>,
    turns: Vec<Turn>,
}

impl Turns {
    /// Moves that lay ink, on a card as some moves have left it.
    pub fn of(mut surface: Surface, laid: &[Move]) -> Turns {
        let (materials, brushes) = (surface.materials.clone(), surface.brushes.clone());
        let turn = |m: &Move| {
            // Without the time that cleaning takes nothing is drier than it will be.
            m.make(&mut surface);
            let (ink, passes) = (m.brushed()?.ink, m.brushed()?.veils.len());
            let takers = taking(&materials.brushes, &materials.inks[ink]);
            Some(Turn { ink, passes, takers, leaves: surface.brushes.carried().clone() })
        };
        let turns = laid.iter().filter_map(turn).collect();
        Turns { materials, desk: brushes.carry, in_hand: brushes.in_hand, turns }
    }

    /// How often a brush that carries this is wiped before a turn, and how far what is left shifts the ink.
    fn cleaning(&self, carried: &Carried, turn: usize) -> (u8, f64) {
        let Turn { ink, passes, .. } = self.turns[turn];
        carried.cleaning(&self.materials, ink, passes)
    }

    /// What it costs to lay a turn with a brush that carries this.
    fn cost(&self, carried: &Carried, turn: usize, is_taken_up: bool) -> i64 {
        let (wipes, left) = self.cleaning(carried, turn);
        let change = if is_taken_up { measured::SECONDS_A_CHANGE } else { 0 };
        let seconds = u32::from(wipes) * measured::SECONDS_A_WIPE + change;
        i64::from(seconds) * SECOND + (left * SECOND as f64 / 100.0).round() as i64
    }

    /// Which brush lays each turn, so that all the cleaning costs least.
    pub fn cheapest(&self) -> Vec<usize> {
        let mut brush_of = vec![0; self.turns.len()];
        let mut groups: Vec<&[usize]> = self.turns.iter().map(|turn| turn.takers.as_slice()).collect();
        groups.sort_unstable();
        groups.dedup();
        for brushes in groups {
            let turns: Vec<usize> =
                (0..self.turns.len()).filter(|&turn| self.turns[turn].takers == brushes).collect();
            // Rows are turns; columns are what a brush may have done before: an earlier turn, or nothing yet.
            let cost = |(row, column): (usize, usize)| {
                let turn = turns[row];
                match turns.get(column) {
                    Some(&before) if before < turn => {
                        self.cost(&self.turns[before].leaves, turn, before + 1 != turn)
                    }
                    Some(_) => NEVER,
                    None => {
                        let brush = brushes[column - turns.len()];
                        let is_held = turn == 0 && self.in_hand.is_none_or(|held| held == brush);
                        self.cost(&self.desk[brush], turn, !is_held)
                    }
                }
            };
            let (_, before) =
                kuhn_munkres_min(&Matrix::from_fn(turns.len(), turns.len() + brushes.len(), cost));
            for (row, &column) in before.iter().enumerate() {
                brush_of[turns[row]] = match turns.get(column) {
                    Some(&before) => brush_of[before],
                    None => brushes[column - turns.len()],
                };
            }
        }
        brush_of
    }

    /// What a choice of brushes costs, gone through in order.
    pub fn cost_of(&self, brush_of: &[usize]) -> i64 {
        let (mut desk, mut in_hand, mut sum) = (self.desk.clone(), self.in_hand, 0);
        for (turn, &brush) in brush_of.iter().enumerate() {
            sum += self.cost(&desk[brush], turn, in_hand.is_some_and(|held| held != brush));
            desk[brush] = self.turns[turn].leaves.clone();
            in_hand = Some(brush);
        }
        sum
    }

    /// The brushes that may lay each turn.
    pub fn choices(&self) -> impl Iterator<Item = &[usize]> {
        self.turns.iter().map(|turn| turn.takers.as_slice())
    }
}

/// Moves that lay ink, on a card as some moves have left it, with the brush for each taken up and wiped where it has to be.
pub fn with_brushes(surface: Surface, laid: Vec<Move>) -> Vec<Move> {
    let turns = Turns::of(surface, &laid);
    let (mut desk, mut in_hand) = (turns.desk.clone(), turns.in_hand);
    let mut moves = Vec::with_capacity(laid.len());
    let mut brush_of = turns.cheapest().into_iter().enumerate();
    for m in laid {
        if m.brushed().is_some()
            && let Some((turn, brush)) = brush_of.next()
        {
            if desk.len() > 1 && in_hand != Some(brush) {
                moves.push(Take { brush }.into());
            }
            let (times, _) = turns.cleaning(&desk[brush], turn);
            if times > 0 {
                moves.push(Wipe { before: Some(turns.turns[turn].ink), times }.into());
            }
            desk[brush] = turns.turns[turn].leaves.clone();
            in_hand = Some(brush);
        }
        moves.push(m);
    }
    moves
}

/// How far a single brush that nobody wiped would shift the clean ink worst: by how much in ΔE00, which ink, and what is in
/// it. Nothing where it would not be seen.
pub fn unwiped(materials: &Arc<Materials>, moves: &[Move]) -> Option<Dirt> {
    let mut surface = Surface::bare(materials.clone());
    let mut worst: Option<Dirt> = None;
    for m in moves {
        if let Some((ink, passes)) = m.brushed().map(|laying| (laying.ink, laying.veils.len())) {
            let carried = surface.brushes.carried();
            let shift = carried.shift(materials, ink, passes);
            if shift > worst.map_or(measured::UNSEEN, |worst| worst.shift)
                && let Some(by) = carried.worst_for(materials, ink)
            {
                worst = Some(Dirt { ink, by, shift });
            }
            m.make(&mut surface);
        }
    }
    worst
}

/// A clean ink soiled by another.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Dirt {
    /// The ink, by its place in the panel's list.
    pub ink: usize,
    /// What is in it.
    pub by: usize,
    /// How far what is laid of it then is shifted, in ΔE00.
    pub shift: f64,
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::colour::Colour;
    use crate::ink::{Ink, KeptFor, Kind, Tool, ToolKind};
    use crate::length::{Length, Units};
    use crate::panel::{Panel, sample};
    use crate::scene::School;
    use proptest::prelude::*;

    fn ink(lab: [f64; 3], kind: Kind) -> Ink {
        let name = format!("Ink {lab:.0?}").parse().unwrap();
        Ink { name, kind, colour: Colour::Lab(lab.into()), one_veil: None, full_veils: 7, on_ink: None }
    }

    fn tools(kept: &[&str]) -> Vec<Tool> {
        let tool = |kept: &&str| Tool {
            name: kept.parse().unwrap(),
            kind: ToolKind::Brush,
            kept_for: kept.parse().unwrap(),
            count: 1,
        };
        kept.iter().map(tool).collect()
    }

    fn panel(inks: Vec<Ink>, brushes: &[&str]) -> Panel {
        let mut tools = tools(brushes);
        let tool = tools.remove(0);
        Panel { tool, brushes: tools, ..sample() }.with_inks(inks, Units::Inches)
    }

    /// Every way to share turns out among the brushes that take them.
    fn least_of_all(turns: &Turns) -> i64 {
        let choices: Vec<&[usize]> = turns.choices().collect();
        let mut nth = vec![0; choices.len()];
        let mut least = i64::MAX;
        loop {
            let brush_of: Vec<usize> = nth.iter().zip(&choices).map(|(n, of)| of[*n]).collect();
            least = least.min(turns.cost_of(&brush_of));
            let Some(at) = (0..nth.len()).find(|&at| nth[at] + 1 < choices[at].len()) else { return least };
            nth[at] += 1;
            nth[..at].fill(0);
        }
    }

    fn some_ink() -> impl Strategy<Value = Ink> {
        let lab = (25.0..90.0, 5.0..60.0, 0.0..std::f64::consts::TAU);
        (lab, 0_usize..8).prop_map(|((l, c, h), kind)| {
            let kind = [Kind::Dye, Kind::Oxide, Kind::Pigment].get(kind / 3).copied().unwrap_or_default();
            ink([l, c * f64::cos(h), c * f64::sin(h)], kind)
        })
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(48))]
        #[test]
        fn no_other_share_of_brushes_is_cleaned_for_less(
            inks in proptest::collection::vec(some_ink(), 2..5),
            kept in proptest::collection::vec(
                prop_oneof![Just("anything"), Just("anything"), Just("white only"), Just("pinks"), Just("blues")],
                1..5,
            ),
            seconds in 0_usize..3,
            made in 0_usize..6,
        ) {
            let panel = panel(inks, &kept);
            let school = School::ALL[seconds];
            let moves = crate::order::lay(&panel.scene, &panel.materials(), school);
            let made = moves.iter().position(|m| m.laying().is_some()).map_or(0, |first| first + made);
            let surface = crate::moves::surface_after(panel.materials(), &moves[..made.min(moves.len())]);
            let rest: Vec<Move> = moves[made.min(moves.len())..]
                .iter()
                .filter(|m| m.laying().is_some())
                .take(if kept.len() == 4 { 8 } else { 10 })
                .cloned()
                .collect();
            let turns = Turns::of(surface, &rest);
            prop_assert_eq!(turns.cost_of(&turns.cheapest()), least_of_all(&turns));
        }
    }

    #[test]
    fn one_brush_is_wiped_one_for_each_ink_is_not() {
        let inks = || {
            vec![
                ink([85.0, 8.0, 70.0], Kind::Dye),
                ink([55.0, 58.0, -6.0], Kind::Dye),
                ink([30.0, 10.0, -45.0], Kind::Dye),
            ]
        };
        let cost = |brushes: &[&str]| {
            let panel = panel(inks(), brushes);
            crate::order::Cost::of(&panel.moves, &panel.materials())
        };
        let one = cost(&["anything"]);
        assert!(one.wipes > 0 && one.brush_changes == 0, "{one:?}");
        let each = cost(&["anything"; 3]);
        assert!(each.wipes < one.wipes && each.brush_changes > 0, "{each:?}");
        assert!(each.minutes <= one.minutes, "{each:?} {one:?}");
        assert_eq!((one.veils, one.changes), (each.veils, each.changes), "the same is laid");
        let dirt = one.unwiped.unwrap();
        assert!(dirt.shift > measured::UNSEEN && dirt.by != dirt.ink, "{dirt:?}");
    }

    #[test]
    fn neon_that_covers_does_not_come_on_the_brush_kept_for_white() {
        let white = ink([96.0, 0.0, 0.0], Kind::Pigment);
        let neon = ink([78.0, 60.0, 60.0], Kind::Pigment);
        assert!(KeptFor::White.is_meant_for(&white) && !KeptFor::White.is_meant_for(&neon));
        assert!(KeptFor::Family(neon.family()).is_meant_for(&neon));
        // White dye is card, and a grey that covers is none.
        assert!(
            ![ink([96.0, 0.0, 0.0], Kind::Dye), ink([60.0, 0.0, 0.0], Kind::Pigment)]
                .iter()
                .any(Ink::is_white)
        );
    }

    #[test]
    fn white_is_laid_with_its_own_brush_and_nothing_else_is() {
        let inks = vec![ink([60.0, 50.0, 0.0], Kind::Dye), ink([96.0, 0.0, 0.0], Kind::Pigment)];
        let panel = panel(inks, &["anything", "anything", "white only"]);
        let mut surface = Surface::bare(panel.materials());
        for m in &panel.moves {
            m.make(&mut surface);
            if let Some(laying) = m.laying() {
                let white = panel.inks[laying.ink].kind == Kind::Pigment;
                let brush = &surface.materials.brushes[surface.brushes.in_hand.unwrap()];
                assert_eq!(brush.kept_for == KeptFor::White, white, "{m:?}");
                let words = m.words(&surface, Units::Inches).how;
                assert_eq!(
                    words.contains("never from the pad"),
                    white && matches!(m, Move::Lay(_)),
                    "{words}"
                );
            }
        }
    }

    #[test]
    fn a_brush_that_went_through_a_damp_dark_ink_carries_some_of_it() {
        let panel = sample();
        let mut surface = Surface::bare(panel.materials());
        let way = crate::blend::Way::DOWN;
        let all = [crate::blend::Reach { from: Length::ZERO, to: panel.height }; 3];
        surface.lay(1, None, way, &all);
        surface.brushes = crate::surface::Brushes::clean(1);
        let mut dry = surface.clone();
        surface.lay(0, None, way, &all[..1]);
        dry.dry();
        dry.lay(0, None, way, &all[..1]);
        let dark = |surface: &Surface| {
            surface.brushes.carried().0.iter().find(|(ink, _)| *ink == 1).map(|(_, n)| *n)
        };
        let crossed = dark(&surface).unwrap();
        assert!((crossed - 3.0 * measured::taken_up(Kind::Dye)).abs() < 1e-9, "{crossed}");
        assert_eq!(dark(&dry), None, "nothing comes off a dry film");
    }
}
