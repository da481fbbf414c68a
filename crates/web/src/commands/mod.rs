//! The command line.

mod ask;
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
    /// Ask the model: one JSON document of at most 4 MB on standard input, one on standard output.
    Ask {
        /// overprint, junction, order, pairs, bridge, path, near, darker, panel, card, trim, sheet, shape, cover, edit, check, steps,
        /// press, flecks, evening or learn.
        question: String,
        /// Print the JSON Schemas of question and answer instead.
        #[arg(long)]
        schema: bool,
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
        Command::Schema => schema::run(),
        Command::Work => apart::child::run(),
    }
}
