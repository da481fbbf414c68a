//! How well was a strip laid that was practised on?
//!
//! Each drill is scored by what it is for: the run of colours along the strip by its steps, an edge by how far ink lies from its line,
//! a piece put back by how far both its edges lie apart. Each figure is graded against the limit from which it is a fault.

use nalgebra::{Matrix2, Vector2, Vector3};
use rosy_core::blend::field::zones;
use rosy_core::blend::limits::NO_CHROMA;
use rosy_core::colour::Lab;
use rosy_core::drill::Drill;
use rosy_core::length::Units;
use rosy_core::practice::Figured;

use super::edges::{Edges, Post, Register};
use super::hold::{Found, Held};
use super::strength::strengths;
use super::telling::width;
use crate::phone::{axes, between};
use crate::rank::at_share;

/// What is a fault: a step over 3 mm more than planned and a darkening (ΔE00), a share of its chroma that a join loses beyond the plan,
/// a rung against the usual one, millimetres that a fade ends off, a glow lies off, an edge strays, a piece lies off its place.
const LINE: f64 = 4.6;
const DARKER: f64 = 5.8;
const DULLER: f64 = 0.25;
const RUNG: f64 = 0.35;
const ENDS: f64 = 8.0;
const OFF_MIDDLE: f64 = 4.0;
const STRAYS: f64 = 0.6;
const OFF_PLACE: f64 = 0.5;
/// From which colour difference (ΔE00) from bare card on an ink is seen.
const SEEN: f64 = 3.0;
/// Millimetres of the strip's run that are taken together, and how many of them lie on either side of a step.
const BIN: f64 = 1.0;
const SIDE: usize = 2;
const ACROSS_STEP: usize = 3;
/// The share of an edge's places that lie nearer to its line than what is told.
const NEARLY_ALL: f64 = 0.9;

/// Grades what was measured: 100 at nothing, 50 where it is a fault.
fn grade(value: f64, fault: f64) -> u8 {
    (100.0 * 0.5_f64.powf((value.max(0.0) / fault).powi(2))).round() as u8
}

fn figured(of: &str, score: u8, says: String, next: &str) -> Figured {
    // What is well wants no advice.
    let next = if score < rosy_core::practice::WELL { next.to_owned() } else { String::new() };
    Figured { of: of.into(), score, says, next }
}

/// A strip that is looked at.
pub struct Drilled<'a> {
    /// What was found in the photo.
    pub found: &'a Found,
    /// What is not as planned.
    pub held: &'a Held,
    /// The edges of its shapes.
    pub edges: Edges<'a>,
    /// The units of the measures in what is said.
    pub units: Units,
}

/// The run of colours along the strip's blend, millimetre by millimetre: planned in the strength the ink came in, and seen.
struct Course {
    planned: Vec<Option<Lab>>,
    seen: Vec<Option<Lab>>,
}

