//! Which areas, lines and letters is a drawing made of? All in millimetres, measured down and to the right.

use rosy_core::drawing::WindowShape;
use rosy_core::drawing::{Drawing, Edge, Hole, Line, Mark};
use rosy_core::edges::{Axis, Place};
use rosy_core::place::Point;

/// What a drawing is for.
#[derive(Clone, Copy, PartialEq, Eq)]
pub enum Style {
    /// A page: card in its colour, the panel's picture.
    Screen,
    /// Paper: lines and letters alone.
    Print,
}

/// A line's pen.
#[derive(Clone, Copy)]
pub struct Pen {
    pub colour: &'static str,
    /// As a share of the letters' height.
    pub wide: f64,
    pub dashed: bool,
}

const EDGE: Pen = Pen { colour: "#6d5b6b", wide: 0.07, dashed: false };
const CUT: Pen = Pen { colour: "#a12a55", wide: 0.12, dashed: false };
const SCORE: Pen = Pen { colour: "#2c1a2b", wide: 0.1, dashed: true };
const TAPE: Pen = Pen { colour: "#8a5a0b", wide: 0.12, dashed: true };
const PLACED: Pen = Pen { colour: "#6d5b6b", wide: 0.08, dashed: true };
const MEASURE: Pen = Pen { colour: "#8d7c88", wide: 0.06, dashed: false };
const HALO: Pen = Pen { colour: "#ffffff", wide: 0.3, dashed: false };
const WORDS: &str = "#2c1a2b";
const OFF: &str = "#fbf8f3";

/// What something on a drawing is for.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Layer {
    /// Card in its colour, and the panel's picture.
    Card,
    /// What falls away.
    Waste,
    /// Lines to cut along.
    Cut,
    /// Lines to score and fold along.
    Score,
    /// Lines to lay tape along.
    Tape,
    /// Edges of what lies on what.
    Edges,
    /// Measures, their lines and figures.
    Measures,
    /// Words.
    Words,
}

impl Layer {
    /// All, the lowest first.
    pub const ALL: [Layer; 8] = [
        Layer::Card,
        Layer::Waste,
        Layer::Cut,
        Layer::Score,
        Layer::Tape,
        Layer::Edges,
        Layer::Measures,
        Layer::Words,
    ];

    /// What its group is called in a file.
    pub const fn name(self) -> &'static str {
        match self {
            Layer::Card => "card",
            Layer::Waste => "waste",
            Layer::Cut => "cut",
            Layer::Score => "score",
            Layer::Tape => "tape",
            Layer::Edges => "edges",
            Layer::Measures => "measures",
            Layer::Words => "words",
        }
    }
}

/// A rectangle: left, top, width, height.
#[derive(Clone, Copy, Debug)]
pub struct Box4(pub f64, pub f64, pub f64, pub f64);

/// A closed outline.
#[derive(Clone)]
pub enum Outline {
    Box(Box4),
    Oval(Box4),
    /// From point to point.
    Run(Vec<[f64; 2]>),
}

/// One thing to draw.
pub enum Art {
    /// What lies inside an odd number of outlines.
    Area { outlines: Vec<Outline>, fill: Option<String>, opacity: f64, pen: Option<Pen> },
    /// A straight line.
    Line { from: (f64, f64), to: (f64, f64), pen: Pen },
    /// A text with its middle at a place, running up where it is turned.
    Text { at: (f64, f64), high: f64, turned: bool, text: String },
    /// The panel's picture, seen inside an odd number of outlines.
    Picture { whole: Box4, seen: Vec<Outline> },
}

/// A drawing made ready: what is on it, and how far its measures reach.
pub struct Ready {
    pub art: Vec<(Layer, Art)>,
    /// Everything, measures and all.
    pub extent: Box4,
    /// Height of the letters.
    pub letters: f64,
}

fn of(place: Place) -> Box4 {
    Box4(place.left.mm(), place.top.mm(), place.width.mm(), place.height.mm())
}

fn at(point: Point) -> (f64, f64) {
    (point.left.mm(), point.top.mm())
}

fn outlines(place: Place, holes: &[Hole]) -> Vec<Outline> {
    let mut outlines = vec![Outline::Box(of(place))];
    for hole in holes {
        match hole {
            Hole::Window(WindowShape::Rectangle, place) => outlines.push(Outline::Box(of(*place))),
            Hole::Window(WindowShape::Oval, place) => outlines.push(Outline::Oval(of(*place))),
            Hole::Shaped(contours) => outlines.extend(contours.iter().cloned().map(Outline::Run)),
        }
    }
    outlines
}

