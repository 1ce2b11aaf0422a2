/** The demo pieces as acceptance cases: they load without warnings, evaluate, close their loops, and their facts hold. */
import { PNG } from "pngjs";
import { applyEdit } from "../../src/core/document/edits";
import type { PieceDocument } from "../../src/core/document/schema";
import { drawingOf } from "../../src/core/draw/drawing";
import { AssetShelf, openWith } from "../../src/core/evaluate/asset-shelf";
import { Evaluator } from "../../src/core/evaluate/evaluator";
import { prepareLibraries } from "../../src/core/evaluate/libraries";
import type { EvaluateOptions } from "../../src/core/evaluate/options";
import { plainNumber, type Value } from "../../src/core/fields/expression";
import { meshArea, meshVolume } from "../../src/core/geometry/measure";
import { type Mesh, pointLanes } from "../../src/core/geometry/mesh";
import type { Shape } from "../../src/core/geometry/shape";
import { topologyOf } from "../../src/core/geometry/topology";
import { type Volume, VolumeReader } from "../../src/core/geometry/volume";
import { Inside } from "../../src/core/spatial/inside";
import { surfaceOf } from "../../src/core/volumes/surface-nets";
import { demoAssets, demoNames, readDemo } from "../../src/server/demo";
import { SurfaceBvh } from "../surface-bvh";

const bytes = demoAssets();
const shelf = new AssetShelf(openWith(async (hash) => bytes.get(hash)?.bytes ?? new Uint8Array()));
/** The shape on an output of a node, or on the stage's. */
const shapeOf = async (
  document: PieceDocument,
  frame: number,
  target: string,
  port = "shape",
  evaluator = new Evaluator(),
): Promise<Shape> => ((await run(document, frame, { target }, evaluator)).outputs?.[port] ?? {}) as Shape;
/** @param evaluator one that goes on from states that it has, where several frames or nodes are looked at */
const run = async (
  document: PieceDocument,
  frame: number,
  options: EvaluateOptions = {},
  evaluator = new Evaluator(),
) => {
  await Promise.all([shelf.prepare(document), prepareLibraries(document)]);
  return evaluator.evaluate(document, frame, { assets: shelf.lookup(document), ...options });
};
const plainAt = async (document: PieceDocument, node: string, port: string, frame: number) =>
  plainNumber((await run(document, frame, { target: node })).outputs?.[port] as Value);
const set = (document: PieceDocument, node: string, input: string, value: number) =>
  applyEdit(document, { kind: "set-input", node, input, value }).document;

describe.each(demoNames())("%s", (name) => {
  const document = readDemo(name);
  const evaluator = new Evaluator();

  it("evaluates without a problem, has a line about it and three dials", async () => {
    const { report, shape } = await run(document, document.settings.first, {}, evaluator);
    expect(Object.values(report.nodes).flatMap((n) => n.problems.filter((p) => p.level !== "note"))).toEqual(
      [],
    );
    expect(report.problems).toEqual([]);
    expect(Object.values(report.nodes).filter((n) => n.state !== "ran")).toEqual([]);
    expect(shape && drawingOf(shape).batches.length).toBeGreaterThan(0);
    expect(document.about).toMatch(/\.$/);
    expect(document.dials).toHaveLength(3);
  });

  // What minds its neighbours never comes back to the same state; such pieces say that they do not close.
  if (!document.settings.loop) return;
  it("closes its loop: one frame past the last is the first [WAV-02]", async () => {
    const { first, last } = document.settings;
    const matrices = async (frame: number) => {
      const { shape } = await run(document, frame, {}, evaluator);
      return shape
        ? drawingOf(shape).batches.flatMap((b) => [
            ...b.matrices.subarray(0, 1600),
            ...b.colors.subarray(0, 400),
          ])
        : [];
    };
    const [start, end] = [await matrices(first), await matrices(last + 1)];
    expect(end).toHaveLength(start.length);
    const tolerance = 2e-3;
    expect(Math.max(...start.map((v, i) => Math.abs(v - end[i])))).toBeLessThan(tolerance);
  });
});

