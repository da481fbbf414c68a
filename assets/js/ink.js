// An ink's page: the strip, what it meets and what is wrong follow the form as it is filled in.

import { ask } from "./keeper.js";

const page = document.querySelector("[data-ink]");
const form = page.querySelector("[data-ink-form]");
const FIELDS = ["name", "kind", "colour", "one_veil", "full_veils", "on_ink"];
const SVG = "http://www.w3.org/2000/svg";

/** A dot of a colour: a picture, as the page takes no styles of its own. */
function dot(colour) {
  const svg = document.createElementNS(SVG, "svg");
  svg.setAttribute("viewBox", "0 0 24 10");
  svg.setAttribute("class", "flex-none w-8 h-3.5");
  svg.setAttribute("aria-hidden", "true");
  const shape = document.createElementNS(SVG, "rect");
  for (const [name, value] of Object.entries({ width: 24, height: 10, rx: 5, fill: colour })) shape.setAttribute(name, value);
  svg.append(shape);
  return svg;
}

function told(field, says) {
  const wrong = document.getElementById(`wrong-${field}`);
  wrong.textContent = says;
  wrong.hidden = !says;
  form.elements[field].toggleAttribute("aria-invalid", Boolean(says));
  if (says) form.elements[field].setAttribute("aria-invalid", "true");
}

let turn = 0;
async function look(touched) {
  const mine = ++turn;
  const body = Object.fromEntries(FIELDS.map((field) => [field, form.elements[field].value]));
  // A name is not needed to see a colour.
  if (!body.name.trim()) body.name = "?";
  if (!body.colour.trim()) return;
  try {
    const seen = await ask("POST", "/api/inks/strip", body);
    if (mine !== turn) return;
    for (const field of FIELDS) {
      // What is wrong elsewhere stands as it was told, until it is touched.
      if (field === "name" || (field === seen.field && field !== touched)) continue;
      told(field, field === seen.field ? seen.wrong : "");
    }
    if (!seen.strip) return;
    page.querySelector("[data-strip]").innerHTML = seen.strip;
    // The picker shows what the text says.
    const eye = page.querySelector('[data-sets="colour"]');
    if (touched !== "eye") eye.value = seen.screen;
    const named = page.querySelector("[data-named]");
    named.hidden = !seen.named || seen.named === page.dataset.ink;
    named.querySelector("a").href = `/drawer/inks/${seen.named}`;
    const meets = page.querySelector("[data-meets]");
    meets.hidden = seen.meets.length === 0;
    meets.querySelector("ul").replaceChildren(
      ...seen.meets.map(({ with: other, colour, middle, named, verdict }) => {
        const row = document.createElement("li");
        const says = document.createElement("span");
        says.textContent = `${named} with ${other}`;
        const word = Object.assign(document.createElement("em"), { className: verdict, textContent: verdict });
        row.append(dot(seen.screen), dot(middle), dot(colour), says, word);
        return row;
      }),
    );
  } catch {
    // The form itself says what is wrong when it is kept.
  }
}

let timer;
form.addEventListener("input", (event) => {
  clearTimeout(timer);
  const touched = event.target.type === "color" ? "eye" : event.target.name;
  timer = setTimeout(() => look(touched), event.target.type === "color" ? 20 : 250);
});
look("");
if (location.hash === "#panels") document.getElementById("panels")?.focus();
