/** Paths that are drawn: Béziers against worked values, changes on the stage, keys. */
import { bentCurves } from "../../src/core/curves/beziers";
import { curveLengths } from "../../src/core/geometry/curves";
import { blendSettings } from "../../src/core/keys/blend";
import { valueAt } from "../../src/core/keys/track";
import {
  circlePath,
  cornerAt,
  type DrawnPath,
  type PathPoint,
  pathFault,
  piecesOf,
  placeBetween,
  withPointBetween,
} from "../../src/core/maths/drawn-path";
import type { Vec3 } from "../../src/core/maths/vector";
import type { Setting } from "../../src/core/nodes/ports";
import {
  closedOrOpened,
  snapped,
  withHandleAt,
  withoutPoint,
  withPointAt,
  withSmoothness,
} from "../../src/studio/stage/path-edits";
import { pathSpots, placeOnPlane } from "../../src/studio/stage/path-spots";
import { formed, pointsIn } from "../formed";
import { graphOf, reportOf } from "../run-node";

/** The cubic (0,0) (1,2) (3,3) (4,0). */
const point = (at: Vec3, before: Vec3, after: Vec3): PathPoint => ({
  ...cornerAt(at),
  before,
  after,
  smooth: true,
});
const CUBIC: DrawnPath = {
  closed: false,
  points: [point([0, 0, 0], [0, 0, 0], [1, 2, 0]), point([4, 0, 0], [-1, 3, 0], [0, 0, 0])],
};
const curveOf = (path: DrawnPath, set: Record<string, Setting> = {}) => {
  const { curves } = formed(
    { it: { type: "drawn-path", set: { path: path as unknown as Setting, ...set } } },
    [],
  );
  if (!curves) throw new Error("no curves");
  return curves;
};

describe("a piece", () => {
  it("is the cubic Bézier of its points and handles [KEY-03]", () => {
    const { at } = placeBetween(CUBIC.points[0], CUBIC.points[1], 0.25);
    expect([at[0], at[1]]).toEqual([expect.closeTo(0.90625, 9), expect.closeTo(1.265625, 9)]);
  });

  it("has its length [KEY-04]", () => {
    expect(curveLengths(curveOf(CUBIC, { steps: 512 }))[0]).toBeCloseTo(5.82992722463, 4);
  });

  it("stays as it is when a point is put in: de Casteljau's halves [KEY-05]", () => {
    const { points } = withPointBetween(CUBIC, 0, 0.5);
    expect(points[1].at.slice(0, 2)).toEqual([2, 1.875]);
    const handle = (p: PathPoint, which: "before" | "after") =>
      p.at.map((v, a) => v + p[which][a]).slice(0, 2);
    expect([handle(points[0], "after"), handle(points[1], "before")]).toEqual([
      [0.5, 1],
      [1.25, 1.75],
    ]);
    expect([handle(points[1], "after"), handle(points[2], "before")]).toEqual([
      [2.75, 2],
      [3.5, 1.5],
    ]);
  });

  it("four of them are nearly a circle [CUR-13]", () => {
    for (const { at } of piecesOf(circlePath(1), 64)) {
      const off = Math.hypot(...at) - 1;
      expect(off).toBeGreaterThan(-1e-9);
      expect(off).toBeLessThan(0.000273);
    }
  });
});

describe("the node", () => {
  it("gives straight pieces one step, and tells radius and tilt where points have any", () => {
    const straight = {
      closed: true,
      points: [cornerAt([0, 0, 0]), cornerAt([2, 0, 0]), { ...cornerAt([0, 0, 2]), radius: 2 }],
    };
    const curves = curveOf(straight);
    expect(pointsIn(curves)).toEqual([
      [0, 0, 0],
      [2, 0, 0],
      [0, 0, 2],
    ]);
    expect(Array.from(curves.points.columns.radius.lanes[0])).toEqual([1, 1, 2]);
    expect(curves.points.columns.tilt).toBeUndefined();
  });

  it("joins its mirror image where it ends on the mirror", () => {
    const half = { closed: false, points: [cornerAt([0, 0, -1]), cornerAt([1, 0, 0]), cornerAt([0, 0, 1])] };
    const whole = curveOf(half, { mirror: "x" });
    expect([whole.curves.count, whole.points.count, curveLengths(whole)[0]]).toEqual([
      1,
      4,
      expect.closeTo(4 * Math.SQRT2, 5),
    ]);
    const apart = { closed: false, points: [cornerAt([1, 0, 0]), cornerAt([2, 0, 0])] };
    expect(curveOf(apart, { mirror: "x" }).curves.count).toBe(2);
  });

  it("says what to do with fewer than two points, and what is wrong with a stored one", () => {
    const empty = graphOf({ it: { type: "drawn-path", set: { path: { closed: false, points: [] } } } });
    expect(reportOf(empty, "it").problems[0].what).toMatch(/Press Draw/);
    expect(pathFault({ closed: false, points: [cornerAt([0, 0, 0]), { at: [1, 2] }] })).toMatch(
      /^point 2 needs/,
    );
    expect(pathFault([])).toBe("must be a path");
  });
});

