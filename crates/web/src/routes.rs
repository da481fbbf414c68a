//! Every route of the program.

use actix_web::web::{self, ServiceConfig, delete, get, post, put};

use crate::{api, assets, pages};

/// Sets them all up.
pub fn routes(config: &mut ServiceConfig) {
    config
        // Pages.
        .route("/", get().to(pages::bench::show))
        .route("/undo", post().to(pages::bench::undo))
        .route("/redo", post().to(pages::bench::redo))
        .route("/units", post().to(pages::bench::units))
        .route("/benches", get().to(pages::benches::show))
        .route("/benches", post().to(pages::benches::add))
        .route("/benches/{id}/open", post().to(pages::benches::open))
        .route("/panels", post().to(pages::bench::new_panel))
        .route("/panels/{id}/remove", post().to(pages::bench::remove_panel))
        .route("/panels/{id}/card", get().to(pages::card::show))
        .route("/panels/{id}/inks", get().to(pages::inks::show))
        .route("/panels/{id}/blend", get().to(pages::blend::show))
        .route("/panels/{id}/sheet", get().to(pages::sheet::show))
        .route("/drawer", get().to(pages::drawer::show))
        .route("/drawer/undo", post().to(pages::drawer::undo))
        .route("/drawer/redo", post().to(pages::drawer::redo))
        .route("/drawer/inks.csv", get().to(pages::drawer::csv))
        .route("/drawer/inks.json", get().to(pages::drawer::json))
        .route("/drawer/inks/new", get().to(pages::ink::blank))
        .route("/drawer/inks", post().to(pages::ink::add))
        .route("/drawer/inks/{id}", get().to(pages::ink::show))
        .route("/drawer/inks/{id}", post().to(pages::ink::save))
        .route("/drawer/inks/{id}/remove", post().to(pages::ink::remove))
        .route("/stock", get().to(pages::stock::show))
        .route("/stock/undo", post().to(pages::stock::undo))
        .route("/stock/redo", post().to(pages::stock::redo))
        .route("/stock/sheets", post().to(pages::stock::add_sheet))
        .route("/stock/sheets/{id}", post().to(pages::stock::count_sheet))
        .route("/stock/sheets/{id}/remove", post().to(pages::stock::remove_sheet))
        .route("/stock/formats", post().to(pages::stock::add_format))
        .route("/stock/formats/{id}/remove", post().to(pages::stock::remove_format))
        .route("/stock/batch/cards", post().to(pages::stock::add_cards))
        .route("/stock/batch/pieces", post().to(pages::stock::add_piece))
        .route("/stock/batch/pieces/{at}/remove", post().to(pages::stock::remove_piece))
        .route("/stock/batch/cut", post().to(pages::stock::cut))
        // Files of a batch.
        .route("/stock/plan.{ending}", get().to(api::stock::file))
        // Files of a panel.
        .route("/panels/{id}/card.{ending}", get().to(api::card::file))
        .route("/panels/{id}/picture.png", get().to(api::picture::get))
        .route("/panels/{id}/panel.json", get().to(api::panels::file))
        // For scripts and programs.
        .route("/api/ask/{question}", post().to(api::ask::answer))
        .route("/api/inks", post().to(api::inks::read))
        .route("/api/panels", post().to(api::panels::read))
        .route("/api/panels/look", post().to(api::look::look))
        .route("/api/panels/card", post().to(api::card::look))
        .route("/api/panels/card/again", post().to(api::card::make_again))
        .route("/api/panels/{id}", get().to(api::panels::get))
        .route("/api/panels/{id}", put().to(api::panels::save))
        .route("/api/panels/{id}/inks", put().to(api::panels::choose_inks))
        .route("/api/panels/{id}/undo", post().to(api::panels::undo))
        .route("/api/panels/{id}/undo", delete().to(api::panels::redo))
        // What the pages are dressed in.
        .route("/assets/{mark}/{name:.*}", get().to(assets::get))
        .default_service(web::to(pages::nothing_here));
}
