//! Ink taken up once: which, along which way, how many veils from where to where?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::rules::{Breach, Mend, Stage, Unmet};
use super::unset::{hot, squashed};
use crate::blend::{Reach, Way};
use crate::ink::drawer::MOST_VEILS;
use crate::length::{Length, Units};
use crate::shape::Use;
use crate::surface::{Mask, Materials, Part, Surface};

/// One ink taken up and laid: one or more veils, each over its own reach.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Laying {
    /// The ink, by its place in the panel's list, from 0.
    pub ink: usize,
    /// The thing it is laid on, by its place from front to back, from 0; the ground where none is named.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub on: Option<usize>,
    /// The way its measures are taken along.
    pub way: Way,
    /// Which round it belongs to, from 1.
    pub round: u8,
    /// One reach for each light pass, in measures from where the way begins.
    pub veils: Vec<Reach>,
}

impl Laying {
    /// The stretch it touches.
    pub fn extent(&self) -> Reach {
        extent(&self.veils)
    }

    /// How many light passes over a usual field it is.
    pub(super) fn work(&self, with: &Materials) -> f64 {
        with.passes(self.on, self.way, &self.veils)
    }

    /// Whether it names an ink and places that a panel has.
    pub(super) fn is_possible(&self, stage: &Stage) -> bool {
        let Some(size) = stage.size_of(self.on) else { return false };
        let span = self.way.span(size);
        self.ink < stage.inks
            && self.way.check(size).is_ok()
            && !self.veils.is_empty()
            && self.veils.len() <= usize::from(MOST_VEILS)
            && self.veils.iter().all(|v| Length::ZERO <= v.from && v.from < v.to && v.to <= span)
    }

    /// The same with the things in other places.
    pub(super) fn with_things_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Laying> {
        let on = match self.on {
            Some(thing) => Some(to(thing)?),
            None => None,
        };
        Some(Laying { on, ..self.clone() })
    }

    /// The same with the inks in other places.
    pub(super) fn with_inks_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Laying> {
        Some(Laying { ink: to(self.ink)?, ..self.clone() })
    }

    /// What is not as it must be before it is laid.
    pub(super) fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
        [
            self.dirty_brush(surface),
            self.no_frame(surface),
            self.not_raised(surface),
            self.all_covered(surface),
            hot(surface),
            wet(surface),
            squashed(surface),
        ]
        .into_iter()
        .flatten()
        .collect()
    }

    /// What a brush that carries other ink asks for.
    fn dirty_brush(&self, surface: &Surface) -> Option<Unmet> {
        let (materials, carried) = (&surface.materials, surface.brushes.carried());
        let (times, _) = carried.cleaning(materials, self.ink, self.veils.len());
        if times == 0 {
            return None;
        }
        let [on_it, ink] =
            [carried.worst_for(materials, self.ink)?, self.ink].map(|ink| &materials.inks[ink].name);
        let kind = materials.tool.kind.short();
        let says = format!("There is {on_it} on the {kind}: wipe it off or take another before {ink}.");
        Some(Unmet { breach: Breach::DirtyBrush, says, mend: Mend::WipeFirst(times) })
    }

    /// Without its frame the ink of a thing goes past its edge.
    fn no_frame(&self, surface: &Surface) -> Option<Unmet> {
        let frame = Mask { thing: self.on?, part: Part::Frame };
        let has_frame = surface.materials.masks.things.get(frame.thing).is_some_and(|thing| thing.has_frame);
        // What fades out before the edge needs nothing beyond it.
        let fades_out = matches!(self.way, Way::Rim { .. }) && self.extent().from > Length::ZERO;
        if !has_frame || fades_out || surface.masks.contains(&frame) {
            return None;
        }
        let name = &surface.materials.masks.things.get(frame.thing)?.name;
        let says =
            format!("The frame of the {name} is not on: the ink would go past its edge. Put it on first.");
        Some(Unmet { breach: Breach::NoFrame, says, mend: Mend::MaskFirst(frame) })
    }

    /// A brush skims only what stands up.
    fn not_raised(&self, surface: &Surface) -> Option<Unmet> {
        let thing = self.on?;
        let masked = surface.materials.masks.things.get(thing)?;
        if masked.used != Use::Raised || surface.raised.contains(&thing) {
            return None;
        }
        let says = format!(
            "The {} does not stand up yet: the brush would go over all of it. Raise it in the folder first.",
            masked.name
        );
        Some(Unmet { breach: Breach::NotRaised, says, mend: Mend::RaiseFirst(thing) })
    }

    /// Where masks cover all of what it goes over, nothing reaches the card.
    fn all_covered(&self, surface: &Surface) -> Option<Unmet> {
        let masks = &surface.materials.masks;
        let is_open = |plot: &crate::surface::masks::Plot| {
            !surface.masks.iter().any(|mask| plot.is_covered(*mask))
                && self.on.is_none_or(|on| plot.is_inside(on))
        };
        if surface.masks.is_empty() || masks.plots.iter().any(is_open) {
            return None;
        }
        let name = &surface.materials.inks[self.ink].name;
        let says = format!(
            "Masks cover all of what {name} would go over: nothing reaches the card. Leave it out, or lift one."
        );
        Some(Unmet { breach: Breach::AllCovered, says, mend: Mend::LeaveOut })
    }

    /// Where it goes on a surface, as a maker measures it; on a thing its name comes first.
    pub(super) fn place_on(&self, surface: &Surface, units: Units) -> String {
        place_of((self.on, self.way, &self.veils), surface, units)
    }

    /// Where it goes, as a maker measures it: from the nearer end it touches, where the way has two ends to measure from.
    pub fn place(&self, size: (Length, Length), units: Units) -> String {
        place((self.on, self.way, &self.veils), size, units)
    }
}

