/** Pictures above 1 and look-ups: against files written by hand after their specifications, and against three's writer. */
import { DataTexture, DataUtils, FloatType, RGBAFormat } from "three";
import { EXRExporter } from "three/examples/jsm/exporters/EXRExporter.js";
import { EXRLoader } from "three/examples/jsm/loaders/EXRLoader.js";
import type { LookUpAsset, PictureAsset } from "../../src/core/formats/read/asset";
import { readAsset } from "../../src/core/formats/read/read-asset";
import { writeExr } from "../../src/core/formats/write/exr";
import { fromHalf } from "../../src/core/maths/half";
import { linearTable } from "../../src/core/maths/picture";
import { exrChannels } from "../exr-channels";

const text = (words: string): number[] => [...new TextEncoder().encode(words)];

async function lightOf(file: string, bytes: Uint8Array) {
  const { picture, notes } = (await readAsset(file, bytes)) as PictureAsset;
  const table = linearTable(picture);
  const { samples } = picture;
  return {
    ...picture,
    notes,
    at: (pixel: number) => [0, 1, 2].map((c) => table[samples[pixel * 4 + c]]),
    alpha: (pixel: number) => samples[pixel * 4 + 3] / 65535,
  };
}

/** G. Ward, "Real pixels" (1991): each pixel is three mantissas and an exponent; (m + 0.5 or m) ÷ 256 × 2^(e − 128), here as (m ÷ 256) 2^(e − 128). */
const radiance = (pixels: readonly number[][], width: number, height: number): Uint8Array =>
  Uint8Array.from([
    ...text(`#?RADIANCE\n# made by hand\nFORMAT=32-bit_rle_rgbe\n\n-Y ${height} +X ${width}\n`),
    ...pixels.flat(),
  ]);

describe("numbers of 16 bits", () => {
  it("are as IEEE 754 has them, and as three reads them", () => {
    // Table of the standard's binary16: one, the greatest, the least normal and the least of all.
    expect([0x3c00, 0x7bff, 0x0400, 0x0001, 0xc000, 0x3555].map(fromHalf)).toEqual([
      1,
      65504,
      2 ** -14,
      2 ** -24,
      -2,
      0.333251953125,
    ]);
    for (let bits = 0; bits < 65536; bits += 7) {
      const wanted = DataUtils.fromHalfFloat(bits);
      if (Number.isFinite(wanted)) expect(fromHalf(bits)).toBe(wanted);
    }
  });
});

describe("Radiance pictures", () => {
  it("hold the light that their mantissas and exponents say, above 1 too", async () => {
    const picture = await lightOf(
      "sky.hdr",
      radiance(
        [
          [128, 64, 32, 129],
          [128, 128, 128, 136],
          [0, 0, 0, 0],
          [255, 1, 128, 120],
        ],
        2,
        2,
      ),
    );
    expect([picture.width, picture.height]).toEqual([2, 2]);
    expect(picture.at(0)).toEqual([1, 0.5, 0.25]);
    expect(picture.at(1)).toEqual([128, 128, 128]);
    expect(picture.at(2)).toEqual([0, 0, 0]);
    // Halves keep eleven bits.
    [255, 1, 128].forEach((m, c) => {
      const wanted = (m / 256) * 2 ** -8;
      expect(Math.abs(picture.at(3)[c] / wanted - 1)).toBeLessThan(2 ** -10);
    });
    expect(picture.alpha(0)).toBe(1);
  });

  it("are refused in words when they are cut short, have no pixels or too many", async () => {
    const said = (bytes: Uint8Array) => readAsset("sky.hdr", bytes).then(String, (e: Error) => e.message);
    expect(await said(radiance([], 0, 0))).toMatch(/"sky.hdr": it has no pixels/);
    expect(await said(radiance([], 99_999, 99_999))).toMatch(/the limit is/);
    expect(await said(Uint8Array.from(text("#?RADIANCE\n\n")))).toMatch(/how many pixels/);
    expect(await said(Uint8Array.from(text("P6 no")))).toMatch(/does not begin as a Radiance/);
  });
});

describe("OpenEXR pictures", () => {
  async function written(values: Float32Array, width: number, height: number): Promise<Uint8Array> {
    const texture = new DataTexture(values, width, height, RGBAFormat, FloatType);
    texture.needsUpdate = true;
    return new EXRExporter().parse(texture, { type: FloatType }) as unknown as Promise<Uint8Array>;
  }

  it("come as three writes them, upright, with what is above 1 and with alpha", async () => {
    // Textures have their first row below, pictures have it above.
    const values = Float32Array.from([
      ...[0.25, 0.5, 1, 1],
      ...[4, 8, 16, 0.5],
      ...[0, 0, 0, 0],
      ...[1000, 0.125, 2, 1],
    ]);
    const picture = await lightOf("room.exr", await written(values, 2, 2));
    expect(picture.at(2)).toEqual([0.25, 0.5, 1]);
    expect(picture.at(3)).toEqual([4, 8, 16]);
    expect(picture.alpha(3)).toBeCloseTo(0.5, 4);
    expect(picture.at(1)).toEqual([1000, 0.125, 2]);
    expect(picture.alpha(0)).toBe(0);
    expect(picture.notes).toBeUndefined();
  });

  it("say how many pixels are not numbers, and take them as black", async () => {
    const values = Float32Array.from([Number.NaN, 1, 1, 1, Number.POSITIVE_INFINITY, -1, 2, 1]);
    const picture = await lightOf("room.exr", await written(values, 2, 1));
    expect(picture.notes?.[0]).toMatch(/^1 of its 2 pixels are not numbers/);
    expect(picture.at(0)[0]).toBe(0);
    expect(picture.at(1)).toEqual([65504, 0, 2]);
  });

  it("are refused when they are something else", async () => {
    await expect(readAsset("room.exr", Uint8Array.of(1, 2, 3, 4, 5))).rejects.toThrow(/OpenEXR/);
    await expect(readAsset("room.exr", Uint8Array.of(0x76, 0x2f, 0x31, 1, 2))).rejects.toThrow(/cut short/);
  });
});

