//! Which change mends it?
//!
//! For each finding the changes a maker would try are tried on the model: the blend is laid and read
//! again, and the smallest change that helps most is offered. A remedy is never guessed.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::field::Field;
use super::limits::WORTH_REORDERING;
use super::meeting::meet;
use super::reading::{Finding, Reading, Rule};
use super::sequence::{best_sequence, cost_of};
use crate::colour::{Illuminant, Lab, Spectrum};
use crate::ink::{Film, Ink};
use crate::length::{Length, Units};
use crate::order::moves::light_passes;
use crate::panel::{Materials, Panel};

/// A change that mends a finding: the inks in their new order, and the new fields.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Remedy {
    /// What to do, as a maker would say it.
    pub says: String,
    /// The inks in their new order, by their present places.
    pub sequence: Vec<usize>,
    /// The fields then.
    pub fields: Vec<Field>,
    /// How bad the findings were together, and how bad they are then.
    pub trouble: (f64, f64),
}

impl Remedy {
    /// The panel with the remedy applied, laid anew.
    #[must_use]
    pub fn apply(&self, panel: &Panel) -> Panel {
        panel.clone().placed(&self.sequence, self.fields.clone())
    }

    /// The best remedy for a finding, where any change tried brings the trouble down.
    pub fn find(panel: &Panel, reading: &Reading, finding: &Finding, units: Units) -> Option<Remedy> {
        let before = reading.trouble();
        let mut best: Option<Remedy> = None;
        for (says, sequence, fields) in candidates(panel, finding, units) {
            let mut tried = Remedy { says, sequence, fields, trouble: (before, 0.0) };
            let mended = tried.apply(panel);
            if mended.blend.check(mended.inks.len(), mended.span()).is_err() {
                continue;
            }
            let after = Reading::of(&mended.materials()).trouble();
            tried.trouble.1 = after;
            // Candidates come smallest change first: a larger one must help clearly more.
            let beaten = best.as_ref().map_or(before - 0.05, |best| best.trouble.1 - 0.15);
            if after < beaten {
                best = Some(tried);
            }
        }
        best
    }
}

type Candidate = (String, Vec<usize>, Vec<Field>);

fn candidates(panel: &Panel, finding: &Finding, units: Units) -> Vec<Candidate> {
    let fields = &panel.blend.fields;
    let as_is: Vec<usize> = (0..panel.inks.len()).collect();
    let of = finding.of;
    let name = |ink: usize| panel.inks[ink].name.as_str();
    let step = match units {
        Units::Inches => Length::from_64ths(8),
        Units::Millimetres => Length::from_tenths_mm(30),
    };
    let mut found: Vec<Candidate> = Vec::new();
    let offer_widths = |found: &mut Vec<Candidate>, widths: &[i64]| {
        for &steps in widths {
            let by = step * steps;
            let shown = (by.abs() * 2).shown(units);
            let word = if steps > 0 { "Widen" } else { "Narrow" };
            if let Some(fields) = widened(fields, of, by) {
                found.push((format!("{word} the meeting by {shown}"), as_is.clone(), fields));
            }
        }
    };
    let offer_veils = |found: &mut Vec<Candidate>, ink: usize, changes: &[i16]| {
        for &change in changes {
            let veils = i16::from(fields[ink].veils) + change;
            if (1..=i16::from(crate::ink::drawer::MOST_VEILS)).contains(&veils) {
                let mut fields = fields.clone();
                fields[ink].veils = veils as u8;
                let says = format!("Lay {} in {}", name(ink), light_passes(veils as usize));
                found.push((says, as_is.clone(), fields));
            }
        }
    };
    match finding.rule {
        Rule::HardEdge | Rule::Gap => offer_widths(&mut found, &[1, 2, 3, 4, 6, 8]),
        Rule::DarkBand => {
            offer_widths(&mut found, &[-1, -2, -3, -4]);
            for ink in [of, of + 1] {
                offer_veils(&mut found, ink, &[-1, -2, -3]);
            }
        }
        Rule::Mud => {
            let (sequence, _) = suggested(panel);
            if sequence != as_is {
                let order: Vec<&str> = sequence.iter().map(|&ink| name(ink)).collect();
                let mut fields = fields.clone();
                for (field, &ink) in fields.iter_mut().zip(&sequence) {
                    field.veils = panel.blend.fields[ink].veils;
                }
                found.push((format!("Place them {}", order.join(", ")), sequence, fields));
            }
            offer_widths(&mut found, &[-2, -4, -6]);
            if let Some(fields) = parted(fields, of) {
                found.push(("Leave a strip of bare card between them".into(), as_is.clone(), fields));
            }
        }
        Rule::Splotch => offer_veils(&mut found, of, &[1, 2, 3, -1, -2, -3]),
        Rule::Overload => offer_veils(&mut found, of, &[-1, -2, -3, -4, -6]),
        Rule::Narrow => {
            let mut fields = fields.clone();
            fields[of].veils = (finding.figure as u8).max(1);
            let says = format!("Ask {} of {}", light_passes(fields[of].veils.into()), name(of));
            found.push((says, as_is.clone(), fields));
        }
    }
    found
}

