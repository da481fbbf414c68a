//! As PDF pages at true scale, with a bar to check them by.
//!
//! What is larger than the page's free part is printed turned, or, where that is not enough, in parts that overlap by a
//! strip: cut along the crosses of one and lay it on those of the next.

use pdf_writer::{Content, Finish, Name, Pdf, Rect, Ref, Str, TextStr};
use rosy_core::Units;
use rosy_core::drawing::Drawing;

use super::art::{Art, Box4, Outline, Pen, Ready, Style, ready, words};
use super::faces::{Faces, Stretch};
use crate::say::{Run, runs};

/// Points in a millimetre.
const POINT: f64 = 72.0 / 25.4;
/// What a printer leaves bare at each edge, in millimetres (chosen: home printers leave up to 6).
const MARGIN: f64 = 10.0;
/// Room for the check bar and the title.
const FOOT: f64 = 16.0;
/// How far parts overlap.
const OVERLAP: f64 = 8.0;
/// Height of letters.
const LETTERS: f64 = 3.0;

/// Paper in a home printer.
#[derive(Clone, Copy, Debug, PartialEq, Eq, serde::Serialize, serde::Deserialize)]
#[serde(rename_all = "lowercase")]
pub enum Paper {
    /// 8 1/2 × 11 in.
    Letter,
    /// 210 × 297 mm.
    A4,
}

impl Paper {
    /// The one that is bought where these measures are used.
    pub const fn of(units: Units) -> Paper {
        match units {
            Units::Inches => Paper::Letter,
            Units::Millimetres => Paper::A4,
        }
    }

    fn size(self) -> (f64, f64) {
        match self {
            Paper::Letter => (215.9, 279.4),
            Paper::A4 => (210.0, 297.0),
        }
    }
}

/// One page: its size, what is drawn where, and what is said at its foot.
struct Page {
    size: (f64, f64),
    content: Content,
}

/// Writes drawings as a PDF file.
pub fn pages(title: &str, drawings: &[Drawing], paper: Paper) -> Vec<u8> {
    let ready = drawings.iter().map(|drawing| (drawing.name.as_str(), ready(drawing, LETTERS, Style::Print)));
    of_ready(title, ready, paper)
}

/// Writes what was made ready, each part under a name, as a PDF file.
pub fn of_ready<'a>(title: &str, parts: impl Iterator<Item = (&'a str, Ready)>, paper: Paper) -> Vec<u8> {
    let mut faces = Faces::new();
    let mut pages: Vec<Page> = Vec::new();
    for (name, ready) in parts {
        pages.extend(laid(title, name, &ready, paper, &mut faces));
    }
    let mut pdf = Pdf::new();
    let (catalog, tree, info) = (Ref::new(1), Ref::new(2), Ref::new(3));
    let (first_face, first_page) = (4, 4 + faces.objects());
    pdf.catalog(catalog).pages(tree);
    pdf.document_info(info).title(TextStr(title)).creator(TextStr("Rosy Veil"));
    let id = |n: usize| Ref::new(first_page + 2 * n as i32);
    let content = |n: usize| Ref::new(first_page + 1 + 2 * n as i32);
    pdf.pages(tree).kids((0..pages.len()).map(id)).count(pages.len() as i32);
    for (n, Page { size, content: drawn }) in pages.into_iter().enumerate() {
        let mut page = pdf.page(id(n));
        page.media_box(Rect::new(0.0, 0.0, (size.0 * POINT) as f32, (size.1 * POINT) as f32));
        page.parent(tree);
        page.contents(content(n));
        let mut resources = page.resources();
        let mut fonts = resources.fonts();
        for (face, font) in faces.written(first_face) {
            fonts.pair(Name(Faces::named(face).as_bytes()), font);
        }
        fonts.finish();
        resources.finish();
        page.finish();
        pdf.stream(content(n), &drawn.finish());
    }
    faces.write(&mut pdf, first_face);
    pdf.finish()
}

