/** Files that promise more than they hold, are damaged, or are rarer than usual: what is read of them, and in what words they are refused. */
import { zlibSync } from "fflate";
import { PNG } from "pngjs";
import { drawingOf } from "../../src/core/draw/drawing";
import type { PictureAsset, ShapeAsset } from "../../src/core/formats/read/asset";
import { readAsset } from "../../src/core/formats/read/read-asset";
import { writeGlb } from "../../src/core/formats/write/glb";
import { writePly } from "../../src/core/formats/write/ply";
import { meshArea, meshVolume } from "../../src/core/geometry/measure";
import type { Mesh } from "../../src/core/geometry/mesh";
import type { Shape } from "../../src/core/geometry/shape";
import { decodeSrgb, encodeSrgb } from "../../src/core/maths/color";
import type { Picture } from "../../src/core/maths/picture";
import { runNode } from "../run-node";

const text = (content: string) => new TextEncoder().encode(content);
const shapeOf = async (file: string, content: string | Uint8Array): Promise<Shape> =>
  ((await readAsset(file, typeof content === "string" ? text(content) : content)) as ShapeAsset).shape;
const meshIn = async (file: string, content: string | Uint8Array) =>
  (await shapeOf(file, content)).mesh as Mesh;
const pictureIn = async (bytes: Uint8Array): Promise<Picture> =>
  ((await readAsset("a.png", bytes)) as PictureAsset).picture;

describe("PLY", () => {
  const vertexColors = (colors: readonly number[]) =>
    [
      "ply",
      "format ascii 1.0",
      `element vertex ${colors.length}`,
      "property float x\nproperty float y\nproperty float z",
      "property uchar red\nproperty uchar green\nproperty uchar blue",
      "end_header",
      ...colors.map((c, i) => `${i} 0 0 ${c} ${c} ${c}`),
      "",
    ].join("\n");

  it("keeps all 256 bytes of a colour, by the transfer of IEC 61966-2-1", async () => {
    const bytes = Array.from({ length: 256 }, (_, i) => i);
    const lane = (await shapeOf("greys.ply", vertexColors(bytes))).sites?.columns.color
      .lanes[1] as Float32Array;
    for (const byte of bytes) {
      expect(lane[byte]).toBe(Math.fround(decodeSrgb(byte / 255)));
      expect(Math.round(encodeSrgb(lane[byte]) * 255)).toBe(byte);
    }
  });

  it("cuts faces of any number of corners, also concave ones, in text and binary of both orders", async () => {
    const l = [
      [0, 0],
      [4, 0],
      [4, 1],
      [1, 1],
      [1, 5],
      [0, 5],
    ];
    const header = (format: string) =>
      `ply\nformat ${format} 1.0\ncomment a comment\nelement vertex 6\nproperty double x\nproperty float y\nproperty short z\nelement other 1\nproperty list uchar int things\nelement face 1\nproperty list uchar uint vertex_index\nend_header\n`;
    const ascii = `${header("ascii")}${l.map(([x, y]) => `${x} ${y} 0`).join("\n")}\n2 7 8\n6 0 1 2 3 4 5\n`;
    expect(meshArea(await meshIn("l.ply", ascii))).toBeCloseTo(8, 5);
    for (const little of [true, false]) {
      const head = text(header(little ? "binary_little_endian" : "binary_big_endian"));
      const bytes = new Uint8Array(head.length + 6 * 14 + 9 + 25);
      bytes.set(head);
      const view = new DataView(bytes.buffer);
      let at = head.length;
      for (const [x, y] of l) {
        view.setFloat64(at, x, little);
        view.setFloat32(at + 8, y, little);
        at += 14;
      }
      bytes[at++] = 2;
      at += 8;
      bytes[at++] = 6;
      for (let i = 0; i < 6; i++) view.setUint32(at + i * 4, i, little);
      expect(meshArea(await meshIn("l.ply", bytes))).toBeCloseTo(8, 5);
    }
  });

  it("has a vertex for every point of a smooth ball: seams of pictures are not in the file", async () => {
    const drawing = drawingOf(runNode("sphere", { around: 32, rings: 16 }).shape as Shape);
    const points = drawing.batches[0].mesh.points.count;
    const file = writePly(drawing);
    expect(new TextDecoder("latin1").decode(file.subarray(0, 120))).toContain(`element vertex ${points}\n`);
    expect((await meshIn("ball.ply", file)).points.count).toBe(points);
  });

  it.each([
    [
      "property list uchar int vertex_indices\nend_header\n0 0 0\n1 0 0\n0 1 0\n3 0 1 7\n",
      "face 1 points at vertex 7",
    ],
    ["property list uchar int vertex_indices\nend_header\n0 0 0\n1 0 0\n0 1 0\n", "its data ends at face 1"],
    [
      "property list uchar int vertex_indices\nend_header\n0 0 0\n1 0 zwei\n0 1 0\n3 0 1 2\n",
      'vertex 2: "zwei" is not a number',
    ],
    [
      "property list uchar int vertex_indices\nend_header\n0 0 0\n1e39 0 0\n0 1 0\n3 0 1 2\n",
      "of a size that can be held",
    ],
    [
      "property list uchar int vertex_indices\nend_header\n0 0 0\n1 0 0\n0 1 0\n4000000000 0\n",
      "4000000000 entries",
    ],
    ["property list uchar blob vertex_indices\nend_header\n", "not one that PLY knows"],
  ])("is refused in words that say where: %s", async (end, what) => {
    const head =
      "ply\nformat ascii 1.0\nelement vertex 3\nproperty float x\nproperty float y\nproperty float z\nelement face 1\n";
    await expect(readAsset("a.ply", text(head + end))).rejects.toThrow(what);
  });
});

