/** Values of all dials kept together: taken, applied, blended. */
import { definitionOf } from "@/core/capsules/definitions";
import type { Edit } from "@/core/document/edits";
import { indexGraph, parseAddress } from "@/core/document/links";
import type { PieceDocument, Snapshot } from "@/core/document/schema";
import { toHex } from "@/core/maths/color";
import { bakeGradient, type Gradient, TABLE_SIZE } from "@/core/maths/gradient";
import type { Profile } from "@/core/maths/profile";
import type { AnyInput } from "@/core/nodes/define";
import type { PortKind, Setting } from "@/core/nodes/ports";

export interface DialTarget {
  readonly node: string;
  readonly port: string;
  readonly input: AnyInput;
  readonly value: Setting;
}

/** What a dial stands for; undefined when its node or input is gone. */
export function targetOf(document: PieceDocument, address: string): DialTarget | undefined {
  const { node, port } = parseAddress(address);
  const found = indexGraph(document.graph).nodes.get(node);
  const input: AnyInput | undefined = found && definitionOf(document, found.type)?.inputs[port];
  return found && input && { node, port, input, value: found.set[port] ?? input.default };
}

/** The values that all dials have now. */
export function takeSnapshot(document: PieceDocument, name: string): Snapshot {
  const values: Record<string, Setting> = {};
  for (const { input } of document.dials) {
    const target = targetOf(document, input);
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

/**
 * A value between two of a kind. Numbers and parts of vectors in proportion, colours in Oklab, gradients and profiles point
 * by point when they have as many; everything else changes half-way.
 */
export function blendSettings(
  { kind, whole }: Pick<AnyInput, "kind" | "whole">,
  from: Setting,
  to: Setting,
  t: number,
): Setting {
  if (t <= 0) return from;
  if (t >= 1) return to;
  return BLENDS[kind]?.(from as never, to as never, t, whole === true) ?? (t < 0.5 ? from : to);
}

type Blend = (from: never, to: never, t: number, whole: boolean) => Setting | undefined;

const between = (a: number, b: number, t: number): number => Number((a + (b - a) * t).toPrecision(7));
const parts = (a: readonly number[], b: readonly number[], t: number): number[] =>
  a.map((v, i) => between(v, b[i], t));

const BLENDS: Readonly<Partial<Record<PortKind, Blend>>> = {
  number: (a: number, b: number, t, whole) => (whole ? Math.round(a + (b - a) * t) : between(a, b, t)),
  vector: parts,
  rotation: parts,
  color: betweenColors,
  gradient(a: Gradient, b: Gradient, t) {
    if (a.stops.length !== b.stops.length) return undefined;
    const stops = a.stops.map((stop, i) => ({
      at: between(stop.at, b.stops[i].at, t),
      color: betweenColors(stop.color, b.stops[i].color, t),
    }));
    return { ...(t < 0.5 ? a : b), stops } as unknown as Setting;
  },
  profile(a: Profile, b: Profile, t) {
    if (a.points.length !== b.points.length) return undefined;
    const points = a.points.map((point, i) => ({
      at: between(point.at, b.points[i].at, t),
      value: between(point.value, b.points[i].value, t),
    }));
    return { ...(t < 0.5 ? a : b), points } as unknown as Setting;
  },
};

function betweenColors(a: string, b: string, t: number): string {
  const table = bakeGradient({
    space: "oklab",
    stops: [
      { at: 0, color: a },
      { at: 1, color: b },
    ],
  });
  const k = Math.round(t * (TABLE_SIZE - 1)) * 4;
  return toHex([table[k], table[k + 1], table[k + 2], table[k + 3]]);
}
