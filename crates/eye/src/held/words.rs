//! Is a word read on the ground as it came?
//!
//! Once nothing more comes on the ground, each word is held against what is seen of the ground where it stands, by the contrast of light
//! that the plan itself is judged by; where that is too little it is looked for where it would be read better.

use rosy_core::Panel;
use rosy_core::judgement::greeting::{Ground, best_on, contrast_on, needed};
use rosy_core::length::Units;
use rosy_core::moves::Technique;

use super::flaw::{Flaw, FlawKind};
use super::hold::Found;
use super::seen::White;

/// How many times as well a word has to be read elsewhere before it is sent there.
const BETTER: f64 = 1.15;

/// The words of a panel that are hard to read.
pub fn hard_to_read(panel: &Panel, found: &Found) -> Vec<Flaw> {
    let on_ground = |laying: &rosy_core::moves::laying::Laying| laying.on.is_none();
    let is_to_come = panel.moves[found.moves..].iter().filter_map(Technique::laying).any(on_ground);
    if found.seen.white != White::Card || is_to_come {
        return Vec::new();
    }
    let things = panel.scene.things.iter().enumerate();
    things
        .filter(|(_, thing)| thing.shape.is_word())
        .filter_map(|(nth, _)| of_word(panel, found, nth))
        .collect()
}

fn of_word(panel: &Panel, found: &Found, nth: usize) -> Option<Flaw> {
    let (grid, shape) = (found.wanted.grid, &panel.scene.things[nth].shape);
    let inside = &found.wanted.surface.materials.masks.things.get(nth)?.inside;
    // On its own letters the ground is not seen, and beside an edge hardly.
    let seen = |at: [f64; 2]| {
        let n = grid.near(at)?;
        found.seen.lab[n].filter(|_| found.wanted.is_even(n) && !inside.has(at))
    };
    let ground = Ground::beneath(panel, nth)?.as_seen(seen);
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

#[cfg(test)]
mod tests {
    use super::*;
    use crate::held::drawn::photo;
    use crate::held::hold::hold;
    use rosy_core::blend::{Blend, Way};
    use rosy_core::card::inking::Tape;
    use rosy_core::card::plan::Card;
    use rosy_core::colour::Colour;
    use rosy_core::edges::Edges;
    use rosy_core::ink::Ink;
    use rosy_core::length::Length;
    use rosy_core::place::Point;
    use rosy_core::scene::{Thing, Treatment};
    use rosy_core::shape::kept::Figure;
    use rosy_core::shape::{Drawn, Shape, family};

    #[test]
    fn a_word_is_hard_to_read_where_the_ground_came_nearly_as_dark_as_it_is() {
        let panel: Panel =
            serde_json::from_str(include_str!("../../../core/tests/version_1/ebb_down.json")).unwrap();
        let mut card = Card::fitting(&panel.inked(), Units::Inches);
        card.tape = Tape { border: Edges::all(Length::from_64ths(20)), ..Tape::usual(Units::Inches) };
        let drawn = Drawn { letters: "Ebb".into(), ..family::find("word").map(Drawn::usual).unwrap() };
        let mut word = Thing::new(
            Shape::new("word".parse().unwrap(), Figure::Drawn(drawn)),
            Point { left: panel.width / 2, top: panel.height * 3 / 4 },
        );
        // In the darkest of inks, on a ground that is pale.
        let night = Ink { colour: Colour::Lab([14.0, 2.0, -6.0].into()), ..panel.inks[0].clone() };
        let night = Ink { name: "Night".parse().unwrap(), ..night };
        let mut panel = Panel { card: Some(card), moves: Vec::new(), done: 0, ..panel };
        panel.inks.push(night.clone());
        let last = panel.inks.len() - 1;
        let only = [(last, &night)];
        word.gets =
            Treatment::Inked(vec![Blend::spread(&only, Way::DOWN, Length::from_inches(1), Units::Inches)]);
        let panel = panel.with_things(vec![(word, None)]).laid();
        let middle = panel.height.mm() * 0.75;
        let told = |by: f64| {
            let taken = photo(&panel, 5.0, |_, y| ((y - middle).abs() < 20.0).then_some([by; 3]), false);
            let held = hold(&taken, &panel, panel.moves.len(), None, None).unwrap();
            held.flaws.into_iter().find(|flaw| flaw.kind == FlawKind::HardToRead)
        };
        assert_eq!(told(1.0), None);
        let flaw = told(0.4).expect("it is told");
        assert_eq!(flaw.thing, Some(0));
        assert!(flaw.size < 3.0, "{flaw:?}");
    }
}
