//! Along which way does a blend run, and from where is it measured?
//!
//! A way is any measure of place that grows from where the blend begins: one exact length, on which hills, zones and
//! junctions lie. Everything else about a blend is the same whichever way it runs.
//!
//! | way | measured |
//! |---|---|
//! | [`Way::Band`] | square to the bands, from the edge or corner they begin at |
//! | [`Way::Corner`] | round it as its distance, as a hand spreads ink from there; in straight bands as the sum of the distances from its two edges: either way the same measure marked along both edges gives the two ends of a ring or band |
//! | [`Way::Glow`] | outward from a placed centre; an oval's measure is that of its longer half |
//! | [`Way::Vignette`] | inward from the edges, round the corners |
//! | [`Way::Patch`] | outward from a placed middle, as far as its rim and no further |
//! | [`Way::Streak`] | outward from a line, as far as its rim and no further |
//! | [`Way::Rim`] | inward from the edge of what it lies on, whatever its outline |
//!
//! ```
//! use rosy_core::Length;
//! use rosy_core::blend::Way;
//!
//! let size = (Length::from_inches(4), Length::from_inches(5));
//! assert_eq!(Way::DOWN.span(size), Length::from_inches(5));
//! let run = Way::DOWN.on(size);
//! assert_eq!(run.at(10.0, 25.4).place, 25.4); // millimetres from the top edge
//! ```

use std::sync::Arc;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::length::{Length, Units};
use crate::place::{Corner, Point};
use crate::shape::Depth;

/// Furthest a centre or the end of a line may lie beside the panel.
pub const BESIDE: Length = Length::from_inches(6);
/// Narrowest and widest reach of a glow, a patch or a streak.
pub const REACH: (Length, Length) = (Length::from_64ths(16), Length::from_inches(24));

/// Where a blend begins and where it runs to.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case", deny_unknown_fields)]
pub enum Way {
    /// Straight bands, one after the other.
    Band {
        /// Which way they follow one another, in degrees clockwise from left to right: 0 to 359. 90 is top to bottom.
        angle: u16,
    },
    /// From a corner.
    Corner {
        /// The corner where the blend begins.
        from: Corner,
        /// Whether it spreads round the corner, rather than in straight bands across it.
        #[serde(default, skip_serializing_if = "std::ops::Not::not")]
        round: bool,
    },
    /// Rings round a centre; what stands at the rim covers all beyond it.
    Glow {
        /// Its centre.
        centre: Point,
        /// From the centre to the rim, to the left and right.
        across: Length,
        /// From the centre to the rim, up and down.
        down: Length,
    },
    /// From the edges inward.
    Vignette {
        /// How far the bend in the corners reaches, which makes them heavier; 0 keeps them square.
        corners: Length,
    },
    /// Rings round a middle, with nothing beyond the rim.
    Patch {
        /// Its middle.
        centre: Point,
        /// From the middle to the rim, to the left and right.
        across: Length,
        /// From the middle to the rim, up and down.
        down: Length,
    },
    /// Along a line, with nothing beyond the rim.
    Streak {
        /// One end of the line.
        from: Point,
        /// The other.
        to: Point,
        /// From the line to the rim.
        reach: Length,
    },
    /// Inward from the edge, whatever the outline; what stands at the far end covers all that lies deeper.
    Rim {
        /// From the edge to where it ends.
        reach: Length,
    },
}

/// Why a blend cannot run this way, and what to change.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum WayError {
    /// No such direction.
    #[error("{0}° is no way for bands to run: give 0 to 359, clockwise from left to right")]
    Angle(u16),
    /// Too far off the panel.
    #[error("its centre or line lies too far off: place it on the panel, or up to 6 in (152.4 mm) beside it")]
    Far,
    /// Too small or too large.
    #[error("a reach of {0}: give 1/4 in (6.35 mm) to 24 in (609.6 mm)")]
    Reach(Length),
    /// Corners that cannot be rounded so far.
    #[error("corners rounded by {0}: give 0 to {1}, half the shorter side")]
    Corners(Length, Length),
}

