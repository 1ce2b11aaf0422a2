/**
 * Which voxels are inside of a mesh: by how often the row along X through a voxel has gone into it more than out. Of a mesh that is open the rows
 * along Y and Z are asked too and most of them count, so holes do not leak; a row that itself meets a hole has no say.
 */
import { makeColumn, withColumns } from "../geometry/column";
import { isClosed } from "../geometry/measure";
import { type Mesh, pointLanes, withPoints } from "../geometry/mesh";
import { Inside } from "../spatial/inside";

export class RowSigns {
  /** Rows so far that met a hole. */
  leaks = 0;
  private readonly rows: Inside;
  /** Along Y and Z, for open meshes. */
  private readonly others: readonly [Inside, Inside] | null;
  private crossed = 0;
  private meetsHole = false;
  private at = 0;
  private winding = 0;
  private y = 0;
  private z = 0;

  constructor(
    mesh: Mesh,
    private readonly voxel: number,
  ) {
    this.rows = new Inside(mesh);
    this.others = isClosed(mesh) ? null : [new Inside(turned(mesh, 1)), new Inside(turned(mesh, 2))];
  }

  get isOpen(): boolean {
    return this.others !== null;
  }

  /** The row through voxels j and k of the lattice; it is asked of ascending voxels. */
  along(j: number, k: number): this {
    this.y = j * this.voxel;
    this.z = k * this.voxel;
    const found = this.rows.crossings(this.y, this.z);
    this.crossed = found.count;
    this.meetsHole = found.open;
    if (found.open) this.leaks++;
    this.at = 0;
    this.winding = 0;
    return this;
  }

  isInside(i: number): boolean {
    const x = i * this.voxel;
    const { x: crossings, turns } = this.rows.last;
    while (this.at < this.crossed && crossings[this.at] <= x) this.winding += turns[this.at++];
    const isIn = this.winding !== 0;
    if (!this.others) return isIn;
    const [alongY, alongZ] = this.others;
    let balance = this.meetsHole ? 0 : isIn ? 1 : -1;
    balance += vote(alongY, this.y, this.z, x);
    balance += vote(alongZ, this.z, x, this.y);
    return balance > 0;
  }
}

/** 1 where a place is inside by the row along the first axis through it, −1 where it is not, 0 where that row meets a hole. */
function vote(inside: Inside, along: number, b: number, c: number): number {
  const { count, x, turns, open } = inside.crossings(b, c);
  if (open) return 0;
  let winding = 0;
  for (let i = 0; i < count && x[i] <= along; i++) winding += turns[i];
  return winding !== 0 ? 1 : -1;
}

/** The mesh with its axes passed on by so many, which keeps it from being mirrored. */
function turned(mesh: Mesh, by: number): Mesh {
  const lanes = pointLanes(mesh);
  const position = makeColumn(
    "vector",
    [0, 1, 2].map((a) => lanes[(a + by) % 3]),
  );
  return withPoints(mesh, withColumns(mesh.points, { position }));
}
