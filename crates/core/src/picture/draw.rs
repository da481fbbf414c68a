//! Which colour has each pixel?

use std::ops::Range;
use std::sync::LazyLock;

use rayon::prelude::*;

use super::flecks::Dots;
use super::grain::{Laid, Step};
use super::table::{Row, Table, between};
use super::wet::Wet;
use crate::colour::{Illuminant, Lab, Srgb};
use crate::ink::Paste;
use crate::ink::exp::exp;
use crate::shape::Region;
use crate::shape::coverage::Coverage;
use crate::surface::{Area, Hard, Lattice, Materials, Seal, Surface};

/// Widest and highest picture drawn, in pixels a side.
const MOST_PIXELS: usize = 8_000;
/// Tooth is lost on bare card and full under ink; this many veils bring out most of it (chosen).
const TOOTH_AT_LEAST: f32 = 0.25;

/// How large a picture is: pixels to the inch.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Size {
    /// Pixels to the inch.
    pub dpi: f64,
}

/// Why a picture cannot be drawn at a size.
#[derive(Clone, Debug, PartialEq, thiserror::Error)]
pub enum SizeError {
    /// Too coarse, too fine, or not a number.
    #[error("{0} pixels to the inch: ask for 5 to 1200")]
    Dpi(f64),
    /// Too many pixels.
    #[error(
        "{width} × {height} pixels: the longest side may have {MOST_PIXELS}, so ask for fewer pixels to the inch"
    )]
    Large {
        /// Across.
        width: usize,
        /// Down.
        height: usize,
    },
}

/// A drawn panel: eight bits each of red, green and blue, row by row from the top left.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Picture {
    /// Pixels across.
    pub width: usize,
    /// Pixels down.
    pub height: usize,
    /// Three bytes a pixel.
    pub rgb: Vec<u8>,
}

impl Picture {
    /// The mean colour, averaged as light.
    pub fn mean(&self) -> Lab {
        let mut sums = [0.0; 3];
        for pixel in self.rgb.chunks_exact(3) {
            let relative = Srgb([pixel[0], pixel[1], pixel[2]]).lab(Illuminant::D65).relative();
            for axis in 0..3 {
                sums[axis] += relative[axis];
            }
        }
        let count = (self.width * self.height) as f64;
        Lab::from_relative(sums.map(|sum| sum / count))
    }
}

/// Millimetres between the places where a colour is worked out, where the whole panel must be covered: a third of the
/// smallest footprint in print, half of it on a page, coarser for small pictures.
fn coarse_mm(pixel_mm: f64) -> f64 {
    (9.0 * pixel_mm).clamp(1.25, 3.0)
}

