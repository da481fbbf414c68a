//! A strip to practise on, to print on scrap card or to trace: where it is cut, where its tape lies, its zones and its shape.

use rosy_core::Panel;
use rosy_core::blend::{Way, field::zones};

use super::art::{Art, Box4, Layer, Outline, Pen, Ready};

const EDGE: Pen = Pen { colour: "#6d5b6b", wide: 0.07, dashed: false };
/// Lines that ink covers: hardly seen.
const FAINT: Pen = Pen { colour: "#b8b0b6", wide: 0.05, dashed: true };
/// Height of the letters, in millimetres, and how far a tick reaches past the strip's edge.
const LETTERS: f64 = 2.6;
const TICK: f64 = 2.5;

/// The lines of a strip.
pub fn strip(panel: &Panel) -> Ready {
    let (wide, high) = (panel.width.mm(), panel.height.mm());
    let inside = panel.inside();
    let (left, top) = (inside.corner.left.mm(), inside.corner.top.mm());
    let area = |outline: Outline, pen: Pen| Art::Area {
        outlines: vec![outline],
        fill: None,
        opacity: 1.0,
        pen: Some(pen),
    };
    let tape = Box4(left, top, inside.size.0.mm(), inside.size.1.mm());
    let mut art = vec![
        (Layer::Cut, area(Outline::Box(Box4(0.0, 0.0, wide, high)), EDGE)),
        (Layer::Tape, area(Outline::Box(tape), FAINT)),
    ];
    if let Some(blend) = panel.scene.ground.first().filter(|blend| matches!(blend.way, Way::Band { .. })) {
        // Beside the strip, so that nothing of it lies under the ink.
        for at in zones(panel.span(0), blend.zone).into_iter().map(rosy_core::Length::mm) {
            for (from, to) in [(-TICK, -0.5), (high + 0.5, high + TICK)] {
                art.push((Layer::Measures, Art::Line { from: (at, from), to: (at, to), pen: EDGE }));
            }
        }
    }
    for region in panel.materials().masks.things.iter().map(|thing| &thing.inside) {
        art.extend(
            region.contours().map(|contour| (Layer::Edges, area(Outline::Run(contour.clone()), FAINT))),
        );
    }
    let says =
        "Print at full size. The outer line is the strip, the dashed one its tape; the ticks are the zones.";
    art.push((
        Layer::Words,
        Art::Text { at: (wide / 2.0, high + 4.0 * TICK), high: LETTERS, turned: false, text: says.into() },
    ));
    Ready { art, extent: Box4(-TICK, -TICK, wide + 2.0 * TICK, high + 7.0 * TICK), letters: LETTERS }
}
