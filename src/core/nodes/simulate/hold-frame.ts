import { tick } from "../../cancelling";
import type { NumberField } from "../../fields/expression";
import { type Column, makeColumn, makeLanes } from "../../geometry/column";
import { copyOfShape } from "../../geometry/copy";
import type { Shape } from "../../geometry/shape";
import { unitRotation } from "../../maths/quaternion";
import { defineNode, type NodeContext, NodeError } from "../define";
import { elementsOf, SILENTLY, withElements } from "../elements";
import { choice, field, number, out, shape } from "../ports";
import { addShare, placeOf } from "./elements-then";

interface Inputs {
  readonly shape: Shape;
}

/** Other frames that elements may ask for between them. */
const MOST_FRAMES = 600;

export const holdFrame = defineNode({
  type: "hold-frame",
  family: "simulate",
  title: "Hold frame",
  about: "What arrives as it is at another frame: one for all, or each element some frames earlier.",
  synonyms: [
    "freeze time",
    "time offset",
    "delay",
    "remap time",
    "still",
    "time remap",
    "echo",
    "pause",
    "play backwards",
    "reverse time",
  ],
  otherFrames: true,
  inputs: {
    shape: shape({ about: "What is looked at in another moment." }),
    which: choice(["a frame", "some frames earlier", "each some frames earlier"], {
      about: "The same frame always; the one so long ago; or so for each clone by itself.",
    }),
    frame: number({
      default: 0,
      soft: [0, 200],
      unit: "frames",
      shownWhen: { input: "which", is: ["a frame", "some frames earlier"] },
      about: "Which frame, or how many earlier. Parts of frames are worked out too.",
    }),
    earlier: field.number({
      default: 0,
      soft: [0, 50],
      unit: "frames",
      shownWhen: { input: "which", is: ["each some frames earlier"] },
      about: "How many frames earlier each clone is shown; link a distance or a random number.",
    }),
  },
  outputs: { shape: out.shape("What it was, or will be, like.") },
  summary: ({ which, frame }) =>
    which === "a frame"
      ? `frame ${frame}`
      : which === "some frames earlier"
        ? `${frame} frames earlier`
        : "each earlier",
  evaluate({ shape: present, which, frame, earlier }, context) {
    if (which === "each some frames earlier") return { shape: eachEarlier(present, earlier, context) };
    const at = which === "a frame" ? frame : context.time.frame - frame;
    return { shape: context.at<Inputs, Shape>(at, ({ shape }) => kept(shape, context)) };
  },
});

/** A copy that outlives the look at another frame; the last one again when that is what it is of. */
function kept(shape: Shape, context: NodeContext): Shape {
  interface Kept {
    readonly of: Shape;
    readonly copy: Shape;
  }
  return context.reuse<Kept>((before) =>
    before?.of === shape ? before : { of: shape, copy: copyOfShape(shape) },
  ).copy;
}

/** Elements by id, each from the two whole frames around its own; those that were not there then stay as they are. */
function eachEarlier(present: Shape, earlier: NumberField, context: NodeContext): Shape {
  const elements = elementsOf(present, context);
  if (!elements) return present;
  const { domain } = elements;
  const now = context.time.frame;
  const [ago] = context.run([earlier], domain);
  const wanted = new Set<number>();
  for (const a of ago) {
    wanted.add(Math.floor(now - a));
    wanted.add(Math.ceil(now - a));
  }
  if (wanted.size > MOST_FRAMES)
    throw new NodeError(
      `Elements ask for ${wanted.size} other frames between them; ${MOST_FRAMES} are the most. Make the range of "earlier" smaller.`,
      "earlier",
    );
  const names = Object.keys(domain.columns).filter((name) => domain.columns[name].kind !== "integer");
  const lanes = new Map(
    names.map((name) => [name, makeLanes(domain.columns[name].kind, domain.count) as Float32Array[]]),
  );
  const shares = new Float32Array(domain.count);
  for (const frame of [...wanted].sort((a, b) => a - b))
    context.at<Inputs, void>(frame, ({ shape }) => {
      const then = elementsOf(shape, SILENTLY)?.domain;
      for (let i = 0; then && i < domain.count; i++) {
        tick(names.length);
        const share = 1 - Math.abs(now - ago[i] - frame);
        const was = share > 0 ? placeOf(then, domain, i) : -1;
        if (was < 0) continue;
        shares[i] += share;
        for (const name of names)
          addShare(lanes.get(name) as Float32Array[], then.columns[name], i, was, share);
      }
    });
  const columns: Record<string, Column> = {};
  for (const name of names) {
    const { kind, lanes: own } = domain.columns[name];
    const mixed = lanes.get(name) as Float32Array[];
    for (let i = 0; i < domain.count; i++) {
      if (shares[i] === 0) for (let l = 0; l < mixed.length; l++) mixed[l][i] = own[l][i];
      else if (shares[i] < 1)
        for (let l = kind === "color" ? 3 : 0; l < mixed.length; l++) mixed[l][i] /= shares[i];
      if (kind === "rotation") unitRotation(mixed, i);
    }
    columns[name] = makeColumn(kind, mixed);
  }
  return withElements(present, elements, columns);
}
