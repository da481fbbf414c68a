//! Where does one begin? Ready starting points, drawn in the maker's own inks, to be picked and then bent.

use crate::blend::{Blend, Field, Way};
use crate::colour::Lab;
use crate::ink::Ink;
use crate::length::{Length, Units};
use crate::panel::Panel;
use crate::place::{Corner, Point};

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
    pub const PINK: [f64; 3] = [58.0, 58.0, -4.0];
    pub const VIOLET: [f64; 3] = [42.0, 34.0, -38.0];
    pub const BLUE: [f64; 3] = [56.0, -18.0, -36.0];
    pub const NIGHT: [f64; 3] = [26.0, 8.0, -34.0];
    pub const BLACK: [f64; 3] = [20.0, 0.0, 0.0];
    pub const GREEN: [f64; 3] = [58.0, -34.0, 34.0];
    pub const BROWN: [f64; 3] = [40.0, 16.0, 26.0];
}

/// The wishes that a drawer can grant on a panel of this size, card and tool; none where it is empty.
pub fn offered(panel: &Panel, drawer: &[Ink], units: Units) -> Vec<Wish> {
    let ground = Ground { panel, drawer, units };
    let wishes: [(&str, &str, Option<Panel>); 8] = [
        (
            "Sunrise in bands",
            "Skies and seas, with room for a line of words along the light end.",
            ground.sunrise(),
        ),
        (
            "Night with a glow",
            "A moon, a lamp or a window: the light stays where you place it.",
            ground.night(),
        ),
        (
            "Four corners",
            "Patterned layers on top: every corner of the card has a colour of its own.",
            ground.corners(),
        ),
        ("Soft rim", "A greeting in the middle: the edges hold the eye in.", ground.rim()),
        (
            "Three inks, five colours",
            "A rainbow from few pads: every join is a colour more.",
            ground.rainbow(),
        ),
        ("From faint to strong", "One pad only; a calm ground behind something busy.", ground.faint()),
        ("Patchwork", "A loose, dappled ground, to be cut up or splashed.", ground.patches()),
        (
            "Ground below a horizon",
            "A landscape: the sky fades down to it, the earth is darkest at the foot.",
            ground.horizon(),
        ),
    ];
    let granted = |(name, good_for, panel): (_, _, Option<Panel>)| {
        panel.filter(|panel| panel.check().is_ok()).map(|panel| Wish { name, good_for, panel })
    };
    wishes.into_iter().filter_map(granted).collect()
}

/// What a wish is granted on.
struct Ground<'a> {
    panel: &'a Panel,
    drawer: &'a [Ink],
    units: Units,
}

/// One ink of a blend to be: its place among the inks asked for, its passes, and its hill in shares of the span.
type Hill = (usize, u8, [f64; 4]);

