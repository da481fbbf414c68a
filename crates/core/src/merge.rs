//! Two changes were made to one panel at once, in two tabs: what do they make together?
//!
//! What only one of them touched is taken from that one, down to single measures; where neither touched the inks, lists of
//! the same length are gone through one by one. Where both touched the same thing and not alike, there is no telling which is meant, and nothing is merged. Ticks on the run sheet add up.

use serde_json::{Map, Value};

use crate::document::Document;
use crate::panel::Panel;

/// Both changes to `base` together; none where they touch the same thing, or do not go together.
pub fn merged(base: &Panel, one: &Panel, other: &Panel) -> Option<Panel> {
    let plan = |panel: &Panel| (panel.inks.clone(), panel.scene.clone(), panel.school);
    // Moves follow from the plan and from what has been made: they are laid again.
    let moves = if plan(one) == plan(base) { &other.moves } else { &one.moves };
    let done = ticks(base.done, one.done, other.done);
    let same = |panel: &Panel| Panel { moves: moves.clone(), done, ..panel.clone() };
    // Places in a list mean the same only as long as the inks that they name do.
    let in_place = base.inks == one.inks && base.inks == other.inks;
    let own = if one.by_hand { one } else { other };
    let [base, one, other] = [base, one, other].map(|panel| serde_json::to_value(same(panel)).ok());
    let value = together(Some(&base?), Some(&one?), Some(&other?), in_place).ok()??;
    let merged = serde_json::from_value::<Document>(value).ok()?.laid().ok()?;
    Some(merged.in_the_order_of(own))
}

/// Steps done: as many as either has done, or as few as either has taken back.
fn ticks(base: usize, one: usize, other: usize) -> usize {
    if one < base || other < base { one.min(other) } else { one.max(other) }
}

/// The same place was changed in two ways.
struct Both;

fn together(
    base: Option<&Value>,
    one: Option<&Value>,
    other: Option<&Value>,
    in_place: bool,
) -> Result<Option<Value>, Both> {
    if one == base || one == other {
        return Ok(other.cloned());
    }
    if other == base {
        return Ok(one.cloned());
    }
    match (base, one, other) {
        (Some(Value::Object(base)), Some(Value::Object(one)), Some(Value::Object(other))) => {
            let mut merged = Map::new();
            for key in one.keys().chain(other.keys().filter(|key| !one.contains_key(*key))) {
                if let Some(value) = together(base.get(key), one.get(key), other.get(key), in_place)? {
                    merged.insert(key.clone(), value);
                }
            }
            Ok(Some(Value::Object(merged)))
        }
        (Some(Value::Array(base)), Some(Value::Array(one)), Some(Value::Array(other)))
            if in_place && base.len() == one.len() && base.len() == other.len() =>
        {
            let mut merged = Vec::new();
            for ((base, one), other) in base.iter().zip(one).zip(other) {
                merged.extend(together(Some(base), Some(one), Some(other), in_place)?);
            }
            Ok(Some(Value::Array(merged)))
        }
        _ => Err(Both),
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use crate::blend::Way;
    use crate::length::{Length, Units};
    use crate::panel::sample as panel;
    use crate::scene::School;

    /// Changes that a tab may make, each to something else.
    fn changes() -> Vec<Panel> {
        let base = panel();
        let renamed = Panel { name: "Ebb at seven".parse().unwrap(), ..base.clone() };
        let mut deeper = base.clone();
        deeper.scene.ground[0].fields[0].veils += 2;
        let school = Panel { school: School::DarkToLight, ..base.clone() }.laid();
        let ticked = Panel { done: 5, ..base.clone() };
        vec![renamed, deeper.laid(), school, ticked]
    }

    #[test]
    fn changes_to_different_things_are_both_kept_whichever_came_first() {
        let base = panel();
        for (n, one) in changes().iter().enumerate() {
            for other in &changes()[n + 1..] {
                let both = merged(&base, one, other).expect("they touch different things");
                assert_eq!(merged(&base, other, one).unwrap(), both);
                assert_eq!(both.check(), Ok(()));
                for side in [one, other] {
                    assert_eq!(merged(&base, &both, side).unwrap(), both, "nothing is left out");
                }
            }
        }
    }

    #[test]
    fn ticks_add_up() {
        let (base, one, other) = (panel(), Panel { done: 1, ..panel() }, Panel { done: 4, ..panel() });
        assert_eq!(merged(&base, &one, &other).unwrap().done, 4);
        let taken_back = Panel { done: 2, ..panel() };
        assert_eq!(merged(&other, &taken_back, &Panel { done: 5, ..panel() }).unwrap().done, 2);
    }

    #[test]
    fn the_same_thing_changed_in_two_ways_is_not_guessed() {
        let named = |name: &str| Panel { name: name.parse().unwrap(), ..panel() };
        assert_eq!(merged(&panel(), &named("One"), &named("Two")), None);
        let turned = panel().turned(0, Way::RIGHT, Units::Inches);
        let mut moved = panel();
        moved.scene.ground[0].fields[0].ends -= Length::from_64ths(8);
        assert_eq!(merged(&panel(), &turned, &moved.laid()), None, "both moved the bands");
    }

    #[test]
    fn two_blends_changed_in_two_tabs_are_both_kept() {
        let rim = vec![(panel().inks[1].clone(), Some(1))];
        let base = panel().with_blend_of(rim, Way::Vignette { corners: Length::ZERO }, Units::Inches);
        let deeper = |blend: usize, field: usize| {
            let mut deeper = base.clone();
            deeper.scene.ground[blend].fields[field].veils += 1;
            deeper.laid()
        };
        let (one, other) = (deeper(0, 0), deeper(1, 0));
        let both = merged(&base, &one, &other).expect("they touch different blends");
        assert_eq!(both.scene.ground[0], one.scene.ground[0]);
        assert_eq!(both.scene.ground[1], other.scene.ground[1]);
        assert_eq!(both.check(), Ok(()));
        // Another ink means other places in the lists.
        let mut inked = deeper(0, 1);
        inked.inks[0].full_veils += 1;
        assert_eq!(merged(&base, &inked.laid(), &other), None);
    }
}
