/** Pictures as assets: PNG against pngjs, JPEG against its own encoder, sampling by hand. */

import { encode } from "fast-png";
import jpeg from "jpeg-js";
import { PNG } from "pngjs";
import type { AssetLookup } from "../../src/core/evaluate/options";
import type { Value } from "../../src/core/fields/expression";
import { runValues } from "../../src/core/fields/run";
import { readAsset } from "../../src/core/formats/read/read-asset";
import { makeColumn } from "../../src/core/geometry/column";
import { makeSites, type Shape } from "../../src/core/geometry/shape";
import { decodeSrgb } from "../../src/core/maths/color";
import type { Picture } from "../../src/core/maths/picture";
import { readsMutated } from "../mutated";
import { evaluate, graphOf } from "../run-node";

const pictureOf = async (file: string, bytes: Uint8Array): Promise<Picture> => {
  const content = await readAsset(file, bytes);
  if (content.kind !== "picture") throw new Error("not a picture");
  return content.picture;
};

/** 3 × 2 pixels of all sorts, written by pngjs. */
function png(): { bytes: Uint8Array; rgba: number[] } {
  const image = new PNG({ width: 3, height: 2 });
  const rgba = [
    255, 0, 0, 255, 0, 255, 0, 128, 0, 0, 255, 0, 10, 20, 30, 255, 250, 240, 230, 255, 128, 128, 128, 64,
  ];
  image.data = Buffer.from(rgba);
  return { bytes: new Uint8Array(PNG.sync.write(image)), rgba };
}

describe("PNG and JPEG", () => {
  it("reads what pngjs writes, sample by sample", async () => {
    const { bytes, rgba } = png();
    const picture = await pictureOf("a.png", bytes);
    expect([picture.width, picture.height]).toEqual([3, 2]);
    expect([...picture.samples]).toEqual(rgba);
  });

  it.each([
    [1, 8, [7, 200], [7, 7, 7, 255, 200, 200, 200, 255]],
    [2, 8, [7, 100, 200, 0], [7, 7, 7, 100, 200, 200, 200, 0]],
    [3, 8, [1, 2, 3, 4, 5, 6], [1, 2, 3, 255, 4, 5, 6, 255]],
    [1, 16, [7, 60000], [7, 7, 7, 65535, 60000, 60000, 60000, 65535]],
  ] as const)("reads %i samples of %i bits a pixel", async (channels, depth, samples, expected) => {
    const data = depth === 16 ? Uint16Array.from(samples) : Uint8Array.from(samples);
    const bytes = encode({ width: 2, height: 1, data, channels, depth });
    expect([...(await pictureOf("a.png", bytes)).samples]).toEqual(expected);
  });

  it("reads a JPEG within the loss of its compression", async () => {
    const data = new Uint8Array(16 * 16 * 4).fill(255);
    for (let i = 0; i < 256; i++) data.set([200, 90, 40], i * 4);
    const { data: bytes } = jpeg.encode({ width: 16, height: 16, data }, 95);
    const { samples } = await pictureOf("a.jpg", new Uint8Array(bytes));
    for (const [c, wanted] of [200, 90, 40].entries()) expect(Math.abs(samples[c] - wanted)).toBeLessThan(4);
  });

  it.each([
    ["a.png", new Uint8Array([1, 2, 3]), "does not begin as a PNG"],
    ["a.jpg", new Uint8Array([1, 2, 3]), "does not begin as a JPEG"],
    ["a.jpg", new Uint8Array([0xff, 0xd8, 0xff, 0xd9]), "names no size"],
  ])("refuses a damaged %s", async (file, bytes, what) => {
    await expect(readAsset(file, bytes)).rejects.toThrow(what);
  });

  it("refuses a small file that promises a huge picture", async () => {
    const { bytes } = png();
    new DataView(bytes.buffer).setUint32(16, 100_000);
    new DataView(bytes.buffer).setUint32(20, 100_000);
    await expect(readAsset("a.png", bytes)).rejects.toThrow("million");
  });

  it("answers 2,000 mutated files of each with a picture or a message", async () => {
    const noise = Uint8Array.from({ length: 32 * 32 * 4 }, (_, i) => (i * 97) % 251);
    const originals: Record<string, Uint8Array> = {
      "a.png": png().bytes,
      "a.jpg": new Uint8Array(jpeg.encode({ width: 32, height: 32, data: noise }, 60).data),
    };
    await readsMutated(originals, async (file, bytes) => {
      const { width, height, samples } = await pictureOf(file, bytes);
      if (samples.length !== width * height * 4) throw new TypeError("bad size");
    });
  }, 60_000);
});

