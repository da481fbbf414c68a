//! Readers of outside bytes, fed what has been torn: files that are read well, with bytes changed, cut out, doubled and joined to
//! others, from a seed. `./rosy check` gives each reader a minute (`ROSY_TORN` says how many seconds); the suite a moment. What
//! is read has to be what may be kept; nothing may break off, and every refusal is short.

use std::io::{Cursor, Write};
use std::time::{Duration, Instant};

use image::{DynamicImage, ImageFormat, Rgb, RgbImage};
use rand_chacha::ChaCha8Rng;
use rand_core::{Rng, SeedableRng};
use rosy_core::shape::outline::{MOST_CROSSINGS, MOST_POINTS};
use zip::ZipWriter;
use zip::write::SimpleFileOptions;

use crate::{archive, files, photo, questions};

/// Most letters of a refusal.
const LONGEST: usize = 2_000;

fn how_long() -> Duration {
    let seconds = std::env::var("ROSY_TORN").ok().and_then(|text| text.parse().ok());
    seconds.map_or(Duration::from_millis(700), Duration::from_secs)
}

/// One file torn, a part of another among it now and then.
fn torn(random: &mut ChaCha8Rng, files: &[Vec<u8>]) -> Vec<u8> {
    let below = |random: &mut ChaCha8Rng, most: usize| random.next_u32() as usize % most.max(1);
    let mut bytes = files[below(random, files.len())].clone();
    for _ in 0..1 + below(random, 8) {
        if bytes.is_empty() {
            break;
        }
        let at = below(random, bytes.len());
        let end = (at + 1 + below(random, 120)).min(bytes.len());
        match below(random, 7) {
            0 => bytes[at] = random.next_u32() as u8,
            1 => drop(bytes.drain(at..end)),
            2 => {
                let copy = bytes[at..end].to_vec();
                let times = [1, 3, 200][below(random, 3)];
                bytes.splice(at..at, copy.repeat(times));
            }
            3 => {
                let other = &files[below(random, files.len())];
                let from = below(random, other.len());
                let part = other[from..(from + 400).min(other.len())].to_vec();
                bytes.splice(at..end, part);
            }
            4 => {
                let hostile: [&[u8]; 8] = [
                    b"\0",
                    b"1e308",
                    b"-1",
                    b"99999999999999999999",
                    b"\xff\xfe",
                    b"\\u0000",
                    b"[[[[[[[[",
                    b"\"",
                ];
                bytes.splice(at..at, hostile[below(random, hostile.len())].to_vec());
            }
            5 => bytes.truncate(at),
            _ => bytes[at..end].iter_mut().for_each(|byte| *byte = byte.wrapping_add(1)),
        }
        bytes.truncate(400_000);
    }
    bytes
}

/// Feeds a reader as long as there is time; what comes out well is held against what may be.
fn feed<T>(files: &[Vec<u8>], read: impl Fn(&[u8]) -> Result<T, String>, holds: impl Fn(&T) -> bool) {
    let mut random = ChaCha8Rng::seed_from_u64(8);
    let until = Instant::now() + how_long();
    let (mut well, mut refused) = (0, 0);
    for whole in files {
        assert!(read(whole).is_ok_and(|read| holds(&read)), "what is not torn is read well");
    }
    while Instant::now() < until {
        let bytes = torn(&mut random, files);
        match read(&bytes) {
            Ok(read) => {
                assert!(holds(&read), "{:?}", String::from_utf8_lossy(&bytes));
                well += 1;
            }
            Err(says) => {
                assert!(!says.is_empty() && says.chars().count() < LONGEST, "{says}");
                refused += 1;
            }
        }
    }
    println!("{well} read, {refused} refused");
    assert!(refused > 0);
}

#[test]
fn drawings() {
    let svg = |inside: &str| {
        format!("<svg xmlns='http://www.w3.org/2000/svg' width='90mm' height='50mm' viewBox='0 0 90 50'>{inside}</svg>").into_bytes()
    };
    let files = [
        svg(
            "<style>.a, g > .b { fill: #123; stroke-width: 2 }</style><g transform='rotate(9 4 4)'><path class='a' id='p' d='M0 0C10 0 10 10 0 10zM20 5a4 4 0 1 0 8 0z'/><use href='#p' x='30'/></g>",
        ),
        svg(
            "<polygon points='0,0 9,0 9,9 1,7 20,3' fill-rule='evenodd'/><circle cx='40' cy='20' r='9'/><ellipse cx='9' cy='9' rx='3' ry='2'/>",
        ),
        svg(
            "<path d='M3 4h5v6l3 3q4 4 1 9t2 2s4 4 9 2z' style='fill:red;stroke:none'/><rect x='2' y='3' rx='1' width='30' height='9'/>",
        ),
    ];
    feed(
        &files,
        |bytes| {
            let brought = rosy_core::shape::svg::read(&String::from_utf8_lossy(bytes));
            brought.map_err(|error| error.to_string())
        },
        |brought| {
            let drawn = rosy_core::shape::outline::contours(brought.outline.path());
            brought.outline.points() <= MOST_POINTS
                && rosy_core::shape::crossings::crossings(&drawn).found() <= MOST_CROSSINGS
                && brought.outline.size().0.max(brought.outline.size().1) <= 2_000.0
        },
    );
}

