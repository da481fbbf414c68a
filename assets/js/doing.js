// One step of an evening at a time. What is told lies in this browser until the program has answered, in its order; while the
// program is away the hands go on with the steps it told ahead. No rule of the craft is here.

import Alpine from "@alpinejs/csp";
import { ask } from "./keeper.js";
import { measure } from "./measure.js";

const RETRY_MS = 2500;
const LOOK_MS = 8000;
const TICK_MS = 500;
/** Keys that are for the page itself; any other is a foot switch's. */
const OWN_KEYS = ["Tab", "Escape", "Shift", "Control", "Alt", "Meta", "CapsLock", "?", "u", "r", "b", "e", "d", "p", "m", "s", "ArrowUp"];
const BACK_KEYS = ["ArrowLeft", "u"];

const clockOf = (ms) => {
  const seconds = Math.max(0, Math.ceil(ms / 1000));
  const [hours, minutes] = [Math.floor(seconds / 3600), Math.floor(seconds / 60) % 60];
  const rest = String(seconds % 60).padStart(2, "0");
  return hours ? `${hours}:${String(minutes).padStart(2, "0")}:${rest}` : `${minutes}:${rest}`;
};

function beep() {
  const sound = new AudioContext();
  const tone = sound.createOscillator();
  const soft = sound.createGain();
  soft.gain.value = 0.08;
  tone.frequency.value = 660;
  tone.connect(soft).connect(sound.destination);
  tone.start();
  tone.stop(sound.currentTime + 0.35);
}

/** Whether what was told takes the hands on to the next step. */
const goesOn = (what) => what === "ready" || ["done", "heated", "skipped", "closed"].some((word) => Object.hasOwn(Object(what), word));

