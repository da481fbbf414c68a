//! Open formats in and out: a panel as JSON, inks as CSV or JSON, pieces and cuts as CSV.

use std::borrow::Cow;
use std::collections::HashSet;

use actix_web::http::header::{
    Charset, ContentDisposition, DispositionParam, DispositionType, ExtendedValue,
};
use chardetng::{EncodingDetector, Iso2022JpDetection, Utf8Detection};
use chrono::{DateTime, Utc};
use encoding_rs::Encoding;
use rosy_core::card::Made;
use rosy_core::colour::{cgats, written};
use rosy_core::cut::steps::Step;
use rosy_core::cut::{Piece, Plan};
use rosy_core::document::Document;
use rosy_core::edges::Axis;
use rosy_core::ink::samples::{Taken, inks_of, samples_of};
use rosy_core::ink::{DrawerError, Ink, Kind};
use rosy_core::record;
use rosy_core::{Panel, Units};
use serde::{Deserialize, Serialize};

use crate::error::sentence;
use crate::refusal;

/// Most inks read from one file.
pub const MOST_INKS: usize = 1_000;
/// The columns of an ink file, in order, each with the other names it is known by.
const COLUMNS: [(&str, &[&str]); 6] = [
    ("name", &["ink", "lid"]),
    ("kind", &["type"]),
    ("colour", &["color", "swatch", "full swatch", "hex", "lab"]),
    ("one light pass", &["one_veil", "light swatch", "one pass"]),
    ("light passes", &["full_veils", "passes", "veils"]),
    ("on other ink", &["on_ink"]),
];

/// Reads a panel's document and checks it; the message says what is wrong and how to mend it.
pub fn read_panel(text: &[u8]) -> Result<Panel, String> {
    let (text, _) = decoded(text);
    let text = text.trim_start_matches('\u{feff}').as_bytes();
    let document: serde_json::Value = refusal::read(text, "this file")
        .map_err(|_| "this is not a panel's JSON file, or not the whole of one".to_owned())?;
    match document.get("version").map(|version| version.as_u64()) {
        None => {
            return Err("this JSON file has no version: a panel's file begins with \"version\": 1".into());
        }
        Some(Some(later)) if later > u64::from(rosy_core::panel::VERSION) => {
            let later = u32::try_from(later).unwrap_or(u32::MAX);
            return Err(rosy_core::panel::PanelError::LaterVersion(later).to_string());
        }
        Some(_) => {}
    }
    let document: Document = refusal::read(text, "the panel's file")?;
    document.checked().map_err(|error| error.to_string())
}

/// A panel's document.
pub fn write_panel(panel: &Panel) -> String {
    serde_json::to_string_pretty(panel).unwrap_or_default() + "\n"
}

/// A file named after what it is of, in its own letters, with a name beside that every system takes (RFC 6266).
pub fn attachment(name: &str, ending: &str) -> ContentDisposition {
    let plain: String =
        name.chars().map(|c| if c.is_ascii_alphanumeric() { c.to_ascii_lowercase() } else { '-' }).collect();
    let plain = match plain.trim_matches('-') {
        "" => "rosy-veil",
        plain => plain,
    };
    // What parts folders, and what no system takes in a name.
    let own = name.replace(|c: char| c.is_control() || "/\\:*?\"<>|".contains(c), "-");
    let own = ExtendedValue {
        charset: Charset::Ext("UTF-8".into()),
        language_tag: None,
        value: format!("{}.{ending}", own.trim()).into_bytes(),
    };
    ContentDisposition {
        disposition: DispositionType::Attachment,
        parameters: vec![
            DispositionParam::Filename(format!("{plain}.{ending}")),
            DispositionParam::FilenameExt(own),
        ],
    }
}

/// What a file of inks holds.
#[derive(Debug, Default, Serialize, Deserialize)]
pub struct InkFile {
    /// The inks that can be read.
    pub inks: Vec<Ink>,
    /// What is wrong with the rows that cannot, each in a sentence.
    pub wrong: Vec<String>,
    /// What else there is to say: how it was read, what was left out.
    pub notes: Vec<String>,
}

