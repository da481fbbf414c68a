//! e to a power, quickly enough for every band of every cell.

/// e to a power of a picture's range, within a hundred-thousandth: the whole part of the binary power goes into the
/// exponent, the rest through the Taylor series of 2^x about the middle. The library's own costs more than the rest of a pixel.
#[inline]
pub fn exp(power: f32) -> f32 {
    let binary = (power * std::f32::consts::LOG2_E).clamp(-60.0, 60.0);
    // Added, this leaves no room for a fraction, and the whole part stands in the last bits.
    const NO_FRACTION: f32 = 12_582_912.0;
    let whole = binary + NO_FRACTION;
    let rest = (binary - (whole - NO_FRACTION)) * std::f32::consts::LN_2;
    let part = 1.0 + rest * (1.0 + rest * (0.5 + rest * (1.0 / 6.0 + rest * (1.0 / 24.0 + rest / 120.0))));
    f32::from_bits(whole.to_bits().wrapping_sub(NO_FRACTION.to_bits()).wrapping_add(127) << 23) * part
}

#[cfg(test)]
mod tests {
    use super::*;

    #[test]
    fn powers_of_e_are_what_they_should_be() {
        for n in -2_000..=2_000 {
            let power = n as f32 / 200.0;
            let off = exp(power) / power.exp() - 1.0;
            assert!(off.abs() < 1e-5, "{power}: {off}");
        }
    }
}