/// Makes a drawing ready, its letters so many millimetres high.
pub fn ready(drawing: &Drawing, letters: f64, look: Style) -> Ready {
    let row = letters * 1.75;
    let side = |edge: Edge| drawing.rows(edge) as f64 * row + 0.35 * letters;
    let (width, height) = (drawing.width.mm(), drawing.height.mm());
    let [over_left, over_right] = overhang(drawing, Axis::Across, letters);
    let [over_top, over_bottom] = overhang(drawing, Axis::Down, letters);
    let (left, right) = (side(Edge::Left) + over_left, side(Edge::Right) + over_right);
    let (top, bottom) = (side(Edge::Top).max(over_top), side(Edge::Bottom).max(over_bottom));
    let extent = Box4(-left, -top, left + width + right, top + height + bottom);
    let mut art = Vec::new();
    // On paper the outline of a piece is where it is cut; of a card put together it is only where things lie.
    let outline = match look {
        Style::Screen => Layer::Card,
        Style::Print if drawing.is_piece => Layer::Cut,
        Style::Print => Layer::Edges,
    };
    let margin = Margin { size: (width, height), row, clear: [over_left, over_right], letters, look };
    for mark in &drawing.marks {
        match mark {
            Mark::Measure { edge, row, from, to, says } => {
                margin.measure(&mut art, (*edge, *row), (from.mm(), to.mm()), says);
            }
            mark => art_of(&mut art, mark, (outline, letters), look),
        }
    }
    Ready { art, extent, letters }
}

/// All that is marked on a piece itself.
fn art_of(art: &mut Vec<(Layer, Art)>, mark: &Mark, (outline, letters): (Layer, f64), look: Style) {
    let on_screen = look == Style::Screen;
    let area = |outlines: Vec<Outline>, fill: Option<String>, opacity: f64, pen: Pen| Art::Area {
        outlines,
        fill,
        opacity,
        pen: Some(pen),
    };
    match mark {
        Mark::Card { place, holes, colour } => {
            let fill = on_screen.then(|| colour.clone());
            art.push((outline, area(outlines(*place, holes), fill, 1.0, EDGE)));
        }
        Mark::Picture { whole, seen, holes } => {
            let seen = outlines(*seen, holes);
            if on_screen {
                art.push((outline, Art::Picture { whole: of(*whole), seen: seen.clone() }));
            }
            art.push((outline, area(seen, None, 1.0, EDGE)));
        }
        Mark::Waste(place) if on_screen => {
            art.push((Layer::Waste, area(outlines(*place, &[]), Some(OFF.to_owned()), 0.72, EDGE)));
        }
        Mark::Waste(_) | Mark::Measure { .. } => {}
        Mark::Placed(place, name) => {
            let fill = on_screen.then(|| OFF.to_owned());
            art.push((Layer::Edges, area(outlines(*place, &[]), fill, 0.6, PLACED)));
            label(art, of(*place), name, letters);
        }
        Mark::Line(line, from, to) => {
            let (layer, pen) = styled(*line);
            if *line != Line::Score && on_screen {
                art.push((layer, Art::Line { from: at(*from), to: at(*to), pen: HALO }));
            }
            art.push((layer, Art::Line { from: at(*from), to: at(*to), pen }));
        }
        Mark::Contours(line, contours) => {
            let (layer, pen) = styled(*line);
            let outlines = contours.iter().cloned().map(Outline::Run).collect();
            art.push((layer, area(outlines, None, 1.0, pen)));
        }
        Mark::Feature(centre, across) => feature(art, at(*centre), across.map(|a| a.mm()), letters),
        Mark::Label(place, text) => label(art, of(*place), text, letters),
    }
}

/// Where measures stand round a piece.
struct Margin {
    size: (f64, f64),
    /// How far rows are apart.
    row: f64,
    /// Rows down the left and right stand clear of figures that reach beyond the ends of those above and below.
    clear: [f64; 2],
    letters: f64,
    look: Style,
}

impl Margin {
    /// A place so far along an edge and so far out from it.
    fn out(&self, edge: Edge, along: f64, out: f64) -> (f64, f64) {
        match edge {
            Edge::Left => (-out, along),
            Edge::Right => (self.size.0 + out, along),
            Edge::Top => (along, -out),
            Edge::Bottom => (along, self.size.1 + out),
        }
    }

