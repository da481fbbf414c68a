// The things on a panel: words of their sentences and grips on the picture change them, the program answers with the
// picture and the sentences. No rule of the craft is here, and no measure is worked out.

import Alpine from "@alpinejs/csp";
import { focusOn, keeper } from "./keeper.js";
import { arrow, follow, shares } from "./grips.js";
import { looks, showWrong, tellAnew, together } from "./looks.js";
import { measure } from "./measure.js";

Alpine.directive("measure", measure);

const SVG = "http://www.w3.org/2000/svg";

/** What two changes of one kind come to, where the second takes the place of the first or goes on from it. */
function sum(kind, was, is) {
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
  ...looks({ address: "/api/panels/cover", kind: "cover", joined: (was, is) => together(was, is, sum) }),
  picture: "",
  things: [],
  /** The paper window laid over it. */
  window: null,
  /** The thing that is taken hold of. */
  thing: 0,

  init() {
    this.begin();
  },

  seen(look, { cell }) {
    [this.picture, this.things, this.window] = [look.picture, look.things, look.window];
    this.thing = Math.max(0, Math.min(this.thing, look.things.length - 1));
    if (look.told !== undefined) tellAnew(this.$refs.told, look.told, (element) => this.keyOf(element), cell);
    this.drawOutlines();
  },

  keyOf(element) {
    const { thing, set, deed, way, what, step } = element.dataset;
    if (set) return `[data-thing="${thing}"][data-set="${set}"]`;
    if (way) return `[data-way="${way}"]`;
    if (step) return `[data-thing="${thing}"][data-what="${what}"][data-step="${step}"]`;
    if (deed) return `[data-thing="${thing}"][data-deed="${deed}"]`;
    return null;
  },

  /** What was written stays, with what is wrong with it beside it. */
  isWrong(field, says) {
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

  word({ target }) {
    const { thing, set } = target.dataset;
    if (!set) return;
    const to = target.type === "checkbox" ? (target.checked ? "on" : "off") : target.value;
    this.make({ set: { thing: Number(thing), what: set, to } });
  },
  deed({ target }) {
    const button = target.closest("[data-deed]");
    if (!button) return;
    const { deed, way } = button.dataset;
    const place = Number(button.dataset.thing);
    /** The focus on a thing's word or deed, which is then the one taken hold of. */
    const on = (thing, word = '[data-set="name"]') => ({ cell: `[data-thing="${thing}"]${word}`, after: () => this.turnTo(thing) });
    switch (deed) {
      case "forward":
        return this.make({ forward: place }, on(place - 1, '[data-deed="forward"]'));
      case "behind":
        return this.make({ behind: place }, on(place + 1, '[data-deed="behind"]'));
      case "remove":
        return this.make({ remove: place }, { after: () => focusOn("[data-add]") });
      case "shadow":
      case "glow":
        return this.make({ [deed]: place }, on(place + 1));
      case "again":
        return this.make({ again: place }, on(0));
      case "parts":
      case "steps": {
        const count = Math.round(Number(button.parentElement.querySelector("[data-count]").value)) || 0;
        return this.make({ [deed]: { thing: place, count: Math.max(0, Math.min(99, count)) } }, on(place));
      }
      case "more": {
        const asked = button.parentElement;
        const count = Math.max(1, Math.min(99, Math.round(Number(asked.querySelector("[data-count]").value)) || 1));
        return this.make({ more: { thing: place, count, lie: asked.querySelector("[data-lie]").value } }, on(place));
      }
      case "set":
        return this.make({ set: { thing: place, what: button.dataset.what, to: button.dataset.to } });
      case "leave":
        return this.make({ leave: { thing: place, blend: Number(button.dataset.blend) } });
      case "trap":
        return this.make({ trap: null });
      case "cover":
        return this.make({ cover: way });
      default:
        return this.make({ [deed]: place });
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
    this.make({ window: this.$refs.pane.value }, { after: () => focusOn("[data-grip=pane]") });
  },
  liftWindow() {
    this.make({ window: null }, { after: () => focusOn("[data-window]") });
  },
  tint() {
    this.make({ tint: null }, { cell: '[data-thing="0"][data-set="name"]', after: () => this.turnTo(0) });
  },
  add() {
    const chosen = this.$refs.fresh.selectedOptions[0];
    this.thing = 0;
    this.make({ ["kept" in chosen.dataset ? "bring" : "add"]: chosen.value }, { cell: '[data-thing="0"][data-set="name"]' });
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
    const isPane = grip.key.startsWith("pane");
    const begun = isPane ? this.window : this.things[grip.thing];
    const at = shares(this.$refs.picture);
    // From where it was taken hold of, so that it does not jump under the finger.
    const { across, down } = at(event, [begun.left / 100, begun.top / 100]);
    const off = grip.kind === "size" ? [0, 0] : [across, down];
    const kind = grip.kind === "size" ? "size" : "move";
    const change = (now) => (isPane ? { [`window-${kind}`]: at(now, off) } : { [kind]: { thing: grip.thing, ...at(now, off) } });
    follow(event, change, (change, kept) => (kept ? this.make(change) : this.attempt(change)));
  },
  nudge(event, grip) {
    const by = arrow(event);
    if (!by) return;
    const [right, down] = by;
    if (grip.key === "pane") this.make({ "window-nudge": { right, down } });
    else if (grip.key === "pane size") this.make({ "window-grow": { by: right - down } });
    else if (grip.kind === "size") this.make({ grow: { thing: grip.thing, by: right - down } });
    else this.make({ nudge: { thing: grip.thing, right, down } });
  },
}));

Alpine.start();
