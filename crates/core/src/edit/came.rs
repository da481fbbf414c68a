//! What lies on a panel by now, where that is not what was planned: the rest is planned from there.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::{Edit, Edited, Has};
use crate::blend::Reach;
use crate::blend::field::zones;
use crate::ink::drawer::MOST_VEILS;
use crate::length::{Length, Units};
use crate::moves::{Laying, Move, Technique, light_passes};
use crate::panel::Panel;

/// Most stretches of one message: every ink of every zone of a panel.
const MOST: usize = 600;

/// The light passes that lie on the ground of a panel by now, where they differ from those that were made.
///
/// ```
/// # use rosy_core::edit::{Edit, Has, came::{Came, CameOut}};
/// # let text = include_str!("../../tests/version_1/ebb_down.json");
/// let panel: rosy_core::Panel = serde_json::from_str(text)?;
/// // The first steps are ticked off; where its first ink came short, the rest of it is laid as well.
/// let panel = rosy_core::Panel { done: 5, ..panel };
/// let (from, to) = ("0 in".parse()?, "1/4 in".parse()?);
/// let came = CameOut { came: vec![Came { blend: 0, ink: 0, from, to, passes: 1 }] };
/// let edited = came.made(panel, &Has::default())?;
/// assert!(edited.says.is_some_and(|says| says.contains("of First Tide")));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct CameOut {
    /// Where.
    pub came: Vec<Came>,
}

/// Light passes of one ink over a stretch of a blend.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Came {
    /// The blend, by its place on the ground.
    pub blend: usize,
    /// The ink, by its place in the panel's list.
    pub ink: usize,
    /// From where along the blend.
    pub from: Length,
    /// To where.
    pub to: Length,
    /// How many lie there.
    pub passes: u8,
}

impl Edit for CameOut {
    fn label(&self, panel: &Panel, _: &Has) -> String {
        format!("plan the rest of {} from what lies there", panel.name)
    }

    fn made(&self, panel: Panel, has: &Has) -> Result<Edited, String> {
        if self.came.is_empty() || self.came.len() > MOST {
            return Err(format!("{} stretches: tell 1 to {MOST}", self.came.len()));
        }
        if panel.made().is_empty() {
            return Err("No step is ticked off on the run sheet: tick off what has been done first.".into());
        }
        let is_there = |came: &Came| {
            let span = panel.span(came.blend);
            let is_laid = panel
                .scene
                .ground
                .get(came.blend)
                .is_some_and(|blend| blend.fields.iter().any(|field| field.ink == came.ink));
            is_laid && came.from < came.to && came.to <= span && came.passes <= MOST_VEILS
        };
        if !self.came.iter().all(is_there) {
            return Err("What lies there does not fit this panel: show it again.".into());
        }
        let before = rest(&panel);
        let panel = self.as_it_came(&panel).laid();
        let more = more(&before, &rest(&panel));
        let says = told(&more, &panel, has.units);
        Ok(Edited { says: Some(says), ..panel.into() })
    }
}

impl CameOut {
    /// The panel with what was made as it came out, and the rest as it stood.
    pub fn as_it_came(&self, panel: &Panel) -> Panel {
        let count = panel.made().len();
        let mut made: Vec<Option<Move>> = panel.made().iter().cloned().map(Some).collect();
        for (nth, blend) in panel.scene.ground.iter().enumerate() {
            for field in &blend.fields {
                let own = |came: &&Came| (came.blend, came.ink) == (nth, field.ink);
                let told: Vec<&Came> = self.came.iter().filter(own).collect();
                if told.is_empty() {
                    continue;
                }
                let is_of =
                    |laying: &Laying| (laying.ink, laying.on, laying.way) == (field.ink, None, blend.way);
                let moves: Vec<usize> = (0..count)
                    .filter(|at| made[*at].as_ref().and_then(Move::laying).is_some_and(is_of))
                    .collect();
                let laid: Vec<Reach> = moves
                    .iter()
                    .filter_map(|at| made[*at].as_ref()?.laying())
                    .flat_map(|laying| laying.veils.clone())
                    .collect();
                let edges = zones(panel.span(nth), blend.zone);
                let mut came = reaches(&edges, &laid, &told).into_iter();
                for (left, at) in (0..moves.len()).rev().zip(moves) {
                    let Some(m) = made[at].clone() else { continue };
                    let was = m.laying().map_or(0, |laying| laying.veils.len());
                    // The last of them takes what is over.
                    let takes = if left == 0 { usize::from(MOST_VEILS) } else { was };
                    let veils: Vec<Reach> = came.by_ref().take(takes).collect();
                    made[at] = if veils.is_empty() { None } else { m.relaid(veils) };
                }
            }
        }
        let gone =
            panel.moves[..count].iter().zip(&made).filter(|(m, now)| now.is_none() && m.is_step()).count();
        let moves = made.into_iter().flatten().chain(panel.moves[count..].iter().cloned());
        Panel {
            moves: moves.collect(),
            done: panel.done - gone,
            by_hand: false,
            came_out: true,
            ..panel.clone()
        }
    }
}

