//! A drawing that the maker brings: what of it is an outline, and what is refused, and why?
//!
//! Size, unit, viewBox and transforms are honoured: a millimetre of the drawing is a millimetre of card. Nothing is fetched,
//! run or unfolded: a drawing that asks for it is refused before it is read any further.

use std::borrow::Cow;

use kurbo::{Affine, BezPath, Point};
use usvg::roxmltree::{Document, Node, ParsingOptions};
use usvg::tiny_skia_path::PathSegment;

use super::outline::{MOST_POINTS, Outline, OutlineError, bounded, contours};
use super::region::Region;

/// Most bytes of a drawing.
pub const MOST_BYTES: usize = 1 << 20;
/// Most elements, those that are used again counted each time.
const MOST_ELEMENTS: u64 = 4_000;
/// Most elements within one another.
const DEEPEST: usize = 64;
/// Most bytes of path data: some sixteen for each line.
const MOST_DATA: usize = 16 * MOST_POINTS;
/// Most attributes of one element, and most declarations of one style: each is held against all others (chosen).
const MOST_ATTRIBUTES: usize = 100;
/// Most rules of a drawing's style sheets, and most times that a rule is held against a part (chosen: a tenth of a second).
const MOST_RULES: usize = 500;
const MOST_MATCHED: u64 = 4_000_000;
/// Longest list of classes of one part, in letters.
const LONGEST_CLASS: usize = 2_000;
/// Most names that a drawing's DOCTYPE defines, and most letters that one stands for.
const MOST_NAMES: usize = 50;
const LONGEST_NAMED: usize = 200;
/// Largest number of a drawing, in its own units.
const LARGEST_NUMBER: f64 = 1e6;
/// Millimetres to a pixel of CSS, 96 to the inch.
const MM: f64 = 25.4 / 96.0;

