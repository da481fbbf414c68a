//! Tape the edges of the panel, so that a white border stays.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::mask_on;
use super::rules::Unmet;
use super::technique::{Takes, Technique, Words};
use crate::edges::Border;
use crate::learn::Figure;
use crate::length::{Length, Units};
use crate::say::list;
use crate::surface::{Mask, Materials, Surface};

/// Tape laid along the edges.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Tape {}

/// The edges that are taped, each with how far in its line lies.
fn taped(border: &Border) -> Vec<(&'static str, Length)> {
    border.lines.named().into_iter().filter(|(_, line)| *line > Length::ZERO).collect()
}

impl Technique for Tape {
    fn act(&self, surface: &mut Surface) {
        surface.cover_with(Mask::BORDER);
    }

    fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
        mask_on::unmet(surface, Mask::BORDER)
    }

    fn paced(&self, with: &Materials) -> Option<(Figure, f64)> {
        Some((Figure::TapeOn, taped(&with.masks.border).len() as f64))
    }

    fn takes(&self, surface: &Surface) -> Vec<Takes> {
        let (border, (wide, high)) = (&surface.materials.masks.border, surface.materials.size);
        let strip = |(edge, line): (&str, Length)| {
            let side = if matches!(edge, "left" | "right") { high } else { wide };
            f64::from(border.strips(line)) * side.mm()
        };
        vec![Takes::Tape(taped(border).into_iter().map(strip).sum())]
    }

    fn made(&self) -> Option<&'static str> {
        Some("white border")
    }

    fn words(&self, surface: &Surface, units: Units) -> Words {
        let border = &surface.materials.masks.border;
        let taped = taped(border);
        let far = |line: Length| line.shown(units).to_string();
        let inner = match taped.as_slice() {
            [(_, one), rest @ ..] if rest.len() == 3 && rest.iter().all(|(_, other)| other == one) => {
                format!("{} from every edge of the piece", far(*one))
            }
            edges => {
                let said: Vec<String> =
                    edges.iter().map(|(edge, line)| format!("{} from the {edge} edge", far(*line))).collect();
                list(&said.iter().map(String::as_str).collect::<Vec<_>>())
            }
        };
        let broad = |(edge, line): &(&str, Length)| {
            let strips = border.strips(*line);
            (strips > 1).then(|| format!(" Along the {edge} edge it takes {strips} strips side by side."))
        };
        let broad: String = taped.iter().filter_map(broad).collect();
        let back = surface.coats.iter().any(|coat| surface.lay_under(coat, Mask::BORDER));
        let title = if back { "Put the tape back along the edges" } else { "Tape the edges" };
        Words {
            title: title.into(),
            how: format!(
                "Low-tack tape, its inner side {inner}: mark both ends of each line first. Press it down with a bone folder \
                 through scrap card.{broad}"
            ),
            care: None,
        }
    }

    fn mask(&self) -> Option<Mask> {
        Some(Mask::BORDER)
    }
}
