/**
 * Gradient noise against K. Perlin's published reference (2002). A slow reference with a pluggable hash gives
 * the published worked values with the published table, and the kernel's values with our hash: so the kernel
 * is the published formula over another lattice.
 */
import { ImprovedNoise } from "three/examples/jsm/math/ImprovedNoise.js";
import { mix32 } from "../../src/core/maths/random";
import { cornerHash, fade, fractalNoise, gradientNoise, movingNoise, spreadOf } from "../slow-noise";

type LatticeHash = (x: number, y: number, z: number) => number;

/** The twelve edge gradients by the low four bits, as in the published code. */
function publishedGradient(hash: number, x: number, y: number, z: number): number {
  const h = hash & 15;
  const u = h < 8 ? x : y;
  const v = h < 4 ? y : h === 12 || h === 14 ? x : z;
  return ((h & 1) === 0 ? u : -u) + ((h & 2) === 0 ? v : -v);
}

function referenceNoise(x: number, y: number, z: number, hash: LatticeHash): number {
  const [ix, iy, iz] = [Math.floor(x), Math.floor(y), Math.floor(z)];
  let sum = 0;
  for (const dx of [0, 1]) {
    for (const dy of [0, 1]) {
      for (const dz of [0, 1]) {
        const [fx, fy, fz] = [x - ix - dx, y - iy - dy, z - iz - dz];
        const weight = (f: number) => 1 - fade(Math.abs(f));
        sum +=
          weight(fx) *
          weight(fy) *
          weight(fz) *
          publishedGradient(hash(ix + dx, iy + dy, iz + dz), fx, fy, fz);
      }
    }
  }
  return sum;
}

/** The published permutation, 256 entries (from memory; it reproduces the worked value below). */
const TABLE = [
  151, 160, 137, 91, 90, 15, 131, 13, 201, 95, 96, 53, 194, 233, 7, 225, 140, 36, 103, 30, 69, 142, 8, 99, 37,
  240, 21, 10, 23, 190, 6, 148, 247, 120, 234, 75, 0, 26, 197, 62, 94, 252, 219, 203, 117, 35, 11, 32, 57,
  177, 33, 88, 237, 149, 56, 87, 174, 20, 125, 136, 171, 168, 68, 175, 74, 165, 71, 134, 139, 48, 27, 166, 77,
  146, 158, 231, 83, 111, 229, 122, 60, 211, 133, 230, 220, 105, 92, 41, 55, 46, 245, 40, 244, 102, 143, 54,
  65, 25, 63, 161, 1, 216, 80, 73, 209, 76, 132, 187, 208, 89, 18, 169, 200, 196, 135, 130, 116, 188, 159, 86,
  164, 100, 109, 198, 173, 186, 3, 64, 52, 217, 226, 250, 124, 123, 5, 202, 38, 147, 118, 126, 255, 82, 85,
  212, 207, 206, 59, 227, 47, 16, 58, 17, 182, 189, 28, 42, 223, 183, 170, 213, 119, 248, 152, 2, 44, 154,
  163, 70, 221, 153, 101, 155, 167, 43, 172, 9, 129, 22, 39, 253, 19, 98, 108, 110, 79, 113, 224, 232, 178,
  185, 112, 104, 218, 246, 97, 228, 251, 34, 242, 193, 238, 210, 144, 12, 191, 179, 162, 241, 81, 51, 145,
  235, 249, 14, 239, 107, 49, 192, 214, 31, 181, 199, 106, 157, 184, 84, 204, 176, 115, 121, 50, 45, 127, 4,
  150, 254, 138, 236, 205, 93, 222, 114, 67, 29, 24, 72, 243, 141, 128, 195, 78, 66, 215, 61, 156, 180,
];
const p = (i: number) => TABLE[((i % 256) + 256) % 256];
const publishedHash: LatticeHash = (x, y, z) => p(p(p(x) + y) + z);

