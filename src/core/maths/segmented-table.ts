/**
 * A response as a table for look-up, in segments that begin at knots, so that what stands at a knot is met exactly and a jump
 * there is one. Within a segment entries are evenly spaced and mixed linearly.
 *
 * Layout of `table`, float32: `knots` places, ascending; then for each of the knots + 1 segments four numbers: where
 * it begins, entries a unit of length, number of its first entry, number of its steps (at least 1); then the entries,
 * each as many numbers as the response has. Segment k is read from knot k − 1 (included) to knot k: the first
 * holds before all knots, the last one after them.
 */
export interface SegmentedTable {
  readonly table: Float32Array;
  readonly knots: number;
}

export interface SegmentedResponse {
  /** Ascending; two at one place make a jump. */
  readonly knots: readonly number[];
  /** Numbers of one entry. */
  readonly lanes: number;
  /** What holds before the first knot and from the last one on. */
  readonly before: readonly number[];
  readonly after: readonly number[];
  /** Steps between knot k and the next. */
  readonly steps: (k: number) => number;
  /** What is there at the part t of the way from knot k to the next; at 0 and at 1 what it comes to from within. */
  readonly between: (k: number, t: number) => readonly number[];
}

const RECORD = 4;

export function segmentedTable(response: SegmentedResponse): SegmentedTable {
  const { knots, lanes, before, after, between } = response;
  const records: number[] = [];
  const entries: number[] = [];
  const segment = (start: number, length: number, list: readonly (readonly number[])[]) => {
    const perUnit = length > 0 ? (list.length - 1) / length : 0;
    // A segment shorter than float32 can divide by has its beginning all along.
    const known = Number.isFinite(Math.fround(perUnit)) ? perUnit : 0;
    records.push(start, known, entries.length / lanes, list.length - 1);
    for (const entry of list) entries.push(...entry);
  };
  segment(0, 0, [before, before]);
  for (let k = 0; k + 1 < knots.length; k++) {
    const length = knots[k + 1] - knots[k];
    const steps = length > 0 ? Math.max(1, Math.ceil(response.steps(k))) : 1;
    segment(
      knots[k],
      length,
      Array.from({ length: steps + 1 }, (_, i) => between(k, i / steps)),
    );
  }
  if (knots.length > 0) segment(0, 0, [after, after]);
  const table = new Float32Array(knots.length + records.length + entries.length);
  table.set(knots);
  table.set(records, knots.length);
  table.set(entries, knots.length + (knots.length + 1) * RECORD);
  return { table, knots: knots.length };
}
