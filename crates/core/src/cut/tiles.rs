//! How do the pieces of a shape lie on the sheets they are cut from?
//!
//! Cut on the line, one cut gives frame and plug together: they share a tile. A plug let in by a hair or out by a halo is
//! cut from a tile of its own. Tiles are laid on sheets as any pieces of card are, the fewest sheets first, and every sheet
//! gets corners by which it is laid straight on a cutting mat or found again by a machine.

use super::{CutError, Piece as Tile, Sheet, SheetAsked};
use crate::drawing::{Drawing, Line, Mark};
use crate::edges::Place;
use crate::ink::Name;
use crate::length::{Length, Units};
use crate::place::Point;

use crate::shape::eye::{CORNERS, FRAME, Use};
use crate::shape::kept::{KeptError, Shape};
use crate::shape::piece::Cut;
use crate::shape::piece::SheetSize;
use crate::shape::region::{Contour, Region};

/// Millimetres of sheet left round a plug, so that two never touch.
const GAP: f64 = 3.175;
/// How long the arms of a corner are, in millimetres.
const ARM: f64 = 5.0;

/// Why pieces cannot be laid on sheets, and what to do.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum LaidError {
    /// The shape itself.
    #[error(transparent)]
    Shape(#[from] KeptError),
    /// It is larger than the sheet.
    #[error(
        "“{0}” with its frame is {1} × {2}, and the sheet has room for {3} × {4}: make it smaller or take a larger sheet"
    )]
    Large(Name, Length, Length, Length, Length),
    /// Too many.
    #[error(transparent)]
    Sheet(CutError),
}

/// One sheet, with all that is cut from it.
#[derive(Clone, Debug, PartialEq)]
pub struct Laid {
    /// The sheet.
    pub sheet: SheetSize,
    /// What the blade follows, in millimetres from its left and top edges.
    pub cuts: Vec<Contour>,
    /// What each piece is called, and where.
    pub names: Vec<(String, Place)>,
}

/// A tile: what is cut in it, from its own left and top edges.
struct Cuts {
    name: String,
    width: Length,
    height: Length,
    cuts: Vec<Contour>,
}

impl Cuts {
    /// Round some contours, with so much of the sheet left about them.
    fn round(name: String, region: &Region, room: f64) -> Option<Cuts> {
        let (least, most) = region.bounds()?;
        // Up to the next mark, so that tiles have lengths.
        let mark = Length::from_64ths(2);
        let up = |mm: f64| {
            let near = Length::nearest(mm, mark);
            if near.mm() < mm { near + mark } else { near }
        };
        let (width, height) = (up(most[0] - least[0] + 2.0 * room), up(most[1] - least[1] + 2.0 * room));
        let to = |[x, y]: [f64; 2]| [x - least[0] + room, y - least[1] + room];
        let cuts =
            region.contours().map(|contour| contour.iter().map(|point| to(*point)).collect()).collect();
        Some(Cuts { name, width, height, cuts })
    }
}

/// The tiles of a shape.
fn tiles(shape: &Shape) -> Result<Vec<Cuts>, LaidError> {
    let inside = shape.outline()?.region();
    let name = &shape.name;
    let mut tiles = Vec::new();
    let frame = |name: String, region: &Region| {
        let mut tile = Cuts::round(name, region, FRAME)?;
        let (wide, high) = (tile.width.mm(), tile.height.mm());
        tile.cuts.push(vec![[0.0, 0.0], [wide, 0.0], [wide, high], [0.0, high]]);
        Some(tile)
    };
    match (shape.used, shape.cut) {
        (Use::Tape | Use::Raised, _) => {}
        // It is stamped: only what covers it is cut.
        (Use::Stamp, _) => tiles.extend(Cuts::round(format!("{name}: plug"), &inside, GAP)),
        (Use::Stencil, _) => tiles.extend(frame(name.to_string(), &inside)),
        (Use::Slide, _) => tiles.extend(slide(name.to_string(), &inside)),
        (Use::Mask, Cut::OnTheLine) => tiles.extend(frame(format!("{name}: frame and plug"), &inside)),
        (Use::Mask, cut) => {
            tiles.extend(frame(format!("{name}: frame"), &inside.filled()));
            // Plugs and counters stay as they stand to one another, so that they are laid down in register.
            tiles.extend(Cuts::round(format!("{name}: plug"), &inside.grown(cut.outside()), GAP));
        }
    }
    Ok(tiles)
}

