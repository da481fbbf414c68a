//! How does what was taken of an archive go from there into the database? Through a file: one line of JSON for each part, a
//! photo's bytes after its line; so that neither side ever holds all of it.

use std::fs::File;
use std::io::{self, BufRead, BufReader, BufWriter, Read, Write};
use std::path::Path;

use rosy_store::archive::{Arrived, Part, Past, Row};
use serde::{Deserialize, Serialize};
use uuid::Uuid;

/// A part, as its line says it.
#[derive(Serialize, Deserialize)]
#[serde(rename_all = "kebab-case")]
enum Line<Thing, Change> {
    Thing(Thing),
    Change(Change),
    Photo { id: Uuid, bytes: u64 },
}

/// Writes parts into a file.
pub struct Written(BufWriter<File>);

impl Written {
    /// Begins a file.
    pub fn to(path: &Path) -> io::Result<Written> {
        Ok(Written(BufWriter::new(File::create(path)?)))
    }

    fn line(&mut self, line: &Line<impl Serialize, impl Serialize>) -> io::Result<()> {
        serde_json::to_writer(&mut self.0, line)?;
        self.0.write_all(b"\n")
    }

    /// A thing.
    pub fn thing(&mut self, row: &impl Serialize) -> io::Result<()> {
        self.line(&Line::<_, ()>::Thing(row))
    }

    /// A change.
    pub fn change(&mut self, past: &impl Serialize) -> io::Result<()> {
        self.line(&Line::<(), _>::Change(past))
    }

    /// A photo.
    pub fn photo(&mut self, id: Uuid, body: &[u8]) -> io::Result<()> {
        self.line(&Line::<(), ()>::Photo { id, bytes: body.len() as u64 })?;
        self.0.write_all(body)
    }

    /// All of it.
    pub fn finish(mut self) -> io::Result<()> {
        self.0.flush()
    }
}

/// What is to be set up, as whoever unpacked it says.
pub fn head_of(said: &[u8]) -> io::Result<Arrived> {
    Ok(serde_json::from_slice(said)?)
}

/// The parts in a file, one after the other.
pub struct Parts(BufReader<File>);

impl Parts {
    /// Opens it.
    pub fn of(path: &Path) -> io::Result<Parts> {
        Ok(Parts(BufReader::new(File::open(path)?)))
    }

    fn read(&mut self) -> io::Result<Option<Part>> {
        let mut line = Vec::new();
        if self.0.read_until(b'\n', &mut line)? == 0 {
            return Ok(None);
        }
        Ok(Some(match serde_json::from_slice::<Line<Row, Past>>(&line)? {
            Line::Thing(row) => Part::Thing(row),
            Line::Change(past) => Part::Change(past),
            Line::Photo { id, bytes } => {
                let mut body = vec![0; usize::try_from(bytes).unwrap_or(usize::MAX)];
                self.0.read_exact(&mut body)?;
                Part::Photo(id, body)
            }
        }))
    }
}

impl Iterator for Parts {
    type Item = io::Result<Part>;

    fn next(&mut self) -> Option<io::Result<Part>> {
        self.read().transpose()
    }
}
