//! How fast is drawing, against encoding the same picture as PNG in the same run; and how soon does a
//! page preview answer? `./rosy bench` prints the table.

use std::time::{Duration, Instant};

use rosy_core::blend::Reading;
use rosy_core::colour::Colour;
use rosy_core::ink::{Ink, Kind, Paper, Surface, Tool, ToolKind};
use rosy_core::picture::{Picture, Size, draw};
use rosy_core::{Length, Panel, Units};

/// Times each thing is done; the middle time counts.
const TIMES: usize = 9;

fn panel(kinds: [Kind; 3]) -> Panel {
    let labs = [[57.0, -17.0, -31.0], [57.0, 56.0, -4.0], [80.0, 12.0, 62.0]];
    let inks = kinds.into_iter().zip(labs).map(|(kind, lab)| Ink {
        name: "Cockle".parse().expect("a name"),
        kind,
        colour: Colour::Lab(lab.into()),
        one_veil: None,
        full_veils: 7,
    });
    let paper = Paper {
        name: "Slack Water".parse().expect("a name"),
        colour: Colour::Lab([96.5, 0.3, -1.8].into()),
        surface: Surface::VerySmooth,
        thickness: Length::from_tenths_mm(3),
    };
    let tool = Tool { name: "Dome".parse().expect("a name"), kind: ToolKind::Brush };
    let (width, height) = (Length::from_64ths(4 * 64 + 16), Length::from_64ths(5 * 64 + 32));
    Panel::bare("Ebb at six".parse().expect("a name"), width, height, paper, tool, 1)
        .with_inks(inks.collect(), Units::Inches)
}

fn png(picture: &Picture, compression: png::Compression) -> Vec<u8> {
    let mut file = Vec::new();
    let mut encoder = png::Encoder::new(&mut file, picture.width as u32, picture.height as u32);
    encoder.set_color(png::ColorType::Rgb);
    encoder.set_compression(compression);
    let mut writer = encoder.write_header().expect("writing to memory");
    writer.write_image_data(&picture.rgb).expect("three bytes for each pixel");
    writer.finish().expect("writing to memory");
    file
}

fn middle<T>(mut work: impl FnMut() -> T) -> Duration {
    let mut times: Vec<Duration> = (0..TIMES)
        .map(|_| {
            let began = Instant::now();
            std::hint::black_box(work());
            began.elapsed()
        })
        .collect();
    times.sort_unstable();
    times[TIMES / 2]
}

fn row(what: &str, time: Duration, against: Duration) {
    let ratio = time.as_secs_f64() / against.as_secs_f64();
    println!("{what:<58} {:>8.1} ms {ratio:>7.2} ×", time.as_secs_f64() * 1e3);
}

fn main() {
    let dye = panel([Kind::Dye; 3]);
    let mixed = panel([Kind::Dye, Kind::Oxide, Kind::Dye]);
    let print = Size { dpi: 300.0 };
    let drawn = draw(&dye.materials(), usize::MAX, print).expect("a printable size");
    let encoding = middle(|| png(&drawn, png::Compression::Balanced));
    println!(
        "4 1/4 × 5 1/2 in, three inks, {} moves; × is against encoding it as PNG at 300 dpi\n",
        dye.moves.len()
    );
    row("encode the 300 dpi picture as PNG", encoding, encoding);
    for (name, panel) in [("three dyes", &dye), ("an oxide among dyes", &mixed)] {
        row(
            &format!("draw it at 300 dpi, {name}"),
            middle(|| draw(&panel.materials(), usize::MAX, print)),
            encoding,
        );
        let page = |panel: &Panel| {
            let drawn = draw(&panel.materials(), usize::MAX, Size { dpi: 110.0 }).expect("a page's size");
            png(&drawn, png::Compression::Fast)
        };
        let at_page_size = || page(panel);
        row(&format!("page preview's picture at 110 dpi, {name}"), middle(at_page_size), encoding);
        row(
            &format!("page preview's judgement, {name}"),
            middle(|| Reading::of(&panel.materials())),
            encoding,
        );
        let preview = || {
            let laid = panel.clone().laid();
            (page(&laid), Reading::of(&laid.materials()))
        };
        row(&format!("page preview in all, {name} (goal: under 50 ms)"), middle(preview), encoding);
    }
}
