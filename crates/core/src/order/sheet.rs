//! What does the maker read at the bench, step by step?
//!
//! The run sheet reads like a recipe: what to do, where, why, what to take care of, and after which of
//! the moves the panel should look like the picture beside it.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::bow::Bow;
use super::cost::Cost;
use super::laid::STEPS_BEFORE;
use super::pieces::{Pieces, taken};
use crate::card::layers::{Placed, Role};
use crate::card::plan::CardError;
use crate::card::{Card, DieCut, Made, Mount, Shaped};
use crate::drawing::WindowShape;
use crate::edges::{Place, size};
use crate::ink::tool::desk;
use crate::ink::{Ink, KeptFor};
use crate::length::{Length, Units};
use crate::moves::{Move, Technique};
use crate::panel::Panel;
use crate::place::Point;
use crate::say::{capital, list};
use crate::surface::{Part, Surface};

/// What a blade asks for.
const BLADE: &str = "Trimmer and craft knife: blade away from fingers, cut against a metal rule, put the blade away at \
                     once. The tool's own instructions come first.";

/// One step of the run sheet.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
pub struct Step {
    /// What to do, in a few words.
    pub title: String,
    /// How, with measures.
    pub how: String,
    /// What to take care of, where something can hurt or spoil.
    pub care: Option<String>,
    /// The ink it takes up, by its place in the panel's list.
    pub ink: Option<usize>,
    /// How many of the moves have been made once it is done: the picture beside it.
    pub after_moves: usize,
    /// The move it is, by its place from 0; nothing where it is none of the inking.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub at: Option<usize>,
}

/// The steps and what they cost.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct RunSheet {
    /// The steps, in order.
    pub steps: Vec<Step>,
    /// What the laying costs.
    pub cost: Cost,
}

impl RunSheet {
    /// Writes the sheet of a panel, its measures in the maker's units.
    ///
    /// ```
    /// # use rosy_core::{Units, order::RunSheet};
    /// # let text = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/version_1/ebb_down.json"));
    /// let panel: rosy_core::Panel = serde_json::from_str(text)?;
    /// let sheet = RunSheet::of(&panel, Units::Inches);
    /// // Each step shows the panel as it is once the step is done; the first two come before any ink.
    /// assert!(sheet.steps.windows(2).all(|pair| pair[0].after_moves <= pair[1].after_moves));
    /// assert_eq!((sheet.steps[0].after_moves, sheet.steps[1].after_moves), (0, 0));
    /// assert_eq!(sheet.steps.last().map(|step| step.after_moves), Some(panel.moves.len()));
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn of(panel: &Panel, units: Units) -> RunSheet {
        let mut steps = vec![cut(panel, units), make_ready(&[panel])];
        debug_assert_eq!(steps.len(), STEPS_BEFORE);
        steps.extend(hands(panel, units));
        steps.extend(closing(panel, units));
        RunSheet { steps, cost: Cost::of(&panel.moves, &panel.materials()) }
    }
}

/// What is done once all of it is inked and dry: flattened, trimmed, put together.
pub fn closing(panel: &Panel, units: Units) -> Vec<Step> {
    let mut steps: Vec<Step> = flatten(panel, units).into_iter().chain(part(panel, units)).collect();
    match panel.card.as_ref().map(|card| (card, card.made(&panel.inked(), &[], units))) {
        Some((card, Ok((made, _)))) => {
            steps.extend(trim(panel, &made));
            let windows = made.stacked.layers.iter().filter_map(|layer| window(panel, layer, made.units));
            steps.extend(windows);
            steps.extend(made.stacked.layers.iter().filter_map(|layer| shaped(panel, layer, made.units)));
            steps.extend(card.die_cut.as_ref().map(|cut| die_cut(panel, cut, made.units)));
            steps.push(put_together(panel, card, &made));
        }
        Some((_, Err(refused))) => steps.push(no_card(panel, &refused)),
        None => {}
    }
    steps
}

/// A step after the last move.
fn after_all(panel: &Panel, title: impl Into<String>, how: String) -> Step {
    Step { title: title.into(), how, care: None, ink: None, after_moves: panel.moves.len(), at: None }
}

