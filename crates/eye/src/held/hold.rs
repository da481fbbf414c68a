//! A panel held against its plan: from the pixels to what is not as planned.

use rosy_core::Panel;
use rosy_core::colour::Illuminant;
use rosy_core::learn::hand::{Came, Showing};

use super::edges::{Askew, Edges};
use super::flaw::{Flaw, FlawKind};
use super::local::{Left, Unevenness};
use super::passes::{Zone, zones_of};
use super::seen::{Seen, White};
use super::strength::{Strength, strengths, together};
use super::things;
use super::wanted::Wanted;
use super::words;
use crate::field::BadLight;
use crate::outline::{self, NoOutline};
use crate::phone::Phone;
use crate::picture::Picture;
use crate::plane::Plane;
use crate::rank::median;

/// Why a photo of a panel says nothing.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum HeldError {
    /// It is not found.
    #[error(transparent)]
    Outline(#[from] NoOutline),
    /// The light.
    #[error(transparent)]
    Light(#[from] BadLight),
    /// Nothing has been laid.
    #[error("nothing has been laid on the panel by then: show it once there is some ink on it")]
    Bare,
    /// Water has been on it.
    #[error(
        "water has been on this panel, and no two come out alike: it cannot be held against its plan place by place. Show it before the \
         water comes on"
    )]
    Wet,
    /// It does not look like it at all.
    #[error(
        "what is in the photo does not look like this panel at this step: show another photo, or the step that is done"
    )]
    Another,
}

/// How far a phone's colours have to be known so that amounts are told by them.
const KNOWN: f64 = 0.3;
/// Strengths that differ by more than this from the plan, as logarithms, and by more than nine tenths of their spread are a fault: of inks
/// that came as planned one in twenty seems not to, either way, and of those most by less than the first.
const OFF: f64 = 0.14;

/// What was found.
pub struct Held {
    /// Where the panel's corners are in the photo, as the panel stands: left and right above, left and right below.
    pub corners: [[f64; 2]; 4],
    /// Where its places are.
    pub plane: Plane,
    /// By what colours were made true.
    pub white: White,
    /// Whether the phone is known well enough to tell amounts by.
    pub phone_known: bool,
    /// How strong each ink came; none where amounts cannot be told.
    pub strengths: Vec<Strength>,
    /// What is not as planned.
    pub flaws: Vec<Flaw>,
    /// How many light passes lie where; none where amounts cannot be told.
    pub zones: Vec<Zone>,
    /// How the design lies on the panel, where tape left a border.
    pub askew: Option<Askew>,
    /// How uneven it is, where enough of it is seen.
    pub unevenness: Option<Unevenness>,
    /// How far the photo is from the plan all over (ΔE00, the middle of all places).
    pub off: Option<f64>,
}

/// Which of its standings a panel is seen in: the one that looks most like the plan.
fn standing(picture: &Picture, wanted: &Wanted, planes: Vec<Plane>) -> Option<Plane> {
    let grid = wanted.grid;
    let places: Vec<usize> =
        (0..grid.len()).filter(|n| (n % grid.columns) % 5 == 2 && (n / grid.columns) % 5 == 2).collect();
    let planned: Vec<(usize, [f64; 3])> = places
        .iter()
        .filter_map(|n| {
            let lab = wanted.places[*n].as_ref()?.lab;
            Some((*n, lab.on_screen(Illuminant::D65).0.0.map(|c| f64::from(c) / 255.0)))
        })
        .collect();
    let alike = |plane: &Plane| -> f64 {
        let seen: Vec<([f64; 3], [f64; 3])> = planned
            .iter()
            .filter_map(|(n, planned)| Some((*planned, picture.at(plane.pixel(grid.at(*n)))?)))
            .collect();
        if seen.len() * 10 < planned.len() * 9 {
            return f64::NEG_INFINITY;
        }
        // How far each channel goes with the plan's: a covariance, so that a channel in which little happens counts little.
        let count = seen.len() as f64;
        let (mut with, mut own, mut other) = (0.0, 0.0, 0.0);
        for c in 0..3 {
            let (p, s) =
                seen.iter().fold((0.0, 0.0), |(p, s), (planned, seen)| (p + planned[c], s + seen[c]));
            for (planned, seen) in &seen {
                let (planned, seen) = (planned[c] - p / count, seen[c] - s / count);
                with += planned * seen;
                own += planned * planned;
                other += seen * seen;
            }
        }
        with / (own * other).sqrt().max(1e-9)
    };
    let mut told: Vec<(f64, Plane)> = planes.into_iter().map(|plane| (alike(&plane), plane)).collect();
    let best = told.iter().map(|(alike, _)| *alike).fold(f64::NEG_INFINITY, f64::max);
    // As it lies, where it makes no difference.
    told.retain(|(alike, _)| *alike > best - 0.01);
    told.into_iter().next().filter(|(alike, _)| *alike > ALIKE).map(|(_, plane)| plane)
}

