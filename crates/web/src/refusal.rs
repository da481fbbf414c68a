//! What a reader of documents says, in the words of the trade.
//!
//! Documents are read by a library whose messages speak of fields and types. Here each becomes a sentence about the thing
//! that is meant: where it stands in the document, what is wrong with it, and what to write instead. Messages of our own
//! (lengths, colours, names) are sentences already and pass through.

use serde::de::DeserializeOwned;

/// Reads a JSON document.
///
/// # Errors
/// What is wrong with it, as a sentence without its full stop.
pub fn read<T: DeserializeOwned>(text: &[u8], what: &str) -> Result<T, String> {
    let mut reader = serde_json::Deserializer::from_slice(text);
    let read = serde_path_to_error::deserialize(&mut reader);
    let read = read.map_err(|error| {
        let path = error.path().to_string();
        if !error.inner().is_data() {
            return format!("{what} is not a JSON document, or was cut off on its way: send the whole of it");
        }
        said(what, &path, &error.into_inner().to_string())
    })?;
    reader
        .end()
        .map_err(|_| format!("there is something after the end of {what}: send one document at a time"))?;
    Ok(read)
}

/// Whether a field is called by several: *the films*, not *the radius*.
fn is_several(field: &str) -> bool {
    let field = field.split(" of ").next().unwrap_or(field);
    field.ends_with('s') && !["ss", "us", "is"].iter().any(|one| field.ends_with(one))
}

/// A message about what stands at a path.
fn said(what: &str, path: &str, message: &str) -> String {
    let message = message.split(" at line ").next().unwrap_or(message);
    let place = place(path);
    let of = |place: &str| if place.is_empty() { what.to_owned() } else { place.to_owned() };
    let quoted = |text: &str| text.split('`').nth(1).unwrap_or_default().to_owned();
    if message.starts_with("missing field") {
        let field = word(&quoted(message));
        let (are, them) = if is_several(&field) { ("are", "them") } else { ("is", "it") };
        return format!("{field} {are} missing in {}: give {them}", of(&place));
    }
    if message.starts_with("unknown field") {
        // The path ends in the field itself: it is what holds it that is meant.
        let holder = self::place(path.rsplit_once('.').map_or("", |(holder, _)| holder));
        return format!("“{:.40}” is nothing that belongs to {}: leave it out", quoted(message), of(&holder));
    }
    if message.starts_with("unknown variant") {
        let known: Vec<&str> = message.split('`').skip(3).step_by(2).collect();
        return format!(
            "“{:.40}” is none of what {} may be: write {}",
            quoted(message),
            of(&place),
            one_of(&known)
        );
    }
    if let Some(found) =
        message.strip_prefix("invalid type: ").or_else(|| message.strip_prefix("invalid value: "))
    {
        let (found, expected) = found.split_once(", expected ").unwrap_or((found, ""));
        return format!("{}: {} is not {}", of(&place), thing(found), wanted(expected));
    }
    if message.starts_with("invalid length") || message.starts_with("data did not match") {
        return format!("{} cannot be read as it is written", of(&place));
    }
    // One of our own: it names what is wrong; a path says where, if it does not.
    if place.is_empty() { message.to_owned() } else { format!("{place}: {message}") }
}

/// What was found, as a person sees it.
fn thing(found: &str) -> String {
    let text = found.split_once(' ').map_or("", |(_, rest)| rest.trim_matches(['`', '"']));
    match found.split(' ').next() {
        Some("null" | "unit") => "nothing".into(),
        Some("map" | "struct") => "what stands there".into(),
        Some("sequence") => "a list".into(),
        _ => format!("“{text:.40}”"),
    }
}

/// What should have been there.
fn wanted(expected: &str) -> &'static str {
    match expected {
        "u8" | "u32" | "u64" | "usize" | "i64" => "a whole number: write one such as 2",
        "f64" | "f32" => "a number: write one such as 57.5",
        "a string" => "a text: write it in quotation marks, as in \"4 1/4 in\"",
        "a boolean" => "yes or no: write true or false",
        "a sequence" => "a list: write it in square brackets",
        _ => "what belongs there: look at the description of the document",
    }
}

