// Choosing a panel's inks: each choice is kept, in the order it was made, and the picture follows.

import Alpine from "@alpinejs/csp";
import { ask, focusOn, keeper } from "./keeper.js";
import { measure } from "./measure.js";

Alpine.directive("measure", measure);

const EMPTY = { picture: "", junctions: [], hills: { hills: [] } };
const MOST = 5;

Alpine.data("inks", () => ({
  ...keeper(document.querySelector("[data-panel]")),
  look: EMPTY,
  turn: 0,
  /** The blend they are chosen for. */
  blend: Number(new URLSearchParams(location.search).get("blend") ?? 0) || 0,
  /** The inks as they are to stand: places on the panel as it is kept, or inks of the drawer. */
  wished: null,

  init() {
    this.takeUp();
    this.changed();
  },

  async changed() {
    this.wished = null;
    // Answers may overtake one another: only the last one asked for counts.
    const turn = ++this.turn;
    if (this.panel.inks.length === 0) {
      this.look = EMPTY;
      return;
    }
    try {
      const look = await ask("POST", "/api/panels/look", { panel: this.panel, blend: this.blend, dpi: 80, settled: false });
      if (turn === this.turn) this.look = look;
    } catch (error) {
      this.tell(error.message);
    }
  },

  /** The places of the blend's inks among the panel's, in the order they stand. */
  get own() {
    return (this.panel.scene.ground[this.blend]?.fields ?? []).map((field) => field.ink);
  },

  get rows() {
    const own = this.own;
    const last = own.length - 1;
    const joins = this.look.junctions.filter((join) => !join.crossing);
    return own.map((of, place) => {
      const ink = this.panel.inks[of];
      const join = place < last ? joins[place] : undefined;
      return {
        key: `${place} ${ink.name}`,
        place,
        name: ink.name,
        kind: ink.kind,
        last: place === last,
        dot: { background: this.look.hills.hills[place]?.colour || "transparent" },
        upLabel: `Move ${ink.name} up`,
        downLabel: `Move ${ink.name} down`,
        backLabel: `Put ${ink.name} back`,
        upKey: `${ink.name} up`,
        downKey: `${ink.name} down`,
        meets: Boolean(join),
        meetsNamed: join?.named,
        meetsDot: { background: join?.colour },
        verdict: join?.verdict,
      };
    });
  },

  /** Chooses on top of what has been chosen already, kept or not yet. */
  choose(label, edit) {
    const wished = edit(this.wished ?? this.own);
    if (!wished) return;
    this.wished = wished;
    this.put({ address: `/api/panels/${this.id}/inks`, body: { inks: wished, blend: this.blend, label } });
  },
  /** What waits was chosen on the panel before the last change: it has been written down anew. */
  made() {
    const next = this.waiting.at(-1)?.body.inks;
    if (next) this.wished = next;
  },

  take(id, name) {
    this.dismissQuietly();
    this.choose(`take ${name}`, (inks) => {
      if (inks.length < MOST) return [...inks, id];
      this.tell("A blend takes two to five inks: put one back before taking another.");
      return null;
    });
  },
  dismissQuietly() {
    this.notice = "";
    this.beside = "";
  },
  putBack(place) {
    if (this.wished) return;
    const name = this.panel.inks[this.own[place]].name;
    this.choose(`put ${name} back`, (inks) => inks.filter((_, at) => at !== place));
    focusOn("#chosen-title");
  },
  swap(place, other, way) {
    if (this.wished || other < 0 || other >= this.own.length) return;
    const name = this.panel.inks[this.own[place]].name;
    this.choose(`move ${name}`, (inks) => {
      const moved = [...inks];
      [moved[place], moved[other]] = [moved[other], moved[place]];
      return moved;
    });
    this.focusLater = `[data-move="${CSS.escape(`${name} ${way}`)}"]`;
    const wait = () => (this.wished ? setTimeout(wait, 40) : focusOn(this.focusLater));
    wait();
  },
  up(place) {
    this.swap(place, place - 1, "up");
  },
  down(place) {
    this.swap(place, place + 1, "down");
  },
}));

Alpine.start();
