/**
 * Basic solids and flat pieces as polygon meshes, centred on the origin unless said, standing along +Y.
 * Solids are closed (every edge in two faces) with faces counter-clockwise seen from outside. All are laid out for
 * pictures (`uv`): once around and from top to bottom, each side of a box by itself, flat ones as seen from above.
 */
import { arcTangent2, cosine, lengthOf, sine } from "../maths/exact";
import { makeColumn, withColumns } from "./column";
import { EdgeTable } from "./edge-table";
import { type Mesh, MeshBuilder, pointLanes } from "./mesh";

/** Box with edge lengths in units, each side cut into `cuts` + 1 strips. 6 (cuts+1)² faces. */
export function boxMesh(size: readonly [number, number, number], cuts: number): Mesh {
  const n = cuts + 1;
  const mesh = new MeshBuilder();
  const known = new Map<number, number>();
  const at = (i: number, j: number, k: number): number => {
    const key = (i * (n + 1) + j) * (n + 1) + k;
    let p = known.get(key);
    if (p === undefined) {
      p = mesh.point((i / n - 0.5) * size[0], (j / n - 0.5) * size[1], (k / n - 0.5) * size[2]);
      known.set(key, p);
    }
    return p;
  };
  for (let a = 0; a < n; a++) {
    for (let b = 0; b < n; b++) {
      const [p, q, r, s] = [a / n, (a + 1) / n, b / n, (b + 1) / n];
      mesh.face(at(n, a, b), at(n, a + 1, b), at(n, a + 1, b + 1), at(n, a, b + 1));
      mesh.lay(1 - r, 1 - p, 1 - r, 1 - q, 1 - s, 1 - q, 1 - s, 1 - p);
      mesh.face(at(0, a, b), at(0, a, b + 1), at(0, a + 1, b + 1), at(0, a + 1, b));
      mesh.lay(r, 1 - p, s, 1 - p, s, 1 - q, r, 1 - q);
      mesh.face(at(a, n, b), at(a, n, b + 1), at(a + 1, n, b + 1), at(a + 1, n, b));
      mesh.lay(p, r, p, s, q, s, q, r);
      mesh.face(at(a, 0, b), at(a + 1, 0, b), at(a + 1, 0, b + 1), at(a, 0, b + 1));
      mesh.lay(p, 1 - r, q, 1 - r, q, 1 - s, p, 1 - s);
      mesh.face(at(a, b, n), at(a + 1, b, n), at(a + 1, b + 1, n), at(a, b + 1, n));
      mesh.lay(p, 1 - r, q, 1 - r, q, 1 - s, p, 1 - s);
      mesh.face(at(a, b, 0), at(a, b + 1, 0), at(a + 1, b + 1, 0), at(a + 1, b, 0));
      mesh.lay(1 - p, 1 - r, 1 - p, 1 - s, 1 - q, 1 - s, 1 - q, 1 - r);
    }
  }
  return mesh.build();
}

/** A ring of a turned profile: height and radius; radius 0 is a single pole point. */
type ProfileStep = readonly [height: number, radius: number];

/**
 * Solid turned around +Y from a profile that runs from bottom to top; `around` meridians. A profile that
 * does not begin or end at radius 0 is capped with a polygon there when `capped`, else left open.
 */
