//! How are measured colours written in a file, and read back?
//!
//! The open text of ISO 28178, also called CGATS: keywords, the names of the fields, then a row for each sample. Colours stand in it
//! as reflectances at so many nanometres, as L*, a* and b*, or as X, Y and Z; where there are several the reflectances count, since
//! nothing need be guessed of them.
//!
//! ```
//! use rosy_core::colour::cgats::{Measured, read};
//! let file = read("CGATS.17\nNUMBER_OF_FIELDS 4\nBEGIN_DATA_FORMAT\nSAMPLE_NAME LAB_L LAB_A LAB_B\nEND_DATA_FORMAT\n\
//!     NUMBER_OF_SETS 2\nBEGIN_DATA\nCockle 57 56 -4\nMarram 60 -20\nEND_DATA\n")?;
//! assert!(matches!(file.samples[0].colour, Measured::Lab(lab) if lab.l == 57.0));
//! // A row that cannot be read leaves the others as they are.
//! assert_eq!((file.samples.len(), file.wrong.len()), (1, 1));
//! # Ok::<(), Box<dyn std::error::Error>>(())
//! ```

use std::fmt::Write;

use super::lab::{Lab, MOST_GIVEN_BACK};
use super::observer::{BANDS, Illuminant};
use super::spectrum::Spectrum;

/// Most samples, and most fields of one: no instrument writes more at once.
const MOST_SAMPLES: usize = 5_000;
const MOST_FIELDS: usize = 600;
/// Between which wavelengths a spectrum must be measured, and how finely, in nanometres; what lies beyond is as at its ends.
const NEEDED: (f64, f64, f64) = (420.0, 680.0, 20.0);
/// The first and the last band of a spectrum, and from one to the next.
const FIRST: f64 = 380.0;
const STEP: f64 = 10.0;
/// What the fields of a spectrum are called before their wavelength.
const SPECTRAL: [&str; 8] =
    ["SPECTRAL_NM_", "SPECTRAL_NM", "SPECTRAL_", "SPECTRAL", "NM_", "NM", "SPEC_", "R_"];

/// A file of measurements.
#[derive(Clone, Debug, PartialEq)]
pub struct File {
    /// The samples that can be read.
    pub samples: Vec<Sample>,
    /// Under which light L*, a*, b* and X, Y, Z are meant.
    pub light: Illuminant,
    /// What is wrong with the rows that cannot, each in a sentence.
    pub wrong: Vec<String>,
}

/// One sample.
#[derive(Clone, Debug, PartialEq)]
pub struct Sample {
    /// Its name, or else its number.
    pub name: String,
    /// Of which kind it is said to be, and how many light passes of the ink lie there; nothing where that is not said.
    pub kind: Option<String>,
    /// See `kind`.
    pub passes: Option<u8>,
    /// Its colour.
    pub colour: Measured,
}

/// A colour as it was measured.
#[expect(clippy::large_enum_variant, reason = "there are as many as a file has, and they are copied freely")]
#[derive(Clone, Copy, Debug, PartialEq)]
pub enum Measured {
    /// What it gives back in each band.
    Reflectance(Spectrum),
    /// Relative to the light of the file.
    Lab(Lab),
}

/// Why a text is no file of measurements, and what to do.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum CgatsError {
    /// One of its parts is missing.
    #[error("the file has no {0}: save the measurements once more as CGATS text")]
    Missing(&'static str),
    /// No colour that is known stands in it.
    #[error(
        "the file has no colours: save it with spectra (SPECTRAL_NM380 …), with LAB_L, LAB_A, LAB_B, or with XYZ_X, XYZ_Y, XYZ_Z"
    )]
    NoColours,
    /// Its spectra leave out too much.
    #[error(
        "the spectra are measured from {0} to {1} nm, at most {2} nm apart: 420 to 680 nm, at most 20 nm apart, are needed"
    )]
    Sparse(i64, i64, i64),
    /// More than is read.
    #[error("the file has more than {0} {1}: save a part of it")]
    Long(usize, &'static str),
}

