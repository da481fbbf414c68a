//! What does a maker's own light pass leave, by brush and card, as photos of her panels show it?
//!
//! Each panel that was held against its plan says how strong its inks came, and how even. That goes for the brush and the card it was
//! made with, and first for all of them together, just as her times do: with heavy tails, so that one odd panel hardly moves it. What a
//! phone does to colours is off the same way in every photo, so that many panels make a strength no surer than that.

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use super::estimate::{Estimate, Prior};
use crate::ink::Name;
use crate::say::capital;

/// How unlike makers' light passes are: standard deviations of logarithms, of their strength and of their unevenness (chosen).
const STRENGTHS: f64 = 0.28;
const EVENNESS: f64 = 0.4;
/// How much one brush and card differ from all of them together, the same way (chosen).
const UNLIKE: f64 = 0.15;
/// The part of a photo's doubt that is the phone's, and the same in all of them, as a share of its square (chosen: inks differ in what
/// a phone does to them).
const OF_PHONE: f64 = 0.5;
/// Nine tenths of a bell lie within so many of its standard deviations.
const NINE_TENTHS: f64 = 1.645;
/// What a hand can be, in percent of the guide's.
const LEAST: u16 = 25;
const MOST: u16 = 400;
/// Most hands of one maker.
const MOST_OWN: usize = 200;
/// Most panels that are remembered.
pub const MOST_SHOWINGS: usize = 400;

/// What a photo of a panel showed of the hand that laid it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Showing {
    /// The panel.
    pub panel: Name,
    /// The tool.
    pub tool: Name,
    /// The card.
    pub card: Name,
    /// How strong its light passes came, where that could be told.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub strength: Option<Came>,
    /// How uneven they are, as a share of what such a tool leaves on such a card, where that could be told.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub unevenness: Option<f64>,
}

/// How strong light passes came.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Came {
    /// As a share of the guide's.
    pub share: f64,
    /// By which factor that may be off either way, nine times in ten.
    pub within: f64,
}

impl Showing {
    /// Whether its figures are any that a photo shows.
    pub fn is_one(&self) -> bool {
        let is_share = |share: f64| (0.02..=50.0).contains(&share);
        self.strength.is_none_or(|came| is_share(came.share) && (1.0..=50.0).contains(&came.within))
            && self.unevenness.is_none_or(is_share)
    }
}

/// All that were remembered, the latest last.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(transparent)]
pub struct Showings(pub Vec<Showing>);

impl Showings {
    /// The same with one more; a panel that is shown again is told anew, but where it tells less than it did.
    #[must_use]
    pub fn with(self, showing: Showing) -> Showings {
        let knows_more = |known: &Showing| known.panel == showing.panel && known.strength.is_some();
        if showing.strength.is_none() && self.0.iter().any(knows_more) {
            return self;
        }
        let mut all = self.0;
        all.retain(|known| known.panel != showing.panel);
        all.push(showing);
        let over = all.len().saturating_sub(MOST_SHOWINGS);
        all.drain(..over);
        Showings(all)
    }
}

/// What a light pass of hers leaves, in percent of the guide's.
#[derive(Clone, Copy, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Hand {
    /// How much ink it lays.
    pub strength: u16,
    /// How uneven it lays it.
    pub unevenness: u16,
}

impl Default for Hand {
    fn default() -> Hand {
        Hand { strength: 100, unevenness: 100 }
    }
}

impl Hand {
    /// How much ink it lays, as a share of the guide's.
    pub fn strength(self) -> f64 {
        f64::from(self.strength) / 100.0
    }

    /// How uneven it lays it, as a share of the guide's.
    pub fn unevenness(self) -> f64 {
        f64::from(self.unevenness) / 100.0
    }
}

/// Her hand with a tool on a card, or with whatever is not named.
#[derive(Clone, Debug, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct OwnHand {
    /// The tool.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub tool: Option<Name>,
    /// The card.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub card: Option<Name>,
    /// What a light pass leaves.
    pub hand: Hand,
}

/// The hands that a maker plans with; where none fits, the guide's.
#[derive(Clone, Debug, Default, PartialEq, Eq, Serialize, Deserialize, JsonSchema)]
#[serde(transparent)]
pub struct Hands(pub Vec<OwnHand>);

/// Why a hand cannot be planned with, and what to change.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum HandError {
    /// Too many.
    #[error("{0} hands of one's own: keep at most {MOST_OWN}")]
    Many(usize),
    /// No hand.
    #[error(
        "a light pass of {strength} % strength and {unevenness} % unevenness: give {LEAST} to {MOST} % of the guide's for each"
    )]
    Figure {
        /// Of the guide's.
        strength: u16,
        /// Of the guide's.
        unevenness: u16,
    },
}