export function turnedMesh(profile: readonly ProfileStep[], around: number, capped: boolean): Mesh {
  const mesh = new MeshBuilder();
  const ring = ([height, radius]: ProfileStep): number[] => {
    if (radius === 0) return [mesh.point(0, height, 0)];
    return Array.from({ length: around }, (_, i) => {
      const angle = (2 * Math.PI * i) / around;
      return mesh.point(radius * cosine(angle), height, -radius * sine(angle));
    });
  };
  const rings = profile.map(ring);
  const down = sharesDown(profile);
  for (let r = 0; r + 1 < rings.length; r++) {
    const low = rings[r];
    const high = rings[r + 1];
    if (low.length === 1 && high.length === 1) continue;
    const [v, w] = [down[r], down[r + 1]];
    for (let i = 0; i < around; i++) {
      const j = (i + 1) % around;
      const [u, t, middle] = [i / around, (i + 1) / around, (i + 0.5) / around];
      if (low.length === 1) {
        mesh.face(low[0], high[j], high[i]);
        mesh.lay(middle, v, t, w, u, w);
      } else if (high.length === 1) {
        mesh.face(low[i], low[j], high[0]);
        mesh.lay(u, v, t, v, middle, w);
      } else {
        mesh.face(low[i], low[j], high[j], high[i]);
        mesh.lay(u, v, t, v, t, w, u, w);
      }
    }
  }
  const bottom = rings[0];
  const top = rings[rings.length - 1];
  if (capped && bottom.length > 1) {
    mesh.face(...[...bottom].reverse());
    // Seen from below, what is at the back is at the bottom.
    mesh.lay(...bottom.flatMap((_, i) => lidAt(around - 1 - i, around)).map((c, k) => (k % 2 ? 1 - c : c)));
  }
  if (capped && top.length > 1) {
    mesh.face(...top);
    mesh.lay(...top.flatMap((_, i) => lidAt(i, around)));
  }
  return mesh.build();
}

/** Where a corner of a lid lies on a picture that is as large as it, seen from above. */
function lidAt(i: number, around: number): [number, number] {
  const angle = (2 * Math.PI * i) / around;
  return [0.5 + cosine(angle) / 2, 0.5 - sine(angle) / 2];
}

/** How far each step of a profile is from its top, by length, as a part of the whole. */
function sharesDown(profile: readonly ProfileStep[]): number[] {
  let sum = 0;
  const along = profile.map(([height, radius], i) => {
    const [h, r] = profile[Math.max(0, i - 1)];
    sum += lengthOf(height - h, radius - r, 0);
    return sum;
  });
  return along.map((length) => (sum > 0 ? 1 - length / sum : 0));
}

/** Sphere of rings: `around` meridians × `stacks` bands, poles on ±Y, corners on the sphere. */
export function sphereMesh(radius: number, around: number, stacks: number): Mesh {
  const profile = Array.from({ length: stacks + 1 }, (_, i): ProfileStep => {
    if (i === 0 || i === stacks) return [i === 0 ? -radius : radius, 0];
    const latitude = Math.PI * (i / stacks - 0.5);
    return [radius * sine(latitude), radius * cosine(latitude)];
  });
  return turnedMesh(profile, around, false);
}

/** Cylinder standing on y = −height/2. `stacks` bands along it. */
export function cylinderMesh(
  radius: number,
  height: number,
  around: number,
  stacks: number,
  capped: boolean,
): Mesh {
  const profile = Array.from(
    { length: stacks + 1 },
    (_, i): ProfileStep => [height * (i / stacks - 0.5), radius],
  );
  return turnedMesh(profile, around, capped);
}

/** Cone or frustum standing on y = −height/2; `tip` is the radius at the top. */
export function coneMesh(
  radius: number,
  tip: number,
  height: number,
  around: number,
  stacks: number,
  capped: boolean,
): Mesh {
  const profile = Array.from({ length: stacks + 1 }, (_, i): ProfileStep => {
    const t = i / stacks;
    return [height * (t - 0.5), radius + (tip - radius) * t];
  });
  return turnedMesh(profile, around, capped);
}

/** Torus around +Y: `radius` to the middle of the tube, `tube` its radius; around × across quads. */
export function torusMesh(radius: number, tube: number, around: number, across: number): Mesh {
  const mesh = new MeshBuilder();
  for (let i = 0; i < around; i++) {
    const a = (2 * Math.PI * i) / around;
    for (let j = 0; j < across; j++) {
      const b = (2 * Math.PI * j) / across;
      const r = radius + tube * cosine(b);
      mesh.point(r * cosine(a), tube * sine(b), -r * sine(a));
    }
  }
  const at = (i: number, j: number) => (i % around) * across + (j % across);
  for (let i = 0; i < around; i++) {
    for (let j = 0; j < across; j++) {
      mesh.face(at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1));
      const [u, t, v, w] = [i / around, (i + 1) / around, 1 - j / across, 1 - (j + 1) / across];
      mesh.lay(u, v, t, v, t, w, u, w);
    }
  }
  return mesh.build();
}

