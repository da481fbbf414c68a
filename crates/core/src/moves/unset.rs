//! What on a card has not set yet, so that nothing may touch it?

use super::rules::{Breach, Mend, Unmet};
use crate::surface::Surface;

/// What is put, pressed or worked on paste that is still soft squashes it.
pub(super) fn squashed(surface: &Surface) -> Option<Unmet> {
    surface.is_soft().then(|| Unmet {
        breach: Breach::PasteSquashed,
        says: "The paste is still soft: whatever touches it squashes it. Let it dry in air first, half an hour to an hour."
            .into(),
        mend: Mend::DryFirst,
    })
}

/// Water after paste, soft or hard, creeps under its edges.
pub(super) fn not_last(surface: &Surface) -> Option<Unmet> {
    (surface.has_paste() && !surface.is_soft()).then(|| Unmet {
        breach: Breach::PasteNotLast,
        says: "There is paste on it: water now creeps under its edges and dulls it. Paste comes last of all that is wet."
            .into(),
        mend: Mend::PlanAnew,
    })
}

/// Ink over powder that is still hot smears it.
pub(super) fn hot(surface: &Surface) -> Option<Unmet> {
    surface.embossing.is_hot.then(|| Unmet {
        breach: Breach::Hot,
        says: "The melted powder is still hot: ink worked over it would smear it. Let it cool first.".into(),
        mend: Mend::CoolFirst,
    })
}
