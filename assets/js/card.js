// The card's page: its fields are a plain form; undo and redo walk the panel's changes and show them.

import Alpine from "@alpinejs/csp";
import { keeper } from "./keeper.js";

Alpine.data("card", () => ({
  ...keeper(document.querySelector("[data-panel]")),

  init() {
    this.takeUp();
  },
  changed() {
    location.reload();
  },
}));

Alpine.start();
