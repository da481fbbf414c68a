//! Pictures as PNG files that know their size.

use base64::Engine;
use base64::engine::general_purpose::STANDARD;
use png::{BitDepth, ColorType, Compression, Encoder, PixelDimensions, SrgbRenderingIntent, Unit};
use rosy_core::Panel;
use rosy_core::picture::{Picture, Size, SizeError, draw};
use rosy_core::surface::Surface;

/// Encodes a picture drawn at so many pixels to the inch.
pub fn png(picture: &Picture, dpi: f64) -> Vec<u8> {
    encoded(picture, dpi, Compression::Balanced)
}

/// Encodes a picture for a page, in a hurry.
fn quick_png(picture: &Picture, dpi: f64) -> Vec<u8> {
    encoded(picture, dpi, Compression::Fast)
}

fn encoded(picture: &Picture, dpi: f64, compression: Compression) -> Vec<u8> {
    let mut file = Vec::new();
    let mut encoder = Encoder::new(&mut file, picture.width as u32, picture.height as u32);
    encoder.set_color(ColorType::Rgb);
    encoder.set_depth(BitDepth::Eight);
    encoder.set_compression(compression);
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

/// Most pixels of a picture on a page: more than a large screen shows.
const MOST_ON_PAGE: f64 = 1.2e6;

/// How fine a picture is drawn for a page: as asked, as far as a screen has use for it.
pub fn for_page(panel: &Panel, dpi: f64) -> f64 {
    let most = (MOST_ON_PAGE / (panel.width.inches() * panel.height.inches())).sqrt();
    if dpi.is_finite() { dpi.clamp(10.0, most) } else { 72.0 }
}

/// A mark of all that a panel's pictures are drawn from: the same as long as they are the same, whatever else is changed.
pub fn drawn_from(panel: &Panel) -> String {
    use std::hash::{DefaultHasher, Hash, Hasher};
    let mut hasher = DefaultHasher::new();
    let Panel { width, height, paper, tool, inks, moves, seed, .. } = panel;
    let drawn = (width, height, paper, tool, inks, moves, seed);
    serde_json::to_string(&drawn).unwrap_or_default().hash(&mut hasher);
    format!("{:016x}", hasher.finish())
}

/// A picture to be set straight into a page.
pub fn data_url(surface: &Surface, dpi: f64) -> Result<String, SizeError> {
    let file = quick_png(&draw(surface, Size { dpi })?, dpi);
    Ok(format!("data:image/png;base64,{}", STANDARD.encode(file)))
}
