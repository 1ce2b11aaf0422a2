/** Parts of files, mending, trimming, even scattering, limits of time and memory. */
import fc from "fast-check";
import { cancellable, tick } from "../../src/core/cancelling";
import { DEFAULT_BUDGET } from "../../src/core/evaluate/budget";
import type { AssetLookup } from "../../src/core/evaluate/options";
import { readAsset } from "../../src/core/formats/read/read-asset";
import { flipped, mergeNearPoints, withoutNormals } from "../../src/core/geometry/cleanup";
import { eulerCharacteristic, isClosed, meshVolume } from "../../src/core/geometry/measure";
import { MeshBuilder } from "../../src/core/geometry/mesh";
import { boxMesh } from "../../src/core/geometry/primitives";
import type { Shape } from "../../src/core/geometry/shape";
import { EVEN_STEPS } from "../../src/core/nodes/layout/scattering/scatter-places";
import { HashGrid } from "../../src/core/spatial/hash-grid";
import { evaluate, graphOf, outputsOf, reportOf } from "../run-node";

/** Two tetrahedra as groups "left" and "right", and a line. */
const OBJ = `
v 0 0 0\nv 1 0 0\nv 0 1 0\nv 0 0 1
v 5 0 0\nv 7 0 0\nv 5 2 0\nv 5 0 2
g left
f 1 3 2\nf 1 2 4\nf 1 4 3\nf 2 3 4
g right
f 5 7 6\nf 5 6 8\nf 5 8 7\nf 6 7 8
l 1 5 6
`;
const assets = async (text: string): Promise<AssetLookup> => {
  const content = await readAsset("a.obj", new TextEncoder().encode(text));
  return () => ({ ok: true, content, version: "1" });
};

describe("parts of a file", () => {
  it("keeps groups apart and joins them as a whole", async () => {
    const content = await readAsset("a.obj", new TextEncoder().encode(OBJ));
    if (content.kind !== "shape") throw new Error("no shape");
    expect(content.parts.map((part) => part.name)).toEqual(["left", "right"]);
    expect(content.shape.mesh?.faces.count).toBe(8);
    expect(content.shape.curves?.points.count).toBe(3);
    // A corner tetrahedron of edge e has the volume e³/6.
    expect(content.parts.map(({ shape }) => shape.mesh && meshVolume(shape.mesh))).toEqual([1 / 6, 8 / 6]);
  });

  it("lets sites pick from the set of parts, each about its own middle", async () => {
    const document = graphOf(
      {
        file: { type: "import", set: { file: "a" } },
        ring: { type: "ring-sites", set: { count: 4 } },
        clones: { type: "clone-onto-sites" },
      },
      ["ring.sites>clones.sites", "file.parts>clones.shapes"],
    );
    const { outputs, report } = evaluate(document, 0, { target: "clones", assets: await assets(OBJ) });
    const { sites, sources } = (outputs as { clones: Shape }).clones;
    expect([...(sites?.columns.source.lanes[0] ?? [])]).toEqual([0, 1, 0, 1]);
    const [x] = sources?.[1].mesh?.points.columns.position.lanes ?? [];
    expect([Math.min(...x), Math.max(...x)]).toEqual([-1, 1]);
    expect(report.nodes.file.problems[0]).toMatchObject({ level: "note" });
    expect(report.nodes.file.problems[0].what).toContain("7 × 2 × 2 units. 2 parts: left, right.");
  });

  it("takes the file's units", async () => {
    const document = graphOf({ file: { type: "import", set: { file: "a", units: "centimetres" } } });
    const { report } = evaluate(document, 0, { target: "file", assets: await assets(OBJ) });
    expect(report.nodes.file.problems[0].what).toContain("0.07 × 0.02 × 0.02 units");
  });
});

