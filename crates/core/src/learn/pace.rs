//! Which figures does a maker plan with: the field guide's, or her own where she has taken them over?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::figure::Figure;
use super::learned::{By, LONGEST, Learned};
use crate::ink::Name;

/// Most figures of one maker's.
const MOST_OWN: usize = 400;

/// A figure of the maker's own, in place of the guide's.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Own {
    /// Which.
    pub figure: Figure,
    /// Of what it is.
    pub by: By,
    /// The ink, card, tool or room; nothing for all of them together.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub of: Option<Name>,
    /// In seconds: as likely more as less.
    pub seconds: u32,
    /// In seconds; nine times in ten it lies between these.
    pub least: u32,
    /// See `least`.
    pub most: u32,
}

/// The figures that a maker plans with: her own, and for all else the guide's.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(transparent)]
pub struct Pace(pub Vec<Own>);

/// With what something is done, where that is known.
#[derive(Clone, Copy, Debug, Default)]
pub struct With<'a> {
    /// The ink.
    pub ink: Option<&'a Name>,
    /// The card.
    pub card: Option<&'a Name>,
    /// The tool.
    pub tool: Option<&'a Name>,
}

/// Why figures cannot be planned with, and what to change.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum PaceError {
    /// Too many.
    #[error("{0} figures of one's own: keep at most {MOST_OWN}")]
    Many(usize),
    /// No figure.
    #[error(
        "the figure of {0} is {1} to {3} seconds, {2} in the middle: give times in order, of 1 second to a week"
    )]
    Figure(&'static str, u32, u32, u32),
}

impl Pace {
    /// Whether all of it is the guide's.
    pub fn is_guides(&self) -> bool {
        self.0.is_empty()
    }

    /// Refuses what is no figure.
    ///
    /// # Errors
    /// A [`PaceError`] with the remedy.
    pub fn check(&self) -> Result<(), PaceError> {
        if self.0.len() > MOST_OWN {
            return Err(PaceError::Many(self.0.len()));
        }
        let is_figure = |own: &&Own| {
            1 <= own.least
                && own.least <= own.seconds
                && own.seconds <= own.most
                && f64::from(own.most) <= LONGEST
        };
        match self.0.iter().find(|own| !is_figure(own)) {
            Some(own) => Err(PaceError::Figure(own.figure.words(), own.least, own.seconds, own.most)),
            None => Ok(()),
        }
    }

    /// Whether a figure is planned with.
    pub fn has(&self, figure: Figure, by: By, of: Option<&Name>) -> bool {
        self.0.iter().any(|own| own.is(figure, by, of))
    }

    /// The same with a figure taken over; of the same the last one counts.
    #[must_use]
    pub fn with(&self, learned: &Learned) -> Pace {
        let Learned { figure, by, of, .. } = learned;
        let whole = |seconds: f64| seconds.round().clamp(1.0, LONGEST) as u32;
        let mut pace = self.without(*figure, *by, of.as_ref());
        pace.0.push(Own {
            figure: *figure,
            by: *by,
            of: of.clone(),
            seconds: whole(learned.seconds),
            least: whole(learned.least),
            most: whole(learned.most),
        });
        pace
    }

    /// The same with a figure left to the guide again.
    #[must_use]
    pub fn without(&self, figure: Figure, by: By, of: Option<&Name>) -> Pace {
        Pace(self.0.iter().filter(|own| !own.is(figure, by, of)).cloned().collect())
    }

    /// The maker's own figure for something, where there is one: the narrowest that fits.
    fn find(&self, figure: Figure, with: With) -> Option<&Own> {
        let fits = |own: &&Own| {
            own.figure == figure
                && match own.by {
                    By::All => true,
                    By::Ink => with.ink.is_some() && own.of.as_ref() == with.ink,
                    By::Card => with.card.is_some() && own.of.as_ref() == with.card,
                    By::Tool => with.tool.is_some() && own.of.as_ref() == with.tool,
                    // See [`Pace::in_room`].
                    By::Room => false,
                }
        };
        let narrow = |own: &&Own| match own.by {
            By::All | By::Room => 0,
            By::Card => 1,
            By::Tool => 2,
            By::Ink => 3,
        };
        self.0.iter().filter(fits).max_by_key(narrow)
    }

    /// The same for work in one room, or in one that is not known: what was learned of that room goes for all of it.
    #[must_use]
    pub fn in_room(&self, room: Option<&Name>) -> Pace {
        let is_of_room = |own: &&Own| own.by == By::Room && room.is_some() && own.of.as_ref() == room;
        let of_room: Vec<Own> = self
            .0
            .iter()
            .filter(is_of_room)
            .map(|own| Own { by: By::All, of: None, ..own.clone() })
            .collect();
        let is_other = |own: &&Own| match own.by {
            By::Room => false,
            By::All => of_room.iter().all(|room| room.figure != own.figure),
            _ => true,
        };
        let others: Vec<Own> = self.0.iter().filter(is_other).cloned().collect();
        Pace(others.into_iter().chain(of_room).collect())
    }