/// Reads inks from JSON (a list), measurements (CGATS) or CSV, whichever it is. Rows that can be read are read, whatever the others are like.
///
/// # Errors
/// Where it is no file of inks at all.
pub fn read_inks(bytes: &[u8]) -> Result<InkFile, String> {
    let (text, note) = decoded(bytes);
    let text = text.trim_start_matches('\u{feff}');
    let mut file = match text.trim_start() {
        json if json.starts_with(['[', '{']) => read_json(text)?,
        measured if cgats::is_one(measured) => read_measured(text)?,
        _ => read_csv(text)?,
    };
    file.notes.extend(note);
    file.notes.extend(twice(&file.inks));
    if file.inks.is_empty() && file.wrong.is_empty() {
        return Err("the file has no inks in it: put one in each row".into());
    }
    if file.inks.len() + file.wrong.len() > MOST_INKS {
        return Err(format!("the file has more than {MOST_INKS} inks: read at most {MOST_INKS} at a time"));
    }
    if let Some(lost) = file.inks.iter().find(|ink| ink.name.as_str().contains('\u{fffd}')) {
        let name = &lost.name;
        file.notes.push(format!(
            "In “{name}” letters had been lost before this file was saved: save it once more as UTF-8."
        ));
    }
    Ok(file)
}

/// A file's bytes as text: UTF-8, UTF-16 where it says so, else whichever encoding of older programs its letters look like.
pub fn decoded(bytes: &[u8]) -> (Cow<'_, str>, Option<String>) {
    if let Some((encoding, _)) = Encoding::for_bom(bytes) {
        return (encoding.decode(bytes).0, None);
    }
    if let Ok(text) = std::str::from_utf8(bytes) {
        return (text.into(), None);
    }
    let mut letters = EncodingDetector::new(Iso2022JpDetection::Deny);
    letters.feed(bytes, true);
    let encoding = letters.guess(None, Utf8Detection::Deny);
    let script = match encoding.name() {
        "windows-1252" => "Western ",
        "windows-1250" | "ISO-8859-2" => "Central European ",
        "windows-1251" | "KOI8-U" | "IBM866" | "ISO-8859-5" => "Cyrillic ",
        "windows-1253" | "ISO-8859-7" => "Greek ",
        "windows-1255" => "Hebrew ",
        "Shift_JIS" | "EUC-JP" => "Japanese ",
        _ => "",
    };
    let note = format!(
        "The file was not saved as UTF-8: it was read as {script}({}). Look at names with other letters than a to z.",
        encoding.name()
    );
    (encoding.decode(bytes).0, Some(note))
}

fn read_json(text: &str) -> Result<InkFile, String> {
    let list: Vec<serde_json::Value> = refusal::read(text.as_bytes(), "the file")
        .map_err(|says| format!("{says}: a JSON file of inks is a list"))?;
    let mut file = InkFile::default();
    for (value, place) in list.into_iter().zip(1..) {
        let text = value.to_string();
        let read = refusal::read::<Ink>(text.as_bytes(), "it")
            .and_then(|ink| ink.check().map(|()| ink).map_err(|error| error.to_string()));
        match read {
            Ok(ink) => file.inks.push(ink),
            Err(says) => file.wrong.push(sentence(&format!("ink {place}: {says}"))),
        }
        if file.inks.len() + file.wrong.len() > MOST_INKS {
            break;
        }
    }
    Ok(file)
}

/// The sign that a file itself says parts its columns, in a line before the first row (`sep=;`), and what follows that line.
fn own_sign(text: &str) -> Option<(u8, &str)> {
    let (line, rest) = text.split_once('\n')?;
    let sign = line.trim_end_matches('\r').strip_prefix("sep=")?;
    (sign.len() == 1).then(|| (sign.as_bytes()[0], rest))
}

/// Which sign parts the columns: the one that the first row has most of.
fn parted_by(text: &str) -> u8 {
    let first = text.lines().next().unwrap_or_default();
    [b',', b';', b'\t']
        .into_iter()
        .max_by_key(|sign| (first.bytes().filter(|b| b == sign).count(), *sign == b','))
        .unwrap_or(b',')
}

