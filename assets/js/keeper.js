// Keeps a panel: saves each change, waits where the program does not answer, walks undo and redo.
// What is not kept yet also lies in this browser, so that nothing is lost with the page.

const token = () => document.querySelector('meta[name="rosy-token"]').content;

/** Asks the program; an answer that refuses or never comes is thrown as an Error with what to say. */
export async function ask(method, address, body) {
  const sent = { method, headers: { "x-rosy-token": token(), "content-type": "application/json" } };
  if (body !== undefined) sent.body = typeof body === "string" ? body : JSON.stringify(body);
  let answer;
  try {
    answer = await fetch(address, sent);
  } catch {
    throw Object.assign(new Error("The program does not answer."), { away: true });
  }
  const said = await answer.json().catch(() => ({}));
  if (answer.ok) return said;
  throw Object.assign(new Error(said.detail || "The program refused this."), {
    away: answer.status >= 500,
    stale: answer.status === 403,
    said,
  });
}

const RETRY_MS = 2500;

/** What every page of a panel has: its state, and a line of saves. */
export function keeper(root) {
  const id = root.dataset.panel;
  const state = JSON.parse(document.getElementById("state").textContent);
  const shelf = `rosy-veil panel ${id}`;
  return {
    id,
    panel: state.panel,
    kept: { revision: state.revision, undo: state.undo, redo: state.redo },
    status: "kept",
    statusClass: "",
    notice: "",
    beside: "",
    waiting: null,
    busy: false,

    /** Takes up what an earlier page could not save. */
    takeUp() {
      const left = localStorage.getItem(shelf);
      if (!left) return;
      this.waiting = JSON.parse(left);
      this.notice = "A change from before had not been kept yet. It is being kept now.";
      if (this.waiting.body.panel) this.panel = this.waiting.body.panel;
      this.send();
    },

    /** Keeps the panel as it stands, under a label for undo. */
    save(label) {
      this.put({ address: `/api/panels/${id}`, body: { label, panel: this.panel } });
    },

    put(change) {
      change.body.revision = this.kept.revision;
      // As it is now: the panel may change again before this is sent.
      const written = JSON.stringify(change);
      this.waiting = JSON.parse(written);
      localStorage.setItem(shelf, written);
      this.status = "keeping…";
      if (!this.busy) this.send();
    },

    async send() {
      const change = this.waiting;
      if (!change) return;
      this.busy = true;
      try {
        const state = await ask("PUT", change.address, change.body);
        this.busy = false;
        if (this.waiting === change) {
          this.done();
          this.show(state);
        } else {
          this.kept.revision = this.waiting.body.revision = state.revision;
          this.send();
        }
      } catch (error) {
        this.busy = false;
        if (error.away || error.stale) {
          this.status = error.stale ? "not kept: reload the page" : "not kept yet, trying again…";
          this.statusClass = "waiting";
          setTimeout(() => this.send(), RETRY_MS);
        } else if (error.said.beside) {
          this.done();
          this.notice = error.message;
          this.beside = `/panels/${error.said.beside}/blend`;
          this.show(await ask("GET", `/api/panels/${id}`));
        } else {
          this.done();
          this.notice = error.message;
          this.show(await ask("GET", `/api/panels/${id}`));
        }
      }
    },

    done() {
      this.waiting = null;
      localStorage.removeItem(shelf);
      this.status = "kept";
      this.statusClass = "";
    },

    /** Shows a state the program has answered with. */
    show(state) {
      this.panel = state.panel;
      this.kept = { revision: state.revision, undo: state.undo, redo: state.redo };
      this.changed();
    },

    async walk(method) {
      if (this.waiting) return;
      try {
        this.show(await ask(method, `/api/panels/${id}/undo`));
      } catch (error) {
        this.notice = error.message;
      }
    },
    undo() {
      return this.walk("POST");
    },
    redo() {
      return this.walk("DELETE");
    },
    dismiss() {
      this.notice = "";
      this.beside = "";
    },
  };
}
