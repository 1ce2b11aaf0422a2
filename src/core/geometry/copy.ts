/** Copies of whole shapes. */
import { type Domain, makeIntegers, makeLanes } from "./column";
import type { Shape } from "./shape";

/** The same numbers in lanes of the current arena. */
export function copyOfShape(shape: Shape): Shape {
  const { mesh, curves, sites, sources } = shape;
  return {
    ...(mesh && {
      mesh: {
        ...mesh,
        points: copied(mesh.points),
        corners: copied(mesh.corners),
        faces: copied(mesh.faces),
        cornerPoint: integers(mesh.cornerPoint),
        faceStarts: integers(mesh.faceStarts),
      },
    }),
    ...(curves && {
      curves: {
        ...curves,
        points: copied(curves.points),
        curves: copied(curves.curves),
        curveStarts: integers(curves.curveStarts),
      },
    }),
    ...(sites && { sites: copied(sites) }),
    ...(sources && { sources: sources.map(copyOfShape) }),
  };
}

function integers(from: Int32Array): Int32Array {
  const copy = makeIntegers(from.length);
  copy.set(from);
  return copy;
}

function copied({ count, columns }: Domain): Domain {
  return {
    count,
    columns: Object.fromEntries(
      Object.entries(columns).map(([name, { kind, lanes }]) => {
        const made = makeLanes(kind, count);
        made.forEach((lane, l) => {
          lane.set(lanes[l]);
        });
        return [name, { kind, lanes: made }];
      }),
    ),
  };
}
