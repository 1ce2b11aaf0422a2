import { tick } from "../../cancelling";
import { positionField } from "../../fields/expression";
import { gather, makeColumn, makeLanes } from "../../geometry/column";
import { pointNormals } from "../../geometry/normals";
import { rotationsOf } from "../../geometry/shape";
import {
  between,
  IDENTITY,
  type MutableQuaternion,
  multiply,
  type Quaternion,
  slerp,
} from "../../maths/quaternion";
import { dot, normalise, type Vec3 } from "../../maths/vector";
import { defineNode } from "../define";
import { elementsOf, withElements } from "../elements";
import { choice, field, length, out, shape } from "../ports";
import { raysOnto, surfaceTableOf } from "../surface-queries";

export const seatOnSurface = defineNode({
  type: "seat-on-surface",
  family: "adjust",
  title: "Seat on surface",
  about: "Sets clones down on a surface, from where they are along a direction, leaning with it.",
  synonyms: ["drop", "ground", "snap", "project", "cast onto", "shrink", "terrain", "stand on", "stick"],
  inputs: {
    shape: shape({ about: "Clones or sites; without those, points of a mesh or of curves." }),
    onto: shape({ about: "The mesh they are set on." }),
    direction: field.vector({
      default: [0, -1, 0],
      soft: [-1, 1],
      unit: "",
      about: "Which way they go to it.",
    }),
    back: length({
      default: 100,
      min: 0,
      soft: [0, 100],
      about:
        "How far behind each the way begins: those below the surface find it too, and the topmost one counts.",
    }),
    lift: field.number({
      default: 0,
      soft: [-1, 1],
      unit: "units",
      about: "How far off the surface, against the direction; less than 0 sinks them in.",
    }),
    lean: field.number({
      default: 1,
      min: 0,
      max: 1,
      soft: [0, 1],
      about: "0 keeps them upright, 1 leans them with the surface; their heading stays.",
    }),
    surface: choice(["smooth", "flat faces"], { about: "How the surface looks between its edges." }),
    missed: choice(["stay", "are left out"], { about: "Those that find no surface." }),
  },
  outputs: { shape: out.shape("The same, set down.") },
  summary: ({ missed }) => `missed ones ${missed}`,
  cost: ({ shape }) => ({ milliseconds: (shape.sites?.count ?? 0) * 0.003 }),
  evaluate({ shape, onto, direction, back, lift, lean, surface, missed }, context) {
    const elements = elementsOf(shape, context);
    if (!elements) return { shape };
    const { domain, on } = elements;
    const { mesh } = onto;
    const table = surfaceTableOf(mesh, context);
    if (!mesh || !table) {
      context.warn("No surface arrives, so all stay where they are.", { input: "onto" });
      return { shape };
    }
    const normals = surface === "smooth" ? pointNormals(mesh) : [];
    const met = raysOnto(
      table,
      positionField(),
      direction,
      { lanes: normals, kind: "vector", byCorner: false },
      { behind: back, most: Number.POSITIVE_INFINITY, bothSides: true },
    );
    const [dx, dy, dz, lifts, leans, hit, , hx, hy, hz, ...facings] = context.run(
      [...direction, lift, lean, ...met],
      domain,
    );
    const [x, y, z] = domain.columns.position.lanes;
    const old = rotationsOf(domain);
    const place = makeLanes("vector", domain.count) as Float32Array[];
    const turned = on === "sites" ? (makeLanes("rotation", domain.count) as Float32Array[]) : null;
    const found: number[] = [];
    for (let i = 0; i < domain.count; i++) {
      tick(32);
      const way = normalise([dx[i], dy[i], dz[i]]);
      const stood = old(i);
      let [to, q]: [Vec3, Quaternion] = [[x[i], y[i], z[i]], stood];
      if (hit[i] === 1) {
        found.push(i);
        to = [hx[i] - way[0] * lifts[i], hy[i] - way[1] * lifts[i], hz[i] - way[2] * lifts[i]];
        if (turned && leans[i] > 0) {
          const off: Vec3 = [-way[0], -way[1], -way[2]];
          const facing = facingAt(facings, i, off);
          const whole = slerp(IDENTITY, between(off, facing), leans[i]);
          q = multiply(whole, stood, [0, 0, 0, 1] as MutableQuaternion);
        }
      }
      for (let a = 0; a < 3; a++) place[a][i] = to[a];
      if (turned) for (let l = 0; l < 4; l++) turned[l][i] = q[l];
    }
    const lost = domain.count - found.length;
    const told = `${lost} of ${domain.count} find no surface that way and`;
    // What was asked for is no fault.
    if (lost > 0 && missed === "are left out") context.note(`${told} are left out.`);
    else if (lost > 0) context.warn(`${told} stay where they are.`, { input: "onto" });
    const seated = withElements(shape, elements, {
      position: makeColumn("vector", place),
      ...(turned ? { rotation: makeColumn("rotation", turned) } : {}),
    });
    if (missed === "stay" || lost === 0 || !seated.sites) return { shape: seated };
    return { shape: { ...seated, sites: gather(seated.sites, Int32Array.from(found)) } };
  },
});

/** Which way the surface looks where it was met, on the side that the way comes from. @param facings flat, then smooth or 0 */
function facingAt([fx, fy, fz, sx, sy, sz]: readonly Float32Array[], i: number, off: Vec3): Vec3 {
  const smooth = normalise([sx[i], sy[i], sz[i]]);
  const facing: Vec3 = smooth.some((part) => part !== 0) ? smooth : [fx[i], fy[i], fz[i]];
  return dot(facing, off) < 0 ? [-facing[0], -facing[1], -facing[2]] : facing;
}