/// Under books, where water has bowed it.
fn flatten(panel: &Panel, units: Units) -> Option<Step> {
    let bow = Bow::of(panel);
    let layers = panel.card.iter().flat_map(|card| &card.layers);
    let on_foam = layers.filter(|layer| layer.role == Role::Panel).any(|layer| layer.mount != Mount::Glue);
    let held = if on_foam { " This card has foam beneath it, which holds it flat." } else { "" };
    let step = |bow: Bow| after_all(panel, "Flatten it once it is dry", bow.says(units) + held);
    bow.is_seen().then(|| step(bow))
}

/// The moves, as each technique says them on the surface it meets; what is no step of its own stands at the head of the
/// next.
fn hands(panel: &Panel, units: Units) -> Vec<Step> {
    let mut surface = Surface::bare(panel.materials());
    let mut steps = Vec::new();
    let mut before: Vec<String> = Vec::new();
    for (m, after_moves) in panel.moves.iter().zip(1..) {
        let unmet = m.unmet(&surface);
        let words = m.words_before(&surface, &panel.moves[after_moves..], units);
        m.make(&mut surface);
        if !m.is_step() {
            before.push(words.how);
            continue;
        }
        before.extend(unmet.into_iter().map(|unmet| unmet.says));
        before.push(words.how);
        let ink = m.laying().map(|laying| laying.ink);
        let how = std::mem::take(&mut before).join(" ");
        steps.push(Step {
            title: words.title,
            how,
            care: words.care,
            ink,
            after_moves,
            at: Some(after_moves - 1),
        });
    }
    steps
}

/// The card cut to size, or the piece cut out.
pub fn cut(panel: &Panel, units: Units) -> Step {
    let size = format!("{} × {}", panel.width.shown(units).number(), panel.height.shown(units));
    if let Some(shape) = &panel.outline {
        let how = format!(
            "{}, by die, cutting machine or knife: {}, {} at its widest and {} at its highest. Hold it to a sticky mat while you \
             ink it, and start off its edge on the mat.",
            panel.paper.name,
            shape.name,
            panel.width.shown(units),
            panel.height.shown(units)
        );
        let title = format!("Cut out the {}, {size}", shape.name);
        return Step { title, how, care: Some(BLADE.into()), ink: None, after_moves: 0, at: None };
    }
    Step {
        title: format!("Cut the card to {size}"),
        how: format!(
            "{}, {} wide and {} high.",
            panel.paper.name,
            panel.width.shown(units),
            panel.height.shown(units)
        ),
        care: Some(BLADE.into()),
        ink: None,
        after_moves: 0,
        at: None,
    }
}

/// The part that was found worth cutting out.
fn part(panel: &Panel, units: Units) -> Option<Step> {
    let part = panel.part.as_ref()?;
    let extent = part.extent(&part.shape.outline().ok()?);
    let said = |length: Length| length.shown(units).to_string();
    let title = format!("Cut out the {}: {}", part.shape.name, size(extent.size.0, extent.size.1, units));
    let how = format!(
        "Lay the paper window with its middle {} from the left and {} from the top edge, draw round it lightly, and cut inside \
         the line. What is left is inked: keep it.",
        said(part.at.left),
        said(part.at.top)
    );
    Some(Step { care: Some(BLADE.into()), ..after_all(panel, title, how) })
}

/// Off with what was inked over size: last, when nothing needs the margins any more.
fn trim(panel: &Panel, made: &Made) -> Option<Step> {
    let (title, how) = match &made.trimmed {
        Err(refusal) => ("It cannot be trimmed as planned".to_owned(), refusal.says.clone()),
        Ok(trimmed) if trimmed.cuts.is_empty() => return None,
        Ok(trimmed) => {
            let cuts = trimmed.cuts.iter().map(|cut| cut.says.clone());
            let scars = made.taped.scars(made.units);
            ("Trim it".to_owned(), cuts.chain(scars).collect::<Vec<String>>().join(" "))
        }
    };
    Some(Step { care: Some(BLADE.into()), ..after_all(panel, title, how) })
}

