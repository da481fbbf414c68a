// Lengths as people read them: fractions set as fractions, the text itself left as it is for search, copy and screen readers.

const FRACTION = /(?:(\d+) )?(?<!\d)(\d+)\/(\d+)/g;

/** A text with its fractions set as fractions, as nodes. */
export function typeset(text) {
  const parts = [];
  let from = 0;
  for (const found of text.matchAll(FRACTION)) {
    const [whole, before, top, bottom] = found;
    const fraction = Object.assign(document.createElement("span"), { className: "frac" });
    const sup = Object.assign(document.createElement("sup"), { textContent: top });
    const sub = Object.assign(document.createElement("sub"), { textContent: bottom });
    fraction.append(before ? `${before} ` : "", sup, "/", sub);
    parts.push(text.slice(from, found.index), fraction);
    from = found.index + whole.length;
  }
  return [...parts, text.slice(from)];
}

/** Sets a text with its fractions as fractions: the directive x-measure. */
export function measure(element, { expression }, { evaluateLater, effect }) {
  const evaluate = evaluateLater(expression);
  effect(() => evaluate((text) => element.replaceChildren(...typeset(String(text ?? "")))));
}
