//! How is what is not as planned told? What is the matter, what to do now if it can be saved, and what to do next time.

use rosy_core::Panel;
use rosy_core::length::{Length, Units};
use rosy_core::moves::{Technique, light_passes};
use rosy_core::place::Point;
use rosy_core::say::list;

use super::flaw::{Flaw, FlawKind};

/// What is told of a flaw.
#[derive(Clone, Debug, PartialEq)]
pub struct Told {
    /// What is the matter, and where.
    pub says: String,
    /// What to do now; nothing where it cannot be saved.
    pub now: Option<String>,
    /// What to do next time.
    pub next: String,
}

/// A width as it is told: to 1/64 in or 0.1 mm.
pub fn width(mm: f64, units: Units) -> Length {
    let step = match units {
        Units::Inches => Length::from_64ths(1),
        Units::Millimetres => Length::from_tenths_mm(1),
    };
    Length::nearest(mm, step)
}

/// A place as it is told: to 1/16 in or 1 mm.
pub fn place([x, y]: [f64; 2], units: Units) -> Point {
    let step = match units {
        Units::Inches => Length::from_64ths(4),
        Units::Millimetres => Length::from_tenths_mm(10),
    };
    Point { left: Length::nearest(x.max(0.0), step), top: Length::nearest(y.max(0.0), step) }
}

