//! Which outline have words, on one line or several? From the letters that ship with the program.

use std::sync::LazyLock;

use kurbo::{Affine, BezPath};
use ttf_parser::{Face, OutlineBuilder};

use super::measure::Given;

/// The letters: an open font, as it is laid beside its licence.
static FONT: &[u8] = include_bytes!("letters.ttf");

static FACE: LazyLock<Face<'static>> =
    LazyLock::new(|| Face::parse(FONT, 0).expect("the font that ships with the program can be read"));

/// What parts two lines where they are written on one.
pub const LINES: &str = " / ";
/// From the foot of one line to the foot of the next, in heights of a capital (chosen: no tail touches the line below).
const PITCH: f64 = 1.7;

/// Whether there is such a letter.
pub fn has(letter: char) -> bool {
    letter == ' ' || FACE.glyph_index(letter).is_some()
}

/// A letter's curves, in the font's units, from its place on the line.
struct Pen {
    path: BezPath,
    at: f64,
}

impl Pen {
    fn point(&self, x: f32, y: f32) -> (f64, f64) {
        (self.at + f64::from(x), -f64::from(y))
    }
}

impl OutlineBuilder for Pen {
    fn move_to(&mut self, x: f32, y: f32) {
        self.path.move_to(self.point(x, y));
    }
    fn line_to(&mut self, x: f32, y: f32) {
        self.path.line_to(self.point(x, y));
    }
    fn quad_to(&mut self, x1: f32, y1: f32, x: f32, y: f32) {
        self.path.quad_to(self.point(x1, y1), self.point(x, y));
    }
    fn curve_to(&mut self, x1: f32, y1: f32, x2: f32, y2: f32, x: f32, y: f32) {
        self.path.curve_to(self.point(x1, y1), self.point(x2, y2), self.point(x, y));
    }
    fn close(&mut self) {
        self.path.close_path();
    }
}

/// Words, their capitals as high as they are to be; each line stands in the middle below the one before.
pub(super) fn word(given: &Given) -> BezPath {
    let face = &*FACE;
    let capital = f64::from(face.capital_height().unwrap_or_else(|| face.ascender()));
    let (mut all, mut first) = (BezPath::new(), None);
    for (line, down) in given.letters.split(LINES).zip(0_u32..) {
        let mut pen = Pen { path: BezPath::new(), at: 0.0 };
        for letter in line.trim().chars() {
            let Some(glyph) = face.glyph_index(letter) else { continue };
            face.outline_glyph(glyph, &mut pen);
            pen.at += f64::from(face.glyph_hor_advance(glyph).unwrap_or(0));
        }
        let aside = 0.5 * (*first.get_or_insert(pen.at) - pen.at);
        all.extend(Affine::translate((aside, f64::from(down) * PITCH * capital)) * pen.path);
    }
    Affine::scale(given.mm("high") / capital) * all
}

#[cfg(test)]
mod tests {
    use crate::length::Length;
    use crate::shape::family::{Drawn, Value};

    fn word(letters: &str, sixty_fourths: i64) -> crate::shape::Region {
        let high = Value::Length(Length::from_64ths(sixty_fourths));
        let measures = [("high".to_owned(), high)].into();
        Drawn { family: "word".into(), measures, letters: letters.into() }.outline().unwrap().region()
    }

    #[test]
    fn capitals_are_as_high_as_they_are_to_be() {
        let (least, most) = word("H", 64).bounds().unwrap();
        assert!((most[1] - least[1] - 25.4).abs() < 0.1, "{}", most[1] - least[1]);
        let twice = word("H", 128);
        assert!((twice.area() / word("H", 64).area() - 4.0).abs() < 0.02);
    }

    #[test]
    fn lines_stand_one_below_the_other_each_in_the_middle() {
        let (one, two) = (word("gale ebb", 64), word("gale / ebb", 64));
        let wide = |region: &crate::shape::Region| {
            let (least, most) = region.bounds().unwrap();
            (most[0] - least[0], most[1] - least[1])
        };
        assert!(wide(&two).0 < 0.7 * wide(&one).0 && wide(&two).1 > 1.9 * 25.4 * 0.8);
        // Nothing is lost, and neither line touches the other.
        let apart = word("gale", 64).area() + word("ebb", 64).area();
        assert!((two.area() - apart).abs() < 0.01 * apart);
        assert_eq!(word(" ebb / ebb ", 64).parts().count(), 2 * word("ebb", 64).parts().count());
    }

    #[test]
    fn letters_have_the_counters_they_are_written_with() {
        for (letters, counters) in [("l", 0), ("o", 1), ("B", 2), ("8", 2), ("ebb", 3)] {
            assert_eq!(word(letters, 128).holes().len(), counters, "{letters}");
        }
    }
}
