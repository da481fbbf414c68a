//! The command line.

mod ask;
mod render;
mod schema;
mod serve;

pub use ask::answer;

use std::path::PathBuf;

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
    },
    /// Draw a panel's picture as a PNG file of its true size.
    Render {
        /// The panel's JSON file, or - for standard input.
        panel: PathBuf,
        /// The PNG file to write.
        #[arg(short, long)]
        output: PathBuf,
        /// Pixels to the inch.
        #[arg(long, default_value_t = 300.0)]
        dpi: f64,
        /// Draw it as it looks after this step of the run sheet, counted from 1.
        #[arg(long)]
        after: Option<usize>,
    },
    /// Ask the model: one JSON document on standard input, one on standard output.
    Ask {
        /// overprint, junction, order, panel, card, trim or sheet.
        question: String,
        /// Print the JSON Schemas of question and answer instead.
        #[arg(long)]
        schema: bool,
    },
    /// Print the JSON Schema of a panel's document.
    Schema,
}

/// Runs what was asked for on the command line.
pub fn run() -> Result<(), String> {
    match Arguments::parse().command {
        Command::Serve { port, demo } => serve::run(port, demo),
        Command::Render { panel, output, dpi, after } => render::run(&panel, &output, dpi, after),
        Command::Ask { question, schema } => ask::run(&question, schema),
        Command::Schema => schema::run(),
    }
}
