//! What is printed where on a swatch frame?
//!
//! A frame is a page with a mark at each corner and places for 24 strips of card, half an inch by 3 1/4. On a strip stand bare
//! card, one light pass, two, four, the full swatch, and bare card again, with 2 mm of bare card between them. Along its
//! foot a dark line may be drawn before the ink is laid: an ink that scatters shows on it. All lengths are millimetres
//! from the outer corner of the left upper mark.

use qrcode::{Color, EcLevel, QrCode, Version};
use rosy_core::ink::Ink;
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// How wide and high a frame is, outside its marks: it goes on a letter sheet and on A4.
pub const SIZE: [f64; 2] = [186.0, 240.0];
/// Side of a corner's mark.
pub const MARK: f64 = 20.0;
/// Places of strips.
pub const PLACES: usize = 24;
/// A strip: 3 1/4 in by 1/2 in.
pub const STRIP: [f64; 2] = [82.55, 12.7];
/// Rows of strips in each of the two columns.
const ROWS: usize = 12;
const COLUMNS: [f64; 2] = [8.0, 95.45];
const FIRST_ROW: f64 = 25.6;
const ROW: f64 = 15.8;
/// Side of the small marks that tell how the lens bends.
pub const DOT: f64 = 3.0;
/// Modules along the side of a corner's mark.
const MODULES: usize = 25;
/// The version of this layout, which its marks tell.
const LAYOUT: &str = "1";
/// What a mark's words begin with.
const BEGINS: &str = "ROSY";

/// Part of a strip, by what is laid on it.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum Part {
    /// Bare card at the strip's beginning.
    Bare,
    /// One light pass.
    One,
    /// Two.
    Two,
    /// Four.
    Four,
    /// As many as it takes no more of.
    Full,
    /// Bare card at its end.
    End,
}

impl Part {
    /// Those with ink on them.
    pub const INKED: [Part; 4] = [Part::One, Part::Two, Part::Four, Part::Full];

    /// From and to, along the strip.
    pub const fn along(self) -> [f64; 2] {
        match self {
            Part::Bare => [0.0, 11.5],
            Part::One => [13.5, 25.5],
            Part::Two => [27.5, 39.5],
            Part::Four => [41.5, 53.5],
            Part::Full => [55.5, 67.5],
            Part::End => [69.5, 82.55],
        }
    }

    /// How many light passes are laid on it; as many as usual where it is as many as it takes.
    pub const fn passes(self) -> f64 {
        match self {
            Part::Bare | Part::End => 0.0,
            Part::One => 1.0,
            Part::Two => 2.0,
            Part::Four => 4.0,
            Part::Full => 7.0,
        }
    }

    /// How it is called where there is little room.
    pub const fn short(self) -> &'static str {
        match self {
            Part::Bare | Part::End => "bare",
            Part::One => "1",
            Part::Two => "2",
            Part::Four => "4",
            Part::Full => "full",
        }
    }

    /// How it is called in sentences.
    pub const fn words(self) -> &'static str {
        match self {
            Part::Bare | Part::End => "bare card",
            Part::One => "1 light pass",
            Part::Two => "2 light passes",
            Part::Four => "4 light passes",
            Part::Full => "full",
        }
    }
}

/// Across a strip: where ink is read, and where the dark line is drawn.
pub const READ: [f64; 2] = [1.2, 8.4];
/// Where the dark line is drawn, if it is.
pub const LINE: [f64; 2] = [9.6, 11.4];

/// The left upper corner of a strip's place, counted from 0: down the left column, then down the right.
pub fn place(n: usize) -> [f64; 2] {
    [COLUMNS[n / ROWS % 2], FIRST_ROW + ROW * (n % ROWS) as f64]
}

/// The left upper corner of a corner's mark: left and right above, left and right below.
pub fn mark(corner: usize) -> [f64; 2] {
    [(corner % 2) as f64 * (SIZE[0] - MARK), (corner / 2) as f64 * (SIZE[1] - MARK)]
}

/// The middles of the small marks: down both sides and the middle, and half way along top and foot.
pub fn dots() -> impl Iterator<Item = [f64; 2]> {
    let middle = SIZE[0] / 2.0;
    let rows = [0.25, 0.5, 0.75].map(|share| share * SIZE[1]);
    rows.into_iter()
        .flat_map(move |y| [[DOT / 2.0, y], [middle, y], [SIZE[0] - DOT / 2.0, y]])
        .chain([[middle, DOT / 2.0], [middle, SIZE[1] - DOT / 2.0]])
}

