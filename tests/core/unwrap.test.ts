/** Surfaces laid flat: developable ones without stretching, others without folds, none over another. */

import { meshArea } from "../../src/core/geometry/measure";
import type { Mesh } from "../../src/core/geometry/mesh";
import type { Shape } from "../../src/core/geometry/shape";
import type { Setting } from "../../src/core/nodes/ports";
import { meshIn, pointsIn } from "../formed";
import { graphOf, type NodeSpec, outputsOf, reportOf } from "../run-node";

const unwrapped = (from: NodeSpec, set: Record<string, Setting> = {}) => {
  const document = graphOf({ from, it: { type: "unwrap", set } }, ["from.shape>it.shape"]);
  const outputs = outputsOf(document, "it");
  return {
    mesh: meshIn(outputs.shape as Shape),
    flat: meshIn(outputs.flat as Shape),
    problems: reportOf(document, "it").problems,
  };
};
const islandsOf = (mesh: Mesh): number[] => Array.from(mesh.faces.columns.island.lanes[0]);
/** Boxes of islands on the picture. */
function boxes(mesh: Mesh): number[][] {
  const { lanes } = mesh.corners.columns.uv;
  const found: number[][] = [];
  for (const [f, island] of islandsOf(mesh).entries()) {
    const box = (found[island] ??= [1, 1, 0, 0]);
    for (let c = mesh.faceStarts[f]; c < mesh.faceStarts[f + 1]; c++)
      for (let a = 0; a < 2; a++) {
        box[a] = Math.min(box[a], lanes[a][c]);
        box[a + 2] = Math.max(box[a + 2], lanes[a][c]);
      }
  }
  return found;
}
/** Edge lengths on the picture over those of the surface, of every corner's edge. */
function stretches(mesh: Mesh): number[] {
  const { lanes } = mesh.corners.columns.uv;
  const places = pointsIn(mesh);
  const out: number[] = [];
  for (let f = 0; f < mesh.faces.count; f++)
    for (let c = mesh.faceStarts[f]; c < mesh.faceStarts[f + 1]; c++) {
      const d = c + 1 < mesh.faceStarts[f + 1] ? c + 1 : mesh.faceStarts[f];
      const there = Math.hypot(
        ...places[mesh.cornerPoint[c]].map((v, a) => v - places[mesh.cornerPoint[d]][a]),
      );
      out.push(Math.hypot(lanes[0][c] - lanes[0][d], lanes[1][c] - lanes[1][d]) / there);
    }
  return out;
}
const expectApart = (mesh: Mesh) => {
  const all = boxes(mesh);
  for (const [i, a] of all.entries()) {
    expect(Math.min(a[0], a[1])).toBeGreaterThanOrEqual(0);
    expect(Math.max(a[2], a[3])).toBeLessThanOrEqual(1 + 1e-6);
    for (const b of all.slice(i + 1))
      expect(a[2] <= b[0] || b[2] <= a[0] || a[3] <= b[1] || b[3] <= a[1]).toBe(true);
  }
};

it("a box is six islands of its sides, all as much smaller", () => {
  const { mesh } = unwrapped({ type: "box", set: { size: [1, 2, 3], cuts: 3 } });
  expect(new Set(islandsOf(mesh)).size).toBe(6);
  const all = stretches(mesh);
  expect(Math.max(...all) / Math.min(...all)).toBeCloseTo(1, 4);
  expectApart(mesh);
});

it("half a pipe is laid out without stretching, as all that can be unrolled is (C. F. Gauss, 1827)", () => {
  const half: NodeSpec = {
    type: "cylinder",
    set: { radius: 1, height: 2, around: 48, bands: 8, caps: false },
  };
  const { mesh } = unwrapped(half, { spread: 89, sharp: 180 });
  const all = stretches(mesh).sort((a, b) => a - b);
  expect(all[Math.floor(all.length * 0.99)] / all[Math.floor(all.length * 0.01)]).toBeLessThan(1.02);
  expectApart(mesh);
});

