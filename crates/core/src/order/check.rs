//! Which rules of the craft do some moves break, and what puts it right?
//!
//! Every move is asked what it needs on the surface it meets, and the end is looked at as a whole: what still lies there,
//! and what is seen on a thing that was meant for what is behind it. Each finding that can be put right says how, as moves
//! in place of those checked.

use super::plan::Plan;
use super::unseen::{front, lost_on, lost_says};
use super::wet::goes;
use crate::colour::Illuminant;
use crate::ink::measured;
use crate::moves::{
    Accepted, Breach, LONGEST_NOTE, MOST_ACCEPTED, Mend, Move, Technique, Unmet, all_off,
    anti_static::AntiStatic, cool::Cool, dry::Dry, melt::Melt, mist_mat::MistMat, powder::Powder,
    raise::Raise, sticky::Sticky, surface_after, wipe::Wipe,
};
use crate::panel::Panel;
use crate::scene::{Covering, Scene};
use crate::surface::{Mask, Materials, Part, Surface};

/// A rule broken.
#[derive(Clone, Debug, PartialEq)]
pub struct Broken {
    /// The rule.
    pub breach: Breach,
    /// The move that breaks it, by its place from 0; the number of moves where it is the end that does.
    pub at: usize,
    /// What happens, why, and the remedy.
    pub says: String,
    mend: Mend,
}

/// Whether a finding is one that was left as it is.
fn is_of(accepted: &Accepted, broken: &Broken, panel: &Panel) -> bool {
    accepted.rule == broken.breach && accepted.at.as_ref() == panel.moves.get(broken.at)
}

/// Why a finding cannot be left as it is, and what to change.
#[derive(Clone, Copy, Debug, PartialEq, Eq, thiserror::Error)]
pub enum AcceptError {
    /// Too long a note.
    #[error("that note is longer than {LONGEST_NOTE} characters: say it in fewer")]
    Long,
    /// Too many.
    #[error("{MOST_ACCEPTED} findings are left as they are: put some of them right first")]
    Many,
}

/// Goes through a panel's moves.
pub fn check(panel: &Panel) -> Vec<Broken> {
    let materials = panel.materials();
    let mut surface = Surface::bare(materials.clone());
    let mut broken = Vec::new();
    for (at, m) in panel.moves.iter().enumerate() {
        let found = m.unmet(&surface).into_iter();
        broken.extend(found.map(|Unmet { breach, says, mend }| Broken { breach, at, says, mend }));
        m.make(&mut surface);
    }
    let end = panel.moves.len();
    broken.extend(surface.masks.iter().map(|mask| {
        let says = format!(
            "{} is never lifted: lift it once all is dry, before its glue sets.",
            crate::say::capital(&materials.masks.called(*mask))
        );
        Broken { breach: Breach::LeftOn, at: end, says, mend: Mend::Lift(*mask) }
    }));
    if surface.embossing.sticky.is_some() {
        let says =
            "Sticky ink lies there, and no powder is melted on it: it never dries. Powder it and melt it."
                .into();
        broken.push(Broken { breach: Breach::NotMelted, at: end, says, mend: Mend::MeltAtTheEnd });
    }
    broken.extend(printed(panel, &materials, &surface));
    broken.extend(lost(panel, &materials));
    broken
}

impl Broken {
    /// What puts it right, in a few words.
    pub fn repair(&self, materials: &Materials) -> String {
        let called = |mask: Mask| materials.masks.called(mask);
        match self.mend {
            Mend::DryFirst => "Let it dry first".into(),
            Mend::DryInAir => "Dry it in air instead".into(),
            Mend::WipeFirst(_) => "Wipe the brush first".into(),
            Mend::LeaveOut => "Leave the step out".into(),
            Mend::Unseal(thing) => {
                let name = materials.masks.things.get(thing).map_or("", |thing| thing.name.as_str());
                format!("Leave the {name} unsealed")
            }
            Mend::MaskFirst(mask) => format!("Put on {} first", called(mask)),
            Mend::Lift(mask) => format!("Lift {} at the end", called(mask)),
            Mend::WipeOverFirst => "Wipe the anti-static bag over it first".into(),
            Mend::LiftFirst(mask) | Mend::UncoverFirst(mask) => format!("Lift {} first", called(mask)),
            Mend::StickFirst => "Lay sticky ink first".into(),
            Mend::CoolFirst => "Let it cool first".into(),
            Mend::RaiseFirst(thing) => {
                let name = materials.masks.things.get(thing).map_or("", |thing| thing.name.as_str());
                format!("Raise the {name} first")
            }
            Mend::MistFirst => "Mist the mat first".into(),
            Mend::MeltAtTheEnd => "Powder it and melt it".into(),
            Mend::InGoes => "Take it in goes, dried between".into(),
            Mend::PlanAnew => "Lay it anew as planned".into(),
        }
    }

