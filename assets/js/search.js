// Colours from a picture: it is made small here, and only that is sent to be looked at.

import { ask } from "./keeper.js";

const SIDE = 160;
const form = document.querySelector("[data-saw]");

/** A picture as a PNG of at most SIDE pixels along its longer side. */
async function thumbnail(file) {
  const picture = await createImageBitmap(file);
  const share = Math.min(1, SIDE / Math.max(picture.width, picture.height));
  const canvas = document.createElement("canvas");
  canvas.width = Math.max(1, Math.round(picture.width * share));
  canvas.height = Math.max(1, Math.round(picture.height * share));
  canvas.getContext("2d").drawImage(picture, 0, 0, canvas.width, canvas.height);
  return new Promise((done) => canvas.toBlob(done, "image/png"));
}

form?.querySelector("[data-picture]").addEventListener("change", async (event) => {
  const wrong = form.querySelector("[data-picture-wrong]");
  const [file] = event.target.files;
  if (!file) return;
  wrong.hidden = true;
  try {
    let small;
    try {
      small = await thumbnail(file);
    } catch {
      throw new Error("This is not a picture that can be read: choose a PNG, JPEG or WebP picture.");
    }
    const { colours } = await ask("POST", "/api/drawer/saw", small);
    if (colours.length === 0) throw new Error("Nothing of this picture can be seen: choose another.");
    form.elements.saw.value = colours.join(", ");
    form.requestSubmit();
  } catch (error) {
    wrong.textContent = error.message;
    wrong.hidden = false;
  } finally {
    event.target.value = "";
  }
});
