// One ground three ways: each is told and shown as soon as it has been planned.

import { ask } from "./keeper.js";

for (const way of document.querySelectorAll("[data-way]")) {
  const [says, takes, picture] = [way.querySelector("[data-says]"), way.querySelector("[data-takes]"), way.querySelector("img")];
  ask("GET", way.dataset.way)
    .then((told) => {
      [says.textContent, takes.textContent, picture.src] = [told.says, told.takes, told.picture];
    })
    .catch((error) => {
      says.textContent = error.message;
      says.className = "text-muddy font-semibold my-1.5";
    })
    .finally(() => way.removeAttribute("aria-busy"));
}
