//! By what is a way taken hold of, on the picture and by number, and what becomes of it then?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::way::{BESIDE, REACH, Way};
use crate::length::{Length, LengthError, Units};
use crate::place::Point;

/// A place on the picture where a way can be taken hold of.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Grip {
    /// Turns bands.
    Turn,
    /// Moves a centre.
    Centre,
    /// Sets how far a rim lies to the sides.
    Across,
    /// Sets how far a rim lies up and down.
    Down,
    /// Rounds the corners.
    Corners,
    /// Moves one end of a line.
    From,
    /// Moves the other.
    To,
    /// Sets how far a rim lies from a line.
    Reach,
}

/// A measure of a way that can be written.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "kebab-case")]
pub enum Measure {
    /// Degrees clockwise from left to right.
    Angle,
    /// A centre from the left edge.
    Left,
    /// A centre from the top edge.
    Top,
    /// From a centre to the rim, to the sides.
    Across,
    /// From a centre to the rim, up and down.
    Down,
    /// Rounding of the corners.
    Corners,
    /// One end of a line from the left edge.
    FromLeft,
    /// One end of a line from the top edge.
    FromTop,
    /// The other end from the left edge.
    ToLeft,
    /// The other end from the top edge.
    ToTop,
    /// From a line to the rim.
    Reach,
    /// From the edge inwards.
    Deep,
}

/// What is written for a measure.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Value {
    /// Degrees.
    Degrees(u16),
    /// A length.
    Length(Length),
}

/// Why what was written cannot be used.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum MeasureError {
    /// No angle.
    #[error("“{0:.20}” is no angle: write whole degrees, 0 to 359")]
    Angle(String),
    /// No length.
    #[error(transparent)]
    Length(#[from] LengthError),
}

impl Grip {
    /// What it does, in a few words.
    pub const fn words(self) -> &'static str {
        match self {
            Grip::Turn => "turn the bands",
            Grip::Centre => "centre",
            Grip::Across => "rim at the side",
            Grip::Down => "rim above and below",
            Grip::Corners => "rounding of the corners",
            Grip::From => "one end of the line",
            Grip::To => "other end of the line",
            Grip::Reach => "rim",
        }
    }
}

impl Measure {
    /// What it is called by its field.
    pub const fn words(self) -> &'static str {
        match self {
            Measure::Angle => "degrees, clockwise from left to right",
            Measure::Left => "centre from the left",
            Measure::Top => "centre from the top",
            Measure::Across => "out to each side",
            Measure::Down => "up and down",
            Measure::Corners => "corners rounded by",
            Measure::FromLeft => "line from: from the left",
            Measure::FromTop => "line from: from the top",
            Measure::ToLeft => "line to: from the left",
            Measure::ToTop => "line to: from the top",
            Measure::Reach => "out from the line",
            Measure::Deep => "in from the edge",
        }
    }

    /// What stands before and after it in a sentence that tells a way after its name.
    pub const fn told(self) -> (&'static str, &'static str) {
        match self {
            Measure::Angle => (" at ", ", clockwise from left to right"),
            Measure::Left => (", its centre ", " from the left"),
            Measure::Top | Measure::FromTop | Measure::ToTop => (" and ", " from the top"),
            Measure::Across => (", ", " out to each side"),
            Measure::Down => (" and ", " up and down"),
            Measure::Corners => (", its corners rounded by ", ""),
            Measure::FromLeft => (" begun ", " from the left"),
            Measure::ToLeft => (", ended ", " from the left"),
            Measure::Reach => (", ", " out from the line"),
            Measure::Deep => (" as far as ", ""),
        }
    }
}

/// Degrees about a straight or even slant that a hand is taken to mean it.
const CATCHES: u16 = 3;