describe("facts of the pieces (common practice, no source)", () => {
  it("01: a degree a frame is 90° after 90 frames, times ten 900°", async () => {
    const piece = readDemo("01-turning-seed-head");
    expect(await plainAt(piece, "degrees", "value", 90)).toBe(90);
    expect(await plainAt(set(piece, "degrees", "b", 10), "degrees", "value", 90)).toBe(900);
    const { report } = await run(piece, 0);
    expect(report.ms).toBeGreaterThan(0);
  });

  it("02: the handle is at 0…1 of its ring whatever the radius; 121 discs, radius = distance ÷ 10…40", async () => {
    const piece = readDemo("02-petri-rings");
    for (const radius of [1, 3.5]) {
      const at = await shapeOf(set(piece, "handle", "times", radius), 30, "shown");
      // A quarter of the range is a quarter of the circle.
      const middle = [0, 2].map((axis) => {
        const lane = at.mesh?.points.columns.position.lanes[axis] ?? [0];
        return (Math.min(...lane) + Math.max(...lane)) / 2;
      });
      expect(middle[0]).toBeCloseTo(0, 1);
      expect(middle[1]).toBeCloseTo(radius, 1);
    }
    for (const by of [10, 40]) {
      const { sites } = await shapeOf(set(piece, "radius", "b", by), 0, "size");
      expect(sites?.count).toBe(121);
      const [x, , z] = sites?.columns.position.lanes ?? [];
      for (let i = 0; i < 121; i++) {
        expect(sites?.columns.scale.lanes[0][i]).toBeCloseTo(Math.hypot(x[i] - 3.5, z[i]) / by, 5);
      }
    }
  });

  it("05: 10,000 drops sit on the sheet's faces while it ripples", async () => {
    const piece = readDemo("05-dew-sheet");
    const { sites } = await shapeOf(piece, 17, "seats", "sites");
    expect(sites?.count).toBe(10_000);
    const y = sites?.columns.position.lanes[1] ?? [];
    expect(Math.max(...y) - Math.min(...y)).toBeGreaterThan(0.5);
  });

  it("16: thirteen jars without touching anything else are 27.692307…° apart", async () => {
    const { sites } = await shapeOf(set(readDemo("16-jar-ring"), "ring", "count", 13), 0, "ring", "sites");
    const [x, , z] = sites?.columns.position.lanes ?? [];
    expect(sites?.count).toBe(13);
    expect((Math.atan2(-z[1], x[1]) * 180) / Math.PI).toBeCloseTo(360 / 13, 3);
  });

  it("06: 5 × 5 beds, repeated 3 × 3, are 225 from one chain; they rise from nothing, outside first, and shoot over", async () => {
    const piece = readDemo("06-seed-beds-rising");
    const heights = async (frame: number) => {
      const sites = (await run(piece, frame)).shape?.sites;
      const [x, , z] = sites?.columns.position.lanes ?? [];
      const tall = sites?.columns.scale.lanes[1] ?? new Float32Array();
      return { count: sites?.count, tall: [...tall], far: [...tall].map((_, i) => Math.hypot(x[i], z[i])) };
    };
    const start = await heights(0);
    expect(start.count).toBe(225);
    expect(Math.max(...start.tall)).toBeLessThan(0.05);
    expect(Math.min(...start.tall)).toBeGreaterThanOrEqual(0);
    const rising = await heights(16);
    const mean = (list: readonly number[]) => list.reduce((a, b) => a + b, 0) / list.length;
    expect(mean(rising.tall.filter((_, i) => rising.far[i] > 4))).toBeGreaterThan(
      5 * mean(rising.tall.filter((_, i) => rising.far[i] < 2)),
    );
    const settled = await heights(99);
    let most = 0;
    for (let frame = 30; frame < 48; frame++)
      most = Math.max(most, ...(await heights(frame)).tall.map((t, i) => t / settled.tall[i]));
    expect(most).toBeGreaterThan(1.03);
    // A spring's first overshoot of a jump, e^(−πζ ÷ √(1 − ζ²)) at ζ = 0.28, is the most that a slower rise can have.
    expect(most).toBeLessThan(1 + Math.exp((-Math.PI * 0.28) / Math.sqrt(1 - 0.28 ** 2)));
  });
});

