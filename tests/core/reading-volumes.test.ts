/** Volumes from files: NRRD as Teem's format page has it and as three's loader reads it, and stacks of pictures. */
import { gzipSync } from "node:zlib";
import { encode } from "fast-png";
import { strToU8, zipSync } from "fflate";
import { NRRDLoader } from "three/examples/jsm/loaders/NRRDLoader.js";
import type { ShapeAsset } from "../../src/core/formats/read/asset";
import { readNrrd } from "../../src/core/formats/read/nrrd";
import { readAsset } from "../../src/core/formats/read/read-asset";
import { readSlices } from "../../src/core/formats/read/slices";
import { writeNrrd } from "../../src/core/formats/write/nrrd";
import { writeSlices } from "../../src/core/formats/write/slices";
import { shapeBounds } from "../../src/core/geometry/bounds";
import { eachVoxel, type Volume, VolumeReader } from "../../src/core/geometry/volume";
import { scaledVolume } from "../../src/core/volumes/resample";
import { graphOf, outputsOf } from "../run-node";

const volumeOf = ({ shape }: ShapeAsset): Volume => {
  if (!shape.volume) throw new Error("There is no volume.");
  return shape.volume;
};

/** A header as the format's page has it, and bytes after it. */
const nrrd = (lines: readonly string[], values: Uint8Array | string): Uint8Array => {
  const head = new TextEncoder().encode(`NRRD0004\n${lines.join("\n")}\n\n`);
  const body = typeof values === "string" ? new TextEncoder().encode(values) : values;
  const all = new Uint8Array(head.length + body.length);
  all.set(head);
  all.set(body, head.length);
  return all;
};
const HEADER = ["type: uint8", "dimension: 3", "sizes: 3 2 2", "encoding: text", "spacings: 0.5 0.5 0.5"];
const COUNTED = "0 51 102 153 204 255 255 204 153 102 51 0";

/** A ball of distances with colours, as the studio makes it. */
const made = (): Volume => {
  const graph = graphOf(
    {
      ball: { type: "sphere", set: { build: "geodesic", detail: 3 } },
      red: { type: "tint" },
      it: { type: "volume-from-shape", set: { voxel: 0.2 } },
    },
    ["ball.shape>red.shape", "red.shape>it.shape"],
  );
  return (outputsOf(graph, "it").shape as { volume: Volume }).volume;
};

describe("NRRD", () => {
  it("as text: whole numbers from 0 to 1, x fastest, where the spacing puts them", () => {
    const volume = volumeOf(readNrrd(nrrd(HEADER, COUNTED)));
    const reader = new VolumeReader(volume, "density");
    expect(volume.voxel).toBe(0.5);
    expect(reader.at(0.5, 0, 0)).toBeCloseTo(0.2, 6);
    expect(reader.at(1, 0.5, 0)).toBeCloseTo(1, 6);
    expect(reader.at(0, 0, 0.5)).toBeCloseTo(1, 6);
    expect(reader.at(0, 0.5, 0.5)).toBeCloseTo(0.4, 6);
    expect(reader.at(3, 0, 0)).toBe(0);
  });

  it("comes back as it was written, raw or packed: every value in its place", () => {
    const volume = made();
    const bytes = writeNrrd({ volume });
    const text = new TextDecoder("latin1").decode(bytes);
    const from = text.indexOf("\n\n") + 2;
    const packed = nrrd(
      text
        .slice(0, from - 2)
        .replace("encoding: raw", "encoding: gzip")
        .split("\n")
        .slice(1),
      gzipSync(bytes.subarray(from)),
    );
    for (const file of [bytes, packed]) {
      const again = volumeOf(readNrrd(file));
      expect([again.voxel, again.band]).toEqual([volume.voxel, expect.closeTo(volume.band, 6)]);
      for (const [name, lanes] of [
        ["distance", 1],
        ["color", 4],
      ] as const)
        for (let lane = 0; lane < lanes; lane++) {
          const [was, is] = [new VolumeReader(volume, name, lane), new VolumeReader(again, name, lane)];
          eachVoxel(again, (_, x, y, z) => {
            const at = [x, y, z].map((v) => Math.round(v / 0.2)) as [number, number, number];
            if (Math.abs(was.voxel(...at)) < volume.band)
              expect(is.voxel(...at)).toBeCloseTo(was.voxel(...at), 6);
          });
        }
    }
  });

  it("reads what three's loader reads: 16 bits of either order", () => {
    for (const endian of ["little", "big"]) {
      const bytes = new Uint8Array(24);
      const view = new DataView(bytes.buffer);
      for (let i = 0; i < 12; i++) view.setUint16(i * 2, i * 5000, endian === "little");
      const file = nrrd(
        ["type: ushort", "dimension: 3", "sizes: 3 2 2", "encoding: raw", `endian: ${endian}`],
        bytes,
      );
      const reader = new VolumeReader(volumeOf(readNrrd(file)), "density");
      for (let i = 0; i < 12; i++)
        expect(reader.voxel(i % 3, Math.floor(i / 3) % 2, Math.floor(i / 6))).toBeCloseTo(
          (i * 5000) / 65_535,
          6,
        );
      if (endian === "big") continue;
      const { data } = new NRRDLoader().parse(file.slice().buffer as unknown as string) as unknown as {
        data: Uint16Array;
      };
      expect([...data]).toEqual(Array.from({ length: 12 }, (_, i) => i * 5000));
    }
  });

  it("turns axes round that run backwards, and lays uneven voxels on cubes", () => {
    const back = readNrrd(
      nrrd(
        [
          ...HEADER.filter((line) => !line.startsWith("spac")),
          "space dimension: 3",
          "space directions: (-1,0,0) (0,1,0) (0,0,2)",
          "space origin: (2,0,0)",
        ],
        COUNTED,
      ),
    );
    const reader = new VolumeReader(volumeOf(back), "density");
    expect(reader.at(2, 0, 0)).toBeCloseTo(0, 6);
    expect(reader.at(1, 0, 0)).toBeCloseTo(0.2, 6);
    expect(reader.at(0, 0, 2)).toBeCloseTo(0.6, 6);
    // Half-way between two slices that are two units apart: (0.2 + 0.8) ÷ 2.
    expect(reader.at(1, 0, 1)).toBeCloseTo(0.5, 6);
  });

  it.each([
    ["no NRRD", new Uint8Array(40), "does not begin"],
    ["too few values", nrrd(HEADER, "1 2 3"), "3 values where its sizes ask for 12"],
    ["values elsewhere", nrrd([...HEADER, "data file: there.raw"], ""), "another file"],
    ["no sizes", nrrd(["type: float", "dimension: 3", "encoding: raw"], ""), '"sizes"'],
    [
      "turned axes",
      nrrd([...HEADER, "space directions: (0,1,0) (1,0,0) (0,0,1)"], COUNTED),
      "axes are turned",
    ],
    ["a picture", nrrd(["type: float", "dimension: 2", "sizes: 2 2", "encoding: raw"], ""), "2 dimensions"],
    [
      "far too much",
      nrrd(["type: float", "dimension: 3", "sizes: 9000 9000 9000", "encoding: gzip"], ""),
      "coarser",
    ],
    ["an unknown packing", nrrd([...HEADER.slice(0, 3), "encoding: bzip2"], ""), '"bzip2"'],
    [
      "a damaged packing",
      nrrd([...HEADER.slice(0, 3), "encoding: gzip"], "no such thing"),
      "cannot be unpacked",
    ],
  ])("refuses %s in words", async (_, bytes, words) => {
    await expect(readAsset("scan.nrrd", bytes)).rejects.toThrow(words);
  });
});

