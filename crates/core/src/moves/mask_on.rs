//! Put a mask on: the frame of a thing, or its plug, pressed down at its edges.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::rules::{Breach, Mend, Stage, Unmet};
use super::technique::{Technique, Words};
use super::unset;
use crate::ink::measured;
use crate::learn::Figure;
use crate::length::{Length, Units};
use crate::place::Point;
use crate::shape::Use;
use crate::surface::masks::Masked;
use crate::surface::{Mask, Materials, Part, Surface};
use crate::thing::Between;

/// A mask put on.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(transparent)]
pub struct MaskOn(pub Mask);

impl Technique for MaskOn {
    fn is_possible(&self, stage: &Stage) -> bool {
        self.0.thing < stage.things
    }

    fn act(&self, surface: &mut Surface) {
        surface.cover_with(self.0);
    }

    fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
        unmet(surface, self.0)
    }

    fn paced(&self, with: &Materials) -> Option<(Figure, f64)> {
        let moved_on = with.masks.is_moved_on(self.0);
        Some((Figure::MaskOn, if moved_on { measured::MOVED_ON } else { 1.0 }))
    }

    fn made(&self) -> Option<&'static str> {
        Some("masked")
    }

    fn words(&self, surface: &Surface, units: Units) -> Words {
        let masks = &surface.materials.masks;
        let thing = &masks.things[self.0.thing];
        let (part, name) = (thing.called(self.0.part), &thing.name);
        let is_frame = self.0.part == Part::Frame;
        let taped = thing.between.filter(|_| is_frame).map(|between| open_between(between, units));
        let press = " Press its edges down with a bone folder through scrap card.";
        if thing.used == Use::Tape {
            let side = if is_frame { "outside it" } else { "inside it" };
            let how = format!("Low-tack tape along {}, {side}.{press}", lines(surface, thing, units));
            return Words { title: format!("Tape along the edge of the {name}"), how, care: None };
        }
        let lies = |of: &dyn Fn(&Masked) -> bool| {
            surface
                .masks
                .iter()
                .any(|mask| mask.part == self.0.part && masks.things.get(mask.thing).is_some_and(of))
        };
        if is_frame && lies(&|other| other.is_twin(thing)) {
            let how = match taped {
                Some(open) => format!("The {part} stays where it is. Tape off all of it but {open}.{press}"),
                None => format!("The {part} stays where it is. Take the tape off it."),
            };
            return Words { title: format!("Move the tape to the {name}"), how, care: None };
        }
        let counters = match thing.counters {
            _ if !is_frame => String::new(),
            0 => String::new(),
            1 => " Put its counter in too.".into(),
            n => format!(" Put its {n} counters in too."),
        };
        let is_again = is_frame && surface.is_outlined(self.0.thing);
        let is_used = thing.piece(self.0.part).is_some_and(|piece| surface.last_of(piece).is_some());
        let (title, where_to) = self.put_where(surface, units);
        let wiped = if is_used && !is_again { "The same piece as before: wipe it dry. " } else { "" };
        let slid = match (thing.used, self.0.part) {
            (Use::Slide, Part::Frame) => " Slide it up until its foot lies along the line.",
            (Use::Slide, Part::Plug) => " Its top lies along the line, and it covers all below.",
            _ => "",
        };
        let open = taped.map_or_else(String::new, |open| format!(" Tape off all of it but {open}."));
        let held = match (thing.used, is_frame) {
            (Use::Stencil, true) if thing.is_fine() => {
                " Its ribs are thin: low-tack spray on its back, or a sticky mat, keeps them down; spray into a box, away from \
                 flame, and let air in."
            }
            (Use::Stencil, true) => " Its ribs are broad: magnets, or tape at its edges, hold it.",
            _ => "",
        };
        let stands_off = self.stands_off(surface);
        let how =
            format!("{wiped}Stick the {part} {where_to}.{slid}{counters}{open}{held}{press}{stands_off}");
        Words { title, how, care: None }
    }

    fn with_things_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<MaskOn> {
        Some(MaskOn(Mask { thing: to(self.0.thing)?, ..self.0 }))
    }

    fn mask(&self) -> Option<Mask> {
        Some(self.0)
    }
}

/// What is not as it must be before a mask is put on.
pub(super) fn unmet(surface: &Surface, mask: Mask) -> Vec<Unmet> {
    let masks = &surface.materials.masks;
    let what = masks.called(mask);
    if surface.masks.contains(&mask) {
        let says = format!("{} lies there already: leave this out.", crate::say::capital(&what));
        return vec![Unmet { breach: Breach::NoSuchMask, says, mend: Mend::LeaveOut }];
    }
    if let Some(squashed) = unset::squashed(surface) {
        return vec![squashed];
    }
    let beneath = masks.plots.iter().filter(|plot| plot.is_covered(mask));
    // Under another mask the ink is out of its reach.
    let bare =
        |plot: &&crate::surface::masks::Plot| !surface.masks.iter().any(|other| plot.is_covered(*other));
    let damp = beneath.filter(bare).find_map(|plot| surface.damp_on(plot));
    let unmet = damp.map(|damp| {
        let damp = damp.called(&surface.materials);
        let says = format!(
            "{damp} still damp where {what} goes: it would not stick, and would lift the ink. Let it dry first."
        );
        Unmet { breach: Breach::MaskOnDamp, says, mend: Mend::DryFirst }
    });
    unmet.into_iter().collect()
}

