/** Smoke as a node: what it keeps, where it goes, and that any frame is the same however one got there. */

import type { PieceDocument } from "../../src/core/document/schema";
import { Evaluator } from "../../src/core/evaluate/evaluator";
import { asTakenAway } from "../../src/core/evaluate/taken-away";
import { constant } from "../../src/core/fields/expression";
import type { Shape } from "../../src/core/geometry/shape";
import { validateShape } from "../../src/core/geometry/validate";
import { eachTile, TILE, TILE_VOXELS, type Volume, VolumeReader } from "../../src/core/geometry/volume";
import { Arena } from "../../src/core/kernels/arena";
import { greatestOf } from "../../src/core/kernels/statistics";
import type { Setting } from "../../src/core/nodes/ports";
import { volumeOfBalls } from "../../src/core/volumes/from-balls";
import { steppedSmoke } from "../../src/core/volumes/smoke";
import { NO_SMOKE, type SmokeSettings } from "../../src/core/volumes/smoke-state";
import { graphOf, type NodeSpec } from "../run-node";

type Set = Record<string, Setting>;
const STILL = { style: "as set here", rise: 0, weight: 0, swirl: 0, fade: 0, cool: 0, drag: 0 };
const BALL: NodeSpec = { type: "sphere", set: { radius: 0.4 } };

const smokeOf = (set: Set, extra: Record<string, NodeSpec> = {}, links: string[] = []): PieceDocument =>
  graphOf(
    { ball: BALL, it: { type: "smoke", set: { voxel: 0.2, ...set } }, ...extra, stage: { type: "stage" } },
    ["ball.shape>it.sources", "it.shape>stage.shape", ...links],
  );

function at(document: PieceDocument, frame: number, evaluator = new Evaluator()): Volume {
  const { shape, report } = evaluator.evaluate(document, frame);
  expect(report.nodes.it.problems.filter(({ level }) => level === "error")).toEqual([]);
  expect(validateShape(shape as Shape)).toEqual([]);
  if (!shape?.volume) throw new Error("There is no smoke.");
  return shape.volume;
}

/** Density times the size of a voxel, and how high its middle is. */
function massOf(volume: Volume): { mass: number; height: number; x: number } {
  const density = volume.voxels.columns.density.lanes[0];
  let [mass, height, across] = [0, 0, 0];
  eachTile(volume, (tile, tx, ty) => {
    for (let v = 0; v < TILE_VOXELS; v++) {
      const d = density[tile * TILE_VOXELS + v] * volume.voxel ** 3;
      mass += d;
      height += d * (ty * TILE + ((v >> 3) & 7)) * volume.voxel;
      across += d * (tx * TILE + (v & 7)) * volume.voxel;
    }
  });
  return { mass, height: height / mass, x: across / mass };
}

const VOXEL = 0.1;
const ballAt = (y: number) => volumeOfBalls({ places: [[0], [y], [0]], radii: [0.5] }, VOXEL, 0.3) as Volume;
const NONE = constant(0);
/** A ball in still air that gives nothing but speed upwards, units a second. */
const quietly = (said: Partial<SmokeSettings>, upwards = 0): SmokeSettings => ({
  voxel: VOXEL,
  sources: [{ volume: ballAt(0), fields: [NONE, NONE, NONE, constant(upwards), NONE] }],
  obstacles: [],
  rise: 0,
  weight: 0,
  swirl: 0,
  fade: 0,
  cool: 0,
  drag: 0,
  push: null,
  walls: "open",
  most: 64,
  ...said,
});

describe("an obstacle that moves", () => {
  it("pushes the air before it and draws it after, by its own speed at its sides", () => {
    new Arena().within(() => {
      const settings = (y: number) => quietly({ obstacles: [ballAt(y)] });
      const first = steppedSmoke(NO_SMOKE, settings(0), 0.05);
      const still = steppedSmoke(first, settings(0), 0.05);
      const moved = steppedSmoke(first, settings(0.1), 0.05);
      const upwards = ({ domains: { cells }, numbers: { first: from, tiles } }: typeof moved, y: number) => {
        const [nx, ny] = tiles.map((t) => t * TILE + 2);
        const [i, j, k] = [0, y, 0].map((v, a) => Math.round(v / VOXEL) - from[a] * TILE + 1);
        return cells.columns.velocity.lanes[1][(k * ny + j) * nx + i] * VOXEL;
      };
      expect(upwards(still, 0.6)).toBe(0);
      // 0.1 in 0.05 seconds are 2 a second, just above and just below it; it fades with distance.
      for (const y of [0.7, -0.4]) expect(upwards(moved, y)).toBeGreaterThan(1);
      expect(Math.abs(upwards(moved, 0.95))).toBeLessThan(upwards(moved, 0.7));
    });
  });
});

