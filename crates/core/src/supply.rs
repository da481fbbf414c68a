//! How much of what is on the shelf does a card take, and what is left of it?
//!
//! Ink is counted in full swatches: so many square millimetres inked as deep as the swatch. What a brush lays on a mask or
//! past the edge is gone all the same, and so is what stays on the mat. Powder and masking sheet are counted by their area,
//! tape by its length. How far a new one goes is only guessed at first; each time a new one is opened the guess is bettered by
//! what the last one has really done.

use std::collections::BTreeMap;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::ink::Name;
use crate::moves::Technique;
use crate::moves::technique::Takes;
use crate::order::pieces::taken;
use crate::panel::Panel;
use crate::surface::Surface;

/// Most things that are counted down.
pub const MOST: usize = 500;
/// How far a new one goes (chosen): a pad and a jar in square millimetres, a packet of masking sheet too, a roll of tape in
/// millimetres.
const A_PAD: u64 = 600_000;
const A_JAR: u64 = 150_000;
const A_PACKET: u64 = 600_000;
const A_ROLL: u64 = 10_000;
/// Below which share of it a supply is low (chosen).
pub const LOW: f64 = 0.2;
/// What must be gone of it before a new one says anything of how far one goes.
const LEARNS_FROM: f64 = 0.4;
/// Millimetres between places at which it is looked how much ink lies there.
const STEP: f64 = 3.0;
/// How far a frame or a sheet reaches past its shape, in millimetres.
const BORDER: f64 = 15.0;

/// What is counted down.
#[derive(Clone, Debug, PartialEq, Eq, PartialOrd, Ord, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Of {
    /// An ink.
    Ink(Name),
    /// Embossing powder.
    Powder,
    /// Masking sheet.
    MaskingSheet,
    /// Low-tack tape.
    Tape,
}

/// One on the shelf.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Supply {
    /// What.
    pub of: Of,
    /// How far a new one goes: in square millimetres, tape in millimetres.
    pub goes: u64,
    /// What is gone of the one that is open.
    pub used: u64,
}

/// Everything that is counted down.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(transparent)]
pub struct Shelf(pub Vec<Supply>);

impl Of {
    /// What it is called.
    pub fn name(&self) -> String {
        match self {
            Of::Ink(name) => name.to_string(),
            Of::Powder => "embossing powder".into(),
            Of::MaskingSheet => "masking sheet".into(),
            Of::Tape => "low-tack tape".into(),
        }
    }

    const fn goes(&self) -> u64 {
        match self {
            Of::Ink(_) => A_PAD,
            Of::Powder => A_JAR,
            Of::MaskingSheet => A_PACKET,
            Of::Tape => A_ROLL,
        }
    }
}

impl Supply {
    /// A new one.
    pub const fn new(of: Of) -> Supply {
        let goes = of.goes();
        Supply { of, goes, used: 0 }
    }

    /// The share of it that is left.
    pub fn left(&self) -> f64 {
        (1.0 - self.used as f64 / self.goes.max(1) as f64).clamp(0.0, 1.0)
    }

    /// Whether it is time to get another.
    pub fn is_low(&self) -> bool {
        self.used as f64 > (1.0 - LOW) * self.goes as f64
    }

    /// A new one is opened: what the last one has done betters the guess.
    #[must_use]
    pub fn opened(&self) -> Supply {
        let is_telling = self.used as f64 >= LEARNS_FROM * self.goes as f64;
        let goes =
            if is_telling { (self.goes as f64 * self.used as f64).sqrt().round() as u64 } else { self.goes };
        Supply { of: self.of.clone(), goes: goes.max(1), used: 0 }
    }

    /// The maker sees how much is left: that counts, and not what was reckoned.
    #[must_use]
    pub fn seen(&self, left: f64) -> Supply {
        let used = ((1.0 - left.clamp(0.0, 1.0)) * self.goes as f64).round() as u64;
        Supply { used, ..self.clone() }
    }
}

impl Shelf {
    /// Whether documents can hold it.
    pub fn is_possible(&self) -> bool {
        self.0.len() <= MOST && self.0.iter().all(|supply| supply.goes > 0)
    }

    /// New ones of all these inks, and of what else is counted; what is on the shelf stays as it is.
    #[must_use]
    pub fn with_inks<'a>(&self, inks: impl IntoIterator<Item = &'a Name>) -> Shelf {
        let mut shelf = self.clone();
        let of = inks.into_iter().cloned().map(Of::Ink);
        for of in of.chain([Of::Powder, Of::MaskingSheet, Of::Tape]) {
            if shelf.0.len() < MOST && !shelf.0.iter().any(|known| known.of == of) {
                shelf.0.push(Supply::new(of));
            }
        }
        shelf
    }

    /// The shelf once something has been taken of it; what is not counted is left uncounted.
    #[must_use]
    pub fn less(&self, taken: &BTreeMap<Of, f64>) -> Shelf {
        let after = |supply: &Supply| {
            let taken = taken.get(&supply.of).copied().unwrap_or(0.0);
            Supply { used: supply.used.saturating_add(taken.max(0.0).round() as u64), ..supply.clone() }
        };
        Shelf(self.0.iter().map(after).collect())
    }

    /// What there is not enough of for so much more.
    pub fn short_of(&self, taken: &BTreeMap<Of, f64>) -> Vec<&Supply> {
        let is_short = |supply: &&Supply| {
            let rest = supply.goes.saturating_sub(supply.used) as f64;
            taken.get(&supply.of).is_some_and(|taken| *taken > rest)
        };
        self.0.iter().filter(is_short).collect()
    }
}

