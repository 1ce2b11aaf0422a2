/** Text as a node: letters as clones, along a path, counting, with fonts of one's own, and before anything is loaded. */
import { readFileSync } from "node:fs";
import { Evaluator } from "../../src/core/evaluate/evaluator";
import { prepareLibraries } from "../../src/core/evaluate/libraries";
import type { AssetLookup } from "../../src/core/evaluate/options";
import { sfntOf } from "../../src/core/formats/read/sfnt";
import { shapeBounds } from "../../src/core/geometry/bounds";
import { arraysOf } from "../../src/core/geometry/domains";
import type { Shape } from "../../src/core/geometry/shape";
import { Library } from "../../src/core/library";
import type { Setting } from "../../src/core/nodes/ports";
import { TEXT_SHAPING } from "../../src/core/text/font";
import { evaluate, graphOf, type NodeSpec, outputsOf, reportOf } from "../run-node";

const text = (
  set: Record<string, Setting>,
  more: Record<string, NodeSpec> = {},
  links: readonly string[] = [],
) => graphOf({ ...more, node: { type: "text", set } }, links);
const made = (...all: Parameters<typeof text>): Shape => outputsOf(text(...all), "node").shape as Shape;
const lanes = (shape: Shape, name: string): number[][] =>
  (shape.sites?.columns[name].lanes ?? []).map((lane) => [...lane]);

it("waits for what it needs: told before it is loaded, and there when the piece was prepared", async () => {
  const document = text({});
  // No other test of this file has loaded it yet.
  expect(reportOf(document, "node").problems[0].what).toBe(
    "The shaping of text is not loaded yet. Change anything to try again.",
  );
  await prepareLibraries(document);
  expect(reportOf(document, "node").state).toBe("ran");
});

it("a library that fails says why, and is tried again", async () => {
  let tries = 0;
  const library = new Library("test", async () => {
    if (tries++ === 0) throw new Error("no room");
  });
  await library.load();
  expect([library.isReady, library.fault]).toEqual([false, "no room"]);
  await Promise.all([library.load(), library.load()]);
  expect([library.isReady, library.fault, tries]).toEqual([true, null, 2]);
});

