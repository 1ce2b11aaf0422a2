/**
 * Compiles the kernels to WebAssembly with SIMD and writes them as text, so that browser workers, Node and Jest all load the
 * same bytes. See compile.mjs, which does so when they have changed.
 */
import { readFileSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import asc from "assemblyscript/asc";

const BINARY = "kernels.wasm";

/** @param sources folder of the assembly @param target the file that is written */
export async function buildKernels(sources, target) {
  const { error, stderr } = await asc.main([
    join(sources, "index.ts"),
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
    throw new Error("The kernels cannot be compiled.");
  }
  const text = readFileSync(BINARY).toString("base64");
  rmSync(BINARY);
  writeFileSync(
    target,
    `/** Made by scripts/build-kernels.mjs from src/core/kernels/assembly; not kept in the repository. */\nexport const WASM =\n  "${text}";\n`,
  );
  console.log(`Kernels: ${Math.round((text.length * 3) / 4)} bytes of WebAssembly.`);
}