/// What is laid on a thing, or the ground, along a way: over which reaches.
type Laid<'a> = (Option<usize>, Way, &'a [Reach]);

/// Where reaches lie on a surface, as a maker measures it; on a thing its name comes first.
pub(super) fn place_of(laid: Laid, surface: &Surface, units: Units) -> String {
    let (on, ..) = laid;
    let place = place(laid, surface.materials.extent(on).size, units);
    match on.and_then(|thing| surface.materials.masks.things.get(thing)) {
        Some(thing) if thing.used == Use::Raised => format!("over the raised {}, {place}", thing.name),
        Some(thing) => format!("inside the {} of the {}, {place}", thing.called(Part::Frame), thing.name),
        None => place,
    }
}

fn place((on, way, veils): Laid, size: (Length, Length), units: Units) -> String {
    let (span, Reach { from, to }) = (way.span(size), extent(veils));
    let shown = |length: Length| length.shown(units).to_string();
    let range = |a: Length, b: Length| {
        if a == b { shown(a) } else { format!("{} to {}", a.shown(units).number(), shown(b)) }
    };
    let inner_from = veils.iter().map(|veil| veil.from).max().unwrap_or_default();
    let inner_to = veils.iter().map(|veil| veil.to).min().unwrap_or_default();
    // A thing has edges and corners of its own.
    let whose = if on.is_some() && way.starts_off_the_card() { "its" } else { "the" };
    let (begins, ends) = (format!("{whose} {}", way.from()), format!("{whose} {}", way.to()));
    let how = way.how_measured();
    match (from == Length::ZERO, to == span && way.runs_on()) {
        (true, true) if on.is_some() => "all over it, on and off past its edges".into(),
        (true, true) => "over the whole panel, on and off past the edges".into(),
        (true, false) if way.starts_off_the_card() => {
            format!("start off {begins}, fade out {} from it{how}", range(inner_to, to))
        }
        (true, false) => format!("start at {begins}, fade out {} from it{how}", range(inner_to, to)),
        (false, true) if way.has_two_ends() => {
            let (near, far) = (span - inner_from, span - from);
            format!("start off {ends}, fade out {} from it{how}", range(near, far))
        }
        (false, true) => {
            format!("over {ends}, fading out {} from {begins}{how}", range(from, inner_from))
        }
        (false, false) => {
            format!("between {} and {} from {begins}, fading out both ways{how}", shown(from), shown(to))
        }
    }
}

/// The stretch that some reaches touch.
fn extent(veils: &[Reach]) -> Reach {
    let from = veils.iter().map(|veil| veil.from).min().unwrap_or_default();
    let to = veils.iter().map(|veil| veil.to).max().unwrap_or_default();
    Reach { from, to }
}

/// A brush on wet card scrubs it up.
fn wet(surface: &Surface) -> Option<Unmet> {
    surface.wet_film().map(|_| Unmet {
        breach: Breach::BrushOnWet,
        says: "The card is still wet: a brush worked over it scrubs it up into pills. Let it dry first."
            .into(),
        mend: Mend::DryFirst,
    })
}

/// So many light passes, in words.
pub fn light_passes(n: usize) -> String {
    if n == 1 { "1 light pass".into() } else { format!("{n} light passes") }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::place::Point;

    #[test]
    fn measures_are_taken_from_where_the_ink_starts() {
        let inches = Length::from_inches;
        let size = (inches(4), inches(5));
        let place = |way: Way, from, to| {
            let veils = vec![Reach { from: inches(from), to: inches(to) }];
            Laying { ink: 0, on: None, way, round: 1, veils }.place(size, Units::Inches)
        };
        assert_eq!(place(Way::DOWN, 0, 2), "start off the top edge, fade out 2 in from it");
        assert_eq!(place(Way::DOWN, 3, 5), "start off the bottom edge, fade out 2 in from it");
        let veils = vec![Reach { from: inches(0), to: inches(1) }];
        let on_a_thing = Laying { ink: 0, on: Some(0), way: Way::UP, round: 1, veils };
        assert_eq!(on_a_thing.place(size, Units::Inches), "start off its bottom edge, fade out 1 in from it");
        assert_eq!(place(Way::DOWN, 1, 4), "between 1 in and 4 in from the top edge, fading out both ways");
        let vignette = Way::Vignette { corners: Length::ZERO };
        assert_eq!(place(vignette, 0, 1), "start off the edge, all round, fade out 1 in from it");
        let glow = Way::Glow {
            centre: Point { left: inches(2), top: inches(1) },
            across: inches(3),
            down: inches(3),
        };
        let over = "over the rest, out to the edges, fading out 2 in from the centre of the glow";
        assert_eq!(place(glow, 2, 3), over);
    }
}
