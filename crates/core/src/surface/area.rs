//! Where have the same moves reached the card?
//!
//! Masks divide the panel into areas. Within one of them the same ink was laid everywhere, so that each is a surface of its
//! own, bounded by its region; what is known of whole surfaces holds for each.

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

impl Surface {
    /// The areas of this surface; together they tile the panel.
    pub fn areas(&self) -> Vec<Area> {
        if self.masks.is_empty() && self.coats.iter().all(|coat| coat.cover == 0) {
            return vec![Area { region: None, surface: self.clone(), is_covered: false }];
        }
        let mut areas: Vec<(Vec<bool>, bool, Vec<&Plot>)> = Vec::new();
        for plot in &self.materials.masks.plots {
            let reached = self.reached(plot);
            let is_covered = self.masks.iter().any(|mask| plot.is_covered(*mask));
            match areas.iter_mut().find(|(of, covered, _)| *of == reached && *covered == is_covered) {
                Some((.., plots)) => plots.push(plot),
                None => areas.push((reached, is_covered, vec![plot])),
            }
        }
        let area = |(reached, is_covered, plots): (Vec<bool>, bool, Vec<&Plot>)| {
            let region = Region::beside(plots.into_iter().map(|plot| plot.region.clone()));
            Area { surface: self.with_coats(&reached, &region), region: Some(region), is_covered }
        };
        areas.into_iter().map(area).collect()
    }

    /// Which of the coats have reached a plot.
    pub fn reached(&self, plot: &Plot) -> Vec<bool> {
        let is_open: Vec<bool> =
            self.covers.iter().map(|masks| !masks.iter().any(|mask| plot.is_covered(*mask))).collect();
        self.coats.iter().map(|coat| is_open[coat.cover]).collect()
    }

    /// The surface of a plot.
    pub fn of_plot(&self, plot: &Plot) -> Surface {
        self.with_coats(&self.reached(plot), &plot.region)
    }

    /// The same with only some of its coats, looked at where a region lies.
    fn with_coats(&self, reached: &[bool], region: &Region) -> Surface {
        let mut part = Surface { coats: Vec::new(), runs: Vec::new(), ways: Vec::new(), ..self.clone() };
        for (coat, _) in self.coats.iter().zip(reached).filter(|(_, reached)| **reached) {
            let run = part.ways.iter().position(|way| *way == self.ways[coat.run]).unwrap_or_else(|| {
                part.ways.push(self.ways[coat.run]);
                part.runs.push(self.runs[coat.run]);
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
