//! A panel saved: what is wanted is planned, and what two tabs changed is merged, where everything heavy is reckoned; the store
//! only keeps what comes of it.

use std::fmt::Display;
use std::sync::Arc;

use rosy_core::Panel;
use rosy_core::document::Document;
use rosy_core::merge::merged;
use rosy_core::planned::Planned;
use rosy_store::{PanelState, Save, Saved, Store};
use uuid::Uuid;

use crate::error::{Problem, sentence};
use crate::plans;
use crate::workroom::{Asker, Workroom};

/// Where a panel is saved, and on whose behalf.
pub struct Saving<'a> {
    /// What keeps it.
    pub store: &'a Store,
    /// What plans it.
    pub room: &'a Workroom,
    /// Who asks for it.
    pub asker: &'a Asker,
    /// On which bench it is.
    pub bench: Uuid,
    /// Its number.
    pub id: Uuid,
}

impl Saving<'_> {
    /// Something that is reckoned of panels, and may be refused.
    ///
    /// # Errors
    /// With the remedy.
    pub async fn reckoned<T: Send + 'static, E: Display + Send + 'static>(
        &self,
        work: impl FnOnce() -> Result<T, E> + Send + 'static,
    ) -> Result<T, Problem> {
        let done = self.room.done(self.asker, work).await?;
        done.map_err(|error| Problem::Refused(sentence(&error.to_string())))
    }

    /// A document planned.
    ///
    /// # Errors
    /// Where it cannot be laid, with the remedy.
    pub async fn planned(&self, document: Document) -> Result<Arc<Planned>, Problem> {
        // What is known already waits for no turn.
        match plans::known(&document) {
            Some(planned) => Ok(planned),
            None => self.reckoned(move || plans::planned(document)).await,
        }
    }

    /// Keeps a panel that is planned.
    ///
    /// # Errors
    /// Where the bench has no such panel, or the database does not answer.
    pub async fn keep(&self, save: Save<'_>) -> Result<Saved, Problem> {
        let merge = async |panels: [&Panel; 3]| {
            let [base, one, other] = panels.map(Panel::clone);
            self.room.done(self.asker, move || merged(&base, &one, &other)).await
        };
        self.store.save_panel::<Problem>(self.bench, self.id, save, merge).await
    }

    /// Lays a panel that a form changed, and keeps it in the place of the one that has just been read. An order of the maker's
    /// own stays as far as it can.
    ///
    /// # Errors
    /// Where it cannot be laid, with the remedy, or is not kept.
    pub async fn change(
        &self,
        read: &PanelState,
        change: impl FnOnce(Panel) -> Result<Panel, String> + Send + 'static,
        label: &str,
    ) -> Result<Saved, Problem> {
        let before = read.panel.clone();
        self.change_steps(read, move |panel| Ok(change(panel)?.in_the_order_of(&before)), label).await
    }

    /// The same where the steps themselves are what is changed.
    ///
    /// # Errors
    /// Where it cannot be laid, with the remedy, or is not kept.
    pub async fn change_steps(
        &self,
        read: &PanelState,
        change: impl FnOnce(Panel) -> Result<Panel, String> + Send + 'static,
        label: &str,
    ) -> Result<Saved, Problem> {
        let before = read.panel.clone();
        let changed = self.reckoned(move || {
            let panel = change(before)?;
            panel.check().map(|()| panel).map_err(|error| error.to_string())
        });
        let panel = changed.await?;
        let save =
            Save { revision: read.revision, base: Some(&read.panel), panel: &panel, label, mark: None };
        self.keep(save).await
    }
}