describe("keys", () => {
  it("let a path change its form, point by point; other counts jump half-way", () => {
    const moved = {
      ...CUBIC,
      points: CUBIC.points.map((p) => ({ ...p, at: [p.at[0], p.at[1] + 2, 0] as Vec3 })),
    };
    const track = {
      keys: [
        { frame: 0, value: CUBIC as unknown as Setting, ease: "linear" as const },
        { frame: 10, value: moved as unknown as Setting, ease: "linear" as const },
      ],
    };
    const { points } = valueAt(track as never, { kind: "path" } as never, 5) as unknown as DrawnPath;
    expect(points.map(({ at }) => at[1])).toEqual([1, 1]);
    const longer = withPointAt(CUBIC, [9, 0, 0]) as unknown as Setting;
    const blend = (t: number) =>
      (blendSettings({ kind: "path" }, CUBIC as unknown as Setting, longer, t) as unknown as DrawnPath).points
        .length;
    expect([blend(0.4), blend(0.6)]).toEqual([2, 3]);
  });
});

describe("changes on the stage", () => {
  it("a smooth point keeps its handles on one line, each as long as it was; a corner does not", () => {
    const path = withPointAt(withPointAt({ closed: false, points: [] }, [0, 0, 0]), [1, 0, 0], [0.5, 0, 0]);
    const turned = withHandleAt(path, 1, "after", [1, 0, 0.8]).points[1];
    expect(turned.after).toEqual([0, 0, 0.8]);
    expect(turned.before).toEqual([0, 0, -0.5]);
    const corner = withHandleAt(
      { ...path, points: path.points.map((p) => ({ ...p, smooth: false })) },
      1,
      "after",
      [1, 0, 0.8],
    );
    expect(corner.points[1].before).toEqual([-0.5, 0, 0]);
  });

  it("smoothing lays handles along the way from neighbour to neighbour, and a corner has none", () => {
    const bent = { closed: false, points: [cornerAt([-3, 0, 0]), cornerAt([0, 0, 3]), cornerAt([3, 0, 0])] };
    const { before, after } = withSmoothness(bent, 1, true).points[1];
    expect([before[0], after[0], before[2], after[2]]).toEqual([
      expect.closeTo(-Math.SQRT2, 3),
      expect.closeTo(Math.SQRT2, 3),
      0,
      0,
    ]);
    expect(withSmoothness(withSmoothness(bent, 1, true), 1, false)).toEqual(bent);
  });

  it("snaps to a grid, closes only what has three points, and opens when one is taken away", () => {
    expect(snapped([0.37, -0.12, 1.26], 0.25)).toEqual([0.25, 0, 1.25]);
    const three = { closed: false, points: [cornerAt([0, 0, 0]), cornerAt([1, 0, 0]), cornerAt([0, 0, 1])] };
    expect(closedOrOpened(three).closed).toBe(true);
    expect(withoutPoint(closedOrOpened(three), 1)).toEqual({
      closed: false,
      points: [three.points[0], three.points[2]],
    });
    expect(closedOrOpened({ ...three, points: three.points.slice(1) }).closed).toBe(false);
  });

  it("meets the plane that is drawn on under the pointer", () => {
    const down = { origin: [1, 5, 2] as Vec3, direction: [0, -1, 0] as Vec3 };
    expect(placeOnPlane("the ground", [0, 0.5, 0], down)).toEqual([1, 0.5, 2]);
    expect(placeOnPlane("upright, facing z", [0, 0, 0], down)).toBeNull();
  });

  it("shows handles of the chosen point and its neighbours, and where points can be put in", () => {
    const spots = pathSpots(circlePath(1), 0);
    const of = (part: string) =>
      spots
        .filter((spot) => spot.part === part)
        .map((spot) => spot.point)
        .sort();
    expect([of("at"), of("before"), of("middle")]).toEqual([
      [0, 1, 2, 3],
      [0, 1, 3],
      [0, 1, 2, 3],
    ]);
  });
});

