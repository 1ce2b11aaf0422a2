/** Light on its whole way, from materials, surroundings and lenses to the numbers of the files that are taken away. */
import { decode } from "fast-png";
import { PNG } from "pngjs";
import type { PieceDocument } from "@/core/document/schema";
import { exrChannels } from "../exr-channels";
import { open, piece, takePicture } from "./helpers";
import { expect, test } from "./own-studio";

const [WIDTH, HEIGHT] = [160, 90];
/** Units across a picture of the parallel camera. */
const ACROSS = 8;
const EYE = { projection: "parallel", across: ACROSS, place: [0, 0, 10], target: [0, 0, 0] } as const;
/** A place on the picture of the parallel camera, from its upper left corner. */
const pixelAt = (x: number, y = 0) =>
  Math.round(HEIGHT / 2 - (y * WIDTH) / ACROSS) * WIDTH + Math.round(WIDTH / 2 + (x * WIDTH) / ACROSS);

const COLORS = ["#c4502e", "#102030", "#f3ead6", "#7fa650"];
const PLACES = [-3, -1, 1, 3];
const BEHIND = "#3a4b5c";
/** Nothing but light, under the patches. */
const SPARK = "#402c10";

const patches = (): PieceDocument =>
  piece(
    "Patches",
    [
      ...COLORS.flatMap((color, i): Parameters<typeof piece>[1][number][] => [
        [`box${i}`, "box", 0, i * 300, { size: [1.6, 1.6, 1.6] }],
        [`there${i}`, "transform", 300, i * 300, { move: [PLACES[i], 0, 0] }],
        [`flat${i}`, "material", 600, i * 300, { kind: "as set here", color, shading: "flat" }],
      ]),
      ["spark", "box", 0, 1200, { size: [1, 1, 1] }],
      ["below", "transform", 300, 1200, { move: [0, -1.6, 0] }],
      ["light", "material", 600, 1200, { kind: "as set here", color: SPARK, shading: "light alone" }],
      ["all", "merge", 900, 0],
      ["eye", "camera", 900, 300, { ...EYE }],
      ["look", "finish", 900, 600, { tone: "plain" }],
      ["stage", "stage", 1200, 0, { ground: false, background: BEHIND }],
    ],
    [
      "spark.shape>below.shape",
      "below.shape>light.shape",
      "light.shape>all.shapes",
      ...COLORS.flatMap((_, i) => [
        `box${i}.shape>there${i}.shape`,
        `there${i}.shape>flat${i}.shape`,
        `flat${i}.shape>all.shapes`,
      ]),
      "all.shape>stage.shape",
      "eye.camera>stage.camera",
      "look.finish>stage.finish",
    ],
  );

const linear = (byte: number) => {
  const v = byte / 255;
  return v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4;
};

const bytesOf = (hex: string) => [1, 3, 5].map((at) => Number.parseInt(hex.slice(at, at + 2), 16));

test("colours come through to PNG as they were chosen, in 8 and in 16 bits", async ({ page }) => {
  test.slow();
  await open(page, patches());
  const png = PNG.sync.read(await takePicture(page, WIDTH, /8 bits/));
  const seen = (pixel: number) => [...png.data.subarray(pixel * 4, pixel * 4 + 3)];
  const places: [number, string][] = [
    ...COLORS.map((color, i): [number, string] => [pixelAt(PLACES[i]), color]),
    [pixelAt(0, 2), BEHIND],
  ];
  // Light is added as light: both the front and the back of the box to what is behind (IEC 61966-2-1).
  for (const [c, byte] of bytesOf(SPARK).entries()) {
    const sum = linear(bytesOf(BEHIND)[c]) + 2 * linear(byte);
    expect(Math.abs(linear(seen(pixelAt(0, -1.6))[c]) - sum)).toBeLessThan(0.006);
  }
  for (const [pixel, color] of places)
    for (const [c, byte] of bytesOf(color).entries())
      expect(Math.abs(seen(pixel)[c] - byte), color).toBeLessThanOrEqual(1);

  // It stops when it has told that there is no noise: a thousand looks would take minutes.
  const deep = decode(await takePicture(page, WIDTH, /16 bits/, /until no noise/));
  expect([deep.width, deep.height, deep.depth]).toEqual([WIDTH, HEIGHT, 16]);
  for (const [pixel, color] of places)
    for (const [c, byte] of bytesOf(color).entries())
      expect(Math.abs(deep.data[pixel * 4 + c] / 257 - byte), color).toBeLessThan(0.5);
});