/// A point's measure along a way.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Along {
    /// Millimetres from where the blend begins.
    pub place: f64,
    /// How much the measure grows with a millimetre straight across the bands.
    pub stretch: f64,
}

/// A way on a panel of a certain size, ready for reckoning in millimetres.
#[derive(Clone, Debug, PartialEq)]
pub struct Run {
    way: Way,
    course: Course,
    /// Where what it lies on begins, from the panel's left and top edges, and its width and height.
    origin: (f64, f64),
    size: (f64, f64),
    /// How long the blend is.
    pub span: f64,
    /// Whether what stands at its far end covers all beyond.
    pub runs_on: bool,
}

#[derive(Clone, Debug, PartialEq)]
enum Course {
    /// start + x · across + y · down.
    Straight { start: f64, across: f64, down: f64, stretch: f64 },
    /// Distance from a centre, each axis by its own scale.
    Round { centre: (f64, f64), scale: (f64, f64) },
    /// Distance inward from the edges, rounded where two of them meet.
    Inward { half: (f64, f64), corners: f64 },
    /// Distance from a line.
    Line { from: (f64, f64), to: (f64, f64) },
    /// Depth inside an outline, wherever that lies.
    Deep(Arc<Depth>),
}

impl Run {
    /// The same on something that lies so far from the panel's left and top edges, in millimetres.
    #[must_use]
    pub fn moved(self, origin: (f64, f64)) -> Run {
        Run { origin, ..self }
    }

    /// The same on something of this outline: a way that goes by the edge follows it.
    #[must_use]
    pub fn round(self, depth: impl FnOnce() -> Arc<Depth>) -> Run {
        match self.way {
            Way::Rim { .. } => Run { course: Course::Deep(depth()), ..self },
            _ => self,
        }
    }

    /// The measure of a point, in millimetres from the panel's left and top edges.
    #[inline]
    pub fn at(&self, x: f64, y: f64) -> Along {
        if let Course::Deep(depth) = &self.course {
            return Along { place: depth.at(x, y), stretch: 1.0 };
        }
        let (x, y) = (x - self.origin.0, y - self.origin.1);
        match self.course {
            Course::Deep(_) => Along::default(),
            Course::Straight { start, across, down, stretch } => {
                Along { place: start + x * across + y * down, stretch }
            }
            Course::Round { centre, scale } => {
                let (u, v) = ((x - centre.0) * scale.0, (y - centre.1) * scale.1);
                let place = u.hypot(v);
                let stretch = if place < 1e-9 {
                    0.5 * (scale.0 + scale.1)
                } else {
                    (u * scale.0).hypot(v * scale.1) / place
                };
                Along { place, stretch }
            }
            Course::Inward { half, corners } => {
                let inward = |at: f64, half: f64| half - (at - half).abs();
                let (u, v) = (inward(x, half.0), inward(y, half.1));
                // The lesser of the two, rounded where they come near one another: a bend as soft as wide in every ring.
                let near = (corners - (u - v).abs()).max(0.0);
                let rounded = if near > 0.0 { near * near / (4.0 * corners) } else { 0.0 };
                Along { place: (u.min(v) - rounded).max(0.0), stretch: 1.0 }
            }
            Course::Line { from, to } => {
                let (along, off) = ((to.0 - from.0, to.1 - from.1), (x - from.0, y - from.1));
                let long = along.0 * along.0 + along.1 * along.1;
                let share = if long == 0.0 { 0.0 } else { (along.0 * off.0 + along.1 * off.1) / long };
                let share = share.clamp(0.0, 1.0);
                let place = (off.0 - share * along.0).hypot(off.1 - share * along.1);
                Along { place, stretch: 1.0 }
            }
        }
    }

