//! What of an archive can be taken, and what is refused? It is read as what it must be, row by row while it is unpacked, within
//! bounds of bytes, rows and depth, and every document is checked as one that is sent.

use std::cell::Cell;
use std::collections::{BTreeSet, HashMap, HashSet};
use std::fmt;
use std::fs::File;
use std::io::{self, BufReader, Read};
use std::path::Path;
use std::rc::Rc;

use chrono::{DateTime, Datelike, Utc};
use rosy_core::Panel;
use rosy_core::card::{Envelope, Format};
use rosy_core::cut::{Batch, Sheet};
use rosy_core::evening::Sitting;
use rosy_core::ink::{Ink, Paper, Tool};
use rosy_core::learn::hand::{Showing, Showings};
use rosy_core::learn::{Hands, Pace};
use rosy_core::practice::Scores;
use rosy_core::record::{Made, Photos};
use rosy_core::shape::Shape;
use rosy_core::supply::Shelf;
use rosy_core::surface::Heated;
use rosy_eye::phone::Phone;
use rosy_store::Thing;
use rosy_store::archive::Arrived;
use serde::de::{DeserializeOwned, Deserializer, SeqAccess, Visitor};
use serde::{Deserialize, Serialize};
use serde_json::value::RawValue;
use uuid::Uuid;
use zip::ZipArchive;

use super::parts::Written;
use super::{FORMAT, Head, VERSION};
use crate::photo;

/// Most bytes of all that is in an archive, and of one row.
const MOST_INSIDE: u64 = 512 << 20;
const MOST_ROW: u64 = 16 << 20;
/// Most files in it, most things of one bench, and most changes.
const MOST_FILES: usize = 20_000;
const MOST_THINGS: usize = 50_000;
const MOST_CHANGES: usize = 50_000;
/// Years that a calendar has.
const YEARS: std::ops::RangeInclusive<i32> = 1..=9999;