/// Steps in which a line is swept down, each less than what it encloses is thick.
const SWEPT: usize = 24;

/// A strip with the shape's upper edge along its top and again along its foot, as high as the shape.
fn slide(name: String, shape: &Region) -> Option<Cuts> {
    let (least, most) = shape.bounds()?;
    let high = most[1] - least[1];
    let down = |by: f64| shape.moved(move |[x, y]| [x, y + by]);
    let swept = Region::all((0..=SWEPT).map(|n| down(high * n as f64 / SWEPT as f64)));
    Cuts::round(name, &swept.minus(&down(high)), GAP)
}

/// Lays all pieces of some shapes on sheets of one size.
///
/// # Errors
/// A [`LaidError`] naming the shape.
pub fn laid(shapes: &[Shape], sheet: SheetSize) -> Result<Vec<Laid>, LaidError> {
    let mark = Length::nearest(CORNERS, Length::from_64ths(1));
    let room = SheetSize { width: sheet.width - mark * 2, height: sheet.height - mark * 2 };
    let mut all = Vec::new();
    for shape in shapes {
        for tile in tiles(shape)? {
            let fits = |wide: Length, high: Length| wide <= room.width && high <= room.height;
            if !fits(tile.width, tile.height) && !fits(tile.height, tile.width) {
                let (name, width, height) = (shape.name.clone(), tile.width, tile.height);
                return Err(LaidError::Large(name, width, height, room.width, room.height));
            }
            all.push(tile);
        }
    }
    let name: Name = "Sheet".parse().expect("a name");
    let tile = |tile: &Cuts| Tile {
        name: name.clone(),
        width: tile.width,
        height: tile.height,
        grain: None,
        count: 1,
        paper: None,
    };
    let plenty = Sheet {
        name: name.clone(),
        width: room.width,
        height: room.height,
        grain: None,
        count: None,
        paper: None,
        offcut: false,
    };
    let asked = SheetAsked {
        units: Units::default(),
        pieces: all.iter().map(tile).collect(),
        sheets: vec![plenty],
        keep: None,
    };
    let plan = asked.answer().map_err(LaidError::Sheet)?;
    let laid = plan.sheets.iter().flat_map(|cut| {
        let mut on_it = Laid { sheet, cuts: Vec::new(), names: Vec::new() };
        for lying in &cut.parts {
            if let Some(tile) = lying.piece.and_then(|nth| all.get(nth)) {
                on_it.take(tile, lying.place, mark);
            }
        }
        std::iter::repeat_n(on_it, cut.alike as usize)
    });
    Ok(laid.collect())
}

impl Laid {
    /// Puts a tile where it lies; turned by a right angle where it fits no other way.
    fn take(&mut self, tile: &Cuts, place: Place, mark: Length) {
        let place = Place { left: place.left + mark, top: place.top + mark, ..place };
        let (left, top) = (place.left.mm(), place.top.mm());
        let is_turned = tile.width != place.width;
        let high = tile.height.mm();
        let to = |[x, y]: [f64; 2]| if is_turned { [left + high - y, top + x] } else { [left + x, top + y] };
        self.cuts.extend(
            tile.cuts.iter().map(|contour| contour.iter().map(|point| to(*point)).collect::<Contour>()),
        );
        self.names.push((tile.name.clone(), place));
    }

    /// Square millimetres of sheet that are cut up.
    pub fn used(&self) -> f64 {
        self.names.iter().map(|(_, place)| place.width.mm() * place.height.mm()).sum()
    }

