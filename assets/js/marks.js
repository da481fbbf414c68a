// What is shown by hand on a photo of swatches: bare card, patches, patches of one ink over another, and a chart's corners. Each is a grip.

import { ask, focusOn } from "./keeper.js";

const PARTS = ["one", "two", "four", "full"];
const SAID = { one: "1 light pass", two: "2 light passes", four: "4 light passes", full: "full" };
/** Bare places that tell the light, at least. */
const FEWEST_BARE = 4;
/** How large a patch is to begin with, as a share of the photo's longer side. */
const REACH = 0.012;

/** What was shown on a photo outlives the page: it is there when the photo is brought again. */
const keyOf = (file) => `rosy-veil marks ${file.name} ${file.size} ${file.lastModified}`;

/** What a page has on whose photo things are shown; beside what a photo has. It says `unread()`, after which nothing is told of the photo. */
export const marks = () => ({
  /** Whether the swatches lie on no frame, so that all of them are shown. */
  byHand: false,
  marking: false,
  /** What the next tap shows. */
  what: "card",
  ink: "",
  over: "",
  part: "one",
  reach: 20,
  placed: [],
  chart: null,
  marksKey: null,

  /** Whether corners of a frame are to be shown. */
  get framed() {
    return this.hasPhoto && !this.byHand;
  },
  get marksOpen() {
    return this.hasPhoto && (this.marking || Boolean(this.chart));
  },
  get tapped() {
    return this.marking ? "cursor-crosshair" : "";
  },
  get isPatch() {
    return this.what !== "card";
  },
  get marksInk() {
    return this.marking && this.isPatch;
  },
  get chartColumns() {
    return this.chart?.columns ?? 2;
  },
  get isOver() {
    return this.what === "over";
  },
  get reachMost() {
    return Math.round(0.05 * Math.max(...this.size));
  },
  get hint() {
    const bare = this.count("card");
    if (this.byHand && bare < FEWEST_BARE) return `Tap bare card all about the patches: ${bare} of at least ${FEWEST_BARE} places are shown.`;
    if (this.byHand && !this.count("patch")) return "Now choose a patch, write which ink it is, and tap it.";
    if (this.what === "over") return "One ink over the full swatch of another: write both, and tap where they lie over one another.";
    return "A ring is moved by dragging or the arrow keys, and taken away with Delete.";
  },
  get cannotRead() {
    return this.busy || (this.byHand && (this.count("card") < FEWEST_BARE || !this.count("patch")));
  },
  get hasNone() {
    return this.placed.length === 0;
  },
  get chartSays() {
    return this.chart ? `${this.chart.colours.length} colours: put the four rings on the middles of its corner patches.` : "";
  },
  /** What is shown, as grips. */
  get rings() {
    if (!this.marksOpen) return [];
    const of = (mark) => (mark.what === "chart" || this.marking ? [this.grip(mark.key, this.saidOf(mark), mark.at, (at) => this.putMark(mark.key, at))] : []);
    return this.placed.flatMap((mark) => of(mark));
  },

  count(what) {
    return this.placed.filter((mark) => mark.what === what).length;
  },

  saidOf({ what, ink, over, part, corner }) {
    if (what === "card") return "Bare card";
    if (what === "chart") return `The chart's patch ${corner}`;
    return what === "over" ? `${ink}, ${SAID[part]}, over ${over}` : `${ink}, ${SAID[part]}`;
  },

  /** What was shown on this photo before. */
  marksOf(file) {
    this.marksKey = keyOf(file);
    const kept = JSON.parse(localStorage.getItem(this.marksKey) || "{}");
    const reach = Math.round(REACH * Math.max(...this.size));
    Object.assign(this, { byHand: false, marking: false, what: "card", placed: [], chart: null, reach, ...kept });
  },

  keepMarks() {
    const { byHand, marking, placed, chart, reach } = this;
    localStorage.setItem(this.marksKey, JSON.stringify({ byHand, marking, placed, chart, reach }));
    this.draw();
  },

  forgetMarks() {
    localStorage.removeItem(this.marksKey);
  },

  toggleByHand({ target }) {
    this.byHand = target.checked;
    // What was read of a frame is not said of what is marked by hand.
    this.unread();
    if (this.byHand) Object.assign(this, { cornersShown: false, moved: false, at: null, wrong: "" });
    this.what = this.byHand ? "card" : "over";
    this.keepMarks();
  },

  toggleMarking() {
    this.marking = !this.marking;
    if (!this.byHand) this.what = "over";
    this.keepMarks();
  },

  resize({ target }) {
    this.reach = Number(target.value);
    this.keepMarks();
  },

  /** A tap on the photo shows something there. */
  tap({ clientX, clientY }) {
    if (!this.marking) return;
    const box = this.$refs.canvas.getBoundingClientRect();
    const [left, top, wide, high] = this.view;
    this.mark([left + ((clientX - box.left) / box.width) * wide, top + ((clientY - box.top) / box.height) * high]);
  },

  /** The same without a pointer: in the middle of what is seen, from where the arrow keys move it. */
  markMiddle() {
    const [left, top, wide, high] = this.view;
    const key = this.mark([left + wide / 2, top + high / 2]);
    if (key) this.$nextTick(() => focusOn(`[data-mark="${key}"]`));
  },

  mark(at) {
    const { what, part } = this;
    const [ink, over] = [this.ink.trim(), this.over.trim()];
    if (this.isPatch && (!ink || (this.isOver && !over))) return this.refuse(this.isOver ? "Write both inks first: the one above, and the one it lies on." : "Write which ink it is first.");
    const key = crypto.randomUUID();
    this.placed.push({ key, what, at, ...(this.isPatch && { ink, part }), ...(this.isOver && { over }) });
    this.wrong = "";
    if (what === "patch") {
      this.part = PARTS[(PARTS.indexOf(part) + 1) % PARTS.length];
      if (part === "full") this.ink = "";
    }
    this.keepMarks();
    return key;
  },

  putMark(key, at) {
    this.placed.find((mark) => mark.key === key).at = at;
    this.keepMarks();
  },

  ringKey(event, ring) {
    if (event.key !== "Delete" && event.key !== "Backspace") return this.nudge(event, ring);
    if (this.placed.find((mark) => mark.key === ring.key).what === "chart") return;
    event.preventDefault();
    this.placed = this.placed.filter((mark) => mark.key !== ring.key);
    this.keepMarks();
  },

  takeBack() {
    const last = this.placed.findLast((mark) => mark.what !== "chart");
    this.placed = this.placed.filter((mark) => mark !== last);
    this.keepMarks();
  },

  /** A chart lies beside the swatches: its colours, from its file. */
  async bringChart({ target }) {
    const [file] = target.files;
    target.value = "";
    if (!file) return;
    try {
      this.chart = await ask("POST", "/api/swatches/chart", await file.text());
    } catch (error) {
      return this.refuse(error.isUnreachable ? "The program does not answer: bring the chart's file again once it does." : error.message);
    }
    const [left, top, wide, high] = this.view;
    const corner = (name, x, y) => ({ key: crypto.randomUUID(), what: "chart", corner: name, at: [left + x * wide, top + y * high] });
    const corners = [corner("left above", 0.35, 0.4), corner("right above", 0.65, 0.4), corner("left below", 0.35, 0.6), corner("right below", 0.65, 0.6)];
    this.placed = [...this.placed.filter((mark) => mark.what !== "chart"), ...corners];
    this.wrong = "";
    this.keepMarks();
  },

  setColumns({ target }) {
    this.chart.columns = Number(target.value);
    this.keepMarks();
  },

  dropChart() {
    Object.assign(this, { chart: null, placed: this.placed.filter((mark) => mark.what !== "chart") });
    this.keepMarks();
  },

  /** What was shown, beside the photo. */
  tellMarks(told) {
    const of = (what) => this.placed.filter((mark) => mark.what === what);
    const short = ([x, y]) => [Number(x.toFixed(1)), Number(y.toFixed(1))];
    const { reach } = this;
    if (this.byHand) {
      const patches = of("patch").map(({ ink, part, at }) => ({ ink, part, at: short(at) }));
      told.set("shown", JSON.stringify({ card: of("card").map(({ at }) => short(at)), patches, reach }));
    }
    const over = of("over").map(({ ink, over: beneath, part, at }) => ({ ink, over: beneath, part, at: short(at), reach }));
    if (over.length) told.set("over", JSON.stringify(over));
    if (this.chart) told.set("chart", JSON.stringify({ ...this.chart, corners: of("chart").map(({ at }) => short(at)) }));
  },
});
