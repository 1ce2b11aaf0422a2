/** Pictures traced, against circles and what is known of them. */
import { encode } from "fast-png";
import { tracedAt } from "../../src/core/curves/trace";
import { Evaluator } from "../../src/core/evaluate/evaluator";
import type { AssetLookup } from "../../src/core/evaluate/options";
import { readAsset } from "../../src/core/formats/read/read-asset";
import { curveLengths } from "../../src/core/geometry/curves";
import type { Shape } from "../../src/core/geometry/shape";
import { validateShape } from "../../src/core/geometry/validate";
import type { Setting } from "../../src/core/nodes/ports";
import { graphOf } from "../run-node";
import { signedArea } from "../shoelace";

/** A cone of light: 1 in the middle, 0 at the radius and beyond, in so many cells. */
const cone = (size: number, radius: number): Float32Array =>
  Float32Array.from({ length: size * size }, (_, i) => {
    const [x, y] = [(i % size) + 0.5 - size / 2, Math.floor(i / size) + 0.5 - size / 2];
    return Math.max(0, 1 - Math.hypot(x, y) / radius);
  });
const upwards = (flat: readonly number[]) => flat.map((v, i) => (i % 2 === 0 ? v : -v));

describe("levels", () => {
  it("of a cone are circles: at a quarter, a half and three quarters of its height", () => {
    for (const level of [0.25, 0.5, 0.75]) {
      const [outline, ...others] = tracedAt(cone(101, 40), 101, level);
      expect(others).toEqual([]);
      expect(signedArea(upwards(outline)) / (Math.PI * (40 * (1 - level)) ** 2)).toBeCloseTo(1, 2);
    }
  });

  it("close along the border, and nothing is at none", () => {
    const full = new Float32Array(12).fill(1);
    const [outline] = tracedAt(full, 4, 0.5);
    // All of it but for the corners, which are cut between cells.
    expect(Math.abs(signedArea(outline))).toBeGreaterThan(11);
    expect(tracedAt(new Float32Array(12), 4, 0.5)).toEqual([]);
  });

  it("holes run the other way, and what lies in them as edges do", () => {
    const size = 60;
    const rings = Float32Array.from({ length: size * size }, (_, i) => {
      const away = Math.hypot((i % size) - 29.5, Math.floor(i / size) - 29.5);
      return away < 6 || (away > 12 && away < 24) ? 1 : 0;
    });
    const areas = tracedAt(rings, size, 0.5)
      .map((outline) => signedArea(upwards(outline)))
      .sort((a, b) => a - b);
    expect(areas.map(Math.sign)).toEqual([-1, 1, 1]);
    expect(areas.reduce((a, b) => a + b, 0) / (Math.PI * (24 ** 2 - 12 ** 2 + 6 ** 2))).toBeCloseTo(1, 1);
  });
});

describe("trace picture", () => {
  /** A red disc of radius 20 on transparent ground, 64 × 64, and a white square in it. */
  const picture = (): Uint8Array => {
    const data = new Uint8Array(64 * 64 * 4);
    for (let i = 0; i < 64 * 64; i++) {
      const [x, y] = [(i % 64) - 31.5, Math.floor(i / 64) - 31.5];
      const white = Math.max(Math.abs(x), Math.abs(y)) < 6;
      data.set(
        Math.hypot(x, y) < 20 ? (white ? [255, 255, 255, 255] : [200, 0, 0, 255]) : [0, 0, 0, 0],
        i * 4,
      );
    }
    return encode({ width: 64, height: 64, channels: 4, data });
  };
  const traced = async (set: Record<string, Setting>) => {
    const content = await readAsset("a.png", picture());
    const assets: AssetLookup = () => ({ ok: true, content, version: "1" });
    const document = graphOf({
      it: {
        type: "trace-picture",
        set: { file: "a", width: 64, detail: 64, smooth: 0, simplify: 0.01, ...set },
      },
    });
    const { outputs, report } = new Evaluator().evaluate(document, 0, { target: "it", assets });
    const shape = (outputs as { shape: Shape }).shape;
    expect(validateShape(shape)).toEqual([]);
    return { shape, problems: report.nodes.it.problems };
  };

  it("by alpha is the disc, by brightness the square, by colour the disc with a hole", async () => {
    const length = async (set: Record<string, Setting>) => {
      const { curves } = (await traced(set)).shape;
      return curves ? Array.from(curveLengths(curves)) : [];
    };
    const [disc] = await length({ by: "alpha" });
    expect(disc / (2 * Math.PI * 20)).toBeGreaterThan(1);
    expect(disc / (2 * Math.PI * 20)).toBeLessThan(1.1);
    const [square] = await length({ by: "brightness", level: 0.8 });
    expect(square).toBeGreaterThan(40);
    expect(square).toBeLessThan(48);
    expect((await length({ by: "colour", colour: "#c80000", level: 0.7 })).length).toBe(2);
  });

  it("tells levels apart, smooths and simplifies, and says when nothing is there", async () => {
    const { shape } = await traced({ by: "alpha", level: 0.3, levels: 3 });
    expect(Array.from(shape.curves?.curves.columns.level.lanes[0] ?? []).map((v) => v.toFixed(2))).toEqual([
      "0.30",
      "0.53",
      "0.77",
    ]);
    const rough = (await traced({ by: "alpha" })).shape.curves;
    const even = (await traced({ by: "alpha", smooth: 20, simplify: 0.2 })).shape.curves;
    expect(even?.points.count).toBeLessThan((rough?.points.count ?? 0) * 0.7);
    expect((await traced({ by: "darkness", level: 1 })).problems[0].what).toMatch(/Nothing in the picture/);
  });
});
