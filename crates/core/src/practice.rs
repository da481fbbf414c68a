//! How is a strip to practise on planned, how is it scored, and which is the next?
//!
//! A strip is a small panel with a border of tape, planned like any other: its run sheet guides it at the bench, and a photo of it is
//! held against its plan. What it is scored by are a few figures of its own, each from 0 to 100.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::blend::{Blend, Field, Way};
use crate::card::inking::Tape;
use crate::card::plan::Card;
use crate::colour::Illuminant;
use crate::drill::Drill;
use crate::edges::Edges;
use crate::ink::measured::bright_white;
use crate::ink::{DrawerError, Ink, Kind, Name, Paper, Tool};
use crate::length::{Length, Units};
use crate::panel::{Panel, PanelError};
use crate::place::Point;
use crate::search::{Costs, Swatch};
use crate::shape::kept::Figure;
use crate::shape::measure::Value;
use crate::shape::{Drawn, Shape, family};
use crate::thing::{Thing, Treatment};

/// Most scores that are remembered.
pub const MOST_SCORES: usize = 400;
/// Fields of a ladder, the bare one counted.
const RUNGS: i64 = 6;
/// Light passes of what is laid in full.
const FULL: u8 = 5;

/// Why there is no such strip, and what to change.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum StripError {
    /// Too few or too many inks.
    #[error("{} takes {}, and {given} {} given: give as many", .drill.words(), inks(.drill.inks()), if *.given == 1 { "is" } else { "are" })]
    Inks {
        /// Which strip.
        drill: Drill,
        /// How many there were.
        given: usize,
    },
    /// An ink that cannot be.
    #[error(transparent)]
    Ink(#[from] DrawerError),
    /// It cannot be planned.
    #[error(transparent)]
    Panel(#[from] PanelError),
}

fn inks(count: usize) -> &'static str {
    if count == 1 { "one ink" } else { "two inks" }
}

/// How large a strip is, how wide its border, and how long a zone.
fn measures(units: Units) -> ([Length; 2], Length, Length) {
    match units {
        Units::Inches => (
            [Length::from_64ths(288), Length::from_64ths(160)],
            Length::from_64ths(16),
            Length::from_64ths(16),
        ),
        Units::Millimetres => (
            [Length::from_tenths_mm(1_200), Length::from_tenths_mm(650)],
            Length::from_tenths_mm(60),
            Length::from_tenths_mm(70),
        ),
    }
}

