import { column, constant, divide, subtract } from "../../../fields/expression";
import { withKin } from "../../../geometry/across";
import { makeColumn, withColumns } from "../../../geometry/column";
import { placesOf } from "../../../geometry/domains";
import type { Mesh } from "../../../geometry/mesh";
import { distancesAlong } from "../../../meshes/geodesic";
import { PointGrid } from "../../../spatial/point-grid";
import { defineNode } from "../../define";
import { choice, field, length, out, shape } from "../../ports";
import { meshOf } from "./input-mesh";

const NAME = "distance";

export const distanceAlongSurface = defineNode({
  type: "distance-along-surface",
  family: "form",
  title: "Distance along surface",
  about:
    "How far each point of a mesh is from seeds, along the surface: masks that creep around corners, growth from a spot.",
  synonyms: ["geodesic", "soft selection", "spread", "grow mask", "flood", "creep", "from seeds"],
  inputs: {
    shape: shape({ about: "A mesh." }),
    from: choice(["points that a field names", "the nearest points to sites"], { about: "Where it begins." }),
    where: field.number({
      default: 0,
      soft: [0, 1],
      shownWhen: { input: "from", is: ["points that a field names"] },
      about: "Points where this is above 0.5 are seeds.",
    }),
    sites: shape({ about: "Sites, points or the points of curves, each of which has a seed." }),
    reach: length({ default: 1, min: 0, soft: [0, 5], about: "As far as the mask goes; 0 without a limit." }),
  },
  outputs: {
    shape: out.shape("The same, with the attribute `distance` on its points."),
    distance: out.number("Units along the surface; the reach where no seed is reached."),
    mask: out.number("1 at the seeds, 0 at the reach and beyond."),
  },
  summary: ({ reach }) => (Number(reach) > 0 ? `up to ${reach} units` : "without a limit"),
  cost: ({ shape }) => ({ milliseconds: (shape.mesh?.corners.count ?? 0) * 0.003 }),
  evaluate({ shape, from, where, sites, reach }, context) {
    const far = column(NAME, 0, reach);
    const mesh = meshOf(shape, "measure", context);
    if (!mesh) return { shape, distance: far, mask: constant(0) };
    const seeds =
      from === "points that a field names"
        ? chosenSeeds(context.run([where], withKin({ mesh }, "points"))[0])
        : nearestSeeds(mesh, placesOf(sites)?.columns.position.lanes as readonly Float32Array[] | undefined);
    if (seeds.length === 0)
      context.warn(
        from === "points that a field names"
          ? "No point is a seed, so none is reached."
          : "No sites arrive, so nothing is reached.",
        { input: from === "points that a field names" ? "where" : "sites" },
      );
    const found = distancesAlong(mesh, seeds, reach > 0 ? reach : undefined);
    const most =
      reach > 0 ? reach : found.reduce((all, d) => (Number.isFinite(d) ? Math.max(all, d) : all), 0);
    const lane = found.map((d) => (Number.isFinite(d) ? d : most));
    const points = withColumns(mesh.points, { [NAME]: makeColumn("number", [lane]) });
    const mask = subtract(constant(1), divide(far, constant(most)));
    return {
      shape: { ...shape, mesh: { ...mesh, points } },
      distance: far,
      mask: seeds.length > 0 ? mask : constant(0),
    };
  },
});

type Seed = readonly [number, number];

const chosenSeeds = (values: Float32Array): Seed[] =>
  Array.from(values, (value, p) => [value, p] as const)
    .filter(([value]) => value > 0.5)
    .map(([, p]) => [p, 0]);

/** The nearest point of each place, with what is between them. */
function nearestSeeds(mesh: Mesh, places: readonly Float32Array[] | undefined): Seed[] {
  if (!places || places[0].length === 0) return [];
  const { numbers, distances } = new PointGrid(mesh.points.columns.position.lanes as Float32Array[]).nearest(
    places as Float32Array[],
    { k: 1 },
  );
  return Array.from(numbers, (p, i) => [p, distances[i]]);
}
