//! What becomes of the steps already done when the plan changes?
//!
//! Ink that lies on the card stays there: steps that have been made stay made, and what is still missing of the new plan
//! is laid after them. Where the new plan has no use for what was made, everything is open again. Either way it is said.

use super::school::{laid_of, missing};
use super::sheet::STEPS_BEFORE;
use crate::blend::field::zones;
use crate::panel::Panel;

/// What a change of plan means for the steps that were ticked off, in a sentence or two; nothing where it means nothing.
pub fn what_changes(before: &Panel, after: &Panel) -> Option<String> {
    // Moves are told along the blend: turned, or on another piece, the same list is another plan.
    let plan = |panel: &Panel| (panel.blend.direction, panel.width, panel.height);
    let same = before.moves == after.moves && plan(before) == plan(after);
    if before.done == 0 || same {
        return None;
    }
    let many = |n: usize| if n == 1 { "1 step was".to_owned() } else { format!("{n} steps were") };
    if after.done == 0 {
        return Some(format!(
            "{} ticked off, and the new plan has no use for what they laid: all steps are open again. Undo brings the old plan back.",
            many(before.done)
        ));
    }
    let mut says = match after.done {
        1 => "The step already done stays done.".to_owned(),
        done => format!("The {done} steps already done stay done."),
    };
    if after.done < after.moves.len() + STEPS_BEFORE {
        says.push_str(&format!(" The run sheet is new from step {} on.", after.done + 1));
    }
    let made = &after.moves[..after.done.saturating_sub(STEPS_BEFORE).min(after.moves.len())];
    let edges = zones(after.span(), after.blend.zone);
    for (ink, field) in after.blend.fields.iter().enumerate() {
        if !missing(&laid_of(made, ink), &field.reaches(&edges)).is_empty() {
            let name = &after.inks[ink].name;
            says.push_str(&format!(
                " {name} lies already where the new plan has less of it: that stays as it is."
            ));
        }
    }
    Some(says)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::blend::Direction;
    use crate::length::Units;
    use crate::panel::sample as panel;

    #[test]
    fn one_more_pass_leaves_what_is_done_done() {
        let before = Panel { done: STEPS_BEFORE + 3, ..panel() };
        let mut after = before.clone();
        after.blend.fields[1].veils += 1;
        let after = after.laid();
        assert_eq!((after.done, &after.moves[..3]), (before.done, &before.moves[..3]));
        let says = what_changes(&before, &after).unwrap();
        assert!(
            says.contains("5 steps already done stay done") && says.contains("new from step 6"),
            "{says}"
        );
        // Ticking on changes nothing of the plan.
        let ticked = Panel { done: after.done + 2, ..after.clone() };
        assert_eq!(ticked.clone().laid(), ticked);
        // With nothing done any more, the plan is the plain one again.
        let mut plain = panel();
        plain.blend.fields[1].veils += 1;
        assert_eq!(Panel { done: 0, ..ticked }.laid().moves, plain.laid().moves);
    }

    #[test]
    fn what_lies_already_is_told_where_less_is_wanted() {
        let before = Panel { done: STEPS_BEFORE + panel().moves.len(), ..panel() };
        let mut after = before.clone();
        after.blend.fields[0].veils -= 2;
        let after = after.laid();
        assert_eq!(after.moves, before.moves, "nothing is left to lay, and nothing comes off");
        let turned = before.clone().turned(Direction::Up, Units::Inches);
        assert!(what_changes(&before, &turned).unwrap().contains("all steps are open again"));
        assert_eq!(what_changes(&panel(), &turned), None);
    }
}
