//! Where have the same moves reached the card?
//!
//! Masks divide the panel into areas. Within one of them the same ink was laid everywhere, so that each is a surface of its
//! own, bounded by its region; what is known of whole surfaces holds for each.

use super::embossing::Seal;
use super::film::WetFilm;
use super::harm::{Harm, What};
use super::masks::Plot;
use super::standing::Surface;
use crate::shape::Region;

/// A part of a card that the same moves have reached.
#[derive(Clone, Debug)]
pub struct Area {
    /// Where it lies; nothing where it is the whole panel.
    pub region: Option<Region>,
    /// The card there.
    pub surface: Surface,
    /// Whether a mask lies on it now.
    pub is_covered: bool,
}

/// The coats and films that have reached a plot.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Reached {
    /// Whether each of the coats has.
    pub coats: Vec<bool>,
    /// Whether each of the films has.
    pub films: Vec<bool>,
    /// Whether it stands up from the card.
    pub is_raised: bool,
}

/// What makes plots one area: what has reached them, whether a mask lies on them, and what they are sealed under.
type Alike = (Reached, bool, Option<Seal>);

fn add(areas: &mut Vec<(Alike, Vec<Region>)>, alike: Alike, region: Region) {
    match areas.iter_mut().find(|(of, _)| *of == alike) {
        Some((_, regions)) => regions.push(region),
        None => areas.push((alike, vec![region])),
    }
}

impl Harm {
    /// What becomes of a part of the card.
    fn done_to(&self, (reached, is_covered, under): &Alike) -> Alike {
        let with = |coats: &[usize], is_there: bool| {
            let mut reached = reached.clone();
            coats.iter().for_each(|coat| reached.coats[*coat] = is_there);
            (reached, *is_covered, *under)
        };
        match &self.what {
            What::Gone(coats) => with(coats, false),
            What::Come(coats) => with(coats, true),
            What::Sealed(powder) => (reached.clone(), *is_covered, under.or(Some(Seal::powder(*powder)))),
        }
    }
}

impl Surface {
    /// The areas of this surface; together they tile the panel.
    pub fn areas(&self) -> Vec<Area> {
        let is_cut = self.materials.masks.outline.is_some();
        let is_whole = self.masks.is_empty()
            && self.embossing.sealed.is_empty()
            && self.harms.is_empty()
            && self.raised.is_empty()
            && self.coats.iter().all(|coat| coat.skims.is_none())
            && !is_cut;
        let is_open =
            self.coats.iter().all(|coat| coat.cover == 0) && self.films.iter().all(|film| film.cover == 0);
        if is_whole && is_open {
            return vec![Area { region: None, surface: self.clone(), is_covered: false }];
        }
        let mut areas: Vec<(Alike, Vec<Region>)> = Vec::new();
        for plot in &self.materials.masks.plots {
            let is_covered = self.masks.iter().any(|mask| plot.is_covered(*mask));
            add(&mut areas, (self.reached(plot), is_covered, self.embossing.over(plot)), plot.region.clone());
        }
        if areas.is_empty() {
            let (width, height) = self.materials.size_mm();
            let all = Reached {
                coats: vec![true; self.coats.len()],
                films: vec![true; self.films.len()],
                is_raised: false,
            };
            add(&mut areas, (all, false, None), Region::rect(0.0, 0.0, width, height));
        }
        for harm in &self.harms {
            for (alike, regions) in std::mem::take(&mut areas) {
                for region in regions {
                    let hurt = region.intersected(&harm.region);
                    if !hurt.is_empty() {
                        add(&mut areas, harm.done_to(&alike), hurt);
                        add(&mut areas, alike.clone(), region.minus(&harm.region));
                    } else {
                        add(&mut areas, alike.clone(), region);
                    }
                }
            }
        }
        let area = |((reached, is_covered, under), regions): (Alike, Vec<Region>)| {
            let region = Region::beside(regions);
            let surface = Surface { under, ..self.with_coats(&reached, &region) };
            Area { surface, region: Some(region), is_covered }
        };
        areas.into_iter().map(area).collect()
    }

    /// Which of the coats and films have reached a plot.
    pub fn reached(&self, plot: &Plot) -> Reached {
        let is_open: Vec<bool> =
            self.covers.iter().map(|masks| !masks.iter().any(|mask| plot.is_covered(*mask))).collect();
        let is_bare =
            |sealed: usize| !self.embossing.sealed[..sealed].iter().any(|sealed| sealed.holds(plot));
        let reaches = |coat: &super::Coat| {
            is_open[coat.cover]
                && is_bare(coat.sealed)
                && coat.skims.is_none_or(|thing| plot.is_inside(thing))
        };
        Reached {
            coats: self.coats.iter().map(reaches).collect(),
            is_raised: self.raised.iter().any(|thing| plot.is_inside(*thing)),
            films: self.films.iter().map(|film| is_open[film.cover] && is_bare(film.sealed)).collect(),
        }
    }

    /// The surface of a plot.
    pub fn of_plot(&self, plot: &Plot) -> Surface {
        Surface { under: self.embossing.over(plot), ..self.with_coats(&self.reached(plot), &plot.region) }
    }

    /// The same with only some of its coats and films, looked at where a region lies.
    fn with_coats(&self, reached: &Reached, region: &Region) -> Surface {
        let mut part = Surface {
            coats: Vec::new(),
            films: Vec::new(),
            runs: Vec::new(),
            ways: Vec::new(),
            stands_up: reached.is_raised,
            ..self.clone()
        };
        for (film, _) in self.films.iter().zip(&reached.films).filter(|(_, reached)| **reached) {
            let above = reached.coats[..film.above].iter().filter(|reached| **reached).count();
            part.films.push(WetFilm { above, ..film.clone() });
        }
        for (coat, _) in self.coats.iter().zip(&reached.coats).filter(|(_, reached)| **reached) {
            let run = part.ways.iter().position(|way| *way == self.ways[coat.run]).unwrap_or_else(|| {
                part.ways.push(self.ways[coat.run]);
                part.runs.push(self.runs[coat.run].clone());
                part.ways.len() - 1
            });
            part.coats.push(coat.clone().along_run(run));
        }
        if let Some((least, most)) = region.bounds() {
            part.window = ((least[0], least[1]), (most[0] - least[0], most[1] - least[1]));
        }
        part
    }
}
