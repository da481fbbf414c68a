//! Does any card suffer by it?
//!
//! A schedule is taken at its word: each card is worked through on a surface of its own, at the times that the schedule
//! gives, and that surface says what is damp, what has dried and which join has dried too far. Nothing here knows how the
//! schedule was found.

use super::plan::{Evening, Scheduled, Step};
use crate::ink::{Ink, measured};
use crate::moves::{Breach, Technique, heat::Heat};
use crate::surface::brushes::{Carried, shift_in_words};
use crate::surface::{Materials, Surface};

/// What a schedule would do to a card.
#[derive(Clone, Debug, PartialEq, Eq)]
pub struct Suffers {
    /// The card; for what concerns the hands alone, the one they come to.
    pub card: usize,
    /// The move, by its place.
    pub at: usize,
    /// What, and why.
    pub says: String,
}

/// Goes through a schedule; nothing where all is well.
pub fn suffers(evening: &Evening, scheduled: &Scheduled) -> Vec<Suffers> {
    let mut found = hands(scheduled);
    found.extend(brushes(evening, scheduled));
    for card in 0..evening.cards.len() {
        found.extend(of_card(evening, scheduled, card));
    }
    found
}

/// Two things at once, or something begun before its beginning.
fn hands(scheduled: &Scheduled) -> Vec<Suffers> {
    let pairs = scheduled.steps.windows(2).filter(|pair| pair[1].from < pair[0].ends);
    let both = pairs.map(|pair| Suffers {
        card: pair[1].card,
        at: pair[1].moves.start,
        says: "The hands are not free yet.".into(),
    });
    let early = scheduled.steps.iter().filter(|step| step.from < 0 || step.ends < step.begins);
    let early = early.map(|step| Suffers {
        card: step.card,
        at: step.moves.start,
        says: "It begins too early.".into(),
    });
    both.chain(early).collect()
}

/// What one card leaves on a brush and another would get of it; what was on the brushes before is not known here.
fn brushes(evening: &Evening, scheduled: &Scheduled) -> Vec<Suffers> {
    let mut inks: Vec<Ink> = Vec::new();
    let mut places: Vec<Vec<usize>> = Vec::new();
    for card in &evening.cards {
        let place = |ink: &Ink| {
            inks.iter().position(|known| known == ink).unwrap_or_else(|| {
                inks.push(ink.clone());
                inks.len() - 1
            })
        };
        places.push(card.inks.iter().map(place).collect());
    }
    let Some(with) = evening.cards.first().map(|card| card.materials().of_inks(&inks)) else {
        return Vec::new();
    };
    let mut cards: Vec<Surface> = evening.cards.iter().map(|card| Surface::bare(card.materials())).collect();
    let mut carry = vec![Carried::default(); scheduled.desk.brushes.len()];
    let mut found = Vec::new();
    for step in &scheduled.steps {
        let (panel, surface) = (&evening.cards[step.card], &mut cards[step.card]);
        let mut is_ready = false;
        for at in step.moves.clone() {
            let Some(m) = panel.moves.get(at) else { break };
            if let (Some(laying), false) = (m.brushed(), is_ready) {
                is_ready = true;
                let laid = (places[step.card][laying.ink], laying.veils.len());
                found.extend(soiled(&with, scheduled, (step, at), laid, &mut carry));
            }
            m.make(surface);
            if let (Some(_), Some(readied)) = (m.brushed(), step.readied) {
                let own = surface.brushes.carried().0.iter();
                carry[readied.brush] =
                    Carried(own.map(|(ink, left)| (places[step.card][*ink], *left)).collect());
            }
        }
    }
    found
}

/// Whether an ink would be dirty by what its brush carries, once that is wiped as it is told.
fn soiled(
    with: &Materials,
    scheduled: &Scheduled,
    (step, at): (&Step, usize),
    (ink, passes): (usize, usize),
    carry: &mut [Carried],
) -> Option<Suffers> {
    let says = match step.readied {
        None => "No brush is made ready for it.".into(),
        Some(readied) => {
            let on_it = &mut carry[readied.brush];
            *on_it = on_it.wiped(readied.wipes);
            let shift = on_it.shift(with, ink, passes.max(1));
            // More than that nobody gets off it.
            if shift <= measured::UNSEEN || readied.wipes == measured::MOST_WIPES {
                return None;
            }
            let off = &with.inks[on_it.worst_for(with, ink)?].name;
            let (brush, new) = (&scheduled.desk.brushes[readied.brush], &with.inks[ink].name);
            format!("{brush} still carries {off}: {new} would be {}.", shift_in_words(shift))
        }
    };
    Some(Suffers { card: step.card, at, says })
}

fn of_card(evening: &Evening, scheduled: &Scheduled, card: usize) -> Vec<Suffers> {
    let panel = &evening.cards[card];
    let progress = evening.progress.get(card).copied().unwrap_or_default();
    let mut found = Vec::new();
    let mut surface = Surface::bare(panel.materials());
    let mut made = 0;
    while made < progress.moves.min(panel.moves.len()) {
        panel.moves[made].make(&mut surface);
        made += 1;
    }
    // What was planned for the card alone may break a rule that is left so.
    let known: Vec<(Breach, usize)> =
        crate::order::check::check(panel).into_iter().map(|broken| (broken.breach, broken.at)).collect();
    let begins = i64::from(surface.seconds()) + progress.since;
    surface.pass(u32::try_from(progress.since).unwrap_or(0));
    let mut suffers = |at: usize, says: String| found.push(Suffers { card, at, says });
    for step in scheduled.steps.iter().filter(|step| step.card == card) {
        let wait = begins + step.begins - i64::from(surface.seconds());
        match u32::try_from(wait) {
            Ok(wait) => surface.pass(wait),
            Err(_) => suffers(step.moves.start, "The card is still being worked on.".into()),
        }
        if step.heats {
            let unmet = Heat {}.unmet(&surface).into_iter().next();
            if let Some(unmet) = unmet {
                suffers(step.moves.start, unmet.says);
            }
            Heat {}.act(&mut surface);
            surface.pass(Heat {}.hands(&surface.materials));
            continue;
        }
        if step.moves.start != made {
            suffers(step.moves.start, format!("Move {} comes next, not {}.", made + 1, step.moves.start + 1));
        }
        // The hands make ready before they come to the card.
        let mut makes_ready = true;
        for at in step.moves.clone() {
            let Some(m) = panel.moves.get(at) else { break };
            made = at + 1;
            if m.dries() {
                if surface.is_damp() {
                    suffers(at, "It is still damp where it should have dried.".into());
                }
                surface.dry();
                continue;
            }
            let new = m.unmet(&surface).into_iter().find(|unmet| !known.contains(&(unmet.breach, at)));
            if let Some(unmet) = new {
                suffers(at, unmet.says);
            }
            if let Some(join) = m.join()
                && let Some(ink) = surface.dried_under(join.ink, join.on)
            {
                suffers(at, format!("{} has dried: the join does not blend any more.", panel.inks[ink].name));
            }
            // Waits of its own lie between the steps.
            m.act(&mut surface);
            makes_ready &= m.readies();
            if !makes_ready {
                surface.pass(m.hands(&surface.materials));
            }
        }
    }
    let is_later = scheduled.later.contains(&card);
    let rest = panel.moves.iter().skip(made).position(|m| !m.dries());
    if let Some(rest) = rest.filter(|_| !is_later) {
        suffers(made + rest, "It is never done.".into());
    }
    found
}
