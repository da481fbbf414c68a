//! Which value has such a share of all others below it?

/// The value with a share of the others below it, between two of them as far as the share goes; nothing of none.
///
/// ```
/// # use rosy_eye::rank::at_share;
/// assert_eq!(at_share(vec![4.0, 1.0, 2.0, 3.0], 0.5), Some(2.5));
/// assert_eq!(at_share(vec![4.0, 1.0, 2.0], 1.0), Some(4.0));
/// assert_eq!(at_share(Vec::new(), 0.5), None);
/// ```
pub fn at_share(mut values: Vec<f64>, share: f64) -> Option<f64> {
    values.sort_by(f64::total_cmp);
    let place = share.clamp(0.0, 1.0) * values.len().checked_sub(1)? as f64;
    let (below, above) = (values[place.floor() as usize], values[place.ceil() as usize]);
    Some(below + place.fract() * (above - below))
}

/// The median of some values; nothing of none.
pub fn median(values: Vec<f64>) -> Option<f64> {
    at_share(values, 0.5)
}
