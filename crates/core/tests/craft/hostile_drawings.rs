//! Ten thousand drawings made to do harm, from one seed: none brings the reader down, none takes a second.

use std::time::{Duration, Instant};

use rand_chacha::ChaCha8Rng;
use rand_core::{Rng, SeedableRng};
use rosy_core::shape::svg::read;

/// What a drawing is put together from: good parts, and parts that have hurt readers of drawings.
const PARTS: [&str; 41] = [
    "<rect width='9' height='4'/>",
    "<path d='M0 0C9 0 9 9 0 9z'/>",
    "<polygon points='0 0 5 0 5 5 0 5 0 0 5 0 5 5'/>",
    "<g transform='rotate(30) translate(9 4)'><ellipse cx='5' rx='3' ry='4'/></g>",
    "<circle cx='1e30' cy='-1e30' r='1e38'/>",
    "<path d='M0 0h1e300v-1e300z'/>",
    "<path d='M0 0a1 1 0 0 1 1e-30 0z M NaN inf'/>",
    "<path d='M 5 5 A 0 0 0 1 1 5 5 z'/>",
    "<g transform='scale(0)'><rect width='3' height='3'/></g>",
    "<g transform='matrix(1e20 0 0 1e20 0 0)'><rect width='3' height='3'/></g>",
    "<g transform='rotate(1e9) skewX(89.999999)'><rect width='3' height='3'/></g>",
    "<g id='a'><use href='#b'/></g><g id='b'><use href='#a'/></g>",
    "<use href='#u' id='u'/>",
    "<use href='file:///etc/passwd#x'/>",
    "<use xlink:href='//far.example/x.svg#a'/>",
    "<image href='file:///etc/passwd'/>",
    "<script>while(1){}</script>",
    "<style>@import url(far.css); * { fill: url(//far) }</style>",
    "<rect onload='x()' width='1' height='1'/>",
    "<text>words</text>",
    "<filter id='f'><feGaussianBlur stdDeviation='1e9'/></filter>",
    "<pattern id='p' width='1e-9' height='1e-9'><rect width='1' height='1'/></pattern>",
    "<mask id='m'><rect mask='url(#m)'/></mask>",
    "<clipPath id='c' clip-path='url(#c)'><rect width='1' height='1'/></clipPath>",
    "<marker id='k'><path marker-end='url(#k)' d='M0 0L1 1'/></marker>",
    "<linearGradient id='g' href='#g'/><rect fill='url(#g)' width='4' height='4'/>",
    "<svg viewBox='0 0 0 0'><rect width='3' height='3'/></svg>",
    "<svg viewBox='0 0 1e-30 1e30'><rect width='3' height='3'/></svg>",
    "<rect width='3' height='3' stroke='red' stroke-width='1e30' stroke-dasharray='1e-20'/>",
    "<rect width='3' height='3' style='stroke:red;stroke-dasharray: 1e-9 1e-9'/>",
    "<polygon points='0,0 1,1 2'/>",
    "<ellipse rx='-3' ry='4'/>",
    "<rect rx='1e9' width='8' height='8'/>",
    "<g>",
    "</g>",
    "<![CDATA[ <rect/> ]]>",
    "<?xml-stylesheet href='far.css'?>",
    "&lt;&#0;&bomb;",
    "<switch><rect systemLanguage='xx' width='2' height='2'/></switch>",
    "<symbol id='s' viewBox='0 0 1 1'><path d='M0 0h1v1z'/></symbol><use href='#s' width='1e9'/>",
    "<path d='M0 0 1 1e-320 2 5e-324z'/>",
];

/// How many of the first parts are good.
const GOOD: usize = 4;

const HEADS: [&str; 6] = [
    "width='90mm' height='50mm' viewBox='0 0 90 50'",
    "width='1e30' height='1e-30'",
    "width='0' height='0'",
    "viewBox='nan 0 -4 4'",
    "width='100%' height='9em' viewBox='0 0 10 10' preserveAspectRatio='xMaxYMin slice'",
    "",
];

fn drawing(random: &mut ChaCha8Rng) -> Vec<u8> {
    let mut below = |most: usize| random.next_u32() as usize % most;
    let mut inside = String::new();
    // Most have some good in them, a few nothing else.
    let kinds = [GOOD, GOOD, 12, PARTS.len(), PARTS.len()][below(5)];
    for _ in 0..below(12) {
        let most = if below(2) == 0 { GOOD } else { kinds };
        let part = PARTS[below(most)];
        for _ in 0..[1, 1, 1, 2, 40][below(5)] {
            inside.push_str(part);
        }
    }
    let xlink = "xmlns:xlink='http://www.w3.org/1999/xlink'";
    let head = HEADS[below(HEADS.len())];
    let mut bytes =
        format!("<svg xmlns='http://www.w3.org/2000/svg' {xlink} {head}>{inside}</svg>").into_bytes();
    // Some are torn: bytes changed, cut out, doubled.
    for _ in 0..[0, 0, 1, 3, 20][below(5)] {
        let at = below(bytes.len());
        match below(3) {
            0 => bytes[at] = below(256) as u8,
            1 => bytes.truncate(at.max(1)),
            _ => {
                let copy = bytes[at..(at + below(200)).min(bytes.len())].to_vec();
                bytes.splice(at..at, copy);
            }
        }
    }
    bytes
}

#[test]
fn ten_thousand_hostile_drawings_are_read_or_refused_at_once() {
    let mut random = ChaCha8Rng::seed_from_u64(11);
    let (mut read_well, mut refused, mut slowest) = (0, 0, Duration::ZERO);
    for _ in 0..10_000 {
        let bytes = drawing(&mut random);
        let text = String::from_utf8_lossy(&bytes);
        let began = Instant::now();
        match read(&text) {
            Ok(brought) => {
                read_well += 1;
                assert!(brought.outline.points() <= rosy_core::shape::outline::MOST_POINTS);
                let (wide, high) = brought.outline.size();
                assert!(wide.max(high) <= 2_000.0 && brought.outline.region().area() > 0.0);
            }
            Err(error) => {
                refused += 1;
                assert!(error.to_string().chars().count() < 400, "{error}");
            }
        }
        slowest = slowest.max(began.elapsed());
    }
    assert!(slowest < Duration::from_secs(1), "{slowest:?}");
    // Both happen often enough for this to mean something.
    assert!(read_well > 200 && refused > 5_000, "{read_well} read, {refused} refused");
}

#[test]
fn a_drawing_full_of_points_is_refused_before_it_costs_anything() {
    let svg = |inside: &str| {
        format!("<svg xmlns='http://www.w3.org/2000/svg' width='90mm' height='50mm'>{inside}</svg>")
    };
    let zigzag: String = (0..60_000).map(|n| format!("L{} {}", n % 90, n % 49)).collect();
    let comb: String = (0..9_000).map(|n| format!("M{} 0v9h.1v-9z", n as f64 * 0.009)).collect();
    for (inside, most) in [(zigzag, 1), (comb, 3)] {
        let began = Instant::now();
        let _ = read(&svg(&format!("<path d='M0 0{inside}z'/>")));
        assert!(began.elapsed() < Duration::from_secs(most));
    }
}
