/** Further ways to lay out, group, link and turn clones, against geometry, brute force and three. */
import { PNG } from "pngjs";
import { Euler, Line3, Quaternion, Triangle, Vector3 } from "three";
import type { Value } from "../../src/core/fields/expression";
import { runValues } from "../../src/core/fields/run";
import { readAsset } from "../../src/core/formats/read/read-asset";
import type { Domain } from "../../src/core/geometry/column";
import { isClosed, meshArea } from "../../src/core/geometry/measure";
import type { Mesh } from "../../src/core/geometry/mesh";
import { makeSites, type Shape } from "../../src/core/geometry/shape";
import { parseHex, toOklab } from "../../src/core/maths/color";
import type { Setting } from "../../src/core/nodes/ports";
import { evaluate, graphOf, type NodeSpec, outputsOf, reportOf } from "../run-node";

type Set = Record<string, Setting>;
const sitesOf = (outputs: Record<string, unknown>, port = "sites"): Domain =>
  (outputs[port] as Shape).sites as Domain;
const placesOf = (sites: Domain): Vector3[] => {
  const [x, y, z] = sites.columns.position.lanes;
  return Array.from(x, (_, i) => new Vector3(x[i], y[i], z[i]));
};
const at = (places: readonly (readonly [number, number, number])[]) =>
  makeSites(places.length, ({ position }) => {
    places.forEach((p, i) => {
      for (let a = 0; a < 3; a++) position[a][i] = p[a];
    });
  });

const nearestPair = (places: readonly Vector3[]): number => {
  let least = Number.POSITIVE_INFINITY;
  places.forEach((p, i) => {
    for (let j = 0; j < i; j++) least = Math.min(least, p.distanceTo(places[j]));
  });
  return least;
};

describe("scattering that is relaxed", () => {
  const scatter = (set: Set, source: NodeSpec = { type: "plane", set: { size: [4, 4] } }) =>
    sitesOf(
      outputsOf(
        graphOf({ from: source, node: { type: "scatter-sites", set } }, ["from.shape>node.shape"]),
        "node",
      ),
    );

  it("has exactly the count, with a least distance near to what is possible, on surfaces and inside", () => {
    // C. Yuksel, 2015, section 3 and figure 6 (from memory): of the closest packing's distance, 0.7 and more in two dimensions
    // is reached, and about 0.7 in three; chance comes to a few hundredths.
    const count = 400;
    const area = meshArea(
      (outputsOf(graphOf({ node: { type: "plane", set: { size: [4, 4] } } }), "node").shape as Shape)
        .mesh as Mesh,
    );
    const widest = Math.sqrt((2 * area) / (Math.sqrt(3) * count));
    const relaxed = scatter({ count, spread: "relaxed" });
    expect(relaxed.count).toBe(count);
    expect(nearestPair(placesOf(relaxed)) / widest).toBeGreaterThan(0.65);
    expect(nearestPair(placesOf(scatter({ count }))) / widest).toBeLessThan(0.3);
    const box = { type: "box", set: { size: [2, 2, 2] } };
    const inside = scatter({ count, spread: "relaxed", where: "inside" }, box);
    expect(inside.count).toBe(count);
    // Balls at their closest fill π / √18 of a volume: 400 of diameter d in 8 cubic units.
    const diameter = 2 * Math.cbrt((8 * (Math.PI / Math.sqrt(18))) / (count * (4 / 3) * Math.PI));
    expect(nearestPair(placesOf(inside)) / diameter).toBeGreaterThan(0.6);
  });

  it("gives the same again, and takes counts of none and one", () => {
    const once = placesOf(scatter({ count: 60, spread: "relaxed", seed: 4 }));
    expect(placesOf(scatter({ count: 60, spread: "relaxed", seed: 4 }))).toEqual(once);
    for (const count of [0, 1]) expect(scatter({ count, spread: "relaxed" }).count).toBe(count);
  });
});