/// How far a photo has to go with the plan so that it is one of it.
const ALIKE: f64 = 0.35;

/// A panel found in its photo, beside its plan.
pub struct Found {
    /// The plan, and how many of its moves are made.
    pub wanted: Wanted,
    /// See `wanted`.
    pub moves: usize,
    /// Where the panel lies in the photo, and where its design does.
    pub plane: Plane,
    /// See `plane`.
    pub design: Plane,
    /// How the design lies on the panel, where tape left a border.
    pub askew: Option<Askew>,
    /// What the photo shows at each place of the design.
    pub seen: Seen,
}

impl Found {
    /// Looks for a panel as it is after its first moves.
    ///
    /// # Errors
    /// A [`HeldError`] with what to change.
    pub fn of(
        picture: &Picture,
        panel: &Panel,
        moves: usize,
        corners: Option<[[f64; 2]; 4]>,
        phone: Option<&Phone>,
    ) -> Result<Found, HeldError> {
        let wanted = Wanted::of(panel, moves);
        if wanted.surface.coats.is_empty() && wanted.surface.films.is_empty() {
            return Err(HeldError::Bare);
        }
        if wanted.is_wet_work() {
            return Err(HeldError::Wet);
        }
        let size = [panel.width.mm(), panel.height.mm()];
        let planes = match corners {
            // As they were shown, so it stands.
            Some(corners) => outline::shown(picture, corners, size).map(|plane| vec![plane])?,
            None => outline::standings(picture, outline::find(picture, size)?, size),
        };
        let plane = standing(picture, &wanted, planes).ok_or(HeldError::Another)?;
        let askew = Edges { picture, plane: &plane, wanted: &wanted }.askew();
        let design =
            askew.map_or_else(|| plane.clone(), |askew| plane.moved(askew.by, askew.turn.to_radians(), size));
        let seen = Seen::of(picture, &design, &wanted, phone)?;
        Ok(Found { wanted, moves, plane, design, askew, seen })
    }

    /// The edges of what stands on it.
    pub fn edges<'a>(&'a self, picture: &'a Picture) -> Edges<'a> {
        Edges { picture, plane: &self.design, wanted: &self.wanted }
    }
}

/// Holds a photo of a panel against the plan after its first moves.
///
/// # Errors
/// A [`HeldError`] with what to change.
pub fn hold(
    picture: &Picture,
    panel: &Panel,
    moves: usize,
    corners: Option<[[f64; 2]; 4]>,
    phone: Option<&Phone>,
) -> Result<Held, HeldError> {
    Found::of(picture, panel, moves, corners, phone).map(|found| Held::of(&found, picture, panel, phone))
}

impl Held {
    /// What is not as planned on a panel that was found.
    pub fn of(found: &Found, picture: &Picture, panel: &Panel, phone: Option<&Phone>) -> Held {
        let Found { wanted, plane, design, askew, seen, .. } = found;
        let size = [panel.width.mm(), panel.height.mm()];
        let told = strengths(wanted, seen);
        let mut grown = vec![1.0; panel.inks.len()];
        told.iter().for_each(|strength| grown[strength.ink] = strength.came);
        let mut flaws = things::of_things(wanted, seen);
        let is_told = |flaw: &Flaw| flaws.iter().any(|known| known.thing == flaw.thing);
        let edges = found.edges(picture).of_things(&seen.field, seen.white);
        // A shape that hardly shows has no edges to speak of.
        let edges: Vec<Flaw> = edges.into_iter().filter(|flaw| !is_told(flaw)).collect();
        flaws.extend(edges);
        let left = Left::of(wanted, seen, grown, &flaws);
        if let Some(askew) = askew.filter(Askew::is_fault) {
            let far = askew.by[0].hypot(askew.by[1]);
            let flaw = Flaw::of(FlawKind::Askew, [[0.0; 2], size], far);
            flaws.push(Flaw { by: Some(askew.by), turn: askew.turn, ..flaw });
        }
        flaws.extend(words::hard_to_read(panel, found.moves, wanted, seen));
        let (local, unevenness) = left.flaws();
        flaws.extend(local);
        let phone_known = phone.is_some_and(|phone| phone.sureness() > KNOWN) && seen.white == White::Card;
        let (strengths, zones) = if phone_known {
            flaws.extend(told.iter().filter_map(|strength| off(strength, size)));
            let zones = zones_of(panel, wanted, seen, &left, &told);
            (told, zones)
        } else {
            (Vec::new(), Vec::new())
        };
        flaws.sort_by(|one, other| one.kind.cmp(&other.kind).then(other.size.total_cmp(&one.size)));
        let of = |n: usize| {
            let planned = wanted.places[n].as_ref().filter(|place| place.is_even)?.lab;
            Some(seen.lab[n]?.difference(planned))
        };
        let offs: Vec<f64> = (0..wanted.grid.len()).filter_map(of).collect();
        let [w, h] = size;
        let corners = [[0.0, 0.0], [w, 0.0], [0.0, h], [w, h]].map(|at| plane.pixel(at));
        Held {
            corners,
            plane: design.clone(),
            white: seen.white,
            phone_known,
            strengths,
            flaws,
            zones,
            askew: *askew,
            unevenness,
            off: median(offs).filter(|_| phone_known),
        }
    }

