// Are all licences permissive? Of what the program is made of, and apart from that of what only builds or tests it.

import { execFileSync } from "node:child_process";
import { readFile } from "node:fs/promises";
import satisfies from "spdx-satisfies";

const PERMISSIVE = [
  "MIT", "MIT-0", "Apache-2.0", "Apache-2.0 WITH LLVM-exception", "BSD-2-Clause", "BSD-3-Clause", "ISC", "Zlib", "0BSD", "BSL-1.0",
  "CC0-1.0", "Unlicense", "Unicode-3.0", "OFL-1.1", "CDLA-Permissive-2.0", "BlueOak-1.0.0",
];
// A tool's own code goes into nothing that is shipped.
const TOOLS = [...PERMISSIVE, "MPL-2.0", "Python-2.0", "CC-BY-3.0", "CC-BY-4.0"];

/** Crates along some kinds of edges, each once: name and licence. */
function crates(edges) {
  const tree = execFileSync("cargo", ["tree", "--workspace", "--locked", "--edges", edges, "--prefix", "none", "--no-dedupe", "--format", "{p}|{l}"], {
    cwd: "..",
    encoding: "utf8",
    maxBuffer: 1 << 26,
  });
  const lines = new Set(tree.split("\n").filter(Boolean).map((line) => line.replace(/ \(\*\)$/, "")));
  return new Map([...lines].map((line) => line.split("|")).map(([name, licence]) => [name.replace(/ \(.*\)$/, ""), licence]));
}

/** Older crates part their choices with a stroke. */
const spdx = (licence) => (licence || "none").replaceAll("/", " OR ");

function wrong(packages, allowed) {
  return [...packages].filter(([, licence]) => {
    try {
      return !satisfies(spdx(licence), allowed);
    } catch {
      return true;
    }
  });
}

const shipped = crates("normal,build");
const tested = new Map([...crates("normal,build,dev")].filter(([name]) => !shipped.has(name)));
const lock = JSON.parse(await readFile("package-lock.json", "utf8"));
const npm = Object.entries(lock.packages).filter(([path]) => path);
const named = ([path, { version, license }]) => [`${path.replace(/.*node_modules\//, "")} ${version}`, license];
const scripts = new Map(npm.filter(([, of]) => !of.dev).map(named));
const tools = new Map(npm.filter(([, of]) => of.dev).map(named));

let bad = 0;
for (const [what, packages, allowed] of [
  ["crates in the program", shipped, PERMISSIVE],
  ["scripts and fonts in the program", scripts, PERMISSIVE],
  ["crates that only test it", tested, TOOLS],
  ["packages that only build it", tools, TOOLS],
]) {
  const refused = wrong(packages, allowed);
  console.log(`${packages.size} ${what}: ${refused.length ? "not all licences will do" : "all licences will do"}`);
  for (const [name, licence] of refused) console.log(`  ${name}: ${licence || "no licence is named"}`);
  bad += refused.length;
}
process.exit(bad ? 1 : 0);