impl Drilled<'_> {
    /// The figures that a drill is scored by, the weakest first; none of what cannot be seen in the photo.
    pub fn figures(&self, drill: Drill) -> Vec<Figured> {
        let own = match drill {
            Drill::Join => vec![self.line(), self.darker(), self.duller()],
            Drill::Ladder => vec![self.rungs()],
            Drill::Fade => vec![self.line(), self.ends()],
            Drill::Glow => vec![self.line(), self.off_middle()],
            Drill::Edge => vec![self.strays()],
            Drill::Register => vec![self.off_place()],
        };
        let mut figures: Vec<Figured> = own.into_iter().chain([self.evenness()]).flatten().collect();
        figures.sort_by_key(|figure| figure.score);
        figures
    }

    /// The places within the strip's tape that can be held against the plan.
    fn places(&self) -> impl Iterator<Item = usize> + '_ {
        let wanted = &self.found.wanted;
        let open = &wanted.surface.materials.masks.open;
        (0..wanted.grid.len()).filter(move |n| {
            wanted.is_even(*n) && open.as_ref().is_none_or(|open| open.has(wanted.grid.at(*n)))
        })
    }

    fn strengths(&self) -> Vec<f64> {
        let mut grown = vec![1.0; self.found.wanted.surface.materials.inks.len()];
        for one in strengths(&self.found.wanted, &self.found.seen) {
            grown[one.ink] = one.came;
        }
        grown
    }

    fn course(&self) -> Course {
        let (wanted, seen) = (&self.found.wanted, &self.found.seen);
        let run = wanted.surface.runs.first();
        let long = run.map_or(0.0, |run| run.span);
        let bins = (long / BIN).ceil() as usize + 1;
        let mut sums = vec![([0.0; 3], [0.0; 3], 0.0); bins];
        let grown = self.strengths();
        for n in self.places() {
            let (Some(run), Some(lab), Some(planned)) = (run, seen.lab[n], wanted.grown(n, &grown)) else {
                continue;
            };
            let [x, y] = wanted.grid.at(n);
            let bin = (run.at(x, y).place / BIN).max(0.0) as usize;
            if let Some((p, s, count)) = sums.get_mut(bin) {
                *p = [p[0] + planned.l, p[1] + planned.a, p[2] + planned.b];
                *s = [s[0] + lab.l, s[1] + lab.a, s[2] + lab.b];
                *count += 1.0;
            }
        }
        let mean =
            |sum: [f64; 3], count: f64| (count >= 4.0).then(|| Lab::from(sum.map(|axis| axis / count)));
        Course {
            planned: sums.iter().map(|(p, _, count)| mean(*p, *count)).collect(),
            seen: sums.iter().map(|(_, s, count)| mean(*s, *count)).collect(),
        }
    }

    /// The hardest step of the run beyond what is planned.
    fn line(&self) -> Option<Figured> {
        let hardest = self.course().hardest()?;
        let says = format!("The hardest step along it is {hardest:.1} ΔE00 over 3 mm more than planned.");
        let next = "Let a nearly dry brush run well over the place where the ink gives way, in small circles, lifting off as you go.";
        Some(figured("no line", grade(hardest, LINE), says, next))
    }

    /// How much darker than planned it gets anywhere along the run.
    fn darker(&self) -> Option<Figured> {
        let darkest = self.course().both().map(|(planned, seen)| planned.l - seen.l).fold(0.0, f64::max);
        let says = format!(
            "Where it is darkest beyond the plan, it is so by {darkest:.0} in a hundred steps of lightness."
        );
        let next = "Lay one light pass less of each ink where they meet.";
        Some(figured("no band", grade(darkest, DARKER), says, next))
    }

    /// How much duller than planned the middle is.
    fn duller(&self) -> Option<Figured> {
        let chroma = |lab: Lab| lab.oklch()[1];
        let course = self.course();
        // A share of the colour that the strip has where it has most.
        let most = course.both().map(|(planned, _)| chroma(planned)).fold(NO_CHROMA, f64::max);
        let lost = course.both().map(|(planned, seen)| (chroma(planned) - chroma(seen)) / most);
        let lost = lost.fold(0.0, f64::max);
        let says =
            format!("Where it is dullest beyond the plan, it has lost {:.0} % of its colour.", 100.0 * lost);
        let next =
            "Wipe the brush, or take another, before the second ink; lay the lighter one first and last.";
        Some(figured("clean", grade(lost, DULLER), says, next))
    }

    /// How far the step of any rung is from the usual one, as a share of it.
    fn rungs(&self) -> Option<Figured> {
        let wanted = &self.found.wanted;
        let blend = wanted.ground.first()?;
        let run = wanted.surface.runs.first()?;
        let ends = zones(rosy_core::Length::nearest(run.span, rosy_core::Length::from_64ths(1)), blend.zone);
        let grown = self.strengths();
        let mean = |from: f64, to: f64| {
            // The middle of a rung, off the slopes between.
            let (near, far) = (from + 0.3 * (to - from), to - 0.3 * (to - from));
            let places = self.places().filter(|n| {
                let [x, y] = wanted.grid.at(*n);
                (near..far).contains(&run.at(x, y).place)
            });
            let of: Vec<(Lab, Lab)> =
                places.filter_map(|n| Some((wanted.grown(n, &grown)?, self.found.seen.lab[n]?))).collect();
            let count = of.len() as f64;
            let sum = |pick: &dyn Fn(&(Lab, Lab)) -> Lab| {
                let sums =
                    of.iter().map(pick).fold([0.0; 3], |s, lab| [s[0] + lab.l, s[1] + lab.a, s[2] + lab.b]);
                Lab::from(sums.map(|axis| axis / count))
            };
            (count >= 12.0).then(|| (sum(&|both| both.0), sum(&|both| both.1)))
        };
        let rungs: Vec<(Lab, Lab)> =
            ends.windows(2).map(|ends| mean(ends[0].mm(), ends[1].mm())).collect::<Option<_>>()?;
        // The first is bare, or hardly seen: from the second on each is one pass more.
        let steps: Vec<f64> = rungs
            .windows(2)
            .map(|two| {
                let ((planned, seen), (more_planned, more_seen)) = (two[0], two[1]);
                let way = axes(planned) * between(more_planned, planned);
                // How far it goes the way that it should, as a share of how far it should.
                (axes(planned) * between(more_seen, seen)).dot(&way) / way.norm_squared().max(1e-9)
            })
            .collect();
        let usual = steps.iter().sum::<f64>() / steps.len() as f64;
        let (rung, off) = steps
            .iter()
            .map(|step| step / usual.max(1e-3) - 1.0)
            .zip(1..)
            .map(|(off, rung)| (rung, off))
            .max_by(|one, other| one.1.abs().total_cmp(&other.1.abs()))?;
        let how = if off > 0.0 { "larger" } else { "smaller" };
        let says = format!("The step to rung {rung} is {:.0} % {how} than the usual one.", 100.0 * off.abs());
        let next = "Dab the brush off the same way before each pass, and count the circles.";
        Some(figured("even steps", grade(off.abs(), RUNG), says, next))
    }

    /// How far from where it should the fade ends.
    fn ends(&self) -> Option<Figured> {
        let course = self.course();
        let card = self.found.wanted.surface.materials.paper.lab();
        let end = |of: &[Option<Lab>]| {
            let last = of.iter().rposition(|lab| lab.is_some_and(|lab| lab.difference(card) > SEEN))?;
            Some((last as f64 + 0.5) * BIN)
        };
        let off = end(&course.seen)? - end(&course.planned)?;
        let way = if off > 0.0 { "later" } else { "earlier" };
        let says = format!("It ends {} {way} than planned.", width(off.abs(), self.units).shown(self.units));
        let next =
            "Mark lightly where it should end, and let only a brush with hardly anything on it come near.";
        Some(figured("ends in its place", grade(off.abs(), ENDS), says, next))
    }

    /// How far a glow lies off its middle.
    fn off_middle(&self) -> Option<Figured> {
        let (wanted, seen) = (&self.found.wanted, &self.found.seen);
        let grown = self.strengths();
        // By how much the whole would have to be moved so that it looks as it does: along the planned slopes (Lucas & Kanade 1981).
        let (mut normal, mut side) = (Matrix2::identity() * 1e-6, Vector2::zeros());
        for n in self.places() {
            let planned = |across: i64, down: i64| {
                wanted
                    .grid
                    .by(n, across, down)
                    .filter(|n| wanted.is_even(*n))
                    .and_then(|n| wanted.grown(n, &grown))
            };
            let (Some(here), Some(lab)) = (planned(0, 0), seen.lab[n]) else { continue };
            let slope = |across: i64, down: i64| -> Option<Vector3<f64>> {
                Some(axes(here) * between(planned(across, down)?, planned(-across, -down)?) / 2.0)
            };
            let (Some(x), Some(y)) = (slope(1, 0), slope(0, 1)) else { continue };
            let off = axes(here) * between(lab, here);
            normal += Matrix2::new(x.dot(&x), x.dot(&y), x.dot(&y), y.dot(&y));
            side -= Vector2::new(x.dot(&off), y.dot(&off));
        }
        let off = normal.cholesky()?.solve(&side);
        let says = format!("Its light middle lies {} off.", width(off.norm(), self.units).shown(self.units));
        let next =
            "Turn the strip a quarter after each pass, so that the ink comes in from every side alike.";
        Some(figured("in the middle", grade(off.norm(), OFF_MIDDLE), says, next))
    }

    /// How far ink lies from the line of an edge.
    fn strays(&self) -> Option<Figured> {
        let told: Vec<(Post, f64)> = self.edges.offs(0).into_iter().flatten().collect();
        let moved = super::edges::moved(&told).filter(|_| told.len() >= 16)?;
        let off: Vec<f64> = told
            .iter()
            .map(|(post, off)| (off - post.out[0] * moved[0] - post.out[1] * moved[1] - moved[2]).abs())
            .collect();
        let strays = at_share(off, NEARLY_ALL)?;
        let says = format!(
            "Nine tenths of its edge lie within {} of its line.",
            width(strays, self.units).shown(self.units)
        );
        let next = "Press the mask's edge down with a bone folder, and brush from the mask outward with a dabbed-off brush.";
        Some(figured("a clean line", grade(strays, STRAYS), says, next))
    }

    /// How far the ground's edge lies off the shape's own.
    fn off_place(&self) -> Option<Figured> {
        let Register { off, wider } = self.edges.register(0, &self.found.seen.field)?;
        let by = off[0].hypot(off[1]);
        // Where it is furthest off: moved that way, and too small or too large all round.
        let far = by + wider.abs();
        let gap = width(far, self.units).shown(self.units);
        let says = if by > wider.abs() {
            format!("The plug lay up to {gap} beside the shape.")
        } else if wider > 0.0 {
            format!("Round the shape bare card shows, up to {gap} wide.")
        } else {
            format!("The ground's ink lies over the shape's edge by up to {gap}.")
        };
        let next = "Mark two corners of the frame before it is lifted, and lay the plug by them with low-tack spray beneath it.";
        Some(figured("in its place", grade(far, OFF_PLACE), says, next))
    }

    /// How uneven it is beyond what the tool leaves.
    fn evenness(&self) -> Option<Figured> {
        let unevenness = self.held.unevenness?;
        let more = (unevenness.seen / unevenness.expected() - 1.0).max(0.0);
        let says = if more < 0.1 {
            "It is as even as the tool lays it.".to_owned()
        } else {
            format!("It is {:.0} % more uneven than the tool leaves it.", 100.0 * more)
        };
        let next = "Lay more and lighter passes, in small circles, and dab the brush off before each.";
        Some(figured("even", grade(more, 1.0), says, next))
    }
}

