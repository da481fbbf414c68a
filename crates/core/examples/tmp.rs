use rosy_core::colour::*;
use rosy_core::ink::*;
fn main() {
    let l = Illuminant::D65;
    let card = Spectrum::of(
        Lab {
            l: 96.5,
            a: 0.3,
            b: -1.8,
        },
        l,
    );
    for lab in [
        [86., -3., 93.],
        [89., -5., 93.],
        [88., 2., 70.],
        [75., 30., 70.],
        [70., 45., 60.],
        [60., 65., 40.],
        [70., 45., -5.],
        [78., 30., 5.],
        [59., -45., -45.],
        [80., -30., 60.],
        [85., -20., -5.],
        [90., -15., 30.],
        [55., -25., -40.],
        [50., 68., -4.],
        [92., 2., 30.],
        [88., 10., 8.],
    ] {
        let lab: Lab = lab.into();
        let sp = Spectrum::of(lab, l);
        let mx =
            sp.0.iter()
                .zip(&card.0)
                .map(|(a, b)| a / b)
                .fold(0., f64::max);
        for k in [Kind::Dye, Kind::Oxide] {
            let f = Film::of_swatch(lab, &card, l, k);
            let mut s = Stack::on(&card);
            s.lay(0, &f, 1.0);
            print!("{:?} {:.2} ", s.lab(l).difference(lab), mx);
        }
        println!("{lab:?} {}", lab.on_screen(l).1);
    }
    let cyan = Lab {
        l: 59.,
        a: -45.,
        b: -45.,
    };
    println!(
        "{:?} {:?} {:?}",
        cyan.oklch(),
        cyan.on_screen(l),
        cyan.on_screen(l).0.lab(l).oklch()
    );
}
