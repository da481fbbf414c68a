//! How are a few words put together into a sentence?

/// Several things in a row: *a, b and c*.
pub fn list(names: &[&str]) -> String {
    match names {
        [] => String::new(),
        [one] => (*one).into(),
        [most @ .., last] => format!("{} and {last}", most.join(", ")),
    }
}

/// The same with its first letter a capital.
pub fn capital(text: &str) -> String {
    let mut letters = text.chars();
    letters.next().map_or_else(String::new, |first| first.to_uppercase().chain(letters).collect())
}
