//! Plans of panels, each made once: a page that changes one word sends what was answered it a moment ago.
//!
//! They are kept by their content, and made where everything heavy is reckoned; nothing here waits for a turn.

use std::sync::{Arc, LazyLock, Mutex, PoisonError};

use rosy_core::Panel;
use rosy_core::document::Document;
use rosy_core::panel::PanelError;
use rosy_core::planned::Planned;

/// Plans that are kept: those of the panels that are being worked on (chosen).
const KEPT: usize = 64;

/// What was planned, the latest last.
type Known = Vec<(Document, Arc<Planned>)>;
static KNOWN: LazyLock<Mutex<Known>> = LazyLock::new(Mutex::default);

/// The plan of a document, where it has been made.
pub fn known(document: &Document) -> Option<Arc<Planned>> {
    let mut known = KNOWN.lock().unwrap_or_else(PoisonError::into_inner);
    let at = known.iter().position(|(of, _)| of == document)?;
    let found = known.remove(at);
    let planned = found.1.clone();
    known.push(found);
    Some(planned)
}

fn kept(document: Document, planned: Arc<Planned>) -> Arc<Planned> {
    let mut known = KNOWN.lock().unwrap_or_else(PoisonError::into_inner);
    if known.len() == KEPT {
        known.remove(0);
    }
    known.push((document, planned.clone()));
    planned
}

/// The plan of a document.
///
/// # Errors
/// Where it cannot be laid, with the remedy.
pub fn planned(document: Document) -> Result<Arc<Planned>, PanelError> {
    match known(&document) {
        Some(planned) => Ok(planned),
        None => {
            let planned = Arc::new(Planned::of(document.clone())?);
            // What is answered comes back as it was answered.
            let answered = Document::from(Panel::clone(&planned));
            if answered != document {
                kept(answered, planned.clone());
            }
            Ok(kept(document, planned))
        }
    }
}

/// A panel whose moves are laid, as its plan.
pub fn laid(panel: Panel) -> Arc<Planned> {
    let document = Document::from(panel.clone());
    known(&document).unwrap_or_else(|| kept(document, Arc::new(panel.into())))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn what_was_answered_is_planned_no_second_time() {
        let text = include_str!("../../core/tests/version_1/lamp_up.json");
        let document: Document = serde_json::from_str(text).unwrap();
        let first = planned(document.clone()).unwrap();
        assert!(Arc::ptr_eq(&first, &planned(document).unwrap()));
        let answered = serde_json::to_string(&Panel::clone(&first)).unwrap();
        assert!(Arc::ptr_eq(&first, &planned(serde_json::from_str(&answered).unwrap()).unwrap()));
        let renamed = Panel { name: "Lamp at noon".parse().unwrap(), ..Panel::clone(&first) };
        let other = laid(renamed.clone());
        assert!(!Arc::ptr_eq(&first, &other) && Arc::ptr_eq(&other, &laid(renamed)));
    }
}
