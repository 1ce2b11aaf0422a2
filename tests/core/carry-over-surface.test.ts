/** Attributes taken over from surfaces: the nearest place, along facings, by the place on a picture. */
import type { Setting } from "../../src/core/nodes/ports";
import { formed, meshIn, pointsIn } from "../formed";
import { graphOf, type NodeSpec, reportOf } from "../run-node";

/** A sheet 4 × 4 at a height that has its own x as `mark`, and something above or below that takes it. */
const nodesWith = (taker: NodeSpec, set: Record<string, Setting>): Record<string, NodeSpec> => ({
  sheet: { type: "plane", set: { width: 4, depth: 4 } },
  place: { type: "position" },
  marked: { type: "store-attribute", set: { name: "mark", on: "points" } },
  taker,
  it: { type: "carry-over", set: { attribute: "mark", ...set } },
});
const LINKS = [
  "sheet.shape>marked.shape",
  "place.x>marked.number",
  "taker.shape>it.shape",
  "marked.shape>it.from",
];
const marks = (taker: NodeSpec, set: Record<string, Setting>): [number[], number[][]] => {
  const mesh = meshIn(formed(nodesWith(taker, set), LINKS));
  return [Array.from(mesh.points.columns.mark.lanes[0]), pointsIn(mesh)];
};
const BALL: NodeSpec = { type: "sphere", set: { radius: 1, build: "geodesic", detail: 2 } };

it("the nearest place mixes over the face: a sheet of one face gives each point its own x", () => {
  const [found, places] = marks(BALL, { by: "the nearest place on its surface" });
  for (const [p, [x]] of places.entries()) expect(found[p]).toBeCloseTo(x, 4);
});

it("only within the reach, and by the amount", () => {
  const [found, places] = marks(BALL, { by: "the nearest place on its surface", reach: 0.5, amount: 0.5 });
  for (const [p, [x, y]] of places.entries())
    if (Math.abs(y) < 0.49) expect(found[p]).toBeCloseTo(x / 2, 4);
    else if (Math.abs(y) > 0.51) expect(found[p]).toBeCloseTo(0, 9);
});

it("along facings it is where the line meets the surface, ahead or behind", () => {
  const [found, places] = marks(BALL, { by: "where facings meet its surface" });
  for (const [p, [x, y]] of places.entries()) {
    // The line from the middle of the ball through the point meets the sheet, which goes through the middle, there.
    if (Math.abs(y) > 0.3) expect(found[p]).toBeCloseTo(0, 3);
    else if (Math.abs(y) > 1e-3) expect(Math.abs(found[p])).toBeLessThan(Math.abs(x) + 0.05);
  }
});

it("by the place on a picture, wherever the two are", () => {
  const far: NodeSpec = { type: "plane", set: { width: 1, depth: 1, across: 4, deep: 4 } };
  const nodes = nodesWith(far, { by: "the same place of a picture" });
  const mesh = meshIn(
    formed({ ...nodes, away: { type: "transform", set: { move: [30, 9, 0], turn: [0, 0, 90] } } }, [
      ...LINKS.filter((link) => !link.startsWith("taker")),
      "taker.shape>away.shape",
      "away.shape>it.shape",
    ]),
  );
  const [u] = mesh.points.columns.uv.lanes;
  for (const [p, mark] of Array.from(mesh.points.columns.mark.lanes[0]).entries())
    expect(mark).toBeCloseTo(u[p] * 4 - 2, 4);
});

it("says when there is no surface to ask", () => {
  const document = graphOf(
    {
      taker: BALL,
      sites: { type: "grid-sites" },
      it: { type: "carry-over", set: { by: "the nearest place on its surface" } },
    },
    ["taker.shape>it.shape", "sites.sites>it.from"],
  );
  expect(reportOf(document, "it").problems[0].what).toMatch(/No surface arrives/);
});
