/** Reading and writing documents as text. */
import { MOST_DEPTH, tooDeep } from "./depth";
import type { DocumentFault } from "./fault";
import { cleanFileName } from "./file-name";
import { migrate } from "./migrate";
import { documentSchema, type Graph, type PieceDocument, type Track } from "./schema";
import { faultOf, pathText } from "./schema-fault";

export type ReadDocument =
  | { readonly ok: true; readonly document: PieceDocument }
  | { readonly ok: false; readonly faults: readonly DocumentFault[] };

/** Parses `.glemmo.json` text. Never throws; faults name where and what. */
export function readDocument(text: string): ReadDocument {
  let raw: unknown;
  try {
    raw = JSON.parse(text);
  } catch (error) {
    return { ok: false, faults: [{ where: "", what: `This is not JSON: ${(error as Error).message}.` }] };
  }
  return validateDocument(raw);
}

/** Checks parsed JSON, bringing older versions up to date. */
export function validateDocument(raw: unknown): ReadDocument {
  const deep = tooDeep(raw);
  if (deep) {
    const where = pathText(deep.slice(0, 6));
    return {
      ok: false,
      faults: [{ where, what: `It goes more than ${MOST_DEPTH} levels deep; nothing in a piece does.` }],
    };
  }
  const migrated = migrate(withCleanNames(raw));
  if (!migrated.ok) return migrated;
  const parsed = documentSchema.safeParse(migrated.document);
  if (!parsed.success)
    return { ok: false, faults: parsed.error.issues.map((issue) => faultOf(issue, migrated.document)) };
  const faults = structuralFaults(parsed.data);
  return faults.length > 0 ? { ok: false, faults } : { ok: true, document: parsed.data };
}

/** Pieces that were made before names of files were looked at may have any; they are brought in all the same. */
function withCleanNames(raw: unknown): unknown {
  const { assets } = (raw ?? {}) as { assets?: unknown };
  if (assets === null || typeof assets !== "object" || Array.isArray(assets)) return raw;
  const clean = Object.entries(assets).map(([name, asset]) => {
    const { file } = (asset ?? {}) as { file?: unknown };
    return [name, typeof file === "string" ? { ...asset, file: cleanFileName(file) } : asset];
  });
  return { ...(raw as object), assets: Object.fromEntries(clean) };
}

/** Faults that a schema cannot see: ids and names used twice, a range that runs backwards. */
function structuralFaults(document: PieceDocument): DocumentFault[] {
  const faults = graphFaults("graph", document.graph);
  for (const [name, { graph, inputs, outputs }] of Object.entries(document.capsules)) {
    const where = `capsules.${name}`;
    faults.push(
      ...graphFaults(`${where}.graph`, graph),
      ...usedTwice(`${where}.inputs`, "name", inputs),
      ...usedTwice(`${where}.outputs`, "name", outputs),
    );
  }
  if (document.settings.last < document.settings.first) {
    faults.push({
      where: "settings.last",
      what: `The last frame (${document.settings.last}) is before the first (${document.settings.first}).`,
    });
  }
  return faults;
}

const graphFaults = (where: string, { nodes, notes = [] }: Graph): DocumentFault[] => [
  ...usedTwice(`${where}.nodes`, "id", nodes),
  ...nodes.flatMap((node, i) => orderFaults(`${where}.nodes[${i}].keys`, node.keys ?? {})),
  ...usedTwice(`${where}.notes`, "id", notes),
];

/** Keys that do not come one after the other. */
const orderFaults = (where: string, tracks: Readonly<Record<string, Track>>): DocumentFault[] =>
  Object.entries(tracks).flatMap(([input, { keys }]) =>
    keys.flatMap(({ frame }, i) =>
      i > 0 && frame <= keys[i - 1].frame
        ? [
            {
              where: `${where}.${input}.keys[${i}].frame`,
              what: `Frame ${frame} does not come after the key before it, at ${keys[i - 1].frame}.`,
            },
          ]
        : [],
    ),
  );

function usedTwice<K extends string>(
  where: string,
  key: K,
  list: readonly Readonly<Record<K, string>>[],
): DocumentFault[] {
  const seen = new Set<string>();
  return list.flatMap((item, i) => {
    const again = seen.has(item[key]);
    seen.add(item[key]);
    return again ? [{ where: `${where}[${i}].${key}`, what: `"${item[key]}" is used twice.` }] : [];
  });
}

/** Text with sorted keys and a line per small value, so that it diffs well. Ends with a line feed. */
export function writeDocument(document: PieceDocument): string {
  return `${stringify(document, "")}\n`;
}

/** Any part of a document as it is written: two parts are the same when their texts are. */
export const writeValue = (value: unknown): string => stringify(value, "");

const INLINE_WIDTH = 100;

function stringify(value: unknown, indent: string): string {
  if (value === null || typeof value !== "object") return JSON.stringify(value) ?? "null";
  const entries: [string, unknown][] = Array.isArray(value)
    ? value.map((v, i) => [String(i), v])
    : Object.entries(value)
        .filter(([, v]) => v !== undefined)
        .sort(([a], [b]) => (a < b ? -1 : 1));
  const [open, close] = Array.isArray(value) ? ["[", "]"] : ["{", "}"];
  if (entries.length === 0) return open + close;
  const inner = `${indent}  `;
  const label = (key: string) => (Array.isArray(value) ? "" : `${JSON.stringify(key)}: `);
  const parts = entries.map(([key, v]) => label(key) + stringify(v, inner));
  const inline = `${open} ${parts.join(", ")} ${close}`;
  if (indent.length > 2 && inline.length <= INLINE_WIDTH && !inline.includes("\n")) {
    return Array.isArray(value) ? `[${parts.join(", ")}]` : inline;
  }
  return `${open}\n${inner}${parts.join(`,\n${inner}`)}\n${indent}${close}`;
}