/// Whether a text looks like such a file.
pub fn is_one(text: &str) -> bool {
    let head = text.trim_start();
    head.get(..5).is_some_and(|word| word.eq_ignore_ascii_case("CGATS")) || text.contains("BEGIN_DATA_FORMAT")
}

/// Where a sample's values stand in its row.
struct Fields {
    name: Option<usize>,
    number: Option<usize>,
    kind: Option<usize>,
    passes: Option<usize>,
    /// Wavelengths with their places, the shortest first.
    bands: Vec<(f64, usize)>,
    lab: Option<[usize; 3]>,
    xyz: Option<[usize; 3]>,
    all: usize,
}

impl Fields {
    fn of(names: &[String]) -> Result<Fields, CgatsError> {
        let at = |name: &str| names.iter().position(|other| other == name);
        let three = |names: [&str; 3]| {
            let [one, two, three] = names.map(at);
            Some([one?, two?, three?])
        };
        let mut bands: Vec<(f64, usize)> =
            names.iter().enumerate().filter_map(|(at, name)| Some((wavelength(name)?, at))).collect();
        bands.sort_by(|one, other| one.0.total_cmp(&other.0));
        bands.dedup_by(|one, other| one.0 == other.0);
        let fields = Fields {
            name: at("SAMPLE_NAME").or_else(|| at("SAMPLE_LOC")),
            number: at("SAMPLE_ID").or_else(|| at("SAMPLEID")),
            kind: at("INK_KIND"),
            passes: at("LIGHT_PASSES"),
            lab: three(["LAB_L", "LAB_A", "LAB_B"]),
            xyz: three(["XYZ_X", "XYZ_Y", "XYZ_Z"]),
            all: names.len(),
            bands,
        };
        let (first, last, step) = NEEDED;
        match fields.bands.as_slice() {
            [] if fields.lab.is_none() && fields.xyz.is_none() => Err(CgatsError::NoColours),
            [] => Ok(fields),
            bands => {
                let (from, to) = (bands[0].0, bands[bands.len() - 1].0);
                let apart = bands.windows(2).map(|pair| pair[1].0 - pair[0].0).fold(0.0, f64::max);
                let reaches = from <= first && last <= to && apart <= step;
                // A colour of three numbers is better than the half of a spectrum.
                match reaches || fields.lab.is_some() || fields.xyz.is_some() {
                    true if reaches => Ok(fields),
                    true => Ok(Fields { bands: Vec::new(), ..fields }),
                    false => Err(CgatsError::Sparse(from as i64, to as i64, apart as i64)),
                }
            }
        }
    }

    /// The colour of a row; spectra are divided by `whole`.
    fn colour(&self, row: &[String], whole: f64, light: Illuminant) -> Result<Measured, String> {
        let number = |at: usize| -> Result<f64, String> {
            let text = row[at].as_str();
            let value: Option<f64> =
                text.replace(',', ".").parse().ok().filter(|value: &f64| value.is_finite());
            value.ok_or_else(|| format!("“{}” is no number", text.chars().take(20).collect::<String>()))
        };
        let three = |at: [usize; 3]| -> Result<[f64; 3], String> {
            Ok([number(at[0])?, number(at[1])?, number(at[2])?])
        };
        if !self.bands.is_empty() {
            let points: Result<Vec<(f64, f64)>, String> =
                self.bands.iter().map(|(nm, at)| Ok((*nm, number(*at)? / whole))).collect();
            let spectrum = resampled(&points?);
            return match spectrum.0.iter().find(|share| !(-0.02..=MOST_GIVEN_BACK).contains(*share)) {
                Some(share) => Err(format!("{share:.3} is no share of light that a surface gives back")),
                None => Ok(Measured::Reflectance(spectrum.map(|share| share.clamp(0.0, MOST_GIVEN_BACK)))),
            };
        }
        let [l, a, b] = match (self.lab, self.xyz) {
            (Some(at), _) => three(at)?,
            (None, Some(at)) => {
                let [x, y, z] = three(at)?;
                let white = light.white();
                Lab::from_relative([x / white[0], y / white[1], z / white[2]].map(|of| of / 100.0)).into()
            }
            (None, None) => return Err("it has no colour".into()),
        };
        let inside = (0.0..=100.5).contains(&l) && a.abs() <= 150.0 && b.abs() <= 150.0;
        let no_surface = || format!("{l:.1}, {a:.1}, {b:.1} are the Lab numbers of no surface");
        if inside { Ok(Measured::Lab(Lab { l: l.min(100.0), a, b })) } else { Err(no_surface()) }
    }
}

