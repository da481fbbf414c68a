// A line of wishes for a page whose every change is worked out by the program: they are asked one after the other, those
// that go on from one another are asked as one, and what was not answered outlives the page.

import { ask, unmade } from "./keeper.js";

const RETRY_MS = 2500;

export const kindOf = (change) => change && Object.keys(change)[0];

/** Two wishes in a row as one, where `joined` knows what their changes come to; otherwise nothing. */
export function together(first, second, joined) {
  const [one, other] = [first.change, second.change];
  if (!one && !other) return { ...second, settled: first.settled || second.settled };
  if (!one || !other || kindOf(one) !== kindOf(other)) return null;
  const value = joined(kindOf(one), Object.values(one)[0], Object.values(other)[0]);
  if (value === null) return null;
  return { ...second, kept: second.kept || first.kept, change: { [kindOf(one)]: value } };
}

/**
 * What a page with such a line has: where it asks, what it calls the line, how changes are joined, and which go further each time
 * they are pressed. A page says what it
 * asks beside the panel (`asks`), takes what is answered (`seen`), and shows what was refused (`refuse`, `refused`).
 *
 * A change lies in this browser from the moment it is made until the panel it leads to waits to be kept: a page that is left
 * before the answer comes has its changes made by the next.
 */
export function line({ address, name, joined, repeats = [] }) {
  return {
    asking: false,
    inches: 1,
    /** The panel that is shown with all that takes a moment longer; none where something else is shown. */
    settled: "",
    /** What is still to be asked; the first is being asked now. */
    line: [],
    unmade: null,
    takingUp: false,

    begin() {
      const { ratio, inches } = this.$el.dataset;
      this.$el.style.setProperty("--ratio", ratio);
      this.inches = Number(inches);
      this.takeUp();
      this.changed();
      this.takeUpLine();
    },
    /** What an earlier page changed and did not see made. */
    async takeUpLine() {
      this.unmade = unmade(`${this.shelf} ${name}`);
      this.takingUp = true;
      try {
        for (const wish of await this.unmade.left()) this.wish(wish);
        this.unmade.taken();
      } finally {
        this.takingUp = false;
        this.settle();
      }
    },
    keepUnmade() {
      this.unmade?.keep(this.line);
      this.settle();
    },
    /** Whether a change has still to be made. */
    isPending() {
      return this.takingUp || this.line.some((wish) => wish.change);
    },
    changed() {
      // What is still on its way may show another panel than this one: then this is asked for after it.
      if (this.line.length > 0 || JSON.stringify(this.panel) !== this.settled) this.wish({ settled: true });
    },
    /** Makes a change; where the hand still moves, it is only looked at. */
    make(change, more) {
      this.wish({ change, kept: true, settled: true, ...more });
    },
    refuse({ says }) {
      this.tell(says);
    },
    asks: () => ({}),
    refused(error) {
      this.tell(error.message);
    },
    /** Whether it was pressed again while the same is still on its way. */
    isPressedAgain({ change }) {
      const waits = change && this.line.at(-1)?.change;
      if (!waits || JSON.stringify(waits) !== JSON.stringify(change)) return false;
      const value = Object.values(change)[0];
      return !repeats.includes(kindOf(change)) && joined(kindOf(change), value, value) === null;
    },
    wish(wish) {
      if (this.isPressedAgain(wish)) return;
      const asked = this.asking ? 1 : 0;
      const last = this.line.length > asked && this.line.at(-1);
      const merged = last && together(last, wish, joined);
      if (merged) this.line.splice(-1, 1, merged);
      else this.line.push(wish);
      if (wish.change) this.keepUnmade();
      if (!this.asking) this.askNext();
    },
    async askNext() {
      const wish = this.line[0];
      this.asking = Boolean(wish);
      if (!wish) return;
      const { change, settled } = wish;
      const wide = this.$refs.picture.clientWidth || 420;
      // While a hand moves the picture may be coarser; it sharpens as soon as it rests.
      const finest = settled ? 200 : 48;
      const dpi = Math.max(20, Math.min(finest, (wide / this.inches) * Math.min(devicePixelRatio, 1.5)));
      const asked = { panel: this.panel, change, dpi, settled, ...this.asks(wish) };
      const [look, error] = await ask("POST", address, asked).then((look) => [look], (error) => [null, error]);
      // What waits stays where it lies: the page that is opened next makes it.
      if (error?.stale) return this.goStale();
      if (error?.away) {
        this.status = change ? "not kept yet, trying again…" : "the picture waits for the program…";
        await new Promise((go) => setTimeout(go, RETRY_MS));
        return this.askNext();
      }
      this.line.shift();
      try {
        if (error) this.refused(error, wish);
        else if (look.field) this.refuse(look);
        else this.answered(look, wish);
      } finally {
        this.keepUnmade();
        this.askNext();
      }
    },
    /** Kept first, drawn second. */
    answered(look, wish) {
      if (wish.change) this.panel = look.panel;
      this.settled = wish.settled ? JSON.stringify(look.panel) : "";
      // One that lay in this browser from before has its label with it.
      if (wish.kept || wish.label) this.save(look.label);
      this.seen(look, wish);
    },
  };
}

/** Puts new sentences in place of old ones; what was open stays open, the focus where it was, and what is being written. */
export function tellAnew(holder, html, keyOf, cell) {
  const own = holder.contains(document.activeElement) ? document.activeElement : null;
  const focused = own && keyOf(own);
  // What is being written is not taken from under the hand.
  const written = own?.matches("input.word") && own.value !== own.defaultValue ? own.value : null;
  const open = [...holder.querySelectorAll("[data-more][open]")].map((more) => more.dataset.more);
  holder.replaceChildren(...(typeof html === "string" ? new DOMParser().parseFromString(html, "text/html").body.childNodes : html));
  for (const more of open) holder.querySelector(`[data-more="${more}"]`)?.setAttribute("open", "");
  const found = cell || focused;
  const next = found && holder.querySelector(found);
  next?.focus({ preventScroll: true });
  if (next && found === focused && written !== null) next.value = written;
}

/** What was written stays, with what is wrong with it beside it; false where no field shows it. */
export function showWrong(wrong, input, says) {
  input?.setAttribute("aria-invalid", "true");
  input?.focus();
  if (!wrong) return false;
  wrong.textContent = says;
  wrong.hidden = false;
  return true;
}
