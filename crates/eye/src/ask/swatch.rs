//! What does a photo of swatches say of the inks on it?

use rosy_core::colour::{Colour, Illuminant, Lab, Spectrum};
use rosy_core::ink::drawer::ON_INK;
use rosy_core::ink::measured::{BRIGHT_WHITE, TRAPPING};
use rosy_core::ink::{Ink, Kind};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::frame::{PLACES, Part, letters_of};
use crate::over::{Lies, OverSeen, Taken, together};
use crate::phone::{NoPhone, Phone};
use crate::picture::Picture;
use crate::swatch::{
    self, Before, Beside, Chart, Layout, OverShown, Shown, StripSeen, SwatchError, SwatchesSeen,
};
use crate::telling;

/// What a photo of swatches says of the inks on it.
#[derive(Clone, Debug, Default, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct SwatchAsked {
    /// The photo, in base64: JPEG, PNG, WebP or GIF.
    #[serde(default)]
    pub picture: String,
    /// The colour of the bare card; bright white where it is not told.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub card: Option<Colour>,
    /// The outer corners of the swatch frame in the photo, in pixels: left and right above, left and right below. They are found
    /// by its marks where they are not told.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub corners: Option<[[f64; 2]; 4]>,
    /// Where bare card and patches are, for swatches that lie on no frame.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub shown: Option<ShownByHand>,
    /// The inks there are: those on the frame are found among them by what its marks tell. What is known of their colours is
    /// believed to about 5 (ΔE00), and tells what the phone does; where a phone is given, only those do whose spectrum was measured,
    /// since the others may have been read by it.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub drawer: Vec<Ink>,
    /// The inks at places of the frame, by name, where its marks do not tell them, or tell others.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub inks: Vec<Placed>,
    /// A chart of known colours beside them.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub chart: Option<ChartGiven>,
    /// Patches of one ink over the full swatch of another, wherever they are in the photo.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub over: Vec<OverGiven>,
    /// What was found of this phone before.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub phone: Option<Phone>,
}

/// An ink at a place of the frame.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct Placed {
    /// The place, 1 to 24: down the left column, then down the right.
    pub place: usize,
    /// What is on its lid.
    pub name: String,
    /// Its kind, where the drawer has not got it.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub kind: Option<Kind>,
}

/// Places in the photo that were shown, in pixels from its left upper corner.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct ShownByHand {
    /// Bare card, at four places or more all about the patches.
    pub card: Vec<[f64; 2]>,
    /// The patches.
    pub patches: Vec<PatchShown>,
    /// How far about each of these it is even, in pixels.
    pub reach: f64,
}

/// A patch that was shown.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct PatchShown {
    /// What is on its lid.
    pub ink: String,
    /// What was laid: one, two, four or full.
    pub part: Part,
    /// Where.
    pub at: [f64; 2],
}

/// A patch of one ink over another that is shown.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct OverGiven {
    /// What is on the lid of the ink that lies above.
    pub ink: String,
    /// The ink whose full swatch it lies on.
    pub over: String,
    /// What was laid of it: one, two, four or full.
    pub part: Part,
    /// Where, and how far about it is even, in pixels.
    pub at: [f64; 2],
    /// See `at`.
    pub reach: f64,
}

/// What a photo of swatches says.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct SwatchAnswer {
    /// What was seen.
    #[serde(flatten)]
    pub seen: SwatchesSeen,
    /// What came of it, in a sentence or two.
    pub says: String,
    /// What would make the next photo say more.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub better: Option<String>,
    /// The patches of one ink over another.
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub over: Vec<OverSeen>,
    /// How much the maker's inks take on one another, where enough patches tell it: hundredths of what bare card takes.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub on_ink: Option<u8>,
}

/// A chart of known colours.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
#[serde(deny_unknown_fields)]
pub struct ChartGiven {
    /// The middles of its four corner patches in the photo, in pixels: left and right above, left and right below.
    pub corners: [[f64; 2]; 4],
    /// Patches to a row.
    pub columns: usize,
    /// Their colours, row by row.
    pub colours: Vec<Colour>,
}

