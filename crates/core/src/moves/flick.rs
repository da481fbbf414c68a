//! Flick or place flecks: of water, of thinned ink or paint, of mica.

use std::f64::consts::PI;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::rules::{Stage, Unmet};
use super::step::{Begun, Offer, Step, scaled};
use super::technique::{Technique, Words};
use super::telling::{About, Choice, Telling, times};
use super::wetting;
use crate::ink::Kind;
use crate::learn::Figure;
use crate::length::{Length, Units};
use crate::place::{Extent, Point, Resized};
use crate::say::capital;
use crate::surface::{Masks, Materials, Surface, Wet};
use crate::water::effect::Where;
use crate::water::flecks::{FleckLook, FlickedFrom, MOST_FLECKS};
use crate::water::{Effect, Flecks, Placed, Thrown};

/// Flecks flicked and placed.
#[derive(Clone, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(transparent)]
pub struct Flick(pub Flecks);

/// Seconds that water needs to loosen what it stands on (field: half a minute).
const SECONDS_OF_WATER: u32 = 30;
/// Flecks that one flick of a loaded brush throws, and of the edge of a block (chosen).
const A_FLICK: (u16, u16) = (45, 20);
/// Most places that are told one by one.
const TOLD: usize = 6;

impl Wet for Flick {
    fn effect(&self, at: Where, _: &Masks) -> Effect {
        Effect { drops: self.0.drops(at.size_mm(), &mut at.chance()), ..Effect::default() }
    }

    fn inks(&self) -> Vec<usize> {
        match self.0.of {
            Thrown::Ink(ink) => vec![ink],
            Thrown::Water | Thrown::Mica => Vec::new(),
        }
    }

    fn is_water(&self) -> bool {
        self.0.of == Thrown::Water
    }

    fn load(&self) -> f64 {
        0.5
    }

    fn flecks(&self) -> Option<&Flecks> {
        Some(&self.0)
    }

    fn taken(&self, effect: &Effect) -> Vec<(usize, f64)> {
        let drops = effect.drops.iter().enumerate();
        let all = drops.map(|(nth, drop)| PI * drop.radius.powi(2) * self.0.strength_of(nth)).sum();
        self.inks().into_iter().map(|ink| (ink, all)).collect()
    }
}

/// Looks that can be wished for, and places that can be kept clear, as a sentence has them.
const LOOKS: [(&str, FleckLook, &str); 3] = [
    ("sparse-sky", FleckLook::SparseSky, "sparse, as stars"),
    ("snow", FleckLook::Snow, "soft, as snow"),
    ("rain", FleckLook::Rain, "fine, as rain"),
];
const ONLY: [(&str, Clear, &str); 5] = [
    ("upper", Clear::Upper, "all but the upper third"),
    ("lower", Clear::Lower, "all but the lower third"),
    ("left", Clear::Left, "all but the left third"),
    ("right", Clear::Right, "all but the right third"),
    ("middle", Clear::Middle, "all but the middle"),
];

/// What of the panel stays clear of flecks.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
enum Clear {
    Upper,
    Lower,
    Left,
    Right,
    /// A square of half its width.
    Middle,
}

impl Clear {
    /// Where it lies on a panel of this size.
    fn of(self, (width, height): (Length, Length)) -> Extent {
        let (third, high) = (width / 3, height / 3);
        let at =
            |left: Length, top: Length, size: (Length, Length)| Extent { corner: Point { left, top }, size };
        match self {
            Clear::Upper => at(Length::ZERO, Length::ZERO, (width, high)),
            Clear::Lower => at(Length::ZERO, height - high, (width, high)),
            Clear::Left => at(Length::ZERO, Length::ZERO, (third, height)),
            Clear::Right => at(width - third, Length::ZERO, (third, height)),
            Clear::Middle => at(width / 4, height / 4, (width / 2, height / 2)),
        }
    }
}

impl Flick {
    /// The same with the figures of a look.
    fn looking(&mut self, look: FleckLook, size: (Length, Length)) {
        let Flecks { count, median, unlike, .. } = Flecks::of_look(self.0.of, look, size);
        (self.0.count, self.0.median, self.0.unlike) = (count, median, unlike);
    }

    /// Whether its figures are a look's.
    fn looks(&self, look: FleckLook, size: (Length, Length)) -> bool {
        let mut other = self.clone();
        other.looking(look, size);
        other == *self
    }
}

fn choice(key: &str, words: &str, is_chosen: bool) -> Choice {
    Choice { key: key.into(), words: words.into(), is_chosen }
}