/// The fields with one meeting made wider by `by` on each side, or narrower where it is negative;
/// none where there is no room.
fn widened(fields: &[Field], junction: usize, by: Length) -> Option<Vec<Field>> {
    let mut fields = fields.to_vec();
    let (one, other) = (fields[junction], fields[junction + 1]);
    let moved = (one.full_to - by, one.ends + by, other.starts - by, other.full_from + by);
    let fits = one.full_from <= moved.0
        && moved.0 < moved.1
        && moved.1 <= other.ends
        && one.starts <= moved.2
        && moved.2 < moved.3
        && moved.3 <= other.full_to;
    if !fits {
        return None;
    }
    (fields[junction].full_to, fields[junction].ends) = (moved.0, moved.1);
    (fields[junction + 1].starts, fields[junction + 1].full_from) = (moved.2, moved.3);
    Some(fields)
}

/// The fields with the two inks faded out before they touch.
fn parted(fields: &[Field], junction: usize) -> Option<Vec<Field>> {
    let mut fields = fields.to_vec();
    let (one, other) = (fields[junction], fields[junction + 1]);
    let mark = Length::from_64ths(8);
    let middle = Length::nearest(0.5 * (one.full_to.mm() + other.full_from.mm()), mark);
    let hair = mark * 3;
    let (ends, starts) = (middle - hair, middle + hair);
    if ends <= one.full_to || starts >= other.full_from {
        return None;
    }
    fields[junction].ends = ends;
    fields[junction + 1].starts = starts;
    Some(fields)
}

/// What each pair of inks, film and swatch, would pay for standing side by side on a card.
pub fn pair_costs(inks: &[(Film, Lab)], card: &Spectrum, light: Illuminant) -> Vec<Vec<f64>> {
    let cost = |(i, one): (usize, &(Film, Lab)), (j, other): (usize, &(Film, Lab))| {
        if i == j { 0.0 } else { meet((&one.0, one.1), (&other.0, other.1), card, light).cost() }
    };
    inks.iter()
        .enumerate()
        .map(|one| inks.iter().enumerate().map(|other| cost(one, other)).collect())
        .collect()
}

/// The best sequence of a panel's inks, with its cost and that of the present one.
pub fn suggested(panel: &Panel) -> (Vec<usize>, (f64, f64)) {
    let Materials { card, films, .. } = panel.materials();
    let inks: Vec<(Film, Lab)> = films.into_iter().zip(panel.inks.iter().map(Ink::lab)).collect();
    let costs = pair_costs(&inks, &card, Illuminant::D65);
    let as_is: Vec<usize> = (0..panel.inks.len()).collect();
    let present = cost_of(&as_is, &costs);
    let (sequence, cost) = best_sequence(&costs);
    // The present order stands unless another is clearly better.
    if cost < present - WORTH_REORDERING { (sequence, (cost, present)) } else { (as_is, (present, present)) }
}