/// Why an archive is not brought in, and what to do.
#[derive(Debug, thiserror::Error)]
pub enum ArchiveError {
    /// No archive.
    #[error("this is no ZIP file, or not the whole of one: choose the archive that a bench was taken out as")]
    NoArchive,
    /// Another's.
    #[error("this ZIP file is no bench of Rosy Veil: {0} is missing in it, or cannot be read")]
    Other(&'static str),
    /// Written by a later program.
    #[error("the archive was written by a later Rosy Veil (version {0}): bring this one up to date first")]
    Later(u32),
    /// Too much.
    #[error("the archive holds more than a bench can: {0}")]
    Much(&'static str),
    /// Something in it.
    #[error("in {file}: {says}")]
    Part {
        /// In which file.
        file: String,
        /// What is wrong.
        says: String,
    },
    /// What was taken could not be written down.
    #[error("there is no room to unpack the archive: {0}")]
    NoRoom(io::Error),
}

/// A row of a list, its document as it is written.
#[derive(Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
struct Row {
    id: Uuid,
    kind: String,
    revision: i64,
    changed_at: DateTime<Utc>,
    body: Box<RawValue>,
}

/// A change, its documents as they are written.
#[derive(Serialize, Deserialize)]
#[serde(deny_unknown_fields)]
struct Past {
    scope: String,
    label: String,
    things: Vec<Changed>,
    undone: bool,
    made_at: DateTime<Utc>,
    #[serde(default, skip_serializing_if = "Option::is_none")]
    mark: Option<Uuid>,
}

/// What a change was made of.
#[derive(Serialize, Deserialize)]
struct Changed {
    id: Uuid,
    kind: String,
    before: Option<Box<RawValue>>,
    after: Option<Box<RawValue>>,
}

/// Reads an archive, all of it or nothing, and writes what can be taken into another file.
///
/// # Errors
/// An [`ArchiveError`] with the remedy.
pub fn unpacked(from: &Path, to: &Path) -> Result<Arrived, ArchiveError> {
    let archive = File::open(from).map_err(ArchiveError::NoRoom)?;
    let mut zip = ZipArchive::new(BufReader::new(archive)).map_err(|_| ArchiveError::NoArchive)?;
    if zip.len() > MOST_FILES {
        return Err(ArchiveError::Much("too many files"));
    }
    let names: BTreeSet<String> = zip.file_names().map(str::to_owned).collect();
    let mut reading = Reading { zip: &mut zip, inside: Rc::new(Cell::new(MOST_INSIDE)) };
    let head: Head = reading
        .whole("bench.json")
        .and_then(|body| serde_json::from_slice(&body).map_err(|_| ArchiveError::Other("bench.json")))
        .map_err(|_| ArchiveError::Other("bench.json"))?;
    if head.format != FORMAT {
        return Err(ArchiveError::Other("bench.json"));
    }
    if head.version > VERSION {
        return Err(ArchiveError::Later(head.version));
    }
    if !names.contains("changes.json") {
        return Err(ArchiveError::Other("changes.json"));
    }
    let mut written = Written::to(to).map_err(ArchiveError::NoRoom)?;
    let mut ids = HashSet::new();
    for name in names.iter().filter(|name| name.starts_with("things/") && name.ends_with(".json")) {
        let kind = name.trim_start_matches("things/").trim_end_matches(".json");
        reading.list(name, |row: Row| {
            let wrong = |says: String| part(name, format!("{kind} {}: {says}", row.id));
            if row.kind != kind || row.revision < 0 {
                return Err(wrong("it does not belong there".into()));
            }
            if !YEARS.contains(&row.changed_at.year()) {
                return Err(wrong("when it was changed is no day of the calendar".into()));
            }
            checked(kind, row.body.get()).map_err(wrong)?;
            if !ids.insert(row.id) {
                return Err(wrong("two things have this number".into()));
            }
            if ids.len() > MOST_THINGS {
                return Err(ArchiveError::Much("too many things"));
            }
            written.thing(&row).map_err(ArchiveError::NoRoom)
        })?;
    }
    let left = changes(&mut reading, &mut ids, &mut written)?;
    let mut photos = HashSet::new();
    for name in names.iter().filter(|name| name.starts_with("photos/") && name.ends_with(".jpg")) {
        let id = name.trim_start_matches("photos/").trim_end_matches(".jpg");
        let id: Uuid = id.parse().map_err(|_| part(name, "its name is no number of a photo".into()))?;
        if !photos.insert(id) {
            return Err(part(name, "two photos have this number".into()));
        }
        // As one that is sent: nothing but the picture comes along.
        let body = reading.whole(name)?;
        let kept = photo::kept(&body).map_err(|error| part(name, error.to_string()))?;
        written.photo(id, &kept).map_err(ArchiveError::NoRoom)?;
    }
    written.finish().map_err(ArchiveError::NoRoom)?;
    ids.extend(photos);
    Ok(Arrived { name: head.name, units: head.units, ids, left })
}

fn part(file: &str, says: String) -> ArchiveError {
    ArchiveError::Part { file: file.into(), says }
}

/// Takes the changes that can still be undone, or done again; how many were left out. They are read twice: whether one can be
/// undone follows from what was made after it.
fn changes(
    reading: &mut Reading,
    ids: &mut HashSet<Uuid>,
    written: &mut Written,
) -> Result<usize, ArchiveError> {
    const FILE: &str = "changes.json";
    let mut known: Vec<Known> = Vec::new();
    reading.list(FILE, |past: Past| {
        if known.len() >= MOST_CHANGES {
            return Err(ArchiveError::Much("too many changes"));
        }
        let is_kept = |part: &Changed| {
            let bodies = [&part.before, &part.after].into_iter().flatten();
            bodies.into_iter().all(|body| checked(&part.kind, body.get()).is_ok())
        };
        let can_be = YEARS.contains(&past.made_at.year())
            && !past.things.is_empty()
            && past.things.iter().all(is_kept);
        let parts = past.things.iter().map(|part| (part.id, part.before.is_some(), part.after.is_some()));
        known.push(Known { undone: past.undone, can_be, parts: parts.collect() });
        Ok(())
    })?;
    let kept = can_be_undone(&known, ids);
    let left = kept.iter().filter(|kept| !**kept).count();
    let mut at = 0;
    let mut marks = HashSet::new();
    reading.list(FILE, |mut past: Past| {
        at += 1;
        if !kept[at - 1] {
            return Ok(());
        }
        ids.extend(past.things.iter().map(|part| part.id));
        // A mark tells one change: the first that has it.
        past.mark = past.mark.filter(|mark| marks.insert(*mark));
        written.change(&past).map_err(ArchiveError::NoRoom)
    })?;
    Ok(left)
}

/// What has to be known of a change to see whether it can be undone.
struct Known {
    undone: bool,
    /// Whether all it is made of is what a bench keeps.
    can_be: bool,
    /// Which things it changes, and whether each was there before and after.
    parts: Vec<(Uuid, bool, bool)>,
}

/// Which changes can be undone, one after the other from the last, or done again from the first that was undone: what they
/// speak of has to be there, or not, as they say.
fn can_be_undone(changes: &[Known], things: &HashSet<Uuid>) -> Vec<bool> {
    let mut kept = vec![false; changes.len()];
    let mut walk = |order: &mut dyn Iterator<Item = usize>, back: bool| {
        let mut there: HashMap<Uuid, bool> = HashMap::new();
        for at in order {
            let change = &changes[at];
            let is_so = |id: &Uuid, there: &HashMap<Uuid, bool>| {
                there.get(id).copied().unwrap_or_else(|| things.contains(id))
            };
            let holds = change
                .parts
                .iter()
                .all(|(id, before, after)| is_so(id, &there) == if back { *after } else { *before });
            if change.can_be && holds {
                kept[at] = true;
                there.extend(
                    change.parts.iter().map(|(id, before, after)| (*id, if back { *before } else { *after })),
                );
            }
        }
    };
    walk(&mut (0..changes.len()).rev().filter(|at| !changes[*at].undone), true);
    walk(&mut (0..changes.len()).filter(|at| changes[*at].undone), false);
    kept
}

/// An archive, and how many bytes may still come out of it.
struct Reading<'a> {
    zip: &'a mut ZipArchive<BufReader<File>>,
    inside: Rc<Cell<u64>>,
}

impl Reading<'_> {
    /// A whole file, of the size that one row may have.
    fn whole(&mut self, name: &str) -> Result<Vec<u8>, ArchiveError> {
        let file = self.zip.by_name(name).map_err(|_| ArchiveError::NoArchive)?;
        let row = Rc::new(Cell::new(MOST_ROW.max(photo::MOST_BYTES as u64)));
        let mut metered = Metered { from: file, inside: self.inside.clone(), row };
        let mut body = Vec::new();
        let read = metered.read_to_end(&mut body);
        read.map_err(|_| metered.why(name, "it ends in the middle"))?;
        Ok(body)
    }

