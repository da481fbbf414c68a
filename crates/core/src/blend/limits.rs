//! Where each judgement draws its line. All are chosen, by eye on drawn panels, unless said otherwise.

use crate::colour::Lab;

/// ΔE00 a millimetre above which a join looks sudden.
pub const SUDDEN_A_MM: f64 = 2.6;
/// ΔE00 a millimetre above which a join is a line.
pub const HARD_A_MM: f64 = 4.2;
/// L* a junction may lie below its darker side before it reads as a band.
pub const DARK_BAND: f64 = 8.0;
/// ΔE00 of one standard deviation of the film above which an ink looks splotchy.
pub const SPLOTCH: f64 = 2.1;
/// ΔE00 from bare card of a single light pass above which an ink cannot fade gently.
pub const LIGHTEST: f64 = 28.0;
/// Veils of one ink below which its presence is not counted as meeting its neighbour.
pub const PRESENT: f64 = 0.3;
/// Veils, all inks together, below which card shows bare between two inks.
pub const BARE: f64 = 0.8;
/// ΔE00 between two named colours below which they count as one.
pub const SEEN_APART: f64 = 8.0;
/// What another order must save, in the cost of a meeting, before it is suggested.
pub const WORTH_REORDERING: f64 = 8.0;
/// Oklab chroma of both inks below which there is no colour to lose.
pub const NO_CHROMA: f64 = 0.035;
/// Oklab chroma below which a junction is grey whatever its sides.
pub const GREY: f64 = 0.018;

/// Shares of chroma kept below which a junction is muddy, and from which it is clean, given how far apart
/// on the Oklab circle its two sides are, in degrees.
///
/// Dull warm colours read as brown or khaki, dull cool ones still as violet, blue or green: so a warm
/// junction must keep more. Where the sides are far apart, as yellow and violet are, warmth begins with
/// pink and asks for more still; and where they face each other, as orange and blue do, a cool junction must
/// keep more too.
pub fn mud_limits(junction: Lab, apart: f64) -> (f64, f64) {
    let [_, _, hue] = junction.oklch();
    // Pinks lie on both sides of 0°.
    let hue = if hue > 300.0 { hue - 360.0 } else { hue };
    let share = |from: f64, to: f64, at: f64| ((at - from) / (to - from)).clamp(0.0, 1.0);
    let far = share(105.0, 118.0, apart);
    let facing = share(155.0, 166.0, apart);
    let begins = 5.0 - 27.0 * far;
    let warm = share(begins, begins + 13.0, hue).min(share(140.0, 125.0, hue));
    let muddy_below = 0.38 + warm * (0.19 + 0.13 * far) + (1.0 - warm) * 0.12 * facing;
    let clean_from = 0.41 + warm * (0.27 + 0.10 * far) + (1.0 - warm) * 0.16 * facing;
    (muddy_below, clean_from)
}
