/**
 * What stands for a value in the keys of results: equal values have equal fingerprints. Fields are told apart by their
 * structure, so a field that is made anew but is the same program leaves what uses it alone; shapes by identity, as they
 * are never changed.
 */
import { inputsFirst, isValue, type Step, type Value } from "../fields/expression";
import type { PortKind } from "../nodes/ports";

/** By the key of a step and the fingerprints of its inputs. */
const known = new Map<string, string>();
const steps = new WeakMap<Step, string>();
const objects = new WeakMap<object, string>();
let counter = 0;

/** Keys remembered at most; forgetting them only means that something is worked out once more. */
const MOST = 50_000;

/** @param carried a value of that kind as outputs have it */
export function fingerprintOf(kind: PortKind, carried: unknown): string {
  if (kind === "shape" || kind === "asset") return identityOf(carried as object);
  if (isValue(carried)) return valueFingerprint(carried);
  if (Array.isArray(carried) && carried.every(isValue)) return carried.map(valueFingerprint).join(",");
  return JSON.stringify(carried) ?? "nothing";
}

function identityOf(object: object | null | undefined): string {
  if (!object) return "none";
  let name = objects.get(object);
  if (!name) objects.set(object, (name = `o${counter++}`));
  return name;
}

const valueFingerprint = ({ step, lane }: Value): string => `${stepFingerprint(step)}.${lane}`;

function stepFingerprint(root: Step): string {
  for (const step of inputsFirst(root, steps)) {
    const inputs = step.inputs.map((input) => `${steps.get(input.step)}.${input.lane}`);
    steps.set(step, shortFor(`${step.op}|${step.data?.key ?? ""}|${inputs.join(",")}`));
  }
  return steps.get(root) as string;
}

/** A short stand-in, so that keys do not grow along a chain. */
function shortFor(key: string): string {
  let short = known.get(key);
  if (!short) {
    if (known.size >= MOST) known.clear();
    known.set(key, (short = `s${counter++}`));
  }
  return short;
}