/// A flaw of a panel after its first moves, as its maker reads it.
pub fn told(flaw: &Flaw, panel: &Panel, moves: usize, units: Units) -> Told {
    let Point { left, top } = place(flaw.at, units);
    let at = format!("{} from the left and {} from the top", left.shown(units), top.shown(units));
    let wide = width(flaw.size, units).shown(units);
    let thing =
        flaw.thing.and_then(|thing| panel.scene.things.get(thing)).map(|thing| thing.shape.name.to_string());
    let thing = thing.unwrap_or_else(|| "shape".into());
    let ink =
        flaw.ink.and_then(|ink| panel.inks.get(ink)).map(|ink| ink.name.to_string()).unwrap_or_default();
    let here = inks_at(panel, moves, flaw.at);
    let names = list(&here.iter().map(String::as_str).collect::<Vec<_>>());
    let of = if names.is_empty() { String::new() } else { format!(" in {names}") };
    let (says, now, next) = match flaw.kind {
        FlawKind::Line => (
            format!("A line{of}, {at}: the colour jumps where it should run."),
            Some(match here.as_slice() {
                [one, other, ..] => format!(
                    "Go back over it with a nearly dry brush of {one}, in small circles with hardly any weight, and then of {other}, \
                     until both sides meet."
                ),
                _ => "Go back over it with a nearly dry brush, in small circles with hardly any weight, from the darker side into \
                      the lighter."
                    .into(),
            }),
            "Start off the card, and dab more of the brush off before it comes on.".to_owned(),
        ),
        FlawKind::Band => (
            format!("A dark band{of}, {at}, darker than both its sides and than planned."),
            Some(
                "It cannot be made lighter. Where both sides may be deeper, a light pass on each of them takes it back into the run."
                    .into(),
            ),
            "Lay one light pass less of each where they meet, or let them meet over more of the card.".to_owned(),
        ),
        FlawKind::Muddy => (
            format!("Mud{of}, {at}: it is duller there than these inks make it, as if another had come in."),
            Some(
                "It does not come clean again. A light pass of the lighter ink takes a little of it back; what is left goes under a \
                 greeting or a cut-out."
                    .into(),
            ),
            "Wipe the brush, or take another, before the next ink, and let one dry before the other comes over it.".to_owned(),
        ),
        FlawKind::Dulled => {
            let is_sealed = flaw
                .thing
                .and_then(|thing| panel.scene.things.get(thing))
                .is_some_and(|thing| thing.resist.is_some());
            let now = if is_sealed {
                format!("Buff the {thing} with a dry cloth: ink on what is sealed comes off.")
            } else {
                format!("Through the frame of the {thing}, dab a little white over it once it is dry.")
            };
            let next = if is_sealed {
                "Buff what is sealed after each ink, before it has dried."
            } else {
                "Press its plug down all over, and dab the brush off before it comes near."
            };
            (
                format!("The {thing} should stay bright, and has ink on it all over."),
                Some(now),
                next.to_owned(),
            )
        }
        FlawKind::Faint => (
            format!("The {thing} hardly shows on what lies about it."),
            Some(format!("With the frame of the {thing} on again, in its place, lay one or two light passes more in it.")),
            "Plan a darker ink in it, or two or three light passes more, against this ground.".to_owned(),
        ),
        FlawKind::Touch => (
            format!("A round mark of more ink{of}, {at}, as the first touch of a full brush leaves it."),
            Some(
                "Blend outward from its rim with a nearly dry brush while it is damp; what is left of it goes under a greeting or a \
                 cut-out."
                    .into(),
            ),
            "Dab most of the brush off on the mat, and start off the card.".to_owned(),
        ),
        FlawKind::Lifted => (
            format!("Ink is missing{of}, {at}, as a finger or tape takes it away."),
            Some("Lay light passes over it from its rim inward, one at a time, until it is as deep as all about it.".into()),
            "Hold the card by a grippy mat or by its edges, and let it dry before anything touches it.".to_owned(),
        ),
        FlawKind::Fleck => (
            format!("A speck, {wide} across, {at}."),
            Some("While it is wet, touch it with the corner of a dry cloth. Dry, it goes under a cut-out, or among flecks of white.".into()),
            "Keep what sprays and drips away from the panel, and wipe the mat before it comes near.".to_owned(),
        ),
        FlawKind::Uneven => (
            "It is more uneven all over than this tool leaves it.".to_owned(),
            Some("More light passes even it out: lay one or two more of the lightest ink, in small circles all over.".into()),
            "Lay many light passes rather than few heavy ones, and dab the brush off before each.".to_owned(),
        ),
        FlawKind::Halo => (
            format!("Bare card shows round the {thing}, about {wide} wide."),
            Some(format!(
                "Brush round the {thing} with what is left on the brush, from the ground inward, with its frame or nothing on it."
            )),
            "Cut the plug on the line or a hair inside it, and press its edge down.".to_owned(),
        ),
        FlawKind::Bleed => (
            format!("Ink has crept up to {wide} under the edge of the {thing}, {at}."),
            Some("While it is wet, blot it with the corner of a dry cloth. Dry, a little white pigment along the edge hides it.".into()),
            "Press the mask's edge down with a bone folder through scrap card, dab the brush off, and let it dry before the mask \
             comes off."
                .to_owned(),
        ),
        FlawKind::Slipped => (
            format!("The {thing} lies {} of where it is planned.", off(flaw.by.unwrap_or_default(), units)),
            Some(format!("What is still to come round the {thing} goes by where it lies now, not by the plan.")),
            "Mark two of its corners before it is lifted, and hold it down with low-tack spray or tape.".to_owned(),
        ),
        FlawKind::OffPlace => (
            format!(
                "The plug of the {thing} lay {} of its place: on that side bare card shows, and on the other both inks lie over one another.",
                off(flaw.by.unwrap_or_default(), units)
            ),
            Some(format!(
                "With the frame of the {thing} off and its plug on, in its place this time, brush what is left on the brush into the bare side."
            )),
            "Mark two corners of the frame before it is lifted, and lay the plug by them with low-tack spray beneath it.".to_owned(),
        ),
        FlawKind::HardToRead => {
            let to_come = panel.moves[moves.min(panel.moves.len())..]
                .iter()
                .filter_map(Technique::laying)
                .any(|laying| laying.on == flaw.thing);
            let elsewhere = flaw.by.map(|by| off(by, units)).filter(|off| to_come && !off.is_empty());
            (
                format!("The {thing} is hard to read on the ground as it came: {:.1} to 1 where it shows least.", flaw.size),
                elsewhere.map(|off| format!("Put it {off} of where it is planned: there it is read better.")),
                "Try the word on the ground with a finger over its place before it is made, and give it a strip or a dark shadow to stand on \
                 where it is faint."
                    .to_owned(),
            )
        }
        FlawKind::Askew => (
            askew(flaw, units),
            Some(
                "Trim it anew, measured from the inked edges and not from the card's: the same on both sides, and square to them."
                    .into(),
            ),
            "Mark the tape lines from each edge before the tape goes on.".to_owned(),
        ),
        FlawKind::Strong | FlawKind::Weak => of_strength(flaw, &ink, panel, moves),
    };
    Told { says, now, next }
}