/// Light passes with their reaches, from how many lie in each zone: as told, or else as they were made.
fn reaches(edges: &[Length], laid: &[Reach], told: &[&Came]) -> Vec<Reach> {
    let lie = |zone: &[Length]| -> usize {
        let middle = zone[0] + (zone[1] - zone[0]) / 2;
        let has = |from: Length, to: Length| from <= middle && middle < to;
        match told.iter().find(|came| has(came.from, came.to)) {
            Some(came) => usize::from(came.passes),
            None => laid.iter().filter(|reach| has(reach.from, reach.to)).count(),
        }
    };
    let lie: Vec<usize> = edges.windows(2).map(lie).collect();
    let most = lie.iter().copied().max().unwrap_or(0);
    let mut reaches = Vec::new();
    for pass in 1..=most {
        let mut from = None;
        for (zone, ends) in lie.iter().zip(edges.windows(2)) {
            match (*zone >= pass, from) {
                (true, None) => from = Some(ends[0]),
                (false, Some(begun)) => {
                    reaches.push(Reach { from: begun, to: ends[0] });
                    from = None;
                }
                _ => {}
            }
        }
        if let (Some(begun), Some(end)) = (from, edges.last()) {
            reaches.push(Reach { from: begun, to: *end });
        }
    }
    reaches
}

/// What is still to be laid.
fn rest(panel: &Panel) -> Vec<Laying> {
    panel.moves[panel.made().len()..].iter().filter_map(Move::laying).cloned().collect()
}

/// What is to be laid now that was not before: the ink, how many light passes, and where.
fn more(before: &[Laying], after: &[Laying]) -> Vec<(usize, usize, Reach)> {
    let mut left: Vec<(usize, Reach)> =
        before.iter().flat_map(|laying| laying.veils.iter().map(|veil| (laying.ink, *veil))).collect();
    let mut more: Vec<(usize, usize, Reach)> = Vec::new();
    for (ink, veil) in after.iter().flat_map(|laying| laying.veils.iter().map(|veil| (laying.ink, *veil))) {
        if let Some(at) = left.iter().position(|known| *known == (ink, veil)) {
            left.swap_remove(at);
            continue;
        }
        match more.iter_mut().find(|(known, ..)| *known == ink) {
            Some((_, passes, reach)) => {
                *passes += 1;
                *reach = Reach { from: reach.from.min(veil.from), to: reach.to.max(veil.to) };
            }
            None => more.push((ink, 1, veil)),
        }
    }
    more
}

fn told(more: &[(usize, usize, Reach)], panel: &Panel, units: Units) -> String {
    let one = |(ink, passes, reach): &(usize, usize, Reach)| {
        format!(
            "{} of {} between {} and {}",
            light_passes(*passes),
            panel.inks[*ink].name,
            reach.from.shown(units),
            reach.to.shown(units)
        )
    };
    match more {
        [] => "The rest stays as it was planned: nothing more is wanted.".into(),
        more => {
            let all: Vec<String> = more.iter().map(one).collect();
            let all: Vec<&str> = all.iter().map(String::as_str).collect();
            format!("To come now as well: {}.", crate::say::list(&all))
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    fn panel() -> Panel {
        let text = include_str!("../../tests/version_1/ebb_down.json");
        let panel: Panel = serde_json::from_str(text).unwrap();
        // All of its ink is laid.
        let steps = panel.moves.iter().filter(|m| m.is_step()).count();
        Panel { done: 2 + steps, ..panel }
    }

    fn came(passes: u8) -> CameOut {
        let zone = |n: i64| Length::from_64ths(16 * n);
        CameOut {
            came: (2..6).map(|n| Came { blend: 0, ink: 0, from: zone(n), to: zone(n + 1), passes }).collect(),
        }
    }

    /// Light passes of the first ink over a zone, of all moves.
    fn over(panel: &Panel, at: Length) -> usize {
        let own = panel.moves.iter().filter_map(Move::laying).filter(|laying| laying.ink == 0);
        own.flat_map(|laying| &laying.veils).filter(|veil| veil.from <= at && at < veil.to).count()
    }

    #[test]
    fn what_came_short_is_laid_and_all_comes_to_what_was_wanted() {
        let (panel, at) = (panel(), Length::from_64ths(40));
        let wanted = over(&panel, at);
        let edited = came(wanted as u8 - 2).made(panel.clone(), &Has::default()).unwrap();
        assert!(edited.panel.check().is_ok());
        assert_eq!(over(&edited.panel, at), wanted);
        let to_come = rest(&edited.panel).into_iter().filter(|laying| laying.ink == 0);
        let to_come = to_come.flat_map(|laying| laying.veils).filter(|veil| veil.from <= at && at < veil.to);
        assert_eq!(to_come.count(), 2);
        let says = edited.says.unwrap();
        assert!(says.contains("light passes of First Tide between"), "{says}");
    }

    #[test]
    fn what_came_as_planned_changes_nothing_and_what_came_strong_wants_no_more() {
        let (panel, at) = (panel(), Length::from_64ths(40));
        let wanted = over(&panel, at);
        let same = came(wanted as u8).made(panel.clone(), &Has::default()).unwrap();
        assert!(same.says.unwrap().contains("nothing more is wanted"));
        let strong = came(wanted as u8 + 3).made(panel.clone(), &Has::default()).unwrap();
        assert_eq!(over(&strong.panel, at), wanted + 3);
        assert!(strong.says.unwrap().contains("nothing more is wanted"));
    }

    #[test]
    fn what_does_not_fit_is_refused_and_so_is_a_panel_that_is_not_begun() {
        let panel = panel();
        let bare = Panel { done: 0, ..panel.clone() };
        assert!(came(3).made(bare, &Has::default()).unwrap_err().contains("tick off"));
        assert!(CameOut::default().made(panel.clone(), &Has::default()).is_err());
        let far = CameOut {
            came: vec![Came { blend: 0, ink: 9, from: Length::ZERO, to: Length::from_inches(1), passes: 2 }],
        };
        assert!(far.made(panel, &Has::default()).unwrap_err().contains("does not fit"));
    }
}
