//! With which letters is a drawing on paper written? With those of the pages, and beside them what names of other scripts need.
//! A letter that none of them has is drawn as a box.

use std::collections::BTreeMap;

use pdf_writer::types::{CidFontType, FontFlags, SystemInfo, UnicodeCmap};
use pdf_writer::{Finish, Name, Pdf, Rect, Ref, Str};
use ttf_parser::{Face, GlyphId};
use unicode_bidi::BidiInfo;

/// The faces, by what they are called in a file; the first is asked first.
static SHIPPED: [(&str, &[u8]); 5] = [
    ("Hyperlegible", include_bytes!("faces/latin.ttf")),
    ("HyperlegibleExtended", include_bytes!("faces/latin-ext.ttf")),
    ("SansCyrillic", include_bytes!("faces/cyrillic.ttf")),
    ("SansGreek", include_bytes!("faces/greek.ttf")),
    ("SansHebrew", include_bytes!("faces/hebrew.ttf")),
];
/// Objects that a face takes in a file.
const OBJECTS: i32 = 5;
/// How wide a box is that stands for a letter, as a multiple of its height.
const BOX: f64 = 0.6;
const INFO: SystemInfo = SystemInfo { registry: Str(b"Adobe"), ordering: Str(b"Identity"), supplement: 0 };

/// A stretch of a text in one face.
#[derive(Debug, PartialEq)]
pub struct Stretch {
    /// Which face.
    pub face: usize,
    /// Its letters as the file writes them, two bytes each; none where boxes stand in their place.
    pub bytes: Vec<u8>,
    /// How wide it is, as a multiple of its height.
    pub wide: f64,
}

/// The faces of a file, and the letters of each that it has used.
pub struct Faces {
    faces: Vec<(&'static str, &'static [u8], Face<'static>)>,
    used: Vec<BTreeMap<u16, char>>,
    /// Whether a letter had to be drawn as a box.
    pub has_boxes: bool,
}

impl Faces {
    /// None of their letters used yet.
    pub fn new() -> Faces {
        let read = |bytes| Face::parse(bytes, 0).expect("a face that ships with the program can be read");
        let faces: Vec<_> = SHIPPED.iter().map(|(name, bytes)| (*name, *bytes, read(bytes))).collect();
        let used = vec![BTreeMap::new(); faces.len()];
        Faces { faces, used, has_boxes: false }
    }

    /// What a face is called within a page.
    pub fn named(face: usize) -> String {
        format!("F{face}")
    }

