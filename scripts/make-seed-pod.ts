/**
 * Models the demo's seed pod and writes src/demo/assets/seed-pod.glb: a geodesic ball of 5,120 triangles,
 * stretched to an egg with ten shallow ribs and a flared crown, coloured from green to straw.
 * Run: npx tsx scripts/make-seed-pod.ts
 */
import { writeFileSync } from "node:fs";
import { drawingOf } from "../src/core/draw/drawing";
import { writeGlb } from "../src/core/formats/write/glb";
import { makeColumn } from "../src/core/geometry/column";
import { makeMesh } from "../src/core/geometry/mesh";
import { parseHex, type Rgba } from "../src/core/maths/color";
import { mixStops } from "../src/core/maths/gradient";

const LEVELS = 4;

type Point = [number, number, number];

function geodesic(): { points: Point[]; faces: number[][] } {
  const t = (1 + Math.sqrt(5)) / 2;
  const points: Point[] = [
    [-1, t, 0],
    [1, t, 0],
    [-1, -t, 0],
    [1, -t, 0],
    [0, -1, t],
    [0, 1, t],
    [0, -1, -t],
    [0, 1, -t],
    [t, 0, -1],
    [t, 0, 1],
    [-t, 0, -1],
    [-t, 0, 1],
  ].map((p) => unit(p as Point));
  let faces = [
    [0, 11, 5],
    [0, 5, 1],
    [0, 1, 7],
    [0, 7, 10],
    [0, 10, 11],
    [1, 5, 9],
    [5, 11, 4],
    [11, 10, 2],
    [10, 7, 6],
    [7, 1, 8],
    [3, 9, 4],
    [3, 4, 2],
    [3, 2, 6],
    [3, 6, 8],
    [3, 8, 9],
    [4, 9, 5],
    [2, 4, 11],
    [6, 2, 10],
    [8, 6, 7],
    [9, 8, 1],
  ];
  for (let level = 0; level < LEVELS; level++) {
    const middles = new Map<string, number>();
    const middle = (a: number, b: number): number => {
      const key = a < b ? `${a},${b}` : `${b},${a}`;
      let m = middles.get(key);
      if (m === undefined) {
        m = points.push(unit([0, 1, 2].map((k) => points[a][k] + points[b][k]) as Point)) - 1;
        middles.set(key, m);
      }
      return m;
    };
    faces = faces.flatMap(([a, b, c]) => {
      const [ab, bc, ca] = [middle(a, b), middle(b, c), middle(c, a)];
      return [
        [a, ab, ca],
        [b, bc, ab],
        [c, ca, bc],
        [ab, bc, ca],
      ];
    });
  }
  return { points, faces };
}

function unit(p: Point): Point {
  const length = Math.hypot(...p);
  return [p[0] / length, p[1] / length, p[2] / length];
}

function pod([x, y, z]: Point): Point {
  const round = Math.hypot(x, z);
  const rib = 1 + 0.045 * Math.cos(10 * Math.atan2(z, x)) * round ** 2;
  const waist = y > 0 ? 1 - 0.1 * y ** 3 : 1 - 0.22 * (-y) ** 1.5;
  const height = y > 0.93 ? 0.93 - 0.6 * (y - 0.93) : y;
  return [x * rib * waist, height * 1.18, z * rib * waist];
}

const green = parseHex("#3f5c3a") as Rgba;
const straw = parseHex("#c9a45c") as Rgba;
const { points, faces } = geodesic();
const shaped = points.map(pod);
const lane = (a: number) => Float32Array.from(shaped, (p) => p[a]);
const colors = shaped.map((p) =>
  mixStops("oklab", green, straw, Math.min(1, Math.max(0, p[1] * 0.45 + 0.5))),
);
const mesh = makeMesh({
  position: [lane(0), lane(1), lane(2)],
  faceStarts: Int32Array.from({ length: faces.length + 1 }, (_, i) => i * 3),
  cornerPoint: Int32Array.from(faces.flat()),
  pointColumns: {
    color: makeColumn(
      "color",
      [0, 1, 2, 3].map((c) => Float32Array.from(colors, (rgba) => rgba[c])),
    ),
  },
});
async function write(): Promise<void> {
  const bytes = await writeGlb(drawingOf({ mesh }), { copies: "baked", name: "Seed pod" });
  writeFileSync("src/demo/assets/seed-pod.glb", bytes);
  console.log(`seed-pod.glb: ${shaped.length} points, ${faces.length} faces, ${bytes.length} bytes`);
}

void write();