describe("pieces of particles (common practice, no source)", () => {
  const lanesAt = ({ sites }: Shape, name: string) => sites?.columns[name].lanes ?? [];

  it("04: each thread ends where its tip is, and nobody is linked beyond the hold", async () => {
    const document = readDemo("04-mycelium");
    const evaluator = new Evaluator();
    const tips = await shapeOf(document, 20, "tips", "sites", evaluator);
    const { curves } = await shapeOf(document, 20, "threads", "shape", evaluator);
    const at = new Map(Array.from(lanesAt(tips, "id")[0], (id, i) => [id, i]));
    let ended = 0;
    for (let k = 0; curves && k < curves.curves.count; k++) {
      const i = at.get(curves.curves.columns.id.lanes[0][k]);
      if (i === undefined) continue;
      ended++;
      const last = curves.curveStarts[k + 1] - 1;
      for (const [a, lane] of curves.points.columns.position.lanes.entries())
        expect(lane[last]).toBe(lanesAt(tips, "position")[a][i]);
    }
    expect(ended).toBeGreaterThan(200);
    const links = (await shapeOf(document, 20, "links", "curves", evaluator)).curves;
    const [x, y, z] = links?.points.columns.position.lanes ?? [];
    for (let e = 0; e < x.length; e += 2)
      expect(Math.hypot(x[e] - x[e + 1], y[e] - y[e + 1], z[e] - z[e + 1])).toBeLessThan(0.42 * 1.5 + 1e-4);
  });

  it("08: sap goes at one speed, within the leaf and around its holes", async () => {
    const document = readDemo("08-sap-flow");
    const sap = await shapeOf(document, 10, "sap", "sites");
    const [u, v, w] = lanesAt(sap, "velocity");
    for (let i = 0; i < u.length; i++) expect(Math.hypot(u[i], v[i], w[i])).toBeCloseTo(0.75, 3);
    const blade = new SurfaceBvh((await shapeOf(document, 10, "blade")).mesh as Mesh);
    const [x, y, z] = lanesAt(sap, "position");
    for (let i = 0; i < x.length; i++) expect(blade.distance(x[i], y[i], z[i])).toBeLessThan(0.05);
  });

  it("12: another shape takes the burr's place, and as many grains leave it", async () => {
    const counts = await Promise.all(
      [0, 1, 2].map(
        async (which) =>
          (await shapeOf(set(readDemo("12-burr-burst"), "is", "b", which), 12, "grains", "sites")).sites
            ?.count,
      ),
    );
    expect(counts).toEqual([420, 420, 420]);
  });

  it.each([
    ["33-bees-at-the-hives", "bees", "both", 90],
    ["34-seed-storm", "seeds", "worn", 5],
  ])("%s: nobody passes through what is in the way", async (name, node, wall, frame) => {
    const document = readDemo(name);
    const { mesh } = await shapeOf(document, frame, wall);
    const inside = new Inside(mesh as Mesh);
    const [x, y, z] = lanesAt(await shapeOf(document, frame, node, "sites"), "position");
    let within = 0;
    for (let i = 0; i < x.length; i++) {
      const { count, x: at, turns } = inside.crossings(y[i], z[i]);
      let depth = 0;
      for (let k = 0; k < count && at[k] < x[i]; k++) depth += turns[k];
      if (depth > 0) within++;
    }
    expect(within).toBe(0);
  });
});

describe("17, the reveal of a scan", () => {
  it("grows the grains that the ball passes and leaves the others small", async () => {
    const piece = readDemo("17-gourd-scan");
    const { sites } = await shapeOf(piece, 60, "drift");
    const away = (await run(piece, 60, { target: "swing" })).outputs?.vector as Value[];
    const ball = away.map((v) => plainNumber(v) ?? 0);
    const before = (await shapeOf(piece, 60, "grow")).sites?.columns.position.lanes ?? [];
    const size = sites?.columns.scale.lanes[0] ?? [];
    // The scan is scaled to a size, and its grains with it.
    const base = (await shapeOf(piece, 60, "trim")).sites?.columns.scale.lanes[0][0] ?? 1;
    let inside = 0;
    for (let i = 0; i < (sites?.count ?? 0); i++) {
      const distance = Math.hypot(...before.map((lane, a) => lane[i] - ball[a]));
      if (distance < 0.7) {
        inside++;
        expect(size[i] / base).toBeGreaterThan(0.7);
      } else if (distance > 1.26) expect(size[i] / base).toBeCloseTo(0.42, 5);
    }
    expect(inside).toBeGreaterThan(20);
  });

  it("is a cloud with colours, holes and strays, as a scanner gives", async () => {
    const { sites } = await shapeOf(readDemo("17-gourd-scan"), 0, "scan");
    expect(sites?.count).toBe(4169);
    expect(new Set(sites?.columns.color.lanes[0]).size).toBeGreaterThan(50);
  });
});

describe("20, the herb plots", () => {
  it("spreads more than 10,000 and leaves none closer than the room of two", async () => {
    const piece = readDemo("20-herb-plots");
    const counts = await Promise.all([1, 2, 3].map((k) => shapeOf(piece, 0, `scatter${k}`, "sites")));
    expect(counts.reduce((sum, { sites }) => sum + (sites?.count ?? 0), 0)).toBeGreaterThanOrEqual(10_000);
    const [x, y, z] = (await shapeOf(piece, 0, "apart2")).sites?.columns.position.lanes ?? [];
    let least = Infinity;
    for (let i = 0; i < x.length; i++)
      for (let j = 0; j < i; j++) {
        const d = (x[i] - x[j]) ** 2 + (y[i] - y[j]) ** 2 + (z[i] - z[j]) ** 2;
        if (d < least) least = d;
      }
    expect(Math.sqrt(least)).toBeGreaterThanOrEqual(0.054 - 1e-6);
  });

  it("varies one axis, two axes, all three", async () => {
    const piece = readDemo("20-herb-plots");
    const varied = await Promise.all(
      [1, 2, 3].map(async (k) => {
        const lanes = (await shapeOf(piece, 0, `size${k}`)).sites?.columns.scale.lanes ?? [];
        return lanes.map((lane) => new Set(lane).size > 1);
      }),
    );
    expect(varied).toEqual([
      [false, true, false],
      [true, false, true],
      [true, true, true],
    ]);
  });
});

