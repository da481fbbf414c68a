//! One ink of the drawer: its name, kind and swatches, and the panels that have it as it was before.

use actix_web::{HttpResponse, web};
use askama::Template;
use rosy_core::Panel;
use rosy_core::ink::{Ink, Kind, Paper};
use rosy_store::{Change, Kept, Scope, Store};
use serde::Deserialize;
use uuid::Uuid;

use super::{Frame, page, refused, saving, see};
use crate::error::{PageProblem, Problem, sentence};
use crate::files::{COLOUR, FULL_VEILS, KIND, NAME, ON_INK, ONE_VEIL, ink_from};
use crate::meets::{Threads, threads};
use crate::say::veil_strip;
use crate::visitor::{Nothing, Sent, Visitor};
use crate::workroom::Workroom;
use rosy_core::colour::written;

/// Most inks whose meetings with one are shown on its page.
const MOST_THREADS: usize = 400;

#[derive(Template)]
#[template(path = "ink.html")]
struct InkPage {
    frame: Frame,
    id: Option<String>,
    form: InkForm,
    kinds: [Kind; 3],
    strip: Option<String>,
    /// What is wrong, and with which field.
    wrong: Option<(&'static str, String)>,
    /// What it makes with the others of the drawer, as it is kept.
    threads: Vec<Threads>,
    /// Panels that have this ink as it was before.
    stale: Vec<(String, String)>,
    /// The name it had when they were made.
    was: String,
}

/// The fields of the page as texts.
#[derive(Clone, Default, Deserialize)]
#[serde(default)]
pub struct InkForm {
    name: String,
    kind: String,
    colour: String,
    one_veil: String,
    full_veils: String,
    on_ink: String,
    /// The panel it is wanted on, where its maker came from there.
    panel: String,
}

/// The fields by the columns of [`ink_from`].
const FIELDS: [&str; 6] = ["name", "kind", "colour", "one_veil", "full_veils", "on_ink"];

impl InkForm {
    fn of(ink: &Ink) -> InkForm {
        InkForm {
            name: ink.name.to_string(),
            kind: ink.kind.to_string(),
            colour: written::write(ink.colour),
            one_veil: ink.one_veil.map(written::write).unwrap_or_default(),
            full_veils: ink.full_veils.to_string(),
            on_ink: ink.on_ink.map(|share| share.to_string()).unwrap_or_default(),
            panel: String::new(),
        }
    }

    fn text(&self, column: usize) -> &str {
        match column {
            NAME => &self.name,
            KIND => &self.kind,
            COLOUR => &self.colour,
            ONE_VEIL => &self.one_veil,
            FULL_VEILS => &self.full_veils,
            ON_INK => &self.on_ink,
            _ => "",
        }
    }

    /// The ink, or the field that says what is wrong.
    pub fn read(&self) -> Result<Ink, (&'static str, String)> {
        ink_from(|column| self.text(column).trim()).map_err(|(column, says)| (FIELDS[column], says))
    }

    /// Where its maker goes on once it is kept.
    fn onward(&self, kept: Uuid) -> String {
        match self.panel.parse::<Uuid>() {
            Ok(panel) => format!("/panels/{panel}/inks"),
            Err(_) => format!("/drawer?kept={kept}"),
        }
    }
}

impl InkPage {
    fn wrong_with(&self, field: &str) -> Option<&str> {
        self.wrong.as_ref().filter(|(known, _)| *known == field).map(|(_, says)| says.as_str())
    }

