/**
 * Operations that ask prepared structures that do not live in the kernels' memory. They run as scripts over the numbers of a
 * block.
 */
import type { AlongCurves } from "../curves/along-curves";
import type { HashGrid } from "../spatial/hash-grid";
import type { VolumeQuestions } from "../volumes/questions";
import type { Operation, StepData } from "./operation";

/** Writes the outputs of `count` elements; `at` has where the lanes of the outputs begin in `floats`, then those of the inputs. */
type Work = (floats: Float32Array, at: readonly number[], count: number) => void;

/** @param prepare what is asked, from the step's data */
const asking = (inputs: number, outputs: number, prepare: (data: StepData) => Work): Operation => ({
  inputs,
  outputs,
  calls(arriving, leaving, data) {
    const work = prepare(data as StepData);
    const run = (floats: Float32Array, addresses: readonly number[], count: number) =>
      work(
        floats,
        addresses.map((address) => address / 4),
        count,
      );
    return [{ run, operands: [...leaving, ...arriving] }];
  },
});

export const ASKING = {
  /** What the element of a number has, up to four components; 0 where there is none; data: lanes. */
  ofNumber: asking(1, 4, (data) => {
    const lanes = data.lanes as readonly ArrayLike<number>[];
    return (floats, [first, second, third, fourth, number], count) => {
      [first, second, third, fourth].forEach((out, l) => {
        for (let i = 0; i < count; i++) floats[out + i] = lanes[l]?.[floats[number + i]] ?? 0;
      });
    };
  }),

  /**
   * How many points of a grid are nearer to (x, y, z) than `reach`, itself left out by its number when `own`, and the mean of
   * their values, 0 without any; data: grid, reach, own, values.
   */
  near: asking(4, 2, (data) => {
    const grid = data.grid as HashGrid;
    const reach = data.reach as number;
    const values = data.values as ArrayLike<number>;
    return (floats, [out, mean, x, y, z, self], count) => {
      for (let i = 0; i < count; i++) {
        const own = data.own === true ? floats[self + i] : -1;
        let found = 0;
        let sum = 0;
        grid.within(floats[x + i], floats[y + i], floats[z + i], reach, (point) => {
          if (point !== own) {
            found++;
            sum += values[point];
          }
          return undefined;
        });
        floats[out + i] = found;
        floats[mean + i] = found > 0 ? sum / found : 0;
      }
    };
  }),

  /** Of a volume at (x, y, z): a value, 1 inside of it, which way the value rises, and the value's three numbers where it has them; data: questions. */
  inVolume: asking(3, 8, (data) => {
    const questions = data.questions as VolumeQuestions;
    const way = [0, 0, 0];
    return (floats, [value, inside, gx, gy, gz, vx, vy, vz, x, y, z], count) => {
      for (let i = 0; i < count; i++) {
        const [px, py, pz] = [floats[x + i], floats[y + i], floats[z + i]];
        floats[value + i] = questions.value(px, py, pz);
        floats[inside + i] = questions.isInside(px, py, pz) ? 1 : 0;
        questions.gradient(px, py, pz, way);
        floats[gx + i] = way[0];
        floats[gy + i] = way[1];
        floats[gz + i] = way[2];
        questions.vector(px, py, pz, way);
        floats[vx + i] = way[0];
        floats[vy + i] = way[1];
        floats[vz + i] = way[2];
      }
    };
  }),

  /**
   * Place and direction at a part of a curve's length; data: along, curve, and the lanes of all points: position, then
   * tangent.
   */
  alongCurve: asking(1, 6, (data) => {
    const along = data.along as AlongCurves;
    const lanes = data.lanes as readonly ArrayLike<number>[];
    return (floats, at, count) => {
      for (let i = 0; i < count; i++) {
        const { p, q, t } = along.at(data.curve as number, floats[at[6] + i]);
        for (let o = 0; o < 6; o++) floats[at[o] + i] = lanes[o][p] + (lanes[o][q] - lanes[o][p]) * t;
        const [dx, dy, dz] = [floats[at[3] + i], floats[at[4] + i], floats[at[5] + i]];
        const size = Math.sqrt(dx * dx + dy * dy + dz * dz) || 1;
        for (let o = 3; o < 6; o++) floats[at[o] + i] /= size;
      }
    };
  }),
} as const satisfies Record<string, Operation>;