/// An opening, cut once the layer has its size.
fn window(panel: &Panel, layer: &Placed, units: Units) -> Option<Step> {
    let window = layer.window?;
    let Place { left, top, width, height } = window.place;
    let (shape, tool) = match window.shape {
        WindowShape::Rectangle => ("straight sides", "by knife along a metal rule, from corner to corner"),
        WindowShape::Oval => ("round or oval", "by die or by knife along a template"),
    };
    let kept = match layer.role {
        Role::Mat => " What comes out is card to keep.",
        Role::Panel => " What comes out is inked: keep it for another card.",
    };
    Some(Step {
        title: format!("Cut the window of {}: {}", layer.name, size(width, height, units)),
        how: format!(
            "{}, {shape}, beginning {} from the left and {} from the top edge; a frame of {} stays. Cut it {tool}.{kept}",
            capital(&size(width, height, units)),
            left.said(units),
            top.said(units),
            window.frame.words(units)
        ),
        care: Some(BLADE.into()),
        ink: None,
        after_moves: panel.moves.len(),
        at: None,
    })
}

/// What is cut out to go on top.
fn die_cut(panel: &Panel, cut: &DieCut, units: Units) -> Step {
    let size = size(cut.width, cut.height, units);
    let tiers = match cut.tiers {
        1 => String::new(),
        n => format!(" {n} of them, glued one exactly on the other."),
    };
    Step {
        title: format!("Cut {}: {size}", cut.name),
        how: format!("From card of {}, {size}.{tiers}", cut.thickness.as_thickness(units)),
        care: Some(
            "Die-cutting press: keep fingers clear of the rollers, and follow the press's own instructions first.".into(),
        ),
        ink: None,
        after_moves: panel.moves.len(),
        at: None,
    }
}

/// The card that is planned cannot be made.
fn no_card(panel: &Panel, refused: &CardError) -> Step {
    let how = format!("{}. Mend it on the Card page.", capital(&refused.to_string()));
    after_all(panel, "The card cannot be made as it is planned", how)
}

/// The shapes cut through a layer, and what becomes of what comes out.
fn shaped(panel: &Panel, layer: &Placed, units: Units) -> Option<Step> {
    let told = |shaped: &Shaped| {
        let Point { left, top } = shaped.at;
        format!(
            "The {}: its middle {} from the left and {} from the top; {}.",
            shaped.shape.name,
            left.said(units),
            top.said(units),
            shaped.fate(units)
        )
    };
    let all: Vec<String> = layer.shapes.iter().map(told).collect();
    let template =
        "Cut each out of paper first, lay that on, and look; a die stands in the opening, taped down.";
    let how = format!("{template} {} Keep what comes out.", all.join(" "));
    let names: Vec<&str> = layer.shapes.iter().map(|shaped| shaped.shape.name.as_str()).collect();
    let step = || Step {
        care: Some(BLADE.into()),
        ..after_all(panel, format!("Cut the {} out of {}", list(&names), layer.name), how.clone())
    };
    (!layer.shapes.is_empty()).then(step)
}

/// The base cut, scored and folded, and every layer laid on it.
fn put_together(panel: &Panel, card: &Card, made: &Made) -> Step {
    let units = made.units;
    let mut how = made.says.clone();
    for layer in &made.stacked.layers {
        let (width, height) = (layer.place.width, layer.place.height);
        let held = layer.mount.words(units);
        let shows = match layer.reveal.words(units).as_str() {
            "none" => "nothing shows beneath it".to_owned(),
            words => format!("{words} shows beneath it"),
        };
        how.push(format!("{}, {}, {held}: {shows}.", layer.name, size(width, height, units)));
    }
    if let Some(cut) = &card.die_cut {
        how.push(format!("On top {}, {}.", cut.name, cut.mount.words(units)));
    }
    after_all(panel, "Put the card together", how.join(" "))
}

/// The masks to be cut beforehand.
fn masks(panel: &Panel) -> String {
    let materials = panel.materials();
    let things = &materials.masks.things;
    let all = taken(&panel.moves, &materials);
    let told = |pieces: &Pieces| {
        let masked = &things[pieces.thing];
        let several = |n: usize, one: &str| match n {
            0 => None,
            1 => Some(one.to_owned()),
            n => Some(format!("{n} {one}s")),
        };
        let counters = if pieces.frames > 0 { masked.counters } else { 0 };
        let parts = [
            several(pieces.frames, masked.called(Part::Frame)),
            several(pieces.plugs, masked.called(Part::Plug)),
            several(counters, "counter"),
        ];
        let parts: Vec<String> = parts.into_iter().flatten().collect();
        let parts: Vec<&str> = parts.iter().map(String::as_str).collect();
        let others: String =
            pieces.others.iter().map(|of| format!(" and the {}", things[*of].name)).collect();
        format!("{} of the {}{others}", list(&parts), masked.name)
    };
    let cut: Vec<String> = all.iter().filter(|pieces| pieces.count() > 0).map(told).collect();
    let mut says = match cut.as_slice() {
        [] => String::new(),
        all => {
            format!(" From masking sheet, cut beforehand: {}. Keep both parts of every cut.", all.join("; "))
        }
    };
    if all.iter().any(|pieces| pieces.is_taped) || materials.masks.border.is_there() {
        says.push_str(" Low-tack tape at hand.");
    }
    says
}