impl Course {
    /// Planned and seen, wherever both are.
    fn both(&self) -> impl Iterator<Item = (Lab, Lab)> + '_ {
        self.planned.iter().zip(&self.seen).filter_map(|(planned, seen)| Some(((*planned)?, (*seen)?)))
    }

    /// The largest step across 3 mm beyond what is planned there (ΔE00).
    fn hardest(&self) -> Option<f64> {
        let count = self.seen.len();
        let mean = |of: &[Option<Lab>]| {
            let sum = of.iter().try_fold([0.0; 3], |sum, lab| {
                lab.map(|lab| [sum[0] + lab.l, sum[1] + lab.a, sum[2] + lab.b])
            });
            sum.map(|sum| Lab::from(sum.map(|axis| axis / of.len() as f64)))
        };
        let step = |at: usize| {
            let across = |of: &[Option<Lab>]| {
                let after = at + ACROSS_STEP;
                Some((mean(of.get(at..at + SIDE)?)?, mean(of.get(after..after + SIDE)?)?))
            };
            let ((before, after), (seen_before, seen_after)) = (across(&self.planned)?, across(&self.seen)?);
            let axes = axes(before);
            Some((axes * between(seen_after, seen_before)).norm() - (axes * between(after, before)).norm())
        };
        (0..count).filter_map(step).max_by(f64::total_cmp).map(|step| step.max(0.0))
    }
}