describe("pieces about neighbours, surfaces and orientation (common practice, no source)", () => {
  const places = (shape: Shape) => {
    const [x, y, z] = shape.sites?.columns.position.lanes ?? [];
    return Array.from(x, (_, i) => [x[i], y[i], z[i]] as const);
  };
  const apart = (a: readonly number[], b: readonly number[]) =>
    Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);

  it("09: seeds reach half-way to the nearest one, touch there and overlap nowhere, at any frame", async () => {
    for (const frame of [0, 40, 111]) {
      const fitted = await shapeOf(readDemo("09-tendril"), frame, "fitted");
      const reach = fitted.sites?.columns.reach.lanes[0] ?? [];
      const all = places(fitted);
      let [touching, least] = [0, Number.POSITIVE_INFINITY];
      for (const [i, a] of all.entries())
        for (let j = 0; j < i; j++) {
          const gap = apart(a, all[j]) - reach[i] - reach[j];
          least = Math.min(least, gap);
          if (gap < 1e-5) touching++;
        }
      expect(least).toBeGreaterThan(-1e-5);
      expect(touching).toBeGreaterThan(5);
      expect(Math.max(...reach)).toBeLessThanOrEqual(0.12 + 1e-6);
    }
  });

  it("32: what a broken mark weighs is what it weighed whole, outside and inside told apart", async () => {
    const document = readDemo("32-outline-tiles");
    const [whole, broken] = [await shapeOf(document, 0, "tile"), await shapeOf(document, 0, "broken")];
    if (!whole.mesh || !broken.mesh) throw new Error("There is no mark.");
    expect(meshVolume(broken.mesh) / meshVolume(whole.mesh)).toBeCloseTo(1, 5);
    expect(new Set(broken.mesh.faces.columns.side.lanes[0])).toEqual(new Set([0, 1]));
  });

  it("07: where the leaf is gone the label is there, from the same boundary", async () => {
    const document = readDemo("07-leaf-becomes-label");
    const areas = async (frame: number) => {
      const [leaf, label] = [
        await shapeOf(document, frame, "leaves"),
        await shapeOf(document, frame, "arrives"),
      ];
      return [leaf, label].map(({ mesh }) => (mesh ? meshArea(mesh) : 0));
    };
    const [begin, end] = [await areas(0), await areas(80)];
    expect([begin[1], end[0]].map((area) => area < 1e-6)).toEqual([true, true]);
    expect(Math.min(begin[0], end[1])).toBeGreaterThan(5);
  });

  it("11: packets begin in the box and end in rows, with a whole turn on the way that leaves nothing behind", async () => {
    const document = readDemo("11-packet-fold");
    const [boxed, rows] = [await shapeOf(document, 0, "boxed", "sites"), await shapeOf(document, 0, "stood")];
    const [begin, there] = [await shapeOf(document, 0, "poses"), await shapeOf(document, 90, "poses")];
    for (const [i, place] of places(begin).entries())
      expect(apart(place, places(boxed)[i])).toBeLessThan(1e-5);
    for (const [i, place] of places(there).entries())
      expect(apart(place, places(rows)[i])).toBeLessThan(1e-5);
    const turns = (shape: Shape) =>
      (shape.sites?.columns.rotation.lanes ?? []).map((lane) => Math.abs(lane[0]));
    for (const [l, part] of turns(there).entries()) expect(part).toBeCloseTo(turns(rows)[l], 4);
  });

  it("11: seams draw in as far as the mask says, paper in the middle keeps its length, and nothing moves any more", async () => {
    const document = readDemo("11-packet-fold");
    const evaluator = new Evaluator();
    const meshOf = async (node: string, frame: number) =>
      (await shapeOf(document, frame, node, "shape", evaluator)).mesh as Mesh;
    const [before, after] = [await meshOf("shaken", 0), await meshOf("crumpled", 0)];
    const topology = topologyOf(before);
    const endsOf = (e: number) => [topology.pointOfEdge(e, 0), topology.pointOfEdge(e, 1)] as const;
    const lengthIn = (mesh: Mesh, e: number) => {
      const [a, b] = endsOf(e).map((p) => pointLanes(mesh).map((lane) => lane[p]));
      return Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
    };
    const height = pointLanes(before)[1];
    const part = (isThere: (y: number) => boolean) => {
      let [sum, sumBefore] = [0, 0];
      for (let e = 0; e < topology.edges.count; e++) {
        if (!endsOf(e).every((p) => isThere(height[p]))) continue;
        sum += lengthIn(after, e);
        sumBefore += lengthIn(before, e);
      }
      return sum / sumBefore;
    };
    const wanted = Number(document.graph.nodes.find(({ id }) => id === "less")?.set.toHigh);
    expect(part((y) => Math.abs(y - 0.06) > 0.64)).toBeCloseTo(wanted, 1);
    expect(part((y) => Math.abs(y - 0.06) < 0.3)).toBeCloseTo(1, 1);
    // Copied, as an evaluator's next result may stand where this one does.
    const heights = async (frame: number) => Float32Array.from(pointLanes(await meshOf("ready", frame))[1]);
    const [first, later] = [await heights(0), await heights(60)];
    expect(first.every((y, i) => y === later[i])).toBe(true);
  });

  it("13: strokes lie on the shape, whatever it is; those that miss it are left out, and all are mirrored", async () => {
    const piece = set(readDemo("13-scan-lines"), "seated", "lift", 0);
    const widened = set(piece, "ring", "radius", 1.4);
    for (const swapped of [piece, widened]) {
      const target = await shapeOf(swapped, 30, "target");
      const tree = new SurfaceBvh(target.mesh as Mesh);
      const seated = await shapeOf(swapped, 30, "seated");
      const strokes = await shapeOf(swapped, 30, "strokes");
      for (const [x, y, z] of places(seated)) expect(tree.distance(x, y, z)).toBeLessThan(1e-4);
      expect(places(seated).length).toBeLessThan(places(strokes).length);
      const both = await shapeOf(swapped, 30, "both");
      expect(places(both)).toHaveLength(places(seated).length * 2);
    }
    expect(places(await shapeOf(widened, 30, "seated")).length).not.toBe(
      places(await shapeOf(piece, 30, "seated")).length,
    );
  });

  it("14: every snail sits on the hill, which moves; a smaller hill is missed by those beyond it, and told", async () => {
    const piece = set(readDemo("14-snails-on-a-slope"), "seated", "lift", 0);
    for (const frame of [0, 70]) {
      const seated = await shapeOf(piece, frame, "seated");
      const hill = await shapeOf(piece, frame, "slope");
      const [x, , z] = hill.mesh?.points.columns.position.lanes ?? [];
      const heights = hill.mesh?.points.columns.position.lanes[1] ?? [];
      // The nearest point of the hill's fine squares is about as high as the snail.
      for (const [sx, sy, sz] of places(seated)) {
        let best = Number.POSITIVE_INFINITY;
        let high = 0;
        for (let p = 0; p < x.length; p++) {
          const far = Math.hypot(x[p] - sx, z[p] - sz);
          if (far < best) [best, high] = [far, heights[p]];
        }
        expect(Math.abs(sy - high)).toBeLessThan(0.3);
      }
    }
    const { report } = await run(set(piece, "hill", "width", 6), 0);
    expect(report.nodes.seated.problems[0].what).toMatch(
      /^\d+ of 81 find no surface that way and stay where they are/,
    );
  });

  it("18: a whole rotation wins over a direction, and that over the velocity; the card says how many each turned", async () => {
    const { report } = await run(readDemo("18-weather-vanes"), 0);
    expect(report.nodes.vanes.problems[0].what).toBe(
      "Of 169: turn turns 18, direction turns 24, velocity turns 127.",
    );
  });

  it("19: balls of half the spacing just touch in the jar, and none of them stands outside of it", async () => {
    const piece = readDemo("19-seed-jar");
    const all = places(await shapeOf(piece, 0, "fill", "sites"));
    let least = Number.POSITIVE_INFINITY;
    for (const [i, a] of all.entries()) for (let j = 0; j < i; j++) least = Math.min(least, apart(a, all[j]));
    expect(least).toBeCloseTo(0.24, 5);
    for (const [x, y, z] of all) expect(Math.hypot(x, z)).toBeLessThan(y > 1.3 ? 0.95 : 1.35);
    const { bounds, clones } = drawingOf(await shapeOf(piece, 0, "seeds", "clones"));
    expect(clones).toBe(all.length);
    // Half a spacing beyond the outermost middles.
    const lowest = Math.min(...all.map(([, y]) => y));
    expect(bounds?.min[1]).toBeCloseTo(lowest - 0.12, 3);
  });

  it("23: each stalk has the colour of the picture at its longitude and latitude, and only land rises", async () => {
    const piece = readDemo("23-seed-globe");
    const map = PNG.sync.read(Buffer.from(bytes.get(piece.assets["seed-map"].hash)?.bytes ?? []));
    const { sites } = await shapeOf(piece, 0, "coloured");
    const { position, scale, color } = sites?.columns ?? {};
    const [x, y, z] = position?.lanes ?? [];
    let wrong = 0;
    for (let i = 0; i < x.length; i++) {
      // Equirectangular: u from the longitude, v from the pole down.
      const u = (Math.atan2(-z[i], x[i]) / (2 * Math.PI) + 1) % 1;
      const v = Math.acos(Math.max(-1, Math.min(1, y[i] / Math.hypot(x[i], y[i], z[i])))) / Math.PI;
      const at = (Math.floor(v * map.height) * map.width + Math.floor(u * map.width)) * 4;
      // The sea is much bluer than red; what is mixed of pixels is too, but for the shores.
      const isLand = map.data[at + 2] < map.data[at] * 1.5;
      const [red, , blue] = (color?.lanes ?? []).map((lane) => lane[i]);
      if (isLand !== blue < red * 2) wrong++;
      else if (!isLand) expect(scale?.lanes[1][i]).toBeLessThan(0.1);
    }
    expect(x.length).toBeGreaterThan(1800);
    expect(wrong / x.length).toBeLessThan(0.03);
    const land = [...(scale?.lanes[1] ?? [])].filter((length) => length > 0.1).length;
    expect(land / x.length).toBeGreaterThan(0.2);
    expect(new Set(scale?.lanes[0])).toEqual(new Set([1]));
  });

  it("31: letters come up one by one, stand where kerning puts them and settle; another word grows as well", async () => {
    const piece = readDemo("31-word-in-bloom");
    const written = (document: PieceDocument, words: string) =>
      applyEdit(document, { kind: "set-input", node: "word", input: "text", value: words }).document;
    for (const words of ["Quillmoss", "AVATAR"]) {
      const document = written(piece, words);
      const sizes = async (frame: number) => [
        ...((await shapeOf(document, frame, "springs")).sites?.columns.scale.lanes[1] ?? []),
      ];
      expect(await sizes(0)).toEqual(new Array(words.length).fill(expect.closeTo(0, 3)));
      // At some frame the first is up, the last has not begun, and none in between is ahead of the one before it in the target.
      const target = [
        ...((await shapeOf(document, 6 + 6 * (words.length / 2), "sized")).sites?.columns.scale.lanes[1] ??
          []),
      ];
      for (let i = 1; i < target.length; i++) expect(target[i]).toBeLessThanOrEqual(target[i - 1] + 1e-6);
      expect(target[0]).toBeGreaterThan(0.9);
      expect(target.at(-1)).toBeCloseTo(0, 3);
      // Springs shoot over on the way, and stand in the end, where the text has put them.
      const firsts = [];
      for (let frame = 12; frame < 40; frame += 2) firsts.push((await sizes(frame))[0]);
      expect(Math.max(...firsts)).toBeGreaterThan(1.05);
      for (const size of await sizes(124)) expect(size).toBeCloseTo(1, 1);
      const set = places(await shapeOf(document, 0, "word"));
      places(await shapeOf(document, 124, "springs")).forEach((place, i) => {
        for (let a = 0; a < 3; a++) expect(place[a]).toBeCloseTo(set[i][a], 2);
      });
    }
    // Kerning draws A and V together: nearer than half of each beside half of the other.
    const gap = async (words: string) => {
      const [first, second] = places(await shapeOf(written(piece, words), 0, "word"));
      return second[0] - first[0];
    };
    expect(await gap("AV")).toBeLessThan(((await gap("AA")) + (await gap("VV"))) / 2);
  });
});

