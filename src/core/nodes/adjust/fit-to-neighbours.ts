import { apply, column, constant, divide, scaleBy } from "../../fields/expression";
import { type Column, makeColumn, withColumns } from "../../geometry/column";
import { rangeOf } from "../../kernels/statistics";
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
    const { position } = sites.columns;
    // Sizes and colours may change while all stay where they are.
    const { distances } = context.reuse<Ways>(
      (before) =>
        before?.position === position
          ? before
          : { position, distances: new PointGrid(position.lanes).ownDistances() },
      (made) => [made.distances],
    );
    const measured = withColumns(sites, { [ROOM]: makeColumn("number", [distances]) });
    // The way to the nearest is no number where there is none: then there is no room to speak of.
    const half = scaleBy(column(ROOM, 0), constant(0.5));
    const free = scaleBy(half, factor);
    const size = largest > 0 ? apply("minimum", [free, constant(largest)]) : free;
    const old = [0, 1, 2].map((lane) => column("scale", lane, 1));
    // An uneven clone keeps its proportions, its longest axis being the one that reaches.
    const longest = old.map((v) => apply("absolute", [v])).reduce((a, b) => apply("maximum", [a, b]));
    const share = divide(size, scaleBy(radius, longest));
    const [reach, ...scale] = context.run([size, ...old.map((v) => scaleBy(v, share))], measured);
    tellOutliers(reach, largest, context);
    return {
      shape: {
        ...shape,
        sites: withColumns(sites, {
          scale: makeColumn("vector", scale),
          reach: makeColumn("number", [reach]),
        }),
      },
    };
  },
});

/** How far each site is from its nearest one, and of which places that is true. */
interface Ways {
  position: Column;
  readonly distances: Float32Array;
}

/** The way to the nearest one, while it is worked out. */
const ROOM = "way to the nearest";

/** So many times the middle size is worth a word. */
const OUTLIER = 5;

/** So many are looked at for the middle size, spread over all. */
const SAMPLE = 1024;

function middleOf(size: Float32Array): number {
  const count = Math.min(size.length, SAMPLE);
  const some = new Float32Array(count);
  for (let i = 0; i < count; i++) some[i] = size[Math.floor((i * size.length) / count)];
  return some.sort()[count >> 1];
}

function tellOutliers(size: Float32Array, largest: number, context: NodeContext): void {
  const middle = middleOf(size);
  const limit = middle * OUTLIER;
  if (middle === 0) {
    const zero = size.filter((s) => s === 0).length;
    context.warn(
      `${zero} of ${size.length} stand where another one does and have no room. Trim overlaps leaves them out.`,
    );
    return;
  }
  if ((largest > 0 && largest <= limit) || (rangeOf(size)?.max ?? 0) <= limit) return;
  const above = size.reduce((count, s) => (s > limit ? count + 1 : count), 0);
  const value = Number(limit.toPrecision(2));
  context.warn(`${above} of ${size.length} are more than ${OUTLIER} times as large as the middle one.`, {
    input: "largest",
    repair: { label: `Let none be larger than ${value}`, input: "largest", value },
  });
}
