/**
 * A mesh whose faces stay while its points move, as the stage shows it: which corners are one vertex is settled when it is
 * first seen, and from then on only places and normals are worked out, by a kernel.
 */
import type { Column } from "../geometry/column";
import { hasLook, lookColumns, writeLooks } from "../geometry/looks-of";
import { type Mesh, pointLanes } from "../geometry/mesh";
import { LOOK_WIDTH } from "../geometry/surface-look";
import { addressOf } from "../kernels/arena";
import { FIRST_ELEMENT, fixedAt } from "../kernels/job";
import { interleave } from "../kernels/placing";
import { Plan } from "../kernels/plan";
import { Taken } from "./copies";
import type { DrawArrays } from "./draw-memory";
import type { Triangulated } from "./triangulate";

/** New places and normals of vertices, three numbers each; colours, four, and what they are made of, where those have changed. */
export interface MovedVertices {
  readonly positions: Float32Array;
  readonly normals: Float32Array;
  readonly colors?: Float32Array;
  readonly looks?: Float32Array;
}

/** All that was worked out of vertices, in arrays to be given back. */
export const arraysOf = (vertices: MovedVertices): readonly Float32Array[] => Object.values(vertices);

/** Whether a mesh is another one with its points moved; one with normals of its own is drawn by those. */
export const isMoved = (before: Mesh, { cornerPoint, faceStarts, points, corners, faces }: Mesh): boolean =>
  cornerPoint === before.cornerPoint &&
  faceStarts === before.faceStarts &&
  points.count === before.points.count &&
  !corners.columns.normal &&
  // Where colours of corners and faces differ, vertices are split.
  corners.columns.color === before.corners.columns.color &&
  faces.columns.color === before.faces.columns.color &&
  (points.columns.color === undefined) === (before.points.columns.color === undefined) &&
  hasLook(points) === hasLook(before.points);

export class MovingMesh {
  private readonly count: number;
  private readonly tables: {
    readonly point: Int32Array;
    readonly starts: Int32Array;
    readonly beside: Int32Array;
  };
  private readonly arrays: Float32Array[] = [];
  private color: Column | undefined;
  private look: readonly (Column | undefined)[];

  /** @param from its triangles as they were first drawn @param memory where its tables stand while it is shown */
  constructor(
    mesh: Mesh,
    { cornerOfVertex, vertexOfCorner }: Pick<Triangulated, "cornerOfVertex" | "vertexOfCorner">,
    private readonly memory: DrawArrays,
  ) {
    const { cornerPoint, corners, faceStarts, faces } = mesh;
    this.count = cornerOfVertex.length;
    this.color = mesh.points.columns.color;
    this.look = lookColumns(mesh.points);
    const point = this.integers(this.count);
    for (let v = 0; v < this.count; v++) point[v] = cornerPoint[cornerOfVertex[v]];
    const starts = this.integers(this.count + 1).fill(0);
    for (const vertex of vertexOfCorner) starts[vertex + 1]++;
    for (let v = 0; v < this.count; v++) starts[v + 1] += starts[v];
    const next = starts.slice(0, this.count);
    const beside = this.integers(corners.count * 2);
    for (let f = 0; f < faces.count; f++) {
      const [begin, end] = [faceStarts[f], faceStarts[f + 1]];
      for (let c = begin; c < end; c++) {
        const k = next[vertexOfCorner[c]]++;
        beside[2 * k] = cornerPoint[c > begin ? c - 1 : end - 1];
        beside[2 * k + 1] = cornerPoint[c + 1 < end ? c + 1 : begin];
      }
    }
    this.tables = { point, starts, beside };
  }

  /** Where the vertices of a mesh are that is this one with its points moved. */
  moved(mesh: Mesh): MovedVertices {
    const [made, passing] = [new Taken(this.memory), new Taken(this.memory)];
    try {
      return this.workOut(mesh, made, passing);
    } catch (error) {
      made.giveBack();
      throw error;
    } finally {
      passing.giveBack();
    }
  }

  private workOut(mesh: Mesh, made: Taken, passing: Taken): MovedVertices {
    const { count } = this;
    const places = passing.floats(mesh.points.count * 4);
    interleave("interleave4", [...pointLanes(mesh), 0], 4, places);
    const [positions, normals] = [made.floats(count * 3), made.floats(count * 3)];
    const plan = new Plan();
    const operands = [positions, normals].map((out) => plan.interleaved(out, 3));
    const { point, starts, beside } = this.tables;
    const whole = [places, point, starts, beside].map((table) => fixedAt(addressOf(table) as number));
    plan.calls.push({
      kernel: "shadeVertices",
      operands: [...operands, FIRST_ELEMENT, ...whole],
      numbers: [],
    });
    plan.run(count);
    const looks = this.newLooks(mesh, made);
    const { color } = mesh.points.columns;
    if (!color || color === this.color) return { positions, normals, ...looks };
    this.color = color;
    const colors = made.floats(count * 4);
    color.lanes.forEach((lane, l) => {
      for (let v = 0; v < count; v++) colors[v * 4 + l] = lane[point[v]];
    });
    return { positions, normals, colors, ...looks };
  }

  /** What vertices are made of, where that has changed. */
  private newLooks({ points }: Mesh, made: Taken): Pick<MovedVertices, "looks"> {
    const columns = lookColumns(points);
    if (!hasLook(points) || columns.every((column, i) => column === this.look[i])) return {};
    this.look = columns;
    return { looks: writeLooks(points, made.floats(this.count * LOOK_WIDTH), this.tables.point) };
  }

  dispose(): void {
    for (const array of this.arrays) this.memory.give(array);
  }

  private integers(count: number): Int32Array {
    const array = this.memory.take(count);
    this.arrays.push(array);
    return new Int32Array(array.buffer, array.byteOffset, count);
  }
}
