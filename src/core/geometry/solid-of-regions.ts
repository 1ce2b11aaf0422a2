/** Regions of a plane as a mesh: cut into triangles by earcut, flat or with a depth, a front, an edge and a back. */
import { Clipper } from "clipper2-ts";
import earcut, { deviation } from "earcut";
import { tick } from "../cancelling";
import { cosine, lengthOf, sine } from "../maths/exact";
import { makeColumn } from "./column";
import { type Mesh, makeMesh } from "./mesh";
import { type Outline, PRECISION, pathOf, type Region } from "./outlines";
import { SIDE } from "./side";

export interface Depth {
  /** Units along z, from −depth / 2 to depth / 2; 0 for a flat sheet that faces z. */
  readonly depth: number;
  /** How far edges are cut back, at most half the depth. */
  readonly bevel: number;
  /** Pieces of a cut edge; 1 is straight, more are round. */
  readonly steps: number;
}

/** Which part of it a face is, as its `side`: its front, its edge or its back. */
const [FRONT, EDGE, BACK] = [0, 1, 2];

/** Regions as one mesh in the plane z = 0, or as solids around it. */
export function solidOf(regions: readonly Region[], { depth, bevel, steps }: Depth): Mesh {
  const build = new Solid();
  for (const region of regions) {
    const outlines = [region.edge, ...region.holes];
    const flat = outlines.flat();
    const cut = (flats: Outline) => {
      const moved = splitLike(flats, outlines);
      return withAllPoints(trianglesOf(moved, flats), moved, flats);
    };
    tick(flat.length * 4);
    if (depth === 0) {
      build.cap(build.ring(flat, 0), cut(flat), FRONT);
      continue;
    }
    const facings = outlines.map(facingsOf);
    const edge = profile(depth, bevel, steps);
    const most = Math.max(...edge.map(({ inset }) => inset));
    const { ways, triangles } = roomyWays(outlines, most, cut);
    const rings = edge.map(({ inset, z }) =>
      build.ring(inset === 0 ? flat : flat.map((v, i) => v + ways[i] * inset), z),
    );
    for (let r = 1; r < rings.length; r++)
      build.wall(
        { first: rings[r - 1], angle: edge[r - 1].above },
        { first: rings[r], angle: edge[r].below },
        facings,
      );
    build.cap(rings[rings.length - 1], triangles, FRONT);
    build.cap(rings[0], reversed(triangles), BACK);
  }
  return build.mesh();
}

/** Times that edges are cut back half as far where nothing would be left in front. */
const TRIES = 6;

/** Ways on which a region is cut back, so that what is left in front has as many triangles as the whole; and those triangles. */
function roomyWays(outlines: readonly Outline[], most: number, cut: (flat: Outline) => number[]) {
  const flat = outlines.flat();
  const whole = cut(flat);
  const ways = insetWays(outlines, most);
  for (let i = 0; i < TRIES && most > 0; i++) {
    const triangles = cut(flat.map((v, k) => v + ways[k] * most));
    if (triangles.length === whole.length) return { ways, triangles };
    for (let k = 0; k < ways.length; k++) ways[k] /= 2;
  }
  return { ways: ways.fill(0), triangles: whole };
}

/** The same numbers as outlines of the same lengths. */
function splitLike(flat: Outline, outlines: readonly Outline[]): Outline[] {
  let at = 0;
  return outlines.map(({ length }) => flat.slice(at, (at += length)));
}

/** A line around the edge: how far it is cut back, where, and how far what is below and above it leans to the front, radians. */
interface EdgeLine {
  readonly inset: number;
  readonly z: number;
  readonly below: number;
  readonly above: number;
}

/** From back to front. */
function profile(depth: number, bevel: number, steps: number): EdgeLine[] {
  const half = depth / 2;
  const cut = Math.min(Math.max(0, bevel), half);
  const straight = { inset: 0, below: 0, above: 0 };
  if (cut === 0)
    return [
      { ...straight, z: -half },
      { ...straight, z: half },
    ];
  const front = Array.from({ length: steps + 1 }, (_, i): EdgeLine => {
    const angle = (i / steps) * (Math.PI / 2);
    const [inset, z] = [cut * (1 - cosine(angle)), half - cut + cut * sine(angle)];
    // A straight cut is a plane of its own; a round one goes over into what is beside it.
    if (steps > 1) return { inset, z, below: angle, above: angle };
    return { inset, z, below: i === 0 ? 0 : Math.PI / 4, above: Math.PI / 4 };
  });
  const back = front
    .map(({ inset, z, below, above }): EdgeLine => ({ inset, z: -z, below: -above, above: -below }))
    .reverse();
  if (cut < half) return [...back, ...front];
  // With edges cut right to the middle both meet there.
  return [...back.slice(0, -1), { ...back[back.length - 1], above: front[0].above }, ...front.slice(1)];
}