    /// The card as it would be if the move were made all the same; nothing where that is not to be seen.
    pub fn harmed(&self, panel: &Panel) -> Option<Surface> {
        let before = panel.after(self.at);
        let m = panel.moves.get(self.at)?;
        match self.breach {
            Breach::MaskOnDamp => Some(before.torn_by(m.mask()?)),
            Breach::LiftedDamp => Some(before.crept_under(m.mask()?)),
            Breach::NotBoneDry | Breach::NoAntiStatic => {
                let powders = panel.scene.things.iter().filter_map(|thing| thing.resist);
                Some(before.freckled(powders.max_by_key(|powder| powder.covers_with().is_some())?))
            }
            // What is laid shows where it went.
            Breach::NoFrame | Breach::Printed => Some(panel.after(self.at + 1)),
            _ => None,
        }
    }

    /// What the maker has said to it, where she leaves it so.
    pub fn accepted<'a>(&self, panel: &'a Panel) -> Option<&'a Accepted> {
        panel.accepted.iter().find(|one| is_of(one, self, panel))
    }

    /// The panel with this left as it is, and why.
    ///
    /// # Errors
    /// An [`AcceptError`] with the remedy.
    pub fn accept(&self, panel: &Panel, note: &str) -> Result<Panel, AcceptError> {
        let note = note.trim();
        if note.chars().count() > LONGEST_NOTE {
            return Err(AcceptError::Long);
        }
        let one =
            Accepted { rule: self.breach, at: panel.moves.get(self.at).cloned(), note: note.to_owned() };
        let mut accepted = panel.accepted.clone();
        // What no move breaks any more needs no note.
        accepted.retain(|known| known.at.as_ref().is_none_or(|at| panel.moves.contains(at)));
        accepted.retain(|known| (known.rule, &known.at) != (one.rule, &one.at));
        accepted.push(one);
        if accepted.len() > MOST_ACCEPTED {
            Err(AcceptError::Many)
        } else {
            Ok(Panel { accepted, ..panel.clone() })
        }
    }

    /// The panel with this told again.
    #[must_use]
    pub fn taken_up(&self, panel: &Panel) -> Panel {
        let accepted = panel.accepted.iter().filter(|one| !is_of(one, self, panel)).cloned().collect();
        Panel { accepted, ..panel.clone() }
    }

    /// The panel with this put right.
    #[must_use]
    pub fn mended(&self, panel: &Panel) -> Panel {
        let mut moves = panel.moves.clone();
        let at = self.at.min(moves.len());
        match self.mend {
            Mend::DryFirst => moves.insert(at, Dry {}.into()),
            Mend::DryInAir => moves[at] = Dry {}.into(),
            Mend::WipeFirst(times) => {
                let before = moves[at].laying().map(|laying| laying.ink);
                moves.insert(at, Wipe { before, times }.into());
            }
            Mend::LeaveOut => drop(moves.remove(at)),
            Mend::MaskFirst(mask) => with_mask(&mut moves, at, mask, panel),
            Mend::Lift(mask) => {
                let dry = damp_at_the_end(&moves, panel).then(|| Dry {}.into());
                moves.extend(dry);
                moves.push(Move::uncovering(mask));
            }
            Mend::WipeOverFirst => wipe_over(&mut moves, at, panel),
            Mend::StickFirst => stick(&mut moves, at, panel),
            Mend::CoolFirst => moves.insert(at, Cool {}.into()),
            Mend::RaiseFirst(thing) => moves.insert(at, Raise { thing }.into()),
            Mend::MistFirst => moves.insert(at, MistMat { pumps: 3 }.into()),
            Mend::LiftFirst(mask) => {
                // It would be lifted later: that comes sooner now.
                let later = moves[at..].iter().position(|m| *m == Move::uncovering(mask));
                if let Some(later) = later {
                    moves.remove(at + later);
                }
                moves.insert(at, Move::uncovering(mask));
            }
            Mend::UncoverFirst(upper) => uncover(&mut moves, at, upper),
            Mend::MeltAtTheEnd => {
                let powder = panel.after(at).embossing.powder.is_none().then(|| Powder::default().into());
                moves.extend(powder);
                moves.push(Melt {}.into());
            }
            Mend::InGoes => {
                let is_blotted = matches!(moves.get(at + 1), Some(Move::Blot(_)));
                let goes = goes(&moves[at], is_blotted, panel.paper.surface);
                let dried = goes.join(&Move::from(Dry {}));
                moves.splice(at..=at + usize::from(is_blotted), dried);
            }
            Mend::Unseal(thing) => {
                let mut panel = panel.clone();
                if let Some(thing) = panel.scene.things.get_mut(thing) {
                    thing.resist = None;
                }
                return panel.laid();
            }
            Mend::PlanAnew => {
                let materials = panel.materials();
                moves = Plan::of(&panel.scene, &materials, panel.school, Covering::FrontFirst).laid_on(&[]);
                return Panel { moves, done: 0, covering: Covering::FrontFirst, ..panel.clone() };
            }
        }
        let done = if at < panel.made().len() { 0 } else { panel.done };
        Panel { moves, done, ..panel.clone() }
    }
}