describe("scattering apart inside", () => {
  const scatter = (set: Set) =>
    placesOf(
      sitesOf(
        outputsOf(
          graphOf(
            {
              box: { type: "box", set: { size: [3, 3, 3] } },
              node: {
                type: "scatter-sites",
                set: { where: "inside", spread: "apart", least: 0.3, count: 9999, ...set },
              },
            },
            ["box.shape>node.shape"],
          ),
          "node",
        ),
      ),
    );

  it("fills the room by tiles in which and between which no pair is nearer, and leaves hardly a gap", () => {
    const all = scatter({});
    expect(nearestPair(all)).toBeGreaterThanOrEqual(0.3 - 1e-6);
    // Random sequential packing of balls ends at 0.384 of the room (common knowledge of the trade, from memory): so many at most.
    const jammed = (0.384 * 27) / ((Math.PI / 6) * 0.3 ** 3);
    expect(all.length / jammed).toBeGreaterThan(0.8);
    expect(all.length / jammed).toBeLessThan(1.35);
    // Away from the sides no place is further than about a distance from a site.
    let furthest = 0;
    for (let i = 0; i < 500; i++) {
      const place = new Vector3(Math.sin(i * 1.7), Math.sin(i * 2.9 + 1), Math.sin(i * 0.6 + 2));
      furthest = Math.max(furthest, Math.min(...all.map((p) => p.distanceTo(place))));
    }
    expect(furthest).toBeLessThan(0.3 * 1.2);
  });

  it("keeps the sites that are there when more are asked for, and other seeds give others", () => {
    const [some, more] = [scatter({ count: 50 }), scatter({ count: 120 })];
    expect(more.slice(0, 50)).toEqual(some);
    expect(scatter({ count: 50, seed: 3 })).not.toEqual(some);
    // What comes first is spread over all of the room.
    for (const axis of ["x", "y", "z"] as const) {
      const values = some.map((p) => p[axis]);
      expect(Math.max(...values) - Math.min(...values)).toBeGreaterThan(2.2);
    }
  });
});

describe("sites from a picture", () => {
  /** Red and transparent left, white and black right; two cells a row. */
  const picture = () => {
    const png = new PNG({ width: 4, height: 4 });
    for (let y = 0; y < 4; y++)
      for (let x = 0; x < 4; x++) {
        const [left, top] = [x < 2, y < 2];
        const rgba = left
          ? top
            ? [255, 0, 0, 255]
            : [255, 255, 255, 0]
          : top
            ? [255, 255, 255, 255]
            : [0, 0, 0, 255];
        png.data.set(rgba, (y * 4 + x) * 4);
      }
    return PNG.sync.write(png);
  };
  const run = async (set: Set) => {
    const content = await readAsset("p.png", new Uint8Array(picture()));
    const document = {
      ...graphOf({
        node: {
          type: "picture-sites",
          set: { file: "p", across: 2, width: 4, lies: "upright, facing z", ...set },
        },
      }),
      assets: { p: { file: "p.png", hash: "0".repeat(64), bytes: 1 } },
    };
    const { outputs, report } = evaluate(document, 0, {
      target: "node",
      assets: () => ({ ok: true, content, version: "1" }),
    });
    if (!outputs) throw new Error(report.nodes.node.problems.map(({ what }) => what).join());
    return { sites: sitesOf(outputs), problems: report.nodes.node.problems };
  };

  it("stand in cells that are bright enough, with their colour and luminance", async () => {
    const { sites } = await run({});
    expect(placesOf(sites).map(({ x, y }) => [x, y])).toEqual([
      [-1, 1],
      [1, 1],
    ]);
    const [r, g] = sites.columns.color.lanes;
    expect([r[0], g[0], r[1], g[1]]).toEqual([1, 0, 1, 1]);
    // ITU-R BT.709: the luminance of pure red.
    expect(sites.columns.brightness.lanes[0][0]).toBeCloseTo(0.2126, 5);
    expect([...sites.columns.size.lanes[0]]).toEqual([2, 2]);
  });

  it("or dark enough; what is transparent never; ids are those of the cells", async () => {
    const { sites } = await run({ keep: "what is dark", limit: 0.5 });
    expect([...sites.columns.id.lanes[0]]).toEqual([0, 3]);
    expect((await run({ limit: 1.0, keep: "what is bright" })).sites.count).toBe(1);
    expect((await run({ keep: "what is dark", limit: 0 })).problems[0].what).toMatch(/No cell/);
  });
});