    /// A measure beside an edge. A long measure's figure stands on its line; a short one's beyond the end nearer to the edge's own.
    fn measure(
        &self,
        art: &mut Vec<(Layer, Art)>,
        (edge, row): (Edge, usize),
        (from, to): (f64, f64),
        says: &str,
    ) {
        let clear = match edge {
            Edge::Left => self.clear[0],
            Edge::Right => self.clear[1],
            Edge::Top | Edge::Bottom => 0.0,
        };
        let (away, tick) = ((row as f64 + 0.75) * self.row + clear, 0.35 * self.letters);
        let mut line = |from, to| art.push((Layer::Measures, Art::Line { from, to, pen: MEASURE }));
        for end in [from, to] {
            line(self.out(edge, end, away - tick), self.out(edge, end, away + tick));
        }
        line(self.out(edge, from, away), self.out(edge, to, away));
        let turned = matches!(edge, Edge::Left | Edge::Right);
        let (wide, middle) = (figure_wide(says, self.letters), (from + to) / 2.0);
        let along = if wide < to - from {
            let ground = backing(self.out(edge, middle, away), wide, self.letters, turned, self.look);
            art.push((Layer::Measures, ground));
            middle
        } else if beyond_start(from, to, edge.axis().of(self.size.0, self.size.1)) {
            from - 0.5 * wide
        } else {
            to + 0.5 * wide
        };
        let (at, high) = (self.out(edge, along, away), self.letters);
        art.push((Layer::Measures, Art::Text { at, high, turned, text: says.to_owned() }));
    }
}

/// In which group a line stands, and how it is drawn.
const fn styled(line: Line) -> (Layer, Pen) {
    match line {
        Line::Cut => (Layer::Cut, CUT),
        Line::Score => (Layer::Score, SCORE),
        Line::Tape => (Layer::Tape, TAPE),
        Line::Seam => (Layer::Edges, EDGE),
    }
}

/// How wide a measure's figure is: a fraction is set closer than its characters count.
fn figure_wide(says: &str, letters: f64) -> f64 {
    let fraction = says.contains('/');
    let characters = says.chars().count() as f64 - if fraction { 1.0 } else { 0.0 };
    (0.5 * characters + 0.8) * letters
}

/// Whether a short measure's figure stands before its beginning.
fn beyond_start(from: f64, to: f64, long: f64) -> bool {
    from + to < long
}

/// How far figures of short measures reach beyond both ends of the edges along an axis.
fn overhang(drawing: &Drawing, along: Axis, letters: f64) -> [f64; 2] {
    let long = along.of(drawing.width, drawing.height).mm();
    let mut over = [0.0_f64; 2];
    for mark in &drawing.marks {
        let Mark::Measure { edge, from, to, says, .. } = mark else { continue };
        let (from, to, wide) = (from.mm(), to.mm(), figure_wide(says, letters));
        if edge.axis() != along || wide < to - from {
            continue;
        }
        if beyond_start(from, to, long) {
            over[0] = over[0].max(wide - from);
        } else {
            over[1] = over[1].max(to + wide - long);
        }
    }
    over
}

/// The ground behind a figure that stands on its line.
fn backing((x, y): (f64, f64), wide: f64, letters: f64, turned: bool, look: Style) -> Art {
    let (w, h) = if turned { (letters, wide) } else { (wide, letters) };
    let outlines = vec![Outline::Box(Box4(x - w / 2.0, y - h / 2.0, w, h))];
    let ground = if look == Style::Screen { OFF } else { "#ffffff" };
    Art::Area { outlines, fill: Some(ground.to_owned()), opacity: 1.0, pen: None }
}

fn feature(art: &mut Vec<(Layer, Art)>, (x, y): (f64, f64), across: Option<f64>, letters: f64) {
    for pen in [HALO, CUT] {
        let arm = letters * 0.8;
        art.push((Layer::Edges, Art::Line { from: (x - arm, y), to: (x + arm, y), pen }));
        art.push((Layer::Edges, Art::Line { from: (x, y - arm), to: (x, y + arm), pen }));
        if let Some(across) = across {
            let outlines = vec![Outline::Oval(Box4(x - across / 2.0, y - across / 2.0, across, across))];
            art.push((Layer::Edges, Art::Area { outlines, fill: None, opacity: 1.0, pen: Some(pen) }));
        }
    }
}

