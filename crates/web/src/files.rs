//! Open formats in and out: a panel as JSON, inks as CSV or JSON, pieces and cuts as CSV.

use rosy_core::card::edges::Axis;
use rosy_core::colour::{Colour, Lab};
use rosy_core::cut::steps::Step;
use rosy_core::cut::{Piece, Plan};
use rosy_core::ink::{Ink, Kind};
use rosy_core::{Panel, Units};
use serde::Deserialize;

/// Most inks read from one file.
const MOST_INKS: usize = 1_000;
/// The columns of an ink file, in order.
const COLUMNS: [&str; 5] = ["name", "kind", "colour", "one_veil", "full_veils"];

/// Reads a panel's document and checks it; the message says what is wrong and how to mend it.
pub fn read_panel(text: &str) -> Result<Panel, String> {
    #[derive(Deserialize)]
    struct Version {
        version: Option<u32>,
    }
    let version: Version =
        serde_json::from_str(text).map_err(|error| format!("this is not a panel's JSON file: {error}"))?;
    match version.version {
        None => {
            return Err("this JSON file has no version: a panel's file begins with \"version\": 1".into());
        }
        Some(later) if later > rosy_core::panel::VERSION => {
            return Err(rosy_core::panel::PanelError::LaterVersion(later).to_string());
        }
        Some(_) => {}
    }
    let panel: Panel =
        serde_json::from_str(text).map_err(|error| format!("the panel cannot be read: {error}"))?;
    panel.check().map_err(|error| error.to_string())?;
    Ok(panel)
}

/// A panel's document.
pub fn write_panel(panel: &Panel) -> String {
    serde_json::to_string_pretty(panel).unwrap_or_default() + "\n"
}

/// Reads inks from JSON (a list) or CSV, whichever it is.
pub fn read_inks(text: &str) -> Result<Vec<Ink>, String> {
    let text = text.trim_start_matches('\u{feff}');
    let inks = if text.trim_start().starts_with('[') { read_json(text)? } else { read_csv(text)? };
    if inks.is_empty() {
        return Err("the file has no inks in it: put one in each row".into());
    }
    if inks.len() > MOST_INKS {
        return Err(format!("the file has {} inks: read at most {MOST_INKS} at a time", inks.len()));
    }
    for (ink, place) in inks.iter().zip(1..) {
        ink.check().map_err(|error| format!("ink {place}, {}: {error}", ink.name))?;
    }
    Ok(inks)
}

fn read_json(text: &str) -> Result<Vec<Ink>, String> {
    serde_json::from_str(text).map_err(|error| format!("the JSON file cannot be read: {error}"))
}

fn read_csv(text: &str) -> Result<Vec<Ink>, String> {
    let mut reader = csv::ReaderBuilder::new().trim(csv::Trim::All).from_reader(text.as_bytes());
    let header = reader.headers().map_err(|error| format!("the CSV file cannot be read: {error}"))?.clone();
    if let Some(wrong) = header.iter().find(|column| !COLUMNS.contains(column)) {
        return Err(format!("there is no column “{wrong:.40}”: the columns are {}", COLUMNS.join(", ")));
    }
    for needed in ["name", "colour"] {
        if !header.iter().any(|column| column == needed) {
            return Err(format!("the column “{needed}” is missing: the columns are {}", COLUMNS.join(", ")));
        }
    }
    let mut inks = Vec::new();
    for (record, row) in reader.records().zip(2..) {
        let record = record.map_err(|error| format!("row {row}: {error}"))?;
        let cell = |column: &str| {
            header.iter().position(|name| name == column).and_then(|at| record.get(at)).unwrap_or_default()
        };
        inks.push(ink_from(cell).map_err(|error| format!("row {row}: {error}"))?);
        if inks.len() > MOST_INKS {
            break;
        }
    }
    Ok(inks)
}

/// An ink from the texts of its columns, as a row of a file or the fields of a form.
pub fn ink_from<'a>(text: impl Fn(&str) -> &'a str) -> Result<Ink, String> {
    let name = text("name").parse().map_err(|error: rosy_core::ink::DrawerError| format!("name: {error}"))?;
    let kind = match text("kind") {
        "" => Kind::default(),
        word => word.parse().map_err(|error| format!("kind: {error}"))?,
    };
    let colour = read_colour(text("colour")).map_err(|error| format!("colour: {error}"))?;
    let one_veil = match text("one_veil") {
        "" => None,
        written => Some(read_colour(written).map_err(|error| format!("one_veil: {error}"))?),
    };
    let full_veils = match text("full_veils") {
        "" => 7,
        written => written.parse().map_err(|_| {
            format!("full_veils: “{written:.20}” is not a whole number of light passes: write 7, say")
        })?,
    };
    let ink = Ink { name, kind, colour, one_veil, full_veils };
    ink.check().map_err(|error| error.to_string())?;
    Ok(ink)
}

