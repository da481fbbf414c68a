//! Pictures as PNG files that know their size.

use base64::Engine;
use base64::engine::general_purpose::STANDARD;
use png::{BitDepth, ColorType, Compression, Encoder, PixelDimensions, SrgbRenderingIntent, Unit};
use rosy_core::panel::Materials;
use rosy_core::picture::{Picture, Size, SizeError, draw};

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

/// A picture to be set straight into a page.
pub fn data_url(materials: &Materials, after: usize, dpi: f64) -> Result<String, SizeError> {
    let file = quick_png(&draw(materials, after, Size { dpi })?, dpi);
    Ok(format!("data:image/png;base64,{}", STANDARD.encode(file)))
}
