//! A whole bench in one file: what is in the archive, and what is read of one that is brought.
//!
//! A ZIP file with open formats inside. `bench.json` says what it is; `things/` has a JSON list for each kind, `changes.json`
//! what can be undone, `photos/` the photos. That is all that is read again. For people and other programs there are `inks.csv`,
//! `made.csv` and `pictures/` besides, drawn from the rest.

use std::collections::{BTreeMap, HashSet};
use std::io::{Cursor, Read, Write};

use rosy_core::card::{Envelope, Format};
use rosy_core::cut::{Batch, Sheet};
use rosy_core::evening::Sitting;
use rosy_core::ink::{Ink, Name, Paper, Tool};
use rosy_core::learn::Pace;
use rosy_core::picture::file as png;
use rosy_core::record::Made;
use rosy_core::shape::Shape;
use rosy_core::supply::Shelf;
use rosy_core::{Panel, Units};
use rosy_store::Thing;
use rosy_store::archive::{Past, Row, Whole};
use serde::de::DeserializeOwned;
use serde::{Deserialize, Serialize};
use serde_json::Value;
use uuid::Uuid;
use zip::result::ZipError;
use zip::write::SimpleFileOptions;
use zip::{CompressionMethod, ZipArchive, ZipWriter};

use crate::picture::file as picture;
use crate::{api, files, photo};

/// Most bytes of an archive that is brought, and of all that is in it.
pub const MOST_BYTES: usize = 192 << 20;
const MOST_INSIDE: u64 = 512 << 20;
/// Most files in it, and most things of one bench.
const MOST_FILES: usize = 20_000;
const MOST_THINGS: usize = 50_000;
/// What an archive says that it is, and the latest way in which they are written.
const FORMAT: &str = "rosy-veil bench";
const VERSION: u32 = 1;
/// Pixels to the inch of its pictures.
const DPI: f64 = 60.0;
const README: &str = "A whole bench of Rosy Veil: bring it to another machine on the page Benches.\r\n\r\n\
    bench.json    what this is\r\n\
    things/       inks, papers, tools, panels, evenings, records and the rest: a JSON list of each\r\n\
    changes.json  what can be undone\r\n\
    photos/       photos of what was made\r\n\
    inks.csv, made.csv, pictures/   the same for people and other programs; they are not read again\r\n";

/// What stands at its head.
#[derive(Serialize, Deserialize)]
struct Head {
    format: String,
    version: u32,
    name: Name,
    units: Units,
}

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
}

/// Photos, each under its number.
pub type Photos = Vec<(Uuid, Vec<u8>)>;

/// Writes an archive of a bench.
///
/// # Errors
/// Where it does not fit into memory.
pub fn written(whole: &Whole, photos: &[(Uuid, Vec<u8>)]) -> Result<Vec<u8>, ZipError> {
    let mut zip = ZipWriter::new(Cursor::new(Vec::new()));
    let packed = SimpleFileOptions::default().compression_method(CompressionMethod::Deflated);
    let stored = SimpleFileOptions::default().compression_method(CompressionMethod::Stored);
    let mut put = |name: String, how: SimpleFileOptions, body: &[u8]| -> Result<(), ZipError> {
        zip.start_file(name, how)?;
        Ok(zip.write_all(body)?)
    };
    let head = Head { format: FORMAT.into(), version: VERSION, name: whole.name.clone(), units: whole.units };
    put("README.txt".into(), packed, README.as_bytes())?;
    put("bench.json".into(), packed, json(&head).as_bytes())?;
    let mut kinds: BTreeMap<&str, Vec<&Row>> = BTreeMap::new();
    for row in &whole.things {
        kinds.entry(&row.kind).or_default().push(row);
    }
    for (kind, rows) in kinds {
        put(format!("things/{kind}.json"), packed, json(&rows).as_bytes())?;
    }
    put("changes.json".into(), packed, json(&whole.changes).as_bytes())?;
    for (id, body) in photos {
        put(format!("photos/{id}.jpg"), stored, body)?;
    }
    let inks: Vec<Ink> = all(whole);
    put("inks.csv".into(), packed, files::write_csv(inks.iter()).as_bytes())?;
    let made: Vec<Made> = all(whole);
    put("made.csv".into(), packed, api::made::table(&made).as_bytes())?;
    let panels: Vec<Panel> = all(whole);
    let drawn = panels.into_iter().map(|panel| ("panels", panel));
    let drawn = drawn.chain(made.into_iter().map(|made| ("made", made.panel)));
    for (nth, (of, panel)) in drawn.enumerate() {
        if let Ok(body) = picture(&panel.surface(), DPI, png::Pace::Quick) {
            put(format!("pictures/{of}/{:03} {}.png", nth + 1, plain(panel.name.as_str())), stored, &body)?;
        }
    }
    Ok(zip.finish()?.into_inner())
}

fn json(value: &impl Serialize) -> String {
    serde_json::to_string_pretty(value).unwrap_or_default() + "\n"
}

