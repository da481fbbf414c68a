//! Laws of cutting: everything is there, every cut runs from edge to edge, and no plan takes more sheets than it must.

use proptest::prelude::*;
use rand_chacha::ChaCha8Rng;
use rand_core::{Rng, SeedableRng};
use rosy_core::cut::{Piece, Plan, Sheet, SheetAsked};
use rosy_core::edges::{Axis, Place};
use rosy_core::{Length, Units};

fn eighths(n: i64) -> Length {
    Length::from_64ths(8 * n)
}

fn piece(name: &str, width: i64, height: i64, count: u32) -> Piece {
    let name = name.parse().unwrap();
    Piece { name, width: eighths(width), height: eighths(height), grain: None, count, paper: None }
}

fn letter() -> Sheet {
    sheet("Letter", 68, 88)
}

fn sheet(name: &str, width: i64, height: i64) -> Sheet {
    let name = name.parse().unwrap();
    let (grain, paper, count) = (None, None, None);
    Sheet { name, width: eighths(width), height: eighths(height), grain, count, paper, offcut: false }
}

fn plan(pieces: &[Piece], sheets: &[Sheet]) -> Plan {
    let asked =
        SheetAsked { units: Units::Inches, pieces: pieces.to_vec(), sheets: sheets.to_vec(), keep: None };
    asked.answer().unwrap_or_else(|error| panic!("{error}: {pieces:?}"))
}

/// Walks a sheet with a blade: a part with something in it is either one part whole, or some cut from edge to edge goes
/// between its parts; then the same holds on both sides. Knows nothing of how the plan was made.
fn cuttable(within: Place, parts: &[Place]) -> bool {
    let [_, _, ..] = parts else { return parts.iter().all(|part| *part == within) };
    Axis::BOTH.into_iter().any(|axis| {
        let end = |part: &Place| part.along(axis).0 + part.along(axis).1;
        let (begin, long) = within.along(axis);
        parts.iter().map(end).filter(|at| begin < *at && *at < begin + long).any(|at| {
            let (near, far): (Vec<Place>, Vec<Place>) = parts.iter().partition(|part| end(part) <= at);
            if far.iter().any(|part| part.along(axis).0 < at) {
                return false;
            }
            let side = |from: Length, to: Length| match axis {
                Axis::Across => Place { left: from, width: to - from, ..within },
                Axis::Down => Place { top: from, height: to - from, ..within },
            };
            cuttable(side(begin, at), &near) && cuttable(side(at, begin + long), &far)
        })
    })
}

/// Everything a plan must be, whatever it was asked.
fn lawful(plan: &Plan, pieces: &[Piece], sheets: &[Sheet]) {
    let mut cut = vec![0; pieces.len()];
    let mut kept: i128 = 0;
    for laid in &plan.sheets {
        let of = &sheets[laid.sheet];
        let whole = Place { width: of.width, height: of.height, ..Place::default() };
        let places: Vec<Place> = laid.parts.iter().map(|part| part.place).collect();
        let area: i128 = places.iter().map(|p| p.width.times(p.height)).sum();
        assert_eq!(area, of.width.times(of.height), "the parts are as large as the sheet");
        for (n, one) in places.iter().enumerate() {
            assert!(one.width > Length::ZERO && one.height > Length::ZERO);
            assert!(one.left >= Length::ZERO && one.left + one.width <= of.width);
            assert!(one.top >= Length::ZERO && one.top + one.height <= of.height);
            let apart = |axis: Axis, other: &Place| {
                let (a, b) = (one.along(axis), other.along(axis));
                a.0 + a.1 <= b.0 || b.0 + b.1 <= a.0
            };
            let mut others = places[n + 1..].iter();
            assert!(others.all(|other| apart(Axis::Across, other) || apart(Axis::Down, other)), "{places:?}");
        }
        assert!(cuttable(whole, &places), "a cut stops half way: {places:?}");
        for part in &laid.parts {
            let Some(at) = part.piece else { continue };
            let (asked, lies) = (&pieces[at], (part.place.width, part.place.height));
            cut[at] += laid.alike;
            let as_is = lies == (asked.width, asked.height);
            let turned = lies == (asked.height, asked.width);
            match (asked.grain, of.grain) {
                (Some(piece), Some(sheet)) if piece == sheet => assert!(as_is, "grain across the fold"),
                (Some(_), Some(_)) => assert!(turned, "grain across the fold"),
                _ => assert!(as_is || turned),
            }
            assert!(asked.paper.is_none() || of.paper.is_none() || asked.paper == of.paper);
        }
        // Each step's figures are those of parts that are there.
        for step in &laid.cuts {
            assert!(step.stop > Length::ZERO && step.stop < step.along.of(of.width, of.height));
        }
        let blade: u32 = laid.cuts.iter().map(|step| step.times * step.each).sum();
        assert_eq!(blade as usize, places.len() - 1, "every cut makes one part more: {:#?}", laid.cuts);
    }
    for (found, asked) in cut.iter().zip(pieces) {
        assert_eq!(*found, asked.count, "{}", asked.name);
    }
    for sheet in &plan.kept {
        kept += sheet.width.times(sheet.height) * i128::from(sheet.count.unwrap());
    }
    let all: i128 = plan.sheets.iter().map(|s| s.width.times(s.height) * i128::from(s.alike)).sum();
    let made: i128 = pieces.iter().map(|p| p.area() * i128::from(p.count)).sum();
    let waste = (all - made - kept) as f64 / all as f64 * 100.0;
    assert!((plan.waste_percent - waste).abs() < 0.051);
    assert!(plan.at_least <= plan.full_sheets && plan.exact == (plan.at_least == plan.full_sheets));
    for (at, sheet) in sheets.iter().enumerate() {
        let used: u32 = plan.sheets.iter().filter(|laid| laid.sheet == at).map(|laid| laid.alike).sum();
        let said =
            plan.uses.iter().find(|said| said.sheet == at).map_or((0, 0), |said| (said.used, said.to_get));
        assert_eq!(said, (used, sheet.count.map_or(0, |count| used.saturating_sub(count))));
        assert!(!sheet.offcut || sheet.count.is_none_or(|count| used <= count), "an offcut cannot be bought");
    }
}

