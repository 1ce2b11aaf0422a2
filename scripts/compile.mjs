/**
 * Compiles what does not run from its sources, when a source is newer: the kernels, and the programs of Node (the headless
 * command, the server's own commands and threads), each into one file of build/node.
 */
import { createHash } from "node:crypto";
import { mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { makeSolidsPart } from "./make-solids-part.mjs";
import { makeTextParts } from "./make-text-parts.mjs";

const KERNELS = "src/core/kernels/assembly";
const WASM = "src/core/kernels/wasm.ts";
const TARGET = "build/node";
const STAMP = join(TARGET, ".built");

/** What stands for the sources of the core: states that other sources have stepped are not taken up. */
const MARK = "src/core/program-mark.ts";

function markProgram() {
  const hash = createHash("sha256");
  const add = (folder) => {
    for (const entry of readdirSync(folder, { withFileTypes: true }).sort((a, b) =>
      a.name < b.name ? -1 : 1,
    )) {
      const path = join(folder, entry.name);
      if (entry.isDirectory()) add(path);
      else if (path !== MARK && path !== WASM) hash.update(path).update(readFileSync(path));
    }
  };
  add("src/core");
  const text = `/** Made by scripts/compile.mjs of the sources of the core; not kept in the repository. */\nexport const PROGRAM_MARK = "${hash.digest("hex").slice(0, 32)}";\n`;
  if (changed(MARK) === 0 || readFileSync(MARK, "utf8") !== text) writeFileSync(MARK, text);
}

/** By the name of the file that is made. */
const PROGRAMS = {
  glemmo: "src/cli/main.ts",
  serve: "src/server/commands/serve.ts",
  "fill-demo": "src/server/commands/fill-demo.ts",
  recover: "src/server/commands/recover.ts",
  restore: "src/server/commands/restore.ts",
  "helper-thread": "src/server/threads/helper-thread.ts",
  "reading-thread": "src/server/threads/reading-thread.ts",
  "upkeep-thread": "src/server/threads/upkeep-thread.ts",
};

/** Parts of the sources that no program of Node uses. */
const OTHERS = new Set(["app", "studio", "shelf", "ui", "demo"]);

const changed = (path) => statSync(path, { throwIfNoEntry: false })?.mtimeMs ?? 0;

function newest(folder) {
  let latest = 0;
  for (const entry of readdirSync(folder, { withFileTypes: true })) {
    const path = join(folder, entry.name);
    if (entry.isDirectory() && OTHERS.has(entry.name)) continue;
    latest = Math.max(latest, entry.isDirectory() ? newest(path) : changed(path));
  }
  return latest;
}

/** As Jest calls it too, before its tests. */
export default async function compile() {
  if (changed(WASM) <= Math.max(changed("scripts/build-kernels.mjs"), newest(KERNELS)))
    await import("./build-kernels.mjs").then(({ buildKernels }) => buildKernels(KERNELS, WASM));

  makeTextParts();
  makeSolidsPart();
  markProgram();
  const sources = Math.max(newest("src"), changed("scripts/compile.mjs"), changed("package-lock.json"));
  if (changed(STAMP) <= sources) {
    const { build } = await import("esbuild");
    await build({
      entryPoints: PROGRAMS,
      outdir: TARGET,
      outExtension: { ".js": ".mjs" },
      bundle: true,
      // Commands that are called often load only what they need.
      splitting: true,
      format: "esm",
      platform: "node",
      target: "node20",
      external: ["better-sqlite3", "next"],
      // Packages that were written as CommonJS ask for Node's own modules this way.
      banner: {
        js: 'import { createRequire as nodeRequire } from "node:module"; const require = nodeRequire(import.meta.url);',
      },
      logLevel: "warning",
    });
    mkdirSync(TARGET, { recursive: true });
    writeFileSync(STAMP, "");
  }
}

if (process.argv[1] === fileURLToPath(import.meta.url)) await compile();
