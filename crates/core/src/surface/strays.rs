//! Where does powder stray to, and which later ink comes to stand on what is melted?

use super::embossing::{Hard, Seal, Wiped};
use super::masks::Plot;
use super::standing::Surface;

impl Surface {
    /// Wipes an anti-static bag over all that no mask covers.
    pub fn wipe_over(&mut self) {
        let (masks, coats, films) = (self.masks.clone(), self.coats.len(), self.films.len());
        self.embossing.wiped = Some(Wiped { masks, coats, films });
    }

    /// Whether no powder strays on what lies round a thing: the bag has been over all of it, and nothing has been laid there since.
    /// On the thing itself powder is to hold.
    pub fn is_wiped_round(&self, thing: usize) -> bool {
        let Some(wiped) = &self.embossing.wiped else { return false };
        let is_wiped = |plot: &Plot| {
            let reached = self.reached(plot);
            let since = reached.coats.iter().skip(wiped.coats).chain(reached.films.iter().skip(wiped.films));
            !wiped.masks.iter().any(|mask| plot.is_covered(*mask))
                && !since.into_iter().any(|reached| *reached)
        };
        self.materials.masks.plots.iter().filter(|plot| !plot.is_inside(thing)).all(is_wiped)
    }

    /// Whether what is laid on a thing, or on the ground, goes over melted powder.
    pub fn goes_over_powder(&self, on: Option<usize>) -> bool {
        self.materials.masks.plots.iter().any(|plot| {
            matches!(self.embossing.over(plot), Some(Seal { of: Hard::Powder(_), .. }))
                && on.is_none_or(|thing| plot.is_inside(thing))
                && !self.masks.iter().any(|mask| plot.is_covered(*mask))
        })
    }
}
