//! How is it told what a photo of swatches says? What came of it, how near its colours are, and what would make the next one better.

use rosy_core::ink::Ink;

use crate::over::OverSeen;
use crate::rank::median;
use crate::swatch::{StripSeen, SwatchesSeen};

/// From here on a phone is known as well as a photo or two can tell.
const SURE: f64 = 0.5;
/// Inks on one frame that together are worth a chart.
const WORTH_A_CHART: usize = 12;
/// A chart whose patches are off by so much, half of them, is not the one of its file, or does not lie where it was shown (ΔE00).
const ANOTHER_CHART: f64 = 8.0;

/// What came of a photo, in a few sentences.
pub fn of_all(seen: &SwatchesSeen, over: &[OverSeen]) -> String {
    let inks = match seen.strips.iter().filter(|strip| strip.ink.is_some()).count() {
        0 => "No ink could be read.".to_owned(),
        1 => "One ink was read.".to_owned(),
        read => format!("{read} inks were read."),
    };
    let patches =
        || seen.strips.iter().flat_map(|strip| &strip.patches).chain(over.iter().map(|one| &one.patch));
    let near = median(patches().filter_map(|patch| patch.within).collect()).map(nearness);
    let left = match patches().filter(|patch| patch.refused.is_some()).count() {
        0 => None,
        1 => Some("One patch is left out: its reason stands by it.".to_owned()),
        refused => Some(format!("{refused} patches are left out: their reasons stand by them.")),
    };
    let chart = median(seen.chart.clone()).filter(|off| *off > ANOTHER_CHART).map(|_| {
        "The chart does not look like its file: see that its four corner patches are shown in their order, and how many stand in a row."
    });
    let says = [Some(inks), near.map(str::to_owned), left, chart.map(str::to_owned)];
    says.into_iter().flatten().collect::<Vec<_>>().join(" ")
}

/// How near colours are, for whoever looks at them.
fn nearness(within: f64) -> &'static str {
    match within {
        within if within < 3.0 => "Most colours are as near as the eye tells side by side.",
        within if within < 5.0 => "Most colours are near: side by side a little difference may be seen.",
        within if within < 8.0 => "Most colours are about right: a difference is seen at a glance.",
        _ => "Colours are rough: what this phone does to them is not known yet.",
    }
}

/// What would make the next photo say more, of a phone that was known before or not.
pub fn better(seen: &SwatchesSeen, is_known: bool) -> Option<&'static str> {
    match seen.strips.len() {
        _ if seen.phone_sure > SURE => None,
        strips if strips < WORTH_A_CHART && !is_known => Some(
            "Twelve or more inks on one frame, some of which the drawer has already, or a chart of known colours beside them, tell \
             what your phone does to colours.",
        ),
        _ => Some("Daylight from a window on a grey day, and no lamp, brings colours nearer."),
    }
}

/// What is to be said of a strip whose ink the drawer has as it was before, or has not got.
pub fn of_strip(strip: &StripSeen, before: Option<&Ink>) -> String {
    if strip.empty {
        return "No strip lies here.".into();
    }
    let ink = strip.as_ink(before);
    let mut says = Vec::new();
    if let (Some(seen), Some(ink)) = (strip.kind, before)
        && seen != ink.kind
    {
        says.push(format!("Over the dark line it behaves like {seen}, and the drawer says {}.", ink.kind));
    }
    says.push(match (before, &ink) {
        (_, None) => "Nothing is taken of it: it takes the full swatch and one lighter patch.".to_owned(),
        (Some(before), Some(ink)) => match before.lab().difference(ink.lab()) {
            apart if apart < 2.0 => "As the drawer has it.".to_owned(),
            apart if apart < 6.0 => "A little other than in the drawer.".to_owned(),
            _ => "Quite other than in the drawer.".to_owned(),
        },
        (None, Some(_)) => "New.".to_owned(),
    });
    if let Some(share) = strip.ink.and_then(|ink| ink.on_ink) {
        says.push(format!("Other ink takes {share} % of it of what bare card takes."));
    }
    let refused = strip.patches.iter().filter_map(|patch| Some((patch.part, patch.refused?)));
    says.extend(refused.map(|(part, refused)| format!("{}: {}.", capital(part.words()), refused.words())));
    says.join(" ")
}

/// What is to be said of a patch of one ink over another.
pub fn of_over(one: &OverSeen) -> String {
    let OverSeen { ink, over, patch, off, on_ink, .. } = one;
    let what = format!("{ink} over {over}");
    if let Some(refused) = patch.refused {
        return format!("{what}: {}.", refused.words());
    }
    let as_foretold = match off.unwrap_or_default() {
        off if off < 2.5 => "as foretold",
        off if off < 6.0 => "a little other than foretold",
        _ => "quite other than foretold",
    };
    match on_ink {
        None => {
            format!("{what}: {as_foretold}. It hardly shows there: it tells nothing of how much is taken.")
        }
        Some(share) => {
            format!("{what}: {as_foretold}. {share} % of it is taken there, of what bare card takes.")
        }
    }
}

fn capital(words: &str) -> String {
    let mut letters = words.chars();
    letters.next().map_or(String::new(), |first| first.to_uppercase().chain(letters).collect())
}
