/** Moving air against closed forms: projection [Stam99, BridsonMF], what is carried [Stam99], eddies [TaylorGreen37]. */
import { Arena } from "../../src/core/kernels/arena";
import { hash3, unit24 } from "../../src/core/maths/random";
import {
  AIR,
  cellCount,
  emptyLane,
  type GridSize,
  OPEN,
  overRows,
  SOLID,
} from "../../src/core/volumes/air-grid";
import { carried, moved, traced } from "../../src/core/volumes/carrying";
import { leftOf, Pressure } from "../../src/core/volumes/pressure";

/** Lanes stand in a memory of their own for each test. */
const inArena =
  <A extends unknown[]>(work: (...args: A) => void) =>
  (...args: A): void =>
    new Arena().within(() => work(...args));

const chance = (i: number, c: number): number => unit24(hash3(3, i, c)) - 0.5;

/** Air within a border of one kind. */
function kindsOf(size: GridSize, border: number): Float32Array {
  const kinds = emptyLane(size).fill(AIR);
  const [nx, ny, nz] = size;
  for (let i = 0; i < kinds.length; i++) {
    const [x, y, z] = [i % nx, Math.floor(i / nx) % ny, Math.floor(i / (nx * ny))];
    if (x === 0 || y === 0 || z === 0 || x === nx - 1 || y === ny - 1 || z === nz - 1) kinds[i] = border;
  }
  return kinds;
}

/** A lane in the kernels' memory. */
function laneOf(size: GridSize, value: (i: number) => number): Float32Array {
  const lane = emptyLane(size);
  for (let i = 0; i < lane.length; i++) lane[i] = value(i);
  return lane;
}

const randomAir = (size: GridSize): Float32Array[] => [0, 1, 2].map((c) => laneOf(size, (i) => chance(i, c)));
const energy = (velocity: readonly Float32Array[]): number =>
  velocity.reduce((sum, lane) => sum + lane.reduce((s, v) => s + v * v, 0), 0);

describe("pressure", () => {
  // FLU-05: what is left of the divergence, and energy never grows.
  it.each([
    ["open", OPEN, [34, 34, 34]],
    ["closed", SOLID, [34, 34, 34]],
    ["long and open", OPEN, [18, 50, 26]],
  ] as [string, number, GridSize][])(
    "leaves 3 %% of the divergence at most after two cycles, %s",
    inArena((_: string, border: number, size: GridSize) => {
      const kinds = kindsOf(size, border);
      const velocity = randomAir(size);
      overRows("fluidWalls", size, [...velocity, kinds, null, null, null]);
      const [before, energyBefore] = [leftOf(velocity, size, kinds), energy(velocity)];
      const pressure = new Pressure(size, kinds);
      pressure.project(velocity, 2);
      expect(leftOf(velocity, size, kinds) / before).toBeLessThan(0.03);
      expect(energy(velocity)).toBeLessThan(energyBefore);
      // Once more changes next to nothing: it is a projection.
      const once = energy(velocity);
      pressure.project(velocity, 2);
      expect(energy(velocity) / once).toBeGreaterThan(0.998);
    }),
  );

  it(
    "lets air flow around what is solid, and none through it",
    inArena(() => {
      const size: GridSize = [26, 34, 26];
      const kinds = kindsOf(size, OPEN);
      const [nx, ny] = size;
      const at = (x: number, y: number, z: number) => (z * ny + y) * nx + x;
      for (let z = 10; z < 16; z++)
        for (let y = 14; y < 20; y++) for (let x = 10; x < 16; x++) kinds[at(x, y, z)] = SOLID;
      const velocity = [emptyLane(size), emptyLane(size).fill(1), emptyLane(size)];
      overRows("fluidWalls", size, [...velocity, kinds, null, null, null]);
      new Pressure(size, kinds).project(velocity, 6);
      expect(velocity[1][at(12, 14, 12)]).toBe(0);
      expect(velocity[1][at(12, 20, 12)]).toBe(0);
      // It goes faster beside than far away.
      expect(velocity[1][at(17, 17, 12)]).toBeGreaterThan(1.05);
      expect(velocity[1][at(3, 17, 3)]).toBeLessThan(1.1);
      expect(leftOf(velocity, size, kinds)).toBeLessThan(0.01);
    }),
  );

  it(
    "keeps air that was still or evenly moving as it is",
    inArena(() => {
      const size: GridSize = [18, 18, 18];
      const kinds = kindsOf(size, OPEN);
      const velocity = [emptyLane(size).fill(0.3), emptyLane(size).fill(-0.2), emptyLane(size)];
      new Pressure(size, kinds).project(velocity, 2);
      const middle = (9 * 18 + 9) * 18 + 9;
      expect(velocity.map((lane) => lane[middle])).toEqual([0.3, -0.2, 0].map((v) => expect.closeTo(v, 5)));
    }),
  );
});