/// Draws a card as it stands.
///
/// ```
/// # use rosy_core::picture::{Size, SizeError, draw};
/// # let text = include_str!(concat!(env!("CARGO_MANIFEST_DIR"), "/tests/version_1/ebb_down.json"));
/// let panel: rosy_core::Panel = serde_json::from_str(text)?;
/// let picture = draw(&panel.surface(), Size { dpi: 20.0 })?;
/// assert_eq!(picture.width, (20.0 * panel.width.inches()).round() as usize);
/// assert_eq!(picture.rgb.len(), 3 * picture.width * picture.height);
/// assert_eq!(draw(&panel.surface(), Size { dpi: 2.0 }), Err(SizeError::Dpi(2.0)));
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
///
/// # Errors
/// A [`SizeError`] where the picture would be too small or too large.
pub fn draw(surface: &Surface, size: Size) -> Result<Picture, SizeError> {
    let materials = &surface.materials;
    if !(5.0..=1200.0).contains(&size.dpi) {
        return Err(SizeError::Dpi(size.dpi));
    }
    let pixels = |inches: f64| (inches * size.dpi).round().max(1.0) as usize;
    let (width, height) = (pixels(materials.size.0.inches()), pixels(materials.size.1.inches()));
    if width.max(height) > MOST_PIXELS {
        return Err(SizeError::Large { width, height });
    }

    let mm = 25.4 / size.dpi;
    let seed = u64::from(materials.seed);
    let grain = Grain::of(materials, (mm, width), seed * 64);
    // A side that is no whole number of pixels is drawn to the edge all the same.
    let (wide, high) = materials.size_mm();
    let whole = (wide / width as f64, high / height as f64);
    let part = |Area { region, surface, is_covered }: Area| {
        let effects = surface.effects();
        Part {
            coverage: region.map(|region| Coverage::of(&region, (width, height), whole)),
            table: Table::of(&surface, coarse_mm(mm)),
            wet: Wet::of(&surface, &effects, mm),
            dots: Dots::of(&surface, &effects, height, mm),
            raised: relief(&surface, mm),
            surface,
            is_covered,
        }
    };
    let parts: Vec<Part> = surface.areas().into_par_iter().map(part).collect();
    // Round a piece that is cut out lies the mat.
    let mat = materials.masks.outline.as_ref().map(|outline| {
        let beyond = Region::rect(0.0, 0.0, wide, high).minus(outline);
        Coverage::of(&beyond, (width, height), whole)
    });
    let mut rgb = vec![0; width * height * 3];
    let rows = rgb.par_chunks_exact_mut(width * 3).enumerate();
    rows.for_each_init(
        || Line::of(width),
        |line, (row, pixels)| {
            for part in &parts {
                match &part.coverage {
                    None => line.draw(part, &grain, row, 0..width, None),
                    Some(coverage) => {
                        let runs = coverage.runs(row);
                        runs.for_each(|(across, shares)| line.draw(part, &grain, row, across, Some(shares)));
                    }
                }
            }
            if let Some(mat) = &mat {
                mat.runs(row).for_each(|(across, shares)| line.lay_bare(across, shares));
            }
            line.show(pixels);
        },
    );
    Ok(Picture { width, height, rgb })
}

/// What roughens all that is laid: the card's tooth and the marks of the tool, one for each ink.
struct Grain {
    /// Millimetres to a pixel.
    mm: f64,
    tooth: Textured,
    tooth_depth: f32,
    brushes: Vec<Textured>,
}

impl Grain {
    /// Where columns fall on each texture is the same in every row.
    fn of(materials: &Materials, (mm, width): (f64, usize), seed: u64) -> Grain {
        let columns_of = |laid: Laid| Textured { columns: laid.columns(width, mm), laid };
        let brush = |ink: usize| columns_of(Laid::by_tool(materials.tool.kind, seed + ink as u64));
        Grain {
            mm,
            tooth: columns_of(Laid::of_card(mm, seed + 63)),
            tooth_depth: materials.paper.surface.tooth() as f32,
            brushes: (0..materials.inks.len()).map(brush).collect(),
        }
    }
}

/// A part of the panel as it is drawn.
struct Part {
    /// The pixels it covers; nothing where it is the whole panel.
    coverage: Option<Coverage>,
    table: Table,
    /// What water has changed, cell by cell, and what stands out in flecks.
    wet: Option<Wet>,
    dots: Option<Dots>,
    surface: Surface,
    /// How many pixels wide its raised edge is, where melted powder lies on it.
    raised: Option<Relief>,
    is_covered: bool,
}

/// How a part that stands up catches the light.
#[derive(Clone, Copy, Debug)]
struct Relief {
    /// How many pixels wide its edge is.
    reach: usize,
    /// How strong its edge is, against that of melted powder.
    strong: f32,
    /// What its gloss leaves of the light that is scattered.
    gloss: f32,
    /// Whether it shines in its own colour, as metal does, and not in that of the light.
    in_own: bool,
}

/// Melted powder and mica stand up with a glossy edge, paste and what is raised in a folder with a broad, dull one.
fn relief(surface: &Surface, mm: f64) -> Option<Relief> {
    let reach = |wide: f64| ((wide / mm).round() as usize).max(1);
    match (surface.under, surface.stands_up) {
        (Some(Seal { of: Hard::Powder(powder), layers }), _) => {
            let (strong, gloss) = if powder.is_metal() { (METAL, SHEEN) } else { (1.0, GLOSS) };
            let reach = reach(RIDGE_MM * f64::from(layers));
            Some(Relief { reach, strong, gloss, in_own: powder.is_metal() })
        }
        (Some(Seal { of: Hard::Paste(Paste::Shimmer), .. }), _) => {
            Some(Relief { reach: reach(MICA_MM), strong: MICA, gloss: GLOSS, in_own: false })
        }
        (Some(Seal { of: Hard::Paste(_), .. }), _) => {
            Some(Relief { reach: reach(PASTE_MM), strong: PASTE, gloss: 1.0, in_own: false })
        }
        (None, true) => Some(Relief { reach: reach(FOLD_MM), strong: FOLD, gloss: 1.0, in_own: false }),
        (None, false) => None,
    }
}

