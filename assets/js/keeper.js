// Keeps a panel: sends each change as it is made, waits where the program does not answer, walks undo and redo.

import { shelf } from "./shelf.js";

const meta = (name) => document.querySelector(`meta[name="rosy-${name}"]`).content;

/** Characters, or bytes of a picture, that a browser sends on while its page is left, however many such are under way. */
const LITTLE = 2000;

/** Asks the program; an answer that refuses or never comes is thrown as an Error with what to say. */
export async function ask(method, address, body, signal) {
  const sent = { method, signal, headers: { "x-rosy-token": meta("token"), "content-type": "application/json" } };
  if (body !== undefined) sent.body = typeof body === "string" || body instanceof Blob ? body : JSON.stringify(body);
  // What is little goes through though the page is left, as browsers allow; what is more waits in the browser's own store instead.
  sent.keepalive = (sent.body?.size ?? sent.body?.length ?? 0) < LITTLE;
  let answer;
  try {
    answer = await fetch(address, sent);
  } catch {
    throw Object.assign(new Error("The program does not answer."), { isUnreachable: !signal?.aborted });
  }
  const said = await answer.json().catch(() => ({}));
  if (signal?.aborted) throw new Error("It is not waited for any more.");
  if (answer.ok) return said;
  throw Object.assign(new Error(said.detail || "The program refused this."), {
    isUnreachable: answer.status >= 500 || answer.status === 408,
    stale: answer.status === 403,
    said,
  });
}

/** Puts the focus where a change was made, once it is there; brings it into view. */
export function focusOn(find) {
  requestAnimationFrame(() => {
    const found = typeof find === "string" ? document.querySelector(find) : find();
    found?.focus({ preventScroll: true });
    found?.scrollIntoView({ block: "nearest" });
  });
}

const RETRY_MS = 2500;
const plain = (value) => JSON.parse(JSON.stringify(value));

/** Inks that were chosen on a panel before a choice of inks was kept: their places are now those of that choice. */
function chosenOn(panel, { inks, blend = 0 }, before) {
  const fields = panel.scene.ground[blend]?.fields ?? [];
  const now = (ink) => fields[before.indexOf(ink)]?.ink ?? ink;
  return inks.map(now);
}

