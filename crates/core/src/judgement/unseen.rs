//! What of a scene comes out nowhere: a thing behind others, words that run off the panel, a pattern over what is sealed?

use super::finding::{Finding, Rule};
use crate::order::unseen::{hidden_by, lost_on, lost_says, named};
use crate::panel::Panel;
use crate::shape::Region;
use crate::surface::Surface;

/// Square millimetres of a word that may lie beside the panel, where it is meant to touch its edge (chosen).
const UNMISSED: f64 = 1.0;

/// The things, and the patterns, of which that is so.
pub(super) fn findings(panel: &Panel, surface: &Surface) -> Vec<Finding> {
    let all = (0..panel.scene.things.len()).map(|on| (on, says(panel, surface, on)));
    all.flat_map(|(on, says)| {
        says.into_iter().map(move |(rule, says)| Finding::on_thing(surface, on, rule, (0.0, 1.0), says))
    })
    .collect()
}

/// What is said of them.
pub fn told(panel: &Panel) -> Vec<String> {
    let surface = Surface::bare(panel.materials());
    (0..panel.scene.things.len()).flat_map(|on| says(panel, &surface, on)).map(|(_, says)| says).collect()
}

fn says(panel: &Panel, surface: &Surface, on: usize) -> Vec<(Rule, String)> {
    let (scene, masks) = (&panel.scene, &surface.materials.masks);
    let own = &scene.things[on].shape.name;
    let (by, lost) = (hidden_by(scene, masks, on), lost_on(scene, masks, on));
    let hidden = by.map(|by| {
        let lies = match by.as_slice() {
            [] if masks.open.is_some() => "lies under the border".to_owned(),
            [] => "lies beside the card that is inked".to_owned(),
            by => format!("stands behind {}", named(scene, by)),
        };
        (Rule::Hidden, format!("The {own} {lies} all over: nothing of it is seen, and it is not made."))
    });
    let lost = (!lost.is_empty()).then(|| (Rule::Lost, lost_says(scene, on, &lost)));
    hidden.into_iter().chain(runs_off(panel, surface, on)).chain(lost).collect()
}

/// Words that do not lie on what is seen of the panel, and how much smaller they would.
fn runs_off(panel: &Panel, surface: &Surface, on: usize) -> Option<(Rule, String)> {
    let (thing, masks) = (&panel.scene.things[on], &surface.materials.masks);
    if !thing.shape.is_word() || thing.lends() {
        return None;
    }
    let (wide, high) = surface.materials.size_mm();
    let seen = masks.open.clone().or_else(|| masks.outline.clone());
    let seen = seen.unwrap_or_else(|| Region::rect(0.0, 0.0, wide, high));
    let beside = masks.things[on].shape().minus(&seen).area();
    if beside < UNMISSED {
        return None;
    }
    let percent = thing.fitting(panel.inside());
    let how = match percent.filter(|percent| *percent < thing.shape.percent) {
        Some(percent) => format!("at {percent} % of its size it fits, {} % now", thing.shape.percent),
        None => "moved in, it fits".to_owned(),
    };
    Some((Rule::RunsOff, format!("The {} runs off the panel: {how}.", thing.shape.name)))
}