/// Which way something is off, in words.
fn off([right, down]: [f64; 2], units: Units) -> String {
    let way = |mm: f64, more: &str, less: &str| {
        (mm.abs() >= 0.35).then(|| {
            format!("{} {}", width(mm.abs(), units).shown(units), if mm > 0.0 { more } else { less })
        })
    };
    let both: Vec<String> = [way(right, "to the right", "to the left"), way(down, "below", "above")]
        .into_iter()
        .flatten()
        .collect();
    let both: Vec<&str> = both.iter().map(String::as_str).collect();
    list(&both)
}

fn askew(flaw: &Flaw, units: Units) -> String {
    let by = off(flaw.by.unwrap_or_default(), units);
    let turned = (flaw.turn.abs() > 0.3).then(|| {
        let way = if flaw.turn > 0.0 { "clockwise" } else { "anticlockwise" };
        format!("turned {way} by {:.1}°", flaw.turn.abs())
    });
    let so = match (by.is_empty(), turned) {
        (false, Some(turned)) => format!("lies {by} of the panel's middle and is {turned}"),
        (false, None) => format!("lies {by} of the panel's middle"),
        (true, Some(turned)) => format!("is {turned}"),
        (true, None) => "lies a little off the panel's middle".to_owned(),
    };
    format!("What is inked {so}: the border is uneven.")
}

fn of_strength(flaw: &Flaw, ink: &str, panel: &Panel, moves: usize) -> (String, Option<String>, String) {
    let share = 100.0 * (flaw.size - 1.0).abs();
    let (more, nth) = (flaw.kind == FlawKind::Strong, flaw.ink.unwrap_or_default());
    let says =
        format!("{ink} came about {share:.0} % {} than planned.", if more { "stronger" } else { "weaker" });
    let to_come: usize = panel.moves[moves.min(panel.moves.len())..]
        .iter()
        .filter_map(|m| m.laying())
        .filter(|laying| laying.ink == nth)
        .map(|laying| laying.veils.len())
        .sum();
    let other = (to_come as f64 * (flaw.size - 1.0).abs() / flaw.size).round() as usize;
    let now = match (more, other) {
        (_, 0) => None,
        (true, passes) => {
            Some(format!("Of the {} of {ink} still to come, leave out {}.", light_passes(to_come), passes))
        }
        (false, passes) => {
            Some(format!("Beside the {} of {ink} still to come, lay {} more.", light_passes(to_come), passes))
        }
    };
    let next = if more {
        format!("Dab more of {ink} off the brush before each pass, or plan fewer of them.")
    } else {
        format!("Load the brush a little more with {ink}, or plan more light passes of it.")
    };
    (says, now, next)
}

/// What lies most at a place of the plan, the most of it first: up to two inks that are seen.
fn inks_at(panel: &Panel, moves: usize, [x, y]: [f64; 2]) -> Vec<String> {
    let sight = rosy_core::judgement::Sight::of(&panel.after(moves));
    let passes = sight.here(x, y).map(|here| here.passes()).unwrap_or_default();
    let most = passes.iter().copied().fold(0.0, f64::max);
    let mut inks: Vec<usize> = (0..passes.len()).filter(|ink| passes[*ink] > (0.2 * most).max(0.1)).collect();
    inks.sort_by(|a, b| passes[*b].total_cmp(&passes[*a]));
    inks.truncate(2);
    inks.into_iter().map(|ink| panel.inks[ink].name.to_string()).collect()
}