impl Hands {
    /// Whether all of it is the guide's.
    pub fn is_guides(&self) -> bool {
        self.0.is_empty()
    }

    /// Refuses what no hand does.
    ///
    /// # Errors
    /// A [`HandError`] with the remedy.
    pub fn check(&self) -> Result<(), HandError> {
        if self.0.len() > MOST_OWN {
            return Err(HandError::Many(self.0.len()));
        }
        let is_none = |own: &&OwnHand| {
            let Hand { strength, unevenness } = own.hand;
            [strength, unevenness].iter().any(|percent| !(LEAST..=MOST).contains(percent))
        };
        match self.0.iter().find(is_none) {
            Some(OwnHand { hand: Hand { strength, unevenness }, .. }) => {
                Err(HandError::Figure { strength: *strength, unevenness: *unevenness })
            }
            None => Ok(()),
        }
    }

    /// Her hand with a tool on a card: the narrowest that fits.
    ///
    /// ```
    /// # use rosy_core::learn::hand::{Hand, Hands, OwnHand};
    /// let [dome, smooth] = ["Soft dome", "Slack Water"].map(|name| name.parse().unwrap());
    /// let strong = Hand { strength: 125, unevenness: 90 };
    /// let own = OwnHand { tool: Some(dome), card: Some(smooth), hand: strong };
    /// let hands = Hands(vec![own.clone()]);
    /// let [tool, card] = [own.tool.unwrap(), own.card.unwrap()];
    /// assert_eq!(hands.of(&tool, &card), strong);
    /// // With another brush it is the guide's.
    /// assert_eq!(hands.of(&card, &card), Hand::default());
    /// ```
    pub fn of(&self, tool: &Name, card: &Name) -> Hand {
        let fits = |own: &&OwnHand| {
            own.tool.as_ref().is_none_or(|own| own == tool) && own.card.as_ref().is_none_or(|own| own == card)
        };
        let narrow = |own: &&OwnHand| (own.tool.is_some(), own.card.is_some());
        self.0.iter().filter(fits).max_by_key(narrow).map_or_else(Hand::default, |own| own.hand)
    }

    /// What she plans with for just this tool and card, or for all where none is named.
    pub fn has(&self, tool: Option<&Name>, card: Option<&Name>) -> Option<Hand> {
        self.0.iter().find(|own| own.is_of(tool, card)).map(|own| own.hand)
    }

    /// The same with a hand taken over.
    #[must_use]
    pub fn with(&self, learned: &LearnedHand) -> Hands {
        let mut hands = self.without(learned.tool.as_ref(), learned.card.as_ref());
        let (tool, card) = (learned.tool.clone(), learned.card.clone());
        hands.0.push(OwnHand { tool, card, hand: learned.hand() });
        hands
    }

    /// The same with a hand left to the guide again.
    #[must_use]
    pub fn without(&self, tool: Option<&Name>, card: Option<&Name>) -> Hands {
        Hands(self.0.iter().filter(|own| !own.is_of(tool, card)).cloned().collect())
    }
}

impl OwnHand {
    fn is_of(&self, tool: Option<&Name>, card: Option<&Name>) -> bool {
        (self.tool.as_ref(), self.card.as_ref()) == (tool, card)
    }
}

/// A figure of a hand, as a share of the guide's.
#[derive(Clone, Copy, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct Share {
    /// As likely more as less.
    pub share: f64,
    /// Nine times in ten it lies between these.
    pub least: f64,
    /// See `least`.
    pub most: f64,
}

/// A maker's hand as her panels have it.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct LearnedHand {
    /// With which tool; nothing for all of them together.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub tool: Option<Name>,
    /// On which card; nothing for all of them together.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub card: Option<Name>,
    /// How many panels were shown.
    pub panels: usize,
    /// How strong a light pass is; nothing where none of the photos could tell.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub strength: Option<Share>,
    /// How uneven; nothing where none of the photos could tell.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub unevenness: Option<Share>,
    /// Panels that lie so far off that they count for little.
    pub odd: Vec<Name>,
    /// Whether either is surely another than the guide's.
    pub differs: bool,
    /// All of it in a few sentences, with what would let be told what cannot.
    pub says: String,
}

/// A maker's hand: of all that she showed, then with each tool on each card where those differ.
pub fn hands_of(showings: &[Showing]) -> Vec<LearnedHand> {
    let all: Vec<&Showing> = showings.iter().collect();
    if all.is_empty() {
        return Vec::new();
    }
    let mut pairs: Vec<(&Name, &Name)> = all.iter().map(|one| (&one.tool, &one.card)).collect();
    pairs.sort();
    pairs.dedup();
    let prior = |wide: f64| Prior { middle: 0.0, wide };
    let (whole, known) = LearnedHand::of(None, &all, [prior(STRENGTHS), prior(EVENNESS)]);
    let mut found = vec![whole];
    // What all panels have in common says nothing of its own.
    if pairs.len() > 1 {
        for (tool, card) in pairs {
            let own: Vec<&Showing> =
                all.iter().filter(|one| (&one.tool, &one.card) == (tool, card)).copied().collect();
            found.push(LearnedHand::of(Some((tool, card)), &own, known).0);
        }
    }
    found
}

