/** The loop meter: what differs between the frame after the last and the first. */

import { Evaluator } from "../../src/core/evaluate/evaluator";
import type { Shape } from "../../src/core/geometry/shape";
import { isClosed, loopGap } from "../../src/core/inspect/loop";
import type { Setting } from "../../src/core/nodes/ports";
import { demoNames, readDemo } from "../../src/server/demo";
import { loopWords } from "../../src/studio/strip/loop-words";
import { evaluate, graphOf } from "../run-node";

const turning = (set: Record<string, Setting>) =>
  graphOf(
    {
      clock: { type: "clock" },
      turn: { type: "arithmetic", set: { do: "multiply", b: 360, ...set } },
      spin: { type: "angles" },
      ring: { type: "ring-sites", set: { count: 8, radius: 1 } },
      move: { type: "transform" },
      stage: { type: "stage" },
    },
    [
      "clock.along>turn.a",
      "turn.value>spin.y",
      "spin.rotation>move.turn",
      "ring.sites>move.shape",
      "move.shape>stage.shape",
    ],
  );
const gapOf = (document: ReturnType<typeof turning>) => {
  const [a, b] = [0, 200].map((frame) => evaluate(document, frame).shape as Shape);
  return loopGap(a, b);
};

describe("the loop meter", () => {
  it("finds a whole turn closed and tells a part of one by its chord and angle", () => {
    const whole = gapOf(turning({}));
    expect(isClosed(whole)).toBe(true);
    expect(loopWords(whole, 0, 199)).toMatch(/^The loop closes: frame 200/);
    const part = gapOf(turning({ b: 30 }));
    expect(isClosed(part)).toBe(false);
    expect(part.rotation.most).toBeCloseTo(30, 3);
    // The chord of 30° on a circle of radius 1: 2 sin 15° (check ARR-06).
    expect(part.position.most).toBeCloseTo(0.5176380902, 5);
    expect(part.position.mean).toBeCloseTo(part.position.most, 5);
    expect(loopWords(part, 0, 199)).toMatch(/does not close.*0\.518 units of place.*30 ° of turn/);
  });

  it("counts elements that come or go, and knows an empty piece", () => {
    const [three, five] = [3, 5].map(
      (count) =>
        evaluate(
          graphOf({ ring: { type: "ring-sites", set: { count } }, stage: { type: "stage" } }, [
            "ring.sites>stage.shape",
          ]),
        ).shape as Shape,
    );
    const gap = loopGap(three, five);
    expect([gap.count, gap.lost, isClosed(gap)]).toEqual([3, 2, false]);
    expect(loopWords(gap, 0, 9)).toContain("2 elements more");
    expect(loopWords(loopGap({}, {}), 0, 9)).toMatch(/^Nothing is shown/);
  });

  it.each(demoNames().filter((name) => /^(02|09|14|18|19|22)/.test(name)))("finds %s closed", (name) => {
    const document = readDemo(name);
    const evaluator = new Evaluator();
    const begin = evaluator.evaluate(document, document.settings.first).shape as Shape;
    evaluator.keep(begin);
    const after = evaluator.evaluate(document, document.settings.last + 1).shape as Shape;
    expect(isClosed(loopGap(begin, after))).toBe(true);
  });
});
