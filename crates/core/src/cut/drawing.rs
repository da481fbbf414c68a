//! A sheet drawn to scale: where each piece lies, and what is left over.

use super::batch::{SheetAsked, SheetCut};
use crate::drawing::{Drawing, Mark};
use crate::edges::size;
use crate::length::Units;

/// Draws sheets cut alike.
pub fn sheet(cut: &SheetCut, asked: &SheetAsked, units: Units) -> Drawing {
    let name =
        if cut.alike == 1 { cut.name.to_string() } else { format!("{}, {} alike", cut.name, cut.alike) };
    let mut drawing = Drawing::new(name, cut.width, cut.height);
    for part in &cut.parts {
        let place = part.place;
        let measure = size(place.width, place.height, units);
        match part.piece {
            Some(piece) => {
                drawing.marks.push(Mark::Card { place, holes: Vec::new(), colour: "#ffffff".into() });
                drawing.marks.push(Mark::Label(
                    place,
                    format!("{}\n{measure}", asked.pieces[piece].name.as_str().replace(": ", ":\n")),
                ));
            }
            None => {
                drawing.marks.push(Mark::Waste(place));
                if place.width >= asked.kept_from() && place.height >= asked.kept_from() {
                    drawing.marks.push(Mark::Label(place, format!("offcut\n{measure}")));
                }
            }
        }
    }
    drawing.overall(0, 0, units);
    drawing
}