/// A drawing on one page, or on as many as it takes.
fn laid(title: &str, name: &str, ready: &Ready, paper: Paper, faces: &mut Faces) -> Vec<Page> {
    let Box4(left, top, width, height) = ready.extent;
    let upright = paper.size();
    let free = |(w, h): (f64, f64)| (w - 2.0 * MARGIN, h - 2.0 * MARGIN - FOOT);
    // As many parts as it takes each way, the way that takes fewer.
    let parts = |size: (f64, f64)| {
        let along = |of: f64, free: f64| {
            if of <= free { 1 } else { ((of - OVERLAP) / (free - OVERLAP)).ceil() as usize }
        };
        (along(width, free(size).0), along(height, free(size).1))
    };
    let turned = (upright.1, upright.0);
    let count = |size| parts(size).0 * parts(size).1;
    // A wide drawing on a turned page, where that takes no more of them.
    let lies = width > height && count(turned) <= count(upright);
    let size = if lies || count(turned) < count(upright) { turned } else { upright };
    let ((across, down), (free_w, free_h)) = (parts(size), free(size));
    let mut pages = Vec::new();
    for row in 0..down {
        for column in 0..across {
            let mut pen = Nib { content: Content::new(), high: size.1, faces: &mut *faces };
            // The drawing's corner on this page; a whole one stands in the middle.
            let along = |n: usize, of: usize, long: f64, free: f64| {
                if of == 1 { MARGIN + (free - long) / 2.0 } else { MARGIN - n as f64 * (free - OVERLAP) }
            };
            let (x, y) =
                (along(column, across, width, free_w) - left, along(row, down, height, free_h) - top);
            pen.content.save_state();
            pen.path(&[Outline::Box(Box4(MARGIN, MARGIN, free_w, free_h))], (0.0, 0.0));
            pen.content.clip_nonzero().end_path();
            for (_, art) in &ready.art {
                pen.draw(art, (x, y));
            }
            pen.content.restore_state();
            let mut name = format!("{title} · {name}");
            if across * down > 1 {
                name += &format!(" · part {} of {}", row * across + column + 1, across * down);
                pen.crosses((column, across), (row, down), (free_w, free_h));
            }
            pen.foot(&name, size);
            pages.push(Page { size, content: pen.content });
        }
    }
    pages
}

/// Draws in millimetres from the top left corner of a page.
struct Nib<'a> {
    content: Content,
    faces: &'a mut Faces,
    /// The page's height: PDF measures upwards.
    high: f64,
}

