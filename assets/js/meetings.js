// The shawl: inks along the top, two threads hang from each, where two threads cross is what they make.
// What is shown here was worked out by the program; this draws it and walks on it.

import Alpine from "@alpinejs/csp";
import { ask } from "./keeper.js";

const VERDICTS = ["clean", "dusky", "muddy"];
/** Columns beyond which families stay closed until they are opened. */
const ROOM = 44;
const HEAD = 92;
const NAMES = 56;
const INK = "#2c1a2b";
const SHEET = "#fbf8f3";

Alpine.data("shawl", () => ({
  told: null,
  open: [],
  waiting: true,
  /** The column picked out, and the two that cross at the place walked to. */
  picked: null,
  at: null,

  async init() {
    new ResizeObserver(() => this.draw()).observe(this.$refs.stage);
    this.told = await ask("GET", "/api/drawer/meetings");
    this.waiting = false;
    const all = [...new Set(this.told.inks.map((ink) => ink.family))];
    const wished = this.told.inks.findIndex((ink) => ink.id === this.$root.dataset.picked);
    const first = this.told.inks[Math.max(0, wished)].family;
    this.open = this.told.inks.length <= ROOM ? all : [first];
    const column = this.columns.findIndex((col) => col.inks.length === 1 && col.inks[0] === Math.max(0, wished));
    if (wished >= 0) this.picked = column;
    const start = Math.max(0, column);
    this.at = start + 1 < this.columns.length ? [start, start + 1] : [start - 1, start];
    this.$nextTick(() => this.draw());
  },

  /** What hangs along the top: single inks of open families, closed families as one. */
  get columns() {
    if (!this.told) return [];
    const columns = [];
    for (const [place, ink] of this.told.inks.entries()) {
      const last = columns.at(-1);
      if (this.open.includes(ink.family)) columns.push({ family: ink.family, name: ink.name, inks: [place] });
      else if (last && last.closed && last.family === ink.family) last.inks.push(place);
      else columns.push({ family: ink.family, name: ink.family, inks: [place], closed: true });
    }
    return columns;
  },
  get families() {
    const families = [];
    for (const ink of this.told?.inks ?? []) {
      const known = families.find((family) => family.name === ink.family);
      if (known) known.count += 1;
      else families.push({ name: ink.family, count: 1, colour: ink.colour });
    }
    return families.map((family) => ({
      ...family,
      open: this.open.includes(family.name),
      words: `${family.name} ${family.count}`,
      dot: { background: family.colour },
    }));
  },
  toggle(family) {
    const closes = this.open.includes(family.name);
    this.open = closes ? this.open.filter((name) => name !== family.name) : [...this.open, family.name];
    this.picked = null;
    const first = this.columns.findIndex((column) => column.family === family.name);
    this.at = first + 1 < this.columns.length ? [first, first + 1] : [Math.max(0, first - 1), Math.max(1, first)];
    this.$nextTick(() => this.draw());
  },

  meeting(one, other) {
    const [low, high] = one < other ? [one, other] : [other, one];
    const [colour, worse, name, cost] = this.told.rows[low][high - low - 1];
    return { one: low, other: high, colour, worse, named: this.told.names[name], cost };
  },
  /** What two columns make: for closed families, the cleanest of their meetings and the share that is mud. */
  crossing(a, b) {
    const [left, right] = [this.columns[a], this.columns[b]];
    let best = null;
    let [mud, dusky, count] = [0, 0, 0];
    for (const one of left.inks) {
      for (const other of right.inks) {
        if (one === other) continue;
        const met = this.meeting(one, other);
        count += 1;
        if (met.worse === 2) mud += 1;
        if (met.worse === 1) dusky += 1;
        if (!best || met.cost < best.cost) best = met;
      }
    }
    return best && { ...best, mud: mud / count, dusky: dusky / count, count };
  },

  get size() {
    // Room for the names at the right, and for all of it above the fold where that leaves it large enough.
    const wide = (this.$refs.stage.clientWidth || 900) - NAMES;
    const high = 2 * Math.max(innerHeight - 330, 420);
    return Math.min(58, Math.max(7, Math.min(wide, high) / Math.max(this.columns.length, 2)));
  },
  draw() {
    const columns = this.columns;
    if (!columns.length) return;
    const size = this.size;
    const [wide, high] = [size * columns.length + NAMES, HEAD + (size * columns.length) / 2 + 4];
    const canvas = this.$refs.canvas;
    const ratio = devicePixelRatio || 1;
    [canvas.width, canvas.height] = [wide * ratio, high * ratio];
    // Set through the style object: the page's policy allows no inline styles, but scripts may set them.
    canvas.style.width = `${wide}px`;
    canvas.style.height = `${high}px`;
    const pen = canvas.getContext("2d");
    pen.scale(ratio, ratio);
    pen.clearRect(0, 0, wide, high);
    const labels = size >= 15;
    for (const [n, column] of columns.entries()) {
      const x = (n + 0.5) * size;
      const here = this.picked === n || this.at?.includes(n);
      const step = size / column.inks.length;
      // A closed family shows all its inks as slices of its triangle.
      pen.save();
      this.triangle(pen, x, HEAD, size);
      pen.clip();
      for (const [k, ink] of column.inks.entries()) {
        pen.fillStyle = this.told.inks[ink].colour;
        pen.fillRect(n * size + k * step, HEAD - size / 2, step + 0.5, size / 2 + 1);
      }
      pen.restore();
      if (labels || here || column.closed) {
        pen.save();
        pen.translate(x + 4, HEAD - size / 2 - 5);
        pen.rotate(-0.62);
        pen.fillStyle = here ? "#a12a55" : INK;
        pen.font = `${here ? "700" : "400"} 13px "Atkinson Hyperlegible", sans-serif`;
        pen.fillText(column.name, 0, 0);
        pen.restore();
      }
    }
    for (let a = 0; a < columns.length; a++) {
      for (let b = a + 1; b < columns.length; b++) this.cell(pen, a, b, size);
    }
    if (this.at) {
      const [x, y] = this.place(...this.at, size);
      this.diamond(pen, x, y, size / 2 - 0.5);
      pen.lineWidth = 3;
      pen.strokeStyle = INK;
      pen.stroke();
    }
  },
  place(a, b, size) {
    return [((a + b + 1) / 2) * size, HEAD + ((b - a) / 2) * size];
  },
  triangle(pen, x, foot, size) {
    pen.beginPath();
    pen.moveTo(x - size / 2 + 0.5, foot);
    pen.lineTo(x, foot - size / 2);
    pen.lineTo(x + size / 2 - 0.5, foot);
    pen.closePath();
  },
  diamond(pen, x, y, half) {
    pen.beginPath();
    pen.moveTo(x, y - half);
    pen.lineTo(x + half, y);
    pen.lineTo(x, y + half);
    pen.lineTo(x - half, y);
    pen.closePath();
  },
  cell(pen, a, b, size) {
    const met = this.crossing(a, b);
    if (!met) return;
    const [x, y] = this.place(a, b, size);
    const threaded = this.picked === null || this.picked === a || this.picked === b;
    pen.globalAlpha = threaded ? 1 : 0.22;
    this.diamond(pen, x, y, size / 2 - Math.min(1, size / 20));
    pen.fillStyle = met.colour;
    pen.fill();
    // Mud is a dot with a light rim, dusky a ring: readable whatever the colours.
    const share = met.count > 1 ? Math.sqrt(met.mud) : met.worse === 2 ? 0.62 : 0;
    const ring = share === 0 && (met.count > 1 ? met.dusky > 0.34 : met.worse === 1);
    const round = Math.max(1.1, size * 0.19 * (share || 0.62));
    if (share > 0.08 || ring) {
      pen.beginPath();
      pen.arc(x, y, round, 0, 7);
      pen.lineWidth = Math.max(1, size / 22);
      pen.strokeStyle = SHEET;
      pen.stroke();
      pen.fillStyle = ring ? met.colour : INK;
      pen.fill();
    }
    pen.globalAlpha = 1;
  },

  /** The crossing or the ink under a pointer. */
  under(event) {
    const box = this.$refs.canvas.getBoundingClientRect();
    const size = this.size;
    const [x, y] = [(event.clientX - box.left) / size, (event.clientY - box.top - HEAD) / size];
    if (y < 0) return { column: Math.floor(x) };
    const [a, b] = [Math.round(x - y - 0.5), Math.round(x + y - 0.5)];
    return a >= 0 && b < this.columns.length && a < b ? { pair: [a, b] } : {};
  },
  point(event) {
    const { pair } = this.under(event);
    this.$refs.canvas.style.cursor = pair ? "pointer" : "default";
  },
  press(event) {
    const { pair, column } = this.under(event);
    if (pair) this.go(pair);
    else if (column >= 0 && column < this.columns.length) {
      const found = this.columns[column];
      if (found.closed) this.toggle({ name: found.family });
      else {
        this.picked = this.picked === column ? null : column;
        this.draw();
      }
    }
  },
  go(pair) {
    this.at = pair;
    const [a, b] = pair;
    if (this.picked !== null && this.picked !== a && this.picked !== b) this.picked = null;
    this.draw();
  },
  /** Left and right walk along the rows of the shawl, up and down along its threads. */
  walk(event) {
    if (!this.at) return;
    const [a, b] = this.at;
    const last = this.columns.length - 1;
    const moves = {
      ArrowLeft: [a - 1, b - 1],
      ArrowRight: [a + 1, b + 1],
      ArrowUp: this.picked === a ? [a, b - 1] : [a + 1, b],
      ArrowDown: this.picked === a ? [a, b + 1] : [a - 1, b],
      Home: [0, b - a],
      End: [last - (b - a), last],
    };
    if (event.key === " ") {
      event.preventDefault();
      this.picked = this.picked === a ? b : this.picked === b ? null : a;
      this.draw();
      return;
    }
    if (event.key === "Enter") {
      event.preventDefault();
      const column = [a, b].find((n) => this.columns[n].closed);
      if (column !== undefined) this.toggle({ name: this.columns[column].family });
      else this.$refs.take.click();
      return;
    }
    const next = moves[event.key];
    if (!next) return;
    event.preventDefault();
    if (next[0] >= 0 && next[1] <= last && next[0] < next[1]) this.go(next);
  },

  // What is said beside it

  get pair() {
    return this.at && this.told ? this.crossing(...this.at) : null;
  },
  get title() {
    if (this.picked !== null) return this.columns[this.picked]?.name;
    return this.at && this.told ? this.at.map((n) => this.columns[n]?.name).join(" and ") : "";
  },
  get said() {
    const pair = this.pair;
    if (!pair) return "What every two inks make";
    const names = this.at.map((n) => this.columns[n].name).join(" and ");
    return pair.count > 1
      ? `${names}: ${pair.count} meetings, ${Math.round(100 * pair.mud)} % muddy. Press Enter to open the family.`
      : `${names}: ${pair.named}, ${VERDICTS[pair.worse]}`;
  },
  get pairNamed() {
    return this.pair?.named;
  },
  get pairVerdict() {
    return VERDICTS[this.pair?.worse];
  },
  get pairPill() {
    return { background: this.pair?.colour };
  },
  get pairInks() {
    if (!this.pair) return "";
    return [this.pair.one, this.pair.other].map((place) => this.told.inks[place]?.id).join(",");
  },
  /** The cleanest meetings of the ink picked out. */
  get partners() {
    const column = this.columns[this.picked];
    if (!column || column.closed) return [];
    const [own] = column.inks;
    return this.told.inks
      .flatMap((ink, place) => (place === own ? [] : { ...this.meeting(own, place), place, name: ink.name }))
      .sort((one, other) => one.worse - other.worse || one.cost - other.cost)
      .slice(0, 6)
      .map((met) => ({ ...met, key: met.place, pill: { background: met.colour }, verdict: VERDICTS[met.worse] }));
  },
  choose(best) {
    const own = this.columns[this.picked].inks[0];
    if (!this.open.includes(this.told.inks[best.place].family)) this.open = [...this.open, this.told.inks[best.place].family];
    const of = (place) => this.columns.findIndex((column) => column.inks.length === 1 && column.inks[0] === place);
    const [a, b] = [of(own), of(best.place)].sort((one, other) => one - other);
    this.picked = of(own);
    this.go([a, b]);
  },
}));

Alpine.start();