/// An anti-static bag over all, before the masks that lie there went on, or else with them lifted for it and put back.
fn wipe_over(moves: &mut Vec<Move>, at: usize, panel: &Panel) {
    let bag = Move::from(AntiStatic {});
    let Move::Sticky(Sticky { thing }) = moves[at] else { return moves.insert(at, bag) };
    let pile = |count: usize| surface_after(panel.materials(), &moves[..count]).masks;
    let bare = (0..=at).rev().find(|count| pile(*count).is_empty()).unwrap_or(0);
    let mut sooner = moves.clone();
    sooner.insert(bare, bag.clone());
    if surface_after(panel.materials(), &sooner[..=at]).is_wiped_round(thing) {
        *moves = sooner;
        return;
    }
    let lying = pile(at);
    let back = lying.iter().map(|mask| Move::covering(*mask));
    let lifted: Vec<Move> = all_off(&lying).chain([bag]).chain(back).collect();
    moves.splice(at..at, lifted);
}

/// Sticky ink on what is to be sealed next, while its frame still lies there; where it lies nowhere before, the powder is left out.
fn stick(moves: &mut Vec<Move>, at: usize, panel: &Panel) {
    let (materials, sealed) = (panel.materials(), panel.after(at).embossing.sealed);
    let is_next = |thing: &usize| {
        panel.scene.things[*thing].resist.is_some() && !sealed.iter().any(|known| known.thing == *thing)
    };
    let next: Vec<usize> = (0..panel.scene.things.len()).filter(is_next).collect();
    let found = (0..=at).rev().find_map(|count| {
        let masks = surface_after(materials.clone(), &moves[..count]).masks;
        let is_framed = |thing: &usize| {
            materials.masks.is_stamped(Some(*thing))
                || masks.contains(&Mask { thing: *thing, part: Part::Frame })
        };
        Some((count, next.iter().copied().find(is_framed)?))
    });
    match found {
        Some((count, thing)) => moves.insert(count, Sticky { thing }.into()),
        None => drop(moves.remove(at)),
    }
}

/// What lies on a mask lifted before that one is, and put back where something is done under it until it is lifted.
fn uncover(moves: &mut Vec<Move>, at: usize, upper: Mask) {
    let off = Move::uncovering(upper);
    let later = moves[at..].iter().position(|m| *m == off).map(|later| at + later);
    let until = later.unwrap_or(moves.len());
    let is_wanted = moves[at + 1..until].iter().any(|m| m.wets() || (m.stays() && m.mask().is_none()));
    match later {
        Some(later) if !is_wanted => drop(moves.remove(later)),
        _ => moves.insert(at + 1, Move::covering(upper)),
    }
    moves.insert(at, off);
}

