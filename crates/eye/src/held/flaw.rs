//! What is not as it was planned?

use schemars::JsonSchema;
use serde::{Deserialize, Serialize};

/// Which kind of thing is not as planned, the worst first.
#[derive(Clone, Copy, Debug, PartialEq, Eq, PartialOrd, Ord, Hash, Serialize, Deserialize, JsonSchema)]
#[serde(rename_all = "snake_case")]
pub enum FlawKind {
    /// A line across a join or a field.
    Line,
    /// A dark band along a join.
    Band,
    /// A join or field duller than its inks make it, by another that came in.
    Muddy,
    /// A round patch of more ink, as the first touch of a full brush leaves.
    Touch,
    /// A patch where ink is gone, as a finger leaves.
    Lifted,
    /// Bare card round a shape.
    Halo,
    /// Ink that crept under the edge of a mask.
    Bleed,
    /// A shape that does not lie where it should.
    Slipped,
    /// A plug that was put back beside its shape, so that bare card shows on one side and both inks lie on the other.
    OffPlace,
    /// A shape that should stay bright and has ink on it all over.
    Dulled,
    /// A shape that hardly shows against what lies about it.
    Faint,
    /// A word that is hard to read on the ground as it came.
    HardToRead,
    /// What lies on the panel is off its middle, or not square to its edges.
    Askew,
    /// One ink stronger than planned.
    Strong,
    /// One ink weaker than planned.
    Weak,
    /// More uneven all over than the tool is.
    Uneven,
    /// A drop or speck.
    Fleck,
}

impl FlawKind {
    /// Whether it is of the whole panel, and of no place on it.
    pub const fn is_of_all(self) -> bool {
        matches!(self, FlawKind::Strong | FlawKind::Weak | FlawKind::Uneven | FlawKind::Askew)
    }

    /// Whether its size is a width.
    pub const fn is_wide(self) -> bool {
        matches!(
            self,
            FlawKind::Fleck
                | FlawKind::Halo
                | FlawKind::Bleed
                | FlawKind::Slipped
                | FlawKind::OffPlace
                | FlawKind::Askew
        )
    }
}

/// Something that is not as planned.
#[derive(Clone, Debug, PartialEq)]
pub struct Flaw {
    /// Of which kind.
    pub kind: FlawKind,
    /// Its middle, in millimetres from the panel's left and top edges.
    pub at: [f64; 2],
    /// The corners of the box round it, left upper and right lower, in millimetres.
    pub around: [[f64; 2]; 2],
    /// How bad it is, in the measure of its kind: a colour difference (ΔE00), a width in millimetres, or a share.
    pub size: f64,
    /// The ink it is of, by its place in the panel's list.
    pub ink: Option<usize>,
    /// The thing it is of, by its place from front to back.
    pub thing: Option<usize>,
    /// Which way it is off, or would be better, to the right and down, in millimetres.
    pub by: Option<[f64; 2]>,
    /// By how many degrees it is turned.
    pub turn: f64,
}

impl Flaw {
    /// From corner to corner of the box round it, in millimetres.
    pub fn across(&self) -> f64 {
        let [from, to] = self.around;
        (to[0] - from[0]).hypot(to[1] - from[1])
    }

    /// Of a kind, in a box.
    pub fn of(kind: FlawKind, around: [[f64; 2]; 2], size: f64) -> Flaw {
        let at = [0, 1].map(|axis| 0.5 * (around[0][axis] + around[1][axis]));
        Flaw { kind, at, around, size, ink: None, thing: None, by: None, turn: 0.0 }
    }
}