/// A strip to practise on, in some inks, on a card, with a tool.
///
/// ```
/// # use rosy_core::moves::Technique;
/// # use rosy_core::{drill::Drill, ink::{Finish, Paper, Tool}, length::Units, practice::strip};
/// let ink = serde_json::from_str(r##"{"name":"Wind Sock","kind":"dye","colour":{"srgb":"#cc4466"},"full_veils":7}"##)?;
/// let ladder = strip(Drill::Ladder, &[ink], Paper::plain(Finish::VerySmooth), Tool::plain(), Units::Inches)?;
/// // One light pass more in each of five fields: five of them, each over less.
/// let laid = ladder.moves.iter().filter_map(|m| m.laying());
/// assert_eq!(laid.map(|laid| laid.veils.len()).sum::<usize>(), 5);
/// assert_eq!(ladder.practice, Some(Drill::Ladder));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
///
/// # Errors
/// A [`StripError`] with the remedy.
pub fn strip(
    drill: Drill,
    inks: &[Ink],
    paper: Paper,
    tool: Tool,
    units: Units,
) -> Result<Panel, StripError> {
    if inks.len() != drill.inks() {
        return Err(StripError::Inks { drill, given: inks.len() });
    }
    inks.iter().try_for_each(Ink::check)?;
    let ([wide, high], border, zone) = measures(units);
    let name: Name = format!("Practice: {}", drill.words()).parse()?;
    let mut panel = Panel::bare(name, wide, high, paper, tool, drill as u32);
    let mut card = Card::fitting(&panel.inked(), units);
    card.tape = Tape { border: Edges::all(border), ..Tape::usual(units) };
    panel.card = Some(card);
    panel.practice = Some(drill);
    let across = Way::Band { angle: 0 };
    let half = wide / 2;
    let field = |ink: usize, [starts, full_from, full_to, ends]: [Length; 4]| Field {
        ink,
        veils: FULL.min(inks[ink].full_veils),
        starts,
        full_from,
        full_to,
        ends,
    };
    let all = |ink: usize, span: Length| field(ink, [Length::ZERO, Length::ZERO, span, span]);
    let ground = match drill {
        Drill::Join => {
            // Each runs well into the other.
            let (near, far) = (half - wide / 6, half + wide / 6);
            let fields =
                vec![field(0, [Length::ZERO, Length::ZERO, near, far]), field(1, [near, far, wide, wide])];
            Blend { way: across, zone, fields }
        }
        Drill::Ladder => {
            // Cut into so many zones, the hill's slope has no pass in the first and one more in each.
            let fields = vec![Field { veils: FULL, ..field(0, [Length::ZERO, wide, wide, wide]) }];
            Blend { way: across, zone: wide / RUNGS, fields }
        }
        Drill::Fade => {
            let fields = vec![field(0, [Length::ZERO, Length::ZERO, wide / 6, wide - wide / 6])];
            Blend { way: across, zone, fields }
        }
        Drill::Glow => {
            let centre = Point { left: half, top: high / 2 };
            let way = Way::Glow { centre, across: half, down: high / 2 };
            let span = way.span((wide, high));
            Blend { way, zone, fields: vec![field(0, [span / 4, span - span / 8, span, span])] }
        }
        Drill::Edge => Blend { way: across, zone, fields: vec![all(0, wide)] },
        Drill::Register => Blend { way: across, zone, fields: vec![all(1, wide)] },
    };
    let mut panel = panel.begun(inks.to_vec(), vec![ground]);
    let things = match drill {
        Drill::Edge => vec![(circle(half, high / 2, None, units), None)],
        Drill::Register => {
            let (side, place) = (high / 2, panel.ink_place(&inks[0]));
            let inside = Blend { way: Way::DOWN, zone, fields: vec![Field { ink: place, ..all(0, side) }] };
            vec![(circle(half, high / 2, Some(inside), units), None)]
        }
        Drill::Join | Drill::Ladder | Drill::Fade | Drill::Glow => Vec::new(),
    };
    let panel = if things.is_empty() { panel } else { panel.with_things(things) };
    panel.check()?;
    Ok(panel)
}

/// A circle half as high as the strip, in its middle.
fn circle(left: Length, top: Length, inside: Option<Blend>, units: Units) -> Thing {
    let mut drawn = Drawn::usual_in(family::find("circle").expect("a family of ours"), units);
    for measure in drawn.measures.values_mut() {
        *measure = Value::Length(top);
    }
    let name = "circle".parse().expect("a name of six letters");
    let mut thing = Thing::new(Shape::new(name, Figure::Drawn(drawn)), Point { left, top });
    if let Some(blend) = inside {
        thing.gets = Treatment::Inked(vec![blend]);
    }
    thing
}

/// The inks of a drawer to practise with, where nothing else is wished for: of those that are well seen, and well told apart, the two
/// that meet most cleanly.
pub fn usual_inks(drawer: &[Ink]) -> Option<[usize; 2]> {
    const MOST: usize = 60;
    const SEEN: f64 = 25.0;
    const STRONG: f64 = 0.1;
    let card = bright_white();
    let bare = card.lab(Illuminant::D65);
    let is_seen = |place: &usize| {
        let ink = &drawer[*place];
        ink.kind != Kind::Pigment && ink.lab().difference(bare) > SEEN && ink.lab().oklch()[1] >= STRONG
    };
    let seen: Vec<usize> = (0..drawer.len()).filter(is_seen).take(MOST).collect();
    let swatches: Vec<Swatch> =
        seen.iter().map(|place| (drawer[*place].film(), drawer[*place].lab())).collect();
    let costs = Costs::of(&swatches, card, Illuminant::D65);
    let pairs = (0..seen.len()).flat_map(|one| (one + 1..seen.len()).map(move |other| (one, other)));
    let apart = pairs.filter(|(one, other)| swatches[*one].1.difference(swatches[*other].1) > SEEN);
    let best = apart.min_by(|a, b| costs.between(a.0, a.1).total_cmp(&costs.between(b.0, b.1)));
    best.map(|(one, other)| [seen[one], seen[other]])
}

/// A figure that a strip is scored by.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Figured {
    /// What is measured, in a word or two.
    pub of: String,
    /// 0 to 100: 100 where nothing is wrong with it, 50 where it is told as a fault on a panel.
    pub score: u8,
    /// What was measured, in a sentence.
    pub says: String,
    /// What to do next time; nothing where it is well.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub next: String,
}