describe("repeating", () => {
  const ring: NodeSpec = { type: "row-sites", set: { count: 2, from: [0, 0, 0], to: [1, 0, 0] } };
  const repeated = (set: Set) =>
    sitesOf(
      outputsOf(graphOf({ ring, node: { type: "repeat", set } }, ["ring.sites>node.shape"]), "node"),
      "shape",
    );

  it("makes rows of copies and layers of rows", () => {
    const sites = repeated({
      levels: "three",
      count: 3,
      step: [2, 0, 0],
      rows: 4,
      rowStep: [0, 0, 5],
      layers: 2,
      layerStep: [0, 7, 0],
    });
    expect(sites.count).toBe(2 * 3 * 4 * 2);
    const wanted = new Set<string>();
    for (const x of [0, 1, 2, 3, 4, 5])
      for (const z of [0, 5, 10, 15]) for (const y of [0, 7]) wanted.add(`${x} ${y} ${z}`);
    expect(new Set(placesOf(sites).map(({ x, y, z }) => `${x} ${y} ${z}`))).toEqual(wanted);
  });

  it("turns hues by equal steps and keeps lightness, so that a full round comes back", () => {
    const document = graphOf(
      {
        box: { type: "box" },
        tint: { type: "tint", set: { color: "#996655", how: "mix" } },
        node: { type: "repeat", set: { count: 5, hue: 90 } },
      },
      ["box.shape>tint.shape", "tint.shape>node.shape"],
    );
    const mesh = (outputsOf(document, "node").shape as Shape).mesh as Mesh;
    const [r, g, b] = mesh.points.columns.color.lanes;
    const each = mesh.points.count / 5;
    const labs = [0, 1, 2, 3, 4].map((k) => toOklab(r[k * each], g[k * each], b[k * each]));
    const start = parseHex("#996655") as readonly number[];
    expect(toOklab(start[0], start[1], start[2])[0]).toBeCloseTo(labs[0][0], 5);
    const hueOf = ([, a, c]: readonly number[]) => (Math.atan2(c, a) * 180) / Math.PI;
    for (let k = 1; k < 5; k++) {
      expect(labs[k][0]).toBeCloseTo(labs[0][0], 3);
      expect((hueOf(labs[k]) - hueOf(labs[k - 1]) + 720) % 360).toBeCloseTo(90, 0);
    }
    expect([r[4 * each], g[4 * each], b[4 * each]]).toEqual([
      expect.closeTo(r[0], 4),
      expect.closeTo(g[0], 4),
      expect.closeTo(b[0], 4),
    ]);
    const bare = graphOf({ box: { type: "box" }, node: { type: "repeat", set: { hue: 90 } } }, [
      "box.shape>node.shape",
    ]);
    expect(reportOf(bare, "node").problems[0].what).toMatch(/no colour of its own/);
  });
});

describe("trimming by boxes", () => {
  const trimmed = (to: number, set: Set, turn: Setting = [0, 0, 0]) =>
    sitesOf(
      outputsOf(
        graphOf(
          {
            row: { type: "row-sites", set: { count: 2, from: [0, 0, 0], to: [to, 0, 0] } },
            box: { type: "box", set: { size: [1, 3, 1] } },
            clones: { type: "clone-onto-sites" },
            turned: { type: "rotate", set: { turn } },
            node: { type: "trim-overlaps", set },
          },
          [
            "row.sites>clones.sites",
            "box.shape>clones.shapes",
            "clones.clones>turned.shape",
            "turned.shape>node.shape",
          ],
        ),
        "node",
      ),
      "shape",
    ).count;

  it("keeps boxes that only touch, takes one of two that overlap, and sees how they are turned", () => {
    const set = { room: "its own bounds" };
    expect(trimmed(1, set)).toBe(2);
    expect(trimmed(0.99, set)).toBe(1);
    // By a radius that holds them they would be trimmed: half the diagonal of 1 × 3 × 1.
    expect(trimmed(1, { radius: Math.sqrt(11) / 2 })).toBe(1);
    // On its side a box of 3 reaches 1.5; at 45° about Y the sides of 1 become √2.
    expect(trimmed(2.9, set, [0, 0, 90])).toBe(1);
    expect(trimmed(3.01, set, [0, 0, 90])).toBe(2);
    expect(trimmed(1.41, set, [0, 45, 0])).toBe(1);
    expect(trimmed(1.42, set, [0, 45, 0])).toBe(2);
  });

  it("tells that bare sites have no bounds", () => {
    const document = graphOf(
      { row: { type: "row-sites" }, node: { type: "trim-overlaps", set: { room: "its own bounds" } } },
      ["row.sites>node.shape"],
    );
    expect(reportOf(document, "node").problems[0].what).toMatch(/bare sites/);
  });
});

