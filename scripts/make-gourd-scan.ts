/**
 * Stands in for a 3D scanner: "scans" a made-up gourd and writes src/demo/assets/gourd-scan.ply, a coloured point
 * cloud with what real scans have: noise along the surface's normal, holes where the beam did not reach, strays.
 * Run: npx tsx scripts/make-gourd-scan.ts
 */
import { writeFileSync } from "node:fs";
import { apply, constant, plainNumber } from "../src/core/fields/expression";
import { encodeSrgb, parseHex, type Rgba } from "../src/core/maths/color";
import { mixStops } from "../src/core/maths/gradient";
import { hash3, unit24 } from "../src/core/maths/random";

const SHOTS = 7000;
const STRAYS = 60;
/** Standard deviation along the normal, metres. */
const NOISE = 0.006;
const SEED = 17;

const skin = parseHex("#c98a2c") as Rgba;
const stripe = parseHex("#2f5a3b") as Rgba;
const stalk = parseHex("#7d6a45") as Rgba;

const chance = (shot: number, channel: number) => unit24(hash3(SEED, shot, channel));
const hills = (x: number, y: number, z: number, seed: number) =>
  plainNumber(
    apply("noise", [constant(x), constant(y), constant(z)], {
      key: "",
      seed,
      w: 0,
      octaves: 3,
      roughness: 0.5,
      lacunarity: 2,
      period: 0,
    }),
  ) as number;

/** Radius of the gourd at a height 0…1: a wide belly, a waist, a small head, a stalk. */
function radius(t: number): number {
  const belly = Math.exp(-(((t - 0.26) / 0.2) ** 2));
  const head = 0.55 * Math.exp(-(((t - 0.68) / 0.13) ** 2));
  return (belly + head) * 0.8 * Math.sqrt(Math.min(1, t / 0.06)) + (t > 0.82 ? 0.06 * (1.04 - t) * 5 : 0);
}

const lines: { at: readonly number[]; rgb: readonly number[] }[] = [];
for (let shot = 0; shot < SHOTS; shot++) {
  const t = chance(shot, 0);
  // Shots go where there is surface to hit.
  if (chance(shot, 4) > 0.25 + radius(t)) continue;
  const turn = chance(shot, 1) * 2 * Math.PI;
  // The sum of twelve even numbers less six is near enough to a normal distribution.
  let error = -6;
  for (let k = 0; k < 12; k++) error += chance(shot, 8 + k);
  const r = radius(t) * (1 + 0.05 * Math.cos(9 * turn)) + error * NOISE;
  const at = [r * Math.cos(turn), t * 2, r * Math.sin(turn)];
  if (hills(at[0] * 1.3, at[1] * 1.3, at[2] * 1.3, 5) > 0.42) continue;
  const striped = Math.cos(9 * turn) * 0.5 + hills(at[0] * 4, at[1] * 4, at[2] * 4, 9) * 0.6;
  const blend = Math.min(1, Math.max(0, striped + 0.35));
  const color = t > 0.83 ? stalk : mixStops("oklab", skin, stripe, blend);
  lines.push({ at, rgb: color.slice(0, 3) });
}
for (let stray = 0; stray < STRAYS; stray++) {
  const at = [0, 1, 2].map((a) => (chance(90_000 + stray, a) - 0.5) * 3 + (a === 1 ? 1 : 0));
  lines.push({ at, rgb: [0.25, 0.25, 0.24] });
}

const header = new TextEncoder().encode(
  [
    "ply",
    "format binary_little_endian 1.0",
    "comment simulated scan of a gourd",
    `element vertex ${lines.length}`,
    ...["x", "y", "z"].map((name) => `property float ${name}`),
    ...["red", "green", "blue"].map((name) => `property uchar ${name}`),
    "end_header",
    "",
  ].join("\n"),
);
const bytes = new Uint8Array(header.length + lines.length * 15);
bytes.set(header);
const view = new DataView(bytes.buffer);
lines.forEach(({ at, rgb }, i) => {
  const k = header.length + i * 15;
  for (let a = 0; a < 3; a++) view.setFloat32(k + a * 4, at[a], true);
  for (let c = 0; c < 3; c++)
    bytes[k + 12 + c] = Math.round(255 * encodeSrgb(Math.min(1, Math.max(0, rgb[c]))));
});
writeFileSync("src/demo/assets/gourd-scan.ply", bytes);
console.log(`gourd-scan.ply: ${lines.length} points, ${bytes.length} bytes`);
