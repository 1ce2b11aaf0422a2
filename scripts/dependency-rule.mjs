/**
 * Runs dependency-cruiser over the sources. It has no parser for .tsx that works with our compiler, so the
 * sources are first turned into plain JavaScript, type imports kept as imports so that they count too.
 */
import { spawnSync } from "node:child_process";
import { mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { dirname, join, relative, resolve } from "node:path";
import { transformSync } from "@swc/core";

const OUT = resolve("test-results/cruise");
rmSync(OUT, { recursive: true, force: true });

for (const entry of readdirSync("src", { recursive: true, withFileTypes: true })) {
  if (!entry.isFile() || !/\.tsx?$/.test(entry.name)) continue;
  const file = join(entry.parentPath ?? entry.path, entry.name);
  // AssemblyScript: another language in the same clothes.
  if (file.includes("kernels/assembly")) continue;
  const target = join(OUT, file.replace(/\.tsx?$/, ".js"));
  const up = relative(dirname(target), join(OUT, "src"));
  const text = readFileSync(file, "utf8")
    .replace(/^import type /gm, "import ")
    .replace(/([{,]\s*)type (?=[A-Za-z])/g, "$1")
    .replace(/from "@\//g, `from "${up}/`);
  const { code } = transformSync(text, {
    filename: file,
    jsc: {
      parser: { syntax: "typescript", tsx: file.endsWith("x") },
      target: "es2022",
      transform: { verbatimModuleSyntax: true, react: { runtime: "automatic" } },
    },
  });
  mkdirSync(dirname(target), { recursive: true });
  writeFileSync(target, code);
}

const { status } = spawnSync(
  "npx",
  ["--no-install", "depcruise", "src", "--config", resolve(".dependency-cruiser.mjs")],
  {
    cwd: OUT,
    stdio: "inherit",
  },
);
process.exitCode = status ?? 1;
