// The blends under the hand: grips, hills and numbers change the plan, the program answers with the picture
// and what there is to say. No rule of the craft is here, and no measure is worked out.

import Alpine from "@alpinejs/csp";
import { arrow, follow, shares } from "./grips.js";
import { focusOn, keeper } from "./keeper.js";
import { looks, together } from "./looks.js";
import { measure } from "./measure.js";

Alpine.directive("measure", measure);

const MEASURES = ["starts", "full_from", "full_to", "ends"];
const WORDS = { starts: "starts", full_from: "full from", full_to: "full to", ends: "ends" };
const SVG = "http://www.w3.org/2000/svg";
/** Pixels that two handles of one hill stay apart, so that each can be taken by a finger. */
const APART = 46;

const WAYS = JSON.parse(document.getElementById("ways")?.textContent || "[]");
const kindOf = (way) => Object.keys(way)[0];
const same = (one, other) => JSON.stringify(one) === JSON.stringify(other);

/** What two changes of one kind come to, the second going on from the first. */
function sum(kind, was, is) {
  switch (kind) {
    case "hold":
      return was.grip === is.grip ? is : null;
    case "nudge":
      return was.grip === is.grip ? { ...is, right: was.right + is.right, down: was.down + is.down } : null;
    case "shift":
      return was.field === is.field ? { ...is, by: was.by + is.by } : null;
    case "round":
      return was + is;
    case "veils":
      return was.field === is.field ? { ...is, by: was.by + is.by } : null;
    case "edge": {
      if (was.field !== is.field || was.edge !== is.edge) return null;
      if ("at" in Object(is.to)) return is;
      return "by" in Object(was.to) && "by" in Object(is.to) ? { ...is, to: { by: was.to.by + is.to.by } } : null;
    }
    default:
      return null;
  }
}

/** The same of one blend. */
function joined(was, is) {
  const change = was.blend === is.blend ? together(was.change, is.change, sum) : null;
  return change && { blend: is.blend, change };
}

