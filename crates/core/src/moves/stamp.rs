//! Stamp a shape: ink from its pad, pressed straight on the card, once where the shape stands or print beside print over all of it.
//!
//! A lighter ink of the same set, or white, over a finished ground comes out tone on tone. A second print on the first makes it
//! stronger: the stamp stays in its press, so that it comes down on the same place again.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::rules::{Breach, Mend, Stage, Unmet};
use super::step::{Begun, Offer, Step};
use super::technique::{Technique, Words};
use super::telling::{About, Telling};
use super::unset::{hot, squashed};
use crate::ink::{Ink, Kind};
use crate::learn::Figure;
use crate::length::{Length, Units};
use crate::place::Resized;
use crate::shape::Region;
use crate::shape::coverage::Coverage;
use crate::surface::{Mask, Masks, Materials, Part, Surface, Wet};
use crate::water::effect::Where;
use crate::water::fibre::grain;
use crate::water::raster::CELL;
use crate::water::{Effect, Raster};

/// A stamp inked and pressed.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Stamp {
    /// The thing whose shape is on the stamp, by its place from front to back, from 0.
    pub thing: usize,
    /// The ink, by its place in the panel's list, from 0.
    pub ink: usize,
    /// Whether each print is pressed once more on itself.
    #[serde(default, skip_serializing_if = "std::ops::Not::not")]
    pub twice: bool,
    /// From the middle of one print to the next, across and down, each second row half of it on; one print alone, where its
    /// thing stands, where nothing is said.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub apart: Option<Length>,
}

/// What a print leaves of an ink, in full swatches, and a second one on it (chosen: rubber brings less than a pad, and wet rubber
/// takes some of the first up again).
const LEAVES: [f32; 2] = [0.5, 0.35];
/// How unevenly, by the card's tooth.
const UNEVEN: f32 = 0.18;
/// How far apart prints can be, least and most.
const APART: (Length, Length) = (Length::from_64ths(16), Length::from_inches(12));
/// Most prints beside one another on a panel (chosen: more than any hand has patience for).
const MOST: f64 = 400.0;

/// What a stamp on damp card comes to.
pub(super) fn too_damp(name: &str) -> Unmet {
    let says = format!(
        "The card is still damp: the stamp of the {name} would take up what lies there, and the print would bleed. Let it dry first."
    );
    Unmet { breach: Breach::PadOnDamp, says, mend: Mend::DryFirst }
}

/// How long a print is left alone.
pub(super) const fn hands_off(kind: Kind) -> &'static str {
    match kind {
        Kind::Pigment => "Do not touch it before it is dry: paint stays wet long.",
        Kind::Dye | Kind::Oxide => "Do not touch it before it is dry.",
    }
}

impl Stamp {
    /// Where prints lie, from where its thing stands, in millimetres: all that touch a panel of this size.
    fn prints(&self, masks: &Masks, (wide, high): (f64, f64)) -> Vec<[f64; 2]> {
        let Some((least, most)) = masks.things.get(self.thing).and_then(|thing| thing.shape().bounds())
        else {
            return Vec::new();
        };
        let Some(apart) = self.apart.map(Length::mm) else { return vec![[0.0, 0.0]] };
        let reaches = |axis: usize, side: f64, off: f64| {
            let from = ((-most[axis] - off) / apart).ceil() as i64;
            from..=((side - least[axis] - off) / apart).floor() as i64
        };
        let row = |row: i64| {
            let off = if row.rem_euclid(2) == 1 { 0.5 * apart } else { 0.0 };
            let places = reaches(0, wide, off);
            places.map(move |column| [column as f64 * apart + off, row as f64 * apart])
        };
        reaches(1, high, 0.0).flat_map(row).collect()
    }

    fn name<'a>(&self, surface: &'a Surface) -> &'a str {
        surface.materials.masks.things.get(self.thing).map_or("", |thing| thing.name.as_str())
    }
}

