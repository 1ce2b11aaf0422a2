import {
  apply,
  applyAll,
  clamp,
  constant,
  divide,
  elementIndex,
  positionField,
  scaleBy,
  type Value,
  type VectorField,
  vectorLength,
} from "../../../fields/expression";
import { freshKey } from "../../../fields/fresh-key";
import { direction, evenly, less, timesEach } from "../../../fields/vector-fields";
import { placesOf } from "../../../geometry/domains";
import type { Shape } from "../../../geometry/shape";
import { forceOf } from "../../../particles/forces";
import { PointGrid } from "../../../spatial/point-grid";
import { nearestOnCurves } from "../../curve-queries";
import { defineNode, type NodeContext } from "../../define";
import { choice, field, length, out, shape, vector } from "../../ports";
import { closestOn, NOTHING_CARRIED, surfaceTableOf } from "../../surface-queries";

const TO = ["a place", "sites or points", "curves", "a surface"] as const;
const GROWS = ["stays the same", "with the distance", "as it comes near"] as const;

export const attract = defineNode({
  type: "attract",
  family: "simulate",
  title: "Attract",
  about: "Pulls particles to a place, to the nearest site, curve or surface, or pushes them away from it.",
  synonyms: ["repel", "magnet", "gather", "pull", "point force", "black hole", "goal", "seek", "push away"],
  inputs: {
    to: choice(TO, { about: "What pulls." }),
    place: vector({
      default: [0, 1, 0],
      soft: [-5, 5],
      handle: "place",
      shownWhen: { input: "to", is: ["a place"] },
      about: "Where it is.",
    }),
    shape: shape({
      shownWhen: { input: "to", is: ["sites or points", "curves", "a surface"] },
      about: "Whose nearest site, curve or surface pulls.",
    }),
    strength: field.number({
      default: 2,
      soft: [-10, 10],
      about: "Units a second²; below 0 it pushes away.",
    }),
    grows: choice(GROWS, {
      about: "How it changes with the distance: as it is, like a spring, or the nearer the stronger.",
    }),
    reach: length({
      default: 0,
      min: 0,
      soft: [0, 10],
      about: "Nothing is pulled from further away, and softly near that; 0 for any distance.",
    }),
  },
  outputs: { force: out.force("For Particles.") },
  summary: ({ to, strength }) => `${to}, ${strength}`,
  evaluate({ to, place, shape, strength, grows, reach }, context) {
    const goal = goalOf(to, place, shape, context);
    if (!goal) {
      const none = to === "a surface" ? "No surface arrives" : `No ${to} arrive`;
      context.warn(`${none}, so nothing pulls.`, { input: "shape" });
      return { force: forceOf("push", "Attract", { push: evenly([0, 0, 0]) }) };
    }
    const way = less(goal, positionField());
    const distance = vectorLength(way);
    const one = constant(1);
    const times: Value =
      grows === "with the distance"
        ? distance
        : grows === "as it comes near"
          ? divide(one, apply("maximum", [scaleBy(distance, distance), constant(SOFT)]))
          : clamp(divide(distance, constant(SOFT)), constant(0), one);
    const within =
      reach > 0
        ? apply(
            "ease",
            [clamp(apply("subtract", [one, divide(distance, constant(reach))]), constant(0), one)],
            { key: "smooth", ease: "smooth" },
          )
        : one;
    return {
      force: forceOf("push", "Attract", {
        push: timesEach(direction(way), scaleBy(scaleBy(times, within), strength)),
      }),
    };
  },
});

/** Units² below which it does not grow any more, and units within which it comes to rest. */
const SOFT = 0.05;

function goalOf(
  to: (typeof TO)[number],
  place: readonly number[],
  shape: Shape,
  context: NodeContext,
): VectorField | null {
  if (to === "a place") return evenly(place);
  const from = positionField();
  if (to === "a surface") {
    const table = surfaceTableOf(shape.mesh, context);
    return table && (closestOn(table, from, NOTHING_CARRIED).slice(1, 4) as unknown as VectorField);
  }
  if (to === "curves") {
    const found = nearestOnCurves(shape.curves, from, context);
    return found && (found.slice(1, 4) as unknown as VectorField);
  }
  const among = placesOf(shape);
  if (!among?.count) return null;
  const grid = new PointGrid(among.columns.position.lanes, { findable: true });
  const data = { key: freshKey(), grid: grid.address, nth: 1, own: false, lanes: grid.lanes };
  return applyAll("nearest", [...from, elementIndex()], data).slice(1, 4) as unknown as VectorField;
}