/** Cosine of the angle from which a corner of an outline is seen as one: 40°. */
const SHARP = 0.766;

/** Which way an outline looks at the beginning and at the end of each of its edges: x y, x y; smooth but at sharp corners. */
function facingsOf(outline: Outline): Float64Array {
  const count = outline.length / 2;
  const edges = Array.from({ length: count }, (_, i) => leftOf(outline, (i + 1) % count, i));
  const facings = new Float64Array(count * 4);
  for (let i = 0; i < count; i++) {
    const own = edges[i];
    const at = (other: readonly [number, number]): readonly [number, number] => {
      const [x, y] = [own[0] + other[0], own[1] + other[1]];
      const size = lengthOf(x, y, 0);
      return own[0] * other[0] + own[1] * other[1] > SHARP && size > 0 ? [x / size, y / size] : own;
    };
    facings.set([...at(edges[(i + count - 1) % count]), ...at(edges[(i + 1) % count])], i * 4);
  }
  return facings;
}

/** Longest way of a corner inwards, times the inset: sharp corners are cut short. */
const MOST_MITRE = 3;

/** Part of the way to what is across that an edge may be cut back, so that what comes from there has room as well. */
const ROOM = 0.45;

/**
 * Which way each point of the outlines of a region goes to its left when they are cut back by 1, all after each other; less where
 * there is no room for as much.
 * @param most how far they are cut back
 */
function insetWays(outlines: readonly Outline[], most: number): Float64Array {
  const ways = Float64Array.from(outlines.flatMap(insetWay));
  if (most === 0) return ways;
  const flat = outlines.flat();
  let first = 0;
  for (const outline of outlines) {
    const count = outline.length / 2;
    for (let i = 0; i < count; i++) {
      const p = first + i;
      tick(flat.length / 8);
      const room = roomAt(outlines, flat, p, [ways[2 * p], ways[2 * p + 1]], most / ROOM);
      const times = Math.min(1, (ROOM * room) / most);
      ways[2 * p] *= times;
      ways[2 * p + 1] *= times;
    }
    keepOrder(ways, flat, first, count, most);
    first += count;
  }
  return ways;
}

/** Part of a side that may be lost at one of its ends. */
const LEFT = 0.45;

/** Ways along a side cut short where its ends would pass each other. */
function keepOrder(ways: Float64Array, flat: Outline, first: number, count: number, most: number): void {
  for (let i = 0; i < count; i++) {
    const [p, q] = [first + i, first + ((i + 1) % count)];
    const [ex, ey] = [flat[2 * q] - flat[2 * p], flat[2 * q + 1] - flat[2 * p + 1]];
    const allowed = LEFT * (ex * ex + ey * ey);
    for (const [end, sign] of [
      [p, 1],
      [q, -1],
    ] as const) {
      const along = sign * most * (ways[2 * end] * ex + ways[2 * end + 1] * ey);
      if (along <= allowed) continue;
      ways[2 * end] *= allowed / along;
      ways[2 * end + 1] *= allowed / along;
    }
  }
}

/** How often a point can go its way until it meets a side that does not begin or end at it; `enough` when there are more. */
function roomAt(
  outlines: readonly Outline[],
  flat: Outline,
  p: number,
  [wx, wy]: readonly [number, number],
  enough: number,
): number {
  const [x, y] = [flat[2 * p], flat[2 * p + 1]];
  let room = enough;
  let first = 0;
  for (const outline of outlines) {
    const count = outline.length / 2;
    for (let i = 0; i < count; i++) {
      const [a, b] = [first + i, first + ((i + 1) % count)];
      if (a === p || b === p) continue;
      const [ax, ay] = [flat[2 * a] - x, flat[2 * a + 1] - y];
      const [ex, ey] = [flat[2 * b] - x - ax, flat[2 * b + 1] - y - ay];
      const across = wx * ey - wy * ex;
      if (across === 0) continue;
      const t = (ax * ey - ay * ex) / across;
      const s = (ax * wy - ay * wx) / across;
      if (t > 0 && t < room && s >= 0 && s <= 1) room = t;
    }
    first += count;
  }
  return room;
}

