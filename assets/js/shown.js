// A panel shown: its photo lies on the page, what is not as planned stands at its place, and the plan can be drawn over it.

import Alpine from "@alpinejs/csp";
import { ask } from "./keeper.js";
import { measure } from "./measure.js";
import { photo, together } from "./photo.js";

Alpine.directive("measure", measure);

const SVG = "http://www.w3.org/2000/svg";

/** What lays a picture's corners on four places (a projection, by its eight figures), as CSS has it. */
function laidOn([w, h], [a, b, c, d]) {
  const [x0, y0] = a;
  // From the unit square (Heckbert 1989), its corners in order round.
  const [dx1, dy1, dx2, dy2] = [b[0] - d[0], b[1] - d[1], c[0] - d[0], c[1] - d[1]];
  const [sx, sy] = [x0 - b[0] + d[0] - c[0], y0 - b[1] + d[1] - c[1]];
  const across = dx1 * dy2 - dx2 * dy1;
  const [g, k] = [(sx * dy2 - dx2 * sy) / across, (dx1 * sy - sx * dy1) / across];
  const m = [b[0] - x0 + g * b[0], c[0] - x0 + k * c[0], b[1] - y0 + g * b[1], c[1] - y0 + k * c[1]];
  return `matrix3d(${[m[0] / w, m[2] / w, 0, g / w, m[1] / h, m[3] / h, 0, k / h, 0, 0, 1, 0, x0, y0, 0, 1].join(",")})`;
}

/** How near a panel ends, in words, by its difference (ΔE00). */
const near = (off) => (off < 1.5 ? "as near as the eye tells to" : off < 4 ? "near to" : off < 8 ? "some way from" : "far from");

