//! Which panels might a maker plan? Drawn by chance, to be laid by a hand and held against what came of it.

use rosy_core::Panel;
use rosy_core::blend::{Blend, Way};
use rosy_core::card::inking::Tape;
use rosy_core::card::plan::Card;
use rosy_core::colour::{Colour, Illuminant};
use rosy_core::drill::Drill;
use rosy_core::edges::Edges;
use rosy_core::ink::{Finish, Ink, Name, Paper, Tool, ToolKind};
use rosy_core::length::{Length, Units};
use rosy_core::place::Point;
use rosy_core::practice::strip;
use rosy_core::scene::{Thing, Treatment};
use rosy_core::shape::kept::Figure;
use rosy_core::shape::{Drawn, Shape, family};

use crate::chance::Chance;
use crate::hand::MadeInk;

/// What a panel is to have.
#[derive(Clone, Copy, Debug)]
pub struct Wanted {
    /// A white border, whose tape is peeled at the end.
    pub border: bool,
    /// A shape: none, kept white, or inked.
    pub thing: Option<bool>,
}

const NAMES: [&str; 3] = ["First", "Second", "Third"];

fn name(text: &str) -> Name {
    text.parse().expect("a name of a word or two")
}

/// An ink as a drawer has it whose swatches were measured.
fn measured(ink: &MadeInk, called: &str) -> Ink {
    let swatch = |amount: f64| Colour::Reflectance(ink.on_bright_white(amount).rounded());
    Ink {
        name: name(called),
        kind: ink.kind,
        colour: swatch(1.0),
        one_veil: Some(swatch(1.0 / ink.veils)),
        full_veils: ink.veils as u8,
        on_ink: None,
    }
}

/// A panel of two or three inks along bands, from a corner or round a glow.
pub fn any(wanted: Wanted, chance: &mut Chance) -> Panel {
    let size = (Length::from_64ths(272), Length::from_64ths(352));
    let paper = Paper::plain(if chance.falls(0.7) { Finish::VerySmooth } else { Finish::MixedMedia });
    let tool = Tool::one(name("Domed brush"), ToolKind::Brush);
    let count = if chance.falls(0.5) { 2 } else { 3 };
    let inks: Vec<Ink> = NAMES[..count].iter().map(|called| measured(&seen(chance), called)).collect();
    let way = match chance.share() {
        share if share < 0.5 => Way::DOWN,
        share if share < 0.7 => Way::Band { angle: 0 },
        share if share < 0.85 => Way::Band { angle: 60 },
        _ => {
            let centre = Point { left: size.0 / 2, top: size.1 / 2 };
            Way::Glow { centre, across: size.1 / 2, down: size.1 / 2 }
        }
    };
    let listed: Vec<(usize, &Ink)> = inks.iter().enumerate().collect();
    let blend = Blend::spread(&listed, way, way.span(size), Units::Inches);
    let seed = (chance.share() * 1e6) as u32;
    let mut panel = Panel::bare(name("Tried"), size.0, size.1, paper, tool, seed);
    if wanted.border {
        let mut card = Card::fitting(&panel.inked(), Units::Inches);
        let wide = Length::from_64ths(chance.between(14.0, 25.0) as i64);
        card.tape = Tape { border: Edges::all(wide), ..Tape::usual(Units::Inches) };
        panel.card = Some(card);
    }
    let panel = panel.begun(inks.clone(), vec![blend]);
    let Some(inked) = wanted.thing else { return panel };
    let drawn = family::find("circle").map(Drawn::usual).expect("a family of ours");
    let shape = Shape::new(name("moon"), Figure::Drawn(drawn));
    let at = Point {
        left: Length::from_64ths(chance.between(110.0, 160.0) as i64),
        top: Length::from_64ths(chance.between(110.0, 230.0) as i64),
    };
    let mut thing = Thing::new(shape, at);
    if inked {
        let ink = (chance.share() * count as f64) as usize;
        let extent = Length::from_inches(2);
        let only = [(ink, &inks[ink])];
        thing.gets = Treatment::Inked(vec![Blend::spread(&only, Way::DOWN, extent, Units::Inches)]);
    }
    panel.with_things(vec![(thing, None)])
}

/// A strip to practise on.
pub fn strip_of(drill: Drill, chance: &mut Chance) -> Panel {
    let inks: Vec<Ink> = NAMES[..drill.inks()].iter().map(|called| measured(&seen(chance), called)).collect();
    let units = if chance.falls(0.5) { Units::Inches } else { Units::Millimetres };
    let tool = Tool::one(name("Domed brush"), ToolKind::Brush);
    strip(drill, &inks, Paper::plain(Finish::VerySmooth), tool, units).expect("inks that can be laid")
}

/// An ink that is seen on white card from its first light passes on.
fn seen(chance: &mut Chance) -> MadeInk {
    loop {
        let ink = MadeInk::any(chance);
        let bare = ink.on_bright_white(0.0).lab(Illuminant::D65);
        if ink.on_bright_white(1.0).lab(Illuminant::D65).difference(bare) > 25.0 {
            return ink;
        }
    }
}