#[cfg(test)]
mod tests {
    use rosy_core::Panel;
    use rosy_core::blend::Way;
    use rosy_core::colour::Colour;
    use rosy_core::ink::{Finish, Ink, Kind, Paper, Tool};
    use rosy_core::length::Length;
    use rosy_core::practice::strip;

    use super::*;
    use crate::held::drawn::photo;
    use crate::picture::Picture;

    fn planned(drill: Drill) -> Panel {
        let ink = |name: &str, lab: [f64; 3]| Ink {
            name: name.parse().unwrap(),
            kind: Kind::Dye,
            colour: Colour::Lab(lab.into()),
            one_veil: None,
            full_veils: 7,
            on_ink: None,
        };
        let inks = [ink("Wind Sock", [58.0, 58.0, -6.0]), ink("Slack", [52.0, -20.0, -32.0])];
        let paper = Paper::plain(Finish::VerySmooth);
        strip(drill, &inks[..drill.inks()], paper, Tool::plain(), Units::Millimetres).unwrap()
    }

    /// The figures of a strip by a photo of what was laid.
    fn figures(strip: &Panel, picture: &Picture) -> Vec<Figured> {
        let found = Found::of(picture, strip, strip.moves.len(), None, None).unwrap();
        let held = Held::of(&found, picture, strip, None);
        let drilled =
            Drilled { found: &found, held: &held, edges: found.edges(picture), units: Units::Millimetres };
        drilled.figures(strip.practice.unwrap())
    }

