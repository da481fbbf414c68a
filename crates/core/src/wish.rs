//! Where does one begin? Ready starting points, drawn in the maker's own inks, to be picked and then bent.

use rayon::prelude::*;

use crate::blend::{Blend, Field, Way};
use crate::colour::{Illuminant, Lab};
use crate::ink::Ink;
use crate::judgement::Reading;
use crate::length::{Length, Units};
use crate::panel::Panel;
use crate::place::{Corner, Point};
use crate::scene::Scene;
use crate::search::Costs;

/// A starting point.
#[derive(Clone, Debug, PartialEq)]
pub struct Wish {
    /// What it is called.
    pub name: &'static str,
    /// What it is good for.
    pub good_for: &'static str,
    /// The panel as it would be begun.
    pub panel: Panel,
}

/// Colours that a wish asks a drawer for (chosen; L*, a*, b* under D65): of its inks the nearest is taken.
mod asked {
    pub const YELLOW: [f64; 3] = [84.0, 6.0, 70.0];
    pub const ORANGE: [f64; 3] = [70.0, 38.0, 60.0];
    pub const RED: [f64; 3] = [48.0, 60.0, 32.0];
    pub const PINK: [f64; 3] = [58.0, 58.0, -4.0];
    pub const VIOLET: [f64; 3] = [42.0, 34.0, -38.0];
    pub const BLUE: [f64; 3] = [56.0, -18.0, -36.0];
    pub const NIGHT: [f64; 3] = [26.0, 8.0, -34.0];
    pub const BLACK: [f64; 3] = [20.0, 0.0, 0.0];
    pub const GREEN: [f64; 3] = [58.0, -34.0, 34.0];
    pub const BROWN: [f64; 3] = [40.0, 16.0, 26.0];
}

/// How much further from its colour than the nearest an ink may lie that is taken because it meets the others better (ΔE00); so many
/// are looked at for each, and of all choices so many are tried (chosen: a yellow stays a yellow, in a second or two).
const AS_NEAR: f64 = 14.0;
const OTHERS: usize = 5;
const TRIED: usize = 6;
/// By how much less trouble other inks are worth taking (chosen).
const LESS: f64 = 0.05;
/// Light passes of the one ink of a ground that goes from faint to strong, where that holds so many.
const FAINT: u8 = 8;

/// A wish: its name, what it is good for, and how it is granted.
type Wished<'a> = (&'static str, &'static str, fn(&Ground<'a>) -> Option<Panel>);

/// All wishes.
const fn wishes<'a>() -> [Wished<'a>; 8] {
    [
        (
            "Sunrise in bands",
            "Skies and seas, with room for a line of words along the light end.",
            Ground::sunrise,
        ),
        (
            "Night with a glow",
            "A moon, a lamp or a window: the light stays where you place it.",
            Ground::night,
        ),
        (
            "Four corners",
            "Patterned layers on top: every corner of the card has a colour of its own.",
            Ground::corners,
        ),
        ("Soft rim", "A greeting in the middle: the edges hold the eye in.", Ground::rim),
        (
            "Three inks, five colours",
            "A rainbow from few pads: every join is a colour more.",
            Ground::rainbow,
        ),
        ("From faint to strong", "One pad only; a calm ground behind something busy.", Ground::faint),
        ("Patchwork", "A loose, dappled ground, to be cut up or splashed.", Ground::patches),
        (
            "Ground below a horizon",
            "A landscape: the sky fades down to it, the earth is darkest at the foot.",
            Ground::horizon,
        ),
    ]
}

/// The wishes that a drawer can grant on a panel of this size, card and tool; none where it is empty.
pub fn offered<'a>(panel: &'a Panel, drawer: &'a [Ink], units: Units) -> Vec<Wish> {
    let bare = Panel { inks: Vec::new(), scene: Scene::default(), ..panel.clone() };
    let ground = Ground { panel, bare, drawer, units };
    let granted = |(name, good_for, granted): Wished<'a>| {
        let panel = granted(&ground).filter(|panel| panel.check().is_ok())?;
        Some(Wish { name, good_for, panel })
    };
    wishes().into_par_iter().filter_map(granted).collect()
}

/// What a wish is granted on.
struct Ground<'a> {
    panel: &'a Panel,
    /// The same with nothing on it.
    bare: Panel,
    drawer: &'a [Ink],
    units: Units,
}

/// One ink of a blend to be: its place among the inks asked for, its passes, and its hill in shares of the span.
type Hill = (usize, u8, [f64; 4]);

