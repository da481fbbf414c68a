//! Pictures for pages: how fine, and set straight into them.

use std::hash::{DefaultHasher, Hash, Hasher};
use std::sync::{LazyLock, Mutex, PoisonError};

use base64::Engine;
use base64::engine::general_purpose::STANDARD;
use lru::LruCache;
use rosy_core::Panel;
use rosy_core::picture::file::{Pace, png};
use rosy_core::picture::{Size, SizeError, draw};
use rosy_core::surface::Surface;
use serde::Serialize;

use crate::error::{Problem, sentence};

/// Most pixels of a picture on a page: more than a large screen shows.
const MOST_ON_PAGE: f64 = 1.2e6;

/// How fine a picture is drawn for a page: as asked, as far as a screen has use for it.
pub fn for_page(panel: &Panel, dpi: f64) -> f64 {
    let most = (MOST_ON_PAGE / (panel.width.inches() * panel.height.inches())).sqrt();
    if dpi.is_finite() { dpi.clamp(10.0, most) } else { 72.0 }
}

/// Pixels to the inch from which on a picture is more than a hand waits for (chosen: finer than a page draws while it moves).
const LARGE: f64 = 150.0;

/// Whether a picture is one that takes long.
pub fn is_large(dpi: f64) -> bool {
    dpi > LARGE
}

/// A mark of all that a panel's pictures are drawn from: the same as long as they are the same, whatever else is changed.
pub fn drawn_from(panel: &Panel) -> String {
    let Panel { width, height, outline, paper, tool, inks, scene, moves, seed, hands, .. } = panel;
    mark(&(width, height, outline, paper, tool, inks, &scene.things, moves, (seed, hands)))
}

/// A mark of what something holds: the same for the same.
pub fn mark(of: &impl Serialize) -> String {
    let mut hasher = DefaultHasher::new();
    serde_json::to_string(of).unwrap_or_default().hash(&mut hasher);
    format!("{:016x}", hasher.finish())
}

/// A picture as a PNG file.
pub fn file(surface: &Surface, dpi: f64, pace: Pace) -> Result<Vec<u8>, Problem> {
    let drawn = draw(surface, Size { dpi });
    drawn
        .map(|picture| png(&picture, dpi, pace))
        .map_err(|error| Problem::Refused(sentence(&error.to_string())))
}

/// A picture to be set straight into a page.
pub fn data_url(surface: &Surface, dpi: f64) -> Result<String, SizeError> {
    let file = png(&draw(surface, Size { dpi })?, dpi, Pace::Quick);
    Ok(format!("data:image/png;base64,{}", STANDARD.encode(file)))
}

/// Bytes of small pictures that are kept in answers (chosen).
const KEPT: usize = 16 << 20;

/// A small picture as it stands in an answer, drawn only where it is not known by all that it is drawn from.
pub fn drawn_once(of: String, draw: impl FnOnce() -> String) -> String {
    static KNOWN: LazyLock<Mutex<(LruCache<String, String>, usize)>> =
        LazyLock::new(|| Mutex::new((LruCache::unbounded(), 0)));
    let known = || KNOWN.lock().unwrap_or_else(PoisonError::into_inner);
    if let Some(drawn) = known().0.get(&of) {
        return drawn.clone();
    }
    let drawn = draw();
    let (by_what, bytes) = &mut *known();
    *bytes += of.len() + drawn.len();
    if let Some((of, replaced)) = by_what.push(of, drawn.clone()) {
        *bytes -= of.len() + replaced.len();
    }
    while *bytes > KEPT {
        let Some((of, oldest)) = by_what.pop_lru() else { break };
        *bytes -= of.len() + oldest.len();
    }
    drawn
}

#[cfg(test)]
mod tests {
    use rosy_core::learn::hand::{Hand, Hands, OwnHand};

    use super::*;

    #[test]
    fn a_panel_looks_otherwise_by_another_hand_and_not_by_another_name() {
        let text = include_str!("../../core/tests/version_1/ebb_down.json");
        let panel: Panel = serde_json::from_str(text).unwrap();
        let named = Panel { name: "Ebb at seven".parse().unwrap(), ..panel.clone() };
        assert_eq!(drawn_from(&named), drawn_from(&panel));
        let hand = Hand { strength: 125, unevenness: 100 };
        let hands = Hands(vec![OwnHand { tool: None, card: None, hand }]);
        assert_ne!(drawn_from(&Panel { hands, ..panel.clone() }), drawn_from(&panel));
    }
}
