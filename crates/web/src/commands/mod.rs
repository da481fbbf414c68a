//! The command line.

mod ask;
mod photograph;
mod render;
mod schema;
mod serve;
mod streams;

use std::path::PathBuf;

use crate::apart;
use crate::clock::Clock;
use clap::{Parser, Subcommand};

/// Plans ink-blended card panels.
#[derive(Parser)]
#[command(name = "rosy-veil", version)]
struct Arguments {
    #[command(subcommand)]
    command: Command,
}

#[derive(Subcommand)]
enum Command {
    /// Serve the pages on 127.0.0.1. The database is named by DATABASE_URL.
    Serve {
        /// The port; 0 takes a free one.
        #[arg(long, default_value_t = 8730)]
        port: u16,
        /// Fill an empty database with the demo bench.
        #[arg(long)]
        demo: bool,
        /// Another name that the pages are asked for under, such as that of a proxy before them; may be given again.
        #[arg(long = "host")]
        hosts: Vec<String>,
        /// A file with the seconds by which the clock is ahead of the machine's, to try an evening out in a minute.
        #[arg(long)]
        clock: Option<PathBuf>,
    },
    /// Draw a panel's picture as a PNG file of its true size.
    Render {
        /// The panel's JSON file of at most 2 MB, or - for standard input.
        panel: PathBuf,
        /// The PNG file to write.
        #[arg(short, long)]
        output: PathBuf,
        /// Pixels to the inch, 5 to 1200, and at most 8000 along the longest side.
        #[arg(long, default_value_t = 300.0)]
        dpi: f64,
        /// Draw it as it looks after this step of the run sheet, counted from 1.
        #[arg(long)]
        after: Option<usize>,
    },
    /// Ask the model: one JSON document of at most 4 MB (34 MB with a photo in it) on standard input, one on standard
    /// output.
    Ask {
        /// overprint, junction, order, pairs, bridge, path, near, darker, panel, card, trim, sheet, shape, cover, edit, check, steps,
        /// press, flecks, evening, learn or swatch.
        question: String,
        /// Print the JSON Schemas of question and answer instead.
        #[arg(long)]
        schema: bool,
    },
    /// Take a photo with the simulated camera: of a swatch frame, or of a panel, laid by a simulated hand. No camera is needed to try
    /// the eye.
    Photograph {
        /// The JPEG file to write.
        #[arg(short, long)]
        output: PathBuf,
        /// A JSON file of at most 2 MB with the inks to lay, at most 24, or - for standard input; made-up ones where it is left out.
        #[arg(long)]
        inks: Option<PathBuf>,
        /// From which number the hand, the phone, the light and how it is held are drawn.
        #[arg(long, default_value_t = 1)]
        seed: u64,
        /// From which number the phone alone is drawn, so that several photos are taken with one.
        #[arg(long)]
        phone: Option<u64>,
        /// Pixels along the longer side, 600 to 4000.
        #[arg(long, default_value_t = 2_400)]
        pixels: usize,
        /// Hold it as well as it can be held: flat, by a window, with nothing in the way.
        #[arg(long)]
        well: bool,
        /// Let a lamp shine on a part of it.
        #[arg(long)]
        glare: bool,
        /// Let something shade a part of it.
        #[arg(long)]
        shadow: bool,
        /// Touch a patch in ten with a finger.
        #[arg(long)]
        fingers: bool,
        /// A JSON file of at most 2 MB with a panel to lay in place of a frame, or - for standard input.
        #[arg(long, conflicts_with_all = ["inks", "fingers"])]
        panel: Option<PathBuf>,
        /// How many of its moves are made; all of them where it is left out.
        #[arg(long, requires = "panel")]
        moves: Option<usize>,
        /// What goes wrong on the panel, once for each: strong, line, band, touch, finger, flecks, halo, bleed, slip, uneven, askew.
        #[arg(long, requires = "panel")]
        wrong: Vec<String>,
        /// By how much the hand lays more than planned, in per cent.
        #[arg(long, requires = "panel", default_value_t = 0, allow_negative_numbers = true)]
        stronger: i32,
    },
    /// Print the JSON Schema of a panel's document.
    Schema,
    /// Work apart for the program that began this one.
    #[command(hide = true)]
    Work,
}

/// Runs what was asked for on the command line.
pub fn run() -> Result<(), String> {
    match Arguments::parse().command {
        Command::Serve { port, demo, hosts, clock } => serve::run(port, demo, hosts, Clock { ahead: clock }),
        Command::Render { panel, output, dpi, after } => render::run(&panel, &output, dpi, after),
        Command::Ask { question, schema } => ask::run(&question, schema),
        Command::Photograph {
            output,
            inks,
            seed,
            phone,
            pixels,
            well,
            glare,
            shadow,
            fingers,
            panel,
            moves,
            wrong,
            stronger,
        } => {
            let taking = photograph::Taking { seed, phone, pixels, well, glare, shadow, fingers };
            match panel {
                Some(panel) => photograph::of_panel(&output, &panel, moves, (&wrong, stronger), taking),
                None => photograph::run(&output, inks.as_deref(), taking),
            }
        }
        Command::Schema => schema::run(),
        Command::Work => apart::child::run(),
    }
}
