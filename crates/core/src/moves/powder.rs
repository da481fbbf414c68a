//! Embossing powder over sticky ink: poured on, tipped off, strays brushed away.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::rules::{Breach, Mend, Unmet};
use super::technique::{Takes, Technique, Words};
use crate::ink::Powder as Kind;
use crate::learn::Figure;
use crate::length::Units;
use crate::surface::{Materials, Surface};

/// Powder poured over what is sticky.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Powder {
    /// Which.
    #[serde(default)]
    pub kind: Kind,
}

impl Technique for Powder {
    fn act(&self, surface: &mut Surface) {
        surface.embossing.powder = Some(self.kind);
    }

    fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
        if surface.embossing.sticky.is_some() || surface.embossing.is_hot {
            return Vec::new();
        }
        let says =
            "There is no sticky ink for the powder to hold to: lay sticky ink first, or leave this out."
                .into();
        vec![Unmet { breach: Breach::NothingSticky, says, mend: Mend::StickFirst }]
    }

    fn paced(&self, _: &Materials) -> Option<(Figure, f64)> {
        Some((Figure::Powder, 1.0))
    }

    fn takes(&self, surface: &Surface) -> Vec<Takes> {
        let sticky = surface.embossing.sticky.iter();
        sticky.map(|(thing, _)| Takes::Powder(surface.materials.masks.things[*thing].inside.area())).collect()
    }

    fn words(&self, surface: &Surface, _: Units) -> Words {
        let powder = self.kind.words();
        let is_second = surface.embossing.sticky.is_none() && surface.embossing.is_hot;
        let thing = surface.embossing.sticky.as_ref().map(|(thing, _)| *thing);
        let masked = thing.and_then(|thing| surface.materials.masks.things.get(thing));
        let grain = match masked {
            _ if is_second => "",
            Some(masked) if masked.has_thin_lines() => {
                " Its lines are thin: take fine powder, or they run together."
            }
            _ => " Its lines are broad enough for powder of any grain.",
        };
        let (title, first) = if is_second {
            (
                format!("Pour {powder} over it again"),
                "While it is hot a second layer holds to the first: the line comes out bolder and smoother. ",
            )
        } else {
            (format!("Pour {powder} over it"), "")
        };
        Words {
            title,
            how: format!(
                "{first}Tip it off onto a folded sheet, flick the back of the card, brush strays away with a dry soft brush.{grain}"
            ),
            care: Some(
                "Do not breathe the powder; tip it back into its jar at once. Its own label comes first."
                    .into(),
            ),
        }
    }

    fn stays(&self) -> bool {
        true
    }
}
