/**
 * Basic solids and flat pieces as polygon meshes, centred on the origin unless said, standing along +Y.
 * Solids are closed (every edge in two faces) with faces counter-clockwise seen from outside.
 */
import { cosine, lengthOf, sine } from "../maths/exact";
import { EdgeTable } from "./edge-table";
import { type Mesh, MeshBuilder } from "./mesh";

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
      mesh.face(at(n, a, b), at(n, a + 1, b), at(n, a + 1, b + 1), at(n, a, b + 1));
      mesh.face(at(0, a, b), at(0, a, b + 1), at(0, a + 1, b + 1), at(0, a + 1, b));
      mesh.face(at(a, n, b), at(a, n, b + 1), at(a + 1, n, b + 1), at(a + 1, n, b));
      mesh.face(at(a, 0, b), at(a + 1, 0, b), at(a + 1, 0, b + 1), at(a, 0, b + 1));
      mesh.face(at(a, b, n), at(a + 1, b, n), at(a + 1, b + 1, n), at(a, b + 1, n));
      mesh.face(at(a, b, 0), at(a, b + 1, 0), at(a + 1, b + 1, 0), at(a + 1, b, 0));
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
  for (let r = 0; r + 1 < rings.length; r++) {
    const low = rings[r];
    const high = rings[r + 1];
    if (low.length === 1 && high.length === 1) continue;
    for (let i = 0; i < around; i++) {
      const j = (i + 1) % around;
      if (low.length === 1) mesh.face(low[0], high[j], high[i]);
      else if (high.length === 1) mesh.face(low[i], low[j], high[0]);
      else mesh.face(low[i], low[j], high[j], high[i]);
    }
  }
  const bottom = rings[0];
  const top = rings[rings.length - 1];
  if (capped && bottom.length > 1) mesh.face(...[...bottom].reverse());
  if (capped && top.length > 1) mesh.face(...top);
  return mesh.build();
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
    for (let j = 0; j < across; j++) mesh.face(at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1));
  }
  return mesh.build();
}

/** Flat disc in the XZ plane facing +Y; `rings` bands, a hole when `hole` > 0 (as a share of the radius). */
export function discMesh(radius: number, hole: number, around: number, rings: number): Mesh {
  const profile = Array.from(
    { length: rings + 1 },
    (_, i): ProfileStep => [0, radius * (1 - (1 - hole) * (i / rings))],
  );
  return turnedMesh(profile, around, false);
}

/** Flat rectangle in the XZ plane facing +Y, across × deep quads. */
export function planeMesh(width: number, depth: number, across: number, deep: number): Mesh {
  const mesh = new MeshBuilder();
  for (let j = 0; j <= deep; j++) {
    for (let i = 0; i <= across; i++) mesh.point(width * (i / across - 0.5), 0, depth * (j / deep - 0.5));
  }
  const at = (i: number, j: number) => j * (across + 1) + i;
  for (let j = 0; j < deep; j++) {
    for (let i = 0; i < across; i++) mesh.face(at(i, j), at(i, j + 1), at(i + 1, j + 1), at(i + 1, j));
  }
  return mesh.build();
}

/** A flat outline in the XZ plane as one face looking up (+Y). Points are given as pairs (x, z seen from above: −z). */
function outlineMesh(outline: readonly (readonly [number, number])[]): Mesh {
  const mesh = new MeshBuilder();
  mesh.face(...outline.map(([x, y]) => mesh.point(x, 0, -y)));
  return mesh.build();
}

/** Regular polygon, one face looking up; the first corner on +X. */
export const polygonMesh = (radius: number, sides: number): Mesh =>
  outlineMesh(
    Array.from({ length: sides }, (_, i) => {
      const angle = (2 * Math.PI * i) / sides;
      return [radius * cosine(angle), radius * sine(angle)] as const;
    }),
  );

/** Star of `points` tips, one face looking up; the first tip on +X. */
export const starMesh = (outer: number, inner: number, points: number): Mesh =>
  outlineMesh(
    Array.from({ length: points * 2 }, (_, i) => {
      const angle = (Math.PI * i) / points;
      const radius = i % 2 === 0 ? outer : inner;
      return [radius * cosine(angle), radius * sine(angle)] as const;
    }),
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
  for (let f = 0; f < faces.length; f += 3) mesh.face(faces[f], faces[f + 1], faces[f + 2]);
  return mesh.build();
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
