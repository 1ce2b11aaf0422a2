/** Nodes that make, change and read volumes, as a designer links them. */

import { decode } from "fast-png";
import { strFromU8, unzipSync } from "fflate";
import { NRRDLoader } from "three/examples/jsm/loaders/NRRDLoader.js";
import { drawingOf } from "../../src/core/draw/drawing";
import { FormatError } from "../../src/core/formats/format-error";
import { writeNrrd } from "../../src/core/formats/write/nrrd";
import { writeSlices } from "../../src/core/formats/write/slices";
import { isClosed, meshArea, meshVolume } from "../../src/core/geometry/measure";
import { faceAreaVectors, type Mesh, pointLanes } from "../../src/core/geometry/mesh";
import type { Shape } from "../../src/core/geometry/shape";
import type { Volume } from "../../src/core/geometry/volume";
import { VolumeReader } from "../../src/core/geometry/volume";
import { SIMPLIFYING } from "../../src/core/meshes/decimate";
import type { Setting } from "../../src/core/nodes/ports";
import { surfaceOf } from "../../src/core/volumes/surface-nets";
import { formed, meshIn } from "../formed";
import { evaluate, graphOf, type NodeSpec, outputsOf, reportOf } from "../run-node";

beforeAll(() => SIMPLIFYING.load());

type Set = Record<string, Setting>;
const fromShape = (set: Set = {}): NodeSpec => ({ type: "volume-from-shape", set: { voxel: 0.08, ...set } });
const BALL: NodeSpec = { type: "sphere", set: { radius: 1, around: 48, rings: 24 } };
const ballVolume = (4 / 3) * Math.PI;

/** A ball as a volume, through another node. */
const ofBall = (type: string, set: Set = {}, from: Set = {}, extra = {}, links: string[] = []): Shape =>
  formed({ ball: BALL, volume: fromShape(from), it: { type, set }, ...extra }, [
    "ball.shape>volume.shape",
    "volume.shape>it.shape",
    ...links,
  ]);

const volumeIn = ({ volume }: Shape): Volume => {
  if (!volume) throw new Error("There is no volume.");
  return volume;
};

const surface = (shape: Shape): Mesh => surfaceOf(volumeIn(shape), { level: 0 }) as Mesh;

const problemsOf = (nodes: Record<string, NodeSpec>, links: string[]) =>
  reportOf(graphOf(nodes, links), "it").problems.map(({ what }) => what);

