/**
 * Directions in which vertices grow for the line around a mesh: one for all vertices at the same place, so that grown faces do not
 * come apart at hard edges.
 */
import { tick } from "../cancelling";
import { mixSigned } from "../maths/random";

export class JoinedVertices {
  /** Of each vertex the first one at its place. */
  private readonly first: Int32Array;

  /** @param positions three numbers a vertex; what is at one place then stays joined while the faces stay */
  constructor(positions: Float32Array) {
    const count = positions.length / 3;
    const bits = new Int32Array(positions.buffer, positions.byteOffset, positions.length);
    this.first = new Int32Array(count);
    let size = 16;
    while (size < count * 2) size *= 2;
    // Open addressing: vertices by a hash of their place's bits, plus 1.
    const table = new Int32Array(size);
    const sameAs = (a: number, b: number) =>
      positions[a * 3] === positions[b * 3] &&
      positions[a * 3 + 1] === positions[b * 3 + 1] &&
      positions[a * 3 + 2] === positions[b * 3 + 2];
    for (let v = 0; v < count; v++) {
      tick();
      // 0 and −0 are one place.
      const x = positions[v * 3] === 0 ? 0 : bits[v * 3];
      const y = positions[v * 3 + 1] === 0 ? 0 : bits[v * 3 + 1];
      const z = positions[v * 3 + 2] === 0 ? 0 : bits[v * 3 + 2];
      let at = mixSigned(mixSigned(mixSigned(x) ^ y) ^ z) & (size - 1);
      while (table[at] > 0 && !sameAs(table[at] - 1, v)) at = (at + 1) & (size - 1);
      if (table[at] === 0) table[at] = v + 1;
      this.first[v] = table[at] - 1;
    }
  }

  /** Sums of the normals at each vertex' place, three numbers a vertex. */
  directions(normals: Float32Array): Float32Array {
    const { first } = this;
    const sums = new Float32Array(normals.length);
    for (let v = 0; v < first.length; v++) {
      tick(0.5);
      const to = first[v] * 3;
      for (let a = 0; a < 3; a++) sums[to + a] += normals[v * 3 + a];
    }
    for (let v = 0; v < first.length; v++) {
      const from = first[v] * 3;
      if (first[v] !== v) for (let a = 0; a < 3; a++) sums[v * 3 + a] = sums[from + a];
    }
    return sums;
  }
}
