//! Brush an ink round a thing: off its plug on to the card, strong at its edge and gone a little further out.
//!
//! It comes over what has been laid and has dried, so the plug is put back on dry ink. White sets a word off from a loose ground.

use std::f64::consts::PI;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::laying::light_passes;
use super::rules::{Breach, Mend, Stage, Unmet};
use super::step::{Begun, Offer, Step, scaled};
use super::technique::{Technique, Words};
use super::telling::{About, Telling};
use super::unset::{hot, squashed};
use crate::ink::drawer::MOST_VEILS;
use crate::ink::{Ink, measured};
use crate::learn::Figure;
use crate::length::{Length, Units};
use crate::place::Resized;
use crate::shape::{Region, Use};
use crate::surface::{Mask, Masks, Materials, Part, Surface, Wet};
use crate::thing::Thing;
use crate::water::effect::Where;
use crate::water::{Effect, Raster};

/// An ink brushed round a thing.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Edging {
    /// The thing, by its place from front to back, from 0.
    pub thing: usize,
    /// The ink, by its place in the panel's list, from 0.
    pub ink: usize,
    /// Light passes.
    pub passes: u8,
    /// How far out it reaches.
    pub reach: Length,
}

/// How far out it may reach, least and most (chosen: what a brush keeps to, and a wide glow).
const REACH: (Length, Length) = (Length::from_64ths(8), Length::from_64ths(40));
/// Millimetres within its edge at which the strokes begin, on the plug (chosen: half a brush).
const BEGINS: f64 = 5.0;
/// Light passes to begin with (chosen: a soft rim).
const USUAL: u8 = 4;

/// What lies round a thing then.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash)]
struct Rim {
    thing: usize,
    ink: usize,
    reach: Length,
    /// At the edge, in thousandths of a full swatch.
    thousandths: u32,
}

impl Wet for Rim {
    fn effect(&self, at: Where, masks: &Masks) -> Effect {
        let Some(thing) = masks.things.get(self.thing) else { return Effect::default() };
        let (depth, reach) = (thing.depth(), self.reach.mm());
        let full = f64::from(self.thousandths) / 1_000.0;
        let empty = Raster::empty(at.size_mm());
        let lies = |cell: usize| {
            let (x, y) = empty.middle(cell);
            match -depth.at(x, y) {
                out if out < -BEGINS => 0.0,
                out => (full * 0.5 * (1.0 + (PI * (out / reach).clamp(0.0, 1.0)).cos())) as f32,
            }
        };
        Effect::of_ink(self.ink, empty.like(lies))
    }

    fn inks(&self) -> Vec<usize> {
        vec![self.ink]
    }

    fn has_shape(&self) -> bool {
        true
    }
}

impl Edging {
    /// Of an ink round a thing, as it usually is.
    pub const fn of(thing: usize, ink: usize, units: Units) -> Edging {
        let reach = match units {
            Units::Inches => Length::from_64ths(32),
            Units::Millimetres => Length::from_tenths_mm(100),
        };
        Edging { thing, ink, passes: USUAL, reach }
    }

    const fn plug(&self) -> Mask {
        Mask { thing: self.thing, part: Part::Plug }
    }

    fn name<'a>(&self, surface: &'a Surface) -> &'a str {
        surface.materials.masks.things.get(self.thing).map_or("", |thing| thing.name.as_str())
    }

    /// What of the panel it is brushed over, in square millimetres.
    fn area(&self, with: &Materials) -> f64 {
        let (Some(thing), (wide, high)) = (with.masks.things.get(self.thing), with.size_mm()) else {
            return 0.0;
        };
        let panel = Region::rect(0.0, 0.0, wide, high);
        thing.shape().grown(self.reach.mm()).minus(thing.shape()).intersected(&panel).area()
    }

    /// The thing that it is usually put round: the foremost word, or else the foremost thing that has a plug, or what stands out
    /// behind that.
    fn usual(about: &About) -> Option<usize> {
        let foremost = |is_one: &dyn Fn(&Thing) -> bool| about.things.iter().position(is_one);
        let has_plug =
            |thing: &Thing| !thing.is_printed() && matches!(thing.shape.used, Use::Mask | Use::Stencil);
        let word = foremost(&|thing| thing.shape.is_word() && has_plug(thing));
        let first = word.or_else(|| foremost(&has_plug))?;
        let stands_out = |other: &Thing| !other.over && about.things[first].is_company(other);
        Some(about.things.iter().rposition(stands_out).unwrap_or(first))
    }
}

