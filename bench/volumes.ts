/** Volumes and moving air, against copying what they hold and against asking a tree for every voxel. */
import { BufferAttribute, BufferGeometry, Vector3 } from "three";
import { MeshBVH } from "three-mesh-bvh";
import { constant } from "../src/core/fields/expression";
import { geodesicMesh } from "../src/core/geometry/primitives";
import { triangleCorners } from "../src/core/geometry/triangles";
import type { Volume } from "../src/core/geometry/volume";
import { Arena } from "../src/core/kernels/arena";
import { asDistances } from "../src/core/volumes/as-distances";
import { combine } from "../src/core/volumes/combine";
import { volumeOfBalls } from "../src/core/volumes/from-balls";
import { volumeOfMesh } from "../src/core/volumes/from-mesh";
import { steppedSmoke } from "../src/core/volumes/smoke";
import { NO_SMOKE, type SmokeSettings } from "../src/core/volumes/smoke-state";
import { surfaceOf } from "../src/core/volumes/surface-nets";
import { inTurns, type Pair } from "./measure";

const SIDE = 128;
const VOXEL = 2.3 / SIDE;
/** Voxels of which the tree is asked; the time is taken for all. */
const ASKED = 4_000;

const within = <T>(work: () => T): T => new Arena().within(work);

/** 20,480 triangles, two voxels on both sides with their sign. */
export function distances(): Pair {
  const mesh = geodesicMesh(1, 5);
  const [x, y, z] = mesh.points.columns.position.lanes;
  const geometry = new BufferGeometry();
  const places = new Float32Array(x.length * 3);
  for (let i = 0; i < x.length; i++) places.set([x[i], y[i], z[i]], i * 3);
  geometry.setAttribute("position", new BufferAttribute(places, 3));
  geometry.setIndex([...triangleCorners(mesh)].map((corner) => mesh.cornerPoint[corner]));
  const bvh = new MeshBVH(geometry);
  const place = new Vector3();
  const found = { point: new Vector3(), distance: 0, faceIndex: 0 };
  const pair = inTurns(
    () => within(() => volumeOfMesh(mesh, { voxel: VOXEL, band: 2 * VOXEL, thickness: null })),
    () => {
      for (let i = 0; i < ASKED; i++) {
        const at = Math.floor((i / ASKED) * SIDE ** 3);
        place.set(at % SIDE, Math.floor(at / SIDE) % SIDE, Math.floor(at / SIDE ** 2));
        bvh.closestPointToPoint(place.multiplyScalar(VOXEL).subScalar(1.15), found);
      }
    },
  );
  return { ours: pair.ours, other: (pair.other * SIDE ** 3) / ASKED };
}

const GRID = [new Float32Array(SIDE ** 3), new Float32Array(SIDE ** 3)];

export function surfaces(): Pair {
  const volume = volumeOfBalls({ places: [[0], [0], [0]], radii: [1] }, VOXEL, 0) as Volume;
  return inTurns(
    () => within(() => surfaceOf(volume, { level: 0 })),
    () => GRID[0].set(GRID[1]),
  );
}

/** The same two balls in a box of twice the size: only tiles near to them count. */
export function melting(): Pair {
  const ball = (at: number) => volumeOfBalls({ places: [[at], [0], [0]], radii: [1] }, 0.04, 0.3) as Volume;
  const [a, b] = [ball(0), ball(1.2)];
  const far = volumeOfBalls(
    {
      places: [
        [0, 6],
        [0, 6],
        [0, 6],
      ],
      radii: [1, 0.05],
    },
    0.04,
    0.3,
  ) as Volume;
  return inTurns(
    () => within(() => combine("union", far, b, 0.3)),
    () => within(() => combine("union", a, b, 0.3)),
  );
}

/** Seconds in which nothing goes farther than a step may, so that it is one. */
const SMOKE_STEP = 0.001;

/** A step of a box that smoke has filled, against copying six grids of its size. */
export function smoking(): Pair {
  const source = asDistances({ mesh: geodesicMesh(0.9, 3) }, VOXEL * 2, 0) as Volume;
  const still = constant(0);
  const settings: SmokeSettings = {
    voxel: VOXEL * 2,
    sources: [{ volume: source, fields: [constant(2), constant(2), still, still, still] }],
    obstacles: [],
    rise: 2,
    weight: 0,
    swirl: 4,
    fade: 0.2,
    cool: 0.3,
    drag: 0,
    push: null,
    walls: "open",
    most: 64,
  };
  let before = NO_SMOKE;
  for (let f = 0; f < 12; f++) before = within(() => steppedSmoke(before, settings, 0.04));
  const { count } = before.domains.cells;
  const grids = Array.from({ length: 12 }, () => new Float32Array(count));
  return inTurns(
    () => within(() => steppedSmoke(before, settings, SMOKE_STEP)),
    () => {
      for (let g = 0; g < 6; g++) grids[g].set(grids[g + 6]);
    },
  );
}