impl Nib<'_> {
    fn x(&self, mm: f64) -> f32 {
        (mm * POINT) as f32
    }

    fn y(&self, mm: f64) -> f32 {
        ((self.high - mm) * POINT) as f32
    }

    fn ink(&mut self, colour: &str, stroke: bool) {
        let part = |at: usize| {
            let hex = colour.get(at..at + 2).and_then(|hex| u8::from_str_radix(hex, 16).ok());
            f32::from(hex.unwrap_or(0)) / 255.0
        };
        let (r, g, b) = (part(1), part(3), part(5));
        if stroke {
            self.content.set_stroke_rgb(r, g, b)
        } else {
            self.content.set_fill_rgb(r, g, b)
        };
    }

    fn pen(&mut self, pen: Pen) {
        self.ink(pen.colour, true);
        self.content.set_line_width((pen.wide * LETTERS * POINT) as f32);
        let dash = [(0.8 * LETTERS * POINT) as f32, (0.4 * LETTERS * POINT) as f32];
        self.content.set_dash_pattern(if pen.dashed { dash.to_vec() } else { Vec::new() }, 0.0);
    }

    fn path(&mut self, outlines: &[Outline], (dx, dy): (f64, f64)) {
        /// How far a cubic's handles reach to follow a quarter of an ellipse.
        const ROUND: f64 = 0.552_284_75;
        for outline in outlines {
            match outline {
                Outline::Run(points) => {
                    for (nth, [x, y]) in points.iter().enumerate() {
                        let (x, y) = (self.x(x + dx), self.y(y + dy));
                        if nth == 0 {
                            self.content.move_to(x, y)
                        } else {
                            self.content.line_to(x, y)
                        };
                    }
                    self.content.close_path();
                }
                &Outline::Box(Box4(x, y, w, h)) => {
                    let (x, y) = (self.x(x + dx), self.y(y + h + dy));
                    self.content.rect(x, y, (w * POINT) as f32, (h * POINT) as f32);
                }
                &Outline::Oval(Box4(x, y, w, h)) => {
                    let (rx, ry) = (w / 2.0, h / 2.0);
                    let (cx, cy) = (x + dx + rx, y + dy + ry);
                    let at = |nib: &Nib<'_>, a: f64, b: f64| (nib.x(cx + a * rx), nib.y(cy + b * ry));
                    let (sx, sy) = at(self, 1.0, 0.0);
                    self.content.move_to(sx, sy);
                    for (one, other, to) in [
                        ((1.0, ROUND), (ROUND, 1.0), (0.0, 1.0)),
                        ((-ROUND, 1.0), (-1.0, ROUND), (-1.0, 0.0)),
                        ((-1.0, -ROUND), (-ROUND, -1.0), (0.0, -1.0)),
                        ((ROUND, -1.0), (1.0, -ROUND), (1.0, 0.0)),
                    ] {
                        let (one, other, to) =
                            (at(self, one.0, one.1), at(self, other.0, other.1), at(self, to.0, to.1));
                        self.content.cubic_to(one.0, one.1, other.0, other.1, to.0, to.1);
                    }
                    self.content.close_path();
                }
            }
        }
    }

    fn draw(&mut self, art: &Art, by: (f64, f64)) {
        match art {
            Art::Area { outlines, fill, pen, .. } => {
                if let Some(fill) = fill {
                    self.ink(fill, false);
                    self.path(outlines, by);
                    self.content.fill_even_odd();
                }
                if let Some(pen) = pen {
                    self.pen(*pen);
                    self.path(outlines, by);
                    self.content.stroke();
                }
            }
            Art::Line { from, to, pen } => {
                self.pen(*pen);
                self.line((from.0 + by.0, from.1 + by.1), (to.0 + by.0, to.1 + by.1));
            }
            Art::Text { at, high, turned, text } => {
                self.ink(words(), false);
                self.letters((at.0 + by.0, at.1 + by.1), *high, *turned, text, 0.5);
            }
            Art::Picture { .. } => {}
        }
    }

    fn line(&mut self, from: (f64, f64), to: (f64, f64)) {
        let (from, to) = ((self.x(from.0), self.y(from.1)), (self.x(to.0), self.y(to.1)));
        self.content.move_to(from.0, from.1).line_to(to.0, to.1).stroke();
    }

    /// A text whose middle (`share` 0.5) or beginning (0) is at a place, its fractions set as fractions.
    fn letters(&mut self, (x, y): (f64, f64), high: f64, turned: bool, text: &str, share: f64) {
        // Each run: its text, its size and how far it is raised.
        let mut set: Vec<(String, f64, f64)> = Vec::new();
        for run in runs(text) {
            match run {
                Run::Plain(plain) => set.push((plain.to_owned(), high, 0.0)),
                Run::Fraction(whole, top, bottom) => set.extend([
                    (if whole.is_empty() { String::new() } else { format!("{whole} ") }, high, 0.0),
                    (top.to_owned(), 0.68 * high, 0.32 * high),
                    ("/".to_owned(), high, 0.0),
                    (bottom.to_owned(), 0.68 * high, -0.06 * high),
                ]),
            }
        }
        let wide: f64 = set.iter().map(|(text, high, _)| self.faces.wide(text) * high).sum();
        // Along the text, and up from its line.
        let place = |along: f64, up: f64| {
            if turned { (x + 0.35 * high - up, y - along) } else { (x + along, y + 0.35 * high - up) }
        };
        let mut along = -share * wide;
        for (text, size, up) in set {
            for Stretch { face, bytes, wide } in self.faces.set(&text) {
                if bytes.is_empty() {
                    let corners = [(0.08, 0.0), (0.52, 0.0), (0.52, 0.7), (0.08, 0.7)];
                    let corner = |(right, above): (f64, f64)| place(along + right * size, up + above * size);
                    let corners: Vec<[f64; 2]> = corners.map(corner).map(|(x, y)| [x, y]).into();
                    self.pen(Pen { colour: words(), wide: 0.06, dashed: false });
                    self.path(&[Outline::Run(corners)], (0.0, 0.0));
                    self.content.stroke();
                    along += wide * size;
                    continue;
                }
                let (px, py) = place(along, up);
                let (px, py) = (self.x(px), self.y(py));
                let font = Faces::named(face);
                self.content.begin_text().set_font(Name(font.as_bytes()), (size * POINT) as f32);
                let matrix =
                    if turned { [0.0, 1.0, -1.0, 0.0, px, py] } else { [1.0, 0.0, 0.0, 1.0, px, py] };
                self.content.set_text_matrix(matrix).show(Str(&bytes)).end_text();
                along += wide * size;
            }
        }
    }

    /// Crosses where this part meets the next ones.
    fn crosses(&mut self, column: (usize, usize), row: (usize, usize), (free_w, free_h): (f64, f64)) {
        self.pen(Pen { colour: "#000000", wide: 0.05, dashed: false });
        let seams = |(n, of): (usize, usize), free: f64| {
            let before = (n > 0).then_some(MARGIN + OVERLAP / 2.0);
            let after = (n + 1 < of).then_some(MARGIN + free - OVERLAP / 2.0);
            [before, after].into_iter().flatten().collect::<Vec<f64>>()
        };
        let edges = |free: f64| vec![MARGIN + OVERLAP / 2.0, MARGIN + free - OVERLAP / 2.0];
        let (xs, ys) = (seams(column, free_w), seams(row, free_h));
        let mut at: Vec<(f64, f64)> = Vec::new();
        at.extend(xs.iter().flat_map(|x| edges(free_h).into_iter().map(|y| (*x, y))));
        at.extend(ys.iter().flat_map(|y| edges(free_w).into_iter().map(|x| (x, *y))));
        for (x, y) in at {
            self.line((x - 3.0, y), (x + 3.0, y));
            self.line((x, y - 3.0), (x, y + 3.0));
        }
    }

    /// What the page is, and the bar to check its scale by: 2 in above, 50 mm below.
    fn foot(&mut self, name: &str, (_, high): (f64, f64)) {
        let y = high - MARGIN - 9.0;
        self.ink("#000000", false);
        for (at, long) in [(y, 50.8), (y + 3.0, 50.0)] {
            self.path(&[Outline::Box(Box4(MARGIN, at, long, 1.6))], (0.0, 0.0));
            self.content.fill_nonzero();
        }
        self.ink(words(), false);
        self.letters((MARGIN + 53.0, y + 0.8), 3.0, false, "2 in", 0.0);
        self.letters((MARGIN + 53.0, y + 3.8), 3.0, false, "50 mm", 0.0);
        self.letters(
            (MARGIN + 66.0, y + 0.8),
            3.0,
            false,
            "Print at 100 %, then measure the bars: they must be right.",
            0.0,
        );
        self.letters((MARGIN + 66.0, y + 5.2), 3.4, false, name, 0.0);
        if self.faces.has_boxes {
            let says = "A letter that this program has not got stands as a box.";
            self.letters((MARGIN + 66.0, y + 8.6), 2.6, false, says, 0.0);
        }
    }
}
