//! `rosy-veil photograph`: a photo of a swatch frame, or of a panel, taken by the simulated camera.

use std::path::Path;

use rosy_camera::chance::Chance;
use rosy_camera::hand::{Hands, MadeInk, lay};
use rosy_camera::light::Light;
use rosy_camera::panel::{self, Kind};
use rosy_camera::phone::Phone;
use rosy_camera::scene::Scene;
use rosy_camera::shot::{Shot, photograph};
use rosy_core::Panel;
use rosy_core::ink::Ink;
use rosy_eye::frame::{PLACES, letters_of};

use super::streams::read_file;
use crate::{files, refusal};

/// Longest file of inks, in bytes.
const LONGEST: u64 = 2 << 20;

/// How it is taken.
#[derive(Clone, Copy, Debug)]
pub struct Taking {
    /// What everything is drawn from.
    pub seed: u64,
    /// What the phone alone is drawn from; from the same where none is told.
    pub phone: Option<u64>,
    /// Pixels along the longer side.
    pub pixels: usize,
    /// As well as it can be held.
    pub well: bool,
    /// Whether a lamp shines on it.
    pub glare: bool,
    /// Whether something shades it.
    pub shadow: bool,
    /// Whether fingers touch it.
    pub fingers: bool,
}

/// Takes the photo and writes it.
pub fn run(output: &Path, inks: Option<&Path>, taking: Taking) -> Result<(), String> {
    let inks = match inks {
        Some(path) => given(path)?,
        None => Vec::new(),
    };
    let jpeg = taken(&inks, taking)?;
    std::fs::write(output, jpeg).map_err(|error| format!("{}: {error}", output.display()))
}

fn given(path: &Path) -> Result<Vec<Ink>, String> {
    let file = files::read_inks(&read_file(path, LONGEST)?)?;
    match file.wrong.first() {
        Some(wrong) => Err(wrong.clone()),
        None if file.inks.len() > PLACES => {
            Err(format!("{} inks: a frame has {PLACES} places", file.inks.len()))
        }
        None => Ok(file.inks),
    }
}

/// Takes a photo of a panel and writes it.
pub fn of_panel(
    output: &Path,
    panel: &Path,
    moves: Option<usize>,
    (wrong, stronger): (&[String], i32),
    taking: Taking,
) -> Result<(), String> {
    let panel: Panel = refusal::read(&read_file(panel, LONGEST)?, "the panel")?;
    let has = panel.moves.len();
    let moves = moves.unwrap_or(has);
    if moves > has {
        return Err(format!("{moves} moves: the panel has {has}"));
    }
    if !(-60..=100).contains(&stronger) {
        return Err(format!("{stronger} per cent stronger: give -60 to 100"));
    }
    let faults = wrong.iter().map(|word| word.parse::<Kind>()).collect::<Result<Vec<_>, _>>()?;
    let hands = panel::Hands { strength: 1.0 + f64::from(stronger) / 100.0, faults, desk: None };
    let mut chance = chance_of(taking)?;
    let laid = panel::lay(&panel, moves, &hands, &mut chance);
    if let Some(kind) = hands.faults.iter().find(|kind| laid.faults.iter().all(|fault| fault.kind != **kind))
    {
        return Err(format!("{kind}: this panel has no place where that could go wrong"));
    }
    let jpeg = shot_of(&laid.scene, taking, &mut chance);
    std::fs::write(output, jpeg).map_err(|error| format!("{}: {error}", output.display()))
}

fn chance_of(taking: Taking) -> Result<Chance, String> {
    if !(600..=4_000).contains(&taking.pixels) {
        return Err(format!("{} pixels: give 600 to 4000 along the longer side", taking.pixels));
    }
    Ok(Chance::of(taking.seed))
}

/// The photo, as JPEG.
pub fn taken(inks: &[Ink], taking: Taking) -> Result<Vec<u8>, String> {
    let mut chance = chance_of(taking)?;
    let letters: Vec<String> = inks.iter().map(letters_of).collect();
    let made: Vec<MadeInk> = match inks {
        [] => (0..12).map(|_| MadeInk::any(&mut chance)).collect(),
        inks => inks.iter().map(MadeInk::of).collect(),
    };
    let hands = Hands { chart: 0, touches: if taking.fingers { 0.1 } else { 0.0 } };
    let laid = lay(hands, &made, &letters, &mut chance);
    Ok(shot_of(&laid.scene, taking, &mut chance))
}

/// What lies on the table, taken.
fn shot_of(scene: &Scene, taking: Taking, chance: &mut Chance) -> Vec<u8> {
    let mut shot = Shot::any([taking.pixels * 3 / 4, taking.pixels], chance);
    if taking.well {
        shot = Shot {
            lean: [2.0, -1.0, 1.0],
            fall: (0.1, [0.6, 0.8]),
            light: Light::day(6_500.0),
            off: [0.0, 0.0],
            ..shot
        };
    }
    let place = [0, 1].map(|axis| scene.page.at[axis] + scene.page.size[axis] * chance.between(0.2, 0.75));
    if taking.glare {
        shot.glare.push((place, 14.0, 0.6));
    }
    if taking.shadow {
        shot.shadow = Some((place, [0.8, 0.6], 5.0, 0.3));
    }
    let phone = match taking.phone {
        Some(seed) => Phone::any(&mut Chance::of(seed)),
        None => Phone::any(chance),
    };
    photograph(scene, &phone, &shot, chance).jpeg
}