/// A text of one or more lines in the middle of a place, turned where it is narrow and small enough to fit.
fn label(art: &mut Vec<(Layer, Art)>, Box4(left, top, width, height): Box4, text: &str, letters: f64) {
    let lines: Vec<&str> = text.lines().collect();
    let longest = lines.iter().map(|line| line.chars().count()).max().unwrap_or(1).max(1) as f64;
    let turned = height > 1.6 * width;
    let (along, across) = if turned { (height, width) } else { (width, height) };
    let fits = (along / (0.58 * longest)).min(across / (1.35 * lines.len() as f64));
    let high = letters.min(0.94 * fits);
    if high < 0.35 * letters {
        return;
    }
    let (x, y) = (left + width / 2.0, top + height / 2.0);
    for (n, line) in lines.iter().enumerate() {
        let off = (n as f64 - (lines.len() as f64 - 1.0) / 2.0) * 1.3 * high;
        let at = if turned { (x + off, y) } else { (x, y + off) };
        art.push((Layer::Words, Art::Text { at, high, turned, text: (*line).to_owned() }));
    }
}

/// The colour of letters.
pub const fn words() -> &'static str {
    WORDS
}

#[cfg(test)]
mod tests {
    use super::*;
    use rosy_core::{Length, Units};

    fn corners(art: &Art) -> Vec<(f64, f64)> {
        let boxed = |Box4(x, y, w, h): Box4| vec![(x, y), (x + w, y + h)];
        match art {
            Art::Area { outlines, .. } => outlines
                .iter()
                .flat_map(|outline| match outline {
                    Outline::Box(at) | Outline::Oval(at) => boxed(*at),
                    Outline::Run(points) => points.iter().map(|[x, y]| (*x, *y)).collect(),
                })
                .collect(),
            Art::Line { from, to, .. } => vec![*from, *to],
            Art::Text { at, high, turned, text } => {
                let wide = figure_wide(text, *high);
                let (w, h) = if *turned { (*high, wide) } else { (wide, *high) };
                boxed(Box4(at.0 - w / 2.0, at.1 - h / 2.0, w, h))
            }
            Art::Picture { whole, .. } => boxed(*whole),
        }
    }

    #[test]
    fn nothing_that_is_drawn_reaches_beyond_what_is_shown() {
        let inch = Length::from_inches;
        let eighth = Length::from_64ths(8);
        let mut drawing = Drawing::new("Panel", inch(4), inch(5));
        for edge in [Edge::Left, Edge::Right, Edge::Top, Edge::Bottom] {
            let long = edge.axis().of(inch(4), inch(5));
            drawing.measures(edge, 0, &[Length::ZERO, eighth, long - eighth, long], Units::Inches);
        }
        drawing.overall(1, 1, Units::Inches);
        for look in [Style::Screen, Style::Print] {
            let Ready { art, extent: Box4(left, top, width, height), .. } = ready(&drawing, 4.0, look);
            for (x, y) in art.iter().flat_map(|(_, art)| corners(art)) {
                let inside = (left - 0.01..=left + width + 0.01).contains(&x)
                    && (top - 0.01..=top + height + 0.01).contains(&y);
                assert!(inside, "({x}, {y}) is beyond {left}, {top}, {width} × {height}");
            }
        }
    }

    #[test]
    fn figures_of_short_measures_do_not_lie_on_one_another() {
        let eighth = Length::from_64ths(4);
        let (wide, high) = (Length::from_inches(4), Length::from_inches(5));
        let mut drawing = Drawing::new("Panel", wide, high);
        for edge in [Edge::Left, Edge::Bottom] {
            let long = edge.axis().of(wide, high);
            drawing.measures(edge, 0, &[Length::ZERO, eighth, long - eighth, long], Units::Inches);
        }
        let texts: Vec<Vec<(f64, f64)>> = ready(&drawing, 4.0, Style::Screen)
            .art
            .iter()
            .filter(|(_, art)| matches!(art, Art::Text { .. }))
            .map(|(_, art)| corners(art))
            .collect();
        assert_eq!(texts.len(), 6);
        for (n, one) in texts.iter().enumerate() {
            for other in &texts[n + 1..] {
                let apart = one[1].0 <= other[0].0
                    || other[1].0 <= one[0].0
                    || one[1].1 <= other[0].1
                    || other[1].1 <= one[0].1;
                assert!(apart, "{one:?} lies on {other:?}");
            }
        }
    }

    #[test]
    fn a_label_without_room_is_left_out() {
        let mut art = Vec::new();
        label(&mut art, Box4(0.0, 0.0, 40.0, 40.0), "Mat\n4 × 5 in", 3.0);
        assert_eq!(art.len(), 2);
        label(&mut art, Box4(0.0, 0.0, 3.0, 2.0), "Mat\n4 × 5 in", 3.0);
        assert_eq!(art.len(), 2);
    }
}