describe("mending", () => {
  /** A cube whose six faces share no points, as some exporters write it, each off by up to a hair. */
  function loose(off: number) {
    const box = boxMesh([1, 1, 1], 0);
    const [x, y, z] = box.points.columns.position.lanes;
    const mesh = new MeshBuilder();
    for (let f = 0; f < 6; f++) {
      const ids = [0, 1, 2, 3].map((k) => {
        const p = box.cornerPoint[box.faceStarts[f] + k];
        return mesh.point(x[p] + off * f, y[p], z[p] - off * k);
      });
      mesh.face(...ids);
    }
    return mesh.build();
  }

  it("merges corners that lie together into a closed cube", () => {
    expect(isClosed(loose(0))).toBe(false);
    const mended = mergeNearPoints(loose(0.0005), 0.01);
    expect(mended.points.count).toBe(8);
    expect(isClosed(mended)).toBe(true);
    expect(eulerCharacteristic(mended)).toBe(2);
    expect(meshVolume(mended)).toBeCloseTo(1, 2);
  });

  it("drops faces that shrink to nothing", () => {
    const mended = mergeNearPoints(boxMesh([1, 1, 0.001], 0), 0.01);
    expect(mended.points.count).toBe(4);
    expect(mended.faces.count).toBe(2);
  });

  it("turns faces round: the volume changes its sign", () => {
    expect(meshVolume(flipped(boxMesh([1, 2, 3], 1)))).toBeCloseTo(-6, 6);
  });

  it("forgets normals so that they are worked out anew", async () => {
    const text = `${OBJ.split("l 1")[0].replace(/f (\d) (\d) (\d)/g, "f $1//1 $2//1 $3//1")}`.replace(
      "g left",
      "vn 0 0 1\ng left",
    );
    const content = await readAsset("a.obj", new TextEncoder().encode(text));
    const mesh = content.kind === "shape" ? content.shape.mesh : undefined;
    expect(mesh?.corners.columns.normal).toBeDefined();
    expect(mesh && withoutNormals(mesh).corners.columns.normal).toBeUndefined();
  });
});

describe("neighbours", () => {
  const cloud = fc.array(fc.tuple(...[0, 1, 2].map(() => fc.double({ min: -5, max: 5, noNaN: true }))), {
    minLength: 1,
    maxLength: 120,
  });

  it("finds exactly the points that trying every one finds [SAM-15]", () => {
    fc.assert(
      fc.property(
        cloud,
        fc.double({ min: 0.05, max: 3, noNaN: true }),
        fc.double({ min: 0.1, max: 2, noNaN: true }),
        (points, radius, cell) => {
          const lanes = [0, 1, 2].map((a) => points.map((p) => p[a]));
          const grid = new HashGrid(lanes, cell);
          const [px, py, pz] = points[0];
          const found: number[] = [];
          grid.within(px, py, pz, radius, (i) => void found.push(i));
          const expected = points.flatMap((p, i) =>
            (p[0] - px) ** 2 + (p[1] - py) ** 2 + (p[2] - pz) ** 2 < radius * radius ? [i] : [],
          );
          expect(found.sort((a, b) => a - b)).toEqual(expected);
        },
      ),
    );
  });

  const trimmed = (radius: number) => {
    const document = graphOf(
      {
        plane: { type: "plane", set: { width: 4, depth: 4 } },
        sites: { type: "scatter-sites", set: { count: 600 } },
        trim: { type: "trim-overlaps", set: { radius } },
      },
      ["plane.shape>sites.shape", "sites.sites>trim.shape"],
    );
    const { sites } = outputsOf(document, "trim").shape as Shape;
    const lanes = sites?.columns.position.lanes ?? [];
    return Array.from({ length: sites?.count ?? 0 }, (_, i) => lanes.map((lane) => lane[i]));
  };
  const distance = (a: number[], b: number[]) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);

  it("leaves no two closer than both radii, and none out that had room", () => {
    const kept = trimmed(0.15);
    const all = trimmed(0);
    expect(all).toHaveLength(600);
    for (let i = 0; i < kept.length; i++)
      for (let j = 0; j < i; j++) expect(distance(kept[i], kept[j])).toBeGreaterThanOrEqual(0.3 - 1e-6);
    for (const site of all) expect(Math.min(...kept.map((k) => distance(k, site)))).toBeLessThan(0.3);
  });

  it("steps by the published constants of the even sequence [SAM-12]", () => {
    // frac(½ + φ₃^−k) for k = 1, 2, 3; the sequence here begins at 0 instead of ½.
    expect(EVEN_STEPS.map((step) => (step + 0.5) % 1)).toEqual([
      expect.closeTo(0.3191725134, 9),
      expect.closeTo(0.1710436067, 9),
      expect.closeTo(0.0497004779, 9),
    ]);
  });

  it("spreads evenly: squares hold nearly the same number, and far more nearly than by chance", () => {
    const spread = (how: string) => {
      const document = graphOf(
        {
          plane: { type: "plane", set: { width: 1, depth: 1 } },
          sites: { type: "scatter-sites", set: { count: 6400, spread: how } },
        },
        ["plane.shape>sites.shape"],
      );
      const [x, , z] = (outputsOf(document, "sites").sites as Shape).sites?.columns.position.lanes ?? [];
      const counts = new Array<number>(64).fill(0);
      for (let i = 0; i < x.length; i++)
        counts[Math.floor((x[i] + 0.5) * 8) * 8 + Math.floor((z[i] + 0.5) * 8)]++;
      return counts.reduce((sum, count) => sum + (count - 100) ** 2 / 100, 0);
    };
    // χ² of 64 cells: about 63 by chance (between 38 and 95 in 99 of 100 cases, tables of the distribution).
    expect(spread("by chance")).toBeGreaterThan(38);
    expect(spread("evenly")).toBeLessThan(12);
  });
});

