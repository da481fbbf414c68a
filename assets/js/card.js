// The card's page: every field is tried by the program as soon as it is left. What can be made is kept and drawn; what
// cannot stays in its field with the reason beside it. No rule of the craft is here, and no measure is worked out.

import Alpine from "@alpinejs/csp";
import { ask, focusOn, keeper } from "./keeper.js";
import { looks } from "./looks.js";
import { measure } from "./measure.js";

Alpine.directive("measure", measure);

const EMPTY = {
  fields: {}, views: [], layers: [], says: [], pieces: [], base: "", post: "",
  inking: { says: "", tape: [] }, trim: { cuts: [], remedies: [] }, bulk: { thickness: "", stiffness: "", swaps: [] },
};
const WAYS = { all: "the same all round", sides: "left and right only", ends: "top and bottom only", each: "each edge by itself", found: "worked out from its size" };

const choices = JSON.parse(document.getElementById("choices").textContent);
const same = (one, other) => JSON.stringify(one) === JSON.stringify(other);

/** What stands in a document under a path such as `card.layers.0.width`. */
const at = (document, path) => path.split(".").reduce((value, key) => value?.[key], document);

/** How something is held, as a choice; and a choice as the program takes it. */
const mountOf = (mount) => (mount?.foam ? `foam ${mount.foam.layers}` : "glue");
const byOf = (choice) => (choice.startsWith("foam") ? { foam: Number(choice.split(" ")[1]) } : choice);

/** What is cut from the card that stands under a path. */
function cutFrom(path) {
  const layer = path.match(/layers\.(\d+)/)?.[1];
  return layer === undefined ? (path === "paper" ? "panel" : "base") : { layer: Number(layer) };
}

