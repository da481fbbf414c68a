//! Where each judgement draws its line. All are chosen, by eye on drawn panels, unless said otherwise.

use crate::colour::Lab;

/// ΔE00 a millimetre above which a join looks sudden.
pub const SUDDEN_A_MM: f64 = 2.6;
/// ΔE00 a millimetre above which a join is a line.
pub const HARD_A_MM: f64 = 4.2;
/// L* a junction may lie below its darker side before it reads as a band.
pub const DARK_BAND: f64 = 8.0;
/// ΔE00 of one standard deviation of the film above which an ink looks splotchy.
pub const SPLOTCH: f64 = 4.5;
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

/// Shares of chroma kept below which a junction is muddy, and from which it is clean.
///
/// Dull warm colours read as brown or khaki, dull cool ones still as violet, blue or green: so a warm
/// junction must keep more. The turn is at 5–18° and 125–140° of Oklab hue.
pub fn mud_limits(junction: Lab) -> (f64, f64) {
    let [_, _, hue] = junction.oklch();
    let rise = ((hue - 5.0) / 13.0).clamp(0.0, 1.0);
    let fall = ((140.0 - hue) / 15.0).clamp(0.0, 1.0);
    let warm = rise.min(fall);
    (0.38 + 0.19 * warm, 0.41 + 0.27 * warm)
}
