/** Values of all dials kept together: taken, applied, blended. */
import { definitionOf } from "@/core/capsules/definitions";
import type { Edit } from "@/core/document/edits";
import { indexGraph, parseAddress } from "@/core/document/links";
import type { PieceDocument, Snapshot } from "@/core/document/schema";
import { blendSettings } from "@/core/keys/blend";
import type { AnyInput } from "@/core/nodes/define";
import type { Setting } from "@/core/nodes/ports";
import { settingAt } from "../state/keyed-edits";

export interface DialTarget {
  readonly node: string;
  readonly port: string;
  readonly input: AnyInput;
  readonly value: Setting;
}

/** What a dial stands for, with its value at a frame; undefined when its node or input is gone. */
export function targetOf(
  document: PieceDocument,
  address: string,
  frame = document.settings.first,
): DialTarget | undefined {
  const { node, port } = parseAddress(address);
  const found = indexGraph(document.graph).nodes.get(node);
  const input: AnyInput | undefined = found && definitionOf(document, found.type)?.inputs[port];
  return found && input && { node, port, input, value: settingAt(found, port, input, frame) };
}

/** The values that all dials have at a frame. */
export function takeSnapshot(document: PieceDocument, name: string, frame?: number): Snapshot {
  const values: Record<string, Setting> = {};
  for (const { input } of document.dials) {
    const target = targetOf(document, input, frame);
    if (target && target.input.kind !== "shape") values[input] = target.value;
  }
  return { name, values };
}

/** Sets the dials to values; those of inputs that are gone are left out. */
export function applyValues(document: PieceDocument, values: Readonly<Record<string, Setting>>): Edit {
  return {
    kind: "several",
    edits: Object.entries(values).flatMap(([address, value]): Edit[] => {
      const target = targetOf(document, address);
      return target ? [{ kind: "set-input", node: target.node, input: target.port, value }] : [];
    }),
  };
}

/** Values between two snapshots, 0 the first, 1 the second; what only one has is that one's. */
export function blendSnapshots(
  document: PieceDocument,
  a: Snapshot,
  b: Snapshot,
  t: number,
): Record<string, Setting> {
  const values: Record<string, Setting> = {};
  for (const address of new Set([...Object.keys(a.values), ...Object.keys(b.values)])) {
    const input = targetOf(document, address)?.input;
    const [from, to] = [a.values[address] ?? b.values[address], b.values[address] ?? a.values[address]];
    if (input) values[address] = blendSettings(input, from, to, t);
  }
  return values;
}
