//! Plans drawn as photos, on which what is told of them is tried.

use rosy_core::Panel;
use rosy_core::colour::{Illuminant, Lab};

use super::wanted::Wanted;
use crate::picture::Picture;

/// What lies about a panel, in millimetres.
pub const MARGIN: f64 = 10.0;

/// The plan itself as a photo, so many pixels to a millimetre, with some places painted over; the right way up or upside down.
pub fn photo(
    panel: &Panel,
    fine: f64,
    painted: impl Fn(f64, f64) -> Option<[f64; 3]>,
    turned: bool,
) -> Picture {
    let wanted = Wanted::of(panel, panel.moves.len());
    let size = [panel.width.mm(), panel.height.mm()];
    let [wide, high] = size.map(|side| ((side + 2.0 * MARGIN) * fine) as usize);
    let mut rgb = Vec::with_capacity(3 * wide * high);
    for n in 0..wide * high {
        let n = if turned { wide * high - 1 - n } else { n };
        let [x, y] = [(n % wide) as f64 + 0.5, (n / wide) as f64 + 0.5].map(|along| along / fine - MARGIN);
        let screen = |lab: Lab| lab.on_screen(Illuminant::D65).0.0.map(|c| f64::from(c) / 255.0);
        let colour =
            wanted.lab(x, y).filter(|_| x >= 0.0 && y >= 0.0 && x < size[0] && y < size[1]).map(screen);
        let colour = colour.map_or([0.25, 0.22, 0.2], |colour| {
            painted(x, y).map_or(colour, |by| std::array::from_fn(|c| colour[c] * by[c]))
        });
        rgb.extend(colour.map(|c| (c * 255.0).round() as u8));
    }
    Picture::of(wide, high, rgb).unwrap()
}