describe("STL", () => {
  it("reads text in time that grows with its length", async () => {
    const facet = (i: number) =>
      `facet normal 0 0 1\n outer loop\n  vertex ${i} 0 0\n  vertex ${i + 1} 0 0\n  vertex ${i} 1 0\n endloop\nendfacet\n`;
    const mesh = await meshIn(
      "a.stl",
      `solid a\n${Array.from({ length: 1000 }, (_, i) => facet(i)).join("")}endsolid a\n`,
    );
    expect([mesh.faces.count, meshArea(mesh)]).toEqual([1000, 500]);
    // Words without vertices, which patterns that look for the end of each facet go through again and again.
    await expect(readAsset("a.stl", text(`solid a\n${"facet ".repeat(200_000)}`))).rejects.toThrow(
      "no triangles",
    );
  });

  it.each([
    ["solid a\nfacet normal 0 0 1\nvertex 0 0\n", "vertex 1 has no three numbers"],
    ["solid a\nfacet\nvertex 0 0 0\nvertex 1 0 0\nendsolid", "only 2 of three corners"],
    ["solid a\nfacet\nvertex 0 0 0\nvertex 1e39 0 0\nvertex 0 1 0\nendsolid", "corner 2 of triangle 1"],
  ])("is refused in words: %j", async (content, what) => {
    await expect(readAsset("a.stl", text(content))).rejects.toThrow(what);
  });
});

describe("numbers beyond float32", () => {
  it.each([
    [
      "a.csv",
      "x,y,z\n0,0,0\n1e39,0,0\n",
      'line 3, column "x": "1e39" is not a number of a size that can be held',
    ],
    [
      "a.obj",
      "v 0 0 0\nv 1 0 0\nv 0 1 0\nvt nan 0\nf 1/1 2/1 3/1\n",
      'line 4: a texture coordinate needs two numbers; "nan" is not one',
    ],
    ["a.obj", "v 0 0 0\nv 1 0 0\nv 0 1 0\nvt 0 0\nf 1/1 2/2 3/1\n", "line 5"],
    [
      "a.obj",
      "v 0 0 0\nv 1 0 0\nv 0 1 0\nvn 0 0 1\nf 1//1 2//9 3//1\n",
      "points at a normal that is not there",
    ],
    ["a.obj", "v 0 0 0\nv 1 0 0\nv 0 1e40 0\nf 1 2 3\n", "line 3: a vertex needs three numbers"],
  ])("%s: %j is refused", async (file, content, what) => {
    await expect(readAsset(file, text(content))).rejects.toThrow(what);
  });
});

