/** Files in and out, against gltf-validator, @gltf-transform, three's loaders and RFC 4180. */
import { WebIO } from "@gltf-transform/core";
import { EXTMeshGPUInstancing, type InstancedMesh } from "@gltf-transform/extensions";
import fc from "fast-check";
import { validateBytes } from "gltf-validator";
import { drawingOf } from "../../src/core/draw/drawing";
import { readShape } from "../../src/core/formats/read/read-shape";
import { writeCsv } from "../../src/core/formats/write/csv";
import { writeGlb } from "../../src/core/formats/write/glb";
import { eulerCharacteristic, meshVolume } from "../../src/core/geometry/measure";
import { boxMesh } from "../../src/core/geometry/primitives";
import type { Shape } from "../../src/core/geometry/shape";
import { demoAssets } from "../../src/server/demo";
import { graphOf, outputsOf } from "../run-node";

const bytesOf = (text: string) => new TextEncoder().encode(text);

/** A tinted, turned, nested arrangement: rings of rings of boxes, plus a bare mesh. */
function arrangement(): Shape {
  const document = graphOf(
    {
      inner: { type: "ring-sites", set: { count: 5, radius: 0.8 } },
      box: { type: "box", set: { size: [0.3, 0.2, 0.1] } },
      flower: { type: "clone-onto-sites" },
      outer: { type: "ring-sites", set: { count: 7, radius: 3, outward: "z" } },
      flowers: { type: "clone-onto-sites" },
      r: { type: "random" },
      g: { type: "gradient" },
      paint: { type: "tint" },
      ball: { type: "sphere" },
      all: { type: "merge" },
    },
    [
      "inner.sites>flower.sites",
      "box.shape>flower.shapes",
      "outer.sites>flowers.sites",
      "flower.clones>flowers.shapes",
      "flowers.clones>paint.shape",
      "r.value>g.value",
      "g.color>paint.color",
      "paint.shape>all.shapes",
      "ball.shape>all.shapes",
    ],
  );
  return outputsOf(document, "all").shape as Shape;
}

describe("GLB out", () => {
  it.each(["instanced", "baked"] as const)(
    "%s passes gltf-validator without an error or a warning",
    async (copies) => {
      const bytes = await writeGlb(drawingOf(arrangement()), { copies, name: "test" });
      // GLT-01, GLT-02: magic, version 2, total length.
      expect([...bytes.subarray(0, 8)]).toEqual([0x67, 0x6c, 0x54, 0x46, 2, 0, 0, 0]);
      expect(new DataView(bytes.buffer, bytes.byteOffset).getUint32(8, true)).toBe(bytes.length);
      const { issues } = await validateBytes(bytes);
      expect(issues.messages.filter((m: { severity: number }) => m.severity < 2)).toEqual([]);
      expect([issues.numErrors, issues.numWarnings]).toEqual([0, 0]);
    },
  );

  it("writes nested copies multiplied out, each mesh once [GLT-10]", async () => {
    const bytes = await writeGlb(drawingOf(arrangement()), { copies: "instanced", name: "test" });
    const document = await new WebIO().registerExtensions([EXTMeshGPUInstancing]).readBinary(bytes);
    const counts = document
      .getRoot()
      .listNodes()
      .map((node) =>
        node.getExtension<InstancedMesh>("EXT_mesh_gpu_instancing")?.getAttribute("TRANSLATION")?.getCount(),
      );
    expect(counts.sort()).toEqual([1, 35]);
    expect(document.getRoot().listMeshes()).toHaveLength(2);
  });

  it("bakes to where the matrices put the copies: the volumes add up", async () => {
    const bytes = await writeGlb(drawingOf(arrangement()), { copies: "baked", name: "test" });
    const { mesh } = await readShape("baked.glb", bytes);
    const ball = meshVolume(
      (outputsOf(graphOf({ b: { type: "sphere" } }), "b").shape as Shape).mesh ?? boxMesh([0, 0, 0], 0),
    );
    expect(mesh && meshVolume(mesh)).toBeCloseTo(35 * 0.3 * 0.2 * 0.1 + ball, 3);
  });

  it("turns mirrored copies round, so that their volume stays positive", async () => {
    const document = graphOf(
      {
        box: { type: "box" },
        site: { type: "ring-sites", set: { count: 1 } },
        clone: { type: "clone-onto-sites" },
        flip: { type: "scale", set: { axes: [-1, 1, 1] } },
      },
      ["site.sites>clone.sites", "box.shape>clone.shapes", "clone.clones>flip.shape"],
    );
    const shape = outputsOf(document, "flip").shape as Shape;
    for (const copies of ["baked", "instanced"] as const) {
      const bytes = await writeGlb(drawingOf(shape), { copies, name: "mirror" });
      expect((await validateBytes(bytes)).issues.numErrors).toBe(0);
      if (copies === "baked")
        expect(meshVolume((await readShape("m.glb", bytes)).mesh ?? boxMesh([0, 0, 0], 0))).toBeCloseTo(1, 5);
    }
  });

  it("says that there is nothing to write", async () => {
    await expect(writeGlb(drawingOf({}), { copies: "baked", name: "x" })).rejects.toThrow("no faces");
  });
});