impl Wet for Stamp {
    fn effect(&self, at: Where, masks: &Masks) -> Effect {
        let size = at.size_mm();
        let Some(thing) = masks.things.get(self.thing) else { return Effect::default() };
        let mut touched = Raster::empty(size);
        let (columns, rows) = (touched.columns, touched.rows);
        let card = Region::rect(0.0, 0.0, columns as f64 * CELL, rows as f64 * CELL);
        for [right, below] in self.prints(masks, size) {
            let print = thing.shape().moved(|[x, y]| [x + right, y + below]).intersected(&card);
            let covered = Coverage::of(&print, (columns, rows), (CELL, CELL));
            for (row, line) in touched.cells.chunks_mut(columns).enumerate() {
                for (across, shares) in covered.runs(row) {
                    // A place that is stamped twice over is no more touched than once.
                    line[across].iter_mut().zip(shares).for_each(|(cell, share)| *cell = cell.max(*share));
                }
            }
        }
        let mut left = Raster::empty(size);
        for (time, leaves) in LEAVES.iter().enumerate().take(1 + usize::from(self.twice)) {
            let tooth = grain(size, at.seed, 1_300 + 2 * at.nth + time as u64);
            left.change(|cell, ink| {
                let uneven = (1.0 + UNEVEN * tooth.cells[cell]).clamp(0.4, 1.6);
                *ink += leaves * touched.cells[cell] * uneven;
            });
        }
        Effect::of_ink(self.ink, left)
    }

    fn inks(&self) -> Vec<usize> {
        vec![self.ink]
    }

    fn load(&self) -> f64 {
        0.1
    }

    fn has_shape(&self) -> bool {
        true
    }
}

impl Step for Stamp {
    const OFFERS: &'static [Offer] = &[
        Offer { key: "stamp", words: "Stamp a shape in a lighter ink", has_stencil: true },
        Offer { key: "stamp-white", words: "Stamp a shape in white", has_stencil: true },
    ];
    const NAME: &'static str = "stamp";
    const LIMITS: &'static str = "name a thing and an ink of the panel, and press prints 1/4 in (6.35 mm) to 12 in (304.8 mm) apart, up to 400 of them";

    fn begun(offer: &str, about: &mut About) -> Result<Begun<Stamp>, String> {
        let lightest = |about: &mut About| {
            let light = about.best(|ink: &Ink| ink.kind != Kind::Pigment, |ink| ink.lab().l);
            light.ok_or_else(|| "There is no ink in the drawer: tell the drawer of one first.".to_owned())
        };
        let ink = if offer == "stamp-white" { about.white() } else { lightest(about) }?;
        Ok(Begun::last(Stamp { thing: about.stencil, ink, twice: false, apart: None }))
    }

    fn tell(&mut self, told: &mut Telling) {
        told.say("Stamp the ");
        told.thing("thing", "Which shape", &mut self.thing);
        told.say(" in ");
        told.ink("ink", "The ink of the stamp", &mut self.ink);
        told.say(", ");
        let times = [("once", false, "once"), ("twice", true, "twice on the same place, for strength")];
        told.choice("times", "How often each print is pressed", &mut self.twice, &times);
        told.say(", ");
        let mut over = self.apart.is_some();
        let places = [("one", false, "where it stands"), ("over", true, "print beside print")];
        told.choice("over", "Where it is stamped", &mut over, &places);
        // Side by side, with a little room between.
        let usual = |about: &About| {
            let thing = about.things.get(self.thing)?;
            let (wide, high) = thing.extent(&thing.shape.outline().ok()?).size;
            Some((wide.max(high) + about.units.pencil() * 2).clamp(APART.0, APART.1))
        };
        self.apart = over.then(|| self.apart.or_else(|| usual(told.about)).unwrap_or(APART.1));
        if let Some(apart) = &mut self.apart {
            told.say(", ");
            told.length("apart", "From the middle of one print to the next", apart);
            told.say(" from middle to middle, each second row half of that on");
        }
    }

    /// More is closer together.
    fn scaled(&self, percent: u32) -> Result<Stamp, &'static str> {
        let apart = self.apart.ok_or("One print is one print: press it twice, or print beside print.")?;
        let sixty_fourth = Length::from_64ths(1);
        let is_inches = apart.div_rem(sixty_fourth).1 == Length::ZERO;
        let mark = if is_inches { sixty_fourth } else { Length::from_tenths_mm(1) };
        let closer = Length::nearest(apart.mm() * 100.0 / f64::from(percent), mark);
        Ok(Stamp { apart: Some(closer.clamp(APART.0, APART.1)), ..*self })
    }

    fn is_wet(&self) -> bool {
        false
    }

    fn ink_mut(&mut self) -> Option<&mut usize> {
        Some(&mut self.ink)
    }

    fn carried(&self, to: &Resized) -> Stamp {
        let (wider, higher) = to.ratio();
        let scaled = |apart: Length| Length::nearest(apart.mm() * wider.min(higher), to.units.pencil());
        Stamp { apart: self.apart.map(|apart| scaled(apart).clamp(APART.0, APART.1)), ..*self }
    }
}