    /// A list, row by row.
    fn list<T: DeserializeOwned>(
        &mut self,
        name: &str,
        mut take: impl FnMut(T) -> Result<(), ArchiveError>,
    ) -> Result<(), ArchiveError> {
        let file = self.zip.by_name(name).map_err(|_| ArchiveError::NoArchive)?;
        let row = Rc::new(Cell::new(MOST_ROW));
        let metered = Metered { from: BufReader::new(file), inside: self.inside.clone(), row: row.clone() };
        let mut refused = None;
        let mut reader = serde_json::Deserializer::from_reader(metered);
        let rows = Rows {
            take: |read| {
                row.set(MOST_ROW);
                take(read).map_err(|error| refused = Some(error)).is_ok()
            },
            of: std::marker::PhantomData,
        };
        let read = reader.deserialize_seq(rows).and_then(|()| reader.end());
        match (refused, read) {
            (Some(refused), _) => Err(refused),
            (None, Ok(())) => Ok(()),
            (None, Err(error)) => {
                let gone = Metered { from: io::empty(), inside: self.inside.clone(), row };
                Err(gone.why(name, &format!("it cannot be read: {error}")))
            }
        }
    }
}

/// A reader that stops where too much has come out of it: what a file says of its own size is not to be trusted.
struct Metered<R> {
    from: R,
    inside: Rc<Cell<u64>>,
    row: Rc<Cell<u64>>,
}

impl<R> Metered<R> {
    /// Why reading ended.
    fn why(&self, name: &str, otherwise: &str) -> ArchiveError {
        if self.inside.get() == 0 {
            ArchiveError::Much("more than 512 MB")
        } else if self.row.get() == 0 {
            part(name, format!("one entry in it has more than {} MB", MOST_ROW >> 20))
        } else {
            part(name, otherwise.into())
        }
    }
}