/// Why a photo of swatches says nothing, and what to change.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum AskError {
    /// It cannot be read.
    #[error(transparent)]
    Swatch(#[from] SwatchError),
    /// A colour is none.
    #[error("{0}")]
    Colour(String),
    /// A place there is not.
    #[error("place {0}: a frame has places 1 to {PLACES}")]
    Place(usize),
    /// A chart of another shape.
    #[error(
        "a chart of {count} colours in rows of {columns}: it takes whole rows, at least 2 of at least 2, and at most 200 colours"
    )]
    Chart {
        /// How many.
        count: usize,
        /// Patches to a row.
        columns: usize,
    },
    /// Too much shown.
    #[error("{0} patches and bare places were shown: show at most 500")]
    Shown(usize),
    /// Nothing laid.
    #[error("a patch of {0} is shown as bare card: what was laid on a patch is one, two, four or full")]
    Bare(String),
    /// No size.
    #[error("reach: {0} pixels about a place cannot be looked at: give 3 to 500")]
    Reach(f64),
    /// An ink that is not known.
    #[error(
        "a patch of {ink} over {over} is shown, and {missing} is neither in the photo nor in the drawer: show its swatch as well"
    )]
    Unknown {
        /// The ink above.
        ink: String,
        /// The ink beneath.
        over: String,
        /// The one that is not known.
        missing: String,
    },
    /// No phone.
    #[error("phone: {0}")]
    Phone(#[from] NoPhone),
}

impl SwatchAsked {
    /// Reads the photo.
    ///
    /// # Errors
    /// An [`AskError`] with the remedy.
    pub fn answer(&self, picture: Picture) -> Result<SwatchAnswer, AskError> {
        let (picture, factor) = picture.as_read();
        let factor = factor as f64;
        let (layout, inks) = self.layout(factor)?;
        let phone = self.phone.clone().unwrap_or_else(Phone::usual);
        phone.check()?;
        let by_letters = |letters: &str| {
            self.drawer.iter().find(|ink| letters_of(ink) == letters).map(|ink| self.before(ink))
        };
        let beside = Beside {
            card: lab_of(self.card.as_ref())?,
            phone,
            inks,
            chart: self.chart(factor)?,
            by_letters: &by_letters,
            over: self.over_shown(factor)?,
        };
        let mut seen = swatch::read(&picture, &layout, &beside)?;
        for strip in &mut seen.strips {
            strip.name = self.name_at(strip.place, strip.letters.as_deref());
        }
        let mut seen = seen.larger(factor);
        let (over, on_ink) = self.over_seen(&mut seen, beside.card)?;
        for strip in &mut seen.strips {
            let before = self.before_by_name(strip.name.as_deref());
            strip.says = telling::of_strip(strip, before);
        }
        let says = telling::of_all(&seen, &over);
        let better = telling::better(&seen, self.phone.is_some()).map(str::to_owned);
        Ok(SwatchAnswer { seen, says, better, over, on_ink })
    }

    /// An ink of the drawer.
    fn before_by_name(&self, name: Option<&str>) -> Option<&Ink> {
        self.drawer.iter().find(|ink| name.is_some_and(|name| ink.name.as_str().eq_ignore_ascii_case(name)))
    }

    fn over_shown(&self, factor: f64) -> Result<Vec<OverShown>, AskError> {
        if self.over.len() > MOST_SHOWN {
            return Err(AskError::Shown(self.over.len()));
        }
        let shown = self.over.iter().map(|given| {
            check_patch(&given.ink, given.part)?;
            check_reach(given.reach)?;
            let at = given.at.map(|along| along / factor);
            Ok(OverShown { part: given.part, at, reach: (given.reach / factor).max(2.0) })
        });
        shown.collect()
    }

