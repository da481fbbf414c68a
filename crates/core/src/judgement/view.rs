//! What is judged by itself? Each thing that is inked, and the ground, as a panel of its own.
//!
//! A thing is a piece inked in its own box, so what is known of panels holds for it. Only what is seen of it counts: what
//! stands in front hides the rest.

use crate::moves::{Laying, Move, Technique, lay::Lay};
use crate::panel::Panel;
use crate::place::Point;
use crate::scene::Scene;
use crate::shape::Region;
use crate::surface::Materials;

/// A thing, or the ground, as a panel of its own.
pub(super) struct View {
    /// The panel.
    pub panel: Panel,
    /// The thing; nothing for the ground.
    pub on: Option<usize>,
    /// Its inks, by their places in the whole panel's list.
    pub inks: Vec<usize>,
    /// Where it begins on the whole panel.
    pub corner: Point,
    /// What is seen of it, in its own measures; nothing where that is all of it.
    pub seen: Option<Region>,
}

impl View {
    /// The ground and all that is inked on it.
    pub fn all(panel: &Panel, materials: &Materials) -> Vec<View> {
        let inked = (0..panel.scene.things.len()).filter(|thing| panel.scene.things[*thing].is_inked());
        std::iter::once(None).chain(inked.map(Some)).map(|on| View::of(panel, materials, on)).collect()
    }

    fn of(panel: &Panel, materials: &Materials, on: Option<usize>) -> View {
        let extent = materials.extent(on);
        let mut ground = on
            .map_or_else(|| panel.scene.ground.clone(), |thing| panel.scene.things[thing].blends().to_vec());
        let mut inks: Vec<usize> = Vec::new();
        for field in ground.iter_mut().flat_map(|blend| &mut blend.fields) {
            let at = inks.iter().position(|ink| *ink == field.ink);
            field.ink = at.unwrap_or_else(|| {
                inks.push(field.ink);
                inks.len() - 1
            });
        }
        let own = |m: &Move| {
            let laying = m.laying().filter(|laying| laying.on == on)?;
            let ink = inks.iter().position(|ink| *ink == laying.ink)?;
            Some(Lay(Laying { ink, on: None, ..laying.clone() }).into())
        };
        let (left, top) = (extent.corner.left.mm(), extent.corner.top.mm());
        let seen = (!materials.masks.plots.is_empty()).then(|| {
            let plots = materials.masks.seen(on).map(|plot| plot.region.clone());
            Region::beside(plots).moved(|[x, y]| [x - left, y - top])
        });
        let view = Panel {
            width: extent.size.0,
            height: extent.size.1,
            outline: None,
            card: None,
            part: None,
            moves: panel.moves.iter().filter_map(own).collect(),
            inks: inks.iter().map(|ink| panel.inks[*ink].clone()).collect(),
            scene: Scene { ground, ..Scene::default() },
            done: 0,
            ..panel.clone()
        };
        View { panel: view, on, inks, corner: extent.corner, seen }
    }

    /// A place on it as one of the whole panel.
    pub fn place(&self, at: Point) -> Point {
        Point { left: at.left + self.corner.left, top: at.top + self.corner.top }
    }
}