    /// A text in the order in which it is seen, each stretch in one face.
    pub fn set(&mut self, text: &str) -> Vec<Stretch> {
        let mut all: Vec<Stretch> = Vec::new();
        for letter in in_sight(text).chars() {
            let glyph_of = |(at, (.., face)): (usize, &(&str, &[u8], Face<'static>))| {
                face.glyph_index(letter).map(|glyph| (at, glyph))
            };
            let Some((face, glyph)) = self.faces.iter().enumerate().find_map(glyph_of) else {
                self.has_boxes = true;
                all.push(Stretch { face: 0, bytes: Vec::new(), wide: BOX });
                continue;
            };
            self.used[face].insert(glyph.0, letter);
            let own = &self.faces[face].2;
            let wide = f64::from(own.glyph_hor_advance(glyph).unwrap_or(0)) / f64::from(own.units_per_em());
            let bytes = glyph.0.to_be_bytes();
            match all.last_mut().filter(|last| last.face == face && !last.bytes.is_empty()) {
                Some(last) => {
                    last.bytes.extend(bytes);
                    last.wide += wide;
                }
                None => all.push(Stretch { face, bytes: bytes.into(), wide }),
            }
        }
        all
    }

    /// How wide a text is, as a multiple of its height.
    pub fn wide(&mut self, text: &str) -> f64 {
        self.set(text).iter().map(|stretch| stretch.wide).sum()
    }

    /// The faces whose letters were used, each with the object it is.
    pub fn written(&self, first: i32) -> Vec<(usize, Ref)> {
        let used = (0..self.faces.len()).filter(|face| !self.used[*face].is_empty());
        used.map(|face| (face, Ref::new(first + OBJECTS * face as i32))).collect()
    }

    /// How many objects they take in all.
    pub fn objects(&self) -> i32 {
        OBJECTS * self.faces.len() as i32
    }

    /// Writes them into a file, from an object on.
    pub fn write(&self, pdf: &mut Pdf, first: i32) {
        for (at, font) in self.written(first) {
            let (name, bytes, face) = &self.faces[at];
            let [cid, descriptor, file, cmap] = [1, 2, 3, 4].map(|n| Ref::new(font.get() + n));
            // Which letters are there of it is told by six signs before its name.
            let tagged = format!("ROSYV{}+{name}", char::from(b'A' + at as u8));
            let em = f32::from(face.units_per_em());
            let scaled = |units: i16| 1000.0 * f32::from(units) / em;
            pdf.type0_font(font)
                .base_font(Name(tagged.as_bytes()))
                .encoding_predefined(Name(b"Identity-H"))
                .descendant_font(cid)
                .to_unicode(cmap);
            let mut written = pdf.cid_font(cid);
            written
                .subtype(CidFontType::Type2)
                .base_font(Name(tagged.as_bytes()))
                .system_info(INFO)
                .font_descriptor(descriptor)
                .default_width(0.0)
                .cid_to_gid_map_predefined(Name(b"Identity"));
            let mut widths = written.widths();
            for glyph in self.used[at].keys() {
                let advance = face.glyph_hor_advance(GlyphId(*glyph)).unwrap_or(0);
                widths.consecutive(*glyph, [1000.0 * f32::from(advance) / em]);
            }
            widths.finish();
            written.finish();
            let around = face.global_bounding_box();
            pdf.font_descriptor(descriptor)
                .name(Name(tagged.as_bytes()))
                .flags(FontFlags::SYMBOLIC)
                .bbox(Rect::new(
                    scaled(around.x_min),
                    scaled(around.y_min),
                    scaled(around.x_max),
                    scaled(around.y_max),
                ))
                .italic_angle(0.0)
                .ascent(scaled(face.ascender()))
                .descent(scaled(face.descender()))
                .cap_height(scaled(face.capital_height().unwrap_or(face.ascender())))
                .stem_v(80.0)
                .font_file2(file);
            pdf.stream(file, bytes);
            let mut letters = UnicodeCmap::<u16>::new(Name(b"Custom"), INFO);
            self.used[at].iter().for_each(|(glyph, letter)| letters.pair(*glyph, *letter));
            pdf.cmap(cmap, &letters.finish());
        }
    }
}

/// A text in the order in which it is seen from left to right (Unicode Bidirectional Algorithm).
fn in_sight(text: &str) -> String {
    let bidi = BidiInfo::new(text, None);
    let lines = bidi.paragraphs.iter().map(|line| bidi.reorder_line(line, line.range.clone()).into_owned());
    if bidi.has_rtl() { lines.collect() } else { text.to_owned() }
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn every_script_that_ships_is_written_with_its_own_letters() {
        let mut faces = Faces::new();
        assert_eq!(faces.faces.len(), SHIPPED.len());
        for (text, face) in
            [("Ebb at six, 1/4 × 2 in", 0), ("Łódź", 1), ("Прилив", 2), ("Άμπωτη", 3), ("שפל", 4)]
        {
            let set = faces.set(text);
            assert!(set.iter().any(|stretch| stretch.face == face), "{text}: {set:?}");
            assert!(set.iter().all(|stretch| stretch.wide > 0.0) && !faces.has_boxes, "{text}");
        }
        // What none of them has is a box, and known to be one.
        assert_eq!(faces.set("潮"), [Stretch { face: 0, bytes: Vec::new(), wide: BOX }]);
        assert!(faces.has_boxes);
    }

    #[test]
    fn what_is_read_from_the_right_is_set_in_the_order_it_is_seen() {
        assert_eq!(in_sight("ebb"), "ebb");
        assert_eq!(in_sight("שפל"), "לפש");
        assert_eq!(in_sight("card שפל, 4"), "card 4 ,לפש");
    }
}
