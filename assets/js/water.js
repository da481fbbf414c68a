// What is done with water: patches and presses on the mat, bottles, flecks. Words and grips change it, the program answers
// with the pictures and the sentences. No rule of the craft is here, and no measure is worked out.

import Alpine from "@alpinejs/csp";
import { focusOn, keeper } from "./keeper.js";
import { line, showWrong, tellAnew } from "./line.js";
import { measure } from "./measure.js";

const ARROWS = { ArrowLeft: [-1, 0], ArrowUp: [0, -1], ArrowRight: [1, 0], ArrowDown: [0, 1] };

/** What two changes of one kind come to, the second going on from the first. */
function joined(kind, was, is) {
  switch (kind) {
    case "hold":
      return was.patch === is.patch ? is : null;
    case "aim":
      return was.deed === is.deed ? is : null;
    case "nudge":
      return was.patch === is.patch ? { ...is, right: was.right + is.right, down: was.down + is.down } : null;
    case "aim-nudge":
      return was.deed === is.deed ? { ...is, right: was.right + is.right, down: was.down + is.down } : null;
    default:
      return null;
  }
}

const PLAIN = {
  mat: "lay inks on the mat",
  "no-mat": "put the mat away",
  patch: "another patch on the mat",
  press: "press once more",
  three: "three cards from one mat",
};
const PLACED = {
  "no-patch": "take a patch off the mat",
  "no-press": "leave a press out",
  earlier: "do it earlier",
  later: "do it later",
  remove: "leave it out",
  less: "less of it",
  more: "more of it",
  again: "the same once again",
  unplace: "take the last fleck back",
  clear: "an ink that stays clean",
};

