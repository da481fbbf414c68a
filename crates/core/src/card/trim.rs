//! Where is it cut so that a feature stays in its place?
//!
//! Half the finished width to each side of the feature's centre, and each side trimmed to its own mark; or,
//! where the feature is to stand elsewhere than in the middle, its own measure to the left and the rest to the
//! right. Where the piece does not reach that far the trim is refused before the cut, with the largest size that still
//! works and the offset that would remain if the size is kept.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::edges::{Axis, Edges, Place, size};
use crate::ink::Name;
use crate::length::{Length, Units};
use crate::place::Point;

/// A place on a panel that matters when it is cut: a moon, a sail, the end of a string.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Feature {
    /// What it is called.
    pub name: Name,
    /// Its centre, from the left and top edges of the panel as it is inked.
    pub at: Point,
    /// How wide it is, where that is known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub across: Option<Length>,
}

impl Feature {
    /// Whether its centre lies on a panel of this size, and its own width is one a panel can carry.
    pub fn is_on(&self, width: Length, height: Length) -> bool {
        let on = |at: Length, side: Length| (Length::ZERO..=side).contains(&at);
        let across = self.across.is_none_or(|across| Length::ZERO < across && across <= width.max(height));
        on(self.at.left, width) && on(self.at.top, height) && across
    }

    /// The same feature on a panel of another size, its centre keeping its share of both sides.
    #[must_use]
    pub fn carried(&self, from: (Length, Length), to: (Length, Length)) -> Feature {
        if from == to {
            return self.clone();
        }
        let step = Length::from_64ths(1);
        let carried = |at: Length, from: Length, to: Length| at.scaled(to, from, step).min(to);
        let at = Point { left: carried(self.at.left, from.0, to.0), top: carried(self.at.top, from.1, to.1) };
        let across = self.across.map(|across| across.min(to.0.max(to.1)));
        Feature { at, across, ..self.clone() }
    }
}

/// How a panel is cut out of the piece that was inked.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "lowercase")]
pub enum Trim {
    /// As much off each side as off the one across from it.
    #[default]
    Even,
    /// So that a feature of the panel, counted from 0, stands where it should.
    Feature {
        /// Which.
        feature: usize,
        /// Where its centre should stand on the finished panel; in the middle where it is left out.
        #[serde(default, skip_serializing_if = "Option::is_none")]
        at: Option<Point>,
    },
}

/// A cut: which edge falls off, and the setting of the trimmer.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct Cut {
    /// The edge that falls off: `left`, `right`, `top` or `bottom`.
    pub edge: String,
    /// Where the mark is, from that edge of the piece as it was inked.
    pub mark: Length,
    /// The edge held against the trimmer's stop.
    pub stop_edge: String,
    /// What is kept between stop and blade.
    pub keep: Length,
    /// That in a sentence.
    pub says: String,
}

/// A trim worked out.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct Trimmed {
    /// The finished panel on the piece.
    pub window: Place,
    /// What falls off at each edge.
    pub waste: Edges<Length>,
    /// From the feature's centre to each edge of the finished panel: the marks; none without a feature.
    pub marks: Option<Edges<Length>>,
    /// The cuts in order; edges with nothing to fall off have none.
    pub cuts: Vec<Cut>,
}

/// A trim that would cut beside the piece.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct Refusal {
    /// The largest width that still keeps the feature in its place; none where no width does.
    pub largest_width: Option<Length>,
    /// The largest height.
    pub largest_height: Option<Length>,
    /// Where the panel would be cut if its size is kept; none where it is larger than the piece.
    pub window: Option<Place>,
    /// How far the feature would then stand to the right of its place (left where negative).
    pub offset_across: Length,
    /// How far it would then stand below its place (above where negative).
    pub offset_down: Length,
    /// All that in sentences.
    pub says: String,
}

/// What is to be trimmed.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Trimming {
    /// The piece that was inked: width and height.
    pub piece: (Length, Length),
    /// The finished width and height.
    pub finished: (Length, Length),
    /// The feature's centre on the piece, and where it should stand on the finished panel (its middle where
    /// none is given); nothing where no feature is kept.
    pub feature: Option<(Point, Option<Point>)>,
}

/// Works a trim out.
///
/// # Errors
/// A [`Refusal`] where a cut would fall beside the piece.
pub fn trim(asked: &Trimming, units: Units) -> Result<Trimmed, Box<Refusal>> {
    let mark = units.finest();
    let mut begins = [Length::ZERO; 2];
    let mut fits = true;
    for (begin, axis) in begins.iter_mut().zip(Axis::BOTH) {
        let (piece, finished) = asked.along(axis);
        *begin = match asked.feature {
            None => (piece - finished).halved(mark).0,
            Some((centre, at)) => centre.along(axis) - wanted(at, finished, axis, mark),
        };
        fits &= *begin >= Length::ZERO && *begin + finished <= piece;
    }
    if !fits {
        return Err(Box::new(asked.refusal(units)));
    }
    let (width, height) = asked.finished;
    let window = Place { left: begins[0], top: begins[1], width, height };
    let waste = Edges {
        left: window.left,
        right: asked.piece.0 - window.left - width,
        top: window.top,
        bottom: asked.piece.1 - window.top - height,
    };
    let marks = asked.feature.map(|(centre, _)| Edges {
        left: centre.left - window.left,
        right: window.left + width - centre.left,
        top: centre.top - window.top,
        bottom: window.top + height - centre.top,
    });
    Ok(Trimmed { window, waste, marks, cuts: cuts(asked, window, waste, units) })
}