/// A mask put on before a move, for as long as the same is laid, and lifted once that is dry.
fn with_mask(moves: &mut Vec<Move>, at: usize, mask: Mask, panel: &Panel) {
    let on = moves[at].laying().and_then(|laying| laying.on);
    let goes_on = |m: &Move| m.mask().is_none() && m.laying().is_none_or(|laying| laying.on == on);
    let end = at + moves[at..].iter().take_while(|m| goes_on(m)).count();
    // Drying that follows comes before it is lifted.
    let last = (at..end).rev().find(|n| moves[*n].laying().is_some()).unwrap_or(at);
    let dried = moves[last + 1..end].iter().any(Move::dries);
    // It may be lifted there already.
    if moves.get(end) != Some(&Move::uncovering(mask)) {
        moves.insert(end, Move::uncovering(mask));
    }
    if !dried {
        moves.insert(end, Dry {}.into());
    }
    let before = damp_at_the_end(&moves[..at], panel);
    moves.insert(at, Move::covering(mask));
    if before {
        moves.insert(at, Dry {}.into());
    }
}

fn damp_at_the_end(moves: &[Move], panel: &Panel) -> bool {
    let surface = surface_after(panel.materials(), moves);
    surface.is_damp()
}

/// What was laid for something behind a thing, and is seen on it.
fn printed(panel: &Panel, materials: &Materials, surface: &Surface) -> Vec<Broken> {
    let things = panel.scene.things.len();
    (0..things)
        .filter(|thing| !panel.scene.things[*thing].is_printed())
        .filter_map(|thing| {
            let (ink, _) = worst_on(&panel.scene, surface, thing)?;
            let at = panel.moves.iter().position(|m| {
                m.laying().is_some_and(|laying| laying.ink == ink && laying.on != Some(thing))
            })?;
            let name = &materials.masks.things[thing].name;
            let says = format!(
                "{} lies on the {name} and shows there: its plug has to be on while what is behind is laid.",
                materials.inks[ink].name
            );
            Some(Broken { breach: Breach::Printed, at, says, mend: Mend::PlanAnew })
        })
        .collect()
}

/// Patterns that are to lie over what is sealed before them.
fn lost(panel: &Panel, materials: &Materials) -> Vec<Broken> {
    let (scene, at) = (&panel.scene, panel.moves.len());
    let of = |pattern: usize| {
        let one = move |thing: usize| Broken {
            breach: Breach::PatternLost,
            at,
            says: lost_says(scene, pattern, &[thing]),
            mend: Mend::Unseal(thing),
        };
        lost_on(scene, &materials.masks, pattern).into_iter().map(one)
    };
    (0..scene.things.len()).flat_map(of).collect()
}

/// The ink not its own that shifts the colour of a thing most, by more than nobody sees, and by how much.
fn worst_on(scene: &Scene, surface: &Surface, thing: usize) -> Option<(usize, f64)> {
    let materials = &surface.materials;
    let mut worst: Option<(usize, f64)> = None;
    for plot in materials.masks.plots.iter().filter(|plot| front(scene, plot) == Some(thing)) {
        // A hair's breadth that a plug leaves bare at its edge is no part to be looked at.
        if !plot.is_covered(Mask { thing, part: Part::Plug }) {
            continue;
        }
        let here = surface.of_plot(plot);
        // Its own, and the patterns that are printed over it.
        let own: Vec<usize> = (0..thing).filter(|at| plot.is_inside(*at)).chain([thing]).collect();
        let is_own = |run: usize| own.iter().any(|on| here.is_on(run, Some(*on)));
        for [x, y] in plot.region.places() {
            let veils = here.veils_at(&here.spot(x, y));
            let own: Vec<f64> = here
                .coats
                .iter()
                .zip(&veils)
                .map(|(coat, veils)| if is_own(coat.run) { *veils } else { 0.0 })
                .collect();
            let lab = |veils: &[f64]| here.stack(veils, |_| 1.0).lab(Illuminant::D65);
            let shift = lab(&veils).difference(lab(&own));
            if shift <= worst.map_or(measured::UNSEEN, |(_, worst)| worst) {
                continue;
            }
            let foreign = here.coats.iter().zip(&veils).filter(|(coat, _)| !is_own(coat.run));
            if let Some((coat, _)) = foreign.max_by(|a, b| a.1.total_cmp(b.1)) {
                worst = Some((coat.ink, shift));
            }
        }
    }
    worst
}
