import { tick } from "../../cancelling";
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
import { normalise, type Vec3 } from "../../maths/vector";
import { type SurfacePlace, SurfaceTree } from "../../spatial/surface-tree";
import { defineNode } from "../define";
import { elementsOf, withElements } from "../elements";
import { choice, field, length, out, shape } from "../ports";

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
    const tree = context.reuse<SurfaceTree | null>((before) => (mesh ? SurfaceTree.of(mesh, before) : null));
    if (!mesh || !tree) {
      context.warn("No surface arrives, so all stay where they are.", { input: "onto" });
      return { shape };
    }
    const normals = surface === "smooth" ? pointNormals(mesh) : null;
    const [dx, dy, dz, lifts, leans] = context.run([...direction, lift, lean], domain);
    const [x, y, z] = domain.columns.position.lanes;
    const old = rotationsOf(domain);
    const place = makeLanes("vector", domain.count) as Float32Array[];
    const turned = on === "sites" ? (makeLanes("rotation", domain.count) as Float32Array[]) : null;
    const found: number[] = [];
    for (let i = 0; i < domain.count; i++) {
      tick(32);
      const way = normalise([dx[i], dy[i], dz[i]]);
      const from: Vec3 = [x[i] - way[0] * back, y[i] - way[1] * back, z[i] - way[2] * back];
      const hit = tree.cast(from, way);
      const stood = old(i);
      let [to, q]: [Vec3, Quaternion] = [[x[i], y[i], z[i]], stood];
      if (hit) {
        found.push(i);
        to = [hit.x - way[0] * lifts[i], hit.y - way[1] * lifts[i], hit.z - way[2] * lifts[i]];
        if (turned && leans[i] > 0) {
          const off: Vec3 = [-way[0], -way[1], -way[2]];
          const facing = facingAt(tree, normals, hit, off);
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

/** Which way the surface looks at a place, on the side that the way comes from. */
function facingAt(
  tree: SurfaceTree,
  normals: readonly Float32Array[] | null,
  hit: SurfacePlace,
  off: Vec3,
): Vec3 {
  const flat = tree.facing(hit.triangle);
  let facing: Vec3 = [flat.x, flat.y, flat.z];
  if (normals) {
    const weights = tree.weightsAt(hit);
    const points = tree.pointsOf(hit.triangle);
    const sum = normals.map((lane) => {
      let total = 0;
      points.forEach((p, k) => {
        total += lane[p] * weights[k];
      });
      return total;
    }) as unknown as Vec3;
    const smooth = normalise(sum);
    if (smooth.some((part) => part !== 0)) facing = smooth;
  }
  const side = facing[0] * off[0] + facing[1] * off[1] + facing[2] * off[2];
  return side < 0 ? [-facing[0], -facing[1], -facing[2]] : facing;
}