/// A texture, and where a picture's columns fall on it.
struct Textured {
    laid: Laid,
    columns: Vec<Step>,
}

/// Millimetres that a raised edge is wide; how far it shines towards the light and darkens away from it; and what gloss
/// takes of the light that would be scattered (chosen).
const RIDGE_MM: f64 = 0.3;
const SHINE: f32 = 0.62;
const SHADE: f32 = 0.38;
const GLOSS: f32 = 0.96;
/// How strong the edge of a metal is against that of clear powder, and what its face scatters: little of the light that falls on it
/// comes back anywhere but to its lit edges (chosen).
const METAL: f32 = 1.4;
const SHEEN: f32 = 0.86;
/// Millimetres that the edge of what a folder raised is wide, and how strong it is against that of powder (chosen).
const FOLD_MM: f64 = 0.45;
const FOLD: f32 = 0.45;
/// The same of paste, dull and thick, and of a film of mica (chosen).
const PASTE_MM: f64 = 0.5;
const PASTE: f32 = 0.4;
/// How rough scraped paste is, as the tooth of a card is told (chosen).
const PASTE_TOOTH: f32 = 0.07;
const MICA_MM: f64 = 0.35;
const MICA: f32 = 0.7;
/// What a mask lets through of what lies under it, and the light of the sheet itself, as shares of white: thin film,
/// a little blue (chosen).
const SHEET_LETS: f32 = 0.3;
const SHEET: [f32; 3] = [0.56, 0.59, 0.65];

/// The light of the mat that a piece lies on: warm, nearly white (chosen).
const MAT: [f32; 4] = [0.945, 0.941, 0.9, 0.0];

/// A row of pixels being worked out, one thing after another: each pass does the same to every pixel of a run.
struct Line {
    /// The pixels that are being worked on.
    across: Range<usize>,
    /// Between which two of the table's rows each pixel lies, by the first of them, and how far along.
    places: Vec<(u32, f32)>,
    /// ln X/Xn, ln Y/Yn, ln Z/Zn, and how deep the ink lies, in standard deviations; then the three themselves.
    logs: Vec<[f32; 4]>,
    /// A texture's values along the row.
    texture: Vec<f32>,
    /// The light of the whole row.
    light: Vec<[f32; 4]>,
}

impl Line {
    fn of(width: usize) -> Line {
        Line {
            across: 0..0,
            places: Vec::with_capacity(width),
            logs: Vec::with_capacity(width),
            texture: Vec::new(),
            light: vec![[0.0; 4]; width],
        }
    }

    /// Draws one run of a row of one part; where it is a share of each pixel, so much of it.
    fn draw(&mut self, part: &Part, grain: &Grain, row: usize, across: Range<usize>, shares: Option<&[f32]>) {
        let y = (row as f64 + 0.5) * grain.mm;
        self.begin(across);
        self.take_places(&part.surface, &part.table, grain.mm, y);
        let rows = part.table.line(y);
        self.lay_mean(&rows);
        for (place, ink) in part.table.inks.iter().enumerate() {
            self.lay_ink(&rows, place, &grain.brushes[*ink], y);
        }
        if let Some(wet) = &part.wet {
            wet.add(self.across.clone(), grain.mm, y, &mut self.logs);
        }
        // Melted powder fills the tooth, paste has its own.
        let rough = match part.surface.under.map(|seal| seal.of) {
            None => Some(grain.tooth_depth),
            Some(Hard::Paste(Paste::White | Paste::Tinted(_))) => Some(PASTE_TOOTH),
            Some(_) => None,
        };
        if let Some(rough) = rough {
            self.roughen(rough, &grain.tooth, y);
        }
        self.become_light();
        if let Some(dots) = &part.dots {
            dots.lay(row, self.across.clone(), grain.mm, &mut self.logs);
        }
        if let (Some(relief), Some(coverage)) = (part.raised, &part.coverage) {
            self.raise(coverage, row, relief);
        }
        if part.is_covered {
            self.cover();
        }
        self.add(shares);
    }

