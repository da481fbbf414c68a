// The blend under the hand: handles and numbers change the plan, the program answers with the picture
// and what there is to say. No rule of the craft is here.

import Alpine from "@alpinejs/csp";
import { ask, focusOn, keeper } from "./keeper.js";
import { measure } from "./measure.js";

Alpine.directive("measure", measure);

const MEASURES = ["starts", "full_from", "full_to", "ends"];
const LETTERS = /[a-z"″]/i;
const WORDS = { starts: "starts", full_from: "full from", full_to: "full to", ends: "ends" };
const SVG = "http://www.w3.org/2000/svg";

Alpine.data("blend", () => ({
  ...keeper(document.querySelector("[data-panel]")),
  look: { picture: "", inks: [], junctions: [], hills: { hills: [], most: 7 }, colours_seen: [] },
  schools: [],
  order: { present: "", present_says: "", other: null },
  /** What is wrong with a field, by the field. */
  wrong: {},
  asking: false,
  again: null,
  inches: 1,

  init() {
    const { ratio, inches, stepInches } = this.$el.dataset;
    this.$el.style.setProperty("--ratio", ratio);
    this.inches = Number(inches);
    this.stepInches = Number(stepInches);
    addEventListener("resize", () => this.arrange());
    this.takeUp();
    this.changed();
  },

  changed() {
    this.see(true);
  },

  /** Asks how the panel as it stands would look; while one answer is awaited only the latest wish is kept. */
  async see(settled) {
    if (this.asking) {
      this.again = settled || this.again === true;
      return;
    }
    this.asking = true;
    const wide = this.$refs.picture.clientWidth || 440;
    const dpi = Math.max(20, Math.min(200, (wide / this.inches) * Math.min(devicePixelRatio, 1.5)));
    try {
      const look = await ask("POST", "/api/panels/look", { panel: this.panel, dpi, settled });
      this.look = look;
      if (look.schools) [this.schools, this.order] = [look.schools, look.order];
      this.wrong = {};
      this.drawHills();
      this.$nextTick(() => this.arrange());
    } catch (error) {
      if (error.away) this.status = "the picture waits for the program…";
      else this.tell(error.message);
    }
    this.asking = false;
    if (this.again !== null) {
      const next = this.again;
      this.again = null;
      this.see(next);
    }
  },

  drawHills() {
    const shapes = this.look.hills.hills.flatMap((hill) => {
      const outline = document.createElementNS(SVG, "path");
      outline.setAttribute("d", hill.outline);
      outline.setAttribute("fill", hill.colour);
      outline.setAttribute("fill-opacity", "0.5");
      outline.setAttribute("stroke", hill.colour);
      outline.setAttribute("stroke-width", "2");
      const steps = document.createElementNS(SVG, "path");
      steps.setAttribute("d", hill.steps);
      steps.setAttribute("fill", "none");
      steps.setAttribute("stroke", "#2c1a2b");
      steps.setAttribute("stroke-opacity", "0.45");
      for (const shape of [outline, steps]) shape.setAttribute("vector-effect", "non-scaling-stroke");
      return [outline, steps];
    });
    this.$refs.drawing.replaceChildren(...shapes);
  },

  /** Sets each note at the height where it happens, moving those apart that would overlap. */
  arrange() {
    const notes = this.$refs.notes;
    const all = [...notes.querySelectorAll(".note")];
    const upright = !this.look.hills.lying && innerWidth > 900;
    notes.className = upright ? "notes placed" : "notes stacked";
    if (!upright) {
      for (const note of all) note.style.top = "";
      notes.style.minHeight = "";
      return;
    }
    const high = this.$refs.picture.clientHeight;
    const gap = 10;
    all.sort((a, b) => a.dataset.middle - b.dataset.middle);
    const tops = [];
    let foot = 0;
    for (const note of all) {
      const wished = note.dataset.middle * high - note.offsetHeight / 2;
      const top = Math.max(wished, foot);
      tops.push(top);
      foot = top + note.offsetHeight + gap;
    }
    let floor = Math.max(high, all.reduce((sum, note) => sum + note.offsetHeight + gap, 0));
    for (let n = all.length - 1; n >= 0; n--) {
      tops[n] = Math.min(tops[n], floor - all[n].offsetHeight);
      floor = tops[n] - gap;
      all[n].style.top = `${tops[n]}px`;
    }
    const last = all.at(-1);
    notes.style.minHeight = last ? `${tops.at(-1) + last.offsetHeight}px` : "";
  },

  get shape() {
    return this.look.hills.lying ? "lying" : "";
  },
  get diagonal() {
    return /-(right|left)$/.test(this.panel.blend.direction);
  },
  get fromEdge() {
    return this.$root.querySelector("#direction")?.selectedOptions[0]?.textContent.includes("corner")
      ? "corner where the first ink stands"
      : "edge where the first ink stands";
  },
  get veilsScale() {
    return `${this.look.hills.most} light passes`;
  },
  get orientation() {
    return this.look.hills.lying ? "horizontal" : "vertical";
  },
  get coloursSeen() {
    return this.look.colours_seen.join(", ");
  },
  get orderTitle() {
    return this.order.other ? "Another order?" : "The order stands";
  },

  get handles() {
    return this.look.hills.hills.flatMap((hill, ink) =>
      hill.handles.flatMap((handle, which) => {
        // At the panel's own edge a field runs off the card: its foot there needs no handle.
        if (handle.at_edge && (which === 0 || which === 3)) return [];
        const measure = MEASURES[which];
        return {
          key: `${ink}-${measure}`,
          ink,
          measure,
          along: handle.along,
          text: handle.text,
          now: Math.round(100 * handle.along),
          label: `${this.panel.inks[ink]?.name}, ${WORDS[measure]}`,
          style: { left: `${handle.left}%`, top: `${handle.top}%`, "--ink": hill.colour },
        };
      }),
    );
  },

  get notes() {
    const finding = (found) => ({ ...found, remedySays: found.remedy?.says });
    const inks = this.look.inks.map((note, ink) => ({
      key: `ink ${ink}`,
      kind: "ink",
      pill: {},
      title: this.panel.inks[ink]?.name,
      says: note.says,
      middle: this.look.hills.hills[ink]?.middle,
      findings: note.findings.map(finding),
    }));
    const joins = this.look.junctions.map((note, join) => ({
      key: `join ${join}`,
      kind: "join",
      title: note.named,
      verdict: note.verdict,
      colour: note.colour,
      pill: { background: note.colour },
      says: note.says,
      middle: note.middle,
      findings: note.findings.map(finding),
    }));
    return inks.flatMap((ink, n) => (joins[n] ? [ink, joins[n]] : [ink]));
  },

  get numbers() {
    return this.look.hills.hills.map((hill, place) => {
      const name = this.panel.inks[place]?.name;
      return {
        place,
        name,
        veils: hill.veils,
        fewer: `One light pass fewer of ${name}`,
        more: `One light pass more of ${name}`,
        passesWrong: this.wrong[`${place}-passes`],
        cells: hill.handles.map((handle, which) => ({
          key: `${place}-${MEASURES[which]}`,
          which: MEASURES[which],
          text: handle.text,
          label: `${name} ${WORDS[MEASURES[which]]}`,
          wrong: Boolean(this.wrong[`${place}-${MEASURES[which]}`]),
          says: this.wrong[`${place}-${MEASURES[which]}`],
        })),
      };
    });
  },

  /** A length so many steps along the blend, or the end of the blend where it is not on a step. */
  length(steps) {
    const [, unit] = this.$root.dataset.step.split(" ");
    return unit === "in" ? `${steps}/8 in` : `${steps} mm`;
  },
  get spanInches() {
    const high = this.inches / Number(this.$root.dataset.ratio);
    if (this.diagonal) return this.inches + high;
    return this.look.hills.lying ? this.inches : high;
  },

  /** Moves a measure to a share of the way along, kept between its neighbours. */
  move(ink, measure, along) {
    const handles = this.look.hills.hills[ink].handles;
    const which = MEASURES.indexOf(measure);
    const least = which > 0 ? handles[which - 1].along : 0;
    const most = which < 3 ? handles[which + 1].along : 1;
    const steps = this.spanInches / this.stepInches;
    const step = Math.round(along * steps);
    if (step / steps < least - 1e-6 || step / steps > most + 1e-6 || step < 0 || step > steps) return false;
    this.panel.blend.fields[ink][measure] = this.length(step);
    // Where the field begins or ends on the panel's edge, foot and top stay together.
    return true;
  },

  grab(event, handle) {
    event.preventDefault();
    const target = event.currentTarget;
    target.focus();
    target.setPointerCapture(event.pointerId);
    const box = this.$refs.hills.querySelector("svg").getBoundingClientRect();
    const { lying, turned } = this.look.hills;
    let moved = false;
    const drag = (now) => {
      const share = lying ? (now.clientX - box.left) / box.width : (now.clientY - box.top) / box.height;
      if (this.move(handle.ink, handle.measure, turned ? 1 - share : share)) {
        moved = true;
        this.see(false);
      }
    };
    const drop = () => {
      target.removeEventListener("pointermove", drag);
      if (moved) this.keep(`move ${handle.label}`);
    };
    target.addEventListener("pointermove", drag);
    target.addEventListener("pointerup", drop, { once: true });
    target.addEventListener("pointercancel", drop, { once: true });
  },

  nudge(event, handle) {
    const { lying, turned, hills } = this.look.hills;
    const which = MEASURES.indexOf(handle.measure);
    const handles = hills[handle.ink].handles;
    const least = which > 0 ? handles[which - 1].along : 0;
    const most = which < 3 ? handles[which + 1].along : 1;
    const step = this.stepInches / this.spanInches;
    // Whichever way it lies, on is towards the right and downwards.
    const ways = { ArrowLeft: -1, ArrowUp: -1, ArrowRight: 1, ArrowDown: 1 };
    let along;
    if (event.key in ways) along = handle.along + (turned ? -1 : 1) * ways[event.key] * step;
    else if (event.key === "Home") along = turned ? Math.floor(most / step) * step : Math.ceil(least / step) * step;
    else if (event.key === "End") along = turned ? Math.ceil(least / step) * step : Math.floor(most / step) * step;
    else return;
    event.preventDefault();
    if (this.move(handle.ink, handle.measure, along)) this.keep(`move ${handle.label}`);
  },

  type(event, place, which) {
    const text = event.target.value.trim();
    const unit = document.querySelector('meta[name="rosy-unit"]').content;
    const length = LETTERS.test(text) ? text : `${text} ${unit}`;
    this.tryKeep(`set ${this.panel.inks[place].name}`, `${place}-${which}`, (panel) => {
      panel.blend.fields[place][which] = length;
    });
  },

  /** Keeps a change only if the program can lay it; otherwise says why by the field. */
  async tryKeep(label, cell, change) {
    const tried = JSON.parse(JSON.stringify(this.panel));
    change(tried);
    try {
      this.panel = (await ask("POST", "/api/panels/look", { panel: tried, dpi: 20, settled: false })).panel;
    } catch (error) {
      if (!error.away) {
        this.wrong = { ...this.wrong, [cell]: error.message };
        focusOn(`[data-cell="${cell}"]`);
        return;
      }
      this.panel = tried;
    }
    this.keep(label);
  },

  keep(label) {
    this.see(true);
    this.save(label);
  },
  veils(place, change) {
    const veils = this.panel.blend.fields[place].veils + change;
    const passes = veils === 1 ? "1 light pass" : `${veils} light passes`;
    this.tryKeep(`lay ${this.panel.inks[place].name} in ${passes}`, `${place}-passes`, (panel) => {
      panel.blend.fields[place].veils = veils;
    });
  },
  fewer(place) {
    this.veils(place, -1);
  },
  more(place) {
    this.veils(place, 1);
  },
  choose(school) {
    this.panel.school = school.key;
    this.keep(school.words);
  },
  /** Radios follow the arrows. */
  chooseByKey(event, school) {
    const by = { ArrowDown: 1, ArrowRight: 1, ArrowUp: -1, ArrowLeft: -1 }[event.key];
    if (!by) return;
    event.preventDefault();
    const at = this.schools.findIndex(({ key }) => key === school.key);
    const next = this.schools[(at + by + this.schools.length) % this.schools.length];
    for (const other of this.schools) other.chosen = other === next;
    this.choose(next);
    focusOn(`[data-school="${next.key}"]`);
  },
  /** The blend runs another way: the program carries the bands over to it. */
  turn() {
    const inks = this.panel.inks.map((_, place) => place);
    this.put({
      address: `/api/panels/${this.id}/inks`,
      body: { inks, direction: this.panel.blend.direction, label: "turn the blend" },
    });
  },
  mend(finding, key) {
    this.panel = finding.remedy.panel;
    this.keep(finding.remedySays.toLowerCase());
    // The remedy goes with its trouble: what it was about stays.
    focusOn(`[data-note="${key}"] .note-title`);
  },
  reorder() {
    this.panel = this.order.other.panel;
    this.keep("take the other order");
    focusOn("#order-title");
  },
}));

Alpine.start();
