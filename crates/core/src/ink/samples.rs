//! What do measured samples say of inks, and how are inks told as samples?

use super::drawer::{Ink, Name, usual_full_veils};
use super::kind::Kind;
use super::measured::{BRIGHT_WHITE, bright_white};
use crate::colour::cgats::{File, Measured, Sample};
use crate::colour::{Colour, Illuminant, Lab, Spectrum};

/// What the sample of the bare card is called.
const CARD: [&str; 6] = ["bare card", "card", "paper", "bare paper", "substrate", "bare"];

/// What comes of a file of measurements.
#[derive(Clone, Debug, Default, PartialEq)]
pub struct Taken {
    /// The inks of it.
    pub inks: Vec<Ink>,
    /// What is wrong with the samples that are no inks, each in a sentence.
    pub wrong: Vec<String>,
    /// What else there is to say.
    pub notes: Vec<String>,
    /// Of how many it was not said whether they are dye, oxide or pigment.
    pub guessed: usize,
}

/// The inks that some samples are of. Those of one name and kind are one ink: a sample of one light pass shows how it thins. Where the bare
/// card was measured with them, what it takes away itself is taken out of their spectra.
pub fn inks_of(file: &File) -> Taken {
    let mut taken = Taken { wrong: file.wrong.clone(), ..Taken::default() };
    let is_card =
        |sample: &&Sample| sample.passes == Some(0) || CARD.contains(&sample.name.to_lowercase().as_str());
    let card = file.samples.iter().find(is_card).and_then(|sample| match sample.colour {
        Measured::Reflectance(spectrum) => Some(spectrum),
        Measured::Lab(_) => None,
    });
    let colour = |sample: &Sample| match sample.colour {
        Measured::Reflectance(spectrum) => Colour::Reflectance(card.map_or(spectrum, |card| {
            let share = spectrum.zip(&card, |of, card| of / card.max(0.01));
            share.zip(bright_white(), |share, white| (share * white).clamp(0.0, 1.0)).rounded()
        })),
        Measured::Lab(lab) => Colour::Lab(under_noon(lab, file.light)),
    };
    let is_thin = |sample: &Sample| sample.passes == Some(1);
    let is_one_ink = |one: &Sample, other: &Sample| (&one.name, &one.kind) == (&other.name, &other.kind);
    let samples: Vec<&Sample> = file.samples.iter().filter(|sample| !is_card(sample)).collect();
    for full in samples.iter().filter(|sample| !is_thin(sample)) {
        let thin = samples.iter().find(|sample| is_thin(sample) && is_one_ink(sample, full));
        let ink = Name::try_from(full.name.clone()).map_err(|error| error.to_string()).and_then(|name| {
            let kind = full.kind.as_deref().map(str::parse::<Kind>).transpose()?;
            let ink = Ink {
                name,
                kind: kind.unwrap_or_default(),
                colour: colour(full),
                one_veil: thin.map(|thin| colour(thin)),
                full_veils: full.passes.unwrap_or_else(usual_full_veils),
                on_ink: None,
            };
            ink.check().map(|()| (ink, kind.is_none())).map_err(|error| error.to_string())
        });
        match ink {
            Ok((ink, guessed)) => {
                taken.guessed += usize::from(guessed);
                taken.inks.push(ink);
            }
            Err(says) => taken.wrong.push(format!("{}: {says}.", full.name)),
        }
    }
    for thin in samples.iter().filter(|sample| is_thin(sample)) {
        if !samples.iter().any(|full| !is_thin(full) && is_one_ink(thin, full)) {
            let says = "only one light pass of it was measured: measure its full swatch as well";
            taken.wrong.push(format!("{}: {says}.", thin.name));
        }
    }
    if card.is_some() {
        taken.notes.push("What the bare card takes away itself has been taken out of every colour.".into());
    }
    let is_lab = |sample: &&&Sample| matches!(sample.colour, Measured::Lab(_));
    if file.light == Illuminant::D50 && samples.iter().any(|sample| is_lab(&sample)) {
        taken.notes.push("Colours that were measured as seen under D50 are turned to noon daylight.".into());
    }
    taken
}