/** Flat disc in the XZ plane facing +Y; `rings` bands, a hole when `hole` > 0 (as a share of the radius). */
export function discMesh(radius: number, hole: number, around: number, rings: number): Mesh {
  const profile = Array.from(
    { length: rings + 1 },
    (_, i): ProfileStep => [0, radius * (1 - (1 - hole) * (i / rings))],
  );
  return laidFlat(turnedMesh(profile, around, false), radius);
}

/** Laid out as it is seen from above, in a square from −radius to radius. */
function laidFlat(mesh: Mesh, radius: number): Mesh {
  const [x, , z] = pointLanes(mesh);
  const share = (lane: ArrayLike<number>, p: number) => (radius > 0 ? 0.5 + lane[p] / (2 * radius) : 0.5);
  const lane = (from: ArrayLike<number>, of: ArrayLike<number>) =>
    Float32Array.from({ length: of.length }, (_, i) => share(from, of[i]));
  const { count } = mesh.points;
  const points = Array.from({ length: count }, (_, p) => p);
  return {
    ...mesh,
    points: withColumns(mesh.points, { uv: makeColumn("pair", [lane(x, points), lane(z, points)]) }),
    corners: withColumns(mesh.corners, {
      uv: makeColumn("pair", [lane(x, mesh.cornerPoint), lane(z, mesh.cornerPoint)]),
    }),
  };
}

/** Flat rectangle in the XZ plane facing +Y, across × deep quads. */
export function planeMesh(width: number, depth: number, across: number, deep: number): Mesh {
  const mesh = new MeshBuilder();
  for (let j = 0; j <= deep; j++) {
    for (let i = 0; i <= across; i++) mesh.point(width * (i / across - 0.5), 0, depth * (j / deep - 0.5));
  }
  const at = (i: number, j: number) => j * (across + 1) + i;
  for (let j = 0; j < deep; j++) {
    for (let i = 0; i < across; i++) {
      mesh.face(at(i, j), at(i, j + 1), at(i + 1, j + 1), at(i + 1, j));
      const [u, t, v, w] = [i / across, (i + 1) / across, j / deep, (j + 1) / deep];
      mesh.lay(u, v, u, w, t, w, t, v);
    }
  }
  return mesh.build();
}

/** A flat outline in the XZ plane as one face looking up (+Y). Points are given as pairs (x, z seen from above: −z). */
function outlineMesh(outline: readonly (readonly [number, number])[], radius: number): Mesh {
  const mesh = new MeshBuilder();
  mesh.face(...outline.map(([x, y]) => mesh.point(x, 0, -y)));
  return laidFlat(mesh.build(), radius);
}

/** Regular polygon, one face looking up; the first corner on +X. */
export const polygonMesh = (radius: number, sides: number): Mesh =>
  outlineMesh(
    Array.from({ length: sides }, (_, i) => {
      const angle = (2 * Math.PI * i) / sides;
      return [radius * cosine(angle), radius * sine(angle)] as const;
    }),
    radius,
  );

/** Star of `points` tips, one face looking up; the first tip on +X. */
export const starMesh = (outer: number, inner: number, points: number): Mesh =>
  outlineMesh(
    Array.from({ length: points * 2 }, (_, i) => {
      const angle = (Math.PI * i) / points;
      const radius = i % 2 === 0 ? outer : inner;
      return [radius * cosine(angle), radius * sine(angle)] as const;
    }),
    Math.max(outer, inner),
  );

/**
 * Geodesic ball: an icosahedron with every triangle split in four `levels` times, corners on the sphere.
 * 20·4ˡ triangles, 10·4ˡ + 2 points.
 */