test("depth, facings, motion, numbers of copies and what they give off lie beside the light", async ({
  page,
}) => {
  test.slow();
  await open(
    page,
    piece(
      "Four",
      [
        ["row", "row-sites", 0, 0, { count: 4, from: [-3, 0, 0], to: [3, 0, -6] }],
        ["box", "box", 0, 300, { size: [1.6, 1.6, 1.6] }],
        ["clones", "clone-onto-sites", 300, 0],
        ["number", "index", 300, 600],
        ["lit", "material", 600, 0, { kind: "as set here", color: "#bc0000" }],
        ["clock", "clock", 0, 900],
        ["go", "join-vector", 300, 900],
        ["moved", "move", 600, 900],
        ["eye", "camera", 300, 300, { ...EYE }],
        ["stage", "stage", 900, 0, { ground: false }],
      ],
      [
        "row.sites>clones.sites",
        "box.shape>clones.shapes",
        "clones.clones>lit.shape",
        "number.index>lit.emission",
        "lit.shape>moved.shape",
        "clock.seconds>go.x",
        "go.vector>moved.by",
        "moved.shape>stage.shape",
        "eye.camera>stage.camera",
      ],
    ),
  );
  const channels = exrChannels(await takePicture(page, WIDTH, /OpenEXR/));
  const at = (name: string, pixel: number) => channels[name][pixel];
  // Each farther by two units than the one before; their fronts are 0.8 nearer than their middles.
  for (const [i, x] of PLACES.entries()) {
    const pixel = pixelAt(x);
    expect(at("mask.id", pixel)).toBe(i + 1);
    expect(at("Z", pixel)).toBeCloseTo(10 + 2 * i - 0.8, 4);
    // A unit a second to the right, 20 pixels a unit, at the piece's rate.
    expect(at("motion.X", pixel)).toBeCloseTo(WIDTH / ACROSS / 25, 4);
    expect(at("motion.Y", pixel)).toBeCloseTo(0, 4);
    // As often its colour as its number says, here 0.503 of red (IEC 61966-2-1: sRGB 188), whatever light falls on it.
    expect(at("emission.R", pixel)).toBeCloseTo(0.503 * i, 2.5);
    expect(at("emission.G", pixel)).toBe(0);
    expect(["X", "Y", "Z"].map((axis) => at(`normal.${axis}`, pixel))).toEqual([
      expect.closeTo(0, 5),
      expect.closeTo(0, 5),
      expect.closeTo(1, 5),
    ]);
  }
  expect(["mask.id", "Z", "normal.Z"].map((name) => at(name, pixelAt(0, 2)))).toEqual([0, 0, 0]);
});

test("in even light a white rough ball vanishes, a metal gives back its colour, and a polish as much as its index of refraction says", async ({
  page,
}) => {
  test.slow();
  // White all around (8 × 4 pixels).
  const white = new PNG({ width: 8, height: 4 });
  white.data.fill(255);
  const sent = await page.request.post("/api/assets?file=white.png", { data: PNG.sync.write(white) });
  const asset = (await sent.json()) as { hash: string; bytes: number };
  const balls: Record<string, Record<string, number | string>> = {
    rough: { color: "#ffffff", roughness: 1, bump: 0.05, bumpSize: 0.3 },
    metal: { color: "#bcbcbc", roughness: 0.05, metalness: 1 },
    brushed: { color: "#bcbcbc", roughness: 0.05, metalness: 1, anisotropy: 0.8 },
    polish: { color: "#000000", roughness: 0.05 },
    diamond: { color: "#000000", roughness: 0.05, refraction: 2.42 },
  };
  const APART = 1.6;
  const names = Object.keys(balls);
  const document = piece(
    "Even light",
    [
      ...names.flatMap((name, i): Parameters<typeof piece>[1][number][] => [
        [name, "sphere", 0, i * 300, { radius: 0.75, around: 48, rings: 24 }],
        [`${name}There`, "transform", 300, i * 300, { move: [(i - 2) * APART, 0, 0] }],
        [`${name}Made`, "material", 600, i * 300, { kind: "as set here", ...balls[name] }],
      ]),
      ["all", "merge", 900, 0],
      ["eye", "camera", 900, 300, { ...EYE }],
      ["look", "finish", 900, 600, { tone: "plain" }],
      ["stage", "stage", 1200, 0, { ground: false, background: "#ffffff", setup: "none", light: "white" }],
    ],
    [
      ...names.flatMap((name) => [
        `${name}.shape>${name}There.shape`,
        `${name}There.shape>${name}Made.shape`,
        `${name}Made.shape>all.shapes`,
      ]),
      "all.shape>stage.shape",
      "eye.camera>stage.camera",
      "look.finish>stage.finish",
    ],
  );
  await open(page, { ...document, assets: { white: { ...asset, file: "white.png" } } });
  const light = exrChannels(await takePicture(page, WIDTH, /OpenEXR/));
  const green = (name: string, x = 0, y = 0) => light.G[pixelAt((names.indexOf(name) - 2) * APART + x, y)];
  // White furnace: what comes in goes out, to the very edge, whichever way bumps face.
  for (const [x, y] of [
    [0, 0],
    [0.3, 0.4],
    [-0.5, -0.2],
    [0, 0.7],
  ])
    expect(green("rough", x, y)).toBeCloseTo(1, 1.7);
  expect(green("brushed", 0, 2)).toBeCloseTo(1, 2);
  // Seen straight on a metal reflects its colour, here half of the light (IEC 61966-2-1: sRGB 188 is 0.503).
  for (const name of ["metal", "brushed"]) expect(green(name)).toBeCloseTo(0.503, 1.7);
  // Fresnel at normal incidence, ((n − 1) ÷ (n + 1))²: index 1.5 and, of diamond, 2.42.
  expect(green("polish")).toBeCloseTo(0.04, 1.9);
  expect(green("diamond")).toBeCloseTo(0.1724, 1.9);
});

