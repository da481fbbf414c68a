// The run sheet at the bench: steps are ticked off in their order, and kept.

import Alpine from "@alpinejs/csp";
import { keeper } from "./keeper.js";
import { measure } from "./measure.js";

Alpine.directive("measure", measure);

Alpine.data("sheet", () => ({
  ...keeper(document.querySelector("[data-panel]")),
  steps: 0,

  init() {
    this.steps = this.$el.querySelectorAll(".step").length;
    this.shown = this.planned();
    this.takeUp();
    // A maker who comes back with inky hands finds the step that is next.
    if (this.panel.done > 0) this.$nextTick(() => this.$el.querySelector(".is-next")?.scrollIntoView({ block: "center" }));
  },

  /** What the steps follow from. */
  planned() {
    const { moves, card, name, brushes } = this.panel;
    return JSON.stringify([moves, card, name, brushes]);
  },
  changed() {
    // Undo, or another tab, may bring other moves or another card: then the steps themselves are others.
    if (this.planned() !== this.shown) location.reload();
  },

  get progress() {
    const { done } = this.panel;
    if (done === 0) return "";
    return done >= this.steps ? "All done." : `Step ${done + 1} of ${this.steps} is next.`;
  },
  isDone(step) {
    return step < this.panel.done;
  },
  stepClass(step) {
    return { "is-done": step < this.panel.done, "is-next": this.panel.done > 0 && step === this.panel.done };
  },
  tick(step) {
    this.panel.done = step < this.panel.done ? step : step + 1;
    this.save(step < this.panel.done ? `step ${step + 1} done` : `step ${step + 1} not done`);
  },
}));

Alpine.start();