describe("glTF", () => {
  const triangle = (change: (json: Record<string, never>) => void = () => {}) => {
    const positions = Buffer.from(Float32Array.of(0, 0, 0, 1, 0, 0, 0, 1, 0).buffer).toString("base64");
    const json = {
      asset: { version: "2.0" },
      scene: 0,
      scenes: [{ nodes: [0] }],
      nodes: [{ mesh: 0 }],
      meshes: [{ primitives: [{ attributes: { POSITION: 0 } }] }],
      accessors: [{ bufferView: 0, componentType: 5126, type: "VEC3", count: 3 }],
      bufferViews: [{ buffer: 0, byteLength: 36 }],
      buffers: [{ byteLength: 36, uri: `data:application/octet-stream;base64,${positions}` }],
    };
    change(json as unknown as Record<string, never>);
    return text(JSON.stringify(json));
  };
  // biome-ignore lint/suspicious/noExplicitAny: any part may be made wrong
  type Anything = any;

  it("reads the plain triangle", async () => {
    expect(meshArea(await meshIn("a.gltf", triangle()))).toBeCloseTo(0.5, 6);
  });

  it.each<[string, (json: Anything) => void, string]>([
    [
      "a sparse count beyond all",
      (json) => {
        json.accessors[0].sparse = {
          count: 4294967295,
          indices: { bufferView: 0, componentType: 5125 },
          values: { bufferView: 0 },
        };
      },
      "accessor 0 replaces 4294967295 of its 3",
    ],
    [
      "30 million elements without data",
      (json) => {
        json.accessors[0] = { componentType: 5126, type: "VEC3", count: 30_000_000 };
      },
      "promises 30000000 elements without data",
    ],
    [
      "more elements than its view holds",
      (json) => {
        json.accessors[0].count = 4;
      },
      "accessor 0 promises 4 elements",
    ],
    [
      "a mesh placed without end",
      (json) => {
        json.accessors[0].count = 3;
        json.nodes = Array.from({ length: 4_100_000 / 20 }, () => ({ mesh: 0 }));
        json.meshes[0].primitives = Array.from({ length: 20 }, () => ({ attributes: { POSITION: 0 } }));
        json.scenes[0].nodes = json.nodes.map((_: unknown, i: number) => i);
      },
      "million corners",
    ],
    [
      "nodes that hold each other",
      (json) => {
        json.nodes = [{ children: [1] }, { children: [0], mesh: 0 }];
      },
      "in two places at once",
    ],
    [
      "a mesh that is not there",
      (json) => {
        json.nodes[0].mesh = 3;
      },
      "node 0 names mesh 3, and there are 1",
    ],
    [
      "a scale to where numbers end",
      (json) => {
        json.nodes[0].scale = [1e308, 1, 1];
      },
      "where numbers end",
    ],
    [
      "compression",
      (json) => {
        json.extensionsRequired = ["KHR_draco_mesh_compression"];
      },
      "Save it without compression",
    ],
    [
      "a name for a number",
      (json) => {
        json.accessors[0].count = "three";
      },
      '"accessors[0].count"',
    ],
  ])("%s is refused in words", async (_what, change, message) => {
    await expect(readAsset("a.gltf", triangle(change as never))).rejects.toThrow(message);
  });

  it("GLB: parts that promise too much", async () => {
    const bytes = await writeGlb(drawingOf(runNode("box").shape as Shape), { copies: "baked" } as never);
    expect(meshVolume(await meshIn("a.glb", bytes))).toBeCloseTo(1, 5);
    const view = new DataView(bytes.buffer, bytes.byteOffset);
    view.setUint32(12, 0x7fffffff, true);
    await expect(readAsset("a.glb", bytes)).rejects.toThrow("its end is missing");
  });
});