Alpine.directive("measure", measure);
Alpine.data("doing", () => ({
  view: null,
  /** The picture of what is made last. */
  last: "",
  /** What was told and not answered yet, each with its mark and this browser's time. */
  line: [],
  /** How many of the steps told ahead are behind the hands already. */
  past: 0,
  /** How many are sent at once. */
  each: Infinity,
  asking: false,
  away: false,
  said: "",
  time: Date.now(),
  /** What the program's clock is ahead of this browser's. */
  ahead: 0,
  sound: false,
  rung: 0,

  init() {
    this.id = this.$el.dataset.evening;
    this.name = this.$el.dataset.name;
    this.shelf = `rosy-veil evening ${this.id}`;
    this.line = this.left();
    this.sound = localStorage.getItem("rosy-veil sound") === "on";
    this.past = this.line.filter(({ what }) => goesOn(what)).length;
    this.send();
    setInterval(() => this.tick(), TICK_MS);
    setInterval(() => document.visibilityState === "visible" && this.send(), LOOK_MS);
    const awake = () => document.visibilityState === "visible" && navigator.wakeLock?.request("screen").catch(() => {});
    document.addEventListener("visibilitychange", awake);
    awake();
  },

  /** Sends what waits, or asks how the evening stands. */
  async send() {
    if (this.asking) return;
    this.asking = true;
    // Whatever page of this browser told it: all of it waits in one place.
    this.line = this.left();
    const sent = this.line.slice(0, this.each);
    const address = `/api/evenings/${this.id}`;
    try {
      const told = sent.map(({ mark, at, what }) => ({ mark, what, ago: Date.now() - at }));
      const view = sent.length ? await ask("POST", address, { told }) : await ask("GET", address);
      this.away = false;
      this.answered(sent);
      // What was told meanwhile is still to be sent.
      if (this.line.length === 0) this.take(view);
    } catch (error) {
      this.away = Boolean(error.isUnreachable);
      if (!error.isUnreachable) this.said = error.stale ? "Reload this page: what you told is kept in this browser." : error.message;
      // All is refused for the sake of one: one after the other, only that one goes.
      if (error.said?.status === 422) {
        if (sent.length === 1) {
          this.answered(sent);
          this.past = 0;
        }
        this.each = 1;
      }
      await new Promise((go) => setTimeout(go, RETRY_MS));
    }
    this.asking = false;
    if (this.line.length) this.send();
  },
  take(view) {
    const before = this.step?.title;
    this.view = view;
    this.past = 0;
    const made = view.last ? `/evenings/${this.id}/cards/${view.last.card}.png` : "";
    this.last = view.steps.at(-1)?.picture ?? (this.last || made);
    this.ahead = view.now - Date.now();
    if (view.said) this.said = view.said;
    if (before !== undefined && before !== this.step?.title) this.$nextTick(() => this.$refs.title.focus({ preventScroll: true }));
  },
  left() {
    return JSON.parse(localStorage.getItem(this.shelf) ?? "[]");
  },
  keep(line) {
    this.line = line;
    if (line.length) localStorage.setItem(this.shelf, JSON.stringify(line));
    else localStorage.removeItem(this.shelf);
  },
  answered(sent) {
    const marks = sent.map(({ mark }) => mark);
    this.keep(this.left().filter(({ mark }) => !marks.includes(mark)));
    if (this.line.length === 0) this.each = Infinity;
  },
  tell(what) {
    this.keep([...this.left(), { mark: crypto.randomUUID(), at: Date.now(), what }]);
    this.send();
  },
  tick() {
    this.time = Date.now();
    const step = this.step;
    if (this.sound && step && step.begins > this.rung && step.begins <= this.now && this.now - step.begins < 3000) {
      this.rung = step.begins;
      beep();
    }
  },

  get now() {
    return this.time + this.ahead;
  },
  get hasBegun() {
    return Boolean(this.view?.has_begun) || this.line.some((one) => one.what === "begun");
  },
  get isAway() {
    const last = this.line.at(-1);
    return last ? last.what === "away" : Boolean(this.view?.away);
  },
  get step() {
    return this.view?.steps[this.past];
  },
  get isOver() {
    return Boolean(this.view) && !this.step;
  },
  /** Whether all is done, and the program knows it. */
  get isDone() {
    return this.isOver && this.line.length === 0 && this.title === "All done";
  },
  /** Whether what was made can go into the record, or is there already. */
  get isMade() {
    return this.isDone && this.view.is_made;
  },
  get isRecorded() {
    return this.isDone && !this.view.is_made;
  },
  get title() {
    if (!this.view) return "…";
    if (this.isOver) return this.view.all > this.view.steps.length + this.view.done ? "Waiting for the program" : "All done";
    return this.isAway ? "Away from the bench" : this.step.title;
  },
  get where() {
    if (!this.view) return "";
    const at = this.view.done + this.past + 1;
    if (!this.step) return "";
    // A card made by itself gives the evening its name.
    const card = this.step.name === this.name ? "" : ` · ${this.step.name}`;
    return `${card} · step ${at} of ${this.view.all}`;
  },
  get how() {
    return this.isAway ? this.awaySays : (this.step?.how ?? []);
  },
  get care() {
    return this.isAway ? [] : (this.step?.care ?? []);
  },
  get awaySays() {
    const open = this.view?.joins.filter((join) => join.until > this.now) ?? [];
    const join = ({ ink, name, until }) => `${ink} on ${name} stays damp enough for its join for ${clockOf(until - this.now)} more.`;
    return ["What dries goes on drying by itself. The rest is planned anew when you are back.", ...open.slice(0, 3).map(join)];
  },
  get picture() {
    return this.step?.picture ?? this.last;
  },
  get waits() {
    return this.isAtWork && this.past === 0 && this.step.begins > this.now + 1000;
  },
  get clockTime() {
    if (!this.step || !this.hasBegun) return "";
    const left = ((this.waits ? this.step.begins : this.step.ends) ?? 0) - this.now;
    return left > 0 ? clockOf(left) : "";
  },
  get clockSays() {
    if (!this.isAtWork || this.past > 0) return "";
    if (this.waits) return `until ${this.step.name} is ready`;
    if (this.step.ends === null) return "";
    return this.step.ends > this.now ? "for this, by the plan" : "longer than planned: take the time it takes";
  },
  get clockShare() {
    if (!this.step) return 0;
    const from = this.waits ? Math.min(...this.view.clocks.filter((clock) => clock.card === this.step.card).map((clock) => clock.from), this.view.now) : this.step.begins;
    const to = this.waits ? this.step.begins : (this.step.ends ?? from);
    return Math.round(1000 * Math.min(1, Math.max(0, (this.now - from) / Math.max(1, to - from))));
  },
  get others() {
    const clocks = (this.view?.clocks ?? []).filter((clock) => clock.until > this.now && clock.card !== this.step?.card);
    return clocks.slice(0, 6).map((clock) => ({ key: clock.card, name: `until ${clock.name} is dry`, dryWord: `${clock.name} is dry already`, time: clockOf(clock.until - this.now) }));
  },
  get nextSays() {
    if (this.isAway) return "Space, or any key of a foot switch: back at the bench";
    const next = this.view?.steps[this.past + 1];
    return next ? `Space, or any key of a foot switch: done · next: ${next.title}${next.card === this.step.card ? "" : `, on ${next.name}`}` : "";
  },
  get doneWord() {
    if (this.isAway) return "Back at the bench";
    return this.hasBegun ? "Done" : "Begin";
  },
  /** Whether a step is under the hands, as long as they are at the bench. */
  get isAtWork() {
    return this.hasBegun && Boolean(this.step) && !this.isAway;
  },
  /** Whether something lies on the card, or is about to: before that nothing can be damp or go wrong. */
  get isInking() {
    return this.isAtWork && this.step.tell !== "ready";
  },
  /** Where the card that was worked on last is shown, once all that was told of it is kept. */
  get shownAt() {
    return this.view?.last?.shown ?? "";
  },
  get hasShown() {
    return Boolean(this.shownAt) && this.past === 0 && this.line.length === 0;
  },
  get canSkip() {
    return this.isAtWork && this.past === 0 && this.step.skips;
  },
  get canGoBack() {
    return this.hasBegun && Boolean(this.view) && (this.view.done > 0 || this.line.length > 0);
  },
  get status() {
    if (this.away) return this.line.length ? `the program is away: ${this.line.length} told, kept in this browser` : "the program is away";
    return this.line.length ? "telling…" : this.view ? "kept" : "";
  },
  get statusClass() {
    return this.away ? "is-away" : "";
  },

  done() {
    this.said = "";
    if (!this.hasBegun) return this.tell("begun");
    if (this.isAway) return this.tell("back");
    if (!this.step) return;
    const { tell } = this.step;
    this.past += 1;
    this.tell(tell);
  },
  dry(event) {
    const { card } = event.currentTarget.dataset;
    this.tell({ "is-dry": { card: Number(card ?? this.step.card) } });
  },
  skip() {
    const skipped = this.step.tell.done;
    this.past += 1;
    this.tell({ skipped });
  },
  leave() {
    this.said = "";
    this.tell("away");
  },
  damp() {
    this.tell({ "still-damp": { card: this.step.card } });
  },
  back() {
    this.said = "";
    this.past = Math.max(0, this.past - 1);
    this.tell("taken-back");
  },
  went(event) {
    const { card, fault } = event.target.dataset;
    this.tell({ went: { card: Number(card), fault } });
    event.target.closest("details").open = false;
  },
  /** The cards that something can have gone wrong on: the one before, and the one in hand. */
  get touched() {
    const [last, step] = [this.view?.last, this.step];
    const cards = last ? [last] : [];
    if (step && step.card !== last?.card) cards.push({ card: step.card, name: step.name });
    return cards;
  },
  setSound(event) {
    this.sound = event.target.checked;
    localStorage.setItem("rosy-veil sound", this.sound ? "on" : "off");
  },
  key(event) {
    if (event.ctrlKey || event.metaKey || event.altKey || document.querySelector("dialog[open]")) return;
    const on = event.target.closest("button, a, input, summary, select, textarea");
    if (on && !on.matches("[data-done]") && ["Enter", " "].includes(event.key)) return;
    if (BACK_KEYS.includes(event.key)) {
      if (this.canGoBack) this.back();
    } else if (OWN_KEYS.includes(event.key) || event.repeat) return;
    else this.done();
    event.preventDefault();
    event.stopPropagation();
  },
}));

Alpine.start();
