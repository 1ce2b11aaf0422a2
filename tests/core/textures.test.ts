/** Pictures on surfaces: their sets, the layers that a graphics card takes, and as textures of glTF 2.0 (Khronos specification §3.9). */
import { WebIO } from "@gltf-transform/core";
import { ALL_EXTENSIONS, type Transform } from "@gltf-transform/extensions";
import { validateBytes } from "gltf-validator";
import { PNG } from "pngjs";
import { drawingOf } from "../../src/core/draw/drawing";
import { SET_WIDTH, textureSheet } from "../../src/core/draw/texture-sheet";
import type { AssetLookup } from "../../src/core/evaluate/options";
import type { PictureAsset, ShapeAsset } from "../../src/core/formats/read/asset";
import { readAsset } from "../../src/core/formats/read/read-asset";
import { writeGlb } from "../../src/core/formats/write/glb";
import type { Mesh } from "../../src/core/geometry/mesh";
import type { Shape } from "../../src/core/geometry/shape";
import { type TextureSet, textureSet } from "../../src/core/geometry/textures";
import type { Picture } from "../../src/core/maths/picture";
import { resampled } from "../../src/core/maths/picture-resampled";
import type { Setting } from "../../src/core/nodes/ports";
import { evaluate, graphOf } from "../run-node";

const pictureOf = (width: number, height: number, pixel: (x: number, y: number) => number[]): Picture => ({
  width,
  height,
  samples: Uint8Array.from(
    Array.from({ length: width * height }, (_, i) => pixel(i % width, Math.floor(i / width))).flat(),
  ),
});
const RED = [200, 40, 30, 255];
const BLUE = [20, 60, 220, 255];
const halves = () => pictureOf(4, 2, (x) => (x < 2 ? RED : BLUE));
const SETTINGS = { lies: "by UV", covers: "over its colour", size: 1, times: 1, height: 0.05 } as const;

describe("a set of pictures", () => {
  it("has a number that follows from what is in it, and no other does", () => {
    const number = (set: TextureSet | null) => set?.number;
    const first = number(textureSet({ color: halves() }, SETTINGS));
    expect(number(textureSet({ color: halves() }, SETTINGS))).toBe(first);
    const others = [
      textureSet({ bump: halves() }, SETTINGS),
      textureSet({ color: halves() }, { ...SETTINGS, times: 2 }),
      textureSet({ color: pictureOf(4, 2, (x) => (x < 3 ? RED : BLUE)) }, SETTINGS),
      textureSet({ color: pictureOf(2, 4, (x) => (x < 1 ? RED : BLUE)) }, SETTINGS),
    ].map(number);
    expect(new Set([first, ...others]).size).toBe(5);
    for (const one of others) expect(Math.fround(one as number)).toBe(one);
    expect(textureSet({}, SETTINGS)).toBeNull();
  });
});

describe("a picture in another size", () => {
  it("keeps what is even, and its mean in linear light when it is smaller", () => {
    const even = resampled(
      pictureOf(5, 3, () => RED),
      8,
      8,
    );
    for (let i = 4; i < even.length; i++) expect(even[i]).toBeCloseTo(even[i % 4], 6);
    const source = pictureOf(16, 16, (x, y) => [(x * 16) % 256, (y * 16) % 256, 99, 255]);
    const mean = (pixels: Float32Array, c: number) =>
      pixels.filter((_, i) => i % 4 === c).reduce((a, b) => a + b, 0) / (pixels.length / 4);
    const [whole, small] = [resampled(source, 16, 16), resampled(source, 4, 4)];
    // A tent counts the border a little less; the middle of it all stays within a hundredth.
    for (const c of [0, 1, 2]) expect(Math.abs(mean(small, c) - mean(whole, c))).toBeLessThan(0.01);
  });

  it("lets clear pixels have no say in the colour of what is beside them", () => {
    const pixels = resampled(
      pictureOf(2, 1, (x) => (x === 0 ? [255, 255, 255, 255] : [0, 255, 0, 0])),
      1,
      1,
    );
    expect([0, 1, 2].map((c) => pixels[c] / pixels[3])).toEqual([1, 1, 1]);
    expect(pixels[3]).toBeCloseTo(0.5, 6);
  });
});

describe("layers for the graphics card", () => {
  it("give back colours within a step, and say which lies where", () => {
    const color = halves();
    const set = textureSet({ color, emission: color, bump: color }, { ...SETTINGS, times: 3 }) as TextureSet;
    const sheet = textureSheet([set]);
    if (!sheet) throw new Error("no sheet");
    // One of light, one of plain numbers.
    expect([sheet.across, sheet.count, sheet.sets.length]).toEqual([4, 2, SET_WIDTH]);
    expect([...sheet.sets.slice(0, 9)]).toEqual([set.number, 0, -1, -1, 0, 1, 0, 0, 3]);
    // On dots it keeps its form: twice as wide as high.
    expect(sheet.sets[11]).toBe(2);
    for (const layer of [0, 1])
      for (const [x, wanted] of [
        [0, RED],
        [3, BLUE],
      ] as const)
        for (let c = 0; c < 4; c++)
          expect(
            Math.abs(sheet.layers[(layer * 16 + x) * 4 + c] - encoded(layer, wanted[c], c)),
          ).toBeLessThanOrEqual(1);
  });

  // Numbers that are no colours are encoded as sRGB (IEC 61966-2-1), so that what the card decodes are the numbers.
  const encoded = (layer: number, byte: number, c: number): number => {
    if (layer === 0 || c === 3) return byte;
    const v = byte / 255;
    return 255 * (v <= 0.0031308 ? 12.92 * v : 1.055 * v ** (1 / 2.4) - 0.055);
  };

  it("are square and no larger than there is need, and halved where there are many", () => {
    const many = Array.from({ length: 5 }, (_, i) =>
      textureSet({ color: pictureOf(3000, 1, () => [i, 0, 0, 255]) }, SETTINGS),
    ) as TextureSet[];
    expect(textureSheet(many.slice(0, 1))?.across).toBe(2048);
    expect(textureSheet(many)?.across).toBe(1024);
    expect(textureSheet([])).toBeNull();
  });
});

