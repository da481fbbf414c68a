//! Laws that the answers to questions keep, whatever the inks.

use proptest::prelude::*;
use rosy_core::ask::{AskError, FilmLaid, InkGiven, Junction, Order, Overprint, PanelAsked, PaperColour};
use rosy_core::blend::Verdict;
use rosy_core::colour::{Colour, Illuminant, Lab, Srgb};
use rosy_core::ink::Kind;

fn lab(l: f64, a: f64, b: f64) -> Colour {
    Colour::Lab(Lab { l, a, b })
}

fn film(colour: Colour, kind: Kind, amount: f64) -> FilmLaid {
    FilmLaid { colour, kind, amount }
}

fn seen(illuminant: Illuminant, paper: Option<Colour>, films: Vec<FilmLaid>) -> Lab {
    Overprint { illuminant, paper: paper.map(PaperColour), films }.answer().unwrap().lab
}

fn plausible() -> impl Strategy<Value = Colour> {
    (30.0..80.0, 8.0..55.0, 0.0..std::f64::consts::TAU)
        .prop_map(|(l, c, h): (f64, f64, f64)| lab(l, c * h.cos(), c * h.sin()))
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(64))]

    #[test]
    fn nothing_laid_is_the_bare_card(colour in plausible()) {
        let paper = lab(92.0, 1.0, 4.0);
        for illuminant in [Illuminant::D50, Illuminant::D65] {
            for kind in Kind::ALL {
                let bare = seen(illuminant, Some(paper), vec![film(colour, kind, 0.0)]);
                let off = bare.difference(Lab::from([92.0, 1.0, 4.0]));
                prop_assert!(off < 0.05);
            }
        }
    }

    #[test]
    fn more_of_a_dye_is_never_lighter(colour in plausible(), amounts in prop::array::uniform3(0.0..3.0_f64)) {
        let mut amounts = amounts;
        amounts.sort_by(f64::total_cmp);
        let lightness = amounts.map(|a| seen(Illuminant::D65, None, vec![film(colour, Kind::Dye, a)]).l);
        prop_assert!(lightness.windows(2).all(|pair| pair[1] <= pair[0] + 1e-9), "{:?}", lightness);
    }

    #[test]
    fn a_second_dye_never_lightens_the_first(one in plausible(), other in plausible()) {
        let first = seen(Illuminant::D65, None, vec![film(one, Kind::Dye, 1.0)]);
        let both = seen(Illuminant::D65, None, vec![film(one, Kind::Dye, 1.0), film(other, Kind::Dye, 1.0)]);
        prop_assert!(both.l <= first.l + 1e-9);
    }

    #[test]
    fn the_same_ink_laid_twice_is_one_film_grown_thicker(colour in plausible(), a in 0.1..1.0, b in 0.1..1.0) {
        for kind in Kind::ALL {
            let twice = seen(Illuminant::D65, None, vec![film(colour, kind, a), film(colour, kind, b)]);
            let once = seen(Illuminant::D65, None, vec![film(colour, kind, a + b)]);
            prop_assert!(twice.difference(once) < 1e-6);
        }
    }

    #[test]
    fn white_pigment_laid_thick_hides_what_is_beneath(colour in plausible()) {
        let white = lab(96.0, 0.0, -1.0);
        let over = |amount| {
            seen(Illuminant::D65, None, vec![film(colour, Kind::Dye, 1.0), film(white, Kind::Pigment, amount)])
        };
        let (thin, thick) = (over(1.0), over(8.0));
        let white = Lab { l: 96.0, a: 0.0, b: -1.0 };
        prop_assert!(thick.difference(white) <= thin.difference(white) + 0.5);
        prop_assert!(thick.l > 75.0, "{:?}", thick);
    }

    #[test]
    fn a_junction_is_the_same_from_either_side(
        one in plausible(), other in plausible(),
        kinds in prop::array::uniform2(prop::sample::select(&Kind::ALL[..])),
    ) {
        let inks = [InkGiven { colour: one, kind: kinds[0] }, InkGiven { colour: other, kind: kinds[1] }];
        let meet = |inks: Vec<InkGiven>| Junction { illuminant: Illuminant::D65, paper: None, inks }.answer().unwrap();
        let (there, back) = (meet(inks.to_vec()), meet(inks.iter().rev().copied().collect()));
        prop_assert_eq!(there.verdict, back.verdict);
        prop_assert_eq!(there.named, back.named);
        prop_assert!(there.middle.lab.difference(back.middle.lab) < 1e-6);
        prop_assert!((there.dark_band - back.dark_band).abs() < 1e-9 && there.dark_band >= 0.0);
    }

    #[test]
    fn the_order_returned_is_the_cheapest_of_all(inks in prop::collection::vec(plausible(), 2..6)) {
        let given: Vec<InkGiven> = inks.into_iter().map(|colour| InkGiven { colour, kind: Kind::Dye }).collect();
        let order = |inks: Vec<InkGiven>| Order { illuminant: Illuminant::D65, paper: None, inks }.answer().unwrap();
        let best = order(given.clone());
        prop_assert!(best.score <= best.score_as_given + 1e-9);
        prop_assert_eq!(best.junctions.len(), given.len() - 1);
        // Asked again in its own order, it has nothing to improve.
        let again = order(best.sequence.iter().map(|&ink| given[ink]).collect());
        prop_assert!((again.score - again.score_as_given).abs() < 1e-9);
        prop_assert!((again.score - best.score).abs() < 1e-6);
    }
}

