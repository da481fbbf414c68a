//! What was made, and how is it found and made again?
//!
//! A finished card is kept as it was done: its moves, its inks, when, to whom it went, what went wrong. It is found by any of
//! that in the maker's own words, and made again on a panel of its own, with what is not owned any more replaced by what comes
//! nearest.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::evening::{Fault, Finished};
use crate::ink::Ink;
use crate::ink::drawer::LONGEST_NAME;
use crate::length::Units;
use crate::moves::Technique;
use crate::order::RunSheet;
use crate::panel::Panel;
use crate::scene::{Pressing, Scene, Smoosh};
use crate::search::stand_ins;

/// Longest note, in signs.
pub const LONGEST_NOTE: usize = 1_000;

/// A card that is done.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Made {
    /// The panel, with its moves as they were made.
    pub panel: Panel,
    /// When, in milliseconds since 1970.
    pub at: i64,
    /// To whom it went; empty where it is still there.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub to: String,
    /// What there is to say of it.
    #[serde(default, skip_serializing_if = "String::is_empty")]
    pub note: String,
    /// What went wrong.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub faults: Vec<Fault>,
    /// Minutes that it took, from its first step to its last, where that is known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub minutes: Option<u32>,
    /// The spare cards pressed off its mat that have been used since, by their numbers.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub used: Vec<u8>,
    /// Under which number its photo is kept, where there is one.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub photo: Option<String>,
}

impl From<Finished> for Made {
    fn from(Finished { panel, began, ended, faults }: Finished) -> Made {
        let minutes = u32::try_from((ended - began) / 60_000).ok();
        Made { minutes, faults, ..Made::new(panel, ended) }
    }
}

/// The photo by which a panel was shown last, before it was done.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct ShownBy {
    /// What was shown: a panel, or a card of an evening, by what it is kept under.
    pub what: String,
    /// Under which number the photo is kept.
    pub photo: String,
    /// How many of its moves were made.
    pub moves: usize,
}

/// Photos that are remembered of panels that are not done.
const MOST_SHOWN: usize = 200;

/// The photos by which panels were shown, the latest last.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(transparent)]
pub struct Photos(pub Vec<ShownBy>);

impl Photos {
    /// The same with one more, which takes the place of what there was of the same panel; and the numbers of photos that nothing speaks
    /// of any more.
    ///
    /// ```
    /// # use rosy_core::record::{Photos, ShownBy};
    /// let shown = |what: &str, photo: &str| ShownBy { what: what.into(), photo: photo.into(), moves: 3 };
    /// let (photos, dropped) = Photos::default().with(shown("ebb", "1"));
    /// assert!(dropped.is_empty());
    /// let (photos, dropped) = photos.with(shown("ebb", "2"));
    /// assert_eq!((photos.of("ebb").unwrap().photo.as_str(), dropped), ("2", vec!["1".to_owned()]));
    /// // The same photo, read as of another step, is still spoken of.
    /// assert!(photos.with(ShownBy { moves: 4, ..shown("ebb", "2") }).1.is_empty());
    /// ```
    #[must_use]
    pub fn with(mut self, shown: ShownBy) -> (Photos, Vec<String>) {
        let before: Vec<String> = self.0.iter().map(|known| known.photo.clone()).collect();
        self.0.retain(|known| known.what != shown.what);
        self.0.push(shown);
        let over = self.0.len().saturating_sub(MOST_SHOWN);
        self.0.drain(..over);
        let is_gone = |photo: &String| self.0.iter().all(|known| known.photo != *photo);
        let gone = before.into_iter().filter(is_gone).collect();
        (self, gone)
    }

    /// That of one panel.
    pub fn of(&self, what: &str) -> Option<&ShownBy> {
        self.0.iter().find(|shown| shown.what == what)
    }
}

/// Why a record cannot be kept, and what to change.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
pub enum MadeError {
    /// Too long a name.
    #[error("to whom it went is {0} signs long: write at most {LONGEST_NAME}")]
    To(usize),
    /// Too long a note.
    #[error("the note is {0} signs long: write at most {LONGEST_NOTE}")]
    Note(usize),
}

/// An ink that another took the place of.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Replaced {
    /// The ink that is not owned any more.
    pub ink: String,
    /// What comes nearest; nothing where the drawer has nothing like it.
    pub by: Option<String>,
}