describe("points with handles", () => {
  const S: DrawnPath = {
    closed: true,
    points: [
      point([0, 0, 0], [0, 0, 1], [1, 2, 0]),
      point([4, 0, 1], [-1, 3, 0], [1, -3, 0.5]),
      { ...cornerAt([2, -3, 0]), radius: 2 },
    ],
  };
  const withHandles = { path: S as unknown as Setting, as: "points with handles" };
  const drawn = { path: S as unknown as Setting, steps: 24 };
  const placesOf = (nodes: Parameters<typeof formed>[0], links: string[]) => {
    const { curves } = formed(nodes, links);
    if (!curves) throw new Error("no curves");
    return curves.points.columns.position.lanes.map((lane) => [...lane]);
  };
  const close = (a: readonly number[][], b: readonly number[][]) => {
    expect(a[0].length).toBe(b[0].length);
    for (const [l, lane] of a.entries())
      for (const [i, v] of lane.entries()) expect(v).toBeCloseTo(b[l][i], 4);
  };

  it("are those that were set, and come bent to whatever measures or covers them", () => {
    const bare = curveOf(S, { as: "points with handles" });
    expect(bare.points.count).toBe(3);
    expect(bare.points.columns.handleAfter.lanes.map((lane) => lane[0])).toEqual([1, 2, 0]);
    const resampled = (set: Record<string, Setting>) =>
      placesOf({ from: { type: "drawn-path", set }, it: { type: "resample", set: { count: 50 } } }, [
        "from.shape>it.shape",
      ]);
    close(resampled(withHandles), resampled(drawn));
    // The piece between two points of which none has a handle on its side is straight: 24 + 24 + 1 points.
    expect(
      bentCurves(
        curveOf(
          { ...S, points: [S.points[0], S.points[1], { ...S.points[2] }, cornerAt([0, -2, 0])] },
          { as: "points with handles" },
        ),
      ).points.count,
    ).toBe(24 + 24 + 1 + 24);
    const thick = bentCurves(bare).points.columns.radius.lanes[0];
    expect(thick[36]).toBeCloseTo(1.5, 5);
  });

  // Béziers go with every affine map: mapping their points and handles maps all of them (any book on curves, from memory).
  it("are turned and scaled with their handles, and mirrored", () => {
    const set = { move: [1, -2, 0.5], turn: [30, 70, -20], scale: [2, 0.5, -1] };
    const placed = (from: Record<string, Setting>) =>
      placesOf(
        {
          from: { type: "drawn-path", set: from },
          there: { type: "transform", set },
          it: { type: "reverse-paths" },
        },
        ["from.shape>there.shape", "there.shape>it.shape"],
      );
    close(placed(withHandles), placed(drawn));
    const half: DrawnPath = {
      closed: false,
      points: [point([0, 1, 0], [0, 0, 0], [1, 0, 0]), point([0, -1, 0], [2, 0, 0], [0, 0, 0])],
    };
    const mirrored = (more: Record<string, Setting>) =>
      placesOf(
        {
          from: { type: "drawn-path", set: { path: half as unknown as Setting, mirror: "x", ...more } },
          it: { type: "reverse-paths" },
        },
        ["from.shape>it.shape"],
      );
    close(mirrored({ as: "points with handles" }), mirrored({ steps: 24 }));
  });

  it("are deformed by where their handles end, and moved without them", () => {
    const twisted = formed(
      {
        from: { type: "drawn-path", set: withHandles },
        it: { type: "twist", set: { angle: 180, along: "x" } },
      },
      ["from.shape>it.shape"],
    ).curves;
    if (!twisted) throw new Error("no curves");
    // At 4 of 4 units along x the twist is half a turn; the handle ends at 3 of them, three quarters of that: 135°.
    const at = (name: string) => twisted.points.columns[name].lanes.map((lane) => lane[1]);
    const [y, z] = [3, 1];
    const [c, s] = [Math.cos((135 / 180) * Math.PI), Math.sin((135 / 180) * Math.PI)];
    const end = at("handleBefore").map((v, a) => v + at("position")[a]);
    for (const [a, v] of [3, y * c - z * s, y * s + z * c].entries()) expect(end[a]).toBeCloseTo(v, 4);
    const moved = formed(
      { from: { type: "drawn-path", set: withHandles }, it: { type: "move", set: { by: [0, 1, 0] } } },
      ["from.shape>it.shape"],
    ).curves;
    expect(moved?.points.columns.handleAfter.lanes.map((lane) => lane[1])).toEqual([1, -3, 0.5]);
  });
});