#[test]
fn an_ink_meets_itself_cleanly() {
    for colour in [lab(57.0, 56.0, -4.0), lab(40.0, 18.0, 26.0), lab(60.0, 0.0, 0.0)] {
        let inks = vec![InkGiven { colour, kind: Kind::Dye }; 2];
        let seen = Junction { illuminant: Illuminant::D65, paper: None, inks }.answer().unwrap();
        assert_eq!((seen.verdict, seen.dark_band > 3.0), (Verdict::Clean, false), "{seen:?}");
    }
}

#[test]
fn greys_have_no_colour_to_lose() {
    let inks = [lab(30.0, 1.0, -1.0), lab(75.0, 0.0, 2.0)].map(|colour| InkGiven { colour, kind: Kind::Dye });
    let seen = Junction { illuminant: Illuminant::D65, paper: None, inks: inks.to_vec() }.answer().unwrap();
    assert_eq!(seen.verdict, Verdict::Clean);
}

#[test]
fn coloured_card_shifts_every_ink() {
    let rose = film(lab(57.0, 56.0, -4.0), Kind::Dye, 0.4);
    let on_white = seen(Illuminant::D65, None, vec![rose]);
    let on_straw = seen(Illuminant::D65, Some(lab(88.0, 4.0, 22.0)), vec![rose]);
    assert!(on_straw.b > on_white.b + 5.0 && on_straw.l < on_white.l);
}

#[test]
fn a_screen_colour_is_read_under_either_light() {
    let white = Colour::Srgb(Srgb([255; 3]));
    for illuminant in [Illuminant::D50, Illuminant::D65] {
        let overprint = Overprint { illuminant, paper: Some(PaperColour(white)), films: Vec::new() };
        let seen = overprint.answer().unwrap();
        assert_eq!((seen.srgb, seen.in_gamut), (Srgb([255; 3]), true));
    }
}

#[test]
fn what_cannot_be_laid_is_named_by_its_place() {
    let good = film(lab(57.0, 56.0, -4.0), Kind::Dye, 1.0);
    let ask = |films| Overprint { illuminant: Illuminant::D65, paper: None, films }.answer().unwrap_err();
    let bad = film(good.colour, Kind::Dye, f64::NAN);
    assert!(matches!(ask(vec![good, bad]), AskError::Amount { place: 2, .. }));
    let bad = film(lab(57.0, 356.0, -4.0), Kind::Dye, 1.0);
    assert!(matches!(ask(vec![good, good, bad]), AskError::Colour { what: "film", place: 3, .. }));
    assert!(matches!(ask(vec![good; 65]), AskError::ManyFilms(65)));
    let inks = vec![InkGiven { colour: good.colour, kind: Kind::Dye }; 13];
    let order = Order { illuminant: Illuminant::D65, paper: None, inks };
    assert!(matches!(order.answer(), Err(AskError::HowMany(13))));
    let panel: Result<PanelAsked, _> = serde_json::from_str(r#"{"panel": {"version": 1, "layers": []}}"#);
    assert!(panel.unwrap_err().to_string().contains("unknown field"));
}