/// How a colour is written of its three parts.
type OfParts = fn([&str; 3]) -> String;

/// The three columns of a colour that is written in parts.
const PARTS: [([&[&str]; 3], OfParts); 2] = [
    ([&["l", "l*"], &["a", "a*"], &["b", "b*"]], |[l, a, b]| format!("{l} {a} {b}")),
    ([&["r", "red"], &["g", "green"], &["b", "blue"]], |[r, g, b]| format!("rgb({r}, {g}, {b})")),
];

fn read_measured(text: &str) -> Result<InkFile, String> {
    let file = cgats::read(text).map_err(|error| error.to_string())?;
    let Taken { inks, wrong, mut notes, guessed } = inks_of(&file);
    notes.extend(kinds_guessed(guessed));
    Ok(InkFile { inks, wrong: wrong.iter().map(|says| sentence(says)).collect(), notes })
}

/// That it is not said of some inks what they are.
fn kinds_guessed(count: usize) -> Option<String> {
    let of = if count == 1 { "one ink".to_owned() } else { format!("{count} inks") };
    let taken = Kind::default();
    (count > 0).then(|| {
        format!("Of {of} it is not said whether it is dye, oxide or pigment: taken for {taken}. Change what is another.")
    })
}

fn read_csv(text: &str) -> Result<InkFile, String> {
    let first = if own_sign(text).is_some() { 3 } else { 2 };
    let (sign, text) = own_sign(text).unwrap_or_else(|| (parted_by(text), text));
    let mut reader = csv::ReaderBuilder::new()
        .trim(csv::Trim::All)
        .flexible(true)
        .delimiter(sign)
        .from_reader(text.as_bytes());
    let header = reader
        .headers()
        .map_err(|_| "the first row cannot be read: it names the columns".to_owned())?
        .clone();
    let is = |column: &str, (name, others): (&str, &[&str])| {
        let column = column.to_lowercase().replace('_', " ");
        column == name || others.iter().any(|other| other.replace('_', " ") == column)
    };
    let at = COLUMNS.map(|known| header.iter().position(|column| is(column, known)));
    let names: Vec<&str> = COLUMNS.iter().map(|(name, _)| *name).collect();
    let named =
        |names: &[&str]| header.iter().position(|column| names.contains(&column.to_lowercase().as_str()));
    let parts = PARTS.iter().find_map(|(columns, written)| {
        let [one, two, three] = columns.map(named);
        Some(([one?, two?, three?], written))
    });
    let parts = parts.filter(|_| at[COLOUR].is_none());
    for needed in [NAME, COLOUR] {
        if at[needed].is_none() && (needed == NAME || parts.is_none()) {
            return Err(format!(
                "the column “{}” is missing in the first row: the columns are {}",
                names[needed],
                names.join(", ")
            ));
        }
    }
    let (mut file, mut guessed) = (InkFile::default(), 0);
    let others: Vec<&str> = (0..header.len())
        .filter(|n| !at.contains(&Some(*n)) && !parts.is_some_and(|(columns, _)| columns.contains(n)))
        .map(|n| &header[n])
        .filter(|name| !name.is_empty())
        .collect();
    if !others.is_empty() {
        file.notes.push(format!("Left out: {:.200}.", others.join(", ")));
    }
    for (record, row) in reader.records().zip(first..) {
        let Ok(record) = record else {
            file.wrong.push(format!("Row {row} cannot be read: check its quotation marks."));
            continue;
        };
        if record.iter().all(str::is_empty) {
            continue;
        }
        let at_place = |at: usize| record.get(at).map(unguarded).unwrap_or_default();
        let colour = parts.map(|(columns, written)| written(columns.map(at_place)));
        let cell = |column: usize| match &colour {
            Some(colour) if column == COLOUR => colour.as_str(),
            _ => at[column].map(at_place).unwrap_or_default(),
        };
        match ink_from(cell) {
            Ok(ink) => {
                guessed += usize::from(cell(KIND).is_empty());
                file.inks.push(ink);
            }
            Err((column, says)) => {
                file.wrong.push(format!("Row {row}, {}: {}", names[column], sentence(&says)))
            }
        }
        if file.inks.len() + file.wrong.len() > MOST_INKS {
            break;
        }
    }
    file.notes.extend(kinds_guessed(guessed));
    Ok(file)
}