    fn of(figures: &[Figured], what: &str) -> Figured {
        figures
            .iter()
            .find(|figure| figure.of == what)
            .unwrap_or_else(|| panic!("{what}: {figures:?}"))
            .clone()
    }

    #[test]
    fn what_is_laid_as_planned_scores_all_there_is() {
        for drill in Drill::ALL {
            let strip = planned(drill);
            let figures = figures(&strip, &photo(&strip, 7.0, |_, _| None, false));
            assert!(figures.len() > 1, "{drill:?}: {figures:?}");
            for figure in figures {
                assert!(figure.score >= 95 && figure.next.is_empty(), "{drill:?}: {figure:?}");
            }
        }
    }

    #[test]
    fn a_fade_that_ends_late_and_a_glow_off_its_middle_are_measured() {
        let strip = planned(Drill::Fade);
        let mut late = strip.clone();
        late.scene.ground[0].fields[0].full_to += Length::from_tenths_mm(140);
        late.scene.ground[0].fields[0].ends += Length::from_tenths_mm(140);
        let late = Panel { moves: Vec::new(), ..late }.laid();
        let ends = of(&figures(&strip, &photo(&late, 6.0, |_, _| None, false)), "ends in its place");
        assert!(ends.score < 50 && ends.says.contains("later") && !ends.next.is_empty(), "{ends:?}");
        let strip = planned(Drill::Glow);
        let mut off = strip.clone();
        if let Way::Glow { centre, .. } = &mut off.scene.ground[0].way {
            centre.left += Length::from_tenths_mm(60);
        }
        let off = Panel { moves: Vec::new(), ..off }.laid();
        let middle = of(&figures(&strip, &photo(&off, 6.0, |_, _| None, false)), "in the middle");
        let told: f64 = middle.says.split(' ').find_map(|word| word.parse().ok()).unwrap();
        assert!((4.0..7.5).contains(&told), "{middle:?}");
    }

    #[test]
    fn a_rung_that_is_too_deep_is_named() {
        let strip = planned(Drill::Ladder);
        let deep = |x: f64, y: f64| {
            let is_there = (60.0..114.0).contains(&x) && (6.0..59.0).contains(&y);
            is_there.then_some([0.97, 0.84, 0.94])
        };
        let steps = of(&figures(&strip, &photo(&strip, 6.0, deep, false)), "even steps");
        assert!(steps.score < 50 && steps.says.contains("rung 3"), "{steps:?}");
    }
}
