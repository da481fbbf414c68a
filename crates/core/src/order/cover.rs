//! In which order are the things and the ground laid, and which plugs does that take?
//!
//! Each thing that is inked is laid inside its frame; a plug covers it while what is behind is laid. What is laid when, and
//! which plugs are cut at all, is a choice. A plug can be left out where what is printed over the thing, or lies under it,
//! shifts its colour by less than the eye sees: that is predicted at places all over what is seen of it. Of all choices the
//! one that takes the fewest pieces is the best, then the fewest dryings, then the fewest pieces placed by eye, then the
//! least ink laid over what lies bare, then the fewest pieces placed at all. Small scenes are searched exactly; of larger ones, front first and back first are tried, each
//! with every plug left out that can be.

use std::collections::HashMap;
use std::ops::Range;
use std::sync::Arc;

use super::unseen::hidden_by;
use crate::blend::field::zones;
use crate::colour::{Illuminant, Lab};
use crate::ink::{Stack, measured};
use crate::scene::{Covering, MOST_THINGS, Scene, Thing};
use crate::shape::Use;
use crate::surface::masks::Plot;
use crate::surface::{Handled, Mask, Materials, Part, Surface};

/// Most things and ground, all inked, that are searched exactly: seven are a twentieth of a second.
pub const MOST_EXACT: usize = 7;
/// Places at which a thing is looked at.
const PLACES: usize = 24;
/// Square millimetres that two things must share before one goes over the other.
const SHARED: f64 = 0.01;

/// What is laid when, and what is plugged.
#[derive(Clone, Debug, Default, PartialEq, Eq)]
pub struct Scheme {
    /// The things by their places from front to back, and the ground, in the order they are laid.
    pub order: Vec<Option<usize>>,
    /// The things that get a plug.
    pub plugs: Vec<usize>,
}

/// What a scheme takes, the weightiest first.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq, PartialOrd, Ord)]
pub struct Effort {
    /// Pieces of masking sheet.
    pub pieces: usize,
    /// Times that it must dry before the next can be laid, or the last mask lifted.
    pub dryings: usize,
    /// Pieces placed where nothing guides them.
    pub by_eye: usize,
    /// Times that ink goes over a thing that lies there already with nothing to cover it: its ink fouls the brush.
    pub crossed: usize,
    /// Pieces placed.
    pub placed: usize,
}

/// The masks on and off the panel before one of its things, or the ground, is laid.
#[derive(Clone, Copy, Debug, Default, PartialEq, Eq)]
pub struct Wearing {
    /// Things whose frames lie there, a bit each.
    pub frames: u32,
    /// Things whose plugs lie there.
    pub plugs: u32,
}

impl Wearing {
    /// They, each as it is put on where nothing lies yet.
    pub fn masks(self) -> Vec<Mask> {
        let of = |bits: u32, part: Part| things_of(bits).into_iter().map(move |thing| Mask { thing, part });
        of(self.plugs, Part::Plug).chain(of(self.frames, Part::Frame)).collect()
    }
}

/// What is known of a scene before it is decided what is covered when.
#[derive(Debug)]
pub struct Scenery<'a> {
    scene: &'a Scene,
    materials: &'a Arc<Materials>,
    /// What is laid: the things that are inked, from front to back, then the ground.
    laid: Vec<Option<usize>>,
    /// For each of them, the things in front of it that it would go over.
    over: Vec<u32>,
    /// For each of them, the things behind it whose plugs would cover some of it.
    under: Vec<u32>,
    /// Things whose plug does not fit into the hole of the frame.
    loose: u32,
    /// Things that nothing has to lie round while they are laid.
    frameless: u32,
    /// Things that are sealed under powder, and need no plug from then on.
    sealed: u32,
    /// Things printed over what lies behind them, which need that to be there and are never plugged.
    printed: u32,
    /// What is laid so thin that it is dry by then, a bit for each place in that list.
    tints: u32,
    /// Pieces that frames are.
    frames: usize,
}