impl Technique for Stamp {
    fn is_possible(&self, stage: &Stage) -> bool {
        let (wide, high) = stage.size;
        let is_apart = |apart: Length| {
            let prints = (1.0 + wide.ratio(apart)) * (1.0 + high.ratio(apart));
            (APART.0..=APART.1).contains(&apart) && prints <= MOST
        };
        self.thing < stage.things && self.ink < stage.inks && self.apart.is_none_or(is_apart)
    }

    fn act(&self, surface: &mut Surface) {
        surface.wet(*self);
    }

    fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
        if let Some(unmet) = squashed(surface).or_else(|| hot(surface)) {
            return vec![unmet];
        }
        if surface.is_damp() {
            return vec![too_damp(self.name(surface))];
        }
        let own = Mask { thing: self.thing, part: Part::Plug };
        let covered = self.apart.is_none() && surface.masks.contains(&own);
        let says = || {
            format!(
                "The plug of the {} lies where it is stamped: the print would be on that. Lift it first.",
                self.name(surface)
            )
        };
        let mend = Mend::LiftFirst(own);
        covered.then(|| Unmet { breach: Breach::AllCovered, says: says(), mend }).into_iter().collect()
    }

    fn paced(&self, _: &Materials) -> Option<(Figure, f64)> {
        self.apart.is_none().then_some((Figure::Print, 1.0 + f64::from(u8::from(self.twice))))
    }

    fn hands(&self, with: &Materials) -> u32 {
        let prints = self.prints(&with.masks, with.size_mm()).len().max(1) as u32;
        prints * (1 + u32::from(self.twice)) * with.seconds(Figure::Print, Some(self.ink))
    }

    fn made(&self) -> Option<&'static str> {
        Some("stamped")
    }

    fn words(&self, surface: &Surface, units: Units) -> Words {
        let name = self.name(surface);
        let ink = &surface.materials.inks[self.ink];
        let over = match self.apart {
            None => "Press it down where the picture shows it, straight, and lift it straight up.".to_owned(),
            Some(apart) => {
                let count = self.prints(&surface.materials.masks, surface.materials.size_mm()).len();
                format!(
                    "Press it print beside print, {} from middle to middle, each second row half of that on: {count} prints, \
                     past the edge too. Straight down and straight up; ink it anew for each.",
                    apart.said(units)
                )
            }
        };
        let twice = match (self.twice, self.apart) {
            (false, _) => "",
            (true, None) => " Leave it in its press, ink it again and press it once more on the same place.",
            (true, Some(_)) => " Ink it again and press each once more on itself before you go on.",
        };
        let wait = hands_off(ink.kind);
        let how = format!(
            "Lay scrap paper under the card. Tap the pad of {} on the stamp until it is even; try it on scrap first. \
             {over}{twice} {wait} Wipe the stamp clean before the ink dries on it.",
            ink.name
        );
        Words { title: format!("Stamp the {name} in {}", ink.name), how, care: None }
    }

    fn wets(&self) -> bool {
        true
    }

    fn with_inks_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Stamp> {
        Some(Stamp { ink: to(self.ink)?, ..*self })
    }

    fn with_things_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Stamp> {
        Some(Stamp { thing: to(self.thing)?, ..*self })
    }
}

#[cfg(test)]
mod tests {
    use std::sync::Arc;

    use super::*;
    use crate::colour::Colour;
    use crate::edges::Border;
    use crate::ink::{Finish, Paper, Tool, ToolKind};
    use crate::place::Point;
    use crate::shape::kept::Figure as Drawing;
    use crate::shape::{Drawn, Shape, family};
    use crate::thing::Thing;