    /// What the patches of one ink over another say, each and together; the inks that were read are given what it says of them.
    fn over_seen(&self, seen: &mut SwatchesSeen, card: Lab) -> Result<(Vec<OverSeen>, Option<u8>), AskError> {
        let bare = Spectrum::of(card, Illuminant::D65);
        let ink_called = |name: &str| {
            let before = self.before_by_name(Some(name));
            let is_it =
                |strip: &&StripSeen| strip.name.as_deref().is_some_and(|own| own.eq_ignore_ascii_case(name));
            seen.strips.iter().find(is_it).and_then(|strip| strip.as_ink(before)).or_else(|| before.cloned())
        };
        let mut all: Vec<(&str, &str, Taken)> = Vec::new();
        let mut over = Vec::new();
        for (given, patch) in self.over.iter().zip(&seen.over) {
            let find = |name: &String| {
                let missing = || AskError::Unknown {
                    ink: given.ink.clone(),
                    over: given.over.clone(),
                    missing: name.clone(),
                };
                ink_called(name).ok_or_else(missing)
            };
            let (upper, lower) = (find(&given.ink)?, find(&given.over)?);
            let amount = match given.part {
                Part::Full => 1.0,
                part => part.passes() / f64::from(upper.full_veils),
            };
            let lies = Lies { upper: &upper.film(), amount, lower: &lower.film(), card: &bare };
            let read = patch.lab.zip(patch.within);
            let taken = read.and_then(|(lab, within)| lies.taken(lab, within));
            all.extend(taken.map(|taken| (given.ink.as_str(), given.over.as_str(), taken)));
            let mut one = OverSeen {
                ink: given.ink.clone(),
                over: given.over.clone(),
                patch: patch.clone(),
                foretold: read.map(|_| lies.foretold()),
                off: read.map(|(lab, _)| (100.0 * lies.foretold().difference(lab)).round() / 100.0),
                on_ink: taken.map(in_hundredths),
                says: String::new(),
            };
            one.says = telling::of_over(&one);
            over.push(one);
        }
        // What one ink takes on others is told by its own patches; where there are enough of all of them, what is usual is hers.
        let every: Vec<Taken> = all.iter().map(|(.., taken)| *taken).collect();
        let mut pairs: Vec<(&str, &str)> = all.iter().map(|(ink, over, _)| (*ink, *over)).collect();
        pairs.sort_unstable();
        pairs.dedup();
        let usual = (pairs.len() >= ENOUGH_PAIRS).then(|| together(&every, TRAPPING));
        for strip in &mut seen.strips {
            let own = all
                .iter()
                .filter(|(ink, ..)| strip.name.as_deref().is_some_and(|name| name.eq_ignore_ascii_case(ink)));
            let own: Vec<Taken> = own.map(|(.., taken)| *taken).collect();
            let around = usual.map_or(TRAPPING, |usual| usual.share);
            let told = if own.is_empty() { usual } else { Some(together(&own, around)) };
            if let Some(ink) = &mut strip.ink {
                ink.on_ink = told.map(in_hundredths);
            }
        }
        Ok((over, usual.map(in_hundredths)))
    }

    /// Where the swatches are, and what is known of the ink at each place.
    fn layout(&self, factor: f64) -> Result<(Layout, Vec<Option<Before>>), AskError> {
        if let Some(shown) = &self.shown {
            let count = shown.card.len() + shown.patches.len();
            if count > MOST_SHOWN {
                return Err(AskError::Shown(count));
            }
            check_reach(shown.reach)?;
            shown.patches.iter().try_for_each(|patch| check_patch(&patch.ink, patch.part))?;
            let names = shown.names();
            let patches = shown.patches.iter().map(|patch| {
                let ink = names.iter().position(|name| *name == patch.ink).unwrap_or_default();
                (ink, patch.part, patch.at.map(|along| along / factor))
            });
            let mut patches: Vec<_> = patches.collect();
            patches.sort_by_key(|(ink, part, _)| (*ink, *part));
            let card = shown.card.iter().map(|at| at.map(|along| along / factor)).collect();
            let inks = names.iter().map(|name| Some(self.known(name, None))).collect();
            return Ok((
                Layout::Shown(Shown { card, patches, reach: (shown.reach / factor).max(2.0) }),
                inks,
            ));
        }
        let mut inks = vec![None; PLACES];
        for placed in &self.inks {
            let slot = placed.place.checked_sub(1).and_then(|place| inks.get_mut(place));
            *slot.ok_or(AskError::Place(placed.place))? = Some(self.known(&placed.name, placed.kind));
        }
        let smaller = |corners: [[f64; 2]; 4]| corners.map(|corner| corner.map(|along| along / factor));
        Ok((self.corners.map_or(Layout::Frame, |corners| Layout::FrameAt(smaller(corners))), inks))
    }

    /// What is known of an ink by its name.
    fn known(&self, name: &str, kind: Option<Kind>) -> Before {
        self.before_by_name(Some(name)).map_or(Before { kind, ..Before::default() }, |ink| self.before(ink))
    }

    /// What is known of an ink of the drawer, and teaches what the phone does.
    fn before(&self, ink: &Ink) -> Before {
        let teaches = |colour: &Colour| self.phone.is_none() || matches!(colour, Colour::Reflectance(_));
        let lab =
            |colour: Colour| Some(colour).filter(teaches).and_then(|colour| colour.lab(Illuminant::D65).ok());
        Before { kind: Some(ink.kind), full: lab(ink.colour), one: ink.one_veil.and_then(lab) }
    }

    fn name_at(&self, place: usize, letters: Option<&str>) -> Option<String> {
        if let Some(shown) = &self.shown {
            return shown.names().get(place - 1).map(|name| (*name).to_owned());
        }
        let placed = self.inks.iter().find(|placed| placed.place == place).map(|placed| placed.name.clone());
        let by_mark = || self.drawer.iter().find(|ink| Some(letters_of(ink).as_str()) == letters);
        placed.or_else(|| by_mark().map(|ink| ink.name.to_string()))
    }