test("what is not in focus is a disc as large as a thin lens makes it", async ({ page }) => {
  test.slow();
  const document = piece(
    "Spark",
    [
      ["spark", "sphere", 0, 0, { radius: 0.05 }],
      ["back", "transform", 300, 0, { move: [0, 0, -10] }],
      ["lit", "material", 600, 0, { kind: "as set here", color: "#ffffff", shading: "flat", emission: 200 }],
      ["eye", "camera", 600, 300, { place: [0, 0, 10], target: [0, 0, 0], lens: 50, aperture: 0.5 }],
      ["look", "finish", 600, 600, { tone: "plain" }],
      ["stage", "stage", 900, 0, { ground: false, background: "#000000", setup: "none" }],
    ],
    [
      "spark.shape>back.shape",
      "back.shape>lit.shape",
      "lit.shape>stage.shape",
      "eye.camera>stage.camera",
      "look.finish>stage.finish",
    ],
  );
  await open(page, document);
  const light = exrChannels(await takePicture(page, WIDTH, /OpenEXR/, /^64/));
  let [sum, first, second] = [0, 0, 0];
  for (let i = 0; i < WIDTH * HEIGHT; i++) {
    const x = (i % WIDTH) - WIDTH / 2 + 0.5;
    sum += light.R[i];
    first += light.R[i] * x;
    second += light.R[i] * x * x;
  }
  expect(sum).toBeGreaterThan(0);
  // A disc of radius R is spread by R ÷ 2 along a line. On film 36 mm wide: f² ÷ (N (s − f)) · |d − s| ÷ d, with a unit of 100 mm: s = 1 m,
  // d = 2 m; and the spark's own disc.
  const disc = (2500 / (0.5 * 950)) * 0.5 * (WIDTH / 36);
  // The mean of 64 places of the lens is not quite its middle.
  expect(Math.abs(first / sum)).toBeLessThan(disc * 0.05);
  const own = ((0.05 * 2) / 20) * 50 * (WIDTH / 36);
  const wanted = Math.hypot(disc / 4, own / 4);
  expect(Math.sqrt(second / sum)).toBeGreaterThan(wanted * 0.94);
  expect(Math.sqrt(second / sum)).toBeLessThan(wanted * 1.06);
});