export function geodesicMesh(radius: number, levels: number): Mesh {
  const mesh = new MeshBuilder();
  const points: [number, number, number][] = [];
  const put = (x: number, y: number, z: number): number => {
    const length = lengthOf(x, y, z);
    points.push([x / length, y / length, z / length]);
    return mesh.point((x / length) * radius, (y / length) * radius, (z / length) * radius);
  };
  const t = (1 + Math.sqrt(5)) / 2;
  for (const [a, b] of [
    [1, t],
    [-1, t],
    [1, -t],
    [-1, -t],
  ])
    put(0, a, b);
  for (const [a, b] of [
    [1, t],
    [-1, t],
    [1, -t],
    [-1, -t],
  ])
    put(a, b, 0);
  for (const [a, b] of [
    [1, t],
    [-1, t],
    [1, -t],
    [-1, -t],
  ])
    put(b, 0, a);
  let faces = Int32Array.from(icosahedronFaces(points).flat());
  for (let level = 0; level < levels; level++) {
    const middles = new EdgeTable(faces.length);
    const middle = (a: number, b: number): number => {
      const known = middles.keep(a, b, points.length);
      if (known >= 0) return known;
      return put(points[a][0] + points[b][0], points[a][1] + points[b][1], points[a][2] + points[b][2]);
    };
    const split = new Int32Array(faces.length * 4);
    for (let f = 0; f < faces.length; f += 3) {
      const [a, b, c] = [faces[f], faces[f + 1], faces[f + 2]];
      const [ab, bc, ca] = [middle(a, b), middle(b, c), middle(c, a)];
      split.set([a, ab, ca, b, bc, ab, c, ca, bc, ab, bc, ca], f * 4);
    }
    faces = split;
  }
  for (let f = 0; f < faces.length; f += 3) {
    const corners = [faces[f], faces[f + 1], faces[f + 2]];
    mesh.face(...corners);
    mesh.lay(...laidAround(corners.map((p) => points[p])));
  }
  return mesh.build();
}

/** Longitude and latitude of a triangle's corners (unit) on a picture; across the seam they go on past 1. */
function laidAround(corners: readonly (readonly [number, number, number])[]): number[] {
  const atPole = corners.map(([x, , z]) => x * x + z * z < 1e-12);
  const us = corners.map(([x, , z]) => {
    const turn = arcTangent2(-z, x) / (2 * Math.PI);
    return turn < 0 ? turn + 1 : turn;
  });
  const known = us.filter((_, i) => !atPole[i]);
  const wide = Math.max(...known) - Math.min(...known) > 0.5;
  const unwound = us.map((u) => (wide && u < 0.5 ? u + 1 : u));
  const middle = unwound.reduce((sum, u, i) => (atPole[i] ? sum : sum + u), 0) / known.length;
  return corners.flatMap(([x, y, z], i) => [
    atPole[i] ? middle : unwound[i],
    0.5 - arcTangent2(y, Math.sqrt(x * x + z * z)) / Math.PI,
  ]);
}

/** The twenty triples of corners at the least distance from each other, counter-clockwise seen from outside. */
function icosahedronFaces(p: readonly (readonly [number, number, number])[]): number[][] {
  const distance = (a: number, b: number) =>
    lengthOf(p[a][0] - p[b][0], p[a][1] - p[b][1], p[a][2] - p[b][2]);
  const edge = Math.min(...p.slice(1).map((_, i) => distance(0, i + 1)));
  const near = (a: number, b: number) => distance(a, b) < edge * 1.01;
  const faces: number[][] = [];
  for (let a = 0; a < p.length; a++) {
    for (let b = a + 1; b < p.length; b++) {
      for (let c = b + 1; c < p.length; c++) {
        if (!near(a, b) || !near(b, c) || !near(a, c)) continue;
        const [x, y, z] = [p[a], p[b], p[c]];
        const outward =
          x[0] * (y[1] * z[2] - y[2] * z[1]) +
          x[1] * (y[2] * z[0] - y[0] * z[2]) +
          x[2] * (y[0] * z[1] - y[1] * z[0]);
        faces.push(outward > 0 ? [a, b, c] : [a, c, b]);
      }
    }
  }
  return faces;
}
