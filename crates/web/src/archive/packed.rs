//! How is a bench written into an archive, part by part? What has been packed is taken away as it comes, so that an archive of
//! any size takes no more memory than a part of it.

use std::io::{self, Write};
use std::sync::{Arc, Mutex, PoisonError};

use rosy_core::Panel;
use rosy_core::ink::Ink;
use rosy_core::picture::file::Pace;
use rosy_core::record::Made;
use rosy_store::Bench;
use rosy_store::archive::{Past, Row};
use serde::Serialize;
use serde::de::DeserializeOwned;
use uuid::Uuid;
use zip::result::ZipError;
use zip::write::{SimpleFileOptions, StreamWriter};
use zip::{CompressionMethod, ZipWriter};

use super::{FORMAT, Head, VERSION};
use crate::files;
use crate::picture::file as picture;

/// Pixels to the inch of its pictures.
const DPI: f64 = 60.0;
const README: &str = "A whole bench of Rosy Veil: bring it to another machine on the page Benches.\r\n\r\n\
    bench.json    what this is\r\n\
    things/       inks, papers, tools, panels, evenings, records and the rest: a JSON list of each\r\n\
    changes.json  what can be undone\r\n\
    photos/       photos of what was made\r\n\
    inks.csv, made.csv, pictures/   the same for people and other programs; they are not read again\r\n";

/// What has been packed and not yet taken away.
#[derive(Clone, Default)]
struct Ready(Arc<Mutex<Vec<u8>>>);

impl Write for Ready {
    fn write(&mut self, bytes: &[u8]) -> io::Result<usize> {
        self.0.lock().unwrap_or_else(PoisonError::into_inner).extend_from_slice(bytes);
        Ok(bytes.len())
    }

    fn flush(&mut self) -> io::Result<()> {
        Ok(())
    }
}

/// An archive while it is written.
pub struct Packing {
    zip: ZipWriter<StreamWriter<Ready>>,
    ready: Ready,
    /// How many have been written into the list that is open.
    listed: usize,
    /// Pictures so far.
    pictures: usize,
}

fn packed() -> SimpleFileOptions {
    SimpleFileOptions::default().compression_method(CompressionMethod::Deflated)
}

/// What is packed already takes no further packing; larger than anything here, so that its size need not be known.
fn stored() -> SimpleFileOptions {
    SimpleFileOptions::default().compression_method(CompressionMethod::Stored)
}

impl Packing {
    /// Begins the archive of a bench.
    ///
    /// # Errors
    /// Where the bench has no name that can be written.
    pub fn of(bench: &Bench) -> Result<Packing, ZipError> {
        let ready = Ready::default();
        let zip = ZipWriter::new_stream(ready.clone());
        let mut packing = Packing { zip, ready, listed: 0, pictures: 0 };
        let name =
            bench.name.parse().map_err(|_| ZipError::InvalidArchive("a bench without a name".into()))?;
        let head = Head { format: FORMAT.into(), version: VERSION, name, units: bench.units };
        packing.file("README.txt", README.as_bytes())?;
        packing.file("bench.json", &serde_json::to_vec_pretty(&head).map_err(io::Error::from)?)?;
        Ok(packing)
    }

    /// What has been packed since it was taken away last.
    pub fn taken(&self) -> Vec<u8> {
        std::mem::take(&mut *self.ready.0.lock().unwrap_or_else(PoisonError::into_inner))
    }

    fn file(&mut self, name: &str, body: &[u8]) -> Result<(), ZipError> {
        self.zip.start_file(name, packed())?;
        Ok(self.zip.write_all(body)?)
    }

    /// Begins a list.
    ///
    /// # Errors
    /// Where the archive is full.
    pub fn list(&mut self, name: &str) -> Result<(), ZipError> {
        self.listed = 0;
        self.zip.start_file(name, packed())?;
        Ok(self.zip.write_all(b"[")?)
    }

    /// Goes on with the list that is open.
    ///
    /// # Errors
    /// Where the archive is full.
    pub fn more(&mut self, rows: &[impl Serialize]) -> Result<(), ZipError> {
        for row in rows {
            self.zip.write_all(if self.listed == 0 { b"\n" } else { b",\n" })?;
            serde_json::to_writer(&mut self.zip, row).map_err(io::Error::from)?;
            self.listed += 1;
        }
        Ok(())
    }

    /// Ends the list.
    ///
    /// # Errors
    /// Where the archive is full.
    pub fn end(&mut self) -> Result<(), ZipError> {
        Ok(self.zip.write_all(if self.listed == 0 { b"]\n" } else { b"\n]\n" })?)
    }

    /// A photo.
    ///
    /// # Errors
    /// Where the archive is full.
    pub fn photo(&mut self, id: Uuid, body: &[u8]) -> Result<(), ZipError> {
        self.zip.start_file(format!("photos/{id}.jpg"), stored())?;
        Ok(self.zip.write_all(body)?)
    }

    /// The tables for people.
    ///
    /// # Errors
    /// Where the archive is full.
    pub fn tables(&mut self, inks: &[Ink], made: &str) -> Result<(), ZipError> {
        self.file("inks.csv", files::write_csv(inks.iter()).as_bytes())?;
        self.file("made.csv", made.as_bytes())
    }

    /// Pictures of panels, or of what was made.
    ///
    /// # Errors
    /// Where the archive is full.
    pub fn pictures(&mut self, of: &str, panels: &[Panel]) -> Result<(), ZipError> {
        for panel in panels {
            self.pictures += 1;
            if let Ok(body) = picture(&panel.surface(), DPI, Pace::Quick) {
                let name = format!("pictures/{of}/{:03} {}.png", self.pictures, plain(panel.name.as_str()));
                self.zip.start_file(name, stored())?;
                self.zip.write_all(&body)?;
            }
        }
        Ok(())
    }

    /// The last of it.
    ///
    /// # Errors
    /// Where the archive is full.
    pub fn finish(self) -> Result<Vec<u8>, ZipError> {
        self.zip.finish()?;
        Ok(std::mem::take(&mut *self.ready.0.lock().unwrap_or_else(PoisonError::into_inner)))
    }
}

/// Rows as what they are, those that still can be read.
pub fn of_rows<T: DeserializeOwned>(rows: &[Row]) -> Vec<T> {
    rows.iter().filter_map(|row| T::deserialize(&row.body).ok()).collect()
}

/// Records as a table, without its head where that has been written.
pub fn table_of(made: &[Made], is_first: bool) -> String {
    let table = files::write_made(made.iter());
    if is_first { table } else { table.split_once('\n').map_or(String::new(), |(_, rows)| rows.into()) }
}

/// A name that every system takes for a file.
fn plain(name: &str) -> String {
    name.chars().map(|c| if c.is_alphanumeric() || c == ' ' || c == '-' { c } else { '_' }).take(60).collect()
}

/// Changes without their numbers.
pub fn changes(rows: Vec<(i64, Past)>) -> Vec<Past> {
    rows.into_iter().map(|(_, past)| past).collect()
}
