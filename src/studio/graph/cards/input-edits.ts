/** Edits of one input's value: driven by a node, taken from another input, swapped with another, brought back. */
import { definitionOf } from "@/core/capsules/definitions";
import type { Edit } from "@/core/document/edits";
import { indexGraph, joinAddress, parseAddress, settingAddress, wouldCycle } from "@/core/document/links";
import type { Link, PieceDocument } from "@/core/document/schema";
import { canLink } from "@/core/evaluate/convert";
import { settingFault } from "@/core/evaluate/settings";
import type { AnyInput } from "@/core/nodes/define";
import type { PortKind, Setting } from "@/core/nodes/ports";
import { addNodeEdit, connectEdit, typeOf } from "../graph-edits";

const inputOf = (document: PieceDocument, node: string, input: string): AnyInput | undefined =>
  typeOf(document, node)?.inputs[input];

/** Nodes that may drive an input of a kind, by what they do; plain ones where the input takes one value for all. */
const DRIVERS: Readonly<Partial<Record<PortKind, readonly string[]>>> = {
  number: ["noise", "random", "falloff", "wave", "index", "attribute", "clock", "arithmetic"],
  vector: ["noise", "random", "position", "swirl", "vector-arithmetic", "clock"],
  rotation: ["angles", "noise", "random"],
  color: ["gradient", "colour-shift", "picture-sample", "attribute"],
  toggle: ["compare"],
};
/** These give the same for every element. */
const PLAIN = new Set(["clock", "arithmetic", "vector-arithmetic", "angles"]);
/** These give 0 … 1 and are brought to the value that was there. */
const UNIT = new Set(["random", "falloff", "wave"]);

export const driversOf = (input: AnyInput): readonly string[] =>
  (DRIVERS[input.kind] ?? []).filter((type) => input.perElement || PLAIN.has(type));

/** Units of the graph between a node and what is put before it. */
const BEFORE = 270;

/** A new node linked into an input; what gives 0 to 1 goes through a Remap to the value that was set. Null when it cannot. */
export function driveEdit(
  document: PieceDocument,
  node: string,
  input: string,
  type: string,
): { edit: Edit; id: string } | null {
  const declared = inputOf(document, node, input);
  const target = document.graph.nodes.find(({ id }) => id === node);
  if (!declared || !target) return null;
  const open = { address: joinAddress(node, input), end: "to" as const };
  const value = target.set[input] ?? declared.default;
  const [x, y] = target.at;
  if (!UNIT.has(type) || declared.kind !== "number" || typeof value !== "number" || value === 1)
    return addNodeEdit(document, type, [x - BEFORE, y], open);
  const remap = addNodeEdit(document, "remap", [x - BEFORE, y], open);
  const driver = addNodeEdit(document, type, [x - 2 * BEFORE, y]);
  return {
    id: driver.id,
    edit: {
      kind: "several",
      edits: [
        remap.edit,
        driver.edit,
        { kind: "set-input", node: remap.id, input: "toHigh", value },
        {
          kind: "add",
          links: [
            {
              item: { from: joinAddress(driver.id, "value"), to: joinAddress(remap.id, "value") },
              index: document.graph.links.filter(({ to }) => to !== open.address).length + 1,
            },
          ],
        },
      ],
    },
  };
}

/** Addresses of all values that an input could follow. */
export function valuesOffered(document: PieceDocument, node: string, input: string): string[] {
  const declared = inputOf(document, node, input);
  if (!declared || declared.kind === "shape") return [];
  const index = indexGraph(document.graph);
  return document.graph.nodes.flatMap((other) => {
    if (wouldCycle(index, other.id, node)) return [];
    const inputs: Record<string, AnyInput> = definitionOf(document, other.type)?.inputs ?? {};
    return Object.entries(inputs)
      .filter(([, { kind, implicit }]) => kind !== "shape" && !implicit && canLink(kind, declared.kind))
      .map(([name]) => joinAddress(other.id, name));
  });
}

/** The input follows the value of another one from now on. */
export function followEdit(document: PieceDocument, node: string, input: string, source: string): Edit {
  const { node: other, port } = parseAddress(source);
  return connectEdit(document, { from: settingAddress(other, port), to: joinAddress(node, input) });
}

/** What is linked and set at the first two inputs of one kind changes places. Null when nothing would change. */
export function swapEdit(document: PieceDocument, node: string): Edit | null {
  const target = document.graph.nodes.find(({ id }) => id === node);
  const inputs: [string, AnyInput][] = Object.entries(
    definitionOf(document, target?.type ?? "")?.inputs ?? {},
  );
  const into = (name: string) => document.graph.links.filter(({ to }) => to === joinAddress(node, name));
  if (!target) return null;
  const linked = inputs.filter(([name]) => into(name).length > 0);
  const pair = [...linked, ...inputs].flatMap(([first, one]) => {
    const other = inputs.find(
      ([name, { kind, many }]) => name !== first && kind === one.kind && many === one.many && !one.choices,
    );
    return other ? [[first, other[0]] as const] : [];
  })[0];
  if (!pair) return null;
  const [a, b] = pair;
  const moved: Link[] = [...into(a), ...into(b)];
  const there = new Map([
    [joinAddress(node, a), joinAddress(node, b)],
    [joinAddress(node, b), joinAddress(node, a)],
  ]);
  const edits: Edit[] = moved.length
    ? [
        { kind: "remove", links: moved },
        {
          kind: "add",
          links: moved
            .map((link) => ({
              item: { ...link, to: there.get(link.to) as string },
              index: document.graph.links.indexOf(link),
            }))
            .sort((p, q) => p.index - q.index),
        },
      ]
    : [];
  if (target.set[a] !== target.set[b])
    edits.push(
      { kind: "set-input", node, input: a, value: target.set[b] },
      { kind: "set-input", node, input: b, value: target.set[a] },
    );
  const [before, after] = [target.keys?.[a], target.keys?.[b]];
  if (before !== after)
    edits.push(
      { kind: "set-track", node, input: a, track: after },
      { kind: "set-track", node, input: b, track: before },
    );
  return edits.length > 0 ? { kind: "several", edits } : null;
}

/** The text under which a value is copied. */
export const valueAsText = (value: Setting): string => JSON.stringify(value);

export type PastedValue =
  | { readonly ok: true; readonly value: Setting }
  | { readonly ok: false; readonly what: string };

/** A value from text, as it was copied or typed elsewhere: JSON, or bare words for texts, choices and colours. */
export function valueFromText(input: AnyInput, text: string): PastedValue {
  let value: Setting = text.trim();
  try {
    value = JSON.parse(text) as Setting;
  } catch {
    // Not JSON: taken as it stands.
  }
  if (typeof value === "number" && input.kind === "vector") value = [value, value, value];
  const fault = settingFault(input, value);
  return fault
    ? {
        ok: false,
        what: `What was copied does not fit: it ${fault}, and it is ${text.trim().slice(0, 60) || "nothing"}.`,
      }
    : { ok: true, value };
}