    /// How much the measure grows with a millimetre, where that is the same everywhere.
    pub fn even_stretch(&self) -> Option<f64> {
        match self.course {
            Course::Straight { stretch, .. } => Some(stretch),
            Course::Round { scale, .. } if scale.0 != scale.1 => None,
            // Outside it goes on below nothing.
            Course::Deep(_) => None,
            _ => Some(1.0),
        }
    }

    /// The furthest measure that lies on what it runs on.
    pub fn furthest(&self) -> f64 {
        match self.course {
            Course::Straight { .. } | Course::Inward { .. } => self.span,
            _ => {
                let ((left, top), (width, height)) = (self.origin, self.size);
                let corners =
                    [(left, top), (left + width, top), (left, top + height), (left + width, top + height)];
                corners.map(|(x, y)| self.at(x, y).place).into_iter().fold(0.0, f64::max)
            }
        }
    }

    /// A point with this measure, on the line along which the blend is best told: through the middle of the panel for
    /// bands, across the corner, out from a centre or a line, in from the top edge.
    pub fn point(&self, place: f64) -> (f64, f64) {
        let (origin, size) = (self.origin, self.size);
        let (x, y) = match self.course {
            Course::Deep(ref depth) => {
                let [x, y] = depth.place(place);
                return (x, y);
            }
            Course::Straight { start, across, down, stretch } => {
                let middle = start + 0.5 * (size.0 * across + size.1 * down);
                let off = (place - middle) / (stretch * stretch);
                (0.5 * size.0 + off * across, 0.5 * size.1 + off * down)
            }
            Course::Round { centre, .. } if let Way::Corner { from, .. } = self.way => {
                let ((right, below), long) = (from.away(), size.0.hypot(size.1));
                (centre.0 + right * place * size.0 / long, centre.1 + below * place * size.1 / long)
            }
            Course::Round { centre, scale } => {
                // Towards the further side, where there is more of it to see.
                let towards = if centre.1 > 0.5 * size.1 { -1.0 } else { 1.0 };
                (centre.0, centre.1 + towards * place / scale.1)
            }
            Course::Inward { half, .. } if half.0 < half.1 => (place, half.1),
            Course::Inward { half, .. } => (half.0, place),
            Course::Line { from, to } => {
                let along = (to.0 - from.0, to.1 - from.1);
                let long = along.0.hypot(along.1);
                let square = if long == 0.0 { (0.0, 1.0) } else { (-along.1 / long, along.0 / long) };
                (0.5 * (from.0 + to.0) + place * square.0, 0.5 * (from.1 + to.1) + place * square.1)
            }
        };
        (origin.0 + x, origin.1 + y)
    }
}

/// The cosine and sine of an angle in degrees, exact where bands are level or upright.
fn slopes(angle: u16) -> (f64, f64) {
    match angle {
        0 => (1.0, 0.0),
        90 => (0.0, 1.0),
        180 => (-1.0, 0.0),
        270 => (0.0, -1.0),
        _ => {
            let (sin, cos) = f64::from(angle).to_radians().sin_cos();
            (cos, sin)
        }
    }
}

impl Way {
    /// Top to bottom.
    pub const DOWN: Way = Way::Band { angle: 90 };
    /// Bottom to top.
    pub const UP: Way = Way::Band { angle: 270 };
    /// Left to right.
    pub const RIGHT: Way = Way::Band { angle: 0 };
    /// Right to left.
    pub const LEFT: Way = Way::Band { angle: 180 };
    /// The ways reached at one press: the four straight ones, then the four corners.
    pub const USUAL: [Way; 8] = [
        Way::DOWN,
        Way::UP,
        Way::RIGHT,
        Way::LEFT,
        Way::round(Corner::TopLeft),
        Way::round(Corner::TopRight),
        Way::round(Corner::BottomLeft),
        Way::round(Corner::BottomRight),
    ];

    /// Round a corner.
    pub const fn round(from: Corner) -> Way {
        Way::Corner { from, round: true }
    }