describe("a volume from a shape", () => {
  it("comes back as a mesh of about the same volume", () => {
    expect(meshVolume(meshIn(ofBall("shape-from-volume"))) / ballVolume).toBeCloseTo(1, 1.5);
  });

  it("takes sites and curves as balls of a radius by field", () => {
    const shape = formed(
      {
        row: { type: "row-sites", set: { count: 3, from: [0, 0, 0], to: [4, 0, 0] } },
        place: { type: "position" },
        size: { type: "remap", set: { fromLow: 0, fromHigh: 4, toLow: 0.3, toHigh: 0.9 } },
        volume: fromShape(),
        it: { type: "shape-from-volume" },
      },
      ["row.sites>volume.shape", "place.x>size.value", "size.value>volume.radius", "volume.shape>it.shape"],
    );
    const wanted = [0.3, 0.6, 0.9].reduce((sum, r) => sum + ballVolume * r ** 3, 0);
    expect(meshVolume(meshIn(shape)) / wanted).toBeCloseTo(1, 1.3);
  });

  it("is as fine as is asked for along its longest side", () => {
    const shape = formed(
      {
        box: { type: "box", set: { size: [4, 1, 1] } },
        it: fromShape({ by: "a number along its longest side", along: 40 }),
      },
      ["box.shape>it.shape"],
    );
    expect(volumeIn(shape).voxel).toBeCloseTo(0.1, 6);
  });

  it("carries colours into the mesh", () => {
    const shape = formed(
      {
        ball: BALL,
        red: { type: "tint", set: { color: "#ff0000" } },
        volume: fromShape(),
        it: { type: "shape-from-volume" },
      },
      ["ball.shape>red.shape", "red.shape>volume.shape", "volume.shape>it.shape"],
    );
    const color = meshIn(shape).points.columns.color.lanes.map((lane) => lane[7]);
    expect(color).toEqual([1, 0, 0, 1].map((v) => expect.closeTo(v, 4)));
  });

  it("is refused with the voxel that fits, before it is made", () => {
    const { report } = evaluate(
      graphOf({ ball: BALL, it: fromShape({ voxel: 1e-6 }), stage: { type: "stage" } }, [
        "ball.shape>it.shape",
        "it.shape>stage.shape",
      ]),
    );
    const [problem] = report.nodes.it.problems;
    expect(problem.level).toBe("error");
    expect(problem.repair?.input).toBe("voxel");
    expect(problem.repair?.value as number).toBeGreaterThan(1e-3);
  });

  it.each([
    ["nothing arrives", { none: { type: "merge" } }, ["none.shape>it.shape"], "Nothing arrives", {}],
    ["voxels have no size", { box: { type: "box" } }, ["box.shape>it.shape"], "no size", { voxel: 0 }],
    ["it is open", { sheet: { type: "plane" } }, ["sheet.shape>it.shape"], "open", {}],
    [
      "balls have no radius",
      { row: { type: "row-sites" } },
      ["row.sites>it.shape"],
      "radii are 0",
      { radius: 0 },
    ],
  ] as [string, Record<string, NodeSpec>, string[], string, Set][])(
    "says so when %s",
    (_, nodes, links, words, set) => {
      expect(problemsOf({ ...nodes, it: fromShape(set) }, links).join()).toContain(words);
    },
  );
});

describe("changing volumes", () => {
  it("melts: more than both where they touch, and less than both together", () => {
    const two = (type: string, set: Set): Shape =>
      formed(
        {
          ball: BALL,
          there: { type: "transform", set: { move: [1.5, 0, 0] } },
          a: fromShape(),
          b: fromShape(),
          melt: { type, set },
          it: { type: "shape-from-volume" },
        },
        [
          "ball.shape>a.shape",
          "ball.shape>there.shape",
          "there.shape>b.shape",
          "a.shape>melt.shapes",
          "b.shape>melt.shapes",
          "melt.shape>it.shape",
        ],
      );
    const [hard, soft, merged] = [
      two("melt-together", { soft: 0 }),
      two("melt-together", { soft: 0.5 }),
      two("merge", {}),
    ].map((shape) => meshVolume(meshIn(shape)));
    // Two balls less their lens: caps of height 1 − 0.75 (V = π h² (3 r − h) ÷ 3).
    const lens = 2 * ((Math.PI * 0.25 ** 2 * (3 - 0.25)) / 3);
    expect(hard / (2 * ballVolume - lens)).toBeCloseTo(1, 1.5);
    expect(merged).toBeCloseTo(hard, 5);
    expect(soft).toBeGreaterThan(hard * 1.01);
    expect(soft).toBeLessThan(2 * ballVolume);
  });

  it("grows by a field: more where the field is", () => {
    const shape = ofBall("reshape-volume", { do: "grow" }, {}, { place: { type: "position" } }, [
      "place.x>it.amount",
    ]);
    const mesh = surface(shape);
    const [x] = mesh.points.columns.position.lanes;
    const [least, most] = [Math.min(...x), Math.max(...x)];
    // Where x ÷ distances meet: r − 1 = x on the way out, at 1 ÷ (1 − 1) far away cut off by how far distances are told.
    expect(most).toBeGreaterThan(1.4);
    expect(least).toBeCloseTo(-0.5, 1);
  });

  it.each([
    ["reshape-volume", {}],
    ["shape-from-volume", {}],
  ])("%s passes on what is no volume, and says so", (type, set) => {
    expect(problemsOf({ ball: BALL, it: { type, set } }, ["ball.shape>it.shape"]).join()).toContain(
      "Volume from shape",
    );
  });

  it("is moved, turned and scaled as a whole", () => {
    const shape = ofBall("transform", { move: [3, 0, 0], turn: [0, 30, 0], scale: [2, 1, 1] });
    const mesh = surface(shape);
    expect(meshVolume(mesh) / (2 * ballVolume)).toBeCloseTo(1, 1.3);
    const [x] = mesh.points.columns.position.lanes;
    expect((Math.min(...x) + Math.max(...x)) / 2).toBeCloseTo(3, 1);
  });
});