describe("a stack of pictures", () => {
  const grey = (width: number, height: number, of: (x: number, y: number) => number) =>
    encode({
      width,
      height,
      channels: 1,
      depth: 8,
      data: Uint8Array.from({ length: width * height }, (_, i) => of(i % width, Math.floor(i / width))),
    });

  it("comes back as it left, as PNG within a 65,535th of its range and as OpenEXR as it was", () => {
    const volume = made();
    for (const [as, digits] of [
      ["png", 5],
      ["exr", 6],
    ] as const) {
      const again = volumeOf(readSlices(writeSlices({ volume }, as)));
      expect(again.voxel).toBe(volume.voxel);
      const [was, is] = [new VolumeReader(volume, "distance"), new VolumeReader(again, "distance")];
      for (const x of [-1, -0.4, 0, 0.6, 1])
        for (const y of [-0.8, 0, 1]) expect(is.at(x, y, 0.2)).toBeCloseTo(was.at(x, y, 0.2), digits);
    }
  });

  it("without a word about it is density by brightness, in the order of numbers, two units long", () => {
    const files = Object.fromEntries(
      ["cut2.png", "cut10.png", "cut1.png"].map((name) => [
        name,
        grey(4, 2, (x, y) => (name === "cut10.png" ? 255 : name === "cut2.png" ? 102 : y === 0 ? 51 * x : 0)),
      ]),
    );
    const volume = volumeOf(readSlices(zipSync({ ...files, "notes.txt": strToU8("no picture") })));
    expect(volume.voxel).toBe(0.5);
    const { min, max } = shapeBounds({ volume }) ?? { min: [0], max: [0] };
    expect(min[0]).toBeLessThanOrEqual(-0.75);
    expect(max[0]).toBeGreaterThanOrEqual(0.75);
    const values: number[] = [];
    eachVoxel(volume, (at) => values.push(Number(volume.voxels.columns.density.lanes[0][at].toFixed(3))));
    const count = (v: number) => values.filter((one) => one === v).length;
    expect([count(1), count(0.4), count(0.2), count(0.6)]).toEqual([8, 9, 1, 1]);
  });

  it.each([
    ["no pictures", zipSync({ "a.txt": strToU8("a") }), "no pictures"],
    [
      "pictures of two sizes",
      zipSync({ "a.png": grey(2, 2, () => 9), "b.png": grey(3, 2, () => 9) }),
      "3 × 2",
    ],
    ["a damaged picture", zipSync({ "a.png": strToU8("no") }), '"a.png"'],
    ["what is no ZIP", strToU8("no such thing"), "cut short"],
  ])("refuses %s in words", async (_, bytes, words) => {
    await expect(readAsset("stack.zip", bytes)).rejects.toThrow(words);
  });
});

it("a volume grows with its voxels: distances too, and nothing is read anew", () => {
  const volume = made();
  const twice = scaledVolume(volume, 2);
  expect([twice.voxel, twice.band]).toEqual([0.4, volume.band * 2]);
  const [was, is] = [new VolumeReader(volume, "distance"), new VolumeReader(twice, "distance")];
  for (const x of [0, 0.5, 0.9, 1.1]) expect(is.at(2 * x, 0.2, 0)).toBeCloseTo(2 * was.at(x, 0.1, 0), 6);
});