impl Made {
    /// Just done.
    pub fn new(panel: Panel, at: i64) -> Made {
        Made {
            panel,
            at,
            to: String::new(),
            note: String::new(),
            faults: Vec::new(),
            minutes: None,
            used: Vec::new(),
            photo: None,
        }
    }

    /// The same with what was written of it.
    ///
    /// # Errors
    /// A [`MadeError`] with the remedy.
    pub fn written(&self, to: &str, note: &str) -> Result<Made, MadeError> {
        let (to, note) = (to.trim(), note.trim());
        let (long, longer) = (to.chars().count(), note.chars().count());
        if long > LONGEST_NAME {
            return Err(MadeError::To(long));
        }
        if longer > LONGEST_NOTE {
            return Err(MadeError::Note(longer));
        }
        Ok(Made { to: to.to_owned(), note: note.to_owned(), ..self.clone() })
    }

    /// Whether it is what came of a panel as that is now.
    pub fn is_of(&self, panel: &Panel) -> bool {
        let own = &self.panel;
        (&own.name, own.size(), &own.inks, &own.scene)
            == (&panel.name, panel.size(), &panel.inks, &panel.scene)
    }

    /// The techniques it was made with, in words.
    pub fn techniques(&self) -> Vec<&'static str> {
        let mut words: Vec<&str> = Vec::new();
        for word in self.panel.moves.iter().filter_map(Technique::made) {
            if !words.contains(&word) {
                words.push(word);
            }
        }
        words
    }

    /// Whether it is one that is looked for: every word of it stands somewhere in what is known,
    /// the words for the day it was made among that: its season, month and year.
    pub fn is_found_by(&self, words: &str, day: &str) -> bool {
        let faults = self.faults.iter().map(|fault| fault.words());
        let inks = self.panel.inks.iter().map(|ink| ink.name.as_str());
        let things = self.panel.scene.things.iter().map(|thing| thing.shape.name.as_str());
        let own = [self.panel.name.as_str(), &self.to, &self.note, self.panel.paper.name.as_str()];
        let known: Vec<String> = own
            .into_iter()
            .chain(faults)
            .chain(inks)
            .chain(things)
            .chain(self.techniques())
            .map(str::to_lowercase)
            .chain([day.to_lowercase()])
            .collect();
        words.to_lowercase().split_whitespace().all(|word| known.iter().any(|known| known.contains(word)))
    }

    /// The spare cards pressed off its mat that still lie there, by their numbers.
    pub fn left_over(&self) -> Vec<u8> {
        let spares = self.panel.scene.smoosh.iter().flat_map(Smoosh::spares);
        spares.filter(|n| !self.used.contains(n)).collect()
    }

    /// A spare card of it as a panel of its own, as it came off the mat: what was pressed on the card lies on a spare one then,
    /// and the other way round. Nothing where there is no such card.
    pub fn spare(&self, n: u8) -> Option<Panel> {
        let smoosh = self.panel.scene.smoosh.as_ref().filter(|smoosh| smoosh.spares().contains(&n))?;
        let turned = |press: &Pressing| Pressing {
            spare: match press.spare {
                Some(spare) if spare == n => None,
                None => Some(n),
                other => other,
            },
            // Spare cards have dried by the time they are pressed again.
            on_damp: false,
            ..*press
        };
        let presses = smoosh.presses.iter().map(turned).collect();
        let Panel { width, height, paper, tool, seed, inks, brushes, .. } = self.panel.clone();
        let name = self.panel.name.with_tail(&format!(", spare card {n}"));
        let bare = Panel::bare(name, width, height, paper, tool, seed);
        let scene =
            Scene { smoosh: Some(Smoosh { presses, patches: smoosh.patches.clone() }), ..bare.scene.clone() };
        let laid = Panel { inks, brushes, ..bare }.with_scene(scene);
        // All of it is done: it lies there.
        let done = RunSheet::of(&laid, Units::default()).steps.len();
        Some(Panel { done, ..laid })
    }

    /// The panel to make it again, from nothing: each ink that the drawer has not any more is replaced by the one that comes
    /// nearest on this very panel.
    pub fn again(&self, drawer: &[Ink]) -> (Panel, Vec<Replaced>) {
        let mut panel = Panel { done: 0, gave: Vec::new(), ..self.panel.clone() }.laid();
        let mut replaced = Vec::new();
        for ink in &self.panel.inks {
            if drawer.contains(ink) {
                continue;
            }
            let Some(place) = panel.inks.iter().position(|own| own == ink) else { continue };
            let nearest = stand_ins(&panel, place, drawer, 1).into_iter().next();
            let by = nearest.as_ref().map(|nearest| drawer[nearest.place].name.to_string());
            replaced.push(Replaced { ink: ink.name.to_string(), by });
            if let Some(nearest) = nearest {
                panel = nearest.panel.in_the_order_of(&panel);
            }
        }
        (panel, replaced)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::panel::sample;

    const DAY: &str = "Autumn November 2026";

    fn made() -> Made {
        Made::new(sample(), 1_795_132_800_000)
    }

    #[test]
    fn it_is_found_by_ink_technique_fault_season_and_person_and_by_nothing_else() {
        let mut own = made().written(" the tea hut ", "kept the light low").unwrap();
        own.faults = vec![Fault::HardMark];
        let ink = own.panel.inks[0].name.to_string();
        for words in [&ink, "blended", "hard mark", "autumn", "november 2026", "tea hut", "low LIGHT", ""] {
            assert!(own.is_found_by(words, DAY), "{words}");
        }
        for words in ["smooshed", "spring", "string menders", "tea hut spring"] {
            assert!(!own.is_found_by(words, DAY), "{words}");
        }
        assert_eq!(own.to, "the tea hut");
    }

    #[test]
    fn what_is_too_long_is_refused() {
        assert_eq!(made().written(&"x".repeat(LONGEST_NAME + 1), ""), Err(MadeError::To(LONGEST_NAME + 1)));
        assert_eq!(made().written("", &"x".repeat(LONGEST_NOTE + 1)), Err(MadeError::Note(LONGEST_NOTE + 1)));
    }

    #[test]
    fn made_again_it_is_the_same_from_nothing_and_what_ran_out_is_replaced_by_the_nearest() {
        let own = Made { panel: Panel { done: 6, ..sample() }, ..made() };
        let drawer = own.panel.inks.clone();
        let (again, replaced) = own.again(&drawer);
        assert_eq!((again.done, replaced.len()), (0, 0));
        assert_eq!((&again.inks, &again.moves), (&own.panel.inks, &sample().moves));
        // The first is not there any more; one much like it is, and one much unlike.
        let mut near = drawer[0].clone();
        near.name = "Much like it".parse().unwrap();
        let drawer: Vec<Ink> = drawer.iter().skip(1).cloned().chain([near.clone()]).collect();
        let (again, replaced) = own.again(&drawer);
        assert_eq!(
            replaced,
            [Replaced { ink: own.panel.inks[0].name.to_string(), by: Some("Much like it".into()) }]
        );
        assert!(again.inks.contains(&near) && again.check().is_ok());
    }

    /// A spare card comes off the very mat that it was pressed on: what lies on it is what the mat had left there.
    #[test]
    fn a_spare_card_is_a_panel_that_looks_as_it_came_off_the_mat() {
        let mut own = made();
        let inks: Vec<usize> = (0..own.panel.inks.len()).collect();
        let mut smoosh = Smoosh::of(&inks, own.panel.size(), Units::Inches);
        smoosh.three();
        smoosh.presses.push(Pressing { spare: Some(2), ..smoosh.presses[1] });
        own.panel.scene.smoosh = Some(smoosh);
        own.panel = own.panel.untouched().laid();
        assert_eq!(own.left_over(), [1, 2]);
        let mat = own.panel.surface().mat.bench();
        for n in [1, 2] {
            let spare = own.spare(n).unwrap();
            spare.check().unwrap();
            assert!(crate::order::check::check(&spare).is_empty());
            let surface = spare.surface();
            let films: Vec<_> = surface.effects();
            let layers = &mat.cards[usize::from(n)].layers;
            assert_eq!(films.len(), layers.len());
            for (film, layer) in films.iter().zip(layers) {
                let lies: Vec<f64> = film.inks.iter().map(|(_, raster)| raster.sum()).collect();
                let lay: Vec<f64> = layer.iter().map(crate::water::Raster::sum).collect();
                assert!(
                    lies.iter().zip(&lay).all(|(one, other)| (one - other).abs() < 1e-6),
                    "{lies:?} {lay:?}"
                );
            }
            assert_eq!(spare.done, RunSheet::of(&spare, Units::Inches).steps.len());
        }
        assert!(own.spare(3).is_none() && made().spare(1).is_none());
        own.used = vec![1];
        assert_eq!(own.left_over(), [2]);
    }
}