/// What a panel takes, as its moves have it.
pub fn taken_by(panel: &Panel) -> BTreeMap<Of, f64> {
    let materials = panel.materials();
    let mut surface = Surface::bare(materials.clone());
    let (mut powder, mut tape) = (0.0, 0.0);
    let mut inks = vec![0.0; panel.inks.len()];
    for m in &panel.moves {
        for takes in m.takes(&surface) {
            match takes {
                Takes::Ink(ink, amount) => inks[ink] += amount,
                Takes::Powder(area) => powder += area,
                Takes::Tape(length) => tape += length,
            }
        }
        m.make(&mut surface);
    }
    for (ink, amount) in lying(&surface) {
        inks[ink] += amount;
    }
    let mut all: BTreeMap<Of, f64> = BTreeMap::new();
    let mut take = |of: Of, amount: f64| {
        if amount > 0.0 {
            *all.entry(of).or_default() += amount;
        }
    };
    for (ink, amount) in inks.into_iter().enumerate() {
        take(Of::Ink(panel.inks[ink].name.clone()), amount);
    }
    take(Of::Powder, powder);
    take(Of::Tape, tape);
    for pieces in taken(&panel.moves, &materials) {
        let thing = &materials.masks.things[pieces.thing];
        let (wide, high) = (thing.extent.size.0.mm(), thing.extent.size.1.mm());
        if pieces.is_taped {
            take(Of::Tape, pieces.count().max(1) as f64 * 2.0 * (wide + high));
        } else {
            // Plugs come out of the frame's own sheet where there is one.
            let sheets = pieces.frames.max(pieces.plugs) as f64;
            let border = if pieces.frames > 0 { BORDER } else { 0.0 };
            take(Of::MaskingSheet, sheets * (wide + 2.0 * border) * (high + 2.0 * border));
        }
    }
    all
}

