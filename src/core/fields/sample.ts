/** Runs fields over an even sample of a domain, for looking at them cheaply. */
import { type Domain, gather } from "../geometry/column";
import type { Value } from "./expression";
import { runValues } from "./run";

/** Elements looked at; enough for a histogram of 24 bins. */
export const SAMPLE = 2048;

/** One lane per value, at most SAMPLE elements spread evenly over the domain. */
export function runSample(values: readonly Value[], domain: Domain): Float32Array[] {
  if (domain.count <= SAMPLE) return runValues(values, domain).lanes;
  const elements = Int32Array.from({ length: SAMPLE }, (_, i) => Math.floor((i * domain.count) / SAMPLE));
  return runValues(values, gather(domain, elements), { sampleOf: { elements, count: domain.count } }).lanes;
}
