//! The paper window in a maker's hands: laid over a panel, moved and sized, to find the part worth cutting out.

use super::things::{grown as larger, reaching};
use super::words::{self, in_mm};
use super::{Edited, GONE};
use crate::length::{Length, Units};
use crate::panel::Panel;
use crate::place::Point;
use crate::scene::Thing;
use crate::scene::snap::caught;
use crate::shape::kept::{PERCENT, Shape};

/// One of a shape laid on the middle of a panel, about half as large as it.
pub(super) fn laid(panel: Panel, mut shape: Shape) -> Result<Edited, String> {
    let (wide, high) = shape.outline().map_err(|error| error.to_string())?.size();
    let half = 50.0 * (panel.width.mm() / wide).min(panel.height.mm() / high);
    shape.percent = half.floor().clamp(f64::from(*PERCENT.start()), f64::from(*PERCENT.end())) as u16;
    let middle = Point { left: panel.width / 2, top: panel.height / 2 };
    Ok(Panel { part: Some(Thing::new(shape, middle)), ..panel }.into())
}

pub(super) fn moved(panel: Panel, to: (f64, f64), units: Units) -> Result<Edited, String> {
    let middle = in_mm(&panel, to, 1.0)?;
    changed(panel, |panel, window| {
        let at = caught(Point::nearest(middle, units.pencil()), size(&window)?, panel.size(), &[]);
        Ok(Thing { at, ..window })
    })
}

pub(super) fn nudged(panel: Panel, by: (i32, i32), units: Units) -> Result<Edited, String> {
    changed(panel, |_, window| Ok(Thing { at: words::nudged(window.at, by, units.pencil()), ..window }))
}

pub(super) fn sized(panel: Panel, corner: (f64, f64), units: Units) -> Result<Edited, String> {
    let corner = in_mm(&panel, corner, 1.0)?;
    changed(panel, |_, window| Ok(reaching(&window, size(&window)?, corner, units)))
}

pub(super) fn grown(panel: Panel, by: i32, units: Units) -> Result<Edited, String> {
    changed(panel, |_, window| Ok(larger(&window, by, units)))
}

fn changed(
    panel: Panel,
    change: impl FnOnce(&Panel, Thing) -> Result<Thing, String>,
) -> Result<Edited, String> {
    let window = change(&panel, panel.part.clone().ok_or(GONE)?)?;
    Ok(Panel { part: Some(window), ..panel }.into())
}

fn size(window: &Thing) -> Result<(Length, Length), String> {
    Ok(window.extent(&window.shape.outline().map_err(|error| error.to_string())?).size)
}
