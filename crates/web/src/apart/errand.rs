//! What is done apart? Everything that reads what a stranger, or a maker's own file, brings.

use std::path::PathBuf;

use rosy_eye::ask::{InspectAsked, SwatchAsked};
use serde::{Deserialize, Serialize};

use super::limits::{self, Limits};
use crate::{archive, files, photo, questions, shapes};

/// Something to be done apart with what was sent.
#[derive(Clone, Debug, Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
pub enum Errand {
    /// A question of the model, by its name: the answer as JSON.
    Question(String),
    /// A drawing to be kept as a shape: the shape and what there is to say of it, as JSON.
    Drawing,
    /// How a kept shape, or one as its fields stand, comes out: what its page shows, as JSON.
    Shape,
    /// A photo: the same as it is kept.
    Photo,
    /// A photo of swatches, with what is asked of it: what it says of them, as JSON.
    Swatches(Box<SwatchAsked>),
    /// A photo of a panel, with what is asked of it: what is not as planned, as JSON.
    Shown(Box<InspectAsked>),
    /// A small picture: the few colours it shows, as JSON.
    Colours,
    /// A file of inks: those that can be read and what is wrong with the others, as JSON.
    Inks,
    /// An archive in one file: what a bench is set up from, checked, in another.
    Archive {
        /// The archive.
        from: PathBuf,
        /// Where what is in it is written to.
        to: PathBuf,
        /// How many bytes the archive has.
        bytes: u64,
    },
}

impl Errand {
    /// What it may cost.
    pub fn limits(&self) -> Limits {
        match self {
            Errand::Question(name) if questions::has_photo(name) => limits::SEEN,
            Errand::Question(_) => limits::QUESTION,
            Errand::Swatches(_) | Errand::Shown(_) => limits::SEEN,
            Errand::Drawing | Errand::Shape => limits::DRAWING,
            Errand::Photo => limits::PHOTO,
            Errand::Colours => limits::COLOURS,
            Errand::Inks => limits::INKS,
            Errand::Archive { bytes, .. } => limits::ARCHIVE.with_time_for(*bytes),
        }
    }

    /// Does it.
    ///
    /// # Errors
    /// What is wrong with what was sent, and what to do.
    pub fn done(&self, sent: &[u8]) -> Result<Vec<u8>, String> {
        match self {
            Errand::Question(name) => questions::answer(name, sent).and_then(|seen| json(&seen)),
            Errand::Drawing => shapes::read(sent).and_then(|brought| json(&brought)),
            Errand::Shape => shapes::shown(sent).and_then(|shown| json(&shown)),
            Errand::Photo => photo::kept(sent).map_err(|error| error.to_string()),
            Errand::Swatches(asked) => questions::beside(&**asked, sent).and_then(|seen| json(&seen)),
            Errand::Shown(asked) => questions::beside(&**asked, sent).and_then(|seen| json(&seen)),
            Errand::Colours => photo::colours(sent).and_then(|colours| json(&colours)),
            Errand::Inks => files::read_inks(sent).and_then(|file| json(&file)),
            Errand::Archive { from, to, .. } => {
                archive::unpacked(from, to).map_err(|error| error.to_string()).and_then(|head| json(&head))
            }
        }
    }
}

fn json(value: &impl Serialize) -> Result<Vec<u8>, String> {
    serde_json::to_vec(value).map_err(|error| error.to_string())
}