/// A few letters that tell an ink by its lid: a sum over its name and kind (FNV-1a), to 20 bits.
pub fn letters_of(ink: &Ink) -> String {
    let words = format!("{}\u{1f}{}", ink.name.as_str().to_lowercase(), ink.kind.word());
    let sum = words
        .bytes()
        .fold(0xcbf2_9ce4_8422_2325_u64, |sum, byte| (sum ^ u64::from(byte)).wrapping_mul(0x0100_0000_01b3));
    let folded = (sum ^ (sum >> 20) ^ (sum >> 40)) & 0xf_ffff;
    // 0 stands for a place without an ink.
    written(folded.max(1))
}

const LETTERS: &[u8; 32] = b"0123456789ABCDEFGHJKLMNPQRSTUVWX";

fn written(number: u64) -> String {
    [15, 10, 5, 0].map(|shift| char::from(LETTERS[(number >> shift) as usize & 31])).iter().collect()
}

/// What the four marks of a frame tell: the layout, the corner, and six inks each.
///
/// ```
/// use rosy_eye::frame::{mark_words, read_mark};
/// let inks = vec!["0A3F".to_owned(); 7];
/// let words = mark_words(&inks, 1);
/// let (corner, told) = read_mark(&words).unwrap();
/// assert_eq!((corner, told.len(), told[0].as_str()), (1, 6, "0A3F")); // its seventh, and five places without an ink
/// assert_eq!(told[1], "0000");
/// assert!(read_mark("https://elsewhere.example").is_none());
/// ```
pub fn mark_words(letters: &[String], corner: usize) -> String {
    let six = (0..6).map(|n| letters.get(6 * corner + n).map_or("0000", String::as_str));
    format!("{BEGINS}{LAYOUT}{corner}{}", six.collect::<String>())
}

/// Which corner a mark is, and the letters of its six inks; nothing where it is no mark of a frame of this layout.
pub fn read_mark(words: &str) -> Option<(usize, Vec<String>)> {
    let rest = words.strip_prefix(BEGINS)?.strip_prefix(LAYOUT)?;
    let (corner, inks) = rest.split_at_checked(1)?;
    let corner: usize = corner.parse().ok()?;
    let known = inks.len() == 24 && inks.bytes().all(|letter| LETTERS.contains(&letter));
    (corner < 4 && known).then(|| (corner, (0..6).map(|n| inks[4 * n..4 * n + 4].to_owned()).collect()))
}

/// Which modules of a mark are dark, line by line, 25 a side.
///
/// # Panics
/// Never: what a mark tells has always the same length, and fits.
pub fn modules(words: &str) -> Vec<bool> {
    let code = QrCode::with_version(words, Version::Normal(2), EcLevel::M).expect("thirty letters fit");
    let colours = code.to_colors();
    debug_assert_eq!(colours.len(), MODULES * MODULES);
    colours.into_iter().map(|colour| colour == Color::Dark).collect()
}

/// Side of one module.
pub fn module() -> f64 {
    MARK / MODULES as f64
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn overlap(a: [[f64; 2]; 2], b: [[f64; 2]; 2]) -> bool {
        (0..2).all(|axis| a[0][axis] < b[0][axis] + b[1][axis] && b[0][axis] < a[0][axis] + a[1][axis])
    }

    #[test]
    fn nothing_on_a_frame_lies_on_anything_else() {
        let strips = (0..PLACES).map(|n| [place(n), STRIP]);
        let marks = (0..4).map(|corner| [mark(corner), [MARK, MARK]]);
        let dots = dots().map(|[x, y]| [[x - DOT / 2.0, y - DOT / 2.0], [DOT, DOT]]);
        let all: Vec<_> = strips.chain(marks).chain(dots).collect();
        for (n, one) in all.iter().enumerate() {
            assert!(
                (0..2).all(|axis| one[0][axis] >= -1e-9 && one[0][axis] + one[1][axis] <= SIZE[axis] + 1e-9)
            );
            assert!(all[..n].iter().all(|other| !overlap(*one, *other)), "{one:?}");
        }
    }

    #[test]
    fn parts_follow_one_another_with_bare_card_between() {
        let parts = [Part::Bare, Part::One, Part::Two, Part::Four, Part::Full, Part::End].map(Part::along);
        assert!(parts.windows(2).all(|two| (two[1][0] - two[0][1] - 2.0).abs() < 1e-9));
        assert_eq!(parts[5][1], STRIP[0]);
    }

    proptest! {
        #[test]
        fn a_mark_tells_what_was_written(letters in proptest::collection::vec(0u64..1 << 20, 24), corner in 0usize..4) {
            let letters: Vec<String> = letters.into_iter().map(written).collect();
            let (read, told) = read_mark(&mark_words(&letters, corner)).unwrap();
            prop_assert_eq!(read, corner);
            prop_assert_eq!(&told[..], &letters[6 * corner..6 * corner + 6]);
        }
    }
}
