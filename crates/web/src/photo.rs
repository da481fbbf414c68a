//! What becomes of a photo that is sent: upright, no larger than it is looked at, and with nothing in it but the picture.
//!
//! It is read within bounds of bytes, pixels and memory, turned as its own tag says, laid on white where it lets light through,
//! and written anew as JPEG: where and with what it was taken does not come along. Of an animated one the first picture stays.

use std::io::Cursor;

use image::codecs::jpeg::JpegEncoder;
use image::metadata::Orientation;
use image::{
    DynamicImage, ImageDecoder, ImageError, ImageFormat, ImageReader, Limits, Rgb, RgbImage, Rgba,
    guess_format,
};
use rosy_core::colour::{Illuminant, Srgb};
use rosy_core::search::colours_of;
use rosy_eye::picture::Picture;

/// Most bytes of a photo that is sent.
pub const MOST_BYTES: usize = 24 << 20;
/// Most pixels, and most along a side.
const MOST_PIXELS: u64 = 50_000_000;
const LONGEST: u32 = 16_000;
/// Most memory that reading one may take.
const MOST_MEMORY: u64 = 216 << 20;
/// Pixels along the longer side of what is kept, and how well it is written, in per cent.
pub const KEPT: u32 = 1_600;
const QUALITY: u8 = 85;

/// Why a photo is not kept, and what to do.
#[derive(Debug, thiserror::Error)]
pub enum PhotoError {
    /// No picture of a kind that is read.
    #[error("this is no photo that can be read: give a JPEG, PNG, WebP or GIF file")]
    Kind,
    /// A kind that phones write and browsers do not show.
    #[error(
        "this is a HEIC photo, which not every machine can show: save it as JPEG first, or have your phone take JPEG"
    )]
    Heic,
    /// Too many pixels.
    #[error(
        "the picture has {wide} × {high} pixels: make it smaller, to at most {longest} along a side and {most} in all"
    )]
    Pixels {
        /// Across.
        wide: u32,
        /// Down.
        high: u32,
        /// Most along a side.
        longest: u32,
        /// Most in all.
        most: u64,
    },
    /// Half a file.
    #[error("the photo ends in the middle: it was not copied whole. Copy it once more")]
    Truncated,
    /// Broken.
    #[error("the photo cannot be read: {0}. Open it in another program and save it once more")]
    Broken(String),
}

/// The photo as it is kept.
///
/// # Errors
/// A [`PhotoError`] with the remedy.
pub fn kept(bytes: &[u8]) -> Result<Vec<u8>, PhotoError> {
    let (mut photo, turned) = decoded(bytes, LONGEST, MOST_PIXELS)?;
    if photo.width().max(photo.height()) > KEPT {
        photo = photo.thumbnail(KEPT, KEPT);
    }
    photo.apply_orientation(turned);
    let mut written = Vec::new();
    JpegEncoder::new_with_quality(&mut written, QUALITY)
        .encode_image(&on_white(&photo))
        .map_err(|error| PhotoError::Broken(error.to_string()))?;
    Ok(written)
}

/// A picture of at most so many pixels along a side and in all, and how it is to be turned.
///
/// # Errors
/// A [`PhotoError`] with the remedy.
pub fn decoded(bytes: &[u8], longest: u32, most: u64) -> Result<(DynamicImage, Orientation), PhotoError> {
    let format = kind(bytes)?;
    if format == ImageFormat::Jpeg && !ends(bytes) {
        return Err(PhotoError::Truncated);
    }
    let mut reader = ImageReader::with_format(Cursor::new(bytes), format);
    let mut limits = Limits::default();
    (limits.max_image_width, limits.max_image_height) = (Some(LONGEST), Some(LONGEST));
    limits.max_alloc = Some(MOST_MEMORY);
    reader.limits(limits);
    let mut decoder = reader.into_decoder().map_err(broken)?;
    let (wide, high) = decoder.dimensions();
    if wide.max(high) > longest || u64::from(wide) * u64::from(high) > most {
        return Err(PhotoError::Pixels { wide, high, longest, most });
    }
    let turned = decoder.orientation().unwrap_or(Orientation::NoTransforms);
    Ok((DynamicImage::from_decoder(decoder).map_err(broken)?, turned))
}

