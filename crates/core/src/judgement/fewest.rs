//! How few light passes still look as smooth, and read as the same colours?

use std::collections::BTreeSet;

use super::finding::Finding;
use super::reading::Reading;
use crate::panel::Panel;

/// Trouble within which two findings are as bad.
const SAME: f64 = 1e-9;

/// The panel with one of its blends in so few light passes that with one fewer of any ink something would go wrong that
/// does not now, or a colour would not be seen any more. Building up is slow: what is not needed is left out.
#[must_use]
pub fn fewest_passes(panel: &Panel, blend: usize) -> Panel {
    let present = Reading::of(panel);
    let mut best = panel.clone();
    let Some(fields) = panel.scene.ground.get(blend).map(|blend| blend.fields.len()) else { return best };
    // By turns, so that no ink is thinned out before the others.
    let mut open: Vec<usize> = (0..fields).collect();
    while !open.is_empty() {
        open.retain(|&field| {
            let fewer = one_fewer(&best, blend, field);
            let holds = fewer.as_ref().is_some_and(|fewer| is_as_good(&present, &Reading::of(fewer)));
            if let Some(fewer) = fewer.filter(|_| holds) {
                best = fewer;
            }
            holds
        });
    }
    best
}

/// The panel with one pass fewer of one field; none where there is only one.
fn one_fewer(panel: &Panel, blend: usize, field: usize) -> Option<Panel> {
    let mut changed = panel.scene.ground[blend].clone();
    let veils = &mut changed.fields[field].veils;
    *veils = veils.checked_sub(1).filter(|veils| *veils > 0)?;
    Some(panel.clone().with_blend(blend, changed))
}

/// Whether nothing goes wrong that did not before, and the same colours are seen.
fn is_as_good(before: &Reading, after: &Reading) -> bool {
    let known = |finding: &Finding| {
        before.findings.iter().any(|known| {
            known.rule == finding.rule
                && known.inks == finding.inks
                && finding.trouble() <= known.trouble() + SAME
        })
    };
    let names = |reading: &Reading| -> BTreeSet<String> {
        let inks = reading.inks.iter().map(|ink| ink.named.to_string());
        inks.chain(reading.colours_seen.iter().map(ToString::to_string)).collect()
    };
    after.findings.iter().all(known) && names(before).is_subset(&names(after))
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::panel::sample;

    #[test]
    fn nothing_is_lost_and_not_one_pass_more_could_be_left_out() {
        let mut panel = sample();
        for field in &mut panel.scene.ground[0].fields {
            field.veils = 10;
        }
        let panel = panel.laid();
        let fewest = fewest_passes(&panel, 0);
        let veils = |panel: &Panel| -> Vec<u8> {
            panel.scene.ground[0].fields.iter().map(|field| field.veils).collect()
        };
        assert!(veils(&fewest).iter().sum::<u8>() < 20, "{:?}", veils(&fewest));
        assert_eq!(fewest.check(), Ok(()));
        let (before, after) = (Reading::of(&panel), Reading::of(&fewest));
        assert!(after.trouble() <= before.trouble() + SAME, "{:?}", after.findings);
        assert!(is_as_good(&before, &after));
        for field in 0..2 {
            let fewer = one_fewer(&fewest, 0, field);
            assert!(fewer.is_none_or(|fewer| !is_as_good(&before, &Reading::of(&fewer))), "field {field}");
        }
        assert_eq!(fewest_passes(&fewest, 0), fewest, "done again it finds nothing more");
        assert_eq!(fewest_passes(&panel, 7), panel, "there is no such blend");
    }
}
