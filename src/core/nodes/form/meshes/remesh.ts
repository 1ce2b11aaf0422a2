import { plainNumber, positionField } from "../../../fields/expression";
import { type Column, type Domain, LANES, makeColumn } from "../../../geometry/column";
import { meshArea } from "../../../geometry/measure";
import type { Mesh } from "../../../geometry/mesh";
import { paired } from "../../../meshes/paired";
import { remeshed } from "../../../meshes/remesh";
import { triangulated } from "../../../meshes/triangulated";
import { SurfaceTable } from "../../../spatial/surface-table";
import { defineNode, type NodeContext } from "../../define";
import { ofSurface } from "../../drive/found-attribute";
import { angle, choice, field, integer, out, shape } from "../../ports";
import { closestOn, NOTHING_CARRIED } from "../../surface-queries";
import { meshOf } from "./input-mesh";

export const remesh = defineNode({
  type: "remesh",
  family: "form",
  title: "Remesh",
  about: "The same surface in triangles or quads of even size, finer where a field says so.",
  synonyms: [
    "even triangles",
    "quads",
    "retopology",
    "uniform",
    "isotropic",
    "edge length",
    "clean mesh",
    "resolution",
  ],
  inputs: {
    shape: shape({ about: "A mesh." }),
    into: choice(["triangles", "mostly quads"], {
      about: "Quads are better to be subdivided; where no two triangles go together one is left.",
    }),
    length: field.number({
      default: 0.2,
      min: 1e-4,
      soft: [0.02, 1],
      unit: "units",
      label: "edge length",
      about: "How long edges are to be; a field over places makes some parts finer.",
    }),
    rounds: integer({ default: 3, min: 1, max: 50, soft: [1, 10], about: "More rounds, more even." }),
    sharp: angle({
      default: 40,
      min: 0,
      max: 180,
      soft: [0, 180],
      about: "Edges that bend by more stay, as borders do.",
    }),
  },
  outputs: {
    shape: out.shape("The faces; what points had is taken from where they lie on the surface before."),
  },
  summary: ({ length }) => `edges of ${length} units`,
  cost: ({ shape, length, rounds }) => {
    const faces = expected(shape.mesh, plainNumber(length) ?? 0);
    return {
      points: faces / 2,
      faces,
      milliseconds: (faces + (shape.mesh?.faces.count ?? 0)) * rounds * 0.012,
    };
  },
  evaluate({ shape, into, length, rounds, sharp }, context) {
    const input = meshOf(shape, "make even", context);
    const mesh = input && triangulated(input);
    const table = mesh && SurfaceTable.of(mesh);
    if (!mesh || !table) return { shape };
    const run = (values: Parameters<NodeContext["run"]>[0], lanes: readonly Float32Array[]) =>
      context.run(values, domainAt(lanes)) as [Float32Array, Float32Array, Float32Array];
    const made = remeshed(mesh, {
      rounds,
      sharp,
      lengths: (lanes) => run([length], lanes)[0],
      onto: (lanes) => run(closestOn(table, positionField(), NOTHING_CARRIED).slice(1, 4), lanes),
    });
    const carrying = withAttributes(made, mesh, table, context);
    return { shape: { ...shape, mesh: into === "triangles" ? carrying : paired(carrying, sharp) } };
  },
});

/** Triangles of an even length over as much area: √3/4 of its square each. */
function expected(mesh: Mesh | undefined, length: number): number {
  if (!mesh || !(length > 0)) return mesh?.faces.count ?? 0;
  return meshArea(mesh) / (0.433 * length * length);
}

const domainAt = (lanes: readonly Float32Array[]): Domain => ({
  count: lanes[0].length,
  columns: { position: makeColumn("vector", lanes) },
});

/** With what the points of the surface before have where the new ones lie. */
function withAttributes(made: Mesh, before: Mesh, table: SurfaceTable, context: NodeContext): Mesh {
  const columns: Record<string, Column> = { ...made.points.columns };
  for (const [name, { kind }] of Object.entries(before.points.columns)) {
    // A picture's place has seams that points cannot carry; whole numbers and turns are no mixtures.
    if (name === "position" || name === "uv" || kind === "integer" || kind === "rotation") continue;
    const carried = ofSurface(before, name, context);
    const values = closestOn(table, positionField(), carried).slice(5, 5 + LANES[kind]);
    if (values.length > 0) columns[name] = makeColumn(kind, context.run(values, made.points));
  }
  return { ...made, points: { count: made.points.count, columns } };
}
