/** Places that sites may stand on, in lanes that grow. */
import { widened } from "../../../geometry/column";

const LANES = ["x", "y", "z", "normalX", "normalY", "normalZ"] as const;

export class PlaceList {
  count = 0;
  x = new Float32Array(0);
  y = new Float32Array(0);
  z = new Float32Array(0);
  /** Which way the surface looks there, unit; up inside of a volume. */
  normalX = new Float32Array(0);
  normalY = new Float32Array(0);
  normalZ = new Float32Array(0);
  /** Where that is on a picture, if the mesh is laid out for one. */
  readonly uv: Float32Array[];

  constructor(
    capacity: number,
    private readonly laid: boolean,
  ) {
    this.uv = laid ? [new Float32Array(0), new Float32Array(0)] : [];
    this.widen(Math.max(capacity, 16));
  }

  /** Writes a place after the last one; it counts once `count` says so. */
  put(x: number, y: number, z: number, nx: number, ny: number, nz: number): void {
    const { count } = this;
    if (count === this.x.length) this.widen(count * 2);
    this.x[count] = x;
    this.y[count] = y;
    this.z[count] = z;
    this.normalX[count] = nx;
    this.normalY[count] = ny;
    this.normalZ[count] = nz;
  }

  get position(): readonly [Float32Array, Float32Array, Float32Array] {
    return [this.filled(this.x), this.filled(this.y), this.filled(this.z)];
  }

  get normal(): readonly [Float32Array, Float32Array, Float32Array] {
    return [this.filled(this.normalX), this.filled(this.normalY), this.filled(this.normalZ)];
  }

  /** Some of the places, by their numbers. */
  chosen(numbers: Int32Array): PlaceList {
    const list = new PlaceList(numbers.length, this.laid);
    const take = (to: Float32Array, from: Float32Array) => {
      for (let i = 0; i < numbers.length; i++) to[i] = from[numbers[i]];
    };
    for (const lane of LANES) take(list[lane], this[lane]);
    list.uv.forEach((lane, l) => {
      take(lane, this.uv[l]);
    });
    list.count = numbers.length;
    return list;
  }

  /** A lane without the room that is left. */
  filled(lane: Float32Array): Float32Array {
    return lane.length === this.count ? lane : lane.slice(0, this.count);
  }

  private widen(capacity: number): void {
    for (const lane of LANES) this[lane] = widened(this[lane], capacity);
    this.uv.forEach((lane, l) => {
      this.uv[l] = widened(lane, capacity);
    });
  }
}
