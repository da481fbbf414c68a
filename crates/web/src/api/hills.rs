//! The hills of a blend as shapes to draw: each ink's amount along the panel, on the picture's own scale.

use rosy_core::blend::{Way, field::zones};
use rosy_core::{Panel, Units};
use serde::Serialize;

/// Side of the square the shapes are drawn in, along the blend and across it.
const SIDE: f64 = 1000.0;
/// Points along one hill.
const POINTS: usize = 96;

/// One ink's hill.
#[derive(Serialize)]
pub struct Hill {
    /// The ink, by its place in the panel's list.
    ink: usize,
    /// Outline of the smooth hill.
    outline: String,
    /// The whole-veil steps over it.
    steps: String,
    /// The ink's colour at full.
    colour: String,
    /// Light passes at full.
    veils: u8,
    /// Its four measures, in order: starts, full from, full to, ends.
    handles: Vec<Handle>,
    /// Where its middle lies, as a share of the way across the drawing.
    middle: f64,
}

/// One of a hill's measures.
#[derive(Serialize)]
pub struct Handle {
    /// Share of the way along the blend.
    along: f64,
    /// Per cent from the left and from the top of the drawing.
    left: f64,
    top: f64,
    /// The measure as the maker reads it.
    text: String,
    /// Whether it lies on the panel's edge, where it has nothing to say.
    at_edge: bool,
}

/// All hills of one blend, and how they lie.
#[derive(Serialize)]
pub struct Hills {
    hills: Vec<Hill>,
    /// How long the blend is and where it is measured from, where no ruler of the picture shows it.
    span: Option<String>,
    /// What its measures start from.
    from: &'static str,
    /// How many pencil marks long the blend is.
    marks: f64,
    /// The highest hill's veils, which the drawing is as wide as.
    most: u8,
    /// Whether the blend runs across the picture, the hills standing below it.
    lying: bool,
    /// Whether the blend runs up or to the left.
    pub turned: bool,
}

/// From along the blend and up the hill to the drawing.
struct Frame {
    lying: bool,
    turned: bool,
}

impl Frame {
    fn point(&self, along: f64, height: f64) -> (f64, f64) {
        let along = if self.turned { 1.0 - along } else { along };
        if self.lying { (along * SIDE, (1.0 - height) * SIDE) } else { (height * SIDE, along * SIDE) }
    }

    fn path(&self, points: impl Iterator<Item = (f64, f64)>) -> String {
        let mut path = String::new();
        for (along, height) in points {
            let (x, y) = self.point(along, height);
            path.push_str(if path.is_empty() { "M" } else { "L" });
            path.push_str(&format!("{x:.1} {y:.1}"));
        }
        path
    }
}

impl Hills {
    /// Shapes the hills of one of a panel's blends.
    pub fn of(panel: &Panel, place: usize, units: Units) -> Hills {
        let blend = &panel.scene.ground[place];
        let way = blend.way;
        let (lying, turned) = match way {
            Way::Band { angle } => (matches!(angle, 0..=44 | 136..=224 | 316..), matches!(angle, 136..=315)),
            Way::Corner { from, .. } => (false, from.away().1 < 0.0),
            _ => (false, false),
        };
        let on_ruler = matches!(way, Way::Band { angle } if angle % 90 == 0);
        let frame = Frame { lying, turned };
        let most = blend.fields.iter().map(|field| field.veils).max().unwrap_or(1).max(4);
        let span = panel.span(place);
        let edges = zones(span, blend.zone);
        let hills = blend.fields.iter().map(|field| {
            let ink = &panel.inks[field.ink];
            let tall = f64::from(field.veils) / f64::from(most);
            let smooth = (0..=POINTS).map(|n| {
                let along = n as f64 / POINTS as f64;
                (along, tall * field.profile(along * span.mm()))
            });
            let outline = frame.path([(0.0, 0.0)].into_iter().chain(smooth).chain([(1.0, 0.0)])) + "Z";
            let reaches = field.reaches(&edges);
            let stepped = edges.windows(2).flat_map(|zone| {
                let laid = reaches.iter().filter(|r| r.from <= zone[0] && zone[1] <= r.to).count();
                let height = laid as f64 / f64::from(most);
                [(zone[0].ratio(span), height), (zone[1].ratio(span), height)]
            });
            let handles = [field.starts, field.full_from, field.full_to, field.ends];
            let handles = handles.into_iter().zip([0.0, tall, tall, 0.0]).map(|(at, height)| {
                let along = at.ratio(span);
                let (x, y) = frame.point(along, height);
                let at_edge = along <= 0.0 || along >= 1.0;
                let text = at.shown(units).to_string();
                Handle { along, left: 100.0 * x / SIDE, top: 100.0 * y / SIDE, text, at_edge }
            });
            let middle = 0.5 * (field.full_from.ratio(span) + field.full_to.ratio(span));
            Hill {
                ink: field.ink,
                outline,
                steps: frame.path(stepped),
                colour: ink.lab().on_screen(Default::default()).0.to_string(),
                veils: field.veils,
                handles: handles.collect(),
                middle: if turned { 1.0 - middle } else { middle },
            }
        });
        let shown = format!("0 to {} from the {}", span.shown(units), way.from());
        let (hills, span) = (hills.collect(), (!on_ruler).then_some(shown));
        let marks = panel.span(place).ratio(units.pencil());
        Hills { hills, span, from: way.from(), marks, most, lying, turned }
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::files::{COLOUR, NAME, ink_from};
    use rosy_core::Length;
    use rosy_core::ink::{Finish, Paper, Tool};

    fn hills(way: Way) -> Hills {
        let ink = |name: &'static str, colour: &'static str| {
            ink_from(|field| match field {
                NAME => name,
                COLOUR => colour,
                _ => "",
            })
            .unwrap()
        };
        let (width, height) = (Length::from_inches(4), Length::from_inches(5));
        let name = "Ebb at six".parse().unwrap();
        let mut panel = Panel::bare(name, width, height, Paper::plain(Finish::VerySmooth), Tool::plain(), 1);
        panel.scene.ground[0].way = way;
        let inks = vec![ink("First Tide", "57 -17 -31"), ink("Cockle", "57 56 -4")];
        Hills::of(&panel.with_inks(inks, Units::Inches), 0, Units::Inches)
    }

    #[test]
    fn the_first_ink_is_drawn_where_the_blend_begins() {
        for way in Way::USUAL {
            let hills = hills(way);
            let first = &hills.hills[0].handles[0];
            assert_eq!((first.along, first.at_edge, first.text.as_str()), (0.0, true, "0 in"));
            let place = if hills.lying { first.left } else { first.top };
            assert_eq!(place, if hills.turned { 100.0 } else { 0.0 }, "{way:?}");
            assert_eq!(hills.hills[0].middle < hills.hills[1].middle, !hills.turned, "{way:?}");
        }
    }

    #[test]
    fn handles_stand_on_their_hill() {
        let hills = hills(Way::DOWN);
        assert_eq!(hills.most, 7);
        for hill in &hills.hills {
            let [starts, full_from, full_to, ends] = hill.handles.as_slice() else { panic!("four handles") };
            assert!([starts, full_from, full_to, ends].is_sorted_by(|a, b| a.along <= b.along));
            assert_eq!((starts.left, full_from.left, full_to.left, ends.left), (0.0, 100.0, 100.0, 0.0));
            assert!(
                hill.outline.starts_with('M') && hill.outline.ends_with('Z') && hill.colour.starts_with('#')
            );
            assert!(hill.steps.matches('L').count() > 20, "each zone is a step");
        }
    }
}