/// First-fit decreasing shelves, written anew: the longer side lies along the shelf.
fn shelves(pieces: &[Piece], on: &Sheet) -> Option<usize> {
    let mut lying: Vec<(Length, Length)> = Vec::new();
    for piece in pieces {
        let (long, short) = (piece.width.max(piece.height), piece.width.min(piece.height));
        let way =
            [(long, short), (short, long)].into_iter().find(|(w, h)| *w <= on.width && *h <= on.height)?;
        lying.extend(std::iter::repeat_n(way, piece.count as usize));
    }
    lying.sort_by_key(|(_, height)| -*height);
    // Each sheet: its shelves, as height and length taken.
    let mut sheets: Vec<Vec<(Length, Length)>> = Vec::new();
    'next: for (width, height) in lying {
        for shelves in &mut sheets {
            if let Some(shelf) =
                shelves.iter_mut().find(|(h, used)| height <= *h && *used + width <= on.width)
            {
                shelf.1 += width;
                continue 'next;
            }
        }
        for shelves in &mut sheets {
            if shelves.iter().map(|(h, _)| *h).sum::<Length>() + height <= on.height {
                shelves.push((height, width));
                continue 'next;
            }
        }
        sheets.push(vec![(height, width)]);
    }
    Some(sheets.len())
}

/// The fewest sheets by trying everything: every part takes a piece into its corner and is cut both ways, or is left.
/// Every layout that is cut edge to edge can be pushed into its corners part by part, so nothing is missed.
fn fewest(pieces: &[(i64, i64)], on: (i64, i64)) -> usize {
    fn place(open: &[(i64, i64)], free: &[(i64, i64)]) -> bool {
        let Some((&(w, h), rest)) = open.split_first() else { return true };
        (0..free.len()).any(|at| {
            let (fw, fh) = free[at];
            [(w, h), (h, w)].into_iter().filter(|(w, h)| *w <= fw && *h <= fh).any(|(w, h)| {
                [[(fw - w, fh), (w, fh - h)], [(fw - w, h), (fw, fh - h)]].into_iter().any(|parts| {
                    let mut left = free.to_vec();
                    left.swap_remove(at);
                    left.extend(parts.into_iter().filter(|(w, h)| *w > 0 && *h > 0));
                    place(rest, &left)
                })
            })
        })
    }
    fn orders(open: &mut Vec<(i64, i64)>, from: usize, free: &[(i64, i64)]) -> bool {
        if from == open.len() {
            return place(open, free);
        }
        (from..open.len()).any(|at| {
            open.swap(from, at);
            let done = orders(open, from + 1, free);
            open.swap(from, at);
            done
        })
    }
    let mut open = pieces.to_vec();
    (1..).find(|sheets| orders(&mut open, 0, &vec![on; *sheets])).expect("one sheet for each piece is enough")
}

