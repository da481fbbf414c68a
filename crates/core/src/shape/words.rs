//! How is what is wrong with a shape told?

use super::eye::{Fault, Finding, Material};
use crate::length::{Length, Units};

/// A length about as a ruler shows it.
fn about(mm: f64, units: Units) -> String {
    let mark = match units {
        Units::Inches => Length::from_64ths(1),
        Units::Millimetres => Length::from_tenths_mm(1),
    };
    Length::nearest(mm, mark).shown(units).to_string()
}

/// What is wrong, and what would come of it.
pub fn says(finding: &Finding, material: Material, units: Units) -> String {
    let (figure, limit) = (about(finding.figure, units), about(finding.limit, units));
    let of = material.words();
    match finding.fault {
        Fault::Island => {
            format!("An island of {figure} hangs on nothing and would fall out with the opening.")
        }
        Fault::Rib => format!("A rib is only {figure} wide: below {limit}, {of} tears or bends there."),
        Fault::Dense => {
            format!(
                "The line has a point every {figure}: the blade turns without moving on and tears the {of}."
            )
        }
        Fault::OffSheet => {
            format!("It is {figure} long, and beside its frame the sheet has room for {limit}.")
        }
        Fault::Backwards => "The word reads from the back.".into(),
    }
}

/// What mends it.
pub const fn repair(fault: Fault) -> &'static str {
    match fault {
        Fault::Island => "Hold it with bridges where the opening is narrowest",
        Fault::Rib => "Make the thin places thick enough",
        Fault::Dense => "Draw the line with fewer points",
        Fault::OffSheet => "Turn it, or make it as large as the sheet allows",
        Fault::Backwards => "Turn the word the right way round",
    }
}
