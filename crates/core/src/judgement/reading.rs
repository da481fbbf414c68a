//! How does the panel come out, all together?

use std::sync::Arc;

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::finding::{self, Finding};
use super::joins::{self, InkReading, Junction};
use super::muddied;
use super::standing_out;
use super::survey::Survey;
use super::unseen;
use super::view::View;
use crate::blend::limits::SEEN_APART;
use crate::colour::{ColourName, Lab};
use crate::moves::surface_after;
use crate::panel::Panel;
use crate::shape::Region;
use crate::surface::Materials;

/// Share of the panel that a colour takes before it is seen as one.
const SEEN_SHARE: f64 = 0.004;
/// The judgement of a laid panel.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Reading {
    /// Each ink.
    pub inks: Vec<InkReading>,
    /// Each junction: those of each blend in order along it, then those of inks of different blends.
    pub junctions: Vec<Junction>,
    /// What will go wrong, in order along the blends.
    pub findings: Vec<Finding>,
    /// The colours seen, from the start of the blend to its end, or from the top of the panel down.
    pub colours_seen: Vec<ColourName>,
}

impl Reading {
    /// Reads the panel as its moves leave it.
    ///
    /// ```
    /// # use rosy_core::judgement::Reading;
    /// # let text = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/version_1/strings_corner.json"));
    /// let panel: rosy_core::Panel = serde_json::from_str(text)?;
    /// let reading = Reading::of(&panel);
    /// assert_eq!(reading.inks.len(), panel.inks.len());
    /// // Bare card has nothing that could go wrong.
    /// let bare = rosy_core::Panel { moves: Vec::new(), ..panel };
    /// assert!(Reading::of(&bare).trouble() <= reading.trouble());
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn of(panel: &Panel) -> Reading {
        Reading::with(panel, panel.materials())
    }

    /// The same, with what it is made of worked out before.
    pub fn with(panel: &Panel, materials: Arc<Materials>) -> Reading {
        let mut all = match panel.scene.things.is_empty() && panel.outline.is_none() {
            true => Reading::of_one(panel, materials.clone(), None, true),
            false => Reading::of_views(panel, &materials),
        };
        let surface = surface_after(materials, &panel.moves);
        all.findings.extend(standing_out::faint(panel, &surface));
        all.findings.extend(unseen::findings(panel, &surface));
        all.findings.extend(muddied::findings(panel, &surface));
        all
    }

    /// Reads what is seen of the ground and of each thing, each in its own measures.
    fn of_views(panel: &Panel, materials: &Arc<Materials>) -> Reading {
        let mut inks: Vec<Option<InkReading>> = vec![None; panel.inks.len()];
        let mut all = Reading {
            inks: Vec::new(),
            junctions: Vec::new(),
            findings: Vec::new(),
            colours_seen: Vec::new(),
        };
        for view in View::all(panel, materials) {
            let own = Reading::of_one(
                &view.panel,
                Arc::new(materials.part(view.panel.size(), &view.inks)),
                view.seen.as_ref(),
                view.on.is_none_or(|on| !panel.scene.things[on].is_printed()),
            );
            for (reading, ink) in own.inks.into_iter().zip(&view.inks) {
                inks[*ink].get_or_insert(reading);
            }
            let first = all.junctions.len();
            all.junctions.extend(own.junctions.into_iter().map(|junction| Junction {
                inks: junction.inks.map(|ink| view.inks[ink]),
                on: view.on,
                spot: view.place(junction.spot),
                ..junction
            }));
            all.findings.extend(own.findings.into_iter().map(|finding| Finding {
                of: if finding.inks.len() == 2 { first + finding.of } else { view.inks[finding.of] },
                inks: finding.inks.iter().map(|ink| view.inks[*ink]).collect(),
                on: view.on,
                spot: view.place(finding.spot),
                ..finding
            }));
            let new: Vec<_> =
                own.colours_seen.into_iter().filter(|name| !all.colours_seen.contains(name)).collect();
            all.colours_seen.extend(new);
        }
        all.inks = inks.into_iter().flatten().collect();
        all
    }

    /// Reads one ground, where it is seen; whether it lies on bare card.
    fn of_one(
        panel: &Panel,
        materials: Arc<Materials>,
        seen_part: Option<&Region>,
        is_on_card: bool,
    ) -> Reading {
        let surface = surface_after(materials, &panel.moves);
        let survey = Survey::of(&surface, seen_part);
        let steepest = joins::steepest(panel, &survey);
        let inks: Vec<InkReading> = (0..panel.inks.len()).map(|ink| joins::read_ink(&survey, ink)).collect();
        let mut junctions: Vec<Junction> = Vec::new();
        for (blend, of) in panel.scene.ground.iter().enumerate() {
            for pair in of.fields.windows(2) {
                junctions.push(joins::read_join(panel, &survey, blend, [pair[0].ink, pair[1].ink]));
            }
        }
        for pair in joins::crossings(panel, &survey, &junctions) {
            junctions.extend(joins::read_crossing(panel, &survey, pair));
        }
        for junction in &mut junctions {
            let own = steepest.iter().filter(|edge| edge.is_of(&junction.inks));
            junction.steepest = own.map(|edge| edge.steepness).fold(0.0, f64::max);
        }
        let findings = finding::all(panel, &survey, &inks, &junctions, (&steepest, is_on_card));
        Reading { inks, junctions, findings, colours_seen: seen(&survey) }
    }

    /// How bad the findings are together: 0 where there are none. A remedy must bring it down.
    pub fn trouble(&self) -> f64 {
        self.findings.iter().map(Finding::trouble).sum()
    }
}

/// Colours met, each named once where it is first far enough from those before; specks do not count.
fn seen(survey: &Survey) -> Vec<ColourName> {
    let named: Vec<(ColourName, Lab)> =
        survey.places().map(|n| survey.samples[n].lab).map(|lab| (ColourName::of(lab), lab)).collect();
    let least = (SEEN_SHARE * named.len() as f64) as usize;
    let mut seen: Vec<(ColourName, Lab)> = Vec::new();
    for (name, lab) in &named {
        let new = seen.iter().all(|(known, other)| known != name && lab.difference(*other) > SEEN_APART);
        if new && named.iter().filter(|(other, _)| other == name).count() > least {
            seen.push((name.clone(), *lab));
        }
    }
    seen.into_iter().map(|(name, _)| name).collect()
}