describe("densities and moving", () => {
  it("thins a density, and says how where there is none", () => {
    const [full, half] = [1, 0.5].map((share) =>
      formed(
        {
          ball: BALL,
          volume: fromShape({ band: 0.3 }),
          density: { type: "reshape-volume", set: { do: "as density", depth: 0.2 } },
          it: { type: "reshape-volume", set: { do: "thin", share } },
        },
        ["ball.shape>volume.shape", "volume.shape>density.shape", "density.shape>it.shape"],
      ),
    );
    const [before, after] = [full, half].map((shape) => volumeIn(shape).voxels.columns.density.lanes[0]);
    expect(Math.max(...before)).toBe(1);
    expect(after).toEqual(before.map((v) => v * 0.5));
    const { problems } = reportOf(
      graphOf({ ball: BALL, volume: fromShape(), it: { type: "reshape-volume", set: { do: "thin" } } }, [
        "ball.shape>volume.shape",
        "volume.shape>it.shape",
      ]),
      "it",
    );
    expect(problems[0].repair?.value).toBe("as density");
  });

  it("is moved by a field that is linked", () => {
    const shape = ofBall("reshape-volume", { do: "move", by: [0.7, 0, 0] });
    const [x] = surface(shape).points.columns.position.lanes;
    expect([Math.min(...x), Math.max(...x)]).toEqual([expect.closeTo(-0.3, 1), expect.closeTo(1.7, 1)]);
  });

  it("blends two, and says so when one is missing", () => {
    const nodes = { ball: BALL, a: fromShape(), it: { type: "melt-together", set: { how: "a blend" } } };
    expect(problemsOf(nodes, ["ball.shape>a.shape", "a.shape>it.shapes"]).join()).toContain("1 arrive");
  });
});

describe("fewer faces where it is flat", () => {
  const boxed = (set: Set) =>
    meshIn(
      formed(
        {
          box: { type: "box", set: { size: [2, 2, 2] } },
          volume: fromShape(),
          it: { type: "shape-from-volume", set: { isSharp: true, ...set } },
        },
        ["box.shape>volume.shape", "volume.shape>it.shape"],
      ),
    );

  it("leaves a box hardly more than its twelve triangles, closed, and a ball many", () => {
    const [even, few] = [boxed({}), boxed({ off: 0.01 })];
    expect(even.faces.count).toBeGreaterThan(3000);
    expect(few.faces.count).toBeLessThan(60);
    expect(isClosed(few)).toBe(true);
    expect(meshVolume(few)).toBeCloseTo(8, 1);
    const ball = meshIn(ofBall("shape-from-volume", { off: 0.01 }));
    expect(ball.faces.count).toBeGreaterThan(100);
    // As far off as was said, and as far again as nets are from the ball at this voxel size.
    const [x, y, z] = pointLanes(ball);
    for (let i = 0; i < x.length; i++) expect(Math.abs(Math.hypot(x[i], y[i], z[i]) - 1)).toBeLessThan(0.02);
  });
});