    /// A round thing in the middle of a card.
    fn materials() -> Arc<Materials> {
        let drawn = Drawn::usual(family::find("circle").unwrap());
        let shape = Shape::new("buoy".parse().unwrap(), Drawing::Drawn(drawn));
        let size = (Length::from_inches(4), Length::from_inches(5));
        let at = Point { left: Length::from_inches(2), top: Length::from_64ths(160) };
        let colour = |l: f64| Colour::Lab([l, -10.0, -20.0].into());
        let ink = Ink {
            name: "Sail".parse().unwrap(),
            kind: Kind::Dye,
            colour: colour(70.0),
            one_veil: None,
            full_veils: 6,
            on_ink: None,
        };
        let paper = Paper::plain(Finish::VerySmooth);
        let tool = Tool::one("Dome".parse().unwrap(), ToolKind::Brush);
        Materials::of(
            size,
            &paper,
            (&tool, &[]),
            &[ink],
            (None, Border::default(), &[Thing::new(shape, at)]),
            7,
        )
        .into()
    }

    fn stamp() -> Stamp {
        Stamp { thing: 0, ink: 0, twice: false, apart: None }
    }

    fn lies(stamp: Stamp) -> f64 {
        let materials = materials();
        let at = Where { size: materials.size, seed: 7, nth: 0, is_blotted: false };
        stamp.effect(at, &materials.masks).in_cells()[0].1
    }

    #[test]
    fn a_print_takes_its_shape_s_area_and_a_second_one_deepens_it_by_less() {
        let area = materials().masks.things[0].inside.area();
        let one = lies(stamp());
        assert!((one / (area * f64::from(LEAVES[0])) - 1.0).abs() < 0.05, "{one} {area}");
        let two = lies(Stamp { twice: true, ..stamp() });
        assert!(two > 1.3 * one && two < 2.0 * one, "{one} {two}");
    }

    #[test]
    fn prints_beside_one_another_come_to_as_many_as_the_panel_takes() {
        let materials = materials();
        let (wide, high) = materials.size_mm();
        let apart = Length::from_inches(2);
        let over = Stamp { apart: Some(apart), ..stamp() };
        let prints = over.prints(&materials.masks, (wide, high));
        for [x, y] in &prints {
            let twin = prints.iter().filter(|[u, v]| (u - x).abs() < 1e-6 && (v - y).abs() < 1e-6);
            assert_eq!(twin.count(), 1);
        }
        // As dense as the step says, wherever the shape stands.
        let area = materials.masks.things[0].inside.area();
        let share = area / apart.mm().powi(2);
        let meant = wide * high * share * f64::from(LEAVES[0]);
        assert!((lies(over) / meant - 1.0).abs() < 0.2, "{} {meant}", lies(over));
        let closer = over.scaled(140).unwrap();
        assert!(closer.apart < over.apart && over.scaled(70).unwrap().apart > over.apart);
    }

    #[test]
    fn more_prints_than_a_hand_has_patience_for_are_refused_and_none_is_left_out() {
        let stage = |apart: i64| {
            let size = (Length::from_inches(12), Length::from_inches(12));
            let stage = Stage { inks: 1, size, things: 1, boxes: &[] };
            Stamp { apart: Some(Length::from_64ths(apart)), ..stamp() }.is_possible(&stage)
        };
        assert!(!stage(8) && !stage(16) && !stage(36) && stage(42) && stage(64) && !stage(64 * 13));
        // Past every edge too: each corner of the card has a print near it.
        let materials = materials();
        let over = Stamp { apart: Some(Length::from_64ths(40)), ..stamp() };
        let at = Where { size: materials.size, seed: 7, nth: 0, is_blotted: false };
        let raster = &over.effect(at, &materials.masks).inks[0].1;
        let (wide, high) = materials.size_mm();
        for (x, y) in [(5.0, 5.0), (wide - 5.0, 5.0), (5.0, high - 5.0), (wide - 5.0, high - 5.0)] {
            assert!(raster.within((x, y), 16.0).any(|(cell, _)| raster.cells[cell] > 0.1), "{x} {y}");
        }
    }

    #[test]
    fn on_damp_card_it_is_refused_and_once_dry_not() {
        let mut surface = Surface::bare(materials());
        assert!(stamp().unmet(&surface).is_empty());
        stamp().act(&mut surface);
        assert_eq!(stamp().unmet(&surface)[0].mend, Mend::DryFirst);
        surface.dry();
        assert!(stamp().unmet(&surface).is_empty());
    }
}