/// Where the feature's centre should stand along an axis of the finished panel.
fn wanted(at: Option<Point>, finished: Length, axis: Axis, mark: Length) -> Length {
    at.map_or_else(|| finished.halved(mark).0, |at| at.along(axis))
}

/// The longer side first, so that a narrow strip is never cut from a narrow piece; of two edges the
/// one with more to lose first, its neighbour then measured from the fresh cut.
fn cuts(asked: &Trimming, window: Place, waste: Edges<Length>, units: Units) -> Vec<Cut> {
    let mut axes = Axis::BOTH;
    if asked.piece.1 > asked.piece.0 {
        // The long edges run down: they are the left and right ones, and come first either way.
        axes = [Axis::Across, Axis::Down];
    } else if asked.piece.0 > asked.piece.1 {
        axes = [Axis::Down, Axis::Across];
    }
    let mut found = Vec::new();
    for axis in axes {
        let (near_edge, far_edge) = axis.ends();
        let (near, far) = waste.along(axis);
        let (begin, finished) = window.along(axis);
        let (piece, _) = asked.along(axis);
        // The first cut is set from the uncut edge across, the second from the fresh one.
        let first_far = far >= near;
        let (far_keep, near_keep) =
            if first_far { (begin + finished, finished) } else { (finished, piece - begin) };
        let mut pair = [(far_edge, near_edge, far, far_keep), (near_edge, far_edge, near, near_keep)];
        if !first_far {
            pair.reverse();
        }
        for (edge, stop_edge, mark, keep) in pair.into_iter().filter(|(_, _, mark, _)| *mark > Length::ZERO) {
            let says = format!(
                "{} edge against the trimmer's stop, the stop set to {}: {} falls off at the {edge}.",
                capital(stop_edge),
                keep.said(units),
                mark.said(units)
            );
            found.push(Cut { edge: edge.into(), mark, stop_edge: stop_edge.into(), keep, says });
        }
    }
    found
}

fn capital(word: &str) -> String {
    let (first, rest) = word.split_at(1);
    first.to_uppercase() + rest
}

impl Trimming {
    fn along(&self, axis: Axis) -> (Length, Length) {
        axis.of((self.piece.0, self.finished.0), (self.piece.1, self.finished.1))
    }

    /// The longest the finished panel can be along an axis with the feature in its place.
    fn largest(&self, axis: Axis, units: Units) -> Option<Length> {
        let (piece, _) = self.along(axis);
        let Some((centre, at)) = self.feature else { return Some(piece) };
        let centre = centre.along(axis);
        let room = match at {
            None => centre.min(piece - centre) * 2,
            Some(at) if at.along(axis) > centre => return None,
            Some(at) => at.along(axis) + piece - centre,
        };
        (room > units.finest()).then_some(room)
    }

    fn refusal(&self, units: Units) -> Refusal {
        let mut begins = [Length::ZERO; 2];
        let mut offsets = [Length::ZERO; 2];
        let mut says = Vec::new();
        let mut too_large = false;
        for (n, axis) in Axis::BOTH.into_iter().enumerate() {
            let (piece, finished) = self.along(axis);
            let (near_edge, far_edge) = axis.ends();
            if finished > piece {
                too_large = true;
                says.push(format!(
                    "The finished {} of {} is more than the {} of the piece.",
                    axis.size(),
                    finished.said(units),
                    piece.said(units)
                ));
                continue;
            }
            let Some((centre, at)) = self.feature else { continue };
            let (centre, place) = (centre.along(axis), wanted(at, finished, axis, units.finest()));
            let ideal = centre - place;
            begins[n] = ideal.clamp(Length::ZERO, piece - finished);
            offsets[n] = ideal - begins[n];
            if offsets[n] != Length::ZERO {
                let (short, edge) =
                    if ideal < begins[n] { (begins[n] - ideal, near_edge) } else { (offsets[n], far_edge) };
                says.push(format!(
                    "The feature is too near the {edge} edge for a {} of {}: {} is missing there.",
                    axis.size(),
                    finished.said(units),
                    short.said(units)
                ));
            }
        }
        let largest = Axis::BOTH.map(|axis| self.largest(axis, units));
        if let [Some(width), Some(height)] = largest {
            let (w, h) = (width.min(self.finished.0), height.min(self.finished.1));
            says.push(format!("The largest panel that keeps it in its place is {}.", size(w, h, units)));
        } else {
            says.push(
                "No size keeps the feature where it is wanted: give it a place nearer the edge.".into(),
            );
        }
        let window = (!too_large).then(|| {
            let (width, height) = self.finished;
            Place { left: begins[0], top: begins[1], width, height }
        });
        if window.is_some() {
            let mut off = Vec::new();
            for (offset, (before, after)) in
                offsets.into_iter().zip([("left of", "right of"), ("above", "below")])
            {
                if offset != Length::ZERO {
                    let way = if offset < Length::ZERO { before } else { after };
                    off.push(format!("{} {way} its place", offset.abs().said(units)));
                }
            }
            says.push(format!("With the size kept, it stands {}.", off.join(" and ")));
        }
        Refusal {
            largest_width: largest[0],
            largest_height: largest[1],
            window,
            offset_across: offsets[0],
            offset_down: offsets[1],
            says: says.join(" "),
        }
    }
}