/// The wavelength that a field is of.
fn wavelength(name: &str) -> Option<f64> {
    let number = SPECTRAL.iter().find_map(|before| name.strip_prefix(before)?.parse::<f64>().ok())?;
    (300.0..=900.0).contains(&number).then_some(number)
}

/// A spectrum in our bands, read between those that were measured.
fn resampled(points: &[(f64, f64)]) -> Spectrum {
    Spectrum(std::array::from_fn(|band| {
        let nm = FIRST + STEP * band as f64;
        let after = points.partition_point(|(at, _)| *at < nm);
        match (after.checked_sub(1).map(|before| points[before]), points.get(after).copied()) {
            (Some((from, below)), Some((to, above))) => below + (above - below) * (nm - from) / (to - from),
            (Some((_, end)), None) | (None, Some((_, end))) => end,
            (None, None) => 0.0,
        }
    }))
}

/// Where in a file a line stands.
#[derive(Clone, Copy, PartialEq)]
enum Part {
    Head,
    Names,
    Rows,
}

/// Reads a file of measurements, whose tables may name different fields.
///
/// # Errors
/// A [`CgatsError`] where it is none. Rows that cannot be read are told beside those that can.
pub fn read(text: &str) -> Result<File, CgatsError> {
    let lines: Vec<Vec<String>> = text.lines().map(words).filter(|line| !line.is_empty()).collect();
    let is_head = |line: &&Vec<String>| line[0] != "BEGIN_DATA";
    let says = |light: &str| {
        lines.iter().take_while(is_head).flatten().any(|word| word.to_uppercase().contains(light))
    };
    let light = if says("D65") { Illuminant::D65 } else { Illuminant::D50 };
    let mut file = File { samples: Vec::new(), light, wrong: Vec::new() };
    let (mut part, mut tables) = (Part::Head, 0);
    let (mut names, mut rows) = (Vec::<String>::new(), Vec::new());
    for line in &lines {
        match (line[0].as_str(), part) {
            ("BEGIN_DATA_FORMAT", _) => (part, names) = (Part::Names, Vec::new()),
            ("BEGIN_DATA", _) => (part, rows) = (Part::Rows, Vec::new()),
            ("END_DATA_FORMAT", _) => part = Part::Head,
            ("END_DATA", _) => {
                file.take(&names, &rows)?;
                (part, tables) = (Part::Head, tables + 1);
            }
            (_, Part::Names) => names.extend(line.iter().map(|name| name.to_uppercase())),
            (_, Part::Rows) => rows.push(line.as_slice()),
            (_, Part::Head) => {}
        }
        if names.len() > MOST_FIELDS {
            return Err(CgatsError::Long(MOST_FIELDS, "fields"));
        }
        if rows.len() + file.samples.len() > MOST_SAMPLES {
            return Err(CgatsError::Long(MOST_SAMPLES, "samples"));
        }
    }
    match (part, tables) {
        (Part::Rows, _) => Err(CgatsError::Missing("END_DATA: it has been cut off")),
        (Part::Names, _) => Err(CgatsError::Missing("END_DATA_FORMAT: it has been cut off")),
        (Part::Head, 0) => Err(CgatsError::Missing("table of measurements")),
        (Part::Head, _) => Ok(file),
    }
}