impl Step for Flick {
    const OFFERS: &'static [Offer] = &[
        Offer { key: "water", words: "Flick water on it", has_stencil: false },
        Offer { key: "white", words: "Flick white on it", has_stencil: false },
        Offer { key: "ink", words: "Flick ink on it", has_stencil: false },
        Offer { key: "mica", words: "Flick mica on it", has_stencil: false },
    ];
    const NAME: &'static str = "flecks";
    const LIMITS: &'static str = "name an ink of the panel, flick up to 2000 of a radius of 0.05 to 8 mm, place up to 60 on the panel, \
                                  keep up to 12 places clear, thin with up to 8 parts of water";

    fn begun(offer: &str, about: &mut About) -> Result<Begun<Flick>, String> {
        let (of, look) = match offer {
            "white" => (Thrown::Ink(about.white()?), FleckLook::SparseSky),
            "ink" => (Thrown::Ink(about.dark()?), FleckLook::Snow),
            "mica" => (Thrown::Mica, FleckLook::Rain),
            _ => (Thrown::Water, FleckLook::SparseSky),
        };
        let flecks = Flecks::of_look(of, look, about.size);
        if of != Thrown::Water {
            return Ok(Begun::last(Flick(flecks)));
        }
        let large = Flecks { median: Length::from_hundredths_mm(80), water: 0, ..flecks };
        Ok(Begun::last(Flick(large)).blotted())
    }

    fn tell(&mut self, told: &mut Telling) {
        told.say("Flick ");
        told.thrown("ink", "What is flicked", &mut self.0.of, &[Thrown::Water, Thrown::Mica]);
        if self.0.of != Thrown::Water {
            told.say(", ");
            told.count("water", "Parts of water to one", &mut self.0.water);
            told.say(format!("{} water to 1", times(self.0.water.into(), "part", "parts")));
        }
        told.say(", ");
        let size = told.about.size;
        let looks = LOOKS.map(|(key, look, words)| choice(key, words, self.looks(look, size)));
        let picked = told.look("look", "How they look", looks.into(), "as you have set them");
        if let Some((_, look, _)) = LOOKS.iter().find(|(key, ..)| picked.as_deref() == Some(key)) {
            self.looking(*look, size);
        }
        told.say(", over ");
        let kept = self.0.clear.first().copied();
        let clears = ONLY.map(|(key, clear, words)| choice(key, words, kept == Some(clear.of(size))));
        let clears = [choice("none", "all of it", kept.is_none())].into_iter().chain(clears).collect();
        if let Some(picked) = told.look("clear", "Where they fall", clears, "all but a place of your own") {
            let one = ONLY.iter().find(|(key, ..)| picked == *key);
            self.0.clear = one.map(|(_, clear, _)| clear.of(size)).into_iter().collect();
        }
        if !self.0.placed.is_empty() {
            told.say(format!(", and set {} with ", self.0.placed.len()));
            let tips = [("brush", false, "the tip of a brush"), ("pen", true, "a pen, brighter")];
            told.choice("tip", "What they are set with", &mut self.0.by_pen, &tips);
        }
    }

    fn tell_more(&mut self, told: &mut Telling) {
        told.say("Flicked from ");
        let from = [
            ("brush", FlickedFrom::Brush, "a loaded brush"),
            ("block", FlickedFrom::Block, "the edge of a block"),
        ];
        told.choice("from", "What they are flicked from", &mut self.0.from, &from);
        told.say(": about ");
        told.count("count", "How many", &mut self.0.count);
        told.say(" flecks of ");
        told.across("size", "How large across", &mut self.0.median);
        told.say(" across, half of them smaller; how unlike they are: ");
        told.count("unlike", "How unlike, per cent", &mut self.0.unlike);
        told.say(" %. ");
    }

    fn scaled(&self, percent: u32) -> Result<Flick, &'static str> {
        let count = scaled(self.0.count.into(), percent, MOST_FLECKS.into()) as u16;
        Ok(Flick(Flecks { count, ..self.0.clone() }))
    }

    fn is_water(&self) -> bool {
        self.0.of == Thrown::Water
    }

    fn ink_mut(&mut self) -> Option<&mut usize> {
        match &mut self.0.of {
            Thrown::Ink(ink) => Some(ink),
            Thrown::Water | Thrown::Mica => None,
        }
    }

    fn flecks_mut(&mut self) -> Option<&mut Flecks> {
        Some(&mut self.0)
    }

    fn carried(&self, to: &Resized) -> Flick {
        let (wider, higher) = to.ratio();
        // As close together as they were.
        let count = (f64::from(self.0.count) * wider * higher).round() as u16;
        let placed = |placed: &Placed| Placed { at: to.at(placed.at), ..*placed };
        let clear = |clear: &Extent| Extent { corner: to.at(clear.corner), size: to.sides(clear.size) };
        Flick(Flecks {
            count: count.clamp(self.0.count.min(1), MOST_FLECKS),
            placed: self.0.placed.iter().map(placed).collect(),
            clear: self.0.clear.iter().map(clear).collect(),
            ..self.0.clone()
        })
    }
}

