/** Two substances that react and spread over elements that have neighbours: elements first … first + n − 1, whose lanes begin at 0. */

@inline
function at(lane: usize, i: i32): f32 {
  return load<f32>(lane + ((<usize>i) << 2));
}

/** The mean of the four beside each of four places of a lattice. @param row bytes from one row to the next */
@inline
function meanBeside(lane: usize, row: usize): v128 {
  const across = f32x4.add(v128.load(lane - 4), v128.load(lane + 4));
  const along = f32x4.add(v128.load(lane - row), v128.load(lane + row));
  return f32x4.mul(f32x4.add(across, along), f32x4.splat(0.25));
}

@inline
function fourAtOnce(
  to: usize, outFood: usize, outEater: usize, food: usize, eater: usize, feed: usize, kill: usize, row: usize,
  spreadFood: f32, spreadEater: f32, react: f32,
): void {
  const a = v128.load(food + to);
  const b = v128.load(eater + to);
  const f = v128.load(feed + to);
  const toA = f32x4.mul(f32x4.splat(spreadFood), f32x4.sub(meanBeside(food + to, row), a));
  const toB = f32x4.mul(f32x4.splat(spreadEater), f32x4.sub(meanBeside(eater + to, row), b));
  const eaten = f32x4.mul(f32x4.mul(a, b), b);
  const fed = f32x4.sub(f32x4.mul(f, f32x4.sub(f32x4.splat(1), a)), eaten);
  const left = f32x4.sub(eaten, f32x4.mul(f32x4.add(f, v128.load(kill + to)), b));
  const reacts = f32x4.splat(react);
  v128.store(outFood + to, f32x4.add(f32x4.add(a, toA), f32x4.mul(reacts, fed)));
  v128.store(outEater + to, f32x4.add(f32x4.add(b, toB), f32x4.mul(reacts, left)));
}

/**
 * One step of P. Gray and S. Scott's reaction (1984): a food that comes in, and what feeds on it and dies. Spreading goes towards the mean of the
 * neighbours, which on an even lattice is the five-point Laplacian times a quarter.
 * @param starts items neighbours of element i are items[starts[i]] … items[starts[i + 1] − 1]
 * @param runs of each element how many from it on have just those beside them and `width` before and after as neighbours, as on an even lattice: four of
 * them are done at once; 0 for none to look at
 * @param feed kill a number an element @param spreadFood spreadEater how much of the way to the mean in a step
 * @param react 1 for the reaction too, 0 to spread only
 */
export function reactionStep(
  n: i32, first: i32, outFood: usize, outEater: usize, food: usize, eater: usize, starts: usize, items: usize, runs: usize, feed: usize, kill: usize,
  width: f32, spreadFood: f32, spreadEater: f32, react: f32,
): void {
  const stop = first + n;
  for (let i = first; i < stop; i++) {
    if (runs && i + 4 <= stop && load<i32>(runs + ((<usize>i) << 2)) >= 4) {
      fourAtOnce((<usize>i) << 2, outFood, outEater, food, eater, feed, kill, (<usize>width) << 2, spreadFood, spreadEater, react);
      i += 3;
      continue;
    }
    const from = load<i32>(starts + ((<usize>i) << 2));
    const until = load<i32>(starts + ((<usize>i) << 2), 4);
    const a = at(food, i);
    const b = at(eater, i);
    let sumA: f32 = 0;
    let sumB: f32 = 0;
    for (let k = from; k < until; k++) {
      const other = load<i32>(items + ((<usize>k) << 2));
      sumA += at(food, other);
      sumB += at(eater, other);
    }
    let toA: f32 = 0;
    let toB: f32 = 0;
    if (until > from) {
      const share = <f32>1 / <f32>(until - from);
      toA = spreadFood * (sumA * share - a);
      toB = spreadEater * (sumB * share - b);
    }
    const eaten = a * b * b;
    const f = at(feed, i);
    store<f32>(outFood + ((<usize>i) << 2), a + toA + react * (f * (1 - a) - eaten));
    store<f32>(outEater + ((<usize>i) << 2), b + toB + react * (eaten - (f + at(kill, i)) * b));
  }
}