/// A colour as people write it: `#d8456b`, or L*, a* and b* with spaces between.
pub fn read_colour(text: &str) -> Result<Colour, String> {
    let text = text.trim();
    if text.starts_with('#') {
        return text
            .parse()
            .map(Colour::Srgb)
            .map_err(|error: rosy_core::colour::ColourError| error.to_string());
    }
    let numbers: Vec<f64> = text
        .split([' ', ';', '/'])
        .filter(|part| !part.is_empty())
        .map_while(|part| part.parse().ok())
        .collect();
    match numbers.as_slice() {
        &[l, a, b] => {
            let colour = Colour::Lab(Lab { l, a, b });
            colour.lab(Default::default()).map_err(|error| error.to_string())?;
            Ok(colour)
        }
        _ => Err(format!(
            "“{text:.20}” is not a colour: write # and six digits such as #d8456b, or three Lab numbers such as 55 60 -4"
        )),
    }
}

/// A colour as [`read_colour`] reads it.
pub fn colour_text(colour: Colour) -> String {
    match colour {
        Colour::Srgb(srgb) => srgb.to_string(),
        Colour::Lab(Lab { l, a, b }) => format!("{l} {a} {b}"),
    }
}

/// Inks as CSV.
pub fn write_csv<'a>(inks: impl Iterator<Item = &'a Ink>) -> String {
    let rows = inks.map(|ink| {
        let one_veil = ink.one_veil.map(colour_text).unwrap_or_default();
        [
            ink.name.to_string(),
            ink.kind.to_string(),
            colour_text(ink.colour),
            one_veil,
            ink.full_veils.to_string(),
        ]
    });
    table(COLUMNS, rows)
}

/// What is cut for a card as CSV.
pub fn write_pieces(pieces: &[Piece], units: Units) -> String {
    let grain =
        |axis: Option<Axis>| axis.map_or("", |axis| axis.of("from left to right", "from top to bottom"));
    let rows = pieces.iter().map(|piece| {
        [
            piece.name.to_string(),
            piece.width.said(units),
            piece.height.said(units),
            piece.count.to_string(),
            piece.paper.as_ref().map(ToString::to_string).unwrap_or_default(),
            grain(piece.grain).to_owned(),
        ]
    });
    table(["piece", "width", "height", "count", "card", "grain"], rows)
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

fn table<const N: usize>(columns: [&str; N], rows: impl Iterator<Item = [String; N]>) -> String {
    let mut writer = csv::Writer::from_writer(Vec::new());
    let written = writer
        .write_record(columns)
        .and_then(|()| rows.into_iter().try_for_each(|row| writer.write_record(row)));
    // Writing to memory cannot fail: every row has the header's length.
    written.expect("rows as long as the header");
    String::from_utf8(writer.into_inner().unwrap_or_default()).unwrap_or_default()
}

/// Inks as JSON.
pub fn write_json(inks: &[Ink]) -> String {
    serde_json::to_string_pretty(inks).unwrap_or_default() + "\n"
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn inks_survive_both_formats() {
        let text = "name,kind,colour,one_veil,full_veils\n\"Rope, wet\",oxide,55 60.5 -4,,6\nCockle,dye,#d8456b,#f3d0da,\n";
        let inks = read_inks(text).unwrap();
        assert_eq!((inks.len(), inks[1].full_veils), (2, 7));
        assert_eq!(read_inks(&write_csv(inks.iter())).unwrap(), inks);
        assert_eq!(read_inks(&write_json(&inks)).unwrap(), inks);
    }

    #[test]
    fn files_that_cannot_be_read_say_where_and_what() {
        for (text, says) in [
            ("name,shade\nCockle,#d8456b\n", "no column “shade”"),
            ("name,kind\nCockle,dye\n", "“colour” is missing"),
            ("name,colour\nCockle,#d8456b\n,#d8456b\n", "row 3: name"),
            ("name,colour\nCockle,pink\n", "row 2: colour: “pink” is not a colour"),
            ("name,colour,kind\nCockle,#d8456b,chalk\n", "row 2: kind"),
            ("name,colour,full_veils\nCockle,#d8456b,900\n", "row 2: full_veils"),
            ("name,colour\n", "no inks"),
            ("[{\"name\": 3}]", "JSON file cannot be read"),
        ] {
            let refused = read_inks(text).unwrap_err();
            assert!(refused.contains(says), "{text:?}: {refused}");
        }
    }

    #[test]
    fn panels_of_later_versions_are_named_as_such() {
        assert!(read_panel("{\"version\": 9, \"layers\": []}").unwrap_err().contains("newer Rosy Veil"));
        assert!(read_panel("{}").unwrap_err().contains("no version"));
        assert!(read_panel("name,kind").unwrap_err().contains("not a panel"));
    }
}