Alpine.data("card", () => ({
  ...keeper(document.querySelector("[data-panel]")),
  ...looks({ address: "/api/panels/card", kind: "card", joined: () => null, repeats: ["mat"] }),
  look: EMPTY,
  view: 0,
  /** Changes that do not go together yet with what is kept, each with its field and what stands in its way. */
  draft: [],
  /** What stands in the way of all of them and the latest. */
  clash: "",
  pointing: false,
  pointed: 0,
  /** Layers whose details are open, by their names. */
  open: {},

  init() {
    // Most cards and their measures are about six inches wide together.
    this.inches = 6;
    this.takeUp();
    this.changed();
    addEventListener("keydown", (event) => {
      if (event.key === "Escape") this.pointing = false;
    });
  },

  seen(look) {
    this.look = look;
    if (this.view >= look.views.length) this.view = 0;
    this.draw();
  },

  draw() {
    const view = this.look.views[this.view];
    if (!view) return;
    this.$refs.drawing.innerHTML = view.svg;
    for (const image of this.$refs.drawing.querySelectorAll("image")) image.setAttribute("href", this.look.picture);
  },

  /** Tries a change on top of what does not go together yet; where all of it cannot be made, on what is kept. */
  change(change, after) {
    const others = this.besides(change).map(({ change }) => change);
    this.make(others.length > 0 ? { together: [...others, change] } : change, { after });
  },
  /** What does not go together yet, but for what was written in the same field. */
  besides({ set }) {
    return this.draft.filter(({ field }) => field !== set?.at);
  },
  refuse({ field, says }, { card: change }) {
    this.fresh = [];
    if (change.together) {
      this.clash = says;
      this.make(change.together.at(-1));
      return true;
    }
    this.draft = [...this.besides(change), { change, field, says: this.clash || says }];
    this.clash = "";
    focusOn(() => document.getElementById(field) || document.querySelector(`[data-at="${field}"]`));
    return field !== "";
  },
  made(_, edit) {
    this.clash = "";
    if (edit?.card) this.draft = edit.card.together ? [] : this.besides(edit.card);
  },
  walk(method) {
    this.draft = [];
    return this.walkPanel(method);
  },
  /** What is wrong, by the field. */
  get wrong() {
    return Object.fromEntries(this.draft.map(({ field, says }) => [field, says]));
  },
  bad(path) {
    return Boolean(this.wrong[path]);
  },

  type(field) {
    const { at: path, kind } = field.dataset;
    const text = field.value.trim();
    if (kind === "paper") this.change({ paper: { of: cutFrom(path), paper: choices.papers[text]?.value ?? null } });
    else this.change({ set: { at: path, to: text } });
  },

  shown(path) {
    const written = this.draft.find(({ field }) => field === path)?.change.set?.to;
    if (written !== undefined) return written;
    // A name is the document's own; a length is as the maker reads it.
    const text = path === "name" ? this.panel.name : at(this.look.fields, path);
    // A layer that says nothing of how often it is laid is laid once.
    if (path.endsWith(".count") && text === undefined) return "1";
    return text === null || text === undefined || typeof text === "object" ? "" : String(text);
  },
  /** What stands in an empty field of a row: what was worked out. */
  found(row, field) {
    return row.found[field] || "";
  },
  take(remedy) {
    const title = document.activeElement?.closest("section")?.querySelector("[tabindex='-1']");
    this.takePanel(remedy.panel, remedy.says.toLowerCase());
    focusOn(title ? () => title : "#piece-title");
  },
  get gave() {
    return this.panel.gave || [];
  },
  noted() {
    this.change("noted");
    focusOn("#main h1");
  },

  // What is drawn.
  get views() {
    return this.look.views.map(({ name }, place) => ({ place, name, here: place === this.view }));
  },
  turnTo(place) {
    this.view = place;
    this.pointing = false;
    this.draw();
  },

  // The format.
  get formats() {
    const present = this.look.card?.format;
    return choices.formats.map((choice, key) => ({ key, says: choice.says, here: Boolean(present) && same(choice.value, present) }));
  },
  get foldNow() {
    return this.look.fields.card?.format.fold || "side";
  },
  get flaps() {
    return this.foldNow.startsWith("flaps");
  },
  chooseFormat(field) {
    if (field.value !== "") this.change({ format: choices.formats[field.value].value });
  },
  async makeAgain() {
    const format = choices.formats[this.$refs.again.value].value;
    try {
      const { panel } = await ask("POST", "/api/panels/card/again", { panel: this.panel, format });
      panel.name = `${panel.name.slice(0, 60)}, again`;
      const { id } = await ask("POST", "/api/panels", panel);
      location.assign(`/panels/${id}/card`);
    } catch (error) {
      this.tell(error.message);
    }
  },

  // Card stock and tools.
  papersOf(path) {
    const present = at({ ...this.panel, card: this.look.card }, path);
    const layer = /layers/.test(path);
    const known = choices.papers.map((choice, key) => ({ key: String(key), says: choice.says, here: same(choice.value, present) }));
    const other = { key: "", says: layer ? "the base's card" : present?.name || "", here: !known.some((choice) => choice.here) };
    return layer || other.here ? [other, ...known] : known;
  },
  get tools() {
    return choices.tools.map((choice, key) => ({ key, says: choice.says, here: same(choice.value, this.panel.tool) }));
  },
  chooseTool(field) {
    this.change({ tool: choices.tools[field.value].value });
  },

  // Layers.
  get layers() {
    const all = this.look.card?.layers || [];
    const rows = all.map((layer, place) => {
      const note = this.look.layers[place];
      const way = this.wayOf(layer);
      return {
        key: `${layer.name} ${all.slice(0, place).filter((other) => other.name === layer.name).length}`,
        place,
        open: Boolean(this.open[layer.name]),
        path: `card.layers.${place}`,
        name: layer.name,
        size: note.size,
        shows: note.shows === "none" ? "nothing shows beneath" : `shows ${note.shows}`,
        mat: layer.role !== "panel",
        top: place === all.length - 1,
        bottom: place === 0,
        ways: Object.entries(WAYS).map(([key, says]) => ({ key, says, here: key === way })),
        even: way === "all",
        each: way !== "all" && way !== "found",
        mount: mountOf(layer.mount),
        foam: Boolean(layer.mount?.foam),
        window: Boolean(layer.window),
        windowDo: layer.window ? "Close the window" : "Cut a window",
        windowSays: note.window || "",
        windowShape: layer.window?.shape || "rectangle",
        frameEven: typeof layer.window?.frame === "string",
        shapes: (layer.shapes || []).map((shaped, nth) => ({
          nth,
          layer: place,
          path: `card.layers.${place}.shapes.${nth}`,
          name: shaped.shape.name,
          back: shaped.back ? mountOf(shaped.back) : "nothing",
          found: {},
        })),
        found: { width: note.width, height: note.height, count: "worked out" },
      };
    });
    return rows.reverse();
  },
  wayOf({ reveal }) {
    if (typeof reveal === "string") return "all";
    const { left, right, top, bottom } = reveal || {};
    const given = [left, right, top, bottom].filter((edge) => edge !== undefined).length;
    if (given === 0) return "found";
    const none = (edge) => edge === "0 in";
    if (given === 4 && none(top) && none(bottom) && left === right) return "sides";
    if (given === 4 && none(left) && none(right) && top === bottom) return "ends";
    return "each";
  },
  reveal(layer, field) {
    this.change({ reveal: { layer: layer.place, way: field.value } });
  },
  opened(layer, details) {
    this.open = { ...this.open, [layer.name]: details.open };
  },
  hold(layer, field) {
    this.change({ hold: { what: { layer: layer.place }, by: byOf(field.value) } });
  },
  holdDieCut(field) {
    this.change({ hold: { what: "die-cut", by: byOf(field.value) } });
  },
  addMat() {
    const known = this.layers.map(({ name }) => name);
    this.change("mat", () => {
      const added = this.layers.find(({ name }) => !known.includes(name));
      if (added) this.open = { ...this.open, [added.name]: true };
    });
  },
  takeOff(layer) {
    this.change({ off: layer.place }, () => focusOn("#layers-title"));
  },
  swap(layer, way) {
    if (way === "up" ? layer.top : layer.bottom) return;
    this.change({ [way]: layer.place }, () => focusOn(`[data-does="${CSS.escape(`${layer.key} ${way}`)}"]`));
  },
  lift(layer) {
    this.swap(layer, "up");
  },
  drop(layer) {
    this.swap(layer, "down");
  },
  windowOf(layer) {
    this.change({ window: layer.place });
  },

  // Shapes cut through a layer.
  get shapes() {
    return choices.shapes.map(({ says, value }) => ({ key: value, says }));
  },
  get noShapes() {
    return choices.shapes.length === 0;
  },
  cutShape(layer, button) {
    const shape = button.closest("[data-cut]").querySelector("select").value;
    this.change({ cut: { layer: layer.place, shape } });
  },
  putBack(shape, field) {
    this.change({ hold: { what: { shape: [shape.layer, shape.nth] }, by: byOf(field.value) } });
  },
  keepShape(layer, shape) {
    this.change({ uncut: { layer: layer.place, shape: shape.nth } }, () => focusOn("#layers-title"));
  },

  get inkingRemedy() {
    return this.look.inking.remedy?.says || "";
  },

  // Features and the trim.
  get features() {
    return (this.panel.features || []).map((_, place) => ({
      place,
      path: `features.${place}`,
      pointed: this.pointing && this.pointed === place,
      found: { across: "not said" },
    }));
  },
  addFeature() {
    this.change("feature", () => this.startPointing(this.features.length - 1));
  },
  forget(place) {
    this.change({ forget: place }, () => focusOn("#trim-title"));
  },
  startPointing(place) {
    if (place < 0) return;
    this.turnTo(this.look.views.findIndex((view) => view.svg.includes("<image") && view !== this.look.views[0]));
    this.pointed = place;
    this.pointing = true;
    // The piece is what one points at: into view with it.
    focusOn(() => this.$refs.drawing);
  },
  point(event) {
    const svg = this.$refs.drawing.querySelector("svg");
    if (!this.pointing || !svg) return;
    const place = new DOMPoint(event.clientX, event.clientY).matrixTransform(svg.getScreenCTM().inverse());
    this.pointing = false;
    this.change({ point: { feature: this.pointed, left: place.x, top: place.y } });
  },
  get trims() {
    const trim = this.look.card?.trim || "even";
    const kept = trim.feature;
    const ways = [{ key: "even", says: "as much off each side as off the one across from it", here: !kept }];
    for (const [place, { name }] of (this.panel.features || []).entries()) {
      const here = kept?.feature === place;
      ways.push({ key: `${place} middle`, says: `so that ${name} stands in the middle`, here: here && !kept.at });
      ways.push({ key: `${place} own`, says: `so that ${name} stands at a place of its own`, here: here && Boolean(kept.at) });
    }
    return ways;
  },
  get ownPlace() {
    return Boolean(this.look.card?.trim?.feature?.at);
  },
  chooseTrim(field) {
    const [place, where] = field.value.split(" ");
    this.change({ trim: place === "even" ? "even" : { [where]: Number(place) } });
  },

  // A die cut on top.
  get dieCut() {
    return Boolean(this.look.card?.die_cut);
  },
  get dieMount() {
    return mountOf(this.look.card?.die_cut?.mount);
  },
  get dieFoam() {
    return Boolean(this.look.card?.die_cut?.mount?.foam);
  },
  addDieCut() {
    this.change("die-cut");
  },
  dropDieCut() {
    this.change("no-die-cut", () => focusOn("#thickness"));
  },
}));

Alpine.start();