impl Ground<'_> {
    /// A panel in inks that come near some colours, none twice: the nearest, or of those nearly as near others that meet more
    /// cleanly where that spares trouble; nothing where the drawer has not so many. Two of them meet where `meet` says so.
    fn clean(
        &self,
        asked: &[[f64; 3]],
        meet: impl Fn(usize, usize) -> bool,
        begun: impl Fn(&Panel, Vec<Ink>) -> Panel,
    ) -> Option<Panel> {
        let near: Vec<Vec<(usize, f64)>> = asked.iter().map(|lab| self.near(*lab)).collect();
        let mut nearest: Vec<usize> = Vec::new();
        for near in &near {
            nearest.push(near.iter().map(|(place, _)| *place).find(|place| !nearest.contains(place))?);
        }
        let inks = |taken: &[usize]| taken.iter().map(|place| self.drawer[*place].clone()).collect();
        // Judged with nothing else on it.
        let trouble = |taken: &[usize]| Reading::of(&begun(&self.bare, inks(taken))).trouble();
        let (mut taken, mut least) = (nearest.clone(), trouble(&nearest));
        for other in self.cleanest(&near, meet).into_iter().filter(|other| *other != nearest) {
            if least == 0.0 {
                break;
            }
            let spared = trouble(&other);
            if spared < least - LESS {
                (taken, least) = (other, spared);
            }
        }
        Some(begun(self.panel, inks(&taken)))
    }

    /// All inks from the nearest to a colour to the furthest, with how far off each is.
    fn near(&self, lab: [f64; 3]) -> Vec<(usize, f64)> {
        let off = |ink: &Ink| Lab::from(lab).difference(ink.lab());
        let mut near: Vec<(usize, f64)> =
            self.drawer.iter().enumerate().map(|(place, ink)| (place, off(ink))).collect();
        near.sort_by(|one, other| one.1.total_cmp(&other.1));
        near
    }

    /// Of all choices of an ink for each colour those that meet most cleanly, and then come nearest.
    fn cleanest(&self, near: &[Vec<(usize, f64)>], meet: impl Fn(usize, usize) -> bool) -> Vec<Vec<usize>> {
        let close = |near: &Vec<(usize, f64)>| {
            let most = near.first().map_or(0.0, |(_, off)| off + AS_NEAR);
            near.iter().copied().take(OTHERS).filter(|(_, off)| *off < most).collect::<Vec<_>>()
        };
        let near: Vec<Vec<(usize, f64)>> = near.iter().map(close).collect();
        let listed: Vec<usize> = near.iter().flatten().map(|(place, _)| *place).collect();
        let swatches: Vec<_> =
            listed.iter().map(|place| (self.drawer[*place].film(), self.drawer[*place].lab())).collect();
        let costs = Costs::of(&swatches, &self.panel.paper.reflectance(), Illuminant::D65);
        // Each choice as places among those listed, with what it pays.
        let mut choices: Vec<(Vec<usize>, f64)> = vec![(Vec::new(), 0.0)];
        let mut first = 0;
        for (at, near) in near.iter().enumerate() {
            let with = |(chosen, pays): &(Vec<usize>, f64)| {
                let more = near.iter().enumerate().filter_map(|(nth, (place, off))| {
                    let own = first + nth;
                    let is_new = chosen.iter().all(|other| listed[*other] != *place);
                    let meets = chosen.iter().enumerate().filter(|(other, _)| meet(*other, at));
                    let mud: f64 = meets.map(|(_, other)| costs.between(*other, own)).sum();
                    is_new.then(|| ([&chosen[..], &[own]].concat(), pays + mud + off))
                });
                more.collect::<Vec<_>>()
            };
            choices = choices.iter().flat_map(with).collect();
            first += near.len();
        }
        choices.sort_by(|one, other| one.1.total_cmp(&other.1));
        choices.truncate(TRIED);
        choices.into_iter().map(|(chosen, _)| chosen.iter().map(|at| listed[*at]).collect()).collect()
    }

    fn share(&self, of: Length, share: f64) -> Length {
        Length::nearest(of.mm() * share, self.units.pencil())
    }

    fn at(&self, across: f64, down: f64) -> Point {
        Point { left: self.share(self.panel.width, across), top: self.share(self.panel.height, down) }
    }

    fn reach(&self, share: f64) -> Length {
        self.share(self.panel.width.min(self.panel.height), share).max(Length::from_64ths(32))
    }

    fn round(&self, across: f64, down: f64, reach: f64) -> Way {
        let reach = self.reach(reach);
        Way::Patch { centre: self.at(across, down), across: reach, down: reach }
    }

    fn blend(&self, inks: &[Ink], way: Way, hills: &[Hill]) -> Blend {
        let span = way.span(self.panel.size());
        let field = |(ink, veils, shares): &Hill| {
            let [starts, full_from, full_to, ends] = shares.map(|share| match share {
                s if s >= 1.0 => span,
                s => self.share(span, s).min(span),
            });
            let veils = (*veils).min(inks[*ink].full_veils.saturating_add(2));
            Field { ink: *ink, veils, starts, full_from, full_to, ends }
        };
        let zone = match self.units {
            Units::Inches => Length::from_64ths(16),
            Units::Millimetres => Length::from_tenths_mm(70),
        };
        Blend { way, zone, fields: hills.iter().map(field).collect() }
    }

    fn of(&self, asked: &[[f64; 3]], blends: &[(Way, Vec<Hill>)]) -> Option<Panel> {
        self.clean(
            asked,
            |_, _| true,
            |panel, inks| {
                let ground = blends.iter().map(|(way, hills)| self.blend(&inks, *way, hills)).collect();
                panel.clone().begun(inks, ground)
            },
        )
    }

    fn evenly(&self, asked: &[[f64; 3]], way: Way) -> Option<Panel> {
        let beside = |one: usize, other: usize| one + 1 == other;
        self.clean(asked, beside, |panel, inks| {
            let mut panel = panel.clone();
            panel.scene.ground = vec![Blend { way, zone: Length::from_64ths(16), fields: Vec::new() }];
            panel.with_inks(inks, self.units)
        })
    }

    fn sunrise(&self) -> Option<Panel> {
        self.evenly(&[asked::YELLOW, asked::ORANGE, asked::PINK, asked::VIOLET], Way::UP)
    }

    fn night(&self) -> Option<Panel> {
        let asked = [asked::YELLOW, asked::BLUE, asked::NIGHT, asked::BLACK];
        let reach = self.share(self.panel.width.max(self.panel.height), 0.9);
        let glow = Way::Glow { centre: self.at(0.5, 0.36), across: reach, down: reach };
        let rim = Way::Vignette { corners: self.reach(0.25) };
        self.of(
            &asked,
            &[
                (
                    glow,
                    vec![
                        (0, 3, [0.0, 0.0, 0.03, 0.44]),
                        (1, 6, [0.04, 0.46, 0.58, 0.88]),
                        (2, 7, [0.48, 0.90, 1.0, 1.0]),
                    ],
                ),
                (rim, vec![(3, 2, [0.0, 0.0, 0.06, 0.44])]),
            ],
        )
    }

    fn corners(&self) -> Option<Panel> {
        // All of them meet in the middle: neighbours round the circle of colours make no mud there.
        let asked = [asked::YELLOW, asked::ORANGE, asked::PINK, asked::RED];
        let corner = |from: Corner, ink: usize| (Way::round(from), vec![(ink, 6, [0.0, 0.0, 0.06, 0.68])]);
        self.of(
            &asked,
            &[
                corner(Corner::TopLeft, 0),
                corner(Corner::TopRight, 1),
                corner(Corner::BottomLeft, 2),
                corner(Corner::BottomRight, 3),
            ],
        )
    }

    fn rim(&self) -> Option<Panel> {
        let asked = [asked::VIOLET];
        let rim = Way::Vignette { corners: self.reach(0.3) };
        self.of(&asked, &[(rim, vec![(0, 6, [0.0, 0.0, 0.06, 0.8])])])
    }

    fn rainbow(&self) -> Option<Panel> {
        self.evenly(&[asked::BLUE, asked::PINK, asked::YELLOW], Way::Band { angle: 65 })
    }

    fn faint(&self) -> Option<Panel> {
        self.clean(
            &[asked::BLUE],
            |_, _| true,
            |panel, inks| {
                let hill = (0, inks[0].full_veils.min(FAINT), [0.0, 0.0, 0.1, 1.0]);
                let ground = vec![self.blend(&inks, Way::UP, &[hill])];
                panel.clone().begun(inks, ground)
            },
        )
    }

    fn patches(&self) -> Option<Panel> {
        let asked = [asked::PINK, asked::ORANGE, asked::VIOLET];
        let patch = |across, down, reach, ink: usize, veils: u8| {
            (self.round(across, down, reach), vec![(ink, veils, [0.0, 0.0, 0.25, 1.0])])
        };
        self.of(
            &asked,
            &[
                patch(0.22, 0.2, 0.62, 0, 5),
                patch(0.82, 0.3, 0.56, 1, 4),
                patch(0.3, 0.72, 0.6, 2, 4),
                patch(0.8, 0.82, 0.62, 0, 5),
                patch(0.52, 0.48, 0.42, 1, 3),
            ],
        )
    }

    fn horizon(&self) -> Option<Panel> {
        let asked = [asked::BLUE, asked::GREEN, asked::BROWN];
        self.of(
            &asked,
            &[
                (Way::DOWN, vec![(0, 6, [0.0, 0.0, 0.16, 0.64])]),
                (Way::UP, vec![(2, 5, [0.0, 0.0, 0.05, 0.22]), (1, 6, [0.04, 0.14, 0.26, 0.38])]),
            ],
        )
    }
}