impl Technique for Flick {
    fn is_possible(&self, stage: &Stage) -> bool {
        self.0.is_possible(stage.inks, stage.size)
    }

    fn act(&self, surface: &mut Surface) {
        surface.wet(self.clone());
    }

    fn unmet(&self, surface: &Surface) -> Vec<Unmet> {
        wetting::unmet(surface, self)
    }

    fn paced(&self, _: &Materials) -> Option<(Figure, f64)> {
        match (self.0.count, self.0.placed.len()) {
            (_, 0) => Some((Figure::Flick, 1.0)),
            (0, placed) => Some((Figure::PlaceFleck, placed as f64)),
            _ => None,
        }
    }

    fn hands(&self, with: &Materials) -> u32 {
        let flicked = if self.0.count > 0 { with.seconds(Figure::Flick, None) } else { 0 };
        flicked + with.seconds(Figure::PlaceFleck, None) * self.0.placed.len() as u32
    }

    fn waits(&self, _: &Surface) -> u32 {
        if self.0.of == Thrown::Water { SECONDS_OF_WATER } else { 0 }
    }

    fn made(&self) -> Option<&'static str> {
        Some("flecked")
    }

    fn words(&self, surface: &Surface, units: Units) -> Words {
        let flecks = &self.0;
        let name = match flecks.of {
            Thrown::Water => "water".to_owned(),
            Thrown::Mica => "mica".to_owned(),
            Thrown::Ink(ink) => surface.materials.inks[ink].name.to_string(),
        };
        let thinned = match (flecks.of, flecks.water) {
            (Thrown::Water, _) => "Load a small brush with clean water".to_owned(),
            (_, 0) => format!("Take up {name} as it is"),
            (_, 1) => format!("Mix {name} with as much water: one drop to one drop"),
            (_, parts) => format!("Mix 1 drop of {name} with {parts} of water"),
        };
        let (a_flick, from) = match flecks.from {
            FlickedFrom::Brush => (A_FLICK.0, "from a hand's width away"),
            FlickedFrom::Block => (
                A_FLICK.1,
                "by drawing a finger over the edge of a block that you have spread it on, towards yourself",
            ),
        };
        let flicks = (flecks.count / a_flick).max(1);
        let times = if flicks == 1 { "once".into() } else { format!("about {flicks} times") };
        let flicked = (flecks.count > 0).then(|| {
            format!(
                "{thinned}; try it on scrap, then flick {times} {from}, for about {} flecks of {} across.",
                flecks.count,
                (flecks.median * 2).as_thickness(units)
            )
        });
        let placed = match flecks.placed.as_slice() {
            [] => None,
            some => {
                let tool = match flecks.of {
                    Thrown::Water => "the tip of the brush",
                    _ if flecks.by_pen => "a pen, straight from its tip",
                    _ => "the tip of a fine brush",
                };
                let at = |placed: &Placed| {
                    format!(
                        "{} from the left and {} from the top",
                        placed.at.left.said(units),
                        placed.at.top.said(units)
                    )
                };
                let told: Vec<String> = some.iter().take(TOLD).map(at).collect();
                let more = some.len().saturating_sub(TOLD);
                let more =
                    if more > 0 { format!("; {more} more as the picture shows") } else { String::new() };
                Some(format!("Place {} with {tool}: {}{more}.", some.len(), told.join("; ")))
            }
        };
        let clear = (!flecks.clear.is_empty())
            .then(|| "Scrap card lies over what stays clear, as the picture shows.".to_owned());
        let end = match flecks.of {
            Thrown::Water => "Wait half a minute.",
            Thrown::Ink(ink) if surface.materials.inks[ink].kind == Kind::Pigment => {
                "Do not touch it before it is dry: paint stays wet long."
            }
            _ => "Do not touch it before it is dry.",
        };
        let told: Vec<String> =
            clear.into_iter().chain(flicked).chain(placed).chain([end.to_owned()]).collect();
        let title = if flecks.count == 0 { "Place flecks of" } else { "Flick" };
        Words { title: format!("{title} {name}"), how: capital(&told.join(" ")), care: None }
    }

    fn wets(&self) -> bool {
        true
    }

    fn with_inks_moved(&self, to: &dyn Fn(usize) -> Option<usize>) -> Option<Flick> {
        let of = match self.0.of {
            Thrown::Ink(ink) => Thrown::Ink(to(ink)?),
            of => of,
        };
        Some(Flick(Flecks { of, ..self.0.clone() }))
    }
}
