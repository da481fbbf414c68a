//! What becomes of a panel when something on it is changed?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::edit::{AnyEdit, Edited, Has, Refused, edited};
use crate::ink::Ink;
use crate::length::Units;
use crate::panel::Panel;
use crate::shape::Shape;

/// Most inks of a drawer.
const MOST_INKS: usize = 3_000;

/// A panel, and what is to be changed on it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct EditAsked {
    /// The panel.
    pub panel: Panel,
    /// What is changed.
    pub edit: AnyEdit,
    /// The inks that the maker has beside the panel's own.
    #[serde(default)]
    pub drawer: Vec<Ink>,
    /// A shape that is brought.
    #[serde(default)]
    pub shape: Option<Shape>,
    /// How lengths are read and told.
    #[serde(default)]
    pub units: Units,
}

/// The panel changed.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct EditSeen {
    /// It.
    pub panel: Panel,
    /// The blend that is looked at then.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub blend: Option<usize>,
    /// What is to be known of the change.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub says: Option<String>,
    /// What the change is called where it can be taken back.
    pub label: String,
}

/// Why nothing was changed, and what to do.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum EditError {
    /// More inks than any drawer has.
    #[error("{0} inks in the drawer: give at most {MOST_INKS}")]
    ManyInks(usize),
    /// What was written in a field.
    #[error("{field}: {says}", field = .0.field, says = .0.says)]
    Field(Refused),
    /// The change itself.
    #[error("{}", .0.says)]
    Refused(Refused),
}

impl EditAsked {
    /// Makes the change.
    ///
    /// # Errors
    /// An [`EditError`] with the remedy.
    pub fn answer(&self) -> Result<EditSeen, EditError> {
        if self.drawer.len() > MOST_INKS {
            return Err(EditError::ManyInks(self.drawer.len()));
        }
        for (ink, place) in self.drawer.iter().zip(1..) {
            let refused = |error| Refused { field: format!("drawer {place}"), says: format!("{error}") };
            ink.check().map_err(|error| EditError::Field(refused(error)))?;
        }
        let has = Has { drawer: &self.drawer, shape: self.shape.as_ref(), units: self.units };
        let Edited { panel, blend, says, label } = edited(self.panel.clone(), self.edit.of_its_kind(), &has)
            .map_err(|refused| match refused.field.as_str() {
                "" => EditError::Refused(refused),
                _ => EditError::Field(refused),
            })?;
        Ok(EditSeen { panel, blend, says, label })
    }
}
