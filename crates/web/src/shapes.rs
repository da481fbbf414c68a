//! How does a shape come out, and what is a drawing that is brought?

use askama::Template;
use rosy_core::edges::size;
use rosy_core::ink::DrawerError;
use rosy_core::shape::eye::Finding;
use rosy_core::shape::kept::{Figure, Shape};
use rosy_core::shape::piece::SheetSize;
use rosy_core::shape::{Fault, Outline, Use, svg};
use rosy_core::{Length, Units};
use serde::{Deserialize, Serialize};

use crate::drawing::shape::picture;
use crate::say::{many, word};

/// Sheets that shapes are cut from.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum SheetWanted {
    /// 8 1/2 × 11 in.
    Letter,
    /// 210 × 297 mm.
    A4,
    /// 12 × 12 in.
    Square,
}

impl SheetWanted {
    /// All of them, with their words.
    pub const ALL: [(SheetWanted, &'static str, &'static str); 3] = [
        (SheetWanted::Letter, "letter", "letter, 8 1/2 × 11 in"),
        (SheetWanted::A4, "a4", "A4, 210 × 297 mm"),
        (SheetWanted::Square, "square", "12 × 12 in"),
    ];

    /// What a maker has lying about.
    pub const fn usual(units: Units) -> SheetWanted {
        match units {
            Units::Inches => SheetWanted::Letter,
            Units::Millimetres => SheetWanted::A4,
        }
    }

    /// Its sides.
    pub fn size(self) -> SheetSize {
        match self {
            SheetWanted::Letter => SheetSize::LETTER,
            SheetWanted::A4 => {
                SheetSize { width: Length::from_tenths_mm(2_100), height: Length::from_tenths_mm(2_970) }
            }
            SheetWanted::Square => {
                SheetSize { width: Length::from_inches(12), height: Length::from_inches(12) }
            }
        }
    }
}

/// A finding as it stands beside the picture.
#[derive(Serialize, Deserialize)]
struct FindingRow {
    says: String,
    fault: String,
    repair: Option<String>,
}

/// How a shape comes out: picture, measures, pieces, and what is wrong with it.
#[derive(Template, Serialize, Deserialize)]
#[template(path = "shape_shown.html")]
pub struct Shown {
    picture: String,
    size: String,
    pieces: String,
    findings: Vec<FindingRow>,
}

/// A shape to be looked over.
#[derive(Serialize, Deserialize)]
pub struct Looking {
    /// It.
    pub shape: Shape,
    /// The sheet it is cut from.
    pub wanted: SheetWanted,
    /// How lengths are told.
    pub units: Units,
    /// What is to be mended.
    pub mend: Option<Fault>,
}

/// A shape looked over.
#[derive(Serialize, Deserialize)]
pub struct Looked {
    /// How it comes out.
    pub shown: Shown,
    /// The same mended, where that was asked for and can be.
    pub mended: Option<Shape>,
}

impl Looking {
    /// Looks it over.
    pub fn looked(&self) -> Result<Looked, String> {
        let Looking { shape, wanted, units, mend } = self;
        let sheet = wanted.size();
        let findings =
            shape.look((sheet.width.mm(), sheet.height.mm())).map_err(|error| error.to_string())?;
        let outline = shape.outline().map_err(|error| error.to_string())?;
        let row = |finding: &Finding| FindingRow {
            says: rosy_core::shape::words::says(finding, shape.material, *units),
            fault: word(finding.fault),
            repair: finding
                .mended
                .is_some()
                .then(|| rosy_core::shape::words::repair(finding.fault).to_owned()),
        };
        let shown = Shown {
            picture: picture(shape, &outline, &findings),
            size: size_of(&outline, *units),
            pieces: pieces_of(shape, &outline),
            // Islands are held all at once: told once, with how many there are.
            findings: told(&findings, row),
        };
        let mended =
            mend.and_then(|fault| shape.mended(findings.iter().find(|finding| finding.fault == fault)?));
        Ok(Looked { shown, mended })
    }
}

/// How large it is, on a ruler's marks.
pub fn size_of(outline: &Outline, units: Units) -> String {
    let near = |mm: f64| Length::nearest(mm, units.pencil());
    let (wide, high) = outline.size();
    size(near(wide), near(high), units)
}

/// Findings of one kind are mended together: each kind is told once, the worst of it, and how many more there are.
fn told(findings: &[Finding], row: impl Fn(&Finding) -> FindingRow) -> Vec<FindingRow> {
    let mut faults: Vec<Fault> = findings.iter().map(|finding| finding.fault).collect();
    faults.dedup();
    let of = |fault: Fault| {
        let alike: Vec<_> = findings.iter().filter(|finding| finding.fault == fault).collect();
        let mut told = row(alike.first()?);
        match alike.len() {
            1 => {}
            2 => told.says.push_str(" There is another like it."),
            more => told.says.push_str(&format!(" There are {} more like it.", more - 1)),
        }
        Some(told)
    };
    faults.into_iter().filter_map(of).collect()
}

fn pieces_of(shape: &Shape, outline: &Outline) -> String {
    let inside = outline.region();
    let (plugs, counters) = (inside.count(), inside.holes().len());
    match shape.used {
        Use::Stencil => format!("A stencil with {}.", many(plugs, "opening")),
        Use::Tape => "Tape along its edges: nothing is cut.".into(),
        Use::Stamp => "A rubber stamp: nothing is cut.".into(),
        Use::Raised => "Raised from the card in an embossing folder: nothing is cut.".into(),
        Use::Slide => "A strip with the same edge along its top and its foot.".into(),
        Use::Mask if counters == 0 => format!("A frame and {}.", many(plugs, "plug")),
        Use::Mask => format!("A frame, {} and {}.", many(plugs, "plug"), many(counters, "counter")),
    }
}

/// A drawing as it has been read.
#[derive(Serialize, Deserialize)]
pub struct Brought {
    /// What is cut along.
    pub figure: Figure,
    /// What there is to say of it.
    pub notes: Vec<String>,
}

/// Reads a drawing, as far as it can be kept and looked at again.
pub fn read(svg: &[u8]) -> Result<Brought, String> {
    let text = std::str::from_utf8(svg).map_err(|error| error.to_string())?;
    let brought = svg::read(text).map_err(|error| error.to_string())?;
    let figure = Figure::Brought { outline: brought.outline.data(), even_odd: brought.outline.even_odd() };
    let shape = Shape::new("Brought".parse().map_err(|error: DrawerError| error.to_string())?, figure);
    let sheet = SheetWanted::Letter.size();
    shape.look((sheet.width.mm(), sheet.height.mm())).map_err(|error| error.to_string())?;
    Ok(Brought { figure: shape.figure, notes: brought.notes })
}

/// How a shape that was sent comes out.
pub fn shown(looking: &[u8]) -> Result<Looked, String> {
    let looking: Looking = serde_json::from_slice(looking).map_err(|error| error.to_string())?;
    looking.looked()
}
