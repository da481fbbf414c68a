//! What does a photo of swatches say, from the pixels to the inks?

use rosy_core::colour::{Colour, Illuminant, Lab, Spectrum};
use rosy_core::ink::{Ink, Kind};
use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

use crate::field::{BadLight, Bare, Field};
use crate::find::{self, Letters, NoFrame, Sighting};
use crate::frame::{self, LINE, PLACES, Part, READ};
use crate::patch::{self, Area, Patch, Refused};
use crate::phone::{Known, Phone, Read};
use crate::picture::Picture;
use crate::plane::Plane;
use crate::strip::{self, InkRead};

/// Where the swatches are.
#[derive(Clone, Debug, PartialEq)]
pub enum Layout {
    /// On a swatch frame, which is found by its marks.
    Frame,
    /// On a swatch frame whose four outer corners are shown, in pixels: left and right above, left and right below.
    FrameAt([[f64; 2]; 4]),
    /// Anywhere: places of bare card and of patches are shown.
    Shown(Shown),
}

/// Places that were shown by hand, in pixels.
#[derive(Clone, Debug, PartialEq)]
pub struct Shown {
    /// Bare card.
    pub card: Vec<[f64; 2]>,
    /// Patches: of which ink, counted from 0, what was laid, and where.
    pub patches: Vec<(usize, Part, [f64; 2])>,
    /// How far about each it is even.
    pub reach: f64,
}

/// A chart of known patches beside the swatches.
#[derive(Clone, Debug, PartialEq)]
pub struct Chart {
    /// The middles of its four corner patches, in pixels: left and right above, left and right below.
    pub corners: [[f64; 2]; 4],
    /// Patches to a row.
    pub columns: usize,
    /// Their colours, row by row.
    pub colours: Vec<Lab>,
}

/// What is known of an ink before.
#[derive(Clone, Copy, Debug, Default, PartialEq)]
pub struct Before {
    /// Its kind, where it is known.
    pub kind: Option<Kind>,
    /// Its full swatch, if the drawer has it.
    pub full: Option<Lab>,
    /// One light pass of it.
    pub one: Option<Lab>,
}

/// What is known beside the photo.
#[derive(Clone)]
pub struct Beside<'a> {
    /// The bare card's colour.
    pub card: Lab,
    /// What this phone did in photos before.
    pub phone: Phone,
    /// Inks by place, where they are told beside what the marks tell.
    pub inks: Vec<Option<Before>>,
    /// What is known of an ink by the letters of a mark.
    pub by_letters: &'a dyn Fn(&str) -> Option<Before>,
    /// A chart.
    pub chart: Option<Chart>,
    /// Patches of one ink over another.
    pub over: Vec<OverShown>,
}

/// A patch of one ink over another that was shown by hand.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct OverShown {
    /// What was laid on the other's full swatch.
    pub part: Part,
    /// Where, and how far about it is even, in pixels.
    pub at: [f64; 2],
    /// See `at`.
    pub reach: f64,
}

/// What was seen.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct SwatchesSeen {
    /// The frame's outer corners in the photo, in pixels: left and right above, left and right below.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub corners: Option<[[f64; 2]; 4]>,
    /// The strips, by their places.
    pub strips: Vec<StripSeen>,
    /// What was read of each patch of one ink over another, in the order they were shown.
    #[serde(skip)]
    pub over: Vec<PatchSeen>,
    /// How far off each of the chart's patches was read that could be (ΔE00).
    #[serde(default, skip_serializing_if = "Vec::is_empty")]
    pub chart: Vec<f64>,
    /// What the phone does, for photos to come.
    pub phone: Phone,
    /// How sure its colours are against a phone nothing is known of, 0 to 1.
    pub phone_sure: f64,
}

/// One strip.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct StripSeen {
    /// Its place on the frame, or among the inks shown, counted from 1.
    pub place: usize,
    /// The letters that tell its ink, where a mark told them.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub letters: Option<String>,
    /// The ink's name, where it is known.
    #[serde(default, skip_serializing_if = "Option::is_none")]
    pub name: Option<String>,
    /// Whether there is nothing on it.
    pub empty: bool,
    /// Its patches.
    pub patches: Vec<PatchSeen>,
    /// The kind it behaves like over the dark line, where one was drawn.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub kind: Option<Kind>,
    /// The ink it makes.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub ink: Option<InkRead>,
    /// What is to be said of it.
    #[serde(default)]
    pub says: String,
}

