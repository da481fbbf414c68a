//! All of it together, for one panel: what is cut, scored, inked, trimmed and mounted.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::bulk::{self, Build, Bulk, BulkError, DieCut};
use super::envelope::{Envelope, EnvelopeError, Outline, Posted};
use super::format::{Base, Fold, Format, FormatError};
use super::inking::{self, Tape, TapeError, Taped};
use super::layers::{Layer, LayerError, Placed, Role, Stacked, stack};
use super::mount::Mount;
use super::trim::{self, Feature, Refusal, Trim, Trimmed};
use crate::cut::Piece;
use crate::drawing::WindowShape;
use crate::edges::{Axis, Border, Edges, Place, size};
use crate::ink::{Name, Paper};
use crate::length::{Length, Units};
use crate::place::Point;

/// The card a panel is made for.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Card {
    /// Its size and fold.
    pub format: Format,
    /// What the base is cut from.
    pub paper: Paper,
    /// What lies on the base, from the lowest up; one of them is the panel.
    pub layers: Vec<Layer>,
    /// How the panel is cut out of the inked piece.
    #[serde(default)]
    pub trim: Trim,
    /// Tape on the panel while it is inked.
    #[serde(default)]
    pub tape: Tape,
    /// How far over its finished size the panel is inked on each side.
    pub over: Length,
    /// A die cut on top.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub die_cut: Option<DieCut>,
    /// How thick the maker's own post takes it.
    #[serde(default, skip_serializing_if = "Option::is_none", with = "crate::length::thickness::option")]
    #[schemars(with = "Option<Length>")]
    pub post_limit: Option<Length>,
}

/// The piece that is inked, as far as it matters to the card: its size, its card, and the places that must stay in theirs.
#[derive(Clone, Copy, Debug)]
pub struct Inked<'a> {
    /// From left to right.
    pub width: Length,
    /// From top to bottom.
    pub height: Length,
    /// What it is made of.
    pub paper: &'a Paper,
    /// Places that matter when it is cut.
    pub features: &'a [Feature],
}

