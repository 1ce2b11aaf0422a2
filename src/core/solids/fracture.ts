/** A solid broken into the cells of sites: each gets what is nearer to it than to any other (G. Voronoi, 1908). */
import { tick } from "../cancelling";
import { type Bounds, shapeBounds } from "../geometry/bounds";
import { mergeShapes } from "../geometry/merge";
import type { Mesh } from "../geometry/mesh";
import type { Shape } from "../geometry/shape";
import { keepFaces, numbersWhere } from "../geometry/subset";
import { lengthOf } from "../maths/exact";
import { connectedParts } from "../meshes/parts";
import { PointGrid } from "../spatial/point-grid";
import type { Manifold } from "./manifold";
import { carryingOf, manifold, meshOfSolid, type Owning, solidOfMesh, withSides, withSolids } from "./solid";

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
  const isOwn = (original: number) => original >= id && original < id + count;
  return withSolids((own) => {
    // Parts that do not hang together are asked one by one: most lie beside most cells.
    const parts = Array.from({ length: count }, (_, part) => {
      const faces = numbersWhere(mesh.faces.count, (f) => of[f] === part);
      const whole = keepFaces(mesh, faces);
      return {
        mesh: whole,
        solid: own(solidOfMesh(whole, carrying, id + part)),
        box: shapeBounds({ mesh: whole }),
      };
    });
    const pieceIn = (i: number): Shape =>
      withSolids((ownHere) => {
        const cell = cells.cellOf(i, ownHere);
        const around = cell.boundingBox();
        const within = parts.flatMap((part, p) => {
          if (!part.box || !meet(part.box, around)) return [];
          const piece = ownHere(part.solid.intersect(cell));
          if (piece.isEmpty()) return [];
          const made = meshOfSolid(piece, { carrying, meshes: new Map([[id + p, part.mesh]]) });
          return [{ mesh: withSides(made, (original) => (isOwn(original) ? 0 : 1)) }];
        });
        return mergeShapes(within);
      });
    return Array.from(lanes[0].keys()).flatMap((i) => {
      tick(4096);
      return pieceIn(i).mesh ?? [];
    });
  });
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
  cellOf(i: number, own: Owning): Manifold {
    const { Manifold: Solid } = manifold();
    const [x, y, z] = this.lanes.map((lane) => lane[i]);
    let cell = own(Solid.cube(this.size, true));
    // About the site, where sums of large numbers take nothing away.
    const off: [number, number, number] = [this.middle[0] - x, this.middle[1] - y, this.middle[2] - z];
    cell = own(cell.translate(off));
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
      cell = own(cell.trimByPlane(unit, -distance / 2));
      reach = this.reachOf(cell);
    }
    return own(cell.translate([x, y, z]));
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