#[cfg(test)]
mod tests {
    use proptest::prelude::*;

    use super::*;
    use crate::colour::Colour;
    use crate::ink::Kind;
    use crate::panel::sample;

    fn ink(name: String, lab: [f64; 3]) -> Ink {
        let colour = Colour::Lab(lab.into());
        Ink {
            name: name.parse().unwrap(),
            kind: Kind::Dye,
            colour,
            one_veil: None,
            full_veils: 7,
            on_ink: None,
        }
    }

    /// A drawer with some inks near each of three colours.
    fn any_drawer() -> impl Strategy<Value = Vec<Ink>> {
        let near = |lab: [f64; 3]| {
            let off = prop::collection::vec(prop::array::uniform3(-8.0..8.0_f64), 1..3);
            off.prop_map(move |off| {
                off.into_iter().map(|off| [0, 1, 2].map(|n| lab[n] + off[n])).collect::<Vec<_>>()
            })
        };
        (near(asked::GREEN), near(asked::PINK), near(asked::BROWN)).prop_map(|(one, two, three)| {
            let labs = one.into_iter().chain(two).chain(three);
            labs.enumerate().map(|(n, lab)| ink(format!("Ink {n}"), lab)).collect()
        })
    }

    proptest! {
        #![proptest_config(ProptestConfig { failure_persistence: None, ..ProptestConfig::with_cases(12) })]

        #[test]
        fn inks_are_taken_that_are_near_and_spare_trouble(drawer in any_drawer()) {
            let colours = [asked::GREEN, asked::PINK, asked::BROWN];
            let panel = sample();
            let bare = Panel { inks: Vec::new(), scene: Scene::default(), ..panel.clone() };
            let ground = Ground { panel: &panel, bare, drawer: &drawer, units: Units::Inches };
            let with = |panel: &Panel, inks: Vec<Ink>| panel.clone().with_inks(inks, Units::Inches);
            let wish = ground.clean(&colours, |one, other| one + 1 == other, with).unwrap();
            prop_assert_eq!(wish.check(), Ok(()));
            let trouble = |inks: Vec<Ink>| Reading::of(&with(&ground.bare, inks)).trouble();
            let off = |at: usize, ink: &Ink| Lab::from(colours[at]).difference(ink.lab());
            let mut nearest: Vec<Ink> = Vec::new();
            for at in 0..colours.len() {
                let free = drawer.iter().filter(|ink| !nearest.contains(ink));
                let near = free.min_by(|one, other| off(at, one).total_cmp(&off(at, other))).unwrap();
                nearest.push(near.clone());
            }
            prop_assert!(trouble(wish.inks.clone()) <= trouble(nearest) + 1e-9);
        }
    }

