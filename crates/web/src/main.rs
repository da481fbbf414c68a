//! Rosy Veil: plans ink-blended card panels. The pages, the JSON interface and the command line.

mod apart;
mod api;
mod archive;
mod assets;
mod clock;
mod commands;
mod demo;
mod drawing;
mod error;
mod files;
mod guard;
mod meets;
mod pages;
mod photo;
mod picture;
mod plans;
mod questions;
mod refusal;
mod routes;
mod saving;
mod say;
mod shapes;
mod state;
mod stock;
#[cfg(test)]
mod torn;
mod visitor;
mod workroom;

use std::process::ExitCode;

fn main() -> ExitCode {
    match commands::run() {
        Ok(()) => ExitCode::SUCCESS,
        Err(message) => {
            eprintln!("rosy-veil: {message}");
            ExitCode::FAILURE
        }
    }
}
