import { tick } from "../../cancelling";
import { makeColumn, makeLanes, withColumns } from "../../geometry/column";
import { lanesOf } from "../../geometry/shape";
import { PointGrid } from "../../spatial/point-grid";
import { defineNode, type NodeContext } from "../define";
import { field, length, out, shape } from "../ports";

export const fitToNeighbours = defineNode({
  type: "fit-to-neighbours",
  family: "adjust",
  title: "Fit to neighbours",
  about:
    "Sizes clones by the room they have: each as large as half the way to its nearest one, so that they just touch.",
  synonyms: ["size by distance", "touch", "pack", "no overlap", "spacing", "nearest", "balls"],
  inputs: {
    shape: shape({ about: "Clones or sites." }),
    radius: field.number({
      default: 0.5,
      min: 0,
      soft: [0.05, 2],
      unit: "units",
      about: "How far what is cloned reaches from its middle at its own size.",
    }),
    factor: field.number({
      default: 1,
      min: 0,
      soft: [0, 2],
      unit: "×",
      about: "1 lets them touch, less leaves a gap, more lets them overlap.",
    }),
    largest: length({
      default: 0,
      min: 0,
      soft: [0, 5],
      about: "The most that one may reach; 0 sets no limit.",
    }),
  },
  outputs: { shape: out.shape("The same, sized; `reach` is how far each reaches from its middle.") },
  summary: ({ factor }) => (factor === 1 ? "so that they touch" : `${factor} × the room`),
  evaluate({ shape, radius, factor, largest }, context) {
    const { sites } = shape;
    if (!sites || sites.count === 0) {
      context.warn("No sites arrive, so there is nothing to size.", { input: "shape" });
      return { shape };
    }
    if (sites.count === 1) {
      context.warn("There is only one, which has no neighbour; it stays as it is.", { input: "shape" });
      return { shape };
    }
    const [reach, factors] = context.run([radius, factor], sites);
    const { lanes } = sites.columns.position;
    const { distances } = new PointGrid(lanes as Float32Array[]).nearest(lanes as Float32Array[], {
      own: true,
    });
    const [old0, old1, old2] = lanesOf(sites, "scale", "vector").lanes ?? [];
    const scale = makeLanes("vector", sites.count) as Float32Array[];
    const size = makeLanes("number", sites.count)[0] as Float32Array;
    for (let i = 0; i < sites.count; i++) {
      tick();
      const room = (distances[i] / 2) * factors[i];
      size[i] = largest > 0 && room > largest ? largest : room;
      const times = reach[i] > 0 ? size[i] / reach[i] : 0;
      // An uneven clone keeps its proportions, its longest axis being the one that reaches.
      const [x, y, z] = [old0?.[i] ?? 1, old1?.[i] ?? 1, old2?.[i] ?? 1];
      const share = times / (Math.max(Math.abs(x), Math.abs(y), Math.abs(z)) || 1);
      scale[0][i] = x * share;
      scale[1][i] = y * share;
      scale[2][i] = z * share;
    }
    tellOutliers(size, largest, context);
    return {
      shape: {
        ...shape,
        sites: withColumns(sites, {
          scale: makeColumn("vector", scale),
          reach: makeColumn("number", [size]),
        }),
      },
    };
  },
});

/** So many times the middle size is worth a word. */
const OUTLIER = 5;

function tellOutliers(size: Float32Array, largest: number, context: NodeContext): void {
  const ordered = Float32Array.from(size).sort();
  const middle = ordered[ordered.length >> 1];
  const limit = middle * OUTLIER;
  if (middle === 0) {
    const zero = ordered.filter((s) => s === 0).length;
    context.warn(
      `${zero} of ${size.length} stand where another one does and have no room. Trim overlaps leaves them out.`,
    );
    return;
  }
  const above = size.reduce((count, s) => (s > limit ? count + 1 : count), 0);
  if (above === 0 || (largest > 0 && largest <= limit)) return;
  const value = Number(limit.toPrecision(2));
  context.warn(`${above} of ${size.length} are more than ${OUTLIER} times as large as the middle one.`, {
    input: "largest",
    repair: { label: `Let none be larger than ${value}`, input: "largest", value },
  });
}
