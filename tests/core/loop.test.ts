/** The loop meter: what differs between the frame after the last and the first. */

import { Evaluator } from "../../src/core/evaluate/evaluator";
import type { Shape } from "../../src/core/geometry/shape";
import { BestPair } from "../../src/core/inspect/best-pair";
import { isClosed, loopGap } from "../../src/core/inspect/loop";
import { MotionPaths } from "../../src/core/inspect/motion-paths";
import type { Setting } from "../../src/core/nodes/ports";
import { demoNames, readDemo } from "../../src/server/demo";
import { loopWords, pairWords } from "../../src/studio/timeline/loop-words";
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

describe("the two frames that look most alike", () => {
  it("are a turn apart for what goes round in 80 frames, and the words say so", () => {
    // 360° in 80 of 200 frames: any two frames 80 or 160 apart are the same, and none between.
    const document = turning({ b: 360 * 2.5 });
    const pair = new BestPair();
    for (let frame = 0; frame < 200; frame++) pair.add(frame, evaluate(document, frame).shape as Shape);
    const best = pair.best();
    expect(((best?.second ?? 0) - (best?.first ?? 0)) % 80).toBe(0);
    const [a, b] = [best?.first ?? 0, best?.second ?? 0].map(
      (frame) => evaluate(document, frame).shape as Shape,
    );
    expect(isClosed(loopGap(a, b))).toBe(true);
    expect(pairWords(loopGap(a, b), 3, 83)).toMatch(/^Frames 3 and 83 are the most alike/);
  });

  it("are never next to each other, and there are none of too few frames", () => {
    const document = turning({ b: 90 });
    const pair = new BestPair();
    for (let frame = 0; frame < 41; frame++) pair.add(frame, evaluate(document, frame).shape as Shape);
    const best = pair.best();
    expect((best?.second ?? 0) - (best?.first ?? 0)).toBe(10);
    const few = new BestPair();
    few.add(0, {});
    expect(few.best()).toBeNull();
  });
});

describe("ways of clones", () => {
  it("are the arcs on which they go: 8 clones a quarter round come to 8 × r π ÷ 2, by chords", () => {
    const document = turning({ b: 90 });
    const paths = new MotionPaths();
    for (let frame = 0; frame <= 200; frame += 10) paths.add(evaluate(document, frame).shape as Shape);
    const lines = paths.lines();
    expect(lines).toHaveLength(8 * 20 * 6);
    let length = 0;
    for (let s = 0; s < lines.length; s += 6)
      length += Math.hypot(lines[s] - lines[s + 3], lines[s + 1] - lines[s + 4], lines[s + 2] - lines[s + 5]);
    expect(length / 8).toBeCloseTo(Math.PI / 2, 2);
  });
});
