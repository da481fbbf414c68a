//! What does a maker change on a panel? A change is data, made here and nowhere else: given what she has, it makes another panel
//! of one, or says by which field it cannot be, and why.
//!
//! | file | what is changed |
//! |---|---|
//! | `any` | any of these, as one message |
//! | [`blend`] | a blend of the ground: its way, its hills, how often each ink is laid |
//! | [`came`] | what lies there, where it came out otherwise: the rest is planned from it |
//! | [`card`] | its card: size, layers, the piece, its trim |
//! | `card_fields` | a measure of a card as it was written |
//! | [`cover`] | what stands on the panel, how it is cut and covered, the paper window over it |
//! | `gets` | what a thing gets |
//! | `things` | the things in hand: moved, sized, put in front, parted, kept company |
//! | [`water`] | the mat, its presses, and all that is done with water |
//! | `window` | the paper window laid, moved and sized |
//! | `words` | how what was written is read |

mod any;
pub mod blend;
pub mod came;
pub mod card;
mod card_fields;
pub mod cover;
mod gets;
mod things;
pub mod water;
mod window;
mod words;

use crate::ink::Ink;
use crate::length::Units;
use crate::panel::Panel;
use crate::shape::Shape;

pub use any::AnyEdit;

/// What is said of a change to something that has gone meanwhile.
const GONE: &str = "That is not on the panel any more: reload this page.";

/// What a maker has to change a panel with.
#[derive(Clone, Copy, Debug, Default)]
pub struct Has<'a> {
    /// The inks of her drawer.
    pub drawer: &'a [Ink],
    /// A shape of hers that is brought.
    pub shape: Option<&'a Shape>,
    /// How she reads lengths.
    pub units: Units,
}

/// A change to a panel.
pub trait Edit {
    /// The field it was written in, by which it is told that it cannot be; nothing where it was written in none.
    fn field(&self) -> String {
        String::new()
    }

    /// What it is called where it can be taken back, as one who does it would say.
    fn label(&self, panel: &Panel, has: &Has) -> String;

    /// Whether it asks for another order of the steps, so that none of the maker's own stays.
    fn orders(&self) -> bool {
        false
    }

    /// Whether it may take an ink of the drawer.
    fn takes_ink(&self) -> bool {
        false
    }

    /// The shape of the maker's that it brings, by its number.
    fn brings(&self) -> Option<&str> {
        None
    }

    /// Makes it.
    ///
    /// # Errors
    /// Why it cannot be, and what to do.
    fn made(&self, panel: Panel, has: &Has) -> Result<Edited, String>;
}

/// A panel changed.
#[derive(Clone, Debug, PartialEq)]
pub struct Edited {
    /// It.
    pub panel: Panel,
    /// The blend of its ground that is looked at then, where the change was to one.
    pub blend: Option<usize>,
    /// What is to be known of the change.
    pub says: Option<String>,
    /// What the change is called where it can be taken back.
    pub label: String,
}

impl From<Panel> for Edited {
    fn from(panel: Panel) -> Edited {
        Edited { panel, blend: None, says: None, label: String::new() }
    }
}

impl Edited {
    /// The same, its steps in the order of the maker's own that stood there, as far as it can be kept; what could not is said.
    fn in_the_order_of(mut self, before: &Panel) -> Edited {
        self.panel = self.panel.in_the_order_of(before);
        let lost = self.panel.gave.last().filter(|_| self.panel.gave != before.gave);
        self.says = match (self.says, lost) {
            (Some(says), Some(lost)) => Some(format!("{says} {lost}")),
            (says, lost) => says.or(lost.cloned()),
        };
        self
    }
}

/// Why a change was not made, and by which field.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Refused {
    /// The field; nothing where it was written in none.
    pub field: String,
    /// Why, and what to do.
    pub says: String,
}

/// The panel with a change made, checked as any document is; steps that stood in an order of the maker's own keep it as far as they
/// can.
///
/// # Errors
/// Where it cannot be made, or makes what cannot be laid.
///
/// ```
/// # use rosy_core::edit::{AnyEdit, Has, edited};
/// # let text = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/version_1/ebb_down.json"));
/// let panel: rosy_core::Panel = serde_json::from_str(text)?;
/// let read = |edit: &str| serde_json::from_str::<AnyEdit>(edit);
/// let more = read(r#"{ "blend": { "blend": 0, "change": { "veils": { "field": 0, "by": 1 } } } }"#)?;
/// let made = edited(panel.clone(), more.of_its_kind(), &Has::default()).unwrap();
/// assert_eq!(made.panel.scene.ground[0].fields[0].veils, panel.scene.ground[0].fields[0].veils + 1);
/// // What cannot be is told by its field.
/// let over = read(r#"{ "card": { "set": { "at": "card.over", "to": "wide" } } }"#)?;
/// assert_eq!(edited(panel, over.of_its_kind(), &Has::default()).unwrap_err().field, "card.over");
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
pub fn edited(panel: Panel, edit: &dyn Edit, has: &Has) -> Result<Edited, Refused> {
    let label = edit.label(&panel, has);
    let before = panel.clone();
    let changed = edit.made(panel, has).and_then(|edited| match edited.panel.check() {
        Ok(()) if edit.orders() => Ok(Edited { label, ..edited }),
        Ok(()) => Ok(Edited { label, ..edited }.in_the_order_of(&before)),
        Err(error) => Err(error.to_string()),
    });
    changed.map_err(|says| Refused { field: edit.field(), says })
}