describe("what a ray meets", () => {
  it("has the attribute mixed over the triangle, as three's barycentric interpolation has it", () => {
    const document = graphOf(
      {
        ball: { type: "sphere", set: { radius: 2, build: "geodesic", detail: 2 } },
        place: { type: "position" },
        store: { type: "store-attribute", set: { name: "heat", kind: "vector" } },
        ray: { type: "cast-ray", set: { attribute: "heat" } },
      },
      ["ball.shape>store.shape", "place.vector>store.vector", "store.shape>ray.shape"],
    );
    const outputs = outputsOf(document, "ray");
    const sites = at([
      [0.3, 5, 0.4],
      [-1, 5, 0.2],
      [9, 5, 0],
    ]);
    const values = [...(outputs.place as Value[]), ...(outputs.vector as Value[]), outputs.value] as Value[];
    const { lanes } = runValues(values, sites);
    // A triangle's places mixed at a place of it are that place (three: Triangle.getInterpolation).
    const flat = new Triangle(new Vector3(0, 0, 0), new Vector3(3, 0, 0), new Vector3(0, 2, 1));
    const inside = new Vector3(1, 0.5, 0.25);
    const mixed = Triangle.getInterpolation(
      inside,
      flat.a,
      flat.b,
      flat.c,
      flat.a,
      flat.b,
      flat.c,
      new Vector3(),
    );
    expect(mixed?.distanceTo(inside)).toBeLessThan(1e-9);
    for (const i of [0, 1]) for (let a = 0; a < 3; a++) expect(lanes[3 + a][i]).toBeCloseTo(lanes[a][i], 5);
    expect([3, 4, 5, 6].map((l) => lanes[l][2])).toEqual([0, 0, 0, 0]);
    document.graph.nodes[3].set = { attribute: "cold" };
    expect(reportOf(document, "ray").problems[0].what).toMatch(/no attribute "cold"/);
  });

  it("is read by corner where faces differ: across the seam of a picture as well", () => {
    const document = graphOf(
      {
        pipe: { type: "cylinder", set: { radius: 1, height: 2, caps: false } },
        ray: { type: "cast-ray", set: RAY },
      },
      ["pipe.shape>ray.shape"],
    );
    // From outside towards the axis, just before and just after the seam at +X.
    const sites = at([
      [3, 0.5, 0.05],
      [3, 0.5, -0.05],
    ]);
    const { lanes } = runValues([...(outputsOf(document, "ray").vector as Value[])], sites);
    expect(lanes[0][0]).toBeGreaterThan(0.98);
    expect(lanes[0][1]).toBeLessThan(0.02);
    for (const i of [0, 1]) expect(lanes[1][i]).toBeCloseTo(0.25, 5);
  });
});

const RAY = { attribute: "uv", direction: [-1, 0, 0] };

