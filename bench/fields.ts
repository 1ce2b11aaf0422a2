/** Field programs and kernels against what one would write by hand, on the same elements. */
import { createNoise3D } from "simplex-noise";
import { Matrix4, Quaternion, Vector3 } from "three";
import { IN_MEMORY } from "../src/core/draw/draw-memory";
import {
  add,
  apply,
  applyAll,
  clamp,
  constant,
  divide,
  positionField,
  scaleBy,
  subtract,
  type Value,
  vectorLength,
} from "../src/core/fields/expression";
import { runValues } from "../src/core/fields/run";
import { siteMatrices } from "../src/core/geometry/bounds";
import { type Domain, makeColumn } from "../src/core/geometry/column";
import { Arena, roomForFloats } from "../src/core/kernels/arena";
import { inTurns, type Pair } from "./measure";
import { plainFractalNoise } from "./plain-noise";

/** Columns stand where an evaluation has them. */
const arena = new Arena();

function lane(count: number, f: (i: number) => number): Float32Array {
  const numbers = roomForFloats(count);
  for (let i = 0; i < count; i++) numbers[i] = f(i);
  return numbers;
}

/** What an evaluation does around the fields of a node: new columns, and those of the frame before given back. */
function running(values: readonly Value[], domain: Domain): () => void {
  const own = new Arena();
  return () => own.keepOnly(own.within(() => runValues(values, domain).lanes));
}

const elements = (count: number): Domain => arena.within(() => makeElements(count));

function makeElements(count: number): Domain {
  const position = [0, 1, 2].map((l) => lane(count, (i) => Math.sin(i * 0.37 + l) * 20));
  const rotation = [0, 1, 2, 3].map(() => lane(count, () => 0.5));
  const scale = [0, 1, 2].map((l) => lane(count, (i) => 1 + ((i + l) % 7) / 10));
  return {
    count,
    columns: {
      position: makeColumn("vector", position),
      rotation: makeColumn("rotation", rotation),
      scale: makeColumn("vector", scale),
    },
  };
}

/** Distance, remap, clamp, smooth, scale, offset. */
function chain(): Value {
  const distance = vectorLength(positionField());
  const slope = clamp(divide(subtract(constant(12), distance), constant(9)), constant(0), constant(1));
  return add(
    scaleBy(apply("ease", [slope], { key: "smooth", ease: "smooth" }), constant(1.7)),
    constant(0.2),
  );
}

export function fusedChain(count: number): Pair {
  const domain = elements(count);
  const [x, y, z] = domain.columns.position.lanes;
  const out = new Float32Array(count);
  return inTurns(running([chain()], domain), () => {
    for (let i = 0; i < count; i++) {
      const d = Math.sqrt(x[i] * x[i] + y[i] * y[i] + z[i] * z[i]);
      const t = Math.max(0, Math.min(1, (12 - d) / 9));
      out[i] = t * t * (3 - 2 * t) * 1.7 + 0.2;
    }
  });
}

export function steppedChain(count: number): Pair {
  const domain = elements(count);
  const [x, y, z] = domain.columns.position.lanes.map((l) => Array.from(l));
  return inTurns(running([chain()], domain), () =>
    x
      .map((v, i) => Math.sqrt(v * v + y[i] * y[i] + z[i] * z[i]))
      .map((d) => (12 - d) / 9)
      .map((t) => Math.max(0, Math.min(1, t)))
      .map((t) => t * t * (3 - 2 * t))
      .map((t) => t * 1.7)
      .map((t) => t + 0.2),
  );
}

const noiseOptions = { w: 0, roughness: 0.5, lacunarity: 2, period: 0 };

const noiseAt = (octaves: number, seed: number): Value =>
  apply("noise", positionField(), { key: `${octaves}.${seed}`, seed, octaves, ...noiseOptions });

/** Three at once, as the vector of the Noise node. */
const noisesAt = (octaves: number, seeds: readonly number[]): Value[] =>
  applyAll("noise3", positionField(), { key: `${octaves}.${seeds}`, seeds, octaves, ...noiseOptions });

export function gradientNoise(count: number): Pair {
  const domain = elements(count);
  const [x, y, z] = domain.columns.position.lanes;
  const simplex = createNoise3D(() => 0.5);
  const out = new Float32Array(count);
  return inTurns(running([noiseAt(1, 3)], domain), () => {
    for (let i = 0; i < count; i++) out[i] = simplex(x[i], y[i], z[i]);
  });
}

/** Nine numbers an element: place, turn and size. */
export function fractalPlacing(count: number): Pair {
  const domain = elements(count);
  const [x, y, z] = domain.columns.position.lanes;
  const out = Array.from({ length: 9 }, () => new Float32Array(count));
  return inTurns(
    running(
      [0, 3, 6].flatMap((seed) => noisesAt(4, [seed, seed + 1, seed + 2])),
      domain,
    ),
    () => {
      for (let l = 0; l < 9; l++)
        for (let i = 0; i < count; i++) out[l][i] = plainFractalNoise(x[i], y[i], z[i], l, 4);
    },
  );
}

export function composing(count: number): Pair {
  const domain = elements(count);
  const [position, rotation, scale] = ["position", "rotation", "scale"].map((n) => domain.columns[n].lanes);
  const into = IN_MEMORY.take(count * 16);
  const out = new Float32Array(count * 16);
  const [p, q, s, m] = [new Vector3(), new Quaternion(), new Vector3(), new Matrix4()];
  return inTurns(
    () => siteMatrices(domain, into),
    () => {
      for (let i = 0; i < count; i++) {
        p.set(position[0][i], position[1][i], position[2][i]);
        q.set(rotation[0][i], rotation[1][i], rotation[2][i], rotation[3][i]);
        s.set(scale[0][i], scale[1][i], scale[2][i]);
        m.compose(p, q, s).toArray(out, i * 16);
      }
    },
  );
}
