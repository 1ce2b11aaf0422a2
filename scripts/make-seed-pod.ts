/**
 * Models the demo's seed pod and writes src/demo/assets/seed-pod.glb: a geodesic ball of 5,120 triangles,
 * stretched to an egg with ten shallow ribs and a flared crown, coloured from green to straw.
 * Run: npx tsx scripts/make-seed-pod.ts
 */
import { writeFileSync } from "node:fs";
import { drawingOf } from "../src/core/draw/drawing";
import { writeGlb } from "../src/core/formats/write/glb";
import { makeColumn } from "../src/core/geometry/column";
import { makeMesh, pointLanes } from "../src/core/geometry/mesh";
import { geodesicMesh } from "../src/core/geometry/primitives";
import { parseHex, type Rgba } from "../src/core/maths/color";
import { mixStops } from "../src/core/maths/gradient";

const LEVELS = 4;

type Point = [number, number, number];

function pod([x, y, z]: Point): Point {
  const round = Math.hypot(x, z);
  const rib = 1 + 0.045 * Math.cos(10 * Math.atan2(z, x)) * round ** 2;
  const waist = y > 0 ? 1 - 0.1 * y ** 3 : 1 - 0.22 * (-y) ** 1.5;
  const height = y > 0.93 ? 0.93 - 0.6 * (y - 0.93) : y;
  return [x * rib * waist, height * 1.18, z * rib * waist];
}

const green = parseHex("#3f5c3a") as Rgba;
const straw = parseHex("#c9a45c") as Rgba;
const ball = geodesicMesh(1, LEVELS);
const [x, y, z] = pointLanes(ball);
const shaped = Array.from(x, (_, i) => pod([x[i], y[i], z[i]]));
const lane = (a: number) => Float32Array.from(shaped, (p) => p[a]);
const colors = shaped.map((p) =>
  mixStops("oklab", green, straw, Math.min(1, Math.max(0, p[1] * 0.45 + 0.5))),
);
const mesh = makeMesh({
  position: [lane(0), lane(1), lane(2)],
  faceStarts: ball.faceStarts,
  cornerPoint: ball.cornerPoint,
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
  console.log(`seed-pod.glb: ${shaped.length} points, ${mesh.faces.count} faces, ${bytes.length} bytes`);
}

void write();
