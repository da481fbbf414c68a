//! `POST /api/panels/wishes`: ready starting points for a panel, drawn in the inks of the drawer. Nothing is kept.

use actix_web::{HttpResponse, web};
use rosy_core::document::Document;
use rosy_core::ink::Ink;
use rosy_core::{Panel, wish};
use rosy_store::Store;
use serde::{Deserialize, Serialize};

use crate::error::{ApiProblem, Problem, sentence};
use crate::picture::data_url;
use crate::plans::planned;
use crate::visitor::{Caller, Read};
use crate::workroom::Workroom;

/// Pixels to the inch of their pictures.
const SMALL: f64 = 46.0;

/// What is asked.
#[derive(Deserialize)]
pub struct WishesAsked {
    panel: Document,
}

#[derive(Serialize)]
struct WishTold {
    name: &'static str,
    good_for: &'static str,
    inks: String,
    picture: String,
    panel: Panel,
}

/// Grants them.
pub async fn wishes(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    Read(asked): Read<WishesAsked>,
) -> Result<HttpResponse, ApiProblem> {
    use rayon::prelude::*;
    let units = caller.visitor.units();
    let drawer: Vec<Ink> =
        store.all::<Ink>(caller.visitor.bench.id).await?.into_iter().map(|kept| kept.value).collect();
    let granted = room.done(caller.visitor.asker(), move || {
        let panel = planned(asked.panel).map_err(|error| error.to_string())?;
        let told = |wish: wish::Wish| {
            let names: Vec<&str> = wish.panel.inks.iter().map(|ink| ink.name.as_str()).collect();
            Ok(WishTold {
                name: wish.name,
                good_for: wish.good_for,
                inks: names.join(", "),
                picture: data_url(&wish.panel.surface(), SMALL).map_err(|error| error.to_string())?,
                panel: wish.panel,
            })
        };
        let wishes: Result<Vec<WishTold>, String> =
            wish::offered(&panel, &drawer, units).into_par_iter().map(told).collect();
        serde_json::to_vec(&wishes?).map_err(|error| error.to_string())
    });
    let granted = granted.await?.map_err(|says| Problem::Refused(sentence(&says)))?;
    Ok(HttpResponse::Ok().content_type("application/json").body(granted))
}