const fn bit(thing: usize) -> u32 {
    1 << thing
}

/// Whether what a thing gets, or the ground, is so thin that it is dry by the time a mask is moved. For powder, the folder and a
/// stamp all has to be dried in any case.
pub(super) fn is_tint(scene: &Scene, materials: &Materials, on: Option<usize>) -> bool {
    let blends = on.map_or(&scene.ground[..], |thing| scene.things[thing].blends());
    let wants_dry =
        |thing: &Thing| thing.resist.is_some() || thing.is_raised() || thing.shape.used == Use::Stamp;
    let laid = blends.iter().enumerate().flat_map(|(way, blend)| {
        blend.fields.iter().map(move |field| (way, field.ink, f64::from(field.veils)))
    });
    !scene.things.iter().any(wants_dry) && materials.is_tint(laid)
}

impl<'a> Scenery<'a> {
    /// Looks at a scene.
    pub fn of(scene: &'a Scene, materials: &'a Arc<Materials>) -> Scenery<'a> {
        // What nobody sees is not made.
        let is_made = |thing: &usize| {
            scene.things[*thing].is_made() && hidden_by(scene, &materials.masks, *thing).is_none()
        };
        let inked = (0..scene.things.len()).filter(is_made).map(Some);
        let has_ground = scene.ground.iter().any(|blend| !blend.fields.is_empty());
        let laid: Vec<Option<usize>> = inked.chain(has_ground.then_some(None)).collect();
        let masks = &materials.masks;
        let shares = |plot: &Plot, one: usize, other: usize| {
            plot.is_inside(one) && plot.is_inside(other) && plot.region.area() > SHARED
        };
        let is_over = |on: Option<usize>, front: usize| match on {
            None => masks.plots.iter().any(|plot| plot.is_inside(front)),
            Some(thing) => front < thing && masks.plots.iter().any(|plot| shares(plot, front, thing)),
        };
        let is_under = |on: Option<usize>, behind: usize| {
            on.is_some_and(|thing| {
                thing < behind && masks.plots.iter().any(|plot| shares(plot, thing, behind))
            })
        };
        let under = |on: &Option<usize>| {
            (0..scene.things.len()).filter(|behind| is_under(*on, *behind)).map(bit).sum()
        };
        let over =
            |on: &Option<usize>| (0..scene.things.len()).filter(|front| is_over(*on, *front)).map(bit).sum();
        let printed = (0..scene.things.len()).filter(|at| scene.things[*at].is_printed()).map(bit).sum();
        let sealed = (0..scene.things.len()).filter(|at| scene.things[*at].resist.is_some()).map(bit).sum();
        let all = 0..scene.things.len();
        let loose = all.clone().filter(|at| masks.things[*at].is_loose).map(bit).sum();
        let is_frameless = |at: &usize| !masks.things[*at].has_frame || scene.things[*at].fades_out();
        let frameless = all.filter(is_frameless).map(bit).sum();
        let framed = laid.iter().flatten().filter(|thing| !is_frameless(thing));
        let mut frames: Vec<Mask> =
            framed.filter_map(|thing| masks.things[*thing].piece(Part::Frame)).collect();
        frames.sort_unstable();
        frames.dedup();
        let is_tint = |at: &usize| is_tint(scene, materials, laid[*at]);
        let tints = (0..laid.len()).filter(is_tint).map(bit).sum();
        Scenery {
            tints,
            frames: frames.len(),
            scene,
            materials,
            over: laid.iter().map(over).collect(),
            under: laid.iter().map(under).collect(),
            laid,
            loose,
            frameless,
            sealed,
            printed,
        }
    }

    /// The things that something goes over: those that may need a plug.
    fn gone_over(&self) -> u32 {
        self.over.iter().fold(0, |all, over| all | over) & !self.sealed & !self.printed
    }

    /// The thing that is sealed once it is laid, where it is one.
    fn seals(&self, at: usize) -> bool {
        self.laid[at].is_some_and(|thing| self.sealed & bit(thing) != 0)
    }

    fn is_printed(&self, at: usize) -> bool {
        self.laid[at].is_some_and(|thing| self.printed & bit(thing) != 0)
    }

    fn is_inked(&self, at: usize) -> bool {
        self.laid[at].is_none_or(|thing| self.scene.things[thing].is_inked())
    }

    /// What has to lie there while something is laid, and what may go on lying there.
    fn wearing(&self, at: usize, plugs: u32, done: u32, before: Wearing) -> Wearing {
        let own = self.laid[at].map_or(0, bit);
        // A plug of what is behind would cover some of what is laid now.
        // A plug that will be needed goes into its frame while that still lies there.
        let later =
            (0..self.over.len()).filter(|other| done & bit(*other) == 0).map(|other| self.over[other]);
        let later = later.fold(0, |all, over| all | over);
        let guided = before.frames & plugs & later & !self.loose;
        let plugs = (before.plugs | (self.over[at] & plugs) | guided) & !own & !self.under[at];
        Wearing { frames: own & !self.frameless, plugs }
    }

    /// The masks that lie there while each of an order is laid.
    pub fn worn(&self, scheme: &Scheme) -> Vec<(Option<usize>, Wearing)> {
        let plugs = scheme.plugs.iter().map(|thing| bit(*thing)).sum();
        let places: Vec<usize> =
            scheme.order.iter().filter_map(|on| self.laid.iter().position(|of| of == on)).collect();
        self.worn_in(&places, plugs).into_iter().map(|(at, wearing)| (self.laid[at], wearing)).collect()
    }

    fn worn_in(&self, order: &[usize], plugs: u32) -> Vec<(usize, Wearing)> {
        let (mut wearing, mut done) = (Wearing::default(), 0);
        let mut worn = Vec::with_capacity(order.len());
        for &at in order {
            wearing = self.wearing(at, plugs, done, wearing);
            done |= bit(at);
            worn.push((at, wearing));
            // For melting all masks come off.
            if self.seals(at) {
                wearing = Wearing::default();
            }
        }
        worn
    }

    /// What a scheme takes.
    pub fn effort(&self, scheme: &Scheme) -> Effort {
        let mut going = Going::default();
        let plugs: u32 = scheme.plugs.iter().map(|thing| bit(*thing)).sum();
        for on in &scheme.order {
            if let Some(at) = self.laid.iter().position(|of| of == on) {
                going = self.gone_on(&going, at, plugs);
            }
        }
        self.all_told(&going)
    }

    fn all_told(&self, going: &Going) -> Effort {
        // What is damp dries at the end, if not before.
        let last = usize::from(going.is_damp);
        let pieces = self.frames + going.together.iter().map(|most| usize::from(*most)).sum::<usize>();
        Effort { pieces, dryings: going.effort.dryings + last, ..going.effort }
    }

    /// As many of each plug as have ever lain there together, with those that lie there now.
    fn together(&self, mut most: [u8; MOST_THINGS], plugs: u32) -> [u8; MOST_THINGS] {
        let mut now = [0; MOST_THINGS];
        for thing in things_of(plugs) {
            // A strip that is frame and plug in one has been counted as a frame.
            if let Some(Mask { thing, part: Part::Plug }) =
                self.materials.masks.things[thing].piece(Part::Plug)
            {
                now[thing] += 1;
                most[thing] = most[thing].max(now[thing]);
            }
        }
        most
    }

    /// The fewest pieces that plugs can be: one of each shape.
    fn fewest(&self, plugs: u32) -> usize {
        self.together([0; MOST_THINGS], plugs).iter().filter(|most| **most > 0).count()
    }

    fn gone_on(&self, going: &Going, at: usize, plugs: u32) -> Going {
        let after = self.wearing(at, plugs, going.done, going.wearing);
        let mut pile = going.pile.clone();
        let masks = &self.materials.masks;
        // Before it is sealed the anti-static bag goes over all of it, while nothing covers it.
        let bared = if self.seals(at) { masks.shifted(&mut pile, &[]) } else { Vec::new() };
        let steps = [bared, masks.shifted(&mut pile, &after.masks())].concat();
        let changes = !steps.is_empty();
        let put_on = steps.iter().filter(|step| matches!(step, Handled::On(..))).count();
        // With nothing to guide it, though its outline stands on the card already.
        let is_by_eye = |step: &&Handled| matches!(step, Handled::On(mask, false) if going.outlined & bit(mask.thing) != 0);
        // So is a stamp that has to meet what a plug has left open.
        let is_met = masks.is_stamped(self.laid[at])
            && self.laid[at].is_some_and(|own| going.outlined & bit(own) != 0);
        let by_eye = steps.iter().filter(is_by_eye).count() + usize::from(is_met);
        let crossed = self.over[at] & !plugs & !self.sealed & self.things_in(going.done);
        let own = self.laid[at].map_or(0, bit);
        let (inked, seals) = (self.is_inked(at) && self.tints & bit(at) == 0, self.seals(at));
        // A stamp takes up what is damp.
        let dries = changes || masks.is_stamped(self.laid[at]);
        let dried = usize::from(dries && going.is_damp);
        let is_damp = inked || (going.is_damp && !dries);
        Going {
            done: going.done | 1 << at,
            wearing: if seals { Wearing::default() } else { after },
            pile: if seals { Vec::new() } else { pile },
            outlined: going.outlined | own | after.plugs,
            is_damp: is_damp && !seals,
            together: self.together(going.together, after.plugs),
            effort: Effort {
                pieces: 0,
                dryings: going.effort.dryings + dried + usize::from(seals && is_damp),
                by_eye: going.effort.by_eye + by_eye,
                crossed: going.effort.crossed + crossed.count_ones() as usize,
                placed: going.effort.placed + put_on,
            },
        }
    }

    /// The things among some of what is laid.
    fn things_in(&self, laid: u32) -> u32 {
        things_of(laid).into_iter().filter_map(|at| self.laid[at]).map(bit).sum()
    }

    /// Finds what is laid when.
    pub fn scheme(&self, covering: Covering) -> Scheme {
        // A pattern comes after what it is printed over, what lies furthest behind first; what is sealed comes before what
        // goes over it, whichever way round the rest.
        let (patterns, plain): (Vec<usize>, Vec<usize>) =
            (0..self.laid.len()).partition(|at| self.is_printed(*at));
        let (sealed, rest): (Vec<usize>, Vec<usize>) = plain.iter().partition(|at| self.seals(**at));
        let patterns = || patterns.iter().rev().copied();
        let front_first: Vec<usize> = plain.iter().copied().chain(patterns()).collect();
        let back_first: Vec<usize> =
            sealed.into_iter().chain(rest.into_iter().rev()).chain(patterns()).collect();
        let all = self.gone_over();
        match covering {
            Covering::FrontFirst => self.as_scheme(&front_first, all),
            Covering::BackFirst => self.as_scheme(&back_first, all),
            Covering::Fewest => {
                let mut seen = Survey::of(self);
                if self.laid.len() <= MOST_EXACT {
                    self.searched(&mut seen).unwrap_or_else(|| self.as_scheme(&front_first, all))
                } else {
                    let tried = [front_first, back_first].map(|order| {
                        let plugs = self.with_few_plugs(&order, all, &mut seen);
                        self.as_scheme(&order, plugs)
                    });
                    let [one, other] = tried;
                    if self.effort(&other) < self.effort(&one) { other } else { one }
                }
            }
        }
    }

    fn as_scheme(&self, order: &[usize], plugs: u32) -> Scheme {
        Scheme { order: order.iter().map(|at| self.laid[*at]).collect(), plugs: things_of(plugs) }
    }

    /// As few plugs as an order takes, left out one after the other.
    fn with_few_plugs(&self, order: &[usize], all: u32, seen: &mut Survey) -> u32 {
        let mut plugs = all;
        for thing in things_of(all) {
            if self.is_clean(order, plugs & !bit(thing), seen) {
                plugs &= !bit(thing);
            }
        }
        plugs
    }

    /// Whether an order with these plugs leaves every thing as it is wanted.
    fn is_clean(&self, order: &[usize], plugs: u32, seen: &mut Survey) -> bool {
        seen.looks_as_wanted(&self.worn_in(order, plugs))
    }

    /// Whether a thing that gets no plug is spoilt by what is laid before it and after it, wherever no other plug can help.
    fn is_spoilt(&self, at: usize, done: u32, plugs: u32, seen: &mut Survey) -> bool {
        if let Some(thing) = self.laid[at].filter(|_| self.is_printed(at)) {
            // What it goes over has to be there.
            return (0..self.over.len())
                .any(|other| self.over[other] & bit(thing) != 0 && done & bit(other) == 0);
        }
        self.laid[at].is_some_and(|thing| plugs & bit(thing) == 0 && seen.is_spoilt(thing, Some((at, done))))
    }

    /// Of all orders and plugs the best, exactly: plugs few at a time, and each order as far as it can still win. Nothing
    /// where none leaves all as it is wanted.
    fn searched(&self, seen: &mut Survey) -> Option<Scheme> {
        let things = things_of(self.gone_over());
        let mut choices: Vec<u32> = (0..1_u32 << things.len())
            .map(|choice| {
                things
                    .iter()
                    .enumerate()
                    .filter(|(n, _)| choice & (1 << n) != 0)
                    .map(|(_, thing)| bit(*thing))
                    .sum()
            })
            .collect();
        choices.sort_by_key(|plugs: &u32| (self.fewest(*plugs), plugs.count_ones()));
        let mut best: Option<(Effort, Vec<usize>, u32)> = None;
        for plugs in choices {
            if best.as_ref().is_some_and(|(least, ..)| least.pieces < self.frames + self.fewest(plugs)) {
                break;
            }
            let whites = things
                .iter()
                .filter(|thing| plugs & bit(**thing) == 0 && !self.laid.contains(&Some(**thing)));
            if whites.into_iter().any(|thing| seen.is_spoilt(*thing, None)) {
                continue;
            }
            self.go_on(&Going::default(), &mut Vec::new(), plugs, seen, &mut best);
        }
        let (_, order, plugs) = best?;
        Some(self.as_scheme(&order, plugs))
    }

    fn go_on(
        &self,
        going: &Going,
        order: &mut Vec<usize>,
        plugs: u32,
        seen: &mut Survey,
        best: &mut Option<(Effort, Vec<usize>, u32)>,
    ) {
        let told = self.all_told(going);
        if best.as_ref().is_some_and(|(least, ..)| told >= *least) {
            return;
        }
        if order.len() == self.laid.len() {
            if self.is_clean(order, plugs, seen) {
                *best = Some((told, order.clone(), plugs));
            }
            return;
        }
        for at in 0..self.laid.len() {
            if going.done & (1 << at) == 0 && !self.is_spoilt(at, going.done, plugs, seen) {
                order.push(at);
                self.go_on(&self.gone_on(going, at, plugs), order, plugs, seen, best);
                order.pop();
            }
        }
    }
}

