// Where to begin: each wish is drawn by the program in the maker's own inks; the one that is picked is kept.

import Alpine from "@alpinejs/csp";
import { ask, keeper } from "./keeper.js";
import { measure } from "./measure.js";

Alpine.directive("measure", measure);

Alpine.data("wishes", () => ({
  ...keeper(document.querySelector("[data-panel]")),
  offered: [],
  drawing: true,
  picked: false,

  async init() {
    this.takeUp();
    try {
      this.offered = await ask("POST", "/api/panels/wishes", { panel: this.panel });
    } catch (error) {
      this.tell(error.message);
    }
    this.drawing = false;
  },

  begin(wish) {
    this.picked = true;
    this.panel = wish.panel;
    this.save(`begin with ${wish.name.toLowerCase()}`);
  },
  /** Once the wish is kept the blend page shows it, where it is bent. */
  changed() {
    if (this.picked && !this.drawing) location.assign(`/panels/${this.id}/blend`);
  },
}));

Alpine.start();