fn kind(bytes: &[u8]) -> Result<ImageFormat, PhotoError> {
    let is_heic = bytes.len() > 12
        && &bytes[4..8] == b"ftyp"
        && [b"heic", b"heix", b"mif1", b"hevc", b"heim"].iter().any(|brand| &bytes[8..12] == *brand);
    if is_heic {
        return Err(PhotoError::Heic);
    }
    match guess_format(bytes) {
        Ok(format @ (ImageFormat::Jpeg | ImageFormat::Png | ImageFormat::WebP | ImageFormat::Gif)) => {
            Ok(format)
        }
        _ => Err(PhotoError::Kind),
    }
}

fn broken(error: ImageError) -> PhotoError {
    match error {
        ImageError::Limits(_) => PhotoError::Broken("it asks for more memory than a photo needs".into()),
        ImageError::IoError(_) => PhotoError::Truncated,
        other => PhotoError::Broken(other.to_string().to_lowercase()),
    }
}

/// Whether the picture in a JPEG file comes to its end: after its last header stands the mark that ends it. A little picture
/// in a header has a mark of its own, which does not count.
fn ends(bytes: &[u8]) -> bool {
    let mut at = 2;
    while let Some([0xff, marker, high, low]) = bytes.get(at..at + 4) {
        // The scan begins.
        if *marker == 0xda {
            break;
        }
        at += 2 + usize::from(*high) * 256 + usize::from(*low);
    }
    bytes.get(at..).is_some_and(|scan| scan.windows(2).any(|pair| pair == [0xff, 0xd9]))
}

/// What lets light through lies on white.
fn on_white(photo: &DynamicImage) -> RgbImage {
    if !photo.color().has_alpha() {
        return photo.to_rgb8();
    }
    let with = photo.to_rgba8();
    RgbImage::from_fn(with.width(), with.height(), |x, y| {
        let [r, g, b, alpha] = with.get_pixel(x, y).0;
        let on =
            |c: u8| ((u32::from(c) * u32::from(alpha) + 255 * (255 - u32::from(alpha)) + 127) / 255) as u8;
        Rgb([on(r), on(g), on(b)])
    })
}

/// The pixels of a photo that is looked at, the right way up.
///
/// # Errors
/// A [`PhotoError`] with the remedy.
pub fn picture(bytes: &[u8]) -> Result<Picture, PhotoError> {
    let (mut photo, turned) = decoded(bytes, LONGEST, MOST_PIXELS)?;
    photo.apply_orientation(turned);
    let pixels = on_white(&photo);
    let (wide, high) = (pixels.width() as usize, pixels.height() as usize);
    Picture::of(wide, high, pixels.into_raw()).ok_or_else(|| PhotoError::Broken("it has no pixels".into()))
}

/// Most pixels along a side: the page makes larger pictures smaller before it sends them.
const MOST_SEEN: u32 = 400;
/// Most colours told.
const MOST_COLOURS: usize = 6;

/// The few colours of a picture, written.
pub fn colours(bytes: &[u8]) -> Result<Vec<String>, String> {
    let saw = colours_of(pixels(bytes)?, MOST_COLOURS);
    Ok(saw.iter().map(|saw| saw.lab.on_screen(Illuminant::D65).0.to_string()).collect())
}

/// The pixels of a picture; what can be seen through is left out.
fn pixels(bytes: &[u8]) -> Result<Vec<Srgb>, String> {
    let (picture, _) =
        decoded(bytes, MOST_SEEN, u64::from(MOST_SEEN).pow(2)).map_err(|error| error.to_string())?;
    let is_seen = |pixel: &Rgba<u8>| pixel.0[3] > 127;
    let pixels = picture.to_rgba8();
    Ok(pixels
        .pixels()
        .filter(|pixel| is_seen(pixel))
        .map(|pixel| Srgb([pixel.0[0], pixel.0[1], pixel.0[2]]))
        .collect())
}