describe("what is nearest", () => {
  const sites = { row: { type: "row-sites", set: { count: 3, from: [-2, 0, 0], to: [2, 0, 0] } } };

  it("gives an attribute of the nearest site, or of the surface there", () => {
    const document = graphOf(
      {
        ...sites,
        place: { type: "position" },
        store: { type: "store-attribute", set: { name: "heat", kind: "vector" } },
        near: { type: "nearest", set: { attribute: "heat" } },
      },
      ["row.sites>store.shape", "place.vector>store.vector", "store.shape>near.shape"],
    );
    const outputs = outputsOf(document, "near");
    const asked = at([
      [1.6, 1, 0],
      [-1.4, 0, 5],
    ]);
    const { lanes } = runValues([...(outputs.vector as Value[]), outputs.value as Value], asked);
    expect(lanes.map((lane) => [...lane])).toEqual([
      [2, -2],
      [0, 0],
      [0, 0],
      [2, -2],
    ]);
    document.graph.nodes[3].set = { attribute: "cold" };
    expect(reportOf(document, "near").problems[0].what).toMatch(/no attribute "cold"/);

    const surface = graphOf(
      {
        sheet: { type: "plane", set: { width: 4, depth: 4 } },
        near: { type: "nearest", set: { to: "surface", attribute: "uv" } },
      },
      ["sheet.shape>near.shape"],
    );
    const laid = runValues([...(outputsOf(surface, "near").vector as Value[])], asked).lanes;
    // (x + 2) ÷ 4 and (z + 2) ÷ 4, the latter at the edge for what lies beyond it.
    expect([laid[0][0], laid[1][0], laid[0][1], laid[1][1]].map((v) => Math.round(v * 1e5) / 1e5)).toEqual([
      0.9, 0.5, 0.15, 1,
    ]);
  });
});

describe("nearest on path", () => {
  it("finds what trying every piece with three's Line3 finds, and how far along that is", () => {
    const document = graphOf(
      {
        helix: { type: "helix", set: { turns: 3 } },
        round: { type: "arc", set: { radius: 2, points: 40 } },
        all: { type: "merge" },
        node: { type: "nearest-on-path" },
      },
      ["helix.shape>all.shapes", "round.shape>all.shapes", "all.shape>node.shape"],
    );
    const { curves } = outputsOf(document, "all").shape as Shape;
    if (!curves) throw new Error("There are no curves.");
    const outputs = outputsOf(document, "node");
    const sites = at(
      Array.from(
        { length: 200 },
        (_, i) => [Math.sin(i * 3.7) * 3, Math.cos(i * 1.3) * 3, Math.sin(i * 0.9 + 2) * 3] as const,
      ),
    );
    const values = [outputs.distance, outputs.at, outputs.curve, ...(outputs.place as Value[])] as Value[];
    const { lanes } = runValues(values, sites);
    const points = placesOf(curves.points);
    const pieces: Line3[][] = [];
    for (let k = 0; k < curves.curves.count; k++) {
      const [first, end] = [curves.curveStarts[k], curves.curveStarts[k + 1]];
      const closed = curves.curves.columns.closed?.lanes[0][k] === 1;
      pieces.push(
        Array.from(
          { length: end - first - (closed ? 0 : 1) },
          (_, i) => new Line3(points[first + i], points[first + i + 1 < end ? first + i + 1 : first]),
        ),
      );
    }
    expect(pieces.length).toBe(2);
    placesOf(sites).forEach((place, i) => {
      let best = { d: Number.POSITIVE_INFINITY, k: 0, travelled: 0, foot: new Vector3() };
      pieces.forEach((list, k) => {
        let travelled = 0;
        for (const piece of list) {
          const foot = piece.closestPointToPoint(place, true, new Vector3());
          const d = foot.distanceTo(place);
          if (d < best.d) best = { d, k, travelled: travelled + foot.distanceTo(piece.start), foot };
          travelled += piece.distance();
        }
      });
      const whole = pieces[best.k].reduce((sum, piece) => sum + piece.distance(), 0);
      expect(lanes[0][i]).toBeCloseTo(best.d, 4);
      expect(lanes[2][i]).toBe(best.k);
      expect(lanes[1][i]).toBeCloseTo(best.travelled / whole, 4);
      expect(new Vector3(lanes[3][i], lanes[4][i], lanes[5][i]).distanceTo(best.foot)).toBeLessThan(1e-4);
    });
  });

  it("says when no curves arrive", () => {
    expect(reportOf(graphOf({ node: { type: "nearest-on-path" } }), "node").problems[0].what).toMatch(
      /No curves/,
    );
  });
});

