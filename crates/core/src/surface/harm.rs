//! What has come out otherwise than it was meant to?
//!
//! Each is a part of the card with other ink on it, or none, or sealed: picture and judgement read it as any other.

use crate::ink::Powder;
use crate::shape::Region;

/// A part of the card that came out otherwise.
#[derive(Clone, Debug)]
pub struct Harm {
    /// Where.
    pub(super) region: Region,
    /// What came of it there.
    pub(super) what: What,
}

#[derive(Clone, Debug)]
pub(super) enum What {
    /// Some coats have gone.
    Gone(Vec<usize>),
    /// Some coats have come.
    Come(Vec<usize>),
    /// It is sealed.
    Sealed(Powder),
}