test("a picture that is drawn in tiles has no seams, and everything where it belongs", async ({ page }) => {
  test.slow();
  // 60 units on 6,000 pixels: three tiles, with borders at 2,048 and 4,096.
  const [wide, high] = [6000, 60];
  const document = piece(
    "Long",
    [
      ["row", "row-sites", 0, 0, { count: 60, from: [-29.5, 0, 0], to: [29.5, 0, 0] }],
      ["box", "box", 0, 300, { size: [0.5, 0.2, 0.2] }],
      ["clones", "clone-onto-sites", 300, 0],
      ["lit", "material", 600, 0, { kind: "as set here", color: "#ffffff", shading: "flat" }],
      ["eye", "camera", 300, 300, { ...EYE, across: 60 }],
      ["look", "finish", 300, 600, { tone: "plain", glow: 0.3, glowFrom: 0.5 }],
      ["stage", "stage", 900, 0, { ground: false, background: "#405060" }],
    ],
    [
      "row.sites>clones.sites",
      "box.shape>clones.shapes",
      "clones.clones>lit.shape",
      "lit.shape>stage.shape",
      "eye.camera>stage.camera",
      "look.finish>stage.finish",
    ],
  );
  await open(page, { ...document, settings: { ...document.settings, size: [wide, high] } });
  const { width, height, data } = PNG.sync.read(await takePicture(page, wide, /8 bits/));
  expect([width, height]).toEqual([wide, high]);
  const red = (x: number, y: number) => data[(y * wide + x) * 4];
  const middle = high / 2;
  // Each box is 50 pixels wide around the middle of its hundred.
  for (const left of [0, 1900, 2000, 2100, 4000, 4100, 5900])
    expect([15, 50, 85].map((x) => red(left + x, middle) > 200)).toEqual([false, true, false]);
  for (const seam of [2048, 4096])
    for (const y of [5, 15, 45, 55]) expect(Math.abs(red(seam - 1, y) - red(seam, y))).toBeLessThanOrEqual(2);
});

test("what glows in one tile does not glow in the others", async ({ page }) => {
  test.slow();
  const [wide, high] = [6000, 60];
  const document = piece(
    "One end",
    [
      ["box", "box", 0, 0, { size: [1, 0.4, 0.4] }],
      ["there", "transform", 300, 0, { move: [-29, 0, 0] }],
      ["lit", "material", 600, 0, { kind: "as set here", color: "#ffffff", shading: "flat", emission: 4 }],
      ["eye", "camera", 600, 300, { ...EYE, across: 60 }],
      ["look", "finish", 600, 600, { tone: "plain", glow: 1, glowFrom: 1, glowSize: 0.5 }],
      ["stage", "stage", 900, 0, { ground: false, background: "#000000", setup: "none" }],
    ],
    [
      "box.shape>there.shape",
      "there.shape>lit.shape",
      "lit.shape>stage.shape",
      "eye.camera>stage.camera",
      "look.finish>stage.finish",
    ],
  );
  await open(page, { ...document, settings: { ...document.settings, size: [wide, high] } });
  const { data } = PNG.sync.read(await takePicture(page, wide, /8 bits/));
  const red = (x: number) => data[((high / 2) * wide + x) * 4];
  // The box ends at 150; tiles begin at 2,048 and 4,096.
  expect(red(100)).toBe(255);
  expect(red(180)).toBeGreaterThan(40);
  for (const x of [2048, 2150, 4096, 4150, 5900]) expect(red(x), `${x}`).toBeLessThan(8);
});

test("glow is as wide on a small picture as on a large one", async ({ page }) => {
  test.slow();
  await open(
    page,
    piece(
      "Glow",
      [
        ["box", "box", 0, 0, { size: [0.8, 0.8, 0.8] }],
        ["lit", "material", 300, 0, { kind: "as set here", color: "#ffffff", shading: "flat", emission: 4 }],
        ["eye", "camera", 300, 600, { ...EYE }],
        ["look", "finish", 300, 900, { tone: "plain", glow: 0.6, glowFrom: 1, glowSize: 0.5 }],
        ["stage", "stage", 600, 0, { ground: false, background: "#000000", setup: "none" }],
      ],
      ["box.shape>lit.shape", "lit.shape>stage.shape", "eye.camera>stage.camera", "look.finish>stage.finish"],
    ),
  );
  const pictures = [];
  for (const width of [WIDTH, 4 * WIDTH])
    pictures.push(PNG.sync.read(await takePicture(page, width, /8 bits/)));
  // Light at places that the box does not cover, in parts of the picture's width from its middle.
  const at = ({ width, height, data }: PNG, part: number) =>
    data[(Math.floor(height / 2) * width + Math.floor(width * (0.5 + part))) * 4];
  const [small, large] = pictures.map((picture) => [0.09, 0.13, 0.18, 0.25].map((part) => at(picture, part)));
  expect(small[0]).toBeGreaterThan(small[3] + 20);
  for (const [i, value] of small.entries()) expect(Math.abs(value - large[i])).toBeLessThan(10);
});

