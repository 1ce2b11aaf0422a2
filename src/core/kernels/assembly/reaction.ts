/**
 * One step of P. Gray and S. Scott's reaction (1984): a food that comes in, and what feeds on it and dies. Spreading goes towards the mean of the
 * neighbours, which on an even lattice is the five-point Laplacian times a quarter. Of both kernels: lanes begin at element 0; `feed` and `kill` are a
 * number an element; `spreadFood` and `spreadEater` say how much of the way to the mean a step goes; `react` is 1 for the reaction too, 0 to spread only.
 */

@inline
function at(lane: usize, i: i32): f32 {
  return load<f32>(lane + ((<usize>i) << 2));
}

@inline
function mixed(
  i: i32, outFood: usize, outEater: usize, a: f32, b: f32, meanA: f32, meanB: f32, feed: usize, kill: usize,
  spreadFood: f32, spreadEater: f32, react: f32,
): void {
  const eaten = a * b * b;
  const f = at(feed, i);
  store<f32>(outFood + ((<usize>i) << 2), a + spreadFood * (meanA - a) + react * (f * (1 - a) - eaten));
  store<f32>(outEater + ((<usize>i) << 2), b + spreadEater * (meanB - b) + react * (eaten - (f + at(kill, i)) * b));
}

/** The mean of the four beside each of four places of a lattice. @param row bytes from one row to the next */
@inline
function meansBeside(lane: usize, row: usize): v128 {
  const across = f32x4.add(v128.load(lane - 4), v128.load(lane + 4));
  const along = f32x4.add(v128.load(lane - row), v128.load(lane + row));
  return f32x4.mul(f32x4.add(across, along), f32x4.splat(0.25));
}

@inline
function meanBeside(lane: usize, i: i32, width: i32): f32 {
  return (at(lane, i - 1) + at(lane, i + 1) + (at(lane, i - width) + at(lane, i + width))) * 0.25;
}

/**
 * Elements first … first + n − 1 that lie in an even lattice; others are left as they are.
 * @param runs of each element how many from it on have just those beside them and `width` before and after as neighbours; 0 for none
 */
export function reactionOnLattice(
  n: i32, first: i32, outFood: usize, outEater: usize, food: usize, eater: usize, runs: usize, feed: usize, kill: usize,
  width: i32, spreadFood: f32, spreadEater: f32, react: f32,
): void {
  const row = (<usize>width) << 2;
  const ofFood = f32x4.splat(spreadFood);
  const ofEater = f32x4.splat(spreadEater);
  const reacts = f32x4.splat(react);
  const one = f32x4.splat(1);
  const stop = first + n;
  for (let i = first; i < stop; ) {
    const run = load<i32>(runs + ((<usize>i) << 2));
    const end = i + min(run, stop - i);
    const fours = (<usize>(i + ((end - i) & ~3))) << 2;
    let to = (<usize>i) << 2;
    for (; to < fours; to += 16) {
      const a = v128.load(food + to);
      const b = v128.load(eater + to);
      const f = v128.load(feed + to);
      const toA = f32x4.mul(ofFood, f32x4.sub(meansBeside(food + to, row), a));
      const toB = f32x4.mul(ofEater, f32x4.sub(meansBeside(eater + to, row), b));
      const eaten = f32x4.mul(f32x4.mul(a, b), b);
      const fed = f32x4.sub(f32x4.mul(f, f32x4.sub(one, a)), eaten);
      const left = f32x4.sub(eaten, f32x4.mul(f32x4.add(f, v128.load(kill + to)), b));
      v128.store(outFood + to, f32x4.add(f32x4.add(a, toA), f32x4.mul(reacts, fed)));
      v128.store(outEater + to, f32x4.add(f32x4.add(b, toB), f32x4.mul(reacts, left)));
    }
    for (i = <i32>(to >> 2); i < end; i++)
      mixed(i, outFood, outEater, at(food, i), at(eater, i), meanBeside(food, i, width), meanBeside(eater, i, width), feed, kill, spreadFood, spreadEater, react);
    if (run == 0) i++;
  }
}

/**
 * Elements that have neighbours of any number, or none.
 * @param elements n of them @param starts items neighbours of the one at k are items[starts[k]] … items[starts[k + 1] − 1]
 */
export function reactionAmong(
  n: i32, elements: usize, starts: usize, outFood: usize, outEater: usize, food: usize, eater: usize, items: usize, feed: usize, kill: usize,
  spreadFood: f32, spreadEater: f32, react: f32,
): void {
  for (let k = 0; k < n; k++) {
    const i = load<i32>(elements + ((<usize>k) << 2));
    const from = load<i32>(starts + ((<usize>k) << 2));
    const until = load<i32>(starts + ((<usize>k) << 2), 4);
    const a = at(food, i);
    const b = at(eater, i);
    let sumA: f32 = 0;
    let sumB: f32 = 0;
    for (let j = from; j < until; j++) {
      const other = load<i32>(items + ((<usize>j) << 2));
      sumA += at(food, other);
      sumB += at(eater, other);
    }
    const share = <f32>1 / <f32>(until - from);
    // Without neighbours nothing spreads.
    const meanA = until > from ? sumA * share : a;
    const meanB = until > from ? sumB * share : b;
    mixed(i, outFood, outEater, a, b, meanA, meanB, feed, kill, spreadFood, spreadEater, react);
  }
}