/// What keeps the back of a card clean where it opens and ink runs off its edges: one as large as the whole front of its folded
/// card may be that front itself.
fn backs(panels: &[&Panel]) -> &'static str {
    let is_front = |panel: &&Panel| {
        panel.card.as_ref().is_some_and(|card| {
            card.format.fold.leaves() > 1 && panel.size() == (card.format.width, card.format.height)
        })
    };
    match panels.iter().any(is_front) {
        true => {
            " Where you ink the front of the folded card itself, slip scrap paper into it and under its edges, and hold that down \
             with tape: ink that runs off would mark its back and its inside."
        }
        false => "",
    }
}

/// What some cards need put out before the first ink: inks, the brushes that lay them, tape, and masks cut beforehand.
pub fn make_ready(panels: &[&Panel]) -> Step {
    let once = |names: Vec<String>| -> Vec<String> {
        let mut all: Vec<String> = Vec::new();
        names.into_iter().for_each(|name| {
            if !all.contains(&name) {
                all.push(name);
            }
        });
        all
    };
    let listed = |names: &[String]| list(&names.iter().map(String::as_str).collect::<Vec<&str>>());
    let names = once(panels.iter().flat_map(|panel| &panel.inks).map(|ink| ink.name.to_string()).collect());
    let inks = if names.is_empty() { "the inks".to_owned() } else { listed(&names) };
    let brushes = match once(panels.iter().flat_map(|panel| brushes_used(panel)).collect()).as_slice() {
        [] => "Scrap card".to_owned(),
        [one] => format!("{one}, clean and dry, and a dry towel to wipe it on; scrap card"),
        all => format!("{}, clean and dry, and a dry towel to wipe them on; scrap card", listed(all)),
    };
    let lacks_white = |panel: &&Panel| {
        let desk = desk(&panel.tool, &panel.brushes, &panel.inks);
        panel.inks.iter().any(Ink::is_white) && desk.iter().all(|brush| brush.kept_for != KeptFor::White)
    };
    let white = match panels.iter().any(lacks_white) {
        true => " White asks for a brush of its own, kept for white only: wash one for it first.",
        false => "",
    };
    let of_each = |panel: &&Panel| match (masks(panel), panels.len()) {
        (masks, 0 | 1) => masks,
        (masks, _) if masks.is_empty() => masks,
        (masks, _) => format!(" For {}:{masks}", panel.name),
    };
    let masks: String = once(panels.iter().map(of_each).collect()).concat();
    Step {
        title: "Lay the card on a mat that holds it".into(),
        how: format!("Put out {inks}. {brushes} to dab on.{white}{masks}{}", backs(panels)),
        care: Some(
            "Ink stains skin, cloth and desks: cover the desk, wear an apron or gloves if you mind, and keep pads out \
             of reach of children and pets. Follow the ink's own label first."
                .into(),
        ),
        ink: None,
        after_moves: 0,
        at: None,
    }
}

/// The brushes that a panel's moves take up.
pub fn brushes_used(panel: &Panel) -> Vec<String> {
    let brushes = panel.materials().brushes.clone();
    let taken = panel.moves.iter().filter_map(|m| match m {
        Move::Take(take) => Some(take.brush.min(brushes.len() - 1)),
        _ => None,
    });
    let mut taken: Vec<usize> = taken.collect();
    let is_brushed = panel.moves.is_empty() || panel.moves.iter().any(|m| m.brushed().is_some());
    if taken.is_empty() && is_brushed {
        taken.push(0);
    }
    taken.sort_unstable();
    taken.dedup();
    taken.into_iter().map(|at| brushes[at].name.clone()).collect()
}