/// The colours of all samples, in the order of the file, as they look under noon daylight.
pub fn colours_of(file: &File) -> Vec<Colour> {
    let colour = |sample: &Sample| match sample.colour {
        Measured::Reflectance(spectrum) => Colour::Reflectance(spectrum),
        Measured::Lab(lab) => Colour::Lab(under_noon(lab, file.light)),
    };
    file.samples.iter().map(colour).collect()
}

/// A colour as it looks under noon daylight that was told under another light.
fn under_noon(lab: Lab, light: Illuminant) -> Lab {
    if light == Illuminant::D65 {
        return lab;
    }
    let Lab { l, a, b } = Spectrum::of(lab, light).lab(Illuminant::D65);
    let short = |value: f64| (value * 100.0).round() / 100.0;
    Lab { l: short(l), a: short(a), b: short(b) }
}

/// Inks as samples: the full swatch of each, and what one light pass is where that is known.
pub fn samples_of<'a>(inks: impl IntoIterator<Item = &'a Ink>) -> Vec<Sample> {
    let measured = |colour: Colour| match colour {
        Colour::Reflectance(spectrum) => Measured::Reflectance(spectrum),
        other => Measured::Lab(other.lab(Illuminant::D65).unwrap_or(BRIGHT_WHITE)),
    };
    let samples = inks.into_iter().flat_map(|ink| {
        let sample = |passes, colour| Sample {
            name: ink.name.to_string(),
            kind: Some(ink.kind.to_string()),
            passes: Some(passes),
            colour: measured(colour),
        };
        let thin = ink.one_veil.map(|one| sample(1, one));
        std::iter::once(sample(ink.full_veils, ink.colour)).chain(thin)
    });
    samples.collect()
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::colour::cgats::{read, write};
    use crate::ink::Stack;

    /// A dye that takes away most of the light about one wavelength.
    fn notch(nm: f64, deep: f64) -> Spectrum {
        Spectrum(std::array::from_fn(|band| {
            let off = (380.0 + 10.0 * band as f64 - nm) / 40.0;
            bright_white().0[band] * (1.0 - deep * (-off * off / 2.0).exp())
        }))
        .rounded()
    }

    fn sample(name: &str, passes: Option<u8>, colour: Measured) -> Sample {
        Sample { name: name.into(), kind: Some("dye".into()), passes, colour }
    }

    fn file(samples: Vec<Sample>) -> File {
        File { samples, light: Illuminant::D65, wrong: Vec::new() }
    }

    #[test]
    fn a_measured_ink_laid_in_full_gives_back_what_was_measured_under_any_light() {
        let spectrum = notch(540.0, 0.9);
        let swatch = Measured::Reflectance(spectrum);
        let ink = inks_of(&file(vec![sample("Cockle", Some(7), swatch)])).inks.remove(0);
        let mut stack = Stack::on(bright_white());
        stack.lay(0, &ink.film(), 1.0);
        for light in [Illuminant::D50, Illuminant::D65] {
            let off = stack.lab(light).difference(spectrum.lab(light));
            assert!(off < 0.05, "{off} under {light:?}");
        }
    }

    #[test]
    fn a_spectrum_is_not_what_would_be_guessed_of_its_colour() {
        let ripples = Spectrum(std::array::from_fn(|band| 0.5 + 0.3 * (1.1 * band as f64).cos())).rounded();
        let farthest = |one: &Spectrum| {
            one.zip(&ripples, |one, other| (one - other).abs()).0.into_iter().fold(0.0, f64::max)
        };
        let on_card = |colour: Colour| colour.on(bright_white(), Illuminant::D65).unwrap();
        assert!(farthest(&on_card(Colour::Reflectance(ripples))) < 1e-9);
        assert!(farthest(&on_card(Colour::Lab(ripples.lab(Illuminant::D65)))) > 0.2);
    }

    #[test]
    fn what_the_bare_card_takes_away_is_taken_out() {
        let card = Spectrum::flat(0.8);
        let through = notch(600.0, 0.7).zip(bright_white(), |of, white| of / white);
        let lies = |of: Spectrum| Measured::Reflectance(of);
        let swatch = sample("Marram", None, lies(through.zip(&card, |share, card| share * card)));
        let taken = inks_of(&file(vec![sample("Bare card", None, lies(card)), swatch]));
        assert_eq!((taken.inks.len(), taken.notes.len()), (1, 1), "{taken:?}");
        let Colour::Reflectance(own) = taken.inks[0].colour else { panic!("{taken:?}") };
        let off = own.zip(&notch(600.0, 0.7), |one, other| (one - other).abs());
        assert!(off.0.iter().all(|off| *off < 1e-4), "{off:?}");
    }

    #[test]
    fn samples_of_one_name_are_one_ink_and_what_is_none_is_told() {
        let lab = |l: f64| Measured::Lab(Lab { l, a: 20.0, b: -10.0 });
        let mut unsaid = sample("Ebb", None, lab(50.0));
        unsaid.kind = None;
        let taken = inks_of(&file(vec![
            sample("Cockle", Some(6), lab(40.0)),
            sample("Cockle", Some(1), lab(80.0)),
            unsaid,
            sample("Mussel", Some(1), lab(80.0)),
            Sample { kind: Some("crayon".into()), ..sample("Chalk", None, lab(60.0)) },
        ]));
        assert_eq!((taken.inks.len(), taken.guessed), (2, 1));
        assert_eq!((taken.inks[0].full_veils, taken.inks[0].one_veil.is_some()), (6, true));
        assert!(taken.wrong.iter().any(|says| says.starts_with("Mussel: only one light pass")));
        assert!(taken.wrong.iter().any(|says| says.starts_with("Chalk")));
        // Told under the warmer light, a colour is another one under noon daylight, but for what has no colour at all.
        let under = |lab: Lab| {
            let one = vec![sample("One", None, Measured::Lab(lab))];
            let warm = File { light: Illuminant::D50, ..file(one) };
            inks_of(&warm).inks[0].lab()
        };
        let (blue, grey) = (Lab { l: 45.0, a: 5.0, b: -45.0 }, Lab { l: 60.0, a: 0.0, b: 0.0 });
        assert!(under(blue).difference(blue) > 1.0 && under(grey).difference(grey) < 0.3);
    }

    #[test]
    fn inks_that_are_written_as_samples_are_the_same_inks_again() {
        let lab = |l: f64, a: f64, b: f64| Colour::Lab(Lab { l, a, b });
        let ink = |name: &str, kind, colour, one_veil| Ink {
            name: name.parse().unwrap(),
            kind,
            colour,
            one_veil,
            full_veils: 8,
            on_ink: None,
        };
        let inks = vec![
            ink("Cockle", Kind::Dye, Colour::Reflectance(notch(540.0, 0.9)), None),
            ink(
                "Glasswort",
                Kind::Dye,
                Colour::Reflectance(notch(640.0, 0.8)),
                Some(Colour::Reflectance(notch(640.0, 0.2))),
            ),
            ink("Ebb", Kind::Oxide, lab(44.0, -6.0, -40.0), Some(lab(85.0, -2.0, -9.0))),
            ink("Ullen White", Kind::Pigment, lab(96.0, 0.0, -1.0), None),
        ];
        let taken = inks_of(&read(&write(&samples_of(&inks))).unwrap());
        assert_eq!((&taken.inks, taken.wrong.len(), taken.guessed), (&inks, 0, 0));
    }
}