describe("GLB in", () => {
  it("reads the demo's pod with its colours: 5,120 faces, closed, χ = 2", async () => {
    const pod = [...demoAssets().values()].find((a) => a.file === "seed-pod.glb");
    const { mesh } = await readShape("seed-pod.glb", pod?.bytes ?? new Uint8Array());
    expect(mesh?.faces.count).toBe(5120);
    expect(mesh && eulerCharacteristic(mesh)).toBe(2);
    expect(mesh?.points.columns.color.lanes[0]).toHaveLength(2562);
  });

  it("keeps faces, colours and texture coordinates through writing and reading", async () => {
    const first = await readShape("cube.obj", bytesOf(CUBE));
    const again = await readShape(
      "cube.glb",
      await writeGlb(drawingOf(first), { copies: "baked", name: "cube" }),
    );
    expect(again.mesh?.faces.count).toBe(12);
    expect(again.mesh && meshVolume(again.mesh)).toBeCloseTo(8, 5);
    expect([...(again.mesh?.corners.columns.uv.lanes[1] ?? [])].sort()).toEqual(
      [...(first.mesh?.corners.columns.uv.lanes[1] ?? [])].sort(),
    );
  });
});

/** A cube of edge 2 in quads, coloured corners, v counted from the bottom, one face with indices from the end. */
const CUBE = `o cube
v -1 -1 -1 1 0 0
v 1 -1 -1 1 0 0
v 1 1 -1 1 0 0
v -1 1 -1 1 0 0
v -1 -1 1 0 0 1
v 1 -1 1 0 0 1
v 1 1 1 0 0 1
v -1 1 1 0 0 1
vt 0 0
vt 1 0
vt 1 0.75
vt 0 0.75
f 4/1 3/2 2/3 1/4
f 5/1 6/2 7/3 8/4
g sides
f 1/1 2/2 6/3 5/4
f 2/1 3/2 7/3 6/4
f 3/1 4/2 8/3 7/4
f -5/1 -8/2 -4/3 -1/4
`;

describe("OBJ in", () => {
  it("reads quads, colours, texture coordinates and indices from the end [FMT-02]", async () => {
    const { mesh } = await readShape("cube.obj", bytesOf(CUBE));
    expect([mesh?.points.count, mesh?.faces.count]).toEqual([8, 12]);
    expect(mesh && meshVolume(mesh)).toBeCloseTo(8, 6);
    expect(mesh && eulerCharacteristic(mesh)).toBe(2);
    const color = mesh?.points.columns.color.lanes.map((lane) => lane[0]);
    expect(color).toEqual([1, 0, 0, 1]);
    // v = 0.75 from the bottom is 0.25 from the top, as glTF counts.
    expect(new Set(mesh?.corners.columns.uv.lanes[1])).toEqual(new Set([1, 0.25]));
  });

  it.each([
    ["empty.obj", "", /"empty.obj" is empty/],
    ["text.obj", "hello\n", /no faces/],
    [
      "nan.obj",
      "v 0 0 x\nv 1 0 0\nv 0 1 0\nf 1 2 3\n",
      /line 1: a vertex needs three numbers; "x" is not one/,
    ],
    [
      "far.obj",
      "v 0 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 9\n",
      /line 4: the corner "9" points at a vertex that is not there \(3 so far\)/,
    ],
    ["two.obj", "v 0 0 0\nv 1 0 0\nf 1 2\n", /line 3: a face needs at least three corners/],
    ["huge.obj", "v 1e999 0 0\nv 1 0 0\nv 0 1 0\nf 1 2 3\n", /not a number/],
    ["pod.fbx", "x", /files ending in .obj, .glb/],
    ["cut.glb", "glTF\u0002\0\0\0", /"cut.glb"/],
    ["text.glb", "this is no mesh at all", /does not begin with "glTF"/],
  ])("%s is refused with what and where", async (file, text, what) => {
    await expect(readShape(file, bytesOf(text))).rejects.toThrow(what);
  });

  it("gives a clear error or a shape for 1,000 mutations of each format", async () => {
    const glb = await writeGlb(drawingOf(await readShape("c.obj", bytesOf(CUBE))), {
      copies: "baked",
      name: "c",
    });
    for (const [file, original] of [
      ["c.obj", bytesOf(CUBE)],
      ["c.glb", glb],
    ] as const) {
      await fc.assert(
        fc.asyncProperty(
          fc.nat(original.length - 1),
          fc.nat(8),
          fc.uint8Array({ maxLength: 5 }),
          async (at, cut, put) => {
            const mutated = new Uint8Array([
              ...original.subarray(0, at),
              ...put,
              ...original.subarray(at + cut),
            ]);
            try {
              const { mesh } = await readShape(file, mutated);
              for (const p of mesh?.cornerPoint ?? [])
                if (p < 0 || p >= (mesh?.points.count ?? 0)) throw new TypeError("bad corner");
            } catch (error) {
              expect((error as Error).message).toContain(file);
            }
          },
        ),
        { numRuns: 1000 },
      );
    }
  }, 60_000);
});

describe("CSV out", () => {
  it("has a header, a line an element, CRLF, and restores every float32 [FMT-09, FMT-12]", () => {
    const { sites } = outputsOf(graphOf({ s: { type: "spiral-sites", set: { count: 50 } } }), "s")
      .sites as Shape;
    if (!sites) throw new Error("no sites");
    const lines = writeCsv(sites).split("\r\n");
    expect(lines).toHaveLength(52);
    expect(lines[51]).toBe("");
    const header = lines[0].split(",");
    expect(header).toEqual([
      "along",
      "id",
      "position.x",
      "position.y",
      "position.z",
      "rotation.x",
      "rotation.y",
      "rotation.z",
      "rotation.w",
      "scale.x",
      "scale.y",
      "scale.z",
    ]);
    for (let i = 0; i < 50; i++) {
      expect(Math.fround(Number(lines[i + 1].split(",")[2]))).toBe(sites.columns.position.lanes[0][i]);
    }
  });
});