    fn of(
        visitor: &Visitor,
        id: Option<Uuid>,
        form: InkForm,
        wrong: Option<(&'static str, String)>,
    ) -> InkPage {
        let strip = form.read().ok().map(|ink| veil_strip(&ink, "strip"));
        let wrong = wrong.map(|(field, says)| (field, sentence(&says)));
        InkPage {
            frame: Frame::of(visitor),
            id: id.map(|id| id.to_string()),
            form,
            kinds: Kind::ALL,
            strip,
            wrong,
            threads: Vec::new(),
            stale: Vec::new(),
            was: String::new(),
        }
    }

    /// Where `Back` leads.
    fn back(&self) -> String {
        match self.form.panel.parse::<Uuid>() {
            Ok(panel) => format!("/panels/{panel}/inks"),
            Err(_) => "/drawer".into(),
        }
    }
}

/// Panels with an ink of this name and kind that is not as the drawer has it now.
async fn stale(store: &Store, bench: Uuid, ink: &Ink, was: &str) -> Result<Vec<Kept<Panel>>, Problem> {
    let mut panels = store.all::<Panel>(bench).await?;
    panels.retain(|kept| kept.value.inks.iter().any(|other| is_stale(other, ink, was)));
    Ok(panels)
}

fn is_stale(other: &Ink, ink: &Ink, was: &str) -> bool {
    other != ink && other.kind == ink.kind && (other.name == ink.name || other.name.as_str() == was)
}

/// Which panel an ink is wanted on, or what it was called before.
#[derive(Default, Deserialize)]
#[serde(default)]
pub struct From {
    panel: String,
    was: String,
}

/// `GET /drawer/inks/new`.
pub async fn blank(visitor: Visitor, from: web::Query<From>) -> Result<HttpResponse, PageProblem> {
    let form = InkForm {
        kind: "dye".into(),
        full_veils: "7".into(),
        panel: from.panel.clone(),
        ..InkForm::default()
    };
    page(&InkPage::of(&visitor, None, form, None))
}

/// `GET /drawer/inks/{id}`.
pub async fn show(
    visitor: Visitor,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    id: web::Path<Uuid>,
    from: web::Query<From>,
) -> Result<HttpResponse, PageProblem> {
    let ink = store.one::<Ink>(visitor.bench.id, *id).await?.value;
    let stale = stale(&store, visitor.bench.id, &ink, &from.was).await?;
    let stale = stale.into_iter().map(|kept| (kept.id.to_string(), kept.value.name.to_string())).collect();
    let shown = InkPage::of(&visitor, Some(*id), InkForm::of(&ink), None);
    let bench = visitor.bench.id;
    let drawer: Vec<Ink> =
        store.all::<Ink>(bench).await?.into_iter().map(|kept| kept.value).take(MOST_THREADS).collect();
    let card = store.all::<Paper>(bench).await?.into_iter().next_back().map(|kept| kept.value);
    let threads = room.done(visitor.asker(), move || threads(&ink, &drawer, card.as_ref())).await?;
    page(&InkPage { stale, threads, was: from.was.clone(), ..shown })
}

/// `POST /drawer/inks`.
pub async fn add(sent: Sent<InkForm>, store: web::Data<Store>) -> Result<HttpResponse, PageProblem> {
    let (visitor, form) = (sent.visitor, sent.form);
    match form.read() {
        Ok(ink) => {
            let id = Uuid::now_v7();
            let change = vec![Change::add(id, &ink)?];
            store.change(visitor.bench.id, Scope::Drawer, &format!("add {}", ink.name), change).await?;
            Ok(see(form.onward(id)))
        }
        Err(wrong) => refused(&InkPage::of(&visitor, None, form, Some(wrong))),
    }
}

/// `POST /drawer/inks/{id}`: keeps it; where panels have it as it was, on to what that means for them.
pub async fn save(
    sent: Sent<InkForm>,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let (visitor, form) = (sent.visitor, sent.form);
    let ink = match form.read() {
        Ok(ink) => ink,
        Err(wrong) => return refused(&InkPage::of(&visitor, Some(*id), form, Some(wrong))),
    };
    let bench = visitor.bench.id;
    let Kept { value: before, .. } = store.one::<Ink>(bench, *id).await?;
    if before != ink {
        let change = vec![Change::replace(*id, &before, &ink)?];
        store.change(bench, Scope::Drawer, &format!("change {}", before.name), change).await?;
        if !stale(&store, bench, &ink, before.name.as_str()).await?.is_empty() {
            let was: String = before.name.as_str().bytes().map(|b| format!("%{b:02X}")).collect();
            return Ok(see(format!("/drawer/inks/{}?was={was}#panels", *id)));
        }
    }
    Ok(see(form.onward(*id)))
}

/// `POST /drawer/inks/{id}/spread`: the panels that have it as it was get it as it is, each as a change of its own.
pub async fn spread(
    sent: Sent<From>,
    store: web::Data<Store>,
    room: web::Data<Workroom>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let (bench, was) = (sent.visitor.bench.id, sent.form.was.clone());
    let ink = store.one::<Ink>(bench, *id).await?.value;
    let label = format!("change {} as in the drawer", ink.name);
    for kept in stale(&store, bench, &ink, &was).await? {
        let read = store.panel(bench, kept.id).await?;
        let (ink, was) = (ink.clone(), was.clone());
        let change = move |mut panel: Panel| {
            let stale = panel.inks.iter_mut().filter(|other| is_stale(other, &ink, &was));
            stale.for_each(|other| *other = ink.clone());
            Ok(panel.laid())
        };
        saving(&sent.visitor, &store, &room, kept.id).change(&read, change, &label).await?;
    }
    Ok(see(format!("/drawer?kept={}", *id)))
}

/// `POST /drawer/inks/{id}/remove`.
pub async fn remove(
    sent: Sent<Nothing>,
    store: web::Data<Store>,
    id: web::Path<Uuid>,
) -> Result<HttpResponse, PageProblem> {
    let bench = sent.visitor.bench.id;
    let Kept { value: ink, .. } = store.one::<Ink>(bench, *id).await?;
    let change = vec![Change::remove(*id, &ink)?];
    store.change(bench, Scope::Drawer, &format!("remove {}", ink.name), change).await?;
    Ok(see("/drawer"))
}