describe("a slice on the stage", () => {
  it.each(["x", "y", "z"])(
    "across %s says how far the ball's surface is, and is coloured by that",
    (axis) => {
      const sheet = meshIn(ofBall("volume-slice", { axis, along: 0.5 }, { band: 0.6 }));
      const lanes = pointLanes(sheet);
      const [value] = sheet.points.columns.value.lanes;
      const color = sheet.points.columns.color.lanes;
      let compared = 0;
      for (let p = 0; p < value.length; p++) {
        const far = Math.hypot(...lanes.map((lane) => lane[p])) - 1;
        if (Math.abs(far) > 0.5) continue;
        compared++;
        expect(Math.abs(value[p] - far)).toBeLessThan(0.02);
      }
      expect(compared).toBeGreaterThan(200);
      const [deepest, outermost] = [Math.min(...value), Math.max(...value)].map((v) => value.indexOf(v));
      expect(color[0][deepest]).toBeGreaterThan(color[0][outermost]);
      const across = lanes["xyz".indexOf(axis)];
      expect(Math.max(...across) - Math.min(...across)).toBe(0);
    },
  );

  it("names the attributes there are where one is not, and faces along its axis", () => {
    const nodes = { ball: BALL, a: fromShape(), it: { type: "volume-slice", set: { attribute: "heat" } } };
    expect(problemsOf(nodes, ["ball.shape>a.shape", "a.shape>it.shape"]).join()).toContain(
      "they have distance",
    );
    for (const [axis, a] of [
      ["x", 0],
      ["y", 1],
      ["z", 2],
    ] as const) {
      const facings = faceAreaVectors(meshIn(ofBall("volume-slice", { axis })));
      expect(facings[a][0]).toBeGreaterThan(0);
    }
  });
});

describe("slices", () => {
  const box = formed({ box: { type: "box", set: { size: [1, 1, 1] } }, it: fromShape() }, [
    "box.shape>it.shape",
  ]);

  it("leave as 16-bit pictures with their range, dark inside of distances", () => {
    const files = unzipSync(writeSlices(box, "png"));
    const { tiles, voxel, first } = volumeIn(box);
    const names = Object.keys(files).filter((name) => name.endsWith(".png"));
    expect(names).toHaveLength(tiles[2] * 8);
    const middle = Math.round(-first[2] * 8);
    const picture = decode(files[`slice-${String(middle).padStart(4, "0")}.png`]);
    expect([picture.width, picture.height, picture.depth]).toEqual([tiles[0] * 8, tiles[1] * 8, 16]);
    const told = Object.fromEntries(
      strFromU8(files["slices.txt"])
        .split("\n")
        .map((line) => line.split(": ")),
    );
    const [black, white] = [Number(told.black), Number(told.white)];
    const row = picture.height - 1 - -first[1] * 8;
    const grey = picture.data[row * picture.width + -first[0] * 8 + Math.round(0.4 / voxel)];
    // 0.1 below the nearest side.
    expect(black + (grey / 65_535) * (white - black)).toBeCloseTo(-0.1, 1.7);
  });

  it("leave as OpenEXR of the values", () => {
    const files = unzipSync(writeSlices(box, "exr"));
    const bytes = files["slice-0008.exr"];
    expect([...bytes.slice(0, 4)]).toEqual([0x76, 0x2f, 0x31, 0x01]);
    expect(() => writeSlices({}, "exr")).toThrow(FormatError);
  });
});

describe("a volume from a field", () => {
  it("is where the field is below 0, in the box", () => {
    const shape = formed(
      {
        place: { type: "position" },
        size: { type: "vector-arithmetic", set: { do: "length" } },
        less: { type: "arithmetic", set: { do: "subtract", b: 0.8 } },
        volume: { type: "volume-from-field", set: { voxel: 0.08 } },
        it: { type: "shape-from-volume" },
      },
      ["place.vector>size.a", "size.number>less.a", "less.value>volume.value", "volume.shape>it.shape"],
    );
    expect(meshVolume(meshIn(shape)) / (ballVolume * 0.8 ** 3)).toBeCloseTo(1, 1.5);
  });
});

