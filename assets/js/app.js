// What every page has: keys, the way back after a change of units, files to read, and the drawer's search.

import { ask } from "./keeper.js";

const typing = (target) => target.closest("input, select, textarea, [contenteditable]");

document.addEventListener("keydown", (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey || typing(event.target)) return;
  const press = (selector) => document.querySelector(`${selector}:not(:disabled)`)?.click();
  if (event.key === "?") document.getElementById("keys").showModal();
  else if (event.key === "b") location.assign("/");
  else if (event.key === "d") location.assign("/drawer");
  else if (event.key === "s") location.assign("/stock");
  else if (event.key === "u") press("[data-undo]");
  else if (event.key === "r") press("[data-redo]");
});

document.querySelector("[data-help]")?.addEventListener("click", () => document.getElementById("keys").showModal());
document.querySelector("[data-print]")?.addEventListener("click", () => print());

for (const form of document.querySelectorAll("[data-back]")) form.elements.back.value = location.pathname;

for (const input of document.querySelectorAll("[data-sets]")) {
  const field = document.getElementById(input.dataset.sets);
  if (field.value.startsWith("#")) input.value = field.value;
  input.addEventListener("input", () => (field.value = input.value));
}

const THEN = { panel: (said) => `/panels/${said.id}/blend`, drawer: () => "/drawer" };
for (const input of document.querySelectorAll("[data-read]")) {
  input.addEventListener("change", async () => {
    const wrong = document.querySelector("[data-read-wrong]");
    wrong.hidden = true;
    try {
      const file = input.files[0];
      if (file.size > 1_500_000) throw new Error("The file is larger than 1.5 MB: choose a list of inks or one panel.");
      const said = await ask("POST", input.dataset.read, await file.text());
      location.assign(THEN[input.dataset.then](said));
    } catch (error) {
      wrong.textContent = `Nothing was read: ${error.message}`;
      wrong.hidden = false;
    }
    input.value = "";
  });
}

for (const search of document.querySelectorAll("[data-filter]")) {
  const shelves = document.getElementById(search.dataset.filter);
  const kinds = document.querySelectorAll("[data-kind]");
  const filter = () => {
    const words = search.value.toLowerCase().split(/\s+/).filter(Boolean);
    const kind = document.querySelector('[data-kind][aria-pressed="true"]')?.dataset.kind || "";
    let any = false;
    for (const shelf of shelves.querySelectorAll(".shelf")) {
      let some = false;
      for (const ink of shelf.querySelectorAll("[data-words]")) {
        const fits = words.every((word) => ink.dataset.words.includes(word)) && (!kind || ink.dataset.kindOf === kind);
        ink.hidden = !fits;
        some ||= fits;
      }
      shelf.hidden = !some;
      any ||= some;
    }
    const nothing = shelves.querySelector(".nothing-found");
    if (nothing) nothing.hidden = any || !shelves.querySelector(".shelf");
  };
  search.addEventListener("input", filter);
  for (const chip of kinds) {
    chip.addEventListener("click", () => {
      for (const other of kinds) other.setAttribute("aria-pressed", String(other === chip));
      filter();
    });
  }
}
