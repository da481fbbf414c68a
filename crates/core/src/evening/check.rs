//! Does any card suffer by it?
//!
//! A schedule is taken at its word: each card is worked through on a surface of its own, at the times that the schedule
//! gives, and that surface says what is damp, what has dried and which join has dried too far. Nothing here knows how the
//! schedule was found.

use super::plan::{Evening, Scheduled};
use crate::moves::{Breach, Move, Technique, heat::Heat};
use crate::surface::Surface;

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
            if let Move::Back(back) = m
                && let Some(ink) = surface.dried_under(&back.0)
            {
                suffers(at, format!("{} has dried: the join does not blend any more.", panel.inks[ink].name));
            }
            // Waits of its own lie between the steps.
            m.act(&mut surface);
            makes_ready &= matches!(m, Move::Take(_) | Move::Wipe(_));
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