impl StripSeen {
    /// A strip at a place, of which nothing is known yet.
    fn at(place: usize, patches: Vec<PatchSeen>) -> StripSeen {
        StripSeen {
            place: place + 1,
            letters: None,
            name: None,
            empty: patches.is_empty(),
            patches,
            kind: None,
            ink: None,
            says: String::new(),
        }
    }

    /// The ink as it would be taken into a drawer that has it as it was before, or has not got it: of the name and kind that are known.
    pub fn as_ink(&self, before: Option<&Ink>) -> Option<Ink> {
        let read = self.ink?;
        let unnamed = || format!("Ink at place {}", self.place).parse().ok();
        let ink = Ink {
            name: self.name.as_deref().and_then(|name| name.parse().ok()).or_else(unnamed)?,
            kind: before.map(|ink| ink.kind).or(self.kind).unwrap_or_default(),
            colour: Colour::Lab(read.colour),
            one_veil: read.one_veil.map(Colour::Lab),
            full_veils: read.full_veils,
            on_ink: read.on_ink.or(before.and_then(|ink| ink.on_ink)),
        };
        ink.check().is_ok().then_some(ink)
    }
}

/// One patch.
#[derive(Clone, Debug, PartialEq, Serialize, Deserialize, JsonSchema)]
pub struct PatchSeen {
    /// What was laid on it.
    pub part: Part,
    /// Its corners in the photo, in pixels: left and right above, left and right below.
    pub corners: [[f64; 2]; 4],
    /// Its colour on the maker's card, where it was read.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub lab: Option<Lab>,
    /// How far off that may be, nine times in ten (ΔE00).
    #[serde(skip_serializing_if = "Option::is_none")]
    pub within: Option<f64>,
    /// Why it was not read.
    #[serde(skip_serializing_if = "Option::is_none")]
    pub refused: Option<Refused>,
}

/// Why nothing was read.
#[derive(Clone, Copy, Debug, PartialEq, thiserror::Error)]
pub enum SwatchError {
    /// No frame.
    #[error(transparent)]
    Frame(#[from] NoFrame),
    /// The light.
    #[error(transparent)]
    Light(#[from] BadLight),
    /// The chart.
    #[error(
        "the chart's corners do not stand as on a flat card: show the middles of its four corner patches again"
    )]
    Chart,
}

impl SwatchesSeen {
    /// The inks that the strips make, each of the kind that is known of it, or else that it behaves like.
    fn make_inks(&mut self, beside: &Beside<'_>) {
        let card = Spectrum::of(beside.card, Illuminant::D65);
        for strip in &mut self.strips {
            let known = beside.inks.get(strip.place - 1).copied().flatten().and_then(|before| before.kind);
            let labs = strip.patches.iter().filter_map(|patch| Some((patch.part, patch.lab?)));
            let labs: Vec<(Part, Lab)> = labs.collect();
            strip.ink = strip::ink(&labs, &card, known.or(strip.kind).unwrap_or_default());
        }
    }

    /// The same where the photo is so many times as large, to a tenth of a pixel.
    #[must_use]
    pub fn larger(mut self, factor: f64) -> SwatchesSeen {
        let more = |at: [f64; 2]| at.map(|along| (along * factor * 10.0).round() / 10.0);
        self.corners = self.corners.map(|corners| corners.map(more));
        let of_strips = self.strips.iter_mut().flat_map(|strip| &mut strip.patches);
        for patch in of_strips.chain(&mut self.over) {
            patch.corners = patch.corners.map(more);
        }
        self
    }
}

/// What an ink of the drawer is off by on the average, typed in or taken from a swatch by eye (ΔE00).
const DRAWER_IS_OFF: f64 = 5.0;
/// What a chart's own patch is off by: it was measured.
const CHART_IS_OFF: f64 = 0.7;
/// Blurred by more than this over an edge, a patch is not read, in millimetres.
const BLURRED: f64 = 1.3;
/// A strip whose full swatch differs in colour from the page's paper by less than this, in logarithms of what is seen, and in lightness
/// by less than four times as much, is not there.
const NOTHING: f64 = 0.04;

/// Half of what is read of a part of a strip, in millimetres.
const HALF_A_PART: f64 = 4.5;

/// A patch to look at.
struct Spot {
    place: usize,
    part: Part,
    area: Area,
}

/// The photo, where things lie on it, and what light falls there.
struct Scene<'a> {
    picture: &'a Picture,
    plane: Plane,
    field: Field,
    blur: Vec<([f64; 2], f64)>,
}

