/** Branches as curves and tips: each goes on where it is thickest, and others begin at the node that they leave it from. */
import { type Domain, makeColumn, withColumns } from "../geometry/column";
import { type Curves, makeCurves } from "../geometry/curves";
import { makeSites } from "../geometry/shape";
import { between } from "../maths/quaternion";
import { normalise, type Vec3, Y_AXIS } from "../maths/vector";
import { pipeRadii } from "./branches";

export interface BranchLook {
  /** Radius of tips, units, and how it adds up. */
  readonly tip: number;
  readonly exponent: number;
  /** From 0 to 1: how far what came in the last round has grown. */
  readonly part: number;
}

/** Where each node is seen: those of the last round are still on their way from their parents. */
function seenPlaces(nodes: Domain, rounds: number, part: number): Float32Array[] {
  const [parent] = nodes.columns.parent.lanes;
  const [born] = nodes.columns.born.lanes;
  return nodes.columns.position.lanes.map((lane) =>
    Float32Array.from(lane, (v, i) =>
      born[i] === rounds && parent[i] >= 0 ? lane[parent[i]] + (v - lane[parent[i]]) * part : v,
    ),
  );
}

/** @param nodes with `position`, `parent` and `born` @param rounds that were grown @returns curves whose points have `radius` and `age` (rounds); sites at the tips, whose y goes on, with `age` and `radius` */
export function seenBranches(
  nodes: Domain,
  rounds: number,
  look: BranchLook,
): { curves?: Curves; tips: Domain } {
  const { count } = nodes;
  const parent = nodes.columns.parent.lanes[0] as Int32Array;
  const [born] = nodes.columns.born.lanes;
  const places = seenPlaces(nodes, rounds, look.part);
  const radii = pipeRadii(parent, look.tip, look.exponent);
  const main = mainChildren(parent, radii);
  const numbers: number[] = [];
  const starts = [0];
  // Of the point at which a branch leaves another one it has the thickness of what leaves.
  const thick: number[] = [];
  for (let i = 0; i < count; i++) {
    const p = parent[i];
    const begins = p < 0 ? main[i] >= 0 : main[p] !== i;
    if (!begins) continue;
    if (p >= 0) {
      numbers.push(p);
      thick.push(radii[i]);
    }
    for (let node = i; node >= 0; node = main[node]) {
      numbers.push(node);
      thick.push(radii[node]);
    }
    starts.push(numbers.length);
  }
  const lane = (from: ArrayLike<number>) => Float32Array.from(numbers, (node) => from[node]);
  const ages = Float32Array.from(born, (b) => rounds - 1 + look.part - b);
  const age = ages.map((a) => Math.max(0, a));
  const curves =
    starts.length > 1
      ? makeCurves({
          position: places.map(lane) as unknown as [Float32Array, Float32Array, Float32Array],
          curveStarts: Int32Array.from(starts),
        })
      : undefined;
  return {
    ...(curves
      ? {
          curves: {
            ...curves,
            points: withColumns(curves.points, {
              radius: makeColumn("number", [Float32Array.from(thick)]),
              age: makeColumn("number", [lane(age)]),
            }),
          },
        }
      : {}),
    tips: tipsOf(places, parent, main, { age, radius: radii }),
  };
}

/** The thickest child of each node, the first of equal ones; −1 for tips. */
function mainChildren(parent: Int32Array, radii: Float32Array): Int32Array {
  const main = new Int32Array(parent.length).fill(-1);
  for (let i = 0; i < parent.length; i++) {
    const p = parent[i];
    if (p >= 0 && (main[p] < 0 || radii[i] > radii[main[p]])) main[p] = i;
  }
  return main;
}

function tipsOf(
  places: readonly Float32Array[],
  parent: Int32Array,
  main: Int32Array,
  values: Readonly<Record<string, Float32Array>>,
): Domain {
  const tips = Array.from(main.keys()).filter((i) => main[i] < 0 && parent[i] >= 0);
  const sites = makeSites(tips.length, ({ position, rotation }) => {
    for (const [t, node] of tips.entries()) {
      const way = places.map((lane) => lane[node] - lane[parent[node]]) as unknown as Vec3;
      for (let a = 0; a < 3; a++) position[a][t] = places[a][node];
      const turn = between(Y_AXIS, normalise(way));
      for (let a = 0; a < 4; a++) rotation[a][t] = turn[a];
    }
  });
  const columns = Object.entries(values).map(
    ([name, lane]) => [name, makeColumn("number", [Float32Array.from(tips, (node) => lane[node])])] as const,
  );
  return withColumns(sites, Object.fromEntries(columns));
}