fn random(seed: u64, kinds: u64, most: u64, of_each: u32) -> Vec<Piece> {
    let mut random = ChaCha8Rng::seed_from_u64(seed);
    let mut up_to = |n: u64| random.next_u64() % n;
    let kinds = 1 + up_to(kinds);
    (0..kinds)
        .map(|n| {
            let (w, h) = (4 + up_to(most) as i64, 4 + up_to(most) as i64);
            piece(&format!("Piece {n}"), w, h, 1 + up_to(u64::from(of_each)) as u32)
        })
        .collect()
}

#[test]
fn a_letter_sheet_gives_two_bases_or_four_panels() {
    let bases = [piece("Base", 68, 44, 2)];
    let panels = [piece("Panel", 34, 44, 4)];
    for pieces in [&bases, &panels] {
        let plan = plan(pieces, &[letter()]);
        lawful(&plan, pieces, &[letter()]);
        assert_eq!((plan.full_sheets, plan.waste_percent, plan.exact), (1, 0.0, true));
    }
    let three = plan(&[piece("Base", 68, 44, 3)], &[letter()]);
    assert_eq!(three.full_sheets, 2);
    assert_eq!(three.kept.len(), 1, "half a sheet is kept");
}

#[test]
fn what_is_left_over_stays_in_one_piece() {
    // Six mats, four to a sheet: four and two, not three and three.
    let pieces = [piece("Mat", 33, 43, 6)];
    let plan = plan(&pieces, &[letter()]);
    lawful(&plan, &pieces, &[letter()]);
    let each: Vec<usize> = plan
        .sheets
        .iter()
        .map(|sheet| sheet.parts.iter().filter(|part| part.piece.is_some()).count())
        .collect();
    assert_eq!(each, [4, 2]);
}

#[test]
fn grain_runs_along_the_fold() {
    let grain = |axis| Sheet { grain: Some(axis), ..letter() };
    // A base 8 1/2 × 5 1/2 scored at 4 1/4 wants its grain up and down: two of them lie across a long-grain sheet only.
    let base = Piece { grain: Some(Axis::Down), ..piece("Base", 68, 44, 2) };
    let base = [base];
    let long = plan(&base, &[grain(Axis::Down)]);
    lawful(&long, &base, &[grain(Axis::Down)]);
    assert_eq!(long.full_sheets, 1);
    let base_up = Piece { grain: Some(Axis::Across), ..piece("Base", 34, 88, 2) };
    let refused = SheetAsked {
        units: Units::Inches,
        pieces: vec![base_up.clone()],
        sheets: vec![grain(Axis::Down)],
        keep: None,
    };
    let says = refused.answer().unwrap_err().to_string();
    assert!(says.contains("fits on no sheet") && says.contains("grain along the fold"), "{says}");
    let base_up = [base_up];
    let short = plan(&base_up, &[grain(Axis::Across)]);
    lawful(&short, &base_up, &[grain(Axis::Across)]);
    assert_eq!(short.full_sheets, 1);
}

#[test]
fn no_plan_takes_more_sheets_than_shelves_do() {
    let mut compared = 0;
    for seed in 0..2_500 {
        let pieces = random(seed, 6, 48, 9);
        let Some(shelves) = shelves(&pieces, &letter()) else { continue };
        let plan = plan(&pieces, &[letter()]);
        lawful(&plan, &pieces, &[letter()]);
        assert!(plan.full_sheets as usize <= shelves, "seed {seed}: {} against {shelves}", plan.full_sheets);
        compared += 1;
    }
    assert!(compared > 2_000);
}

#[test]
fn small_batches_take_the_fewest_sheets_there_are() {
    for seed in 0..250 {
        let mut pieces = random(10_000 + seed, 5, 60, 2);
        let mut all = 0;
        pieces.retain_mut(|piece| {
            piece.count = piece.count.min(5_u32.saturating_sub(all));
            all += piece.count;
            piece.count > 0
        });
        let sides = |length: Length| length.div_rem(eighths(1)).0;
        let single: Vec<(i64, i64)> = pieces
            .iter()
            .flat_map(|p| std::iter::repeat_n((sides(p.width), sides(p.height)), p.count as usize))
            .collect();
        let plan = plan(&pieces, &[letter()]);
        lawful(&plan, &pieces, &[letter()]);
        assert!(plan.exact, "seed {seed}");
        assert_eq!(plan.full_sheets as usize, fewest(&single, (68, 88)), "seed {seed}: {single:?}");
    }
}

