//! The craft and its arithmetic, as they are known from outside.

mod arrows;
mod card_figures;
mod covered_scenes;
mod cut_sheets;
mod documents_of_version_1;
mod drawn_cards;
mod drawn_panels;
mod edits;
mod evenings;
mod hostile_drawings;
mod junctions;
mod panel_documents;
mod piled_masks;
mod published_differences;
mod published_overprints;
mod questions;
mod run_sheets;
mod searches;
mod sittings;
mod sources;
mod stamps;
mod taped_edges;
mod techniques;
mod verdicts;
mod ways;
mod wet_scenes;