    /// In straight bands across a corner.
    pub const fn across(from: Corner) -> Way {
        Way::Corner { from, round: false }
    }

    /// The way for a blend over some that have these: from the next corner where one begins in a corner, or else from the far end
    /// of the last.
    pub fn from_elsewhere(ways: &[Way]) -> Way {
        let is_free = |way: &Way| !ways.contains(way);
        let corner = ways.iter().find(|way| matches!(way, Way::Corner { .. })).and_then(|_| {
            // Across before beside: ink in two corners is balanced so.
            let all = [Corner::TopLeft, Corner::BottomRight, Corner::TopRight, Corner::BottomLeft];
            all.map(Way::round).into_iter().find(is_free)
        });
        let far = match ways.last() {
            Some(Way::Band { angle }) => Some(Way::Band { angle: (angle + 180) % 360 }).filter(is_free),
            _ => None,
        };
        corner.or(far).or_else(|| Way::USUAL.into_iter().find(is_free)).unwrap_or(Way::DOWN)
    }

    /// Every kind of way, each placed as it is usually begun with on a panel of this size.
    pub fn offered(size: (Length, Length), units: Units) -> Vec<Way> {
        let mark = units.pencil();
        let (width, height) = size;
        let share =
            |of: Length, percent: i64| of.scaled(mark * percent, mark * 100, mark).max(REACH.0.up_to(mark));
        let point = |across: i64, down: i64| Point { left: share(width, across), top: share(height, down) };
        let less = width.min(height);
        let (glow, patch) = (share(width.max(height), 70), share(less, 30));
        let others = [
            Way::Band { angle: 65 },
            Way::Glow { centre: point(50, 38), across: glow, down: glow },
            Way::Vignette { corners: share(less, 22) },
            Way::Patch { centre: point(50, 50), across: patch, down: patch },
            Way::Streak { from: point(25, 60), to: point(75, 45), reach: share(less, 18) },
        ];
        Way::USUAL.into_iter().chain(others).chain(Corner::ALL.map(Way::across)).collect()
    }

    /// Every kind of way on a shape with an upright box of this size round it: those of a panel, and in from its edge.
    pub fn offered_inside(size: (Length, Length), units: Units) -> Vec<Way> {
        let mark = units.pencil();
        let half = (size.0.min(size.1) / 2).up_to(mark).max(REACH.0.up_to(mark));
        let mut ways = Way::offered(size, units);
        ways.push(Way::Rim { reach: half });
        ways
    }

    /// Which of the ways offered it is, however it is placed.
    pub fn among(self, offered: &[Way]) -> Option<usize> {
        let slants = |way: &Way| matches!(way, Way::Band { angle } if angle % 90 != 0);
        let is_kind = |way: &&Way| match self {
            Way::Band { .. } if slants(&self) => slants(way),
            Way::Band { .. } | Way::Corner { .. } => **way == self,
            _ => std::mem::discriminant(*way) == std::mem::discriminant(&self),
        };
        offered.iter().position(|way| is_kind(&way))
    }

    /// How long the blend is on a panel of this width and height.
    pub fn span(self, (width, height): (Length, Length)) -> Length {
        let mark = Length::from_64ths(1);
        match self {
            Way::Band { angle: 0 | 180 } => width,
            Way::Band { angle: 90 | 270 } => height,
            Way::Band { angle } => {
                let (across, down) = slopes(angle);
                let long = width.mm() * across.abs() + height.mm() * down.abs();
                Length::at_least_mm(long - 1e-6).up_to(mark)
            }
            Way::Corner { round: false, .. } => width + height,
            Way::Corner { round: true, .. } => {
                Length::at_least_mm(width.mm().hypot(height.mm()) - 1e-6).up_to(mark)
            }
            Way::Glow { across, down, .. } | Way::Patch { across, down, .. } => across.max(down),
            Way::Vignette { .. } => (width.min(height) / 2).up_to(mark),
            Way::Streak { reach, .. } | Way::Rim { reach } => reach,
        }
    }