Alpine.data("shown", () => together(photo("panel"), {
  says: "",
  leftOut: "",
  findings: [],
  strengths: [],
  figures: [],
  score: null,
  zones: [],
  answered: false,
  /** A change that plans the rest from what lies there, and the panel it was worked out on. */
  remedy: null,
  revision: null,
  /** The mark under which that change was sent, so that it is not made twice. */
  sentAs: null,
  plan: "",
  /** How much of the plan lies over the photo, in per cent. */
  over: 0,

  /** Under which number the program keeps the photo, once it does. */
  kept: null,

  init() {
    const { photo: kept } = this.$root.dataset;
    if (kept) this.fetchKept(kept);
  },

  /** The photo that the record has. */
  async fetchKept(address) {
    try {
      const sent = await fetch(address);
      if (sent.ok) await this.put(await sent.blob(), address.split("/").at(-1).replace(".jpg", ""));
    } catch {
      this.refuse("The program does not answer: the photo cannot be fetched. Reload this page once it does.");
    }
  },

  get isRead() {
    return this.answered;
  },
  get isClean() {
    return this.answered && this.findings.length === 0;
  },
  get first() {
    return this.findings.find((finding) => finding.now) ?? null;
  },
  get hasFirst() {
    return Boolean(this.first);
  },
  get firstSays() {
    return this.first?.now ?? "";
  },
  get firstAt() {
    return this.first ? `${this.first.nth}` : "";
  },
  get hasStrengths() {
    return this.strengths.length > 0;
  },
  get hasScore() {
    return this.score !== null;
  },
  get hasZones() {
    return this.zones.length > 0;
  },
  get hasRemedy() {
    return Boolean(this.remedy);
  },
  get remedySays() {
    return this.remedy?.says ?? "";
  },
  get remedyNear() {
    return this.remedy ? `It ends ${near(this.remedy.then_off)} what was wanted; as things stand, ${near(this.remedy.off)} it.` : "";
  },
  get canCompare() {
    return this.answered && !this.cornersShown;
  },
  /** The plan's picture, its corners on the panel's in the photo. */
  get planStyle() {
    const { canvas } = this.$refs;
    if (!this.at || !this.canCompare || !canvas) return {};
    const { width, height } = this.planSize;
    const on = this.at.map(([x, y]) => [((x - this.view[0]) / this.view[2]) * this.boxed[0], ((y - this.view[1]) / this.view[3]) * this.boxed[1]]);
    return { width: `${width}px`, height: `${height}px`, transform: laidOn([width, height], on), clipPath: `inset(0 ${100 - this.over}% 0 0)` };
  },
  planSize: { width: 100, height: 100 },
  boxed: [1, 1],

  brought(_, kept = null) {
    Object.assign(this, { kept, findings: [], figures: [], score: null, strengths: [], zones: [], says: "", leftOut: "", answered: false, remedy: null, over: 0 });
  },

  /** Has the photo read, as it lies there now. */
  async again() {
    if (!this.file) return;
    const told = new URLSearchParams();
    const moves = this.$refs.step?.value;
    if (moves) told.set("moves", moves);
    if (this.$refs.other?.checked) told.set("other_phone", "true");
    if (this.moved) told.set("corners", this.cornersTold());
    if (this.kept) told.set("photo", this.kept);
    const seen = await this.asked(() => ask("POST", `${this.$root.dataset.look}?${told}`, this.file));
    if (!seen) return;
    const findings = seen.findings.map((finding, n) => ({ ...finding, nth: n + 1, key: `${n} ${finding.says}` }));
    Object.assign(this, { findings, figures: seen.figures ?? [], score: seen.score ?? null, strengths: seen.strengths, zones: seen.zones, says: seen.says, leftOut: seen.left_out ?? "", answered: true });
    this.kept = seen.photo ?? this.kept;
    Object.assign(this, { plan: seen.plan, remedy: seen.remedy ?? null, revision: seen.revision, sentAs: null });
    this.draw();
  },

  /** Draws the photo, and at its place a number for each thing that is not as planned. */
  draw() {
    this.paint();
    const size = Math.max(this.view[2], this.view[3]);
    this.$refs.marks.replaceChildren(...this.findings.flatMap((finding) => this.mark(finding, size)));
    this.$nextTick(() => this.fit());
  },

  /** How large the photo and the plan are on the page now. */
  fit() {
    const box = this.$refs.canvas.getBoundingClientRect();
    this.boxed = [box.width, box.height];
    const { naturalWidth, naturalHeight } = this.$refs.plan;
    if (naturalWidth) this.planSize = { width: naturalWidth, height: naturalHeight };
  },

  mark(finding, size) {
    const shape = document.createElementNS(SVG, "polygon");
    shape.setAttribute("points", finding.points);
    shape.dataset.nth = finding.nth;
    shape.setAttribute("class", finding.whole ? "flaw whole" : "flaw");
    if (finding.whole) return [shape];
    const number = document.createElementNS(SVG, "text");
    // What is smaller than its number has it above.
    const [x, middle] = finding.number;
    const top = Math.min(...[...shape.points].map((point) => point.y));
    const y = middle - top < 0.03 * size ? top - 0.024 * size : middle;
    Object.entries({ x, y, "font-size": 0.035 * size, "text-anchor": "middle", "dominant-baseline": "central" }).forEach(([name, value]) => number.setAttribute(name, value));
    number.textContent = finding.nth;
    return [shape, number];
  },

  /** Shows on the photo which place is spoken of. */
  point(finding) {
    for (const shape of this.$refs.marks.children) shape.classList.toggle("meant", shape.dataset.nth === String(finding?.nth));
  },

  /** Plans the rest from what lies there: one change, which the run sheet takes back. */
  async takeOver() {
    const { panel } = this.$root.dataset;
    this.sentAs ??= crypto.randomUUID();
    Object.assign(this, { wrong: "", canRetry: false, busy: true, busyWith: "The rest is being planned." });
    try {
      await ask("PUT", `/api/panels/${panel}/edit`, { revision: this.revision, mark: this.sentAs, edit: this.remedy.edit });
      location.assign(`/panels/${panel}/sheet`);
    } catch (error) {
      this.refuse(error.isUnreachable ? "The program does not answer: it is not known whether it was kept. Press it again, nothing is made twice." : error.message);
    }
  },

  slide({ target }) {
    this.fit();
    this.over = Number(target.value);
  },
}));

Alpine.start();
