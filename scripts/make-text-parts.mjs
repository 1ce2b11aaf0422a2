/**
 * Writes what shaping text needs as modules that run anywhere, a strict page and a thread of Node: HarfBuzz with its WebAssembly in it,
 * and the shipped faces. Neither is kept in the repository.
 */
import { readFileSync } from "node:fs";
import { base64, madeModule, replaced } from "./made-module.mjs";

const FOLDER = "src/core/text";
const HARFBUZZ = `${FOLDER}/harfbuzz.js`;
const FACES = `${FOLDER}/shipped-faces.ts`;

const PACKAGES = { bricolage: "@fontsource/bricolage-grotesque", instrument: "@fontsource/instrument-sans" };
const WEIGHTS = { regular: 400, bold: 700 };
/** Further letters of Latin stand in a file of their own. */
const PARTS = ["latin", "latin-ext"];

const versionOf = (name) => JSON.parse(readFileSync(`node_modules/${name}/package.json`, "utf8")).version;
function harfbuzz() {
  const from = "node_modules/harfbuzzjs/dist";
  // Its WebAssembly is handed to it, so it looks for no file, and what waits for that is ours to await.
  let loader = readFileSync(`${from}/harfbuzz.js`, "utf8");
  loader = replaced(
    loader,
    'if(ENVIRONMENT_IS_NODE){const{createRequire}=await import("module");var require=createRequire(import.meta.url)}',
    "",
  );
  loader = replaced(
    loader,
    'var ENVIRONMENT_IS_NODE=typeof process=="object"&&process.versions?.node&&process.type!="renderer";',
    "var ENVIRONMENT_IS_NODE=false;",
  );
  loader = replaced(loader, "var _scriptName=import.meta.url;", 'var _scriptName="";');
  loader = loader.replace(/new URL\("harfbuzz\.wasm",import\.meta\.url\)\.href/g, '"harfbuzz.wasm"');
  // Bundlers for the page would look for these.
  loader = loader.replace(/require\("(fs|path|url)"\)/g, "null");
  loader = loader.replace(/export default createHarfBuzz;?/, "");
  let library = readFileSync(`${from}/index.mjs`, "utf8");
  library = replaced(library, 'import createHarfBuzz from "./harfbuzz.js";', loader);
  library = replaced(
    library,
    "init(await createHarfBuzz());",
    `export const ready = createHarfBuzz({ wasmBinary: Uint8Array.from(atob(WASM), (c) => c.charCodeAt(0)) }).then(init);`,
  );
  return `const WASM = "${base64(`${from}/harfbuzz.wasm`)}";\n${library}`;
}

function faces() {
  const lists = Object.entries(PACKAGES).map(([face, name]) => {
    const short = name.split("/")[1];
    const weights = Object.entries(WEIGHTS).map(([weight, number]) => {
      const files = PARTS.map(
        (part) => `"${base64(`node_modules/${name}/files/${short}-${part}-${number}-normal.woff`)}"`,
      );
      return `    ${weight}: [${files.join(", ")}],`;
    });
    return `  ${face}: {\n${weights.join("\n")}\n  },`;
  });
  return `/** WOFF files in base64, the usual letters first. */\nexport const SHIPPED = {\n${lists.join("\n")}\n} as const;\n`;
}

export function makeTextParts() {
  madeModule(import.meta.url, HARFBUZZ, `harfbuzzjs ${versionOf("harfbuzzjs")}`, harfbuzz);
  madeModule(
    import.meta.url,
    FACES,
    Object.values(PACKAGES)
      .map((name) => `${name} ${versionOf(name)}`)
      .join(", "),
    faces,
  );
}
