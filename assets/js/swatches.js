// Swatches from a photo: the photo lies on the page, the program says what is where on it, and what is chosen goes into the drawer.

import Alpine from "@alpinejs/csp";
import { ask, focusOn } from "./keeper.js";
import { arrow, follow, shares } from "./grips.js";

const SVG = "http://www.w3.org/2000/svg";
const CORNERS = ["left above", "right above", "left below", "right below"];
/** Pixels along the longer side of the photo as it lies on the page. */
const SHOWN = 1600;
/** Most bytes that are sent. */
const MOST = 24 * 1024 * 1024;

/** What is written beside a photo, its inks' names and which are left out, outlives the page: it is there when the photo is brought again. */
function notesOf(file) {
  const key = file && `rosy-veil swatches ${file.name} ${file.size} ${file.lastModified}`;
  const kept = (key && localStorage.getItem(key)) || "[]";
  const notes = new Map(JSON.parse(kept).map((note) => [note.place, note]));
  return {
    of: (place) => notes.get(place),
    all: () => [...notes.values()],
    note({ place, name, take, known }) {
      notes.set(place, { place, take, name: known ? "" : name });
      localStorage.setItem(key, JSON.stringify([...notes.values()]));
    },
    forget: () => localStorage.removeItem(key),
  };
}

/** The photo itself: nothing that a page's state is to watch. */
let bitmap = null;

