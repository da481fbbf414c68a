//! What is to come now, if the rest is planned from what lies there?
//!
//! What was read back is put in the place of what was made, the rest is planned from there as it always is, and both ways are drawn on
//! the model: it is offered only where it ends nearer to what was wanted.

use rosy_core::Panel;
use rosy_core::edit::came::{Came, CameOut};
use rosy_core::edit::{Edit, Has};
use rosy_core::judgement::Sight;
use rosy_core::length::{Length, Units};
use rosy_core::moves::{Move, Technique};

use super::passes::Zone;

/// A change that takes a panel as it came out.
#[derive(Clone, Debug, PartialEq)]
pub struct Remedy {
    /// The change.
    pub edit: CameOut,
    /// What is to come then.
    pub says: String,
    /// How far the finished panel is from what was wanted, on the mean of the zones that were read: as things stand, and with it.
    pub off: [f64; 2],
}

/// Light passes that are missed or over have to be told so well: so many, and so much of their own spread.
const MISSED: f64 = 0.6;
const SURE: f64 = 0.6;
/// By how much nearer it has to end (ΔE00).
const NEARER: f64 = 0.3;

/// What would be better than to go on as planned after the first moves; nothing where nothing is, or where it is not known which moves
/// are made.
pub fn remedy(panel: &Panel, moves: usize, zones: &[Zone], units: Units) -> Option<Remedy> {
    let made = panel.made().len();
    let (from, to) = (made.min(moves), made.max(moves));
    if made == 0 || panel.moves[from..to].iter().any(Technique::stays) {
        return None;
    }
    let edit = came_out(panel, moves, zones)?;
    let edited = edit.made(panel.clone(), &Has { units, ..Has::default() }).ok()?;
    let wished = Sight::of(&panel.surface());
    let off = |panel: &Panel| {
        let sight = Sight::of(&panel.surface());
        let offs: Vec<f64> = zones
            .iter()
            .filter_map(|zone| {
                Some(sight.lab(zone.at[0], zone.at[1])?.difference(wished.lab(zone.at[0], zone.at[1])?))
            })
            .collect();
        offs.iter().sum::<f64>() / offs.len().max(1) as f64
    };
    let off = [off(&edit.as_it_came(panel)), off(&edited.panel)];
    (off[1] < off[0] - NEARER).then(|| Remedy { edit, says: edited.says.unwrap_or_default(), off })
}

/// What lies in each zone that was read, in whole light passes; nothing where all of it is as planned.
fn came_out(panel: &Panel, moves: usize, zones: &[Zone]) -> Option<CameOut> {
    let mut differs = false;
    let mut came = Vec::new();
    for zone in zones {
        let blend = panel.scene.ground.get(zone.blend)?;
        let edges = rosy_core::blend::field::zones(panel.span(zone.blend), blend.zone);
        let ends = edges.windows(2).find(|ends| (ends[0].mm() - zone.from).abs() < 0.01)?;
        for lies in &zone.inks {
            if blend.fields.iter().all(|field| field.ink != lies.ink) {
                continue;
            }
            let by = lies.lie - lies.planned;
            let by = if by.abs() > MISSED.max(SURE * lies.within) { by.round() as i64 } else { 0 };
            differs |= by != 0;
            let laid = laid(&panel.moves[..moves], lies.ink, blend.way, ends);
            let passes = (laid as i64 + by).clamp(0, 24) as u8;
            came.push(Came { blend: zone.blend, ink: lies.ink, from: ends[0], to: ends[1], passes });
        }
    }
    differs.then_some(CameOut { came })
}

/// How many light passes of an ink some moves lay over the middle of a zone.
fn laid(moves: &[Move], ink: usize, way: rosy_core::blend::Way, ends: &[Length]) -> usize {
    let middle = ends[0] + (ends[1] - ends[0]) / 2;
    let own = moves.iter().filter_map(Technique::laying);
    let own = own.filter(|laying| (laying.ink, laying.on, laying.way) == (ink, None, way));
    own.flat_map(|laying| &laying.veils).filter(|veil| veil.from <= middle && middle < veil.to).count()
}
