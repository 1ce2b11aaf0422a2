/** Look-up in tables of segments between knots (maths/segmented-table.ts says how they lie); NaN is read as 0. */
import { storeTransposed } from "./transposing";

/** Up to so many knots are counted four places at a time; among more each place searches for itself. */
const COUNTED = 24;
/** Bytes of a segment's record: where it begins, entries a unit, its first entry, its steps. */
const RECORD: usize = 16;

/** How many of the knots lie at or before each of four places. */
@inline
function segmentsAt(x: v128, table: usize, knots: i32): v128 {
  let passed = i32x4.splat(0);
  if (knots <= COUNTED) {
    for (let k = 0; k < knots; k++)
      passed = i32x4.sub(passed, f32x4.ge(x, v128.load32_splat(table + ((<usize>k) << 2))));
    return passed;
  }
  passed = i32x4.replace_lane(passed, 0, passedBy(f32x4.extract_lane(x, 0), table, knots));
  passed = i32x4.replace_lane(passed, 1, passedBy(f32x4.extract_lane(x, 1), table, knots));
  passed = i32x4.replace_lane(passed, 2, passedBy(f32x4.extract_lane(x, 2), table, knots));
  return i32x4.replace_lane(passed, 3, passedBy(f32x4.extract_lane(x, 3), table, knots));
}

function passedBy(x: f32, table: usize, knots: i32): i32 {
  let low = 0;
  let high = knots;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (load<f32>(table + ((<usize>middle) << 2)) <= x) low = middle + 1;
    else high = middle;
  }
  return low;
}

/** Where a place lies in its segment, in entries from its first one: the entry before it, and the part of the way to the next. */
@inline
function placeIn(x: f32, record: usize): f32 {
  const place = (x - load<f32>(record)) * load<f32>(record, 4);
  return min<f32>(max<f32>(place, 0), load<f32>(record, 12));
}

@inline
function entryOf(place: f32, record: usize): i32 {
  return min<i32>(<i32>place, <i32>load<f32>(record, 12) - 1);
}

@inline
function numberAt(x: f32, segment: i32, records: usize, entries: usize): f32 {
  const record = records + (<usize>segment) * RECORD;
  const place = placeIn(x, record);
  const entry = entryOf(place, record);
  const at = entries + ((<usize>(<i32>load<f32>(record, 8) + entry)) << 2);
  const from = load<f32>(at);
  return from + (place - <f32>entry) * (load<f32>(at, 4) - from);
}

/** Entries of one number. */
export function lookup(n: i32, out: usize, x: usize, table: usize, knots: i32): void {
  const records = table + ((<usize>knots) << 2);
  const entries = records + (<usize>knots + 1) * RECORD;
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const read = v128.load(x + i);
    const at = v128.and(read, f32x4.eq(read, read));
    const segments = segmentsAt(at, table, knots);
    let found = f32x4.splat(0);
    found = f32x4.replace_lane(found, 0, numberAt(f32x4.extract_lane(at, 0), i32x4.extract_lane(segments, 0), records, entries));
    found = f32x4.replace_lane(found, 1, numberAt(f32x4.extract_lane(at, 1), i32x4.extract_lane(segments, 1), records, entries));
    found = f32x4.replace_lane(found, 2, numberAt(f32x4.extract_lane(at, 2), i32x4.extract_lane(segments, 2), records, entries));
    found = f32x4.replace_lane(found, 3, numberAt(f32x4.extract_lane(at, 3), i32x4.extract_lane(segments, 3), records, entries));
    v128.store(out + i, found);
  }
}

@inline
function colorAt(x: f32, segment: i32, records: usize, entries: usize): v128 {
  const record = records + (<usize>segment) * RECORD;
  const place = placeIn(x, record);
  const entry = entryOf(place, record);
  const at = entries + ((<usize>(<i32>load<f32>(record, 8) + entry)) << 4);
  const from = v128.load(at);
  return f32x4.add(from, f32x4.mul(f32x4.splat(place - <f32>entry), f32x4.sub(v128.load(at, 16), from)));
}

/** Entries of four numbers. */
export function gradient(
  n: i32, red: usize, green: usize, blue: usize, alpha: usize, x: usize, table: usize, knots: i32,
): void {
  const records = table + ((<usize>knots) << 2);
  const entries = records + (<usize>knots + 1) * RECORD;
  for (let i: usize = 0, end = (<usize>n) << 2; i < end; i += 16) {
    const read = v128.load(x + i);
    const at = v128.and(read, f32x4.eq(read, read));
    const segments = segmentsAt(at, table, knots);
    const a = colorAt(f32x4.extract_lane(at, 0), i32x4.extract_lane(segments, 0), records, entries);
    const b = colorAt(f32x4.extract_lane(at, 1), i32x4.extract_lane(segments, 1), records, entries);
    const c = colorAt(f32x4.extract_lane(at, 2), i32x4.extract_lane(segments, 2), records, entries);
    const d = colorAt(f32x4.extract_lane(at, 3), i32x4.extract_lane(segments, 3), records, entries);
    storeTransposed(red + i, green + i, blue + i, alpha + i, a, b, c, d);
  }
}
