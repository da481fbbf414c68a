// What every page has: keys, the focus where something was done, the way back after a change of units, files to read, the
// drawer's search, counts that are kept as they are written.

import { ask, focusOn } from "./keeper.js";

/** Whether a key is for what has the focus: something is being typed, chosen or pressed there. */
const taken = (target) => target.closest("input, select, textarea, button, summary, [contenteditable], [role=slider], [role=radio]");
const typing = (target) => target.closest("input:not([type=checkbox], [type=radio], [type=file], [type=color]), textarea, [contenteditable]");

document.addEventListener("keydown", (event) => {
  if (event.defaultPrevented || document.querySelector("dialog[open]")) return;
  const press = (selector) => document.querySelector(`${selector}:not(:disabled)`)?.click();
  const key = event.key.toLowerCase();
  if ((event.ctrlKey || event.metaKey) && !event.altKey && (key === "z" || key === "y")) {
    // In a field these keys are the field's own.
    if (typing(event.target)) return;
    event.preventDefault();
    press(key === "y" || event.shiftKey ? "[data-redo]" : "[data-undo]");
    return;
  }
  if (event.ctrlKey || event.metaKey || event.altKey || typing(event.target) || event.target.closest("select")) return;
  // From a grip or a button a change is taken back, but no page is left.
  if (key === "u") press("[data-undo]");
  else if (key === "r") press("[data-redo]");
  if (taken(event.target)) return;
  if (event.key === "?") document.getElementById("keys").showModal();
  else if (key === "b") location.assign("/");
  else if (key === "e") location.assign("/evenings");
  else if (key === "d") location.assign("/drawer");
  else if (key === "p") location.assign("/shapes");
  else if (key === "m") location.assign("/made");
  else if (key === "s") location.assign("/stock");
});

document.querySelector("[data-help]")?.addEventListener("click", () => document.getElementById("keys").showModal());

// --- On paper ---------------------------------------------------------------------------------

/** All pictures are there before a page is printed: one after the other, so that those that are looked at come first. */
async function allPictures() {
  for (const picture of document.querySelectorAll("img[loading=lazy]")) {
    picture.loading = "eager";
    await picture.decode().catch(() => {});
  }
}

const printed = document.querySelector("[data-print]");
if (printed) {
  const loaded = new Promise((go) => (document.readyState === "complete" ? go() : addEventListener("load", go)));
  const ready = loaded.then(allPictures);
  printed.addEventListener("click", () => ready.then(() => print()));
}

// What is folded up on the screen is open on paper.
const folded = () => document.querySelectorAll("details[data-on-paper]:not([open])");
addEventListener("beforeprint", () => {
  for (const details of folded()) {
    details.open = true;
    addEventListener("afterprint", () => (details.open = false), { once: true });
  }
});