    /// Whether how far it comes is one of its own measures.
    pub const fn has_reach(self) -> bool {
        !matches!(self, Way::Band { .. } | Way::Corner { .. } | Way::Vignette { .. })
    }

    /// Whether what stands at its far end covers all beyond: the rest of the panel, and past its edges.
    pub const fn runs_on(self) -> bool {
        !matches!(self, Way::Patch { .. } | Way::Streak { .. })
    }

    /// On a panel of this width and height.
    pub fn on(self, size: (Length, Length)) -> Run {
        let (width, height) = (size.0.mm(), size.1.mm());
        let point = |at: Point| (at.left.mm(), at.top.mm());
        let straight = |across: f64, down: f64, stretch: f64| {
            let start = (-across).max(0.0) * width + (-down).max(0.0) * height;
            Course::Straight { start, across, down, stretch }
        };
        let course = match self {
            Way::Band { angle } => {
                let (across, down) = slopes(angle);
                straight(across, down, 1.0)
            }
            Way::Corner { from, round: false } => {
                let (right, below) = from.away();
                straight(right, below, std::f64::consts::SQRT_2)
            }
            Way::Corner { from, round: true } => {
                let (right, below) = from.away();
                let centre = (if right > 0.0 { 0.0 } else { width }, if below > 0.0 { 0.0 } else { height });
                Course::Round { centre, scale: (1.0, 1.0) }
            }
            Way::Glow { centre, across, down } | Way::Patch { centre, across, down } => {
                let long = across.max(down).mm();
                Course::Round { centre: point(centre), scale: (long / across.mm(), long / down.mm()) }
            }
            Way::Vignette { corners } => {
                Course::Inward { half: (0.5 * width, 0.5 * height), corners: corners.mm() }
            }
            Way::Streak { from, to, .. } => Course::Line { from: point(from), to: point(to) },
            Way::Rim { .. } => Course::Inward { half: (0.5 * width, 0.5 * height), corners: 0.0 },
        };
        Run {
            way: self,
            course,
            origin: (0.0, 0.0),
            size: (width, height),
            span: self.span(size).mm(),
            runs_on: self.runs_on(),
        }
    }

    /// Refuses a way that no panel of this size has.
    ///
    /// # Errors
    /// A [`WayError`] with the remedy.
    pub fn check(self, (width, height): (Length, Length)) -> Result<(), WayError> {
        let near = |at: Point| {
            let within = |at: Length, side: Length| (-BESIDE..=side + BESIDE).contains(&at);
            if within(at.left, width) && within(at.top, height) { Ok(()) } else { Err(WayError::Far) }
        };
        let reach = |reach: Length| {
            if (REACH.0..=REACH.1).contains(&reach) { Ok(()) } else { Err(WayError::Reach(reach)) }
        };
        match self {
            Way::Band { angle } if angle >= 360 => Err(WayError::Angle(angle)),
            Way::Band { .. } | Way::Corner { .. } => Ok(()),
            Way::Glow { centre, across, down } | Way::Patch { centre, across, down } => {
                near(centre)?;
                reach(across)?;
                reach(down)
            }
            Way::Vignette { corners } => {
                let most = width.min(height) / 2;
                let known = Length::ZERO..=most;
                if known.contains(&corners) { Ok(()) } else { Err(WayError::Corners(corners, most)) }
            }
            Way::Streak { from, to, reach: wide } => {
                near(from)?;
                near(to)?;
                reach(wide)
            }
            Way::Rim { reach: wide } => reach(wide),
        }
    }