/// Reads a photo of swatches.
///
/// # Errors
/// [`SwatchError`] where nothing can be read.
pub fn read(picture: &Picture, layout: &Layout, beside: &Beside<'_>) -> Result<SwatchesSeen, SwatchError> {
    match layout {
        Layout::Frame => on_frame(picture, find::frame(picture)?, beside),
        Layout::FrameAt(corners) => on_frame(picture, find::frame_at(picture, *corners)?, beside),
        Layout::Shown(shown) => anywhere(picture, shown, beside),
    }
}

fn on_frame(picture: &Picture, sighting: Sighting, beside: &Beside<'_>) -> Result<SwatchesSeen, SwatchError> {
    let Sighting { plane, letters, blur, .. } = sighting;
    let told = |place: usize| match &letters[place] {
        Letters::Ink(letters) => Some(letters.clone()),
        _ => None,
    };
    // A frame that was printed without names may have strips anywhere.
    let is_blank = !letters.iter().any(|letters| matches!(letters, Letters::Ink(_)));
    let is_wanted = |place: usize| match beside.inks.get(place) {
        Some(Some(_)) => true,
        _ => is_blank || letters[place] != Letters::Nothing,
    };
    let paper = paper(picture, &plane);
    let chart = beside.chart.as_ref().map(|chart| chart.corners.map(|corner| plane.page(corner)));
    let (laid, empty): (Vec<usize>, Vec<usize>) = (0..PLACES)
        .filter(|place| is_wanted(*place) && !chart.is_some_and(|chart| lies_on(*place, chart)))
        .partition(|place| {
            let is_told = told(*place).is_some() || beside.inks.get(*place).is_some_and(Option::is_some);
            is_laid(picture, &plane, *place, &paper)
                && (is_told || has_bare_ends(picture, &plane, *place, &paper))
        });
    let mut bare: Vec<Bare> = laid.iter().flat_map(|place| bare_card(picture, &plane, *place)).collect();
    bare.extend(paper);
    let field = Field::through(&bare)?;
    let spots: Vec<Spot> = laid
        .iter()
        .flat_map(|place| Part::INKED.map(|part| Spot { place: *place, part, area: inked(*place, part) }))
        .collect();
    let scene = Scene { picture, plane, field, blur };
    let known = |place: usize| {
        let by_mark = || told(place).and_then(|letters| (beside.by_letters)(&letters));
        beside.inks.get(place).copied().flatten().or_else(by_mark)
    };
    let beside = &Beside { inks: (0..PLACES).map(known).collect(), ..beside.clone() };
    let mut seen = scene.read(&spots, beside)?;
    for strip in &mut seen.strips {
        strip.letters = told(strip.place - 1);
        strip.kind = scene.over_line(strip, &seen.phone, beside.card);
    }
    seen.make_inks(beside);
    let empty = empty.into_iter().filter(|place| matches!(letters[*place], Letters::Ink(_)));
    seen.strips
        .extend(empty.map(|place| StripSeen { letters: told(place), ..StripSeen::at(place, Vec::new()) }));
    seen.strips.sort_by_key(|strip| strip.place);
    let [w, h] = frame::SIZE;
    seen.corners = Some([[0.0, 0.0], [w, 0.0], [0.0, h], [w, h]].map(|page| scene.plane.pixel(page)));
    Ok(seen)
}

fn anywhere(picture: &Picture, shown: &Shown, beside: &Beside<'_>) -> Result<SwatchesSeen, SwatchError> {
    let [wide, high] = picture.size().map(|side| side as f64);
    // The photo itself as the page: what is shown is as large as a part of a strip, so that many pixels are a millimetre.
    let millimetre = shown.reach / HALF_A_PART;
    let corners = [[0.0, 0.0], [wide, 0.0], [0.0, high], [wide, high]];
    let pages = corners.map(|at| (at.map(|along| along / millimetre), at));
    let plane = Plane::fitted(&pages, picture.size()).ok_or(NoFrame::Bent)?;
    let about = |at: [f64; 2]| {
        let at = at.map(|along| along / millimetre);
        Area { from: at.map(|along| along - HALF_A_PART), to: at.map(|along| along + HALF_A_PART) }
    };
    let bare = |at: &[f64; 2]| {
        let (rgb, _) = patch::mean(picture, &plane, about(*at))?;
        Some(Bare { at: about(*at).middle(), rgb, paper: false })
    };
    let field = Field::through(&shown.card.iter().filter_map(bare).collect::<Vec<_>>())?;
    let spots: Vec<Spot> = shown
        .patches
        .iter()
        .map(|(place, part, at)| Spot { place: *place, part: *part, area: about(*at) })
        .collect();
    let mut seen = Scene { picture, plane, field, blur: Vec::new() }.read(&spots, beside)?;
    seen.make_inks(beside);
    Ok(seen)
}