impl Way {
    /// Where it can be taken hold of, in millimetres from the left and top edges of a panel of this size. A rim that lies
    /// off the panel is taken hold of at its edge.
    pub fn grips(self, size: (Length, Length)) -> Vec<(Grip, (f64, f64))> {
        let (width, height) = (size.0.mm(), size.1.mm());
        let on_panel = |x: f64, y: f64| (x.clamp(0.0, width), y.clamp(0.0, height));
        let point = |at: Point| on_panel(at.left.mm(), at.top.mm());
        match self {
            Way::Band { angle } => {
                let (sin, cos) = f64::from(angle).to_radians().sin_cos();
                let long = 0.36 * width.min(height);
                vec![(Grip::Turn, (0.5 * width + long * cos, 0.5 * height + long * sin))]
            }
            Way::Corner { .. } | Way::Rim { .. } => Vec::new(),
            Way::Glow { centre, across, down } | Way::Patch { centre, across, down } => {
                let (x, y) = (centre.left.mm(), centre.top.mm());
                // Towards the side with more room.
                let side = if x > 0.5 * width { -across.mm() } else { across.mm() };
                let below = if y > 0.5 * height { -down.mm() } else { down.mm() };
                vec![
                    (Grip::Centre, point(centre)),
                    (Grip::Across, on_panel(x + side, y)),
                    (Grip::Down, on_panel(x, y + below)),
                ]
            }
            Way::Vignette { corners } => vec![(Grip::Corners, on_panel(corners.mm(), corners.mm()))],
            Way::Streak { from, to, reach } => {
                let (dx, dy) = ((to.left - from.left).mm(), (to.top - from.top).mm());
                let long = dx.hypot(dy);
                let square = if long == 0.0 { (0.0, 1.0) } else { (-dy / long, dx / long) };
                let middle = (0.5 * (from.left + to.left).mm(), 0.5 * (from.top + to.top).mm());
                let rim = on_panel(middle.0 + reach.mm() * square.0, middle.1 + reach.mm() * square.1);
                vec![(Grip::From, point(from)), (Grip::To, point(to)), (Grip::Reach, rim)]
            }
        }
    }

    /// The way once a grip has been moved to a place in millimetres, to the nearest pencil mark or degree.
    #[must_use]
    pub fn held(self, grip: Grip, (x, y): (f64, f64), size: (Length, Length), units: Units) -> Way {
        let mark = units.pencil();
        let near = |mm: f64, side: Length| Length::nearest(mm, mark).clamp(-BESIDE, side + BESIDE);
        let point = Point { left: near(x, size.0), top: near(y, size.1) };
        let wide = |mm: f64| Length::nearest(mm, mark).clamp(REACH.0.up_to(mark), REACH.1);
        let off = |of: Length, at: f64| wide((at - of.mm()).abs());
        match (self, grip) {
            (Way::Band { .. }, Grip::Turn) => {
                let (dx, dy) = (x - 0.5 * size.0.mm(), y - 0.5 * size.1.mm());
                let angle = (dy.atan2(dx).to_degrees().round() as i32).rem_euclid(360) as u16;
                let even = (angle + 22) / 45 * 45;
                let meant = if angle.abs_diff(even) <= CATCHES { even } else { angle };
                Way::Band { angle: meant % 360 }
            }
            (Way::Glow { across, down, .. }, Grip::Centre) => Way::Glow { centre: point, across, down },
            (Way::Patch { across, down, .. }, Grip::Centre) => Way::Patch { centre: point, across, down },
            // What was round stays round.
            (Way::Glow { centre, across, down }, Grip::Across | Grip::Down) => {
                let (across, down) = rim(grip, (off(centre.left, x), off(centre.top, y)), (across, down));
                Way::Glow { centre, across, down }
            }
            (Way::Patch { centre, across, down }, Grip::Across | Grip::Down) => {
                let (across, down) = rim(grip, (off(centre.left, x), off(centre.top, y)), (across, down));
                Way::Patch { centre, across, down }
            }
            (Way::Vignette { .. }, Grip::Corners) => {
                let most = size.0.min(size.1) / 2;
                Way::Vignette { corners: Length::nearest(0.5 * (x + y), mark).clamp(Length::ZERO, most) }
            }
            (Way::Streak { to, reach, .. }, Grip::From) => Way::Streak { from: point, to, reach },
            (Way::Streak { from, reach, .. }, Grip::To) => Way::Streak { from, to: point, reach },
            (Way::Streak { from, to, .. }, Grip::Reach) => {
                let far = self.on(size).at(x, y).place;
                Way::Streak { from, to, reach: wide(far) }
            }
            (way, _) => way,
        }
    }

