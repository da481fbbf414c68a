//! How much may be sent, and how much may be spent on it? All limits of what comes from outside, in one table; the page
//! `docs/limits.md` says the same to people.

/// What an errand may cost.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub struct Limits {
    /// Seconds of a processor.
    pub seconds: u64,
    /// Megabytes of memory.
    pub megabytes: u64,
    /// What it is, as a sentence begins.
    pub what: &'static str,
    /// What to do where it would cost more.
    pub remedy: &'static str,
}

/// Most megabytes that all that is done apart may hold together.
pub const TOGETHER: u64 = 288;

/// A question of the model.
pub const QUESTION: Limits =
    Limits { seconds: 5, megabytes: 128, what: "This question", remedy: "ask of less at once" };
/// A drawing, read and looked over.
pub const DRAWING: Limits =
    Limits { seconds: 5, megabytes: 128, what: "This drawing", remedy: "simplify it, or bring it in parts" };
/// A photo, read and written anew.
pub const PHOTO: Limits = Limits {
    seconds: 5,
    megabytes: 256,
    what: "This photo",
    remedy: "make it smaller, or save it once more as JPEG",
};
/// A photo that is looked at: its swatches read.
pub const SEEN: Limits = Limits {
    seconds: 5,
    megabytes: 256,
    what: "This photo",
    remedy: "make it smaller, to some 4,000 pixels along its longer side",
};
/// The colours of a small picture.
pub const COLOURS: Limits =
    Limits { seconds: 2, megabytes: 64, what: "This picture", remedy: "choose a smaller one" };
/// A file of inks.
pub const INKS: Limits =
    Limits { seconds: 3, megabytes: 128, what: "This file of inks", remedy: "bring it in parts" };
/// A whole bench, from its archive: so much, and a second more for each megabyte of the file.
pub const ARCHIVE: Limits = Limits {
    seconds: 5,
    megabytes: 192,
    what: "This archive",
    remedy: "take the bench out once more, and bring that",
};

impl Limits {
    /// More time for each so many bytes.
    pub const fn with_time_for(self, bytes: u64) -> Limits {
        Limits { seconds: self.seconds + (bytes >> 20), ..self }
    }

    /// Where it took too long.
    pub fn too_long(&self) -> String {
        format!("{} takes more than {} seconds to work out: {}.", self.what, self.seconds, self.remedy)
    }

    /// Where it took too much memory.
    pub fn too_much(&self) -> String {
        format!("{} takes more than {} MB of memory: {}.", self.what, self.megabytes, self.remedy)
    }
}