fn one_of(known: &[&str]) -> String {
    match known {
        [] => "another".into(),
        [one] => (*one).into(),
        [most @ .., last] => format!("{} or {last}", most.join(", ")),
    }
}

/// A field, as a maker calls it.
fn word(field: &str) -> String {
    let known = match field {
        "colour" => "the colour",
        "full_veils" => "the number of light passes",
        "on_ink" => "what other ink takes of it",
        "one_veil" => "the swatch of one light pass",
        "fields" => "the bands of the inks",
        "starts" => "where the band starts",
        "full_from" => "from where the band is full",
        "full_to" => "to where the band is full",
        "ends" => "where the band ends",
        "paper" => "the card",
        "tool" => "the tool",
        "inks" => "the list of inks",
        "moves" => "the list of moves",
        "veils" => "the light passes",
        "over" => "how far over it is inked",
        "at" => "the place",
        "shapes" => "the shapes cut through it",
        "reveal" => "what shows of the layer beneath",
        "" => "something",
        other => return format!("the {}", other.replace('_', " ")),
    };
    known.into()
}

/// A path such as `blend.fields[1].veils`, as a maker would point at it: `the light passes of band 2`.
pub fn place(path: &str) -> String {
    let mut parts: Vec<String> = Vec::new();
    for part in path.split('.').filter(|part| !part.is_empty() && *part != "?") {
        let (name, number) = match part.split_once('[') {
            Some((name, rest)) => (name, rest.trim_end_matches(']').parse::<usize>().ok()),
            None => (part, None),
        };
        match (name, number) {
            // How something is written down is no thing of its own.
            ("panel" | "srgb" | "lab", _) => {}
            ("fields", Some(n)) => parts.push(format!("band {}", n + 1)),
            (name, Some(n)) => {
                let name = name.strip_suffix('s').unwrap_or(name).replace('_', " ");
                parts.push(if name.is_empty() {
                    format!("entry {}", n + 1)
                } else {
                    format!("{name} {}", n + 1)
                });
            }
            (name, None) => parts.push(word(name)),
        }
    }
    parts.reverse();
    parts.truncate(2);
    parts.join(" of ")
}

#[cfg(test)]
mod tests {
    use super::*;
    use rosy_core::document::Document;
    use rosy_core::{Length, ask::Junction};
    use serde::Deserialize;

    #[derive(Debug, Deserialize)]
    #[serde(deny_unknown_fields)]
    struct Question {
        #[allow(dead_code, reason = "only read")]
        width: Length,
        #[allow(dead_code, reason = "only read")]
        count: u32,
    }

    #[test]
    fn every_refusal_speaks_of_the_thing_itself() {
        for (document, says) in [
            ("{", "not a JSON document"),
            ("{\"count\": 3}", "the width is missing in the question"),
            ("{\"width\": \"4 in\", \"count\": \"three\"}", "the count: “three” is not a whole number"),
            ("{\"width\": \"4 in\", \"count\": -3}", "“-3” is not a whole number"),
            ("{\"width\": \"far\", \"count\": 3}", "the width: “far” is not a length"),
            ("{\"width\": null, \"count\": 3}", "the width: nothing is not a text"),
            (
                "{\"width\": \"4 in\", \"count\": 3, \"shade\": 1}",
                "“shade” is nothing that belongs to the question",
            ),
            ("{\"width\": \"4 in\", \"count\": 3} {}", "after the end"),
        ] {
            let refused = read::<Question>(document.as_bytes(), "the question").unwrap_err();
            assert!(refused.contains(says), "{document}: {refused}");
        }
        let inks = r##"{"inks":[{"colour":{"srgb":"#d65c90"}},{"colour":{"srgb":"pinkish"}}]}"##;
        let refused = read::<Junction>(inks.as_bytes(), "the question").unwrap_err();
        assert!(refused.contains("of ink 2"), "{refused}");
        let refused = read::<Document>(b"{\"version\": 1, \"name\": \"\"}", "the panel").unwrap_err();
        assert!(refused.starts_with("the name: a name is missing"), "{refused}");
        for reader in ["field `", "expected", "untagged", "enum", "line"] {
            assert!(!refused.contains(reader), "{refused}");
        }
    }
}