    /// The same way on a panel of another size: places keep their share of each side, round stays round.
    #[must_use]
    pub fn carried(self, old: (Length, Length), new: (Length, Length), mark: Length) -> Way {
        let scaled = |at: Length, old: Length, new: Length| at.scaled(new, old, mark);
        let point =
            |at: Point| Point { left: scaled(at.left, old.0, new.0), top: scaled(at.top, old.1, new.1) };
        let (less_old, less_new) =
            if new.0.ratio(old.0) < new.1.ratio(old.1) { (old.0, new.0) } else { (old.1, new.1) };
        let wide = |at: Length| scaled(at, less_old, less_new).clamp(REACH.0, REACH.1);
        let oval = |across: Length, down: Length| {
            let own = |at: Length, old: Length, new: Length| scaled(at, old, new).clamp(REACH.0, REACH.1);
            if across == down {
                (wide(across), wide(down))
            } else {
                (own(across, old.0, new.0), own(down, old.1, new.1))
            }
        };
        match self {
            Way::Band { .. } | Way::Corner { .. } => self,
            Way::Glow { centre, across, down } => {
                let (across, down) = oval(across, down);
                Way::Glow { centre: point(centre), across, down }
            }
            Way::Patch { centre, across, down } => {
                let (across, down) = oval(across, down);
                Way::Patch { centre: point(centre), across, down }
            }
            Way::Vignette { corners } => {
                let corners = scaled(corners, less_old, less_new).min(new.0.min(new.1) / 2);
                Way::Vignette { corners }
            }
            Way::Streak { from, to, reach } => {
                Way::Streak { from: point(from), to: point(to), reach: wide(reach) }
            }
            Way::Rim { reach } => Way::Rim { reach: wide(reach) },
        }
    }

    /// The way in words.
    pub const fn words(self) -> &'static str {
        match self {
            Way::Band { angle: 0 } => "left to right",
            Way::Band { angle: 90 } => "top to bottom",
            Way::Band { angle: 180 } => "right to left",
            Way::Band { angle: 270 } => "bottom to top",
            Way::Band { .. } => "slanting bands",
            Way::Corner { from, round: true } => from.from_words(),
            Way::Corner { from, round: false } => from.across_words(),
            Way::Glow { .. } => "a glow",
            Way::Vignette { .. } => "from the edges in",
            Way::Patch { .. } => "a patch",
            Way::Streak { .. } => "along a line",
            Way::Rim { .. } => "in from its edge",
        }
    }

    /// What measures start from.
    pub const fn from(self) -> &'static str {
        match self {
            Way::Band { angle: 0 } => "left edge",
            Way::Band { angle: 90 } => "top edge",
            Way::Band { angle: 180 } => "right edge",
            Way::Band { angle: 270 } => "bottom edge",
            Way::Band { angle } => Corner::first_met(angle).words(),
            Way::Corner { from, .. } => from.words(),
            Way::Glow { .. } => "centre of the glow",
            Way::Vignette { .. } => "edge, all round",
            Way::Patch { .. } => "middle of the patch",
            Way::Streak { .. } => "line",
            Way::Rim { .. } => "edge",
        }
    }

    /// What lies at the far end.
    pub const fn to(self) -> &'static str {
        match self {
            Way::Band { angle } => Way::Band { angle: (angle + 180) % 360 }.from(),
            Way::Corner { from, .. } => from.opposite().words(),
            Way::Glow { .. } => "rest, out to the edges",
            Way::Vignette { .. } => "middle",
            Way::Patch { .. } | Way::Streak { .. } => "rim",
            Way::Rim { .. } => "heart",
        }
    }

    /// Whether measures can be taken from its far end as well: from an edge or a corner.
    pub const fn has_two_ends(self) -> bool {
        matches!(self, Way::Band { .. } | Way::Corner { round: false, .. })
    }

    /// Whether strokes start off the card where it begins.
    pub const fn starts_off_the_card(self) -> bool {
        matches!(self, Way::Band { .. } | Way::Corner { .. } | Way::Vignette { .. })
    }

    /// How its measures are found on the panel, where that is not plain.
    pub const fn how_measured(self) -> &'static str {
        match self {
            Way::Corner { .. } => ", marked along both edges",
            Way::Band { angle: 0 | 90 | 180 | 270 } => "",
            Way::Band { .. } => ", square to the bands",
            Way::Glow { across, down, .. } | Way::Patch { across, down, .. } if !same(across, down) => {
                ", along the longer way of the oval"
            }
            _ => "",
        }
    }

    /// Where it lies, in measures from the panel's edges; nothing where its name says it all.
    pub fn placed(self, units: Units) -> Option<String> {
        let said = |length: Length| length.said(units);
        let point = |at: Point| format!("{} from the left and {} from the top", said(at.left), said(at.top));
        match self {
            Way::Band { angle: 0 | 90 | 180 | 270 } | Way::Corner { .. } => None,
            Way::Band { angle } => {
                Some(format!("the bands run at {angle}°, turned clockwise from left to right"))
            }
            Way::Glow { centre, across, down } | Way::Patch { centre, across, down } => {
                let reach = if across == down {
                    format!("{} out to its rim", said(across))
                } else {
                    format!("{} out to each side and {} up and down", said(across), said(down))
                };
                Some(format!("centre {}, {reach}", point(centre)))
            }
            Way::Vignette { corners: Length::ZERO } | Way::Rim { .. } => None,
            Way::Vignette { corners } => Some(format!("corners rounded by {}", said(corners))),
            Way::Streak { from, to, reach } => {
                Some(format!("from {} to {}, {} out to each side", point(from), point(to), said(reach)))
            }
        }
    }
}