/// Where an inked part of a place is read: within what was laid, away from its edges.
pub fn inked(place: usize, part: Part) -> Area {
    const EDGE: f64 = 1.4;
    let [from, to] = part.along();
    across(place, from + EDGE, to - EDGE, READ)
}

fn across(place: usize, from: f64, to: f64, [top, foot]: [f64; 2]) -> Area {
    let [x, y] = frame::place(place);
    Area { from: [x + from, y + top], to: [x + to, y + foot] }
}

/// The page's own paper, where nothing is printed and nothing lies: down both sides and the middle.
fn paper(picture: &Picture, plane: &Plane) -> Vec<Bare> {
    let rows = (0..20).map(|n| 6.0 + 12.0 * f64::from(n));
    let places = rows.flat_map(|y| {
        [[-4.0, y], [frame::SIZE[0] / 2.0, y], [frame::SIZE[0] + 4.0, y], [4.9, y], [181.6, y]]
    });
    let is_free = |at: &[f64; 2]| {
        let dots = frame::dots().all(|dot| (dot[0] - at[0]).abs() > 4.5 || (dot[1] - at[1]).abs() > 4.5);
        let marks = (0..4).map(frame::mark).all(|mark| {
            [0, 1]
                .iter()
                .any(|axis| at[*axis] < mark[*axis] - 1.5 || at[*axis] > mark[*axis] + frame::MARK + 1.5)
        });
        dots && marks
    };
    let look = |at: [f64; 2]| {
        let area = Area { from: at.map(|along| along - 0.8), to: at.map(|along| along + 0.8) };
        let (rgb, off) = patch::mean(picture, plane, area)?;
        (off < 0.05).then_some(Bare { at, rgb, paper: true })
    };
    places.filter(is_free).filter_map(look).collect()
}

/// What lies nearest to a place.
fn nearest<T>(things: &[T], at: [f64; 2], place: impl Fn(&T) -> [f64; 2]) -> Option<&T> {
    let far = |thing: &&T| {
        let [x, y] = place(thing);
        (x - at[0]).hypot(y - at[1])
    };
    things.iter().min_by(|a, b| far(a).total_cmp(&far(b)))
}

/// Whether a strip with ink on it lies at a place: its full swatch is not what the paper is.
fn is_laid(picture: &Picture, plane: &Plane, place: usize, paper: &[Bare]) -> bool {
    let area = inked(place, Part::Full);
    let Some((rgb, _)) = patch::mean(picture, plane, area) else { return true };
    let Some(near) = nearest(paper, area.middle(), |bare| bare.at) else { return true };
    // What the light does in between is less than an ink does to one channel against another.
    let ratios: [f64; 3] = std::array::from_fn(|c| (rgb[c].max(1e-3) / near.rgb[c].max(1e-3)).ln());
    let mean = ratios.iter().sum::<f64>() / 3.0;
    ratios.iter().any(|ratio| (ratio - mean).abs() > NOTHING) || mean.abs() > 4.0 * NOTHING
}

/// Whether both ends of a place are about as light as the page's paper: something else than a strip may lie where none is told.
fn has_bare_ends(picture: &Picture, plane: &Plane, place: usize, paper: &[Bare]) -> bool {
    let is_bare = |[from, to]: [f64; 2]| {
        let area = across(place, from + 1.5, to - 2.0, READ);
        let Some((rgb, off)) = patch::mean(picture, plane, area) else { return false };
        let near = nearest(paper, area.middle(), |bare| bare.at);
        let is_near =
            |near: &Bare| (0..3).all(|c| (rgb[c].max(1e-3) / near.rgb[c].max(1e-3)).ln().abs() < 0.15);
        off < 0.1 && near.is_none_or(is_near)
    };
    is_bare(Part::Bare.along()) && is_bare(Part::End.along())
}