#[test]
fn inks() {
    let csv = "name,kind,colour,one light pass,light passes\n\"Rope, wet\",oxide,55 60.5 -4,,6\nCockle,dye,#d8456b,#f3d0da,\n\"'=SUM(A1)\",dye,#d8456b,,\n";
    let whole = files::read_inks(csv.as_bytes()).expect("inks");
    let json = files::write_json(&whole.inks).into_bytes();
    let wide: Vec<u8> = format!("\u{feff}{csv}").encode_utf16().flat_map(u16::to_le_bytes).collect();
    let measured = files::write_measured(&whole.inks).into_bytes();
    let spectra = b"CGATS.17\nBEGIN_DATA_FORMAT\nSAMPLE_NAME NM400 NM420 NM440 NM460 NM480 NM500 NM520 NM540 NM560 NM580 NM600 NM620 NM640 NM660 NM680 NM700\nEND_DATA_FORMAT\nBEGIN_DATA\n\"Sea Rose\" 40 42 40 36 30 24 18 16 22 40 60 70 74 76 78 80\nEND_DATA\n";
    feed(&[csv.into(), json, wide, measured, spectra.to_vec()], files::read_inks, |file| {
        file.inks.len() <= files::MOST_INKS && file.inks.iter().all(|ink| ink.check().is_ok())
    });
}

#[test]
fn documents() {
    let demo = |text: &str| text.as_bytes().to_vec();
    let panels = [
        demo(include_str!("../../core/tests/version_1/ebb_down.json")),
        demo(include_str!("../../core/tests/version_1/lamp_up.json")),
    ];
    feed(&panels, files::read_panel, |panel| panel.check().is_ok());
    let junction = r##"{"inks":[{"colour":{"lab":[57,-17,-31]}},{"colour":{"srgb":"#d65c90"}}]}"##;
    feed(&[junction.into()], |bytes| questions::answer("junction", bytes), |_| true);
}

#[test]
fn pictures() {
    let seen = RgbImage::from_fn(80, 60, |x, y| Rgb([x as u8 * 3, y as u8 * 4, 90]));
    let files = [ImageFormat::Jpeg, ImageFormat::Png, ImageFormat::WebP, ImageFormat::Gif].map(|format| {
        let mut bytes = Cursor::new(Vec::new());
        DynamicImage::ImageRgb8(seen.clone()).write_to(&mut bytes, format).expect("a picture");
        bytes.into_inner()
    });
    feed(
        &files,
        |bytes| photo::kept(bytes).map_err(|error| error.to_string()),
        |kept| image::load_from_memory_with_format(kept, ImageFormat::Jpeg).is_ok(),
    );
    feed(&files, photo::colours, |colours| colours.len() <= 6);
}

#[test]
fn archives() {
    let kelp = r##"[{"id":"01a217ac-c74c-71d5-8e71-b1ccda0da9e3","kind":"ink","revision":1,"changed_at":"2026-01-01T00:00:00Z","body":{"name":"Kelp","kind":"dye","colour":{"srgb":"#445544"},"full_veils":7}}]"##;
    let changes = r##"[{"scope":"drawer","label":"add Kelp","things":[{"id":"01a217ac-c74c-71d5-8e71-b1ccda0da9e3","kind":"ink","before":null,"after":{"name":"Kelp","kind":"dye","colour":{"srgb":"#445544"},"full_veils":7}}],"undone":false,"made_at":"2026-01-01T00:00:00Z"}]"##;
    let head = r#"{"format":"rosy-veil bench","version":1,"name":"Flag stewards","units":"inches"}"#;
    let packed = |how: zip::CompressionMethod| {
        let mut zip = ZipWriter::new(Cursor::new(Vec::new()));
        for (name, body) in [("bench.json", head), ("things/ink.json", kelp), ("changes.json", changes)] {
            let options = SimpleFileOptions::default().compression_method(how);
            zip.start_file(name, options).expect("a file");
            zip.write_all(body.as_bytes()).expect("it can be written");
        }
        zip.finish().expect("an archive").into_inner()
    };
    let files = [packed(zip::CompressionMethod::Stored), packed(zip::CompressionMethod::Deflated)];
    let folder = tempfile::tempdir().expect("a folder");
    let (from, to) = (folder.path().join("from"), folder.path().join("to"));
    feed(
        &files,
        |bytes| {
            std::fs::write(&from, bytes).map_err(|error| error.to_string())?;
            archive::unpacked(&from, &to).map_err(|error| error.to_string())
        },
        |arrived| {
            let parts = archive::Parts::of(&to).expect("what was taken");
            parts.into_iter().all(|part| part.is_ok()) && arrived.ids.len() <= 2
        },
    );
}