/// `==` where it can be asked before the program runs.
const fn same(one: Length, other: Length) -> bool {
    one.times(Length::from_64ths(1)) == other.times(Length::from_64ths(1))
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn size() -> (Length, Length) {
        (Length::from_inches(4), Length::from_inches(5))
    }

    fn at(left: i64, top: i64) -> Point {
        Point { left: Length::from_64ths(left), top: Length::from_64ths(top) }
    }

    #[test]
    fn bands_and_corners_start_at_nothing_and_end_at_their_span() {
        let slanting = (0..360).step_by(15).map(|angle| Way::Band { angle });
        for way in Way::USUAL.into_iter().chain(slanting) {
            let run = way.on(size());
            let corners = [(0.0, 0.0), (101.6, 0.0), (0.0, 127.0), (101.6, 127.0)];
            let places = corners.map(|(x, y)| run.at(x, y).place);
            let least = places.iter().copied().fold(f64::INFINITY, f64::min);
            let most = places.iter().copied().fold(0.0, f64::max);
            assert!(least.abs() < 1e-9 && (most - run.span).abs() < 0.4, "{way:?}: {least} to {most}");
            assert!(most <= run.span + 1e-9, "{way:?}");
        }
    }

    #[test]
    fn a_glow_measures_alike_to_all_sides_and_an_oval_by_its_halves() {
        let (three, two) = (Length::from_inches(3), Length::from_inches(2));
        let round = Way::Glow { centre: at(128, 128), across: two, down: two }.on(size());
        for n in 0..24 {
            let (sin, cos) = (f64::from(n) * 0.2618).sin_cos();
            assert!((round.at(50.8 + 30.0 * cos, 50.8 + 30.0 * sin).place - 30.0).abs() < 1e-9);
        }
        let oval = Way::Glow { centre: at(128, 128), across: two, down: three }.on(size());
        let rim = [oval.at(50.8 + 50.8, 50.8), oval.at(50.8, 50.8 + 76.2)];
        assert!(rim.iter().all(|along| (along.place - oval.span).abs() < 1e-9));
        assert_eq!((oval.even_stretch(), round.even_stretch()), (None, Some(1.0)));
    }

    #[test]
    fn a_corner_s_ink_spreads_alike_to_all_sides() {
        for from in Corner::ALL {
            let run = Way::round(from).on(size());
            let ((right, below), (wide, high)) = (from.away(), (101.6, 127.0));
            let (x, y) = (if right > 0.0 { 0.0 } else { wide }, if below > 0.0 { 0.0 } else { high });
            for n in 0..=8 {
                let (sin, cos) = (f64::from(n) * std::f64::consts::FRAC_PI_2 / 8.0).sin_cos();
                let place = run.at(x + right * 40.0 * cos, y + below * 40.0 * sin).place;
                assert!((place - 40.0).abs() < 1e-9, "{from:?} {place}");
            }
        }
    }

    #[test]
    fn a_vignette_measures_in_from_every_edge_and_leaves_its_corners_outside() {
        let run = Way::Vignette { corners: Length::from_inches(1) }.on(size());
        for (x, y) in [(10.0, 63.5), (91.6, 63.5), (50.8, 10.0), (50.8, 117.0)] {
            assert!((run.at(x, y).place - 10.0).abs() < 1e-9, "{x} {y}");
        }
        assert_eq!(run.at(1.0, 1.0).place, 0.0);
        let square = Way::Vignette { corners: Length::ZERO }.on(size());
        assert!((square.at(50.8, 63.5).place - run.span).abs() < 1e-9);
        assert!(
            run.at(20.0, 24.0).place < square.at(20.0, 24.0).place,
            "corners are heavier when they are rounded"
        );
    }

    proptest! {
        #[test]
        fn the_measure_grows_as_the_stretch_says(
            x in 1.0..100.0, y in 1.0..126.0, turn in 0.0..std::f64::consts::TAU, kind in 0..6_usize,
        ) {
            let two = Length::from_inches(2);
            let way = [
                Way::Band { angle: 33 },
                Way::across(Corner::BottomLeft),
                Way::Glow { centre: at(100, 300), across: two, down: two * 2 },
                Way::Streak { from: at(20, 30), to: at(200, 250), reach: two },
                Way::Patch { centre: at(-10, 80), across: two * 3, down: two },
                Way::round(Corner::BottomRight),
            ][kind];
            let run = way.on(size());
            let here = run.at(x, y);
            // Never faster than the stretch, whichever way one goes.
            let step = 1e-4;
            let there = run.at(x + step * turn.cos(), y + step * turn.sin());
            prop_assert!((there.place - here.place).abs() <= here.stretch * step * 1.001 + 1e-9);
        }

        #[test]
        fn a_point_told_along_the_way_has_its_measure(share in 0.0..1.0, kind in 0..7_usize) {
            let two = Length::from_inches(2);
            let way = [
                Way::Band { angle: 200 },
                Way::across(Corner::TopRight),
                Way::Glow { centre: at(100, 300), across: two, down: two * 2 },
                Way::Streak { from: at(20, 30), to: at(200, 250), reach: two },
                Way::Vignette { corners: Length::from_64ths(40) },
                Way::LEFT,
                Way::round(Corner::BottomLeft),
            ][kind];
            let run = way.on(size());
            let place = share * run.span;
            let (x, y) = run.point(place);
            prop_assert!((run.at(x, y).place - place).abs() < 0.2, "{:?} {} {}", way, place, run.at(x, y).place);
        }
    }

    #[test]
    fn every_way_is_found_among_those_offered_however_it_is_placed() {
        let offered = Way::offered_inside(size(), Units::Inches);
        for (place, way) in offered.iter().enumerate() {
            assert_eq!(way.check(size()), Ok(()));
            assert_eq!(way.among(&offered), Some(place), "{way:?}");
        }
        let slanting = Way::Band { angle: 200 }.among(&offered).unwrap();
        assert_eq!(offered[slanting].words(), "slanting bands");
        let patch =
            Way::Patch { centre: at(0, 0), across: Length::from_inches(1), down: Length::from_inches(2) };
        assert_eq!(offered[patch.among(&offered).unwrap()].words(), "a patch");
    }
}
