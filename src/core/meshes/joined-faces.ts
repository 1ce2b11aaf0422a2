/** Meshes written face by face out of another one: each corner and face takes what one of the others carries. */
import { tick } from "../cancelling";
import { type Domain, gather, makeColumn, withColumns } from "../geometry/column";
import type { Mesh } from "../geometry/mesh";
import { SIDE } from "../geometry/side";
import { edgesCarried } from "../geometry/topology";

export class FaceWriter {
  private readonly points: number[] = [];
  private readonly corners: number[] = [];
  private readonly starts: number[] = [0];
  private readonly faces: number[] = [];
  private readonly sides: number[] = [];

  constructor(private readonly of: Mesh) {}

  /** A corner at a point of the new mesh, like a corner that was there. */
  corner(point: number, like: number): void {
    this.points.push(point);
    this.corners.push(like);
  }

  /** Ends a face of the corners since the last one. @param like the face whose attributes it gets */
  face(like: number, side = 0): void {
    tick(4);
    this.starts.push(this.points.length);
    this.faces.push(like);
    this.sides.push(side);
  }

  /** All corners of a face, each at a point. @param inwards the other way round */
  whole(face: number, pointOf: (corner: number) => number, side = 0, inwards = false): void {
    const [start, end] = [this.of.faceStarts[face], this.of.faceStarts[face + 1]];
    for (let i = 0; i < end - start; i++) {
      const c = inwards ? end - 1 - i : start + i;
      this.corner(pointOf(c), c);
    }
    this.face(face, side);
  }

  /** @param points all that the faces name @param sided whether faces get the attribute `side` */
  mesh(points: Domain, sided: boolean): Mesh {
    const { of } = this;
    const { normal: _gone, ...columns } = of.corners.columns;
    const corners = Int32Array.from(this.corners);
    const faces = gather(of.faces, Int32Array.from(this.faces));
    const side = makeColumn("number", [Float32Array.from(this.sides)]);
    const made: Mesh = {
      points,
      corners: gather({ count: of.corners.count, columns }, corners),
      faces: sided ? withColumns(faces, { [SIDE]: side }) : faces,
      faceStarts: Int32Array.from(this.starts),
      cornerPoint: Int32Array.from(this.points),
    };
    return of.edges ? { ...made, edges: edgesCarried(of, made, corners) } : made;
  }
}

/** A face, of `side` 1, below the edge from one corner to the next. */
export function wall(
  faces: FaceWriter,
  like: number,
  [from, to]: readonly [number, number],
  above: (corner: number) => number,
  below: (corner: number) => number,
): void {
  faces.corner(above(to), to);
  faces.corner(above(from), from);
  faces.corner(below(from), from);
  faces.corner(below(to), to);
  faces.face(like, 1);
}