/// Bare card of a strip: at both ends, and between what was laid.
fn bare_card(picture: &Picture, plane: &Plane, place: usize) -> Vec<Bare> {
    let mut areas = vec![across(place, 1.5, 5.5, READ), across(place, 6.0, 10.0, READ)];
    areas.extend([across(place, 71.5, 75.5, READ), across(place, 76.5, 80.5, READ)]);
    areas.extend([12.5, 26.5, 40.5, 54.5].map(|middle| across(place, middle - 0.35, middle + 0.35, READ)));
    let look = |area: Area| {
        let (rgb, off) = patch::mean(picture, plane, area)?;
        (off < 0.12).then_some(Bare { at: area.middle(), rgb, paper: false })
    };
    let seen: Vec<Bare> = areas.into_iter().filter_map(look).collect();
    // Ink that ran between two patches is no bare card: what is darker in any channel than both ends by a tenth is left out.
    let [begins, ends] = between_ends(place);
    let at_an_end = seen.iter().filter(|bare| bare.at[0] < begins || bare.at[0] > ends);
    let least: [f64; 3] =
        at_an_end.fold([1.0; 3], |least, bare| std::array::from_fn(|c| bare.rgb[c].min(least[c])));
    seen.into_iter().filter(|bare| (0..3).all(|c| bare.rgb[c] > 0.9 * least[c])).collect()
}

/// Whether a chart, by the middles of its corner patches on the page, lies on a place.
fn lies_on(place: usize, chart: [Option<[f64; 2]>; 4]) -> bool {
    // From the middle of a corner's patch to its edge, and a little more.
    const ROUND: f64 = 8.0;
    let [x, y] = frame::place(place);
    let within = |axis: usize, from: f64, to: f64| {
        let along = || chart.iter().flatten().map(|corner| corner[axis]);
        let (least, most) =
            (along().fold(f64::INFINITY, f64::min), along().fold(f64::NEG_INFINITY, f64::max));
        from < most + ROUND && to > least - ROUND
    };
    within(0, x, x + frame::STRIP[0]) && within(1, y, y + frame::STRIP[1])
}

/// From where to where something else than bare ends lies on a strip.
fn between_ends(place: usize) -> [f64; 2] {
    let [x, _] = frame::place(place);
    [x + Part::Bare.along()[1], x + Part::End.along()[0]]
}

/// Reads what could be looked at, strip by strip.
fn ladders(spots: &[Spot], looked: &[Result<Patch, Refused>], phone: &Phone, card: Lab) -> Vec<Read> {
    let seen: Vec<(usize, Patch)> =
        spots.iter().zip(looked).filter_map(|(spot, looked)| Some((spot.place, (*looked).ok()?))).collect();
    let strips = seen.chunk_by(|one, next| one.0 == next.0);
    strips
        .flat_map(|strip| phone.read_ladder(&strip.iter().map(|(_, patch)| *patch).collect::<Vec<_>>(), card))
        .collect()
}

/// A patch as it is answered: colours to a hundredth.
fn seen(part: Part, corners: [[f64; 2]; 4], read: Result<Read, Refused>) -> PatchSeen {
    let rounded = |value: f64| (value * 100.0).round() / 100.0;
    let lab = |lab: Lab| Lab { l: rounded(lab.l), a: rounded(lab.a), b: rounded(lab.b) };
    PatchSeen {
        part,
        corners,
        lab: read.ok().map(|read| lab(read.lab)),
        within: read.ok().map(|read| rounded(read.within)),
        refused: read.err(),
    }
}

