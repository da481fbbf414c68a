//! A page on which a panel is looked at: each change is made and drawn before it is kept, and what is wrong with it is told by its
//! field. Nothing is kept here.

use std::sync::Arc;

use actix_web::{HttpResponse, web};
use rosy_core::document::Document;
use rosy_core::edit::{Edit, Has, Refused, edited};
use rosy_core::planned::Planned;
use rosy_core::surface::Surface;
use rosy_core::{Panel, Units};
use rosy_store::{Store, StoreError, Thing};
use serde::de::DeserializeOwned;
use serde::{Deserialize, Serialize, Serializer};
use uuid::Uuid;

use super::edit::AtHand;
use crate::error::{ApiProblem, Problem, sentence};
use crate::picture::{data_url, for_page, is_large};
use crate::plans::{laid, planned};
use crate::visitor::{Caller, Read};
use crate::workroom::Workroom;

/// What is asked: a panel as it stands on the page, and perhaps a change to it.
#[derive(Deserialize)]
pub struct LookAsked<Change> {
    panel: Document,
    /// To be looked at and perhaps kept.
    #[serde(default = "none")]
    change: Option<Change>,
    #[serde(flatten)]
    how: How,
}

/// How it is looked at.
#[derive(Clone, Copy, Deserialize)]
pub struct How {
    /// Pixels to the inch of the picture.
    dpi: f64,
    /// Whether the hand rests, or is still moving.
    pub settled: bool,
    /// The blend that is looked at, by its place on the ground.
    #[serde(default)]
    pub blend: usize,
    /// Whether it is shown as it looks when just laid, still damp.
    #[serde(default)]
    pub damp: bool,
}

fn none<Change>() -> Option<Change> {
    None
}

/// A panel that is looked at, and all that is wanted to tell of it.
#[derive(Clone, Copy)]
pub struct Seen<'a> {
    pub panel: &'a Arc<Planned>,
    pub how: How,
    pub units: Units,
}

impl Seen<'_> {
    /// The picture of a surface of it, as the page shows it.
    pub fn picture(&self, of: &Surface) -> Result<String, Wrong> {
        data_url(of, for_page(self.panel, self.how.dpi)).map_err(Wrong::nowhere)
    }

    pub fn drawn(&self) -> Result<String, Wrong> {
        self.picture(self.panel.surface())
    }
}

/// What a page shows of a panel beside the panel itself.
pub trait Look: Serialize + Sized + 'static {
    /// What can be changed there.
    type Change: Edit + DeserializeOwned + Send + 'static;
    /// What of the maker's is told of beside the panel, once the hand rests.
    type Owned: Default + Send + 'static;

    /// Fetches that.
    async fn owned(_: &Store, _bench: Uuid) -> Result<Self::Owned, StoreError> {
        Ok(Self::Owned::default())
    }

    /// Looks.
    ///
    /// # Errors
    /// What is wrong with the panel.
    fn of(seen: &Seen, owned: &Self::Owned) -> Result<Self, Wrong>;
}

/// How it would come out.
#[derive(Serialize)]
struct Looked<L> {
    #[serde(serialize_with = "plain")]
    panel: Arc<Planned>,
    /// What the change is called where it can be taken back.
    #[serde(skip_serializing_if = "String::is_empty")]
    label: String,
    /// What is to be known of it.
    #[serde(skip_serializing_if = "Option::is_none")]
    says: Option<String>,
    #[serde(flatten)]
    look: L,
}

/// A planned panel in an answer: as its document.
fn plain<S: Serializer>(panel: &Planned, serializer: S) -> Result<S::Ok, S::Error> {
    Panel::serialize(panel, serializer)
}

/// Why a change was not made, and by which field.
#[derive(Serialize)]
pub struct Wrong {
    field: String,
    says: String,
}

impl Wrong {
    /// By no field at all.
    pub fn nowhere(error: impl std::fmt::Display) -> Wrong {
        Wrong { field: String::new(), says: error.to_string() }
    }
}

impl From<Refused> for Wrong {
    fn from(Refused { field, says }: Refused) -> Wrong {
        Wrong { field, says }
    }
}

/// All of a kind that the maker has.
pub async fn all<T: Thing>(store: &Store, bench: Uuid) -> Result<Vec<T>, StoreError> {
    Ok(store.all::<T>(bench).await?.into_iter().map(|kept| kept.value).collect())
}

/// Looks.
pub async fn look<L: Look>(
    caller: Caller,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    Read(asked): Read<LookAsked<L::Change>>,
) -> Result<HttpResponse, ApiProblem> {
    let (bench, units) = (caller.visitor.bench.id, caller.visitor.units());
    let at_hand = AtHand::of(&store, bench, asked.change.as_ref().map(|change| change as &dyn Edit)).await?;
    let owned = if asked.how.settled { L::owned(&store, bench).await? } else { L::Owned::default() };
    let asker = caller.visitor.asker().heavy_if(is_large(asked.how.dpi));
    let looked = room.done(&asker, move || {
        let looked: Looked<L> = looked(asked, &at_hand.has(units), &owned)?;
        serde_json::to_vec(&looked).map_err(Wrong::nowhere)
    });
    match looked.await? {
        Ok(look) => Ok(HttpResponse::Ok().content_type("application/json").body(look)),
        Err(Wrong { field, says }) if field.is_empty() => Err(Problem::Refused(sentence(&says)).into()),
        Err(Wrong { field, says }) => Ok(HttpResponse::Ok().json(Wrong { field, says: sentence(&says) })),
    }
}

/// The panel with the change made, as far as it can be, and what is seen of it.
fn looked<L: Look>(asked: LookAsked<L::Change>, has: &Has, owned: &L::Owned) -> Result<Looked<L>, Wrong> {
    let LookAsked { panel, change, mut how } = asked;
    let mut panel = planned(panel).map_err(Wrong::nowhere)?;
    let (mut label, mut says) = (String::new(), None);
    if let Some(change) = change {
        let edited = edited(Panel::clone(&panel), &change, has)?;
        how.blend = edited.blend.unwrap_or(how.blend);
        (panel, label, says) = (laid(edited.panel), edited.label, edited.says);
    }
    let look = L::of(&Seen { panel: &panel, how, units: has.units }, owned)?;
    Ok(Looked { panel, label, says, look })
}
