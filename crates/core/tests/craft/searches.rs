//! The drawer searched: each answer equals the best of all that could be tried, whatever the inks.

use proptest::prelude::*;
use rosy_core::ask::InkGiven;
use rosy_core::ask::search::{BridgeAsked, InkOwned, NearAsked, PairsAsked, PathAsked};
use rosy_core::blend::{Verdict, meet};
use rosy_core::colour::{Colour, Illuminant, Lab, Spectrum};
use rosy_core::ink::measured::BRIGHT_WHITE;
use rosy_core::ink::{Film, Kind, Stack};

const LIGHT: Illuminant = Illuminant::D65;

fn card() -> Spectrum {
    Spectrum::of(BRIGHT_WHITE, LIGHT)
}

fn any_ink() -> impl Strategy<Value = InkGiven> {
    let lab = (25.0..85.0, 2.0..60.0, 0.0..std::f64::consts::TAU);
    (lab, prop::sample::select(&Kind::ALL[..])).prop_map(|((l, c, h), kind): ((f64, f64, f64), Kind)| {
        InkGiven { colour: Colour::Lab(Lab { l, a: c * h.cos(), b: c * h.sin() }), kind }
    })
}

fn dye(lab: [f64; 3]) -> InkGiven {
    InkGiven { colour: Colour::Lab(lab.into()), kind: Kind::Dye }
}

fn swatch(ink: &InkGiven) -> (Film, Lab) {
    let lab = ink.colour.lab(LIGHT).unwrap();
    (Film::of_swatch(lab, &card(), LIGHT, ink.kind), lab)
}

fn cost(one: &InkGiven, other: &InkGiven) -> f64 {
    let ((film, lab), (other, other_lab)) = (swatch(one), swatch(other));
    meet((&film, lab), (&other, other_lab), &card(), LIGHT).cost()
}

fn ask_path(from: InkGiven, to: InkGiven, drawer: &[InkGiven], between: usize) -> PathAsked {
    PathAsked { illuminant: LIGHT, paper: None, from, to, drawer: drawer.to_vec(), between }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(24))]

    #[test]
    fn no_other_run_is_cheaper(
        from in any_ink(), to in any_ink(), drawer in prop::collection::vec(any_ink(), 5..8), between in 0_usize..6,
    ) {
        let seen = ask_path(from, to, &drawer, between).answer().unwrap();
        prop_assert_eq!(seen.places.len(), between);
        let mut different = seen.places.clone();
        different.sort_unstable();
        different.dedup();
        prop_assert_eq!(different.len(), between, "each ink once");

        let n = drawer.len();
        let table: Vec<Vec<f64>> =
            drawer.iter().map(|one| drawer.iter().map(|other| cost(one, other)).collect()).collect();
        let (first, last): (Vec<f64>, Vec<f64>) =
            drawer.iter().map(|ink| (cost(&from, ink), cost(ink, &to))).unzip();
        let of = |run: &[usize]| match run {
            [] => cost(&from, &to),
            [one, ..] => {
                let joins: f64 = run.windows(2).map(|pair| table[pair[0]][pair[1]]).sum();
                first[*one] + joins + last[run[run.len() - 1]]
            }
        };
        fn each(n: usize, left: usize, run: &mut Vec<usize>, of: &dyn Fn(&[usize]) -> f64, best: &mut f64) {
            if left == 0 {
                *best = best.min(of(run));
                return;
            }
            for ink in 0..n {
                if !run.contains(&ink) {
                    run.push(ink);
                    each(n, left - 1, run, of, best);
                    run.pop();
                }
            }
        }
        let mut best = f64::INFINITY;
        each(n, between, &mut Vec::new(), &of, &mut best);
        prop_assert!((seen.cost - best).abs() < 1e-9, "{} against {best}", seen.cost);
        prop_assert!((of(&seen.places) - seen.cost).abs() < 1e-9);
        prop_assert_eq!(seen.junctions.len(), between + 1);
    }

    #[test]
    fn bridges_are_all_inks_by_what_their_joins_cost(
        one in any_ink(), other in any_ink(), drawer in prop::collection::vec(any_ink(), 0..12), most in 1_usize..14,
    ) {
        let asked = BridgeAsked { illuminant: LIGHT, paper: None, inks: vec![one, other], drawer: drawer.clone(), most };
        let seen = asked.answer().unwrap();
        let mut all: Vec<f64> = drawer.iter().map(|ink| cost(&one, ink) + cost(ink, &other)).collect();
        for bridge in &seen.bridges {
            prop_assert!((all[bridge.place] - bridge.cost).abs() < 1e-9);
            prop_assert_eq!(bridge.junctions.len(), 2);
        }
        all.sort_by(f64::total_cmp);
        all.truncate(most);
        prop_assert_eq!(seen.bridges.len(), all.len());
        prop_assert!(seen.bridges.iter().zip(&all).all(|(bridge, cost)| (bridge.cost - cost).abs() < 1e-9));
        prop_assert!((seen.direct.cost - cost(&one, &other)).abs() < 1e-9);
    }

    #[test]
    fn nothing_that_can_be_laid_comes_nearer(
        wished in any_ink(), drawer in prop::collection::vec((any_ink(), 2_u8..6), 1..5), most in 1_usize..8,
    ) {
        let owned: Vec<InkOwned> = drawer
            .iter()
            .map(|(ink, full_veils)| InkOwned { colour: ink.colour, kind: ink.kind, full_veils: *full_veils })
            .collect();
        let asked = NearAsked { illuminant: LIGHT, paper: None, colour: wished.colour, drawer: owned, most };
        let seen = asked.answer().unwrap();
        let card = card();
        let laid = |films: &[(usize, u8)]| {
            let mut stack = Stack::on(&card);
            for (place, veils) in films {
                let (ink, full) = drawer[*place];
                stack.lay(*place, &swatch(&ink).0, f64::from(*veils) / f64::from(full));
            }
            stack.lab(LIGHT)
        };
        let target = wished.colour.lab(LIGHT).unwrap();
        let single: Vec<(usize, u8)> =
            (0..drawer.len()).flat_map(|place| (1..=drawer[place].1).map(move |veils| (place, veils))).collect();
        let mut all: Vec<f64> = single.iter().map(|film| target.difference(laid(&[*film]))).collect();
        for lower in &single {
            for upper in single.iter().filter(|upper| upper.0 != lower.0) {
                all.push(target.difference(laid(&[*lower, *upper])));
            }
        }
        all.sort_by(f64::total_cmp);
        all.truncate(most);
        prop_assert_eq!(seen.nearest.len(), all.len());
        for (near, best) in seen.nearest.iter().zip(&all) {
            prop_assert!((near.difference - best).abs() < 1e-6, "{} against {best}", near.difference);
            let films: Vec<(usize, u8)> = near.films.iter().map(|film| (film.place, film.veils)).collect();
            prop_assert!(laid(&films).difference(near.lab) < 1e-6);
        }
    }
}

