//! Which letters can be kept? All but the one that is none: PostgreSQL has no room for U+0000.

use serde_json::Value;

use crate::StoreError;

/// About how many letters a document has.
///
/// # Errors
/// [`StoreError::Letter`] with the place of the one that cannot be kept.
pub(crate) fn of(document: &Value) -> Result<usize, StoreError> {
    let mut place = Vec::new();
    count(document, &mut place).map_err(|()| StoreError::Letter(place.join(".")))
}

/// The letters of a text that stands in a field.
///
/// # Errors
/// As [`of`].
pub(crate) fn in_text(text: &str, field: &str) -> Result<usize, StoreError> {
    if text.contains('\0') { Err(StoreError::Letter(field.into())) } else { Ok(text.len()) }
}

fn count(value: &Value, place: &mut Vec<String>) -> Result<usize, ()> {
    match value {
        Value::String(text) if text.contains('\0') => Err(()),
        Value::String(text) => Ok(text.len()),
        Value::Array(all) => all.iter().enumerate().try_fold(0, |sum, (at, one)| {
            let list = place.pop().unwrap_or_default();
            place.push(format!("{list}[{at}]"));
            let letters = count(one, place)?;
            place.pop();
            place.push(list);
            Ok(sum + letters)
        }),
        Value::Object(all) => all.iter().try_fold(0, |sum, (field, one)| {
            place.push(field.replace('\0', ""));
            if field.contains('\0') {
                return Err(());
            }
            let letters = count(one, place)?;
            place.pop();
            Ok(sum + field.len() + letters)
        }),
        _ => Ok(8),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use serde_json::json;

    #[test]
    fn a_letter_that_cannot_be_kept_is_told_by_its_place() {
        assert!(of(&json!({ "note": "\u{1}é", "inks": [1, null, true] })).is_ok());
        let place = |document: Value| match of(&document) {
            Err(StoreError::Letter(place)) => place,
            other => panic!("{other:?}"),
        };
        assert_eq!(
            place(json!({ "panel": { "inks": [{ "name": "a" }, { "name": "b\0" }] } })),
            "panel.inks[1].name"
        );
        assert_eq!(place(json!({ "a\0b": 1 })), "ab");
        assert!(in_text("\0", "label").is_err());
    }
}
