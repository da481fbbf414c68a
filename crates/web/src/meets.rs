//! What an ink makes with some of the drawer, for its own page: its nearest neighbours in lightness from different families.

use rosy_core::blend::meet;
use rosy_core::colour::Illuminant;
use rosy_core::ink::{Ink, Paper, measured::bright_white};
use serde::Serialize;

/// Most meetings shown.
const SHOWN: usize = 6;

/// Two inks where they meet.
#[derive(Debug, Serialize)]
pub struct Meets {
    /// The other ink.
    with: String,
    /// Its colour on a screen.
    colour: String,
    /// The colour half way, on a screen.
    middle: String,
    /// What a maker would call that.
    named: String,
    /// Clean, dusky or muddy.
    verdict: &'static str,
}

/// What it makes with one ink of each of some families.
pub fn with_others(ink: &Ink, drawer: &[Ink], paper: Option<&Paper>) -> Vec<Meets> {
    let light = Illuminant::D65;
    let card = paper.map_or_else(|| *bright_white(), Paper::reflectance);
    let own = (ink.film(), ink.lab());
    let mut others: Vec<(&'static str, &Ink)> =
        drawer.iter().filter(|other| other.name != ink.name).map(|other| (other.family(), other)).collect();
    others.sort_by(|(_, a), (_, b)| {
        (a.lab().l - own.1.l).abs().total_cmp(&(b.lab().l - own.1.l).abs()).then_with(|| a.name.cmp(&b.name))
    });
    let mut families: Vec<&str> = Vec::new();
    others.retain(|(family, _)| {
        let first = !families.contains(family);
        families.push(family);
        first
    });
    let meeting = |other: &Ink| {
        let met = meet((&own.0, own.1), (&other.film(), other.lab()), &card, light);
        Meets {
            with: other.name.to_string(),
            colour: other.lab().on_screen(light).0.to_string(),
            middle: met.middle.on_screen(light).0.to_string(),
            named: met.named.to_string(),
            verdict: met.verdict.word(),
        }
    };
    others.into_iter().take(SHOWN).map(|(_, other)| meeting(other)).collect()
}
