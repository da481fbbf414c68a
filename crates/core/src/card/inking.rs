//! How far over the finished size is it inked, and where does the tape go?
//!
//! A panel is inked a little over size: its edges get finger marks, tape lift and the heaviest blotches, and the trim takes
//! them off. Tape leaves two things: a crisp line where the ink ends, and a *scar*, card roughened where it
//! was pulled off. A border is taped on its whole width; a panel may also be held down by tape that only just
//! overlaps its edge. Either way the maker needs measures from each edge, and wants to know what of the scar the
//! trim leaves.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::edges::{Edges, Place, size};
use crate::length::{Length, Units};

/// How far over the finished size a panel is usually inked on each side.
pub const fn usual_over(units: Units) -> Length {
    match units {
        Units::Inches => Length::from_64ths(16),
        Units::Millimetres => Length::from_tenths_mm(60),
    }
}

/// Tape on a panel while it is inked.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Tape {
    /// The white border it leaves on the finished panel, at each edge; nothing where there is none.
    #[serde(default)]
    pub border: Edges<Length>,
    /// How far tape that holds the piece down reaches over its edges.
    #[serde(default)]
    pub hold: Length,
    /// How wide the tape is.
    #[serde(default = "usual_tape")]
    pub width: Length,
}

impl Default for Tape {
    fn default() -> Tape {
        Tape { border: Edges::default(), hold: Length::ZERO, width: usual_tape() }
    }
}

fn usual_tape() -> Length {
    Length::from_64ths(48)
}

/// One edge's tape: measures from that edge of the piece as it is inked.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct TapeLine {
    /// Where the tape's inner edge lies, from the edge of the piece: the ink ends here.
    pub line: Length,
    /// How far in from the finished edge the scar begins, once trimmed; none where the trim takes it all.
    pub scar_from: Option<Length>,
    /// How far in it ends; none where the trim takes it all.
    pub scar_to: Option<Length>,
}

/// Where the tape goes and what it leaves.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct Taped {
    /// At each edge; none where there is no tape.
    pub lines: Edges<Option<TapeLine>>,
    /// That in sentences.
    pub says: Vec<String>,
}

/// Why tape cannot go where it is wanted.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum TapeError {
    /// Borders that meet.
    #[error("borders of {0} and {1} leave nothing between them on a panel of {2}: make them narrower")]
    Meet(Length, Length, Length),
    /// A measure below zero.
    #[error("{0} is less than nothing: write 0 where there is no tape")]
    Negative(Length),
    /// Tape there is none of.
    #[error("tape of {0}: give its width, 1/8 in (3.2 mm) to 3 in (76.2 mm)")]
    Width(Length),
}

impl Tape {
    /// No tape, of the usual roll: 3/4 in, or 20 mm.
    pub fn usual(units: Units) -> Tape {
        let width = match units {
            Units::Inches => usual_tape(),
            Units::Millimetres => Length::from_tenths_mm(200),
        };
        Tape { width, ..Tape::default() }
    }

    /// Refuses tape that cannot be laid on a panel of this finished size.
    ///
    /// # Errors
    /// A [`TapeError`] with the remedy.
    pub fn check(&self, finished: Place) -> Result<(), TapeError> {
        let measures = self.border.named().map(|(_, length)| length);
        if let Some(below) = measures.into_iter().chain([self.hold]).find(|length| *length < Length::ZERO) {
            return Err(TapeError::Negative(below));
        }
        if !(Length::from_64ths(8)..=Length::from_inches(3)).contains(&self.width) {
            return Err(TapeError::Width(self.width));
        }
        let Edges { left, right, top, bottom } = self.border;
        for (near, far, side) in [(left, right, finished.width), (top, bottom, finished.height)] {
            if near + far >= side {
                return Err(TapeError::Meet(near, far, side));
            }
        }
        Ok(())
    }

    /// Where it goes on a piece that is trimmed so that `waste` falls away at each edge.
    pub fn laid(&self, waste: Edges<Length>, units: Units) -> Taped {
        let at = |border: Length, waste: Length| {
            let line = if border > Length::ZERO { waste + border } else { self.hold };
            (line > Length::ZERO).then(|| {
                let (outer, inner) = ((line - self.width).max(Length::ZERO) - waste, line - waste);
                let remains = inner > Length::ZERO;
                TapeLine {
                    line,
                    scar_from: remains.then(|| outer.max(Length::ZERO)),
                    scar_to: remains.then_some(inner),
                }
            })
        };
        let (b, w) = (self.border, waste);
        let lines = Edges {
            left: at(b.left, w.left),
            right: at(b.right, w.right),
            top: at(b.top, w.top),
            bottom: at(b.bottom, w.bottom),
        };
        let mut taped = Taped { lines, says: self.says(&lines, units) };
        taped.says.extend(taped.scars(units));
        taped
    }

    fn says(&self, lines: &Edges<Option<TapeLine>>, units: Units) -> Vec<String> {
        let laid: Vec<(&str, TapeLine)> =
            lines.named().into_iter().filter_map(|(edge, line)| Some((edge, line?))).collect();
        if laid.is_empty() {
            return Vec::new();
        }
        let measures: Vec<String> = laid
            .iter()
            .map(|(edge, tape)| format!("{} from the {edge} edge", tape.line.said(units)))
            .collect();
        let mut says = vec![format!("Tape lines: {}. Mark both ends of each.", measures.join(", "))];
        let broad = laid.iter().any(|(_, tape)| tape.line > self.width);
        if broad {
            says.push(format!(
                "The tape is {} wide and does not reach the edge: lay a second strip outside the first, so that the card beneath \
                 stays white.",
                self.width.said(units)
            ));
        }
        says
    }
}

impl Taped {
    /// What the tape leaves on the card once it is trimmed; nothing where there is none.
    pub fn scars(&self, units: Units) -> Option<String> {
        let scars: Vec<String> = self
            .lines
            .named()
            .iter()
            .filter_map(|(edge, tape)| {
                let (from, to) = (*tape)?.scar_from.zip((*tape)?.scar_to)?;
                Some(format!("{edge} from {} to {}", from.said(units), to.said(units)))
            })
            .collect();
        let any = self.lines.named().iter().any(|(_, tape)| tape.is_some());
        any.then(|| match scars.as_slice() {
            [] => "Wherever the tape lifts the card's surface, the trim takes it off.".into(),
            all => format!(
                "Where the tape was, the card may be roughened. After the trim that stays, measured in from the finished edge: {}.",
                all.join("; ")
            ),
        })
    }
}

/// The size to ink for a finished size, so much over on each side.
pub fn inked(width: Length, height: Length, over: Length) -> (Length, Length) {
    (width + over * 2, height + over * 2)
}

/// That in a sentence.
pub fn says(width: Length, height: Length, over: Length, units: Units) -> String {
    let (w, h) = inked(width, height, over);
    format!(
        "Ink {}: {} over on each side of {}.",
        size(w, h, units),
        over.said(units),
        size(width, height, units)
    )
}