    fn chart(&self, factor: f64) -> Result<Option<Chart>, AskError> {
        let Some(given) = &self.chart else { return Ok(None) };
        let (count, columns) = (given.colours.len(), given.columns);
        if columns < 2 || count > 200 || count < 2 * columns || !count.is_multiple_of(columns) {
            return Err(AskError::Chart { count, columns });
        }
        let colours = given.colours.iter().map(|colour| lab_of(Some(colour)));
        Ok(Some(Chart {
            corners: given.corners.map(|corner| corner.map(|along| along / factor)),
            columns,
            colours: colours.collect::<Result<_, _>>()?,
        }))
    }
}

/// How many patches likely stand in a row of a chart, by the names of its patches: as many as begin with the same letters, or else about
/// as in a sheet that is half as wide again as it is high. Nothing where they make no whole rows.
pub fn columns_of(names: &[&str]) -> Option<usize> {
    let letters = |name: &str| name.trim_end_matches(|c: char| c.is_ascii_digit()).to_owned();
    let rows: Vec<usize> = names.chunk_by(|a, b| letters(a) == letters(b)).map(<[&str]>::len).collect();
    let is_named = rows.len() > 1 && rows[0] > 1 && rows.iter().all(|row| *row == rows[0]);
    let count = names.len();
    let near = |columns: &usize| ((columns * columns) as f64 / (1.5 * count as f64)).ln().abs();
    let whole = (2..=count / 2).filter(|columns| count.is_multiple_of(*columns));
    if is_named { Some(rows[0]) } else { whole.min_by(|a, b| near(a).total_cmp(&near(b))) }
}

impl ShownByHand {
    /// The inks, in the order they were shown first.
    fn names(&self) -> Vec<&str> {
        let mut names: Vec<&str> = Vec::new();
        for patch in &self.patches {
            if !names.contains(&patch.ink.as_str()) {
                names.push(&patch.ink);
            }
        }
        names
    }
}

/// Most patches and bare places that are shown.
const MOST_SHOWN: usize = 500;
/// Pairs of inks that tell how a maker's inks take on one another.
const ENOUGH_PAIRS: usize = 4;

fn check_reach(reach: f64) -> Result<(), AskError> {
    if (3.0..=500.0).contains(&reach) { Ok(()) } else { Err(AskError::Reach(reach)) }
}

/// On a patch something was laid.
fn check_patch(ink: &str, part: Part) -> Result<(), AskError> {
    if Part::INKED.contains(&part) { Ok(()) } else { Err(AskError::Bare(ink.to_owned())) }
}

fn in_hundredths(taken: Taken) -> u8 {
    let [least, most] = [ON_INK.start(), ON_INK.end()].map(|share| f64::from(*share));
    (100.0 * taken.share).round().clamp(least, most) as u8
}