/// A strip that was scored.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Scored {
    /// What its panel is kept under.
    pub strip: String,
    /// Which.
    pub drill: Drill,
    /// When, in milliseconds since 1970.
    pub at: i64,
    /// 0 to 100: its weakest figure.
    pub score: u8,
    /// Which figure is the weakest.
    pub weakest: String,
}

/// All that were remembered, the latest last.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(transparent)]
pub struct Scores(pub Vec<Scored>);

impl Scores {
    /// The same with one more; a strip that is shown again is scored anew.
    #[must_use]
    pub fn with(mut self, scored: Scored) -> Scores {
        self.0.retain(|known| known.strip != scored.strip);
        self.0.push(scored);
        let over = self.0.len().saturating_sub(MOST_SCORES);
        self.0.drain(..over);
        self
    }

    /// Those of one strip, the latest last.
    pub fn of(&self, drill: Drill) -> impl DoubleEndedIterator<Item = &Scored> {
        self.0.iter().filter(move |scored| scored.drill == drill)
    }

    /// The strip to practise next: the plainest that was never tried, or else the one whose weakest figure was lowest of late, the
    /// longest ago first. What was just done is not at once done again, unless it was the only one below [`WELL`].
    ///
    /// ```
    /// # use rosy_core::{drill::Drill, practice::{Scored, Scores}};
    /// let scored = |drill, at: i64, score| Scored { strip: at.to_string(), drill, at, score, weakest: "evenness".into() };
    /// let none = Scores::default();
    /// assert_eq!(none.next(), Drill::Ladder);
    /// let all = Drill::ALL.into_iter().zip(0..).map(|(drill, at)| scored(drill, at, 80));
    /// let all = Scores(all.chain([scored(Drill::Glow, 9, 40), scored(Drill::Edge, 10, 60)]).collect());
    /// assert_eq!(all.next(), Drill::Glow);
    /// ```
    pub fn next(&self) -> Drill {
        if let Some(new) = Drill::ALL.into_iter().find(|drill| self.of(*drill).next().is_none()) {
            return new;
        }
        let last = self.0.last().map(|scored| scored.drill);
        let latest = |drill: Drill| self.of(drill).next_back();
        let score = |drill: Drill| latest(drill).map_or(0, |scored| scored.score);
        let is_weak_else = Drill::ALL.into_iter().any(|drill| Some(drill) != last && score(drill) < WELL);
        let open = Drill::ALL.into_iter().filter(|drill| !(Some(*drill) == last && is_weak_else));
        let weakest = open.min_by_key(|drill| (score(*drill), latest(*drill).map(|scored| scored.at)));
        weakest.unwrap_or(Drill::Ladder)
    }
}

/// From which score on a strip is well.
pub const WELL: u8 = 75;

#[cfg(test)]
mod tests {
    use super::*;
    use crate::blend::{Verdict, meet};
    use crate::colour::Colour;
    use crate::ink::{Finish, Kind};
    use crate::judgement::Sight;
    use crate::order::{RunSheet, check};

    fn ink(name: &str, lab: [f64; 3]) -> Ink {
        Ink {
            name: name.parse().unwrap(),
            kind: Kind::Dye,
            colour: Colour::Lab(lab.into()),
            one_veil: None,
            full_veils: 7,
            on_ink: None,
        }
    }

    fn planned(drill: Drill, units: Units) -> Panel {
        let inks = [ink("Wind Sock", [58.0, 58.0, -6.0]), ink("Slack", [52.0, -20.0, -32.0])];
        strip(drill, &inks[..drill.inks()], Paper::plain(Finish::VerySmooth), Tool::plain(), units).unwrap()
    }

    #[test]
    fn each_strip_can_be_laid_by_hand_from_its_run_sheet_in_both_units() {
        for drill in Drill::ALL {
            for units in [Units::Inches, Units::Millimetres] {
                let panel = planned(drill, units);
                panel.check().unwrap();
                assert!(check::check(&panel).is_empty(), "{drill:?} {units:?}");
                let sheet = RunSheet::of(&panel, units);
                assert!(sheet.steps.len() > 4, "{drill:?}");
                // A white border all round, by which its colours are made true.
                let surface = panel.surface();
                let white = panel.paper.lab();
                let (wide, high) = (panel.width.mm(), panel.height.mm());
                let sight = Sight::of(&surface);
                for at in [(wide / 2.0, 2.0), (2.0, high / 2.0), (wide - 2.0, high / 2.0)] {
                    assert!(sight.lab(at.0, at.1).unwrap().difference(white) < 0.5, "{drill:?} {at:?}");
                }
            }
        }
    }

