/** Particles as one would write them in JavaScript to be fast: gravity, drag, a swirl of three noises, and those that end left out. */
import { mixSigned } from "../src/core/maths/random";

const GRADIENT_X = Float64Array.of(1, -1, 1, -1, 1, -1, 1, -1, 0, 0, 0, 0, 1, 0, -1, 0);
const GRADIENT_Y = Float64Array.of(1, 1, -1, -1, 0, 0, 0, 0, 1, -1, 1, -1, 1, -1, 1, -1);
const GRADIENT_Z = Float64Array.of(0, 0, 0, 0, 1, 1, -1, -1, 1, 1, -1, -1, 0, 1, 0, -1);
const [SPREAD_X, SPREAD_Y, SPREAD_Z] = [0x27d4eb2f, 0x165667b1, 0x1b873593];

let slopeX = 0;
let slopeY = 0;

/** How gradient noise rises along x and along y, exactly. */
function slopes(x: number, y: number, z: number, base: number): void {
  const [ix, iy, iz] = [Math.floor(x), Math.floor(y), Math.floor(z)];
  const fx = x - ix;
  const fy = y - iy;
  const fz = z - iz;
  const u = fx * fx * fx * (fx * (fx * 6 - 15) + 10);
  const v = fy * fy * fy * (fy * (fy * 6 - 15) + 10);
  const w = fz * fz * fz * (fz * (fz * 6 - 15) + 10);
  const du = 30 * fx * fx * (fx - 1) * (fx - 1);
  const dv = 30 * fy * fy * (fy - 1) * (fy - 1);
  slopeX = 0;
  slopeY = 0;
  for (let corner = 0; corner < 8; corner++) {
    const a = corner & 1;
    const b = (corner >> 1) & 1;
    const c = corner >> 2;
    const spread =
      Math.imul(ix + a, SPREAD_X) ^ Math.imul(iy + b, SPREAD_Y) ^ Math.imul(iz + c, SPREAD_Z) ^ base;
    const h = Math.imul(spread ^ (spread >>> 15), 0x2c1b3c6d) >>> 28;
    const value = GRADIENT_X[h] * (fx - a) + GRADIENT_Y[h] * (fy - b) + GRADIENT_Z[h] * (fz - c);
    const wx = a ? u : 1 - u;
    const wy = b ? v : 1 - v;
    const wz = c ? w : 1 - w;
    slopeX += wz * wy * (GRADIENT_X[h] * wx + value * (a ? du : -du));
    slopeY += wz * wx * (GRADIENT_Y[h] * wy + value * (b ? dv : -dv));
  }
}

/** A step of so many particles at each call. */
export function plainParticles(count: number): () => void {
  const lanes = Array.from({ length: 8 }, (_, l) => new Float32Array(count).fill(l === 7 ? 1e9 : 0));
  const [x, y, z, u, v, w, age, life] = lanes;
  for (let i = 0; i < count; i++) {
    x[i] = (i % 100) - 50;
    z[i] = Math.floor(i / 100) % 100;
  }
  const ids = Int32Array.from({ length: count }, (_, i) => i);
  const bases = [1, 2, 3].map(mixSigned);
  const h = 1 / 25;
  const keeps = Math.exp(-0.5 * h);
  const way = (1 - keeps) / 0.5;
  const further = (h - way) / 0.5;
  return () => {
    let alive = 0;
    for (let i = 0; i < count; i++) {
      const older = age[i] + h;
      if (older >= life[i]) continue;
      const [px, py, pz] = [x[i] / 3, y[i] / 3, z[i] / 3];
      slopes(px, py, pz, bases[0]);
      const [cx, cy] = [slopeY, -slopeX];
      slopes(py, pz, px, bases[1]);
      const ay = cy + slopeY - 1;
      const cz = -slopeX;
      slopes(pz, px, py, bases[2]);
      const az = cz + slopeY;
      const ax = cx - slopeX;
      x[alive] = x[i] + way * u[i] + further * ax;
      y[alive] = y[i] + way * v[i] + further * ay;
      z[alive] = z[i] + way * w[i] + further * az;
      u[alive] = keeps * u[i] + way * ax;
      v[alive] = keeps * v[i] + way * ay;
      w[alive] = keeps * w[i] + way * az;
      ids[alive] = ids[i];
      life[alive] = life[i];
      age[alive++] = older;
    }
  };
}
