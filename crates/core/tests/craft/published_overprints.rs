//! Solid overprints of three inks, as published in open print characterisations (CIE Lab under D50).

use rosy_core::colour::{Illuminant, Lab, Spectrum};
use rosy_core::ink::{Film, Kind, Stack};

struct PrintSet {
    name: &'static str,
    paper: [f64; 3],
    cyan: [f64; 3],
    magenta: [f64; 3],
    yellow: [f64; 3],
    /// Cyan + magenta, cyan + yellow, magenta + yellow, all three: laid in that order.
    overprints: [[f64; 3]; 4],
}

const SETS: [PrintSet; 5] = [
    PrintSet {
        name: "FOGRA28L",
        paper: [92.37, -0.70, 1.52],
        cyan: [55.48, -38.56, -44.73],
        magenta: [46.21, 71.16, -1.66],
        yellow: [85.83, -2.93, 93.32],
        overprints: [
            [25.33, 17.49, -41.25],
            [48.52, -59.94, 33.90],
            [45.97, 64.85, 44.60],
            [23.10, -1.36, 5.06],
        ],
    },
    PrintSet {
        name: "FOGRA29L",
        paper: [95.71, 0.61, -2.32],
        cyan: [59.04, -26.66, -42.80],
        magenta: [55.04, 59.46, -4.00],
        yellow: [88.85, -1.65, 79.16],
        overprints: [
            [38.54, 7.97, -32.20],
            [52.24, -42.83, 18.48],
            [52.48, 55.39, 30.12],
            [35.04, -3.16, -0.48],
        ],
    },
    PrintSet {
        name: "FOGRA39L",
        paper: [95.00, 0.00, -2.00],
        cyan: [55.00, -37.00, -50.00],
        magenta: [48.00, 74.00, -3.00],
        yellow: [89.00, -5.00, 93.00],
        overprints: [
            [24.00, 22.00, -46.00],
            [50.00, -65.00, 27.00],
            [47.00, 68.00, 48.00],
            [23.00, 0.00, 0.00],
        ],
    },
    PrintSet {
        name: "TR003",
        paper: [92.5, 0.0, 0.0],
        cyan: [56.99, -37.23, -44.95],
        magenta: [47.84, 72.08, -3.11],
        yellow: [87.97, -5.03, 88.1],
        overprints: [
            [26.85, 18.1, -44.32],
            [52.12, -64.75, 24.83],
            [46.86, 66.21, 45.03],
            [24.79, 0.22, -0.52],
        ],
    },
    PrintSet {
        name: "TR005",
        paper: [90.06, -0.01, 4.14],
        cyan: [56.56, -37.98, -40.93],
        magenta: [47.64, 69.97, -3.54],
        yellow: [85.43, -5.82, 84.62],
        overprints: [
            [26.54, 18.56, -42.01],
            [52.26, -61.49, 26.76],
            [47.43, 64.38, 42.74],
            [24.73, 0.21, -0.12],
        ],
    },
];

#[test]
fn overprints_are_predicted_within_the_yardstick() {
    let light = Illuminant::D50;
    let mut misses = Vec::new();
    for set in &SETS {
        let card = Spectrum::of(set.paper.into(), light);
        let film = |lab: [f64; 3]| Film::of_swatch(lab.into(), &card, light, Kind::Dye);
        let inks = [film(set.cyan), film(set.magenta), film(set.yellow)];
        for (measured, laid) in set.overprints.iter().zip([&[0, 1][..], &[0, 2], &[1, 2], &[0, 1, 2]]) {
            let mut stack = Stack::on(&card);
            for &ink in laid {
                stack.lay(ink, &inks[ink], 1.0);
            }
            let measured = Lab::from(*measured);
            let miss = stack.lab(light).difference(measured);
            println!("{} {laid:?}: ΔE00 {miss:.2}", set.name);
            misses.push(miss);
        }
    }
    let mean = misses.iter().sum::<f64>() / misses.len() as f64;
    let worst = misses.iter().copied().fold(0.0, f64::max);
    println!("mean {mean:.2}, worst {worst:.2}");
    assert!(mean <= 4.5, "mean ΔE00 {mean:.2}");
    assert!(worst <= 8.0, "worst ΔE00 {worst:.2}");
}