    #[test]
    fn a_ladder_has_one_pass_more_in_each_field() {
        for units in [Units::Inches, Units::Millimetres] {
            let panel = planned(Drill::Ladder, units);
            let sight = Sight::of(&panel.surface());
            let step = panel.width.mm() / RUNGS as f64;
            for rung in 1..RUNGS - 1 {
                let middle = step * (rung as f64 + 0.5);
                let passes = sight.here(middle, panel.height.mm() / 2.0).unwrap().passes()[0];
                assert!((passes - rung as f64).abs() < 0.15, "{rung}: {passes}");
            }
        }
    }

    #[test]
    fn what_a_drill_wants_is_what_lies_on_its_strip() {
        let at = |panel: &Panel, x: f64, y: f64| {
            let sight = Sight::of(&panel.surface());
            sight.here(x * panel.width.mm(), y * panel.height.mm()).unwrap().passes()
        };
        let join = planned(Drill::Join, Units::Inches);
        assert!(at(&join, 0.2, 0.5)[0] > 4.0 && at(&join, 0.2, 0.5)[1] < 0.2 && at(&join, 0.8, 0.5)[1] > 4.0);
        let fade = planned(Drill::Fade, Units::Inches);
        assert!(at(&fade, 0.15, 0.5)[0] > 4.0 && at(&fade, 0.9, 0.5)[0] < 0.1);
        let glow = planned(Drill::Glow, Units::Inches);
        assert!(at(&glow, 0.5, 0.5)[0] < 0.2 && at(&glow, 0.1, 0.5)[0] > 3.0);
        let edge = planned(Drill::Edge, Units::Inches);
        assert!(at(&edge, 0.5, 0.5)[0] < 0.01 && at(&edge, 0.2, 0.5)[0] > 4.0);
        let register = planned(Drill::Register, Units::Inches);
        let (inside, outside) = (at(&register, 0.5, 0.5), at(&register, 0.2, 0.5));
        let own = |passes: &[f64]| -> Vec<usize> { (0..2).filter(|ink| passes[*ink] > 4.0).collect() };
        assert!(own(&inside).len() == 1 && own(&outside).len() == 1 && own(&inside) != own(&outside));
        assert_eq!(register.inks[own(&inside)[0]].name.as_str(), "Wind Sock");
    }

    #[test]
    fn the_usual_inks_are_seen_apart_and_meet_cleanly() {
        let drawer = [
            ink("Chalk", [93.0, 0.0, 4.0]),
            ink("Rust", [55.0, 45.0, 55.0]),
            ink("Slack", [48.0, -8.0, -42.0]),
            ink("Wind Sock", [58.0, 55.0, -10.0]),
        ];
        let [one, other] = usual_inks(&drawer).unwrap().map(|place| &drawer[place]);
        let met =
            meet((&one.film(), one.lab()), (&other.film(), other.lab()), bright_white(), Illuminant::D65);
        assert_eq!(met.verdict, Verdict::Clean, "{} {}", one.name, other.name);
        // Rust and Slack would go to mud, and chalk is not seen on white card.
        assert_eq!(usual_inks(&drawer[1..3]), Some([0, 1]));
        assert_eq!(usual_inks(&drawer[..2]), None);
    }

    #[test]
    fn too_few_inks_are_asked_for_and_a_score_is_not_chosen_over_and_over() {
        let says = strip(
            Drill::Join,
            &[ink("Slack", [52.0, -20.0, -32.0])],
            Paper::plain(Finish::VerySmooth),
            Tool::plain(),
            Units::Inches,
        )
        .unwrap_err()
        .to_string();
        assert!(says.contains("a join of two inks takes two inks, and 1 is given"), "{says}");
        let scored = |drill, at: i64, score| Scored {
            strip: at.to_string(),
            drill,
            at,
            score,
            weakest: "line".into(),
        };
        let mut scores =
            Scores(Drill::ALL.into_iter().zip(0..).map(|(drill, at)| scored(drill, at, 50)).collect());
        for at in 10..30 {
            let next = scores.next();
            assert_ne!(Some(next), scores.0.last().map(|last| last.drill));
            scores = scores.with(scored(next, at, 50));
        }
        // All of them came up.
        assert!(Drill::ALL.into_iter().all(|drill| scores.of(drill).count() > 2));
    }
}