Alpine.data("swatches", () => ({
  file: null,
  size: [1, 1],
  /** What of the photo is seen: left, top, width and height in its pixels. */
  view: [0, 0, 1, 1],
  wrong: "",
  canRetry: false,
  busy: false,
  busyWith: "",
  says: "",
  better: "",
  rows: [],
  phone: null,
  /** The frame's outer corners in the photo, where they are known; shown where they are to be moved. */
  at: null,
  cornersShown: false,
  moved: false,
  turn: 0,
  /** What was written beside this photo. */
  notes: notesOf(null),

  get hasPhoto() {
    return Boolean(this.file);
  },
  get hasRows() {
    return this.rows.length > 0;
  },
  get photoButton() {
    return this.hasRows ? "" : "strong";
  },
  get corners() {
    if (!this.cornersShown || !this.at) return [];
    return this.at.map(([x, y], key) => ({
      key,
      label: `The frame's corner ${CORNERS[key]}`,
      style: { left: `${(100 * (x - this.view[0])) / this.view[2]}%`, top: `${(100 * (y - this.view[1])) / this.view[3]}%` },
    }));
  },
  get chosen() {
    return this.rows.filter((row) => row.take && row.ink);
  },
  get takesNone() {
    return this.busy || this.chosen.length === 0;
  },
  get takeSays() {
    const count = this.chosen.length;
    return count === 0 ? "Choose what to take" : `Take ${count === 1 ? "one ink" : `${count} inks`} into the drawer`;
  },

  async bring({ target }) {
    const [file] = target.files;
    target.value = "";
    if (!file) return;
    if (file.size > MOST) return this.refuse("The photo is larger than 24 MB: make it smaller first. Nothing was sent.");
    let brought;
    try {
      brought = await createImageBitmap(file, { imageOrientation: "from-image" });
    } catch {
      return this.refuse("This browser cannot show this picture: save it as JPEG, and bring that.");
    }
    bitmap?.close();
    bitmap = brought;
    Object.assign(this, { at: null, moved: false, cornersShown: false, rows: [], says: "", better: "", size: [bitmap.width, bitmap.height] });
    this.notes = notesOf(file);
    // Held as bytes: a file that is moved or taken away is sent again all the same.
    this.file = new Blob([await file.arrayBuffer()]);
    this.draw();
    await this.again();
  },

  refuse(says, canRetry = false) {
    Object.assign(this, { wrong: says, canRetry, busy: false });
  },

  /** Has the photo read, as it lies there now. */
  async again() {
    if (!this.file) return;
    const turn = ++this.turn;
    Object.assign(this, { wrong: "", canRetry: false, busy: true, busyWith: "The photo is being read." });
    const told = new URLSearchParams();
    if (this.$refs.card?.value) told.set("card", this.$refs.card.value);
    if (this.$refs.other?.checked) told.set("other_phone", "true");
    if (this.moved) told.set("corners", this.at.flat().map((n) => n.toFixed(1)).join(","));
    const named = this.notes.all().filter(({ name }) => name).map(({ place, name }) => ({ place, name }));
    if (named.length) told.set("inks", JSON.stringify(named));
    try {
      const seen = await ask("POST", `/api/swatches/look?${told}`, this.file);
      if (turn !== this.turn) return;
      this.rows = seen.rows.map((row) => this.row(row, this.notes.of(row.place)));
      Object.assign(this, { says: seen.says, better: seen.better ?? "", phone: seen.phone, busy: false });
      if (!this.moved) this.at = seen.corners;
      this.draw();
    } catch (error) {
      if (turn !== this.turn) return;
      this.refuse(error.isUnreachable ? "The program does not answer. The photo is still here." : error.message, error.isUnreachable);
      // Where the frame was not found, its corners can be shown.
      if (!error.isUnreachable && !this.at) this.show();
    }
  },

  row(row, noted) {
    const name = row.name || noted?.name || "";
    return {
      ...row,
      name,
      kind: row.ink?.kind ?? "",
      cannot: !row.ink,
      take: Boolean(row.ink) && (noted?.take ?? true),
      takes: `Take ${name || `the ink at place ${row.place}`}`,
      named: `Name of the ink at place ${row.place}`,
      tone: row.marks.some((mark) => mark.refused) ? "text-dusky font-semibold" : "text-soft",
    };
  },

  /** Shows the photo: the frame as large as it goes, or all of it while corners are moved. */
  paint() {
    const [w, h] = this.size;
    let [left, top, right, foot] = [0, 0, w, h];
    if (this.at && this.hasRows && !this.cornersShown) {
      const room = 0.03 * Math.max(w, h);
      const along = (axis) => this.at.map((corner) => corner[axis]);
      [left, right] = [Math.max(0, Math.min(...along(0)) - room), Math.min(w, Math.max(...along(0)) + room)];
      [top, foot] = [Math.max(0, Math.min(...along(1)) - room), Math.min(h, Math.max(...along(1)) + room)];
    }
    this.view = [left, top, right - left, foot - top];
    const scale = Math.min(1, SHOWN / Math.max(this.view[2], this.view[3]));
    const canvas = this.$refs.canvas;
    [canvas.width, canvas.height] = [this.view[2], this.view[3]].map((side) => Math.round(side * scale));
    canvas.getContext("2d").drawImage(bitmap, ...this.view, 0, 0, canvas.width, canvas.height);
    this.$refs.marks.setAttribute("viewBox", this.view.join(" "));
  },

  /** Outlines what was read, and crosses what was not; the strips beside. */
  draw() {
    this.paint();
    const marks = this.rows.flatMap((row) => row.marks.map((mark) => this.mark(row, mark)));
    this.$refs.marks.replaceChildren(...marks);
    this.$nextTick(() => {
      for (const row of this.rows) {
        const put = (where, svg) => {
          const place = this.$root.querySelector(`[data-strip-${where}="${row.place}"]`);
          if (place) place.innerHTML = svg ?? "";
        };
        put("now", row.now);
        put("before", row.before);
      }
    });
  },

  mark(row, mark) {
    const shape = document.createElementNS(SVG, "polygon");
    shape.setAttribute("points", mark.points);
    shape.setAttribute("class", mark.refused ? "patch refused" : "patch");
    shape.dataset.place = row.place;
    shape.append(Object.assign(document.createElementNS(SVG, "title"), { textContent: `${row.name}: ${mark.says}` }));
    return shape;
  },

  /** Shows on the photo which patches a row speaks of. */
  point(row) {
    for (const shape of this.$refs.marks.children) shape.classList.toggle("meant", shape.dataset.place === String(row?.place));
  },

  choose(row, { target }) {
    row.take = target.checked;
    this.notes.note(row);
  },

  rename(row, { target }) {
    row.name = target.value.trim();
    if (row.ink && row.name) row.ink = { ...row.ink, name: row.name };
    row.takes = `Take ${row.name || `the ink at place ${row.place}`}`;
    this.notes.note(row);
  },

  show() {
    this.cornersShown = !this.cornersShown;
    const [w, h] = this.size;
    this.at ??= [[0.12, 0.12], [0.88, 0.12], [0.12, 0.88], [0.88, 0.88]].map(([x, y]) => [x * w, y * h]);
    this.paint();
    if (this.cornersShown) focusOn('[data-corner="0"]');
  },

  hold(event, corner) {
    const where = shares(this.$refs.photo);
    follow(event, (now) => where(now), ({ across, down }, settled) => this.move(corner.key, this.view[0] + across * this.view[2], this.view[1] + down * this.view[3], settled));
  },

  nudge(event, corner) {
    const by = arrow(event);
    if (!by) return;
    const step = Math.max(...this.size) / (event.shiftKey ? 100 : 500);
    const [x, y] = this.at[corner.key];
    this.move(corner.key, x + by[0] * step, y + by[1] * step, true);
  },

  move(key, x, y, settled) {
    const within = (value, most) => Math.min(Math.max(value, 0), most);
    this.at = this.at.map((corner, n) => (n === key ? [within(x, this.size[0]), within(y, this.size[1])] : corner));
    this.moved = true;
    clearTimeout(this.waits);
    if (settled) this.waits = setTimeout(() => this.again(), 400);
  },

  async take() {
    const inks = this.chosen.map((row) => row.ink);
    Object.assign(this, { wrong: "", canRetry: false, busy: true, busyWith: "The inks are being put into the drawer." });
    try {
      await ask("POST", "/api/swatches", { inks, phone: this.phone });
      this.notes.forget();
      location.assign("/drawer");
    } catch (error) {
      this.refuse(error.isUnreachable ? "The program does not answer: it is not known whether they were kept. All of it is still here: take it again, nothing is kept twice." : error.message);
    }
  },
}));

Alpine.start();