impl LearnedHand {
    /// What some panels say, and what is known by them of something narrower.
    fn of(
        whose: Option<(&Name, &Name)>,
        showings: &[&Showing],
        priors: [Prior; 2],
    ) -> (LearnedHand, [Prior; 2]) {
        let strengths: Vec<(Came, &Name)> =
            showings.iter().filter_map(|one| Some((one.strength?, &one.panel))).collect();
        let evenness: Vec<f64> = showings.iter().filter_map(|one| one.unevenness).collect();
        let [strength, uneven] = [
            Estimate::of(priors[0], &strengths.iter().map(|(came, _)| came.share).collect::<Vec<_>>()),
            Estimate::of(priors[1], &evenness),
        ];
        let narrower = [strength.narrower(UNLIKE), uneven.narrower(UNLIKE)];
        let mut doubts: Vec<f64> = strengths.iter().map(|(came, _)| came.within.ln() / NINE_TENTHS).collect();
        doubts.sort_by(f64::total_cmp);
        let of_phone = doubts.get(doubts.len() / 2).map_or(0.0, |doubt| OF_PHONE.sqrt() * doubt);
        let odd = strength.odd.iter().map(|at| strengths[*at].1.clone()).collect();
        let [strength, uneven] = [
            (!strengths.is_empty()).then(|| Share::of(&strength, of_phone)),
            (!evenness.is_empty()).then(|| Share::of(&uneven, 0.0)),
        ];
        let learned = LearnedHand {
            tool: whose.map(|(tool, _)| tool.clone()),
            card: whose.map(|(_, card)| card.clone()),
            panels: showings.len(),
            strength,
            unevenness: uneven,
            odd,
            differs: [strength, uneven].iter().flatten().any(Share::differs),
            says: String::new(),
        };
        (LearnedHand { says: learned.said(strengths.len()), ..learned }, narrower)
    }

    /// What plans go by where it is taken over; what is not told stays the guide's.
    pub fn hand(&self) -> Hand {
        let percent = |share: Option<Share>| {
            share.map_or(100, |share| (100.0 * share.share).round().clamp(LEAST.into(), MOST.into()) as u16)
        };
        Hand { strength: percent(self.strength), unevenness: percent(self.unevenness) }
    }

    fn said(&self, told: usize) -> String {
        let whose = match (&self.tool, &self.card) {
            (Some(tool), Some(card)) => format!("a light pass of yours with {tool} on {card}"),
            _ => "a light pass of yours".to_owned(),
        };
        let panels = |count: usize| if count == 1 { "1 panel".to_owned() } else { format!("{count} panels") };
        let mut says = match self.strength {
            Some(Share { share, least, most }) => format!(
                "{} lays {:.0} % of the guide's, between {:.0} and {:.0} %, by {}.",
                capital(&whose),
                100.0 * share,
                100.0 * least,
                100.0 * most,
                panels(told)
            ),
            None => format!(
                "How strong {whose} is cannot be told yet, by {} shown: read a photo of your swatches, so that your phone is known, and \
                 leave a white border or a tape line on the panel.",
                panels(self.panels)
            ),
        };
        if let Some(Share { share, least, most }) = self.unevenness {
            says += &format!(
                " It is {:.0} % as uneven as the guide's, between {:.0} and {:.0} %.",
                100.0 * share,
                100.0 * least,
                100.0 * most
            );
        }
        says
    }
}

impl Share {
    fn of(estimate: &Estimate, of_phone: f64) -> Share {
        let own = (estimate.most / estimate.least).ln() / (2.0 * NINE_TENTHS);
        let wide = (NINE_TENTHS * own.hypot(of_phone)).exp();
        Share { share: estimate.figure, least: estimate.figure / wide, most: estimate.figure * wide }
    }

