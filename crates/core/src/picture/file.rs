//! As which file is it kept? A PNG that knows its size.

use png::{BitDepth, ColorType, Compression, Encoder, PixelDimensions, SrgbRenderingIntent, Unit};

use super::draw::Picture;

/// How much time is taken over a file.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Pace {
    /// To be kept: smaller.
    Balanced,
    /// To be looked at and thrown away: sooner.
    Quick,
}

/// A picture drawn at so many pixels to the inch, as a PNG.
pub fn png(picture: &Picture, dpi: f64, pace: Pace) -> Vec<u8> {
    let mut file = Vec::new();
    let mut encoder = Encoder::new(&mut file, picture.width as u32, picture.height as u32);
    encoder.set_color(ColorType::Rgb);
    encoder.set_depth(BitDepth::Eight);
    encoder.set_compression(match pace {
        Pace::Balanced => Compression::Balanced,
        Pace::Quick => Compression::Fast,
    });
    encoder.set_source_srgb(SrgbRenderingIntent::Perceptual);
    let per_metre = (dpi / 0.0254).round() as u32;
    encoder.set_pixel_dims(Some(PixelDimensions { xppu: per_metre, yppu: per_metre, unit: Unit::Meter }));
    let written = encoder.write_header().and_then(|mut writer| {
        writer.write_image_data(&picture.rgb)?;
        writer.finish()
    });
    // Writing to memory fails only where the picture's bytes do not match its size, which drawing rules out.
    written.expect("a drawn picture has three bytes for each pixel");
    file
}
