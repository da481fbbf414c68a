// Swatches from a photo: the photo lies on the page, the program says what is where on it, and what is chosen goes into the drawer.

import Alpine from "@alpinejs/csp";
import { ask } from "./keeper.js";
import { marks } from "./marks.js";
import { photo, together } from "./photo.js";

const SVG = "http://www.w3.org/2000/svg";
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

Alpine.data("swatches", () => together(photo("frame"), marks(), {
  says: "",
  better: "",
  rows: [],
  /** What was read where one ink lies over another. */
  overs: [],
  phone: null,
  /** What was written beside this photo. */
  notes: notesOf(null),

  get isRead() {
    return this.hasRows;
  },
  get hasRows() {
    return this.rows.length > 0;
  },
  get hasOvers() {
    return this.overs.length > 0;
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

  unread() {
    Object.assign(this, { rows: [], overs: [], says: "", better: "" });
  },

  brought(file) {
    this.unread();
    this.notes = notesOf(file);
    this.marksOf(file);
  },

  /** Has the photo read, as it lies there now. */
  async again() {
    if (!this.file || (this.byHand && this.cannotRead)) return;
    const told = new URLSearchParams();
    if (this.$refs.card?.value) told.set("card", this.$refs.card.value);
    if (this.$refs.other?.checked) told.set("other_phone", "true");
    if (this.moved && !this.byHand) told.set("corners", this.cornersTold());
    this.tellMarks(told);
    const named = this.notes.all().filter(({ name }) => name).map(({ place, name }) => ({ place, name }));
    if (named.length && !this.byHand) told.set("inks", JSON.stringify(named));
    const seen = await this.asked(() => ask("POST", `/api/swatches/look?${told}`, this.file));
    if (!seen) return;
    this.rows = seen.rows.map((row) => this.row(row, this.byHand ? undefined : this.notes.of(row.place)));
    this.overs = seen.over.map((one, key) => ({ key, ...one, tone: one.mark.refused ? "text-dusky font-semibold" : "text-soft" }));
    Object.assign(this, { says: seen.says, better: seen.better ?? "", phone: seen.phone });
    this.draw();
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

  /** Outlines what was read, and crosses what was not; the strips beside. */
  draw() {
    this.paint();
    const patches = this.rows.flatMap((row) => row.marks.map((mark) => this.outlined(mark, row.name, row.place)));
    const over = this.overs.map(({ mark }) => this.outlined(mark));
    this.$refs.marks.replaceChildren(...patches, ...over, ...this.rings.map((ring) => this.circle(ring)));
    this.$nextTick(() => {
      for (const row of this.rows) {
        const put = (where, svg) => {
          const place = document.querySelector(`[data-strip-${where}="${row.place}"]`);
          if (place) place.innerHTML = svg ?? "";
        };
        put("now", row.now);
        put("before", row.before);
      }
    });
  },

  outlined(mark, name, place) {
    const shape = document.createElementNS(SVG, "polygon");
    shape.setAttribute("points", mark.points);
    shape.setAttribute("class", mark.refused ? "patch refused" : "patch");
    if (place) shape.dataset.place = place;
    shape.append(Object.assign(document.createElementNS(SVG, "title"), { textContent: name ? `${name}: ${mark.says}` : mark.says }));
    return shape;
  },

  /** How much of the photo is looked at about a place that was shown. */
  circle({ at }) {
    const shape = document.createElementNS(SVG, "circle");
    for (const [name, value] of Object.entries({ cx: at[0], cy: at[1], r: this.reach })) shape.setAttribute(name, value);
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

  async take() {
    const inks = this.chosen.map((row) => row.ink);
    Object.assign(this, { wrong: "", canRetry: false, busy: true, busyWith: "The inks are being put into the drawer." });
    try {
      await ask("POST", "/api/swatches", { inks, phone: this.phone });
      this.notes.forget();
      this.forgetMarks();
      location.assign("/drawer");
    } catch (error) {
      this.refuse(error.isUnreachable ? "The program does not answer: it is not known whether they were kept. All of it is still here: take it again, nothing is kept twice." : error.message);
    }
  },
}));

Alpine.start();