/// What stands twice in a list of inks, of which the last counts.
fn twice(inks: &[Ink]) -> Option<String> {
    let mut known = HashSet::new();
    let lid = |ink: &Ink| (ink.name.as_str().to_lowercase(), ink.kind.to_string());
    let again = inks.iter().filter(|ink| !known.insert(lid(ink)));
    let mut again: Vec<String> = again.map(|ink| format!("{}, {}", ink.name, ink.kind)).collect();
    again.dedup();
    (!again.is_empty())
        .then(|| format!("More than once in it, of which the last counts: {:.300}.", again.join("; ")))
}

/// The columns of [`ink_from`], by number.
pub const NAME: usize = 0;
/// Dye, oxide or pigment.
pub const KIND: usize = 1;
/// The full swatch.
pub const COLOUR: usize = 2;
/// The swatch of one light pass.
pub const ONE_VEIL: usize = 3;
/// How many light passes the full swatch took.
pub const FULL_VEILS: usize = 4;
/// How much of it is taken on other ink, in per cent.
pub const ON_INK: usize = 5;

/// An ink from the texts of its columns, as a row of a file or the fields of a form.
///
/// # Errors
/// The column, and what is wrong with it.
pub fn ink_from<'a>(text: impl Fn(usize) -> &'a str) -> Result<Ink, (usize, String)> {
    let wrong = |column| move |error: DrawerError| (column, error.to_string());
    let colour =
        |column: usize, written: &str| written::read(written).map_err(|error| (column, error.to_string()));
    let name = text(NAME).parse().map_err(wrong(NAME))?;
    let kind = match text(KIND) {
        "" => Kind::default(),
        word => word.parse().map_err(|says| (KIND, says))?,
    };
    let full = colour(COLOUR, text(COLOUR))?;
    let one_veil = match text(ONE_VEIL) {
        "" => None,
        written => Some(colour(ONE_VEIL, written)?),
    };
    let full_veils = match text(FULL_VEILS) {
        "" => 7,
        written => written.parse().map_err(|_| {
            (FULL_VEILS, format!("“{written:.20}” is not a whole number of light passes: write 7, say"))
        })?,
    };
    let on_ink = match text(ON_INK).trim_end_matches([' ', '%']) {
        "" => None,
        written => Some(written.parse().map_err(|_| {
            (ON_INK, format!("“{written:.20}” is not a whole number of per cent: write 80, say"))
        })?),
    };
    let ink = Ink { name, kind, colour: full, one_veil, full_veils, on_ink };
    ink.check().map_err(|error| match error {
        DrawerError::FullVeils(_) => wrong(FULL_VEILS)(error),
        DrawerError::DarkVeil => wrong(ONE_VEIL)(error),
        DrawerError::OnInk(_) => wrong(ON_INK)(error),
        _ => wrong(COLOUR)(error),
    })?;
    Ok(ink)
}

/// Inks as measurements, in CGATS text.
pub fn write_measured(inks: &[Ink]) -> String {
    cgats::write(&samples_of(inks))
}

/// Inks as CSV.
pub fn write_csv<'a>(inks: impl Iterator<Item = &'a Ink>) -> String {
    let rows = inks.map(|ink| {
        let one_veil = ink.one_veil.map(written::write).unwrap_or_default();
        [
            ink.name.to_string(),
            ink.kind.to_string(),
            written::write(ink.colour),
            one_veil,
            ink.full_veils.to_string(),
            ink.on_ink.map(|share| share.to_string()).unwrap_or_default(),
        ]
    });
    table(COLUMNS.map(|(name, _)| name), rows)
}

