// Choosing a panel's inks: each choice is kept at once, and the picture follows.

import Alpine from "@alpinejs/csp";
import { ask, keeper } from "./keeper.js";

const EMPTY = { picture: "", junctions: [], hills: { hills: [] } };

Alpine.data("inks", () => ({
  ...keeper(document.querySelector("[data-panel]")),
  look: EMPTY,
  turn: 0,

  init() {
    this.takeUp();
    this.changed();
  },

  async changed() {
    // Answers may overtake one another: only the last one asked for counts.
    const turn = ++this.turn;
    if (this.panel.inks.length === 0) {
      this.look = EMPTY;
      return;
    }
    try {
      const look = await ask("POST", "/api/panels/look", { panel: this.panel, dpi: 80, settled: false });
      if (turn === this.turn) this.look = look;
    } catch (error) {
      this.notice = error.message;
    }
  },

  get rows() {
    const last = this.panel.inks.length - 1;
    return this.panel.inks.map((ink, place) => {
      const join = place < last ? this.look.junctions[place] : undefined;
      return {
        place,
        name: ink.name,
        kind: ink.kind,
        last: place === last,
        dot: { background: this.look.hills.hills[place]?.colour || "transparent" },
        upLabel: `Move ${ink.name} up`,
        downLabel: `Move ${ink.name} down`,
        backLabel: `Put ${ink.name} back`,
        meets: Boolean(join),
        meetsNamed: join?.named,
        meetsDot: { background: join?.colour },
        verdict: join?.verdict,
      };
    });
  },

  choose(inks, label) {
    this.put({ address: `/api/panels/${this.id}/inks`, body: { inks, label } });
  },
  get places() {
    return this.panel.inks.map((_, place) => place);
  },
  take(id, name) {
    if (this.waiting) return;
    this.dismiss();
    this.choose([...this.places, id], `take ${name}`);
  },
  putBack(place) {
    if (this.waiting) return;
    this.choose(this.places.filter((other) => other !== place), `put ${this.panel.inks[place].name} back`);
  },
  swap(place, other) {
    if (this.waiting) return;
    const places = this.places;
    [places[place], places[other]] = [places[other], places[place]];
    this.choose(places, `move ${this.panel.inks[place].name}`);
  },
  up(place) {
    this.swap(place, place - 1);
  },
  down(place) {
    this.swap(place, place + 1);
  },
}));

Alpine.start();
