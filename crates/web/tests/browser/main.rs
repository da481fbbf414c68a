//! The program as a maker meets it: in a real browser, start to end.

#[path = "../desk/mod.rs"]
mod desk;

mod accessible;
mod card_and_stock;
mod company;
mod covered;
mod drawer_searched;
mod evening;
mod first_panel;
mod practice;
mod shapes;
mod shown;
mod swatches;
mod together;
mod water;
