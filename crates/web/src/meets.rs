//! What an ink makes with some of the drawer, for its own page: its nearest neighbours in lightness from different families.

use rosy_core::blend::meet;
use rosy_core::colour::Illuminant;
use rosy_core::ink::{Family, Ink, Paper, measured::bright_white};
use serde::Serialize;

/// Most meetings shown.
const SHOWN: usize = 6;

/// Two inks where they meet.
#[derive(Debug, Serialize)]
pub struct Meets {
    /// The other ink.
    pub with: String,
    /// Its colour on a screen.
    pub colour: String,
    /// The colour half way, on a screen.
    pub middle: String,
    /// What a maker would call that.
    pub named: String,
    /// Clean, dusky or muddy.
    pub verdict: &'static str,
}

/// What it makes with one ink of each of some families.
pub fn with_others(ink: &Ink, drawer: &[Ink], paper: Option<&Paper>) -> Vec<Meets> {
    let own = ink.lab();
    let mut others: Vec<(Family, &Ink)> =
        drawer.iter().filter(|other| other.name != ink.name).map(|other| (other.family(), other)).collect();
    others.sort_by(|(_, a), (_, b)| {
        (a.lab().l - own.l).abs().total_cmp(&(b.lab().l - own.l).abs()).then_with(|| a.name.cmp(&b.name))
    });
    let mut families: Vec<Family> = Vec::new();
    others.retain(|(family, _)| {
        let first = !families.contains(family);
        families.push(*family);
        first
    });
    let others: Vec<&Ink> = others.into_iter().take(SHOWN).map(|(_, other)| other).collect();
    meets(ink, &others, paper)
}

/// What an ink makes with each of some others.
fn meets(ink: &Ink, others: &[&Ink], paper: Option<&Paper>) -> Vec<Meets> {
    let light = Illuminant::D65;
    let card = paper.map_or_else(|| *bright_white(), Paper::reflectance);
    let own = (ink.film(), ink.lab());
    let meeting = |other: &&Ink| {
        let met = meet((&own.0, own.1), (&other.film(), other.lab()), &card, light);
        Meets {
            with: other.name.to_string(),
            colour: other.lab().on_screen(light).0.to_string(),
            middle: met.middle.on_screen(light).0.to_string(),
            named: met.named.to_string(),
            verdict: met.verdict.word(),
        }
    };
    others.iter().map(meeting).collect()
}

/// The meetings of an ink with the others of one family.
pub struct Threads {
    /// The family.
    pub family: &'static str,
    /// One for each of its inks, light to dark.
    pub with: Vec<Meets>,
}

/// What an ink makes with every other of a drawer, by family.
pub fn threads(ink: &Ink, drawer: &[Ink], paper: Option<&Paper>) -> Vec<Threads> {
    let mut others: Vec<&Ink> = drawer.iter().filter(|other| *other != ink).collect();
    others.sort_by(|a, b| a.family().cmp(&b.family()).then(b.lab().l.total_cmp(&a.lab().l)));
    let meets = meets(ink, &others, paper);
    let mut threads: Vec<Threads> = Vec::new();
    for (other, meets) in others.iter().zip(meets) {
        let family = other.family().words();
        match threads.last_mut().filter(|last| last.family == family) {
            Some(last) => last.with.push(meets),
            None => threads.push(Threads { family, with: vec![meets] }),
        }
    }
    threads
}