describe("PNG", () => {
  const chunk = (name: string, content: Uint8Array): Uint8Array => {
    const bytes = new Uint8Array(content.length + 12);
    const view = new DataView(bytes.buffer);
    view.setUint32(0, content.length);
    bytes.set(text(name), 4);
    bytes.set(content, 8);
    view.setUint32(8 + content.length, crc(bytes.subarray(4, 8 + content.length)));
    return bytes;
  };
  /** ISO/IEC 15948, annex D, bit by bit. */
  const crc = (bytes: Uint8Array): number => {
    let c = 0xffffffff;
    for (const byte of bytes) {
      c ^= byte;
      for (let k = 0; k < 8; k++) c = c & 1 ? (c >>> 1) ^ 0xedb88320 : c >>> 1;
    }
    return (c ^ 0xffffffff) >>> 0;
  };
  const file = (
    width: number,
    height: number,
    depth: number,
    type: number,
    rows: Uint8Array,
    interlace = 0,
  ) => {
    const header = new Uint8Array(13);
    new DataView(header.buffer).setUint32(0, width);
    new DataView(header.buffer).setUint32(4, height);
    header.set([depth, type, 0, 0, interlace], 8);
    return Buffer.concat([
      Uint8Array.of(137, 80, 78, 71, 13, 10, 26, 10),
      chunk("IHDR", header),
      ...(type === 3
        ? [
            chunk(
              "PLTE",
              Uint8Array.from({ length: 12 }, (_, i) => i * 20),
            ),
            chunk("tRNS", Uint8Array.of(9, 99)),
          ]
        : []),
      chunk("IDAT", zlibSync(rows)),
      chunk("IEND", new Uint8Array(0)),
    ]);
  };

  it.each([
    [1, 0],
    [2, 0],
    [4, 0],
    [1, 3],
    [2, 3],
  ])("%i bits of colour type %i, as pngjs reads them, with every filter", async (depth, type) => {
    const [width, height] = [13, 5];
    const bytes = Math.ceil((width * depth) / 8);
    const rows = Uint8Array.from({ length: (bytes + 1) * height }, (_, i) =>
      i % (bytes + 1) === 0 ? i / (bytes + 1) : type === 3 ? 0x11 * (i % 2) : (i * 97) % 256,
    );
    if (type === 3) for (let row = 0; row < height; row++) rows[row * (bytes + 1)] = 0;
    const png = file(width, height, depth, type, rows);
    const { samples } = await pictureIn(png);
    expect([...samples]).toEqual([...PNG.sync.read(png).data]);
  });

  it("interlaced, as pngjs reads it", async () => {
    const [width, height] = [11, 9];
    const passes = [
      [0, 0, 8, 8],
      [4, 0, 8, 8],
      [0, 4, 4, 8],
      [2, 0, 4, 4],
      [0, 2, 2, 4],
      [1, 0, 2, 2],
      [0, 1, 1, 2],
    ];
    const rows: number[] = [];
    for (const [x, y, dx, dy] of passes)
      for (let r = y; r < height && x < width; r += dy) {
        rows.push(r % 5);
        for (let c = x; c < width; c += dx)
          rows.push(...[0, 1, 2].map((l) => (r * 31 + c * 7 + l * 90) % 256));
      }
    const png = file(width, height, 8, 2, Uint8Array.from(rows), 1);
    expect([...(await pictureIn(png)).samples]).toEqual([...PNG.sync.read(png).data]);
  });

  it("stops unpacking at what the header promises", async () => {
    const bomb = file(1, 1, 8, 6, new Uint8Array(64 * 1024 * 1024));
    expect(bomb.length).toBeLessThan(100_000);
    await expect(readAsset("a.png", bomb)).rejects.toThrow("unpacks to more than the 5 bytes");
  });

  it("a JPEG of few bytes that names many pixels", async () => {
    const bytes = new Uint8Array(6000);
    bytes.set([0xff, 0xd8, 0xff, 0xc0, 0, 17, 8, 0x1b, 0x58, 0x1b, 0x58, 3]);
    await expect(readAsset("a.jpg", bytes)).rejects.toThrow("7000 × 7000 pixels, more than its 6000 bytes");
  });
});
