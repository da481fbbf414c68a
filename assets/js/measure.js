// Lengths as people read them: fractions set as fractions.

const FRACTION = /(\d)? ?(?<!\d)(\d+)\/(\d+)/g;

/** Sets a text with its fractions as fractions: the directive x-measure. */
export function measure(element, { expression }, { evaluateLater, effect }) {
  const evaluate = evaluateLater(expression);
  effect(() =>
    evaluate((text) => {
      const parts = [];
      let from = 0;
      for (const found of String(text ?? "").matchAll(FRACTION)) {
        const [whole, before = "", top, bottom] = found;
        const fraction = Object.assign(document.createElement("span"), { className: "frac" });
        const sup = Object.assign(document.createElement("sup"), { textContent: top });
        const sub = Object.assign(document.createElement("sub"), { textContent: bottom });
        fraction.append(sup, "⁄", sub);
        const gap = before ? before : whole.startsWith(" ") ? " " : "";
        parts.push(text.slice(from, found.index) + gap, fraction);
        from = found.index + whole.length;
      }
      element.replaceChildren(...parts, String(text ?? "").slice(from));
    }),
  );
}