fn all<T: Thing>(whole: &Whole) -> Vec<T> {
    let own = whole.things.iter().filter(|row| row.kind == T::KIND);
    own.filter_map(|row| of(&row.body).ok()).collect()
}

/// A name that every system takes for a file.
fn plain(name: &str) -> String {
    name.chars().map(|c| if c.is_alphanumeric() || c == ' ' || c == '-' { c } else { '_' }).take(60).collect()
}

/// Reads an archive, all of it or nothing.
///
/// # Errors
/// An [`ArchiveError`] with the remedy.
pub fn read(bytes: &[u8]) -> Result<(Whole, Photos), ArchiveError> {
    let mut zip = ZipArchive::new(Cursor::new(bytes)).map_err(|_| ArchiveError::NoArchive)?;
    if zip.len() > MOST_FILES {
        return Err(ArchiveError::Much("too many files"));
    }
    let mut inside = 0;
    let mut parts: BTreeMap<String, Vec<u8>> = BTreeMap::new();
    for at in 0..zip.len() {
        let mut file = zip.by_index(at).map_err(|_| ArchiveError::NoArchive)?;
        let name = file.name().to_owned();
        let is_ours = name == "bench.json"
            || name == "changes.json"
            || (name.starts_with("things/") && name.ends_with(".json"))
            || (name.starts_with("photos/") && name.ends_with(".jpg"));
        if !is_ours {
            continue;
        }
        // What a file says of its own size is not to be trusted.
        let mut body = Vec::new();
        let left = MOST_INSIDE - inside;
        file.by_ref().take(left + 1).read_to_end(&mut body).map_err(|_| ArchiveError::NoArchive)?;
        inside += body.len() as u64;
        if inside > MOST_INSIDE {
            return Err(ArchiveError::Much("more than 512 MB"));
        }
        parts.insert(name, body);
    }
    let head: Head = parts
        .remove("bench.json")
        .and_then(|body| serde_json::from_slice(&body).ok())
        .filter(|head: &Head| head.format == FORMAT)
        .ok_or(ArchiveError::Other("bench.json"))?;
    if head.version > VERSION {
        return Err(ArchiveError::Later(head.version));
    }
    let changes = parts.remove("changes.json").ok_or(ArchiveError::Other("changes.json"))?;
    let mut changes: Vec<Past> = list("changes.json", &changes)?;
    // What could not be undone, or done again, is no loss.
    changes.retain(can_be_undone);
    let (mut things, mut photos) = (Vec::new(), Vec::new());
    for (name, body) in parts {
        if let Some(id) = name.strip_prefix("photos/").and_then(|name| name.strip_suffix(".jpg")) {
            let wrong = |says: &str| ArchiveError::Part { file: name.clone(), says: says.into() };
            let id: Uuid = id.parse().map_err(|_| wrong("its name is no number of a photo"))?;
            if !photo::is_kept(&body) {
                return Err(wrong("it is no photo as a bench keeps them"));
            }
            photos.push((id, body));
            continue;
        }
        let kind = name.trim_start_matches("things/").trim_end_matches(".json");
        let rows: Vec<Row> = list(&name, &body)?;
        for row in rows {
            let wrong =
                |says| ArchiveError::Part { file: name.clone(), says: format!("{kind} {}: {says}", row.id) };
            if row.kind != kind || row.revision < 0 {
                return Err(wrong("it does not belong there".to_owned()));
            }
            checked(kind, &row.body).map_err(wrong)?;
            things.push(row);
        }
    }
    let ids: HashSet<Uuid> = things.iter().map(|row| row.id).collect();
    if things.len() > MOST_THINGS {
        return Err(ArchiveError::Much("too many things"));
    }
    if ids.len() < things.len() {
        return Err(ArchiveError::Part { file: "things".into(), says: "two things have one number".into() });
    }
    things.sort_by_key(|row: &Row| row.id);
    let ids = photos.iter().map(|(id, _)| *id).collect();
    Ok((Whole { name: head.name, units: head.units, things, changes, photos: ids }, photos))
}

fn list<T: DeserializeOwned>(file: &str, body: &[u8]) -> Result<Vec<T>, ArchiveError> {
    serde_json::from_slice(body).map_err(|error| ArchiveError::Part {
        file: file.into(),
        says: format!("it cannot be read: {error}"),
    })
}

/// Refuses a document that a bench would not keep itself.
fn checked(kind: &str, body: &Value) -> Result<(), String> {
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

/// Whether all that a change was made of, before it and after, is what a bench keeps.
fn can_be_undone(past: &Past) -> bool {
    let is_kept = |part: &Value| {
        let bodies = [&part["before"], &part["after"]].into_iter().filter(|body| !body.is_null());
        part["kind"].as_str().is_some_and(|kind| bodies.into_iter().all(|body| checked(kind, body).is_ok()))
    };
    past.things.as_array().is_some_and(|parts| parts.iter().all(is_kept))
}

fn of<T: Thing>(body: &Value) -> Result<T, String> {
    T::deserialize(body).map_err(|error| error.to_string())
}
