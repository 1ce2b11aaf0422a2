/** Fields read somewhere else: the columns that a field reads, replaced by values. */
import { applyAll, inputsFirst, plainColumn, type Step, type Value } from "./expression";

/**
 * The values as they would be if named columns were others: a flow at the place where something will be, say. What reads none of
 * them stays the very same.
 * @param instead what is read in place of a column's lane; null to leave it
 */
export function substituted(
  values: readonly Value[],
  instead: (name: string, lane: number) => Value | null,
): Value[] {
  const done = new Map<Step, readonly Value[] | null>();
  const now = ({ step, lane }: Value): Value => done.get(step)?.[lane] ?? { step, lane };
  for (const { step: root } of values)
    for (const step of inputsFirst(root, done)) {
      const read = plainColumn({ step, lane: 0 });
      if (read) {
        const other = instead(read.name, read.lane);
        done.set(step, other && [other]);
      } else if (step.inputs.some((input) => done.get(input.step)))
        done.set(step, applyAll(step.op, step.inputs.map(now), step.data));
      else done.set(step, null);
    }
  return values.map(now);
}

/** Whether a value depends on a column. */
export function reads(value: Value, name: string): boolean {
  const seen = new Set<Step>();
  for (const step of inputsFirst(value.step, seen)) {
    if (plainColumn({ step, lane: 0 })?.name === name) return true;
    seen.add(step);
  }
  return false;
}
