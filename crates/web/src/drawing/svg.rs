//! As SVG, for a page or a file. Its user unit is a millimetre, its size the true one.

use std::fmt::Write;

use rosy_core::drawing::Drawing;

use super::art::{Art, Box4, Layer, Outline, Pen, Ready, Style, ready, words};
use crate::say::{Run, escaped, runs};

/// A drawing for a page, its longer side so many letters long.
pub fn for_page(drawing: &Drawing, id: &str, letters: f64) -> String {
    let side = drawing.width.mm().max(drawing.height.mm());
    write(&ready(drawing, side / letters, Style::Screen), id, &drawing.name)
}

/// Several drawings in one file, one below the other.
pub fn all_for_file(drawings: &[Drawing]) -> String {
    let (mut y, mut wide, mut body) = (5.0, 0.0_f64, String::new());
    for (n, drawing) in drawings.iter().enumerate() {
        let ready = ready(drawing, 3.0, Style::Print);
        let Box4(left, top, width, height) = ready.extent;
        let _ = write!(
            body,
            "<text x=\"5\" y=\"{:.4}\" font-size=\"4\" fill=\"{}\">{}</text>\n<g id=\"drawing-{n}\" transform=\"translate({:.4} {:.4})\">{}</g>\n",
            y + 4.0,
            words(),
            escaped(&drawing.name),
            5.0 - left,
            y + 7.0 - top,
            inside(&ready, &format!("drawing-{n}"))
        );
        y += 7.0 + height + 8.0;
        wide = wide.max(width + 10.0);
    }
    format!(
        "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{wide:.4}mm\" height=\"{y:.4}mm\" viewBox=\"0 0 {wide:.4} {y:.4}\" font-family=\"sans-serif\">\n{body}</svg>\n"
    )
}

fn write(ready: &Ready, id: &str, name: &str) -> String {
    let Box4(left, top, width, height) = ready.extent;
    format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"{width:.4}mm\" height=\"{height:.4}mm\" viewBox=\"{left:.4} {top:.4} {width:.4} {height:.4}\" role=\"img\" aria-label=\"{}\">{}</svg>",
        escaped(name),
        inside(ready, id)
    )
}

/// Everything on a drawing in groups by what it is for, so that a cutter can take the cut lines alone.
fn inside(ready: &Ready, id: &str) -> String {
    let mut svg = String::new();
    for layer in Layer::ALL {
        let arts = ready.art.iter().enumerate().filter(|(_, (of, _))| *of == layer);
        let drawn: String = arts.map(|(n, (_, art))| one(art, ready.letters, &format!("{id}-{n}"))).collect();
        if !drawn.is_empty() {
            let _ = write!(svg, "<g id=\"{id}-{}\">{drawn}</g>", layer.name());
        }
    }
    svg
}

fn one(art: &Art, letters_high: f64, id: &str) -> String {
    match art {
        Art::Area { outlines, fill, opacity, pen } => format!(
            "<path d=\"{}\" fill-rule=\"evenodd\" fill=\"{}\" fill-opacity=\"{opacity}\"{}/>",
            path(outlines),
            fill.as_deref().unwrap_or("none"),
            pen.map_or_else(String::new, |pen| stroke(pen, letters_high))
        ),
        Art::Line { from, to, pen } => format!(
            "<path d=\"M{:.4} {:.4}L{:.4} {:.4}\" fill=\"none\"{}/>",
            from.0,
            from.1,
            to.0,
            to.1,
            stroke(*pen, letters_high)
        ),
        Art::Text { at, high, turned, text } => letters(*at, *high, *turned, text),
        Art::Picture { whole: Box4(x, y, w, h), seen } => format!(
            "<clipPath id=\"{id}\"><path d=\"{}\" clip-rule=\"evenodd\"/></clipPath>\
             <g clip-path=\"url(#{id})\"><image x=\"{x:.4}\" y=\"{y:.4}\" width=\"{w:.4}\" height=\"{h:.4}\" preserveAspectRatio=\"none\"/></g>",
            path(seen)
        ),
    }
}

fn stroke(pen: Pen, letters: f64) -> String {
    let wide = pen.wide * letters;
    let dash = if pen.dashed {
        format!(" stroke-dasharray=\"{:.3} {:.3}\"", 0.8 * letters, 0.4 * letters)
    } else {
        String::new()
    };
    format!(" stroke=\"{}\" stroke-width=\"{wide:.4}\"{dash}", pen.colour)
}

fn path(outlines: &[Outline]) -> String {
    let mut d = String::new();
    for outline in outlines {
        let _ = match outline {
            Outline::Run(points) => {
                for (nth, [x, y]) in points.iter().enumerate() {
                    let _ = write!(d, "{}{x:.4} {y:.4}", if nth == 0 { 'M' } else { 'L' });
                }
                write!(d, "z")
            }
            Outline::Box(Box4(x, y, w, h)) => write!(d, "M{x:.4} {y:.4}h{w:.4}v{h:.4}h-{w:.4}z"),
            Outline::Oval(Box4(x, y, w, h)) => {
                let (rx, ry) = (w / 2.0, h / 2.0);
                write!(
                    d,
                    "M{x:.4} {:.4}a{rx:.4} {ry:.4} 0 1 0 {w:.4} 0a{rx:.4} {ry:.4} 0 1 0 -{w:.4} 0z",
                    y + ry
                )
            }
        };
    }
    d
}

/// A text with its fractions set as fractions.
fn letters((x, y): (f64, f64), high: f64, turned: bool, text: &str) -> String {
    let turn = if turned { format!(" transform=\"rotate(-90 {x:.4} {y:.4})\"") } else { String::new() };
    let mut set = format!(
        "<text x=\"{x:.4}\" y=\"{:.4}\" font-size=\"{high:.4}\" text-anchor=\"middle\" fill=\"{}\"{turn}>",
        y + 0.35 * high,
        words()
    );
    let (small, up) = (0.68 * high, 0.32 * high);
    for run in runs(text) {
        let _ = match run {
            Run::Plain(plain) => write!(set, "{}", escaped(plain)),
            Run::Fraction(whole, top, bottom) => write!(
                set,
                "{whole}<tspan dx=\"{:.4}\" dy=\"-{up:.4}\" font-size=\"{small:.4}\">{top}</tspan><tspan dy=\"{up:.4}\">⁄</tspan>\
                 <tspan dy=\"{:.4}\" font-size=\"{small:.4}\">{bottom}</tspan><tspan dy=\"-{:.4}\">\u{200b}</tspan>",
                0.05 * high,
                0.06 * high,
                0.06 * high
            ),
        };
    }
    set + "</text>"
}
