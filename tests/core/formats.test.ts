/** Files in and out, against gltf-validator, @gltf-transform, three's loaders and RFC 4180. */
import { WebIO } from "@gltf-transform/core";
import { EXTMeshGPUInstancing, type InstancedMesh } from "@gltf-transform/extensions";
import { validateBytes } from "gltf-validator";
import { PLYLoader } from "three/examples/jsm/loaders/PLYLoader.js";
import { STLLoader } from "three/examples/jsm/loaders/STLLoader.js";
import { drawingOf } from "../../src/core/draw/drawing";
import { readAsset } from "../../src/core/formats/read/read-asset";
import { writeCsv } from "../../src/core/formats/write/csv";
import { writeGlb } from "../../src/core/formats/write/glb";
import { writePly } from "../../src/core/formats/write/ply";
import { writeObj, writeStl } from "../../src/core/formats/write/triangle-files";
import { eulerCharacteristic, meshVolume } from "../../src/core/geometry/measure";
import { boxMesh } from "../../src/core/geometry/primitives";
import type { Shape } from "../../src/core/geometry/shape";
import { demoAssets } from "../../src/server/demo";
import { readsMutated } from "../mutated";
import { graphOf, outputsOf } from "../run-node";

/** Everything in a shape file, joined. */
async function readShape(file: string, bytes: Uint8Array): Promise<Shape> {
  const content = await readAsset(file, bytes);
  if (content.kind !== "shape") throw new Error(`${file} holds a picture`);
  return content.shape;
}

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
    [
      "pod.fbx",
      "x",
      /files ending in .obj, .svg, .glb, .gltf, .stl, .ply, .csv, .nrrd, .zip, .png, .jpg, .jpeg, .hdr, .exr, .cube, .ttf, .otf, .woff can/,
    ],
    ["cut.glb", "glTF\u0002\0\0\0", /"cut.glb"/],
    ["text.glb", "this is no mesh at all", /does not begin with "glTF"/],
  ])("%s is refused with what and where", async (file, text, what) => {
    await expect(readShape(file, bytesOf(text))).rejects.toThrow(what);
  });

  it("gives a clear error or a shape for 2,000 mutations of each format", async () => {
    const cube = drawingOf(await readShape("c.obj", bytesOf(CUBE)));
    const glb = await writeGlb(cube, {
      copies: "baked",
      name: "c",
    });
    const { json, resources } = await new WebIO().writeJSON(await new WebIO().readBinary(glb));
    const [bin] = Object.values(resources);
    json.buffers = [
      {
        byteLength: bin.length,
        uri: `data:application/octet-stream;base64,${Buffer.from(bin).toString("base64")}`,
      },
    ];
    const gltf = bytesOf(JSON.stringify(json));
    expect((await readShape("c.gltf", gltf)).mesh?.faces.count).toBe(12);
    const originals = {
      "c.obj": bytesOf(CUBE),
      "c.gltf": gltf,
      "c.glb": glb,
      "c.stl": writeStl(cube),
      "c.ply": writePly(cube),
      "c.csv": bytesOf("x,y,z,r,g,b\n1,2,3,0.1,0.2,0.3\n4,5,6,1,1,1\n"),
    };
    await readsMutated(originals, async (file, bytes) => {
      const { mesh } = await readShape(file, bytes);
      for (const p of mesh?.cornerPoint ?? [])
        if (p < 0 || p >= (mesh?.points.count ?? 0)) throw new TypeError("bad corner");
    });
  }, 60_000);
});