impl<R: Read> Read for Metered<R> {
    fn read(&mut self, into: &mut [u8]) -> io::Result<usize> {
        let most = self.inside.get().min(self.row.get());
        if most == 0 && !into.is_empty() {
            return Err(io::ErrorKind::FileTooLarge.into());
        }
        let room = into.len().min(usize::try_from(most).unwrap_or(usize::MAX));
        let count = self.from.read(&mut into[..room])?;
        self.inside.set(self.inside.get() - count as u64);
        self.row.set(self.row.get() - count as u64);
        Ok(count)
    }
}

/// The rows of a list, each taken as it comes; it ends where one is not taken.
struct Rows<T, F> {
    take: F,
    of: std::marker::PhantomData<T>,
}

impl<'de, T: Deserialize<'de>, F: FnMut(T) -> bool> Visitor<'de> for Rows<T, F> {
    type Value = ();

    fn expecting(&self, f: &mut fmt::Formatter) -> fmt::Result {
        f.write_str("a list")
    }

    fn visit_seq<A: SeqAccess<'de>>(mut self, mut rows: A) -> Result<(), A::Error> {
        while let Some(row) = rows.next_element()? {
            if !(self.take)(row) {
                return Err(serde::de::Error::custom("refused"));
            }
        }
        Ok(())
    }
}

/// Refuses a document that a bench would not keep itself.
fn checked(kind: &str, body: &str) -> Result<(), String> {
    fn well<E: std::fmt::Display>(checked: Result<(), E>) -> Result<(), String> {
        checked.map_err(|error| error.to_string())
    }
    match kind {
        Ink::KIND => well(of::<Ink>(body)?.check()),
        Paper::KIND => well(of::<Paper>(body)?.check()),
        Tool::KIND => well(of::<Tool>(body)?.check()),
        Panel::KIND => well(of::<Panel>(body)?.check()),
        Format::KIND => well(of::<Format>(body)?.check()),
        Envelope::KIND => well(of::<Envelope>(body)?.check()),
        Shape::KIND => well(of::<Shape>(body)?.check()),
        // Whoever plans a cutting refuses what cannot be cut.
        Sheet::KIND => of::<Sheet>(body).map(drop),
        Batch::KIND => of::<Batch>(body).map(drop),
        Made::KIND => well(of::<Made>(body)?.panel.check()),
        Pace::KIND => well(of::<Pace>(body)?.check()),
        Hands::KIND => well(of::<Hands>(body)?.check()),
        Showings::KIND if of::<Showings>(body)?.0.iter().all(Showing::is_one) => Ok(()),
        Showings::KIND => Err("what a panel showed is no figure".into()),
        Scores::KIND => of::<Scores>(body).map(drop),
        Photos::KIND => of::<Photos>(body).map(drop),
        Heated::KIND => of::<Heated>(body).map(drop),
        Phone::KIND => well(of::<Phone>(body)?.check()),
        Shelf::KIND if of::<Shelf>(body)?.is_possible() => Ok(()),
        Shelf::KIND => Err("something there goes no way at all".into()),
        Sitting::KIND => {
            let sitting = of::<Sitting>(body)?;
            sitting.cards.iter().try_for_each(|card| well(card.check()))?;
            // What was told of it has to be what can be told.
            let mut again = Sitting { log: Vec::new(), ..sitting.clone() };
            well(again.tell(&sitting.log))
        }
        _ => Err("no bench keeps such things".into()),
    }
}

fn of<T: Thing>(body: &str) -> Result<T, String> {
    serde_json::from_str(body).map_err(|error| error.to_string())
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn only_what_can_be_undone_is_taken() {
        let [one, two, three] = [1, 2, 3].map(Uuid::from_u128);
        let change = |undone: bool, id: Uuid, before: bool, after: bool| Known {
            undone,
            can_be: true,
            parts: vec![(id, before, after)],
        };
        let things = HashSet::from([one]);
        let changes = [
            change(false, one, false, true),
            change(false, two, false, true),
            change(false, one, true, true),
            change(false, two, true, false),
            // Of another bench, or of nothing at all.
            change(false, three, true, true),
            change(true, one, true, false),
            change(true, three, false, true),
            change(true, two, true, false),
        ];
        assert_eq!(can_be_undone(&changes, &things), [true, true, true, true, false, true, true, false]);
    }
}