    /// Beside green, of all the inks near another colour the one that spares most trouble is taken.
    #[test]
    fn another_ink_of_a_colour_is_taken_where_the_nearest_turns_to_mud() {
        let drawer = [
            ink("Cockle".into(), asked::PINK),
            ink("Samphire".into(), asked::GREEN),
            ink("Sand".into(), [72.0, 12.0, 44.0]),
            ink("Peat".into(), asked::BROWN),
        ];
        let panel = sample();
        let bare = Panel { inks: Vec::new(), scene: Scene::default(), ..panel.clone() };
        let ground = Ground { panel: &panel, bare, drawer: &drawer, units: Units::Inches };
        let with = |panel: &Panel, inks: Vec<Ink>| panel.clone().with_inks(inks, Units::Inches);
        // All choices there are, tried one by one.
        let colours = [asked::GREEN, [60.0, 20.0, 30.0]];
        let wish = ground.clean(&colours, |_, _| true, with).unwrap();
        let trouble = |inks: Vec<Ink>| Reading::of(&with(&ground.bare, inks)).trouble();
        let off = |ink: &Ink| Lab::from(colours[1]).difference(ink.lab());
        let least = drawer.iter().map(off).fold(f64::MAX, f64::min);
        let others =
            drawer.iter().filter(|ink| off(ink) < least + AS_NEAR && ink.name.as_str() != "Samphire");
        let best = others.map(|ink| trouble(vec![drawer[1].clone(), ink.clone()])).fold(f64::MAX, f64::min);
        assert!(trouble(wish.inks) <= best + LESS);
    }

    #[test]
    fn a_drawer_too_small_for_a_wish_is_offered_others() {
        let drawer = [ink("Sail".into(), asked::BLUE)];
        let names: Vec<&str> =
            offered(&sample(), &drawer, Units::Inches).iter().map(|wish| wish.name).collect();
        assert_eq!(names, ["Soft rim", "From faint to strong"]);
    }
}
