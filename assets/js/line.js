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
  return { ...second, label: second.label || first.label, change: { [kindOf(one)]: value } };
}

/** What a page with such a line has: where it asks, what it calls the line, and how changes are joined. */
export function line({ address, name, joined }) {
  return {
    asking: false,
    line: [],

    /** What an earlier page changed while the program was away. */
    takeUpLine() {
      for (const wish of unmade.left(`${this.shelf} ${name}`)) this.wish(wish);
    },
    keepUnmade() {
      unmade.keep(`${this.shelf} ${name}`, this.line);
    },
    changed() {
      this.wish({ settled: true });
    },
    wish(wish) {
      const last = this.line.at(-1);
      const merged = last && together(last, wish, joined);
      if (merged) this.line.splice(-1, 1, merged);
      else this.line.push(wish);
      if (!this.asking) this.askNext();
    },
    async askNext() {
      const wish = this.line.shift();
      if (!wish) return;
      this.asking = true;
      const { change, label, settled } = wish;
      const wide = this.$refs.picture.clientWidth || 420;
      const finest = settled ? 200 : 48;
      const dpi = Math.max(20, Math.min(finest, (wide / this.inches) * Math.min(devicePixelRatio, 1.5)));
      try {
        const look = await ask("POST", address, { panel: this.panel, change, dpi, settled });
        if (look.field) this.refuse(look);
        else {
          if (change) this.panel = look.panel;
          this.look(look, wish);
          if (label) this.save(label);
        }
        if (change) this.keepUnmade();
      } catch (error) {
        if (error.away) {
          this.status = change ? "not kept yet, trying again…" : "the picture waits for the program…";
          this.line.unshift(wish);
          this.keepUnmade();
          await new Promise((go) => setTimeout(go, RETRY_MS));
        } else this.tell(error.message);
      }
      this.asking = false;
      this.askNext();
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