    fn differs(&self) -> bool {
        !(self.least..=self.most).contains(&1.0)
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::water::drops::Chance;

    fn name(text: &str) -> Name {
        text.parse().unwrap()
    }

    fn showing(panel: usize, (tool, card): (&str, &str), share: f64) -> Showing {
        Showing {
            panel: name(&format!("Panel {panel}")),
            tool: name(tool),
            card: name(card),
            strength: Some(Came { share, within: 1.2 }),
            unevenness: Some(1.0),
        }
    }

    const DOME: (&str, &str) = ("Soft dome", "Slack Water");

    #[test]
    fn eight_panels_of_a_strong_hand_say_so_and_one_odd_panel_hardly_moves_it() {
        let mut chance = Chance::of(11, 1);
        for _ in 0..20 {
            let mut all: Vec<Showing> =
                (0..8).map(|n| showing(n, DOME, 1.25 * (0.08 * chance.bell()).exp())).collect();
            let plain = hands_of(&all)[0].strength.unwrap();
            assert!((plain.share / 1.25 - 1.0).abs() < 0.1, "{plain:?}");
            assert!(plain.least < 1.25 && 1.25 < plain.most);
            all.push(showing(8, DOME, 0.2));
            let moved = &hands_of(&all)[0];
            assert!((moved.strength.unwrap().share / plain.share).ln().abs() < 0.05);
            assert_eq!(moved.odd, [name("Panel 8")]);
        }
    }

    #[test]
    fn many_panels_are_no_surer_than_the_phone() {
        let of = |count: usize| {
            let all: Vec<Showing> = (0..count).map(|n| showing(n, DOME, 1.0)).collect();
            let Share { least, most, .. } = hands_of(&all)[0].strength.unwrap();
            (most / least).ln() / 2.0
        };
        assert!(of(30) < of(8) && of(8) < of(2));
        assert!(of(300) > 0.69 * 1.2_f64.ln());
    }

    #[test]
    fn a_brush_and_card_are_told_by_themselves_where_there_are_others() {
        let other = ("Wide dome", "Slack Water");
        let mut all: Vec<Showing> = (0..6).map(|n| showing(n, DOME, 1.3)).collect();
        assert_eq!(hands_of(&all).len(), 1);
        all.extend((6..12).map(|n| showing(n, other, 0.8)));
        let found = hands_of(&all);
        assert_eq!(found.len(), 3);
        let of = |tool: &str| found.iter().find(|one| one.tool == Some(name(tool))).unwrap();
        let [dome, wide] = ["Soft dome", "Wide dome"].map(|tool| of(tool).strength.unwrap().share);
        assert!(dome > 1.15 && wide < 0.92, "{dome} {wide}");
        // Taken over, each brush is planned with its own, and another with that of all.
        let hands = found.iter().fold(Hands::default(), |hands, one| hands.with(one));
        hands.check().unwrap();
        assert_eq!(hands.of(&name("Soft dome"), &name("Slack Water")), of("Soft dome").hand());
        assert_eq!(hands.of(&name("Dauber"), &name("Slack Water")), found[0].hand());
        let hands = hands.without(Some(&name("Soft dome")), Some(&name("Slack Water")));
        assert_eq!(hands.of(&name("Soft dome"), &name("Slack Water")), found[0].hand());
    }

    #[test]
    fn where_no_photo_could_tell_it_says_what_would() {
        let all = [Showing { strength: None, unevenness: None, ..showing(1, DOME, 1.0) }];
        let found = &hands_of(&all)[0];
        assert_eq!((found.strength, found.differs, found.hand()), (None, false, Hand::default()));
        assert!(
            found.says.contains("cannot be told") && found.says.contains("white border"),
            "{}",
            found.says
        );
        assert!(hands_of(&[]).is_empty());
    }

    #[test]
    fn a_panel_shown_again_is_told_anew_and_the_oldest_are_forgotten() {
        let all = (0..MOST_SHOWINGS + 5).fold(Showings::default(), |all, n| all.with(showing(n, DOME, 1.0)));
        assert_eq!((all.0.len(), &all.0[0].panel), (MOST_SHOWINGS, &name("Panel 5")));
        let all = all.with(showing(9, DOME, 2.0));
        assert_eq!(all.0.len(), MOST_SHOWINGS);
        let last = |all: &Showings| all.0.last().and_then(|one| one.strength).map(|came| came.share);
        assert_eq!(last(&all), Some(2.0));
        // By a phone that is not known.
        let all = all.with(Showing { strength: None, ..showing(9, DOME, 1.0) });
        assert_eq!(last(&all), Some(2.0));
    }

    #[test]
    fn what_is_no_hand_is_refused() {
        let of = |strength| {
            Hands(vec![OwnHand { tool: None, card: None, hand: Hand { strength, unevenness: 100 } }])
        };
        assert!(of(100).check().is_ok() && Hands::default().check().is_ok());
        assert!(of(0).check().unwrap_err().to_string().contains("25 to 400 %"));
        let many = Hands(vec![of(100).0[0].clone(); MOST_OWN + 1]);
        assert_eq!(many.check(), Err(HandError::Many(MOST_OWN + 1)));
        assert!(!Showing { unevenness: Some(f64::NAN), ..showing(1, DOME, 1.0) }.is_one());
    }
}
