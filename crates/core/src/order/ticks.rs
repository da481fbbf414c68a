//! What becomes of the steps already done when the plan changes?
//!
//! Ink that lies on the card stays there: steps that have been made stay made, and what is still missing of the new plan
//! is laid after them. Where the new plan has no use for what was made, everything is open again. Either way it is said.

use super::laid::{STEPS_BEFORE, steps_in};
use super::school::{laid_of, missing};
use crate::blend::field::zones;
use crate::panel::Panel;

/// What a change of plan means for the steps that were ticked off, in a sentence or two; nothing where it means nothing.
pub fn what_changes(before: &Panel, after: &Panel) -> Option<String> {
    // Measures are told on the piece: on another, the same list is another plan.
    let same = before.moves == after.moves && before.size() == after.size();
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
    if after.done < steps_in(&after.moves) + STEPS_BEFORE {
        says.push_str(&format!(" The run sheet is new from step {} on.", after.done + 1));
    }
    let made = after.made();
    let mut lies: Vec<usize> = Vec::new();
    let materials = after.materials();
    for (on, blend) in after.scene.all_blends() {
        let edges = zones(blend.way.span(materials.extent(on).size), blend.zone);
        for field in &blend.fields {
            let too_much =
                !missing(&laid_of(made, field.ink, on, blend.way), &field.reaches(&edges)).is_empty();
            if too_much && !lies.contains(&field.ink) {
                lies.push(field.ink);
            }
        }
    }
    for ink in lies {
        let name = &after.inks[ink].name;
        says.push_str(&format!(
            " {name} lies already where the new plan has less of it: that stays as it is."
        ));
    }
    Some(says)
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::blend::Way;
    use crate::length::Units;
    use crate::panel::sample as panel;

    #[test]
    fn one_more_pass_leaves_what_is_done_done() {
        let before = Panel { done: STEPS_BEFORE + 3, ..panel() };
        let mut after = before.clone();
        after.scene.ground[0].fields[1].veils += 1;
        let after = after.laid();
        assert_eq!((after.done, after.made()), (before.done, before.made()));
        assert_eq!(steps_in(before.made()), 3);
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
        plain.scene.ground[0].fields[1].veils += 1;
        assert_eq!(Panel { done: 0, ..ticked }.laid().moves, plain.laid().moves);
    }

    #[test]
    fn what_lies_already_is_told_where_less_is_wanted() {
        let before = Panel { done: STEPS_BEFORE + steps_in(&panel().moves), ..panel() };
        let mut after = before.clone();
        after.scene.ground[0].fields[0].veils -= 2;
        let after = after.laid();
        assert_eq!(after.moves, before.moves, "nothing is left to lay, and nothing comes off");
        let turned = before.clone().turned(0, Way::UP, Units::Inches);
        assert!(what_changes(&before, &turned).unwrap().contains("all steps are open again"));
        assert_eq!(what_changes(&panel(), &turned), None);
    }
}
