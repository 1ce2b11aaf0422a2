import { applyAll, constant, elementIndex } from "../../fields/expression";
import { freshKey } from "../../fields/fresh-key";
import { placesOf } from "../../geometry/domains";
import { HashGrid, SMALLEST_CELL } from "../../spatial/hash-grid";
import { reachOf } from "../../spatial/reach";
import { defineNode } from "../define";
import { field, length, out, shape, toggle } from "../ports";

export const neighbours = defineNode({
  type: "neighbours",
  family: "drive",
  title: "Neighbours",
  about:
    "How many sites or points of a shape lie within a distance of each element, and the mean of a value over them.",
  synonyms: [
    "count nearby",
    "crowd",
    "density",
    "how many near",
    "isolated",
    "cluster",
    "average of neighbours",
    "blur",
  ],
  inputs: {
    shape: shape({ about: "Whose sites are counted, else its points." }),
    place: field.vector({
      default: [0, 0, 0],
      implicit: "position",
      about: "Where it is counted from; the element's position unless linked.",
    }),
    reach: length({
      default: 0.5,
      min: 0,
      soft: [0, 3],
      about: "How far a neighbour may be; those at just this distance count.",
    }),
    own: toggle({ default: true, about: "The shape is the elements themselves: each leaves itself out." }),
    value: field.number({
      default: 0,
      soft: [0, 1],
      about: "What is averaged, read on the shape's own sites or points.",
    }),
  },
  outputs: {
    count: out.number("How many there are."),
    average: out.number("The mean of the value over them; 0 where there are none."),
  },
  summary: ({ reach }) => `within ${reach} units`,
  evaluate({ shape, place, reach, own, value }, context) {
    const among = placesOf(shape);
    if (!among || among.count === 0) {
      context.warn("No sites or points arrive, so there are no neighbours.", { input: "shape" });
      return { count: constant(0), average: constant(0) };
    }
    const { lanes } = among.columns.position;
    const within = reachOf(reach, lanes);
    const [values] = context.run([value], among);
    const data = {
      key: freshKey(),
      grid: new HashGrid(lanes, Math.max(within, SMALLEST_CELL)),
      reach: within,
      own,
      values,
      lanes: [...lanes, values],
    };
    const [count, average] = applyAll("near", [...place, elementIndex()], data);
    return { count, average };
  },
});
