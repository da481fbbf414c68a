//! What of a scene is never seen, however it is laid?

use crate::say::list;
use crate::scene::Scene;
use crate::surface::Masks;
use crate::surface::masks::Plot;

/// Square millimetres of a pattern that go unmissed where they are lost (chosen).
const UNMISSED: f64 = 1.0;

/// The foremost thing at a plot that is not printed over what lies behind it.
pub(super) fn front(scene: &Scene, plot: &Plot) -> Option<usize> {
    (0..scene.things.len()).find(|thing| plot.is_inside(*thing) && !scene.things[*thing].is_printed())
}

/// The things that stand in front of one of which nothing is seen: none where it lies under the border, or beside what is inked;
/// nothing where some of it is seen.
pub fn hidden_by(scene: &Scene, masks: &Masks, thing: usize) -> Option<Vec<usize>> {
    let mut by = Vec::new();
    for plot in masks.plots.iter().filter(|plot| plot.is_inside(thing) && plot.is_inked()) {
        match front(scene, plot).filter(|front| *front < thing) {
            Some(front) if !by.contains(&front) => by.push(front),
            Some(_) => {}
            None => return None,
        }
    }
    Some(by)
}

/// The things that a pattern is to lie over and cannot, since they are sealed under powder before it is laid. Powder alone holds
/// to powder that is melted already.
pub fn lost_on(scene: &Scene, masks: &Masks, pattern: usize) -> Vec<usize> {
    let is_sealed = |thing: &usize| {
        let shared = masks.plots.iter().filter(|plot| {
            plot.is_inked()
                && plot.is_inside(pattern)
                && front(scene, plot) == Some(*thing)
                && plot.is_inside(*thing)
        });
        scene.things[*thing].resist.is_some() && shared.map(|plot| plot.region.area()).sum::<f64>() > UNMISSED
    };
    match scene.things.get(pattern).is_some_and(|thing| thing.is_printed() && thing.is_inked()) {
        true => (pattern + 1..scene.things.len()).filter(is_sealed).collect(),
        false => Vec::new(),
    }
}

/// That a pattern is lost on some things.
pub fn lost_says(scene: &Scene, pattern: usize, on: &[usize]) -> String {
    let (own, over) = (&scene.things[pattern].shape.name, named(scene, on));
    format!("The {own} is to lie over {over}, sealed under powder, where no ink takes: it is lost there.")
}

/// Some things by their names: *the moon, the hill and the house*.
pub fn named(scene: &Scene, things: &[usize]) -> String {
    let names: Vec<String> =
        things.iter().map(|thing| format!("the {}", scene.things[*thing].shape.name)).collect();
    list(&names.iter().map(String::as_str).collect::<Vec<_>>())
}