const size: GridSize = [34, 34, 34];

describe("what is carried", () => {
  const [nx, ny] = size;
  const blob = () =>
    laneOf(size, (i) => {
      const [x, y, z] = [i % nx, Math.floor(i / nx) % ny, Math.floor(i / (nx * ny))];
      return Math.exp(-((x - 12) ** 2 + (y - 14) ** 2 + (z - 16) ** 2) / 9);
    });
  const even = (u: number, v: number, w: number) => [u, v, w].map((speed) => emptyLane(size).fill(speed));

  // FLU-07: a shift by whole cells is exact; least and greatest are never passed.
  it(
    "by whole cells a step is exactly where it should be",
    inArena(() => {
      const from = blob();
      const [out] = moved([from], traced(even(3, -2, 1), size, 1), size, 0);
      const at = (x: number, y: number, z: number) => (z * ny + y) * nx + x;
      for (const [x, y, z] of [
        [15, 12, 17],
        [17, 14, 16],
        [12, 9, 20],
      ])
        expect(out[at(x, y, z)]).toBeCloseTo(from[at(x - 3, y + 2, z - 1)], 6);
    }),
  );

  it(
    "never passes the least and the greatest, and put right keeps its peak longer",
    inArena(() => {
      let [plain, right]: Float32Array[] = [blob(), blob()];
      const velocity = even(0.4, 0.3, -0.2);
      for (let step = 0; step < 12; step++) {
        const [there, back] = [1, -1].map((seconds) => traced(velocity, size, seconds));
        [plain] = moved([plain], there, size, 0);
        [right] = carried([right], there, back, size, [1]);
      }
      const most = (lane: Float32Array) => lane.reduce((a, b) => Math.max(a, b), 0);
      const least = (lane: Float32Array) => lane.reduce((a, b) => Math.min(a, b), 0);
      expect(least(right)).toBeGreaterThanOrEqual(0);
      expect(most(right)).toBeLessThanOrEqual(1);
      expect(most(right)).toBeGreaterThan(most(plain) * 1.1);
      // Mass is kept within a hundredth.
      const sum = (lane: Float32Array) => lane.reduce((a, b) => a + b, 0);
      expect(sum(right) / sum(blob())).toBeCloseTo(1, 1.7);
    }),
  );
});

describe("ways of cells", () => {
  // Turning about an axis by a quarter of a radian: the midpoint rule is off by ω³ r ÷ 24 and a little more [BridsonMF, advection].
  it(
    "bend with the air, to the second order",
    inArena(() => {
      const [nx, ny] = size;
      const turning = (omega: number) =>
        [0, 1, 2].map((a) =>
          laneOf(size, (i) => {
            const [x, y] = [i % nx, Math.floor(i / nx) % ny];
            return a === 0 ? -omega * (y - 16) : a === 1 ? omega * (x - 16) : 0;
          }),
        );
      const off = (omega: number): number => {
        const [dx, dy] = traced(turning(omega), size, 1);
        const cell = (16 * ny + 16) * nx + 24;
        return Math.hypot(
          24 - dx[cell] - (16 + 8 * Math.cos(omega)),
          16 - dy[cell] - (16 - 8 * Math.sin(omega)),
        );
      };
      expect(off(0.25)).toBeLessThan((8 * 0.25 ** 3) / 4);
      expect(off(0.25) / off(0.125)).toBeGreaterThan(6.5);
    }),
  );
});

describe("eddies", () => {
  // FLU-06: the curl of (−y, x, 0) is (0, 0, 2).
  it(
    "are measured by their curl",
    inArena(() => {
      const size: GridSize = [18, 18, 18];
      const [nx, ny] = size;
      const velocity = [0, 1, 2].map((a) =>
        laneOf(size, (i) => {
          const [x, y] = [i % nx, Math.floor(i / nx) % ny];
          // Faces stand half a cell lower along their own axis, which −y and x do not see.
          return a === 0 ? -(y - 9) : a === 1 ? x - 9 : 0;
        }),
      );
      const curl = [0, 1, 2, 3].map(() => emptyLane(size));
      overRows("fluidCurl", size, [...curl, ...velocity]);
      const middle = (9 * ny + 8) * nx + 7;
      expect(curl.map((lane) => lane[middle])).toEqual([0, 0, 2, 2].map((v) => expect.closeTo(v, 5)));
      expect(cellCount(size)).toBe(curl[0].length);
    }),
  );
});