// What it is stands at the foot of each page.
for (const { textContent } of document.querySelectorAll("[data-foot]")) {
  const foot = new CSSStyleSheet();
  const says = textContent.replace(/[\\"]/g, "\\$&").replace(/\s+/g, " ");
  foot.replaceSync(`@page { @bottom-left { content: "${says}"; font: 9pt sans-serif; color: #6d5b6b; } }`);
  document.adoptedStyleSheets.push(foot);
}

for (const form of document.querySelectorAll("[data-back]")) form.elements.back.value = location.pathname;

// On a narrow screen the pages stand in one line: where one is can be seen.
for (const here of document.querySelectorAll(".top nav [aria-current], .pages [aria-current]")) {
  const line = here.parentElement;
  const [around, own] = [line, here].map((element) => element.getBoundingClientRect());
  line.scrollLeft += own.left - around.left - (around.width - own.width) / 2;
}

// --- The focus follows the thing --------------------------------------------------------------

const PLACE = "rosy-veil place";

/** Where a form stands: its own address, and its row's place in the list. */
document.addEventListener("submit", (event) => {
  const form = event.target;
  if (form.method !== "post") return;
  const list = form.closest("[data-list]");
  const lists = [...document.querySelectorAll("[data-list]")];
  sessionStorage.setItem(
    PLACE,
    JSON.stringify({
      path: location.pathname,
      action: form.getAttribute("action"),
      list: lists.indexOf(list),
      row: list ? [...list.children].findIndex((row) => row.contains(form)) : -1,
      scroll: scrollY,
    }),
  );
});

function backToPlace() {
  const place = JSON.parse(sessionStorage.getItem(PLACE) || "null");
  sessionStorage.removeItem(PLACE);
  const wrong = document.querySelector('[aria-invalid="true"]');
  if (wrong) {
    for (let inner = wrong.closest("details"); inner; inner = inner.parentElement.closest("details")) inner.open = true;
    focusOn(() => wrong);
    return;
  }
  if (!place || place.path !== location.pathname || location.hash) return;
  scrollTo(0, place.scroll);
  const usable = (element) => element && !element.disabled && element.offsetParent !== null;
  const same = [...document.querySelectorAll(`form[action="${CSS.escape(place.action)}"]`)].flatMap((form) => [
    ...form.querySelectorAll("button, input:not([type=hidden])"),
  ]);
  const list = document.querySelectorAll("[data-list]")[place.list];
  const row = list?.children[Math.min(place.row, list.children.length - 1)];
  const near = row && [...row.querySelectorAll("a:not([tabindex='-1']), button")].find(usable);
  const found = same.find(usable) || near || document.querySelector("[data-undo]:not(:disabled)");
  if (found) found.focus({ preventScroll: true });
  else document.getElementById("main").focus({ preventScroll: true });
}
backToPlace();

// --- Colours ------------------------------------------------------------------------------------

for (const input of document.querySelectorAll("[data-sets]")) {
  const field = document.getElementById(input.dataset.sets);
  if (/^#[0-9a-f]{6}$/i.test(field.value)) input.value = field.value;
  input.addEventListener("input", () => {
    field.value = input.value;
    field.dispatchEvent(new Event("input", { bubbles: true }));
  });
}

// --- Files ---------------------------------------------------------------------------------------

const MOST_BYTES = 1_500_000;

async function withFile(input, does) {
  const wrong = document.querySelector("[data-read-wrong]");
  wrong.hidden = true;
  try {
    const file = input.files[0];
    if (file.size > MOST_BYTES) throw new Error("The file is larger than 1.5 MB: choose a list of inks or one panel.");
    await does(file);
  } catch (error) {
    wrong.textContent = `Nothing was read: ${error.message}`;
    wrong.hidden = false;
    wrong.scrollIntoView({ block: "nearest" });
  }
  input.value = "";
}

for (const input of document.querySelectorAll("[data-read]")) {
  input.addEventListener("change", () =>
    withFile(input, async (file) => {
      const { id } = await ask("POST", input.dataset.read, await file.text());
      location.assign(`/panels/${id}/blend`);
    }),
  );
}

const element = (name, text, className = "") => Object.assign(document.createElement(name), { textContent: text, className });
const inks = (n) => (n === 1 ? "1 ink" : `${n} inks`);

/** What a list of inks would bring is told before anything is taken. */
for (const input of document.querySelectorAll("[data-brings]")) {
  const address = input.dataset.brings;
  input.addEventListener("change", () =>
    withFile(input, async (file) => {
      const bytes = new Blob([await file.arrayBuffer()]);
      const { new: fresh, changed, same, wrong, notes } = await ask("POST", `${address}/look`, bytes);
      const told = document.querySelector("[data-brought]");
      const parts = [`${inks(fresh.length)} new`, `${changed.length} changed`, `${same} the same as in the drawer`];
      told.replaceChildren(element("h2", file.name), element("p", `${parts.join(", ")}.`));
      const list = (title, names) => names.length && told.append(element("p", `${title}: ${names.slice(0, 30).join(", ")}${names.length > 30 ? " and more" : ""}.`, "text-soft"));
      list("New", fresh);
      list("Changed", changed);
      for (const note of notes) told.append(element("p", note, "text-soft text-small"));
      if (wrong.length) {
        told.append(element("p", wrong.length === 1 ? "One row cannot be read:" : `${wrong.length} rows cannot be read:`, "text-dusky font-semibold text-small"));
        const rows = element("ul", "");
        rows.append(...wrong.slice(0, 100).map((says) => element("li", says)));
        told.append(rows);
      }
      const does = element("p", "", "flex flex-wrap gap-2 mt-2");
      const button = (says, query, strong) => {
        const made = Object.assign(element("button", says, strong ? "button strong" : "button"), { type: "button" });
        made.addEventListener("click", () =>
          ask("POST", `${address}?good=true&${query}`, bytes)
            .then(() => location.assign("/drawer"))
            .catch((error) => told.append(element("p", `Nothing was read: ${error.message}`, "text-muddy font-semibold my-1.5"))),
        );
        does.append(made);
      };
      if (fresh.length + changed.length) {
        const both = fresh.length && changed.length;
        button(both ? `Take the ${fresh.length} new and the ${changed.length} changed` : fresh.length ? `Take ${inks(fresh.length)}` : `Change ${inks(changed.length)}`, "changed=true", true);
        if (both) button("Only the new", "changed=false", false);
      }
      const leave = Object.assign(element("button", fresh.length + changed.length ? "Leave it" : "Close", "button"), { type: "button" });
      leave.addEventListener("click", () => {
        told.hidden = true;
        input.focus();
      });
      does.append(leave);
      told.append(does);
      told.hidden = false;
      focusOn(() => told);
    }),
  );
}

// --- Large files: sent as they are, with how much of it has gone ------------------------------------

for (const input of document.querySelectorAll("[data-send]")) {
  const { send, most, what } = input.dataset;
  const place = input.closest("[data-sends]");
  const [bar, wrong] = [place.querySelector("progress"), place.querySelector(".wrong")];
  const fails = (says) => {
    bar.hidden = true;
    input.disabled = false;
    input.value = "";
    wrong.textContent = says;
    wrong.hidden = false;
    input.focus();
  };
  input.addEventListener("change", () => {
    const [file] = input.files;
    if (!file) return;
    wrong.hidden = true;
    if (file.size > Number(most) * 1_048_576) return fails(`The ${what} is larger than ${most} MB: nothing was sent.`);
    const sent = new XMLHttpRequest();
    sent.open("POST", send);
    sent.setRequestHeader("x-rosy-token", document.querySelector('meta[name="rosy-token"]').content);
    sent.responseType = "json";
    sent.upload.addEventListener("progress", ({ loaded, total }) => {
      bar.value = (100 * loaded) / total;
    });
    // All of it has gone: what is left is the program's work, as long as that takes.
    sent.upload.addEventListener("load", () => bar.removeAttribute("value"));
    sent.addEventListener("load", () => {
      if (sent.status < 300) location.assign(sent.response.then);
      else fails(sent.response?.detail ?? "The program refused this.");
    });
    sent.addEventListener("error", () => fails("The program does not answer: nothing was kept. Try it again."));
    [bar.hidden, input.disabled, bar.value] = [false, true, 0];
    sent.send(file);
  });
}

// --- The drawer searched: the program finds, the list is put in its place ---------------------------

for (const form of document.querySelectorAll("[data-finds]")) {
  let turn = 0;
  let timer;
  const find = async () => {
    const mine = ++turn;
    const asked = new URLSearchParams(new FormData(form));
    const address = `${form.getAttribute("action")}?${asked}`;
    try {
      const page = new DOMParser().parseFromString(await (await fetch(address)).text(), "text/html");
      const found = page.getElementById(form.dataset.finds);
      if (mine !== turn || !found) return;
      document.getElementById(form.dataset.finds).replaceChildren(...found.childNodes);
      history.replaceState(null, "", address);
    } catch {
      // The list stays as it is until the program answers.
    }
  };
  form.addEventListener("input", () => {
    clearTimeout(timer);
    timer = setTimeout(find, 120);
  });
  form.addEventListener("submit", (event) => {
    event.preventDefault();
    find();
  });
}

// --- Counts: kept as soon as the field is left ------------------------------------------------------

for (const form of document.querySelectorAll("[data-counts]")) {
  const field = form.elements.count;
  const wrong = form.querySelector(".wrong");
  const keep = async () => {
    const text = field.value.trim();
    try {
      if (!/^\d{1,4}$/.test(text)) throw new Error(`“${text.slice(0, 20)}” is no number of sheets: write a whole one from 0 to 600.`);
      await ask("PUT", `/api/stock/sheets/${form.dataset.counts}`, { count: Number(text) });
      form.dataset.kept = text;
      wrong.hidden = true;
      field.removeAttribute("aria-invalid");
      document.querySelector("[data-replan]").hidden = false;
    } catch (error) {
      wrong.textContent = error.isUnreachable ? "Not kept yet: the program does not answer. It is tried again." : error.message;
      wrong.hidden = false;
      field.setAttribute("aria-invalid", "true");
      if (error.isUnreachable) setTimeout(keep, 2500);
    }
  };
  field.addEventListener("change", keep);
  form.addEventListener("submit", (event) => {
    event.preventDefault();
    keep();
  });
}
