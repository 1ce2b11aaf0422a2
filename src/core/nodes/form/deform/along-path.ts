import { AlongCurves } from "../../../curves/along-curves";
import { shapeBounds } from "../../../geometry/bounds";
import { makeColumn, makeLanes } from "../../../geometry/column";
import { type Curves, curveTangents, isClosedCurve } from "../../../geometry/curves";
import { steadyNormals, tilted } from "../../../geometry/frames";
import { rotationsOf } from "../../../geometry/shape";
import { fromBasis, type MutableQuaternion, multiply } from "../../../maths/quaternion";
import { cross, normalise, type Vec3 } from "../../../maths/vector";
import { defineNode } from "../../define";
import { placedCount, withPlaced } from "../../elements";
import { choice, number, out, shape } from "../../ports";
import { pathsOf } from "../surfaces/input-paths";

const AXES = { x: 0, y: 1, z: 2 } as const;

export const alongPath = defineNode({
  type: "along-path",
  family: "form",
  title: "Bend along path",
  about: "Lays a shape along a curve, so that it follows every bend: chains, snakes, words around corners.",
  synonyms: ["follow curve", "wrap around curve", "snake", "spline deform", "conveyor", "flow along"],
  inputs: {
    shape: shape({ about: "A mesh, curves or clones." }),
    path: shape({ about: "The curve; the first one counts." }),
    along: choice(["z", "x", "y"], { about: "The shape's own axis that goes along the curve." }),
    size: choice(["as long as it is", "as long as the path"], {
      about: "Whether it is stretched along the curve to reach its end.",
    }),
    shift: number({
      default: 0,
      soft: [0, 1],
      about: "How far along the curve it begins, as a part of its length; round and round a closed one.",
    }),
  },
  outputs: {
    shape: out.shape("The same, along the curve; what reaches beyond an open curve goes on straight."),
  },
  summary: ({ along, size }) => `${along}, ${size}`,
  cost: ({ shape }) => ({ milliseconds: placedCount(shape) * 0.002 }),
  evaluate({ shape, path, along: name, size, shift }, context) {
    const bounds = shapeBounds(shape);
    const curves = bounds ? pathsOf(path, "bend along", context, "path") : null;
    if (!bounds || !curves) {
      if (!bounds) context.warn("Nothing arrives, so there is nothing to bend.", { input: "shape" });
      return { shape };
    }
    const frames = new Frames(curves);
    if (frames.length === 0) {
      context.warn("The curve has no length, so nothing can be laid along it.", { input: "path" });
      return { shape };
    }
    const axis = AXES[name];
    const [low, span] = [bounds.min[axis], bounds.max[axis] - bounds.min[axis]];
    const times = size === "as long as the path" && span > 0 ? frames.length / span : 1;
    const made = withPlaced(shape, ({ on, domain }) => {
      const from = domain.columns.position.lanes;
      const to = makeLanes("vector", domain.count);
      const turns = on === "sites" ? makeLanes("rotation", domain.count) : null;
      const own = rotationsOf(domain);
      for (let p = 0; p < domain.count; p++) {
        const far = (from[axis][p] - low) * times + shift * frames.length;
        const { at, right, up, forward } = frames.at(far);
        const [x, y] = [from[(axis + 1) % 3][p], from[(axis + 2) % 3][p]];
        for (let a = 0; a < 3; a++) to[a][p] = at[a] + right[a] * x + up[a] * y;
        if (!turns) continue;
        const basis: Vec3[] = [];
        basis[axis] = forward;
        basis[(axis + 1) % 3] = right;
        basis[(axis + 2) % 3] = up;
        const turned: MutableQuaternion = [0, 0, 0, 1];
        multiply(fromBasis(basis[0], basis[1], basis[2]), own(p), turned);
        for (let l = 0; l < 4; l++) turns[l][p] = turned[l];
      }
      return {
        position: makeColumn("vector", to),
        ...(turns && { rotation: makeColumn("rotation", turns) }),
      };
    });
    return { shape: made };
  },
});

/** Frames along the first of some curves that do not twist, by length. */
class Frames {
  private readonly along: AlongCurves;
  private readonly lanes: readonly ArrayLike<number>[];
  private readonly tangents: readonly ArrayLike<number>[];
  private readonly normals: readonly ArrayLike<number>[];
  private readonly round: boolean;

  constructor(curves: Curves) {
    this.along = new AlongCurves(curves);
    this.lanes = curves.points.columns.position.lanes;
    const tangents = curveTangents(curves);
    this.tangents = tangents;
    const end = curves.curveStarts[1];
    this.round = isClosedCurve(curves, 0) && end > 2;
    const steady = steadyNormals(this.lanes, tangents, 0, end, this.round, [0, 1, 0]);
    this.normals = tilted(steady, tangents, 0, curves.points.columns.tilt?.lanes[0]);
  }

  get length(): number {
    return this.along.lengths[0];
  }

  /** Right-handed: right, up, forward. */
  at(far: number): { at: Vec3; right: Vec3; up: Vec3; forward: Vec3 } {
    const { p, q, t } = this.along.at(0, far / this.length);
    const mixed = (lanes: readonly ArrayLike<number>[]): Vec3 =>
      [0, 1, 2].map((a) => lanes[a][p] + (lanes[a][q] - lanes[a][p]) * t) as unknown as Vec3;
    const forward = normalise(mixed(this.tangents));
    const up = normalise(mixed(this.normals));
    const right = cross(up, forward);
    const beyond = this.round ? 0 : far - Math.min(this.length, Math.max(0, far));
    const at = mixed(this.lanes).map((v, a) => v + forward[a] * beyond) as unknown as Vec3;
    return { at, right, up, forward };
  }
}