const ourHash =
  (seed: number): LatticeHash =>
  (x, y, z) =>
    cornerHash(spreadOf(x, y, z, seed)) >>> 28;

describe("gradient noise", () => {
  it.each([
    [3.14, 42, 7, 0.13691995878400012],
    [0.5, 0.5, 0.5, -0.25],
    [1.25, 2.5, 3.75, -0.0383634567261],
    [-0.75, 0.125, 10.5, 0.317066498101],
    [255.5, 255.5, 255.5, -0.875],
  ])(
    "the reference gives the published value at %f, %f, %f [NOI-01, NOI-02, NOI-03]",
    (x, y, z, expected) => {
      expect(referenceNoise(x, y, z, publishedHash)).toBeCloseTo(expected, 10);
      expect(new ImprovedNoise().noise(x, y, z)).toBeCloseTo(expected, 10);
    },
  );

  it("is the same formula over our hash", () => {
    for (let i = 0; i < 300; i++) {
      const [x, y, z] = [Math.sin(i) * 40, Math.cos(i * 1.7) * 40, i * 0.37 - 50];
      expect(gradientNoise(x, y, z, 5)).toBeCloseTo(referenceNoise(x, y, z, ourHash(5)), 10);
    }
  });

  it("is zero at lattice points [NOI-04] and fades as published [NOI-05]", () => {
    for (let i = -5; i < 5; i++) expect(gradientNoise(i, 2 * i, -i, 3)).toBeCloseTo(0, 12);
    expect([fade(0.25), fade(0.5), fade(0.75)]).toEqual([0.103515625, 0.5, 0.896484375]);
  });

  it("keeps its bound and its statistics [NOI-06: 1.036353811, NOI-07: variance 0.0729]", () => {
    let sum = 0;
    let squares = 0;
    let most = 0;
    const count = 200_000;
    for (let i = 0; i < count; i++) {
      const at = (channel: number) => (mix32(i * 3 + channel) / 2 ** 32) * 256;
      const n = gradientNoise(at(0), at(1), at(2), 11);
      sum += n;
      squares += n * n;
      most = Math.max(most, Math.abs(n));
    }
    expect(most).toBeLessThanOrEqual(1.036353811);
    expect(Math.abs(sum / count)).toBeLessThan(0.005);
    expect(squares / count / 0.07291894569).toBeCloseTo(1, 1);
  });

  it("sums octaves as Musgrave does [NOI-08]", () => {
    const at = [0.375, 0.6875, 1.15625] as const;
    let sum = 0;
    for (let i = 0; i < 5; i++) {
      const [x, y, z] = at.map((v) => v * 2 ** i);
      sum += 0.5 ** i * gradientNoise(x, y, z, i === 0 ? 9 : mix32(9 + i));
    }
    expect(fractalNoise(...at, 0, 9, { octaves: 5, roughness: 0.5, lacunarity: 2, period: 0 })).toBeCloseTo(
      sum,
      12,
    );
  });
});

describe("moving noise", () => {
  it("is still noise at whole steps, so turning the speed up from 0 does not jump", () => {
    expect(movingNoise(0.3, 1.2, -4.7, 0, 8, 0)).toBe(gradientNoise(0.3, 1.2, -4.7, 8));
    expect(movingNoise(0.3, 1.2, -4.7, 1e-9, 8, 0)).toBeCloseTo(gradientNoise(0.3, 1.2, -4.7, 8), 6);
  });

  it("closes a loop in value and slope [WAV-05]", () => {
    const at = (w: number) => movingNoise(0.3, 1.2, -4.7, w, 8, 4);
    const slope = (w: number) => (at(w + 1e-5) - at(w - 1e-5)) / 2e-5;
    for (const w of [0, 0.4, 1.9, 3.5]) {
      expect(at(w + 4)).toBeCloseTo(at(w), 9);
      expect(slope(w + 4)).toBeCloseTo(slope(w), 4);
    }
  });
});
