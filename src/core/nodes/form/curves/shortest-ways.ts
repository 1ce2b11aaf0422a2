import { shortestWays as waysAlong } from "../../../curves/ways";
import { placesOf } from "../../../geometry/domains";
import { EMPTY_SHAPE } from "../../../geometry/shape";
import { defineNode } from "../../define";
import { field, out, shape } from "../../ports";
import { pathsOf } from "../surfaces/input-paths";

export const shortestWays = defineNode({
  type: "shortest-ways",
  family: "form",
  title: "Shortest ways",
  about:
    "Ways along a net of lines from everywhere to seeds, as short as can be: lightning, roots, veins, rivers.",
  synonyms: [
    "shortest path",
    "route",
    "lightning",
    "veins",
    "roots",
    "branches",
    "network",
    "river",
    "tree",
    "dijkstra",
  ],
  inputs: {
    shape: shape({ about: "The net: lines that meet, as Link nearby and Edge paths make them." }),
    seeds: shape({ about: "Where ways end: sites, else points; each at the nearest place of the net." }),
    goals: shape({ about: "Where ways begin; without any, at every loose end of the net." }),
    weight: field.number({
      default: 1,
      min: 0,
      soft: [0, 4],
      about: "How dear it is to go along a line, times its length; a noise makes ways wander.",
    }),
  },
  outputs: {
    shape: out.shape(
      "Curves towards the seeds. Points have `far`, `ways` (how many go there) and `radius` (thicker where more go).",
    ),
  },
  cost: ({ shape }) => ({ milliseconds: (shape.curves?.points.count ?? 0) * 0.004 }),
  evaluate({ shape, seeds, goals, weight }, context) {
    const curves = pathsOf(shape, "go along", context);
    const ends = placesOf(seeds);
    if (!curves || !ends?.count) {
      if (curves) context.warn("No seeds arrive, so ways lead nowhere.", { input: "seeds" });
      return { shape: EMPTY_SHAPE };
    }
    const [weights] = context.run([weight], curves.points);
    const begin = placesOf(goals);
    const made = waysAlong(
      curves,
      weights,
      ends.columns.position.lanes,
      begin?.count ? begin.columns.position.lanes : null,
    );
    if (made) return { shape: { curves: made } };
    context.warn("No way leads to a seed: the net has no loose ends, or falls apart.", { input: "shape" });
    return { shape: EMPTY_SHAPE };
  },
});
