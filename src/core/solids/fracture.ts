/** A solid broken into the cells of sites: each gets what is nearer to it than to any other (G. Voronoi, 1908). */
import { tick } from "../cancelling";
import { type Bounds, shapeBounds } from "../geometry/bounds";
import { makeColumn, withColumns } from "../geometry/column";
import { mergeShapes } from "../geometry/merge";
import type { Mesh } from "../geometry/mesh";
import { keepFaces, numbersWhere } from "../geometry/subset";
import { lengthOf } from "../maths/exact";
import { SIDE } from "../meshes/joined-faces";
import { connectedParts } from "../meshes/parts";
import { PointGrid } from "../spatial/point-grid";
import type { Manifold } from "./manifold";
import { carryingOf, type FromSolid, manifold, meshOfSolid, solidOfMesh } from "./solid";

/** Neighbours that are looked at to begin with: a cell in the midst of others has some fifteen sides. */
const NEAR = 24;

/** Part of the whole by which the box around it is larger, so that none of its own sides is met. */
const ROOM = 0.1;

/**
 * The pieces in the order of the sites, those without anything left out. Faces have `side`: 0 those that were there, 1 those inside.
 * @param lanes places of the sites
 */
export function fractured(mesh: Mesh, bounds: Bounds, lanes: readonly Float32Array[]): Mesh[] {
  const carrying = carryingOf([mesh]);
  const { of, count } = connectedParts(mesh);
  const id = manifold().Manifold.reserveIDs(count);
  const cells = new Cells(bounds, lanes);
  // Parts that do not hang together are asked one by one: most lie beside most cells.
  const parts = Array.from({ length: count }, (_, part) => {
    const own = keepFaces(
      mesh,
      numbersWhere(mesh.faces.count, (f) => of[f] === part),
    );
    return { mesh: own, solid: solidOfMesh(own, carrying, id + part), box: shapeBounds({ mesh: own }) };
  });
  const pieces: Mesh[] = [];
  try {
    for (let i = 0; i < lanes[0].length; i++) {
      tick(4096);
      const cell = cells.cellOf(i);
      const around = cell.boundingBox();
      const within = parts.flatMap((part, p) => {
        if (!part.box || !meet(part.box, around)) return [];
        const piece = part.solid.intersect(cell);
        const made = piece.isEmpty()
          ? null
          : meshOfSolid(piece, { carrying, meshes: new Map([[id + p, part.mesh]]) });
        piece.delete();
        return made ? [withSides(made, id, count)] : [];
      });
      cell.delete();
      const { mesh: whole } = mergeShapes(within.map((piece) => ({ mesh: piece })));
      if (whole) pieces.push(whole);
    }
  } finally {
    for (const { solid } of parts) solid.delete();
  }
  return pieces;
}

/** Faces of the solid itself are outside, those of the cell inside. */
function withSides({ mesh, originals }: FromSolid, first: number, count: number): Mesh {
  const side = Float32Array.from(originals, (original) =>
    original >= first && original < first + count ? 0 : 1,
  );
  return { ...mesh, faces: withColumns(mesh.faces, { [SIDE]: makeColumn("number", [side]) }) };
}

const meet = (a: Box, b: Box): boolean =>
  [0, 1, 2].every((axis) => a.min[axis] <= b.max[axis] && b.min[axis] <= a.max[axis]);

interface Box {
  readonly min: readonly number[];
  readonly max: readonly number[];
}

class Cells {
  private readonly grid: PointGrid;
  private readonly size: [number, number, number];
  private readonly middle: [number, number, number];

  constructor(
    { min, max }: Bounds,
    private readonly lanes: readonly Float32Array[],
  ) {
    this.grid = new PointGrid(lanes);
    this.size = [0, 1, 2].map((a) => (max[a] - min[a]) * (1 + 2 * ROOM) + 1e-3) as [number, number, number];
    this.middle = [0, 1, 2].map((a) => (min[a] + max[a]) / 2) as [number, number, number];
  }

  /** The box around all, cut half-way to every other site that is near enough to cut it. */
  cellOf(i: number): Manifold {
    const { Manifold: Solid } = manifold();
    const [x, y, z] = this.lanes.map((lane) => lane[i]);
    let cell = Solid.cube(this.size, true);
    const put = (next: Manifold) => {
      cell.delete();
      cell = next;
    };
    // About the site, where sums of large numbers take nothing away.
    const off: [number, number, number] = [this.middle[0] - x, this.middle[1] - y, this.middle[2] - z];
    put(cell.translate(off));
    let reach = this.reachOf(cell);
    for (const { j, distance } of this.others(i)) {
      if (distance >= 2 * reach) break;
      if (distance === 0) continue;
      const way: [number, number, number] = [
        x - this.lanes[0][j],
        y - this.lanes[1][j],
        z - this.lanes[2][j],
      ];
      const unit = way.map((v) => v / distance) as [number, number, number];
      put(cell.trimByPlane(unit, -distance / 2));
      reach = this.reachOf(cell);
    }
    put(cell.translate([x, y, z]));
    return cell;
  }

  /** Other sites, the nearest first; more of them only when they are asked for. */
  private *others(i: number): Generator<{ readonly j: number; readonly distance: number }> {
    const place = this.lanes.map((lane) => lane.slice(i, i + 1));
    const total = this.lanes[0].length;
    let done = 0;
    for (let k = Math.min(total, NEAR); ; k = Math.min(total, k * 4)) {
      const { numbers, distances } = this.grid.nearest(place, { k });
      for (; done < k; done++) if (numbers[done] !== i) yield { j: numbers[done], distance: distances[done] };
      if (k === total) return;
    }
  }

  /** Furthest corner of a cell about its site, by its box. */
  private reachOf(cell: Manifold): number {
    const { min, max } = cell.boundingBox();
    const most = (a: number) => Math.max(Math.abs(min[a]), Math.abs(max[a]));
    return lengthOf(most(0), most(1), most(2));
  }
}
