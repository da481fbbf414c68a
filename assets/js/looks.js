// Looks at a panel on a page whose every change is worked out by the program: a change is kept first and drawn second; while a hand
// still moves it is only looked at. Of looks that are wanted the latest counts.

import { ask } from "./keeper.js";

const RETRY_MS = 2500;

const kindOf = (change) => (typeof change === "string" ? change : Object.keys(change)[0]);
const same = (one, other) => JSON.stringify(one) === JSON.stringify(other);

/** How wide a picture is on the page, whether it is shown yet or not. */
function wideOf(picture) {
  const { display } = picture.style;
  picture.style.display = "block";
  const wide = picture.clientWidth;
  picture.style.display = display;
  return wide || 420;
}

/** Two changes of one kind as one, where `value` knows what both come to; otherwise nothing. */
export function together(was, is, value) {
  const kind = kindOf(is);
  if (kindOf(was) !== kind) return null;
  const both = value(kind, was[kind], is[kind]);
  return both === null ? null : { [kind]: both };
}

/**
 * What such a page has: where it looks, of which kind its changes are, how two in a row are joined, which go further each time they
 * are pressed, and whether a quick look goes before the whole one. A page says what it asks beside the panel (`asks`), takes what
 * is answered (`seen`), and shows what was refused (`refuse`).
 */
export function looks({ address, kind, joined, repeats = [], quick = false }) {
  return {
    /** Whether the picture is on its way. */
    asking: false,
    inches: 1,
    /** The panel that is shown or on its way; none where something else is. */
    shows: "",
    /** What was changed and is not shown yet, and what is to be done then. */
    fresh: [],
    /** What is to be looked at next, and what ends the look that is under way. */
    wanted: null,
    ending: null,

    begin() {
      const { ratio, inches } = this.$el.dataset;
      this.$el.style.setProperty("--ratio", ratio);
      this.inches = Number(inches);
      this.takeUp();
      this.changed();
    },
    /** Makes a change; what is to be done once it is shown. */
    make(change, then = {}) {
      const edit = { [kind]: this.whole(change) };
      if (this.isPressedAgain(edit)) return;
      this.fresh.push({ edit, then });
      this.edit(edit);
    },
    /** Looks at a change while the hand still moves. */
    attempt(change) {
      this.want({ change: this.whole(change) });
    },
    /** A change as the program takes it. */
    whole: (change) => change,
    joins(one, other) {
      const value = kind in one && kind in other ? joined(one[kind], other[kind]) : null;
      return value && { [kind]: value };
    },
    /** Whether it was pressed again before it could be seen what came of it. */
    isPressedAgain(edit) {
      const last = this.fresh.at(-1)?.edit;
      return Boolean(last) && same(last, edit) && !repeats.includes(kindOf(edit[kind])) && !this.joins(last, edit);
    },
    changed() {
      if (this.waiting.length > 0) return;
      if (this.fresh.length > 0 || JSON.stringify(this.panel) !== this.shows) this.see();
    },
    /** Looks at the panel as it is kept, in a moment with all that there is to say of it. */
    see() {
      this.want({ settled: !quick });
    },
    /** Takes another panel in place of this one. */
    takePanel(panel, label) {
      this.panel = panel;
      this.see();
      this.save(label);
    },
    refuse({ field, says }) {
      if (!field) return false;
      this.fresh = [];
      this.isWrong(field, says);
      return true;
    },
    isWrong(field, says) {
      this.tell(says);
    },
    asks: () => ({}),

    async want(wish) {
      this.wanted = wish;
      // What takes long is not waited for where something else is wanted by now.
      this.ending?.abort();
      if (this.asking) return;
      this.asking = true;
      try {
        while (this.wanted) await this.lookOnce();
      } finally {
        this.asking = false;
      }
    },
    async lookOnce() {
      const wish = this.wanted;
      this.wanted = null;
      const { change, settled = false } = wish;
      const wide = wideOf(this.$refs.picture ?? this.$refs.drawing);
      // While a hand moves the picture may be coarser; it sharpens as soon as it rests.
      const finest = settled ? 200 : 48;
      const dpi = Math.max(20, Math.min(finest, (wide / this.inches) * Math.min(devicePixelRatio, 1.5)));
      this.shows = change ? "" : JSON.stringify(this.panel);
      const shown = this.waiting.length > 0 ? 0 : this.fresh.length;
      this.ending = settled ? new AbortController() : null;
      const asked = { panel: this.panel, change, dpi, settled, ...this.asks() };
      const [look, error] = await ask("POST", address, asked, this.ending?.signal).then((look) => [look], (error) => [null, error]);
      this.ending = null;
      if (error?.stale) return this.goStale();
      if (error?.isUnreachable) {
        if (!this.isPending()) this.status = "the picture waits for the program…";
        await new Promise((go) => setTimeout(go, RETRY_MS));
        this.wanted ??= wish;
        return;
      }
      // Another is wanted by now.
      if (!look && !error.said) return;
      this.settle();
      if (error) this.shows = "";
      if (error) return this.tell(error.message);
      if (look.field) return this.isWrong(look.field, look.says);
      const then = change ? [] : this.fresh.splice(0, shown).map(({ then }) => then);
      this.seen(look, { changed: then.length > 0, cell: then.at(-1)?.cell });
      for (const { after } of then) after?.();
      if (!change && !settled) this.wanted ??= { settled: true };
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