impl File {
    /// Takes the samples of one table.
    fn take(&mut self, names: &[String], rows: &[&[String]]) -> Result<(), CgatsError> {
        let fields = Fields::of(names)?;
        let whole = fields.whole(rows);
        let before = self.samples.len() + self.wrong.len();
        for (row, nth) in rows.iter().zip(before + 1..) {
            match fields.sample(row, nth, whole, self.light) {
                Ok(sample) => self.samples.push(sample),
                Err(says) => self.wrong.push(format!("Sample {nth}: {says}.")),
            }
        }
        Ok(())
    }
}

impl Fields {
    /// What a spectrum's values are parts of: one, or a hundred where there is more than any surface gives back.
    fn whole(&self, rows: &[&[String]]) -> f64 {
        let values = rows.iter().flat_map(|row| self.bands.iter().filter_map(|(_, at)| row.get(*at)));
        let most = values.filter_map(|text| text.replace(',', ".").parse::<f64>().ok()).fold(0.0, f64::max);
        if most > MOST_GIVEN_BACK { 100.0 } else { 1.0 }
    }

    fn sample(&self, row: &[String], nth: usize, whole: f64, light: Illuminant) -> Result<Sample, String> {
        if row.len() != self.all {
            return Err(format!("it has {} values where {} are named", row.len(), self.all));
        }
        let at = |at: Option<usize>| at.map(|at| row[at].trim()).filter(|text| !text.is_empty());
        let passes = match at(self.passes) {
            Some(text) => Some(text.parse().map_err(|_| format!("“{text}” is no number of light passes"))?),
            None => None,
        };
        Ok(Sample {
            name: at(self.name).or(at(self.number)).map_or_else(|| nth.to_string(), str::to_owned),
            kind: at(self.kind).map(str::to_lowercase),
            passes,
            colour: self.colour(row, whole, light)?,
        })
    }
}

/// The words of a line: those in quotation marks stay together; what follows a `#` is a note.
fn words(line: &str) -> Vec<String> {
    let mut words = Vec::new();
    let mut rest = line.trim_start();
    while !rest.is_empty() && !rest.starts_with('#') {
        let (word, after) = match rest.strip_prefix('"') {
            Some(inside) => inside.split_once('"').unwrap_or((inside, "")),
            None => rest.split_once(char::is_whitespace).unwrap_or((rest, "")),
        };
        words.push(word.to_owned());
        rest = after.trim_start();
    }
    words
}

/// Writes samples as [`read`] reads them: those that have a spectrum in a table of their own, the others by L*, a*, b* under noon
/// daylight.
pub fn write(samples: &[Sample]) -> String {
    let mut text =
        String::from("CGATS.17\nORIGINATOR \"Rosy Veil\"\nWEIGHTING_FUNCTION \"ILLUMINANT, D65\"\n");
    text.push_str("KEYWORD \"INK_KIND\"\nKEYWORD \"LIGHT_PASSES\"\n");
    let is_spectral = |sample: &&Sample| matches!(sample.colour, Measured::Reflectance(_));
    let (spectral, others): (Vec<&Sample>, Vec<&Sample>) = samples.iter().partition(is_spectral);
    let spectrum: Vec<String> =
        (0..BANDS).map(|band| format!("SPECTRAL_NM{}", FIRST + STEP * band as f64)).collect();
    let lab = ["LAB_L", "LAB_A", "LAB_B"].map(str::to_owned);
    if !spectral.is_empty() || others.is_empty() {
        table(&mut text, &spectrum, &spectral);
    }
    if !others.is_empty() {
        table(&mut text, &lab, &others);
    }
    text
}