/// What is cut for a card as CSV, and what comes out of its windows.
pub fn write_pieces(made: &Made, units: Units) -> String {
    let grain =
        |axis: Option<Axis>| axis.map_or("", |axis| axis.of("from left to right", "from top to bottom"));
    let row = |piece: &Piece, from: String| {
        [
            piece.name.to_string(),
            piece.width.said(units),
            piece.height.said(units),
            piece.count.to_string(),
            piece.paper.as_ref().map(ToString::to_string).unwrap_or_default(),
            grain(piece.grain).to_owned(),
            from,
        ]
    };
    let cut = made.pieces.iter().map(|piece| row(piece, "sheet".into()));
    let out = made.windows.iter().map(|out| row(&out.piece, out.of.to_string()));
    table(["piece", "width", "height", "count", "card", "grain", "cut from"], cut.chain(out))
}

/// The cuts of a plan as CSV, in their order.
pub fn write_cuts(plan: &Plan, units: Units) -> String {
    let rows = plan.sheets.iter().flat_map(|sheet| {
        sheet.cuts.iter().zip(1..).map(move |(cut, n): (&Step, u32)| {
            [
                sheet.name.to_string(),
                sheet.alike.to_string(),
                n.to_string(),
                cut.of.clone(),
                cut.each.to_string(),
                cut.along.of("left", "top").to_owned(),
                cut.stop.said(units),
                cut.times.to_string(),
                cut.gives.clone(),
                cut.leaves.clone().unwrap_or_default(),
            ]
        })
    });
    let columns =
        ["sheet", "alike", "cut", "of", "each", "edge at the stop", "stop", "times", "gives", "leaves"];
    table(columns, rows)
}

/// A cell that no other program takes for a formula.
fn guarded(cell: String) -> String {
    if cell.starts_with(['=', '+', '-', '@', '\t', '\r', '\n', '\'']) { format!("'{cell}") } else { cell }
}

/// A cell as it was before it was guarded.
fn unguarded(cell: &str) -> &str {
    match cell.strip_prefix('\'') {
        Some(rest) if rest.starts_with(['=', '+', '-', '@', '\t', '\r', '\n', '\'']) => rest,
        _ => cell,
    }
}

/// Rows as CSV, none of them a formula to any other program.
pub fn table<const N: usize>(columns: [&str; N], rows: impl Iterator<Item = [String; N]>) -> String {
    let mut writer = csv::Writer::from_writer(Vec::new());
    let written = writer
        .write_record(columns)
        .and_then(|()| rows.into_iter().try_for_each(|row| writer.write_record(row.map(guarded))));
    // Writing to memory cannot fail: every row has the header's length.
    written.expect("rows as long as the header");
    let rows = String::from_utf8(writer.into_inner().unwrap_or_default()).unwrap_or_default();
    // By this mark spreadsheets know that it is UTF-8.
    format!("\u{feff}{rows}")
}

/// Inks as JSON.
pub fn write_json(inks: &[Ink]) -> String {
    serde_json::to_string_pretty(inks).unwrap_or_default() + "\n"
}