    /// The way once a grip has been moved by so many pencil marks to the right and down: a degree for each where it turns,
    /// wider to the right and down where it sets a reach.
    #[must_use]
    pub fn nudged(self, grip: Grip, (right, down): (i32, i32), size: (Length, Length), units: Units) -> Way {
        let mark = units.pencil();
        let by = i64::from(right + down);
        let grown = |reach: Length| (reach + mark * by).clamp(REACH.0, REACH.1);
        let moved = |at: Point| Point {
            left: (at.left + mark * i64::from(right)).clamp(-BESIDE, size.0 + BESIDE),
            top: (at.top + mark * i64::from(down)).clamp(-BESIDE, size.1 + BESIDE),
        };
        match (self, grip) {
            (Way::Band { angle }, Grip::Turn) => {
                Way::Band { angle: (i32::from(angle) + right + down).rem_euclid(360) as u16 }
            }
            (Way::Glow { centre, across, down }, Grip::Centre) => {
                Way::Glow { centre: moved(centre), across, down }
            }
            (Way::Patch { centre, across, down }, Grip::Centre) => {
                Way::Patch { centre: moved(centre), across, down }
            }
            (Way::Glow { centre, across, down }, Grip::Across | Grip::Down) => {
                let (across, down) = rim(grip, (grown(across), grown(down)), (across, down));
                Way::Glow { centre, across, down }
            }
            (Way::Patch { centre, across, down }, Grip::Across | Grip::Down) => {
                let (across, down) = rim(grip, (grown(across), grown(down)), (across, down));
                Way::Patch { centre, across, down }
            }
            (Way::Vignette { corners }, Grip::Corners) => {
                Way::Vignette { corners: (corners + mark * by).clamp(Length::ZERO, size.0.min(size.1) / 2) }
            }
            (Way::Streak { from, to, reach }, Grip::From) => Way::Streak { from: moved(from), to, reach },
            (Way::Streak { from, to, reach }, Grip::To) => Way::Streak { from, to: moved(to), reach },
            (Way::Streak { from, to, reach }, Grip::Reach) => Way::Streak { from, to, reach: grown(reach) },
            (way, _) => way,
        }
    }

    /// Its measures, in the order they are told.
    pub fn measures(self) -> Vec<(Measure, Value)> {
        let long = Value::Length;
        match self {
            Way::Band { angle } => vec![(Measure::Angle, Value::Degrees(angle))],
            Way::Corner { .. } => Vec::new(),
            Way::Glow { centre, across, down } | Way::Patch { centre, across, down } => vec![
                (Measure::Left, long(centre.left)),
                (Measure::Top, long(centre.top)),
                (Measure::Across, long(across)),
                (Measure::Down, long(down)),
            ],
            Way::Vignette { corners } => vec![(Measure::Corners, long(corners))],
            Way::Rim { reach } => vec![(Measure::Deep, long(reach))],
            Way::Streak { from, to, reach } => vec![
                (Measure::FromLeft, long(from.left)),
                (Measure::FromTop, long(from.top)),
                (Measure::ToLeft, long(to.left)),
                (Measure::ToTop, long(to.top)),
                (Measure::Reach, long(reach)),
            ],
        }
    }

    /// The way with one of its measures as it was written. Whether a panel has room for it is for
    /// [`check`](Way::check) to say.
    ///
    /// # Errors
    /// A [`MeasureError`] with the remedy.
    pub fn with_measure(mut self, measure: Measure, text: &str, units: Units) -> Result<Way, MeasureError> {
        if measure == Measure::Angle {
            let degrees = text.trim().trim_end_matches('°').trim();
            let angle = degrees.parse::<u16>().ok().filter(|angle| *angle < 360);
            return match (self, angle) {
                (Way::Band { .. }, Some(angle)) => Ok(Way::Band { angle }),
                _ => Err(MeasureError::Angle(text.into())),
            };
        }
        use crate::length::ParseIn;
        let length = text.parse_in(units)?;
        match (&mut self, measure) {
            (Way::Glow { centre, .. } | Way::Patch { centre, .. }, Measure::Left) => centre.left = length,
            (Way::Glow { centre, .. } | Way::Patch { centre, .. }, Measure::Top) => centre.top = length,
            (Way::Glow { across, .. } | Way::Patch { across, .. }, Measure::Across) => *across = length,
            (Way::Glow { down, .. } | Way::Patch { down, .. }, Measure::Down) => *down = length,
            (Way::Vignette { corners }, Measure::Corners) => *corners = length,
            (Way::Streak { from, .. }, Measure::FromLeft) => from.left = length,
            (Way::Streak { from, .. }, Measure::FromTop) => from.top = length,
            (Way::Streak { to, .. }, Measure::ToLeft) => to.left = length,
            (Way::Streak { to, .. }, Measure::ToTop) => to.top = length,
            (Way::Streak { reach, .. }, Measure::Reach) | (Way::Rim { reach }, Measure::Deep) => {
                *reach = length
            }
            _ => {}
        }
        Ok(self)
    }
}