impl MaskOn {
    /// What to do where it lies half on another mask: there it stands off the card.
    fn stands_off(&self, surface: &Surface) -> String {
        let plots = &surface.materials.masks.plots;
        let is_half_on = |lower: &&Mask| {
            let beneath = |covered: bool| {
                plots.iter().any(|plot| plot.is_covered(**lower) && plot.is_covered(self.0) == covered)
            };
            **lower != Mask::BORDER
                && surface.materials.masks.overlap(self.0, **lower)
                && beneath(true)
                && beneath(false)
        };
        let lower: Vec<String> = surface
            .masks
            .iter()
            .filter(is_half_on)
            .map(|lower| surface.materials.masks.called(*lower))
            .collect();
        match lower.as_slice() {
            [] => String::new(),
            all => format!(
                " It lies half on {} and stands off the card there: press it into that edge, and brush away from it.",
                all.join(" and ")
            ),
        }
    }

    /// What is done with it, and where it goes.
    fn put_where(&self, surface: &Surface, units: Units) -> (String, String) {
        let things = &surface.materials.masks.things;
        let thing = &things[self.0.thing];
        let (part, name) = (thing.called(self.0.part), &thing.name);
        let is_frame = self.0.part == Part::Frame;
        let other = Mask { part: if is_frame { Part::Plug } else { Part::Frame }, ..self.0 };
        let beside = surface.masks.contains(&other);
        let put = format!("Put on the {part} of the {name}");
        if is_frame && surface.is_outlined(self.0.thing) {
            let back = format!("Put the {part} of the {name} back");
            return (back, "down in register, its corners on the marks".into());
        }
        if is_frame && beside {
            return (put, "down round its plug, edge to edge".into());
        }
        if is_frame && surface.is_in_register(self.0.thing) {
            return (put, "down in register with the one before, its corners on the marks".into());
        }
        if !is_frame && beside && !thing.is_loose {
            return (put, "down into the hole of its frame, so that no card shows between".into());
        }
        if let Some(lay) = thing.piece(self.0.part).and_then(|piece| surface.last_of(piece)) {
            let from = things[lay.thing].at;
            if from == thing.at {
                return (format!("Put the {part} of the {name} back"), "down where it lay".into());
            }
            return (
                format!("Move the {part} on to the {name}"),
                format!("down {}", moved(from, thing.at, units)),
            );
        }
        let (corner, size) = (thing.extent.corner, thing.extent.size);
        let left = (corner.left + size.0 / 2).shown(units);
        let top = (corner.top + size.1 / 2).shown(units);
        (put, format!("down with its middle {left} from the left and {top} from the top edge"))
    }
}

/// How far a piece goes from where it lay to another place.
fn moved(from: Point, to: Point, units: Units) -> String {
    let way = |from: Length, to: Length, less: &str, more: &str| match to.cmp(&from) {
        std::cmp::Ordering::Less => Some(format!("{} {less}", (from - to).shown(units))),
        std::cmp::Ordering::Equal => None,
        std::cmp::Ordering::Greater => Some(format!("{} {more}", (to - from).shown(units))),
    };
    let ways = [
        way(from.top, to.top, "further up", "further down"),
        way(from.left, to.left, "to the left", "to the right"),
    ];
    let ways: Vec<String> = ways.into_iter().flatten().collect();
    format!("{} of where it lay", ways.join(" and "))
}

/// The part of a stencil that tape leaves open.
fn open_between(Between { upright, from, to }: Between, units: Units) -> String {
    let side = if upright { "left" } else { "top" };
    format!("what lies between {} and {} from its {side}", from.shown(units).number(), to.shown(units))
}

/// The straight edges of a thing that lie on the panel, by their distance from its edges.
fn lines(surface: &Surface, thing: &Masked, units: Units) -> String {
    let (corner, size, (width, height)) = (thing.extent.corner, thing.extent.size, surface.materials.size);
    let within = |at: Length, side: Length| at > Length::ZERO && at < side;
    let said = |at: Length, from: &str| format!("{} from the {from}", at.shown(units));
    let level = [corner.top, corner.top + size.1].map(|at| within(at, height).then(|| said(at, "top")));
    let upright = [corner.left, corner.left + size.0].map(|at| within(at, width).then(|| said(at, "left")));
    let lines: Vec<String> = level.into_iter().chain(upright).flatten().collect();
    format!("its edge{}, {}", if lines.len() == 1 { "" } else { "s" }, lines.join(" and "))
}