describe("limits", () => {
  const heavy = graphOf(
    { ball: { type: "sphere", set: { build: "geodesic", detail: 7 } }, stage: { type: "stage" } },
    ["ball.shape>stage.shape"],
  );

  it("stops by itself after the time limit, even inside a mesh that is being built", () => {
    let clock = 0;
    const { report, shape } = evaluate(heavy, 0, { timeLimit: 5, now: () => clock++ });
    expect(report).toMatchObject({ stopped: true, complete: false });
    expect(report.nodes.ball.problems[0].what).toContain("was stopped after");
    expect(shape).toBeUndefined();
  });

  it("refuses what one node or the whole piece would hold, naming the value that fits", () => {
    const budget = { ...DEFAULT_BUDGET, bytes: 1_000_000 };
    const big = graphOf({ grid: { type: "grid-sites", set: { across: 1000, deep: 1000 } } });
    const [problem] = reportOf(big, "grid", { budget }).problems;
    expect(problem.what).toContain("bytes");
    expect(problem.repair).toBeDefined();
    const twice = graphOf(
      {
        grid: { type: "grid-sites", set: { across: 100, deep: 100 } },
        a: { type: "move", set: { by: [1, 1, 1] } },
        b: { type: "scale", set: { size: 2 } },
        c: { type: "rotate", set: { turn: [0, 30, 0] } },
        d: { type: "tint" },
      },
      ["grid.sites>a.shape", "a.shape>b.shape", "b.shape>c.shape", "c.shape>d.shape"],
    );
    const little = { ...budget, bytes: 800_000 };
    expect(reportOf(twice, "d", { budget: little }).problems[0].what).toContain("would hold more than");
    expect(reportOf(twice, "d", { budget: { ...budget, bytes: 2_000_000 } }).state).toBe("ran");
  });

  it("refuses what would take too long by its own account", () => {
    const document = graphOf(
      { plane: { type: "plane" }, s: { type: "scatter-sites", set: { count: 3_000_000 } } },
      ["plane.shape>s.shape"],
    );
    const problem = reportOf(document, "s", { budget: { ...DEFAULT_BUDGET, milliseconds: 3000 } })
      .problems[0];
    expect(problem).toMatchObject({ repair: { input: "count", value: 1_000_000 } });
  });

  it("looks only while an evaluation is under way, and the inner one's look wins", () => {
    const seen: string[] = [];
    tick(Number.POSITIVE_INFINITY);
    cancellable(
      () => seen.push("outer"),
      () => {
        tick(Number.POSITIVE_INFINITY);
        cancellable(
          () => seen.push("inner"),
          () => tick(Number.POSITIVE_INFINITY),
        );
        tick(Number.POSITIVE_INFINITY);
      },
    );
    tick(Number.POSITIVE_INFINITY);
    expect(seen).toEqual(["outer", "inner", "outer"]);
  });
});
