//! What can be asked of shapes from outside.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::length::{Length, Units};
use crate::shape::eye::{Fault, Finding, Material, Use, look};
use crate::shape::family::{Drawn, DrawnError};
use crate::shape::outline::Outline;
use crate::shape::piece::{Cut, Part, SheetSize, pieces};
use crate::shape::svg::{self, SvgError};
use crate::shape::words;

/// A shape to be cut: a drawing, or one of a family by its measures.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct ShapeAsked {
    /// The text of an SVG.
    #[serde(default)]
    pub svg: Option<String>,
    /// A shape by its measures.
    #[serde(default)]
    pub drawn: Option<Drawn>,
    /// What it is cut for.
    #[serde(default, rename = "use")]
    pub used: Use,
    /// What it is cut from.
    #[serde(default)]
    pub material: Material,
    /// Where its plug is cut.
    #[serde(default)]
    pub cut: Cut,
    /// The sheet; a letter sheet where none is given.
    #[serde(default)]
    pub sheet: Option<SheetSize>,
    /// In which units it is told.
    #[serde(default)]
    pub units: Units,
}

/// Why a shape is not cut.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum ShapeError {
    /// Neither or both.
    #[error("give either svg, the text of a drawing, or drawn, a shape by its measures")]
    Which,
    /// The drawing.
    #[error(transparent)]
    Svg(#[from] SvgError),
    /// The measures.
    #[error(transparent)]
    Drawn(#[from] DrawnError),
    /// The sheet.
    #[error("sheet {0} × {1}: give sides from 1 in to 40 in")]
    Sheet(Length, Length),
    /// The plug's line.
    #[error("cut: a hair or halo is more than nothing and at most 1/2 in")]
    Cut,
}

/// What comes of a shape. Places are millimetres from its middle, right and down.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct ShapeSeen {
    /// Millimetres across.
    pub width_mm: f64,
    /// Millimetres down.
    pub height_mm: f64,
    /// Square millimetres it encloses.
    pub area_mm2: f64,
    /// Its curves, as SVG path data in millimetres about its middle.
    pub outline: String,
    /// The pieces it is cut into.
    pub pieces: Vec<PieceSeen>,
    /// Parts of a stencil that would fall out.
    pub islands: Vec<IslandSeen>,
    /// Ribs too thin for the material.
    pub ribs: Vec<RibSeen>,
    /// All that is wrong with it, and how it is mended.
    pub findings: Vec<FindingSeen>,
    /// What of a drawing was taken otherwise than drawn, and how.
    pub notes: Vec<String>,
}

/// A piece of the sheet.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct PieceSeen {
    /// What it is for.
    pub part: Part,
    /// Square millimetres.
    pub area_mm2: f64,
    /// Its edge, as SVG path data in millimetres about the shape's middle.
    pub outline: String,
}

/// An island.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct IslandSeen {
    /// A place on it.
    pub at_mm: [f64; 2],
    /// Its longer side.
    pub long_mm: f64,
}

/// A thin rib.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct RibSeen {
    /// A place on it.
    pub at_mm: [f64; 2],
    /// How wide it is at its narrowest.
    pub wide_mm: f64,
    /// How wide it should be.
    pub least_mm: f64,
}

/// Something wrong with a shape.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct FindingSeen {
    /// What.
    pub fault: Fault,
    /// Where.
    pub at_mm: [f64; 2],
    /// What and why, in a sentence or two.
    pub says: String,
    /// What mends it, in a sentence; nothing where it has to be drawn otherwise.
    pub repair: Option<String>,
    /// The outline mended, as SVG path data.
    pub mended: Option<String>,
}

impl ShapeAsked {
    /// The shape itself, and what is to be known of how it was read.
    ///
    /// # Errors
    /// A [`ShapeError`] saying what to change.
    pub fn outline(&self) -> Result<(Outline, Vec<String>), ShapeError> {
        match (&self.svg, &self.drawn) {
            (Some(text), None) => {
                let brought = svg::read(text)?;
                Ok((brought.outline, brought.notes))
            }
            (None, Some(drawn)) => Ok((drawn.outline()?, Vec::new())),
            _ => Err(ShapeError::Which),
        }
    }

    /// Looks the shape over and cuts it.
    ///
    /// # Errors
    /// A [`ShapeError`] saying what to change.
    pub fn answer(&self) -> Result<ShapeSeen, ShapeError> {
        let sheet = self.sheet.unwrap_or(SheetSize::LETTER);
        let sides = Length::from_inches(1)..=Length::from_inches(40);
        if !sides.contains(&sheet.width) || !sides.contains(&sheet.height) {
            return Err(ShapeError::Sheet(sheet.width, sheet.height));
        }
        if !self.cut.is_possible() {
            return Err(ShapeError::Cut);
        }
        let (outline, notes) = self.outline()?;
        let findings = look(&outline, self.used, self.material, (sheet.width.mm(), sheet.height.mm()), false);
        Ok(self.seen(&outline, &findings, notes, sheet))
    }

    fn seen(
        &self,
        outline: &Outline,
        findings: &[Finding],
        notes: Vec<String>,
        sheet: SheetSize,
    ) -> ShapeSeen {
        let inside = outline.region();
        let ((width_mm, height_mm), area_mm2) = (outline.size(), inside.area());
        let looked = crate::shape::eye::Looked {
            inside: inside.clone(),
            used: self.used,
            material: self.material,
            sheet: (sheet.width.mm(), sheet.height.mm()),
        };
        let piece = |piece: crate::shape::piece::Piece| PieceSeen {
            part: piece.part,
            area_mm2: piece.region.area(),
            outline: piece.region.path(),
        };
        let of = |fault: Fault| findings.iter().filter(move |finding| finding.fault == fault);
        ShapeSeen {
            width_mm,
            height_mm,
            area_mm2,
            outline: outline.data(),
            pieces: pieces(&inside, self.cut, &looked.whole()).into_iter().map(piece).collect(),
            islands: of(Fault::Island)
                .map(|finding| IslandSeen { at_mm: finding.at, long_mm: finding.figure })
                .collect(),
            ribs: of(Fault::Rib)
                .map(|finding| RibSeen {
                    at_mm: finding.at,
                    wide_mm: finding.figure,
                    least_mm: finding.limit,
                })
                .collect(),
            findings: findings
                .iter()
                .map(|finding| FindingSeen {
                    fault: finding.fault,
                    at_mm: finding.at,
                    says: words::says(finding, self.material, self.units),
                    repair: finding.mended.as_ref().map(|_| words::repair(finding.fault).to_owned()),
                    mended: finding.mended.as_ref().map(|mended| mended.data()),
                })
                .collect(),
            notes,
        }
    }
}