fn table(text: &mut String, values: &[String], samples: &[&Sample]) {
    let names = ["SAMPLE_ID", "SAMPLE_NAME", "INK_KIND", "LIGHT_PASSES"].map(str::to_owned);
    let names: Vec<&str> = names.iter().chain(values).map(String::as_str).collect();
    let quoted = |text: &str| format!("\"{}\"", text.replace('"', "'"));
    // A text takes whatever is written into it.
    let _ = writeln!(
        text,
        "NUMBER_OF_FIELDS {}\nBEGIN_DATA_FORMAT\n{}\nEND_DATA_FORMAT\nNUMBER_OF_SETS {}\nBEGIN_DATA",
        names.len(),
        names.join(" "),
        samples.len(),
    );
    for (sample, nth) in samples.iter().zip(1..) {
        let kind = quoted(sample.kind.as_deref().unwrap_or_default());
        let passes = sample.passes.map_or_else(|| quoted(""), |passes| passes.to_string());
        let values: Vec<String> = match sample.colour {
            Measured::Reflectance(spectrum) => spectrum.0.iter().map(|share| format!("{share:.5}")).collect(),
            Measured::Lab(Lab { l, a, b }) => [l, a, b].iter().map(|value| format!("{value:.4}")).collect(),
        };
        let _ = writeln!(text, "{nth} {} {kind} {passes} {}", quoted(&sample.name), values.join(" "));
    }
    text.push_str("END_DATA\n");
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn table_of(names: &str, rows: &[&str]) -> String {
        format!(
            "CGATS.17\nBEGIN_DATA_FORMAT\n{names}\nEND_DATA_FORMAT\nBEGIN_DATA\n{}\nEND_DATA\n",
            rows.join("\n")
        )
    }

    fn spectral(from: usize, to: usize, step: usize, of: impl Fn(f64) -> f64) -> String {
        let bands: Vec<usize> = (from..=to).step_by(step).collect();
        let names: Vec<String> = bands.iter().map(|nm| format!("SPECTRAL_NM{nm}")).collect();
        let row: Vec<String> = bands.iter().map(|nm| format!("{:.6}", of(*nm as f64))).collect();
        table_of(&format!("SAMPLE_NAME {}", names.join(" ")), &[&format!("Cockle {}", row.join(" "))])
    }

    fn first(text: &str) -> Sample {
        read(text).unwrap_or_else(|error| panic!("{error}: {text}")).samples.remove(0)
    }

    #[test]
    fn x_y_z_of_white_are_those_that_are_published() {
        // CIE 15 gives 0.96422, 1, 0.82521 and 0.95047, 1, 1.08883; tables in steps of ten nanometres come near them.
        for (light, [x, y, z]) in
            [(Illuminant::D50, [0.96422, 1.0, 0.82521]), (Illuminant::D65, [0.95047, 1.0, 1.08883])]
        {
            let white = light.white();
            assert!(
                (white[0] - x).abs() < 1e-3 && (white[1] - y).abs() < 1e-12 && (white[2] - z).abs() < 1.5e-3
            );
        }
        let white = first(&table_of("SAMPLE_NAME XYZ_X XYZ_Y XYZ_Z", &["White 96.42 100 82.52"]));
        let Measured::Lab(lab) = white.colour else { panic!("{white:?}") };
        assert!(lab.l > 99.9 && lab.a.hypot(lab.b) < 0.2, "{lab:?}");
    }

    #[test]
    fn a_spectrum_is_the_same_however_finely_and_in_whichever_parts_it_is_written() {
        let slope = |nm: f64| 0.1 + 0.7 * (nm - 380.0) / 350.0;
        let Measured::Reflectance(ours) = first(&spectral(380, 730, 10, slope)).colour else { panic!() };
        for (band, share) in ours.0.iter().enumerate() {
            assert!((share - slope(380.0 + 10.0 * band as f64)).abs() < 1e-6);
        }
        for text in [
            spectral(360, 780, 5, slope),
            spectral(380, 730, 10, |nm| 100.0 * slope(nm)),
            spectral(380, 740, 20, slope),
            spectral(380, 730, 10, slope).replace("SPECTRAL_NM", "nm"),
            spectral(380, 730, 10, slope).replace('.', ","),
        ] {
            let Measured::Reflectance(same) = first(&text).colour else { panic!("{text}") };
            let off = same.zip(&ours, |one, other| (one - other).abs()).0.into_iter().fold(0.0, f64::max);
            assert!(off < 1e-5, "{off}: {text}");
        }
        // Where an instrument stops short, its ends go on.
        let Measured::Reflectance(short) = first(&spectral(400, 700, 10, slope)).colour else { panic!() };
        assert!((short.0[0] - slope(400.0)).abs() < 1e-6 && (short.0[BANDS - 1] - slope(700.0)).abs() < 1e-6);
        assert!(matches!(read(&spectral(500, 600, 10, slope)), Err(CgatsError::Sparse(500, 600, 10))));
    }

    #[test]
    fn what_cannot_be_read_is_told_by_its_sample_and_what_is_no_such_file_by_what_is_missing() {
        let rows =
            ["Cockle 57 56 -4", "Marram 60 green 3", "Mussel 58", "\"Sea Lavender\" 60 20 -30 # by hand"];
        let file = read(&table_of("SAMPLE_NAME LAB_L LAB_A LAB_B", &rows)).unwrap();
        let names: Vec<&str> = file.samples.iter().map(|sample| sample.name.as_str()).collect();
        assert_eq!(names, ["Cockle", "Sea Lavender"]);
        assert!(
            file.wrong[0].contains("Sample 2: “green” is no number") && file.wrong[1].contains("Sample 3")
        );
        let whole = table_of("SAMPLE_NAME LAB_L LAB_A LAB_B", &rows);
        for (text, says) in [
            ("", "no table"),
            (&*whole.replace("END_DATA\n", ""), "END_DATA"),
            (&*whole.replace("LAB_L", "GLOSS"), "no colours"),
            (&*whole.replace("60 20 -30", "600 20 -30"), ""),
        ] {
            match read(text) {
                Err(error) => assert!(!says.is_empty() && error.to_string().contains(says), "{error}"),
                Ok(file) => {
                    assert!(says.is_empty() && file.wrong.iter().any(|says| says.contains("no surface")))
                }
            }
        }
    }

    proptest! {
        #[test]
        fn what_is_written_is_read_back(
            names in prop::collection::vec("[A-Za-zé ]{1,20}", 1..6),
            lab in prop::array::uniform3(-60.0..60.0_f64),
            share in 0.01..1.0_f64,
        ) {
            let samples: Vec<Sample> = names.iter().enumerate().map(|(n, name)| Sample {
                name: format!("x{name}").trim().to_owned(),
                kind: (n % 3 == 0).then(|| "oxide".to_owned()),
                passes: (n % 2 == 0).then_some(7),
                colour: match n % 2 {
                    0 => Measured::Reflectance(Spectrum::flat(share).map(|of| (of * 1e5).round() / 1e5)),
                    _ => Measured::Lab(Lab { l: lab[0].abs().round(), a: lab[1].round(), b: lab[2].round() }),
                },
            }).collect();
            let mut read = super::read(&write(&samples)).unwrap();
            prop_assert_eq!((read.wrong.len(), read.light), (0, Illuminant::D65));
            let mut samples = samples;
            // Spectra and Lab are tables of their own: only within one is the order kept.
            let by_table = |one: &Sample, other: &Sample| {
                let key = |of: &Sample| matches!(of.colour, Measured::Lab(_));
                key(one).cmp(&key(other)).then_with(|| one.name.cmp(&other.name))
            };
            samples.sort_by(by_table);
            read.samples.sort_by(by_table);
            prop_assert_eq!(read.samples, samples);
        }

        #[test]
        fn nothing_that_is_written_breaks_it(text in "(CGATS|BEGIN_DATA(_FORMAT)?|END_DATA(_FORMAT)?|LAB_[LAB]|SPECTRAL_NM[0-9]{3}|[0-9.,-]{1,6}|\"|#|[ \n\t]|\\PC){0,60}") {
            let _ = read(&text);
            let _ = is_one(&text);
        }
    }
}
