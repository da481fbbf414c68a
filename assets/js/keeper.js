// Keeps a panel: saves each change, waits where the program does not answer, walks undo and redo.
// What is not kept yet also lies in this browser, by bench and panel, so that nothing is lost with the page.

const meta = (name) => document.querySelector(`meta[name="rosy-${name}"]`).content;

/** Characters, or bytes of a picture, that a browser sends on while its page is left, however many such are under way. */
const LITTLE = 2000;

/** Asks the program; an answer that refuses or never comes is thrown as an Error with what to say. */
export async function ask(method, address, body) {
  const sent = { method, headers: { "x-rosy-token": meta("token"), "content-type": "application/json" } };
  if (body !== undefined) sent.body = typeof body === "string" || body instanceof Blob ? body : JSON.stringify(body);
  // What is little goes through though the page is left, as browsers allow; what is more waits in the browser's own store instead.
  sent.keepalive = (sent.body?.size ?? sent.body?.length ?? 0) < LITTLE;
  let answer;
  try {
    answer = await fetch(address, sent);
  } catch {
    throw Object.assign(new Error("The program does not answer."), { away: true });
  }
  const said = await answer.json().catch(() => ({}));
  if (answer.ok) return said;
  throw Object.assign(new Error(said.detail || "The program refused this."), {
    away: answer.status >= 500 || answer.status === 408,
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

/** How long a page that is being left may still hold what is its own. */
const LEAVES_MS = 1500;
const stored = (key) => JSON.parse(localStorage.getItem(key) ?? "[]");

/**
 * Changes that have still to be made: they lie in this browser under a name and outlive the page. Each page has a shelf of its
 * own; what lies on that of a page which is gone is taken up by the next, and by one only.
 */
export function unmade(name) {
  const own = `${name} ${crypto.randomUUID()}`;
  const others = [];
  // Held as long as the page lives; one that is being left lets go in a moment.
  const isFree = (key) =>
    new Promise((tell) => {
      const held = () => (tell(true), new Promise(() => {}));
      navigator.locks.request(key, { signal: AbortSignal.timeout(LEAVES_MS) }, held).catch(() => tell(false));
    });
  const held = isFree(own);
  return {
    async left() {
      await held;
      const known = Object.keys(localStorage).filter((key) => key === name || (key !== own && key.startsWith(`${name} `)));
      for (const key of known) if (await isFree(key)) others.push(key);
      return others.flatMap(stored);
    },
    /** Once they lie on this page's own shelf. */
    taken() {
      for (const key of others.splice(0)) localStorage.removeItem(key);
    },
    keep(line) {
      const changes = line.filter((wish) => wish.change && (wish.kept || wish.label));
      if (changes.length > 0) localStorage.setItem(own, JSON.stringify(changes));
      else localStorage.removeItem(own);
    },
  };
}

const RETRY_MS = 2500;
const clone = (value) => JSON.parse(JSON.stringify(value));

/** What every page of a panel has: its state, and a line of saves. */
export function keeper(root) {
  const id = root.dataset.panel;
  const state = JSON.parse(document.getElementById("state").textContent);
  const shelf = `rosy-veil bench ${meta("bench")} panel ${id}`;
  return {
    id,
    shelf,
    panel: state.panel,
    kept: { revision: state.revision, undo: state.undo, redo: state.redo, panel: clone(state.panel) },
    status: "kept",
    statusClass: "",
    notice: "",
    beside: "",
    stale: false,
    waiting: null,
    busy: false,

    /** Takes up what an earlier page could not save. */
    takeUp() {
      const left = localStorage.getItem(shelf);
      if (!left) return;
      this.waiting = JSON.parse(left);
      this.tell("A change from before had not been kept yet. It is being kept now.");
      // One from before the program learnt to write panels as it does now is kept, but cannot be shown.
      if (this.waiting.body.panel?.scene) this.panel = this.waiting.body.panel;
      this.send();
    },

    /** Says something at the head of the page, and brings it into view. */
    tell(says, beside = "") {
      this.notice = says;
      this.beside = beside;
      this.$nextTick(() => this.$refs.notice?.scrollIntoView({ block: "nearest" }));
    },

    /** Keeps the panel as it stands, under a label for undo. */
    save(label) {
      this.put({ address: `/api/panels/${id}`, body: { label, panel: this.panel } });
    },

    /** Puts a change in line. One that is under way is not disturbed; of those that wait the latest counts, as it holds all. */
    put(change) {
      Object.assign(change.body, { revision: this.kept.revision, base: this.kept.panel, mark: crypto.randomUUID() });
      // As it is now: the panel may change again before this is sent.
      this.wait(JSON.parse(JSON.stringify(change)));
      this.status = "keeping…";
      if (!this.busy) this.send();
    },

    wait(change) {
      this.waiting = change;
      localStorage.setItem(shelf, JSON.stringify(change));
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
          // What came in meanwhile goes on from here. It was made upon what has just been sent, which is not what is kept
          // where another tab's change was merged in: that is its base, or it would take that change back.
          this.takeOver(state);
          const next = this.waiting;
          this.onto(next, change);
          const made = next.body.panel && change.body.panel;
          Object.assign(
            next.body,
            made
              ? { revision: change.body.revision + 1, base: change.body.panel }
              : { revision: state.revision, base: this.kept.panel },
          );
          this.wait(next);
          this.send();
        }
        if (state.said) this.tell(state.said);
      } catch (error) {
        this.busy = false;
        if (error.away || error.stale) {
          if (error.stale) return this.goStale();
          this.status = "not kept yet, trying again…";
          this.statusClass = "waiting";
          setTimeout(() => this.send(), RETRY_MS);
        } else {
          this.done();
          this.tell(error.message, error.said?.beside ? `/panels/${error.said.beside}/blend` : "");
          this.show(error.said?.state || (await ask("GET", `/api/panels/${id}`)));
        }
      }
    },

    /** Whether a change has still to be made before it can be kept. */
    isPending: () => false,

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
      this.status = this.waiting || this.isPending() ? "keeping…" : "kept";
      this.statusClass = "";
    },

    /** Makes a change that waits fit the one that was kept before it: pages that send more than the panel say how. */
    onto() {},

    reload() {
      location.reload();
    },

    done() {
      this.waiting = null;
      localStorage.removeItem(shelf);
      this.settle();
    },

    takeOver(state) {
      this.kept = { revision: state.revision, undo: state.undo, redo: state.redo, panel: clone(state.panel) };
    },

    /** Shows a state the program has answered with. */
    show(state) {
      this.panel = state.panel;
      this.takeOver(state);
      this.changed();
    },

    async walk(method) {
      if (this.waiting || this.isPending()) return;
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