impl Scene<'_> {
    fn blurred(&self, at: [f64; 2]) -> bool {
        nearest(&self.blur, at, |(place, _)| *place).is_some_and(|(_, blur)| *blur > BLURRED)
    }

    fn look(&self, spot: &Spot) -> Result<Patch, Refused> {
        let area = spot.area;
        if self.blurred(area.middle()) {
            return Err(Refused::Blurred);
        }
        patch::look(self.picture, &self.plane, &self.field, area, spot.part.passes())
    }

    /// Everything that was laid: first what is known tells of the phone, then the phone tells of all.
    fn read(&self, spots: &[Spot], beside: &Beside<'_>) -> Result<SwatchesSeen, SwatchError> {
        let looked: Vec<Result<Patch, Refused>> = spots.iter().map(|spot| self.look(spot)).collect();
        let mut known = self.of_chart(beside)?;
        let of_chart = known.len();
        for (spot, looked) in spots.iter().zip(&looked) {
            let before = beside.inks.get(spot.place).copied().flatten().unwrap_or_default();
            let lab = match spot.part {
                Part::Full => before.full,
                Part::One => before.one,
                _ => None,
            };
            if let (Ok(patch), Some(lab)) = (looked, lab) {
                known.push(Known { patch: *patch, lab, sure: DRAWER_IS_OFF });
            }
        }
        let (phone, offs) = beside.phone.learned(&known, beside.card);
        let over = beside.over.iter().map(|shown| {
            let read = self.look_about(shown).map(|patch| phone.read(&patch, beside.card));
            let [from, to] = [-1.0, 1.0].map(|way| shown.at.map(|along| along + way * shown.reach));
            seen(shown.part, Area { from, to }.corners(), read)
        });
        let over = over.collect();
        let mut strips: Vec<StripSeen> = Vec::new();
        let mut read = ladders(spots, &looked, &phone, beside.card).into_iter();
        for (spot, looked) in spots.iter().zip(&looked) {
            let read = looked.and_then(|_| read.next().ok_or(Refused::Outside));
            let corners = spot.area.corners().map(|page| self.plane.pixel(page));
            let patch = seen(spot.part, corners, read);
            match strips.last_mut().filter(|strip| strip.place == spot.place + 1) {
                Some(strip) => strip.patches.push(patch),
                None => strips.push(StripSeen::at(spot.place, vec![patch])),
            }
        }
        Ok(SwatchesSeen {
            corners: None,
            strips,
            over,
            chart: offs[..of_chart].to_vec(),
            phone_sure: phone.sureness(),
            phone,
        })
    }

    /// Looks at a patch that was shown by hand.
    fn look_about(&self, shown: &OverShown) -> Result<Patch, Refused> {
        let middle = self.plane.page(shown.at).ok_or(Refused::Outside)?;
        if self.blurred(middle) {
            return Err(Refused::Blurred);
        }
        let half = shown.reach / self.plane.pixels_a_millimetre(middle).max(1e-6);
        let area = Area { from: middle.map(|along| along - half), to: middle.map(|along| along + half) };
        patch::look(self.picture, &self.plane, &self.field, area, Part::Full.passes() + shown.part.passes())
    }

    fn of_chart(&self, beside: &Beside<'_>) -> Result<Vec<Known>, SwatchError> {
        let Some(chart) = &beside.chart else { return Ok(Vec::new()) };
        let rows = chart.colours.len() / chart.columns.max(1);
        let [right, foot] = [chart.columns, rows].map(|count| count.saturating_sub(1) as f64);
        let places = [[0.0, 0.0], [right, 0.0], [0.0, foot], [right, foot]];
        let found: Vec<_> = places.into_iter().zip(chart.corners).collect();
        let on_chart = Plane::fitted(&found, self.picture.size()).ok_or(SwatchError::Chart)?;
        let known = chart.colours.iter().enumerate().filter_map(|(n, lab)| {
            let [x, y] = [n % chart.columns, n / chart.columns].map(|at| at as f64);
            let area = Area { from: [x - 0.22, y - 0.22], to: [x + 0.22, y + 0.22] };
            let (rgb, off) = patch::mean(self.picture, &on_chart, area)?;
            let is_clear = rgb.iter().all(|c| *c < 0.992) && off < 0.25;
            let card = self.field.card(self.plane.page(on_chart.pixel([x, y]))?);
            is_clear.then_some(Known {
                patch: Patch { rgb, card, uneven: 0.0 },
                lab: *lab,
                sure: CHART_IS_OFF,
            })
        });
        Ok(known.collect())
    }

    /// Which kind an ink behaves like over the dark line.
    fn over_line(&self, seen: &StripSeen, phone: &Phone, card: Lab) -> Option<Kind> {
        let full = seen.patches.iter().find(|patch| patch.part == Part::Full)?.lab?;
        let light = |from: f64, to: f64| {
            let area = across(seen.place - 1, from, to, [LINE[0] + 0.5, LINE[1] - 0.5]);
            let (rgb, _) = patch::mean(self.picture, &self.plane, area)?;
            let seen = Patch { rgb, card: self.field.card(area.middle()), uneven: 0.0 };
            Some(phone.read(&seen, card).lab.relative()[1])
        };
        let [from, to] = Part::Full.along();
        let [end, last] = Part::End.along();
        let card = Spectrum::of(card, Illuminant::D65);
        strip::kind_over_line(full, &card, light(end + 1.0, last - 2.0)?, light(from + 1.5, to - 1.5)?)
    }
}
