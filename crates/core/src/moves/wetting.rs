//! What must be true before water comes on the card?

use super::rules::{Breach, Mend, Unmet};
use super::unset;
use crate::ink::{Finish, Kind};
use crate::surface::{Mask, Part, Surface, Wet};

/// Pumps of mist that stand on a surface, about.
pub fn standing(surface: &Surface) -> f64 {
    surface.films.iter().filter(|film| !film.is_dry).map(|film| film.wet.load()).sum()
}

/// Pumps shared out over as few goes as the card drinks, as evenly as whole ones can be.
pub fn goes(pumps: u8, card: Finish, load: impl Fn(u8) -> f64) -> Vec<u8> {
    let most = (1..=pumps).rev().find(|at_once| load(*at_once) <= card.drinks()).unwrap_or(1);
    let count = pumps.div_ceil(most);
    (0..count).map(|nth| pumps / count + u8::from(nth < pumps % count)).collect()
}

/// What is not as it must be before something wet comes on a surface.
pub fn unmet(surface: &Surface, wet: &impl Wet) -> Vec<Unmet> {
    let on_ink = |surface| [damp(surface), nothing_reacts(surface)];
    let found = if wet.is_water() { on_ink(surface) } else { [None, None] };
    unset_first(surface, found.into_iter().chain([soaked(surface, wet)]))
}

/// What is not as it must be before a card is pressed on the mat: what is damp on it runs into what is pressed.
pub fn unmet_of_press(surface: &Surface) -> Vec<Unmet> {
    let mud = surface.is_damp().then(|| Unmet {
        breach: Breach::PressOnDamp,
        says:
            "The card is still damp: pressed again now, the inks run into one another to mud. Dry it first."
                .into(),
        mend: Mend::DryFirst,
    });
    unset_first(surface, [mud])
}

/// Paste is all there is to say, soft or hard; then what is found, and what would run.
fn unset_first(surface: &Surface, found: impl IntoIterator<Item = Option<Unmet>>) -> Vec<Unmet> {
    match unset::squashed(surface).or_else(|| unset::not_last(surface)) {
        Some(squashed) => vec![squashed],
        None => found.into_iter().flatten().chain(runs(surface)).collect(),
    }
}

/// Water on ink that is still damp makes mud of it.
fn damp(surface: &Surface) -> Option<Unmet> {
    let coat = surface.coats.iter().find(|coat| !coat.is_dry)?;
    let name = &surface.materials.inks[coat.ink].name;
    let says = format!("{name} is still damp: water on it makes mud, not flecks. Let it dry first.");
    Some(Unmet { breach: Breach::WaterOnDamp, says, mend: Mend::DryFirst })
}

/// Water on what does not react with it does nothing.
fn nothing_reacts(surface: &Surface) -> Option<Unmet> {
    let reacts = |ink: &usize| surface.materials.inks[*ink].kind != Kind::Pigment;
    if surface.inks().iter().any(reacts) {
        return None;
    }
    let says = "Nothing that reacts with water lies there: nothing would happen. Leave this out.".into();
    Some(Unmet { breach: Breach::NothingReacts, says, mend: Mend::LeaveOut })
}

/// More water than the card drinks.
fn soaked(surface: &Surface, wet: &impl Wet) -> Option<Unmet> {
    let standing = standing(surface);
    let card = surface.materials.paper.surface;
    if standing + wet.load() <= card.drinks() {
        return None;
    }
    let words = card.words();
    let (says, mend) = if standing > 0.0 {
        (
            format!(
                "There is water on it already, and {words} card drinks no more: it would buckle and pill. Let it dry first."
            ),
            Mend::DryFirst,
        )
    } else {
        (
            format!(
                "That is more water at once than {words} card drinks: it would buckle and pill. Take it in goes, and dry it \
                 between."
            ),
            Mend::InGoes,
        )
    };
    Some(Unmet { breach: Breach::Soaked, says, mend })
}

/// Water makes a greeting in soluble ink run that nothing seals or covers.
fn runs(surface: &Surface) -> Vec<Unmet> {
    soluble_words(surface)
        .into_iter()
        .map(|thing| {
            let name = &surface.materials.masks.things[thing].name;
            let says = format!(
                "The {name} stands there in ink that water dissolves, with nothing over it: it would run. Cover it first."
            );
            Unmet { breach: Breach::Runs, says, mend: Mend::MaskFirst(Mask { thing, part: Part::Plug }) }
        })
        .collect()
}

/// The words in soluble ink on a surface that nothing seals or covers.
fn soluble_words(surface: &Surface) -> Vec<usize> {
    let things = surface.materials.masks.things.iter().enumerate();
    things
        .filter(|(thing, masked)| {
            let covered = surface.masks.contains(&Mask { thing: *thing, part: Part::Plug });
            let sealed = surface.embossing.sealed.iter().any(|sealed| sealed.thing == *thing);
            masked.is_word && !covered && !sealed && surface.has_soluble_on(*thing)
        })
        .map(|(thing, _)| thing)
        .collect()
}
