/** Lights: colours of temperatures against tables, one for each site, and no more than the stage has. */

import type { Shape } from "../../src/core/geometry/shape";
import { encodeSrgb } from "../../src/core/maths/color";
import { blackBody } from "../../src/core/maths/kelvin";
import { CANDELAS, type LightSettings, lightsOf, MOST_LIGHTS } from "../../src/core/nodes/dress/light";
import type { Setting } from "../../src/core/nodes/ports";
import type { Parts } from "../../src/core/values/parts";
import { evaluate, graphOf, type NodeSpec, outputsOf, reportOf } from "../run-node";

const lightsIn = (nodes: Record<string, NodeSpec>, links: string[] = []): LightSettings[] =>
  lightsOf([outputsOf(graphOf(nodes, links), "it").light as Parts]);
const spot = (set: Record<string, Setting>): NodeSpec => ({ type: "light", set });

describe("temperatures", () => {
  // M. Charity's table of black bodies for sRGB ("What color is a blackbody?"), bytes, from memory: within six of them.
  it.each([
    [1900, [255, 132, 0]],
    [2700, [255, 169, 87]],
    [4000, [255, 209, 163]],
    [6500, [255, 249, 253]],
    [10_000, [204, 219, 255]],
  ])("of %i kelvin have the colour of tables", (kelvin, wanted) => {
    const bytes = blackBody(kelvin).map((v) => 255 * encodeSrgb(v));
    for (const [c, v] of wanted.entries()) expect(Math.abs(bytes[c] - v)).toBeLessThan(7);
  });

  it("go from red to blue, the greatest part 1, and hold at the ends", () => {
    const all = Array.from({ length: 60 }, (_, i) => blackBody(1700 + i * 380));
    for (const [i, rgb] of all.entries()) {
      expect(Math.max(...rgb)).toBeCloseTo(1, 9);
      if (i > 0) expect(rgb[2] / rgb[0]).toBeGreaterThan(all[i - 1][2] / all[i - 1][0]);
    }
    expect(blackBody(1)).toEqual(blackBody(1667));
    expect(blackBody(1e9)).toEqual(blackBody(25_000));
  });
});

describe("a light", () => {
  it("has its colour times its power, or that of a temperature", () => {
    const [green] = lightsIn({ it: spot({ color: "#00ff00", power: 4, kind: "lamp" }) });
    expect(green).toMatchObject({ kind: "lamp", color: [0, 4, 0] });
    const [warm] = lightsIn({ it: spot({ color: "#00ff00", power: 2, warmth: 3000 }) });
    expect(warm.color).toEqual(blackBody(3000).map((v) => v * 2));
  });

  it("is one for each site, in its colour, and shines as far from it", () => {
    const many = lightsIn(
      {
        row: { type: "row-sites", set: { count: 3, from: [0, 0, 0], to: [4, 0, 0] } },
        red: { type: "tint", set: { color: "#ff0000" } },
        it: spot({ place: [0, 2, 0], target: [0, 0, 0], power: 1 }),
      },
      ["row.sites>red.shape", "red.shape>it.on"],
    );
    expect(many.map(({ place }) => place[0])).toEqual([0, 2, 4]);
    expect(many[1]).toMatchObject({ target: [2, -2, 0], color: [1, 0, 0] });
  });

  it("says how many the stage has, and takes some evenly among more", () => {
    const piece = graphOf(
      { row: { type: "row-sites", set: { count: 100, from: [0, 0, 0], to: [99, 0, 0] } }, it: spot({}) },
      ["row.sites>it.on"],
    );
    const found = lightsOf([outputsOf(piece, "it").light as Parts]);
    expect(found).toHaveLength(MOST_LIGHTS);
    expect(found[MOST_LIGHTS / 2].place[0]).toBe(50);
    expect(reportOf(piece, "it").problems[0].what).toContain("Material");
  });

  it("stands for what glows: far away it gives what all of it gives", () => {
    const glowing = (set: Record<string, Setting>) =>
      graphOf(
        {
          spread: { type: "scatter-sites", set: { count: 400 } },
          ball: { type: "sphere", set: { radius: 1 } },
          seed: { type: "sphere", set: { radius: 0.05 } },
          clones: { type: "clone-onto-sites" },
          made: { type: "material", set: { kind: "as set here", color: "#ffffff", ...set } },
          it: spot({ power: 1, at: "as what glows there" }),
        },
        [
          "ball.shape>spread.shape",
          "spread.sites>clones.sites",
          "seed.shape>clones.shapes",
          "clones.clones>made.shape",
          "made.shape>it.on",
        ],
      );
    const piece = glowing({ emission: 3 });
    const lamps = lightsOf([outputsOf(piece, "it").light as Parts]);
    expect(lamps).toHaveLength(16);
    expect(lamps.every(({ kind, shadow }) => kind === "lamp" && !shadow)).toBe(true);
    const { sites } = outputsOf(piece, "made").shape as Shape;
    const [x, y, z] = sites?.columns.position.lanes ?? [];
    const eye = [0.5, 1, 6];
    const away = (place: readonly number[]) => place.reduce((sum, v, a) => sum + (v - eye[a]) ** 2, 0);
    // A ball of radiance L and radius r gives π r² L ÷ d² at a distance of d (photometry, from the definition of radiance).
    let wanted = 0;
    for (let i = 0; i < 400; i++) wanted += (Math.PI * 0.05 ** 2 * 3) / away([x[i], y[i], z[i]]);
    const given = lamps.reduce((sum, { place, color }) => sum + (color[0] * CANDELAS) / away(place), 0);
    expect(given / wanted).toBeCloseTo(1, 1.7);
    // Without emission there is nothing to stand for, and it says so.
    expect(lightsOf([outputsOf(glowing({}), "it").light as Parts])).toEqual([]);
    expect(reportOf(glowing({}), "it").problems[0].what).toContain("emission");
  });

  it("reaches the Stage with those of other nodes", () => {
    const piece = graphOf(
      { box: { type: "box" }, one: spot({}), two: spot({ kind: "sun" }), stage: { type: "stage" } },
      ["box.shape>stage.shape", "one.light>stage.lights", "two.light>stage.lights"],
    );
    const { stage } = evaluate(piece);
    expect(lightsOf(stage?.lights as Parts[]).map(({ kind }) => kind)).toEqual(["spot", "sun"]);
    expect(stage?.setup).toBe("daylight");
  });
});