test("pictures lie on surfaces in their own colours: by UV, on clones from six sides, cut out where they are clear, on dots", async ({
  page,
}) => {
  // Two halves side by side, and a clear hole in the middle of another.
  const [left, right] = ["#c4502e", "#2a6fb0"];
  const sides = new PNG({ width: 8, height: 8 });
  const hole = new PNG({ width: 16, height: 16 });
  for (const image of [sides, hole])
    for (let i = 0; i < image.data.length / 4; i++) {
      const [x, y] = [(i % image.width) / image.width, Math.floor(i / image.width) / image.height];
      const isClear = image === hole && Math.abs(x - 0.5) < 0.25 && Math.abs(y - 0.5) < 0.25;
      image.data.set([...bytesOf(x < 0.5 ? left : right), isClear ? 0 : 255], i * 4);
    }
  const assets: Record<string, { hash: string; bytes: number; file: string }> = {};
  for (const [name, image] of Object.entries({ sides, hole })) {
    const sent = await page.request.post(`/api/assets?file=${name}.png`, { data: PNG.sync.write(image) });
    assets[name] = { ...((await sent.json()) as { hash: string; bytes: number }), file: `${name}.png` };
  }
  const flat = { kind: "as set here", color: "#ffffff", shading: "flat" };
  const document = piece(
    "Pictures on surfaces",
    [
      ["sheet", "plane", 0, 0, { width: 2, depth: 2 }],
      ["up", "transform", 300, 0, { move: [-2.5, 0, 0], turn: [90, 0, 0] }],
      ["white", "material", 600, 0, flat],
      ["by", "textures", 900, 0, { color: "sides" }],
      ["row", "row-sites", 0, 300, { count: 2, from: [-0.2, 0, 0], to: [1.2, 0, 0] }],
      ["box", "box", 0, 600, { size: [1, 1, 1] }],
      ["clones", "clone-onto-sites", 300, 300],
      ["whites", "material", 600, 300, flat],
      ["wrapped", "textures", 900, 300, { color: "sides", lies: "from six sides", size: 1 }],
      ["gate", "box", 0, 900, { size: [1, 1, 1] }],
      ["there", "transform", 300, 900, { move: [3, 0, 0] }],
      ["gateWhite", "material", 600, 900, flat],
      ["cut", "textures", 900, 900, { color: "hole", lies: "from six sides", size: 1, covers: "cut out" }],
      ["dots", "row-sites", 0, 1200, { count: 2, from: [-0.5, 1.6, 0], to: [1, 1.6, 0] }],
      ["wide", "line-thickness", 300, 1200, { thickness: 0.8 }],
      ["shown", "textures", 900, 1200, { color: "hole" }],
      ["all", "merge", 1200, 0],
      ["eye", "camera", 1200, 300, { ...EYE }],
      ["look", "finish", 1200, 600, { tone: "plain" }],
      ["stage", "stage", 1500, 0, { ground: false, background: BEHIND }],
    ],
    [
      "sheet.shape>up.shape",
      "up.shape>white.shape",
      "white.shape>by.shape",
      "by.shape>all.shapes",
      "row.sites>clones.sites",
      "box.shape>clones.shapes",
      "clones.clones>whites.shape",
      "whites.shape>wrapped.shape",
      "wrapped.shape>all.shapes",
      "gate.shape>gateWhite.shape",
      "gateWhite.shape>cut.shape",
      "cut.shape>there.shape",
      "there.shape>all.shapes",
      "dots.sites>wide.shape",
      "wide.shape>shown.shape",
      "shown.shape>all.shapes",
      "all.shape>stage.shape",
      "eye.camera>stage.camera",
      "look.finish>stage.finish",
    ],
  );
  await open(page, { ...document, assets });
  const png = PNG.sync.read(await takePicture(page, WIDTH, /8 bits/));
  const seen = (x: number, y = 0) => [...png.data.subarray(pixelAt(x, y) * 4, pixelAt(x, y) * 4 + 3)];
  const wanted: [number, number, string][] = [
    [-3, 0.2, left],
    [-2, 0.2, right],
    ...[-0.2, 1.2].flatMap((x): [number, number, string][] => [
      [x - 0.25, 0.2, left],
      [x + 0.25, 0.2, right],
    ]),
    [2.6, 0.4, left],
    [3.4, -0.4, right],
    // Through the holes of the front and of the back.
    [3, 0, BEHIND],
    // The corners of a dot's square too; through the hole in its middle.
    ...[-0.5, 1].flatMap((x): [number, number, string][] => [
      [x - 0.36, 1.6 + 0.36, left],
      [x + 0.36, 1.6 - 0.36, right],
      [x, 1.6, BEHIND],
    ]),
  ];
  for (const [x, y, color] of wanted)
    for (const [c, byte] of bytesOf(color).entries())
      expect(Math.abs(seen(x, y)[c] - byte), `${x} ${y} ${color}`).toBeLessThanOrEqual(1);
});