    /// What it shows of the hand that laid it, with what the panel is planned for taken out; nothing of a panel whose moves say what
    /// came of them.
    pub fn showing(&self, panel: &Panel) -> Option<Showing> {
        let planned = panel.hands.of(&panel.tool.name, &panel.paper.name);
        let strength =
            together(&self.strengths).map(|came| Came { share: came.share * planned.strength(), ..came });
        let unevenness = self.unevenness.filter(|_| self.white == White::Card).and_then(|seen| seen.share());
        (!panel.came_out).then(|| Showing {
            panel: panel.name.clone(),
            tool: panel.tool.name.clone(),
            card: panel.paper.name.clone(),
            strength,
            unevenness: unevenness.map(|share| share * planned.unevenness()),
        })
    }
}

fn off(strength: &Strength, size: [f64; 2]) -> Option<Flaw> {
    let log = strength.came.ln();
    let is_off = log.abs() > OFF && log.abs() > strength.within.ln();
    let kind = if log > 0.0 { FlawKind::Strong } else { FlawKind::Weak };
    is_off.then(|| Flaw { ink: Some(strength.ink), ..Flaw::of(kind, [[0.0; 2], size], strength.came) })
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::held::drawn::{MARGIN, photo};
    use crate::held::flaw::FlawKind;
    use rosy_core::blend::{Blend, Way};
    use rosy_core::card::inking::Tape;
    use rosy_core::card::plan::Card;
    use rosy_core::colour::Colour;
    use rosy_core::edges::Edges;
    use rosy_core::ink::Ink;
    use rosy_core::length::{Length, Units};
    use rosy_core::place::Point;
    use rosy_core::scene::{Thing, Treatment};
    use rosy_core::shape::kept::Figure;
    use rosy_core::shape::{Drawn, Shape, family};

    fn panel() -> Panel {
        serde_json::from_str(include_str!("../../../core/tests/version_1/ebb_down.json")).unwrap()
    }

    fn held(panel: &Panel, picture: &Picture) -> Held {
        hold(picture, panel, panel.moves.len(), None, None).unwrap()
    }

    #[test]
    fn of_a_photo_that_is_the_plan_nothing_is_told_however_fine_it_is_and_however_it_lies() {
        let panel = panel();
        for (fine, turned) in [(4.0, false), (7.0, false), (4.0, true)] {
            let held = held(&panel, &photo(&panel, fine, |_, _| None, turned));
            assert_eq!(held.flaws, [], "{fine} {turned}");
            // The panel's own left upper corner, wherever that is.
            let [x, y] =
                if turned { [MARGIN + panel.width.mm(), MARGIN + panel.height.mm()] } else { [MARGIN; 2] };
            let seen = held.corners[0];
            assert!((seen[0] - fine * x).abs() < 2.0 && (seen[1] - fine * y).abs() < 2.0, "{seen:?}");
        }
    }

    #[test]
    fn what_is_painted_over_is_told_where_it_is_and_for_what_it_is() {
        let panel = panel();
        let round = |x: f64, y: f64, r: f64| (x - 40.0).hypot(y - 60.0) < r && (x > 0.0);
        let dark =
            held(&panel, &photo(&panel, 4.0, |x, y| round(x, y, 5.0).then_some([0.72, 0.7, 0.74]), false));
        let touch = dark.flaws.iter().find(|flaw| flaw.kind == FlawKind::Touch).unwrap();
        assert!((touch.at[0] - 40.0).hypot(touch.at[1] - 60.0) < 2.0, "{touch:?}");
        // Half of the ink is gone there, as a screen shows it.
        let wanted = Wanted::of(&panel, panel.moves.len());
        let screen = |lab: rosy_core::colour::Lab| {
            lab.on_screen(Illuminant::D65).0.0.map(|c| f64::from(c).max(1.0) / 255.0)
        };
        let lifted = |x: f64, y: f64| {
            let n = wanted.grid.near([x, y]).filter(|_| round(x, y, 6.0))?;
            let half = wanted.grown(n, &vec![0.4; panel.inks.len()])?;
            let (whole, half) = (screen(wanted.lab(x, y)?), screen(half));
            Some(std::array::from_fn(|c| half[c] / whole[c]))
        };
        let light = held(&panel, &photo(&panel, 4.0, lifted, false));
        assert!(light.flaws.iter().any(|flaw| flaw.kind == FlawKind::Lifted), "{:?}", light.flaws);
        let speck =
            held(&panel, &photo(&panel, 4.0, |x, y| round(x, y, 0.9).then_some([0.4, 0.4, 0.4]), false));
        assert!(speck.flaws.iter().any(|flaw| flaw.kind == FlawKind::Fleck), "{:?}", speck.flaws);
        // A step right across it that goes on.
        let line = held(
            &panel,
            &photo(
                &panel,
                4.0,
                |x, y| {
                    (y > 50.0 && x > 30.0 && x < 80.0).then(|| [1.0 - 0.3 * (-(y - 50.0) / 20.0).exp(); 3])
                },
                false,
            ),
        );
        assert!(line.flaws.iter().any(|flaw| flaw.kind == FlawKind::Line), "{:?}", line.flaws);
    }

    #[test]
    fn another_picture_is_not_taken_for_the_panel() {
        let panel = panel();
        let upside = photo(&panel, 4.0, |_, _| None, false);
        let flat = photo(&panel, 4.0, |_, _| None, true);
        // Neither way up is it of a panel whose blend goes across.
        let mut across = panel.clone();
        across.scene.ground[0].way = rosy_core::blend::Way::Band { angle: 0 };
        let across = Panel { moves: Vec::new(), done: 0, ..across }.laid();
        for picture in [upside, flat] {
            assert_eq!(
                hold(&picture, &across, across.moves.len(), None, None).err(),
                Some(HeldError::Another)
            );
        }
        assert_eq!(
            hold(&photo(&panel, 4.0, |_, _| None, false), &panel, 0, None, None).err(),
            Some(HeldError::Bare)
        );
    }

    #[test]
    fn a_word_is_hard_to_read_where_the_ground_came_nearly_as_dark_as_it_is() {
        let panel: Panel =
            serde_json::from_str(include_str!("../../../core/tests/version_1/ebb_down.json")).unwrap();
        let mut card = Card::fitting(&panel.inked(), Units::Inches);
        card.tape = Tape { border: Edges::all(Length::from_64ths(20)), ..Tape::usual(Units::Inches) };
        let drawn = Drawn { letters: "Ebb".into(), ..family::find("word").map(Drawn::usual).unwrap() };
        let mut word = Thing::new(
            Shape::new("word".parse().unwrap(), Figure::Drawn(drawn)),
            Point { left: panel.width / 2, top: panel.height * 3 / 4 },
        );
        // In the darkest of inks, on a ground that is pale.
        let night = Ink { colour: Colour::Lab([14.0, 2.0, -6.0].into()), ..panel.inks[0].clone() };
        let night = Ink { name: "Night".parse().unwrap(), ..night };
        let mut panel = Panel { card: Some(card), moves: Vec::new(), done: 0, ..panel };
        panel.inks.push(night.clone());
        let last = panel.inks.len() - 1;
        let only = [(last, &night)];
        word.gets =
            Treatment::Inked(vec![Blend::spread(&only, Way::DOWN, Length::from_inches(1), Units::Inches)]);
        let panel = panel.with_things(vec![(word, None)]).laid();
        let (middle, wide) = (panel.height.mm() * 0.75, panel.width.mm());
        let told = |by: f64| {
            let taken = photo(
                &panel,
                5.0,
                |x, y| ((y - middle).abs() < 17.0 && (9.0..wide - 9.0).contains(&x)).then_some([by; 3]),
                false,
            );
            let held = hold(&taken, &panel, panel.moves.len(), None, Some(&Phone::usual())).unwrap();
            held.flaws.into_iter().find(|flaw| flaw.kind == FlawKind::HardToRead)
        };
        assert_eq!(told(1.0), None);
        let flaw = told(0.4).expect("it is told");
        assert_eq!(flaw.thing, Some(0));
        assert!(flaw.size < 3.0, "{flaw:?}");
    }
}