/// Why a drawing is refused, and what to do.
#[derive(Clone, Debug, PartialEq, Eq, thiserror::Error)]
pub enum SvgError {
    /// Too much of it.
    #[error("the drawing has {0} kB: bring one of at most {most} kB", most = MOST_BYTES / 1024)]
    Large(usize),
    /// Not XML.
    #[error("this is not a drawing that can be read: save it as plain SVG ({0:.120})")]
    Unreadable(String),
    /// It defines entities.
    #[error(
        "the drawing defines words of its own that stand for more than plain words (entities): save it as plain SVG"
    )]
    Entities,
    /// Not SVG.
    #[error("this is not an SVG: save the drawing as plain SVG")]
    NotSvg,
    /// It holds a script.
    #[error("the drawing holds a script: save it as plain SVG, without scripts")]
    Script,
    /// It points outside itself.
    #[error("the drawing points to something outside itself (“{0:.60}”): put everything into the one file")]
    Link(String),
    /// Letters that are not outlines.
    #[error("the drawing holds text as letters: turn the letters into outlines, then save it again")]
    Text,
    /// A picture of pixels.
    #[error("the drawing holds a picture of pixels: only outlines can be cut")]
    Picture,
    /// What changes what shows of an outline.
    #[error("the drawing uses {0}, which a blade cannot follow: apply it to the outlines, or leave it out")]
    Effect(&'static str),
    /// Too many elements.
    #[error("the drawing has more than {MOST_ELEMENTS} parts: simplify it")]
    Many,
    /// Too many lines.
    #[error("the drawing has more than {MOST_POINTS} lines and curves: simplify it")]
    Long,
    /// Elements within elements.
    #[error("the drawing has groups within groups more than {DEEPEST} deep: ungroup it")]
    Deep,
    /// An element with attributes without number.
    #[error("the drawing has a part with more than {MOST_ATTRIBUTES} attributes: save it as plain SVG")]
    Attributes,
    /// Styles that would take longer to apply than the drawing to cut.
    #[error("the drawing's styles {0}: save it as plain SVG, with the styles on its parts")]
    Styles(&'static str),
    /// Measures of no sheet.
    #[error("the drawing has a measure of “{0:.20}”, larger than any sheet: bring it in its true size")]
    Huge(String),
    /// A part that uses itself.
    #[error("the drawing uses a part of itself within that part: save it as plain SVG")]
    Loop,
    /// Nothing to cut.
    #[error("there is no closed outline in the drawing")]
    Empty,
    /// Its outline.
    #[error(transparent)]
    Outline(#[from] OutlineError),
}

/// What a drawing brought.
#[derive(Clone, Debug, PartialEq)]
pub struct Brought {
    /// Its outline.
    pub outline: Outline,
    /// What was done with it that the maker should know.
    pub notes: Vec<String>,
}

/// Reads a drawing.
///
/// # Errors
/// A [`SvgError`] with what to do.
pub fn read(text: &str) -> Result<Brought, SvgError> {
    if text.len() > MOST_BYTES {
        return Err(SvgError::Large(text.len() / 1024));
    }
    let text = &without_doctype(text)?;
    if text.len() > MOST_BYTES {
        return Err(SvgError::Large(text.len() / 1024));
    }
    few_attributes(text)?;
    let options = ParsingOptions { allow_dtd: false, nodes_limit: 50_000, ..ParsingOptions::default() };
    let document = Document::parse_with_options(text, options)
        .map_err(|error| SvgError::Unreadable(error.to_string()))?;
    look_through(&document)?;
    let tree =
        usvg::Tree::from_xmltree(&document, &usvg::Options::default()).map_err(|error| match error {
            usvg::Error::ElementsLimitReached => SvgError::Many,
            other => SvgError::Unreadable(other.to_string()),
        })?;
    let mut found = Found::default();
    found.take(tree.root());
    found.brought()
}

/// A drawing without its DOCTYPE line, which many tools write: what it stands for is known. Short names for addresses, which some
/// define there, are put back for what they mean; anything more is refused.
fn without_doctype(text: &str) -> Result<Cow<'_, str>, SvgError> {
    const BEGINS: &str = "<!DOCTYPE";
    let Some(begins) = text.find(BEGINS) else {
        return if text.contains("<!ENTITY") { Err(SvgError::Entities) } else { Ok(text.into()) };
    };
    let after = &text[begins + BEGINS.len()..];
    let ends = after.find('>').ok_or(SvgError::Entities)?;
    let (names, rest) = match after[..ends].find('[') {
        None => ("", &after[ends + 1..]),
        Some(opens) => {
            let (inner, rest) = after[opens + 1..].split_once(']').ok_or(SvgError::Entities)?;
            (inner, rest.trim_start().strip_prefix('>').ok_or(SvgError::Entities)?)
        }
    };
    let mut plain = [&text[..begins], rest].concat();
    let mut names = names.trim();
    for _ in 0..MOST_NAMES {
        if names.is_empty() {
            break;
        }
        let (name, rest) = entity(names).ok_or(SvgError::Entities)?;
        let (key, value) = name;
        let key = format!("&{key};");
        let large = plain.len() + plain.matches(&key).count() * value.len();
        if large > MOST_BYTES {
            return Err(SvgError::Large(large / 1024));
        }
        plain = plain.replace(&key, value);
        names = rest.trim_start();
    }
    if names.is_empty() && !plain.contains(BEGINS) { Ok(plain.into()) } else { Err(SvgError::Entities) }
}

/// The first name that is defined in some text, what it stands for, and the text after it. It stands for plain words.
fn entity(text: &str) -> Option<((&str, &str), &str)> {
    let text = text.strip_prefix("<!ENTITY")?.trim_start();
    let (name, text) = text.split_once(char::is_whitespace)?;
    let text = text.trim_start();
    let quote = text.chars().next().filter(|quote| ['"', '\''].contains(quote))?;
    let (value, text) = text[1..].split_once(quote)?;
    let is_name = !name.is_empty() && name.chars().all(|c| c.is_ascii_alphanumeric() || "_-.".contains(c));
    let is_plain = value.len() <= LONGEST_NAMED && !value.contains(['<', '&', '%']);
    let rest = text.trim_start().strip_prefix('>')?;
    (is_name && is_plain).then_some(((name, value), rest))
}

const SVG: &str = "http://www.w3.org/2000/svg";

/// Refuses what is not plain outlines, before anything is made of it.
fn look_through(document: &Document) -> Result<(), SvgError> {
    let root = document.root_element();
    if !root.has_tag_name((SVG, "svg")) {
        return Err(SvgError::NotSvg);
    }
    let mut seen = Counted::default();
    let mut pending = vec![(root, 1)];
    let mut expanded = Expanded::of(document);
    while let Some((node, depth)) = pending.pop() {
        if depth > DEEPEST {
            return Err(SvgError::Deep);
        }
        refuse(&node, &mut seen)?;
        pending.extend(node.children().filter(Node::is_element).map(|child| (child, depth + 1)));
    }
    if seen.data > MOST_DATA {
        return Err(SvgError::Long);
    }
    let count = expanded.count(root)?;
    if count > MOST_ELEMENTS {
        return Err(SvgError::Many);
    }
    if seen.rules > MOST_RULES {
        return Err(SvgError::Styles("have more than 500 rules"));
    }
    if count.saturating_mul(seen.matched) > MOST_MATCHED {
        return Err(SvgError::Styles("have too many rules for so many parts"));
    }
    Ok(())
}

/// What a drawing is found to hold.
#[derive(Default)]
struct Counted {
    /// Bytes of path data.
    data: usize,
    /// Rules of its style sheets.
    rules: usize,
    /// How often a part is looked at to hold all rules against it once.
    matched: u64,
}

/// Refuses elements with attributes without number before they are read: a reader holds each against all others.
fn few_attributes(text: &str) -> Result<(), SvgError> {
    let (mut quote, mut is_tag, mut count) = (None, false, 0);
    for byte in text.bytes() {
        match (quote, byte) {
            (Some(open), _) if byte == open => quote = None,
            (Some(_), _) => {}
            (None, b'<') => (is_tag, count) = (true, 0),
            (None, b'>') => is_tag = false,
            (None, b'"' | b'\'') if is_tag => quote = Some(byte),
            (None, b'=') if is_tag => {
                count += 1;
                if count > MOST_ATTRIBUTES {
                    return Err(SvgError::Attributes);
                }
            }
            _ => {}
        }
    }
    Ok(())
}

/// Counts the rules of a style sheet, and how often each looks at a part or one of those round it.
fn rules(sheet: &str, seen: &mut Counted) -> Result<(), SvgError> {
    let mut rest = sheet;
    while let Some((selectors, block)) = rest.split_once('{') {
        let (declared, after) = block.split_once('}').unwrap_or((block, ""));
        few_declarations(declared)?;
        for selector in selectors.split(',') {
            let parts =
                selector.split([' ', '\t', '\n', '\r', '>', '+', '~']).filter(|part| !part.is_empty());
            // Each further part may be held against everything that goes round the one before.
            let times = (DEEPEST as u64).saturating_pow(parts.count().saturating_sub(1).min(8) as u32);
            seen.matched = seen.matched.saturating_add(times);
        }
        seen.rules += 1;
        rest = after;
    }
    Ok(())
}

fn few_declarations(style: &str) -> Result<(), SvgError> {
    if style.bytes().filter(|byte| *byte == b';').count() > MOST_ATTRIBUTES {
        return Err(SvgError::Styles("set more than 100 things at once"));
    }
    Ok(())
}

fn refuse(node: &Node, seen: &mut Counted) -> Result<(), SvgError> {
    // Wherever it stands, whatever it is told to be, and all of it.
    if node.tag_name().name() == "style" {
        let sheet: String = node.descendants().filter(Node::is_text).filter_map(|text| text.text()).collect();
        styles(&sheet)?;
        rules(&sheet, seen)?;
    }
    if node.tag_name().namespace() == Some(SVG) {
        match node.tag_name().name() {
            "script" | "handler" | "listener" => return Err(SvgError::Script),
            "text" | "tspan" | "textPath" | "tref" => return Err(SvgError::Text),
            "image" | "foreignObject" => return Err(SvgError::Picture),
            "clipPath" | "mask" => return Err(SvgError::Effect("clips or masks")),
            "filter" => return Err(SvgError::Effect("filters")),
            "pattern" => return Err(SvgError::Effect("pattern fills")),
            "marker" => return Err(SvgError::Effect("line ends (markers)")),
            "animate" | "animateTransform" | "animateMotion" | "set" => {
                return Err(SvgError::Effect("movement"));
            }
            _ => {}
        }
    }
    for attribute in node.attributes() {
        let (name, value) = (attribute.name(), attribute.value());
        if name.len() > 2 && name.as_bytes()[..2].eq_ignore_ascii_case(b"on") {
            return Err(SvgError::Script);
        }
        if value.trim_start().get(..11).is_some_and(|start| start.eq_ignore_ascii_case("javascript:")) {
            return Err(SvgError::Script);
        }
        match name {
            "href" if !value.trim_start().starts_with('#') => return Err(SvgError::Link(value.into())),
            "d" | "points" => seen.data += value.len(),
            "style" => {
                few_declarations(value)?;
                styles(value)?;
            }
            "class" if value.len() > LONGEST_CLASS => {
                return Err(SvgError::Styles("name more classes than anyone reads"));
            }
            "stroke-dasharray" => dashes(value)?,
            _ => styles(value)?,
        }
        // Names and links may hold any number; what is drawn may not.
        if !matches!(name, "id" | "class" | "href") {
            huge(value)?;
        }
    }
    Ok(())
}

/// Refuses styles that reach outside the drawing, however they are written.
fn styles(text: &str) -> Result<(), SvgError> {
    if text.contains('\\') {
        return Err(SvgError::Styles("write letters in another way than as letters"));
    }
    let text = text.to_ascii_lowercase();
    if text.contains("@import") {
        return Err(SvgError::Link("@import".into()));
    }
    for (at, _) in text.match_indices("url(") {
        let target = text[at + 4..].trim_start_matches([' ', '\t', '\n', '\r', '"', '\'']);
        if !target.starts_with('#') {
            return Err(SvgError::Link(target.chars().take(60).collect()));
        }
    }
    for (at, key) in text.match_indices("stroke-dasharray") {
        dashes(text[at + key.len()..].trim_start_matches([' ', ':', '\t', '\n']))?;
    }
    Ok(())
}

/// Refuses numbers beyond any sheet: curves round them would be cut into pieces without number.
fn huge(value: &str) -> Result<(), SvgError> {
    let is_of_number = |c: char| c.is_ascii_digit() || matches!(c, '.' | 'e' | 'E' | '+' | '-');
    for text in value.split(|c| !is_of_number(c)) {
        // An exponent of three figures is more than anything can have; two may still be too many.
        let read: Option<f64> = text.parse().ok();
        let is_huge = match read {
            Some(number) => number.abs() > LARGEST_NUMBER,
            None => text.to_ascii_lowercase().split('e').skip(1).any(|power| power.len() > 2),
        };
        if is_huge {
            return Err(SvgError::Huge(text.into()));
        }
    }
    Ok(())
}

/// Dashes of a length near nothing would be without number.
fn dashes(value: &str) -> Result<(), SvgError> {
    if value.trim_start().starts_with("none") { Ok(()) } else { Err(SvgError::Effect("dashed lines")) }
}

/// How many elements there are once every part that is used again stands where it is used.
struct Expanded<'a, 'input> {
    by_id: std::collections::HashMap<&'a str, Node<'a, 'input>>,
    known: std::collections::HashMap<usize, Option<u64>>,
}

impl<'a, 'input> Expanded<'a, 'input> {
    fn of(document: &'a Document<'input>) -> Self {
        let by_id = document.descendants().filter_map(|node| Some((node.attribute("id")?, node))).collect();
        Expanded { by_id, known: Default::default() }
    }

    /// Parts known to be counted just now are within themselves. Elements are at most [`DEEPEST`] deep, and a chain of uses
    /// is followed at most once.
    fn count(&mut self, node: Node<'a, 'input>) -> Result<u64, SvgError> {
        self.counted(node, 0)
    }

    fn counted(&mut self, node: Node<'a, 'input>, depth: usize) -> Result<u64, SvgError> {
        if depth > 8 * DEEPEST {
            return Err(SvgError::Deep);
        }
        let key = node.id().get_usize();
        match self.known.get(&key) {
            Some(Some(count)) => return Ok(*count),
            Some(None) => return Err(SvgError::Loop),
            None => {}
        }
        self.known.insert(key, None);
        let mut count: u64 = 1;
        for child in node.children().filter(Node::is_element) {
            count = count.saturating_add(self.counted(child, depth + 1)?);
        }
        if node.has_tag_name((SVG, "use")) {
            let href =
                node.attribute(("http://www.w3.org/1999/xlink", "href")).or_else(|| node.attribute("href"));
            let target = href.and_then(|href| self.by_id.get(href.trim().trim_start_matches('#')).copied());
            if let Some(target) = target {
                count = count.saturating_add(self.counted(target, depth + 1)?);
            }
        }
        self.known.insert(key, Some(count));
        Ok(count)
    }
}

/// Paths of a drawing, as they are come upon.
#[derive(Default)]
struct Found {
    paths: Vec<(BezPath, bool)>,
    lines: usize,
    open: usize,
}

impl Found {
    fn take(&mut self, group: &usvg::Group) {
        for node in group.children() {
            match node {
                usvg::Node::Group(group) => self.take(group),
                usvg::Node::Path(path) if path.is_visible() => self.take_path(path),
                _ => {}
            }
        }
    }

    fn take_path(&mut self, path: &usvg::Path) {
        let t = path.abs_transform();
        let to_mm = Affine::scale(MM) * Affine::new([t.sx, t.ky, t.kx, t.sy, t.tx, t.ty].map(f64::from));
        let point = |at: usvg::tiny_skia_path::Point| Point::new(f64::from(at.x), f64::from(at.y));
        let mut outline = BezPath::new();
        let mut closed = true;
        for segment in path.data().segments() {
            match segment {
                PathSegment::MoveTo(a) => {
                    self.open += usize::from(!closed);
                    closed = false;
                    outline.move_to(point(a));
                }
                PathSegment::LineTo(a) => outline.line_to(point(a)),
                PathSegment::QuadTo(a, b) => outline.quad_to(point(a), point(b)),
                PathSegment::CubicTo(a, b, c) => outline.curve_to(point(a), point(b), point(c)),
                PathSegment::Close => {
                    closed = true;
                    outline.close_path();
                }
            }
        }
        self.open += usize::from(!closed);
        self.lines += usize::from(path.fill().is_none());
        let even_odd = path.fill().is_some_and(|fill| fill.rule() == usvg::FillRule::EvenOdd);
        self.paths.push((to_mm * outline, even_odd));
    }

    fn brought(self) -> Result<Brought, SvgError> {
        // All of it at once, before anything is reckoned of any part.
        let all: BezPath = self.paths.iter().flat_map(|(path, _)| path.iter()).collect();
        let all_drawn = bounded(&all).map_err(|error| match error {
            OutlineError::Long(_) => SvgError::Long,
            OutlineError::Empty => SvgError::Empty,
            other => SvgError::Outline(other),
        })?;
        let mut notes = Vec::new();
        if self.lines > 0 {
            notes.push("Lines that are not filled are cut along their middle.".to_owned());
        }
        if self.open > 0 {
            notes.push("Outlines that stood open are closed by a straight line.".to_owned());
        }
        let regions = self.paths.iter().map(|(path, even_odd)| Region::of(&contours(path), *even_odd));
        let region = Region::all(regions);
        if region.is_empty() {
            return Err(SvgError::Empty);
        }
        // Several paths are one outline with their curves as they are, where they do not lie over one another.
        let even_odd = self.paths.iter().any(|(_, even_odd)| *even_odd);
        let as_they_are = Region::of(&all_drawn, even_odd);
        let outline = if (as_they_are.area() - region.area()).abs() < 1e-3 {
            Outline::of(all, even_odd)?
        } else {
            notes.push("Outlines that lie over one another are cut round as one.".to_owned());
            Outline::read(&region.path(), false)?
        };
        Ok(Brought { outline, notes })
    }
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    fn svg(head: &str, inside: &str) -> String {
        format!("<svg xmlns=\"{SVG}\" {head}>{inside}</svg>")
    }

    fn size(text: &str) -> (f64, f64) {
        let (wide, high) = read(text).unwrap().outline.size();
        ((wide * 100.0).round() / 100.0, (high * 100.0).round() / 100.0)
    }

    #[test]
    fn sizes_units_boxes_and_transforms_are_honoured() {
        let square = "<rect x='1' y='1' width='4' height='2'/>";
        assert_eq!(size(&svg("width='10mm' height='10mm' viewBox='0 0 10 10'", square)), (4.0, 2.0));
        assert_eq!(size(&svg("width='2in' height='2in' viewBox='0 0 10 10'", square)), (20.32, 10.16));
        assert_eq!(size(&svg("width='96' height='96'", square)), (1.06, 0.53));
        let turned = "<g transform='rotate(90) scale(2)'><rect x='1' y='-5' width='4' height='2'/></g>";
        assert_eq!(size(&svg("width='20mm' height='20mm' viewBox='0 0 20 20'", turned)), (4.0, 8.0));
        let used = "<defs><path id='a' d='M0 0h3v3h-3z'/></defs><use href='#a'/><use href='#a' x='7'/>";
        assert_eq!(size(&svg("width='20mm' height='20mm' viewBox='0 0 20 20'", used)), (10.0, 3.0));
    }

    #[test]
    fn fill_rules_and_overlaps_come_out_as_they_look() {
        let area = |inside: &str| {
            let text = svg("width='20mm' height='20mm' viewBox='0 0 20 20'", inside);
            read(&text).unwrap().outline.region().area()
        };
        let nested = "M0 0h10v10h-10zM3 3h4v4h-4z";
        assert!((area(&format!("<path d='{nested}'/>")) - 100.0).abs() < 1e-3);
        assert!((area(&format!("<path fill-rule='evenodd' d='{nested}'/>")) - 84.0).abs() < 1e-3);
        // Wound the other way, and over one another: still one piece.
        let over = "<path d='M0 0h10v10h-10z'/><path d='M5 0v10h10v-10z'/>";
        assert!((area(over) - 150.0).abs() < 1e-3);
    }

    #[test]
    fn what_no_blade_follows_is_refused_with_the_reason() {
        let refused = |inside: &str| read(&svg("width='9mm' height='9mm'", inside)).unwrap_err();
        assert_eq!(refused("<script>1</script>"), SvgError::Script);
        assert_eq!(refused("<rect onclick='x()' width='3' height='3'/>"), SvgError::Script);
        assert_eq!(refused("<text>Ebb</text>"), SvgError::Text);
        assert_eq!(refused("<image href='data:image/png;base64,AA=='/>"), SvgError::Picture);
        assert!(matches!(refused("<use href='other.svg#a'/>"), SvgError::Link(_)));
        assert!(matches!(refused("<rect width='3' height='3' fill='url(far.svg#a)'/>"), SvgError::Link(_)));
        assert!(matches!(refused("<style>@import 'x.css';</style>"), SvgError::Link(_)));
        assert_eq!(refused("<path d='M0 0L5 5'/>"), SvgError::Empty);
        assert_eq!(refused("<g id='a'><use href='#a'/></g>"), SvgError::Loop);
        assert!(matches!(
            refused("<rect width='3' height='3' stroke-dasharray='1e-9'/>"),
            SvgError::Effect(_)
        ));
        assert_eq!(refused(&"<g>".repeat(3_000).add_closing(3_000)), SvgError::Deep);
        assert_eq!(read("<html/>"), Err(SvgError::NotSvg));
        assert_eq!(
            read(&format!("<!DOCTYPE svg [<!ENTITY a '&b;&b;'>]>{}", svg("", ""))),
            Err(SvgError::Entities)
        );
        assert_eq!(read(&" ".repeat(MOST_BYTES + 1)), Err(SvgError::Large(1024)));
        assert!(matches!(read("<svg"), Err(SvgError::Unreadable(_))));
    }

    #[test]
    fn a_doctype_line_and_short_names_for_addresses_are_read_and_nothing_more_is_unfolded() {
        let plain = svg("width='9mm' height='9mm' viewBox='0 0 9 9'", "<circle r='3' cx='4' cy='4'/>");
        let with =
            |doctype: &str, drawing: &str| read(&format!("<?xml version='1.0'?>\n{doctype}\n{drawing}"));
        let public = r#"<!DOCTYPE svg PUBLIC "-//W3C//DTD SVG 1.1//EN" "svg11.dtd">"#;
        assert_eq!(with(public, &plain), read(&plain));
        let named = plain.replace("http://www.w3.org/2000/svg", "&ns_svg;");
        assert_ne!(named, plain);
        let names = r#"<!DOCTYPE svg PUBLIC "a" "b" [ <!ENTITY ns_svg "http://www.w3.org/2000/svg"> <!ENTITY st0 'fill:red;'> ]>"#;
        assert_eq!(with(names, &named), read(&plain));
        for more in [
            "<!DOCTYPE svg [<!ENTITY a SYSTEM 'file:///a'>]>",
            "<!DOCTYPE svg [<!ENTITY % a 'b'>]>",
            "<!DOCTYPE svg [<!ENTITY a '<g/>'>]>",
            "<!DOCTYPE svg [<!ELEMENT svg ANY>]>",
            "<!DOCTYPE svg [<!ENTITY a 'b'>",
            "<!DOCTYPE svg><!DOCTYPE svg>",
        ] {
            assert_eq!(with(more, &plain), Err(SvgError::Entities), "{more}");
        }
        let long = format!("<!DOCTYPE svg [<!ENTITY a '{}'>]>", "b".repeat(LONGEST_NAMED));
        let many = with(&long, &plain.replace("<circle", &format!("<!--{}--><circle", "&a;".repeat(20_000))));
        assert!(matches!(many, Err(SvgError::Large(_))), "{many:?}");
    }

    #[test]
    fn what_is_drawn_too_large_after_every_transform_is_refused_before_it_is_followed() {
        let box_of = "width='9mm' height='9mm' viewBox='0 0 0.00001 0.00001'";
        let arc = "<path d='M0 0A900000 900000 0 1 1 1 1z'/>";
        assert_eq!(read(&svg(box_of, arc)), Err(SvgError::Outline(OutlineError::Huge)));
        let twice = "<g transform='scale(1000000)'><g transform='scale(1000000)'><circle r='9'/></g></g>";
        assert_eq!(read(&svg("width='9mm' height='9mm'", twice)), Err(SvgError::Outline(OutlineError::Huge)));
    }

    #[test]
    fn a_scribble_is_read_and_a_tangle_is_refused_with_its_count() {
        // A star of an odd number of corners crosses itself as often as two sides share no corner.
        let star = |corners: usize| {
            let at = |n: usize| (n * (corners - 1) / 2) as f64 * std::f64::consts::TAU / corners as f64;
            let points: String = (0..corners)
                .map(|n| format!("{:.5} {:.5} ", 40.0 * at(n).cos(), 40.0 * at(n).sin()))
                .collect();
            read(&svg(
                "width='99mm' height='99mm' viewBox='-50 -50 99 99'",
                &format!("<polygon points='{points}'/>"),
            ))
        };
        assert!(star(61).is_ok());
        for corners in [501, 1_001] {
            let Err(SvgError::Outline(OutlineError::Tangled(count))) = star(corners) else {
                panic!("{corners}")
            };
            // Written in five figures, a few of the sides nearest to one another only just miss.
            assert!(
                (count as f64 / (corners * (corners - 3) / 2) as f64 - 1.0).abs() < 2e-3,
                "{corners}: {count}"
            );
        }
    }

    #[test]
    fn styles_without_number_are_refused_and_those_of_a_drawing_program_are_not() {
        let rect = "<rect class='a' width='3' height='3'/>";
        let styled = |sheet: &str, inside: &str| {
            read(&svg("width='9mm' height='9mm'", &format!("<style>{sheet}</style>{inside}")))
        };
        let plain: String =
            (0..120).map(|n| format!(".c{n}, .d{n} {{ fill: #123; stroke: none; }}\n")).collect();
        assert!(
            styled(&format!("{plain}.a {{ fill: red }} g > .a {{ fill: blue }}"), &rect.repeat(90)).is_ok()
        );
        let is_refused = |sheet: &str, inside: &str| {
            let refused = styled(sheet, inside).unwrap_err();
            assert!(matches!(refused, SvgError::Styles(_)), "{refused}");
        };
        is_refused(&".a{fill:red}".repeat(60_000), rect);
        is_refused(&"* * * * * * * *{fill:red}".repeat(3), rect);
        is_refused(&"g .a{fill:red}".repeat(100), &rect.repeat(3_000));
        is_refused(&format!(".a{{{}}}", "fill:red;".repeat(60_000)), rect);
        is_refused("\\40 import url(far.css)", rect);
        is_refused("", &format!("<rect class='{}' width='3' height='3'/>", "a ".repeat(2_000)));
        is_refused("", &format!("<rect style='{}' width='3' height='3'/>", "fill:red;".repeat(2_000)));
        let attributes: String = (0..60_000).map(|n| format!(" a{n}='1'")).collect();
        assert_eq!(styled("", &format!("<rect{attributes}/>")), Err(SvgError::Attributes));
        for sheet in ["@IMPORT 'far.css';", "<!-- a -->@import 'far.css';", "a{}<g/>@import 'far.css'; b{}"] {
            assert!(matches!(styled(sheet, rect), Err(SvgError::Link(_))), "{sheet}");
        }
        assert!(matches!(styled(".a { fill: URL( far.svg#a ) }", rect), Err(SvgError::Link(_))));
    }

    trait Closing {
        fn add_closing(self, count: usize) -> String;
    }
    impl Closing for String {
        fn add_closing(self, count: usize) -> String {
            self + &"</g>".repeat(count)
        }
    }

    #[test]
    fn parts_used_within_parts_used_again_are_not_unfolded() {
        let mut inside = "<rect id='a0' width='1' height='1'/>".to_owned();
        for n in 1..40 {
            let use_before = format!("<use href='#a{}'/>", n - 1).repeat(10);
            inside.push_str(&format!("<g id='a{n}'>{use_before}</g>"));
        }
        assert_eq!(read(&svg("width='9mm' height='9mm'", &inside)), Err(SvgError::Many));
    }

    proptest! {
        #![proptest_config(ProptestConfig::with_cases(400))]
        #[test]
        fn mangled_drawings_are_read_or_refused(
            places in proptest::collection::vec((0.0..1.0_f64, any::<u8>(), 0_usize..3), 1..6),
        ) {
            let good = svg(
                "width='90mm' height='50mm' viewBox='0 0 90 50'",
                "<g transform='translate(3 4)'><path id='p' d='M0 0C10 0 10 10 0 10zM20 5a4 4 0 1 0 8 0z'/>\
                 <circle cx='40' cy='20' r='9'/><use href='#p' x='30'/></g>",
            );
            let mut bytes = good.into_bytes();
            for (share, byte, how) in places {
                let at = ((bytes.len() - 1) as f64 * share) as usize;
                match how {
                    0 => bytes[at] = byte,
                    1 => drop(bytes.drain(at..(at + usize::from(byte)).min(bytes.len() - 1))),
                    _ => {
                        let copy = bytes[at..(at + usize::from(byte)).min(bytes.len())].to_vec();
                        bytes.splice(at..at, copy);
                    }
                }
            }
            if let Ok(brought) = read(&String::from_utf8_lossy(&bytes)) {
                prop_assert!(brought.outline.region().area() > 0.0);
            }
        }
    }
}