#[test]
fn offcuts_come_before_sheets() {
    let offcut = |w, h, n| Sheet { offcut: true, count: Some(n), ..sheet("Offcut", w, h) };
    let sheets = [letter(), offcut(40, 30, 2), offcut(33, 43, 1)];
    let pieces = [piece("Mat", 33, 43, 3)];
    let plan = plan(&pieces, &sheets);
    lawful(&plan, &pieces, &sheets);
    assert_eq!((plan.full_sheets, plan.offcuts_used), (1, 0), "three fit one sheet that is needed anyway");
    let one = [piece("Mat", 33, 43, 1)];
    let plan = self::plan(&one, &sheets);
    assert_eq!((plan.full_sheets, plan.offcuts_used, plan.at_least), (0, 1, 0));
    let five = [piece("Mat", 33, 43, 5)];
    let plan = self::plan(&five, &sheets);
    lawful(&plan, &five, &sheets);
    assert_eq!((plan.full_sheets, plan.offcuts_used), (1, 1));
}

#[test]
fn a_stock_that_does_not_reach_says_what_to_get() {
    let own = Sheet { count: Some(1), ..letter() };
    let pieces = [piece("Base", 68, 44, 6)];
    let own = [own];
    let plan = plan(&pieces, &own);
    lawful(&plan, &pieces, &own);
    assert_eq!(plan.uses[0].to_get, 2);
    assert!(plan.says.iter().any(|says| says.contains("get 2 more sheets of Letter")), "{:?}", plan.says);
}

#[test]
fn what_is_there_is_used_before_more_is_got() {
    let of = |card: &str| Some(card.parse().unwrap());
    let own = |name: &str, n| Sheet { count: Some(n), paper: of(name), ..sheet(name, 68, 88) };
    let stock = [own("White", 20), own("Coloured", 2)];
    // Tags of any card, eight to a sheet; the coloured ones take a sheet each.
    let pieces = [piece("Tag", 17, 44, 96), Piece { paper: of("Coloured"), ..piece("Ground", 68, 88, 3) }];
    let plan = plan(&pieces, &stock);
    lawful(&plan, &pieces, &stock);
    let got: Vec<(usize, u32, u32)> = plan.uses.iter().map(|of| (of.sheet, of.used, of.to_get)).collect();
    assert_eq!(got, [(0, 12, 0), (1, 3, 1)], "{:?}", plan.says);
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(60))]
    #[test]
    fn no_choice_of_card_asks_for_fewer_sheets(
        // Pieces of one size, of any card, of the first and of the second.
        wanted in (0_u32..24, 0_u32..10, 0_u32..10),
        there in (0_u32..4, 0_u32..4),
        // Six of them to a sheet of the first card, four to one of the second.
        wide in proptest::bool::ANY,
    ) {
        let of = |card: &str| Some(card.parse().unwrap());
        let (one, other) = if wide { (36, 24) } else { (24, 24) };
        let each = (if wide { 6 } else { 4 }, 4);
        let stock = [
            Sheet { count: Some(there.0), paper: of("White"), ..sheet("White", one, 16) },
            Sheet { count: Some(there.1), paper: of("Mist"), ..sheet("Mist", other, 16) },
        ];
        let all = [
            piece("Tag", 12, 8, wanted.0),
            Piece { paper: of("White"), ..piece("White tag", 12, 8, wanted.1) },
            Piece { paper: of("Mist"), ..piece("Mist tag", 12, 8, wanted.2) },
        ];
        let pieces: Vec<Piece> = all.into_iter().filter(|piece| piece.count > 0).collect();
        prop_assume!(!pieces.is_empty());
        let plan = plan(&pieces, &stock);
        lawful(&plan, &pieces, &stock);
        let got: u32 = plan.uses.iter().map(|of| of.to_get).sum();
        let enough = |white: u32, mist: u32| {
            let (white, mist) = (each.0 * (there.0 + white), each.1 * (there.1 + mist));
            wanted.1 <= white && wanted.2 <= mist && wanted.0 + wanted.1 + wanted.2 <= white + mist
        };
        let fewest = (0..40).find(|n| (0..=*n).any(|white| enough(white, n - white))).unwrap();
        prop_assert_eq!(got, fewest, "{:?}", plan.says);
    }
}

#[test]
fn only_offcuts_of_the_makers_least_size_are_kept() {
    let pieces = [piece("Tag", 20, 30, 7)];
    let asked = |keep: Option<i64>| SheetAsked {
        units: Units::Inches,
        pieces: pieces.to_vec(),
        sheets: vec![letter()],
        keep: keep.map(eighths),
    };
    let shortest =
        |keep| asked(keep).answer().unwrap().kept.iter().map(|sheet| sheet.width.min(sheet.height)).min();
    assert!(shortest(None).is_some_and(|side| side < eighths(24)));
    assert!(shortest(Some(24)).is_none_or(|side| side >= eighths(24)));
    let refused = asked(Some(0)).answer().unwrap_err().to_string();
    assert!(refused.contains("shortest side worth keeping"), "{refused}");
}

