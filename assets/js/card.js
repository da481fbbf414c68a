// The card's page: every field is tried by the program as soon as it is left. What can be made is kept and drawn; what
// cannot stays in its field with the reason beside it. No rule of the craft is here.

import Alpine from "@alpinejs/csp";
import { ask, focusOn, keeper } from "./keeper.js";
import { measure } from "./measure.js";

Alpine.directive("measure", measure);

const RETRY_MS = 2500;
const EMPTY = {
  fields: {}, views: [], layers: [], says: [], pieces: [], base: "", post: "",
  inking: { says: "", tape: [] }, trim: { cuts: [], remedies: [] }, bulk: { thickness: "", stiffness: "", swaps: [] },
};
const WAYS = { all: "the same all round", sides: "left and right only", ends: "top and bottom only", each: "each edge by itself", found: "worked out from its size" };

const unit = document.querySelector('meta[name="rosy-unit"]').content;
const choices = JSON.parse(document.getElementById("choices").textContent);
const clone = (value) => JSON.parse(JSON.stringify(value));
const same = (one, other) => JSON.stringify(one) === JSON.stringify(other);

/** What stands in a document under a path such as `card.layers.0.width`. */
const at = (document, path) => path.split(".").reduce((value, key) => value?.[key], document);

/** Puts a value under a path, or takes what is there out where there is none. */
function put(document, path, value) {
  const keys = path.split(".");
  const last = keys.pop();
  let inner = document;
  for (const key of keys) {
    if (typeof inner[key] !== "object" || inner[key] === null) inner[key] = {};
    inner = inner[key];
  }
  if (value === undefined) delete inner[last];
  else inner[last] = value;
}

/** How something is held, as a choice. */
const mountOf = (mount) => (mount?.foam ? `foam ${mount.foam.layers}` : "glue");