Alpine.data("blend", () => ({
  ...keeper(document.querySelector("[data-panel]")),
  // What mends it takes a moment longer and follows.
  ...looks({ address: "/api/panels/look", kind: "blend", joined, quick: true }),
  look: {
    picture: "",
    inks: [],
    junctions: [],
    findings: [],
    brought: [],
    blends: [],
    way: { way: {}, grips: [], measures: [] },
    hills: { hills: [], most: 7 },
    colours_seen: [],
  },
  /** The blend that is looked at, and the hill of it that is taken hold of. */
  blend: 0,
  hill: 0,
  /** Pixels along the hills' drawing. */
  long: 520,
  damp: false,
  schools: [],
  order: { present: "", present_says: "", other: null },
  /** What is wrong with a field, by the field. */
  wrong: {},
  /** A field that is being typed in, and what stands in it: an answer to something else leaves it alone. */
  typing: { cell: "", text: "" },

  init() {
    new ResizeObserver(() => this.measureDrawing()).observe(this.$refs.drawing);
    this.begin();
  },

  /** Takes the measure of the drawing. */
  measureDrawing() {
    const box = this.$refs.drawing.getBoundingClientRect();
    this.long = (this.look.hills.lying ? box.width : box.height) || this.long;
  },

  whole(change) {
    return { blend: this.blend, change };
  },
  asks() {
    return { blend: this.blend, damp: this.damp };
  },
  made({ blend }) {
    this.blend = blend ?? this.blend;
  },
  seen(look, { changed, cell }) {
    this.blend = look.blend;
    this.look = look;
    if (look.schools) [this.schools, this.order] = [look.schools, look.order];
    if (changed) this.wrong = {};
    if (cell) this.isTyped(cell);
    this.hill = Math.min(this.hill, Math.max(0, look.hills.hills.length - 1));
    this.drawHills();
  },
  isWrong(field, says) {
    this.wrong = { ...this.wrong, [field]: says };
    focusOn(`[data-cell="${field}"], [data-measure="${field}"]`);
  },

  drawHills() {
    const shapes = this.look.hills.hills.flatMap((hill, place) => {
      const outline = document.createElementNS(SVG, "path");
      outline.setAttribute("d", hill.outline);
      outline.setAttribute("fill", hill.colour);
      outline.setAttribute("fill-opacity", place === this.hill ? "0.62" : "0.38");
      outline.setAttribute("stroke", hill.colour);
      outline.setAttribute("stroke-width", "2");
      const steps = document.createElementNS(SVG, "path");
      steps.setAttribute("d", hill.steps);
      steps.setAttribute("fill", "none");
      steps.setAttribute("stroke", "#2c1a2b");
      steps.setAttribute("stroke-opacity", place === this.hill ? "0.5" : "0.2");
      for (const shape of [outline, steps]) shape.setAttribute("vector-effect", "non-scaling-stroke");
      return [outline, steps];
    });
    this.$refs.drawing.replaceChildren(...shapes);
  },

  get shape() {
    return this.look.hills.lying ? "lying" : "";
  },
  get marked() {
    return Boolean(this.look.way.way.corner);
  },
  get several() {
    return this.look.hills.hills.length > 1;
  },
  get inksAddress() {
    return `/panels/${this.id}/inks?blend=${this.blend}`;
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
  ink(place) {
    return this.panel.inks[this.look.hills.hills[place]?.ink];
  },

  // The blends, told in lines

  get blends() {
    return this.look.blends.map((note, place) => ({
      key: `${place} ${note.words}`,
      place,
      words: note.words,
      names: note.names,
      chosen: place === this.blend,
      findings: note.findings,
      findingsWords: note.findings === 1 ? "1 to look at" : `${note.findings} to look at`,
      pips: note.colours.map((colour, n) => ({ key: n, style: { background: colour } })),
    }));
  },
  turnTo(note) {
    this.blend = note.place;
    this.hill = 0;
    this.see();
    focusOn(`[data-blend="${note.place}"]`);
  },
  get ownInks() {
    const darkest = this.look.blends.length ? this.darkest : -1;
    return this.panel.inks.map((ink, place) => ({ place, name: ink.name, darkest: place === darkest }));
  },
  /** The ink that stands last of those the program draws darkest: it suits a rim. */
  get darkest() {
    const light = (colour) => [1, 3, 5].reduce((sum, at) => sum + parseInt(colour.slice(at, at + 2), 16), 0);
    const all = this.look.hills.hills.map((hill) => ({ ink: hill.ink, light: light(hill.colour) }));
    all.sort((one, other) => one.light - other.light);
    return all[0]?.ink ?? 0;
  },
  add(event) {
    const form = new FormData(event.target);
    const inks = form.getAll("ink").map(Number);
    if (!inks.length) {
      this.tell("Choose at least one ink for it.");
      return;
    }
    const way = WAYS[Number(form.get("way"))];
    this.$refs.adding.open = false;
    this.make({ add: { way, inks } });
    focusOn("#ground-title");
  },
  remove() {
    this.make("remove");
    focusOn("#ground-title");
  },
  reverse() {
    this.make("reverse");
  },
  oneMore() {
    this.make({ round: 1 });
  },
  oneLess() {
    this.make({ round: -1 });
  },
  fewest() {
    this.make("fewest");
  },
  get manyBlends() {
    return this.look.blends.length > 1;
  },

  // Which way it runs

  turn(event) {
    this.make({ turn: WAYS[Number(event.target.value)] });
  },
  get measures() {
    this.$nextTick(() => this.showWay());
    return this.look.way.measures.map((note) => ({
      ...note,
      key: note.measure,
      text: this.written(note.measure, note.text),
      wrong: Boolean(this.wrong[note.measure]),
      says: this.wrong[note.measure],
    }));
  },
  /** The way as it stands, among those offered: the very one, or else its kind. */
  showWay() {
    const way = this.look.way.way;
    let at = WAYS.findIndex((other) => same(way, other));
    if (at < 0) at = WAYS.findLastIndex((other) => kindOf(other) === kindOf(way));
    if (this.$refs.way && at >= 0) this.$refs.way.value = String(at);
  },
  /** What stands in a field: what is being typed there, or else the measure. */
  written(cell, text) {
    return this.typing.cell === cell ? this.typing.text : text;
  },
  typed(event, { key }) {
    this.typing = { cell: key, text: event.target.value };
  },
  isTyped(cell) {
    if (this.typing.cell === cell) this.typing = { cell: "", text: "" };
  },
  setMeasure(event, { measure }) {
    this.make({ measure: { measure, text: event.target.value } }, { cell: measure });
  },
  get grips() {
    return this.look.way.grips.map((grip) => ({
      key: grip.grip,
      label: `${grip.words}: move with the arrow keys`,
      style: { left: `${grip.left}%`, top: `${grip.top}%` },
    }));
  },
  hold(event, grip) {
    const at = shares(this.$refs.picture);
    this.follow(event, (now) => ({ hold: { grip: grip.key, ...at(now) } }));
  },
  nudgeGrip(event, grip) {
    const by = arrow(event);
    if (by) this.make({ nudge: { grip: grip.key, right: by[0], down: by[1] } });
  },
  follow(event, change) {
    follow(event, change, (change, kept) => (kept ? this.make(change) : this.attempt(change)));
  },

  // Hills

  pick(body) {
    if (this.hill === body.place) return;
    this.hill = body.place;
    this.drawHills();
  },
  get bodies() {
    const { hills, lying, turned } = this.look.hills;
    return hills.map((hill, place) => {
      const [from, to] = [hill.handles[1], hill.handles[2]];
      // A band to take hold of round the middle of the hill, wide enough for a finger.
      const middle = 100 * hill.middle;
      const half = Math.max((100 * APART) / 2 / this.long, 50 * Math.abs(to.along - from.along));
      const [start, size] = [`${middle - half}%`, `${2 * half}%`];
      return {
        key: `${place} ${hill.ink}`,
        place,
        chosen: place === this.hill,
        label: `${this.ink(place)?.name}, the whole band`,
        text: `full from ${from.text} to ${to.text}`,
        now: Math.round(turned ? 100 - middle : middle),
        style: lying ? { left: start, width: size, top: "0", bottom: "0" } : { top: start, height: size, left: "0", right: "0" },
      };
    });
  },
  /** Where a pointer is along the blend. */
  along() {
    const at = shares(this.$refs.drawing);
    const { lying, turned } = this.look.hills;
    return (now) => {
      const share = lying ? at(now).across : at(now).down;
      return turned ? 1 - share : share;
    };
  },
  grabHill(event, body) {
    this.pick(body);
    const [at, { marks }] = [this.along(), this.look.hills];
    const began = at(event);
    let gone = 0;
    this.follow(event, (now) => {
      const steps = Math.round((at(now) - began) * marks);
      const by = steps - gone;
      gone = steps;
      return { shift: { field: body.place, by } };
    });
  },
  nudgeHill(event, body) {
    const by = this.onward(event);
    if (by) this.make({ shift: { field: body.place, by } });
  },
  /** Whichever way the blend lies, on is towards the right and downwards. */
  onward(event) {
    const [right, down] = arrow(event) ?? [0, 0];
    return (this.look.hills.turned ? -1 : 1) * (right + down);
  },
  get handles() {
    const hill = this.look.hills.hills[this.hill];
    if (!hill) return [];
    const lying = this.look.hills.lying;
    const shown = hill.handles.map((handle, which) => ({ ...handle, which, at: lying ? handle.left : handle.top }));
    // Feet stand on one side and tops on the other; two of a side that come too near are held apart.
    for (const [one, other] of [[0, 3], [1, 2]]) {
      const [low, high] = shown[one].at <= shown[other].at ? [shown[one], shown[other]] : [shown[other], shown[one]];
      const missing = (100 * APART) / this.long - (high.at - low.at);
      if (missing > 0) [low.at, high.at] = [low.at - missing / 2, high.at + missing / 2];
    }
    return shown.flatMap((handle) => {
      const { which } = handle;
      // At the panel's own edge a field runs off the card: its foot there needs no handle.
      if (handle.at_edge && (which === 0 || which === 3)) return [];
      const measure = MEASURES[which];
      const side = which === 0 || which === 3 ? "0%" : "100%";
      return {
        key: `${this.hill}-${measure}`,
        field: this.hill,
        measure,
        text: handle.text,
        now: Math.round(100 * handle.along),
        label: `${this.ink(this.hill)?.name}, ${WORDS[measure]}`,
        style: lying
          ? { left: `${handle.at}%`, top: side === "0%" ? "100%" : "0%", "--ink": hill.colour }
          : { left: side, top: `${handle.at}%`, "--ink": hill.colour },
      };
    });
  },
  grab(event, { field, measure }) {
    const at = this.along();
    this.follow(event, (now) => ({ edge: { field, edge: measure, to: { at: at(now) } } }));
  },
  nudge(event, { field, measure }) {
    const by = this.onward(event);
    const ends = this.look.hills.turned ? { Home: "most", End: "least" } : { Home: "least", End: "most" };
    const to = by ? { by } : ends[event.key];
    if (!to) return;
    event.preventDefault();
    this.make({ edge: { field, edge: measure, to } });
  },

  // What there is to say

  get findings() {
    return this.look.findings.map((found, place) => ({ ...found, place }));
  },
  get notes() {
    const finding = (place) => this.findings[place];
    const inks = this.look.inks.map((note, place) => ({
      key: `ink ${place}`,
      kind: "ink",
      pill: {},
      title: this.ink(place)?.name,
      says: note.says,
      middle: this.look.hills.hills[place]?.middle,
      findings: note.findings.map(finding),
    }));
    const joins = this.look.junctions.map((note, join) => ({
      key: `join ${join}`,
      kind: note.crossing ? "join crossing" : "join",
      title: note.crossing ? `${note.of}: ${note.named}` : note.named,
      verdict: note.verdict,
      colour: note.colour,
      pill: { background: note.colour },
      says: note.says,
      middle: note.middle,
      findings: note.findings.map(finding),
    }));
    const brought = {
      key: "brought",
      kind: "join",
      pill: {},
      title: "What comes with water, or from a pad",
      says: "Puddles, sprays and pads lie over the blend, and over one another.",
      findings: this.look.brought.map(finding),
    };
    const along = [...inks, ...joins].sort((one, other) => one.middle - other.middle);
    return brought.findings.length ? [...along, brought] : along;
  },
  /** The one thing to do next: the first trouble that a remedy mends, or else the first. */
  get next() {
    const all = this.findings;
    return all.find((finding) => finding.remedies.length) ?? all[0] ?? null;
  },
  get nextSays() {
    return this.next?.says;
  },
  get nextRemedy() {
    return this.next?.remedies[0]?.says;
  },
  get nextPicture() {
    return this.next?.remedies[0]?.picture;
  },
  mendNext() {
    const { blend } = this.next;
    const next = this.next;
    const key = this.notes.find((note) => note.findings.some((finding) => finding.place === next.place))?.key;
    this.blend = blend;
    this.mend(next.remedies[0], key);
  },
  get spots() {
    const next = this.next?.place;
    return this.findings.map((finding) => ({
      key: finding.place,
      kind: finding.place === next ? "first" : "",
      style: { left: `${finding.left}%`, top: `${finding.top}%` },
    }));
  },

  get numbers() {
    return this.look.hills.hills.map((hill, place) => {
      const name = this.panel.inks[hill.ink]?.name;
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
          text: this.written(`${place}-${MEASURES[which]}`, handle.text),
          label: `${name} ${WORDS[MEASURES[which]]}`,
          wrong: Boolean(this.wrong[`${place}-${MEASURES[which]}`]),
          says: this.wrong[`${place}-${MEASURES[which]}`],
        })),
      };
    });
  },
  type(event, field, edge) {
    this.make({ write: { field, edge, text: event.target.value } }, { cell: `${field}-${edge}` });
  },
  fewer(field) {
    this.make({ veils: { field, by: -1 } });
  },
  more(field) {
    this.make({ veils: { field, by: 1 } });
  },
  choose(school) {
    this.make({ school: school.key });
  },
  /** Radios follow the arrows. */
  chooseByKey(event, school) {
    const [right, down] = arrow(event) ?? [0, 0];
    const by = right + down;
    if (!by) return;
    const at = this.schools.findIndex(({ key }) => key === school.key);
    const next = this.schools[(at + by + this.schools.length) % this.schools.length];
    for (const other of this.schools) other.chosen = other === next;
    this.choose(next);
    focusOn(`[data-school="${next.key}"]`);
  },
  mend(remedy, key) {
    this.wrong = {};
    this.takePanel(remedy.panel, remedy.says.toLowerCase());
    // The remedy goes with its trouble: what it was about stays.
    focusOn(key ? `[data-note="${key}"] .note-title` : "#ground-title");
  },
  reorder() {
    this.wrong = {};
    this.takePanel(this.order.other.panel, "take the other order");
    focusOn("#order-title");
  },
}));

Alpine.start();