describe("STL, PLY and OBJ", () => {
  const written = async (write: (drawing: ReturnType<typeof drawingOf>) => Uint8Array, file: string) => {
    const bytes = write(drawingOf(arrangement()));
    return { bytes, shape: await readShape(file, bytes) };
  };
  /** 35 boxes of 12 triangles and a ball of 24 × 12 rings: 2·24 + 2·24·10 triangles. */
  const TRIANGLES = 35 * 12 + 528;

  it("STL is 84 + 50 n bytes [FMT-01] and comes back", async () => {
    const { bytes, shape } = await written(writeStl, "a.stl");
    expect(bytes.length).toBe(84 + 50 * TRIANGLES);
    expect(new DataView(bytes.buffer, bytes.byteOffset).getUint32(80, true)).toBe(TRIANGLES);
    expect(shape.mesh?.faces.count).toBe(TRIANGLES);
    expect(new STLLoader().parse(bytes.slice().buffer).attributes.position.count).toBe(TRIANGLES * 3);
  });

  it("PLY keeps volume and colours, read by us and by three", async () => {
    const { bytes, shape } = await written(writePly, "a.ply");
    expect(shape.mesh?.faces.count).toBe(TRIANGLES);
    expect(new PLYLoader().parse(bytes.slice().buffer).getIndex()?.count).toBe(TRIANGLES * 3);
    const volume = meshVolume(
      (await readShape("a.stl", writeStl(drawingOf(arrangement())))).mesh ?? boxMesh([0, 0, 0], 0),
    );
    expect(meshVolume(shape.mesh ?? boxMesh([0, 0, 0], 0))).toBeCloseTo(volume, 4);
    expect(shape.mesh?.points.columns.color).toBeDefined();
  });

  it("OBJ comes back with as many faces", async () => {
    const { bytes, shape } = await written(writeObj, "a.obj");
    expect(shape.mesh?.faces.count).toBe(TRIANGLES);
    expect(new TextDecoder().decode(bytes)).toContain("\nf ");
  });

  it("reads text STL, and text PLY of 8 vertices and 6 quads as 12 triangles [FMT-03]", async () => {
    const stl =
      "solid t\nfacet normal 0 0 1\nouter loop\nvertex 0 0 0\nvertex 1 0 0\nvertex 0 1 0\nendloop\nendfacet\nendsolid t\n";
    expect((await readShape("t.stl", bytesOf(stl))).mesh?.faces.count).toBe(1);
    const corners = CUBE.split("\n")
      .filter((l) => l.startsWith("v "))
      .map((l) => l.split(" ").slice(1, 4).join(" "));
    const quads = ["4 3 2 1 0", "4 4 5 6 7", "4 0 1 5 4", "4 1 2 6 5", "4 2 3 7 6", "4 3 0 4 7"];
    const ply = [
      "ply",
      "format ascii 1.0",
      "element vertex 8",
      "property float x",
      "property float y",
      "property float z",
      "element face 6",
      "property list uchar int vertex_indices",
      "end_header",
      ...corners,
      ...quads,
      "",
    ].join("\n");
    const { mesh } = await readShape("cube.ply", bytesOf(ply));
    expect([mesh?.faces.count, mesh && meshVolume(mesh)]).toEqual([12, 8]);
  });
});

describe("point clouds", () => {
  it("CSV gives coloured sites, bytes or 0…1, and what Glemmo wrote comes back", async () => {
    const { sites } = await readShape(
      "scan.csv",
      bytesOf('x,y,z,r,g,b\r\n1,2,3,255,0,128\r\n"4",5,6,0,255,0\r\n'),
    );
    expect([sites?.count, sites?.columns.position.lanes[2][1]]).toEqual([2, 6]);
    expect(sites?.columns.color.lanes[2][0]).toBeCloseTo(0.2158605001, 6); // COL-01: 128/255
    const { sites: row } = outputsOf(graphOf({ r: { type: "row-sites" } }), "r").sites as Shape;
    const again = await readShape("again.csv", bytesOf(row ? writeCsv(row) : ""));
    expect(again.sites?.columns.position.lanes[0]).toEqual(row?.columns.position.lanes[0]);
  });

  it("PLY without faces gives sites", async () => {
    const ply =
      "ply\nformat ascii 1.0\nelement vertex 2\nproperty float x\nproperty float y\nproperty float z\nproperty uchar red\nproperty uchar green\nproperty uchar blue\nend_header\n0 0 0 255 0 0\n1 2 3 0 0 255\n";
    const { sites } = await readShape("scan.ply", bytesOf(ply));
    expect([sites?.count, sites?.columns.position.lanes[1][1], sites?.columns.color.lanes[0][0]]).toEqual([
      2, 2, 1,
    ]);
  });

  it.each([
    ["a.csv", "a,b\n1,2\n", /must name the columns/],
    ["b.csv", "x,y,z\n1,two,3\n", /line 2, column "y": "two"/],
    ["c.csv", "x,y,z\n", /no points/],
    ["d.ply", "ply\nformat ascii 1.0\nelement vertex 99999999999\nend_header\n", /promises 99999999999/],
    ["e.ply", "ply\nformat xml 1.0\nend_header\n", /its format is "xml"/],
    ["f.stl", "\0".repeat(90), /no triangles/],
    ["g.stl", "short", /5 bytes long/],
  ])("%s is refused with what and where", async (file, text, what) => {
    await expect(readShape(file, bytesOf(text))).rejects.toThrow(what);
  });
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