it("a ball has no folds, and its angles are nearly kept", () => {
  const { mesh, flat, problems } = unwrapped({
    type: "sphere",
    set: { radius: 1, build: "geodesic", detail: 4 },
  });
  expect(problems.map(({ what }) => what)).toEqual([expect.stringMatching(/islands cover/)]);
  expectApart(mesh);
  // Even triangles stay nearly even: angles of 60° within each.
  const { lanes } = mesh.corners.columns.uv;
  let worst = 0;
  for (let c = 0; c < mesh.corners.count; c += 3) {
    const sides = [0, 1, 2].map((k) => {
      const [a, b] = [c + k, c + ((k + 1) % 3)];
      return Math.hypot(lanes[0][a] - lanes[0][b], lanes[1][a] - lanes[1][b]);
    });
    worst = Math.max(worst, Math.max(...sides) / Math.min(...sides));
  }
  expect(worst).toBeLessThan(1.6);
  expect(meshArea(flat)).toBeGreaterThan(0.4);
});

it("goes along seams that are marked on edges", () => {
  const nodes: Record<string, NodeSpec> = {
    sheet: { type: "plane", set: { across: 2, deep: 2 } },
    place: { type: "position" },
    near: { type: "arithmetic", set: { do: "absolute" } },
    on: { type: "compare", set: { is: "less than", b: 0.01 } },
    mark: { type: "store-attribute", set: { on: "edges", name: "seam" } },
    it: { type: "unwrap" },
  };
  const links = [
    "sheet.shape>mark.shape",
    "place.x>near.a",
    "near.value>on.a",
    "on.value>mark.number",
    "mark.shape>it.shape",
  ];
  const mesh = meshIn(outputsOf(graphOf(nodes, links), "it").shape as Shape);
  expect(new Set(islandsOf(mesh)).size).toBe(2);
});

it("a bent strip of quads lies straight on request: rows and columns as long as on the surface", () => {
  const strip: Record<string, NodeSpec> = {
    sheet: { type: "plane", set: { width: 6, depth: 1, across: 24, deep: 2 } },
    bent: { type: "ripple", set: { along: "x" } },
  };
  const laid = (strips: string) => {
    const document = graphOf({ ...strip, it: { type: "unwrap", set: { strips, spread: 180, sharp: 180 } } }, [
      "sheet.shape>bent.shape",
      "bent.shape>it.shape",
    ]);
    return meshIn(outputsOf(document, "it").shape as Shape);
  };
  const { corners } = laid("straight");
  const values = (lane: number) =>
    new Set(Array.from(corners.columns.uv.lanes[lane], (v) => v.toFixed(5))).size;
  expect([values(0), values(1)].sort((a, b) => a - b)).toEqual([3, 25]);
  // Triangles have no rows: they are laid as ever.
  const triangles = unwrapped(
    { type: "sphere", set: { build: "geodesic", detail: 2 } },
    { strips: "straight" },
  );
  expect(Math.max(...stretches(triangles.mesh))).toBeGreaterThan(0);
});

it("laid flat by its UVs, a mesh has as much area as its islands cover, corner by corner where they have it", () => {
  const nodes: Record<string, NodeSpec> = {
    ball: { type: "sphere", set: { build: "geodesic", detail: 3 } },
    uvs: { type: "unwrap" },
    it: { type: "lay-uvs-flat" },
  };
  const document = graphOf(nodes, ["ball.shape>uvs.shape", "uvs.shape>it.shape"]);
  const flat = meshIn(outputsOf(document, "it").shape as Shape);
  expect(meshArea(flat)).toBeCloseTo(meshArea(meshIn(outputsOf(document, "uvs").flat as Shape)), 4);
  expect(flat.corners.count).toBe(flat.cornerPoint.length);
  const links = ["ball.shape>even.shape", "even.shape>it.shape"];
  const bare = graphOf({ ball: nodes.ball, even: { type: "remesh" }, it: { type: "lay-uvs-flat" } }, links);
  expect(reportOf(bare, "it").problems[0].what).toMatch(/no UVs/);
});