/// How far an order has been gone through.
#[derive(Clone, Debug, Default)]
struct Going {
    /// What has been laid, a bit for each of what is laid.
    done: u32,
    wearing: Wearing,
    /// The masks that lie there, from the lowest to the uppermost.
    pile: Vec<Mask>,
    /// Things whose outline stands on the card.
    outlined: u32,
    is_damp: bool,
    /// As many of each plug as have lain there together.
    together: [u8; MOST_THINGS],
    effort: Effort,
}

/// Things by their bits.
fn things_of(bits: u32) -> Vec<usize> {
    (0..32).filter(|thing| bits & bit(*thing) != 0).collect()
}

/// What is seen of each thing once all is laid, foretold.
struct Survey<'a> {
    scenery: &'a Scenery<'a>,
    /// Everything laid on bare card, whole.
    surface: Surface,
    /// Which of its coats are of which of what is laid.
    coats: Vec<Range<usize>>,
    plots: Vec<SurveyedPlot>,
    /// Plots, with the order in which ink reached them: whether they look as wanted.
    known: HashMap<(usize, Vec<usize>), bool>,
}

/// A plot where a thing is seen that its plug would cover.
struct SurveyedPlot {
    /// What is seen there under any pattern: a thing, or the ground.
    front: Option<usize>,
    /// The patterns printed over it, by their places among what is laid, in the order they are printed.
    patterns: Vec<usize>,
    /// The things whose plugs cover it.
    plugged: u32,
    /// What of all that is laid reaches it where no plug lies, a bit each.
    reached: u32,
    places: Vec<[f64; 2]>,
}

