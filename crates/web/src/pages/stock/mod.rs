//! The stock: sheets and offcuts owned, sizes of card, the next batch, how it is cut and what it uses up. In reading order:
//!
//! | file | what |
//! |---|---|
//! | [`page`] | the page itself |
//! | [`form`] | what is written in its forms, read as it is meant |
//! | [`things`] | a thing into the stock and out of it |
//! | [`sheets`] | sheets and offcuts |
//! | [`formats`] | sizes of card |
//! | [`batch`] | the next batch |

mod batch;
mod form;
mod formats;
mod page;
mod sheets;
mod things;

pub use batch::{add_cards, add_evening, add_piece, cut, keep, remove_piece};
pub use formats::{add_format, remove_format};
pub use page::{redo, show, undo};
pub use sheets::{add_sheet, count_sheet, remove_sheet};