#[test]
fn two_sizes_of_sheets_are_used_where_each_serves() {
    // A4 in tenths of a millimetre beside letter: a piece 11 1/2 in long fits A4 alone.
    let a4 = Sheet {
        width: Length::from_tenths_mm(2_100),
        height: Length::from_tenths_mm(2_970),
        ..sheet("A4", 1, 1)
    };
    let sheets = [letter(), a4];
    let pieces = [piece("Long", 40, 92, 1), piece("Wide", 68, 80, 1)];
    let plan = plan(&pieces, &sheets);
    lawful(&plan, &pieces, &sheets);
    assert_eq!(plan.full_sheets, 2);
    assert_eq!(plan.uses.len(), 2);
}

#[test]
fn large_batches_state_how_far_from_the_fewest_they_can_be() {
    let pieces: Vec<Piece> = (0..12).map(|n| piece(&format!("Strip {n}"), 5 + n, 9 + 3 * n, 12)).collect();
    let plan = plan(&pieces, &[letter()]);
    lawful(&plan, &pieces, &[letter()]);
    assert!(plan.at_least >= plan.full_sheets - 2, "{} of {}", plan.at_least, plan.full_sheets);
}

#[test]
fn what_cannot_be_cut_is_refused_with_the_remedy() {
    let ask = |pieces: Vec<Piece>, sheets: Vec<Sheet>| {
        let asked = SheetAsked { units: Units::Inches, pieces, sheets, keep: None };
        asked.answer().unwrap_err().to_string()
    };
    let card = |name: &str| Some(name.parse().unwrap());
    let (one, other) = (
        Piece { paper: card("Mist"), ..piece("Mat", 8, 8, 1) },
        Piece { paper: card("Oatmeal"), ..piece("Base", 8, 8, 1) },
    );
    for (said, says) in [
        (ask(vec![], vec![letter()]), "nothing to cut"),
        (ask(vec![piece("Mat", 8, 8, 1)], vec![]), "nothing to cut from"),
        (
            ask(vec![piece("Mat", 90, 90, 1)], vec![letter()]),
            "fits on no sheet: the largest, Letter, is 8 1/2 × 11 in",
        ),
        (ask(vec![piece("Mat", 8, 0, 1)], vec![letter()]), "a side of 0 in cannot be cut"),
        (ask(vec![piece("Mat", 8, 8, 0)], vec![letter()]), "at least 1"),
        (ask(vec![piece("Mat", 8, 8, 9_000)], vec![letter()]), "at most 600"),
        (ask(vec![one.clone(), other], vec![letter()]), "give each sheet its card"),
        (ask(vec![one], vec![Sheet { paper: card("Oatmeal"), ..letter() }]), "there are none of Mist"),
        (
            ask(
                vec![piece("Mat", 8, 8, 9)],
                vec![Sheet { offcut: true, count: Some(1), ..sheet("Bit", 9, 9) }],
            ),
            "the offcuts alone do not hold all of it",
        ),
    ] {
        assert!(said.contains(says), "{said}");
    }
}

proptest! {
    #![proptest_config(ProptestConfig::with_cases(150))]
    #[test]
    fn any_stock_of_sheets_and_offcuts_is_cut_lawfully(
        seed in 0_u64..1_000_000,
        stock in proptest::collection::vec((8_i64..96, 8_i64..96, 1_u32..4, any::<bool>(), 0_u8..3), 0..7),
    ) {
        let grain = |n: u8| [None, Some(Axis::Across), Some(Axis::Down)][usize::from(n)];
        let mut sheets = vec![Sheet { grain: grain((seed % 3) as u8), ..sheet("Large", 96, 96) }];
        sheets.extend(stock.into_iter().map(|(w, h, n, offcut, g)| Sheet {
            offcut,
            count: Some(n),
            grain: grain(g),
            ..sheet("Some", w, h)
        }));
        let mut pieces = random(seed, 5, 56, 6);
        for (n, piece) in pieces.iter_mut().enumerate() {
            piece.grain = grain(((seed as usize + n) % 3) as u8);
        }
        let plan = plan(&pieces, &sheets);
        lawful(&plan, &pieces, &sheets);
    }
}