impl Ground<'_> {
    /// The nearest inks to some colours, none twice; fewer where the drawer has not so many.
    fn inks(&self, asked: &[[f64; 3]]) -> Option<Vec<Ink>> {
        let mut taken: Vec<usize> = Vec::new();
        for lab in asked {
            let off = |place: &usize| Lab::from(*lab).difference(self.drawer[*place].lab());
            let free = (0..self.drawer.len()).filter(|place| !taken.contains(place));
            taken.push(free.min_by(|a, b| off(a).total_cmp(&off(b)))?);
        }
        Some(taken.into_iter().map(|place| self.drawer[place].clone()).collect())
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

    fn of(&self, inks: Vec<Ink>, blends: Vec<(Way, Vec<Hill>)>) -> Option<Panel> {
        let ground = blends.iter().map(|(way, hills)| self.blend(&inks, *way, hills)).collect();
        Some(self.panel.clone().begun(inks, ground))
    }

    fn evenly(&self, asked: &[[f64; 3]], way: Way) -> Option<Panel> {
        let inks = self.inks(asked)?;
        let mut panel = self.panel.clone();
        panel.scene.ground = vec![Blend { way, zone: Length::from_64ths(16), fields: Vec::new() }];
        Some(panel.with_inks(inks, self.units))
    }

    fn sunrise(&self) -> Option<Panel> {
        self.evenly(&[asked::YELLOW, asked::ORANGE, asked::PINK, asked::VIOLET], Way::UP)
    }

    fn night(&self) -> Option<Panel> {
        let inks = self.inks(&[asked::YELLOW, asked::BLUE, asked::NIGHT, asked::BLACK])?;
        let reach = self.share(self.panel.width.max(self.panel.height), 0.75);
        let glow = Way::Glow { centre: self.at(0.5, 0.36), across: reach, down: reach };
        let rim = Way::Vignette { corners: self.reach(0.25) };
        self.of(
            inks,
            vec![
                (
                    glow,
                    vec![
                        (0, 3, [0.0, 0.0, 0.08, 0.36]),
                        (1, 5, [0.16, 0.40, 0.52, 0.84]),
                        (2, 7, [0.46, 0.86, 1.0, 1.0]),
                    ],
                ),
                (rim, vec![(3, 2, [0.0, 0.0, 0.06, 0.44])]),
            ],
        )
    }

    fn corners(&self) -> Option<Panel> {
        let inks = self.inks(&[asked::PINK, asked::YELLOW, asked::VIOLET, asked::BLUE])?;
        // Neighbours round the card meet: pink with yellow, pink with violet, violet with blue, yellow with blue.
        let corner = |from: Corner, ink: usize| (Way::round(from), vec![(ink, 6, [0.0, 0.0, 0.06, 0.68])]);
        self.of(
            inks,
            vec![
                corner(Corner::TopLeft, 0),
                corner(Corner::TopRight, 1),
                corner(Corner::BottomLeft, 2),
                corner(Corner::BottomRight, 3),
            ],
        )
    }

    fn rim(&self) -> Option<Panel> {
        let inks = self.inks(&[asked::VIOLET])?;
        let rim = Way::Vignette { corners: self.reach(0.3) };
        self.of(inks, vec![(rim, vec![(0, 6, [0.0, 0.0, 0.06, 0.8])])])
    }

    fn rainbow(&self) -> Option<Panel> {
        self.evenly(&[asked::BLUE, asked::PINK, asked::YELLOW], Way::Band { angle: 65 })
    }

    fn faint(&self) -> Option<Panel> {
        let inks = self.inks(&[asked::BLUE])?;
        let full = inks[0].full_veils.min(8);
        self.of(inks, vec![(Way::UP, vec![(0, full, [0.0, 0.0, 0.1, 1.0])])])
    }

    fn patches(&self) -> Option<Panel> {
        let inks = self.inks(&[asked::PINK, asked::ORANGE, asked::VIOLET])?;
        let patch = |across, down, reach, ink: usize, veils: u8| {
            (self.round(across, down, reach), vec![(ink, veils, [0.0, 0.0, 0.25, 1.0])])
        };
        self.of(
            inks,
            vec![
                patch(0.22, 0.2, 0.62, 0, 5),
                patch(0.82, 0.3, 0.56, 1, 4),
                patch(0.3, 0.72, 0.6, 2, 4),
                patch(0.8, 0.82, 0.62, 0, 5),
                patch(0.52, 0.48, 0.42, 1, 3),
            ],
        )
    }

    fn horizon(&self) -> Option<Panel> {
        let inks = self.inks(&[asked::BLUE, asked::GREEN, asked::BROWN])?;
        self.of(
            inks,
            vec![
                (Way::DOWN, vec![(0, 6, [0.0, 0.0, 0.16, 0.64])]),
                (Way::UP, vec![(2, 5, [0.0, 0.0, 0.05, 0.22]), (1, 6, [0.04, 0.14, 0.26, 0.38])]),
            ],
        )
    }
}
