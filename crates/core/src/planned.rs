//! A panel with its moves laid, and what comes of them: each worked out once, when it is first wanted.

use std::ops::Deref;
use std::sync::{Arc, OnceLock};

use crate::document::Document;
use crate::judgement::{Muddied, Reading, muddied};
use crate::moves::surface_after;
use crate::order::check::{Broken, check};
use crate::panel::{Panel, PanelError};
use crate::surface::{Materials, Surface};

/// A panel as it is planned.
///
/// ```
/// # use rosy_core::{document::Document, planned::Planned};
/// # let text = include_str!("../tests/version_1/ebb_down.json");
/// let document: Document = serde_json::from_str(text)?;
/// let planned = Planned::of(document)?;
/// assert!(planned.broken().is_empty());
/// // What is worked out once is the same thing from then on.
/// assert!(std::ptr::eq(planned.surface(), planned.surface()));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Debug)]
pub struct Planned {
    panel: Panel,
    materials: OnceLock<Arc<Materials>>,
    surface: OnceLock<Surface>,
    broken: OnceLock<Vec<Broken>>,
    muddied: OnceLock<Vec<Muddied>>,
    reading: OnceLock<Reading>,
}

impl From<Panel> for Planned {
    /// Of a panel whose moves are laid.
    fn from(panel: Panel) -> Planned {
        Planned {
            panel,
            materials: OnceLock::new(),
            surface: OnceLock::new(),
            broken: OnceLock::new(),
            muddied: OnceLock::new(),
            reading: OnceLock::new(),
        }
    }
}

impl Deref for Planned {
    type Target = Panel;

    fn deref(&self) -> &Panel {
        &self.panel
    }
}

impl Planned {
    /// Lays what a document wants.
    ///
    /// # Errors
    /// A [`PanelError`] with the remedy.
    pub fn of(document: Document) -> Result<Planned, PanelError> {
        document.laid().map(Planned::from)
    }

    /// What it is made with.
    pub fn materials(&self) -> &Arc<Materials> {
        self.materials.get_or_init(|| self.panel.materials())
    }

    /// The card as all its moves leave it.
    pub fn surface(&self) -> &Surface {
        self.surface.get_or_init(|| surface_after(self.materials().clone(), &self.panel.moves))
    }

    /// The rules that its moves break.
    pub fn broken(&self) -> &[Broken] {
        self.broken.get_or_init(|| check(&self.panel))
    }

    /// What water turns to mud on it.
    pub fn muddied(&self) -> &[Muddied] {
        self.muddied.get_or_init(|| muddied(self.surface()))
    }

    /// How it comes out.
    pub fn reading(&self) -> &Reading {
        self.reading.get_or_init(|| Reading::with(&self.panel, self.materials().clone()))
    }
}