/// A rim moved at one of its two grips: what was round stays round.
fn rim(grip: Grip, (across, down): (Length, Length), was: (Length, Length)) -> (Length, Length) {
    match (grip, was.0 == was.1) {
        (Grip::Across, true) => (across, across),
        (Grip::Across, false) => (across, was.1),
        (_, true) => (down, down),
        (_, false) => (was.0, down),
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn size() -> (Length, Length) {
        (Length::from_inches(4), Length::from_inches(5))
    }

    fn every() -> Vec<Way> {
        let inches = Length::from_inches;
        let at = |left, top| Point { left: inches(left), top: inches(top) };
        vec![
            Way::Band { angle: 33 },
            Way::Glow { centre: at(1, 2), across: inches(2), down: inches(2) },
            Way::Patch { centre: at(3, 2), across: inches(1), down: inches(2) },
            Way::Vignette { corners: inches(1) },
            Way::Streak { from: at(1, 1), to: at(3, 4), reach: inches(1) },
        ]
    }

    #[test]
    fn held_where_it_stands_a_way_stays_as_it_is() {
        for way in every() {
            for (grip, at) in way.grips(size()) {
                let held = way.held(grip, at, size(), Units::Inches);
                let off: Vec<_> =
                    way.measures().into_iter().zip(held.measures()).filter(|(a, b)| a != b).collect();
                assert!(off.is_empty() || grip == Grip::Reach, "{grip:?}: {off:?}");
                assert_eq!(held.check(size()), Ok(()));
            }
        }
    }

    #[test]
    fn every_grip_moves_and_every_measure_can_be_written() {
        for way in every() {
            for (grip, (x, y)) in way.grips(size()) {
                let moved = way.held(grip, (x - 9.0, y + 14.0), size(), Units::Millimetres);
                assert_ne!(moved, way, "{grip:?}");
                let there = way.nudged(grip, (1, 0), size(), Units::Inches);
                assert_ne!(there, way, "{grip:?}");
                assert_eq!(there.nudged(grip, (-1, 0), size(), Units::Inches), way, "{grip:?}");
            }
            for (measure, value) in way.measures() {
                let text = match value {
                    Value::Degrees(angle) => format!("{angle}°"),
                    Value::Length(length) => length.to_string(),
                };
                assert_eq!(way.with_measure(measure, &text, Units::Inches), Ok(way), "{measure:?}");
                assert!(way.with_measure(measure, "much", Units::Inches).is_err(), "{measure:?}");
            }
        }
    }

    #[test]
    fn a_round_glow_stays_round_under_the_hand_and_bands_catch_at_even_slants() {
        let glow = every()[1];
        let Way::Glow { across, down, .. } =
            glow.held(Grip::Down, (25.4, 50.8 + 70.0), size(), Units::Millimetres)
        else {
            panic!("a glow stays a glow")
        };
        assert_eq!((across, down), (Length::from_tenths_mm(700), Length::from_tenths_mm(700)));
        let turned = |degrees: f64| {
            let (sin, cos) = degrees.to_radians().sin_cos();
            Way::DOWN.held(Grip::Turn, (50.8 + 30.0 * cos, 63.5 + 30.0 * sin), size(), Units::Inches)
        };
        assert_eq!(turned(88.0), Way::DOWN);
        assert_eq!(turned(70.0), Way::Band { angle: 70 });
        assert_eq!(turned(-1.0), Way::RIGHT);
    }
}
