// The fonts as the pages need them: Latin letters of the European languages, the axes that are used, nothing else.
// What most pages need is one file each; letters beyond Western Europe's are fetched where a name has them.

import { mkdir, readFile, writeFile, copyFile } from "node:fs/promises";
import subset from "subset-font";

const from = "node_modules/@fontsource-variable";
const to = "../crates/web/static/fonts";
const range = (...ranges) => ranges.flatMap(([first, last]) => Array.from({ length: last - first + 1 }, (_, n) => String.fromCodePoint(first + n))).join("");

// Basic Latin, Latin-1, and the signs the pages set: dashes, quotation marks, arrows, ×, −, fractions' stroke.
const western = range([0x20, 0x7e], [0xa0, 0xff]) + "ŒœŠšŽžŸ–—‘’‚“”„†•…‹›⁄€™−≈←↑→↓›⌄✓";
// Latin Extended-A and -B as far as living languages of Europe use it, and Welsh and Vietnamese-style marks are left to the system.
const eastern = range([0x100, 0x17f], [0x18f, 0x18f], [0x1cd, 0x1dc], [0x1e6, 0x1e7], [0x1ea, 0x1eb], [0x1fa, 0x21b], [0x1e80, 0x1e85], [0x1e9e, 0x1e9e]);

const wanted = [
  ["hyperlegible-latin", "atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-wght-normal", western, { wght: { min: 400, max: 700 } }],
  ["hyperlegible-latin-ext", "atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-ext-wght-normal", eastern, { wght: { min: 400, max: 700 } }],
  ["fraunces-latin", "fraunces/files/fraunces-latin-full-normal", western, { wght: { min: 500, max: 700 }, opsz: 36, SOFT: 60, WONK: 0 }],
  ["fraunces-latin-ext", "fraunces/files/fraunces-latin-ext-full-normal", eastern, { wght: { min: 500, max: 700 }, opsz: 36, SOFT: 60, WONK: 0 }],
  ["fraunces-italic-latin", "fraunces/files/fraunces-latin-full-italic", range([0x20, 0x7e]), { wght: { min: 500, max: 600 }, opsz: 36, SOFT: 100, WONK: 1 }],
];

await mkdir(to, { recursive: true });
for (const [name, source, letters, variationAxes] of wanted) {
  const font = await readFile(`${from}/${source}.woff2`);
  await writeFile(`${to}/${name}.woff2`, await subset(font, letters, { targetFormat: "woff2", variationAxes }));
}
for (const font of ["fraunces", "atkinson-hyperlegible-next"]) await copyFile(`${from}/${font}/LICENSE`, `${to}/${font}-OFL.txt`);

// The letters that words are cut from: sturdy and rounded, so that a blade can follow them and paper holds together.
const letters = "../crates/core/src/shape/letters";
const sturdy = await readFile(`${from}/fraunces/files/fraunces-latin-full-normal.woff2`);
const cut = range([0x20, 0x7e], [0xa1, 0xff]) + "ŒœŠšŽžŸ–—‘’‚“”„…";
await writeFile(`${letters}.ttf`, await subset(sturdy, cut, { targetFormat: "truetype", variationAxes: { wght: 700, opsz: 9, SOFT: 100, WONK: 0 } }));
await copyFile(`${from}/fraunces/LICENSE`, `${letters}-OFL.txt`);

// The faces that drawings on paper are written with: those of the pages, and what names of other scripts need beside them.
const faces = "../crates/web/src/drawing/faces";
await mkdir(faces, { recursive: true });
const plain = { variationAxes: { wght: 400 } };
const onPaper = [
  ["latin", `${from}/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-wght-normal`, western, plain],
  ["latin-ext", `${from}/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next-latin-ext-wght-normal`, eastern, plain],
  ["cyrillic", "node_modules/@fontsource/noto-sans/files/noto-sans-cyrillic-400-normal", range([0x400, 0x45f], [0x490, 0x491]) + "№", {}],
  ["greek", "node_modules/@fontsource/noto-sans/files/noto-sans-greek-400-normal", range([0x384, 0x3ce]), {}],
  ["hebrew", "node_modules/@fontsource/noto-sans-hebrew/files/noto-sans-hebrew-hebrew-400-normal", range([0x5d0, 0x5ea]) + "\u05be\u05f3\u05f4", {}],
];
for (const [name, source, letters, how] of onPaper) {
  const font = await readFile(`${source}.woff2`);
  await writeFile(`${faces}/${name}.ttf`, await subset(font, letters, { targetFormat: "truetype", ...how }));
}
await copyFile("node_modules/@fontsource/noto-sans/LICENSE", `${faces}/noto-sans-OFL.txt`);
await copyFile(`${from}/atkinson-hyperlegible-next/LICENSE`, `${faces}/atkinson-hyperlegible-next-OFL.txt`);