fn lab_of(colour: Option<&Colour>) -> Result<Lab, AskError> {
    colour.map_or(Ok(BRIGHT_WHITE), |colour| {
        colour.lab(Illuminant::D65).map_err(|error| AskError::Colour(error.to_string()))
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use rosy_core::ink::Stack;

    const SIZE: [usize; 2] = [900, 700];
    /// Half of a patch, in pixels.
    const HALF: f64 = 28.0;

    fn ink(name: &str, lab: [f64; 3], kind: Kind) -> Ink {
        let colour = Colour::Lab(lab.into());
        Ink { name: name.parse().unwrap(), kind, colour, one_veil: None, full_veils: 5, on_ink: None }
    }

    /// A photo of squares, as a screen shows their colours.
    fn photo(squares: &[([f64; 2], Lab)]) -> Picture {
        let screen = |lab: Lab| lab.on_screen(Illuminant::D65).0.0;
        // The card a little off its brightest.
        let dim = |rgb: [u8; 3]| rgb.map(|c| (f64::from(c) * 0.93).round() as u8);
        let card = dim(screen(BRIGHT_WHITE));
        let at = |n: usize| {
            let [x, y] = [n % SIZE[0], n / SIZE[0]].map(|along| along as f64 + 0.5);
            let is_in = |([u, v], _): &&([f64; 2], Lab)| (x - u).abs() < HALF && (y - v).abs() < HALF;
            squares.iter().find(is_in).map_or(card, |(_, lab)| dim(screen(*lab)))
        };
        Picture::of(SIZE[0], SIZE[1], (0..SIZE[0] * SIZE[1]).flat_map(at).collect()).unwrap()
    }

    /// Of some inks their ladders, and of some pairs a patch of one over the other, of which so much is taken.
    fn asked(inks: &[Ink], pairs: &[(usize, usize, f64)]) -> (SwatchAsked, Picture) {
        let card = *rosy_core::ink::measured::bright_white();
        let mut squares = Vec::new();
        let mut asked = SwatchAsked::default();
        let mut shown = ShownByHand { card: Vec::new(), patches: Vec::new(), reach: 20.0 };
        for (row, ink) in inks.iter().enumerate() {
            let y = 60.0 + 100.0 * row as f64;
            shown.card.extend([[40.0, y + 50.0], [460.0, y + 50.0], [860.0, y + 50.0]]);
            for (column, part) in Part::INKED.into_iter().enumerate() {
                let at = [110.0 + 90.0 * column as f64, y];
                let mut stack = Stack::on(&card);
                stack.lay(0, &ink.film(), if part == Part::Full { 1.0 } else { part.passes() / 5.0 });
                squares.push((at, stack.lab(Illuminant::D65)));
                shown.patches.push(PatchShown { ink: ink.name.to_string(), part, at });
            }
        }
        for (nth, (upper, lower, share)) in pairs.iter().enumerate() {
            let at = [560.0 + 90.0 * (nth % 3) as f64, 60.0 + 100.0 * (nth / 3) as f64];
            let mut stack = Stack::on(&card);
            stack.lay(0, &inks[*lower].film(), 1.0);
            stack.lay(1, &inks[*upper].film().with_trapping(*share), 1.0);
            squares.push((at, stack.lab(Illuminant::D65)));
            let [ink, over] = [upper, lower].map(|place| inks[*place].name.to_string());
            asked.over.push(OverGiven { ink, over, part: Part::Full, at, reach: 20.0 });
        }
        asked.shown = Some(shown);
        (asked, photo(&squares))
    }

    #[test]
    fn a_patch_over_another_tells_how_much_of_the_ink_is_taken_there() {
        let inks = [
            ink("Cockle", [62.0, 44.0, 2.0], Kind::Dye),
            ink("Gorse", [84.0, 2.0, 50.0], Kind::Dye),
            ink("Rain", [64.0, -14.0, -24.0], Kind::Dye),
        ];
        for share in [0.55, 0.8, 1.0] {
            let (asked, picture) =
                asked(&inks, &[(0, 1, share), (2, 1, share), (0, 2, share), (2, 0, share)]);
            let answer = asked.answer(picture).unwrap();
            let told: Vec<u8> = answer.over.iter().filter_map(|one| one.on_ink).collect();
            assert_eq!(told.len(), 4, "{:?}", answer.over);
            let mean = told.iter().map(|share| f64::from(*share)).sum::<f64>() / 400.0;
            assert!((mean / share).ln().abs() < 0.15, "{mean} of {share}: {told:?}");
            // Together they tell how her inks take on one another, nearer to what is usual than each of them.
            let all = f64::from(answer.on_ink.unwrap()) / 100.0;
            assert!((all - TRAPPING).abs() <= (mean - TRAPPING).abs() + 0.02, "{all} {mean}");
            assert!(answer.seen.strips.iter().all(|strip| strip.ink.unwrap().on_ink.is_some()));
        }
    }

    #[test]
    fn what_cannot_be_read_of_a_pair_is_said() {
        let inks = [ink("Cockle", [62.0, 44.0, 2.0], Kind::Dye), ink("Gorse", [84.0, 2.0, 50.0], Kind::Dye)];
        let (mut asked, picture) = asked(&inks, &[(0, 1, 0.8)]);
        asked.over[0].over = "Mussel".into();
        let error = asked.answer(picture.clone()).unwrap_err();
        assert!(error.to_string().contains("Mussel is neither in the photo nor in the drawer"), "{error}");
        asked.over[0].reach = 0.0;
        assert_eq!(asked.answer(picture).unwrap_err(), AskError::Reach(0.0));
    }

    #[test]
    fn rows_of_a_chart_are_told_by_its_names() {
        let named: Vec<String> =
            (0..24).map(|n| format!("{}{}", ["A", "B", "C", "D"][n / 6], n % 6 + 1)).collect();
        let named: Vec<&str> = named.iter().map(String::as_str).collect();
        assert_eq!(columns_of(&named), Some(6));
        let numbered: Vec<String> = (1..=12).map(|n| n.to_string()).collect();
        let numbered: Vec<&str> = numbered.iter().map(String::as_str).collect();
        assert_eq!(columns_of(&numbered), Some(4));
        assert_eq!(columns_of(&["one", "two", "three"]), None);
    }
}
