//! First-fit rows: how many sheets does it take without searching?
//!
//! Pieces lie in rows across the sheet, the highest first, each in the first row with room for it (first-fit decreasing
//! height; Coffman, Garey, Johnson and Tarjan, *SIAM Journal on Computing*, 1980). No plan may use more sheets.

use super::layout::{Block, Layout};
use super::piece::{Piece, Sheet};
use crate::edges::{Axis, Place};
use crate::length::Length;

struct Row {
    height: Length,
    used: Length,
    block: Block,
}

/// Lays a batch in rows on sheets of one size, each piece lying (`flat`) or standing where it may; none where one does
/// not fit.
pub(super) fn shelves(pieces: &[Piece], sheet: usize, of: &Sheet, flat: bool) -> Option<Vec<Layout>> {
    let mut laid = Vec::new();
    for (kind, piece) in pieces.iter().enumerate() {
        let fitting = |(w, h): &(Length, Length)| *w <= of.width && *h <= of.height;
        let ways = piece.ways(of.grain).into_iter().filter(fitting);
        let (width, height) = ways.min_by_key(|(_, h)| if flat { *h } else { -*h })?;
        laid.extend((0..piece.count).map(|_| (kind, width, height)));
    }
    laid.sort_by_key(|(kind, width, height)| (-*height, -*width, *kind));
    let mut sheets: Vec<Vec<Row>> = Vec::new();
    for (kind, width, height) in laid {
        let block = Block::Piece(kind, width, height);
        let room = |row: &&mut Row| height <= row.height && row.used + width <= of.width;
        if let Some(row) = sheets.iter_mut().flatten().find(room) {
            row.used += width;
            row.block = Block::pair(Axis::Across, row.block.clone(), block);
            continue;
        }
        let row = Row { height, used: width, block };
        let stands =
            |rows: &&mut Vec<Row>| rows.iter().map(|r| r.height).sum::<Length>() + height <= of.height;
        match sheets.iter_mut().find(stands) {
            Some(rows) => rows.push(row),
            None => sheets.push(vec![row]),
        }
    }
    let place = Place { width: of.width, height: of.height, ..Place::default() };
    let stacked = |rows: Vec<Row>| {
        let whole =
            rows.into_iter().map(|row| row.block).reduce(|above, row| Block::pair(Axis::Down, above, row));
        whole.map(|block| Layout { sheet, cell: block.laid(place) })
    };
    Some(sheets.into_iter().filter_map(stacked).collect())
}
