/**
 * Colours that are mixed count by their alpha (T. Porter and T. Duff, "Compositing digital images", 1984): whatever is half-way
 * from opaque red to clear blue is half-clear red.
 */
import type { Value } from "../../src/core/fields/expression";
import { runValues } from "../../src/core/fields/run";
import type { Shape } from "../../src/core/geometry/shape";
import { evaluate, graphOf, type NodeSpec, outputsOf, sitesAt } from "../run-node";

const RED = "#ff0000";
const CLEAR_BLUE = "#0000ff00";
/** Two sites beside each other, the first red, the second clear blue. */
const PAIR: Record<string, NodeSpec> = {
  a: { type: "single-site", set: { place: [0, 0, 0] } },
  b: { type: "single-site", set: { place: [1, 0, 0] } },
  red: { type: "tint", set: { color: RED } },
  blue: { type: "tint", set: { color: CLEAR_BLUE } },
};
const LINKS = ["a.sites>red.shape", "b.sites>blue.shape"];

const colorOf = (shape: unknown, i = 0): number[] => {
  const { sites, mesh } = shape as Shape;
  return (sites ?? mesh?.points)?.columns.color.lanes.map((lane) => lane[i]) ?? [];
};
function isHalfClearRed(color: readonly number[], alpha = 0.5): void {
  [1, 0, 0, alpha].forEach((v, l) => {
    expect(color[l]).toBeCloseTo(v, 5);
  });
}

describe("half-way from opaque red to clear blue", () => {
  it("Mix", () => {
    const set = { of: "colours", colorA: RED, colorB: CLEAR_BLUE, amount: 0.5 };
    const color = outputsOf(graphOf({ mix: { type: "mix", set } }), "mix").color as Value[];
    isHalfClearRed(runValues(color, sitesAt([[0, 0, 0]])).lanes.map((lane) => lane[0]));
  });

  it("Tint of what is clear, and towards what is clear", () => {
    const tinted = (first: string, then: string, amount: number) =>
      outputsOf(
        graphOf(
          {
            site: { type: "single-site" },
            one: { type: "tint", set: { color: first } },
            two: { type: "tint", set: { color: then, amount } },
          },
          ["site.sites>one.shape", "one.shape>two.shape"],
        ),
        "two",
      ).shape;
    isHalfClearRed(colorOf(tinted(RED, CLEAR_BLUE, 0.5)));
    isHalfClearRed(colorOf(tinted(CLEAR_BLUE, RED, 0.25)), 0.25);
  });

  it("Blend poses", () => {
    const document = graphOf({ ...PAIR, blend: { type: "blend-poses", set: { match: "by order" } } }, [
      ...LINKS,
      "red.shape>blend.shape",
      "blue.shape>blend.to",
    ]);
    isHalfClearRed(colorOf(outputsOf(document, "blend").shape));
  });

  it("Soften, and Carry over from several", () => {
    const both = [...LINKS, "red.shape>all.shapes", "blue.shape>all.shapes"];
    const soft = graphOf({ ...PAIR, all: { type: "merge" }, soft: { type: "soften", set: { radius: 2 } } }, [
      ...both,
      "all.shape>soft.shape",
    ]);
    for (const i of [0, 1]) isHalfClearRed(colorOf(outputsOf(soft, "soft").shape, i));
    const carried = graphOf(
      {
        ...PAIR,
        all: { type: "merge" },
        middle: { type: "single-site", set: { place: [0.5, 0, 0] } },
        over: { type: "carry-over", set: { samples: 2 } },
      },
      [...both, "all.shape>over.from", "middle.sites>over.shape"],
    );
    isHalfClearRed(colorOf(outputsOf(carried, "over").shape));
  });

  it("Nearest and Cast ray on a surface between coloured points", () => {
    const nodes: Record<string, NodeSpec> = {
      sheet: { type: "plane", set: { width: 2, depth: 2 } },
      place: { type: "position" },
      paint: { type: "tint" },
      near: { type: "nearest", set: { to: "surface" } },
      ray: { type: "cast-ray" },
    };
    const colors = graphOf(
      {
        ...nodes,
        stops: {
          type: "gradient",
          set: {
            low: -1,
            high: 1,
            colors: {
              space: "linear",
              stops: [
                { at: 0, color: RED },
                { at: 1, color: CLEAR_BLUE },
              ],
            } as never,
          },
        },
      },
      [
        "place.x>stops.value",
        "sheet.shape>paint.shape",
        "stops.color>paint.color",
        "paint.shape>near.shape",
        "paint.shape>ray.shape",
      ],
    );
    const above = sitesAt([[0, 0.5, 0.3]]);
    for (const node of ["near", "ray"]) {
      const color = outputsOf(colors, node).color as Value[];
      isHalfClearRed(runValues(color, above).lanes.map((lane) => lane[0]));
    }
  });

  it("Lag: half of the way after its half-time", () => {
    const document = graphOf(
      {
        site: { type: "single-site" },
        paint: { type: "tint" },
        late: { type: "lag", set: { of: "an attribute", attribute: "color", half: 0.04 } },
      },
      ["site.sites>paint.shape", "paint.shape>late.shape"],
    );
    const keys = {
      color: {
        keys: [
          { frame: 0, value: RED, ease: "hold" as const },
          { frame: 1, value: CLEAR_BLUE },
        ],
      },
    };
    const keyed = {
      ...document,
      graph: {
        ...document.graph,
        nodes: document.graph.nodes.map((node) => (node.id === "paint" ? { ...node, keys } : node)),
      },
    };
    const color = colorOf(evaluate(keyed, 3, { target: "late" }).outputs?.shape);
    expect(color[3]).toBeGreaterThan(0.01);
    expect(color[3]).toBeLessThan(0.6);
    isHalfClearRed(color, color[3]);
  });
});