/** Which way each corner of an outline goes to its left when all sides do by 1. */
function insetWay(outline: Outline): number[] {
  const count = outline.length / 2;
  const out: number[] = [];
  for (let i = 0; i < count; i++) {
    const [a, b] = [leftOf(outline, (i + count - 1) % count, i), leftOf(outline, i, (i + 1) % count)];
    const [mx, my] = [a[0] + b[0], a[1] + b[1]];
    const open = 1 + a[0] * b[0] + a[1] * b[1];
    const times = open > 1e-9 ? Math.min(1 / open, MOST_MITRE / (lengthOf(mx, my, 0) || 1)) : 0;
    out.push(mx * times, my * times);
  }
  return out;
}

/** Unit vector to the left of the way from one point to another. */
function leftOf(outline: Outline, from: number, to: number): readonly [number, number] {
  const [x, y] = [outline[to * 2] - outline[from * 2], outline[to * 2 + 1] - outline[from * 2 + 1]];
  const size = lengthOf(x, y, 0) || 1;
  return [-y / size, x / size];
}

/** Part of an area by which triangles may miss it. */
const NEARLY = 1e-6;

/** By earcut; where outlines touch themselves and it misses some of the area, by Clipper's constrained Delaunay triangulation. */
function trianglesOf(outlines: readonly Outline[], flat: Outline): number[] {
  let at = 0;
  const holeStarts = outlines.slice(1).map((_, h) => {
    at += outlines[h].length / 2;
    return at;
  });
  const cut = earcut([...flat], holeStarts);
  if (deviation([...flat], holeStarts, 2, cut) < NEARLY) return cut;
  const numbers = new Map<string, number>();
  for (let i = flat.length / 2 - 1; i >= 0; i--) numbers.set(`${flat[i * 2]} ${flat[i * 2 + 1]}`, i);
  const { solution } = Clipper.triangulateD(outlines.map(pathOf), PRECISION);
  const found = solution.flatMap((triangle) => {
    const points = triangle.map(({ x, y }) => numbers.get(`${x} ${y}`));
    const turned = Clipper.areaD(triangle) < 0 ? points.reverse() : points;
    return turned.includes(undefined) ? [] : (turned as number[]);
  });
  return deviation([...flat], holeStarts, 2, found) < NEARLY ? found : cut;
}

/**
 * Triangles that use every point of the outlines: earcut leaves out points that lie on a line between others, and what stands
 * along the edge would not meet them.
 */
function withAllPoints(triangles: readonly number[], outlines: readonly Outline[], flat: Outline): number[] {
  const next: number[] = [];
  for (const outline of outlines) {
    const [first, count] = [next.length, outline.length / 2];
    for (let i = 0; i < count; i++) next.push(first + ((i + 1) % count));
  }
  const total = next.length;
  const edges = new Set<number>();
  const each = (visit: (from: number, to: number, opposite: number) => void) => {
    for (let t = 0; t < triangles.length; t += 3)
      for (let k = 0; k < 3; k++)
        visit(triangles[t + k], triangles[t + ((k + 1) % 3)], triangles[t + ((k + 2) % 3)]);
  };
  each((from, to) => edges.add(from * total + to));
  const isOpen = (from: number, to: number) => next[from] !== to && !edges.has(to * total + from);
  const out: number[] = [];
  for (let t = 0; t < triangles.length; t += 3) {
    // Around the triangle, with the points that its open edges pass over.
    const around: number[] = [];
    for (let k = 0; k < 3; k++) {
      const [from, to] = [triangles[t + k], triangles[t + ((k + 1) % 3)]];
      around.push(from);
      if (isOpen(from, to)) around.push(...between(next, flat, from, to));
    }
    if (around.length === 3) out.push(...around);
    else out.push(...fanned(around, triangles.slice(t, t + 3)));
  }
  return out;
}

/** Part of the square of a way by which what lies on it may be off it. */
const ON_THE_WAY = 1e-9;