    /// Seconds of something that hands do.
    pub fn seconds(&self, figure: Figure, with: With) -> u32 {
        self.find(figure, with).map_or(figure.guide().round() as u32, |own| own.seconds)
    }

    /// Seconds that something takes to dry, least and most, in fives.
    pub fn dries_in(&self, figure: Figure, with: With) -> (u32, u32) {
        let (least, most) = figure.guide_minutes();
        let own = self.find(figure, with);
        own.map_or((60 * least, 60 * most), |own| (own.least / 5 * 5, own.most.div_ceil(5) * 5))
    }
}

impl Own {
    fn is(&self, figure: Figure, by: By, of: Option<&Name>) -> bool {
        self.figure == figure && self.by == by && self.of.as_ref() == of
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::ink::{Kind, measured};

    fn name(text: &str) -> Name {
        text.parse().unwrap()
    }

    fn learned(figure: Figure, (by, of): (By, Option<&str>), seconds: f64) -> Learned {
        Learned {
            figure,
            by,
            of: of.map(name),
            logs: 5,
            guide: figure.guide(),
            seconds,
            least: 0.8 * seconds,
            most: 1.3 * seconds,
            odd: Vec::new(),
            differs: true,
            says: String::new(),
        }
    }

    #[test]
    fn with_nothing_taken_over_it_is_the_guides() {
        let pace = Pace::default();
        assert_eq!(pace.seconds(Figure::LightPass, With::default()), measured::SECONDS_A_VEIL);
        assert_eq!(pace.seconds(Figure::Heat, With::default()), measured::SECONDS_OF_HEAT);
        for kind in [Kind::Dye, Kind::Oxide, Kind::Pigment] {
            let (least, most) = measured::touch_dry_minutes(kind);
            assert_eq!(pace.dries_in(Figure::drying(kind), With::default()), (60 * least, 60 * most));
        }
    }

    #[test]
    fn the_narrowest_figure_that_fits_is_planned_with() {
        let (ink, card) = (name("Wind Sock"), name("Slack Water"));
        let pace = Pace::default()
            .with(&learned(Figure::OxideDries, (By::All, None), 300.0))
            .with(&learned(Figure::OxideDries, (By::Card, Some("Slack Water")), 420.0))
            .with(&learned(Figure::OxideDries, (By::Ink, Some("Wind Sock")), 600.0));
        let dries = |with| pace.dries_in(Figure::OxideDries, with);
        assert_eq!(dries(With::default()), (240, 390));
        assert_eq!(dries(With { card: Some(&card), ..With::default() }), (335, 550));
        assert_eq!(dries(With { ink: Some(&ink), card: Some(&card), tool: None }), (480, 780));
        let (least, most) = measured::touch_dry_minutes(Kind::Dye);
        assert_eq!(pace.dries_in(Figure::DyeDries, With::default()), (60 * least, 60 * most));
        pace.check().unwrap();
        // Taken over once more, the last counts; left again, the next broader does.
        let pace = pace.with(&learned(Figure::OxideDries, (By::Ink, Some("Wind Sock")), 900.0));
        assert_eq!(
            (pace.0.len(), pace.dries_in(Figure::OxideDries, With { ink: Some(&ink), ..With::default() })),
            (3, (720, 1170))
        );
        let pace = pace.without(Figure::OxideDries, By::Ink, Some(&ink));
        assert_eq!(
            pace.dries_in(Figure::OxideDries, With { ink: Some(&ink), ..With::default() }),
            (240, 390)
        );
    }

    #[test]
    fn what_was_learned_of_a_room_goes_for_all_that_is_done_there() {
        let (hut, shed) = (name("tea hut"), name("net shed"));
        let pace = Pace::default()
            .with(&learned(Figure::OxideDries, (By::All, None), 300.0))
            .with(&learned(Figure::OxideDries, (By::Room, Some("tea hut")), 600.0))
            .with(&learned(Figure::OxideDries, (By::Ink, Some("Wind Sock")), 900.0));
        let dries = |room: Option<&Name>| pace.in_room(room).dries_in(Figure::OxideDries, With::default());
        assert_eq!(dries(Some(&hut)), (480, 780));
        assert_eq!((dries(Some(&shed)), dries(None)), ((240, 390), (240, 390)));
        // An ink of one's own is narrower than a room.
        let ink = name("Wind Sock");
        let with = With { ink: Some(&ink), ..With::default() };
        assert_eq!(pace.in_room(Some(&hut)).dries_in(Figure::OxideDries, with), (720, 1170));
        pace.in_room(Some(&hut)).check().unwrap();
    }

    #[test]
    fn what_is_no_figure_is_refused() {
        let own = Own { figure: Figure::Wipe, by: By::All, of: None, seconds: 30, least: 20, most: 40 };
        Pace(vec![own.clone()]).check().unwrap();
        for wrong in [
            Own { least: 0, ..own.clone() },
            Own { seconds: 50, ..own.clone() },
            Own { most: 700_000, ..own.clone() },
        ] {
            assert!(Pace(vec![wrong]).check().unwrap_err().to_string().contains("wipe of the brush"));
        }
        assert!(Pace(vec![own; 401]).check().is_err());
    }
}
