// What is done with water: patches and presses on the mat, bottles, flecks. Words and grips change it, the program answers
// with the pictures and the sentences. No rule of the craft is here, and no measure is worked out.

import Alpine from "@alpinejs/csp";
import { focusOn, keeper } from "./keeper.js";
import { arrow, follow, shares } from "./grips.js";
import { looks, showWrong, tellAnew, together } from "./looks.js";
import { measure } from "./measure.js";

/** What two changes of one kind come to, the second going on from the first. */
function sum(kind, was, is) {
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

/** Deeds with no place of their own. */
const PLAIN = ["mat", "no-mat", "patch", "press", "three"];

Alpine.directive("measure", measure);
Alpine.data("water", () => ({
  ...keeper(document.querySelector("[data-panel]")),
  ...looks({
    address: "/api/panels/water",
    kind: "water",
    joined: (was, is) => together(was, is, sum),
    repeats: ["less", "more"],
  }),
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

  init() {
    this.begin();
  },

  seen(look, { cell }) {
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
  },
  keyOf(element) {
    const { row, place, set, deed } = element.dataset;
    if (set) return `[data-row="${row}"][data-place="${place}"][data-set="${set}"]`;
    if (deed) return `[data-deed="${deed}"]${place === undefined ? "" : `[data-place="${place}"]`}`;
    return null;
  },
  isWrong(field, says) {
    const [row, place, set] = field.split("-");
    const wrong = document.querySelector(`[data-wrong="${row}-${place}"]`);
    const input = document.querySelector(`[data-row="${row}"][data-place="${place}"][data-set="${set}"]`);
    if (!showWrong(wrong, input, says)) this.tell(says);
  },

  word({ target }) {
    const { row, place, set } = target.dataset;
    if (!set) return;
    const to = target.type === "checkbox" ? (target.checked ? "on" : "off") : target.value;
    this.make({ set: { row, place: Number(place), what: set, to } });
  },
  deed({ target }) {
    const button = target.closest("[data-deed]");
    if (!button) return;
    const { deed, place } = button.dataset;
    if (deed === "placing") {
      this.press = null;
      this.placing = Number(place);
      focusOn("[data-placing] button");
      return;
    }
    this.make({ [deed]: PLAIN.includes(deed) ? null : Number(place) });
  },
  add() {
    const next = document.querySelectorAll("[data-deed-row]").length;
    this.make({ add: this.$refs.fresh.value }, { cell: `[data-deed-row="${next}"] .word` });
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
    const isPatch = grip.kind === "patch";
    const at = shares(isPatch ? this.$refs.mat : this.$refs.picture);
    const change = (now) => (isPatch ? { hold: { patch: grip.place, ...at(now) } } : { aim: { deed: grip.place, ...at(now) } });
    follow(event, change, (change, kept) => (kept ? this.make(change) : this.attempt(change)));
  },
  nudge(event, grip) {
    const by = arrow(event);
    if (!by) return;
    const [right, down] = by;
    this.make(grip.kind === "patch" ? { nudge: { patch: grip.place, right, down } } : { "aim-nudge": { deed: grip.place, right, down } });
  },

  // Flecks placed one by one

  place(event) {
    if (this.placing !== null) this.make({ place: { deed: this.placing, ...shares(this.$refs.picture)(event) } });
  },
  stopPlacing() {
    const was = this.placing;
    this.placing = null;
    focusOn(`[data-deed="placing"][data-place="${was}"]`);
  },
}));

Alpine.start();
