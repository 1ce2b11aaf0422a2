/** Elements of lanes picked by their numbers. */
import { tick } from "../cancelling";
import { addressOf } from "./arena";
import { fixedAt, laneAt } from "./job";
import { Plan } from "./plan";

/** Writes from[numbers[i]] to out[i]: by a kernel where all three stand in the memory. */
export function gatherInto(out: Float32Array, from: ArrayLike<number>, numbers: Int32Array): void {
  const [to, source, picked] = [addressOf(out), addressOf(from), addressOf(numbers)];
  if (to === null || source === null || picked === null || !(from instanceof Float32Array)) {
    for (let i = 0; i < numbers.length; i++) {
      tick(0.25);
      out[i] = from[numbers[i]];
    }
    return;
  }
  const plan = new Plan();
  plan.calls.push({
    kernel: "gather",
    operands: [laneAt(to), laneAt(picked), fixedAt(source)],
    numbers: [],
  });
  plan.run(numbers.length);
}
