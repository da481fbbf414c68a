//! The swatch frame to print: its marks, its places and what is laid where.

use rosy_eye::frame::{
    DOT, LINE, MARK, PLACES, Part, SIZE, STRIP, dots, mark, mark_words, module, modules, place,
};

use super::art::{Art, Box4, Layer, Outline, Pen, Ready};

const BLACK: &str = "#000000";
/// A line that is seen and yet not read as ink.
const FAINT: Pen = Pen { colour: "#9a9a9a", wide: 0.05, dashed: false };
/// Height of the letters, in millimetres.
const SMALL: f64 = 1.9;
const LARGE: f64 = 5.0;
/// Letters of a name that go beside the marks for 4 and full.
const LONGEST: usize = 34;

/// The frame for some inks: what is on their lids, and the letters that its marks tell.
pub fn swatch_frame(inks: &[(String, String)]) -> Ready {
    let letters: Vec<String> = inks.iter().map(|(_, letters)| letters.clone()).collect();
    let mut art = Vec::new();
    for corner in 0..4 {
        art.push((Layer::Card, black(dark(&modules(&mark_words(&letters, corner)), mark(corner)))));
    }
    let small = |[x, y]: [f64; 2]| Outline::Box(Box4(x - DOT / 2.0, y - DOT / 2.0, DOT, DOT));
    art.push((Layer::Card, black(dots().map(small).collect())));
    let middle = SIZE[0] / 2.0;
    art.push(text([middle, 8.0], LARGE, "Swatch frame"));
    let says = [
        "Lay a strip of your own card, 1/2 × 3 1/4 in, on each place: a dot of glue at both ends.",
        "A dark line of waterproof ink along its foot first. Between the marks: 1, 2, 4 light passes, and full.",
    ];
    for (nth, says) in says.into_iter().enumerate() {
        art.push(text([middle, 13.6 + 3.2 * nth as f64], 2.3, says));
    }
    for n in 0..PLACES {
        art.extend(one(n, inks.get(n).map(|(name, _)| name.as_str())));
    }
    art.push(text(
        [middle, SIZE[1] - 14.0],
        2.3,
        "Photograph it dry, flat and whole, by a window without a lamp, so that nothing shades it or shines on it.",
    ));
    Ready { art, extent: Box4(0.0, 0.0, SIZE[0], SIZE[1]), letters: SMALL }
}

/// One place: its outline, its name, and where each part begins.
fn one(n: usize, name: Option<&str>) -> Vec<(Layer, Art)> {
    let [x, y] = place(n);
    let outline = Outline::Box(Box4(x, y, STRIP[0], STRIP[1]));
    let mut art = vec![(
        Layer::Card,
        Art::Area { outlines: vec![outline], fill: None, opacity: 1.0, pen: Some(FAINT) },
    )];
    let name: String = name.unwrap_or("____________________").chars().take(LONGEST).collect();
    let called = format!("{} {name}", n + 1);
    let wide = 0.5 * SMALL * called.chars().count() as f64;
    art.push(text([x + wide / 2.0, y - 1.3], SMALL, &called));
    for part in Part::INKED {
        let [from, to] = part.along();
        // The strip hides what stands within its place; how far each part goes is seen above and below it.
        for at in [from, to] {
            for [top, foot] in [[-0.5, 0.0], [STRIP[1], STRIP[1] + 0.5]] {
                art.push((
                    Layer::Card,
                    Art::Line { from: (x + at, y + top), to: (x + at, y + foot), pen: FAINT },
                ));
            }
        }
        art.push(text([x + (from + to) / 2.0, y + STRIP[1] / 2.0], 2.6, part.short()));
    }
    for at in [0.0, STRIP[0]] {
        art.push((
            Layer::Card,
            Art::Line {
                from: (x + at - 0.8, y + (LINE[0] + LINE[1]) / 2.0),
                to: (x + at + 0.8, y + (LINE[0] + LINE[1]) / 2.0),
                pen: FAINT,
            },
        ));
    }
    art
}

/// The dark modules of a mark, those side by side as one.
fn dark(modules: &[bool], [left, top]: [f64; 2]) -> Vec<Outline> {
    let side = (MARK / module()).round() as usize;
    let mut boxes = Vec::new();
    for (row, line) in modules.chunks(side).enumerate() {
        let mut from = 0;
        for run in line.chunk_by(|one, next| one == next) {
            if run[0] {
                let (x, y) = (left + from as f64 * module(), top + row as f64 * module());
                boxes.push(Outline::Box(Box4(x, y, run.len() as f64 * module(), module())));
            }
            from += run.len();
        }
    }
    boxes
}

fn black(outlines: Vec<Outline>) -> Art {
    Art::Area { outlines, fill: Some(BLACK.into()), opacity: 1.0, pen: None }
}

fn text([x, y]: [f64; 2], high: f64, says: &str) -> (Layer, Art) {
    (Layer::Words, Art::Text { at: (x, y), high, turned: false, text: says.to_owned() })
}
