/**
 * Compiles the kernels (src/core/kernels/assembly) to WebAssembly with SIMD and writes them as text into
 * src/core/kernels/wasm.ts, so that browser workers, Node and Jest all load the same bytes. Does nothing when that
 * file is newer than its sources.
 */
import { readdirSync, readFileSync, rmSync, statSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import asc from "assemblyscript/asc";

const SOURCES = "src/core/kernels/assembly";
const TARGET = "src/core/kernels/wasm.ts";
const BINARY = "kernels.wasm";

const changed = (path) => statSync(path, { throwIfNoEntry: false })?.mtimeMs ?? 0;
const newest = Math.max(
  changed("scripts/build-kernels.mjs"),
  ...readdirSync(SOURCES).map((file) => changed(join(SOURCES, file))),
);
if (changed(TARGET) > newest) process.exit(0);

const { error, stderr } = await asc.main([
  join(SOURCES, "index.ts"),
  "--outFile",
  BINARY,
  "--enable",
  "simd",
  "--enable",
  "threads",
  "--importMemory",
  // One memory for all threads, whose ceiling whoever makes it chooses; these are the widest limits it may have.
  "--sharedMemory",
  "--initialMemory",
  "4",
  "--maximumMemory",
  "65536",
  // The first 64 KB are left free, the compiler's tables follow; what is handed out begins after them (see memory.ts).
  "--memoryBase",
  "65536",
  "--runtime",
  "stub",
  "--optimizeLevel",
  "3",
  "--noAssert",
]);
if (error) {
  console.error(stderr.toString());
  process.exit(1);
}
const text = readFileSync(BINARY).toString("base64");
rmSync(BINARY);
writeFileSync(
  TARGET,
  `/** Made by scripts/build-kernels.mjs from src/core/kernels/assembly; not kept in the repository. */\nexport const WASM =\n  "${text}";\n`,
);
console.log(`Kernels: ${Math.round((text.length * 3) / 4)} bytes of WebAssembly.`);
