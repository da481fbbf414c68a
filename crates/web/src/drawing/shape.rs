//! A shape as the page shows it: how it lies on its sheet, where its plug is cut, and where something is wrong.

use std::fmt::Write;

use rosy_core::shape::eye::Finding;
use rosy_core::shape::kept::Shape;
use rosy_core::shape::{Cut, Outline, Use};

/// Sheet, opening, plug and line.
const SHEET: &str = "#efe4da";
const OPENING: &str = "#fffdf9";
const PLUG: &str = "#e3bcc8";
const LINE: &str = "#7a1f45";

/// A shape at the size of the page: its cut line drawn as strong as a pencil's, places where something is wrong ringed.
pub fn picture(shape: &Shape, outline: &Outline, findings: &[Finding]) -> String {
    let (wide, high) = outline.size();
    let long = wide.max(high);
    let room = (0.09 * long).max(4.0);
    let (left, top) = (-0.5 * wide - room, -0.5 * high - room);
    let (width, height) = (wide + 2.0 * room, high + 2.0 * room);
    let pen = long / 320.0;
    let inside = match shape.used {
        Use::Stencil => OPENING,
        Use::Mask | Use::Tape | Use::Slide | Use::Raised | Use::Stamp => PLUG,
    };
    let mut svg = format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"{left:.3} {top:.3} {width:.3} {height:.3}\" role=\"img\" aria-label=\"The shape on its sheet\">\
         <rect x=\"{left:.3}\" y=\"{top:.3}\" width=\"{width:.3}\" height=\"{height:.3}\" fill=\"{SHEET}\"/>\
         <path d=\"{}\" fill=\"{inside}\" stroke=\"{LINE}\" stroke-width=\"{pen:.3}\"/>",
        outline.region().path()
    );
    if shape.used == Use::Mask && shape.cut != Cut::OnTheLine {
        let plug = outline.region().grown(shape.cut.outside());
        let dash = 4.0 * pen;
        let _ = write!(
            svg,
            "<path d=\"{}\" fill=\"none\" stroke=\"{LINE}\" stroke-width=\"{pen:.3}\" stroke-dasharray=\"{dash:.3} {dash:.3}\"/>",
            plug.path()
        );
    }
    for Finding { at: [x, y], .. } in findings.iter().take(60) {
        let ring = long / 45.0;
        let _ = write!(
            svg,
            "<circle cx=\"{x:.3}\" cy=\"{y:.3}\" r=\"{ring:.3}\" fill=\"none\" stroke=\"#fffdf9\" stroke-width=\"{:.3}\"/>\
             <circle cx=\"{x:.3}\" cy=\"{y:.3}\" r=\"{ring:.3}\" fill=\"none\" stroke=\"#b3123f\" stroke-width=\"{:.3}\"/>",
            4.0 * pen,
            2.0 * pen
        );
    }
    svg + "</svg>"
}

/// A shape as a small picture among others.
pub fn small(outline: &Outline, used: Use) -> String {
    let (wide, high) = outline.size();
    let side = 1.12 * wide.max(high);
    let (ground, inside) = match used {
        Use::Stencil => (SHEET, OPENING),
        Use::Mask | Use::Tape | Use::Slide | Use::Raised | Use::Stamp => ("none", PLUG),
    };
    let half = 0.5 * side;
    format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"{:.3} {:.3} {side:.3} {side:.3}\" aria-hidden=\"true\">\
         <rect x=\"{:.3}\" y=\"{:.3}\" width=\"{side:.3}\" height=\"{side:.3}\" fill=\"{ground}\"/>\
         <path d=\"{}\" fill=\"{inside}\" stroke=\"{LINE}\" stroke-width=\"{:.3}\"/></svg>",
        -half,
        -half,
        -half,
        -half,
        outline.region().path(),
        side / 110.0
    )
}