/// Records as a table.
pub fn write_made<'a>(made: impl Iterator<Item = &'a record::Made>) -> String {
    let columns = ["made", "name", "card", "tool", "inks", "how", "went_wrong", "to", "note", "minutes"];
    let row = |one: &'a record::Made| {
        let panel = &one.panel;
        let when = DateTime::<Utc>::from_timestamp_millis(one.at).unwrap_or_default();
        let inks: Vec<&str> = panel.inks.iter().map(|ink| ink.name.as_str()).collect();
        let faults: Vec<&str> = one.faults.iter().map(|fault| fault.words()).collect();
        [
            when.format("%Y-%m-%d").to_string(),
            panel.name.to_string(),
            panel.paper.name.to_string(),
            panel.tool.name.to_string(),
            inks.join("; "),
            one.techniques().join("; "),
            faults.join("; "),
            one.to.clone(),
            one.note.clone(),
            one.minutes.map_or(String::new(), |minutes| minutes.to_string()),
        ]
    };
    table(columns, made.map(row))
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn inks_survive_both_formats() {
        let text = "name,kind,colour,one light pass,light passes,on other ink\n\"Rope, wet\",oxide,55 60.5 -4,,6,64 %\nCockle,dye,#d8456b,#f3d0da,,\n\"'=SUM(A1)\",dye,#d8456b,,,\n";
        let inks = read_inks(text.as_bytes()).unwrap().inks;
        assert_eq!((inks.len(), inks[1].full_veils, inks[2].name.as_str()), (3, 7, "=SUM(A1)"));
        assert_eq!((inks[0].on_ink, inks[1].on_ink), (Some(64), None));
        let csv = write_csv(inks.iter());
        assert!(csv.contains("\n'=SUM(A1),"), "no other program takes it for a formula: {csv}");
        assert_eq!(read_inks(csv.as_bytes()).unwrap().inks, inks);
        assert_eq!(read_inks(write_json(&inks).as_bytes()).unwrap().inks, inks);
        // Measurements know colours as numbers of a meter, whichever way they were written.
        let measured = read_inks(write_measured(&inks).as_bytes()).unwrap();
        let same =
            |one: &Ink, other: &Ink| one.name == other.name && one.lab().difference(other.lab()) < 0.001;
        assert_eq!((measured.inks.len(), measured.wrong.len()), (inks.len(), 0));
        assert!(measured.inks.iter().zip(&inks).all(|(one, other)| same(one, other)));
    }

    #[test]
    fn no_cell_is_a_formula_to_another_program_whatever_sign_it_begins_with() {
        for cell in ["=1", "+1", "-1", "@a", "\t=1", "\r=1", "\n=1", "'=1"] {
            let written = table(["note"], [[cell.to_owned()]].into_iter());
            let mut reader = csv::Reader::from_reader(written.as_bytes());
            let read = reader.records().next().unwrap().unwrap();
            assert_eq!(&read[0], format!("'{cell}"), "{cell:?}");
            assert_eq!(unguarded(&read[0]), cell);
        }
        assert!(table(["note"], [["a = b".to_owned()]].into_iter()).contains("\na = b"));
    }

    #[test]
    fn lists_are_read_as_other_programs_write_them() {
        let one = |bytes: &[u8]| {
            let mut file = read_inks(bytes).unwrap();
            assert_eq!((file.inks.len(), file.wrong.len()), (1, 0), "{:?}", file.wrong);
            (file.inks.remove(0), file.notes)
        };
        for text in [
            "Name;Color\nCockle;#d8456b\n",
            "NAME,Colour,full_veils\nCockle,d8456b,7\n",
            "Ink\tType\tHex\nCockle\tDye\t#d8456b\n",
            "name,colour\nCockle,\"rgb(216, 69, 107)\"\n,\n",
            "sep=;\r\nname;colour\r\nCockle;#d8456b\r\n",
            "name,R,G,B\nCockle,216,69,107\n",
        ] {
            let (ink, notes) = one(text.as_bytes());
            assert_eq!(
                (ink.name.as_str(), written::write(ink.colour).as_str()),
                ("Cockle", "#d8456b"),
                "{text}"
            );
            // What is not said is told.
            let says = if text.contains("Dye") { 0 } else { 1 };
            assert_eq!(notes.len(), says, "{notes:?}");
            assert!(notes.iter().all(|note| note.contains("taken for dye")), "{notes:?}");
        }
        let (ink, _) = one("name;L*;a*;b*\nКамыш;57.5;56;-4\n".as_bytes());
        assert_eq!((ink.name.as_str(), written::write(ink.colour).as_str()), ("Камыш", "57.5 56 -4"));
        let (_, notes) = one(b"name,kind,colour,shop,price\nCockle,dye,#d8456b,Tea hut,4\n");
        assert_eq!(notes, ["Left out: shop, price."]);
        // Latin-1 and UTF-16, as older programs write them.
        let (ink, notes) = one(b"name;colour\nRos\xe9 d'\xe9t\xe9;pink\n");
        assert_eq!(ink.name.as_str(), "Rosé d'été");
        assert!(notes.iter().any(|note| note.contains("Western (windows-1252)")), "{notes:?}");
        let cyrillic = encoding_rs::WINDOWS_1251.encode("name;kind;colour\nМокрый канат;dye;pink\n").0;
        let (ink, notes) = one(&cyrillic);
        assert_eq!(ink.name.as_str(), "Мокрый канат");
        assert!(notes[0].contains("Cyrillic (windows-1251)"), "{notes:?}");
        let wide: Vec<u8> =
            "\u{feff}name,colour\nRosé,pink\n".encode_utf16().flat_map(u16::to_le_bytes).collect();
        assert_eq!(one(&wide).0.name.as_str(), "Rosé");
        let (_, notes) = one("name,colour\nRos\u{fffd},pink\n".as_bytes());
        assert!(notes.iter().any(|note| note.contains("letters had been lost")));
    }

    #[test]
    fn what_stands_twice_in_a_list_is_told() {
        let text = "name,kind,colour\nCockle,dye,#d8456b\nCOCKLE,dye,#d03050\nCockle,oxide,#d8456b\n";
        let file = read_inks(text.as_bytes()).unwrap();
        assert_eq!(file.notes, ["More than once in it, of which the last counts: COCKLE, dye."]);
    }

    #[test]
    fn every_mistake_of_every_row_is_told_and_the_good_rows_are_read() {
        let text = "name,colour,kind,light passes\nCockle,#d8456b,dye,7\n,#d8456b,dye,7\nThrift,pinkish,dye,7\nMussel,#334,chalk,7\nRope,#334,dye,900\nKelp,#445544,dye\n";
        let file = read_inks(text.as_bytes()).unwrap();
        let names: Vec<&str> = file.inks.iter().map(|ink| ink.name.as_str()).collect();
        assert_eq!(names, ["Cockle", "Kelp"]);
        let says = [
            "Row 3, name: A name is missing",
            "Row 4, colour: “pinkish” is not a colour",
            "Row 5, kind",
            "Row 6, light passes",
        ];
        assert_eq!(file.wrong.len(), says.len());
        for (wrong, says) in file.wrong.iter().zip(says) {
            assert!(wrong.starts_with(says), "{wrong}");
        }
        for (text, says) in [
            ("name,shade\nCockle,#d8456b\n", "“colour” is missing"),
            ("name,colour\n", "no inks"),
            ("[", "not a JSON document"),
        ] {
            let refused = read_inks(text.as_bytes()).unwrap_err();
            assert!(refused.contains(says), "{text:?}: {refused}");
        }
        let file = read_inks(b"[{\"name\": 3}, {\"name\": \"Cockle\", \"colour\": {\"srgb\": \"#d8456b\"}}]")
            .unwrap();
        assert_eq!((file.inks.len(), file.wrong.len()), (1, 1));
        assert!(file.wrong[0].starts_with("Ink 1: the name"), "{}", file.wrong[0]);
    }

    #[test]
    fn a_file_is_named_after_what_it_is_of_in_its_own_letters() {
        let named = |name: &str| attachment(name, "pdf").to_string();
        assert_eq!(
            named("Ebb at six"),
            "attachment; filename=\"ebb-at-six.pdf\"; filename*=UTF-8''Ebb%20at%20six.pdf"
        );
        assert!(named("Маяк").starts_with("attachment; filename=\"rosy-veil.pdf\"; filename*=UTF-8''%D0%9C"));
        assert!(!named("a/b\\c\u{0}").contains("%2F") && !named("../up").contains("%2F"));
    }

    #[test]
    fn panels_of_later_versions_are_named_as_such() {
        let wide: Vec<u8> = "\u{feff}{}".encode_utf16().flat_map(u16::to_le_bytes).collect();
        for marked in ["\u{feff}{}".as_bytes(), &wide] {
            assert!(read_panel(marked).unwrap_err().contains("no version"));
        }
        assert!(read_panel(b"{\"version\": 9, \"layers\": []}").unwrap_err().contains("newer Rosy Veil"));
        assert!(read_panel(b"{}").unwrap_err().contains("no version"));
        assert!(read_panel(b"name,kind").unwrap_err().contains("not a panel"));
        let refused = read_panel(b"{\"version\": 1, \"name\": \"Ebb at six\"}").unwrap_err();
        assert_eq!(refused, "the width is missing in the panel's file: give it");
    }
}
