/**
 * Writes Manifold, which works out booleans of solids, as a module that runs anywhere, a strict page and a thread of Node, with its
 * WebAssembly in it. It stands in vendor/ and is not installed: its package brings 20 MB of others along.
 */
import { readFileSync } from "node:fs";
import { base64, madeModule, replaced } from "./made-module.mjs";

const VENDOR = "vendor/manifold-3d";
const VERSION = "3.5.4";

function manifold() {
  // Its WebAssembly is handed to it, so it looks for no file.
  let text = readFileSync(`${VENDOR}/manifold.js`, "utf8");
  text = replaced(
    text,
    'if(ENVIRONMENT_IS_NODE){const{createRequire}=await import("node:module");var require=createRequire(import.meta.url)}',
    "",
  );
  text = replaced(
    text,
    'var ENVIRONMENT_IS_NODE=globalThis.process?.versions?.node&&globalThis.process?.type!="renderer";',
    "var ENVIRONMENT_IS_NODE=false;",
  );
  text = replaced(text, 'return new URL("manifold.wasm",import.meta.url).href', 'return "manifold.wasm"');
  // Bundlers for the page would look for these.
  text = text.replace(/require\("node:(fs|path|url)"\)/g, "null").replace(/import\.meta\.url/g, '""');
  text = replaced(text, "export default Module;", "");
  return `const WASM = "${base64(`${VENDOR}/manifold.wasm`)}";\n${text}
export const load = async () => {
  const module = await Module({ wasmBinary: Uint8Array.from(atob(WASM), (c) => c.charCodeAt(0)) });
  module.setup();
  return module;
};
`;
}

export const makeSolidsPart = () =>
  madeModule(import.meta.url, "src/core/solids/manifold.js", `manifold-3d ${VERSION}`, manifold);