/// Ink of each sort that went on a surface and its masks, in full swatches times square millimetres.
fn lying(surface: &Surface) -> Vec<(usize, f64)> {
    let materials = &surface.materials;
    let mut all = vec![0.0; materials.inks.len()];
    let (wide, high) = materials.size_mm();
    let count = |side: f64| (side / STEP).ceil().max(1.0) as usize;
    let (columns, rows) = (count(wide), count(high));
    let cell = wide / columns as f64 * high / rows as f64;
    for at in 0..columns * rows {
        let x = (at % columns) as f64 + 0.5;
        let y = (at / columns) as f64 + 0.5;
        let spot = surface.spot(x * wide / columns as f64, y * high / rows as f64);
        for coat in &surface.coats {
            all[coat.ink] += cell * coat.veils_at(spot[coat.run]) / materials.full_veils(coat.ink);
        }
    }
    let wet = surface.films.iter().flat_map(|film| film.wet.taken(&film.effect(materials)));
    all.into_iter().enumerate().chain(wet).collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::blend::{Blend, Way};
    use crate::colour::Colour;
    use crate::ink::{Finish, Ink, Kind, Paper, Powder, Tool, ToolKind};
    use crate::length::{Length, Units};
    use crate::moves::{WetStep, swipe::Swipe};
    use crate::place::Point;
    use crate::scene::{Loose, Smoosh, Thing, Treatment};
    use crate::shape::kept::Figure;
    use crate::shape::{Drawn, Shape, family};
    use crate::water::{Pad, pad::Stroke};

    fn panel() -> Panel {
        let ink = |name: &str, lab: [f64; 3]| Ink {
            name: name.parse().unwrap(),
            kind: Kind::Dye,
            colour: Colour::Lab(lab.into()),
            one_veil: None,
            full_veils: 7,
            on_ink: None,
        };
        let paper = Paper::plain(Finish::Watercolour);
        let tool = Tool::one("Dome".parse().unwrap(), ToolKind::Brush);
        let name = "Ebb at six".parse().unwrap();
        Panel::bare(name, Length::from_tenths_mm(1_000), Length::from_tenths_mm(1_400), paper, tool, 3)
            .with_inks(
                vec![ink("Sail", [69.0, -17.0, -23.0]), ink("Ebb", [44.0, -6.0, -40.0])],
                Units::Millimetres,
            )
    }

    fn of(panel: &Panel, name: &str) -> f64 {
        taken_by(panel).get(&Of::Ink(name.parse().unwrap())).copied().unwrap_or(0.0)
    }

    #[test]
    fn an_even_field_takes_its_area_by_its_veils() {
        let mut one = panel();
        one.scene.ground =
            vec![Blend::spread(&[(0, &one.inks[0])], Way::DOWN, one.height, Units::Millimetres)];
        one.inks.truncate(1);
        let one = one.laid();
        let veils: usize =
            one.moves.iter().filter_map(Technique::laying).map(|laying| laying.veils.len()).sum();
        let meant = 100.0 * 140.0 * veils as f64 / 7.0;
        assert!((of(&one, "Sail") / meant - 1.0).abs() < 0.02, "{} {meant}", of(&one, "Sail"));
        assert_eq!(of(&one, "Ebb"), 0.0);
        // Twice as wide, it takes twice as much.
        let (before, high) = (of(&one, "Sail"), one.height);
        let twice = one.resized(Length::from_tenths_mm(2_000), high, Units::Millimetres).unwrap();
        assert!((of(&twice, "Sail") / before - 2.0).abs() < 0.05);
    }

    #[test]
    fn what_is_dabbed_sprayed_or_padded_counts_and_a_mask_takes_none_of_it_away() {
        let plain = panel();
        let mut smooshed = plain.clone();
        smooshed.scene.smoosh = Some(Smoosh::of(&[1], plain.size(), Units::Millimetres));
        assert!(of(&smooshed.laid(), "Ebb") > of(&plain, "Ebb") + 500.0);
        let mut padded = plain.clone();
        padded.scene.loose = vec![Loose::last(WetStep::Pad(Swipe(Pad {
            ink: 1,
            stroke: Stroke::Down,
            times: 1,
            light: false,
        })))];
        assert!(of(&padded.laid(), "Ebb") > of(&plain, "Ebb") + 1_000.0);
        let mut masked = plain.clone();
        let shape =
            Shape::new("lamp".parse().unwrap(), Figure::Drawn(Drawn::usual(family::find("circle").unwrap())));
        let middle = Point { left: Length::from_tenths_mm(500), top: Length::from_tenths_mm(700) };
        masked.scene.things = vec![Thing::new(shape, middle)];
        let masked = masked.laid();
        assert!((of(&masked, "Sail") / of(&plain, "Sail") - 1.0).abs() < 0.05);
        let sheet = taken_by(&masked)[&Of::MaskingSheet];
        assert!(sheet > 100.0 && !taken_by(&plain).contains_key(&Of::MaskingSheet), "{sheet}");
        let mut embossed = masked.clone();
        let size = embossed.scene.things[0].extent(&embossed.scene.things[0].shape.outline().unwrap()).size;
        let spread =
            Blend::spread(&[(1, &embossed.inks[1])], Way::DOWN, Way::DOWN.span(size), Units::Millimetres);
        embossed.scene.things[0].gets = Treatment::Inked(vec![spread]);
        embossed.scene.things[0].resist = Some(Powder::Clear);
        let powder = taken_by(&embossed.laid())[&Of::Powder];
        let area = std::f64::consts::PI * (size.0.mm() / 2.0).powi(2);
        assert!((powder / area - 1.0).abs() < 0.02, "{powder} {area}");
    }

    #[test]
    fn a_shelf_goes_down_is_low_in_time_and_learns_how_far_one_goes() {
        let sail: Name = "Sail".parse().unwrap();
        let shelf = Shelf::default().with_inks([&sail]);
        assert_eq!((shelf.0.len(), shelf.with_inks([&sail])), (4, shelf.clone()));
        let card = BTreeMap::from([(Of::Ink(sail.clone()), A_PAD as f64 / 10.0)]);
        let mut now = shelf.clone();
        for n in 1..=10 {
            assert!(now.short_of(&card).is_empty());
            now = now.less(&card);
            assert!((now.0[0].left() - (1.0 - f64::from(n) / 10.0)).abs() < 1e-6);
            assert_eq!(now.0[0].is_low(), n > 8);
        }
        assert_eq!(now.short_of(&card).len(), 1);
        // It went on for twice as far: the next is taken to go further.
        let longer = (0..10).fold(now.clone(), |shelf, _| shelf.less(&card));
        let opened = longer.0[0].opened();
        assert!(opened.used == 0 && opened.goes > A_PAD && opened.goes < 2 * A_PAD);
        // One given away at once says nothing.
        assert_eq!(shelf.0[0].opened(), shelf.0[0]);
        assert!((shelf.0[0].seen(0.25).left() - 0.25).abs() < 1e-6);
        assert!(shelf.is_possible() && !Shelf(vec![Supply { goes: 0, ..shelf.0[0].clone() }]).is_possible());
    }
}