/// Why a card cannot be made as it is planned.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum CardError {
    /// Its format.
    #[error(transparent)]
    Format(#[from] FormatError),
    /// A layer.
    #[error(transparent)]
    Layer(#[from] LayerError),
    /// Its tape.
    #[error(transparent)]
    Tape(#[from] TapeError),
    /// A thickness.
    #[error(transparent)]
    Bulk(#[from] BulkError),
    /// An envelope.
    #[error(transparent)]
    Envelope(EnvelopeError),
    /// A size or a place that cannot be trimmed to.
    #[error("the {what} is {length}: give one on the piece, more than nothing")]
    Trim {
        /// What.
        what: &'static str,
        /// What was given.
        length: Length,
    },
    /// More than one panel, or none.
    #[error("{0} of the layers are panels: a card carries one")]
    Panels(usize),
    /// Inked too far over.
    #[error("{0} over on each side: ink up to 1 in (25.4 mm) over the finished size")]
    Over(Length),
    /// A limit no post has.
    #[error("a limit of {}: give the thickest your post takes, 0.04 to 2 in (1 to 51 mm)", .0.as_thickness(Units::Inches))]
    Limit(Length),
    /// A feature that is not there.
    #[error("feature {0} is not on the panel: choose one that is, or trim evenly")]
    Feature(usize),
}

/// A card worked out.
#[derive(Clone, Debug, PartialEq)]
pub struct Made {
    /// The system its measures are said in: the maker's, or the one that all of the card's own figures are exact in.
    pub units: Units,
    /// The flat base.
    pub base: Base,
    /// Its front and the layers on it.
    pub stacked: Stacked,
    /// The panel among the layers.
    pub panel: Placed,
    /// The size to ink, by the margin chosen.
    pub inked: (Length, Length),
    /// How the piece as it is comes to its finished size.
    pub trimmed: Result<Trimmed, Box<Refusal>>,
    /// Where tape goes on the piece, and what it leaves.
    pub taped: Taped,
    /// Everything to cut for one card.
    pub pieces: Vec<Piece>,
    /// What comes out of its windows.
    pub windows: Vec<CutOut>,
    /// Of that, what can be cut from again: bare, with straight sides.
    pub spare: Vec<Piece>,
    /// How thick and stiff.
    pub bulk: Bulk,
    /// Its outline.
    pub outline: Outline,
    /// What to look out for.
    pub says: Vec<String>,
}

impl Card {
    /// The card that suits a piece as it is cut: it keeps its whole size, or is trimmed by the usual margin. Of the usual
    /// formats the one whose reveal, or whose margin, comes nearest to the usual; a piece that none of them holds has a
    /// card of its own size.
    pub fn fitting(panel: &Inked, units: Units) -> Card {
        let (width, height) = (panel.width, panel.height);
        let usual = match units {
            Units::Inches => Length::from_64ths(8),
            Units::Millimetres => Length::from_tenths_mm(30),
        };
        let usual_over = inking::usual_over(units);
        let ours = |format: &Format| {
            (format.width.is_exact_in(units) && format.height.is_exact_in(units)) && !format.fold.has_flaps()
        };
        // What shows, or what is inked over, at each end of both axes: alike all round, or not at all.
        let spare = |one: (Length, Length), other: (Length, Length)| {
            let (across, down) = (one.0 - other.0, one.1 - other.1);
            (across >= Length::ZERO && down >= Length::ZERO).then(|| (across / 2, down / 2))
        };
        let mut best: Option<(Length, Format, (Length, Length), Length)> = None;
        let mut offer = |far: Length, format: &Format, finished, over| {
            if best.as_ref().is_none_or(|(known, ..)| far < *known) {
                best = Some((far, format.clone(), finished, over));
            }
        };
        for format in Format::usual().iter().filter(|format| ours(format)) {
            let closed = (format.width, format.height);
            if let Some((across, down)) = spare(closed, (width, height)) {
                let uneven = (across - down).abs();
                offer(
                    (across - usual).abs() + (down - usual).abs() + uneven,
                    format,
                    (width, height),
                    Length::ZERO,
                );
            }
            let finished = (closed.0 - usual * 2, closed.1 - usual * 2);
            if let Some((across, down)) = spare((width, height), finished)
                && across == down
                && Length::ZERO < across
                && across <= usual_over * 2
            {
                offer(usual * 2 + (across - usual_over).abs(), format, finished, across);
            }
        }
        let (_, format, finished, over) = best.unwrap_or_else(|| {
            let name = "Card of its own size".parse().expect("a name of twenty letters");
            let format = Format { name, width, height, fold: Fold::Side, relief: super::format::RELIEF };
            (Length::ZERO, format, (width, height), Length::ZERO)
        });
        let name: Name = "Panel".parse().expect("a name of five letters");
        let reveal = (format.width - finished.0, format.height - finished.1);
        let even = reveal.0 == reveal.1 && (reveal.0 / 2).is_exact_in(units);
        let layer = if even {
            Layer::showing(name, Role::Panel, super::Reveal::Even(reveal.0 / 2))
        } else {
            let layer = Layer::showing(name, Role::Panel, super::Reveal::default());
            Layer { width: Some(finished.0), height: Some(finished.1), ..layer }
        };
        Card {
            format,
            paper: panel.paper.clone(),
            layers: vec![layer],
            trim: Trim::Even,
            tape: Tape::usual(units),
            over,
            die_cut: None,
            post_limit: None,
        }
    }

    /// The finished size of the panel on it.
    ///
    /// # Errors
    /// Where its layers cannot lie so, or the panel is none of them.
    pub fn finished(&self, units: Units) -> Result<(Length, Length), CardError> {
        let closed = (Some(self.format.width), Some(self.format.height));
        let stacked = stack(closed, &self.layers, units)?;
        let panel = stacked.layers.iter().find(|placed| placed.role == Role::Panel);
        panel.map(|placed| (placed.place.width, placed.place.height)).ok_or(CardError::Panels(0))
    }

    /// Works out everything for a panel.
    ///
    /// # Errors
    /// A [`CardError`] with the remedy.
    pub fn made(
        &self,
        panel: &Inked,
        envelopes: &[Envelope],
        units: Units,
    ) -> Result<(Made, Posted), CardError> {
        self.check(panel)?;
        let units = Units::exact_for(units, &self.figures(panel)).unwrap_or(units);
        let closed = (Some(self.format.width), Some(self.format.height));
        let mut stacked = stack(closed, &self.layers, units)?;
        for placed in stacked.layers.iter_mut().filter(|placed| placed.role == Role::Panel) {
            placed.paper.get_or_insert_with(|| panel.paper.clone());
        }
        let panels: Vec<&Placed> =
            stacked.layers.iter().filter(|placed| placed.role == Role::Panel).collect();
        let [placed] = panels.as_slice() else {
            return Err(CardError::Panels(panels.len()));
        };
        let placed = (*placed).clone();
        let (width, height) = (placed.place.width, placed.place.height);
        self.tape.check(placed.place)?;
        let piece = (panel.width, panel.height);
        let feature = self.feature(panel)?;
        let trimmed = trim::trim(&trim::Trimming { piece, finished: (width, height), feature }, units);
        let waste = trimmed.as_ref().map_or(Edges::default(), |trimmed| trimmed.waste);
        let base = self.format.base();
        let build = Build::of(self.format.fold.leaves(), &self.paper, &stacked, self.die_cut.as_ref());
        let outline = outline(&stacked, &self.paper, self.format.fold, self.die_cut.as_ref());
        let posted = Posted::of(&outline, envelopes, units);
        let (pieces, windows) = pieces(&base, &stacked, &self.paper, Some(piece), self.die_cut.as_ref());
        let made = Made {
            units,
            says: says(&self.format, &stacked, units),
            inked: inking::inked(width, height, self.over),
            taped: self.tape.laid(waste, units),
            bulk: Bulk::of(&build, self.post_limit, units),
            base,
            panel: placed,
            trimmed,
            spare: windows.iter().filter(|out| out.is_spare).map(|out| out.piece.clone()).collect(),
            windows,
            pieces,
            outline,
            stacked,
        };
        Ok((made, posted))
    }

    /// The tape along the edges of a panel while it is inked; none where it cannot be trimmed to the card.
    pub fn border(&self, panel: &Inked) -> Border {
        let no_tape = Border { roll: self.tape.width, ..Border::default() };
        if self.tape.border == Edges::default() && self.tape.hold == Length::ZERO {
            return no_tape;
        }
        let made = self.made(panel, &[], Units::default());
        made.map_or(no_tape, |(made, _)| Border {
            lines: made.taped.lines.map(|line| line.map_or(Length::ZERO, |line| line.line)),
            ..no_tape
        })
    }

    /// The same card with what lies one over the other changed: mounts, thinner card, fewer tiers.
    #[must_use]
    pub fn built(&self, build: &Build, panel: &Inked) -> Card {
        let mut card = self.clone();
        for ((_, thick, mount), of) in build.layers.iter().zip(&build.of) {
            let layer = &mut card.layers[*of];
            layer.mount = *mount;
            for (nth, shaped) in layer.shapes.iter_mut().enumerate() {
                let is_raised = build.raised.iter().any(|raised| (raised.of, raised.nth) == (*of, nth));
                if !is_raised && shaped.back.is_some() {
                    shaped.back = Some(Mount::Glue);
                }
            }
            let own = match layer.role {
                Role::Panel => panel.paper,
                Role::Mat => &self.paper,
            };
            let paper = layer.paper.as_ref().unwrap_or(own);
            if paper.thickness != *thick {
                let name = format!("{:.60}, thin", paper.name.as_str());
                let name = name.parse().unwrap_or_else(|_| paper.name.clone());
                layer.paper = Some(Paper { name, thickness: *thick, ..paper.clone() });
            }
        }
        card.die_cut.clone_from(&build.die_cut);
        card
    }

    /// Refuses what no card is.
    ///
    /// # Errors
    /// A [`CardError`] with the remedy.
    pub fn check(&self, panel: &Inked) -> Result<(), CardError> {
        self.format.check()?;
        bulk::check_all(&self.paper, &self.layers, self.die_cut.as_ref())?;
        check_over(self.over)?;
        check_limit(self.post_limit)?;
        let panels = self.layers.iter().filter(|layer| layer.role == Role::Panel).count();
        if panels != 1 {
            return Err(CardError::Panels(panels));
        }
        let closed = (Some(self.format.width), Some(self.format.height));
        stack(closed, &self.layers, Units::default())?;
        self.feature(panel).map(|_| ())
    }

    /// Every length that was given for it.
    fn figures(&self, panel: &Inked) -> Vec<Length> {
        let Format { width, height, fold, relief, .. } = &self.format;
        let mut figures = vec![*width, *height, panel.width, panel.height, self.over, self.tape.hold];
        figures.extend(self.tape.border.named().map(|(_, border)| border));
        figures.extend(fold.has_flaps().then_some(*relief));
        for layer in &self.layers {
            let window = layer.window.unwrap_or_default();
            let sides = [layer.width, layer.height, window.width, window.height].into_iter();
            let reveals =
                [layer.reveal, window.frame].map(|reveal| reveal.edges().named().map(|(_, edge)| edge));
            figures.extend(sides.chain(reveals.into_iter().flatten()).flatten());
            figures.extend(layer.shapes.iter().flat_map(|shaped| [shaped.at.left, shaped.at.top]));
        }
        figures
    }

    fn feature(&self, panel: &Inked) -> Result<Option<(Point, Option<Point>)>, CardError> {
        match self.trim {
            Trim::Even => Ok(None),
            Trim::Feature { feature, at } => match panel.features.get(feature) {
                Some(found) => Ok(Some((found.at, at))),
                None => Err(CardError::Feature(feature + 1)),
            },
        }
    }
}

/// Refuses a margin no panel is inked with.
pub(crate) fn check_over(over: Length) -> Result<(), CardError> {
    let usual = Length::ZERO..=Length::from_inches(1);
    if usual.contains(&over) { Ok(()) } else { Err(CardError::Over(over)) }
}

/// Refuses a limit no post has.
pub(crate) fn check_limit(limit: Option<Length>) -> Result<(), CardError> {
    let thick = Length::from_tenths_mm(10)..=Length::from_inches(2);
    match limit.filter(|limit| !thick.contains(limit)) {
        Some(limit) => Err(CardError::Limit(limit)),
        None => Ok(()),
    }
}

/// The closed card's outline, layer upon layer.
pub(crate) fn outline(stacked: &Stacked, paper: &Paper, fold: Fold, die_cut: Option<&DieCut>) -> Outline {
    let front = Place { width: stacked.width, height: stacked.height, ..Place::default() };
    let mut top = paper.thickness * fold.leaves();
    let mut steps = vec![(front, top)];
    for layer in &stacked.layers {
        let (beneath, card) = (top, layer.paper.as_ref().unwrap_or(paper).thickness);
        top += layer.mount.raises() + card;
        steps.push((layer.place, top));
        for shaped in &layer.shapes {
            if let (Some(mount @ Mount::Foam { .. }), Ok(place)) = (shaped.back, shaped.place()) {
                let (left, above) = (layer.place.left + place.left, layer.place.top + place.top);
                steps.push((Place { left, top: above, ..place }, beneath + mount.raises() + card));
            }
        }
    }
    if let Some(cut) = die_cut {
        top += cut.mount.raises() + cut.thickness * i64::from(cut.tiers);
        let (width, height) = (cut.width.min(front.width), cut.height.min(front.height));
        let (left, above) = ((front.width - width) / 2, (front.height - height) / 2);
        steps.push((Place { left, top: above, width, height }, top));
    }
    Outline { steps }
}

/// What comes out of a window.
#[derive(Clone, Debug, PartialEq)]
pub struct CutOut {
    /// Itself.
    pub piece: Piece,
    /// The layer it comes out of.
    pub of: Name,
    /// Whether it is card to cut from again: not inked, and with straight sides.
    pub is_spare: bool,
}

/// What is cut for one card, the panel in the size it is inked, and what comes out of its windows.
pub(crate) fn pieces(
    base: &Base,
    stacked: &Stacked,
    paper: &Paper,
    inked: Option<(Length, Length)>,
    die_cut: Option<&DieCut>,
) -> (Vec<Piece>, Vec<CutOut>) {
    let named = |text: String, or: &Name| text.parse().unwrap_or_else(|_| or.clone());
    let piece = |name: Name, (width, height), grain, paper: &Paper| Piece {
        name,
        width,
        height,
        grain,
        count: 1,
        paper: Some(paper.name.clone()),
    };
    let name = "Base".parse().expect("a name of four letters");
    let mut pieces = vec![piece(name, (base.width, base.height), base.grain, paper)];
    let mut windows = Vec::new();
    for layer in &stacked.layers {
        let paper = layer.paper.as_ref().unwrap_or(paper);
        let own = (layer.place.width, layer.place.height);
        let (name, size) = match layer.role {
            Role::Panel => (named(format!("{}, to ink", layer.name), &layer.name), inked.unwrap_or(own)),
            Role::Mat => (layer.name.clone(), own),
        };
        pieces.push(piece(name, size, None, paper));
        if let Some(window) = layer.window {
            let name = named(format!("Window of {}", layer.name), &layer.name);
            let piece = piece(name, (window.place.width, window.place.height), None, paper);
            let is_spare = layer.role == Role::Mat && window.shape == WindowShape::Rectangle;
            windows.push(CutOut { piece, of: layer.name.clone(), is_spare });
        }
        for shaped in &layer.shapes {
            let Ok(place) = shaped.place() else { continue };
            let piece = piece(shaped.shape.name.clone(), (place.width, place.height), None, paper);
            windows.push(CutOut { piece, of: layer.name.clone(), is_spare: false });
        }
    }
    // Its card is told by its thickness alone: any will do.
    pieces.extend(die_cut.map(|cut| Piece {
        name: cut.name.clone(),
        width: cut.width,
        height: cut.height,
        grain: None,
        count: cut.tiers.into(),
        paper: None,
    }));
    (pieces, windows)
}

/// What to look out for.
pub(crate) fn says(format: &Format, stacked: &Stacked, units: Units) -> Vec<String> {
    let mut says = Vec::new();
    if let Some(axis) = format.fold.axis() {
        let base = format.base();
        let scores: Vec<String> = base.scores.iter().map(|score| score.at.said(units).to_string()).collect();
        let from = axis.of("left", "top");
        says.push(format!(
            "Cut the base {}, score at {} from the {from} edge, fold along the grain.",
            size(base.width, base.height, units),
            scores.join(" and ")
        ));
    }
    if format.fold.has_flaps() {
        says.push(format!(
            "Two flaps that meet bind: {} is off the inner edge of each.",
            format.relief.said(units)
        ));
        let axis = format.fold.axis().unwrap_or(Axis::Across);
        let closed = axis.of(stacked.width, stacked.height);
        let (near, far) = axis.ends();
        for layer in &stacked.layers {
            let (begin, long) = layer.place.along(axis);
            let meet = closed.halved(units.finest()).0;
            if begin < meet && meet < begin + long {
                let (one, other) = (meet - format.relief - begin, begin + long - meet - format.relief);
                says.push(format!(
                    "{} lies across both flaps: glue it to one of them only, or cut it in two, {} for the {near} flap and {} for the {far}.",
                    layer.name,
                    one.said(units),
                    other.said(units)
                ));
            }
        }
    }
    for pair in stacked.layers.windows(2) {
        let (lower, upper) = (&pair[0], &pair[1]);
        let Some(window) = &upper.window else { continue };
        let opens = Place {
            left: upper.place.left + window.place.left,
            top: upper.place.top + window.place.top,
            ..window.place
        };
        let within = |inner: Place, outer: Place| {
            inner.left >= outer.left
                && inner.top >= outer.top
                && inner.left + inner.width <= outer.left + outer.width
                && inner.top + inner.height <= outer.top + outer.height
        };
        if !within(opens, lower.place) {
            says.push(format!(
                "The window of {} opens beyond {}: make the window smaller or {} larger.",
                upper.name, lower.name, lower.name
            ));
        }
    }
    for layer in &stacked.layers {
        for shaped in layer.shapes.iter().filter(|shaped| shaped.back.is_none()) {
            let loose = shaped.region().map_or(0, |region| region.holes().len());
            if loose > 0 {
                let parts = if loose == 1 { "A part".to_owned() } else { format!("{loose} parts") };
                says.push(format!(
                    "{parts} inside the {} would fall out of {}: draw bridges to it, or put what comes out back.",
                    shaped.shape.name, layer.name
                ));
            }
        }
        let reveal = layer.reveal;
        let uneven = |one: Length, other: Length| one != other && (one - other).abs() <= units.finest();
        if uneven(reveal.left, reveal.right) || uneven(reveal.top, reveal.bottom) {
            let more = units.finest().said(units);
            says.push(format!(
                "{} cannot stand quite in the middle: one side shows {more} more.",
                layer.name
            ));
        }
    }
    says
}