describe("picture sample", () => {
  const assets = async (): Promise<AssetLookup> => {
    const content = await readAsset("a.png", png().bytes);
    return () => ({ ok: true, content, version: "1" });
  };
  const sample = async (set: object, places: readonly (readonly [number, number])[], port = "color") => {
    const document = graphOf({
      node: { type: "picture-sample", set: { file: "a", width: 3, lies: "upright, facing z", ...set } },
    });
    const { outputs } = evaluate(document, 0, { target: "node", assets: await assets() });
    const value = outputs?.[port];
    const sites = makeSites(places.length, ({ position }) => {
      places.forEach(([x, y], i) => {
        position[0][i] = x;
        position[1][i] = y;
      });
    });
    return runValues((Array.isArray(value) ? value : [value]) as Value[], sites).lanes;
  };

  it("reads pixel centres exactly, in linear light, the first row on top", async () => {
    const [r, g, b, a] = await sample({}, [
      [-1, 0.5],
      [0, 0.5],
      [-1, -0.5],
    ]);
    expect([r[0], g[0], b[0], a[0]]).toEqual([1, 0, 0, 1]);
    expect(g[1]).toBe(1);
    expect(a[1]).toBeCloseTo(128 / 255, 6);
    // IEC 61966-2-1 through the decoder that is tested against culori.
    expect(b[2]).toBeCloseTo(decodeSrgb(30 / 255), 6);
  });

  it("lies around surfaces: a sheet as wide as the picture has what one on the ground gives it", async () => {
    const read = async (set: object) => {
      const document = graphOf(
        {
          sheet: { type: "plane", set: { width: 3, depth: 2, across: 3, deep: 2 } },
          sites: { type: "scatter-sites", set: { count: 200 } },
          picture: { type: "picture-sample", set: { file: "a", width: 3, ...set } },
          tint: { type: "tint", set: { how: "mix" } },
        },
        ["sheet.shape>sites.shape", "sites.sites>tint.shape", "picture.color>tint.color"],
      );
      const { outputs } = evaluate(document, 0, { target: "tint", assets: await assets() });
      const shape = outputs?.shape as Shape | undefined;
      return shape?.sites?.columns.color.lanes.map((lane) => [...lane]) ?? [];
    };
    const [around, flat] = [
      await read({ lies: "around the surface" }),
      await read({ lies: "on the ground" }),
    ];
    expect(new Set(flat[0]).size).toBeGreaterThan(20);
    around.forEach((lane, c) => {
      lane.forEach((v, i) => {
        expect(v).toBeCloseTo(flat[c][i], 4);
      });
    });
    const hard = { smooth: false };
    expect(await read({ ...hard, lies: "around the surface" })).toEqual(
      await read({ ...hard, lies: "on the ground" }),
    );
  });

  it("goes on at the other edge past one, as glTF's samplers do by default; edges stay", async () => {
    const document = graphOf({
      node: { type: "picture-sample", set: { file: "a", lies: "around the surface", outside: "nothing" } },
    });
    const { outputs } = evaluate(document, 0, { target: "node", assets: await assets() });
    const read = (us: number[], vs: number[]) => {
      const uv = makeColumn("pair", [Float32Array.from(us), Float32Array.from(vs)]);
      return runValues(outputs?.color as Value[], { count: us.length, columns: { uv } }).lanes.map((lane) => [
        ...lane,
      ]);
    };
    // Fractions that float32 holds exactly.
    const us = [0.125, 0.25, 0.625, 0.875];
    const vs = [0.25, 0.5, 0.75, 0.125];
    const inside = read(us, vs);
    expect(new Set(inside.map((lane) => lane.join(" "))).size).toBeGreaterThan(1);
    for (const [du, dv] of [
      [1, 0],
      [-1, 0],
      [0, 1],
      [3, -2],
    ])
      expect(
        read(
          us.map((u) => u + du),
          vs.map((v) => v + dv),
        ),
      ).toEqual(inside);
    const edges = read([0, 1, 0.01, 0.99], [0, 1, 0.01, 0.99]);
    for (const [low, high, inLow, inHigh] of edges) {
      expect(low).toBeCloseTo(inLow, 6);
      expect(high).toBeCloseTo(inHigh, 6);
    }
  });

  it("mixes neighbours by alpha, so that clear pixels lend no colour", async () => {
    const [, g, b, a] = await sample({}, [[0.5, 0.5]]);
    expect([g[0], b[0]]).toEqual([1, 0]);
    expect(a[0]).toBeCloseTo(64 / 255, 3);
  });

  it("holds, repeats, mirrors or ends beyond its edges", async () => {
    const beyond: [number, number][] = [[-2, 0.5]];
    expect((await sample({ outside: "hold" }, beyond))[0][0]).toBeCloseTo(1, 6);
    expect((await sample({ outside: "repeat" }, beyond))[3][0]).toBeCloseTo(0, 6);
    expect((await sample({ outside: "mirrored" }, beyond))[0][0]).toBeCloseTo(1, 6);
    expect((await sample({ outside: "nothing" }, beyond))[3][0]).toBe(0);
    // Period 2n of a mirrored row 0 1 2 | 2 1 0 | 0 1 2.
    const columns = [-1, -3, -4, 3, 5, 6].map((k): [number, number] => [k - 1, 0.5]);
    const alpha = (await sample({ outside: "mirrored", smooth: false }, columns))[3];
    const own = (
      await sample({ smooth: false }, [
        [-1, 0.5],
        [0, 0.5],
        [1, 0.5],
      ])
    )[3];
    expect([...alpha]).toEqual([0, 2, 2, 2, 0, 0].map((k) => own[k]));
  });

  it("gives brightness as luminance (BT.709)", async () => {
    const [value] = await sample({}, [[-1, 0.5]], "value");
    expect(value[0]).toBeCloseTo(0.2126, 5);
  });

  it("says so when the file is no picture", async () => {
    const document = graphOf({ node: { type: "import", set: { file: "a" } } });
    const { report } = evaluate(document, 0, { target: "node", assets: await assets() });
    expect(report.nodes.node.problems[0].what).toContain("takes a shape");
  });

  it.each(["picture-sample", "trace-picture", "picture-sites"])(
    "tells what was mended in the file, as %s does",
    async (type) => {
      const content = { ...(await readAsset("a.png", png().bytes)), notes: ["3 pixels are not numbers"] };
      const document = graphOf({ node: { type, set: { file: "a" } } });
      const lookup: AssetLookup = () => ({ ok: true, content, version: "1" });
      const { problems } = evaluate(document, 0, { target: "node", assets: lookup }).report.nodes.node;
      expect(problems.map(({ what, input }) => [what, input])).toContainEqual([
        "3 pixels are not numbers",
        "file",
      ]);
    },
  );
});
