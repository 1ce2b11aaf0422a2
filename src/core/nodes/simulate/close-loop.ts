import { tick } from "../../cancelling";
import { type Column, type Domain, makeColumn, makeLanes } from "../../geometry/column";
import type { Shape } from "../../geometry/shape";
import { unitRotation } from "../../maths/quaternion";
import { defineNode } from "../define";
import { elementsOf, SILENTLY, withElements } from "../elements";
import { integer, out, shape } from "../ports";
import { addShare, placeOf } from "./elements-then";

interface Inputs {
  readonly shape: Shape;
}

export const closeLoop = defineNode({
  type: "close-loop",
  family: "simulate",
  title: "Close loop",
  about:
    "Lets the end of the piece's range run over into what comes before its beginning, so that it closes.",
  synonyms: ["crossfade", "seamless", "cycle", "loop a simulation", "blend end into start", "dissolve"],
  otherFrames: true,
  inputs: {
    shape: shape({ about: "What does not close by itself: springs, lags, things that grow." }),
    over: integer({
      default: 25,
      min: 1,
      soft: [1, 100],
      unit: "frames",
      about: "How many of the last frames run over. Springs need a run-up of as many.",
    }),
  },
  outputs: { shape: out.shape("The same; the frame after the last is exactly the first.") },
  summary: ({ over }) => `over ${over} frames`,
  evaluate({ shape: present, over }, context) {
    const { frame, first, last } = context.time;
    const frames = last - first + 1;
    if (over > frames) {
      context.warn(`The range has only ${frames} frames, so all of it runs over.`, {
        input: "over",
        repair: { label: `Set it to ${frames}`, input: "over", value: frames },
      });
    }
    const into = (frame - (last + 1)) / Math.min(over, frames) + 1;
    if (into <= 0 || frame > last + 1) return { shape: present };
    const elements = elementsOf(present, context);
    if (!elements) return { shape: present };
    const { domain } = elements;
    // Slow at both ends, so that nothing changes its speed of a sudden.
    const share = into * into * (3 - 2 * into);
    const names = Object.keys(domain.columns).filter((name) => domain.columns[name].kind !== "integer");
    const columns: Record<string, Column> = {};
    context.at<Inputs, void>(frame - frames, ({ shape: early }) => {
      const then = elementsOf(early, SILENTLY)?.domain;
      for (const name of names)
        columns[name] = then ? mixedOver(domain, then, name, share) : domain.columns[name];
    });
    return { shape: withElements(present, elements, columns) };
  },
});

/** A column of elements on the way to what they are in another domain; what is not there stays as it is. */
function mixedOver(now: Domain, then: Domain, name: string, share: number): Column {
  const { kind, lanes } = now.columns[name];
  const mixed = makeLanes(kind, now.count) as Float32Array[];
  for (let i = 0; i < now.count; i++) {
    tick(2);
    const was = then.columns[name] ? placeOf(then, now, i) : -1;
    if (was < 0) for (let l = 0; l < mixed.length; l++) mixed[l][i] = lanes[l][i];
    else {
      addShare(mixed, now.columns[name], i, i, 1 - share);
      addShare(mixed, then.columns[name], i, was, share);
      if (kind === "rotation") unitRotation(mixed, i);
    }
  }
  return makeColumn(kind, mixed);
}