/** A field's text as a document holds it. */
function written(kind, text) {
  if (kind === "length") return text === "" ? undefined : /[a-z"″]/i.test(text) ? text : `${text} ${unit}`;
  if (kind === "count") return text === "" ? null : /^\d+$/.test(text) ? Number(text) : text;
  if (kind === "thickness") return text === "" ? undefined : /[a-z"″]/i.test(text) ? text : `${text} ${unit}`;
  if (kind === "paper") return text === "" ? undefined : choices.papers[text].value;
  return text;
}

Alpine.data("card", () => ({
  ...keeper(document.querySelector("[data-panel]")),
  look: EMPTY,
  view: 0,
  /** What is wrong, and what was written, by the field. */
  wrong: {},
  typed: {},
  /** The panel with changes that do not go together yet; none where all is kept. */
  draft: null,
  /** Changes are tried one after the other. */
  line: Promise.resolve(),
  pointing: false,
  pointed: 0,
  /** Layers whose details are open, by their names. */
  open: {},

  init() {
    this.takeUp();
    this.changed();
    addEventListener("keydown", (event) => {
      if (event.key === "Escape") this.pointing = false;
    });
  },

  changed() {
    // What was just kept is what is shown: there is nothing to ask, and what does not go together yet stays.
    if (same(this.panel, this.look.panel)) return;
    this.draft = null;
    this.wrong = {};
    this.line = this.line.then(async () => {
      try {
        this.see(await this.asked(this.panel));
      } catch (error) {
        if (!error.away) this.tell(error.message);
        else setTimeout(() => this.changed(), RETRY_MS);
      }
    });
  },

  asked(panel) {
    const wide = this.$refs.drawing.clientWidth || 480;
    // Most cards and their measures are about six inches wide together.
    const dpi = Math.max(40, Math.min(150, (wide / 6) * Math.min(devicePixelRatio, 1.5)));
    // A piece of another size: the program carries the blend and the features to it.
    const { piece = {}, ...rest } = panel;
    return ask("POST", "/api/panels/card", { panel: rest, piece, dpi });
  },

  see(look) {
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

  /**
   * Tries a change: on top of what does not go together yet, else on what is kept. Kept if the program can make it.
   * `path` is the field that will say why not.
   */
  change(path, label, edit, text) {
    this.typed = { ...this.typed, [path]: text };
    this.line = this.line.then(() => this.tried(path, label, edit));
    return this.line;
  },

  async tried(path, label, edit) {
    let said = "";
    let first = null;
    for (const from of this.draft ? [this.draft, this.panel] : [this.panel]) {
      const tried = clone(from);
      // What has to do with the card writes it down; the rest leaves it to be worked out.
      if (/^card/.test(path)) tried.card ??= clone(this.look.card);
      edit(tried);
      first ??= tried;
      try {
        const look = await this.asked(tried);
        this.wrong = from === this.draft || !this.draft ? {} : { ...this.wrong, [path]: undefined };
        if (from === this.draft) this.draft = null;
        this.panel = look.panel;
        this.see(look);
        this.save(label);
        return;
      } catch (error) {
        if (error.away && !tried.piece) {
          // It waits in this browser, and the program says then whether it can be made.
          this.panel = tried;
          this.save(label);
          return;
        }
        if (error.away) {
          this.status = "not kept yet, trying again…";
          this.statusClass = "waiting";
          await new Promise((done) => setTimeout(done, RETRY_MS));
          return this.tried(path, label, edit);
        }
        said ||= error.message;
      }
    }
    this.draft = first;
    this.wrong = { ...this.wrong, [path]: said };
    focusOn(() => document.getElementById(path) || document.querySelector(`[data-at="${path}"]`));
  },

  type(field) {
    const { at: path, kind } = field.dataset;
    const text = field.value.trim();
    const name = field.labels?.[0]?.textContent.toLowerCase() || "the card";
    this.change(path, `set ${name}`, (panel) => put(panel, path, written(kind, text)), text);
  },

  shown(path) {
    if (this.wrong[path] && this.typed[path] !== undefined) return this.typed[path];
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
  bad(path) {
    return Boolean(this.wrong[path]);
  },
  take(remedy, focus = "#piece-title") {
    const at = document.activeElement?.closest("section")?.querySelector("[tabindex='-1']");
    this.change("card", remedy.says.toLowerCase(), (panel) => Object.assign(panel, clone(remedy.panel))).then(() =>
      focusOn(at ? () => at : focus),
    );
  },
  get gave() {
    return this.panel.gave || [];
  },
  noted() {
    this.change("gave", "take note of what had to give", (panel) => delete panel.gave);
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
  async chooseFormat(field) {
    if (field.value === "") return;
    const format = choices.formats[field.value].value;
    try {
      const { panel } = await ask("POST", "/api/panels/card/again", { panel: this.panel, format });
      await this.change("card.format", `make it ${format.name}`, (tried) => Object.assign(tried, panel));
    } catch (error) {
      this.tell(error.message);
    }
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
    const present = at({ ...this.look.panel, card: this.look.card }, path);
    const layer = /layers/.test(path);
    const known = choices.papers.map((choice, key) => ({ key: String(key), says: choice.says, here: same(choice.value, present) }));
    const other = { key: "", says: layer ? "the base's card" : present?.name || "", here: !known.some((choice) => choice.here) };
    return layer || other.here ? [other, ...known] : known;
  },
  get tools() {
    return choices.tools.map((choice, key) => ({ key, says: choice.says, here: same(choice.value, this.panel.tool) }));
  },
  chooseTool(field) {
    this.change("tool", "choose the tool", (panel) => (panel.tool = choices.tools[field.value].value));
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
          path: `card.layers.${place}.shapes.${nth}`,
          name: shaped.shape.name,
          back: shaped.back ? mountOf(shaped.back) : "window",
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
    const { left, right, top, bottom } = this.look.layers[layer.place].reveal;
    const none = "0 in";
    const some = [left, top, right, bottom].find((edge) => edge !== none) || (unit === "in" ? "1/8 in" : "3 mm");
    const reveal = {
      all: some,
      sides: { left: some, right: some, top: none, bottom: none },
      ends: { left: none, right: none, top: some, bottom: some },
      each: { left, right, top, bottom },
      found: {},
    }[field.value];
    this.change(layer.path, `set what shows under ${layer.name}`, (panel) => {
      const changed = panel.card.layers[layer.place];
      changed.reveal = reveal;
      // A size that is given stays only where the reveal is what follows from it.
      if (field.value === "found") [changed.width, changed.height] = this.look.layers[layer.place].exact;
      else for (const side of ["width", "height"]) delete changed[side];
    });
  },
  opened(layer, details) {
    this.open = { ...this.open, [layer.name]: details.open };
  },
  /** Glue, or foam as thick as it was or is usual. */
  hold(path, field) {
    const [how, layers] = field.value.split(" ");
    this.change(path, "choose how it is held", (panel) => {
      const thick = at(panel, path)?.foam?.thick || "1 mm";
      put(panel, path, how === "glue" ? "glue" : { foam: { thick, layers: Number(layers) } });
    });
  },
  addMat() {
    const reveal = unit === "in" ? "1/16 in" : "2 mm";
    this.change("card.layers", "add a mat", (panel) => {
      const layers = panel.card.layers;
      const under = layers.findIndex((layer) => layer.role === "panel");
      const names = layers.map((layer) => layer.name);
      let name = "Mat";
      for (let n = 2; names.includes(name); n++) name = `Mat ${n}`;
      this.open = { ...this.open, [name]: true };
      layers.splice(under, 0, { name, reveal });
    });
  },
  takeOff(layer) {
    this.change(layer.path, `take ${layer.name} off`, (panel) => panel.card.layers.splice(layer.place, 1)).then(() =>
      focusOn("#layers-title"),
    );
  },
  swap(layer, other, way) {
    if (other < 0 || other >= this.look.card.layers.length) return;
    this.change(layer.path, `move ${layer.name}`, ({ card: { layers } }) => {
      [layers[layer.place], layers[other]] = [layers[other], layers[layer.place]];
    }).then(() => focusOn(`[data-does="${CSS.escape(`${layer.key} ${way}`)}"]`));
  },
  lift(layer) {
    this.swap(layer, layer.place + 1, "up");
  },
  drop(layer) {
    this.swap(layer, layer.place - 1, "down");
  },
  windowOf(layer) {
    this.change(layer.path, layer.windowDo.toLowerCase(), (panel) => {
      const changed = panel.card.layers[layer.place];
      if (changed.window) delete changed.window;
      else changed.window = { shape: "rectangle", frame: unit === "in" ? "1/2 in" : "12 mm" };
    });
  },

  // Shapes cut through a layer.
  get shapes() {
    return choices.shapes.map(([{ says }], key) => ({ key, says }));
  },
  get noShapes() {
    return choices.shapes.length === 0;
  },
  cutShape(layer, button) {
    const [{ value }, [wide, high]] = choices.shapes[button.closest("[data-cut]").querySelector("select").value];
    const { middle, large } = this.look.layers[layer.place];
    // No larger than leaves some of the layer round it.
    const share = Math.min(1, (0.8 * large[0]) / wide, (0.8 * large[1]) / high);
    const shape = { ...clone(value), percent: Math.max(5, Math.floor((value.percent || 100) * share)) };
    this.change(layer.path, `cut the ${shape.name} out of ${layer.name}`, (panel) => {
      const changed = panel.card.layers[layer.place];
      changed.shapes = [...(changed.shapes || []), { shape, at: middle }];
    });
  },
  putBack(shape, field) {
    const [how, layers] = field.value.split(" ");
    this.change(shape.path, `choose what becomes of the ${shape.name}`, (panel) => {
      const shaped = at(panel, shape.path);
      if (how === "window") delete shaped.back;
      else shaped.back = how === "glue" ? "glue" : { foam: { thick: shaped.back?.foam?.thick || "1 mm", layers: Number(layers) } };
    });
  },
  keepShape(layer, shape) {
    this.change(layer.path, `do not cut the ${shape.name}`, (panel) => {
      const changed = panel.card.layers[layer.place];
      changed.shapes.splice(shape.nth, 1);
      if (changed.shapes.length === 0) delete changed.shapes;
    }).then(() => focusOn("#layers-title"));
  },

  get inkingRemedy() {
    return this.look.inking.remedy?.says || "";
  },

  // Features and the trim.
  get features() {
    return (this.look.panel?.features || []).map((_, place) => ({
      place,
      path: `features.${place}`,
      pointed: this.pointing && this.pointed === place,
      found: { across: "not said" },
    }));
  },
  addFeature() {
    this.change("features", "mark a feature", (panel) => {
      panel.features ??= [];
      panel.features.push({ name: `Feature ${panel.features.length + 1}`, at: this.look.middle });
    }).then(() => this.startPointing((this.panel.features || []).length - 1));
  },
  forget(place) {
    this.change(`features.${place}`, "take a feature out", (panel) => {
      panel.features.splice(place, 1);
      if (panel.card) panel.card.trim = "even";
    }).then(() => focusOn("#trim-title"));
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
    const mark = (mm) => (unit === "in" ? `${Math.max(0, Math.round((mm / 25.4) * 16))}/16 in` : `${Math.max(0, Math.round(mm))} mm`);
    this.pointing = false;
    this.change(`features.${this.pointed}`, "point at a feature", (panel) => {
      panel.features[this.pointed].at = { left: mark(place.x), top: mark(place.y) };
    });
  },
  get trims() {
    const trim = this.look.card?.trim || "even";
    const kept = trim.feature;
    const ways = [{ key: "even", says: "as much off each side as off the one across from it", here: !kept }];
    for (const [place, { name }] of (this.look.panel?.features || []).entries()) {
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
    this.change("card.trim", "choose the trim", (panel) => {
      if (place === "even") panel.card.trim = "even";
      else {
        const feature = { feature: Number(place) };
        if (where === "own") feature.at = this.look.trim.at || panel.features[Number(place)].at;
        panel.card.trim = { feature };
      }
    });
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
    const side = unit === "in" ? "2 in" : "50 mm";
    this.change("card.die_cut", "add a die cut", (panel) => {
      panel.card.die_cut = { name: "Shape on top", width: side, height: side, tiers: 2, thickness: "0.3 mm" };
    });
  },
  dropDieCut() {
    this.change("card.die_cut", "take the die cut off", (panel) => delete panel.card.die_cut).then(() =>
      focusOn("#thickness"),
    );
  },
}));

Alpine.start();
