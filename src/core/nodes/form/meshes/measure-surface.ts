import {
  apply,
  column,
  constant,
  positionField,
  scaleBy,
  type VectorField,
} from "../../../fields/expression";
import { countOf } from "../../../geometry/across";
import { shapeBounds } from "../../../geometry/bounds";
import { makeColumn, makeFloats, withColumns } from "../../../geometry/column";
import { DOMAINS, type DomainName } from "../../../geometry/domains";
import type { Mesh } from "../../../geometry/mesh";
import { pointNormals } from "../../../geometry/normals";
import { cosine, lengthOf, sine } from "../../../maths/exact";
import { anyAcross, cross, type Vec3 } from "../../../maths/vector";
import { MESH_MEASURES } from "../../../meshes/measures";
import { SurfaceTable } from "../../../spatial/surface-table";
import { defineNode, type NodeContext } from "../../define";
import { choice, length, out, shape } from "../../ports";
import { NOTHING_CARRIED, raysOnto } from "../../surface-queries";
import { meshOf } from "./input-mesh";

const BY_RAYS = ["thickness", "openness"] as const;
const MEASURES = [...(Object.keys(MESH_MEASURES) as (keyof typeof MESH_MEASURES)[]), ...BY_RAYS];
type MeasureName = (typeof MEASURES)[number];

/** Rays for each point's openness, spread by the golden angle over what it looks at. */
const RAYS = 32;
const GOLDEN = Math.PI * (3 - Math.sqrt(5));

/** Part of the whole by which rays begin off the surface, so that they do not meet it where they begin. */
const OFF = 1e-4;

export const measureSurface = defineNode({
  type: "measure-surface",
  family: "form",
  title: "Measure surface",
  about:
    "What a mesh is like at its elements, as an attribute and as a field: bent or flat, thick or thin, steep, open, at a border.",
  synonyms: [
    "curvature",
    "thickness",
    "occlusion",
    "slope",
    "cavity",
    "edge wear",
    "mask",
    "area",
    "convexity",
    "wall",
  ],
  inputs: {
    shape: shape({ about: "A mesh." }),
    what: choice(MEASURES, {
      about: [
        ...Object.entries(MESH_MEASURES).map(([name, { about, on }]) => `${name}, of ${on}: ${about}`),
        "thickness, of points: units to the other side, straight in.",
        "openness, of points: 1 where nothing is in front of it, 0 where it is closed in.",
      ].join(" "),
    }),
    reach: length({
      default: 1,
      min: 0,
      soft: [0, 5],
      shownWhen: { input: "what", is: [...BY_RAYS] },
      about: "Nothing further away than that is met.",
    }),
  },
  outputs: {
    shape: out.shape(
      "The same, with the attribute, which is called as the measure is, in one word: edgeAngle.",
    ),
    value: out.number("The measure, where the same mesh arrives."),
  },
  summary: ({ what }) => String(what),
  cost: ({ shape, what }) => {
    const points = shape.mesh?.corners.count ?? 0;
    return { milliseconds: points * (what === "openness" ? 0.05 : 0.002) };
  },
  evaluate({ shape, what, reach }, context) {
    const name = nameOf(what);
    const value = column(name, 0);
    const mesh = meshOf(shape, "measure", context);
    if (!mesh) return { shape, value };
    const { on, lane } = measured(mesh, what, reach, context);
    const stored = DOMAINS[on].of({ mesh }) ?? { count: countOf({ mesh }, on), columns: {} };
    const made = withColumns(stored, { [name]: makeColumn("number", [lane]) });
    return { shape: DOMAINS[on].put(shape, made), value };
  },
});

/** An attribute is one word. */
const nameOf = (what: string): string => what.replace(/ (.)/g, (_, letter: string) => letter.toUpperCase());

interface Measured {
  readonly on: DomainName;
  readonly lane: Float32Array;
}

function measured(mesh: Mesh, what: MeasureName, reach: number, context: NodeContext): Measured {
  if (what === "thickness") return { on: "points", lane: thicknesses(mesh, reach, context) };
  if (what === "openness") return { on: "points", lane: opennesses(mesh, reach, context) };
  const { on, of } = MESH_MEASURES[what];
  return { on, lane: of(mesh) };
}

interface Reach {
  readonly reach: number;
  /** Units from the surface at which rays begin. */
  readonly off: number;
}

function reachOver(mesh: Mesh, reach: number): Reach {
  const bounds = shapeBounds({ mesh });
  const size = bounds
    ? lengthOf(...([0, 1, 2].map((a) => bounds.max[a] - bounds.min[a]) as [number, number, number]))
    : 0;
  return { reach, off: OFF * size };
}

/** What rays from the points meet, each in a direction that its points have as `way`. */
function cast(
  mesh: Mesh,
  table: SurfaceTable,
  ways: readonly Float32Array[],
  { reach, off }: Reach,
  context: NodeContext,
) {
  const domain = withColumns(mesh.points, { way: makeColumn("vector", ways) });
  const way = [0, 1, 2].map((a) => column("way", a)) as unknown as VectorField;
  const from = positionField().map((p, a) =>
    apply("add", [p, scaleBy(way[a], constant(off))]),
  ) as unknown as VectorField;
  const [hit, distance] = raysOnto(table, from, way, NOTHING_CARRIED, {
    behind: 0,
    most: reach,
    bothSides: true,
  });
  return context.run([hit, distance], domain);
}

function thicknesses(mesh: Mesh, reach: number, context: NodeContext): Float32Array {
  const table = SurfaceTable.of(mesh);
  if (!table) return makeFloats(mesh.points.count);
  const inwards = pointNormals(mesh).map((lane) => lane.map((v) => -v));
  const [hit, distance] = cast(mesh, table, inwards, reachOver(mesh, reach), context);
  return distance.map((d, p) => (hit[p] > 0.5 ? d : reach));
}

function opennesses(mesh: Mesh, reach: number, context: NodeContext): Float32Array {
  const table = SurfaceTable.of(mesh);
  const open = makeFloats(mesh.points.count).fill(1);
  if (!table) return open;
  const normals = pointNormals(mesh);
  const over = reachOver(mesh, reach);
  const sides = acrossNormals(normals);
  for (let r = 0; r < RAYS; r++) {
    // Spread so that what is straight ahead counts most: by the cosine.
    const across = Math.sqrt((r + 0.5) / RAYS);
    const ahead = Math.sqrt(1 - across * across);
    const [c, s] = [across * cosine(r * GOLDEN), across * sine(r * GOLDEN)];
    const ways = [0, 1, 2].map(() => new Float32Array(mesh.points.count));
    for (let a = 0; a < 3; a++)
      for (let p = 0; p < mesh.points.count; p++)
        ways[a][p] = normals[a][p] * ahead + sides.right[a][p] * c + sides.up[a][p] * s;
    const [hit] = cast(mesh, table, ways, over, context);
    for (let p = 0; p < open.length; p++) if (hit[p] > 0.5) open[p] -= 1 / RAYS;
  }
  return open;
}

/** Two directions across each normal and each other. */
function acrossNormals(normals: readonly Float32Array[]) {
  const [right, up] = [0, 1].map(() => normals.map((lane) => new Float64Array(lane.length)));
  for (let p = 0; p < normals[0].length; p++) {
    const normal: Vec3 = [normals[0][p], normals[1][p], normals[2][p]];
    const side = anyAcross(normal);
    const above = cross(normal, side);
    for (let a = 0; a < 3; a++) [right[a][p], up[a][p]] = [side[a], above[a]];
  }
  return { right, up };
}
