/** Two substances that react and spread over elements that have neighbours: elements first … first + n − 1, whose lanes begin at 0. */

@inline
function at(lane: usize, i: i32): f32 {
  return load<f32>(lane + ((<usize>i) << 2));
}

/**
 * One step of J. Gray and S. Scott's reaction (1984): a food that comes in, and what feeds on it and dies. Spreading goes towards the mean of the
 * neighbours, which on an even lattice is the five-point Laplacian times a quarter.
 * @param starts items neighbours of element i are items[starts[i]] … items[starts[i + 1] − 1]
 * @param feed kill a number an element @param spreadFood spreadEater how much of the way to the mean in a step
 * @param react 1 for the reaction too, 0 to spread only
 */
export function reactionStep(
  n: i32, first: i32, outFood: usize, outEater: usize, food: usize, eater: usize, starts: usize, items: usize, feed: usize, kill: usize,
  spreadFood: f32, spreadEater: f32, react: f32,
): void {
  for (let i = first; i < first + n; i++) {
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