describe("a step of fast smoke", () => {
  it("holds no more memory for being cut into several", () => {
    const held = (upwards: number) => {
      const arena = new Arena();
      return arena.within(() => {
        const settings = quietly({ swirl: 2 }, upwards);
        const before = steppedSmoke(NO_SMOKE, settings, 0.05);
        const bytes = arena.bytes;
        const after = steppedSmoke(before, settings, 0.05);
        expect(greatestOf([after.domains.cells.columns.velocity.lanes[1]])).toBeGreaterThan(
          upwards / VOXEL / 4,
        );
        return arena.bytes - bytes;
      });
    };
    // 2 cells a step, and over 20.
    expect(held(400)).toBe(held(4));
  });
});

describe("smoke", () => {
  it("comes at the rate that is asked for, and is kept where nothing fades", () => {
    // A ball of radius 0.4, density 2 a second.
    const rate = 2 * (4 / 3) * Math.PI * 0.4 ** 3;
    const document = smokeOf({ ...STILL, amount: 2, warmth: 0, voxel: 0.1 });
    expect(massOf(at(document, 25)).mass / rate).toBeCloseTo(1, 1);
    // Moved and not fading, as much is there: within a twentieth, over a second of rising.
    const rising = smokeOf({ ...STILL, amount: 2, rise: 2, voxel: 0.1 });
    expect(massOf(at(rising, 25)).mass / rate).toBeGreaterThan(0.95);
    expect(massOf(at(rising, 25)).mass / rate).toBeLessThan(1.05);
  });

  it("is the same smoke in more detail at twice the resolution: as much of it, as high, as wide", () => {
    const of = (detail: string) =>
      massOf(at(smokeOf({ style: "billowing", amount: 2, voxel: 0.16, most: 32, detail }), 24));
    const [coarse, fine] = [of("as it is"), of("twice as fine")];
    expect(fine.mass / coarse.mass).toBeCloseTo(1, 1);
    expect(fine.height / coarse.height).toBeGreaterThan(0.8);
    expect(fine.height / coarse.height).toBeLessThan(1.25);
  });

  it("is as it is on the stage, and twice as fine in what is taken away, in capsules too", () => {
    const later = smokeOf({ detail: "twice as fine when taken away" });
    expect(at(later, 2).voxel).toBe(0.2);
    expect(at(asTakenAway(later), 2).voxel).toBe(0.1);
    const inside: PieceDocument = {
      ...graphOf({ ball: BALL, stage: { type: "stage" } }),
      capsules: { puff: { inputs: [], outputs: [], graph: later.graph } as never },
    };
    expect(asTakenAway(inside).capsules.puff.graph.nodes.find(({ id }) => id === "it")?.set.detail).toBe(
      "twice as fine",
    );
    const plain = smokeOf({});
    expect(asTakenAway(plain)).toBe(plain);
  });

  it("fades by e to the power of time", () => {
    const [kept, faded] = [0, 1].map((fade) => massOf(at(smokeOf({ ...STILL, fade, warmth: 0 }), 50)).mass);
    // What comes at an even rate r and fades at 1 a second is r (1 − e⁻²) after two seconds, 2 r without.
    expect(faded / kept).toBeCloseTo((1 - Math.exp(-2)) / 2, 1.7);
  });

  it("rises when it is warm, sinks when it is heavy, and goes with the wind", () => {
    const middle = massOf(at(smokeOf({ ...STILL, warmth: 0 }), 20));
    expect(middle.height).toBeCloseTo(0, 1);
    expect(massOf(at(smokeOf({ ...STILL, rise: 3 }), 20)).height).toBeGreaterThan(0.15);
    expect(massOf(at(smokeOf({ ...STILL, weight: 3 }), 20)).height).toBeLessThan(-0.1);
    expect(massOf(at(smokeOf({ ...STILL, push: [2, 0, 0] }), 20)).x).toBeGreaterThan(0.15);
  });

  it("gives its mirror image for an obstacle that is mirrored", () => {
    // Tiles lie evenly on both sides of the middle between voxels −1 and 0.
    const middle = -0.1;
    const beside = (x: number): PieceDocument => {
      const { graph, ...document } = smokeOf(
        { style: "billowing" },
        {
          here: { type: "transform", set: { move: [middle, 0, 0] } },
          block: { type: "box", set: { size: [0.8, 0.4, 0.8] } },
          there: { type: "transform", set: { move: [middle + x, 1, 0] } },
        },
        [
          "ball.shape>here.shape",
          "here.shape>it.sources",
          "block.shape>there.shape",
          "there.shape>it.obstacles",
        ],
      );
      const links = graph.links.filter(({ from, to }) => from !== "ball.shape" || to !== "it.sources");
      return { ...document, graph: { ...graph, links } };
    };
    const [left, right] = [-0.4, 0.4].map((x) => new VolumeReader(at(beside(x), 18), "density"));
    let most = 0;
    for (let i = -8; i < 8; i++)
      for (let j = -2; j < 8; j++)
        for (let k = -4; k <= 4; k++) {
          const here = left.voxel(i, j, k);
          most = Math.max(most, here);
          expect(Math.abs(here - right.voxel(-1 - i, j, k))).toBeLessThan(0.01);
        }
    expect(most).toBeGreaterThan(0.5);
  });

  it("is not inside of what it flows around", () => {
    const volume = at(
      smokeOf(
        { style: "billowing", voxel: 0.1 },
        {
          block: { type: "box", set: { size: [1, 0.4, 1] } },
          there: { type: "transform", set: { move: [0, 1, 0] } },
        },
        ["block.shape>there.shape", "there.shape>it.obstacles"],
      ),
      30,
    );
    const reader = new VolumeReader(volume, "density");
    expect(reader.at(0, 0.6, 0)).toBeGreaterThan(0.3);
    expect(reader.at(0, 1, 0)).toBeLessThan(0.05);
  });

  it("is the same at a frame whichever were looked at before, bit for bit", () => {
    const document = smokeOf({ style: "billowing", push: [0.3, 0, 0] });
    const straight = at(document, 12);
    const evaluator = new Evaluator();
    for (const frame of [3, 20, 7]) evaluator.evaluate(document, frame);
    const jumped = at(document, 12, evaluator);
    for (const name of ["density", "heat", "velocity"])
      expect(jumped.voxels.columns[name].lanes.map((lane) => [...lane])).toEqual(
        straight.voxels.columns[name].lanes.map((lane) => [...lane]),
      );
  });

  it("grows its box with it, up to the limit, and says so there", () => {
    const evaluator = new Evaluator();
    const document = smokeOf({ style: "billowing", voxel: 0.1, most: 32 });
    const early = evaluator.evaluate(document, 2).shape?.volume as Volume;
    const { shape, report } = evaluator.evaluate(document, 60);
    const late = shape?.volume as Volume;
    expect(Math.max(...early.tiles)).toBeLessThanOrEqual(4);
    expect(Math.max(...late.tiles)).toBe(4);
    expect(report.nodes.it.problems.map(({ what }) => what).join()).toContain("It has grown to 32 cells");
  });

  it.each([["nothing arrives", {}, "No source arrives"]])("says so when %s", (_, set, words) => {
    const document = graphOf({ it: { type: "smoke", set }, stage: { type: "stage" } }, [
      "it.shape>stage.shape",
    ]);
    const { report } = new Evaluator().evaluate(document, 5);
    expect(report.nodes.it.problems.map(({ what }) => what).join()).toContain(words);
  });

  it("says when a source has more voxels than fit", () => {
    const row = { row: { type: "row-sites", set: { count: 2 } } };
    const document = smokeOf({ radius: 1e4 }, row, ["row.sites>it.sources"]);
    const { report } = new Evaluator().evaluate(document, 1);
    expect(report.nodes.it.problems.map(({ what }) => what).join()).toMatch(/Make the voxels larger/);
  });

  it("outlives speeds that are not numbers", () => {
    const document = smokeOf(
      { style: "billowing" },
      { wild: { type: "arithmetic", set: { do: "divide", a: 1, b: 0 } } },
      ["wild.value>it.amount"],
    );
    const { shape } = new Evaluator().evaluate(document, 5);
    const density = shape?.volume?.voxels.columns.density.lanes[0] ?? [];
    expect([...density].every(Number.isFinite)).toBe(true);
  });
});

describe("what carries particles", () => {
  it("is the smoke's velocity, by place", () => {
    const document = smokeOf(
      { style: "billowing" },
      {
        ask: { type: "volume-sample", set: { attribute: "velocity" } },
        row: { type: "row-sites", set: { count: 2, from: [0, 0.3, 0], to: [9, 9, 9] } },
        speed: { type: "store-attribute", set: { name: "speed", kind: "vector" } },
        both: { type: "merge" },
      },
      ["it.shape>ask.shape", "row.sites>speed.shape", "ask.vector>speed.vector", "speed.shape>both.shapes"],
    );
    const links = document.graph.links.map((link) =>
      link.to === "stage.shape" ? { ...link, to: "both.shapes" } : link,
    );
    const wired = {
      ...document,
      graph: { ...document.graph, links: [...links, { from: "both.shape", to: "stage.shape" }] },
    };
    const { sites } = new Evaluator().evaluate(wired, 20).shape as Shape;
    const speeds = sites?.columns.speed.lanes.map((lane) => [...lane]) ?? [];
    expect(speeds[1][0]).toBeGreaterThan(0.2);
    expect(speeds.map((lane) => lane[1])).toEqual([0, 0, 0]);
  });
});
