// A photo on the page: brought, kept as bytes until it is answered, drawn as large as it goes, and four corners on it to be moved.

import { arrow, follow, shares } from "./grips.js";
import { focusOn } from "./keeper.js";

const CORNERS = ["left above", "right above", "left below", "right below"];
/** Pixels along the longer side of the photo as it lies on the page. */
const SHOWN = 1600;
/** Most bytes that are sent. */
const MOST = 24 * 1024 * 1024;

/** Parts of a page's state in one, getters as getters. */
export const together = (...parts) => Object.defineProperties({}, Object.assign({}, ...parts.map(Object.getOwnPropertyDescriptors)));

/** The photo itself: nothing that a page's state is to watch. */
let bitmap = null;

/**
 * What a page with a photo has. It says of what the corners are, and has `again()`, which asks what the photo says, `brought(file)`, called
 * before that for a new one, and `isRead`, whether there is an answer.
 */
export const photo = (ofWhat) => ({
  file: null,
  size: [1, 1],
  /** What of the photo is seen: left, top, width and height in its pixels. */
  view: [0, 0, 1, 1],
  wrong: "",
  canRetry: false,
  busy: false,
  busyWith: "",
  /** The four corners in the photo, where they are known; shown where they are to be moved. */
  at: null,
  cornersShown: false,
  moved: false,
  turn: 0,

  get hasPhoto() {
    return Boolean(this.file);
  },
  get photoButton() {
    return this.hasPhoto ? "" : "strong";
  },
  get corners() {
    if (!this.cornersShown || !this.at) return [];
    return this.at.map((at, key) => this.grip(key, `The ${ofWhat}'s corner ${CORNERS[key]}`, at, (to) => this.putCorner(key, to)));
  },

  /** What is taken hold of at a place of the photo, and how it is put elsewhere. */
  grip(key, label, at, put) {
    const style = { left: `${(100 * (at[0] - this.view[0])) / this.view[2]}%`, top: `${(100 * (at[1] - this.view[1])) / this.view[3]}%` };
    return { key, label, at, put, style };
  },

  async bring({ target }) {
    const [file] = target.files;
    target.value = "";
    if (file) await this.put(file);
  },

  /** Puts a photo on the page and has it read; one that the program keeps already under its number. */
  async put(file, kept) {
    if (file.size > MOST) return this.refuse("The photo is larger than 24 MB: make it smaller first. Nothing was sent.");
    let drawn;
    try {
      drawn = await createImageBitmap(file, { imageOrientation: "from-image" });
    } catch {
      return this.refuse("This browser cannot show this picture: save it as JPEG, and bring that.");
    }
    bitmap?.close();
    bitmap = drawn;
    Object.assign(this, { at: null, moved: false, cornersShown: false, size: [bitmap.width, bitmap.height] });
    this.brought(file, kept);
    // Held as bytes: a file that is moved or taken away is sent again all the same.
    this.file = new Blob([await file.arrayBuffer()]);
    this.draw();
    await this.again();
  },

  refuse(says, canRetry = false) {
    Object.assign(this, { wrong: says, canRetry, busy: false });
  },

  /** Asks what the photo says as it lies there now; the latest asking is answered, and nothing where it was not. */
  async asked(asking) {
    const turn = ++this.turn;
    Object.assign(this, { wrong: "", canRetry: false, busy: true, busyWith: "The photo is being read." });
    try {
      const seen = await asking();
      if (turn !== this.turn) return null;
      this.busy = false;
      if (!this.moved) this.at = seen.corners;
      return seen;
    } catch (error) {
      if (turn !== this.turn) return null;
      this.refuse(error.isUnreachable ? "The program does not answer. The photo is still here." : error.message, error.isUnreachable);
      // Where they were not found, they can be shown.
      if (!error.isUnreachable && !this.at) this.show();
      return null;
    }
  },

  /** The corners as they are told where they were moved. */
  cornersTold() {
    return this.at.flat().map((n) => n.toFixed(1)).join(",");
  },

  /** Shows the photo: what lies between the corners as large as it goes, or all of it while they are moved. */
  paint() {
    const [w, h] = this.size;
    let [left, top, right, foot] = [0, 0, w, h];
    if (this.at && this.isRead && !this.cornersShown) {
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

  show() {
    this.cornersShown = !this.cornersShown;
    const [w, h] = this.size;
    this.at ??= [[0.12, 0.12], [0.88, 0.12], [0.12, 0.88], [0.88, 0.88]].map(([x, y]) => [x * w, y * h]);
    this.draw();
    if (this.cornersShown) focusOn('[data-corner="0"]');
  },

  hold(event, grip) {
    const where = shares(this.$refs.photo);
    follow(event, (now) => where(now), ({ across, down }) => this.move(grip, this.view[0] + across * this.view[2], this.view[1] + down * this.view[3]));
  },

  nudge(event, grip) {
    const by = arrow(event);
    if (!by) return;
    const step = Math.max(...this.size) / (event.shiftKey ? 100 : 500);
    this.move(grip, grip.at[0] + by[0] * step, grip.at[1] + by[1] * step);
  },

  move(grip, x, y) {
    const within = (value, most) => Math.min(Math.max(value, 0), most);
    grip.put([within(x, this.size[0]), within(y, this.size[1])]);
  },

  /** A corner that has come to rest has the photo read again from where it is. */
  putCorner(key, to) {
    this.at = this.at.map((corner, n) => (n === key ? to : corner));
    this.moved = true;
    clearTimeout(this.waits);
    this.waits = setTimeout(() => this.again(), 400);
  },
});
