//! Which ink between two makes their joins cleanest?

/// The inks of a drawer by what both joins cost together, the least first: its place and that cost. `to_one` and
/// `to_other` give what each ink of the drawer pays beside one side and the other.
///
/// ```
/// # use rosy_core::search::bridges;
/// // Each ink's costs beside the one and beside the other: the middle one is no trouble to either.
/// let found = bridges(&[9.0, 1.0, 0.5], &[0.0, 1.5, 8.0], 2);
/// assert_eq!(found[0].0, 1);
/// assert!(bridges(&[], &[], 2).is_empty());
/// ```
pub fn bridges(to_one: &[f64], to_other: &[f64], most: usize) -> Vec<(usize, f64)> {
    let mut all: Vec<(usize, f64)> =
        to_one.iter().zip(to_other).map(|(one, other)| one + other).enumerate().collect();
    all.sort_by(|a, b| a.1.total_cmp(&b.1).then(a.0.cmp(&b.0)));
    all.truncate(most);
    all
}