impl Step for Edging {
    const OFFERS: &'static [Offer] = &[
        Offer { key: "edging-white", words: "Brush white round a shape", has_stencil: false },
        Offer { key: "edging", words: "Brush an ink round a shape", has_stencil: false },
    ];
    const NAME: &'static str = "edging";
    const LIMITS: &'static str = "name a thing and an ink of the panel, 1 to 24 light passes, and let it reach 1/8 in (3.18 mm) to 5/8 in (15.88 mm) out";

    fn begun(offer: &str, about: &mut About) -> Result<Begun<Edging>, String> {
        let ink = if offer == "edging-white" { about.white() } else { about.dark() }?;
        let nothing =
            "There is nothing on the panel to brush round: put a shape or a word on it first, on Cover.";
        let thing = Edging::usual(about).ok_or(nothing)?;
        Ok(Begun::last(Edging::of(thing, ink, about.units)))
    }

    fn tell(&mut self, told: &mut Telling) {
        told.say("Brush ");
        told.ink("ink", "The ink that is brushed round it", &mut self.ink);
        told.say(" round the ");
        told.thing("thing", "What it is brushed round", &mut self.thing);
        told.say(", off its plug, ");
        told.count("passes", "Light passes", &mut self.passes);
        told.say(if self.passes == 1 { " light pass, gone " } else { " light passes, gone " });
        told.length("reach", "How far out it reaches", &mut self.reach);
        told.say(" out");
    }

    fn scaled(&self, percent: u32) -> Result<Edging, &'static str> {
        Ok(Edging { passes: scaled(self.passes.into(), percent, MOST_VEILS.into()) as u8, ..*self })
    }

    fn covers(&self) -> Option<usize> {
        Some(self.thing)
    }

    fn is_wet(&self) -> bool {
        false
    }

    fn ink_mut(&mut self) -> Option<&mut usize> {
        Some(&mut self.ink)
    }

    fn carried(&self, to: &Resized) -> Edging {
        let (wider, higher) = to.ratio();
        let reach = Length::nearest(self.reach.mm() * wider.min(higher), to.units.pencil());
        Edging { reach: reach.clamp(REACH.0, REACH.1), ..*self }
    }
}

impl Technique for Edging {
    fn is_possible(&self, stage: &Stage) -> bool {
        self.thing < stage.things
            && self.ink < stage.inks
            && (1..=MOST_VEILS).contains(&self.passes)
            && (REACH.0..=REACH.1).contains(&self.reach)
    }

    fn act(&self, surface: &mut Surface) {
        let swatches = f64::from(self.passes) / surface.materials.full_veils(self.ink);
        let Edging { thing, ink, reach, .. } = *self;
        surface.wet(Rim { thing, ink, reach, thousandths: (1_000.0 * swatches).round() as u32 });
    }

    fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
        if let Some(unmet) = squashed(surface).or_else(|| hot(surface)) {
            return vec![unmet];
        }
        if surface.masks.contains(&self.plug()) {
            return Vec::new();
        }
        let says = format!(
            "Nothing covers the {}: what is brushed round it would come on it too. Put its plug on first.",
            self.name(surface)
        );
        vec![Unmet { breach: Breach::NoPlug, says, mend: Mend::MaskFirst(self.plug()) }]
    }

    fn paced(&self, with: &Materials) -> Option<(Figure, f64)> {
        let pass = (self.area(with) / measured::FIELD_MM2).max(measured::LEAST_PASS);
        Some((Figure::LightPass, f64::from(self.passes) * pass * with.tool.kind.pace()))
    }

    fn made(&self) -> Option<&'static str> {
        Some("brushed round its edge")
    }

    fn words(&self, surface: &Surface, units: Units) -> Words {
        let (name, ink) = (self.name(surface), &surface.materials.inks[self.ink]);
        let own = |ink: &Ink| surface.materials.brushes.iter().find(|brush| brush.kept_for.is_meant_for(ink));
        let brush = own(ink)
            .map_or("a clean brush".to_owned(), |brush| format!("{}, which takes no other", brush.name));
        let how = format!(
            "With {brush}: dab most of {} off on scrap, begin on the plug and brush outwards, off its edge, all round. {}, strong \
             at the edge and gone {} out. What lies there is covered by it: flecks that are to show come after.",
            ink.name,
            crate::say::capital(&light_passes(self.passes.into())),
            self.reach.said(units)
        );
        Words { title: format!("Brush {} round the {name}", ink.name), how, care: None }
    }

    fn wets(&self) -> bool {
        true
    }

    fn with_inks_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Edging> {
        Some(Edging { ink: to(self.ink)?, ..*self })
    }

    fn with_things_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Edging> {
        Some(Edging { thing: to(self.thing)?, ..*self })
    }
}
