//! Is a word read on the ground as it came?
//!
//! Once nothing more comes on the ground, each word is held against what is seen of the ground where it stands, by the contrast of light
//! that the plan itself is judged by; where that is too little it is looked for where it would be read better.

use rosy_core::Panel;
use rosy_core::judgement::greeting::{Ground, best_on, contrast_on, needed};
use rosy_core::length::Units;
use rosy_core::moves::Technique;
use rosy_core::moves::laying::Laying;

use super::flaw::{Flaw, FlawKind};
use super::seen::{Seen, White};
use super::wanted::Wanted;

/// How many times as well a word has to be read elsewhere before it is sent there.
const BETTER: f64 = 1.15;

/// The words of a panel that are hard to read.
pub fn hard_to_read(panel: &Panel, moves: usize, wanted: &Wanted, seen: &Seen) -> Vec<Flaw> {
    let on_ground = |laying: &Laying| laying.on.is_none();
    let is_to_come = panel.moves[moves..].iter().filter_map(Technique::laying).any(on_ground);
    if seen.white != White::Card || is_to_come {
        return Vec::new();
    }
    let things = panel.scene.things.iter().enumerate();
    things
        .filter(|(_, thing)| thing.shape.is_word())
        .filter_map(|(nth, _)| of_word(panel, wanted, seen, nth))
        .collect()
}

fn of_word(panel: &Panel, wanted: &Wanted, seen: &Seen, nth: usize) -> Option<Flaw> {
    let (grid, shape) = (wanted.grid, &panel.scene.things[nth].shape);
    let inside = &wanted.surface.materials.masks.things.get(nth)?.inside;
    // On its own letters the ground is not seen, and beside an edge hardly.
    let ground_at = |at: [f64; 2]| {
        let n = grid.near(at)?;
        seen.lab[n].filter(|_| wanted.is_even(n) && !inside.has(at))
    };
    let ground = Ground::beneath(panel, nth)?.as_seen(ground_at);
    let contrast = contrast_on(panel, nth, &ground)?;
    if contrast >= needed(shape) {
        return None;
    }
    let (least, most) = inside.bounds()?;
    let at = panel.scene.things[nth].at;
    let best =
        best_on(panel, nth, Units::Millimetres, &ground).filter(|best| best.contrast > BETTER * contrast);
    let by = best.map(|best| [best.at.left.mm() - at.left.mm(), best.at.top.mm() - at.top.mm()]);
    Some(Flaw { thing: Some(nth), by, ..Flaw::of(FlawKind::HardToRead, [least, most], contrast) })
}
