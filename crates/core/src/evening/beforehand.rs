//! What is cut and put out for an evening's cards before the first ink?

use crate::length::Units;
use crate::order::Step;
use crate::order::sheet::{cut, make_ready};
use crate::panel::Panel;

/// What is cut and put out for all cards together, a line each; nothing where there is no card.
pub fn ready(cards: &[&Panel], units: Units) -> Option<Step> {
    if cards.is_empty() {
        return None;
    }
    let mut cuts: Vec<(Step, usize)> = Vec::new();
    for card in cards {
        let own = cut(card, units);
        match cuts.iter_mut().find(|(step, _)| *step == own) {
            Some((_, count)) => *count += 1,
            None => cuts.push((own, 1)),
        }
    }
    let told = |(step, count): &(Step, usize)| match count {
        // Its title says the rest.
        1 if cards.len() == 1 => step.how.clone(),
        1 => format!("{}. {}", step.title, step.how),
        many => format!("{}, {many} times. {}", step.title, step.how),
    };
    let mut different: Vec<&Panel> = Vec::new();
    for card in cards {
        if !different.iter().any(|known| known.scene == card.scene && known.inks == card.inks) {
            different.push(card);
        }
    }
    let laid = make_ready(&different);
    let title = match (cuts.as_slice(), cards.len()) {
        ([(one, _)], 1) => one.title.clone(),
        (_, many) => format!("Cut the card for {many} panels, and make ready"),
    };
    let how = cuts.iter().map(told).chain([laid.how]).collect::<Vec<String>>().join("\n");
    let care = cuts[0].0.care.iter().chain(&laid.care).cloned().collect::<Vec<String>>().join(" ");
    Some(Step { title, how, care: Some(care), ..laid })
}
