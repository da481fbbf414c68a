// A shape's page: the picture follows the fields as they are filled in. The shapes' page: a drawing that is brought.

import { ask } from "./keeper.js";

const form = document.querySelector("[data-shape-form]");
if (form) {
  let turn = 0;
  let timer;
  const look = async () => {
    const mine = ++turn;
    const fields = Object.fromEntries([...new FormData(form)].filter(([name]) => name !== "token"));
    try {
      const seen = await ask("POST", "/api/shapes/look", fields);
      if (mine !== turn) return;
      const wrong = new Map(seen.wrong);
      for (const says of form.querySelectorAll("[data-wrong]")) {
        const field = says.dataset.wrong;
        says.textContent = wrong.get(field) ?? "";
        says.hidden = !wrong.has(field);
        if (wrong.has(field)) form.elements[field]?.setAttribute("aria-invalid", "true");
        else form.elements[field]?.removeAttribute("aria-invalid");
      }
      if (seen.shown) document.querySelector("[data-shown]").innerHTML = seen.shown;
    } catch {
      // The form itself says what is wrong when it is kept.
    }
  };
  form.addEventListener("input", () => {
    clearTimeout(timer);
    timer = setTimeout(look, 200);
  });
}

const bring = document.querySelector("[data-bring-shape]");
bring?.addEventListener("change", async () => {
  const wrong = document.querySelector("[data-bring-wrong]");
  const [file] = bring.files;
  if (!file) return;
  wrong.hidden = true;
  try {
    if (file.size > 1048576) throw new Error("The drawing has more than 1024 kB: simplify it.");
    const { id } = await ask("POST", "/api/shapes", { name: file.name, svg: await file.text() });
    location.assign(`/shapes/${id}`);
  } catch (error) {
    wrong.textContent = error.message;
    wrong.hidden = false;
    bring.value = "";
  }
});