#[cfg(test)]
mod tests {
    use super::*;
    use image::codecs::gif::GifEncoder;
    use image::{Frame, GenericImageView, ImageBuffer, Luma, Rgba, RgbaImage};

    /// Red at the left, blue at the right.
    fn halves(wide: u32, high: u32) -> RgbImage {
        RgbImage::from_fn(
            wide,
            high,
            |x, _| if 2 * x < wide { Rgb([200, 30, 30]) } else { Rgb([30, 30, 200]) },
        )
    }

    fn written(photo: &DynamicImage, format: ImageFormat) -> Vec<u8> {
        let mut bytes = Cursor::new(Vec::new());
        photo.write_to(&mut bytes, format).unwrap();
        bytes.into_inner()
    }

    fn jpeg(photo: &RgbImage) -> Vec<u8> {
        written(&DynamicImage::ImageRgb8(photo.clone()), ImageFormat::Jpeg)
    }

    /// A JPEG whose tag says how it is turned, with a place where it was taken.
    fn tagged(photo: &RgbImage, orientation: u8) -> Vec<u8> {
        let plain = jpeg(photo);
        let mut exif = b"Exif\0\0MM\0\x2a\0\0\0\x08\0\x01\x01\x12\0\x03\0\0\0\x01\0".to_vec();
        exif.extend([orientation, 0, 0, 0, 0, 0, 0]);
        exif.extend(b"GPS of the string menders");
        let long = (exif.len() + 2) as u16;
        let mut bytes = plain[..2].to_vec();
        bytes.extend([0xff, 0xe1]);
        bytes.extend(long.to_be_bytes());
        bytes.extend(exif);
        bytes.extend(&plain[2..]);
        bytes
    }

    fn read(bytes: &[u8]) -> RgbImage {
        image::load_from_memory_with_format(bytes, ImageFormat::Jpeg).unwrap().to_rgb8()
    }

    fn is_red(pixel: &Rgb<u8>) -> bool {
        pixel.0[0] > 150 && pixel.0[2] < 100
    }

    #[test]
    fn it_is_turned_as_its_tag_says_and_keeps_nothing_but_the_picture() {
        // 6: the right side of what was written is the bottom of what is seen, so that what was left is at the top.
        for (orientation, size, red) in [
            (1, (80, 40), (10, 20)),
            (3, (80, 40), (70, 20)),
            (6, (40, 80), (20, 10)),
            (8, (40, 80), (20, 70)),
        ] {
            let bytes = tagged(&halves(80, 40), orientation);
            let own = kept(&bytes).unwrap();
            let photo = read(&own);
            assert_eq!(photo.dimensions(), size, "{orientation}");
            assert!(is_red(photo.get_pixel(red.0, red.1)), "{orientation}");
            let names = |text: &[u8], bytes: &[u8]| bytes.windows(text.len()).any(|part| part == text);
            assert!(names(b"GPS", &bytes) && !names(b"GPS", &own) && !names(b"Exif", &own));
        }
    }