    fn begin(&mut self, across: Range<usize>) {
        self.places.resize(across.len(), (0, 0.0));
        self.logs.resize(across.len(), [0.0; 4]);
        self.across = across;
    }

    /// Where the pixels lie in the table.
    fn take_places(&mut self, surface: &Surface, table: &Table, mm: f64, y: f64) {
        let last = table.last();
        for (column, place) in self.across.clone().zip(&mut self.places) {
            let x = (column as f64 + 0.5) * mm;
            let at = match table.lattice {
                Lattice::Line { per_mm, .. } => {
                    surface.runs.first().map_or(0.0, |run| run.at(x, y).place) * per_mm
                }
                Lattice::Sheet { per_mm, first, .. } => (x - first.0) * per_mm.0,
            };
            let at = at.clamp(0.0, last as f64);
            let here = (at as usize).min(last.saturating_sub(1));
            *place = (here as u32, (at - here as f64) as f32);
        }
    }

    /// The colour of the even film.
    fn lay_mean(&mut self, rows: &[Row]) {
        for (logs, &(here, along)) in self.logs.iter_mut().zip(&self.places) {
            let (here, next) = pair(rows, here);
            *logs = between(&here.mean, &next.mean, along);
        }
    }

    /// What the unevenness of one ink, by its place in the table, adds to it.
    fn lay_ink(&mut self, rows: &[Row], ink: usize, textured: &Textured, y: f64) {
        textured.laid.along(y, &mut self.texture);
        let columns = &textured.columns[self.across.clone()];
        let pixels = self.logs.iter_mut().zip(&self.places).zip(columns);
        for ((logs, &(here, along)), column) in pixels {
            let (here, next) = pair(rows, here);
            let give = between(&here.give[ink], &next.give[ink], along);
            let floor = give[3];
            if floor == 0.0 {
                continue;
            }
            let uneven = column.of(&self.texture).max(floor);
            let by = [uneven, uneven, uneven, -1.0];
            *logs = std::array::from_fn(|n| logs[n] + by[n] * give[n]);
        }
    }

    /// What the tooth of the card adds, the more the more ink lies on it.
    fn roughen(&mut self, tooth_depth: f32, tooth: &Textured, y: f64) {
        tooth.laid.along(y, &mut self.texture);
        for (logs, column) in self.logs.iter_mut().zip(&tooth.columns[self.across.clone()]) {
            let inked = (logs[3] * 0.1).clamp(TOOTH_AT_LEAST, 1.0);
            let rough = tooth_depth * inked * column.of(&self.texture);
            *logs = logs.map(|log| log + rough);
        }
    }

    /// From logarithms to light.
    fn become_light(&mut self) {
        for log in self.logs.as_flattened_mut() {
            *log = exp(*log);
        }
    }

    /// Melted powder: its edge towards the light shines, the other lies in shade, and all of it is a little deeper.
    fn raise(&mut self, coverage: &Coverage, row: usize, of: Relief) {
        for (column, light) in self.across.clone().zip(&mut self.logs) {
            let relief = of.strong * coverage.relief(column, row, of.reach);
            let (lit, shaded) = (SHINE * relief.max(0.0), SHADE * (-relief).max(0.0));
            let brightest = light[..3].iter().copied().fold(f32::MIN_POSITIVE, f32::max);
            *light = light.map(|light| {
                let shine = if of.in_own { light / brightest } else { 1.0 };
                (light * of.gloss * (1.0 - shaded)) * (1.0 - lit) + lit * shine
            });
        }
    }

    /// A mask lies over it.
    fn cover(&mut self) {
        for light in &mut self.logs {
            for (light, sheet) in light.iter_mut().zip(SHEET) {
                *light = SHEET_LETS * *light + (1.0 - SHEET_LETS) * sheet;
            }
        }
    }