describe("groups and averages of neighbours", () => {
  const SCATTER: Record<string, NodeSpec> = {
    ball: { type: "sphere", set: { radius: 2, build: "geodesic", detail: 3 } },
    layout: { type: "scatter-sites", set: { count: 150 } },
  };

  it("are those of walking from one to the next, and of adding up", () => {
    const reach = 0.45;
    const document = graphOf(
      {
        ...SCATTER,
        along: { type: "attribute", set: { name: "along" } },
        node: { type: "group-nearby", set: { reach } },
        near: { type: "neighbours", set: { reach } },
      },
      [
        "ball.shape>layout.shape",
        "layout.sites>node.shape",
        "layout.sites>near.shape",
        "along.value>near.value",
      ],
    );
    const sites = sitesOf(outputsOf(document, "node"), "shape");
    const places = placesOf(sites);
    const near = (i: number) =>
      places.flatMap((p, j) => (j !== i && p.distanceTo(places[i]) < reach ? [j] : []));
    const group = new Array<number>(places.length).fill(-1);
    let groups = 0;
    for (let i = 0; i < places.length; i++) {
      if (group[i] >= 0) continue;
      const todo = [i];
      for (let next = todo.pop(); next !== undefined; next = todo.pop()) {
        if (group[next] >= 0) continue;
        group[next] = groups;
        todo.push(...near(next));
      }
      groups++;
    }
    expect([...sites.columns.group.lanes[0]]).toEqual(group);
    expect(groups).toBeGreaterThan(2);
    expect(reportOf(document, "node").problems[0].what).toBe(`150 are in ${groups} groups.`);
    const { average } = outputsOf(document, "near");
    const [means] = runValues([average as Value], sites).lanes;
    const own = sites.columns.along.lanes[0];
    places.forEach((_, i) => {
      const all = near(i);
      const mean = all.length > 0 ? all.reduce((sum, j) => sum + own[j], 0) / all.length : 0;
      expect(means[i]).toBeCloseTo(mean, 5);
    });
  });
});

describe("links as tubes", () => {
  const tubes = (set: Set) =>
    (
      outputsOf(
        graphOf(
          {
            row: { type: "row-sites", set: { count: 3, from: [0, 0, 0], to: [2, 0, 0] } },
            node: { type: "link-nearby", set: { reach: 1.5, as: "tubes", radius: 0.1, ...set } },
          },
          ["row.sites>node.shape"],
        ),
        "node",
      ).curves as Shape
    ).mesh as Mesh;

  it("are closed, and thinner the further apart their ends are", () => {
    const even = tubes({ fade: false });
    expect(isClosed(even)).toBe(true);
    // Two prisms over a hexagon of radius 0.1, whose side is 0.1: six sides of 1 and two lids of 3√3/2 · 0.1² each.
    expect(meshArea(even)).toBeCloseTo(2 * (6 * 0.1 + 2 * ((3 * Math.sqrt(3)) / 2) * 0.01), 4);
    const [, y] = tubes({ fade: true }).points.columns.position.lanes;
    // At two thirds of the reach a third of the thickness is left.
    expect(Math.max(...y)).toBeCloseTo(0.1 * (1 - 1 / 1.5), 5);
  });
});

describe("turning by angles", () => {
  it("is three's Euler angles in the order X, Y, Z, whatever the clone stood like", () => {
    const sites = sitesOf(
      outputsOf(
        graphOf(
          {
            ring: { type: "ring-sites", set: { count: 5 } },
            node: { type: "orient", set: { by: "angles", angles: [30, -50, 110] } },
          },
          ["ring.sites>node.shape"],
        ),
        "node",
      ),
      "shape",
    );
    const wanted = new Quaternion().setFromEuler(
      new Euler(...([30, -50, 110].map((d) => (d * Math.PI) / 180) as [number, number, number]), "XYZ"),
    );
    const lanes = sites.columns.rotation.lanes;
    for (let i = 0; i < 5; i++)
      expect(
        Math.abs(new Quaternion(lanes[0][i], lanes[1][i], lanes[2][i], lanes[3][i]).dot(wanted)),
      ).toBeCloseTo(1, 5);
  });
});