impl<'a> Survey<'a> {
    fn of(scenery: &'a Scenery<'a>) -> Survey<'a> {
        let mut surface = Surface::bare(scenery.materials.clone());
        let mut coats = Vec::new();
        for on in &scenery.laid {
            let first = surface.coats.len();
            let blends = on.map_or(&scenery.scene.ground[..], |thing| scenery.scene.things[thing].blends());
            let size = scenery.materials.extent(*on).size;
            for blend in blends {
                let edges = zones(blend.way.span(size), blend.zone);
                for field in &blend.fields {
                    surface.lay(field.ink, *on, blend.way, &field.reaches(&edges));
                }
            }
            coats.push(first..surface.coats.len());
        }
        let masks = &scenery.materials.masks;
        let plot = |plot: &Plot| {
            if !plot.is_inked() {
                return None;
            }
            let things = (0..masks.things.len()).filter(|thing| plot.is_inside(*thing));
            let is_pattern = |thing: &usize| scenery.printed & bit(*thing) != 0;
            let front = things.clone().find(|thing| !is_pattern(thing));
            let before = |thing: &usize| front.is_none_or(|front| *thing < front);
            let place = |thing: usize| scenery.laid.iter().position(|on| *on == Some(thing));
            let mut patterns: Vec<usize> =
                things.filter(|thing| is_pattern(thing) && before(thing)).filter_map(place).collect();
            patterns.reverse();
            // On what is sealed no ink takes.
            let last = match front {
                Some(thing) if scenery.sealed & bit(thing) != 0 => 0,
                _ => patterns.iter().position(|at| scenery.seals(*at)).map_or(patterns.len(), |at| at + 1),
            };
            patterns.truncate(last);
            if front.is_none() && patterns.is_empty() {
                return None;
            }
            let plugged: u32 = (0..masks.things.len())
                .filter(|thing| plot.is_covered(Mask { thing: *thing, part: Part::Plug }))
                .map(bit)
                .sum();
            // What a hair leaves bare at an edge, and what the halo of something in front covers, is meant to differ.
            let in_front = front.map_or(u32::MAX, |front| bit(front) - 1) & !scenery.printed;
            let is_meant = front.is_none_or(|front| plugged & bit(front) != 0) && plugged & in_front == 0;
            let reaches = |at: &usize| scenery.laid[*at].is_none_or(|thing| plot.is_inside(thing));
            let reached = (0..scenery.laid.len()).filter(reaches).map(bit).sum();
            let places = plot.region.places();
            let places = places.iter().copied().step_by(places.len().div_ceil(PLACES).max(1)).collect();
            is_meant.then_some(SurveyedPlot { front, patterns, plugged, reached, places })
        };
        let plots = masks.plots.iter().filter_map(plot).collect();
        Survey { scenery, surface, coats, plots, known: HashMap::new() }
    }

    /// Whether a thing without its plug is spoilt where no other plug covers it: by what lies beneath it, given what had
    /// been laid when it was laid, and by all the rest above. With nothing laid on it, all of it lies above.
    fn is_spoilt(&mut self, thing: usize, laid: Option<(usize, u32)>) -> bool {
        let own: Vec<usize> = (0..self.plots.len())
            .filter(|plot| {
                let plot = &self.plots[*plot];
                plot.front == Some(thing) && plot.plugged & !self.scenery.printed == bit(thing)
            })
            .collect();
        // What lies furthest behind is laid first: other orders differ by less than is told here.
        let of = |bits: u32| things_of(bits).into_iter().rev();
        own.into_iter().any(|plot| {
            let SurveyedPlot { reached, patterns, .. } = &self.plots[plot];
            let reached = reached & !patterns.iter().map(|at| bit(*at)).sum::<u32>();
            let mut order: Vec<usize> = match laid {
                None => of(reached).collect(),
                Some((at, done)) => {
                    let (before, after) = (reached & done, reached & !done & !bit(at));
                    let after = if self.scenery.seals(at) { 0 } else { after };
                    of(before).chain([at]).chain(of(after)).collect()
                }
            };
            order.extend(patterns);
            !self.is_as_wanted(plot, order)
        })
    }

    /// Whether all things look as wanted when things are laid in an order, each with some plugs on.
    fn looks_as_wanted(&mut self, worn: &[(usize, Wearing)]) -> bool {
        (0..self.plots.len()).all(|plot| {
            let SurveyedPlot { plugged, reached, .. } = self.plots[plot];
            let mut is_sealed = false;
            let mut order = Vec::new();
            for (at, wearing) in worn {
                if is_sealed || reached & bit(*at) == 0 || plugged & wearing.plugs != 0 {
                    continue;
                }
                order.push(*at);
                is_sealed = self.scenery.seals(*at);
            }
            self.is_as_wanted(plot, order)
        })
    }

    /// Whether nobody sees on a plot that more reached it than what is meant for it.
    fn is_as_wanted(&mut self, plot: usize, order: Vec<usize>) -> bool {
        let SurveyedPlot { front, patterns, .. } = &self.plots[plot];
        // Patterns come last, and all of them.
        if !order.ends_with(patterns) {
            return false;
        }
        let front = (0..self.coats.len()).filter(|at| self.scenery.laid[*at] == *front);
        let own: Vec<usize> = front.chain(patterns.iter().copied()).collect();
        if own == order {
            return true;
        }
        // Powder melted for another is raised and glossy there, whatever its colour.
        if order.iter().any(|at| self.scenery.seals(*at) && !own.contains(at)) {
            return false;
        }
        if let Some(known) = self.known.get(&(plot, order.clone())) {
            return *known;
        }
        let shift = |place: &[f64; 2]| self.lab(*place, &order).difference(self.lab(*place, &own));
        let unseen = self.plots[plot].places.iter().all(|place| shift(place) <= measured::UNSEEN);
        self.known.insert((plot, order), unseen);
        unseen
    }

    /// The colour of what is laid, in an order, at a place.
    fn lab(&self, [x, y]: [f64; 2], order: &[usize]) -> Lab {
        let (surface, materials) = (&self.surface, self.scenery.materials);
        let mut stack = Stack::on(&materials.card);
        for coat in order.iter().flat_map(|at| &surface.coats[self.coats[*at].clone()]) {
            let veils = coat.veils_at(surface.runs[coat.run].at(x, y));
            stack.lay(coat.ink, &materials.films[coat.ink], veils / materials.full_veils(coat.ink));
        }
        stack.lab(Illuminant::D65)
    }
}