Alpine.directive("measure", measure);
Alpine.data("water", () => ({
  ...keeper(document.querySelector("[data-panel]")),
  ...line({ address: "/api/panels/water", name: "water", joined }),
  picture: "",
  mat: "",
  patches: [],
  aims: [],
  spares: [],
  /** The mat and the card after each press; and the press after which they are shown, or none: then all is done. */
  presses: [],
  press: null,
  /** The flecks that are being placed on the picture, by their place. */
  placing: null,
  inches: 1,

  init() {
    const { ratio, inches } = this.$el.dataset;
    this.$el.style.setProperty("--ratio", ratio);
    this.inches = Number(inches);
    this.takeUp();
    this.changed();
    this.takeUpLine();
  },

  seen(look, { cell, after }) {
    this.picture = look.picture;
    this.mat = look.mat ?? "";
    [this.patches, this.aims] = [look.patches, look.aims];
    if (look.told === undefined) return;
    [this.spares, this.presses] = [look.spares, look.presses];
    if (this.press >= this.presses.length) this.press = null;
    const told = new DOMParser().parseFromString(look.told, "text/html").body;
    const key = (element) => this.keyOf(element);
    tellAnew(this.$refs.mats, [told.querySelector('[data-part="mat"]')], key, cell);
    tellAnew(this.$refs.thens, [told.querySelector('[data-part="then"]')], key, cell);
    if (this.placing !== null && !document.querySelector(`[data-deed="placing"][data-place="${this.placing}"]`)) this.placing = null;
    if (after) after();
  },
  keyOf(element) {
    const { row, place, set, deed } = element.dataset;
    if (set) return `[data-row="${row}"][data-place="${place}"][data-set="${set}"]`;
    if (deed) return `[data-deed="${deed}"]${place === undefined ? "" : `[data-place="${place}"]`}`;
    return null;
  },
  refuse({ field, says }) {
    const [row, place, set] = field.split("-");
    const wrong = document.querySelector(`[data-wrong="${row}-${place}"]`);
    const input = document.querySelector(`[data-row="${row}"][data-place="${place}"][data-set="${set}"]`);
    if (!showWrong(wrong, input, says)) this.tell(says);
  },

  word(event) {
    const { row, place, set } = event.target.dataset;
    if (!set) return;
    const to = event.target.type === "checkbox" ? (event.target.checked ? "on" : "off") : event.target.value;
    this.wish({ change: { set: { row, place: Number(place), what: set, to } }, label: `change what is done with water`, settled: true });
  },
  deed(event) {
    const button = event.target.closest("[data-deed]");
    if (!button) return;
    const { deed, place } = button.dataset;
    if (deed === "placing") {
      this.press = null;
      this.placing = Number(place);
      focusOn("[data-placing] button");
      return;
    }
    if (deed in PLAIN) this.wish({ change: { [deed]: null }, label: PLAIN[deed], settled: true });
    else this.wish({ change: { [deed]: Number(place) }, label: PLACED[deed], settled: true });
  },
  add() {
    const chosen = this.$refs.fresh.selectedOptions[0];
    const next = document.querySelectorAll("[data-deed-row]").length;
    this.wish({ change: { add: chosen.value }, label: chosen.textContent.toLowerCase(), settled: true, cell: `[data-deed-row="${next}"] .word` });
  },
  spareName(at) {
    return `Spare card ${at + 1}`;
  },

  // Press by press

  get then() {
    return this.press === null ? { mat: this.mat, card: this.picture } : this.presses[this.press];
  },
  get matSays() {
    return this.isAll ? "The mat, misted, where the card comes down" : `The mat after ${this.then.says.toLowerCase()}`;
  },
  get cardSays() {
    return this.isAll ? "How the panel will look" : `The card after ${this.then.says.toLowerCase()}`;
  },
  get isAll() {
    return this.press === null;
  },
  get pressNotes() {
    return this.presses.map((press, place) => ({ ...press, place, chosen: this.press === place }));
  },
  showPress(note) {
    this.placing = null;
    this.press = note.place;
  },
  showAll() {
    this.press = null;
  },

  // Grips

  get patchGrips() {
    if (!this.isAll) return [];
    return this.patches.map((patch) => ({
      key: `patch ${patch.place}`,
      kind: "patch",
      place: patch.place,
      label: `The patch of ${patch.name}: move it`,
      style: { left: `${patch.left}%`, top: `${patch.top}%` },
    }));
  },
  get aimGrips() {
    if (!this.isAll) return [];
    return this.aims.map((aim) => ({
      key: `aim ${aim.place}`,
      kind: "aim",
      place: aim.place,
      label: `The spray of ${aim.name}: aim it`,
      style: { left: `${aim.left}%`, top: `${aim.top}%` },
    }));
  },
  hold(event, grip) {
    event.preventDefault();
    event.stopPropagation();
    const target = event.target;
    target.focus({ preventScroll: true });
    target.setPointerCapture(event.pointerId);
    const isPatch = grip.kind === "patch";
    const box = (isPatch ? this.$refs.mat : this.$refs.picture).getBoundingClientRect();
    const change = (now) => {
      const at = { across: (now.clientX - box.left) / box.width, down: (now.clientY - box.top) / box.height };
      return isPatch ? { hold: { patch: grip.place, ...at } } : { aim: { deed: grip.place, ...at } };
    };
    let last = null;
    const drag = (now) => {
      last = change(now);
      this.wish({ change: last, settled: false });
    };
    const drop = () => {
      target.removeEventListener("pointermove", drag);
      if (last) this.wish({ change: last, label: isPatch ? "move a patch" : "aim the bottle", settled: true });
    };
    target.addEventListener("pointermove", drag);
    target.addEventListener("pointerup", drop, { once: true });
    target.addEventListener("pointercancel", drop, { once: true });
  },
  nudge(event, grip) {
    const [right, down] = ARROWS[event.key] ?? [0, 0];
    if (!right && !down) return;
    event.preventDefault();
    const change = grip.kind === "patch" ? { nudge: { patch: grip.place, right, down } } : { "aim-nudge": { deed: grip.place, right, down } };
    this.wish({ change, label: grip.kind === "patch" ? "move a patch" : "aim the bottle", settled: true });
  },

  // Flecks placed one by one

  place(event) {
    if (this.placing === null) return;
    const box = this.$refs.picture.getBoundingClientRect();
    const at = { across: (event.clientX - box.left) / box.width, down: (event.clientY - box.top) / box.height };
    this.wish({ change: { place: { deed: this.placing, ...at } }, label: "place a fleck", settled: true });
  },
  stopPlacing() {
    const was = this.placing;
    this.placing = null;
    focusOn(`[data-deed="placing"][data-place="${was}"]`);
  },
}));

Alpine.start();