#[test]
fn a_drawer_full_of_twins_is_searched_as_fast_and_as_well() {
    // Every ink as dye and as oxide: a run could bounce between two of a kind if inks could come back.
    let inks: Vec<InkGiven> = (0..60)
        .flat_map(|n| {
            let (hue, chroma) = (f64::from(n) * 0.7, 15.0 + f64::from(n * 7 % 40));
            let lab = Lab { l: 30.0 + f64::from(n * 11 % 50), a: chroma * hue.cos(), b: chroma * hue.sin() };
            [Kind::Dye, Kind::Oxide].map(|kind| InkGiven { colour: Colour::Lab(lab), kind })
        })
        .collect();
    let seen = ask_path(dye([57.0, 56.0, -4.0]), dye([30.0, 8.0, -40.0]), &inks, 5).answer().unwrap();
    let fewer = ask_path(dye([57.0, 56.0, -4.0]), dye([30.0, 8.0, -40.0]), &inks, 1).answer().unwrap();
    assert_eq!((seen.places.len(), fewer.places.len()), (5, 1));
    let best_of_one = inks
        .iter()
        .map(|ink| cost(&dye([57.0, 56.0, -4.0]), ink) + cost(ink, &dye([30.0, 8.0, -40.0])))
        .fold(f64::INFINITY, f64::min);
    assert!((fewer.cost - best_of_one).abs() < 1e-9);
}

#[test]
fn pairs_are_told_once_each_and_as_the_junction_question_tells_them() {
    let inks = vec![dye([57.0, 56.0, -4.0]), dye([57.0, -17.0, -31.0]), dye([80.0, 12.0, 62.0])];
    let seen = PairsAsked { illuminant: LIGHT, paper: None, inks: inks.clone() }.answer().unwrap();
    let pairs: Vec<(usize, usize)> = seen.pairs.iter().map(|pair| (pair.a, pair.b)).collect();
    assert_eq!(pairs, [(0, 1), (0, 2), (1, 2)]);
    for pair in &seen.pairs {
        assert!((pair.cost - cost(&inks[pair.a], &inks[pair.b])).abs() < 1e-9);
    }
    // Pink over blue is violet, pink with yellow orange, and both are clean.
    assert_eq!((seen.pairs[0].named.as_str(), seen.pairs[0].verdict), ("violet", Verdict::Clean));
    assert_eq!((seen.pairs[1].named.as_str(), seen.pairs[1].verdict), ("orange", Verdict::Clean));
}

#[test]
fn a_pink_bridges_orange_and_blue() {
    let (orange, blue, pink, green) = (
        dye([66.0, 42.0, 62.0]),
        dye([52.0, -15.0, -42.0]),
        dye([56.0, 60.0, -8.0]),
        dye([55.0, -40.0, 30.0]),
    );
    let asked = BridgeAsked {
        illuminant: LIGHT,
        paper: None,
        inks: vec![orange, blue],
        drawer: vec![green, pink],
        most: 5,
    };
    let seen = asked.answer().unwrap();
    assert_eq!(seen.bridges[0].place, 1);
    assert!(seen.bridges[0].cost < seen.direct.cost);
    assert!(seen.bridges[0].junctions.iter().all(|junction| junction.verdict == Verdict::Clean));
}

#[test]
fn what_cannot_be_asked_is_refused_with_the_remedy() {
    let ink = dye([57.0, 56.0, -4.0]);
    let says = ask_path(ink, ink, &[ink; 2], 4).answer().unwrap_err().to_string();
    assert!(says.contains("2 inks in the drawer") && says.contains('4'), "{says}");
    let says = ask_path(ink, ink, &[ink; 9], 6).answer().unwrap_err().to_string();
    assert!(says.contains("0 to 5"), "{says}");
    let says = PairsAsked { illuminant: LIGHT, paper: None, inks: vec![] }.answer().unwrap_err().to_string();
    assert!(says.contains("1 to 300"), "{says}");
    let bad = InkGiven { colour: Colour::Lab([150.0, 0.0, 0.0].into()), kind: Kind::Dye };
    let asked =
        BridgeAsked { illuminant: LIGHT, paper: None, inks: vec![ink, ink], drawer: vec![ink, bad], most: 5 };
    assert!(asked.answer().unwrap_err().to_string().contains("ink 2"));
    assert_eq!(ask_path(ink, ink, &[], 0).answer().unwrap().places, Vec::<usize>::new());
}
