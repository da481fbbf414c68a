//! `rosy-veil photograph`: a photo of a swatch frame, taken by the simulated camera.

use std::path::Path;

use rosy_camera::chance::Chance;
use rosy_camera::hand::{Hands, MadeInk, lay};
use rosy_camera::light::Light;
use rosy_camera::phone::Phone;
use rosy_camera::shot::{Shot, photograph};
use rosy_core::ink::Ink;
use rosy_eye::frame::{PLACES, letters_of};

use super::streams::read_file;
use crate::files;

/// Longest file of inks, in bytes.
const LONGEST: u64 = 2 << 20;

/// How it is taken.
#[derive(Clone, Copy, Debug)]
pub struct Taking {
    /// What everything is drawn from.
    pub seed: u64,
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

/// The photo, as JPEG.
pub fn taken(inks: &[Ink], taking: Taking) -> Result<Vec<u8>, String> {
    if !(600..=4_000).contains(&taking.pixels) {
        return Err(format!("{} pixels: give 600 to 4000 along the longer side", taking.pixels));
    }
    let mut chance = Chance::of(taking.seed);
    let letters: Vec<String> = inks.iter().map(letters_of).collect();
    let made: Vec<MadeInk> = match inks {
        [] => (0..12).map(|_| MadeInk::any(&mut chance)).collect(),
        inks => inks.iter().map(MadeInk::of).collect(),
    };
    let hands = Hands { chart: 0, touches: if taking.fingers { 0.1 } else { 0.0 } };
    let laid = lay(hands, &made, &letters, &mut chance);
    let mut shot = Shot::any([taking.pixels * 3 / 4, taking.pixels], &mut chance);
    if taking.well {
        shot = Shot {
            lean: [2.0, -1.0, 1.0],
            fall: (0.1, [0.6, 0.8]),
            light: Light::day(6_500.0),
            off: [0.0, 0.0],
            ..shot
        };
    }
    let place = [chance.between(30.0, 150.0), chance.between(50.0, 190.0)];
    if taking.glare {
        shot.glare.push((place, 14.0, 0.6));
    }
    if taking.shadow {
        shot.shadow = Some((place, [0.8, 0.6], 5.0, 0.3));
    }
    let phone = Phone::any(&mut chance);
    Ok(photograph(&laid.scene, &phone, &shot, &mut chance).jpeg)
}