    #[test]
    fn every_sort_of_picture_comes_out_as_a_photo() {
        let clear = RgbaImage::from_fn(40, 30, |x, _| Rgba([10, 120, 10, if x < 20 { 0 } else { 255 }]));
        let photo =
            read(&kept(&written(&DynamicImage::ImageRgba8(clear.clone()), ImageFormat::Png)).unwrap());
        assert!(photo.get_pixel(5, 15).0.iter().all(|c| *c > 245), "what is clear lies on white");
        assert!(photo.get_pixel(35, 15).0[0] < 60);

        let deep: ImageBuffer<Luma<u16>, Vec<u16>> =
            ImageBuffer::from_fn(40, 30, |x, _| Luma([x as u16 * 1_600]));
        let photo = read(&kept(&written(&DynamicImage::ImageLuma16(deep), ImageFormat::Png)).unwrap());
        let (first, last) = (photo.get_pixel(0, 5).0[0], photo.get_pixel(39, 5).0[0]);
        assert!(first < 10 && last > 235, "sixteen bits come out as light as they are: {first} {last}");

        let mut moving = Vec::new();
        let frames = [[200, 30, 30, 255], [30, 30, 200, 255]]
            .map(|c| Frame::new(RgbaImage::from_pixel(30, 30, Rgba(c))));
        GifEncoder::new(&mut moving).encode_frames(frames).unwrap();
        assert!(is_red(read(&kept(&moving).unwrap()).get_pixel(15, 15)), "the first picture of several");

        let still = written(&DynamicImage::ImageRgb8(halves(30, 30)), ImageFormat::WebP);
        assert!(is_red(read(&kept(&still).unwrap()).get_pixel(5, 15)));
    }

    /// Four inks as printers have them: a file of 16 by 16 pixels, left cyan and right yellow.
    #[test]
    fn four_inks_are_read_as_light() {
        let photo = read(&kept(include_bytes!("../tests/files/four-inks.jpg")).unwrap());
        let (cyan, yellow) = (photo.get_pixel(3, 8).0, photo.get_pixel(12, 8).0);
        assert!(cyan[0] < 100 && cyan[2] > 150, "{cyan:?}");
        assert!(yellow[2] < 100 && yellow[0] > 150, "{yellow:?}");
    }

    #[test]
    fn a_large_one_is_kept_small() {
        let photo = read(&kept(&jpeg(&halves(4_000, 2_000))).unwrap());
        assert_eq!(photo.dimensions(), (KEPT, KEPT / 2));
        assert!(is_red(photo.get_pixel(100, 400)) && !is_red(photo.get_pixel(1_500, 400)));
    }

    #[test]
    fn what_is_no_photo_is_refused_with_the_reason() {
        let says = |bytes: &[u8]| kept(bytes).unwrap_err().to_string();
        for bytes in [
            &b""[..],
            b"<svg xmlns='http://www.w3.org/2000/svg'/>",
            b"<script>alert(1)</script>",
            b"%PDF-1.7",
        ] {
            assert!(says(bytes).contains("JPEG, PNG, WebP or GIF"));
        }
        assert!(says(b"\0\0\0\x18ftypheic\0\0\0\0").contains("HEIC"));
        let whole = jpeg(&halves(300, 200));
        for part in [30, whole.len() / 2, whole.len() - 3] {
            assert!(kept(&whole[..part]).is_err(), "{part} of {}", whole.len());
        }
        assert!(says(&whole[..whole.len() / 2]).contains("ends in the middle"));
        // A little picture in a header ends, though the photo does not.
        let small = jpeg(&halves(16, 16));
        let mut within = whole[..2].to_vec();
        within.extend([0xff, 0xe1]);
        within.extend(((small.len() + 2) as u16).to_be_bytes());
        within.extend(&small);
        within.extend(&whole[2..whole.len() / 2]);
        assert!(says(&within).contains("ends in the middle"));
        let png = written(&DynamicImage::ImageRgb8(halves(60, 60)), ImageFormat::Png);
        assert!(kept(&png[..png.len() / 2]).is_err());
        // A file of a few bytes that says it is huge.
        let mut huge = png.clone();
        huge[16..24].copy_from_slice(&[0, 0, 0xea, 0x60, 0, 0, 0xea, 0x60]);
        assert!(kept(&huge).is_err());
        let mut noise = whole.clone();
        noise[whole.len() / 3..].iter_mut().enumerate().for_each(|(n, byte)| *byte = (n * 37 % 251) as u8);
        let _ = kept(&noise);
        assert!(DynamicImage::ImageRgb8(halves(2, 2)).dimensions() == (2, 2));
    }
}
