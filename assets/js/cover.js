// The things on a panel: words of their sentences and grips on the picture change them, the program answers with the
// picture and the sentences. No rule of the craft is here, and no measure is worked out.

import Alpine from "@alpinejs/csp";
import { focusOn, keeper } from "./keeper.js";
import { line, showWrong, tellAnew } from "./line.js";
import { measure } from "./measure.js";

Alpine.directive("measure", measure);

const SVG = "http://www.w3.org/2000/svg";
const ARROWS = { ArrowLeft: [-1, 0], ArrowUp: [0, -1], ArrowRight: [1, 0], ArrowDown: [0, 1] };

/** What two changes of one kind come to, where the second takes the place of the first or goes on from it. */
function joined(kind, was, is) {
  if (!kind.startsWith("window-") && (was?.thing === undefined || was.thing !== is.thing)) return null;
  switch (kind) {
    case "move":
    case "size":
    case "window-move":
    case "window-size":
      return is;
    case "window-nudge":
    case "nudge":
      return { ...is, right: was.right + is.right, down: was.down + is.down };
    case "window-grow":
    case "grow":
      return { ...is, by: was.by + is.by };
    default:
      return null;
  }
}

Alpine.data("cover", () => ({
  ...keeper(document.querySelector("[data-panel]")),
  ...line({ address: "/api/panels/cover", name: "things", joined }),
  picture: "",
  things: [],
  /** The paper window laid over it. */
  window: null,
  /** The thing that is taken hold of. */
  thing: 0,
  inches: 1,

  init() {
    const { ratio, inches } = this.$el.dataset;
    this.$el.style.setProperty("--ratio", ratio);
    this.inches = Number(inches);
    this.takeUp();
    this.changed();
    this.takeUpLine();
  },

  seen(look, { cell, after }) {
    [this.picture, this.things, this.window] = [look.picture, look.things, look.window];
    if (after) after();
    this.thing = Math.max(0, Math.min(this.thing, look.things.length - 1));
    if (look.told !== undefined) tellAnew(this.$refs.told, look.told, (element) => this.keyOf(element), cell);
    if (look.says) this.tell(look.says);
    this.drawOutlines();
  },

  keyOf(element) {
    const { thing, set, deed, way } = element.dataset;
    if (set) return `[data-thing="${thing}"][data-set="${set}"]`;
    if (way) return `[data-way="${way}"]`;
    if (deed) return `[data-thing="${thing}"][data-deed="${deed}"]`;
    return null;
  },

  /** What was written stays, with what is wrong with it beside it. */
  refuse({ field, says }) {
    const [thing, set] = [field.slice(0, field.indexOf("-")), field.slice(field.indexOf("-") + 1)];
    const wrong = this.$refs.told.querySelector(`[data-wrong="${thing}"]`);
    const input = this.$refs.told.querySelector(`[data-thing="${thing}"][data-set="${set}"]`);
    if (!showWrong(wrong, input, says)) this.tell(says);
  },

  drawOutlines() {
    const shapes = this.things.flatMap((thing, place) =>
      ["rim-under", "rim"].map((kind) => {
        const path = document.createElementNS(SVG, "path");
        path.setAttribute("d", thing.outline);
        path.setAttribute("class", place === this.thing ? `${kind} chosen` : kind);
        return path;
      }),
    );
    if (this.window) {
      const pane = document.createElementNS(SVG, "path");
      pane.setAttribute("d", `M-1-1H1001V1001H-1Z${this.window.outline}`);
      pane.setAttribute("class", "pane");
      shapes.push(pane);
    }
    this.$refs.outlines.replaceChildren(...shapes);
  },

  name(place) {
    return this.things[place]?.name ?? "";
  },

  // Words

  word(event) {
    const { thing, set } = event.target.dataset;
    if (!set) return;
    const place = Number(thing);
    const to = event.target.type === "checkbox" ? (event.target.checked ? "on" : "off") : event.target.value;
    this.wish({ change: { set: { thing: place, what: set, to } }, label: `change the ${this.name(place)}`, settled: true });
  },
  deed(event) {
    const button = event.target.closest("[data-deed]");
    if (!button) return;
    const place = Number(button.dataset.thing);
    const name = this.name(place);
    switch (button.dataset.deed) {
      case "forward":
        return this.wish({ change: { forward: place }, label: `bring the ${name} forward`, settled: true, cell: `[data-thing="${place - 1}"][data-deed="forward"]`, after: () => (this.thing = place - 1) });
      case "behind":
        return this.wish({ change: { behind: place }, label: `put the ${name} behind`, settled: true, cell: `[data-thing="${place + 1}"][data-deed="behind"]`, after: () => (this.thing = place + 1) });
      case "remove":
        return this.wish({ change: { remove: place }, label: `take the ${name} away`, settled: true, after: () => focusOn("[data-add]") });
      case "shadow":
      case "glow":
        return this.wish({ change: { [button.dataset.deed]: place }, label: `${button.textContent.trim().toLowerCase()}: ${name}`, settled: true, cell: `[data-thing="${place + 1}"][data-set="name"]`, after: () => (this.thing = place + 1) });
      case "again":
        return this.wish({ change: { again: place }, label: `go over the ${name} once more`, settled: true, cell: '[data-thing="0"][data-set="name"]', after: () => (this.thing = 0) });
      case "parts":
      case "steps": {
        const count = Math.round(Number(button.parentElement.querySelector("[data-count]").value)) || 0;
        return this.wish({ change: { [button.dataset.deed]: { thing: place, count: Math.max(0, Math.min(99, count)) } }, label: button.dataset.deed === "parts" ? `tape the ${name} into parts` : `step the ${name} down`, settled: true, cell: `[data-thing="${place}"][data-set="name"]` });
      }
      case "through":
      case "fewer": {
        const more = button.dataset.deed === "through";
        return this.wish({ change: { [button.dataset.deed]: place }, label: `the ${name} through one ink ${more ? "more" : "fewer"}`, settled: true });
      }
      case "skim":
        return this.wish({ change: { skim: place }, label: `raise the ${name} and skim it`, settled: true });
      case "best":
        return this.wish({ change: { best: place }, label: `put the ${name} where it reads best`, settled: true });
      case "trap":
        return this.wish({ change: { trap: null }, label: "trap the colour under powder", settled: true });
      case "cover":
        return this.wish({ change: { cover: button.dataset.way }, label: "make it another way", settled: true });
    }
  },
  meet(event) {
    const { thing } = event.target.dataset;
    if (thing !== undefined) this.turnTo(Number(thing));
  },
  get windowSays() {
    return this.window ? `The ${this.window.name} shows what you would cut out. Move it until you like it; the run sheet says where it lies.` : "";
  },
  layWindow() {
    this.wish({ change: { window: this.$refs.pane.value }, label: "lay a paper window over it", settled: true, after: () => focusOn("[data-grip=pane]") });
  },
  liftWindow() {
    this.wish({ change: { window: null }, label: "take the window away", settled: true, after: () => focusOn("[data-window]") });
  },
  tint() {
    this.wish({ change: { tint: null }, label: "tint all of it after", settled: true, cell: '[data-thing="0"][data-set="name"]', after: () => (this.thing = 0) });
  },
  add() {
    const chosen = this.$refs.fresh.selectedOptions[0];
    const change = "kept" in chosen.dataset ? { bring: chosen.value } : { add: chosen.value };
    this.thing = 0;
    this.wish({ change, label: `put ${chosen.textContent} in front`, settled: true, cell: '[data-thing="0"][data-set="name"]' });
  },

  // Grips

  turnTo(place) {
    if (this.thing === place) return;
    this.thing = place;
    this.drawOutlines();
  },
  get grips() {
    const middles = this.things.map((thing, place) => ({
      key: `middle ${place}`,
      thing: place,
      kind: place === this.thing ? "middle chosen" : "middle",
      label: `The ${thing.name}: move it`,
      style: { left: `${thing.left}%`, top: `${thing.top}%` },
    }));
    const corner = (of) => ({ left: `${Math.min(100, of.right)}%`, top: `${Math.min(100, of.bottom)}%` });
    if (this.window) {
      const { left, top, name } = this.window;
      return [
        { key: "pane", kind: "middle chosen", label: `The window, ${name}: move it`, style: { left: `${left}%`, top: `${top}%` } },
        { key: "pane size", kind: "size", label: `The window, ${name}: larger or smaller`, style: corner(this.window) },
      ];
    }
    const own = this.things[this.thing];
    if (!own) return middles;
    const style = corner(own);
    return [...middles, { key: "size", thing: this.thing, kind: "size", label: `The ${own.name}: larger or smaller`, style }];
  },
  hold(event, grip) {
    event.preventDefault();
    event.target.focus({ preventScroll: true });
    const target = event.target;
    target.setPointerCapture(event.pointerId);
    const box = this.$refs.picture.getBoundingClientRect();
    const isPane = grip.key.startsWith("pane");
    const label = isPane ? "move the window" : grip.kind === "size" ? `make the ${this.name(grip.thing)} another size` : `move the ${this.name(grip.thing)}`;
    const begun = isPane ? this.window : this.things[grip.thing];
    // From where it was taken hold of, so that it does not jump under the finger.
    const off = grip.kind === "size" ? [0, 0] : [event.clientX - box.left - (begun.left / 100) * box.width, event.clientY - box.top - (begun.top / 100) * box.height];
    const place = (now) => ({
      across: (now.clientX - box.left - off[0]) / box.width,
      down: (now.clientY - box.top - off[1]) / box.height,
    });
    const kind = grip.kind === "size" ? "size" : "move";
    const change = (now) => (isPane ? { [`window-${kind}`]: place(now) } : { [kind]: { thing: grip.thing, ...place(now) } });
    let last = null;
    const drag = (now) => {
      last = change(now);
      this.wish({ change: last, settled: false });
    };
    const drop = () => {
      target.removeEventListener("pointermove", drag);
      if (last) this.wish({ change: last, label, settled: true });
    };
    target.addEventListener("pointermove", drag);
    target.addEventListener("pointerup", drop, { once: true });
    target.addEventListener("pointercancel", drop, { once: true });
  },
  nudge(event, grip) {
    const [right, down] = ARROWS[event.key] ?? [0, 0];
    if (!right && !down) return;
    event.preventDefault();
    if (grip.key === "pane") {
      this.wish({ change: { "window-nudge": { right, down } }, label: "move the window", settled: true });
    } else if (grip.key === "pane size") {
      this.wish({ change: { "window-grow": { by: right - down } }, label: "make the window another size", settled: true });
    } else if (grip.kind === "size") {
      this.wish({ change: { grow: { thing: grip.thing, by: right - down } }, label: `make the ${this.name(grip.thing)} another size`, settled: true });
    } else {
      this.wish({ change: { nudge: { thing: grip.thing, right, down } }, label: `move the ${this.name(grip.thing)}`, settled: true });
    }
  },
}));

Alpine.start();