describe("reading and filling", () => {
  it("says at each element how deep it lies, and which way is out", () => {
    const outputs = outputsOf(
      graphOf(
        {
          ball: BALL,
          volume: fromShape({ band: 0.5 }),
          row: { type: "row-sites", set: { count: 3, from: [0.8, 0, 0], to: [1.2, 0, 0] } },
          ask: { type: "volume-sample" },
          depth: { type: "store-attribute", set: { name: "far" } },
          it: { type: "store-attribute", set: { name: "in" } },
        },
        [
          "ball.shape>volume.shape",
          "volume.shape>ask.shape",
          "row.sites>depth.shape",
          "ask.value>depth.number",
          "depth.shape>it.shape",
          "ask.inside>it.number",
        ],
      ),
      "it",
    );
    const { sites } = outputs.shape as Shape;
    expect([...(sites?.columns.far.lanes[0] ?? [])]).toEqual(
      [-0.2, 0, 0.2].map((d) => expect.closeTo(d, 1.7)),
    );
    expect([...(sites?.columns.in.lanes[0] ?? [])].filter((v) => v === 1)).toHaveLength(
      [...(sites?.columns.far.lanes[0] ?? [])].filter((d) => d < 0).length,
    );
  });

  it.each(["scatter-sites", "fill-sites"])("%s stands inside, with how deep", (type) => {
    const set: Set = type === "fill-sites" ? { spacing: 0.2 } : { count: 200, where: "inside" };
    const shape = formed(
      { ball: BALL, volume: fromShape({ band: 0.3 }), it: { type, set } },
      ["ball.shape>volume.shape", "volume.shape>it.shape"],
      "sites",
    );
    const { count, columns } = shape.sites as NonNullable<Shape["sites"]>;
    if (type === "fill-sites") expect((count * 0.2 ** 3) / ballVolume).toBeCloseTo(1, 1);
    else expect(count).toBe(200);
    const [x, y, z] = columns.position.lanes;
    for (let i = 0; i < count; i++) {
      const far = Math.hypot(x[i], y[i], z[i]);
      expect(far).toBeLessThan(1.02);
      expect(Math.abs(columns.depth.lanes[0][i] - Math.min(0.3, 1 - far))).toBeLessThan(0.03);
    }
  });

  it("is seen by its surface where nobody made one", () => {
    const { shape } = evaluate(
      graphOf({ ball: BALL, it: fromShape(), stage: { type: "stage" } }, [
        "ball.shape>it.shape",
        "it.shape>stage.shape",
      ]),
    );
    const { batches, bounds } = drawingOf(shape as Shape);
    expect(batches).toHaveLength(1);
    expect(meshArea(batches[0].mesh) / (4 * Math.PI)).toBeCloseTo(1, 1);
    expect(bounds?.max[0]).toBeCloseTo(1, 1);
  });
});

describe("as NRRD", () => {
  it("is read by three's loader, value by value, where it should be", () => {
    const volume = volumeIn(formed({ ball: BALL, it: fromShape({ voxel: 0.2 }) }, ["ball.shape>it.shape"]));
    const bytes = writeNrrd({ volume });
    // Its declaration says text, and it takes the bytes.
    const { xLength, yLength, zLength, data } = new NRRDLoader().parse(
      bytes.slice().buffer as unknown as string,
    ) as unknown as Record<"xLength" | "yLength" | "zLength", number> & { data: Float32Array };
    expect([xLength, yLength, zLength]).toEqual(volume.tiles.map((t) => t * 8));
    const reader = new VolumeReader(volume, "distance");
    const first = volume.first.map((t) => t * 8);
    for (const [x, y, z] of [
      [0, 0, 0],
      [5, 9, 3],
      [12, 8, 8],
    ])
      expect(data[(z * yLength + y) * xLength + x]).toBeCloseTo(
        reader.voxel(x + first[0], y + first[1], z + first[2]),
        6,
      );
    const header = new TextDecoder().decode(bytes.subarray(0, 400));
    expect(header).toContain(`space origin: (${first.map((v) => v * 0.2).join(",")})`);
  });

  it("names several values in its header", () => {
    const { volume } = formed({ ball: BALL, red: { type: "tint" }, it: fromShape({ voxel: 0.3 }) }, [
      "ball.shape>red.shape",
      "red.shape>it.shape",
    ]);
    const text = new TextDecoder().decode(writeNrrd({ volume }).subarray(0, 400));
    expect(text).toContain("dimension: 4");
    expect(text).toContain('"distance color.x color.y color.z color.w"');
  });

  it("is refused where no volume arrives", () => {
    expect(() => writeNrrd({})).toThrow(FormatError);
  });
});