    /// The sheet drawn to scale: the cuts, what each piece is, and the corners.
    pub fn drawing(&self, name: impl Into<String>, units: Units) -> Drawing {
        let mut drawing = Drawing::new(name, self.sheet.width, self.sheet.height);
        let whole = drawing.whole();
        drawing.is_piece = false;
        drawing.marks.push(Mark::Card { place: whole, holes: Vec::new(), colour: "#fbfaf6".into() });
        drawing.marks.push(Mark::Contours(Line::Cut, self.cuts.clone()));
        drawing.marks.extend(self.names.iter().map(|(name, place)| Mark::Label(*place, name.clone())));
        drawing.marks.extend(self.corners().into_iter().map(|[from, to]| Mark::Line(Line::Seam, from, to)));
        drawing.overall(0, 0, units);
        drawing
    }

    /// Arms of the corners at three of the sheet's four, so that it is plain which way up it lies.
    fn corners(&self) -> Vec<[Point; 2]> {
        let (in_by, arm) = (Length::from_64ths(8), Length::nearest(ARM, Length::from_64ths(1)));
        let (right, bottom) = (self.sheet.width - in_by, self.sheet.height - in_by);
        let point = |left: Length, top: Length| Point { left, top };
        [(in_by, in_by, 1, 1), (right, in_by, -1, 1), (in_by, bottom, 1, -1)]
            .into_iter()
            .flat_map(|(left, top, across, down)| {
                let corner = point(left, top);
                [[corner, point(left + arm * across, top)], [corner, point(left, top + arm * down)]]
            })
            .collect()
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::shape::family::{Drawn, FAMILIES};
    use crate::shape::kept::Figure;
    use crate::shape::piece::SheetSize;

    fn shapes(cut: Cut) -> Vec<Shape> {
        // Those that leave room for a frame on a letter sheet.
        FAMILIES
            .iter()
            .map(|family| Shape::new(family.key.parse().unwrap(), Figure::Drawn(Drawn::usual(family))))
            .map(|shape| Shape { cut, ..shape })
            .collect()
    }

    #[test]
    fn every_piece_lies_on_a_sheet_and_none_on_another() {
        for cut in [Cut::OnTheLine, Cut::Halo(Length::from_64ths(4))] {
            let sheet = SheetSize::LETTER;
            let laid = laid(&shapes(cut), sheet).unwrap();
            let room = Region::rect(0.0, 0.0, sheet.width.mm(), sheet.height.mm()).grown(-6.0);
            for on_it in &laid {
                for contour in &on_it.cuts {
                    let region = Region::of(std::slice::from_ref(contour), false);
                    assert!(region.minus(&room).area() < 1e-3);
                }
                for (nth, (name, one)) in on_it.names.iter().enumerate() {
                    for (other_name, other) in &on_it.names[nth + 1..] {
                        let beside = one.left + one.width <= other.left
                            || other.left + other.width <= one.left
                            || one.top + one.height <= other.top
                            || other.top + other.height <= one.top;
                        assert!(beside, "{name} and {other_name}");
                    }
                }
            }
            let pieces: usize = laid.iter().map(|on_it| on_it.names.len()).sum();
            assert!(pieces >= FAMILIES.len(), "{pieces}");
            // The fewest sheets are filled well, but for the last.
            let area = sheet.width.mm() * sheet.height.mm();
            let used: f64 = laid.iter().map(Laid::used).sum();
            assert!(used / (area * laid.len() as f64) > 0.5, "{used} on {}", laid.len());
        }
    }

    #[test]
    fn the_cuts_of_a_shape_are_as_long_as_its_edge_and_its_frame() {
        let disc = shapes(Cut::OnTheLine).swap_remove(0);
        let laid = laid(std::slice::from_ref(&disc), SheetSize::LETTER).unwrap();
        assert_eq!((laid.len(), laid[0].cuts.len(), laid[0].names.len()), (1, 2, 1));
        let area = |contour: &Contour| Region::of(std::slice::from_ref(contour), false).area();
        assert!((area(&laid[0].cuts[0]) / disc.outline().unwrap().region().area() - 1.0).abs() < 1e-6);
    }

    #[test]
    fn what_is_too_large_is_named() {
        let large = Shape { percent: 600, ..shapes(Cut::OnTheLine).swap_remove(0) };
        let error = laid(&[large], SheetSize::LETTER).unwrap_err().to_string();
        assert!(error.contains("circle") && error.contains("smaller"), "{error}");
    }
}
