/** What becomes of pictures: what the stage is told, and the tone curve against its published form. */
import fc from "fast-check";
import { beforeNeutral } from "../../src/core/maths/tone";
import type { FinishSettings } from "../../src/core/nodes/dress/finish";
import type { Parts } from "../../src/core/values/parts";
import { evaluate, graphOf } from "../run-node";

/** Khronos PBR neutral tone mapper (specification of 2024), for what is no brighter than where it begins to press highlights together. */
function neutral(rgb: readonly number[]): number[] {
  const x = Math.min(...rgb);
  const offset = x < 0.08 ? x - 6.25 * x * x : 0.04;
  return rgb.map((v) => v - offset);
}

it("a background comes through the neutral curve as it was chosen", () => {
  const dark = fc.double({ min: 0, max: 0.7, noNaN: true });
  fc.assert(
    fc.property(dark, dark, dark, (r, g, b) => {
      const seen = neutral(beforeNeutral([r, g, b]));
      for (const [c, v] of [r, g, b].entries()) expect(seen[c]).toBeCloseTo(v, 6);
    }),
  );
});

it("reaches the Stage as it is set; keys of it are values like any others", () => {
  const piece = graphOf(
    {
      box: { type: "box" },
      look: { type: "finish", set: { glow: 0.5, tone: "film" } },
      stage: { type: "stage" },
    },
    ["box.shape>stage.shape", "look.finish>stage.finish"],
  );
  const keyed = {
    ...piece,
    graph: {
      ...piece.graph,
      nodes: piece.graph.nodes.map((node) =>
        node.id === "look"
          ? {
              ...node,
              keys: {
                exposure: {
                  keys: [
                    { frame: 0, value: -1 },
                    { frame: 10, value: 1 },
                  ],
                },
              },
            }
          : node,
      ),
    },
  };
  const at = (frame: number) => {
    const { finish } = evaluate(keyed as typeof piece, frame).stage as { finish: Parts[] };
    return finish[0].settings as unknown as FinishSettings;
  };
  expect(at(0)).toMatchObject({ glow: 0.5, tone: "film", exposure: -1, grain: 0 });
  expect(at(10).exposure).toBe(1);
  expect(at(5).exposure).toBeGreaterThan(-1);
});