/** A sheet with pictures on it. */
const textured = (set: Record<string, Setting>, nodes = {}, links = ["plane.shape>it.shape"]) =>
  graphOf({ plane: { type: "plane" }, ...nodes, it: { type: "textures", set }, stage: { type: "stage" } }, [
    ...links,
    "it.shape>stage.shape",
  ]);
const asset: PictureAsset = { kind: "picture", picture: halves() };
const assets: AssetLookup = (name) =>
  name === "halves" ? { ok: true, content: asset, version: "1" } : { ok: false, message: "none" };

describe("the node", () => {
  it("names its set on the elements, and the evaluation tells of it", () => {
    const { shape, textures } = evaluate(textured({ color: "halves", times: 2 }), 0, { assets });
    expect(textures).toHaveLength(1);
    expect(new Set(shape?.mesh?.points.columns.textures.lanes[0])).toEqual(new Set([textures[0].number]));
    expect(textures[0].pictures.color).toBe(asset.picture);
  });

  it("goes on lying there after a material", () => {
    const document = textured({ color: "halves" }, { made: { type: "material", set: { kind: "brass" } } });
    const { links } = document.graph;
    const after = {
      ...document,
      graph: {
        ...document.graph,
        links: [
          ...links.filter(({ to }) => to !== "stage.shape"),
          { from: "it.shape", to: "made.shape" },
          { from: "made.shape", to: "stage.shape" },
        ],
      },
    };
    const { shape, textures } = evaluate(after, 0, { assets });
    expect(shape?.mesh?.points.columns.textures.lanes[0][0]).toBe(textures[0].number);
  });

  it.each([
    ["no picture", {}, undefined, "No picture is chosen"],
    [
      "no UV",
      { color: "halves" },
      { box: { type: "box" }, bare: { type: "dual" } },
      "does not say where it lies on pictures",
    ],
  ] as const)("says so when there is %s", (_, set, nodes, words) => {
    const document = textured(
      set,
      nodes,
      nodes ? ["box.shape>bare.shape", "bare.shape>it.shape"] : undefined,
    );
    const { report } = evaluate(document, 0, { assets });
    expect(report.nodes.it.problems.map(({ what }) => what).join()).toContain(words);
  });
});

describe("as glTF", () => {
  const written = async (shape: Shape, textures: readonly TextureSet[]) => {
    const bytes = await writeGlb(drawingOf(shape), { copies: "baked", name: "pictured", textures });
    expect((await validateBytes(bytes)).issues.numErrors).toBe(0);
    return bytes;
  };
  const madeOf = (set: Record<string, Setting>) => {
    const { shape, textures } = evaluate(textured(set), 0, { assets });
    return written(shape as Shape, textures);
  };

  it("is PNG that another reader reads, repeated as often", async () => {
    const bytes = await madeOf({ color: "halves", roughness: "halves", times: 3 });
    const root = (await new WebIO().registerExtensions(ALL_EXTENSIONS).readBinary(bytes)).getRoot();
    const [made] = root.listMaterials();
    const image = made.getBaseColorTexture()?.getImage() as Uint8Array;
    const { width, height, data } = PNG.sync.read(Buffer.from(image));
    expect([width, height, ...data.subarray(0, 4)]).toEqual([4, 2, ...RED]);
    const rough = PNG.sync.read(Buffer.from(made.getMetallicRoughnessTexture()?.getImage() as Uint8Array));
    // Roughness is the green channel (§3.9.2); metalness, which is not said, stays as it is.
    expect([rough.data[1], rough.data[2]]).toEqual([RED[1], 255]);
    const repeats = made.getBaseColorTextureInfo()?.getExtension<Transform>("KHR_texture_transform");
    expect(repeats?.getScale()).toEqual([3, 3]);
  });

  it("comes back with its pictures", async () => {
    const bytes = await madeOf({ color: "halves", metalness: "halves", covers: "cut out" });
    const { shape, textures } = (await readAsset("a.glb", bytes)) as ShapeAsset;
    const [set] = textures as TextureSet[];
    expect((shape.mesh as Mesh).points.columns.textures.lanes[0][0]).toBe(set.number);
    expect([...(set.pictures.color as Picture).samples]).toEqual([...asset.picture.samples]);
    expect(set.pictures.metalness?.samples[0]).toBe(RED[1]);
    expect(set.covers).toBe("cut out");
  });
});