describe("pieces of volumes, smoke and water (common practice, no source)", () => {
  it("03: the deeper a seed lies in the pod the larger it is, and grains pushed with much drag stay in the smoke", async () => {
    const piece = readDemo("03-pollen-plume");
    const evaluator = new Evaluator();
    const { sites } = await shapeOf(piece, 0, "sized", "shape", evaluator);
    const [depth, scale] = [sites?.columns.depth.lanes[0] ?? [], sites?.columns.scale.lanes[0] ?? []];
    const order = [...depth.keys()].sort((a, b) => depth[a] - depth[b]);
    for (const [k, i] of order.slice(1).entries())
      expect(scale[i]).toBeGreaterThanOrEqual(scale[order[k]] - 1e-5);
    expect(Math.min(...depth)).toBeGreaterThan(-0.01);
    const smoke = (await shapeOf(piece, 4, "air", "shape", evaluator)).volume;
    const grains = (await shapeOf(piece, 4, "grains", "sites", evaluator)).sites;
    if (!smoke || !grains) throw new Error("There is no smoke, or no grain.");
    const density = new VolumeReader(smoke, "density");
    const [x, y, z] = grains.columns.position.lanes;
    const inside = [...x.keys()].filter((i) => density.at(x[i], y[i], z[i]) > 0.01).length;
    expect(inside / grains.count).toBeGreaterThan(0.6);
  });

  it("36: what is melted is more than the larger part of it, at any frame", async () => {
    const piece = readDemo("36-honey-and-wax");
    const evaluator = new Evaluator();
    for (const frame of [0, 37, 75, 112]) {
      const parts: number[] = [];
      for (const node of ["poolsVolume", "dropsVolume", "heartVolume"]) {
        const { volume } = await shapeOf(piece, frame, node, "shape", evaluator);
        parts.push(meshVolume(surfaceOf(volume as Volume, { level: 0 }) as Mesh));
      }
      const melted = meshVolume((await shapeOf(piece, frame, "honeyMesh", "shape", evaluator)).mesh as Mesh);
      expect(melted).toBeGreaterThan(Math.max(...parts));
    }
  });

  it("37: seeds are on the water wherever it has gone, and rings go out", async () => {
    const piece = readDemo("37-pond");
    const evaluator = new Evaluator();
    const heights: number[][] = [];
    for (const frame of [0, 9]) {
      const { mesh } = await shapeOf(piece, frame, "pond", "shape", evaluator);
      const { sites } = await shapeOf(piece, frame, "seated", "shape", evaluator);
      const [x, y, z] = sites?.columns.position.lanes ?? [];
      const [px, py, pz] = (mesh as Mesh).points.columns.position.lanes;
      for (let i = 0; i < x.length; i++) {
        // The nearest point of the grid, less than a cell away.
        let [best, at] = [Number.POSITIVE_INFINITY, 0];
        for (let p = 0; p < px.length; p++) {
          const far = (px[p] - x[i]) ** 2 + (pz[p] - z[i]) ** 2;
          if (far < best) [best, at] = [far, p];
        }
        expect(Math.abs(y[i] - py[at])).toBeLessThan(0.05);
      }
      heights.push([...y]);
    }
    expect(heights[0].some((h, i) => Math.abs(h - heights[1][i]) > 0.01)).toBe(true);
  });

  it("15: the line lies on its stone, and the surface gets more of itself where it begins", async () => {
    const piece = readDemo("15-lichen-bloom");
    const evaluator = new Evaluator();
    const stone = (await shapeOf(piece, 12, "stone", "shape", evaluator)).mesh as Mesh;
    const line = (await shapeOf(piece, 12, "grow", "shape", evaluator)).curves;
    const bvh = new SurfaceBvh(stone);
    const [x, y, z] = line?.points.columns.position.lanes ?? [[], [], []];
    expect(x.length).toBeGreaterThan(100);
    for (let i = 0; i < x.length; i += 7) expect(bvh.distance(x[i], y[i], z[i])).toBeLessThan(1e-3);
    // The stone's own triangles are made even first; then there is more and more of what has vigour.
    const pointsOf = async (frame: number) =>
      ((await shapeOf(piece, frame, "bloom", "shape", evaluator)).mesh as Mesh).points;
    const [early, late] = [await pointsOf(20), await pointsOf(60)];
    expect(late.count).toBeGreaterThan(early.count * 1.01);
    expect(Math.max(...late.columns.moved.lanes[0])).toBeGreaterThan(0.15);
  });

  it("38: branches grow to where the lamp's beam is, and are thickest at their roots", async () => {
    const piece = readDemo("38-seedlings-to-the-light");
    const evaluator = new Evaluator();
    const [early, late] = [
      await shapeOf(piece, 5, "grow", "shape", evaluator),
      await shapeOf(piece, 60, "grow", "shape", evaluator),
    ];
    expect(late.curves?.points.count).toBeGreaterThan((early.curves?.points.count ?? 0) * 5);
    const radius = [...(late.curves?.points.columns.radius.lanes[0] ?? [])];
    const thickest = radius.indexOf(Math.max(...radius));
    expect(late.curves?.points.columns.position.lanes[1][thickest]).toBeLessThan(0.5);
  });

  it("39: the cloth never passes through the glass", async () => {
    const piece = readDemo("39-bell-jar-curtain");
    const evaluator = new Evaluator();
    for (const frame of [0, 30, 60, 90]) {
      const cloth = (await shapeOf(piece, frame, "cloth", "shape", evaluator)).mesh as Mesh;
      const jar = (await shapeOf(piece, frame, "jar", "shape", evaluator)).mesh as Mesh;
      const inside = new Inside(jar);
      const [x, y, z] = cloth.points.columns.position.lanes;
      const within = [...x.keys()].filter((i) => inside.contains(x[i], y[i], z[i]));
      expect(within).toEqual([]);
    }
  });

  it("40: spots grow to cover part of a bean, as colour and as dents", async () => {
    const piece = readDemo("40-spotted-beans");
    const evaluator = new Evaluator();
    const share = async (frame: number): Promise<number> => {
      const lane = (await shapeOf(piece, frame, "spotted", "shape", evaluator)).mesh?.points.columns.pattern
        .lanes[0];
      return [...(lane ?? [])].filter((v) => v > 0.5).length / (lane?.length ?? 1);
    };
    const [early, late] = [await share(0), await share(25)];
    expect(late).toBeGreaterThan(early);
    expect(late).toBeLessThan(0.7);
    const bare = (await shapeOf(piece, 25, "bean", "shape", evaluator)).mesh as Mesh;
    const dented = (await shapeOf(piece, 25, "spottedDent", "shape", evaluator)).mesh as Mesh;
    expect(meshVolume(dented)).toBeLessThan(meshVolume(bare));
  });

  it("41: all beans are in the jar at the end", async () => {
    const piece = readDemo("41-beans-poured");
    const { sites } = await shapeOf(piece, piece.settings.last, "fall");
    const radius = Number(piece.graph.nodes.find(({ id }) => id === "round")?.set.radius);
    const [x, y, z] = sites?.columns.position.lanes ?? [[], [], []];
    expect(x).toHaveLength(240);
    for (let i = 0; i < x.length; i++) {
      expect(Math.hypot(x[i], z[i])).toBeLessThan(radius);
      expect(y[i]).toBeGreaterThan(0);
      expect(y[i]).toBeLessThan(1.5);
    }
  });

  it("42: cubes fill the pear, whole or as a shell, touch at any size, come by height, and are opened by the ball", async () => {
    const piece = readDemo("42-voxel-pear");
    const spacing = Number(piece.graph.nodes.find(({ id }) => id === "spots")?.set.spacing);
    const pear = (await shapeOf(piece, 0, "pear")).volume as Volume;
    const reader = new VolumeReader(pear, "distance");
    for (const size of [spacing, 2 * spacing]) {
      const { sites } = await shapeOf(set(piece, "spots", "spacing", size), 0, "fitted");
      const lanesOf = (name: string) => sites?.columns[name]?.lanes ?? [];
      const places = lanesOf("position");
      for (const lane of lanesOf("scale"))
        for (const v of lane) expect(Math.abs(v / size - 1)).toBeLessThan(1e-3);
      const inside = sites?.count ?? 0;
      expect(inside).toBeGreaterThan(50);
      for (let i = 0; i < inside; i += 7)
        expect(reader.at(...(places.map((lane) => lane[i]) as [number, number, number]))).toBeLessThan(size);
    }
    const count = async (keep: string) =>
      (
        await shapeOf(
          applyEdit(piece, { kind: "set-input", node: "spots", input: "keep", value: keep }).document,
          0,
          "spots",
          "sites",
        )
      ).sites?.count ?? 0;
    expect(await count("the surface only")).toBeLessThan(0.8 * (await count("all of it")));

    const half = await shapeOf(piece, 26, "built");
    const [, y] = half.sites?.columns.position.lanes ?? [];
    const size = half.sites?.columns.scale.lanes[0] ?? [];
    const mean = (low: number, high: number) => {
      const these = [...size].filter((_, i) => y[i] >= low && y[i] < high);
      return these.reduce((sum, v) => sum + v, 0) / these.length;
    };
    expect(mean(0, 0.5)).toBeGreaterThan(0.9 * spacing);
    expect(mean(1.8, 3)).toBeLessThan(0.1 * spacing);

    const open = (await shapeOf(piece, 105, "smaller")).sites?.columns.scale.lanes[0] ?? [];
    const shut = (await shapeOf(piece, 149, "smaller")).sites?.columns.scale.lanes[0] ?? [];
    const small = (lane: ArrayLike<number>) => Array.from(lane).filter((v) => v < spacing / 2).length;
    expect(small(open)).toBeGreaterThan(30);
    expect(small(shut)).toBe(0);
  });
});