/** Points of an outline on the straight way from one of its points to another, both left out. */
function between(next: readonly number[], flat: Outline, from: number, to: number): number[] {
  const passed: number[] = [];
  const [x, y] = [flat[to * 2] - flat[from * 2], flat[to * 2 + 1] - flat[from * 2 + 1]];
  for (let p = next[from]; p !== to; p = next[p]) {
    const [px, py] = [flat[p * 2] - flat[from * 2], flat[p * 2 + 1] - flat[from * 2 + 1]];
    const square = x * x + y * y;
    const along = px * x + py * y;
    if (p === from || Math.abs(px * y - py * x) > ON_THE_WAY * square || along <= 0 || along >= square)
      return [];
    passed.push(p);
  }
  return passed;
}

/** A triangle with further points on its edges, cut into triangles that have an area. */
function fanned(around: readonly number[], corners: readonly number[]): number[] {
  const out: number[] = [];
  let left = [...around];
  const isCorner = (p: number) => corners.includes(p);
  while (left.length > 3) {
    // An ear at a corner whose neighbours are not both corners of the same edge: it cuts one point off.
    const at = left.findIndex((p, i) => {
      const [before, after] = [left[(i + left.length - 1) % left.length], left[(i + 1) % left.length]];
      return isCorner(p) && !(isCorner(before) && isCorner(after));
    });
    const [before, after] = [left[(at + left.length - 1) % left.length], left[(at + 1) % left.length]];
    out.push(before, left[at], after);
    left = left.filter((_, i) => i !== at);
    // What was next to it is a corner of what is left.
    corners = [...corners.filter((p) => left.includes(p)), before, after];
  }
  return [...out, ...left];
}

const reversed = (triangles: readonly number[]): number[] =>
  triangles.flatMap((_, i) => (i % 3 === 0 ? [triangles[i], triangles[i + 2], triangles[i + 1]] : []));

/** A line around, by its first point, and how far what is between it and the next leans to the front there. */
interface Ring {
  readonly first: number;
  readonly angle: number;
}

class Solid {
  private readonly position: [number[], number[], number[]] = [[], [], []];
  private readonly normal: [number[], number[], number[]] = [[], [], []];
  private readonly corners: number[] = [];
  private readonly starts: number[] = [0];
  private readonly sides: number[] = [];

  /** Adds points at a height, and gives the number of the first. */
  ring(flat: Outline, z: number): number {
    const first = this.position[0].length;
    for (let i = 0; i < flat.length; i += 2) {
      this.position[0].push(flat[i]);
      this.position[1].push(flat[i + 1]);
      this.position[2].push(z);
    }
    return first;
  }

  cap(first: number, triangles: readonly number[], side: number): void {
    for (let t = 0; t < triangles.length; t += 3) {
      for (let k = 0; k < 3; k++) this.corner(first + triangles[t + k], 0, 0, side === BACK ? -1 : 1);
      this.face(side);
    }
  }

  /** Faces between two rings of the same outlines, the second in front of the first. */
  wall(back: Ring, front: Ring, facings: readonly Float64Array[]): void {
    let first = 0;
    for (const facing of facings) {
      const count = facing.length / 4;
      const corner = ({ first: ring, angle }: Ring, i: number, from: number) => {
        const out = cosine(angle);
        this.corner(ring + first + i, facing[from] * out, facing[from + 1] * out, sine(angle));
      };
      for (let i = 0; i < count; i++) {
        const next = (i + 1) % count;
        corner(back, i, i * 4);
        corner(back, next, i * 4 + 2);
        corner(front, next, i * 4 + 2);
        corner(front, i, i * 4);
        this.face(EDGE);
      }
      first += count;
    }
  }

  private corner(point: number, x: number, y: number, z: number): void {
    this.corners.push(point);
    this.normal[0].push(x);
    this.normal[1].push(y);
    this.normal[2].push(z);
  }

  /** Ends a face of the corners since the last one. */
  private face(side: number): void {
    this.starts.push(this.corners.length);
    this.sides.push(side);
  }

  mesh(): Mesh {
    const lanes = (lists: readonly number[][]) =>
      lists.map((list) => Float32Array.from(list)) as [Float32Array, Float32Array, Float32Array];
    const made = makeMesh({
      position: lanes(this.position),
      faceStarts: Int32Array.from(this.starts),
      cornerPoint: Int32Array.from(this.corners),
      cornerColumns: { normal: makeColumn("vector", lanes(this.normal)) },
    });
    const side = makeColumn("number", [Float32Array.from(this.sides)]);
    return { ...made, faces: { ...made.faces, columns: { [SIDE]: side } } };
  }
}
