// What has still to be kept lies in this browser, by bench and panel, so that nothing is lost with the page. Each page has a shelf
// of its own; what lies on that of a page which is gone is taken up by the next, and by one only.

/** How long a page that is being left may still hold what is its own. */
const LEAVES_MS = 1500;
/** What pages called their lines of changes before there was one for all, by the kind of their changes. */
const EARLIER = { bends: "blend", things: "cover", water: "water" };

/** A change as it was put by before it had an address of its own, as it is sent now. */
function asSent(earlier, { change, blend = 0 }) {
  const kind = EARLIER[earlier];
  return { body: { mark: crypto.randomUUID(), edit: { [kind]: kind === "blend" ? { blend, change } : change } } };
}

/** What lies on a shelf, whichever way it was put there. */
function lies(name, key) {
  const found = JSON.parse(localStorage.getItem(key) ?? "null");
  if (!found) return [];
  const earlier = Object.keys(EARLIER).find((kind) => key.startsWith(`${name} ${kind}`));
  if (earlier) return found.filter((wish) => wish.change && (wish.kept || wish.label)).map((wish) => asSent(earlier, wish));
  if (!found.waits) return [found];
  // The first was made on the panel that lay there; each that follows, on what the one before it led to.
  const [first, ...others] = found.waits;
  return [{ ...first, body: { revision: found.revision, base: found.base, ...first.body } }, ...others];
}

/** A page's shelf, under the name that all pages of a panel share. */
export function shelf(name) {
  const own = `${name} waits ${crypto.randomUUID()}`;
  const others = [];
  // Held as long as the page lives; one that is being left lets go in a moment.
  const isFree = (key) =>
    new Promise((tell) => {
      const held = () => (tell(true), new Promise(() => {}));
      navigator.locks.request(key, { signal: AbortSignal.timeout(LEAVES_MS) }, held).catch(() => tell(false));
    });
  const held = isFree(own);
  return {
    /** What lies on shelves of pages that are gone. */
    async left() {
      await held;
      const known = Object.keys(localStorage).filter((key) => key === name || (key !== own && key.startsWith(`${name} `)));
      for (const key of known) if (await isFree(key)) others.push(key);
      return others.flatMap((key) => lies(name, key));
    },
    /** Once it lies on this page's own. */
    taken() {
      for (const key of others.splice(0)) localStorage.removeItem(key);
    },
    /** What waits, and the panel that the first of it was made on. */
    put({ revision, panel }, waits) {
      if (waits.length === 0) localStorage.removeItem(own);
      else localStorage.setItem(own, JSON.stringify({ revision, base: panel, waits }));
    },
  };
}