describe("look-ups", () => {
  const read = async (words: string) =>
    ((await readAsset("warm.cube", new TextEncoder().encode(words))) as LookUpAsset).lookUp;
  // Red runs fastest ("Cube LUT Specification" 1.0).
  const corners = Array.from({ length: 8 }, (_, i) => `${i & 1} ${(i >> 1) & 1} ${i >> 2}`);

  it("hold a colour for each place of the table, red running fastest", async () => {
    const lookUp = await read(
      `TITLE "by hand"\r\n# words\nLUT_3D_SIZE 2\nDOMAIN_MIN 0 0 0\nDOMAIN_MAX 2 1 1\n\n  ${corners.join("\n\t")}\n`,
    );
    expect(lookUp).toMatchObject({ size: 2, least: [0, 0, 0], most: [2, 1, 1] });
    expect([...lookUp.colors.subarray(4, 8)]).toEqual([1, 0, 0, 1]);
    expect([...lookUp.colors.subarray(6 * 4, 6 * 4 + 3)]).toEqual([0, 1, 1]);
  });

  it.each([
    ["LUT_1D_SIZE 16\n", /one dimension/],
    ["0 0 0\n", /how large its table is/],
    [`LUT_3D_SIZE 2\n${corners.slice(1).join("\n")}`, /has 7 colours, and a table of 2 has 8/],
    [`LUT_3D_SIZE 2\n${corners.join("\n").replace("1 1 1", "1 1")}`, /line 9 should have three numbers/],
    [`LUT_3D_SIZE 2\nDOMAIN_MIN 1 0 0\nDOMAIN_MAX 0 1 1\n${corners.join("\n")}`, /could not|domain|readable/],
  ])("are refused when they do not fit: %#", async (words, wanted) => {
    await expect(read(words)).rejects.toThrow(wanted);
  });
});

describe("OpenEXR that is written", () => {
  const [width, height] = [5, 37];
  const ramp = (scale: number) => Float32Array.from({ length: width * height }, (_, i) => (i - 3) * scale);
  const lanes = { R: ramp(0.25), G: ramp(1), B: ramp(40), A: ramp(0).fill(1), Z: ramp(2) };
  const mask = Float32Array.from({ length: width * height }, (_, i) => i * 70_000);
  const file = writeExr(width, height, [
    ...Object.entries(lanes).map(([name, values]) => ({ name, values })),
    { name: "mask.id", values: mask },
  ]);

  it("is read by three as it was written, over blocks of rows", () => {
    const read = new EXRLoader().setDataType(FloatType).parse(file.buffer) as unknown as {
      readonly width: number;
      readonly height: number;
      readonly data: Float32Array;
    };
    expect([read.width, read.height]).toEqual([width, height]);
    for (let y = 0; y < height; y++)
      for (let x = 0; x < width; x++) {
        const from = ((height - 1 - y) * width + x) * 4;
        const wanted = [lanes.R, lanes.G, lanes.B, lanes.A].map((lane) => lane[y * width + x]);
        expect([...read.data.subarray(from, from + 4)]).toEqual(wanted);
      }
  });

  it("has its channels by the alphabet, with their kinds, as the file layout says", () => {
    const view = new DataView(file.buffer);
    // Magic number and version ("OpenEXR File Layout", § Magic Number).
    expect([view.getUint32(0, true), view.getUint32(4, true)]).toEqual([20_000_630, 2]);
    const head = new TextDecoder("latin1").decode(file.subarray(0, 400));
    const names = ["A", "B", "G", "R", "Z", "mask.id"];
    const begin = head.indexOf("chlist\0") + 11;
    const places = names.map((name) => head.indexOf(`${name}\0`, begin));
    expect([...places].sort((a, b) => a - b)).toEqual(places);
    // FLOAT is 2.
    expect(names.map((name, i) => view.getInt32(places[i] + name.length + 1, true))).toEqual(
      names.map(() => 2),
    );
    // The first block's offset leads to row 0.
    const table =
      head.indexOf("screenWindowWidth\0float\0") + "screenWindowWidth\0float\0".length + 4 + 4 + 1;
    expect(view.getInt32(Number(view.getBigUint64(table, true)), true)).toBe(0);
    expect(view.getInt32(Number(view.getBigUint64(table + 8, true)), true)).toBe(16);
  });

  it("keeps the other channels, as the layout has them", () => {
    const read = exrChannels(file);
    expect(Object.keys(read)).toEqual(["A", "B", "G", "R", "Z", "mask.id"]);
    expect(read.Z).toEqual(lanes.Z);
    expect(read["mask.id"]).toEqual(mask);
  });

  it("comes back as a picture", async () => {
    const picture = await lightOf("own.exr", file);
    expect(picture.at(3 + 4)).toEqual([lanes.R[7], lanes.G[7], lanes.B[7]]);
  });
});