describe("letters", () => {
  beforeAll(() => TEXT_SHAPING.load());

  it("are a set to pick from besides, in their order, that clones pick from", () => {
    const parts = outputsOf(text({ text: "moss" }), "node").parts as Shape;
    expect([parts.sites, parts.sources?.length]).toEqual([undefined, 4]);
    expect(parts.sources?.[2]).toBe(parts.sources?.[3]);
    const document = text(
      { text: "moss" },
      { ring: { type: "ring-sites", set: { count: 6 } }, clones: { type: "clone-onto-sites" } },
      ["node.parts>clones.shapes", "ring.sites>clones.sites"],
    );
    const clones = outputsOf(document, "clones").clones as Shape;
    expect([...(clones.sites?.columns.source.lanes[0] ?? [])]).toEqual([0, 1, 2, 3, 0, 1]);
  });

  it("are clones of one shape a glyph, with their letter, word and line", () => {
    const shape = made({ text: "moss\nseed moss" });
    expect(shape.sites?.count).toBe(12);
    expect(shape.sources?.length).toBe(new Set("mosseedmoss").size);
    expect(lanes(shape, "word")[0]).toEqual([0, 0, 0, 0, 1, 1, 1, 1, 2, 2, 2, 2]);
    expect(lanes(shape, "line")[0]).toEqual([0, 0, 0, 0, ...new Array(8).fill(1)]);
    expect(lanes(shape, "letter")[0]).toEqual(Array.from({ length: 12 }, (_, i) => i));
    const source = lanes(shape, "source")[0];
    expect(source[2]).toBe(source[3]);
  });

  it("take up the same room apart as in one piece, whatever a clone is and stands about", () => {
    const whole = shapeBounds(made({ text: "Moss grows\nslowly", apart: "all of it" }));
    for (const apart of ["letters", "words", "lines"])
      for (const about of ["its foot", "its middle"]) {
        const bounds = shapeBounds(made({ text: "Moss grows\nslowly", apart, about }));
        for (const end of ["min", "max"] as const)
          bounds?.[end].forEach((v, a) => expect(v).toBeCloseTo(whole?.[end][a] as number, 4));
      }
    expect(made({ text: "Moss grows\nslowly", apart: "words" }).sites?.count).toBe(3);
  });

  it("stand off a ring, each as far from its middle, and upright where that is wanted", () => {
    const ring: Record<string, NodeSpec> = { ring: { type: "arc", set: { radius: 3, points: 256 } } };
    const round = made({ text: "seeds for everybody", size: 0.5 }, ring, ["ring.shape>node.path"]);
    const [x, y, z] = lanes(round, "position");
    for (let i = 0; i < x.length; i++) {
      expect(Math.hypot(x[i], z[i])).toBeCloseTo(3, 2);
      expect(y[i]).toBeCloseTo(0, 5);
    }
    // The ring lies, so the letters lie too and look up: their own Z is up.
    const [qx, qy, qz, qw] = lanes(round, "rotation");
    for (let i = 0; i < x.length; i++) {
      expect(1 - 2 * (qx[i] * qx[i] + qy[i] * qy[i])).toBeCloseTo(0, 4);
      expect(2 * (qy[i] * qz[i] - qw[i] * qx[i])).toBeCloseTo(1, 4);
    }
    const upright = lanes(
      made({ text: "moss", stand: "upright" }, ring, ["ring.shape>node.path"]),
      "rotation",
    );
    for (let i = 0; i < 4; i++)
      expect([upright[0][i], upright[2][i]]).toEqual([expect.closeTo(0, 4), expect.closeTo(0, 4)]);
  });

  it("go straight on beyond the ends of a path", () => {
    const shape = made(
      { text: "far too long for it", align: "left", start: 0 },
      { line: { type: "line", set: { from: [0, 0, 0], to: [1, 0, 0] } } },
      ["line.shape>node.path"],
    );
    const straight = made({ text: "far too long for it", align: "left" });
    lanes(straight, "position")[0].forEach((x, i) => {
      expect(lanes(shape, "position")[0][i]).toBeCloseTo(x, 4);
    });
  });

  it("count with a number that is driven, with as many digits as are wanted and no minus before 0", () => {
    const at = (frame: number) =>
      (
        outputsOf(
          text({ text: "#", decimals: 1, apart: "all of it", as: "outlines" }, { clock: { type: "clock" } }, [
            "clock.seconds>node.number",
          ]),
          "node",
          frame,
        ).shape as Shape
      ).curves;
    const plain = (words: string) => made({ text: words, apart: "all of it", as: "outlines" }).curves;
    for (const [frame, words] of [
      [0, "0.0"],
      [30, "1.2"],
      [250, "10.0"],
    ] as const)
      expect(at(frame)?.points.columns.position).toEqual(plain(words)?.points.columns.position);
    const zero = made({ text: "#", number: -0.01, apart: "all of it", as: "outlines" });
    expect(zero.curves?.points.count).toBe(plain("0")?.points.count);
  });

  it("come from a font of the piece; what it lacks is told, and taken from the face on request", () => {
    const file = readFileSync(
      "node_modules/@fontsource/instrument-sans/files/instrument-sans-latin-ext-400-normal.woff",
    );
    const content = { kind: "font", bytes: sfntOf(new Uint8Array(file)) } as const;
    const assets: AssetLookup = () => ({ ok: true, content, version: "1" });
    const report = (set: Record<string, Setting>) =>
      evaluate(text({ font: "own", ...set }), 0, { target: "node", assets }).report.nodes.node;
    const lacking = report({ text: "moss" });
    expect(lacking.problems[0].what).toBe("The font has no “m”, “o”, “s”; boxes stand for them.");
    expect(lacking.problems[0].repair?.value).toBe("the face that comes along");
    expect(report({ text: "moss", lacking: "the face that comes along" }).problems).toEqual([]);
    const broken: AssetLookup = () => ({
      ok: true,
      content: { kind: "font", bytes: new Uint8Array(64) },
      version: "2",
    });
    const failed = evaluate(text({ font: "own" }), 0, { target: "node", assets: broken }).report.nodes.node;
    expect(failed.problems[0]).toMatchObject({ level: "error", input: "font" });
  });

  it("are nothing where nothing is written, and of no size where the size is 0", () => {
    expect(made({ text: "" })).toEqual({});
    expect(made({ text: " \n " })).toEqual({});
    const flat = shapeBounds(made({ text: "moss", size: 0, depth: 0 }));
    expect(flat === null || flat.max[0] - flat.min[0] < 1e-6).toBe(true);
  });

  it("are the same bits however often the text was changed meanwhile", () => {
    const evaluator = new Evaluator();
    const shapeOf = (words: string, with_: Evaluator) =>
      with_.evaluate(text({ text: words, bevel: 0.01 }), 0, { target: "node" }).outputs?.shape as Shape;
    for (const words of ["moss", "seeds", "moss and seeds", "", "Quillmoss"]) shapeOf(words, evaluator);
    const [again, fresh] = [shapeOf("moss", evaluator), shapeOf("moss", new Evaluator())];
    expect([...arraysOf(again)].map((array) => [...array])).toEqual(
      [...arraysOf(fresh)].map((array) => [...array]),
    );
  });
});