/** What every page of a panel has: its state, and a line of what has still to be kept. */
export function keeper(root) {
  const id = root.dataset.panel;
  const state = JSON.parse(document.getElementById("state").textContent);
  const lies = shelf(`rosy-veil bench ${meta("bench")} panel ${id}`);
  return {
    id,
    panel: state.panel,
    kept: { revision: state.revision, undo: state.undo, redo: state.redo, panel: plain(state.panel) },
    status: "kept",
    statusClass: "",
    notice: "",
    beside: "",
    stale: false,
    /** What has still to be kept; the first of it is being sent. */
    waiting: [],
    busy: false,
    takingUp: false,

    /** Takes up what an earlier page could not keep. */
    async takeUp() {
      this.takingUp = true;
      try {
        const left = await lies.left();
        if (left.length > 0) this.tell("A change from before had not been kept yet. It is being kept now.");
        this.waiting.push(...left.map((change) => ({ address: `/api/panels/${id}/edit`, ...change })));
        this.putBy();
        lies.taken();
        const shown = this.waiting.findLast(({ body }) => body.panel)?.body.panel;
        // One from before the program learnt to write panels as it does now is kept, but cannot be shown.
        if (shown?.scene) this.panel = plain(shown);
      } finally {
        this.takingUp = false;
        this.settle();
      }
      this.send();
    },
    putBy() {
      lies.put(this.kept, this.waiting);
    },

    /** Says something at the head of the page, and brings it into view. */
    tell(says, beside = "") {
      this.notice = says;
      this.beside = beside;
      this.$nextTick(() => this.$refs.notice?.scrollIntoView({ block: "nearest" }));
    },

    /** Makes a change that the program works out. */
    edit(edit) {
      const last = this.waiting.at(-1);
      const both = last?.body.edit && !this.isSent(last) && this.joins(last.body.edit, edit);
      if (both) last.body.edit = both;
      else this.waiting.push({ address: `/api/panels/${id}/edit`, body: { mark: crypto.randomUUID(), edit } });
      this.hurry();
    },
    /** Keeps the panel as it stands, under a label for undo. */
    save(label) {
      this.put({ address: `/api/panels/${id}`, body: { label, panel: this.panel } });
    },
    /** Keeps what is made on the whole panel. Of such that wait the latest counts, as it holds all. */
    put({ address, body }) {
      const last = this.waiting.at(-1);
      const replaces = last && !last.body.edit && !this.isSent(last);
      const { revision, base } = replaces
        ? last.body
        : { revision: this.kept.revision, base: last?.body.panel ?? this.kept.panel };
      if (replaces) this.waiting.pop();
      // As it is now: the panel may change again before this is sent.
      this.waiting.push({ address, body: plain({ ...body, revision, base, mark: crypto.randomUUID() }) });
      this.hurry();
    },
    isSent(change) {
      return this.busy && this.waiting[0] === change;
    },
    hurry() {
      this.putBy();
      this.status = "keeping…";
      if (!this.takingUp) this.send();
    },

    async send() {
      const change = this.waiting[0];
      if (!change || this.busy || this.stale) return;
      this.busy = true;
      const { address, body } = change;
      const sent = body.edit ? { revision: this.kept.revision, ...body } : body;
      const [state, error] = await ask("PUT", address, sent).then((state) => [state], (error) => [null, error]);
      this.busy = false;
      if (error?.stale) return this.goStale();
      if (error?.isUnreachable) {
        this.status = "not kept yet, trying again…";
        this.statusClass = "waiting";
        setTimeout(() => this.send(), RETRY_MS);
        return;
      }
      if (error?.said.wants === "base") {
        Object.assign(body, { revision: this.kept.revision, base: this.kept.panel });
        return this.send();
      }
      this.waiting.shift();
      if (error) await this.isRefused(error, body.edit);
      else this.isKept(state, body);
      if (this.waiting.length > 0) this.send();
    },
    isKept(state, body) {
      this.takeOver(state);
      const next = this.waiting[0];
      if (next && !next.body.edit) {
        // It was made upon what has just been sent, which is not what is kept where another tab's change was merged in: that is
        // its base, or it would take that change back.
        if (next.body.panel && body.panel) Object.assign(next.body, { revision: body.revision + 1, base: body.panel });
        else if (next.body.inks && body.inks) {
          const inks = chosenOn(this.kept.panel, next.body, body.inks);
          Object.assign(next.body, { inks, revision: state.revision, base: this.kept.panel });
        }
      }
      this.putBy();
      this.settle();
      // A whole panel that waits is what is shown.
      if (!this.waiting.some(({ body }) => body.panel)) this.panel = state.panel;
      this.made(state, body.edit);
      if (this.waiting.length === 0) this.changed();
      if (state.said) this.tell(state.said);
    },
    async isRefused(error, edit) {
      this.putBy();
      this.settle();
      if (edit && this.refuse({ field: error.said?.field ?? "", says: error.message }, edit)) return;
      this.tell(error.message, error.said?.beside ? `/panels/${error.said.beside}/blend` : "");
      const state = error.said?.state ?? (await ask("GET", `/api/panels/${id}`).catch(() => null));
      if (state) this.show(state);
    },

    /** Whether a change has still to be kept. */
    isPending() {
      return this.takingUp || this.waiting.length > 0;
    },

    /** The page can keep nothing any more; what waits lies in this browser. */
    goStale() {
      this.stale = true;
      this.status = "not kept: reload the page";
      this.statusClass = "waiting";
      this.tell("This page was opened too long ago to keep anything. Reload it: your last change waits in this browser and is kept then.");
    },

    /** Says whether all is kept. */
    settle() {
      if (this.stale) return;
      this.status = this.isPending() ? "keeping…" : "kept";
      this.statusClass = "";
    },

    /** What two changes in a row come to; nothing where each is made by itself. */
    joins: () => null,
    /** A change has been made and is kept. */
    made() {},
    /** What was written is refused, by its field; whether that is told there. */
    refuse: () => false,

    reload() {
      location.reload();
    },

    takeOver(state) {
      this.kept = { revision: state.revision, undo: state.undo, redo: state.redo, panel: plain(state.panel) };
    },

    /** Shows a state the program has answered with. */
    show(state) {
      this.panel = state.panel;
      this.takeOver(state);
      this.changed();
    },

    walk(method) {
      return this.walkPanel(method);
    },
    async walkPanel(method) {
      if (this.isPending()) return;
      try {
        this.show(await ask(method, `/api/panels/${id}/undo`));
      } catch (error) {
        this.tell(error.message);
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
      focusOn("#main h1");
    },
  };
}