    /// Adds the run to the row, of each pixel as much as it covers.
    fn add(&mut self, shares: Option<&[f32]>) {
        let row = &mut self.light[self.across.clone()];
        match shares {
            None => row.copy_from_slice(&self.logs),
            Some(shares) => {
                for ((light, own), share) in row.iter_mut().zip(&self.logs).zip(shares) {
                    *light = std::array::from_fn(|n| light[n] + share * own[n]);
                }
            }
        }
    }

    /// Adds the mat that a piece lies on.
    fn lay_bare(&mut self, across: Range<usize>, shares: &[f32]) {
        for (light, share) in self.light[across].iter_mut().zip(shares) {
            *light = std::array::from_fn(|n| light[n] + share * MAT[n]);
        }
    }

    /// As the screen shows it.
    fn show(&mut self, pixels: &mut [u8]) {
        let screen = Screen::usual();
        for (pixel, light) in pixels.as_chunks_mut().0.iter_mut().zip(&mut self.light) {
            *pixel = screen.pixel(light);
            *light = [0.0; 4];
        }
    }
}

/// A row of the table and the one after it.
#[inline]
fn pair(rows: &[Row], here: u32) -> (&Row, &Row) {
    let here = here as usize;
    (&rows[here], &rows[(here + 1).min(rows.len() - 1)])
}

/// From relative tristimulus values to screen pixels, by a table of the sRGB curve.
struct Screen {
    /// Linear red, green and blue of a whole X/Xn, Y/Yn and Z/Zn.
    columns: [[f32; 4]; 3],
    curve: Vec<u8>,
}

impl Screen {
    /// Steps of the curve: fine enough that no pixel is off by more than its rounding.
    const STEPS: usize = 16_384;

    /// The one there is, made when first needed.
    fn usual() -> &'static Screen {
        static USUAL: LazyLock<Screen> = LazyLock::new(Screen::new);
        &USUAL
    }

    fn new() -> Screen {
        use palette::convert::FromColorUnclamped;
        use palette::{LinSrgb, Xyz, white_point::D65, white_point::WhitePoint};
        let white = <D65 as WhitePoint<f64>>::get_xyz();
        let column = |x: f64, y: f64, z: f64| {
            let xyz: Xyz<D65, f64> = Xyz::new(x * white.x, y * white.y, z * white.z);
            let rgb: LinSrgb<f64> = LinSrgb::from_color_unclamped(xyz);
            [rgb.red as f32, rgb.green as f32, rgb.blue as f32, 0.0]
        };
        let columns = [column(1.0, 0.0, 0.0), column(0.0, 1.0, 0.0), column(0.0, 0.0, 1.0)];
        let coded = |n: usize| {
            let linear = n as f64 / (Self::STEPS - 1) as f64;
            palette::Srgb::<f64>::from_linear(LinSrgb::new(linear, linear, linear)).into_format::<u8>().red
        };
        Screen { columns, curve: (0..Self::STEPS).map(coded).collect() }
    }

    #[inline]
    fn pixel(&self, &[x, y, z, _]: &[f32; 4]) -> [u8; 3] {
        let [of_x, of_y, of_z] = &self.columns;
        let [r, g, b, _]: [f32; 4] = std::array::from_fn(|n| of_x[n] * x + of_y[n] * y + of_z[n] * z);
        let fits = r.min(g).min(b) >= 0.0 && r.max(g).max(b) <= 1.0;
        let shown = if fits { [r, g, b] } else { drawn_in([r, g, b]) };
        shown.map(|c| self.curve[(c * (Self::STEPS - 1) as f32 + 0.5) as usize])
    }
}

/// Gives up chroma towards the grey of the same luminance until the colour fits the screen.
///
/// For single pixels this stands in for the search at constant Oklab hue: it is one division, and the
/// colours of ink on card lie so little outside that the two differ by less than the paper's tooth.
#[inline]
fn drawn_in(linear: [f32; 3]) -> [f32; 3] {
    let [r, g, b] = linear;
    let grey = (0.2126 * r + 0.7152 * g + 0.0722 * b).clamp(0.0, 1.0);
    let mut share = 1.0_f32;
    for c in linear {
        if c < 0.0 {
            share = share.min(grey / (grey - c));
        } else if c > 1.0 {
            share = share.min((1.0 - grey) / (c - grey));
        }
    }
    linear.map(|c| (grey + share * (c - grey)).clamp(0.0, 1.0))
}
